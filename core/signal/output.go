package signal

import "math"

// Route is where the joints of one output stand, from the sum to the pins.
type Route struct {
	Terms   []Term
	Partial bool // a mix was left out, since it is not played yet
	Sum     Slot // acc after all mixes
	Share   int  // index in Setup.Shares, -1 for none
	Shared  Slot // after the share
	Asked   Slot // limited to 100
	Turned  Slot // after reverse; Asked where it is not reversed
	Target  Slot // position, percent, before slew
	P       Slot // position after slew; Target where it has none
	US      Slot // pulse as sent, us
	Pins    []PinRoute
}

// output compiles output i from what it is asked for to its pulse.
func (c *compiler) output(i int) {
	o, r := &c.s.Outputs[i], &c.p.Routes[i]
	r.Turned = r.Asked
	if o.Reverse {
		r.Turned = c.emit(inst{op: opTurn, a: r.Asked})
	}
	r.Target = c.emit(inst{op: opEnds, a: r.Turned, x: o.Centre, y: o.Low, z: o.High})
	r.P = r.Target
	if o.Slew.Up > 0 || o.Slew.Down > 0 {
		r.P = c.keep("p " + string(o.ID))
		c.add(inst{op: opSlew, a: r.Target, dst: r.P, x: c.perFrame(o.Slew.Up), y: c.perFrame(o.Slew.Down)})
	}
	r.US = c.emit(inst{op: opPulse, a: r.P})
}

// perFrame is how far a slew of s seconds for 200 percent lets a frame go.
func (c *compiler) perFrame(s float64) float64 {
	if s == 0 {
		return math.Inf(1)
	}
	return float64(200*c.s.Transmitter.FrameS()) / s
}

// ends turns -100..100 into a position between low and high.
func ends(v, centre, low, high float64) float64 {
	p := centre + float64(v*(high-centre))/100
	if v < 0 {
		p = centre - float64(v*(low-centre))/100
	}
	return clamp(p, low, high)
}

// slew moves p towards its target by up or down at most; in the first frame it
// is there.
func slew(p, target, up, down float64, first bool) float64 {
	switch {
	case first:
		return target
	case p < target:
		return min(p+up, target)
	}
	return max(p-down, target)
}
