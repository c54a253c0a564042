package parts

import (
	"fmt"
	"slices"
	"strings"

	"axtren/core/setup"
	"axtren/core/words"
)

// Add puts a new part at the end of a list, as plain as it can be. kind is the kind of control,
// block or device, one of ReceiverKinds, or of ControlPlaces; of is what a mix or a device belongs
// to: an output's id, receiver.pin, or outputs/id for a device on a pin of that output. It gives the
// part's name.
func Add(doc *setup.Document, list, kind, of string) (tree *setup.Node, part string, err error) {
	if place := placeOf(kind); list == "controls" && place != nil {
		return addAtPlace(doc, place)
	}
	a := &adder{s: doc.Setup}
	stems := map[string]string{"logic": "block", "outputs": "line", "demands": "feel", "mixes": "mix"}
	stem := stems[list]
	if stem == "" {
		stem = strings.TrimSuffix(list, "s")
	}
	if !words.IsPart(list) {
		return nil, "", problem(list, "is no list of parts", "name one such as outputs")
	}
	id := a.free(stem)
	a.id = id
	n := a.make(list, kind, of)
	if n == nil {
		return nil, "", problem(list, "nothing can be added here yet", a.missing)
	}
	tree = doc.Tree.Copied()
	appendTo(tree, list, id, n)
	if list == "outputs" {
		a.pin(tree, int(n.Get("channel").Float()))
	}
	if list == "receivers" && kind != "" {
		for _, second := range receivers(kind)[1:] {
			appendTo(tree, list, a.free(id), second)
		}
		if len(a.s.Receivers) == 0 { // else what is there already would become slow
			slow(tree, kind)
		}
	}
	return tree, list + "/" + id, nil
}

// lossGuess is said with the loss delay that a new receiver begins with: common
// practice, no source.
const lossGuess = "A loss delay of 1 s is a guess: many links take 0.5 to 1.5 s. To measure it, tie the " +
	"model down, turn the transmitter off, and count until the parts go where they are to go."

// appendTo adds a part with an id to a list, which is made where the document has none.
func appendTo(tree *setup.Node, list, id string, n *setup.Node) {
	n.Keys, n.Items = append([]string{"id"}, n.Keys...), append([]*setup.Node{setup.TextNode(id)}, n.Items...)
	owner := tree
	if list == "controls" {
		owner = groupIn(tree, "transmitter")
	}
	all := owner.Get(list)
	if all == nil {
		all = &setup.Node{Kind: setup.List}
		put(owner, list, all)
	}
	all.Items = append(all.Items, n)
}

type adder struct {
	s       *setup.Setup
	id      string // of the new part
	missing string // what has to be there first
}

// free gives an id that nothing has.
func (a *adder) free(stem string) string {
	for i := 1; ; i++ {
		id := fmt.Sprintf("%s_%d", stem, i)
		if a.s.Item(setup.ID(id)).Kind == 0 {
			return id
		}
	}
}

// What is new does nothing until the person has chosen what moves it: a value comes
// from 0, and a condition is power_on, which no button can bring about.
func nothingYet() *setup.Node { return setup.NumberNode(0) }

func never() *setup.Node { return setup.TextNode("power_on") }

func (a *adder) make(list, kind, of string) *setup.Node {
	type l = []any
	switch list {
	case "controls":
		if kind != "switch" {
			kind = "axis"
		}
		return a.begin(list, kind, setup.GroupNode("kind", kind, "label",
			map[string]string{"axis": "New lever", "switch": "New switch"}[kind]))
	case "receivers":
		if list := receivers(kind); list != nil {
			return list[0]
		}
		if kind != "" {
			a.missing = "name one of the kinds that there are"
			return nil
		}
		return setup.GroupNode("label", "New receiver", "loss_after_s", 1, "notes", lossGuess, "pins",
			l{setup.GroupNode("pin", 1, "channel", 1)})
	case "devices":
		if of == "" {
			of = a.freePin()
		}
		if of == "" {
			a.missing = "add a receiver with a pin first"
			return nil
		}
		if kind == "" {
			kind = "servo"
		}
		label := "New part"
		if id, ok := strings.CutPrefix(of, "outputs/"); ok {
			if of, label = a.pinOf(setup.ID(id)); of == "" {
				return nil
			}
		}
		return a.begin(list, kind, setup.GroupNode("label", label, "on", of, "kind", kind))
	case "demands":
		return setup.GroupNode("label", "New feel", "from", nothingYet())
	case "logic":
		return a.begin(list, kind, setup.GroupNode("block", kind, "label", "New rule"))
	case "steppers":
		return setup.GroupNode("label", "New steps", "up", never(), "steps",
			l{setup.GroupNode("name", "low", "value", -100), setup.GroupNode("name", "high", "value", 100)})
	case "sequences":
		return setup.GroupNode("label", "New sequence", "go", never(), "tracks",
			setup.GroupNode("first", l{l{0, -100}, l{2, 100}}))
	case "patterns":
		return setup.GroupNode("label", "New pattern", "when", never(), "steps", l{l{100, 0.5}, l{-100, 0.5}})
	case "mixes":
		if of == "" && len(a.s.Outputs) > 0 {
			of = string(a.s.Outputs[0].ID)
		}
		if of == "" {
			a.missing = "add a function first"
			return nil
		}
		return setup.GroupNode("to", of, "from", nothingYet())
	case "shares":
		return a.share()
	case "outputs":
		return setup.GroupNode("label", "New function", "channel", a.channel())
	case "claims":
		return a.claim(kind)
	case "announcements":
		return setup.GroupNode("when", never(), "say", "something to say")
	}
	a.missing = "write it in the document as text"
	return nil
}

// begin adds to a new part what one of its kind begins with.
func (a *adder) begin(list, kind string, n *setup.Node) *setup.Node {
	known := setup.KindsOf(list).Find(kind)
	if known == nil {
		a.missing = "name a kind: " + strings.Join(setup.KindsOf(list).Keys(), ", ")
		return nil
	}
	rest := known.Begin(a.id)
	for i, key := range rest.Keys {
		put(n, key, rest.Items[i])
	}
	return n
}

// claim begins with something that always holds, until the person says what must.
func (a *adder) claim(kind string) *setup.Node {
	output := func(carried bool) string {
		for i, o := range a.s.Outputs {
			if !carried || len(a.s.Carriers(i)) > 0 {
				return string(o.ID)
			}
		}
		a.missing = "add a function first, and plug it into a pin"
		return ""
	}
	switch kind {
	case "never":
		return setup.GroupNode("never", []any{never(), setup.TextNode("not power_on")})
	case "at_start":
		if id := output(false); id != "" {
			return setup.GroupNode("at_start", setup.GroupNode("output", id, "value", 0, "within", 150))
		}
	case "on_loss":
		if id := output(true); id != "" {
			return setup.GroupNode("on_loss", setup.GroupNode("output", id, "value", 0, "within", 150))
		}
	case "only_when":
		return setup.GroupNode("only_when", setup.GroupNode("changes", never(), "while",
			setup.TextNode("power_on")))
	case "leads_to":
		return setup.GroupNode("leads_to", setup.GroupNode("when", never(), "then", never(), "within_s", 1))
	case "reachable":
		return setup.GroupNode("reachable", never())
	}
	if a.missing == "" {
		a.missing = "say what kind it is"
	}
	return nil
}

// share takes the first two outputs that no share has.
func (a *adder) share() *setup.Node {
	var outputs []any
	for _, o := range a.s.Outputs {
		taken := slices.ContainsFunc(a.s.Shares,
			func(sh setup.Share) bool { return slices.Contains(sh.Outputs, o.ID) })
		if !taken && len(outputs) < 2 {
			outputs = append(outputs, string(o.ID))
		}
	}
	if len(outputs) < 2 {
		a.missing = "add two functions that have no shared limit yet"
		return nil
	}
	// as it is without one, until another rule is chosen
	return setup.GroupNode("outputs", outputs, "rule", "clip")
}

// channel is the first that no output has.
func (a *adder) channel() int {
	for k := 1; ; k++ {
		if a.s.OutputOn(k) < 0 {
			return k
		}
	}
}

// pinOf is a pin that carries an output, one without a device where there is one, and what
// a part on it is called at first: as the function.
func (a *adder) pinOf(output setup.ID) (on, label string) {
	item := a.s.Item(output)
	if item.Kind != setup.IsOutput {
		a.missing = "name a function that is there"
		return "", ""
	}
	label = a.s.OutputLabel(item.Index)
	for _, ref := range a.s.Carriers(item.Index) {
		rx, pin := a.s.Pin(ref)
		here := fmt.Sprintf("%s.%d", rx.ID, pin.Pin)
		if len(a.s.OnPin(ref)) == 0 {
			return here, label
		}
		if on == "" {
			on = here
		}
	}
	if on == "" {
		a.missing = fmt.Sprintf("let a pin of a receiver carry channel %d first", a.s.Outputs[item.Index].Channel)
	}
	return on, label
}

// freePin is the first pin that no device hangs on.
func (a *adder) freePin() string {
	for _, rx := range a.s.Receivers {
		for _, pin := range rx.Pins {
			on := fmt.Sprintf("%s.%d", rx.ID, pin.Pin)
			if !slices.ContainsFunc(a.s.Devices, func(d setup.Device) bool { return d.On == on }) {
				return on
			}
		}
	}
	return ""
}

// pin puts a channel that no receiver carries on the next pin of the first
// receiver, if there is one.
func (a *adder) pin(tree *setup.Node, channel int) {
	if len(a.s.Receivers) == 0 || a.s.Link.Channels < channel {
		return
	}
	next := 1
	for _, rx := range a.s.Receivers {
		for _, pin := range rx.Pins {
			if a.s.Link.Sent(pin.Channel) == channel {
				return
			}
		}
	}
	for _, pin := range a.s.Receivers[0].Pins {
		next = max(next, pin.Pin+1)
	}
	first := tree.At("receivers", "0")
	if first.Get("pins") == nil {
		put(first, "pins", &setup.Node{Kind: setup.List})
	}
	pins := first.Get("pins")
	pins.Items = append(pins.Items, setup.GroupNode("pin", next, "channel", channel))
}
