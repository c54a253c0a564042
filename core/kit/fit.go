package kit

import (
	"cmp"
	"encoding/json"
	"iter"
	"slices"
	"strings"

	"axtren/core/edit"
	"axtren/core/setup"
	"axtren/core/signal"
	"axtren/core/words"
)

// Way is one way to do without what the transmitter cannot.
type Way struct {
	// what is done, as an instruction without its full stop
	Says string `json:"says"`
	// what is lost by it, without its full stop; empty where playing tells
	Lost string `json:"lost"`
	// what playing both has shown
	Differs Difference `json:"differs"`
	// what it changes in the document
	Patch []edit.Op `json:"patch"`
}

// Unfit is a misfit with the ways to do without, the nearest first.
type Unfit struct {
	Misfit
	// whether ways were sought; of very many misfits only of the first
	Sought bool  `json:"sought"`
	Ways   []Way `json:"ways"`
}

// mostWays is how many ways are given for a misfit, mostSought of how many misfits they are
// sought.
const (
	mostWays   = 2
	mostSought = 30
)

// Fit lists what the transmitter of a document cannot do, each with the nearest ways that it
// can. Every way was applied and played: it does away with its misfit and brings no other.
// p is the program of the document. Each takes some hundredths of a second; of the first
// mostSought are ways sought.
func Fit(doc *setup.Document, p *signal.Program) iter.Seq[Unfit] {
	return func(yield func(Unfit) bool) {
		all, entries := findMisfits(doc.Setup)
		for i := range all {
			f := &finder{doc: doc, p: p, s: doc.Setup, can: doc.Setup.Transmitter.Can, of: &all[i], all: all,
				entries: entries}
			if i < mostSought {
				f.find()
			}
			slices.SortStableFunc(f.ways, nearer)
			if !yield(Unfit{all[i], i < mostSought, append([]Way{}, f.ways[:min(len(f.ways), mostWays)]...)}) {
				return
			}
		}
	}
}

// finder looks for the ways around one misfit.
type finder struct {
	doc  *setup.Document
	p    *signal.Program
	s    *setup.Setup
	can  *setup.Can
	of   *Misfit
	all  []Misfit
	ways []Way

	entries bool // the rules can be keyed in as entries: that is not asked again
}

// offer keeps a way where it does what it is to do. led are the controls that hands put otherwise then.
func (f *finder) offer(says, lost string, c *change, led ...follow) {
	ops := c.all()
	if len(ops) == 0 {
		return
	}
	result, err := edit.ApplyOps(f.doc, ops)
	if err != nil {
		return // it cannot be done to this document
	}
	now, left := result.Doc.Setup, allMisfits(result.Doc.Setup)
	if f.entries {
		left = slices.DeleteFunc(left, ofLogic)
	}
	if !f.solves(now, left) {
		return
	}
	f.ways = append(f.ways, Way{says, lost, f.compare(result, led), ops})
}

// solves tells whether in another revision the misfit is gone, and none is there that was not.
func (f *finder) solves(now *setup.Setup, left []Misfit) bool {
	if len(left) >= len(f.all) {
		return false
	}
	before, alike := map[identity]bool{}, 0
	isAlike := func(m *Misfit) bool { return m.Rule == f.of.Rule && m.Says == f.of.Says }
	for i := range f.all {
		before[identityOf(f.s, &f.all[i])] = true
		if isAlike(&f.all[i]) {
			alike++
		}
	}
	for i := range left {
		is := identityOf(now, &left[i])
		if is.part != (setup.Key{}) && (is == identityOf(f.s, f.of) || !before[is]) {
			return false
		}
		if isAlike(&left[i]) {
			alike--
		}
	}
	return alike > 0 // what has no key of its own, or is but a number, is known by what is said
}

// identity is what a misfit is known by in every revision.
type identity struct {
	rule, field string
	part        setup.Key
}

// identityOf gives the identity of a misfit of a setup. Mixes get their ids by being edited, and
// entries of the start check have none: those are without a key.
func identityOf(s *setup.Setup, m *Misfit) identity {
	is := identity{rule: m.Rule}
	switch m.Part.Kind {
	case 0, setup.IsMix, setup.IsStartEntry:
		return is
	}
	is.part, is.field = s.Key(m.Part), strings.TrimPrefix(m.Where, m.Part.Path())
	return is
}

// compare plays what a way has changed: where one part is meant, what hangs on it.
func (f *finder) compare(after *edit.Result, led []follow) Difference {
	if f.of.Part.Kind == 0 || f.of.Part.Kind == setup.IsStartEntry {
		return compare(f.p, after.Program, led)
	}
	ahead := f.s.Graph().Ahead(f.of.Part)
	before, err := signal.Compile(cone(f.s, ahead))
	if err != nil {
		return compare(f.p, after.Program, led) // its own ring has another order: all of it, then
	}
	then, err := signal.Compile(cone(after.Doc.Setup, standing(f.s, after.Doc.Setup, ahead)))
	if err != nil {
		return compare(f.p, after.Program, led)
	}
	return compare(before, then, led)
}

// cone gives what decides some parts, with all controls.
func cone(s *setup.Setup, parts []setup.Item) *setup.Setup {
	some := s.Cone(parts...)
	some.Transmitter.Controls = s.Transmitter.Controls
	some.Relink()
	return some
}

// standing gives where outputs, devices and announcements among parts stand in another
// revision, without those that are gone.
func standing(before, after *setup.Setup, parts []setup.Item) []setup.Item {
	var list []setup.Item
	for _, part := range parts {
		switch part.Kind {
		case setup.IsOutput, setup.IsDevice, setup.IsAnnouncement:
			if now := after.Item(before.Key(part).ID); now.Kind == part.Kind {
				list = append(list, now)
			}
		}
	}
	return list
}

// change collects the operations of a patch.
type change struct {
	s   *setup.Setup
	ops []edit.Op
	out []setup.Item // the parts that go, after all else: until then all stand where they stood
}

// all gives the whole patch.
func (c *change) all() []edit.Op {
	whole := &change{s: c.s, ops: slices.Clone(c.ops)}
	slices.SortFunc(c.out, func(a, b setup.Item) int { return cmp.Compare(b.Index, a.Index) })
	for _, part := range c.out {
		whole.ops = append(whole.ops, edit.Op{Op: "remove", Path: whole.at(part)})
	}
	return whole.ops
}

func (f *finder) change() *change { return &change{s: f.s} }

// pointer gives the JSON Pointer of a part.
func pointer(part setup.Item) string {
	list, index, _ := strings.Cut(strings.TrimSuffix(part.Path(), "]"), "[")
	return "/" + strings.ReplaceAll(list, ".", "/") + "/" + index
}

// at notes which part is meant: a patch must not hit another one.
func (c *change) at(part setup.Item) string {
	to := pointer(part)
	if id := string(c.s.Key(part).ID); id != "" {
		c.op("test", to+"/id", id)
	}
	return to
}

func (c *change) op(op, path string, value any) {
	raw, err := json.Marshal(value)
	if err != nil {
		panic(err) // only plain values are put into patches
	}
	message := json.RawMessage(raw)
	c.ops = append(c.ops, edit.Op{Op: op, Path: path, Value: &message})
}

// set sets a field of a part.
func (c *change) set(part setup.Item, field string, value any) *change {
	c.op("add", c.at(part)+"/"+field, value)
	return c
}

// take takes a field of a part, or an element of a list in it, out; it must be there.
func (c *change) take(part setup.Item, field string) *change {
	c.ops = append(c.ops, edit.Op{Op: "remove", Path: c.at(part) + "/" + field})
	return c
}

// remove takes a part out.
func (c *change) remove(part setup.Item) *change {
	c.out = append(c.out, part)
	return c
}

// insert puts an element before a part of a list.
func (c *change) insert(before setup.Item, value any) *change {
	c.op("add", pointer(before), value)
	return c
}

// Text says a way in a sentence or two, without the last full stop: Use −96: differs by up to
// 0.5 % in Rudder with Right stick, helm at −100.
func (w *Way) Text() string {
	said := words.Capital(w.Says) + ": " + w.Differs.Words
	if w.Lost != "" {
		said += ". What is lost: " + w.Lost
	}
	return said
}
