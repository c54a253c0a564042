package check

import (
	"math"

	"axtren/core/setup"
	"axtren/core/wiring"
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
	}
}

// supply compares the volts of a receiver with what it, and the servos on it, may get.
func (c *checker) supply(i int) {
	rx := &c.s.Receivers[i]
	gets := 0.0
	if rx.SupplyV != nil {
		gets = *rx.SupplyV
	} else { // the highest of its feeds carries the load
		for _, f := range wiring.Feeds(c.s, i) {
			gets = max(gets, f.OpenV)
		}
	}
	if gets == 0 && rx.SupplyV == nil {
		return
	}
	compare := func(part setup.Item, v *setup.Volts) {
		if v == nil || gets >= v.Least && gets <= v.Most {
			return
		}
		wrong, limit := "no more than", v.Most
		if gets < v.Least {
			wrong, limit = "no less than", v.Least
		}
		c.find("volts", Error, part.Path()+".volts", "use another battery, or a regulator in between",
			"%s gets %s V from %s, and may get %s %s V", c.s.Label(part), words.Short(gets),
			c.s.ReceiverLabel(rx), wrong, words.Short(limit))
	}
	if v := rx.Volts; v != nil && (gets > v.Most || gets < v.Least) {
		c.find("volts", Error, setup.IsReceiver.At(i).Path()+".supply_v",
			"use another battery, or a regulator in between", "%s gets %s V, and may get %s to %s V",
			c.s.ReceiverLabel(rx), words.Short(gets), words.Short(v.Least), words.Short(v.Most))
	}
	for k := range c.s.Devices {
		if servo, ok := c.s.Devices[k].Spec.(*setup.Servo); ok && c.s.DevicePin(k).Receiver == i {
			compare(setup.IsDevice.At(k), servo.Volts)
		}
	}
}
