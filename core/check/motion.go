package check

import (
	"fmt"
	"math"
	"slices"
	"strings"

	"axtren/core/loss"
	"axtren/core/setup"
	"axtren/core/signal"
	"axtren/core/words"
)

// driven is a device on a pin that an output is carried by.
type driven struct {
	loss.Driven
	pin         *setup.Pin
	signal.Span // the pulses that can arrive, us
}

// drivenDevices lists the devices that outputs reach, levellers aside.
func (c *checker) drivenDevices() []driven {
	var list []driven
	for _, d := range loss.DrivenIn(c.s) {
		at := c.reach.position(d.Output)
		_, pin := c.s.Pin(d.Ref)
		list = append(list, driven{d, pin,
			signal.Span{Low: c.p.Arriving(pin.Channel, c.p.PulseOf(at.Low)),
				High: c.p.Arriving(pin.Channel, c.p.PulseOf(at.High))}})
	}
	return list
}

// ignition asks what nobody may guess: which level kills.
func (c *checker) ignition(d driven) {
	if c.s.Devices[d.Device].Kind == "relay" && d.Kills(c.s) == "" && d.Called(c.s, "ignition", "kill switch") {
		c.find("kill_not_said", Note, fmt.Sprintf("devices[%d].kills", d.Device),
			"try it: turn the receiver off with the engine running, and on with it at rest, and say which",
			"nobody has said whether %s kills the engine while it is on or while it is off", c.name(d))
	}
}

// sound tells of a card's input that its pin cannot set off.
func (c *checker) sound(d driven, spec *setup.SoundTrigger) {
	where, switched := fmt.Sprintf("devices[%d].wants", d.Device), d.pin.Switch
	switch {
	case spec.Wants == "ground" && (switched == nil || switched.Level != "low"):
		has := "gives pulses"
		if switched != nil {
			has = "gives its high level when it is on"
		}
		c.find("sound_not_set_off", Warning, where,
			"use a pin that is on or off and gives its low level, or a relay in the lead",
			"%s wants its input drawn to 0 V, and its pin %s", c.name(d), has)
	case spec.Wants == "position" && switched != nil:
		c.find("sound_not_set_off", Warning, where, "use a pin that carries pulses",
			"%s wants a position, and its pin is on or off only", c.name(d))
	}
	for _, m := range c.s.MixesTo(d.Output) {
		mix := &c.s.Mixes[m]
		for _, ref := range []string{mix.From.Ref, whenOf(mix)} {
			item := c.s.Item(setup.ID(ref))
			if item.Kind != setup.IsBlock {
				continue
			}
			if pulse, ok := c.s.Logic[item.Index].Spec.(*setup.Timer); ok &&
				c.s.Logic[item.Index].Block == "tp" && pulse.ForS < spec.HoldS {
				c.find("sound_too_short", Warning, fmt.Sprintf("devices[%d].hold_s", d.Device),
					"let that rule last longer",
					"%s has to be set off for %s s, and %s lasts %s s", c.name(d), words.Short(spec.HoldS),
					c.s.Label(item), words.Short(pulse.ForS))
			}
		}
	}
}

// whenOf gives what a mix waits for, without its “not”; empty for nothing.
func whenOf(mix *setup.Mix) string {
	if mix.When == nil {
		return ""
	}
	ref, _ := mix.When.Split()
	return ref
}

// motion judges what is driven by what it does, not by the number that is asked of it.
func (c *checker) motion() {
	rest := c.atRest()
	for _, d := range c.drivenDevices() {
		c.ignition(d)
		if sound, ok := c.s.Devices[d.Device].Spec.(*setup.SoundTrigger); ok {
			c.sound(d, sound)
		}
		switch spec := c.s.Devices[d.Device].Base().(type) {
		case *setup.Esc:
			c.controller(d, spec, rest)
		case *setup.OnOff:
			c.threshold(d, spec)
		case *setup.StepBox:
			c.stepBox(d, spec)
		case *setup.Servo:
			if slices.Contains(c.s.Link.OneBit, d.pin.Channel) {
				c.find("servo_on_one_bit", Warning, fmt.Sprintf("devices[%d].on", d.Device),
					"put it on a channel that carries everything between",
					"%s is on channel %d, which arrives as full one way or full the other: it has no place "+
						"between its ends", c.name(d), d.pin.Channel)
			}
		}
	}
}

func (c *checker) name(d driven) string { return d.Name(c.s) }

// atRest plays the first moment with every hand off and all at its start.
func (c *checker) atRest() *signal.State {
	st, hands := c.p.PowerOn(), c.p.Ready()
	for range 2 { // a half-rate channel has it in the second frame at the latest
		c.p.Step(st, hands)
	}
	return st
}

// controller judges a motor with its controller.
func (c *checker) controller(d driven, esc *setup.Esc, rest *signal.State) {
	where, u := fmt.Sprintf("devices[%d]", d.Device), esc.LearnedUS
	if !c.isDriven(d.Output) {
		return
	}
	us := c.pulseOn(d, rest)
	v, _ := c.p.Does(d.Device, us)
	if us != 0 && v != 0 && d.Moves(c.s, v) {
		rule, words := "hums_at_rest", "hums"
		if math.Abs(v) > 20 {
			rule, words = "turns_at_rest", "turns"
		}
		c.find(rule, Warning, where+".learned_us.neutral",
			fmt.Sprintf("let the controller learn its neutral anew, or move the centre of %s until it gets %s",
				c.s.OutputLabel(d.Output), figure(u.Neutral)),
			"%s %s with hands off, at %.0f: it gets %s us and has learned its neutral at %s", c.name(d),
			words, math.Abs(v), figure(us), figure(u.Neutral))
	}
	never := d.Low > u.Neutral+esc.DeadUS || d.High < u.Neutral-esc.DeadUS
	if slices.Contains(c.s.Link.OneBit, d.pin.Channel) {
		never = math.Abs(d.Low-u.Neutral) > esc.DeadUS && math.Abs(d.High-u.Neutral) > esc.DeadUS
	}
	if esc.NeedsNeutral && never {
		c.find("neutral_never", Warning, where+".needs_neutral",
			"let it learn its neutral where the function passes, or move its ends and centre",
			"%s waits for its neutral, %s us, which never comes: what arrives goes from %s to %s, so the "+
				"motor never turns", c.name(d), figure(u.Neutral), figure(d.Low), figure(d.High))
	}
	c.fullPower(d, esc)
	c.staysOpen(d, esc)
}

// pulseOn gives the pulse on the pin of a device.
func (c *checker) pulseOn(d driven, st *signal.State) float64 {
	return st.At(c.p.Pins[d.Ref.Receiver][d.Ref.Pin].US)
}

func (c *checker) isDriven(output int) bool { return len(c.p.Routes[output].Terms) > 0 }

// fullPower tells of a motor that nobody holds back and that never turns fully.
func (c *checker) fullPower(d driven, esc *setup.Esc) {
	o, asked := &c.s.Outputs[d.Output], c.reach.asked(d.Output)
	if o.Reverse {
		asked = span{-asked.High, -asked.Low}
	}
	for _, end := range []struct {
		reached bool
		at      float64
	}{{asked.High >= 100 && o.High >= 100, o.High}, {asked.Low <= -100 && o.Low <= -100, o.Low}} {
		us := c.p.Arriving(d.pin.Channel, c.p.PulseOf(end.at))
		v, ok := c.p.Does(d.Device, us)
		if !end.reached || !ok || v == 0 || math.Abs(v) >= 98 || esc.Reverse == "brake_first" && v < 0 {
			continue
		}
		learned := esc.LearnedUS.High
		if v < 0 {
			learned = esc.LearnedUS.Low
		}
		c.find("full_power_never", Note, fmt.Sprintf("devices[%d].learned_us", d.Device),
			"let the controller learn its ends anew, or widen the function's end",
			"%s never gets beyond %.0f of its power: at the end of %s it gets %s us and has learned %s",
			c.name(d), math.Abs(v), c.s.OutputLabel(d.Output), figure(us), figure(learned))
	}
}

// staysOpen tells of a lever that stays where it is left and drives a motor.
func (c *checker) staysOpen(d driven, esc *setup.Esc) {
	if esc.NeedsNeutral || d.Harm(c.s) == "" {
		return // it waits by itself, or does no harm
	}
	for _, i := range loss.Levers(c.s, d.Output) {
		control := c.s.Transmitter.Controls[i]
		watched := slices.ContainsFunc(c.s.StartCheck,
			func(e setup.StartEntry) bool { return e.Control == control.ID })
		if control.Axis == nil || control.Axis.Spring != "none" || watched {
			continue
		}
		c.find("throttle_stays", Note, fmt.Sprintf("transmitter.controls[%d]", i),
			"let the start check wait for it, or use one that springs back",
			"%s stays where it is left and drives %s: it can turn as soon as the transmitter is on",
			c.s.ControlLabel(i), c.name(d))
	}
}

// threshold tells of what never comes on, or never goes off.
func (c *checker) threshold(d driven, on *setup.OnOff) {
	if !c.isDriven(d.Output) {
		return
	}
	at, below, where := on.AtUS, on.TurnsOn == "below", fmt.Sprintf("devices[%d].at_us", d.Device)
	if d.pin.Switch != nil {
		at, below, where = d.pin.Switch.AtUS, d.pin.Switch.On == "below", d.Ref.Item().Path()+".switch.at_us"
	}
	canOn, canOff := d.High > at, d.Low <= at
	if below {
		canOn, canOff = d.Low < at, d.High >= at
	}
	switch {
	case !canOn:
		c.find("never_on", Warning, where, "move the threshold between the two ends of the function",
			"%s never comes on: it turns at %s us, and what arrives goes from %s to %s", c.name(d),
			figure(at), figure(d.Low), figure(d.High))
	case !canOff:
		c.find("never_off", Warning, where, "move the threshold between the two ends of the function",
			"%s is always on: it turns at %s us, and what arrives goes from %s to %s", c.name(d), figure(at),
			figure(d.Low), figure(d.High))
	}
}

// stepBox tells of steps that are never reached.
func (c *checker) stepBox(d driven, box *setup.StepBox) {
	if !c.isDriven(d.Output) {
		return
	}
	pulse := c.s.Transmitter.Pulse
	up, down := pulse.Percent(d.High) > box.At, pulse.Percent(d.Low) < -box.At
	where := fmt.Sprintf("devices[%d].at", d.Device)
	never := func(steps string) {
		c.find("step_never", Warning, where, "let the function go beyond both thresholds, or lower them",
			"%s never gets to %s: it steps beyond %s and −%s, and what arrives goes from %s to %s",
			c.name(d), steps, words.SignedShort(box.At), figure(box.At), words.SignedShort(pulse.Percent(d.Low)),
			words.SignedShort(pulse.Percent(d.High)))
	}
	switch {
	case !up && box.Start < box.Steps:
		never(steps(box.Start+1, box.Steps))
	case !down && (box.Start > 1 || up):
		never("an earlier step again")
	}
}

func steps(from, to int) string {
	if from == to {
		return fmt.Sprintf("step %d", from)
	}
	return fmt.Sprintf("steps %d to %d", from, to)
}

// figure is a pulse without needless decimals.
func figure(us float64) string { return strings.TrimSuffix(words.Figure(us), ".0") }
