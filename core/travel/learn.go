package travel

import (
	"fmt"
	"math"
	"slices"

	"axtren/core/linkage"
	"axtren/core/setup"
	"axtren/core/signal"
	"axtren/core/words"
)

// What something learns of a travel, in the order of the three.
const (
	atLow = iota
	atRest
	atHigh
)

// Learner is something that has learned the pulses of a travel, or was told them, beside what is sent to it:
// a controller, the receiver or the car that it is built into, an add-on module.
type Learner struct {
	Key      string           `json:"key"`  // its form and its name in acts: devices/port
	Name     string           `json:"name"` // in words
	Kind     string           `json:"kind"` // controller, receiver or module
	DeadUS   float64          `json:"dead_us"`
	Places   []Taught         `json:"places"` // to −, at rest, to +
	Findings []linkage.Figure `json:"findings"`
	Cures    []Cure           `json:"cures"`
	Agrees   bool             `json:"-"` // what it has learned is what is sent

	// which of the places is to be taken as told, of a controller that does not go back: not low
	counts  [3]bool
	sent    [3]*Reached // nil for a module
	channel int         // of the receiver; 0 for a module
}

// Taught is one place of a travel as it was learned, and as it is sent.
type Taught struct {
	Title   string  `json:"title"`
	Learned float64 `json:"learned_us"`
	Sent    float64 `json:"sent_us"`
	Says    string  `json:"says"` // what comes of it there: full ahead
}

// Cure is a way to bring what is sent and what was learned together, step by step.
type Cure struct {
	Act   string     `json:"act"` // taught or to_learned: what it is noted as
	Title string     `json:"title"`
	Note  string     `json:"note"` // what it costs, or why it cannot be done
	Harms bool       `json:"harms"`
	Steps []CureStep `json:"steps"`
	Done  string     `json:"done"` // what is written when it is done, in words; empty where it cannot be
}

// CureStep is one thing to do, and what is then seen.
type CureStep struct {
	Do  string `json:"do"`
	See string `json:"see"`
}

// What is noted of a cure.
const (
	TaughtAgain = "taught"     // it has learned what is sent now
	ToLearned   = "to_learned" // the ends are set to what it has learned
)

// Learners lists what has learned a travel of an output, and the module that all pass. The error is that of
// a part of the document which cannot be played by itself.
func Learners(p *signal.Program, output int) ([]Learner, error) {
	l, err := learningOf(p, output)
	if err != nil {
		return nil, err
	}
	return l.learners(), nil
}

func learningOf(p *signal.Program, output int) (*learning, error) {
	h, err := handsOf(p.Setup(), output)
	if err != nil {
		return nil, err
	}
	return &learning{s: p.Setup(), p: p, output: output, hands: h,
		sent: [3]*Reached{h.furthest(-1), h.play(), h.furthest(1)}}, nil
}

func (l *learning) learners() []Learner {
	list := []Learner{}
	for _, device := range l.s.Drives(l.output) {
		if esc, ok := l.s.Devices[device].Spec.(*setup.Esc); ok {
			list = append(list, l.controller(device, esc))
		}
	}
	for i := range l.s.Receivers {
		if of := l.receiver(i); of != nil {
			list = append(list, *of)
		}
	}
	if l.s.Link.LearnedUS != nil {
		list = append(list, l.module())
	}
	return list
}

// hasLearned tells whether something that an output moves, or the receiver, has learned its travel.
func hasLearned(s *setup.Setup, output int) bool {
	for _, device := range s.Drives(output) {
		if _, ok := s.Devices[device].Spec.(*setup.Esc); ok {
			return true
		}
	}
	for _, ref := range s.Carriers(output) {
		r, pin := s.Pin(ref)
		if slices.ContainsFunc(r.Learned, func(of setup.LearnedEnds) bool { return of.Channel == pin.Channel }) {
			return true
		}
	}
	return false
}

// learning compares what was learned of one output with what is sent.
type learning struct {
	s      *setup.Setup
	p      *signal.Program
	output int
	hands  *hands
	sent   [3]*Reached // to −, at rest, to +
}

// arriving gives the pulse on a channel of the receiver while the output stands at a position.
func (l *learning) arriving(channel int, position float64) float64 {
	return math.Round(l.p.Arriving(channel, l.p.PulseOf(position))*10) / 10
}

func (l *learning) label() string { return l.s.OutputLabel(l.output) }

// controller compares what a speed controller has learned.
func (l *learning) controller(device int, esc *setup.Esc) Learner {
	ref := l.s.DevicePin(device)
	_, pin := l.s.Pin(ref)
	u := esc.LearnedUS
	of := Learner{Key: "devices/" + string(l.s.Devices[device].ID), Name: words.Capital(l.s.DeviceLabel(device)),
		Kind: "controller", DeadUS: esc.DeadUS, channel: pin.Channel,
		Findings: []linkage.Figure{}, counts: [3]bool{esc.Reverse != "none", true, true}, sent: l.sent}
	learned := [3]float64{u.Low, u.Neutral, u.High}
	for k, at := range l.sent {
		us := l.arriving(pin.Channel, at.Target)
		drive, _ := l.p.Does(device, us)
		title := words.Capital(at.Says(l.s))
		if k != atRest && len(at.pushes) == 0 {
			title = "No hand goes " + []string{"lower", "", "higher"}[k]
		}
		of.Places = append(of.Places, Taught{title, learned[k], us, driveWords(esc, drive)})
	}
	l.rest(&of, device, esc)
	for _, k := range []int{atHigh, atLow} {
		if of.counts[k] {
			l.end(&of, device, esc, k)
		}
	}
	l.middle(&of, device, esc)
	of.Agrees = agrees(&of)
	of.Cures = []Cure{l.teach(&of, esc.Teach, aheadWords(esc), "full back"), l.toLearned(&of)}
	return of
}

// driveWords says what a controller makes of a pulse that lasts.
func driveWords(esc *setup.Esc, drive float64) string {
	switch {
	case drive > 0 && esc.Reverse == "none":
		return percentOf(drive)
	case drive > 0:
		return percentOf(drive) + " ahead"
	case drive < 0 && esc.Reverse == "brake_first":
		return percentOf(-drive) + " of its brake, then back"
	case drive < 0:
		return percentOf(-drive) + " back"
	}
	return "stands"
}

func aheadWords(esc *setup.Esc) string {
	if esc.Reverse == "none" {
		return "all of its power"
	}
	return "full ahead"
}

// agrees tells whether all that is sent is what was learned, to 1 % of the way.
func agrees(of *Learner) bool {
	for k, at := range of.Places {
		span := of.Places[atHigh].Learned - of.Places[atRest].Learned
		if k == atLow {
			span = of.Places[atRest].Learned - at.Learned
		}
		near := max(0.01*span, 1)
		if k == atRest {
			near = max(near, of.DeadUS/2)
		}
		if of.counts[k] && math.Abs(at.Sent-at.Learned) > near {
			return false
		}
	}
	return true
}

// rest tells what a motor does with hands off.
func (l *learning) rest(of *Learner, device int, esc *setup.Esc) {
	at := of.Places[atRest]
	off := at.Sent - at.Learned
	drive, _ := l.p.Does(device, at.Sent)
	why := []string{fmt.Sprintf("With hands off %s µs arrive. It has learned its neutral at %s µs "+
		"and stands still "+
		"as long as the pulse is within %s µs of that.", shortUS(at.Sent), shortUS(at.Learned),
		shortUS(esc.DeadUS))}
	found := linkage.Figure{Title: "With hands off", Why: why}
	switch {
	case drive == 0 && off != 0:
		found.Says = fmt.Sprintf("stands still, %s µs before it would hum", shortUS(esc.DeadUS-math.Abs(off)))
	case drive == 0:
		found.Says = "stands still, in the middle of its dead band"
	case l.neverNeutral(of, esc):
		found.Wrong = true
		found.Says = "waits for its neutral, which never comes: it does not turn at all"
	case drive < 0 && esc.Reverse == "brake_first":
		found.Wrong = true
		found.Says = fmt.Sprintf("the brake never lets go: it brakes with %s", percentOf(-drive))
	default:
		found.Wrong = true
		does := "turns"
		if math.Abs(drive) <= 20 {
			does = "hums or creeps"
		}
		found.Says = fmt.Sprintf("%s at %s", does, driveWords(esc, drive))
	}
	if drive != 0 {
		found.Why = append(found.Why, fmt.Sprintf("%s µs lie %s µs beyond that.", shortUS(at.Sent),
			shortUS(math.Abs(off)-esc.DeadUS)))
	}
	of.Findings = append(of.Findings, found)
}

// neverNeutral tells a controller that waits for a neutral which no hands send.
func (l *learning) neverNeutral(of *Learner, esc *setup.Esc) bool {
	return esc.NeedsNeutral && (of.Places[atLow].Sent > esc.LearnedUS.Neutral+esc.DeadUS ||
		of.Places[atHigh].Sent < esc.LearnedUS.Neutral-esc.DeadUS)
}

// end tells what comes of the way to one end: how much of it does nothing more, or how much of full speed is
// never reached.
func (l *learning) end(of *Learner, device int, esc *setup.Esc, k int) {
	at, u := of.Places[k], esc.LearnedUS
	full, sign, title := u.High-u.Neutral-esc.DeadUS, 1.0, words.Capital(aheadWords(esc))
	if k == atLow {
		full, sign, title = u.Neutral-u.Low-esc.DeadUS, -1, "Full back"
		if esc.Reverse == "brake_first" {
			title = "Full brake, and back"
		}
	}
	if len(l.sent[k].pushes) == 0 || sign*(at.Sent-u.Neutral) <= esc.DeadUS {
		of.Findings = append(of.Findings, linkage.Figure{Title: title,
			Says: "never: no hands send what it takes for that",
			Why: []string{fmt.Sprintf("The furthest that arrives to that side is %s µs; it begins at %s µs.",
				shortUS(at.Sent), shortUS(u.Neutral+sign*esc.DeadUS))}})
		return
	}
	drive, _ := l.p.Does(device, at.Sent)
	drive = math.Abs(drive)
	found := linkage.Figure{Title: title}
	found.Why = []string{fmt.Sprintf("%s: %s µs arrive. It has learned %s µs for that, neutral at "+
		"%s µs and a dead "+
		"band of %s µs.", l.sent[k].Says(l.s), shortUS(at.Sent), shortUS(at.Learned), shortUS(u.Neutral),
		shortUS(esc.DeadUS)), fmt.Sprintf("(%s − %s) ÷ (%s − %s) = %s",
		shortUS(math.Abs(at.Sent-u.Neutral)), shortUS(esc.DeadUS), shortUS(math.Abs(at.Learned-u.Neutral)),
		shortUS(esc.DeadUS), percentOf(100*(sign*(at.Sent-u.Neutral)-esc.DeadUS)/full))}
	switch useless := l.useless(device, of.channel, k); {
	case drive < 99:
		found.Says = fmt.Sprintf("never reached: %s at most", percentOf(drive))
		capped := math.Abs(l.sent[k].Asked) < 99
		found.Wrong = !capped && l.wide(k)
		found.Note = "If it is held back on purpose, leave it so, and do not teach it again: it would take this " +
			"for full speed."
	case useless > 1:
		found.Says = fmt.Sprintf("reached early: the last %s of the way do nothing more", percentOf(useless))
		found.Wrong = true
	default:
		found.Says = "reached just at the end of the way"
	}
	of.Findings = append(of.Findings, found)
}

// wide tells whether the end of the output towards a place is as open as it is from the start, so that
// nobody closed it on purpose.
func (l *learning) wide(k int) bool {
	o := &l.s.Outputs[l.output]
	if k == atLow {
		return o.Low <= -100
	}
	return o.High >= 100
}

// useless gives how much of the lever's way to an end does nothing more, percent.
func (l *learning) useless(device, channel, k int) float64 {
	control := l.sent[k].axis(l.s)
	if control < 0 {
		return 0
	}
	for i, target := range l.hands.way(l.sent[k], control) {
		if drive, _ := l.p.Does(device, l.arriving(channel, target)); math.Abs(drive) >= 100 {
			return float64(100 - i)
		}
	}
	return 0
}

// middle tells how much of the lever's way around the middle moves nothing.
func (l *learning) middle(of *Learner, device int, esc *setup.Esc) {
	var said []string
	dead := map[int]float64{}
	for _, k := range []int{atHigh, atLow} {
		control := l.sent[k].axis(l.s)
		if control < 0 || !of.counts[k] || of.Findings[0].Wrong {
			continue
		}
		for i, target := range l.hands.way(l.sent[k], control) {
			if drive, _ := l.p.Does(device, l.arriving(of.channel, target)); drive != 0 {
				dead[k] = float64(i)
				said = append(said, fmt.Sprintf("the first %s towards %s", percentOf(float64(i)),
					[]string{"−", "", "+"}[k]))
				break
			}
		}
	}
	if len(said) == 0 {
		return
	}
	of.Findings = append(of.Findings, linkage.Figure{Title: "Of the way, nothing moves for",
		Says: words.And(said),
		Why: []string{fmt.Sprintf("Within %s µs of %s µs it stands still; a dead band, an expo or a "+
			"curve before it "+
			"add to that.", shortUS(esc.DeadUS), shortUS(esc.LearnedUS.Neutral))},
		Wrong: len(dead) == 2 && math.Abs(dead[atHigh]-dead[atLow]) > 10})
}

// receiver compares what a receiver has learned of the channel of the output; nil where it learned nothing of
// it.
func (l *learning) receiver(i int) *Learner {
	r := &l.s.Receivers[i]
	for j := range r.Learned {
		learned := &r.Learned[j]
		at := slices.IndexFunc(l.s.Carriers(l.output), func(ref setup.PinRef) bool {
			return ref.Receiver == i && r.Pins[ref.Pin].Channel == learned.Channel
		})
		if at < 0 {
			continue
		}
		of := &Learner{Key: "receivers/" + string(r.ID), Name: words.Capital(l.s.ReceiverLabel(r)),
			Kind:    "receiver",
			channel: learned.Channel, Findings: []linkage.Figure{}, counts: [3]bool{true, true, true}, sent: l.sent}
		for k, at := range l.sent {
			us := l.arriving(learned.Channel, at.Target)
			was := [3]float64{learned.Low, learned.Centre, learned.High}[k]
			of.Places = append(of.Places, Taught{words.Capital(at.Says(l.s)), was, us,
				"it takes it for " + words.SignedShort(math.Round(takenFor(learned, us)))})
		}
		l.taken(of, learned)
		of.Agrees = agrees(of)
		of.Cures = []Cure{l.teach(of, r.Teach, "the end to +", "the end to −"), l.toLearned(of)}
		return of
	}
	return nil
}

// takenFor gives what a pulse is taken for by what has learned its ends, percent, beyond them too.
func takenFor(of *setup.LearnedEnds, us float64) float64 {
	if us < of.Centre {
		return 100 * (us - of.Centre) / (of.Centre - of.Low)
	}
	return 100 * (us - of.Centre) / (of.High - of.Centre)
}

// taken tells what a receiver makes of what is sent.
func (l *learning) taken(of *Learner, learned *setup.LearnedEnds) {
	for k, title := range []string{"The end to −", "With hands off", "The end to +"} {
		us := of.Places[k].Sent
		takes := takenFor(learned, us)
		wants := []float64{-100, 0, 100}[k]
		found := linkage.Figure{Title: title,
			Why: []string{fmt.Sprintf("%s µs arrive; it has learned %s … %s … %s µs, so "+
				"that is %s of 100.", shortUS(us), shortUS(learned.Low), shortUS(learned.Centre), shortUS(learned.High),
				words.SignedShort(math.Round(takes*10)/10))}}
		beyond := math.Abs(takes) - math.Abs(wants)
		switch {
		case math.Abs(takes-wants) <= 1:
			found.Says = "as it has learned it"
		case k == atRest:
			found.Says = fmt.Sprintf("stands %s off its middle", words.SignedShort(math.Round(takes)))
			found.Note = "What it steers pulls to one side, a motor hums, a brake drags."
			found.Wrong = true
		case beyond > 0:
			found.Says = fmt.Sprintf("reached early: what goes beyond it, %s, does nothing",
				percentOf(beyond))
			found.Wrong = true
		default:
			found.Says = fmt.Sprintf("never reached: %s at most", percentOf(math.Abs(takes)))
			found.Wrong = math.Abs(l.sent[k].Asked) > 99 && l.wide(k)
			found.Note = "If it is held back on purpose, leave it so, and do not teach it again."
		}
		of.Findings = append(of.Findings, found)
	}
}

// module compares the range that an add-on module was told with what the transmitter sends.
func (l *learning) module() Learner {
	u, pulse := l.s.Link.LearnedUS, &l.s.Transmitter.Pulse
	name := "The add-on module"
	if m := l.s.Link.Module; m != nil && m.Label != "" {
		name = m.Label
	}
	of := Learner{Key: "module", Name: name, Kind: "module",
		Findings: []linkage.Figure{},
		counts:   [3]bool{true, true, true}}
	o := &l.s.Outputs[l.output]
	told := [3]float64{u.Low, u.Centre, u.High}
	for k, at := range []float64{-100, 0, 100} {
		sent := l.p.PulseOf(at)
		came := l.came(at)
		of.Places = append(of.Places, Taught{words.SignedShort(at) + " sent", told[k], sent,
			"arrives as " + words.SignedShort(came)})
		found := linkage.Figure{Title: words.SignedShort(at) + " sent",
			Says: "arrives as " + words.SignedShort(came),
			Why: []string{fmt.Sprintf("%s sends %s µs for it; the module was told %s … %s … %s µs and sends on what "+
				"that is on its own scale.", transmitterWords(l.s), shortUS(sent), shortUS(u.Low), shortUS(u.Centre),
				shortUS(u.High))},
			Wrong: math.Abs(came-at) > 1}
		if math.Abs(came) < math.Abs(at)-1 {
			found.Note = fmt.Sprintf("The last %s of full travel never arrive.",
				words.Short(math.Abs(at)-math.Abs(came)))
		}
		of.Findings = append(of.Findings, found)
	}
	for _, end := range []float64{o.Low, o.High} {
		if came := l.came(end); math.Abs(end) != 100 && math.Abs(came-end) > 1 {
			of.Findings = append(of.Findings, linkage.Figure{Title: fmt.Sprintf("The end of %s at %s", l.label(),
				words.SignedShort(end)), Says: "arrives as " + words.SignedShort(came),
				Wrong: math.Abs(came) > math.Abs(end),
				Note:  "What was measured with another range has to be measured again.", Why: []string{}})
		}
	}
	of.Agrees = agrees(&of)
	of.Cures = []Cure{moduleCure(&of, pulse)}
	return of
}

// came gives as what a position arrives behind the module, percent.
func (l *learning) came(position float64) float64 {
	pulse := &l.s.Transmitter.Pulse
	us := l.p.Arriving(0, l.p.PulseOf(position)) // no channel: neither one bit nor half rate
	return math.Round(10*pulse.Percent(us)) / 10
}

func transmitterWords(s *setup.Setup) string {
	if s.Transmitter.Name != "" {
		return s.Transmitter.Name
	}
	return "The transmitter"
}

// moduleCure tells a module what the transmitter sends.
func moduleCure(of *Learner, pulse *setup.Pulse) Cure {
	c := Cure{Act: TaughtAgain, Title: "Tell the module what the transmitter sends",
		Note: "All functions pass it: what was measured before has to be looked at again."}
	c.Steps = []CureStep{{Do: "Lift the wheels or take the propeller off, and open the menu of the " +
		"module's pulse " +
		"range.", See: fmt.Sprintf("It shows %s, %s and %s µs.", shortUS(of.Places[atLow].Learned),
		shortUS(of.Places[atRest].Learned), shortUS(of.Places[atHigh].Learned))}}
	for _, one := range []struct {
		title string
		at    int
	}{{"lowest", atLow}, {"centre", atRest}, {"highest", atHigh}} {
		c.Steps = append(c.Steps, CureStep{Do: fmt.Sprintf("Key in %s µs as its %s.",
			shortUS(of.Places[one.at].Sent),
			one.title), See: "The figure stays when the menu was left and opened again."})
	}
	c.Steps = append(c.Steps, CureStep{Do: "Push a stick fully to each side.",
		See: fmt.Sprintf("What it moves goes from %s to %s µs, and stands at %s with hands off.",
			shortUS(pulse.CentreUS-pulse.HalfSpanUS), shortUS(pulse.CentreUS+pulse.HalfSpanUS),
			shortUS(pulse.CentreUS))})
	if !of.Agrees {
		c.Done = "The module was told what the transmitter sends"
	}
	return c
}

// teach is the cure by which something learns what is sent now. plus and minus are what it does at its ends.
func (l *learning) teach(of *Learner, how *setup.Teach, plus, minus string) Cure {
	c := Cure{Act: TaughtAgain, Title: "Teach " + of.Name + " what is sent now", Harms: of.Kind == "controller",
		Steps: []CureStep{}}
	by, tells := "", "a beep or a blink, as its leaflet says"
	order := []string{"neutral", "high", "low"}
	if how != nil {
		by = how.By
		if how.Order != nil {
			order = how.Order
		}
		if how.Tells != "" {
			tells = how.Tells
		}
	}
	order = slices.DeleteFunc(slices.Clone(order), func(what string) bool {
		return what == "low" && !of.counts[atLow] || by == "each_start" && what != "neutral"
	})
	switch by {
	case "fixed":
		c.Note = of.Name + " cannot be taught: only what is sent can be changed."
		return c
	case "":
		c.Note = "How " + of.Name + " is taught is not said in Kit. These are the usual steps; its leaflet goes " +
			"before them."
	case "each_start":
		c.Note = of.Name + " takes its neutral anew each time it is switched on. Its ends are fixed."
	}
	if lacks := l.cannotTeach(of, order); lacks != "" {
		c.Note = lacks
		return c
	}
	channel := l.s.Outputs[l.output].Channel
	shows := func(k int) string {
		return fmt.Sprintf("Channel %d of the transmitter shows %s", channel,
			display(l.s, l.output, of.sent[k].Target))
	}
	step := func(do, see string) { c.Steps = append(c.Steps, CureStep{do, see}) }
	step("Switch the model off. Put the trims of "+l.label()+" to 0, and rates, ends and mixes as "+
		"they are driven "+
		"with.", shows(atRest)+" with hands off.")
	place := map[string]int{"low": atLow, "neutral": atRest, "high": atHigh}
	called := map[string]string{"low": minus, "neutral": "neutral", "high": plus}
	for i, what := range order {
		k := place[what]
		hands := of.sent[k].Says(l.s)
		see := fmt.Sprintf("%s. It answers with %s.", shows(k), tells)
		as := words.Capital(called[what]) + ": "
		switch {
		case by == "each_start":
			step(as+"switch the transmitter on, then the model, with "+hands+".", see)
		case by == "held_full" && i == 0:
			step(as+"switch the transmitter on, then the model, with "+hands+".", see)
		case by == "held_full":
			step(as+"go on with "+hands+", and wait.", see)
		case i == 0:
			step("Switch the transmitter on. Switch the model on while its button is held.",
				"It waits: its lamp or its sound says so.")
			step(as+"press the button with "+hands+".", see)
		default:
			step(as+"press the button with "+hands+".", see)
		}
	}
	step("Switch the model off and on again, and try the whole way.", endsWith(of))
	c.Done = of.Name + " has learned what is sent"
	return c
}

// endsWith says what is to be seen when something was taught.
func endsWith(of *Learner) string {
	if of.Kind == "controller" {
		return "With hands off it stands still and is silent. It reaches full speed just at the end of the way."
	}
	return "With hands off it stands in its middle, and each end is reached just at the end of the way."
}

// cannotTeach says why something cannot learn what is sent now; empty where it can.
func (l *learning) cannotTeach(of *Learner, order []string) string {
	rest := of.Places[atRest].Sent
	for k, what := range []string{"low", "", "high"} {
		if k == atRest || !of.counts[k] || !slices.Contains(order, what) {
			continue
		}
		side := float64(k - atRest)
		if sent := of.Places[k].Sent; side*(sent-rest) <= of.DeadUS {
			return fmt.Sprintf("It cannot be taught as it is: to that side %s µs is the furthest "+
				"that arrives, and %s "+
				"µs arrives with hands off. Open the end of %s to %s first.", shortUS(sent), shortUS(rest), l.label(),
				[]string{"−", "", "+"}[k])
		}
	}
	return ""
}

// toLearned is the cure by which the ends are set to what was learned.
func (l *learning) toLearned(of *Learner) Cure {
	c := Cure{Act: ToLearned, Title: "Set what is sent to what " + of.Name + " has learned", Steps: []CureStep{}}
	ends, lacks := l.endsFor(of)
	if lacks != "" {
		c.Note = lacks
		return c
	}
	now := *l.s
	now.Outputs = slices.Clone(l.s.Outputs)
	o := &now.Outputs[l.output]
	o.Low, o.Centre, o.High = ends[atLow], ends[atRest], ends[atHigh]
	was := l.s.Outputs[l.output]
	if o.Low == was.Low && o.Centre == was.Centre && o.High == was.High {
		c.Note = "Nothing is to be changed: this is what is sent, as near as it can be keyed in."
		return c
	}
	if o.Centre != was.Centre {
		sc := ScaleIn(&now, func(s *setup.Scales) *setup.Menu { return s.Trim }, o.Channel, "percent")
		c.Steps = append(c.Steps, CureStep{fmt.Sprintf("Key in %s as the centre of %s.", Write(sc, o.Centre,
			&now.Transmitter.Pulse), l.label()), fmt.Sprintf("Channel %d shows %s with hands off, and nothing hums.",
			o.Channel, display(&now, l.output, o.Centre))})
	}
	written := WrittenEnds(&now, l.output)
	for k, end := range KeyedEnds(&now, l.output) {
		if end.Field == "low" && o.Low == was.Low || end.Field == "high" && o.High == was.High {
			continue
		}
		c.Steps = append(c.Steps, CureStep{fmt.Sprintf("Key in %s as the end of %s: %s.", written[k], l.label(),
			end.Side), fmt.Sprintf("Channel %d shows %s with the stick there.", o.Channel,
			display(&now, l.output, end.Position))})
	}
	c.Note = "It goes on as it was taught; what the linkage or a measured end allows goes before this."
	c.Done = "The ends of " + l.label() + " are what " + of.Name + " has learned"
	return c
}

// endsFor gives the low end, the centre and the high end of the output for which what was learned arrives, as
// its menus can be keyed to, or why there are none.
func (l *learning) endsFor(of *Learner) (ends [3]float64, lacks string) {
	o := &l.s.Outputs[l.output]
	if slices.Contains(l.s.Link.OneBit, of.channel) {
		return ends, "Its channel arrives as full low or full high alone: no end changes that."
	}
	ends = [3]float64{o.Low, o.Centre, o.High}
	menu := func(of func(*setup.Scales) *setup.Menu) setup.Scale {
		return ScaleIn(l.s, of, o.Channel,
			"percent")
	}
	trim := menu(func(s *setup.Scales) *setup.Menu { return s.Trim })
	end := menu(func(s *setup.Scales) *setup.Menu { return s.Endpoint })
	if math.Abs(of.sent[atRest].Asked) < 1e-9 {
		if want := l.sends(of.Places[atRest].Learned); math.Abs(want-o.Centre) > 0.1 {
			ends[atRest], _ = Nearest(trim, want, &l.s.Transmitter.Pulse)
		}
	}
	for k, side := range []float64{-1, 0, 1} {
		asked := math.Abs(of.sent[k].Asked)
		if k == atRest || !of.counts[k] {
			continue
		}
		if side*of.sent[k].Asked < 1 {
			return ends, fmt.Sprintf("No hands ask %s for anything to %s.", l.label(), []string{"−", "", "+"}[k])
		}
		want := l.sends(of.Places[k].Learned)
		at := ends[atRest] + (want-ends[atRest])*100/asked
		if at, _ = Less(end, at, &l.s.Transmitter.Pulse); math.Abs(at) > 150 || side*(at-ends[atRest]) <= 0 {
			return ends,
				fmt.Sprintf("It would take an end of %s, and none goes beyond 150: %s is as near as it comes. "+
					"Teach %s instead.", words.SignedShort(math.Round(at)), words.SignedShort(side*150), of.Name)
		}
		if math.Abs(at-ends[k]) > 0.5 {
			ends[k] = at
		}
	}
	if ends[atLow] >= ends[atRest] || ends[atRest] >= ends[atHigh] {
		return ends, "Its neutral would lie beyond an end. Teach " + of.Name + " instead."
	}
	return ends, ""
}

// sends gives the position that an output has to send so that a pulse arrives, percent.
func (l *learning) sends(us float64) float64 {
	pulse := &l.s.Transmitter.Pulse
	q := pulse.Percent(us)
	if u := l.s.Link.LearnedUS; u != nil {
		us = u.Centre + q/100*(u.High-u.Centre)
		if q < 0 {
			us = u.Centre + q/100*(u.Centre-u.Low)
		}
		q = pulse.Percent(us)
	}
	return math.Round(q*10) / 10
}
