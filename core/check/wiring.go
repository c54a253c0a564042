package check

import (
	"fmt"
	"strings"

	"axtren/core/setup"
	"axtren/core/wiring"
	"axtren/core/words"
)

// motorA is from which current on what hangs on the feed of a receiver is taken for a motor: our
// choice.
const motorA = 1.0

// wiring tells of what can hurt in the leads and the power.
func (c *checker) wiring() {
	for i := range c.s.Receivers {
		c.feeds(i)
		c.behindSwitch(i)
	}
	for _, b := range wiring.Of(c.s) {
		low := false
		for _, f := range b.Figures {
			c.figure(&b, f)
			low = low || f.Bad && f.Unit == "V"
		}
		for _, f := range b.Behind {
			if !low { // else it is the receiver's, not that of a lead
				c.figure(&b, f)
			}
		}
	}
	for d := range c.s.Devices {
		c.motorOnFeed(d)
	}
	if c.s.Wiring == nil {
		return
	}
	for i, lead := range c.s.Wiring.Leads {
		if lead.Crossed {
			c.find("crossed_wires", Warning, fmt.Sprintf("wiring.leads[%d].crossed", i),
				"exchange the two wires in the plug, and measure again before it is plugged in",
				"red and black are exchanged in the lead of %s: plugged in, it is fed the wrong way round",
				c.s.Named(lead.Device))
			continue
		}
		if lead.Checked != nil && !*lead.Checked {
			c.find("polarity", Warning, fmt.Sprintf("wiring.leads[%d].checked", i),
				"measure with a meter which wire is power before it is plugged in first",
				"the lead of %s is not measured: power in the middle forgives a plug put in upside down, a lead "+
					"with red and black exchanged does not", c.s.Named(lead.Device))
		}
	}
}

// feeds tells of feeds side by side. One feed, and the red wire lifted from all others: common
// practice, no source.
func (c *checker) feeds(i int) {
	list := wiring.Feeds(c.s, i)
	if len(list) < 2 {
		return
	}
	var names []string
	for _, f := range list {
		names = append(names, f.Label)
	}
	last := list[len(list)-1]
	where := fmt.Sprintf("wiring.feeds[%d]", last.At)
	if last.Device >= 0 {
		where = fmt.Sprintf("devices[%d].red_lifted", last.Device)
	}
	c.find("two_feeds", Warning, where,
		"lift the red wire of all of them but one, unless their makers allow it",
		"%s feed %s side by side: their regulators may work against each other",
		strings.TrimSpace(words.And(names)), c.s.ReceiverLabel(&c.s.Receivers[i]))
}

// behindSwitch tells of the only feed of a receiver behind a switch: common practice, no source.
func (c *checker) behindSwitch(i int) {
	list := wiring.Feeds(c.s, i)
	if len(list) != 1 || list[0].At < 0 || !c.s.Wiring.Feeds[list[0].At].Switched {
		return
	}
	f := &list[0]
	own := ""
	if f.Device >= 0 {
		own = ", a controller with a switch of its own included"
	}
	c.find("switched_feed", Warning, fmt.Sprintf("wiring.feeds[%d].switched", f.At),
		"feed the receiver past the switch, or let another controller feed it"+own,
		"%s is all that feeds %s, and it sits behind a switch: switched off, or with a bad contact, nothing is in "+
			"command", f.Label, c.s.ReceiverLabel(&c.s.Receivers[i]))
}

// figure tells of a figure of the power that is beyond its limit.
func (c *checker) figure(b *wiring.Budget, f wiring.Figure) {
	if !f.Bad {
		return
	}
	value := strings.TrimSpace(words.Short(f.Value) + " " + f.Unit)
	c.find(b.Rule, Warning, f.Where, f.Do, "%s: %s %s, %s: %s", b.Title, words.Small(f.Label), value,
		f.Says, f.Why)
}

// motorOnFeed tells of a motor that takes its current from the receiver.
func (c *checker) motorOnFeed(d int) {
	dev := &c.s.Devices[d]
	_, esc := dev.Spec.(*setup.Esc)
	if dev.DrawsA == nil || dev.DrawsA.Most < motorA || !esc && dev.Kind != "pump" {
		return
	}
	rx, _ := c.s.Pin(c.s.DevicePin(d))
	c.find("motor_on_feed", Warning, setup.IsDevice.At(d).Path()+".draws_a",
		"give it a battery of its own, and leave the receiver the signal and the ground",
		"%s takes up to %s A through the feed of %s: when it starts, the receiver may get too few volts to go on",
		c.s.DeviceLabel(d), words.Short(dev.DrawsA.Most), c.s.ReceiverLabel(rx))
}
