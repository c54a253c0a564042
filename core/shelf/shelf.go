// Package shelf tells how the parts of a model stand to the pieces of the person's shelf that
// they are copies of, and what becomes of a shelf that many models share: what is in which model,
// what is spare, what is promised twice.
package shelf

import (
	"fmt"
	"math"
	"slices"
	"strings"

	"axtren/core/edit"
	"axtren/core/parts"
	"axtren/core/setup"
	"axtren/core/words"
)

// Standing is how a copy stands to its piece.
type Standing struct {
	// what taking over what the piece has now would change in the model, a sentence each
	Takes []string
	// why the model could not be with it; nil where it can
	Refused error
	// what the copy has that the piece does not, a sentence each
	Tells []string
}

// Compare tells how a copy of a model stands to its piece as it is now. base is the piece as it
// was when the copy was last compared with it; nil is unknown. The error is setup.Problems where
// the two are not of one kind.
func Compare(doc *setup.Document, part string, base, piece *setup.Document) (*Standing, error) {
	tree, left, err := parts.TakeOver(doc, part, base, piece)
	if err != nil {
		return nil, err
	}
	st := &Standing{Takes: []string{}, Tells: []string{}}
	if ops := edit.Diff(doc.Tree, tree); len(ops) > 0 {
		var result *edit.Result
		if result, st.Refused = edit.ApplyOps(doc, ops); st.Refused == nil {
			st.Takes = sentences(edit.AllWords(doc, result.Doc, ops))
		}
	}
	for _, what := range left {
		st.Takes = append(st.Takes, what+" is not on the piece any more; it stays, since this model uses it.")
	}
	if tree, err = parts.Learn(piece, base, doc, part); err != nil {
		return nil, err
	}
	if ops := edit.Diff(piece.Tree, tree); len(ops) > 0 {
		if result, err := edit.ApplyOps(piece, ops); err == nil {
			st.Tells = sentences(edit.AllWords(piece, result.Doc, ops))
		}
	}
	return st, nil
}

func sentences(all string) []string { return strings.Split(all, "\n") }

// Use is a part of a model that is a copy of a piece, or could be one.
type Use struct {
	Part     string `json:"part"`
	Kind     string `json:"kind"`     // transmitter, module, receiver, device
	Label    string `json:"label"`    // what the model calls it
	Piece    string `json:"piece"`    // the key of its piece; empty for none
	Revision int    `json:"revision"` // of the piece
	// of a module: where its knob stands; empty where it is not said
	Position string `json:"position,omitempty"`
}

// Holds is what a model has of a shelf, and where it is kept in its transmitter.
type Holds struct {
	What   string `json:"what"`   // what the model is, in words
	Memory int    `json:"memory"` // 0: not said
	Uses   []Use  `json:"uses"`
}

// HoldsOf lists what a model has.
func HoldsOf(s *setup.Setup) Holds {
	h := Holds{What: s.Craft.What(), Memory: s.Craft.Memory, Uses: []Use{}}
	for _, c := range s.Copies() {
		use := Use{Part: c.Part, Kind: c.Kind.Key, Label: s.CopyLabel(c)}
		if c.Kind.Key == "module" {
			use.Position = s.Link.Module.Position
		}
		if c.From != nil {
			use.Piece, use.Revision = string(c.From.Piece), c.From.Revision
		}
		h.Uses = append(h.Uses, use)
	}
	return h
}

// Of gives what a model has of a piece.
func (h *Holds) Of(piece string) []Use {
	var list []Use
	for _, use := range h.Uses {
		if use.Piece == piece {
			list = append(list, use)
		}
	}
	return list
}

// Transmitter gives the key of the transmitter's piece; empty where it is a copy of none.
func (h *Holds) Transmitter() string {
	at := slices.IndexFunc(h.Uses, func(u Use) bool { return u.Kind == "transmitter" })
	if at < 0 {
		return ""
	}
	return h.Uses[at].Piece
}

// Reversed lists the functions whose channels are reversed, in the order of the document.
func Reversed(s *setup.Setup) []string {
	list := []string{}
	for i := range s.Outputs {
		if s.Outputs[i].Reverse {
			list = append(list, s.OutputLabel(i))
		}
	}
	return list
}

// Unequal lists the functions that go less far one way than the other, from their centre, with both
// ends.
func Unequal(s *setup.Setup) []string {
	list := []string{}
	for i := range s.Outputs {
		o := &s.Outputs[i]
		if low, high := o.Centre-o.Low, o.High-o.Centre; math.Abs(low-high) > 1e-9 {
			list = append(list, fmt.Sprintf("%s (%s and %s)", s.OutputLabel(i), words.Short(low), words.Short(high)))
		}
	}
	return list
}

// Spare tells how many of a piece are in no model: count less uses; below 0 where more models
// have one than there are. Of what is shared there is always one, and nothing is spare.
func Spare(kind *setup.PieceKind, count, uses int) int {
	if kind.Shared {
		return 0
	}
	return count - uses
}

// Places says in which models a piece is, and how many are spare: in Marram and Stoat; 2 spare.
// models are the names of the models, one for each use.
func Places(kind *setup.PieceKind, count int, models []string) string {
	said := "in no model"
	if len(models) > 0 {
		said = "in " + Few(counted(models))
	}
	if spare := Spare(kind, count, len(models)); spare > 0 && count > 1 {
		said += fmt.Sprintf("; %d spare", spare)
	}
	return said
}

// few is how many names are said one by one.
const few = 6

// Few joins names as a sentence does; of many it says some, and counts the rest.
func Few(names []string) string {
	if len(names) <= few {
		return words.And(names)
	}
	return fmt.Sprintf("%s and %d more", strings.Join(names[:few-1], ", "), len(names)-few+1)
}

// counted says each name once, with how often it is there.
func counted(names []string) []string {
	list, times := []string{}, map[string]int{}
	for _, name := range names {
		if times[name]++; times[name] == 1 {
			list = append(list, name)
		}
	}
	for i, name := range list {
		if n := times[name]; n > 1 {
			list[i] = fmt.Sprintf("%s (%d)", name, n)
		}
	}
	return list
}

// Crowded says that more models have a piece than there are of it; empty where it is not so.
func Crowded(kind *setup.PieceKind, label string, count int, models []string) string {
	if Spare(kind, count, len(models)) >= 0 {
		return ""
	}
	there := "there is one of it"
	if count > 1 {
		there = fmt.Sprintf("there are %d of it", count)
	}
	return fmt.Sprintf("%s is in %s, and %s: say how many you have, or which model has another one", label,
		Few(counted(models)), there)
}

// Stops lists the functions of a model that would stop if a part of it broke, in the order of the
// document: those that all go through it.
func Stops(s *setup.Setup, of setup.Copy) []string {
	list := []string{}
	for i := range s.Outputs {
		if through(s, of, i) {
			list = append(list, s.OutputLabel(i))
		}
	}
	return list
}

// through tells whether nothing of an output arrives without a part. An output that moves no
// device yet stops with the receiver of its pins.
func through(s *setup.Setup, of setup.Copy, output int) bool {
	switch of.Kind.Key {
	case "receiver":
		pins := s.Carriers(output)
		return len(pins) > 0 && !slices.ContainsFunc(pins,
			func(ref setup.PinRef) bool { return ref.Receiver != of.Item.Index })
	case "device":
		behind := s.After(of.Item.Index)
		return s.DrivenBy(of.Item.Index) == output && !slices.ContainsFunc(s.Drives(output),
			func(i int) bool { return i != of.Item.Index && !slices.Contains(behind, i) })
	}
	return true
}

// Says says in short what is known of a piece.
func Says(s *setup.Setup) string {
	of, there := s.PieceCopy()
	if !there {
		return ""
	}
	switch of.Kind.Key {
	case "transmitter":
		said := []string{words.Count(len(s.Transmitter.Controls), "control", "controls")}
		if can := s.Transmitter.Can; can != nil && can.Channels != nil {
			said = append(said, words.Count(*can.Channels, "channel", "channels"))
		}
		return strings.Join(said, ", ")
	case "module":
		if most := s.Link.Module.MostChannels; most > 0 {
			return words.Count(most, "channel", "channels")
		}
		return ""
	case "receiver":
		return words.Count(len(s.Receivers[of.Item.Index].Pins), "pin", "pins")
	}
	return setup.Devices.Name(s.Devices[of.Item.Index].Kind)
}
