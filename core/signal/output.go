package signal

import (
	"math"
	"slices"

	"axtren/core/setup"
)

// Route is where the joints of one output stand, from the sum to the pins.
type Route struct {
	Terms  []Term
	Sum    Slot // acc after all mixes
	Share  int  // index in Setup.Shares, -1 for none
	Shared Slot // after the share
	Asked  Slot // limited to 100
	Turned Slot // after reverse; Asked where it is not reversed
	Target Slot // position, percent, before slew
	P      Slot // position after slew; Target where it has none
	US     Slot // pulse as sent, us
	Pins   []PinRoute

	most  Slot // the largest |sum| of the share; None where there is none that moves anything
	stage int  // its entry in Program.outputs
}

// output is the last stage of one output, from what is shared out to its pulse:
// always the same steps, so one instruction does them all.
type output struct {
	shared, asked, turned, target, p, us Slot
	reverse, slewed                      bool
	ends
	up, down float64 // percent that slew lets a frame move
	held     bool    // it stays at rest whatever is asked: Alone
	rest     float64 // what is asked of it at rest, percent
}

// ends turn what is asked into a position.
type ends struct {
	centre, low, high float64
	each              [2]float64 // position for a percent asked: above centre, below it
}

func newEnds(o *setup.Output) ends {
	return ends{o.Centre, o.Low, o.High, [2]float64{(o.High - o.Centre) / 100, (o.Centre - o.Low) / 100}}
}

// output compiles output i from what it is asked for to its pulse.
func (c *compiler) output(i int) {
	o, r := &c.s.Outputs[i], &c.p.Routes[i]
	r.Turned = r.Asked
	if o.Reverse {
		r.Turned = c.slot()
	}
	r.Target = c.slot()
	r.P = r.Target
	if o.Slew.Up > 0 || o.Slew.Down > 0 {
		r.P = c.keep(setup.IsOutput.At(i), "p")
	}
	r.US = c.slot()
	c.p.outputs = append(c.p.outputs, output{
		shared: r.Shared, asked: r.Asked, turned: r.Turned, target: r.Target, p: r.P, us: r.US,
		reverse: o.Reverse, slewed: r.P != r.Target, ends: newEnds(o),
		up: c.perFrame(o.Slew.Up), down: c.perFrame(o.Slew.Down),
	})
	r.stage = len(c.p.outputs) - 1
	c.add(inst{op: opOutput, at: int32(r.stage)})
}

// perFrame is how far a slew of s seconds for 200 percent lets a frame go.
func (c *compiler) perFrame(s float64) float64 {
	if s == 0 {
		return math.Inf(1)
	}
	return float64(200*c.s.Transmitter.FrameS()) / s
}

// step runs the stage: limit, reverse, ends, slew, pulse. Where the same is
// asked as in the frame before, and that was reached, the slots hold what they
// would get.
func (o *output) step(v []float64, pulse *scale) {
	asked := clamp(v[o.shared], -100, 100)
	if o.held {
		asked = o.rest
	}
	first := v[slotFirst] != 0
	if asked == v[o.asked] && v[o.p] == v[o.target] && !first {
		return
	}
	v[o.asked] = asked
	if o.reverse {
		asked = -asked
		v[o.turned] = asked
	}
	p := o.at(asked)
	v[o.target] = p
	if o.slewed {
		p = slew(v[o.p], p, o.up, o.down, first)
		v[o.p] = p
	}
	v[o.us] = pulse.us(p)
}

// at turns -100..100 into a position between low and high. The sign bit picks the
// side, which no processor has to guess.
func (e *ends) at(v float64) float64 {
	return clamp(e.centre+float64(v*e.each[math.Float64bits(v)>>63]), e.low, e.high)
}

// PositionOf gives where output i makes for when so much is asked of it, both in percent:
// docs/format.md, section 7, steps 1 and 2.
func (p *Program) PositionOf(i int, asked float64) float64 {
	o := &p.outputs[p.Routes[i].stage]
	if o.reverse {
		asked = -asked
	}
	return o.at(clamp(asked, -100, 100))
}

// slew moves p towards its target by up or down at most; in the first frame it
// is there.
func slew(p, target, up, down float64, first bool) float64 {
	switch {
	case first:
		return target
	case p < target:
		return lesser(p+up, target)
	}
	return greater(p-down, target)
}

// Alone gives a program of the same layout in which only one output does what it is asked; the others stay
// where they are with hands off, whatever moves, and ask what they ask there. All else goes on as it does.
func (p *Program) Alone(output int) *Program {
	rest := p.PowerOn()
	p.Step(rest, p.Ready())
	q := *p
	q.outputs = slices.Clone(p.outputs)
	for i := range p.Routes {
		if i != output {
			o := &q.outputs[p.Routes[i].stage]
			o.held, o.rest = true, rest.At(p.Routes[i].Asked)
		}
	}
	return &q
}
