package signal

import (
	"strings"

	"axtren/core/logic"
	"axtren/core/setup"
)

// graph is what a frame computes, and what of it reads what. A node is a demand, a block,
// a stepper, a sequence, a pattern, or a group of outputs, which its mixes belong to. The
// nodes of each kind follow each other.
type graph struct {
	s        *setup.Setup
	groups   []group
	nodes    []setup.Item       // a group is its share, or its only output
	at       map[setup.Item]int // the node of each part; of an output that of its group
	reads    [][]int
	stateful []bool
	order    *logic.Order
	entries  Entries // blocks that are entries of the transmitter
}

// group is the outputs that are asked for together: those of a share, or one.
type group struct {
	share   int // index in Setup.Shares, -1 for none
	outputs []int
}

func newGraph(s *setup.Setup) *graph {
	g := &graph{s: s, at: map[setup.Item]int{}}
	g.add(setup.IsDemand, len(s.Demands))
	g.addGroups()
	g.add(setup.IsBlock, len(s.Logic))
	g.add(setup.IsStepper, len(s.Steppers))
	g.add(setup.IsSequence, len(s.Sequences))
	g.add(setup.IsPattern, len(s.Patterns))
	g.reads, g.stateful = make([][]int, len(g.nodes)), make([]bool, len(g.nodes))
	for node, part := range g.nodes {
		switch part.Kind {
		case setup.IsBlock:
			g.stateful[node] = s.Logic[part.Index].Remembers()
		case setup.IsStepper, setup.IsSequence, setup.IsPattern:
			g.stateful[node] = true
		}
		if part.Kind != setup.IsOutput && part.Kind != setup.IsShare {
			g.reference(node, part)
		}
	}
	for i, m := range s.Mixes {
		g.reference(g.at[s.Item(m.To)], setup.IsMix.At(i))
	}
	return g
}

func (g *graph) add(kind setup.ItemKind, n int) {
	for i := range n {
		part := setup.Item{Kind: kind, Index: i}
		g.at[part] = len(g.nodes)
		g.nodes = append(g.nodes, part)
	}
}

// addGroups adds the shares, and each output that is in none.
func (g *graph) addGroups() {
	add := func(part setup.Item, one group) {
		for _, out := range one.outputs {
			g.at[setup.IsOutput.At(out)] = len(g.nodes)
		}
		g.nodes, g.groups = append(g.nodes, part), append(g.groups, one)
	}
	for i, sh := range g.s.Shares {
		one := group{share: i}
		for _, id := range sh.Outputs {
			one.outputs = append(one.outputs, g.s.Item(id).Index)
		}
		add(setup.IsShare.At(i), one)
	}
	for i := range g.s.Outputs {
		if part := (setup.IsOutput.At(i)); g.s.ShareOf(i) < 0 {
			add(part, group{share: -1, outputs: []int{i}})
		}
	}
}

// reference notes for a node what a part reads; a control is there before everything.
func (g *graph) reference(node int, part setup.Item) {
	for r := range g.s.Graph().From(part) {
		if to, ok := g.at[r.To]; ok && r.Role != setup.Adds {
			g.reads[node] = append(g.reads[node], to)
		}
	}
}

// group gives the outputs of a node that is a group.
func (g *graph) group(node int) group { return g.groups[node-len(g.s.Demands)] }

// name says a node as a person calls it.
func (g *graph) name(node int) string {
	switch part := g.nodes[node]; part.Kind {
	case setup.IsDemand:
		return "demand " + string(g.s.Demands[part.Index].ID)
	case setup.IsBlock:
		return "block " + string(g.s.Logic[part.Index].ID)
	case setup.IsStepper:
		return "stepper " + string(g.s.Steppers[part.Index].ID)
	case setup.IsSequence:
		return "sequence " + string(g.s.Sequences[part.Index].ID)
	case setup.IsPattern:
		return "pattern " + string(g.s.Patterns[part.Index].ID)
	default:
		var ids []string
		for _, out := range g.group(node).outputs {
			ids = append(ids, string(g.s.Outputs[out].ID)+".asked")
		}
		return strings.Join(ids, " and ")
	}
}

// BlockSlot gives the slot of a block, 0 or 1.
func (p *Program) BlockSlot(i int) Slot { return p.nodeValue[setup.IsBlock][i] }

// StepperSlot gives the slot of a stepper's step, from 0.
func (p *Program) StepperSlot(i int) Slot { return p.nodeValue[setup.IsStepper][i] }

// SequenceSlot gives the slot of where a sequence stands, seconds.
func (p *Program) SequenceSlot(i int) Slot { return p.nodeValue[setup.IsSequence][i] }

// PatternSlot gives the slot of a pattern's value, percent.
func (p *Program) PatternSlot(i int) Slot { return p.nodeValue[setup.IsPattern][i] }

// Late tells whether a demand, block, stepper, sequence, pattern or output reads another one as it was in the
// frame before. What a mix reads its output does.
func (p *Program) Late(part, reads setup.Item) bool {
	return p.graph.order.Late(p.graph.at[part], p.graph.at[reads])
}
