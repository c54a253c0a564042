package check

import (
	"os"
	"testing"

	"github.com/stretchr/testify/require"
	"pgregory.net/rapid"

	"axtren/core/setup"
	"axtren/core/signal"
)

func compile(t require.TestingT, text string) *signal.Program {
	doc, err := setup.ReadYAML([]byte("format: axtren-setup\nversion: 1\n" + text))
	require.NoError(t, err)
	p, err := signal.Compile(doc.Setup)
	require.NoError(t, err)
	return p
}

const controls = "transmitter: {controls: [{id: a, kind: axis}, {id: b, kind: axis}, {id: s, kind: switch, " +
	"positions: [up, down]}]}\n"

func TestFindings(t *testing.T) {
	all := "mixes: [{to: o, from: a, when: s.up}, {to: o, from: b, gain: 0}]\noutputs: [{id: o, channel: " +
		"1}]\n"
	for _, c := range []struct{ rule, where, text string }{
		{"", "", controls +
			"mixes: [{to: o, from: a}, {to: p, from: b, when: s.up}]\noutputs: [{id: o, channel: 1}, {id: " +
			"p, channel: 2}]"},
		{"not_driven", "outputs[1]",
			controls + "mixes: [{to: o, from: a}]\noutputs: [{id: o, channel: 1}, {id: p, channel: 2}]"},
		{"pin_empty", "receivers[0].pins[0]", controls + all +
			"receivers: [{id: r, pins: [{pin: 1, channel: 2}]}]"},
		{"pin_empty", "receivers[0].pins[0]", controls + all +
			"link: {channels: 3, order: [9, 9, 9, 1]}\nreceivers: [{id: r, pins: [{pin: 1, channel: 4}]}]"},
		{"control_unused", "transmitter.controls[1]",
			controls + "mixes: [{to: o, from: a, when: s.up}]\noutputs: [{id: o, channel: 1}]"},
		{"box_never_learns", "devices[0].loss", controls + all +
			"receivers: [{id: r, pins: [{pin: 1, channel: 1}]}]\ndevices: [{id: d, on: r.1, kind: " +
			"step_box, steps: 3, loss: 1}]"},
		{"loss_not_kept", "receivers[0].pins[0]", controls +
			"mixes: [{to: o, from: a}]\noutputs: [{id: o, channel: 1, loss: {mode: preset, value: " +
			"0}}]\nreceivers: [{id: r, failsafe: {can: [preset], preset_pins: [5]}, pins: [{pin: 1, " +
			"channel: 1}, {pin: 5, channel: 1}]}]"},
		{"cut_short", "outputs[0]",
			controls + "mixes: [{to: o, from: a}, {to: o, from: b, gain: 60, when: s.up}]\noutputs: [{id: " +
				"o, channel: 1}]"},
		{"end_out_of_reach", "outputs[0].high", controls +
			"mixes: [{to: o, from: a}, {to: o, from: b, gain: 0, when: s.up}]\noutputs: [{id: o, channel: " +
			"1, high: 145}]"},
		{"wakes_elsewhere", "outputs[0].start", controls +
			"mixes: [{to: o, from: a, bias: 20}, {to: o, from: b, gain: 0, when: s.up}]\noutputs: [{id: o, " +
			"channel: 1, start: {value: 0}}]"},
		{"module_range", "link.learned_us", controls + all +
			"link: {learned_us: {low: 1060, centre: 1500, high: 1930}}"},
		{"never_true", "mixes[0].when",
			controls + "logic: [{id: far, block: above, of: half, level: 60}]\ndemands: [{id: half, from: " +
				"a, rate: 50}]\nmixes: [{to: o, from: b, when: far}, {to: o, from: 0, when: " +
				"s.up}]\noutputs: [{id: o, channel: 1}]"},
		{"always_true", "mixes[0].when",
			controls + "logic: [{id: far, block: or, in: [near, not near]}, {id: near, block: below, of: " +
				"a, level: 100}]\nmixes: [{to: o, from: b, when: far}, {to: o, from: 0, when: " +
				"s.up}]\noutputs: [{id: o, channel: 1}]"},
	} {
		r := Check(compile(t, c.text))
		if c.rule == "" {
			require.True(t, r.Clean(), "%v", r.Findings)
			continue
		}
		found := false
		for _, f := range r.Findings {
			found = found || f.Rule == c.rule && f.Where == c.where && f.Remedy != ""
		}
		require.True(t, found, "%s at %s is not among %v", c.rule, c.where, r.Findings)
	}
}

func TestTheDemoHasNothingWorseThanANote(t *testing.T) {
	text, err := os.ReadFile("../../demo/stoat.yaml")
	require.NoError(t, err)
	doc, err := setup.ReadYAML(text)
	require.NoError(t, err)
	p, err := signal.Compile(doc.Setup)
	require.NoError(t, err)
	for _, f := range Check(p).Findings {
		require.Equal(t, Note, f.Severity, "%v", f)
	}
}

// TestNothingLeavesItsSpan runs the engine at random and holds every sum and
// every block against what the intervals allow.
func TestNothingLeavesItsSpan(t *testing.T) {
	p := compile(t, controls+`
demands: [{id: d, from: a, deadband: 10, expo: -60, rate: 140, rates: [{when: s.up, rate: 30}], trim: 5},
    {id: e, from: b, curve: [[-50, 30], [0, -40], [80, 120]], smooth: true}]
logic: [{id: hi, block: above, of: d, level: 40, hysteresis: 10},
    {id: mid, block: between, of: e, from: -10, to: 10}, {id: t, block: toggle, in: hi}, {id: x, block: xor,
    in: [t, mid, s.down]},
  {id: far, block: below, of: m.asked, level: -90}, {id: early, block: tof, in: hi, for_s: 0.06},
      {id: latch, block: rs, set: far, reset: early}, {id: nope, block: and, in: [s.up, s.down]},
  {id: sure, block: above, of: 30, level: 20}, {id: also, block: sr, set: sure, reset: s.up},
      {id: once, block: tp, in: sure, for_s: 1}, {id: rise, block: r_trig, in: sure}]
mixes:
  - {to: o, from: d, shape: abs, gain: {pos: 150, neg: -30}, bias: -20}
  - {to: o, from: e, combine: times, when: x, fade_s: 0.1}
  - {to: p, from: o.asked, shape: down}
  - {to: p, from: x, combine: greatest, when: not mid}
  - {to: p, from: e, combine: least}
  - {to: l, from: a}
  - {to: l, from: b, when: s.up}
  - {to: m, from: a, gain: 60}
  - {to: m, from: b, gain: -100, when: s.down}
  - {to: m, from: a, gain: -30, when: not s.up}
  - {to: n, from: l.asked, when: early}
  - {to: n, from: m.asked, combine: instead, when: not early}
  - {to: n, from: far, gain: 20}
shares: [{outputs: [l, m], rule: keep_turn}, {outputs: [p, n], rule: scale}]
outputs: [{id: o, channel: 1}, {id: p, channel: 2}, {id: l, channel: 3},
    {id: m, channel: 4, reverse: true, centre: 10, low: -60}, {id: n, channel: 5}]`)
	r := newReach(p)
	rapid.Check(t, func(t *rapid.T) {
		st := p.PowerOn()
		for k := range 20 {
			hands := p.Rest()
			hands[0], hands[1] = rapid.Float64Range(-100, 100).Draw(t, "a"), rapid.Float64Range(-100,
				100).Draw(t, "b")
			hands[2] = float64(rapid.IntRange(0, 1).Draw(t, "s"))
			p.Step(st, hands)
			for i := range p.Routes {
				at, span := st.At(p.Routes[i].Sum), r.sum(i)
				require.True(t, at >= span.Low-1e-9 && at <= span.High+1e-9, "output %d at %g, outside %v", i,
					at, span)
				shared, asked := min(max(st.At(p.Routes[i].Shared), -100), 100), r.asked(i)
				require.True(t, shared >= asked.Low-1e-9 && shared <= asked.High+1e-9,
					"output %d is asked for %g, outside %v", i, shared, asked)
				stands, position := st.At(p.Routes[i].P), r.position(i)
				require.True(t, stands >= position.Low-1e-9 && stands <= position.High+1e-9,
					"output %d stands at %g, outside %v", i, stands, position)
			}
			for i := range p.Setup().Logic {
				if is := map[bool]verdict{true: always, false: never}[st.At(p.BlockSlot(i)) != 0]; k > 0 ||
					r.block(i) == either {
					require.NotZero(t, r.block(i)&is, "block %s is %v, which was not to be",
						p.Setup().Logic[i].ID, is)
				}
			}
		}
	})
}

// TestSpansAreAsNarrowAsTheyCanBe, where one source is one source.
func TestSpansAreAsNarrowAsTheyCanBe(t *testing.T) {
	p := compile(t, controls+`
mixes:
  - {to: o, from: a}
  - {to: o, from: a, gain: -50}
  - {to: o, from: b, gain: 20, when: s.up}
  - {to: p, from: a, shape: abs, bias: -100, gain: 200}
  - {to: p, from: 30, gain: 50}
outputs: [{id: o, channel: 1}, {id: p, channel: 2}]`)
	r := newReach(p)
	require.Equal(t, span{-70, 70}, r.sum(0))
	require.True(t, r.exact[0])
	require.Equal(t, span{-85, 115}, r.sum(1))
	require.True(t, r.exact[1])
	for text, want := range map[string]verdict{"{block: and, in: [s.up, s.down]}": either,
		"{block: above, of: 30, level: 20}": always, "{block: above, of: 10, level: 20}": never,
		"{block: between, of: a, from: -100, to: 100}": always,
		"{block: between, of: 5, from: 10, to: 20}":    never, "{block: below, of: a, level: -101}": never,
		"{block: above, of: a, level: 50}": either} {
		one := compile(t, controls+"logic: [{id: x, "+text[1:]+"]\n")
		require.Equal(t, want, newReach(one).block(0), text)
	}
}

func TestReadiness(t *testing.T) {
	for file, want := range map[string][]Stand{
		"stoat": {},
		"alder": {{"Rules", Warning, "this does not always hold: The legs never move while the motor turns"}},
	} {
		text, err := os.ReadFile("../../demo/" + file + ".yaml")
		require.NoError(t, err)
		doc, err := setup.ReadYAML(text)
		require.NoError(t, err)
		p, err := signal.Compile(doc.Setup)
		require.NoError(t, err)
		require.Equal(t, want, Readiness(p))
	}
	doc, err := setup.ReadYAML([]byte("format: axtren-setup\nversion: 1\noutputs: [{id: a, channel: 1}, " +
		"{id: b, channel: 2}]"))
	require.NoError(t, err)
	p, err := signal.Compile(doc.Setup)
	require.NoError(t, err)
	stands := Readiness(p)
	require.Equal(t, "Functions", stands[0].Place)
	text, err := os.ReadFile("../../demo/marram.yaml")
	require.NoError(t, err)
	doc, err = setup.ReadYAML(text)
	require.NoError(t, err)
	marram, err := signal.Compile(doc.Setup)
	require.NoError(t, err)
	var places []string
	for _, stand := range Readiness(marram) {
		places = append(places, stand.Place)
	}
	require.Equal(t, []string{"Loss and start", "Kit"}, places, "what can hurt stands first")
	require.Contains(t, stands[0].Words, "more")
}

// TestAPieceIsNoModel: nothing is found in one, while the same part in a bare model has findings.
func TestAPieceIsNoModel(t *testing.T) {
	const part = "receivers: [{id: bench, pins: [{pin: 1, channel: 1}]}]\n" +
		"devices: [{id: piece, kind: servo, on: bench.1}]\n"
	require.Empty(t, Check(compile(t, "piece: {kind: device}\n"+part)).Findings)
	require.NotEmpty(t, Check(compile(t, part)).Findings)
}
