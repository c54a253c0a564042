// Package sheet writes sheets as files.
package sheet

import (
	"encoding/csv"
	"fmt"
	"io"
	"strings"
	"unicode"
	"unicode/utf8"

	"axtren/core/sheet"
)

// CSV writes a sheet as comma-separated values (RFC 4180), one row for each
// thing to key in.
func CSV(w io.Writer, sh *sheet.Sheet) error {
	c := csv.NewWriter(w)
	c.UseCRLF = true
	rows := [][]string{{"section", "channel", "what", "value", "us", "note"},
		{"Who decides", "", sh.Defer, "", "", ""}}
	if sh.Saves != "" {
		rows = append(rows, []string{"How this transmitter keeps a change", "", plain(sh.Saves), "", "", ""})
	}
	if sh.Only != "" {
		rows = append(rows, []string{"What it has", "", sh.Only, "", "", ""})
	}
	if sh.Cuts != "" {
		rows = append(rows, []string{"The signal meanwhile", "", sh.Cuts, "", "", ""})
	}
	for _, sec := range sh.Sections {
		if sec.Caution != "" {
			rows = append(rows, []string{sec.Title, "", "Caution: " + sec.Caution, "", "", ""})
		}
		for _, it := range sec.Items {
			channel := ""
			if it.Channel > 0 {
				channel = fmt.Sprint(it.Channel)
			}
			rows = append(rows, []string{plain(sec.Title), channel, plain(it.What), plain(it.Value), it.US,
				plain(it.Note)})
		}
	}
	if err := c.WriteAll(rows); err != nil {
		return fmt.Errorf("writing the sheet: %w", err)
	}
	return nil
}

// plain makes a cell that a spreadsheet takes for what it is: an ASCII minus,
// and no text that it would run as a formula. What stands before a formula does not
// hide it: some programs cut blanks and line ends, and read full-width signs.
func plain(s string) string {
	s = strings.ReplaceAll(s, "−", "-")
	first := strings.TrimLeftFunc(s, func(r rune) bool {
		return unicode.IsSpace(r) || unicode.IsControl(r) ||
			unicode.Is(unicode.Cf, r)
	})
	begins, _ := utf8.DecodeRuneInString(first)
	if strings.ContainsRune("=+-@|%＝＋－＠", begins) && !isNumber(s) || s != first &&
		strings.ContainsAny(s[:len(s)-len(first)], "\t\r\n") {
		return "'" + s
	}
	return s
}

func isNumber(s string) bool {
	return s != "" && strings.Trim(s, "+-.0123456789") == ""
}
