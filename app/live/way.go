package live

import (
	"context"
	"fmt"
	"strconv"
	"sync/atomic"
	"time"

	"axtren/app/contract"
	"axtren/core/behave"
	"axtren/core/diagnose"
	"axtren/core/proof"
	"axtren/core/session"
	"axtren/core/setup"
)

// wayWithin is how long is looked for how to get somewhere.
const wayWithin = 10 * time.Second

// wayFeature tells how to get from how all stood when the page asked to what it asked for, and plays that.
type wayFeature struct {
	proofs *proofs
	asked  int               // how many were asked for
	wish   *contract.Asked   // what is asked for and not looked for yet; nil: nothing
	doc    *setup.Document   // of which it was asked
	from   *session.Moment   // of the frame in which it was asked; nil: that is not over
	found  *contract.WayTold // nil: nothing was asked for
	told   *contract.WayTold
	film   film
	stop   context.CancelFunc
	seeks  atomic.Bool
}

// film plays a way: the last one that was found, for as long as no other is.
type film struct {
	name   string // way/3
	script []byte
	from   *session.Moment
}

// take asks for another way, or for none.
func (f *wayFeature) take(b *bench, msg *contract.Asked) {
	f.close()
	f.asked++
	f.wish, f.found, f.told, f.from = nil, nil, nil, nil
	one := contract.WayTold{Looking: true, Lines: []string{}}
	switch {
	case msg.Rule != nil && msg.Node != nil:
		one.Of, one.Does = *msg.Rule, strconv.Itoa(*msg.Node)
	case msg.Device != nil && msg.Does != nil:
		one.Of, one.Does = "devices/"+*msg.Device, *msg.Does
	case msg.Output != nil:
		one.Of = "outputs/" + *msg.Output
	default:
		return
	}
	f.wish, f.found, f.doc = msg, &one, b.session.Newest().Doc
}

// close ends the search that runs.
func (f *wayFeature) close() {
	if f.stop != nil {
		f.stop()
	}
}

func (f *wayFeature) next(b *bench) (*contract.Told, func()) {
	if newest := b.session.Newest().Doc; f.found != nil && f.doc != newest { // it was asked of another model
		f.close()
		f.asked++
		f.wish, f.doc, f.found = nil, newest, &contract.WayTold{Of: f.found.Of, Does: f.found.Does,
			Lines: []string{}}
	}
	if f.wish != nil {
		if f.from == nil {
			f.from = b.session.Moment().On(b.session.Newest().Program)
		}
		f.seek(b)
	}
	if f.found == f.told {
		return nil, nil
	}
	now := f.found
	return &contract.Told{T: contract.FromWay, Way: now}, func() { f.told = now }
}

// seek looks for the fewest movements, beside the bench, as soon as no other search runs.
func (f *wayFeature) seek(b *bench) {
	asked, wish, from := f.asked, f.wish, f.from
	ctx, stop := context.WithCancel(context.Background())
	started := b.beside(&f.seeks, func() func() {
		defer stop()
		defer f.proofs.wait(ctx)()
		within, cancel := context.WithTimeout(ctx, wayWithin)
		defer cancel()
		lines, script := way(within, from, wish)
		return func() {
			if f.asked != asked {
				return
			}
			now := contract.WayTold{Of: f.found.Of, Does: f.found.Does, Lines: lines}
			if f.film = (film{}); script != "" {
				now.Plays = fmt.Sprintf("way/%d", asked)
				f.film = film{now.Plays, []byte(script), from}
			}
			f.found = &now
		}
	})
	if !started {
		stop()
		return
	}
	f.stop, f.wish = stop, nil
}

// way says how to get from a moment to what a page asks for, and gives the script that shows it, empty where
// there is nothing to see.
func way(ctx context.Context, from *session.Moment, wish *contract.Asked) (lines []string, script string) {
	goals := wanted(from, wish)
	if len(goals) == 0 {
		return []string{"There is nothing that it could be got to."}, ""
	}
	var conds []setup.Condition
	for _, goal := range goals {
		conds = append(conds, goal.Goal)
	}
	s := from.Program.Setup()
	v, met := proof.ReachFrom(ctx, s, conds, proof.Moment{Program: from.Program, State: from.State},
		proof.Budget{Bytes: claimBytes})
	if v.Verdict == proof.Holds && len(v.Rows) > 0 {
		script = v.Film(s)
	}
	return proof.SaysThen(s, &setup.Claim{Reachable: &conds[met]}, &v, goals[met].Says), script
}

// wanted finds what a page asks for: any one of what it gives. It is empty where nothing says so in one
// condition, and where it is not in the model.
func wanted(from *session.Moment, wish *contract.Asked) []diagnose.Wanted {
	p := from.Program
	s := p.Setup()
	if wish.Rule != nil {
		drawn, ok, err := behave.Draw(s, p, *wish.Rule)
		if err != nil || !ok || *wish.Node < 0 || *wish.Node >= len(drawn.Nodes) {
			return nil
		}
		truth, ok := drawn.Goal(*wish.Node)
		if !ok {
			return nil
		}
		return []diagnose.Wanted{{Says: "it is so", Goal: setup.Condition{Truth: truth}}}
	}
	if wish.Device != nil {
		return diagnose.Does(p, setup.ID(*wish.Device), *wish.Does)
	}
	item := s.Item(setup.ID(*wish.Output))
	if item.Kind != setup.IsOutput {
		return nil
	}
	return diagnose.Stirs(p, from.State, item.Index)
}

// script finds what plays the way that was found last by its name, way/3, from where it was asked.
func (f *wayFeature) script(_ *bench, w *session.Wish) {
	if w.ID != "" && f.film.name == w.ID {
		w.Script, w.From = f.film.script, f.film.from
	}
}
