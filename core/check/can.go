package check

import (
	"fmt"
	"math"
	"slices"
	"strings"

	"axtren/core/setup"
	"axtren/core/words"
)

// Cannot is the rule of what this transmitter cannot do.
const Cannot = "cannot"

// cannot tells of what this transmitter plainly cannot do, as far as it says what it can:
// docs/format.md, section 10.
func (c *checker) cannot() {
	can := c.s.Transmitter.Can
	if can == nil {
		return
	}
	no := func(where, remedy, format string, args ...any) {
		c.find(Cannot, Warning, where, remedy, format, args...)
	}
	for i := range c.s.Outputs {
		c.outputCannot(can, i, no)
	}
	count := func(list, what string, have int, most *int, remedy string) {
		if most != nil && have > *most {
			no(list, remedy, "this transmitter has %s, and %s are wanted", howMany(*most, what),
				howMany(have, what))
		}
	}
	count("mixes", "mix", c.countedMixes(), can.Mixes,
		"join mixes, or use the transmitter's own mode for a pair; one plain control on a channel is no mix")
	count("steppers", "set of steps", len(c.s.Steppers), can.Steppers,
		"make them of switch logic, or use a step box in the lead")
	count("sequences", "sequence", len(c.s.Sequences), can.Sequences, "use a sequencer in the lead")
	if l := can.Logic; l != nil {
		count("logic", "logic block", len(c.s.Logic), l.Count,
			"join blocks, or leave what only shows a state out")
		for i := range c.s.Logic {
			if gate, ok := c.s.Logic[i].Spec.(*setup.Gate); ok && l.Inputs != nil &&
				len(gate.In) > *l.Inputs {
				no(fmt.Sprintf("logic[%d].in", i), "make it of several blocks",
					"%s has %d inputs, a block of this transmitter has %d",
					c.s.Named(c.s.Logic[i].ID), len(gate.In), *l.Inputs)
			}
			if l.Blocks != nil && !slices.Contains(*l.Blocks, setup.BlockKind(c.s.Logic[i].Block)) {
				has := fmt.Sprintf("%s", *l.Blocks)
				no(fmt.Sprintf("logic[%d].block", i), "make it of "+
					strings.ReplaceAll(strings.Trim(has, "[]"), " ", ", "),
					"this transmitter has no such block as %s is (%s)",
					c.s.Named(c.s.Logic[i].ID), c.s.Logic[i].Block)
			}
		}
	}
	for i := range c.s.Demands {
		d, where := &c.s.Demands[i], fmt.Sprintf("demands[%d]", i)
		if can.Rates != nil && len(d.Rates)+1 > *can.Rates && d.Rates != nil {
			no(where+".rates", "use fewer rates", "%s has %s, this transmitter has %d", c.s.DemandLabel(i),
				howMany(len(d.Rates)+1, "rate"), *can.Rates)
		}
		if can.CurvePoints != nil && d.Curve != nil && !slices.Contains(*can.CurvePoints, len(d.Curve)) {
			no(where+".curve", "use one of the numbers that it has",
				"the curve of %s has %d points, this transmitter has curves of %s", c.s.DemandLabel(i),
				len(d.Curve),
				numbers(*can.CurvePoints))
		}
	}
	c.startCannot(can, no)
}

func (c *checker) outputCannot(can *setup.Can, i int, no func(where, remedy, format string, args ...any)) {
	o, where, name := &c.s.Outputs[i], fmt.Sprintf("outputs[%d]", i), c.s.OutputLabel(i)
	if can.Channels != nil && o.Channel > *can.Channels {
		no(where+".channel", "use a channel that it has, or another transmitter",
			"%s is on channel %d, and this transmitter has %d", name, o.Channel, *can.Channels)
	}
	if can.Slew != nil && !*can.Slew && (o.Slew.Up > 0 || o.Slew.Down > 0) {
		no(where+".slew_s", "use a slow servo, or a box in the lead",
			"%s is slowed down, and this transmitter cannot slow a channel", name)
	}
	if can.EndpointMax != nil {
		from := 0.0
		if can.EndpointFrom == "centre" {
			from = o.Centre
		}
		for _, end := range ends(o) {
			if reach := math.Abs(end.at - from); reach > *can.EndpointMax+1e-9 {
				no(where+"."+end.field, "move the arm or the link until less is wanted",
					"%s wants an end of %s, and this transmitter goes to %s", name, words.Short(reach),
					words.Short(*can.EndpointMax))
			}
		}
	}
	if can.Failsafe == "none" && o.Loss != nil && o.Loss.Mode == "preset" {
		no(where+".loss", "use a receiver that keeps positions, or say hold",
			"%s is to go to a position on a lost signal, and this transmitter keeps none", name)
	}
}

// countedMixes counts the mixes that take one of the set's: the plain choice of one
// control for a channel takes none.
func (c *checker) countedMixes() int {
	into := map[setup.ID]int{}
	for _, m := range c.s.Mixes {
		into[m.To]++
	}
	n := 0
	for _, m := range c.s.Mixes {
		plain := into[m.To] == 1 && m.Shape == "plain" && m.When == nil && m.Bias == 0 && !m.Gain.Split &&
			m.Gain.Pos == 100
		if !plain {
			n++
		}
	}
	return n
}

// startCannot compares the start check with what the set can look at.
func (c *checker) startCannot(can *setup.Can, no func(where, remedy, format string, args ...any)) {
	if can.StartCheck == nil {
		return
	}
	for i, e := range c.s.StartCheck {
		control := c.s.Transmitter.Controls[c.s.Item(e.Control).Index]
		kind := "axis_centre"
		switch {
		case control.Switch != nil:
			kind = "switches"
		case e.Is.From <= -95 && e.Is.To < 0:
			kind = "axis_low"
		}
		if !slices.Contains(*can.StartCheck, kind) {
			what := map[string]string{"switches": "a switch", "axis_low": "a stick at its low end",
				"axis_centre": "a stick in its middle"}[kind]
			no(fmt.Sprintf("start_check[%d]", i),
				"leave it out, and try what happens when the transmitter is turned on so",
				"this transmitter cannot look at %s when it is turned on", what)
		}
	}
}

func howMany(n int, one string) string {
	words := map[string]string{"mix": "mixes", "set of steps": "sets of steps", "sequence": "sequences",
		"logic block": "logic blocks", "rate": "rates"}
	if n == 1 {
		return "1 " + one
	}
	return fmt.Sprintf("%d %s", n, words[one])
}

func numbers(list []int) string {
	words := make([]string, len(list))
	for i, n := range list {
		words[i] = fmt.Sprint(n)
	}
	return strings.Join(words, " or ") + " points"
}
