package diagnose

import (
	"fmt"
	"slices"

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
	switch f.kind {
	case wrongChannel:
		name := s.OutputLabel(f.a)
		return name + " goes out on another channel, which nothing is plugged into",
			fmt.Sprintf("give %s channel %d in the transmitter", name, s.Outputs[f.a].Channel)
	case mastersExchanged:
		name := words.Part(s, setup.IsMix.At(f.a))
		return "leading and following are exchanged in " + name, fmt.Sprintf("let %s lead and %s follow there",
			s.OutputLabel(leads(s, f.a)), s.Named(s.Mixes[f.a].To))
	case feelNotKeyed:
		name := s.DemandLabel(f.a)
		return "the feel of " + name + " is not keyed in: neither its rates nor its expo, curve or trim",
			"key in the feel of " + name + " as on the sheet"
	case shareNotKeyed:
		name := words.Share(s, &s.Shares[f.a])
		return "what is done when both ask for too much is not keyed in: " + words.Small(name),
			"key it in as on the sheet"
	case neutralHigh, neutralLow:
		name, side := s.DeviceLabel(f.a), "above"
		if f.kind == neutralLow {
			side = "below"
		}
		return name + " has learned its neutral " + side + " the pulse that it gets at rest",
			"teach " + name + " its neutral again, with the stick at rest and the trim at 0"
	}
	name := s.DeviceLabel(f.a)
	return "nothing arrives by the lead of " + name, "see whether it is plugged in, the right way up, and whole"
}

// At tells where a fault is mended: at the transmitter, at a plug, or at the model.
func (f *Fault) At() string { return kinds[f.kind].at }

// Part gives the part of the document that a fault is in.
func (f *Fault) Part() setup.Item {
	switch f.kind {
	case reversed, endsNotKeyed, centreNotKeyed, channelsExchanged, wrongChannel:
		return setup.IsOutput.At(f.a)
	case sign, dead, mastersExchanged:
		return setup.IsMix.At(f.a)
	case feelNotKeyed:
		return setup.IsDemand.At(f.a)
	case shareNotKeyed:
		return setup.IsShare.At(f.a)
	}
	return setup.IsDevice.At(f.a)
}

// Output gives the output that a fault is of, -1 for none.
func (f *Fault) Output(s *setup.Setup) int {
	switch part := f.Part(); part.Kind {
	case setup.IsOutput:
		return part.Index
	case setup.IsMix:
		return s.Item(s.Mixes[part.Index].To).Index
	case setup.IsDevice:
		return s.DrivenBy(part.Index)
	case setup.IsShare:
		return s.Item(s.Shares[part.Index].Outputs[0]).Index
	}
	for i := range s.Outputs {
		if slices.Contains(s.Graph().Behind(setup.IsOutput.At(i)), f.Part()) {
			return i
		}
	}
	return -1
}

// Likeliest puts sets of faults in the order in which they are worth looking at: what is common and
// quickly mended first, of equals in the order of their kinds and of the document.
func Likeliest(sets [][]Fault) [][]Fault {
	rare := func(set []Fault) (sum int) {
		for i := range set {
			sum += kinds[set[i].kind].rare
		}
		return sum
	}
	list := slices.Clone(sets)
	slices.SortStableFunc(list, func(a, b []Fault) int { return rare(a) - rare(b) })
	return list
}
