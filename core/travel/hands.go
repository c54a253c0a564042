package travel

import (
	"fmt"
	"math"
	"slices"
	"strings"

	"axtren/core/setup"
	"axtren/core/signal"
	"axtren/core/words"
)

// Bounds of the search for the hands that bring a function furthest.
const (
	pushFrames     = 150 // that hands are held; latches and timers come to rest in it
	mostPushes     = 24  // of one control each, that are tried
	mostTwoPushes  = 12  // of which two are tried together
	mostPushesHeld = 4
)

// push is one control where a hand puts it: of an axis percent, of a switch the place of its position.
type push struct {
	control int
	to      float64
}

// Reached is where a function is brought, and by which hands.
type Reached struct {
	Target  float64 // the position that the output makes for, percent
	Asked   float64 // what it is asked for there, after its direction, percent
	pushes  []push
	sending bool
}

// Says says the hands: Left stick held all the way towards forward.
func (r *Reached) Says(s *setup.Setup) string {
	if len(r.pushes) == 0 {
		return "hands off"
	}
	var list []string
	for _, one := range r.pushes {
		_, at := words.Put(s, one.control, one.to)
		list = append(list, at)
	}
	return words.And(list)
}

// axis gives the lever among the hands, the last that was pushed; -1 for none.
func (r *Reached) axis(s *setup.Setup) int {
	for _, one := range slices.Backward(r.pushes) {
		if s.Transmitter.Controls[one.control].Axis != nil {
			return one.control
		}
	}
	return -1
}

// hands plays what hands make of one output.
type hands struct {
	s      *setup.Setup // the whole document
	p      *signal.Program
	output int
	route  *signal.Route
	begin  *signal.State
	rest   signal.Hands
}

// handsOf compiles what decides an output.
func handsOf(s *setup.Setup, output int) (*hands, error) {
	cone := s.Cone(setup.IsOutput.At(output))
	p, err := signal.Compile(cone)
	if err != nil {
		return nil, err
	}
	at := cone.Item(s.Outputs[output].ID).Index
	h := &hands{s: s, p: p, output: output, route: &p.Routes[at], begin: p.PowerOn(), rest: p.Ready()}
	for range 2 {
		p.Step(h.begin, h.rest)
	}
	return h, nil
}

// with gives the hands of rest with some pushed.
func (h *hands) with(pushes []push) signal.Hands {
	hands := slices.Clone(h.rest)
	for _, one := range pushes {
		if at, ok := h.p.Hand(string(h.s.Transmitter.Controls[one.control].ID)); ok {
			hands[at] = one.to
		}
	}
	return hands
}

// play holds hands from rest until all has come to rest.
func (h *hands) play(pushes ...push) *Reached {
	st, hands := h.p.PowerOn(), h.with(pushes)
	st.CopyFrom(h.begin)
	for range pushFrames {
		h.p.Step(st, hands)
	}
	return &Reached{Target: st.At(h.route.Target), Asked: st.At(h.route.Turned), pushes: pushes,
		sending: h.p.Sending(st)}
}

// pushes lists what hands can do to what decides the output, the levers first.
func (h *hands) pushes() []push {
	var levers, switches []push
	for _, i := range setup.Only(setup.IsControl, h.s.Graph().Behind(setup.IsOutput.At(h.output))) {
		c := &h.s.Transmitter.Controls[i]
		if c.Axis != nil {
			levers = append(levers, push{i, 100}, push{i, -100})
			continue
		}
		for k := range c.Switch.Positions {
			if k != c.Switch.Rest() {
				switches = append(switches, push{i, float64(k)})
			}
		}
	}
	list := append(levers, switches...)
	return list[:min(len(list), mostPushes)]
}

// furthest finds the hands that bring the output furthest to + or, where sign is -1, to −. One push after
// the other is added that brings it further; where none does, two at once. It need not be the furthest of
// all, and is always one that hands reach.
func (h *hands) furthest(sign float64) *Reached {
	best, list := h.play(), h.pushes()
	for len(best.pushes) < mostPushesHeld {
		next := best
		further := func(more ...push) {
			free := func(one push) bool {
				return !slices.ContainsFunc(best.pushes, func(held push) bool { return held.control == one.control })
			}
			if !free(more[0]) || len(more) > 1 && (more[0].control == more[1].control || !free(more[1])) {
				return
			}
			tried := h.play(append(slices.Clone(best.pushes), more...)...)
			if tried.sending && sign*(tried.Target-next.Target) > 1e-9 {
				next = tried
			}
		}
		for _, one := range list {
			further(one)
		}
		if next == best && len(list) <= mostTwoPushes {
			for i, one := range list {
				for _, other := range list[i+1:] {
					further(one, other)
				}
			}
		}
		if next == best {
			break
		}
		best = next
	}
	return best
}

// way is how a lever brings an output to a place: the output at each percent of the lever's way from where it
// rests to where it is held, with all other hands as they are held there.
func (h *hands) way(to *Reached, control int) (targets [101]float64) {
	from := h.s.Transmitter.Controls[control].Axis.Rest()
	hands := h.with(to.pushes)
	hand, _ := h.p.Hand(string(h.s.Transmitter.Controls[control].ID))
	end := hands[hand]
	settled, st := h.p.PowerOn(), h.p.PowerOn()
	settled.CopyFrom(h.begin)
	hands[hand] = from
	for range pushFrames {
		h.p.Step(settled, hands)
	}
	for i := range targets {
		st.CopyFrom(settled)
		hands[hand] = from + (end-from)*float64(i)/100
		h.p.Step(st, hands)
		targets[i] = st.At(h.route.Target)
	}
	return targets
}

// display says a position as this transmitter's own display shows it.
func display(s *setup.Setup, output int, position float64) string {
	channel := s.Outputs[output].Channel
	sc := ScaleIn(s, func(of *setup.Scales) *setup.Menu { return of.Display }, channel, "percent")
	said := Write(sc, position, &s.Transmitter.Pulse)
	if sc.Word == "us" {
		said += " µs"
	}
	return said
}

// shortUS writes microseconds as they are said: whole where they are.
func shortUS(us float64) string { return strings.TrimSuffix(words.Figure(math.Round(us*10)/10), ".0") }

// percentOf writes a share of a way, whole percent.
func percentOf(share float64) string { return fmt.Sprintf("%.0f %%", share) }
