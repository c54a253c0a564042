package signal

import (
	"fmt"
	"strings"

	"axtren/core/setup"
)

// Slot is a place in State.V; None is no place.
type Slot int32

// None is the slot of a joint that does not exist.
const None Slot = -1

// op is what an instruction does; each is written where its stage is.
type op uint8

const (
	opSpread   op = iota // control.go: position of a switch -> number
	opIs                 // control.go: switch stands at a position
	opNot                // control.go
	opDeadband           // demand.go
	opExpo
	opPickRate
	opScale
	opRate
	opCurve
	opTrim
	opAbs // mix.go
	opUp
	opDown
	opGain
	opGainSplit
	opFade
	opSum // opAdd of a mix that always holds
	opAdd
	opTimes
	opInstead
	opGreatest
	opLeast
	opShareScale // share.go
	opShareTurn
	opOutput // output.go
	opLearn  // link.go
	opOneBit
	opHalfRate
	opSwitchPin // pin.go
)

var opWords = [...]string{"spread", "is", "not", "deadband", "expo", "pickrate", "scale", "rate", "curve", "trim",
	"abs", "up", "down", "gain", "gainsplit", "fade", "sum", "add", "times", "instead", "greatest", "least", "sharescale", "shareturn",
	"output", "learn", "onebit", "halfrate", "switchpin"}

// inst is one instruction: dst becomes a function of the slots a, b, c and the
// constants x, y, z. Which of them an op uses is said where the op is run.
type inst struct {
	op      op
	a, b, c Slot
	dst     Slot
	x, y, z float64
}

// slotFirst holds 1 in the first frame after a power-on, else 0.
const slotFirst Slot = 0

// Program is a compiled setup. It does not change, so that any number of states
// may run on it at once.
type Program struct {
	setup   *setup.Setup
	pulse   scale
	code    []inst
	rates   []rateArm
	curves  []curve
	shares  []share
	outputs []output

	kept     int       // the slots below it are carried from frame to frame
	keptKeys []string  // what each kept slot belongs to, stable over edits
	initial  []float64 // constants in their slots, 0 elsewhere
	hands    Slot      // where Step puts the hands, one slot after the other
	controls []Slot    // the same, control by control
	numbers  []Slot    // each control as a number

	Routes   []Route      // one for each output, in document order
	Demands  []Shaping    // one for each demand, in document order
	Pins     [][]PinRoute // by receiver and pin, in document order
	unplayed []Unplayed   // what this program leaves out
}

// Setup is what the program was compiled from; do not change it.
func (p *Program) Setup() *setup.Setup { return p.setup }

// State is one moment of a running program. Copy V to copy it. V[:Program.Kept()]
// decides, with Frame's parity and the hands, all that follows.
type State struct {
	Frame int64     // frames stepped since power-on
	V     []float64 // by Slot
}

// At reads a slot.
func (s *State) At(slot Slot) float64 { return s.V[slot] }

// Hands are where the hands have the controls, in document order: percent for
// an axis, the position from 0 for a switch.
type Hands []float64

// Kept is how many slots are carried from frame to frame.
func (p *Program) Kept() int { return p.kept }

// Slots is how many slots a state has.
func (p *Program) Slots() int { return len(p.initial) }

// Rest gives the hands with every control at rest or where it wakes.
func (p *Program) Rest() Hands {
	controls := p.setup.Transmitter.Controls
	h := make(Hands, len(controls))
	for i, c := range controls {
		if c.Axis != nil {
			h[i] = c.Axis.Rest()
		} else {
			h[i] = float64(c.Switch.Rest())
		}
	}
	return h
}

// PowerOn gives the state before the first frame.
func (p *Program) PowerOn() *State {
	return &State{V: append([]float64(nil), p.initial...)}
}

// Step runs one frame: 2 to 50 ms of the model's time, as the setup says.
func (p *Program) Step(st *State, hands Hands) {
	v := st.V
	v[slotFirst] = 0
	if st.Frame == 0 {
		v[slotFirst] = 1
	}
	copy(v[p.hands:], hands[:len(p.controls)])
	p.run(v, st.Frame)
	st.Frame++
}

// Carry moves a running state to the program of an edited setup: what both have
// goes on from where it stands, by id; what is new stands at its target; a
// position outside ends that were narrowed is inside at once. It is no power-on.
func (p *Program) Carry(old *Program, was *State, hands Hands) *State {
	now := p.PowerOn()
	p.Step(now, hands)
	at := make(map[string]Slot, old.kept)
	for i, key := range old.keptKeys {
		at[key] = Slot(i)
	}
	for i, key := range p.keptKeys {
		if slot, ok := at[key]; ok {
			now.V[i] = was.V[slot]
		}
	}
	now.Frame = was.Frame
	for i, r := range p.Routes {
		out := p.setup.Outputs[i]
		now.V[r.P] = clamp(now.V[r.P], out.Low, out.High)
	}
	return now
}

// Unplayed is a part of the document that is kept but not computed yet.
type Unplayed struct {
	Path string `json:"path"` // place in the document
	What string `json:"what"` // logic block tame
	Why  string `json:"why"`  // empty: not played yet; else what it waits for
}

// Unplayed lists what the program leaves out, in the order of the document.
func (p *Program) Unplayed() []Unplayed { return p.unplayed }

// String prints the program, an instruction a line.
func (p *Program) String() string {
	var b strings.Builder
	for i, in := range p.code {
		fmt.Fprintf(&b, "%3d %-10s %3d <- %d %d %d  %g %g %g\n", i, opWords[in.op], in.dst, in.a, in.b, in.c, in.x, in.y, in.z)
	}
	return b.String()
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
