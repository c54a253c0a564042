package translate

import (
	"fmt"
	"slices"

	"axtren/core/setup"
	"axtren/core/signal"
)

// listed is a list of entries in the order of their numbers, with what stands for each block.
type listed struct {
	nodes []node      // inputs refer to places of this list
	of    map[int]int // of each block, its place
}

// list puts what stands for some blocks, each an entry, in an order.
func (n *net) list(of map[int]input) listed {
	l := listed{of: map[int]int{}}
	stands := map[int]int{}
	for _, block := range sorted(of) {
		stands[block] = of[block].node
	}
	used := n.used(stands)
	if n.set.ByPlace {
		used = n.arranged(used)
	}
	place := map[int]int{}
	for i, at := range used {
		place[at] = i
	}
	for _, at := range used {
		one := n.nodes[at]
		one.in = slices.Clone(one.in)
		for k := range one.in {
			if one.in[k].ref == "" {
				one.in[k].node = place[one.in[k].node]
			}
		}
		l.nodes = append(l.nodes, one)
	}
	for block, at := range stands {
		l.of[block] = place[at]
	}
	return l
}

func sorted[T any](of map[int]T) []int {
	var list []int
	for at := range of {
		list = append(list, at)
	}
	slices.Sort(list)
	return list
}

// used lists the nodes that some are made of, those that are read before those that read them where that can
// be.
func (n *net) used(stands map[int]int) []int {
	var list []int
	seen := map[int]bool{}
	var visit func(at int)
	visit = func(at int) {
		if seen[at] {
			return
		}
		seen[at] = true
		for _, in := range n.nodes[at].in {
			if in.ref == "" {
				visit(in.node)
			}
		}
		list = append(list, at)
	}
	for _, block := range sorted(stands) {
		visit(stands[block])
	}
	return list
}

// arranged orders nodes for a set that runs them by their numbers: what is read of this frame comes before
// who reads it, what is read of the frame before does not. Where that cannot be, a copy is read.
func (n *net) arranged(used []int) []int {
	for {
		order, ring := n.sorted(used)
		if ring == nil {
			return order
		}
		broken := false
		for _, at := range ring {
			for k, in := range n.nodes[at].in {
				if broken || in.ref != "" || !in.late || !slices.Contains(ring, in.node) || in.node == at {
					continue
				}
				copied := n.copied(input{node: in.node})
				copied.not, copied.late = in.not, true
				n.nodes[at].in[k] = copied
				if !slices.Contains(used, copied.node) {
					used = append(used, copied.node)
				}
				broken = true
			}
		}
		if !broken {
			return used
		}
	}
}

// sorted sorts nodes by what has to come before what; ring holds those that are left where they wait for each
// other.
func (n *net) sorted(used []int) (order, ring []int) {
	before := map[int][]int{} // of each node, those that have to come before it
	for _, at := range used {
		for _, in := range n.nodes[at].in {
			switch {
			case in.ref != "" || in.node == at:
			case in.late:
				before[in.node] = append(before[in.node], at)
			default:
				before[at] = append(before[at], in.node)
			}
		}
	}
	done := map[int]bool{}
	for len(order) < len(used) {
		next := slices.IndexFunc(used, func(at int) bool {
			return !done[at] && !slices.ContainsFunc(before[at], func(b int) bool { return !done[b] })
		})
		if next < 0 {
			for _, at := range used {
				if !done[at] {
					ring = append(ring, at)
				}
			}
			return order, ring
		}
		done[used[next]] = true
		order = append(order, used[next])
	}
	return order, nil
}

// text writes an input as it is keyed in.
func (in input) text() string {
	of := in.ref
	if of == "" {
		of = fmt.Sprint(in.node + 1)
	}
	if in.not {
		return "not " + of
	}
	return of
}

// entries writes nodes as they are keyed in.
func (l *listed) entries() []Entry {
	list := []Entry{}
	for i, one := range l.nodes {
		e := Entry{N: i + 1, Block: one.kind}
		var in []string
		for _, of := range one.in {
			in = append(in, of.text())
		}
		switch one.kind {
		case "sr", "rs":
			e.Set, e.Reset = in[0], in[1]
		case "toggle":
			if e.In = in[:1]; len(in) > 1 {
				e.Reset = in[1]
			}
		case "above", "below":
			e.Of, e.Level = one.of, &one.level
		case "ton", "tof", "tp":
			e.In, e.ForS = in, &one.forS
		default:
			e.In = in
		}
		list = append(list, e)
	}
	return list
}

// blocks gives a setup in which the entries stand beside the rules as blocks of their own, and their ids.
func (l *listed) blocks(s *setup.Setup, set *Set) (*setup.Setup, []setup.ID) {
	one := *s
	one.Logic = slices.Clone(s.Logic)
	var ids []setup.ID
	var taken []string
	for range l.nodes {
		id := s.FreeID("entry", taken...)
		taken, ids = append(taken, id), append(ids, setup.ID(id))
	}
	truth := func(in input) setup.Truth {
		of := in.ref
		if of == "" {
			of = string(ids[in.node])
		}
		if in.not {
			of = "not " + of
		}
		return setup.Truth(of)
	}
	start := setup.StateAt("false")
	if set.Remembers {
		start = "kept"
	}
	for i, node := range l.nodes {
		head := setup.BlockHead{ID: ids[i], Block: node.kind}
		var spec any
		var own *setup.BlockHead
		switch node.kind {
		case "and", "or", "xor":
			gate := &setup.Gate{BlockHead: head}
			for _, in := range node.in {
				gate.In = append(gate.In, truth(in))
			}
			spec, own = gate, &gate.BlockHead
		case "above", "below":
			level := &setup.Level{BlockHead: head, Of: setup.Value{Ref: node.of}, Level: node.level}
			spec, own = level, &level.BlockHead
		case "sr", "rs":
			head.Block = "rs"
			if set.SetWins {
				head.Block = "sr"
			}
			latch := &setup.Latch{BlockHead: head, Set: truth(node.in[0]), Reset: truth(node.in[1]), Start: start}
			spec, own = latch, &latch.BlockHead
		case "toggle":
			toggle := &setup.Toggle{BlockHead: head, In: truth(node.in[0]), Start: start}
			if len(node.in) > 1 {
				reset := truth(node.in[1])
				toggle.Reset = &reset
			}
			spec, own = toggle, &toggle.BlockHead
		case "r_trig", "f_trig":
			edge := &setup.Edge{BlockHead: head, In: truth(node.in[0])}
			spec, own = edge, &edge.BlockHead
		default:
			timer := &setup.Timer{BlockHead: head, In: truth(node.in[0]), ForS: node.forS}
			spec, own = timer, &timer.BlockHead
		}
		one.Logic = append(one.Logic, setup.Block{BlockHead: own, Spec: spec})
	}
	one.Relink()
	return &one, ids
}

// compile gives how a setup with entries beside its rules is compiled: the entries as the set runs them.
func (s *Set) compile(ids []setup.ID) func(*setup.Setup) (*signal.Program, error) {
	return func(with *setup.Setup) (*signal.Program, error) {
		as := signal.Entries{ByPlace: s.ByPlace, OnEdge: s.OnEdge, Fires: s.Fires}
		for _, id := range ids {
			if item := with.Item(id); item.Kind == setup.IsBlock {
				as.Blocks = append(as.Blocks, item.Index)
			}
		}
		return signal.CompileEntries(with, as)
	}
}
