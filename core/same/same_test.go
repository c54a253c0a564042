package same

import (
	"context"
	"fmt"
	"math/rand/v2"
	"os"
	"path/filepath"
	"slices"
	"strings"
	"testing"
	"time"

	"github.com/stretchr/testify/require"

	"axtren/core/proof"
	"axtren/core/setup"
	"axtren/core/signal"
)

func read(t *testing.T, text string) *setup.Document {
	t.Helper()
	doc, err := setup.ReadYAML([]byte(text))
	require.NoError(t, err, text)
	return doc
}

// bench has the controls of all documents of this file.
const bench = `format: axtren-setup
version: 1
transmitter:
  frame_ms: 50
  controls:
    - {id: key, kind: switch, positions: [rest, press], spring_to: rest}
    - {id: mode, kind: switch, positions: [a, b, c]}
    - {id: stick, kind: axis}
    - {id: dial, kind: axis, spring: none}
`

func compare(t *testing.T, a, b string) *Answer {
	t.Helper()
	answer, err := Compare(context.Background(), read(t, bench+a), read(t, bench+b), proof.Usual)
	require.NoError(t, err)
	return answer
}

// one is a document with one output, that says what adds to it.
func one(mixes, more string) string {
	return "outputs: [{id: out, channel: 1}]\nmixes: [" + mixes + "]\n" + more
}

// TestPairsByHand: pairs worked out by hand. script is what shows the difference; empty: they are the same.
func TestPairsByHand(t *testing.T) {
	latch := func(block string) string {
		return one("{to: out, from: r}", "logic: [{id: r, block: "+block+", set: mode.b, reset: key.press}]")
	}
	for _, c := range []struct{ name, a, b, script string }{
		{"a latch, whichever side wins", latch("sr"), latch("rs"), "0.000,mode,b 0.050,key,press"},
		{"a latch and the gates that make one", latch("rs"),
			one("{to: out, from: r}", "logic: [{id: hold, block: or, in: [mode.b, keep]}, "+
				"{id: r, block: and, in: [hold, not key.press]}, {id: keep, block: sr, set: r, reset: not r}]"), ""},
		{"a gate, turned round", one("{to: out, from: r}", "logic: [{id: r, block: and, in: [mode.a, key.press]}]"),
			one("{to: out, from: q}", "logic: [{id: p, block: or, in: [not mode.a, key.rest]}, "+
				"{id: q, block: and, in: [not p]}]"), ""},
		{"a delay that is a frame longer", one("{to: out, from: r}",
			"logic: [{id: r, block: ton, in: key.press, for_s: 0.2}]"), one("{to: out, from: r}",
			"logic: [{id: r, block: ton, in: key.press, for_s: 0.25}]"), "0.050,key,press"},
		{"a gain, or a rate", one("{to: out, from: stick, gain: 60}", ""),
			one("{to: out, from: soft}", "demands: [{id: soft, from: stick, rate: 60}]"), ""},
		{"a little more gain", one("{to: out, from: stick, gain: 60}", ""),
			one("{to: out, from: stick, gain: 60.01}", ""), "0.050,stick,-99.?"},
		{"only far out", one("{to: out, from: stick}", ""), one("{to: out, from: bent}",
			"demands: [{id: bent, from: stick, curve: [[-100, -100], [90, 90], [100, 99]]}]"), "0.050,stick,"},
		{"two sticks in another order",
			one("{to: out, from: stick, gain: 50}, {to: out, from: dial, gain: 30}", ""),
			one("{to: out, from: dial, gain: 30}, {to: out, from: stick, gain: 50}", ""), ""},
		{"two sticks, when it says the same",
			one("{to: out, from: stick, gain: 50}, {to: out, from: dial, gain: 30, "+
				"when: mode.a}", ""), one("{to: out, from: dial, gain: 30, when: r}, {to: out, from: stick, gain: 50}",
				"logic: [{id: r, block: and, in: [not mode.b, not mode.c]}]"), ""},
		{"where one of two sticks counts", one("{to: out, from: stick}, {to: out, from: dial, when: mode.b}", ""),
			one("{to: out, from: stick}, {to: out, from: dial, when: r}",
				"logic: [{id: r, block: or, in: [mode.b, key.press]}]"), "0.000,dial,-100 0.050,key,press"},
		{"only where both sticks are far",
			one("{to: out, from: stick, gain: 80}, {to: out, from: dial, gain: 15}", ""),
			one("{to: out, from: stick, gain: 80}, {to: out, from: dial, gain: 15}, {to: out, from: 94, combine: "+
				"least}", ""), "0.050,stick,100 0.050,dial,100"},
		{"slow, for the same", one("{to: out, from: stick, when: mode.b}",
			"")[:0] + "outputs: [{id: out, channel: 1, slew_s: 1}]\nmixes: [{to: out, from: stick, when: mode.b}]",
			"outputs: [{id: out, channel: 1, slew_s: 1}]\nmixes: [{to: out, from: stick, when: r}]\nlogic: [{id: r, " +
				"block: and, in: [not mode.a, not mode.c]}]", ""},
		{"slower", "outputs: [{id: out, channel: 1, slew_s: 1}]\nmixes: [{to: out, from: mode}]",
			"outputs: [{id: out, channel: 1, slew_s: 2}]\nmixes: [{to: out, from: mode}]", "0.050,mode,b"},
		{"slow, on another scale",
			"outputs: [{id: out, channel: 1, slew_s: 1}]\nmixes: [{to: out, from: stick, when: " +
				"mode.b}]",
			"outputs: [{id: out, channel: 1, slew_s: 1}]\nmixes: [{to: out, from: stick, when: mode.b}]\n" +
				"#pulse", "none"},
		{"another channel", one("{to: out, from: stick}", ""),
			"outputs: [{id: out, channel: 2}]\nmixes: [{to: out, from: stick}]", "none"},
		{"nothing at all", "", "", ""},
		{"nothing beside something", "", one("{to: out, from: stick}", ""), "none"},
		{"behind the link", one("{to: out, from: stick}", ""), one("{to: out, from: stick}",
			"receivers: [{id: rx, pins: [{pin: 1, channel: 1}]}]\nannouncements: [{id: tell, when: "+
				"mode.b, say: now}]"),
			""},
		{"a start check", one("{to: out, from: stick}", ""), one("{to: out, from: stick}",
			"start_check: [{control: mode, is: a}]"), "0.000,mode,b"},
		{"a start check that is always met", one("{to: out, from: stick}", ""), one("{to: out, from: stick}",
			"start_check: [{control: dial, is: {from: -100, to: 100}}]"), ""},
		{"a start check after the power was off", one("{to: out, from: r}",
			"logic: [{id: r, block: toggle, in: mode.b, start: kept}]"), one("{to: out, from: r}",
			"logic: [{id: r, block: toggle, in: mode.b, start: kept}]\nstart_check: [{control: stick, is: {from: -5, "+
				"to: 5}}]"), "0.050,stick,? 0.050,transmitter,off 0.100,transmitter,on"},
		{"kept, or not", one("{to: out, from: r}", "logic: [{id: r, block: toggle, in: key.press, start: kept}]"),
			one("{to: out, from: r}", "logic: [{id: r, block: toggle, in: key.press}]"),
			"0.050,key,press 0.100,transmitter,off 0.150,transmitter,on"},
		{"a timer before itself", one("{to: out, from: x}",
			"logic: [{id: y, block: ton, in: not y, for_s: 0.2}, {id: x, block: ton, in: not y, for_s: 0.2}]"),
			one("{to: out, from: y}", "logic: [{id: y, block: ton, in: not y, for_s: 0.2}]"), "none"},
	} {
		answer := compare(t, c.a, c.b)
		if strings.Contains(c.b, "#pulse") {
			other := strings.Replace(bench, "frame_ms: 50", "frame_ms: 50\n  pulse: {centre_us: 1510}", 1)
			found, err := Compare(context.Background(), read(t, bench+c.a), read(t, other+c.b), proof.Usual)
			require.NoError(t, err)
			answer = found
		}
		require.Empty(t, answer.Undecided, c.name)
		require.Equal(t, c.script == "", answer.Same, "%s: %s", c.name, answer.Script())
		if c.script == "" {
			require.Empty(t, answer.Script(), c.name)
			continue
		}
		if !strings.Contains(c.b, "#pulse") { // what is slow is looked at in some places alone
			require.True(t, answer.Fewest, c.name)
		}
		lines := strings.Split(strings.TrimSpace(answer.Script()), "\n")
		var wanted []string
		if c.script != "none" {
			wanted = strings.Split(c.script, " ")
		}
		require.Len(t, lines[1:], len(wanted), "%s: %v", c.name, lines)
		for i, want := range wanted {
			require.True(t, strings.HasPrefix(lines[i+1], strings.TrimSuffix(want, "?")), "%s: %v", c.name, lines)
		}
	}
}

// maker writes random rules, whose thresholds lie on a grid.
type maker struct{ *rand.Rand }

func (m maker) one(list ...string) string { return list[m.IntN(len(list))] }

// rules are the lines of a document that can be written in another way, or changed.
func (m maker) rules() (lines []string) {
	refs := []string{"key.press", "mode.a", "mode.b", "mode.c"}
	ref := func() string {
		if m.IntN(4) == 0 {
			return "not " + m.one(refs...)
		}
		return m.one(refs...)
	}
	for i := range 1 + m.IntN(3) {
		id := fmt.Sprint("r", i)
		switch m.IntN(7) {
		case 0:
			lines = append(lines, fmt.Sprintf("{id: %s, block: %s, in: [%s, %s]}", id, m.one("and", "or",
				"xor"), ref(),
				ref()))
		case 1:
			lines = append(lines, fmt.Sprintf("{id: %s, block: above, of: stick, level: %d}", id, 25*(m.IntN(3)-1)))
		case 2:
			lines = append(lines, fmt.Sprintf("{id: %s, block: %s, set: %s, reset: %s, start: %s}", id,
				m.one("sr", "rs"), ref(), ref(), m.one("true", "false", "false", "kept")))
		case 3:
			lines = append(lines, fmt.Sprintf("{id: %s, block: toggle, in: %s}", id, ref()))
		case 4:
			lines = append(lines, fmt.Sprintf("{id: %s, block: %s, in: %s}", id, m.one("r_trig", "f_trig"), ref()))
		default:
			lines = append(lines, fmt.Sprintf("{id: %s, block: %s, in: %s, for_s: %g}", id, m.one("ton", "tof", "tp"),
				ref(), 0.05*float64(1+m.IntN(3))))
		}
		refs = append(refs, id)
	}
	lines = append(lines, fmt.Sprintf("{id: last, block: and, in: [%s]}", refs[len(refs)-1]))
	return lines
}

// document puts rules, and what comes of them, together.
func (m maker) document(rules, mixes []string, check string) string {
	return bench + "logic:\n  - " + strings.Join(rules, "\n  - ") + "\nmixes:\n  - " + strings.Join(mixes,
		"\n  - ") +
		"\noutputs: [{id: out, channel: 1}, {id: lamp, channel: 2}]\n" + check
}

// changed changes one word of one line, or none.
func (m maker) changed(lines []string) []string {
	list := append([]string{}, lines...)
	i := m.IntN(len(list))
	words := [][2]string{{"block: sr", "block: rs"}, {"block: and", "block: or"}, {"not ", ""},
		{"mode.a", "mode.b"}, {"0.05", "0.1"}, {"start: kept", "start: false"}, {"level: 25", "level: 0"},
		{"r_trig", "f_trig"}, {"gain: 50", "gain: 75"}, {"when: last", "when: r0"}, {"tp", "ton"}}
	for _, at := range m.Perm(len(words)) {
		if strings.Contains(list[i], words[at][0]) {
			list[i] = strings.Replace(list[i], words[at][0], words[at][1], 1)
			break
		}
	}
	return list
}

// TestAgainstPlainEnumeration: what is the same, and the fewest movements where it is not, and the earliest
// frame, against all runs of two programs side by side with the hands on a grid. Nothing of it is shared
// with the search.
func TestAgainstPlainEnumeration(t *testing.T) {
	same, differ := 0, 0
	for seed := range uint64(120) {
		m := maker{rand.New(rand.NewPCG(seed, 19))}
		rules := m.rules()
		mixes := []string{"{to: out, from: stick, gain: 50, when: last}", "{to: lamp, from: last}"}
		a := m.document(rules, mixes, "")
		check := m.one("", "", "", "start_check: [{control: mode, is: b}]")
		b := m.document(m.changed(rules), m.changed(mixes), check)
		answer, err := Compare(context.Background(), read(t, a), read(t, b), proof.Usual)
		require.NoError(t, err)
		require.Empty(t, answer.Undecided, "seed %d", seed)
		rows, frame, found := enumerate(t, read(t, a), read(t, b))
		say := fmt.Sprintf("seed %d\n%s\n%s\n%s", seed, a, b, answer.Script())
		require.Equal(t, !found, answer.Same, say)
		if found {
			require.Equal(t, rows, len(answer.Rows), say)
			require.Equal(t, frame, answer.Frame, say)
			differ++
		} else {
			same++
		}
	}
	require.Greater(t, same, 20)
	require.Greater(t, differ, 40)
}

// moment is where both are, with the hands.
type moment struct {
	a, b *signal.State
	way  int
}

// enumerate looks at all runs of two programs over a grid of hands, by rows and in each number of rows by
// frames.
func enumerate(t *testing.T, docA, docB *setup.Document) (rows, frame int, found bool) {
	t.Helper()
	a, err := signal.Compile(docA.Setup)
	require.NoError(t, err)
	b, err := signal.Compile(docB.Setup)
	require.NoError(t, err)
	grid := [][]float64{{0, 1}, {0, 1, 2}, {-100, -25, -1, 0, 24, 25, 100}, {0}, {1}, {1}}
	for _, doc := range []*setup.Document{docA, docB} {
		for _, block := range doc.Setup.Logic {
			if at, _ := block.StartsAs(); at == "kept" {
				grid[4] = []float64{1, 0}
			}
		}
	}
	ways := []signal.Hands{{}}
	for _, values := range grid {
		var next []signal.Hands
		for _, hands := range ways {
			for _, v := range values {
				next = append(next, append(append(signal.Hands{}, hands...), v))
			}
		}
		ways = next
	}
	cost := func(from, to signal.Hands) (n int) {
		for i := range from {
			if from[i] != to[i] {
				n++
			}
		}
		return n
	}
	differs := func(m *moment) bool {
		us := func(p *signal.Program, st *signal.State, i int) float64 {
			if !p.Sending(st) {
				return 0
			}
			return st.At(p.Routes[i].US)
		}
		return us(a, m.a, 0) != us(b, m.b, 0) || us(a, m.a, 1) != us(b, m.b, 1)
	}
	key := func(m *moment) string {
		return fmt.Sprint(a.Snapshot(m.a, nil), b.Snapshot(m.b, nil), m.way)
	}
	step := func(from *moment, way int) *moment {
		m := &moment{a.PowerOn(), b.PowerOn(), way}
		if from != nil {
			m.a.CopyFrom(from.a)
			m.b.CopyFrom(from.b)
		}
		a.Step(m.a, ways[way])
		b.Step(m.b, ways[way])
		return m
	}
	seen := map[string]bool{}
	layers := [][]map[string]*moment{} // by rows, by frame
	put := func(rows, frame int, m *moment) {
		for len(layers) <= rows {
			layers = append(layers, nil)
		}
		for len(layers[rows]) <= frame {
			layers[rows] = append(layers[rows], map[string]*moment{})
		}
		layers[rows][frame][key(m)] = m
	}
	rest := a.Rest()
	for way, hands := range ways {
		if hands[0] != 0 || hands[2] != 0 || hands[4] != 1 {
			continue // sprung, and on
		}
		if m := step(nil, way); a.Sending(m.a) || b.Sending(m.b) {
			put(cost(rest, hands), 0, m)
		}
	}
	for rows := 0; rows < len(layers); rows++ { //nolint:intrange // it grows
		for frame := 0; frame < len(layers[rows]); frame++ { //nolint:intrange // it grows
			for k, m := range layers[rows][frame] {
				if differs(m) {
					return rows, frame, true
				}
				if seen[k] {
					continue
				}
				seen[k] = true
				for way := range ways {
					if next := step(m, way); !seen[key(next)] {
						put(rows+cost(ways[m.way], ways[way]), frame+1, next)
					}
				}
			}
		}
	}
	return 0, 0, false
}

// TestWhatCannotBeCompared: what has to be the same is named, with what it is in both.
func TestWhatCannotBeCompared(t *testing.T) {
	other := func(from, to string) string { return strings.Replace(bench, from, to, 1) }
	for text, says := range map[string]string{
		other("frame_ms: 50", "frame_ms: 20"):              "frame_ms is 50 in the first and 20 in the second",
		other("id: dial", "id: knob"):                      "(control dial) is not in the second setup",
		other("positions: [a, b, c]", "positions: [a, b]"): "(control mode) is a switch with a, b, c",
		other("spring: none", "spring: low"):               "(control dial) is an axis with spring none",
		other(", spring_to: rest", ""):                     "springs back",
		bench + "    - {id: more, kind: axis}\n":           "(control more) is not in the first setup",
		other("{id: mode, kind: switch, positions: [a, b, c]}",
			"{id: mode, kind: switch, positions: [a, b, c], start: b}"): "begins at a",
	} {
		_, err := Compare(context.Background(), read(t, bench), read(t, text), proof.Usual)
		require.ErrorContains(t, err, says)
	}
	turned := strings.Replace(bench, "    - {id: dial, kind: axis, spring: none}\n", "", 1)
	turned = strings.Replace(turned, "controls:\n", "controls:\n    - {id: dial, kind: axis, spring: none}\n", 1)
	answer, err := Compare(context.Background(), read(t, bench+one("{to: out, from: stick}", "")),
		read(t, turned+one("{to: out, from: stick}", "")), proof.Usual)
	require.NoError(t, err)
	require.True(t, answer.Same, "the order of the controls does not matter")
}

// demos are the models of the demonstration.
func demos(t *testing.T) map[string]*setup.Document {
	t.Helper()
	paths, err := filepath.Glob("../../demo/*.yaml")
	require.NoError(t, err)
	docs := map[string]*setup.Document{}
	for _, path := range paths {
		text, err := os.ReadFile(path)
		require.NoError(t, err)
		docs[filepath.Base(path)] = read(t, string(text))
	}
	require.Greater(t, len(docs), 5)
	return docs
}

// otherwise gives a document with other ids, its lists the other way round where their order does not count,
// and nothing behind the link.
func otherwise(t *testing.T, doc *setup.Document) *setup.Document {
	t.Helper()
	to := map[setup.ID]setup.ID{}
	for _, kind := range computing {
		for i := range doc.Setup.Count(kind) {
			to[doc.Setup.Key(kind.At(i)).ID] = setup.ID(fmt.Sprint("n", len(to)))
		}
	}
	tree := doc.Renamed(to)
	for _, list := range []string{"claims", "stage", "wiring", "plan", "stand", "devices", "receivers",
		"announcements"} {
		if tree.Get(list) != nil {
			require.NoError(t, tree.Remove(list))
		}
	}
	for _, list := range []string{"demands", "logic", "steppers", "sequences", "patterns", "outputs"} {
		if n := tree.Get(list); n != nil {
			slices.Reverse(n.Items)
		}
	}
	other, err := setup.FromTree(tree)
	require.NoError(t, err)
	return other
}

// TestNamesAndOrderDoNotMatter: every model of the demonstration sends the same under other names and in
// another order, which is found without a search; and no two of them can be compared, or are the same.
func TestNamesAndOrderDoNotMatter(t *testing.T) {
	for name, doc := range demos(t) {
		answer, err := Compare(context.Background(), doc, otherwise(t, doc), proof.Usual)
		require.NoError(t, err, name)
		require.True(t, answer.Same, "%s: %s %s", name, answer.Undecided, answer.Script())
		require.Zero(t, answer.States, name)
		require.Len(t, doc.Setup.Outputs, answer.Alike, name)
	}
}

// TestEverySingleChange: one number or word of a model of the demonstration is changed after the other; the
// answer, if there is one, was played on both, and few are left open.
func TestEverySingleChange(t *testing.T) {
	decided, open, differ := 0, 0, 0
	for name, doc := range demos(t) {
		for i := range doc.Setup.Mixes {
			pointer := fmt.Sprintf("/mixes/%d/gain", i)
			tree, err := doc.Tree.Set(pointer, setup.NumberNode(37))
			require.NoError(t, err)
			edited, err := setup.FromTree(tree)
			require.NoError(t, err)
			began := time.Now()
			ctx, cancel := context.WithTimeout(context.Background(), 5*time.Second)
			answer, err := Compare(ctx, doc, edited, proof.Budget{Bytes: 64 << 20})
			cancel()
			t.Log(name, pointer, time.Since(began), answer.States, answer.Undecided)
			require.NoError(t, err)
			require.NotContains(t, answer.Undecided, "fault", "%s %s", name, pointer)
			if answer.Undecided != "" {
				t.Log(name, pointer, answer.Undecided)
				open++
				continue
			}
			decided++
			if !answer.Same {
				differ++
				require.NotEqual(t, answer.US[0], answer.US[1])
			}
		}
	}
	t.Log(decided, "decided,", open, "open")
	require.Greater(t, differ, 30)
	require.Less(t, 10*open, decided)
}

// TestWhatIsSaidOfTwo: in whole sentences, with what each sends, where, when, and how it is shown; of what is
// the same, how that was found; of what is open, why.
func TestWhatIsSaidOfTwo(t *testing.T) {
	names := [2]string{"the first", "the second"}
	of := func(a, b string) []string {
		one, other := read(t, bench+a), read(t, bench+b)
		answer, err := Compare(context.Background(), one, other, proof.Usual)
		require.NoError(t, err)
		return answer.Says([2]*setup.Setup{one.Setup, other.Setup}, names)
	}
	plain := "outputs: [{id: out, label: Winch, channel: 48}]\nmixes: [{from: %d, to: out}]\n"
	require.Equal(t, []string{"They send the same, whatever hands do: every channel is made in the same way."},
		of(fmt.Sprintf(plain, 20), fmt.Sprintf(plain, 20)))
	require.Equal(t,
		[]string{"At power-on Winch (channel 48) is sent 1600 µs by the first and 1650 µs by the second."},
		of(fmt.Sprintf(plain, 20), fmt.Sprintf(plain, 30)))
	require.Equal(t,
		[]string{"At power-on Winch (channel 48) is sent 1600 µs by the first and nothing by the second."},
		of(fmt.Sprintf(plain, 20), "outputs: []"))
	require.Equal(t,
		[]string{"At power-on Winch (channel 48) is sent nothing by the first and 1600 µs by the second."},
		of("outputs: []", fmt.Sprintf(plain, 20)))
	latch := "outputs: [{id: out, channel: 3}]\nlogic: [{id: r, block: %s, set: mode.b, reset: key.press}]\n" +
		"mixes: [{to: out, from: r, gain: 40}]"
	says := of(fmt.Sprintf(latch, "sr"), fmt.Sprintf(latch, "rs"))
	require.Equal(t, "Before power-on: Switch 1 at b.", says[0])
	require.Equal(t, "Then channel 3 is sent 1700 µs by the first and 1300 µs by the second.", says[len(says)-1])

	a, b := &setup.Setup{}, &setup.Setup{}
	require.Equal(t,
		[]string{"They send the same, whatever hands do: 12 moments were looked at, and there are no " +
			"others."}, (&Answer{Same: true, States: 12}).Says([2]*setup.Setup{a, b}, names))
	require.Equal(t, []string{"There was no time."}, (&Answer{Undecided: "there was no time"}).Says(
		[2]*setup.Setup{a, b}, names))
}
