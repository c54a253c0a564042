// Package translate brings the logic of a setup into the entries of the person's own transmitter, which runs
// them in its own way, and proves that they do the same, or shows where they do not.
package translate

import (
	"slices"
	"strconv"
	"strings"

	"axtren/core/setup"
	"axtren/core/words"
)

// Set is how a transmitter runs its entries.
type Set struct {
	Count, Inputs int // how many there are; how many inputs one may have
	Blocks        []string
	Negated       bool // whether an input may be a not
	ByPlace       bool // they run in the order of their numbers
	SetWins       bool // which side of a latch does
	OnEdge        bool // whether a latch's inputs act only in the frame in which they become true
	Fires         bool // whether what is true already at power-on counts as an edge
	Remembers     bool // whether latches wake as they were when it was turned off

	left []string // what is not known, of what can be one thing or another
}

// The parts of a set that can be one thing or another.
const (
	partOrder     = "order"
	partBothTrue  = "both_true"
	partSetOn     = "set_on"
	partThrown    = "thrown_at_power_on"
	partRemembers = "remembers"
	partNegated   = "negated"
)

// SetOf gives how a transmitter runs its entries; what is not known of it is as docs/format.md takes it.
// entries, where it is not negative, is how many there are.
func SetOf(s *setup.Setup, entries int) Set {
	set := Set{Count: 12, Inputs: 2, Blocks: []string{"and", "or", "sr"}, Negated: true, ByPlace: true,
		SetWins: true}
	can := setup.CanLogic{}
	if s.Transmitter.Can != nil && s.Transmitter.Can.Logic != nil {
		can = *s.Transmitter.Can.Logic
	}
	if can.Count != nil {
		set.Count = *can.Count
	}
	if entries >= 0 {
		set.Count = entries
	}
	if can.Inputs != nil {
		set.Inputs = *can.Inputs
	}
	if can.Blocks != nil {
		set.Blocks = nil
		for _, kind := range *can.Blocks {
			set.Blocks = append(set.Blocks, string(kind))
		}
	}
	flag := func(part string, known bool, is bool, to *bool) {
		if !known {
			set.left = append(set.left, part)
			return
		}
		*to = is
	}
	flag(partOrder, can.Order != "", can.Order == "by_place", &set.ByPlace)
	flag(partBothTrue, can.BothTrue != "", can.BothTrue == "set", &set.SetWins)
	flag(partSetOn, can.SetOn != "", can.SetOn == "edge", &set.OnEdge)
	flag(partThrown, can.ThrownAtPowerOn != "", can.ThrownAtPowerOn == "fires", &set.Fires)
	flag(partRemembers, can.Remembers != nil, can.Remembers != nil && *can.Remembers, &set.Remembers)
	flag(partNegated, can.Negated != nil, can.Negated != nil && *can.Negated, &set.Negated)
	return set
}

// turned gives the set with one part the other way.
func (s Set) turned(part string) Set {
	of := map[string]*bool{partOrder: &s.ByPlace, partBothTrue: &s.SetWins, partSetOn: &s.OnEdge,
		partThrown: &s.Fires, partRemembers: &s.Remembers, partNegated: &s.Negated}[part]
	*of = !*of
	return s
}

// has tells whether an entry can be of a kind.
func (s *Set) has(kind string) bool { return slices.Contains(s.Blocks, kind) }

// latch names the latch that the set has, whichever side of it wins; empty: none.
func (s *Set) latch() string {
	for _, kind := range []string{"sr", "rs"} {
		if s.has(kind) && s.Inputs >= 2 {
			return kind
		}
	}
	return ""
}

// Entry is one entry, as it is keyed in.
type Entry struct {
	N     int      `json:"n"`
	Block string   `json:"block"`
	In    []string `json:"in,omitempty"` // a control's position or the number of an entry; "not " before it
	Set   string   `json:"set,omitempty"`
	Reset string   `json:"reset,omitempty"`
	ForS  *float64 `json:"for_s,omitempty"`
	Of    string   `json:"of,omitempty"`
	Level *float64 `json:"level,omitempty"`
}

// Says says an entry for a person: 3: latch, set wins: set by Horn at on, reset by not entry 2.
func (e *Entry) Says(s *setup.Setup) string {
	kind, takes := e.Words(s)
	return strconv.Itoa(e.N) + ": " + kind + ": " + takes
}

// Words says of what kind an entry is, and what it takes.
func (e *Entry) Words(s *setup.Setup) (kind, takes string) {
	name := func(of string) string {
		ref, not := strings.CutPrefix(of, "not ")
		if id, at, ok := strings.Cut(ref, "."); ok {
			ref = s.Named(setup.ID(id)) + " at " + setup.Name(at).Words()
		} else {
			ref = "entry " + ref
		}
		if not {
			return "not " + ref
		}
		return ref
	}
	var in []string
	for _, of := range e.In {
		in = append(in, name(of))
	}
	kind = setup.Blocks.Name(e.Block)
	switch {
	case e.Set != "":
		return "latch", "set by " + name(e.Set) + ", reset by " + name(e.Reset)
	case e.Of != "":
		return kind, s.Named(setup.ID(e.Of)) + " at " + words.SignedShort(*e.Level) + " %"
	}
	takes = words.And(in)
	if e.Reset != "" {
		takes += ", reset by " + name(e.Reset)
	}
	if e.ForS != nil {
		takes += ", " + words.Short(*e.ForS) + " s"
	}
	return kind, takes
}
