package live

import (
	"slices"
	"strconv"
	"strings"
	"sync/atomic"

	"axtren/app/contract"
	"axtren/core/session"
	"axtren/core/signal"
	"axtren/core/stage"
)

// wordsEvery is how many frames lie between two looks at what the picture says.
const wordsEvery = 8

// stageFeature tells what the picture says in words, puts the model back, and plays drills
// through from every stance.
type stageFeature struct {
	told    stage.Words
	toldOf  *session.Scene // whose words they are
	every                  // between two looks at the words
	drilled *stage.Drill   // not sent yet
	busy    atomic.Bool    // a drill runs beside the bench
	hands   signal.Hands   // of the last drill
}

func (f *stageFeature) take(b *bench, msg *contract.Asked) {
	if msg.Drill == nil || *msg.Drill == "" {
		b.session.Scene().State.PutBack()
		return
	}
	runs, scene := b.session.Runs(), b.session.LiveScene()
	g, kind, hands := scene.Stage, *msg.Drill, slices.Clone(b.session.Hands())
	on, st := runs.Program.PowerOn(), scene.State.Copy()
	on.CopyFrom(b.session.Live())
	started := b.beside(&f.busy, func() func() {
		done := g.Drill(kind, hands, on, st)
		return func() { f.drilled = done }
	})
	if started {
		f.hands = hands
	}
}

func (f *stageFeature) next(b *bench) (*contract.Told, func()) {
	if f.drilled != nil {
		return &contract.Told{T: contract.FromDrilled, Drill: f.drilled}, func() { f.drilled = nil }
	}
	return f.words(b)
}

// words makes the words beside the picture where they differ from the last.
func (f *stageFeature) words(b *bench) (*contract.Told, func()) {
	scene := b.session.Scene()
	if scene != f.toldOf {
		f.told, f.toldOf, f.every = stage.Words{}, scene, every{}
	}
	if !f.due(wordsEvery) {
		return nil, nil
	}
	now := scene.Stage.Words(scene.State, b.session.State())
	if now.Head == f.told.Head && slices.Equal(now.More, f.told.More) && slices.Equal(now.Row, f.told.Row) {
		return nil, nil
	}
	return &contract.Told{T: contract.FromStage, Words: &now}, func() { f.told = now }
}

// script finds the script of a stance of the last drill by its name, drill/switch_on/3.
func (f *stageFeature) script(b *bench, w *session.Wish) {
	steps := strings.Split(w.ID, "/")
	if len(steps) != 3 || steps[0] != "drill" || f.hands == nil || len(f.hands) != len(b.session.Hands()) {
		return
	}
	if stance, err := strconv.Atoi(steps[2]); err == nil {
		g := b.session.LiveScene().Stage
		w.Script = []byte(g.Script(steps[1], stance, f.hands))
		if on, st, hands := g.Begin(steps[1], stance, f.hands); on != nil {
			w.From = b.session.NewMoment(on, st, hands)
		}
	}
}
