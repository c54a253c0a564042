package proof

import (
	"context"
	"slices"
)

// quest looks for the run of the fewest rows that shows what is forbidden, and of those for one that shows
// it earliest. Where the hands are is part of a state. States are reached in layers, by the rows that it
// takes, and in each layer frame by frame: a frame in which no hand moves costs no row.
type quest struct {
	*walk
	ctx    context.Context
	budget Budget
	costs  [][][]int // of each dim, the rows from one value to another
	begin  [][]int   // by rows, the ways that a run can begin with
	layers [][]int32 // by rows, the states that are reached by as many

	from    []int32 // of each state, the one a frame before; -1: none
	frame   []int32 // of each state, when it is reached
	settled []bool  // of each state, whether that is the best

	buckets [][]int32 // of the layer that is looked at, by frame, states that are reached then
	found   []int     // the ways of a run that shows it
	looked  int       // frames computed when it was last looked whether to stop
	stopped string
}

// fewest searches until something is found, or all was looked at.
func (y *system) fewest(ctx context.Context, budget Budget) outcome {
	q := &quest{walk: y.walk(2), ctx: ctx, budget: budget}
	most := 0 // rows in one frame
	for i := range y.dims {
		d := &y.dims[i]
		costs := make([][]int, len(d.values))
		for a := range d.values {
			for b := range d.values {
				costs[a] = append(costs[a], differ(d.values[a], d.values[b]))
			}
		}
		q.costs = append(q.costs, costs)
		most += slices.Max(slices.Concat(costs...))
	}
	for _, way := range y.first {
		rows := y.begins(way)
		for len(q.begin) <= rows {
			q.begin = append(q.begin, nil)
		}
		q.begin[rows] = append(q.begin[rows], way)
	}
	if y.once {
		most = 0
	}
	empty := 0 // layers, up to this one, in which nothing was reached
	for rows := 0; rows < len(q.begin) || empty < most; rows++ {
		q.layer(rows)
		switch {
		case q.stopped != "":
			return outcome{states: q.t.n, stopped: q.stopped}
		case q.found != nil:
			return outcome{bad: true, done: true, path: q.found, states: q.t.n + 1}
		}
		empty++
		if len(q.layers[rows]) > 0 {
			empty = 0
		}
	}
	return outcome{done: true, states: q.t.n}
}

// differ counts the axes and switches of which two values differ.
func differ(a, b []float64) int {
	n := 0
	for i := range a {
		if a[i] != b[i] {
			n++
		}
	}
	return n
}

// begins counts the rows at the start of a run: what is not as the controls begin.
func (y *system) begins(way int) int {
	rows := 0
	for i := range y.dims {
		d := &y.dims[i]
		for n, v := range d.values[y.digit(way, d)] {
			if v != y.rest[d.hands[n]] {
				rows++
			}
		}
	}
	return rows
}

// layer reaches what so many rows reach, and no fewer.
func (q *quest) layer(rows int) {
	q.layers, q.buckets = append(q.layers, nil), nil
	if rows < len(q.begin) {
		for _, way := range q.begin[rows] {
			mon, bad := q.walk.begin(way)
			q.arrive(mon, bad, way, -1, 0, false)
		}
	}
	if q.y.once {
		q.buckets = nil
	}
	for moved := 1; moved <= rows; moved++ {
		for _, at := range q.layers[rows-moved] {
			mon, way := q.at(int(at))
			frame := q.frame[at] + 1
			q.reaches(0, way, moved, func(to int) {
				now, bad := q.next(mon, to)
				q.arrive(now, bad, to, at, frame, false)
			})
			if q.stops() {
				return
			}
		}
	}
	for frame := 0; frame < len(q.buckets) && (q.found == nil || frame+1 < len(q.found)); frame++ {
		for _, at := range q.buckets[frame] {
			if q.settled[at] {
				continue
			}
			q.settled[at] = true
			q.layers[rows] = append(q.layers[rows], at)
			mon, way := q.at(int(at))
			now, bad := q.next(mon, way)
			q.arrive(now, bad, way, at, int32(frame)+1, true)
			if q.stops() {
				return
			}
		}
		q.buckets[frame] = nil
	}
}

// at makes a state the base of the next step.
func (q *quest) at(state int) (mon uint16, way int) {
	more := q.t.take(q.y.p, state, q.room, q.base)
	q.spread()
	return more[0], int(more[1])
}

// arrive notes the state that was stepped to, after another one. Of two ways that are as good, the one on
// which the last frame was waited is taken: its movements are earlier, and need not be made to the moment.
func (q *quest) arrive(mon uint16, bad bool, way int, before, frame int32, waited bool) {
	if bad {
		if last := int32(len(q.found)) - 1; q.found == nil || frame < last || frame == last && waited {
			q.found = q.path(before, way)
		}
		return
	}
	at, fresh, ok := q.t.add(q.st, mon, uint16(way))
	switch {
	case !ok:
		q.stopped = errValues
		return
	case fresh:
		q.from, q.frame, q.settled = append(q.from, before), append(q.frame, frame), append(q.settled, false)
	case q.settled[at] || q.frame[at] < frame || q.frame[at] == frame && !waited:
		return
	case q.frame[at] == frame: // it is among those of this frame already
		q.from[at] = before
		return
	default:
		q.from[at], q.frame[at] = before, frame
	}
	for len(q.buckets) <= int(frame) {
		q.buckets = append(q.buckets, nil)
	}
	q.buckets[frame] = append(q.buckets[frame], int32(at))
}

// path gives the ways of a run, a frame each.
func (q *quest) path(at int32, way int) []int {
	list := []int{way}
	for ; at >= 0; at = q.from[at] {
		list = append(list, int(q.t.keyOf(int(at))[q.t.width-1]))
	}
	slices.Reverse(list)
	return list
}

// reaches calls on with every way to which so many rows bring the hands; dims before the first stay.
func (q *quest) reaches(first, way, rows int, on func(to int)) {
	if rows == 0 {
		on(way)
		return
	}
	for i := first; i < len(q.y.dims); i++ {
		d := &q.y.dims[i]
		a := q.y.digit(way, d)
		for b, cost := range q.costs[i][a] {
			if cost > 0 && cost <= rows {
				q.reaches(i+1, way+(b-a)*d.stride, rows-cost, on)
			}
		}
	}
}

// stops tells whether the search has to stop; it looks now and then.
func (q *quest) stops() bool {
	if q.steps-q.looked < often {
		return q.stopped != ""
	}
	if q.looked = q.steps; q.ends(q.ctx, &q.budget, 20*cap(q.from)) {
		q.stopped = q.y.far(q.ctx, q.t.n)
	}
	return q.stopped != ""
}
