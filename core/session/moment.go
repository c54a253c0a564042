package session

import (
	"slices"

	"axtren/core/signal"
)

// Moment is how all stood in a frame of a session, kept: what is played can begin there.
type Moment struct {
	Program *signal.Program
	State   *signal.State
	hands   signal.Hands
	scene   *Scene
}

// Moment keeps how all stands now, by the hands.
func (s *Session) Moment() *Moment {
	m := &Moment{Program: s.runs.Program, State: s.runs.Program.PowerOn(), hands: slices.Clone(s.now)}
	m.State.CopyFrom(s.live)
	m.scene = &Scene{Stage: s.scene.Stage, Picture: s.scene.Picture, State: s.scene.State.Copy()}
	return m
}

// On gives the same moment of another program: hands by what they move, and what is carried over an edit.
func (m *Moment) On(p *signal.Program) *Moment {
	if p == m.Program {
		return m
	}
	now := &Moment{Program: p, hands: p.Rest(), scene: m.scene.carry(p)}
	for hand, id := range p.HandIDs() {
		before, ok := m.Program.Hand(id)
		if !ok {
			continue
		}
		value, err := p.HandValue(id, m.Program.HandWord(id, m.hands[before]))
		if err == nil {
			now.hands[hand] = value
		}
	}
	now.State = p.Carry(m.Program, m.State, now.hands)
	return now
}
