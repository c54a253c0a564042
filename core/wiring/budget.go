package wiring

import (
	"cmp"
	"fmt"
	"strings"

	"axtren/core/setup"
	"axtren/core/words"
)

// Feed is one thing that feeds a receiver.
type Feed struct {
	Label   string
	Device  int     // the controller that feeds back; -1: none
	At      int     // of the wiring; -1: the controller alone says that it feeds
	OpenV   float64 // with no load, volts; 0: not known
	ForLong float64 // amperes; 0: not known
	Peak    float64
	Ohm     float64 // of its battery and its lead
	spec    setup.Feed
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
		for i, spec := range s.Wiring.Feeds {
			if s.Item(spec.Into).Index != receiver {
				continue
			}
			f := Feed{Label: cmp.Or(spec.Label, "battery"), Device: -1, At: i, spec: spec,
				OpenV: cmp.Or(spec.GivesV, spec.Volts), ForLong: spec.ContinuousA,
				Peak: cmp.Or(spec.PeakA, spec.ContinuousA), Ohm: Resistance(spec.LengthMM, spec.AWG)}
			if spec.GivesV == 0 {
				f.Ohm += spec.Ohm
			}
			if spec.Device != nil {
				f.Device = s.Item(*spec.Device).Index
				f.Label = cmp.Or(spec.Label, s.DeviceLabel(f.Device))
				told[f.Device] = true
			}
			list = append(list, f)
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

// Figure is one figure of the budget, with how it comes about.
type Figure struct {
	Label string  `json:"label"`
	Value float64 `json:"value"`
	Unit  string  `json:"unit"`
	Bad   bool    `json:"bad"`  // it is beyond its limit
	Says  string  `json:"says"` // its limit, in short: of 3 A
	Why   string  `json:"why"`  // the arithmetic
	Do    string  `json:"do"`   // what to do, where it is bad, as an instruction
}

// Budget is the power of one receiver.
type Budget struct {
	Receiver string   `json:"receiver"` // its label
	Part     string   `json:"part"`     // receivers/rx
	Figures  []Figure `json:"figures"`
	Lacks    string   `json:"lacks"` // what is not known yet, a sentence; empty: nothing
	Worked   float64  `json:"-"`
	Stalled  float64  `json:"-"`
	Volts    float64  `json:"-"` // at the receiver with everything stalled; 0: not known
	Feed     *Feed    `json:"-"` // the one that carries the load; nil: none is known
}

// load is what one device draws.
type load struct {
	name       string
	work, most float64
}

// loads lists what the devices of a receiver draw; missing are those of which it is not known. A
// current at most that was measured at other volts grows with the volts, as that of a motor that
// stands does.
func loads(s *setup.Setup, receiver int, volts float64) (list []load, missing []string) {
	for d := range s.Devices {
		dev := &s.Devices[d]
		if s.DevicePin(d).Receiver != receiver || dev.PartKind().Passes {
			continue
		}
		if dev.DrawsA == nil {
			if _, esc := dev.Spec.(*setup.Esc); !esc { // it has a battery of its own
				missing = append(missing, s.DeviceLabel(d))
			}
			continue
		}
		most := dev.DrawsA.Most
		if dev.DrawsA.AtV > 0 && volts > 0 {
			most *= volts / dev.DrawsA.AtV
		}
		list = append(list, load{s.DeviceLabel(d), cmp.Or(dev.DrawsA.Work, dev.DrawsA.Most), most})
	}
	return list, missing
}

// Of works the power of every receiver out.
func Of(s *setup.Setup) []Budget {
	list := []Budget{}
	for i := range s.Receivers {
		list = append(list, of(s, i))
	}
	return list
}

func of(s *setup.Setup, receiver int) Budget {
	rx := &s.Receivers[receiver]
	b := Budget{Receiver: s.ReceiverLabel(rx), Part: "receivers/" + string(rx.ID), Figures: []Figure{}}
	// of several feeds the highest voltage carries the load: they do not add
	for _, f := range Feeds(s, receiver) {
		if b.Feed == nil || f.OpenV > b.Feed.OpenV {
			b.Feed = &f
		}
	}
	volts := 0.0
	if b.Feed != nil {
		volts = b.Feed.OpenV
	}
	list, missing := loads(s, receiver, volts)
	b.Lacks = lacks(b.Feed, list, missing)
	if len(list) == 0 {
		return b
	}
	var work, most []string
	for _, l := range list {
		b.Worked += l.work
		b.Stalled += l.most
		work = append(work, l.name+" "+amps(l.work))
		most = append(most, l.name+" "+amps(l.most))
	}
	b.currents(work, most)
	if b.Feed != nil && b.Feed.OpenV > 0 {
		b.volts(rx)
		b.rest()
	}
	return b
}

func amps(v float64) string { return words.Short(round(v)) + " A" }

// round is to two places: what is known of currents and volts is not finer.
func round(v float64) float64 { return float64(int64(v*100+0.5)) / 100 }

// lacks says what is not known.
func lacks(feed *Feed, list []load, missing []string) string {
	var said []string
	if feed == nil {
		said = append(said, "what feeds it")
	} else if feed.OpenV == 0 {
		said = append(said, "the volts of "+feed.Label)
	}
	if len(missing) > 4 {
		said = append(said, fmt.Sprintf("what %d devices draw", len(missing)))
	} else if len(missing) > 0 {
		said = append(said, "what "+words.And(missing)+" draws")
	}
	if said == nil {
		return ""
	}
	if len(list) == 0 && feed == nil {
		return "Nothing is known yet of what feeds it, or of what hangs there."
	}
	return "Not known yet: " + words.And(said) + "."
}

// currents adds the sums, against what the feed gives.
func (b *Budget) currents(work, most []string) {
	one := Figure{Label: "All at work", Value: round(b.Worked), Unit: "A",
		Why: strings.Join(work, " + ") + " = " + amps(b.Worked)}
	all := Figure{Label: "All stalled", Value: round(b.Stalled), Unit: "A",
		Why: strings.Join(most, " + ") + " = " + amps(b.Stalled)}
	if f := b.Feed; f != nil && f.ForLong > 0 {
		one.Says, one.Bad = "of "+amps(f.ForLong), b.Worked > f.ForLong+1e-9
		all.Says, all.Bad = "peak "+amps(f.Peak), b.Stalled > f.Peak+1e-9
		one.Why += "; " + f.Label + " gives " + amps(f.ForLong) + " for long"
		all.Why += "; " + f.Label + " gives " + amps(f.Peak) + " for a moment"
		do := "take a stronger feed, or feed the strongest of them by a lead of their own"
		one.Do, all.Do = do, do
	}
	b.Figures = append(b.Figures, one, all)
}

// volts adds what is left at the receiver while everything is stalled.
func (b *Budget) volts(rx *setup.Receiver) {
	f := b.Feed
	b.Volts = f.OpenV - b.Stalled*f.Ohm
	one := Figure{Label: "At the receiver, then", Value: round(b.Volts), Unit: "V",
		Why: fmt.Sprintf("%s V − %s × %s mΩ = %s V", words.Short(f.OpenV), amps(b.Stalled),
			words.Short(round(f.Ohm*1000)), words.Short(round(b.Volts)))}
	if f.Ohm == 0 {
		one.Why = words.Short(f.OpenV) + " V: nothing is known that would take anything of it"
	}
	if v := rx.Volts; v != nil {
		one.Says, one.Bad = "lowest "+words.Short(v.Least)+" V", b.Volts < v.Least-1e-9
		one.Do = "take a shorter or a thicker lead, or a feed of more volts"
	}
	b.Figures = append(b.Figures, one)
}

// rest adds the running time, and the heat of a linear regulator.
func (b *Budget) rest() {
	f := b.Feed
	if f.spec.AH > 0 && b.Worked > 0 {
		minutes := f.spec.AH / b.Worked * 60
		b.Figures = append(b.Figures, Figure{Label: "Runs for", Value: float64(int64(minutes)), Unit: "min",
			Why: fmt.Sprintf("%s Ah ÷ %s = %s h, without what the motors take",
				words.Short(f.spec.AH), amps(b.Worked), words.Short(round(minutes/60)))})
	}
	if f.spec.Regulator == "linear" && f.spec.GivesV > 0 {
		heat := (f.spec.Volts - f.spec.GivesV) * b.Worked
		b.Figures = append(b.Figures, Figure{Label: "Heat of its regulator", Value: round(heat), Unit: "W",
			Says: "at work", Why: fmt.Sprintf("(%s V − %s V) × %s = %s W: a linear one makes heat of "+
				"what is over, so it gives less with more cells", words.Short(f.spec.Volts),
				words.Short(f.spec.GivesV), amps(b.Worked), words.Short(round(heat)))})
	}
}
