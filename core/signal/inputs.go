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
		if p.timed(in) {
			in.reads, in.changes = always, w.add()
			w.by[in.dst] = in.changes
			continue
		}
		in.reads = w.union(p.operands(in)...) | settling
		for _, slot := range p.gives(in) {
			if slot != None {
				w.by[slot] = in.reads &^ settling
			}
		}
		if in.op == opOutput && p.outputs[in.at].slewed {
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
