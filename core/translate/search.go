package translate

import (
	"math/bits"
	"slices"
	"strings"
	"sync"
	"sync/atomic"

	"axtren/core/proof"
	"axtren/core/setup"
)

// fewer looks for a translation with fewer entries, by trying all lists of entries, the shortest first, on
// runs that were played, and proving those that pass. proved tells that none needs fewer than what was found,
// or than l, which is good where that is so.
func (t *translation) fewer(l *listed, good bool) (found *listed, proved bool) {
	runs := t.play()
	least := runs.classes(t.wanted)
	most := t.set.Count
	if good {
		most = min(most, len(l.nodes)-1)
	}
	proved = true
	for count := least; count <= most; count++ {
		h := newHunt(t, runs, count)
		if h == nil {
			return nil, false
		}
		h.search()
		if h.found != nil {
			return h.found, proved
		}
		if h.open.Load() || t.ctx.Err() != nil {
			return nil, false
		}
	}
	return nil, proved && good
}

// option is what one entry can be.
type option struct {
	kind string
	op   op
	in   []int // places among the literals
	at   int   // of a stick beyond a level, its place among the levels
}

type op uint8

const (
	opAnd op = iota
	opOr
	opXor
	opLatch
	opRise
	opFall
	opToggle
	opBeyond
)

// hunt tries all lists of a length.
type hunt struct {
	*translation
	runs    *runs
	count   int
	fixed   int // literals that are no entry: positions, then never and always
	options []option
	mu      sync.Mutex
	found   *listed
	best    atomic.Int64 // of what was found, its first entry among the options; before, one more than all
	open    atomic.Bool  // something could not be told
}

// newHunt lists what each entry can be; nil where there is too much.
func newHunt(t *translation, r *runs, count int) *hunt {
	h := &hunt{translation: t, runs: r, count: count, fixed: len(r.refs) + 2}
	if slices.ContainsFunc(t.set.Blocks, func(kind string) bool {
		return kind == "ton" || kind == "tof" || kind == "tp"
	}) {
		return nil // of times there is no end
	}
	var lits []int // positions and entries
	for i := range r.refs {
		lits = append(lits, i)
	}
	for e := range count {
		lits = append(lits, h.fixed+2*e)
		if t.set.Negated {
			lits = append(lits, h.fixed+2*e+1)
		}
	}
	h.gates(lits)
	h.others(lits)
	n := 1
	for range count {
		if n *= max(len(h.options), 1); n > t.budget.Tried {
			return nil
		}
	}
	return h
}

// gates adds gates of one input up to as many as an entry may have.
func (h *hunt) gates(lits []int) {
	kinds := []struct {
		kind string
		op   op
	}{{"and", opAnd}, {"or", opOr}, {"xor", opXor}}
	passed := false
	for _, k := range kinds {
		if !h.set.has(k.kind) {
			continue
		}
		var choose func(from int, in []int)
		choose = func(from int, in []int) {
			if len(in) > 1 || len(in) == 1 && !passed {
				h.options = append(h.options, option{kind: k.kind, op: k.op, in: slices.Clone(in)})
			}
			if len(in) == h.set.Inputs || len(h.options) > h.budget.Tried {
				return
			}
			for i := from; i < len(lits); i++ {
				choose(i+1, append(in, lits[i]))
			}
		}
		choose(0, nil)
		passed = true
	}
}

// others adds latches, edges, toggles and sticks beyond a level.
func (h *hunt) others(lits []int) {
	if latch := h.set.latch(); latch != "" {
		never, always := h.fixed-2, h.fixed-1
		sides := slices.Clone(lits)
		if !h.set.SetWins || h.set.OnEdge {
			sides = append(sides, never, always)
		}
		for _, set := range sides {
			for _, reset := range sides {
				h.options = append(h.options, option{kind: latch, op: opLatch, in: []int{set, reset}})
			}
		}
	}
	for k, kind := range []string{"r_trig", "f_trig", "toggle"} {
		o := opRise + op(k)
		if !h.set.has(kind) || h.set.Inputs < 1 {
			continue
		}
		for _, in := range lits {
			h.options = append(h.options, option{kind: kind, op: o, in: []int{in}})
			for _, reset := range lits {
				if o == opToggle && h.set.Inputs > 1 {
					h.options = append(h.options, option{kind: kind, op: o, in: []int{in, reset}})
				}
			}
		}
	}
	for i, b := range h.runs.beyond {
		h.options = append(h.options, option{kind: b.kind, op: opBeyond, at: i})
	}
}

// search tries all lists, on both processors; of those that are good the first counts.
func (h *hunt) search() {
	h.best.Store(int64(len(h.options)))
	var wait sync.WaitGroup
	for part := range 2 {
		wait.Go(func() {
			tr := newTrial(h)
			for first := part; int64(first) < h.best.Load(); first += 2 {
				if h.ctx.Err() != nil {
					h.open.Store(true)
					return
				}
				tr.list[0] = first
				if h.try(tr, 1) {
					return
				}
			}
		})
	}
	wait.Wait()
}

// try tries all that can follow the first entries, and tells whether one is good.
func (h *hunt) try(tr *trial, from int) bool {
	if from == h.count {
		return tr.fits() && h.passed(tr)
	}
	for i := range h.options {
		tr.list[from] = i
		if h.try(tr, from+1) {
			return true
		}
	}
	return false
}

// passed proves a list that did right in all runs that were played.
func (h *hunt) passed(tr *trial) bool {
	h.mu.Lock()
	defer h.mu.Unlock()
	if int64(tr.list[0]) > h.best.Load() || !tr.fits() { // another run was played meanwhile
		return false
	}
	l, ok := h.listed(tr)
	if !ok {
		h.open.Store(true) // with something that is never true, which the set may have no entry for
		return false
	}
	switch v := h.proved(h.set, l); v.Verdict {
	case proof.Holds:
		h.found = l
		h.best.Store(int64(tr.list[0]))
		return true
	case proof.Fails:
		h.runs.add(h.translation, v.Rows, v.Frame)
	default:
		h.open.Store(true)
	}
	return false
}

// listed makes entries of a list of options.
func (h *hunt) listed(tr *trial) (l *listed, ok bool) {
	l = &listed{of: map[int]int{}}
	for _, at := range tr.list {
		o := &h.options[at]
		one := node{kind: o.kind}
		if o.op == opBeyond {
			b := h.runs.beyond[o.at]
			one.of, one.level = b.of, b.level
		}
		for _, lit := range o.in {
			switch {
			case lit < len(h.runs.refs):
				ref, not := strings.CutPrefix(h.runs.refs[lit], "not ")
				one.in = append(one.in, input{ref: ref, not: not})
			case lit < h.fixed:
				return nil, false
			default:
				one.in = append(one.in, input{node: (lit - h.fixed) / 2, not: (lit-h.fixed)%2 == 1})
			}
		}
		l.nodes = append(l.nodes, one)
	}
	for k, block := range h.wanted {
		l.of[block] = bits.TrailingZeros64(tr.stands[k])
	}
	return l, true
}

// trial plays one list of entries on runs, 64 at a time.
type trial struct {
	h      *hunt
	list   []int
	stands []uint64 // of each block that is wanted, the entries that were as it is so far
	value  []uint64 // of each entry
	before []uint64 // of each, in the frame before
	was    [2][]uint64
	order  []int
	late   []uint64 // of each entry, those that it reads as they were
}

func newTrial(h *hunt) *trial {
	tr := &trial{h: h, list: make([]int, h.count), stands: make([]uint64, len(h.wanted)),
		value: make([]uint64, h.count), before: make([]uint64, h.count), late: make([]uint64, h.count)}
	for k := range tr.was {
		tr.was[k] = make([]uint64, h.count)
	}
	return tr
}

// fits tells whether every block that is wanted has an entry that is as it is in all runs.
func (tr *trial) fits() bool {
	if !tr.arrange() {
		return false
	}
	for k := range tr.stands {
		tr.stands[k] = 1<<tr.h.count - 1
	}
	power := tr.h.runs.power
	if tr.h.set.Remembers {
		power = power || slices.ContainsFunc(tr.list, func(at int) bool {
			o := tr.h.options[at].op
			return o == opLatch || o == opToggle
		})
	}
	list := *tr.h.runs.list.Load()
	for i := range list {
		if r := &list[i]; (!r.power || power) && !tr.play(r) {
			return false
		}
	}
	return true
}

// arrange finds in which order the entries run, and what they read as it was; false where they wait for each
// other.
func (tr *trial) arrange() bool {
	n := tr.h.count
	tr.order = tr.order[:0]
	if tr.h.set.ByPlace {
		for i := range n {
			tr.order = append(tr.order, i)
			tr.late[i] = ^uint64(0) << i
		}
		return true
	}
	var reads, reach [64]uint64
	var stateful uint64
	for i := range n {
		o := &tr.h.options[tr.list[i]]
		if o.op >= opLatch && o.op != opBeyond {
			stateful |= 1 << i
		}
		for _, lit := range o.in {
			if lit >= tr.h.fixed {
				reads[i] |= 1 << ((lit - tr.h.fixed) / 2)
			}
		}
		reach[i] = reads[i]
	}
	for range n {
		for i := range n {
			for e := range n {
				if reach[i]>>e&1 == 1 {
					reach[i] |= reach[e]
				}
			}
		}
	}
	done := uint64(0)
	for i := range n {
		tr.late[i] = 0
		for e := range n {
			if reads[i]>>e&1 == 1 && reach[e]>>i&1 == 1 && stateful>>e&1 == 1 {
				tr.late[i] |= 1 << e
			}
		}
	}
	for range n {
		next := -1
		for i := range n {
			if done>>i&1 == 0 && reads[i]&^tr.late[i]&^done == 0 {
				next = i
				break
			}
		}
		if next < 0 {
			return false
		}
		done |= 1 << next
		tr.order = append(tr.order, next)
	}
	return true
}

// play plays a block of runs, as far as every block that is wanted has an entry that is as it is.
func (tr *trial) play(r *run) bool {
	h := tr.h
	for i := range tr.value {
		tr.value[i], tr.before[i], tr.was[0][i], tr.was[1][i] = 0, 0, 0, 0
	}
	for f := range r.frames {
		words := r.words[f*h.runs.width:][:h.runs.width]
		first, sends := r.first[f], r.sends[f]
		copy(tr.before, tr.value)
		for _, i := range tr.order {
			v := tr.entry(i, words, first, sends)
			tr.value[i] = v&sends | tr.value[i]&^sends
		}
		for k := range tr.stands {
			want := r.wanted[f*len(tr.stands)+k]
			for left := tr.stands[k]; left != 0; left &= left - 1 {
				if e := bits.TrailingZeros64(left); (tr.value[e]^want)&sends != 0 {
					tr.stands[k] &^= 1 << e
				}
			}
			if tr.stands[k] == 0 {
				return false
			}
		}
	}
	return true
}

// entry computes an entry.
func (tr *trial) entry(i int, words []uint64, first, sends uint64) uint64 {
	h := tr.h
	o := &h.options[tr.list[i]]
	at := func(k int) uint64 {
		lit := o.in[k]
		if lit < h.fixed {
			return words[lit]
		}
		e := (lit - h.fixed) / 2
		v := tr.value[e]
		if tr.late[i]>>e&1 == 1 {
			if v = tr.before[e]; h.set.ByPlace || !h.set.Remembers {
				v &^= first
			}
		}
		if (lit-h.fixed)%2 == 1 {
			v = ^v
		}
		return v
	}
	rise := func(k int, in uint64) uint64 {
		was := tr.was[k][i]
		tr.was[k][i] = in&sends | was&^sends
		if h.set.Fires {
			return in &^ (was &^ first)
		}
		return in &^ was &^ first
	}
	base := tr.before[i]
	if !h.set.Remembers {
		base &^= first
	}
	switch o.op {
	case opAnd, opOr, opXor:
		v := at(0)
		for k := 1; k < len(o.in); k++ {
			switch o.op {
			case opAnd:
				v &= at(k)
			case opOr:
				v |= at(k)
			default:
				v ^= at(k)
			}
		}
		return v
	case opLatch:
		set, reset := at(0), at(1)
		if h.set.OnEdge {
			set, reset = rise(0, set), rise(1, reset)
		}
		if h.set.SetWins {
			return set | base&^reset
		}
		return (set | base) &^ reset
	case opRise:
		return rise(0, at(0))
	case opFall:
		in := at(0)
		was := tr.was[0][i]
		tr.was[0][i] = in&sends | was&^sends
		return was &^ in &^ first
	case opToggle:
		v := base ^ rise(0, at(0))
		if len(o.in) > 1 {
			v &^= at(1)
		}
		return v
	}
	return words[h.fixed+o.at]
}

// runs are runs of the setup that were played, 64 side by side.
type runs struct {
	refs   []string // literals: positions, and where they are not the only others, their opposites
	beyond []beyond
	width  int // words of a frame: literals, never, always, sticks beyond levels
	power  bool
	list   atomic.Pointer[[]run]
}

// beyond is a stick beyond a level.
type beyond struct {
	kind, of string
	level    float64
}

type run struct {
	frames       int
	power        bool // whether it is turned off and on in it
	words        []uint64
	first, sends []uint64
	wanted       []uint64 // by frame and block
}

// classes counts blocks that differ in some run.
func (r *runs) classes(wanted []int) int {
	seen := map[string]bool{}
	for k := range wanted {
		var key strings.Builder
		list := *r.list.Load()
		for i := range list {
			one := &list[i]
			for f := range one.frames {
				v := one.wanted[f*len(wanted)+k] & one.sends[f]
				for b := range 8 {
					key.WriteByte(byte(v >> (8 * b)))
				}
			}
		}
		seen[key.String()] = true
	}
	return len(seen)
}

// levels lists the levels that the blocks of a setup look at.
func levels(s *setup.Setup) (list []beyond) {
	add := func(kind string, of setup.Value, level float64) {
		src, err := s.Source(of)
		if err != nil || src.Kind != setup.SourceControl || s.Transmitter.Controls[src.Index].Axis == nil {
			return
		}
		if one := (beyond{kind, of.Ref, level}); !slices.Contains(list, one) {
			list = append(list, one)
		}
	}
	for _, b := range s.Logic {
		switch spec := b.Spec.(type) {
		case *setup.Level:
			add(b.Block, spec.Of, spec.Level)
			back := spec.Level - spec.Hysteresis
			if b.Block == "below" {
				back = spec.Level + spec.Hysteresis
			}
			add(b.Block, spec.Of, back)
		case *setup.Between:
			add("above", spec.Of, spec.From)
			add("below", spec.Of, spec.To)
			add("above", spec.Of, spec.From-spec.Hysteresis)
			add("below", spec.Of, spec.To+spec.Hysteresis)
		}
	}
	return list
}
