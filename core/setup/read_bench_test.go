package setup

import (
	"os"
	"testing"

	"github.com/stretchr/testify/require"
)

// BenchmarkRead is what a document costs to read when nothing of it is known yet, and its parts.
func BenchmarkRead(b *testing.B) {
	text, err := os.ReadFile("../../demo/marram.yaml")
	require.NoError(b, err)
	doc, err := ReadYAML(text)
	require.NoError(b, err)
	kept := doc.Tree.JSON()
	for _, one := range []struct {
		name string
		work func() error
	}{
		{"JSON", func() error { _, err := ReadJSON(kept); return err }},
		{"YAML", func() error { _, err := ReadYAML(text); return err }},
		{"JSON as a tree", func() error { _, ps := ParseJSON(kept); require.Empty(b, ps); return nil }},
		{"tree", func() error { _, err := FromTree(doc.Tree); return err }},
		{"print as YAML", func() error { require.NotEmpty(b, doc.Tree.YAML()); return nil }},
	} {
		b.Run(one.name, func(b *testing.B) {
			b.SetBytes(int64(len(kept)))
			for b.Loop() {
				require.NoError(b, one.work())
			}
		})
	}
}
