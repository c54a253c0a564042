package proof

import (
	"context"
	"fmt"
	"math/rand/v2"
	"testing"

	"github.com/stretchr/testify/require"

	"axtren/core/setup"
	"axtren/core/signal"
	"axtren/demo"
	"axtren/internal/golden"
)

// walks plays random runs of a whole document and tells whether any breaks a claim: hands anywhere,
// mostly near
// where something turns, the link and, where the claim is about that, the power off and on.
func walks(t *testing.T, s *setup.Setup, claim *setup.Claim, rng *rand.Rand, frames int) bool {
	t.Helper()
	y, err := newSystem(s, claim, nil)
	require.NoError(t, err)
	power := false
	for _, d := range y.dims {
		for _, hand := range d.hands {
			power = power || y.ids[hand] == "transmitter"
		}
	}
	full, err := signal.Compile(y.all)
	require.NoError(t, err)
	m := y.claimed.on(full, y.all)
	ids := full.HandIDs()
	st, hands := full.PowerOn(), full.Ready()
	mon := uint16(nothing)
	for frame := range frames {
		if frame%400 == 0 { // another run
			st, hands, mon = full.PowerOn(), full.Ready(), nothing
		} else if rng.IntN(4) == 0 {
			hand := rng.IntN(len(ids))
			item := y.all.Item(setup.ID(ids[hand]))
			switch {
			case item.Kind == setup.IsControl && y.all.Transmitter.Controls[item.Index].Axis != nil:
				hands[hand] = []float64{-100, 0, 100, rng.Float64()*200 - 100, float64(rng.IntN(41)-20) * 5}[rng.IntN(5)]
			case item.Kind == setup.IsControl:
				hands[hand] = float64(rng.IntN(len(y.all.Transmitter.Controls[item.Index].Switch.Positions)))
			case item.Kind == setup.IsDevice:
			case ids[hand] == "link", power:
				hands[hand] = float64(rng.IntN(2))
			}
		}
		full.Step(st, hands)
		var bad bool
		if mon, bad = m.step(mon, st); bad {
			return true
		}
	}
	return false
}

// TestNoWalkBreaksWhatHolds: of every claim that holds, of the demo, of the models that use everything and of
// random documents, no random run breaks it.
func TestNoWalkBreaksWhatHolds(t *testing.T) {
	frames := 10000
	if testing.Short() {
		frames = 2000
	}
	models := map[string]*setup.Setup{}
	yard, err := demo.Yard()
	require.NoError(t, err)
	for _, m := range yard {
		models[m.Doc.Setup.Name] = m.Doc.Setup
	}
	for _, m := range golden.Models(t) {
		models[m.Name] = m.Doc.Setup
	}
	for seed := range 24 {
		m := &maker{Rand: rand.New(rand.NewPCG(uint64(seed), 99))}
		doc, err := setup.ReadYAML([]byte(m.document(seed%4 == 3, seed%3 == 2)))
		require.NoError(t, err)
		if _, err := signal.Compile(doc.Setup); err == nil {
			models[fmt.Sprint("seed ", seed)] = doc.Setup
		}
	}
	held, broken := 0, 0
	for name, s := range models {
		for i := range s.Claims {
			v := Decide(context.Background(), s, i, Budget{Bytes: 32 << 20, Steps: 100000})
			claim := &s.Claims[i]
			rng := rand.New(rand.NewPCG(uint64(i), 4))
			never := v.Verdict == Holds && claim.Reachable == nil || v.Verdict == Fails && claim.Reachable != nil
			switch {
			case never:
				held++
				require.False(t, walks(t, s, claim, rng, frames), "%s, %s: %+v", name, claim.ID, v)
			case v.Verdict != Undecided && walks(t, s, claim, rng, 4000):
				broken++ // the walk is one that finds what there is to find
			}
		}
	}
	t.Log(held, broken)
	require.Greater(t, held, 30)
	require.Greater(t, broken, 40)
}
