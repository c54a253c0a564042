package signal

import (
	"slices"
	"strconv"

	"axtren/core/setup"
)

// A pulse of 0 us is no pulse: a real one is never below 1.

// arrival gives the slot of what arrives on the channel of a pin while the link
// is up and the transmitter sends: in this order the output's pulse, the
// learned range, one bit, half rate.
func (c *compiler) arrival(ref setup.PinRef) Slot {
	_, pin := c.s.Pin(ref)
	k := pin.Channel
	if slot, ok := c.arrivals[k]; ok {
		return slot
	}
	l := &c.s.Link
	slot := c.constant(0)
	if out := c.s.Carried(ref); out >= 0 {
		slot = c.p.Routes[out].US
		if u := l.LearnedUS; u != nil {
			slot = c.emit(inst{op: opLearn, a: slot, x: u.Low, y: u.Centre, z: u.High})
		}
		if slices.Contains(l.OneBit, k) {
			slot = c.emit(inst{op: opOneBit, a: slot})
		}
		if slices.Contains(l.HalfRate, k) {
			kept := c.keep(setup.Item{}, "half rate "+strconv.Itoa(k))
			c.add(inst{op: opHalfRate, a: slot, b: c.p.up, c: c.p.odd, dst: kept})
			slot = kept
		}
	}
	c.arrivals[k] = slot
	return slot
}

// learn re-scales a pulse by the range that an add-on module was told.
func (p *Program) learn(us float64, in *inst) float64 {
	q := float64(100*(us-in.y)) / (in.z - in.y)
	if us < in.y {
		q = float64(100*(us-in.y)) / (in.y - in.x)
	}
	return p.pulse.us(clamp(q, -150, 150))
}

// oneBit makes a pulse full low or full high.
func (p *Program) oneBit(us float64) float64 {
	full := p.pulse.HalfSpanUS
	if us < p.pulse.CentreUS {
		full = -full
	}
	return clamp(p.pulse.CentreUS+full, p.pulse.MinUS, p.pulse.MaxUS)
}

// halfRate takes a new pulse in even frames and repeats in odd ones what
// arrived in the frame before, if anything did.
func halfRate(us, was, up, odd float64) float64 {
	switch {
	case up == 0:
		return 0
	case odd != 0 && was != 0:
		return was
	}
	return us
}
