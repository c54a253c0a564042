package sheet

import (
	"embed"
	"fmt"
	"strings"
)

//go:embed fonts/*.licence.txt
var licences embed.FS

// FontLicences gives the licences of the fonts that are shipped, in the pages and in
// sheets, as text.
func FontLicences() string {
	var b strings.Builder
	for _, of := range []struct{ file, fonts string }{
		{"atkinson-hyperlegible", "Atkinson Hyperlegible Next and Mono: the type of the pages and of sheets"},
		{"dejavu", "DejaVu Sans Condensed: sheets on paper with letters beyond western Europe"},
	} {
		text, err := licences.ReadFile("fonts/" + of.file + ".licence.txt")
		if err != nil {
			continue // it is embedded: the build would have failed
		}
		fmt.Fprintf(&b, "%s\n%s\n\n%s\n\n", of.fonts, strings.Repeat("=", len(of.fonts)),
			strings.TrimSpace(string(text)))
	}
	return b.String()
}
