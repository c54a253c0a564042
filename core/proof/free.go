package proof

import (
	"cmp"
	"context"
	"fmt"
	"slices"

	"axtren/core/setup"
	"axtren/core/signal"
)

// walk is what both searches need: a state to step, and what it is made from.
type walk struct {
	y     *system
	t     *table
	st    *signal.State
	base  *signal.State
	on    *signal.State  // before the first frame
	hands []signal.Hands // of each way
	quick *signal.Ways   // steps all ways of a base at once; nil: they are stepped one by one
	room  signal.Snapshot
	every []int // all ways
	steps int   // frames computed
}

func (y *system) walk(more int) *walk {
	w := &walk{y: y, t: newTable(y.kept, more), st: y.p.PowerOn(), base: y.p.PowerOn(), on: y.p.PowerOn()}
	w.room = y.p.Snapshot(w.on, nil)
	w.room[y.p.SendingSlot()] = 1 // where the power is not turned off it sends
	for way := range y.ways {
		hands := make(signal.Hands, len(y.rest))
		y.put(way, hands)
		w.hands, w.every = append(w.hands, hands), append(w.every, way)
	}
	w.quick = y.quick(w.hands)
	return w
}

// quick gives what steps all ways at once, where truths alone decide what is watched; else nil.
func (y *system) quick(hands []signal.Hands) *signal.Ways {
	show := slices.Clone(y.kept)
	for _, c := range y.watch.conds {
		show = append(show, c.slot, c.known)
	}
	for _, b := range y.watch.boths {
		if b.outs[0] >= 0 || b.outs[1] >= 0 {
			return nil
		}
		show = append(show, b.a, b.b)
	}
	if len(y.watch.pins) > 0 || y.watch.other != nil || y.claimed.kind == watchStart {
		return nil
	}
	quick, ok := y.p.Ways(hands, show)
	if !ok {
		return nil
	}
	return quick
}

// spread steps a frame from the base for all ways; next then gives each.
func (w *walk) spread() {
	if w.quick != nil {
		w.quick.Step(w.base)
	}
}

// led lists the ways to step to from a base that was spread: of those that lead to the same, one.
func (w *walk) led() []int {
	if w.quick != nil {
		return w.quick.Distinct()
	}
	return w.every
}

// begin steps the first frame of a run, or takes the last of what was done before.
func (w *walk) begin(way int) (mon uint16, bad bool) {
	if w.y.begun != nil {
		w.st.CopyFrom(w.y.begun.st)
		if w.y.begun.live != nil {
			return nothing, false // what is so now is seen
		}
		return w.y.watch.step(nothing, w.st)
	}
	w.st.CopyFrom(w.on)
	w.y.p.Step(w.st, w.hands[way])
	w.y.p.Fold(w.st)
	return w.y.watch.step(nothing, w.st)
}

// next steps a frame from the base, which was spread.
func (w *walk) next(mon uint16, way int) (now uint16, bad bool) {
	w.steps++
	if w.quick != nil {
		w.quick.Put(way, w.st)
		return w.y.watch.step(mon, w.st)
	}
	w.st.CopyFrom(w.base)
	w.y.p.Step(w.st, w.hands[way])
	w.y.p.Fold(w.st)
	return w.y.watch.step(mon, w.st)
}

// often is after how many frames it is looked whether the search is to stop.
const often = 1 << 10

// nearest lists the counts, those first that are reached by way of the fewest rules from what is looked at,
// of these the shortest.
func (y *system) nearest() []signal.Wait {
	level := map[setup.Item]int{}
	var list []setup.Item
	meet := func(part setup.Item, at int) {
		if _, known := level[part]; !known && part.Kind != 0 {
			level[part], list = at, append(list, part)
		}
	}
	for _, a := range y.claimed.asks {
		for _, id := range []setup.ID{a.gate, a.output, a.device} {
			meet(y.s.Item(id), 0)
		}
	}
	for _, pair := range y.claimed.pairs {
		meet(y.s.Item(pair.A), 0)
		meet(y.s.Item(pair.B), 0)
	}
	for at := 0; at < len(list); { // it grows
		part := list[at]
		at++
		for r := range y.s.Graph().From(part) {
			meet(r.To, level[part]+1)
		}
	}
	far := func(w signal.Wait) int {
		if at, known := level[setup.IsBlock.At(w.Block)]; known {
			return at
		}
		return len(list)
	}
	return slices.SortedStableFunc(slices.Values(y.waits), func(a, b signal.Wait) int {
		return cmp.Or(cmp.Compare(far(a), far(b)), cmp.Compare(a.Need, b.Need))
	})
}

// proves looks at all that can be with the hands anywhere in every frame. It is left open at first when
// counts are over; where that lets more be than may, the nearest is counted, then the next.
func (y *system) proves(ctx context.Context, budget Budget, open []signal.Wait) outcome {
	for ; len(open) > 0; open = open[1:] {
		out := y.free(ctx, budget, open)
		if out.done && !out.bad {
			return out
		}
		if !out.bad {
			break // what is counted makes it no smaller
		}
	}
	return y.free(ctx, budget, nil)
}

// free looks at all that can be with the hands anywhere in every frame, by the fewest frames. Of open, a
// count that runs may be over in any frame: then more can be than really can, and only what never is
// counts.
func (y *system) free(ctx context.Context, budget Budget, open []signal.Wait) outcome {
	w := y.walk(1)
	var from []int32 // of each state, the one before it
	var by []uint16  // and the way of the hands
	out := outcome{}
	note := func(mon uint16, before, way int) bool {
		for _, wait := range running(w.st, open) { // all places of a count that runs are one
			w.st.V[wait.Count] = 0
		}
		_, fresh, ok := w.t.add(w.st, mon)
		if fresh {
			from, by = append(from, int32(before)), append(by, uint16(way))
		}
		return ok
	}
	path := func(at, way int) []int {
		list := []int{way}
		for ; at >= 0; at = int(from[at]) {
			list = append(list, int(by[at]))
		}
		slices.Reverse(list)
		return list
	}
	for _, way := range y.first {
		mon, bad := w.begin(way)
		if bad {
			return outcome{bad: true, done: true, path: []int{way}, states: w.t.n + 1}
		}
		if !note(mon, -1, way) {
			out.stopped = errValues
			return out
		}
	}
	for at := 0; ; at++ {
		if at == w.t.n || y.once {
			return outcome{done: true, states: w.t.n}
		}
		mon := w.t.take(y.p, at, w.room, w.base)[0]
		run := running(w.base, open)
		choices := 1 << len(run)
		for choice := range choices {
			for k, wait := range run {
				w.base.V[wait.Count] = 0
				if choice>>k&1 == 1 {
					w.base.V[wait.Count] = wait.Need - 1
				}
			}
			w.spread()
			for _, way := range w.led() {
				now, bad := w.next(mon, way)
				if w.steps%often == 0 && w.ends(ctx, &budget, 6*cap(from)) {
					out.states, out.stopped = w.t.n, y.far(ctx, w.t.n)
					return out
				}
				if bad {
					return outcome{bad: true, done: true, path: path(at, way), states: w.t.n + 1}
				}
				if !note(now, at, way) {
					out.states, out.stopped = w.t.n, errValues
					return out
				}
			}
		}
	}
}

const errValues = "a number of it has more than 65 000 values"

// ends tells whether a search has to stop; more is the room that it takes besides its states, bytes.
func (w *walk) ends(ctx context.Context, budget *Budget, more int) bool {
	budget.progress(w.t.n)
	more += len(w.hands) * (24 + 8*len(w.room))
	return ctx.Err() != nil || w.t.bytes()+more > budget.Bytes || budget.Steps > 0 && w.steps > budget.Steps
}

// progress tells how many states were visited so far.
func (b *Budget) progress(states int) {
	if b.Seen != nil && int64(states) > b.Seen.Load() { // of two searches the one that is further
		b.Seen.Store(int64(states))
	}
}

// far says how far a search got.
func (y *system) far(ctx context.Context, states int) string {
	why := "there was no more room"
	if ctx.Err() != nil {
		why = "there was no more time"
	}
	return fmt.Sprintf("%s after %d moments, in each of which the hands can move in %d ways: shorter times, or "+
		"fewer rules that it depends on, make it smaller", why, states, y.ways)
}

// running lists of some counts those that run in a state.
func running(st *signal.State, open []signal.Wait) (list []signal.Wait) {
	for _, wait := range open {
		if n := st.At(wait.Count); n >= 0 && n < wait.Need {
			list = append(list, wait)
		}
	}
	return list
}
