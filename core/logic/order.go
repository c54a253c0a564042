// Package logic puts the parts of a setup that read each other into the order
// in which a frame computes them.
//
// A node reads this frame's value of what it refers to, whatever the order of
// the document. Feedback is legal through a node that remembers: where a
// reference lies inside a cycle and what it refers to is stateful, it reads
// that node's value of the frame before. A cycle that is left without those
// references cannot be computed. See docs/format.md, section 5.
package logic

// Graph is what refers to what. Nodes are numbered from 0.
type Graph struct {
	Reads    [][]int // of each node, the nodes that it refers to, in the order of the document
	Stateful []bool  // of each node, whether it remembers the frame before
}

// Order is how a frame computes a graph.
type Order struct {
	Sequence []int           // every node once, each after what it reads of this frame
	late     map[[2]int]bool // references that read the frame before
}

// Late tells whether node reads of the frame before what it refers to.
func (o *Order) Late(node, refersTo int) bool { return o.late[[2]int{node, refersTo}] }

// LateNodes tells, for each node, whether anything reads its frame before.
func (o *Order) LateNodes(n int) []bool {
	read := make([]bool, n)
	for edge := range o.late {
		read[edge[1]] = true
	}
	return read
}

// Sort orders a graph, in time linear in its references. Where it cannot, ring
// holds the nodes of a cycle, each referring to the next and the last to the
// first.
func Sort(g Graph) (order *Order, ring []int) {
	component := components(g.Reads)
	order = &Order{late: map[[2]int]bool{}}
	for node, reads := range g.Reads {
		for _, to := range reads {
			if component[node] == component[to] && g.Stateful[to] {
				order.late[[2]int{node, to}] = true
			}
		}
	}
	w := walker{reads: g.Reads, order: order, state: make([]uint8, len(g.Reads))}
	for node := range g.Reads {
		if ring := w.visit(node); ring != nil {
			return nil, ring
		}
	}
	return order, nil
}

// Arrange gives another order, in which some nodes run one after the other, as they are
// listed, whatever they read: a node reads of this frame what has run before it, and of the
// frame before what runs after it, or is itself. What is not listed runs just before the
// first node that needs it, else as in o; feedback among such nodes stays as it was.
func (o *Order) Arrange(g Graph, listed []int) *Order {
	out := &Order{late: map[[2]int]bool{}}
	isListed, done := make([]bool, len(g.Reads)), make([]bool, len(g.Reads))
	for _, node := range listed {
		isListed[node] = true
	}
	var run func(node int)
	run = func(node int) {
		if done[node] {
			return
		}
		done[node] = true
		for _, next := range g.Reads[node] {
			if !isListed[next] && !o.Late(node, next) {
				run(next)
			}
		}
		out.Sequence = append(out.Sequence, node)
	}
	for _, node := range listed {
		run(node)
	}
	for _, node := range o.Sequence {
		run(node)
	}
	place := make([]int, len(g.Reads))
	for i, node := range out.Sequence {
		place[node] = i
	}
	for node, reads := range g.Reads {
		for _, to := range reads {
			feedback := !isListed[to] && o.Late(node, to)
			if feedback || place[to] >= place[node] {
				out.late[[2]int{node, to}] = true
			}
		}
	}
	return out
}

// walker sorts by depth-first search: a node is done after all it reads.
type walker struct {
	reads [][]int
	order *Order
	state []uint8 // 0 new, 1 on the path, 2 done
	path  []int
}

// visit gives the ring that node closes, nil for none.
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
		if w.order.Late(node, next) {
			continue
		}
		if ring := w.visit(next); ring != nil {
			return ring
		}
	}
	w.path = w.path[:len(w.path)-1]
	w.state[node] = 2
	w.order.Sequence = append(w.order.Sequence, node)
	return nil
}

// components numbers the strongly connected components (Tarjan, SIAM J. Comput.
// 1 (1972) 146-160): two nodes have one number where each leads to the other. A
// node alone is in the component of itself, so that a self-reference counts.
func components(reads [][]int) []int {
	t := tarjan{reads: reads, index: make([]int, len(reads)), low: make([]int, len(reads)),
		component: make([]int, len(reads))}
	for node := range reads {
		if t.index[node] == 0 {
			t.visit(node)
		}
	}
	return t.component
}

type tarjan struct {
	reads                 [][]int
	index, low, component []int // index from 1, 0 is new; component from 1, 0 is on the stack or new
	stack                 []int
	count, found          int
}

func (t *tarjan) visit(node int) {
	t.count++
	t.index[node], t.low[node] = t.count, t.count
	t.stack = append(t.stack, node)
	for _, next := range t.reads[node] {
		switch {
		case t.index[next] == 0:
			t.visit(next)
			t.low[node] = min(t.low[node], t.low[next])
		case t.component[next] == 0:
			t.low[node] = min(t.low[node], t.index[next])
		}
	}
	if t.low[node] != t.index[node] {
		return
	}
	t.found++
	for {
		last := t.stack[len(t.stack)-1]
		t.stack = t.stack[:len(t.stack)-1]
		t.component[last] = t.found
		if last == node {
			return
		}
	}
}
