package behave_test

import (
	"fmt"
	"slices"
	"strings"
	"testing"
	"time"

	"github.com/stretchr/testify/require"

	"axtren/core/behave"
	"axtren/core/setup"
	"axtren/core/signal"
	"axtren/internal/golden"
)

// ruleDoc is a model with some switches and rules, at 20 ms a frame.
func ruleDoc(t testing.TB, rules string) (*setup.Document, *signal.Program) {
	doc, err := setup.ReadYAML([]byte(`format: axtren-setup
version: 1
transmitter:
  controls:
    - {id: button, kind: switch, label: Button, positions: [rest, press], spring_to: rest}
    - {id: other, kind: switch, label: Other, positions: [rest, press], spring_to: rest}
    - {id: lock, kind: switch, label: Lock, positions: [free, locked]}
    - {id: lever, kind: switch, label: Lever, positions: [land, shore, water]}
    - {id: stick, kind: axis, label: Stick}
` + rules))
	require.NoError(t, err)
	return doc, compiled(t, doc)
}

// drawnText says a drawing line by line.
func drawnText(d *behave.Machine) string {
	var b strings.Builder
	name := func(n int) string {
		node := d.Nodes[n]
		if node.Soon != "" {
			return node.Label + " (" + node.Soon + ")"
		}
		return node.Label
	}
	for n, node := range d.Nodes {
		fmt.Fprintf(&b, "%s", name(n))
		if node.Wakes {
			b.WriteString(", wakes")
		}
		b.WriteString("\n")
		for _, edge := range d.Edges {
			if edge.From == n {
				fmt.Fprintf(&b, "  %s: %s\n", name(edge.To), strings.Join(edge.By, " | "))
			}
		}
	}
	return b.String()
}

// TestHandWorkedLatches: states of latches as people draw them by hand. Common practice, no source.
func TestHandWorkedLatches(t *testing.T) {
	for name, one := range map[string]struct{ rules, key, want string }{
		"a button that clicks on and off, with a cut": {
			"logic: [{id: x, block: toggle, in: button.press, reset: lock.locked}]", "logic/x", `off, wakes
  on: press Button, with Lock at free
on
  off: press Button | Lock to locked
`},
		"the cut at its moment alone": {`logic:
  - {id: cut, block: r_trig, in: lock.locked}
  - {id: x, block: toggle, in: button.press, reset: cut}`, "logic/x", `off, wakes
  on: press Button
on
  off: press Button | Lock to locked
`},
		"a chooser and an actor": {`logic:
  - {id: acts, block: r_trig, in: button.press}
  - {id: to_off, block: and, in: [acts, lock.free]}
  - {id: to_on, block: and, in: [acts, lock.locked]}
  - {id: x, block: rs, label: Gear up, set: to_on, reset: to_off}`, "logic/x", `none of them, wakes
  Gear up: press Button, with Lock at locked
Gear up
  none of them: press Button, with Lock at free
`},
		"three states with a chosen start": {`steppers:
  - {id: x, up: button.press, down: other.press, start: neutral, steps: [{name: low, value: -100}, ` +
			`{name: neutral, value: 0}, {name: high, value: 100}]}`, "steppers/x", `neutral, wakes
  high: press Button
  low: press Other
high
  neutral: press Other
low
  neutral: press Button
`},
		"four states round": {`steppers:
  - {id: x, up: button.press, wrap: true, steps: [{name: a, value: -100}, {name: b, value: -50}, ` +
			`{name: c, value: 50}, {name: d, value: 100}]}`, "steppers/x", `a, wakes
  b: press
b
  c: press
c
  d: press
d
  a: press
`},
		"as it was left": {"logic: [{id: x, block: toggle, in: button.press, start: kept}]", "logic/x", `off, wakes
  on: press
on, wakes
  off: press
`},
		"after a while, and off with it": {"logic: [{id: x, block: ton, in: button.press, for_s: 2}]", "logic/x",
			`off, wakes
  off (on in 2 s): press
off (on in 2 s)
  off: let go
  on: in 2 s
on
  off: let go
`},
		"a while after": {"logic: [{id: x, block: tof, in: button.press, for_s: 5}]", "logic/x", `off, wakes
  on: press
on
  on (off in 5 s): let go
on (off in 5 s)
  off: in 5 s
  on: press
`},
		"a stick beyond a place": {"logic: [{id: x, block: above, of: stick, level: 30, hysteresis: 10}]",
			"logic/x", `off, wakes
  on: to +30 % or above
on
  off: let go
`},
	} {
		t.Run(name, func(t *testing.T) {
			doc, p := ruleDoc(t, one.rules)
			d, ok, err := behave.Draw(doc.Setup, p, one.key)
			require.NoError(t, err)
			require.True(t, ok)
			require.Equal(t, one.want, drawnText(d))
			require.Empty(t, d.Partial)
		})
	}
}

// TestStatesAgainstAPlainSearch: what is drawn is what a search through the whole model finds, that tries
// every position of every switch in every frame and knows nothing of cones, of short times or of merging:
// the same things are seen, and the same lead to the same.
func TestStatesAgainstAPlainSearch(t *testing.T) {
	// times are two frames and four, so short as they are made for a drawing
	for name, rules := range map[string]string{
		"toggle": "logic: [{id: x, block: toggle, in: button.press, reset: lock.locked}]",
		"latch":  "logic: [{id: x, block: rs, set: button.press, reset: lock.locked, start: true}]",
		"gate":   "logic: [{id: x, block: xor, in: [button.press, lock.locked]}]",
		"ton":    "logic: [{id: x, block: ton, in: button.press, for_s: 0.04}]",
		"tof of a toggle": "logic: [{id: y, block: toggle, in: button.press}, {id: x, block: tof, " +
			"in: y, for_s: 0.04}]",
		"tp": "logic: [{id: x, block: tp, in: button.press, for_s: 0.04}]",
		"two times": "logic: [{id: y, block: ton, in: lock.locked, for_s: 0.04}, {id: x, " +
			"block: tof, in: y, for_s: 0.08}]",
		"feedback": "logic: [{id: x, block: sr, set: button.press, reset: y}, {id: y, block: " +
			"and, in: [x, lock.locked]}]",
		"moment": "logic: [{id: x, block: r_trig, in: lever.shore}]",
	} {
		t.Run(name, func(t *testing.T) {
			doc, p := ruleDoc(t, rules)
			d, ok, err := behave.Draw(doc.Setup, p, "logic/x")
			require.NoError(t, err)
			require.True(t, ok)
			want := searched(doc.Setup, p)
			got := map[string]bool{}
			for _, edge := range d.Edges {
				got[d.Nodes[edge.From].Label+" > "+d.Nodes[edge.To].Label] = true
			}
			for from, to := range want {
				for one := range to {
					if from != one {
						require.True(t, got[from+" > "+one], "%s leads to %s\n%s", from, one, drawnText(d))
						delete(got, from+" > "+one)
					}
				}
			}
			for edge := range got {
				from, to, _ := strings.Cut(edge, " > ")
				require.Equal(t, from, to, "%s\n%s", edge, drawnText(d))
			}
			var labels []string
			for _, node := range d.Nodes {
				if !slices.Contains(labels, node.Label) {
					labels = append(labels, node.Label)
				}
			}
			require.Len(t, labels, len(want))
		})
	}
}

// searched gives of what is seen of block x what it can become in the next frame, whatever hands do.
func searched(s *setup.Setup, p *signal.Program) map[string]map[string]bool {
	slot := p.BlockSlot(s.Item("x").Index)
	seen := func(st *signal.State) string {
		if st.At(slot) != 0 {
			return "on"
		}
		return "off"
	}
	var every []signal.Hands
	var put func(h signal.Hands, c int)
	put = func(h signal.Hands, c int) {
		if c == len(s.Transmitter.Controls) {
			every = append(every, slices.Clone(h))
			return
		}
		n := 1
		if sw := s.Transmitter.Controls[c].Switch; sw != nil {
			n = len(sw.Positions)
		}
		for v := range n {
			h[c] = float64(v)
			put(h, c+1)
		}
		h[c] = 0
	}
	put(p.Rest(), 0)
	visited := map[string]bool{}
	leads := map[string]map[string]bool{}
	var queue []*signal.State
	visit := func(st *signal.State) {
		if key := fmt.Sprint(p.Snapshot(st, nil)); !visited[key] {
			visited[key] = true
			queue = append(queue, st)
			if leads[seen(st)] == nil {
				leads[seen(st)] = map[string]bool{}
			}
		}
	}
	for _, h := range every {
		if h[0] == 0 && h[1] == 0 { // what springs is at rest
			st := p.PowerOn()
			p.Step(st, h)
			visit(st)
		}
	}
	for len(queue) > 0 {
		st := queue[0]
		queue = queue[1:]
		for _, h := range every {
			next := p.PowerOn()
			next.CopyFrom(st)
			p.Step(next, h)
			visit(next)
			leads[seen(st)][seen(next)] = true
		}
	}
	return leads
}

// TestNow: a running model is in the state that is lit, and what is possible now leads where it says.
func TestNow(t *testing.T) {
	for _, m := range everyModel(t) {
		for _, r := range behave.Read(m.doc.Setup, m.p) {
			d, ok, err := behave.Draw(m.doc.Setup, m.p, r.Key)
			require.NoError(t, err)
			require.Equal(t, r.States && r.Home == "", ok, r.Key)
			if !ok || d.Partial != "" {
				continue
			}
			st := m.p.PowerOn()
			m.p.Step(st, m.p.Ready())
			now := d.Now(m.p, st)
			require.GreaterOrEqual(t, now.Node, 0, "%s %s", m.name, r.Key)
			require.True(t, d.Nodes[now.Node].Wakes, "%s %s is %s at power-on\n%s", m.name, r.Key,
				now.Seen, drawnText(d))
			require.Equal(t, d.Nodes[now.Node].Label, now.Seen)
			for _, next := range now.Can {
				require.NotEmpty(t, next.Does)
				require.NotEmpty(t, next.To)
			}
		}
	}
}

// TestNowAfterAPress: the way that was offered is the way that is gone.
func TestNowAfterAPress(t *testing.T) {
	doc, p := ruleDoc(t, "logic: [{id: x, block: toggle, in: button.press, reset: lock.locked}]")
	d, _, err := behave.Draw(doc.Setup, p, "logic/x")
	require.NoError(t, err)
	st, hands := p.PowerOn(), p.Rest()
	step := func() behave.Now {
		p.Step(st, hands)
		return d.Now(p, st)
	}
	require.Equal(t, behave.Now{Node: 0, Seen: "off", Can: []behave.Next{{Does: "press Button", To: "on",
		Node: 1}}}, step())
	hands[0] = 1
	require.Equal(t, behave.Now{Node: 1, Seen: "on", Can: []behave.Next{{Does: "Lock to locked",
		To: "off"}}}, step())
	hands[0] = 0
	step()
	require.Equal(t, []behave.Next{{Does: "press Button", To: "off"}, {Does: "Lock to locked",
		To: "off"}}, step().Can)
	hands[2] = 1
	require.Equal(t, behave.Now{Seen: "off", Can: []behave.Next{}}, step())
}

// TestHowFastRulesAre: all sentences of 64 blocks are read, or one of them written, in 10 ms; the states
// of a rule of 12 blocks are drawn in 50 ms. A machine that is busy may take twice that.
func TestHowFastRulesAre(t *testing.T) {
	doc, p := ruleDoc(t, manyRules(64))
	took := fastest(5, func() { require.Len(t, behave.Read(doc.Setup, p), 64) })
	t.Logf("64 blocks read in %v", took)
	require.Less(t, took, 20*time.Millisecond)
	took = fastest(5, func() {
		wrote(t, doc, filled("click", "in", "button.press", "cut_how", "lasts", "wakes", "off", "press", "at_once"))
	})
	t.Logf("one more written in %v", took)
	require.Less(t, took, 20*time.Millisecond)
	deep, q := ruleDoc(t, chain(12))
	took = fastest(5, func() {
		d, _, err := behave.Draw(deep.Setup, q, "logic/b11")
		require.NoError(t, err)
		require.GreaterOrEqual(t, len(d.Nodes), 2)
	})
	t.Logf("the states of 12 blocks drawn in %v", took)
	require.Less(t, took, 100*time.Millisecond)
}

func fastest(times int, work func()) time.Duration {
	best := time.Hour
	for range times {
		at := time.Now()
		work()
		best = min(best, time.Since(at))
	}
	return best
}

// manyRules are n rules of all kinds of block, by turns, each on its own.
func manyRules(n int) string {
	var b strings.Builder
	b.WriteString("logic:\n")
	for i := range n {
		fmt.Fprintf(&b, "  - {id: b%d, label: Rule %d, %s}\n", i, i, []string{
			"block: toggle, in: button.press, reset: lock.locked", "block: rs, set: button.press, reset: lever.land",
			"block: or, in: [lever.land, lock.locked]", "block: ton, in: other.press, for_s: 1",
			"block: tof, in: button.press, for_s: 2", "block: tp, in: lever.shore, for_s: 0.5",
			fmt.Sprintf("block: above, of: stick, level: 20, hysteresis: %d", i)}[i%7])
	}
	return b.String()
}

// chain is a rule that n blocks decide.
func chain(n int) string {
	var b strings.Builder
	b.WriteString("logic:\n  - {id: b0, block: toggle, in: button.press, reset: lock.locked}\n")
	for i := 1; i < n; i++ {
		fmt.Fprintf(&b, "  - {id: b%d, %s}\n", i, fmt.Sprintf([]string{"block: or, in: [b%d, lever.land]",
			"block: ton, in: b%d, for_s: 0.5", "block: and, in: [b%d, not other.press]",
			"block: rs, set: b%d, reset: lever.water"}[i%4], i-1))
	}
	return b.String()
}

// TestRulesWithstand: a hundred rules, long labels, switches of many positions: clear words, and within
// bounds.
func TestRulesWithstand(t *testing.T) {
	var b strings.Builder
	b.WriteString("format: axtren-setup\nversion: 1\ntransmitter:\n  controls:\n")
	for i := range 16 {
		fmt.Fprintf(&b, "    - {id: s%d, kind: switch, label: %q, positions: [a, b, c, d, e, f]}\n", i,
			strings.Repeat("Switch ", 17)+"x")
	}
	b.WriteString("logic:\n")
	for i := range 100 {
		var in []string
		for k := range 16 {
			in = append(in, fmt.Sprintf("s%d.%c", k, 'a'+byte((i+k)%6)))
		}
		fmt.Fprintf(&b, "  - {id: r%d, label: %q, block: xor, in: [%s]}\n", i, strings.Repeat("Rule ", 24),
			strings.Join(in, ", "))
	}
	doc, err := setup.ReadYAML([]byte(b.String()))
	require.NoError(t, err)
	p := compiled(t, doc)
	at := time.Now()
	rules := behave.Read(doc.Setup, p)
	require.Len(t, rules, 100)
	d, ok, err := behave.Draw(doc.Setup, p, "logic/r7")
	require.NoError(t, err)
	require.True(t, ok)
	require.NotEmpty(t, d.Partial, "it says that it did not look at everything")
	require.LessOrEqual(t, len(d.Nodes), 12)
	require.Less(t, time.Since(at), 5*time.Second)
}

// TestStatesAndTries compares what is drawn of every rule, how it is tried, and which state a model at
// rest is
// in, with what was read and found right.
func TestStatesAndTries(t *testing.T) {
	var b strings.Builder
	for _, m := range everyModel(t) {
		st, hands := m.p.PowerOn(), m.p.Ready()
		m.p.Step(st, hands)
		fmt.Fprintf(&b, "%s\n", m.name)
		for _, r := range behave.Read(m.doc.Setup, m.p) {
			d, ok, err := behave.Draw(m.doc.Setup, m.p, r.Key)
			require.NoError(t, err)
			require.True(t, ok || !r.States, r.Key)
			if !ok {
				continue
			}
			now := d.Now(m.p, st)
			fmt.Fprintf(&b, "  %s, now %d %s %s %v; %s\n", r.Key, now.Node, now.Seen, now.Soon, now.Can, d.Partial)
			for i, node := range d.Nodes {
				goal, ok := d.Goal(i)
				require.Equal(t, node.Goal, ok)
				if ok {
					_, err := m.doc.Setup.Fact(goal)
					require.NoError(t, err)
				}
				fmt.Fprintf(&b, "    %d %s; %s; wakes %t; goal %s\n", i, node.Label, node.Soon, node.Wakes, goal)
			}
			for _, edge := range d.Edges {
				fmt.Fprintf(&b, "    %d to %d: %s\n", edge.From, edge.To, strings.Join(edge.By, " | "))
			}
			for _, try := range d.Tries(m.p, st, hands) {
				fmt.Fprintf(&b, "    try %s: %s to %s after %.2f s\n", strings.Join(try.Does, ", "), try.From, try.To,
					try.WaitS)
			}
		}
	}
	golden.Equal(t, "states", b.String())
}
