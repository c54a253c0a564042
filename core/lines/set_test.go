package lines

import (
	"encoding/json"
	"fmt"
	"os"
	"path/filepath"
	"reflect"
	"slices"
	"strings"
	"testing"

	"github.com/stretchr/testify/require"

	"axtren/core/edit"
	"axtren/core/setup"
	"axtren/core/travel"
	"axtren/core/words"
	"axtren/internal/golden"
)

func patchText(t *testing.T, f Field, value any) string {
	t.Helper()
	ops, err := Set(&f, value)
	require.NoError(t, err)
	text, err := json.Marshal(ops)
	require.NoError(t, err)
	return strings.ReplaceAll(string(text), `"`, "'")
}

// TestPatches: what each kind of field makes of a value.
func TestPatches(t *testing.T) {
	at := Target{Pointer: "/outputs/1/low", Path: "outputs[1].low", ListID: "starboard",
		IDAt: "/outputs/1/id", Present: true, Sign: 1}
	field := func(change func(f *Field)) Field {
		f := Field{Name: "low", Kind: Number, Value: -96, Usual: -100, Min: -150, Max: 150, Step: 1,
			Unit: "%", Targets: []Target{at}}
		if change != nil {
			change(&f)
		}
		return f
	}
	absent := func(f *Field) { f.Targets[0].Present = false }
	test := "{'op':'test','path':'/outputs/1/id','value':'starboard'},"
	for _, c := range []struct {
		field Field
		value any
		want  string
	}{
		{field(nil), -80.0, "[" + test + "{'op':'add','path':'/outputs/1/low','value':-80}]"},
		// what is usual need not be said
		{field(nil), -100.0, "[" + test + "{'op':'remove','path':'/outputs/1/low'}]"},
		{field(absent), -100.0, "null"},
		{field(func(f *Field) { f.Always = true }), -100.0,
			"[" + test + "{'op':'add','path':'/outputs/1/low','value':-100}]"},
		{field(func(f *Field) { f.Optional = true }), -100.0,
			"[" + test + "{'op':'add','path':'/outputs/1/low','value':-100}]"},
		{field(func(f *Field) { f.Optional = true }), "",
			"[" + test + "{'op':'remove','path':'/outputs/1/low'}]"},
		{field(func(f *Field) { // each target with its sign
			f.Usual, f.Targets = 100, append(f.Targets, Target{Pointer: "/mixes/3/gain", Sign: -1})
		}), 70.0, "[" + test +
			"{'op':'add','path':'/outputs/1/low','value':70},{'op':'add','path':'/mixes/3/gain','value':-70}]"},
		{field(func(f *Field) { f.Kind, f.Usual, f.Value = YesNo, 0, 0 }), true,
			"[" + test + "{'op':'add','path':'/outputs/1/low','value':true}]"},
		{field(func(f *Field) { f.Kind, f.Usual = YesNo, 0 }), false,
			"[" + test + "{'op':'remove','path':'/outputs/1/low'}]"},
		{field(func(f *Field) { f.Kind, f.Usual, f.Value = YesNo, 1, 0 }), true,
			"[" + test + "{'op':'remove','path':'/outputs/1/low'}]"},
		{field(func(f *Field) { absent(f); f.Kind, f.Seed = YesNo, json.RawMessage(`{"mode":"hold"}`) }),
			true, "[" + test + "{'op':'add','path':'/outputs/1/low','value':{'mode':'hold'}}]"},
		{field(func(f *Field) { f.Kind, f.Seed = YesNo, json.RawMessage(`{"mode":"hold"}`) }), false,
			"[" + test + "{'op':'remove','path':'/outputs/1/low'}]"},
		{field(func(f *Field) { absent(f); f.Kind = Words }), "", "null"},
		{field(func(f *Field) { f.Kind = Words }), "12",
			"[" + test + "{'op':'add','path':'/outputs/1/low','value':'12'}]"},
		{field(func(f *Field) { f.Kind, f.Choices = Reference, []Choice{{Value: "drive"}} }), "drive",
			"[" + test + "{'op':'add','path':'/outputs/1/low','value':'drive'}]"},
		{field(func(f *Field) { f.Kind, f.Choices = Reference, []Choice{{Value: "drive"}} }), "−40",
			"[" + test + "{'op':'add','path':'/outputs/1/low','value':-40}]"},
		// refused by the check, in its words
		{field(func(f *Field) { f.Kind = Reference }), "nobody",
			"[" + test + "{'op':'add','path':'/outputs/1/low','value':'nobody'}]"},
		{field(func(f *Field) {
			f.Kind, f.Choices = OneOf, []Choice{{Value: "preset", JSON: json.RawMessage(`{"mode":"preset"}`)}}
		}), "preset", "[" + test + "{'op':'add','path':'/outputs/1/low','value':{'mode':'preset'}}]"},
		{field(func(f *Field) { f.Kind = Written }), `{"a": 1}`,
			"[" + test + "{'op':'add','path':'/outputs/1/low','value':{'a':1}}]"},
		{field(func(f *Field) {
			f.Targets[0].ListID, f.Targets[0].Makes = "", []Made{{"/link", struct{}{}}}
			absent(f)
		}), 7.0,
			"[{'op':'add','path':'/link','value':{}},{'op':'add','path':'/outputs/1/low','value':7}]"},
	} {
		require.Equal(t, c.want, patchText(t, c.field, c.value), "%v of %v", c.value, c.field)
	}
}

// TestTables: each shape of rows as the document has it.
func TestTables(t *testing.T) {
	number, word, list := Field{Name: "value", Kind: Number}, Field{Name: "name",
		Kind: Words}, Field{Name: "of", Kind: Written}
	for _, c := range []struct {
		shape   string
		columns []Field
		rows    any
		want    string
	}{
		{"pairs", []Field{number, number}, [][]string{{"-100", "−90"}, {"5", "1,5"}}, "[[-100,-90],[5,1.5]]"},
		{"records", []Field{word, number, list}, [][]string{{"low", "5", ""}, {"high", "", "[1]"}},
			"[{'name':'low','value':5},{'name':'high','of':[1]}]"},
		{"groups", []Field{word, number, number}, [][]string{{"door", "0", "-100"}, {"arm", "0.5", "1"},
			{"door", "1", "80"}}, "{'door':[[0,-100],[1,80]],'arm':[[0.5,1]]}"},
		{"plain", []Field{number}, []any{[]any{"3"}, []any{"4"}}, "[3,4]"},
	} {
		f := Field{Kind: Rows, Shape: c.shape, Columns: c.columns, Targets: []Target{{Pointer: "/x"}}}
		require.Equal(t, "[{'op':'add','path':'/x','value':"+c.want+"}]", patchText(t, f, c.rows))
	}
	f := Field{Kind: Rows, Shape: "pairs", Columns: []Field{number, number},
		Targets: []Target{{Pointer: "/x", Present: true}},
		Rows:    [][]string{{"1", "2"}}}
	require.Equal(t, "null", patchText(t, f, [][]string{{"1", "2"}}))
	require.Equal(t, "[{'op':'remove','path':'/x'}]", patchText(t, f, [][]string{}))
	f.Always = true
	require.Equal(t, "[{'op':'add','path':'/x','value':[]}]", patchText(t, f, [][]string{}))
}

// TestValuesThatDoNotFit: each is refused with the place, what came, and what to do.
func TestValuesThatDoNotFit(t *testing.T) {
	for kind, bad := range map[string][]any{
		Number: {"ten", true, nil}, YesNo: {1.0, "yes"}, Words: {3.0, nil}, OneOf: {false},
		Written: {"{", 5.0}, Rows: {"a", []any{"a"}, []any{[]any{5.0}}},
	} {
		for _, value := range bad {
			f := Field{At: "outputs/o", Kind: kind, Targets: []Target{{Path: "outputs[0].low",
				Present: true}}}
			_, err := Set(&f, value)
			var ps setup.Problems
			require.ErrorAs(t, err, &ps, "%s: %v", kind, value)
			require.Equal(t, "outputs[0].low", ps[0].Path)
			require.NotEmpty(t, ps[0].Remedy)
		}
	}
}

// TestNumbersAsTheyAreTyped: what people write, and nothing that only a program would.
func TestNumbersAsTheyAreTyped(t *testing.T) {
	for text, want := range map[string]float64{"−12,5": -12.5, " +3 ": 3, ".5": 0.5, "5.": 5, "-0": 0,
		"007": 7, "1 500": 1500, "12\u202f345 678,5": 12345678.5, "–30": -30,
	} {
		v, ok := words.Number(text)
		require.True(t, ok, text)
		require.InDelta(t, want, v, 0, text)
	}
	for _, text := range []string{"", "-", ".", "1e3", "0x10", "1_000", "ten", "1 2", "1 50", "1 5000", "--1",
		"+-1", "∞", "NaN"} {
		_, ok := words.Number(text)
		require.False(t, ok, text)
	}
}

// others gives values that a field could be set to instead of the one that it has.
func others(f *Field) []any {
	switch f.Kind {
	case Number:
		if f.Value+f.Step <= f.Max {
			return []any{f.Value + f.Step}
		}
		return []any{f.Value - f.Step}
	case YesNo:
		return []any{f.Value == 0}
	case OneOf, Reference:
		var list []any
		for _, c := range f.Choices {
			if c.Value != f.Text && c.Value != "" {
				list = append(list, c.Value)
			}
		}
		return list[:min(len(list), 2)]
	case Words:
		if strings.HasSuffix(f.Name, "id") {
			return nil
		}
		return []any{"other"}
	}
	return nil
}

// own gives the value that a field has.
func own(f *Field) any {
	switch f.Kind {
	case Number:
		if f.Optional && !f.Present {
			return ""
		}
		return f.Value
	case YesNo:
		return f.Value != 0
	case Rows:
		return f.Rows
	}
	return f.Text
}

// TestEveryFieldIsSet: setting a field to what it has changes nothing that the document
// means; setting it to something else gives that back, or says why it cannot be.
func TestEveryFieldIsSet(t *testing.T) {
	models := golden.Models(t)
	paths, err := filepath.Glob("../../demo/*.yaml")
	require.NoError(t, err)
	for _, name := range []string{"curve_smooth", "sequence_turn_back", "steppers"} { // what no demo has
		more, err := filepath.Glob("../../core/signal/testdata/cases/" + name + "*/setup.json")
		require.NoError(t, err)
		paths = append(paths, more...)
	}
	require.GreaterOrEqual(t, len(paths), 7)
	for _, name := range paths {
		text, err := os.ReadFile(name)
		require.NoError(t, err)
		doc, err := setup.ReadYAML(text)
		require.NoError(t, err)
		p, err := edit.Playable(doc)
		require.NoError(t, err)
		models = append(models, golden.Model{Name: name, Doc: doc, Program: p})
	}
	set, refused := 0, 0
	for _, m := range models {
		doc, err := edit.WithIDs(m.Doc)
		require.NoError(t, err)
		p, err := edit.Playable(doc)
		require.NoError(t, err)
		view := Build(doc, p)
		var fields []Field
		view.joints(func(j *Joint) {
			if j.Editor != nil {
				fields = append(fields, j.Editor.Fields...)
			}
		})
		places := slices.Clone(formsOfModel)
		for _, b := range view.Behind {
			places = append(places, b.Part)
		}
		for _, o := range doc.Setup.Outputs {
			places = append(places, "outputs/"+string(o.ID))
		}
		for _, part := range places {
			form, err := Form(doc, p, part)
			require.NoError(t, err)
			fields = append(fields, form.Fields...)
		}
		for i := range fields {
			f := &fields[i]
			where := fmt.Sprintf("%s: %s, %s", m.Name, f.At, f.Name)
			found, err := FieldOf(doc, p, view, f.At, f.Name)
			require.NoError(t, err, where)
			ops, err := Set(found, own(found))
			require.NoError(t, err, where)
			if len(ops) > 0 {
				same, err := edit.ApplyOps(doc, ops)
				require.NoError(t, err, where)
				before, after := *doc.Setup, *same.Doc.Setup
				before.Relink() // what was worked out when it was asked for is no part of it
				after.Relink()
				require.True(t, reflect.DeepEqual(before, after), where)
			}
			if strings.Contains(m.Name, "/") {
				continue // of the demo, that it stays as it is will do
			}
			for _, value := range others(found) {
				ops, err := Set(found, value)
				require.NoError(t, err, where)
				require.NotEmpty(t, ops, "%s to %v", where, value)
				now, err := edit.ApplyOps(doc, ops)
				if err != nil {
					require.ErrorContains(t, err, "", where)
					refused++
					continue
				}
				changed, err := edit.Playable(now.Doc)
				if err != nil {
					refused++
					continue
				}
				again, err := FieldOf(now.Doc, changed, nil, f.At, f.Name)
				if err != nil { // the joint is another one now
					continue
				}
				require.Equal(t, fmt.Sprint(value), fmt.Sprint(own(again)), where)
				set++
			}
		}
	}
	require.Greater(t, set, 1000)
	require.Less(t, refused, set/4)
	t.Logf("%d set, %d refused", set, refused)
}

// TestFieldsThatAreGone: it is said what was asked for.
func TestFieldsThatAreGone(t *testing.T) {
	m := golden.Models(t)[0]
	for _, at := range [][2]string{{"out/nobody/ends", "low"}, {"logic/nobody", "in"}, {"craft", "size"},
		{"", ""}} {
		_, err := FieldOf(m.Doc, m.Program, nil, at[0], at[1])
		var ps setup.Problems
		require.ErrorAs(t, err, &ps)
		require.NotEmpty(t, ps[0].Remedy)
	}
}

// TestScalesOfMenus: a scale is chosen by what it says; one of its own stays as it is written.
func TestScalesOfMenus(t *testing.T) {
	doc, err := setup.ReadYAML([]byte("format: axtren-setup\nversion: 1\ntransmitter: {can: {scales: " +
		"{endpoint: percent, failsafe: {else: percent, channels: {3: span}}}}}\n"))
	require.NoError(t, err)
	scale := func(doc *setup.Document, name string) Field {
		p, err := edit.Playable(doc)
		require.NoError(t, err)
		form, err := Form(doc, p, "transmitter")
		require.NoError(t, err)
		return form.Fields[slices.IndexFunc(form.Fields,
			func(f Field) bool { return f.Name == "can.scales."+name })]
	}
	of := scale(doc, "endpoint")
	require.Equal(t, []string{"percent", OneOf}, []string{of.Text, of.Kind})
	for _, c := range of.Choices[1:] {
		ops, err := Set(&of, c.Value)
		require.NoError(t, err)
		after, err := edit.ApplyOps(doc, ops)
		require.NoError(t, err)
		now := scale(after.Doc, "endpoint")
		require.Equal(t, c.Value, now.Text)
		menu := after.Doc.Setup.Transmitter.Can.Scales.Endpoint
		require.Equal(t, c.Label, travel.Name(menu.Else))
		require.Len(t, now.Choices, len(of.Choices), "nothing is written twice")
	}
	mixed := scale(doc, "failsafe")
	require.Equal(t, `{"else":"percent","channels":{"3":"span"}}`, mixed.Text)
	last := mixed.Choices[len(mixed.Choices)-1]
	require.Equal(t, "as the document has it: "+mixed.Text, last.Label)
	ops, err := Set(&mixed, last.Value)
	require.NoError(t, err)
	require.Empty(t, ops, "that is what it is")
}
