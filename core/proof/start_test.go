package proof

import (
	"context"
	"fmt"
	"math/rand/v2"
	"slices"
	"strings"
	"testing"
	"time"

	"github.com/stretchr/testify/require"

	"axtren/core/setup"
	"axtren/core/signal"
)

// started is a model with three switches, two levers and what is claimed of its start.
func started(mixes, claims string) string {
	return `
format: axtren-setup
version: 1
transmitter:
  controls:
    - {id: key, kind: switch, positions: ["off", "on"]}
    - {id: mode, kind: switch, positions: [low, mid, high], start: mid}
    - {id: lock, kind: switch, positions: [safe, free]}
    - {id: gas, kind: axis, spring: none, start: -100}
    - {id: lever, kind: axis, spring: none}
    - {id: stick, kind: axis, spring: centre}
logic:
  - {id: armed, block: and, in: [lock.free, mode.high]}
mixes:
` + mixes + `
outputs:
  - {id: motor, channel: 1}
  - {id: pump, channel: 2}
receivers: [{id: rx, pins: [{pin: 1, channel: 1}, {pin: 2, channel: 2}]}]
claims:
` + claims
}

func leastStart(t *testing.T, text string) Start {
	t.Helper()
	doc, err := setup.ReadYAML([]byte(text))
	require.NoError(t, err)
	return LeastStart(context.Background(), doc.Setup, Budget{Bytes: 64 << 20})
}

func entriesOf(found Start) string {
	var list []string
	for _, e := range found.Entries {
		list = append(list, string(e.Control)+" "+wordsOf(&e))
	}
	return strings.Join(list, ", ")
}

const motorRests = "  - {id: rests, at_start: {output: motor, value: 0, within: 2}}\n"

// TestLeastStartByHand: what each of these waits for was worked out by hand.
func TestLeastStartByHand(t *testing.T) {
	for _, c := range []struct {
		name, mixes, claims, want string
		impossible                bool
	}{
		{name: "nothing is claimed", mixes: "  - {to: motor, from: gas}\n",
			claims: "  - {id: never, never: [key.on]}\n"},
		{name: "a sprung stick is at rest", mixes: "  - {to: motor, from: stick}\n", claims: motorRests},
		{name: "a switch", mixes: "  - {to: motor, from: 50, when: key.on}\n", claims: motorRests, want: "key off"},
		{name: "a lever, give or take 2", mixes: "  - {to: motor, from: lever}\n", claims: motorRests,
			want: "lever -2..2"},
		{name: "a lever counts half", mixes: "  - {to: motor, from: lever, gain: 50}\n", claims: motorRests,
			want: "lever -4..4"},
		{name: "not where it begins", mixes: "  - {to: motor, from: gas}\n",
			claims: "  - {id: idles, at_start: {output: motor, value: -100, within: 0.5}}\n", want: "gas -100..-99.5"},
		{name: "away from where it begins", mixes: "  - {to: motor, from: gas}\n", claims: motorRests,
			want: "gas -2..2"},
		{name: "one of two is enough, the first", mixes: "  - {to: motor, from: 50, when: armed}\n",
			claims: motorRests, want: "mode mid"},
		{name: "one for two claims", mixes: "  - {to: motor, from: 50, when: armed}\n" +
			"  - {to: pump, from: 80, when: lock.free}\n",
			claims: motorRests + "  - {id: dry, at_start: {output: pump, value: 0}}\n", want: "lock safe"},
		{name: "a switch rather than two levers",
			mixes:  "  - {to: motor, from: lever, when: key.on}\n" + "  - {to: motor, from: gas, when: key.on}\n",
			claims: motorRests, want: "key off"},
		{name: "two levers that are added",
			mixes:  "  - {to: motor, from: lever}\n  - {to: motor, from: gas, bias: 100}\n",
			claims: motorRests, want: "gas -100..-99, lever -1..1"},
		{name: "none can", mixes: "  - {to: motor, from: 50}\n  - {to: motor, from: 5, when: key.on}\n",
			claims: motorRests, impossible: true},
		{name: "two claims against each other", mixes: "  - {to: motor, from: 50, when: key.on}\n" +
			"  - {to: pump, from: 50, when: not key.on}\n",
			claims: motorRests + "  - {id: dry, at_start: {output: pump, value: 0}}\n", impossible: true},
		{name: "where two spans meet", mixes: "  - {to: motor, from: lever}\n  - {to: pump, from: lever}\n",
			claims: "  - {id: a, at_start: {output: motor, value: 10, within: 5}}\n" +
				"  - {id: b, at_start: {output: pump, value: 20, within: 6}}\n", want: "lever 14..15"},
	} {
		found := leastStart(t, started(c.mixes, c.claims))
		require.Equal(t, c.want, entriesOf(found), c.name)
		require.Equal(t, !c.impossible, found.Possible, c.name)
		require.Empty(t, found.Why, c.name)
		require.True(t, found.Fewest || c.name == "two levers that are added", c.name)
		require.NotNil(t, found.Entries, c.name)
	}
}

// TestStartWithAKeptLatch: a latch that wakes as it was left has to be kept from being left on; the sprung
// button that sets it can be held as the transmitter wakes again.
func TestStartWithAKeptLatch(t *testing.T) {
	require.Equal(t, "button off, lock safe", entriesOf(leastStart(t, kept)), "set wins: it must not be held")
	require.Equal(t, "lock safe", entriesOf(leastStart(t, strings.Replace(kept, "block: sr", "block: rs", 1))))
}

const kept = `
format: axtren-setup
version: 1
transmitter:
  controls:
    - {id: button, kind: switch, positions: ["off", press], spring_to: "off"}
    - {id: lock, kind: switch, positions: [safe, free]}
logic:
  - {id: on, block: sr, set: button.press, reset: lock.safe, start: kept}
mixes:
  - {to: motor, from: 50, when: on}
outputs:
  - {id: motor, channel: 1}
claims:
  - {id: rests, at_start: {output: motor, value: 0, within: 2}}
`

// TestStartReplacesTheEntries: those that there are do not count.
func TestStartReplacesTheEntries(t *testing.T) {
	text := started("  - {to: motor, from: lever}\n", motorRests+
		"start_check: [{control: key, is: \"off\"}, {control: lever, is: {from: -1, to: 1}}]\n")
	require.Equal(t, "lever -2..2", entriesOf(leastStart(t, text)))
}

// TestStartIsStopped: what was not searched is not said.
func TestStartIsStopped(t *testing.T) {
	doc, err := setup.ReadYAML([]byte(kept))
	require.NoError(t, err)
	ctx, cancel := context.WithCancel(context.Background())
	cancel()
	found := LeastStart(ctx, doc.Setup, Budget{Bytes: 1 << 20, Steps: 1})
	require.False(t, found.Possible)
	require.NotEmpty(t, found.Why)
	require.False(t, found.Fewest)
}

// safe tells, by playing the first frame of every way in which the controls can have been left, in steps of
// five for a lever, whether all claims hold under some entries.
func safe(t *testing.T, s *setup.Setup, entries []setup.StartEntry) bool {
	t.Helper()
	p, err := signal.Compile(withStart(s, entries))
	require.NoError(t, err)
	var every func(hands signal.Hands, i int) bool
	every = func(hands signal.Hands, i int) bool {
		if i == len(s.Transmitter.Controls) {
			st := p.PowerOn()
			if p.Step(st, hands); !p.Sending(st) {
				return true
			}
			for _, c := range s.Claims {
				at := st.At(p.Routes[s.Item(c.AtStart.Output).Index].P)
				if at < c.AtStart.Value-c.AtStart.Within-1e-9 || at > c.AtStart.Value+c.AtStart.Within+1e-9 {
					return false
				}
			}
			return true
		}
		c := &s.Transmitter.Controls[i]
		var places []float64
		switch {
		case c.Springs():
			places = []float64{hands[i]}
		case c.Switch != nil:
			for at := range c.Switch.Positions {
				places = append(places, float64(at))
			}
		default:
			for at := -100.0; at <= 100; at += 5 {
				places = append(places, at)
			}
		}
		for _, at := range places {
			hands[i] = at
			if !every(hands, i+1) {
				return false
			}
		}
		return true
	}
	return every(p.Rest(), 0)
}

// fewest is the least number of entries that are safe, over all of them; -1: none are.
func fewestEntries(t *testing.T, s *setup.Setup) int {
	t.Helper()
	var options [][]setup.StartEntry
	for i := range s.Transmitter.Controls {
		c := &s.Transmitter.Controls[i]
		if c.Springs() {
			continue
		}
		var own []setup.StartEntry
		if c.Switch != nil {
			for _, name := range c.Switch.Positions {
				own = append(own, setup.StartEntry{Control: c.ID, Is: setup.Is{Position: name}})
			}
		} else {
			for at := -100.0; at <= 100; at += 5 {
				own = append(own, setup.StartEntry{Control: c.ID, Is: setup.Is{From: at, To: at}})
			}
		}
		options = append(options, own)
	}
	best := -1
	var try func(entries []setup.StartEntry, i int)
	try = func(entries []setup.StartEntry, i int) {
		if best >= 0 && len(entries) >= best {
			return
		}
		if safe(t, s, entries) {
			best = len(entries)
			return
		}
		for k := i; k < len(options); k++ {
			for _, e := range options[k] {
				try(append(slices.Clone(entries), e), k+1)
			}
		}
	}
	try(nil, 0)
	return best
}

// TestStartAgainstPlainEnumeration compares the number of entries of random models with what a plain
// enumeration finds: of two switches, and a lever that turns only at whole fives.
func TestStartAgainstPlainEnumeration(t *testing.T) {
	n := 40
	if testing.Short() {
		n = 12
	}
	impossible, many := 0, map[int]int{}
	for seed := range n {
		rnd := rand.New(rand.NewPCG(7, uint64(seed)))
		truths := []string{"key.on", "mode.low", "mode.high", "lock.free", "armed", "not mode.mid", "far",
			"not far"}
		truth := func() string { return truths[rnd.IntN(len(truths))] }
		var mixes, claims strings.Builder
		for range 2 + rnd.IntN(4) {
			to := []string{"motor", "pump"}[rnd.IntN(2)]
			from := []string{"20", "50", "-20", "gas"}[rnd.IntN(4)]
			fmt.Fprintf(&mixes, "  - {to: %s, from: %s, when: %s, combine: %s}\n", to, from, truth(),
				[]string{"add", "instead"}[rnd.IntN(2)])
		}
		for i, output := range []string{"motor", "pump"} {
			fmt.Fprintf(&claims, "  - {id: c%d, at_start: {output: %s, value: %d, within: %d}}\n", i, output,
				[]int{0, 0, 0, 20, 50}[rnd.IntN(5)], rnd.IntN(2)*20)
		}
		text := strings.Replace(started(mixes.String(), claims.String()),
			"    - {id: lever, kind: axis, spring: none}\n",
			"", 1)
		text = strings.Replace(text, "mixes:\n",
			fmt.Sprintf("  - {id: far, block: above, of: gas, level: %d}\nmixes:\n",
				-50+5*rnd.IntN(20)), 1)
		doc, err := setup.ReadYAML([]byte(text))
		require.NoError(t, err, text)
		want := fewestEntries(t, doc.Setup)
		found := leastStart(t, text)
		require.Empty(t, found.Why, text)
		searched := newStarting(context.Background(), doc.Setup, Budget{Bytes: 64 << 20}).searched()
		require.Equal(t, found.Possible, searched.Possible, "following what breaks finds as much: %s", text)
		require.Len(t, searched.Entries, len(found.Entries), text)
		require.True(t, found.Fewest, text)
		if want < 0 {
			require.False(t, found.Possible, text)
			impossible++
			continue
		}
		require.True(t, found.Possible, text)
		require.Len(t, found.Entries, want, text)
		require.True(t, safe(t, doc.Setup, found.Entries), text)
		many[want]++
	}
	if !testing.Short() {
		require.Greater(t, impossible, 3)
		require.Greater(t, many[1], 3)
		require.Greater(t, many[2]+many[3], 3)
	}
}

// TestStartThatCannotBeIsQuick: ten switches that all decide it, and no way of leaving them is right.
func TestStartThatCannotBeIsQuick(t *testing.T) {
	var controls, mixes strings.Builder
	for i := range 10 {
		fmt.Fprintf(&controls, "    - {id: s%d, kind: switch, positions: [a, b]}\n", i)
		fmt.Fprintf(&mixes, "  - {to: motor, from: 5, when: s%d.b}\n", i)
	}
	text := func(value int) string {
		return "format: axtren-setup\nversion: 1\ntransmitter:\n  controls:\n" + controls.String() + "mixes:\n" +
			mixes.String() + "outputs: [{id: motor, channel: 1}]\n" +
			fmt.Sprintf("claims: [{id: rests, at_start: {output: motor, value: %d, within: 2}}]\n", value)
	}
	ctx, cancel := context.WithTimeout(context.Background(), 20*time.Second)
	defer cancel()
	for value, entries := range map[int]int{-10: -1, 60: -1, 0: 10, 25: 10} {
		doc, err := setup.ReadYAML([]byte(text(value)))
		require.NoError(t, err)
		found := LeastStart(ctx, doc.Setup, Budget{Bytes: 64 << 20})
		require.Empty(t, found.Why, value)
		require.True(t, found.Fewest, value)
		require.Equal(t, entries >= 0, found.Possible, value)
		require.Len(t, found.Entries, max(entries, 0), value)
	}
}
