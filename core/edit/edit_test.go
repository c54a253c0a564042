package edit

import (
	"encoding/json"
	"os"
	"testing"

	"github.com/stretchr/testify/require"
	"pgregory.net/rapid"

	"axtren/core/setup"
)

func stoat(t require.TestingT) *setup.Document {
	text, err := os.ReadFile("../../demo/stoat.yaml")
	require.NoError(t, err)
	doc, err := setup.ReadYAML(text)
	require.NoError(t, err)
	return doc
}

func TestApplySaysWhatChangedAndHowToUndoIt(t *testing.T) {
	doc := stoat(t)
	for _, c := range []struct{ patch, words string }{
		{`[{"op":"test","path":"/outputs/1/id","value":"starboard_track"},{"op":"add","path":"/outputs/1/low","value":-80}]`, "Right track: “low end” changed from −96 to −80"},
		{`[{"op":"test","path":"/outputs/1/id","value":"starboard_track"},{"op":"remove","path":"/outputs/1/reverse"}]`, "Right track: “reversed” back to what is usual, from yes"},
		{`[{"op":"test","path":"/mixes/1/id","value":"port_turn"},{"op":"add","path":"/mixes/1/gain","value":70}]`, "Right stick, right to Left track: “gain” changed from 80 to 70"},
		{`[{"op":"test","path":"/mixes/12/id","value":"flood"},{"op":"remove","path":"/mixes/12"}]`,
			"Mix Right slider to Floodlamp was removed"},
		{`[{"op":"add","path":"/mixes/0","value":{"to":"horn","from":"top"}}]`,
			"Mix Top button to Horn was added"},
		{`[{"op":"add","path":"/mixes/-","value":{"id":"x","to":"horn","from":"top"}}]`,
			"Mix Top button to Horn (2) was added"},
		{`[{"op":"replace","path":"/name","value":"Ermine"}]`, "Model: “name” changed from “Stoat” to “Ermine”"},
		{`[{"op":"add","path":"/demands/0/rates/0/rate","value":50},{"op":"test","path":"/name","value":"Stoat"}]`, ""},
		{`[{"op":"test","path":"/demands/0/id","value":"drive_soft"},{"op":"add","path":"/demands/0/rates/0/rate","value":50}]`, "drive: “rate” changed from 60 to 50"},
	} {
		r, err := Apply(doc, []byte(c.patch))
		if c.words == "" {
			require.ErrorContains(t, err, "without a test of the element's id")
			continue
		}
		require.NoError(t, err, c.patch)
		require.Equal(t, c.words, r.Words)
		inverse, err := json.Marshal(r.Inverse)
		require.NoError(t, err)
		back, err := Apply(r.Doc, inverse)
		require.NoError(t, err, "%s", inverse)
		require.True(t, doc.Tree.Equal(back.Doc.Tree), c.patch)
	}
}

func TestRefusedPatchesSayWhy(t *testing.T) {
	doc := stoat(t)
	before := string(doc.Tree.JSON())
	for _, c := range []struct{ patch, says string }{
		{`{}`, "not a JSON Patch"}, {`[]`, "1 to 500"}, {`[{"op":"jump","path":"/a"}]`, "no operation"},
		{`[1`, "not JSON"},
		{`[{"op":"add","path":"/name"}]`, "has no value"},
		{`[{"op":"add","path":"name","value":1}]`, "JSON Pointer"},
		{`[{"op":"add","path":"","value":{}}]`, "whole document"},
		{`[{"op":"test","path":"/outputs/1/id","value":"nobody"},{"op":"add","path":"/outputs/1/low","value":-80}]`, "does not fit"},
		{`[{"op":"remove","path":"/mixes/-1"}]`, "nothing to remove"},
		{`[{"op":"add","path":"/mixes/99","value":{"to":"horn","from":"top"}}]`, "does not fit"},
		{`[{"op":"add","path":"/outputs/0/low","value":-80}]`, "test of /outputs/0/id"},
		{`[{"op":"remove","path":"/outputs/0"}]`, "test of /outputs/0/id"},
		{`[{"op":"test","path":"/outputs/0/id","value":"port_track"},{"op":"add","path":"/outputs/0/low","value":5}]`, "below centre"},
		{`[{"op":"test","path":"/outputs/0/id","value":"port_track"},{"op":"add","path":"/outputs/0/low","value":1e999}]`, "too large"},
		{`[{"op":"add","path":"/mixes/-","value":{"to":"port_track","from":"pump.asked"}},{"op":"add","path":"/mixes/-","value":{"to":"blade_lift","from":"port_track.asked"}}]`, "wait for each other"},
	} {
		_, err := Apply(doc, []byte(c.patch))
		var ps setup.Problems
		require.ErrorAs(t, err, &ps, c.patch)
		require.ErrorContains(t, err, c.says)
		require.NotEmpty(t, ps[0].Remedy)
	}
	require.Equal(t, before, string(doc.Tree.JSON()))
}

// TestInverseUndoes is the law that undo stands on: a patch and then its
// inverse is nothing, whatever the patch.
func TestInverseUndoes(t *testing.T) {
	doc := stoat(t)
	rapid.Check(t, func(t *rapid.T) {
		at := doc
		var inverses [][]Op
		for range rapid.IntRange(1, 4).Draw(t, "edits") {
			r, err := Apply(at, drawPatch(t, at))
			if err != nil {
				continue
			}
			at = r.Doc
			inverses = append(inverses, r.Inverse)
		}
		for i := len(inverses) - 1; i >= 0; i-- {
			text, err := json.Marshal(inverses[i])
			require.NoError(t, err)
			r, err := Apply(at, text)
			require.NoError(t, err, "%s", text)
			at = r.Doc
		}
		require.True(t, doc.Tree.Equal(at.Tree))
	})
}

func drawPatch(t *rapid.T, doc *setup.Document) []byte {
	i := rapid.IntRange(0, len(doc.Setup.Outputs)-1).Draw(t, "output")
	j := rapid.IntRange(0, len(doc.Setup.Mixes)-1).Draw(t, "mix")
	raw := func(v any) *json.RawMessage { b, _ := json.Marshal(v); m := json.RawMessage(b); return &m }
	test := func(list string, at int, id any) Op {
		return Op{Op: "test", Path: "/" + list + "/" + itoa(at) + "/id", Value: raw(id)}
	}
	onOutput, onMix := test("outputs", i, doc.Setup.Outputs[i].ID), test("mixes", j, doc.Setup.Mixes[j].ID)
	mix := "/mixes/" + itoa(j)
	ops := rapid.SampledFrom([][]Op{
		{onOutput, {Op: "add", Path: "/outputs/" + itoa(i) + "/low",
			Value: raw(-rapid.IntRange(30, 150).Draw(t, "low"))}},
		{onOutput, {Op: "remove", Path: "/outputs/" + itoa(i) + "/reverse"}},
		{onMix, {Op: "add", Path: mix + "/gain", Value: raw(rapid.IntRange(-300, 300).Draw(t, "gain"))}},
		{onMix, {Op: "remove", Path: mix}},
		{{Op: "add", Path: mix, Value: raw(map[string]any{"to": "horn", "from": "turn"})}},
		{onMix, {Op: "replace", Path: mix, Value: raw(map[string]any{"to": "winch", "from": "turn"})}},
		{onMix, {Op: "move", From: mix, Path: "/mixes/0"}},
		{{Op: "copy", From: "/name", Path: "/craft/type"}},
	}).Draw(t, "patch")
	text, err := json.Marshal(ops)
	require.NoError(t, err)
	return text
}

func itoa(i int) string { b, _ := json.Marshal(i); return string(b) }

func TestEveryMixAndShareHasAnID(t *testing.T) {
	doc, err := setup.ReadYAML([]byte(`
format: axtren-setup
version: 1
mixes: [{to: o, from: 1}, {id: mix_1, to: o, from: 2}]
shares: [{outputs: [o], rule: clip}]
outputs: [{id: o, channel: 1}]`))
	require.NoError(t, err)
	doc, err = WithIDs(doc)
	require.NoError(t, err)
	require.Equal(t, setup.ID("mix_2"), *doc.Setup.Mixes[0].ID)
	require.Equal(t, setup.ID("mix_1"), *doc.Setup.Mixes[1].ID)
	require.Equal(t, setup.ID("share_1"), *doc.Setup.Shares[0].ID)
}
