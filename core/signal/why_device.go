package signal

import (
	"fmt"
	"math"

	"axtren/core/setup"
	"axtren/core/words"
)

// What arrives at a pin, and what a device makes of it.

func (w why) pin(ref setup.PinRef) Reason {
	s := w.p.setup
	rx, pin := s.Pin(ref)
	route, path := w.p.pinRoute(ref), ref.Item().Path()
	r := Reason{Name: fmt.Sprintf("%s, channel %d", s.PinLabel(ref), pin.Channel), Unit: "µs",
		Path: path, Value: w.at(route.US)}
	out := s.Carried(ref)
	switch rec := &w.p.receivers[ref.Receiver]; {
	case w.at(rec.on) == 0:
		r.Sum = "the receiver is off"
	case w.at(rec.heard) == 0:
		r.Sum = "no signal since it was turned on"
	case out < 0:
		r.Sum = "nothing is sent on it"
	case w.at(w.p.up) == 0 && w.at(rec.lost) < rec.need:
		r.Sum = "signal lost, held for " + words.Figure(rx.LossAfterS) + " s"
	case w.at(w.p.up) == 0:
		mode, value := LossOf(s, ref)
		r.Sum = map[string]string{"hold": "signal lost, held", "cut": "signal lost, pulses stopped",
			"preset": "signal lost, gone to " + words.Signed(value)}[mode]
	default:
		sent := w.pulse(out)
		r.Sum, r.From = "as sent", []Reason{sent}
		if r.Value != sent.Value {
			r.Sum = "as the link changes " + words.Figure(sent.Value)
		}
	}
	if route.On == None {
		return r
	}
	sum := fmt.Sprintf("%s µs is not %s %s", words.Figure(r.Value), pin.Switch.On,
		words.Short(pin.Switch.AtUS))
	if w.at(route.On) != 0 {
		sum = fmt.Sprintf("%s µs is %s %s", words.Figure(r.Value), pin.Switch.On,
			words.Short(pin.Switch.AtUS))
	}
	return Reason{Name: "on or off", Sum: sum, Value: w.at(route.On), Path: path + ".switch",
		From: []Reason{r}}
}

// WhyDevice explains the value of device i: what its pin makes of it.
func (p *Program) WhyDevice(st *State, i int) Reason {
	w, s := why{p, st}, p.setup
	d := &s.Devices[i]
	r := Reason{Name: s.DeviceLabel(i), Unit: "%", Path: fmt.Sprintf("devices[%d]", i)}
	if slot := p.Devices[i].Value; slot != None {
		r.Value = w.at(slot)
	}
	pin := p.pinRoute(s.DevicePin(i))
	us := w.at(pin.US)
	r.From = []Reason{w.pin(pin.PinRef)}
	r.Sum = w.deviceSum(i, us, r.Value)
	if d.PartKind().Unit == "step" {
		r.Unit = ""
	}
	return r
}

func (w why) deviceSum(i int, us, value float64) string {
	pulse := &w.p.pulse
	switch d := w.p.setup.Devices[i].Base().(type) {
	case *setup.Servo:
		target := w.at(w.p.Devices[i].target)
		switch {
		case us == 0:
			return "no pulse: it stays"
		case math.Abs(target-value) > 1e-6:
			return "on the way to " + words.Signed(target)
		}
		return fmt.Sprintf("100 × (%s − %s) / %s", words.Figure(us), words.Short(pulse.CentreUS),
			words.Short(pulse.HalfSpanUS))
	case *setup.OnOff:
		if us == 0 {
			return "no pulse: " + d.NoPulse
		}
		return fmt.Sprintf("%s µs, on where it is %s %s", words.Figure(us), d.TurnsOn, words.Short(d.AtUS))
	case *setup.StepBox:
		return fmt.Sprintf("step %s of %d", words.Short(value), d.Steps)
	case *setup.Esc:
		return escSum(d, us, value)
	}
	return ""
}

func escSum(d *setup.Esc, us, motor float64) string {
	u, x := d.LearnedUS, us-d.LearnedUS.Neutral
	switch {
	case us == 0:
		return "no pulse: it stands"
	case math.Abs(x) <= d.DeadUS:
		return fmt.Sprintf("%s µs is within %s of its neutral %s", words.Figure(us), words.Short(d.DeadUS),
			words.Short(u.Neutral))
	case motor == 0:
		return fmt.Sprintf("%s µs, but it does not turn yet: %s", words.Figure(us), waitsWord(d, x))
	case x > 0:
		return fmt.Sprintf("100 × (%s − %s − %s) / %s", words.Figure(us), words.Short(u.Neutral),
			words.Short(d.DeadUS), words.Short(u.High-u.Neutral-d.DeadUS))
	}
	return fmt.Sprintf("−100 × (%s − %s − %s) / %s", words.Short(u.Neutral), words.Figure(us),
		words.Short(d.DeadUS), words.Short(u.Neutral-u.Low-d.DeadUS))
}

func waitsWord(d *setup.Esc, x float64) string {
	switch {
	case x < 0 && d.Reverse == "none":
		return "it has no reverse"
	case x < 0 && d.Reverse == "brake_first":
		return "it brakes before it reverses"
	}
	return "it waits for neutral"
}
