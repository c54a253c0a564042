package edit

import (
	"encoding/json"
	"fmt"
	"strings"

	"axtren/core/setup"
	"axtren/core/words"
)

// AllWords says everything that a patch changed, a line each.
func AllWords(before, after *setup.Node, ops []Op) string {
	return strings.Join(said(before, after, ops), "\n")
}

// words says what a patch changed: what it set, from what to what.
func summary(before, after *setup.Node, ops []Op) string {
	said := said(before, after, ops)
	switch {
	case len(said) == 0:
		return "nothing"
	case len(said) > 3:
		return fmt.Sprintf("%s and %d more", strings.Join(said[:2], "; "), len(said)-2)
	}
	return strings.Join(said, "; ")
}

func said(before, after *setup.Node, ops []Op) []string {
	var said []string
	out, in := moves(before, ops)
	for i, op := range ops {
		if op.Op == "test" || strings.HasSuffix(op.Path, "/id") || in[i] {
			continue
		}
		verb := "added"
		switch {
		case out[i]:
			verb = "moved"
		case op.Op == "remove":
			verb = "removed"
		}
		said = append(said, change(before, after, setup.PointerParts(op.Path), verb))
	}
	return said
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

// change says what was set; verb is what became of an element of a list.
func change(before, after *setup.Node, parts []string, verb string) string {
	last := parts[len(parts)-1]
	owner := before
	list := before.At(parts[:len(parts)-1]...)
	if list != nil && list.Kind == setup.List {
		return element(before, after, parts, verb)
	}
	name := ""
	for end := 1; end < len(parts); end++ {
		if n := owner.At(parts[:end]...); n.Get("id") != nil {
			name = called(before, n)
		}
	}
	was, now := before.At(parts...), after.At(parts...)
	text := fmt.Sprintf("%s %s → %s", words.Field(last), value(was), value(now))
	if many(was) || many(now) {
		text = strings.ReplaceAll(last, "_", " ") + " changed"
	}
	if name != "" {
		return name + ": " + text
	}
	return text
}

func element(before, after *setup.Node, parts []string, verb string) string {
	what := strings.Join(parts[:len(parts)-1], " ") + " entry"
	if list := parts[max(len(parts)-2, 0)]; words.IsPart(list) {
		what = words.Of(list).Name
	}
	from := before
	if verb == "added" {
		from = after
	}
	if n := from.At(parts...); n != nil && parts[len(parts)-1] != "-" {
		return fmt.Sprintf("%s %s %s", what, called(from, n), verb)
	}
	return what + " " + verb
}

// called names an element: its label, a mix by its ends, else its id.
func called(doc, n *setup.Node) string {
	if label := n.Get("label"); label != nil && label.Text != "" {
		return label.Text
	}
	if from, to := n.Get("from"), n.Get("to"); from != nil && to != nil {
		return labelOf(doc, from.Text) + " to " + labelOf(doc, to.Text)
	}
	if id := n.Get("id"); id != nil {
		return id.Text
	}
	return ""
}

func labelOf(doc *setup.Node, id string) string {
	for _, list := range []*setup.Node{doc.Get("outputs"), doc.Get("demands"),
		doc.At("transmitter", "controls")} {
		if list == nil {
			continue
		}
		for _, n := range list.Items {
			if found, label := n.Get("id"), n.Get("label"); found != nil && found.Text == id &&
				label != nil && label.Text != "" {
				return label.Text
			}
		}
	}
	return id
}

// many tells whether a value is more than can be said in a word or two.
func many(n *setup.Node) bool { return n != nil && n.Kind >= setup.List }

func value(n *setup.Node) string {
	switch {
	case n == nil:
		return "as usual"
	case n.Kind == setup.Number:
		return words.SignedShort(n.Float())
	case n.Kind == setup.Bool && n.Text == "true":
		return "yes"
	case n.Kind == setup.Bool:
		return "no"
	case n.Kind == setup.Text:
		return n.Text
	}
	return "other values"
}
