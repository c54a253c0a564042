package codes

import (
	"embed"
	"fmt"
	"io/fs"
	"slices"
	"strconv"
	"strings"

	"axtren/core/parts"
	"axtren/core/setup"
	"axtren/core/words"
)

//go:embed charts/*.yaml
var charts embed.FS

// Shipped lists the charts that come with the program, both invented.
func Shipped() []Choice {
	list := []Choice{}
	files, err := fs.Glob(charts, "charts/*.yaml")
	if err != nil {
		panic(err) // the pattern is well formed
	}
	for _, file := range files {
		key := strings.TrimSuffix(strings.TrimPrefix(file, "charts/"), ".yaml")
		list = append(list, Choice{key, shipped(key).Get("label").Text})
	}
	return list
}

// shipped gives a chart that comes with the program; nil where there is none of the key.
func shipped(key string) *setup.Node {
	text, err := charts.ReadFile("charts/" + key + ".yaml")
	if err != nil {
		return nil
	}
	n, problems := setup.ParseYAML(text)
	if problems != nil {
		panic(problems) // it comes with the program
	}
	return n.Unplaced()
}

// SetChart gives the document in which a receiver (receivers/rx) has another chart: one that comes with
// the program, by its key, or one as a text in YAML. Without either it has none, and what was counted
// is forgotten. The error is setup.Problems.
func SetChart(doc *setup.Document, part, key, text string) (tree *setup.Node, said string, err error) {
	pointer, n, err := charted(doc, part, key)
	if err != nil {
		return nil, "", err
	}
	name := doc.Setup.Named(setup.ID(n.Get("id").Text))
	var chart *setup.Node
	switch {
	case key != "":
		if chart = shipped(key); chart == nil {
			return nil, "", setup.Refused("kind", key, "no chart of that name comes with the program", "choose "+
				"one of the list")
		}
	case strings.TrimSpace(text) != "":
		var problems setup.Problems
		if chart, problems = setup.ParseYAML([]byte(text)); problems != nil {
			return nil, "", problems
		}
		if chart.Kind != setup.Map {
			return nil, "", setup.Refused("value", "", "this is no chart",
				"write its fields: label, up, levels and so on")
		}
		chart = chart.Unplaced()
	default:
		bare := *n
		bare.Keys, bare.Items = slices.Clone(n.Keys), slices.Clone(n.Items)
		for _, field := range []string{"chart", "codes"} {
			if n.Get(field) == nil {
				continue
			}
			if err := bare.Remove(field); err != nil {
				return nil, "", err
			}
		}
		tree, err = doc.Tree.Set(pointer, &bare)
		return tree, "The chart of " + name + " was taken away", err
	}
	tree, err = doc.Tree.Set(pointer+"/chart", chart)
	return tree, words.Capital(name) + " has another chart", err
}

// charted finds what may have a chart: a receiver, or a step box, which has one of its own.
func charted(doc *setup.Document, part, key string) (pointer string, n *setup.Node, err error) {
	if !strings.HasPrefix(part, "devices/") {
		return receiver(doc, part)
	}
	if pointer, n, err = parts.Find(doc.Tree, part); err != nil {
		return "", nil, err
	}
	if kind := n.Get("kind"); kind == nil || kind.Text != "step_box" || key != "" {
		return "", nil, setup.Refused("part", part, "is no receiver, and no step box with a chart of its own",
			"name one, such as receivers/rx")
	}
	return pointer, n, nil
}

// receiver finds a receiver by its name.
func receiver(doc *setup.Document, part string) (pointer string, n *setup.Node, err error) {
	if !strings.HasPrefix(part, "receivers/") {
		return "", nil, setup.Refused("part", part, "is no receiver", "name one, such as receivers/rx")
	}
	return parts.Find(doc.Tree, part)
}

// pinOn finds a pin of a receiver that has a chart.
func pinOn(doc *setup.Document, part, pin string) (at string, rx *setup.Receiver, spec *setup.Pin,
	err error) {
	pointer, n, err := receiver(doc, part)
	if err != nil {
		return "", nil, nil, err
	}
	rx = &doc.Setup.Receivers[doc.Setup.Item(setup.ID(n.Get("id").Text)).Index]
	if rx.Chart == nil {
		return "", nil, nil, setup.Refused("part", part, "has no chart", "choose its chart first")
	}
	i := slices.IndexFunc(rx.Pins, func(p setup.Pin) bool { return strconv.Itoa(p.Pin) == pin })
	if i < 0 {
		return "", nil, nil, setup.Refused("of", pin, "there is no such pin", "choose one of the receiver")
	}
	return pointer, rx, &rx.Pins[i], nil
}

// SetWish gives the document in which a pin is to send something else, by the key of a choice. The
// error is setup.Problems.
func SetWish(doc *setup.Document, part, pin, wished string) (tree *setup.Node, said string, err error) {
	pointer, rx, spec, err := pinOn(doc, part, pin)
	if err != nil {
		return nil, "", err
	}
	ref, _ := doc.Setup.PinRef(string(rx.ID) + "." + pin)
	for _, w := range wishes(rx.Chart, spec) {
		if key(w) != wished {
			continue
		}
		at, _, missing := codesOf(rx.Chart, spec.Pin, w, nil)
		if refuses(w, at, missing) {
			break
		}
		place := fmt.Sprintf("%s/pins/%d", pointer, ref.Pin)
		n := doc.Tree.At(setup.PointerParts(place)...)
		changed := *n
		changed.Keys, changed.Items = slices.Clone(n.Keys), slices.Clone(n.Items)
		if err := switchNode(&changed, w); err != nil {
			return nil, "", err
		}
		if tree, err = doc.Tree.Set(place, &changed); err != nil {
			return nil, "", err
		}
		tree, err = untried(tree, pointer, rx, spec.Pin)
		return tree, fmt.Sprintf("Pin %s of %s is to be %s", pin, doc.Setup.ReceiverLabel(rx),
			Says(doc.Setup, ref, w)), err
	}
	var has []string
	for _, c := range choices(doc.Setup, ref) {
		has = append(has, c.Says)
	}
	return nil, "", setup.Refused("value", wished, "the chart has nothing for that", "use one of: "+
		""+strings.Join(has, "; "))
}

// switchNode makes the pin of a document one that is on or off, or one that sends pulses.
func switchNode(pin *setup.Node, w wish) error {
	if w == nil {
		if pin.Get("switch") == nil {
			return nil
		}
		return pin.Remove("switch")
	}
	n := &setup.Node{Kind: setup.Map}
	if old := pin.Get("switch"); old != nil {
		n.Keys, n.Items = slices.Clone(old.Keys), slices.Clone(old.Items)
	}
	for _, f := range []struct {
		name  string
		value *setup.Node
	}{{"on", setup.TextNode(w.On)}, {"at_us", setup.NumberNode(w.AtUS)}, {"level", setup.TextNode(w.Level)}} {
		if err := n.Put(f.name, f.value); err != nil {
			return err
		}
	}
	return pin.Put("switch", n)
}

// Note gives the document in which a number of flashes is on record for a level of a pin, the at-th of
// those that concern it. The error is setup.Problems.
func Note(doc *setup.Document, part, pin string, at, code int) (tree *setup.Node, said string, err error) {
	pointer, rx, spec, err := pinOn(doc, part, pin)
	if err != nil {
		return nil, "", err
	}
	levels := concerns(rx.Chart, spec.Pin)
	if at < 0 || at >= len(levels) {
		return nil, "", setup.Refused("by", strconv.Itoa(at), "there is no such level for this pin", "choose "+
			"one of its levels")
	}
	level := &rx.Chart.Levels[levels[at]]
	if !has(level, code) {
		var known []string
		for i := range level.Values {
			known = append(known, fmt.Sprintf("%d: %s", level.Values[i].Code, valueWords(&level.Values[i])))
		}
		return nil, "", setup.Refused("value", strconv.Itoa(code), fmt.Sprintf("level %d of the chart has no "+
			"such number of "+
			"flashes", levels[at]+1), "it has "+strings.Join(known, "; "))
	}
	note := noteOf(rx, spec.Pin)
	written := make([]int, max(len(note.Written), at+1))
	copy(written, note.Written)
	written[at] = code
	tree, err = noted(doc.Tree, pointer, rx, setup.PinCode{Pin: spec.Pin,
		Written: written[:min(len(written), len(levels))]})
	return tree, fmt.Sprintf("Pin %s of %s: level %d counted, %d: %s", pin, doc.Setup.ReceiverLabel(rx),
		levels[at]+1, code,
		meaning(level, code)), err
}

// Lamp gives the document in which it is on record whether a lamp on a pin was steady: yes, no, or
// nothing. The error is setup.Problems.
func Lamp(doc *setup.Document, part, pin, steady string) (tree *setup.Node, said string, err error) {
	pointer, rx, spec, err := pinOn(doc, part, pin)
	if err != nil {
		return nil, "", err
	}
	note := *noteOf(rx, spec.Pin)
	name := fmt.Sprintf("The lamp on pin %s of %s", pin, doc.Setup.ReceiverLabel(rx))
	switch steady {
	case "yes", "no":
		yes := steady == "yes"
		note.Steady = &yes
		said = name + map[bool]string{true: " was steady", false: " flickered"}[yes]
	case "":
		note.Steady, said = nil, name+" is to be tried again"
	default:
		return nil, "", setup.Refused("value", steady, "is no answer", "use yes or no")
	}
	tree, err = noted(doc.Tree, pointer, rx, note)
	return tree, said, err
}

// untried forgets whether a lamp on a pin was steady: what it sends has changed.
func untried(tree *setup.Node, pointer string, rx *setup.Receiver, pin int) (*setup.Node, error) {
	note := *noteOf(rx, pin)
	if note.Steady == nil {
		return tree, nil
	}
	note.Steady = nil
	return noted(tree, pointer, rx, note)
}

// noted puts what is on record of a pin into the tree.
func noted(tree *setup.Node, pointer string, rx *setup.Receiver, note setup.PinCode) (*setup.Node, error) {
	list := slices.Clone(rx.Codes)
	if i := slices.IndexFunc(list, func(c setup.PinCode) bool { return c.Pin == note.Pin }); i >= 0 {
		list[i] = note
	} else {
		list = append(list, note)
	}
	all := &setup.Node{Kind: setup.List, Items: []*setup.Node{}}
	for _, c := range list {
		written := &setup.Node{Kind: setup.List, Items: []*setup.Node{}}
		for _, code := range c.Written {
			written.Items = append(written.Items, setup.NumberNode(float64(code)))
		}
		n := &setup.Node{Kind: setup.Map, Keys: []string{"pin", "written"},
			Items: []*setup.Node{setup.NumberNode(float64(c.Pin)), written}}
		if c.Steady != nil {
			n.Keys = append(n.Keys, "steady")
			n.Items = append(n.Items, &setup.Node{Kind: setup.Bool, Text: strconv.FormatBool(*c.Steady)})
		}
		all.Items = append(all.Items, n)
	}
	return tree.Set(pointer+"/codes", all)
}
