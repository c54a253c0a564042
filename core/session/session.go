// Package session is a bench without a socket: a running engine with a pair of hands,
// trials on top of the newest revision, a state that is carried over every edit, the
// picture beside it, what the hands did, and what plays in their place.
//
// A session is stepped frame by frame by whoever has a clock; it has none. It belongs to
// one goroutine at a time.
package session

import (
	"maps"
	"math"
	"slices"

	"axtren/core/edit"
	"axtren/core/lines"
	"axtren/core/rail"
	"axtren/core/record"
	"axtren/core/setup"
	"axtren/core/signal"
)

// Revision is a document with the program that it compiles to.
type Revision struct {
	Doc     *setup.Document
	Program *signal.Program
}

// Session is one engine and one pair of hands.
type Session struct {
	newest Revision      // the newest revision
	runs   Revision      // what runs: the newest revision, or a trial on top of it
	trial  Change        // of runs; nil: none
	alone  setup.ID      // the one output that moves; empty: all
	kept   *lines.View   // newest as lines; nil: not asked for yet
	rail   *rail.Rail    // of newest; nil: not asked for yet
	live   *signal.State // what the hands move
	scene  *Scene        // the picture beside live
	hands  map[string]string
	now    signal.Hands // hands, for the program that runs
	view   *lines.View
	hist   *Recording
	log    *record.Log // what happened beside live
	player *Player     // what plays instead of the hands; nil: the hands
}

// New powers a revision on with hands where they are: by control, as a script writes
// them. What the model does not have is no hand of it.
func New(of Revision, hands map[string]string) *Session {
	s := &Session{newest: of, hands: map[string]string{}}
	for id, value := range hands {
		if _, ok := placed(of.Program, id, value); ok {
			s.hands[id] = value
		}
	}
	s.run(of)
	s.hist = newRecording(of.Program, 0, s.now, true)
	return s
}

// Newest gives the newest revision.
func (s *Session) Newest() Revision { return s.newest }

// Runs gives what runs: the newest revision, or a trial on top of it.
func (s *Session) Runs() Revision { return s.runs }

// View gives what runs as lines. It is another one after each change of what runs.
func (s *Session) View() *lines.View { return s.view }

// Rail gives the places of the newest revision, with what was found in each; a trial changes
// neither.
func (s *Session) Rail() *rail.Rail {
	if s.rail == nil {
		s.rail = rail.Build(s.newest.Program)
	}
	return s.rail
}

// Live gives the state that the hands move; do not change it.
func (s *Session) Live() *signal.State { return s.live }

// State gives the state that is shown: Live, or what plays; do not change it.
func (s *Session) State() *signal.State {
	if s.player != nil {
		return s.player.state
	}
	return s.live
}

// Scene gives the picture that is shown: beside the hands, or beside what plays.
func (s *Session) Scene() *Scene {
	if s.player != nil {
		return s.player.scene
	}
	return s.scene
}

// LiveScene gives the picture beside the hands.
func (s *Session) LiveScene() *Scene { return s.scene }

// Hands gives where the hands are, for the program that runs; do not change them.
func (s *Session) Hands() signal.Hands { return s.now }

// Player gives what plays in place of the hands; nil for none.
func (s *Session) Player() *Player { return s.player }

// Log gives what happened, beside the hands; do not change it. It is another one after each change of
// what runs.
func (s *Session) Log() *record.Log { return s.log }

// Recording gives what the hands did.
func (s *Session) Recording() *Recording { return s.hist }

// placed gives where a hand puts something, as a program counts it; ok is false where it
// has no such thing, or it cannot go there.
func placed(p *signal.Program, id, value string) (m record.Change, ok bool) {
	hand, ok := p.Hand(id)
	if !ok {
		return record.Change{}, false
	}
	v, err := p.HandValue(id, value)
	return record.Change{Value: v, Of: hand}, err == nil
}

// Move puts the hands where they went, by control as a script writes them, and ends what
// plays. What the model does not have is refused: it is neither placed nor recorded.
func (s *Session) Move(set map[string]string) {
	s.EndPlay()
	var moved []record.Change
	for _, id := range slices.Sorted(maps.Keys(set)) {
		if m, ok := placed(s.runs.Program, id, set[id]); ok {
			s.hands[id] = set[id]
			if s.now[m.Of] != m.Value {
				s.now[m.Of] = m.Value
				moved = append(moved, m)
			}
		}
	}
	s.hist.add(s.live.Frame, moved)
}

// run puts a program on the bench: the first with a power-on, every later one with the
// state carried over.
func (s *Session) run(of Revision) {
	old, was := s.runs.Program, s.live
	if item := of.Doc.Setup.Item(s.alone); item.Kind == setup.IsOutput {
		of.Program = of.Program.Alone(item.Index)
	}
	s.runs = of
	s.scene = s.scene.carry(of.Program)
	s.placeHands()
	if old == nil {
		s.live = of.Program.PowerOn()
	} else {
		s.live = of.Program.Carry(old, was, s.now)
	}
	s.log = record.NewLog(of.Program, s.live.Frame+1, s.log)
	if s.player != nil {
		s.player = s.player.on(of.Program)
	}
	s.view = lines.Build(of.Doc, of.Program)
	if s.hist != nil {
		s.hist = newRecording(of.Program, s.live.Frame, s.now, false)
	}
}

// placeHands turns the hands into numbers for the running program. What was never moved,
// or what an edit took away, is at rest, and on.
func (s *Session) placeHands() {
	s.now = s.runs.Program.Rest()
	for id, hand := range s.hands {
		if m, ok := placed(s.runs.Program, id, hand); ok {
			s.now[m.Of] = m.Value
		}
	}
}

// Adopt takes a new revision. A trial that runs goes on on top of it, as long as it fits;
// what it was made for may be gone, and then it ends: stays is false, and err says why.
func (s *Session) Adopt(of Revision) (stays bool, err error) {
	s.newest, s.kept, s.rail = of, nil, nil
	if s.trial != nil {
		if err = s.Try(s.trial); err == nil {
			return true, nil
		}
	}
	s.Drop()
	return false, err
}

// Change changes the newest revision. It is asked again, of another one, where that changes
// while it is tried.
type Change func(of Revision) (*edit.Result, error)

// Patch is the change of a JSON Patch. The error is that of edit.Apply.
func Patch(patch []byte) Change {
	return func(of Revision) (*edit.Result, error) { return edit.Apply(of.Doc, patch) }
}

// Set is the change that sets a field to a value: lines.FieldOf, lines.Set. Where nothing
// would change, the result is the revision itself.
func (s *Session) Set(at, field string, value any) Change {
	return func(of Revision) (*edit.Result, error) {
		f, err := lines.FieldOf(of.Doc, of.Program, s.keptView(), at, field)
		if err != nil {
			return nil, err
		}
		ops, err := lines.Set(f, value)
		if err != nil {
			return nil, err
		}
		if len(ops) == 0 {
			return &edit.Result{Doc: of.Doc, Program: of.Program}, nil
		}
		return edit.ApplyOps(of.Doc, ops)
	}
}

// keptView gives the newest revision as lines.
func (s *Session) keptView() *lines.View {
	switch {
	case s.trial == nil:
		s.kept = s.view
	case s.kept == nil:
		s.kept = lines.Build(s.newest.Doc, s.newest.Program)
	}
	return s.kept
}

// Try runs a change of the newest revision. Where it does not fit, nothing changes.
func (s *Session) Try(change Change) error {
	r, err := change(s.newest)
	if err != nil {
		return err
	}
	if s.trial == nil {
		s.kept = s.view
	}
	s.trial = change
	s.run(Revision{r.Doc, r.Program})
	return nil
}

// Drop goes back to the newest revision.
func (s *Session) Drop() {
	s.trial = nil
	s.run(s.newest)
}

// Alone lets one output alone move, until it is called with none; the others stay at rest.
func (s *Session) Alone(output setup.ID) {
	if output == s.alone {
		return
	}
	s.alone = output
	if s.trial == nil || s.Try(s.trial) != nil {
		s.Drop()
	}
}

// Step goes one frame on.
func (s *Session) Step() {
	if s.player != nil {
		s.player.Step()
		return
	}
	s.runs.Program.Step(s.live, s.now)
	s.log.Step(s.live)
	s.scene.step(s.live)
}

// Waits lists the entries of the start check that are not met, by place, never nil.
func (s *Session) Waits() []int { return append([]int{}, s.runs.Program.WaitsFor(s.State())...) }

// Values puts every value of the view into the room of an old list, rounded to what a
// page can show, and the numbers of the picture after them.
func (s *Session) Values(room []float64) []float64 {
	values, st := room[:0], s.State()
	for _, slot := range s.view.Slots {
		values = append(values, math.Round(st.At(slot)*1e4)/1e4)
	}
	return s.Scene().numbers(values)
}

// Changes tells what of the values differs from what was told before. The zero value has
// told nothing.
type Changes struct {
	told, spare []float64 // the values that were told; room for the next
	at          []int
	v           []float64
}

// Tell notes that values were told, all of them.
func (c *Changes) Tell(values []float64) { c.told = values }

// Since gives the places of the values that differ from what was told, and these values; ok is
// false where there are not as many.
func (c *Changes) Since(values []float64) (at []int, v []float64, ok bool) {
	if len(values) != len(c.told) {
		return nil, nil, false
	}
	at, v = c.differing(values, []int{}, []float64{})
	return at, v, true
}

// differing adds the places of the values that differ from what was told, and these values.
func (c *Changes) differing(values []float64, at []int, v []float64) ([]int, []float64) {
	for i := range values {
		if values[i] != c.told[i] {
			at, v = append(at, i), append(v, values[i])
		}
	}
	return at, v
}

// Next gives the places of the values that differ, and these values; both are good until
// the next call. told notes that they were told.
func (c *Changes) Next(s *Session) (at []int, v []float64, told func()) {
	values := s.Values(c.spare)
	c.spare = values
	c.at, c.v = c.differing(values, c.at[:0], c.v[:0])
	return c.at, c.v, func() { c.told, c.spare = values, c.told }
}
