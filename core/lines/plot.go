package lines

import (
	"math"

	"axtren/core/setup"
	"axtren/core/signal"
)

// plotStep is how far apart the points of a plot are, percent of the control.
const plotStep = 2

// Plot gives what a line is asked for along the travel of one of its controls,
// with all else as it stands in a state: [percent of the control, percent of the
// servo before slew, pulse in us]. Every point is a frame of the program on a copy
// of the state. It is nil where control is no axis or output no line.
func Plot(p *signal.Program, st *signal.State, control, output string) [][]float64 {
	s := p.Setup()
	c, o := s.Item(setup.ID(control)), s.Item(setup.ID(output))
	if c.Kind != setup.IsControl || s.Transmitter.Controls[c.Index].Axis == nil || o.Kind != setup.IsOutput {
		return nil
	}
	route := p.Routes[o.Index]
	hand, _ := p.Hand(control)
	hands := p.HandsOf(st)
	var points [][]float64
	at := p.PowerOn()
	for x := -100.0; x <= 100; x += plotStep {
		at.CopyFrom(st)
		hands[hand] = x
		p.Step(at, hands)
		target := at.At(route.Target)
		points = append(points, []float64{x, round(target), round(p.PulseOf(target))})
	}
	return points
}

func round(v float64) float64 { return math.Round(v*1e3) / 1e3 }
