package setup

import (
	"cmp"
	"fmt"
	"slices"
	"strings"
)

// Rest is where a sprung axis rests, or an unsprung one wakes: percent.
func (a *Axis) Rest() float64 {
	switch {
	case a.Spring == "low":
		return -100
	case a.Start != nil:
		return *a.Start
	}
	return 0
}

// Springs tells whether a control goes back to its rest when it is let go of.
func (c *Control) Springs() bool {
	return c.Switch != nil && c.Switch.SpringTo != nil || c.Axis != nil && c.Axis.Spring != "none"
}

// Rest is the position, from 0, in which a sprung switch rests or an unsprung
// one wakes.
func (s *Switch) Rest() int {
	at := s.SpringTo
	if at == nil {
		at = s.Start
	}
	for i, p := range s.Positions {
		if at != nil && p == *at {
			return i
		}
	}
	return 0
}

// Sent gives the transmitter channel that receiver channel k carries.
func (l *Link) Sent(k int) int {
	if k >= 1 && k <= len(l.Order) {
		return l.Order[k-1]
	}
	return k
}

// OutputOn gives the index of the output on a transmitter channel, -1 for none.
func (s *Setup) OutputOn(channel int) int {
	for i, o := range s.Outputs {
		if o.Channel == channel {
			return i
		}
	}
	return -1
}

// PinRef names the Pin-th pin of the Receiver-th receiver, both indices.
type PinRef struct{ Receiver, Pin int }

// Item gives the pin as a part of the document.
func (r PinRef) Item() Item { return Item{Kind: IsPin, Index: r.Receiver, Sub: r.Pin} }

// Pin gives a pin, with its receiver.
func (s *Setup) Pin(ref PinRef) (*Receiver, *Pin) {
	rx := &s.Receivers[ref.Receiver]
	return rx, &rx.Pins[ref.Pin]
}

// byName gives the indices of the tracks in the order of their names.
func (t Tracks) byName() []int {
	order := make([]int, len(t))
	for i := range order {
		order[i] = i
	}
	slices.SortFunc(order, func(a, b int) int { return cmp.Compare(t[a].Name, t[b].Name) })
	return order
}

// ColumnKind says what a column of a trace holds.
type ColumnKind uint8

// The kinds of column, in the order in which a trace has them.
const (
	OutputPct    ColumnKind = iota // p after slew, percent, 4 decimals
	OutputUS                       // pulse as sent, 2 decimals
	BlockState                     // 0 or 1
	StepperStep                    // the step's name
	TrackValue                     // percent, 4 decimals
	PatternValue                   // percent, 4 decimals
	PinUS                          // pulse, 2 decimals, empty for none
	PinOn                          // 0 or 1
	DeviceStep                     // step of a step box, from 1
	DeviceMotor                    // motor of a speed controller, 4 decimals
	DeviceBrake
	DeviceAt // position, 4 decimals
	DeviceOn // 0 or 1
	Said     // 1 in the frame of an announcement
)

// Column is one column of a trace after t_s: docs/format.md, section 11.
type Column struct {
	Name       string
	Kind       ColumnKind
	Index, Sub int    // of the output, block, track (Sub), pin (Sub), ...
	Path       string // what it belongs to
	Owner      ID     // the same by its id
}

// Columns lists the columns of a trace in order, t_s left out.
func (s *Setup) Columns() []Column {
	var cols []Column
	add := func(kind ColumnKind, item ItemKind, i, sub int, id ID, more string) {
		cols = append(cols, Column{string(id) + more, kind, i, sub, Item{Kind: item, Index: i}.Path(), id})
	}
	for i, o := range s.Outputs {
		add(OutputPct, IsOutput, i, 0, o.ID, "_pct")
		add(OutputUS, IsOutput, i, 0, o.ID, "_us")
	}
	for i, b := range s.Logic {
		add(BlockState, IsBlock, i, 0, b.ID, "")
	}
	for i, st := range s.Steppers {
		add(StepperStep, IsStepper, i, 0, st.ID, "")
	}
	for i, sq := range s.Sequences {
		for _, t := range sq.Tracks.byName() {
			add(TrackValue, IsSequence, i, t, sq.ID, "."+string(sq.Tracks[t].Name))
		}
	}
	for i, p := range s.Patterns {
		add(PatternValue, IsPattern, i, 0, p.ID, "")
	}
	for i, r := range s.Receivers {
		for j, p := range r.Pins {
			pin := fmt.Sprintf(".%d", p.Pin)
			if p.Switch != nil {
				add(PinOn, IsReceiver, i, j, r.ID, pin+"_on")
			} else {
				add(PinUS, IsReceiver, i, j, r.ID, pin+"_us")
			}
		}
	}
	for i, dev := range s.Devices {
		if of, ok := dev.Spec.(interface{ columns() []deviceColumn }); ok {
			for _, column := range of.columns() {
				add(column.kind, IsDevice, i, 0, dev.ID, column.ending)
			}
		}
	}
	for i, a := range s.Announcements {
		add(Said, IsAnnouncement, i, 0, a.ID, "_said")
	}
	return cols
}

// OutputLabel gives the label of output i, its id where it has none.
func (s *Setup) OutputLabel(i int) string { return s.Label(IsOutput.At(i)) }

// ControlLabel gives the label of control i, its id where it has none.
func (s *Setup) ControlLabel(i int) string { return s.Label(IsControl.At(i)) }

// DemandLabel gives the label of demand i, its id where it has none.
func (s *Setup) DemandLabel(i int) string { return s.Label(IsDemand.At(i)) }

// DeviceLabel gives the label of device i, its id where it has none.
func (s *Setup) DeviceLabel(i int) string { return s.Label(IsDevice.At(i)) }

// Words says the name of a position, a step or a track as people do.
func (n Name) Words() string { return strings.ReplaceAll(string(n), "_", " ") }
