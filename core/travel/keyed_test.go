package travel

import (
	"testing"

	"github.com/stretchr/testify/require"

	"axtren/core/setup"
)

func read(t *testing.T, can, output string) *setup.Setup {
	doc, err := setup.ReadYAML([]byte(`
format: axtren-setup
version: 1
transmitter:
  controls: [{id: drive, kind: axis, stick: right, along: y, plus: forward, minus: back}]
  can: {` + can + `}
demands: [{id: soft, from: drive}]
mixes: [{to: o, from: soft, gain: 90}]
outputs: [{id: o, channel: 1, low: -96, high: 94, ` + output + `}]`))
	require.NoError(t, err)
	return doc.Setup
}

// TestKeyedEnds is worked by hand: a reversed channel swaps what is typed only
// where the set counts an end on the side of the stick.
func TestKeyedEnds(t *testing.T) {
	for _, c := range []struct {
		can, output string
		want        [2]KeyedEnd
	}{
		{"", "", [2]KeyedEnd{{"high", "servo high side", 94, 94}, {"low", "servo low side", 96, -96}}},
		{"endpoint_follows: servo", "reverse: true", [2]KeyedEnd{{"high", "servo high side", 94, 94}, {"low", "servo low side", 96, -96}}},
		{"endpoint_follows: stick", "", [2]KeyedEnd{{"high", "stick forward", 94, 94}, {"low", "stick back", 96, -96}}},
		{"endpoint_follows: stick", "reverse: true", [2]KeyedEnd{{"low", "stick forward", 96, -96}, {"high", "stick back", 94, 94}}},
		{"endpoint_from: centre", "centre: 10", [2]KeyedEnd{{"high", "servo high side", 84, 94}, {"low", "servo low side", 106, -96}}},
	} {
		require.Equal(t, c.want, KeyedEnds(read(t, c.can, c.output), 0), "%s, %s", c.can, c.output)
	}
}
