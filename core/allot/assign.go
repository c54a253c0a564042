package allot

// assignment is one side as a linear assignment, square: the rows after the real ones cost nothing
// and take the columns that are over. Its duals stay good while rows change, so it is solved
// anew from where it stood.
//
// Everywhere cost(i, j) >= u[i] + v[j], and equal where row i has column j; so the sum of all u and
// v is the least cost, and cost - u - v what a column costs more than it must.
type assignment struct {
	rows  [][]int64 // of the real rows; shared with the node
	u, v  []int64
	colOf []int // of each row; -1: none yet
	rowOf []int // of each column
}

// room is what one solving needs and the next can use again.
type room struct {
	dist []int64
	from []int // the row before a column on its way
	done []bool
	todo []int
}

func newRoom(n int) *room {
	return &room{make([]int64, n), make([]int, n), make([]bool, n), make([]int, 0, n)}
}

func newAssignment(rows [][]int64, columns int) *assignment {
	a := &assignment{rows, make([]int64, columns), make([]int64, columns), make([]int, columns),
		make([]int, columns)}
	for i := range columns {
		a.colOf[i], a.rowOf[i] = -1, -1
	}
	return a
}

// reduced gives what column j costs row i more than it must; Never where it cannot be.
func (a *assignment) reduced(i, j int) int64 {
	if i >= len(a.rows) {
		return -a.u[i] - a.v[j]
	}
	c := a.rows[i][j]
	if c >= Never {
		return Never
	}
	return c - a.u[i] - a.v[j]
}

// changed takes note that the costs of a real row are others now: what it has stays only if it
// still costs the least.
func (a *assignment) changed(i int) bool {
	least := infinite
	row := a.rows[i]
	for j, c := range row {
		if c < Never {
			least = min(least, c-a.v[j])
		}
	}
	if least == infinite {
		return false
	}
	a.u[i] = least
	if j := a.colOf[i]; j >= 0 && (row[j] >= Never || row[j]-a.v[j] != least) {
		a.colOf[i], a.rowOf[j] = -1, -1
	}
	return true
}

// solve gives every row its column, starting from what stands. It tells whether that can be.
// Complexity: columns² for each row that has none.
func (a *assignment) solve(w *room) bool {
	for i := range a.colOf {
		if a.colOf[i] < 0 && !a.augment(i, w) {
			return false
		}
	}
	return true
}

// augment finds the cheapest way for a row to get a column, others moving over (Dijkstra over the
// reduced costs), and moves the duals so that they stay good.
func (a *assignment) augment(start int, w *room) bool {
	n := len(a.v)
	for j := range n {
		w.dist[j], w.from[j], w.done[j] = infinite, -1, false
	}
	w.todo = w.todo[:0]
	row, base, end := start, int64(0), -1
	for end < 0 {
		if row < len(a.rows) {
			costs, u := a.rows[row], a.u[row]
			for j, c := range costs {
				if !w.done[j] && c < Never {
					if d := base + c - u - a.v[j]; d < w.dist[j] {
						w.dist[j], w.from[j] = d, row
					}
				}
			}
		} else {
			for j := range n {
				if !w.done[j] {
					if d := base - a.u[row] - a.v[j]; d < w.dist[j] {
						w.dist[j], w.from[j] = d, row
					}
				}
			}
		}
		next, least := -1, infinite
		for j := range n {
			if w.done[j] {
				continue
			}
			// of equals a free column ends the search
			if d := w.dist[j]; d < least || d == least && d < infinite && a.rowOf[j] < 0 && a.rowOf[next] >= 0 {
				next, least = j, d
			}
		}
		if next < 0 {
			return false
		}
		w.done[next], base = true, least
		w.todo = append(w.todo, next)
		if a.rowOf[next] < 0 {
			end = next
		} else {
			row = a.rowOf[next]
		}
	}
	a.u[start] += base
	for _, j := range w.todo {
		if j == end {
			continue
		}
		a.u[a.rowOf[j]] += base - w.dist[j]
		a.v[j] -= base - w.dist[j]
	}
	for j := end; ; {
		i := w.from[j]
		a.rowOf[j] = i
		j, a.colOf[i] = a.colOf[i], j
		if i == start {
			return true
		}
	}
}

// bound is the least cost of the side.
func (a *assignment) bound() int64 {
	sum := int64(0)
	for i := range a.u {
		sum += a.u[i] + a.v[i]
	}
	return sum
}

// copyOf gives a copy over other rows.
func (a *assignment) copyOf(rows [][]int64) *assignment {
	n := len(a.u)
	c := &assignment{rows: rows}
	numbers, places := make([]int64, 2*n), make([]int, 2*n)
	c.u, c.v = numbers[:n:n], numbers[n:]
	c.colOf, c.rowOf = places[:n:n], places[n:]
	copy(c.u, a.u)
	copy(c.v, a.v)
	copy(c.colOf, a.colOf)
	copy(c.rowOf, a.rowOf)
	return c
}
