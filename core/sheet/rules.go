package sheet

import (
	"fmt"
	"slices"
	"strings"

	"axtren/core/setup"
	"axtren/core/words"
)

// blocks lists the switch logic as the entries of this set, or in the order of the document, with what is
// known of how this set runs its blocks.
func (b *builder) blocks() Section {
	sec := Section{Key: "logic", Title: "Switch logic"}
	if items, note, ok := b.recipe(); ok {
		sec.Items, sec.Note = items, note
		return sec
	}
	for i := range b.s.Logic {
		one := &b.s.Logic[i]
		item := Item{part: string(one.ID), field: "block", What: b.s.Named(one.ID),
			Value: words.Of(one.Block).Name, Note: words.Block(b.s, one)}
		if sets := b.limits(); sets != nil && sets.Blocks != nil &&
			!slices.Contains(*sets.Blocks, setup.BlockKind(one.Block)) {
			item.Note += "; this transmitter has no such block"
		}
		sec.Items = append(sec.Items, item)
	}
	sets := b.limits()
	if sets == nil {
		return sec
	}
	var notes []string
	if sets.Count != nil && len(b.s.Logic) > *sets.Count {
		notes = append(notes, fmt.Sprintf("This transmitter has %d blocks, and %d are wanted.", *sets.Count,
			len(b.s.Logic)))
	}
	say := func(holds bool, words string) {
		if holds {
			notes = append(notes, words)
		}
	}
	say(sets.Order == "by_place",
		"It runs its blocks in the order of their places: what a block reads from a later one is of the "+
			"moment before.")
	say(sets.BothTrue != "", "Where set and reset are both true, "+sets.BothTrue+" wins here.")
	say(sets.SetOn == "edge", "Its latches act on the press, not while held.")
	say(sets.ThrownAtPowerOn == "fires",
		"A switch that is thrown when the transmitter is turned on counts as pressed: try it with the "+
			"model off.")
	sec.Note = strings.Join(notes, " ")
	return sec
}

// limits is what is known of this set's logic; nil: nothing.
func (b *builder) limits() *setup.CanLogic {
	if can := b.s.Transmitter.Can; can != nil {
		return can.Logic
	}
	return nil
}

// steps lists steppers and sequences.
func (b *builder) steps() Section {
	sec := Section{Key: "steps", Title: "Steps"}
	for i := range b.s.Steppers {
		st := &b.s.Steppers[i]
		name := b.s.Named(st.ID)
		var ways []string
		if st.Up != nil {
			ways = append(ways, "up with "+words.Truth(b.s, *st.Up))
		}
		if st.Down != nil {
			ways = append(ways, "down with "+words.Truth(b.s, *st.Down))
		}
		start := st.Steps[0].Name
		if st.Start != nil {
			start = *st.Start
		}
		more := ", starts at " + start.Words()
		if st.Wrap {
			more += ", goes round"
		}
		if st.RepeatS > 0 {
			more += ", repeats each " + words.Short(st.RepeatS) + " s while held"
		}
		sec.Items = append(sec.Items, Item{part: string(st.ID), field: "steps", What: name,
			Value: fmt.Sprintf("%d steps", len(st.Steps)), Note: strings.Join(ways, ", ") + more,
			group: string(st.ID), name: name})
		for _, step := range st.Steps {
			sec.Items = append(sec.Items, Item{part: string(st.ID), field: "step/" + string(step.Name),
				What: name + ", " + step.Name.Words(), Value: words.SignedShort(step.Value),
				group: string(st.ID), name: name, detail: step.Name.Words()})
		}
	}
	for i := range b.s.Sequences {
		sq := &b.s.Sequences[i]
		for _, t := range sq.Tracks {
			var keys []string
			for _, k := range t.Keys {
				keys = append(keys, words.Short(k[0])+" s "+words.SignedShort(k[1]))
			}
			sec.Items = append(sec.Items, Item{part: string(sq.ID), field: "track/" + string(t.Name),
				What: b.s.Named(sq.ID) + ", " + t.Name.Words(), Value: strings.Join(keys, ", "),
				Note: "out with " + words.Truth(b.s, sq.Go) + ", and back without"})
		}
	}
	for i := range b.s.Patterns {
		p := &b.s.Patterns[i]
		var keys []string
		for _, k := range p.Steps {
			keys = append(keys, words.SignedShort(k[0])+" for "+words.Short(k[1])+" s")
		}
		note := "with " + words.Truth(b.s, p.When) + ", else " + words.SignedShort(p.Rest)
		if !p.Loop {
			note += ", once"
		}
		sec.Items = append(sec.Items, Item{part: string(p.ID), field: "pattern",
			What: b.s.Named(p.ID), Value: strings.Join(keys, ", "), Note: note})
	}
	return sec
}

// starting lists what the set waits for, and what it says.
func (b *builder) starting() Section {
	sec := Section{Key: "start", Title: "Start and voice"}
	for _, e := range b.s.StartCheck {
		value := words.StartsAt(&e)
		sec.Items = append(sec.Items, Item{part: string(e.Control), field: "is",
			What:  "sends nothing before " + b.s.ControlLabel(b.s.Item(e.Control).Index) + " is at",
			Value: value, group: "start check", name: "sends nothing before",
			detail: b.s.ControlLabel(b.s.Item(e.Control).Index) + " is at"})
	}
	for _, a := range b.s.Announcements {
		note := "not at power-on"
		if a.AtStart {
			note = "at power-on too"
		}
		sec.Items = append(sec.Items, Item{part: string(a.ID), field: "say",
			What: "says when " + words.Truth(b.s, a.When), Value: a.Say, Note: note})
	}
	return sec
}

// shares lists what happens when more is asked for than there is.
func (b *builder) shares() Section {
	sec := Section{Key: "shares", Title: "More than 100 asked"}
	for _, sh := range b.s.Shares {
		var names []string
		for _, id := range sh.Outputs {
			names = append(names, b.s.OutputLabel(b.s.Item(id).Index))
		}
		out := b.s.Item(sh.Outputs[0]).Index
		id := fmt.Sprint(sh.Outputs)
		if sh.ID != nil {
			id = string(*sh.ID)
		}
		sec.Items = append(sec.Items, Item{part: id, field: "rule", What: strings.Join(names, ", "),
			Value: words.WayOf(words.Rules, sh.Rule).Name, Note: "if this transmitter lets you choose",
			Line: string(sh.Outputs[0]), Channel: b.s.Outputs[out].Channel,
			Joint: "out/" + string(sh.Outputs[0]) + "/share"})
	}
	return sec
}
