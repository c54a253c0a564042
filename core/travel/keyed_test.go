package travel

import (
	"testing"

	"github.com/stretchr/testify/require"

	"axtren/core/setup"
)

func read(t *testing.T, can, output string) *setup.Setup {
	doc, err := setup.ReadYAML([]byte(`
format: axtren-setup
version: 1
transmitter:
  controls: [{id: drive, kind: axis, stick: right, along: y, plus: forward, minus: back}]
  can: {` + can + `}
demands: [{id: soft, from: drive}]
mixes: [{to: o, from: soft, gain: 90}]
outputs: [{id: o, channel: 1, low: -96, high: 94, ` + output + `}]`))
	require.NoError(t, err)
	return doc.Setup
}

// TestKeyedEnds is worked by hand: a reversed channel swaps what is typed only
// where the set counts an end on the side of the stick.
func TestKeyedEnds(t *testing.T) {
	for _, c := range []struct {
		can, output string
		want        [2]KeyedEnd
	}{
		{"", "", [2]KeyedEnd{{"high", "servo high side", 94, 94}, {"low", "servo low side", 96, -96}}},
		{"endpoint_follows: servo", "reverse: true", [2]KeyedEnd{{"high", "servo high side", 94, 94},
			{"low", "servo low side", 96, -96}}},
		{"endpoint_follows: stick", "", [2]KeyedEnd{{"high", "stick forward", 94, 94},
			{"low", "stick back", 96, -96}}},
		{"endpoint_follows: stick", "reverse: true", [2]KeyedEnd{{"low", "stick forward", 96, -96},
			{"high", "stick back", 94, 94}}},
		{"endpoint_from: centre", "centre: 10", [2]KeyedEnd{{"high", "servo high side", 84, 94},
			{"low", "servo low side", 106, -96}}},
	} {
		require.Equal(t, c.want, KeyedEnds(read(t, c.can, c.output), 0), "%s, %s", c.can, c.output)
	}
}

// TestTheWayOfTheHand: that of the control in the first mix of the output, turned with
// its gain; plain where nothing says which way that control goes.
func TestTheWayOfTheHand(t *testing.T) {
	set := `
format: axtren-setup
version: 1
transmitter:
  controls:
    - {id: drive, kind: axis, stick: right, along: y, plus: forward, minus: back}
    - {id: lever, kind: axis, plus: up, minus: down}
    - {id: half, kind: axis, plus: up}
    - {id: other, kind: axis, minus: down}
    - {id: bare, kind: axis}
demands: [{id: soft, from: drive}, {id: softer, from: soft}]
logic: [{id: on, block: above, of: drive, level: 0}]
outputs: [{id: x, channel: 1}, {id: o, channel: 2}]
mixes: [{to: x, from: bare}`
	for mixes, want := range map[string][2]string{
		", {to: o, from: drive}":                       {"stick forward", "stick back"},
		", {to: o, from: drive, gain: 0.5}":            {"stick forward", "stick back"},
		", {to: o, from: drive, gain: -20}":            {"stick back", "stick forward"},
		", {to: o, from: drive, gain: 0}":              {"upper end", "lower end"},
		", {to: o, from: soft}":                        {"stick forward", "stick back"},
		", {to: o, from: softer, gain: -1}":            {"stick back", "stick forward"},
		", {to: o, from: lever}":                       {"control up", "control down"},
		", {to: o, from: half}":                        {"upper end", "lower end"},
		", {to: o, from: other}":                       {"upper end", "lower end"},
		", {to: o, from: bare}, {to: o, from: drive}":  {"upper end", "lower end"},
		", {to: o, from: on}, {to: o, from: drive}":    {"upper end", "lower end"},
		", {to: o, from: x.asked}":                     {"upper end", "lower end"},
		", {to: o, from: 30}":                          {"upper end", "lower end"},
		", {to: o, from: lever}, {to: o, from: drive}": {"control up", "control down"},
		"": {"upper end", "lower end"},
	} {
		doc, err := setup.ReadYAML([]byte(set + mixes + "]\n"))
		require.NoError(t, err)
		plus, minus := StickWays(doc.Setup, 1)
		require.Equal(t, want, [2]string{plus, minus}, mixes)
	}
}

func TestWhatASetSaysOfItsEnds(t *testing.T) {
	for can, want := range map[string][2]bool{"": {false, false}, "channels: 4": {false, false},
		"endpoint_follows: stick": {true, true}, "endpoint_follows: servo": {false, true}} {
		stick, known := FollowsStick(read(t, can, ""))
		require.Equal(t, want, [2]bool{stick, known}, can)
	}
	s := read(t, "", "")
	s.Transmitter.Can = nil
	stick, known := FollowsStick(s)
	require.False(t, stick || known)
	require.Equal(t, "servo high side", KeyedEnds(s, 0)[0].Side)
}
