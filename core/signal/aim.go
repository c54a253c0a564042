package signal

import (
	"slices"

	"axtren/core/setup"
)

// An Aim says where a device would stand at once, without the slew of its output
// and its own slowness: what is asked of it. The zero Aim is of no device.
type Aim struct {
	p      *Program
	device *device
	pin    setup.PinRef
	target Slot // the position that the output makes for; None where none reaches the pin
	learn  *inst
	oneBit bool
}

// Aim gives the aim of device i. Half-rate channels aim at what they get next.
func (p *Program) Aim(i int) Aim {
	place := 0
	for _, d := range p.setup.Devices[:i] {
		if !d.PartKind().Passes {
			place++
		}
	}
	if p.setup.Devices[i].PartKind().Passes {
		return Aim{}
	}
	ref, l := p.setup.DevicePin(i), &p.setup.Link
	_, pin := p.setup.Pin(ref)
	a := Aim{p: p, device: &p.devices[place], pin: ref, target: None,
		oneBit: slices.Contains(l.OneBit, pin.Channel)}
	if u := l.LearnedUS; u != nil {
		a.learn = &inst{x: u.Low, y: u.Centre, z: u.High}
	}
	if out := p.setup.Carried(ref); out >= 0 {
		a.target = p.Routes[out].Target
	}
	return a
}

// Now gives the aim as a state has it; ok is false where nothing is asked.
func (a *Aim) Now(st *State) (v float64, ok bool) {
	if a.device == nil || a.target == None || st.V[a.p.sending] == 0 {
		return 0, false
	}
	us := a.p.pulse.us(st.V[a.target])
	if a.learn != nil {
		us = a.p.learn(us, a.learn)
	}
	if a.oneBit {
		us = a.p.oneBit(us)
	}
	return a.At(us)
}

// Basis is all that Now and Reached look at: while it stays the same, so do they.
func (a *Aim) Basis(st *State) [3]float64 {
	if a.device == nil {
		return [3]float64{}
	}
	basis := [3]float64{st.V[a.device.us], st.V[a.p.up] + 2*st.V[a.p.sending]}
	if a.target != None {
		basis[2] = st.V[a.target]
	}
	return basis
}

// At gives where a pulse that lasts brings the device: the position of a servo,
// the drive of a controller, 0 or 100 of what is on or off; ok is false for a
// step box, which counts.
func (a *Aim) At(us float64) (v float64, ok bool) {
	if a.device == nil {
		return 0, false
	}
	switch d := a.device; d.kind {
	case kindServo:
		return a.p.pulse.Percent(us), us != 0
	case kindEsc:
		if us == 0 {
			return 0, true
		}
		return d.drive(us), true
	case kindOnOff:
		if d.on != None {
			return 0, false // a switch pin has its own threshold
		}
		return 100 * beyond(us, d.x[0], d.flags[0]), us != 0
	}
	return 0, false
}

// Loss gives where a lost signal brings the device; ok is false where it stays
// as it is, or depends on how it was.
func (a *Aim) Loss() (v float64, ok bool) {
	if a.device == nil {
		return 0, false
	}
	switch mode, value := LossOf(a.p.setup, a.pin); mode {
	case "preset":
		return a.At(a.p.pulse.us(value))
	case "cut":
		return a.At(0)
	}
	return 0, false
}

// Reached tells whether a live signal reaches a device: its pin has a pulse, and
// the link is up.
func (a *Aim) Reached(st *State) bool {
	if a.device == nil {
		return false
	}
	return st.V[a.p.up] != 0 && st.V[a.device.us] != 0
}
