package check

import (
	"slices"
	"strings"
	"testing"

	"github.com/stretchr/testify/require"
)

// wired is a model whose feed carries all that hangs on it.
const wired = `
transmitter: {controls: [{id: a, kind: axis}]}
mixes: [{to: o, from: a}, {to: p, from: a}]
outputs: [{id: o, channel: 1}, {id: p, channel: 2}]
receivers:
  - id: rx
    label: Receiver
    volts: {least: 4.8, most: 7.4}
    failsafe: {can: [cut]}
    pins: [{pin: 1, channel: 1}, {pin: 2, channel: 2}]
devices:
  - {id: s, label: Rudder servo, on: rx.1, kind: servo, volts: {least: 4.8, most: 6}, draws_a: {most: 1.5}}
  - {id: e, label: Winch controller, on: rx.2, kind: esc}
wiring:
  feeds: [{into: rx, label: Pack, volts: 6, continuous_a: 2, peak_a: 3, ohm: 0.1}]
  leads: [{device: s, length_mm: 300, awg: 22, checked: true}]
`

// TestPinsThatAreToBeSet: what the chart of a receiver has not, and what is not counted yet, is said in
// Plan; what is counted is not.
func TestPinsThatAreToBeSet(t *testing.T) {
	found := func(codes string) (list []string) {
		s := compile(t, `
outputs: [{id: horn, label: Horn, channel: 1}]
receivers:
  - id: rx
    label: Receiver
    failsafe: {can: [cut]}
    pins: [{pin: 1, channel: 1, switch: {on: above, at_us: 1500}}]
    chart: {levels: [{says: what it sends, values: [{code: 1, sends: pulses}, {code: 2, sends: switch, on: above}]}]}
`+codes)
		for _, f := range Check(s).Findings {
			if slices.Contains(counted, f.Rule) {
				place, part := f.Home(s.Setup())
				list = append(list, f.Rule+" "+f.Where+" "+place+part+": "+f.Message)
			}
		}
		return list
	}
	require.Equal(t, []string{"codes receivers[0].pins[0] plan: pin 1 of Receiver is to be on or off: 0 V " +
		"until Horn is " +
		"above 1500 µs, then high, and is not set to it yet"}, found(""))
	require.Empty(t, found("    codes: [{pin: 1, written: [2]}]\n"))
	require.Len(t, found("    codes: [{pin: 1, written: [1]}]\n"), 1)
	require.Equal(t, []string{"flicker receivers[0].pins[0] plan: a lamp on pin 1 of Receiver flickers: " +
		"it still gets " +
		"servo pulses"}, found("    codes: [{pin: 1, written: [2], steady: false}]\n"))
}

// TestWhatTheLeadsSay: each finding by what is changed of a model that is in order, and nothing else
// by it. One live feed that sits behind no switch, and a motor with a battery of its own: common
// practice, no source.
func TestWhatTheLeadsSay(t *testing.T) {
	found := func(text string) []string {
		list := []string{}
		for _, f := range Check(compile(t, text)).Findings {
			if slices.Contains([]string{"power", "switched_feed", "motor_on_feed", "polarity", "two_feeds",
				"lamp", "sense", "joint",
				"crossed_wires",
				"volts"}, f.Rule) {
				list = append(list, f.Rule+" "+f.Where+": "+f.Message)
			}
		}
		return list
	}
	require.Empty(t, found(wired))
	for _, c := range []struct{ old, now, want string }{
		{"continuous_a: 2", "continuous_a: 1.4", "power wiring.feeds[0]: Receiver: all at work 1.5 A, of 1.4 A: " +
			"Rudder servo 1.5 A = 1.5 A; Pack gives 1.4 A for long"},
		{"most: 1.5}", "work: 1, most: 3.5}", "power wiring.feeds[0]: Receiver: all stalled 3.5 A, peak 3 A: " +
			"Rudder servo 3.5 A = 3.5 A; Pack gives 3 A for a moment"},
		{"ohm: 0.1", "ohm: 1", "power wiring.feeds[0]: Receiver: at the receiver, then 4.5 V, lowest 4.8 V: " +
			"6 V − 1.5 A × 1000 mΩ = 4.5 V"},
		{"ohm: 0.1", "ohm: 0.1, switched: true", "switched_feed wiring.feeds[0].switched: Pack is all that feeds " +
			"Receiver, and it sits behind a switch: switched off, or with a bad contact, nothing is in command"},
		{"kind: esc", "kind: esc, draws_a: {work: 0.2, most: 1}", "motor_on_feed devices[1].draws_a: Winch " +
			"controller takes up to 1 A through the feed of Receiver: when it starts, the receiver may get too " +
			"few volts to go on"},
		{"kind: esc", "kind: esc, feeds_a: 3", "two_feeds devices[1].red_lifted: Pack and Winch controller feed " +
			"Receiver side by side: their regulators may work against each other"},
		{"kind: esc", "kind: esc, feeds_a: 3, red_lifted: true", ""},
		{"volts: 6, c", "volts: 6.6, c", "volts devices[0].volts: Rudder servo gets 6.6 V from Receiver, and " +
			"may get no more than 6 V"},
		{"checked: true", "checked: false", "polarity wiring.leads[0].checked: the lead of Rudder servo is not " +
			"measured: power in the middle forgives a plug put in upside down, a lead with red and black " +
			"exchanged does not"},
		{"checked: true", "checked: true, crossed: true", "crossed_wires wiring.leads[0].crossed: red and " +
			"black are " +
			"exchanged in the lead of Rudder servo: plugged in, it is fed the wrong way round"},
		{"least: 4.8, most: 6}, d", "least: 5.81, most: 6}, d", "power wiring.leads[0]: Receiver: at " +
			"Rudder servo " +
			"5.8 V, lowest 5.81 V: 5.85 V − 1.5 A × 31.78 mΩ = 5.8 V"},
		{"checked: true", "checked: true, lamp_v: 7, lamp_ma: 10", "lamp wiring.leads[0].ohm: Lamps and their " +
			"resistors: rudder servo −1 V, over: it cannot shine: 6 V − 7 V = −1 V; the volts that feed " +
			"Receiver are " +
			"too few for it"},
		{"leads:", "senses: [{into: rx, volts: 12, most_v: 10}]\n  leads:", "sense " +
			"wiring.senses[0].volts: Told the " +
			"volts of a battery: a battery, full 12 V, takes 10 V: told to Receiver; the lead feeds nothing"},
		{"leads: [{", "joint: {ways: 2}\n  leads: [{joint: lead, ", "joint wiring.joint.ways: The turning " +
			"joint: ways " +
			"that it takes 3, of 2: 1 for power + 1 for ground + 1 for signals = 3"},
	} {
		require.Contains(t, wired, c.old)
		require.Equal(t, c.want, strings.Join(found(strings.Replace(wired, c.old, c.now, 1)), "|"), c.now)
	}
}
