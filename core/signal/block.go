package signal

import "axtren/core/setup"

// block compiles logic block i. Its value is 0 or 1. Names and diagrams are
// those of IEC 61131-3; edges at power-on differ on purpose: every edge takes
// the input of the first frame as the previous one too.
func (c *compiler) block(i int) {
	b := &c.s.Logic[i]
	dst := c.values[c.graph.at[setup.IsBlock.At(i)]]
	own := func(what string) Slot { return c.keep(setup.IsBlock.At(i), what) }
	switch spec := b.Spec.(type) {
	case *setup.Gate:
		var in []Slot
		for _, t := range spec.In {
			in = append(in, c.fact(t))
		}
		from, to := c.list(in)
		c.add(inst{op: map[string]op{"and": opAnd, "or": opOr, "xor": opXor}[b.Block], at: from, to: to,
			dst: dst})
	case *setup.Level:
		in := inst{op: opAbove, a: c.source(spec.Of), dst: dst, x: spec.Level,
			y: spec.Level - spec.Hysteresis}
		if b.Block == "below" {
			in.op, in.y = opBelow, spec.Level+spec.Hysteresis
		}
		c.add(in)
	case *setup.Between:
		c.add(inst{op: opBetween, a: c.source(spec.Of), dst: dst, x: spec.From, y: spec.To,
			z: spec.Hysteresis})
	case *setup.Edge:
		in := inst{op: opRise, a: c.fact(spec.In), c: own("input"), dst: dst, z: c.fires(i)}
		if b.Block == "f_trig" {
			in.op = opFall
		}
		c.add(in)
	case *setup.Latch:
		start, kept := c.startOf(setup.IsBlock, i)
		set, reset := c.fact(spec.Set), c.fact(spec.Reset)
		if c.isEntry(i) && c.graph.entries.OnEdge {
			set = c.emit(inst{op: opRise, a: set, c: own("set"), z: c.fires(i)})
			reset = c.emit(inst{op: opRise, a: reset, c: own("reset"), z: c.fires(i)})
		}
		in := inst{op: opSetWins, a: set, b: reset, dst: dst, x: start, y: truth(kept)}
		if b.Block == "rs" {
			in.op = opResetWins
		}
		c.add(in)
	case *setup.Toggle:
		start, kept := c.startOf(setup.IsBlock, i)
		reset := c.constant(0)
		if spec.Reset != nil {
			reset = c.fact(*spec.Reset)
		}
		c.add(inst{op: opToggle, a: c.fact(spec.In), b: reset, c: own("input"), dst: dst, x: start,
			y: truth(kept), z: c.fires(i)})
	case *setup.Timer:
		in := inst{op: opOnDelay, a: c.fact(spec.In), c: own("count"), dst: dst, x: c.frames(spec.ForS),
			z: c.fires(i)}
		switch b.Block {
		case "tof":
			in.op = opOffDelay
		case "tp":
			in.op, in.b = opPulseFor, own("input")
		}
		c.add(in)
	}
	c.p.blockAt[i] = int32(len(c.p.code) - 1)
}

// keepsValue tells whether what block i is depends, within its hysteresis, on
// what it was, though a reference to it always reads this frame's value.
func (c *compiler) keepsValue(i int) bool {
	switch c.s.Logic[i].Spec.(type) {
	case *setup.Level, *setup.Between:
		return true
	}
	return false
}

func and(v []float64, slots []Slot) float64 {
	for _, s := range slots {
		if v[s] == 0 {
			return 0
		}
	}
	return 1
}

func or(v []float64, slots []Slot) float64 {
	for _, s := range slots {
		if v[s] != 0 {
			return 1
		}
	}
	return 0
}

// xor is odd parity.
func xor(v []float64, slots []Slot) float64 {
	odd := 0.0
	for _, s := range slots {
		if v[s] != 0 {
			odd = 1 - odd
		}
	}
	return odd
}

// above becomes 1 at v >= level, 0 at v < back, and else stays; in the first
// frame it starts at 0.
func above(v, was, level, back float64, first bool) float64 {
	switch {
	case v >= level:
		return 1
	case v < back || first:
		return 0
	}
	return was
}

// below becomes 1 at v <= level, 0 at v > back.
func below(v, was, level, back float64, first bool) float64 {
	switch {
	case v <= level:
		return 1
	case v > back || first:
		return 0
	}
	return was
}

// between becomes 1 inside from..to, 0 outside of it widened by h.
func between(v, was, from, to, h float64, first bool) float64 {
	switch {
	case v >= from && v <= to:
		return 1
	case v < from-h || v > to+h || first:
		return 0
	}
	return was
}

// rise is 1 for one frame when in goes from 0 to 1, fall the other way round.
// was holds the input of the frame before; where an edge fires in the first frame, that was 0.
func rise(in float64, was *float64, first, fires bool) float64 {
	r := truth(in != 0 && (*was == 0 && !first || first && fires))
	*was = in
	return r
}

func fall(in float64, was *float64, first bool) float64 {
	r := truth(in == 0 && *was != 0 && !first)
	*was = in
	return r
}

// setWins and resetWins are what a latch holds that held was, and now is told set and reset.
func setWins(set, reset, was float64) float64 { return truth(set != 0 || was != 0 && reset == 0) }

func resetWins(set, reset, was float64) float64 { return truth((set != 0 || was != 0) && reset == 0) }

// latched is what a latch held before this frame.
func latched(was, start, kept float64, first bool) float64 {
	if first && kept == 0 {
		return start
	}
	return was
}

// onDelay counts the frames that in has been 1, -1 for none, and is 1 from need on.
func onDelay(in float64, count *float64, need float64, first bool) float64 {
	switch {
	case in == 0:
		*count = -1
	case first || *count < 0:
		*count = 0
	default:
		*count = lesser(*count+1, need)
	}
	return truth(in != 0 && *count >= need)
}

// offDelay is 1 while in is, and for need frames after; count is -1 while in is
// 1, else the frames that it has been 0.
func offDelay(in float64, count *float64, need float64, first bool) float64 {
	switch {
	case in != 0:
		*count = -1
	case first:
		*count = need
	default:
		*count = lesser(*count+1, need)
	}
	return truth(*count < need)
}

// pulseFor is 1 for need frames on each rise, not restarted while it runs; a
// rise in the frame in which it is over fires anew.
func pulseFor(in float64, was, count *float64, need float64, first, fires bool) float64 {
	rose := rise(in, was, first, fires) != 0
	*count = lesser(*count+1, need)
	if first {
		*count = need
	}
	if rose && *count >= need {
		*count = 0
	}
	return truth(*count < need)
}
