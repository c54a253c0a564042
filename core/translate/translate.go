package translate

import (
	"context"
	"errors"
	"maps"
	"slices"

	"axtren/core/proof"
	"axtren/core/setup"
	"axtren/core/signal"
)

// Answer is a translation, and what was found out about it.
type Answer struct {
	Same      bool
	Undecided string   // how far it got; empty: it is decided
	RestsOn   []string // what is not known of the set and would make it another thing
	Entries   []Entry
	StandsFor map[setup.ID]int // by block, the number of its entry
	Fewest    bool             // no translation needs fewer
	Rows      []proof.Row      // where it is not the same, the fewest movements that show it
	Frame     int              // the frame in which they do
	Differ    []setup.ID       // the blocks that are not as their entries then
	Left      []string         // what the set cannot do, a sentence each
	Plain     *Plain           // what goes wrong with what most would key in; nil: nothing, or it is not known
}

// Plain is what goes wrong where each block is keyed in as the set has it by name.
type Plain struct {
	Rows  []proof.Row // the fewest movements that show it
	Frame int
	On    map[setup.ID]bool // the blocks that are not as their entries then, and whether each entry is on
}

// Script is what shows that a translation is not the same; empty where it is, or it is not known.
func (a *Answer) Script() string {
	if a.Same || a.Undecided != "" {
		return ""
	}
	return proof.Script(a.Rows)
}

// Budget is what a translation may take.
type Budget struct {
	proof.Budget     // of each proof
	Tried        int // lists of entries of one length that are tried
}

// Usual is the budget where nobody asks for another, and Glance one that takes no time.
var (
	Usual  = Budget{proof.Usual, 12_000_000}
	Glance = Budget{proof.Budget{Bytes: 8 << 20, Steps: 20_000}, 100_000}
)

// Translate brings the logic of a setup into the entries of a set, as few as it finds, and proves that each
// equals the block that it stands for. The error says why nothing can be said.
func Translate(ctx context.Context, s *setup.Setup, set Set, budget Budget) (*Answer, error) {
	p, err := signal.Compile(s)
	if err != nil {
		return nil, err
	}
	wanted := needed(s)
	a := &Answer{Same: true, RestsOn: []string{}, Entries: []Entry{}, StandsFor: map[setup.ID]int{},
		Fewest: true,
		Rows:   []proof.Row{}}
	if len(wanted) == 0 {
		return a, nil
	}
	if set.Count == 0 { // nothing can stand for anything
		a.Same, a.Fewest = false, false
		for _, block := range wanted {
			a.Left = append(a.Left, s.Label(setup.IsBlock.At(block))+": "+errRoom.Error())
		}
		return a, nil
	}
	t := &translation{ctx: ctx, s: s, p: p, set: &set, budget: budget, wanted: wanted}
	l, left := t.direct(newNet(&set, s, p))
	thrifty := newNet(&set, s, p)
	thrifty.lean = true
	if lean, other := t.direct(thrifty); len(other) < len(left) ||
		len(other) == len(left) && len(lean.nodes) < len(l.nodes) {
		l, left = lean, other
	}
	a.Left = left
	v := t.proved(&set, &l)
	fewer, proved := t.fewer(&l, v.Verdict == proof.Holds)
	if fewer != nil {
		l, v, a.Left = *fewer, proof.Verdict{Verdict: proof.Holds}, nil
	}
	a.Fewest = proved
	a.Entries = l.entries()
	for block, at := range l.of {
		a.StandsFor[s.Logic[block].ID] = at + 1
	}
	switch v.Verdict {
	case proof.Undecided:
		a.Same, a.Undecided = false, v.Why
	case proof.Fails:
		a.Same, a.Rows, a.Frame = false, v.Rows, v.Frame
		a.Differ = slices.Sorted(maps.Keys(t.apart(&l, &v)))
	default:
		a.RestsOn = t.restsOn(&l)
		a.Plain = t.plain()
	}
	return a, nil
}

// plainSteps is how many frames are computed to find what is wrong with what most would key in.
const plainSteps = 200_000

// plain looks for what goes wrong with what most would key in.
func (t *translation) plain() *Plain {
	n := newNet(t.set, t.s, t.p)
	n.plain = true
	l, left := t.direct(n)
	if left != nil {
		return nil
	}
	v := t.provedWithin(t.budget.Within(plainSteps), t.set, &l)
	if v.Verdict != proof.Fails {
		return nil
	}
	return &Plain{v.Rows, v.Frame, t.apart(&l, &v)}
}

// translation is one that is worked out.
type translation struct {
	ctx    context.Context
	s      *setup.Setup
	p      *signal.Program
	set    *Set
	budget Budget
	wanted []int // the blocks that something refers to
}

// direct translates block by block; what cannot be is left, and said, and some entry stands in its place.
func (t *translation) direct(n *net) (l listed, left []string) {
	of := map[int]input{}
	for _, block := range t.wanted {
		in, err := n.block(block)
		if err == nil {
			in, err = n.whole(in)
		}
		if err == nil {
			of[block] = in
			if len(n.list(of).nodes) <= t.room(of) {
				continue
			}
			delete(of, block)
			err = errRoom
		}
		left = append(left, t.s.Label(setup.IsBlock.At(block))+": "+err.Error())
	}
	if len(of) < len(t.wanted) {
		stand := n.anything()
		if len(of) > 0 && len(n.list(of).nodes) == t.set.Count {
			stand = of[sorted(of)[0]]
		}
		for _, block := range t.wanted {
			if _, ok := of[block]; !ok {
				of[block] = stand
			}
		}
	}
	return n.list(of), left
}

// room is how many entries some blocks may take, with one left for the others.
func (t *translation) room(of map[int]input) int {
	if len(of) == len(t.wanted) {
		return t.set.Count
	}
	return max(t.set.Count-1, min(t.set.Count, 1))
}

var errRoom = errors.New("there are not so many entries")

// anything is some entry that the set can have.
func (n *net) anything() input {
	for _, c := range n.s.Transmitter.Controls {
		if c.Switch != nil {
			if in := n.copied(input{ref: string(c.ID) + "." + string(c.Switch.Positions[0])}); in.ref == "" {
				return in
			}
		}
	}
	for _, c := range n.s.Transmitter.Controls {
		if c.Axis != nil {
			return n.add(node{kind: "above", of: string(c.ID), level: 100})
		}
	}
	return n.copied(input{node: 0})
}

// proved finds out whether entries, as a set runs them, equal the blocks that they stand for.
func (t *translation) proved(set *Set, l *listed) proof.Verdict {
	return t.provedWithin(t.budget.Budget, set, l)
}

func (t *translation) provedWithin(budget proof.Budget, set *Set, l *listed) proof.Verdict {
	with, ids := l.blocks(t.s, set)
	pairs := &proof.Pairs{Setup: with, Compile: set.compile(ids)}
	for _, block := range sorted(l.of) {
		pairs.List = append(pairs.List, proof.Pair{A: t.s.Logic[block].ID, B: ids[l.of[block]]})
	}
	return proof.Apart(t.ctx, pairs, budget)
}

// restsOn lists what is not known of the set that would make entries another thing if it were the other way.
func (t *translation) restsOn(l *listed) []string {
	list := []string{}
	for _, part := range t.set.left {
		other := t.set.turned(part)
		switch {
		case part == partNegated:
			if slices.ContainsFunc(l.nodes, func(n node) bool {
				return slices.ContainsFunc(n.in, func(in input) bool { return in.not })
			}) {
				list = append(list, part)
			}
		case t.differs(&other, l):
			list = append(list, part)
		}
	}
	return list
}

// differs tells whether entries are not the same where another set runs them.
func (t *translation) differs(other *Set, l *listed) bool {
	with, ids := l.blocks(t.s, other)
	if _, err := other.compile(ids)(with); err != nil {
		return true // they wait for each other in a ring
	}
	return t.proved(other, l).Verdict == proof.Fails
}
