package proof

import (
	"math"
	"slices"
	"strconv"

	"axtren/core/setup"
	"axtren/core/signal"
)

// cut is a place of a number, or of what is made of it, at which something turns.
type cut struct {
	signal.Cut
	via func(v float64) float64 // rises with v, or stays; nil: the number itself
}

func (c *cut) beyond(v float64) bool {
	if c.via != nil {
		v = c.via(v)
	}
	return c.Beyond(v)
}

// axes finds where along the axes of a system anything turns: so that between two such places, all positions
// do the same.
type axes struct {
	y       *system
	hands   []int
	cuts    map[signal.Slot][]cut
	order   []signal.Slot // of cuts
	figures []figure
	bound   []bound // what is to be the same and moves with axes
}

// figure is a number with the places at which anything turns: the first number beyond each, rising.
type figure struct {
	*signal.Figure
	hands []int // of the axes that it comes from
	turns []float64
}

// farthest is further out than any number that comes from an axis: of percent, or of us.
const farthest = 1e6

// turnsOf gives the first number beyond each of some cuts, each once, rising. What is always beyond one, or
// never, does not turn there.
func turnsOf(cuts []cut) (list []float64) {
	for i := range cuts {
		c := &cuts[i]
		if c.beyond(-farthest) || !c.beyond(farthest) {
			continue
		}
		_, first := turn(signal.Span{Low: -farthest, High: farthest}, func(v float64) bool { return !c.beyond(v) })
		list = append(list, first)
	}
	slices.Sort(list)
	return slices.Compact(list)
}

// Bounds of what is looked at for one model.
const (
	mostContexts = 2048  // what else decides a number
	mostBoxes    = 60000 // parts of the travel of axes, of all contexts together
	mostPlaces   = 400   // of one control, or some together
)

func (a *axes) cut(c cut) {
	if c.Of == signal.None {
		return
	}
	for _, same := range a.cuts[c.Of] {
		if same.Cut == c.Cut && same.via == nil && c.via == nil {
			return
		}
	}
	if _, known := a.cuts[c.Of]; !known {
		a.order = append(a.order, c.Of)
	}
	a.cuts[c.Of] = append(a.cuts[c.Of], c)
}

// tested adds the cuts of a test of a number.
func (a *axes) tested(of signal.Slot, t test, via func(float64) float64) {
	if !math.IsInf(t.least, -1) {
		a.cut(cut{signal.Cut{Of: of, At: t.least, Over: t.openLeast}, via})
	}
	if !math.IsInf(t.most, 1) {
		a.cut(cut{signal.Cut{Of: of, At: t.most, Over: !t.openMost}, via})
	}
}

// find adds a dim for each axis, or for axes of which something is summed up.
func (a *axes) find() error {
	if len(a.hands) == 0 {
		return nil
	}
	a.gather()
	for _, m := range a.meetings() {
		a.figure(m)
	}
	for i := range a.y.watch.boths {
		a.both(&a.y.watch.boths[i])
	}
	for _, group := range a.groups() {
		var own []figure
		for _, f := range a.figures {
			if slices.Contains(group, f.hands[0]) {
				own = append(own, f)
			}
		}
		places := newPlaces(a.y, group, own)
		for _, b := range a.bound {
			if slices.Contains(group, b.hands[0]) {
				places.bound = append(places.bound, b)
			}
		}
		if err := places.find(); err != nil {
			return err
		}
		a.y.add(dim{hands: group, values: places.values, parts: places.parts()})
	}
	return nil
}

// gather lists every place at which something turns.
func (a *axes) gather() {
	y := a.y
	for _, c := range y.p.Cuts() {
		a.cut(cut{c, nil})
	}
	checks := y.s.StartCheck
	if y.claimed.other != nil {
		checks = slices.Concat(checks, y.claimed.other.Setup().StartCheck)
	}
	for _, e := range checks {
		hand, _ := y.p.Hand(string(e.Control))
		if slices.Contains(a.hands, hand) {
			a.tested(y.p.HandSlot(hand), test{least: e.Is.From, most: e.Is.To}, nil)
		}
	}
	for i := range y.watch.conds {
		a.condition(&y.watch.conds[i], y.claimed.asks[i].device)
	}
	stands := y.claimed.stands
	switch y.claimed.kind {
	case watchStart:
		a.tested(y.watch.at, stands, nil)
	case watchLoss:
		for _, pin := range y.watch.pins {
			a.tested(pin, stands, y.watch.pulse.Percent)
		}
	}
}

// condition adds the cuts of a condition on an output or a device.
func (a *axes) condition(c *cond, device setup.ID) {
	y := a.y
	if device == "" {
		if c.sent && y.isOutput(c.slot) {
			a.tested(c.slot, c.test, nil)
		}
		return
	}
	i := y.s.Item(device).Index
	ref := y.s.DevicePin(i)
	pin := y.p.Pins[ref.Receiver][ref.Pin].US
	if s, ok := y.s.Devices[i].Base().(*setup.Servo); ok && s.SpeedS > 0 {
		a.tested(pin, c.test, y.watch.pulse.Percent)
		if a.moves(pin) {
			y.inexact(y.s.Named(device)+" takes time to follow a lever", true)
		}
		return
	}
	switch y.s.Devices[i].Base().(type) {
	case *setup.Esc, *setup.Servo:
	default:
		return // where it turns is among the cuts of the program
	}
	aim := y.p.Aim(i)
	for _, turn := range []float64{1, -1} { // a controller may be turned round by its second lead
		t := c.test
		if turn < 0 {
			t = test{-c.test.most, -c.test.least, c.test.openMost, c.test.openLeast}
		}
		a.tested(pin, t, func(us float64) float64 {
			v, _ := aim.At(us)
			return v
		})
	}
}

// isOutput tells whether a slot is where an output stands.
func (y *system) isOutput(slot signal.Slot) bool {
	return slices.ContainsFunc(y.p.Routes, func(r signal.Route) bool { return r.P == slot })
}

// moves tells whether a number goes along with an axis.
func (a *axes) moves(slot signal.Slot) bool { return a.y.p.Follows(slot, a.hands) }

// figure finds how the number of some cuts comes from the axes. Where that takes time, it is looked at where
// the output makes for: there it begins, and ends.
func (a *axes) figure(m *meeting) {
	y := a.y
	f, ok := y.p.Figure(m.of)
	if !ok && a.moves(m.of) {
		y.inexact("what a lever asks for is reached only after a while", m.blind)
		if m.out >= 0 {
			f, ok = y.p.Figure(y.p.Routes[m.out].Target)
		}
	}
	if !ok || len(f.Axes) == 0 {
		return
	}
	if hands, ok := a.handsOf(f.Axes); ok { // else of a control that nothing looks at
		a.figures = append(a.figures, figure{Figure: f, turns: turnsOf(m.cuts), hands: hands})
	}
}

// meeting is a number at which several cuts are: those of an output, of its pins too.
type meeting struct {
	of    signal.Slot
	out   int // the output, -1 for none
	cuts  []cut
	blind bool // not only of the output
}

// meetings gathers the cuts of each number.
func (a *axes) meetings() (list []*meeting) {
	at := map[signal.Slot]*meeting{}
	for _, slot := range a.order {
		of, out, ref := a.behind(slot)
		cuts := a.cuts[slot]
		if ref != nil && out >= 0 {
			of, cuts = a.y.p.Routes[out].P, a.sent(cuts, *ref)
		}
		m := at[of]
		if m == nil {
			m = &meeting{of: of, out: out}
			at[of], list = m, append(list, m)
		}
		m.cuts, m.blind = append(m.cuts, cuts...), m.blind || !a.y.isOutput(slot)
	}
	return list
}

// handsOf gives the hand of each axis; ok is false where one is not looked at.
func (a *axes) handsOf(axes []signal.Slot) (hands []int, ok bool) {
	for _, axis := range axes {
		for _, hand := range a.hands {
			if a.y.p.HandSlot(hand) == axis {
				hands = append(hands, hand)
			}
		}
	}
	return hands, len(hands) == len(axes)
}

// behind gives what a number is made of in the same frame: of a pin what arrives there; and the output
// that it belongs to, -1 for none, and its pin.
func (a *axes) behind(slot signal.Slot) (of signal.Slot, out int, ref *setup.PinRef) {
	for _, pins := range a.y.p.Pins {
		for i := range pins {
			if pins[i].US == slot {
				return pins[i].Arrival, a.y.s.Carried(pins[i].PinRef), &pins[i].PinRef
			}
		}
	}
	for i, r := range a.y.p.Routes {
		if r.P == slot {
			return slot, i, nil
		}
	}
	return slot, -1, nil
}

// sent gives cuts of the pulse of a pin as cuts of the position that is sent to it.
func (a *axes) sent(cuts []cut, ref setup.PinRef) []cut {
	_, pin := a.y.s.Pin(ref)
	var list []cut
	for _, c := range cuts {
		list = append(list, cut{c.Cut, func(position float64) float64 {
			us := a.y.p.Arriving(pin.Channel, a.y.p.PulseOf(position))
			if c.via != nil {
				return c.via(us)
			}
			return us
		}})
	}
	return list
}

// groups gives the axes that are looked at together, because something is made of several.
func (a *axes) groups() [][]int {
	leader := map[int]int{}
	var find func(hand int) int
	find = func(hand int) int {
		if leader[hand] != hand {
			leader[hand] = find(leader[hand])
		}
		return leader[hand]
	}
	for _, hand := range a.hands {
		leader[hand] = hand
	}
	together := func(hands []int) {
		for _, hand := range hands[1:] {
			leader[find(hand)] = find(hands[0])
		}
	}
	for _, f := range a.figures {
		together(f.hands)
	}
	for _, b := range a.bound {
		together(b.hands)
	}
	var groups [][]int
	at := map[int]int{}
	for _, hand := range a.hands {
		i, known := at[find(hand)]
		if !known {
			i = len(groups)
			at[find(hand)] = i
			groups = append(groups, nil)
		}
		groups[i] = append(groups[i], hand)
	}
	return groups
}

// nicest gives the number of a span that is written shortest; rest, or an end of the travel, where it is
// in it.
func nicest(within signal.Span, rest float64) float64 {
	for _, v := range []float64{rest, 0, 100, -100} {
		if v >= within.Low && v <= within.High {
			return v
		}
	}
	middle := within.Low + (within.High-within.Low)/2
	for decimals := range 17 {
		v, err := strconv.ParseFloat(strconv.FormatFloat(middle, 'f', decimals, 64), 64)
		if err == nil && v >= within.Low && v <= within.High {
			return v
		}
	}
	return within.Low
}
