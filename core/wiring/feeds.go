package wiring

import (
	"cmp"

	"axtren/core/setup"
)

// Feed is one thing that feeds a receiver.
type Feed struct {
	Label   string
	Device  int     // the controller that feeds back; -1: none
	At      int     // of the wiring; -1: the controller alone says that it feeds
	OpenV   float64 // with no load, volts; 0: not known
	ForLong float64 // amperes; 0: not known
	Peak    float64
	Ohm     float64 // of its battery and its lead, as far as the fork of a Y
	Leg     float64 // of what lies between the fork and the receiver; 0: no fork, or not known
	legs    []leg   // that end at the receiver; none: the lead does not fork
	spec    setup.Feed
}

// leg is one leg of a Y lead.
type leg struct {
	other bool
	ohm   float64 // 0: not known
}

var legNames = map[bool]string{false: "The first leg", true: "The other leg"}

// legsInto gives the legs of a forked lead that end at a receiver.
func legsInto(s *setup.Setup, f *setup.Feed, receiver int) (list []leg) {
	if s.Item(f.Into).Index == receiver {
		list = append(list, leg{false, Resistance(f.LegMM, f.LegsAWG)})
	}
	if s.Item(*f.Also).Index == receiver {
		list = append(list, leg{true, Resistance(f.OtherLegMM, f.LegsAWG)})
	}
	return list
}

// share gives which part of the receiver's current its i-th leg carries: the one that resists less
// carries more; half where they are not known.
func (f *Feed) share(i int) float64 {
	if len(f.legs) < 2 {
		return 1
	}
	mine, yours := f.legs[i].ohm, f.legs[1-i].ohm
	if mine == 0 || yours == 0 {
		return 0.5
	}
	return yours / (mine + yours)
}

// beside gives the resistance of legs side by side; 0 where one of them is not known.
func beside(legs []leg) float64 {
	if len(legs) == 1 {
		return legs[0].ohm
	}
	a, b := legs[0].ohm, legs[1].ohm
	if a == 0 || b == 0 {
		return 0
	}
	return a * b / (a + b)
}

// live tells whether its red wire reaches the receiver.
func live(s *setup.Setup, f *Feed) bool {
	if f.Device < 0 {
		return true
	}
	esc, ok := s.Devices[f.Device].Spec.(*setup.Esc)
	return !ok || !esc.RedLifted
}

// Feeds lists what feeds a receiver by a live wire, those of the wiring first, then controllers that
// only say how much they feed back.
func Feeds(s *setup.Setup, receiver int) []Feed {
	var list []Feed
	told := map[int]bool{}
	if s.Wiring != nil {
		for i := range s.Wiring.Feeds {
			spec := &s.Wiring.Feeds[i]
			if spec.Device != nil {
				told[s.Item(*spec.Device).Index] = true
			}
			if f := fed(s, i, receiver); f != nil {
				list = append(list, *f)
			}
		}
	}
	for d := range s.Devices {
		esc, ok := s.Devices[d].Spec.(*setup.Esc)
		if ok && esc.FeedsA > 0 && !told[d] && s.DevicePin(d).Receiver == receiver {
			f := Feed{Label: s.DeviceLabel(d), Device: d, At: -1, ForLong: esc.FeedsA, Peak: esc.FeedsA}
			if v := s.Receivers[receiver].SupplyV; v != nil {
				f.OpenV = *v
			}
			list = append(list, f)
		}
	}
	kept := list[:0]
	for i := range list {
		if live(s, &list[i]) {
			kept = append(kept, list[i])
		}
	}
	return kept
}

// fed gives the i-th feed of the wiring as a receiver has it; nil where it does not go there.
func fed(s *setup.Setup, i, receiver int) *Feed {
	spec := s.Wiring.Feeds[i]
	f := Feed{Label: cmp.Or(spec.Label, "battery"), Device: -1, At: i, spec: spec,
		OpenV: cmp.Or(spec.GivesV, spec.Volts), ForLong: spec.ContinuousA,
		Peak: cmp.Or(spec.PeakA, spec.ContinuousA), Ohm: Resistance(spec.LengthMM, spec.AWG)}
	if spec.Also == nil {
		if s.Item(spec.Into).Index != receiver {
			return nil
		}
	} else {
		f.legs = legsInto(s, &spec, receiver)
		if f.legs == nil {
			return nil
		}
		f.Leg = beside(f.legs)
	}
	if spec.GivesV == 0 {
		f.Ohm += spec.Ohm
	}
	if spec.Device != nil {
		f.Device = s.Item(*spec.Device).Index
		f.Label = cmp.Or(spec.Label, s.DeviceLabel(f.Device))
	}
	return &f
}
