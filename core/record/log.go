package record

import (
	"math"
	"slices"

	"axtren/core/setup"
	"axtren/core/signal"
	"axtren/core/words"
)

// The kinds of what is on record.
const (
	Truth = "truth" // 0 or 1
	Named = "name"  // the place of one of its names
	Value = "value" // percent
)

// Signal is one thing that is on record.
type Signal struct {
	Key   string   `json:"key"` // logic/horn, controls/left, outputs/winch, hands/link
	Label string   `json:"label"`
	Kind  string   `json:"kind"`
	Names []string `json:"names"` // of a name
	part  setup.Item
	slot  signal.Slot
	last  float64 // of a sequence: its whole time, s
}

// So much is kept: ten minutes, and no more changes than fit in a quarter of a megabyte.
const (
	keptSeconds = 600
	mostChanges = 60_000
)

// A value is noted ten times a second at most, and where it comes to rest: what is drawn needs no more.
const valueSeconds = 0.1

// Log is what happened, as far as it is kept. The zero value is none.
type Log struct {
	Signals []Signal
	p       *signal.Program
	from    int64 // the frame from which on everything is known
	to      int64 // the frame that was noted last; before the first, from - 1
	start   []float64
	now     []float64
	noted   []int64 // of a value, the frame in which it was noted last
	changes Changes
}

// NewLog begins to keep what happens on a program, from a frame on. What another log kept of the same
// things goes
// on; nil: none.
func NewLog(p *signal.Program, frame int64, before *Log) *Log {
	l := &Log{p: p, Signals: signalsOf(p), from: frame, to: frame - 1}
	n := len(l.Signals)
	l.start, l.now, l.noted = make([]float64, n), make([]float64, n), make([]int64, n)
	for i := range n {
		l.start[i], l.now[i] = math.NaN(), math.NaN()
	}
	if before != nil {
		l.goOn(before)
	}
	return l
}

// goOn takes over what a log kept of what both have.
func (l *Log) goOn(before *Log) {
	l.from, l.to = before.from, before.to
	same := func(a, b Signal) bool {
		return a.Key == b.Key && a.Kind == b.Kind && slices.Equal(a.Names, b.Names)
	}
	if slices.EqualFunc(l.Signals, before.Signals, same) {
		l.start, l.now, l.noted, l.changes = before.start, before.now, before.noted, before.changes
		return
	}
	at := map[string]int{}
	for i, s := range l.Signals {
		at[s.Key] = i
	}
	to := make([]int, len(before.Signals))
	for i, s := range before.Signals {
		to[i] = -1
		if k, has := at[s.Key]; has && same(s, l.Signals[k]) {
			to[i] = k
			l.start[k], l.now[k] = before.start[i], before.now[i]
		}
	}
	for c := range before.changes.All() {
		if k := to[c.Of]; k >= 0 {
			l.changes.Add(Change{c.Value, c.Frame, k})
		}
	}
}

// signalsOf lists what of a program is on record: the hands, the rules, and the functions.
func signalsOf(p *signal.Program) []Signal {
	s := p.Setup()
	var list []Signal
	add := func(part setup.Item, kind string, slot signal.Slot, names ...string) *Signal {
		list = append(list, Signal{Key: s.PartName(part),
			Label: s.Label(part),
			Kind:  kind, Names: append([]string{}, names...), part: part, slot: slot})
		return &list[len(list)-1]
	}
	for i := range s.Transmitter.Controls {
		part := setup.IsControl.At(i)
		sw := s.Transmitter.Controls[i].Switch
		if sw == nil {
			add(part, Value, p.ControlSlot(i))
			continue
		}
		var names []string
		for _, at := range sw.Positions {
			names = append(names, at.Words())
		}
		add(part, Named, p.ControlSlot(i), names...)
	}
	for i := range s.Logic {
		add(setup.IsBlock.At(i), Truth, p.BlockSlot(i))
	}
	for i := range s.Steppers {
		var names []string
		for _, step := range s.Steppers[i].Steps {
			names = append(names, step.Name.Words())
		}
		add(setup.IsStepper.At(i), Named, p.StepperSlot(i), names...)
	}
	for i := range s.Sequences {
		add(setup.IsSequence.At(i), Named, p.SequenceSlot(i), "at rest", "moving",
			"done").last = s.Sequences[i].LastS()
	}
	for i := range s.Patterns {
		add(setup.IsPattern.At(i), Value, p.PatternSlot(i))
	}
	for i := range s.Outputs {
		add(setup.IsOutput.At(i), Value, p.Routes[i].P).Label += " (function)"
	}
	for i := range s.Announcements {
		add(setup.IsAnnouncement.At(i), Truth, p.SaidSlot(i)).Label = "“" + s.Announcements[i].Say + "” is said"
	}
	list = append(list, Signal{Key: "hands/sends", Label: "The transmitter sends", Kind: Truth,
		Names: []string{},
		slot:  p.SendingSlot()})
	return list
}

// read gives the value of a signal in a state.
func (s *Signal) read(st *signal.State) float64 {
	v := st.At(s.slot)
	switch {
	case s.part.Kind == setup.IsSequence:
		switch {
		case v <= 0:
			return 0
		case v >= s.last-1e-9:
			return 2
		}
		return 1
	case s.Kind == Value:
		return math.Round(v*10) / 10
	}
	return v
}

// Step notes what changed in the frame that a state shows.
func (l *Log) Step(st *signal.State) {
	frame := st.Frame
	l.to = frame
	apart := int64(valueSeconds / l.p.Setup().Transmitter.FrameS())
	for i := range l.Signals {
		s := &l.Signals[i]
		v := s.read(st)
		switch {
		case v == l.now[i]:
			continue
		case math.IsNaN(l.now[i]):
			l.start[i] = v
		case s.Kind == Value && s.part.Kind != setup.IsPattern && frame-l.noted[i] < apart:
			continue // it is noted later, where it then is
		default:
			l.changes.Add(Change{v, frame, i})
		}
		l.now[i], l.noted[i] = v, frame
	}
	oldest := frame - int64(keptSeconds/l.p.Setup().Transmitter.FrameS())
	for l.changes.Len() > 0 {
		c := l.changes.Oldest()
		if l.changes.Len() > mostChanges {
			oldest = max(oldest, c.Frame+1)
		}
		if c.Frame >= oldest {
			break
		}
		l.start[c.Of] = c.Value
		l.changes.Forget()
	}
	l.from = max(l.from, oldest)
}

// Span gives the frames from which on and up to which everything is on record.
func (l *Log) Span() (from, to int64) { return l.from, l.to }

// Strips are what is on record, for a page: where each thing was at the beginning, and what changed
// since, in the
// order of time.
type Strips struct {
	Signals []Signal  `json:"signals"`
	From    int64     `json:"from"`  // the first frame
	To      int64     `json:"to"`    // the last frame
	Start   []float64 `json:"start"` // of each signal, its value in the first frame
	At      []int64   `json:"at"`    // of each change, its frame
	Of      []int     `json:"of"`    // its signal
	V       []float64 `json:"v"`     // and what it became
}

// Strips gives all that is on record.
func (l *Log) Strips() Strips {
	t := Strips{Signals: l.Signals, From: l.from, To: l.to, Start: make([]float64, len(l.Signals))}
	for i, v := range l.start {
		if !math.IsNaN(v) {
			t.Start[i] = v
		}
	}
	t.At, t.Of, t.V = l.since(l.from - 1)
	return t
}

// Since gives what changed after a frame.
func (l *Log) Since(frame int64) Strips {
	t := Strips{Signals: []Signal{}, From: frame + 1, To: l.to, Start: []float64{}}
	t.At, t.Of, t.V = l.since(frame)
	return t
}

func (l *Log) since(frame int64) (at []int64, of []int, v []float64) {
	at, of, v = []int64{}, []int{}, []float64{}
	for c := range l.changes.All() {
		if c.Frame > frame {
			at, of, v = append(at, c.Frame), append(of, c.Of), append(v, c.Value)
		}
	}
	return at, of, v
}

// history is what one signal was: in the first frame that is kept, and what it became.
type history struct {
	first  float64
	frames []int64
	values []float64
}

// histories reads what is kept of every signal.
func (l *Log) histories() []history {
	all := make([]history, len(l.Signals))
	for i := range all {
		all[i].first = l.start[i]
		if math.IsNaN(l.start[i]) {
			all[i].first = 0
		}
	}
	for c := range l.changes.All() {
		h := &all[c.Of]
		h.frames, h.values = append(h.frames, c.Frame), append(h.values, c.Value)
	}
	return all
}

// at gives the value in a frame.
func (h *history) at(frame int64) float64 {
	n, exact := slices.BinarySearch(h.frames, frame)
	if !exact {
		n--
	}
	if n < 0 {
		return h.first
	}
	return h.values[n]
}

// before gives the last frame up to another one in which the value changed; ok is false where there is
// none on
// record.
func (h *history) before(frame int64) (at int64, ok bool) {
	n, exact := slices.BinarySearch(h.frames, frame)
	if !exact {
		n--
	}
	if n < 0 {
		return 0, false
	}
	return h.frames[n], true
}

// says gives a value in words.
func (s *Signal) says(v float64) string {
	switch s.Kind {
	case Truth:
		return words.OnOff(v != 0)
	case Named:
		if at := int(v); at >= 0 && at < len(s.Names) {
			return s.Names[at]
		}
	}
	return words.SignedShort(v) + " %"
}
