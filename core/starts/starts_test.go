package starts

import (
	"testing"

	"github.com/stretchr/testify/require"

	"axtren/core/check"
	"axtren/core/signal"
)

// TestEveryStartIsSound: it plays, and a check finds no error and no warning in it.
func TestEveryStartIsSound(t *testing.T) {
	for _, k := range Kinds() {
		doc, err := Start(k.Kind)
		require.NoError(t, err, k.Kind)
		require.Equal(t, k.Kind, doc.Setup.Craft.Kind)
		require.Equal(t, map[string]string{"boat": "New boat", "tracked": "New tracked model",
			"car": "New car", "truck": "New truck", "construction": "New construction machine",
			"submarine": "New submarine", "amphibian": "New amphibian",
			"other": "New model"}[k.Kind], doc.Setup.Name)
		p, err := signal.Compile(doc.Setup)
		require.NoError(t, err)
		for _, f := range check.Check(p).Findings {
			require.Equal(t, check.Note, f.Severity, "%s: %s", k.Kind, f.Message)
		}
	}
	_, err := Start("spacecraft")
	require.ErrorContains(t, err, "no kind of craft")
}
