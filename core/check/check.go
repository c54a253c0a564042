// Package check finds what is wrong, or worth a second look, in a setup that
// can be read and played: everything that needs no search.
package check

import (
	"cmp"
	"fmt"
	"math"
	"slices"

	"axtren/core/setup"
	"axtren/core/signal"
	"axtren/core/stage"
)

// Severities of a finding, the worst first.
const (
	Error   = "error"
	Warning = "warning"
	Note    = "note"
)

// Finding is one thing that a person should look at.
type Finding struct {
	Rule     string `json:"rule"`
	Severity string `json:"severity"`
	Where    string `json:"where"` // place in the document
	Message  string `json:"message"`
	Remedy   string `json:"remedy"`
}

// Claim is the verdict on one claim.
type Claim struct {
	ID      string `json:"id"`
	Verdict string `json:"verdict"` // holds, fails, undecided
	Steps   []Step `json:"steps"`
	States  int    `json:"states"` // how many were visited
}

// Step is one row of the script that shows a failing claim.
type Step struct {
	T       float64 `json:"t_s"`
	Control string  `json:"control"`
	Value   string  `json:"value"`
}

// Report is all that a check says.
type Report struct {
	Findings []Finding `json:"findings"`
	Claims   []Claim   `json:"claims"`
}

// Clean tells whether there is nothing to look at.
func (r *Report) Clean() bool { return len(r.Findings) == 0 && len(r.Claims) == 0 }

// Problems reports a document that cannot be read or played.
func Problems(problems setup.Problems) *Report {
	r := &Report{Findings: []Finding{}, Claims: []Claim{}}
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

// Check looks at a compiled setup. Claims are undecided: they are not searched yet.
func Check(p *signal.Program) *Report {
	c := &checker{p: p, s: p.Setup(), reach: newReach(p.Setup()), report: &Report{Findings: []Finding{}, Claims: []Claim{}}}
	c.outputs()
	c.starts()
	c.pins()
	c.unused()
	c.mixes()
	c.module()
	for _, f := range stage.Build(p).Faults() {
		c.find("picture", Warning, f.Path, f.Remedy, "%s", f.Message)
	}
	for _, claim := range c.s.Claims {
		c.report.Claims = append(c.report.Claims, Claim{ID: string(claim.ID), Verdict: "undecided", Steps: []Step{}})
	}
	order := []string{Error, Warning, Note}
	slices.SortStableFunc(c.report.Findings, func(a, b Finding) int {
		return cmp.Compare(slices.Index(order, a.Severity), slices.Index(order, b.Severity))
	})
	return c.report
}

type checker struct {
	p      *signal.Program
	s      *setup.Setup
	reach  *reach
	report *Report
}

func (c *checker) find(rule, severity, where, remedy, format string, args ...any) {
	c.report.Findings = append(c.report.Findings, Finding{rule, severity, where, fmt.Sprintf(format, args...), remedy})
}

func (c *checker) outputs() {
	for i := range c.s.Outputs {
		o, where, name := &c.s.Outputs[i], fmt.Sprintf("outputs[%d]", i), c.s.OutputLabel(i)
		if len(c.p.Routes[i].Terms) == 0 {
			c.find("not_driven", Warning, where, "add a mix to it, or take it out", "nothing drives %s", name)
		}
		c.cut(i, where, name)
		pulse := c.s.Transmitter.Pulse
		for field, end := range map[string]float64{"low": o.Low, "high": o.High} {
			exact := pulse.CentreUS + end/100*pulse.HalfSpanUS
			if sent := c.p.PulseOf(end); math.Abs(sent-exact) > pulse.StepUS {
				c.find("end_out_of_reach", Warning, where+"."+field, fmt.Sprintf("use %s, or widen the pulse limits", signal.SignedShort(100*(sent-pulse.CentreUS)/pulse.HalfSpanUS)),
					"%s never gets to its %s end %s: its pulse of %s us is limited to %s", name, field, signal.SignedShort(end), signal.Figure(exact), signal.Figure(sent))
			}
		}
	}
}

// cut tells where more than 100 is asked, and nothing shares it out.
func (c *checker) cut(i int, where, name string) {
	share := c.p.Routes[i].Share
	if share >= 0 && c.s.Shares[share].Rule != "clip" {
		return
	}
	sum := c.reach.sum(i)
	if sum.low < -100 || sum.high > 100 {
		c.find("cut_short", Note, where, "lower a gain, or let a share bring its outputs down together", "%s is asked for %s to %s and is cut at 100",
			name, signal.SignedShort(sum.low), signal.SignedShort(sum.high))
	}
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
			c.find("wakes_elsewhere", Error, fmt.Sprintf("outputs[%d].start", i), "change what is at rest, or the start that is asked for",
				"%s wakes at %s, not within %s of %s", c.s.OutputLabel(i), signal.SignedShort(at), signal.Figure(o.Start.Within), signal.SignedShort(o.Start.Value))
		}
	}
}

func (c *checker) pins() {
	for r := range c.s.Receivers {
		rx := &c.s.Receivers[r]
		for j := range rx.Pins {
			pin, where := &rx.Pins[j], fmt.Sprintf("receivers[%d].pins[%d]", r, j)
			out := c.s.OutputOn(c.s.Link.Sent(pin.Channel))
			if out < 0 || pin.Channel > c.s.Link.Channels {
				c.find("pin_empty", Warning, where, "give the pin a channel that an output is on", "nothing is sent on channel %d, so pin %d of %s never gets a pulse", pin.Channel, pin.Pin, rx.ID)
				continue
			}
			mode, _ := signal.LossOf(c.s, rx, pin)
			if loss := c.s.Outputs[out].Loss; loss != nil && loss.Mode != mode {
				c.find("loss_not_kept", Warning, where, "use a pin that can, another receiver, or another loss mode",
					"%s asks for %s on signal loss; pin %d of %s cannot do that and will %s", c.s.OutputLabel(out), loss.Mode, pin.Pin, rx.ID, mode)
			}
			c.boxes(pin, mode)
		}
	}
}

// boxes tells of a step box that never learns of a loss.
func (c *checker) boxes(pin *setup.Pin, mode string) {
	for i, d := range c.s.Devices {
		box, ok := d.Spec.(*setup.StepBox)
		if ok && box.Loss != nil && c.s.Pin(d.On) == pin && mode != "cut" {
			c.find("box_never_learns", Warning, fmt.Sprintf("devices[%d].loss", i), "let its output ask for cut, on a pin that can",
				"%s goes to step %d when its pulses stop, but on signal loss its pin will %s", c.s.DeviceLabel(i), *box.Loss, mode)
		}
	}
}

// unused tells of controls that nothing depends on.
func (c *checker) unused() {
	used := c.reach.used()
	for i := range c.s.Transmitter.Controls {
		if !used[i] {
			c.find("control_unused", Note, fmt.Sprintf("transmitter.controls[%d]", i), "use it, or leave it free on purpose", "%s is used by nothing", c.s.ControlLabel(i))
		}
	}
}

func (c *checker) mixes() {
	for i, m := range c.s.Mixes {
		if m.When == nil {
			continue
		}
		switch c.reach.truth(*m.When) {
		case always:
			c.find("always_true", Warning, fmt.Sprintf("mixes[%d].when", i), "leave the condition out, or mend it", "%q always holds", string(*m.When))
		case never:
			c.find("never_true", Warning, fmt.Sprintf("mixes[%d].when", i), "take the mix out, or mend its condition", "%q never holds, so this mix does nothing", string(*m.When))
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
		c.find("module_range", Warning, "link.learned_us", fmt.Sprintf("tell the module %s, %s, %s us", signal.Figure(low), signal.Figure(pulse.CentreUS), signal.Figure(high)),
			"the module was told %s, %s, %s us, the set sends %s, %s, %s: full travel does not arrive as full travel",
			signal.Figure(u.Low), signal.Figure(u.Centre), signal.Figure(u.High), signal.Figure(low), signal.Figure(pulse.CentreUS), signal.Figure(high))
	}
}
