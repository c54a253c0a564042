package loss

import (
	"fmt"
	"math"
	"slices"

	"axtren/core/setup"
	"axtren/core/signal"
	"axtren/core/travel"
	"axtren/core/words"
)

// Hazard is something that can hurt while nobody is in command.
type Hazard struct {
	Rule     string
	Severity string // words.Warning or words.Note
	Where    string // place in the document
	Says     string
	Remedy   string
	Output   int   // whose loss it is about; -1: of none
	Mend     *Mend // what mends it by a press; nil: nothing does so
}

// Mend is what an output is to do on a lost signal instead.
type Mend struct {
	Says string
	Loss setup.Loss
}

// Rule is one kind of hazard, found by looking at the setup.
type Rule struct {
	Name string
	Doc  string // one line
	run  func(f *finder)
}

// StoredBefore is the rule of positions that were stored before a change of what they rest on.
const StoredBefore = "stored_before"

// Rules are all of them, in the order in which they look.
var Rules = []Rule{
	{"goes_on_at_loss", "a motor, a pump or an ignition goes on after the signal is lost", (*finder).goesOn},
	{"wrong_scale", "a loss position is what would be a stop in another scale", (*finder).wrongScale},
	{"no_loss", "what stops on a lost signal does so only because this receiver stops its pulses",
		(*finder).notSaid},
	{"on_without_pulses", "a pump or an ignition runs while there are no pulses", (*finder).withoutPulses},
	{"wakes_later", "a controller with a switch of its own turns at once when that is thrown",
		(*finder).wakesLater},
	{"latch_wakes_on", "a latch that wakes on, or as it was left, lets something run that can hurt",
		(*finder).wakesOn},
	{"loss_beyond_end", "a loss position lies beyond the end of its function", (*finder).beyondEnd},
	{"loss_not_kept", "a pin cannot do what its output asks for", (*finder).notKept},
	{"box_never_learns", "a step box has a step for a loss of which it never learns", (*finder).boxes},
	{StoredBefore, "a loss position was stored before something that it rests on was changed",
		(*finder).storedBefore},
	{"read_back", "a loss position was read back as another one than was asked for", (*finder).readBack},
}

// Hazards looks for all of them in a program's setup, rule by rule.
func Hazards(p *signal.Program) []Hazard {
	f := &finder{p: p, s: p.Setup(), driven: DrivenIn(p.Setup()), list: []Hazard{}}
	for i := range Rules {
		f.rule = &Rules[i]
		f.rule.run(f)
	}
	return f.list
}

// finder gathers hazards.
type finder struct {
	p      *signal.Program
	s      *setup.Setup
	driven []Driven
	rule   *Rule
	list   []Hazard
}

func (f *finder) find(severity, where string, output int, remedy, format string, args ...any) *Hazard {
	f.list = append(f.list, Hazard{f.rule.Name, severity, where, fmt.Sprintf(format, args...), remedy,
		output, nil})
	return &f.list[len(f.list)-1]
}

// harmful calls on with each device that can hurt.
func (f *finder) harmful(on func(d Driven, harm string)) {
	for _, d := range f.driven {
		if harm := d.Harm(f.s); harm != "" {
			on(d, harm)
		}
	}
}

func lossAt(output int) string { return fmt.Sprintf("outputs[%d].loss", output) }

// onLoss says what a pin does on a lost signal.
func onLoss(mode string) string {
	if mode == "hold" {
		return "hold the last pulse"
	}
	return words.Choice("can", mode)
}

// mend lets the output of a device stop it, where its receiver can do that on its pin.
func (f *finder) mend(h *Hazard, d Driven) {
	rx, pin := f.s.Pin(d.Ref)
	at, _, ok := d.Stop(f.s)
	o := &f.s.Outputs[d.Output]
	switch v, known := f.p.Does(d.Device, 0); {
	case ok && rx.CanOnLoss("preset", pin.Pin):
		at = min(max(at, o.Low), o.High)
		h.Mend = &Mend{"Let it go to " + words.SignedShort(at), setup.Loss{Mode: "preset", Value: &at}}
	case known && !d.Moves(f.s, v) && rx.CanOnLoss("cut", pin.Pin):
		h.Mend = &Mend{"Let its pulses stop", setup.Loss{Mode: "cut"}}
	}
}

// goesOn tells of what goes on when the signal is lost.
func (f *finder) goesOn() {
	f.harmful(func(d Driven, harm string) {
		if h := f.goes(d, harm); h != nil {
			f.mend(h, d)
		}
	})
}

const meant = "; leave it so only where it is meant, as a low power that brings a boat home, or a " +
	"tank that is blown"

func (f *finder) goes(d Driven, harm string) *Hazard {
	where, name := lossAt(d.Output), d.Name(f.s)
	_, stop, _ := d.Stop(f.s)
	stop = "let it stop: " + stop
	mode, position, v, ok := d.afterLoss(f.p)
	switch mode {
	case "preset":
		if !ok || !d.Moves(f.s, v) {
			return nil
		}
		if _, wrong := f.slip(d, position); wrong {
			return nil // it has a sentence of its own
		}
		at := ""
		if harm == "turns" {
			at = fmt.Sprintf(" at %.0f", math.Abs(v))
		}
		severity, until := words.Warning, ""
		if esc, ok := f.s.Devices[d.Device].Spec.(*setup.Esc); ok && esc.Travel != nil {
			severity, until = words.Note, ", until what it moves is at its end, and pushes on there"
		}
		return f.find(severity, where, d.Output, stop+meant,
			"%s %s%s when the signal is lost%s: its loss position is %s", name, harm, at, until,
			words.SignedShort(position))
	case "hold":
		says := "nothing is said of a lost signal, and the receiver holds the last pulse: "
		if f.s.Outputs[d.Output].Loss != nil {
			says = "on a lost signal the last pulse is held: "
		}
		return f.find(words.Warning, where, d.Output, stop, "%s%s goes on as it was%s", says, name, f.valves(d))
	case "cut":
		switch {
		case !ok:
			return f.find(words.Warning, where, d.Output, stop,
				"on a lost signal the pulses stop, and %s stays as it was", name)
		case d.Moves(f.s, v):
			return f.find(words.Warning, where, d.Output, stop,
				"on a lost signal the pulses stop, and without them %s %s", name, harm)
		}
	}
	return nil
}

// valves says what a pump that goes on works against; empty where nothing is known of valves.
func (f *finder) valves(d Driven) string {
	if !d.isPump(f.s) {
		return ""
	}
	for _, other := range f.driven {
		if f.s.Devices[other.Device].Kind == "valve" || other.Called(f.s, "valve") {
			return ", against its valves, which may be shut"
		}
	}
	return ""
}

func (d Driven) isPump(s *setup.Setup) bool {
	return s.Devices[d.Device].Kind == "pump" || d.Called(s, "pump")
}

// notSaid tells of what stops without anybody having said so.
func (f *finder) notSaid() {
	f.harmful(func(d Driven, _ string) {
		mode, _, v, ok := d.afterLoss(f.p)
		if mode == "cut" && ok && !d.Moves(f.s, v) && f.s.Outputs[d.Output].Loss == nil {
			f.find(words.Note, lossAt(d.Output), d.Output,
				"say what it is to do, so that another receiver does the same",
				"nothing is said of a lost signal: this receiver stops its pulses, and %s stops", d.Name(f.s))
		}
	})
}

// withoutPulses tells of what runs before anything is sent.
func (f *finder) withoutPulses() {
	f.harmful(func(d Driven, harm string) {
		on, harms := f.s.Devices[d.Device].OnOff(), "on"
		if d.Kills(f.s) == "on" {
			harms = "off"
		}
		if _, pin := f.s.Pin(d.Ref); on == nil || pin.Switch != nil || on.NoPulse != harms {
			return
		}
		f.find(words.Warning, fmt.Sprintf("devices[%d].no_pulse", d.Device), -1,
			fmt.Sprintf("use a switch that is not %s without pulses, or one that the safety cuts", harms),
			"%s %s while there are no pulses: before the transmitter is on, and when they stop", d.Name(f.s), harm)
	})
}

// beyondEnd tells of a loss position at which something pushes against its stop.
func (f *finder) beyondEnd() {
	for i := range f.s.Outputs {
		o := &f.s.Outputs[i]
		if l := o.Loss; l != nil && l.Mode == "preset" && (*l.Value < o.Low || *l.Value > o.High) {
			h := f.find(words.Warning, lossAt(i)+".value", i,
				fmt.Sprintf("use %s to %s", words.SignedShort(o.Low), words.SignedShort(o.High)),
				"on a lost signal %s goes to %s, beyond its own end: what is on it pushes against its stop",
				f.s.OutputLabel(i), words.SignedShort(*l.Value))
			at := min(max(*l.Value, o.Low), o.High)
			h.Mend = &Mend{"Let it go to " + words.SignedShort(at), setup.Loss{Mode: "preset", Value: &at}}
		}
	}
}

// pins calls on with each pin that carries an output.
func (f *finder) pins(on func(ref setup.PinRef, out int)) {
	for r := range f.s.Receivers {
		for j := range f.s.Receivers[r].Pins {
			ref := setup.PinRef{Receiver: r, Pin: j}
			if out := f.s.Carried(ref); out >= 0 {
				on(ref, out)
			}
		}
	}
}

// notKept tells of pins that cannot do what is asked.
func (f *finder) notKept() {
	f.pins(func(ref setup.PinRef, out int) {
		mode, _ := signal.LossOf(f.s, ref)
		loss := f.s.Outputs[out].Loss
		if loss == nil || loss.Mode == mode {
			return
		}
		rx, pin := f.s.Pin(ref)
		remedy := "use a pin that can, another receiver, or ask for something else"
		if able := f.able(rx, loss.Mode); able != "" {
			remedy = able
		}
		f.find(words.Warning, ref.Item().Path(), out, remedy,
			"%s is to %s on a lost signal; pin %d of %s cannot, and will %s", f.s.OutputLabel(out),
			onLoss(loss.Mode), pin.Pin, f.s.ReceiverLabel(rx), onLoss(mode))
	})
}

// able says where on its receiver a function could do what is asked; empty where nowhere.
func (f *finder) able(rx *setup.Receiver, mode string) string {
	var pins []string
	for i := range rx.Pins {
		if rx.CanOnLoss(mode, rx.Pins[i].Pin) {
			pins = append(pins, fmt.Sprint(rx.Pins[i].Pin))
		}
	}
	switch {
	case len(pins) == 0 || len(pins) > 3:
		return ""
	case len(pins) == 1:
		return "this receiver can do that on pin " + pins[0] + " alone: let Plan move it there, or " +
			"ask for something else"
	}
	return "this receiver can do that on pins " + words.And(pins) + ": let Plan move it there, or " +
		"ask for something else"
}

// boxes tells of step boxes that never learn of a loss.
func (f *finder) boxes() {
	f.pins(func(ref setup.PinRef, out int) {
		mode, _ := signal.LossOf(f.s, ref)
		rx, pin := f.s.Pin(ref)
		for _, i := range f.s.Leads(ref) {
			box, ok := f.s.Devices[i].Spec.(*setup.StepBox)
			if !ok || box.Loss == nil || mode == "cut" {
				continue
			}
			h := f.find(words.Warning, fmt.Sprintf("devices[%d].loss", i), out,
				"have its output send no pulses on a lost signal, on a pin that can",
				"%s goes to step %d when its pulses stop, but on a lost signal its pin will %s",
				f.s.DeviceLabel(i), *box.Loss, onLoss(mode))
			if rx.CanOnLoss("cut", pin.Pin) {
				h.Mend = &Mend{"Let its pulses stop", setup.Loss{Mode: "cut"}}
			}
		}
	})
}

// wakesLater tells of controllers that are switched on by themselves while the lever may be anywhere.
func (f *finder) wakesLater() {
	f.harmful(func(d Driven, _ string) {
		esc, ok := f.s.Devices[d.Device].Spec.(*setup.Esc)
		if !ok || !f.s.Devices[d.Device].OwnSwitch || esc.NeedsNeutral {
			return
		}
		f.find(words.Warning, fmt.Sprintf("devices[%d].needs_neutral", d.Device), -1,
			"use a controller that waits for its neutral, or switch it on last, the lever at rest",
			"%s has a switch of its own, so it may wake later than the rest, when the start check is over: it then "+
				"turns at once as far as the lever stands", d.Name(f.s))
	})
}

// Levers lists the controls whose travel comes into an output, not those that only switch something.
func Levers(s *setup.Setup, output int) []int {
	travel := func(r *setup.Reference) bool {
		return r.From.Kind != setup.IsBlock && (r.Role == setup.Adds || r.Role == setup.ReadsValue ||
			r.Role == setup.ReadsAsked)
	}
	return setup.Only(setup.IsControl, s.Graph().BehindBy(travel, setup.IsOutput.At(output)))
}

// wakesOn tells of a latch that wakes on, or may, and with it what can hurt.
func (f *finder) wakesOn() {
	for i := range f.s.Logic {
		at, latch := f.s.Logic[i].StartsAs()
		if !latch || at == "false" {
			continue
		}
		ahead := setup.Only(setup.IsOutput, f.s.Graph().Ahead(setup.IsBlock.At(i)))
		var reached []Driven
		f.harmful(func(d Driven, _ string) {
			if slices.Contains(ahead, d.Output) {
				reached = append(reached, d)
			}
		})
		if reached != nil {
			f.wakesWith(i, at, reached)
		}
	}
}

// wakesWith tells of the first device that does harm with a latch on at power-on, and none with it off.
func (f *finder) wakesWith(i int, at setup.StateAt, reached []Driven) {
	on, off := f.wakes(i, "true"), f.wakes(i, "false")
	for _, d := range reached {
		if !d.Moves(f.s, on(d.Device)) || d.Moves(f.s, off(d.Device)) {
			continue
		}
		wakes := "wakes on"
		if at == "kept" {
			wakes = "may wake on, as it was left"
		}
		f.find(words.Warning, fmt.Sprintf("logic[%d].start", i), -1,
			"let it wake off, or let the start check wait for what moves it",
			"%s %s: %s %s as soon as the transmitter is on", f.s.Label(setup.IsBlock.At(i)), wakes, d.Name(f.s),
			d.Harm(f.s))
		return
	}
}

// wakes plays the first moments with a latch that wakes so. It gives what a device then does.
func (f *finder) wakes(i int, as setup.StateAt) (does func(device int) float64) {
	s := *f.s
	s.Logic = slices.Clone(s.Logic)
	switch spec := s.Logic[i].Spec.(type) {
	case *setup.Latch:
		own := *spec
		own.Start = as
		s.Logic[i] = setup.Block{BlockHead: &own.BlockHead, Spec: &own}
	case *setup.Toggle:
		own := *spec
		own.Start = as
		s.Logic[i] = setup.Block{BlockHead: &own.BlockHead, Spec: &own}
	}
	s.Relink()
	p, err := signal.Compile(&s)
	if err != nil {
		panic(err) // it differs from one that was compiled by a start alone
	}
	st := p.PowerOn()
	for range 4 { // the neutral comes by
		p.Step(st, p.Ready())
	}
	return func(device int) float64 {
		if on := p.Devices[device].On; on != signal.None {
			return st.At(on)
		}
		return st.At(p.Devices[device].Value)
	}
}

// scales are those in which loss positions are usually typed.
var scales = []setup.Scale{{Word: "percent"}, {Word: "span"}}

// slip tells whether a position that moves a device would stop it if its figure were read in another
// scale: 50 of −100 to +100 is half ahead, 50 of 0 to 100 is the middle.
func (f *finder) slip(d Driven, position float64) (says string, wrong bool) {
	typed, pulse := travel.LossScale(f.s, d.Output), &f.s.Transmitter.Pulse
	figure := travel.Figure(typed, position, pulse)
	for _, other := range scales {
		if other == typed {
			continue
		}
		v, ok := f.p.Does(d.Device, f.p.PulseOf(travel.Percent(other, figure, pulse)))
		if ok && !d.Moves(f.s, v) {
			return fmt.Sprintf("its loss position is %s on a scale of %s, and would be the stop on one of %s",
				words.Short(figure), travel.Name(typed), travel.Name(other)), true
		}
	}
	return "", false
}

// wrongScale tells of positions that were most likely typed in a wrong scale.
func (f *finder) wrongScale() {
	f.harmful(func(d Driven, harm string) {
		mode, position, v, ok := d.afterLoss(f.p)
		if mode != "preset" || !ok || !d.Moves(f.s, v) {
			return
		}
		says, wrong := f.slip(d, position)
		if !wrong {
			return
		}
		_, stop, _ := d.Stop(f.s)
		h := f.find(words.Warning, lossAt(d.Output)+".value", d.Output, "let it stop: "+stop+
			"; leave it so only where it is meant",
			"%s %s when the signal is lost, at %.0f: %s", d.Name(f.s), harm, math.Abs(v), says)
		f.mend(h, d)
	})
}

// stored calls on with each position that was stored for a lost signal and what was noted of it, of functions
// that still have one.
func (f *finder) stored(on func(output int, was *setup.Found)) {
	if f.s.Stand == nil {
		return
	}
	for i := range f.s.Stand.Found {
		was := &f.s.Stand.Found[i]
		item := f.s.Item(was.Output)
		if was.What != travel.Stored || item.Kind != setup.IsOutput {
			continue
		}
		if l := f.s.Outputs[item.Index].Loss; l != nil && l.Mode == "preset" {
			on(item.Index, was)
		}
	}
}

// storedBefore tells of positions that were stored before something that they rest on was changed.
func (f *finder) storedBefore() {
	f.stored(func(i int, was *setup.Found) {
		o, label := &f.s.Outputs[i], f.s.OutputLabel(i)
		var since []string
		may := "it may be gone"
		if was.Reversed != nil && *was.Reversed != o.Reverse {
			since, may = append(since, "was reversed"), "it may go to the other side"
		}
		if was.Channel != 0 && was.Channel != o.Channel {
			since = append(since, fmt.Sprintf("was moved from channel %d to channel %d", was.Channel, o.Channel))
		}
		for _, ref := range f.s.Carriers(i) {
			if rx := &f.s.Receivers[ref.Receiver]; rx.Bound != "" && rx.Bound != was.Bound {
				since = append(since, "has a receiver that was bound again")
				break
			}
		}
		if with := was.With; with != nil {
			if item := f.s.Item(*with); !slices.Contains(f.s.Drives(i), item.Index) || item.Kind != setup.IsDevice ||
				f.s.Devices[item.Index].Fitted != was.Fitted {
				since = append(since, "got another "+part(f.s, i))
			}
		}
		if len(since) > 0 {
			f.find(words.Warning, lossAt(i), i, "store it again, then try it: switch the transmitter off and look",
				"the loss position of %s was stored before it %s: %s", label, words.And(since), may)
		}
	})
}

// part is what a function drives, in a word.
func part(s *setup.Setup, output int) string {
	for _, i := range s.Drives(output) {
		switch s.Devices[i].Kind {
		case "servo":
			return "servo"
		case "esc":
			return "speed controller"
		}
	}
	return "device"
}

// mostOff is how far a position that was stored may be off, percent (common practice, no source: a few
// points).
const mostOff = 3.0

// readBack tells of positions that were read back as another one.
func (f *finder) readBack() {
	f.stored(func(i int, was *setup.Found) {
		if want := *f.s.Outputs[i].Loss.Value; math.Abs(was.Value-want) > mostOff {
			f.find(words.Warning, lossAt(i)+".value", i, "store it again, or ask for what it does",
				"the loss position of %s was read back as %s, and is to be %s", f.s.OutputLabel(i),
				words.SignedShort(was.Value), words.SignedShort(want))
		}
	})
}

// Mended is a document in which a hazard is mended that can be mended by a press. The error is
// setup.Problems.
func Mended(doc *setup.Document, h *Hazard) (*setup.Document, error) {
	return WithLoss(doc, h.Output, &h.Mend.Loss)
}

// WithLoss is a document in which an output does something else on a lost signal. The error is
// setup.Problems.
func WithLoss(doc *setup.Document, output int, l *setup.Loss) (*setup.Document, error) {
	fields := []any{"mode", l.Mode}
	if l.Value != nil {
		fields = append(fields, "value", *l.Value)
	}
	d := &setup.Draft{Doc: doc}
	err := d.Set(fmt.Sprintf("/outputs/%d/loss", output), setup.GroupNode(fields...))
	return d.Doc, err
}
