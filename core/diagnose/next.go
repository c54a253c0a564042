package diagnose

import (
	"maps"
	"slices"
	"strconv"
	"strings"

	"axtren/core/signal"
)

// mostPlayed bounds how many looks are played to find the next one.
const mostPlayed = 20_000

// put is one control and where a hand may put it.
type put struct {
	control, hand int
	value         float64
}

// next finds the look after which fewest worlds are left in the worst case, every display and device
// looked at: the first such of those in which one control is put to an end, a position, or half way, then,
// where two may be, of those in which two are.
func (f *finder) next(worlds []*world, two bool) *Next {
	var best *Next
	played := 0
	try := func(puts ...put) bool {
		hands := worlds[0].p.Rest()
		for _, one := range puts {
			hands[one.hand] = one.value
		}
		if played += len(worlds); best != nil && (played > mostPlayed || !f.goOn()) {
			return false
		}
		left := leaves(worlds, hands, f.blind)
		if best == nil || left < best.LeavesAtMost {
			best = &Next{handWords(worlds[0].p, puts), left}
		}
		return best.LeavesAtMost > 1
	}
	all := puts(worlds[0].p)
	for _, one := range all {
		if !try(one) {
			return best
		}
	}
	for i, one := range all {
		for _, other := range all[i+1:] {
			if two && one.hand != other.hand && !try(one, other) {
				return best
			}
		}
	}
	return best
}

// unseen finds the look that tells most single faults from a right model and from each other, of those
// that what was seen does not rule out; nil where none is left that a look with one control would show.
// What is exchanged is left out: there are too many of them, and what shows one end of them shows them.
func (f *finder) unseen() *Next {
	worlds := []*world{f.world(nil)}
	for i := range f.faults {
		if f.faults[i].b >= 0 {
			continue
		}
		w := f.world([]int{i})
		if w == nil || w.p == nil {
			continue
		}
		if f.play(w, func() bool { return len(w.wrong) > 0 }); len(w.wrong) == 0 {
			worlds = append(worlds, w)
		}
	}
	best := f.next(worlds, false)
	if best != nil && best.LeavesAtMost == len(worlds) {
		return nil
	}
	return best
}

// mostDoubted bounds how many sets more are played to find what may be seen wrongly.
const mostDoubted = 3000

// doubts finds what, left out, lets the fewest faults explain everything else, and what they show there.
func (f *finder) doubts(most int) (list []Doubt) {
	f.room = min(f.room, mostDoubted)
	defer func() { f.doubt = -1 }()
	for size := 0; size <= most && list == nil; size++ {
		for k := range f.seen {
			f.doubt = k
			would := map[string]bool{}
			for _, set := range f.sets(size) {
				w, of := f.world(set), &f.seen[k]
				would[shows(w, played(w.p, f.trials[of.look].hands), of.channel, of.device)] = true
			}
			if len(would) > 0 {
				of := &f.seen[k]
				list = append(list, Doubt{of.look, of.channel, of.device, of.want, slices.Sorted(maps.Keys(would))})
			}
		}
	}
	return list
}

// puts lists where each control may be put away from where it starts.
func puts(p *signal.Program) (list []put) {
	rest, s := p.Rest(), p.Setup()
	for i := range s.Transmitter.Controls {
		c := &s.Transmitter.Controls[i]
		hand, _ := p.Hand(string(c.ID))
		values := []float64{100, -100, 50, -50, 0}
		if c.Switch != nil {
			values = nil
			for k := range c.Switch.Positions {
				values = append(values, float64(k))
			}
		}
		for _, v := range values {
			if v != rest[hand] {
				list = append(list, put{i, hand, v})
			}
		}
	}
	return list
}

// leaves gives how many sets are left in the worst case after a look.
func leaves(worlds []*world, hands signal.Hands, blind bool) int {
	left, most := map[string]int{}, 0
	for _, w := range worlds {
		st := played(w.p, hands)
		var b strings.Builder
		for channel := 1; channel <= 48 && !blind; channel++ {
			b.WriteString(shows(w, st, channel, -1))
			b.WriteByte('|')
		}
		for i := range w.s.Devices {
			b.WriteString(shows(w, st, 0, i))
			b.WriteByte('|')
		}
		left[b.String()]++
		most = max(most, left[b.String()])
	}
	return most
}

// handWords writes where controls are put, as looks have it.
func handWords(p *signal.Program, puts []put) map[string]any {
	said := map[string]any{}
	for _, one := range puts {
		id := p.HandIDs()[one.hand]
		word := p.HandWord(id, one.value)
		if p.Setup().Transmitter.Controls[one.control].Axis != nil {
			v, err := strconv.ParseFloat(word, 64)
			if err == nil {
				said[id] = v
				continue
			}
		}
		said[id] = word
	}
	return said
}
