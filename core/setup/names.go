package setup

import (
	"fmt"
	"slices"
	"strconv"
	"strings"
)

// ItemKind is what an id names.
type ItemKind uint8

// The kinds of item that an id can name.
const (
	IsControl ItemKind = iota + 1
	IsDemand
	IsBlock
	IsStepper
	IsSequence
	IsPattern
	IsOutput
	IsReceiver
	IsDevice
	IsAnnouncement
	IsClaim
	IsMix
	IsShare
	IsStartEntry // of the start check
	IsStagePart  // of the picture
	IsHandWish   // of the plan
	IsFeed       // of the wiring
	IsWire       // of the wiring: the lead of a device
	IsSense      // of the wiring: what tells a receiver the volts of a battery
	IsFound      // of the stand
	IsPin        // Index is its receiver, Sub its place there
	itemKinds
)

// listing is the list of a kind of part: its path, how many there are, and of each its id
// and its label, which may be empty. Pins have none: they lie in their receivers.
type listing struct {
	path  string
	count func(s *Setup) int
	named func(s *Setup, i int) (ID, string)
}

func listed[T any](path string, list func(s *Setup) []T, named func(one *T) (ID, string)) listing {
	return listing{path, func(s *Setup) int { return len(list(s)) },
		func(s *Setup, i int) (ID, string) { return named(&list(s)[i]) }}
}

var listings = [itemKinds]listing{
	IsControl: listed("transmitter.controls", func(s *Setup) []Control { return s.Transmitter.Controls },
		func(c *Control) (ID, string) { return c.ID, c.Label }),
	IsDemand: listed("demands", func(s *Setup) []Demand { return s.Demands },
		func(d *Demand) (ID, string) { return d.ID, d.Label }),
	IsBlock: listed("logic", func(s *Setup) []Block { return s.Logic },
		func(b *Block) (ID, string) { return b.ID, b.Label }),
	IsStepper: listed("steppers", func(s *Setup) []Stepper { return s.Steppers },
		func(st *Stepper) (ID, string) { return st.ID, st.Label }),
	IsSequence: listed("sequences", func(s *Setup) []Sequence { return s.Sequences },
		func(sq *Sequence) (ID, string) { return sq.ID, sq.Label }),
	IsPattern: listed("patterns", func(s *Setup) []Pattern { return s.Patterns },
		func(p *Pattern) (ID, string) { return p.ID, p.Label }),
	IsOutput: listed("outputs", func(s *Setup) []Output { return s.Outputs },
		func(o *Output) (ID, string) { return o.ID, o.Label }),
	IsReceiver: listed("receivers", func(s *Setup) []Receiver { return s.Receivers },
		func(r *Receiver) (ID, string) { return r.ID, r.Label }),
	IsDevice: listed("devices", func(s *Setup) []Device { return s.Devices },
		func(d *Device) (ID, string) { return d.ID, d.Label }),
	IsAnnouncement: listed("announcements", func(s *Setup) []Announcement { return s.Announcements },
		func(a *Announcement) (ID, string) { return a.ID, "" }),
	IsClaim: listed("claims", func(s *Setup) []Claim { return s.Claims },
		func(c *Claim) (ID, string) { return c.ID, c.Label }),
	IsMix: listed("mixes", func(s *Setup) []Mix { return s.Mixes },
		func(m *Mix) (ID, string) { return orNone(m.ID), m.Label }),
	IsShare: listed("shares", func(s *Setup) []Share { return s.Shares },
		func(sh *Share) (ID, string) { return orNone(sh.ID), sh.Label }),
	IsStartEntry: listed("start_check", func(s *Setup) []StartEntry { return s.StartCheck },
		func(*StartEntry) (ID, string) { return "", "" }),
	IsStagePart: listed("stage.parts", func(s *Setup) []StagePart {
		if s.Stage == nil {
			return nil
		}
		return s.Stage.Parts
	}, func(p *StagePart) (ID, string) { return "", p.Label }),
	IsHandWish: listed("plan.hands", func(s *Setup) []HandWish {
		if s.Plan == nil {
			return nil
		}
		return s.Plan.Hands
	}, func(*HandWish) (ID, string) { return "", "" }),
	IsFeed: listed("wiring.feeds", func(s *Setup) []Feed {
		if s.Wiring == nil {
			return nil
		}
		return s.Wiring.Feeds
	}, func(f *Feed) (ID, string) { return "", f.Label }),
	IsWire: listed("wiring.leads", func(s *Setup) []Wire {
		if s.Wiring == nil {
			return nil
		}
		return s.Wiring.Leads
	}, func(*Wire) (ID, string) { return "", "" }),
	IsSense: listed("wiring.senses", func(s *Setup) []Sense {
		if s.Wiring == nil {
			return nil
		}
		return s.Wiring.Senses
	}, func(sense *Sense) (ID, string) { return "", sense.Label }),
	IsFound: listed("stand.found", func(s *Setup) []Found {
		if s.Stand == nil {
			return nil
		}
		return s.Stand.Found
	}, func(*Found) (ID, string) { return "", "" }),
}

func orNone(id *ID) ID {
	if id == nil {
		return ""
	}
	return *id
}

// Count is how many parts of a kind there are; not of pins.
func (s *Setup) Count(kind ItemKind) int { return listings[kind].count(s) }

// At gives the i-th part of a kind.
func (k ItemKind) At(i int) Item { return Item{Kind: k, Index: i} }

// Item is one part of a document: the Index-th of its list. The zero Item is none.
type Item struct {
	Kind       ItemKind
	Index, Sub int // Sub is 0 but for a pin
}

// Path gives the place of the item: demands[2].
func (i Item) Path() string {
	if i.Kind == IsPin {
		return fmt.Sprintf("receivers[%d].pins[%d]", i.Index, i.Sub)
	}
	return fmt.Sprintf("%s[%d]", listings[i.Kind].path, i.Index)
}

// Key is what a part is known by in every revision of a document: an id and, of a pin, its
// number; where a mix or a share has no id, its place. It can be compared.
type Key struct {
	Kind  ItemKind
	ID    ID
	Place int
}

// Key gives the key of a part; the zero Key of the zero Item.
func (s *Setup) Key(part Item) Key {
	switch part.Kind {
	case 0:
		return Key{}
	case IsPin:
		rx := &s.Receivers[part.Index]
		return Key{IsPin, rx.ID, rx.Pins[part.Sub].Pin}
	}
	if id, _ := listings[part.Kind].named(s, part.Index); id != "" {
		return Key{Kind: part.Kind, ID: id}
	}
	return Key{Kind: part.Kind, Place: part.Index}
}

// ReceiverLabel is what a person calls a receiver: by its label, else as the only one, or as
// the second.
func (s *Setup) ReceiverLabel(rx *Receiver) string {
	if rx.Label != "" {
		return rx.Label
	}
	if len(s.Receivers) == 1 {
		return "Receiver"
	}
	for i := range s.Receivers {
		if s.Receivers[i].ID == rx.ID {
			return fmt.Sprintf("Receiver %d", i+1)
		}
	}
	return "Receiver"
}

// PinLabel is what a person calls a pin: pin 3, or, where there is more than one receiver,
// Bow receiver, pin 3.
func (s *Setup) PinLabel(ref PinRef) string {
	rx, pin := s.Pin(ref)
	if len(s.Receivers) == 1 {
		return fmt.Sprintf("pin %d", pin.Pin)
	}
	return fmt.Sprintf("%s, pin %d", s.ReceiverLabel(rx), pin.Pin)
}

// PartName names a part by its list and its id: logic/horn, controls/turn; empty where it
// has no id.
func (s *Setup) PartName(part Item) string {
	id := s.Key(part).ID
	if id == "" {
		return ""
	}
	return ListOf(part.Kind) + "/" + string(id)
}

// ItemIn gives the part at a place of a list, 0 the first; none where there is none.
func (s *Setup) ItemIn(list string, index int) Item {
	for kind := IsControl; kind < IsPin; kind++ {
		if ListOf(kind) == list && index >= 0 && index < listings[kind].count(s) {
			return kind.At(index)
		}
	}
	return Item{}
}

// ListOf names the list of a kind of part: outputs, controls.
func ListOf(kind ItemKind) string { return strings.TrimPrefix(listings[kind].path, "transmitter.") }

// Item finds what an id names; the zero Item where there is none.
func (s *Setup) Item(id ID) Item { return s.names[string(id)] }

// SourceKind is what a value reference leads to.
type SourceKind uint8

// The kinds of source.
const (
	SourceNumber SourceKind = iota
	SourceControl
	SourceDemand
	SourceBlock
	SourceStepper
	SourcePattern
	SourceTrack // Sub is the track
	SourceAsked // what output Index is asked for
)

// Source is a resolved value reference: Number, or the Index-th of its list.
type Source struct {
	Kind       SourceKind
	Index, Sub int
	Number     float64
}

// sourceKinds is what the part is that a source leads to.
var sourceKinds = [...]ItemKind{SourceControl: IsControl, SourceDemand: IsDemand, SourceBlock: IsBlock,
	SourceStepper: IsStepper,
	SourcePattern: IsPattern, SourceTrack: IsSequence, SourceAsked: IsOutput}

// Item gives the part that a source leads to; the zero Item for a number.
func (s Source) Item() Item {
	if s.Kind == SourceNumber {
		return Item{}
	}
	return Item{Kind: sourceKinds[s.Kind], Index: s.Index}
}

// FactKind is what a truth reference leads to.
type FactKind uint8

// The kinds of fact.
const (
	FactPowerOn  FactKind = iota
	FactPosition          // Sub is the position of switch Index
	FactBlock
	FactStep     // Sub is the step of stepper Index
	FactSequence // Sub is 0 rest, 1 moving, 2 done
)

// Fact is a resolved truth reference.
type Fact struct {
	Kind       FactKind
	Index, Sub int
	Not        bool
}

// factKinds is what the part is that a fact leads to.
var factKinds = [...]ItemKind{FactPosition: IsControl, FactBlock: IsBlock, FactStep: IsStepper,
	FactSequence: IsSequence}

// Item gives the part that a fact leads to; the zero Item for power_on.
func (f Fact) Item() Item {
	if f.Kind == FactPowerOn {
		return Item{}
	}
	return Item{Kind: factKinds[f.Kind], Index: f.Index}
}

// SequenceStates are what a sequence can be, in the order of Fact.Sub.
var SequenceStates = []string{"rest", "moving", "done"}

// refError says why a reference leads nowhere; the remedy is in it.
type refError struct{ message, remedy string }

func (e *refError) Error() string { return e.message + "; " + e.remedy }

// Source resolves a value reference of docs/format.md, section 3.
func (s *Setup) Source(v Value) (Source, error) {
	if v.Ref == "" {
		return Source{Number: v.Number}, nil
	}
	id, part, dotted := strings.Cut(v.Ref, ".")
	item, known := s.names[id]
	if !known {
		return Source{}, s.nothing(id)
	}
	src := Source{Index: item.Index}
	switch {
	case dotted && item.Kind == IsSequence:
		src.Kind = SourceTrack
		tracks := s.Sequences[item.Index].Tracks
		src.Sub = slices.IndexFunc(tracks, func(t Track) bool { return string(t.Name) == part })
		if src.Sub < 0 {
			return Source{}, &refError{fmt.Sprintf("sequence %s has no track %q", id, part),
				"name one of its tracks"}
		}
		return src, nil
	case dotted && item.Kind == IsOutput && part == "asked":
		src.Kind = SourceAsked
		return src, nil
	case !dotted:
		kinds := map[ItemKind]SourceKind{IsControl: SourceControl, IsDemand: SourceDemand,
			IsBlock:   SourceBlock,
			IsStepper: SourceStepper, IsPattern: SourcePattern}
		if kind, ok := kinds[item.Kind]; ok {
			src.Kind = kind
			return src, nil
		}
	}
	return Source{}, &refError{fmt.Sprintf("%q is not a value", v.Ref),
		"name a control, demand, stepper, pattern or block, sequence.track, output.asked or a number"}
}

// Fact resolves a truth reference of docs/format.md, section 3.
func (s *Setup) Fact(t Truth) (Fact, error) {
	ref, not := t.Split()
	f := Fact{Not: not}
	if ref == "power_on" {
		return f, nil
	}
	id, part, dotted := strings.Cut(ref, ".")
	item, known := s.names[id]
	if !known {
		return Fact{}, s.nothing(id)
	}
	f.Index = item.Index
	var parts []string
	switch {
	case !dotted && item.Kind == IsBlock:
		f.Kind = FactBlock
		return f, nil
	case dotted && item.Kind == IsControl && s.Transmitter.Controls[item.Index].Switch != nil:
		f.Kind = FactPosition
		for _, p := range s.Transmitter.Controls[item.Index].Switch.Positions {
			parts = append(parts, string(p))
		}
	case dotted && item.Kind == IsStepper:
		f.Kind = FactStep
		for _, step := range s.Steppers[item.Index].Steps {
			parts = append(parts, string(step.Name))
		}
	case dotted && item.Kind == IsSequence:
		f.Kind, parts = FactSequence, SequenceStates
	default:
		return Fact{}, &refError{fmt.Sprintf("%q is not true or false", ref),
			"name switch.position, a block, stepper.step, sequence.rest, .moving or .done, or power_on"}
	}
	if f.Sub = slices.Index(parts, part); f.Sub < 0 {
		return Fact{}, &refError{fmt.Sprintf("%s has no %q", id, part),
			"use one of " + strings.Join(parts, ", ")}
	}
	return f, nil
}

// Truths lists every condition that a document can name, without its opposite: each position of a switch,
// each block, each step, each state of a sequence.
func (s *Setup) Truths() []Truth {
	var list []Truth
	for _, c := range s.Transmitter.Controls {
		if c.Switch != nil {
			for _, at := range c.Switch.Positions {
				list = append(list, Truth(string(c.ID)+"."+string(at)))
			}
		}
	}
	for _, b := range s.Logic {
		list = append(list, Truth(b.ID))
	}
	for _, st := range s.Steppers {
		for _, step := range st.Steps {
			list = append(list, Truth(string(st.ID)+"."+string(step.Name)))
		}
	}
	for _, sq := range s.Sequences {
		for _, at := range SequenceStates {
			list = append(list, Truth(string(sq.ID)+"."+at))
		}
	}
	return list
}

// FreeID gives an id that nothing has, of a stem: the stem itself, else with the next number.
func (s *Setup) FreeID(stem string, taken ...string) string {
	stem = stem[:min(len(stem), 28)]
	id := stem
	for n := 2; s.Item(ID(id)).Kind != 0 || slices.Contains(taken, id); n++ {
		id = stem + "_" + strconv.Itoa(n)
	}
	return id
}

// nothing says that an id is unknown, and which known one is nearest.
func (s *Setup) nothing(id string) error {
	best, at := "", 3
	for known := range s.names {
		if far := distance(id, known); far < at || far == at && known < best {
			best, at = known, far
		}
	}
	remedy := "add it, or name another"
	if best != "" {
		remedy = "did you mean " + best + "?"
	}
	return &refError{fmt.Sprintf("there is no %q", shorten(id)), remedy}
}

// distance is Levenshtein's edit distance, bytes, 3 where it is 3 or more.
func distance(a, b string) int {
	if len(a)-len(b) > 2 || len(b)-len(a) > 2 || len(a) > 40 {
		return 3
	}
	row := make([]int, len(b)+1)
	for j := range row {
		row[j] = j
	}
	for i := range len(a) {
		last := row[0]
		row[0] = i + 1
		for j := range len(b) {
			change := last
			if a[i] != b[j] {
				change++
			}
			last = row[j+1]
			row[j+1] = min(change, row[j]+1, last+1)
		}
	}
	return min(row[len(b)], 3)
}
