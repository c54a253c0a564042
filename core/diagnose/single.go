package diagnose

import (
	"slices"

	"axtren/core/setup"
	"axtren/core/signal"
)

// The kinds of single fault that a walk has to show, by their names (docs/format.md, section 11).
const (
	ChannelsExchanged = "channels_exchanged"
	LeadsExchanged    = "leads_exchanged"
	Crossed           = "crossed"
	Unplugged         = "unplugged"
	Sign              = "sign"
)

// What a device is seen to do that goes one way or the other.
const (
	Plus  = plus
	Minus = minus
)

// AsItShould begins what is said of a servo of which nobody knows which way it goes.
const AsItShould = "goes as it should"

// Singles lists every single fault of a setup of the usual kinds, in the order of their kinds, then of the
// document.
func Singles(s *setup.Setup) []Fault { return candidates(s, false) }

// Places gives the places of a fault in its list; b is that of the second of two, else -1.
func (f *Fault) Places() (a, b int) { return f.a, f.b }

// With gives a setup with faults that stand in their order; nil where that makes it a wrong one. What is
// crossed changes what is seen, and not the setup: Seer.
func With(s *setup.Setup, faults ...Fault) *setup.Setup { return applied(s, faults) }

// Takes tells whether the lead of a device can be on a pin.
func Takes(s *setup.Setup, device int, pin setup.PinRef) bool {
	return onPin(s, device) && takes(s, device, pin)
}

// Hung gives a setup in which some devices, by their place, hang elsewhere.
func Hung(of *setup.Setup, on map[int]string) *setup.Setup {
	s := *of
	s.Devices = slices.Clone(of.Devices)
	for i, pin := range on {
		s.Devices[i] = hung(s.Devices[i], pin)
	}
	s.Relink()
	return &s
}

// Behind lists for each output the parts that it is made of, also through what other outputs are asked for
// and through shares.
func Behind(s *setup.Setup) []map[setup.Item]bool { return partsBehind(s, nil) }

// Seer tells what a person sees of a running setup: the display of each channel in percent, to the nearest
// whole, and what each device does.
type Seer struct{ world }

// NewSeer is for a program, with faults of which only those that are crossed count.
func NewSeer(p *signal.Program, faults ...Fault) *Seer {
	w := &Seer{world{s: p.Setup(), p: p, turn: map[int]bool{}}}
	for _, f := range faults {
		if f.kind == crossed {
			w.turn[f.a] = true
		}
	}
	return w
}

// Display is what is shown of a channel.
func (w *Seer) Display(st *signal.State, channel int) string { return shows(&w.world, st, channel, -1) }

// Of is what is seen of a device in a state of another program of the same devices.
func (w *Seer) Of(p *signal.Program, st *signal.State, i int) string {
	return shows(&world{s: w.s, p: p, turn: w.turn}, st, 0, i)
}

// SaysOf is what a device is seen to do that has a value.
func SaysOf(d *setup.Device, value float64) string { return says(d, value) }

// Device is what is seen of a device.
func (w *Seer) Device(st *signal.State, i int) string { return shows(&w.world, st, 0, i) }
