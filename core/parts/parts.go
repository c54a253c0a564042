// Package parts changes which parts a document has: it adds one, takes one out
// with what cannot be without it, gives it another id or place, and exchanges
// channels. Each act gives the whole document as it is to be; that it still has
// a meaning is checked where it is read.
//
// A part is named by its list and its id: logic/horn, controls/turn.
package parts

import (
	"fmt"
	"slices"
	"strconv"
	"strings"

	"axtren/core/setup"
	"axtren/core/words"
)

// base gives the JSON Pointer of a list.
func base(list string) string {
	if list == "controls" {
		return "/transmitter/controls"
	}
	return "/" + list
}

// Find gives the JSON Pointer and the node of a part.
func Find(tree *setup.Node, part string) (pointer string, n *setup.Node, err error) {
	list, id, _ := strings.Cut(part, "/")
	if !words.IsPart(list) {
		return "", nil, problem(part, "is no kind of part", "name a part such as outputs/port_track")
	}
	if all := tree.At(setup.PointerParts(base(list))...); all != nil {
		for i, n := range all.Items {
			if own := n.Get("id"); own != nil && own.Text == id {
				return fmt.Sprintf("%s/%d", base(list), i), n, nil
			}
		}
	}
	return "", nil, problem(part, "there is no such part", "it may have been removed meanwhile; look again")
}

func problem(path, message, remedy string) error {
	return setup.Problems{{Path: path, Message: message, Remedy: remedy}}
}

// Name says what a part is, in words: rule Horn; as it is written where there is none.
func Name(s *setup.Setup, part string) string {
	if item := s.Item(setup.ID(part[strings.LastIndexByte(part, '/')+1:])); item.Kind != 0 {
		return words.Part(s, item)
	}
	return part
}

// put sets a key of a map in place.
func put(n *setup.Node, key string, value *setup.Node) {
	if i := slices.Index(n.Keys, key); i >= 0 {
		n.Items[i] = value
		return
	}
	n.Keys, n.Items = append(n.Keys, key), append(n.Items, value)
}

// groupIn gives a group of a document, which is made where there is none.
func groupIn(tree *setup.Node, key string) *setup.Node {
	if tree.Get(key) == nil {
		put(tree, key, &setup.Node{Kind: setup.Map})
	}
	return tree.Get(key)
}

// Rename gives a part another id, in every place that names it.
func Rename(doc *setup.Document, part, to string) (*setup.Node, error) {
	_, n, err := Find(doc.Tree, part)
	if err != nil {
		return nil, err
	}
	return doc.Renamed(map[setup.ID]setup.ID{setup.ID(n.Get("id").Text): setup.ID(to)}), nil
}

// Move puts a part by places further down its list, up where by is negative; it
// stops at the ends.
func Move(doc *setup.Document, part string, by int) (*setup.Node, error) {
	pointer, _, err := Find(doc.Tree, part)
	if err != nil {
		return nil, err
	}
	steps := setup.PointerParts(pointer)
	from, _ := strconv.Atoi(steps[len(steps)-1])
	tree := doc.Tree.Copied()
	list := tree.At(steps[:len(steps)-1]...)
	to := min(max(from+by, 0), len(list.Items)-1)
	n := list.Items[from]
	list.Items = slices.Insert(slices.Delete(list.Items, from, from+1), to, n)
	return tree, nil
}

// Exchange lets two lines change their channels.
func Exchange(doc *setup.Document, a, b string) (*setup.Node, error) {
	tree := doc.Tree.Copied()
	_, one, err := Find(tree, a)
	if err != nil {
		return nil, err
	}
	_, other, err := Find(tree, b)
	if err != nil {
		return nil, err
	}
	x, y := one.Get("channel"), other.Get("channel")
	if x == nil || y == nil {
		return nil, problem(a, "has no channel to exchange", "name two functions, such as outputs/port_track")
	}
	put(one, "channel", y)
	put(other, "channel", x)
	return tree, nil
}
