package proof

import (
	"context"
	"fmt"
	"os"
	"testing"

	"github.com/stretchr/testify/require"

	"axtren/core/setup"
)

// TestCures: of each planted flaw, and of claims by hand, the changes that cure them; each is proved, is a
// document, and says what else is broken by it.
func TestCures(t *testing.T) {
	cures := func(doc *setup.Document, id setup.ID) []Cure {
		i := doc.Setup.Item(id).Index
		v := Decide(context.Background(), doc.Setup, i, Usual)
		list := Cures(context.Background(), doc, i, &v, Usual)
		for _, c := range list {
			require.Equal(t, Holds, Decide(context.Background(), c.Doc.Setup, i, Usual).Verdict, c.Says)
			require.NotEqual(t, doc.Tree.JSON(), c.Doc.Tree.JSON())
		}
		return list
	}
	says := func(list []Cure) (lines []string) {
		for _, c := range list {
			lines = append(lines, c.Says)
		}
		return lines
	}
	demo := func(name string) *setup.Document {
		text, err := os.ReadFile("../../demo/" + name + ".yaml")
		require.NoError(t, err)
		doc, err := setup.ReadYAML(text)
		require.NoError(t, err)
		return doc
	}
	require.Contains(t, says(cures(demo("pipit"), "pod_saves")), "Let Lamp pod rest while Battery alarm at low")
	require.Contains(t, says(cures(demo("wader"), "one_drive")), "Let Wheels and Screw change over at once")
	require.Contains(t, says(cures(demo("alder"), "legs_at_rest")), "Let Motor rest while Legs allowed is on")
	require.Empty(t, cures(demo("pipit"), "junior_cap"), "one that holds needs none")

	const text = `format: axtren-setup
version: 1
transmitter:
  controls:
    - {id: key, kind: switch, positions: [rest, press], spring_to: rest}
    - {id: mode, label: Mode, kind: switch, positions: [a, b]}
    - {id: left, kind: axis}
    - {id: right, kind: axis}
outputs: [{id: horn, label: Horn, channel: 1}, {id: one, label: One, channel: 2}, {id: two, label: Two, channel: 3}]
mixes: [{to: horn, from: lit}, {to: one, from: left}, {to: two, from: right}]
logic:
  - {id: lit, label: Lit, block: sr, set: key.press, reset: mode.a, start: %s}
  - {id: both, label: Both, block: and, in: [key.press]}
claims:
  - {id: dark, at_start: {output: horn, value: -100}}
  - {id: apart, never: [both, mode.b]}
  - {id: together, label: Both at b, reachable: both}
  - {id: never, never: [{output: one, above: 25}, {output: two, below: -25}]}
  - {id: full, label: Full, reachable: {output: one, above: 90}}
`
	read := func(start string) *setup.Document {
		doc, err := setup.ReadYAML([]byte(fmt.Sprintf(text, start)))
		require.NoError(t, err)
		return doc
	}
	require.Equal(t, []string{"Let the transmitter send nothing before Mode is at a",
		"Let “Lit” be off at power-on"},
		says(cures(read("true"), "dark")))
	list := cures(read("false"), "apart")
	require.Equal(t, []string{"Let “Both” be on only while it is not so: Mode at b"}, says(list))
	require.Empty(t, list[0].Also)
	require.Equal(t, []string{"Let One rest while Two is asked to move",
		"Let Two rest while One is asked to move"},
		says(cures(read("false"), "never")))
	require.Empty(t, cures(read("false"), "together"))

	// a wait, the shortest that does it: of a rule, of a latch, of a function
	waits, err := setup.ReadYAML([]byte(`format: axtren-setup
version: 1
transmitter:
  frame_ms: 50
  controls:
    - {id: key, label: Key, kind: switch, positions: [rest, press], spring_to: rest}
    - {id: mode, label: Mode, kind: switch, positions: [a, b]}
outputs: [{id: legs, label: Legs, channel: 1}, {id: doors, label: Doors, channel: 2}]
mixes: [{to: legs, from: 80, when: mode.b}]
logic:
  - {id: open, label: Open, block: tof, in: mode.a, for_s: 0.3}
  - {id: go, label: Go, block: or, in: [mode.b]}
  - {id: went, label: Went, block: rs, set: mode.b, reset: mode.a}
claims:
  - {id: rule, never: [go, open]}
  - {id: latch, never: [went, open]}
  - {id: moved, never: [{output: legs, above: 5}, open]}
`))
	require.NoError(t, err)
	const so = " only when it has been so for 0.5 s: Mode at b"
	require.Equal(t, []string{"Let “Go” be on" + so}, says(cures(waits, "rule")))
	require.Equal(t, []string{"Let “Went” be on" + so}, says(cures(waits, "latch")))
	require.Equal(t, []string{"Let Legs rest while Open is on", "Let Legs move" + so}, says(cures(waits,
		"moved")))
}
