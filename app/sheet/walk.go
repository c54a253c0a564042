package sheet

import (
	_ "embed" // the page
	"encoding/json"
	"fmt"
	"io"
	"strings"

	"axtren/core/bench"
)

// WalkSheet is a walk as it is carried: what has to be safe, then its steps.
type WalkSheet struct {
	Name     string       `json:"name"`
	Walk     string       `json:"walk"` // its id
	Revision int          `json:"revision"`
	Mark     uint16       `json:"mark"`
	About    string       `json:"about"`
	Safe     []string     `json:"safe"`
	Taught   []string     `json:"taught"`
	Steps    []bench.Step `json:"steps"`
	Signed   string       `json:"-"` // by whom; empty: by nobody
}

// WalkThings lists what there is to tick in a walk, in order.
func WalkThings(steps []bench.Step) []Thing {
	list := []Thing{}
	for n := range steps {
		labels := map[string]string{bench.OfRest: "all else"}
		for _, part := range steps[n].Parts {
			labels[part.Of] = part.Label
		}
		for _, of := range steps[n].Looked() {
			list = append(list, Thing{fmt.Sprintf("%d/%s", n, of), fmt.Sprintf("step %d, %s", n+1, labels[of])})
		}
	}
	return list
}

// texts lists every text that is set on paper, with where it stands.
func (w *WalkSheet) texts() []placed {
	list := []placed{{w.Name, "the name of the model"}, {w.Signed, "the signature"}}
	for _, text := range append(append([]string{}, w.Safe...), w.Taught...) {
		list = append(list, placed{text, "what has to be done first"})
	}
	for n := range w.Steps {
		where := fmt.Sprintf("step %d", n+1)
		for _, text := range append(append([]string{}, w.Steps[n].Does...), w.Steps[n].Rest) {
			list = append(list, placed{text, where})
		}
		for _, part := range w.Steps[n].Parts {
			list = append(list, placed{part.Label, where}, placed{part.Should, where}, placed{part.Display, where})
		}
	}
	return list
}

// PDF writes the steps large on A4, or small on A6, with boxes to tick.
func (w *WalkSheet) PDF(out io.Writer, size string) error {
	p, ok := papers[size]
	if !ok || strings.Contains(size, " ") {
		return fmt.Errorf("there is no paper %q, only A4 and A6", size)
	}
	if size == "A4" { // read at arm's length
		p.text, p.line, p.head = 14, 7, 18
	}
	d := begin(p, w.texts(), w.Name, "tried on the bench", w.Revision)
	if lost := d.lost(w.texts()); lost != "" {
		d.words("B", lost)
	}
	d.walk(w)
	if err := d.f.Output(out); err != nil {
		return fmt.Errorf("writing the PDF: %w", err)
	}
	return nil
}

// walk sets the steps of a walk.
func (d *drawer) walk(w *WalkSheet) {
	if w.Signed != "" {
		d.words("", w.Signed)
	}
	if len(w.Safe) > 0 {
		d.heading(d.p.head, "First, make it safe")
		d.caution(w.Safe)
	}
	for _, line := range w.Taught {
		d.words("", line)
	}
	for n := range w.Steps {
		d.step(n, &w.Steps[n])
	}
	if w.Signed == "" {
		d.room(4 * d.p.line)
		d.f.Ln(d.p.line)
		d.words("", "Who, when, with which battery: ____________________________")
	}
}

// step sets one step: what hands do, and below it what must be seen, each with a box.
func (d *drawer) step(n int, step *bench.Step) {
	d.room(3 * d.p.line)
	d.f.Ln(d.p.line / 2)
	d.heading(d.p.head-1, fmt.Sprintf("%d.  %s", n+1, strings.Join(step.Does, " ")))
	for _, part := range step.Parts {
		says := part.Label + ": " + part.Should
		if part.Channel > 0 {
			says += fmt.Sprintf("; channel %d reads %s", part.Channel, part.Display)
		}
		d.boxed(says + ".")
	}
	if step.Rest != "" {
		d.boxed(step.Rest)
	}
}

// boxed sets a line with a box before it.
func (d *drawer) boxed(says string) {
	d.room(1.5 * d.p.line)
	side := 0.62 * d.p.line
	x, y := d.f.GetXY()
	d.f.Rect(x+0.5, y+(d.p.line-side)/2, side, side, "D")
	d.f.SetFont("text", "", d.p.text)
	d.f.SetX(x + side + 3)
	d.f.MultiCell(d.width()-side-3, d.p.line, d.plain(says), "", "L", false)
	d.f.SetX(x)
}

//go:embed carry/walk.js
var walkScript string

// Carry writes a walk as one file that opens on a phone without any network, and keeps what is ticked in it.
func (w *WalkSheet) Carry(out io.Writer) error {
	own := *w
	own.Mark = Mark(w.Walk, WalkThings(w.Steps))
	data, err := json.Marshal(own)
	if err != nil {
		return fmt.Errorf("writing the walk: %w", err)
	}
	return carried(out, w.Name+", tried on the bench", data, walkScript)
}
