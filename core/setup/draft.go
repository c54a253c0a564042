package setup

import (
	"cmp"
	"fmt"
	"slices"
	"strings"
)

// Draft is a document that is changed step by step, and read anew after each step. The errors of its steps
// are Problems.
type Draft struct{ Doc *Document }

// Set sets what a JSON Pointer leads to, or adds it as a new field; what value may be, NodeOf says. The
// pointer has to lead to a part that is there.
func (d *Draft) Set(pointer string, value any) error {
	tree, err := d.Doc.Tree.Set(pointer, NodeOf(value))
	if err != nil {
		panic(err) // the caller has read the document
	}
	return d.take(tree)
}

// Add appends a part to a list of the document, which there may not be yet.
func (d *Draft) Add(list string, part *Node) error {
	if d.Doc.Tree.Get(list) == nil {
		return d.Set("/"+list, []any{part})
	}
	return d.Set("/"+list+"/-", part)
}

// Change changes the group that a pointer leads to.
func (d *Draft) Change(pointer string, change func(group *Node)) error {
	tree, err := d.Doc.Tree.With(append(PointerParts(pointer), ""), func(group *Node, _ string) error {
		change(group)
		return nil
	})
	if err != nil {
		panic(err) // the caller has read the document
	}
	return d.take(tree)
}

// Remove takes parts out, and with the last one its list.
func (d *Draft) Remove(parts ...Item) error {
	parts = slices.Clone(parts)
	// the last of a list first, so that the others keep their places
	slices.SortFunc(parts, func(a, b Item) int {
		return cmp.Or(cmp.Compare(a.Kind, b.Kind), cmp.Compare(b.Index, a.Index))
	})
	tree := d.Doc.Tree
	for _, part := range parts {
		var err error
		steps := append(strings.Split(ListOf(part.Kind), "."), fmt.Sprint(part.Index))
		tree, err = tree.With(steps, func(list *Node, last string) error { return list.Remove(last) })
		if err == nil && len(steps) == 2 && len(tree.Get(steps[0]).Items) == 0 {
			tree, err = tree.With(steps[:1], func(root *Node, last string) error { return root.Remove(last) })
		}
		if err != nil {
			panic(err) // the caller has read the document
		}
	}
	return d.take(tree)
}

func (d *Draft) take(tree *Node) error {
	doc, err := FromTree(tree)
	if err == nil {
		d.Doc = doc
	}
	return err
}
