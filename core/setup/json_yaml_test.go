package setup

import (
	"testing"

	"github.com/stretchr/testify/require"
)

// TestADirectiveOfVersionOneTwo may stand before the document, as YAML 1.2.2, chapter
// 6.8.1, has it; lines are counted with it.
func TestADirectiveOfVersionOneTwo(t *testing.T) {
	for _, good := range []string{
		"%YAML 1.2\n---\nformat: axtren-setup\nversion: 1\n",
		"\ufeff%YAML 1.2\n---\nformat: axtren-setup\nversion: 1\n",
		"# a note\n\n%YAML 1.2   # core\r\n---\nformat: axtren-setup\nversion: 1.0\n",
		"---\nformat: axtren-setup\nversion: 1\n",
	} {
		_, err := ReadYAML([]byte(good))
		require.NoError(t, err, "%q", good)
	}
	_, err := ReadYAML([]byte("%YAML 1.2\n---\nformat: axtren-setup\nversion: 2\n"))
	var ps Problems
	require.ErrorAs(t, err, &ps)
	require.Equal(t, 4, ps[0].Line)
	for _, bad := range []string{"%YAML 1.3\n---\nformat: axtren-setup\nversion: 1\n",
		"%YAML 1.2\nformat: axtren-setup\nversion: 1\n", "name: |\n  %YAML 1.2\n---\n---\n"} {
		_, err := ReadYAML([]byte(bad))
		require.Error(t, err, "%q", bad)
	}
}

// TestOneIsOneInBothFormats, however it is written.
func TestOneIsOneInBothFormats(t *testing.T) {
	for _, one := range []string{"1", "1.0", "1e0"} {
		_, err := ReadYAML([]byte("format: axtren-setup\nversion: " + one + "\n"))
		require.NoError(t, err, one)
		_, err = ReadJSON([]byte(`{"format":"axtren-setup","version":` + one + `}`))
		require.NoError(t, err, one)
	}
	for _, none := range []string{"1.5", "2", `"1"`} {
		_, err := ReadYAML([]byte("format: axtren-setup\nversion: " + none + "\n"))
		require.Error(t, err, none)
		_, err = ReadJSON([]byte(`{"format":"axtren-setup","version":` + none + `}`))
		require.Error(t, err, none)
	}
}
