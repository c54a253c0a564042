package edit

import (
	"encoding/json"
	"fmt"
	"slices"
	"strconv"
	"strings"
	"unicode/utf8"

	"axtren/core/setup"
	"axtren/core/words"
)

// AllWords says everything that a patch changed, a sentence a line.
func AllWords(before, after *setup.Document, ops []Op) string {
	all := said(before, after, ops)
	for i := range all {
		all[i] += "."
	}
	return strings.Join(all, "\n")
}

// summary says in short what a patch changed.
func summary(before, after *setup.Document, ops []Op) string {
	said := said(before, after, ops)
	switch {
	case len(said) == 0:
		return "nothing"
	case len(said) > 3:
		return fmt.Sprintf("%s and %d more", strings.Join(said[:2], "; "), len(said)-2)
	}
	return strings.Join(said, "; ")
}

func said(before, after *setup.Document, ops []Op) (list []string) {
	for _, one := range Changes(before, after, ops) {
		list = append(list, one.Says)
	}
	return list
}

// Change is one thing that a patch changed.
type Change struct {
	Part setup.ID // the part that it is about, before or after; empty: the model, or a group of its fields
	Says string   // in words, without a stop
	Path string   // JSON Pointer
}

// Changes lists what a patch changed, one after the other.
func Changes(before, after *setup.Document, ops []Op) []Change {
	c := changes{before, after, map[string]setup.ID{}}
	var said []Change
	out, in := moves(before.Tree, ops)
	for i, op := range ops {
		if list, ok := strings.CutSuffix(op.Path, "/id"); ok {
			var id string
			if op.Op == "test" && op.Value != nil && json.Unmarshal(*op.Value, &id) == nil {
				c.tested[list] = setup.ID(id)
			}
			continue
		}
		if op.Op == "test" || in[i] {
			continue
		}
		verb := "added"
		switch {
		case out[i]:
			verb = "moved"
		case op.Op == "remove":
			verb = "removed"
		}
		said = append(said, Change{c.about(op), c.says(op, verb), op.Path})
	}
	return said
}

// about gives the part that an operation is about.
func (c *changes) about(op Op) setup.ID {
	steps := setup.PointerParts(op.Path)
	end := partEnd(steps)
	if end == 0 {
		return ""
	}
	var added struct{ ID setup.ID }
	if end == len(steps) && op.Op == "add" && op.Value != nil && json.Unmarshal(*op.Value, &added) == nil {
		return added.ID
	}
	return c.id(c.before, steps[:end])
}

// moves gives the operations that take an element out of a list, and those that put it in
// again elsewhere in the same list.
func moves(before *setup.Node, ops []Op) (out, in map[int]bool) {
	type element struct{ list, id string }
	list := func(path string) string { return path[:max(strings.LastIndexByte(path, '/'), 0)] }
	added := map[element]int{}
	for i, op := range ops {
		var item struct{ ID string }
		if op.Op == "add" && op.Value != nil && json.Unmarshal(*op.Value, &item) == nil && item.ID != "" {
			added[element{list(op.Path), item.ID}] = i
		}
	}
	out, in = map[int]bool{}, map[int]bool{}
	for i, op := range ops {
		id := before.At(setup.PointerParts(op.Path)...).Get("id")
		if op.Op != "remove" || id == nil {
			continue
		}
		if to, ok := added[element{list(op.Path), id.Text}]; ok && to > i {
			out[i], in[to] = true, true
		}
	}
	return out, in
}

// changes says what differs between two documents.
type changes struct {
	before, after *setup.Document
	tested        map[string]setup.ID // of the element at a place, what its id was tested to be
}

// says says what an operation did; verb is what became of an element of a list.
func (c *changes) says(op Op, verb string) string {
	steps := setup.PointerParts(op.Path)
	last := len(steps) - 1
	owner, at := c.owner(steps)
	list := c.at(c.before, steps[:last])
	if list == nil {
		list = c.at(c.after, steps[:last])
	}
	isList := last > 0 && list != nil && list.Kind == setup.List
	switch {
	case isList && words.IsPart(steps[last-1]):
		return words.Capital(c.element(op, steps, verb)) + " was " + verb
	case isList:
		return owner + ": " + one(steps[last-1]) + " was " + verb
	}
	field := "“" + words.Field(steps[last], strings.Join(steps[min(at, last):last], ".")+".") + "”"
	was, now := c.at(c.before, steps), c.at(c.after, steps)
	switch {
	case long(was) || long(now):
		return owner + ": " + field + " changed"
	case was == nil && now == nil:
		return owner + ": " + field + " " + verb
	case was == nil:
		return owner + ": " + field + " set to " + value(c.after.Setup, steps[last], now)
	case now == nil:
		return fmt.Sprintf("%s: %s back to what is usual, from %s", owner, field,
			value(c.before.Setup, steps[last], was))
	}
	return fmt.Sprintf("%s: %s changed from %s to %s", owner, field,
		value(c.before.Setup, steps[last], was), value(c.after.Setup, steps[last], now))
}

// partEnd is how many steps of a pointer lead to a part; 0 where none does.
func partEnd(steps []string) int {
	for end := 2; end <= min(3, len(steps)); end++ {
		if words.IsPart(steps[end-2]) {
			return end
		}
	}
	return 0
}

// owner names the part, or the group of fields, in which a place lies, and says where the
// place within it begins.
func (c *changes) owner(steps []string) (name string, at int) {
	if end := partEnd(steps[:len(steps)-1]); end > 0 {
		return c.part(steps[:end]), end
	}
	switch steps[0] {
	case "transmitter", "link", "stage":
		return words.Capital(words.Of(steps[0]).Name), 1
	case "craft":
		return "Model", 1
	}
	return "Model", 0
}

// id is that of the part at a place: as it was tested, since what went before in the patch
// may have moved it, else as it lies in a document.
func (c *changes) id(doc *setup.Document, steps []string) setup.ID {
	if id := c.tested["/"+strings.Join(steps, "/")]; id != "" {
		return id
	}
	if n := doc.Tree.At(steps...).Get("id"); n != nil {
		return setup.ID(n.Text)
	}
	return ""
}

// at gives what stands at a place of a document; nil where nothing does.
func (c *changes) at(doc *setup.Document, steps []string) *setup.Node {
	if end := partEnd(steps); end > 0 && end < len(steps) {
		item := doc.Setup.Item(c.id(c.before, steps[:end]))
		if item.Kind == 0 {
			return nil
		}
		steps = slices.Clone(steps)
		steps[end-1] = strconv.Itoa(item.Index)
	}
	return doc.Tree.At(steps...)
}

// part names the part at a place.
func (c *changes) part(steps []string) string {
	for _, doc := range []*setup.Document{c.before, c.after} {
		if item := doc.Setup.Item(c.id(doc, steps)); item.Kind != 0 {
			return doc.Setup.Label(item)
		}
	}
	return words.Of(steps[len(steps)-2]).Name
}

// element names a part that was added, moved or removed, with what it is.
func (c *changes) element(op Op, steps []string, verb string) string {
	list := steps[len(steps)-2]
	var added struct{ ID setup.ID }
	doc, id := c.before, c.id(c.before, steps)
	if verb == "added" && op.Value != nil && json.Unmarshal(*op.Value, &added) == nil {
		doc, id = c.after, added.ID
		if n := doc.Tree.At(steps...).Get("id"); id == "" && n != nil {
			id = setup.ID(n.Text) // it was given one
		}
	}
	if item := doc.Setup.Item(id); item.Kind == setup.IsOutput {
		return "function " + doc.Setup.Label(item)
	} else if item.Kind != 0 {
		return words.Part(doc.Setup, item)
	}
	return "a " + words.Of(list).Name
}

// one says one entry of a list that holds no parts.
func one(list string) string {
	names := map[string]string{"pins": "a pin", "steps": "a step", "rates": "a rate", "curve": "a point",
		"in": "a condition", "outputs": "a function", "positions": "a position", "parts": "a part",
		"never": "a condition", "start_check": "what the start waits for", "order": "a channel in its order"}
	if name := names[list]; name != "" {
		return name
	}
	if _, err := strconv.Atoi(list); err == nil {
		return "a figure"
	}
	return "something of " + words.Field(list)
}

// longest is how much of a text is said, in letters.
const longest = 60

// long tells whether a value is more than can be said in a word or two, or in a short list of
// them.
func long(n *setup.Node) bool {
	switch {
	case n == nil:
		return false
	case n.Kind == setup.List:
		return len(n.Items) == 0 || len(n.Items) > listed || slices.ContainsFunc(n.Items,
			func(item *setup.Node) bool { return item.Kind >= setup.List || long(item) })
	}
	return n.Kind == setup.Map || utf8.RuneCountInString(n.Text) > longest
}

// listed is how many entries of a list are said one by one.
const listed = 12

// free are the fields that a person writes as a text.
var free = []string{"label", "name", "type", "notes", "say", "plugs_into", "saves", "word"}

// value says what stands in a field, what it names by what that is called.
func value(s *setup.Setup, field string, n *setup.Node) string {
	switch {
	case n.Kind == setup.List:
		list := make([]string, len(n.Items))
		for i, item := range n.Items {
			list[i] = value(s, field, item)
		}
		return words.And(list)
	case n.Kind == setup.Number:
		return words.Short(n.Float())
	case n.Kind == setup.Bool && n.Text == "true":
		return "yes"
	case n.Kind == setup.Bool:
		return "no"
	case slices.Contains(free, field):
		return "“" + n.Text + "”"
	}
	if _, err := s.Fact(setup.Truth(n.Text)); err == nil && s.Item(setup.ID(n.Text)).Kind == 0 {
		return words.Truth(s, setup.Truth(n.Text))
	}
	if _, err := s.Source(setup.Value{Ref: n.Text}); err == nil {
		return words.Source(s, setup.Value{Ref: n.Text})
	}
	if pin, ok := s.PinRef(n.Text); ok {
		return s.PinLabel(pin)
	}
	if item := s.Item(setup.ID(n.Text)); item.Kind != 0 {
		return s.Label(item)
	}
	return words.Choice(field, n.Text)
}
