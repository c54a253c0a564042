package words

import (
	"strings"

	"axtren/core/setup"
)

// Truth says a truth reference as people say it: Lamp switch at lit, Hazard
// lamps is off. What leads nowhere is said as it is written.
func Truth(s *setup.Setup, t setup.Truth) string {
	f, err := s.Fact(t)
	if err != nil {
		return string(t)
	}
	if f.Kind == setup.FactPowerOn {
		if f.Not {
			return "any time but the first moment"
		}
		return "the first moment after power-on"
	}
	not := ""
	if f.Not {
		not = "not "
	}
	at := func(name setup.Name) string { return " " + not + "at " + name.Words() }
	switch f.Kind {
	case setup.FactPosition:
		return s.ControlLabel(f.Index) + at(s.Transmitter.Controls[f.Index].Switch.Positions[f.Sub])
	case setup.FactStep:
		st := &s.Steppers[f.Index]
		return setup.Called(st.Label, st.ID) + at(st.Steps[f.Sub].Name)
	case setup.FactSequence:
		sq := &s.Sequences[f.Index]
		return setup.Called(sq.Label, sq.ID) + " " + not + setup.SequenceStates[f.Sub]
	}
	b := &s.Logic[f.Index]
	if f.Not {
		return setup.Called(b.Label, b.ID) + " is off"
	}
	return setup.Called(b.Label, b.ID) + " is on"
}

// Source says a source as people say it: Right stick, forward; Boom as asked;
// Unfold, leg; a number as it is. What leads nowhere is said as it is written.
func Source(s *setup.Setup, v setup.Value) string {
	src, err := s.Source(v)
	if err != nil {
		return v.String()
	}
	if v.Ref == "" {
		return strings.Replace(v.String(), "-", "−", 1)
	}
	switch src.Kind {
	case setup.SourceControl:
		return s.ControlLabel(src.Index)
	case setup.SourceDemand:
		return s.DemandLabel(src.Index)
	case setup.SourceAsked:
		return s.OutputLabel(src.Index) + " as asked"
	case setup.SourceBlock:
		return setup.Called(s.Logic[src.Index].Label, s.Logic[src.Index].ID)
	case setup.SourceStepper:
		return setup.Called(s.Steppers[src.Index].Label, s.Steppers[src.Index].ID)
	case setup.SourcePattern:
		return setup.Called(s.Patterns[src.Index].Label, s.Patterns[src.Index].ID)
	case setup.SourceTrack:
		sq := &s.Sequences[src.Index]
		return setup.Called(sq.Label, sq.ID) + ", " + sq.Tracks[src.Sub].Name.Words()
	}
	return v.String()
}
