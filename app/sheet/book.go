package sheet

import (
	"encoding/csv"
	"fmt"
	"io"
	"strings"
	"time"

	"axtren/core/sheet"
)

// LogRow is one thing that happened to a model.
type LogRow struct {
	At       time.Time
	Revision int
	Kind     string
	Head     string
	More     []string
	Part     string
	Was      string
	Becomes  string
	Minutes  int
	Battery  string
}

// LogCSV writes what happened as comma-separated values (RFC 4180), times in UTC (RFC 3339).
func LogCSV(w io.Writer, rows []LogRow) error {
	c := csv.NewWriter(w)
	c.UseCRLF = true
	list := [][]string{{"at", "revision", "kind", "what", "more", "part", "was", "now", "minutes", "battery"}}
	for _, row := range rows {
		minutes := ""
		if row.Minutes > 0 {
			minutes = fmt.Sprint(row.Minutes)
		}
		list = append(list, []string{row.At.UTC().Format(time.RFC3339), fmt.Sprint(row.Revision), row.Kind,
			plain(row.Head), plain(strings.Join(row.More, "\n")), plain(row.Part), plain(row.Was), plain(row.Becomes),
			minutes, plain(row.Battery)})
	}
	if err := c.WriteAll(list); err != nil {
		return fmt.Errorf("writing the log: %w", err)
	}
	return nil
}

// Book is everything of a model on paper.
type Book struct {
	Sheet    *sheet.Sheet
	Fitted   *Fitted
	Walk     *WalkSheet // the newest that was signed; nil: there is none
	Totals   []string   // how long it was run
	Values   []string   // what was set with programs of their own
	Log      []LogRow   // the oldest first
	Text     string     // the document
	Revision int
}

// mostInBook bounds what happened that a book has; the newest are in it.
const mostInBook = 2000

// PDF writes the book on A4.
func (b *Book) PDF(w io.Writer) error {
	p := papers["A4"]
	p.text, p.line = 9.5, 4.4
	texts := append(append([]placed{}, texts(b.Sheet)...), b.Fitted.texts()...)
	if b.Walk != nil {
		texts = append(texts, b.Walk.texts()...)
	}
	rows := b.Log[max(len(b.Log)-mostInBook, 0):]
	for _, row := range rows {
		texts = append(texts, placed{row.Head, "what happened"}, placed{strings.Join(row.More, " "),
			"what happened"})
	}
	for _, text := range append(append([]string{b.Text}, b.Totals...), b.Values...) {
		texts = append(texts, placed{text, "the document"})
	}
	d := begin(p, texts, b.Sheet.Name, "the whole of it", b.Revision)
	if lost := d.lost(texts); lost != "" {
		d.words("B", lost)
	}
	d.part("What to key in")
	d.sheet(b.Sheet, b.Revision)
	d.part("What goes where")
	d.fitted(b.Fitted)
	if b.Walk != nil {
		d.part("How it was tried")
		d.walk(b.Walk)
	}
	d.part("What happened")
	for _, line := range b.Totals {
		d.words("", line)
	}
	d.list("Set with programs of their own", b.Values)
	if len(rows) < len(b.Log) {
		d.words("", fmt.Sprintf("The newest %d of %d; the others are in the table that Log exports.", len(rows),
			len(b.Log)))
	}
	for i := range rows {
		d.happened(&rows[i])
	}
	d.part("The document")
	d.f.SetFont("text", "", 7.5)
	d.f.MultiCell(0, 3.2, d.plain(b.Text), "", "L", false)
	if err := d.f.Output(w); err != nil {
		return fmt.Errorf("writing the PDF: %w", err)
	}
	return nil
}

// part begins a part of the book, on a page of its own but for the first.
func (d *drawer) part(title string) {
	if d.f.GetY() > d.p.margin+20 {
		d.f.AddPage()
	}
	d.heading(d.p.head+2, title)
}

// happened sets one thing that happened.
func (d *drawer) happened(row *LogRow) {
	const day, number = 22, 12
	d.room(2 * d.p.line)
	x, y := d.f.GetXY()
	d.f.Line(x, y, x+d.width(), y)
	d.f.SetFont("text", "", d.p.text-1)
	d.f.CellFormat(day, d.p.line+0.6, row.At.Format("2 Jan 2006"), "", 0, "L", false, 0, "")
	d.f.CellFormat(number, d.p.line+0.6, fmt.Sprint(row.Revision), "", 0, "R", false, 0, "")
	for k, line := range append([]string{row.Head}, row.More...) {
		style := "B"
		if k > 0 {
			style = ""
		}
		d.f.SetFont("text", style, d.p.text)
		d.f.SetX(x + day + number + 4)
		d.f.MultiCell(d.width()-day-number-4, d.p.line, d.plain(line), "", "L", false)
	}
	d.f.SetX(x)
}
