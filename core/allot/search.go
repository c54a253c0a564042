package allot

import (
	"cmp"
	"slices"
)

// search is one run of the branch and bound.
type search struct {
	p       *Problem
	vars    [][]int // the variables of each side
	place   []int   // of each variable, among those of its side
	width   []int   // of each side: its columns, and those of who gets none
	counted []int   // the terms that count for the quota
	rounds  int     // of lending

	best   int64
	answer []int
	nodes  int

	room             *room
	fromEnds, toEnds []int
	table, handed    []int64
	now              []int
	holder           [][]int // of each side and column, the variable that has it in now
	terms            [][]int // of each variable
	grids            []grid
}

// mostRounds is how often a node's terms lend, at most; the root's get more.
const mostRounds, rootRounds = 6, 40

// polishEvery is at which nodes an answer is made better that is not the best so far.
const polishEvery = 8

// Solve looks for the answer that costs least. see is told now and then where the search stands,
// and stops it by false; nil lets it run to the end. The error is the program's that made the
// problem.
func Solve(p *Problem, see func(Progress) bool) (Answer, error) {
	if err := p.Check(); err != nil {
		return Answer{}, err
	}
	// As few go without a column as each side asks for; where a term forbids that, any may.
	spare := make([]int, len(p.Columns))
	for side := range spare {
		spare[side] = p.without(side)
	}
	a := solve(p, spare, see)
	if a.Proved && p.leavesOut(a.Columns, spare) {
		for side := range spare {
			spare[side] = len(p.Vars)
		}
		nodes := a.Nodes
		a = solve(p, spare, see)
		a.Nodes += nodes
	}
	return a, nil
}

// leavesOut tells whether an answer, nil for none, gives no column to more variables of a side than
// it has to: then it is one to begin with, and the search has found nothing.
func (p *Problem) leavesOut(columns []int, spare []int) bool {
	left := make([]int, len(spare))
	for v, c := range columns {
		if c == None {
			left[p.Vars[v].Side]++
		}
	}
	for side := range spare {
		if columns == nil || left[side] > spare[side] {
			return true
		}
	}
	return columns == nil
}

// without is how many variables of a side get no column whatever is done.
func (p *Problem) without(side int) int {
	var rows [][]int64
	for i := range p.Vars {
		if p.Vars[i].Side == side {
			row := make([]int64, p.Columns[side])
			for c, cost := range p.Vars[i].Cost {
				if cost < Never {
					row[c] = 1
				}
			}
			rows = append(rows, row)
		}
	}
	return len(rows) - matching(rows, p.Columns[side])
}

// matching is how many rows can have a column each, no two the same, where a row allows those that
// are not 0 (augmenting paths; complexity: rows² × columns).
func matching(allows [][]int64, columns int) int {
	rowOf := make([]int, columns)
	for c := range rowOf {
		rowOf[c] = -1
	}
	count := 0
	seen := make([]int, columns)
	var find func(i, turn int) bool
	find = func(i, turn int) bool {
		for c, yes := range allows[i] {
			if yes == 0 || seen[c] == turn {
				continue
			}
			seen[c] = turn
			if rowOf[c] < 0 || find(rowOf[c], turn) {
				rowOf[c] = i
				return true
			}
		}
		return false
	}
	for i := range allows {
		if find(i, i+1) {
			count++
		}
	}
	return count
}

func solve(p *Problem, spare []int, see func(Progress) bool) Answer {
	s := &search{p: p, vars: make([][]int, len(p.Columns)), place: make([]int, len(p.Vars)),
		width: make([]int, len(p.Columns)), best: Never, rounds: rootRounds, now: make([]int, len(p.Vars)),
		holder: make([][]int, len(p.Columns)), terms: make([][]int, len(p.Vars))}
	if p.Below > 0 {
		s.best = p.Below
	}
	if p.Start != nil {
		if cost := p.Cost(p.Start); cost < s.best {
			s.best, s.answer = cost, slices.Clone(p.Start)
		}
	}
	for i, v := range p.Vars {
		s.place[i] = len(s.vars[v.Side])
		s.vars[v.Side] = append(s.vars[v.Side], i)
	}
	widest := 0
	for side, columns := range p.Columns {
		s.width[side] = max(columns+spare[side], len(s.vars[side]))
		s.holder[side] = make([]int, columns)
		widest = max(widest, s.width[side])
	}
	for t := range p.Terms {
		s.terms[p.Terms[t].A] = append(s.terms[p.Terms[t].A], t)
		s.terms[p.Terms[t].B] = append(s.terms[p.Terms[t].B], t)
		if p.Terms[t].Counted && p.Quota.Limited {
			s.counted = append(s.counted, t)
		}
	}
	for t := range p.Terms {
		s.grids = append(s.grids, s.gridOf(&p.Terms[t]))
	}
	s.room, s.handed = newRoom(widest), make([]int64, widest)
	root := s.root(spare)
	if root == nil {
		return Answer{Proved: true, Progress: Progress{s.nodes, Never, Never}}
	}
	proved, bound := s.run(root, see)
	a := Answer{Columns: s.answer, Proved: proved, Progress: Progress{s.nodes, s.best, bound}}
	if a.Columns == nil {
		a.Best = Never
	}
	return a
}

// root is the node of all answers; nil where there is none.
func (s *search) root(spare []int) *node {
	n := &node{}
	for i := range s.p.Vars {
		v := &s.p.Vars[i]
		row := make([]int64, s.width[v.Side])
		copy(row, v.Cost)
		for c := len(v.Cost); c < len(row); c++ {
			row[c] = s.p.Left
			if c >= len(v.Cost)+spare[v.Side] {
				row[c] = Never
			}
		}
		n.rows = append(n.rows, row)
	}
	for _, t := range s.p.Terms {
		n.x = append(n.x, make([]int64, s.width[s.p.Vars[t.A].Side]))
		n.y = append(n.y, make([]int64, s.width[s.p.Vars[t.B].Side]))
	}
	for side := range s.p.Columns {
		a := newAssignment(s.rowsOf(n, side), s.width[side])
		n.sides = append(n.sides, a)
		for i := range a.rows {
			if !a.changed(i) {
				return nil
			}
		}
		if !a.solve(s.room) {
			return nil
		}
	}
	return n
}

// run searches below a node, the nearer half first, and tells whether it came to the end, and what
// no answer can be below.
func (s *search) run(root *node, see func(Progress) bool) (proved bool, bound int64) {
	var open []*node
	if s.look(root) {
		open = append(open, root)
	}
	s.rounds = mostRounds
	for len(open) > 0 {
		if see != nil && s.nodes%16 == 1 && !see(Progress{s.nodes, s.best, lowest(open)}) {
			return false, lowest(open)
		}
		n := open[len(open)-1]
		open = open[:len(open)-1]
		if n.bound >= s.best {
			continue
		}
		halves := s.divide(n)
		// the nearer is looked at first, so it is put on last
		slices.SortStableFunc(halves, func(a, b *node) int { return cmp.Compare(b.bound, a.bound) })
		open = append(open, halves...)
	}
	return true, s.best
}

func lowest(open []*node) int64 {
	least := Never
	for _, n := range open {
		least = min(least, n.bound)
	}
	return least
}

// look bounds a node, keeps what it shows as an answer where that is the best so far, and tells
// whether anything better can be below it.
func (s *search) look(n *node) bool {
	s.nodes++
	if !s.tighten(n) {
		return false
	}
	for v := range s.p.Vars {
		s.now[v] = s.column(n, v)
		if s.now[v] >= s.p.Columns[s.p.Vars[v].Side] {
			s.now[v] = None
		}
	}
	cost := s.p.Cost(s.now)
	if cost < s.best || s.nodes%polishEvery == 1 {
		cost = s.polish(s.now)
	}
	if cost < s.best {
		s.best, s.answer = cost, slices.Clone(s.now)
	}
	return n.bound < s.best && s.rule(n)
}

// divide gives the halves of a node in which something better can be.
func (s *search) divide(n *node) []*node {
	v, group := s.choice(n)
	if v < 0 {
		return nil
	}
	var halves []*node
	for _, within := range [2]bool{true, false} {
		half := s.copyOf(n)
		for c := range half.rows[v] {
			if group[c] != within {
				half.rows[v][c] = Never
			}
		}
		if s.settle(half, v) && s.look(half) {
			halves = append(halves, half)
		}
	}
	return halves
}

// choice gives the variable to divide a node by, and the columns of one half: those that a term,
// the one that still costs most, treats as it does the column that the variable has. A variable
// below 0 means that the node has but one answer.
func (s *search) choice(n *node) (variable int, group []bool) {
	most := int64(0)
	variable = -1
	for t := range s.p.Terms {
		term := &s.p.Terms[t]
		if c := s.value(n, t, s.column(n, term.A), s.column(n, term.B)); c > most {
			if v, of := s.divides(n, t); v >= 0 {
				most, variable, group = c, v, of
			}
		}
	}
	for _, t := range s.counted {
		if variable < 0 {
			variable, group = s.divides(n, t)
		}
	}
	for v := range s.p.Vars {
		if variable < 0 && len(s.ends(n, v, s.fromEnds)) > 1 {
			group = make([]bool, len(n.rows[v]))
			group[s.column(n, v)] = true
			variable = v
		}
	}
	return variable, group
}

// divides divides by a term, by that of its two variables that has more kinds of column left.
func (s *search) divides(n *node, t int) (variable int, group []bool) {
	term := &s.p.Terms[t]
	as, bs := s.ends(n, term.A, nil), s.ends(n, term.B, nil)
	like := func(own, other []int, at func(a, b int) int64, v, has int) []bool {
		group, all := make([]bool, len(n.rows[v])), true
		for _, c := range own {
			alike := true
			for _, o := range other {
				alike = alike && at(c, o) == at(has, o)
			}
			group[c] = alike
			all = all && alike
		}
		if all {
			return nil
		}
		return group
	}
	base := func(a, b int) int64 { return s.base(t, a, b) }
	turned := func(b, a int) int64 { return s.base(t, a, b) }
	if group := like(as, bs, base, term.A, s.column(n, term.A)); group != nil {
		return term.A, group
	}
	if group := like(bs, as, turned, term.B, s.column(n, term.B)); group != nil {
		return term.B, group
	}
	return -1, nil
}
