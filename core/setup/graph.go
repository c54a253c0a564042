package setup

import (
	"fmt"
	"iter"
	"reflect"
	"slices"
	"strconv"
	"strings"
	"sync"
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
	Wishes                     // the plan is told something of a control
	Wires                      // the wiring tells of a receiver, or of a device
	Finds                      // on the stand something was found of an output, with a device
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

	first    [itemKinds]int // the number of the first part of each kind
	pins     []int          // of each receiver, the number of its first pin
	from, to ranges
}

// ranges gives of each part, by its number, the references from it or to it: those of part
// n are list[start[n]:start[n+1]].
type ranges struct{ start, list []int32 }

func newRanges(parts int, references []Reference, of func(*Reference) int) ranges {
	r := ranges{make([]int32, parts+1), make([]int32, len(references))}
	for i := range references {
		r.start[of(&references[i])+1]++
	}
	for n := range parts {
		r.start[n+1] += r.start[n]
	}
	next := slices.Clone(r.start)
	for i := range references {
		n := of(&references[i])
		r.list[next[n]] = int32(i)
		next[n]++
	}
	return r
}

func (r *ranges) of(n int) []int32 { return r.list[r.start[n]:r.start[n+1]] }

// number numbers the parts of a document, those of each kind one after the other.
func (g *Graph) number(part Item) int {
	if part.Kind == IsPin {
		return g.pins[part.Index] + part.Sub
	}
	return g.first[part.Kind] + part.Index
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
		for i := range listings[kind].count(s) {
			part := kind.At(i)
			id := string(s.Key(part).ID)
			if earlier, known := s.names[id]; known {
				twice(part, earlier)
			} else if id != "" {
				s.names[id] = part
			}
		}
	}
	s.graph, s.labels = newGraph(s), new(labels)
}

// From gives the references that a part makes, in the order of the document.
func (g *Graph) From(part Item) iter.Seq[*Reference] { return g.each(g.from.of(g.number(part))) }

// To gives the references to a part, in the order of the document.
func (g *Graph) To(part Item) iter.Seq[*Reference] { return g.each(g.to.of(g.number(part))) }

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
func (g *Graph) IsNamed(part Item) bool { return len(g.to.of(g.number(part))) > 0 }

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
func (g *Graph) walk(parts []Item, next func(Item) iter.Seq2[Item, *Reference],
	follow func(*Reference) bool) []Item {
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
	owner Item     // the part that is being walked through
	at    []string // the steps of the JSON Pointer so far
}

func newGraph(s *Setup) *Graph {
	g := &Graph{References: make([]Reference, 0, 2*len(s.Mixes)+2*len(s.Logic)+len(s.Devices)+16)}
	b := &graphBuilder{s: s, g: g}
	b.walk(planOf(reflect.TypeFor[Setup]()), reflect.ValueOf(s).Elem())
	b.channels()
	parts := 1 // the first is no part
	for kind := IsControl; kind < IsPin; kind++ {
		g.first[kind] = parts
		parts += listings[kind].count(s)
	}
	for _, rx := range s.Receivers {
		g.pins = append(g.pins, parts)
		parts += len(rx.Pins)
	}
	g.from = newRanges(parts, g.References, func(r *Reference) int { return g.number(r.From) })
	g.to = newRanges(parts, g.References, func(r *Reference) int { return g.number(r.To) })
	return g
}

// refer notes a reference that names a part.
func (b *graphBuilder) refer(to Item, role Role, sub int, text string) {
	if to.Kind == 0 {
		return
	}
	named, not := strings.CutPrefix(text, "not ")
	id, _, _ := strings.Cut(named, ".")
	b.g.References = append(b.g.References, Reference{From: b.owner, To: to, Role: role, Sub: sub, Not: not,
		ID: ID(id), Text: text, Pointer: "/" + strings.Join(b.at, "/")})
}

// listOwners are the lists of parts, by the steps of their JSON Pointer.
var listOwners = func() map[string]ItemKind {
	owners := map[string]ItemKind{}
	for kind := IsControl; kind < IsPin; kind++ {
		owners[strings.ReplaceAll(listings[kind].path, ".", "/")] = kind
	}
	return owners
}()

// namedBy is the role of an id that stands in a kind of part.
var namedBy = map[ItemKind]Role{IsMix: Adds, IsShare: Shares, IsClaim: Claims, IsStartEntry: Starts,
	IsStagePart: Shows, IsHandWish: Wishes, IsFeed: Wires, IsWire: Wires, IsSense: Wires, IsFound: Finds}

// plan says where the values of a type hold references. It is worked out once for each
// type; a type that can hold none has none.
type plan struct {
	is     planKind
	fields []planField // of a struct
	of     *plan       // of a pointer or a list
}

type planField struct {
	index []int
	name  string
	*plan
}

type planKind uint8

const (
	planStruct planKind = iota
	planPointer
	planList
	planValue     // a value reference
	planTruth     // a truth reference
	planID        // the id of another part
	planOn        // what a device hangs on
	planSwap      // the second pin of a controller
	planSpec      // a Device or Block: as its Spec is
	planCondition // a truth, or the fields of a struct
)

var plans sync.Map // reflect.Type -> *plan

func planOf(t reflect.Type) *plan {
	if known, ok := plans.Load(t); ok {
		return known.(*plan)
	}
	p := newPlan(t)
	plans.Store(t, p)
	return p
}

func newPlan(t reflect.Type) *plan {
	switch t {
	case reflect.TypeFor[Value]():
		return &plan{is: planValue}
	case reflect.TypeFor[Truth]():
		return &plan{is: planTruth}
	case reflect.TypeFor[ID]():
		return &plan{is: planID}
	case reflect.TypeFor[Device](), reflect.TypeFor[Block]():
		return &plan{is: planSpec}
	case reflect.TypeFor[Control](), reflect.TypeFor[Can]():
		return nil
	}
	switch t.Kind() {
	case reflect.Pointer, reflect.Slice:
		if of := planOf(t.Elem()); of != nil {
			return &plan{is: map[reflect.Kind]planKind{reflect.Pointer: planPointer,
				reflect.Slice: planList}[t.Kind()], of: of}
		}
	case reflect.Struct:
		p := &plan{}
		if t == reflect.TypeFor[Condition]() {
			p.is = planCondition
		}
		for _, tag := range tagsOf(t) {
			own := planOf(t.FieldByIndex(tag.index).Type)
			switch {
			case tag.name == "id":
				continue // of the part itself
			case tag.name == "on" && t.FieldByIndex(tag.index).Type.Kind() == reflect.String && holdsSpec(t):
				own = &plan{is: planOn}
			case tag.name == "swap_on":
				own = &plan{is: planPointer, of: &plan{is: planSwap}}
			}
			if own != nil {
				p.fields = append(p.fields, planField{tag.index, tag.name, own})
			}
		}
		if p.fields != nil || p.is == planCondition {
			return p
		}
	}
	return nil
}

// holdsSpec tells whether a struct is what a kind of device is: it has the head of one.
func holdsSpec(t reflect.Type) bool {
	head, ok := t.FieldByName("DeviceHead")
	return ok && head.Anonymous
}

// walk looks at one value of the document by the plan of its type.
func (b *graphBuilder) walk(p *plan, v reflect.Value) {
	if p == nil {
		return
	}
	switch p.is {
	case planStruct:
		b.fields(p, v)
	case planPointer:
		if !v.IsNil() {
			b.walk(p.of, v.Elem())
		}
	case planList:
		b.list(p.of, v)
	case planValue:
		b.source(v.Interface().(Value))
	case planTruth:
		b.fact(Truth(v.String()))
	case planID:
		b.refer(b.s.Item(ID(v.String())), namedBy[b.owner.Kind], 0, v.String())
	case planOn:
		b.hangs(HangsOn, v.String())
	case planSwap:
		b.hangs(Swaps, v.String())
	case planSpec:
		if spec := v.FieldByName("Spec"); !spec.IsNil() { // nil: its kind could not be read
			b.walk(planOf(spec.Elem().Type().Elem()), spec.Elem().Elem())
		}
	case planCondition:
		if t := v.Addr().Interface().(*Condition).Truth; t != "" {
			b.fact(t)
		} else {
			b.fields(p, v)
		}
	}
}

func (b *graphBuilder) fields(p *plan, v reflect.Value) {
	for _, f := range p.fields {
		b.at = append(b.at, f.name)
		b.walk(f.plan, v.FieldByIndex(f.index))
		b.at = b.at[:len(b.at)-1]
	}
}

func (b *graphBuilder) list(of *plan, v reflect.Value) {
	kind, parts := ItemKind(0), false
	if len(b.at) <= 2 {
		kind, parts = listOwners[strings.Join(b.at, "/")]
	}
	for i := range v.Len() {
		if parts {
			b.owner = kind.At(i)
		}
		b.at = append(b.at, strconv.Itoa(i))
		b.walk(of, v.Index(i))
		b.at = b.at[:len(b.at)-1]
	}
}

func (b *graphBuilder) source(v Value) {
	src, err := b.s.Source(v)
	if err != nil {
		return
	}
	role := ReadsValue
	if src.Kind == SourceAsked {
		role = ReadsAsked
	}
	b.refer(src.Item(), role, src.Sub, v.Ref)
}

func (b *graphBuilder) fact(t Truth) {
	if f, err := b.s.Fact(t); err == nil {
		b.refer(f.Item(), ReadsTruth, f.Sub, string(t))
	}
}

func (b *graphBuilder) hangs(role Role, text string) {
	if on := b.s.Item(ID(text)); on.Kind == IsDevice {
		b.refer(on, role, 0, text)
	} else if ref, ok := b.s.PinRef(text); ok {
		b.refer(ref.Item(), role, 0, text)
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
				b.g.References = append(b.g.References, Reference{From: ref.Item(), To: IsOutput.At(i),
					Role: Carries, Pointer: fmt.Sprintf("/receivers/%d/pins/%d/channel", r, p)})
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

// Leads lists the devices that hang on a pin by a lead of their own, in document order.
func (s *Setup) Leads(ref PinRef) []int { return s.indicesTo(ref.Item(), HangsOn) }

// Swapped lists the controllers that a pin turns round by their second lead, in document order.
func (s *Setup) Swapped(ref PinRef) []int { return s.indicesTo(ref.Item(), Swaps) }

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

// CanOnLoss tells whether a pin of the receiver, by its number, can do what a mode says when
// the signal is lost.
func (r *Receiver) CanOnLoss(mode string, pin int) bool {
	presets := r.Failsafe.PresetPins
	return slices.Contains(r.Failsafe.Can, mode) &&
		(mode != "preset" || presets.All || slices.Contains(presets.List, pin))
}

// DrivenBy gives the output that device i gets its pulse from; -1 for none.
func (s *Setup) DrivenBy(i int) int { return s.Carried(s.DevicePin(i)) }

// Drives lists the devices that an output moves, on any of its pins, without those that pass its pulse on.
func (s *Setup) Drives(output int) []int {
	var list []int
	for i := range s.Devices {
		if !s.Devices[i].PartKind().Passes && s.DrivenBy(i) == output {
			list = append(list, i)
		}
	}
	return list
}

// Lights tells whether lamps are all that the picture shows of a device.
func (s *Setup) Lights(device int) bool {
	shown := s.indicesTo(IsDevice.At(device), Shows)
	return len(shown) > 0 && !slices.ContainsFunc(shown, func(i int) bool {
		return s.Stage.Parts[i].Part != "lamp"
	})
}

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
