package plan

import (
	"math"
	"slices"

	"axtren/core/allot"
	"axtren/core/kit"
	"axtren/core/setup"
)

// reading is a setup as the plan reads it.
type reading struct {
	s     *setup.Setup
	hands []hand
	wires []wire
	pins  []setup.PinRef // all of them, in the order of the document

	channels int // of the transmitter that may be used, from 1
	quickest float64
	mixes    allot.Quota
	// each pin can be told its channel; the order of the channels can be told where pins cannot
	setsPins, setsOrder bool
}

// hand is a function that a control moves, or is to move.
type hand struct {
	control int // the one that moves it now; -1: none yet
	output  int // that it moves alone and without a mix, or is to move; -1: none, or several
	asks    setup.HandAsks
	thumb   bool
	kind    nature
	stays   bool     // asked for by the person
	held    bool     // rules, the start check or claims speak of the control
	moves   []string // the labels of the outputs that it has a part in
}

// nature is what kind of control a function wants.
type nature struct {
	axis      bool
	spring    string // of an axis; empty: any
	positions int    // of a switch
	atLeast   bool   // or more of them
	sprung    int    // the position to which it springs back; -1: it stays
}

// wire is an output with its leads.
type wire struct {
	output int
	leads  []plugs
	mode   string // what it must do on a lost signal; empty: nothing
	within float64
	bits   int
	quick  bool
	onOff  bool  // all that hangs on it is on or off
	oneBit bool  // a channel of one bit tells it all that it is told
	direct int   // the hand function that moves it alone and without a mix; -1: none
	levers []int // the controls whose values it is made of, whatever rules do besides

	keepsChannel, keepsPin bool
}

// plugs is what is plugged into one pin.
type plugs struct {
	pin   int // of reading.pins
	parts []plugged
}

// plugged is a plug of a device: its own, or the second one of a controller.
type plugged struct {
	device int
	field  string // on or swap_on
}

// read reads a setup.
func read(s *setup.Setup) *reading {
	r := &reading{s: s}
	for i := range s.Receivers {
		for j := range s.Receivers[i].Pins {
			r.pins = append(r.pins, setup.PinRef{Receiver: i, Pin: j})
		}
	}
	r.setsPins = len(s.Receivers) > 0
	for i := range s.Receivers {
		r.setsPins = r.setsPins && is(s.Receivers[i].SetsPins)
	}
	r.setsOrder = !r.setsPins && is(s.Link.SetsOrder)
	r.channels = r.mostChannels()
	for k := range r.arriving() {
		if ms := s.LateMS(k + 1); k == 0 || ms < r.quickest {
			r.quickest = ms
		}
	}
	for i := range s.Outputs {
		r.wires = append(r.wires, r.wire(i))
	}
	r.readHands()
	if can := s.Transmitter.Can; can != nil && can.Mixes != nil {
		r.mixes = allot.Quota{Limited: true, Most: max(0, *can.Mixes-len(kit.CountedMixes(s)))}
	}
	if s.Plan != nil && s.Plan.Mixes != nil {
		r.mixes = allot.Quota{Limited: true, Most: *s.Plan.Mixes}
	}
	r.mixes.Over = unit[overMixes.Level] * int64(overMixes.Points)
	return r
}

func is(b *bool) bool { return b != nil && *b }

// mostChannels is how many channels of the transmitter may be used: what it has, where that is
// known, else what the receivers and the outputs tell of.
func (r *reading) mostChannels() int {
	if can := r.s.Transmitter.Can; can != nil && can.Channels != nil {
		return *can.Channels
	}
	most := len(r.s.Outputs)
	for _, o := range r.s.Outputs {
		most = max(most, o.Channel)
	}
	for _, ref := range r.pins {
		_, pin := r.s.Pin(ref)
		most = max(most, r.s.Link.Sent(pin.Channel))
	}
	return most
}

// arriving is how many channels of the link anything here may arrive on.
func (r *reading) arriving() int { return min(r.s.Link.Channels, 48) }

// wire reads an output.
func (r *reading) wire(i int) wire {
	o := &r.s.Outputs[i]
	w := wire{output: i, direct: -1, onOff: true, levers: r.controlsBehind(i)}
	for _, ref := range r.s.Carriers(i) {
		l := plugs{pin: slices.Index(r.pins, ref)}
		for _, d := range r.s.Leads(ref) {
			l.parts = append(l.parts, plugged{d, "on"})
		}
		for d := range r.s.Devices {
			if swap, ok := r.s.SwapPin(d); ok && swap == ref {
				l.parts = append(l.parts, plugged{d, "swap_on"})
			}
		}
		if l.parts != nil {
			w.leads = append(w.leads, l)
		}
	}
	devices := r.s.Drives(i)
	for _, d := range devices {
		w.onOff = w.onOff && r.s.Devices[d].OnOff() != nil
	}
	w.onOff = w.onOff && len(devices) > 0
	w.oneBit = w.onOff && (r.twoStates(i) || r.isOnOneBit(i))
	w.quick = !w.onOff && len(devices) > 0 && slices.ContainsFunc(w.levers, func(c int) bool {
		axis := r.s.Transmitter.Controls[c].Axis
		return axis != nil && axis.Spring != "none"
	})
	if o.Loss != nil {
		w.mode = o.Loss.Mode
	}
	if n := o.Needs; n != nil {
		w.within, w.bits = n.WithinMS, n.Bits
		if n.Quick != nil {
			w.quick = *n.Quick
		}
		w.keepsChannel = slices.Contains(n.Stays, "channel")
		w.keepsPin = slices.Contains(n.Stays, "pin")
	}
	return w
}

// isOnOneBit tells whether an output arrives as full one way or full the other now.
func (r *reading) isOnOneBit(i int) bool {
	return slices.ContainsFunc(r.s.Carriers(i), func(ref setup.PinRef) bool {
		_, pin := r.s.Pin(ref)
		return r.s.BitsOn(pin.Channel) == 1
	})
}

// twoStates tells whether an output is asked for -100 or 100 and nothing between: by rules, switches
// of two positions and numbers, each in the place of those before it.
func (r *reading) twoStates(i int) bool {
	for n, at := range r.s.MixesTo(i) {
		m := &r.s.Mixes[at]
		source, err := r.s.Source(m.From)
		full := err == nil && (source.Kind == setup.SourceBlock ||
			source.Kind == setup.SourceNumber && math.Abs(m.From.Number) == 100 ||
			source.Kind == setup.SourceControl && natureOf(&r.s.Transmitter.Controls[source.Index]).positions == 2)
		if !full || m.Shape != "plain" || m.Gain.Split || math.Abs(m.Gain.Pos) != 100 || m.Bias != 0 ||
			m.FadeS > 0 || n == 0 && m.When != nil || n > 0 && m.Combine != "instead" {
			return false
		}
	}
	return len(r.s.MixesTo(i)) > 0
}

// controlsBehind lists the controls whose values an output is made of, whatever rules do besides.
func (r *reading) controlsBehind(output int) []int {
	values := func(e *setup.Reference) bool {
		return e.Role == setup.ReadsValue && e.To.Kind != setup.IsBlock && e.To.Kind != setup.IsStepper &&
			e.To.Kind != setup.IsPattern && e.To.Kind != setup.IsSequence || e.Role == setup.Adds
	}
	return setup.Only(setup.IsControl, r.s.Graph().BehindBy(values, setup.IsOutput.At(output)))
}

// readHands reads what hands move, in the order of the controls, then what nothing moves yet.
func (r *reading) readHands() {
	s := r.s
	asked := map[int]*setup.HandWish{}
	if s.Plan != nil {
		for i := range s.Plan.Hands {
			asked[s.Item(s.Plan.Hands[i].Control).Index] = &s.Plan.Hands[i]
		}
	}
	for c := range s.Transmitter.Controls {
		h := hand{control: c, output: -1, kind: natureOf(&s.Transmitter.Controls[c])}
		used := false
		for e := range s.Graph().To(setup.IsControl.At(c)) {
			used = used || e.Role != setup.Wishes
			// a truth, a claim, the start check, or a level that a rule looks at
			h.held = h.held || e.Role != setup.Wishes &&
				(e.Role != setup.ReadsValue || e.From.Kind != setup.IsDemand && e.From.Kind != setup.IsMix)
		}
		if !used {
			continue
		}
		ahead := s.Graph().Ahead(setup.IsControl.At(c))
		for _, o := range setup.Only(setup.IsOutput, ahead) {
			h.moves = append(h.moves, s.OutputLabel(o))
		}
		h.output = r.movesAlone(c, ahead)
		h.usually(r.usualHand(r.movedBy(c)))
		if wish := asked[c]; wish != nil {
			h.ask(wish.HandAsks)
			h.stays = wish.Stays
		}
		r.addHand(h)
	}
	for i, o := range s.Outputs {
		if o.Needs == nil || o.Needs.By == nil || len(s.MixesTo(i)) > 0 {
			continue
		}
		by := o.Needs.By
		h := hand{control: -1, output: i, kind: natureAsked(by), moves: []string{s.OutputLabel(i)}}
		h.usually(r.usualHand([]int{i}))
		h.ask(by.HandAsks)
		r.addHand(h)
	}
}

func (r *reading) addHand(h hand) {
	if h.output >= 0 {
		r.wires[h.output].direct = len(r.hands)
	}
	r.hands = append(r.hands, h)
}

// usually takes what is usual: of a lever that goes back by itself, one that stays is none to drive by.
func (h *hand) usually(does string) {
	if does != "" && h.kind.axis && h.kind.spring != "none" {
		h.thumb, h.asks.Does = true, does
	}
}

// ask puts what the person asks for over what is usual.
func (h *hand) ask(a setup.HandAsks) {
	if a.Does != "" {
		h.asks.Does = a.Does
	}
	h.asks.Side = a.Side
	if a.Thumb != nil {
		h.thumb = *a.Thumb
	}
}

// movesAlone gives the output that a control moves alone and without taking a mix of the
// transmitter's; -1 for none. ahead is what depends on the control.
func (r *reading) movesAlone(control int, ahead []setup.Item) int {
	output := -1
	for _, part := range ahead {
		if part.Kind != setup.IsMix {
			continue
		}
		to := r.s.Item(r.s.Mixes[part.Index].To).Index
		if output >= 0 || !kit.IsPlainChoice(r.s, part.Index) ||
			r.s.ControlBehind(r.s.Mixes[part.Index].From) != control {
			return -1
		}
		output = to
	}
	return output
}

// movedBy lists the outputs that are made of a control's value.
func (r *reading) movedBy(control int) (list []int) {
	for i := range r.s.Outputs {
		if slices.Contains(r.wires[i].levers, control) {
			list = append(list, i)
		}
	}
	return list
}

// hasMotor tells whether a motor without ends hangs on an output.
func (r *reading) hasMotor(output int) bool {
	return slices.ContainsFunc(r.s.Drives(output), func(d int) bool {
		esc, ok := r.s.Devices[d].Spec.(*setup.Esc)
		return ok && esc.Travel == nil
	})
}

func natureOf(c *setup.Control) nature {
	if c.Axis != nil {
		return nature{axis: true, spring: c.Axis.Spring}
	}
	n := nature{positions: len(c.Switch.Positions), sprung: -1}
	if c.Switch.SpringTo != nil {
		n.sprung = slices.Index(c.Switch.Positions, *c.Switch.SpringTo)
	}
	return n
}

func natureAsked(by *setup.By) nature {
	switch by.Kind {
	case "proportional":
		rests := map[string]string{"centre": "centre", "low": "low", "stays": "none"}
		return nature{axis: true, spring: rests[by.Rest]}
	case "two_state":
		return nature{positions: 2, sprung: -1}
	}
	return nature{positions: by.Positions, atLeast: true, sprung: -1}
}

// suits tells whether a control is of the kind that a function wants.
func (n nature) suits(c *setup.Control) bool {
	has := natureOf(c)
	switch {
	case n.axis != has.axis:
		return false
	case n.axis:
		return n.spring == "" || n.spring == has.spring
	case n.atLeast:
		return has.positions >= n.positions && has.sprung < 0
	}
	return n.positions == has.positions && n.sprung == has.sprung
}
