package diagnose

import (
	"slices"
	"strconv"
	"strings"

	"axtren/core/setup"
	"axtren/core/signal"
)

// mostPlayed bounds how many looks are played to find the next one.
const mostPlayed = 20_000

// put is one control and where a hand may put it.
type put struct {
	hand  int
	value float64
}

// next finds the look after which fewest sets are left in the worst case, every display and device looked
// at: the first such of those in which one control is put to an end, a position, or half way, then of
// those in which two are.
func (f *finder) next(causes [][]Fault) *Next {
	var worlds []*world
	for _, cause := range causes {
		set := make([]int, len(cause))
		for i := range cause {
			set[i] = slices.IndexFunc(f.faults, func(one Fault) bool { return before(one, cause[i]) == 0 })
		}
		worlds = append(worlds, f.worlds[key(set)])
	}
	var best *Next
	played := 0
	try := func(puts ...put) bool {
		hands := worlds[0].p.Rest()
		for _, one := range puts {
			hands[one.hand] = one.value
		}
		if played += len(worlds); played > mostPlayed && best != nil {
			return false
		}
		left := leaves(worlds, hands)
		if best == nil || left < best.LeavesAtMost {
			best = &Next{f.handWords(worlds[0].p, puts), left}
		}
		return best.LeavesAtMost > 1
	}
	all := f.puts(worlds[0].p)
	for _, one := range all {
		if !try(one) {
			return best
		}
	}
	for i, one := range all {
		for _, other := range all[i+1:] {
			if one.hand != other.hand && !try(one, other) {
				return best
			}
		}
	}
	return best
}

// puts lists where each control may be put away from where it starts.
func (f *finder) puts(p *signal.Program) (list []put) {
	rest := p.Rest()
	for i := range f.s.Transmitter.Controls {
		c := &f.s.Transmitter.Controls[i]
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
				list = append(list, put{hand, v})
			}
		}
	}
	return list
}

// leaves gives how many sets are left in the worst case after a look.
func leaves(worlds []*world, hands signal.Hands) int {
	left, most := map[string]int{}, 0
	for _, w := range worlds {
		v := played(w.p, hands, w.turn)
		var b strings.Builder
		for channel := 1; channel <= 48; channel++ {
			b.WriteString(v.channels[channel])
			b.WriteByte('|')
		}
		b.WriteString(strings.Join(v.devices, "|"))
		left[b.String()]++
		most = max(most, left[b.String()])
	}
	return most
}

// handWords writes where controls are put, as looks have it.
func (f *finder) handWords(p *signal.Program, puts []put) map[string]any {
	said := map[string]any{}
	for _, one := range puts {
		id := p.HandIDs()[one.hand]
		word := p.HandWord(id, one.value)
		if c := f.s.Item(setup.ID(id)); c.Kind == setup.IsControl && f.s.Transmitter.Controls[c.Index].Axis != nil {
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
