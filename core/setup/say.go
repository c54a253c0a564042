package setup

import "strings"

// TruthWords says a truth reference as people say it: Lamp switch at lit, Hazard
// lamps is off. What leads nowhere is said as it is written.
func (s *Setup) TruthWords(t Truth) string {
	f, err := s.Fact(t)
	if err != nil {
		return string(t)
	}
	if f.Kind == FactPowerOn {
		if f.Not {
			return "any time but the first moment"
		}
		return "the first moment after power-on"
	}
	not := ""
	if f.Not {
		not = "not "
	}
	at := func(name Name) string { return " " + not + "at " + name.Words() }
	switch f.Kind {
	case FactPosition:
		return s.ControlLabel(f.Index) + at(s.Transmitter.Controls[f.Index].Switch.Positions[f.Sub])
	case FactStep:
		st := &s.Steppers[f.Index]
		return Called(st.Label, st.ID) + at(st.Steps[f.Sub].Name)
	case FactSequence:
		sq := &s.Sequences[f.Index]
		return Called(sq.Label, sq.ID) + " " + not + sequenceStates[f.Sub]
	}
	b := &s.Logic[f.Index]
	if f.Not {
		return Called(b.Label, b.ID) + " is off"
	}
	return Called(b.Label, b.ID) + " is on"
}

// SourceWords says a source as people say it: Right stick, forward; Boom as asked;
// Unfold, leg; a number as it is. What leads nowhere is said as it is written.
func (s *Setup) SourceWords(v Value) string {
	src, err := s.Source(v)
	if err != nil {
		return v.String()
	}
	if v.Ref == "" {
		return strings.Replace(v.String(), "-", "−", 1)
	}
	switch src.Kind {
	case SourceControl:
		return s.ControlLabel(src.Index)
	case SourceDemand:
		return s.DemandLabel(src.Index)
	case SourceAsked:
		return s.OutputLabel(src.Index) + " as asked"
	case SourceBlock:
		return Called(s.Logic[src.Index].Label, s.Logic[src.Index].ID)
	case SourceStepper:
		return Called(s.Steppers[src.Index].Label, s.Steppers[src.Index].ID)
	case SourcePattern:
		return Called(s.Patterns[src.Index].Label, s.Patterns[src.Index].ID)
	case SourceTrack:
		sq := &s.Sequences[src.Index]
		return Called(sq.Label, sq.ID) + ", " + sq.Tracks[src.Sub].Name.Words()
	}
	return v.String()
}

// Words says what a share does with more than there is.
func (sh *Share) Words() string {
	return map[string]string{"clip": "each is cut alone", "scale": "all come down together", "keep_turn": "the turn is kept"}[sh.Rule]
}
