package proof

import (
	"context"
	"math/rand/v2"
	"testing"

	"github.com/stretchr/testify/require"

	"axtren/core/setup"
	"axtren/core/signal"
	"axtren/demo"
)

// TestWhatABoundSaysIsNever: over minutes of random movements of every demo model, with the signal cut and
// the power turned off and on, no output and no device leaves what bounds say of it.
func TestWhatABoundSaysIsNever(t *testing.T) {
	yard, err := demo.Yard()
	require.NoError(t, err)
	r := rand.New(rand.NewPCG(11, 12))
	outputs, devices := 0, 0
	for _, m := range yard {
		s := m.Doc.Setup
		p, err := signal.Compile(s)
		require.NoError(t, err)
		type bounded struct {
			slot, known signal.Slot
			span        signal.Span
			name        string
		}
		var list []bounded
		least := -1e3
		for i := range s.Outputs {
			id := s.Outputs[i].ID
			y, err := newSystem(s, &setup.Claim{Reachable: &setup.Condition{Output: &id, Above: &least}}, nil)
			require.NoError(t, err)
			if span, ok := y.ever(&y.claimed.asks[0]); ok {
				list = append(list, bounded{p.Routes[i].P, signal.None, span, string(id)})
				outputs++
			}
		}
		for i := range s.Devices {
			id := s.Devices[i].ID
			if s.Devices[i].PartKind().Passes {
				continue
			}
			y, err := newSystem(s, &setup.Claim{Reachable: &setup.Condition{Device: &id, Above: &least}}, nil)
			require.NoError(t, err)
			if span, ok := y.ever(&y.claimed.asks[0]); ok {
				list = append(list, bounded{p.Devices[i].Value, p.Devices[i].Known, span, string(id)})
				devices++
			}
		}
		st, hands, ids := p.PowerOn(), p.Ready(), p.HandIDs()
		for frame := range 20000 {
			if frame%9 == 0 {
				hand := r.IntN(len(hands))
				switch item := s.Item(setup.ID(ids[hand])); {
				case item.Kind == setup.IsDevice: // where a servo was left: that is before power-on
				case item.Kind != setup.IsControl:
					hands[hand] = float64(r.IntN(4)/3*-1 + 1)
				case s.Transmitter.Controls[item.Index].Axis != nil:
					hands[hand] = []float64{-100, 100, 0, -100 + 200*r.Float64()}[r.IntN(4)]
				default:
					hands[hand] = float64(r.IntN(len(s.Transmitter.Controls[item.Index].Switch.Positions)))
				}
			}
			p.Step(st, hands)
			for _, b := range list {
				if b.known != signal.None && st.At(b.known) == 0 {
					continue
				}
				at := st.At(b.slot)
				require.True(t, at >= b.span.Low-1e-9 && at <= b.span.High+1e-9, "%s %s: %v outside %v", s.Name, b.name,
					at, b.span)
			}
		}
	}
	t.Log(outputs, devices)
	require.Greater(t, outputs, 60)
	require.Greater(t, devices, 20)
}

// TestBoundsDecide: what is beyond the ends, a preset and a second lead among them, is never, without a frame
// looked at; what is within them is searched.
func TestBoundsDecide(t *testing.T) {
	s := read(t, `
outputs:
  - {id: motor, label: Motor, channel: 1, low: -40, high: 60, loss: {mode: preset, value: -55}, slew_s: 1}
  - {id: swap, channel: 2}
receivers: [{id: rx, failsafe: {can: [preset], otherwise: hold}, pins: [{pin: 1, channel: 1}, {pin: 2, channel: 2},
  {pin: 3, channel: 1}]}]
devices:
  - {id: screw, label: Screw, on: rx.1, kind: servo}
  - {id: drum, on: rx.3, kind: esc, swap_on: rx.2, learned_us: {low: 1000, neutral: 1500, high: 2000}, dead_us: 0}
mixes: [{from: stick, to: motor}]`)
	bounds := func(text string) string {
		c, err := ReadCondition(s, text)
		require.NoError(t, err)
		v := Reach(context.Background(), s, c, nil, Budget{Bytes: 1 << 20, Steps: 1000})
		if v.Bounds != "" {
			require.Equal(t, Fails, v.Verdict)
			require.Zero(t, v.States)
		}
		return v.Bounds
	}
	require.Equal(t, "Motor never gets beyond −40 … +60 %", bounds("motor > 60"))
	require.Equal(t, "Motor never gets beyond −40 … +60 %", bounds("motor < -40"))
	require.Empty(t, bounds("motor > 59.9"))
	require.Empty(t, bounds("motor < -39.9"))
	require.Equal(t, "Screw never gets beyond −55 … +60 %", bounds("screw < -55.1"))
	require.Empty(t, bounds("screw < -54.9"))
	require.NotEmpty(t, bounds("drum > 61"))
	require.NotEmpty(t, bounds("drum < -61"), "the second lead turns it round")
	require.Empty(t, bounds("drum < -56"))
	require.Empty(t, bounds("drum > 54"))
	v := Reach(context.Background(), s, setup.Condition{Output: &s.Outputs[0].ID, Above: new(float64)},
		nil, Usual)
	require.Equal(t, Holds, v.Verdict)
}
