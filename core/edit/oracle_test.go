package edit

import (
	"encoding/json"
	"fmt"
	"os"
	"strings"
	"testing"
	"time"

	jsonpatch "github.com/evanphx/json-patch/v5"
	"github.com/stretchr/testify/require"
	"pgregory.net/rapid"

	"axtren/core/setup"
)

// places lists every JSON Pointer of a value, the containers' ends included.
func places(n *setup.Node, at string) []string {
	list := []string{at}
	for i, item := range n.Items {
		step := fmt.Sprint(i)
		if n.Kind == setup.Map {
			step = escape(n.Keys[i])
		}
		list = append(list, places(item, at+"/"+step)...)
	}
	if n.Kind == setup.List {
		list = append(list, at+"/-", fmt.Sprintf("%s/%d", at, len(n.Items)))
	}
	return list
}

// TestOneOperationIsTheLibrarys: what an operation makes of a tree is what the library
// for JSON Patches (RFC 6902) makes of its text, and both refuse the same.
func TestOneOperationIsTheLibrarys(t *testing.T) {
	text, err := os.ReadFile("../../demo/stoat.yaml")
	require.NoError(t, err)
	doc, err := setup.ReadYAML(text)
	require.NoError(t, err)
	all := append(places(doc.Tree, ""), "/nowhere/at/all", "/outputs/99", "/outputs/01", "/outputs/x",
		"/name/x", "/new~1er", "/new~0er")
	values := []string{`1`, `1.0`, `"text"`, `{"id":"x","list":[1,2]}`, `[]`, `{}`, `true`,
		`["a",{"b":null}]`}
	rapid.Check(t, func(rt *rapid.T) {
		tree := doc.Tree
		own := tree.JSON()
		for range rapid.IntRange(1, 6).Draw(rt, "operations") {
			op := Op{Op: rapid.SampledFrom([]string{"add", "remove", "replace", "test"}).Draw(rt, "op"),
				Path: rapid.SampledFrom(all).Draw(rt, "path")}
			if op.Path == "" {
				continue // the whole document: refused before
			}
			if op.Op != "remove" {
				raw := json.RawMessage(rapid.SampledFrom(values).Draw(rt, "value"))
				if n := tree.At(setup.PointerParts(op.Path)...); op.Op == "test" && n != nil &&
					rapid.Bool().Draw(rt, "same") {
					raw = n.JSON()
				}
				op.Value = &raw
			}
			if n := tree.At(setup.PointerParts(op.Path)...); op.Op == "test" && n != nil &&
				n.Kind == setup.Number {
				continue // 1.0 is 1, says RFC 6902, section 4.6; the library compares letters
			}
			w := &work{tree: tree}
			ours := w.run("patch[0]", op)
			theirs, err := library(own, op)
			require.Equal(rt, err == nil, ours == nil, "%s %s: ours %v, the library's %v", op.Op, op.Path,
				ours, err)
			if ours != nil {
				continue
			}
			want, ps := setup.ParseJSON(theirs)
			require.Nil(rt, ps)
			require.True(rt, want.Equal(w.tree), "%s %s", op.Op, op.Path)
			require.Equal(rt, string(want.JSON()), string(w.tree.JSON()), "the order of fields too")
			tree, own = w.tree, theirs
		}
	})
	again, err := setup.ReadYAML(text)
	require.NoError(t, err)
	require.True(t, again.Tree.Equal(doc.Tree), "the document itself stays as it is")
}

func library(text []byte, op Op) ([]byte, error) {
	one, err := json.Marshal([]Op{op})
	if err != nil {
		return nil, err
	}
	patch, err := jsonpatch.DecodePatch(one)
	if err != nil {
		return nil, err
	}
	options := jsonpatch.NewApplyOptions()
	options.SupportNegativeIndices = false
	options.EscapeHTML = false
	return patch.ApplyWithOptions(text, options)
}

// TestALongPatchIsQuick: as many operations as a patch may have, on a large document.
func TestALongPatchIsQuick(t *testing.T) {
	var b strings.Builder
	b.WriteString("format: axtren-setup\nversion: 1\noutputs:\n")
	for i := range 48 {
		fmt.Fprintf(&b, "  - {id: o%d, channel: %d, notes: %q}\n", i, i+1,
			strings.Repeat("long notes ", 1500))
	}
	doc, err := setup.ReadYAML([]byte(b.String()))
	require.NoError(t, err)
	var ops []string
	for i := range maxOps / 2 {
		ops = append(ops,
			fmt.Sprintf(`{"op":"test","path":"/outputs/%d/id","value":"o%d"},{"op":"add","path":"/outputs/%d/high","value":%d}`, i%48, i%48, i%48, 50+i%50))
	}
	start := time.Now()
	r, err := Apply(doc, []byte("["+strings.Join(ops, ",")+"]"))
	require.NoError(t, err)
	t.Logf("%d operations on %d kB: %v", maxOps, b.Len()>>10, time.Since(start))
	require.Less(t, time.Since(start), time.Second)
	require.Len(t, r.Patch, maxOps)
	_, err = Apply(doc, []byte("["+strings.Join(append(ops, ops[0]), ",")+"]"))
	require.ErrorContains(t, err, "needs 1 to 500 operations")
}

// TestWhatIsKeptCanBeReadAgain: the size is that of the document as it is printed, not
// of the patch, or of the text that came in.
func TestWhatIsKeptCanBeReadAgain(t *testing.T) {
	quotes := strings.Repeat(`"`, 600_000) // each is two letters when it is printed
	doc, err := setup.ReadYAML([]byte("format: axtren-setup\nversion: 1\ncraft:\n  notes: '" + quotes +
		"'\n"))
	require.NoError(t, err)
	_, err = WithIDs(doc)
	require.ErrorContains(t, err, "larger than 1048576 bytes when it is printed as")
	small, err := setup.ReadYAML([]byte("format: axtren-setup\nversion: 1\n"))
	require.NoError(t, err)
	text, err := json.Marshal(quotes[:400_000])
	require.NoError(t, err)
	r, err := Apply(small, fmt.Appendf(nil, `[{"op":"add","path":"/craft","value":{"notes":%s}}]`, text))
	require.NoError(t, err)
	_, err = setup.ReadJSON(r.Doc.Tree.JSON())
	require.NoError(t, err)
	_, err = setup.ReadYAML(r.Doc.Tree.YAML())
	require.NoError(t, err)
	_, err = Apply(r.Doc, fmt.Appendf(nil, `[{"op":"add","path":"/transmitter","value":{"notes":%s}}]`, text))
	require.ErrorContains(t, err, "larger than 1048576 bytes when it is printed as")
}
