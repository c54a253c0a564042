package proof

import (
	"cmp"
	"math"

	"axtren/core/setup"
	"axtren/core/signal"
	"axtren/core/words"
)

// never gives why one of the conditions of a claim never holds, from the bounds of what it speaks of alone;
// empty where they do not tell.
func (y *system) never() string {
	if y.claimed.kind != watchNever {
		return ""
	}
	for i := range y.claimed.asks {
		a := &y.claimed.asks[i]
		span, ok := y.ever(a)
		if !ok || a.test.mayHold(span) {
			continue
		}
		return y.s.Named(cmp.Or(a.output,
			a.device)) + " never gets beyond " + words.SignedShort(round(span.Low)) + " … " +
			words.SignedShort(round(span.High)) + " %"
	}
	return ""
}

func round(v float64) float64 { return math.Round(v*10) / 10 }

// mayHold tells whether a test can hold of a number that lies within a span.
func (t test) mayHold(s signal.Span) bool {
	return t.holds(s.Low) || t.holds(s.High) || s.Low <= t.least && t.most <= s.High
}

// ever bounds the output or the device of a condition in every frame that the search can reach. ok is false
// where no bound is known.
func (y *system) ever(a *asked) (span signal.Span, ok bool) {
	switch {
	case a.output != "":
		return y.stands(y.s.Item(a.output).Index)
	case a.device == "":
		return span, false
	}
	i := y.s.Item(a.device).Index
	d := &y.s.Devices[i]
	ref := y.s.DevicePin(i)
	out := y.s.Carried(ref)
	esc, turns := d.Base().(*setup.Esc)
	servo, moves := d.Base().(*setup.Servo)
	// it may have been left anywhere
	if out < 0 || !turns && !moves || moves && servo.SpeedS > 0 && y.begun == nil {
		return span, false
	}
	if span, ok = y.stands(out); !ok {
		return span, false
	}
	_, pin := y.s.Pin(ref)
	aim := y.p.Aim(i)
	does := signal.Span{Low: math.Inf(1), High: math.Inf(-1)}
	at := func(us float64) {
		v, known := aim.At(us)
		ok = ok && known
		does = does.With(signal.Span{Low: v, High: v})
	}
	for _, position := range []float64{span.Low, span.High} {
		at(y.p.Arriving(pin.Channel, y.p.PulseOf(position)))
	}
	if mode, value := signal.LossOf(y.s, ref); mode == "preset" {
		at(y.p.PulseOf(value))
	}
	if y.begun != nil {
		now := y.begun.st.At(y.p.Devices[i].Value)
		does = does.With(signal.Span{Low: now, High: now})
		if us := y.begun.st.At(y.p.Pins[ref.Receiver][ref.Pin].US); us > 0 { // it may have been held there
			at(us)
		}
	}
	if turns {
		does = does.With(signal.Span{}) // without a pulse, while it brakes, and until neutral
		if esc.SwapOn != nil {
			does = does.With(signal.Span{Low: -does.High, High: -does.Low})
		}
	}
	return does, ok
}

// stands bounds where an output stands: where it ever makes for, and where it is as the search begins.
func (y *system) stands(out int) (signal.Span, bool) {
	span, ok := y.p.Ever(out)
	if y.begun != nil {
		now := y.begun.st.At(y.p.Routes[out].P)
		span = span.With(signal.Span{Low: now, High: now})
	}
	return span, ok
}
