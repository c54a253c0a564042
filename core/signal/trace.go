package signal

import (
	"bufio"
	"io"
	"strconv"

	"axtren/core/setup"
)

// Trace writes a run as CSV, a row a frame: docs/format.md, section 11.
type Trace struct {
	w    *bufio.Writer
	p    *Program
	cols []Cell
	row  []byte
}

// Recorder writes the frames of a run in one of the open formats.
type Recorder interface {
	Frame(seconds float64, st *State) error
	Close() error
}

// NewRecorder starts a trace, or a value change dump.
func NewRecorder(w io.Writer, p *Program, vcd bool) (Recorder, error) {
	if vcd {
		return NewVCD(w, p)
	}
	return NewTrace(w, p)
}

// Cell is one column of a trace: where its value is, and how it is written.
type Cell struct {
	setup.Column
	Slot     Slot
	Decimals int
	Sent     bool         // empty while the transmitter does not send
	Known    Slot         // empty while this slot is 0; None: never
	Names    []setup.Name // written as a name instead of a number; nil: as a number
	track    int          // the curve to look the value up in, -1 for none
}

// Cells lists the columns of a trace after t_s.
func (p *Program) Cells() []Cell {
	var cells []Cell
	for _, col := range p.setup.Columns() {
		cells = append(cells, p.cell(col))
	}
	return cells
}

func (p *Program) cell(col setup.Column) Cell {
	i := col.Index
	c := Cell{Column: col, Known: None, track: -1, Sent: col.Kind <= setup.PatternValue}
	switch col.Kind {
	case setup.OutputPct:
		c.Slot, c.Decimals = p.Routes[i].P, 4
	case setup.OutputUS:
		c.Slot, c.Decimals = p.Routes[i].US, 2
	case setup.BlockState:
		c.Slot = p.nodeValue[setup.IsBlock][i]
	case setup.StepperStep:
		c.Slot = p.nodeValue[setup.IsStepper][i]
		for _, step := range p.setup.Steppers[i].Steps {
			c.Names = append(c.Names, step.Name)
		}
	case setup.TrackValue:
		c.Slot, c.Decimals, c.track = p.nodeValue[setup.IsSequence][i], 4, int(p.tracks[i][col.Sub])
	case setup.PatternValue:
		c.Slot, c.Decimals = p.nodeValue[setup.IsPattern][i], 4
	case setup.PinUS:
		c.Slot, c.Decimals = p.Pins[i][col.Sub].US, 2
		c.Known = c.Slot
	case setup.PinOn:
		c.Slot = p.Pins[i][col.Sub].On
	case setup.DeviceStep, setup.DeviceMotor:
		c.Slot = p.Devices[i].Value
	case setup.DeviceBrake:
		c.Slot = p.Devices[i].Brake
	case setup.DeviceAt:
		c.Slot, c.Known = p.Devices[i].At, p.Devices[i].Known
		if c.Slot == None {
			c.Slot = p.Devices[i].Value
		}
	case setup.DeviceOn:
		c.Slot = p.Devices[i].On
	case setup.Said:
		c.Slot = p.said[i]
	}
	if col.Kind == setup.DeviceMotor || col.Kind == setup.DeviceBrake || col.Kind == setup.DeviceAt {
		c.Decimals = 4
	}
	return c
}

// Read gives the value of a cell in a state; ok is false where the cell is empty.
func (p *Program) Read(c *Cell, st *State) (v float64, ok bool) {
	switch {
	case c.Sent && !p.Sending(st), c.Known != None && st.V[c.Known] == 0:
		return 0, false
	case c.Kind == setup.Said && !p.Sending(st):
		return 0, true
	case c.track >= 0:
		return p.curves[c.track].at(st.V[c.Slot]), true
	}
	return st.V[c.Slot], true
}

// NewTrace writes the header of a trace.
func NewTrace(w io.Writer, p *Program) (*Trace, error) {
	t := &Trace{w: bufio.NewWriter(w), p: p, cols: p.Cells()}
	t.row = append(t.row, "t_s"...)
	for _, c := range t.cols {
		t.row = append(append(t.row, ','), c.Name...)
	}
	return t, t.end()
}

// Frame writes one row.
func (t *Trace) Frame(seconds float64, st *State) error {
	t.row = strconv.AppendFloat(t.row[:0], seconds, 'f', 3, 64)
	for i := range t.cols {
		c := &t.cols[i]
		t.row = append(t.row, ',')
		switch v, ok := t.p.Read(c, st); {
		case !ok:
		case c.Names != nil:
			t.row = append(t.row, c.Names[int(v)]...)
		default:
			t.row = appendFixed(t.row, v, c.Decimals)
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
