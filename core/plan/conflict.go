package plan

import (
	"fmt"
	"math/bits"
	"slices"

	"axtren/core/allot"
	"axtren/core/setup"
	"axtren/core/words"
)

// Ask is one wish, or one limit, that cannot be met together with the others of a conflict.
type Ask struct {
	Of   string `json:"of"` // outputs/horn, controls/helm; empty: a limit
	Ask  string `json:"ask"`
	Says string `json:"says"` // a sentence without a stop
	Free string `json:"free"` // what to give up or buy, as an instruction
}

// wish is one ask of a function, as bit n of what an allot.Wanting asks for.
type wish struct{ key, says, free string }

// wanting is a function with its wishes on one side.
type wanting struct {
	of     string
	wishes []wish // the first: to have a place at all
	allows func(asks uint, column int) bool
}

// conflict finds the smallest set of wishes that cannot be met together, on any one side, or by the
// limit of mixes.
func (p *problem) conflict() []Ask {
	best := p.mixConflict()
	for _, side := range p.sides() {
		wants := make([]allot.Wanting, len(side.of))
		for i, w := range side.of {
			wants[i] = allot.Wanting{Asks: len(w.wishes), Allows: w.allows}
		}
		var list []Ask
		for _, found := range allot.Conflict(side.columns, wants) {
			list = append(list, asked(&side.of[found.Var], found.Asks)...)
		}
		if list != nil && (best == nil || len(list) < len(best)) {
			best = list
		}
	}
	return orEmpty(best)
}

func asked(w *wanting, asks uint) (list []Ask) {
	for n, one := range w.wishes {
		if asks>>n&1 == 1 {
			list = append(list, Ask{w.of, one.key, one.says, one.free})
		}
	}
	return list
}

// oneSide is what is wanted of one side.
type oneSide struct {
	columns int
	of      []wanting
}

// sides gives what is wanted of each side.
func (p *problem) sides() []oneSide {
	list := []oneSide{{columns: len(p.s.Transmitter.Controls)}, {columns: p.Columns[1]}}
	for i := range p.hands {
		list[0].of = append(list[0].of, p.handWants(i))
	}
	channels, leads := oneSide{columns: p.channels}, oneSide{columns: len(p.pins)}
	for i := range p.wires {
		if p.slot[i] != noVar {
			list[1].of = append(list[1].of, p.slotWants(i))
		}
		if p.setsOrder {
			channels.of = append(channels.of, p.channelWants(i))
		}
		if p.setsPins && len(p.wires[i].leads) > 0 {
			leads.of = append(leads.of, p.leadWants(i)) // the others can share its pin
		}
	}
	return append(list, channels, leads)
}

func (p *problem) handWants(i int) wanting {
	h := &p.hands[i]
	name := words.And(h.moves)
	w := wanting{of: (&deal{p, nil}).handName(i), wishes: []wish{{"control",
		fmt.Sprintf("%s is moved by %s", name, h.kind.says()),
		"leave " + name + " to a rule, or take a transmitter with one more of that kind"}}}
	base := *h
	base.stays = false
	springs := h.control < 0 && h.kind.spring != ""
	if springs {
		base.kind.spring = ""
		w.wishes = append(w.wishes, wish{"rest", "its lever " + restWords[h.kind.spring],
			"let the lever of " + name + " rest elsewhere"})
	}
	if h.stays {
		w.wishes = append(w.wishes, wish{"stays", name + " stays on " + p.s.ControlLabel(h.control),
			"let " + name + " go to another control"})
	}
	w.allows = func(asks uint, column int) bool {
		one := base
		if springs && asks>>1&1 == 1 {
			one.kind = h.kind
		}
		one.stays = h.stays && asks>>(len(w.wishes)-1)&1 == 1
		return p.handCost(&one, column, &tally{})
	}
	return w
}

var restWords = map[string]string{"centre": "goes back to the middle", "low": "goes back to its low end",
	"none": "stays where it is put"}

// says says a kind of control.
func (n nature) says() string {
	switch {
	case n.axis && n.spring == "":
		return "a stick, a lever or a slider"
	case n.axis:
		return "a lever that " + restWords[n.spring]
	case n.sprung >= 0 && n.positions == 2:
		return "a button"
	case n.sprung >= 0:
		return fmt.Sprintf("a switch of %d positions that springs back", n.positions)
	case n.atLeast:
		return fmt.Sprintf("a switch of %d positions or more", n.positions)
	}
	return fmt.Sprintf("a switch of %d positions", n.positions)
}

// wireWishes lists what an output asks for on a side, each with the way to leave it out.
func (p *problem) wireWishes(i int, on, pins, channel bool) (list []wish, without []func(*wire)) {
	w, name := &p.wires[i], p.s.OutputLabel(i)
	add := func(yes bool, leave func(*wire), key, says, free string) {
		if yes {
			list, without = append(list, wish{key, says, free}), append(without, leave)
		}
	}
	add(true, nil, "place", name+" has a place",
		"leave "+name+" out, or take a receiver with more pins")
	add(pins && w.mode != "", func(w *wire) { w.mode = "" }, "loss", name+" "+lossWords[w.mode],
		"let "+name+" do something else on a lost signal, or take a receiver that can do that on more pins")
	add(on && w.within > 0, func(w *wire) { w.within = 0 }, "late",
		fmt.Sprintf("%s answers within %s ms", name, words.Short(w.within)), "let "+name+" answer later")
	add(on && w.bits > 0, func(w *wire) { w.bits = 0 }, "coarse",
		fmt.Sprintf("%s is told in %s", name, words.Count(w.bits, "bit", "bits")),
		"let "+name+" be told more coarsely")
	add(channel && w.keepsChannel, func(w *wire) { w.keepsChannel = false }, "channel",
		fmt.Sprintf("%s stays on channel %d", name, p.s.Outputs[i].Channel),
		"let "+name+" go to another channel")
	add(pins && w.keepsPin && len(w.leads) > 0, func(w *wire) { w.keepsPin = false }, "pin",
		name+" keeps its pins", "let the leads of "+name+" go to other pins")
	return list, without
}

var lossWords = map[string]string{"hold": "holds still on a lost signal",
	"cut": "gets no pulses on a lost signal", "preset": "goes to a position on a lost signal"}

// wants makes what an output wants of a side: a set of asks is met where an output that asks for no
// more costs nothing above the level of work.
func (p *problem) wants(i int, list []wish, without []func(*wire),
	cost func(w *wire, column int, t *tally) bool) wanting {
	return wanting{p.s.PartName(setup.IsOutput.At(i)), list, func(asks uint, column int) bool {
		w := p.wires[i]
		for n, leave := range without {
			if n > 0 && asks>>n&1 == 0 {
				leave(&w)
			}
		}
		t := tally{}
		return cost(&w, column, &t) && t.cost < unit[Channel]
	}}
}

func (p *problem) slotWants(i int) wanting {
	list, without := p.wireWishes(i, true, !p.setsPins, !p.setsOrder)
	return p.wants(i, list, without, func(w *wire, column int, t *tally) bool {
		one := p.onLink(w, p.linksOf(column))
		t.cost += one.cost
		return one.ok && (p.setsOrder || p.channelCost(w, column+1, t))
	})
}

func (p *problem) channelWants(i int) wanting {
	list, without := p.wireWishes(i, false, false, true)
	return p.wants(i, list, without, func(w *wire, column int, t *tally) bool {
		return p.channelCost(w, column+1, t)
	})
}

func (p *problem) leadWants(i int) wanting {
	list, without := p.wireWishes(i, false, true, false)
	return p.wants(i, list, without, func(w *wire, column int, t *tally) bool {
		return p.pinCost(w, 0, column, t)
	})
}

// mixConflict finds the fewest wishes that take more mixes than there are, the limit counted as one;
// nil where the wishes of single functions do not force that.
func (p *problem) mixConflict() []Ask {
	if !p.mixes.Limited || !p.anyOwnChannel() {
		return nil
	}
	var forced [][]Ask
	for i := range p.wires {
		if p.wires[i].direct >= 0 {
			if list := p.forcesMix(i); list != nil {
				forced = append(forced, list)
			}
		}
	}
	if len(forced) <= p.mixes.Most {
		return nil
	}
	slices.SortStableFunc(forced, func(a, b []Ask) int { return len(a) - len(b) })
	all := []Ask{{"", "mixes", fmt.Sprintf("there are %s to spend", words.Count(p.mixes.Most, "mix", "mixes")),
		"allow one more mix, or take a transmitter with more"}}
	for _, list := range forced[:p.mixes.Most+1] {
		all = append(all, list...)
	}
	return all
}

// forcesMix gives the fewest wishes of an output and of its control under which it takes a mix
// wherever the two are; nil where it never has to.
func (p *problem) forcesMix(i int) (best []Ask) {
	hand := p.handWants(p.wires[i].direct)
	wire := p.slotWants(i)
	if p.setsOrder {
		wire = p.channelWants(i)
	}
	free := func(h, w uint) bool {
		for c := range p.s.Transmitter.Controls {
			for k := range p.channels {
				t := tally{}
				p.onOwnChannel(c, k+1, &t)
				if t.cost == 0 && hand.allows(h, c) && wire.allows(w, k) {
					return true
				}
			}
		}
		return false
	}
	for h := uint(1); h < 1<<len(hand.wishes); h += 2 {
		for w := uint(1); w < 1<<len(wire.wishes); w += 2 {
			size := bits.OnesCount(h) + bits.OnesCount(w)
			if (best == nil || size < len(best)) && !free(h, w) {
				best = append(asked(&hand, h), asked(&wire, w)...)
			}
		}
	}
	return best
}
