package bench_test

import (
	"context"
	"strings"
	"testing"
	"time"

	"github.com/stretchr/testify/require"

	"axtren/core/bench"
	"axtren/core/diagnose"
	"axtren/core/proof"
	"axtren/core/setup"
	"axtren/core/signal"
	"axtren/demo"
)

// walked works out a walk.
func walked(t testing.TB, s *setup.Setup) *bench.Walk {
	t.Helper()
	ctx, cancel := context.WithTimeout(context.Background(), time.Minute)
	defer cancel()
	walk, err := bench.Steady(ctx, s, proof.Budget{Bytes: 64 << 20})
	require.NoError(t, err)
	return walk
}

// byForce plays the walk as a script with every single fault, one after the other, and compares all that is
// listed at each look; it gives the first look at which each is seen.
func byForce(t testing.TB, s *setup.Setup, walk *bench.Walk) []int {
	t.Helper()
	sights := func(with *setup.Setup, f ...diagnose.Fault) []string {
		p, err := signal.Compile(with)
		require.NoError(t, err)
		seer := diagnose.NewSeer(p, f...)
		var looks []string
		script := signal.NewScript(strings.NewReader(proof.Script(walk.Rows)), p)
		err = p.Run(script, proof.Seconds(walk.Looks[len(walk.Looks)-1].Frame, s), func(at float64, st *signal.State) error {
			n := len(looks)
			if n < len(walk.Looks) && at == proof.Seconds(walk.Looks[n].Frame, s) {
				var b strings.Builder
				for o := range s.Outputs {
					b.WriteString(seer.Display(st, s.Outputs[o].Channel) + "|")
				}
				for d := range s.Devices {
					if bench.Lists(s, d) {
						b.WriteString(seer.Device(st, d) + "|")
					}
				}
				looks = append(looks, b.String())
			}
			return nil
		})
		require.NoError(t, err)
		require.Len(t, looks, len(walk.Looks))
		return looks
	}
	right := sights(s)
	var seen []int
	for _, f := range diagnose.Singles(s) {
		seen = append(seen, -1)
		for n, look := range sights(diagnose.With(s, f), f) {
			if look != right[n] {
				seen[len(seen)-1] = n
				break
			}
		}
	}
	return seen
}

// TestEveryFaultIsSeenByForce: what a walk says it shows it shows, at that look and at none before it, and
// what it does not it does not.
func TestEveryFaultIsSeenByForce(t *testing.T) {
	yard, err := demo.Yard()
	require.NoError(t, err)
	for _, m := range yard {
		s := m.Doc.Setup
		began := time.Now()
		walk := walked(t, s)
		took := time.Since(began)
		require.Equal(t, byForce(t, s, walk), walk.Seen, s.Name)
		seen := 0
		for f := range walk.Seen {
			if walk.Seen[f] >= 0 {
				seen++
			} else {
				t.Log("  ", walk.Faults[f].Kind, walk.Faults[f].Where, walk.Why[f])
			}
		}
		t.Logf("%s: %d of %d at %d looks, %d rows, %v", s.Name, seen, len(walk.Seen), len(walk.Looks), len(walk.Rows), took)
	}
}
