package rail_test

import (
	"fmt"
	"slices"
	"strings"
	"testing"

	"github.com/stretchr/testify/require"

	"axtren/core/rail"
	"axtren/core/setup"
	"axtren/core/signal"
	"axtren/core/starts"
)

// build works out the rail of a document.
func build(t *testing.T, yaml string) *rail.Rail {
	t.Helper()
	doc, err := setup.ReadYAML([]byte(yaml))
	require.NoError(t, err)
	p, err := signal.Compile(doc.Setup)
	require.NoError(t, err)
	return rail.Build(p)
}

// states are the states by place.
func states(r *rail.Rail) map[string]string {
	list := map[string]string{}
	for _, one := range r.Places {
		list[one.Key] = one.State
	}
	return list
}

const empty = "format: axtren-setup\nversion: 1\n"

// TestAnEmptyModelHasEveryPlace holds the order of the places and what each says where there
// is nothing; lists are empty, never missing.
func TestAnEmptyModelHasEveryPlace(t *testing.T) {
	r := build(t, empty)
	var titles []string
	for _, one := range r.Places {
		titles = append(titles, one.Title)
		require.NotEmpty(t, one.State, one.Key)
	}
	require.Equal(t, []string{"Kit", "Plan", "Functions", "Mixing", "Rules", "Loss and start", "Stage", "Sheet",
		"Bench", "Log"}, titles)
	require.Equal(t, "nothing to plan yet", states(r)["plan"])
	require.Equal(t, "transmitter, no receiver yet", states(r)["kit"])
	require.Equal(t, "none yet", states(r)["functions"])
	require.Equal(t, "no pair yet", states(r)["mixing"])
	require.Equal(t, "no rule yet", states(r)["rules"])
	require.Equal(t, "nothing found", states(r)["loss"])
	require.Equal(t, []rail.Finding{}, r.Findings)
}

// TestTheStateFollowsTheModel counts functions, receivers, rules and what is to be proved.
func TestTheStateFollowsTheModel(t *testing.T) {
	r := build(t, empty+`
transmitter: {controls: [{id: b, kind: switch, positions: [off, on]}, {id: a, kind: axis}]}
logic: [{id: l, block: toggle, in: b.on}]
outputs: [{id: lamp, channel: 1}, {id: idle, channel: 2}]
mixes: [{to: lamp, from: 100, when: l}]
receivers: [{id: one, pins: [{pin: 1, channel: 1}]}, {id: two, pins: [{pin: 1, channel: 2}]}]
claims: [{id: c, never: [l, b.off]}]
`)
	got := states(r)
	require.Equal(t, "transmitter, 2 receivers", got["kit"])
	require.Equal(t, "2, 1 not driven", got["functions"])
	require.Equal(t, "1 rule, 1 must hold", got["rules"])
}

// TestAFullModelSaysHowMany: all functions driven; rules of each of their four lists; pairs with the
// way of the first, and how many more.
func TestAFullModelSaysHowMany(t *testing.T) {
	r := build(t, empty+`
transmitter:
  controls:
    - {id: drive, kind: axis}
    - {id: turn, kind: axis}
    - {id: drive2, kind: axis}
    - {id: turn2, kind: axis}
    - {id: drive3, kind: axis}
    - {id: turn3, kind: axis}
    - {id: b, kind: switch, positions: [off, on], spring_to: off}
logic: [{id: l, block: toggle, in: b.on}, {id: m, block: and, in: [l, b.on]}, {id: n, block: or, in: [l, b.on]}]
steppers: [{id: gear, up: b.on, steps: [{name: one, value: 0}, {name: two, value: 50}]}]
sequences: [{id: open, go: l, tracks: {door: [[0, 0], [2, 100]]}}]
patterns: [{id: blink, when: l, rest: 0, steps: [[0.5, 100], [0.5, 0]], loop: true}]
outputs: [{id: port, channel: 1}, {id: starboard, channel: 2}, {id: left, channel: 3}, {id: right, channel: 4},
  {id: fore, channel: 5}, {id: aft, channel: 6}]
shares: [{id: s, outputs: [port, starboard], rule: scale}, {id: u, outputs: [left, right], rule: scale},
  {id: w, outputs: [fore, aft], rule: scale}]
mixes: [{to: port, from: drive}, {to: port, from: turn}, {to: starboard, from: drive},
  {to: starboard, from: turn, gain: -100},
  {to: left, from: drive2}, {to: left, from: turn2}, {to: right, from: drive2},
  {to: right, from: turn2, gain: -100},
  {to: fore, from: drive3}, {to: fore, from: turn3}, {to: aft, from: drive3},
  {to: aft, from: turn3, gain: -100}]
receivers: [{id: one, pins: [{pin: 1, channel: 1}, {pin: 2, channel: 2}, {pin: 3, channel: 3}, {pin: 4, channel: 4},
  {pin: 5, channel: 5}, {pin: 6, channel: 6}]}]
`)
	got := states(r)
	require.Equal(t, "transmitter, 1 receiver", got["kit"])
	require.Equal(t, "6, all driven", got["functions"])
	require.Equal(t, "6 rules", got["rules"])
	require.Equal(t, "one stick for both, and 2 more", got["mixing"])
}

// TestOnePairIsNoMore, and what is driven in a way of its own says so.
func TestOnePairIsNoMore(t *testing.T) {
	pair := func(turn int) string {
		return states(build(t, empty+fmt.Sprintf(`
transmitter: {controls: [{id: drive, kind: axis}, {id: turn, kind: axis}]}
outputs: [{id: port, channel: 1}, {id: starboard, channel: 2}]
shares: [{id: s, outputs: [port, starboard], rule: scale}]
mixes: [{to: port, from: drive}, {to: port, from: turn}, {to: starboard, from: drive},
  {to: starboard, from: turn, gain: %d}]
receivers: [{id: one, pins: [{pin: 1, channel: 1}, {pin: 2, channel: 2}]}]
`, turn)))["mixing"]
	}
	require.Equal(t, "one stick for both", pair(-100))
	require.Equal(t, "mixes of its own", pair(37))
}

// TestFindingsLeadToTheirPart: each finding names a place that there is, the part that it is
// about: where it is mended, and nowhere else.
func TestFindingsLeadToTheirPart(t *testing.T) {
	r := build(t, empty+`
transmitter: {controls: [{id: a, kind: axis}]}
outputs: [{id: screw, channel: 1, loss: {mode: hold}}, {id: idle, channel: 2}]
mixes: [{to: screw, from: a}]
receivers: [{id: rx, failsafe: {can: [hold]}, pins: [{pin: 1, channel: 1}, {pin: 2, channel: 2}]}]
devices: [{id: motor, on: rx.1, kind: esc}]
`)
	var said []string
	for _, f := range r.Findings {
		said = append(said, f.Severity+" "+f.Place+" "+f.Part)
		require.NotEmpty(t, f.Message)
		require.NotEmpty(t, f.Remedy)
	}
	require.Equal(t, []string{"warning functions outputs/idle", "warning loss outputs/screw"}, said)
	require.Equal(t, "1 to look at", states(r)["loss"])

	two := states(build(t, empty+`
transmitter: {controls: [{id: a, kind: axis}]}
outputs: [{id: screw, channel: 1, loss: {mode: hold}}, {id: bow, channel: 2, loss: {mode: hold}},
  {id: idle, channel: 3}]
mixes: [{to: screw, from: a}, {to: bow, from: a}]
receivers: [{id: rx, failsafe: {can: [hold]}, pins: [{pin: 1, channel: 1}, {pin: 2, channel: 2},
  {pin: 3, channel: 3}]}]
devices: [{id: motor, on: rx.1, kind: esc}, {id: thruster, on: rx.2, kind: esc}]
`))
	require.Equal(t, "2 to look at", two["loss"], "what is found elsewhere is not counted")
	require.Equal(t, "3, 1 not driven", two["functions"])
}

// TestStoredPositionsGoOutOfDate: what was stored before a change is counted by itself.
func TestStoredPositionsGoOutOfDate(t *testing.T) {
	const model = `
transmitter: {controls: [{id: a, kind: axis}]}
outputs: [{id: planes, channel: 1, loss: {mode: preset, value: 40}%s}, {id: screw, channel: 2, loss: {mode: %s}}]
mixes: [{to: planes, from: a}, {to: screw, from: a}]
receivers: [{id: rx, failsafe: {can: [hold, cut, preset]}, pins: [{pin: 1, channel: 1}, {pin: 2, channel: 2}]}]
devices: [{id: plane_servo, on: rx.1, kind: servo}, {id: motor, on: rx.2, kind: esc}]
stand: {found: [{output: planes, what: loss, value: 40, with: plane_servo, channel: 1, reversed: false}]}
`
	said := func(reversed, mode string) string {
		return states(build(t, empty+fmt.Sprintf(model, reversed, mode)))["loss"]
	}
	require.Equal(t, "nothing found", said("", "cut"))
	require.Equal(t, "1 out of date", said(", reverse: true", "cut"))
	require.Equal(t, "1 to look at, 1 out of date", said(", reverse: true", "hold"))
	require.Equal(t, "1 to look at", said("", "hold"))
}

// TestWhatIsBeyondTheTransmitterIsSaidBesideIt, and leads to where the part is; what was found about a
// device is no such thing.
func TestWhatIsBeyondTheTransmitterIsSaidBesideIt(t *testing.T) {
	r := build(t, empty+`
transmitter: {controls: [{id: a, kind: axis}, {id: sw, kind: switch, positions: [low, high]}], can: {rates: 1, mixes: 0}}
demands: [{id: helm, from: a, rates: [{when: sw.high, rate: 50}]}]
outputs: [{id: screw, channel: 1, start: {value: 0}, loss: {mode: preset, value: 0}}]
mixes: [{to: screw, from: helm}, {to: screw, from: a, gain: 50}]
receivers: [{id: rx, failsafe: {can: [preset]}, pins: [{pin: 1, channel: 1}]}]
devices: [{id: box, on: rx.1, kind: step_box, steps: 3, at: 50, loss: 1}]
`)
	var said []string
	for _, f := range r.Findings {
		if f.Place == "kit" {
			said = append(said, strings.Join([]string{f.Rule, f.Part, f.Leads}, " "))
		}
	}
	require.ElementsMatch(t, []string{"cannot demands/helm functions", "cannot  kit"}, said,
		"a count has no part")
	lost := slices.IndexFunc(r.Findings, func(f rail.Finding) bool { return f.Place == "loss" })
	require.Equal(t, "box_never_learns devices/box kit",
		strings.Join([]string{r.Findings[lost].Rule, r.Findings[lost].Part, r.Findings[lost].Leads}, " "))
}

// TestEveryStartHasItsRail: every kind of model that is begun has a state in each place.
func TestEveryStartHasItsRail(t *testing.T) {
	for _, k := range starts.Kinds() {
		doc, err := starts.Start(k.Kind)
		require.NoError(t, err)
		p, err := signal.Compile(doc.Setup)
		require.NoError(t, err)
		for _, one := range rail.Build(p).Places {
			require.NotEmpty(t, one.State, "%s of %s", one.Key, k.Kind)
		}
	}
}
