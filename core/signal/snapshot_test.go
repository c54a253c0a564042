package signal_test

import (
	"hash/maphash"
	"math"
	"math/rand/v2"
	"testing"

	"github.com/stretchr/testify/require"

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
					require.Equal(t, math.Float64bits(want), math.Float64bits(got), "%s: %s is %g, was %g", m.Name, cells[i].Name, got, want)
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
