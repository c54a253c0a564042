package words_test

import (
	"testing"

	"github.com/stretchr/testify/require"

	"axtren/core/setup"
	"axtren/core/words"
)

// TestSourcesAreSaidInWords, by their labels, else by what they do.
func TestSourcesAreSaidInWords(t *testing.T) {
	doc, err := setup.ReadYAML([]byte(`format: axtren-setup
version: 1
transmitter: {controls: [{id: helm, kind: axis, label: "Right stick, right"},
    {id: key, kind: switch, positions: [a, b]}]}
demands: [{id: soft_helm, from: helm}]
logic: [{id: on, block: and, label: Lamps, in: [key.b]}]
steppers: [{id: axle, label: Lift axle, up: key.b, steps: [{name: down, value: -100},
    {name: up, value: 100}]}]
sequences: [{id: gear, label: Unfold, go: on, tracks: {left_leg: [[0, 0], [1, 100]]}}]
patterns: [{id: blink, when: on, steps: [[100, 1]]}]
outputs: [{id: boom, label: Boom, channel: 1}]
`))
	require.NoError(t, err)
	for ref, said := range map[string]string{"helm": "Right stick, right", "key": "Switch 1",
		"soft_helm": "Feel of Right stick, right", "on": "Lamps", "axle": "Lift axle",
		"gear.left_leg": "Unfold, left leg",
		"blink":         "Pattern 1", "boom.asked": "Boom as asked", "nobody": "nobody", "boom": "boom"} {
		require.Equal(t, said, words.Source(doc.Setup, setup.Value{Ref: ref}), ref)
	}
	require.Equal(t, "−20", words.Source(doc.Setup, setup.Value{Number: -20}))
	require.Equal(t, "35", words.Source(doc.Setup, setup.Value{Number: 35}))
}
