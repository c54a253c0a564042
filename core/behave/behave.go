// Package behave reads what switches do as sentences with places, and writes a sentence that was filled as
// ordinary blocks, steps, sequences, patterns, announcements and mixes. Whoever wrote them, the same parts
// are the same sentence: what is written is read again as what was written. Of a rule it draws the states it
// can be in, and what takes it from one to the next.
package behave

import (
	"fmt"
	"slices"
	"strings"

	"axtren/core/fill"
	"axtren/core/setup"
	"axtren/core/signal"
	"axtren/core/words"
)

// Rule is one sentence of a document.
type Rule struct {
	Key    string       `json:"key"`  // its main part: logic/horn, mixes/blow
	Kind   string       `json:"kind"` // click
	Title  string       `json:"title"`
	Says   []Piece      `json:"says"` // what it does: goes on with one press of Left button, ...
	Places []fill.Place `json:"places"`
	Parts  []Part       `json:"parts"` // what it is written in
	Moves  []string     `json:"moves"` // what functions it acts on, as they are called
	Home   string       `json:"home"`  // the place where it is changed, where that is another one
	States bool         `json:"states"`
}

// Part is a part of the document that a rule is written in.
type Part struct {
	Key  string `json:"key"` // logic/horn
	Says string `json:"says"`
}

// Piece is a piece of a sentence: plain text, or what fills a place.
type Piece struct {
	Text  string `json:"text"`
	Place string `json:"place"` // empty: plain text
	Empty bool   `json:"empty"` // nothing fills it: the text asks for it
	Usual bool   `json:"usual"` // it says what is so of most, and is left out where there is no room
}

// Kind is a kind of sentence that can be written.
type Kind struct {
	Kind    string       `json:"kind"`
	Title   string       `json:"title"`
	Example string       `json:"example"`
	Says    []Piece      `json:"says"` // with nothing filled
	Places  []fill.Place `json:"places"`
}

// kind is one kind of sentence.
type kind struct {
	key, title, example string
	places              []fill.Place
	find                func(r *reader)
	write               func(w *writer) error
	says                func(t *teller)
	home                string            // empty: Rules
	instead             map[string]string // a place that may be empty where another is filled
	only                bool              // it is read, and written elsewhere
}

// kinds are all, in the order in which they are offered.
func kinds() []*kind {
	return []*kind{heldKind(), clickKind(), latchKind(), chooserKind(), stepsKind(), whileKind(), delayKind(),
		runOnKind(), onceKind(), momentKind(), beyondKind(), zonesKind(), presetsKind(), slotsKind(),
		standsKind(), neverKind(), flashesKind(), chaseKind(), saysKind(), movesKind(), schemeKind()}
}

// readOrder is the order in which kinds are looked for: those of several parts first.
var readOrder = []string{"scheme", "chooser", "slots", "never", "presets", "chase", "click", "steps", "zones"}

// found is a sentence that a document has.
type found struct {
	kind  *kind
	main  setup.Item
	parts []setup.Item          // all of it, the main one first
	roles map[string]setup.Item // what each is for
	v     fill.Values
	title string // empty: what the main part is called
	says  string // of a scheme
}

// Read gives the rules of a document, in the order of their main parts in the lists of the document, and of
// these lists: logic, steps, sequences, patterns, announcements, mixes. Every block, stepper, sequence,
// pattern and announcement is in exactly one of them.
func Read(s *setup.Setup, p *signal.Program) []Rule {
	rules := []Rule{}
	for _, f := range find(s, p) {
		rules = append(rules, f.rule(s, p))
	}
	return rules
}

// Count tells how many rules a document has.
func Count(s *setup.Setup, p *signal.Program) int { return len(find(s, p)) }

// Kinds lists the kinds of sentence that can be written.
func Kinds(s *setup.Setup, p *signal.Program) []Kind {
	list := []Kind{}
	for _, k := range kinds() {
		if !k.only {
			list = append(list, Kind{k.key, k.title, k.example, k.tell(s, p, nil), k.filled(s, nil)})
		}
	}
	return list
}

// rank is the place of a list among those that rules are written in.
var rank = map[setup.ItemKind]int{setup.IsBlock: 1, setup.IsStepper: 2, setup.IsSequence: 3,
	setup.IsPattern:      4,
	setup.IsAnnouncement: 5, setup.IsMix: 6}

func find(s *setup.Setup, p *signal.Program) []*found {
	r := &reader{s: s, p: p, claimed: map[setup.Item]bool{}}
	all := kinds()
	first := func(key string) int {
		if at := slices.Index(readOrder, key); at >= 0 {
			return at
		}
		return len(readOrder)
	}
	slices.SortStableFunc(all, func(a, b *kind) int { return first(a.key) - first(b.key) })
	for _, k := range all {
		r.kind = k
		k.find(r)
	}
	slices.SortStableFunc(r.found, func(a, b *found) int {
		if by := rank[a.main.Kind] - rank[b.main.Kind]; by != 0 {
			return by
		}
		return a.main.Index - b.main.Index
	})
	return r.found
}

// rule says a sentence that was found.
func (f *found) rule(s *setup.Setup, p *signal.Program) Rule {
	r := Rule{Key: keyOf(s, f.main), Kind: f.kind.key, Title: f.title, Places: []fill.Place{}, Parts: []Part{},
		Moves: []string{}, Home: f.kind.home, States: f.main.Kind != setup.IsMix &&
			f.main.Kind != setup.IsAnnouncement}
	if r.Title == "" {
		r.Title = s.Label(f.main)
	}
	if f.says != "" {
		r.Says = []Piece{{Text: f.says}}
	} else {
		r.Says = f.kind.tell(s, p, f.v)
	}
	if !f.kind.only {
		r.Places = f.kind.filled(s, f.v)
	}
	for _, part := range f.parts {
		r.Parts = append(r.Parts, Part{keyOf(s, part), blockWords(s, part)})
	}
	for _, output := range f.moves(s) {
		r.Moves = append(r.Moves, s.OutputLabel(output))
	}
	return r
}

// moves lists the outputs that a sentence acts on by mixes of its own, or by mixes that look at it.
func (f *found) moves(s *setup.Setup) []int {
	var list []int
	mix := func(item setup.Item) {
		if at := s.Item(s.Mixes[item.Index].To).Index; item.Kind == setup.IsMix && !slices.Contains(list, at) {
			list = append(list, at)
		}
	}
	for _, part := range f.parts {
		if part.Kind == setup.IsMix {
			mix(part)
			continue
		}
		for e := range s.Graph().To(part) {
			if e.From.Kind == setup.IsMix {
				mix(e.From)
			}
		}
	}
	slices.Sort(list)
	return list
}

// keyOf names a part: logic/horn; a mix without an id by its place.
func keyOf(s *setup.Setup, part setup.Item) string {
	if name := s.PartName(part); name != "" {
		return name
	}
	return fmt.Sprintf("%s/%d", setup.ListOf(part.Kind), part.Index)
}

// blockWords says a part by itself, as blocks are said.
func blockWords(s *setup.Setup, part setup.Item) string {
	name := s.Label(part)
	if part.Kind == setup.IsBlock {
		b := &s.Logic[part.Index]
		return name + ": " + words.Of(b.Block).Name + ", " + words.Block(s, b)
	}
	return words.Part(s, part)
}

// lists are the lists of choices that places name.
var lists = []string{"output", "lever", "switch", "stays", "button", "source", "truth", "beats"}

// Lists gives the lists of choices that places name.
func Lists(s *setup.Setup) map[string][]fill.Choice {
	all := map[string][]fill.Choice{}
	for _, of := range lists {
		all[of] = choicesOf(s, of)
	}
	return all
}

// filled gives the places of a kind, filled as far as v has something. Their choices are in the lists that
// they name.
func (k *kind) filled(s *setup.Setup, v fill.Values) []fill.Place {
	list := []fill.Place{}
	for _, place := range k.places {
		place.Values = append([]string{}, v[place.Key]...)
		if v == nil {
			place.Values = append([]string{}, place.Usual...)
		}
		if place.Choices == nil {
			place.Choices = []fill.Choice{}
		}
		switch {
		case place.Kind == fill.Positions:
			place.Names = fill.PositionsOf(s, v.One("switch"))
		case place.Names == nil:
			place.Names = []string{}
		}
		list = append(list, place)
	}
	return list
}

// choicesOf lists what can fill a place.
func choicesOf(s *setup.Setup, of string) []fill.Choice {
	list := []fill.Choice{}
	switch of {
	case "output":
		for i, o := range s.Outputs {
			list = append(list, fill.Choice{Value: string(o.ID), Label: s.OutputLabel(i)})
		}
	case "lever", "switch", "stays", "button":
		for i, c := range s.Transmitter.Controls {
			sw := c.Switch
			fits := map[string]bool{"lever": sw == nil, "switch": sw != nil,
				"stays": sw != nil && sw.SpringTo == nil, "button": isButton(&c)}[of]
			if fits {
				list = append(list, fill.Choice{Value: string(c.ID), Label: s.ControlLabel(i),
					Names: fill.PositionsOf(s, string(c.ID)), Usual: begins(of, sw)})
			}
		}
	case "source":
		for i, c := range s.Transmitter.Controls {
			list = append(list, fill.Choice{Value: string(c.ID), Label: s.ControlLabel(i)})
		}
		for i, d := range s.Demands {
			list = append(list, fill.Choice{Value: string(d.ID), Label: s.DemandLabel(i) + ", with its feel"})
		}
		for i, o := range s.Outputs {
			list = append(list, fill.Choice{Value: string(o.ID) + ".asked", Label: "what is asked of " +
				s.OutputLabel(i)})
		}
		for _, sq := range s.Sequences {
			for _, t := range sq.Tracks {
				list = append(list, fill.Choice{Value: string(sq.ID) + "." + string(t.Name),
					Label: s.Named(sq.ID) + ", " + t.Name.Words()})
			}
		}
		for _, st := range s.Steppers {
			list = append(list, fill.Choice{Value: string(st.ID), Label: s.Named(st.ID)})
		}
	case "truth":
		list = truthChoices(s)
	case "beats":
		list = beatChoices()
	}
	return list
}

// truthChoices are the conditions of a document, each with its opposite.
func truthChoices(s *setup.Setup) []fill.Choice {
	list := []fill.Choice{}
	for _, t := range s.Truths() {
		for _, one := range []setup.Truth{t, "not " + t} {
			list = append(list, fill.Choice{Value: string(one), Label: words.While(s, one)})
		}
	}
	return list
}

// begins gives what the positions of a switch begin with: of one that stays what it can be set to, of
// another a mild preset for each; none for a lever.
func begins(of string, sw *setup.Switch) []string {
	switch {
	case sw == nil:
		return nil
	case of != "stays":
		return mildOf(len(sw.Positions))
	}
	var rows []string
	for i, at := range sw.Positions {
		if i > 0 || len(sw.Positions) > 2 { // of two the second, and not it is the first
			rows = append(rows, string(at), "Set for "+at.Words())
		}
	}
	return rows
}

// switchOf gives a switch by its id; nil for none.
func switchOf(s *setup.Setup, control string) *setup.Switch {
	if at := s.Item(setup.ID(control)); at.Kind == setup.IsControl {
		return s.Transmitter.Controls[at.Index].Switch
	}
	return nil
}

// isButton tells whether a control has two positions and goes back to one by itself.
func isButton(c *setup.Control) bool {
	return c.Switch != nil && c.Switch.SpringTo != nil && len(c.Switch.Positions) == 2
}

// teller says a sentence piece by piece.
type teller struct {
	fill.Values
	s      *setup.Setup
	p      *signal.Program
	places []fill.Place
	pieces []Piece
	usual  bool // what is said now is so of most
}

// tell says a kind, filled with v; nil: with nothing.
func (k *kind) tell(s *setup.Setup, p *signal.Program, v fill.Values) []Piece {
	if k.says == nil {
		return []Piece{}
	}
	if v == nil {
		v = fill.Values{}
		for _, place := range k.places {
			v[place.Key] = place.Usual
		}
	}
	t := &teller{Values: v, s: s, p: p, places: k.places}
	k.says(t)
	return t.pieces
}

// text adds plain text.
func (t *teller) text(text string) { t.pieces = append(t.pieces, Piece{Text: text, Usual: t.usual}) }

// mostly says what is so of most, where it is.
func (t *teller) mostly(so bool, say func()) {
	before := t.usual
	t.usual = so
	say()
	t.usual = before
}

// place adds what fills a place, said so; while nothing does, what it asks for.
func (t *teller) place(key, said string) {
	at := slices.IndexFunc(t.places, func(p fill.Place) bool { return p.Key == key })
	empty := t.One(key) == "" && len(t.Values[key]) < 2
	if empty {
		said = words.Small(t.places[at].Label)
	}
	t.pieces = append(t.pieces, Piece{Text: said, Place: key, Empty: empty, Usual: t.usual})
}

// choice adds a place of choices, with the words of the one that fills it.
func (t *teller) choice(key string) {
	t.place(key, t.chosen(key))
}

// chosen gives the words of what fills a place of choices.
func (t *teller) chosen(key string) string {
	for _, place := range t.places {
		if place.Key != key {
			continue
		}
		choices := place.Choices
		if choices == nil {
			choices = choicesOf(t.s, place.Of)
		}
		for _, c := range choices {
			if c.Value == t.One(key) {
				return c.Label
			}
		}
	}
	return t.One(key)
}

// while and when say the condition that fills a place.
func (t *teller) while(key string) { t.place(key, t.holds(t.One(key))) }

func (t *teller) when(key string) { t.place(key, t.comes(t.One(key))) }

// holds says a condition as it holds; comes, as it comes to hold.
func (t *teller) holds(text string) string {
	if of, level, ok := beyond(text); ok {
		return t.s.Named(of) + " is " + level
	}
	return words.While(t.s, setup.Truth(text))
}

func (t *teller) comes(text string) string {
	if of, level, ok := beyond(text); ok {
		return t.s.Named(of) + " comes " + level
	}
	return words.When(t.s, setup.Truth(text))
}

// beyond reads a lever beyond a level, which is no block yet: drive>30, not drive<-30.
func beyond(text string) (of setup.ID, says string, ok bool) {
	body, not := base(setup.Truth(text))
	at := strings.IndexAny(string(body), "<>")
	if at < 0 {
		return "", "", false
	}
	level, _ := fill.ReadFigure(string(body[at+1:]))
	says = map[bool]string{true: "above ", false: "below "}[(body[at] == '>') != not] + said(level, "%")
	return setup.ID(body[:at]), says, true
}

// Say says a sentence as far as it is filled, before it is written.
func Say(doc *setup.Document, p *signal.Program, of fill.Filled) (Kind, error) {
	for _, k := range kinds() {
		if k.key == of.Kind && !k.only {
			v := fill.Values{}
			for _, place := range k.places {
				v[place.Key] = of.Values[place.Key]
			}
			return Kind{k.key, k.title, k.example, k.tell(doc.Setup, p, v), k.filled(doc.Setup, v)}, nil
		}
	}
	return Kind{}, noKind(of.Kind)
}

func noKind(key string) error {
	return setup.Refused("rule.kind", key, "is no kind of rule", "choose one from the list")
}

// figure adds a place with a figure and its unit.
func (t *teller) figure(key, unit string) { t.place(key, said(t.Number(key), unit)) }

// said writes a figure with its unit; percent with a sign.
func said(v float64, unit string) string {
	if unit == "%" {
		return words.SignedShort(v) + " %"
	}
	return words.Short(v) + " " + unit
}

// Sentence gives a rule as one sentence, without what is so of most.
func (r *Rule) Sentence() string {
	text := r.Title + ": "
	for _, piece := range r.Says {
		if !piece.Empty && !piece.Usual {
			text += piece.Text
		}
	}
	return strings.ReplaceAll(strings.Join(strings.Fields(text), " "), " ,", ",")
}
