package allot

import (
	"testing"

	"github.com/stretchr/testify/require"
	"pgregory.net/rapid"
)

// least is the cost of the best answer, found by trying every one.
func least(p *Problem) int64 {
	best := Never
	columns := make([]int, len(p.Vars))
	var try func(v int)
	try = func(v int) {
		if v == len(p.Vars) {
			best = min(best, p.Cost(columns))
			return
		}
		for c := None; c < p.Columns[p.Vars[v].Side]; c++ {
			columns[v] = c
			try(v + 1)
		}
	}
	try(0)
	return best
}

// drawn draws a problem of a few variables, with ties, with columns that cannot be, and with
// terms on one side and across.
func drawn(t *rapid.T) *Problem {
	cost := rapid.Custom(func(t *rapid.T) int64 {
		if rapid.IntRange(0, 5).Draw(t, "never") == 0 {
			return Never
		}
		return rapid.SampledFrom([]int64{0, 0, 1, 2, 3, 6, 40, 1000}).Draw(t, "cost")
	})
	p := &Problem{Left: 1_000_000}
	for range rapid.IntRange(1, 3).Draw(t, "sides") {
		p.Columns = append(p.Columns, rapid.IntRange(1, 4).Draw(t, "columns"))
	}
	for range rapid.IntRange(1, 6).Draw(t, "variables") {
		v := Var{Side: rapid.IntRange(0, len(p.Columns)-1).Draw(t, "side")}
		for range p.Columns[v.Side] {
			v.Cost = append(v.Cost, cost.Draw(t, "c"))
		}
		p.Vars = append(p.Vars, v)
	}
	for range rapid.IntRange(0, 5).Draw(t, "terms") {
		if len(p.Vars) < 2 {
			break
		}
		a := rapid.IntRange(0, len(p.Vars)-1).Draw(t, "a")
		b := rapid.IntRange(0, len(p.Vars)-2).Draw(t, "b")
		if b >= a {
			b++
		}
		term := Term{A: a, B: b, Counted: rapid.Bool().Draw(t, "counted")}
		for range p.Columns[p.Vars[a].Side] {
			var row []int64
			for range p.Columns[p.Vars[b].Side] {
				row = append(row, cost.Draw(t, "pair"))
			}
			term.Cost = append(term.Cost, row)
		}
		p.Terms = append(p.Terms, term)
	}
	if rapid.Bool().Draw(t, "starts") {
		for _, v := range p.Vars {
			p.Start = append(p.Start, rapid.IntRange(None, p.Columns[v.Side]-1).Draw(t, "start"))
		}
	}
	p.Quota = Quota{rapid.Bool().Draw(t, "limited"), rapid.IntRange(0, 2).Draw(t, "most"), 5000}
	return p
}

func TestTheBestOfAll(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		for range 12 { // what goes wrong only where many things meet is rare
			p := drawn(t)
			a, err := Solve(p, nil)
			require.NoError(t, err)
			require.True(t, a.Proved)
			require.Equal(t, least(p), a.Best)
			if a.Columns != nil {
				require.Equal(t, a.Best, p.Cost(a.Columns))
			}
			require.Equal(t, a.Best, a.Bound)
		}
	})
}
