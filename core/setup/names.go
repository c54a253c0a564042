package setup

import (
	"fmt"
	"slices"
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
)

var itemLists = [...]string{"", "transmitter.controls", "demands", "logic", "steppers", "sequences", "patterns", "outputs",
	"receivers", "devices", "announcements", "claims", "mixes", "shares"}

// Item is one part of the document that has an id: the Index-th of its list.
type Item struct {
	Kind  ItemKind
	Index int
}

// Path gives the place of the item: demands[2].
func (i Item) Path() string { return fmt.Sprintf("%s[%d]", itemLists[i.Kind], i.Index) }

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

var sequenceStates = []string{"rest", "moving", "done"}

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
			return Source{}, &refError{fmt.Sprintf("sequence %s has no track %q", id, part), "name one of its tracks"}
		}
		return src, nil
	case dotted && item.Kind == IsOutput && part == "asked":
		src.Kind = SourceAsked
		return src, nil
	case !dotted:
		kinds := map[ItemKind]SourceKind{IsControl: SourceControl, IsDemand: SourceDemand, IsBlock: SourceBlock,
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
		f.Kind, parts = FactSequence, sequenceStates
	default:
		return Fact{}, &refError{fmt.Sprintf("%q is not true or false", ref),
			"name switch.position, a block, stepper.step, sequence.rest, .moving or .done, or power_on"}
	}
	if f.Sub = slices.Index(parts, part); f.Sub < 0 {
		return Fact{}, &refError{fmt.Sprintf("%s has no %q", id, part), "use one of " + strings.Join(parts, ", ")}
	}
	return f, nil
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
