package proof

import (
	"math"

	"axtren/core/setup"
	"axtren/core/signal"
)

// dust is how far a position may be off by the rounding of its pulse, percent.
const dust = 1e-9

// cond is a condition as a state has it.
type cond struct {
	slot  signal.Slot
	known signal.Slot // it is false while this slot is 0; None: never
	sent  bool        // it is false while the transmitter does not send
	test  test
}

// test is what is asked of a number: not to be below Least, not above Most, and where they are open not
// there.
type test struct {
	least, most         float64
	openLeast, openMost bool
}

func (t test) holds(v float64) bool {
	return (v > t.least || v == t.least && !t.openLeast) && (v < t.most || v == t.most && !t.openMost)
}

// within tells whether a condition can hold, and whether it does, where its number lies within a span.
func (c *cond) within(p *signal.Program, st *signal.State, span signal.Span) (may, must bool) {
	if c.sent && !p.Sending(st) {
		return false, false
	}
	return c.test.mayHold(span), c.test.holds(span.Low) && c.test.holds(span.High)
}

func (c *cond) holds(p *signal.Program, st *signal.State) bool {
	if c.sent && !p.Sending(st) || c.known != signal.None && st.At(c.known) == 0 {
		return false
	}
	return c.test.holds(st.At(c.slot))
}

// testOf is what a condition asks of a number.
func testOf(c *setup.Condition) test {
	inf := math.Inf(1)
	switch {
	case c.Above != nil:
		return test{*c.Above, inf, true, false}
	case c.Below != nil:
		return test{-inf, *c.Below, false, true}
	case c.Within != nil:
		return test{c.Within[0], c.Within[1], false, false}
	}
	return test{0.5, inf, false, false} // a truth
}

// asked is a condition of a claim, before it is known where its program has it.
type asked struct {
	gate   setup.ID // the block that a truth was made
	output setup.ID
	device setup.ID
	test   test
}

// on finds a condition in a program.
func (a *asked) on(p *signal.Program, s *setup.Setup) cond {
	switch {
	case a.gate != "":
		return cond{p.BlockSlot(s.Item(a.gate).Index), signal.None, true, a.test}
	case a.output != "":
		return cond{p.Routes[s.Item(a.output).Index].P, signal.None, true, a.test}
	}
	route := p.Devices[s.Item(a.device).Index]
	return cond{route.Value, route.Known, false, a.test}
}

// The kinds of monitor.
type watching uint8

const (
	watchNever watching = iota
	watchStart
	watchLoss
	watchOnlyWhen
	watchLeadsTo
	watchApart
)

// claimed is what of a run a claim forbids, before it is known where a program has it.
type claimed struct {
	kind   watching
	asks   []asked
	output setup.ID // whose pins are looked at on a lost signal
	cut    bool
	stands test // where the output, or its pins, must stand
	frames uint16
	needs  []uint16 // of each pin, the frames after which the signal counts as lost

	pairs []Pair          // what is to be the same
	aims  bool            // of outputs that are equally slow, where they make for
	other *signal.Program // whose start check counts too; nil: none

	tooLong bool // more frames than can be remembered
}

// count gives a number of frames as it is remembered.
func (c *claimed) count(frames float64) uint16 {
	c.tooLong = c.tooLong || frames >= nothing
	return uint16(min(frames, nothing-1))
}

// monitor looks at each frame of a run. What it remembers fits in 16 bits.
type monitor struct {
	*claimed
	p     *signal.Program
	conds []cond
	pins  []signal.Slot
	refs  []setup.PinRef // of these
	at    signal.Slot    // of a start: where the output stands
	pulse setup.Pulse
	boths []both

	theirs []signal.Slot // where the hands are that the other start check looks at
	hands  signal.Hands  // as its program has them at rest
	on     signal.Slot   // whether the transmitter is on
}

// nothing is what a monitor remembers of before the first frame.
const nothing = math.MaxUint16

// on finds what is watched in a program.
func (c *claimed) on(p *signal.Program, s *setup.Setup) *monitor {
	m := &monitor{claimed: c, p: p, at: signal.None}
	for i := range c.asks {
		m.conds = append(m.conds, c.asks[i].on(p, s))
	}
	if c.output != "" {
		out := s.Item(c.output).Index
		m.at = p.Routes[out].P
		for _, pin := range p.Routes[out].Pins {
			m.pins, m.refs = append(m.pins, pin.US), append(m.refs, pin.PinRef)
		}
	}
	m.boths = c.in(p, s)
	if c.other != nil {
		m.looks(p)
	}
	m.pulse = s.Transmitter.Pulse
	return m
}

// step looks at a frame, and tells whether it is forbidden.
func (m *monitor) step(was uint16, st *signal.State) (now uint16, bad bool) {
	holds := func(i int) bool { return m.conds[i].holds(m.p, st) }
	return m.look(was, st, holds, holds)
}

// look is step where it may be open whether a condition holds: may tells whether it can, must whether it
// does.
// What is not forbidden then is not, however it is.
func (m *monitor) look(was uint16, st *signal.State, may, must func(i int) bool) (now uint16, bad bool) {
	switch m.kind {
	case watchNever:
		for i := range m.conds {
			if !may(i) {
				return 0, false
			}
		}
		return 0, true
	case watchStart:
		return 0, m.p.Sending(st) && st.At(m.p.FirstSlot()) != 0 && !m.stands.holds(st.At(m.at))
	case watchLoss:
		return m.loss(was, st)
	case watchApart:
		return 0, m.apart(st)
	case watchOnlyWhen:
		now = 0
		if may(0) { // a truth: it is known
			now = 1
		}
		first := m.p.Sending(st) && st.At(m.p.FirstSlot()) != 0
		return now, was != nothing && !first && now != was && !must(1)
	}
	switch {
	case must(1):
		return nothing, false
	case was != nothing:
		now = was + 1
	case may(0):
		now = 0
	default:
		return nothing, false
	}
	return now, now >= m.frames
}

// loss counts the frames in which nothing arrived.
func (m *monitor) loss(was uint16, st *signal.State) (now uint16, bad bool) {
	switch {
	case st.At(m.p.UpSlot()) != 0:
		return nothing, false
	case was == nothing:
		now = 0
	default:
		now = min(was+1, m.frames)
	}
	for i, pin := range m.pins {
		if now < m.needs[i] {
			continue
		}
		switch us := st.At(pin); {
		case m.cut:
			bad = bad || us != 0
		case us == 0 || !m.stands.holds(m.pulse.Percent(us)):
			bad = true
		}
	}
	return now, bad
}
