package codes

import (
	"fmt"
	"strings"
	"testing"

	"github.com/stretchr/testify/require"

	"axtren/core/setup"
)

func read(t *testing.T, text string) *setup.Document {
	t.Helper()
	doc, err := setup.ReadYAML([]byte("format: axtren-setup\nversion: 1\n" + text))
	require.NoError(t, err)
	return doc
}

const boat = `
outputs: [{id: horn, label: Horn, channel: 2}]
receivers:
  - id: rx
    label: Receiver
    pins: [{pin: 1, channel: 1}, {pin: 2, channel: 2, switch: {on: below, at_us: 1500, level: low, volts: 3.3}}]
devices: [{id: card, label: sound card, on: rx.2, kind: sound_trigger}]
`

// with gives a document whose receiver has a chart that comes with the program.
func with(t *testing.T, text, chart string) *setup.Document {
	t.Helper()
	tree, _, err := SetChart(read(t, text), "receivers/rx", chart, "")
	require.NoError(t, err)
	doc, err := setup.FromTree(tree)
	require.NoError(t, err)
	return doc
}

func wants(pin Pin) (codes []int) {
	for _, level := range pin.Levels {
		codes = append(codes, level.Want)
	}
	return codes
}

// A pin that is at 0 V while its channel is below 1500 µs, else high, by both charts, read off by hand.
func TestAWishBecomesItsCode(t *testing.T) {
	for chart, want := range map[string][]int{"one-code": {5}, "pin-first": {2, 2, 2, 2, 2}} {
		w := Of(with(t, boat, chart))[0]
		require.Equal(t, 1, w.Open, chart)
		require.Equal(t, want, wants(w.Pins[1]), chart)
		require.Equal(t, "sound card", w.Pins[1].Hangs)
		require.Equal(t, "on or off: 3.3 V until Horn is below 1500 µs, then 0 V", w.Pins[1].Says)
		require.False(t, w.Pins[0].Open, "it came with servo pulses")
		require.Empty(t, w.Pins[0].Test)
		require.Contains(t, w.Before[0], "Pull every plug out of Receiver but that of what feeds it, "+
			"until all pins are set")
		require.Contains(t, w.After[0], "To keep it, ")
		require.Empty(t, w.Holes)
	}
	pulses := Of(with(t, boat, "pin-first"))[0].Pins[0]
	require.Equal(t, []int{1, 1, 1, 1, 1}, wants(pulses), "what is of no account is left at its least")
}

// Every choice of every pin of both charts, looked up in the chart by plain search: what its codes mean
// is what was asked for, and nothing of it is left open.
func TestEveryChoiceMeansWhatItSays(t *testing.T) {
	for _, chart := range []string{"one-code", "pin-first"} {
		doc := with(t, boat, chart)
		rx := &doc.Setup.Receivers[0]
		for p := range rx.Pins {
			pin := pinOf(doc.Setup, setup.PinRef{Pin: p}, new(int))
			require.Len(t, pin.Choices, map[string]int{"one-code": 5, "pin-first": 13}[chart])
			for _, choice := range pin.Choices {
				var w wish
				for _, one := range wishes(rx.Chart, &rx.Pins[p]) {
					if key(one) == choice.Key {
						w = one
					}
				}
				at, codes, missing := codesOf(rx.Chart, rx.Pins[p].Pin, w, nil)
				require.Equal(t, -1, missing)
				got := setup.SwitchPin{}
				sends := ""
				for k, code := range codes {
					for _, v := range rx.Chart.Levels[at[k]].Values {
						if v.Code != code {
							continue
						}
						require.True(t, v.Pin == 0 || v.Pin == rx.Pins[p].Pin)
						if v.Sends != "" {
							sends = v.Sends
						}
						if v.On != "" {
							got.On = v.On
						}
						if v.Level != "" {
							got.Level = v.Level
						}
						if v.AtUS > 0 {
							got.AtUS = v.AtUS
						}
					}
				}
				if w == nil {
					require.Equal(t, "pulses", sends)
					continue
				}
				require.Equal(t, "switch", sends)
				require.Equal(t, [3]any{w.On, w.Level, w.AtUS}, [3]any{got.On, got.Level, got.AtUS})
			}
		}
	}
}

// What the chart does not have is refused with what it has, and nothing is counted.
func TestWhatTheChartHasNotIsRefused(t *testing.T) {
	odd := strings.Replace(boat, "at_us: 1500", "at_us: 1400", 1)
	pin := Of(with(t, odd, "pin-first"))[0].Pins[1]
	require.Equal(t, "Pin 2 of Receiver is to be on or off: 3.3 V until Horn is below 1400 µs, then 0 V; "+
		"level 5 of its "+
		"chart has nothing for that. It has 1: switches at 1250 µs; 2: switches at 1500 µs; 3: switches at 1750 µs",
		pin.Refused)
	require.Empty(t, pin.Levels)
	require.False(t, pin.Open)
	doc := with(t, strings.NewReplacer("{pin: 2", "{pin: 12", "rx.2", "rx.12").Replace(boat), "one-code")
	require.Contains(t, pinOf(doc.Setup, setup.PinRef{Pin: 1}, new(int)).Refused, "its chart has no level that "+
		"chooses between "+
		"servo pulses and on or off for this pin")
	_, _, err := SetWish(with(t, boat, "pin-first"), "receivers/rx", "2", "above 1400 high")
	require.ErrorContains(t, err, "the chart has nothing for that")
	require.ErrorContains(t, err, "use one of: servo pulses; 0 V, 3.3 V above 1250 µs; 3.3 V, 0 V above "+
		"1250 µs; ")
	require.NotContains(t, err.Error(), "1400 µs")
	_, _, err = Note(with(t, boat, "pin-first"), "receivers/rx", "2", 4, 7)
	require.ErrorContains(t, err, "level 5 of the chart has no such number of flashes")
	require.ErrorContains(t, err, "it has 1: switches at 1250 µs; 2: switches at 1500 µs; 3: switches at "+
		"1750 µs")
}

// steps are counted by plain trying: the fewest presses of either kind from one code to another.
func steps(c *setup.Chart, low, high, there, want int) int {
	best := -1
	for _, way := range []int{1, -1} {
		if way == 1 && c.Up == "" || way == -1 && c.Down == "" {
			continue
		}
		at := there
		for n := range 101 {
			if at == want && (best < 0 || n < best) {
				best = n
			}
			at += way
			if c.Wraps && at > high {
				at = low
			}
			if c.Wraps && at < low {
				at = high
			}
		}
	}
	return best
}

func TestTheFewestSteps(t *testing.T) {
	values := []setup.Counted{}
	for code := 2; code <= 8; code++ {
		values = append(values, setup.Counted{Code: code})
	}
	level := &setup.Rank{Values: values}
	for _, c := range []setup.Chart{{Up: "press"}, {Down: "pull"}, {Up: "press", Down: "pull"},
		{Up: "press", Wraps: true},
		{Down: "pull", Wraps: true}, {Up: "press", Down: "pull", Wraps: true}, {}} {
		for there := 2; there <= 8; there++ {
			for want := 2; want <= 8; want++ {
				said := do(&c, level, there, want)
				switch n := steps(&c, 2, 8, there, want); n {
				case -1:
					if there != want {
						require.Contains(t, said, "begin anew")
						continue
					}
					require.Equal(t, "Leave it as it is.", said)
				case 0:
					require.Equal(t, "Leave it as it is.", said)
				default:
					require.Contains(t, said, fmt.Sprintf("by %d: ", n), "%v from %d to %d", c, there, want)
					require.NotContains(t, said, "says nothing")
				}
			}
		}
	}
	require.Equal(t, "Up by 3: press the button, 3 times.", do(&setup.Chart{Up: "press the button."}, level,
		2, 5))
	require.Equal(t, "Down by 1: pull, once.", do(&setup.Chart{Up: "press", Down: "pull"}, level, 3, 2))
}

const hole = `
up: press
down: pull
levels:
  - {values: [{code: 1, sends: pulses}, {code: 2, sends: switch, on: above}, {code: 5, sends: switch, on: below}]}
`

func TestAChartWithAHole(t *testing.T) {
	tree, _, err := SetChart(read(t, boat), "receivers/rx", "", hole)
	require.NoError(t, err)
	doc, err := setup.FromTree(tree)
	require.NoError(t, err)
	w := Of(doc)[0]
	require.Equal(t, []string{"Level 1 of the chart has a hole: between 1 and 5 it says nothing of 3, 4."},
		w.Holes)
	from := w.Pins[1].Levels[0].From
	require.Equal(t, "Up by 4: press, 4 times. The way comes past 3, 4, of which the chart says nothing: "+
		"count the flashes "+
		"after each step.", from[0].Do)
	require.Equal(t, "Leave it as it is.", from[2].Do)
	list := Problems(doc.Setup)
	require.Equal(t, Problem{"chart_hole", "receivers[0].chart", "Level 1 of the chart has a hole: " +
		"between 1 and 5 it says " +
		"nothing of 3, 4 (Receiver)", "write into the chart what they mean, or give the way around them"}, list[0])
	require.Equal(t, "codes", list[1].Rule)
	require.Len(t, list, 2)
}

// What was counted is on record, level by level; a wish that changes makes it open again, and a lamp that
// was steady is to be tried anew.
func TestWhatWasCountedIsOnRecord(t *testing.T) {
	doc := with(t, boat, "pin-first")
	said := ""
	change := func(tree *setup.Node, words string, err error) {
		t.Helper()
		require.NoError(t, err)
		said = words
		doc, err = setup.FromTree(tree)
		require.NoError(t, err)
	}
	for at := range 5 {
		require.Equal(t, 1, Of(doc)[0].Open)
		change(Note(doc, "receivers/rx", "2", at, 2))
	}
	require.Equal(t, "Pin 2 of Receiver: level 5 counted, 2: switches at 1500 µs", said)
	require.Zero(t, Of(doc)[0].Open)
	require.Empty(t, Problems(doc.Setup))
	require.Equal(t, []setup.PinCode{{Pin: 2, Written: []int{2, 2, 2, 2, 2}}}, doc.Setup.Receivers[0].Codes)
	change(Lamp(doc, "receivers/rx", "2", "no"))
	require.Equal(t, "The lamp on pin 2 of Receiver flickered", said)
	require.Equal(t, "a lamp on pin 2 of Receiver flickers: it still gets servo pulses",
		Problems(doc.Setup)[0].Says)
	change(Lamp(doc, "receivers/rx", "2", "yes"))
	require.Empty(t, Problems(doc.Setup))
	require.Equal(t, "yes", Of(doc)[0].Pins[1].Steady)

	change(SetWish(doc, "receivers/rx", "2", "above 1500 high"))
	require.Equal(t, "Pin 2 of Receiver is to be on or off: 0 V until Horn is above 1500 µs, then 3.3 V", said)
	w := Of(doc)[0]
	require.Equal(t, setup.SwitchPin{On: "above", AtUS: 1500, Level: "high", Volts: 3.3},
		*doc.Setup.Receivers[0].Pins[1].Switch, "the volts stay")
	require.Equal(t, 1, w.Open)
	require.Empty(t, w.Pins[1].Steady)
	require.Equal(t, []int{2, 2, 1, 1, 2}, wants(w.Pins[1]))
	change(SetWish(doc, "receivers/rx", "2", "pulses"))
	w = Of(doc)[0]
	require.Nil(t, doc.Setup.Receivers[0].Pins[1].Switch)
	require.True(t, w.Pins[1].Open, "it is on record as on or off")
	require.Equal(t, []int{2, 1, 2, 2, 2}, wants(w.Pins[1]), "what is of no account stays as it is")
	change(SetChart(doc, "receivers/rx", "", ""))
	require.Nil(t, doc.Setup.Receivers[0].Chart)
	require.Empty(t, doc.Setup.Receivers[0].Codes)
}

// 3.3 V for 1.5 of 20 ms are 0.25 V on average: by hand.
func TestALampOnServoPulses(t *testing.T) {
	pin := Of(with(t, boat, "one-code"))[0].Pins[1]
	require.Contains(t, pin.Flicker, "3.3 V for 1.5 of 20 ms are 0.25 V on average")
	require.Contains(t, pin.Test, "between power and the pin")
}

func TestBadCharts(t *testing.T) {
	for text, want := range map[string]string{
		"levels: []":             "receivers[0].chart.levels: ",
		"up: x":                  "receivers[0].chart.levels: ",
		"levels: [{values: []}]": "receivers[0].chart.levels[0].values: ",
		"levels: [{values: [{code: 1}, {code: 1}]}]": "receivers[0].chart.levels[0].values[1].code: the code is " +
			"receivers[0].chart.levels[0].values[0].code too",
		"levels: [{values: [{code: 0}]}]":                 "receivers[0].chart.levels[0].values[0].code: ",
		"levels: [{values: [{code: 100}]}]":               "receivers[0].chart.levels[0].values[0].code: ",
		"levels: [{pin: 1, values: [{code: 1, pin: 2}]}]": "chooses a pin on a level that belongs to one",
		"levels: [{values: [{code: 1, sends: smoke}]}]":   "receivers[0].chart.levels[0].values[0].sends: ",
		"levels: [{values: [{code: 1, colour: red}]}]":    "there is no such field",
		"[1, 2]": "this is no chart",
		"{":      "line ",
	} {
		tree, _, err := SetChart(read(t, boat), "receivers/rx", "", text)
		if err == nil {
			_, err = setup.FromTree(tree)
		}
		require.ErrorContains(t, err, want, text)
	}
	_, _, err := SetChart(read(t, boat), "receivers/rx", "none", "")
	require.ErrorContains(t, err, "no chart of that name comes with the program")
	_, _, err = SetChart(read(t, boat), "devices/card", "one-code", "")
	require.ErrorContains(t, err, "is no receiver")
	_, _, err = SetWish(read(t, boat), "receivers/rx", "2", "pulses")
	require.ErrorContains(t, err, "has no chart")
	_, _, err = Note(with(t, boat, "one-code"), "receivers/rx", "9", 0, 1)
	require.ErrorContains(t, err, "there is no such pin")
	_, _, err = Note(with(t, boat, "one-code"), "receivers/rx", "2", 1, 1)
	require.ErrorContains(t, err, "there is no such level for this pin")
	_, _, err = Lamp(with(t, boat, "one-code"), "receivers/rx", "2", "perhaps")
	require.ErrorContains(t, err, "is no answer")
	for _, bad := range []string{"codes: [{pin: 1}, {pin: 1}]", "codes: [{pin: 1, written: [100]}]"} {
		_, err := setup.ReadYAML([]byte("format: axtren-setup\nversion: 1\n" + strings.Replace(boat,
			"label: Receiver",
			"label: Receiver\n    "+bad, 1)))
		require.Error(t, err)
	}
}

func TestChartsThatShip(t *testing.T) {
	require.Equal(t, []Choice{{"one-code", "One number of flashes for each pin"}, {"pin-first", "A pin " +
		"first, then four " +
		"choices"}}, Shipped())
	w := Of(read(t, boat))[0]
	require.Empty(t, w.Chart)
	require.True(t, w.OnOff)
	require.Equal(t, []Pin{}, w.Pins)
	text := Of(with(t, boat, "pin-first"))[0].Text
	tree, _, err := SetChart(read(t, boat), "receivers/rx", "", text)
	require.NoError(t, err)
	doc, err := setup.FromTree(tree)
	require.NoError(t, err)
	require.Equal(t, with(t, boat, "pin-first").Setup.Receivers[0].Chart, doc.Setup.Receivers[0].Chart,
		"as text it goes out and comes in again")
}

// The largest charts on the largest receivers: what is told of them stays bounded, and so does a chart.
func TestLargeChartsAreBounded(t *testing.T) {
	var level, pins, receivers strings.Builder
	for code := 1; code <= 64; code++ {
		fmt.Fprintf(&level, "{code: %d, sends: %s, on: above, at_us: %d},", code, []string{"switch",
			"pulses"}[code%2], 1000+code)
	}
	for pin := 1; pin <= 256; pin++ {
		fmt.Fprintf(&pins, "{pin: %d, channel: %d, switch: {at_us: 1050}},", pin, 1+pin%48)
	}
	one := "{values: [" + level.String() + "]},"
	for r := range 8 {
		fmt.Fprintf(&receivers, "  - {id: r%d, pins: [%s], chart: {levels: [%s]}}\n", r, pins.String(),
			strings.Repeat(one, 4))
	}
	doc := read(t, "receivers:\n"+receivers.String())
	ways := 0
	for _, w := range Of(doc) {
		require.Len(t, w.Pins, 256)
		for _, pin := range w.Pins {
			require.LessOrEqual(t, len(pin.Choices), 1+4*mostPulses)
			for _, l := range pin.Levels {
				ways += len(l.From)
			}
		}
	}
	require.Equal(t, mostWays, ways)
	_, err := setup.ReadYAML([]byte("format: axtren-setup\nversion: 1\nreceivers: [{id: rx, chart: {levels: [" +
		strings.Repeat(one, 5) + "]}}]\n"))
	require.ErrorContains(t, err, "receivers[0].chart.levels[4].values: is more than the 256 values that "+
		"a chart may have")
}
