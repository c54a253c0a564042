package shelf

import (
	"strings"
	"testing"

	"github.com/stretchr/testify/require"

	"axtren/core/parts"
	"axtren/core/setup"
)

const model = `
format: axtren-setup
version: 1
name: Harbour
craft: {memory: 4}
transmitter:
  name: Hand set
  controls: [{id: winch, kind: switch, label: Winch lever, positions: [slip, hold, haul]}]
  can: {mixes: 4}
receivers:
  - id: rx
    label: Six pins
    failsafe: {can: [hold, preset], preset_pins: [1]}
    pins: [{pin: 1, channel: 1}, {pin: 2, channel: 2}]
devices:
  - {id: rudder, kind: servo, on: rx.1, label: Rudder servo}
outputs:
  - {id: rope, channel: 1}
mixes:
  - {id: m, to: rope, from: winch, when: winch.haul}
`

func read(t *testing.T, text string) *setup.Document {
	doc, err := setup.ReadYAML([]byte(text))
	require.NoError(t, err)
	return doc
}

func pieceOf(t *testing.T, doc *setup.Document, part string) *setup.Document {
	tree, err := parts.PieceOf(doc, part)
	require.NoError(t, err)
	piece, err := setup.FromTree(tree)
	require.NoError(t, err)
	return piece
}

// TestWhatDiffersIsSaidInSentences: what the piece has for the model, and the model for the piece.
func TestWhatDiffersIsSaidInSentences(t *testing.T) {
	base := read(t, model)
	for _, one := range []struct {
		part, shelf, shelfTo, here, hereTo string
		takes, tells                       []string
	}{
		{part: "receivers/rx"},
		{part: "receivers/rx", shelf: "preset_pins: [1]", shelfTo: "preset_pins: [1, 2]",
			takes: []string{"Six pins: “presets on pins” changed from 1 to 1 and 2."}},
		{part: "receivers/rx", here: "preset_pins: [1]", hereTo: "preset_pins: [1, 2]",
			tells: []string{"Six pins: “presets on pins” changed from 1 to 1 and 2."}},
		{part: "transmitter", shelf: "mixes: 4", shelfTo: "mixes: 6", here: "{mixes: 4}",
			hereTo: "{mixes: 4, slew: true}",
			takes:  []string{"Transmitter: “mixes” changed from 4 to 6."},
			tells:  []string{"Transmitter: “can slow a channel” set to yes."}},
		{part: "receivers/rx", shelf: "{pin: 1, channel: 1}, ", shelfTo: "",
			takes: []string{"Pin 1 is not on the piece any more; it stays, since this model uses it."}},
		// what a model calls its own, and how many there are of a piece, is said to nobody
		{part: "transmitter", here: "Winch lever", hereTo: "Slip hook"},
		{part: "devices/rudder", here: "on: rx.1", hereTo: "on: rx.2"},
	} {
		shelf := strings.Replace(model, one.shelf, one.shelfTo, 1)
		if one.part == "receivers/rx" && one.shelfTo == "" && one.shelf != "" {
			shelf = strings.Replace(shelf, "on: rx.1", "on: rx.2", 1)
		}
		here := strings.Replace(model, one.here, one.hereTo, 1)
		st, err := Compare(read(t, here), one.part, pieceOf(t, base, one.part),
			pieceOf(t, read(t, shelf), one.part))
		require.NoError(t, err)
		require.NoError(t, st.Refused)
		require.Equal(t, append([]string{}, one.takes...), st.Takes)
		require.Equal(t, append([]string{}, one.tells...), st.Tells)
	}
}

// TestAPieceThatTheModelCannotBeWith says why: a position that it uses is gone.
func TestAPieceThatTheModelCannotBeWith(t *testing.T) {
	doc := read(t, model)
	fewer := strings.Replace(strings.Replace(model, "hold, haul]", "hold]", 1), "winch.haul", "winch.hold", 1)
	st, err := Compare(doc, "transmitter", pieceOf(t, doc, "transmitter"),
		pieceOf(t, read(t, fewer), "transmitter"))
	require.NoError(t, err)
	require.ErrorContains(t, st.Refused, "haul")
	require.Empty(t, st.Takes)
	_, err = Compare(doc, "transmitter", nil, pieceOf(t, doc, "receivers/rx"))
	require.ErrorContains(t, err, "cannot be a copy")
}

// TestWhereAPieceIs: in which models, how many are spare, and where there are too few.
func TestWhereAPieceIs(t *testing.T) {
	servo, set := setup.PieceKindOf("device"), setup.PieceKindOf("transmitter")
	for _, one := range []struct {
		kind    *setup.PieceKind
		count   int
		models  []string
		places  string
		crowded string
	}{
		{servo, 1, nil, "in no model", ""},
		{servo, 3, nil, "in no model; 3 spare", ""},
		{servo, 1, []string{"Marram"}, "in Marram", ""},
		{servo, 3, []string{"Marram"}, "in Marram; 2 spare", ""},
		{servo, 3, []string{"Marram", "Marram", "Stoat"}, "in Marram (2) and Stoat", ""},
		{servo, 1, []string{"Marram", "Stoat"}, "in Marram and Stoat", "S is in Marram and Stoat, and there is " +
			"one of it: say how many you have, or which model has another one"},
		{servo, 2, []string{"A", "B", "C"}, "in A, B and C", "S is in A, B and C, and there are 2 of it: say " +
			"how many you have, or which model has another one"},
		{set, 1, []string{"A", "B", "C"}, "in A, B and C", ""},
		{set, 1, []string{"A", "B", "C", "D", "E", "F"}, "in A, B, C, D, E and F", ""},
		{set, 1, []string{"A", "B", "C", "D", "E", "F", "G", "H"}, "in A, B, C, D, E and 3 more", ""},
	} {
		require.Equal(t, one.places, Places(one.kind, one.count, one.models))
		require.Equal(t, one.crowded, Crowded(one.kind, "S", one.count, one.models))
	}
}

// TestWhatAModelHolds, and what a piece is called and is.
func TestWhatAModelHolds(t *testing.T) {
	const key = "0c1d2e3f-0000-4000-8000-000000000001"
	doc := read(t, strings.Replace(model, "name: Hand set",
		"name: Hand set\n  from: {piece: "+key+", revision: 2}", 1))
	h := HoldsOf(doc.Setup)
	require.Equal(t, 4, h.Memory)
	require.Equal(t, []Use{{"transmitter", "transmitter", "Hand set", key, 2, ""}, {"receivers/rx", "receiver",
		"Six pins", "", 0, ""}, {"devices/rudder", "device", "Rudder servo", "", 0, ""}}, h.Uses)
	require.Equal(t, key, h.Transmitter())
	require.Equal(t, h.Uses[:1], h.Of(key))
	require.Empty(t, h.Of("another"))
	require.Empty(t, (&Holds{}).Transmitter())
	for part, says := range map[string]string{"transmitter": "1 control", "receivers/rx": "2 pins",
		"devices/rudder": "servo"} {
		require.Equal(t, says, Says(pieceOf(t, doc, part).Setup))
	}
	require.Empty(t, Says(doc.Setup))
}

// TestWhatStopsWithAPart: what all goes through it, and nothing else.
func TestWhatStopsWithAPart(t *testing.T) {
	doc := read(t, `
format: axtren-setup
version: 1
link: {module: {label: Add-on}}
receivers:
  - {id: bow, pins: [{pin: 1, channel: 1}, {pin: 2, channel: 2}]}
  - {id: stern, pins: [{pin: 1, channel: 1}, {pin: 3, channel: 3}]}
devices:
  - {id: left, kind: servo, on: bow.1}
  - {id: right, kind: servo, on: stern.1}
  - {id: level, kind: leveller, on: bow.2}
  - {id: plane, kind: servo, on: level}
outputs: [{id: a, label: A, channel: 1}, {id: b, label: B, channel: 2}, {id: c, label: C, channel: 3}]
`)
	for part, stops := range map[string][]string{
		"transmitter": {"A", "B", "C"}, "module": {"A", "B", "C"},
		"receivers/bow": {"B"}, "receivers/stern": {"C"}, // A goes to both
		"devices/left": {}, "devices/right": {}, // one of them is left
		"devices/level": {"B"}, "devices/plane": {"B"}, // the plane hangs on the leveller
	} {
		c, err := parts.CopyOf(doc.Setup, part)
		require.NoError(t, err)
		require.Equal(t, stops, Stops(doc.Setup, c), part)
	}
}

// TestAModelOnAModule: where its knob stands, what is reversed, and what goes less far one way.
func TestAModelOnAModule(t *testing.T) {
	doc := read(t, `
format: axtren-setup
version: 1
link: {module: {label: Add-on, position: "3", most_channels: 8, from: {piece: 0c1d2e3f-0000-4000-8000-000000000001, revision: 1}}}
outputs:
  - {id: a, label: A, channel: 1, reverse: true}
  - {id: b, label: B, channel: 2, low: -80, high: 90, centre: 10}
  - {id: c, label: C, channel: 3, low: -80, high: 100, centre: 10}
`)
	require.Equal(t, []string{"A"}, Reversed(doc.Setup))
	require.Equal(t, []string{"B (90 and 80)"}, Unequal(doc.Setup))
	uses := HoldsOf(doc.Setup).Uses
	require.Equal(t, "3", uses[1].Position)
	require.Empty(t, uses[0].Position)
	require.Equal(t, "8 channels", Says(pieceOf(t, doc, "module").Setup))
	none := read(t, "format: axtren-setup\nversion: 1\nlink: {module: {label: Add-on}}\n")
	require.Empty(t, Says(pieceOf(t, none, "module").Setup))
	require.Empty(t, Reversed(none.Setup))
	require.Empty(t, Unequal(none.Setup))
}
