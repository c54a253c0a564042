package plan

import (
	"slices"

	"axtren/core/allot"
	"axtren/core/setup"
)

// farthest is how many places away from the usual order still count.
const farthest = 63

// handCost tallies what it costs to put a hand function on a control; false where that cannot be.
func (r *reading) handCost(h *hand, control int, t *tally) bool {
	c := &r.s.Transmitter.Controls[control]
	if h.held || h.stays {
		return control == h.control // and costs nothing: it was there
	}
	if r.heldBy(control) || !h.kind.suits(c) {
		return false
	}
	if h.control >= 0 {
		was := &r.s.Transmitter.Controls[h.control]
		t.add(moved, times(control != h.control))
		t.add(along, times(c.Along != was.Along))
	} else {
		t.add(order, min(control, farthest))
	}
	if side := sideOf(c); side != "" && h.asks.Side != "" {
		t.add(wrongHand, times(side != h.asks.Side))
	}
	if h.thumb {
		t.add(reach, steps(c))
	}
	t.add(stick, times(h.asks.Does == "once" && c.Stick != ""))
	return true
}

func times(yes bool) int {
	if yes {
		return 1
	}
	return 0
}

// steps is how far a control is from the thumbs: 0 on a stick, a wheel or a trigger, 1 where it is
// reached without letting go, 2 anywhere else.
func steps(c *setup.Control) int {
	switch {
	case c.Stick != "" || c.Axis != nil && c.Axis.Form != "":
		return 0
	case c.Reached == "holding":
		return 1
	}
	return 2
}

// sideOf gives the hand under which a control lies; empty where neither is said.
func sideOf(c *setup.Control) string {
	if c.Stick == "left" || c.Stick == "right" {
		return string(c.Stick)
	}
	return c.Lies
}

// heldBy tells whether a function that rules speak of has a control.
func (r *reading) heldBy(control int) bool {
	for i := range r.hands {
		if r.hands[i].control == control && r.hands[i].held {
			return true
		}
	}
	return false
}

// together tallies what two hand functions cost that a hand moves while the model is driven.
func (r *reading) together(a, b int, ca, cb int, t *tally) {
	one, other := r.hands[a].asks.Does, r.hands[b].asks.Does
	if one == "drives" && other == "works" || one == "works" && other == "drives" {
		side := sideOf(&r.s.Transmitter.Controls[ca])
		t.add(oneHand, times(side != "" && side == sideOf(&r.s.Transmitter.Controls[cb])))
	}
}

// onOwnChannel tallies the mix that a control costs which moves one output alone, off the channel
// on which the transmitter sends it by itself.
func (r *reading) onOwnChannel(control, channel int, t *tally) {
	own := r.s.Transmitter.Controls[control].OwnChannel
	t.add(mixTerm, times(own != 0 && own != channel))
}

// placing is where the leads of an output go for one channel of the link, and what that costs.
type placing struct {
	pins []int // of each lead, of reading.pins
	cost int64
	ok   bool
}

// arrives gives the channels of the link that carry a channel of the transmitter.
func (r *reading) arrives(channel int) []int {
	var list []int
	for k := 1; k <= r.arriving(); k++ {
		if r.s.Link.Sent(k) == channel {
			list = append(list, k)
		}
	}
	return list
}

// linkCost tallies what an output costs on channel k of the link; false where it cannot be there.
func (r *reading) linkCost(w *wire, k int, t *tally) bool {
	bits, late := r.s.BitsOn(k), r.s.LateMS(k)
	if bits == 1 && !w.oneBit {
		return false
	}
	t.add(lateTerm, times(w.within > 0 && late > w.within+1e-9))
	t.add(coarse, times(bits > 0 && bits < w.bits))
	t.add(slow, times(w.quick && late > r.quickest+1e-9))
	return true
}

// pinCost tallies what a lead of an output costs on a pin; false where it cannot be there.
func (r *reading) pinCost(w *wire, l int, pin int, t *tally) bool {
	own := w.leads[l].pin
	rx, p := r.s.Pin(r.pins[pin])
	_, was := r.s.Pin(r.pins[own])
	if (p.Switch == nil) != (was.Switch == nil) || w.keepsPin && pin != own {
		return false
	}
	t.add(lossTerm, times(w.mode != "" && !keeps(rx, p, w.mode)))
	t.add(lead, times(pin != own))
	t.add(spare, times(w.mode == "" && rx.CanOnLoss("preset", p.Pin)))
	t.add(order, square(pin-r.leadsBefore(w, l)))
	return true
}

// keeps tells whether a pin does by itself or can be told to do what a mode says.
func keeps(rx *setup.Receiver, p *setup.Pin, mode string) bool {
	return rx.CanOnLoss(mode, p.Pin) || rx.Failsafe.Otherwise == mode
}

// leadsBefore gives the place of a lead in the usual order.
func (r *reading) leadsBefore(w *wire, l int) int {
	for i := range w.output {
		l += len(r.wires[i].leads)
	}
	return l
}

func square(n int) int { return min(n*n, farthest*farthest) }

// channelCost tallies what an output costs on a channel of the transmitter.
func (r *reading) channelCost(w *wire, channel int, t *tally) bool {
	own := r.s.Outputs[w.output].Channel
	if w.keepsChannel && channel != own {
		return false
	}
	t.add(figure, times(channel != own))
	t.add(order, square(channel-1-w.output))
	return true
}

// place finds the cheapest pins for the leads of an output among those that carry one of the
// channels of the link, each with what that channel costs there. A later lead may share the pin
// of an earlier one.
func (r *reading) place(w *wire, links []int) placing {
	best := placing{}
	if len(w.leads) == 0 {
		for _, k := range links {
			t := tally{}
			if r.linkCost(w, k, &t) && (!best.ok || t.cost < best.cost) {
				best = placing{cost: t.cost, ok: true}
			}
		}
		return best
	}
	var open []int
	for i, ref := range r.pins {
		_, pin := r.s.Pin(ref)
		for _, k := range links {
			if pin.Channel == k {
				open = append(open, i)
			}
		}
	}
	if len(w.leads) > mostLeads || len(open) > mostPins {
		open = r.ownPins(w, open)
	}
	pins := make([]int, len(w.leads))
	var put func(l int)
	put = func(l int) {
		if l == len(pins) {
			if t := (tally{}); r.placed(w, pins, &t) && (!best.ok || t.cost < best.cost) {
				best = placing{slices.Clone(pins), t.cost, true}
			}
			return
		}
		for _, pin := range open {
			if pins[l] = pin; len(w.leads) <= mostLeads || pin == w.leads[l].pin {
				put(l + 1)
			}
		}
	}
	put(0)
	return best
}

// mostLeads is how many leads of an output are placed anew; one with more keeps its pins. mostPins
// is how many pins of one channel are looked at; where there are more, those it has now.
const mostLeads, mostPins = 4, 8

// ownPins gives those of some pins that leads of an output are on.
func (r *reading) ownPins(w *wire, open []int) []int {
	var own []int
	for _, l := range w.leads {
		if slices.Contains(open, l.pin) {
			own = append(own, l.pin)
		}
	}
	return own
}

// placed tallies what the leads of an output cost on pins whose channels are told; false where
// they cannot be there. Of its channels the one that costs most counts, once.
func (r *reading) placed(w *wire, pins []int, t *tally) bool {
	worst := tally{}
	for l, pin := range pins {
		_, p := r.s.Pin(r.pins[pin])
		link := tally{keep: true}
		if !r.linkCost(w, p.Channel, &link) || !r.pinCost(w, l, pin, t) {
			return false
		}
		if link.cost > worst.cost {
			worst = link
		}
		for _, earlier := range pins[:l] {
			t.add(yLead, times(earlier == pin))
		}
	}
	for _, c := range worst.list {
		t.add(c.Term, c.times)
	}
	return true
}

// table makes the table of a pair from what two columns cost together.
func table(rows, columns int, cost func(a, b int, t *tally) bool) [][]int64 {
	list := make([][]int64, rows)
	for a := range list {
		list[a] = make([]int64, columns)
		for b := range list[a] {
			t := tally{}
			if list[a][b] = allot.Never; cost(a, b, &t) {
				list[a][b] = t.cost
			}
		}
	}
	return list
}
