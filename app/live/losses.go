package live

import (
	"bytes"
	"context"
	"errors"
	"runtime"
	"strconv"
	"strings"
	"sync/atomic"
	"time"

	"github.com/google/uuid"

	"axtren/app/contract"
	"axtren/core/loss"
	"axtren/core/session"
	"axtren/core/setup"
	"axtren/core/signal"
)

// What a drill on a server takes, and how often its progress is looked at.
const (
	lossesWithin = 60 * time.Second
	lossesEvery  = 10 // frames
	lossAfterS   = 1.0
	lossBackS    = 1.0
	longestCutS  = 3600 // when a signal can be cut, at the latest
)

// ofBench is the run of a drill that was made on this bench.
const ofBench = "bench"

// lossesFeature cuts the signal at every moment of a run, anew for every revision, and plays the moments that
// are worst.
type lossesFeature struct {
	proofs *proofs
	run    *string         // what is wanted; nil: nothing
	doc    *setup.Document // of which it is played, or was
	asked  int             // how many drills were begun
	cuts   atomic.Int64    // of the one that runs
	of     atomic.Int64
	found  *drilled
	told   contract.LossesTold
	isTold bool
	stop   context.CancelFunc
	busy   atomic.Bool
	every
}

// drilled is a drill that was played.
type drilled struct {
	told loss.Told
	why  string
	p    *signal.Program
	rows []signal.Row
}

// take begins, or ends, the drill of a run.
func (f *lossesFeature) take(_ *bench, msg *contract.Asked) {
	f.close()
	f.run, f.doc, f.found, f.isTold, f.every = nil, nil, nil, false, every{}
	f.asked++
	if msg.Wanted != nil && *msg.Wanted {
		run := ""
		if msg.Recording != nil {
			run = *msg.Recording
		}
		f.run = &run
	}
}

// close ends the drill that runs.
func (f *lossesFeature) close() {
	if f.stop != nil {
		f.stop()
	}
}

func (f *lossesFeature) next(b *bench) (*contract.Told, func()) {
	if f.run == nil || !f.due(lossesEvery) {
		return nil, nil
	}
	if newest := b.session.Newest(); newest.Doc != f.doc {
		f.close()
		f.asked++
		f.found, f.isTold = nil, false
		if f.begin(b, newest.Program) {
			f.doc = newest.Doc
		}
	}
	now := contract.LossesTold{Run: *f.run, Cuts: int(f.cuts.Load()), Of: int(f.of.Load())}
	if f.found != nil {
		now.Cuts, now.Of, now.Why, now.Drill = f.found.told.Cuts, f.found.told.Cuts, f.found.why, &f.found.told
	}
	if f.isTold && now == f.told {
		return nil, nil
	}
	return &contract.Told{T: contract.FromLosses, Losses: &now}, func() { f.told, f.isTold = now, true }
}

// begin plays a drill beside the bench, as soon as nothing else is searched; false: the one before still
// ends.
func (f *lossesFeature) begin(b *bench, p *signal.Program) bool {
	run, asked := *f.run, f.asked
	here := []byte(nil)
	if run == ofBench {
		here = b.session.Recording().Script()
	}
	ctx, stop := context.WithCancel(context.Background())
	started := b.beside(&f.busy, func() func() {
		defer stop()
		defer f.proofs.wait(ctx)()
		within, cancel := context.WithTimeout(ctx, lossesWithin)
		defer cancel()
		found := f.drill(within, b, p, run, here)
		return func() {
			if f.asked == asked {
				f.found, f.every = found, every{}
			}
		}
	})
	if !started {
		stop()
		return false
	}
	f.stop = stop
	f.cuts.Store(0)
	f.of.Store(0)
	return true
}

// drill plays a drill; here is what was done on the bench.
func (f *lossesFeature) drill(ctx context.Context, b *bench, p *signal.Program, run string,
	here []byte) *drilled {
	none := loss.Told{Stands: []loss.Stands{}, Returns: []loss.Returns{}}
	script := here
	if id, err := uuid.Parse(run); err == nil {
		r, err := b.from.Recording(ctx, b.model, id)
		if err != nil {
			return &drilled{told: none, why: err.Error()}
		}
		script = []byte(r.Script)
	}
	d := &drilled{p: p}
	if len(script) > 0 {
		rows, err := signal.NewScript(bytes.NewReader(script), p).Rows()
		if err != nil {
			return &drilled{told: none, why: "This recording does not fit the model any more: " + err.Error() + "."}
		}
		d.rows = rows
	}
	wish := f.wish(d.rows)
	wish.Seen = func(cuts, of int) {
		f.cuts.Store(int64(cuts))
		f.of.Store(int64(of))
	}
	played, err := loss.Every(ctx, p, wish)
	switch {
	case errors.Is(err, context.DeadlineExceeded):
		return &drilled{told: none, why: "It takes longer than a minute: choose a shorter recording."}
	case err != nil:
		return &drilled{told: none, why: "It was stopped."}
	}
	d.told = played.Tell(p)
	return d
}

func (*lossesFeature) wish(rows []signal.Row) loss.Wish {
	return loss.Wish{Rows: rows, ForS: -1, AfterS: lossAfterS, BackS: lossBackS,
		Cores: max(runtime.GOMAXPROCS(0)-1, 1)} // the benches go on
}

// script finds what plays the worst moment of a function by its name, lost/rudder or back/rudder, or a moment
// that somebody has chosen, cut/lost/12.5 or cut/back/12.5, seconds.
func (f *lossesFeature) script(_ *bench, w *session.Wish) {
	if f.found == nil || f.found.p == nil || w.ID == "" {
		return
	}
	wish := f.wish(f.found.rows)
	film := func(at float64, back bool) {
		w.Script = []byte(loss.Film(f.found.p, f.found.rows, &wish, at, back))
	}
	if steps := strings.Split(w.ID, "/"); len(steps) == 3 && steps[0] == "cut" {
		if at, err := strconv.ParseFloat(steps[2], 64); err == nil && at >= 0 && at <= longestCutS {
			film(at, steps[1] == "back")
		}
	}
	for i := range f.found.told.Stands {
		if one := &f.found.told.Stands[i]; one.Plays == w.ID {
			film(one.At, false)
		}
	}
	for i := range f.found.told.Returns {
		if one := &f.found.told.Returns[i]; one.Plays == w.ID {
			film(one.At, true)
		}
	}
}
