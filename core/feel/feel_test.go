package feel_test

import (
	"fmt"
	"math"
	"testing"

	"github.com/stretchr/testify/require"
	"pgregory.net/rapid"

	"axtren/core/feel"
	"axtren/core/setup"
	"axtren/core/signal"
	"axtren/demo"
)

const tracks = `format: axtren-setup
version: 1
transmitter:
  controls:
    - {id: drive, kind: axis, label: Stick, stick: right, along: y, plus: forward, minus: back}
    - {id: turn, kind: axis, label: Turn, stick: right, along: x, plus: right, minus: left}
    - {id: key, kind: switch, label: Key, positions: [slow, half, full]}
    - {id: dial, kind: axis, label: Dial, spring: none}
  %s
outputs: [{id: left, label: Left, channel: 1}, {id: right, label: Right, channel: 2, reverse: true}, {id: lamp, label: Lamp, channel: 3}]
mixes:
  - {to: left, from: drive}
  - {to: left, from: turn, gain: 80}
  - {to: right, from: drive}
  - {to: right, from: turn, gain: -80}
  - {to: lamp, from: key}
receivers: [{id: rx, pins: [{pin: 1, channel: 1}, {pin: 2, channel: 2}, {pin: 3, channel: 3}]}]
devices: [{id: a, on: rx.1, kind: esc, dead_us: 0}, {id: b, on: rx.2, kind: esc, dead_us: 0}, {id: c, on: rx.3, kind: lamp}]
`

func read(t require.TestingT, can string) *setup.Document {
	doc, err := setup.ReadYAML(fmt.Appendf(nil, tracks, can))
	require.NoError(t, err)
	return doc
}

func changed(t require.TestingT, doc *setup.Document, part string, of feel.Change) *setup.Document {
	tree, said, err := feel.Apply(doc, part, of)
	require.NoError(t, err)
	require.NotEmpty(t, said)
	next, err := setup.FromTree(tree)
	require.NoError(t, err)
	return next
}

// asked plays hands for half a second, and gives what an output is asked for.
func asked(t require.TestingT, doc *setup.Document, output string, held map[string]float64) float64 {
	p, err := signal.Compile(doc.Setup)
	require.NoError(t, err)
	st, hands := p.PowerOn(), p.Rest()
	p.Step(st, hands)
	for id, v := range held {
		at, ok := p.Hand(id)
		require.True(t, ok, id)
		hands[at] = v
	}
	for range 25 {
		p.Step(st, hands)
	}
	return st.At(p.Routes[doc.Setup.Item(setup.ID(output)).Index].Target)
}

// TestAFeelIsOfThePair: what is driven together gets the feel together, and does what it did before.
func TestAFeelIsOfThePair(t *testing.T) {
	doc := read(t, "")
	p, err := signal.Compile(doc.Setup)
	require.NoError(t, err)
	of := feel.Of(p, 0)
	require.Len(t, of.Hands, 2)
	require.Equal(t, []string{"drive", "turn"}, []string{of.Hands[0].Control, of.Hands[1].Control})
	require.Empty(t, of.Hands[0].Part)
	require.Equal(t, []string{"gain +80"}, of.Hands[1].Says)

	now := changed(t, doc, "outputs/left", feel.Change{What: feel.Shape, Control: "drive"})
	require.Len(t, now.Setup.Demands, 1)
	for i, from := range []string{"drive_feel", "turn", "drive_feel", "turn", "key"} {
		require.Equal(t, from, now.Setup.Mixes[i].From.Ref)
	}
	for _, x := range []float64{-100, -30, 0, 55, 100} {
		for _, output := range []string{"left", "right"} {
			hands := map[string]float64{"drive": x, "turn": 20}
			require.InDelta(t, asked(t, doc, output, hands), asked(t, now, output, hands), 1e-9)
		}
	}
	again := changed(t, now, "outputs/right", feel.Change{What: feel.Shape, Control: "drive"})
	require.Equal(t, now.Setup.Demands, again.Setup.Demands, "there is one already")
	p, err = signal.Compile(now.Setup)
	require.NoError(t, err)
	require.Equal(t, "Right", feel.Of(p, 0).Hands[0].Also)
}

// TestRates: by a switch and by a zone of another lever; the newest goes before the older ones, and a zone
// lets go again two points further back.
func TestRates(t *testing.T) {
	doc := changed(t, read(t, ""), "outputs/left", feel.Change{What: feel.Rate, Control: "drive", Rate: 40,
		When: "key.slow"})
	doc = changed(t, doc, "outputs/left", feel.Change{What: feel.Rate, Control: "drive", Rate: 70, When: "dial",
		From: 20, To: 60})
	at := func(key, dial float64) float64 {
		return asked(t, doc, "left", map[string]float64{"drive": 100, "key": key, "dial": dial})
	}
	require.Equal(t, []float64{40, 100, 70, 70, 100, 100}, []float64{at(0, 0), at(2, 0), at(0, 40), at(2, 60),
		at(2, 61), at(2, 19)})
	require.Equal(t, -40.0, asked(t, doc, "right", map[string]float64{"drive": 100}), "both tracks alike")
	require.Equal(t, setup.ID("dial_zone"), doc.Setup.Logic[0].ID)
	require.Equal(t, "Dial between +20 and +60", doc.Setup.Logic[0].Label)
	p, err := signal.Compile(doc.Setup)
	require.NoError(t, err)
	require.Equal(t, []string{"rate 100, 70 while Dial between +20 and +60 is on, 40 while Key at slow"},
		feel.Of(p, 0).Hands[0].Says)
	for zone, block := range map[[2]float64]string{{-100, 10}: "below", {10, 100}: "above"} {
		one := changed(t, read(t, ""), "outputs/left", feel.Change{What: feel.Rate, Control: "drive", Rate: 50,
			When: "dial", From: zone[0], To: zone[1]})
		require.Equal(t, block, one.Setup.Logic[0].Block)
	}
}

// TestThreePositionsOnOffOff: three points make on, off, off of three positions (common practice, no source).
func TestThreePositionsOnOffOff(t *testing.T) {
	doc := changed(t, read(t, ""), "outputs/lamp", feel.Change{What: feel.Steps, Control: "key",
		Values: []float64{100, -100, -100}})
	require.Equal(t, []setup.Point{{-100, 100}, {0, -100}, {100, -100}}, doc.Setup.Demands[0].Curve)
	for position, want := range []float64{100, -100, -100} {
		require.Equal(t, want, asked(t, doc, "lamp", map[string]float64{"key": float64(position)}))
	}
	p, err := signal.Compile(doc.Setup)
	require.NoError(t, err)
	require.Equal(t, []feel.Position{{Name: "slow", Value: 100}, {Name: "half", Value: -100}, {Name: "full",
		Value: -100}}, feel.Of(p, 2).Hands[0].Positions)
}

// TestACurveIsDrawn: written, read again, rounded, and taken away; the rest of the feel stays.
func TestACurveIsDrawn(t *testing.T) {
	points := []setup.Point{{-100, -100}, {0, 10}, {100, 80}}
	doc := changed(t, read(t, ""), "outputs/left", feel.Change{What: feel.Draw, Control: "drive", Points: points,
		Smooth: true})
	p, err := signal.Compile(doc.Setup)
	require.NoError(t, err)
	c := feel.Of(p, 0).Hands[0].Curve
	require.Equal(t, points, c.Points)
	require.True(t, c.Smooth)
	require.True(t, c.Bare)
	require.Len(t, c.Line, 101)
	for _, at := range c.Line {
		require.InDelta(t, asked(t, doc, "left", map[string]float64{"drive": at[0]}), at[1], 0.01)
	}
	doc = changed(t, doc, "outputs/left", feel.Change{What: feel.Draw, Control: "drive"})
	require.Nil(t, doc.Setup.Demands[0].Curve)
	require.False(t, doc.Setup.Demands[0].Smooth)
}

// TestCapsAgainstTheEngine: whatever the tracks have already, each way brings the stick's end to its share
// of what it was, to the side that was asked for and to no other; the middle is finer by the rate and by
// the end, and as it was by the curve.
func TestCapsAgainstTheEngine(t *testing.T) {
	rapid.Check(t, func(rt *rapid.T) {
		doc := read(rt, "")
		if rapid.Bool().Draw(rt, "a curve before") {
			y := float64(rapid.IntRange(-40, 40).Draw(rt, "y"))
			doc = changed(rt, doc, "outputs/left", feel.Change{What: feel.Draw, Control: "drive",
				Points: []setup.Point{{-100, -90}, {0, 0}, {50, max(y, 5)}, {100, 95}}})
		}
		most := float64(rapid.IntRange(20, 90).Draw(rt, "most"))
		side := rapid.SampledFrom([]string{feel.BothWays, feel.Plus, feel.Minus}).Draw(rt, "side")
		for _, way := range []string{feel.ByRate, feel.ByEnd, feel.ByCurve} {
			now := changed(rt, doc, "outputs/left", feel.Change{What: feel.Cap, Control: "drive", Way: way, Side: side,
				Most: most})
			for _, output := range []string{"left", "right"} {
				for x, key := range map[float64]string{100: feel.Plus, -100: feel.Minus} {
					before := asked(rt, doc, output, map[string]float64{"drive": x})
					after := asked(rt, now, output, map[string]float64{"drive": x})
					if side == key || side == feel.BothWays {
						require.InDelta(rt, before*most/100, after, 0.15, "%s, %s, %s", way, output, key)
					} else {
						require.InDelta(rt, before, after, 1e-9, "%s, %s, %s: the other side stays", way, output, key)
					}
				}
				before := asked(rt, doc, output, map[string]float64{"drive": 10})
				after := asked(rt, now, output, map[string]float64{"drive": 10})
				switch {
				case way == feel.ByCurve:
					require.InDelta(rt, before, after, 0.15, "the middle as it was")
				case side != feel.Minus:
					require.InDelta(rt, before*most/100, after, 0.15)
				}
			}
			require.Equal(rt, asked(rt, doc, "lamp", nil), asked(rt, now, "lamp", nil))
			twice := changed(rt, now, "outputs/right", feel.Change{What: feel.Cap, Control: "drive", Way: way,
				Side: feel.Minus, Most: 50})
			for _, output := range []string{"left", "right"} {
				back := map[string]float64{"drive": -100}
				require.InDelta(rt, asked(rt, now, output, back)/2, asked(rt, twice, output, back), 0.15,
					"still both tracks")
			}
		}
	})
}

// TestThreeAnswersToACap: forward capped at 60 with reverse full, as common practice has it; worked by hand.
func TestThreeAnswersToACap(t *testing.T) {
	doc := read(t, "can: {curve_points: [3]}")
	of, err := feel.Caps(doc, 0, "drive", feel.Plus, 60)
	require.NoError(t, err)
	require.Equal(t, []string{"Left", "Right"}, of.Moves)
	require.Equal(t, []feel.Side{{Key: "both", Label: "both ways"}, {Key: "plus", Label: "towards forward"},
		{Key: "minus", Label: "towards back"}}, of.Sides)
	type answer struct{ way, half, useless, mix, gets, note string }
	var list []answer
	for _, way := range of.Ways {
		f := way.Figures
		require.Len(t, f, 4)
		require.Equal(t, "Right stick held all the way towards forward and "+
			"Right stick held all the way towards right", f[2].Title)
		list = append(list, answer{way.Way, f[0].Says, f[1].Says, f[2].Says, f[3].Says, f[3].Note})
		require.Equal(t, setup.Point{-100, -100}, way.Line[0])
		require.Equal(t, setup.Point{100, 60}, way.Line[100])
	}
	const others = "As before: other hands still bring it there, and so taught again it learns the same."
	const gone = "Do not teach it again afterwards: it would take this for full, and the cap is gone."
	require.Equal(t, []answer{
		{"rate", "+30 %", "nothing", "Left +100 % and Right +20 %", "1000 to 2000 µs", others},
		{"end", "+30 %", "nothing", "Left +60 % and Right −12 %", "1000 to 1800 µs", gone},
		{"curve", "+50 %", "the last 40 % towards forward", "Left +100 % and Right +20 %",
			"1000 to 2000 µs", others},
	}, list)
	require.Equal(t, "It takes a curve through 4 points, and this transmitter has none with so many.",
		of.Ways[2].Cannot)
	require.Empty(t, of.Ways[0].Cannot)
}

// TestWhatCannotBeShaped: each refusal names place, value and remedy, and writes nothing.
func TestWhatCannotBeShaped(t *testing.T) {
	doc := read(t, "")
	for name, c := range map[string]struct {
		part string
		of   feel.Change
	}{
		"feel.control": {"outputs/left", feel.Change{What: feel.Shape, Control: "key"}},
		"feel.what":    {"outputs/left", feel.Change{What: "polish", Control: "drive"}},
		"part":         {"outputs/nobody", feel.Change{What: feel.Shape, Control: "drive"}},
		"feel.when": {"outputs/left", feel.Change{What: feel.Rate, Control: "drive", Rate: 50,
			When: "nobody.up"}},
		"feel.from": {"outputs/left", feel.Change{What: feel.Rate, Control: "drive", Rate: 50,
			When: "dial", From: 30}},
		"feel.values": {"outputs/lamp", feel.Change{What: feel.Steps, Control: "key", Values: []float64{1}}},
		"feel.most":   {"outputs/left", feel.Change{What: feel.Cap, Control: "drive", Way: "rate", Side: "both"}},
		"feel.side":   {"outputs/left", feel.Change{What: feel.Cap, Control: "drive", Way: "rate", Most: 50}},
		"feel.way":    {"outputs/left", feel.Change{What: feel.Cap, Control: "drive", Side: "both", Most: 50}},
		"demands[0].ra": {"outputs/left", feel.Change{What: feel.Rate, Control: "drive", Rate: 170,
			When: "key.slow"}},
		"demands[0].cu": {"outputs/left", feel.Change{What: feel.Draw, Control: "drive",
			Points: []setup.Point{{0, 0},
				{0, 1}}}},
	} {
		_, _, err := feel.Apply(doc, c.part, c.of)
		require.ErrorContains(t, err, name)
	}
}

// TestTheFeelOfTheDemo: every hand of every function of the demo is read, and can be given a feel that
// changes nothing.
func TestTheFeelOfTheDemo(t *testing.T) {
	yard, err := demo.Yard()
	require.NoError(t, err)
	hands := 0
	for _, m := range yard {
		p, err := signal.Compile(m.Doc.Setup)
		require.NoError(t, err)
		for i := range m.Doc.Setup.Outputs {
			of := feel.Of(p, i)
			for _, hand := range of.Hands {
				hands++
				now := changed(t, m.Doc, "outputs/"+of.Output, feel.Change{What: feel.Shape, Control: hand.Control})
				control := m.Doc.Setup.Item(setup.ID(hand.Control))
				for _, x := range []float64{0, 1} {
					if m.Doc.Setup.Transmitter.Controls[control.Index].Axis != nil {
						x = x*140 - 70
					}
					held := map[string]float64{hand.Control: x}
					require.InDelta(t, asked(t, m.Doc, of.Output, held), asked(t, now, of.Output, held), 1e-9)
				}
				for _, side := range []string{feel.BothWays, feel.Plus} {
					if m.Doc.Setup.Transmitter.Controls[control.Index].Axis == nil {
						continue
					}
					caps, err := feel.Caps(m.Doc, i, hand.Control, side, 60)
					require.NoError(t, err)
					require.NotRegexp(t, `[a-z]_[a-z]|NaN|Inf`, fmt.Sprint(caps.Label, caps.Moves, caps.Sides))
					for _, way := range caps.Ways {
						require.Len(t, way.Line, 101)
						require.False(t, math.IsNaN(way.Line[100][1]))
						require.NotRegexp(t, `[a-z]_[a-z]|NaN|Inf`, fmt.Sprint(way.Figures, way.Cannot))
					}
				}
			}
		}
	}
	require.Greater(t, hands, 25)
}
