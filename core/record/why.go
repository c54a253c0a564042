package record

import (
	"fmt"
	"strings"

	"axtren/core/setup"
	"axtren/core/words"
)

// Step is one step back from what changed towards the hand that made it change.
type Step struct {
	Says  string `json:"says"`
	Key   string `json:"key"`   // what changed
	Frame int64  `json:"frame"` // when
}

// mostSteps bounds how far a cause is followed, and mostMissing what is said to be missing.
const (
	mostSteps   = 16
	mostMissing = 10
)

// reader looks things up in what is on record.
type reader struct {
	*Log
	s    *setup.Setup
	all  []history
	at   map[setup.Item]int // the signal of a part
	send int                // that of the transmitter
}

func (l *Log) reader() *reader {
	r := &reader{Log: l, s: l.p.Setup(), all: l.histories(), at: map[setup.Item]int{}}
	for i, s := range l.Signals {
		if s.part.Kind != 0 {
			r.at[s.part] = i
		}
		if s.Key == "hands/sends" {
			r.send = i
		}
	}
	return r
}

// find gives a signal by its key.
func (l *Log) find(key string) (int, bool) {
	for i := range l.Signals {
		if l.Signals[i].Key == key {
			return i, true
		}
	}
	return 0, false
}

// Why tells why a signal changed, up to a frame the last time: step by step back to a hand. ok is false
// where there
// is no such signal.
func (l *Log) Why(key string, frame int64) (steps []Step, ok bool) {
	i, ok := l.find(key)
	if !ok {
		return nil, false
	}
	r := l.reader()
	steps = []Step{}
	for range mostSteps {
		at, changed := r.all[i].before(frame)
		if !changed || at < l.from {
			if len(steps) == 0 {
				steps = append(steps, Step{l.Signals[i].Label + " has not changed in what is on record.",
					l.Signals[i].Key,
					l.from})
			}
			return steps, true
		}
		c := r.cause(i, at)
		steps = append(steps, Step{words.Capital(c.says) + ".", l.Signals[i].Key, at})
		if c.next < 0 {
			return steps, true
		}
		i, frame = c.next, c.frame
	}
	return steps, true
}

// cause is why a signal changed in a frame, and what to ask next: -1 for nothing.
type cause struct {
	says  string
	next  int
	frame int64
}

// became says what a signal did in a frame.
func (r *reader) became(i int, frame int64) string {
	s, v := &r.Signals[i], r.all[i].at(frame)
	switch {
	case s.part.Kind == setup.IsControl && s.Kind == Named:
		id := r.s.Transmitter.Controls[s.part.Index].ID
		at := r.s.Transmitter.Controls[s.part.Index].Switch.Positions[int(v)]
		return words.Became(r.s, setup.Truth(string(id)+"."+string(at)))
	case s.part.Kind == setup.IsAnnouncement:
		return strings.TrimSuffix(s.Label, " is said") + " was said"
	case s.Kind == Truth:
		return s.Label + " went " + words.OnOff(v != 0)
	case s.Kind == Named && s.part.Kind == setup.IsSequence:
		return s.Label + " " + []string{"came to rest", "began to move", "was done"}[int(v)]
	}
	return s.Label + " went to " + s.says(v)
}

// cause looks for why a signal changed in a frame.
func (r *reader) cause(i int, frame int64) cause {
	part := r.Signals[i].part
	did := r.became(i, frame)
	end := func(why string) cause { return cause{did + " " + why, -1, 0} }
	if part.Kind == setup.IsControl {
		return end("by hand")
	}
	if r.all[r.send].at(frame) == 0 {
		return end("because the transmitter stopped sending")
	}
	if r.all[r.send].at(frame-1) == 0 {
		return end("because the transmitter began to send")
	}
	switch part.Kind {
	case setup.IsBlock:
		return r.block(i, frame, did)
	case setup.IsStepper:
		return r.stepper(part, frame, did)
	case setup.IsSequence:
		return r.sequence(i, frame, did)
	case setup.IsPattern:
		if c, ok := r.by(did, frame, r.s.Patterns[part.Index].When); ok {
			return c
		}
		return end("by itself, as it plays")
	case setup.IsAnnouncement:
		if c, ok := r.by(did, frame, r.s.Announcements[part.Index].When); ok {
			return c
		}
	}
	return r.nearest(part, frame, did)
}

// fact tells whether a condition held in a frame.
func (r *reader) fact(t setup.Truth, frame int64) bool {
	f, err := r.s.Fact(t)
	if err != nil {
		return false
	}
	if f.Kind == setup.FactPowerOn {
		first := r.all[r.send].at(frame) != 0 && r.all[r.send].at(frame-1) == 0
		return first != f.Not
	}
	v := r.all[r.at[f.Item()]].at(frame)
	if f.Kind == setup.FactBlock {
		return (v != 0) != f.Not
	}
	return (v == float64(f.Sub)) != f.Not
}

// signalOf gives the signal of a condition; ok is false for power_on.
func (r *reader) signalOf(t setup.Truth) (int, bool) {
	f, err := r.s.Fact(t)
	if err != nil || f.Kind == setup.FactPowerOn {
		return 0, false
	}
	i, ok := r.at[f.Item()]
	return i, ok
}

// came gives the frame, up to another one, in which a condition came to what it then was; ok is false
// where that is
// not on record.
func (r *reader) came(t setup.Truth, frame int64) (at int64, ok bool) {
	i, ok := r.signalOf(t)
	is := r.fact(t, frame)
	for ok {
		if at, ok = r.all[i].before(frame); !ok {
			return 0, false
		}
		if r.fact(t, at-1) != is {
			return at, true
		}
		frame = at - 1
	}
	return 0, false
}

// turned gives a condition as it was in a frame: itself where it held, else its opposite.
func (r *reader) turned(t setup.Truth, frame int64) setup.Truth {
	if r.fact(t, frame) {
		return t
	}
	return t.Opposite()
}

// by blames the conditions that changed in a frame, or, where they are read a frame late, in the frame
// before.
func (r *reader) by(did string, frame int64, truths ...setup.Truth) (cause, bool) {
	for _, at := range []int64{frame, frame - 1} {
		var changed []setup.Truth
		for _, t := range truths {
			if r.fact(t, at) != r.fact(t, at-1) {
				changed = append(changed, t)
			}
		}
		if changed == nil {
			continue
		}
		var says []string
		for _, t := range changed {
			says = append(says, words.Became(r.s, r.turned(t, at)))
		}
		text := did + " because " + words.And(says)
		var stood []string
		for _, t := range truths {
			if r.fact(t, at) == r.fact(t, at-1) {
				stood = append(stood, words.While(r.s, r.turned(t, at)))
			}
		}
		if len(stood) > 0 {
			text += ", while " + words.And(stood)
		}
		if len(changed) == 1 && len(truths) > 1 {
			text += "; nothing else that it looks at changed then"
		}
		next, ok := r.signalOf(changed[0])
		if !ok {
			return cause{text, -1, 0}, true
		}
		return cause{text, next, at}, true
	}
	return cause{}, false
}

// after blames a condition that has been so for a time.
func (r *reader) after(did string, frame int64, t setup.Truth, is bool, seconds float64) cause {
	at, ok := r.came(t, frame)
	says := words.While(r.s, t)
	if !is {
		says = words.While(r.s, r.turned(t, frame))
	}
	text := fmt.Sprintf("%s because %s, and %s s were over", did, says, words.Short(seconds))
	next, has := r.signalOf(t)
	if !ok || !has {
		return cause{text, -1, 0}
	}
	return cause{text, next, at}
}

// block looks for why a block changed.
func (r *reader) block(i int, frame int64, did string) cause {
	part := r.Signals[i].part
	b := &r.s.Logic[part.Index]
	on := r.all[i].at(frame) != 0
	switch spec := b.Spec.(type) {
	case *setup.Gate:
		if c, ok := r.by(did, frame, spec.In...); ok {
			return c
		}
	case *setup.Latch:
		if c, ok := r.by(did, frame, spec.Set, spec.Reset); ok {
			return c
		}
	case *setup.Toggle:
		reads := []setup.Truth{spec.In}
		if spec.Reset != nil {
			if !on && r.fact(*spec.Reset, frame) {
				reads = []setup.Truth{*spec.Reset}
			} else {
				reads = append(reads, *spec.Reset)
			}
		}
		if c, ok := r.by(did, frame, reads...); ok {
			return c
		}
	case *setup.Edge:
		if !on {
			return cause{did + " because it is on for one moment only", i, frame - 1}
		}
		if c, ok := r.by(did, frame, spec.In); ok {
			return c
		}
	case *setup.Timer:
		held := r.fact(spec.In, frame)
		switch {
		case b.Block == "ton" && on, b.Block == "tof" && !on:
			return r.after(did, frame, spec.In, held, spec.ForS)
		case b.Block == "tp" && !on:
			return cause{fmt.Sprintf("%s because its %s s were over", did, words.Short(spec.ForS)), i, frame - 1}
		}
		if c, ok := r.by(did, frame, spec.In); ok {
			return c
		}
	}
	return r.nearest(part, frame, did)
}

// stepper looks for why steps were made.
func (r *reader) stepper(part setup.Item, frame int64, did string) cause {
	st := &r.s.Steppers[part.Index]
	if st.Home != nil && r.fact(*st.Home, frame) {
		if c, ok := r.by(did, frame, *st.Home); ok {
			return c
		}
	}
	for _, t := range []*setup.Truth{st.Up, st.Down} {
		if t == nil || !r.fact(*t, frame) {
			continue
		}
		if c, ok := r.by(did, frame, *t); ok {
			return c
		}
		if at, ok := r.came(*t, frame); ok && st.RepeatS > 0 {
			next, _ := r.signalOf(*t)
			return cause{did + " because " + words.While(r.s, *t) + ", and steps again while it is held", next, at}
		}
	}
	return r.nearest(part, frame, did)
}

// sequence looks for why a sequence began to move, or came to an end.
func (r *reader) sequence(i int, frame int64, did string) cause {
	sq := &r.s.Sequences[r.Signals[i].part.Index]
	if c, ok := r.by(did, frame, sq.Go); ok {
		return c
	}
	text := did + " because its time was over"
	if r.all[i].at(frame) == 1 {
		text = did + " because it goes the other way"
	}
	next, ok := r.signalOf(sq.Go)
	if at, came := r.came(sq.Go, frame); ok && came {
		return cause{text + "; " + words.While(r.s, r.turned(sq.Go, frame)), next, at}
	}
	return cause{text, -1, 0}
}

// nearest blames what changed last of all that a part depends on.
func (r *reader) nearest(part setup.Item, frame int64, did string) cause {
	best, at := -1, int64(-1)
	for _, other := range r.s.Graph().Behind(part)[1:] {
		i, on := r.at[other]
		if !on {
			continue
		}
		// the one that is nearest to the part, of those that changed last
		if then, ok := r.all[i].before(frame); ok && then > at {
			best, at = i, then
		}
	}
	if best < 0 {
		return cause{did + " by itself", -1, 0}
	}
	ago := ""
	if before := float64(frame-at) * r.s.Transmitter.FrameS(); before > 0 {
		ago = fmt.Sprintf(" %s s before", words.Short(before))
	}
	return cause{did + " because " + r.became(best, at) + ago, best, at}
}

// WhyNot tells what was missing for a signal to be on in a frame; where it was on, that it was. ok is
// false where
// there is no such signal, or it is never on or off.
func (l *Log) WhyNot(key string, frame int64) (says []string, ok bool) {
	i, ok := l.find(key)
	if !ok || l.Signals[i].Kind != Truth || l.Signals[i].part.Kind == 0 {
		return nil, false
	}
	r := l.reader()
	if r.all[i].at(frame) != 0 {
		return []string{l.Signals[i].Label + " was on then."}, true
	}
	m := &missing{reader: r, frame: frame, seen: map[setup.Item]bool{}}
	m.of(l.Signals[i].part)
	return m.says, true
}

// missing lists what was missing in a frame.
type missing struct {
	*reader
	frame int64
	says  []string
	seen  map[setup.Item]bool
}

func (m *missing) add(format string, args ...any) {
	if len(m.says) < mostMissing {
		m.says = append(m.says, words.Capital(fmt.Sprintf(format, args...))+".")
	}
}

// want says that something waited for a condition that did not hold, and then what that waited for.
func (m *missing) want(name string, t setup.Truth) {
	m.add("%s waited for this, which was not so: %s", name, words.While(m.s, t))
	f, err := m.s.Fact(t)
	if err == nil && f.Kind == setup.FactBlock && !f.Not {
		m.of(f.Item())
	}
}

// of lists what was missing for a part.
func (m *missing) of(part setup.Item) {
	if m.seen[part] {
		return
	}
	m.seen[part] = true
	name := m.s.Label(part)
	if m.all[m.send].at(m.frame) == 0 {
		m.add("the transmitter sent nothing then")
		return
	}
	if part.Kind == setup.IsAnnouncement {
		m.want(m.Signals[m.at[part]].Label, m.s.Announcements[part.Index].When)
		return
	}
	b := &m.s.Logic[part.Index]
	switch spec := b.Spec.(type) {
	case *setup.Gate:
		m.gate(name, b.Block, spec)
	case *setup.Latch:
		switch {
		case m.fact(spec.Reset, m.frame):
			m.add("%s is held off while %s", name, words.While(m.s, spec.Reset))
		default:
			m.want(name, spec.Set)
		}
	case *setup.Toggle:
		m.toggle(name, spec)
	case *setup.Edge:
		m.add("%s is on for one moment only, when %s", name, words.When(m.s, spec.In))
	case *setup.Timer:
		m.timer(name, b.Block, spec)
	case *setup.Level:
		m.add("%s goes on where %s is %s %s %%; it was at %s", name, words.Source(m.s, spec.Of),
			map[string]string{"above": "at or above", "below": "at or below"}[b.Block], words.SignedShort(spec.Level),
			m.was(spec.Of))
	case *setup.Between:
		m.add("%s goes on where %s is between %s %% and %s %%; it was at %s", name, words.Source(m.s, spec.Of),
			words.SignedShort(spec.From), words.SignedShort(spec.To), m.was(spec.Of))
	}
}

// was says where the lever behind a value stood.
func (m *missing) was(v setup.Value) string {
	if c := m.s.ControlBehind(v); c >= 0 {
		i := m.at[setup.IsControl.At(c)]
		return m.Signals[i].says(m.all[i].at(m.frame)) + " (" + m.s.ControlLabel(c) + ")"
	}
	return "another place"
}

func (m *missing) gate(name, block string, gate *setup.Gate) {
	switch block {
	case "and":
		for _, t := range gate.In {
			if !m.fact(t, m.frame) {
				m.want(name, t)
			}
		}
	case "or":
		m.add("%s waited for any of these, and none was so", name)
		for _, t := range gate.In {
			m.want(name, t)
		}
	default:
		m.add("%s wants an odd number of its conditions to hold, and an even number did", name)
	}
}

func (m *missing) toggle(name string, toggle *setup.Toggle) {
	if toggle.Reset != nil && m.fact(*toggle.Reset, m.frame) {
		m.add("%s is held off as long as %s", name, words.While(m.s, *toggle.Reset))
		return
	}
	at, ok := m.came(toggle.In, m.frame)
	if ok && !m.fact(toggle.In, m.frame) { // it was let go then: the press lies before
		at, ok = m.came(toggle.In, at-1)
	}
	m.add("%s goes on when %s", name, words.When(m.s, toggle.In))
	if ok {
		m.add("the last time that %s was %s s before", words.Became(m.s, toggle.In),
			words.Short(float64(m.frame-at)*m.s.Transmitter.FrameS()))
	}
}

func (m *missing) timer(name, block string, timer *setup.Timer) {
	held := m.fact(timer.In, m.frame)
	switch {
	case block == "ton" && held:
		if at, ok := m.came(timer.In, m.frame); ok {
			m.add("%s goes on when this has lasted %s s: %s. It had lasted %s s", name, words.Short(timer.ForS),
				words.While(m.s, timer.In), words.Short(float64(m.frame-at)*m.s.Transmitter.FrameS()))
		}
	case block == "tp":
		m.add("%s goes on for %s s when %s", name, words.Short(timer.ForS), words.When(m.s, timer.In))
	default:
		m.want(name, timer.In)
	}
}
