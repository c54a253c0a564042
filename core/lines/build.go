package lines

import (
	"fmt"
	"slices"
	"strings"

	"axtren/core/setup"
	"axtren/core/signal"
	"axtren/core/travel"
	"axtren/core/words"
)

// Build reads a document and its program as lines.
func Build(doc *setup.Document, p *signal.Program) *View {
	b := &builder{doc: doc, s: doc.Setup, p: p, places: map[signal.Slot]int{}}
	woken := p.PowerOn()
	p.Step(woken, p.Rest())
	b.woken = woken
	b.view = &View{Name: b.s.Name, About: About(b.s), Set: b.s.Transmitter.Name,
		Controls: []Control{}, Lines: []Line{}, Blocks: []Block{}, Behind: []Behind{}}
	b.controls()
	b.power()
	for i := range b.s.Outputs {
		b.view.Lines = append(b.view.Lines, b.line(i))
	}
	for _, members := range b.blocks() {
		for _, i := range members {
			b.view.Lines[i].Block = len(b.view.Blocks)
		}
		b.view.Blocks = append(b.view.Blocks, b.block(members))
	}
	b.behind()
	b.kit()
	b.receivers()
	b.view.joints(func(j *Joint) {
		if j.Editor != nil {
			j.Editor.standing(j.Key)
		}
	})
	for i := range b.view.Blocks {
		block := &b.view.Blocks[i]
		for k, chain := range block.Chains {
			block.Chains[k] = drawn(chain, -1)
		}
		for k, row := range block.Rows {
			block.Rows[k].Joints = drawn(row.Joints, 1)
		}
	}
	return b.view
}

type builder struct {
	doc    *setup.Document
	s      *setup.Setup
	p      *signal.Program
	woken  *signal.State
	view   *View
	places map[signal.Slot]int
}

// place gives the place of a slot in the values; -1 for none.
func (b *builder) place(slot signal.Slot) int {
	if slot == signal.None {
		return -1
	}
	at, ok := b.places[slot]
	if !ok {
		at = len(b.view.Slots)
		b.places[slot] = at
		b.view.Slots = append(b.view.Slots, slot)
	}
	return at
}

// arrives gives the place of what the first pin of an output gets; -1 for none.
func (b *builder) arrives(output int) int {
	for _, ref := range b.s.Carriers(output) {
		return b.place(b.p.Pins[ref.Receiver][ref.Pin].US)
	}
	return -1
}

// About says in a few words what the model is: snow groomer · memory 3.
func About(s *setup.Setup) string {
	if s.Craft.Memory > 0 {
		return fmt.Sprintf("%s · memory %d", s.Craft.What(), s.Craft.Memory)
	}
	return s.Craft.What()
}

func (b *builder) controls() {
	for i, c := range b.s.Transmitter.Controls {
		out := Control{ID: string(c.ID), Label: b.s.ControlLabel(i), Kind: c.Kind, Stick: string(c.Stick),
			Along: c.Along, Lies: c.Lies,
			Plus: c.Plus, Minus: c.Minus, Value: b.place(b.p.ControlSlot(i)), Rest: b.p.Rest()[i]}
		if c.Axis != nil {
			out.Spring, out.Form = c.Axis.Spring, c.Axis.Form
		} else {
			for _, pos := range c.Switch.Positions {
				out.Positions = append(out.Positions, string(pos))
				out.Words = append(out.Words, pos.Words())
			}
			if c.Switch.SpringTo != nil {
				out.Spring = string(*c.Switch.SpringTo)
			}
		}
		b.view.Controls = append(b.view.Controls, out)
	}
}

// power lists what is turned on and off, as switches beside the deck.
func (b *builder) power() {
	add := func(id, label, off, on string) {
		hand, _ := b.p.Hand(id)
		b.view.Power = append(b.view.Power, Control{ID: id, Label: label, Kind: "switch",
			Positions: []string{off, on}, Rest: 1, Value: b.place(b.p.HandSlot(hand))})
	}
	add("transmitter", "Transmitter", "off", "on")
	add("link", "Signal", "down", "up")
	b.view.Power[1].Words = []string{"cut", "arrives"}
	for _, rx := range b.s.Receivers {
		add(string(rx.ID), b.s.ReceiverLabel(&rx), "off", "on")
	}
	b.view.Sending, b.view.Up = b.place(b.p.SendingSlot()), b.place(b.p.UpSlot())
	b.view.StartCheck = []string{}
	for _, e := range b.s.StartCheck {
		i := b.s.Item(e.Control).Index
		b.view.StartCheck = append(b.view.StartCheck, b.s.ControlLabel(i)+" at "+words.StartsAt(&e))
	}
}

func (b *builder) line(i int) Line {
	o, r := &b.s.Outputs[i], &b.p.Routes[i]
	l := Line{ID: string(o.ID), Label: b.s.OutputLabel(i), Phrase: b.phrase(i), Ends: b.ends(i),
		Pin: b.comesOut(i), P: b.place(r.P), Pulse: b.place(r.US), Arrives: b.arrives(i),
		Controls: b.answers(i), Channel: o.Channel}
	l.Part, l.Receiver = b.hangsOn(i)
	l.Rule = Rule{From: -120, To: 120, Low: o.Low, Centre: o.Centre, High: o.High, Wakes: b.woken.At(r.P)}
	if o.Low < -120 || o.High > 120 {
		l.Rule.From, l.Rule.To = -150, 150
	}
	if o.Loss != nil && o.Loss.Value != nil {
		l.Rule.Loss = o.Loss.Value
	}
	l.Loss = b.lossFields(i)
	for _, at := range []float64{-100, -50, 0, 50, 100} {
		l.Rule.Marks = append(l.Rule.Marks, Mark{at, b.p.PulseOf(at)})
	}
	return l
}

// answers lists the controls that output i depends on, in document order.
func (b *builder) answers(i int) []string {
	ids := []string{}
	for _, k := range setup.Only(setup.IsControl, b.s.Graph().Behind(setup.IsOutput.At(i))) {
		ids = append(ids, string(b.s.Transmitter.Controls[k].ID))
	}
	return ids
}

// phrase is the run of output i in one phrase: what moves it, and what is made of that.
// The ends are not in it, since the rule beside it shows them.
func (b *builder) phrase(i int) string {
	o := &b.s.Outputs[i]
	var parts []string
	hands := b.hands(i)
	for _, t := range b.p.Routes[i].Terms {
		m := &b.s.Mixes[t.Mix]
		if d := b.demandOf(m.From); d != nil && len(b.p.Routes[i].Terms) == 1 {
			parts = append(parts, b.feel(d)...)
		}
		if g := m.Gain.Pos; len(b.p.Routes[i].Terms) == 1 && g != 100 {
			parts = append(parts, "gain "+words.SignedShort(g))
		}
	}
	if o.Reverse {
		parts = append(parts, words.Reversed(true))
	}
	if o.Slew.Up > 0 && o.Slew.Up == o.Slew.Down {
		parts = append(parts, words.Short(o.Slew.Up)+" s end to end")
	}
	if len(hands) == 0 {
		hands = []string{b.numbers(i)}
	}
	return strings.Join(append([]string{strings.Join(hands, " and ")}, parts...), " · ")
}

// numbers says which numbers output i takes, where no hand moves it: −100, 60 while Water
// wanted is on.
func (b *builder) numbers(i int) string {
	var list []string
	for _, t := range b.p.Routes[i].Terms {
		m := &b.s.Mixes[t.Mix]
		text := words.SignedShort(m.From.Number)
		if m.When != nil {
			text += " while " + words.Truth(b.s, *m.When)
		}
		list = append(list, text)
	}
	if len(list) == 0 {
		return "nothing moves it yet"
	}
	return strings.Join(list, ", ")
}

// hands names what moves output i, as far back as the hand, each once; both
// axes of one stick are the stick.
func (b *builder) hands(i int) []string {
	var hands, asked []string
	sticks := map[string]int{}
	for _, t := range b.p.Routes[i].Terms {
		from := b.s.Mixes[t.Mix].From
		if from.Ref == "" && len(b.p.Routes[i].Terms) > 1 {
			continue // a number that takes the place of a hand
		}
		if src, err := b.s.Source(from); err == nil && src.Kind == setup.SourceAsked {
			asked = append(asked, b.s.OutputLabel(src.Index))
			continue
		}
		hand := b.hand(from)
		if k := b.s.ControlBehind(from); k >= 0 && b.s.Transmitter.Controls[k].Stick != "" {
			c := b.s.Transmitter.Controls[k]
			if at, ok := sticks[string(c.Stick)]; ok && hands[at] != hand {
				hands[at] = words.Capital(string(c.Stick)) + " stick, both ways"
				continue
			}
			sticks[string(c.Stick)] = len(hands)
		}
		if !slices.Contains(hands, hand) {
			hands = append(hands, hand)
		}
	}
	if asked != nil {
		slices.Sort(asked)
		asked = slices.Compact(asked)
		verb := " ask"
		if len(asked) == 1 {
			verb = " asks"
		}
		hands = append(hands, "as "+strings.Join(asked, " and ")+verb)
	}
	return hands
}

func stops(o *setup.Output) string {
	return "ends " + words.SignedShort(o.Low) + " … " + words.SignedShort(o.High)
}

// plain is a figure without sign and needless decimals.

// hand names what a mix comes from, as far back as the hand.
func (b *builder) hand(v setup.Value) string {
	src, err := b.s.Source(v)
	if err != nil {
		return v.String()
	}
	switch src.Kind {
	case setup.SourceControl:
		return b.s.ControlLabel(src.Index)
	case setup.SourceDemand:
		return b.hand(b.s.Demands[src.Index].From)
	}
	if src.Kind == setup.SourceNumber {
		return "always " + v.String()
	}
	return words.Source(b.s, v)
}

func (b *builder) demandOf(v setup.Value) *setup.Demand {
	if src, err := b.s.Source(v); err == nil && src.Kind == setup.SourceDemand {
		return &b.s.Demands[src.Index]
	}
	return nil
}

func (b *builder) feel(d *setup.Demand) []string {
	var parts []string
	if d.Expo != 0 {
		parts = append(parts, words.Expo(d.Expo))
	}
	if d.Rate != 100 || d.Rates != nil {
		parts = append(parts, "rate "+words.Short(d.Rate))
	}
	if d.Curve != nil {
		parts = append(parts, fmt.Sprintf("curve of %d points", len(d.Curve)))
	}
	return parts
}

// ends names the pin and the part at the end of the line.
func (b *builder) ends(i int) string {
	pins := b.p.Routes[i].Pins
	if len(pins) == 0 {
		return "on no pin"
	}
	var texts []string
	for _, pin := range pins {
		text := b.s.PinLabel(pin.PinRef)
		if part := b.partsOn(pin.PinRef); part != "" {
			text += " · " + part
		}
		texts = append(texts, text)
	}
	return strings.Join(texts, "; ")
}

// comesOut says in a word or two where output i comes out.
func (b *builder) comesOut(i int) string {
	pins := b.p.Routes[i].Pins
	switch len(pins) {
	case 0:
		return "no pin"
	case 1:
		return fmt.Sprintf("pin %d", b.s.Receivers[pins[0].Receiver].Pins[pins[0].Pin].Pin)
	}
	return fmt.Sprintf("%d pins", len(pins))
}

func (b *builder) partsOn(ref setup.PinRef) string {
	var parts []string
	for _, i := range b.s.OnPin(ref) {
		parts = append(parts, b.s.DeviceLabel(i))
	}
	return strings.Join(parts, " and ")
}

// blocks groups the outputs: those of one share, and those fed by the same two
// or more sources.
func (b *builder) blocks() [][]int {
	var blocks [][]int
	at := map[string]int{}
	for i := range b.s.Outputs {
		key := b.blockKey(i)
		if k, ok := at[key]; ok {
			blocks[k] = append(blocks[k], i)
			continue
		}
		at[key] = len(blocks)
		blocks = append(blocks, []int{i})
	}
	return blocks
}

func (b *builder) blockKey(i int) string {
	if share := b.p.Routes[i].Share; share >= 0 {
		return fmt.Sprintf("share %d", share)
	}
	var sources []string
	for _, t := range b.p.Routes[i].Terms {
		sources = append(sources, b.s.Mixes[t.Mix].From.String())
	}
	slices.Sort(sources)
	if sources = slices.Compact(sources); len(sources) > 1 {
		return strings.Join(sources, " ")
	}
	return fmt.Sprintf("alone %d", i)
}

// onThisSet says how the ends of output i are keyed in.
func (b *builder) onThisSet(i int) string {
	ends := travel.KeyedEnds(b.s, i)
	return fmt.Sprintf("on this transmitter: %s %s, %s %s", ends[0].Side, words.Short(ends[0].Typed),
		lastWord(ends[1].Side), words.Short(ends[1].Typed))
}

func lastWord(side string) string {
	for _, noun := range []string{"stick ", "control ", "servo "} {
		if rest, ok := strings.CutPrefix(side, noun); ok {
			return rest
		}
	}
	return side
}
