package session

import (
	"axtren/core/signal"
	"axtren/core/stage"
)

// Scene is the picture of the model beside one running state.
type Scene struct {
	Stage   *stage.Stage
	Picture *stage.Picture
	State   *stage.State
}

// newScene puts the picture of a program where it starts.
func newScene(p *signal.Program) *Scene {
	g := stage.Build(p)
	return &Scene{Stage: g, Picture: g.Picture(), State: g.Start()}
}

// carry gives the picture of an edited program; the model stays where it is.
func (s *Scene) carry(p *signal.Program) *Scene {
	now := newScene(p)
	if s != nil {
		now.State = now.Stage.Carry(s.Stage, s.State)
	}
	return now
}

func (s *Scene) step(on *signal.State) { s.Stage.Step(s.State, on) }

// numbers puts what is drawn behind the values of a view.
func (s *Scene) numbers(values []float64) []float64 { return s.Stage.Numbers(s.State, values) }
