package setup

import (
	"testing"

	"github.com/stretchr/testify/require"
)

func TestTruthsAreSaidInWords(t *testing.T) {
	doc, err := ReadYAML([]byte(`format: axtren-setup
version: 1
transmitter: {controls: [{id: key, kind: switch, label: Magnet switch, positions: [let_go, hold]}]}
logic: [{id: on, block: and, label: Lamps, in: [key.hold]}]
steppers: [{id: axle, label: Lift axle, up: key.hold, steps: [{name: down, value: -100}, {name: up, value: 100}]}]
sequences: [{id: gear, go: on, tracks: {leg: [[0, 0], [1, 100]]}}]
`))
	require.NoError(t, err)
	for written, said := range map[Truth]string{
		"key.let_go": "Magnet switch at let go", "not key.hold": "Magnet switch not at hold",
		"on": "Lamps is on", "not on": "Lamps is off", "axle.up": "Lift axle at up", "not axle.up": "Lift axle not at up",
		"gear.done": "gear done", "not gear.moving": "gear not moving",
		"power_on": "the first moment after power-on", "not power_on": "any time but the first moment", "nobody.there": "nobody.there",
	} {
		require.Equal(t, said, doc.Setup.TruthWords(written))
	}
}
