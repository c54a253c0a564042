package kit_test

import (
	_ "embed"
	"encoding/json"
	"fmt"
	"math"
	"math/rand/v2"
	"slices"
	"strconv"
	"strings"
	"testing"

	"github.com/stretchr/testify/require"
	"pgregory.net/rapid"

	"axtren/core/edit"
	"axtren/core/kit"
	"axtren/core/setup"
	"axtren/core/signal"
	"axtren/demo"
	"axtren/internal/golden"
)

//go:embed testdata/beyond.yaml
var beyond string

func read(t require.TestingT, text string) (*setup.Document, *signal.Program) {
	doc, err := setup.ReadYAML([]byte(text))
	require.NoError(t, err)
	p, err := signal.Compile(doc.Setup)
	require.NoError(t, err)
	return doc, p
}

// TestWholeFits: all that is beyond a transmitter, in its order, with the ways around it, what
// they change and what playing shows.
func TestWholeFits(t *testing.T) {
	docs := map[string]*setup.Document{}
	docs["beyond"], _ = read(t, beyond)
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
		var b strings.Builder
		for unfit := range kit.Fit(doc, p) {
			fmt.Fprintf(&b, "%s %s: %s; %s\n", unfit.Rule, unfit.Where, unfit.Says, unfit.Remedy)
			for _, way := range unfit.Ways {
				fmt.Fprintf(&b, "    %s\n", way.Text())
				for _, op := range way.Patch {
					if op.Op != "test" {
						value, _ := json.Marshal(op.Value)
						fmt.Fprintf(&b, "        %s %s %s\n", op.Op, op.Path, value)
					}
				}
			}
		}
		golden.Equal(t, name, b.String())
	}
}

// TestWaysAreWays: whatever a transmitter cannot, each way takes it away, brings nothing
// else, comes back by its inverse, and the nearest comes first.
func TestWaysAreWays(t *testing.T) {
	var docs []*setup.Document
	one, _ := read(t, beyond)
	docs = append(docs, one)
	for _, m := range golden.Models(t) {
		docs = append(docs, m.Doc)
	}
	seen := map[string]int{}
	drawn := rapid.Custom(func(rt *rapid.T) *setup.Document {
		return able(rt, rapid.SampledFrom(docs).Draw(rt, "document"))
	})
	for seed := range drawnSetups(25) {
		doc := drawn.Example(seed)
		p, err := signal.Compile(doc.Setup)
		require.NoError(t, err)
		all := kit.Misfits(doc.Setup)
		i := 0
		for unfit := range kit.Fit(doc, p) {
			require.Equal(t, all[i], unfit.Misfit)
			i++
			require.LessOrEqual(t, len(unfit.Ways), 2)
			for k, way := range unfit.Ways {
				seen[unfit.Rule]++
				after, err := edit.ApplyOps(doc, way.Patch)
				require.NoError(t, err)
				left := kit.Misfits(after.Doc.Setup)
				require.Less(t, len(left), len(all), "%s by %s", unfit.Says, way.Says)
				for _, m := range left {
					part := after.Doc.Setup.PartName(m.Part)
					require.True(t, part == "" || m.Part.Kind == setup.IsMix ||
						slices.ContainsFunc(all, func(old kit.Misfit) bool {
							return old.Rule == m.Rule && doc.Setup.PartName(old.Part) == part
						}), "%s brings %s", way.Says, m.Says)
				}
				back, err := edit.ApplyOps(after.Doc, after.Inverse)
				require.NoError(t, err)
				require.True(t, back.Doc.Tree.Equal(ids(t, doc).Tree))
				require.NotEmpty(t, way.Says)
				require.NotEmpty(t, way.Differs.Words)
				require.True(t, k == 0 || unfit.Ways[k-1].Differs.Most <= way.Differs.Most)
				same := strings.HasPrefix(way.Differs.Words, "plays the same") ||
					strings.HasPrefix(way.Differs.Words, "changes nothing")
				require.Equal(t, way.Differs.Most == 0, same, way.Differs.Words)
			}
		}
		require.Equal(t, len(all), i)
	}
	for _, rule := range []string{kit.TooManyMixes, kit.TooManyBlocks, kit.NoSuchBlock, kit.TooManyInputs,
		kit.TooManyRates, kit.NoSuchCurve, kit.NoSuchChannel, kit.NoSlew, kit.EndTooFar, kit.NoSuchFigure,
		kit.NoLossPosition, kit.CannotLook} {
		require.True(t, seen[rule] > 0 || testing.Short(), rule)
	}
}

// drawnSetups is how many setups are drawn: a third where it is to be short.
func drawnSetups(n int) int {
	if testing.Short() {
		return n / 3
	}
	return n
}

// TestAlikeMisfits are each solved by itself: both ends of one function, two entries of the
// start check, two rules of one kind.
func TestAlikeMisfits(t *testing.T) {
	doc, p := read(t, `
format: axtren-setup
version: 1
transmitter:
  controls: [{id: x, kind: axis}, {id: y, kind: axis}, {id: g, kind: switch, positions: [low, high]}]
  can: {start_check: [switches], scales: {endpoint: percent}, endpoint_max: 120.5, logic: {blocks: [or]}}
logic: [{id: one, block: and, in: [g.low]}, {id: two, block: and, in: [g.high]}]
mixes: [{to: o, from: x}, {to: q, from: y}]
outputs: [{id: o, channel: 1, low: -96.5, high: 96.5}, {id: q, channel: 2, high: 130}]
start_check: [{control: x, is: {from: -5, to: 5}}, {control: y, is: {from: -5, to: 5}}]`)
	var said []string
	for unfit := range kit.Fit(doc, p) {
		require.NotEmpty(t, unfit.Ways, unfit.Says)
		said = append(said, unfit.Where+": "+unfit.Ways[0].Says)
	}
	require.Equal(t, []string{"outputs[0].low: let Channel 1 go to 96",
		"outputs[0].high: let Channel 1 go to 96", "outputs[1].high: let Channel 2 go to 120",
		"logic[0].block: make it of two rules of the kind “any of these”",
		"logic[1].block: make it of two rules of the kind “any of these”",
		"start_check[0]: leave this out of the start check", "start_check[1]: leave this out of the start check"},
		said)
}

// TestTheWaysThatAreTaken: which way is the nearest, in words, and by how much it differs, where
// it can be told by hand.
func TestTheWaysThatAreTaken(t *testing.T) {
	const same = 0.0
	for _, c := range []struct {
		can, more string
		want      []string
		most      []float64
	}{
		// two mixes of one source become one, the gain of a lone mix its ends, no more than needed
		{"mixes: 1", "mixes: [{to: o, from: x, gain: 60}, {to: o, from: x, gain: 20}, {to: q, from: y, " +
			"gain: 50}]", []string{"join the 2 mixes of Lever 1 into Channel 1 and take Channel 2 straight from " +
			"Lever 2, with its gain in the ends"}, []float64{same}},
		{"mixes: 2", "mixes: [{to: o, from: x, gain: 60}, {to: o, from: x, gain: 20}, {to: o, from: x, " +
			"gain: 10}, {to: q, from: y}]", []string{"join the 2 mixes of Lever 1 into Channel 1"}, []float64{same}},
		{"mixes: 1", "mixes: [{to: o, from: x, gain: 60}, {to: o, from: x, gain: 20}, {to: o, from: x, " +
			"gain: 10}, {to: q, from: y}]", []string{"join the 3 mixes of Lever 1 into Channel 1"}, []float64{same}},
		// what is no sum, or only at times, is not joined; what brings least is left out first
		{"mixes: 2", "mixes: [{to: o, from: x}, {to: o, from: x, gain: 20, combine: greatest}, {to: o, from: x, " +
			"gain: 5, when: g.high}]", []string{"leave out the mix of Lever 1 into Channel 1",
			"leave out the mix of Lever 1 into Channel 1"}, []float64{5, 80}}, // at −100 it kept −20
		{"mixes: 2", "mixes: [{to: o, from: x, gain: 60}, {to: o, from: y, gain: 5}, {to: o, from: z, gain: 30}]",
			[]string{"leave out the mix of Lever 2 into Channel 1", "leave out the mix of Lever 3 into Channel 1"},
			[]float64{5, 30}},
		// no curve at all
		{"curve_points: []", "demands: [{id: d, from: x, curve: [[-100, -100], [0, 10], [100, 100]]}]\n" +
			"mixes: [{to: o, from: d}]", []string{"leave the curve out"}, []float64{10}},
		// the ends of a curve, its own points, points on it
		{"curve_points: [2]", "demands: [{id: d, from: x, curve: [[-100, -100], [0, 10], [100, 100]]}]\n" +
			"mixes: [{to: o, from: d}]", []string{"keep 2 points of the curve, at −100 and +100"}, []float64{10}},
		{"curve_points: [3]", "demands: [{id: d, from: x, curve: [[-100, -100], [-50, -48], [0, 20], " +
			"[100, 100]]}]\nmixes: [{to: o, from: d}]", []string{"keep 3 points of the curve, at −100, 0 and +100"},
			[]float64{8}},
		{"curve_points: [5]", "demands: [{id: d, from: x, curve: [[-100, -100], [0, 10], [100, 100]]}]\n" +
			"mixes: [{to: o, from: d}]", []string{"give it 5 points of the curve, at −100, −50, 0, +50 and +100"},
			[]float64{same}},
		// a gate goes into the only one that reads it, of its own kind and not turned round
		{"logic: {count: 1}", "logic: [{id: a, block: and, label: A, in: [g.high, h.high]}, {id: b, block: and, " +
			"label: B, in: [a, k.high]}]\nmixes: [{to: o, from: b}]", []string{"put A into the rule that reads it"},
			[]float64{same}},
		{"logic: {count: 1}", "logic: [{id: a, block: or, label: A, in: [g.high, h.high]}, {id: b, block: and, " +
			"label: B, in: [a, k.high]}]\nmixes: [{to: o, from: b}]", nil, nil},
		{"logic: {count: 1}", "logic: [{id: a, block: and, label: A, in: [g.high, h.high]}, {id: b, block: and, " +
			"label: B, in: [not a, k.high]}]\nmixes: [{to: o, from: b}]", nil, nil},
		{"logic: {count: 1}", "logic: [{id: a, block: xor, label: A, in: [g.high, h.high]}, {id: b, block: xor, " +
			"label: B, in: [a, k.high]}]\nmixes: [{to: o, from: b}]", nil, nil},
		{"logic: {count: 1}", "logic: [{id: a, block: and, label: A, in: [g.high, h.high]}, {id: b, block: and, " +
			"label: B, in: [a, k.high]}]\nmixes: [{to: o, from: b}, {to: q, from: a}]", nil, nil},
		{"logic: {count: 1}", "logic: [{id: a, block: and, label: A, in: [g.high, h.high]}, {id: b, block: and, " +
			"label: B, in: [g.low, k.high]}]\nmixes: [{to: o, from: b}]",
			[]string{"leave A out, which nothing reads"}, []float64{same}},
	} {
		doc, p := read(t, `
format: axtren-setup
version: 1
transmitter:
  controls:
    - {id: x, kind: axis}
    - {id: y, kind: axis}
    - {id: z, kind: axis}
    - {id: g, kind: switch, positions: [low, high]}
    - {id: h, kind: switch, positions: [low, high]}
    - {id: k, kind: switch, positions: [low, high]}
  can: {`+c.can+`}
outputs: [{id: o, channel: 1}, {id: q, channel: 2}]
`+c.more+"\n")
		var says []string
		var most []float64
		found := 0
		for unfit := range kit.Fit(doc, p) {
			found++
			for _, way := range unfit.Ways {
				says, most = append(says, way.Says), append(most, math.Round(way.Differs.Most*1e4)/1e4)
			}
		}
		require.Equal(t, 1, found, c.more)
		require.Equal(t, c.want, says, c.more)
		require.Equal(t, c.most, most, c.more)
	}
}

// TestAChannelKeepsItsPin: through another order on the air the pin goes with the channel, so
// that the servo does the same.
func TestAChannelKeepsItsPin(t *testing.T) {
	doc, p := read(t, `
format: axtren-setup
version: 1
transmitter: {controls: [{id: x, kind: axis}], can: {channels: 4}}
mixes: [{to: o, from: x}]
outputs: [{id: o, channel: 9}]
link: {order: [9, 2, 1]}
receivers: [{id: rx, failsafe: {can: [hold]}, pins: [{pin: 5, channel: 1}, {pin: 6, channel: 3}]}]
devices: [{id: s, on: rx.5, kind: servo}]`)
	for unfit := range kit.Fit(doc, p) {
		require.Len(t, unfit.Ways, 1)
		require.Equal(t, "put Channel 9 on channel 1, which is free, and its pin with it", unfit.Ways[0].Says)
		require.Zero(t, unfit.Ways[0].Differs.Most, unfit.Ways[0].Text())
		after, err := edit.ApplyOps(doc, unfit.Ways[0].Patch)
		require.NoError(t, err)
		pins := after.Doc.Setup.Receivers[0].Pins
		require.Equal(t, []int{3, 1}, []int{pins[0].Channel, pins[1].Channel})
		require.Equal(t, 1, after.Doc.Setup.Outputs[0].Channel)
	}
}

// TestWaysAreSoughtOfTheFirst thirty; all misfits are listed.
func TestWaysAreSoughtOfTheFirst(t *testing.T) {
	text := "format: axtren-setup\nversion: 1\ntransmitter: {can: {scales: {endpoint: percent}}}\noutputs:\n"
	for i := range 32 {
		text += fmt.Sprintf("  - {id: o%d, channel: %d, low: -90.5}\n", i, i+1)
	}
	doc, p := read(t, text)
	sought, listed := 0, 0
	for unfit := range kit.Fit(doc, p) {
		listed++
		if unfit.Sought {
			sought++
		}
		require.Equal(t, unfit.Sought, len(unfit.Ways) == 1, unfit.Where)
		require.Equal(t, unfit.Sought, listed <= 30)
	}
	require.Equal(t, []int{32, 30}, []int{listed, sought})
}

// ids gives a document as an edit leaves it, with an id for each mix and share.
func ids(t require.TestingT, doc *setup.Document) *setup.Document {
	with, err := edit.WithIDs(doc)
	require.NoError(t, err)
	return with
}

// able gives a document whose transmitter can some things and not others.
func able(rt *rapid.T, doc *setup.Document) *setup.Document {
	can := map[string]any{}
	some := func(name string, draw func() any) {
		if rapid.Bool().Draw(rt, "knows "+name) {
			can[name] = draw()
		}
	}
	some("channels", func() any { return rapid.IntRange(4, 12).Draw(rt, "channels") })
	some("mixes", func() any { return rapid.IntRange(0, 8).Draw(rt, "mixes") })
	some("curve_points", func() any { return []int{3, rapid.IntRange(4, 9).Draw(rt, "points")} })
	some("rates", func() any { return rapid.IntRange(1, 3).Draw(rt, "rates") })
	some("slew", func() any { return false })
	some("click_on", func() any { return true })
	some("steppers", func() any { return rapid.IntRange(0, 1).Draw(rt, "steppers") })
	some("endpoint_max", func() any { return rapid.IntRange(50, 150).Draw(rt, "most") })
	some("endpoint_from", func() any { return rapid.SampledFrom([]string{"zero", "centre"}).Draw(rt, "from") })
	some("failsafe", func() any { return "none" })
	some("start_check", func() any { return []string{"axis_low"} })
	some("logic", func() any {
		kinds := rapid.SliceOfNDistinct(rapid.SampledFrom([]string{"and", "or", "xor", "above", "below", "between",
			"r_trig", "f_trig", "sr", "rs", "toggle", "ton", "tof", "tp"}), 3, 12, rapid.ID[string]).Draw(rt, "kinds")
		logic := map[string]any{"inputs": rapid.IntRange(2, 4).Draw(rt, "inputs")}
		if rapid.Bool().Draw(rt, "knows kinds") {
			logic["blocks"] = kinds
		} else {
			logic["count"] = rapid.IntRange(4, 9).Draw(rt, "count")
		}
		return logic
	})
	some("scales", func() any {
		scale := rapid.SampledFrom([]any{"percent", "span", "magnitude", "us", map[string]any{"step": 2.5},
			map[string]any{"bits": 8}})
		return map[string]any{"endpoint": scale.Draw(rt, "ends"), "trim": scale.Draw(rt, "trims"),
			"gain": "percent", "failsafe": scale.Draw(rt, "losses")}
	})
	raw, err := json.Marshal(can)
	require.NoError(rt, err)
	message := json.RawMessage(raw)
	result, err := edit.ApplyOps(ids(rt, doc), []edit.Op{{Op: "add", Path: "/transmitter/can", Value: &message}})
	require.NoError(rt, err)
	return result.Doc
}

// plain works out what an output is asked for by the arithmetic of docs/format.md, sections 4
// and 7, written anew: linear curves, rates by one switch, mixes that add up, ends.
func plain(s *setup.Setup, output int, x, y float64, position int) float64 {
	shaped := map[setup.ID]float64{"x": x, "y": y}
	for i := range s.Demands {
		d := &s.Demands[i]
		v, rate := shaped[setup.ID(d.From.Ref)], d.Rate
		for _, r := range slices.Backward(d.Rates) {
			if string(r.When) == fmt.Sprintf("gear.%c", 'a'+position) {
				rate = r.Rate
			}
		}
		v = v * rate / 100
		if d.Curve != nil {
			v = straight(d.Curve, v)
		}
		shaped[d.ID] = min(max(v+d.Trim, -150), 150)
	}
	sum := 0.0
	for _, i := range s.MixesTo(output) {
		m := &s.Mixes[i]
		v := shaped[setup.ID(m.From.Ref)]
		if v >= 0 {
			v *= m.Gain.Pos / 100
		} else {
			v *= m.Gain.Neg / 100
		}
		sum += v + m.Bias
	}
	o := &s.Outputs[output]
	asked := min(max(sum, -100), 100)
	if o.Reverse {
		asked = -asked
	}
	if asked >= 0 {
		return o.Centre + asked*(o.High-o.Centre)/100
	}
	return o.Centre + asked*(o.Centre-o.Low)/100
}

func straight(points []setup.Point, x float64) float64 {
	for i := 1; i < len(points); i++ {
		if a, b := points[i-1], points[i]; x <= b[0] {
			return a[1] + (max(x, a[0])-a[0])*(b[1]-a[1])/(b[0]-a[0])
		}
	}
	return points[len(points)-1][1]
}

// TestWaysDifferAsTheySay: over the square of both sticks, in each position of the switch, no
// difference is greater than what is said of a way, worked out without the engine, and what is
// said is there.
func TestWaysDifferAsTheySay(t *testing.T) {
	ways := map[string]int{}
	setups := rapid.Custom(drawn)
	for seed := range drawnSetups(30) {
		doc, p := read(t, setups.Example(seed))
		for unfit := range kit.Fit(doc, p) {
			for _, way := range unfit.Ways {
				after, err := edit.ApplyOps(doc, way.Patch)
				require.NoError(t, err)
				most := apartOverTheSquare(doc.Setup, after.Doc.Setup)
				require.GreaterOrEqual(t, way.Differs.Most, most-0.01, "%s: %s", unfit.Says, way.Text())
				require.LessOrEqual(t, way.Differs.Most, most+1, "%s: %s", unfit.Says, way.Text())
				ways[unfit.Rule]++
				if most < 1e-6 {
					ways["the same"]++
				}
			}
		}
	}
	for _, rule := range []string{kit.TooManyMixes, kit.NoSuchCurve, kit.TooManyRates, kit.EndTooFar,
		kit.NoSuchFigure, "the same"} {
		require.True(t, ways[rule] > 0 || testing.Short(), rule)
	}
}

// drawn draws a setup of two sticks and a switch, and what its transmitter can.
func drawn(rt *rapid.T) string {
	figure := func(name string, low, high int) float64 {
		return float64(rapid.IntRange(2*low, 2*high).Draw(rt, name)) / 2
	}
	var b strings.Builder
	fmt.Fprintf(&b, `
format: axtren-setup
version: 1
transmitter:
  controls: [{id: x, kind: axis}, {id: y, kind: axis}, {id: gear, kind: switch, positions: [a, b, c]}]
  can: {mixes: %d, curve_points: [3, 6], rates: %d, endpoint_max: %d, scales: {endpoint: percent, gain: percent}}
demands:
`, rapid.IntRange(0, 3).Draw(rt, "mixes"), rapid.IntRange(1, 3).Draw(rt, "rates"),
		rapid.IntRange(60, 120).Draw(rt, "most"))
	for _, axis := range []string{"x", "y"} {
		var points, rates []string
		for i := range rapid.IntRange(2, 7).Draw(rt, "points") {
			points = append(points, fmt.Sprintf("[%d, %g]", -100+30*i, figure("y", -100, 100)))
		}
		for i := range rapid.IntRange(0, 2).Draw(rt, "rates of") {
			rates = append(rates, fmt.Sprintf("{when: gear.%c, rate: %g}", 'a'+i, figure("rate", 0, 150)))
		}
		fmt.Fprintf(&b, "  - {id: %s_soft, from: %s, curve: [%s], rates: [%s]}\n", axis, axis,
			strings.Join(points, ", "), strings.Join(rates, ", "))
	}
	b.WriteString("mixes:\n")
	for i := range rapid.IntRange(1, 4).Draw(rt, "mixes to it") {
		fmt.Fprintf(&b, "  - {id: m%d, to: o%d, from: %s, gain: %g}\n", i, rapid.IntRange(1, 2).Draw(rt, "to"),
			rapid.SampledFrom([]string{"x", "y", "x_soft", "y_soft"}).Draw(rt, "from"), figure("gain", -120, 120))
	}
	b.WriteString("outputs:\n")
	for i := range 2 {
		fmt.Fprintf(&b, "  - {id: o%d, channel: %d, reverse: %t, low: %g, centre: %g, high: %g}\n", i+1, i+1,
			rapid.Bool().Draw(rt, "reverse"), figure("low", -130, -40), figure("centre", -30, 30),
			figure("high", 40, 130))
	}
	return b.String()
}

// apartOverTheSquare is how far two setups are apart at most.
func apartOverTheSquare(a, b *setup.Setup) float64 {
	most := 0.0
	for position := range 3 {
		for x := -100.0; x <= 100; x += 2.5 {
			for y := -100.0; y <= 100; y += 2.5 {
				for o := range a.Outputs {
					most = max(most, math.Abs(plain(a, o, x, y, position)-plain(b, o, x, y, position)))
				}
			}
		}
	}
	return most
}

// exactly are the recipes that do the same in every frame, by what the transmitter has. The
// laws are De Morgan's, the blocks those of IEC 61131-3 (memory).
var exactly = []struct{ block, has string }{
	{"block: and, in: [a.on, b.on, not c.on]", "or"},
	{"block: or, in: [a.on, b.on, not c.on]", "and"},
	{"block: xor, in: [a.on, b.on]", "and, or"},
	{"block: sr, set: a.on, reset: b.on", "and, rs"},
	{"block: sr, set: a.on, reset: b.on, start: true", "and, rs"},
	{"block: sr, set: a.on, reset: b.on, start: kept", "and, rs"},
	{"block: rs, set: a.on, reset: b.on", "and, sr"},
	{"block: rs, set: a.on, reset: not b.on, start: kept", "and, sr"},
	{"block: toggle, in: a.on", "r_trig, and, sr"},
	{"block: toggle, in: a.on, start: true", "r_trig, and, rs"},
	{"block: toggle, in: a.on, reset: b.on", "r_trig, and, or, sr"},
	{"block: toggle, in: a.on, reset: b.on, start: kept", "r_trig, and, or, rs"},
	{"block: between, of: x, from: -20, to: 35", "above, below, and"},
	{"block: r_trig, in: a.on", "f_trig"},
	{"block: r_trig, in: a.on", "tp"},
	{"block: f_trig, in: a.on", "r_trig"},
	{"block: f_trig, in: a.on", "tp"},
	{"block: tof, in: a.on, for_s: 0.1", "ton, sr"},
	{"block: tof, in: a.on, for_s: 0.1", "ton, rs"},
	{"block: and, in: [a.on, b.on, c.on, x.high, not a.on]", "and"},
	{"block: xor, in: [a.on, b.on, c.on]", "xor"},
}

// stuck is a rule that no entry can stand for, of a kind that is there: what can be keyed in as entries all
// together is no misfit.
func stuck(has string) string {
	for _, kind := range []string{"and", "or", "xor"} {
		if slices.Contains(strings.Split(has, ", "), kind) {
			return "{id: stuck, block: " + kind + ", in: [step.x]}"
		}
	}
	kind, _, _ := strings.Cut(has, ",")
	if kind == "tp" || kind == "ton" {
		return "{id: stuck, block: " + kind + ", in: step.x, for_s: 1}"
	}
	return "{id: stuck, block: " + kind + ", in: step.x}"
}

// TestWhatCanBeEntriesFits: rules of other kinds, and with more inputs, that entries of the transmitter are
// proved to do fit; not where there are too few of them.
func TestWhatCanBeEntriesFits(t *testing.T) {
	for count, fits := range map[int]bool{4: true, 1: false} {
		doc, p := read(t, fmt.Sprintf(`
format: axtren-setup
version: 1
transmitter:
  controls: [{id: a, kind: switch, positions: [no, yes]}, {id: b, kind: switch, positions: [no, yes]}]
  can: {logic: {count: %d, blocks: [and, or], inputs: 2}}
logic: [{id: made, block: xor, in: [a.yes, b.yes]}]
mixes: [{to: o, from: made}]
outputs: [{id: o, channel: 1}]`, count))
		require.Equal(t, fits, len(kit.Misfits(doc.Setup)) == 0)
		for unfit := range kit.Fit(doc, p) {
			require.False(t, fits)
			require.Equal(t, kit.NoSuchBlock, unfit.Rule)
		}
	}
}

// TestRecipesDoTheSame: with any hands, in every frame, over switching off and on.
func TestRecipesDoTheSame(t *testing.T) {
	for _, one := range exactly {
		t.Run(one.block+" by "+one.has, func(t *testing.T) {
			doc, p := read(t, strings.ReplaceAll(fmt.Sprintf(`
format: axtren-setup
version: 1
transmitter:
  controls: [{id: a, kind: switch, positions: ["off", "on"]}, {id: b, kind: switch, positions: ["off", "on"]},
    {id: c, kind: switch, positions: ["off", "on"]}, {id: x, kind: axis}]
  can: {logic: {blocks: [%s], inputs: 2}}
logic: [{id: made, %s}, %s]
steppers: [{id: step, up: b.on, steps: [{name: x, value: 0}, {name: y, value: 1}]}]
mixes: [{to: o, from: made}, {to: q, from: stuck}]
outputs: [{id: o, channel: 1}, {id: q, channel: 2}]`, one.has, one.block, stuck(one.has)), "x.high", "c.off"))
			var ways []kit.Way
			for unfit := range kit.Fit(doc, p) {
				ways = append(ways, unfit.Ways...)
			}
			require.NotEmpty(t, ways)
			require.Zero(t, ways[0].Differs.Most, ways[0].Text())
			after, err := edit.ApplyOps(doc, ways[0].Patch)
			require.NoError(t, err)
			made, other := slot(p), slot(after.Program)
			st, then, seeded := p.PowerOn(), after.Program.PowerOn(), rand.New(rand.NewPCG(3, 4))
			hands := p.Rest()
			for k := range 20_000 {
				for i := range 3 {
					if seeded.IntN(4) == 0 {
						hands[i] = float64(seeded.IntN(2))
					}
				}
				hands[3] = float64(seeded.IntN(201) - 100)
				hands[4] = b2f(k%500 < 480) // the transmitter
				p.Step(st, hands)
				after.Program.Step(then, hands)
				require.Equal(t, st.At(made), then.At(other), "frame %d of %s", k, ways[0].Says)
			}
		})
	}
}

func slot(p *signal.Program) signal.Slot {
	return p.BlockSlot(p.Setup().Item("made").Index)
}

func b2f(b bool) float64 {
	if b {
		return 1
	}
	return 0
}

// TestNothingKnown: where nothing is known of a transmitter, nothing is beyond it.
func TestNothingKnown(t *testing.T) {
	doc, p := read(t, `
format: axtren-setup
version: 1
outputs: [{id: o, channel: 48, low: -149.9}]`)
	require.Empty(t, kit.Misfits(doc.Setup))
	for unfit := range kit.Fit(doc, p) {
		t.Fatal(unfit)
	}
}

// TestADifferenceIsSaid where and how it is seen.
func TestADifferenceIsSaid(t *testing.T) {
	base := `
format: axtren-setup
version: 1
transmitter: {controls: [{id: x, kind: axis, label: Left stick}, {id: g, kind: switch, label: Gear, positions: [low, high]}]}
demands: [{id: d, from: x, rates: [{when: g.high, rate: 80}]}]
mixes: [{id: m, to: o, from: d}]
outputs: [{id: o, label: Boom, channel: 1, loss: {mode: preset, value: 0}}]
receivers: [{id: rx, failsafe: {can: [preset]}, pins: [{pin: 1, channel: 1}]}]
devices: [{id: s, label: boom servo, on: rx.1, kind: servo}]
announcements: [{id: say, when: g.high, say: high}]`
	_, p := read(t, base)
	for _, c := range [][2]string{
		{"", "plays the same: nothing differed in 48 000 frames and 802 ways of holding the hands"},
		{"rate: 80=>rate: 60", "differs by up to 20 % in Boom with Left stick at −100 and Gear at high"},
		{"value: 0=>value: 30",
			"differs by up to 30 % in boom servo with Left stick at +33.4, on a lost signal"},
		{"from: d}=>from: d, bias: 5}", "differs by up to 5 % in Boom with the hands at rest"},
	} {
		change, want := c[0], c[1]
		old, now, _ := strings.Cut(change, "=>")
		_, other := read(t, strings.Replace(base, old, now, 1))
		got := kit.Compare(p, other)
		require.Equal(t, want, got.Words, change)
	}
}

// TestWhatAFunctionAsksOfItsChannel: how soon it has to answer, and how finely it is told.
func TestWhatAFunctionAsksOfItsChannel(t *testing.T) {
	const text = `
format: axtren-setup
version: 1
transmitter: {frame_ms: 20, controls: [{id: helm, kind: axis}, {id: s, kind: switch, positions: [a, b]}]}
link: {delay_ms: 10, half_rate: [5], delays: [{channel: 2, ms: 4}], bits: 10, one_bit: [6], trades: [{frame_ms: 12, bits: 8}]}
receivers: [{id: rx, pins: [{pin: 1, channel: 1}, {pin: 2, channel: 2}, {pin: 5, channel: 5}, {pin: 6, channel: 6}]}]
devices:
  - {id: rudder_servo, kind: servo, on: rx.5}
  - {id: lamp_relay, kind: lamp, on: rx.1}
outputs:
  - {id: rudder, label: Rudder, channel: 5, needs: {within_ms: %s, bits: %s}}
  - {id: lamp, label: Lamp, channel: 1}
  - {id: idle, label: Idle, channel: 2, needs: {within_ms: 24}}
mixes: [{to: rudder, from: helm}, {to: lamp, from: s}]
`
	doc, p := read(t, fmt.Sprintf(text, "40", "0"))
	s := doc.Setup
	// by hand: a frame, twice that where every second one carries it, and how late the link is
	require.Equal(t, []float64{30, 24, 50, 30}, []float64{s.LateMS(1), s.LateMS(2), s.LateMS(5), s.LateMS(6)})
	require.Equal(t, []int{10, 1}, []int{s.BitsOn(1), s.BitsOn(6)})
	var fits []kit.Unfit
	for unfit := range kit.Fit(doc, p) {
		fits = append(fits, unfit)
	}
	require.Len(t, fits, 1, "it is known though nothing is known of the transmitter")
	require.Equal(t, "Rudder has to answer within 40 ms, and what a hand does takes up to 50 ms on channel 5",
		fits[0].Says)
	require.Equal(t, kit.TooSlow, fits[0].Rule)
	said := []string{}
	for _, way := range fits[0].Ways {
		said = append(said, way.Says)
	}
	require.ElementsMatch(t, []string{"let the radio send every 12 ms, each channel in 256 steps",
		"exchange the channels of Rudder and Lamp, and their leads at the receiver"}, said,
		"Idle would be too slow itself, and with no pin of its own lead")
	for _, way := range fits[0].Ways {
		after, err := edit.ApplyOps(doc, way.Patch)
		require.NoError(t, err)
		require.Empty(t, kit.Misfits(after.Doc.Setup))
		if strings.HasPrefix(way.Says, "exchange") {
			require.Equal(t, 1, after.Doc.Setup.Outputs[0].Channel)
			require.Equal(t, "rx.1", after.Doc.Setup.Devices[0].On)
			require.Equal(t, "rx.5", after.Doc.Setup.Devices[1].On)
		} else {
			require.Equal(t, 0, way.Differs.Frames, "two frames of another length are never at one moment")
			require.Contains(t, way.Differs.Words, "what takes time was not compared")
			require.Equal(t, setup.Trade{FrameMS: 20, Bits: 10}, after.Doc.Setup.Link.Trades[0], "and back")
		}
	}

	doc, p = read(t, strings.Replace(fmt.Sprintf(text, "0", "12"), "bits: 8", "bits: 12", 1))
	for unfit := range kit.Fit(doc, p) {
		require.Equal(t, kit.TooCoarse, unfit.Rule)
		require.Equal(t, "Rudder has to be told in 12 bits, and its channel is told in 10", unfit.Says)
		require.Len(t, unfit.Ways, 1)
	}
	doc, _ = read(t, fmt.Sprintf(text, "50", "10"))
	require.Empty(t, kit.Misfits(doc.Setup), "as much as it asks for is enough")
}

// TestHandsInPlaceOfRules: a button that clicks by itself plays the same as the rule did; a switch
// stands where presses went through steps, and says what is lost.
func TestHandsInPlaceOfRules(t *testing.T) {
	const text = `
format: axtren-setup
version: 1
transmitter:
  controls:
    - {id: horn, kind: switch, positions: ["off", press], spring_to: "off", label: Horn button}
    - {id: up, kind: switch, positions: ["off", press], spring_to: "off", label: Up}
    - {id: down, kind: switch, positions: ["off", press], spring_to: "off", label: Down}
  can: {click_on: %s, steppers: %s, logic: {blocks: [and, or]}}
receivers: [{id: rx, pins: [{pin: 1, channel: 1}, {pin: 2, channel: 2}, {pin: 3, channel: 3}]}]
devices: [{id: lamp, kind: lamp, on: rx.1, label: Lamp}, {id: gear_servo, kind: servo, on: rx.2, label: Gear servo}]
logic:
  - {id: lit, block: toggle, in: %s, start: %s, label: Lit}
  - {id: both, block: and, in: [lit, not gear.low], label: Both}
steppers: [{id: gear, label: Gear, up: up.press, down: down.press, steps: [{name: low, value: -90}, {name: mid, value: 10}, {name: top, value: 80}], start: mid}]
outputs: [{id: a, channel: 1}, {id: b, channel: 2}, {id: c, channel: 3, label: Third}]
mixes: [{to: a, from: lit}, {to: b, from: gear}, {to: c, from: both}]
`
	ways := func(click, steppers, in, start string) map[string][]kit.Way {
		doc, p := read(t, fmt.Sprintf(text, click, steppers, in, start))
		found := map[string][]kit.Way{}
		for unfit := range kit.Fit(doc, p) {
			found[unfit.Rule] = unfit.Ways
			for _, way := range unfit.Ways {
				_, err := edit.ApplyOps(doc, way.Patch)
				require.NoError(t, err)
			}
		}
		return found
	}
	const clicks = "let Horn button click on and off by itself, by the transmitter's own option"
	for _, start := range []string{"false", "true"} {
		found := ways("true", "0", "horn.press", start)
		require.Len(t, found[kit.NoSuchBlock], 2)
		require.Equal(t, clicks, found[kit.NoSuchBlock][0].Says)
		require.Equal(t, "let a switch of 2 positions stand for Lit", found[kit.NoSuchBlock][1].Says)
		require.Contains(t, found[kit.NoSuchBlock][1].Differs.Words, "plays the same", start)
		require.Contains(t, found[kit.NoSuchBlock][0].Differs.Words, "plays the same", start)
		require.Equal(t, 48_000, found[kit.NoSuchBlock][0].Differs.Frames)
		require.Len(t, found[kit.TooManySteppers], 1)
		way := found[kit.TooManySteppers][0]
		require.Equal(t, "let a switch of 3 positions stand for Gear", way.Says)
		require.Contains(t, way.Lost, "a switch of the transmitter that is free for it")
		require.Contains(t, way.Differs.Words, "plays the same")
	}
	// not where it is not known that buttons can, where something else reads the button, or it is the other way
	for _, in := range []string{"horn.press", "not horn.press", "up.press"} { // the steps read up too
		click := strconv.FormatBool(in != "horn.press")
		found := ways(click, "0", in, "false")[kit.NoSuchBlock]
		require.Len(t, found, 1, in)
		require.Equal(t, "let a switch of 2 positions stand for Lit", found[0].Says)
	}
	require.Empty(t, ways("true", "0", "gear.mid", "false")[kit.NoSuchBlock], "no hand does that")
	require.Empty(t, ways("true", "0", "horn.press", "kept")[kit.NoSuchBlock])
	require.Empty(t, ways("true", "1", "horn.press", "false")[kit.TooManySteppers])

	// the comparison sees what is not the same: a switch with the steps in another order
	doc, p := read(t, fmt.Sprintf(text, "true", "0", "horn.press", "false"))
	for unfit := range kit.Fit(doc, p) {
		if unfit.Rule != kit.TooManySteppers {
			continue
		}
		after, err := edit.ApplyOps(doc, unfit.Ways[0].Patch)
		require.NoError(t, err)
		s := after.Doc.Setup
		require.Equal(t, []setup.Name{"low", "mid", "top"}, s.Transmitter.Controls[3].Switch.Positions)
		require.Equal(t, []setup.Point{{-100, -90}, {0, 10}, {100, 80}}, s.Demands[0].Curve)
		require.Equal(t, setup.Truth("not gear_switch.low"), s.Logic[1].Spec.(*setup.Gate).In[1])
		require.Empty(t, s.Steppers)
	}
}
