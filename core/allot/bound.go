package allot

// node is a part of the answers, with a bound from below for all of them: the costs of each
// variable as they are now, after terms lent and handed on, and Never where a column is ruled out.
//
// For every answer of the node the sum of rows over its columns, and of term values at its
// columns, is what it costs; a term's value at (a, b) is Cost[a][b] + x[a] + y[b], never below 0.
type node struct {
	rows  [][]int64 // of each variable
	x, y  [][]int64 // of each term, by the columns of A and of B
	sides []*assignment
	bound int64
}

// copyOf gives a node that can be changed by itself.
func (s *search) copyOf(n *node) *node {
	c := &node{rows: split(n.rows), x: split(n.x), y: split(n.y), bound: n.bound,
		sides: make([]*assignment, len(n.sides))}
	for i, side := range n.sides {
		c.sides[i] = side.copyOf(s.rowsOf(c, i))
	}
	return c
}

// split copies lists into one piece of memory.
func split(lists [][]int64) [][]int64 {
	size := 0
	for _, l := range lists {
		size += len(l)
	}
	all, c := make([]int64, 0, size), make([][]int64, len(lists))
	for i, l := range lists {
		from := len(all)
		all = append(all, l...)
		c[i] = all[from:len(all):len(all)]
	}
	return c
}

func (s *search) rowsOf(n *node, side int) [][]int64 {
	rows := make([][]int64, len(s.vars[side]))
	for i, v := range s.vars[side] {
		rows[i] = n.rows[v]
	}
	return rows
}

// column gives the column that a variable has on its side now.
func (s *search) column(n *node, v int) int { return n.sides[s.p.Vars[v].Side].colOf[s.place[v]] }

// grid is a term's table, a row for each column of A, with the columns of who gets none, and the
// same turned round.
type grid struct {
	byA, byB           []int64
	columnsA, columnsB int
}

func (s *search) gridOf(t *Term) grid {
	g := grid{columnsA: s.width[s.p.Vars[t.A].Side], columnsB: s.width[s.p.Vars[t.B].Side]}
	g.byA, g.byB = make([]int64, g.columnsA*g.columnsB), make([]int64, g.columnsA*g.columnsB)
	for a, row := range t.Cost {
		for b, c := range row {
			g.byA[a*g.columnsB+b], g.byB[b*g.columnsA+a] = c, c
		}
	}
	return g
}

// base gives what a term costs by itself; a variable without a column costs nothing in it.
func (s *search) base(t, a, b int) int64 { return s.grids[t].byA[a*s.grids[t].columnsB+b] }

// value gives what is left of a term at two columns.
func (s *search) value(n *node, t, a, b int) int64 {
	c := s.base(t, a, b)
	if c >= Never {
		return Never
	}
	return c + n.x[t][a] + n.y[t][b]
}

// ends are the columns that a variable can still have.
func (s *search) ends(n *node, v int, into []int) []int {
	into = into[:0]
	for c, cost := range n.rows[v] {
		if cost < Never {
			into = append(into, c)
		}
	}
	return into
}

// lend moves what the columns of one variable of a term cost more than they must to the other:
// the term borrows it, hands on to each column of the other what that costs at least, and gives
// back what is left. Both variables' costs change, what an answer costs does not. Only one part of so
// many is lent.
func (s *search) lend(n *node, t int, fromA bool, part int64) (ok bool) {
	term := &s.p.Terms[t]
	from, to, x, y := term.A, term.B, n.x[t], n.y[t]
	costs, columns := s.grids[t].byA, s.grids[t].columnsB
	if !fromA {
		from, to, x, y = to, from, y, x
		costs, columns = s.grids[t].byB, s.grids[t].columnsA
	}
	s.fromEnds, s.toEnds = s.ends(n, from, s.fromEnds), s.ends(n, to, s.toEnds)
	side := n.sides[s.p.Vars[from].Side]
	row := n.rows[from]
	if len(s.fromEnds) == 0 || len(s.toEnds) == 0 {
		return false
	}
	// what is lent
	for _, a := range s.fromEnds {
		r := side.reduced(s.place[from], a) / part
		row[a] -= r
		x[a] += r
	}
	width := len(s.toEnds)
	if cap(s.table) < width*len(s.fromEnds) {
		s.table = make([]int64, width*len(s.fromEnds))
	}
	table := s.table[:width*len(s.fromEnds)]
	handed := s.handed[:width]
	for k := range handed {
		handed[k] = Never
	}
	for i, a := range s.fromEnds {
		line, of, lent := table[i*width:(i+1)*width], costs[a*columns:(a+1)*columns], x[a]
		for k, b := range s.toEnds {
			c := of[b]
			if c < Never {
				c += lent + y[b]
				if c < handed[k] {
					handed[k] = c
				}
			}
			line[k] = c
		}
	}
	for k, b := range s.toEnds {
		if handed[k] >= Never {
			n.rows[to][b] = Never
			continue
		}
		n.rows[to][b] += handed[k]
		y[b] -= handed[k]
	}
	for i, a := range s.fromEnds {
		back := Never
		for k, c := range table[i*width : (i+1)*width] {
			if c < Never && handed[k] < Never {
				back = min(back, c-handed[k])
			}
		}
		if back >= Never {
			row[a] = Never
			continue
		}
		row[a] += back
		x[a] -= back
	}
	return s.settle(n, from) && s.settle(n, to)
}

// settle solves the side of a variable anew after its costs changed.
func (s *search) settle(n *node, v int) bool {
	side := n.sides[s.p.Vars[v].Side]
	return side.changed(s.place[v]) && side.solve(s.room)
}

// measure works the bound out.
func (s *search) measure(n *node) {
	n.bound = s.p.Quota.of(s.surelyCounted(n))
	for _, side := range n.sides {
		n.bound += side.bound()
	}
}

// surelyCounted is how many counted terms cost something in every answer of the node.
func (s *search) surelyCounted(n *node) int {
	count := 0
	for _, t := range s.counted {
		term := &s.p.Terms[t]
		s.fromEnds, s.toEnds = s.ends(n, term.A, s.fromEnds), s.ends(n, term.B, s.toEnds)
		free := false
		for _, a := range s.fromEnds {
			for _, b := range s.toEnds {
				free = free || s.base(t, a, b) == 0
			}
			if free {
				break
			}
		}
		if !free {
			count++
		}
	}
	return count
}

// tighten raises the bound of a node as far as lending does, and rules out every column with which
// an answer could not be better than the best one. It tells whether anything is left. The terms that
// still cost something where the variables stand lend first; all of them, when that gains nothing. In
// every second round they lend only half of what is over, so that several terms of one variable get
// some: that leaves far fewer nodes.
func (s *search) tighten(n *node) bool {
	s.measure(n)
	all := false
	for round := 0; n.bound < s.best; round++ {
		if ok := s.rule(n); !ok {
			return false
		}
		before, lent, part := n.bound, false, int64(1+round%2)
		for t := range s.p.Terms {
			term := &s.p.Terms[t]
			if !all && s.value(n, t, s.column(n, term.A), s.column(n, term.B)) == 0 {
				continue
			}
			lent = true
			if !s.lend(n, t, true, part) || !s.lend(n, t, false, part) {
				return false
			}
		}
		s.measure(n)
		if !lent || n.bound == before && all || round >= s.rounds {
			return n.bound < s.best && s.rule(n)
		}
		all = n.bound == before
	}
	return false
}

// rule rules out what costs so much more than it must that it leads to nothing better.
func (s *search) rule(n *node) bool {
	for v, row := range n.rows {
		side, changed := n.sides[s.p.Vars[v].Side], false
		for c := range row {
			if row[c] < Never && n.bound+side.reduced(s.place[v], c) >= s.best {
				row[c], changed = Never, true
			}
		}
		if changed && !s.settle(n, v) {
			return false
		}
	}
	return true
}
