// Package feel is about what lies between a hand and what it moves: dead band, expo, rates, curves and caps.
// Of reads what there is; Apply writes a change as ordinary parts of the document (docs/format.md, sections 4
// and 7); Caps plays three ways to hold a motor back beside each other.
package feel

import (
	"fmt"
	"math"
	"slices"

	"axtren/core/mixing"
	"axtren/core/setup"
	"axtren/core/signal"
	"axtren/core/words"
)

// Report is what lies between the hands and one function.
type Report struct {
	Output string `json:"output"`
	Label  string `json:"label"`
	Hands  []Hand `json:"hands"` // those whose way to the function can be shaped, in the order of its mixes
}

// Hand is a control with what shapes its way to a function.
type Hand struct {
	Control   string     `json:"control"`
	Label     string     `json:"label"`
	Joint     string     `json:"joint"` // of its feel, in the open function; empty while there is none
	Part      string     `json:"part"`  // the form of the feel, as demands/soft; empty while there is none
	Mixes     []string   `json:"mixes"` // the forms of the mixes by which it comes in
	Says      []string   `json:"says"`  // what is done to it, in this order
	Also      string     `json:"also"`  // what else the same feel shapes; empty for nothing
	Positions []Position `json:"positions"`
	Curve     *Curve     `json:"curve,omitempty"`
	// the numbers of points that this transmitter's curves have; none: not known
	Counts []int `json:"counts"`
}

// Position is one of a switch, with what the feel makes of it, percent.
type Position struct {
	Name  string  `json:"name"`
	Value float64 `json:"value"`
}

// Curve is the curve of a feel.
type Curve struct {
	Points []setup.Point `json:"points"`
	Smooth bool          `json:"smooth"`
	Line   []setup.Point `json:"line"` // what it makes of −100 to +100
	// whether what comes in is the hand itself: no dead band, expo or rate before it
	Bare bool `json:"bare"`
}

// Of reads what lies between the hands and an output.
func Of(p *signal.Program, output int) *Report {
	s := p.Setup()
	of := &Report{Output: string(s.Outputs[output].ID), Label: s.OutputLabel(output), Hands: []Hand{}}
	rest := p.PowerOn()
	p.Step(rest, p.Rest())
	for _, control := range handsOf(s, output) {
		of.Hands = append(of.Hands, hand(p, rest, output, control))
	}
	return of
}

// handsOf lists the controls that come to an output by a mix, directly or through feels.
func handsOf(s *setup.Setup, output int) (list []int) {
	for _, i := range s.MixesTo(output) {
		if c := s.ControlBehind(s.Mixes[i].From); c >= 0 && !slices.Contains(list, c) {
			list = append(list, c)
		}
	}
	return list
}

// mixesOf lists the mixes by which a control comes to an output.
func mixesOf(s *setup.Setup, output, control int) (list []int) {
	for _, i := range s.MixesTo(output) {
		if s.ControlBehind(s.Mixes[i].From) == control {
			list = append(list, i)
		}
	}
	return list
}

// feelOf gives the feel that a control comes from to an output, in its first mix; -1 while it comes as it is.
func feelOf(s *setup.Setup, output, control int) int {
	src, err := s.Source(s.Mixes[mixesOf(s, output, control)[0]].From)
	if err != nil || src.Kind != setup.SourceDemand {
		return -1
	}
	return src.Index
}

func hand(p *signal.Program, rest *signal.State, output, control int) Hand {
	s := p.Setup()
	c := &s.Transmitter.Controls[control]
	h := Hand{Control: string(c.ID), Label: s.ControlLabel(control), Says: []string{}, Mixes: []string{},
		Positions: []Position{}, Counts: []int{}}
	if can := s.Transmitter.Can; can != nil && can.CurvePoints != nil {
		h.Counts = *can.CurvePoints
	}
	mixes := mixesOf(s, output, control)
	for _, i := range mixes {
		h.Mixes = append(h.Mixes, s.PartName(setup.IsMix.At(i)))
	}
	at := feelOf(s, output, control)
	slot := p.NumberSlot(control)
	if at >= 0 {
		d := &s.Demands[at]
		h.Joint = "demand/" + string(d.ID)
		h.Part = s.PartName(setup.IsDemand.At(at))
		h.Says = says(s, d)
		h.Also = also(s, output, at)
		h.Curve = curve(p, at)
		slot = p.Demands[at].Out
	}
	for _, i := range mixes {
		if g := s.Mixes[i].Gain; g.Split {
			h.Says = append(h.Says, fmt.Sprintf("gain %s above 0, %s below", words.SignedShort(g.Pos),
				words.SignedShort(g.Neg)))
		} else if g.Pos != 100 {
			h.Says = append(h.Says, "gain "+words.SignedShort(g.Pos))
		}
	}
	if c.Switch != nil {
		which, _ := p.Hand(string(c.ID))
		for k, name := range c.Switch.Positions {
			st, hands := p.PowerOn(), p.HandsOf(rest)
			st.CopyFrom(rest)
			hands[which] = float64(k)
			p.Step(st, hands)
			h.Positions = append(h.Positions, Position{name.Words(), math.Round(st.At(slot)*10) / 10})
		}
	}
	return h
}

// says tells what a feel does to its source, in the order in which it does it.
func says(s *setup.Setup, d *setup.Demand) []string {
	list := []string{}
	if d.Deadband != 0 {
		list = append(list, "dead band "+words.Short(d.Deadband))
	}
	if d.Expo != 0 {
		list = append(list, "expo "+words.Short(d.Expo))
	}
	if d.Rate != 100 || d.Rates != nil {
		rate := "rate " + words.Short(d.Rate)
		for _, r := range d.Rates {
			rate += fmt.Sprintf(", %s while %s", words.Short(r.Rate), words.Truth(s, r.When))
		}
		list = append(list, rate)
	}
	if d.Curve != nil {
		round := "straight"
		if d.Smooth {
			round = "rounded"
		}
		list = append(list, fmt.Sprintf("a %s curve through %d points", round, len(d.Curve)))
	}
	if d.Trim != 0 {
		list = append(list, "trim "+words.SignedShort(d.Trim))
	}
	return list
}

// also says which other functions a feel shapes besides one.
func also(s *setup.Setup, output, demand int) string {
	var list []string
	for i := range s.Outputs {
		if i != output && slices.Contains(setup.Only(setup.IsDemand,
			s.Graph().Behind(setup.IsOutput.At(i))), demand) {
			list = append(list, s.OutputLabel(i))
		}
	}
	if len(list) == 0 {
		return ""
	}
	if len(list) > 4 {
		list = append(list[:3:3], words.Count(len(list)-3, "more function", "more functions"))
	}
	return words.And(list)
}

// curve gives the curve of a feel; nil while it has none.
func curve(p *signal.Program, demand int) *Curve {
	d := &p.Setup().Demands[demand]
	if d.Curve == nil {
		return nil
	}
	shaping := &p.Demands[demand]
	c := &Curve{Points: d.Curve, Smooth: d.Smooth, Bare: shaping.BeforeCurve() == shaping.In}
	of := signal.CurveOf(d.Curve, d.Smooth)
	for x := -100.0; x <= 100; x += 2 {
		c.Line = append(c.Line, setup.Point{x, math.Round(of(x)*100) / 100})
	}
	return c
}

// together lists the outputs that a change for one of them concerns, itself first: the other of its pair,
// those that it shares with, and the motors that all of its hands move as well, or two of them.
func together(s *setup.Setup, output int) []int {
	list := []int{output}
	add := func(i int) {
		if !slices.Contains(list, i) {
			list = append(list, i)
		}
	}
	for _, pair := range mixing.Find(s) {
		if pair.Kind == mixing.Axles {
			continue // two axles do not move at one speed
		}
		a, b := s.Item(setup.ID(pair.First)).Index, s.Item(setup.ID(pair.Second)).Index
		if a == output || b == output {
			add(a)
			add(b)
		}
	}
	if k := s.ShareOf(output); k >= 0 {
		for _, id := range s.Shares[k].Outputs {
			add(s.Item(id).Index)
		}
	}
	own := levers(s, output)
	for i := range s.Outputs {
		same := 0
		for _, hand := range levers(s, i) {
			if slices.Contains(own, hand) {
				same++
			}
		}
		if motor(s, output) && motor(s,
			i) && same > 0 && (same >= 2 || same == len(own) && same == len(levers(s, i))) {
			add(i)
		}
	}
	return list
}

// levers lists the hands of an output that are no switches.
func levers(s *setup.Setup, output int) []int {
	return slices.DeleteFunc(handsOf(s, output),
		func(i int) bool { return s.Transmitter.Controls[i].Axis == nil })
}

// motor tells whether an output moves a motor.
func motor(s *setup.Setup, output int) bool {
	return slices.ContainsFunc(s.Drives(output), func(i int) bool { return s.Devices[i].PartKind().Motor })
}
