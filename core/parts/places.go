package parts

import (
	_ "embed" // the places
	"fmt"
	"slices"
	"sync"

	"axtren/core/setup"
	"axtren/core/words"
)

//go:embed controls.yaml
var placesText []byte

var placesOfControls = sync.OnceValue(func() []*setup.Node { return kindsIn(placesText) })

// ControlPlaces lists the places on a transmitter where a control can be added by pointing at it.
func ControlPlaces() []words.Kind {
	list := placesOfControls()
	kinds := make([]words.Kind, len(list))
	for i, one := range list {
		kinds[i] = words.Kind{Key: one.Get("place").Text, Name: one.Get("name").Text}
	}
	return kinds
}

// placeOf gives what lies at a place; nil where there is none of the name.
func placeOf(key string) *setup.Node {
	at := slices.IndexFunc(placesOfControls(), func(n *setup.Node) bool { return n.Get("place").Text == key })
	if at < 0 {
		return nil
	}
	return placesOfControls()[at]
}

// addAtPlace adds the controls that lie at a place, but for the axis of a stick that is there
// already, and gives the name of the first. The error is setup.Problems where all are there.
func addAtPlace(doc *setup.Document, place *setup.Node) (tree *setup.Node, part string, err error) {
	a := &adder{s: doc.Setup}
	tree = doc.Tree.Copied()
	for _, of := range place.Get("controls").Items {
		if stick := of.Get("stick"); stick != nil && slices.ContainsFunc(doc.Setup.Transmitter.Controls,
			func(c setup.Control) bool {
				return string(c.Stick) == stick.Text && c.Along == of.Get("along").Text
			}) {
			continue
		}
		n, id := of.Copied(), of.Get("id").Text
		if doc.Setup.Item(setup.ID(id)).Kind != 0 {
			id = a.free(id)
		}
		put(n, "label", setup.TextNode(unlike(doc.Setup, of.Get("label").Text)))
		drop(n, "id")
		appendTo(tree, "controls", id, n)
		if part == "" {
			part = "controls/" + id
		}
	}
	if part == "" {
		return nil, "", problem("kind", place.Get("name").Text+" is there already", "point at another place")
	}
	return tree, part, nil
}

// unlike gives a label that no control has: Left switch, Left switch 2.
func unlike(s *setup.Setup, label string) string {
	for i := 1; ; i++ {
		now := label
		if i > 1 {
			now = fmt.Sprintf("%s %d", label, i)
		}
		if !slices.ContainsFunc(s.Transmitter.Controls, func(c setup.Control) bool { return c.Label == now }) {
			return now
		}
	}
}
