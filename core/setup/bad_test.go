package setup

import (
	"bytes"
	"encoding/json"
	"fmt"
	"strings"
	"testing"
	"time"

	"github.com/santhosh-tekuri/jsonschema/v6"
	"github.com/stretchr/testify/require"
)

const head = "format: axtren-setup\nversion: 1\n"

// TestMistakesNamePlaceValueAndRemedy is the list of what a person gets wrong.
func TestMistakesNamePlaceValueAndRemedy(t *testing.T) {
	two := "transmitter: {controls: [{id: a, kind: axis}, {id: s, kind: switch, positions: [up, down]}, " +
		"{id: b, kind: switch, positions: [x, y], spring_to: x}]}\n"
	out := "outputs: [{id: o, channel: 1}]\n"
	rx := "receivers: [{id: rx, pins: [{pin: 1, channel: 1}, {pin: 2, channel: 1, switch: {at_us: 1500}}]}]\n"
	for _, c := range []struct{ text, path, says string }{
		{"nmae: x", "nmae", "no such field"},
		{"receivers: [{id: rx, pins: [{pin: 2, channel: 1, switch: {on: above}}]}]",
			"receivers[0].pins[0].switch.at_us", "is missing"},
		{"transmitter: {controls: [{id: a, kind: switch, positions: [\"a\\Lb\", x]}]}",
			"transmitter.controls[0].positions[0]", "usable name"},
		{"transmitter: {controls: [{id: a, kind: switch, positions: [\"a\\Pb\", x]}]}",
			"transmitter.controls[0].positions[0]", "usable name"},
		{"transmitter: {controls: [{id: a, kind: switch, positions: [\"a\\Nb\", x]}]}",
			"transmitter.controls[0].positions[0]", "usable name"},
		{"outputs: [{id: x, channel: 1}, {id: x_us, channel: 2}]\nlogic: [{id: x_us_pct, block: and, in: " +
			"[power_on]}]", "logic[0]",
			"the column x_us_pct of x_us_pct in a trace is that of x_us (outputs[1]) too"},
		{"name: 5", "name", "must be text"},
		{"outputs: [{id: o}]", "outputs[0].channel", "is missing"},
		{"outputs: [{id: o, channel: 1, low: 5}]", "outputs[0].low", "below centre, 0"},
		{"outputs: [{id: o, channel: 1, high: 151}]", "outputs[0].high", "out of range"},
		{"outputs: [{id: o, channel: 1.5}]", "outputs[0].channel", "whole number"},
		{"outputs: [{id: Oh, channel: 1}]", "outputs[0].id", "usable id"},
		{"outputs: [{id: link, channel: 1}]", "outputs[0].id", "taken"},
		{"outputs: [{id: o, channel: 1}, {id: p, channel: 1}]", "outputs[1].channel",
			"outputs[0].channel too"},
		{"outputs: [{id: o, channel: 1}, {id: o, channel: 2}]", "outputs[1].id", "used by outputs[0]"},
		{"outputs: [{id: o, channel: 1, loss: {mode: cut, value: 3}}]", "outputs[0].loss", "preset"},
		{"outputs: [{id: o, channel: 1}]\nmixes: [{to: ox, from: 1}]", "mixes[0].to", `no "ox"`},
		{two + out + "mixes: [{to: o, from: a.asked}]", "mixes[0].from", "is not a value"},
		{two + out + "mixes: [{to: o, from: o.asked, when: s.left}]", "mixes[0].when", `s has no "left"`},
		{two + out + "mixes: [{to: o, from: a, when: a.up}]", "mixes[0].when", "not true or false"},
		{two + out + "mixes: [{to: o, from: a, gain: {pos: 5}}]", "mixes[0].gain.neg", "missing"},
		{two + out + "mixes: [{to: o, from: a, gain: 301}]", "mixes[0].gain", "out of range"},
		{out + "shares: [{outputs: [o], rule: keep_turn}]", "shares[0].outputs", "exactly two"},
		{out + "shares: [{outputs: [o], rule: clip}, {outputs: [o], rule: clip}]", "shares[1].outputs[0]",
			"shares[0].outputs[0] too"},
		{"transmitter: {pulse: {min_us: 1600}}", "transmitter.pulse.min_us", "below centre_us"},
		{"transmitter: {frame_ms: 1}", "transmitter.frame_ms", "out of range"},
		{"transmitter: {controls: [{id: a, kind: axis, start: 5}]}", "transmitter.controls[0].start",
			"has no start"},
		{"transmitter: {controls: [{id: a, kind: knob}]}", "transmitter.controls[0].kind",
			"not one of the choices"},
		{"transmitter: {controls: [{id: a, kind: axis, positions: [x, y]}]}",
			"transmitter.controls[0].positions", "no such field"},
		{"transmitter: {controls: [{id: a, kind: switch, positions: [1, 2]}]}",
			"transmitter.controls[0].positions[0]", "must be text"},
		{"transmitter: {controls: [{id: a, kind: switch, positions: [x, x]}]}",
			"transmitter.controls[0].positions[1]", "positions[0] too"},
		{"demands: [{id: d, from: 1, curve: [[0, 0], [0, 1]]}]", "demands[0].curve[1]", "must rise"},
		{"demands: [{id: d, from: 1, curve: [[0, 0]]}]", "demands[0].curve", "2 entries"},
		{"demands: [{id: d, from: 200}]", "demands[0].from", "out of range"},
		{"steppers: [{id: x, steps: [{name: a, value: 0}, {name: b, value: 1}]}]", "steppers[0]",
			"neither up nor down"},
		{"sequences: [{id: x, go: power_on, tracks: {}}]", "sequences[0].tracks", "no track"},
		{"patterns: [{id: x, when: power_on, steps: [[0, 0]]}]", "patterns[0].steps", "longer than 0"},
		{out + rx + "devices: [{id: d, on: rx.3, kind: lamp}]", "devices[0].on", "no such pin"},
		{out + rx + "devices: [{id: d, on: rx.2, kind: servo}]", "devices[0].on", "no pulses"},
		{out + rx + "devices: [{id: d, on: rx.1, kind: lamp, steps: 3}]", "devices[0].steps",
			"no such field"},
		{out + rx + "devices: [{id: d, on: rx.1, kind: step_box, steps: 3, loss: 4}]", "devices[0].loss",
			"above its 3 steps"},
		{out + rx + "devices: [{id: d, on: rx.1, kind: esc, learned_us: {low: 1490}}]",
			"devices[0].learned_us.low", "below neutral"},
		{out + "claims: [{id: c, on_loss: {output: o, cut: true}}]", "claims[0].on_loss.output",
			"no pin carries"},
		{out + "claims: [{id: c, never: [{output: o, above: 1, below: 3}]}]", "claims[0].never[0]",
			"one of above"},
		{"claims: [{id: c}]", "claims[0]", "says 0 things"},
		{two + "start_check: [{control: b, is: y}]", "start_check[0].is", "wait for ever"},
		{two + "start_check: [{control: a, is: {from: 10, to: 20}}]", "start_check[0].is", "wait for ever"},
		{out + "logic: [{id: o_us, block: or, in: [power_on]}]", "logic[0]", "column o_us"},
		{"link: {learned_us: {low: 1500, centre: 1500, high: 1900}}", "link.learned_us", "low < centre"},
		{"receivers: [{id: r, learned: [{channel: 3, low: 1000, centre: 1500, high: 1500}]}]",
			"receivers[0].learned[0]", "low < centre"},
		{"receivers: [{id: r, learned: [{channel: 3, low: 1000, centre: 1500, high: 1900}, " +
			"{channel: 3, low: 1000, centre: 1500, high: 1900}]}]", "receivers[0].learned[1].channel",
			"the channel is receivers[0].learned[0].channel too"},
		{"receivers: [{id: r, teach: {by: button, order: [low, low]}}]", "receivers[0].teach.order[1]",
			"it asks for this in receivers[0].teach.order[0] too"},
		{"receivers: [{id: r, teach: {by: shouting}}]", "receivers[0].teach.by", "is not one of the choices"},
		{"transmitter: {can: {scales: {endpoint: furlong}}}", "transmitter.can.scales.endpoint",
			"must be a scale"},
	} {
		t.Run(c.path+" "+c.says, func(t *testing.T) {
			_, err := ReadYAML([]byte(head + c.text))
			var ps Problems
			require.ErrorAs(t, err, &ps, c.text)
			require.Equal(t, c.path, ps[0].Path, "%v", ps)
			require.Contains(t, ps[0].Message, c.says)
			require.NotEmpty(t, ps[0].Remedy)
			require.Positive(t, ps[0].Line)
		})
	}
}

func TestAllMistakesAreToldAtOnce(t *testing.T) {
	_, err := ReadYAML([]byte(head +
		"nmae: x\noutputs:\n  - {id: o, channel: 99, low: 200}\n  - {id: p}\nmixes: [{to: q, from: 1}]\n"))
	var ps Problems
	require.ErrorAs(t, err, &ps)
	var paths []string
	for _, p := range ps {
		paths = append(paths, fmt.Sprint(p.Line, " ", p.Path))
	}
	require.Equal(t, []string{"3 nmae", "5 outputs[0].channel", "5 outputs[0].low", "6 outputs[1].channel",
		"7 mixes[0].to"}, paths)
}

// TestHostileTexts: a clear error within a second, whatever the text.
func TestHostileTexts(t *testing.T) {
	var keys, bomb strings.Builder
	for i := range 60000 {
		fmt.Fprintf(&keys, "k%d: 1\n", i)
	}
	bomb.WriteString("a: &a [x, x, x, x, x, x, x, x, x]\n")
	for c := 'b'; c <= 'z'; c++ {
		fmt.Fprintf(&bomb, "%c: &%c [*%c, *%c, *%c, *%c, *%c, *%c, *%c, *%c]\n", c, c, c-1, c-1, c-1, c-1,
			c-1, c-1, c-1, c-1)
	}
	garbage := make([]byte, 1<<20)
	for i := range garbage {
		garbage[i] = byte(32 + (i*i*7+i/3)%95)
	}
	texts := map[string]string{
		"garbage": string(garbage), "too large": strings.Repeat(" ", 1<<20+1),
		"brackets":      strings.Repeat("[", 1<<20-1),
		"nesting":       strings.Repeat("[", 10000) + strings.Repeat("]", 10000),
		"groups":        strings.Repeat(`{"a":`, 10000) + "1" + strings.Repeat("}", 10000),
		"block nesting": nested(600), "keys": keys.String(), "aliases": bomb.String(),
		"json keys": "{" + strings.ReplaceAll(strings.TrimSuffix(strings.ReplaceAll(keys.String(), "k", `"k`),
			"\n"), ": 1\n", "\": 1,\n") + "}",
		"infinite":      head + "outputs: [{id: o, channel: 1, low: -.inf}]",
		"not a number":  head + "demands: [{id: d, from: 1, trim: .nan}]",
		"huge":          `{"format": "axtren-setup", "version": 1e999}`,
		"twice":         `{"format": "a", "format": "a"}`,
		"two documents": head + "---\na: 1\n",
		"merge":         head + "craft: {<<: {kind: boat}}", "tag": head + "name: !!binary aGk=",
		"not utf-8": "name: \xff", "empty": "", "null": "null", "a number": "3",
		"list": "[1, 2]", "control characters": "\x00\x01\x02",
	}
	for name, text := range texts {
		for format, read := range map[string]func([]byte) (*Document, error){"YAML": ReadYAML,
			"JSON": ReadJSON} {
			t.Run(name+" as "+format, func(t *testing.T) {
				start := time.Now()
				_, err := read([]byte(text))
				var ps Problems
				require.ErrorAs(t, err, &ps)
				require.NotEmpty(t, ps[0].Message)
				require.LessOrEqual(t, len(ps), maxProblems+1)
				require.Less(t, time.Since(start), time.Second)
			})
		}
	}
}

func nested(n int) string {
	var b strings.Builder
	for i := range n {
		b.WriteString(strings.Repeat(" ", i) + "a:\n")
	}
	return b.String()
}

func TestYAMLIsReadAsCoreSchema(t *testing.T) {
	n, ps := ParseYAML([]byte("a: [on, off, yes, 010, 0o10, 0x1F, .5, 1., +3, 1e3, true, ~, \"1\", 12:30, " +
		"2001-01-01, 1_000]"))
	require.Nil(t, ps)
	require.Equal(t,
		`["on", "off", "yes", 10, 8, 31, 0.5, 1, 3, 1000, true, null, "1", "12:30", "2001-01-01", "1_000"]`,
		strings.TrimSpace(string(n.Get("a").JSON())))
}

func compiled(t *testing.T) *jsonschema.Schema {
	c := jsonschema.NewCompiler()
	c.UseLoader(jsonschema.SchemeURLLoader{})
	doc, err := jsonschema.UnmarshalJSON(bytes.NewReader(Schema()))
	require.NoError(t, err)
	require.NoError(t, c.AddResource("setup.json", doc))
	schema, err := c.Compile("setup.json")
	require.NoError(t, err)
	return schema
}

// TestSchemaAgrees checks the printed schema with another program's checker:
// what we read it takes, and what breaks a field's shape it refuses.
func TestSchemaAgrees(t *testing.T) {
	schema := compiled(t)
	valid := func(tree *Node) error {
		v, err := jsonschema.UnmarshalJSON(bytes.NewReader(tree.JSON()))
		require.NoError(t, err)
		return schema.Validate(v)
	}
	for name, text := range examples(t) {
		tree, ps := ParseJSON(text)
		require.Nil(t, ps)
		require.NoError(t, valid(tree), name)
	}
	for _, text := range []string{"nmae: x", "outputs: [{id: o}]",
		"outputs: [{id: o, channel: 1, low: -151}]", "mixes: [{to: o, from: 1, gain: up}]",
		"devices: [{id: d, on: rx.1, kind: lamp, steps: 3}]", "logic: [{id: l, block: ton, in: power_on}]",
		"transmitter: {frame_ms: 60}",
		"receivers: [{id: r, failsafe: {can: [jump]}}]",
		"patterns: [{id: p, when: power_on, steps: [[1]]}]"} {
		tree, ps := ParseYAML([]byte(head + text))
		require.Nil(t, ps)
		require.Error(t, valid(tree), text)
		_, err := FromTree(tree)
		require.Error(t, err, text)
	}
}

// FuzzRead: no text panics, and what is read survives both round trips.
func FuzzRead(f *testing.F) {
	f.Add([]byte(head+"outputs: [{id: o, channel: 1}]"), true)
	f.Add([]byte(`{"format": "axtren-setup", "version": 1}`), false)
	f.Add([]byte(head+
		"link: {order: [1]}\nreceivers: [{id: r, pins: [{pin: 1, channel: 0}]}]\noutputs: [{id: o, "+
		"channel: 0}]\nclaims: [{id: c, on_loss: {output: o, cut: true}}]\ndevices: [3, {kind: "+
		"esc}]\nlogic: [{block: 7}]\ntransmitter: {controls: [null, {kind: switch}]}\nstart_check: "+
		"[{control: x}]"), true)
	f.Fuzz(func(t *testing.T, text []byte, asYAML bool) {
		read := ReadJSON
		if asYAML {
			read = ReadYAML
		}
		doc, err := read(text)
		if err != nil {
			return
		}
		back, err := ReadYAML(doc.Tree.YAML())
		require.NoError(t, err, "%s", doc.Tree.YAML())
		require.True(t, doc.Tree.Equal(back.Tree))
		require.True(t, json.Valid(doc.Tree.JSON()))
	})
}
