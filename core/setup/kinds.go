package setup

import (
	"fmt"
	"reflect"
	"slices"
)

// PartKind is all that is the same for everything that deals with one kind of block,
// device or control: reading and checking a document, its schema, forms, the list of what
// can be added, the sheet, and the page. What a kind means is written where it is computed
// (core/signal), bounded (core/check) and drawn (core/stage).
type PartKind struct {
	Key    string            // as the document writes it: r_trig, esc
	Name   string            // one of them, in words: speed controller
	Many   string            // more than one; empty where only one is ever spoken of
	Does   string            // what it is for, in one sentence without a stop; empty where the name says it
	Says   []Clause          // what one of them does, as a sheet says it
	Labels map[string]string // of fields that are called otherwise than they are elsewhere
	// the fields of a new one, in YAML, its id and label aside; $id stands for its own id
	Begins string
	Spec   func() any // an empty one: a pointer to its struct

	Remembers bool   // a block: feedback may go through it, and what reads it may see the frame before
	Unstick   string // a block that may stay on after what it reads has gone off: what to do about it

	Unit   string // a device: how what it does is written: on, step or %
	Group  string // a device: what lines that lead to such devices are called together
	Shown  string // a device: the part of the picture that stands for it where the document names none
	Passes bool   // a device: it does nothing but pass on a pulse, and servos hang behind it
	OnOff  bool   // a device: it may hang on a pin that is on or off
	Motor  bool   // a device: it drives a motor
}

// Clause is a piece of a sentence about a part: Text, in which % stands for the value of
// Field. A field that is as it is where a document leaves it out says nothing.
type Clause struct{ Field, Text string }

// PartKinds are the kinds of one list, in the order in which they are shown.
type PartKinds []PartKind

// KindsOf gives the kinds of a list of parts; none where its parts are all of one kind.
func KindsOf(list string) PartKinds {
	return map[string]PartKinds{"controls": Controls, "logic": Blocks, "devices": Devices}[list]
}

// KindField is the field of a part of a list that names its kind.
func KindField(list string) string {
	if list == "logic" {
		return "block"
	}
	return "kind"
}

// Find gives a kind by its key; nil where there is none.
func (ks PartKinds) Find(key string) *PartKind {
	for i := range ks {
		if ks[i].Key == key {
			return &ks[i]
		}
	}
	return nil
}

// Name says a kind by its key, in words; the key where there is no such kind.
func (ks PartKinds) Name(key string) string {
	if kind := ks.Find(key); kind != nil {
		return kind.Name
	}
	return key
}

// Keys gives the keys of the kinds, in order.
func (ks PartKinds) Keys() []string {
	keys := make([]string, len(ks))
	for i := range ks {
		keys[i] = ks[i].Key
	}
	return keys
}

// Begin gives the fields of a new part of this kind, as a document writes them.
func (k *PartKind) Begin(id string) *Node {
	tree, problems := ParseYAML([]byte(k.Begins))
	if problems != nil {
		panic(problems) // the kinds are ours: a test adds one of each
	}
	var named func(n *Node)
	named = func(n *Node) {
		if n.Kind == Text && n.Text == ownID {
			n.Text = id
		}
		n.Line = 0
		for _, item := range n.Items {
			named(item)
		}
	}
	named(tree)
	return tree
}

// ownID stands in a template for the id of the part that is made.
const ownID = "$id"

// Controls are the kinds of control.
var Controls = PartKinds{
	{Key: "axis", Name: "lever or slider", Many: "levers", Begins: "{}",
		Spec: func() any { return new(Axis) }},
	{Key: "switch", Name: "switch or button", Many: "switches", Begins: "{positions: [back, front]}",
		Spec: func() any { return new(Switch) }},
}

// BlockKind is the name of a kind of block where a document lists some.
type BlockKind string

func (k *BlockKind) decode(d *decoder, n *Node, path string) {
	if d.is(n, path, Text, "write text, in quotes if it looks like a number") {
		d.choice(n, path, fieldTag{enum: Blocks.Keys()})
		*k = BlockKind(n.Text)
	}
}

// Each gives the fields of a part's spec that hold references, with their names: Value,
// Truth, *Truth or []Truth.
func eachReference(spec any, value func(name string, v Value), truth func(name string, t Truth)) {
	v := reflect.ValueOf(spec).Elem()
	for _, tag := range tagsOf(v.Type()) {
		switch one := v.FieldByIndex(tag.index).Interface().(type) {
		case Value:
			value(tag.name, one)
		case Truth:
			truth(tag.name, one)
		case *Truth:
			if one != nil {
				truth(tag.name, *one)
			}
		case []Truth:
			for i, t := range one {
				truth(fmt.Sprintf("%s[%d]", tag.name, i), t)
			}
		}
	}
}

// usual tells whether a field is as it is where a document leaves it out.
func usual(tag fieldTag, v reflect.Value) bool {
	if tag.required {
		return false
	}
	if tag.def != "" {
		return fmt.Sprint(v.Interface()) == tag.def
	}
	return v.IsZero() || v.Type() == reflect.TypeFor[StateAt]() && v.String() == "false"
}

// ClauseValue is a clause with the value that it speaks of.
type ClauseValue struct {
	Clause
	Value any     // a Value, a []Truth, a StateAt, a float64 or what else the field holds
	Unit  string  // of a number
	Low   float64 // of a number: the least that it can be
}

// Clauses gives what there is to say of a part of this kind.
func (k *PartKind) Clauses(spec any) []ClauseValue {
	v := reflect.ValueOf(spec).Elem()
	tags := tagsOf(v.Type())
	var list []ClauseValue
	for _, clause := range k.Says {
		at := slices.IndexFunc(tags, func(t fieldTag) bool { return t.name == clause.Field })
		field := v.FieldByIndex(tags[at].index)
		if usual(tags[at], field) {
			continue
		}
		said := ClauseValue{Clause: clause, Value: field.Interface(), Unit: tags[at].unit, Low: tags[at].low}
		switch one := said.Value.(type) {
		case Truth:
			said.Value = []Truth{one}
		case *Truth:
			said.Value = []Truth{*one}
		}
		list = append(list, said)
	}
	return list
}
