package edit

import (
	"encoding/json"
	"os"
	"path/filepath"
	"testing"

	"github.com/stretchr/testify/require"

	"axtren/core/lines"
	"axtren/core/setup"
	"axtren/core/signal"
)

// TestFormsSetWhatTheyShow: every field of every part of the demo and of some
// worked examples says what the document says, and what it sets fits the format.
func TestFormsSetWhatTheyShow(t *testing.T) {
	paths, err := filepath.Glob("../../demo/*.yaml")
	require.NoError(t, err)
	for _, name := range []string{"curve_smooth", "sequence_turn_back", "steppers"} { // what no demo has
		more, err := filepath.Glob("../../core/signal/testdata/cases/" + name + "*/setup.json")
		require.NoError(t, err)
		paths = append(paths, more...)
	}
	set := 0
	for _, path := range paths {
		text, err := os.ReadFile(path)
		require.NoError(t, err)
		doc, err := setup.ReadYAML(text)
		require.NoError(t, err)
		doc, err = WithIDs(doc)
		require.NoError(t, err)
		p, err := signal.Compile(doc.Setup)
		require.NoError(t, err)
		names := []string{"link", "craft", "transmitter"}
		for _, one := range lines.Build(doc, p).Behind {
			names = append(names, one.Part)
		}
		for _, o := range doc.Setup.Outputs {
			names = append(names, "outputs/"+string(o.ID))
		}
		for _, part := range names {
			form, err := lines.Form(doc, p, part)
			require.NoError(t, err, part)
			require.NotEmpty(t, form.Title)
			seen := map[string]bool{}
			for k, f := range form.Fields {
				require.False(t, seen[f.Name], "%s: %s twice", part, f.Name)
				seen[f.Name] = true
				require.NotEmpty(t, f.Kind, "%s: %s", part, f.Name)
				if k%3 == len(part)%3 { // a third of them, which they are differs from part to part
					set += setsWhatItShows(t, doc, path+" "+part, f)
				}
			}
		}
	}
	require.Greater(t, set, 250)
}

func setsWhatItShows(t *testing.T, doc *setup.Document, where string, f lines.Field) int {
	target := f.Targets[0]
	now := doc.Tree.At(setup.PointerParts(target.Pointer)...)
	require.Equal(t, now != nil, target.Present, "%s: %s", where, f.Name)
	put := func(v any) error {
		raw, err := json.Marshal(v)
		require.NoError(t, err)
		value := json.RawMessage(raw)
		ops := []Op{{Op: "add", Path: target.Pointer, Value: &value}}
		if target.Make != "" {
			empty := json.RawMessage("{}")
			ops = append([]Op{{Op: "add", Path: target.Make, Value: &empty}}, ops...)
		}
		if target.ListID != "" {
			id, _ := json.Marshal(target.ListID)
			raw := json.RawMessage(id)
			ops = append([]Op{{Op: "test", Path: target.IDAt, Value: &raw}}, ops...)
		}
		r, err := ApplyOps(doc, ops)
		if err == nil && now != nil && f.Kind != lines.OneOf && f.Kind != lines.YesNo {
			require.True(t, doc.Tree.Equal(r.Doc.Tree), "%s: %s set %s", where, f.Name, raw)
		}
		return err
	}
	switch f.Kind {
	case lines.Number:
		if now != nil || !f.Optional {
			require.NoError(t, put(f.Value), "%s: %s", where, f.Name)
			return 1
		}
	case lines.YesNo:
		if f.Seed != nil && now == nil {
			require.NoError(t, put(f.Seed), "%s: %s", where, f.Name)
			return 1
		}
		if f.Seed == nil {
			require.NoError(t, put(f.Value == 1))
			return 1
		}
	case lines.OneOf:
		found := false
		for _, c := range f.Choices {
			found = found || c.Value == f.Text
			if c.JSON != nil {
				require.NoError(t, put(c.JSON), "%s: %s %s", where, f.Name, c.Value)
			}
		}
		require.True(t, found, "%s: %s at %q of %v", where, f.Name, f.Text, f.Choices)
		return 1
	case lines.Reference:
		if now != nil && now.Kind == setup.Text {
			found := false
			for _, c := range f.Choices {
				found = found || c.Value == f.Text
			}
			require.True(t, found, "%s: %s at %q", where, f.Name, f.Text)
			require.NoError(t, put(f.Text))
			return 1
		}
	case lines.Written:
		if now != nil {
			require.NoError(t, put(json.RawMessage(f.Text)), "%s: %s", where, f.Name)
			return 1
		}
	case lines.Rows:
		require.NotEmpty(t, f.Shape)
		for _, row := range f.Rows {
			require.Len(t, row, len(f.Columns))
		}
	case lines.Words:
		if now != nil {
			require.NoError(t, put(f.Text), "%s: %s", where, f.Name)
			return 1
		}
	default:
		require.Fail(t, "no such kind", "%s: %s %s", where, f.Name, f.Kind)
	}
	return 0
}
