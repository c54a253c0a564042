package signal

// An instruction whose inputs are unchanged is skipped. Every instruction has a set of
// inputs: the controls, and the results that change by time alone, that its result depends
// on. In a frame it runs where one of them changed. There are 62 places for inputs; where
// a setup has more, some share a place, and an instruction then runs more often than it
// needs to.

// inputSet is a set of inputs, one bit each.
type inputSet uint64

const (
	always    inputSet = 1 << 63 // what runs in every frame
	settling  inputSet = 1 << 62 // the first two frames after a power-on, and the one after an edit
	allInputs          = ^inputSet(0)
)

// trackInputs decides of each instruction, in the order in which they run, what it reads
// and what its result changes.
func (c *compiler) trackInputs() {
	p := c.p
	w := inputTracker{p: p, by: make([]inputSet, len(p.initial))}
	for _, control := range p.controls {
		bit := w.add()
		p.controlInputs = append(p.controlInputs, bit)
		w.by[control] = bit
	}
	for i := range p.code[:p.sent] {
		in := &p.code[i]
		if w.timed(in) {
			in.reads, in.changes = always, w.add()
			w.by[in.dst] = in.changes
			continue
		}
		in.reads = w.reads(in) | settling
		for _, slot := range w.results(in) {
			w.by[slot] = in.reads &^ settling
		}
		if in.op == opOutput && p.outputs[in.b].slewed {
			in.reads |= always // it moves on while the same is asked
		}
	}
	for i := p.sent; i < len(p.code); i++ {
		p.code[i].reads = always // what is lost or turned off shows in no control
	}
}

type inputTracker struct {
	p    *Program
	by   []inputSet // of each slot, the inputs that it depends on
	next int
}

// add gives the place of another input.
func (w *inputTracker) add() inputSet {
	w.next++
	return 1 << ((w.next - 1) % 62)
}

// timed tells whether a result may change while nothing that it reads does.
func (w *inputTracker) timed(in *inst) bool {
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

// reads gives the inputs of an instruction that is not timed.
func (w *inputTracker) reads(in *inst) inputSet {
	p := w.p
	switch in.op {
	case opAnd, opOr, opXor:
		return w.union(p.lists[in.b:in.c]...)
	case opSetWins, opResetWins, opToggle:
		return w.union(in.a, in.b)
	case opDemand:
		set := w.union(p.demands[in.b].In)
		for _, arm := range p.demands[in.b].arms {
			set |= w.union(arm.when)
		}
		return set
	case opStepper:
		s := &p.steppers[in.b]
		return w.union(s.up, s.down, s.home)
	case opSum:
		set := inputSet(0)
		for _, t := range p.terms[in.b:in.c] {
			set |= w.union(t.In, t.Weight)
		}
		return set
	case opShareScale, opShareTurn:
		return w.union(p.shares[in.b].in...)
	case opOutput:
		return w.union(p.outputs[in.b].shared)
	}
	return w.union(in.a)
}

// results gives the slots that later instructions may read.
func (w *inputTracker) results(in *inst) []Slot {
	switch in.op {
	case opShareScale, opShareTurn:
		return w.p.shares[in.b].out
	case opOutput:
		return []Slot{w.p.outputs[in.b].asked}
	}
	return []Slot{in.dst}
}

// union gives the inputs that any of the slots depends on.
func (w *inputTracker) union(slots ...Slot) inputSet {
	set := inputSet(0)
	for _, slot := range slots {
		if slot != None {
			set |= w.by[slot]
		}
	}
	return set
}

// moved puts the hands where the program reads them and gives those that moved.
func (p *Program) moved(v []float64, hands Hands) inputSet {
	set := always
	at := v[p.hands:p.handsEnd]
	for i, bit := range p.controlInputs {
		if at[i] != hands[i] {
			set |= bit
		}
	}
	copy(at, hands)
	return set
}
