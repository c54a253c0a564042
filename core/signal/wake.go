package signal

// What cannot have changed is not computed again. Every instruction has a set
// of wakers: the controls, and the results that change by time alone, that its
// result depends on. In a frame it runs where one of them changed. There are 62
// places for wakers; where a setup has more, some share a place, and an
// instruction then runs more often than it needs to.

// wakers is a set of wakers, one bit each.
type wakers uint64

const (
	always   wakers = 1 << 63 // what runs in every frame
	settling wakers = 1 << 62 // the first two frames after a power-on, and the one after an edit
	everyone        = ^wakers(0)
)

// wakes decides of each instruction, in the order in which they run, when it runs
// and whom its result wakes.
func (c *compiler) wakes() {
	p := c.p
	w := waking{p: p, by: make([]wakers, len(p.initial))}
	for _, control := range p.controls {
		bit := w.waker()
		p.controlWakers = append(p.controlWakers, bit)
		w.by[control] = bit
	}
	for i := range p.code[:p.sent] {
		in := &p.code[i]
		if w.timed(in) {
			in.needs, in.wakes = always, w.waker()
			w.by[in.dst] = in.wakes
			continue
		}
		in.needs = w.needs(in) | settling
		for _, slot := range w.results(in) {
			w.by[slot] = in.needs &^ settling
		}
		if in.op == opOutput && p.outputs[in.b].slewed {
			in.needs |= always // it moves on while the same is asked
		}
	}
	for i := p.sent; i < len(p.code); i++ {
		p.code[i].needs = always // what is lost or turned off shows in no control
	}
}

type waking struct {
	p    *Program
	by   []wakers // of each slot, what changes it
	next int
}

// waker gives the next place.
func (w *waking) waker() wakers {
	w.next++
	return 1 << ((w.next - 1) % 62)
}

// timed tells whether a result may change while nothing that it reads does.
func (w *waking) timed(in *inst) bool {
	switch in.op {
	case opBefore, opBeforeKept, opRise, opFall, opOnDelay, opOffDelay, opPulseFor, opSay, opSequence, opPattern:
		return true
	case opStepper:
		return w.p.steppers[in.b].repeatS > 0
	case opSum:
		for _, t := range w.p.terms[in.b:in.c] {
			if t.fade > 0 {
				return true
			}
		}
	}
	return false
}

// needs gives what changes the result of an instruction that is not timed.
func (w *waking) needs(in *inst) wakers {
	p := w.p
	switch in.op {
	case opAnd, opOr, opXor:
		return w.of(p.lists[in.b:in.c]...)
	case opSetWins, opResetWins, opToggle:
		return w.of(in.a, in.b)
	case opDemand:
		set := w.of(p.demands[in.b].In)
		for _, arm := range p.demands[in.b].arms {
			set |= w.of(arm.when)
		}
		return set
	case opStepper:
		s := &p.steppers[in.b]
		return w.of(s.up, s.down, s.home)
	case opSum:
		set := wakers(0)
		for _, t := range p.terms[in.b:in.c] {
			set |= w.of(t.In, t.Weight)
		}
		return set
	case opShareScale, opShareTurn:
		return w.of(p.shares[in.b].in...)
	case opOutput:
		return w.of(p.outputs[in.b].shared)
	}
	return w.of(in.a)
}

// results gives the slots that later instructions may read.
func (w *waking) results(in *inst) []Slot {
	switch in.op {
	case opShareScale, opShareTurn:
		return w.p.shares[in.b].out
	case opOutput:
		return []Slot{w.p.outputs[in.b].asked}
	}
	return []Slot{in.dst}
}

// of gives what changes any of the slots.
func (w *waking) of(slots ...Slot) wakers {
	set := wakers(0)
	for _, slot := range slots {
		if slot != None {
			set |= w.by[slot]
		}
	}
	return set
}

// moved puts the hands where the program reads them and gives those that moved.
func (p *Program) moved(v []float64, hands Hands) wakers {
	set := always
	at := v[p.hands:p.handsEnd]
	for i, bit := range p.controlWakers {
		if at[i] != hands[i] {
			set |= bit
		}
	}
	copy(at, hands)
	return set
}
