package diagnose

import (
	"axtren/core/setup"
	"axtren/core/words"
)

// Says tells a fault in words: what is wrong, and how it is mended, each without a stop.
func (f *Fault) Says(s *setup.Setup) (wrong, mend string) {
	switch f.kind {
	case reversed:
		name := s.OutputLabel(f.a)
		return name + " is reversed the wrong way in the transmitter", "reverse " + name + " there"
	case endsNotKeyed:
		name := s.OutputLabel(f.a)
		return "the ends of " + name + " are not keyed in: both are as in a fresh memory",
			"key in the ends of " + name + " as on the sheet"
	case centreNotKeyed:
		name := s.OutputLabel(f.a)
		return "the centre of " + name + " is not keyed in", "key in the centre of " + name + " as on the sheet"
	case sign:
		name := words.Part(s, setup.IsMix.At(f.a))
		return name + " counts with the other sign", "turn the sign of its figures in the transmitter"
	case dead:
		name := words.Part(s, setup.IsMix.At(f.a))
		return name + " does not count", "see whether it is keyed in, and switched on"
	case channelsExchanged:
		a, b := s.OutputLabel(f.a), s.OutputLabel(f.b)
		return a + " and " + b + " have each other's channel", "give each its own channel in the transmitter"
	case leadsExchanged:
		a, b := s.DeviceLabel(f.a), s.DeviceLabel(f.b)
		return "the leads of " + a + " and " + b + " are exchanged", "exchange the two plugs at the " +
			"receiver, power off"
	case crossed:
		name := s.DeviceLabel(f.a)
		if _, servo := s.Devices[f.a].Spec.(*setup.Servo); servo {
			return name + " moves the other way: its arm, or its rod, is on the other side",
				"put the rod on the other side of the arm, power off"
		}
		return "the two wires of the motor of " + name + " are exchanged", "exchange the two wires of the " +
			"motor, battery off"
	}
	name := s.DeviceLabel(f.a)
	return "nothing arrives by the lead of " + name, "see whether it is plugged in, the right way up, and whole"
}
