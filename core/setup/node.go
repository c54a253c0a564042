package setup

import (
	"math"
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
		if n.Kind != List {
			n = n.Get(part)
			continue
		}
		i, err := strconv.Atoi(part)
		if !isIndex(part) || err != nil || i >= len(n.Items) {
			return nil
		}
		n = n.Items[i]
	}
	return n
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
