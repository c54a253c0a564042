package check

import (
	"fmt"
	"slices"
	"strings"
	"testing"

	"github.com/stretchr/testify/require"

	"axtren/core/signal"
	"axtren/core/starts"
	"axtren/demo"
)

// rig is a set with a stick, a lever that stays and two switches, and a receiver that
// holds, cuts and goes to positions; a sample adds what it is about.
const rig = `
transmitter:
  controls:
    - {id: a, kind: axis}
    - {id: b, kind: axis}
    - {id: k, kind: axis, spring: none}
    - {id: s, kind: switch, positions: [up, down]}
    - {id: t, kind: switch, positions: [one, two, three]}
`

// all uses every control of the rig, on an output of its own that no finding is about.
const all = `, {to: z, from: a, gain: 10}, {to: z, from: b, gain: 10}, {to: z, from: k, gain: 10}, {to: z, from: s, gain: 10}, {to: z, from: t, gain: 10}`

const z = `, {id: z, channel: 40}`

const rx = "receivers: [{id: r, failsafe: {can: [hold, cut, preset], otherwise: hold}, pins: [{pin: 1, " +
	"channel: 1}, {pin: 9, channel: 40}]}]\n"

// sample is a setup of one line and one device on it: want are all findings that it
// must give, rule and place, in any order, and no other.
type sample struct {
	name, mixes, outputs, devices, more string
	can                                 bool // the set says that it can do little
	want                                []string
	says                                string // in one of the messages
}

func (s *sample) text() string {
	text := rig + "mixes: [" + s.mixes + all + "]\noutputs: [" + s.outputs + z + "]\n"
	if s.devices != "" {
		text += "devices: [" + s.devices + "]\n"
	}
	if !strings.Contains(s.more, "receivers:") {
		text += rx
	}
	return text + s.more + "\n"
}

var samples = []sample{
	{name: "nothing is wrong", mixes: "{to: o, from: a}",
		outputs: "{id: o, channel: 1, loss: {mode: preset, value: 0}}",
		devices: "{id: m, on: r.1, kind: esc}"},

	// what a motor does on a lost signal is worked out from the motor
	{name: "a controller without reverse at 0 is half throttle",
		mixes:   "{to: o, from: a, shape: up, gain: 200, bias: -100}",
		outputs: "{id: o, channel: 1, loss: {mode: preset, value: 0}}",
		devices: "{id: m, on: r.1, kind: esc, reverse: none, learned_us: {neutral: 1000, high: 2000}}",
		want:    []string{"wrong_scale outputs[0].loss.value"},
		says:    "its loss position is 0 on a scale of −100 to +100, and would be the stop on one of 0 to 100"},
	{name: "and so it is at 20, which is a stop in no scale",
		mixes:   "{to: o, from: a, shape: up, gain: 200, bias: -100}",
		outputs: "{id: o, channel: 1, loss: {mode: preset, value: 20}}",
		devices: "{id: m, on: r.1, kind: esc, reverse: none, learned_us: {neutral: 1000, high: 2000}}",
		want:    []string{"goes_on_at_loss outputs[0].loss"},
		says:    "Speed controller on pin 1 turns at 59 when the signal is lost"},
	{name: "and at -100 it stops", mixes: "{to: o, from: a, shape: up, gain: 200, bias: -100}",
		outputs: "{id: o, channel: 1, loss: {mode: preset, value: -100}}",
		devices: "{id: m, on: r.1, kind: esc, reverse: none, learned_us: {neutral: 1000, high: 2000}}"},
	{name: "full ahead", mixes: "{to: o, from: a}",
		outputs: "{id: o, channel: 1, loss: {mode: preset, value: 100}}",
		devices: "{id: m, on: r.1, kind: esc}",
		want:    []string{"goes_on_at_loss outputs[0].loss"}, says: "let it stop: go to 0"},
	{name: "a brake is no harm", mixes: "{to: o, from: a}",
		outputs: "{id: o, channel: 1, loss: {mode: preset, value: -60}}",
		devices: "{id: m, on: r.1, kind: esc, reverse: brake_first}"},
	{name: "what it moves has an end", mixes: "{to: o, from: a}",
		outputs: "{id: o, channel: 1, loss: {mode: preset, value: -100}}",
		devices: "{id: m, on: r.1, kind: esc, travel: {full_s: 4}}",
		want:    []string{"goes_on_at_loss outputs[0].loss"}, says: "until what it moves is at its end"},
	{name: "hold", mixes: "{to: o, from: a}", outputs: "{id: o, channel: 1, loss: {mode: hold}}",
		devices: "{id: m, on: r.1, kind: esc}", want: []string{"goes_on_at_loss outputs[0].loss"},
		says: "goes on as it was"},
	{name: "nothing said, the receiver holds", mixes: "{to: o, from: a}", outputs: "{id: o, channel: 1}",
		devices: "{id: m, on: r.1, kind: esc}", want: []string{"goes_on_at_loss outputs[0].loss"},
		says: "nothing is said"},
	{name: "nothing said, the receiver cuts", mixes: "{to: o, from: a}", outputs: "{id: o, channel: 1}",
		devices: "{id: m, on: r.1, kind: esc}",
		more: "receivers: [{id: r, failsafe: {can: [hold], otherwise: cut}, pins: [{pin: 1, channel: 1}, " +
			"{pin: 9, channel: 40}]}]", want: []string{"no_loss outputs[0].loss"}},
	{name: "cut on purpose", mixes: "{to: o, from: a}", outputs: "{id: o, channel: 1, loss: {mode: cut}}",
		devices: "{id: m, on: r.1, kind: esc}"},
	{name: "a servo may hold", mixes: "{to: o, from: a}", outputs: "{id: o, channel: 1}",
		devices: "{id: m, on: r.1, kind: servo}"},
	{name: "a lamp may stay on", mixes: "{to: o, from: a}", outputs: "{id: o, channel: 1}",
		devices: "{id: m, on: r.1, kind: lamp}"},
	{name: "a dimmer is no motor", mixes: "{to: o, from: k}",
		outputs: "{id: o, label: Flood lamp, channel: 1}", devices: "{id: m, on: r.1, kind: esc}"},
	{name: "nor is what the picture shows as a lamp", mixes: "{to: o, from: k}",
		outputs: "{id: o, channel: 1}", devices: "{id: m, on: r.1, kind: esc}",
		more: "stage: {parts: [{part: lamp, device: m}]}"},
	{name: "unless it shows a motor of it too", mixes: "{to: o, from: a}",
		outputs: "{id: o, channel: 1}", devices: "{id: m, on: r.1, kind: esc}",
		more: "stage: {parts: [{part: lamp, device: m}, {part: screw, device: m}]}",
		want: []string{"goes_on_at_loss outputs[0].loss"}},
	{name: "an ignition that stays on", mixes: "{to: o, from: s}",
		outputs: "{id: o, label: Ignition, channel: 1, loss: {mode: preset, value: 60}}",
		devices: "{id: m, on: r.1, kind: relay}",
		want:    []string{"goes_on_at_loss outputs[0].loss", "kill_not_said devices[0].kills"},
		says:    "Relay on pin 1 stays on when the signal is lost"},
	{name: "a kill that is on, and lets go at the loss", mixes: "{to: o, from: s}",
		outputs: "{id: o, label: Ignition, channel: 1, loss: {mode: preset, value: -60}}",
		devices: "{id: m, on: r.1, kind: relay, kills: \"on\", no_pulse: \"on\"}",
		want:    []string{"goes_on_at_loss outputs[0].loss"}, says: "let it stop: go well above 0"},
	{name: "a kill that is on, at the loss too", mixes: "{to: o, from: s}",
		outputs: "{id: o, label: Ignition, channel: 1, loss: {mode: preset, value: 60}}",
		devices: "{id: m, on: r.1, kind: relay, kills: \"on\", no_pulse: \"on\"}"},
	{name: "a kill by a low level", mixes: "{to: o, from: s}",
		outputs: "{id: o, channel: 1, loss: {mode: preset, value: 60}}",
		devices: "{id: m, on: r.1, kind: relay, kills: \"off\"}",
		want:    []string{"goes_on_at_loss outputs[0].loss"},
		says:    "Relay on pin 1 lets the engine run when the signal is lost"},
	{name: "a kill that needs pulses", mixes: "{to: o, from: s}",
		outputs: "{id: o, channel: 1, loss: {mode: preset, value: 60}}",
		devices: "{id: m, on: r.1, kind: relay, kills: \"on\"}",
		want:    []string{"on_without_pulses devices[0].no_pulse"},
		says:    "lets the engine run while there are no pulses"},
	{name: "no hand kills it", mixes: "{to: o, from: -100}",
		outputs: "{id: o, channel: 1, loss: {mode: preset, value: 60}}",
		devices: "{id: m, on: r.1, kind: relay, kills: \"on\", no_pulse: \"on\"}",
		want:    []string{"no_kill devices[0].kills", "never_on devices[0].at_us"},
		says:    "no single movement of a hand lets Relay on pin 1 kill the engine"},
	{name: "a kill on the wrong level", mixes: "{to: o, from: s}",
		outputs: "{id: o, channel: 1, loss: {mode: preset, value: 60}}",
		devices: "{id: m, on: r.1, kind: relay, kills: \"on\", no_pulse: \"on\"}",
		more:    "start_check: [{control: s, is: up}]", want: []string{"kill_wrong_level devices[0].kills"},
		says: "with the start check met Relay on pin 1 lets the engine run"},
	{name: "the same, on the right one", mixes: "{to: o, from: s}",
		outputs: "{id: o, channel: 1, loss: {mode: preset, value: 60}}",
		devices: "{id: m, on: r.1, kind: relay, kills: \"on\", no_pulse: \"on\"}",
		more:    "start_check: [{control: s, is: down}]"},

	// rules
	{name: "a latch that wakes on, and a pump with it", mixes: "{to: o, from: q}",
		outputs: "{id: o, channel: 1, loss: {mode: preset, value: -60}}", devices: "{id: m, on: r.1, kind: pump}",
		more: "logic: [{id: q, label: Water, block: toggle, in: s.down, start: true}]",
		want: []string{"latch_wakes_on logic[0].start"},
		says: "Water wakes on: Pump on pin 1 runs as soon as the transmitter is on"},
	{name: "one that may wake on", mixes: "{to: o, from: q}",
		outputs: "{id: o, channel: 1, loss: {mode: preset, value: -60}}", devices: "{id: m, on: r.1, kind: pump}",
		more: "logic: [{id: q, label: Water, block: rs, set: s.down, reset: t.two, start: kept}]",
		want: []string{"latch_wakes_on logic[0].start"}, says: "may wake on, as it was left"},
	{name: "one that the start check holds off", mixes: "{to: o, from: q}",
		outputs: "{id: o, channel: 1, loss: {mode: preset, value: -60}}", devices: "{id: m, on: r.1, kind: pump}",
		more: "logic: [{id: q, block: toggle, in: s.down, reset: t.two, start: true}]\n" +
			"start_check: [{control: t, is: two}]"},
	{name: "a lamp that wakes on does no harm", mixes: "{to: o, from: q}", outputs: "{id: o, channel: 1}",
		devices: "{id: m, on: r.1, kind: lamp}", more: "logic: [{id: q, block: toggle, in: s.down, start: true}]"},
	{name: "a press shorter than what waits for it", mixes: "{to: o, from: q}", outputs: "{id: o, channel: 1}",
		more: "logic: [{id: p, label: Press, block: tp, in: s.down, for_s: 0.3}, {id: q, label: " +
			"Long, block: ton, in: p, " +
			"for_s: 0.5}]",
		want: []string{"press_too_short logic[1].for_s"},
		says: "Long never comes on: it waits until Press has lasted 0.5 s, and that lasts 0.3 s"},
	{name: "one that is long enough", mixes: "{to: o, from: q}", outputs: "{id: o, channel: 1}",
		more: "logic: [{id: p, block: tp, in: s.down, for_s: 0.6}, {id: q, block: ton, in: p, for_s: 0.5}]"},
	{name: "a moment is shorter than any wait", mixes: "{to: o, from: q}", outputs: "{id: o, channel: 1}",
		more: "logic: [{id: p, block: r_trig, in: s.down}, {id: q, block: ton, in: p, for_s: 0.5}]",
		want: []string{"press_too_short logic[1].for_s"}},
	{name: "a blink that the channel cannot carry", mixes: "{to: o, from: q}", outputs: "{id: o, channel: 1}",
		more: "patterns: [{id: q, label: Flash, when: s.up, steps: [[100, 0.03], [-100, 0.5]]}]\n" +
			"link: {half_rate: [1]}",
		want: []string{"blink_too_quick patterns[0].steps"},
		says: "Flash has a step of 0.03 s, and channel 1 is told anew every 0.04 s"},
	{name: "the same on a quick channel", mixes: "{to: o, from: q}", outputs: "{id: o, channel: 1}",
		more: "patterns: [{id: q, when: s.up, steps: [[100, 0.03], [-100, 0.5]]}]"},
	{name: "a servo that cannot follow", mixes: "{to: o, from: q.leg}",
		outputs: "{id: o, label: Leg, channel: 1}",
		devices: "{id: m, label: Leg servo, on: r.1, kind: servo, speed_s: 2}",
		more:    "sequences: [{id: q, label: Unfold, go: s.down, tracks: {leg: [[0, -100], [1, -100], [2, 100]]}}]",
		want:    []string{"cannot_follow sequences[0].tracks"},
		says:    "Unfold asks Leg from 1 s on for 200 % a second, and Leg servo makes 100"},
	{name: "one that can, as its ends are near", mixes: "{to: o, from: q.leg}",
		outputs: "{id: o, channel: 1, low: -50, high: 50}",
		devices: "{id: m, on: r.1, kind: servo, speed_s: 2}",
		more:    "sequences: [{id: q, go: s.down, tracks: {leg: [[0, -100], [1, -100], [2, 100]]}}]"},
	{name: "a start alarm that sounds each time", mixes: "{to: o, from: k}", outputs: "{id: o, channel: 1}",
		more: "start_check: [{control: k, is: {from: 10, to: 12}}]",
		want: []string{"alarm_each_time start_check[0].is"},
		says: "an alarm that sounds each time gets switched off"},
	{name: "one that waits for an end", mixes: "{to: o, from: k}", outputs: "{id: o, channel: 1}",
		more: "start_check: [{control: k, is: {from: -100, to: -98}}]"},
	{name: "a card that wants 0 V on a pin of pulses", mixes: "{to: o, from: s}",
		outputs: "{id: o, channel: 1}", devices: "{id: m, on: r.1, kind: sound_trigger, wants: ground}",
		want: []string{"sound_not_set_off devices[0].wants"}, says: "its pin gives pulses"},
	{name: "and on one that gives it", mixes: "{to: o, from: s}",
		outputs: "{id: o, channel: 1}", devices: "{id: m, on: r.1, kind: sound_trigger, wants: ground}",
		more: "receivers: [{id: r, pins: [{pin: 1, channel: 1, switch: {at_us: 1500, level: low}}, " +
			"{pin: 9, channel: 40}]}]"},
	{name: "a card that wants a position on a pin that is on or off", mixes: "{to: o, from: s}",
		outputs: "{id: o, channel: 1}", devices: "{id: m, on: r.1, kind: sound_trigger, wants: position}",
		more: "receivers: [{id: r, pins: [{pin: 1, channel: 1, switch: {at_us: 1500}}, " +
			"{pin: 9, channel: 40}]}]", want: []string{"sound_not_set_off devices[0].wants"}},
	{name: "a pulse that is too short for a card", mixes: "{to: o, from: p}",
		outputs: "{id: o, channel: 1}",
		devices: "{id: m, on: r.1, kind: sound_trigger, wants: pulse, hold_s: 0.3}",
		more:    "logic: [{id: p, block: tp, in: s.up, for_s: 0.2}]",
		want:    []string{"sound_too_short devices[0].hold_s"}, says: "has to be set off for 0.3 s, and"},
	{name: "and one that is not", mixes: "{to: o, from: p}",
		outputs: "{id: o, channel: 1}",
		devices: "{id: m, on: r.1, kind: sound_trigger, wants: pulse, hold_s: 0.2}",
		more:    "logic: [{id: p, block: tp, in: s.up, for_s: 0.2}]"},
	{name: "an ignition that goes off", mixes: "{to: o, from: s}",
		outputs: "{id: o, label: Ignition, channel: 1, loss: {mode: preset, value: -60}}",
		devices: "{id: m, on: r.1, kind: relay}", want: []string{"kill_not_said devices[0].kills"}},
	{name: "another relay", mixes: "{to: o, from: s}",
		outputs: "{id: o, channel: 1, loss: {mode: preset, value: 60}}",
		devices: "{id: m, on: r.1, kind: relay}"},
	{name: "a pump that runs at the low end", mixes: "{to: o, from: s}",
		outputs: "{id: o, channel: 1, loss: {mode: preset, value: -60}}",
		devices: "{id: m, on: r.1, kind: pump, turns_on: below}",
		want:    []string{"goes_on_at_loss outputs[0].loss"}, says: "go well above 0"},
	{name: "a pump that runs without pulses", mixes: "{to: o, from: s}",
		outputs: "{id: o, channel: 1, loss: {mode: preset, value: -60}}",
		devices: "{id: m, on: r.1, kind: pump, no_pulse: \"on\"}",
		want:    []string{"on_without_pulses devices[0].no_pulse"}},
	{name: "and whose pulses stop", mixes: "{to: o, from: s}",
		outputs: "{id: o, channel: 1, loss: {mode: cut}}",
		devices: "{id: m, on: r.1, kind: pump, no_pulse: \"on\"}",
		want:    []string{"on_without_pulses devices[0].no_pulse", "goes_on_at_loss outputs[0].loss"}},
	{name: "a pump that stays as it was", mixes: "{to: o, from: s}",
		outputs: "{id: o, channel: 1, loss: {mode: cut}}",
		devices: "{id: m, on: r.1, kind: pump, no_pulse: stay}",
		want:    []string{"goes_on_at_loss outputs[0].loss"}, says: "stays as it was"},
	{name: "a pump on a switch pin", mixes: "{to: o, from: s}",
		outputs: "{id: o, channel: 1, loss: {mode: preset, value: -60}}",
		devices: "{id: m, on: r.1, kind: pump}",
		more: "receivers: [{id: r, failsafe: {can: [preset]}, pins: [{pin: 1, channel: 1, switch: {on: " +
			"below, at_us: 1400, level: low}}, {pin: 9, channel: 40}]}]",
		want: []string{"goes_on_at_loss outputs[0].loss"}},
	{name: "a loss position that the pin cannot keep", mixes: "{to: o, from: a}",
		outputs: "{id: o, channel: 1, loss: {mode: preset, value: 0}}",
		devices: "{id: m, on: r.1, kind: esc}",
		more: "receivers: [{id: r, failsafe: {can: [preset], preset_pins: [5]}, pins: [{pin: 1, channel: " +
			"1}, {pin: 9, channel: 40}]}]", want: []string{"loss_not_kept receivers[0].pins[0]",
			"goes_on_at_loss outputs[0].loss"}},
	{name: "a loss position beyond the end", mixes: "{to: o, from: a}",
		outputs: "{id: o, channel: 1, low: -50, high: 50, loss: {mode: preset, value: -70}}",
		devices: "{id: m, on: r.1, kind: servo}", want: []string{"loss_beyond_end outputs[0].loss.value"}},
	{name: "a loss position at the end", mixes: "{to: o, from: a}",
		outputs: "{id: o, channel: 1, low: -50, high: 50, loss: {mode: preset, value: -50}}",
		devices: "{id: m, on: r.1, kind: servo}"},

	// with hands off
	{name: "a neutral that was learned elsewhere", mixes: "{to: o, from: a}",
		outputs: "{id: o, channel: 1, loss: {mode: cut}}",
		devices: "{id: m, on: r.1, kind: esc, learned_us: {neutral: 1540}}",
		want:    []string{"hums_at_rest devices[0].learned_us.neutral"},
		says:    "it gets 1500 us and has learned its neutral at 1540"},
	{name: "a centre that is off", mixes: "{to: o, from: a}",
		outputs: "{id: o, channel: 1, centre: 8, loss: {mode: cut}}", devices: "{id: m, on: r.1, kind: esc}",
		want: []string{"hums_at_rest devices[0].learned_us.neutral"}},
	{name: "within the dead band", mixes: "{to: o, from: a}",
		outputs: "{id: o, channel: 1, centre: 4, loss: {mode: cut}}", devices: "{id: m, on: r.1, kind: esc}"},
	{name: "turns when it is switched on", mixes: "{to: o, from: a, bias: 40}",
		outputs: "{id: o, channel: 1, loss: {mode: cut}}", devices: "{id: m, on: r.1, kind: esc}",
		want: []string{"turns_at_rest devices[0].learned_us.neutral", "cut_short outputs[0]"},
		says: "Speed controller on pin 1 turns with hands off, at 38"},
	{name: "a brake at rest is no harm", mixes: "{to: o, from: a}",
		outputs: "{id: o, channel: 1, centre: -10, loss: {mode: cut}}",
		devices: "{id: m, on: r.1, kind: esc, reverse: brake_first}"},
	{name: "a neutral that never comes", mixes: "{to: o, from: a, shape: up}",
		outputs: "{id: o, channel: 1, centre: 10, loss: {mode: cut}}",
		devices: "{id: m, on: r.1, kind: esc, needs_neutral: true}",
		want: []string{"hums_at_rest devices[0].learned_us.neutral",
			"neutral_never devices[0].needs_neutral"}},
	{name: "a neutral on one bit", mixes: "{to: o, from: s}",
		outputs: "{id: o, channel: 1, loss: {mode: cut}}",
		devices: "{id: m, on: r.1, kind: esc, needs_neutral: true}", more: "link: {one_bit: [1]}",
		want: []string{"turns_at_rest devices[0].learned_us.neutral",
			"neutral_never devices[0].needs_neutral"}},
	{name: "a neutral that comes", mixes: "{to: o, from: a}",
		outputs: "{id: o, channel: 1, loss: {mode: cut}}",
		devices: "{id: m, on: r.1, kind: esc, needs_neutral: true}"},
	{name: "full power never reached", mixes: "{to: o, from: a}",
		outputs: "{id: o, channel: 1, loss: {mode: cut}}",
		devices: "{id: m, on: r.1, kind: esc, learned_us: {high: 2100}}",
		want:    []string{"full_power_never devices[0].learned_us"},
		says:    "never gets beyond 83 of its power"},
	{name: "a cap on purpose", mixes: "{to: o, from: a}",
		outputs: "{id: o, channel: 1, high: 60, loss: {mode: cut}}", devices: "{id: m, on: r.1, kind: esc}"},
	{name: "a lever that stays", mixes: "{to: o, from: k}", outputs: "{id: o, channel: 1, loss: {mode: cut}}",
		devices: "{id: m, on: r.1, kind: esc}", want: []string{"throttle_stays transmitter.controls[2]"}},
	{name: "and the start check looks at it", mixes: "{to: o, from: k}",
		outputs: "{id: o, channel: 1, loss: {mode: cut}}", devices: "{id: m, on: r.1, kind: esc}",
		more: "start_check: [{control: k, is: {from: -5, to: 5}}]"},
	{name: "and the controller waits", mixes: "{to: o, from: k}",
		outputs: "{id: o, channel: 1, loss: {mode: cut}}",
		devices: "{id: m, on: r.1, kind: esc, needs_neutral: true}"},
	{name: "and on a servo it may", mixes: "{to: o, from: k}", outputs: "{id: o, channel: 1}",
		devices: "{id: m, on: r.1, kind: servo}"},

	// thrown at full power
	{name: "a reversing lead", mixes: "{to: o, from: a, shape: abs}, {to: p, from: s}",
		outputs: "{id: o, channel: 1, loss: {mode: cut}}, {id: p, channel: 2}",
		devices: "{id: m, on: r.1, kind: esc, swap_on: r.2}",
		more: "receivers: [{id: r, failsafe: {can: [cut]}, pins: [{pin: 1, channel: 1}, {pin: 2, channel: " +
			"2}, {pin: 9, channel: 40}]}]",
		want: []string{"turned_at_power devices[0]"},
		says: "Switch 1 takes Speed controller on pin 1 from full one way to full the other"},
	{name: "a direction input", mixes: "{to: o, from: a}, {to: o, from: s, combine: times}",
		outputs: "{id: o, channel: 1, loss: {mode: cut}}", devices: "{id: m, on: r.1, kind: esc}",
		want: []string{"turned_at_power devices[0]"}},
	{name: "two mixes by turns",
		mixes:   "{to: o, from: a, when: s.up}, {to: o, from: a, gain: -100, when: s.down}",
		outputs: "{id: o, channel: 1, loss: {mode: cut}}", devices: "{id: m, on: r.1, kind: esc}",
		want: []string{"turned_at_power devices[0]"}},
	{name: "slowly it may", mixes: "{to: o, from: a}, {to: o, from: s, combine: times}",
		outputs: "{id: o, channel: 1, slew_s: 2, loss: {mode: cut}}", devices: "{id: m, on: r.1, kind: esc}"},
	{name: "on a servo it may", mixes: "{to: o, from: a}, {to: o, from: s, combine: times}",
		outputs: "{id: o, channel: 1}", devices: "{id: m, on: r.1, kind: servo}"},
	{name: "a switch that only slows", mixes: "{to: o, from: a}, {to: o, from: a, gain: -50, when: s.down}",
		outputs: "{id: o, channel: 1, loss: {mode: cut}}", devices: "{id: m, on: r.1, kind: esc}"},

	// what is never reached
	{name: "a servo on one bit", mixes: "{to: o, from: a}", outputs: "{id: o, channel: 1}",
		devices: "{id: m, on: r.1, kind: servo}", more: "link: {one_bit: [1]}",
		want: []string{"servo_on_one_bit devices[0].on"}},
	{name: "a lamp on one bit may", mixes: "{to: o, from: a}", outputs: "{id: o, channel: 1}",
		devices: "{id: m, on: r.1, kind: lamp}", more: "link: {one_bit: [1]}"},
	{name: "a lamp that never comes on", mixes: "{to: o, from: a, gain: 50}", outputs: "{id: o, channel: 1}",
		devices: "{id: m, on: r.1, kind: lamp, at_us: 1800}", want: []string{"never_on devices[0].at_us"},
		says: "it turns at 1800 us, and what arrives goes from 1250 to 1750"},
	{name: "a lamp that never goes off", mixes: "{to: o, from: a, gain: 50}", outputs: "{id: o, channel: 1}",
		devices: "{id: m, on: r.1, kind: lamp, at_us: 1200}", want: []string{"never_off devices[0].at_us"}},
	{name: "a lamp below", mixes: "{to: o, from: a, gain: 50}", outputs: "{id: o, channel: 1}",
		devices: "{id: m, on: r.1, kind: lamp, turns_on: below, at_us: 1200}",
		want:    []string{"never_on devices[0].at_us"}},
	{name: "a switch pin", mixes: "{to: o, from: a, gain: 50}", outputs: "{id: o, channel: 1}",
		devices: "{id: m, on: r.1, kind: lamp}",
		more: "receivers: [{id: r, pins: [{pin: 1, channel: 1, switch: {on: above, at_us: 1900, level: " +
			"high}}, {pin: 9, channel: 40}]}]", want: []string{"never_on receivers[0].pins[0].switch.at_us"}},
	{name: "steps never reached", mixes: "{to: o, from: t, gain: 40}", outputs: "{id: o, channel: 1}",
		devices: "{id: m, on: r.1, kind: step_box, steps: 3}", want: []string{"step_never devices[0].at"},
		says: "never gets to steps 2 to 3"},
	{name: "no way back", mixes: "{to: o, from: t, shape: up}", outputs: "{id: o, channel: 1}",
		devices: "{id: m, on: r.1, kind: step_box, steps: 3}", want: []string{"step_never devices[0].at"},
		says: "never gets to an earlier step again"},
	{name: "both ways", mixes: "{to: o, from: t}", outputs: "{id: o, channel: 1}",
		devices: "{id: m, on: r.1, kind: step_box, steps: 3}"},
	{name: "an output that no pin carries", mixes: "{to: o, from: a}", outputs: "{id: o, channel: 5}",
		want: []string{"not_carried outputs[0].channel", "pin_empty receivers[0].pins[0]"}},
	{name: "an output that the order hides", mixes: "{to: o, from: a}", outputs: "{id: o, channel: 1}",
		more: "link: {order: [2]}", want: []string{"not_carried link.order",
			"pin_empty receivers[0].pins[0]"}},
	{name: "a product of nothing", mixes: "{to: o, from: a, combine: times}", outputs: "{id: o, channel: 1}",
		want: []string{"times_nothing mixes[0].combine"}},
	{name: "a product of something", mixes: "{to: o, from: b}, {to: o, from: a, combine: times}",
		outputs: "{id: o, channel: 1}"},
	{name: "a mix from nothing", mixes: "{to: o, from: a}, {to: o, from: 0}", outputs: "{id: o, channel: 1}",
		want: []string{"moved_by_nothing mixes[1].from"}},

	// more than there is
	{name: "one source is one source", mixes: "{to: o, from: a}, {to: o, from: a, gain: -50}",
		outputs: "{id: o, channel: 1}"},
	{name: "one source twice", mixes: "{to: o, from: a}, {to: o, from: a, gain: 50}",
		outputs: "{id: o, channel: 1}", want: []string{"cut_short outputs[0]"},
		says: "Channel 1 is asked for −150 to +150"},
	{name: "conditions that exclude each other",
		mixes:   "{to: o, from: a, when: s.up}, {to: o, from: a, when: not s.up}",
		outputs: "{id: o, channel: 1}"},
	{name: "positions that exclude each other",
		mixes: "{to: o, from: a, when: t.one}, {to: o, from: b, when: t.two}, {to: o, from: a, when: " +
			"t.three}",
		outputs: "{id: o, channel: 1}"},
	{name: "conditions that do not", mixes: "{to: o, from: a, when: s.up}, {to: o, from: a, when: t.one}",
		outputs: "{id: o, channel: 1}", want: []string{"cut_short outputs[0]"},
		says: "is asked for −200 to +200"},
	{name: "instead under one condition",
		mixes:   "{to: o, from: a, gain: 150, when: s.up}, {to: o, from: b, combine: instead, when: s.up}",
		outputs: "{id: o, channel: 1}"},
	{name: "two sources of one control", mixes: "{to: o, from: a}, {to: o, from: d}",
		outputs: "{id: o, channel: 1}", more: "demands: [{id: d, from: a, rate: 50}]",
		want: []string{"cut_short outputs[0]"}, says: "is asked for at most −150 to +150"},
	{name: "an absolute of the same", mixes: "{to: o, from: a}, {to: o, from: a, shape: abs, gain: -100}",
		outputs: "{id: o, channel: 1}", want: []string{"cut_short outputs[0]"},
		says: "is asked for −200 to 0"},
	{name: "a pair that is cut on purpose", mixes: "{to: o, from: a}, {to: o, from: b}",
		outputs: "{id: o, channel: 1}", more: "shares: [{outputs: [o], rule: clip}]"},
	{name: "a reversing lead on the first output", mixes: "{to: o, from: a, shape: abs}, {to: p, from: s}",
		outputs: "{id: p, channel: 2}, {id: o, channel: 1, loss: {mode: cut}}",
		devices: "{id: m, on: r.1, kind: esc, swap_on: r.2}",
		more: "receivers: [{id: r, failsafe: {can: [cut]}, pins: [{pin: 1, channel: 1}, {pin: 2, channel: " +
			"2}, {pin: 9, channel: 40}]}]", want: []string{"turned_at_power devices[0]"}},
	{name: "a motor that never comes to rest", mixes: "{to: o, from: q}, {to: o, from: a, gain: 10}",
		outputs: "{id: o, channel: 1, loss: {mode: cut}}", devices: "{id: m, on: r.1, kind: esc}",
		more: "patterns: [{id: q, when: s.up, steps: [[30, 0.06], [-30, 0.06]]}]",
		want: []string{"turns_at_rest devices[0].learned_us.neutral", "cut_short outputs[0]"}},
	{name: "a module that is one microsecond off", mixes: "{to: o, from: a}", outputs: "{id: o, channel: 1}",
		more: "link: {learned_us: {low: 1001, centre: 1501, high: 1999}}"},
	{name: "a module that is two off", mixes: "{to: o, from: a}", outputs: "{id: o, channel: 1}",
		more: "link: {learned_us: {low: 1000, centre: 1502, high: 2000}}",
		want: []string{"module_range link.learned_us"}},

	// what this set cannot do
	{name: "half a percent beyond its ends", can: true, mixes: "{to: o, from: a}",
		outputs: "{id: o, channel: 1, high: 120.5}", want: []string{"cannot outputs[0].high",
			"cannot outputs[1].channel", "cannot mixes"}},
	{name: "an axis that is to be below its middle", can: true, mixes: "{to: o, from: a}",
		outputs: "{id: o, channel: 1}", more: "start_check: [{control: k, is: {from: -60, to: -10}}]",
		want: []string{"cannot start_check[0]", "cannot outputs[1].channel", "cannot mixes"},
		says: "a stick in its middle"},
	{name: "what the transmitter cannot", can: true,
		mixes:   "{to: o, from: d, gain: 50}, {to: o, from: b, gain: 20, when: both}",
		outputs: "{id: o, channel: 1, high: 130, slew_s: 1}",
		more: "demands: [{id: d, from: a, curve: [[-100, -100], [0, 0], [50, 20], [100, 100]], rates: " +
			"[{when: s.up, rate: 50}]}]\nlogic: [{id: both, block: xor, in: [s.up, t.one]}, {id: w, block: " +
			"and, in: [both]}]\n" +
			"steppers: [{id: st, up: s.up, steps: [{name: p, value: 0}, {name: q, value: 1}]}]\nsequences: " +
			"[{id: sq, go: s.up, tracks: {x: [[0, 0], [1, 1]]}}]\nstart_check: [{control: a, is: {from: " +
			"-5, to: 5}}, {control: s, is: up}]",
		want: []string{"cannot outputs[0].slew_s", "cannot outputs[0].high", "cannot outputs[1].channel",
			"cannot mixes", "cannot steppers", "cannot sequences", "cannot logic", "cannot logic[0].block",
			"cannot demands[0].rates", "cannot demands[0].curve",
			"cannot start_check[0]", "cannot start_check[1]"}},
	{name: "what it can", can: true, mixes: "{to: o, from: a}", outputs: "{id: o, channel: 1}",
		more: "start_check: [{control: k, is: {from: -100, to: -90}}]"},
}

const canLittle = "  can: {channels: 4, mixes: 2, curve_points: [3, 5], rates: 1, slew: false, " +
	"endpoint_max: 120, steppers: 0, sequences: 0, logic: {count: 1, blocks: [and]}, start_check: " +
	"[axis_low]}\n"

// TestEverySampleGivesWhatIsWanted and no other finding.
func TestEverySampleGivesWhatIsWanted(t *testing.T) {
	for _, s := range samples {
		t.Run(s.name, func(t *testing.T) {
			text := s.text()
			if s.can {
				text = strings.Replace(text, "mixes: [", canLittle+"mixes: [", 1)
			}
			if s.name == "what it can" {
				text = strings.NewReplacer("channel: 40", "channel: 2", "mixes: 2", "mixes: 9").Replace(text)
			}
			found, said := []string{}, ""
			for _, f := range Check(compile(t, text)).Findings {
				found = append(found, f.Rule+" "+f.Where)
				said += f.Message + ". " + f.Remedy + "\n"
				require.NotEmpty(t, f.Remedy)
			}
			want := slices.Clone(s.want)
			slices.Sort(want)
			slices.Sort(found)
			require.Equal(t, fmt.Sprint(want), fmt.Sprint(found), said)
			require.Contains(t, said, s.says)
		})
	}
}

// TestAControlIsUsedByWhateverNamesIt: a reset, a claim, the start check.
func TestAControlIsUsedByWhateverNamesIt(t *testing.T) {
	const one = "transmitter: {controls: [{id: a, kind: axis}, {id: s, kind: switch, positions: [up, " +
		"down]}]}\nmixes: [{to: o, from: a}]\noutputs: [{id: o, channel: 1}]\n"
	for more, unused := range map[string]bool{
		"": true,
		"logic: [{id: l, block: toggle, in: power_on, reset: s.down}]":                                     false,
		"logic: [{id: l, block: rs, set: power_on, reset: not s.down}]":                                    false,
		"claims: [{id: c, never: [s.down]}]":                                                               false,
		"start_check: [{control: s, is: up}]":                                                              false,
		"announcements: [{id: c, when: s.up, say: x}]":                                                     false,
		"demands: [{id: d, from: a, rates: [{when: s.up, rate: 50}]}]":                                     false,
		"steppers: [{id: d, up: power_on, home: s.up, steps: [{name: p, value: 0}, {name: q, value: 1}]}]": false,
	} {
		rules := []string{}
		for _, f := range Check(compile(t, one+more)).Findings {
			rules = append(rules, f.Rule+" "+f.Where)
		}
		require.Equal(t, unused, slices.Contains(rules, "control_unused transmitter.controls[1]"), "%s: %v",
			more, rules)
	}
}

// TestTheYardSaysWhatACheckSays, for every model there is: as many findings, and claims.
func TestTheYardSaysWhatACheckSays(t *testing.T) {
	yard, err := demo.Yard()
	require.NoError(t, err)
	programs := map[string]*signal.Program{}
	for _, m := range yard {
		p, err := signal.Compile(m.Doc.Setup)
		require.NoError(t, err)
		programs[m.Doc.Setup.Name] = p
	}
	for _, k := range starts.Kinds() {
		doc, err := starts.Start(k.Kind)
		require.NoError(t, err)
		p, err := signal.Compile(doc.Setup)
		require.NoError(t, err)
		programs[doc.Setup.Name] = p
	}
	for _, s := range samples {
		if !s.can {
			programs[s.name] = compile(t, s.text())
		}
	}
	for name, p := range programs {
		report, stands := Check(p), Readiness(p)
		n := 0
		for _, s := range stands {
			var more int
			if _, err := fmt.Sscanf(s.Words[max(strings.LastIndex(s.Words, ", and "), 0):], ", and %d more",
				&more); err != nil {
				more = 0
			}
			if !strings.Contains(s.Words, "always hold") { // claims are no findings
				n += 1 + more
			}
		}
		require.Equal(t, len(report.Findings), n, "%s: %v", name, stands)
	}
}
