package diagnose

import (
	"cmp"
	"slices"
	"strings"

	"axtren/core/setup"
	"axtren/core/signal"
)

// Most is how many faults at once are thought of, where nobody says another number.
const Most = 3

// Answer is every smallest set of faults that explains what was seen.
type Answer struct {
	Causes   [][]Fault `json:"causes"` // none: nothing explains it; one that is empty: nothing is wrong
	Most     int       `json:"most"`   // how many faults at once were thought of
	Complete bool      `json:"complete"`
	Next     *Next     `json:"next,omitempty"` // nil where one set is left at most
}

// Next is the look that leaves fewest sets in the worst case.
type Next struct {
	Hands        map[string]any `json:"hands"`
	LeavesAtMost int            `json:"leaves_at_most"`
}

// mostWorlds bounds how many sets of faults are played.
const mostWorlds = 200_000

// world is a setup with a set of faults, and what is then seen at each look; wrong are the places of what
// differs from what was seen.
type world struct {
	set   []int // places in the candidates, in their order
	s     *setup.Setup
	p     *signal.Program
	turn  map[int]bool // the devices that are crossed
	wrong []int
}

// finder looks for the sets.
type finder struct {
	s      *setup.Setup
	faults []Fault
	trials []trial
	seen   []seen // of all trials
	behind [][]int
	worlds map[string]*world
	full   bool
}

// Diagnose names every set of the smallest number of faults, most at most, that explains what was seen.
// The error is setup.Problems where the looks do not fit the setup, or a *signal.RingError.
func Diagnose(p *signal.Program, looks []Look, most int) (*Answer, error) {
	list, err := trials(p, looks)
	if err != nil {
		return nil, err
	}
	s := p.Setup()
	f := &finder{s: s, faults: candidates(s), trials: list, worlds: map[string]*world{}}
	for i := range list {
		f.seen = append(f.seen, list[i].seen...)
	}
	for i := range s.Outputs {
		f.behind = append(f.behind, mixesBehind(s, i))
	}
	a := &Answer{Causes: [][]Fault{}, Most: most, Complete: true}
	for size := 0; size <= most && len(a.Causes) == 0; size++ {
		found := map[string][]int{}
		f.grow(nil, size, found, map[string]bool{})
		for _, set := range found {
			a.Causes = append(a.Causes, f.named(set))
		}
	}
	slices.SortFunc(a.Causes, func(x, y []Fault) int { return slices.CompareFunc(x, y, before) })
	a.Complete = !f.full
	if len(a.Causes) > 1 {
		a.Next = f.next(a.Causes)
	}
	return a, nil
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
	if w == nil {
		return
	}
	if more == 0 {
		if w.p != nil && len(w.wrong) == 0 {
			found[key(set)] = set
		}
		return
	}
	for _, i := range f.tries(w, more) {
		if !slices.Contains(set, i) {
			next := slices.Concat(set, []int{i})
			slices.Sort(next)
			f.grow(next, more-1, found, visited)
		}
	}
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
	for n, at := range w.wrong {
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

// world plays a set of faults; nil where too many were played.
func (f *finder) world(set []int) *world {
	if w, known := f.worlds[key(set)]; known {
		return w
	}
	if len(f.worlds) >= mostWorlds {
		f.full = true
		return nil
	}
	w := &world{set: set, turn: map[int]bool{}}
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
	if w.p == nil {
		return w
	}
	at := 0
	for i := range f.trials {
		if len(f.trials[i].seen) == 0 {
			continue
		}
		v := played(w.p, f.trials[i].hands, w.turn)
		for k := range f.trials[i].seen {
			if of := &f.trials[i].seen[k]; v.shows(of) != of.want {
				w.wrong = append(w.wrong, at+k)
			}
		}
		at += len(f.trials[i].seen)
	}
	return w
}

// mixesBehind lists the mixes that an output is made of, also through what other outputs are asked for
// and through shares.
func mixesBehind(s *setup.Setup, output int) []int {
	return setup.Only(setup.IsMix, s.Graph().Behind(setup.IsOutput.At(output)))
}

// reach lists the faults that can change what is seen there as a world has it: those of the output that
// it comes from, and those that let it come from elsewhere.
func (f *finder) reach(w *world, of *seen) (list []int) {
	var outputs []int
	if of.device < 0 {
		outputs = append(outputs, w.s.OutputOn(of.channel))
	} else {
		if o := w.s.DrivenBy(of.device); o >= 0 {
			outputs = append(outputs, o)
		}
		if esc, ok := w.s.Devices[of.device].Spec.(*setup.Esc); ok && esc.SwapOn != nil {
			if ref, known := w.s.PinRef(*esc.SwapOn); known {
				if o := w.s.Carried(ref); o >= 0 {
					outputs = append(outputs, o)
				}
			}
		}
	}
	devices := []int{of.device}
	if of.device >= 0 {
		if on := w.s.Item(setup.ID(w.s.Devices[of.device].On)); on.Kind == setup.IsDevice {
			devices = append(devices, on.Index) // the leveller that it hangs behind
		}
	}
	for i := range f.faults {
		fault := &f.faults[i]
		reaches := false
		switch fault.kind {
		case reversed, endsNotKeyed, centreNotKeyed:
			reaches = slices.Contains(outputs, fault.a)
		case sign, dead:
			reaches = slices.ContainsFunc(outputs, func(o int) bool { return slices.Contains(f.behind[o], fault.a) })
		case channelsExchanged:
			reaches = slices.Contains(outputs, fault.a) || slices.Contains(outputs, fault.b)
		case leadsExchanged:
			reaches = of.device >= 0 && (slices.Contains(devices, fault.a) || slices.Contains(devices, fault.b))
		case crossed, unplugged:
			reaches = of.device >= 0 && slices.Contains(devices, fault.a)
		}
		if reaches {
			list = append(list, i)
		}
	}
	return list
}
