package loss

import (
	"fmt"
	"regexp"
	"slices"
	"strings"
	"testing"

	"github.com/stretchr/testify/require"

	"axtren/core/setup"
	"axtren/demo"
)

// frame is what the samples stand in: a stick, a lever, a receiver that can do everything.
const frame = `
format: axtren-setup
version: 1
transmitter:
  controls:
    - {id: stick, kind: axis, spring: centre}
    - {id: lever, kind: axis, spring: none}
  can: {scales: {failsafe: %s}}
`

// usual is what moves the function where a sample does not say it.
const usual = "mixes: [{to: o, from: stick}]\n"

// whole is a sample in its frame.
func whole(scale, text string) string {
	head := fmt.Sprintf(frame, scale)
	if !strings.Contains(text, "mixes:") {
		head += usual
	}
	return head + text
}

// samples are setups, each with the hazards that must be found in it, and no others. Parts that are left out
// are those of frame; want is rule, where, and some of the words.
var samples = []struct{ name, scale, text string }{
	{"a motor that stops", "percent", `
outputs: [{id: o, channel: 1, loss: {mode: preset, value: 0}}]
receivers: [{id: rx, failsafe: {can: [preset]}, pins: [{pin: 1, channel: 1}]}]
devices: [{id: m, on: rx.1, kind: esc}]
`},
	{"a motor that holds", "percent", `
outputs: [{id: o, channel: 1, loss: {mode: hold}}]
receivers: [{id: rx, failsafe: {can: [hold, preset]}, pins: [{pin: 1, channel: 1}]}]
devices: [{id: m, label: screw controller, on: rx.1, kind: esc}]
# want: goes_on_at_loss outputs[0].loss the last pulse is held: screw controller goes on as it was
# mend: Let it go to 0
`},
	{"a motor on a receiver that can only hold", "percent", `
outputs: [{id: o, channel: 1}]
receivers: [{id: rx, pins: [{pin: 1, channel: 1}]}]
devices: [{id: m, on: rx.1, kind: esc}]
# want: goes_on_at_loss outputs[0].loss nothing is said of a lost signal
`},
	{"50 typed on a scale of −100 to +100", "percent", `
outputs: [{id: o, channel: 1, loss: {mode: preset, value: 50}}]
receivers: [{id: rx, failsafe: {can: [preset]}, pins: [{pin: 1, channel: 1}]}]
devices: [{id: m, label: Screw, on: rx.1, kind: esc}]
# want: wrong_scale outputs[0].loss.value Screw turns when the signal is lost, at 48: its loss position is 50 on a scale of −100 to +100, and would be the stop on one of 0 to 100, centre 50
# mend: Let it go to 0
`},
	{"0 typed on a scale of 0 to 100", "span", `
outputs: [{id: o, channel: 1, loss: {mode: preset, value: -100}}]
receivers: [{id: rx, failsafe: {can: [preset]}, pins: [{pin: 1, channel: 1}]}]
devices: [{id: m, on: rx.1, kind: esc}]
# want: wrong_scale outputs[0].loss.value its loss position is 0 on a scale of 0 to 100, centre 50, and would be the stop on one of −100 to +100
# mend: Let it go to 0
`},
	{"a low power that brings it home is no slip", "percent", `
outputs: [{id: o, channel: 1, loss: {mode: preset, value: 20}}]
receivers: [{id: rx, failsafe: {can: [preset]}, pins: [{pin: 1, channel: 1}]}]
devices: [{id: m, on: rx.1, kind: esc}]
# want: goes_on_at_loss outputs[0].loss turns at 17 when the signal is lost: its loss position is +20
# mend: Let it go to 0
`},
	{"a servo at 50 hurts nobody", "percent", `
outputs: [{id: o, channel: 1, loss: {mode: preset, value: 50}}]
receivers: [{id: rx, failsafe: {can: [preset]}, pins: [{pin: 1, channel: 1}]}]
devices: [{id: m, on: rx.1, kind: servo}]
`},
	{"a pump that holds, with valves", "percent", `
outputs: [{id: o, channel: 1, loss: {mode: hold}}, {id: v, channel: 2}]
receivers: [{id: rx, failsafe: {can: [hold, preset]}, pins: [{pin: 1, channel: 1}, {pin: 2, channel: 2}]}]
devices: [{id: m, label: oil pump, on: rx.1, kind: esc}, {id: w, on: rx.2, kind: servo, label: boom valve}]
# want: goes_on_at_loss outputs[0].loss oil pump goes on as it was, against its valves, which may be shut
# mend: Let it go to 0
`},
	{"an ignition that stays on", "percent", `
outputs: [{id: o, channel: 1, loss: {mode: hold}}]
receivers: [{id: rx, failsafe: {can: [hold, cut]}, pins: [{pin: 1, channel: 1}]}]
devices: [{id: m, label: ignition, on: rx.1, kind: relay}]
# want: goes_on_at_loss outputs[0].loss ignition goes on as it was
# mend: Let its pulses stop
`},
	{"an ignition that is killed while its relay is off", "percent", `
outputs: [{id: o, channel: 1, loss: {mode: cut}}]
receivers: [{id: rx, failsafe: {can: [cut]}, pins: [{pin: 1, channel: 1}]}]
devices: [{id: m, label: ignition, on: rx.1, kind: relay, kills: "off"}]
`},
	{"a kill that has to be on", "percent", `
outputs: [{id: o, channel: 1, loss: {mode: cut}}]
receivers: [{id: rx, failsafe: {can: [cut, preset]}, pins: [{pin: 1, channel: 1}]}]
devices: [{id: m, label: kill switch, on: rx.1, kind: relay, kills: "on"}]
# want: goes_on_at_loss outputs[0].loss without them kill switch lets the engine run
# mend: Let it go to +25
# want: on_without_pulses devices[0].no_pulse kill switch lets the engine run while there are no pulses
`},
	{"a pump that wants pulses to stop", "percent", `
outputs: [{id: o, channel: 1, loss: {mode: cut}}]
receivers: [{id: rx, failsafe: {can: [cut]}, pins: [{pin: 1, channel: 1}]}]
devices: [{id: m, label: bilge, on: rx.1, kind: pump, no_pulse: "on"}]
# want: goes_on_at_loss outputs[0].loss the pulses stop, and without them bilge runs
# want: on_without_pulses devices[0].no_pulse bilge runs while there are no pulses
`},
	{"it stops since this receiver stops its pulses", "percent", `
outputs: [{id: o, channel: 1}]
receivers: [{id: rx, failsafe: {can: [hold], otherwise: cut}, pins: [{pin: 1, channel: 1}]}]
devices: [{id: m, on: rx.1, kind: esc}]
# want: no_loss outputs[0].loss this receiver stops its pulses
`},
	{"a controller with a switch of its own", "percent", `
outputs: [{id: o, channel: 1, loss: {mode: preset, value: 0}}]
receivers: [{id: rx, failsafe: {can: [preset]}, pins: [{pin: 1, channel: 1}]}]
devices: [{id: m, label: bow motor, on: rx.1, kind: esc, own_switch: true}]
# want: wakes_later devices[0].needs_neutral bow motor has a switch of its own
`},
	{"one that waits for its neutral", "percent", `
outputs: [{id: o, channel: 1, loss: {mode: preset, value: 0}}]
receivers: [{id: rx, failsafe: {can: [preset]}, pins: [{pin: 1, channel: 1}]}]
devices: [{id: m, on: rx.1, kind: esc, own_switch: true, needs_neutral: true}]
`},
	{"a latch that wakes on", "percent", `
logic: [{id: run, label: Pump wanted, block: sr, set: stick_up, reset: stick_down, start: true}, {id: stick_up, block: above, of: stick, level: 50}, {id: stick_down, block: below, of: stick, level: -50}]
outputs: [{id: o, channel: 1}, {id: q, channel: 2, loss: {mode: preset, value: 0}}]
receivers: [{id: rx, failsafe: {can: [preset]}, pins: [{pin: 1, channel: 1}, {pin: 2, channel: 2}]}]
devices: [{id: m, label: pump motor, on: rx.2, kind: esc}]
mixes: [{to: o, from: stick}, {to: q, from: 60, when: run}]
# want: latch_wakes_on logic[0].start Pump wanted wakes on: pump motor turns as soon as the transmitter is on
`},
	{"one that wakes as it was left", "percent", `
logic: [{id: run, label: Pump wanted, block: sr, set: stick_up, reset: stick_down, start: kept}, {id: stick_up, block: above, of: stick, level: 50}, {id: stick_down, block: below, of: stick, level: -50}]
outputs: [{id: o, channel: 1}, {id: q, channel: 2, loss: {mode: preset, value: 0}}]
receivers: [{id: rx, failsafe: {can: [preset]}, pins: [{pin: 1, channel: 1}, {pin: 2, channel: 2}]}]
devices: [{id: m, label: pump motor, on: rx.2, kind: esc}]
mixes: [{to: o, from: stick}, {to: q, from: 60, when: run}]
# want: latch_wakes_on logic[0].start Pump wanted may wake on, as it was left: pump motor turns
`},
	{"one that wakes off", "percent", `
logic: [{id: run, block: sr, set: stick_up, reset: stick_down}, {id: stick_up, block: above, of: stick, level: 50}, {id: stick_down, block: below, of: stick, level: -50}]
outputs: [{id: o, channel: 1}, {id: q, channel: 2, loss: {mode: preset, value: 0}}]
receivers: [{id: rx, failsafe: {can: [preset]}, pins: [{pin: 1, channel: 1}, {pin: 2, channel: 2}]}]
devices: [{id: m, on: rx.2, kind: esc}]
mixes: [{to: o, from: stick}, {to: q, from: 60, when: run}]
`},
	{"beyond its end", "percent", `
outputs: [{id: o, channel: 1, low: -60, high: 60, loss: {mode: preset, value: 80}}]
receivers: [{id: rx, failsafe: {can: [preset]}, pins: [{pin: 1, channel: 1}]}]
devices: [{id: m, on: rx.1, kind: servo}]
# want: loss_beyond_end outputs[0].loss.value goes to +80, beyond its own end
# mend: Let it go to +60
`},
	{"a receiver that can do it on one pin only", "percent", `
outputs: [{id: o, channel: 1, loss: {mode: preset, value: 0}}, {id: q, channel: 3}]
receivers: [{id: rx, failsafe: {can: [hold, preset], preset_pins: [3]}, pins: [{pin: 1, channel: 1}, {pin: 3, channel: 3}]}]
devices: [{id: m, on: rx.1, kind: servo}]
# want: loss_not_kept receivers[0].pins[0] cannot, and will hold the last pulse
# do: on pin 3 alone: let Plan move it there
`},
	{"a step box that never learns", "percent", `
outputs: [{id: o, channel: 1, loss: {mode: hold}}]
receivers: [{id: rx, failsafe: {can: [hold, cut]}, pins: [{pin: 1, channel: 1}]}]
devices: [{id: m, label: gear, on: rx.1, kind: step_box, steps: 3, loss: 1}]
# want: box_never_learns devices[0].loss gear goes to step 1 when its pulses stop
# mend: Let its pulses stop
`},
	{"stored before it was reversed, moved and bound", "percent", `
outputs: [{id: o, label: Planes, channel: 2, reverse: true, loss: {mode: preset, value: 50}}]
receivers: [{id: rx, bound: 5 Nov, failsafe: {can: [preset]}, pins: [{pin: 1, channel: 2}]}]
devices: [{id: m, on: rx.1, kind: servo, fitted: 4 Nov}]
stand: {found: [{output: o, what: loss, value: 48, with: m, fitted: 3 Nov, channel: 1, reversed: false, bound: 3 Nov}]}
# want: stored_before outputs[0].loss the loss position of Planes was stored before it was reversed, was moved from channel 1 to channel 2, has a receiver that was bound again and got another servo: it may go to the other side
`},
	{"stored as it is", "percent", `
outputs: [{id: o, label: Planes, channel: 2, loss: {mode: preset, value: 50}}]
receivers: [{id: rx, bound: 5 Nov, failsafe: {can: [preset]}, pins: [{pin: 1, channel: 2}]}]
devices: [{id: m, on: rx.1, kind: servo}]
stand: {found: [{output: o, what: loss, value: 47, with: m, channel: 2, reversed: false, bound: 5 Nov}]}
`},
	{"read back as another", "percent", `
outputs: [{id: o, label: Planes, channel: 2, loss: {mode: preset, value: 50}}]
receivers: [{id: rx, failsafe: {can: [preset]}, pins: [{pin: 1, channel: 2}]}]
devices: [{id: m, on: rx.1, kind: servo}]
stand: {found: [{output: o, what: loss, value: 46.5}]}
# want: read_back outputs[0].loss.value was read back as +46.5, and is to be +50
`},
}

var wanted = regexp.MustCompile(`(?m)^# (want|mend|do): (.*)$`)

// TestHazards compares what is found in each sample with what it says must be found, in that order.
func TestHazards(t *testing.T) {
	seen := map[string]bool{}
	for _, sample := range samples {
		p := compiled(t, whole(sample.scale, sample.text))
		found := Hazards(p)
		var at int
		for _, line := range wanted.FindAllStringSubmatch(sample.text, -1) {
			switch line[1] {
			case "want":
				words := strings.SplitN(line[2], " ", 3)
				require.Less(t, at, len(found), sample.name+": "+line[2])
				h := found[at]
				at++
				require.Equal(t, words[0]+" "+words[1], h.Rule+" "+h.Where, sample.name)
				require.Contains(t, h.Says, words[2], sample.name)
				require.NotEmpty(t, h.Remedy, sample.name)
				seen[h.Rule] = true
			case "do":
				require.Contains(t, found[at-1].Remedy, line[2], sample.name)
			case "mend":
				require.NotNil(t, found[at-1].Mend, sample.name)
				require.Equal(t, line[2], found[at-1].Mend.Says, sample.name)
			}
		}
		require.Len(t, found, at, sample.name)
		for _, h := range found {
			mends := strings.Contains(sample.text, "# mend: ")
			require.Equal(t, mends, slices.ContainsFunc(found,
				func(h Hazard) bool { return h.Mend != nil }), sample.name)
			if h.Mend != nil {
				mended(t, whole(sample.scale, sample.text), &h)
			}
		}
	}
	for _, rule := range Rules {
		require.True(t, seen[rule.Name], rule.Name+" has no sample")
		require.NotEmpty(t, rule.Doc)
	}
}

// mended puts what mends a hazard into its setup: it is no more.
func mended(t *testing.T, text string, h *Hazard) {
	t.Helper()
	doc, err := setup.ReadYAML([]byte(text))
	require.NoError(t, err)
	after, err := Mended(doc, h)
	require.NoError(t, err)
	for _, left := range Hazards(compiledDoc(t, after)) {
		require.False(t, left.Rule == h.Rule && left.Where == h.Where, left.Says)
	}
}

// TestTheDemosHazards are those that are planted in it.
func TestTheDemosHazards(t *testing.T) {
	yard, err := demo.Yard()
	require.NoError(t, err)
	found := map[string][]string{}
	for _, m := range yard {
		for _, h := range Hazards(compiledDoc(t, m.Doc)) {
			found[m.Doc.Setup.Name] = append(found[m.Doc.Setup.Name], h.Rule)
		}
	}
	require.Equal(t, map[string][]string{"Marram": {"wrong_scale"}, "Quill": {"stored_before"}}, found)
}
