// Package bench works out how a model is tried on the bench: the fewest looks at which every single fault
// would be seen, what must move and what must not, and which of that a change makes stale.
package bench

import (
	"context"
	"errors"
	"math"
	"slices"

	"axtren/core/diagnose"
	"axtren/core/proof"
	"axtren/core/setup"
	"axtren/core/signal"
)

// Walk is a way through a model: movements, and the moments in which a person looks.
type Walk struct {
	Rows  []proof.Row
	Looks []Look
	// every single fault, and a look at which it is seen, -1 for none, with why
	Faults []diagnose.Fault
	Seen   []int
	Why    []string
	Some   bool // it is of some devices alone
	// no walk has fewer looks; 0: it is not one of the fewest
	Least int
	// a claim that is broken at power-on, or while the signal is lost, wherever the hands are; -1: none
	Broken int
}

// Look is a moment in which a person looks at displays and devices.
type Look struct {
	Frame   int
	When    When
	Hands   signal.Hands
	Display []float64 // of each output, what its channel shows, whole percent
	Devices []string  // of each device, what it is seen to do

	position []float64 // of each output, percent
	value    []float64 // of each device
	flashes  []bool    // of each output, it goes to and fro
}

// When says what is about a look, as a step has it.
type When string

// A look is with the signal there, while it is lost, or when it has come back; with the power of the model
// off, or on again.
const (
	There When = "there"
	Lost  When = "lost"
	Back  When = "back"
	Off   When = "off"
	On    When = "on"
)

// least is how many looks every walk has: one at the lost signal, and one at its return.
const least = 2

// Times of a walk, seconds.
const (
	lookS    = 1.0  // so long after hands or link went somewhere a person looks, at the earliest
	stillS   = 0.5  // for so long nothing has moved then
	settlesS = 30.0 // and no longer is waited for that
	blinkS   = 2.0  // what blinks is looked at within this time
	restS    = 0.5  // so long after something begins to show in passing a person looks, at the latest
)

// walker looks for a walk.
type walker struct {
	ctx context.Context
	s   *setup.Setup
	w   *worlds

	power  []int               // the hands that are transmitter, link and receivers
	blinks []bool              // of each output: it never gets still
	missed []int               // of each fault, how often it was expected and not seen
	asked  map[setup.Truth]int // how often it was looked for how to bring it about
	wanted map[deed]bool       // a device was seen to do that, or it was looked for how to get it to
	// how long the longest of all that takes time takes, seconds
	longest float64
	budget  proof.Budget
	hands   int // so many things that spring back can be held at once; 0: any number
}

// stop is one thing that hands do in a plan, and whether a person looks then.
type stop struct {
	hands signal.Hands
	look  bool
	when  When // empty: the signal is there
	pause int  // frames until the next, where nobody looks
	// frames for which something is waited for that blinks, where that is known already
	waited bool
	blink  int
	shows  []int // faults that are expected to be seen
	at     int   // the look is so many frames after the hands have moved; 0: when all is still
}

// Find works out a walk. Where the time of the context is over it is what was found by then. The error is
// that of a context that was cancelled, or of a setup whose claims cannot be watched.
func Find(ctx context.Context, s *setup.Setup, budget proof.Budget) (*Walk, error) {
	w, err := newWorlds(s, nil)
	if err != nil {
		return nil, err
	}
	k := newWalker(ctx, s, w, budget)
	plan := k.plan()
	if errors.Is(ctx.Err(), context.Canceled) {
		return nil, ctx.Err()
	}
	walk := k.walk(k.shortest(plan))
	k.whys(walk)
	walk.Least = least
	return walk, nil
}

func newWalker(ctx context.Context, s *setup.Setup, w *worlds, budget proof.Budget) *walker {
	k := &walker{ctx: ctx, s: s, w: w, missed: make([]int, len(w.faults)), asked: map[setup.Truth]int{},
		wanted: map[deed]bool{},
		budget: budget, blinks: make([]bool, len(s.Outputs)), longest: longest(s)}
	for o, behind := range w.behind {
		for part := range behind {
			k.blinks[o] = k.blinks[o] || part.Kind == setup.IsPattern
		}
	}
	k.power = []int{k.hand("transmitter"), k.hand("link")}
	for i := range s.Receivers {
		k.power = append(k.power, k.hand(string(s.Receivers[i].ID)))
	}
	return k
}

// hand is the place of a thing that has power or signal.
func (k *walker) hand(id string) int {
	at, _ := k.w.right.Hand(id)
	return at
}

// frames is how many frames so many seconds are, rounded up.
func (k *walker) frames(s float64) int {
	return int(math.Ceil(s/k.s.Transmitter.FrameS() - 1e-9))
}

// plan finds where hands are to be put so that all faults are seen, one stance after the other: always the
// one that shows most of what was not seen yet.
func (k *walker) plan() []stop {
	r := k.w.begin()
	r.step()
	seen := make([]bool, len(k.w.faults))
	for f := range seen {
		seen[f] = k.w.why[f] != "" // it is not looked for
	}
	var plan []stop
	for again := true; again; {
		again = false
		for _, method := range []func(*run, []bool) []stop{k.best, k.gripped, k.finer, k.waited,
			k.pressed, k.returned, k.reached, k.got, k.woken} {
			if k.ctx.Err() != nil || !k.left(seen) {
				return plan
			}
			if way := k.tried(r, seen, method); way != nil {
				plan, again = append(plan, way...), true
				break
			}
		}
	}
	return plan
}

// mostTries bounds how many ways of one method may show nothing that was expected of them.
const mostTries = 3

// tried goes the ways that a method finds until one shows something that was not seen yet; nil: none does.
func (k *walker) tried(r *run, seen []bool, method func(*run, []bool) []stop) []stop {
	for range mostTries {
		way := method(r, seen)
		if way == nil {
			return nil
		}
		before := r.keep()
		found := k.goes(r, way, seen)
		if last := &way[len(way)-1]; found == 0 && last.at == 0 { // perhaps it is seen only in passing
			r.back(before)
			if fine := k.goesTo(r, way[:len(way)-1], seen); fine {
				last.at = k.passing(r, last, seen)
			}
			if r.back(before); last.at > 0 {
				found = k.goes(r, way, seen)
			}
		}
		if found > 0 {
			return way
		}
		r.back(before)
		for _, f := range way[len(way)-1].shows {
			k.missed[f]++
		}
	}
	return nil
}

// goesTo plays some stops; false where a claim is broken on the way.
func (k *walker) goesTo(r *run, way []stop, seen []bool) bool {
	for i := range way {
		if fine, _ := k.play(r, &way[i], seen); !fine {
			return false
		}
	}
	return true
}

// goes plays some stops, of which the last is a look, and notes what was not seen before; it gives how much
// that is.
func (k *walker) goes(r *run, way []stop, seen []bool) (found int) {
	if !k.goesTo(r, way, seen) {
		return 0
	}
	r.shows(func(f int) {
		if !seen[f] {
			seen[f] = true
			found++
		}
	})
	if found > 0 {
		for d := range k.s.Devices {
			k.wanted[deed{d, k.w.seer.Device(r.st, d)}] = true
		}
	}
	return found
}

// soonest and every are when and how often a look in passing is thought of, seconds. A walk that no person
// takes, one without a limit of hands, may look in any frame before that too.
const (
	soonest = 0.3
	every   = 0.1
)

// passing gives after how many frames most comes to be seen that was not seen yet, not just as that begins
// where it lasts; 0: nothing, or a claim is broken before.
//
// The worlds then are not all there: somebody goes back to a moment before.
func (k *walker) passing(r *run, one *stop, seen []bool) (at int) {
	most, last, lasts := 0, 0, false // the last frame of those at which most is seen
	r.hands = slices.Clone(one.hands)
	r.without(seen)
	for n := 1; n <= k.frames(lookS+k.longest); n++ {
		if r.step() >= 0 {
			break
		}
		early := n < k.frames(soonest)
		if early && k.hands > 0 || !early && n%k.frames(every) != 0 {
			continue
		}
		count := k.fresh(r, seen)
		switch {
		case count > most:
			most, at, last, lasts = count, n, n, true
		case count == most && lasts:
			last = n
		default:
			lasts = false
		}
	}
	return at + min((last-at)/2, k.frames(restS))
}

// fresh counts what is seen now and was not before.
func (k *walker) fresh(r *run, seen []bool) (count int) {
	x := r.sight()
	for f, known := range seen {
		if !known && x.shows(f) {
			count++
		}
	}
	return count
}

// play puts the hands where a stop has them, and goes on to the moment of its look, or for its pause. fine is
// false where a claim is broken on the way while the signal is there; broken is one that is while it is not,
// -1 for none.
func (k *walker) play(r *run, one *stop, seen []bool) (fine bool, broken int) {
	r.hands = slices.Clone(one.hands)
	up := k.arrives(r.hands)
	fine, broken = true, -1
	steps := func(n int) {
		for ; n > 0 && fine; n-- {
			if claim := r.step(); claim >= 0 && up {
				fine = false
			} else if claim >= 0 {
				broken = claim
			}
		}
	}
	if !one.look {
		steps(max(one.pause, 1))
		return fine, broken
	}
	if one.at > 0 {
		steps(one.at)
		return fine, broken
	}
	wait := k.frames(lookS) + 1
	if !up {
		wait += k.frames(k.lossS())
	}
	steps(wait)
	still, was := 0, k.moving(r)
	for n := 0; still < k.frames(stillS) && n < k.frames(settlesS) && fine; n++ {
		steps(1)
		now := k.moving(r)
		if still++; !slices.Equal(was, now) {
			still = 0
		}
		was = now
	}
	if fine && slices.Contains(k.blinks, true) {
		if !one.waited {
			one.waited, one.blink = true, k.blink(r, seen)
		}
		steps(one.blink)
	}
	return fine, broken
}

// blink gives in how many frames most of what blinks is seen that was not seen yet.
func (k *walker) blink(r *run, seen []bool) (at int) {
	before := r.keep()
	defer r.back(before)
	r.without(seen)
	most := -1
	for n := range k.frames(blinkS) {
		if count := k.fresh(r, seen); count > most {
			most, at = count, n
		}
		if r.step() >= 0 && k.arrives(r.hands) {
			break
		}
	}
	return at
}

// arrives tells whether the signal of a transmitter that is on gets to receivers that are on.
func (k *walker) arrives(hands signal.Hands) bool {
	for _, hand := range k.power {
		if hands[hand] == 0 {
			return false
		}
	}
	return true
}

// lossS is the longest time after which a receiver counts the signal as lost.
func (k *walker) lossS() (s float64) {
	for i := range k.s.Receivers {
		s = max(s, k.s.Receivers[i].LossAfterS)
	}
	return s
}

// moving is what has to get still before a person looks: all but what blinks.
func (k *walker) moving(r *run) []float64 {
	var list []float64
	blinking := false
	for o := range k.w.right.Routes {
		if blinking = blinking || k.blinks[o]; !k.blinks[o] {
			list = append(list, r.st.At(k.w.right.Routes[o].P))
		}
	}
	if blinking {
		return list
	}
	for i := range k.w.right.Devices {
		if value := k.w.right.Devices[i].Value; value != signal.None {
			list = append(list, r.st.At(value))
		}
	}
	return list
}
