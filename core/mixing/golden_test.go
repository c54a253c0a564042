package mixing_test

import (
	"fmt"
	"strings"
	"testing"

	"github.com/stretchr/testify/require"

	"axtren/core/mixing"
	"axtren/core/setup"
	"axtren/core/signal"
	"axtren/demo"
	"axtren/internal/golden"
)

// TestWholePairs: the pairs of a model with their ways, sources and recipes, what each
// is asked for over the square, and the ways that it takes.
func TestWholePairs(t *testing.T) {
	docs := map[string]*setup.Document{}
	for _, m := range golden.Models(t) {
		docs[m.Name] = m.Doc
	}
	yard, err := demo.Yard()
	require.NoError(t, err)
	for _, m := range yard {
		docs[strings.ToLower(m.Doc.Setup.Name)] = m.Doc
	}
	for name, doc := range docs {
		p, err := signal.Compile(doc.Setup)
		require.NoError(t, err)
		st := p.PowerOn()
		p.Step(st, p.Rest())
		var b strings.Builder
		b.WriteString(golden.Text(t, mixing.Sources(doc.Setup)))
		for _, pair := range mixing.Find(doc.Setup) {
			b.WriteString(golden.Text(t, pair))
			for _, f := range mixing.Fields(p, st, &pair) {
				fmt.Fprintf(&b, "%s:\n", f.Rule)
				for row := 0; row < mixing.Side; row += 20 {
					for col := 0; col < mixing.Side; col += 20 {
						k := row*mixing.Side + col
						fmt.Fprintf(&b, " %4d %4d %d |", int(f.First[k])-100, int(f.Second[k])-100, f.Cut[k])
					}
					b.WriteString("\n")
				}
				for i, at := range mixing.Paths(&f, pair.Kind) {
					if i%7 == 0 {
						fmt.Fprintf(&b, "  %+v\n", at)
					}
				}
			}
		}
		golden.Equal(t, name, b.String())
	}
}

// TestWholeWritings: the mixes that each way makes of a pair, and what is said of it.
func TestWholeWritings(t *testing.T) {
	for _, m := range golden.Models(t) {
		var b strings.Builder
		for _, pair := range mixing.Find(m.Doc.Setup) {
			for _, way := range []string{mixing.OneStick, mixing.Levers, mixing.Both} {
				for _, rule := range []string{"", "scale"} {
					c := mixing.Choice{Way: way, Drive: "ahead", Turn: "side", Left: "lift", Right: "dial",
						DriveGain: 90, TurnGain: 60, LeverGain: 80, DriveSoft: 15, Rule: rule}
					if m.Name == "wrong" {
						c.Drive, c.Turn, c.Left, c.Right = "a", "trimmed", "k", "b"
					}
					fmt.Fprintf(&b, "%s and %s, %s, %q\n%s", pair.First, pair.Second, way, rule,
						written(t, m.Doc, pair.First, pair.Second, c))
				}
			}
		}
		golden.Equal(t, m.Name+"_written", b.String())
	}
}

// written says what a choice makes of a pair.
func written(t *testing.T, of *setup.Document, first, second string, c mixing.Choice) string {
	tree, err := mixing.Write(of, first, second, c)
	if err != nil {
		return fmt.Sprintf("  %v\n", err)
	}
	doc, err := setup.FromTree(tree)
	require.NoError(t, err)
	var b strings.Builder
	for _, mix := range doc.Setup.Mixes {
		if string(mix.To) == first || string(mix.To) == second {
			id := "no id"
			if mix.ID != nil {
				id = string(*mix.ID)
			}
			fmt.Fprintf(&b, "  %s: %s from %s gain %v %s\n", id, mix.To, mix.From, mix.Gain, mix.Combine)
		}
	}
	for _, d := range doc.Setup.Demands {
		fmt.Fprintf(&b, "  feel %s %q from %s expo %v\n", d.ID, d.Label, d.From, d.Expo)
	}
	for _, sh := range doc.Setup.Shares {
		fmt.Fprintf(&b, "  share %v %s\n", sh.Outputs, sh.Rule)
	}
	for _, again := range mixing.Find(doc.Setup) {
		if again.First == first && again.Second == second {
			fmt.Fprintf(&b, "  %s %s\n", again.Choice.Way, again.Words)
		}
	}
	return b.String()
}

const pairSet = `
transmitter: {controls: [{id: a, kind: axis, stick: right, along: y},
    {id: b, kind: axis, stick: right, along: x}, {id: c, kind: axis, stick: left, along: y},
    {id: d, kind: axis, stick: left, along: x}, {id: k, kind: axis, spring: none}, {id: s, kind: switch,
    positions: [up, down]}]}
outputs: [{id: x, channel: 1}, {id: y, channel: 2, reverse: true}, {id: z, channel: 3}]
receivers: [{id: r, pins: [{pin: 1, channel: 1}, {pin: 2, channel: 2}, {pin: 3, channel: 3},
    {pin: 4, channel: 9}]}]
devices: [{id: dx, on: r.1, kind: esc}, {id: dy, on: r.2, kind: esc}, {id: dz, on: r.3, kind: esc},
    {id: d9, on: r.4, kind: esc}]
demands: [{id: soft, from: a, expo: 30}, {id: softer, from: soft, expo: 10}, {id: turned, from: b, expo: -20}]
`

const stick = "{to: x, from: a}, {to: x, from: b, gain: 80}, {to: y, from: a}, {to: y, from: b, gain: -80}"

// pairs are ways in which two lines can belong together, or not.
var pairs = []struct{ name, mixes, more string }{
	{"one stick", stick, ""},
	{"one stick, the other way round",
		"{to: x, from: b, gain: -80}, {to: x, from: a}, {to: y, from: a}, {to: y, from: b, gain: 80}", ""},
	{"one stick by feels",
		"{to: x, from: softer}, {to: x, from: turned, gain: 60}, {to: y, from: softer}, {to: y, from: " +
			"turned, gain: -60}", ""},
	{"no turn", "{to: x, from: a}, {to: x, from: b, gain: 0}, {to: y, from: a}, {to: y, from: b, gain: 0}",
		""},
	{"two that turn",
		"{to: x, from: a, gain: 50}, {to: x, from: b, gain: 50}, {to: y, from: a, gain: -50}, {to: y, " +
			"from: b, gain: -50}", ""},
	{"both", stick + ", {to: x, from: c, gain: 70}, {to: y, from: d, gain: 70}", ""},
	{"levers that differ", stick + ", {to: x, from: c, gain: 70}, {to: y, from: d, gain: 60}", ""},
	{"a lever on one side", stick + ", {to: x, from: c}", "shares: [{id: sh, outputs: [x, y], rule: scale}]"},
	{"levers", "{to: x, from: c, gain: 90}, {to: y, from: a, gain: 90}",
		"shares: [{id: sh, outputs: [y, x], rule: clip}]"},
	{"one of them does more",
		"{to: x, from: a}, {to: x, from: b}, {to: y, from: a}, {to: y, from: b, gain: -100, when: s.up}",
		"shares: [{id: sh, outputs: [x, y], rule: keep_turn}]"},
	{"the same twice", "{to: x, from: a}, {to: x, from: a}, {to: y, from: a}",
		"shares: [{id: sh, outputs: [x, y], rule: clip}]"},
	{"three that share", stick, "shares: [{id: sh, outputs: [x, y, z], rule: clip}]"},
	{"one shares with another", stick, "shares: [{id: sh, outputs: [y, z], rule: scale}]"},
	{"fed by what shares",
		"{to: x, from: a}, {to: x, from: z.asked, gain: 40}, {to: y, from: a}, {to: y, from: z.asked, " +
			"gain: -40}, {to: z, from: b, gain: 150}", "shares: [{id: sh, outputs: [z], rule: clip}]"},
	{"tracks on the stage", "{to: x, from: a}",
		"stage: {parts: [{part: track, device: dx, at_mm: [0, 100]}, {part: track, device: dy, at_mm: [0, " +
			"-100]}, {part: hull, at_mm: [0, 0]}]}"},
	{"screws on the stage", stick,
		"stage: {parts: [{part: screw, device: dx, at_mm: [0, -100]}, {part: screw, device: dy, at_mm: [0, " +
			"100]}]}"},
	{"three screws", "{to: z, from: c}",
		"stage: {parts: [{part: screw, device: dx, at_mm: [0, -100]}, {part: screw, device: dy, at_mm: [0, " +
			"100]}, {part: screw, device: dz, at_mm: [0, 0]}]}"},
	{"a track that nothing drives", "{to: x, from: a}",
		"stage: {parts: [{part: track, device: dx, at_mm: [0, 100]}, {part: track, device: d9, at_mm: [0, " +
			"-100]}]}"},
	{"axles", "{to: x, from: b}, {to: y, from: b, gain: -60}", axleStage},
	{"axles together", "{to: x, from: b}, {to: y, from: b, gain: 60}", axleStage},
	{"axles apart", "{to: x, from: b}, {to: y, from: d}", axleStage},
	{"axles and a lever", "{to: x, from: b}, {to: y, from: b, gain: -60}, {to: y, from: d, gain: 40}",
		axleStage},
	{"axles, weak in front", "{to: x, from: b, gain: 90}, {to: y, from: b, gain: -60}", axleStage},
	{"axles, only one moved", "{to: x, from: b}", axleStage},
	{"axles by two sticks", stick, axleStage},
	{"nothing at all", "", axleStage},
}

const axleStage = "stage: {parts: [{part: axle, device: dy, at_mm: [-100, 0]}, {part: axle, device: dx, " +
	"at_mm: [100, 0]}]}"

// TestWholeKindsOfPair: what is known again of each, and what each way makes of it.
func TestWholeKindsOfPair(t *testing.T) {
	var b strings.Builder
	for _, one := range pairs {
		doc, err := setup.ReadYAML([]byte("format: axtren-setup\nversion: 1\n" + pairSet + "mixes: [" +
			one.mixes + "]\n" + one.more))
		require.NoError(t, err, one.name)
		p, err := signal.Compile(doc.Setup)
		require.NoError(t, err, one.name)
		st := p.PowerOn()
		p.Step(st, p.Rest())
		found := mixing.Find(doc.Setup)
		fmt.Fprintf(&b, "%s: %d\n%s", one.name, len(found), golden.Text(t, found))
		for _, pair := range found {
			for _, f := range mixing.Fields(p, st, &pair) {
				k := 20*mixing.Side + 20
				fmt.Fprintf(&b, "  %s at a corner: %d %d %d\n", f.Rule, int(f.First[k])-100,
					int(f.Second[k])-100, f.Cut[k])
			}
			for _, way := range []string{mixing.OneStick, mixing.Levers, mixing.Both} {
				c := pair.Choice
				c.Way, c.Left, c.Right = way, "c", "k"
				fmt.Fprintf(&b, "%s, %s\n%s", one.name, way, written(t, doc, pair.First, pair.Second, c))
			}
		}
	}
	golden.Equal(t, "pairs", b.String())
}

// TestTheEdgesOfAChoice: what is just allowed, and what just not.
func TestTheEdgesOfAChoice(t *testing.T) {
	long := strings.Repeat("l", 26)
	doc, err := setup.ReadYAML([]byte("format: axtren-setup\nversion: 1\n" +
		strings.ReplaceAll(strings.SplitN(pairSet, "demands:", 2)[0], "id: z", "id: "+long)))
	require.NoError(t, err)
	ok := mixing.Choice{Way: mixing.OneStick, Drive: "a", Turn: "b", Left: "c", Right: "d", DriveGain: 100,
		TurnGain: 300, LeverGain: 50}
	var b strings.Builder
	for _, change := range []func(c *mixing.Choice){
		func(c *mixing.Choice) {}, func(c *mixing.Choice) { c.TurnGain = -300 }, func(
			c *mixing.Choice) {
			c.TurnGain = 300.5
		},
		func(c *mixing.Choice) {
			c.DriveSoft, c.TurnSoft = 100,
				-100
		}, func(c *mixing.Choice) { c.DriveSoft = 100.5 }, func(c *mixing.Choice) { c.TurnSoft = -100.5 },
		func(c *mixing.Choice) { c.Way, c.TurnSoft = mixing.Levers, 40 }, func(c *mixing.Choice) {
			c.Way,
				c.LeverGain = mixing.Levers, -301
		},
		func(c *mixing.Choice) {
			c.Way, c.Rule = mixing.Levers,
				"scale"
		}, func(c *mixing.Choice) { c.Way = "none" },
	} {
		c := ok
		change(&c)
		fmt.Fprintf(&b, "%+v\n%s", c, written(t, doc, "x", "y", c))
	}
	golden.Equal(t, "edges", b.String()+written(t, doc, "x", long, ok))
	for _, two := range [][2]string{{"x", "x"}, {"x", "a"}, {"a", "x"}, {"x", "nobody"}, {"dx", "dy"}} {
		require.Contains(t, written(t, doc, two[0], two[1], ok), "are no two functions", two)
	}
}
