package session

import (
	"bytes"
	"errors"
	"io"
	"math"
	"slices"

	"axtren/core/signal"
)

// MaxRun is how many frames a frame may play, and catchUp how many it may take
// to get to where it was sent.
const (
	MaxRun  = 20
	catchUp = 4000
)

// Player plays a script on a program instead of the hands. What it shows is a
// state of its own: the session goes on from its own when the play is over.
type Player struct {
	id      string
	script  []byte
	program *signal.Program
	rows    []signal.Row
	frames  []int64 // of each row, the frame in which it is due
	next    int     // the row that is due next
	state   *signal.State
	scene   *Scene
	hands   signal.Hands
	from    *Moment // where it begins; nil: with power-on
	at      int64   // the frame that state shows, -1 before the first
	target  int64   // the frame to get to
	last    int64
	run     float64 // frames a frame
	due     float64 // what of a frame is due already
	steps   int64   // frames played so far, forwards and again
	why     string  // why it cannot be played
}

// newPlayer reads a script for a program, from power-on or from a moment. A script that does not fit is a
// player that plays nothing and says why.
func newPlayer(w *Wish, p *signal.Program, run float64, target int64) *Player {
	pl := &Player{id: w.ID, script: w.Script, program: p, state: p.PowerOn(), scene: newScene(p), run: run}
	if w.From != nil {
		pl.from = w.From.On(p)
	}
	frame := p.Setup().Transmitter.FrameS()
	sc := signal.NewScript(bytes.NewReader(w.Script), p)
	for {
		row, err := sc.Next()
		if errors.Is(err, io.EOF) {
			break
		}
		if err != nil {
			pl.why, pl.rows = err.Error(), nil
			break
		}
		pl.rows = append(pl.rows, row)
		pl.frames = append(pl.frames, max(int64(math.Ceil((row.T-1e-9)/frame-1e-9)), 0))
	}
	if w.Why != "" {
		pl.why = w.Why
	}
	if pl.rows != nil {
		pl.last = pl.frames[len(pl.frames)-1] + int64(2/frame)
	}
	pl.rewind()
	pl.target = min(max(target, 0), pl.last)
	return pl
}

// on gives the same play at the same frame on the program of an edited model.
func (pl *Player) on(p *signal.Program) *Player {
	now := newPlayer(&Wish{ID: pl.id, Script: pl.script, From: pl.from}, p, pl.run, pl.target)
	now.show()
	return now
}

// ID gives what it plays, by the name that Play was told.
func (pl *Player) ID() string { return pl.id }

// At gives the frame that is shown, Of the last one, Run how many frames a frame plays.
func (pl *Player) At() int64 { return max(pl.at, 0) }

// Of gives the last frame.
func (pl *Player) Of() int64 { return pl.last }

// Run gives how many frames a frame plays; 0: it stands.
func (pl *Player) Run() float64 { return pl.run }

// Steps counts the frames that were played so far, forwards and again.
func (pl *Player) Steps() int64 { return pl.steps }

// Why says why it cannot be played; empty where it can.
func (pl *Player) Why() string { return pl.why }

// rewind goes back to before the first frame, or to the moment that is the first; the state stays the one
// that is shown.
func (pl *Player) rewind() {
	if from := pl.from; from != nil {
		pl.state.CopyFrom(from.State)
		pl.hands, pl.at, pl.next = slices.Clone(from.hands), 0, 0
		pl.scene.State = from.scene.State.Copy()
		return
	}
	pl.state.CopyFrom(pl.program.PowerOn())
	pl.hands, pl.at, pl.next = pl.program.Rest(), -1, 0
	pl.scene.State = pl.scene.Stage.Start()
}

// show goes towards the first frame that is to be shown; a moment shows itself.
func (pl *Player) show() {
	if pl.at != pl.target {
		pl.Step()
	}
}

// Step plays what a frame of the session has room for.
func (pl *Player) Step() {
	if pl.target == pl.at && pl.run > 0 {
		pl.due += pl.run
		whole := math.Floor(pl.due)
		pl.due -= whole
		if pl.target = min(pl.at+int64(whole), pl.last); pl.target == pl.last {
			pl.run = 0
		}
	}
	if pl.target < pl.at {
		pl.rewind()
	}
	for n := 0; pl.at < pl.target && n < catchUp; n++ {
		pl.at++
		for pl.next < len(pl.rows) && pl.frames[pl.next] <= pl.at {
			pl.hands[pl.rows[pl.next].Hand] = pl.rows[pl.next].Value
			pl.next++
		}
		pl.program.Step(pl.state, pl.hands)
		pl.scene.step(pl.state)
		pl.steps++
	}
}

// Marks thins the frames in which a hand moved to what a ruler can show.
func (pl *Player) Marks() []int64 {
	all := slices.Compact(append([]int64{}, pl.frames...))
	if len(all) <= 200 {
		return all
	}
	marks := make([]int64, 200)
	for i := range marks {
		marks[i] = all[i*len(all)/200]
	}
	return marks
}

// Wish is what is wanted of a play. What is nil stays as it is.
type Wish struct {
	ID     string   // what is to be played; another one begins anew
	Script []byte   // none: what is played already
	From   *Moment  // where it begins; nil: with power-on
	Run    *float64 // frames a frame, at most MaxRun
	Seek   *int64   // the frame to go to
	Why    string   // why there is no script
}

// Play starts what is wanted, or steers it where it plays already.
func (s *Session) Play(w *Wish) {
	run, target := 1.0, int64(0)
	same := s.player != nil && s.player.id == w.ID
	if same {
		run, target = s.player.run, s.player.target
	}
	if w.Run != nil {
		run = min(max(*w.Run, 0), MaxRun)
	}
	if w.Seek != nil {
		target = *w.Seek
	}
	if pl := s.player; same && (len(w.Script) == 0 && w.Why == "" || bytes.Equal(pl.script, w.Script)) {
		pl.run, pl.target = run, min(max(target, 0), pl.last)
		if run > 0 && pl.target == pl.last && w.Seek == nil {
			pl.target = 0 // once more from the start
		}
		return
	}
	s.player = newPlayer(w, s.runs.Program, run, target)
	s.player.show()
}

// EndPlay gives the session back to the hands.
func (s *Session) EndPlay() { s.player = nil }
