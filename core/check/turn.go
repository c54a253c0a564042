package check

import (
	"fmt"
	"math"

	"axtren/core/loss"
	"axtren/core/setup"
	"axtren/core/signal"
)

// atOnce is how hard a motor turns one way and then the other to be told of, percent.
const atOnce = 80

// settleS is how long a model is played until a slow line is where it goes, seconds.
const settleS = 6.0

// turnedAtPower tells of a switch that takes a motor from full one way to full the other
// in one frame: by a reversing lead, a direction input, or two mixes by turns. It is
// played, so it holds for whatever does it.
func (c *checker) turnedAtPower() {
	told := map[[2]int]bool{}
	for _, d := range c.drivenDevices() {
		_, ok := c.s.Devices[d.Device].Spec.(*setup.Esc)
		if !ok || !c.isDriven(d.Output) {
			continue
		}
		for _, sw := range c.switchesBehind(d.Device) {
			if key := [2]int{d.Device, sw}; !told[key] && c.turns(d, sw) {
				told[key] = true
				c.find("turned_at_power", Warning, fmt.Sprintf("devices[%d]", d.Device),
					"let the switch act only while the lever is at rest, or give the function a time for its "+
						"travel",
					"%s takes %s from full one way to full the other at once, also at full power: gears "+
						"and controllers break by that", c.s.ControlLabel(sw), c.name(d))
			}
		}
	}
}

// switchesBehind lists the switches that a device depends on in any way.
func (c *checker) switchesBehind(device int) []int {
	var list []int
	for _, i := range setup.Only(setup.IsControl, c.s.Graph().Behind(setup.IsDevice.At(device))) {
		if c.s.Transmitter.Controls[i].Switch != nil {
			list = append(list, i)
		}
	}
	return list
}

// turns plays a switch being thrown at full power: each lever of the line by itself at
// each of its ends, from each position to each other.
func (c *checker) turns(d driven, sw int) bool {
	hand, _ := c.p.Hand(string(c.s.Transmitter.Controls[sw].ID))
	n := len(c.s.Transmitter.Controls[sw].Switch.Positions)
	for _, lever := range loss.Levers(c.s, d.Output) {
		axis := c.s.Transmitter.Controls[lever]
		if axis.Axis == nil {
			continue
		}
		at, _ := c.p.Hand(string(axis.ID))
		for _, full := range []float64{100, -100} {
			for from := range n {
				st, hands := c.p.PowerOn(), c.p.Rest()
				hands[hand] = float64(from)
				c.p.Step(st, hands)
				hands[at] = full
				c.settle(st, hands, d.Device)
				before := st.At(c.p.Devices[d.Device].Value)
				if math.Abs(before) < atOnce {
					continue
				}
				for to := range n {
					then := c.p.PowerOn()
					then.CopyFrom(st)
					hands[hand] = float64(to)
					for range 2 { // a half-rate channel is a frame late
						c.p.Step(then, hands)
						if after := then.At(c.p.Devices[d.Device].Value); math.Abs(after) >= atOnce &&
							after*before < 0 {
							return true
						}
					}
				}
			}
		}
	}
	return false
}

// settle plays until a device does the same for a while.
func (c *checker) settle(st *signal.State, hands signal.Hands, device int) {
	frames := int(settleS / c.s.Transmitter.FrameS())
	slot := c.p.Devices[device].Value
	last, still := math.NaN(), 0
	for k := 0; k < frames && (still < 5 || k < 10); k++ {
		c.p.Step(st, hands)
		now := st.At(slot)
		if now == last {
			still++
		} else {
			last, still = now, 0
		}
	}
}
