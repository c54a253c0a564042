package setup

import (
	"errors"
	"fmt"
	"slices"
	"strconv"
	"strings"
)

// The checker looks at what no single field can tell: ids, references, and
// what two fields say together. It runs on whatever was read, so that all
// mistakes are told at once; an id that could not be read is empty.
type checker struct {
	*decoder
	s    *Setup
	tree *Node
}

// at gives the node of a path for its line and value; where the field was left
// out, the nearest group that holds it.
func (c *checker) at(path string) *Node {
	parts := strings.FieldsFunc(path, func(r rune) bool { return r == '.' || r == '[' || r == ']' })
	for end := len(parts); end >= 0; end-- {
		if n := c.tree.At(parts[:end]...); n != nil {
			return n
		}
	}
	return c.tree
}

func (c *checker) wrong(path, message, remedy string) { c.fail(c.at(path), path, message, remedy) }

func (c *checker) all() {
	c.s.link(func(part, earlier Item) {
		c.wrong(part.Path()+".id", "the id is used by "+earlier.Path()+" too", "give one of them another id")
	})
	c.transmitter()
	c.demands()
	c.logic()
	c.steps()
	c.mixes()
	c.outputs()
	c.link()
	c.devices()
	c.ratings()
	c.claims()
	c.columns()
	c.piece()
}

func (c *checker) refer(path string, err error) {
	var ref *refError
	if errors.As(err, &ref) {
		c.wrong(path, ref.message, ref.remedy)
	}
}

func (c *checker) source(path string, v Value) {
	_, err := c.s.Source(v)
	c.refer(path, err)
}

func (c *checker) fact(path string, t Truth) {
	_, err := c.s.Fact(t)
	c.refer(path, err)
}

func (c *checker) maybeFact(path string, t *Truth) {
	if t != nil {
		c.fact(path, *t)
	}
}

func (c *checker) item(path string, id ID, kind ItemKind, word string) (Item, bool) {
	item, known := c.s.names[string(id)]
	if known && item.Kind == kind {
		return item, true
	}
	if known {
		c.wrong(path, fmt.Sprintf("%q is not %s", id, word), "name "+word)
	} else {
		c.refer(path, c.s.nothing(string(id)))
	}
	return Item{}, false
}

// twice tells of a value that stands in a list for the second time.
func twice[T comparable](c *checker, path string, seen map[T]string, value T, message, remedy string) {
	if old, ok := seen[value]; ok {
		c.wrong(path, fmt.Sprintf(message, old), remedy)
		return
	}
	seen[value] = path
}

func (c *checker) rising(path string, points []Point, what string) {
	for i := 1; i < len(points); i++ {
		if points[i][0] <= points[i-1][0] {
			c.wrong(fmt.Sprintf("%s[%d]", path, i), what+" must rise from entry to entry",
				"put the entries in order, no two alike")
		}
	}
}

func (c *checker) travel(path string, v float64) {
	if v < -150 || v > 150 {
		c.wrong(path, "is out of range", "use -150 to 150")
	}
}

func (c *checker) transmitter() {
	p := c.s.Transmitter.Pulse
	if p.MinUS >= p.CentreUS {
		c.wrong("transmitter.pulse.min_us", "must be below centre_us, "+formatNumber(p.CentreUS), "lower it")
	}
	if p.MaxUS <= p.CentreUS {
		c.wrong("transmitter.pulse.max_us", "must be above centre_us, "+formatNumber(p.CentreUS), "raise it")
	}
	for i, ctl := range c.s.Transmitter.Controls {
		path := fmt.Sprintf("transmitter.controls[%d]", i)
		if ctl.Axis != nil && ctl.Axis.Start != nil && ctl.Axis.Spring != "none" {
			c.wrong(path+".start", "a sprung control has no start", "leave it out, or set spring: none")
		}
		if sw := ctl.Switch; sw != nil {
			c.switchPositions(path, sw)
		}
	}
	c.startCheck()
	c.plan()
	c.wiring()
	c.codes()
}

func (c *checker) switchPositions(path string, sw *Switch) {
	seen := map[Name]string{}
	for j, p := range sw.Positions {
		twice(c, fmt.Sprintf("%s.positions[%d]", path, j), seen, p, "the name is that of %s too",
			"give each position its own name")
	}
	if sw.SpringTo != nil && sw.Start != nil {
		c.wrong(path+".start", "a sprung control has no start", "leave it out, or leave spring_to out")
	}
	for _, at := range []struct {
		field string
		name  *Name
	}{{"spring_to", sw.SpringTo}, {"start", sw.Start}} {
		if at.name != nil && !slices.Contains(sw.Positions, *at.name) {
			c.wrong(path+"."+at.field, "is not one of the positions", "use one of them")
		}
	}
}

// wiring looks at what feeds what: feeds into receivers, by controllers at most; each lead told of once.
func (c *checker) wiring() {
	if c.s.Wiring == nil {
		return
	}
	for i, f := range c.s.Wiring.Feeds {
		if f.LowV >= f.Volts && f.LowV > 0 {
			c.wrong(fmt.Sprintf("wiring.feeds[%d].low_v", i), "is not below the volts of the battery",
				"use the volts at which the model is to come home, such as 3.5 a cell")
		}
		path := fmt.Sprintf("wiring.feeds[%d]", i)
		c.item(path+".into", f.Into, IsReceiver, "a receiver")
		if f.Also != nil {
			c.item(path+".also", *f.Also, IsReceiver, "a receiver")
		}
		c.joint(path, f.Joint != "")
		if f.Device != nil {
			if item, ok := c.item(path+".device", *f.Device, IsDevice, "a device"); ok {
				if _, esc := c.s.Devices[item.Index].Spec.(*Esc); !esc {
					c.wrong(path+".device", "is no speed controller", "name one that feeds back, or leave it out")
				}
			}
		}
		if f.GivesV > f.Volts {
			c.wrong(path+".gives_v", "is above the volts of its battery", "a regulator gives less than it gets")
		}
		if f.PeakA > 0 && f.ContinuousA > f.PeakA {
			c.wrong(path+".peak_a", "is below what it gives for long", "exchange the two, or leave it out")
		}
	}
	seen := map[ID]bool{}
	for i, w := range c.s.Wiring.Leads {
		path := fmt.Sprintf("wiring.leads[%d].device", i)
		if _, ok := c.item(path, w.Device, IsDevice, "a device"); ok && seen[w.Device] {
			c.wrong(path, "is told of twice", "write what is known of its lead into one entry")
		}
		seen[w.Device] = true
		c.joint(fmt.Sprintf("wiring.leads[%d]", i), w.Joint != "")
	}
	for i, sense := range c.s.Wiring.Senses {
		c.item(fmt.Sprintf("wiring.senses[%d].into", i), sense.Into, IsReceiver, "a receiver")
	}
}

// joint looks at a lead that passes through the turning joint: there has to be one.
func (c *checker) joint(path string, passes bool) {
	if passes && c.s.Wiring.Joint == nil {
		c.wrong(path+".joint", "there is no turning joint", "say in wiring.joint how many ways it has, or "+
			"leave this out")
	}
}

// plan looks at what is asked of controls: each once.
func (c *checker) plan() {
	if c.s.Plan == nil {
		return
	}
	seen := map[ID]bool{}
	for i, h := range c.s.Plan.Hands {
		path := fmt.Sprintf("plan.hands[%d].control", i)
		if _, ok := c.item(path, h.Control, IsControl, "a control"); ok && seen[h.Control] {
			c.wrong(path, "is asked for twice", "write what is asked of it into one entry")
		}
		seen[h.Control] = true
	}
}

func (c *checker) startCheck() {
	for i, e := range c.s.StartCheck {
		path := fmt.Sprintf("start_check[%d]", i)
		item, ok := c.item(path+".control", e.Control, IsControl, "a control")
		if !ok {
			continue
		}
		ctl := c.s.Transmitter.Controls[item.Index]
		met := true
		switch {
		case ctl.Axis != nil && e.Is.Position != "":
			c.wrong(path+".is", "an axis has no positions", "write {from: -100, to: -95}")
		case ctl.Axis != nil && e.Is.From > e.Is.To:
			c.wrong(path+".is", "from must not be above to", "exchange them")
		case ctl.Axis != nil && ctl.Axis.Spring != "none":
			rest := ctl.Axis.Rest()
			met = e.Is.From <= rest && rest <= e.Is.To
		case ctl.Switch != nil && !slices.Contains(ctl.Switch.Positions, e.Is.Position):
			c.wrong(path+".is", "is not one of the control's positions", "use one of them")
		case ctl.Switch != nil && ctl.Switch.SpringTo != nil:
			met = *ctl.Switch.SpringTo == e.Is.Position
		}
		if !met {
			c.wrong(path+".is",
				"the control at rest never meets this, so the transmitter would wait for ever",
				"ask for its rest, or leave the entry out")
		}
	}
}

func (c *checker) demands() {
	for i, d := range c.s.Demands {
		path := fmt.Sprintf("demands[%d]", i)
		c.source(path+".from", d.From)
		for j, r := range d.Rates {
			c.fact(fmt.Sprintf("%s.rates[%d].when", path, j), r.When)
		}
		c.rising(path+".curve", d.Curve, "x")
		for j, p := range d.Curve {
			c.travel(fmt.Sprintf("%s.curve[%d]", path, j), p[0])
			c.travel(fmt.Sprintf("%s.curve[%d]", path, j), p[1])
		}
	}
}

func (c *checker) logic() {
	for i, b := range c.s.Logic {
		path := fmt.Sprintf("logic[%d]", i)
		c.spec(path, b.Spec)
	}
}

// spec checks what a kind of block or device refers to, and what it asks for by itself.
func (c *checker) spec(path string, spec any) {
	if spec == nil {
		return // its kind could not be read
	}
	eachReference(spec, func(name string, v Value) { c.source(path+"."+name, v) },
		func(name string, t Truth) { c.fact(path+"."+name, t) })
	if own, ok := spec.(interface{ check(c *checker, path string) }); ok {
		own.check(c, path)
	}
}

// steps checks steppers, sequences and patterns.
func (c *checker) steps() {
	for i, st := range c.s.Steppers {
		path := fmt.Sprintf("steppers[%d]", i)
		if st.Up == nil && st.Down == nil {
			c.wrong(path, "has neither up nor down", "add the button that moves it")
		}
		c.maybeFact(path+".up", st.Up)
		c.maybeFact(path+".down", st.Down)
		c.maybeFact(path+".home", st.Home)
		seen := map[Name]string{}
		for j, step := range st.Steps {
			twice(c, fmt.Sprintf("%s.steps[%d].name", path, j), seen, step.Name, "the name is that of %s too",
				"give each step its own name")
		}
		if st.Start != nil && seen[*st.Start] == "" {
			c.wrong(path+".start", "is not one of the steps", "use one of them")
		}
	}
	for i, sq := range c.s.Sequences {
		path := fmt.Sprintf("sequences[%d]", i)
		c.fact(path+".go", sq.Go)
		if len(sq.Tracks) == 0 {
			c.wrong(path+".tracks", "has no track", "add one: {door: [[0, -100], [1.5, 100]]}")
		}
		for _, track := range sq.Tracks {
			at := path + ".tracks." + string(track.Name)
			if len(track.Keys) == 0 {
				c.wrong(at, "has no keyframe", "add one: [0, -100]")
			}
			c.rising(at, track.Keys, "the time")
			for j, key := range track.Keys {
				if key[0] < 0 {
					c.wrong(fmt.Sprintf("%s[%d]", at, j), "the time is negative", "start at 0")
				}
				c.travel(fmt.Sprintf("%s[%d]", at, j), key[1])
			}
		}
	}
	for i, p := range c.s.Patterns {
		path := fmt.Sprintf("patterns[%d]", i)
		c.fact(path+".when", p.When)
		total := 0.0
		for j, step := range p.Steps {
			c.travel(fmt.Sprintf("%s.steps[%d]", path, j), step[0])
			if step[1] < 0 {
				c.wrong(fmt.Sprintf("%s.steps[%d]", path, j), "the time is negative", "use 0 or more seconds")
			}
			total += max(step[1], 0)
		}
		if p.Loop && total == 0 {
			c.wrong(path+".steps", "a pattern that loops must last longer than 0 s",
				"give a step a time, or set loop: false")
		}
	}
	for i, a := range c.s.Announcements {
		c.fact(fmt.Sprintf("announcements[%d].when", i), a.When)
	}
}

func (c *checker) mixes() {
	for i, m := range c.s.Mixes {
		path := fmt.Sprintf("mixes[%d]", i)
		c.item(path+".to", m.To, IsOutput, "an output")
		c.source(path+".from", m.From)
		c.maybeFact(path+".when", m.When)
	}
	shared := map[ID]string{}
	for i, sh := range c.s.Shares {
		path := fmt.Sprintf("shares[%d]", i)
		if sh.Rule == "keep_turn" && len(sh.Outputs) != 2 {
			c.wrong(path+".outputs", "keep_turn needs exactly two outputs", "name two, or use the rule scale")
		}
		for j, id := range sh.Outputs {
			at := fmt.Sprintf("%s.outputs[%d]", path, j)
			c.item(at, id, IsOutput, "an output")
			twice(c, at, shared, id, "the output is in %s too", "an output belongs to one share")
		}
	}
}

func (c *checker) outputs() {
	channels := map[int]string{}
	for i, o := range c.s.Outputs {
		path := fmt.Sprintf("outputs[%d]", i)
		if o.Low >= o.Centre {
			c.wrong(path+".low", "must be below centre, "+formatNumber(o.Centre),
				"lower it, or move the centre")
		}
		if o.High <= o.Centre {
			c.wrong(path+".high", "must be above centre, "+formatNumber(o.Centre),
				"raise it, or move the centre")
		}
		twice(c, path+".channel", channels, o.Channel, "the channel is that of %s too",
			"give each output its own channel")
		if o.Loss == nil {
			continue
		}
		if (o.Loss.Mode == "preset") != (o.Loss.Value != nil) {
			c.wrong(path+".loss", "a value belongs to mode preset, and to it alone",
				"write {mode: preset, value: 0}, or a mode without a value")
		}
	}
}

// ratings checks what pieces say of volts and of currents.
func (c *checker) ratings() {
	ordered := func(path, lower, higher string, low, high float64) {
		if low > high {
			c.wrong(path+"."+lower, "is above "+higher, "exchange them")
		}
	}
	volts := func(path string, v *Volts) {
		if v != nil {
			ordered(path+".volts", "least", "most", v.Least, v.Most)
		}
	}
	if u := c.s.Under; u != nil {
		for name, between := range map[string]*Guess{"conductivity_s_m": u.ConductivitySM, "sinks_mm_s": u.SinksMMS,
			"blow_s": u.BlowS, "drag": u.Drag} {
			if between != nil {
				ordered("under."+name, "least", "most", between.Least, between.Most)
			}
		}
	}
	for i := range c.s.Receivers {
		volts(IsReceiver.At(i).Path(), c.s.Receivers[i].Volts)
	}
	for i := range c.s.Devices {
		d, path := &c.s.Devices[i], IsDevice.At(i).Path()
		if d.DeviceHead == nil {
			continue // its kind could not be read
		}
		if d.DrawsA != nil {
			ordered(path+".draws_a", "rest", "most", d.DrawsA.Rest, d.DrawsA.Most)
		}
		if servo, ok := d.Spec.(*Servo); ok {
			volts(path, servo.Volts)
		}
	}
}

func (c *checker) link() {
	l := c.s.Link
	for i, ch := range l.Order {
		if ch < 1 || ch > 48 {
			c.wrong(fmt.Sprintf("link.order[%d]", i), "is not a channel", "use 1 to 48")
		}
	}
	for _, one := range []struct {
		field string
		list  []int
	}{{"one_bit", l.OneBit}, {"half_rate", l.HalfRate}} {
		seen := map[int]string{}
		for i, ch := range one.list {
			path := fmt.Sprintf("link.%s[%d]", one.field, i)
			if ch < 1 || ch > 48 {
				c.wrong(path, "is not a channel", "use 1 to 48")
			}
			twice(c, path, seen, ch, "the channel is %s too", "name each once")
		}
	}
	if u := l.LearnedUS; u != nil && (u.Low >= u.Centre || u.Centre >= u.High) {
		c.wrong("link.learned_us", "needs low < centre < high", "put the three in order")
	}
	for i, r := range c.s.Receivers {
		learned := map[int]string{}
		for j, one := range r.Learned {
			at := fmt.Sprintf("receivers[%d].learned[%d]", i, j)
			twice(c, at+".channel", learned, one.Channel, "the channel is %s too", "name each channel once")
			if one.Low >= one.Centre || one.Centre >= one.High {
				c.wrong(at, "needs low < centre < high", "put the three in order")
			}
		}
		c.teach(fmt.Sprintf("receivers[%d].teach", i), r.Teach)
		pins := map[int]string{}
		for j, p := range r.Pins {
			twice(c, fmt.Sprintf("receivers[%d].pins[%d].pin", i, j), pins, p.Pin, "the pin is %s too",
				"name each pin once")
		}
	}
}

// teach looks at the order in which something asks for what it learns.
func (c *checker) teach(path string, of *Teach) {
	if of == nil {
		return
	}
	seen := map[string]string{}
	for i, what := range of.Order {
		twice(c, fmt.Sprintf("%s.order[%d]", path, i), seen, what, "it asks for this in %s too", "name each once")
	}
}

// PinRef finds a pin by its reference, receiver.pin; ok is false where there is none.
func (s *Setup) PinRef(text string) (ref PinRef, ok bool) {
	id, number, _ := strings.Cut(text, ".")
	item := s.names[id]
	if item.Kind != IsReceiver {
		return PinRef{}, false
	}
	for i, pin := range s.Receivers[item.Index].Pins {
		if strconv.Itoa(pin.Pin) == number {
			return PinRef{item.Index, i}, true
		}
	}
	return PinRef{}, false
}

func (c *checker) devices() {
	for i, dev := range c.s.Devices {
		path := fmt.Sprintf("devices[%d]", i)
		c.deviceOn(path, dev)
		c.spec(path, dev.Spec)
	}
}

func (c *checker) deviceOn(path string, dev Device) {
	if item, ok := c.s.names[dev.On]; ok && item.Kind == IsDevice {
		_, servo := dev.Spec.(*Servo)
		if !c.s.Devices[item.Index].PartKind().Passes || !servo {
			c.wrong(path+".on", "only a servo hangs on a device, and only on a leveller",
				"name a pin, such as rx.1")
		}
		return
	}
	ref, known := c.s.PinRef(dev.On)
	if !known {
		c.wrong(path+".on", "there is no such pin", "name a receiver and one of its pins, such as rx.1")
		return
	}
	_, pin := c.s.Pin(ref)
	if pin.Switch != nil && !dev.PartKind().OnOff {
		c.wrong(path+".on", "the pin is on or off and carries no pulses",
			"hang a relay, lamp, pump, valve or sound trigger on it, or take `switch` off the pin")
	}
}

func (c *checker) claims() {
	for i, claim := range c.s.Claims {
		path := fmt.Sprintf("claims[%d]", i)
		forms := 0
		if claim.Never != nil {
			forms++
			for j, cond := range *claim.Never {
				c.condition(fmt.Sprintf("%s.never[%d]", path, j), cond)
			}
		}
		if claim.AtStart != nil {
			forms++
			c.item(path+".at_start.output", claim.AtStart.Output, IsOutput, "an output")
		}
		if claim.OnLoss != nil {
			forms++
			c.lossClaim(path+".on_loss", claim.OnLoss)
		}
		if claim.OnlyWhen != nil {
			forms++
			c.fact(path+".only_when.changes", claim.OnlyWhen.Changes)
			c.condition(path+".only_when.while", claim.OnlyWhen.While)
		}
		if claim.LeadsTo != nil {
			forms++
			c.condition(path+".leads_to.when", claim.LeadsTo.When)
			c.condition(path+".leads_to.then", claim.LeadsTo.Then)
		}
		if claim.Reachable != nil {
			forms++
			c.condition(path+".reachable", *claim.Reachable)
		}
		if forms != 1 {
			c.wrong(path, fmt.Sprintf("says %d things", forms),
				"use one of never, at_start, on_loss, only_when, leads_to, reachable")
		}
	}
}

func (c *checker) lossClaim(path string, l *LossClaim) {
	item, ok := c.item(path+".output", l.Output, IsOutput, "an output")
	if ok && len(c.s.Carriers(item.Index)) == 0 {
		c.wrong(path+".output", "no pin carries this output",
			"give a pin its channel, or leave the claim out")
	}
	if (l.Value != nil) == (l.Cut != nil) || l.Cut != nil && l.Within != nil {
		c.wrong(path, "needs a value, or cut: true", "write {output, value, within} or {output, cut: true}")
	}
}

func (c *checker) condition(path string, cond Condition) {
	if cond.Truth != "" {
		c.fact(path, cond.Truth)
		return
	}
	if (cond.Output != nil) == (cond.Device != nil) {
		c.wrong(path, "must speak of one output or one device", "write {output: port, above: 5}")
		return
	}
	if cond.Output != nil {
		c.item(path+".output", *cond.Output, IsOutput, "an output")
	} else if item, ok := c.item(path+".device", *cond.Device, IsDevice, "a device"); ok {
		if c.s.Devices[item.Index].PartKind().Passes {
			c.wrong(path+".device", "a leveller has no value", "name the servo behind it")
		}
	}
	forms := 0
	for _, set := range []bool{cond.Above != nil, cond.Below != nil, cond.Within != nil} {
		if set {
			forms++
		}
	}
	if forms != 1 {
		c.wrong(path, "needs one of above, below, within", "write above: 5")
	}
	if cond.Within != nil && cond.Within[0] > cond.Within[1] {
		c.wrong(path+".within", "the first must not be above the second", "exchange them")
	}
}

// columns refuses two columns of one name in the trace, naming both owners.
func (c *checker) columns() {
	seen := map[string]Column{}
	for _, col := range c.s.Columns() {
		if old, ok := seen[col.Name]; ok {
			c.wrong(col.Path, fmt.Sprintf("the column %s of %s in a trace is that of %s (%s) too", col.Name,
				col.Owner, old.Owner, old.Path), "rename one of the two")
			continue
		}
		seen[col.Name] = col
	}
}
