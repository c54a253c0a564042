package signal

import "axtren/core/setup"

// spread turns position i of n+1 into a number: evenly from -100 to +100.
func spread(i, n float64) float64 { return -100 + float64(200*i)/n }

// source gives the slot of a value reference, as the current node reads it.
func (c *compiler) source(v setup.Value) Slot {
	src, err := c.s.Source(v)
	if err != nil {
		return c.constant(0) // a checked setup has no such reference
	}
	switch src.Kind {
	case setup.SourceControl:
		if sw := c.s.Transmitter.Controls[src.Index].Switch; sw != nil {
			c.p.numbers[src.Index] = c.once(inst{op: opSpread, a: c.p.controls[src.Index],
				x: float64(len(sw.Positions) - 1)})
		}
		return c.p.numbers[src.Index]
	case setup.SourceDemand:
		return c.p.Demands[src.Index].Out
	case setup.SourceAsked:
		return c.p.Routes[src.Index].Asked
	case setup.SourceBlock:
		return c.once(inst{op: opSpread, a: c.held(setup.IsBlock, src.Index), x: 1})
	case setup.SourceStepper:
		return c.emit(inst{op: opLookUp, a: c.held(setup.IsStepper, src.Index), at: c.stepValues(src.Index)})
	case setup.SourceTrack:
		return c.emit(inst{op: opCurve, a: c.held(setup.IsSequence, src.Index),
			at: c.p.tracks[src.Index][src.Sub]})
	case setup.SourcePattern:
		return c.held(setup.IsPattern, src.Index)
	}
	return c.constant(src.Number)
}

// fact gives the slot, 0 or 1, of a truth reference, as the current node reads it.
func (c *compiler) fact(t setup.Truth) Slot {
	f, err := c.s.Fact(t)
	if err != nil {
		return c.constant(0)
	}
	slot := slotFirst
	switch f.Kind {
	case setup.FactPosition:
		slot = c.once(inst{op: opIs, a: c.p.controls[f.Index], x: float64(f.Sub)})
	case setup.FactBlock:
		slot = c.held(setup.IsBlock, f.Index)
	case setup.FactStep:
		slot = c.once(inst{op: opIs, a: c.held(setup.IsStepper, f.Index), x: float64(f.Sub)})
	case setup.FactSequence:
		slot = c.sequenceState(f.Index, f.Sub)
	}
	if f.Not {
		slot = c.once(inst{op: opNot, a: slot})
	}
	return slot
}

// ControlSlot gives the slot of a control: percent of an axis, the position
// from 0 of a switch.
func (p *Program) ControlSlot(i int) Slot { return p.controls[i] }

// NumberSlot gives the slot of a control as a number; of a switch that nothing
// reads as one, its position from 0.
func (p *Program) NumberSlot(i int) Slot { return p.numbers[i] }
