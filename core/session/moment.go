package session

import (
	"slices"

	"axtren/core/signal"
	"axtren/core/stage"
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
	on := s.runs.Program.PowerOn()
	on.CopyFrom(s.live)
	return s.NewMoment(on, s.scene.State.Copy(), slices.Clone(s.now))
}

// NewMoment gives a moment that was made beside a session, on the program and the stage that it runs.
func (s *Session) NewMoment(on *signal.State, st *stage.State, hands signal.Hands) *Moment {
	return &Moment{Program: s.runs.Program, State: on, hands: hands,
		scene: &Scene{Stage: s.scene.Stage, Picture: s.scene.Picture, State: st}}
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
