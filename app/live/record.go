package live

import (
	"bytes"
	"cmp"
	"encoding/csv"
	"fmt"
	"io"
	"maps"
	"slices"
	"strconv"

	"axtren/app/web/contract"
	"axtren/core/signal"
)

// keptSeconds is how long what the hands did is kept.
const keptSeconds = 600

// recording is what the hands did since a frame: a script, played from power-on,
// gives the same trace where exact is true. It is not where the recording had
// to begin in the middle: after an edit, or later than keptSeconds.
type recording struct {
	from  int64          // the frame that is time 0 of the script
	start map[string]any // where the hands were then
	rows  []movement
	exact bool
}

type movement struct {
	frame int64
	id    string
	value any
}

func newRecording(frame int64, hands map[string]any, exact bool) *recording {
	return &recording{from: frame, start: maps.Clone(hands), exact: exact}
}

// add notes a movement in a frame, and forgets what is too old.
func (r *recording) add(frame int64, frameMS int, set map[string]any) {
	for _, id := range slices.Sorted(maps.Keys(set)) {
		r.rows = append(r.rows, movement{frame, id, set[id]})
	}
	oldest := frame - int64(keptSeconds*1000/frameMS)
	old := 0
	for old < len(r.rows) && r.rows[old].frame < oldest {
		r.start[r.rows[old].id] = r.rows[old].value
		old++
	}
	if old > 0 {
		r.rows = slices.Delete(r.rows, 0, old)
		r.from, r.exact = oldest, false
	}
}

// script writes the recording as a script for a program; what the program
// cannot take, such as a control that an edit took away, is left out.
func (r *recording) script(p *signal.Program) []byte {
	var b bytes.Buffer
	w := csv.NewWriter(&b)
	w.Write([]string{"t_s", "control", "value"})
	row := func(frame int64, id string, value any) {
		text, ok := handText(value)
		if _, err := p.HandValue(id, text); ok && err == nil {
			t := float64((frame-r.from)*int64(p.Setup().Transmitter.FrameMS)) / 1000
			w.Write([]string{strconv.FormatFloat(t, 'f', 3, 64), id, text})
		}
	}
	for _, id := range slices.Sorted(maps.Keys(r.start)) {
		row(r.from, id, r.start[id])
	}
	rows := slices.Clone(r.rows)
	slices.SortStableFunc(rows, func(a, b movement) int { return cmp.Compare(a.frame, b.frame) })
	for _, m := range rows {
		row(m.frame, m.id, m.value)
	}
	w.Flush()
	return b.Bytes()
}

// handText is a hand's value as a script writes it.
func handText(value any) (text string, ok bool) {
	switch v := value.(type) {
	case float64:
		return strconv.FormatFloat(v, 'g', -1, 64), true
	case string:
		return v, true
	}
	return "", false
}

// saved answers the page's wish for the recording: as a script, or played again
// as a trace or a value change dump, up to the frame that was stepped last.
func (b *bench) saved(format contract.ToBenchFormat) (*contract.FromBench, error) {
	script := b.record.script(b.program)
	var out bytes.Buffer
	switch format {
	case contract.Csv, contract.Vcd:
		seconds := float64((b.live.Frame-1-b.record.from)*int64(b.program.Setup().Transmitter.FrameMS)) / 1000
		if err := replay(&out, b.program, script, seconds, format); err != nil {
			return nil, fmt.Errorf("the recording cannot be played again: %w", err)
		}
	default:
		out.Write(script)
	}
	text, exact := out.String(), b.record.exact
	return &contract.FromBench{T: contract.FromBenchTSaved, Text: &text, Exact: &exact}, nil
}

func replay(out io.Writer, p *signal.Program, script []byte, seconds float64, format contract.ToBenchFormat) error {
	w, err := signal.NewRecorder(out, p, format == contract.Vcd)
	if err != nil {
		return err
	}
	if err := p.Run(signal.NewScript(bytes.NewReader(script), p), seconds, w.Frame); err != nil {
		return err
	}
	return w.Close()
}
