package setup_test

import (
	"fmt"
	"strings"
	"testing"

	"github.com/stretchr/testify/require"

	"axtren/core/setup"
	"axtren/internal/golden"
)

// TestTextsThatCannotBeRead: what is said of each, whole, and at which line.
func TestTextsThatCannotBeRead(t *testing.T) {
	var b strings.Builder
	deep := strings.Repeat("[", setup.MaxDepth+1) + strings.Repeat("]", setup.MaxDepth+1)
	for _, c := range []struct{ name, text string }{
		{"nothing", ""}, {"a blank line", "\n"}, {"a comment", "# nothing\n"},
		{"two documents", "{\n}\n{}"}, {"a word after the end", "{}\n\nmore"},
		{"a comma after the end", "{},"},
		{"an open group", "{\n\"a\": 1,\n"}, {"an open list", "[1, 2\n"}, {"an open text", "{\n\"a"},
		{"a wrong bracket", "{\n\"a\": [1}\n}"}, {"a key without a value", "{\"a\"}"},
		{"a large number", "{\n\n\"a\": 1e999}"}, {"a key twice",
			"{\"a\": 1,\n\"b\": {\"c\": 1,\n\"c\": 2}}"}, {"a key that is no text", "{1: 2}"},
		{"too deep", deep}, {"a zero letter", "{\"a\": \"x\\u0000y\"}"},
		{"a zero letter in a key", "{\"a\\u0000\": 1}"}, {"no UTF-8", "{\"a\": \"\xff\"}"},
		{"a tab", "a:\n\t- b"}, {"a wrong indent", "a: 1\n  b: 2\n"}, {"an alias", "a: &x 1\nb: *x\n"},
		{"a tag", "a: !!str 1\n"}, {"a second document", "a: 1\n---\nb: 2\n"},
		{"a merge", "a: {<<: {b: 1}}\n"}, {"a mapping as a key", "{a: 1}: 2\n"},
		{"no number", "a: .inf\nb: .nan\n"}, {"a large number in YAML", "a: 1e999\n"},
	} {
		_, asJSON := setup.ParseJSON([]byte(c.text))
		_, asYAML := setup.ParseYAML([]byte(c.text))
		fmt.Fprintf(&b, "%s\n  as JSON: %v\n  as YAML: %v\n", c.name, asJSON.Error(), asYAML.Error())
	}
	golden.Equal(t, "unreadable", b.String())
}

// TestNoMoreMistakesThanCanBeRead: the first hundred, and how many more there are.
func TestNoMoreMistakesThanCanBeRead(t *testing.T) {
	for _, n := range []int{99, 100, 101, 150} {
		var b strings.Builder
		b.WriteString("format: axtren-setup\nversion: 1\ndemands:\n")
		for i := range n {
			fmt.Fprintf(&b, "  - {id: d%d, from: 1, rate: 151}\n", i)
		}
		_, err := setup.ReadYAML([]byte(b.String()))
		var ps setup.Problems
		require.ErrorAs(t, err, &ps)
		require.Equal(t, min(n, 100), strings.Count(err.Error(), "is out of range"))
		last := ps[len(ps)-1]
		if n <= 100 {
			require.Len(t, ps, n)
			continue
		}
		require.Len(t, ps, 101)
		said := map[int]string{1: "1 more problem", 50: "50 more problems"}[n-100]
		require.Equal(t, setup.Problem{Message: said, Remedy: "fix these first"}, last)
	}
	text := "format: axtren-setup\nversion: 1\nmixes: [" + strings.Repeat("{to: nobody, from: 1}, ", 130) +
		"]"
	_, err := setup.ReadYAML([]byte(text))
	require.ErrorContains(t, err, "30 more problems; fix these first")
	_, problems := setup.ParseYAML([]byte("a: [" + strings.Repeat("!x 1, ", 130) + "]"))
	require.Len(t, problems, 100)
}

// TestWhatIsJustAllowed lies on the border of what is refused.
func TestWhatIsJustAllowed(t *testing.T) {
	_, err := setup.ReadYAML([]byte(`format: axtren-setup
version: 1
transmitter: {controls: [{id: a, kind: axis, spring: none}, {id: s, kind: switch, positions: [up, down]}]}
link: {learned_us: {low: 1000, centre: 1000.5, high: 1001}}
outputs: [{id: o, channel: 1}]
receivers: [{id: rx, failsafe: {can: [hold, preset], preset_pins: all}, pins: [{pin: 1, channel: 1}]}]
devices: [{id: d, on: rx.1, kind: step_box, steps: 3, loss: 3, start: 3}]
logic: [{id: b, block: between, of: a, from: 5, to: 5}]
start_check: [{control: a, is: {from: 5, to: 5}}]
claims:
  - {id: c, never: [{output: o, above: 1}, {device: d, below: 1}, {output: o, within: [2, 2]}, b]}
  - {id: e, on_loss: {output: o, value: 3, within: 1}}
  - {id: f, leads_to: {when: b, then: {output: o, above: 1}, within_s: 1}}`))
	require.NoError(t, err)
	for text, want := range map[string]string{
		"link: {learned_us: {low: 1000, centre: 1500, high: 1500}}": "low < centre < high",
		"link: {learned_us: {low: 1000, centre: 1500, high: 1499}}": "low < centre < high",
		"outputs: [{id: o, channel: 1}]\nclaims: [{id: c, never: [{output: o}]}]": "needs one of above, " +
			"below, within",
		"transmitter: {controls: [{id: a, kind: axis, spring: none}]}\nstart_check: [{control: a, is: " +
			"{from: 6, to: 5}}]": "exchange them",
	} {
		_, err := setup.ReadYAML([]byte("format: axtren-setup\nversion: 1\n" + text))
		require.ErrorContains(t, err, want, text)
	}
}

// TestFieldsAsTheTagsDescribeThem, of every struct of a document.
func TestFieldsAsTheTagsDescribeThem(t *testing.T) {
	var b strings.Builder
	for _, of := range []any{setup.Setup{}, setup.Axis{}, setup.Switch{}, setup.Gate{}, setup.Level{},
		setup.Between{}, setup.Edge{}, setup.Latch{}, setup.Toggle{}, setup.Timer{},
		setup.Servo{}, setup.OnOff{}, setup.StepBox{}, setup.Esc{}, setup.Leveller{}} {
		fmt.Fprintf(&b, "%T\n", of)
		writeFields(&b, setup.Fields(of), "  ")
	}
	golden.Equal(t, "fields", b.String())
}

func writeFields(b *strings.Builder, fields []setup.Field, indent string) {
	for _, f := range fields {
		fmt.Fprintf(b, "%s%s: %s required %v optional %v default %q of %q, %g to %g\n", indent, f.Name,
			f.Type, f.Required, f.Optional, f.Default, f.Choices, f.Low, f.High)
		if f.Type == setup.FieldOther {
			fmt.Fprintf(b, "%s  a %s\n", indent, f.GoType)
		}
		writeFields(b, f.Fields, indent+"  ")
		if f.Element != nil {
			writeFields(b, []setup.Field{*f.Element}, indent+"  each ")
		}
	}
}

// TestWhereControlsRest: sprung ones where they spring to, the others where they wake.
func TestWhereControlsRest(t *testing.T) {
	doc, err := setup.ReadYAML([]byte(`format: axtren-setup
version: 1
transmitter:
  controls:
    - {id: a, kind: axis}
    - {id: b, kind: axis, spring: low}
    - {id: c, kind: axis, spring: none}
    - {id: d, kind: axis, spring: none, start: -30}
    - {id: e, kind: switch, positions: [x, y, z]}
    - {id: f, kind: switch, positions: [x, y, z], start: z}
    - {id: g, kind: switch, positions: [x, y, z], spring_to: y}`))
	require.NoError(t, err)
	var rests []float64
	for _, c := range doc.Setup.Transmitter.Controls {
		if c.Axis != nil {
			rests = append(rests, c.Axis.Rest())
		} else {
			rests = append(rests, float64(c.Switch.Rest()))
		}
	}
	require.Equal(t, []float64{0, -100, 0, -30, 0, 2, 1}, rests)
}

// TestWhatIsLeftOut is filled in as the format says.
func TestWhatIsLeftOut(t *testing.T) {
	doc, err := setup.ReadYAML([]byte("format: axtren-setup\nversion: 1\ntransmitter: {controls: [{id: a, " +
		"kind: axis}]}\noutputs: [{id: o, channel: 1}]\nmixes: [{to: o, from: a}]\nreceivers: [{id: " +
		"rx}]\nlogic: [{id: l, block: sr, set: power_on, reset: power_on}]"))
	require.NoError(t, err)
	s := doc.Setup
	require.Equal(t, setup.Gain{Pos: 100, Neg: 100}, s.Mixes[0].Gain)
	require.Equal(t, setup.Failsafe{Can: []string{"hold"}, PresetPins: setup.Pins{All: true},
		Otherwise: "hold"}, s.Receivers[0].Failsafe)
	require.Equal(t, setup.StateAt("false"), s.Logic[0].Spec.(*setup.Latch).Start)
	require.Equal(t, setup.Pulse{CentreUS: 1500, HalfSpanUS: 500, MinUS: 800, MaxUS: 2200, StepUS: 0.5},
		s.Transmitter.Pulse)
}

// TestWhatPrintsOnOneLine: a group of short values without groups, under 90 letters.
func TestWhatPrintsOnOneLine(t *testing.T) {
	for text, want := range map[string]string{
		"{a: 1, b: [1, 2]}":                         "{a: 1, b: [1, 2]}\n",
		"{x: {a: 1, b: two}}":                       "x: {a: 1, b: two}\n",
		"{x: {a: {b: 1}}}":                          "x:\n  a: {b: 1}\n",
		"{x: [[1, 2], [3, 4]]}":                     "x: [[1, 2], [3, 4]]\n",
		"{x: {a: " + strings.Repeat("y", 86) + "}}": "x: {a: " + strings.Repeat("y", 86) + "}\n",
		"{x: {a: " + strings.Repeat("y", 87) + "}}": "x:\n  a: " + strings.Repeat("y", 87) + "\n",
	} {
		n, problems := setup.ParseYAML([]byte(text))
		require.Empty(t, problems)
		require.Equal(t, want, string(n.YAML()), text)
	}
}
