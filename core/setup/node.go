package setup

import (
	"errors"
	"fmt"
	"math"
	"slices"
	"strconv"
)

// Kind is what a Node holds.
type Kind uint8

// The kinds of the JSON data model, which YAML shares with it here.
const (
	Null Kind = iota
	Bool
	Number
	Text
	List
	Map
)

var kindWords = [...]string{"nothing", "true or false", "a number", "text", "a list", "a group of fields"}

// String names the kind as a message does.
func (k Kind) String() string { return kindWords[k] }

// Node is one value of a document as it was written.
// The zero Node is null.
type Node struct {
	Kind  Kind
	Text  string   // Text: the text; Number: a JSON number; Bool: true or false
	Keys  []string // Map: the keys in order, no two alike
	Items []*Node  // List: the items; Map: the value of each key
	Line  int      // where it stands in the text, from 1; 0 if made by hand
}

// Limits of a document that are looked at before its meaning is.
const (
	MaxBytes = 1 << 20 // size of a document in bytes
	MaxDepth = 32      // levels of nesting; the deepest legal document has 9
)

// Get gives the value of a key, nil where there is none or n is no Map.
func (n *Node) Get(key string) *Node {
	if n == nil || n.Kind != Map {
		return nil
	}
	for i, k := range n.Keys {
		if k == key {
			return n.Items[i]
		}
	}
	return nil
}

// At follows the unescaped steps of a JSON Pointer; nil where it leads nowhere.
func (n *Node) At(parts ...string) *Node {
	for _, part := range parts {
		if n == nil {
			return nil
		}
		i := n.index(part)
		if i < 0 {
			return nil
		}
		n = n.Items[i]
	}
	return n
}

// With gives a copy of the value in which what the steps of a JSON Pointer lead to is
// what change makes of its parent; all that the steps do not pass through is shared.
// change is given a copy of the parent, and the last step. It is nil where the steps
// lead nowhere. Cost: the length of the groups that are passed through.
func (n *Node) With(parts []string, change func(parent *Node, last string) error) (*Node, error) {
	if len(parts) == 0 {
		return nil, errors.New("there is no place in the empty pointer")
	}
	if n == nil || n.Kind < List {
		return nil, errors.New("there is no such place")
	}
	c := &Node{Kind: n.Kind, Text: n.Text, Keys: n.Keys, Items: n.Items, Line: n.Line}
	if len(parts) == 1 {
		c.Keys, c.Items = slices.Clone(n.Keys), slices.Clone(n.Items)
		return c, change(c, parts[0])
	}
	i := n.index(parts[0])
	if i < 0 {
		return nil, errors.New("there is no such place")
	}
	below, err := n.Items[i].With(parts[1:], change)
	if err != nil {
		return nil, err
	}
	c.Items = slices.Clone(n.Items)
	c.Items[i] = below
	return c, nil
}

// Set gives a copy of the value in which a JSON Pointer leads to another value: in the place of the
// one that is there, or as a new field. The error says that the pointer leads nowhere.
func (n *Node) Set(pointer string, value *Node) (*Node, error) {
	return n.With(PointerParts(pointer), func(parent *Node, last string) error {
		if i := parent.index(last); i >= 0 {
			parent.Items[i] = value
			return nil
		}
		return parent.Put(last, value)
	})
}

// TextNode gives a text as a value of a document.
func TextNode(s string) *Node { return &Node{Kind: Text, Text: s} }

// NumberNode gives a finite number as a value of a document.
func NumberNode(v float64) *Node {
	return &Node{Kind: Number, Text: strconv.FormatFloat(v, 'g', -1, 64)}
}

// index gives the place of a step in a List or Map; -1 for none.
func (n *Node) index(step string) int {
	if n.Kind == Map {
		return slices.Index(n.Keys, step)
	}
	i, err := strconv.Atoi(step)
	if n.Kind != List || !isIndex(step) || err != nil || i >= len(n.Items) {
		return -1
	}
	return i
}

// Unplaced forgets where the value stood in a text that is not the document's. It
// changes n.
func (n *Node) Unplaced() *Node {
	n.Line = 0
	for _, item := range n.Items {
		item.Unplaced()
	}
	return n
}

// Put sets a key of a Map, or inserts into a List before a place; "-" is its end.
func (n *Node) Put(step string, value *Node) error {
	if n.Kind == Map {
		if i := slices.Index(n.Keys, step); i >= 0 {
			n.Items[i] = value
		} else {
			n.set(step, value)
		}
		return nil
	}
	i, err := strconv.Atoi(step)
	switch {
	case step == "-":
		i = len(n.Items)
	case !isIndex(step) || err != nil || i > len(n.Items):
		return fmt.Errorf("there is no place %s in a list of %d", step, len(n.Items))
	}
	n.Items = slices.Insert(n.Items, i, value)
	return nil
}

// Remove takes a key out of a Map, or an item out of a List.
func (n *Node) Remove(step string) error {
	i := n.index(step)
	if i < 0 {
		return fmt.Errorf("there is no %s to remove", step)
	}
	n.Items = slices.Delete(n.Items, i, i+1)
	if n.Kind == Map {
		n.Keys = slices.Delete(n.Keys, i, i+1)
	}
	return nil
}

// set appends a key to a Map; the caller knows that it is new.
func (n *Node) set(key string, value *Node) {
	n.Keys = append(n.Keys, key)
	n.Items = append(n.Items, value)
}

// Float gives a Number as a float64.
func (n *Node) Float() float64 {
	v, _ := strconv.ParseFloat(n.Text, 64)
	return v
}

// Equal tells whether two values mean the same: the order of keys does not
// count, and 1.0 is 1.
func (n *Node) Equal(m *Node) bool {
	if n.Kind != m.Kind || len(n.Items) != len(m.Items) {
		return false
	}
	switch n.Kind {
	case Number:
		return n.Float() == m.Float()
	case Bool, Text:
		return n.Text == m.Text
	case List:
		for i := range n.Items {
			if !n.Items[i].Equal(m.Items[i]) {
				return false
			}
		}
	case Map:
		at := make(map[string]*Node, len(m.Keys))
		for i, k := range m.Keys {
			at[k] = m.Items[i]
		}
		for i, k := range n.Keys {
			if other := at[k]; other == nil || !n.Items[i].Equal(other) {
				return false
			}
		}
	}
	return true
}

// say shows a value in a message.
func (n *Node) say() string {
	switch n.Kind {
	case Null:
		return "empty"
	case Text:
		return strconv.Quote(shorten(n.Text))
	case List:
		return "a list of " + strconv.Itoa(len(n.Items))
	case Map:
		return "a group of " + strconv.Itoa(len(n.Items)) + " fields"
	}
	return shorten(n.Text)
}

// formatNumber prints a finite number as JSON does, in the fewest digits that
// give it back.
func formatNumber(v float64) string {
	if v == math.Trunc(v) && math.Abs(v) < 1e15 {
		return strconv.FormatFloat(v, 'f', -1, 64)
	}
	return strconv.FormatFloat(v, 'g', -1, 64)
}

// GroupNode gives a group of keys and values by turns; what a value may be NodeOf says.
func GroupNode(pairs ...any) *Node {
	n := &Node{Kind: Map}
	for i := 0; i < len(pairs); i += 2 {
		n.set(pairs[i].(string), NodeOf(pairs[i+1]))
	}
	return n
}

// NodeOf gives a text, a number, a truth or a list of them as a value of a document.
func NodeOf(v any) *Node {
	switch v := v.(type) {
	case *Node:
		return v
	case string:
		return TextNode(v)
	case bool:
		return &Node{Kind: Bool, Text: strconv.FormatBool(v)}
	case float64:
		return NumberNode(v)
	case int:
		return NumberNode(float64(v))
	case []any:
		n := &Node{Kind: List}
		for _, item := range v {
			n.Items = append(n.Items, NodeOf(item))
		}
		return n
	}
	panic(fmt.Sprintf("no node for %T", v)) // the calls are in this program
}
