package setup

import (
	"fmt"
	"iter"
	"reflect"
	"slices"
	"strings"
)

// Role says in what way one part of a document refers to another.
type Role uint8

// The roles of a reference.
const (
	ReadsValue Role = iota + 1 // takes its value
	ReadsTruth                 // looks at its truth
	ReadsAsked                 // takes what an output is asked for
	Adds                       // a mix adds to an output
	Shares                     // a share deals out what its outputs ask for
	Carries                    // a pin carries the channel of an output
	HangsOn                    // a device hangs on a pin, or on another device
	Swaps                      // a controller turns its motor round by a second pin
	Starts                     // the start check waits for a control
	Claims                     // a claim speaks of an output or a device
	Shows                      // a part of the picture shows a device
)

// Reference is one reference: which part refers to which, and where the document says so.
type Reference struct {
	From, To Item
	Role     Role
	Sub      int    // which track, step, position, or state of a sequence; 0 where there is none
	Not      bool   // of a truth: its opposite
	ID       ID     // what is named; empty where a channel's number says it
	Text     string // as it is written: not deck.up
	Pointer  string // JSON Pointer of the place
}

// Renamed gives the text of the reference after the part got another id.
func (e *Reference) Renamed(to ID) string {
	not := ""
	rest, ok := strings.CutPrefix(e.Text, "not ")
	if ok {
		not = "not "
	}
	return not + string(to) + strings.TrimPrefix(rest, string(e.ID))
}

// Graph is the one relation of what refers to what in a checked document. What a
// number, power_on or a picture's unknown device says is no reference.
type Graph struct {
	References []Reference // in the order of the document, the channels that pins carry last

	from, to map[Item][]int32 // of each part, its references in that order
}

// Graph gives the relation of a checked document.
func (s *Setup) Graph() *Graph { return s.graph }

// Relink works out anew what refers to what, in a copy of a setup of which parts were
// changed. The copy has to be without mistakes, as its original is.
func (s *Setup) Relink() { s.link(func(Item, Item) {}) }

// link works out which part each id names, and what refers to what. twice is told of a
// part whose id an earlier one has.
func (s *Setup) link(twice func(part, earlier Item)) {
	s.names = map[string]Item{}
	for kind := IsControl; kind <= IsShare; kind++ {
		for i := range s.count(kind) {
			part := kind.At(i)
			id := string(s.Key(part).ID)
			if earlier, known := s.names[id]; known {
				twice(part, earlier)
			} else if id != "" {
				s.names[id] = part
			}
		}
	}
	s.graph = newGraph(s)
}

// From gives the references that a part makes, in the order of the document.
func (g *Graph) From(part Item) iter.Seq[*Reference] { return g.each(g.from[part]) }

// To gives the references to a part, in the order of the document.
func (g *Graph) To(part Item) iter.Seq[*Reference] { return g.each(g.to[part]) }

// Naming gives the references that name a part by its id, a receiver also by its pins.
func (g *Graph) Naming(id ID) iter.Seq[*Reference] {
	return func(yield func(*Reference) bool) {
		for i := range g.References {
			if g.References[i].ID == id && !yield(&g.References[i]) {
				return
			}
		}
	}
}

// IsNamed tells whether anything refers to a part.
func (g *Graph) IsNamed(part Item) bool { return len(g.to[part]) > 0 }

func (g *Graph) each(list []int32) iter.Seq[*Reference] {
	return func(yield func(*Reference) bool) {
		for _, i := range list {
			if !yield(&g.References[i]) {
				return
			}
		}
	}
}

// Behind gives what parts depend on, through whatever lies between, and the parts
// themselves: each once, in the order in which it is met.
func (g *Graph) Behind(parts ...Item) []Item { return g.walk(parts, g.upstream, nil) }

// BehindBy is Behind through some of the references only.
func (g *Graph) BehindBy(follow func(*Reference) bool, parts ...Item) []Item {
	return g.walk(parts, g.upstream, follow)
}

// Ahead gives what depends on parts, through whatever lies between, and the parts
// themselves: each once, in the order in which it is met.
func (g *Graph) Ahead(parts ...Item) []Item { return g.walk(parts, g.downstream, nil) }

// walk visits depth first, in the order of the document.
func (g *Graph) walk(parts []Item, next func(Item) iter.Seq2[Item, *Reference], follow func(*Reference) bool) []Item {
	var list []Item
	seen := map[Item]bool{}
	var visit func(Item)
	visit = func(part Item) {
		if seen[part] {
			return
		}
		seen[part] = true
		list = append(list, part)
		for other, e := range next(part) {
			if follow == nil || follow(e) {
				visit(other)
			}
		}
	}
	for _, part := range parts {
		visit(part)
	}
	return list
}

// Only gives the indices of the parts of one kind, rising.
func Only(kind ItemKind, parts []Item) []int {
	var list []int
	for _, part := range parts {
		if part.Kind == kind {
			list = append(list, part.Index)
		}
	}
	slices.Sort(list)
	return list
}

// upstream gives what a part gets its numbers from: what it refers to, and of an output
// what refers to it as a mix or a share does.
func (g *Graph) upstream(part Item) iter.Seq2[Item, *Reference] {
	return func(yield func(Item, *Reference) bool) {
		for e := range g.From(part) {
			if e.Role != Adds && !yield(e.To, e) {
				return
			}
		}
		for e := range g.To(part) {
			if (e.Role == Adds || e.Role == Shares) && !yield(e.From, e) {
				return
			}
		}
	}
}

// downstream gives what gets its numbers from a part: the other way round.
func (g *Graph) downstream(part Item) iter.Seq2[Item, *Reference] {
	return func(yield func(Item, *Reference) bool) {
		for e := range g.From(part) {
			if (e.Role == Adds || e.Role == Shares) && !yield(e.To, e) {
				return
			}
		}
		for e := range g.To(part) {
			if e.Role != Adds && !yield(e.From, e) {
				return
			}
		}
	}
}

// graphBuilder walks through a document by its types, so that no reference is forgotten.
type graphBuilder struct {
	s     *Setup
	g     *Graph
	owner Item // the part that is being walked through
}

func newGraph(s *Setup) *Graph {
	b := &graphBuilder{s: s, g: &Graph{from: map[Item][]int32{}, to: map[Item][]int32{}}}
	b.value(reflect.ValueOf(s).Elem(), "", "")
	b.channels()
	return b.g
}

func (b *graphBuilder) add(e Reference) {
	n := int32(len(b.g.References))
	b.g.References = append(b.g.References, e)
	b.g.from[e.From] = append(b.g.from[e.From], n)
	b.g.to[e.To] = append(b.g.to[e.To], n)
}

// refer notes a reference that names a part.
func (b *graphBuilder) refer(to Item, role Role, sub int, pointer, text string) {
	if to.Kind == 0 {
		return
	}
	id, _, _ := strings.Cut(strings.TrimPrefix(text, "not "), ".")
	b.add(Reference{From: b.owner, To: to, Role: role, Sub: sub, Not: strings.HasPrefix(text, "not "), ID: ID(id), Text: text, Pointer: pointer})
}

// listOwners are the lists of parts, by JSON Pointer.
var listOwners = func() map[string]ItemKind {
	owners := map[string]ItemKind{}
	for kind := IsControl; kind < itemKinds; kind++ {
		owners["/"+strings.ReplaceAll(itemLists[kind], ".", "/")] = kind
	}
	return owners
}()

// namedBy is the role of an id that stands in a kind of part.
var namedBy = map[ItemKind]Role{IsMix: Adds, IsShare: Shares, IsClaim: Claims, IsStartEntry: Starts, IsStagePart: Shows}

// value looks at one value of the document; name is the field that holds it.
func (b *graphBuilder) value(v reflect.Value, pointer, name string) {
	switch one := v.Interface().(type) {
	case Value:
		b.source(one, pointer)
		return
	case Truth:
		b.fact(one, pointer)
		return
	case ID:
		if name != "id" {
			b.refer(b.s.Item(one), namedBy[b.owner.Kind], 0, pointer, string(one))
		}
		return
	case Control, *Can, *Graph:
		return // name nothing
	case Device:
		b.spec(one.Spec, pointer, name)
		return
	case Block:
		b.spec(one.Spec, pointer, name)
		return
	case Condition:
		b.fact(one.Truth, pointer)
	}
	switch v.Kind() {
	case reflect.Pointer:
		if !v.IsNil() {
			b.value(v.Elem(), pointer, name)
		}
	case reflect.String:
		if b.owner.Kind == IsDevice && name == "on" {
			b.hangs(HangsOn, pointer, v.String())
		} else if name == "swap_on" {
			b.hangs(Swaps, pointer, v.String())
		}
	case reflect.Slice:
		kind, parts := listOwners[pointer]
		for i := range v.Len() {
			if parts {
				b.owner = Item{Kind: kind, Index: i}
			}
			b.value(v.Index(i), fmt.Sprintf("%s/%d", pointer, i), name)
		}
	case reflect.Struct:
		for _, f := range fieldsOf(v) {
			b.value(f.value, pointer+"/"+f.tag.name, f.tag.name)
		}
	}
}

// spec looks at what kind of device or block it is; nil where that could not be read.
func (b *graphBuilder) spec(spec any, pointer, name string) {
	if spec != nil {
		b.value(reflect.ValueOf(spec).Elem(), pointer, name)
	}
}

func (b *graphBuilder) source(v Value, pointer string) {
	src, err := b.s.Source(v)
	if err != nil {
		return
	}
	role := ReadsValue
	if src.Kind == SourceAsked {
		role = ReadsAsked
	}
	b.refer(src.Item(), role, src.Sub, pointer, v.Ref)
}

func (b *graphBuilder) fact(t Truth, pointer string) {
	if f, err := b.s.Fact(t); err == nil {
		b.refer(f.Item(), ReadsTruth, f.Sub, pointer, string(t))
	}
}

func (b *graphBuilder) hangs(role Role, pointer, text string) {
	if on := b.s.Item(ID(text)); on.Kind == IsDevice {
		b.refer(on, role, 0, pointer, text)
	} else if ref, ok := b.s.PinRef(text); ok {
		b.refer(ref.Item(), role, 0, pointer, text)
	}
}

// channels adds what pins carry, which channel numbers say. Only in a document with that
// mistake have two outputs one channel.
func (b *graphBuilder) channels() {
	outputs := map[int][]int{}
	for i, o := range b.s.Outputs {
		outputs[o.Channel] = append(outputs[o.Channel], i)
	}
	for r, rx := range b.s.Receivers {
		for p, pin := range rx.Pins {
			if pin.Channel > b.s.Link.Channels {
				continue
			}
			for _, i := range outputs[b.s.Link.Sent(pin.Channel)] {
				ref := PinRef{r, p}
				b.add(Reference{From: ref.Item(), To: IsOutput.At(i), Role: Carries, Pointer: fmt.Sprintf("/receivers/%d/pins/%d/channel", r, p)})
			}
		}
	}
}

// MixesTo lists the mixes of output i, in the order in which they are combined.
func (s *Setup) MixesTo(i int) []int { return s.indicesTo(IsOutput.At(i), Adds) }

// ShareOf gives the share of output i; -1 for none.
func (s *Setup) ShareOf(i int) int {
	for e := range s.graph.To(IsOutput.At(i)) {
		if e.Role == Shares {
			return e.From.Index
		}
	}
	return -1
}

// Carriers lists the pins that carry output i, in document order.
func (s *Setup) Carriers(i int) []PinRef {
	var refs []PinRef
	for e := range s.graph.To(IsOutput.At(i)) {
		if e.Role == Carries {
			refs = append(refs, PinRef{e.From.Index, e.From.Sub})
		}
	}
	return refs
}

// Carried gives the output that a pin carries; -1 for none.
func (s *Setup) Carried(ref PinRef) int {
	for e := range s.graph.From(ref.Item()) {
		return e.To.Index
	}
	return -1
}

// DevicePin gives the pin whose pulse device i gets, also through a leveller.
func (s *Setup) DevicePin(i int) PinRef {
	on := IsDevice.At(i)
	for on.Kind == IsDevice {
		for e := range s.graph.From(on) {
			if e.Role == HangsOn {
				on = e.To
				break
			}
		}
	}
	return PinRef{on.Index, on.Sub}
}

// SwapPin gives the second pin, by which controller i turns its motor round; ok is false
// where it has none.
func (s *Setup) SwapPin(i int) (ref PinRef, ok bool) {
	for e := range s.graph.From(IsDevice.At(i)) {
		if e.Role == Swaps {
			return PinRef{e.To.Index, e.To.Sub}, true
		}
	}
	return PinRef{}, false
}

// Before gives the device that device i hangs behind, a leveller; -1 for none.
func (s *Setup) Before(i int) int {
	for e := range s.graph.From(IsDevice.At(i)) {
		if e.Role == HangsOn && e.To.Kind == IsDevice {
			return e.To.Index
		}
	}
	return -1
}

// Leads lists the devices that hang on a pin by a lead of their own, in document order.
func (s *Setup) Leads(ref PinRef) []int { return s.indicesTo(ref.Item(), HangsOn) }

// After lists the devices that hang behind device i, in document order.
func (s *Setup) After(i int) []int { return s.indicesTo(IsDevice.At(i), HangsOn) }

// OnPin lists the devices that get the pulse of a pin, also through a leveller, in
// document order.
func (s *Setup) OnPin(ref PinRef) []int {
	list := s.Leads(ref)
	for _, i := range slices.Clone(list) {
		list = append(list, s.After(i)...)
	}
	slices.Sort(list)
	return list
}

// DrivenBy gives the output that device i gets its pulse from; -1 for none.
func (s *Setup) DrivenBy(i int) int { return s.Carried(s.DevicePin(i)) }

func (s *Setup) indicesTo(part Item, role Role) []int {
	var list []int
	for e := range s.graph.To(part) {
		if e.Role == role {
			list = append(list, e.From.Index)
		}
	}
	return list
}

// ControlBehind follows demands back to the control that a value comes from; -1 where it
// comes from elsewhere.
func (s *Setup) ControlBehind(v Value) int {
	for range len(s.Demands) + 1 {
		src, err := s.Source(v)
		switch {
		case err != nil:
			return -1
		case src.Kind == SourceControl:
			return src.Index
		case src.Kind != SourceDemand:
			return -1
		}
		v = s.Demands[src.Index].From
	}
	return -1
}
