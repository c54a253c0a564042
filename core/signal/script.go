package signal

import (
	"encoding/csv"
	"errors"
	"fmt"
	"io"
	"math"
	"slices"
	"strconv"
	"strings"

	"axtren/core/setup"
)

// ScriptError is a mistake in a script; Line counts from 1, the header's.
type ScriptError struct {
	Line   int
	Value  string
	Fault  string
	Remedy string
}

// Error says the mistake in one line.
func (e *ScriptError) Error() string {
	return fmt.Sprintf("line %d: %s (it is %q); %s", e.Line, e.Fault, e.Value, e.Remedy)
}

// Row is one movement of the hands.
type Row struct {
	T       float64 // seconds
	Control int     // index of the control
	Value   float64 // percent, or the position of a switch from 0
}

// Script reads the movements of the hands, t_s,control,value, a row at a time.
type Script struct {
	csv  *csv.Reader
	s    *setup.Setup
	last float64
	head bool
	next *Row // read but not yet due
	done bool
}

// NewScript reads a script for a setup; nil for no script at all.
func NewScript(r io.Reader, s *setup.Setup) *Script {
	if r == nil {
		return &Script{done: true, head: true}
	}
	c := csv.NewReader(r)
	c.ReuseRecord = true
	c.FieldsPerRecord = -1
	return &Script{csv: c, s: s, last: math.Inf(-1)}
}

// Next gives the next row; io.EOF after the last, else a *ScriptError.
func (sc *Script) Next() (Row, error) {
	if sc.done {
		return Row{}, io.EOF
	}
	record, err := sc.csv.Read()
	if errors.Is(err, io.EOF) {
		sc.done = true
		return Row{}, io.EOF
	}
	if err != nil {
		var bad *csv.ParseError
		if errors.As(err, &bad) {
			return Row{}, &ScriptError{bad.Line, bad.Err.Error(), "this is not a row of a script", "write t_s,control,value"}
		}
		return Row{}, fmt.Errorf("reading the script: %w", err)
	}
	line, _ := sc.csv.FieldPos(0)
	if !sc.head {
		sc.head = true
		record[0] = strings.TrimPrefix(record[0], "\ufeff")
		if !slices.Equal(record, []string{"t_s", "control", "value"}) {
			return Row{}, &ScriptError{line, strings.Join(record, ","), "the header is wrong", "write t_s,control,value"}
		}
		return sc.Next()
	}
	if len(record) != 3 {
		return Row{}, &ScriptError{line, strings.Join(record, ","), "a row has three cells", "write t_s,control,value"}
	}
	return sc.row(line, record)
}

func (sc *Script) row(line int, record []string) (Row, error) {
	t, err := strconv.ParseFloat(record[0], 64)
	if err != nil || math.IsNaN(t) || math.IsInf(t, 0) {
		return Row{}, &ScriptError{line, record[0], "the time is not a number", "write seconds, such as 0.5"}
	}
	if t < sc.last {
		return Row{}, &ScriptError{line, record[0], "the row is earlier than the one before", "put the rows in order of time"}
	}
	sc.last = t
	id := record[1]
	item := sc.s.Item(setup.ID(id))
	switch {
	case id == "link", id == "transmitter", item.Kind == setup.IsReceiver, item.Kind == setup.IsDevice:
		return Row{}, &ScriptError{line, id, "this is not played yet", "leave the row out for now; controls are played"}
	case item.Kind != setup.IsControl:
		return Row{}, &ScriptError{line, id, "there is no such control", "use one of " + sc.controls()}
	}
	v, err := HandValue(sc.s, item.Index, record[2])
	if err != nil {
		return Row{}, &ScriptError{line, record[2], err.Error(), "see the control's kind in the setup"}
	}
	return Row{t, item.Index, v}, nil
}

func (sc *Script) controls() string {
	var ids []string
	for _, c := range sc.s.Transmitter.Controls {
		ids = append(ids, string(c.ID))
	}
	return strings.Join(ids, ", ")
}

// HandValue reads where a hand puts a control: a number of -100 to 100 for an
// axis, the name of a position for a switch.
func HandValue(s *setup.Setup, control int, text string) (float64, error) {
	c := s.Transmitter.Controls[control]
	if c.Axis != nil {
		v, err := strconv.ParseFloat(text, 64)
		if err != nil || !(v >= -100 && v <= 100) {
			return 0, fmt.Errorf("%s is an axis and takes a number of -100 to 100", c.ID)
		}
		return v, nil
	}
	i := slices.Index(c.Switch.Positions, setup.Name(text))
	if i < 0 {
		return 0, fmt.Errorf("%s has no such position, only %s", c.ID, join(c.Switch.Positions))
	}
	return float64(i), nil
}

func join(names []setup.Name) string {
	texts := make([]string, len(names))
	for i, n := range names {
		texts[i] = string(n)
	}
	return strings.Join(texts, ", ")
}

// apply puts every row that is due by t seconds into the hands. O(rows).
func (sc *Script) apply(t float64, hands Hands) error {
	for {
		if sc.next == nil {
			row, err := sc.Next()
			if errors.Is(err, io.EOF) {
				return nil
			}
			if err != nil {
				return err
			}
			sc.next = &row
		}
		if t < sc.next.T-1e-9 {
			return nil
		}
		hands[sc.next.Control] = sc.next.Value
		sc.next = nil
	}
}

// end gives the time after the last row by which a run without a given length
// stops; infinity while rows are still to come.
func (sc *Script) end() float64 {
	switch {
	case !sc.done || sc.next != nil:
		return math.Inf(1)
	case math.IsInf(sc.last, -1) || sc.s == nil:
		return 2
	}
	return max(sc.last, 0) + 2
}

// Run plays a script from power-on and calls frame after each step, while the
// time of the frame is at most forS + 1e-9; a negative forS stands for 2 s
// beyond the last row. It stops at the first error of the script or of frame.
func (p *Program) Run(script *Script, forS float64, frame func(t float64, st *State) error) error {
	st, hands := p.PowerOn(), p.Rest()
	for k := int64(0); ; k++ {
		t := float64(k*int64(p.setup.Transmitter.FrameMS)) / 1000
		if err := script.apply(t, hands); err != nil {
			return err
		}
		end := forS
		if forS < 0 {
			end = script.end()
		}
		if t > end+1e-9 {
			return nil
		}
		p.Step(st, hands)
		if err := frame(t, st); err != nil {
			return err
		}
	}
}
