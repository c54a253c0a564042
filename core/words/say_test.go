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
steppers: [{id: axle, label: Lift axle, up: key.hold, steps: [{name: down, value: -100},
    {name: up, value: 100}]}]
sequences: [{id: gear, go: on, tracks: {leg: [[0, 0], [1, 100]]}}]
`))
	require.NoError(t, err)
	for written, said := range map[setup.Truth]string{
		"key.let_go": "Magnet switch at let go", "not key.hold": "Magnet switch not at hold",
		"on": "Lamps is on", "not on": "Lamps is off", "axle.up": "Lift axle at up",
		"not axle.up": "Lift axle not at up",
		"gear.done":   "Sequence 1 done", "not gear.moving": "Sequence 1 not moving",
		"power_on": "the first moment after power-on", "not power_on": "any time but the first moment",
		"nobody.there": "nobody.there",
	} {
		require.Equal(t, said, words.Truth(doc.Setup, written))
	}
}

// TestEveryKindHasWords: what the format can say, a person can read.
func TestEveryKindHasWords(t *testing.T) {
	lists := map[string]bool{}
	for kind := setup.IsControl; kind <= setup.IsShare; kind++ {
		list := setup.ListOf(kind)
		require.True(t, words.IsPart(list), list)
		require.NotEmpty(t, words.Of(list).Many, list)
		lists[list] = true
	}
	require.Len(t, words.Parts, len(lists))
	require.False(t, words.IsPart("craft"))
	kinds := func(list []words.Kind) []string {
		var keys []string
		names := map[string]string{}
		for _, k := range list {
			require.NotEmpty(t, k.Name)
			require.Empty(t, names[k.Name], "%s is called as %s is", k.Key, names[k.Name])
			names[k.Name], keys = k.Key, append(keys, k.Key)
		}
		return keys
	}
	require.Equal(t, setup.Blocks.Keys(), kinds(words.Kinds("logic")))
	require.Equal(t, setup.Devices.Keys(), kinds(words.Kinds("devices")))
	for field, ways := range map[string][]words.Way{"combine": words.Combines, "shape": words.Shapes,
		"rule": words.Rules} {
		of := map[string]any{"combine": setup.Mix{}, "shape": setup.Mix{}, "rule": setup.Share{}}[field]
		for _, f := range setup.Fields(of) {
			if f.Name != field {
				continue
			}
			var keys []string
			for _, w := range ways {
				require.Equal(t, w.Name, words.Choice(field, w.Key))
				keys = append(keys, w.Key)
			}
			require.Equal(t, f.Choices, keys)
		}
	}
}

// TestWordsForWhatHasNone: it is said as it is written.
func TestWordsForWhatHasNone(t *testing.T) {
	require.Equal(t, "large thing", words.Of("large_thing").Name)
	require.Equal(t, "large thing", words.Field("large_thing"))
	require.Equal(t, "very large", words.Choice("size", "very_large"))
	require.Equal(t, "centre", words.Field("centre_us", "pulse."))
	require.Equal(t, "is on while", words.Field("in"))
	require.Equal(t, []string{"normal", "reversed"}, []string{words.Reversed(false), words.Reversed(true)})
}

// TestTheFirstLetterOfAText: also where it takes more than a byte, and where there is none.
func TestTheFirstLetterOfAText(t *testing.T) {
	require.Equal(t, "échelle Deux", words.Small("Échelle Deux"))
	require.Equal(t, "Échelle", words.Capital("échelle"))
	require.Equal(t, "", words.Small("")+words.Capital(""))
}
