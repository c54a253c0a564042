package signal

import (
	"encoding/csv"
	"errors"
	"fmt"
	"io"
	"math"
	"regexp"
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
	T     float64 // seconds
	Hand  int     // place in Hands
	Value float64 // percent, the position of a switch from 0, 1 for on or up
}

// Script reads the movements of the hands, t_s,control,value, a row at a time.
type Script struct {
	csv  *csv.Reader
	p    *Program
	last float64
	head bool
	next *Row // read but not yet due
	done bool
}

// NewScript reads a script for a program; nil for no script at all.
func NewScript(r io.Reader, p *Program) *Script {
	if r == nil {
		return &Script{done: true, head: true}
	}
	c := csv.NewReader(r)
	c.ReuseRecord = true
	c.FieldsPerRecord = -1
	return &Script{csv: c, p: p, last: math.Inf(-1)}
}

// Next gives the next row; io.EOF after the last, else a *ScriptError.
func (sc *Script) Next() (Row, error) {
	if sc.done {
		return Row{}, io.EOF
	}
	record, err := sc.csv.Read()
	if errors.Is(err, io.EOF) && !sc.head {
		return Row{}, &ScriptError{1, "", "the script is empty and has no header", "write t_s,control,value"}
	}
	if errors.Is(err, io.EOF) {
		sc.done = true
		return Row{}, io.EOF
	}
	if err != nil {
		var bad *csv.ParseError
		if errors.As(err, &bad) {
			return Row{}, &ScriptError{bad.Line, bad.Err.Error(), "this is not a row of a script",
				"write t_s,control,value"}
		}
		return Row{}, fmt.Errorf("reading the script: %w", err)
	}
	line, _ := sc.csv.FieldPos(0)
	if !sc.head {
		sc.head = true
		record[0] = strings.TrimPrefix(record[0], "\ufeff")
		if !slices.Equal(record, []string{"t_s", "control", "value"}) {
			return Row{}, &ScriptError{line, strings.Join(record, ","), "the header is wrong",
				"write t_s,control,value"}
		}
		return sc.Next()
	}
	if len(record) != 3 {
		return Row{}, &ScriptError{line, strings.Join(record, ","), "a row has three cells",
			"write t_s,control,value"}
	}
	return sc.row(line, record)
}

func (sc *Script) row(line int, record []string) (Row, error) {
	t, ok := decimal(record[0])
	if !ok {
		return Row{}, &ScriptError{line, record[0], "the time is not a number", "write seconds, such as 0.5"}
	}
	if t < sc.last {
		return Row{}, &ScriptError{line, record[0], "the row is earlier than the one before",
			"put the rows in order of time"}
	}
	sc.last = t
	hand, ok := sc.p.Hand(record[1])
	if !ok {
		return Row{}, &ScriptError{line, record[1], "there is nothing of this name to move",
			"use one of " + sc.movable()}
	}
	if t > 0 && sc.p.setup.Item(setup.ID(record[1])).Kind == setup.IsDevice {
		return Row{}, &ScriptError{line, record[0], "where a servo was left is chosen at the start",
			"put the row at time 0"}
	}
	v, err := sc.p.HandValue(record[1], record[2])
	if err != nil {
		return Row{}, &ScriptError{line, record[2], err.Error(), "see its kind in the setup"}
	}
	return Row{t, hand, v}, nil
}

func (sc *Script) movable() string {
	ids := []string{}
	for _, c := range sc.p.setup.Transmitter.Controls {
		ids = append(ids, string(c.ID))
	}
	ids = append(ids, "transmitter", "link")
	for _, r := range sc.p.setup.Receivers {
		ids = append(ids, string(r.ID))
	}
	return strings.Join(ids, ", ")
}

// HandValue reads where a hand puts something: a number of -100 to 100 for an
// axis, the name of a position for a switch, up or down for the link, on or off
// for the transmitter and a receiver, a number of -150 to 150 for a servo.
func (p *Program) HandValue(id, text string) (float64, error) {
	number := func(what string, limit float64) (float64, error) {
		v, ok := decimal(text)
		if !ok || !(v >= -limit && v <= limit) {
			return 0, fmt.Errorf("%s is %s and takes a number of %g to %g", id, what, -limit, limit)
		}
		return v, nil
	}
	words := p.handWords(id)
	if words == nil {
		switch p.setup.Item(setup.ID(id)).Kind {
		case setup.IsDevice:
			return number("a servo", 150)
		case setup.IsControl:
			return number("an axis", 100)
		}
		return 0, fmt.Errorf("there is nothing of the name %s to move", id)
	}
	i := slices.Index(words, setup.Name(text))
	if i < 0 {
		return 0, fmt.Errorf("%s has no such position, only %s", id, join(words))
	}
	return float64(i), nil
}

var decimalForm = regexp.MustCompile(`^[-+]?([0-9]+\.?[0-9]*|\.[0-9]+)([eE][-+]?[0-9]+)?$`)

// decimal reads a finite decimal number: 1_0 and 0x1p4 are none.
func decimal(text string) (v float64, ok bool) {
	if !decimalForm.MatchString(text) {
		return 0, false
	}
	v, err := strconv.ParseFloat(text, 64)
	return v, err == nil
}

// handWords lists what a hand is called at 0, 1 ...; nil where it is a number.
func (p *Program) handWords(id string) []setup.Name {
	item := p.setup.Item(setup.ID(id))
	switch {
	case id == "link":
		return []setup.Name{"down", "up"}
	case id == "transmitter", item.Kind == setup.IsReceiver:
		return []setup.Name{"off", "on"}
	case item.Kind == setup.IsControl && p.setup.Transmitter.Controls[item.Index].Switch != nil:
		return p.setup.Transmitter.Controls[item.Index].Switch.Positions
	}
	return nil
}

// HandWord writes a value of Hands as a script has it.
func (p *Program) HandWord(id string, v float64) string {
	if words := p.handWords(id); words != nil && int(v) >= 0 && int(v) < len(words) {
		return string(words[int(v)])
	}
	return strconv.FormatFloat(v, 'g', -1, 64)
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
		if !sc.next.Due(t) {
			return nil
		}
		hands[sc.next.Hand] = sc.next.Value
		sc.next = nil
	}
}

// drain reads the rows that are left: a mistake counts wherever it stands.
func (sc *Script) drain() error {
	for !sc.done {
		if _, err := sc.Next(); err != nil && !errors.Is(err, io.EOF) {
			return err
		}
	}
	return nil
}

// Rows reads all the rows that are left; the error is a *ScriptError, or of reading.
func (sc *Script) Rows() ([]Row, error) {
	var rows []Row
	for {
		row, err := sc.Next()
		if errors.Is(err, io.EOF) {
			return rows, nil
		}
		if err != nil {
			return nil, err
		}
		rows = append(rows, row)
	}
}

// end gives the time after the last row by which a run without a given length
// stops; infinity while rows are still to come.
func (sc *Script) end() float64 {
	switch {
	case !sc.done || sc.next != nil:
		return math.Inf(1)
	case math.IsInf(sc.last, -1) || sc.p == nil:
		return Beyond
	}
	return max(sc.last, 0) + Beyond
}

// Time gives the time of a frame of a run, seconds from power-on.
func (p *Program) Time(frame int64) float64 {
	return float64(frame*int64(p.setup.Transmitter.FrameMS)) / 1000
}

// Due tells whether a row acts in the frame at t seconds, if it has not before.
func (r *Row) Due(t float64) bool { return t >= r.T-timeSlack }

// Within tells whether the frame at t seconds is in a run of forS seconds.
func Within(t, forS float64) bool { return t <= forS+timeSlack }

// Beyond is how long a run goes on after its last row where nobody says for how long, seconds.
const Beyond = 2.0

// Run plays a script from power-on and calls frame after each step, while the
// time of the frame is at most forS + 1e-9; a negative forS stands for 2 s
// beyond the last row. It stops at the first error of the script or of frame.
func (p *Program) Run(script *Script, forS float64, frame func(t float64, st *State) error) error {
	st, hands := p.PowerOn(), p.Rest()
	for k := int64(0); ; k++ {
		t := p.Time(k)
		if err := script.apply(t, hands); err != nil {
			return err
		}
		end := forS
		if forS < 0 {
			end = script.end()
		}
		if !Within(t, end) {
			return script.drain()
		}
		p.Step(st, hands)
		if err := frame(t, st); err != nil {
			return err
		}
	}
}
