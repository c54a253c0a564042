package loss

import (
	"math"
	"slices"
	"strings"

	"axtren/core/setup"
	"axtren/core/signal"
	"axtren/core/words"
)

// Driven is a device with the output that reaches it and the pin in between.
type Driven struct {
	Output, Device int
	Ref            setup.PinRef
}

// DrivenIn lists the devices that outputs reach, output by output, levellers aside.
func DrivenIn(s *setup.Setup) []Driven {
	var list []Driven
	for i := range s.Outputs {
		for _, ref := range s.Carriers(i) {
			for _, k := range s.OnPin(ref) {
				if !s.Devices[k].PartKind().Passes {
					list = append(list, Driven{i, k, ref})
				}
			}
		}
	}
	return list
}

// Name is what the device is called.
func (d Driven) Name(s *setup.Setup) string { return s.DeviceLabel(d.Device) }

// Called tells whether a device, or its function, is called by one of some words.
func (d Driven) Called(s *setup.Setup, names ...string) bool {
	name := strings.ToLower(s.DeviceLabel(d.Device) + " " + s.OutputLabel(d.Output))
	return slices.ContainsFunc(names, func(word string) bool { return strings.Contains(name, word) })
}

// Kills tells in which state a relay kills an ignition, on or off; empty where it does not, or where that is
// not said.
func (d Driven) Kills(s *setup.Setup) string {
	if relay, ok := s.Devices[d.Device].Spec.(*setup.Relay); ok {
		return relay.Kills
	}
	return ""
}

// Harm is how something that can hurt goes on: a motor turns, a pump runs, an ignition stays on; empty for
// what does no harm.
func (d Driven) Harm(s *setup.Setup) string {
	switch s.Devices[d.Device].Kind {
	case "esc":
		if s.Lights(d.Device) || d.Called(s, "lamp", "light", "dimmer", "heater") {
			return "" // a controller that dims something
		}
		return "turns"
	case "pump":
		return "runs"
	case "relay":
		switch {
		case d.Kills(s) != "":
			return "lets the engine run"
		case d.Called(s, "ignition", "petrol", "engine"):
			return "stays on"
		}
	}
	return ""
}

// Moves tells whether what a device does is a harm, of one that can do any: a controller that brakes
// before it reverses only brakes, and what kills an ignition harms where it does not.
func (d Driven) Moves(s *setup.Setup, v float64) bool {
	if esc, ok := s.Devices[d.Device].Spec.(*setup.Esc); ok && esc.Reverse == "brake_first" && v < 0 {
		return false
	}
	if state := d.Kills(s); state != "" {
		return (v != 0) != (state == "on")
	}
	return v != 0
}

// beyondThreshold is how far from its threshold what is to be off is put, percent.
const beyondThreshold = 25.0

// Stop gives a position at which a device does nothing, and in words what to let its function do; ok is false
// where only no pulses stop it.
func (d Driven) Stop(s *setup.Setup) (at float64, says string, ok bool) {
	pulse := s.Transmitter.Pulse
	percent := func(us float64) float64 {
		return math.Round(10*pulse.Percent(us)) / 10
	}
	switch spec := s.Devices[d.Device].Base().(type) {
	case *setup.Esc:
		at = percent(spec.LearnedUS.Neutral)
		return at, "go to " + words.SignedShort(at), true
	case *setup.OnOff:
		_, pin := s.Pin(d.Ref)
		at, below := percent(spec.AtUS), spec.TurnsOn == "below"
		if pin.Switch != nil {
			at, below = percent(pin.Switch.AtUS), pin.Switch.On == "below"
		}
		if below != (d.Kills(s) == "on") {
			return min(at+beyondThreshold, 150), "go well above " + words.SignedShort(at), true
		}
		return max(at-beyondThreshold, -150), "go well below " + words.SignedShort(at), true
	}
	return 0, "stop the pulses", false
}

// afterLoss says what a device does in the end after a lost signal, whatever it did before; ok is false where
// that depends on it.
func (d Driven) afterLoss(p *signal.Program) (mode string, position, v float64, ok bool) {
	mode, position = signal.LossOf(p.Setup(), d.Ref)
	switch mode {
	case "preset":
		v, ok = p.Does(d.Device, p.PulseOf(position))
	case "cut":
		v, ok = p.Does(d.Device, 0)
	}
	return mode, position, v, ok
}
