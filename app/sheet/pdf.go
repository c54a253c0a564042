package sheet

import (
	_ "embed" // the fonts
	"fmt"
	"io"
	"strings"

	"github.com/go-pdf/fpdf"

	"axtren/core/sheet"
)

// Atkinson Hyperlegible Next has the letters of western Europe; a sheet with any
// other is set in DejaVu Sans Condensed, so that no label is lost. docs/licences.md.
var (
	//go:embed fonts/regular.ttf
	regular []byte
	//go:embed fonts/bold.ttf
	bold []byte
	//go:embed fonts/wide-regular.ttf
	wideRegular []byte
	//go:embed fonts/wide-bold.ttf
	wideBold []byte
)

// paper is a size of paper with what fits on it: millimetres and points.
type paper struct {
	size          string
	margin        float64
	text, head    float64
	line          float64
	channel, us   float64 // widths of the columns
	value, tick   float64
	ticks, noteIn bool // boxes to tick; the note in its own column, else below
	sentences     bool // several figures are one thing: they need width, and notes stand below
}

var papers = map[string]paper{
	"A4": {size: "A4", margin: 16, text: 10.5, head: 13, line: 5.2, channel: 9, value: 26, us: 16, tick: 13,
		ticks: true, noteIn: true},
	"A4 short": {size: "A4", margin: 10, text: 9.2, head: 10.5, line: 4.1, channel: 7, value: 105, us: 10,
		tick: 9.5, ticks: true, sentences: true},
	"A6": {size: "A6", margin: 7, text: 8.5, head: 10.5, line: 4, channel: 7, value: 18, us: 13, tick: 0},
}

// PDF writes a sheet on A4, with boxes to tick, or on A6, to fold into a pocket.
// revision is 0 where the sheet is of no kept model.
func PDF(w io.Writer, sh *sheet.Sheet, size string, revision int) error {
	p, ok := papers[size]
	if short, has := papers[size+" short"]; sh.Short && has {
		p = short
	}
	if !ok || strings.Contains(size, " ") {
		return fmt.Errorf("there is no paper %q, only A4 and A6", size)
	}
	d := begin(p, texts(sh), sh.Name, "what to key in", revision)
	d.sheet(sh, revision)
	if err := d.f.Output(w); err != nil {
		return fmt.Errorf("writing the PDF: %w", err)
	}
	return nil
}

// sheet sets what to key in.
func (d *drawer) sheet(sh *sheet.Sheet, revision int) {
	about := []string{}
	for _, one := range []string{sh.About, sh.Set, strings.TrimSuffix(revisionWords(revision), ", ")} {
		if one != "" {
			about = append(about, one)
		}
	}
	d.words("", strings.Join(about, " · "))
	if sh.Only != "" {
		d.words("B", sh.Only)
	}
	d.words("", sh.Defer)
	if sh.Saves != "" {
		d.words("", "This transmitter keeps a change: "+sh.Saves+".")
	}
	if sh.Cuts != "" {
		d.words("", sh.Cuts)
	}
	if lost := d.lost(texts(sh)); lost != "" {
		d.words("B", lost)
	}
	for _, sec := range sh.Sections {
		d.section(sec)
	}
}

// begin starts the pages of a model on a paper, set in a face for the texts that stand on them.
func begin(p paper, texts []placed, name, what string, revision int) *drawer {
	f := fpdf.New("P", "mm", p.size, "")
	f.SetMargins(p.margin, p.margin, p.margin)
	f.SetAutoPageBreak(true, p.margin+4)
	face, letters := faceFor(texts)
	f.AddUTF8FontFromBytes("text", "", face.regular)
	f.AddUTF8FontFromBytes("text", "B", face.bold)
	f.SetTitle(name+", "+what, true)
	f.AliasNbPages("{pages}")
	f.SetFooterFunc(func() {
		f.SetY(-p.margin)
		f.SetFont("text", "", p.text-1.5)
		f.CellFormat(0, 4, fmt.Sprintf("%s, %spage %d of {pages}", letters.plain(name),
			revisionWords(revision), f.PageNo()), "", 0, "C", false, 0, "")
	})
	f.AddPage()
	d := &drawer{f, p, letters}
	d.heading(p.head+4, name+", "+what)
	return d
}

func revisionWords(revision int) string {
	if revision == 0 {
		return ""
	}
	return fmt.Sprintf("revision %d, ", revision)
}

type drawer struct {
	f *fpdf.Fpdf
	p paper
	*setter
}

func (d *drawer) width() float64 {
	w, _ := d.f.GetPageSize()
	return w - 2*d.p.margin
}

func (d *drawer) heading(size float64, words string) {
	d.f.SetFont("text", "B", size)
	d.f.MultiCell(0, size*0.45, d.plain(words), "", "L", false)
	d.f.Ln(1)
}

func (d *drawer) words(style, words string) {
	d.f.SetFont("text", style, d.p.text)
	d.f.MultiCell(0, d.p.line, d.plain(words), "", "L", false)
}

// room starts a new page where less than h millimetres are left.
func (d *drawer) room(h float64) {
	_, height := d.f.GetPageSize()
	if d.f.GetY()+h > height-d.p.margin-6 {
		d.f.AddPage()
	}
}

func (d *drawer) section(sec sheet.Section) {
	d.room(4 * d.p.line)
	d.f.Ln(d.p.line / 2.5)
	if d.p.ticks {
		y := d.f.GetY()
		d.f.SetFont("text", "", d.p.text-2.7)
		d.f.SetX(d.p.margin + d.width() - 3*d.p.tick)
		for _, head := range []string{"keyed", "read back", "seen"} {
			d.f.CellFormat(d.p.tick, d.p.line, head, "", 0, "C", false, 0, "")
		}
		d.f.SetXY(d.p.margin, y)
	}
	d.heading(d.p.head, sec.Title)
	if sec.Caution != "" {
		d.caution([]string{sec.Caution})
	}
	if sec.Note != "" {
		d.words("", sec.Note)
	}
	for _, it := range sec.Items {
		d.item(it)
	}
}

// caution sets what can hurt, in a frame, each on a line of its own.
func (d *drawer) caution(says []string) {
	lines := make([]string, len(says))
	for i, line := range says {
		lines[i] = d.plain(line)
	}
	d.f.SetFont("text", "B", d.p.text)
	d.f.SetDrawColor(179, 38, 30)
	d.f.SetLineWidth(0.6)
	d.f.MultiCell(0, d.p.line, strings.Join(lines, "\n"), "1", "L", false)
	d.f.SetDrawColor(0, 0, 0)
	d.f.SetLineWidth(0.2)
	d.f.Ln(1)
}

func (d *drawer) item(it sheet.Item) {
	f, p := d.f, d.p
	what := it.What
	if it.Note != "" && !p.sentences {
		what += " (" + it.Note + ")"
	}
	w := d.width() - p.channel - p.value - p.us
	if p.ticks {
		w -= 3 * p.tick
	}
	f.SetFont("text", "", p.text)
	lines := f.SplitText(d.plain(what), w-1)
	f.SetFont("text", "B", p.text)
	values := f.SplitText(d.plain(it.Value), p.value-1)
	var notes []string // after the figure where there is room for it, else below over the whole width
	after := 0.0
	if p.sentences && it.Note != "" {
		wide := f.GetStringWidth(d.plain(it.Value)) + 3
		f.SetFont("text", "", p.text-1.3)
		if len(values) == 1 && len(lines) == 1 && wide+f.GetStringWidth(d.plain(it.Note)) < p.value-1 {
			after = wide
		} else {
			notes = f.SplitText(d.plain(it.Note), w+p.value+p.us-1)
		}
	}
	rows := max(len(lines), len(values), 1)
	h := float64(rows)*p.line + float64(len(notes))*(p.line-0.6) + 0.8
	d.room(h)
	x, y := f.GetXY()
	f.Line(x, y, x+d.width(), y)
	f.SetFont("text", "", p.text)
	if it.Channel > 0 {
		f.CellFormat(p.channel, p.line+0.6, fmt.Sprint(it.Channel), "", 0, "L", false, 0, "")
	}
	cells := func(at float64, style string, width float64, texts []string, align string) {
		f.SetFont("text", style, p.text)
		for k, text := range texts {
			f.SetXY(at, y+0.3+float64(k)*p.line)
			f.CellFormat(width, p.line, text, "", 0, align, false, 0, "")
		}
	}
	cells(x+p.channel, "", w, lines, "L")
	align := "R"
	if p.sentences {
		align = "L"
	}
	cells(x+p.channel+w, "B", p.value, values, align)
	f.SetFont("text", "", p.text-1.3)
	if after > 0 {
		f.SetXY(x+p.channel+w+after, y+0.3)
		f.CellFormat(p.value-after, p.line, d.plain(it.Note), "", 0, "L", false, 0, "")
	}
	for k, text := range notes {
		f.SetXY(x+p.channel, y+0.3+float64(rows)*p.line+float64(k)*(p.line-0.6))
		f.CellFormat(w+p.value+p.us, p.line-0.6, text, "", 0, "L", false, 0, "")
	}
	cells(x+p.channel+w+p.value, "", p.us, []string{it.US}, "R")
	if p.ticks {
		for k := range 3 {
			f.Rect(x+d.width()-float64(3-k)*p.tick+p.tick/2-1.8, y+0.9, 3.6, 3.6, "D")
		}
	}
	f.SetXY(x, y+h)
}
