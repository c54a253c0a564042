package proof

import (
	"encoding/binary"
	"math"
	"slices"

	"axtren/core/signal"
)

// together lists positions of axes of which something is made together: for each of them that moves while the
// others rest, and for all that do.
func (p *places) together() {
	for moved := 1; moved < 1<<len(p.hands); moved++ {
		if len(p.hands) > 4 && moved != 1<<len(p.hands)-1 && moved&(moved-1) != 0 {
			continue // of many, each by itself and all of them
		}
		box := make([]signal.Span, len(p.hands))
		for k := range box {
			box[k] = signal.Span{Low: p.rest[k], High: p.rest[k]}
			if moved>>k&1 == 1 {
				box[k] = signal.Span{Low: -100, High: 100}
			}
		}
		figures := slices.Clone(p.figures)
		for i := range p.bound {
			figures = append(figures, p.bound[i].figures()...)
		}
		if !contexts(figures, func() {
			c := &cells{places: p, found: map[string]bool{}}
			for _, at := range p.values {
				if inside(at, box) {
					c.found[c.signature(at)] = true
				}
			}
			c.look(box)
		}) {
			p.y.inexact("too much decides what the levers do together", true)
		}
	}
}

// cells are the combinations of what a context's figures can do, each with a position that shows it.
type cells struct {
	*places
	found map[string]bool
}

func inside(at []float64, box []signal.Span) bool {
	for k, s := range box {
		if at[k] < s.Low || at[k] > s.High {
			return false
		}
	}
	return true
}

// look divides a box until everything in it does the same, or does only what was found. It goes into the
// depth first: what is found there need not be looked for elsewhere.
func (c *cells) look(box []signal.Span) {
	stack, left := [][]signal.Span{box}, [][]signal.Span(nil)
	for len(stack) > 0 {
		box := stack[len(stack)-1]
		stack = stack[:len(stack)-1]
		if c.is(box) {
			continue
		}
		c.corners(box)
		regions, _ := c.regions(box)
		axis := c.divide(box, regions)
		if c.boxes++; c.boxes > mostBoxes || axis < 0 {
			left = append(left, box)
			continue
		}
		low, high := slices.Clone(box), slices.Clone(box)
		middle := box[axis].Low + (box[axis].High-box[axis].Low)/2
		low[axis].High, high[axis].Low = middle, middle
		stack = append(stack, high, low)
	}
	for _, box := range left {
		if !c.is(box) {
			c.y.inexact("what the levers do together is not told apart everywhere", true)
		}
	}
}

// is tells whether all that can be in a box was found.
func (c *cells) is(box []signal.Span) bool {
	regions, settled := c.regions(box)
	if settled {
		c.show(lower(box))
	}
	return settled || c.known(regions)
}

func lower(box []signal.Span) []float64 {
	var at []float64
	for _, s := range box {
		at = append(at, s.Low)
	}
	return at
}

// region is between which cuts of a figure a span lies: so many are below its lower end, and below its upper.
type region struct{ low, high int }

// put puts the axes into the figures, anywhere within a box.
func (p *places) put(box []signal.Span) {
	for k, hand := range p.hands {
		for i := range p.figures {
			p.figures[i].Put(p.y.p.HandSlot(hand), box[k])
		}
		for i := range p.bound {
			p.bound[i].put(p.y.p.HandSlot(hand), box[k])
		}
	}
}

// regions tells what figures can do within a box.
func (c *cells) regions(box []signal.Span) (list []region, settled bool) {
	c.put(box)
	settled = true
	for i := range c.figures {
		f := &c.figures[i]
		span := f.Span()
		r := region{f.beyond(span.Low), f.beyond(span.High)}
		settled = settled && r.low == r.high
		list = append(list, r)
	}
	apart := c.apart()
	return append(list, apart), settled && apart.low == apart.high
}

// apart tells, as a region of 0 or 1, whether anything that is to be the same is apart within the box that
// was put.
func (c *cells) apart() region {
	r := region{}
	for i := range c.bound {
		same, apart := c.bound[i].over()
		if apart {
			return region{1, 1}
		}
		if !same {
			r.high = 1
		}
	}
	return r
}

// beyond counts the turns that a number is beyond.
func (f *figure) beyond(v float64) int {
	n := 0
	for n < len(f.turns) && v >= f.turns[n] {
		n++
	}
	return n
}

// corners looks at the corners of a box, and at where anything turns along its edges.
func (c *cells) corners(box []signal.Span) {
	at := lower(box)
	var from func(k int)
	from = func(k int) {
		if k == len(box) {
			c.show(at)
			return
		}
		from(k + 1)
		if box[k].High > box[k].Low {
			at[k] = box[k].High
			from(k + 1)
			at[k] = box[k].Low
		}
	}
	from(0)
	for k := range box {
		if box[k].High > box[k].Low {
			c.edges(box, k)
		}
	}
}

// edges looks at where anything turns along the edges of a box that one axis moves along.
func (c *cells) edges(box []signal.Span, axis int) {
	corner := lower(box)
	value := func(f *figure, v float64) float64 {
		corner[axis] = v
		c.place(corner)
		return f.Span().Low
	}
	var from func(k int)
	from = func(k int) {
		switch {
		case k == axis || k < len(box) && box[k].High == box[k].Low:
			from(k + 1)
			return
		case k < len(box):
			from(k + 1)
			corner[k] = box[k].High
			from(k + 1)
			corner[k] = box[k].Low
			return
		}
		for i := range c.figures {
			f := &c.figures[i]
			low, high := value(f, box[axis].Low), value(f, box[axis].High)
			first, last := f.beyond(low), f.beyond(high)
			for _, at := range f.turns[min(first, last):max(first, last)] {
				a, b := turn(box[axis], func(v float64) bool { return (value(f, v) >= at) == (low >= at) })
				for _, v := range []float64{a, b} {
					corner[axis] = v
					c.show(corner)
				}
			}
		}
		corner[axis] = box[axis].Low
	}
	from(0)
}

// turn gives the two numbers beside each other between which something turns that is so at the low end of a
// span and not at the high one.
func turn(within signal.Span, is func(v float64) bool) (last, first float64) {
	a, b := within.Low, within.High
	for {
		middle := a + (b-a)/2
		switch {
		case middle <= a || middle >= b:
			return a, b
		case is(middle):
			a = middle
		default:
			b = middle
		}
	}
}

// place puts the axes into the figures at one position.
func (p *places) place(at []float64) {
	box := make([]signal.Span, len(at))
	for k, v := range at {
		box[k] = signal.Span{Low: v, High: v}
	}
	p.put(box)
}

// signature tells what every figure does at a position.
func (c *cells) signature(at []float64) string {
	c.place(at)
	var text []byte
	for i := range c.figures {
		text = binary.AppendUvarint(text, uint64(c.figures[i].beyond(c.figures[i].Span().Low)))
	}
	apart := uint64(0)
	for i := range c.bound {
		if apart == 0 && c.bound[i].here() {
			apart = 1
		}
	}
	text = binary.AppendUvarint(text, apart)
	return string(text)
}

// show notes a position where it shows something that no other in the box does.
func (c *cells) show(at []float64) {
	sign := c.signature(at)
	if c.found[sign] {
		return
	}
	c.found[sign] = true
	nice := slices.Clone(at)
	for k := range nice { // written short, where it stays the same
		for _, v := range []float64{c.rest[k], math.Round(at[k]), math.Round(at[k]*10) / 10} {
			was := nice[k]
			if nice[k] = v; c.signature(nice) == sign {
				break
			}
			nice[k] = was
		}
	}
	c.value(nice)
}

// mostOpen bounds the combinations that a box leaves open and that are looked up.
const mostOpen = 256

// known tells whether everything that a box leaves open was found elsewhere. Where something may be apart it
// is enough that it is elsewhere: what else is the same there leads to nothing that this does not show
// sooner.
func (c *cells) known(list []region) bool {
	list = slices.Clone(list)
	if last := &list[len(list)-1]; last.high == 1 {
		last.low = 1
	}
	n := 1
	for _, r := range list {
		if n *= r.high - r.low + 1; n > mostOpen || r.high < r.low {
			return false
		}
	}
	for k := range n {
		var text []byte
		for _, r := range list {
			width := r.high - r.low + 1
			text = binary.AppendUvarint(text, uint64(r.low+k%width))
			k /= width
		}
		if !c.found[string(text)] {
			return false
		}
	}
	return true
}

// divide gives the axis along which a box is best divided; -1 where none is left.
func (c *cells) divide(box []signal.Span, regions []region) int {
	best, least := -1, math.Inf(1)
	for k, s := range box {
		middle := s.Low + (s.High-s.Low)/2
		if middle <= s.Low || middle >= s.High || s.High-s.Low < 1e-9 {
			continue
		}
		half := slices.Clone(box)
		half[k].High = middle
		c.put(half)
		wide := 0.0
		for i := range c.figures {
			if span := c.figures[i].Span(); regions[i].low != regions[i].high {
				wide += span.High - span.Low
			}
		}
		for i := range c.bound {
			if apart := regions[len(regions)-1]; apart.low != apart.high {
				span := c.bound[i].difference()
				wide += span.High - span.Low
			}
		}
		if wide -= (s.High - s.Low) * 1e-6; wide < least {
			best, least = k, wide
		}
	}
	return best
}
