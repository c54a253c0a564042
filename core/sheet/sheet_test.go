package sheet_test

import (
	"fmt"
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
  controls: [{id: s, kind: axis, label: Stick, plus: up, minus: down}, {id: k, kind: switch, label: Key, positions: [one, two]}]
  can: {endpoint_follows: servo, menu_cuts_link: %t, failsafe: receiver, scales: {endpoint: %s, failsafe: {else: percent, channels: {3: span}}, trim: {step: 2.5}, gain: span, display: %s}}
mixes: [{to: a, from: s, gain: -50}, {to: b, from: k}]
outputs:
  - {id: a, label: Fin, channel: 2, centre: 10, low: -70, high: 80, loss: {mode: preset, value: -70}}
  - {id: b, label: Pump, channel: 3, loss: {mode: preset, value: -70}}
receivers: [{id: rx, failsafe: {can: [preset], otherwise: hold}, pins: [{pin: 1, channel: 2}, {pin: 2, channel: 3}]}]
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
	require.Equal(t, "+10", value(t, sh, "What the display must show", "hands off, all where it starts → Fin"))
	for scale, want := range map[string][2]string{"percent": {"+80", "−70"}, "us": {"1900", "1150"}, "span": {"90", "15"}, "{bits: 10}": {"921", "153"}} {
		sh = build(t, fmt.Sprintf(mixed, false, scale, "us"))
		require.Equal(t, want, [2]string{value(t, sh, "Ends", "Fin, servo high side"), value(t, sh, "Ends", "Fin, servo low side")}, scale)
	}
}

// TestTheDisplayOfEveryStance is worked by hand: stick up asks -50 of the fin, half
// the way from 10 to -70, which is -30: 1350 us.
func TestTheDisplayOfEveryStance(t *testing.T) {
	sh := build(t, fmt.Sprintf(mixed, false, "magnitude", "us"))
	require.Equal(t, "1550", value(t, sh, "What the display must show", "hands off, all where it starts → Fin"))
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
		for _, once := range []string{"clear of the ground", "propellers off", "Fingers out", "Lithium", "Let the pressure out", "Tie the model down"} {
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
	now := build(t, strings.NewReplacer("high: 80", "high: 75", ", {to: b, from: k}", "").Replace(text)).Changes(old, 4)
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
		require.Equal(t, len(s.Logic), n["Switch logic"], s.Name)
		require.Equal(t, len(s.StartCheck)+len(s.Announcements), n["Start and voice"], s.Name)
		require.Equal(t, len(s.Shares), n["More than 100 asked"], s.Name)
		switch s.Name {
		case "Marram":
			require.Equal(t, "press on, press off", value(t, sh, "Switch logic", "Water wanted"))
			require.Equal(t, "−30", value(t, sh, "Steps", "Mast lights, anchor"))
			require.Equal(t, "+100 for 0.12 s, −100 for 0.12 s, +100 for 0.12 s, −100 for 0.64 s", value(t, sh, "Steps", "Blue flash"))
			require.Equal(t, "−5 to +5", value(t, sh, "Start and voice", "sends nothing before Right stick, ahead is at"))
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
		fmt.Fprintf(&b, "  - {id: o%d, channel: %d, slew_s: 2, low: -90, loss: {mode: preset, value: 0}}\n", i, i+1)
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
