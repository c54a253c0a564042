package words_test

import (
	"testing"

	"github.com/stretchr/testify/require"

	"axtren/core/setup"
	"axtren/core/words"
)

func TestTruthsAreSaidInWords(t *testing.T) {
	doc, err := setup.ReadYAML([]byte(`format: axtren-setup
version: 1
transmitter: {controls: [{id: key, kind: switch, label: Magnet switch, positions: [let_go, hold]}]}
logic: [{id: on, block: and, label: Lamps, in: [key.hold]}]
steppers: [{id: axle, label: Lift axle, up: key.hold, steps: [{name: down, value: -100}, {name: up, value: 100}]}]
sequences: [{id: gear, go: on, tracks: {leg: [[0, 0], [1, 100]]}}]
`))
	require.NoError(t, err)
	for written, said := range map[setup.Truth]string{
		"key.let_go": "Magnet switch at let go", "not key.hold": "Magnet switch not at hold",
		"on": "Lamps is on", "not on": "Lamps is off", "axle.up": "Lift axle at up", "not axle.up": "Lift axle not at up",
		"gear.done": "gear done", "not gear.moving": "gear not moving",
		"power_on": "the first moment after power-on", "not power_on": "any time but the first moment", "nobody.there": "nobody.there",
	} {
		require.Equal(t, said, words.Truth(doc.Setup, written))
	}
}

// TestPlacesInMessages: a JSON Pointer as people read a place.
func TestPlacesInMessages(t *testing.T) {
	for pointer, want := range map[string]string{"": "", "/outputs/2/low": "outputs[2].low", "/name": "name", "/a~1b/0/12/c~0d": "a/b[0][12].c~d", "/x/1a": "x.1a"} {
		require.Equal(t, want, PointerPath(pointer))
	}
	require.Equal(t, 0.02, (&Transmitter{FrameMS: 20}).FrameS())
	require.Equal(t, 1.0, (&Transmitter{FrameMS: 1000}).FrameS())
}

// TestMistakesFromBothHalves: what the fields say, and what two of them say together, are
// counted together.
func TestMistakesFromBothHalves(t *testing.T) {
	_, err := ReadYAML([]byte(head + "demands: [" + strings.Repeat("{from: 1, rate: 151}, ", 40) + "]\nmixes: [" + strings.Repeat("{to: nobody, from: 1}, ", 90) + "]"))
	require.ErrorContains(t, err, "and more of the like (it is 70)") // 2 of each demand, 1 of each mix, 100 told
}
