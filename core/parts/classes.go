package parts

import (
	_ "embed" // the kinds
	"slices"
	"sync"

	"axtren/core/setup"
	"axtren/core/words"
)

//go:embed receivers.yaml
var receiversText []byte

//go:embed transmitters.yaml
var transmittersText []byte

// The made-up kinds of receiver and of transmitter that a person can begin with.
var (
	receiverKinds    = sync.OnceValue(func() []*setup.Node { return kindsIn(receiversText) })
	transmitterKinds = sync.OnceValue(func() []*setup.Node { return kindsIn(transmittersText) })
)

func kindsIn(text []byte) []*setup.Node {
	list, problems := setup.ParseYAML(text)
	if problems != nil {
		panic(problems) // the file is ours
	}
	return list.Items
}

func named(kinds []*setup.Node) []words.Kind {
	list := make([]words.Kind, len(kinds))
	for i, one := range kinds {
		list[i] = words.Kind{Key: one.Get("kind").Text, Name: one.Get("name").Text}
	}
	return list
}

// find gives a kind by its key; nil where there is none.
func find(kinds []*setup.Node, key string) *setup.Node {
	at := slices.IndexFunc(kinds, func(n *setup.Node) bool { return n.Get("kind").Text == key })
	if at < 0 {
		return nil
	}
	return kinds[at]
}

// ReceiverKinds lists the kinds of receiver to begin with; the last, without a key, is one of
// which nothing is known.
func ReceiverKinds() []words.Kind {
	return append(named(receiverKinds()), words.Kind{Name: "something else"})
}

// TransmitterKinds lists the kinds of transmitter to begin with.
func TransmitterKinds() []words.Kind { return named(transmitterKinds()) }

// Like gives a document whose transmitter is like one of a kind: its name, and what it can
// instead of what was known of it. The controls of a model stay as they are; where it has none
// it gets those of the kind. It gives the name of the kind. The error is setup.Problems.
func Like(doc *setup.Document, kind string) (tree *setup.Node, said string, err error) {
	of := find(transmitterKinds(), kind)
	if of == nil {
		return nil, "", problem("kind", "is no kind of transmitter", "name one of those that there are")
	}
	tree = doc.Tree.Copied()
	own := groupIn(tree, "transmitter")
	for i, key := range of.Get("transmitter").Keys {
		put(own, key, of.Get("transmitter").Items[i].Copied())
	}
	if len(doc.Setup.Transmitter.Controls) == 0 {
		controls := of.Get("controls").Copied()
		a := &adder{s: doc.Setup}
		for _, control := range controls.Items {
			if id := control.Get("id"); doc.Setup.Item(setup.ID(id.Text)).Kind != 0 {
				put(control, "id", setup.TextNode(a.free(id.Text)))
			}
		}
		put(own, "controls", controls)
	}
	return tree, of.Get("name").Text, nil
}

// receivers gives what a receiver of a kind is, and the second of a pair: pins 1, 2 and so on
// carry the channels of the same numbers, those of the second of a pair the ones after them.
func receivers(kind string) []*setup.Node {
	of := find(receiverKinds(), kind)
	if of == nil {
		return nil
	}
	var list []*setup.Node
	count := int(of.Get("pins").Float())
	for k, one := range of.Get("receivers").Items {
		rx, pins := one.Copied(), &setup.Node{Kind: setup.List}
		for pin := 1; pin <= count; pin++ {
			n := setup.GroupNode("pin", pin, "channel", k*count+pin)
			if has(of.Get("switched"), pin) {
				put(n, "switch", setup.GroupNode("at_us", 1500))
			}
			pins.Items = append(pins.Items, n)
		}
		put(rx, "loss_after_s", setup.NumberNode(1))
		put(rx, "notes", setup.TextNode(lossGuess))
		put(rx, "pins", pins)
		list = append(list, rx)
	}
	return list
}

// slow makes the channels slow that come so to a receiver of a kind.
func slow(tree *setup.Node, kind string) {
	channels := find(receiverKinds(), kind).Get("slow")
	if channels == nil {
		return
	}
	link := groupIn(tree, "link")
	if link.Get("half_rate") == nil {
		put(link, "half_rate", &setup.Node{Kind: setup.List})
	}
	known := link.Get("half_rate")
	for _, channel := range channels.Items {
		if !has(known, int(channel.Float())) {
			known.Items = append(known.Items, channel.Copied())
		}
	}
}

// has tells whether a list has a number; nil has none.
func has(list *setup.Node, n int) bool {
	return list != nil && slices.ContainsFunc(list.Items,
		func(one *setup.Node) bool { return int(one.Float()) == n })
}
