package signal

// What an instruction reads, keeps and gives is said here once, for skipping what cannot
// have changed, for what a value depends on, and for printing a program.

// operands gives the slots of this frame that an instruction reads, None among them where
// it has no such operand.
func (p *Program) operands(in *inst) []Slot {
	switch in.op {
	case opAnd, opOr, opXor:
		return p.lists[in.at:in.to]
	case opSetWins, opResetWins, opToggle:
		return []Slot{in.a, in.b}
	case opDemand:
		d := &p.demands[in.at]
		list := []Slot{d.In}
		for _, arm := range d.arms {
			list = append(list, arm.when)
		}
		return list
	case opStepper:
		s := &p.steppers[in.at]
		return []Slot{s.up, s.down, s.home}
	case opSequence:
		return []Slot{p.sequences[in.at].run}
	case opPattern:
		return []Slot{p.patterns[in.at].when}
	case opSum:
		var list []Slot
		for _, t := range p.terms[in.at:in.to] {
			list = append(list, t.In)
			if t.fade > 0 {
				list = append(list, t.holds)
			} else {
				list = append(list, t.Weight)
			}
		}
		return list
	case opShareScale, opShareTurn:
		return p.shares[in.at].in
	case opOutput:
		return []Slot{p.outputs[in.at].shared}
	case opHalfRate:
		return []Slot{in.a, in.b}
	case opReceiver:
		r := &p.receivers[in.at]
		list := []Slot{r.on, r.up}
		for _, pin := range r.pins {
			list = append(list, pin.arrival)
		}
		return list
	case opDevice:
		d := &p.devices[in.at]
		return []Slot{d.us, d.on, d.swap}
	}
	return []Slot{in.a}
}

// keeps gives the slots that an instruction reads as the frame before left them, those of
// power and of odd frames aside.
func (p *Program) keeps(in *inst) []Slot {
	switch in.op {
	case opBefore, opBeforeKept:
		return []Slot{in.a}
	case opAbove, opBelow, opBetween, opSetWins, opResetWins, opHalfRate:
		return []Slot{in.dst}
	case opRise, opFall, opSay, opOnDelay, opOffDelay:
		return []Slot{in.c}
	case opToggle:
		return []Slot{in.dst, in.c}
	case opPulseFor:
		return []Slot{in.b, in.c}
	case opStepper:
		s := &p.steppers[in.at]
		return []Slot{s.at, s.upWas, s.downWas, s.upFor, s.downFor}
	case opSequence:
		s := &p.sequences[in.at]
		return []Slot{s.at, s.ahead}
	case opPattern:
		s := &p.patterns[in.at]
		return []Slot{s.value, s.frames}
	case opSum:
		var list []Slot
		for _, t := range p.terms[in.at:in.to] {
			if t.fade > 0 {
				list = append(list, t.Weight)
			}
		}
		return list
	case opOutput:
		if o := &p.outputs[in.at]; o.slewed {
			return []Slot{o.p}
		}
	case opReceiver:
		r := &p.receivers[in.at]
		list := []Slot{r.heard, r.lost}
		for _, pin := range r.pins {
			list = append(list, pin.us)
		}
		return list
	case opDevice:
		d := &p.devices[in.at]
		return append([]Slot{d.route.Value, d.route.Known, d.route.At, d.route.On}, d.own[:]...)
	}
	return nil
}

// gives gives the slots that an instruction sets and that others may read.
func (p *Program) gives(in *inst) []Slot {
	switch in.op {
	case opDemand:
		d := &p.demands[in.at]
		list := []Slot{d.Deadband, d.Expo, d.Rate, d.Rated, d.Curve}
		if d.limits {
			list = append(list, d.Out)
		}
		return list
	case opSum:
		var list []Slot
		for _, t := range p.terms[in.at:in.to] {
			for _, one := range []struct {
				slot Slot
				own  bool // else it is where the step before left it
			}{{t.Shaped, t.shape != shapePlain}, {t.V, t.gains}, {t.Weight, t.fade > 0}, {t.Acc, t.store}} {
				if one.own {
					list = append(list, one.slot)
				}
			}
		}
		return list
	case opShareScale, opShareTurn:
		return p.shares[in.at].out
	case opOutput:
		o := &p.outputs[in.at]
		return []Slot{o.asked, o.turned, o.target, o.p, o.us}
	case opReceiver:
		return p.keeps(in)
	case opDevice:
		r := &p.devices[in.at].route
		return []Slot{r.Value, r.Known, r.Brake, r.At, r.On}
	}
	return append([]Slot{in.dst}, p.keeps(in)...)
}

// DependsOn gives what decides, besides power and the count of frames, what slots are in a
// frame: the slots that are carried into it from the frame before, and the hands, both
// rising. The slots are those of one state of the program.
func (p *Program) DependsOn(slots ...Slot) (kept []Slot, hands []int) {
	wanted := make([]bool, len(p.initial))
	carried := make([]bool, p.kept)
	want := func(list []Slot) {
		for _, slot := range list {
			if slot != None {
				wanted[slot] = true
			}
		}
	}
	carry := func(list []Slot) {
		for _, slot := range list {
			if slot != None && int(slot) < p.kept {
				carried[slot] = true
			}
		}
	}
	want(slots)
	computed := make([]bool, len(p.initial))
	for i := len(p.code) - 1; i >= 0; i-- {
		in := &p.code[i]
		needed := false
		for _, slot := range p.gives(in) {
			needed = needed || slot != None && wanted[slot]
			if slot != None {
				computed[slot] = true
			}
		}
		if !needed {
			continue
		}
		switch in.op {
		case opReceiver: // each of its pins is apart from the others
			r := &p.receivers[in.at]
			want([]Slot{r.on, r.up})
			carry([]Slot{r.heard, r.lost})
			for _, pin := range r.pins {
				if wanted[pin.us] {
					want([]Slot{pin.arrival})
					carry([]Slot{pin.us})
				}
			}
		case opBefore, opBeforeKept: // they read what is carried alone
			carry(p.keeps(in))
		default:
			carry(p.keeps(in))
			want(p.operands(in))
		}
	}
	for slot, is := range carried {
		if is || wanted[slot] && !computed[slot] {
			kept = append(kept, Slot(slot))
		}
	}
	for slot := p.hands; slot < p.handsEnd; slot++ {
		if wanted[slot] {
			hands = append(hands, int(slot-p.hands))
		}
	}
	return kept, hands
}
