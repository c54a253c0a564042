package setup

import (
	"slices"
	"strings"
)

// Copied copies a tree deeply.
func (n *Node) Copied() *Node {
	c := *n
	c.Keys, c.Items = slices.Clone(n.Keys), slices.Clone(n.Items)
	for i, item := range n.Items {
		c.Items[i] = item.Copied()
	}
	return &c
}

// Renamed gives the tree of the document in which parts have other ids, by the ids that they have, in every
// place that names them.
func (d *Document) Renamed(to map[ID]ID) *Node {
	tree := d.Tree.Copied()
	for i := range d.Setup.graph.References {
		r := &d.Setup.graph.References[i]
		if id, ok := to[r.ID]; ok && r.ID != "" {
			tree.At(PointerParts(r.Pointer)...).Text = r.Renamed(id)
		}
	}
	for from, id := range to {
		part := d.Setup.Item(from)
		list := tree.At(strings.Split(listings[part.Kind].path, ".")...)
		list.Items[part.Index].Get("id").Text = string(id)
	}
	return tree
}

// Beside gives a setup in which what the transmitter of another document computes stands beside its own, all
// under other ids, by those that they have. What gets the id of a part of s is that part: what refers to it
// does so, and what it was is left out, with the mixes of an output. Both have the same controls. The start
// check, the link and all behind it are those of s. There may be two outputs on a channel.
func (s *Setup) Beside(other *Document, to map[ID]ID) *Setup {
	var their Setup
	(&decoder{}).into(other.Renamed(to), &their, "")
	one := *s
	one.Demands = besides(s, s.Demands, their.Demands, func(d *Demand) ID { return d.ID })
	one.Logic = besides(s, s.Logic, their.Logic, func(b *Block) ID { return b.ID })
	one.Steppers = besides(s, s.Steppers, their.Steppers, func(st *Stepper) ID { return st.ID })
	one.Sequences = besides(s, s.Sequences, their.Sequences, func(sq *Sequence) ID { return sq.ID })
	one.Patterns = besides(s, s.Patterns, their.Patterns, func(p *Pattern) ID { return p.ID })
	one.Outputs = besides(s, s.Outputs, their.Outputs, func(o *Output) ID { return o.ID })
	one.Mixes = besides(s, s.Mixes, their.Mixes, func(m *Mix) ID { return m.To })
	one.Shares = besides(s, s.Shares, their.Shares, func(sh *Share) ID { return sh.Outputs[0] })
	for i := range one.Mixes[len(s.Mixes):] {
		one.Mixes[len(s.Mixes)+i].ID = nil
	}
	for i := range one.Shares[len(s.Shares):] {
		one.Shares[len(s.Shares)+i].ID = nil
	}
	one.Relink()
	return &one
}

// besides gives a list with those of another that belong to no part of s.
func besides[T any](s *Setup, own, theirs []T, of func(*T) ID) []T {
	list := slices.Clone(own)
	for i := range theirs {
		if s.Item(of(&theirs[i])).Kind == 0 {
			list = append(list, theirs[i])
		}
	}
	return list
}

// Bare gives what is written of the parts of the document, every default filled in, without what anything is
// called: parts that are written the same, but for their names and those of what they refer to, are equal.
// It is no document: all ids are one.
func (d *Document) Bare() *Setup {
	to := map[ID]ID{}
	for _, part := range d.Setup.names {
		to[d.Setup.Key(part).ID] = "x"
	}
	var bare Setup
	(&decoder{}).into(d.Renamed(to).unlabelled(), &bare, "")
	return &bare
}

// unlabelled takes every label out of a tree. It changes n.
func (n *Node) unlabelled() *Node {
	if n.Get("label") != nil {
		_ = n.Remove("label")
	}
	for _, item := range n.Items {
		item.unlabelled()
	}
	return n
}
