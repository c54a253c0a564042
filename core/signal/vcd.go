package signal

import (
	"bufio"
	"fmt"
	"io"
	"math"
	"strconv"
	"strings"

	"axtren/core/setup"
)

// VCD writes a run as a value change dump (IEEE 1364-2001, clause 18) at a
// timescale of 1 us, for any waveform viewer. Numbers are real, truths are
// wires, steps of steppers are integers from 1; what a trace leaves empty is 0,
// or x for a wire.
type VCD struct {
	w     *bufio.Writer
	p     *Program
	cells []Cell
	last  []string
}

// NewVCD writes the head of a dump.
func NewVCD(w io.Writer, p *Program) (*VCD, error) {
	d := &VCD{w: bufio.NewWriter(w), p: p, cells: p.Cells()}
	d.last = make([]string, len(d.cells))
	fmt.Fprintf(d.w, "$version axtren $end\n$timescale 1us $end\n$scope module setup $end\n")
	for i, c := range d.cells {
		kind, size := "real", 64
		switch {
		case c.Names != nil:
			kind, size = "integer", 32
		case isWire(c.Kind):
			kind, size = "wire", 1
		}
		fmt.Fprintf(d.w, "$var %s %d %s %s $end\n", kind, size, DumpID(i),
			strings.ReplaceAll(c.Name, ".", "_"))
	}
	_, err := fmt.Fprintf(d.w, "$upscope $end\n$enddefinitions $end\n")
	return d, err
}

func isWire(kind setup.ColumnKind) bool {
	switch kind {
	case setup.BlockState, setup.PinOn, setup.DeviceOn, setup.Said:
		return true
	}
	return false
}

// DumpID gives the short identifier of variable i of a value change dump: printable characters ! to ~.
func DumpID(i int) string {
	id := string(rune('!' + i%94))
	for i /= 94; i > 0; i /= 94 {
		id += string(rune('!' + i%94))
	}
	return id
}

// Frame writes what changed, all of it in the first frame.
func (d *VCD) Frame(seconds float64, st *State) error {
	stamped := false
	for i := range d.cells {
		text := d.text(i, st)
		if text == d.last[i] {
			continue
		}
		if !stamped {
			fmt.Fprintf(d.w, "#%d\n", int64(math.Round(seconds*1e6)))
			stamped = true
		}
		d.last[i] = text
		if _, err := d.w.WriteString(text + "\n"); err != nil {
			return err
		}
	}
	return nil
}

func (d *VCD) text(i int, st *State) string {
	c := &d.cells[i]
	v, ok := d.p.Read(c, st)
	switch {
	case c.Names != nil && !ok:
		return "bx " + DumpID(i)
	case c.Names != nil:
		return "b" + strconv.FormatInt(int64(v)+1, 2) + " " + DumpID(i)
	case isWire(c.Kind) && !ok:
		return "x" + DumpID(i)
	case isWire(c.Kind):
		return strconv.Itoa(int(v)) + DumpID(i)
	}
	return "r" + string(appendFixed(nil, v, c.Decimals)) + " " + DumpID(i)
}

// Close writes out what is still held back; the writer below stays open.
func (d *VCD) Close() error { return d.w.Flush() }
