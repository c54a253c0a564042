package parts

import (
	"bytes"
	"encoding/json"
	"strings"
	"testing"

	"github.com/stretchr/testify/require"

	"axtren/core/setup"
)

const someKey = "0c1d2e3f-0000-4000-8000-000000000001"

func someFrom(revision int) setup.From { return setup.From{Piece: someKey, Revision: revision} }

func read(t *testing.T, tree *setup.Node) *setup.Document {
	doc, err := setup.FromTree(tree)
	require.NoError(t, err, "%s", tree.YAML())
	return doc
}

// changed gives a document with a part of its text exchanged.
func changed(t *testing.T, doc *setup.Document, from, to string) *setup.Document {
	var text bytes.Buffer
	require.NoError(t, json.Compact(&text, doc.Tree.JSON()))
	tight := strings.NewReplacer(": ", ":", ", ", ",").Replace
	require.Contains(t, text.String(), tight(from))
	after, err := setup.ReadJSON([]byte(strings.Replace(text.String(), tight(from), tight(to), 1)))
	require.NoError(t, err)
	return after
}

// TestACopyIsItsPiece: what is put on the shelf and taken from it again is the same part, in
// every model; nothing is taken over, nothing is told.
func TestACopyIsItsPiece(t *testing.T) {
	seen := map[string]int{}
	for path, doc := range documents(t) {
		for _, c := range doc.Setup.Copies() {
			seen[c.Kind.Key]++
			tree, err := PieceOf(doc, c.Part)
			require.NoError(t, err, "%s %s", path, c.Part)
			piece := read(t, tree)
			require.Equal(t, c.Kind.Key, piece.Setup.Piece.Kind)
			own, there := piece.Setup.PieceCopy()
			require.True(t, there)
			require.Equal(t, doc.Setup.CopyLabel(c), piece.Setup.CopyLabel(own), "a piece is called as its part was")
			for _, field := range []string{"from", "power", "own", "supply_v", "fitted", "left_at", "swap_on"} {
				require.Nil(t, copyNode(piece.Tree, own).Get(field), "%s belongs to the model", field)
			}

			same, left, err := TakeOver(doc, c.Part, piece, piece)
			require.NoError(t, err)
			require.Empty(t, left)
			require.True(t, same.Equal(doc.Tree), "%s %s", path, c.Part)
			same, left, err = TakeOver(doc, c.Part, nil, piece)
			require.NoError(t, err)
			require.Empty(t, left)
			bare := same.Copied()
			if c.Kind.Key == "transmitter" { // it was none before
				put(bare, "transmitter", doc.Tree.Get("transmitter"))
			}
			require.True(t, bare.Equal(doc.Tree), "%s %s", path, c.Part)
			told, err := Learn(piece, piece, doc, c.Part)
			require.NoError(t, err)
			require.True(t, told.Equal(piece.Tree), "%s %s", path, c.Part)

			copied, name, err := FromPiece(doc, piece, someFrom(3), c.Part, "")
			require.NoError(t, err)
			require.Equal(t, c.Part, name)
			after := read(t, copied)
			of, err := CopyOf(after.Setup, name)
			require.NoError(t, err)
			require.Equal(t, &setup.From{Piece: someKey, Revision: 3}, of.From)
			drop(copyNode(copied, of), "from")
			if of.Kind.Key != "transmitter" { // it has a name now
				want := doc.Tree.Copied()
				drop(copyNode(want, c), "from")
				require.True(t, copied.Equal(want), "%s %s: nothing else has changed", path, c.Part)
			}
		}
	}
	for _, kind := range setup.PieceKinds {
		if kind.Key != "module" { // in the worked cases
			require.Greater(t, seen[kind.Key], 3)
		}
	}
}

// harbour is a model whose receiver and transmitter have names of their own for what they have.
const harbour = `
format: axtren-setup
version: 1
name: Harbour
transmitter:
  name: Hand set
  controls:
    - {id: ahead, kind: axis, stick: right, along: y, label: Right stick}
    - {id: winch, kind: switch, label: Winch lever, positions: [slip, hold]}
  can: {mixes: 4}
  power: low
receivers:
  - {id: rx, label: Six pins, loss_after_s: 0.5, supply_v: 6, pins: [{pin: 1, channel: 1}, {pin: 2, channel: 2, label: Winch}]}
devices:
  - {id: rudder, kind: servo, on: rx.1, label: Rudder servo, fitted: 3 Nov, speed_s: 0.2}
outputs:
  - {id: way, channel: 1}
  - {id: rope, channel: 2}
mixes:
  - {id: m1, to: way, from: ahead}
  - {id: m2, to: rope, from: winch, when: winch.hold}
`

func harbourAnd(t *testing.T, part string) (doc, piece *setup.Document) {
	doc, err := setup.ReadYAML([]byte(harbour))
	require.NoError(t, err)
	tree, err := PieceOf(doc, part)
	require.NoError(t, err)
	return doc, read(t, tree)
}

// TestWhatChangedOnThePieceIsTakenOver, and nothing of what the model calls its own.
func TestWhatChangedOnThePieceIsTakenOver(t *testing.T) {
	for _, one := range []struct{ name, part, from, to, modelFrom, modelTo string }{
		{"a figure", "transmitter", `"mixes": 4`, `"mixes": 6`, `"mixes": 4`, `"mixes": 6`},
		{"what was not known", "transmitter", `{"mixes": 4}`, `{"mixes": 4, "slew": true}`,
			`{"mixes": 4}`, `{"mixes": 4, "slew": true}`},
		{"what is not known any more", "transmitter", `"can": {"mixes": 4}`, `"can": {}`,
			`"can": {"mixes": 4}`, `"can": {}`},
		{"its name is the model's", "transmitter", `"name": "Hand set"`, `"name": "Old set"`, ``, ``},
		{"what a lever is called is the model's", "transmitter", `"label": "Winch lever"`, `"label": "Switch B"`,
			``, ``},
		{"a position more", "transmitter", `["slip", "hold"]`, `["slip", "hold", "haul"]`, `["slip", "hold"]`,
			`["slip", "hold", "haul"]`},
		{"a spring, at the place of its name", "transmitter", `"positions": ["slip", "hold"]`,
			`"positions": ["slip", "hold"], "spring_to": "slip"`, `"positions": ["slip", "hold"]`,
			`"positions": ["slip", "hold"], "spring_to": "slip"`},
		{"a loss position", "receivers/rx", `"loss_after_s": 0.5`,
			`"loss_after_s": 0.5, "failsafe": {"can": ["preset"], "preset_pins": [1]}`,
			`"loss_after_s": 0.5`, `"loss_after_s": 0.5, "failsafe": {"can": ["preset"], "preset_pins": [1]}`},
		{"another channel on a pin is the model's", "receivers/rx", `"pin": 2, "channel": 2`,
			`"pin": 2, "channel": 9`, ``, ``},
		{"a pin that is on or off", "receivers/rx", `"pin": 2, "channel": 2`,
			`"pin": 2, "channel": 2, "switch": {"at_us": 1500}`, `"label": "Winch"`,
			`"label": "Winch", "switch": {"at_us": 1500}`},
		{"a servo's force", "devices/rudder", `"speed_s": 0.2`, `"speed_s": 0.2, "torque_nm": 0.4`,
			`"speed_s": 0.2`, `"speed_s": 0.2, "torque_nm": 0.4`},
	} {
		doc, base := harbourAnd(t, one.part)
		now := changed(t, base, one.from, one.to)
		tree, left, err := TakeOver(doc, one.part, base, now)
		require.NoError(t, err)
		require.Empty(t, left)
		want := doc
		if one.modelFrom != "" {
			want = changed(t, doc, one.modelFrom, one.modelTo)
		}
		require.True(t, tree.Equal(want.Tree), "%s:\n%s", one.name, tree.YAML())
		// the same the other way round: a model that knows it tells it to its piece
		told, err := Learn(base, base, want, one.part)
		require.NoError(t, err)
		wanted := now
		if one.modelFrom == "" {
			wanted = base
		}
		require.True(t, told.Equal(wanted.Tree), "%s:\n%s", one.name, told.YAML())
	}
}

// TestWhatIsUsedStays: a pin or a control that the piece has no more stays where the model uses
// it, and goes where it does not.
func TestWhatIsUsedStays(t *testing.T) {
	doc, base := harbourAnd(t, "receivers/rx")
	now := changed(t, base, `{"pin": 1, "channel": 1}, `, "")
	tree, left, err := TakeOver(doc, "receivers/rx", base, now)
	require.NoError(t, err)
	require.Equal(t, []string{"Pin 1"}, left)
	require.True(t, tree.Equal(doc.Tree))
	now = changed(t, base, `, {"pin": 2, "channel": 2}`, "")
	tree, left, err = TakeOver(doc, "receivers/rx", base, now)
	require.NoError(t, err)
	require.Empty(t, left, "nothing is plugged into it")
	require.Len(t, tree.At("receivers", "0", "pins").Items, 1)
	require.Equal(t, "1", tree.At("receivers", "0", "pins", "0", "pin").Text)

	doc, base = harbourAnd(t, "transmitter")
	controls := base.Tree.At("transmitter", "controls")
	one := *controls
	one.Items = one.Items[:1]
	fewer := base.Tree.Copied()
	put(fewer.Get("transmitter"), "controls", &one)
	tree, left, err = TakeOver(doc, "transmitter", base, read(t, fewer))
	require.NoError(t, err)
	require.Equal(t, []string{"Winch lever"}, left)
	require.True(t, tree.Equal(doc.Tree))
}

// TestAPieceGoesIntoAModel: as a new part, with an id of its own, on a free pin.
func TestAPieceGoesIntoAModel(t *testing.T) {
	doc, piece := harbourAnd(t, "devices/rudder")
	tree, name, err := FromPiece(doc, piece, someFrom(1), "devices", "")
	require.NoError(t, err)
	after := read(t, tree)
	c, err := CopyOf(after.Setup, name)
	require.NoError(t, err)
	require.Equal(t, "rx.2", after.Setup.Devices[c.Item.Index].On)
	require.Equal(t, 0.2, after.Setup.Devices[c.Item.Index].Spec.(*setup.Servo).SpeedS)
	require.Equal(t, setup.PieceKey(someKey), c.From.Piece)

	_, _, err = FromPiece(doc, piece, someFrom(1), "receivers/rx", "")
	require.ErrorContains(t, err, "cannot be a copy of a device")
	_, _, err = FromPiece(doc, piece, someFrom(1), "receivers", "")
	require.Error(t, err)
	_, _, err = FromPiece(doc, doc, someFrom(1), "devices", "")
	require.ErrorContains(t, err, "is no piece of a shelf")

	lamp, err := NewPiece(setup.PieceKindOf("device"), "lamp")
	require.NoError(t, err)
	_, _, err = FromPiece(doc, read(t, lamp), someFrom(1), "devices/rudder", "")
	require.ErrorContains(t, err, "cannot be a copy of a lamp")
}

// TestNewPieces: each kind that there is begins as a document that can be read.
func TestNewPieces(t *testing.T) {
	for _, kind := range TransmitterKinds() {
		tree, err := NewPiece(setup.PieceKindOf("transmitter"), kind.Key)
		require.NoError(t, err)
		set := read(t, tree).Setup.Transmitter
		require.NotEmpty(t, set.Controls)
		require.NotEmpty(t, set.Name)
		require.NotNil(t, set.Can)
	}
	for _, kind := range ReceiverKinds() {
		tree, err := NewPiece(setup.PieceKindOf("receiver"), kind.Key)
		require.NoError(t, err)
		piece := read(t, tree).Setup
		require.NotEmpty(t, piece.Receivers[0].Pins)
		require.Equal(t, kind.Key == "pair", piece.Piece.Count == 2, "of a pair there are two")
	}
	for _, key := range setup.Devices.Keys() {
		tree, err := NewPiece(setup.PieceKindOf("device"), key)
		require.NoError(t, err)
		require.Equal(t, key, read(t, tree).Setup.Devices[0].Kind)
	}
	tree, err := NewPiece(setup.PieceKindOf("module"), "")
	require.NoError(t, err)
	require.NotNil(t, read(t, tree).Setup.Link.Module)
	_, err = NewPiece(setup.PieceKindOf("device"), "flying carpet")
	require.Error(t, err)
}

// TestATransmitterGoesIntoAModelWithNone, whole; and is called otherwise without anything else.
func TestATransmitterGoesIntoAModelWithNone(t *testing.T) {
	_, piece := harbourAnd(t, "transmitter")
	bare, err := setup.ReadYAML([]byte("format: axtren-setup\nversion: 1\n"))
	require.NoError(t, err)
	tree, name, err := FromPiece(bare, piece, someFrom(2), "transmitter", "")
	require.NoError(t, err)
	require.Equal(t, "transmitter", name)
	set := read(t, tree).Setup.Transmitter
	require.Len(t, set.Controls, 2)
	require.Equal(t, "Hand set", set.Name)
	require.Equal(t, 4, *set.Can.Mixes)
	require.Equal(t, 2, set.From.Revision)

	of, _ := piece.Setup.PieceCopy()
	called, err := Called(piece, of, "Old set")
	require.NoError(t, err)
	require.Equal(t, "Old set", called.Setup.CopyLabel(of))
	require.True(t, changed(t, piece, `"name": "Hand set"`, `"name": "Old set"`).Tree.Equal(called.Tree))
}

// TestAModuleBringsWhatItHasLearned, which stands beside it in the link.
func TestAModuleBringsWhatItHasLearned(t *testing.T) {
	const text = `{format: axtren-setup, version: 1, link: {channels: 8, order: [2, 1],
module: {label: Low band, plugs_into: the socket, position: "3"}, learned_us: {low: 1060, centre: 1500, high: 1930}}}`
	doc, err := setup.ReadYAML([]byte(text))
	require.NoError(t, err)
	tree, err := PieceOf(doc, "module")
	require.NoError(t, err)
	piece := read(t, tree)
	require.Equal(t, 1930.0, piece.Setup.Link.LearnedUS.High)
	require.Nil(t, piece.Tree.At("link", "order"), "the order of the channels is the model's")
	require.Empty(t, piece.Setup.Link.Module.Position)

	now := changed(t, piece, `"high": 1930`, `"high": 1950`)
	taken, _, err := TakeOver(doc, "module", piece, now)
	require.NoError(t, err)
	require.True(t, changed(t, doc, `"high": 1930`, `"high": 1950`).Tree.Equal(taken))
	told, err := Learn(piece, piece, read(t, taken), "module")
	require.NoError(t, err)
	require.True(t, told.Equal(now.Tree))
	none := changed(t, piece, `, "learned_us": {"low": 1060, "centre": 1500, "high": 1930}`, ``)
	taken, _, err = TakeOver(doc, "module", piece, none)
	require.NoError(t, err)
	require.Nil(t, taken.At("link", "learned_us"))
	taken, _, err = TakeOver(doc, "module", nil, none)
	require.NoError(t, err)
	require.True(t, taken.Equal(doc.Tree), "what it does not say stays")

	bare, err := setup.ReadYAML([]byte("format: axtren-setup\nversion: 1\n"))
	require.NoError(t, err)
	with, _, err := FromPiece(bare, now, someFrom(1), "module", "")
	require.NoError(t, err)
	require.Equal(t, 1950.0, read(t, with).Setup.Link.LearnedUS.High)
}
