package proof

import (
	"math"
	"slices"

	"axtren/core/signal"
)

// places are the positions of some axes that are told apart.
type places struct {
	y       *system
	hands   []int
	rest    []float64
	figures []figure
	bound   []bound // what is to be the same
	values  [][]float64
	boxes   int
	turned  []float64 // along one axis, the last place before each turn
}

func newPlaces(y *system, hands []int, figures []figure) *places {
	p := &places{y: y, hands: hands, figures: figures}
	for _, hand := range hands {
		p.rest = append(p.rest, y.rest[hand])
	}
	return p
}

// find lists the positions: with one axis one for each part of its travel; with more, one for each that any
// of them moved, and the others at rest, can do.
func (p *places) find() error {
	p.value(p.rest)
	if p.y.begun != nil { // where they go when they are let go of
		var rest []float64
		for _, hand := range p.hands {
			rest = append(rest, p.y.p.Rest()[hand])
		}
		p.value(rest)
	}
	if len(p.hands) == 1 {
		p.along()
	} else {
		p.together()
	}
	if !p.y.exact { // what is slow is soonest anywhere with the lever at an end
		for k := range p.hands {
			for _, end := range []float64{-100, 100} {
				at := slices.Clone(p.rest)
				at[k] = end
				p.value(at)
			}
		}
	}
	if len(p.values) > mostPlaces {
		return errTooMany
	}
	return nil
}

// value adds a position, once.
func (p *places) value(at []float64) {
	for _, known := range p.values {
		if slices.Equal(known, at) {
			return
		}
	}
	p.values = append(p.values, slices.Clone(at))
}

// contexts calls on with each of what else can decide some figures, put into them; false where it is too
// much.
func contexts(figures []figure, on func()) bool {
	var leaves []signal.Leaf
	n := 1
	for _, f := range figures {
		for _, leaf := range f.Leaves {
			if !slices.ContainsFunc(leaves, func(l signal.Leaf) bool { return l.Slot == leaf.Slot }) {
				leaves = append(leaves, leaf)
				if n *= len(leaf.Values); n > mostContexts {
					return false
				}
			}
		}
	}
	for k := range n {
		for _, leaf := range leaves {
			v := leaf.Values[k%len(leaf.Values)]
			k /= len(leaf.Values)
			for _, f := range figures {
				f.Put(leaf.Slot, signal.Span{Low: v, High: v})
			}
		}
		on()
	}
	return true
}

// along lists a position of each part of the travel of one axis, and of each part one where things are apart
// that are to be the same.
func (p *places) along() {
	var turns []float64 // the last place before each turn
	for i := range p.figures {
		if !contexts(p.figures[i:i+1], func() {
			turns = append(turns, p.turns(&p.figures[i], -100, 100, 0)...)
		}) {
			p.y.inexact("too much decides what a lever does", true)
		}
	}
	slices.Sort(turns)
	p.turned = slices.Compact(turns)
	from := -100.0
	for _, turn := range append(slices.Clone(p.turned), 100) {
		p.part(from, turn)
		for i := range p.bound {
			if !contexts(p.bound[i].figures(), func() { p.apartIn(&p.bound[i], from, turn) }) {
				p.y.inexact("too much decides what a lever does", true)
			}
		}
		from = math.Nextafter(turn, 200)
	}
}

// parts gives, of each value, the parts of the travel that it stands for: of one axis from one turn to the
// next, of several the whole.
func (p *places) parts() [][]signal.Span {
	var list [][]signal.Span
	for _, at := range p.values {
		parts := make([]signal.Span, len(at))
		for k := range at {
			parts[k] = signal.Span{Low: -100, High: 100}
		}
		if len(at) == 1 {
			for _, turn := range p.turned {
				if turn < at[0] {
					parts[0].Low = math.Nextafter(turn, 200)
				} else {
					parts[0].High = turn
					break
				}
			}
		}
		list = append(list, parts)
	}
	return list
}

// part adds a position of a part of the travel, unless one is known. A part that is as narrow as rounding
// makes it, beside a position with six decimals, is none: a hand that is there is at that position.
func (p *places) part(from, to float64) {
	if isDust(from, to) {
		return
	}
	if p.rest[0] < from || p.rest[0] > to {
		p.value([]float64{nicest(signal.Span{Low: from, High: to}, p.rest[0])})
	}
}

// isDust tells whether a part of the travel is none: as narrow as rounding makes it, beside a position with
// six decimals.
func isDust(from, to float64) bool {
	short := math.Round(from*1e6) / 1e6
	return to-from < dust && math.Abs(short-from) < dust && (short < from || short > to)
}

// at gives a figure with the only axis anywhere from one place to another.
func (p *places) at(f *figure, from, to float64) signal.Span {
	f.Put(f.Axes[0], signal.Span{Low: from, High: to})
	return f.Span()
}

// mostHalves is how often the travel is halved where no bound tells what happens in it.
const mostHalves = 70

// turns lists the places, the last before each turn, where any cut of a figure turns between two places.
func (p *places) turns(f *figure, from, to float64, halves int) []float64 {
	all := p.at(f, from, to)
	first, last := p.at(f, from, from).Low, p.at(f, to, to).Low
	open := false
	for _, at := range f.turns[f.beyond(all.Low):f.beyond(all.High)] {
		switch {
		case (first >= at) != (last >= at):
			a, b := turn(signal.Span{Low: from, High: to}, func(v float64) bool {
				return (p.at(f, v, v).Low >= at) == (first >= at)
			})
			list := append(p.turns(f, from, a, halves+1), a)
			return append(list, p.turns(f, b, to, halves+1)...)
		default:
			open = true
		}
	}
	if !open || math.Nextafter(from, 200) >= to {
		return nil
	}
	if p.boxes++; halves > mostHalves || p.boxes > mostBoxes {
		p.y.inexact("no bound tells what a lever does everywhere in its travel", true)
		return nil
	}
	middle := from + (to-from)/2
	return append(p.turns(f, from, middle, halves+1), p.turns(f, middle, to, halves+1)...)
}
