package signal

import (
	"slices"
)

// Arriving gives what arrives on a receiver channel when the output that it carries
// sends a pulse, us: docs/format.md, section 8. A half-rate channel gets it a frame late.
func (p *Program) Arriving(channel int, us float64) float64 {
	l := &p.setup.Link
	if u := l.LearnedUS; u != nil {
		us = p.learn(us, &inst{x: u.Low, y: u.Centre, z: u.High})
	}
	if slices.Contains(l.OneBit, channel) {
		us = p.oneBit(us)
	}
	return us
}

// Does gives what device i does while a pulse, us, lasts on its pin, 0 for none: the
// position of a servo, the drive of a controller, which a brake or a neutral that is
// waited for may still keep from the motor, 0 or 100 of what is on or off. ok is false
// for a step box, which counts, a leveller, and where it depends on what was before.
func (p *Program) Does(i int, us float64) (v float64, ok bool) {
	_, pin := p.setup.Pin(p.setup.DevicePin(i))
	on := p.setup.Devices[i].OnOff()
	switch {
	case on != nil && pin.Switch != nil:
		return 100 * beyond(us, pin.Switch.AtUS, pin.Switch.On == "below"), true
	case on != nil && us == 0:
		return 100 * truth(on.NoPulse == "on"), on.NoPulse != "stay"
	}
	aim := p.Aim(i)
	return aim.At(us)
}
