package proof

import (
	"context"
	"fmt"
	"maps"
	"math"
	"slices"
	"strings"

	"axtren/core/setup"
	"axtren/core/signal"
)

// Start is the start check with the fewest entries under which every claim about power-on holds.
type Start struct {
	Possible bool
	Entries  []setup.StartEntry // in the order of the controls; none where it is not possible
	Fewest   bool               // no check of fewer entries does it; where it is not possible, that is proved
	Why      string             // of one that is not decided: how far it got
}

// LeastStart looks for the fewest entries of a start check, in place of those that a setup has, under which
// each of its claims at_start holds: docs/format.md, section 31. Where there is a choice, controls are waited
// for where they rest or begin.
//
// Where the first frame decides everything, all ways of waiting for controls are worked out in a table.
// Else a
// run that breaks a claim under some entries has to be kept from beginning by a further one: on a control
// that
// decides the claim, at another position than the run has it at a power-on; so all checks that can do it are
// found by following the runs that break what is broken, with at most one entry more each time.
func LeastStart(ctx context.Context, s *setup.Setup, budget Budget) Start {
	q := newStarting(ctx, s, budget)
	c, ok := q.table()
	if !ok || !q.exact {
		return q.searched()
	}
	q.found = c.best()
	switch {
	case q.found == nil: // not even with every control waited for
		return Start{Entries: []setup.StartEntry{}, Fewest: true}
	case s.Keeps():
		return q.searched()
	}
	return q.proved() // nothing but the first frame decides, and any power-on is like the first
}

func newStarting(ctx context.Context, s *setup.Setup, budget Budget) *starting {
	q := &starting{ctx: ctx, budget: budget, known: map[string]*Verdict{}}
	q.s = withStart(s, nil)
	for i := range s.Claims {
		if s.Claims[i].AtStart != nil {
			q.claims = append(q.claims, i)
		}
	}
	q.candidates()
	return q
}

// searched looks for the entries by following the runs that break a claim.
func (q *starting) searched() Start {
	for most := range len(q.controls) + 1 {
		for _, all := range []bool{false, true} { // first only where controls rest or begin
			q.all, q.cutShort, q.seen = all, false, map[string]bool{}
			if q.search(map[int]int{}, most) {
				return Start{Possible: true, Entries: q.widened(), Fewest: q.why == "" && (q.exact || most <= 1)}
			}
		}
		if !q.cutShort {
			break // with more entries there is nothing else
		}
	}
	if q.why == "" && !q.exact {
		q.why = "levers that act together can stand in more ways than were tried, and none of those does it"
	}
	return Start{Entries: []setup.StartEntry{}, Fewest: q.why == "", Why: q.why}
}

// proved decides the claims under what was found.
func (q *starting) proved() Start {
	for _, claim := range q.claims {
		if v := q.decide(claim, q.entries(q.found, claim)); v.Verdict != Holds {
			return Start{Entries: []setup.StartEntry{}, Why: "“" + q.s.Label(setup.IsClaim.At(claim)) +
				"” was not decided: " + v.Why}
		}
	}
	return Start{Possible: true, Entries: q.widened(), Fewest: true}
}

// withStart is a copy of a setup that waits for other entries.
func withStart(s *setup.Setup, entries []setup.StartEntry) *setup.Setup {
	other := *s
	other.StartCheck = entries
	other.Relink()
	return &other
}

// starting is a search for a start check.
type starting struct {
	ctx      context.Context
	budget   Budget
	s        *setup.Setup // without a start check
	claims   []int
	controls []waited
	exact    bool   // the positions of the controls are all that can be told apart
	why      string // what is not decided; empty: everything was
	all      bool   // look at all positions, not only at those where controls rest or begin
	cutShort bool   // a further entry might have done it
	known    map[string]*Verdict
	seen     map[string]bool // what was chosen and led nowhere, whatever came first
	found    map[int]int     // of a control in controls, the position in its list
}

// waited is a control that can be waited for.
type waited struct {
	index   int           // of the control
	decides map[int]bool  // claims
	at      []float64     // a position of each part of its travel; of a switch each position
	parts   []signal.Span // these parts, in order of travel; nil of a switch
	first   int           // where it rests or begins
}

// candidates lists the controls that decide a claim, and what of their travel can be told apart.
func (q *starting) candidates() {
	q.exact = true
	borders := map[setup.ID][]float64{}
	decides := map[int]map[int]bool{}
	for _, i := range q.claims {
		for _, k := range setup.Only(setup.IsControl, q.s.Graph().Behind(setup.IsClaim.At(i))) {
			if decides[k] == nil {
				decides[k] = map[int]bool{}
			}
			decides[k][i] = true
		}
		y, err := newSystem(q.s, &q.s.Claims[i], nil)
		if err != nil {
			q.exact = false
			continue
		}
		q.exact = q.exact && y.exact
		for _, d := range y.dims {
			for n, hand := range d.hands {
				id := setup.ID(y.ids[hand])
				for k := range d.values {
					if len(d.hands) == 1 && d.parts != nil {
						borders[id] = append(borders[id], d.parts[k][n].Low)
					} else if v := d.values[k][n]; d.parts != nil { // around a place of several together
						borders[id] = append(borders[id], v, math.Nextafter(v, 200))
						q.exact = false
					}
				}
			}
		}
	}
	for k := range q.s.Transmitter.Controls {
		c := &q.s.Transmitter.Controls[k]
		if decides[k] == nil || c.Springs() && !q.s.Keeps() {
			continue // one that springs back is at rest as the transmitter wakes
		}
		w := waited{index: k, decides: decides[k]}
		if c.Axis != nil {
			w.travel(borders[c.ID], c.Axis.Rest())
		} else {
			for at := range c.Switch.Positions {
				w.at = append(w.at, float64(at))
			}
			w.first = c.Switch.Rest()
		}
		if c.Springs() {
			w.at, w.parts, w.first = w.at[w.first:w.first+1], nil, 0
		}
		q.controls = append(q.controls, w)
	}
}

// travel divides the travel of an axis where anything turns.
func (w *waited) travel(borders []float64, rest float64) {
	borders = append(borders, -100)
	slices.Sort(borders)
	borders = slices.Compact(borders)
	for i, from := range borders {
		if from > 100 {
			break
		}
		to := 100.0
		if i+1 < len(borders) {
			to = min(to, math.Nextafter(borders[i+1], -200))
		}
		if isDust(from, to) {
			continue
		}
		part := signal.Span{Low: from, High: to}
		if rest >= from && rest <= to {
			w.first = len(w.at)
		}
		w.at, w.parts = append(w.at, nicest(part, rest)), append(w.parts, part)
	}
}

// entry waits for a control at one position, or in a span of its travel.
func (q *starting) entry(w *waited, at float64, within *signal.Span) setup.StartEntry {
	c := &q.s.Transmitter.Controls[w.index]
	e := setup.StartEntry{Control: c.ID, Is: setup.Is{From: at, To: at}}
	switch {
	case c.Switch != nil:
		e.Is = setup.Is{Position: c.Switch.Positions[int(at)]}
	case within != nil:
		e.Is = setup.Is{From: within.Low, To: within.High}
	}
	return e
}

// entries writes what is waited for, of the controls that decide a claim; -1: of all.
func (q *starting) entries(chosen map[int]int, claim int) []setup.StartEntry {
	var list []setup.StartEntry
	for k := range q.controls {
		if at, ok := chosen[k]; ok && (claim < 0 || q.controls[k].decides[claim]) {
			list = append(list, q.entry(&q.controls[k], q.controls[k].at[at], nil))
		}
	}
	return list
}

// decide decides a claim under some entries.
func (q *starting) decide(claim int, entries []setup.StartEntry) *Verdict {
	var key strings.Builder
	key.WriteString(string(q.s.Claims[claim].ID))
	for _, e := range entries {
		key.WriteString(" " + string(e.Control) + "=" + wordsOf(&e))
	}
	if v := q.known[key.String()]; v != nil {
		return v
	}
	v := Decide(q.ctx, withStart(q.s, entries), claim, q.budget)
	q.known[key.String()] = &v
	return &v
}

// wordsOf writes where an entry waits for its control, to the last bit.
func wordsOf(e *setup.StartEntry) string {
	if e.Is.Position != "" {
		return string(e.Is.Position)
	}
	return fmt.Sprintf("%v..%v", e.Is.From, e.Is.To)
}

// search tells whether at most so many entries more than those that are chosen do it; found has them.
func (q *starting) search(chosen map[int]int, more int) bool {
	key := fmt.Sprint(chosen)
	if q.seen[key] { // what was chosen in another order led nowhere either
		return false
	}
	q.seen[key] = true
	for _, claim := range q.claims {
		entries := q.entries(chosen, claim)
		v := q.decide(claim, entries)
		switch {
		case v.Verdict == Holds:
			continue
		case v.Verdict == Undecided || q.ctx.Err() != nil:
			q.why = "“" + q.s.Label(setup.IsClaim.At(claim)) + "” was not decided: " + v.Why
			return false
		}
		for k := range q.controls {
			w := &q.controls[k]
			if _, known := chosen[k]; known || !w.decides[claim] {
				continue
			}
			was := q.hands(entries, v, w)
			for at := range w.at {
				if !q.all && at != w.first || !q.excludes(w, at, was) {
					q.cutShort = q.cutShort || !q.all
					continue
				}
				if more == 0 {
					q.cutShort = true
					continue
				}
				chosen[k] = at
				if q.search(chosen, more-1) {
					return true
				}
				delete(chosen, k)
			}
		}
		return false
	}
	q.found = chosen
	return true
}

// mostCubes bounds in how many ways controls are waited for at one position, or not at all.
const mostCubes = 1 << 20

// cubes are all ways of waiting for controls at one position each, or not at all, with whether all claims
// hold
// in the first frame then: digit by digit, a control each, its positions and then that it is not waited for.
type cubes struct {
	q       *starting
	strides []int
	good    []bool
}

// table works out all cubes; ok is false where they are too many. One that leaves a control open is good
// where
// it is good at each of its positions, so each needs only those before it.
func (q *starting) table() (c cubes, ok bool) {
	n := 1
	for i := range q.controls {
		c.strides = append(c.strides, n)
		if n *= len(q.controls[i].at) + 1; n > mostCubes {
			return c, false
		}
	}
	p, err := signal.Compile(q.s)
	if err != nil {
		return c, false
	}
	c.q, c.good = q, make([]bool, n)
	st, first, hands := p.PowerOn(), p.PowerOn(), p.Rest()
	for cube := range n {
		open := c.open(cube, 0)
		if open == len(q.controls) {
			for i := range q.controls {
				w := &q.controls[i]
				hand, _ := p.Hand(string(q.s.Transmitter.Controls[w.index].ID))
				hands[hand] = w.at[c.digit(cube, i)]
			}
			st.CopyFrom(first)
			p.Step(st, hands)
			c.good[cube] = q.rests(p, st)
			continue
		}
		all := true
		for at := range q.controls[open].at {
			all = all && c.good[cube-(len(q.controls[open].at)-at)*c.strides[open]]
		}
		c.good[cube] = all
	}
	return c, true
}

func (c *cubes) digit(cube, control int) int {
	return cube / c.strides[control] % (len(c.q.controls[control].at) + 1)
}

// open is the first control, from one on, that a cube leaves open; their number where it leaves none.
func (c *cubes) open(cube, from int) int {
	for i := from; i < len(c.q.controls); i++ {
		if c.digit(cube, i) == len(c.q.controls[i].at) {
			return i
		}
	}
	return len(c.q.controls)
}

// rests tells whether all claims hold in a first frame.
func (q *starting) rests(p *signal.Program, st *signal.State) bool {
	return !slices.ContainsFunc(q.claims, func(i int) bool {
		start := q.s.Claims[i].AtStart
		at := st.At(p.Routes[q.s.Item(start.Output).Index].P)
		return math.Abs(at-start.Value) > start.Within+dust
	})
}

// best is the good cube that waits for the fewest controls, of those the one that waits for most where they
// rest or begin, and of those for the first of the controls; nil where none is good.
func (c *cubes) best() (chosen map[int]int) {
	var key []int
	for cube, good := range c.good {
		if !good {
			continue
		}
		own, elsewhere := map[int]int{}, 0
		rank := []int{0, 0}
		for i := range c.q.controls {
			if at := c.digit(cube, i); at < len(c.q.controls[i].at) {
				own[i] = at
				rank = append(rank, i, at)
				if at != c.q.controls[i].first {
					elsewhere++
				}
			}
		}
		rank[0], rank[1] = len(own), elsewhere
		if key == nil || slices.Compare(rank, key) < 0 {
			chosen, key = own, rank
		}
	}
	return chosen
}

// hands gives where a run that breaks a claim has a control as the transmitter begins to send.
func (q *starting) hands(entries []setup.StartEntry, v *Verdict, w *waited) (was []float64) {
	p, err := signal.Compile(withStart(q.s, entries))
	if err != nil {
		return nil
	}
	slot := p.ControlSlot(w.index)
	_ = Play(p, v.Rows, v.Frame, func(_ int, st *signal.State) bool { // the rows are its own
		if st.At(p.FirstSlot()) != 0 {
			was = append(was, st.At(slot))
		}
		return true
	})
	return was
}

// excludes tells whether a control that is waited for at one of its positions keeps a run from beginning in
// which it was elsewhere.
func (q *starting) excludes(w *waited, at int, was []float64) bool {
	for _, v := range was {
		if w.parts == nil && v != w.at[at] || w.parts != nil && (v < w.parts[at].Low || v > w.parts[at].High) {
			return true
		}
	}
	return false
}

// tolerances are how far around a position a lever may be waited for that several decide together, percent.
var tolerances = []float64{5, 3, 2, 1, 0.5, 0.1}

// widened lets each axis that is waited for be wherever that does: as far as all claims hold.
func (q *starting) widened() []setup.StartEntry {
	w := &widening{q: q, chosen: slices.Sorted(maps.Keys(q.found))}
	w.list = []setup.StartEntry{}
	for _, k := range w.chosen {
		w.list = append(w.list, q.entry(&q.controls[k], q.controls[k].at[q.found[k]], nil))
	}
	var points []int
	for i, k := range w.chosen {
		if c := &q.controls[k]; c.parts != nil {
			w.along(i, c, q.found[k])
			if w.list[i].Is.From == w.list[i].Is.To {
				points = append(points, i)
			}
		}
	}
	for _, by := range tolerances {
		var list []setup.StartEntry
		for _, i := range points {
			c := &q.controls[w.chosen[i]]
			at := w.list[i].Is.From
			list = append(list, q.entry(c, 0, &signal.Span{Low: max(at-by, -100), High: min(at+by, 100)}))
		}
		if len(points) == 0 || w.holds(points, list) {
			break
		}
	}
	return w.list
}

// widening widens the entries of a check, one for each control that is chosen.
type widening struct {
	q      *starting
	chosen []int // in controls
	list   []setup.StartEntry
}

// holds puts other entries in some places, where all claims hold with them.
func (w *widening) holds(places []int, entries []setup.StartEntry) bool {
	was := slices.Clone(w.list)
	for n, i := range places {
		w.list[i] = entries[n]
	}
	for _, claim := range w.q.claims {
		var own []setup.StartEntry
		for k, e := range w.list {
			if w.q.controls[w.chosen[k]].decides[claim] {
				own = append(own, e)
			}
		}
		if w.q.decide(claim, own).Verdict != Holds {
			w.list = was
			return false
		}
	}
	return true
}

// along widens entry i, of an axis, from a part of its travel to the next as far as that does.
func (w *widening) along(i int, c *waited, place int) {
	holds := func(within signal.Span) bool {
		return w.holds([]int{i}, []setup.StartEntry{w.q.entry(c, 0, &within)})
	}
	within := signal.Span{Low: c.at[place], High: c.at[place]}
	for low := place; low >= 0 && holds(signal.Span{Low: c.parts[low].Low, High: within.High}); low-- {
		within.Low = c.parts[low].Low
	}
	for high := place; high < len(c.parts) &&
		holds(signal.Span{Low: within.Low, High: c.parts[high].High}); high++ {
		within.High = c.parts[high].High
	}
	for _, parts := range []float64{1, 10} { // as a menu has it: whole, or in tenths
		round := signal.Span{Low: math.Ceil(within.Low*parts) / parts, High: math.Floor(within.High*parts) / parts}
		if round.Low < round.High && round.Low <= c.at[place] && round.High >= c.at[place] {
			within = round
			break
		}
	}
	holds(within)
}
