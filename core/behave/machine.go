package behave

import (
	"math"
	"slices"

	"axtren/core/setup"
	"axtren/core/signal"
	"axtren/core/words"
)

// watched is what of a rule can be seen, and how each thing that is seen is called.
type watched struct {
	kind  setup.ItemKind // of its main part
	id    setup.ID       // of that
	names []string       // of each result that is true or false
	items []setup.Item
	none  string // none of the results is true
	facts []setup.Truth
}

// watch says what of a rule can be seen: its latches, its step, what its sequence does, whether its lamps
// play.
// ok is false for a rule that is no state of anything.
func (f *found) watch(s *setup.Setup) (w watched, ok bool) {
	w = watched{kind: f.main.Kind, id: s.Key(f.main).ID, none: "off"}
	result := func(item setup.Item, name string) {
		w.items, w.facts = append(w.items, item), append(w.facts, setup.Truth(s.Key(item).ID))
		w.names = append(w.names, name)
	}
	switch f.main.Kind {
	case setup.IsStepper, setup.IsSequence:
		w.items = []setup.Item{f.main}
	case setup.IsPattern:
		w.facts, w.names, w.none = []setup.Truth{s.Patterns[f.main.Index].When}, []string{"plays"}, "at rest"
	case setup.IsBlock:
		if f.kind.key == "scheme" {
			return w, false
		}
		several := map[string]string{"chooser": "latch ", "zones": "zone "}[f.kind.key]
		if several == "" {
			result(f.main, "on")
			break
		}
		w.none = "none of them"
		for _, role := range sortedKeys(f.roles) {
			if len(role) > len(several) && role[:len(several)] == several {
				result(f.roles[role], s.Label(f.roles[role]))
			}
		}
	default:
		return w, false
	}
	return w, true
}

// machine is a rule with all that decides it and nothing else, ready to be stepped.
type machine struct {
	watched
	s     *setup.Setup
	p     *signal.Program
	truth []signal.Slot // of each result
	other signal.Slot   // of a stepper or a sequence
	goes  signal.Slot   // of a sequence: whether it runs out
	last  float64       // of a sequence: its whole time, s
	moves []handMove
}

// handMove is one movement of a hand: a control goes to a value.
type handMove struct {
	control int // of the machine's setup
	to      float64
	does    string // press Left button
	short   string // press
	stands  string // Left button at press: said of where it stands meanwhile
}

// newMachine compiles what decides a rule. shorten makes times short, in their order, so that all of them
// can be waited for.
func newMachine(s *setup.Setup, w watched, shorten bool) (*machine, error) {
	open := *s
	open.StartCheck = nil
	m := &machine{watched: w, other: signal.None, goes: signal.None}
	facts := w.facts
	if w.kind == setup.IsSequence {
		facts = append(slices.Clone(facts), s.Sequences[s.Item(w.id).Index].Go)
	}
	all, seen := open.Seen(facts...)
	watch := slices.Clone(w.items)
	for _, gate := range seen {
		watch = append(watch, all.Item(gate))
	}
	cone := all.Cone(watch...)
	if shorten {
		shortened(cone)
	}
	p, err := signal.Compile(cone)
	if err != nil {
		return nil, err
	}
	m.s, m.p = cone, p
	for _, id := range seen[:len(w.facts)] {
		m.truth = append(m.truth, p.BlockSlot(cone.Item(id).Index))
	}
	at := cone.Item(w.id)
	switch at.Kind {
	case setup.IsStepper:
		m.other = p.StepperSlot(at.Index)
	case setup.IsSequence:
		m.other, m.goes = p.SequenceSlot(at.Index), p.BlockSlot(cone.Item(seen[len(w.facts)]).Index)
		m.last = cone.Sequences[at.Index].LastS()
	}
	m.moves = m.handMoves()
	return m, nil
}

// shortened makes the times of a setup so short that every moment of them can be looked at, in their
// order: the shortest lasts two frames, each longer one two frames more. A cone has no one else who looks
// at it.
func shortened(s *setup.Setup) {
	var times []float64
	note := func(t float64) {
		if t > 0 && !slices.Contains(times, t) {
			times = append(times, t)
		}
	}
	each := func(on func(t float64) float64) {
		s.Logic = slices.Clone(s.Logic)
		for i, b := range s.Logic {
			if timer, ok := b.Spec.(*setup.Timer); ok {
				own := *timer
				own.ForS = on(timer.ForS)
				s.Logic[i] = setup.Block{BlockHead: &own.BlockHead, Spec: &own}
			}
		}
		s.Sequences = slices.Clone(s.Sequences)
		for i := range s.Sequences {
			total := s.Sequences[i].LastS()
			by := 1.0
			if total > 0 {
				by = on(total) / total
			}
			s.Sequences[i].Tracks = slices.Clone(s.Sequences[i].Tracks)
			for k := range s.Sequences[i].Tracks {
				track := &s.Sequences[i].Tracks[k]
				track.Keys = slices.Clone(track.Keys)
				for j := range track.Keys {
					track.Keys[j][0] *= by
				}
			}
		}
		s.Patterns = slices.Clone(s.Patterns)
		for i := range s.Patterns {
			s.Patterns[i].Steps = slices.Clone(s.Patterns[i].Steps)
			for k := range s.Patterns[i].Steps {
				s.Patterns[i].Steps[k][1] = on(s.Patterns[i].Steps[k][1])
			}
		}
	}
	each(func(t float64) float64 { note(t); return t })
	slices.Sort(times)
	each(func(t float64) float64 {
		if t == 0 {
			return 0
		}
		return s.Transmitter.FrameS() * float64(2+2*slices.Index(times, t))
	})
	for i := range s.Steppers {
		s.Steppers[i].RepeatS = 0 // it steps as another press does
	}
	s.Relink()
}

// running is how what is seen of a sequence begins while it moves.
const running = "running"

// label says what is seen in a state.
func (m *machine) label(st *signal.State) string {
	switch m.kind {
	case setup.IsStepper:
		at := m.s.Item(m.id).Index
		return m.s.Steppers[at].Steps[int(st.At(m.other))].Name.Words()
	case setup.IsSequence:
		switch p := st.At(m.other); {
		case p <= 0:
			return "at rest"
		case p >= m.last-1e-9:
			return "done"
		case m.s.Sequences[m.s.Item(m.id).Index].Interrupt == "finish":
			return running
		case st.At(m.goes) != 0:
			return running + " out"
		}
		return running + " back"
	}
	var on []string
	for i, slot := range m.truth {
		if st.At(slot) != 0 {
			on = append(on, m.names[i])
		}
	}
	if on == nil {
		return m.none
	}
	return words.And(on)
}

// held says of every block whether it is true in a state.
func (m *machine) held(st *signal.State) string {
	bits := make([]byte, len(m.s.Logic))
	for i := range m.s.Logic {
		bits[i] = byte(st.At(m.p.BlockSlot(i)))
	}
	return string(bits)
}

// waitS gives how long a rule waits by itself, where only one time decides that; 0 where there are more,
// or none.
func (m *machine) waitS() float64 {
	var times []float64
	for i := range m.s.Logic {
		if timer, ok := m.s.Logic[i].Spec.(*setup.Timer); ok {
			times = append(times, timer.ForS)
		}
	}
	for i := range m.s.Sequences {
		times = append(times, m.s.Sequences[i].LastS())
	}
	if len(times) != 1 {
		return 0
	}
	return times[0]
}

// handMoves lists every movement that can make a difference: a switch to each position that something
// looks at, and one of the others; a lever to where it rests, and into each stretch of its way that is
// told from the next.
func (m *machine) handMoves() []handMove {
	var list []handMove
	for i := range m.s.Transmitter.Controls {
		places := m.leverPlaces(i)
		if m.s.Transmitter.Controls[i].Switch != nil {
			places = m.switchPlaces(i)
		}
		if len(places) > 1 {
			for _, place := range places {
				list = append(list, m.move(i, place))
			}
		}
	}
	return list
}

// place is a position of a switch, or a place in a stretch of a lever's way, from low to high.
type place struct{ at, low, high float64 }

// move says a movement.
func (m *machine) move(control int, place place) handMove {
	c, name, to := &m.s.Transmitter.Controls[control], m.s.ControlLabel(control), place.at
	h := handMove{control: control, to: to}
	if c.Axis != nil {
		low, high := words.SignedShort(place.low)+" %", words.SignedShort(place.high)+" %"
		at := "between " + low + " and " + high
		switch {
		case place.low == -100:
			at = high + " or below"
		case place.high == 100:
			at = low + " or above"
		}
		h.does, h.short, h.stands = name+" to "+at, "to "+at, name+" at "+at
		if c.Axis.Spring != "none" && to == c.Axis.Rest() {
			h.does, h.short = "let go of "+name, "let go"
		}
		return h
	}
	at := c.Switch.Positions[int(to)]
	h.does, h.short, h.stands = name+" to "+at.Words(), "to "+at.Words(), name+" at "+at.Words()
	if springs := c.Switch.SpringTo; springs != nil {
		switch {
		case at == *springs:
			h.does, h.short = "let go of "+name, "let go"
		case len(c.Switch.Positions) == 2:
			h.does, h.short, h.stands = "press "+name, "press", name+" held"
		}
	}
	return h
}

// switchPlaces gives the positions that something tells apart.
func (m *machine) switchPlaces(control int) []place {
	sw := m.s.Transmitter.Controls[control].Switch
	named := make([]bool, len(sw.Positions))
	for e := range m.s.Graph().To(setup.IsControl.At(control)) {
		if e.Role != setup.ReadsTruth { // it counts as a number
			for i := range named {
				named[i] = true
			}
			break
		}
		named[e.Sub] = true
	}
	other := -1
	for i, is := range named {
		if !is && (other < 0 || i == sw.Rest()) {
			other = i
		}
	}
	var list []place
	if slices.Contains(named, true) {
		for i, is := range named {
			if is || i == other {
				list = append(list, place{at: float64(i)})
			}
		}
	}
	return list
}

// leverPlaces gives one place of a lever in each stretch of its way that the conditions on levers tell
// from the next, each where the condition is as it would be wherever the lever came from.
func (m *machine) leverPlaces(control int) []place {
	c := &m.s.Transmitter.Controls[control]
	var levels []signal.Slot
	for i := range m.s.Logic {
		switch m.s.Logic[i].Spec.(type) {
		case *setup.Level, *setup.Between:
			levels = append(levels, m.p.BlockSlot(i))
		}
	}
	if c.Axis == nil || len(levels) == 0 {
		return nil
	}
	hands, st := m.p.Rest(), m.p.PowerOn()
	look := func(fresh bool, v float64) string {
		if fresh {
			st = m.p.PowerOn()
		}
		hands[control] = v
		m.p.Step(st, hands)
		seen := make([]byte, len(levels))
		for i, slot := range levels {
			seen[i] = byte('0' + int(st.At(slot)))
		}
		return string(seen)
	}
	var list []place
	var seen []string
	for v := -100.0; v <= 100; v++ {
		now := look(true, v)
		if n := len(list); n > 0 && seen[n-1] == now {
			list[n-1].high = v
			continue
		}
		list, seen = append(list, place{v, v, v}), append(seen, now)
	}
	if len(list) < 2 {
		return nil
	}
	rest := c.Axis.Rest()
	rests := false
	for i := range list {
		own := &list[i]
		tries := []float64{math.Round((own.low + own.high) / 2), own.low, own.high}
		switch {
		case own.high == 100:
			tries = append([]float64{100}, tries...)
		case own.low == -100:
			tries = append([]float64{-100}, tries...)
		}
		if own.low <= rest && rest <= own.high {
			tries = append([]float64{rest}, tries...)
		}
		for k, v := range tries {
			settled := true
			for j := range list {
				look(true, (list[j].low+list[j].high)/2)
				settled = settled && look(false, v) == seen[i]
			}
			if settled || k == len(tries)-1 {
				own.at = v
				break
			}
		}
		rests = rests || own.at == rest
	}
	if c.Axis.Spring != "none" && !rests {
		list = append(list, place{rest, rest, rest})
	}
	return list
}

// start puts a machine at power-on with hands where they are, and what a kept latch was.
func (m *machine) start(hands signal.Hands, kept []signal.Slot, were int) *signal.State {
	st := m.p.PowerOn()
	for i, slot := range kept {
		st.V[slot] = float64(were >> i & 1)
	}
	m.p.Step(st, hands)
	return st
}

// keptSlots gives where the latches are kept that wake as they were left.
func (m *machine) keptSlots() []signal.Slot {
	var list []signal.Slot
	for i := range m.s.Logic {
		if at, ok := m.s.Logic[i].StartsAs(); ok && at == "kept" && len(list) < 6 {
			list = append(list, m.p.BlockSlot(i))
		}
	}
	return list
}

// mostFrames bounds how long a rule is waited for, frames.
func (m *machine) mostFrames() int {
	total := 0.0
	for i := range m.s.Logic {
		total += m.s.Logic[i].DelayS()
	}
	for i := range m.s.Sequences {
		total += m.s.Sequences[i].LastS()
	}
	return int(math.Min(total/m.s.Transmitter.FrameS()+3, 6000))
}
