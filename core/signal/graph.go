package signal

import (
	"strings"

	"axtren/core/logic"
	"axtren/core/setup"
)

// nodeKind is a kind of node in the order of a frame.
type nodeKind int

const (
	nodeDemand nodeKind = iota
	nodeGroup
	nodeBlock
	nodeStepper
	nodeSequence
	nodePattern
	nodeKinds
)

// graph is what of a setup reads what. The nodes of each kind follow each
// other; a condition of a mix is part of the group that the mix belongs to.
type graph struct {
	s        *setup.Setup
	groups   []group
	of       []int // of each output, its group
	first    [nodeKinds + 1]int
	reads    [][]int
	stateful []bool
	order    *logic.Order
}

// group is the outputs that are asked for together: those of a share, or one.
type group struct {
	share   int // index in Setup.Shares, -1 for none
	outputs []int
}

func newGraph(s *setup.Setup) *graph {
	g := &graph{s: s}
	g.findGroups()
	for kind, n := range []int{len(s.Demands), len(g.groups), len(s.Logic), len(s.Steppers), len(s.Sequences), len(s.Patterns)} {
		g.first[kind+1] = g.first[kind] + n
	}
	g.reads = make([][]int, g.first[nodeKinds])
	g.stateful = make([]bool, g.first[nodeKinds])
	for i, d := range s.Demands {
		g.reference(g.first[nodeDemand]+i, []setup.Value{d.From}, nil)
		for _, r := range d.Rates {
			g.reference(g.first[nodeDemand]+i, nil, []setup.Truth{r.When})
		}
	}
	for _, m := range s.Mixes {
		g.reference(g.first[nodeGroup]+g.of[s.Item(m.To).Index], []setup.Value{m.From}, some(m.When))
	}
	for i, b := range s.Logic {
		values, truths := b.Reads()
		g.reference(g.first[nodeBlock]+i, values, truths)
		g.stateful[g.first[nodeBlock]+i] = b.Remembers()
	}
	for i, st := range s.Steppers {
		node := g.first[nodeStepper] + i
		g.reference(node, nil, append(append(some(st.Up), some(st.Down)...), some(st.Home)...))
		g.stateful[node] = true
	}
	for i, sq := range s.Sequences {
		g.reference(g.first[nodeSequence]+i, nil, []setup.Truth{sq.Go})
		g.stateful[g.first[nodeSequence]+i] = true
	}
	for i, p := range s.Patterns {
		g.reference(g.first[nodePattern]+i, nil, []setup.Truth{p.When})
		g.stateful[g.first[nodePattern]+i] = true
	}
	return g
}

func some(t *setup.Truth) []setup.Truth {
	if t == nil {
		return nil
	}
	return []setup.Truth{*t}
}

// findGroups gives the groups in document order, and of each output its group.
func (g *graph) findGroups() {
	g.of = make([]int, len(g.s.Outputs))
	for i := range g.of {
		g.of[i] = -1
	}
	for i, sh := range g.s.Shares {
		one := group{share: i}
		for _, id := range sh.Outputs {
			out := g.s.Item(id).Index
			one.outputs = append(one.outputs, out)
			g.of[out] = len(g.groups)
		}
		g.groups = append(g.groups, one)
	}
	for i := range g.of {
		if g.of[i] < 0 {
			g.of[i] = len(g.groups)
			g.groups = append(g.groups, group{share: -1, outputs: []int{i}})
		}
	}
}

func (g *graph) reference(node int, values []setup.Value, truths []setup.Truth) {
	for _, v := range values {
		src, err := g.s.Source(v)
		kinds := map[setup.SourceKind]nodeKind{setup.SourceDemand: nodeDemand, setup.SourceBlock: nodeBlock, setup.SourceStepper: nodeStepper,
			setup.SourceTrack: nodeSequence, setup.SourcePattern: nodePattern}
		switch kind, ok := kinds[src.Kind]; {
		case err != nil:
		case ok:
			g.reads[node] = append(g.reads[node], g.first[kind]+src.Index)
		case src.Kind == setup.SourceAsked:
			g.reads[node] = append(g.reads[node], g.first[nodeGroup]+g.of[src.Index])
		}
	}
	for _, t := range truths {
		f, err := g.s.Fact(t)
		kinds := map[setup.FactKind]nodeKind{setup.FactBlock: nodeBlock, setup.FactStep: nodeStepper, setup.FactSequence: nodeSequence}
		if kind, ok := kinds[f.Kind]; ok && err == nil {
			g.reads[node] = append(g.reads[node], g.first[kind]+f.Index)
		}
	}
}

// at gives the kind and the index of a node.
func (g *graph) at(node int) (nodeKind, int) {
	for kind := nodeKinds - 1; kind > 0; kind-- {
		if node >= g.first[kind] {
			return kind, node - g.first[kind]
		}
	}
	return nodeDemand, node
}

// name says a node as a person calls it.
func (g *graph) name(node int) string {
	switch kind, i := g.at(node); kind {
	case nodeDemand:
		return "demand " + string(g.s.Demands[i].ID)
	case nodeBlock:
		return "block " + string(g.s.Logic[i].ID)
	case nodeStepper:
		return "stepper " + string(g.s.Steppers[i].ID)
	case nodeSequence:
		return "sequence " + string(g.s.Sequences[i].ID)
	case nodePattern:
		return "pattern " + string(g.s.Patterns[i].ID)
	default:
		var ids []string
		for _, out := range g.groups[i].outputs {
			ids = append(ids, string(g.s.Outputs[out].ID)+".asked")
		}
		return strings.Join(ids, " and ")
	}
}

// BlockSlot gives the slot of a block, 0 or 1.
func (p *Program) BlockSlot(i int) Slot { return p.nodeValue[nodeBlock][i] }

// StepperSlot gives the slot of a stepper's step, from 0.
func (p *Program) StepperSlot(i int) Slot { return p.nodeValue[nodeStepper][i] }

// SequenceSlot gives the slot of where a sequence stands, seconds.
func (p *Program) SequenceSlot(i int) Slot { return p.nodeValue[nodeSequence][i] }

// PatternSlot gives the slot of a pattern's value, percent.
func (p *Program) PatternSlot(i int) Slot { return p.nodeValue[nodePattern][i] }
