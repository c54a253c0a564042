package check

import (
	"fmt"
	"math"
	"strings"

	"axtren/core/setup"
	"axtren/core/words"
)

// kit tells of what the pieces themselves say: memories, radio power, range, volts and feeds.
func (c *checker) kit() {
	t, can := &c.s.Transmitter, c.s.Transmitter.Can
	if t.Power == "low" {
		c.find("low_power", Warning, "transmitter.power", "set it to full before the model goes out",
			"the radio is set to low power, for the bench: it reaches a few steps only")
	}
	if can != nil && can.Memories != nil && c.s.Craft.Memory > *can.Memories {
		c.find("no_such_memory", Warning, "craft.memory", "say in which of its memories the model is",
			"the model is in memory %d, and this transmitter keeps %d", c.s.Craft.Memory, *can.Memories)
	}
	if site := c.s.Craft.Site; site != nil && can != nil && can.RangeM != nil {
		if far := math.Hypot(site.LengthM, site.WidthM); far > *can.RangeM {
			c.find("out_of_range", Warning, "craft.site",
				"stand where no corner is further away than that, and try the range first",
				"the site of %s by %s m is %.0f m from corner to corner, and the maker of the transmitter states %s m",
				words.Short(site.LengthM), words.Short(site.WidthM), math.Ceil(far), words.Short(*can.RangeM))
		}
	}
	for i := range c.s.Receivers {
		c.supply(i)
		c.feeds(i)
	}
}

// supply compares the volts of a receiver with what it, and the servos on it, may get.
func (c *checker) supply(i int) {
	rx := &c.s.Receivers[i]
	if rx.SupplyV == nil {
		return
	}
	compare := func(part setup.Item, v *setup.Volts) {
		if v == nil || *rx.SupplyV >= v.Least && *rx.SupplyV <= v.Most {
			return
		}
		wrong, limit := "no more than", v.Most
		if *rx.SupplyV < v.Least {
			wrong, limit = "no less than", v.Least
		}
		c.find("volts", Error, part.Path()+".volts", "use another battery, or a regulator in between",
			"%s gets %s V from %s, and may get %s %s V", c.s.Label(part), words.Short(*rx.SupplyV),
			c.s.ReceiverLabel(rx), wrong, words.Short(limit))
	}
	if v := rx.Volts; v != nil && (*rx.SupplyV > v.Most || *rx.SupplyV < v.Least) {
		c.find("volts", Error, setup.IsReceiver.At(i).Path()+".supply_v",
			"use another battery, or a regulator in between", "%s gets %s V, and may get %s to %s V",
			c.s.ReceiverLabel(rx), words.Short(*rx.SupplyV), words.Short(v.Least), words.Short(v.Most))
	}
	for k := range c.s.Devices {
		if servo, ok := c.s.Devices[k].Spec.(*setup.Servo); ok && c.s.DevicePin(k).Receiver == i {
			compare(setup.IsDevice.At(k), servo.Volts)
		}
	}
}

// feeds tells of controllers that feed one receiver side by side. One feed, and the red wire
// lifted from all others: common practice, no source.
func (c *checker) feeds(i int) {
	var names []string
	last := 0
	for k := range c.s.Devices {
		esc, ok := c.s.Devices[k].Spec.(*setup.Esc)
		if ok && esc.FeedsA > 0 && !esc.RedLifted && c.s.DevicePin(k).Receiver == i {
			names, last = append(names, c.s.DeviceLabel(k)), k
		}
	}
	if len(names) > 1 {
		c.find("two_feeds", Warning, fmt.Sprintf("devices[%d].red_lifted", last),
			"lift the red wire of all of them but one, unless their makers allow it",
			"%s feed %s side by side: their regulators may work against each other",
			strings.TrimSpace(words.And(names)), c.s.ReceiverLabel(&c.s.Receivers[i]))
	}
}
