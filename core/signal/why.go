package signal

import (
	"fmt"
	"math"
	"strings"

	"axtren/core/setup"
	"axtren/core/words"
)

// Reason is one step of the arithmetic behind a value: Sum, worked out from the
// values of From, gives Value. Every value is read from the state; nothing is
// computed here.
type Reason struct {
	Name  string   `json:"name"`           // ends −96 … +94
	Sum   string   `json:"sum,omitempty"`  // −72.3 / 100 × 96; empty where the value comes from outside
	Value float64  `json:"value"`          // in Unit
	Unit  string   `json:"unit"`           // % or µs
	Path  string   `json:"path,omitempty"` // place in the document that says so
	From  []Reason `json:"from,omitempty"`
}

// inner puts a figure in brackets where it is negative, for the middle of a sum.
func inner(v float64) string { return bracket(words.Figure(v)) }

// innerShort is inner for settings.
func innerShort(v float64) string { return bracket(words.Short(v)) }

func bracket(figure string) string {
	if strings.HasPrefix(figure, "−") {
		return "(" + figure + ")"
	}
	return figure
}

// Why explains the pulse of output i in state st: the tree of its arithmetic
// from the pulse back to the hands.
func (p *Program) Why(st *State, i int) Reason { return why{p, st}.pulse(i) }

// WhyPin explains what stands on a pin.
func (p *Program) WhyPin(st *State, ref setup.PinRef) Reason { return why{p, st}.pin(ref) }

// Joints that WhyJoint explains, in the order of the route.
const (
	JointSum   = "sum"
	JointShare = "share"
	JointAsked = "asked"
	JointTurn  = "turn"
	JointEnds  = "ends"
	JointSlew  = "slew"
	JointPulse = "pulse"
)

// WhyJoint explains the value of output i at a joint; ok is false where it has
// no such joint.
func (p *Program) WhyJoint(st *State, i int, joint string) (r Reason, ok bool) {
	w := why{p, st}
	switch joint {
	case JointSum:
		return w.sum(i), true
	case JointShare:
		return w.share(i), true
	case JointAsked:
		return w.asked(i), true
	case JointTurn:
		return w.turned(i), true
	case JointEnds:
		return w.target(i), true
	case JointSlew:
		return w.position(i), true
	case JointPulse:
		return w.pulse(i), true
	}
	return Reason{}, false
}

// WhyDemand explains what comes out of demand i.
func (p *Program) WhyDemand(st *State, i int) Reason { return why{p, st}.demand(i) }

// WhyControl explains where control i stands.
func (p *Program) WhyControl(st *State, i int) Reason { return why{p, st}.control(i, p.numbers[i]) }

// WhyTerm explains what the k-th term of output i brings, after gain and bias.
func (p *Program) WhyTerm(st *State, i, k int) Reason {
	return why{p, st}.term(&p.Routes[i].Terms[k])
}

type why struct {
	p  *Program
	st *State
}

func (w why) at(slot Slot) float64 { return w.st.V[slot] }

func (w why) pulse(i int) Reason {
	r, pulse := &w.p.Routes[i], &w.p.pulse
	p := w.at(r.P)
	half := pulse.HalfSpanUS / 100
	sign := "+"
	if p < 0 {
		sign = "−"
	}
	sum := fmt.Sprintf("%s %s %s × %s", words.Short(pulse.CentreUS), sign, words.Figure(math.Abs(p)), words.Short(half))
	exact, us := pulse.CentreUS+float64(p*half), w.at(r.US)
	switch {
	case us == pulse.MinUS && exact < us || us == pulse.MaxUS && exact > us:
		sum += ", no further than " + words.Short(us)
	case math.Abs(exact-us) > 0.005:
		sum += ", in steps of " + words.Short(pulse.StepUS)
	}
	return Reason{Name: "pulse", Sum: sum, Value: us, Unit: "µs", Path: "transmitter.pulse", From: []Reason{w.position(i)}}
}

func (w why) position(i int) Reason {
	r, o := &w.p.Routes[i], &w.p.setup.Outputs[i]
	target := w.target(i)
	if r.P == r.Target {
		return target
	}
	sum := words.Figure(target.Value) + ", reached"
	if w.at(r.P) != target.Value {
		step := "on the way to " + words.Figure(target.Value)
		up, down := w.p.slewSteps(o)
		if w.at(r.P) < target.Value {
			sum = step + ", " + words.Figure(up) + " a frame"
		} else {
			sum = step + ", " + words.Figure(down) + " a frame"
		}
	}
	return Reason{Name: "slowed", Sum: sum, Value: w.at(r.P), Unit: "%", Path: outputPath(i, "slew_s"), From: []Reason{target}}
}

func (p *Program) slewSteps(o *setup.Output) (up, down float64) {
	c := compiler{s: p.setup}
	return c.perFrame(o.Slew.Up), c.perFrame(o.Slew.Down)
}

func outputPath(i int, field string) string { return fmt.Sprintf("outputs[%d].%s", i, field) }

func (w why) target(i int) Reason {
	r, o := &w.p.Routes[i], &w.p.setup.Outputs[i]
	v := w.at(r.Turned)
	way, end, field := v/100, o.High, "high"
	if v < 0 {
		way, end, field = -v/100, o.Low, "low"
	}
	sum := fmt.Sprintf("%s / 100 × %s", words.Figure(v), words.Short(math.Abs(end-o.Centre)))
	if o.Centre != 0 {
		sum = fmt.Sprintf("%s + %s / 100 × %s", words.Short(o.Centre), words.Figure(100*way), innerShort(end-o.Centre))
	}
	return Reason{Name: fmt.Sprintf("ends %s … %s", words.SignedShort(o.Low), words.SignedShort(o.High)), Sum: sum, Value: w.at(r.Target), Unit: "%",
		Path: outputPath(i, field), From: []Reason{w.turned(i)}}
}

func (w why) turned(i int) Reason {
	r := &w.p.Routes[i]
	asked := w.asked(i)
	if r.Turned == r.Asked {
		return asked
	}
	return Reason{Name: words.Reversed(true), Sum: "0 − " + inner(asked.Value), Value: w.at(r.Turned), Unit: "%",
		Path: outputPath(i, "reverse"), From: []Reason{asked}}
}

func (w why) asked(i int) Reason {
	r := &w.p.Routes[i]
	shared := w.share(i)
	if w.at(r.Asked) == shared.Value {
		return shared
	}
	return Reason{Name: "limited to 100", Sum: "cut from " + words.Figure(shared.Value), Value: w.at(r.Asked), Unit: "%",
		Path: fmt.Sprintf("outputs[%d]", i), From: []Reason{shared}}
}

func (w why) share(i int) Reason {
	r := &w.p.Routes[i]
	own := w.sum(i)
	before, after := w.at(r.Sum), w.at(r.Shared)
	if r.Share < 0 || before == after {
		return own
	}
	sh := w.p.setup.Shares[r.Share]
	most, from := 0.0, []Reason{own}
	for _, id := range sh.Outputs {
		other := w.p.setup.Item(id).Index
		most = max(most, math.Abs(w.at(w.p.Routes[other].Sum)))
		if other != i {
			from = append(from, w.sum(other))
		}
	}
	name, sum := words.WayOf(words.Rules, sh.Rule).Name, fmt.Sprintf("%s × 100 / %s", words.Figure(before), words.Figure(most))
	if sh.Rule == "keep_turn" {
		sum = fmt.Sprintf("%s + %s", words.Figure(before), inner(after-before))
		if after < before {
			sum = fmt.Sprintf("%s − %s", words.Figure(before), words.Figure(before-after))
		}
	}
	return Reason{Name: name, Sum: sum, Value: after, Unit: "%", Path: fmt.Sprintf("shares[%d]", r.Share), From: from}
}

func (w why) sum(i int) Reason {
	r := &w.p.Routes[i]
	acc := Reason{Name: "nothing is asked", Value: 0, Unit: "%", Path: fmt.Sprintf("outputs[%d]", i)}
	for k := range r.Terms {
		t := &r.Terms[k]
		m := &w.p.setup.Mixes[t.Mix]
		term := w.term(t)
		if k == 0 && m.Combine == "add" && t.Weight == None {
			acc = term
			continue
		}
		acc = Reason{Name: words.WayOf(words.Combines, m.Combine).Name, Sum: combineSum(m.Combine, acc.Value, term.Value), Value: w.at(t.Acc), Unit: "%",
			Path: fmt.Sprintf("mixes[%d].combine", t.Mix), From: []Reason{acc, term}}
		if t.Weight == None {
			continue
		}
		switch f := w.at(t.Weight); {
		case f == 0:
			acc.Name, acc.Sum = "left as it is, since "+string(*m.When)+" does not hold", words.Figure(acc.Value)
		case f < 1:
			acc.Name, acc.Sum = acc.Name+", fading", fmt.Sprintf("%s of the way to %s", words.Figure(f), acc.Sum)
		}
	}
	return acc
}

func combineSum(combine string, acc, v float64) string {
	switch combine {
	case "times":
		return fmt.Sprintf("%s × %s / 100", words.Figure(acc), inner(v))
	case "instead":
		return words.Figure(v)
	case "greatest":
		return fmt.Sprintf("the greater of %s and %s", words.Figure(acc), words.Figure(v))
	case "least":
		return fmt.Sprintf("the smaller of %s and %s", words.Figure(acc), words.Figure(v))
	}
	if v < 0 {
		return fmt.Sprintf("%s − %s", words.Figure(acc), words.Figure(-v))
	}
	return fmt.Sprintf("%s + %s", words.Figure(acc), words.Figure(v))
}

func (w why) term(t *Term) Reason {
	m := &w.p.setup.Mixes[t.Mix]
	path := fmt.Sprintf("mixes[%d]", t.Mix)
	src := w.source(m.From, t.In)
	if t.Shaped != t.In {
		src = Reason{Name: words.WayOf(words.Shapes, m.Shape).Name, Sum: m.Shape + " of " + words.Figure(src.Value), Value: w.at(t.Shaped), Unit: "%", Path: path + ".shape", From: []Reason{src}}
	}
	g := m.Gain.Pos
	if src.Value < 0 {
		g = m.Gain.Neg
	}
	if g == 100 && m.Bias == 0 {
		return src
	}
	sum := fmt.Sprintf("%s × %s / 100", words.Figure(src.Value), innerShort(g))
	if m.Bias != 0 {
		sum += " + " + innerShort(m.Bias)
	}
	return Reason{Name: "gain " + words.Short(g), Sum: sum, Value: w.at(t.V), Unit: "%", Path: path + ".gain", From: []Reason{src}}
}

func (w why) source(v setup.Value, slot Slot) Reason {
	s := w.p.setup
	src, _ := s.Source(v)
	switch src.Kind {
	case setup.SourceDemand:
		return w.demand(src.Index)
	case setup.SourceAsked:
		asked := w.asked(src.Index)
		return Reason{Name: "what " + s.OutputLabel(src.Index) + " is asked for", Sum: words.Figure(asked.Value), Value: asked.Value, Unit: "%",
			Path: fmt.Sprintf("outputs[%d]", src.Index), From: []Reason{asked}}
	case setup.SourceControl:
		return w.control(src.Index, slot)
	}
	return w.remembered(src, slot)
}

// remembered explains a block, stepper, sequence or pattern as a value, or a
// constant.
func (w why) remembered(src setup.Source, slot Slot) Reason {
	s, r := w.p.setup, Reason{Value: w.at(slot), Unit: "%"}
	switch src.Kind {
	case setup.SourceBlock:
		r.Name, r.Path = "block "+string(s.Logic[src.Index].ID), fmt.Sprintf("logic[%d]", src.Index)
		r.Sum, r.From = holds(r.Value > 0), w.inputs(&s.Logic[src.Index])
	case setup.SourceStepper:
		st := &s.Steppers[src.Index]
		r.Name, r.Path = "stepper "+string(st.ID), fmt.Sprintf("steppers[%d]", src.Index)
		r.Sum = "at step " + string(st.Steps[int(w.at(w.p.nodeValue[setup.IsStepper][src.Index]))].Name)
	case setup.SourceTrack:
		sq := &s.Sequences[src.Index]
		r.Name, r.Path = fmt.Sprintf("track %s of sequence %s", sq.Tracks[src.Sub].Name, sq.ID), fmt.Sprintf("sequences[%d]", src.Index)
		r.Sum = "at " + words.Figure(w.at(w.p.nodeValue[setup.IsSequence][src.Index])) + " s"
	case setup.SourcePattern:
		p := &s.Patterns[src.Index]
		r.Name, r.Path, r.Sum = "pattern "+string(p.ID), fmt.Sprintf("patterns[%d]", src.Index), "at rest"
		if n := w.at(w.p.patterns[w.p.patternAt[src.Index]].frames); n >= 0 {
			r.Sum = words.Figure(float64(n*s.Transmitter.FrameS())) + " s into its play"
		}
	default:
		r.Name = "always " + words.Short(src.Number)
	}
	return r
}

func holds(b bool) string {
	if b {
		return "holds"
	}
	return "does not hold"
}

// inputs are the truths that a block reads, as they stand; a value it reads
// stands in its own place.
func (w why) inputs(b *setup.Block) []Reason {
	var from []Reason
	_, truths := b.Reads()
	for _, t := range truths {
		if yes, ok := w.truth(t); ok {
			from = append(from, Reason{Name: string(t), Sum: holds(yes), Value: truth(yes)})
		}
	}
	return from
}

// truth reads a truth reference as it stands at the end of the frame.
func (w why) truth(t setup.Truth) (yes, ok bool) {
	f, err := w.p.setup.Fact(t)
	if err != nil {
		return false, false
	}
	switch f.Kind {
	case setup.FactPowerOn:
		yes = w.at(slotFirst) != 0
	case setup.FactPosition:
		yes = w.at(w.p.controls[f.Index]) == float64(f.Sub)
	case setup.FactBlock:
		yes = w.at(w.p.nodeValue[setup.IsBlock][f.Index]) != 0
	case setup.FactStep:
		yes = w.at(w.p.nodeValue[setup.IsStepper][f.Index]) == float64(f.Sub)
	case setup.FactSequence:
		at, end := w.at(w.p.nodeValue[setup.IsSequence][f.Index]), w.p.sequences[w.p.sequenceAt[f.Index]].end
		yes = [...]bool{at == 0, at > 0 && at < end, at == end}[f.Sub]
	}
	return yes != f.Not, true
}

func (w why) control(i int, slot Slot) Reason {
	ctl := w.p.setup.Transmitter.Controls[i]
	r := Reason{Name: w.p.setup.ControlLabel(i), Value: w.at(slot), Unit: "%", Path: fmt.Sprintf("transmitter.controls[%d]", i)}
	if ctl.Switch != nil {
		at := int(w.at(w.p.controls[i]))
		r.Sum = fmt.Sprintf("at %s, %d of %d", ctl.Switch.Positions[at], at+1, len(ctl.Switch.Positions))
		if slot == w.p.controls[i] {
			r.Unit = "" // nothing reads it as a number: it is its position
		}
	}
	return r
}

func (w why) demand(i int) Reason {
	d, sh := &w.p.setup.Demands[i], &w.p.Demands[i]
	path := fmt.Sprintf("demands[%d].", i)
	r := w.source(d.From, sh.In)
	step := func(slot Slot, name, sum, field string) {
		if slot != None {
			r = Reason{Name: name, Sum: sum, Value: w.at(slot), Unit: "%", Path: path + field, From: []Reason{r}}
		}
	}
	sum := "0, within " + words.Short(d.Deadband)
	if math.Abs(r.Value) > d.Deadband {
		sum = fmt.Sprintf("(%s − %s) × 100 / %s", words.Figure(math.Abs(r.Value)), words.Short(d.Deadband), words.Short(100-d.Deadband))
		if r.Value < 0 {
			sum = "−" + sum
		}
	}
	step(sh.Deadband, "nothing within "+words.Short(d.Deadband), sum, "deadband")
	step(sh.Expo, words.Expo(d.Expo), fmt.Sprintf("%s × %s + %s × %s³ / 10000", words.Figure(1-d.Expo/100), inner(r.Value), inner(d.Expo/100), inner(r.Value)), "expo")
	rate, field := d.Rate, "rate"
	if sh.Rate != None {
		rate, field = w.at(sh.Rate), "rates"
	}
	step(sh.Rated, "rate "+words.Short(rate), fmt.Sprintf("%s × %s / 100", words.Figure(r.Value), words.Short(rate)), field)
	step(sh.Curve, fmt.Sprintf("curve of %d points", len(d.Curve)), curveSum(d, r.Value), "curve")
	out := w.at(sh.Out)
	switch {
	case d.Trim != 0:
		step(sh.Out, "trim "+words.SignedShort(d.Trim), combineSum("add", r.Value, d.Trim), "trim")
	case out != r.Value:
		step(sh.Out, "limited to 150", "cut from "+words.Figure(r.Value), "rate")
	}
	return r
}

// curveSum says where on the curve x lies.
func curveSum(d *setup.Demand, x float64) string {
	points := d.Curve
	last := len(points) - 1
	switch {
	case last < 0:
		return ""
	case x <= points[0][0]:
		return fmt.Sprintf("flat up to %s", words.Short(points[0][0]))
	case x >= points[last][0]:
		return fmt.Sprintf("flat from %s", words.Short(points[last][0]))
	}
	i := 1
	for points[i][0] < x {
		i++
	}
	a, b := points[i-1], points[i]
	if d.Smooth {
		return fmt.Sprintf("at %s, smooth from (%s, %s) to (%s, %s)", words.Figure(x), words.Short(a[0]), words.Short(a[1]), words.Short(b[0]), words.Short(b[1]))
	}
	return fmt.Sprintf("%s + %s × (%s − %s) / %s", words.Short(a[1]), inner(b[1]-a[1]), words.Figure(x), innerShort(a[0]), words.Short(b[0]-a[0]))
}

func (w why) pin(ref setup.PinRef) Reason {
	s := w.p.setup
	rx, pin := s.Pin(ref)
	route, path := w.p.pinRoute(ref), ref.Item().Path()
	r := Reason{Name: fmt.Sprintf("pin %s.%d, channel %d", rx.ID, pin.Pin, pin.Channel), Unit: "µs", Path: path, Value: w.at(route.US)}
	out := s.Carried(ref)
	switch rec := &w.p.receivers[ref.Receiver]; {
	case w.at(rec.on) == 0:
		r.Sum = "the receiver is off"
	case w.at(rec.heard) == 0:
		r.Sum = "no signal since it was turned on"
	case out < 0:
		r.Sum = "nothing is sent on it"
	case w.at(w.p.up) == 0 && w.at(rec.lost) < rec.need:
		r.Sum = "signal lost, held for " + words.Figure(rx.LossAfterS) + " s"
	case w.at(w.p.up) == 0:
		mode, value := LossOf(s, ref)
		r.Sum = map[string]string{"hold": "signal lost, held", "cut": "signal lost, pulses stopped", "preset": "signal lost, gone to " + words.Signed(value)}[mode]
	default:
		sent := w.pulse(out)
		r.Sum, r.From = "as sent", []Reason{sent}
		if r.Value != sent.Value {
			r.Sum = "as the link changes " + words.Figure(sent.Value)
		}
	}
	if route.On == None {
		return r
	}
	sum := fmt.Sprintf("%s µs is not %s %s", words.Figure(r.Value), pin.Switch.On, words.Short(pin.Switch.AtUS))
	if w.at(route.On) != 0 {
		sum = fmt.Sprintf("%s µs is %s %s", words.Figure(r.Value), pin.Switch.On, words.Short(pin.Switch.AtUS))
	}
	return Reason{Name: "on or off", Sum: sum, Value: w.at(route.On), Path: path + ".switch", From: []Reason{r}}
}

// WhyDevice explains the value of device i: what its pin makes of it.
func (p *Program) WhyDevice(st *State, i int) Reason {
	w, s := why{p, st}, p.setup
	d := &s.Devices[i]
	r := Reason{Name: s.DeviceLabel(i), Unit: "%", Path: fmt.Sprintf("devices[%d]", i)}
	if slot := p.Devices[i].Value; slot != None {
		r.Value = w.at(slot)
	}
	pin := p.pinRoute(s.DevicePin(i))
	us := w.at(pin.US)
	r.From = []Reason{w.pin(pin.PinRef)}
	r.Sum = w.deviceSum(d.Spec, us, r.Value)
	if d.PartKind().Unit == "step" {
		r.Unit = ""
	}
	return r
}

func (w why) deviceSum(spec any, us, value float64) string {
	pulse := &w.p.pulse
	switch d := spec.(type) {
	case *setup.Servo:
		target := pulse.position(us)
		switch {
		case us == 0:
			return "no pulse: it stays"
		case math.Abs(target-value) > 1e-6:
			return "on the way to " + words.Signed(target)
		}
		return fmt.Sprintf("100 × (%s − %s) / %s", words.Figure(us), words.Short(pulse.CentreUS), words.Short(pulse.HalfSpanUS))
	case *setup.OnOff:
		if us == 0 {
			return "no pulse: " + d.NoPulse
		}
		return fmt.Sprintf("%s µs, on where it is %s %s", words.Figure(us), d.TurnsOn, words.Short(d.AtUS))
	case *setup.StepBox:
		return fmt.Sprintf("step %s of %d", words.Short(value), d.Steps)
	case *setup.Esc:
		return escSum(d, us, value)
	}
	return ""
}

func escSum(d *setup.Esc, us, motor float64) string {
	u, x := d.LearnedUS, us-d.LearnedUS.Neutral
	switch {
	case us == 0:
		return "no pulse: it stands"
	case math.Abs(x) <= d.DeadUS:
		return fmt.Sprintf("%s µs is within %s of its neutral %s", words.Figure(us), words.Short(d.DeadUS), words.Short(u.Neutral))
	case motor == 0:
		return fmt.Sprintf("%s µs, but it does not turn yet: %s", words.Figure(us), waitsWord(d, x))
	case x > 0:
		return fmt.Sprintf("100 × (%s − %s − %s) / %s", words.Figure(us), words.Short(u.Neutral), words.Short(d.DeadUS), words.Short(u.High-u.Neutral-d.DeadUS))
	}
	return fmt.Sprintf("−100 × (%s − %s − %s) / %s", words.Short(u.Neutral), words.Figure(us), words.Short(d.DeadUS), words.Short(u.Neutral-u.Low-d.DeadUS))
}

func waitsWord(d *setup.Esc, x float64) string {
	switch {
	case x < 0 && d.Reverse == "none":
		return "it has no reverse"
	case x < 0 && d.Reverse == "brake_first":
		return "it brakes before it reverses"
	}
	return "it waits for neutral"
}

// Text prints the tree, one step a line, causes first and indented.
func (r Reason) Text() string {
	var b strings.Builder
	r.write(&b, 0)
	return b.String()
}

func (r Reason) write(b *strings.Builder, depth int) {
	for _, from := range r.From {
		from.write(b, depth+1)
	}
	left := strings.Repeat("  ", depth) + r.Name
	value := words.Signed(r.Value)
	if r.Unit == "µs" {
		value = words.Figure(r.Value)
	}
	fmt.Fprintf(b, "%-40s %-34s = %s %s\n", left, r.Sum, value, r.Unit)
}
