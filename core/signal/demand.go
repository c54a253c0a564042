package signal

import (
	"math"
	"sort"

	"axtren/core/setup"
)

// Shaping is where the joints of one demand stand; a step that the demand does
// not have is None.
type Shaping struct {
	In                                 Slot
	Deadband, Expo, Rate, Rated, Curve Slot // Rate is the rate in force, percent
	Out                                Slot // after trim and the limit of 150
}

// BeforeCurve gives where the value stands that a curve is given.
func (s *Shaping) BeforeCurve() Slot {
	for _, slot := range []Slot{s.Rated, s.Expo, s.Deadband} {
		if slot != None {
			return slot
		}
	}
	return s.In
}

// demand is one demand with its constants: always the same steps, so one
// instruction does those that it has.
type demand struct {
	Shaping
	dead            float64 // percent
	straight, cubed float64 // of expo
	arms            []rateArm
	rate            float64 // where no arm holds, percent
	scale           float64 // the same as a factor, where there are no arms
	curve           *curve
	trim            float64
	limits          bool // whether trim or limit changes anything
}

func (c *compiler) demand(i int) {
	s := &c.s.Demands[i]
	d := demand{dead: s.Deadband, straight: 1 - s.Expo/100, cubed: s.Expo / 1e6, rate: s.Rate,
		scale: s.Rate / 100, trim: s.Trim,
		limits: s.Trim != 0 || c.mayPass150(s)}
	d.Shaping = Shaping{In: c.source(s.From), Deadband: None, Expo: None, Rate: None, Rated: None,
		Curve: None}
	d.Out = d.In
	next := func(has bool, slot *Slot) {
		if has {
			*slot = c.slot()
			d.Out = *slot
		}
	}
	next(s.Deadband != 0, &d.Deadband)
	next(s.Expo != 0, &d.Expo)
	for _, r := range s.Rates {
		d.arms = append(d.arms, rateArm{c.fact(r.When), r.Rate})
	}
	if d.arms != nil {
		d.Rate = c.slot()
	}
	next(d.arms != nil || s.Rate != 100, &d.Rated)
	if s.Curve != nil {
		cv := newCurve(s.Curve, s.Smooth)
		d.curve = &cv
	}
	next(s.Curve != nil, &d.Curve)
	next(d.limits, &d.Out)
	c.p.Demands[i] = d.Shaping
	c.p.demandAt[i] = len(c.p.demands)
	c.p.demands = append(c.p.demands, d)
	c.add(inst{op: opDemand, at: int32(len(c.p.demands) - 1), dst: d.Out})
}

// step runs the demand: dead band, expo, rate, curve, trim.
func (d *demand) step(v []float64) {
	x := v[d.In]
	if d.Deadband != None {
		x = deadband(x, d.dead)
		v[d.Deadband] = x
	}
	if d.Expo != None {
		x = expo(x, d.straight, d.cubed)
		v[d.Expo] = x
	}
	switch {
	case d.Rate != None:
		rate := d.rate
		for i := range d.arms {
			if v[d.arms[i].when] != 0 {
				rate = d.arms[i].rate
				break
			}
		}
		v[d.Rate] = rate
		x = x * rate / 100
		v[d.Rated] = x
	case d.Rated != None:
		x *= d.scale
		v[d.Rated] = x
	}
	if d.Curve != None {
		x = d.curve.at(x)
		v[d.Curve] = x
	}
	if d.limits {
		v[d.Out] = clamp(x+d.trim, -150, 150)
	}
}

// span bounds what step makes of a span, whichever rate holds.
func (d *demand) span(in Span) Span {
	x := in
	if d.Deadband != None {
		x = x.at(func(v float64) float64 { return deadband(v, d.dead) })
	}
	if d.Expo != None {
		x = x.turning(func(v float64) float64 { return expo(v, d.straight, d.cubed) },
			expoTurns(d.straight, d.cubed)...)
	}
	out := x.at(func(v float64) float64 { return v * d.rate / 100 })
	for _, arm := range d.arms {
		out = out.With(x.at(func(v float64) float64 { return v * arm.rate / 100 }))
	}
	if d.Curve != None {
		out = out.turning(d.curve.at, d.curve.x...) // between two points it stays between theirs
	}
	return out.at(func(v float64) float64 { return clamp(v+d.trim, -150, 150) })
}

// mayPass150 tells whether a demand could leave ±150 without its limit. A curve
// cannot, nor a control, within ±100, that no rate enlarges: the sharpest expo
// makes 108.9 of it.
func (c *compiler) mayPass150(d *setup.Demand) bool {
	if d.Curve != nil {
		return false
	}
	src, err := c.s.Source(d.From)
	larger := d.Rate > 100 || err != nil || src.Kind != setup.SourceControl
	for _, r := range d.Rates {
		larger = larger || r.Rate > 100
	}
	return larger
}

// deadband takes d percent of travel around 0 away; 0 <= d <= 50.
func deadband(x, d float64) float64 {
	if math.Abs(x) <= d {
		return 0
	}
	return math.Copysign(float64((math.Abs(x)-d)*100)/(100-d), x)
}

// expo softens the centre for k > 0; -100 <= k <= 100; straight is 1 - k/100,
// cubed is k/100/10000.
func expo(x, straight, cubed float64) float64 {
	return float64(straight*x) + float64(cubed*float64(x*x*x))
}

// expoTurns gives where expo stops rising: sharpened, it falls again far out.
func expoTurns(straight, cubed float64) []float64 {
	if cubed >= 0 {
		return nil
	}
	turn := math.Sqrt(straight / (-3 * cubed))
	return []float64{-turn, turn}
}

// rateArm is one entry of a demand's rates.
type rateArm struct {
	when Slot
	rate float64
}

// CurveOf gives a curve through points as a function of percent: docs/format.md, section 4.
func CurveOf(points []setup.Point, smooth bool) func(x float64) float64 {
	cv := newCurve(points, smooth)
	return cv.at
}

// curve is a piecewise polynomial through points, held flat beyond its ends:
// y[i] + s*(b[i] + s*(c[i] + s*d[i])) with s = x - x[i].
type curve struct {
	x, y    []float64
	b, c, d []float64
}

func newCurve(points []setup.Point, smooth bool) curve {
	n := len(points)
	cv := curve{x: make([]float64, n), y: make([]float64, n), b: make([]float64, n), c: make([]float64, n),
		d: make([]float64, n)}
	for i, p := range points {
		cv.x[i], cv.y[i] = p[0], p[1]
	}
	if n == 1 {
		return cv
	}
	secants := make([]float64, n-1)
	for i := range secants {
		secants[i] = (cv.y[i+1] - cv.y[i]) / (cv.x[i+1] - cv.x[i])
	}
	if !smooth {
		copy(cv.b, secants)
		return cv
	}
	m := monotoneTangents(secants)
	for i, s := range secants {
		h := cv.x[i+1] - cv.x[i]
		cv.b[i] = m[i]
		cv.c[i] = (float64(3*s) - float64(2*m[i]) - m[i+1]) / h
		cv.d[i] = (m[i] + m[i+1] - float64(2*s)) / float64(h*h)
	}
	return cv
}

// monotoneTangents are those of Fritsch and Carlson, Monotone Piecewise Cubic
// Interpolation, SIAM J. Numer. Anal. 17 (1980) 238-246: the mean of the two
// neighbouring secants, 0 where they differ in sign, the end secant at each
// end, and each pair brought back into the circle of radius 3.
func monotoneTangents(secants []float64) []float64 {
	n := len(secants) + 1
	m := make([]float64, n)
	m[0], m[n-1] = secants[0], secants[n-2]
	for i := 1; i < n-1; i++ {
		if float64(secants[i-1]*secants[i]) > 0 {
			m[i] = (secants[i-1] + secants[i]) / 2
		}
	}
	for i, s := range secants {
		if s == 0 {
			continue
		}
		alpha, beta := m[i]/s, m[i+1]/s
		if math.IsInf(alpha, 0) || math.IsInf(beta, 0) {
			m[i], m[i+1] = 0, 0 // it hardly rises beside its neighbour
			continue
		}
		if far := float64(alpha*alpha) + float64(beta*beta); far > 9 {
			tau := 3 / math.Sqrt(far)
			m[i], m[i+1] = float64(tau*alpha)*s, float64(tau*beta)*s
		}
	}
	return m
}

// at evaluates the curve: percent in, percent out. O(log n).
func (cv *curve) at(x float64) float64 {
	last := len(cv.x) - 1
	if x <= cv.x[0] {
		return cv.y[0]
	}
	if x >= cv.x[last] {
		return cv.y[last]
	}
	i := sort.SearchFloat64s(cv.x, x)
	if cv.x[i] > x {
		i--
	}
	s := x - cv.x[i]
	return cv.y[i] + float64(s*(cv.b[i]+float64(s*(cv.c[i]+float64(s*cv.d[i])))))
}
