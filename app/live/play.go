package live

import (
	"bytes"
	"context"
	"errors"
	"io"
	"math"
	"slices"

	"github.com/google/uuid"

	"axtren/app/web/contract"
	"axtren/core/signal"
	"axtren/core/stage"
)

// playWish is what a page wants of the player. What is nil stays as it is.
type playWish struct {
	id     string // of the recording; empty ends the play
	script []byte // nil: the one that plays
	run    *float64
	seek   *int64
	why    string // why there is no script
}

// maxRun is how many frames a frame may play, and catchUp how many it may take
// to get to where it was sent.
const (
	maxRun  = 20
	catchUp = 4000
)

// wish fetches what a play message asks for; it runs beside the bench.
func (b *bench) wish(ctx context.Context, msg *contract.ToBench) {
	w := &playWish{run: msg.Run, seek: msg.Seek}
	if msg.Recording != nil {
		w.id = *msg.Recording
	}
	if id, err := uuid.Parse(w.id); err == nil {
		r, err := b.from.Recording(ctx, b.model, id)
		if err != nil {
			w.why = err.Error()
		} else {
			w.script = []byte(r.Script)
		}
	}
	b.box.put(func(m *mail) {
		if before := m.play; before != nil && before.id == w.id {
			if w.run == nil {
				w.run = before.run
			}
			if w.seek == nil {
				w.seek = before.seek
			}
		}
		m.play = w
	})
}

// player plays a script on a program instead of the hands. What it shows is a
// state of its own: the bench goes on from its own when the play is over.
type player struct {
	id      string
	script  []byte
	program *signal.Program
	rows    []signal.Row
	frames  []int64 // of each row, the frame in which it is due
	next    int     // the row that is due next
	state   *signal.State
	scene   scene
	hands   signal.Hands
	at      int64 // the frame that state shows, -1 before the first
	target  int64 // the frame to get to
	last    int64
	run     float64 // frames a frame
	due     float64 // what of a frame is due already
	stepped bool    // since the page was told
	why     string  // why it cannot be played
}

// newPlayer reads a script for a program. A script that does not fit is a player
// that plays nothing and says why.
func newPlayer(id string, script []byte, p *signal.Program, run float64, target int64) *player {
	pl := &player{id: id, script: script, program: p, state: p.PowerOn(), scene: newScene(p), run: run}
	frame := p.Setup().Transmitter.FrameS()
	sc := signal.NewScript(bytes.NewReader(script), p)
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
	if pl.rows != nil {
		pl.last = pl.frames[len(pl.frames)-1] + int64(2/frame)
	}
	pl.rewind()
	pl.target = min(max(target, 0), pl.last)
	return pl
}

// rewind goes back to before the first frame; the state stays the one that is shown.
func (pl *player) rewind() {
	pl.state.CopyFrom(pl.program.PowerOn())
	pl.hands, pl.at, pl.next = pl.program.Rest(), -1, 0
	pl.scene.state = pl.scene.stage.Start()
}

// frame plays what a frame of the bench has room for.
func (pl *player) frame() {
	if pl.target <= pl.at && pl.run > 0 {
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
		pl.stepped = true
	}
}

// marks thins the frames in which a hand moved to what a ruler can show.
func (pl *player) marks() []int64 {
	all := slices.Compact(slices.Clone(pl.frames))
	if len(all) <= 200 {
		return all
	}
	marks := make([]int64, 200)
	for i := range marks {
		marks[i] = all[i*len(all)/200]
	}
	return marks
}

// obey starts, steers and ends a play.
func (b *bench) obey(w *playWish) {
	if w.id == "" {
		b.endPlay()
		return
	}
	if w.script == nil && w.why == "" {
		if w.script = b.drillScript(w.id); len(w.script) == 0 {
			return
		}
	}
	run, target := 1.0, int64(0)
	if b.player != nil && b.player.id == w.id {
		run, target = b.player.run, b.player.target
	}
	if w.run != nil {
		run = min(max(*w.run, 0), maxRun)
	}
	if w.seek != nil {
		target = *w.seek
	}
	if pl := b.player; pl != nil && pl.id == w.id && bytes.Equal(pl.script, w.script) {
		pl.run, pl.target = run, min(max(target, 0), pl.last)
		if run > 0 && pl.target == pl.last && w.seek == nil {
			pl.target = 0 // once more from the start
		}
		b.played = false
		return
	}
	b.player = newPlayer(w.id, w.script, b.program, run, target)
	if w.why != "" {
		b.player.why = w.why
	}
	b.player.frame()
	b.state, b.played, b.whySent = b.player.state, false, false
}

// replay puts what plays onto the program of an edited model, at the same frame.
func (b *bench) replay() {
	old := b.player
	b.player = newPlayer(old.id, old.script, b.program, old.run, old.target)
	b.player.frame()
	b.state, b.played = b.player.state, false
}

// endPlay gives the bench back to the hands.
func (b *bench) endPlay() {
	if b.player != nil {
		b.player, b.state, b.played, b.whySent = nil, b.live, false, false
		b.scene.told, b.scene.wait = stage.Words{}, 0
	}
}

// playing says where the play is; whole with what does not change.
func (b *bench) playing(whole bool) *contract.FromBench {
	play := contract.Playing{}
	if pl := b.player; pl != nil {
		play = contract.Playing{Recording: pl.id, At: max(pl.at, 0), Of: pl.last, Run: pl.run}
		if whole {
			marks := pl.marks()
			play.Marks = &marks
			if pl.why != "" {
				play.Why = &pl.why
			}
		}
	}
	return &contract.FromBench{T: contract.FromBenchTPlayed, Play: &play}
}
