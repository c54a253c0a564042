package signal

import (
	"math"
	"slices"
)

// Lanes are many states of one program that step side by side, for what looks at what many
// hands would do: each instruction runs for all of them before the next is looked at, over
// numbers that lie in a row. A frame of many costs each a fraction of a Step of its own.
//
// The program is compiled once more with slots that are as wide as there are lanes: lane l
// has its numbers of a slot at slot+l, so that v[l:] is a state of its own to all that is
// done lane by lane.
type Lanes struct {
	p     *Program // as wide as there are lanes
	v     []float64
	frame []int64 // of each lane, State.Frame

	sum, was []float64 // for a while: a sum so far, a result before
}

// Lanes gives n states, each at power-on; n is at least 1.
func (p *Program) Lanes(n int) *Lanes {
	wide := compile(p.setup, p.graph, n, p.kept)
	for i, o := range p.outputs {
		wide.outputs[i].held, wide.outputs[i].rest = o.held, o.rest
	}
	return &Lanes{p: wide, v: slices.Clone(wide.initial), frame: make([]int64, n), sum: make([]float64, n),
		was: make([]float64, n)}
}

// Begin makes every lane a copy of a state of the program.
func (s *Lanes) Begin(st *State) {
	for slot, v := range st.V {
		lanes := s.column(Slot(slot * s.p.width))
		for l := range lanes {
			lanes[l] = v
		}
	}
	for l := range s.frame {
		s.frame[l] = st.Frame
	}
}

// Take makes st, a state of the program, a copy of lane l.
func (s *Lanes) Take(l int, st *State) {
	for slot := range st.V {
		st.V[slot] = s.v[slot*s.p.width+l]
	}
	st.Frame = s.frame[l]
}

// At reads a slot of lane l, named as in the program and its states.
func (s *Lanes) At(l int, slot Slot) float64 { return s.v[int(slot)*s.p.width+l] }

// column gives a slot of every lane.
func (s *Lanes) column(slot Slot) []float64 { return s.v[slot:][:s.p.width] }

// Step runs one frame of every lane, each with hands of its own: what Program.Step does.
func (s *Lanes) Step(hands []Hands) {
	s.Ask(hands)
	p := s.p
	for l := range s.frame {
		v := s.v[l:]
		v[p.up] = v[p.link] * v[p.sending]
		s.frame[l]++
	}
	s.run(p.code[p.sent:], allInputs)
}

// Ask runs the transmitter's part of a frame of every lane: what Program.Ask does.
func (s *Lanes) Ask(hands []Hands) {
	p, changed, sending := s.p, s.moved(hands), 0
	for l := range s.frame {
		v := s.v[l:]
		if p.powered(v) {
			sending++
			if v[slotFirst] != 0 || v[p.unsettled] != 0 {
				changed = allInputs
			}
			v[p.unsettled] = v[slotFirst]
		}
	}
	if sending == len(s.frame) {
		s.run(p.code[:p.sent], changed)
	} else {
		s.runSending()
	}
}

// runSending runs the transmitter's part for the lanes that send.
func (s *Lanes) runSending() {
	for l := range s.frame {
		if v := s.v[l:]; v[s.p.sending] != 0 {
			s.p.run(v, s.p.code[:s.p.sent], allInputs)
		}
	}
}

// moved puts the hands where the program reads them and gives those that moved in any lane.
func (s *Lanes) moved(hands []Hands) inputSet {
	set, p := always, s.p
	for i := range hands[0] {
		at, moves := s.column(p.hands+Slot(i*p.width)), false
		for l := range at {
			moves = moves || at[l] != hands[l][i]
			at[l] = hands[l][i]
		}
		if moves && i < len(p.controlInputs) {
			set |= p.controlInputs[i]
		}
	}
	return set
}

// run is Program.run for every lane. What is rare, or remembers much, runs lane by lane.
func (s *Lanes) run(code []inst, changed inputSet) {
	p, first := s.p, s.column(slotFirst)
	for i := range code {
		in := &code[i]
		if in.reads&changed == 0 {
			continue
		}
		a, dst := s.column(in.a), s.column(in.dst)
		if in.changes != 0 {
			copy(s.was, dst)
		}
		switch in.op {
		case opCopy, opBeforeKept:
			copy(dst, a)
		case opBefore:
			for l := range dst {
				dst[l] = latched(a[l], in.x, 0, first[l] != 0)
			}
		case opSpread:
			for l := range dst {
				dst[l] = spread(a[l], in.x)
			}
		case opIs:
			for l := range dst {
				dst[l] = truth(a[l] == in.x)
			}
		case opNot:
			for l := range dst {
				dst[l] = 1 - a[l]
			}
		case opInside:
			for l := range dst {
				dst[l] = truth(a[l] > in.x && a[l] < in.y)
			}
		case opLookUp:
			for l := range dst {
				dst[l] = p.tables[int(in.at)+int(a[l])]
			}
		case opCurve:
			for l := range dst {
				dst[l] = p.curves[in.at].at(a[l])
			}
		case opDemand:
			s.demand(&p.demands[in.at])
		case opAnd, opOr, opXor:
			s.gate(in.op, dst, p.lists[in.at:in.to])
		case opAbove:
			for l := range dst {
				dst[l] = above(a[l], dst[l], in.x, in.y, first[l] != 0)
			}
		case opBelow:
			for l := range dst {
				dst[l] = below(a[l], dst[l], in.x, in.y, first[l] != 0)
			}
		case opBetween:
			for l := range dst {
				dst[l] = between(a[l], dst[l], in.x, in.y, in.z, first[l] != 0)
			}
		case opRise:
			c := s.column(in.c)
			for l := range dst {
				dst[l] = rise(a[l], &c[l], first[l] != 0, in.z != 0)
			}
		case opFall:
			c := s.column(in.c)
			for l := range dst {
				dst[l] = fall(a[l], &c[l], first[l] != 0)
			}
		case opOnDelay:
			c := s.column(in.c)
			for l := range dst {
				dst[l] = onDelay(a[l], &c[l], in.x, first[l] != 0)
			}
		case opOffDelay:
			c := s.column(in.c)
			for l := range dst {
				dst[l] = offDelay(a[l], &c[l], in.x, first[l] != 0)
			}
		case opPulseFor:
			b, c := s.column(in.b), s.column(in.c)
			for l := range dst {
				dst[l] = pulseFor(a[l], &b[l], &c[l], in.x, first[l] != 0, in.z != 0)
			}
		case opSetWins:
			b := s.column(in.b)
			for l := range dst {
				dst[l] = setWins(a[l], b[l], latched(dst[l], in.x, in.y, first[l] != 0))
			}
		case opResetWins:
			b := s.column(in.b)
			for l := range dst {
				dst[l] = resetWins(a[l], b[l], latched(dst[l], in.x, in.y, first[l] != 0))
			}
		case opStepper:
			for l := range dst {
				p.steppers[in.at].step(s.v[l:])
			}
		case opSequence:
			for l := range dst {
				p.sequences[in.at].step(s.v[l:])
			}
		case opPattern:
			for l := range dst {
				p.patterns[in.at].step(s.v[l:])
			}
		case opSum:
			s.add(p.terms[in.at:in.to], first)
		case opOutput:
			s.output(&p.outputs[in.at], first)
		case opReceiver:
			s.receiver(&p.receivers[in.at])
		case opDevice:
			s.device(&p.devices[in.at])
		default:
			for l := range dst {
				p.run(s.v[l:], code[i:i+1], allInputs)
			}
		}
		if in.changes != 0 && !slices.Equal(s.was, dst) {
			changed |= in.changes
		}
	}
}

// gate is and, or, xor.
func (s *Lanes) gate(op op, dst []float64, slots []Slot) {
	copy(dst, s.column(slots[0]))
	for _, slot := range slots[1:] {
		in := s.column(slot)
		switch op {
		case opAnd:
			for l := range dst {
				dst[l] *= in[l]
			}
		case opOr:
			for l := range dst {
				dst[l] = greater(dst[l], in[l])
			}
		default:
			for l := range dst {
				dst[l] = truth(dst[l] != in[l])
			}
		}
	}
}

// demand is demand.step.
func (s *Lanes) demand(d *demand) {
	x := s.column(d.In)
	if d.Deadband != None {
		to := s.column(d.Deadband)
		for l := range to {
			to[l] = deadband(x[l], d.dead)
		}
		x = to
	}
	if d.Expo != None {
		to := s.column(d.Expo)
		for l := range to {
			to[l] = expo(x[l], d.straight, d.cubed)
		}
		x = to
	}
	switch {
	case d.Rate != None:
		rate, to := s.column(d.Rate), s.column(d.Rated)
		s.rate(rate, d)
		for l := range to {
			to[l] = x[l] * rate[l] / 100
		}
		x = to
	case d.Rated != None:
		to := s.column(d.Rated)
		for l := range to {
			to[l] = x[l] * d.scale
		}
		x = to
	}
	if d.Curve != None {
		to := s.column(d.Curve)
		for l := range to {
			to[l] = d.curve.at(x[l])
		}
		x = to
	}
	if d.limits {
		to := s.column(d.Out)
		for l := range to {
			to[l] = clamp(x[l]+d.trim, -150, 150)
		}
	}
}

// rate is the rate in force: of the first arm that holds.
func (s *Lanes) rate(rate []float64, d *demand) {
	for l := range rate {
		rate[l] = d.rate
	}
	for _, arm := range slices.Backward(d.arms) {
		when := s.column(arm.when)
		for l := range rate {
			if when[l] != 0 {
				rate[l] = arm.rate
			}
		}
	}
}

// add is sum.
func (s *Lanes) add(terms []term, first []float64) {
	acc := s.sum
	clear(acc)
	for i := range terms {
		t := &terms[i]
		x, each := s.column(t.In), [2]float64{t.pos, t.neg} // by the sign bit, as ends.at
		if t.shape != shapePlain {
			to := s.column(t.Shaped)
			for l := range to {
				to[l] = shaped(x[l], t.shape)
			}
			x = to
		}
		if t.gains {
			to := s.column(t.V)
			x = x[:len(to)]
			for l := range to {
				to[l] = float64(x[l]*each[math.Float64bits(x[l])>>63]) + t.bias
			}
			x = to
		}
		s.combine(t, acc, x, first)
		if t.store {
			copy(s.column(t.Acc), acc)
		}
	}
}

// combine makes acc what it is after a mix that brings x.
func (s *Lanes) combine(t *term, acc, x, first []float64) {
	x = x[:len(acc)]
	switch {
	case t.Weight == None && t.combine == combineAdd:
		for l := range acc {
			acc[l] += x[l]
		}
		return
	case t.Weight == None:
		for l := range acc {
			acc[l] = combined(acc[l], x[l], t.combine)
		}
		return
	}
	weight := s.column(t.Weight)
	if t.fade > 0 {
		holds := s.column(t.holds)
		for l := range weight {
			weight[l] = fade(weight[l], holds[l], t.fade, first[l] != 0)
		}
	}
	weight = weight[:len(acc)]
	for l := range acc {
		acc[l] = blend(acc[l], combined(acc[l], x[l], t.combine), weight[l])
	}
}

// output is output.step, for all that it does.
func (s *Lanes) output(o *output, first []float64) {
	shared, asked, target := s.column(o.shared), s.column(o.asked), s.column(o.target)
	for l := range asked {
		asked[l] = clamp(shared[l], -100, 100)
		if o.held {
			asked[l] = o.rest
		}
	}
	if o.reverse {
		turned := s.column(o.turned)
		for l := range turned {
			turned[l] = -asked[l]
		}
		asked = turned
	}
	for l := range target {
		target[l] = o.at(asked[l])
	}
	p, us := s.column(o.p), s.column(o.us)
	if o.slewed {
		for l := range p {
			p[l] = slew(p[l], target[l], o.up, o.down, first[l] != 0)
		}
	}
	for l := range us {
		us[l] = s.p.pulse.us(p[l])
	}
}

// receiver is receiver.step: quick where all of them hear.
func (s *Lanes) receiver(r *receiver) {
	on, up, heard, lost := s.column(r.on), s.column(r.up), s.column(r.heard), s.column(r.lost)
	hears := true
	for l := range on {
		hears = hears && on[l] != 0 && up[l] != 0
	}
	if !hears {
		for l := range on {
			r.step(s.v[l:])
		}
		return
	}
	for l := range heard {
		heard[l], lost[l] = 1, -1
	}
	for i := range r.pins {
		copy(s.column(r.pins[i].us), s.column(r.pins[i].arrival))
	}
}

// device is device.step.
func (s *Lanes) device(d *device) {
	us, seen := s.column(d.us), s.column(d.seen)
	for l := range us {
		if !d.settles || us[l] != seen[l] {
			d.step(s.v[l:], s.p)
		}
	}
}
