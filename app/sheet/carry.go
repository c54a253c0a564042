package sheet

import (
	_ "embed" // the page
	"encoding/json"
	"fmt"
	"html"
	"io"
	"strings"

	"axtren/core/sheet"
)

var (
	//go:embed carry/carry.css
	carryStyle string
	//go:embed carry/carry.js
	carryScript string
	// what the page of a sheet and that of a walk share
	//go:embed carry/code.js
	codeScript string
	//go:embed vendor/qrcode.js
	qrScript string
)

// given is what a carried sheet holds.
type given struct {
	Model    string       `json:"model"`
	Revision int          `json:"revision"`
	Since    int          `json:"since"`
	Mark     uint16       `json:"mark"`
	Sheet    *sheet.Sheet `json:"sheet"`
	Fitted   *Fitted      `json:"fitted"` // what stands at the model
}

// Carry writes a sheet as one file that opens on a phone without any network, and
// keeps what is ticked in it; after the sheet stands what is at the model.
func Carry(w io.Writer, sh *sheet.Sheet, fitted *Fitted, model string, revision int) error {
	// writes < as \u003c
	data, err := json.Marshal(given{model, revision, sh.Since, Mark(model, Things(sh)), sh, fitted})
	if err != nil {
		return fmt.Errorf("writing the sheet: %w", err)
	}
	return carried(w, sh.Name+", what to key in", data, carryScript)
}

// carried writes a page that needs nothing but itself: what it is given, and the script that draws it.
func carried(w io.Writer, title string, data []byte, script string) error {
	var b strings.Builder
	b.WriteString("<!doctype html>\n<html lang=\"en\">\n<head>\n<meta charset=\"utf-8\">\n<meta " +
		"name=\"viewport\" content=\"width=device-width, initial-scale=1\">\n")
	b.WriteString("<meta http-equiv=\"Content-Security-Policy\" content=\"default-src 'none'; style-src " +
		"'unsafe-inline'; script-src 'unsafe-inline'\">\n")
	fmt.Fprintf(&b,
		"<title>%s</title>\n<style>\n%s</style>\n</head>\n<body>\n<main></main>\n",
		html.EscapeString(title), carryStyle)
	fmt.Fprintf(&b,
		"<script type=\"application/json\" "+
			"id=\"given\">%s</script>\n<script>\n%s</script>\n<script>\n%s</script>\n</body>\n</html>\n",
		data, qrScript+codeScript, script)
	if _, err := io.WriteString(w, b.String()); err != nil {
		return fmt.Errorf("writing the file: %w", err)
	}
	return nil
}
