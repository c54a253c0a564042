package signal

import (
	"math"

	"axtren/core/setup"
)

// Term is where the joints of one mix stand; None where it has no such step.
type Term struct {
	Mix    int  // index in Setup.Mixes
	In     Slot // the source
	Shaped Slot // after abs, up or down; In where it is plain
	V      Slot // after gain and bias
	Weight Slot // how far the mix holds, 0..1; None: always
	Acc    Slot // the sum so far, this mix included
}

// term is one mix with its constants. The mixes of an output are one
// instruction, which adds them up in order.
type term struct {
	Term
	combine, shape mixWord
	gains          bool // whether gain or bias changes anything
	pos, neg, bias float64
	fade           float64 // how far the weight moves in a frame; 0: at once
	holds          Slot    // whether the condition holds, where it fades
	store          bool    // whether the sum needs a place of its own
}

// mixWord is a shape or a way to combine.
type mixWord uint8

const (
	shapePlain mixWord = iota
	shapeAbs
	shapeUp
	shapeDown
	combineAdd
	combineTimes
	combineInstead
	combineGreatest
	combineLeast
)

var mixWords = map[string]mixWord{"plain": shapePlain, "abs": shapeAbs, "up": shapeUp, "down": shapeDown,
	"add": combineAdd, "times": combineTimes, "instead": combineInstead, "greatest": combineGreatest,
	"least": combineLeast}

// newTerm gives the constants of a mix.
func newTerm(m *setup.Mix) term {
	return term{combine: mixWords[m.Combine], shape: mixWords[m.Shape], pos: m.Gain.Pos / 100,
		neg: m.Gain.Neg / 100, bias: m.Bias,
		gains: m.Gain.Pos != 100 || m.Gain.Neg != 100 || m.Bias != 0}
}

// mix lays out mix i onto acc.
func (c *compiler) mix(i int, first bool) term {
	m := &c.s.Mixes[i]
	in := c.source(m.From)
	t := newTerm(m)
	t.Term = Term{Mix: i, In: in, Shaped: in, Weight: None}
	if m.When != nil {
		t.Weight = c.fact(*m.When)
		if m.FadeS > 0 {
			what := "fade"
			if m.ID == nil { // known by its place, as long as it is between the same two
				what = "fade " + m.From.String() + " " + string(m.To)
			}
			t.holds, t.Weight, t.fade = t.Weight, c.keep(setup.IsMix.At(i),
				what), c.s.Transmitter.FrameS()/m.FadeS
		}
	}
	if t.shape != shapePlain {
		t.Shaped = c.slot()
	}
	t.V = t.Shaped
	if t.gains {
		t.V = c.slot()
	}
	t.Acc = t.V
	if t.store = !first || t.Weight != None || t.combine != combineAdd; t.store {
		t.Acc = c.slot()
	}
	return t
}

// sum adds the terms of an output up, in order.
func sum(v []float64, terms []term) {
	acc := 0.0
	for i := range terms {
		t := &terms[i]
		x := v[t.In]
		if t.shape != shapePlain {
			x = shaped(x, t.shape)
			v[t.Shaped] = x
		}
		if t.gains {
			x = gain(x, t.pos, t.neg, t.bias)
			v[t.V] = x
		}
		c := acc + x
		if t.combine != combineAdd {
			c = combined(acc, x, t.combine)
		}
		if t.Weight == None {
			acc = c
		} else {
			acc = blend(acc, c, t.weight(v))
		}
		if t.store {
			v[t.Acc] = acc
		}
	}
}

// weight is how far the mix holds in this frame, 0..1.
func (t *term) weight(v []float64) float64 {
	if t.fade > 0 {
		v[t.Weight] = fade(v[t.Weight], v[t.holds], t.fade, v[slotFirst] != 0)
	}
	return v[t.Weight]
}

func shaped(x float64, shape mixWord) float64 {
	switch shape {
	case shapeAbs:
		return math.Abs(x)
	case shapeUp:
		return greater(x, 0)
	case shapeDown:
		return lesser(x, 0)
	}
	return x
}

func combined(acc, x float64, combine mixWord) float64 {
	switch combine {
	case combineTimes:
		return float64(acc*x) / 100
	case combineInstead:
		return x
	case combineGreatest:
		return greater(acc, x)
	case combineLeast:
		return lesser(acc, x)
	}
	return acc + x
}

// gain is s*g + bias, g by the sign of s, 1 for a gain of 100.
func gain(s, pos, neg, bias float64) float64 {
	if s >= 0 {
		return float64(s*pos) + bias
	}
	return float64(s*neg) + bias
}

// blend goes the part f of the way from acc to c, exactly to it where f is 1.
func blend(acc, c, f float64) float64 {
	if f == 1 {
		return c
	}
	return acc + float64(f*(c-acc))
}

// fade moves f towards 0 or 1 by step a frame; in the first frame it is there.
func fade(f, target, step float64, first bool) float64 {
	switch {
	case first:
		return target
	case f < target:
		return lesser(f+step, target)
	}
	return greater(f-step, target)
}

// sums compiles the mixes to output i, in document order.
func (c *compiler) sums(i int) {
	r := &c.p.Routes[i]
	r.Sum = c.constant(0)
	from := len(c.p.terms)
	for _, j := range c.s.MixesTo(i) {
		t := c.mix(j, len(r.Terms) == 0)
		c.p.terms = append(c.p.terms, t)
		r.Terms = append(r.Terms, t.Term)
		r.Sum = t.Acc
	}
	if r.Terms != nil {
		c.add(inst{op: opSum, at: int32(from), to: int32(len(c.p.terms)), dst: r.Sum})
	}
	r.Shared = r.Sum
}
