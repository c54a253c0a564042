package sheet_test

import (
	"fmt"
	"slices"
	"strings"
	"testing"
	"time"

	"github.com/stretchr/testify/require"

	"axtren/core/setup"
	"axtren/core/sheet"
	"axtren/core/signal"
	"axtren/demo"
)

func build(t testing.TB, text string) *sheet.Sheet {
	t.Helper()
	doc, err := setup.ReadYAML([]byte("format: axtren-setup\nversion: 1\n" + text))
	require.NoError(t, err)
	p, err := signal.Compile(doc.Setup)
	require.NoError(t, err)
	return sheet.Build(p)
}

// value finds what is keyed in for a thing of a section.
func value(t *testing.T, sh *sheet.Sheet, section, what string) string {
	t.Helper()
	for _, sec := range sh.Sections {
		for _, it := range sec.Items {
			if sec.Title == section && it.What == what {
				return it.Value
			}
		}
	}
	require.Fail(t, "the sheet lacks it", "%s: %s", section, what)
	return ""
}

const mixed = `
transmitter:
  controls: [{id: s, kind: axis, label: Stick, plus: up, minus: down},
      {id: k, kind: switch, label: Key, positions: [one, two]}]
  can: {endpoint_follows: servo, menu_cuts_link: %t, failsafe: receiver, scales: {endpoint: %s,
      failsafe: {else: percent, channels: {3: span}}, trim: {step: 2.5}, gain: span, display: %s}}
mixes: [{to: a, from: s, gain: -50}, {to: b, from: k}]
outputs:
  - {id: a, label: Fin, channel: 2, centre: 10, low: -70, high: 80, loss: {mode: preset, value: -70}}
  - {id: b, label: Pump, channel: 3, loss: {mode: preset, value: -70}}
receivers: [{id: rx, failsafe: {can: [preset], otherwise: hold}, pins: [{pin: 1, channel: 2},
    {pin: 2, channel: 3}]}]
devices: [{id: fin, on: rx.1, kind: servo}, {id: pump, on: rx.2, kind: esc}]
`

// TestEveryMenuHasItsScale: -70 is 15 of 0..100 (common practice, no source), in the
// menu of losses that mixes two scales; ten percent are four steps of two and a half.
func TestEveryMenuHasItsScale(t *testing.T) {
	sh := build(t, fmt.Sprintf(mixed, false, "magnitude", "percent"))
	require.Equal(t, "go to −70", value(t, sh, "When the signal is lost", "Fin"))
	require.Equal(t, "go to 15", value(t, sh, "When the signal is lost", "Pump"))
	require.Equal(t, "+4", value(t, sh, "Centre", "Fin"))
	require.Equal(t, "25", value(t, sh, "Mixes", "Stick to Fin"), "a gain of -50 on 0..100")
	require.Equal(t, "80", value(t, sh, "Ends", "Fin, servo high side"))
	require.Equal(t, "70", value(t, sh, "Ends", "Fin, servo low side"))
	require.Equal(t, "+10", value(t, sh, "What the display must show",
		"hands off, all where it starts → Fin"))
	for scale, want := range map[string][2]string{"percent": {"+80", "−70"}, "us": {"1900", "1150"},
		"span": {"90", "15"}, "{bits: 10}": {"921", "153"}} {
		sh = build(t, fmt.Sprintf(mixed, false, scale, "us"))
		require.Equal(t, want, [2]string{value(t, sh, "Ends", "Fin, servo high side"),
			value(t, sh, "Ends", "Fin, servo low side")}, scale)
	}
}

// TestTheDisplayOfEveryStance is worked by hand: stick up asks -50 of the fin, half
// the way from 10 to -70, which is -30: 1350 us.
func TestTheDisplayOfEveryStance(t *testing.T) {
	sh := build(t, fmt.Sprintf(mixed, false, "magnitude", "us"))
	require.Equal(t, "1550", value(t, sh, "What the display must show",
		"hands off, all where it starts → Fin"))
	require.Equal(t, "1350", value(t, sh, "What the display must show", "Stick: up → Fin"))
	require.Equal(t, "1725", value(t, sh, "What the display must show", "Stick: down → Fin"))
	require.Equal(t, "2000", value(t, sh, "What the display must show", "Key: two → Pump"))
	for _, sec := range sh.Sections {
		for _, it := range sec.Items {
			require.NotEqual(t, "Stick: up → Pump", it.What, "what stays as at rest is not said again")
		}
	}
}

func TestWhatTheMenusDoToTheSignal(t *testing.T) {
	require.Contains(t, build(t, fmt.Sprintf(mixed, true, "us", "us")).Cuts, "goes to its loss position")
	require.Contains(t, build(t, fmt.Sprintf(mixed, false, "us", "us")).Cuts, "goes on")
}

// TestEachCautionStandsOnce, at its step, and only where there is what it warns of.
func TestEachCautionStandsOnce(t *testing.T) {
	yard, err := demo.Yard()
	require.NoError(t, err)
	all := map[string]string{}
	for _, m := range yard {
		p, err := signal.Compile(m.Doc.Setup)
		require.NoError(t, err)
		sh := sheet.Build(p)
		text := ""
		for _, sec := range sh.Sections {
			text += sec.Title + ": " + sec.Caution + "\n"
		}
		all[m.Doc.Setup.Name] = text
		for _, once := range []string{"clear of the ground", "propellers off", "Fingers out", "Lithium",
			"Let the pressure out", "Tie the model down"} {
			require.LessOrEqual(t, strings.Count(text, once), 1, "%s: %s", m.Doc.Setup.Name, once)
		}
		require.Contains(t, sh.Defer, "Local rules and licensed practice come first")
	}
	require.Contains(t, all["Stoat"], "Direction: Stand the model on a block, tracks clear")
	require.Contains(t, all["Stoat"], "Ends: Let the pressure out")
	require.Contains(t, all["Marram"], "Direction: Take the propellers off")
	require.NotContains(t, all["Marram"], "wheels clear")
	require.Contains(t, all["Pipit"], "wheels clear")
	require.NotContains(t, all["Pipit"], "pressure")
}

// TestOnlyWhatChanged tells the changes from an older sheet, and what has gone.
func TestOnlyWhatChanged(t *testing.T) {
	text := fmt.Sprintf(mixed, false, "magnitude", "us")
	old := build(t, text)
	same := build(t, text).Changes(old, 4)
	require.Empty(t, same.Sections)
	require.Equal(t, 4, same.Since)
	now := build(t, strings.NewReplacer("high: 80", "high: 75", ", {to: b, from: k}",
		"").Replace(text)).Changes(old, 4)
	require.Equal(t, "75", value(t, now, "Ends", "Fin, servo high side"))
	require.Equal(t, "100", value(t, now, "No longer", "Key to Pump"), "a gain of 100 on 0..100")
	for _, sec := range now.Sections {
		for _, it := range sec.Items {
			require.NotEqual(t, "Fin, servo low side", it.What)
			require.NotEqual(t, "Direction", sec.Title)
		}
	}
}

// TestRulesAndStepsAreOnTheSheet: whatever a set keeps besides channels.
func TestRulesAndStepsAreOnTheSheet(t *testing.T) {
	yard, err := demo.Yard()
	require.NoError(t, err)
	for _, m := range yard {
		p, err := signal.Compile(m.Doc.Setup)
		require.NoError(t, err)
		sh, s := sheet.Build(p), m.Doc.Setup
		n := map[string]int{}
		for _, sec := range sh.Sections {
			n[sec.Title] = len(sec.Items)
		}
		if s.Name == "Quill" { // as the entries of its own set
			require.Equal(t, 9, n["Switch logic"])
			require.Equal(t, "latch", value(t, sh, "Switch logic", "Entry 7, At the surface"))
			note := sh.Sections[slices.IndexFunc(sh.Sections, func(sec sheet.Section) bool {
				return sec.Title == "Switch logic"
			})].Note
			require.Contains(t, note, "that is proved. It rests on what is not known of this transmitter: which side")
			require.NotContains(t, note, "in which order")
		} else {
			require.Equal(t, len(s.Logic), n["Switch logic"], s.Name)
		}
		require.Equal(t, len(s.StartCheck)+len(s.Announcements), n["Start and voice"], s.Name)
		require.Equal(t, len(s.Shares), n["More than 100 asked"], s.Name)
		switch s.Name {
		case "Marram":
			require.Equal(t, "press on, press off", value(t, sh, "Switch logic", "Water wanted"))
			require.Equal(t, "−30", value(t, sh, "Steps", "Mast lights, anchor"))
			require.Equal(t, "+100 for 0.12 s, −100 for 0.12 s, +100 for 0.12 s, −100 for 0.64 s",
				value(t, sh, "Steps", "Blue flash"))
			require.Equal(t, "−5 to +5", value(t, sh, "Start and voice",
				"sends nothing before Right stick, ahead is at"))
			require.Equal(t, "water ready", value(t, sh, "Start and voice", "says when Pump primed is on"))
		case "Alder":
			require.Equal(t, "3 steps", value(t, sh, "Steps", "Lift axle"))
		}
	}
}

// TestKeysAreUnique, since ticks find home by them.
func TestKeysAreUnique(t *testing.T) {
	yard, err := demo.Yard()
	require.NoError(t, err)
	for _, m := range yard {
		p, err := signal.Compile(m.Doc.Setup)
		require.NoError(t, err)
		seen := map[string]bool{}
		for _, sec := range sheet.Build(p).Sections {
			for _, it := range sec.Items {
				require.False(t, seen[it.Key], it.Key)
				seen[it.Key] = true
			}
		}
	}
}

// kept is a model with something of everything that a key is made for.
const kept = `
name: Tug
craft: {kind: boat, memory: 3}
transmitter:
  name: Desk
  controls:
    - {id: s, kind: axis, label: Stick, plus: up, minus: down}
    - {id: k, kind: switch, label: Key, positions: ["off", "on"], spring_to: "off"}
demands: [{id: soft, label: Softly, from: s, expo: 20, rates: [{when: k.on, rate: 50}]}]
logic:
  - {id: lamp, block: toggle, label: Lamp wanted, in: k.on}
  - {id: held, block: ton, label: Held long, in: k.on, for_s: 1}
steppers: [{id: lift, label: Lift, up: k.on, steps: [{name: low, value: -50}, {name: top_most, value: 50}]}]
sequences: [{id: door, label: Door, go: lamp, tracks: {flap: [[0, -100], [2, 100]]}}]
patterns: [{id: flash, label: Flash, when: lamp, steps: [[100, 0.5], [-100, 0.5]]}]
mixes:
  - {id: drive, to: a, from: soft}
  - {id: aid, to: b, from: soft, gain: -100}
  - {id: glow, to: c, from: lamp}
  - {id: slow, to: d, from: held}
outputs:
  - {id: a, label: Port screw, channel: 1, low: -80, high: 90, loss: {mode: preset, value: 0}}
  - {id: b, label: Starboard screw, channel: 2, loss: {mode: hold}}
  - {id: c, label: Mast lamp, channel: 3, slew_s: {up: 1, down: 2}}
  - {id: d, label: Planes, channel: 4}
shares: [{id: both, outputs: [a, b], rule: scale}]
receivers: [{id: rx, label: Receiver, failsafe: {can: [hold, preset]}, pins: [{pin: 1, channel: 1},
    {pin: 2, channel: 2}, {pin: 3, channel: 3}, {pin: 4, channel: 4}]}]
devices:
  - {id: pm, label: left controller, on: rx.1, kind: esc}
  - {id: sm, label: right controller, on: rx.2, kind: esc}
  - {id: level, label: leveller, on: rx.4, kind: leveller}
  - {id: fin, label: plane servo, on: level, kind: servo}
announcements: [{id: told, when: lamp, say: lamp on}]
start_check: [{control: s, is: {from: -5, to: 5}}]
`

func titles(sh *sheet.Sheet) []string {
	var list []string
	for _, sec := range sh.Sections {
		for _, it := range sec.Items {
			list = append(list, sec.Title+": "+it.What)
		}
	}
	return list
}

// TestRenamingIsNoChange: whatever is only called in another way is on no sheet of
// changes, and every thing keeps its key.
func TestRenamingIsNoChange(t *testing.T) {
	old := build(t, kept)
	keys := func(sh *sheet.Sheet) (list []string) {
		for _, sec := range sh.Sections {
			for _, it := range sec.Items {
				list = append(list, it.Key)
			}
		}
		return list
	}
	require.NotEmpty(t, keys(old))
	for _, label := range []string{"Stick", "Key", "Softly", "Lamp wanted", "Held long", "Lift", "Door",
		"Flash", "Port screw", "Mast lamp", "Receiver", "left controller", "leveller", "plane servo"} {
		text := strings.Replace(kept, "label: "+label, "label: Wholly another name", 1)
		require.NotEqual(t, kept, text, label)
		now := build(t, text)
		require.Equal(t, keys(old), keys(now), label)
		require.Empty(t, titles(now.Changes(old, 4)), "%s was only renamed", label)
	}
	for what, c := range map[string][2]string{
		"ends: Ends: Port screw, servo high side":    {"high: 90", "high: 91"},
		"control: Feel: Softly, expo (softer for +)": {"expo: 20", "expo: 21"},
		"logic: Switch logic: Held long":             {"for_s: 1", "for_s: 2"},
		"mix: Mixes: Softly to Starboard screw":      {"gain: -100", "gain: -90"},
		"loss: When the signal is lost: Port screw":  {"value: 0}}", "value: 5}}"},
	} {
		_, want, _ := strings.Cut(what, ": ")
		require.Contains(t, titles(build(t, strings.Replace(kept, c[0], c[1], 1)).Changes(old, 4)), want)
	}
}

// TestKeysAreMadeOfThePartNotOfWords, as docs/format.md, section 14, says.
func TestKeysAreMadeOfThePartNotOfWords(t *testing.T) {
	keys := map[string]bool{}
	for _, sec := range build(t, kept).Sections {
		for _, it := range sec.Items {
			keys[it.Key] = true
		}
	}
	for _, want := range []string{"memory/model/number", "memory/model/name", "channels/a/control",
		"direction/a/reverse", "ends/a/high", "ends/a/low", "feel/soft/expo", "feel/soft/rate/k.on",
		"logic/lamp/block", "steps/lift/steps", "steps/lift/step/top_most", "steps/door/track/flap",
		"steps/flash/pattern", "mixes/aid/gain", "shares/both/rule", "speed/c/up", "speed/c/down",
		"loss/a/loss", "start/s/is", "start/told/say", "shown/rest/a", "shown/s/plus/a", "shown/k/on/c"} {
		require.True(t, keys[want], "%s of %v", want, keys)
	}
}

// TestWhatMustBeTriedAgainOnALostSignal: a line that was turned round, put on another
// channel or exchanged, and everything after a new bind, and nothing else.
func TestWhatMustBeTriedAgainOnALostSignal(t *testing.T) {
	old := build(t, kept)
	again := func(change ...string) map[string]string {
		found := map[string]string{}
		for _, sec := range build(t, strings.NewReplacer(change...).Replace(kept)).Changes(old, 4).Sections {
			for _, it := range sec.Items {
				if sec.Key == "again" {
					found[it.What+": "+it.Value] = it.Note
				}
			}
		}
		return found
	}
	require.Equal(t, map[string]string{"Port screw: go to 0": "its direction was changed"},
		again("channel: 1, low: -80", "channel: 1, reverse: true, low: -80"))
	require.Equal(t, map[string]string{"Port screw: go to 0": "it is on another channel",
		"Starboard screw: hold": "it is on another channel"},
		again("channel: 1, low: -80", "channel: 2, low: -80", "Starboard screw, channel: 2",
			"Starboard screw, channel: 1"))
	require.Equal(t, map[string]string{"Mast lamp: what the receiver does by itself": "it is on another pin",
		"Planes: what the receiver does by itself": "it is on another pin"},
		again("{pin: 3, channel: 3}", "{pin: 3, channel: 4}", "{pin: 4, channel: 4}", "{pin: 4, channel: 3}"))
	all := again("memory: 3", "memory: 4")
	require.Len(t, all, 4)
	require.Contains(t, all["Starboard screw: hold"], "wants its own bind")
	require.Len(t, again("name: Desk", "name: Other desk"), 4)
	require.Empty(t, again("high: 90", "high: 85", "expo: 20", "expo: 30"))
	require.Empty(t, again("label: Port screw", "label: Left screw"))
	for _, sec := range old.Sections {
		if sec.Key == "loss" {
			require.Contains(t, sec.Note, "after every bind")
		}
	}
}

// TestTheLeadsOfAPin: a leveller and the servo behind it are one lead.
func TestTheLeadsOfAPin(t *testing.T) {
	notes := map[string]string{}
	for _, sec := range build(t, strings.Replace(kept, "  - {id: fin",
		"  - {id: horn, label: horn, on: rx.2, kind: sound_trigger}\n  - {id: fin", 1)).Sections {
		for _, it := range sec.Items {
			if sec.Key == "channels" {
				notes[it.What] = it.Note
			}
		}
	}
	require.Equal(t, "Receiver, pin 4: leveller → plane servo", notes["Planes"])
	require.Equal(t, "Receiver, pin 2: right controller and horn", notes["Starboard screw"])
	require.Equal(t, "Receiver, pin 3", notes["Mast lamp"])
}

// TestTheRadioIsOnTheSheet: what a module is told, and which channels are slow.
func TestTheRadioIsOnTheSheet(t *testing.T) {
	for _, sec := range build(t, kept).Sections {
		require.NotEqual(t, "radio", sec.Key, "nothing is known of it")
	}
	sh := build(t, kept+`
link: {channels: 3, order: [2, 1], learned_us: {low: 1060, centre: 1500, high: 1930}, one_bit: [3],
    half_rate: [1, 5],
  module: {label: Blue box, plugs_into: trainer socket, least_channels: 4, most_channels: 8}}
`)
	radio := "Radio and module"
	require.Equal(t, "trainer socket", value(t, sh, radio, "Blue box: its signal is taken from"))
	require.Equal(t, "4 to 8", value(t, sh, radio, "Blue box: channels that it sends"))
	require.Equal(t, "1060", value(t, sh, radio, "tell the module the lowest pulse"))
	require.Equal(t, "1930", value(t, sh, radio, "tell the module the highest pulse"))
	require.Equal(t, "2", value(t, sh, radio, "channel 1 at the receiver carries the transmitter's channel"))
	require.Equal(t, "1, 5", value(t, sh, radio, "slow: new in every second frame only"))
	notes := map[string]string{}
	for _, sec := range sh.Sections {
		for _, it := range sec.Items {
			notes[it.Key] = it.Note
		}
	}
	require.Equal(t, "4 are wanted: those above 3 never arrive", notes["radio/link/channels"])
	require.Equal(t, "they carry Mast lamp", notes["radio/link/one_bit"])
	require.Equal(t, "they carry Starboard screw", notes["radio/link/half_rate"], "by way of the order")
}

// TestHowLongToHold: a dwell, a slow channel and a press have their times.
func TestHowLongToHold(t *testing.T) {
	notes := map[string]string{}
	for _, sec := range build(t, kept).Sections {
		for _, it := range sec.Items {
			notes[it.Key] = it.Note
		}
	}
	require.Equal(t, "there after 1 s: hold it so long", notes["shown/k/on/d"])
	require.Equal(t, "there after 1 s: hold it so long", notes["shown/k/on/c"],
		"the lamp comes up in a second")
	require.Empty(t, notes["shown/s/plus/a"])
}

// forty is a model with forty lines.
func forty() string {
	var b strings.Builder
	b.WriteString("transmitter: {frame_ms: 10, controls: [{id: s0, kind: axis}")
	for i := 1; i < 20; i++ {
		fmt.Fprintf(&b, ", {id: s%d, kind: %s}", i, []string{"axis", "switch, positions: [a, b, c]"}[i%2])
	}
	b.WriteString("]}\nmixes:\n")
	for i := range 40 {
		fmt.Fprintf(&b, "  - {to: o%d, from: s%d, gain: 80}\n", i, i%20)
	}
	b.WriteString("outputs:\n")
	for i := range 40 {
		fmt.Fprintf(&b, "  - {id: o%d, channel: %d, slew_s: 2, low: -90, loss: {mode: preset, value: 0}}\n",
			i, i+1)
	}
	return b.String()
}

// TestFortyLinesAreQuick: a sheet of forty lines within a tenth of a second.
func TestFortyLinesAreQuick(t *testing.T) {
	doc, err := setup.ReadYAML([]byte("format: axtren-setup\nversion: 1\n" + forty()))
	require.NoError(t, err)
	p, err := signal.Compile(doc.Setup)
	require.NoError(t, err)
	best := time.Hour
	for range 5 {
		start := time.Now()
		sheet.Build(p)
		best = min(best, time.Since(start))
	}
	t.Logf("%v", best)
	require.Less(t, best, 100*time.Millisecond)
}

// TestWhatASetCannotTakeIsSaid, and what it just can is not: an end beyond the place that
// it counts from, as many blocks as it has, one more.
func TestWhatASetCannotTakeIsSaid(t *testing.T) {
	notes := func(text string) map[string]string {
		all := map[string]string{}
		for _, sec := range build(t, text).Sections {
			all[sec.Key] = sec.Note
			for _, it := range sec.Items {
				all[it.Key] = it.Note
			}
		}
		return all
	}
	ends := notes("transmitter: {can: {endpoint_from: zero, endpoint_max: 120}}\noutputs: [{id: o, " +
		"channel: 1, low: 20, centre: 40, high: 120}, {id: p, channel: 2, low: 0, centre: 10, high: 121}]")
	require.Equal(t, "lies beyond the place the transmitter counts from; most sets cannot key this in",
		ends["ends/o/low"])
	require.Empty(t, ends["ends/o/high"])
	require.Empty(t, ends["ends/p/low"], "it lies at that place")
	require.Equal(t, "this transmitter goes to 120 only", ends["ends/p/high"])
	for count, want := range map[string]string{"1": "This transmitter has 1 blocks, and 2 are wanted.",
		"2": "",
		"3": ""} {
		logic := notes("transmitter: {can: {logic: {count: " + count +
			"}}}\nlogic: [{id: a, block: or, in: [power_on]}, {id: b, block: or, in: [a]}]\noutputs: [{id: " +
			"o, channel: 1}]")
		require.Equal(t, want, logic["logic"], count)
	}
	channels := notes("link: {module: {label: Box, least_channels: 4}}\noutputs: [{id: o, channel: 1}]")
	require.Contains(t, channels, "radio/link/module/channels")
	require.NotContains(t, notes("link: {module: {label: Box}}\noutputs: [{id: o, channel: 1}]"),
		"radio/link/module/channels")
}

// TestRulesAreTried: each rule has its sentence, how it is brought about from hands off and taken back,
// and the reading of the function that it moves.
func TestRulesAreTried(t *testing.T) {
	sh := build(t, `
transmitter:
  controls:
    - {id: left, kind: switch, label: Left button, positions: [rest, press], spring_to: rest}
    - {id: lock, kind: switch, label: Lock, positions: [free, locked]}
logic:
  - {id: water, block: toggle, label: Water, in: left.press, reset: lock.locked}
  - {id: late, block: tof, label: Late, in: left.press, for_s: 2}
outputs: [{id: pump, label: Pump, channel: 4, low: -100, high: 80}]
mixes: [{to: pump, from: water}]
announcements: [{id: say, when: water, say: water on}]
start_check: [{control: lock, is: locked}]
`)
	var got []string
	for _, sec := range sh.Sections {
		if sec.Key != "tried" {
			continue
		}
		require.Equal(t, "What the switches do, tried", sec.Title)
		for _, it := range sec.Items {
			got = append(got, strings.Join([]string{it.What, it.Value, it.US, it.Note}, " | "))
		}
	}
	require.Equal(t, []string{
		"Water |  |  | goes on when Left button is pressed, and off the next time; off also as long " +
			"as Lock is at locked. " +
			"Wakes off.",
		"Water, from off to on: Lock to free, then press Left button → Pump | 1900 | 1900 | ",
		"Water, from on to off: press Left button → Pump | 1000 | 1000 | ",
		"Late |  |  | is on while Left button is held, and stays on for 2 s after.",
		"Late, from off to on: press Left button |  |  | ",
		"Late, from on to off: let go of Left button |  |  | so after 2 s",
		"“water on” |  |  | is said when Water goes on."}, got)
}
