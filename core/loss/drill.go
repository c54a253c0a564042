// Package loss computes what happens when nobody is in command: the signal is cut at any moment of a run and
// comes back, the power comes on, and which checks of the transmitter make that safe.
package loss

import (
	"cmp"
	"context"
	"fmt"
	"math"
	"runtime"
	"slices"
	"sync"

	"axtren/core/signal"
)

// Wish is what a drill is asked for.
type Wish struct {
	Rows   []signal.Row // what the hands do, in order of time; nil: nobody touches anything
	ForS   float64      // how long the run is, seconds; negative: 2 s beyond the last row
	AfterS float64      // how long after a loss acts each part is looked at, seconds
	BackS  float64      // how long after the signal's return it is looked at again; 0: it does not return
	Cores  int          // how many work at once; 0: all that there are
	// is told now and then how many cuts of how many were played; nil: nobody asks
	Seen func(cuts, of int)
}

// Limits of what a drill looks at.
const (
	MostAfterS = 600.0 // seconds
	window     = 4096  // cuts that are played between two looks at the context
)

// Drill is where things stand after a loss, over every moment at which the signal may be cut.
type Drill struct {
	Cuts    int      // frames in which it was cut: from the second of the run to the last
	Devices []Spread // by device: its value
	Pins    []Spread // by receiver and pin, in document order: the position of the pulse, percent
	Back    []Spread // by device: its value after the signal has returned; nil: it does not return
}

// Spread is between which values something stands, and the earliest cut after which it stands at each end.
// Values are rounded as a trace has them, to four decimals; times are seconds from the start of the run.
type Spread struct {
	Known   bool // it has a value after some cut; else all is 0
	Missing bool // and none after some other
	Least   float64
	LeastS  float64 // the cut
	Most    float64
	MostS   float64
}

// Every plays a run once for every frame from the second to the last, with the link down from that frame on;
// rows of the link are left out. Each part is looked at in the first frame that is at or after the cut, and
// the loss_after_s of its receiver, and AfterS: docs/format.md, section 30. The error is that of the context,
// or of a wish that cannot be.
func Every(ctx context.Context, p *signal.Program, wish Wish) (*Drill, error) {
	for _, s := range []float64{wish.AfterS, wish.BackS} {
		if !(s >= 0 && s <= MostAfterS) {
			return nil, fmt.Errorf("%g s after the loss, or the return, cannot be looked at: use 0 to %g",
				s, MostAfterS)
		}
	}
	d := newDrill(p, &wish)
	for d.cuts < d.all {
		if err := ctx.Err(); err != nil {
			return nil, err
		}
		d.play(min(window, d.all-d.cuts))
		if wish.Seen != nil {
			wish.Seen(d.cuts, d.all)
		}
	}
	return d.result(), nil
}

// sight is something that is looked at.
type sight struct {
	slot, known signal.Slot // known: 0 while it has no value; None: it always has one
	at          int         // frames after the cut
	pulse       bool        // its position counts, and 0 is no pulse
}

// drill is one that is being played.
type drill struct {
	p      *signal.Program
	power  power
	cores  int
	sights []sight // devices, then pins, then devices after the return
	order  []int   // of them by when they are looked at
	last   int     // frames after the cut of the last look
	back   int     // frames after the cut in which the signal returns; 0: never

	base    *run // up to the frame before the next cut
	moments []signal.Snapshot
	air     *air // what is heard again; nil: nothing is

	all, cuts int      // all that there are; those that were played
	found     []Spread // of each sight
}

func newDrill(p *signal.Program, wish *Wish) *drill {
	s := p.Setup()
	d := &drill{p: p, cores: wish.Cores, base: newRun(p, wish.Rows), power: powers(p, wish.Rows)}
	d.all = lastFrame(p, wish)
	frames := func(seconds float64) int { return int(signal.FramesIn(seconds, s.Transmitter.FrameS())) }
	after := make([]int, len(s.Receivers))
	for r := range s.Receivers {
		after[r] = frames(s.Receivers[r].LossAfterS + wish.AfterS)
	}
	devices := func(at func(receiver int) int) {
		for i := range s.Devices {
			route := p.Devices[i]
			d.see(sight{route.Value, route.Known, at(s.DevicePin(i).Receiver), false})
		}
	}
	devices(func(receiver int) int { return after[receiver] })
	for r := range p.Pins {
		for _, pin := range p.Pins[r] {
			d.see(sight{pin.US, signal.None, after[r], true})
		}
	}
	if wish.BackS > 0 {
		d.back = d.last + 1
		at := d.last + max(frames(wish.BackS), 1)
		devices(func(int) int { return at })
		d.air = &air{run: newRun(p, wish.Rows)}
	}
	d.found = make([]Spread, len(d.sights))
	slices.SortStableFunc(d.order, func(a, b int) int { return cmp.Compare(d.sights[a].at, d.sights[b].at) })
	return d
}

func (d *drill) see(one sight) {
	d.order = append(d.order, len(d.sights))
	d.sights = append(d.sights, one)
	d.last = max(d.last, one.at)
}

// play cuts the signal in the next n frames, in each by itself.
func (d *drill) play(n int) {
	for len(d.moments) < n {
		d.moments = append(d.moments, nil)
	}
	for i := range n {
		d.moments[i] = d.p.Snapshot(d.base.step(), d.moments[i])
	}
	if d.air != nil {
		d.air.holds(d.cuts+1+d.back, d.cuts+n+d.last)
	}
	workers := runtime.GOMAXPROCS(0)
	if d.cores > 0 {
		workers = min(workers, d.cores)
	}
	workers = min(workers, n)
	parts := make([][]Spread, workers)
	var wait sync.WaitGroup
	for w := range workers {
		wait.Go(func() { parts[w] = d.part(w*n/workers, (w+1)*n/workers) })
	}
	wait.Wait()
	for _, part := range parts {
		for i := range part {
			d.found[i].add(&part[i])
		}
	}
	d.cuts += n
}

// part plays the cuts from..to of those that play has made ready.
func (d *drill) part(from, to int) []Spread {
	found := make([]Spread, len(d.sights))
	st := d.p.PowerOn()
	for i := from; i < to; i++ {
		d.cut(st, d.moments[i], d.cuts+1+i, found)
	}
	return found
}

// cut plays one cut, in a frame, from the moment of the frame before, in a state of its own.
func (d *drill) cut(st *signal.State, before signal.Snapshot, frame int, found []Spread) {
	d.p.Restore(st, before)
	hands, next := before.Hands(d.p), d.power.from(frame)
	seconds := d.p.Time(int64(frame))
	order := d.order
	for k := 0; k <= d.last; k++ {
		for ; next < len(d.power) && d.power[next].frame <= frame+k; next++ {
			hands = d.power[next].hands
		}
		var sent []float64
		if d.back > 0 && k >= d.back {
			sent = d.air.at(frame + k)
		}
		d.p.Hear(st, sent, hands)
		for ; len(order) > 0 && d.sights[order[0]].at == k; order = order[1:] {
			found[order[0]].look(d.value(&d.sights[order[0]], st), seconds)
		}
	}
}

// value is what is seen of something; NaN: it has no value.
func (d *drill) value(s *sight, st *signal.State) float64 {
	switch {
	case s.slot == signal.None, s.known != signal.None && st.At(s.known) == 0, s.pulse && st.At(s.slot) == 0:
		return math.NaN()
	case s.pulse:
		return d.p.Setup().Transmitter.Pulse.Percent(st.At(s.slot))
	}
	return st.At(s.slot)
}

func (d *drill) result() *Drill {
	devices := len(d.p.Setup().Devices)
	out := &Drill{Cuts: d.all, Devices: d.found[:devices], Pins: d.found[devices:]}
	if d.back > 0 {
		pins := len(d.found) - 2*devices
		out.Pins, out.Back = d.found[devices:devices+pins], d.found[devices+pins:]
	}
	return out
}

// look counts what was seen after a cut; cuts are looked at in order of time.
func (s *Spread) look(v, cut float64) {
	if math.IsNaN(v) {
		s.Missing = true
		return
	}
	v = math.Round(v*1e4)/1e4 + 0 // no negative zero
	s.add(&Spread{Known: true, Least: v, LeastS: cut, Most: v, MostS: cut})
}

// add counts what was seen after later cuts.
func (s *Spread) add(later *Spread) {
	s.Missing = s.Missing || later.Missing
	switch {
	case !later.Known:
	case !s.Known:
		missing := s.Missing
		*s = *later
		s.Missing = missing
	default:
		if later.Least < s.Least {
			s.Least, s.LeastS = later.Least, later.LeastS
		}
		if later.Most > s.Most {
			s.Most, s.MostS = later.Most, later.MostS
		}
	}
}
