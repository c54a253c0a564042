// Package kit compares a setup with what its transmitter can do, and finds the nearest ways
// to do without what it cannot: each is played beside the setup, so that what is said of the
// difference was seen.
package kit

import (
	"context"
	"fmt"
	"maps"
	"math"
	"slices"
	"strings"

	"axtren/core/setup"
	"axtren/core/translate"
	"axtren/core/travel"
	"axtren/core/words"
)

// Misfit is one thing of a setup that its transmitter cannot do.
type Misfit struct {
	// which ability is missing, one of the constants below
	Rule string `json:"rule"`
	// that wants it; the zero Item where it is the number of them
	Part setup.Item `json:"-"`
	// the place in the document: outputs[2].low
	Where string `json:"where"`
	// what cannot be done, a sentence without its full stop
	Says string `json:"says"`
	// what to do in general
	Remedy string `json:"remedy"`
}

// The rules of misfits: which ability is missing.
const (
	TooManyMixes     = "mixes"
	TooManySteppers  = "steppers"
	TooManySequences = "sequences"
	TooManyBlocks    = "blocks"
	NoSuchBlock      = "block"
	TooManyInputs    = "inputs"
	TooManyRates     = "rates"
	NoSuchCurve      = "curve"
	NoSuchChannel    = "channel"
	NoSlew           = "slew"
	EndTooFar        = "end"
	NoSuchFigure     = "figure"
	NoLossPosition   = "loss"
	CannotLook       = "start"
	TooSlow          = "late"
	TooCoarse        = "coarse"
)

// Misfits lists what the transmitter of a setup, or its link, plainly cannot do, as far as it says
// what it can (docs/format.md, section 10), in the order of the document; what functions ask of
// their channels stands first.
// Rules that can be keyed in as entries of the transmitter, all together and proved to do the same, are none.
func Misfits(s *setup.Setup) []Misfit {
	list, _ := findMisfits(s)
	return list
}

// findMisfits is Misfits; entries tells whether rules are left out since they can be entries.
func findMisfits(s *setup.Setup) (list []Misfit, entries bool) {
	list = allMisfits(s)
	if slices.ContainsFunc(list, ofLogic) && asEntries(s) {
		return slices.DeleteFunc(list, ofLogic), true
	}
	return list, false
}

// ofLogic tells whether a misfit is of the kinds, the number or the inputs of rules.
func ofLogic(m Misfit) bool {
	return m.Rule == TooManyBlocks || m.Rule == NoSuchBlock || m.Rule == TooManyInputs
}

func allMisfits(s *setup.Setup) []Misfit {
	m := &misfits{s: s, can: s.Transmitter.Can}
	for i := range s.Outputs {
		m.needs(i)
	}
	if m.can == nil {
		return m.list
	}
	for i := range s.Outputs {
		m.output(i)
	}
	m.count(TooManyMixes, "mixes", "mix", "mixes", len(CountedMixes(s)), m.can.Mixes,
		"join mixes, or use the transmitter's own mode for a pair; one plain control on a channel is no mix")
	m.count(TooManySteppers, "steppers", "set of steps", "sets of steps", len(s.Steppers), m.can.Steppers,
		"make them of switch logic, or use a step box in the lead")
	m.count(TooManySequences, "sequences", "sequence", "sequences", len(s.Sequences), m.can.Sequences,
		"use a sequencer in the lead")
	m.logic()
	for i := range s.Demands {
		m.demand(i)
	}
	for i := range s.Mixes {
		m.mix(i)
	}
	m.start()
	return m.list
}

type misfits struct {
	s    *setup.Setup
	can  *setup.Can
	list []Misfit
}

func (m *misfits) add(rule string, part setup.Item, field, remedy, format string, args ...any) {
	where := field
	if part.Kind != 0 {
		where = strings.TrimSuffix(part.Path()+"."+field, ".")
	}
	m.list = append(m.list, Misfit{rule, part, where, fmt.Sprintf(format, args...), remedy})
}

// count tells where there are more of something than the transmitter has.
func (m *misfits) count(rule, list, one, many string, have int, most *int, remedy string) {
	if most != nil && have > *most {
		m.add(rule, setup.Item{}, list, remedy, "this transmitter has %s, and this model wants %d",
			words.Count(*most, one, many), have)
	}
}

func (m *misfits) logic() {
	l := m.can.Logic
	if l == nil {
		return
	}
	m.count(TooManyBlocks, "logic", "logic rule", "logic rules", len(m.s.Logic), l.Count,
		"join rules, or leave out what only shows a state")
	for i := range m.s.Logic {
		b := &m.s.Logic[i]
		name, part := m.s.Named(b.ID), setup.IsBlock.At(i)
		if gate, ok := b.Spec.(*setup.Gate); ok && l.Inputs != nil && len(gate.In) > *l.Inputs {
			m.add(TooManyInputs, part, "in", "make it of several rules",
				"%s looks at %d things, and a rule of this transmitter at %d", name, len(gate.In), *l.Inputs)
		}
		if l.Blocks != nil && !slices.Contains(*l.Blocks, setup.BlockKind(b.Block)) {
			m.add(NoSuchBlock, part, "block", "make it of what it has: "+blockNames(*l.Blocks),
				"%s is a rule of a kind that this transmitter does not have: “%s”", name,
				words.Small(words.Of(b.Block).Name))
		}
	}
}

// blockNames says which kinds of block there are.
func blockNames(kinds []setup.BlockKind) string {
	if len(kinds) == 0 {
		return "no logic rules"
	}
	var names []string
	for _, kind := range kinds {
		names = append(names, "“"+words.Small(words.Of(string(kind)).Name)+"”")
	}
	return words.And(names)
}

func (m *misfits) demand(i int) {
	d, name, part := &m.s.Demands[i], m.s.DemandLabel(i), setup.IsDemand.At(i)
	if most := m.can.Rates; most != nil && len(d.Rates) > 0 && len(d.Rates)+1 > *most {
		m.add(TooManyRates, part, "rates", "use fewer rates", "%s has %d rates, and this transmitter has %d",
			name, len(d.Rates)+1, *most)
	}
	if m.can.CurvePoints != nil && d.Curve != nil && !slices.Contains(*m.can.CurvePoints, len(d.Curve)) {
		m.add(NoSuchCurve, part, "curve", "use one of the numbers that it has",
			"the curve of %s has %d points, and this transmitter has %s", name, len(d.Curve),
			numbers(*m.can.CurvePoints))
	}
	m.figure(part, "trim", d.Trim, "the trim of "+name,
		menuOf(m.can, func(sc *setup.Scales) *setup.Menu { return sc.Trim }), 0)
}

func (m *misfits) mix(i int) {
	mix, part := &m.s.Mixes[i], setup.IsMix.At(i)
	menu := menuOf(m.can, func(sc *setup.Scales) *setup.Menu { return sc.Gain })
	gains := map[string]float64{"gain": mix.Gain.Pos}
	if mix.Gain.Split {
		gains = map[string]float64{"gain.pos": mix.Gain.Pos, "gain.neg": mix.Gain.Neg}
	}
	for _, field := range slices.Sorted(maps.Keys(gains)) {
		m.figure(part, field, gains[field], "the gain of "+m.s.Label(part), menu,
			m.s.Outputs[m.s.Item(mix.To).Index].Channel)
	}
}

func (m *misfits) output(i int) {
	o, name, part, can := &m.s.Outputs[i], m.s.OutputLabel(i), setup.IsOutput.At(i), m.can
	if can.Channels != nil && o.Channel > *can.Channels {
		m.add(NoSuchChannel, part, "channel", "use a channel that it has, or another transmitter",
			"%s is on channel %d, and this transmitter has %d", name, o.Channel, *can.Channels)
	}
	if can.Slew != nil && !*can.Slew && (o.Slew.Up > 0 || o.Slew.Down > 0) {
		m.add(NoSlew, part, "slew_s", "use a slow servo, or a box in the lead",
			"%s is slowed down, and this transmitter cannot slow a channel", name)
	}
	m.ends(i)
	if o.Loss == nil || o.Loss.Mode != "preset" {
		return
	}
	switch menu := menuOf(can, func(sc *setup.Scales) *setup.Menu { return sc.Failsafe }); {
	case can.Failsafe == "none":
		m.add(NoLossPosition, part, "loss", "use a receiver that keeps positions, or say hold",
			"%s is to go to a position on a lost signal, and this transmitter keeps none", name)
	case menu != nil:
		scale := travel.ScaleOf(menu, o.Channel, "percent")
		if _, exact := travel.Nearest(scale, *o.Loss.Value, m.pulse()); !exact {
			m.add(NoSuchFigure, part, "loss.value", "use the nearest figure that the menu has",
				"%s is to go to %s on a lost signal, and the menu for that counts in %s", name,
				words.SignedShort(*o.Loss.Value), travel.Steps(scale))
		}
	}
}

// needs compares what a function asks of its channel with the slowest and the coarsest of its pins.
func (m *misfits) needs(i int) {
	o, part := &m.s.Outputs[i], setup.IsOutput.At(i)
	if o.Needs == nil {
		return
	}
	late, bits, channel := 0.0, 0, 0
	for _, ref := range m.s.Carriers(i) {
		_, pin := m.s.Pin(ref)
		if ms := m.s.LateMS(pin.Channel); ms > late {
			late, channel = ms, pin.Channel
		}
		if b := m.s.BitsOn(pin.Channel); b > 0 && (bits == 0 || b < bits) {
			bits = b
		}
	}
	name := m.s.OutputLabel(i)
	if within := o.Needs.WithinMS; within > 0 && late > within+1e-9 {
		m.add(TooSlow, part, "needs.within_ms",
			"put it on a channel that is quick, or let the radio send more often",
			"%s has to answer within %s ms, and what a hand does takes up to %s ms on channel %d", name,
			words.Short(within), words.Short(late), channel)
	}
	if need := o.Needs.Bits; bits > 0 && bits < need {
		m.add(TooCoarse, part, "needs.bits",
			"put it on a channel that is told finely, or let the radio send less often",
			"%s has to be told in %s, and its channel is told in %d", name, words.Count(need, "bit", "bits"), bits)
	}
}

// ends compares the two ends of an output with how far the transmitter goes, and with the
// figures that its menu has.
func (m *misfits) ends(i int) {
	o, name, part, can := &m.s.Outputs[i], m.s.OutputLabel(i), setup.IsOutput.At(i), m.can
	menu := menuOf(can, func(sc *setup.Scales) *setup.Menu { return sc.Endpoint })
	for _, field := range []string{"low", "high"} {
		typed := keyed(m.s, i, field)
		if can.EndpointMax != nil && math.Abs(typed) > *can.EndpointMax+1e-9 {
			m.add(EndTooFar, part, field, "move the arm or the link until less is wanted",
				"%s wants an end of %s, and this transmitter goes to %s", name, words.Short(math.Abs(typed)),
				words.Short(*can.EndpointMax))
		}
		if menu != nil {
			scale := travel.ScaleOf(menu, o.Channel, "percent")
			if _, exact := travel.Less(scale, typed, m.pulse()); !exact {
				m.add(NoSuchFigure, part, field, "use the next figure that goes less far",
					"%s wants an end of %s, and the menu counts in %s", name, words.Short(math.Abs(typed)),
					travel.Steps(scale))
			}
		}
	}
	m.figure(part, "centre", o.Centre, "the centre of "+name,
		menuOf(can, func(sc *setup.Scales) *setup.Menu { return sc.Trim }), o.Channel)
}

// keyed gives an end as the set counts it, percent: of low or high.
func keyed(s *setup.Setup, output int, field string) float64 {
	ends := travel.KeyedEnds(s, output)
	return ends[slices.IndexFunc(ends[:], func(e travel.KeyedEnd) bool { return e.Field == field })].Typed
}

// figure compares one figure with those that its menu has.
func (m *misfits) figure(part setup.Item, field string, v float64, what string, menu *setup.Menu,
	channel int) {
	if menu == nil {
		return
	}
	scale := travel.ScaleOf(menu, channel, "percent")
	if _, exact := travel.Nearest(scale, v, m.pulse()); !exact {
		m.add(NoSuchFigure, part, field, "use the nearest figure that the menu has",
			"%s is %s, and the menu counts in %s", what, words.SignedShort(v), travel.Steps(scale))
	}
}

func (m *misfits) pulse() *setup.Pulse { return &m.s.Transmitter.Pulse }

// menuOf gives one of the scales, nil where it is not known.
func menuOf(can *setup.Can, which func(*setup.Scales) *setup.Menu) *setup.Menu {
	if can.Scales == nil {
		return nil
	}
	return which(can.Scales)
}

// CountedMixes lists the mixes that take one of the set's: the plain choice of one control
// for a channel takes none.
func CountedMixes(s *setup.Setup) []int {
	var list []int
	for i := range s.Mixes {
		if !IsPlainChoice(s, i) {
			list = append(list, i)
		}
	}
	return list
}

// IsPlainChoice tells whether a mix is but the choice of what moves its output.
func IsPlainChoice(s *setup.Setup, i int) bool {
	m := &s.Mixes[i]
	return len(s.MixesTo(s.Item(m.To).Index)) == 1 && isPlain(m) && !m.Gain.Split && m.Gain.Pos == 100
}

// isPlain tells a mix that brings its source times its gain and nothing else, always.
func isPlain(m *setup.Mix) bool { return m.Shape == "plain" && m.When == nil && m.Bias == 0 }

// start compares the start check with what the set can look at.
func (m *misfits) start() {
	if m.can.StartCheck == nil {
		return
	}
	for i, e := range m.s.StartCheck {
		control := m.s.Transmitter.Controls[m.s.Item(e.Control).Index]
		kind, what := "axis_centre", "a stick in its middle"
		switch {
		case control.Switch != nil:
			kind, what = "switches", "a switch"
		case e.Is.From <= -95 && e.Is.To < 0:
			kind, what = "axis_low", "a stick at its low end"
		}
		if !slices.Contains(*m.can.StartCheck, kind) {
			m.add(CannotLook, setup.IsStartEntry.At(i), "",
				"leave it out, and try what happens when the transmitter is turned on so",
				"this transmitter cannot look at %s when it is turned on", what)
		}
	}
}

// numbers says of how many points curves there are.
func numbers(list []int) string {
	if len(list) == 0 {
		return "no curves"
	}
	texts := make([]string, len(list))
	for i, n := range list {
		texts[i] = fmt.Sprint(n)
	}
	return "curves of " + strings.Join(texts, " or ") + " points"
}

// asEntries tells whether the rules can be keyed in as entries of the transmitter that are proved to do the
// same. A rule that nothing reads is none.
func asEntries(s *setup.Setup) bool {
	for i := range s.Logic {
		if !s.Graph().IsNamed(setup.IsBlock.At(i)) {
			return false
		}
	}
	budget := translate.Glance
	budget.Tried = 0 // as few as can be is not asked
	a, err := translate.Translate(context.Background(), s, translate.SetOf(s, -1), budget)
	return err == nil && a.Same
}
