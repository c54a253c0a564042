package signal

import (
	"bufio"
	"io"
	"strconv"

	"axtren/core/setup"
)

// Trace writes a run as CSV, a row a frame: docs/format.md, section 11. It has
// the columns that are played.
type Trace struct {
	w    *bufio.Writer
	cols []cell
	row  []byte
}

// cell is one column: a slot, its decimals, and what an empty pulse looks like.
type cell struct {
	slot     Slot
	decimals int
	pulse    bool
}

// NewTrace writes the header of a trace.
func NewTrace(w io.Writer, p *Program) (*Trace, error) {
	t := &Trace{w: bufio.NewWriter(w)}
	t.row = append(t.row, "t_s"...)
	for _, col := range p.setup.Columns() {
		c, ok := p.cell(col)
		if !ok {
			continue
		}
		t.cols = append(t.cols, c)
		t.row = append(append(t.row, ','), col.Name...)
	}
	return t, t.end()
}

func (p *Program) cell(col setup.Column) (c cell, ok bool) {
	switch col.Kind {
	case setup.OutputPct:
		return cell{p.Routes[col.Index].P, 4, false}, true
	case setup.OutputUS:
		return cell{p.Routes[col.Index].US, 2, false}, true
	case setup.PinUS:
		return cell{p.Pins[col.Index][col.Sub].US, 2, true}, true
	case setup.PinOn:
		return cell{p.Pins[col.Index][col.Sub].On, 0, false}, true
	}
	return cell{}, false
}

// Frame writes one row.
func (t *Trace) Frame(seconds float64, st *State) error {
	t.row = strconv.AppendFloat(t.row[:0], seconds, 'f', 3, 64)
	for _, c := range t.cols {
		t.row = append(t.row, ',')
		if v := st.V[c.slot]; !c.pulse || v != 0 {
			t.row = appendFixed(t.row, v, c.decimals)
		}
	}
	return t.end()
}

// Close writes out what is still held back; the writer below stays open.
func (t *Trace) Close() error { return t.w.Flush() }

func (t *Trace) end() error {
	_, err := t.w.Write(append(t.row, '\n'))
	return err
}

// appendFixed writes v with so many decimals, never as a negative zero.
func appendFixed(b []byte, v float64, decimals int) []byte {
	from := len(b)
	b = strconv.AppendFloat(b, v, 'f', decimals, 64)
	if b[from] != '-' {
		return b
	}
	for _, digit := range b[from+1:] {
		if digit != '0' && digit != '.' {
			return b
		}
	}
	return append(b[:from], b[from+1:]...)
}
