package check

import (
	"axtren/core/setup"
	"axtren/core/signal"
)

// span is the values that something can have.
type span signal.Span

func (s span) With(t span) span { return span(signal.Span(s).With(signal.Span(t))) }

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
	p       *signal.Program
	s       *setup.Setup
	sums    map[int]span
	exact   map[int]bool // of each sum, whether its ends really occur
	demands map[int]span
	blocks  map[int]verdict
	busy    map[setup.Item]bool // being worked out: feedback may be anything
}

func newReach(p *signal.Program) *reach {
	return &reach{p: p, s: p.Setup(), sums: map[int]span{}, exact: map[int]bool{}, demands: map[int]span{},
		blocks: map[int]verdict{}, busy: map[setup.Item]bool{}}
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
		return map[verdict]span{never: {-100, -100}, always: {100, 100},
			either: {-100, 100}}[r.block(src.Index)]
	case setup.SourceStepper:
		first := r.s.Steppers[src.Index].Steps[0].Value
		out := span{first, first}
		for _, step := range r.s.Steppers[src.Index].Steps {
			out = out.With(span{step.Value, step.Value})
		}
		return out
	case setup.SourceTrack:
		keys := r.s.Sequences[src.Index].Tracks[src.Sub].Keys
		out := span{keys[0][1], keys[0][1]}
		for _, key := range keys {
			out = out.With(span{key[1], key[1]})
		}
		return out
	case setup.SourcePattern:
		p := &r.s.Patterns[src.Index]
		out := span{p.Rest, p.Rest}
		for _, step := range p.Steps {
			out = out.With(span{step[0], step[0]})
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
	out := span(r.p.DemandSpan(i, signal.Span(r.value(r.s.Demands[i].From))))
	r.demands[i] = out
	delete(r.busy, item)
	return out
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
			v = span{-v.High, -v.Low}
			return threshold(v, -spec.Level)
		}
		return threshold(v, spec.Level)
	case *setup.Between:
		v := r.value(spec.Of)
		switch {
		case v.Low >= spec.From && v.High <= spec.To:
			return always
		case v.High < spec.From || v.Low > spec.To:
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
	case v.Low >= level:
		return always
	case v.High < level:
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
