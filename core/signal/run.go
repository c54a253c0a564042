package signal

import "math"

// run walks once through the program. It is the one place that computes.
func (p *Program) run(v []float64, frame int64) {
	for i := range p.code {
		in := &p.code[i]
		a := v[in.a]
		var r float64
		switch in.op {
		case opSpread:
			r = spread(a, in.x)
		case opIs:
			r = truth(a == in.x)
		case opNot:
			r = 1 - a
		case opDeadband:
			r = deadband(a, in.x)
		case opExpo:
			r = expo(a, in.x, in.y)
		case opPickRate:
			r = p.pickRate(v, in)
		case opScale:
			r = a * in.x
		case opRate:
			r = a * v[in.b] / 100
		case opCurve:
			r = p.curves[in.b].at(a)
		case opTrim:
			r = clamp(a+in.x, -150, 150)
		case opAbs:
			r = math.Abs(a)
		case opUp:
			r = max(a, 0)
		case opDown:
			r = min(a, 0)
		case opGain:
			r = float64(a*in.x) + in.z
		case opGainSplit:
			r = gainSplit(a, in.x, in.y, in.z)
		case opFade:
			r = fade(v[in.dst], a, in.x, v[slotFirst] != 0)
		case opSum:
			r = a + v[in.b]
		case opAdd:
			r = blend(a, a+v[in.b], v[in.c])
		case opTimes:
			r = blend(a, float64(a*v[in.b])/100, v[in.c])
		case opInstead:
			r = blend(a, v[in.b], v[in.c])
		case opGreatest:
			r = blend(a, max(a, v[in.b]), v[in.c])
		case opLeast:
			r = blend(a, min(a, v[in.b]), v[in.c])
		case opShareScale:
			p.shares[in.b].scale(v)
			continue
		case opShareTurn:
			p.shares[in.b].keepTurn(v)
			continue
		case opOutput:
			p.outputs[in.b].step(v, &p.pulse)
			continue
		case opLearn:
			r = p.learn(a, in)
		case opOneBit:
			r = p.oneBit(a)
		case opHalfRate:
			r = halfRate(v, in, frame)
		case opSwitchPin:
			r = switchPin(a, in.x, in.y)
		}
		v[in.dst] = r
	}
}

func truth(b bool) float64 {
	if b {
		return 1
	}
	return 0
}
