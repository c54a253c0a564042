package edit_test

import (
	"encoding/json"
	"fmt"
	"strings"
	"testing"

	"github.com/stretchr/testify/require"

	"axtren/core/edit"
	"axtren/core/setup"
	"axtren/internal/golden"
)

func document(t *testing.T, text string) *setup.Document {
	t.Helper()
	doc, err := setup.ReadYAML([]byte("format: axtren-setup\nversion: 1\n" + text))
	require.NoError(t, err, text)
	return doc
}

// TestWholeDifferences: every operation from one document to another and back, what it says,
// and what it touches.
func TestWholeDifferences(t *testing.T) {
	base := "name: One\ncraft: {kind: boat, notes: x}\noutputs: [{id: a, channel: 1, label: Rudder}, {id: " +
		"b, channel: 2}, {id: c, channel: 3}]\n" +
		"mixes: [{id: m, to: a, from: 20}, {id: n, to: b, from: 30, when: power_on}]\ndemands: [{id: d, " +
		"from: 5, rates: [{when: power_on, rate: 50}], curve: [[0, 0], [10, 10]]}]\n"
	var b strings.Builder
	for _, c := range []struct{ name, from, to string }{
		{"nothing", "", ""},
		{"a name", "name: One", "name: Two"},
		{"what was left out", "name: One\n", ""},
		{"a group", "craft: {kind: boat, notes: x}", "craft: {kind: car, memory: 3}"},
		{"a label", "label: Rudder", "label: Tiller"},
		{"a field of an element", "{id: b, channel: 2}", "{id: b, channel: 2, low: -80, high: 90}"},
		{"an element taken out", "{id: b, channel: 2}, ", ""},
		{"elements in another order", "{id: b, channel: 2}, {id: c, channel: 3}",
			"{id: c, channel: 3}, {id: b, channel: 2}"},
		{"another element in its place", "{id: b, channel: 2}, {id: c", "{id: e, channel: 2}, {id: c"},
		{"a list emptied", "mixes: [{id: m, to: a, from: 20}, {id: n, to: b, from: 30, when: power_on}]",
			"mixes: []"},
		{"a list without ids", "rates: [{when: power_on, rate: 50}]",
			"rates: [{when: power_on, rate: 50}, {when: not power_on, rate: 60}]"},
		{"pairs", "curve: [[0, 0], [10, 10]]", "curve: [[0, 0], [5, 20], [10, 10]]"},
		{"many at once", "channel: 1, label: Rudder}, {id: b, channel: 2}",
			"channel: 1, low: -50, high: 50, centre: 10}, {id: b, channel: 2, reverse: true, slew_s: 1}"},
	} {
		from := document(t, base)
		to := document(t, strings.Replace(strings.Replace(base, c.from, c.to, 1), "to: b, from: 30",
			map[bool]string{true: "to: c, from: 30", false: "to: b, from: 30"}[strings.Contains(c.name,
				"taken out") || strings.Contains(c.name, "in its place")], 1))
		for _, way := range []struct {
			name     string
			from, to *setup.Document
		}{{"there", from, to}, {"back", to, from}} {
			ops := edit.Diff(way.from.Tree, way.to.Tree)
			fmt.Fprintf(&b, "%s, %s\n", c.name, way.name)
			for _, op := range ops {
				value := ""
				if op.Value != nil {
					value = strings.Join(strings.Fields(string(*op.Value)), " ")
				}
				fmt.Fprintf(&b, "  %s %s %s\n", op.Op, op.Path, value)
			}
			fmt.Fprintf(&b, "  says %q\n", edit.AllWords(way.from, way.to, ops))
			if len(ops) == 0 {
				continue
			}
			r, err := edit.ApplyOps(way.from, ops)
			require.NoError(t, err, c.name)
			require.True(t, r.Doc.Tree.Equal(way.to.Tree), "%s: %s", c.name, r.Doc.Tree.YAML())
			fmt.Fprintf(&b, "  in short %q\n", r.Words)
			inverse, err := json.Marshal(r.Inverse)
			require.NoError(t, err)
			back, err := edit.Apply(r.Doc, inverse)
			require.NoError(t, err, "%s", inverse)
			require.True(t, back.Doc.Tree.Equal(way.from.Tree), c.name)
		}
	}
	golden.Equal(t, "differences", b.String())
}

// TestHowLongANameMayBe: 120 letters, however many bytes; notes have no such limit.
func TestHowLongANameMayBe(t *testing.T) {
	doc := document(t, "name: x\noutputs: [{id: a, channel: 1}]\n")
	set := func(path, value string) error {
		text, err := json.Marshal(value)
		require.NoError(t, err)
		_, err = edit.Apply(doc,
			fmt.Appendf(nil,
				`[{"op":"test","path":"/outputs/0/id","value":"a"},{"op":"add","path":"%s","value":%s}]`,
				path, text))
		return err
	}
	for _, path := range []string{"/name", "/outputs/0/label"} {
		require.NoError(t, set(path, strings.Repeat("é", 120)), path)
		err := set(path, strings.Repeat("é", 121))
		var ps setup.Problems
		require.ErrorAs(t, err, &ps, path)
		require.Equal(t, setup.Problem{Path: setup.PointerPath(path), Value: "121 letters",
			Message: "is longer than 120 letters",
			Remedy:  "shorten it; there is room for more in notes"}, ps[0])
		require.Len(t, ps, 1)
	}
	require.NoError(t, set("/outputs/0/notes", strings.Repeat("é", 5000)))
}

// TestMovesAndCopies are a remove and an add, and their inverse is theirs.
func TestMovesAndCopies(t *testing.T) {
	doc := document(t,
		"name: One\ncraft: {notes: here}\noutputs: [{id: a, channel: 1}, {id: b, channel: 2}, {id: c, "+
			"channel: 3}]\n")
	test := `{"op":"test","path":"/outputs/0/id","value":"a"},`
	for patch, want := range map[string]string{
		`[{"op":"move","from":"/craft/notes","path":"/name"}]`: "name: here\ncraft: {}\noutputs: [{id: a, " +
			"channel: 1}, {id: b, channel: 2}, {id: c, channel: 3}]\n",
		`[{"op":"copy","from":"/name","path":"/craft/notes"}]`: "name: One\ncraft: {notes: One}\noutputs: " +
			"[{id: a, channel: 1}, {id: b, channel: 2}, {id: c, channel: 3}]\n",
		`[` + test +
			`{"op":"move","from":"/outputs/0","path":"/outputs/2"}]`: "name: One\ncraft: {notes: " +
			"here}\noutputs: [{id: b, channel: 2}, {id: c, channel: 3}, {id: a, channel: 1}]\n",
		`[{"op":"test","path":"/outputs/1/id","value":"a"},{"op":"add","path":"/outputs/1/low","value":-50}]`: "name: One\ncraft: {notes: here}\noutputs: [{id: a, channel: 1, low: -50}, {id: b, channel: 2}, {id: c, channel: 3}]\n",
		`[{"op":"test","path":"/outputs/2/id","value":"a"},{"op":"remove","path":"/outputs/2"}]`:              "name: One\ncraft: {notes: here}\noutputs: [{id: b, channel: 2}, {id: c, channel: 3}]\n",
	} {
		r, err := edit.Apply(doc, []byte(patch))
		require.NoError(t, err, patch)
		require.True(t, r.Doc.Tree.Equal(document(t, want).Tree), "%s gives\n%s", patch, r.Doc.Tree.YAML())
		inverse, err := json.Marshal(r.Inverse)
		require.NoError(t, err)
		back, err := edit.Apply(r.Doc, inverse)
		require.NoError(t, err, "%s", inverse)
		require.True(t, back.Doc.Tree.Equal(doc.Tree), patch)
	}
	for patch, says := range map[string]string{
		`[{"op":"move","from":"/nothing","path":"/name"}]`:        "there is nothing at from",
		`[{"op":"copy","from":"/outputs/9","path":"/name"}]`:      "there is nothing at from",
		`[{"op":"move","from":"/outputs/0","path":"/outputs/2"}]`: "without a test",
		`[{"op":"add","path":"/name/first","value":1}]`:           "there is no such place",
		`[{"op":"add","path":"/nothing/first","value":1}]`:        "there is no such place",
		`[{"op":"replace","path":"/craft/type","value":"x"}]`:     "there is nothing to replace",
	} {
		_, err := edit.Apply(doc, []byte(patch))
		require.ErrorContains(t, err, says, patch)
	}
}

// TestEveryMixGetsAnIDInOrder, those that are taken left out.
func TestEveryMixGetsAnIDInOrder(t *testing.T) {
	doc := document(t,
		"name: x\noutputs: [{id: a, channel: 1}, {id: mix_2, channel: 2}]\nmixes: [{to: a, from: 1}, {to: "+
			"a, from: 2}, {id: own, to: a, from: 3}, {to: mix_2, from: 4}]\nshares: [{outputs: [a], rule: "+
			"clip}]\n")
	r, err := edit.Apply(doc, []byte(`[{"op":"add","path":"/name","value":"y"}]`))
	require.NoError(t, err)
	var ids []string
	for _, m := range r.Doc.Setup.Mixes {
		ids = append(ids, string(*m.ID))
	}
	require.Equal(t, []string{"mix_1", "mix_3", "own", "mix_4"}, ids)
	require.EqualValues(t, "share_1", *r.Doc.Setup.Shares[0].ID)
	var paths []string
	for _, op := range r.Patch {
		paths = append(paths, op.Path)
	}
	require.Equal(t, []string{"/name", "/mixes/0/id", "/mixes/1/id", "/mixes/3/id", "/shares/0/id"}, paths)
}
