package kit

import (
	"encoding/json"
	"fmt"
	"slices"
	"strings"

	"axtren/core/setup"
	"axtren/core/words"
)

// otherBlocks makes a block of what the transmitter has, or makes do with fewer.
func (f *finder) otherBlocks() {
	switch f.of.Rule {
	case TooManyInputs:
		f.splitGate()
	case TooManyBlocks:
		f.fewerBlocks()
	case NoSuchBlock:
		b := &f.s.Logic[f.of.Part.Index]
		f.clickOn(b)
		for _, one := range recipes[b.Block] {
			f.make(b, one)
		}
		f.switchForLatch(b)
	}
}

// recipe makes one block of others. new gives, from the fields of the block, the blocks that
// take its place; the last of them takes its id, the others stand before it.
type recipe struct {
	says, lost string
	new        func(b *building) bool
}

// fields are the fields of a block as a document has them.
type fields map[string]any

// building is a block that is being made of others.
type building struct {
	own   string // the id that stays
	old   fields
	helps []fields
	free  func(stem string) string
}

// help adds a block before the one that stays, and gives its id.
func (b *building) help(stem, kind string, more fields) string {
	id := b.free(b.own + "_" + stem)
	more["id"], more["block"] = id, kind
	b.helps = append(b.helps, more)
	return id
}

// last gives the block that stays its kind and fields; its names it keeps, and of a latch
// how it wakes.
func (b *building) last(kind string, more fields) {
	more["id"], more["block"] = b.own, kind
	for _, name := range []string{"label", "start"} {
		if v, ok := b.old[name]; ok && (name != "start" || kind == "sr" || kind == "rs" || kind == "toggle") {
			more[name] = v
		}
	}
	b.helps = append(b.helps, more)
}

// text gives a field that refers to a truth.
func (b *building) text(field string) string {
	v, _ := b.old[field].(string)
	return v
}

// in gives the inputs of a gate.
func (b *building) in() []string {
	var list []string
	all, _ := b.old["in"].([]any)
	for _, one := range all {
		text, _ := one.(string)
		list = append(list, text)
	}
	return list
}

// negated turns a truth round.
func negated(truth string) string {
	if rest, ok := strings.CutPrefix(truth, "not "); ok {
		return rest
	}
	return "not " + truth
}

func allNegated(list []string) []string {
	out := make([]string, len(list))
	for i, one := range list {
		out[i] = negated(one)
	}
	return out
}

// recipes are the ways to make a block of others, by its kind. Those of gates and latches are
// the laws of De Morgan and the definitions of IEC 61131-3; what they do at power-on, where
// they may differ, playing shows.
var recipes = map[string][]recipe{
	"and": {{says: "make it of two rules of the kind “any of these”", new: func(b *building) bool {
		some := b.help("not_all", "or", fields{"in": allNegated(b.in())})
		b.last("or", fields{"in": []string{negated(some)}})
		return true
	}}},
	"or": {{says: "make it of two rules of the kind “all of these”", new: func(b *building) bool {
		none := b.help("none", "and", fields{"in": allNegated(b.in())})
		b.last("and", fields{"in": []string{negated(none)}})
		return true
	}}},
	"xor": {{says: "make it of three rules: only the first, only the second, either of these", new: orOfTwo}},
	"sr": {{says: "make it a latch in which off wins, and keep its off away while on is true",
		new: func(b *building) bool {
			off := b.help("off", "and", fields{"in": []string{b.text("reset"), negated(b.text("set"))}})
			b.last("rs", fields{"set": b.text("set"), "reset": off})
			return true
		}}},
	"rs": {{says: "make it a latch in which on wins, and keep its on away while off is true",
		new: func(b *building) bool {
			on := b.help("on", "and", fields{"in": []string{b.text("set"), negated(b.text("reset"))}})
			b.last("sr", fields{"set": on, "reset": b.text("reset")})
			return true
		}}},
	"toggle": {toggleOf("sr"), toggleOf("rs")},
	"between": {{says: "make it of three rules: above the lower end, below the upper end, both of these",
		new: aboveAndBelow}},
	"r_trig": {
		{says: "look for the end of its opposite", new: func(b *building) bool {
			b.last("f_trig", fields{"in": negated(b.text("in"))})
			return true
		}},
		{says: "use a pulse of one frame", new: func(b *building) bool {
			b.last("tp", fields{"in": b.text("in"), "for_s": b.old["frame_s"]})
			return true
		}},
	},
	"f_trig": {
		{says: "look for the beginning of its opposite", new: func(b *building) bool {
			b.last("r_trig", fields{"in": negated(b.text("in"))})
			return true
		}},
		{says: "use a pulse of one frame at its opposite", new: func(b *building) bool {
			b.last("tp", fields{"in": negated(b.text("in")), "for_s": b.old["frame_s"]})
			return true
		}},
	},
	"ton": {
		{says: "use a delay at switching off, of its opposite", new: opposite("tof")},
		{says: "leave the delay out", lost: "the wait before it acts", new: atOnce("or")},
		{says: "leave the delay out", lost: "the wait before it acts", new: atOnce("and")},
	},
	"tof": {
		{says: "make it a latch that a delay of its opposite turns off", new: latchedUntil("sr")},
		{says: "make it a latch that a delay of its opposite turns off", new: latchedUntil("rs")},
		{says: "use a delay at switching on, of its opposite", new: opposite("ton")},
		{says: "leave the delay out", lost: "the time that it stays on", new: atOnce("or")},
		{says: "leave the delay out", lost: "the time that it stays on", new: atOnce("and")},
	},
	"tp": {
		{says: "let it act while it is held, and no longer than this",
			lost: "the length of the pulse after a shorter press",
			new: func(b *building) bool {
				late := b.help("late", "ton", fields{"in": b.text("in"), "for_s": b.old["for_s"]})
				b.last("and", fields{"in": []string{b.text("in"), negated(late)}})
				return true
			}},
		{says: "let it act as long as it is held", lost: "the length of the pulse", new: atOnce("or")},
		{says: "let it act as long as it is held", lost: "the length of the pulse", new: atOnce("and")},
	},
}

// orOfTwo makes an xor of two inputs.
func orOfTwo(b *building) bool {
	in := b.in()
	if len(in) != 2 {
		return false
	}
	first := b.help("first", "and", fields{"in": []string{in[0], negated(in[1])}})
	second := b.help("second", "and", fields{"in": []string{negated(in[0]), in[1]}})
	b.last("or", fields{"in": []string{first, second}})
	return true
}

// aboveAndBelow makes a range of its two ends.
func aboveAndBelow(b *building) bool {
	level := func(field string) fields {
		one := fields{"of": b.old["of"], "level": b.old[field]}
		if h, ok := b.old["hysteresis"]; ok {
			one["hysteresis"] = h
		}
		return one
	}
	from, to := b.help("from", "above", level("from")), b.help("to", "below", level("to"))
	b.last("and", fields{"in": []string{from, to}})
	return true
}

// opposite makes a delay of the other one: what is delayed at its beginning is what is not
// delayed at the end of its opposite.
func opposite(kind string) func(*building) bool {
	return func(b *building) bool {
		other := b.help("opposite", kind, fields{"in": negated(b.text("in")), "for_s": b.old["for_s"]})
		b.last("or", fields{"in": []string{negated(other)}})
		return true
	}
}

// latchedUntil makes a delay at switching off of a latch, and of one at switching on.
func latchedUntil(latch string) func(*building) bool {
	return func(b *building) bool {
		over := b.help("over", "ton", fields{"in": negated(b.text("in")), "for_s": b.old["for_s"]})
		b.last(latch, fields{"set": b.text("in"), "reset": over})
		return true
	}
}

// atOnce leaves a delay out.
func atOnce(gate string) func(*building) bool {
	return func(b *building) bool {
		b.last(gate, fields{"in": []string{b.text("in")}})
		return true
	}
}

// toggleOf makes click on, click off of a press, a latch and gates.
func toggleOf(latch string) recipe {
	return recipe{says: "make it of a latch that each press turns round", new: func(b *building) bool {
		press := b.help("press", "r_trig", fields{"in": b.text("in")})
		on, off := []string{press, negated(b.own)}, []string{press, b.own}
		reset := b.text("reset")
		if reset != "" {
			on = append(on, negated(reset))
		}
		ons := b.help("on", "and", fields{"in": on})
		offs := b.help("off", "and", fields{"in": off})
		if reset != "" {
			offs = b.help("off_now", "or", fields{"in": []string{offs, reset}})
		}
		b.last(latch, fields{"set": ons, "reset": offs})
		return true
	}}
}

// make offers a recipe for a block.
func (f *finder) make(b *setup.Block, one recipe) {
	node := f.doc.Tree.At("logic", fmt.Sprint(f.of.Part.Index))
	old := fields{}
	if err := json.Unmarshal(node.JSON(), &old); err != nil {
		return
	}
	old["frame_s"] = f.s.Transmitter.FrameS()
	var taken []string
	building := &building{own: string(b.ID), old: old, free: func(stem string) string {
		id := f.s.FreeID(stem, taken...)
		taken = append(taken, id)
		return id
	}}
	if one.new(building) {
		f.offer(one.says, one.lost, f.blocks(f.of.Part, f.narrow(building)))
	}
}

// narrow gives the blocks of a building, those of gates with more inputs than the transmitter
// allows as several.
func (f *finder) narrow(b *building) []fields {
	most := 2
	if f.can.Logic.Inputs == nil {
		return b.helps
	}
	most = max(most, *f.can.Logic.Inputs)
	made := b.helps
	b.helps = nil
	for _, one := range made {
		in, _ := one["in"].([]string)
		kind, _ := one["block"].(string)
		for len(in) > most {
			part := b.help("part", kind, fields{"in": slices.Clone(in[:most])})
			in = append([]string{part}, in[most:]...)
			one["in"] = in
		}
		b.helps = append(b.helps, one)
	}
	return b.helps
}

// blocks puts blocks in the place of one, which the last of them takes.
func (f *finder) blocks(part setup.Item, list []fields) *change {
	c := f.change()
	at := c.at(part)
	c.op("replace", at, list[len(list)-1])
	for _, help := range slices.Backward(list[:len(list)-1]) {
		c.insert(part, help)
	}
	return c
}

// splitGate makes a gate with many inputs of several with as many as there may be.
func (f *finder) splitGate() {
	b, most := &f.s.Logic[f.of.Part.Index], *f.can.Logic.Inputs
	if most < 2 {
		return
	}
	f.make(b, recipe{says: fmt.Sprintf("make it of several rules of %d inputs, one after the other", most),
		new: func(g *building) bool {
			g.last(b.Block, fields{"in": g.in()})
			return true
		}})
}

// fewerBlocks leaves out the blocks that nothing reads, and puts gates into the gates of the
// same kind that alone read them.
func (f *finder) fewerBlocks() {
	over := len(f.s.Logic) - *f.can.Logic.Count
	var out []setup.Item
	var names []string
	for i := range f.s.Logic {
		if part := setup.IsBlock.At(i); !f.s.Graph().IsNamed(part) && len(out) < over {
			out, names = append(out, part), append(names, f.s.Named(f.s.Logic[i].ID))
		}
	}
	c, said := f.change(), []string{}
	for _, part := range out {
		c.remove(part)
	}
	if len(out) > 0 {
		said = append(said, "leave "+words.And(names)+" out, which nothing reads")
	}
	over -= len(out)
	for i := range f.s.Logic {
		if over > 0 && f.nest(c, i) {
			said = append(said, "put "+f.s.Named(f.s.Logic[i].ID)+" into the rule that reads it")
			over--
			break // a gate in a gate in a gate is for the next time
		}
	}
	if over <= 0 {
		f.offer(words.And(said), "", c)
	}
}

// nest puts a gate into the only one that reads it, of its own kind.
func (f *finder) nest(c *change, i int) bool {
	inner, ok := f.s.Logic[i].Spec.(*setup.Gate)
	if !ok || f.s.Logic[i].Block == "xor" {
		return false
	}
	readers := slices.Collect(f.s.Graph().To(setup.IsBlock.At(i)))
	if len(readers) != 1 || readers[0].From.Kind != setup.IsBlock {
		return false
	}
	to := readers[0].From
	outer, ok := f.s.Logic[to.Index].Spec.(*setup.Gate)
	if !ok || f.s.Logic[to.Index].Block != f.s.Logic[i].Block {
		return false
	}
	at := slices.Index(outer.In, setup.Truth(f.s.Logic[i].ID))
	if at < 0 {
		return false // it is read turned round
	}
	c.set(to, "in", slices.Replace(slices.Clone(outer.In), at, at+1, inner.In...))
	c.remove(setup.IsBlock.At(i))
	return true
}
