package signal

import (
	"axtren/core/setup"
)

// Slot is a place in State.V; None is no place.
type Slot int32

// None is the slot of a joint that does not exist.
const None Slot = -1

// Program is a compiled setup. It does not change, so that any number of states
// may run on it at once.
type Program struct {
	setup *setup.Setup
	graph *graph
	width int // states side by side: a slot is that many places, one for each (lanes.go)
	pulse scale
	code  []inst
	sent  int // code up to here is the transmitter's, the rest link, receivers and devices

	demands   []demand // what instructions refer to by place
	terms     []term
	curves    []curve
	lists     []Slot
	tables    []float64
	steppers  []stepper
	sequences []sequence
	patterns  []pattern
	shares    []share
	outputs   []output
	receivers []receiver
	devices   []device
	starts    []start

	kept     int       // the slots below it are carried from frame to frame
	keptKeys []keptKey // what each kept slot is, the same in every revision
	initial  []float64 // constants in their slots, what is kept at its start, 0 elsewhere

	hands, handsEnd   Slot // where Step puts the hands, one slot after the other
	controlInputs     []inputSet
	controls, numbers []Slot // each control, as the hand has it and as a number
	transmitter, link Slot   // 1 while on, up
	sending           Slot   // 1 while the transmitter sends: it is on, and its start check was met
	odd               Slot   // 1 in odd frames, counted from the last power-on, whose frame is 0
	receiversOn       []Slot
	chosen            []Slot // of each device, where a run says that it was left; None
	unsettled         Slot   // 1 where slots that are not kept may not fit those that are: all is computed
	up                Slot   // 1 while something arrives

	Routes  []Route       // one for each output, in document order
	Demands []Shaping     // one for each demand, in document order
	Pins    [][]PinRoute  // by receiver and pin, in document order
	Devices []DeviceRoute // one for each device, in document order
	// of each device, the pulse that its other slots are for
	seen []Slot
	// what each block, stepper, sequence, pattern holds
	nodeValue [setup.IsPattern + 1][]Slot
	tracks    [][]int32 // of each sequence, the curves of its tracks
	// of each demand, pattern and sequence, its place in the tables above
	demandAt, patternAt, sequenceAt []int
	blockAt                         []int32 // of each block, its instruction
	said                            []Slot
}

// keptKey is what of a part a kept slot holds.
type keptKey struct {
	part setup.Key
	what string
}

// Setup is what the program was compiled from; do not change it.
func (p *Program) Setup() *setup.Setup { return p.setup }

// State is one moment of a running program. Copy V to copy it. V[:Program.Kept()]
// decides, with the hands, all that follows.
type State struct {
	Frame int64     // frames stepped, whatever was on
	V     []float64 // by Slot
}

// At reads a slot.
func (s *State) At(slot Slot) float64 { return s.V[slot] }

// CopyFrom makes st a copy of another state of the same program.
func (st *State) CopyFrom(other *State) {
	st.Frame = other.Frame
	copy(st.V, other.V)
}

// Hands are where the hands have the controls, in document order: percent for
// an axis, the position from 0 for a switch; then what Program.Hand finds:
// transmitter, link and receivers, 1 for on.
type Hands []float64

// Kept is how many slots are carried from frame to frame.
func (p *Program) Kept() int { return p.kept }

// Slots is how many slots a state has.
func (p *Program) Slots() int { return len(p.initial) }

// PowerOn gives the state before the first frame, everything as new.
func (p *Program) PowerOn() *State {
	return &State{V: append([]float64(nil), p.initial...)}
}

// Step runs one frame: 2 to 50 ms of the model's time, as the setup says. While
// the transmitter does not send, only link, receivers and devices go on.
func (p *Program) Step(st *State, hands Hands) {
	p.Ask(st, hands)
	p.hear(st)
}

// hear runs what follows Ask in a frame: link, receivers and devices.
func (p *Program) hear(st *State) {
	v := st.V
	v[p.up] = v[p.link] * v[p.sending]
	p.run(v, p.code[p.sent:], allInputs)
	st.Frame++
}

// Sent copies what the transmitter sends in the frame that st holds, for Hear.
func (p *Program) Sent(st *State) []float64 {
	sent := []float64{st.V[p.sending], st.V[p.odd]}
	for i := range p.Routes {
		sent = append(sent, st.V[p.Routes[i].US])
	}
	return sent
}

// Hear runs a frame of link, receivers and devices alone, which hear what was sent in a frame of another
// state; nil for nothing. A transmitter does not know who hears it, so many losses of one run need its part
// only once. A state that only hears is not for Step.
func (p *Program) Hear(st *State, sent []float64, hands Hands) {
	v := st.V
	copy(v[p.hands:p.handsEnd], hands)
	v[p.sending] = 0
	if sent != nil {
		v[p.sending], v[p.odd] = sent[0], sent[1]
		for i := range p.Routes {
			v[p.Routes[i].US] = sent[2+i]
		}
	}
	p.hear(st)
}

// Ask runs the transmitter's part of a frame, up to the pulses that are sent: for
// looking at what hands elsewhere would ask for, on a copy of a state that sends.
// Link, receivers and devices stay as they were.
func (p *Program) Ask(st *State, hands Hands) {
	v := st.V
	changed := p.moved(v, hands)
	if p.powered(v) {
		if v[slotFirst] != 0 || v[p.unsettled] != 0 {
			changed = allInputs
		}
		v[p.unsettled] = v[slotFirst]
		p.run(v, p.code[:p.sent], changed)
	}
}

// Carry moves a running state to the program of an edited setup: what both have
// goes on from where it stands, by id; what is new stands at its target; a
// position outside ends that were narrowed is inside at once. It is no power-on.
func (p *Program) Carry(old *Program, was *State, hands Hands) *State {
	now := p.PowerOn()
	p.Step(now, hands)
	at := make(map[keptKey]Slot, old.kept)
	for i, key := range old.keptKeys {
		at[key] = Slot(i)
	}
	for i, key := range p.keptKeys {
		if slot, ok := at[key]; ok {
			now.V[i] = was.V[slot]
		}
	}
	for _, slot := range p.seen {
		now.V[slot] = p.initial[slot]
	}
	now.Frame = was.Frame
	for i, r := range p.Routes {
		out := p.setup.Outputs[i]
		now.V[r.P] = clamp(now.V[r.P], out.Low, out.High)
	}
	return now
}

// lesser and greater are min and max where none is NaN and no zero negative:
// half as much to compute.
func lesser(a, b float64) float64 {
	if a < b {
		return a
	}
	return b
}

func greater(a, b float64) float64 {
	if a > b {
		return a
	}
	return b
}

// clamp limits v to low..high; none of them is NaN. The comparisons nearly
// always go one way, so that they cost less than min and max.
func clamp(v, low, high float64) float64 {
	if v < low {
		return low
	}
	if v > high {
		return high
	}
	return v
}
