package signal

import "slices"

// All that there is to say of an instruction stands in this file: its name, what it does,
// what it reads, keeps and gives, and whether it may change by time alone. That serves
// running, skipping what cannot have changed, what a value depends on, and printing.

// op is what an instruction does; each is written where its stage is.
type op uint8

const (
	opCopy       op = iota
	opBefore        // compile.go: what a node held in the frame before
	opBeforeKept    // the same, kept over a power-off
	opSpread        // control.go: position of a switch -> number
	opIs            // a slot holds a number
	opNot
	opInside // strictly between two numbers
	opLookUp // a value of a table
	opCurve  // demand.go, for tracks
	opDemand
	opAnd // block.go
	opOr
	opXor
	opAbove
	opBelow
	opBetween
	opRise
	opFall
	opSetWins
	opResetWins
	opToggle
	opOnDelay
	opOffDelay
	opPulseFor
	opStepper    // stepper.go
	opSequence   // sequence.go
	opPattern    // pattern.go
	opSum        // mix.go
	opShareScale // share.go
	opShareTurn
	opOutput // output.go
	opSay    // announce.go
	opLearn  // link.go
	opOneBit
	opHalfRate
	opReceiver // pin.go
	opSwitchPin
	opDevice // device.go
)

var opWords = [...]string{"copy", "before", "beforekept", "spread", "is", "not", "inside", "lookup", "curve",
	"demand",
	"and", "or", "xor", "above", "below", "between", "rise", "fall", "setwins", "resetwins", "toggle",
	"ondelay", "offdelay", "pulsefor",
	"stepper", "sequence", "pattern", "sum", "sharescale", "shareturn", "output", "say", "learn", "onebit",
	"halfrate", "receiver", "switchpin", "device"}

// inst is one instruction: dst becomes a function of the slots a, b, c and the
// constants x, y, z. An op that is more than that has an entry of its own in a table of
// the program, at, or the entries at..to.
type inst struct {
	op      op
	a, b, c Slot
	dst     Slot
	at, to  int32
	x, y, z float64

	reads, changes inputSet // inputs.go
}

// run walks once through instructions and runs those of which an input has changed. It is
// the one place that computes.
func (p *Program) run(v []float64, code []inst, changed inputSet) {
	for i := range code {
		in := &code[i]
		if in.reads&changed == 0 {
			continue
		}
		a, was := v[in.a], v[in.dst]
		var r float64
		switch in.op {
		case opCopy, opBeforeKept:
			r = a
		case opBefore:
			r = a
			if v[slotFirst] != 0 {
				r = in.x
			}
		case opSpread:
			r = spread(a, in.x)
		case opIs:
			r = truth(a == in.x)
		case opNot:
			r = 1 - a
		case opInside:
			r = truth(a > in.x && a < in.y)
		case opLookUp:
			r = p.tables[int(in.at)+int(a)]
		case opCurve:
			r = p.curves[in.at].at(a)
		case opDemand:
			p.demands[in.at].step(v)
			r = v[in.dst]
		case opAnd:
			r = and(v, p.lists[in.at:in.to])
		case opOr:
			r = or(v, p.lists[in.at:in.to])
		case opXor:
			r = xor(v, p.lists[in.at:in.to])
		case opAbove:
			r = above(a, was, in.x, in.y, v[slotFirst] != 0)
		case opBelow:
			r = below(a, was, in.x, in.y, v[slotFirst] != 0)
		case opBetween:
			r = between(a, was, in.x, in.y, in.z, v[slotFirst] != 0)
		case opRise:
			r = rise(a, &v[in.c], v[slotFirst] != 0, in.z != 0)
		case opFall:
			r = fall(a, &v[in.c], v[slotFirst] != 0)
		case opSetWins:
			r = setWins(a, v[in.b], latched(was, in.x, in.y, v[slotFirst] != 0))
		case opResetWins:
			r = resetWins(a, v[in.b], latched(was, in.x, in.y, v[slotFirst] != 0))
		case opToggle:
			r = latched(was, in.x, in.y, v[slotFirst] != 0)
			if rise(a, &v[in.c], v[slotFirst] != 0, in.z != 0) != 0 {
				r = 1 - r
			}
			r *= 1 - v[in.b]
		case opOnDelay:
			r = onDelay(a, &v[in.c], in.x, v[slotFirst] != 0)
		case opOffDelay:
			r = offDelay(a, &v[in.c], in.x, v[slotFirst] != 0)
		case opPulseFor:
			r = pulseFor(a, &v[in.b], &v[in.c], in.x, v[slotFirst] != 0, in.z != 0)
		case opStepper:
			p.steppers[in.at].step(v)
			r = v[in.dst]
		case opSequence:
			p.sequences[in.at].step(v)
			r = v[in.dst]
		case opPattern:
			p.patterns[in.at].step(v)
			r = v[in.dst]
		case opSum:
			sum(v, p.terms[in.at:in.to])
			r = v[in.dst]
		case opShareScale:
			p.shares[in.at].scale(v)
			continue
		case opShareTurn:
			p.shares[in.at].keepTurn(v)
			continue
		case opOutput:
			p.outputs[in.at].step(v, &p.pulse)
			continue
		case opSay:
			r = say(a, &v[in.c], in.x, v[slotFirst] != 0)
		case opLearn:
			r = p.learn(a, in)
		case opOneBit:
			r = p.oneBit(a)
		case opHalfRate:
			r = halfRate(a, was, v[in.b], v[in.c])
		case opReceiver:
			p.receivers[in.at].step(v)
			continue
		case opSwitchPin:
			r = beyond(a, in.x, in.y != 0)
		case opDevice:
			p.devices[in.at].step(v, p)
			continue
		}
		v[in.dst] = r
		if r != was {
			changed |= in.changes
		}
	}
}

func truth(b bool) float64 {
	if b {
		return 1
	}
	return 0
}

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
		return append(slices.Clone(p.shares[in.at].out), p.shares[in.at].most)
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

// timed tells whether a result may change while nothing that it reads does.
func (p *Program) timed(in *inst) bool {
	switch in.op {
	case opBefore, opBeforeKept, opRise, opFall, opOnDelay, opOffDelay, opPulseFor, opSay, opSequence,
		opPattern:
		return true
	case opStepper:
		return p.steppers[in.at].repeatS > 0
	case opSum:
		for _, t := range p.terms[in.at:in.to] {
			if t.fade > 0 {
				return true
			}
		}
	}
	return false
}
