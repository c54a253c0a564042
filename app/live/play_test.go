package live

import (
	"os"
	"testing"

	"github.com/stretchr/testify/require"

	"axtren/core/setup"
)

func docOf(t testing.TB) *setup.Document {
	text, err := os.ReadFile("../../demo/stoat.yaml")
	require.NoError(t, err)
	doc, err := setup.ReadYAML(text)
	require.NoError(t, err)
	return doc
}
