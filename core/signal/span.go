package signal

import "axtren/core/setup"

// Span is the values that something can have, the ends included. Each step of the route
// has its bounds beside it: they are worked out with the step's own arithmetic, so that
// what a frame computes from values within a span lies within what the bounds make of it.
type Span struct{ Low, High float64 }

// With gives the least span around two.
func (s Span) With(t Span) Span { return Span{min(s.Low, t.Low), max(s.High, t.High)} }

// at bounds a function that rises, or falls, over the whole span.
func (s Span) at(f func(float64) float64) Span {
	a, b := f(s.Low), f(s.High)
	return Span{min(a, b), max(a, b)}
}

// turning bounds a function that rises or falls between some places, where it may turn.
func (s Span) turning(f func(float64) float64, places ...float64) Span {
	out := s.at(f)
	for _, x := range places {
		if x > s.Low && x < s.High {
			out = out.With(Span{f(x), f(x)})
		}
	}
	return out
}

// DemandSpan bounds demand i where its source has a span, whichever of its rates holds.
func (p *Program) DemandSpan(i int, in Span) Span { return p.demands[p.demandAt[i]].span(in) }

// PositionSpan bounds the position of an output that is asked for a span, percent.
func PositionSpan(o *setup.Output, asked Span) Span {
	e := newEnds(o)
	return asked.at(func(v float64) float64 {
		if o.Reverse {
			v = -v
		}
		return e.at(v)
	})
}

// CombinedSpan bounds what a mix makes of the sum so far: each way to combine rises or
// falls along a side of the square of both, so its bounds are at the corners.
func CombinedSpan(combine string, sum, v Span) Span { return combinedSpan(mixWords[combine], sum, v) }

func combinedSpan(how mixWord, sum, v Span) Span {
	first := combined(sum.Low, v.Low, how)
	out := Span{first, first}
	for _, c := range [][2]float64{{sum.Low, v.High}, {sum.High, v.Low}, {sum.High, v.High}} {
		at := combined(c[0], c[1], how)
		out = out.With(Span{at, at})
	}
	return out
}

// Slopes gives what a mix brings for each percent of its source below 0, and above; its
// bias comes on top.
func Slopes(m *setup.Mix) (below, above float64) {
	t := newTerm(m)
	at := func(x float64) float64 { return gain(shaped(x, t.shape), t.pos, t.neg, 0) }
	return -at(-1), at(1)
}
