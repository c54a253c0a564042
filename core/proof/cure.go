package proof

import (
	"context"
	"fmt"

	"axtren/core/setup"
	"axtren/core/signal"
	"axtren/core/words"
)

// Cure is a small change with which a claim that fails holds.
type Cure struct {
	Says string
	Doc  *setup.Document // with the change
	Also []string        // what else it changes, a sentence each

	least string // of those with the same the first that cures is enough; empty: it stands alone
}

// What is tried for a cure.
const (
	mostCures     = 4
	mostTried     = 24
	startWithin   = 5.0 // percent, of a lever that the start check waits for
	cureSteps     = 400_000
	alsoSteps     = 20_000
	mostClaimsToo = 24
)

// Cures looks for small changes with which claim i, that v shows to fail, holds: something more that the
// start check waits for, how a latch wakes, a rule that is held back, a function that is cut, a wait. Each is
// proved.
func Cures(ctx context.Context, doc *setup.Document, i int, v *Verdict, budget Budget) []Cure {
	list := []Cure{}
	if v.Verdict != Fails || doc.Setup.Claims[i].Reachable != nil {
		return list
	}
	budget.Steps = cureSteps
	c := &curing{doc: doc, i: i, rows: v.Rows}
	c.starts()
	c.latches()
	c.conditions()
	c.fades()
	c.dwells()
	done := map[string]bool{}
	for _, one := range c.list[:min(len(c.list), mostTried)] {
		if len(list) == mostCures || ctx.Err() != nil {
			break
		}
		if one.least != "" && done[one.least] || Decide(ctx, one.Doc.Setup, i, budget).Verdict != Holds {
			continue
		}
		done[one.least] = true
		one.Also = also(ctx, doc.Setup, one.Doc.Setup, i, budget)
		list = append(list, one)
	}
	return list
}

// also says which other claims are broken by a change that were not.
func also(ctx context.Context, before, after *setup.Setup, but int, budget Budget) []string {
	budget.Steps = alsoSteps
	list := []string{}
	for i := range min(len(before.Claims), mostClaimsToo) {
		if i == but || Decide(ctx, after, i, budget).Verdict != Fails ||
			Decide(ctx, before, i, budget).Verdict == Fails {
			continue
		}
		list = append(list, "“"+after.Label(setup.IsClaim.At(i))+"” is broken then.")
	}
	return list
}

// curing gathers changes that may cure.
type curing struct {
	doc  *setup.Document
	i    int
	rows []Row
	list []Cure
}

// try notes a change, where the document can have it.
func (c *curing) try(says string, change func(d *setup.Draft) error) {
	d := &setup.Draft{Doc: c.doc}
	if err := change(d); err == nil {
		c.list = append(c.list, Cure{Says: says, Doc: d.Doc, Also: []string{}})
	}
}

// starts lets the start check wait for each control that was left somewhere.
func (c *curing) starts() {
	s := c.doc.Setup
	for _, r := range c.rows {
		item := s.Item(setup.ID(r.Control))
		if r.Frame > 0 || item.Kind != setup.IsControl {
			continue
		}
		control := &s.Transmitter.Controls[item.Index]
		var is any
		var says string
		if control.Switch != nil {
			at := control.Switch.Positions[control.Switch.Rest()]
			is, says = string(at), at.Words()
		} else {
			rest := control.Axis.Rest()
			from, to := max(rest-startWithin, -100), min(rest+startWithin, 100)
			is, says = setup.GroupNode("from", from, "to", to), words.SignedShort(from)+" to "+words.SignedShort(to)
		}
		c.try(fmt.Sprintf("Let the transmitter send nothing before %s is at %s", s.ControlLabel(item.Index), says),
			func(d *setup.Draft) error {
				return d.Add("start_check", setup.GroupNode("control", r.Control, "is", is))
			})
	}
}

// latches lets each latch that the claim depends on wake in another way.
func (c *curing) latches() {
	s := c.doc.Setup
	for _, part := range s.Graph().Behind(setup.IsClaim.At(c.i)) {
		if part.Kind != setup.IsBlock {
			continue
		}
		at, latch := s.Logic[part.Index].StartsAs()
		if !latch {
			continue
		}
		for _, other := range []string{"false", "true"} {
			if string(at) == other {
				continue
			}
			c.try(fmt.Sprintf("Let “%s” be %s at power-on", s.Label(part), words.OnOff(other == "true")),
				func(d *setup.Draft) error {
					return d.Set("/"+setup.ListOf(setup.IsBlock)+fmt.Sprintf("/%d/start", part.Index), other == "true")
				})
		}
	}
}

// conditions holds back one of what must never be at once, while another is.
func (c *curing) conditions() {
	s := c.doc.Setup
	claim := &s.Claims[c.i]
	if claim.Never == nil {
		return
	}
	for a, one := range *claim.Never {
		for b, other := range *claim.Never {
			switch {
			case a == b:
			case one.Output != nil && other.Truth != "":
				c.cut(*one.Output, other.Truth)
			case one.Output != nil && other.Output != nil && other.Within == nil:
				c.giveWay(*one.Output, &other)
			case one.Truth != "" && other.Truth != "":
				c.holdBack(one.Truth, other.Truth)
			}
		}
	}
}

// cut lets a function rest while something is so.
func (c *curing) cut(output setup.ID, while setup.Truth) {
	s := c.doc.Setup
	if mix := c.rest(output, while); mix != nil {
		c.try(fmt.Sprintf("Let %s rest while %s", s.Named(output), words.Truth(s, while)),
			func(d *setup.Draft) error { return d.Add("mixes", mix) })
	}
}

// moving is from where on a function is asked to move, percent.
const moving = 5.0

// giveWay lets a function rest while another one is asked to move, to the side that is forbidden.
func (c *curing) giveWay(output setup.ID, to *setup.Condition) {
	s := c.doc.Setup
	id := s.FreeID(string(*to.Output) + "_moves")
	block, level := "above", moving
	if to.Below != nil {
		block, level = "below", -moving
	}
	mix := c.rest(output, setup.Truth(id))
	if mix == nil {
		return
	}
	c.try(fmt.Sprintf("Let %s rest while %s is asked to move", s.Named(output), s.Named(*to.Output)),
		func(d *setup.Draft) error {
			err := d.Add("logic", setup.GroupNode("id", id, "label", s.Named(*to.Output)+" moves",
				"block", block, "of",
				string(*to.Output)+".asked", "level", level))
			if err != nil {
				return err
			}
			return d.Add("mixes", mix)
		})
}

// fades lets functions change over at once that do so bit by bit: one after the other, then all.
func (c *curing) fades() {
	s := c.doc.Setup
	var faded []int
	var names []string
	for _, i := range setup.Only(setup.IsOutput, s.Graph().Behind(setup.IsClaim.At(c.i))) {
		var own []int
		for _, k := range s.MixesTo(i) {
			if s.Mixes[k].FadeS > 0 {
				own = append(own, k)
			}
		}
		if own != nil {
			c.atOnce(s.OutputLabel(i), own)
			faded, names = append(faded, own...), append(names, s.OutputLabel(i))
		}
	}
	if len(names) > 1 {
		c.atOnce(words.And(names), faded)
	}
}

func (c *curing) atOnce(name string, mixes []int) {
	c.try("Let "+name+" change over at once", func(d *setup.Draft) error {
		for _, k := range mixes {
			if err := d.Set(fmt.Sprintf("/mixes/%d/fade_s", k), 0); err != nil {
				return err
			}
		}
		return nil
	})
}

// dwellsFor are the times that are tried for a wait, seconds.
var dwellsFor = []float64{0.1, 0.2, 0.5, 1, 2, 5}

// dwells lets what must never be at once begin only when what brings it about has been so for a while.
func (c *curing) dwells() {
	s := c.doc.Setup
	claim := &s.Claims[c.i]
	if claim.Never == nil {
		return
	}
	for _, cond := range *claim.Never {
		if cond.Output != nil {
			for _, k := range s.MixesTo(s.Item(*cond.Output).Index) {
				if when := s.Mixes[k].When; when != nil {
					c.dwell(s.Named(*cond.Output)+" move", fmt.Sprintf("/mixes/%d/when", k), *when)
				}
			}
			continue
		}
		f, err := s.Fact(cond.Truth)
		if err != nil || f.Kind != setup.FactBlock || f.Not {
			continue
		}
		name := "“" + s.Label(f.Item()) + "” be on"
		switch spec := s.Logic[f.Index].Spec.(type) {
		case *setup.Gate:
			for k, in := range spec.In {
				c.dwell(name, fmt.Sprintf("/logic/%d/in/%d", f.Index, k), in)
			}
		case *setup.Latch:
			c.dwell(name, fmt.Sprintf("/logic/%d/set", f.Index), spec.Set)
		}
	}
}

// dwell lets a place of the document read a condition only when it has been so for a while.
func (c *curing) dwell(what, place string, t setup.Truth) {
	s := c.doc.Setup
	for _, wait := range dwellsFor {
		id, before := s.FreeID("waits"), len(c.list)
		c.try(fmt.Sprintf("Let %s only when it has been so for %s s: %s", what, words.Short(wait),
			words.Truth(s, t)),
			func(d *setup.Draft) error {
				err := d.Add("logic", setup.GroupNode("id", id, "label", "Has been so for "+words.Short(wait)+" s",
					"block", "ton", "in", string(t), "for_s", wait))
				if err != nil {
					return err
				}
				return d.Set(place, id)
			})
		for i := range c.list[before:] {
			c.list[before+i].least = place
		}
	}
}

// rest is a mix by which a function rests while something is so; nil where it is not known where that is.
func (c *curing) rest(output setup.ID, while setup.Truth) *setup.Node {
	s := c.doc.Setup
	p, err := signal.Compile(s)
	if err != nil {
		return nil
	}
	st := p.PowerOn()
	p.Step(st, p.Ready())
	rest := st.At(p.Routes[s.Item(output).Index].Asked)
	return setup.GroupNode("id", s.FreeID(string(output)+"_cut"), "to", string(output), "from", rest, "combine",
		"instead", "when", string(while))
}

// holdBack lets a rule that puts conditions together be on only while another is not.
func (c *curing) holdBack(truth, while setup.Truth) {
	s := c.doc.Setup
	f, err := s.Fact(truth)
	if err != nil || f.Kind != setup.FactBlock || f.Not {
		return
	}
	gate, ok := s.Logic[f.Index].Spec.(*setup.Gate)
	if !ok || gate.Block != "and" {
		return
	}
	c.try(fmt.Sprintf("Let “%s” be on only while it is not so: %s", s.Label(f.Item()), words.Truth(s, while)),
		func(d *setup.Draft) error {
			return d.Set(fmt.Sprintf("/logic/%d/in/-", f.Index), string(while.Opposite()))
		})
}
