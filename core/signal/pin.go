package signal

import "axtren/core/setup"

// PinRoute is where one pin stands.
type PinRoute struct {
	setup.PinRef
	US Slot // the pulse on it, 0 for none
	On Slot // 1 while a switch pin is active; None where the pin carries pulses
}

// pins compiles every pin of every receiver.
func (c *compiler) pins() {
	for r, rx := range c.s.Receivers {
		c.p.Pins = append(c.p.Pins, make([]PinRoute, len(rx.Pins)))
		for j, pin := range rx.Pins {
			pr := PinRoute{setup.PinRef{Receiver: r, Pin: j}, c.arrival(pin.Channel), None}
			if sw := pin.Switch; sw != nil {
				below := truth(sw.On == "below")
				pr.On = c.emit(inst{op: opSwitchPin, a: pr.US, x: sw.AtUS, y: below})
			}
			c.p.Pins[r][j] = pr
		}
	}
	for i := range c.p.Routes {
		for _, ref := range c.s.Carriers(i) {
			c.p.Routes[i].Pins = append(c.p.Routes[i].Pins, c.p.Pins[ref.Receiver][ref.Pin])
		}
	}
}

// switchPin tells whether a pin is active: strictly above, or below, at us.
func switchPin(us, at, below float64) float64 {
	if us == 0 {
		return 0
	}
	if below != 0 {
		return truth(us < at)
	}
	return truth(us > at)
}
