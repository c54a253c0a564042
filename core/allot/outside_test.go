package allot

import (
	"fmt"
	"math/rand/v2"
	"os"
	"os/exec"
	"path/filepath"
	"strconv"
	"strings"
	"testing"

	"github.com/stretchr/testify/require"
	"pgregory.net/rapid"
)

// TestAgainstAMixedIntegerSolver compares whole problems with what cbc of the COIN-OR project finds,
// Debian's package coinor-cbc, which knows nothing of ours: one number for each variable and column,
// one for each pair of a term. Only in the long test, which installs it.
func TestAgainstAMixedIntegerSolver(t *testing.T) {
	if os.Getenv("AXTREN_LONG") == "" {
		t.Skip("only in the long test")
	}
	cbc, err := exec.LookPath("cbc")
	require.NoError(t, err, "install Debian's package coinor-cbc")
	for seed := range uint64(60) {
		p := middling(seed)
		a, err := Solve(p, nil)
		require.NoError(t, err)
		require.Equal(t, outside(t, cbc, p), a.Best, "seed %d", seed)
	}
}

// middling draws a problem of 21 variables on three sides, with 14 terms.
func middling(seed uint64) *Problem {
	r := rand.New(rand.NewPCG(seed, 3))
	p := &Problem{Columns: []int{8, 9, 9}, Left: 5000}
	for v := range 21 {
		side := v % 3
		one := Var{Side: side}
		for range p.Columns[side] {
			cost := int64(r.IntN(40))
			if r.IntN(4) == 0 {
				cost = Never
			}
			one.Cost = append(one.Cost, cost)
		}
		p.Vars = append(p.Vars, one)
	}
	for v := range 14 {
		term := Term{A: v, B: v + 1 + r.IntN(6)}
		for range p.Columns[p.Vars[term.A].Side] {
			row := make([]int64, p.Columns[p.Vars[term.B].Side])
			for c := range row {
				row[c] = int64(r.IntN(3) * r.IntN(30))
			}
			term.Cost = append(term.Cost, row)
		}
		p.Terms = append(p.Terms, term)
	}
	return p
}

// TestItTakesFewLooks holds how well the bounds cut: what is no longer lent, ruled out or divided well
// takes many more.
func TestItTakesFewLooks(t *testing.T) {
	looks := 0
	for seed := range uint64(12) {
		a, err := Solve(middling(seed), nil)
		require.NoError(t, err)
		require.True(t, a.Proved)
		looks += a.Nodes
	}
	require.Less(t, looks, 300, "246 when this was written")
}

// TestHowManyGoWithout compares the matching of a side with trying all.
func TestHowManyGoWithout(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		p := drawn(t)
		for side := range p.Columns {
			var of []int
			for v := range p.Vars {
				if p.Vars[v].Side == side {
					of = append(of, v)
				}
			}
			most := 0
			taken := make([]bool, p.Columns[side])
			var give func(i, have int)
			give = func(i, have int) {
				most = max(most, have)
				if i == len(of) {
					return
				}
				give(i+1, have)
				for c, cost := range p.Vars[of[i]].Cost {
					if cost < Never && !taken[c] {
						taken[c] = true
						give(i+1, have+1)
						taken[c] = false
					}
				}
			}
			give(0, 0)
			require.Equal(t, len(of)-most, p.without(side))
		}
	})
}

// outside lets cbc solve a problem in which no term is forbidden and nothing is counted.
func outside(t *testing.T, cbc string, p *Problem) int64 {
	var cost, rules, whole strings.Builder
	line := map[string][]string{}
	x := func(v, c int) string { return fmt.Sprintf("x%d_%d", v, c) }
	for v := range p.Vars {
		own := []string{}
		for c, n := range p.Vars[v].Cost {
			if n < Never {
				fmt.Fprintf(&cost, " + %d %s", n, x(v, c))
				own = append(own, x(v, c))
				side := fmt.Sprintf("%d_%d", p.Vars[v].Side, c)
				line[side] = append(line[side], x(v, c))
				fmt.Fprintln(&whole, x(v, c))
			}
		}
		left := fmt.Sprintf("left%d", v)
		fmt.Fprintf(&cost, " + %d %s", p.Left, left)
		fmt.Fprintln(&whole, left)
		fmt.Fprintf(&rules, " %s = 1\n", strings.Join(append(own, left), " + "))
	}
	for _, of := range line {
		fmt.Fprintf(&rules, " %s <= 1\n", strings.Join(of, " + "))
	}
	for i, term := range p.Terms {
		for a, row := range term.Cost {
			for b, n := range row {
				if n > 0 && p.Vars[term.A].Cost[a] < Never && p.Vars[term.B].Cost[b] < Never {
					y := fmt.Sprintf("y%d_%d_%d", i, a, b)
					fmt.Fprintf(&cost, " + %d %s", n, y)
					fmt.Fprintf(&rules, " %s - %s - %s >= -1\n", y, x(term.A, a), x(term.B, b))
				}
			}
		}
	}
	text := "min\n" + cost.String() + "\nst\n" + rules.String() + "Binaries\n" + whole.String() + "End\n"
	path := filepath.Join(t.TempDir(), "problem.lp")
	require.NoError(t, os.WriteFile(path, []byte(text), 0o600))
	out, err := exec.Command(cbc, path, "solve", "solution", path+".out").CombinedOutput()
	require.NoError(t, err, string(out))
	answer, err := os.ReadFile(path + ".out")
	require.NoError(t, err, string(out))
	first, _, _ := strings.Cut(string(answer), "\n")
	_, value, ok := strings.Cut(first, "Optimal - objective value ")
	require.True(t, ok, first)
	found, err := strconv.ParseFloat(strings.TrimSpace(value), 64)
	require.NoError(t, err)
	return int64(found + 0.5)
}
