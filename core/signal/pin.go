package signal

import (
	"axtren/core/setup"
)

// PinRoute is where one pin stands.
type PinRoute struct {
	setup.PinRef
	Arrival Slot // what arrives on its channel while the link is up
	US      Slot // the pulse on it, 0 for none
	On      Slot // 1 while a switch pin is active; None where the pin carries pulses
}

// What a pin does on loss.
const (
	lossHold uint8 = iota
	lossCut
	lossPreset
)

// receiver is one receiver with its pins.
type receiver struct {
	on, up      Slot
	heard, lost Slot // had a signal since it was turned on; frames since the link went down
	need        float64
	pins        []pin
}

type pin struct {
	arrival, us Slot
	loss        uint8
	preset      float64 // us
}

// pins compiles every pin of every receiver.
func (c *compiler) pins() {
	c.node = -1
	for r := range c.s.Receivers {
		rx := &c.s.Receivers[r]
		rec := receiver{on: c.p.receiversOn[r], up: c.p.up, heard: c.keep(setup.IsReceiver.At(r), "heard"),
			lost: c.keep(setup.IsReceiver.At(r), "lost"),
			need: c.frames(rx.LossAfterS)}
		routes := make([]PinRoute, len(rx.Pins))
		for j := range rx.Pins {
			ref := setup.PinRef{Receiver: r, Pin: j}
			routes[j] = PinRoute{ref, c.arrival(ref), c.keep(ref.Item(), "us"), None}
			rec.pins = append(rec.pins, c.pin(routes[j]))
		}
		c.p.receivers = append(c.p.receivers, rec)
		c.add(inst{op: opReceiver, at: int32(r)})
		for j := range rx.Pins {
			if sw := rx.Pins[j].Switch; sw != nil {
				routes[j].On = c.emit(inst{op: opSwitchPin, a: routes[j].US, x: sw.AtUS,
					y: truth(sw.On == "below")})
			}
		}
		c.p.Pins = append(c.p.Pins, routes)
	}
	for i := range c.p.Routes {
		for _, ref := range c.s.Carriers(i) {
			c.p.Routes[i].Pins = append(c.p.Routes[i].Pins, c.p.Pins[ref.Receiver][ref.Pin])
		}
	}
}

// pin decides what a pin does on loss: what its output asks where the receiver
// can do that on this pin, else what the receiver does otherwise.
func (c *compiler) pin(route PinRoute) pin {
	out := pin{arrival: route.Arrival, us: route.US}
	mode, value := LossOf(c.s, route.PinRef)
	switch mode {
	case "cut":
		out.loss = lossCut
	case "preset":
		out.loss, out.preset = lossPreset, c.p.pulse.us(value)
	}
	return out
}

// LossOf says what a pin does when the signal is lost: hold, cut, or preset to a
// position in percent.
func LossOf(s *setup.Setup, ref setup.PinRef) (mode string, value float64) {
	i := s.Carried(ref)
	if i < 0 {
		return "cut", 0 // nothing ever arrives
	}
	rx, p := s.Pin(ref)
	loss := s.Outputs[i].Loss
	if loss == nil || !rx.CanOnLoss(loss.Mode, p.Pin) {
		return rx.Failsafe.Otherwise, 0
	}
	if loss.Mode != "preset" {
		return loss.Mode, 0
	}
	return loss.Mode, *loss.Value
}

// Hears gives where a receiver keeps that it has had a signal since it was turned on, and for how many frames
// it has none, up to those after which it counts as lost.
func (p *Program) Hears(receiver int) (heard, lost Slot) {
	return p.receivers[receiver].heard, p.receivers[receiver].lost
}

// step runs a receiver for a frame.
func (r *receiver) step(v []float64) {
	switch {
	case v[r.on] == 0:
		v[r.heard] = 0
	case v[r.up] != 0:
		v[r.heard], v[r.lost] = 1, -1
	default:
		v[r.lost] = lesser(v[r.lost]+1, r.need)
	}
	heard, up := v[r.heard] != 0, v[r.up] != 0
	if heard && up {
		for i := range r.pins {
			v[r.pins[i].us] = v[r.pins[i].arrival]
		}
		return
	}
	for i := range r.pins {
		p := &r.pins[i]
		switch {
		case !heard:
			v[p.us] = 0
		case v[r.lost] < r.need: // holds
		case p.loss == lossCut:
			v[p.us] = 0
		case p.loss == lossPreset:
			v[p.us] = p.preset
		}
	}
}

// beyond tells whether a pulse is strictly above, or below, a threshold, us; without a
// pulse it is not.
func beyond(us, at float64, below bool) float64 {
	return truth(us != 0 && (us > at && !below || us < at && below))
}
