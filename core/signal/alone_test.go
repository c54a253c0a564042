package signal_test

import (
	"testing"

	"github.com/stretchr/testify/require"
	"pgregory.net/rapid"

	"axtren/core/signal"
	"axtren/demo"
)

// TestOneOutputAlone: of every demo model, whatever hands do, the one output does what it does with all of
// them, and every other one stands where it stands with hands off; in lanes as in a program of one state.
func TestOneOutputAlone(t *testing.T) {
	yard, err := demo.Yard()
	require.NoError(t, err)
	for _, m := range yard {
		p, err := signal.Compile(m.Doc.Setup)
		require.NoError(t, err)
		rest := p.PowerOn()
		p.Step(rest, p.Ready())
		rapid.Check(t, func(rt *rapid.T) {
			only := rapid.IntRange(0, len(p.Routes)-1).Draw(rt, "only")
			q := p.Alone(only)
			all, alone, lanes := p.PowerOn(), q.PowerOn(), q.Lanes(2)
			lanes.Begin(alone)
			for range 30 {
				hands := p.Ready()
				for i, c := range m.Doc.Setup.Transmitter.Controls {
					if c.Axis != nil {
						hands[i] = rapid.Float64Range(-100, 100).Draw(rt, "axis")
					}
				}
				p.Step(all, hands)
				q.Step(alone, hands)
				lanes.Step([]signal.Hands{hands, hands})
				for i := range p.Routes {
					route := &p.Routes[i]
					if i == only {
						if m.Doc.Setup.Name == "Stoat" && m.Doc.Setup.OutputLabel(i) == "Pump" {
							continue // it does as much as the valves ask, and they are at rest
						}
						require.Equal(rt, all.At(route.US), alone.At(route.US))
					} else if q.Sending(alone) {
						require.Equal(rt, rest.At(route.Target), alone.At(route.Target), m.Doc.Setup.OutputLabel(i))
					}
					require.Equal(rt, alone.At(route.US), lanes.At(1, route.US), m.Doc.Setup.Name+m.Doc.Setup.OutputLabel(i))
				}
			}
		})
	}
}
