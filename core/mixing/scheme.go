package mixing

import (
	"fmt"
	"slices"
	"strings"

	"axtren/core/fill"
	"axtren/core/setup"
	"axtren/core/words"
)

// Scheme is a way in which functions go together that is more than a pair: a pump for any number of
// valves, rear wheels that steer by a switch. It is written as ordinary demands, blocks and mixes, and
// known again whoever wrote them.
type Scheme struct {
	Kind   string       `json:"kind"`
	Key    string       `json:"key"` // which one it is; empty: none yet
	Title  string       `json:"title"`
	Does   string       `json:"does"`
	Says   string       `json:"says"` // what it does as it is filled; empty while it is not
	Places []fill.Place `json:"places"`
}

// schemeKind is one kind of scheme.
type schemeKind struct {
	key, title, does string
	places           []fill.Place
	find             func(s *setup.Setup) []found
	write            func(w *schemer) error
	says             func(s *setup.Setup, v fill.Values) string
	clear            func(w *schemer, f *found) error // besides taking its parts out; nil: nothing
}

// found is a scheme that the document has.
type found struct {
	values fill.Values
	mixes  []int
	helps  []setup.ID // blocks and demands, those that use others first
}

// keyOf names one scheme among those of a document: what it moves.
func (k *schemeKind) keyOf(v fill.Values) string {
	list := []string{k.key}
	for _, place := range k.places {
		if place.Of == "output" || place.Of == "pair" {
			list = append(list, strings.Join(v[place.Key], "+"))
		}
	}
	return strings.Join(list, ":")
}

func schemeKinds() []*schemeKind {
	return []*schemeKind{pumpKind(), flowKind(), pivotKind(), fourWheelKind(), screwsKind(),
		splitKind(), brakesKind(), planesKind(), diveKind()}
}

// Schemes lists the schemes of a document, those that there could be after those that there are.
func Schemes(s *setup.Setup) (has, could []Scheme) {
	has, could = []Scheme{}, []Scheme{}
	for _, kind := range schemeKinds() {
		for _, f := range kind.find(s) {
			of := kind.scheme(s, f.values)
			of.Key, of.Says = kind.keyOf(f.values), kind.says(s, f.values)
			has = append(has, of)
		}
		could = append(could, kind.scheme(s, nil))
	}
	return has, could
}

// Told is a scheme that a document has, in words, with the blocks and demands that it is written in
// besides its mixes.
type Told struct {
	Title, Says string
	Helps       []setup.ID
}

// Has lists the schemes of a document that are written in blocks.
func Has(s *setup.Setup) []Told {
	var list []Told
	if len(s.Logic) == 0 {
		return list
	}
	for _, kind := range schemeKinds() {
		for _, f := range kind.find(s) {
			if len(f.helps) > 0 {
				list = append(list, Told{kind.title, kind.says(s, f.values), f.helps})
			}
		}
	}
	return list
}

// scheme gives a kind with its places, filled as far as v has something.
func (k *schemeKind) scheme(s *setup.Setup, v fill.Values) Scheme {
	of := Scheme{Kind: k.key, Title: k.title, Does: k.does, Places: []fill.Place{}}
	for _, place := range k.places {
		place.Values, place.Names = []string{}, []string{}
		if v != nil {
			place.Values = append(place.Values, v[place.Key]...)
		} else {
			place.Values = append(place.Values, place.Usual...)
		}
		if place.Choices == nil {
			place.Choices = choicesOf(s, place.Of)
		}
		if place.Kind == "positions" && v != nil {
			place.Names = fill.PositionsOf(s, v.One("switch"))
		}
		of.Places = append(of.Places, place)
	}
	return of
}

// choicesOf lists what can fill a place.
func choicesOf(s *setup.Setup, of string) []fill.Choice {
	list := []fill.Choice{}
	switch of {
	case "output":
		for i, o := range s.Outputs {
			list = append(list, fill.Choice{Value: string(o.ID), Label: s.OutputLabel(i)})
		}
	case "source":
		for _, src := range Sources(s) {
			list = append(list, fill.Choice{Value: src.Ref, Label: src.Label})
		}
	case "lever", "switch":
		for i, c := range s.Transmitter.Controls {
			if (c.Axis != nil) == (of == "lever") {
				list = append(list, fill.Choice{Value: string(c.ID), Label: s.ControlLabel(i),
					Names: fill.PositionsOf(s, string(c.ID))})
			}
		}
	case "pair":
		for _, p := range Find(s) {
			if p.Choice.Way == OneStick || p.Choice.Way == Both {
				list = append(list, fill.Choice{Value: p.First + " " + p.Second, Label: p.Label})
			}
		}
	}
	return list
}

// schemer writes a scheme.
type schemer struct {
	setup.Draft
	fill.Values
}

func (w *schemer) s() *setup.Setup { return w.Doc.Setup }

func (w *schemer) output(key string) int { return w.s().Item(setup.ID(w.One(key))).Index }

func (w *schemer) label(output string) string { return lineName(w.s(), output) }

// WriteScheme writes a scheme in the place of the one that it was, and says it. The error is setup.Problems.
func WriteScheme(doc *setup.Document, of fill.Filled) (tree *setup.Node, said string, err error) {
	kinds := schemeKinds()
	at := slices.IndexFunc(kinds, func(k *schemeKind) bool { return k.key == of.Kind })
	if at < 0 {
		return nil, "", setup.Refused("scheme.kind", of.Kind, "is no way to let functions go together",
			"choose one from the list")
	}
	kind := kinds[at]
	w := &schemer{Draft: setup.Draft{Doc: doc}, Values: of.Values}
	if of.Was != "" {
		if err := kind.remove(w, of.Was); err != nil {
			return nil, "", err
		}
	}
	if err := kind.check(w.s(), w.Values); err != nil {
		return nil, "", err
	}
	if err := kind.write(w); err != nil {
		return nil, "", err
	}
	return w.Doc.Tree, kind.says(w.s(), w.Values), nil
}

// RemoveScheme takes a scheme apart: what it moves is moved by nothing of it any more.
func RemoveScheme(doc *setup.Document, key string) (tree *setup.Node, said string, err error) {
	for _, kind := range schemeKinds() {
		if strings.HasPrefix(key, kind.key+":") {
			w := &schemer{Draft: setup.Draft{Doc: doc}}
			if err := kind.remove(w, key); err != nil {
				return nil, "", err
			}
			return w.Doc.Tree, kind.title + ": taken apart", nil
		}
	}
	return nil, "", setup.Refused("scheme.was", key, "is not in this model", "open Mixing anew")
}

// remove takes a scheme out: its mixes, and the blocks and demands that nothing else uses.
func (k *schemeKind) remove(w *schemer, key string) error {
	for _, f := range k.find(w.s()) {
		if k.keyOf(f.values) != key {
			continue
		}
		if k.clear != nil {
			if err := k.clear(w, &f); err != nil {
				return err
			}
		}
		var mixes []setup.Item
		for _, i := range f.mixes {
			mixes = append(mixes, setup.IsMix.At(i))
		}
		if err := w.Remove(mixes...); err != nil {
			return err
		}
		return w.dropHelps(f.helps)
	}
	return setup.Refused("scheme.was", key, "is not in this model any more", "open Mixing anew")
}

// dropHelps takes out the blocks and demands that nothing uses any more.
func (w *schemer) dropHelps(helps []setup.ID) error {
	for _, id := range helps {
		item := w.s().Item(id)
		if item.Kind == 0 {
			continue
		}
		used := false
		for range w.s().Graph().To(item) {
			used = true
		}
		if !used {
			if err := w.Remove(item); err != nil {
				return err
			}
		}
	}
	return nil
}

// check looks whether every place is filled with something that it can be, and no function twice.
func (k *schemeKind) check(s *setup.Setup, v fill.Values) error {
	taken := map[string]string{}
	for _, place := range k.scheme(s, v).Places {
		if err := place.Check("scheme", v, len(fill.PositionsOf(s, v.One("switch")))); err != nil {
			return err
		}
		if place.Of != "output" {
			continue
		}
		for _, one := range v[place.Key] {
			if other := taken[one]; other != "" {
				return setup.Refused("scheme."+place.Key, lineName(s, one), "is "+other+" already",
					"choose another function")
			}
			taken[one] = words.Small(place.Label)
		}
	}
	return nil
}

// fresh takes the mixes out that bring the control behind a source to some outputs; all of them where the
// source is none.
func (w *schemer) fresh(source string, outputs ...string) error {
	var out []setup.Item
	for _, output := range outputs {
		for _, i := range w.s().MixesTo(w.s().Item(setup.ID(output)).Index) {
			if source == "" || w.hand(w.s().Mixes[i].From) == w.hand(setup.Value{Ref: source}) {
				out = append(out, setup.IsMix.At(i))
			}
		}
	}
	return w.Remove(out...)
}

// hand gives the control behind a source; what has none is its own.
func (w *schemer) hand(v setup.Value) string {
	if c := control(w.s(), v.Ref); c != "" {
		return c
	}
	return v.Ref
}

// mix adds a mix.
func (w *schemer) mix(to string, from any, more ...any) error {
	stem := fmt.Sprint(from)
	if _, text := from.(string); !text {
		stem = "set"
	}
	pairs := append([]any{"id", w.s().FreeID(to + "_" + strings.ReplaceAll(stem, ".", "_")), "to", to,
		"from", from}, more...)
	return w.Add("mixes", setup.GroupNode(pairs...))
}

// block adds a block, and gives its id.
func (w *schemer) block(stem, label, kind string, more ...any) (id string, err error) {
	id = w.s().FreeID(stem)
	return id, w.Add("logic", setup.GroupNode(append([]any{"id", id, "label", label, "block", kind},
		more...)...))
}

// demand adds a demand, and gives its id.
func (w *schemer) demand(stem, label, from string, more ...any) (id string, err error) {
	id = w.s().FreeID(stem)
	return id, w.Add("demands", setup.GroupNode(append([]any{"id", id, "label", label, "from", from},
		more...)...))
}

// blockOf gives the block of an id that is of a kind; nil for none.
func blockOf(s *setup.Setup, ref string, kind string) *setup.Block {
	item := s.Item(setup.ID(ref))
	if item.Kind != setup.IsBlock || s.Logic[item.Index].Block != kind {
		return nil
	}
	return &s.Logic[item.Index]
}

// demandOf gives the demand of an id; nil for none.
func demandOf(s *setup.Setup, ref string) *setup.Demand {
	item := s.Item(setup.ID(ref))
	if item.Kind != setup.IsDemand {
		return nil
	}
	return &s.Demands[item.Index]
}

// askedOf gives the output whose asked a value is; empty for none.
func askedOf(s *setup.Setup, v setup.Value) string {
	src, err := s.Source(v)
	if err != nil || v.Ref == "" || src.Kind != setup.SourceAsked {
		return ""
	}
	return string(s.Outputs[src.Index].ID)
}

// bare tells whether a mix does nothing but add its source by one gain.
func bare(m *setup.Mix) bool {
	return adds(m) && m.FadeS == 0 && m.When == nil
}

// adds tells whether a mix adds its source by one gain, at some time.
func adds(m *setup.Mix) bool {
	return m.Shape == "plain" && m.Combine == "add" && m.Bias == 0 && !m.Gain.Split
}

// labels says what outputs are called, joined.
func labels(s *setup.Setup, outputs []string) string {
	var list []string
	for _, id := range outputs {
		list = append(list, lineName(s, id))
	}
	return words.And(list)
}

// GiveFeel makes a demand of a control, which does nothing yet, and lets the mixes of some outputs that
// come from the control come from it. It gives its id.
func GiveFeel(d *setup.Draft, control string, outputs ...string) (id string, err error) {
	s := d.Doc.Setup
	id = s.FreeID(control + "_feel")
	if err := d.Add("demands", setup.GroupNode("id", id, "label", name(s, control)+", feel", "from",
		control)); err != nil {
		return "", err
	}
	for _, output := range outputs {
		for _, i := range s.MixesTo(s.Item(setup.ID(output)).Index) {
			if s.Mixes[i].From.Ref == control {
				if err := d.Set(fmt.Sprintf("/mixes/%d/from", i), id); err != nil {
					return "", err
				}
			}
		}
	}
	return id, nil
}
