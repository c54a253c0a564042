package proof

import (
	"context"
	"slices"

	"axtren/core/signal"
)

// slow is an output of a claim that follows the axes only after a while, or by way of what fades: where it
// stands is known to lie within a span.
type slow struct {
	output int
	conds  []int // the conditions on it, among those of the claim
	target *signal.Figure
	hands  []int // of each axis of target, its hand
}

// slows finds the outputs of a claim that are slow; ok is false where something else is, which spans do not
// tell of.
func (y *system) slows() (list []slow, ok bool) {
	if y.blind || y.claimed.kind == watchStart || y.claimed.kind == watchLoss || y.claimed.kind == watchApart {
		return nil, false
	}
	for i, a := range y.claimed.asks {
		if a.output == "" {
			if a.device != "" {
				return nil, false
			}
			continue
		}
		out := y.s.Item(a.output).Index
		if at := slices.IndexFunc(list, func(s slow) bool { return s.output == out }); at >= 0 {
			list[at].conds = append(list[at].conds, i)
			continue
		}
		f, ok := y.p.FigureNow(y.p.Routes[out].Target)
		if !ok {
			return nil, false
		}
		one := slow{output: out, conds: []int{i}, target: f}
		for _, axis := range f.Axes {
			for hand := range y.rest {
				if y.p.HandSlot(hand) == axis {
					one.hands = append(one.hands, hand)
				}
			}
		}
		list = append(list, one)
	}
	return list, len(list) > 0
}

// mostGrowths is how often a span grows before it is made as wide as it can be.
const mostGrowths = 6

// hull looks at all that can be with the hands free in every frame, each state with the spans in which slow
// outputs stand. More can be than really can: only that nothing forbidden was found counts.
type hull struct {
	*walk
	slows   []slow
	axes    []map[int]signal.Span // of each way, where its axes are
	spans   [][]signal.Span       // of each state
	grown   []uint8
	waiting []bool
	queue   []int32
	now     []signal.Span // of the frame that was stepped
}

// hull searches with spans.
func (y *system) hull(ctx context.Context, budget Budget) outcome {
	slows, ok := y.slows()
	if !ok {
		return outcome{stopped: y.why}
	}
	h := &hull{walk: y.walk(1), slows: slows, now: make([]signal.Span, len(slows))}
	h.t = newTable(slices.DeleteFunc(slices.Clone(y.kept), func(slot signal.Slot) bool {
		return slices.ContainsFunc(slows, func(s slow) bool { return y.p.Routes[s.output].P == slot })
	}), 1)
	for way := range y.ways {
		h.axes = append(h.axes, y.axesOf(way))
	}
	for _, way := range y.first {
		if _, bad := h.begin(way); bad {
			return outcome{bad: true}
		}
		if !h.arrive(nothing, way, nil) {
			return outcome{bad: true, states: h.t.n}
		}
	}
	for len(h.queue) > 0 {
		at := h.queue[len(h.queue)-1]
		h.queue = h.queue[:len(h.queue)-1]
		h.waiting[at] = false
		mon := h.t.take(y.p, int(at), h.room, h.base)[0]
		from := slices.Clone(h.spans[at])
		h.spread()
		for way := range y.ways {
			h.next(mon, way)
			if !h.arrive(mon, way, from) {
				return outcome{bad: true, states: h.t.n}
			}
			if h.steps%often == 0 && h.ends(ctx, &budget, h.t.n*(40+16*len(slows))) {
				return outcome{stopped: y.far(ctx, h.t.n), states: h.t.n}
			}
		}
	}
	return outcome{done: true, states: h.t.n}
}

// arrive notes the state that was stepped to, with where slow outputs then stand; from is where they
// stood, nil before the first frame. It is false where something forbidden may be so, or there is too
// much.
func (h *hull) arrive(mon uint16, way int, from []signal.Span) bool {
	y := h.y
	first := from == nil || h.st.At(y.p.FirstSlot()) != 0
	for k := range h.slows {
		s := &h.slows[k]
		s.target.Read(h.st)
		for n, axis := range s.target.Axes {
			s.target.Put(axis, h.axes[way][s.hands[n]])
		}
		h.now[k] = s.target.Span()
		if !first {
			h.now[k] = y.p.Slewed(s.output, from[k], h.now[k])
		}
	}
	is := func(i int) (may, must bool) {
		for k := range h.slows {
			if slices.Contains(h.slows[k].conds, i) {
				return y.watch.conds[i].within(y.p, h.st, h.now[k])
			}
		}
		holds := y.watch.conds[i].holds(y.p, h.st)
		return holds, holds
	}
	now, bad := y.watch.look(mon, h.st, func(i int) bool { may, _ := is(i); return may },
		func(i int) bool { _, must := is(i); return must })
	if bad {
		return false
	}
	at, fresh, ok := h.t.add(h.st, now)
	if !ok {
		return false
	}
	if fresh {
		h.spans, h.grown, h.waiting = append(h.spans, slices.Clone(h.now)), append(h.grown, 0),
			append(h.waiting, true)
		h.queue = append(h.queue, int32(at))
		return true
	}
	h.widen(at)
	return true
}

// widen makes the spans of a state as wide as those that it was reached with; where that goes on, as wide as
// they can be.
func (h *hull) widen(at int) {
	grew := false
	for k, span := range h.now {
		known := &h.spans[at][k]
		if wide := known.With(span); wide != *known {
			if h.grown[at] >= mostGrowths {
				o := &h.y.s.Outputs[h.slows[k].output]
				wide = wide.With(signal.Span{Low: o.Low, High: o.High})
			}
			*known, grew = wide, true
		}
	}
	if !grew {
		return
	}
	h.grown[at]++
	if !h.waiting[at] {
		h.waiting[at] = true
		h.queue = append(h.queue, int32(at))
	}
}

// axesOf gives where the axes are in a way of the hands: each anywhere in its part of the travel.
func (y *system) axesOf(way int) map[int]signal.Span {
	at := map[int]signal.Span{}
	for i := range y.dims {
		d := &y.dims[i]
		for n, hand := range d.hands {
			v := d.values[y.digit(way, d)][n]
			at[hand] = signal.Span{Low: v, High: v}
			if d.parts != nil {
				at[hand] = d.parts[y.digit(way, d)][n]
			}
		}
	}
	return at
}
