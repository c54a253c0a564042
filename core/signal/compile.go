package signal

import (
	"slices"
	"strings"

	"axtren/core/logic"
	"axtren/core/setup"
)

// RingError says that values wait for each other in a ring.
type RingError struct{ Members []string } // in order; each is computed from the next, the last from the first

// Error names the ring.
func (e *RingError) Error() string {
	return "these wait for each other: " + strings.Join(append(e.Members, e.Members[0]), " <- ") +
		"; take one of the references out"
}

type compiler struct {
	p        *Program
	s        *setup.Setup
	graph    *graph
	reserved int // slots set aside for what is carried from frame to frame
	node     int // the node whose references are being resolved

	computed  map[inst]Slot // results that may be read again: once
	constants map[float64]Slot
	arrivals  map[int]Slot
	values    []Slot // of each node that remembers: what it holds
	before    []Slot // the same of the frame before, where something reads it; else None
}

// Compile turns a checked setup into a program. The error is a *RingError. What decides
// some parts alone is the program of s.Cone(parts...).
func Compile(s *setup.Setup) (*Program, error) { return CompileEntries(s, Entries{}) }

// Entries says how a transmitter runs blocks that stand for entries of its own.
type Entries struct {
	Blocks  []int // their indices, in the order of their numbers
	ByPlace bool  // they run in that order; else in that of docs/format.md, section 5
	OnEdge  bool  // a latch's set and reset act in the frame in which they become true
	Fires   bool  // what is true already in the first frame after a power-on counts as an edge
}

// CompileEntries compiles a setup some of whose blocks are entries of a transmitter. By place, an entry reads
// its own number and higher ones as they were in the frame before, false in the first. The error is a
// *RingError.
func CompileEntries(s *setup.Setup, as Entries) (*Program, error) {
	g := newGraph(s)
	reads := logic.Graph{Reads: g.reads, Stateful: g.stateful}
	var listed []int
	for _, block := range as.Blocks {
		listed = append(listed, g.at[setup.IsBlock.At(block)])
	}
	first := reads
	if as.ByPlace { // no order of theirs is looked for
		first.Reads = slices.Clone(reads.Reads)
		for _, node := range listed {
			first.Reads[node] = nil
		}
	}
	order, ring := logic.Sort(first)
	if ring != nil {
		e := &RingError{}
		for _, member := range ring {
			e.Members = append(e.Members, g.name(member))
		}
		return nil, e
	}
	if as.ByPlace {
		order = order.Arrange(reads, listed)
	}
	g.order, g.entries = order, as
	// The first pass counts what is carried, so that the second can put it first.
	kept := compile(s, g, 1, 0).kept
	p := compile(s, g, 1, kept)
	p.graph = g
	return p, nil
}

func compile(s *setup.Setup, g *graph, width, reserved int) *Program {
	p := &Program{setup: s, width: width, pulse: newScale(s.Transmitter.Pulse)}
	c := &compiler{p: p, s: s, graph: g, reserved: reserved, computed: map[inst]Slot{},
		constants: map[float64]Slot{}, arrivals: map[int]Slot{}}
	c.layOut()
	c.remember()
	for _, node := range g.order.Sequence {
		c.node = node
		switch i := g.nodes[node].Index; g.nodes[node].Kind {
		case setup.IsDemand:
			c.demand(i)
		case setup.IsShare, setup.IsOutput:
			c.group(g.group(node))
		case setup.IsBlock:
			c.block(i)
		case setup.IsStepper:
			c.stepper(i)
		case setup.IsSequence:
			c.sequence(i)
		case setup.IsPattern:
			c.pattern(i)
		}
	}
	c.node = -1
	c.announcements()
	p.sent = len(p.code)
	c.pins()
	c.devices()
	c.trackInputs()
	for slot := 0; slot < len(p.initial); slot += width {
		for lane := range width {
			p.initial[slot+lane] = p.initial[slot]
		}
	}
	return p
}

// layOut gives the fixed slots: first frame, power, hands, what is asked.
func (c *compiler) layOut() {
	for range c.reserved {
		c.slot()
	}
	c.keep(setup.Item{}, "first frame") // it gets slotFirst, being the first that is kept
	c.p.sending, c.p.odd = c.keep(setup.Item{}, "sending"), c.keep(setup.Item{}, "odd frame")
	c.p.hands = Slot(len(c.p.initial))
	for range c.s.Transmitter.Controls {
		c.p.controls = append(c.p.controls, c.slot())
	}
	c.power()
	c.p.numbers = slices.Clone(c.p.controls)
	c.p.unsettled = c.slot()
	c.p.initial[c.p.unsettled] = 1
	for range c.s.Outputs {
		c.p.Routes = append(c.p.Routes, Route{Asked: c.slot(), Share: -1, most: None})
	}
	c.p.Demands = make([]Shaping, len(c.s.Demands))
	c.p.demandAt = make([]int, len(c.s.Demands))
	c.p.patternAt, c.p.sequenceAt = make([]int, len(c.s.Patterns)), make([]int, len(c.s.Sequences))
}

// remember gives every node that remembers its slot, and, where something reads
// it of the frame before, takes that aside before anything is computed.
func (c *compiler) remember() {
	g := c.graph
	late := g.order.LateNodes(len(g.reads))
	for i := range c.s.Sequences {
		var tracks []int32
		for track := range c.s.Sequences[i].Tracks {
			tracks = append(tracks, c.track(i, track))
		}
		c.p.tracks = append(c.p.tracks, tracks)
	}
	c.p.blockAt = make([]int32, len(c.s.Logic))
	c.values, c.before = make([]Slot, len(g.reads)), make([]Slot, len(g.reads))
	for node, stateful := range g.stateful {
		c.values[node], c.before[node] = None, None
		kind, i := g.nodes[node].Kind, g.nodes[node].Index
		switch {
		case stateful || late[node]:
			c.values[node] = c.keep(g.nodes[node], "value")
		case kind == setup.IsBlock && c.keepsValue(i):
			c.values[node] = c.keep(g.nodes[node], "truth")
		case kind == setup.IsBlock:
			c.values[node] = c.slot()
		default:
			continue
		}
		c.p.nodeValue[kind] = append(c.p.nodeValue[kind], c.values[node])
		if late[node] {
			start, kept := c.startOf(kind, i)
			if kind == setup.IsBlock && c.isEntry(i) && g.entries.ByPlace {
				start, kept = 0, false
			}
			o := opBefore
			if kept {
				o = opBeforeKept
			}
			c.before[node] = c.emit(inst{op: o, a: c.values[node], x: start})
		}
	}
}

// startOf is what a node that remembers held before the first frame; kept: what
// it was when the transmitter was turned off.
func (c *compiler) startOf(kind setup.ItemKind, i int) (start float64, kept bool) {
	switch kind {
	case setup.IsBlock:
		at, _ := c.s.Logic[i].StartsAs()
		return truth(at == "true"), at == "kept"
	case setup.IsStepper:
		return float64(stepStart(&c.s.Steppers[i])), false
	case setup.IsPattern:
		return c.s.Patterns[i].Rest, false
	}
	return 0, false
}

// isEntry tells whether block i is an entry of the transmitter.
func (c *compiler) isEntry(i int) bool {
	return slices.Contains(c.graph.entries.Blocks, i)
}

// fires is 1 where an edge of block i counts in the first frame.
func (c *compiler) fires(i int) float64 { return truth(c.isEntry(i) && c.graph.entries.Fires) }

// held gives the slot of a node that remembers as the current node reads it.
func (c *compiler) held(kind setup.ItemKind, i int) Slot {
	node := c.graph.at[kind.At(i)]
	if c.node >= 0 && c.graph.order.Late(c.node, node) {
		return c.before[node]
	}
	return c.values[node]
}

// slot makes a new slot.
func (c *compiler) slot() Slot {
	slot := Slot(len(c.p.initial))
	c.p.initial = append(c.p.initial, make([]float64, c.p.width)...)
	return slot
}

// keep gives the next slot that is carried from frame to frame: what of a part it is.
func (c *compiler) keep(part setup.Item, what string) Slot {
	slot := Slot(c.p.kept * c.p.width)
	if c.p.kept >= c.reserved {
		slot = c.slot() // the counting pass
	}
	c.p.keptKeys = append(c.p.keptKeys, keptKey{c.s.Key(part), what})
	c.p.kept++
	return slot
}

// keepAt is keep for a slot that starts at a value the first time ever.
func (c *compiler) keepAt(part setup.Item, what string, start float64) Slot {
	slot := c.keep(part, what)
	c.p.initial[slot] = start
	return slot
}

// constant gives the slot of a number that never changes.
func (c *compiler) constant(v float64) Slot {
	slot, ok := c.constants[v]
	if !ok {
		slot = c.slot()
		c.p.initial[slot] = v
		c.constants[v] = slot
	}
	return slot
}

func (c *compiler) add(in inst) { c.p.code = append(c.p.code, in) }

// emit adds an instruction with a new slot for its result.
func (c *compiler) emit(in inst) Slot {
	in.dst = c.slot()
	c.add(in)
	return in.dst
}

// once is emit for what depends on nothing but its operands, which have their
// value of the frame by now: the same again is read where it was computed.
func (c *compiler) once(in inst) Slot {
	slot, ok := c.computed[in]
	if !ok {
		slot = c.emit(in)
		c.computed[in] = slot
	}
	return slot
}

// list puts slots where an instruction can find them.
func (c *compiler) list(slots []Slot) (at, to int32) {
	at = int32(len(c.p.lists))
	c.p.lists = append(c.p.lists, slots...)
	return at, int32(len(c.p.lists))
}

// frames is the number of frames after which s seconds are over.
func (c *compiler) frames(s float64) float64 { return FramesIn(s, c.s.Transmitter.FrameS()) }

// FramesIn is the number of frames, of so many seconds, after which s seconds are over.
func FramesIn(s, frame float64) float64 {
	n := float64(int64(min(s/frame, 1e15)))
	for n > 0 && float64((n-1)*frame) >= s-timeSlack {
		n--
	}
	for float64(n*frame) < s-timeSlack && n < 1e15 {
		n++
	}
	return n
}

// timeSlack is how far a comparison of times may be off, in seconds.
const timeSlack = 1e-9
