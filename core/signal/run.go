package signal

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
			r = rise(a, &v[in.c], v[slotFirst] != 0)
		case opFall:
			r = fall(a, &v[in.c], v[slotFirst] != 0)
		case opSetWins:
			r = latched(was, in.x, in.y, v[slotFirst] != 0)
			r = truth(a != 0 || r != 0 && v[in.b] == 0)
		case opResetWins:
			r = latched(was, in.x, in.y, v[slotFirst] != 0)
			r = truth((a != 0 || r != 0) && v[in.b] == 0)
		case opToggle:
			r = latched(was, in.x, in.y, v[slotFirst] != 0)
			if rise(a, &v[in.c], v[slotFirst] != 0) != 0 {
				r = 1 - r
			}
			r *= 1 - v[in.b]
		case opOnDelay:
			r = onDelay(a, &v[in.c], in.x, v[slotFirst] != 0)
		case opOffDelay:
			r = offDelay(a, &v[in.c], in.x, v[slotFirst] != 0)
		case opPulseFor:
			r = pulseFor(a, &v[in.b], &v[in.c], in.x, v[slotFirst] != 0)
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
			r = halfRate(a, was, v[in.b], v[slotOdd])
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
