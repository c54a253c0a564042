package check

import (
	"strings"
	"testing"

	"github.com/stretchr/testify/require"
)

// pieces is a model of which all that its pieces say is in order, at the border of it.
const pieces = `
craft: {memory: 10, site: {length_m: 400, width_m: 300}}
transmitter:
  controls: [{id: a, kind: axis}]
  power: full
  can: {memories: 10, range_m: 500}
mixes: [{to: o, from: a}, {to: p, from: a}, {to: q, from: a}]
outputs: [{id: o, channel: 1}, {id: p, channel: 2}, {id: q, channel: 3}]
receivers:
  - id: rx
    label: Three pins
    volts: {least: 4.8, most: 6}
    supply_v: 6
    failsafe: {can: [cut]}
    pins: [{pin: 1, channel: 1}, {pin: 2, channel: 2}, {pin: 3, channel: 3}]
devices:
  - {id: s, label: Rudder servo, on: rx.1, kind: servo, volts: {least: 6, most: 6}}
  - {id: e, label: Port controller, on: rx.2, kind: esc, feeds_a: 3}
  - {id: f, label: Starboard controller, on: rx.3, kind: esc, feeds_a: 3, red_lifted: true}
`

// TestWhatPiecesSay: each finding by what is changed of a model that is in order; nothing else
// is found by the change. A stated range of 500 m does not cover the diagonal of a site of 400
// by 350 m, 532 m; one feed, the red wire lifted from all others: common practice, no source.
func TestWhatPiecesSay(t *testing.T) {
	kit := func(text string) []string {
		list := []string{}
		for _, f := range Check(compile(t, text)).Findings {
			switch f.Rule {
			case "low_power", "no_such_memory", "out_of_range", "volts", "two_feeds":
				place, _ := f.Home(compile(t, text).Setup())
				require.Equal(t, "kit", place)
				list = append(list, f.Severity+" "+f.Where+": "+f.Message)
			}
		}
		return list
	}
	require.Empty(t, kit(pieces))
	for _, c := range []struct{ old, now, want string }{
		{"power: full", "power: low",
			"warning transmitter.power: the radio is set to low power, for the bench: it reaches a few steps " +
				"only"},
		{"power: full", "name: Set", ""},
		{"memory: 10", "memory: 11",
			"warning craft.memory: the model is in memory 11, and this transmitter keeps 10"},
		{"memories: 10, ", "", ""},
		{"width_m: 300", "width_m: 350", "warning craft.site: the site of 400 by 350 m is 532 m from corner to " +
			"corner, and the maker of the transmitter states 500 m"},
		{", range_m: 500", "", ""},
		{"supply_v: 6\n", "supply_v: 6.1\n", "error receivers[0].supply_v: Three pins gets 6.1 V, and may " +
			"get 4.8 to 6 V|error devices[0].volts: Rudder servo gets 6.1 V from Three pins, and may get no " +
			"more than 6 V"},
		{"supply_v: 6\n", "supply_v: 5\n",
			"error devices[0].volts: Rudder servo gets 5 V from Three pins, and may get no less than 6 V"},
		{"supply_v: 6\n", "supply_v: 4\n", "error receivers[0].supply_v: Three pins gets 4 V, and may get " +
			"4.8 to 6 V|error devices[0].volts: Rudder servo gets 4 V from Three pins, and may get no less than 6 V"},
		{"    supply_v: 6\n", "", ""},
		{", red_lifted: true", "", "warning devices[2].red_lifted: Port controller and Starboard controller feed " +
			"Three pins side by side: their regulators may work against each other"},
		{"feeds_a: 3, red_lifted: true", "feeds_a: 0", ""},
	} {
		require.Contains(t, pieces, c.old)
		got := kit(strings.Replace(pieces, c.old, c.now, 1))
		require.Equal(t, c.want, strings.Join(got, "|"), c.now)
	}
}
