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

// receiverKinds are the made-up kinds of receiver that a person can begin with.
var receiverKinds = sync.OnceValue(func() []*setup.Node {
	list, problems := setup.ParseYAML(receiversText)
	if problems != nil {
		panic(problems) // the file is ours
	}
	return list.Items
})

// ReceiverKinds lists the kinds of receiver to begin with; the last, without a key, is one of
// which nothing is known.
func ReceiverKinds() []words.Kind {
	var list []words.Kind
	for _, one := range receiverKinds() {
		list = append(list, words.Kind{Key: one.Get("kind").Text, Name: one.Get("name").Text})
	}
	return append(list, words.Kind{Name: "something else"})
}

// receivers gives what a receiver of a kind is, and the second of a pair: pins 1, 2 and so on
// carry the channels of the same numbers, those of the second of a pair the ones after them.
func receivers(kind string) []*setup.Node {
	all := receiverKinds()
	at := slices.IndexFunc(all, func(n *setup.Node) bool { return n.Get("kind").Text == kind })
	if at < 0 {
		return nil
	}
	var list []*setup.Node
	count := int(all[at].Get("pins").Float())
	for k, one := range all[at].Get("receivers").Items {
		rx, pins := clone(one), &setup.Node{Kind: setup.List}
		for pin := 1; pin <= count; pin++ {
			n := group("pin", pin, "channel", k*count+pin)
			if has(all[at].Get("switched"), pin) {
				put(n, "switch", group("at_us", 1500))
			}
			pins.Items = append(pins.Items, n)
		}
		put(rx, "loss_after_s", number(1))
		put(rx, "notes", text(lossGuess))
		put(rx, "pins", pins)
		list = append(list, rx)
	}
	return list
}

// slow makes the channels slow that come so to a receiver of a kind.
func slow(tree *setup.Node, kind string) {
	for _, one := range receiverKinds() {
		slow := one.Get("slow")
		if one.Get("kind").Text != kind || slow == nil {
			continue
		}
		link := tree.Get("link")
		if link == nil {
			link = &setup.Node{Kind: setup.Map}
			put(tree, "link", link)
		}
		if link.Get("half_rate") == nil {
			put(link, "half_rate", &setup.Node{Kind: setup.List})
		}
		known := link.Get("half_rate")
		for _, channel := range slow.Items {
			if !has(known, int(channel.Float())) {
				known.Items = append(known.Items, clone(channel))
			}
		}
	}
}

// has tells whether a list has a number; nil has none.
func has(list *setup.Node, n int) bool {
	return list != nil && slices.ContainsFunc(list.Items,
		func(one *setup.Node) bool { return int(one.Float()) == n })
}
