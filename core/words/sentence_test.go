package words_test

import (
	"testing"

	"github.com/stretchr/testify/require"

	"axtren/core/setup"
	"axtren/core/words"
)

// claims is a model with a claim of every kind.
const claims = `format: axtren-setup
version: 1
transmitter: {controls: [{id: stick, kind: axis, label: Stick}, {id: key, kind: switch, label: Key, positions: [off, hold]}]}
logic: [{id: lamps, block: and, label: Lamps, in: [key.hold]},
  {id: far, block: above, label: Far, of: stick, level: 40, hysteresis: 5},
  {id: low, block: below, label: Low, of: stick, level: -40},
  {id: held, block: sr, label: Held, set: lamps, reset: far, start: true},
  {id: late, block: ton, label: Late, in: lamps, for_s: 1.5}]
outputs: [{id: pump, label: Pump, channel: 1}, {id: door, label: Door, channel: 2}]
mixes: [{id: m, to: pump, from: stick}]
receivers: [{id: rx, pins: [{pin: 1, channel: 1}]}]
devices: [{id: motor, label: Motor, on: rx.1, kind: esc}]
announcements: [{id: a, say: Door is open, when: lamps}]
start_check: [{control: key, is: off}, {control: stick, is: {from: -5, to: 5}}]
claims:
  - {id: c0, never: [lamps, {output: pump, above: 20}]}
  - {id: c1, never: [{device: motor, below: -5}]}
  - {id: c2, at_start: {output: pump, value: -100, within: 2.5}}
  - {id: c3, at_start: {output: pump, value: 0}}
  - {id: c4, on_loss: {output: pump, cut: true}}
  - {id: c5, on_loss: {output: pump, value: 30, within: 5}}
  - {id: c6, on_loss: {output: pump, value: 30}}
  - {id: c7, only_when: {changes: lamps, while: {output: door, within: [-10, 10]}}}
  - {id: c8, leads_to: {when: lamps, then: {output: door, above: 90}, within_s: 2.5}}
  - {id: c9, reachable: {output: door, below: -90}}
  - {id: c10, label: Door and pump, reachable: lamps}
`

func described(t *testing.T) *setup.Setup {
	doc, err := setup.ReadYAML([]byte(claims))
	require.NoError(t, err)
	return doc.Setup
}

// TestWhatMustHoldIsASentence, of every kind there is.
func TestWhatMustHoldIsASentence(t *testing.T) {
	s := described(t)
	var said []string
	for i := range s.Claims {
		said = append(said, words.Claim(s, &s.Claims[i]))
	}
	require.Equal(t, []string{
		"never at once: Lamps is on; Pump is above +20",
		"never is it so that Motor is below −5",
		"Pump stands at −100 when it is switched on, give or take 2.5",
		"Pump stands at 0 when it is switched on",
		"Pump gets no pulses when the signal is lost",
		"Pump goes to +30 when the signal is lost, give or take 5",
		"Pump goes to +30 when the signal is lost",
		"whether Lamps is on changes only while Door is from −10 to +10",
		"when Lamps is on, then within 2.5 s Door is above +90",
		"it can be brought about that Door is below −90",
		"it can be brought about that Lamps is on",
	}, said)
	require.Equal(t, "says nothing yet", words.Claim(s, &setup.Claim{}))
	keys := map[string]bool{}
	for _, kind := range words.Claims {
		require.NotEmpty(t, kind.Name)
		keys[kind.Key] = true
	}
	require.Len(t, keys, 6)
}

// TestAPartIsNamed by what it is and how it is called.
func TestAPartIsNamed(t *testing.T) {
	s := described(t)
	for id, said := range map[setup.ID]string{"pump": "Pump", "m": "mix Stick to Pump", "motor": "device Motor",
		"key": "control Key", "a": "announcement “Door is open”", "c10": "what must hold: Door and pump",
		"c4": "what must hold: Pump gets no pulses when the signal is lost", "lamps": "rule Lamps"} {
		require.Equal(t, said, words.Part(s, s.Item(id)), string(id))
	}
	var starts []string
	for i := range s.StartCheck {
		starts = append(starts, words.StartsAt(&s.StartCheck[i]))
	}
	require.Equal(t, []string{"off", "−5 to +5"}, starts)
}

// TestARuleSaysWhatItLooksAt with values and times as they are keyed in.
func TestARuleSaysWhatItLooksAt(t *testing.T) {
	s := described(t)
	var said []string
	for i := range s.Logic {
		said = append(said, words.Block(s, &s.Logic[i]))
	}
	require.Equal(t, []string{"Key at hold", "Stick at +40, lets go 5 further back", "Stick at −40",
		"set by Lamps is on; reset by Far is on, starts on", "Lamps is on, 1.5 s"}, said)
}

// TestFiguresAsPeopleWriteThem.
func TestFiguresAsPeopleWriteThem(t *testing.T) {
	for v, want := range map[float64][4]string{
		0: {"0.0", "0.0", "0", "0"}, -0.001: {"0.0", "0.0", "0", "0"}, 0.001: {"0.0", "0.0", "0", "0"},
		12: {"12.0", "+12.0", "12", "+12"}, -12.5: {"−12.5", "−12.5", "−12.5", "−12.5"},
		0.25: {"0.25", "+0.25", "0.25", "+0.25"}, -0.05: {"−0.05", "−0.05", "−0.05", "−0.05"},
		100.126: {"100.13", "+100.13", "100.13", "+100.13"},
	} {
		require.Equal(t, want, [4]string{words.Figure(v), words.Signed(v), words.Short(v), words.SignedShort(v)})
	}
	require.Equal(t, []string{"expo 30", "sharpened 20", "expo 0"},
		[]string{words.Expo(30), words.Expo(-20), words.Expo(0)})
}

// TestNumbersAreReadAsTyped: whatever the sign, the point and the spaces; anything else is none.
func TestNumbersAreReadAsTyped(t *testing.T) {
	for text, want := range map[string]float64{"12": 12, "+12,5": 12.5, "−3": -3, "–3": -3, " 1 200 ": 1200,
		"1\u202f200.5": 1200.5, ".5": 0.5, "7.": 7} {
		got, ok := words.Number(text)
		require.True(t, ok, text)
		require.Equal(t, want, got, text)
	}
	for _, text := range []string{"", "12 3", "1e3", "twelve", "1,2,3", "--1", "0x10", "NaN"} {
		_, ok := words.Number(text)
		require.False(t, ok, text)
	}
}

// TestNamesInASentence.
func TestNamesInASentence(t *testing.T) {
	require.Equal(t, []string{"", "a", "a and b", "a, b and c"}, []string{words.And(nil),
		words.And([]string{"a"}), words.And([]string{"a", "b"}), words.And([]string{"a", "b", "c"})})
	require.Equal(t, []string{"on", "off"}, []string{words.OnOff(true), words.OnOff(false)})
	require.Equal(t, words.Of("and").Name, words.Choice("blocks", "and"))
	require.Equal(t, "low", words.Choice("blocked", "low"))
}

// TestWhatAHandDoes: an axis is pushed towards what its ends are called, all the way, half way or to a
// figure, or put to its middle; what springs back is held or pressed, what stays is put. A stick is called so
// where the end tells which of its ways is meant.
func TestWhatAHandDoes(t *testing.T) {
	doc, err := setup.ReadYAML([]byte("format: axtren-setup\nversion: 1\ntransmitter: {controls: [" +
		"{id: a, kind: axis, label: Stick, plus: ahead, minus: astern}, " +
		"{id: b, kind: axis, label: Knob, spring: none}, " +
		"{id: c, kind: switch, label: Horn, positions: ['off', press], spring_to: 'off'}, " +
		"{id: d, kind: switch, label: Rocker, positions: [in, rest, out], spring_to: rest}, " +
		"{id: e, kind: switch, label: Gear, positions: [low_gear, high_gear]}, " +
		"{id: f, kind: axis, label: Boom, stick: left, plus: out, minus: in}, " +
		"{id: g, kind: axis, label: Slew, stick: left}, " +
		"{id: h, kind: axis, label: Wheel, form: wheel, plus: right}, " +
		"{id: i, kind: axis, label: Trigger, form: trigger, plus: pull, minus: push}]}\n"))
	require.NoError(t, err)
	for _, one := range []struct {
		control  int
		v        float64
		does, at string
	}{
		{0, 100, "push Stick all the way towards ahead", "Stick held all the way towards ahead"},
		{0, -50, "push Stick half way towards astern", "Stick held half way towards astern"},
		{0, 30, "push Stick to +30, towards ahead", "Stick held to +30, towards ahead"},
		{0, 0, "put Stick to the middle", "Stick in the middle"},
		{1, -100, "push Knob all the way towards −100", "Knob all the way towards −100"},
		{2, 1, "press Horn", "Horn held"},
		{3, 2, "hold Rocker at out", "Rocker held at out"},
		{3, 1, "let go of Rocker", "Rocker let go"},
		{4, 1, "put Gear to high gear", "Gear at high gear"},
		{5, -50, "push Left stick half way towards in", "Left stick held half way towards in"},
		{5, 0, "put Boom to the middle", "Boom in the middle"},
		{7, 100, "turn Wheel all the way towards right", "Wheel held all the way towards right"},
		{8, -100, "move Trigger all the way towards push", "Trigger held all the way towards push"},
		{6, 100, "push Slew all the way towards +100", "Slew held all the way towards +100"},
	} {
		does, at := words.Put(doc.Setup, one.control, one.v)
		require.Equal(t, []string{one.does, one.at}, []string{does, at})
	}
}
