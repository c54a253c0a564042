package signal

import (
	"fmt"
	"strings"

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
	p         *Program
	s         *setup.Setup
	numbers   []Slot // of each control as a number, None until asked for
	positions map[[2]int]Slot
	constants map[float64]Slot
	arrivals  map[int]Slot
}

// group is a node of the order: outputs that are asked for together.
type group struct {
	share   int // index in Setup.Shares, -1 for none
	outputs []int
}

// Compile turns a checked setup into a program. The error is a *RingError.
// What is not played yet is left out and listed by Unplayed.
func Compile(s *setup.Setup) (*Program, error) {
	p := &Program{setup: s, pulse: newScale(s.Transmitter.Pulse)}
	c := &compiler{p: p, s: s, positions: map[[2]int]Slot{}, constants: map[float64]Slot{}, arrivals: map[int]Slot{}}
	groups, of := c.groups()
	sequence, err := c.order(groups, of)
	if err != nil {
		return nil, err
	}
	c.layOut()
	c.notPlayed()
	for _, node := range sequence {
		if node < len(s.Demands) {
			c.demand(node)
		} else {
			c.group(groups[node-len(s.Demands)])
		}
	}
	c.pins()
	for i, slot := range c.numbers {
		if slot == None {
			slot = p.controls[i]
		}
		p.numbers = append(p.numbers, slot)
	}
	return p, nil
}

// layOut gives the fixed slots: first frame, what is carried, controls.
func (c *compiler) layOut() {
	c.keep("first frame")
	for i := range c.s.Mixes {
		if m := &c.s.Mixes[i]; m.FadeS > 0 && m.When != nil {
			c.slot() // the kept slots come first, so they are counted before any other
		}
	}
	for i := range c.s.Outputs {
		if o := &c.s.Outputs[i]; o.Slew.Up > 0 || o.Slew.Down > 0 {
			c.slot()
		}
	}
	for range c.s.Link.HalfRate {
		c.slot()
	}
	c.p.hands = Slot(len(c.p.initial))
	for range c.s.Transmitter.Controls {
		c.p.controls = append(c.p.controls, c.slot())
		c.numbers = append(c.numbers, None)
	}
	for range c.s.Outputs {
		c.p.Routes = append(c.p.Routes, Route{Asked: c.slot(), Share: -1})
	}
	for range c.s.Demands {
		c.p.Demands = append(c.p.Demands, Shaping{Out: None})
	}
}

// slot makes a new slot.
func (c *compiler) slot() Slot {
	c.p.initial = append(c.p.initial, 0)
	return Slot(len(c.p.initial) - 1)
}

// keep gives the next slot that is carried from frame to frame.
func (c *compiler) keep(key string) Slot {
	if c.p.kept == len(c.p.initial) {
		c.slot()
	}
	c.p.keptKeys = append(c.p.keptKeys, key)
	c.p.kept++
	return Slot(c.p.kept - 1)
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

func (c *compiler) leaveOut(path, what, why string) {
	c.p.unplayed = append(c.p.unplayed, Unplayed{path, what, why})
}

// notPlayed lists the parts of the document that this engine keeps only.
func (c *compiler) notPlayed() {
	s := c.s
	for i, b := range s.Logic {
		c.leaveOut(fmt.Sprintf("logic[%d]", i), "logic block "+string(b.ID), "")
	}
	for i, x := range s.Steppers {
		c.leaveOut(fmt.Sprintf("steppers[%d]", i), "stepper "+string(x.ID), "")
	}
	for i, x := range s.Sequences {
		c.leaveOut(fmt.Sprintf("sequences[%d]", i), "sequence "+string(x.ID), "")
	}
	for i, x := range s.Patterns {
		c.leaveOut(fmt.Sprintf("patterns[%d]", i), "pattern "+string(x.ID), "")
	}
	for i, x := range s.Outputs {
		if x.Loss != nil {
			c.leaveOut(fmt.Sprintf("outputs[%d].loss", i), "loss position of "+string(x.ID), "")
		}
	}
	for i, x := range s.Devices {
		c.leaveOut(fmt.Sprintf("devices[%d]", i), "device "+string(x.ID), "")
	}
	for i, x := range s.Announcements {
		c.leaveOut(fmt.Sprintf("announcements[%d]", i), "announcement "+string(x.ID), "")
	}
	for i, x := range s.Claims {
		c.leaveOut(fmt.Sprintf("claims[%d]", i), "claim "+string(x.ID), "")
	}
	for i, x := range s.StartCheck {
		c.leaveOut(fmt.Sprintf("start_check[%d]", i), "start check of "+string(x.Control), "")
	}
}

// groups gives the groups in document order, and of each output its group.
func (c *compiler) groups() (groups []group, of []int) {
	of = make([]int, len(c.s.Outputs))
	for i := range of {
		of[i] = -1
	}
	for i, sh := range c.s.Shares {
		g := group{share: i}
		for _, id := range sh.Outputs {
			out := c.s.Item(id).Index
			g.outputs = append(g.outputs, out)
			of[out] = len(groups)
		}
		groups = append(groups, g)
	}
	for i := range of {
		if of[i] < 0 {
			of[i] = len(groups)
			groups = append(groups, group{share: -1, outputs: []int{i}})
		}
	}
	return groups, of
}

// order puts demands (first) and groups (after them) so that each comes after
// what it reads.
func (c *compiler) order(groups []group, of []int) ([]int, error) {
	nd := len(c.s.Demands)
	reads := make([][]int, nd+len(groups))
	read := func(node int, v setup.Value) {
		switch src, err := c.s.Source(v); {
		case err != nil:
		case src.Kind == setup.SourceDemand:
			reads[node] = append(reads[node], src.Index)
		case src.Kind == setup.SourceAsked:
			reads[node] = append(reads[node], nd+of[src.Index])
		}
	}
	for i, d := range c.s.Demands {
		read(i, d.From)
	}
	for _, m := range c.s.Mixes {
		read(nd+of[c.s.Item(m.To).Index], m.From)
	}
	w := walker{reads: reads, state: make([]uint8, len(reads))}
	for node := range reads {
		if ring := w.visit(node); ring != nil {
			e := &RingError{}
			for _, member := range ring {
				e.Members = append(e.Members, c.nodeName(member, groups))
			}
			return nil, e
		}
	}
	return w.done, nil
}

func (c *compiler) nodeName(node int, groups []group) string {
	if node < len(c.s.Demands) {
		return "demand " + string(c.s.Demands[node].ID)
	}
	var ids []string
	for _, i := range groups[node-len(c.s.Demands)].outputs {
		ids = append(ids, string(c.s.Outputs[i].ID)+".asked")
	}
	return strings.Join(ids, " and ")
}

// walker sorts by depth-first search: a node is done after all it reads.
type walker struct {
	reads [][]int
	state []uint8 // 0 new, 1 on the path, 2 done
	path  []int
	done  []int
}

// visit gives the ring that node closes, nil for none. O(nodes + references).
func (w *walker) visit(node int) (ring []int) {
	switch w.state[node] {
	case 1:
		for i, member := range w.path {
			if member == node {
				return append([]int(nil), w.path[i:]...)
			}
		}
	case 2:
		return nil
	}
	w.state[node] = 1
	w.path = append(w.path, node)
	for _, next := range w.reads[node] {
		if ring := w.visit(next); ring != nil {
			return ring
		}
	}
	w.path = w.path[:len(w.path)-1]
	w.state[node] = 2
	w.done = append(w.done, node)
	return nil
}
