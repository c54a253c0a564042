package proof

import (
	"fmt"
	"math/rand/v2"
	"testing"

	"github.com/stretchr/testify/require"

	"axtren/core/setup"
	"axtren/core/signal"
)

// TestAllWaysAtOnce: of random rules, and of every claim of random documents that truths alone decide,
// what a frame leaves for each way of the hands is bit by bit what the program leaves that steps it, from
// thousands of moments; and every way leads to the same as one of those that stand for all.
func TestAllWaysAtOnce(t *testing.T) {
	var texts []string
	rng := rand.New(rand.NewPCG(3, 14))
	for range 150 {
		texts = append(texts, switched(rng))
	}
	for seed := range 100 {
		m := &maker{Rand: rand.New(rand.NewPCG(uint64(seed), 77))}
		texts = append(texts, m.document(false, false))
	}
	quick, moments, groups, ways := 0, 0, 0, 0
	for n, text := range texts {
		doc, err := setup.ReadYAML([]byte(text))
		require.NoError(t, err)
		if _, err := signal.Compile(doc.Setup); err != nil {
			continue // rules that read each other in a circle
		}
		for i := range doc.Setup.Claims {
			y, err := newSystem(doc.Setup, &doc.Setup.Claims[i], nil)
			if err != nil {
				continue
			}
			w := y.walk(1)
			if w.quick == nil {
				continue
			}
			quick++
			for _, way := range y.first {
				w.begin(way)
				w.t.add(w.st, 0)
			}
			whole := w.quick
			for at := 0; at < w.t.n && at < 400; at++ {
				w.t.take(y.p, at, w.room, w.base)
				w.spread()
				same := map[string]int{}
				leads := func(way int) string {
					w.quick = whole
					w.next(0, way)
					now := w.see()
					w.quick = nil
					w.next(0, way)
					require.Equal(t, w.see(), now, "text %d, claim %d, way %d", n, i, way)
					w.quick = whole
					return now
				}
				reps := append([]int{}, w.led()...)
				require.IsIncreasing(t, append([]int{-1}, reps...))
				for _, way := range reps {
					same[leads(way)]++
					w.t.add(w.st, 0)
				}
				for way := range y.ways {
					require.Positive(t, same[leads(way)], "text %d, claim %d, way %d", n, i, way)
				}
				if y.ways <= 64 {
					require.Len(t, same, len(reps), "each is another one")
				}
				moments++
				groups += len(reps)
				ways += y.ways
			}
		}
	}
	t.Log(quick, moments, groups, ways)
	require.Greater(t, quick, 150)
	require.Greater(t, moments, 1500)
	require.Less(t, groups, ways)
}

// see writes what of a state is kept or watched.
func (w *walk) see() string {
	text := ""
	for _, slot := range w.y.kept {
		text += fmt.Sprint(w.st.At(slot), " ")
	}
	for _, c := range w.y.watch.conds {
		text += fmt.Sprint(w.st.At(c.slot), " ")
	}
	return text
}
