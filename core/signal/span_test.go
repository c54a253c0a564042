package signal

import (
	"fmt"
	"math"
	"testing"

	"github.com/stretchr/testify/require"
	"pgregory.net/rapid"

	"axtren/core/setup"
)

// TestPointsLieWithinSpans: whatever a step makes of a value within a span lies within
// what its bounds make of the span, and each bound is reached.
func TestPointsLieWithinSpans(t *testing.T) {
	travel := rapid.Float64Range(-150, 150)
	rapid.Check(t, func(t *rapid.T) {
		within := func(in Span, f func(float64) float64, out Span, exact bool) {
			low, high := math.Inf(1), math.Inf(-1)
			for k := range 2001 {
				v := f(in.Low + (in.High-in.Low)*float64(k)/2000)
				require.True(t, v >= out.Low-1e-9 && v <= out.High+1e-9, "%g outside %v", v, out)
				low, high = min(low, v), max(high, v)
			}
			if exact {
				require.InDelta(t, out.Low, low, 2)
				require.InDelta(t, out.High, high, 2)
			}
		}
		in := Span{travel.Draw(t, "low"), travel.Draw(t, "high")}
		in = Span{min(in.Low, in.High), max(in.Low, in.High)}
		d := setup.Demand{ID: "d", From: setup.Value{Ref: "a"}, Deadband: rapid.Float64Range(0, 50).Draw(t, "dead"), Expo: rapid.Float64Range(-100, 100).Draw(t, "expo"),
			Rate: rapid.Float64Range(0, 150).Draw(t, "rate"), Trim: rapid.Float64Range(-50, 50).Draw(t, "trim"), Smooth: rapid.Bool().Draw(t, "smooth")}
		if rapid.Bool().Draw(t, "curve") {
			x := -150.0
			for range rapid.IntRange(2, 6).Draw(t, "points") {
				d.Curve = append(d.Curve, setup.Point{x, travel.Draw(t, "y")})
				x += rapid.Float64Range(1, 70).Draw(t, "x")
			}
		}
		s := &setup.Setup{Demands: []setup.Demand{d}}
		s.Transmitter.Controls = []setup.Control{{ControlHead: &setup.ControlHead{ID: "a", Kind: "axis"}, Axis: &setup.Axis{}}}
		s.Transmitter.Pulse, s.Transmitter.FrameMS = setup.Pulse{CentreUS: 1500, HalfSpanUS: 500, MinUS: 800, MaxUS: 2200, StepUS: 0.5}, 20
		s.Relink()
		p, err := Compile(s)
		require.NoError(t, err)
		st, hands := p.PowerOn(), p.Rest()
		p.Step(st, hands)
		within(in, func(v float64) float64 {
			hands[0] = v
			p.Step(st, hands)
			return st.At(p.Demands[0].Out)
		}, p.DemandSpan(0, in), d.Curve == nil)

		o := setup.Output{Low: rapid.Float64Range(-150, -1).Draw(t, "end"), High: rapid.Float64Range(1, 150).Draw(t, "other end"), Reverse: rapid.Bool().Draw(t, "reverse")}
		e, asked := newEnds(&o), Span{max(in.Low, -100), min(in.High, 100)}
		if asked.Low <= asked.High {
			within(asked, func(v float64) float64 {
				if o.Reverse {
					v = -v
				}
				return e.at(v)
			}, PositionSpan(&o, asked), true)
		}

		m := setup.Mix{Shape: rapid.SampledFrom([]string{"plain", "abs", "up", "down"}).Draw(t, "shape"), Combine: rapid.SampledFrom([]string{"add", "times", "instead", "greatest", "least"}).Draw(t, "combine"),
			Gain: setup.Gain{Pos: rapid.Float64Range(-300, 300).Draw(t, "pos"), Neg: rapid.Float64Range(-300, 300).Draw(t, "neg")}, Bias: travel.Draw(t, "bias")}
		below, above := Slopes(&m)
		term := newTerm(&m)
		for _, x := range []float64{in.Low, in.High, 0} {
			want := m.Bias + x*above
			if x < 0 {
				want = m.Bias + x*below
			}
			require.InDelta(t, want, gain(shaped(x, term.shape), term.pos, term.neg, term.bias), 1e-9, fmt.Sprint(m))
		}
		sum := travel.Draw(t, "sum")
		within(in, func(v float64) float64 { return combined(sum, v, term.combine) }, CombinedSpan(m.Combine, Span{min(sum, 5), max(sum, 5)}, in), false)
		within(in, func(v float64) float64 { return combined(sum, v, term.combine) }, CombinedSpan(m.Combine, Span{sum, sum}, in), true)
	})
}
