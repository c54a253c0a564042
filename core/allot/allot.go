package allot

import (
	"fmt"
	"math"
)

// Never is the cost of what cannot be. Costs that can be lie between 0 and Most.
const (
	Never = int64(1) << 60
	Most  = int64(1) << 52
)

// Problem is what to deal out.
type Problem struct {
	Columns []int // how many columns each side has
	Vars    []Var
	Terms   []Term
	// what a variable costs that gets no column: more than everything else can come to
	Left  int64
	Quota Quota
	Below int64 // only answers that cost less are looked for; 0: any
	Start []int // an answer to begin with, which stays where none costs less; nil: none
}

// Var is a variable: what each column of its side costs it, or Never.
type Var struct {
	Side int
	Cost []int64
}

// Term is what two variables, of one side or of two, cost together: Cost[a][b] for column a of A
// and column b of B, or Never. One that has no column adds nothing.
type Term struct {
	A, B    int
	Cost    [][]int64
	Counted bool // it counts for the quota where it costs anything
}

// Quota allows Most counted terms to cost something, and asks Over for each one more.
type Quota struct {
	Limited bool
	Most    int
	Over    int64
}

// None is the column of a variable that got none.
const None = -1

// Progress is where a search stands.
type Progress struct {
	Nodes int   // that were looked at
	Best  int64 // the cost of the best answer so far; Never is none
	Bound int64 // that no answer can be below
}

// Answer is what a search found. Columns is nil where nothing can be; Cost is then Never.
type Answer struct {
	Columns []int // of each variable, or None
	Proved  bool  // no other answer costs less
	Progress
}

// Check tells what is wrong with the tables of a problem, as an error of the program that made it.
func (p *Problem) Check() error {
	fits := func(c int64) bool { return c == Never || c >= 0 && c <= Most }
	for i, v := range p.Vars {
		if v.Side < 0 || v.Side >= len(p.Columns) || len(v.Cost) != p.Columns[v.Side] {
			return fmt.Errorf("variable %d: has not a cost for each column of a side", i)
		}
		for _, c := range v.Cost {
			if !fits(c) {
				return fmt.Errorf("variable %d: the cost %d is out of range", i, c)
			}
		}
	}
	for i, t := range p.Terms {
		if t.A < 0 || t.B < 0 || t.A >= len(p.Vars) || t.B >= len(p.Vars) || t.A == t.B {
			return fmt.Errorf("term %d: has not two variables", i)
		}
		if len(t.Cost) != p.Columns[p.Vars[t.A].Side] {
			return fmt.Errorf("term %d: has not a row for each column", i)
		}
		for _, row := range t.Cost {
			if len(row) != p.Columns[p.Vars[t.B].Side] {
				return fmt.Errorf("term %d: has not a cost for each pair of columns", i)
			}
			for _, c := range row {
				if !fits(c) {
					return fmt.Errorf("term %d: the cost %d is out of range", i, c)
				}
			}
		}
	}
	if p.Start != nil && len(p.Start) != len(p.Vars) {
		return fmt.Errorf("the answer to begin with has %d columns for %d variables", len(p.Start), len(p.Vars))
	}
	if p.Below < 0 {
		return fmt.Errorf("nothing costs less than %d", p.Below)
	}
	if !fits(p.Left) || !fits(p.Quota.Over) {
		return fmt.Errorf("what is left out costs %d, what is over the quota %d: out of range", p.Left,
			p.Quota.Over)
	}
	return nil
}

// Cost gives what columns cost, None allowed; Never where they cannot be, or two are the same.
func (p *Problem) Cost(columns []int) int64 {
	total, over := int64(0), 0
	taken := make([]map[int]bool, len(p.Columns))
	for i := range taken {
		taken[i] = map[int]bool{}
	}
	for i, c := range columns {
		v := &p.Vars[i]
		if c == None {
			total = plus(total, p.Left)
			continue
		}
		if taken[v.Side][c] {
			return Never
		}
		taken[v.Side][c] = true
		total = plus(total, v.Cost[c])
	}
	for i := range p.Terms {
		t := &p.Terms[i]
		c := t.at(columns[t.A], columns[t.B])
		total = plus(total, c)
		if t.Counted && c > 0 {
			over++
		}
	}
	return plus(total, p.Quota.of(over))
}

// of gives what a count costs.
func (q *Quota) of(count int) int64 {
	if !q.Limited || count <= q.Most {
		return 0
	}
	return int64(count-q.Most) * q.Over
}

func (t *Term) at(a, b int) int64 {
	if a < 0 || b < 0 || a >= len(t.Cost) || b >= len(t.Cost[a]) {
		return 0
	}
	return t.Cost[a][b]
}

// plus adds two costs; Never and anything is Never.
func plus(a, b int64) int64 {
	if a >= Never || b >= Never {
		return Never
	}
	return a + b
}

const infinite = int64(math.MaxInt64)
