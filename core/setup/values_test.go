package setup

import (
	"strings"
	"testing"

	"github.com/stretchr/testify/require"
)

// TestFiguresAndWordsInMessages: in the fewest digits, and in sixty letters of one line.
func TestFiguresAndWordsInMessages(t *testing.T) {
	for v, want := range map[float64]string{0: "0", -5: "-5", 0.1: "0.1", 1e14: "100000000000000",
		1e15: "1e+15", -1e15: "-1e+15", 1e21: "1e+21", 1500.25: "1500.25"} {
		require.Equal(t, want, formatNumber(v))
	}
	sixty := strings.Repeat("x", 60)
	for text, want := range map[string]string{"a b": "a b", "a\tb\nc": "a b c", sixty: sixty,
		sixty + "x": sixty[:57] + "...", strings.Repeat("é", 61): strings.Repeat("é", 57) + "..."} {
		require.Equal(t, want, shorten(text))
	}
}

// TestPlacesInMessages: a JSON Pointer as people read a place.
func TestPlacesInMessages(t *testing.T) {
	for pointer, want := range map[string]string{"": "", "/outputs/2/low": "outputs[2].low", "/name": "name",
		"/a~1b/0/12/c~0d": "a/b[0][12].c~d", "/x/1a": "x.1a"} {
		require.Equal(t, want, PointerPath(pointer))
	}
	require.Equal(t, 0.02, (&Transmitter{FrameMS: 20}).FrameS())
	require.Equal(t, 1.0, (&Transmitter{FrameMS: 1000}).FrameS())
}

// TestMistakesFromBothHalves: what the fields say, and what two of them say together, are
// counted together.
func TestMistakesFromBothHalves(t *testing.T) {
	_, err := ReadYAML([]byte(head + "demands: [" + strings.Repeat("{from: 1, rate: 151}, ", 40) +
		"]\nmixes: [" + strings.Repeat("{to: nobody, from: 1}, ", 90) + "]"))
	// 2 of each demand, 1 of each mix, 100 told
	require.ErrorContains(t, err, "70 more problems; fix these first")
}
