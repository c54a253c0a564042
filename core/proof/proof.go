// Package proof decides claims: what must never be, or can be, whatever the hands do. It searches all that
// the program of the claim can do, frame by frame, so that a claim that holds is proved, and one that
// fails comes with the fewest movements that show it.
package proof

import (
	"context"
	"fmt"
	"slices"
	"strings"
	"sync/atomic"

	"axtren/core/setup"
	"axtren/core/signal"
)

// The verdicts.
const (
	Holds     = "holds"
	Fails     = "fails"
	Undecided = "undecided"
)

// Budget is what a search may take. The context bounds its time.
type Budget struct {
	Bytes int           // of both searches together
	Steps int           // frames that each search computes at most; 0: any number
	Seen  *atomic.Int64 // how many states were visited so far; nil: nobody asks
}

// Within is the budget with at most so many frames for each search.
func (b Budget) Within(steps int) Budget {
	if b.Steps == 0 || b.Steps > steps {
		b.Steps = steps
	}
	return b
}

// Usual is the budget where nobody asks for another: 256 MiB.
var Usual = Budget{Bytes: 256 << 20}

// Row is one movement of the hands, as a row of a script.
type Row struct {
	Frame int     `json:"-"`   // from 0
	T     float64 `json:"t_s"` // the time of that frame
	// what moves: a control, link, transmitter, a receiver, a servo that was left
	Control string `json:"control"`
	Value   string `json:"value"`
}

// Verdict is what was found out about a claim.
type Verdict struct {
	Claim   setup.ID `json:"id"`
	Verdict string   `json:"verdict"`
	Rows    []Row    `json:"steps"` // of a claim that fails: what shows it; of one that can be reached: how
	// the time of the frame in which it shows; nil of one that does not fail
	At     *float64 `json:"fails_at_s"`
	States int      `json:"states"` // how many were visited

	Frame  int    `json:"-"` // the frame in which it shows
	Live   bool   `json:"-"` // time is counted from a moment that is played
	Fewest bool   `json:"-"` // no run of fewer rows shows it, and none of as many earlier
	Why    string `json:"-"` // of an undecided one: how far it got, and what would make it smaller
	Bounds string `json:"-"` // of one that bounds alone decide: what they are
}

// Decide decides claim i of a setup.
func Decide(ctx context.Context, s *setup.Setup, i int, budget Budget) Verdict {
	return decide(ctx, s, &s.Claims[i], nil, budget)
}

func decide(ctx context.Context, s *setup.Setup, claim *setup.Claim, after *begun, budget Budget) Verdict {
	y, err := newSystem(s, claim, after)
	if err != nil {
		return Verdict{Claim: claim.ID, Verdict: Undecided, Rows: []Row{}, Why: err.Error()}
	}
	y.hurries = func(ctx context.Context, budget Budget) *Verdict { return y.hurry(ctx, s, claim, budget) }
	v := y.decide(ctx, budget)
	if v.Verdict == Fails && after == nil { // what is shown was played on the whole document
		if shows, err := Shows(s, claim, v.Rows, v.Frame); err != nil || !shows {
			v = Verdict{Verdict: Undecided, Rows: []Row{}, States: v.States,
				Why: "what was found does not show it on the whole model: this is a fault of the search"}
		}
	}
	v.Claim = claim.ID
	switch {
	case claim.Reachable != nil:
		v.Verdict = map[string]string{Holds: Fails, Fails: Holds, Undecided: Undecided}[v.Verdict]
	case v.Verdict == Fails:
		at := Seconds(v.Frame, s)
		v.At = &at
	}
	return v
}

// outcome is what one search found.
type outcome struct {
	bad     bool  // something forbidden was reached
	done    bool  // all was looked at
	path    []int // the ways of the hands, a frame each, up to where it shows
	states  int
	stopped string // why it was not done
}

// looseSteps is how many frames a search computes that leaves open when what waits is over, before it gets a
// core of its own.
const looseSteps = 100_000

// decide asks two at once: one with the hands free in every frame, which proves, at first leaving open when
// what waits is over, and one that finds the fewest movements. The first that is sure ends both.
func (y *system) decide(ctx context.Context, budget Budget) Verdict {
	if bounds := y.never(); bounds != "" {
		return Verdict{Verdict: Holds, Rows: []Row{}, Bounds: bounds}
	}
	budget.Bytes /= 2
	var open []signal.Wait           // what is not counted at first
	if y.exact && len(y.waits) > 0 { // most are decided so at once
		open = y.nearest()
		short := budget.Within(looseSteps)
		out := y.free(ctx, short, open)
		if out.done && !out.bad {
			return Verdict{Verdict: Holds, Rows: []Row{}, States: out.states}
		}
		switch {
		case out.bad:
			open = open[1:]
		case short == budget:
			open = nil // there is no more to spend on that
		}
	}
	if !y.exact {
		if out := y.hull(ctx, budget); out.done {
			return Verdict{Verdict: Holds, Rows: []Row{}, States: out.states}
		}
	}
	whole := ctx
	ctx, cancel := context.WithCancel(ctx)
	defer cancel()
	proved := make(chan outcome, 1)
	go func() {
		if !y.exact {
			proved <- outcome{stopped: y.why}
			return
		}
		out := y.proves(ctx, budget, open)
		if out.done && !out.bad {
			cancel()
		}
		proved <- out
	}()
	if y.hurries != nil {
		if v := y.hurries(ctx, budget); v != nil {
			cancel()
			<-proved
			return y.fewer(whole, v, budget)
		}
	}
	found := y.fewest(ctx, budget)
	if found.bad || found.done {
		cancel()
	}
	free := <-proved
	switch {
	case found.bad:
		rows, frame := y.rows(found.path)
		return Verdict{Verdict: Fails, Rows: rows, Frame: frame, Fewest: y.exact, States: found.states}
	case free.done && !free.bad:
		return Verdict{Verdict: Holds, Rows: []Row{}, States: free.states}
	case y.exact && found.done:
		return Verdict{Verdict: Holds, Rows: []Row{}, States: found.states}
	case free.bad:
		rows, frame := y.rows(free.path)
		return Verdict{Verdict: Fails, Rows: rows, Frame: frame, States: free.states}
	}
	why := free.stopped
	switch {
	case !y.exact && found.stopped != "":
		why = y.why + "; " + found.stopped
	case why == "":
		why = found.stopped
	}
	return Verdict{Verdict: Undecided, Rows: []Row{}, States: free.states + found.states, Why: why}
}

// fewer looks, for a while, whether fewer movements show what some do.
func (y *system) fewer(ctx context.Context, v *Verdict, budget Budget) Verdict {
	found := y.fewest(ctx, budget.Within(fewestAfter))
	v.States = found.states
	if found.bad {
		v.Rows, v.Frame = y.rows(found.path)
		v.Fewest = true
	}
	return *v
}

// rows writes ways of the hands as rows of a script: at first what is not as the controls begin, then
// what moves.
func (y *system) rows(path []int) (rows []Row, frame int) {
	rows = []Row{}
	was, from := slices.Clone(y.rest), 0
	if y.begun != nil {
		from = y.begun.frame
	}
	for k, way := range path {
		for _, d := range y.dims {
			for n, hand := range d.hands {
				to := d.values[y.digit(way, &d)][n]
				if to != was[hand] {
					rows = append(rows, Row{from + k, Seconds(from+k, y.s), y.ids[hand], y.p.HandWord(y.ids[hand], to)})
					was[hand] = to
				}
			}
		}
	}
	return rows, from + len(path) - 1
}

// Seconds gives the time of a frame, as a script has it.
func Seconds(frame int, s *setup.Setup) float64 {
	return float64(int64(frame)*int64(s.Transmitter.FrameMS)) / 1000
}

// Script writes rows as a script.
func Script(rows []Row) string {
	var b strings.Builder
	b.WriteString("t_s,control,value\n")
	for _, r := range rows {
		fmt.Fprintf(&b, "%.3f,%s,%s\n", r.T, r.Control, r.Value)
	}
	return b.String()
}

// Shows plays rows on a program and tells whether a claim is broken in a frame, and in none before it.
func Shows(s *setup.Setup, claim *setup.Claim, rows []Row, frame int) (bool, error) {
	y, err := newSystem(s, claim, nil)
	if err != nil {
		return false, err
	}
	full, err := signal.Compile(y.all)
	if err != nil {
		return false, err
	}
	at, err := y.claimed.on(full, y.all).breaks(rows, frame)
	return at == frame, err
}

// breaks plays rows, and gives the frame in which what is forbidden shows for the first time; -1: not up to
// the last. The error names what the program does not have.
func (m *monitor) breaks(rows []Row, last int) (at int, err error) {
	mon, at := uint16(nothing), -1
	err = Play(m.p, rows, last, func(frame int, st *signal.State) bool {
		var bad bool
		if mon, bad = m.step(mon, st); bad {
			at = frame
		}
		return !bad
	})
	return at, err
}

// Play plays rows on a program from power-on up to a frame, and shows each frame; it ends where on is false.
// The error names what the program does not have.
func Play(p *signal.Program, rows []Row, last int, on func(frame int, st *signal.State) bool) error {
	st, hands := p.PowerOn(), p.Rest()
	for frame, next := 0, 0; frame <= last; frame++ {
		for ; next < len(rows) && rows[next].Frame <= frame; next++ {
			hand, ok := p.Hand(rows[next].Control)
			if !ok {
				return fmt.Errorf("nothing is called %s", rows[next].Control)
			}
			v, err := p.HandValue(rows[next].Control, rows[next].Value)
			if err != nil {
				return err
			}
			hands[hand] = v
		}
		p.Step(st, hands)
		if !on(frame, st) {
			break
		}
	}
	return nil
}
