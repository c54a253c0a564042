// Package same tells whether two setups send the same: in every frame of every run, whatever hands and power
// do, on every channel the same pulse, or none. What is alike part by part needs no search; the rest is
// searched side by side, in one program.
package same

import (
	"context"
	"errors"
	"fmt"
	"slices"
	"strings"

	"axtren/core/proof"
	"axtren/core/setup"
	"axtren/core/signal"
	"axtren/core/words"
)

// Answer is what was found out about two setups.
type Answer struct {
	Same      bool
	Undecided string // how far it got; empty: it is decided
	// where they are not the same, the fewest movements that show it, and the frame in which they differ for
	// the first time
	Rows   []proof.Row
	Frame  int
	Fewest bool // none of fewer rows shows it, and none of as many earlier
	States int  // how many moments were visited
	Alike  int  // channels that are the same part by part
	// of the first difference: its channel, and what each sends there, us, 0 for nothing
	Channel int
	US      [2]float64
}

// Script is what shows that they are not the same; empty where they are, or it is not known.
func (a *Answer) Script() string {
	if a.Same || a.Undecided != "" {
		return ""
	}
	return proof.Script(a.Rows)
}

// two are two setups that are compared.
type two struct {
	docs     [2]*setup.Document
	programs [2]*signal.Program
}

// Compare tells whether two setups send the same. The error says why they cannot be compared.
func Compare(ctx context.Context, a, b *setup.Document, budget proof.Budget) (*Answer, error) {
	t := &two{docs: [2]*setup.Document{a, b}}
	if err := controls(a.Setup, b.Setup); err != nil {
		return nil, err
	}
	for k, doc := range t.docs {
		p, err := signal.Compile(doc.Setup)
		if err != nil {
			return nil, err
		}
		t.programs[k] = p
	}
	pairs, alike := t.pairs()
	answer := &Answer{Same: true, Alike: alike, Rows: []proof.Row{}}
	if len(pairs.List) == 0 && pairs.Other == nil {
		return answer, nil
	}
	v := proof.Apart(ctx, pairs, budget)
	answer.States = v.States
	switch v.Verdict {
	case proof.Undecided:
		answer.Same, answer.Undecided = false, v.Why
	case proof.Fails:
		answer.Same, answer.Rows, answer.Frame, answer.Fewest = false, v.Rows, v.Frame, v.Fewest
		if err := t.show(answer); err != nil {
			answer.Undecided = err.Error()
		}
	}
	return answer, nil
}

// controls tells what of two setups has to be the same before they can be compared.
func controls(a, b *setup.Setup) error {
	if a.Transmitter.FrameMS != b.Transmitter.FrameMS {
		return fmt.Errorf("transmitter.frame_ms is %d in the first and %d in the second; both need the same",
			a.Transmitter.FrameMS, b.Transmitter.FrameMS)
	}
	if err := has(a, b, "second"); err != nil {
		return err
	}
	return has(b, a, "first")
}

// has tells whether a setup has the controls of another one.
func has(of, in *setup.Setup, which string) error {
	for i := range of.Transmitter.Controls {
		c := &of.Transmitter.Controls[i]
		item := in.Item(c.ID)
		if item.Kind != setup.IsControl {
			return fmt.Errorf("%s (control %s) is not in the %s setup; both need the same controls",
				of.ControlLabel(i), c.ID, which)
		}
		if d := &in.Transmitter.Controls[item.Index]; moves(c) != moves(d) {
			return fmt.Errorf("%s (control %s) is %s in one setup and %s in the other; it has to be the same in both",
				of.ControlLabel(i), c.ID, moves(c), moves(d))
		}
	}
	return nil
}

// moves says how a control moves.
func moves(c *setup.Control) string {
	if c.Axis != nil {
		return fmt.Sprintf("an axis with spring %s that begins at %g", c.Axis.Spring, c.Axis.Rest())
	}
	var names []string
	for _, at := range c.Switch.Positions {
		names = append(names, string(at))
	}
	spring := "stays where it is put"
	if c.Switch.SpringTo != nil {
		spring = "springs back"
	}
	return fmt.Sprintf("a switch with %s that begins at %s and %s", strings.Join(names, ", "),
		c.Switch.Positions[c.Switch.Rest()], spring)
}

// pairs gives what is to be searched: both setups side by side, with what is alike once, and of each channel
// that is not alike its outputs. alike is how many are.
func (t *two) pairs() (pairs *proof.Pairs, alike int) {
	a, b := t.docs[0].Setup, t.docs[1].Setup
	pairs = &proof.Pairs{Setup: a}
	if len(a.Outputs) == 0 || len(b.Outputs) == 0 { // what one sends the other never does
		if len(a.Outputs) == 0 {
			pairs.Setup = b
		}
		for i := range pairs.Setup.Outputs {
			pairs.List = append(pairs.List, proof.Pair{A: pairs.Setup.Outputs[i].ID})
		}
		return pairs, 0
	}
	onto := t.alike()
	samePulse := a.Transmitter.Pulse == b.Transmitter.Pulse
	if !samePulse || !sameChecks(a, b) {
		pairs.Other = b
	}
	to := names(a, b, onto)
	for channel := 1; channel <= channels; channel++ {
		var one proof.Pair
		if i := a.OutputOn(channel); i >= 0 {
			one.A = a.Outputs[i].ID
		}
		if i := b.OutputOn(channel); i >= 0 {
			one.B = to[b.Outputs[i].ID]
		}
		switch {
		case one == proof.Pair{}:
		case one.A == one.B && samePulse:
			alike++
		default:
			pairs.List = append(pairs.List, one)
		}
	}
	if len(pairs.List) > 0 {
		pairs.Setup = a.Beside(t.docs[1], to)
	}
	return pairs, alike
}

// channels is how many channels a transmitter has at most.
const channels = 48

// names gives the ids that the parts of b have beside a: of what is alike those of a, else new ones.
func names(a, b *setup.Setup, onto map[setup.ID]setup.ID) map[setup.ID]setup.ID {
	to := map[setup.ID]setup.ID{}
	n := 0
	for _, kind := range computing {
		for i := range b.Count(kind) {
			id := b.Key(kind.At(i)).ID
			if same, ok := onto[id]; ok {
				to[id] = same
				continue
			}
			for n++; a.Item(setup.ID(fmt.Sprint("other_", n))).Kind != 0; n++ {
			}
			to[id] = setup.ID(fmt.Sprint("other_", n))
		}
	}
	return to
}

// sameChecks tells whether two start checks wait for the same.
func sameChecks(a, b *setup.Setup) bool {
	list := func(s *setup.Setup) (texts []string) {
		for _, e := range s.StartCheck {
			texts = append(texts, written(e))
		}
		slices.Sort(texts)
		return slices.Compact(texts)
	}
	return slices.Equal(list(a), list(b))
}

// errFault is said where what was found is not so on both setups.
var errFault = errors.New("what was found does not show it on both: this is a fault of the search")

// show plays what was found on both setups, and notes where they differ.
func (t *two) show(answer *Answer) error {
	var states [2]*signal.State
	var hands [2]signal.Hands
	for k, p := range t.programs {
		states[k], hands[k] = p.PowerOn(), p.Rest()
	}
	next := 0
	for frame := 0; frame <= answer.Frame; frame++ {
		for ; next < len(answer.Rows) && answer.Rows[next].Frame == frame; next++ {
			row := &answer.Rows[next]
			for k, p := range t.programs {
				hand, ok := p.Hand(row.Control)
				if !ok {
					return errFault
				}
				hands[k][hand], _ = p.HandValue(row.Control, row.Value)
			}
		}
		for k, p := range t.programs {
			p.Step(states[k], hands[k])
		}
		if t.differ(states, answer) {
			if frame < answer.Frame {
				return errFault
			}
			return nil
		}
	}
	return errFault
}

// differ tells whether both send something else in a frame, and notes where.
func (t *two) differ(states [2]*signal.State, answer *Answer) bool {
	for channel := 1; channel <= channels; channel++ {
		var us [2]float64
		for k, p := range t.programs {
			if i := t.docs[k].Setup.OutputOn(channel); i >= 0 && p.Sending(states[k]) {
				us[k] = states[k].At(p.Routes[i].US)
			}
		}
		if us[0] != us[1] {
			answer.Channel, answer.US = channel, us
			return true
		}
	}
	return false
}

// alike finds which parts of the second do the same as one of the first.
func (t *two) alike() map[setup.ID]setup.ID {
	a := newSide(t.docs[0], t.programs[0], 0)
	b := newSide(t.docs[1], t.programs[1], len(a.parts))
	return alike(a, b)
}

// Says says the answer for a person, a line each. Both setups are called by names.
func (a *Answer) Says(setups [2]*setup.Setup, names [2]string) []string {
	switch {
	case a.Same && a.States == 0:
		return []string{"They send the same, whatever hands do: every channel is made in the same way."}
	case a.Same:
		return []string{"They send the same, whatever hands do: " +
			words.Count(a.States, "moment was", "moments were") +
			" looked at, and there are no others."}
	case a.Undecided != "":
		return []string{words.Capital(a.Undecided) + "."}
	}
	sent := func(us float64) string {
		if us == 0 {
			return "nothing"
		}
		return words.Short(us) + " µs"
	}
	list := proof.Moves(setups[0], a.Rows)
	when := proof.When(setups[0], a.Rows, a.Frame)
	channel := fmt.Sprint("channel ", a.Channel)
	for _, s := range slices.Backward(setups[:]) {
		if i := s.OutputOn(a.Channel); i >= 0 && s.Outputs[i].Label != "" {
			channel = fmt.Sprintf("%s (channel %d)", s.OutputLabel(i), a.Channel)
		}
	}
	said := fmt.Sprintf("%s %s is sent %s by %s and %s by %s", words.Capital(when), channel,
		sent(a.US[0]), names[0], sent(a.US[1]), names[1])
	if !a.Fewest {
		said += "; fewer movements may show it too"
	}
	return append(list, said+".")
}
