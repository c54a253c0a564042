package allot

import (
	"math/bits"
	"testing"

	"github.com/stretchr/testify/require"
	"pgregory.net/rapid"
)

// met tells whether some asks can be met together, by trying all columns.
func met(columns int, wants []Wanting, asks []uint) bool {
	taken := make([]bool, columns)
	var give func(v int) bool
	give = func(v int) bool {
		if v == len(wants) {
			return true
		}
		if asks[v]&1 == 0 {
			return give(v + 1)
		}
		for c := range columns {
			if !taken[c] && wants[v].Allows(asks[v], c) {
				taken[c] = true
				if give(v + 1) {
					return true
				}
				taken[c] = false
			}
		}
		return false
	}
	return give(0)
}

// smallest is the size of the smallest conflict, by trying every set of asks; 0: there is none.
func smallest(columns int, wants []Wanting) int {
	best := 0
	asks := make([]uint, len(wants))
	var try func(v, size int)
	try = func(v, size int) {
		if best > 0 && size >= best {
			return
		}
		if v == len(wants) {
			if !met(columns, wants, asks) {
				best = size
			}
			return
		}
		for set := range uint(1) << wants[v].Asks {
			if set == 0 || set&1 == 1 {
				asks[v] = set
				try(v+1, size+bits.OnesCount(set))
			}
		}
		asks[v] = 0
	}
	try(0, 0)
	return best
}

func TestTheSmallestConflict(t *testing.T) {
	found := 0
	rapid.Check(t, func(t *rapid.T) {
		for range 12 {
			columns := rapid.IntRange(0, 4).Draw(t, "columns")
			var wants []Wanting
			for range rapid.IntRange(1, 5).Draw(t, "variables") {
				n := rapid.IntRange(1, 3).Draw(t, "asks")
				meets := make([][]bool, n)
				for i := range meets {
					for range columns {
						meets[i] = append(meets[i], rapid.IntRange(0, 3).Draw(t, "meets") > 0)
					}
				}
				wants = append(wants, Wanting{n, func(asks uint, c int) bool {
					for i := range meets {
						if asks>>i&1 == 1 && !meets[i][c] {
							return false
						}
					}
					return true
				}})
			}
			got := Conflict(columns, wants)
			size, asks := 0, make([]uint, len(wants))
			for _, a := range got {
				size += bits.OnesCount(a.Asks)
				asks[a.Var] = a.Asks
			}
			require.Equal(t, smallest(columns, wants), size)
			if got != nil {
				found++
				require.False(t, met(columns, wants, asks))
			}
		}
	})
	require.Positive(t, found)
}

// Nine that want one of eight alike are told as nine, at once, however many more there are.
func TestManyOfAKindAreCounted(t *testing.T) {
	var wants []Wanting
	for range 40 {
		wants = append(wants, Wanting{1, func(_ uint, c int) bool { return c < 8 }})
	}
	require.Len(t, Conflict(40, wants), 9)
}
