package signal

import (
	"fmt"
	"math"
	"slices"
	"strings"
)

// Difference bounds by how much two figures of one program are apart where they stand, both as their last
// Span left them: a as many times as ka, less b as many times as kb. What both are made of in the same way
// cancels, in whichever parts of the document it stands.
func Difference(a, b *Figure, ka, kb float64) Span {
	q := &quantities{of: map[string]int{}}
	d := q.form(a).times(ka).plus(q.form(b).times(-kb))
	out := Span{d.number, d.number}
	size := math.Abs(d.number)
	for i, k := range d.each {
		if math.Abs(k) < roundoff {
			continue
		}
		part := q.spans[i].at(func(v float64) float64 { return float64(k * v) })
		out = Span{out.Low + part.Low, out.High + part.High}
		size += math.Abs(part.Low) + math.Abs(part.High)
	}
	slack := float64(size * roundoff)
	return Span{out.Low - slack, out.High + slack}
}

// roundoff is how far sums of the same terms in another order may be off, of their size.
const roundoff = 1e-13

// quantities are what figures are sums of, each once: an axis, or what a bend makes of a sum.
type quantities struct {
	of    map[string]int // by how it is made
	spans []Span
}

// form is a sum: a number, and so much of each quantity.
type form struct {
	number float64
	each   map[int]float64
}

func number(v float64) form { return form{number: v} }

// plus adds a form, and times multiplies by a number.
func (f form) plus(g form) form {
	out := form{f.number + g.number, map[int]float64{}}
	for i, k := range f.each {
		out.each[i] = k
	}
	for i, k := range g.each {
		if out.each[i] += k; out.each[i] == 0 {
			delete(out.each, i)
		}
	}
	return out
}

func (f form) times(k float64) form {
	out := form{float64(f.number * k), map[int]float64{}}
	for i, of := range f.each {
		if k != 0 {
			out.each[i] = float64(of * k)
		}
	}
	return out
}

// String is the same for forms that are equal but for rounding.
func (f form) String() string {
	var text strings.Builder
	fmt.Fprintf(&text, "%.11g", f.number+0)
	var known []int
	for i := range f.each {
		known = append(known, i)
	}
	slices.Sort(known)
	for _, i := range known {
		fmt.Fprintf(&text, " %.11g*%d", f.each[i], i)
	}
	return text.String()
}

// made is a quantity of its own, by how it is made.
func (q *quantities) made(span Span, how string, of ...form) form {
	key := how
	for _, f := range of {
		key += "(" + f.String() + ")"
	}
	i, known := q.of[key]
	if !known {
		i = len(q.spans)
		q.of[key] = i
		q.spans = append(q.spans, span)
	}
	return form{each: map[int]float64{i: 1}}
}

// summed is a figure whose forms are worked out, in the order of its instructions.
type summed struct {
	*Figure
	q     *quantities
	forms map[Slot]form
}

func (q *quantities) form(f *Figure) form {
	s := &summed{f, q, map[Slot]form{}}
	for _, i := range f.code {
		s.run(&f.p.code[i])
	}
	return s.at(f.slot)
}

// at gives what a slot is a sum of.
func (s *summed) at(slot Slot) form {
	span := s.Figure.at(slot)
	if span.Low == span.High {
		return number(span.Low)
	}
	if f, known := s.forms[slot]; known {
		return f
	}
	return s.q.made(span, fmt.Sprint("slot ", slot))
}

// run makes the form of what an instruction makes; where it is not known how, it stays a slot by itself.
func (s *summed) run(in *inst) {
	p := s.p
	switch in.op {
	case opCopy:
		s.forms[in.dst] = s.at(in.a)
	case opCurve:
		s.forms[in.dst] = s.curve(&p.curves[in.at], in.a, in.dst)
	case opDemand:
		s.demand(&p.demands[in.at])
	case opSum:
		s.sum(p.terms[in.at:in.to], in.dst)
	case opShareScale, opShareTurn:
		s.share(&p.shares[in.at], in.op)
	case opOutput:
		s.output(&p.outputs[in.at])
	}
}

// curve is straight between two points of a curve that is not smooth.
func (s *summed) curve(c *curve, from, to Slot) form {
	x, of := s.Figure.at(from), s.at(from)
	for i := range len(c.x) - 1 {
		if c.x[i] <= x.Low && x.High <= c.x[i+1] && c.c[i] == 0 && c.d[i] == 0 {
			return of.plus(number(-c.x[i])).times(c.b[i]).plus(number(c.y[i]))
		}
	}
	return s.q.made(s.Figure.at(to), fmt.Sprint("curve ", c.x, c.y, c.b), of)
}

func (s *summed) demand(d *demand) {
	x, from := s.at(d.In), d.In
	put := func(slot Slot, f form) {
		s.forms[slot] = f
		x, from = s.at(slot), slot
	}
	if d.Deadband != None {
		in, stretch := s.Figure.at(from), 100/(100-d.dead)
		switch {
		case in.Low >= d.dead:
			put(d.Deadband, x.plus(number(-d.dead)).times(stretch))
		case in.High <= -d.dead:
			put(d.Deadband, x.plus(number(d.dead)).times(stretch))
		default:
			put(d.Deadband, s.q.made(s.Figure.at(d.Deadband), fmt.Sprint("dead ", d.dead), x))
		}
	}
	if d.Expo != None {
		put(d.Expo, s.q.made(s.Figure.at(d.Expo), fmt.Sprint("expo ", d.straight, d.cubed), x))
	}
	if d.Rated != None {
		rate := d.rate
		if d.Rate != None {
			rate = s.Figure.at(d.Rate).Low
		}
		put(d.Rated, x.times(rate/100))
	}
	if d.Curve != None {
		put(d.Curve, s.curve(d.curve, from, d.Curve))
	}
	if d.limits {
		in := s.Figure.at(from)
		put(d.Out, s.within(x.plus(number(d.trim)), Span{in.Low + d.trim, in.High + d.trim}, -150, 150, d.Out))
	}
}

// within is a form that is limited; span is where it lies without that.
func (s *summed) within(f form, span Span, low, high float64, to Slot) form {
	if low <= span.Low && span.High <= high {
		return f
	}
	return s.q.made(s.Figure.at(to), fmt.Sprint("within ", low, high), f)
}

func (s *summed) sum(terms []term, to Slot) {
	acc, span := number(0), Span{}
	for i := range terms {
		t := &terms[i]
		x := s.bent(t)
		in := s.Figure.at(t.V)
		c, wide := s.combined(t, acc, x, span, in)
		weight := 1.0
		if t.Weight != None {
			weight = s.Figure.at(t.Weight).Low
		}
		acc = acc.times(1 - weight).plus(c.times(weight))
		if span = wide; t.store {
			span = s.Figure.at(t.Acc)
		}
	}
	s.forms[to] = acc
}

// bent is what a mix makes of its source by shape, gain and bias.
func (s *summed) bent(t *term) form {
	x, in := s.at(t.In), s.Figure.at(t.In)
	turn := func(pos, neg float64, how string, to Slot) {
		switch {
		case in.Low >= 0:
			x = x.times(pos)
		case in.High <= 0:
			x = x.times(neg)
		case pos == neg:
			x = x.times(pos)
		default:
			x = s.q.made(s.Figure.at(to), how, x)
		}
	}
	if t.shape != shapePlain {
		turn(shaped(1, t.shape), -shaped(-1, t.shape), fmt.Sprint("shape ", t.shape), t.Shaped)
		in = s.Figure.at(t.Shaped)
	}
	if !t.gains {
		return x
	}
	if in.Low < 0 && in.High > 0 && t.pos != t.neg { // the bias is part of it
		return s.q.made(s.Figure.at(t.V), fmt.Sprint("gain ", t.pos, t.neg, t.bias), x)
	}
	turn(t.pos, t.neg, "", t.V)
	return x.plus(number(t.bias))
}

// combined is the sum so far with a mix, and where that lies.
func (s *summed) combined(t *term, acc, x form, span, in Span) (form, Span) {
	wide := combinedSpan(t.combine, span, in)
	switch {
	case t.combine == combineAdd:
		return acc.plus(x), wide
	case t.combine == combineInstead:
		return x, wide
	case t.combine == combineTimes && len(acc.each) == 0:
		return x.times(acc.number / 100), wide
	case t.combine == combineTimes && len(x.each) == 0:
		return acc.times(x.number / 100), wide
	case t.combine == combineTimes:
		return s.q.made(wide, "product", acc, x), wide
	}
	if t.combine == combineLeast && span.High <= in.Low || t.combine == combineGreatest && span.Low >= in.High {
		return acc, wide
	}
	if t.combine == combineLeast && in.High <= span.Low || t.combine == combineGreatest && in.Low >= span.High {
		return x, wide
	}
	return s.q.made(wide, fmt.Sprint("of two ", t.combine), acc, x), wide
}

func (s *summed) share(sh *share, kind op) {
	var all []form
	for _, slot := range sh.in {
		all = append(all, s.at(slot))
	}
	for i := range sh.in {
		s.forms[sh.out[i]] = all[i]
		if s.Figure.at(sh.most).High > 100 {
			s.forms[sh.out[i]] = s.q.made(s.Figure.at(sh.out[i]), fmt.Sprint("share ", kind, i), all...)
		}
	}
}

func (s *summed) output(o *output) {
	asked := s.within(s.at(o.shared), s.Figure.at(o.shared), -100, 100, o.asked)
	s.forms[o.asked] = asked
	in := s.Figure.at(o.asked)
	if len(asked.each) == 0 || in.Low == in.High {
		asked = number(in.Low)
	}
	if o.reverse {
		asked, in = asked.times(-1), Span{-in.High, -in.Low}
		s.forms[o.turned] = asked
	}
	up, down := o.each[0], o.each[1]
	switch {
	case in.Low >= 0 || up == down:
		s.forms[o.target] = asked.times(up).plus(number(o.centre))
	case in.High <= 0:
		s.forms[o.target] = asked.times(down).plus(number(o.centre))
	default:
		s.forms[o.target] = s.q.made(s.Figure.at(o.target), fmt.Sprint("ends ", o.centre, up, down), asked)
	}
}
