package sheet

import (
	"fmt"
	"io"
	"strings"

	"axtren/core/codes"
	"axtren/core/plan"
	"axtren/core/setup"
	"axtren/core/wiring"
	"axtren/core/words"
)

// Fitted is what stands at the model itself, beside what is keyed into the transmitter: what goes
// where at both ends, the leads, the power, and the codes of pins.
type Fitted struct {
	Name    string          `json:"name"`
	About   string          `json:"about"`
	Stands  *plan.Stands    `json:"stands"`
	SVG     string          `json:"svg"`   // the leads drawn
	Leads   []string        `json:"leads"` // in words
	Caution string          `json:"caution"`
	Power   []wiring.Budget `json:"power"`
	Codes   []codes.Walk    `json:"codes"` // of receivers that have a chart

	drawing wiring.Drawing
}

// FittedOf works out what stands at a model. The error is that of the plan.
func FittedOf(doc *setup.Document) (*Fitted, error) {
	s := doc.Setup
	stands, err := plan.AsItStands(s)
	if err != nil {
		return nil, err
	}
	ft := &Fitted{Name: s.Name, About: s.Craft.Type, Stands: stands, SVG: wiring.SVG(s), Leads: []string{},
		Caution: wiring.Caution(s), Power: wiring.Of(s), Codes: []codes.Walk{}, drawing: wiring.Draw(s)}
	for _, line := range ft.drawing.Lines {
		ft.Leads = append(ft.Leads, setup.Capital(line.Says))
	}
	for _, walk := range codes.Of(doc) {
		if walk.Chart != "" {
			ft.Codes = append(ft.Codes, walk)
		}
	}
	return ft, nil
}

// texts lists every text that is set on paper, with where it stands.
func (ft *Fitted) texts() []placed {
	list := []placed{{ft.Name, "the name of the model"}, {ft.About, "what the model is"}}
	add := func(where string, texts ...string) {
		for _, text := range texts {
			list = append(list, placed{text, where})
		}
	}
	for i, row := range ft.Stands.Rows {
		add(fmt.Sprintf("what goes where, line %d", i+1), row.Label, row.Lever, row.Receiver, row.Loss, row.Why)
	}
	for _, one := range ft.Stands.Keyed {
		add("what is keyed in at both ends", append([]string{one.Where}, one.Says...)...)
	}
	for i, says := range ft.Leads {
		add(fmt.Sprintf("the leads, line %d", i+1), says)
	}
	for _, b := range ft.Power {
		add("the power", b.Title, b.Lacks)
		for _, f := range b.Figures {
			add("the power", f.Label, f.Says, f.Why)
		}
	}
	for _, walk := range ft.Codes {
		add("the codes of pins", append(append([]string{walk.Receiver, walk.Chart}, walk.Before...),
			walk.After...)...)
		for _, pin := range walk.Pins {
			add("the codes of pins", pin.Hangs, pin.Says, pin.Refused)
			for _, level := range pin.Levels {
				add("the codes of pins", level.Says, level.Means)
			}
		}
	}
	return list
}

// PDF writes what stands at the model on A4 or A6. revision is 0 where it is of no kept model.
func (ft *Fitted) PDF(w io.Writer, size string, revision int) error {
	p, ok := papers[size]
	if !ok || strings.Contains(size, " ") {
		return fmt.Errorf("there is no paper %q, only A4 and A6", size)
	}
	p.text, p.line = min(p.text, 9.5), min(p.line, 4.4)
	d := begin(p, ft.texts(), ft.Name, "what goes where", revision)
	d.words("", strings.Trim(ft.About+" · "+strings.TrimSuffix(revisionWords(revision), ", "), " ·"))
	if lost := d.lost(ft.texts()); lost != "" {
		d.words("B", lost)
	}
	d.fitted(ft)
	if err := d.f.Output(w); err != nil {
		return fmt.Errorf("writing the PDF: %w", err)
	}
	return nil
}

// fitted sets what stands at a model.
func (d *drawer) fitted(ft *Fitted) {
	d.words("", ft.Stands.Says)
	d.ends(ft.Stands.Rows)
	for _, one := range ft.Stands.Keyed {
		d.list(one.Where, sentences(one.Says))
	}
	d.leads(ft)
	d.power(ft.Power)
	d.codes(ft.Codes)
}

// sentences makes whole sentences of instructions.
func sentences(says []string) []string {
	list := make([]string, len(says))
	for i, one := range says {
		list[i] = setup.Capital(strings.TrimSuffix(one, ".")) + "."
	}
	return list
}

// title begins a part of a page, on the next one where little room is left.
func (d *drawer) title(words string) {
	d.room(5 * d.p.line)
	d.f.Ln(d.p.line / 2)
	d.heading(d.p.head, words)
}

// list sets sentences one below the other under a heading of its own.
func (d *drawer) list(title string, says []string) {
	if len(says) == 0 {
		return
	}
	d.room(3 * d.p.line)
	d.f.Ln(1)
	d.words("B", title)
	for _, one := range says {
		d.words("", "– "+one)
	}
}

// ends sets the table of both ends; on the small paper each row is two lines without columns.
func (d *drawer) ends(rows []plan.Row) {
	if !d.p.ticks {
		for _, row := range rows {
			d.room(2*d.p.line + 1)
			d.words("B", row.Label+": "+row.Lever)
			d.words("", strings.Join(endWords(row), ", "))
		}
		return
	}
	wide := []float64{34, 36, 10, 10, 22, 27, 39}
	d.row(wide, []string{"Function", "Lever", "Sent", "Got", "Pin", "On a lost signal", "Why there"}, "")
	for _, row := range rows {
		pin := dash(row.Pin)
		if row.Receiver != "" {
			pin += " " + row.Receiver
		}
		d.row(wide, []string{row.Label, row.Lever, dash(row.Channel), dash(row.Link), pin, row.Loss, row.Why}, "B")
	}
}

func dash(n int) string {
	if n == 0 {
		return "–"
	}
	return fmt.Sprint(n)
}

func endWords(row plan.Row) []string {
	pin := "pin " + dash(row.Pin)
	if row.Receiver != "" {
		pin += " of " + row.Receiver
	}
	return []string{"sent on " + dash(row.Channel), "got on " + dash(row.Link), pin, "on a lost signal: " +
		"" + row.Loss}
}

// row sets one row of a table, as high as its highest cell; style is that of the first.
func (d *drawer) row(wide []float64, cells []string, style string) {
	f, p := d.f, d.p
	lines := make([][]string, len(cells))
	high := 1
	for i, cell := range cells {
		f.SetFont("text", map[bool]string{true: style}[i == 0], p.text)
		lines[i] = f.SplitText(d.plain(cell), wide[i]-1)
		high = max(high, len(lines[i]))
	}
	d.room(float64(high)*p.line + 1)
	x, y := f.GetXY()
	f.Line(x, y, x+d.width(), y)
	for i := range cells {
		f.SetFont("text", map[bool]string{true: style}[i == 0], p.text)
		for k, text := range lines[i] {
			f.SetXY(x, y+0.5+float64(k)*p.line)
			f.CellFormat(wide[i], p.line, text, "", 0, "L", false, 0, "")
		}
		x += wide[i]
	}
	f.SetXY(p.margin, y+float64(high)*p.line+1)
}

// leads sets the drawing of the leads, as large as the page allows, and below it the leads in words.
func (d *drawer) leads(ft *Fitted) {
	if len(ft.drawing.Boxes) == 0 {
		return
	}
	f := d.f
	_, page := f.GetPageSize()
	most := page - 2*d.p.margin - 3*d.p.head
	scale := min(d.width()/ft.drawing.Width, 0.36, most/ft.drawing.Height)
	d.room(ft.drawing.Height*scale + d.p.head)
	d.title("The leads")
	d.draw(&ft.drawing, scale)
	says := "A thick line brings power, a thin one is a lead; a cross on it: its red wire is lifted"
	if strings.Contains(ft.SVG, "<circle") {
		says += "; a ring: through the turning joint"
	}
	if strings.Contains(ft.SVG, "stroke-dasharray") {
		says += "; a broken one only tells volts"
	}
	d.words("", says+".")
	if ft.Caution != "" {
		d.words("B", ft.Caution)
	}
	d.list("In words", sentences(ft.Leads))
}

// draw draws the leads at the place that is reached.
func (d *drawer) draw(of *wiring.Drawing, scale float64) {
	f := d.f
	left, top := f.GetXY()
	size := 13 * scale * 72 / 25.4
	f.SetFont("text", "", size)
	clipped := func(x, y float64, text string, wide float64) {
		text = d.plain(text)
		for len(text) > 1 && f.GetStringWidth(text) > wide {
			letters := []rune(text)
			text = string(letters[:len(letters)-1])
		}
		f.Text(x, y, text)
	}
	for _, box := range of.Boxes {
		x, y := left+box.At[0]*scale, top+box.At[1]*scale
		f.Rect(x, y, box.At[2]*scale, box.At[3]*scale, "D")
		for i, text := range box.Lines {
			clipped(x+7*scale, y+15*float64(i+1)*scale, text, (box.At[2]-9)*scale)
		}
	}
	for _, line := range of.Lines {
		f.SetLineWidth(map[bool]float64{true: 0.9, false: 0.3}[line.Kind == "power" || line.Kind == "back"])
		if line.Kind == "sense" {
			f.SetDashPattern([]float64{1.2, 1}, 0)
		}
		for i := 0; i+3 < len(line.At); i += 2 {
			f.Line(left+line.At[i]*scale, top+line.At[i+1]*scale, left+line.At[i+2]*scale, top+line.At[i+3]*scale)
		}
		f.SetDashPattern([]float64{}, 0)
		f.SetLineWidth(0.3)
		x, y := left+line.At[0]*scale, top+line.At[1]*scale
		if line.Joint {
			f.SetFillColor(255, 255, 255)
			f.Circle(x+10*scale, y, 5*scale, "FD")
		}
		if line.Lifted {
			m, c := left+(line.At[0]+line.At[2])/2*scale, 5*scale
			f.Line(m-c, y-c, m+c, y+c)
			f.Line(m-c, y+c, m+c, y-c)
		}
		if line.Pin > 0 {
			text := fmt.Sprint(line.Pin)
			f.Text(x-6*scale-f.GetStringWidth(text), y+4*scale, text)
		}
	}
	f.SetLineWidth(0.2)
	f.SetXY(d.p.margin, top+of.Height*scale+2)
}

// power sets the figures of the power, each with its arithmetic.
func (d *drawer) power(list []wiring.Budget) {
	first := true
	for _, b := range list {
		if len(b.Figures) == 0 && b.Lacks == "" {
			continue
		}
		if first {
			d.title("Power")
			first = false
		}
		d.room(3 * d.p.line)
		d.f.Ln(1)
		d.words("B", b.Title)
		for _, f := range append(append([]wiring.Figure{}, b.Figures...), b.Behind...) {
			says := fmt.Sprintf("%s: %s %s", f.Label, words.Short(f.Value), f.Unit)
			if f.Says != "" {
				says += ", " + f.Says
			}
			says = strings.TrimSpace(says) + "; " + f.Why + "."
			if f.Bad {
				says += " To do: " + f.Do + "."
			}
			d.words("", says)
		}
		if b.Lacks != "" {
			d.words("", b.Lacks)
		}
	}
}

// codes sets how pins are set by counted flashes.
func (d *drawer) codes(list []codes.Walk) {
	for _, walk := range list {
		d.title("Codes of the pins of " + walk.Receiver)
		d.words("", "By the chart “"+walk.Chart+"”.")
		d.list("First", walk.Before)
		for _, pin := range walk.Pins {
			if pin.Refused != "" {
				d.words("B", pin.Refused+".")
			}
			if pin.Test == "" && !pin.Open {
				continue // it sends pulses, as it came
			}
			var says []string
			for _, level := range pin.Levels {
				says = append(says, fmt.Sprintf("level %d, %s: flashes %d (%s)", level.Level, level.Says, level.Want,
					level.Means))
			}
			d.list(strings.TrimSpace(fmt.Sprintf("Pin %d %s", pin.Pin, pin.Hangs))+": "+pin.Says, sentences(says))
		}
		d.list("After that", walk.After)
	}
}
