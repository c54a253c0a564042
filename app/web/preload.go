package web

import (
	"encoding/json"
	"fmt"
	"io/fs"
	"strings"

	"axtren/core/setup"
)

// built is what the front end's build says of one of its modules.
type built struct {
	File    string   `json:"file"`
	Imports []string `json:"imports"`
	CSS     []string `json:"css"`
}

// manifest is what the front end's build says of its modules, by their source.
type manifest map[string]built

// readManifest gives an empty one where the pages are not built.
func readManifest(files fs.FS) (manifest, error) {
	text, err := fs.ReadFile(files, "manifest.json")
	if err != nil {
		return nil, nil
	}
	var m manifest
	if err := json.Unmarshal(text, &m); err != nil {
		return nil, fmt.Errorf("manifest.json of the built pages: %w", err)
	}
	return m, nil
}

// entry is the module with which every page begins, and which its own text names.
const entry = "index.html"

// links gives the HTML that has a browser fetch what a place needs together with the page itself,
// and not only once the page's script asks for it.
func (m manifest) links(path string) string {
	var named, b strings.Builder
	seen := map[string]bool{}
	m.write(&named, entry, seen) // by the page's own text
	for _, source := range sources(path) {
		m.write(&b, source, seen)
	}
	return b.String()
}

// write writes the links of a module and of all that it imports, but for what was seen.
func (m manifest) write(b *strings.Builder, source string, seen map[string]bool) {
	one, ok := m[source]
	if !ok || seen[source] {
		return
	}
	seen[source] = true
	for _, other := range one.Imports {
		m.write(b, other, seen)
	}
	fmt.Fprintf(b, `<link rel="modulepreload" crossorigin href="/%s">`, one.File)
	for _, css := range one.CSS {
		if !seen[css] {
			seen[css] = true
			fmt.Fprintf(b, `<link rel="stylesheet" crossorigin href="/%s">`, css)
		}
	}
}

// sources gives the modules that draw what is at an address: the list of models, or the frame of
// a model and one of its places.
func sources(path string) []string {
	parts := strings.Split(strings.Trim(path, "/"), "/")
	switch {
	case parts[0] == "":
		return []string{"src/places/YardPlace.vue"}
	case parts[0] != "models" || len(parts) < 2:
		return nil
	case len(parts) == 2:
		parts = append(parts, "functions")
	}
	return []string{"src/places/ModelPlaces.vue", "src/places/" + setup.Capital(parts[2]) + "Place.vue"}
}
