package setup

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
