package same

import (
	"encoding/json"
	"fmt"
	"slices"
	"strings"

	"axtren/core/setup"
	"axtren/core/signal"
)

// side is one of the two setups, ready to be compared part by part.
type side struct {
	doc   *setup.Document
	bare  *setup.Setup
	p     *signal.Program
	parts []setup.Item
	at    map[setup.Item]int // of a part, its place among those of both sides
	texts []string           // what is written of each, without names
	refs  [][]reading
}

// reading is that a part takes something of another one.
type reading struct {
	of   setup.Item
	text string // what of it, without its name: not x.up
	late bool   // as it was in the frame before
}

// computing are the kinds of part that the transmitter computes.
var computing = []setup.ItemKind{setup.IsDemand, setup.IsBlock, setup.IsStepper, setup.IsSequence,
	setup.IsPattern, setup.IsOutput}

// newSide lists what the transmitter of a setup computes, numbered from a place on.
func newSide(doc *setup.Document, p *signal.Program, from int) *side {
	d := &side{doc: doc, bare: doc.Bare(), p: p, at: map[setup.Item]int{}}
	bare, s := d.bare, doc.Setup
	for _, kind := range computing {
		for i := range s.Count(kind) {
			part := kind.At(i)
			d.at[part] = from + len(d.parts)
			d.parts = append(d.parts, part)
			text, refs := written(partOf(bare, part)), d.reads(part, part)
			if gate, ok := partOf(bare, part).(*setup.Gate); ok {
				text = gate.Block // its inputs have no order
			}
			d.texts, d.refs = append(d.texts, text), append(d.refs, refs)
		}
	}
	return d
}

// partOf gives what is written of a part, but for what does not count for what it sends.
func partOf(s *setup.Setup, part setup.Item) any {
	switch part.Kind {
	case setup.IsDemand:
		return &s.Demands[part.Index]
	case setup.IsBlock:
		return s.Logic[part.Index].Spec
	case setup.IsStepper:
		return &s.Steppers[part.Index]
	case setup.IsSequence:
		return &s.Sequences[part.Index]
	case setup.IsPattern:
		return &s.Patterns[part.Index]
	}
	o := s.Outputs[part.Index]
	return setup.Output{Reverse: o.Reverse, Centre: o.Centre, Low: o.Low, High: o.High, Slew: o.Slew}
}

func written(part any) string {
	text, err := json.Marshal(part)
	if err != nil {
		panic(err) // numbers, texts and lists
	}
	return string(text)
}

// reads lists what a part takes of others, as who computes it.
func (d *side) reads(part, who setup.Item) (list []reading) {
	for r := range d.doc.Setup.Graph().From(part) {
		switch r.Role {
		case setup.ReadsValue, setup.ReadsTruth, setup.ReadsAsked:
			late := r.To.Kind != setup.IsControl && d.p.Late(who, r.To)
			list = append(list, reading{r.To, r.Renamed("x"), late})
		}
	}
	return list
}

// alike finds which parts of b do the same as one of a in every frame, whatever happens: those that are
// written the same and take the same of parts that are alike. It gives the ids of a by those of b.
func alike(a, b *side) map[setup.ID]setup.ID {
	m := &matching{sides: [2]*side{a, b}}
	m.class = make([]int, len(a.parts)+len(b.parts))
	for classes := 1; ; {
		known, next := map[string]int{}, make([]int, len(m.class))
		for _, d := range m.sides {
			for i, part := range d.parts {
				sign := m.sign(d, i, part)
				n, there := known[sign]
				if !there {
					n = len(known)
					known[sign] = n
				}
				next[d.at[part]] = n
			}
		}
		m.class = next
		if len(known) == classes {
			break
		}
		classes = len(known)
	}
	first := map[int]setup.ID{}
	for i := len(a.parts) - 1; i >= 0; i-- {
		first[m.class[i]] = a.doc.Setup.Key(a.parts[i]).ID
	}
	onto := map[setup.ID]setup.ID{}
	for _, part := range b.parts {
		if id, ok := first[m.class[b.at[part]]]; ok {
			onto[b.doc.Setup.Key(part).ID] = id
		}
	}
	return onto
}

// matching divides the parts of both sides into classes, finer in every round, until parts of one class do
// the same.
type matching struct {
	sides [2]*side
	class []int
}

// sign tells a part from others, by the classes of the last round.
func (m *matching) sign(d *side, i int, part setup.Item) string {
	var text strings.Builder
	fmt.Fprintln(&text, m.class[d.at[part]], part.Kind, d.texts[i])
	_, gate := partOf(d.bare, part).(*setup.Gate)
	m.readings(&text, d, d.refs[i], gate)
	if part.Kind == setup.IsOutput {
		m.mixes(&text, d, part)
		m.share(&text, d, part)
	}
	return text.String()
}

// readings writes what is taken of others; loose: in no order.
func (m *matching) readings(text *strings.Builder, d *side, refs []reading, loose bool) {
	var list []string
	for _, r := range refs {
		of := "control " + string(d.doc.Setup.Key(r.of).ID)
		if r.of.Kind != setup.IsControl {
			of = fmt.Sprint(m.class[d.at[r.of]])
		}
		list = append(list, fmt.Sprint(r.text, " ", of, " ", r.late))
	}
	if loose {
		slices.Sort(list)
	}
	text.WriteString(strings.Join(list, "\n"))
}

// mixes writes what is added up for an output; where one after the other is only added, in no order.
func (m *matching) mixes(text *strings.Builder, d *side, output setup.Item) {
	var run []string
	end := func() {
		slices.Sort(run)
		text.WriteString(strings.Join(run, "\n"))
		run = nil
	}
	for _, i := range d.doc.Setup.MixesTo(output.Index) {
		mix := d.bare.Mixes[i]
		mix.ID = nil
		if mix.From.Ref == "" { // a number, whatever is made of it
			below, above := signal.Slopes(&mix)
			made := mix.Bias + max(mix.From.Number, 0)*above + min(mix.From.Number, 0)*below
			mix.From.Number, mix.Shape, mix.Gain, mix.Bias = made, "plain", setup.Gain{Pos: 100, Neg: 100}, 0
		}
		var one strings.Builder
		fmt.Fprintln(&one, written(mix))
		m.readings(&one, d, d.reads(setup.IsMix.At(i), output), false)
		if mix.Combine != "add" {
			end()
			text.WriteString(one.String())
			continue
		}
		run = append(run, one.String())
	}
	end()
}

// share writes by what rule an output gives way to which others.
func (m *matching) share(text *strings.Builder, d *side, output setup.Item) {
	s := d.doc.Setup
	i := s.ShareOf(output.Index)
	if i < 0 {
		return
	}
	fmt.Fprintln(text, "share", s.Shares[i].Rule)
	for _, id := range s.Shares[i].Outputs {
		other := s.Item(id)
		fmt.Fprintln(text, m.class[d.at[other]], other == output)
	}
}
