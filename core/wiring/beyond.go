package wiring

import (
	"cmp"
	"fmt"
	"math"
	"strings"

	"axtren/core/setup"
	"axtren/core/words"
)

// e12 and e24 are the preferred values of resistors of a decade: IEC 60063 (from memory).
var (
	e12 = []float64{10, 12, 15, 18, 22, 27, 33, 39, 47, 56, 68, 82}
	e24 = []float64{10, 11, 12, 13, 15, 16, 18, 20, 22, 24, 27, 30, 33, 36, 39, 43, 47, 51, 56, 62, 68, 75,
		82, 91}
)

// NextUp gives the smallest value of a series, 1 Ω and more, that is at least so many ohms.
func NextUp(series []float64, ohm float64) float64 {
	for decade := 0.1; ; decade *= 10 {
		for _, v := range series {
			if one := math.Round(v * decade * 1e6); one >= math.Round(ohm*1e6) {
				return one / 1e6
			}
		}
	}
}

// joint adds what passes through the turning joint: the ways that it takes, and the current of each
// for power. nil: there is none.
func joint(s *setup.Setup, sides []side) *Budget {
	if s.Wiring == nil || s.Wiring.Joint == nil {
		return nil
	}
	j := s.Wiring.Joint
	b := &Budget{Title: cmp.Or(j.Label, "The turning joint"), Part: "wiring", Rule: "joint", Figures: []Figure{},
		Behind: []Figure{}}
	power := max(j.PowerWays, 1)
	var said, drawn []string
	var ways int
	var amperes float64
	signals := map[setup.PinRef]bool{} // devices on one pin share a signal
	passes, motors := false, 0
	for _, lead := range s.Wiring.Leads {
		switch d := s.Item(lead.Device).Index; lead.Joint {
		case "lead":
			passes = true
			signals[s.DevicePin(d)] = true
			for _, side := range sides {
				for _, l := range side.loads {
					if l.device == d {
						amperes += l.most
						drawn = append(drawn, l.name+" "+amps(l.most))
					}
				}
			}
		case "motor":
			motors++
		}
	}
	for i, f := range s.Wiring.Feeds {
		if f.Joint == "" {
			continue
		}
		passes = true
		for r := range sides {
			if sides[r].Feed == nil || sides[r].Feed.At != i {
				continue
			}
			if through := sides[r].through(f.Joint); through > 0 {
				amperes += through
				drawn = append(drawn, sides[r].Title+" "+amps(through))
			}
		}
	}
	add := func(n int, of string) {
		if n > 0 {
			ways += n
			said = append(said, fmt.Sprintf("%d %s", n, of))
		}
	}
	if passes {
		add(power, "for power")
		add(power, "for ground")
	}
	add(len(signals), "for signals")
	add(2*motors, "for motors")
	if ways == 0 {
		b.Lacks = "Nothing is said yet of what passes through it: say so at the leads and feeds that do."
		return b
	}
	b.Figures = append(b.Figures, Figure{Label: "Ways that it takes", Value: float64(ways),
		Says: fmt.Sprintf("of %d", j.Ways), Bad: ways > j.Ways,
		Why:   fmt.Sprintf("%s = %d", strings.Join(said, " + "), ways),
		Where: "wiring.joint.ways",
		Do:    "put a receiver beyond the joint, so that only power passes, or take a joint of more ways"})
	if !passes || drawn == nil {
		return b
	}
	one := Figure{Label: "Each way for power, stalled", Value: round(amperes / float64(power)), Unit: "A",
		Why: sum(drawn, amperes), Where: "wiring.joint.most_a"}
	if power > 1 {
		one.Why += fmt.Sprintf(", over %d ways = %s", power, amps(amperes/float64(power)))
	}
	if j.MostA > 0 {
		one.Says, one.Bad = "takes "+amps(j.MostA), amperes/float64(power) > j.MostA+1e-9
		one.Do = "lead power and ground over more of its ways, side by side"
	}
	b.Figures = append(b.Figures, one)
	return b
}

// through gives what of the stalled current of a receiver passes through the joint: all where the
// whole lead does, what the other leg carries where that does.
func (b *side) through(passes string) float64 {
	if passes == "lead" {
		return b.Stalled
	}
	for i, leg := range b.Feed.legs {
		if leg.other {
			return b.Stalled * b.Feed.share(i)
		}
	}
	return 0
}

// leastMA is below which a current is none that a lamp has, milliamperes.
const leastMA = 0.01

// lamps adds the resistor of each lamp of which the volts and the current are known. nil: of none.
func lamps(s *setup.Setup, sides []side) *Budget {
	if s.Wiring == nil {
		return nil
	}
	b := &Budget{Title: "Lamps and their resistors", Part: "wiring", Rule: "lamp", Figures: []Figure{},
		Behind: []Figure{}}
	var lacks []string
	for i := range s.Wiring.Leads {
		lead := &s.Wiring.Leads[i]
		if lead.LampV == 0 || lead.LampMA < leastMA {
			continue
		}
		d := s.Item(lead.Device).Index
		from, volts, sw := lampFeed(s, d, sides)
		if volts == 0 {
			lacks = append(lacks, from)
			continue
		}
		one := lamp(lead, from, volts, sw)
		one.Label, one.Where = s.DeviceLabel(d), fmt.Sprintf("wiring.leads[%d].ohm", i)
		b.Figures = append(b.Figures, one)
	}
	if lacks != nil {
		b.Lacks = "Not known yet: " + words.And(lacks) + "."
	}
	if len(b.Figures) == 0 && b.Lacks == "" {
		return nil
	}
	return b
}

// lampFeed gives what lights a lamp, in words, and its volts; 0: they are not known. A pin that is
// high while it is on lights what lies between it and ground; one that is low, and a box that switches
// by pulses, what gets its power from the feed.
func lampFeed(s *setup.Setup, d int, sides []side) (from string, volts float64, sw setup.SwitchPin) {
	ref := s.DevicePin(d)
	rx, pin := s.Pin(ref)
	if pin.Switch != nil {
		sw = *pin.Switch
		if sw.Level == "high" {
			return fmt.Sprintf("the volts of pin %d of %s while it is high", pin.Pin, s.ReceiverLabel(rx)),
				sw.Volts, sw
		}
	}
	if f := sides[ref.Receiver].Feed; f != nil {
		volts = f.OpenV
	}
	return "the volts that feed " + s.ReceiverLabel(rx), volts, sw
}

// lamp works the resistor of one lamp out, or the current with the one that is fitted.
func lamp(lead *setup.Wire, from string, volts float64, sw setup.SwitchPin) Figure {
	f := Figure{Unit: "Ω"}
	over := volts - lead.LampV
	left := fmt.Sprintf("%s V − %s V", words.Short(volts), words.Short(lead.LampV))
	if over <= 1e-9 {
		f.Unit, f.Value, f.Bad, f.Says = "V", round(over), true, "over: it cannot shine"
		f.Why = left + " = " + words.Short(round(over)) + " V; " + from + " are too few for it"
		f.Do = "feed the lamp by a relay or a transistor of more volts"
		return f
	}
	needs := over * 1000 / lead.LampMA
	var mA float64
	f.Why = fmt.Sprintf("(%s) ÷ %s mA = %s Ω", left, words.Short(lead.LampMA), words.Short(round(needs)))
	if sw.Ohm > 0 {
		f.Why += fmt.Sprintf(", of which the pin has %s Ω of its own", words.Short(sw.Ohm))
	}
	want := 0.0
	if needs > sw.Ohm+1e-9 {
		want = NextUp(e12, needs-sw.Ohm)
	}
	switch {
	case lead.Ohm > 0:
		mA = over * 1000 / (lead.Ohm + sw.Ohm)
		f.Value, f.Says = lead.Ohm, fmt.Sprintf("is fitted: %s mA of %s mA", words.Short(round(mA)),
			words.Short(lead.LampMA))
		f.Why += fmt.Sprintf("; with %s Ω it is %s V ÷ %s Ω = %s mA", words.Short(lead.Ohm),
			words.Short(round(over)), words.Short(lead.Ohm+sw.Ohm), words.Short(round(mA)))
		if mA > lead.LampMA+1e-9 {
			f.Bad, f.Do = true, fmt.Sprintf("put %s Ω into its lead", words.Short(want))
		}
	case want == 0:
		f.Says = "none: the pin has enough of its own"
		mA = over * 1000 / sw.Ohm
	default:
		f.Value, f.Says = want, "into its lead"
		f.Why += fmt.Sprintf("; the next value is %s Ω, of the finer series %s Ω", words.Short(want),
			words.Short(NextUp(e24, needs-sw.Ohm)))
		mA = over * 1000 / (want + sw.Ohm)
	}
	if ohm := cmp.Or(lead.Ohm, want); ohm > 0 {
		f.Why += fmt.Sprintf("; it turns %s mW into heat", words.Short(round(mA*mA*ohm/1000)))
	}
	if sw.MostMA > 0 && mA > sw.MostMA+1e-9 {
		f.Bad = true
		f.Says += fmt.Sprintf("; the pin takes %s mA", words.Short(sw.MostMA))
		f.Do = "let the pin switch a relay or a transistor, and that the lamp"
	}
	return f
}

// senses adds what is told of the volts of batteries. nil: nothing.
func senses(s *setup.Setup) *Budget {
	if s.Wiring == nil || len(s.Wiring.Senses) == 0 {
		return nil
	}
	b := &Budget{Title: "Told the volts of a battery", Part: "wiring", Rule: "sense", Figures: []Figure{},
		Behind: []Figure{}}
	for i, sense := range s.Wiring.Senses {
		rx := &s.Receivers[s.Item(sense.Into).Index]
		f := Figure{Label: cmp.Or(sense.Label, "a battery") + ", full", Value: sense.Volts, Unit: "V",
			Why:   "told to " + s.ReceiverLabel(rx) + "; the lead feeds nothing",
			Where: fmt.Sprintf("wiring.senses[%d].volts", i)}
		if sense.MostV > 0 {
			f.Says, f.Bad = "takes "+words.Short(sense.MostV)+" V", sense.Volts > sense.MostV
			f.Do = "lead it through a divider, or to an input of more volts"
		}
		if rx.Telemetry != nil && !*rx.Telemetry {
			f.Bad, f.Where = true, fmt.Sprintf("wiring.senses[%d].into", i)
			f.Says = strings.TrimPrefix(f.Says+"; nothing is sent back from there", "; ")
			f.Do = "plug it into the receiver whose telemetry is on"
		}
		b.Figures = append(b.Figures, f)
	}
	return b
}
