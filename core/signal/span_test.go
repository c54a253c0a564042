package signal

import (
	"fmt"
	"math"
	"math/rand/v2"
	"testing"

	"github.com/stretchr/testify/require"

	"axtren/core/setup"
)

// TestPointsLieWithinSpans: whatever a step makes of a value within a span lies within
// what its bounds make of the span, and each bound is reached.
func TestPointsLieWithinSpans(t *testing.T) {
	rng := rand.New(rand.NewPCG(1, 2))
	from := func(low, high float64) float64 { return low + (high-low)*rng.Float64() }
	travel := func() float64 { return from(-150, 150) }
	one := func(of ...string) string { return of[rng.IntN(len(of))] }
	for range 600 {
		within := func(in Span, f func(float64) float64, out Span, exact bool) {
			low, high := math.Inf(1), math.Inf(-1)
			for k := range 201 {
				v := f(in.Low + (in.High-in.Low)*float64(k)/200)
				require.True(t, v >= out.Low-1e-9 && v <= out.High+1e-9, "%g outside %v", v, out)
				low, high = min(low, v), max(high, v)
			}
			if exact {
				require.InDelta(t, out.Low, low, 6)
				require.InDelta(t, out.High, high, 6)
			}
		}
		in := Span{travel(), travel()}
		in = Span{min(in.Low, in.High), max(in.Low, in.High)}
		d := setup.Demand{ID: "d", From: setup.Value{Ref: "a"}, Deadband: from(0, 50), Expo: from(-100, 100),
			Rate: from(0, 150), Trim: from(-50, 50), Smooth: (rng.IntN(2) == 0)}
		if rng.IntN(2) == 0 {
			x := -150.0
			for range 2 + rng.IntN(5) {
				d.Curve = append(d.Curve, setup.Point{x, travel()})
				x += from(1, 70)
			}
		}
		s := &setup.Setup{Demands: []setup.Demand{d}}
		s.Transmitter.Controls = []setup.Control{{ControlHead: &setup.ControlHead{ID: "a", Kind: "axis"},
			Axis: &setup.Axis{}}}
		s.Transmitter.Pulse, s.Transmitter.FrameMS = setup.Pulse{CentreUS: 1500, HalfSpanUS: 500, MinUS: 800,
			MaxUS: 2200, StepUS: 0.5}, 20
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

		o := setup.Output{Low: from(-150, -1), High: from(1, 150), Reverse: (rng.IntN(2) == 0)}
		e, asked := newEnds(&o), Span{max(in.Low, -100), min(in.High, 100)}
		if asked.Low <= asked.High {
			within(asked, func(v float64) float64 {
				if o.Reverse {
					v = -v
				}
				return e.at(v)
			}, PositionSpan(&o, asked), true)
		}

		m := setup.Mix{Shape: one([]string{"plain", "abs", "up", "down"}...),
			Combine: one([]string{"add", "times", "instead", "greatest", "least"}...),
			Gain:    setup.Gain{Pos: from(-300, 300), Neg: from(-300, 300)}, Bias: travel()}
		below, above := Slopes(&m)
		term := newTerm(&m)
		for _, x := range []float64{in.Low, in.High, 0} {
			want := m.Bias + x*above
			if x < 0 {
				want = m.Bias + x*below
			}
			require.InDelta(t, want, gain(shaped(x, term.shape), term.pos, term.neg, term.bias), 1e-9,
				fmt.Sprint(m))
		}
		sum := travel()
		within(in, func(v float64) float64 { return combined(sum, v, term.combine) },
			CombinedSpan(m.Combine, Span{min(sum, 5), max(sum, 5)}, in), false)
		within(in, func(v float64) float64 { return combined(sum, v, term.combine) },
			CombinedSpan(m.Combine, Span{sum, sum}, in), true)
	}
}
