package signal_test

import (
	"hash/maphash"
	"math"
	"math/rand/v2"
	"slices"
	"testing"

	"github.com/stretchr/testify/require"

	"axtren/core/setup"
	"axtren/core/signal"
	"axtren/internal/golden"
)

// TestARestoredMomentGoesOnAsItDid, whatever the state was that it is put into: every
// column of the trace, in every frame after it, whatever is moved, turned off or cut.
func TestARestoredMomentGoesOnAsItDid(t *testing.T) {
	for _, m := range golden.Models(t) {
		p := m.Program
		cells := p.Cells()
		rng := rand.New(rand.NewPCG(3, 4))
		anywhere := func(hands signal.Hands) {
			for i, c := range p.Setup().Transmitter.Controls {
				if rng.IntN(6) > 0 {
					continue
				}
				if c.Axis != nil {
					hands[i] = math.Round(200*rng.Float64() - 100)
				} else {
					hands[i] = float64(rng.IntN(len(c.Switch.Positions)))
				}
			}
			for i := len(p.Setup().Transmitter.Controls); i < len(hands); i++ { // set, link, receivers
				if hands[i] == 0 && rng.IntN(3) == 0 || hands[i] == 1 && rng.IntN(25) == 0 {
					hands[i] = 1 - hands[i]
				}
			}
		}
		seed := maphash.MakeSeed()
		st, hands, other := p.PowerOn(), p.Rest(), p.PowerOn()
		for range 300 {
			for range rng.IntN(8) {
				anywhere(hands)
				p.Step(st, hands)
			}
			s := p.Snapshot(st, nil)
			require.Equal(t, []float64(hands), []float64(s.Hands(p))[:len(hands)])
			p.Restore(other, s)
			again := p.Snapshot(other, nil)
			require.True(t, s.Equal(again))
			require.Equal(t, s.Hash(seed), again.Hash(seed))
			for range 5 {
				anywhere(hands)
				p.Step(st, hands)
				p.Step(other, hands)
				for i := range cells {
					want, known := p.Read(&cells[i], st)
					got, ok := p.Read(&cells[i], other)
					require.Equal(t, known, ok, "%s: %s", m.Name, cells[i].Name)
					require.Equal(t, math.Float64bits(want), math.Float64bits(got), "%s: %s is %g, was %g",
						m.Name, cells[i].Name, got, want)
				}
				require.True(t, p.Snapshot(st, nil).Equal(p.Snapshot(other, nil)))
			}
		}
	}
}

// TestNegativeZeroIsAnotherMoment, and so is any other bit, of what is carried or of a hand.
func TestNegativeZeroIsAnotherMoment(t *testing.T) {
	p := golden.Models(t)[0].Program
	st := p.PowerOn()
	p.Step(st, p.Rest())
	s := p.Snapshot(st, nil)
	seed := maphash.MakeSeed()
	for i := range s {
		changed := append(signal.Snapshot(nil), s...)
		if changed[i] = math.Copysign(s[i], -1); math.Signbit(s[i]) {
			changed[i] = -s[i]
		}
		require.False(t, s.Equal(changed))
		require.NotEqual(t, s.Hash(seed), changed.Hash(seed))
	}
	require.False(t, s.Equal(s[:len(s)-1]))
	room := p.Snapshot(st, s)
	require.Same(t, &s[0], &room[0], "the room is used again")
}

// TestWhatAValueDependsOn: nothing else that is carried, and no other hand, changes it; and
// what is named does, for some value at least.
func TestWhatAValueDependsOn(t *testing.T) {
	for _, m := range golden.Models(t) {
		p := m.Program
		controls := len(p.Setup().Transmitter.Controls)
		rng := rand.New(rand.NewPCG(5, 6))
		st, hands, other := p.PowerOn(), p.Rest(), p.PowerOn()
		useful := 0
		for _, e := range p.Setup().StartCheck {
			i := p.Setup().Item(e.Control).Index
			if sw := p.Setup().Transmitter.Controls[i].Switch; sw != nil {
				hands[i] = float64(slices.Index(sw.Positions, e.Is.Position))
			} else {
				hands[i] = e.Is.From
			}
		}
		p.Step(st, hands)
		require.True(t, p.Sending(st), m.Name)
		for range 60 {
			for i, c := range p.Setup().Transmitter.Controls {
				if c.Axis != nil {
					hands[i] = math.Round(200*rng.Float64() - 100)
				} else {
					hands[i] = float64(rng.IntN(len(c.Switch.Positions)))
				}
			}
			p.Step(st, hands)
			from := p.Snapshot(st, nil)
			for _, cell := range p.Cells() {
				if cell.Slot == signal.None {
					continue
				}
				kept, moved := p.DependsOn(cell.Slot)
				changed, now := append(signal.Snapshot(nil), from...), append(signal.Hands(nil), hands...)
				for i := 3; i < p.Kept(); i++ { // power and odd frames aside
					if !slices.Contains(kept, signal.Slot(i)) && rng.IntN(2) == 0 {
						changed[i] = float64(rng.IntN(2))
					}
				}
				for i := range controls {
					if !slices.Contains(moved, i) {
						now[i] = float64(rng.IntN(2))
					}
				}
				p.Restore(other, from)
				p.Step(other, hands)
				want := other.At(cell.Slot)
				p.Restore(other, changed)
				p.Step(other, now)
				require.Equal(t, math.Float64bits(want), math.Float64bits(other.At(cell.Slot)),
					"%s: %s is %g, not %g", m.Name, cell.Name, other.At(cell.Slot), want)
				for _, i := range moved {
					if i < controls {
						now := append(signal.Hands(nil), hands...)
						now[i] = math.Mod(now[i]+1, 2)
						p.Restore(other, from)
						p.Step(other, now)
						if other.At(cell.Slot) != want {
							useful++
						}
					}
				}
			}
		}
		require.Greater(t, useful, 200, "most of the hands that are named do matter")
	}
}

// TestWhatOneOutputDependsOn, worked out by hand.
func TestWhatOneOutputDependsOn(t *testing.T) {
	doc, err := setup.ReadYAML([]byte(`
format: axtren-setup
version: 1
transmitter: {controls: [{id: a, kind: axis}, {id: b, kind: axis},
    {id: press, kind: switch, positions: [off, on]}]}
logic: [{id: latch, block: toggle, in: press.on}, {id: far, block: above, of: b, level: 20}]
mixes: [{to: plain, from: a}, {to: held, from: b, when: latch}]
outputs: [{id: plain, channel: 1}, {id: held, channel: 2, slew_s: 1}]`))
	require.NoError(t, err)
	p, err := signal.Compile(doc.Setup)
	require.NoError(t, err)
	kept, hands := p.DependsOn(p.Routes[0].US)
	require.Empty(t, kept)
	require.Equal(t, []int{0}, hands)
	kept, hands = p.DependsOn(p.Routes[1].US)
	require.Len(t, kept, 3, "the toggle, its input before, and where the output stands")
	require.Equal(t, []int{1, 2}, hands)
	kept, hands = p.DependsOn(p.BlockSlot(1), p.Routes[0].Asked)
	require.Equal(t, []signal.Slot{p.BlockSlot(1)}, kept)
	require.Equal(t, []int{0, 1}, hands)
}
