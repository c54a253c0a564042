package proof

import (
	"math/rand/v2"
	"testing"

	"github.com/stretchr/testify/require"

	"axtren/core/setup"
	"axtren/core/signal"
	"axtren/demo"
	"axtren/internal/golden"
)

// TestAGuardIsAllItsClaims: over random runs it gives the first claim that is broken just where each claim by
// itself, on a program of its own, is broken, also where it begins again and goes back to what it remembers.
func TestAGuardIsAllItsClaims(t *testing.T) {
	models := map[string]*setup.Setup{}
	yard, err := demo.Yard()
	require.NoError(t, err)
	for _, m := range yard {
		models[m.Doc.Setup.Name] = m.Doc.Setup
	}
	for _, m := range golden.Models(t) {
		models[m.Name] = m.Doc.Setup
	}
	broken := 0
	for name, s := range models {
		guard, err := NewGuard(s)
		require.NoError(t, err)
		type single struct {
			claim int
			m     *monitor
			p     *signal.Program
			st    *signal.State
			was   uint16
		}
		var singles []*single
		for i := range s.Claims {
			if s.Claims[i].Reachable != nil {
				continue
			}
			y, err := newSystem(s, &s.Claims[i], nil)
			require.NoError(t, err)
			p, err := signal.Compile(y.all)
			require.NoError(t, err)
			singles = append(singles, &single{i, y.claimed.on(p, y.all), p, p.PowerOn(), nothing})
		}
		p, rng := guard.Program(), rand.New(rand.NewPCG(5, 6))
		st, hands := p.PowerOn(), p.Ready()
		for frame := range 3000 {
			if frame%500 == 0 {
				st, hands = p.PowerOn(), p.Ready()
				guard.Begin()
				for _, one := range singles {
					one.st, one.was = one.p.PowerOn(), nothing
				}
			} else if rng.IntN(4) == 0 {
				hand := rng.IntN(len(hands))
				switch item := s.Item(setup.ID(p.HandIDs()[hand])); {
				case item.Kind == setup.IsControl && s.Transmitter.Controls[item.Index].Switch != nil:
					hands[hand] = float64(rng.IntN(len(s.Transmitter.Controls[item.Index].Switch.Positions)))
				case item.Kind == setup.IsControl:
					hands[hand] = float64(rng.IntN(21)-10) * 10
				case item.Kind != setup.IsDevice:
					hands[hand] = float64(rng.IntN(2))
				}
			}
			p.Step(st, hands)
			memory := guard.Memory()
			got := guard.Step(st)
			guard.Remember(memory)
			require.Equal(t, got, guard.Step(st), "it goes back to what it remembers")
			want := -1
			for _, one := range singles {
				one.p.Step(one.st, hands)
				var bad bool
				if one.was, bad = one.m.step(one.was, one.st); bad && want < 0 {
					want = one.claim
				}
			}
			require.Equal(t, want, got, "%s, frame %d", name, frame)
			if want >= 0 {
				broken++
			}
		}
	}
	require.Greater(t, broken, 100)
}
