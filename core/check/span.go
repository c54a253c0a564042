package check

import (
	"math"

	"axtren/core/setup"
	"axtren/core/signal"
)

// form is what a sum of mixes is made of: of each source, how much of it comes in while
// it is above and below 0, and a rest that comes from elsewhere. One source is one
// source, by however many mixes it comes in.
type form struct {
	by    map[string]*slope
	rest  span
	exact bool // every value of its span really occurs
}

// slope is what a source with a span counts by, for each percent below and above 0.
type slope struct {
	of       span
	neg, pos float64
}

func (f *form) span() span {
	out := f.rest
	for _, s := range f.by {
		at := func(x float64) float64 {
			if x < 0 {
				return x * s.neg
			}
			return x * s.pos
		}
		one := span{at(s.of.Low), at(s.of.Low)}
		for _, x := range []float64{s.of.High, min(max(0, s.of.Low), s.of.High)} {
			one = one.With(span{at(x), at(x)})
		}
		out = span{out.Low + one.Low, out.High + one.High}
	}
	return out
}

// term is what a mix brings.
func (r *reach) term(m *setup.Mix) *form {
	f := &form{by: map[string]*slope{}, rest: span{m.Bias, m.Bias}, exact: r.isExact(m.From)}
	of := r.value(m.From)
	s := &slope{of: of}
	s.neg, s.pos = signal.Slopes(m)
	if m.From.Ref == "" {
		one := (&form{by: map[string]*slope{"": s}}).span()
		f.rest = span{f.rest.Low + one.Low, f.rest.High + one.High}
		return f
	}
	f.by[m.From.String()] = s
	return f
}

// isExact tells whether a source really takes every value of its span, whatever any
// other source does: the axis of a stick does, and what is shaped of one alone.
func (r *reach) isExact(v setup.Value) bool {
	src, err := r.s.Source(v)
	if err != nil {
		return false
	}
	switch src.Kind {
	case setup.SourceNumber:
		return true
	case setup.SourceControl:
		return r.s.Transmitter.Controls[src.Index].Axis != nil
	case setup.SourceDemand:
		d := &r.s.Demands[src.Index]
		return d.Rates == nil && d.Curve == nil && r.isExact(d.From)
	}
	return false
}

// meet gives what becomes of a sum when a mix meets it.
func (f *form) meet(combine string, t *form) *form {
	switch combine {
	case "instead":
		return t
	case "add":
		out := &form{by: map[string]*slope{}, rest: span{f.rest.Low + t.rest.Low, f.rest.High + t.rest.High},
			exact: f.exact && t.exact}
		for _, from := range []*form{f, t} {
			for key, s := range from.by {
				if was := out.by[key]; was != nil {
					was.neg, was.pos = was.neg+s.neg, was.pos+s.pos
				} else {
					same := *s
					out.by[key] = &same
				}
			}
		}
		return out
	}
	return &form{rest: span(signal.CombinedSpan(combine, signal.Span(f.span()), signal.Span(t.span()))),
		exact: f.exact && t.exact && len(f.by) == 0}
}

// choice is one thing that conditions ask for, with all that it can be: a control at one
// of its positions, a block that is on or off.
type choice struct {
	fact  setup.Fact // its kind and index
	cases int
	now   int
}

// maxCases bounds the cases that are looked at one by one.
const maxCases = 1024

// conditions lists what the conditions of some mixes ask for, each once; ok is false
// where there are too many cases.
func (r *reach) conditions(mixes []*setup.Mix) (list []*choice, ok bool) {
	of := func(f setup.Fact) *choice {
		for _, c := range list {
			if c.fact.Kind == f.Kind && c.fact.Index == f.Index {
				return c
			}
		}
		return nil
	}
	all := 1
	for _, m := range mixes {
		if m.When == nil || m.FadeS > 0 {
			continue
		}
		f, err := r.s.Fact(*m.When)
		if err != nil {
			return nil, false
		}
		if of(f) != nil {
			continue
		}
		c := &choice{fact: f, cases: 2}
		switch f.Kind {
		case setup.FactPosition:
			c.cases = len(r.s.Transmitter.Controls[f.Index].Switch.Positions)
		case setup.FactStep:
			c.cases = len(r.s.Steppers[f.Index].Steps)
		case setup.FactSequence:
			c.cases = 3
		}
		list = append(list, c)
		if all *= c.cases; all > maxCases {
			return nil, false
		}
	}
	return list, true
}

// holds tells whether a condition holds in the case that is looked at.
func (c *choice) holds(f setup.Fact) bool {
	is := c.now == 1
	if f.Kind == setup.FactPosition || f.Kind == setup.FactStep || f.Kind == setup.FactSequence {
		is = c.now == f.Sub
	}
	return is != f.Not
}

// asks bounds what mixes can ask together, case by case; exact is true where every
// bound really occurs.
func (r *reach) asks(mixes []*setup.Mix) (out span, exact bool) {
	choices, counted := r.conditions(mixes)
	if !counted {
		choices = nil
	}
	out, exact = span{math.Inf(1), math.Inf(-1)}, counted
	for _, c := range choices {
		// blocks and sequences may depend on each other, and on what is asked
		exact = exact && (c.fact.Kind == setup.FactPosition || c.fact.Kind == setup.FactStep &&
			len(choices) == 1)
	}
	exact = exact && r.independent(mixes)
	for {
		sum := r.inCase(mixes, choices, counted, &exact)
		out = out.With(sum)
		at := 0
		for at < len(choices) {
			if choices[at].now++; choices[at].now < choices[at].cases {
				break
			}
			choices[at].now = 0
			at++
		}
		if at == len(choices) {
			return out, exact
		}
	}
}

// independent tells whether no control comes in by two different sources.
func (r *reach) independent(mixes []*setup.Mix) bool {
	by := map[int]string{}
	for _, m := range mixes {
		control := r.s.ControlBehind(m.From)
		if control < 0 {
			continue
		}
		if was, ok := by[control]; ok && was != m.From.String() {
			return false
		}
		by[control] = m.From.String()
	}
	return true
}

// inCase bounds what mixes ask in one case. A mix that fades counts anything between
// not at all and wholly.
func (r *reach) inCase(mixes []*setup.Mix, choices []*choice, counted bool, exact *bool) span {
	acc := &form{by: map[string]*slope{}, exact: true}
	for _, m := range mixes {
		holds := always
		switch {
		case m.When == nil:
		case !counted || m.FadeS > 0:
			holds = r.truth(*m.When)
		default:
			f, _ := r.s.Fact(*m.When)
			holds = r.inThisCase(choices, f, *m.When)
		}
		next := acc.meet(m.Combine, r.term(m))
		switch holds {
		case always:
			acc = next
		case either:
			*exact = false
			acc = &form{rest: acc.span().With(next.span())}
		}
	}
	*exact = *exact && acc.exact
	return acc.span()
}

func (r *reach) inThisCase(choices []*choice, f setup.Fact, when setup.Truth) verdict {
	for _, c := range choices {
		if c.fact.Kind != f.Kind || c.fact.Index != f.Index {
			continue
		}
		if f.Kind == setup.FactBlock {
			if known := r.truth(when); known != either {
				return known
			}
		}
		if c.holds(f) {
			return always
		}
		return never
	}
	return either
}

// sum is what the mixes can ask of output i.
func (r *reach) sum(i int) span {
	item := setup.IsOutput.At(i)
	if out, ok := r.sums[i]; ok {
		return out
	}
	if r.busy[item] {
		return span{math.Inf(-1), math.Inf(1)}
	}
	r.busy[item] = true
	var mixes []*setup.Mix
	for _, k := range r.s.MixesTo(i) {
		mixes = append(mixes, &r.s.Mixes[k])
	}
	out, exact := r.asks(mixes)
	r.sums[i], r.exact[i] = out, exact
	delete(r.busy, item)
	return out
}

// asked is what an output is asked for after the shares: what shares it out may bring it
// to where its own mixes never do.
func (r *reach) asked(i int) span {
	sum := r.sum(i)
	if k := r.s.ShareOf(i); k >= 0 {
		switch r.s.Shares[k].Rule {
		case "scale":
			sum = sum.With(span{0, 0})
		case "keep_turn":
			return span{-100, 100}
		}
	}
	return span{min(max(sum.Low, -100), 100), max(min(sum.High, 100), -100)}
}

// position is where an output can stand, percent.
func (r *reach) position(i int) span {
	return span(signal.PositionSpan(&r.s.Outputs[i], signal.Span(r.asked(i))))
}
