package proof

import (
	"context"
	"math"
	"slices"

	"axtren/core/setup"
	"axtren/core/signal"
)

// Pair is two parts of one setup that are to be the same: outputs, by the pulse that they are sent, or
// blocks.
// Where A or B is empty, there is no pulse.
type Pair struct{ A, B setup.ID }

// Pairs are parts of a setup that are to be the same in every frame of every run.
type Pairs struct {
	Setup *setup.Setup
	List  []Pair
	// another setup with the same controls, whose start check counts for each B, as its pulse does; nil:
	// there is no other
	Other *setup.Setup
	// how what decides the pairs is compiled; nil: signal.Compile
	Compile func(*setup.Setup) (*signal.Program, error)
}

// Apart looks for the run of the fewest rows, and of those one that shows it earliest, in which two parts
// that are to be the same are not. The verdict holds where there is none.
func Apart(ctx context.Context, pairs *Pairs, budget Budget) Verdict {
	undecided := func(err error) Verdict {
		return Verdict{Verdict: Undecided, Rows: []Row{}, Why: err.Error()}
	}
	y, err := newApart(pairs, false)
	if err != nil {
		return undecided(err)
	}
	if !y.exact {
		// where two that are slow make for the same place at the same pace they stand at the same
		if aims, err := newApart(pairs, true); err == nil && aims.exact {
			if v := aims.decide(ctx, budget); v.Verdict == Holds {
				return v
			}
		}
	}
	return y.decide(ctx, budget)
}

// newApart makes the system of pairs; with aims, outputs that are equally slow are looked at where they make
// for.
func newApart(pairs *Pairs, aims bool) (*system, error) {
	y := &system{exact: true, all: pairs.Setup, compile: pairs.Compile}
	y.claimed = &claimed{kind: watchApart, pairs: pairs.List, aims: aims}
	power := pairs.Setup.Keeps()
	var watch []setup.Item
	for _, pair := range pairs.List {
		for _, id := range []setup.ID{pair.A, pair.B} {
			if id != "" {
				watch = append(watch, y.all.Item(id))
			}
		}
	}
	if pairs.Other != nil {
		power = power || pairs.Other.Keeps()
		other, err := signal.Compile(pairs.Other.Cone())
		if err != nil {
			return nil, err
		}
		y.claimed.other = other
		for _, c := range other.Setup().Transmitter.Controls {
			watch = append(watch, y.all.Item(c.ID))
		}
	}
	return y, y.build(watch, power, nil)
}

// both are two numbers of a frame that are to be the same.
type both struct {
	a, b  signal.Slot // None: there is no pulse
	pulse [2]*signal.Program
	// of outputs: the position that is compared has to be the same but for rounding
	aims bool
	outs [2]int // of outputs, their places; -1 of blocks
}

// apart tells whether two numbers differ.
func (b *both) apart(x, y float64) bool {
	switch {
	case b.aims:
		return math.Abs(x-y) > dust
	case b.outs[0] < 0 && b.outs[1] < 0:
		return x != y
	}
	return b.pulse[0].PulseOf(x) != b.pulse[1].PulseOf(y)
}

// in finds pairs in a program.
func (c *claimed) in(p *signal.Program, s *setup.Setup) (list []both) {
	theirs := p
	if c.other != nil {
		theirs = c.other
	}
	for _, pair := range c.pairs {
		one := both{pulse: [2]*signal.Program{p, theirs}, outs: [2]int{-1, -1}}
		slots := [2]signal.Slot{signal.None, signal.None}
		for k, id := range []setup.ID{pair.A, pair.B} {
			switch item := s.Item(id); item.Kind {
			case setup.IsOutput:
				one.outs[k], slots[k] = item.Index, p.Routes[item.Index].P
			case setup.IsBlock:
				slots[k] = p.BlockSlot(item.Index)
			}
		}
		samePulse := p.Setup().Transmitter.Pulse == theirs.Setup().Transmitter.Pulse
		if c.aims && samePulse && one.outs[0] >= 0 && one.outs[1] >= 0 &&
			s.Outputs[one.outs[0]].Slew == s.Outputs[one.outs[1]].Slew {
			one.aims = true
			slots = [2]signal.Slot{p.Routes[one.outs[0]].Target, p.Routes[one.outs[1]].Target}
		}
		one.a, one.b = slots[0], slots[1]
		list = append(list, one)
	}
	return list
}

// apart tells whether anything that is to be the same is not in a frame.
func (m *monitor) apart(st *signal.State) bool {
	sends := m.p.Sending(st)
	if m.other != nil {
		switch meets := m.meets(st); {
		case sends && st.At(m.p.FirstSlot()) != 0 && !meets:
			return true // one sends, the other waits
		case !sends && st.At(m.on) != 0 && meets:
			return true
		}
	}
	if !sends {
		return false
	}
	for i := range m.boths {
		if b := &m.boths[i]; b.a == signal.None || b.b == signal.None || b.apart(st.At(b.a), st.At(b.b)) {
			return true
		}
	}
	return false
}

// meets tells whether the hands meet the start check of the other setup.
func (m *monitor) meets(st *signal.State) bool {
	hands := slices.Clone(m.hands) // two searches look at once
	for i, hand := range m.theirs {
		if hand != signal.None {
			hands[i] = st.At(hand)
		}
	}
	return m.other.Meets(hands)
}

// looks finds, in a program, where the hands are that the start check of the other setup looks at.
func (m *monitor) looks(p *signal.Program) {
	m.hands = m.other.Rest()
	for _, id := range m.other.HandIDs() {
		slot := signal.None
		if hand, ok := p.Hand(id); ok {
			slot = p.HandSlot(hand)
		}
		m.theirs = append(m.theirs, slot)
	}
	hand, _ := p.Hand("transmitter")
	m.on = p.HandSlot(hand)
}
