package translate

import (
	"errors"
	"fmt"
	"math"
	"slices"
	"strings"

	"axtren/core/setup"
	"axtren/core/signal"
	"axtren/core/words"
)

// input is what a node takes: a control's position, or another node, of this frame or the one before.
type input struct {
	ref  string // a control's position; empty: a node
	node int
	not  bool
	late bool
}

func (in input) turned() input {
	in.not = !in.not
	return in
}

// node is one entry before it has a number.
type node struct {
	kind  string
	in    []input // of a latch set and reset; of a toggle its input and, where there is one, its reset
	of    string
	level float64
	forS  float64
}

// net is the logic of a setup as nodes of the kinds that a set has.
type net struct {
	set    *Set
	s      *setup.Setup
	p      *signal.Program
	nodes  []node
	known  map[string]int // nodes without a memory, by what they are
	blocks map[int]input  // of each block that is translated, or being translated, what it is
	lean   bool           // gates are made anew in two levels where that takes fewer
	plain  bool           // each block as the set has it by name, whatever the set makes of it
}

// errCannot says what the set cannot do.
type errCannot struct{ what string }

func (e *errCannot) Error() string { return e.what }

func cannot(format string, args ...any) error { return &errCannot{fmt.Sprintf(format, args...)} }

// none says that the set has no entry of a kind.
func none(kind string) error {
	return cannot("this transmitter has no entry of the kind “%s”", words.Small(setup.Blocks.Name(kind)))
}

func newNet(set *Set, s *setup.Setup, p *signal.Program) *net {
	return &net{set: set, s: s, p: p, known: map[string]int{}, blocks: map[int]input{}}
}

// needed lists the blocks that something other than a block or a claim refers to.
func needed(s *setup.Setup) (list []int) {
	for i := range s.Logic {
		for r := range s.Graph().To(setup.IsBlock.At(i)) {
			switch r.From.Kind {
			case setup.IsMix, setup.IsDemand, setup.IsStepper, setup.IsSequence, setup.IsPattern, setup.IsAnnouncement:
				if !slices.Contains(list, i) {
					list = append(list, i)
				}
			}
		}
	}
	return list
}

// add adds a node, or gives one that is the same.
func (n *net) add(one node) input {
	key := fmt.Sprint(one)
	if at, ok := n.known[key]; ok {
		return input{node: at}
	}
	n.nodes = append(n.nodes, one)
	n.known[key] = len(n.nodes) - 1
	return input{node: len(n.nodes) - 1}
}

// fresh adds a node that is filled in later, since it has to do with itself.
func (n *net) fresh() int {
	n.nodes = append(n.nodes, node{})
	return len(n.nodes) - 1
}

// block translates a block.
func (n *net) block(i int) (input, error) {
	if in, ok := n.blocks[i]; ok {
		return in, nil
	}
	in, err := n.made(i)
	if err == nil {
		n.blocks[i] = in
	}
	return in, err
}

// errRing says that a block has to do with itself in a way that is not translated.
var errRing = errors.New("rules that read each other in a ring are not translated one by one")

// truth translates a condition as block i reads it.
func (n *net) truth(i int, t setup.Truth) (input, error) {
	f, err := n.s.Fact(t)
	if err != nil {
		return input{}, err
	}
	turn := func(in input, err error) (input, error) {
		if err != nil || !f.Not {
			return in, err
		}
		return n.not(in)
	}
	switch f.Kind {
	case setup.FactPosition:
		ref, _ := t.Split()
		return turn(input{ref: ref}, nil)
	case setup.FactPowerOn:
		return turn(n.powerOn())
	case setup.FactBlock:
		in, err := n.block(f.Index)
		if err == nil && n.p.Late(setup.IsBlock.At(i), setup.IsBlock.At(f.Index)) {
			if in.ref != "" || in.late {
				return in, errRing
			}
			in.late = true
		}
		return turn(in, err)
	}
	return input{}, cannot("an entry cannot look at %s", n.s.Label(f.Item()))
}

var errNot = cannot("an input cannot be turned round, which it needs")

// not is the opposite of an input.
func (n *net) not(in input) (input, error) {
	if n.set.Negated {
		return in.turned(), nil
	}
	if in.ref != "" {
		id, at, _ := strings.Cut(in.ref, ".")
		var others []input
		for _, p := range n.s.Transmitter.Controls[n.s.Item(setup.ID(id)).Index].Switch.Positions {
			if string(p) != at {
				others = append(others, input{ref: id + "." + string(p)})
			}
		}
		return n.gate("or", others...)
	}
	one := n.nodes[in.node]
	switch {
	case in.late: // what it was is no entry of its own
		return in, errNot
	case one.kind == "above": // not at 20 or above is at the number before 20 or below
		return n.add(node{kind: "below", of: one.of, level: math.Nextafter(one.level, math.Inf(-1))}), nil
	case one.kind == "below":
		return n.add(node{kind: "above", of: one.of, level: math.Nextafter(one.level, math.Inf(1))}), nil
	}
	opposite := map[string]string{"and": "or", "or": "and"}[one.kind]
	if opposite == "" {
		return in, errNot
	}
	var others []input
	for _, of := range one.in {
		turned, err := n.not(of)
		if err != nil {
			return in, err
		}
		others = append(others, turned)
	}
	return n.gate(opposite, others...)
}

// gate puts inputs together, an entry after the other where one cannot have so many.
func (n *net) gate(kind string, in ...input) (input, error) {
	var list []input
	for _, one := range in {
		if kind == "xor" || !slices.Contains(list, one) {
			list = append(list, one)
		}
	}
	if len(list) == 1 {
		return list[0], nil
	}
	switch {
	case kind == "xor" && !n.set.has("xor"):
		return n.odd(list)
	case !n.set.has(kind):
		opposite := map[string]string{"and": "or", "or": "and"}[kind]
		if !n.set.has(opposite) || !n.set.Negated {
			return input{}, none(kind)
		}
		for k := range list {
			list[k] = list[k].turned()
		}
		made, err := n.gate(opposite, list...)
		return made.turned(), err
	case n.set.Inputs < 2:
		return input{}, cannot("an entry has one input only")
	}
	for len(list) > n.set.Inputs {
		first := n.add(node{kind: kind, in: slices.Clone(list[:n.set.Inputs])})
		list = append(slices.Clone(list[n.set.Inputs:]), first)
	}
	return n.add(node{kind: kind, in: list}), nil
}

// odd is xor by other gates, two after the other.
func (n *net) odd(list []input) (input, error) {
	acc := list[0]
	for _, in := range list[1:] {
		notIn, err := n.not(in)
		if err != nil {
			return acc, err
		}
		notAcc, err := n.not(acc)
		if err != nil {
			return acc, err
		}
		one, err := n.gate("and", acc, notIn)
		if err != nil {
			return acc, err
		}
		other, err := n.gate("and", notAcc, in)
		if err != nil {
			return acc, err
		}
		if acc, err = n.gate("or", one, other); err != nil {
			return acc, err
		}
	}
	return acc, nil
}

// powerOn is true in the first frame alone: what is always true, of the frame before, was not yet.
func (n *net) powerOn() (input, error) {
	if !n.set.ByPlace || !n.set.Negated || !n.set.has("or") {
		return input{}, cannot("an entry cannot look at the moment of power-on")
	}
	for _, c := range n.s.Transmitter.Controls {
		if c.Switch != nil {
			ref := string(c.ID) + "." + string(c.Switch.Positions[0])
			always := n.add(node{kind: "or", in: []input{{ref: ref}, {ref: ref, not: true}}})
			return input{node: always.node, not: true, late: true}, nil
		}
	}
	return input{}, cannot("an entry cannot look at the moment of power-on")
}

// made makes a block of nodes.
func (n *net) made(i int) (input, error) {
	b := &n.s.Logic[i]
	starts, _ := b.StartsAs()
	read := func(truths ...setup.Truth) (list []input, err error) {
		for _, t := range truths {
			in, err := n.truth(i, t)
			if err != nil {
				return nil, err
			}
			list = append(list, in)
		}
		return list, nil
	}
	switch spec := b.Spec.(type) {
	case *setup.Gate:
		in, err := read(spec.In...)
		if err != nil {
			return input{}, err
		}
		made, err := n.gate(b.Block, in...)
		if err == nil && n.lean {
			made = n.least(made)
		}
		return made, err
	case *setup.Level:
		return n.level(b.Block, spec)
	case *setup.Between:
		return n.between(spec)
	case *setup.Edge:
		in, err := read(spec.In)
		if err != nil {
			return input{}, err
		}
		return n.edge(b.Block, in[0])
	case *setup.Latch:
		return n.ring(i, func(input) (input, input, error) {
			in, err := read(spec.Set, spec.Reset)
			if err != nil {
				return input{}, input{}, err
			}
			return in[0], in[1], nil
		}, b.Block == "sr", string(starts))
	case *setup.Toggle:
		return n.toggle(i, spec, read, string(starts))
	case *setup.Timer:
		return n.timer(i, b.Block, spec, read)
	}
	return input{}, cannot("it is no kind of entry")
}

// timer is a timer of the set's own.
func (n *net) timer(i int, kind string, spec *setup.Timer,
	read func(...setup.Truth) ([]input, error)) (input, error) {
	if signal.FramesIn(spec.ForS, n.s.Transmitter.FrameS()) == 0 && kind != "tp" {
		in, err := read(spec.In)
		if err != nil {
			return input{}, err
		}
		return in[0], nil
	}
	if !n.set.has(kind) {
		return input{}, none(kind)
	}
	at := n.fresh()
	n.blocks[i] = input{node: at}
	in, err := read(spec.In)
	if err == nil && kind == "tp" && n.set.Fires && !n.plain {
		in[0], err = n.edge("r_trig", in[0])
	}
	if err != nil {
		delete(n.blocks, i)
		return input{}, err
	}
	n.nodes[at] = node{kind: kind, in: in[:1], forS: spec.ForS}
	return input{node: at}, nil
}

// edge is a rise or a fall.
func (n *net) edge(kind string, in input) (input, error) {
	other := map[string]string{"r_trig": "f_trig", "f_trig": "r_trig"}[kind]
	quiet := func(kind string) bool {
		return n.set.has(kind) && (n.plain || kind == "f_trig" || !n.set.Fires)
	}
	switch {
	case quiet(kind):
		return n.add(node{kind: kind, in: []input{in}}), nil
	case quiet(other) && n.set.Negated:
		return n.add(node{kind: other, in: []input{in.turned()}}), nil
	case !n.set.has("and") || n.set.Inputs < 2 ||
		!n.set.ByPlace && (n.set.latch() == "" || n.set.OnEdge || n.set.Remembers):
		return input{}, none(kind)
	}
	now, before := in, in
	var err error
	if kind == "r_trig" {
		before, err = n.not(in)
	} else {
		now, err = n.not(in)
	}
	if err != nil {
		return input{}, err
	}
	if !n.set.ByPlace { // a latch that the edge itself takes back
		fires := n.fresh()
		latch := n.add(node{kind: n.set.latch(), in: []input{before, {node: fires}}})
		n.nodes[fires] = node{kind: "and", in: []input{now, latch}}
		return input{node: fires}, nil
	}
	// what comes after reads the frame before: false in the first
	after := n.copied(before)
	after.late = true
	return n.add(node{kind: "and", in: []input{now, after}}), nil
}

// copied is an input as an entry of its own; as it was, where the set has none that could be.
func (n *net) copied(in input) input {
	for _, kind := range []string{"or", "and", "xor"} {
		if n.set.has(kind) && n.set.Inputs > 0 {
			return n.add(node{kind: kind, in: []input{in}})
		}
	}
	if latch := n.set.latch(); latch != "" && n.set.Negated && !n.set.OnEdge {
		return n.add(node{kind: latch, in: []input{in, in.turned()}})
	}
	return in
}

// whole is an input as an entry that is true when it is.
func (n *net) whole(in input) (input, error) {
	if in.ref != "" || in.not || in.late {
		if in = n.copied(in); in.ref != "" || in.not || in.late {
			return in, cannot("it has no entry that takes one input as it is")
		}
	}
	return in, nil
}

// level is a value beyond a level.
func (n *net) level(kind string, spec *setup.Level) (input, error) {
	at, err := n.beyond(kind, spec.Of, spec.Level)
	if err != nil || spec.Hysteresis == 0 {
		return at, err
	}
	back := spec.Level - spec.Hysteresis
	if kind == "below" {
		back = spec.Level + spec.Hysteresis
	}
	stays, err := n.beyond(kind, spec.Of, back)
	if err != nil {
		return at, err
	}
	gone, err := n.not(stays)
	if err != nil {
		return at, err
	}
	return n.latched(at, gone, true, "false")
}

// beyond is an entry for a stick beyond a level, or the positions of a switch that are.
func (n *net) beyond(kind string, of setup.Value, level float64) (input, error) {
	src, err := n.s.Source(of)
	if err != nil || src.Kind != setup.SourceControl {
		return input{}, cannot("an entry looks at controls alone, not at %s", of.Ref)
	}
	c := &n.s.Transmitter.Controls[src.Index]
	if c.Axis != nil {
		return n.add(node{kind: kind, of: string(c.ID), level: level}), nil
	}
	var list []input
	for k, p := range c.Switch.Positions {
		at := -100 + 200*float64(k)/float64(len(c.Switch.Positions)-1)
		if kind == "above" && at >= level || kind == "below" && at <= level {
			list = append(list, input{ref: string(c.ID) + "." + string(p)})
		}
	}
	if len(list) == 0 {
		return input{}, cannot("%s never gets there", n.s.ControlLabel(src.Index))
	}
	return n.gate("or", list...)
}

func (n *net) between(spec *setup.Between) (input, error) {
	inside := func(by float64) (input, error) {
		above, err := n.beyond("above", spec.Of, spec.From-by)
		if err != nil {
			return above, err
		}
		below, err := n.beyond("below", spec.Of, spec.To+by)
		if err != nil {
			return below, err
		}
		return n.gate("and", above, below)
	}
	in, err := inside(0)
	if err != nil || spec.Hysteresis == 0 {
		return in, err
	}
	stays, err := inside(spec.Hysteresis)
	if err != nil {
		return in, err
	}
	gone, err := n.not(stays)
	if err != nil {
		return in, err
	}
	return n.latched(in, gone, true, "false")
}

// latched is a latch that has nothing to do with itself.
func (n *net) latched(set, reset input, setWins bool, start string) (input, error) {
	return n.ring(-1, func(input) (input, input, error) { return set, reset, nil }, setWins, start)
}

// ring is a latch; sides gives its set and reset, which may read it as it was.
func (n *net) ring(block int, sides func(own input) (set, reset input, err error), setWins bool,
	start string) (input, error) {
	latch := n.set.latch()
	wakes := start == "kept" == n.set.Remembers // as it should, but for one that wakes true
	native := latch != "" && (n.plain || !n.set.OnEdge && (wakes || !n.set.ByPlace || start == "kept"))
	turned := start == "true" && n.set.Negated && !n.plain // it is held the other way round
	gates := n.set.ByPlace && n.set.has("and") && n.set.has("or") && n.set.Inputs >= 2
	if !native && !gates {
		if native = latch != ""; !native {
			return input{}, cannot("it has no latch, and no gates to make one of")
		}
	}
	at := n.fresh()
	own := input{node: at, not: turned}
	if block >= 0 {
		n.blocks[block] = own
		defer delete(n.blocks, block)
	}
	set, reset, err := sides(own)
	if err != nil {
		return input{}, err
	}
	if turned {
		set, reset, setWins = reset, set, !setWins
	}
	if native {
		if set, reset, err = n.givesWay(set, reset, setWins); err != nil {
			return input{}, err
		}
		n.nodes[at] = node{kind: latch, in: []input{set, reset}}
		return own, nil
	}
	stays, err := n.not(reset)
	if err != nil {
		return input{}, err
	}
	before := input{node: at, late: true}
	if setWins {
		held := n.add(node{kind: "and", in: []input{stays, before}})
		n.nodes[at] = node{kind: "or", in: []input{set, held}}
	} else {
		held := n.add(node{kind: "or", in: []input{set, before}})
		n.nodes[at] = node{kind: "and", in: []input{held, stays}}
	}
	return own, nil
}

// givesWay makes the side that the set lets win give way where the other should.
func (n *net) givesWay(set, reset input, setWins bool) (input, input, error) {
	if setWins == n.set.SetWins || n.plain || n.exclusive(set, reset) {
		return set, reset, nil
	}
	if setWins {
		not, err := n.not(set)
		if err != nil {
			return set, reset, err
		}
		reset, err = n.gate("and", reset, not)
		return set, reset, err
	}
	not, err := n.not(reset)
	if err != nil {
		return set, reset, err
	}
	set, err = n.gate("and", set, not)
	return set, reset, err
}

// exclusive tells whether two inputs are plainly never true together: positions of one switch, or opposites.
func (n *net) exclusive(a, b input) bool {
	if a.turned() == b {
		return true
	}
	one, _, _ := strings.Cut(a.ref, ".")
	other, _, _ := strings.Cut(b.ref, ".")
	return a.ref != "" && one == other && a.ref != b.ref && !a.not && !b.not
}

// toggle is a toggle of the set's own, or a latch that its own state leads to set and reset.
func (n *net) toggle(i int, spec *setup.Toggle, read func(...setup.Truth) ([]input, error),
	start string) (input, error) {
	truths := []setup.Truth{spec.In}
	if spec.Reset != nil {
		truths = append(truths, *spec.Reset)
	}
	wakes := n.plain || start == "kept" == n.set.Remembers && start != "true"
	if n.set.has("toggle") && wakes && n.set.Inputs >= len(truths) {
		at := n.fresh()
		n.blocks[i] = input{node: at}
		in, err := read(truths...)
		if err == nil && n.set.Fires && !n.plain {
			in[0], err = n.edge("r_trig", in[0])
		}
		if err == nil {
			n.nodes[at] = node{kind: "toggle", in: in}
			return input{node: at}, nil
		}
		delete(n.blocks, i)
	}
	return n.ring(i, func(own input) (set, reset input, err error) {
		in, err := read(truths...)
		if err != nil {
			return set, reset, err
		}
		rise, err := n.edge("r_trig", in[0])
		if err != nil {
			return set, reset, err
		}
		own.late = true
		other, err := n.not(own)
		if err != nil {
			return set, reset, err
		}
		if set, err = n.gate("and", rise, other); err != nil {
			return set, reset, err
		}
		if reset, err = n.gate("and", rise, own); err != nil || len(in) == 1 {
			return set, reset, err
		}
		not, err := n.not(in[1])
		if err != nil {
			return set, reset, err
		}
		if set, err = n.gate("and", set, not); err != nil {
			return set, reset, err
		}
		reset, err = n.gate("or", reset, in[1])
		return set, reset, err
	}, true, start)
}
