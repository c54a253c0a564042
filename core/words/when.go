package words

import (
	"strings"

	"axtren/core/setup"
)

// While says that a condition holds, as a sentence goes on after "while": Left button is held, Water lock is
// at locked, Hazard lamps is off. What leads nowhere is said as it is written.
func While(s *setup.Setup, t setup.Truth) string {
	return clause(s, t, clauses{
		held: "is held", free: "is let go", heldAt: "is held at %", notHeldAt: "is not held at %",
		at: "is at %", notAt: "is not at %", on: "is on", off: "is off",
		states:    [3]string{"is at rest", "is moving", "is done"},
		notStates: [3]string{"is not at rest", "is not moving", "is not done"},
		first:     "it is the first moment after power-on", later: "it is not the first moment after power-on"})
}

// When says that a condition comes to hold, as a sentence goes on after "when": Left button is pressed, Water
// lock goes to locked, Hazard lamps goes off.
func When(s *setup.Setup, t setup.Truth) string {
	return clause(s, t, clauses{
		held: "is pressed", free: "is let go", heldAt: "goes to %", notHeldAt: "leaves %",
		at: "goes to %", notAt: "leaves %", on: "goes on", off: "goes off",
		states:    [3]string{"comes to rest", "begins to move", "is done"},
		notStates: [3]string{"leaves its rest", "stops", "leaves its end"},
		first:     "the transmitter is turned on", later: "the first moment after power-on is over"})
}

// Became says that a condition came to hold, as a sentence goes on after "because": Left button was
// pressed, Water
// lock went to locked, Hazard lamps went off.
func Became(s *setup.Setup, t setup.Truth) string {
	return clause(s, t, clauses{
		held: "was pressed", free: "was let go", heldAt: "went to %", notHeldAt: "left %",
		at: "went to %", notAt: "left %", on: "went on", off: "went off",
		states:    [3]string{"came to rest", "began to move", "was done"},
		notStates: [3]string{"left its rest", "stopped", "left its end"},
		first:     "the transmitter was turned on", later: "the first moment after power-on was over"})
}

// clauses are the verbs of conditions: % stands for a position or a step.
type clauses struct {
	held, free, heldAt, notHeldAt, at, notAt, on, off string
	states, notStates                                 [3]string // of a sequence, in the order of Fact.Sub
	first, later                                      string
}

func clause(s *setup.Setup, t setup.Truth, c clauses) string {
	f, err := s.Fact(t)
	if err != nil {
		return string(t)
	}
	choose := func(yes, no string) string {
		if f.Not {
			return no
		}
		return yes
	}
	if f.Kind == setup.FactPowerOn {
		return choose(c.first, c.later)
	}
	var verb, name string
	switch f.Kind {
	case setup.FactPosition:
		sw := s.Transmitter.Controls[f.Index].Switch
		here := sw.Positions[f.Sub]
		name = here.Words()
		switch {
		case sw.SpringTo == nil && f.Not && len(sw.Positions) == 2: // it is at the other one
			verb, name = c.at, sw.Positions[1-f.Sub].Words()
		case sw.SpringTo == nil:
			verb = choose(c.at, c.notAt)
		case len(sw.Positions) == 2:
			if (here == *sw.SpringTo) != f.Not {
				verb = c.free
			} else {
				verb = c.held
			}
		default:
			verb = choose(c.heldAt, c.notHeldAt)
			if here == *sw.SpringTo {
				verb = choose(c.at, c.notAt)
			}
		}
	case setup.FactStep:
		verb, name = choose(c.at, c.notAt), s.Steppers[f.Index].Steps[f.Sub].Name.Words()
	case setup.FactSequence:
		verb = choose(c.states[f.Sub], c.notStates[f.Sub])
	default:
		verb = choose(c.on, c.off)
	}
	return s.Label(f.Item()) + " " + strings.Replace(verb, "%", name, 1)
}
