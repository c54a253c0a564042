package wiring

import (
	"cmp"
	"fmt"
	"strings"

	"axtren/core/setup"
	"axtren/core/words"
)

// Figure is one figure of the budget, with how it comes about.
type Figure struct {
	Label string  `json:"label"`
	Value float64 `json:"value"`
	Unit  string  `json:"unit"`
	Bad   bool    `json:"bad"`  // it is beyond its limit
	Says  string  `json:"says"` // its limit, in short: of 3 A
	Why   string  `json:"why"`  // the arithmetic
	Do    string  `json:"do"`   // what to do, where it is bad, as an instruction
	Where string  `json:"-"`    // the place of the document that says it: wiring.leads[1]
}

// Budget is the figures of one receiver, or of another thing that power goes through.
type Budget struct {
	Title   string   `json:"title"` // a receiver by its label; lamps
	Part    string   `json:"part"`  // receivers/rx; wiring where it is none
	Rule    string   `json:"-"`     // what check calls a figure that is bad
	Figures []Figure `json:"figures"`
	Behind  []Figure `json:"behind"` // at each device, at the end of its lead
	Lacks   string   `json:"lacks"`  // what is not known yet, a sentence; empty: nothing
	Worked  float64  `json:"-"`
	Stalled float64  `json:"-"`
	Volts   float64  `json:"-"` // at the receiver with everything stalled; 0: not known
	Feed    *Feed    `json:"-"` // the one that carries the load; nil: none is known
}

// Caution is what to do before the first plug: common practice, no source. Empty where nothing hangs
// on a pin, or the polarity of every lead was measured.
func Caution(s *setup.Setup) string {
	measured := map[int]bool{}
	if s.Wiring != nil {
		for _, lead := range s.Wiring.Leads {
			measured[s.Item(lead.Device).Index] = lead.Checked != nil && *lead.Checked
		}
	}
	for d := range s.Devices {
		if !measured[d] {
			return "Before the first plug, measure with a meter which wire is power. Power in the middle " +
				"forgives a plug put in upside down; a lead with red and black exchanged does not."
		}
	}
	return ""
}

// load is what one device draws.
type load struct {
	device     int
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
		list = append(list, load{d, s.DeviceLabel(d), cmp.Or(dev.DrawsA.Work, dev.DrawsA.Most), most})
	}
	return list, missing
}

// side is what one receiver takes.
type side struct {
	Budget
	loads []load
}

// Of works the power of every receiver out, then what else power goes through: the turning joint,
// the lamps, and the inputs that are told the volts of a battery.
func Of(s *setup.Setup) []Budget {
	sides := make([]side, len(s.Receivers))
	for i := range sides {
		sides[i] = sideOf(s, i)
	}
	list := []Budget{}
	for i := range sides {
		list = append(list, sides[i].budget(s, i, sides))
	}
	for i := range sides {
		if shared := sides[i].shared(i, sides); shared != nil {
			list = append(list, *shared)
		}
	}
	for _, more := range []*Budget{joint(s, sides), lamps(s, sides), senses(s)} {
		if more != nil {
			list = append(list, *more)
		}
	}
	return list
}

func sideOf(s *setup.Setup, receiver int) side {
	rx := &s.Receivers[receiver]
	b := side{Budget: Budget{Title: s.ReceiverLabel(rx), Part: "receivers/" + string(rx.ID), Rule: "power",
		Figures: []Figure{}, Behind: []Figure{}}}
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
	var missing []string
	b.loads, missing = loads(s, receiver, volts)
	b.Lacks = lacks(b.Feed, b.loads, missing, len(s.Receivers) > 1)
	for _, l := range b.loads {
		b.Worked += l.work
		b.Stalled += l.most
	}
	return b
}

// budget works the figures of one receiver out; all are those of every receiver.
func (b *side) budget(s *setup.Setup, receiver int, all []side) Budget {
	if len(b.loads) == 0 {
		return b.Budget
	}
	on := b.together(all)
	b.currents(receiver, on)
	if b.Feed != nil {
		b.legs(receiver)
		if b.Feed.OpenV > 0 {
			b.volts(s, receiver, on)
		}
		if len(on) == 1 {
			b.Figures = append(b.Figures, b.Feed.rest(on)...)
		}
	}
	return b.Budget
}

// together gives what the feed of a receiver carries, the receivers in their order.
func (b *side) together(all []side) (on []*side) {
	if b.Feed == nil || b.Feed.At < 0 {
		return []*side{b}
	}
	for i := range all {
		if f := all[i].Feed; f != nil && f.At == b.Feed.At {
			on = append(on, &all[i])
		}
	}
	return on
}

// shared gives what a feed carries for several receivers, at the first of them; nil at the others and
// where it feeds one alone.
func (b *side) shared(receiver int, all []side) *Budget {
	on := b.together(all)
	worked, stalled := sums(on)
	if len(on) < 2 || on[0] != &all[receiver] || stalled == 0 {
		return nil
	}
	var work, most []string
	for _, one := range on {
		work = append(work, one.Title+" "+amps(one.Worked))
		most = append(most, one.Title+" "+amps(one.Stalled))
	}
	return &Budget{Title: b.Feed.Label + ", for both receivers", Part: "wiring", Rule: "power",
		Behind: []Figure{},
		Figures: append(b.limited(receiver, sum(work, worked), worked, sum(most, stalled), stalled),
			b.Feed.rest(on)...)}
}

func amps(v float64) string { return words.Short(round(v)) + " A" }

// milliohms says a resistance.
func milliohms(ohm float64) string { return words.Short(round(ohm*1000)) + " mΩ" }

// round is to two places: what is known of currents and volts is not finer.
func round(v float64) float64 {
	if v < 0 {
		return -round(-v)
	}
	return float64(int64(v*100+0.5)) / 100
}

// lacks says what is not known.
func lacks(feed *Feed, list []load, missing []string, several bool) string {
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
	says := "Not known yet: " + words.And(said) + "."
	if len(list) == 0 && feed == nil {
		says = "Nothing is known yet of what feeds it, or of what hangs there."
	}
	if feed == nil && several {
		says += " Two receivers are fed from a Y lead, so that one that fails does not cut the other."
	}
	return says
}

// place is where the document says what carries the load of a receiver.
func (b *Budget) place(receiver int) string {
	switch {
	case b.Feed != nil && b.Feed.At >= 0:
		return fmt.Sprintf("wiring.feeds[%d]", b.Feed.At)
	case b.Feed != nil && b.Feed.Device >= 0:
		return setup.IsDevice.At(b.Feed.Device).Path() + ".feeds_a"
	}
	return setup.IsReceiver.At(receiver).Path()
}

// sum says a sum of currents and what it comes to.
func sum(of []string, is float64) string { return strings.Join(of, " + ") + " = " + amps(is) }

// currents adds what the devices of a receiver take, against what the feed gives where it feeds no
// other receiver.
func (b *side) currents(receiver int, on []*side) {
	var work, most []string
	for _, l := range b.loads {
		work = append(work, l.name+" "+amps(l.work))
		most = append(most, l.name+" "+amps(l.most))
	}
	list := b.limited(receiver, sum(work, b.Worked), b.Worked, sum(most, b.Stalled), b.Stalled)
	if len(on) > 1 {
		for i := range list {
			list[i] = Figure{Label: list[i].Label, Value: list[i].Value, Unit: "A",
				Why: sum([][]string{work, most}[i], []float64{b.Worked, b.Stalled}[i])}
		}
	}
	b.Figures = append(b.Figures, list...)
}

// limited gives the two sums against what the feed gives.
func (b *Budget) limited(receiver int, work string, worked float64, most string, stalled float64) []Figure {
	one := Figure{Label: "All at work", Value: round(worked), Unit: "A", Why: work}
	all := Figure{Label: "All stalled", Value: round(stalled), Unit: "A", Why: most}
	if f := b.Feed; f != nil && f.ForLong > 0 {
		one.Says, one.Bad = "of "+amps(f.ForLong), worked > f.ForLong+1e-9
		all.Says, all.Bad = "peak "+amps(f.Peak), stalled > f.Peak+1e-9
		one.Why += "; " + f.Label + " gives " + amps(f.ForLong) + " for long"
		all.Why += "; " + f.Label + " gives " + amps(f.Peak) + " for a moment"
		do := "take a stronger feed, or feed the strongest of them by a lead of their own"
		one.Do, all.Do = do, do
		one.Where = b.place(receiver)
		all.Where = one.Where
	}
	return []Figure{one, all}
}

// sums gives what several receivers take at work and stalled.
func sums(on []*side) (worked, stalled float64) {
	for _, one := range on {
		worked += one.Worked
		stalled += one.Stalled
	}
	return worked, stalled
}

// legs adds what the legs of a Y lead carry. Two that end at one receiver carry the less the more
// they resist.
func (b *side) legs(receiver int) {
	f := b.Feed
	for i, leg := range f.legs {
		one := Figure{Label: legNames[leg.other] + ", stalled", Value: round(b.Stalled), Unit: "A",
			Why: "it carries all that " + b.Title + " takes", Where: b.place(receiver) + ".leg_a"}
		if len(f.legs) == 2 {
			mine, yours := leg.ohm, f.legs[1-i].ohm
			one.Why = amps(b.Stalled) + " ÷ 2: the legs are taken as equal, their lengths and gauge are not all known"
			if mine > 0 && yours > 0 {
				one.Why = fmt.Sprintf("%s × %s ÷ (%s + %s): the leg that resists less carries more", amps(b.Stalled),
					milliohms(yours), milliohms(mine), milliohms(yours))
			}
			one.Value = round(b.Stalled * f.share(i))
			one.Why += " = " + amps(b.Stalled*f.share(i))
		}
		if most := f.spec.LegA; most > 0 {
			one.Says, one.Bad = "takes "+amps(most), one.Value > most+1e-9
			one.Do = "take a Y lead of thicker wire, or make both legs equal"
		}
		b.Figures = append(b.Figures, one)
	}
}

// volts adds what is left at the receiver while everything is stalled, and at each device behind it.
func (b *side) volts(s *setup.Setup, receiver int, on []*side) {
	f := b.Feed
	_, stalled := sums(on)
	b.Volts = f.OpenV - stalled*f.Ohm - b.Stalled*f.Leg
	why := words.Short(f.OpenV) + " V"
	if f.Ohm > 0 {
		why += " − " + amps(stalled) + " × " + milliohms(f.Ohm)
	}
	if f.Leg > 0 {
		why += " − " + amps(b.Stalled) + " × " + milliohms(f.Leg)
	}
	one := Figure{Label: "At the receiver, then", Value: round(b.Volts), Unit: "V",
		Why: why + " = " + words.Short(round(b.Volts)) + " V", Where: b.place(receiver)}
	if f.Ohm == 0 && f.Leg == 0 {
		one.Why = words.Short(f.OpenV) + " V: nothing is known that would take anything of it"
	}
	const do = "take a shorter or a thicker lead, or a feed of more volts"
	if v := s.Receivers[receiver].Volts; v != nil {
		one.Says, one.Bad, one.Do = "lowest "+words.Short(v.Least)+" V", b.Volts < v.Least-1e-9, do
	}
	b.Figures = append(b.Figures, one)
	if s.Wiring == nil {
		return
	}
	for i, lead := range s.Wiring.Leads {
		ohm := Resistance(lead.LengthMM, lead.AWG)
		for _, l := range b.loads {
			if ohm == 0 || s.Item(lead.Device).Index != l.device {
				continue
			}
			left := b.Volts - l.most*ohm
			at := Figure{Label: "At " + l.name, Value: round(left), Unit: "V",
				Why: fmt.Sprintf("%s V − %s × %s = %s V", words.Short(round(b.Volts)), amps(l.most), milliohms(ohm),
					words.Short(round(left))), Where: fmt.Sprintf("wiring.leads[%d]", i)}
			if servo,
				ok := s.Devices[l.device].Spec.(*setup.Servo); ok && servo.Volts != nil && servo.Volts.Least > 0 {
				at.Says, at.Bad, at.Do = "lowest "+words.Short(servo.Volts.Least)+" V", left < servo.Volts.Least-1e-9, do
			}
			b.Behind = append(b.Behind, at)
		}
	}
}

// rest gives the running time, and the heat of a linear regulator.
func (f *Feed) rest(on []*side) (list []Figure) {
	worked, _ := sums(on)
	if f.spec.AH > 0 && worked > 0 {
		minutes := f.spec.AH / worked * 60
		list = append(list, Figure{Label: "Runs for", Value: float64(int64(minutes)), Unit: "min",
			Why: fmt.Sprintf("%s Ah ÷ %s = %s h, without what the motors take",
				words.Short(f.spec.AH), amps(worked), words.Short(round(minutes/60)))})
	}
	if f.spec.Regulator == "linear" && f.spec.GivesV > 0 {
		heat := (f.spec.Volts - f.spec.GivesV) * worked
		list = append(list, Figure{Label: "Heat of its regulator", Value: round(heat), Unit: "W",
			Says: "at work", Why: fmt.Sprintf("(%s V − %s V) × %s = %s W: a linear one makes heat of "+
				"what is over, so it gives less with more cells", words.Short(f.spec.Volts),
				words.Short(f.spec.GivesV), amps(worked), words.Short(round(heat)))})
	}
	return list
}
