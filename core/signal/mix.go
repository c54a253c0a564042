package signal

import (
	"fmt"

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

var shapeOps = map[string]op{"abs": opAbs, "up": opUp, "down": opDown}

var combineOps = map[string]op{"add": opAdd, "times": opTimes, "instead": opInstead, "greatest": opGreatest, "least": opLeast}

// mix compiles mix i onto acc and gives the slot of the new sum.
func (c *compiler) mix(i int, acc Slot) Term {
	m := &c.s.Mixes[i]
	in := c.source(m.From)
	t := Term{Mix: i, In: in, Shaped: in, Weight: None}
	weight := c.constant(1)
	if m.When != nil {
		weight = c.fact(*m.When)
		if m.FadeS > 0 {
			key := fmt.Sprintf("fade %d %s %s", i, m.From, m.To)
			if m.ID != nil {
				key = "fade " + string(*m.ID)
			}
			fading := c.keep(key)
			c.add(inst{op: opFade, a: weight, dst: fading, x: c.s.Transmitter.FrameS() / m.FadeS})
			weight = fading
		}
		t.Weight = weight
	}
	if shaped, ok := shapeOps[m.Shape]; ok {
		t.Shaped = c.emit(inst{op: shaped, a: in})
	}
	t.V = t.Shaped
	switch {
	case m.Gain.Pos != m.Gain.Neg:
		t.V = c.emit(inst{op: opGainSplit, a: t.Shaped, x: m.Gain.Pos / 100, y: m.Gain.Neg / 100, z: m.Bias})
	case m.Gain.Pos != 100 || m.Bias != 0:
		t.V = c.emit(inst{op: opGain, a: t.Shaped, x: m.Gain.Pos / 100, z: m.Bias})
	}
	switch {
	case t.Weight != None || m.Combine != "add":
		t.Acc = c.emit(inst{op: combineOps[m.Combine], a: acc, b: t.V, c: weight})
	case acc == c.constant(0):
		t.Acc = t.V
	default:
		t.Acc = c.emit(inst{op: opSum, a: acc, b: t.V})
	}
	return t
}

// gainSplit is s*g + bias, g by the sign of s, 1 for a gain of 100.
func gainSplit(s, pos, neg, bias float64) float64 {
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
	for j := range c.s.Mixes {
		if item := c.s.Item(c.s.Mixes[j].To); item.Kind != setup.IsOutput || item.Index != i {
			continue
		}
		r.Terms = append(r.Terms, c.mix(j, r.Sum))
		r.Sum = r.Terms[len(r.Terms)-1].Acc
	}
	r.Shared = r.Sum
}
