package setup

import (
	"fmt"
	"os"
	"path/filepath"
	"slices"
	"strings"
	"testing"

	"github.com/stretchr/testify/require"
)

// TestReferencesAreFound holds the list against the text itself: every text of
// the worked examples and the demo that names a part of its document.
func TestReferencesAreFound(t *testing.T) {
	paths, err := filepath.Glob("../signal/testdata/cases/*/setup.json")
	require.NoError(t, err)
	demos, err := filepath.Glob("../../demo/*.yaml")
	require.NoError(t, err)
	for _, path := range append(paths, demos...) {
		text, err := os.ReadFile(path)
		require.NoError(t, err)
		doc, err := ReadYAML(text)
		require.NoError(t, err)
		var found, named []string
		for _, r := range doc.Setup.Graph().References {
			if r.Role == Carries {
				continue // a channel's number says it
			}
			n := doc.Tree.At(PointerParts(r.Pointer)...)
			require.NotNil(t, n, "%s: %s", path, r.Pointer)
			require.Equal(t, n.Text, r.Text)
			require.NotZero(t, doc.Setup.Item(r.ID).Kind, "%s: %s", path, r.Pointer)
			found = append(found, r.Pointer)
		}
		// labels and notes, and names that a part gives to its own steps, are no references
		own := []string{"id", "label", "notes", "say", "type", "kind", "block", "name", "plus", "minus", "what",
			"start", "spring_to", "is", "stick", "form"}
		picture := []string{"part", "on", "word", "gives", "view", "shape"} // of a part of the stage
		var walk func(n *Node, pointer string)
		walk = func(n *Node, pointer string) {
			key := pointer[strings.LastIndexByte(pointer, '/')+1:]
			if strings.HasPrefix(pointer, "/stage/") && slices.Contains(picture, key) {
				return
			}
			if n.Kind == Text && !slices.Contains(own, key) && !strings.Contains(pointer, "/positions/") &&
				!strings.Contains(pointer, "/can/") {
				id, _, _ := strings.Cut(strings.TrimPrefix(n.Text, "not "), ".")
				if doc.Setup.Item(ID(id)).Kind != 0 {
					named = append(named, pointer)
				}
			}
			for i, item := range n.Items {
				step := fmt.Sprint(i)
				if n.Kind == Map {
					step = n.Keys[i]
				}
				walk(item, pointer+"/"+step)
			}
		}
		walk(doc.Tree, "")
		slices.Sort(found)
		slices.Sort(named)
		require.Equal(t, named, found, path)
	}
}

func TestRenamed(t *testing.T) {
	require.Equal(t, "not gear.up", (&Reference{ID: "deck", Text: "not deck.up"}).Renamed("gear"))
	require.Equal(t, "gear", (&Reference{ID: "deck", Text: "deck"}).Renamed("gear"))
}
