package check

import (
	"math"

	"axtren/core/setup"
)

// span is the values that something can have, the ends included.
type span struct{ low, high float64 }

func (s span) with(t span) span { return span{min(s.low, t.low), max(s.high, t.high)} }

// verdict is what a truth can be.
type verdict uint8

const (
	never verdict = 1 << iota
	always
	either = never | always
)

// reach works out by interval arithmetic what values and truths are possible,
// every control at any place by itself. It never leaves out what can be; it may
// allow more, where one control comes in by two ways.
type reach struct {
	s       *setup.Setup
	sums    map[int]span
	exact   map[int]bool // of each sum, whether its ends really occur
	demands map[int]span
	blocks  map[int]verdict
	busy    map[setup.Item]bool // being worked out: feedback may be anything
}

func newReach(s *setup.Setup) *reach {
	return &reach{s: s, sums: map[int]span{}, exact: map[int]bool{}, demands: map[int]span{}, blocks: map[int]verdict{}, busy: map[setup.Item]bool{}}
}

// anything is the widest span of a travel.
var anything = span{-150, 150}

func (r *reach) value(v setup.Value) span {
	src, err := r.s.Source(v)
	if err != nil {
		return anything
	}
	switch src.Kind {
	case setup.SourceControl:
		return span{-100, 100}
	case setup.SourceDemand:
		return r.demand(src.Index)
	case setup.SourceAsked:
		return r.asked(src.Index)
	case setup.SourceBlock:
		return map[verdict]span{never: {-100, -100}, always: {100, 100}, either: {-100, 100}}[r.block(src.Index)]
	case setup.SourceStepper:
		first := r.s.Steppers[src.Index].Steps[0].Value
		out := span{first, first}
		for _, step := range r.s.Steppers[src.Index].Steps {
			out = out.with(span{step.Value, step.Value})
		}
		return out
	case setup.SourceTrack:
		keys := r.s.Sequences[src.Index].Tracks[src.Sub].Keys
		out := span{keys[0][1], keys[0][1]}
		for _, key := range keys {
			out = out.with(span{key[1], key[1]})
		}
		return out
	case setup.SourcePattern:
		p := &r.s.Patterns[src.Index]
		out := span{p.Rest, p.Rest}
		for _, step := range p.Steps {
			out = out.with(span{step[0], step[0]})
		}
		return out
	}
	return span{src.Number, src.Number}
}

func (r *reach) demand(i int) span {
	item := setup.IsDemand.At(i)
	if out, ok := r.demands[i]; ok {
		return out
	}
	if r.busy[item] {
		return anything
	}
	r.busy[item] = true
	d := &r.s.Demands[i]
	in := r.value(d.From)
	shaped := each(in, func(x float64) float64 {
		if math.Abs(x) <= d.Deadband {
			return 0
		}
		return math.Copysign((math.Abs(x)-d.Deadband)*100/(100-d.Deadband), x)
	})
	shaped = expoSpan(shaped, d.Expo/100)
	out := scaled(shaped, d.Rate)
	for _, rate := range d.Rates {
		out = out.with(scaled(shaped, rate.Rate))
	}
	if d.Curve != nil {
		out = curveSpan(d.Curve, out)
	}
	out = span{max(out.low+d.Trim, -150), min(out.high+d.Trim, 150)}
	r.demands[i] = out
	delete(r.busy, item)
	return out
}

// each applies a rising function to both ends.
func each(s span, f func(float64) float64) span { return span{f(s.low), f(s.high)} }

func scaled(s span, rate float64) span { return span{s.low * rate / 100, s.high * rate / 100} }

// expoSpan looks at the ends, and for k < 0 at the places where the cubic turns.
func expoSpan(s span, k float64) span {
	f := func(x float64) float64 { return (1-k)*x + k*x*x*x/1e4 }
	out := span{min(f(s.low), f(s.high)), max(f(s.low), f(s.high))}
	if k < 0 {
		turn := 100 * math.Sqrt((1-k)/(-3*k))
		for _, x := range []float64{-turn, turn} {
			if x > s.low && x < s.high {
				out = out.with(span{f(x), f(x)})
			}
		}
	}
	return out
}

// curveSpan bounds a curve over s: between two points it stays between theirs.
func curveSpan(points []setup.Point, s span) span {
	last := len(points) - 1
	out := span{math.Inf(1), math.Inf(-1)}
	for i, p := range points {
		inside := p[0] >= s.low && p[0] <= s.high
		before := i < last && p[0] < s.low && points[i+1][0] > s.low || i == last && p[0] < s.low
		after := i > 0 && p[0] > s.high && points[i-1][0] < s.high || i == 0 && p[0] > s.high
		if inside || before || after {
			out = out.with(span{p[1], p[1]})
		}
	}
	return out
}

func combined(combine string, acc, v span) span {
	switch combine {
	case "times":
		products := []float64{acc.low * v.low / 100, acc.low * v.high / 100, acc.high * v.low / 100, acc.high * v.high / 100}
		return span{min(products[0], products[1], products[2], products[3]), max(products[0], products[1], products[2], products[3])}
	case "instead":
		return v
	case "greatest":
		return span{max(acc.low, v.low), max(acc.high, v.high)}
	case "least":
		return span{min(acc.low, v.low), min(acc.high, v.high)}
	}
	return span{acc.low + v.low, acc.high + v.high}
}

func (r *reach) truth(t setup.Truth) verdict {
	f, err := r.s.Fact(t)
	if err != nil {
		return either
	}
	out := either
	switch f.Kind {
	case setup.FactBlock:
		out = r.block(f.Index)
	}
	if f.Not && out != either {
		out = either &^ out
	}
	return out
}

// block is what a block can be; what remembers can be anything that its inputs
// and its start do not rule out.
func (r *reach) block(i int) verdict {
	item := setup.IsBlock.At(i)
	if out, ok := r.blocks[i]; ok {
		return out
	}
	if r.busy[item] {
		return either
	}
	r.busy[item] = true
	out := r.logic(&r.s.Logic[i])
	r.blocks[i] = out
	delete(r.busy, item)
	return out
}

func (r *reach) logic(b *setup.Block) verdict {
	switch spec := b.Spec.(type) {
	case *setup.Gate:
		return r.gate(b.Block, spec.In)
	case *setup.Level:
		v := r.value(spec.Of)
		if b.Block == "below" {
			v = span{-v.high, -v.low}
			return threshold(v, -spec.Level)
		}
		return threshold(v, spec.Level)
	case *setup.Between:
		v := r.value(spec.Of)
		switch {
		case v.low >= spec.From && v.high <= spec.To:
			return always
		case v.high < spec.From || v.low > spec.To:
			return never
		}
	case *setup.Edge:
		if r.truth(spec.In) != either {
			return never
		}
	case *setup.Latch:
		set, reset := r.truth(spec.Set), r.truth(spec.Reset)
		switch {
		case set == never && spec.Start != "true", b.Block == "rs" && reset == always:
			return never
		case b.Block == "sr" && set == always, spec.Start == "true" && reset == never:
			return always
		}
	case *setup.Toggle:
		if r.truth(spec.In) != either && spec.Start == "false" {
			return never
		}
	case *setup.Timer:
		in := r.truth(spec.In)
		switch {
		case in == never, in == always && b.Block == "tp":
			return never
		case in == always && (b.Block == "tof" || spec.ForS == 0):
			return always
		}
	}
	return either
}

func threshold(v span, level float64) verdict {
	switch {
	case v.low >= level:
		return always
	case v.high < level:
		return never
	}
	return either
}

func (r *reach) gate(block string, in []setup.Truth) verdict {
	some, odd := verdict(0), false
	for _, t := range in {
		v := r.truth(t)
		some |= v
		odd = odd != (v == always)
	}
	switch {
	case block == "and" && some == always, block == "or" && r.hasA(in, always):
		return always
	case block == "or" && some == never, block == "and" && r.hasA(in, never):
		return never
	case block == "xor" && !r.hasA(in, either):
		if odd {
			return always
		}
		return never
	}
	return either
}

func (r *reach) hasA(in []setup.Truth, v verdict) bool {
	for _, t := range in {
		if r.truth(t) == v {
			return true
		}
	}
	return false
}
