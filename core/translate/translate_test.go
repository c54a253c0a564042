package translate

import (
	"context"
	"fmt"
	"math/rand/v2"
	"slices"
	"strings"
	"testing"

	"github.com/stretchr/testify/require"

	"axtren/core/setup"
	"axtren/core/signal"
)

const bench = `format: axtren-setup
version: 1
transmitter:
  frame_ms: 50
  can: {logic: {%s}}
  controls:
    - {id: key, kind: switch, positions: [rest, press], spring_to: rest}
    - {id: mode, kind: switch, positions: [a, b, c]}
    - {id: lock, kind: switch, positions: [free, shut]}
    - {id: stick, kind: axis}
outputs: [{id: out, channel: 1}, {id: lamp, channel: 2}]
`

func read(t *testing.T, can, text string) *setup.Setup {
	t.Helper()
	doc, err := setup.ReadYAML([]byte(fmt.Sprintf(bench, can) + text))
	require.NoError(t, err, text)
	return doc.Setup
}

func translated(t *testing.T, can, logic string) *Answer {
	t.Helper()
	s := read(t, can, "mixes: [{to: out, from: r}]\nlogic: ["+logic+"]")
	a, err := Translate(context.Background(), s, SetOf(s, -1), Usual)
	require.NoError(t, err)
	require.Empty(t, a.Undecided)
	holds(t, s, SetOf(s, -1), a)
	return a
}

// said writes entries in short.
func said(a *Answer) string {
	var list []string
	for _, e := range a.Entries {
		one := e.Block + "(" + strings.Join(e.In, ",") + ")"
		switch {
		case e.Set != "":
			one = e.Block + "(" + e.Set + "/" + e.Reset + ")"
		case e.Of != "":
			one = fmt.Sprintf("%s(%s %g)", e.Block, e.Of, *e.Level)
		}
		list = append(list, one)
	}
	return strings.Join(list, " ")
}

// TestByHand: rules of common practice (no source), translated by hand into the entries of several sets.
func TestByHand(t *testing.T) {
	const plain = "order: by_place, both_true: set, set_on: level, thrown_at_power_on: nothing, " +
		"negated: true, " +
		"remembers: false"
	for _, c := range []struct{ name, can, logic, entries string }{
		{"a latch as the set has it", plain, "{id: r, block: sr, set: key.press, reset: mode.a}",
			"sr(key.press/mode.a)"},
		{"the other side wins, but they are never both true", plain,
			"{id: r, block: rs, set: mode.b, reset: mode.a}", "sr(mode.b/mode.a)"},
		{"the other side wins: the set's side gives way", plain,
			"{id: r, block: rs, set: key.press, reset: mode.a}", "and(key.press,not mode.a) sr(1/mode.a)"},
		{"a gate with a not", plain, "{id: r, block: and, in: [key.press, not mode.a]}",
			"and(key.press,not mode.a)"},
		{"three in two", plain, "{id: r, block: and, in: [key.press, mode.a, lock.shut]}", "?2"},
		{"three in one", plain + ", inputs: 3", "{id: r, block: and, in: [key.press, mode.a, lock.shut]}",
			"and(key.press,mode.a,lock.shut)"},
		{"by gates alone, turned round", "blocks: [or], negated: true",
			"{id: r, block: and, in: [key.press, lock.shut]}", "?2"},
		{"a rise of a button, without a block for it", plain, "{id: r, block: r_trig, in: key.press}", "?2"},
		{"a latch of gates, where the order helps", "blocks: [and, or]",
			"{id: r, block: sr, set: key.press, reset: mode.a}", "?2"},
		{"a stick beyond a level", plain, "{id: r, block: above, of: stick, level: 20}", "above(stick 20)"},
		{"a stick beyond a level, with some play", plain,
			"{id: r, block: above, of: stick, level: 20, hysteresis: 10}", "?3"},
		{"odd", plain, "{id: r, block: xor, in: [key.press, lock.shut]}", "?3"},
		{"odd, as the set has it", "blocks: [xor]", "{id: r, block: xor, in: [key.press, lock.shut]}",
			"xor(key.press,lock.shut)"},
		{"opposites by the other positions", "blocks: [and, or], negated: false",
			"{id: r, block: and, in: [not key.press, not mode.a]}", "?2"},
		{"a latch that the set keeps", "remembers: true", "{id: r, block: sr, set: key.press, reset: lock.shut, " +
			"start: kept}", "sr(key.press/lock.shut)"},
		{"one that wakes on, held the other way round", plain,
			"{id: r, block: sr, set: key.press, reset: lock.shut, start: true}",
			"sr(lock.shut/2) or(key.press,not 1)"},
	} {
		a := translated(t, c.can, c.logic)
		require.True(t, a.Same, "%s: %s %s", c.name, said(a), a.Script())
		require.True(t, a.Fewest, "%s: %s", c.name, said(a))
		if n, ok := strings.CutPrefix(c.entries, "?"); ok {
			require.Equal(t, n, fmt.Sprint(len(a.Entries)), "%s: %s", c.name, said(a))
		} else {
			require.Equal(t, c.entries, said(a), c.name)
		}
	}
}

// TestWhatCannotBe: what a set cannot do is said, with entries that are legal and what tells them apart.
func TestWhatCannotBe(t *testing.T) {
	a := translated(t, "blocks: [and, or]", "{id: r, block: ton, in: key.press, for_s: 1}")
	require.False(t, a.Same)
	require.Equal(t,
		[]string{"Rule for Channel 1: this transmitter has no entry of the kind “on after a while”"}, a.Left)
	require.NotEmpty(t, a.Script())
	require.Contains(t, a.StandsFor, setup.ID("r"))
	a = translated(t, "count: 1", "{id: r, block: and, in: [key.press, mode.a, lock.shut]}")
	require.False(t, a.Same)
	require.Len(t, a.Entries, 1)
	none := read(t, "count: 0",
		"mixes: [{to: out, from: r}]\nlogic: [{id: r, block: and, in: [key.press, mode.a]}]")
	a, err := Translate(context.Background(), none, SetOf(none, -1), Usual)
	require.NoError(t, err)
	require.False(t, a.Same)
	require.Empty(t, a.Entries)
	require.Equal(t, []string{"Rule for Channel 1: there are not so many entries"}, a.Left)
	a = translated(t, "remembers: false", "{id: r, block: toggle, in: key.press, start: kept}")
	require.False(t, a.Same)
	require.Contains(t, a.Script(), "transmitter,off")
	s := read(t, "count: 3", "logic: [{id: r, block: sr, set: key.press, reset: mode.a}]")
	a, err = Translate(context.Background(), s, SetOf(s, -1), Usual)
	require.NoError(t, err)
	require.True(t, a.Same && a.Fewest)
	require.Empty(t, a.Entries, "nothing refers to it")
}

// TestWhatItRestsOn: what is not known of the set, and would make it another thing, is named; nothing else.
func TestWhatItRestsOn(t *testing.T) {
	for _, c := range []struct {
		can, logic string
		rests      []string
	}{
		{"count: 4", "{id: r, block: sr, set: key.press, reset: mode.a}",
			[]string{"both_true", "set_on", "remembers"}},
		{"count: 4, set_on: level", "{id: r, block: sr, set: mode.b, reset: mode.a}", []string{"remembers"}},
		{"count: 4, both_true: set, remembers: false", "{id: r, block: sr, set: key.press, reset: mode.a}",
			[]string{"set_on"}},
		{"count: 4", "{id: r, block: or, in: [key.press, mode.a]}", []string{}},
		{"count: 4", "{id: r, block: or, in: [key.press, not mode.a]}", []string{"negated"}},
		{"count: 4", "{id: r, block: r_trig, in: key.press}", []string{"order"}},
		{"count: 4, blocks: [r_trig]", "{id: r, block: r_trig, in: lock.shut}", []string{"thrown_at_power_on"}},
	} {
		a := translated(t, c.can, c.logic)
		require.True(t, a.Same, c.logic)
		require.Subset(t, append(slices.Clone(c.rests), "negated"), a.RestsOn, c.can+c.logic)
		require.Subset(t, a.RestsOn, c.rests, "%s %s", c.can, c.logic)
	}
}

// unit is an entry as it runs, written from what a set does and nothing else.
type unit struct {
	Entry
	value, before  bool
	in, set, reset bool // of the frame before
}

// plainSet runs entries frame by frame.
type plainSet struct {
	set   Set
	s     *setup.Setup
	units []unit
	late  map[[2]int]bool
	order []int
	first bool
}

func newPlainSet(s *setup.Setup, set Set, entries []Entry) *plainSet {
	p := &plainSet{set: set, s: s, late: map[[2]int]bool{}, first: true}
	for _, e := range entries {
		p.units = append(p.units, unit{Entry: e})
	}
	reads := make([][]int, len(entries))
	for i, e := range entries {
		for _, in := range append(slices.Clone(e.In), e.Set, e.Reset) {
			var n int
			if _, err := fmt.Sscanf(strings.TrimPrefix(in, "not "), "%d", &n); err == nil {
				reads[i] = append(reads[i], n-1)
			}
		}
	}
	var leads func(from, to int, seen map[int]bool) bool
	leads = func(from, to int, seen map[int]bool) bool {
		for _, next := range reads[from] {
			if next == to {
				return true
			}
			if !seen[next] {
				seen[next] = true
				if leads(next, to, seen) {
					return true
				}
			}
		}
		return false
	}
	for i := range entries {
		for _, e := range reads[i] {
			stateful := !slices.Contains([]string{"and", "or", "xor", "above", "below"}, entries[e].Block)
			if set.ByPlace {
				p.late[[2]int{i, e}] = e >= i
			} else {
				p.late[[2]int{i, e}] = stateful && leads(e, i, map[int]bool{})
			}
		}
	}
	for len(p.order) < len(entries) {
		for i := range entries {
			if !slices.Contains(p.order, i) && (set.ByPlace || !slices.ContainsFunc(reads[i], func(e int) bool {
				return !p.late[[2]int{i, e}] && !slices.Contains(p.order, e)
			})) {
				p.order = append(p.order, i)
			}
		}
	}
	return p
}

func (p *plainSet) read(i int, in string, hands signal.Hands) bool {
	ref, not := strings.CutPrefix(in, "not ")
	var n int
	if _, err := fmt.Sscanf(ref, "%d", &n); err == nil {
		v := p.units[n-1].value
		if p.late[[2]int{i, n - 1}] {
			v = p.units[n-1].before && (!p.first || !p.set.ByPlace && p.set.Remembers)
		}
		return v != not
	}
	f, _ := p.s.Fact(setup.Truth(ref))
	return (int(hands[f.Index]) == f.Sub) != not
}

func (p *plainSet) step(hands signal.Hands) {
	for i := range p.units {
		p.units[i].before = p.units[i].value
	}
	for _, i := range p.order {
		u := &p.units[i]
		get := func(in string) bool { return p.read(i, in, hands) }
		rose := func(now bool, was *bool) bool {
			r := now && !*was && !p.first || now && p.first && p.set.Fires
			*was = now
			return r
		}
		held := u.before && (!p.first || p.set.Remembers)
		switch u.Block {
		case "and", "or", "xor":
			n := 0
			for _, in := range u.In {
				if get(in) {
					n++
				}
			}
			u.value = map[string]bool{"and": n == len(u.In), "or": n > 0, "xor": n%2 == 1}[u.Block]
		case "above", "below":
			at := hands[p.s.Item(setup.ID(u.Of)).Index]
			u.value = u.Block == "above" && at >= *u.Level || u.Block == "below" && at <= *u.Level
		case "sr", "rs":
			set, reset := get(u.Set), get(u.Reset)
			if p.set.OnEdge {
				set, reset = rose(set, &u.set), rose(reset, &u.reset)
			}
			if u.value = set || held && !reset; !p.set.SetWins {
				u.value = (set || held) && !reset
			}
		case "r_trig":
			u.value = rose(get(u.In[0]), &u.in)
		case "f_trig":
			now := get(u.In[0])
			u.value = !now && u.in && !p.first
			u.in = now
		case "toggle":
			if u.value = held; rose(get(u.In[0]), &u.in) {
				u.value = !u.value
			}
			if back := u.Reset; back != "" && get(back) {
				u.value = false
			}
		}
	}
	p.first = false
}

// holds checks an answer from outside: the entries are legal; where they are the same they are, in random
// runs; where they are not, what shows it does.
func holds(t *testing.T, s *setup.Setup, set Set, a *Answer) {
	t.Helper()
	require.LessOrEqual(t, len(a.Entries), max(set.Count, 0))
	kinds := append([]string{"above", "below"}, set.Blocks...)
	remembers := false
	for _, e := range a.Entries {
		require.Contains(t, kinds, e.Block)
		list := slices.DeleteFunc(append(slices.Clone(e.In), e.Set, e.Reset),
			func(in string) bool { return in == "" })
		require.LessOrEqual(t, len(list), set.Inputs)
		remembers = remembers || set.Remembers && slices.Contains([]string{"sr", "rs", "toggle"}, e.Block)
		for _, in := range list {
			require.True(t, set.Negated || !strings.HasPrefix(in, "not "), in)
		}
	}
	p, err := signal.Compile(s)
	require.NoError(t, err)
	differ := func(st *signal.State, entries *plainSet) bool {
		for id, n := range a.StandsFor {
			if (st.At(p.BlockSlot(s.Item(id).Index)) != 0) != entries.units[n-1].value {
				return true
			}
		}
		return false
	}
	play := func(frames int, move func(frame int, hands signal.Hands)) (at int) {
		st, hands, entries := p.PowerOn(), p.Rest(), newPlainSet(s, set, a.Entries)
		for frame := range frames {
			move(frame, hands)
			p.Step(st, hands)
			if !p.Sending(st) {
				entries.first = true
				continue
			}
			if entries.step(hands); differ(st, entries) {
				return frame
			}
		}
		return -1
	}
	if !a.Same {
		next := 0
		at := play(a.Frame+1, func(frame int, hands signal.Hands) {
			for ; next < len(a.Rows) && a.Rows[next].Frame == frame; next++ {
				hand, _ := p.Hand(a.Rows[next].Control)
				hands[hand], _ = p.HandValue(a.Rows[next].Control, a.Rows[next].Value)
			}
		})
		require.Equal(t, a.Frame, at, "%s\n%s", said(a), a.Script())
		return
	}
	rng := rand.New(rand.NewPCG(7, 7))
	for range 60 {
		at := play(80, func(frame int, hands signal.Hands) {
			for i := range hands[:4] {
				sprung := i == 0 || i == 3
				if frame == 0 && sprung || rng.IntN(3) > 0 {
					continue
				}
				hands[i] = float64(rng.IntN([]int{2, 3, 2, 1}[i]))
				if i == 3 {
					hands[i] = float64(10*rng.IntN(21) - 100)
				}
			}
			if frame > 0 && (remembers || s.Keeps()) {
				hands[4] = 1
				if rng.IntN(8) == 0 {
					hands[4] = 0
				}
			}
		})
		require.Equal(t, -1, at, said(a))
	}
}

// maker writes random rules and random sets.
type maker struct{ *rand.Rand }

func (m maker) one(list ...string) string { return list[m.IntN(len(list))] }

func (m maker) document() (can, text string) {
	var parts []string
	for _, part := range []string{"order: by_place", "order: by_use", "both_true: reset", "set_on: edge",
		"thrown_at_power_on: fires", "remembers: true", "negated: false", "inputs: 3",
		"blocks: [and, or, sr, toggle, r_trig]", "blocks: [and, or]", "blocks: [and, or, xor, sr, f_trig]"} {
		key, _, _ := strings.Cut(part, ":")
		if m.IntN(4) == 0 && !slices.ContainsFunc(parts, func(p string) bool { return strings.HasPrefix(p, key) }) {
			parts = append(parts, part)
		}
	}
	refs := []string{"key.press", "mode.a", "mode.b", "mode.c", "lock.shut"}
	ref := func() string {
		if m.IntN(4) == 0 {
			return "not " + m.one(refs...)
		}
		return m.one(refs...)
	}
	text = "logic:\n"
	for i := range 1 + m.IntN(3) {
		id := fmt.Sprint("r", i)
		start := m.one("false", "false", "false", "true", "kept")
		switch m.IntN(7) {
		case 0, 1:
			text += fmt.Sprintf("  - {id: %s, block: %s, in: [%s, %s]}\n", id, m.one("and", "or", "xor"), ref(), ref())
		case 2:
			text += fmt.Sprintf("  - {id: %s, block: %s, of: stick, level: %d, hysteresis: %d}\n", id,
				m.one("above", "below"), 20*(m.IntN(3)-1), 10*m.IntN(2))
		case 3:
			text += fmt.Sprintf("  - {id: %s, block: %s, in: %s}\n", id, m.one("r_trig", "f_trig"), ref())
		case 4:
			text += fmt.Sprintf("  - {id: %s, block: toggle, in: %s, start: %s}\n", id, ref(), start)
		default:
			text += fmt.Sprintf("  - {id: %s, block: %s, set: %s, reset: %s, start: %s}\n", id,
				m.one("sr", "rs"), ref(),
				ref(), start)
		}
		refs = append(refs, id)
	}
	text += "mixes: [{to: out, from: " + refs[len(refs)-1] + "}, {to: lamp, from: r0}]\n"
	return strings.Join(parts, ", "), text
}

// TestAgainstAPlainSet: entries of random rules for random sets, run by a plain set written in this file.
func TestAgainstAPlainSet(t *testing.T) {
	same, fewest, differ := 0, 0, 0
	for seed := range uint64(60) {
		can, text := maker{rand.New(rand.NewPCG(seed, 77))}.document()
		s := read(t, can, text)
		set := SetOf(s, -1)
		ctx, cancel := context.WithCancel(context.Background())
		a, err := Translate(ctx, s, set, Usual)
		cancel()
		require.NoError(t, err)
		require.Empty(t, a.Undecided, "seed %d", seed)
		t.Run(fmt.Sprint(seed, " ", can), func(t *testing.T) { holds(t, s, set, a) })
		if a.Same {
			same++
		} else {
			differ++
		}
		if a.Same && a.Fewest {
			fewest++
		}
	}
	t.Log(same, "same,", fewest, "of them with the fewest,", differ, "not")
	require.Greater(t, same, 25)
	require.Greater(t, fewest, 20)
	require.Positive(t, differ)
}

// TestWhatGoesWrongAsItStands: of rules that a set runs in another way than they are meant, it is said
// what the recipe would do that most would key in, block by block; where nothing goes wrong, nothing is
// said. By hand.
func TestWhatGoesWrongAsItStands(t *testing.T) {
	const plain = "order: by_place, set_on: level, negated: true, remembers: false"
	for _, c := range []struct {
		name, can, logic string
		lines            []string
	}{
		{"the side that it should", plain + ", both_true: set, thrown_at_power_on: nothing",
			"{id: r, label: Horn, block: sr, set: key.press, reset: mode.a}", nil},
		{"the other side wins", plain + ", both_true: reset, thrown_at_power_on: nothing",
			"{id: r, label: Horn, block: sr, set: key.press, reset: mode.a}",
			[]string{"Press Button 1.", "Then “Horn” is off and should be on."}},
		{"and the other way", plain + ", both_true: set, thrown_at_power_on: nothing",
			"{id: r, label: Horn, block: rs, set: key.press, reset: mode.a}",
			[]string{"Press Button 1.", "Then “Horn” is on and should be off."}},
		{"what is thrown counts as a rise", plain + ", blocks: [and, or, r_trig], both_true: set, " +
			"thrown_at_power_on: fires", "{id: r, label: Chime, block: r_trig, in: lock.shut}",
			[]string{"Before power-on: Switch 2 at shut.", "At power-on “Chime” is on and should be off."}},
		{"and does not where it is a button", plain + ", blocks: [and, or, r_trig], both_true: set, " +
			"thrown_at_power_on: fires", "{id: r, label: Chime, block: r_trig, in: key.press}", nil},
		{"it wakes off", plain + ", both_true: set, thrown_at_power_on: nothing",
			"{id: r, label: Horn, block: sr, set: key.press, reset: lock.shut, start: true}",
			[]string{"At power-on “Horn” is off and should be on."}},
		{"a toggle that fires", plain + ", blocks: [and, or, toggle], both_true: set, thrown_at_power_on: fires",
			"{id: r, label: Lamp, block: toggle, in: lock.shut}",
			[]string{"Before power-on: Switch 2 at shut.", "At power-on “Lamp” is on and should be off."}},
	} {
		s := read(t, c.can, "mixes: [{to: out, from: r}]\nlogic: ["+c.logic+"]")
		a, err := Translate(context.Background(), s, SetOf(s, -1), Usual)
		require.NoError(t, err)
		require.True(t, a.Same, c.name)
		told := a.Tell(s)
		require.NotNil(t, told.Plain)
		require.Equal(t, append([]string{}, c.lines...), told.Plain, c.name)
		require.Equal(t, c.lines != nil, a.Plain != nil, c.name)
	}
}
