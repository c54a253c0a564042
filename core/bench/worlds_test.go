package bench

import (
	"math/rand/v2"
	"slices"
	"testing"

	"github.com/stretchr/testify/require"

	"axtren/demo"
)

// TestAWorldThatStandsStill: a world of faults that leaves out what it would repeat is, after each time that
// it follows, just where it is when every frame is played, while hands move and the link comes and goes.
func TestAWorldThatStandsStill(t *testing.T) {
	yard, err := demo.Yard()
	require.NoError(t, err)
	for _, m := range yard {
		s := m.Doc.Setup
		w, err := newWorlds(s, nil)
		require.NoError(t, err)
		fast, plain := w.begin(), w.begin()
		rng := rand.New(rand.NewPCG(7, uint64(len(w.groups))))
		for range 12 {
			for i := range s.Transmitter.Controls {
				if list := places(&s.Transmitter.Controls[i], true); rng.IntN(3) == 0 {
					fast.hands[i] = list[rng.IntN(len(list))]
				}
			}
			if link, _ := w.right.Hand("link"); rng.IntN(4) == 0 {
				fast.hands[link] = 1 - fast.hands[link]
			}
			plain.hands = slices.Clone(fast.hands)
			for range []int{3, 40, 301}[rng.IntN(3)] {
				fast.step()
				plain.step()
				plain.follow() // one frame at a time leaves nothing out
			}
			fast.follow()
			for i := range w.groups {
				require.Equal(t, plain.of[i], fast.of[i], "%s, world %d, frame %d", s.Name, i, fast.frame)
			}
		}
	}
}
