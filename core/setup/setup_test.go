package setup

import (
	"os"
	"path/filepath"
	"testing"

	"github.com/stretchr/testify/require"
)

// worked are the worked examples that the engine is checked against.
const worked = "../signal/testdata/cases/*/setup.json"

func examples(t *testing.T) map[string][]byte {
	paths, err := filepath.Glob(worked)
	require.NoError(t, err)
	require.NotEmpty(t, paths)
	texts := map[string][]byte{}
	for _, path := range paths {
		text, err := os.ReadFile(path)
		require.NoError(t, err)
		texts[filepath.Base(filepath.Dir(path))] = text
	}
	return texts
}

func TestRoundTripKeepsEverything(t *testing.T) {
	for name, text := range examples(t) {
		t.Run(name, func(t *testing.T) {
			doc, err := ReadJSON(text)
			require.NoError(t, err)
			viaYAML, err := ReadYAML(doc.Tree.YAML())
			require.NoError(t, err, "%s", doc.Tree.YAML())
			require.True(t, doc.Tree.Equal(viaYAML.Tree), "YAML:\n%s", doc.Tree.YAML())
			back, err := ReadJSON(viaYAML.Tree.JSON())
			require.NoError(t, err)
			require.Equal(t, doc.Tree.JSON(), back.Tree.JSON(), "text, order of keys and lists included")
			require.Equal(t, doc.Setup, back.Setup)
		})
	}
}
