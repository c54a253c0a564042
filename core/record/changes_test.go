package record

import (
	"math"
	"math/rand/v2"
	"slices"
	"testing"

	"github.com/stretchr/testify/require"
)

// TestChangesAreKeptAsTheyAre: whatever their values, frames and hands, while the oldest are
// forgotten, in little room.
func TestChangesAreKeptAsTheyAre(t *testing.T) {
	var m Changes
	var want []Change
	seeded := rand.New(rand.NewPCG(3, 4))
	values := []float64{0, math.Copysign(0, -1), 0.5, -100, 99.5, 12.3456789, 1e300, math.Pi, -1e7,
		1.0 / 3}
	frame := int64(5)
	for range 20_000 {
		frame += []int64{0, 0, 1, 1, 2, 130, 70_000}[seeded.IntN(7)]
		one := Change{values[seeded.IntN(len(values))], frame, seeded.IntN(300)}
		m.Add(one)
		want = append(want, one)
		for len(want) > 0 && seeded.IntN(20) == 0 && frame%3 != 0 || len(want) > 500 {
			require.Equal(t, want[0], m.Oldest())
			m.Forget()
			want = want[1:]
		}
		require.Equal(t, len(want), m.Len())
	}
	got := slices.Collect(m.All())
	require.Equal(t, want, got)
	for i := range got { // 0 and -0 are equal, and not the same
		require.Equal(t, math.Signbit(want[i].Value), math.Signbit(got[i].Value))
	}
	require.Less(t, cap(m.text), 4*spare)
	for m.Len() > 0 {
		m.Forget()
	}
	m.Add(Change{1, frame + 9, 2})
	require.Equal(t, []Change{{1, frame + 9, 2}}, slices.Collect(m.All()))
}
