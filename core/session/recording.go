package session

import (
	"bytes"
	"encoding/csv"
	"fmt"
	"io"
	"slices"
	"strconv"

	"axtren/core/record"
	"axtren/core/signal"
)

// keptSeconds is how long what the hands did is kept, maxRows how many movements
// of it: two sticks that never rest for that long.
const (
	keptSeconds = 600
	maxRows     = 120_000
)

// Recording is what the hands did since a frame: a script, played from power-on,
// gives the same trace where it is exact. It is not where the recording had to begin in
// the middle: after an edit, or later than ten minutes.
type Recording struct {
	program *signal.Program
	from    int64        // the frame that is time 0 of the script
	start   signal.Hands // where the hands were then
	rows    record.Changes
	exact   bool
}

func newRecording(p *signal.Program, frame int64, hands signal.Hands, exact bool) *Recording {
	return &Recording{program: p, from: frame, start: slices.Clone(hands), exact: exact}
}

// add notes where hands went in a frame, and forgets what is too old or too much.
// O(1) for each movement, over many.
func (r *Recording) add(frame int64, moved []record.Change) {
	for _, m := range moved {
		m.Frame = frame
		r.rows.Add(m)
	}
	oldest := frame - int64(keptSeconds*1000/r.program.Setup().Transmitter.FrameMS)
	before := r.rows.Len()
	for r.rows.Len() > 0 {
		m := r.rows.Oldest()
		if r.rows.Len() > maxRows {
			oldest = max(oldest, m.Frame+1) // no frame is kept in part
		}
		if m.Frame >= oldest {
			break
		}
		r.start[m.Of] = m.Value
		r.rows.Forget()
	}
	if r.rows.Len() < before {
		r.from, r.exact = oldest, false
	}
}

// Exact tells whether the script, played from power-on, gives what was seen.
func (r *Recording) Exact() bool { return r.exact }

// Script writes the recording as a script.
func (r *Recording) Script() []byte {
	var b bytes.Buffer
	w := csv.NewWriter(&b)
	row := func(cells ...string) { _ = w.Write(cells) } // into memory
	row("t_s", "control", "value")
	ids := r.program.HandIDs()
	move := func(frame int64, hand int, value float64) {
		t := float64((frame-r.from)*int64(r.program.Setup().Transmitter.FrameMS)) / 1000
		row(strconv.FormatFloat(t, 'f', 3, 64), ids[hand], r.program.HandWord(ids[hand], value))
	}
	for hand, rest := range r.program.Rest() {
		if value := r.start[hand]; value != rest {
			move(r.from, hand, value)
		}
	}
	for m := range r.rows.All() {
		move(m.Frame, m.Of, m.Value)
	}
	w.Flush()
	return b.Bytes()
}

// WriteTrace plays the recording again and writes it as a trace, or as a value change
// dump, up to a frame since power-on.
func (r *Recording) WriteTrace(out io.Writer, until int64, vcd bool) error {
	seconds := float64((until-r.from)*int64(r.program.Setup().Transmitter.FrameMS)) / 1000
	w, err := signal.NewRecorder(out, r.program, vcd)
	if err != nil {
		return fmt.Errorf("the recording cannot be played again: %w", err)
	}
	if err := r.program.Run(signal.NewScript(bytes.NewReader(r.Script()), r.program), seconds,
		w.Frame); err != nil {
		return fmt.Errorf("the recording cannot be played again: %w", err)
	}
	return w.Close()
}
