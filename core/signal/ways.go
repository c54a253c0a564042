package signal

import (
	"math/bits"
	"slices"
)

// Ways steps one moment of a program at once for many ways in which hands can stand: what is true or false
// in a frame is a word with a bit for each of 64 of them, and of a count that runs there are two values
// that it can have then. It is for a search, of a program in which what is looked at comes from such
// truths alone.
type Ways struct {
	p      *Program
	code   []wayOp
	shown  []Slot // what is looked at: truths, and counts
	counts []int  // by slot, its place among the counts; -1: it is none
	blocks []wayBlock
	base   []float64 // what the frame before left
	reps   []int
}

// wayOp is an instruction, with its place among the truths that the hands alone decide; -1: it is none.
type wayOp struct {
	in    *inst
	given int
}

// wayBlock is 64 ways, or fewer.
type wayBlock struct {
	first, n int
	all      uint64
	given    [][2]uint64 // of an instruction that the hands decide: where it becomes 1, and where it becomes 0
	words    []uint64    // by slot
	count    []wayCount  // of each count
}

// wayCount is a count: one value where the bit of a way is 0, another where it is 1.
type wayCount struct {
	word   uint64
	values [2]float64
}

// Ways makes the program for ways of the hands; show are the slots that are looked at: each is true or
// false, or a count. ok is false where anything that decides them is more than that. The power stays on.
func (p *Program) Ways(hands []Hands, show []Slot) (w *Ways, ok bool) {
	w = &Ways{p: p, counts: slices.Repeat([]int{-1}, len(p.initial))}
	counts := 0
	wanted := map[Slot]bool{}
	for _, slot := range show {
		if slot != None && !slices.Contains(w.shown, slot) {
			w.shown = append(w.shown, slot)
			wanted[slot] = true
		}
	}
	var given []*inst
	for i := len(p.code) - 1; i >= 0; i-- {
		in := &p.code[i]
		if !slices.ContainsFunc(p.gives(in), func(s Slot) bool { return s != None && wanted[s] }) {
			continue
		}
		one := wayOp{in, -1}
		switch in.op {
		case opIs, opInside, opAbove, opBelow, opBetween:
			if !p.byHands(in.a) {
				return nil, false
			}
			one.given, given = len(given), append(given, in)
		case opOnDelay, opOffDelay, opPulseFor:
			w.counts[in.c] = counts
			counts++
		case opCopy, opNot, opAnd, opOr, opXor, opRise, opFall, opSetWins, opResetWins, opToggle:
		case opBefore, opBeforeKept: // what they read is carried
			w.code = append(w.code, one)
			continue
		default:
			return nil, false
		}
		w.code = append(w.code, one)
		if one.given >= 0 {
			continue
		}
		for _, slot := range p.operands(in) {
			if slot >= p.hands && slot < p.handsEnd {
				return nil, false
			}
			wanted[slot] = true
		}
	}
	slices.Reverse(w.code)
	made := map[Slot]bool{}
	for _, one := range w.code {
		for _, slot := range p.gives(one.in) {
			made[slot] = true
		}
	}
	for slot := range wanted { // what nothing makes is a constant
		if !made[slot] && (int(slot) < p.kept || p.initial[slot] != 0 && p.initial[slot] != 1) {
			return nil, false
		}
	}
	w.fill(hands, given, counts)
	return w, true
}

// byHands tells whether a number comes from where the hands are in the same frame, and nothing else.
func (p *Program) byHands(slot Slot) bool {
	if slot >= p.hands && slot < p.handsEnd {
		return true
	}
	f, ok := p.Figure(slot)
	return ok && !slices.ContainsFunc(f.Leaves,
		func(l Leaf) bool { return l.Slot < p.hands || l.Slot >= p.handsEnd })
}

// fill makes the blocks, with what the hands decide in each.
func (w *Ways) fill(ways []Hands, given []*inst, counts int) {
	p := w.p
	st := p.PowerOn()
	for way, hands := range ways {
		if way%64 == 0 {
			w.blocks = append(w.blocks, wayBlock{first: way, given: make([][2]uint64, len(given)),
				words: make([]uint64, len(p.initial)), count: make([]wayCount, counts)})
		}
		b := &w.blocks[len(w.blocks)-1]
		bit := uint64(1) << b.n
		b.n++
		b.all |= bit
		copy(st.V, p.initial)
		st.V[p.sending], st.V[p.unsettled] = 1, 1
		p.Step(st, hands)
		for k, in := range given {
			on, off := in.turns(st.V[in.a])
			if on {
				b.given[k][0] |= bit
			}
			if off {
				b.given[k][1] |= bit
			}
		}
	}
	for k := range w.blocks {
		for slot, v := range p.initial { // constants
			w.blocks[k].words[slot] = w.blocks[k].spread(v != 0)
		}
	}
}

// turns tells whether a number makes a comparison true whatever it was, or false.
func (in *inst) turns(a float64) (on, off bool) {
	was := func(was float64) float64 {
		switch in.op {
		case opIs:
			return truth(a == in.x)
		case opInside:
			return truth(a > in.x && a < in.y)
		case opAbove:
			return above(a, was, in.x, in.y, false)
		case opBelow:
			return below(a, was, in.x, in.y, false)
		}
		return between(a, was, in.x, in.y, in.z, false)
	}
	return was(0) != 0, was(1) == 0
}

func (b *wayBlock) spread(is bool) uint64 {
	if is {
		return b.all
	}
	return 0
}

// Step steps a frame for every way, from what a moment carries.
func (w *Ways) Step(base *State) {
	w.base = base.V
	for k := range w.blocks {
		w.blocks[k].step(w)
	}
}

func (b *wayBlock) step(w *Ways) {
	words, base := b.words, w.base
	for i := range w.code {
		in := w.code[i].in
		was := b.spread(base[in.dst] != 0)
		var r uint64
		switch in.op {
		case opCopy:
			r = words[in.a]
		case opBefore, opBeforeKept:
			r = b.spread(base[in.a] != 0)
		case opNot:
			r = b.all &^ words[in.a]
		case opIs, opInside, opAbove, opBelow, opBetween:
			turns := &b.given[w.code[i].given]
			r = turns[0] | was&^turns[1]
		case opAnd:
			r = b.all
			for _, slot := range w.p.lists[in.at:in.to] {
				r &= words[slot]
			}
		case opOr:
			for _, slot := range w.p.lists[in.at:in.to] {
				r |= words[slot]
			}
		case opXor:
			for _, slot := range w.p.lists[in.at:in.to] {
				r ^= words[slot]
			}
		case opRise:
			r = words[in.a] &^ b.spread(base[in.c] != 0)
			words[in.c] = words[in.a]
		case opFall:
			r = b.spread(base[in.c] != 0) &^ words[in.a]
			words[in.c] = words[in.a]
		case opSetWins:
			r = words[in.a] | was&^words[in.b]
		case opResetWins:
			r = (words[in.a] | was) &^ words[in.b]
		case opToggle:
			r = (was ^ words[in.a]&^b.spread(base[in.c] != 0)) &^ words[in.b]
			words[in.c] = words[in.a]
		case opOnDelay, opOffDelay, opPulseFor:
			r = b.timer(w, in)
		}
		words[in.dst] = r
	}
}

// timer steps a count: the second value of it is that of a way that begins anew, or does not count.
func (b *wayBlock) timer(w *Ways, in *inst) uint64 {
	c := &b.count[w.counts[in.c]]
	on, next := b.words[in.a], lesser(w.base[in.c]+1, in.x)
	switch in.op {
	case opOnDelay:
		c.word, c.values = b.all&^on, [2]float64{next, -1}
		return on & b.spread(next >= in.x)
	case opOffDelay:
		c.word, c.values = on, [2]float64{next, -1}
		return on | b.spread(next < in.x)
	}
	rose := on &^ b.spread(w.base[in.b] != 0)
	b.words[in.b] = on
	c.word, c.values = rose&b.spread(next >= in.x), [2]float64{next, 0}
	return c.word&b.spread(0 < in.x) | b.spread(next < in.x)&^c.word
}

// Distinct lists ways, rising, of which each other one leads to the same as one of them.
func (w *Ways) Distinct() []int {
	w.reps = w.reps[:0]
	for k := range w.blocks {
		w.reps = w.blocks[k].distinct(w, w.reps)
	}
	return w.reps
}

func (b *wayBlock) distinct(w *Ways, reps []int) []int {
	var room [64]uint64
	masks := append(room[:0], b.all)
	for _, slot := range w.shown {
		word := b.words[slot]
		if at := w.counts[slot]; at >= 0 {
			if word = b.count[at].word; b.count[at].values[0] == b.count[at].values[1] {
				continue
			}
		}
		if word == 0 || word == b.all {
			continue
		}
		for i := range masks {
			if one := masks[i] & word; one != 0 && one != masks[i] {
				masks = append(masks, masks[i]&^word)
				masks[i] = one
			}
		}
	}
	from := len(reps)
	for _, mask := range masks {
		reps = append(reps, b.first+bits.TrailingZeros64(mask))
	}
	slices.Sort(reps[from:])
	return reps
}

// Put puts what is looked at into a state, as it is after the frame with the hands in a way.
func (w *Ways) Put(way int, st *State) {
	b := &w.blocks[way/64]
	for _, slot := range w.shown {
		if at := w.counts[slot]; at >= 0 {
			c := &b.count[at]
			st.V[slot] = c.values[c.word>>(way%64)&1]
			continue
		}
		st.V[slot] = float64(b.words[slot] >> (way % 64) & 1)
	}
	st.V[slotFirst], st.V[w.p.sending] = 0, 1
}
