package wiring

import (
	"math"
	"slices"
	"strings"
	"testing"

	"github.com/stretchr/testify/require"

	"axtren/core/setup"
)

// crane has two receivers on one Y lead, a turning joint, lamps on on/off pins and a battery whose
// volts are told.
const crane = `
receivers:
  - {id: a, label: Upper, telemetry: true, volts: {least: 4.8, most: 7.4}, pins: [{pin: 1, channel: 1}, {pin: 2, channel: 2, switch: {on: above, at_us: 1500, level: high, volts: 3.3, most_ma: 20, ohm: 0}}, {pin: 3, channel: 3, switch: {on: above, at_us: 1500, level: low}}]}
  - {id: b, label: Lower, telemetry: false, pins: [{pin: 1, channel: 4}, {pin: 2, channel: 5}]}
devices:
  - {id: boom, label: boom, on: a.1, kind: servo, draws_a: {work: 0.5, most: 2}, volts: {least: 5, most: 7}}
  - {id: lamp, label: lamp, on: a.2, kind: lamp, draws_a: {most: 0.02}}
  - {id: glow, label: glow, on: a.3, kind: lamp, draws_a: {most: 0.02}}
  - {id: track, label: track, on: b.1, kind: esc, red_lifted: true, swap_on: b.2}
  - {id: grab, label: grab, on: b.2, kind: servo, draws_a: {work: 1, most: 3}}
wiring:
  feeds: [{into: a, also: b, label: pack, volts: 6, continuous_a: 2, peak_a: 5, ah: 3, ohm: 0.02, length_mm: 100, awg: 20, leg_mm: 200, other_leg_mm: 300, legs_awg: 22, leg_a: 3, joint: lead}]
  leads:
    - {device: boom, length_mm: 500, awg: 26, checked: true}
    - {device: lamp, lamp_v: 2, lamp_ma: 15}
    - {device: glow, lamp_v: 2, lamp_ma: 20, ohm: 180}
    - {device: track, joint: motor}
    - {device: grab, joint: lead}
  senses: [{into: a, label: Drive pack, volts: 12.6, most_v: 20}]
  joint: {label: Slewing ring, ways: 6, power_ways: 1, most_a: 10}
`

// budgets gives what is worked out of a text, by its titles.
func budgets(t *testing.T, text string) map[string]map[string]Figure {
	t.Helper()
	all := map[string]map[string]Figure{}
	for _, b := range Of(read(t, text)) {
		all[b.Title] = figures(b)
		for _, f := range b.Behind {
			all[b.Title][f.Label] = f
		}
	}
	return all
}

// ohms is the resistance of copper there and back, by its own formula: millimetres, gauge diameter
// of ASTM B258 (from memory): AWG 20 0.8118 mm, AWG 22 0.6438 mm, AWG 26 0.4049 mm.
func ohms(mm, diameter float64) float64 {
	return 2 * 1.7241e-8 * mm / 1000 / (math.Pi * diameter * diameter / 4 * 1e-6)
}

// A Y lead for two receivers: the feed and the shared lead carry both, each leg its own.
func TestTwoReceiversOnOneLead(t *testing.T) {
	all := budgets(t, crane)
	upper, lower := all["Upper"], all["Lower"]
	require.InDelta(t, 2.04, upper["All stalled"].Value, 1e-9)
	require.Empty(t, upper["All stalled"].Says, "the limit is that of both together")
	pack := all["pack, for both receivers"]
	require.InDelta(t, 5.04, pack["All stalled"].Value, 1e-9)
	require.Equal(t, "Upper 2.04 A + Lower 3 A = 5.04 A; pack gives 5 A for a moment", pack["All stalled"].Why)
	require.True(t, pack["All stalled"].Bad)
	require.InDelta(t, 1.54, pack["All at work"].Value, 1e-9)
	require.False(t, pack["All at work"].Bad)
	require.InDelta(t, math.Floor(3/1.54*60), pack["Runs for"].Value, 1e-9)
	require.NotContains(t, upper, "Runs for")
	require.Equal(t, "takes 3 A", lower["The other leg, stalled"].Says)
	require.InDelta(t, 3, lower["The other leg, stalled"].Value, 1e-9)
	require.NotContains(t, upper, "The other leg, stalled")
	shared := 0.02 + ohms(100, 0.8118)
	require.InDelta(t, 6-5.04*shared-2.04*ohms(200, 0.6438), upper["At the receiver, then"].Value, 0.0051)
	require.InDelta(t, 6-5.04*shared-3*ohms(300, 0.6438), lower["At the receiver, then"].Value, 0.0051)
	at := upper["At boom"]
	require.InDelta(t, 6-5.04*shared-2.04*ohms(200, 0.6438)-2*ohms(500, 0.4049), at.Value, 0.0051)
	require.Equal(t, "lowest 5 V", at.Says)
	require.False(t, at.Bad)
	require.True(t, budgets(t, strings.Replace(crane, "least: 5,", "least: 5.9,", 1))["Upper"]["At boom"].Bad)
	require.NotContains(t, lower, "At grab", "nothing is known of its lead")
}

// Two legs into one receiver share its current by their resistances, and their sum is all of it.
func TestLegsShareByResistance(t *testing.T) {
	one := budgets(t, strings.Replace(crane, "also: b", "also: a", 1))["Upper"]
	// 200 mm and 300 mm of one gauge: three fifths and two fifths
	require.InDelta(t, 2.04*0.6, one["The first leg, stalled"].Value, 0.0051)
	require.InDelta(t, 2.04*0.4, one["The other leg, stalled"].Value, 0.0051)
	a, b := ohms(200, 0.6438), ohms(300, 0.6438)
	require.InDelta(t, 6-2.04*(0.02+ohms(100, 0.8118)+a*b/(a+b)), one["At the receiver, then"].Value, 0.0051)
	half := budgets(t, strings.Replace(strings.Replace(crane, "also: b", "also: a", 1), "leg_mm: 200, ", "",
		1))["Upper"]
	require.InDelta(t, 1.02, half["The first leg, stalled"].Value, 1e-9)
	require.Contains(t, half["The first leg, stalled"].Why, "are not all known")
}

func TestAReceiverThatNothingFeeds(t *testing.T) {
	list := Of(read(t, strings.Replace(crane, "also: b, ", "", 1)))
	require.Equal(t, "Not known yet: what feeds it. Two receivers are fed from a Y lead, so that one that "+
		"fails does "+
		"not cut the other.", list[1].Lacks)
	require.Nil(t, list[1].Feed)
	for _, b := range list {
		require.NotContains(t, b.Title, "for both")
	}
}

// Power and ground of the feed and of the grab's lead are shared: 1 + 1, its signal 1, the motor 2.
func TestATurningJoint(t *testing.T) {
	joint := budgets(t, crane)["Slewing ring"]
	require.InDelta(t, 5, joint["Ways that it takes"].Value, 1e-9)
	require.Equal(t, "1 for power + 1 for ground + 1 for signals + 2 for motors = 5", joint["Ways that it "+
		"takes"].Why)
	require.Equal(t, "of 6", joint["Ways that it takes"].Says)
	require.False(t, joint["Ways that it takes"].Bad)
	few := budgets(t, strings.Replace(crane, "ways: 6, power_ways: 1", "ways: 6, power_ways: 2",
		1))["Slewing ring"]
	require.InDelta(t, 7, few["Ways that it takes"].Value, 1e-9)
	require.True(t, few["Ways that it takes"].Bad)
	require.InDelta(t, joint["Each way for power, stalled"].Value/2, few["Each way for power, "+
		"stalled"].Value, 0.0051)
	weak := budgets(t, strings.Replace(crane, "most_a: 10", "most_a: 2", 1))["Slewing ring"]
	require.True(t, weak["Each way for power, stalled"].Bad)
	leg := budgets(t, strings.Replace(crane, "leg_a: 3, joint: lead", "leg_a: 3, joint: leg", 1))["Slewing ring"]
	require.Equal(t, "grab 3 A + Lower 3 A = 6 A", leg["Each way for power, stalled"].Why)
	require.Equal(t, "grab 3 A + Upper 2.04 A + Lower 3 A = 8.04 A", joint["Each way for power, stalled"].Why)
	none := strings.NewReplacer("leg_a: 3, joint: lead", "leg_a: 3", ", joint: motor", "", ", joint: lead",
		"").Replace(crane)
	for _, b := range Of(read(t, none)) {
		if b.Title == "Slewing ring" {
			require.Empty(t, b.Figures)
			require.Contains(t, b.Lacks, "Nothing is said yet of what passes through it")
		}
	}
}

// Ohm's law by hand: (3.3 − 2) V ÷ 15 mA = 86.67 Ω, the next of E12 is 100, of E24 91 (IEC 60063, from
// memory); a lamp that is lit while its pin is at 0 V lies at the 6 V of the feed: 180 Ω let 22.22 mA
// through, 220 Ω less than 20.
func TestResistorsOfLamps(t *testing.T) {
	all := budgets(t, crane)["Lamps and their resistors"]
	require.InDelta(t, 100, all["lamp"].Value, 1e-9)
	require.Equal(t, "(3.3 V − 2 V) ÷ 15 mA = 86.67 Ω; the next value is 100 Ω, of the finer series 91 Ω; "+
		"it turns "+
		"16.9 mW into heat", all["lamp"].Why)
	require.False(t, all["lamp"].Bad)
	require.True(t, all["glow"].Bad)
	require.Equal(t, "is fitted: 22.22 mA of 20 mA", all["glow"].Says)
	require.Equal(t, "put 220 Ω into its lead", all["glow"].Do)
	lamp := func(old, now string) Figure {
		require.Contains(t, crane, old)
		return budgets(t, strings.Replace(crane, old, now, 1))["Lamps and their resistors"]["lamp"]
	}
	own := lamp("ohm: 0}", "ohm: 100}")
	require.Zero(t, own.Value)
	require.Equal(t, "none: the pin has enough of its own", own.Says)
	part := lamp("ohm: 0}", "ohm: 50}")
	require.InDelta(t, 39, part.Value, 1e-9, "36.67 Ω are left")
	dark := lamp("volts: 3.3", "volts: 1.8")
	require.True(t, dark.Bad)
	require.Equal(t, "over: it cannot shine", dark.Says)
	weak := lamp("most_ma: 20", "most_ma: 10")
	require.True(t, weak.Bad)
	require.Equal(t, "into its lead; the pin takes 10 mA", weak.Says)
	require.NotContains(t, budgets(t, strings.Replace(crane, "lamp_ma: 15", "lamp_ma: 1e-300",
		1))["Lamps and their resistors"], "lamp", "a lamp without a current is none")
	require.NotContains(t, budgets(t, strings.Replace(crane, "volts: 3.3, ", "", 1))["Lamps and their "+
		"resistors"], "lamp")
}

func TestPreferredValues(t *testing.T) {
	for ohm, want := range map[float64]float64{1: 1, 86.7: 100, 100: 100, 100.0001: 120, 4.7: 4.7,
		68.01: 82, 910: 1000,
		0.2: 1} {
		require.InDelta(t, want, NextUp(e12, ohm), 1e-9, ohm)
	}
	require.InDelta(t, 910, NextUp(e24, 821), 1e-9)
	for _, series := range [][]float64{e12, e24} {
		require.True(t, slices.IsSorted(series))
		// each is a twelfth or a twenty-fourth of a decade above the one before, as closely as two
		// figures say it
		for i, v := range series {
			ideal := 10 * math.Pow(10, float64(i)/float64(len(series)))
			require.InDelta(t, ideal, v, ideal*0.06)
		}
	}
}

func TestWhatIsToldOfABattery(t *testing.T) {
	const title = "Told the volts of a battery"
	one := budgets(t, crane)[title]["Drive pack, full"]
	require.False(t, one.Bad)
	require.Equal(t, "told to Upper; the lead feeds nothing", one.Why)
	require.True(t, budgets(t, strings.Replace(crane, "most_v: 20", "most_v: 10", 1))[title]["Drive pack, "+
		"full"].Bad)
	deaf := budgets(t, strings.Replace(crane, "senses: [{into: a", "senses: [{into: b", 1))[title]["Drive "+
		"pack, full"]
	require.True(t, deaf.Bad)
	require.Equal(t, "takes 20 V; nothing is sent back from there", deaf.Says)
}

// What each lead is, in words, and what is not said.
func TestLeadsInWords(t *testing.T) {
	says := func(text string) (list []string) {
		for _, l := range Draw(read(t, text)).Lines {
			list = append(list, l.Says)
		}
		return list
	}
	require.Equal(t, []string{
		"pin 1 to boom: signal, power and ground",
		"pin 2 to lamp: on or off, 3.3 V while it is on: what it switches lies between the pin and ground",
		"pin 3 to glow: on or off, 0 V while it is on: what it switches lies between power and the pin",
		"pack feeds Upper by one leg of a Y lead, through the turning joint",
		"Drive pack tells Upper its volts; it feeds nothing",
		"pin 1 to track: signal and ground, its red wire is lifted; the wires of its motor pass through " +
			"the turning joint",
		"pin 2 to grab: signal, power and ground, through the turning joint",
		"pin 2 to the second lead of track: a signal only, it turns the motor the other way; move it only " +
			"near rest, and " +
			"count on less thrust",
		"pack feeds Lower by one leg of a Y lead, through the turning joint",
	}, says(crane))
	crossed := says(strings.Replace(crane, "checked: true}", "checked: true, crossed: true}", 1))
	require.Contains(t, crossed, "pin 1 to boom: signal, power and ground; red and black are exchanged in "+
		"it: do not "+
		"plug it in")
	require.NotContains(t, says(strings.Replace(crane, "also: b", "also: a", 1)), "pack feeds Lower by "+
		"one leg of a Y lead")
	d := Draw(read(t, crane))
	last := d.Lines[len(d.Lines)-1]
	require.Len(t, last.At, 8, "it bends twice")
	require.Equal(t, "feed", d.Boxes[last.from].Kind)
	require.Equal(t, []string{"Lower"}, d.Boxes[last.to].Lines)
}

func TestTheCautionBeforeTheFirstPlug(t *testing.T) {
	require.Contains(t, Caution(read(t, crane)), "measure with a meter")
	measured := strings.NewReplacer("{most: 1}}", "{most: 1}}", "wiring:", "wiring:\n  leads: [{device: "+
		"rudder, checked: "+
		"true}, {device: mast, checked: true}, {device: port, checked: true}]").Replace(boat)
	require.Empty(t, Caution(read(t, measured)))
	require.Empty(t, Caution(&setup.Setup{}))
}
