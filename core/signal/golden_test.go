package signal_test

import (
	"fmt"
	"strings"
	"testing"

	"github.com/stretchr/testify/require"

	"axtren/core/signal"
	"axtren/internal/golden"
)

// played moves everything of a model once, and cuts signal, set and a receiver.
func played(m golden.Model) string {
	var b strings.Builder
	b.WriteString("t_s,control,value\n")
	at := 0.2
	row := func(id, value string) {
		fmt.Fprintf(&b, "%.2f,%s,%s\n", at, id, value)
		at += 0.24
	}
	for round := range 2 {
		for i, c := range m.Doc.Setup.Transmitter.Controls {
			if c.Switch != nil {
				row(string(c.ID), string(c.Switch.Positions[(round+1)%len(c.Switch.Positions)]))
				row(string(c.ID), string(c.Switch.Positions[len(c.Switch.Positions)-1]))
				continue
			}
			row(string(c.ID), fmt.Sprint([]int{70, -100, 35, -15, 100}[(i+3*round)%5]))
		}
	}
	for _, what := range []string{"link", "transmitter", string(m.Doc.Setup.Receivers[0].ID)} {
		off, on := "off", "on"
		if what == "link" {
			off, on = "down", "up"
		}
		row(what, off)
		at += 0.8
		row(what, on)
		at += 0.4
	}
	for _, c := range m.Doc.Setup.Transmitter.Controls {
		if c.Axis != nil {
			row(string(c.ID), "0")
		}
	}
	at += 1
	row("link", "up")
	return b.String()
}

// TestWholeTraces: every value of a state, where it has changed, while a model is played.
func TestWholeTraces(t *testing.T) {
	for _, m := range golden.Models(t) {
		p := m.Program
		var b strings.Builder
		fmt.Fprintf(&b, "hands: %v\n", p.HandIDs())
		last := map[int]float64{}
		frame := 0
		require.NoError(t, p.Run(signal.NewScript(strings.NewReader(played(m)), p), -1,
			func(at float64, st *signal.State) error {
				if frame++; frame%12 != 1 {
					return nil
				}
				fmt.Fprintf(&b, "%.2f s:", at)
				for i, v := range st.V {
					if was, known := last[i]; !known || was != v {
						fmt.Fprintf(&b, " %d=%.6g", i, v)
						last[i] = v
					}
				}
				b.WriteString("\n")
				return nil
			}))
		golden.Equal(t, m.Name+"_trace", b.String())
	}
}

// TestWholeReasons: the arithmetic of every joint, where it has changed, while a model is
// played.
func TestWholeReasons(t *testing.T) {
	for _, m := range golden.Models(t) {
		p, s := m.Program, m.Doc.Setup
		var b strings.Builder
		last := map[string]string{}
		frame := 0
		require.NoError(t, p.Run(signal.NewScript(strings.NewReader(played(m)), p), -1,
			func(at float64, st *signal.State) error {
				if frame++; frame%70 != 2 {
					return nil
				}
				fmt.Fprintf(&b, "%.2f s\n", at)
				say := func(key string, r signal.Reason) {
					text := strings.Join(strings.Fields(fmt.Sprintf("%s = %.6g %s", r.Sum, r.Value, r.Unit)),
						" ")
					if last[key] != text {
						fmt.Fprintf(&b, "  %s: %s\n", key, text)
						last[key] = text
					}
				}
				for i, c := range s.Transmitter.Controls {
					say(string(c.ID), p.WhyControl(st, i))
				}
				for i, d := range s.Demands {
					say(string(d.ID), p.WhyDemand(st, i))
				}
				for i, o := range s.Outputs {
					for k := range p.Routes[i].Terms {
						say(fmt.Sprintf("%s term %d", o.ID, k), p.WhyTerm(st, i, k))
					}
					for _, joint := range []string{signal.JointSum, signal.JointShare, signal.JointAsked,
						signal.JointTurn, signal.JointEnds, signal.JointSlew, signal.JointPulse} {
						if r, ok := p.WhyJoint(st, i, joint); ok {
							say(string(o.ID)+" "+joint, r)
						}
					}
					for _, pin := range p.Routes[i].Pins {
						say(fmt.Sprintf("%s pin %v", o.ID, pin.PinRef), p.WhyPin(st, pin.PinRef))
					}
				}
				for i, d := range s.Devices {
					if p.Devices[i].Value != signal.None {
						say(string(d.ID), p.WhyDevice(st, i))
					}
				}
				if frame%210 == 2 {
					b.WriteString(p.Why(st, 0).Text())
				}
				return nil
			}))
		golden.Equal(t, m.Name+"_why", b.String())
	}
}

// TestWhatArrivesAndDoes: what a channel and a device make of each pulse.
func TestWhatArrivesAndDoes(t *testing.T) {
	for _, m := range golden.Models(t) {
		p := m.Program
		var b strings.Builder
		for _, us := range []float64{0, 900, 1000, 1020, 1100, 1400, 1480, 1500, 1510, 1521, 1600, 1700, 1800,
			1979, 2000, 2100} {
			fmt.Fprintf(&b, "%g us:", us)
			for channel := 1; channel < 18; channel++ {
				fmt.Fprintf(&b, " %.5g", p.Arriving(channel, us))
			}
			for i, d := range m.Doc.Setup.Devices {
				if v, ok := p.Does(i, us); ok {
					fmt.Fprintf(&b, " %s %.5g", d.ID, v)
				}
			}
			b.WriteString("\n")
		}
		golden.Equal(t, m.Name+"_arrives", b.String())
	}
}

// TestCarriedAsItWas: a state that goes on in an edited setup stands where it stood; a
// line that is slow from now on stands at its target.
func TestCarriedAsItWas(t *testing.T) {
	m := golden.Models(t)[0]
	p := m.Program
	st := p.PowerOn()
	require.NoError(t, p.Run(signal.NewScript(strings.NewReader(played(m)), p), 0.6,
		func(_ float64, now *signal.State) error {
			st.CopyFrom(now)
			return nil
		}))
	hands := p.HandsOf(st)
	same := p.Carry(p, st, hands)
	require.Equal(t, st.V[:p.Kept()], same.V[:p.Kept()], "what carries over from frame to frame")
	changed := golden.Changed(t, "low: -60}", "low: -60, slew_s: 40}", "low: -96, high: 94",
		"low: -80, high: 94")
	q := changed.Program
	other := q.Carry(p, st, hands)
	p.Step(st, hands)
	p.Step(same, hands)
	require.Equal(t, st.V, same.V)
	q.Step(other, hands)
	for i, o := range m.Doc.Setup.Outputs {
		if o.ID != "port" {
			require.InDelta(t, st.At(p.Routes[i].P), other.At(q.Routes[i].P), 1e-9, o.Label)
		}
	}
}
