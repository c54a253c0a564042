package check

import (
	"fmt"
	"math"
	"slices"

	"axtren/core/setup"
	"axtren/core/signal"
	"axtren/core/words"
)

// rules judges what switches do by what then happens on the model.
func (c *checker) rules() {
	for _, d := range c.drivenDevices() {
		if d.Kills(c.s) != "" {
			c.kill(d)
		}
	}
	for i := range c.s.Logic {
		c.tooShort(i)
	}
	for i := range c.s.Patterns {
		c.tooQuick(i)
	}
	for i := range c.s.Sequences {
		c.cannotFollow(i)
	}
	c.alarms()
}

// cannotFollow tells of a servo that a sequence asks to go faster than it can: the others do not wait for it.
func (c *checker) cannotFollow(i int) {
	sq := &c.s.Sequences[i]
	for e := range c.s.Graph().To(setup.IsSequence.At(i)) {
		if e.From.Kind != setup.IsMix || e.Role != setup.ReadsValue {
			continue
		}
		m := &c.s.Mixes[e.From.Index]
		output := c.s.Item(m.To).Index
		o := &c.s.Outputs[output]
		track := &sq.Tracks[e.Sub]
		fastest, from := 0.0, 0.0 // percent a second of the servo's way
		for k := 1; k < len(track.Keys); k++ {
			was, next := track.Keys[k-1], track.Keys[k]
			gain := m.Gain.Pos
			if was[1]+next[1] < 0 {
				gain = m.Gain.Neg
			}
			speed := math.Abs((next[1]-was[1])*gain/100*(o.High-o.Low)/200) / (next[0] - was[0])
			if speed > fastest {
				fastest, from = speed, was[0]
			}
		}
		for _, k := range c.s.Drives(output) {
			servo, ok := c.s.Devices[k].Spec.(*setup.Servo)
			if !ok || servo.SpeedS == 0 || fastest <= 200/servo.SpeedS+1e-9 {
				continue
			}
			c.find("cannot_follow", Warning, fmt.Sprintf("sequences[%d].tracks", i),
				"give it more time there, or use a quicker servo",
				"%s asks %s from %s s on for %s %% a second, and %s makes %s: the others do not wait for it",
				c.s.Label(setup.IsSequence.At(i)), c.s.OutputLabel(output), words.Short(from),
				words.Short(math.Round(fastest)), c.s.DeviceLabel(k), words.Short(math.Round(200/servo.SpeedS)))
			return
		}
	}
}

// trySeconds is how long a movement of the hands is tried, s.
const trySeconds = 3

// handMove is one control moved to a value.
type handMove struct {
	control int
	to      float64
}

// handMoves lists what can be moved of what an output depends on.
func (c *checker) handMoves(output int, hands signal.Hands) []handMove {
	var list []handMove
	for _, i := range setup.Only(setup.IsControl, c.s.Graph().Behind(setup.IsOutput.At(output))) {
		places := []float64{-100, 100}
		if sw := c.s.Transmitter.Controls[i].Switch; sw != nil {
			places = nil
			for k := range sw.Positions {
				places = append(places, float64(k))
			}
		}
		for _, to := range places {
			if hands[i] != to {
				list = append(list, handMove{i, to})
			}
		}
	}
	return list
}

// kill judges a relay that kills an engine: whether a hand can bring that about, and whether it does so as
// the start check waits for it. What can be thrown while a motor turns is turnedAtPower.
func (c *checker) kill(d driven) {
	where := fmt.Sprintf("devices[%d].kills", d.Device)
	rest := c.atRest()
	killed := func(st *signal.State) bool {
		return (st.At(c.p.Devices[d.Device].On) != 0) == (d.Kills(c.s) == "on")
	}
	hands := c.p.Ready()
	can := killed(rest)
	for _, m := range c.handMoves(d.Output, hands) {
		if can {
			break
		}
		st := c.p.PowerOn()
		st.CopyFrom(rest)
		moved := slices.Clone(hands)
		moved[m.control] = m.to
		for range int(trySeconds / c.s.Transmitter.FrameS()) {
			c.p.Step(st, moved)
			can = can || killed(st)
		}
	}
	switch {
	case !can:
		c.find("no_kill", Warning, where, "let a switch that stays where it is put move it",
			"no single movement of a hand lets %s kill the engine", c.name(d))
	case !killed(rest) && c.waitedFor(d.Output):
		c.find("kill_wrong_level", Warning, where,
			"turn its function round, or let the start check wait for the other position",
			"with the start check met %s lets the engine run: its kill is on the wrong level, or "+
				"the check waits for the "+
				"wrong position", c.name(d))
	}
}

// waitedFor tells whether the start check waits for something that moves an output.
func (c *checker) waitedFor(output int) bool {
	controls := setup.Only(setup.IsControl, c.s.Graph().Behind(setup.IsOutput.At(output)))
	return slices.ContainsFunc(c.s.StartCheck, func(e setup.StartEntry) bool {
		return slices.Contains(controls, c.s.Item(e.Control).Index)
	})
}

// tooShort tells of a rule that waits for longer than what it waits for can last.
func (c *checker) tooShort(i int) {
	b := &c.s.Logic[i]
	timer, ok := b.Spec.(*setup.Timer)
	if !ok || b.Block != "ton" {
		return
	}
	item := c.s.Item(setup.ID(timer.In))
	if item.Kind != setup.IsBlock {
		return
	}
	of := &c.s.Logic[item.Index]
	lasts := -1.0
	switch spec := of.Spec.(type) {
	case *setup.Edge:
		lasts = c.s.Transmitter.FrameS()
	case *setup.Timer:
		if of.Block == "tp" {
			lasts = spec.ForS
		}
	}
	if lasts < 0 || lasts > timer.ForS {
		return
	}
	c.find("press_too_short", Warning, fmt.Sprintf("logic[%d].for_s", i),
		"wait for less, or let the other last longer",
		"%s never comes on: it waits until %s has lasted %s s, and that lasts %s s", c.s.Label(setup.IsBlock.At(i)),
		c.s.Label(item), words.Short(timer.ForS), words.Short(lasts))
}

// tooQuick tells of flashes that a channel cannot carry: a step is over before the channel is told anew.
func (c *checker) tooQuick(i int) {
	p := &c.s.Patterns[i]
	shortest := math.Inf(1)
	for k, step := range p.Steps {
		if p.Loop || k < len(p.Steps)-1 {
			shortest = min(shortest, step[1])
		}
	}
	for e := range c.s.Graph().To(setup.IsPattern.At(i)) {
		if e.From.Kind != setup.IsMix {
			continue
		}
		output := c.s.Item(c.s.Mixes[e.From.Index].To).Index
		for _, ref := range c.s.Carriers(output) {
			_, pin := c.s.Pin(ref)
			anew := c.s.Transmitter.FrameS()
			if slices.Contains(c.s.Link.HalfRate, pin.Channel) {
				anew *= 2
			}
			if shortest >= anew-1e-9 {
				continue
			}
			c.find("blink_too_quick", Warning, fmt.Sprintf("patterns[%d].steps", i),
				fmt.Sprintf("let each step last %s s at least, or move it to a quicker channel", words.Short(anew)),
				"%s has a step of %s s, and channel %d is told anew every %s s: some of it never arrives",
				c.s.Label(setup.IsPattern.At(i)), words.Short(shortest), pin.Channel, words.Short(anew))
			return
		}
	}
}

// narrow is a width of a start check that a hand hardly finds on a lever that stays where it is left,
// percent. Common practice, no source.
const narrow = 4

// alarms tells of entries of the start check that are hardly ever met, so that the alarm sounds each time
// and gets switched off.
func (c *checker) alarms() {
	for i, e := range c.s.StartCheck {
		at := c.s.Item(e.Control)
		axis := c.s.Transmitter.Controls[at.Index].Axis
		if axis == nil || axis.Spring != "none" || e.Is.To-e.Is.From >= narrow || e.Is.From <= -100 ||
			e.Is.To >= 100 {
			continue
		}
		c.find("alarm_each_time", Note, fmt.Sprintf("start_check[%d].is", i),
			"widen it, or let it wait for an end of the lever's way",
			"the start check wants %s within %s %% of its way, where a hand hardly puts it: an "+
				"alarm that sounds each "+
				"time gets switched off", c.s.ControlLabel(at.Index), words.Short(e.Is.To-e.Is.From))
	}
}
