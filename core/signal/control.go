package signal

import "axtren/core/setup"

// spread turns position i of n+1 into a number: evenly from -100 to +100.
func spread(i, n float64) float64 { return -100 + float64(200*i)/n }

// source gives the slot of a value reference; ok is false where it leads to
// what is not played yet.
func (c *compiler) source(v setup.Value) (slot Slot, ok bool) {
	src, err := c.s.Source(v)
	if err != nil {
		return None, false // a checked setup has no such reference
	}
	switch src.Kind {
	case setup.SourceNumber:
		return c.constant(src.Number), true
	case setup.SourceControl:
		return c.number(src.Index), true
	case setup.SourceDemand:
		d := &c.p.Demands[src.Index]
		return d.Out, d.Out != None
	case setup.SourceAsked:
		return c.p.Routes[src.Index].Asked, true
	}
	return None, false
}

// number gives the slot of a control as a number.
func (c *compiler) number(control int) Slot {
	ctl := c.s.Transmitter.Controls[control]
	if ctl.Axis != nil {
		return c.p.controls[control]
	}
	if c.numbers[control] == None {
		c.numbers[control] = c.emit(inst{op: opSpread, a: c.p.controls[control], x: float64(len(ctl.Switch.Positions) - 1)})
	}
	return c.numbers[control]
}

// fact gives the slot, 0 or 1, of a truth reference; ok as in source.
func (c *compiler) fact(t setup.Truth) (slot Slot, ok bool) {
	f, err := c.s.Fact(t)
	if err != nil {
		return None, false
	}
	switch f.Kind {
	case setup.FactPowerOn:
		slot = slotFirst
	case setup.FactPosition:
		key := [2]int{f.Index, f.Sub}
		if slot, ok = c.positions[key]; !ok {
			slot = c.emit(inst{op: opIs, a: c.p.controls[f.Index], x: float64(f.Sub)})
			c.positions[key] = slot
		}
	default:
		return None, false
	}
	if f.Not {
		slot = c.emit(inst{op: opNot, a: slot})
	}
	return slot, true
}

// ControlSlot gives the slot of a control: percent of an axis, the position
// from 0 of a switch.
func (p *Program) ControlSlot(i int) Slot { return p.controls[i] }

// NumberSlot gives the slot of a control as a number: for a switch that nothing
// reads as a number, that of its position.
func (p *Program) NumberSlot(i int) Slot { return p.numbers[i] }
