package behave

import (
	"math"
	"slices"

	"axtren/core/setup"
	"axtren/core/signal"
)

// Try is a way to bring a rule from one state to another on the bench.
type Try struct {
	Does  []string // press Left button; one after the other
	From  string   // off
	To    string   // on
	WaitS float64  // how long it then takes, s, until it is so; 0: it is so at once
	State *signal.State
	Hands signal.Hands
}

// Tries gives how to try a rule both ways from a state of a program of the whole document, which sends:
// the fewest movements that bring it to something else, and those that bring it back, or on. There are
// none where no two movements do.
func (d *Machine) Tries(p *signal.Program, st *signal.State, hands signal.Hands) []Try {
	b := &bringer{d: d, p: p, frames: d.m.mostFrames(), tap: int(math.Max(2,
		math.Ceil(0.2/d.m.s.Transmitter.FrameS())))}
	settled := b.p.PowerOn()
	settled.CopyFrom(st)
	for range b.frames { // what comes by itself has come
		b.p.Step(settled, hands)
	}
	there, ok := b.bring(settled, hands)
	if !ok {
		return nil
	}
	tries := []Try{there}
	from, left, after := b.letGo(there)
	if seen := b.seen(from); seen != there.To {
		return append(tries, Try{Does: b.letting(there), From: there.To, To: seen, WaitS: after, State: from,
			Hands: left})
	}
	if back, ok := b.bring(from, left); ok {
		tries = append(tries, back)
	}
	return tries
}

// bringer tries movements on the whole model.
type bringer struct {
	d           *Machine
	p           *signal.Program
	frames, tap int // how long is waited at most, and how long a movement is tried before the next
}

// hand gives the place of a control among the hands of the whole model.
func (b *bringer) hand(m *handMove) int {
	hand, _ := b.p.Hand(string(b.d.m.s.Transmitter.Controls[m.control].ID))
	return hand
}

// springs tells whether the control of a movement goes back by itself.
func (b *bringer) springs(m *handMove) bool {
	return b.d.m.s.Transmitter.Controls[m.control].Springs()
}

// rest gives where the control of a movement goes back to.
func (b *bringer) rest(m *handMove) float64 {
	c := &b.d.m.s.Transmitter.Controls[m.control]
	if c.Switch != nil {
		return float64(c.Switch.Rest())
	}
	return c.Axis.Rest()
}

// seen gives what is seen of the rule in a state of the whole model.
func (b *bringer) seen(st *signal.State) string {
	here, _ := b.d.here(b.p, st)
	return b.d.m.label(here)
}

// bring looks for the fewest movements to something else: one, else one of what stays and one more.
func (b *bringer) bring(st *signal.State, hands signal.Hands) (Try, bool) {
	moves := b.d.m.moves
	for i := range moves {
		if try, ok := b.play(st, hands, &moves[i]); ok {
			return try, true
		}
	}
	for i := range moves {
		if b.springs(&moves[i]) {
			continue
		}
		for j := range moves {
			if moves[i].control != moves[j].control {
				if try, ok := b.play(st, hands, &moves[i], &moves[j]); ok {
					return try, true
				}
			}
		}
	}
	return Try{}, false
}

// play makes movements one after the other, the last one held until something else is seen.
func (b *bringer) play(st *signal.State, hands signal.Hands, moves ...*handMove) (Try, bool) {
	now := b.p.PowerOn()
	now.CopyFrom(st)
	t := Try{From: b.seen(st), Hands: slices.Clone(hands)}
	for k, m := range moves {
		if t.Hands[b.hand(m)] == m.to {
			return t, false
		}
		t.Hands[b.hand(m)] = m.to
		t.Does = append(t.Does, m.does)
		if k < len(moves)-1 {
			for range b.tap {
				b.p.Step(now, t.Hands)
			}
			if b.seen(now) != t.From {
				return t, false // that alone does it
			}
		}
	}
	for n := range b.frames {
		b.p.Step(now, t.Hands)
		if n > b.tap && n%5 > 0 && n < b.frames-1 {
			continue // it is looked at now and then
		}
		if t.To = b.seen(now); t.To == t.From {
			continue
		}
		if n > b.tap {
			t.WaitS = b.seconds(n)
		}
		for range b.tap {
			b.p.Step(now, t.Hands)
		}
		t.State = now
		return t, b.seen(now) == t.To
	}
	return t, false
}

// letGo lets go of what springs back, and waits. after is how long it takes, s, until something else is
// seen; 0: at once, or never.
func (b *bringer) letGo(t Try) (st *signal.State, hands signal.Hands, after float64) {
	st, hands = b.p.PowerOn(), slices.Clone(t.Hands)
	st.CopyFrom(t.State)
	for i := range b.d.m.moves {
		if m := &b.d.m.moves[i]; b.springs(m) {
			hands[b.hand(m)] = b.rest(m)
		}
	}
	changed := false
	for n := range b.frames {
		b.p.Step(st, hands)
		if !changed && b.seen(st) != t.To {
			if changed = true; n > b.tap {
				after = b.seconds(n)
			}
		}
	}
	return st, hands, after
}

// seconds gives how long so many frames take, to a tenth.
func (b *bringer) seconds(frames int) float64 {
	return math.Round(10*float64(frames)*b.d.m.s.Transmitter.FrameS()) / 10
}

// letting says what is let go of.
func (b *bringer) letting(t Try) []string {
	for i := range b.d.m.moves {
		m := &b.d.m.moves[i]
		if b.springs(m) && t.Hands[b.hand(m)] != b.rest(m) {
			return []string{"let go of " + b.d.m.s.Label(setup.IsControl.At(m.control))}
		}
	}
	return []string{"wait"}
}
