package setup

import (
	"strings"
	"testing"

	"github.com/stretchr/testify/require"
)

// TestFiguresAndWordsInMessages: in the fewest digits, and in sixty letters of one line.
func TestFiguresAndWordsInMessages(t *testing.T) {
	for v, want := range map[float64]string{0: "0", -5: "-5", 0.1: "0.1", 1e14: "100000000000000", 1e15: "1e+15", -1e15: "-1e+15", 1e21: "1e+21", 1500.25: "1500.25"} {
		require.Equal(t, want, formatNumber(v))
	}
	sixty := strings.Repeat("x", 60)
	for text, want := range map[string]string{"a b": "a b", "a\tb\nc": "a b c", sixty: sixty, sixty + "x": sixty[:57] + "...", strings.Repeat("é", 61): strings.Repeat("é", 57) + "..."} {
		require.Equal(t, want, shorten(text))
	}
}
