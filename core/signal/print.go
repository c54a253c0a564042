package signal

import (
	"fmt"
	"slices"
	"strings"

	"axtren/core/setup"
)

// String prints the program, an instruction a line: its place, what it does, the slots that
// it gives, those that it reads, and its own numbers. A slot that is carried to the next
// frame has a star.
func (p *Program) String() string {
	names := p.slotNames()
	list := func(slots []Slot) string {
		var said []string
		for _, slot := range slots {
			if slot != None && !slices.Contains(said, names[slot]) {
				said = append(said, names[slot])
			}
		}
		return strings.Join(said, ", ")
	}
	var b strings.Builder
	for i := range p.code {
		in := &p.code[i]
		fmt.Fprintf(&b, "%3d %-10s %s <- %s", i, opWords[in.op], list(p.gives(in)), list(p.operands(in)))
		for k, v := range []float64{in.x, in.y, in.z} {
			if v != 0 {
				fmt.Fprintf(&b, "  %c=%g", "xyz"[k], v)
			}
		}
		b.WriteByte('\n')
	}
	return b.String()
}

// slotNames gives a name to each slot: by the part that it belongs to, or its number where
// it never changes.
func (p *Program) slotNames() []string {
	names := make([]string, len(p.initial))
	name := func(slot Slot, text string) {
		if slot != None && names[slot] == "" {
			names[slot] = text
		}
	}
	for slot, key := range p.keptKeys {
		name(Slot(slot), strings.TrimSpace(keyName(key.part)+" "+key.what)+"*")
	}
	for hand, id := range p.HandIDs() {
		name(p.hands+Slot(hand), id)
	}
	name(p.up, "something arrives")
	for i, d := range p.setup.Demands {
		s := &p.Demands[i]
		for step, slot := range map[string]Slot{"dead band": s.Deadband, "expo": s.Expo, "rate": s.Rate,
			"rated": s.Rated, "curve": s.Curve} {
			name(slot, string(d.ID)+" "+step)
		}
		name(s.Out, string(d.ID))
	}
	for i, b := range p.setup.Logic {
		name(p.BlockSlot(i), string(b.ID))
	}
	for i, o := range p.setup.Outputs {
		r := &p.Routes[i]
		for _, step := range []struct {
			slot Slot
			text string
		}{{r.Asked, "asked"}, {r.Turned, "turned"}, {r.Target, "target"}, {r.P, "p"}, {r.US, "us"},
			{r.Sum, "sum"}, {r.Shared, "shared"}} {
			name(step.slot, string(o.ID)+" "+step.text)
		}
	}
	for i, d := range p.setup.Devices {
		r := &p.Devices[i]
		name(r.Value, string(d.ID))
		name(r.Brake, string(d.ID)+" brake")
	}
	given := make([]bool, len(p.initial))
	for i := range p.code {
		for _, slot := range p.gives(&p.code[i]) {
			if slot != None {
				given[slot] = true
			}
		}
	}
	for slot := range names {
		text := fmt.Sprintf("%g", p.initial[slot])
		if given[slot] {
			text = fmt.Sprintf("#%d", slot)
		}
		name(Slot(slot), text)
	}
	return names
}

// keyName says a key as a document does: an id, a pin with its number.
func keyName(k setup.Key) string {
	switch {
	case k.Kind == setup.IsPin:
		return fmt.Sprintf("%s.%d", k.ID, k.Place)
	case k.ID == "" && k.Kind != 0:
		return fmt.Sprintf("%s[%d]", setup.ListOf(k.Kind), k.Place)
	}
	return string(k.ID)
}
