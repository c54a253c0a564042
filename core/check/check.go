// Package check finds what is wrong, or worth a second look, in a setup that
// can be read and played: everything that needs no search.
package check

import (
	"cmp"
	"fmt"
	"math"
	"slices"

	"axtren/core/codes"
	"axtren/core/kit"
	"axtren/core/loss"
	"axtren/core/setup"
	"axtren/core/signal"
	"axtren/core/stage"
	"axtren/core/words"
)

// Cannot is the rule of what this transmitter cannot do.
const Cannot = "cannot"

// Severities of a finding, the worst first.
const (
	Error   = words.Error
	Warning = words.Warning
	Note    = words.Note
)

// Finding is one thing that a person should look at.
type Finding struct {
	Rule     string `json:"rule"`
	Severity string `json:"severity"`
	Where    string `json:"where"` // place in the document
	Message  string `json:"message"`
	Remedy   string `json:"remedy"`
}

// Report is all that a check says.
type Report struct {
	Findings []Finding `json:"findings"`
}

// Clean tells whether there is nothing to look at.
func (r *Report) Clean() bool { return len(r.Findings) == 0 }

// Problems reports a document that cannot be read or played.
func Problems(problems setup.Problems) *Report {
	r := &Report{Findings: []Finding{}}
	for _, p := range problems {
		message := p.Message
		if p.Value != "" {
			message += " (it is " + p.Value + ")"
		}
		if p.Line > 0 {
			message = fmt.Sprintf("line %d: %s", p.Line, message)
		}
		r.Findings = append(r.Findings, Finding{"format", Error, p.Path, message, p.Remedy})
	}
	return r
}

// Check looks at a compiled setup. In a piece of a shelf there is nothing to find: what it is in says what is
// asked of it.
func Check(p *signal.Program) *Report {
	c := &checker{p: p, s: p.Setup(), reach: newReach(p),
		report: &Report{Findings: []Finding{}}}
	if c.s.Piece != nil {
		return c.report
	}
	c.outputs()
	c.starts()
	c.pins()
	c.unused()
	c.mixes()
	c.module()
	for _, h := range loss.Hazards(p) {
		c.find(h.Rule, h.Severity, h.Where, h.Remedy, "%s", h.Says)
	}
	c.motion()
	c.rules()
	c.turnedAtPower()
	c.kit()
	c.wiring()
	for _, p := range codes.Problems(c.s) {
		c.find(p.Rule, Warning, p.Where, p.Do, "%s", p.Says)
	}
	for _, m := range kit.Misfits(c.s) {
		c.find(Cannot, Warning, m.Where, m.Remedy, "%s", m.Says)
	}
	c.idle()
	for _, f := range stage.Build(p).Faults() {
		c.find("picture", Warning, f.Path, f.Remedy, "%s", f.Message)
	}
	slices.SortStableFunc(c.report.Findings, func(a, b Finding) int {
		return Worse(a.Severity, b.Severity)
	})
	return c.report
}

// Worse compares two severities: what is worse stands first.
func Worse(a, b string) int {
	return cmp.Compare(slices.Index(severities, a), slices.Index(severities, b))
}

// severities are the severities, the worst first.
var severities = []string{Error, Warning, Note}

type checker struct {
	p      *signal.Program
	s      *setup.Setup
	reach  *reach
	report *Report
}

func (c *checker) find(rule, severity, where, remedy, format string, args ...any) {
	c.report.Findings = append(c.report.Findings, Finding{rule, severity, where, fmt.Sprintf(format, args...),
		remedy})
}

func (c *checker) outputs() {
	for i := range c.s.Outputs {
		o, where, name := &c.s.Outputs[i], fmt.Sprintf("outputs[%d]", i), c.s.OutputLabel(i)
		if len(c.p.Routes[i].Terms) == 0 {
			c.find("not_driven", Warning, where, "add a mix to it, or remove it", "nothing moves %s", name)
		}
		c.cut(i, where, name)
		c.carried(i, where, name)
		pulse := c.s.Transmitter.Pulse
		for _, end := range ends(o) {
			exact := pulse.CentreUS + end.at/100*pulse.HalfSpanUS
			if sent := c.p.PulseOf(end.at); math.Abs(sent-exact) > pulse.StepUS {
				c.find("end_out_of_reach", Warning, where+"."+end.field,
					fmt.Sprintf("use %s, or widen the pulse limits",
						words.SignedShort(pulse.Percent(sent))),
					"%s never gets to its %s end %s: its pulse of %s us is limited to %s", name, end.field,
					words.SignedShort(end.at), words.Figure(exact), words.Figure(sent))
			}
		}
	}
}

// end is one end of an output, in the order in which they are looked at.
type end struct {
	field string
	at    float64
}

func ends(o *setup.Output) []end { return []end{{"low", o.Low}, {"high", o.High}} }

// carried tells of an output that no pin carries.
func (c *checker) carried(i int, where, name string) {
	if len(c.s.Receivers) == 0 || len(c.s.Carriers(i)) > 0 {
		return
	}
	channel := c.s.Outputs[i].Channel
	for k := 1; k <= 48; k++ {
		if c.s.Link.Sent(k) == channel {
			c.find("not_carried", Warning, where+".channel", "put a pin on its channel, or take it out",
				"no pin carries %s: channel %d goes nowhere", name, channel)
			return
		}
	}
	c.find("not_carried", Warning, "link.order", "put it into the order, or move it to another channel",
		"the order on the air leaves channel %d out, so %s never arrives", channel, name)
}

// cut tells where more than 100 is asked, and nothing shares it out.
func (c *checker) cut(i int, where, name string) {
	share := c.p.Routes[i].Share
	if share >= 0 {
		return // somebody has said what is to happen then, also where each is to be cut alone
	}
	sum := c.reach.sum(i)
	if sum.Low >= -100 && sum.High <= 100 {
		return
	}
	most := "at most "
	if c.reach.exact[i] {
		most = ""
	}
	c.find("cut_short", Note, where, "lower a gain, or let it come down together with others, in Mixing",
		"%s is asked for %s%s to %s and is cut at 100",
		name, most, words.SignedShort(sum.Low), words.SignedShort(sum.High))
}

// starts compares where an output wakes with where it must.
func (c *checker) starts() {
	st := c.p.PowerOn()
	c.p.Step(st, c.p.Rest())
	for i, o := range c.s.Outputs {
		if o.Start == nil {
			continue
		}
		if !c.p.Sending(st) {
			continue // the start check holds it back until the hands are elsewhere
		}
		if at := st.At(c.p.Routes[i].P); math.Abs(at-o.Start.Value) > o.Start.Within+1e-9 {
			c.find("wakes_elsewhere", Error, fmt.Sprintf("outputs[%d].start", i),
				"change what is at rest, or the start that is asked for",
				"%s wakes at %s, not within %s of %s", c.s.OutputLabel(i), words.SignedShort(at),
				words.Figure(o.Start.Within), words.SignedShort(o.Start.Value))
		}
	}
}

func (c *checker) pins() {
	for r := range c.s.Receivers {
		rx := &c.s.Receivers[r]
		for j := range rx.Pins {
			pin, ref := &rx.Pins[j], setup.PinRef{Receiver: r, Pin: j}
			if c.s.Carried(ref) < 0 {
				c.find("pin_empty", Warning, ref.Item().Path(), "give the pin a channel that an output is on",
					"nothing is sent on channel %d, so pin %d of %s never gets a pulse", pin.Channel, pin.Pin,
					c.s.ReceiverLabel(rx))
			}
		}
	}
}

// unused tells of controls that nothing names.
func (c *checker) unused() {
	for i := range c.s.Transmitter.Controls {
		if !c.s.Graph().IsNamed(setup.IsControl.At(i)) {
			c.find("control_unused", Note, fmt.Sprintf("transmitter.controls[%d]", i),
				"use it, or leave it free on purpose", "%s is used by nothing", c.s.ControlLabel(i))
		}
	}
}

func (c *checker) mixes() {
	before := map[setup.ID][]*setup.Mix{}
	for i := range c.s.Mixes {
		m := &c.s.Mixes[i]
		if m.Combine == "times" {
			if sum, _ := c.reach.asks(before[m.To]); sum == (span{0, 0}) {
				c.find("times_nothing", Warning, fmt.Sprintf("mixes[%d].combine", i),
					"put a mix before it, or let it be added",
					"this mix multiplies, and nothing stands before it: %s stays at its middle",
					c.s.OutputLabel(c.s.Item(m.To).Index))
			}
		}
		before[m.To] = append(before[m.To], m)
		if m.From.Ref == "" && m.From.Number == 0 && m.Bias == 0 && m.Combine == "add" {
			c.find("moved_by_nothing", Note, fmt.Sprintf("mixes[%d].from", i),
				"choose what moves it, or take it out", "a mix to %s comes from nothing yet",
				c.s.OutputLabel(c.s.Item(m.To).Index))
		}
		if m.When == nil {
			continue
		}
		switch c.reach.truth(*m.When) {
		case always:
			c.find("always_true", Warning, fmt.Sprintf("mixes[%d].when", i),
				"leave the condition out, or mend it", "%q always holds", string(*m.When))
		case never:
			c.find("never_true", Warning, fmt.Sprintf("mixes[%d].when", i),
				"take the mix out, or mend its condition", "%q never holds, so this mix does nothing",
				string(*m.When))
		}
	}
}

// idle tells of what waits for something that no hand can bring about: what is new, and
// of which nobody has chosen yet what moves it.
func (c *checker) idle() {
	const powerOn = setup.Truth("power_on")
	idle := func(where, name string) {
		c.find("moved_by_nothing", Note, where, "choose what moves it, or take it out",
			"nothing moves %s yet", name)
	}
	for i, st := range c.s.Steppers {
		waits := func(t *setup.Truth) bool { return t == nil || *t == powerOn }
		if waits(st.Up) && waits(st.Down) {
			idle(fmt.Sprintf("steppers[%d]", i), c.s.Named(st.ID))
		}
	}
	for i, b := range c.s.Logic {
		in := setup.Truth("")
		switch spec := b.Spec.(type) {
		case *setup.Edge:
			in = spec.In
		case *setup.Toggle:
			in = spec.In
		case *setup.Timer:
			in = spec.In
		}
		if in == powerOn && b.Block != "tof" && b.Block != "f_trig" || in == "not "+powerOn &&
			b.Block == "f_trig" {
			idle(fmt.Sprintf("logic[%d].in", i), c.s.Named(b.ID))
		}
	}
	for i, a := range c.s.Announcements {
		if a.When == powerOn && !a.AtStart {
			idle(fmt.Sprintf("announcements[%d].when", i), "“"+a.Say+"”")
		}
	}
}

// module compares the range that an add-on module was told with the one sent.
func (c *checker) module() {
	u, pulse := c.s.Link.LearnedUS, c.s.Transmitter.Pulse
	if u == nil {
		return
	}
	low, high := c.p.PulseOf(-100), c.p.PulseOf(100)
	if math.Abs(u.Low-low) > 1 || math.Abs(u.Centre-pulse.CentreUS) > 1 || math.Abs(u.High-high) > 1 {
		c.find("module_range", Warning, "link.learned_us",
			fmt.Sprintf("tell the module %s, %s, %s us", words.Figure(low), words.Figure(pulse.CentreUS),
				words.Figure(high)),
			"the module was told %s, %s, %s us, the transmitter sends %s, %s, %s: full travel does not "+
				"arrive as "+
				"full travel",
			words.Figure(u.Low), words.Figure(u.Centre), words.Figure(u.High), words.Figure(low),
			words.Figure(pulse.CentreUS), words.Figure(high))
	}
}
