package proof

import (
	"context"
	"fmt"
	"math"
	"math/rand/v2"
	"strings"
	"testing"
	"time"

	"github.com/stretchr/testify/require"

	"axtren/core/setup"
	"axtren/core/signal"
)

// maker writes small random documents whose thresholds lie on a coarse grid, so that plain enumeration over
// the grid misses nothing.
type maker struct {
	*rand.Rand
	refs []string
	b    strings.Builder
}

func (m *maker) one(list ...string) string { return list[m.IntN(len(list))] }

func (m *maker) ref() string {
	if m.IntN(4) == 0 {
		return "not " + m.one(m.refs...)
	}
	return m.one(m.refs...)
}

// document gives a document with some claims. slow has slews, fades and devices that take time.
func (m *maker) document(slow, power bool) string {
	w := func(format string, args ...any) { fmt.Fprintf(&m.b, format+"\n", args...) }
	w("format: axtren-setup\nversion: 1\nname: Random")
	w("transmitter:\n  frame_ms: 50\n  controls:")
	w("    - {id: key, kind: switch, positions: [rest, press], spring_to: rest}")
	w("    - {id: mode, kind: switch, positions: [a, b, c]%s}", m.one("", ", start: b"))
	m.refs = []string{"key.press", "key.rest", "mode.a", "mode.b", "mode.c"}
	w("    - {id: stick, kind: axis%s}", m.one("", ", spring: none", ", spring: none, start: 50",
		", spring: low"))
	two := m.IntN(3) == 0
	if two {
		w("    - {id: dial, kind: axis%s}", m.one("", ", spring: none"))
	}
	axis := func() string {
		if two {
			return m.one("stick", "dial", "both.asked")
		}
		return m.one("stick", "stick", "both.asked")
	}
	w("logic:")
	for i := range 1 + m.IntN(4) {
		id := fmt.Sprint("r", i)
		start := m.one("", "", ", start: true")
		if power {
			start = m.one("", ", start: kept", ", start: true")
		}
		switch m.IntN(9) {
		case 0:
			w("  - {id: %s, block: %s, in: [%s, %s]}", id, m.one("and", "or", "xor"), m.ref(), m.ref())
		case 1:
			w("  - {id: %s, block: %s, of: %s, level: %d, hysteresis: %d}", id, m.one("above", "below"), axis(),
				25*(m.IntN(7)-3), 25*m.IntN(2))
		case 2:
			w("  - {id: %s, block: between, of: %s, from: %d, to: %d, hysteresis: %d}", id, axis(), -25*m.IntN(3),
				25*m.IntN(3), 25*m.IntN(2))
		case 3:
			w("  - {id: %s, block: %s, in: %s}", id, m.one("r_trig", "f_trig"), m.ref())
		case 4:
			w("  - {id: %s, block: %s, set: %s, reset: %s%s}", id, m.one("sr", "rs"), m.ref(), m.ref(), start)
		case 5:
			w("  - {id: %s, block: toggle, in: %s%s}", id, m.ref(), start)
		default:
			w("  - {id: %s, block: %s, in: %s, for_s: %g}", id, m.one("ton", "tof", "tp"), m.ref(),
				0.05*float64(m.IntN(5)))
		}
		m.refs = append(m.refs, id)
	}
	if m.IntN(3) == 0 {
		w("steppers: [{id: step, up: %s, wrap: %t, %s steps: [{name: low, value: -50}, {name: mid, value: 0}, "+
			"{name: top, value: 50}]}]", m.ref(), m.IntN(2) == 0, m.one("", "repeat_s: 0.1,"))
		m.refs = append(m.refs, "step.low", "step.top")
	}
	if m.IntN(3) == 0 {
		w("sequences: [{id: seq, go: %s, interrupt: %s, tracks: {leg: [[0, -100], [0.2, 100]]}}]", m.ref(),
			m.one("turn_back", "finish"))
		m.refs = append(m.refs, "seq.rest", "seq.moving", "seq.done")
	}
	w("outputs:\n  - {id: both, channel: 1, loss: %s}\n  - {id: lamp, channel: 2, reverse: %t%s, loss: %s}",
		m.one("{mode: hold}", "{mode: cut}", "{mode: preset, value: 50}"), m.IntN(2) == 0,
		map[bool]string{true: ", slew_s: {up: 1, down: 2}"}[slow], m.one("{mode: hold}",
			"{mode: preset, value: -50}"))
	w("mixes:\n  - {to: both, from: stick, gain: %s}", m.one("100", "50", "-100"))
	if two {
		w("  - {to: both, from: dial, gain: %s}", m.one("100", "-100"))
	}
	w("  - {to: both, from: %d, combine: %s, when: %s}", 50*(m.IntN(3)-1), m.one("add", "instead", "greatest"),
		m.ref())
	w("  - {to: lamp, from: %s}", m.one("r0", "stick", "both.asked", "mode"))
	w("receivers: [{id: rx, loss_after_s: %g, pins: [{pin: 1, channel: 1}, {pin: 2, channel: 2}]}]",
		m.oneOf(0.05, 0.1, 0.2))
	w("devices:\n  - {id: box, on: rx.1, kind: step_box, steps: 3}\n  - {id: light, on: rx.2, kind: relay%s}",
		m.one("", ", turns_on: below", ", no_pulse: stay"))
	w("  - {id: motor, on: rx.1, kind: esc, reverse: %s, needs_neutral: %t}", m.one("direct", "none",
		"brake_first"),
		m.IntN(2) == 0)
	if m.IntN(4) == 0 {
		w("start_check: [{control: mode, is: %s}, {control: stick, is: {from: -100, to: 50}}]", m.one("a", "c"))
	}
	w("claims:")
	cond := func() string {
		n := 5
		if power {
			n = 7
		}
		switch m.IntN(n) {
		case 0:
			return fmt.Sprintf("{output: %s, %s: %d}", m.one("both", "lamp"), m.one("above", "below"),
				25*(m.IntN(5)-2))
		case 1:
			return fmt.Sprintf("{output: both, within: [%d, %d]}", -25*m.IntN(2), 25*m.IntN(2))
		case 5:
			return fmt.Sprintf("{device: box, above: %g}", 1.5+float64(m.IntN(2)))
		case 6:
			return fmt.Sprintf("{device: %s, above: %d}", m.one("light", "motor"), 50)
		}
		return m.ref()
	}
	w("  - {id: c0, never: [%s, %s, %s]}", cond(), cond(), cond())
	w("  - {id: c1, only_when: {changes: %s, while: %s}}", m.ref(), cond())
	w("  - {id: c2, leads_to: {when: %s, then: %s, within_s: %g}}", cond(), cond(), m.oneOf(0, 0.05, 0.12, 0.2))
	w("  - {id: c3, reachable: %s}\n  - {id: c6, never: [%s, %s, %s, %s]}", cond(), m.ref(), m.ref(),
		cond(), cond())
	w("  - {id: c4, at_start: {output: lamp, value: %d, within: %d}}", 50*(m.IntN(3)-1), 50*m.IntN(2))
	w("  - {id: c5, on_loss: {output: %s, %s}}", m.one("both", "lamp"), m.one("cut: true",
		"value: 50, within: 10",
		"value: -50"))
	return m.b.String()
}

func (m *maker) oneOf(list ...float64) float64 { return list[m.IntN(len(list))] }

// plain enumerates the runs of a whole document over a grid of hands, with conditions read from the
// columns of a trace: nothing of it is shared with the search.
type plain struct {
	s     *setup.Setup
	p     *signal.Program
	cells map[string]*signal.Cell
	claim *setup.Claim
	ways  []signal.Hands
	start []int
}

type moment struct {
	st   signal.State
	way  int
	mon  int
	rows int
	at   int
}

func newPlain(s *setup.Setup, p *signal.Program, claim *setup.Claim, grid []float64) *plain {
	e := &plain{s: s, p: p, claim: claim, cells: map[string]*signal.Cell{}}
	cells := p.Cells()
	for i := range cells {
		e.cells[cells[i].Name] = &cells[i]
	}
	power := false
	for _, b := range s.Logic {
		at, _ := b.StartsAs()
		power = power || at == "kept"
	}
	asks := []setup.Condition{}
	switch {
	case claim.Never != nil:
		asks = *claim.Never
	case claim.Reachable != nil:
		asks = append(asks, *claim.Reachable)
	case claim.OnlyWhen != nil:
		asks = append(asks, claim.OnlyWhen.While)
	case claim.LeadsTo != nil:
		asks = append(asks, claim.LeadsTo.When, claim.LeadsTo.Then)
	}
	device := claim.OnLoss != nil
	for _, c := range asks {
		power, device = power || c.Device != nil, device || c.Device != nil
	}
	values := make([][]float64, len(p.Rest()))
	for i, id := range p.HandIDs() {
		item := s.Item(setup.ID(id))
		switch {
		case item.Kind == setup.IsControl && s.Transmitter.Controls[item.Index].Axis != nil:
			values[i] = grid
		case item.Kind == setup.IsControl:
			for k := range s.Transmitter.Controls[item.Index].Switch.Positions {
				values[i] = append(values[i], float64(k))
			}
		case id == "link" && device, power && id == "transmitter", power && device && id != "link":
			values[i] = []float64{1, 0}
		default:
			values[i] = []float64{1}
		}
	}
	var fill func(h signal.Hands)
	fill = func(h signal.Hands) {
		if len(h) == len(values) {
			e.ways = append(e.ways, append(signal.Hands(nil), h...))
			return
		}
		for _, v := range values[len(h)] {
			fill(append(h, v))
		}
	}
	fill(nil)
	rest := p.Rest()
	for w, h := range e.ways {
		ok := true
		for i, id := range p.HandIDs() {
			item := s.Item(setup.ID(id))
			free := item.Kind == setup.IsControl && (s.Transmitter.Controls[item.Index].Axis != nil &&
				s.Transmitter.Controls[item.Index].Axis.Spring == "none" ||
				s.Transmitter.Controls[item.Index].Switch != nil &&
					s.Transmitter.Controls[item.Index].Switch.SpringTo == nil)
			ok = ok && (free || h[i] == rest[i])
		}
		if st := p.PowerOn(); ok {
			if p.Step(st, h); p.Sending(st) {
				e.start = append(e.start, w)
			}
		}
	}
	return e
}

// holds reads a condition from the columns of a trace.
func (e *plain) holds(st *signal.State, c setup.Condition) bool {
	read := func(name string) (float64, bool) {
		cell := e.cells[name]
		if cell == nil {
			panic(name)
		}
		return e.p.Read(cell, st)
	}
	var v float64
	var ok bool
	switch {
	case c.Output != nil:
		v, ok = read(string(*c.Output) + "_pct")
	case c.Device != nil && *c.Device == "box":
		v, ok = read("box_step")
	case c.Device != nil && *c.Device == "light":
		v, ok = read("light_on")
		v *= 100
	case c.Device != nil:
		v, ok = read("motor_motor")
	default:
		return e.truth(st, string(c.Truth))
	}
	return ok && (c.Above == nil || v > *c.Above) && (c.Below == nil || v < *c.Below) &&
		(c.Within == nil || v >= c.Within[0] && v <= c.Within[1])
}

func (e *plain) truth(st *signal.State, text string) bool {
	if !e.p.Sending(st) {
		return false
	}
	text, not := strings.CutPrefix(text, "not ")
	id, sub, dotted := strings.Cut(text, ".")
	is := false
	switch item := e.s.Item(setup.ID(id)); {
	case item.Kind == setup.IsControl:
		hand, _ := e.p.Hand(id)
		is = e.p.HandWord(id, e.p.HandsOf(st)[hand]) == sub
	case item.Kind == setup.IsStepper:
		cell := e.cells[id]
		v, _ := e.p.Read(cell, st)
		is = string(cell.Names[int(v)]) == sub
	case item.Kind == setup.IsSequence:
		v, _ := e.p.Read(e.cells[id+".leg"], st)
		is = map[string]bool{"rest": v == -100, "done": v == 100, "moving": v > -100 && v < 100}[sub]
	case !dotted:
		v, _ := e.p.Read(e.cells[id], st)
		is = v != 0
	}
	return is != not
}

// look tells what a frame does to the claim; first is the first frame after a power-on.
func (e *plain) look(mon int, st *signal.State, first bool) (int, bool) {
	c := e.claim
	frame := 0.05
	switch {
	case c.Never != nil:
		for _, one := range *c.Never {
			if !e.holds(st, one) {
				return 0, false
			}
		}
		return 0, true
	case c.Reachable != nil:
		return 0, e.holds(st, *c.Reachable)
	case c.AtStart != nil:
		v, ok := e.p.Read(e.cells[string(c.AtStart.Output)+"_pct"], st)
		return 0, first && ok && math.Abs(v-c.AtStart.Value) > c.AtStart.Within+1e-6
	case c.OnlyWhen != nil:
		now := 0
		if e.truth(st, string(c.OnlyWhen.Changes)) {
			now = 1
		}
		return now + 1, mon != 0 && !first && now+1 != mon && !e.holds(st, c.OnlyWhen.While)
	case c.LeadsTo != nil:
		switch {
		case e.holds(st, c.LeadsTo.Then):
			return 0, false
		case mon > 0:
			mon++
		case e.holds(st, c.LeadsTo.When):
			mon = 1
		default:
			return 0, false
		}
		return mon, float64(mon)*frame > c.LeadsTo.WithinS+1e-9
	}
	if st.At(e.p.UpSlot()) != 0 {
		return 0, false
	}
	mon = min(mon+1, 20)
	if float64(mon-1)*frame < e.s.Receivers[0].LossAfterS-1e-9 {
		return mon, false
	}
	pin := map[setup.ID]string{"both": "rx.1_us", "lamp": "rx.2_us"}[c.OnLoss.Output]
	us, pulses := e.p.Read(e.cells[pin], st)
	if c.OnLoss.Cut != nil {
		return mon, pulses
	}
	within := 0.0
	if c.OnLoss.Within != nil {
		within = *c.OnLoss.Within
	}
	return mon, !pulses || math.Abs((us-1500)/5-*c.OnLoss.Value) > within+1e-6
}

// search gives the fewest rows, and of those the earliest frame, that break the claim; ok is false where
// nothing does, whole where all was looked at.
func (e *plain) search(most int) (rows, frame int, ok, whole bool) {
	var layers [][]*moment // by rows, then in the order of frames
	best := map[string]int{}
	add := func(list [][]*moment, m *moment) [][]*moment {
		for len(list) <= m.rows {
			list = append(list, nil)
		}
		list[m.rows] = append(list[m.rows], m)
		return list
	}
	rest := e.p.Rest()
	cost := func(a, b signal.Hands) int {
		n := 0
		for i := range a {
			if a[i] != b[i] {
				n++
			}
		}
		return n
	}
	found := [2]int{math.MaxInt, math.MaxInt}
	arrive := func(m *moment, first bool) {
		e.p.Fold(&m.st)
		now, bad := e.look(m.mon, &m.st, first)
		if m.mon = now; bad {
			if m.rows < found[0] || m.rows == found[0] && m.at < found[1] {
				found = [2]int{m.rows, m.at}
			}
			return
		}
		if m.rows <= found[0] {
			layers = add(layers, m)
		}
	}
	for _, w := range e.start {
		st := e.p.PowerOn()
		e.p.Step(st, e.ways[w])
		arrive(&moment{*st, w, 0, cost(rest, e.ways[w]), 0}, true)
	}
	for r := 0; r < len(layers) && r <= found[0]; r++ {
		for at := 0; len(layers[r]) > 0; at++ {
			var later []*moment
			for _, m := range layers[r] {
				if m.at > at {
					later = append(later, m)
				}
			}
			now := layers[r]
			layers[r] = later
			for _, m := range now {
				if m.at != at {
					continue
				}
				snap := e.p.Snapshot(&m.st, nil)
				for i := range snap {
					snap[i] = math.Round(snap[i]*1e6) / 1e6
				}
				snap[e.p.OddSlot()], snap[e.p.FirstSlot()] = 0, 0
				key := fmt.Sprint([]float64(snap), m.way, m.mon)
				if _, known := best[key]; known {
					continue
				}
				best[key] = r
				if len(best) > most {
					return 0, 0, found[0] < math.MaxInt, false
				}
				for w, h := range e.ways {
					n := r + cost(e.ways[m.way], h)
					if n > found[0] {
						continue
					}
					next := &moment{signal.State{V: append([]float64(nil), m.st.V...)}, w, m.mon, n, m.at + 1}
					sent := e.p.Sending(&m.st)
					e.p.Step(&next.st, h)
					arrive(next, !sent && e.p.Sending(&next.st))
				}
			}
		}
	}
	return found[0], found[1], found[0] < math.MaxInt, true
}

// TestAgainstPlainEnumeration compares verdicts, rows and frames of random documents with those of a plain
// enumeration of all runs, of the whole document and over a grid of hands.
func TestAgainstPlainEnumeration(t *testing.T) {
	n := 40
	if testing.Short() {
		n = 15
	}
	counts := map[string]int{}
	for seed := range n {
		m := &maker{Rand: rand.New(rand.NewPCG(uint64(seed), 7))}
		slow, power := seed%4 == 3, seed%3 == 2
		text := m.document(slow, power)
		doc, err := setup.ReadYAML([]byte(text))
		require.NoError(t, err, text)
		p, err := signal.Compile(doc.Setup)
		if err != nil {
			continue // a ring
		}
		for i := range doc.Setup.Claims {
			claim := &doc.Setup.Claims[i]
			ctx, cancel := context.WithTimeout(context.Background(), 10*time.Second)
			v := Decide(ctx, doc.Setup, i, Usual)
			cancel()
			said := v.Verdict
			if claim.Reachable != nil {
				said = map[string]string{Holds: Fails, Fails: Holds, Undecided: Undecided}[said]
			}
			where := fmt.Sprintf("seed %d, %s: %+v\n%s", seed, claim.ID, v, text)
			if said == Fails {
				shows, err := Shows(doc.Setup, claim, v.Rows, v.Frame)
				require.NoError(t, err, where)
				require.True(t, shows, "what was found shows it: %s", where)
				for i := range v.Rows {
					less := append(append([]Row{}, v.Rows[:i]...), v.Rows[i+1:]...)
					shows, err := Shows(doc.Setup, claim, less, v.Frame)
					require.NoError(t, err, where)
					require.False(t, shows, "row %d can be left out: %s", i, where)
				}
			}
			var grid []float64
			for x := -100.0; x <= 100; x += 12.5 {
				grid = append(grid, x)
			}
			e := newPlain(doc.Setup, p, claim, grid)
			rows, frame, broken, whole := e.search(600000 / len(e.ways))
			switch {
			case broken && !whole:
				require.NotEqual(t, Holds, said, where)
				continue
			case !whole:
				counts["too large"]++
				continue
			case broken:
				require.Equal(t, Fails, said, "it takes %d rows, frame %d: %s", rows, frame, where)
				require.LessOrEqual(t, len(v.Rows), rows, "in frame %d: %s", frame, where)
				if len(v.Rows) == rows {
					require.LessOrEqual(t, v.Frame, frame, where)
				}
				if !slow {
					require.Equal(t, [2]int{rows, frame}, [2]int{len(v.Rows), v.Frame}, where)
				}
			case !slow:
				require.Equal(t, Holds, said, where)
			default:
				require.NotEqual(t, Fails, said, where)
			}
			counts[said]++
		}
	}
	t.Log(counts)
}
