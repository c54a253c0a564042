// Package trouble goes from what a person sees on the model to the joints that
// can cause it: worked out from the program and its live state, in the order
// worth looking. What is so at this moment comes first.
package trouble

import (
	"fmt"
	"math"
	"slices"
	"strings"

	"axtren/core/setup"
	"axtren/core/signal"
	"axtren/core/words"
)

// Complaint is what a person sees.
type Complaint struct {
	Key   string `json:"key"`
	Words string `json:"words"`
}

// Complaints lists what can be complained of, in the words of the people.
func Complaints() []Complaint {
	return []Complaint{
		{"nothing", "nothing happens"}, {"wrong_way", "turns the wrong way"},
		{"short", "does not reach its end"}, {"hums", "hums or creeps at rest"},
		{"wakes", "moves when I switch on"}, {"same", "both do the same"}, {"stays", "stays on"},
		{"other", "another part moves instead"},
	}
}

// Cause is one joint that can cause a complaint.
type Cause struct {
	Line  string `json:"line"`  // the line whose joint it is
	Joint string `json:"joint"` // as lines.View names it
	Part  string `json:"part"`  // the part of the document that sets it; empty for none
	Place string `json:"place"` // where that part lives: functions, kit, rules
	What  string `json:"what"`  // what is so there
	Look  string `json:"look"`  // what to look at
	Now   bool   `json:"now"`   // it is so at this moment, or plainly wrong
}

// Causes gives what can cause a complaint about an output, the likeliest first.
// It is empty where nothing in the setup can: then it is the leads or the parts.
func Causes(p *signal.Program, st *signal.State, complaint, output string) []Cause {
	item := p.Setup().Item(setup.ID(output))
	if item.Kind != setup.IsOutput {
		return nil
	}
	l := &looker{p: p, s: p.Setup(), st: st, i: item.Index, out: &p.Setup().Outputs[item.Index],
		route: &p.Routes[item.Index], behind: p.Setup().Graph().Behind(item)}
	looks := map[string][]func(){
		"nothing": {l.silent, l.undriven, l.hands, l.conditions, l.noPin, l.noGain, l.narrow, l.deviceWaits,
			l.direction, l.learned, l.exchanged},
		"wrong_way": {l.direction, l.signs, l.falling, l.swapped, l.exchanged},
		"short": {l.stops, l.noGain, l.gains, l.rates, l.shared, l.slow, l.learned, l.narrowLink,
			l.direction, l.exchanged},
		"hums": {l.offNeutral, l.restOffset, l.noGain, l.stops, l.direction, l.swapped, l.exchanged},
		"wakes": {l.wakesElsewhere, l.unsprung, l.latches, l.leftElsewhere, l.noNeutral, l.direction,
			l.exchanged},
		"same": {l.sameSigns, l.sameChannel},
		"stays": {l.latches, l.threshold, l.withoutPulses, l.conditions, l.holds, l.noGain, l.direction,
			l.stops, l.exchanged},
		"other": {l.exchanged, l.sameChannel, l.order},
	}
	if complaint == "hums" && !l.drivesMotor() {
		return nil // what hums is not on this line
	}
	for _, look := range looks[complaint] {
		look()
	}
	l.dedupe()
	slices.SortStableFunc(l.found, func(a, b Cause) int { return rank(a) - rank(b) })
	return l.found
}

// dedupe leaves each cause where it stands first.
func (l *looker) dedupe() {
	seen := map[Cause]bool{}
	l.found = slices.DeleteFunc(l.found, func(c Cause) bool {
		had := seen[c]
		seen[c] = true
		return had
	})
}

func (l *looker) drivesMotor() bool {
	motor := false
	l.devices(func(_ int, d *setup.Device, _ signal.PinRoute) {
		_, esc := d.Spec.(*setup.Esc)
		motor = motor || esc
	})
	return motor
}

func rank(c Cause) int {
	if c.Now {
		return 0
	}
	return 1
}

type looker struct {
	p      *signal.Program
	s      *setup.Setup
	st     *signal.State
	i      int
	out    *setup.Output
	route  *signal.Route
	behind []setup.Item // what the line depends on
	found  []Cause
}

// add notes a cause at a joint of the line itself.
func (l *looker) add(joint, part string, now bool, look, what string, args ...any) {
	list, _, _ := strings.Cut(part, "/")
	place := words.Home(list)
	if place == "" || part == "" {
		place = "functions"
	}
	l.found = append(l.found, Cause{Line: string(l.out.ID), Joint: joint, Part: part, Place: place,
		What: sentence(fmt.Sprintf(what, args...)), Look: sentence(look), Now: now})
}

// sentence writes words as a sentence of their own.
func sentence(text string) string {
	if text == "" {
		return ""
	}
	return words.Capital(text) + "."
}

// name is what a person calls the function.
func (l *looker) name() string { return l.s.OutputLabel(l.i) }

func (l *looker) own(joint string) string { return "out/" + string(l.out.ID) + "/" + joint }
func (l *looker) part() string            { return "outputs/" + string(l.out.ID) }

func mixPart(m *setup.Mix) string {
	if m.ID == nil {
		return ""
	}
	return "mixes/" + string(*m.ID)
}

// sum is the joint where the mixes of the line meet.
func (l *looker) sum() string { return l.own(signal.JointShare) }

// devices calls look for each device at the end of the line.
func (l *looker) devices(look func(k int, d *setup.Device, pin signal.PinRoute)) {
	for _, pin := range l.route.Pins {
		for _, k := range l.s.OnPin(pin.PinRef) {
			look(k, &l.s.Devices[k], pin)
		}
	}
}

func device(d *setup.Device) (joint, part string) {
	return "device/" + string(d.ID), "devices/" + string(d.ID)
}

// nothing happens

func (l *looker) silent() {
	switch {
	case len(l.p.WaitsFor(l.st)) > 0:
		l.add(l.own(signal.JointPulse), "", true,
			"bring them to their places; what is missing stands beside the sticks",
			"the transmitter sends nothing yet: it waits until %s", l.waits())
	case !l.p.Sending(l.st):
		l.add(l.own(signal.JointPulse), "", true, "turn it on", "the transmitter is off")
	case l.st.At(l.p.UpSlot()) == 0:
		l.add(l.own("pin"), "", true, "let it arrive again, beside the sticks", "the signal is cut")
	}
	for _, pin := range l.route.Pins {
		rx := &l.s.Receivers[pin.Receiver]
		if hand, ok := l.p.Hand(string(rx.ID)); ok && l.st.At(l.p.HandSlot(hand)) == 0 {
			l.add(l.own("pin"), "receivers/"+string(rx.ID), true, "turn it on", "%s is off",
				l.s.ReceiverLabel(rx))
		}
	}
}

func (l *looker) undriven() {
	if len(l.route.Terms) == 0 {
		l.add(l.own("turn"), l.part(), true, "add a source to it, in Functions",
			"nothing moves %s yet", l.name())
	}
}

func (l *looker) conditions() {
	for _, t := range l.route.Terms {
		m := &l.s.Mixes[t.Mix]
		if m.When == nil {
			continue
		}
		holds := l.st.At(t.Weight)
		l.add(fmt.Sprintf("while/%d", t.Mix), mixPart(m), holds == 0,
			"bring that about with your hands, then try again", "%s counts only while %s, and that is %s now",
			words.Source(l.s, m.From), words.Truth(l.s, *m.When), yesNo(holds != 0))
	}
}

func (l *looker) noPin() {
	parts := 0
	l.devices(func(int, *setup.Device, signal.PinRoute) { parts++ })
	if len(l.route.Pins) > 0 && parts == 0 {
		l.add(l.own("pin"), "", true, "plug the part in, here in Kit and on the model",
			"nothing is plugged into the pin of %s", l.name())
	}
}

func (l *looker) noGain() {
	for _, t := range l.route.Terms {
		m := &l.s.Mixes[t.Mix]
		if m.Gain.Pos == 0 || m.Gain.Neg == 0 {
			l.add(l.sum(), mixPart(m), true, "give it a gain", "%s has a gain of 0 in %s",
				words.Source(l.s, m.From), l.name())
		}
		if m.Combine == "times" || m.Combine == "instead" {
			l.add(l.sum(), mixPart(m), false, "see whether it is meant to take the place of the others",
				"%s %s", words.Source(l.s, m.From), words.WayOf(words.Combines, m.Combine).Does)
		}
	}
	l.demands(func(d *setup.Demand) {
		if d.Rate == 0 {
			l.add("demand/"+string(d.ID), "demands/"+string(d.ID), true, "give it a rate",
				"the rate of %s is 0", l.s.Named(d.ID))
		}
	})
}

// narrow finds ends that leave no way.
func (l *looker) narrow() {
	if l.out.High-l.out.Centre < 10 || l.out.Centre-l.out.Low < 10 {
		l.add(l.own("ends"), l.part(), true, "open the ends", "the ends of %s leave it only %s … %s", l.name(),
			words.SignedShort(l.out.Low), words.SignedShort(l.out.High))
	}
}

func (l *looker) deviceWaits() {
	l.devices(func(k int, d *setup.Device, pin signal.PinRoute) {
		joint, part := device(d)
		switch spec := d.Base().(type) {
		case *setup.Esc:
			if spec.NeedsNeutral {
				asked := math.Abs(l.st.At(pin.US)-spec.LearnedUS.Neutral) > spec.DeadUS
				l.add(joint, part, asked && l.st.At(pin.US) > 0 && l.st.At(l.p.Devices[k].Value) == 0,
					"let the stick rest in the middle once, then push it",
					"%s waits for neutral after power-on",
					l.s.Named(d.ID))
			}
			if spec.Reverse == "none" {
				l.add(joint, part, false, "push the other way", "%s does not reverse",
					l.s.Named(d.ID))
			}
		case *setup.OnOff:
			low, high := l.span()
			never := spec.AtUS > high || spec.AtUS < low
			l.add(joint, part, never, "see that the pulse passes it both ways",
				"%s switches at %s µs; this function goes from %s to %s µs", l.s.Named(d.ID),
				short(spec.AtUS), short(low), short(high))
		case *setup.StepBox:
			l.add(joint, part, l.out.High < spec.At || l.out.Low > -spec.At, "open the ends beyond it",
				"%s steps beyond ±%s %%; the ends are %s … %s", l.s.Named(d.ID), short(spec.At),
				words.SignedShort(l.out.Low), words.SignedShort(l.out.High))
		}
	})
}

// span gives the pulses at the stops of the line.
func (l *looker) span() (low, high float64) { return l.p.PulseOf(l.out.Low), l.p.PulseOf(l.out.High) }

// exchanged finds what carries the channel of the line to its pins.
func (l *looker) exchanged() {
	for _, pin := range l.route.Pins {
		rx := &l.s.Receivers[pin.Receiver]
		l.add(l.own("pin"), "receivers/"+string(rx.ID), false,
			"compare with the model: is its lead in that pin, the right way round",
			"channel %d comes out at %s, pin %d",
			l.out.Channel, l.s.ReceiverLabel(rx), rx.Pins[pin.Pin].Pin)
	}
	if len(l.route.Pins) == 0 {
		l.add(l.own("pin"), l.part(), true, "give a pin that channel, in Kit",
			"no pin carries channel %d, on which %s goes out", l.out.Channel, l.name())
	}
}

// turns the wrong way

func (l *looker) direction() {
	l.add(l.own("turn"), l.part(), false, "reverse it, or set it back to normal",
		"the direction of %s is %s", l.name(), words.Reversed(l.out.Reverse))
}

func (l *looker) signs() {
	for _, t := range l.route.Terms {
		m := &l.s.Mixes[t.Mix]
		l.add(l.sum(), mixPart(m), false, "change its sign, if only this control goes the wrong way",
			"%s moves it with a gain of %s", words.Source(l.s, m.From), words.SignedShort(m.Gain.Pos))
	}
}

func (l *looker) falling() {
	l.demands(func(d *setup.Demand) {
		if n := len(d.Curve); n > 1 && d.Curve[n-1][1] < d.Curve[0][1] {
			l.add("demand/"+string(d.ID), "demands/"+string(d.ID), false, "turn the curve round",
				"the curve of %s falls", l.s.Named(d.ID))
		}
	})
}

func (l *looker) swapped() {
	l.devices(func(_ int, d *setup.Device, _ signal.PinRoute) {
		if esc, ok := d.Spec.(*setup.Esc); ok && esc.SwapOn != nil {
			joint, part := device(d)
			l.add(joint, part, false, "see where the second lead's channel stands",
				"the second lead of %s turns it round", l.s.Named(d.ID))
		}
	})
}

// does not reach its end

func (l *looker) stops() {
	l.add(l.own("ends"), l.part(), l.out.High < 100 || l.out.Low > -100,
		"open the end on the side that falls short", "the ends of %s are %s … %s", l.name(),
		words.SignedShort(l.out.Low), words.SignedShort(l.out.High))
}

func (l *looker) gains() {
	for _, t := range l.route.Terms {
		if m := &l.s.Mixes[t.Mix]; math.Abs(m.Gain.Pos) < 100 || math.Abs(m.Gain.Neg) < 100 {
			l.add(l.sum(), mixPart(m), m.Gain.Pos == 0 || m.Gain.Neg == 0, "raise it",
				"%s moves it with a gain of %s", words.Source(l.s, m.From), words.SignedShort(m.Gain.Pos))
		}
	}
}

func (l *looker) rates() {
	l.demands(func(d *setup.Demand) {
		joint, part := "demand/"+string(d.ID), "demands/"+string(d.ID)
		if d.Rate < 100 || len(d.Rates) > 0 {
			l.add(joint, part, false, "see which rate is in force now", "%s", l.ratesOf(d))
		}
		if d.Curve != nil {
			l.add(joint, part, false, "look at its last points", "%s has a curve",
				l.s.Named(d.ID))
		}
	})
}

func (l *looker) shared() {
	if l.route.Share >= 0 {
		sh := &l.s.Shares[l.route.Share]
		part := ""
		if sh.ID != nil {
			part = "shares/" + string(*sh.ID)
		}
		l.add(fmt.Sprintf("share/%d", l.route.Share), part, math.Abs(l.st.At(l.route.Sum)) > 100,
			"see what the functions ask for together",
			"where more than 100 is asked for together, %s", words.WayOf(words.Rules, sh.Rule).Name)
	}
}

func (l *looker) slow() {
	if l.out.Slew.Up > 0 || l.out.Slew.Down > 0 {
		l.add(l.own("slew"), l.part(), l.st.At(l.route.P) != l.st.At(l.route.Target), "wait, or shorten its speed",
			"%s takes %s s from end to end", l.name(), short(max(l.out.Slew.Up, l.out.Slew.Down)))
	}
}

func (l *looker) learned() {
	l.devices(func(_ int, d *setup.Device, _ signal.PinRoute) {
		if esc, ok := d.Spec.(*setup.Esc); ok {
			joint, part := device(d)
			low, high := l.span()
			u := esc.LearnedUS
			l.add(joint, part, high < u.High-esc.DeadUS || low > u.Low+esc.DeadUS,
				"teach it again with the ends that are set",
				"%s has learned %s … %s … %s µs; this function goes from %s to %s µs",
				l.s.Named(d.ID),
				short(u.Low), short(u.Neutral), short(u.High), short(low), short(high))
		}
	})
}

func (l *looker) narrowLink() {
	if u := l.s.Link.LearnedUS; u != nil {
		l.add(l.own("pin"), "link", false, "compare with what the transmitter really sends",
			"the add-on module was told %s … %s µs", short(u.Low), short(u.High))
	}
	pulse := l.s.Transmitter.Pulse
	if low, high := l.span(); low <= pulse.MinUS || high >= pulse.MaxUS {
		l.add(l.own(signal.JointPulse), "transmitter", true, "bring the ends in",
			"a pulse is cut at %s and %s µs", short(pulse.MinUS), short(pulse.MaxUS))
	}
}

// hums or creeps at rest

// rest is the state with all hands at rest, settled.
func (l *looker) rest() *signal.State {
	st := l.p.PowerOn()
	for range 400 {
		l.p.Step(st, l.p.Rest())
	}
	return st
}

func (l *looker) offNeutral() {
	rest := l.rest()
	l.devices(func(_ int, d *setup.Device, pin signal.PinRoute) {
		esc, ok := d.Spec.(*setup.Esc)
		if !ok {
			return
		}
		joint, part := device(d)
		us := rest.At(pin.US)
		off := us - esc.LearnedUS.Neutral
		l.add(joint, part, math.Abs(off) > esc.DeadUS,
			"teach it its neutral at this pulse, or move the centre",
			"%s stands still at %s ± %s µs; at rest it gets %s µs", l.s.Named(d.ID),
			short(esc.LearnedUS.Neutral), short(esc.DeadUS), short(us))
	})
}

func (l *looker) restOffset() {
	rest := l.rest()
	l.add(l.own("ends"), l.part(), l.out.Centre != 0, "put the centre where the part is quiet",
		"the centre of %s is at %s", l.name(), words.SignedShort(l.out.Centre))
	for _, t := range l.route.Terms {
		m := &l.s.Mixes[t.Mix]
		if v := rest.At(t.V); v != 0 {
			l.add(l.sum(), mixPart(m), true, "see what moves it with hands off", "%s brings %s with hands off",
				words.Source(l.s, m.From), words.SignedShort(v))
		}
	}
	l.demands(func(d *setup.Demand) {
		if d.Trim != 0 || d.Deadband == 0 {
			l.add("demand/"+string(d.ID), "demands/"+string(d.ID), d.Trim != 0,
				"take the trim away, or give it a dead band", "%s has a trim of %s and a dead band of %s",
				l.s.Named(d.ID), words.SignedShort(d.Trim), short(d.Deadband))
		}
	})
}

// moves when I switch on

func (l *looker) wakesElsewhere() {
	woken := l.p.PowerOn()
	l.p.Step(woken, l.p.Rest())
	at := woken.At(l.route.P)
	if l.out.Start != nil && math.Abs(at-l.out.Start.Value) > l.out.Start.Within {
		l.add(l.own("ends"), l.part(), true, "see what the controls do at power-on",
			"%s wakes at %s, and should wake at %s", l.name(), words.SignedShort(at),
			words.SignedShort(l.out.Start.Value))
	} else if l.out.Start == nil {
		l.add(l.own("ends"), l.part(), false, "say where it must wake",
			"%s wakes at %s; nothing says where it must", l.name(), words.SignedShort(at))
	}
}

func (l *looker) unsprung() {
	for k, c := range l.s.Transmitter.Controls {
		stays := c.Axis != nil && c.Axis.Spring == "none" || c.Switch != nil && c.Switch.SpringTo == nil
		if stays && l.dependsOn(setup.IsControl, k) {
			l.add("control/"+string(c.ID), "controls/"+string(c.ID), false,
				"let the transmitter wait for it at the start", "%s stays where it was left",
				l.s.ControlLabel(k))
		}
	}
}

func (l *looker) latches() {
	for k, b := range l.s.Logic {
		if !l.dependsOn(setup.IsBlock, k) {
			continue
		}
		on := l.st.At(l.p.BlockSlot(k)) != 0
		joint, part := "part/logic/"+string(b.ID), "logic/"+string(b.ID)
		if start, ok := b.StartsAs(); ok {
			l.add(joint, part, on, b.PartKind().Unstick, "%s is %s; it starts %s",
				l.s.Named(b.ID), words.OnOff(on), start)
		} else if late := b.DelayS(); late > 0 {
			l.add(joint, part, on && b.PartKind().Unstick != "", "wait, or shorten its time",
				"%s runs for %s s", l.s.Named(b.ID), short(late))
		}
	}
}

func (l *looker) leftElsewhere() {
	l.devices(func(_ int, d *setup.Device, _ signal.PinRoute) {
		if servo, ok := d.Spec.(*setup.Servo); ok {
			joint, part := device(d)
			l.add(joint, part, servo.LeftAt != nil, "leave it where it wakes, or let it move slowly",
				"%s goes from where it was left to where the function wakes", l.s.Named(d.ID))
		}
	})
}

func (l *looker) noNeutral() {
	l.devices(func(_ int, d *setup.Device, _ signal.PinRoute) {
		if esc, ok := d.Spec.(*setup.Esc); ok && !esc.NeedsNeutral {
			joint, part := device(d)
			l.add(joint, part, false, "see that every control that it answers is at rest when it gets power",
				"%s runs at once, without waiting for neutral", l.s.Named(d.ID))
		}
	})
}

// both do the same

// twins are the lines that the same sources drive.
func (l *looker) twins() []int {
	var twins []int
	for i := range l.s.Outputs {
		if i == l.i || len(l.p.Routes[i].Terms) != len(l.route.Terms) || len(l.route.Terms) == 0 {
			continue
		}
		same := true
		for _, t := range l.p.Routes[i].Terms {
			same = same && slices.ContainsFunc(l.route.Terms,
				func(own signal.Term) bool { return l.s.Mixes[own.Mix].From == l.s.Mixes[t.Mix].From })
		}
		if same {
			twins = append(twins, i)
		}
	}
	return twins
}

func (l *looker) sameSigns() {
	for _, i := range l.twins() {
		for _, t := range l.route.Terms {
			m := &l.s.Mixes[t.Mix]
			for _, other := range l.p.Routes[i].Terms {
				if o := &l.s.Mixes[other.Mix]; o.From == m.From {
					l.add(l.sum(), mixPart(m), m.Gain.Pos == 0 || o.Gain.Pos == 0,
						"the one that tells them apart needs opposite signs",
						"%s comes with %s here and %s at %s", words.Source(l.s, m.From),
						words.SignedShort(m.Gain.Pos), words.SignedShort(o.Gain.Pos), l.s.OutputLabel(i))
				}
			}
		}
	}
}

func (l *looker) sameChannel() {
	for _, pin := range l.route.Pins {
		for i := range l.s.Outputs {
			if i != l.i && slices.ContainsFunc(l.p.Routes[i].Pins,
				func(o signal.PinRoute) bool { return o.PinRef == pin.PinRef }) {
				l.add(l.own("pin"), l.part(), true, "give each its own channel", "%s is on the same pin",
					l.s.OutputLabel(i))
			}
		}
	}
	if n := len(l.route.Pins); n > 1 {
		l.add(l.own("pin"), l.part(), true, "see which of them the part is plugged into",
			"channel %d comes out at %d pins", l.out.Channel, n)
	}
}

func (l *looker) order() {
	if l.s.Link.Order != nil {
		l.add(l.own("pin"), "link", true, "compare with the receiver's own order",
			"the link puts the channels in another order")
	}
}

// stays on

func (l *looker) threshold() {
	l.devices(func(_ int, d *setup.Device, pin signal.PinRoute) {
		joint, part := device(d)
		if spec := d.OnOff(); spec != nil {
			low, high := l.span()
			l.add(joint, part, spec.AtUS < low || spec.AtUS > high, "see that the pulse passes it both ways",
				"%s is on %s %s µs; this function goes from %s to %s µs", l.s.Named(d.ID),
				spec.TurnsOn, short(spec.AtUS), short(low), short(high))
		}
		if sw := l.s.Receivers[pin.Receiver].Pins[pin.Pin].Switch; sw != nil {
			l.add(l.own("pin"), "receivers/"+string(l.s.Receivers[pin.Receiver].ID), false,
				"see which way it switches", "the pin is on %s %s µs", sw.On, short(sw.AtUS))
		}
	})
}

func (l *looker) withoutPulses() {
	l.devices(func(_ int, d *setup.Device, _ signal.PinRoute) {
		if spec := d.OnOff(); spec != nil && spec.NoPulse != "off" {
			joint, part := device(d)
			l.add(joint, part, false, "see what it does without a signal", "without pulses %s is %s",
				l.s.Named(d.ID), spec.NoPulse)
		}
	})
}

func (l *looker) holds() {
	before := len(l.found)
	defer func() { // what a function does then lives with the losses
		for i := range l.found[before:] {
			l.found[before+i].Place = words.Home("start_check")
		}
	}()
	for _, pin := range l.route.Pins {
		mode, value := signal.LossOf(l.s, pin.PinRef)
		switch mode {
		case "hold":
			l.add(l.own("pin"), l.part(), l.st.At(l.p.UpSlot()) == 0,
				"give it a position to go to when the signal is lost",
				"when the signal is lost the receiver holds the last pulse of %s", l.name())
		case "preset":
			l.add(l.own("pin"), l.part(), l.st.At(l.p.UpSlot()) == 0, "see whether that position is off",
				"when the signal is lost %s goes to %s", l.name(), words.SignedShort(value))
		}
	}
}

// demands calls look for each demand that the line comes from.
func (l *looker) demands(look func(d *setup.Demand)) {
	for k := range l.s.Demands {
		if l.dependsOn(setup.IsDemand, k) {
			look(&l.s.Demands[k])
		}
	}
}

// dependsOn tells whether the line depends on a part, through whatever lies between.
func (l *looker) dependsOn(kind setup.ItemKind, index int) bool {
	return slices.Contains(l.behind, kind.At(index))
}

func short(v float64) string { return fmt.Sprintf("%g", math.Round(v*10)/10) }

func yesNo(b bool) string {
	if b {
		return "so"
	}
	return "not so"
}
