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
	label := s.Label(f.Item())
	switch f.Kind {
	case setup.FactPosition:
		return label + " " + not + "at " + s.Transmitter.Controls[f.Index].Switch.Positions[f.Sub].Words()
	case setup.FactStep:
		return label + " " + not + "at " + s.Steppers[f.Index].Steps[f.Sub].Name.Words()
	case setup.FactSequence:
		return label + " " + not + setup.SequenceStates[f.Sub]
	}
	if f.Not {
		return label + " is off"
	}
	return label + " is on"
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
	label := s.Label(src.Item())
	switch src.Kind {
	case setup.SourceAsked:
		return label + " as asked"
	case setup.SourceTrack:
		return label + ", " + s.Sequences[src.Index].Tracks[src.Sub].Name.Words()
	}
	return label
}
