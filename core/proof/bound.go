package proof

import (
	"math"
	"slices"
	"strconv"

	"axtren/core/signal"
)

// bound is two numbers that are to be the same and come from axes.
type bound struct {
	*both
	fa, fb *signal.Figure
	hands  []int // of the axes of either
	scale  [2]float64
}

// both finds how two numbers come from the axes.
func (a *axes) both(b *both) {
	if b.a == signal.None || b.b == signal.None || !a.moves(b.a) && !a.moves(b.b) ||
		b.outs[0] < 0 && b.outs[1] < 0 {
		return
	}
	fa, first := a.y.p.Figure(b.a)
	fb, second := a.y.p.Figure(b.b)
	if !first || !second {
		a.y.inexact("what a lever asks for is reached only after a while", true)
		return
	}
	one := bound{both: b, fa: fa, fb: fb, scale: [2]float64{1, 1}}
	for _, f := range one.figures() {
		hands, ok := a.handsOf(f.Axes)
		if !ok {
			a.y.inexact("a control that moves it is not looked at", true)
			return
		}
		for _, hand := range hands {
			if !slices.Contains(one.hands, hand) {
				one.hands = append(one.hands, hand)
			}
		}
	}
	if !b.aims {
		for k, p := range b.pulse {
			one.scale[k] = p.Setup().Transmitter.Pulse.HalfSpanUS / 100
		}
	}
	a.bound = append(a.bound, one)
}

func (b *bound) figures() []figure { return []figure{{Figure: b.fa}, {Figure: b.fb}} }

// put says where an axis is.
func (b *bound) put(axis signal.Slot, within signal.Span) {
	b.fa.Put(axis, within)
	b.fb.Put(axis, within)
}

// here tells whether both are apart where the axes are.
func (b *bound) here() bool { return b.apart(b.fa.Span().Low, b.fb.Span().Low) }

// difference bounds by how much they are apart, us, or percent of positions.
func (b *bound) difference() signal.Span {
	b.fa.Span()
	b.fb.Span()
	d := signal.Difference(b.fa, b.fb, b.scale[0], b.scale[1])
	if !b.aims {
		off := b.pulse[0].Setup().Transmitter.Pulse.CentreUS - b.pulse[1].Setup().Transmitter.Pulse.CentreUS
		d.Low, d.High = d.Low+off, d.High+off
	}
	return d
}

// over tells whether both are the same, or apart, wherever the axes are within their spans. What is the same
// but for rounding counts as the same.
func (b *bound) over() (same, apart bool) {
	a, c := b.fa.Span(), b.fb.Span()
	if b.aims {
		d := b.difference()
		return d.Low >= -dust && d.High <= dust, d.Low > dust || d.High < -dust
	}
	us := func(p *signal.Program, s signal.Span) signal.Span {
		return signal.Span{Low: p.PulseOf(s.Low), High: p.PulseOf(s.High)}
	}
	pa, pc := us(b.pulse[0], a), us(b.pulse[1], c)
	switch {
	case pa.High < pc.Low || pc.High < pa.Low:
		return false, true
	case pa.Low == pa.High && pc == pa:
		return true, false
	case b.pulse[0].Setup().Transmitter.Pulse != b.pulse[1].Setup().Transmitter.Pulse:
		return false, false // rounded and limited in another way
	}
	d := b.difference()
	step := b.pulse[0].Setup().Transmitter.Pulse.StepUS
	limits := b.pulse[0].Setup().Transmitter.Pulse
	inside := pa.Low > limits.MinUS && pa.High < limits.MaxUS && pc.Low > limits.MinUS && pc.High < limits.MaxUS
	return d.Low >= -dust && d.High <= dust, inside && (d.Low > step+dust || d.High < -step-dust)
}

// apartIn adds a position of a part of the travel of one axis in which both are apart, where there is one and
// none is known.
func (p *places) apartIn(b *bound, from, to float64) {
	axis := p.y.p.HandSlot(p.hands[0])
	at := func(v float64) bool {
		b.put(axis, signal.Span{Low: v, High: v})
		return b.here()
	}
	for _, known := range p.values {
		if known[0] >= from && known[0] <= to && at(known[0]) {
			return
		}
	}
	stack := []signal.Span{{Low: from, High: to}}
	for len(stack) > 0 {
		box := stack[len(stack)-1]
		stack = stack[:len(stack)-1]
		b.put(axis, box)
		if same, _ := b.over(); same {
			continue
		}
		for _, v := range []float64{box.Low, box.High, middle(box)} {
			if at(v) {
				p.value([]float64{shortest(v, box, at)})
				return
			}
		}
		if box.High-box.Low < dust { // no hand is there but at a position with few decimals
			if v := math.Round(box.Low*1e6) / 1e6; v >= box.Low && v <= box.High && at(v) {
				p.value([]float64{v})
				return
			}
			continue
		}
		if p.boxes++; p.boxes > mostBoxes {
			p.y.inexact("no bound tells what a lever does everywhere in its travel", true)
			return
		}
		stack = append(stack, signal.Span{Low: middle(box), High: box.High}, signal.Span{Low: box.Low,
			High: middle(box)})
	}
}

func middle(s signal.Span) float64 { return s.Low + (s.High-s.Low)/2 }

// shortest gives the number near v, within a span, that is written shortest and where something is so as
// it is at v.
func shortest(v float64, within signal.Span, is func(v float64) bool) float64 {
	for decimals := range 10 {
		near, err := strconv.ParseFloat(strconv.FormatFloat(v, 'f', decimals, 64), 64)
		if err == nil && near >= within.Low && near <= within.High && is(near) {
			return near
		}
	}
	return v
}
