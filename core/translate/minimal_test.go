package translate

import (
	"context"
	"fmt"
	"math/bits"
	"math/rand/v2"
	"slices"
	"strings"
	"testing"

	"github.com/stretchr/testify/require"

	"axtren/core/setup"
)

// term is a product of some variables or their opposites: where care has a bit, the variable is as value
// has it.
type term struct{ care, value int }

func (t term) covers(row int) bool { return row&t.care == t.value }

// primes gives the prime implicants of a function of n variables, by joining products that differ in one
// variable: W. V. Quine, "The Problem of Simplifying Truth Functions", 1952, and E. J. McCluskey,
// "Minimization of Boolean Functions", 1956 (from memory).
func primes(f uint, n int) []term {
	var list, primes []term
	for row := range 1 << n {
		if f>>row&1 == 1 {
			list = append(list, term{1<<n - 1, row})
		}
	}
	for len(list) > 0 {
		joined := map[term]bool{}
		var next []term
		for i, a := range list {
			for _, b := range list[i+1:] {
				if differ := a.value ^ b.value; a.care == b.care && bits.OnesCount(uint(differ)) == 1 {
					joined[a], joined[b] = true, true
					if one := (term{a.care &^ differ, a.value &^ differ}); !slices.Contains(next, one) {
						next = append(next, one)
					}
				}
			}
		}
		for _, one := range list {
			if !joined[one] {
				primes = append(primes, one)
			}
		}
		list = next
	}
	return primes
}

// twoLevel gives the fewest gates of any width that make a function in two levels, or in one: of all
// covers by prime implicants the cheapest, where a product of one variable needs no gate of its own.
func twoLevel(f uint, n int) int {
	list := primes(f, n)
	least := 100
	for some := 1; some < 1<<len(list); some++ {
		covers := uint(0)
		gates := 0
		for i, one := range list {
			if some>>i&1 == 0 {
				continue
			}
			for row := range 1 << n {
				if one.covers(row) {
					covers |= 1 << row
				}
			}
			if bits.OnesCount(uint(one.care)) > 1 {
				gates++
			}
		}
		if bits.OnesCount(uint(some)) > 1 || gates == 0 {
			gates++ // they meet, or a control alone has an entry
		}
		if covers == f {
			least = min(least, gates)
		}
	}
	return least
}

// TestAgainstMinimalForms: every function of three switches that a rule can be, written out row by row,
// needs no more entries than its minimal form in two levels, of products or of sums; where that is one or
// two it needs just so many, since so few are always in two levels, and it is known that there are no
// fewer.
func TestAgainstMinimalForms(t *testing.T) {
	const n = 3
	require.ElementsMatch(t, []term{{6, 6}, {3, 3}, {5, 5}}, primes(0b11101000, n), "two of three")
	require.Equal(t, 4, twoLevel(0b11101000, n))
	require.Equal(t, 5, twoLevel(0b10010110, n), "odd")
	rng := rand.New(rand.NewPCG(2, 7))
	list := rng.Perm(254)[:70]
	two, below := 0, 0
	for _, at := range list {
		f := uint(at + 1)
		whole := uint(1)<<(1<<n) - 1
		gates := min(twoLevel(f, n), twoLevel(whole&^f, n))
		var rows []string
		var text strings.Builder
		for row := range 1 << n {
			if f>>row&1 == 0 {
				continue
			}
			var in []string
			for k := range n {
				in = append(in, fmt.Sprintf("s%d.%s", k, []string{"low", "high"}[row>>k&1]))
			}
			rows = append(rows, fmt.Sprintf("row%d", row))
			fmt.Fprintf(&text, "  - {id: row%d, block: and, in: [%s]}\n", row, strings.Join(in, ", "))
		}
		fmt.Fprintf(&text, "  - {id: r, block: or, in: [%s]}\n", strings.Join(rows, ", "))
		doc, err := setup.ReadYAML([]byte(`format: axtren-setup
version: 1
transmitter:
  can: {logic: {blocks: [and, or], negated: true, inputs: 8, count: 24}}
  controls:
    - {id: s0, kind: switch, positions: [low, high]}
    - {id: s1, kind: switch, positions: [low, high]}
    - {id: s2, kind: switch, positions: [low, high]}
outputs: [{id: out, channel: 1}]
mixes: [{to: out, from: r}]
logic:
` + text.String()))
		require.NoError(t, err)
		a, err := Translate(context.Background(), doc.Setup, SetOf(doc.Setup, -1), Glance)
		require.NoError(t, err)
		require.True(t, a.Same, "%08b %s", f, said(a))
		if len(a.Entries) < gates {
			below++
		}
		require.LessOrEqual(t, len(a.Entries), gates, "%08b: %s", f, said(a))
		if gates <= 2 {
			two++
			require.Len(t, a.Entries, gates, "%08b: %s", f, said(a))
			require.True(t, a.Fewest, "%08b: %s", f, said(a))
		}
	}
	t.Log(len(list), two, below)
	require.Greater(t, two, 10)
}
