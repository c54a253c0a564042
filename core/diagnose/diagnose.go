package diagnose

import (
	"cmp"
	"maps"
	"slices"
	"strings"

	"axtren/core/setup"
	"axtren/core/signal"
)

// Most is how many faults at once are thought of, where nobody says another number.
const Most = 3

// Wish says what is looked for.
type Wish struct {
	Most int  // how many faults at once are thought of
	Wide bool // more kinds of fault: what was not keyed in of a feel or a share, a neutral learned off …
	Own  bool // displays are as this transmitter's own counts, and not in percent
	// also what to look at where nothing is wrong, and what may be seen wrongly where nothing explains it
	Ask  bool
	GoOn func() bool // whether to look on; nil: until all was looked at
}

// Answer is every smallest set of faults that explains what was seen.
type Answer struct {
	Causes   [][]Fault `json:"causes"` // none: nothing explains it; one that is empty: nothing is wrong
	Most     int       `json:"most"`   // how many faults at once were thought of
	Complete bool      `json:"complete"`
	Next     *Next     `json:"next,omitempty"` // nil where one set is left at most
	Doubts   []Doubt   `json:"-"`              // where nothing explains it: of these one may be seen wrongly

	finder *finder
}

// Doubt is one thing that was looked at and that, seen otherwise, would make sense of all the others.
type Doubt struct {
	Look            int
	Channel, Device int      // of the two one; the other 0 and -1
	Saw             string   // what was said
	Would           []string // what sets of so few faults that explain the others would show there
}

// Next is the look that leaves fewest sets in the worst case.
type Next struct {
	Hands        map[string]any `json:"hands"`
	LeavesAtMost int            `json:"leaves_at_most"`
}

// mostWorlds bounds how many sets of faults are played.
const mostWorlds = 200_000

// mostKept bounds how many of those that explain nothing are kept for later: each has some 50 KB.
const mostKept = 4000

// world is a setup with a set of faults, and what is then seen at the looks that were played; wrong are
// the places of what differs from what was seen.
type world struct {
	set    []int // places among the candidates, in their order
	s      *setup.Setup
	p      *signal.Program
	turn   map[int]bool // the devices that are crossed
	scaled bool         // its display counts as the transmitter's own
	played int          // looks
	wrong  []int
}

// finder looks for the sets.
type finder struct {
	s      *setup.Setup
	faults []Fault
	trials []trial
	seen   []seen                // of all trials
	behind []map[setup.Item]bool // of each output, what it is made of
	worlds map[string]*world
	room   int // so many sets may still be played
	full   bool
	goOn   func() bool
	scaled bool
	blind  bool // the next look is at devices alone: the transmitter shows nothing
	doubt  int  // of all that was seen, what is left out; -1: nothing
}

// Diagnose names every set of the smallest number of faults that explains what was seen.
// The error is setup.Problems where the looks do not fit the setup, or a *signal.RingError.
func Diagnose(p *signal.Program, looks []Look, wish Wish) (*Answer, error) {
	list, err := trials(p, looks)
	if err != nil {
		return nil, err
	}
	s := p.Setup()
	f := &finder{s: s, faults: candidates(s, wish.Wide), trials: list, worlds: map[string]*world{},
		room: mostWorlds, goOn: wish.GoOn, scaled: wish.Own, doubt: -1}
	if f.goOn == nil {
		f.goOn = func() bool { return true }
	}
	f.world(nil)
	if wish.Ask && len(looks) > 0 {
		f.blind = !slices.ContainsFunc(looks, func(l Look) bool { return len(l.Display) > 0 })
	}
	for i := range list {
		list[i].first = len(f.seen)
		f.seen = append(f.seen, list[i].seen...)
	}
	f.behind = partsBehind(s, f.faults)
	a := &Answer{Causes: [][]Fault{}, Most: wish.Most, finder: f}
	for size := 0; size <= wish.Most && len(a.Causes) == 0; size++ {
		for _, set := range f.sets(size) {
			a.Causes = append(a.Causes, f.named(set))
		}
	}
	slices.SortFunc(a.Causes, func(x, y []Fault) int { return slices.CompareFunc(x, y, before) })
	a.Complete = !f.full
	switch {
	case len(a.Causes) > 1:
		a.Next = f.next(f.worldsOf(a.Causes), true)
		if f.blind && a.Next != nil && a.Next.LeavesAtMost == len(a.Causes) { // only a display tells them apart
			f.blind = false
			a.Next = f.next(f.worldsOf(a.Causes), true)
		}
	case wish.Ask && len(a.Causes) == 0:
		a.Doubts = f.doubts(wish.Most)
		a.Complete = !f.full
	case wish.Ask && len(a.Causes[0]) == 0:
		a.Next = f.unseen()
	}
	return a, nil
}

// sets gives every set of so many faults that explains all that was seen and is not in doubt.
func (f *finder) sets(size int) map[string][]int {
	found := map[string][]int{}
	f.grow(nil, size, found, map[string]bool{})
	return found
}

// worldsOf gives the worlds of sets.
func (f *finder) worldsOf(sets [][]Fault) []*world {
	var list []*world
	for _, faults := range sets {
		set := make([]int, len(faults))
		for i := range faults {
			set[i] = slices.IndexFunc(f.faults, func(one Fault) bool { return before(one, faults[i]) == 0 })
		}
		list = append(list, f.world(set))
	}
	return list
}

// before orders faults by their kinds, then by their places.
func before(x, y Fault) int {
	return cmp.Or(cmp.Compare(x.kind, y.kind), cmp.Compare(x.a, y.a), cmp.Compare(x.b, y.b))
}

func (f *finder) named(set []int) []Fault {
	list := []Fault{}
	for _, i := range set {
		list = append(list, f.faults[i])
	}
	return list
}

// key names a set.
func key(set []int) string {
	var b strings.Builder
	for _, i := range set {
		b.WriteRune(rune(i + 1))
	}
	return b.String()
}

// grow adds faults to a set until it has so many, and notes each that explains everything. A set that
// explains all has a fault more, for anything that a smaller one leaves wrong, that reaches it as things
// then stand; so it is found by following what is wrong. The last fault has to reach all that is wrong.
func (f *finder) grow(set []int, more int, found map[string][]int, visited map[string]bool) {
	if visited[key(set)] {
		return
	}
	visited[key(set)] = true
	w := f.world(set)
	if w == nil || f.full {
		return
	}
	if more == 0 {
		if f.play(w, func() bool { return len(f.against(w)) > 0 }); w.p != nil && len(f.against(w)) == 0 {
			found[key(set)] = set
		} else if len(f.worlds) > mostKept {
			delete(f.worlds, key(set))
		}
		return
	}
	f.play(w, func() bool { return false })
	for _, i := range f.tries(w, more) {
		if !slices.Contains(set, i) {
			next := slices.Concat(set, []int{i})
			slices.Sort(next)
			f.grow(next, more-1, found, visited)
		}
	}
}

// against lists what a world has wrong and is not in doubt.
func (f *finder) against(w *world) []int {
	if f.doubt < 0 {
		return w.wrong
	}
	return slices.DeleteFunc(slices.Clone(w.wrong), func(at int) bool { return at == f.doubt })
}

// tries lists the faults that may come next: those that reach what fewest reach of what is wrong, or all
// that is wrong where there is one more. A set that is no setup by itself may become one: all may come.
func (f *finder) tries(w *world, more int) []int {
	var best []int
	if w.p == nil {
		for i := range f.faults {
			best = append(best, i)
		}
		return best
	}
	for n, at := range f.against(w) {
		reach := f.reach(w, &f.seen[at])
		switch {
		case n == 0:
			best = reach
		case more == 1:
			best = slices.DeleteFunc(best, func(i int) bool { return !slices.Contains(reach, i) })
		case len(reach) < len(best):
			best = reach
		}
	}
	return best
}

// world makes a setup with a set of faults; nil where there are too many.
func (f *finder) world(set []int) *world {
	if w, known := f.worlds[key(set)]; known {
		return w
	}
	if f.room == 0 || !f.goOn() {
		f.full = true
		return nil
	}
	f.room--
	w := &world{set: set, turn: map[int]bool{}, scaled: f.scaled}
	f.worlds[key(set)] = w
	var faults []Fault
	rest := []int{} // without what is crossed, which changes no program
	for _, i := range set {
		if one := f.faults[i]; one.kind == crossed {
			w.turn[one.a] = true
		} else {
			faults, rest = append(faults, one), append(rest, i)
		}
	}
	if like := f.worlds[key(rest)]; like != nil && like != w {
		w.s, w.p = like.s, like.p
	} else if w.s = applied(f.s, faults); w.s != nil {
		p, err := signal.Compile(w.s)
		if err != nil {
			w.s = nil
			return w
		}
		w.p = p
	}
	return w
}

// play plays the looks of a world that were not played yet, in their order, until it is enough.
func (f *finder) play(w *world, enough func() bool) {
	for ; w.p != nil && w.played < len(f.trials) && !enough(); w.played++ {
		trial := &f.trials[w.played]
		if len(trial.seen) == 0 {
			continue
		}
		st := played(w.p, trial.hands)
		for k := range trial.seen {
			if !fits(w, st, &trial.seen[k]) {
				w.wrong = append(w.wrong, trial.first+k)
			}
		}
	}
}

// partsBehind lists for each output the parts that it is made of, also through what other outputs are
// asked for and through shares. Where a mix may be keyed in with its ends exchanged, what lies behind
// either output lies behind both.
func partsBehind(s *setup.Setup, faults []Fault) []map[setup.Item]bool {
	list := make([]map[setup.Item]bool, len(s.Outputs))
	for i := range s.Outputs {
		list[i] = map[setup.Item]bool{}
		for _, part := range s.Graph().Behind(setup.IsOutput.At(i)) {
			list[i][part] = true
		}
	}
	for again := true; again; {
		again = false
		for i := range faults {
			if faults[i].kind != mastersExchanged {
				continue
			}
			a, b := list[leads(s, faults[i].a)], list[s.Item(s.Mixes[faults[i].a].To).Index]
			before := len(a) + len(b)
			maps.Copy(a, b)
			maps.Copy(b, a)
			again = again || len(a)+len(b) > before
		}
	}
	return list
}

// looked is what a thing that was looked at comes from, as a world has it.
type looked struct {
	channels []int // of the transmitter
	outputs  []int // on these
	devices  []int // it, and the leveller that it hangs behind
}

func (f *finder) looked(w *world, of *seen) (l looked) {
	if of.device < 0 {
		l.channels = []int{of.channel}
	} else {
		carries := func(pin setup.PinRef) {
			_, at := w.s.Pin(pin)
			l.channels = append(l.channels, w.s.Link.Sent(at.Channel))
		}
		carries(w.s.DevicePin(of.device))
		if pin, ok := w.s.SwapPin(of.device); ok {
			carries(pin)
		}
		l.devices = []int{of.device}
		if on := w.s.Item(setup.ID(w.s.Devices[of.device].On)); on.Kind == setup.IsDevice {
			l.devices = append(l.devices, on.Index)
		}
	}
	for _, channel := range l.channels {
		if o := w.s.OutputOn(channel); o >= 0 {
			l.outputs = append(l.outputs, o)
		}
	}
	return l
}

// reach lists the faults that can change what is seen there as a world has it: those of the outputs that
// it comes from, and those that let it come from elsewhere.
func (f *finder) reach(w *world, of *seen) (list []int) {
	l := f.looked(w, of)
	for i := range f.faults {
		fault := &f.faults[i]
		reaches := false
		switch fault.kind {
		case reversed, endsNotKeyed, centreNotKeyed, wrongChannel:
			reaches = slices.Contains(l.outputs, fault.a)
		case sign, dead, mastersExchanged, feelNotKeyed, shareNotKeyed:
			reaches = slices.ContainsFunc(l.outputs, func(o int) bool { return f.behind[o][fault.Part()] })
		case channelsExchanged:
			reaches = slices.ContainsFunc(l.channels, func(c int) bool {
				o := f.s.OutputOn(c)
				return f.moved(w.set, -1, fault.kind, o) != f.moved(w.set, i, fault.kind, o)
			})
		case leadsExchanged:
			reaches = slices.ContainsFunc(l.devices, func(d int) bool {
				return f.movedBack(w.set, -1, fault.kind, d) != f.movedBack(w.set, i, fault.kind, d)
			})
		case crossed, unplugged, neutralHigh, neutralLow:
			reaches = slices.Contains(l.devices, fault.a)
		}
		if reaches {
			list = append(list, i)
		}
	}
	return list
}

// moved follows who is at a place through the exchanges of a kind in a set, with one fault more, -1 for
// none: which output is on the channel that this one was on.
func (f *finder) moved(set []int, more int, k kind, at int) int {
	for _, i := range set {
		if more >= 0 && more < i {
			at, more = f.faults[more].other(k, at), -1
		}
		at = f.faults[i].other(k, at)
	}
	if more >= 0 {
		at = f.faults[more].other(k, at)
	}
	return at
}

// movedBack follows a place back through the exchanges of a set: whose pin this device is on.
func (f *finder) movedBack(set []int, more int, k kind, of int) int {
	for _, i := range slices.Backward(set) {
		if more > i {
			of, more = f.faults[more].other(k, of), -1
		}
		of = f.faults[i].other(k, of)
	}
	if more >= 0 {
		of = f.faults[more].other(k, of)
	}
	return of
}

// other gives the second of two that a fault of a kind exchanges for the first, the first for the second.
func (f *Fault) other(k kind, i int) int {
	switch {
	case f.kind != k:
	case i == f.a:
		return f.b
	case i == f.b:
		return f.a
	}
	return i
}
