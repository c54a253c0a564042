package golden

import (
	"testing"

	"github.com/stretchr/testify/require"

	"axtren/core/setup"
)

// TestEverythingHasEachKind: a kind that is added has its place here too.
func TestEverythingHasEachKind(t *testing.T) {
	s := Models(t)[0].Doc.Setup
	kinds := map[string]bool{}
	for _, b := range s.Logic {
		kinds[b.Block] = true
	}
	require.Len(t, kinds, 14, "kinds of block")
	kinds = map[string]bool{}
	for _, d := range s.Devices {
		kinds[d.Kind] = true
	}
	require.Subset(t, kinds, map[string]bool{"servo": true, "esc": true, "relay": true, "lamp": true,
		"sound_trigger": true, "step_box": true, "leveller": true})
	kinds = map[string]bool{}
	for _, m := range s.Mixes {
		kinds[m.Combine], kinds[m.Shape] = true, true
	}
	require.Len(t, kinds, 9, "ways to combine, and shapes")
	require.IsType(t, setup.Setup{}, *s)
}

func TestTextSaysWhatSaysAnything(t *testing.T) {
	v := map[string]any{"a": 1, "b": "", "c": []any{1, "x", 0},
		"d": map[string]any{"e": map[string]any{"f": 2.5}}, "g": []any{map[string]any{}, nil}}
	require.Equal(t, "  a: 1\n  c: 1; x\n  d: e: f: 2.5\n  g:\n    -:\n", Text(t, v))
}
