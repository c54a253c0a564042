package setup

import "slices"

// Cone gives a setup of all that decides what some parts are and nothing else: the parts,
// what they depend on through whatever lies between, and the entries of the start check,
// which decide whether anything is sent. The parts keep their ids and their order; claims,
// the picture and, unless they are asked for, announcements are left out.
func (s *Setup) Cone(parts ...Item) *Setup {
	asked := slices.Clone(parts)
	for i := range s.StartCheck {
		asked = append(asked, IsStartEntry.At(i))
	}
	inside := map[Item]bool{}
	for _, part := range s.graph.Behind(asked...) {
		inside[part] = true
	}
	cone := *s
	cone.Transmitter.Controls = partsIn(inside, IsControl, s.Transmitter.Controls)
	cone.Demands = partsIn(inside, IsDemand, s.Demands)
	cone.Logic = partsIn(inside, IsBlock, s.Logic)
	cone.Steppers = partsIn(inside, IsStepper, s.Steppers)
	cone.Sequences = partsIn(inside, IsSequence, s.Sequences)
	cone.Patterns = partsIn(inside, IsPattern, s.Patterns)
	cone.Mixes = partsIn(inside, IsMix, s.Mixes)
	cone.Shares = partsIn(inside, IsShare, s.Shares)
	cone.Outputs = partsIn(inside, IsOutput, s.Outputs)
	cone.Devices = partsIn(inside, IsDevice, s.Devices)
	cone.Announcements = partsIn(inside, IsAnnouncement, s.Announcements)
	cone.Claims, cone.Stage = nil, nil
	cone.Receivers = nil
	for i, rx := range s.Receivers {
		var pins []Pin
		for j, pin := range rx.Pins {
			if inside[(PinRef{i, j}).Item()] {
				pins = append(pins, pin)
			}
		}
		if rx.Pins = pins; pins != nil || inside[IsReceiver.At(i)] {
			cone.Receivers = append(cone.Receivers, rx)
		}
	}
	cone.Relink()
	return &cone
}

func partsIn[T any](inside map[Item]bool, kind ItemKind, list []T) []T {
	var kept []T
	for i := range list {
		if inside[kind.At(i)] {
			kept = append(kept, list[i])
		}
	}
	return kept
}
