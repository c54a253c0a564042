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

func (c *compiler) demand(i int) {
	d := &c.s.Demands[i]
	in := c.source(d.From)
	sh := Shaping{In: in, Deadband: None, Expo: None, Rate: None, Rated: None, Curve: None}
	at := in
	if d.Deadband != 0 {
		sh.Deadband = c.emit(inst{op: opDeadband, a: at, x: d.Deadband})
		at = sh.Deadband
	}
	if d.Expo != 0 {
		sh.Expo = c.emit(inst{op: opExpo, a: at, x: 1 - d.Expo/100, y: d.Expo / 1e6})
		at = sh.Expo
	}
	sh.Rate, sh.Rated = c.rated(d, at)
	if sh.Rated != None {
		at = sh.Rated
	}
	if d.Curve != nil {
		c.p.curves = append(c.p.curves, newCurve(d.Curve, d.Smooth))
		sh.Curve = c.emit(inst{op: opCurve, a: at, b: Slot(len(c.p.curves) - 1)})
		at = sh.Curve
	}
	sh.Out = at
	if d.Trim != 0 || c.mayPass150(d) {
		sh.Out = c.emit(inst{op: opTrim, a: at, x: d.Trim})
	}
	c.p.Demands[i] = sh
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

// rateArm is one entry of a demand's rates.
type rateArm struct {
	when Slot
	rate float64
}

// rated compiles the rate of a demand: nothing for 100, a constant, or a choice.
func (c *compiler) rated(d *setup.Demand, at Slot) (rate, rated Slot) {
	from := len(c.p.rates)
	for _, r := range d.Rates {
		c.p.rates = append(c.p.rates, rateArm{c.fact(r.When), r.Rate})
	}
	to := len(c.p.rates)
	if from < to {
		rate = c.emit(inst{op: opPickRate, b: Slot(from), c: Slot(to), x: d.Rate})
		return rate, c.emit(inst{op: opRate, a: at, b: rate})
	}
	if d.Rate != 100 {
		return None, c.emit(inst{op: opScale, a: at, x: d.Rate / 100})
	}
	return None, None
}

// pickRate gives the rate of the first arm that holds.
func (p *Program) pickRate(v []float64, in *inst) float64 {
	for _, arm := range p.rates[in.b:in.c] {
		if v[arm.when] != 0 {
			return arm.rate
		}
	}
	return in.x
}

// curve is a piecewise polynomial through points, held flat beyond its ends:
// y[i] + s*(b[i] + s*(c[i] + s*d[i])) with s = x - x[i].
type curve struct {
	x, y    []float64
	b, c, d []float64
}

func newCurve(points []setup.Point, smooth bool) curve {
	n := len(points)
	cv := curve{x: make([]float64, n), y: make([]float64, n), b: make([]float64, n), c: make([]float64, n), d: make([]float64, n)}
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
