package live

import (
	"slices"
	"strconv"
	"strings"

	"axtren/app/web/contract"
	"axtren/core/signal"
	"axtren/core/stage"
)

// scene is the picture of the model beside one running state.
type scene struct {
	stage   *stage.Stage
	picture *stage.Picture
	state   *stage.State
	told    stage.Words
	wait    int
}

// newScene puts the picture of a program where it starts.
func newScene(p *signal.Program) scene {
	g := stage.Build(p)
	return scene{stage: g, picture: g.Picture(), state: g.Start()}
}

// carry gives the picture of an edited program; the model stays where it is.
func (s *scene) carry(p *signal.Program) scene {
	now := newScene(p)
	if s.stage != nil {
		now.state = now.stage.Carry(s.stage, s.state)
	}
	return now
}

func (s *scene) step(on *signal.State) { s.stage.Step(s.state, on) }

// numbers puts what is drawn behind the values of a view.
func (s *scene) numbers(values []float64) []float64 { return s.stage.Numbers(s.state, values) }

// shown is the picture that the page sees: beside the hands, or beside what plays.
func (b *bench) shown() *scene {
	if b.player != nil {
		return &b.player.scene
	}
	return &b.scene
}

// wordsEvery is how many frames lie between two looks at what the picture says.
const wordsEvery = 8

// words makes the words beside the picture where they differ from the last.
func (b *bench) words() (msg *contract.FromBench, sent func()) {
	s := b.shown()
	if s.wait--; s.wait > 0 {
		return nil, nil
	}
	s.wait = wordsEvery
	now := s.stage.Words(s.state, b.state)
	if now.Head == s.told.Head && slices.Equal(now.More, s.told.More) {
		return nil, nil
	}
	return &contract.FromBench{T: contract.FromBenchTStage, Words: &now}, func() { s.told = now }
}

// onStage puts the model back, or makes a drill. A drill is played through from
// every stance beside the bench, and its words come when they are done.
func (b *bench) onStage(msg *contract.ToBench) {
	switch {
	case msg.Drill == nil || *msg.Drill == "":
		b.shown().state.PutBack()
	case b.drilling.CompareAndSwap(false, true):
		g, kind, hands := b.scene.stage, string(*msg.Drill), slices.Clone(b.now)
		on, st := b.program.PowerOn(), b.scene.state.Copy()
		on.CopyFrom(b.live)
		b.drillHands = hands
		go func() {
			defer b.drilling.Store(false)
			done := g.Drill(kind, hands, on, st)
			b.box.put(func(m *mail) { m.drill = &contract.FromBench{T: contract.FromBenchTDrilled, Drill: done} })
		}()
	}
}

// drillScript gives the script of a stance of a drill by its name,
// drill/switch_on/3; empty where there is none.
func (b *bench) drillScript(name string) []byte {
	steps := strings.Split(name, "/")
	if len(steps) != 3 || steps[0] != "drill" || b.drillHands == nil || len(b.drillHands) != len(b.now) {
		return nil
	}
	stance, err := strconv.Atoi(steps[2])
	if err != nil {
		return nil
	}
	return []byte(b.scene.stage.Script(steps[1], stance, b.drillHands))
}
