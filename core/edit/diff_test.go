package edit

import (
	"encoding/json"
	"testing"

	"github.com/stretchr/testify/require"
	"pgregory.net/rapid"

	"axtren/core/parts"
	"axtren/core/setup"
)

// TestDiffLeadsThere: the patch between two documents makes the one of the
// other, and its inverse goes back.
func TestDiffLeadsThere(t *testing.T) {
	doc := stoat(t)
	ids := func(doc *setup.Document) []string {
		var list []string
		for _, l := range []string{"outputs", "mixes", "demands", "devices"} {
			for _, n := range doc.Tree.Get(l).Items {
				list = append(list, l+"/"+n.Get("id").Text)
			}
		}
		return list
	}
	rapid.Check(t, func(t *rapid.T) {
		to := doc
		for range rapid.IntRange(1, 5).Draw(t, "acts") {
			part := rapid.SampledFrom(ids(to)).Draw(t, "part")
			var tree *setup.Node
			var err error
			switch rapid.IntRange(0, 3).Draw(t, "act") {
			case 0:
				tree, err = parts.Move(to, part, rapid.IntRange(-9, 9).Draw(t, "by"))
			case 1:
				tree, err = parts.Remove(to, part, true)
			case 2:
				tree, err = parts.Rename(to, part, "another")
			case 3:
				tree, _, err = parts.Add(to, "mixes", "", "")
			}
			require.NoError(t, err)
			next, err := setup.FromTree(tree)
			if err != nil {
				continue // a second part called another
			}
			to = next
		}
		ops := Diff(doc.Tree, to.Tree)
		if len(ops) == 0 {
			require.True(t, doc.Tree.Equal(to.Tree))
			return
		}
		r, err := ApplyOps(doc, ops)
		require.NoError(t, err)
		require.True(t, to.Tree.Equal(r.Doc.Tree))
		back, err := ApplyOps(r.Doc, r.Inverse)
		require.NoError(t, err)
		require.True(t, doc.Tree.Equal(back.Doc.Tree))
	})
}

// TestAPatchFindsWhatWasMoved: an edit made before another one moved its part
// still reaches it, and nothing else.
func TestAPatchFindsWhatWasMoved(t *testing.T) {
	doc := stoat(t)
	mine := []byte(`[{"op":"test","path":"/outputs/8/id","value":"winch"},{"op":"add","path":"/outputs/8/low","value":-44}]`)
	tree, err := parts.Move(doc, "outputs/winch", -7)
	require.NoError(t, err)
	moved, err := setup.FromTree(tree)
	require.NoError(t, err)
	r, err := Apply(moved, mine)
	require.NoError(t, err)
	require.Equal(t, "-44", r.Doc.Tree.At("outputs", "1", "low").Text)
	require.Equal(t, "Winch: “low end” changed from −80 to −44", r.Words)
	tree, err = parts.Remove(doc, "outputs/winch", true)
	require.NoError(t, err)
	gone, err := setup.FromTree(tree)
	require.NoError(t, err)
	_, err = Apply(gone, mine)
	require.ErrorContains(t, err, "does not fit the document")
}

func TestOverlap(t *testing.T) {
	low := `[{"op":"test","path":"/outputs/8/id","value":"winch"},{"op":"add","path":"/outputs/8/low","value":-44}]`
	for _, c := range []struct {
		other string
		same  bool
	}{
		{`[{"op":"test","path":"/outputs/2/id","value":"winch"},{"op":"add","path":"/outputs/2/low","value":-4}]`, true},
		{`[{"op":"test","path":"/outputs/2/id","value":"winch"},{"op":"remove","path":"/outputs/2"}]`, true},
		{`[{"op":"test","path":"/outputs/2/id","value":"winch"},{"op":"add","path":"/outputs/2/high","value":4}]`, false},
		{`[{"op":"test","path":"/outputs/8/id","value":"horn"},{"op":"add","path":"/outputs/8/low","value":-4}]`, false},
		{`[{"op":"add","path":"/name","value":"x"}]`, false},
	} {
		require.Equal(t, c.same, Overlap([]byte(low), []byte(c.other)), c.other)
		require.Equal(t, c.same, Overlap([]byte(c.other), []byte(low)), c.other)
	}
	require.True(t, json.Valid([]byte(low)))
}
