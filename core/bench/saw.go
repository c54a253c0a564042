package bench

import (
	"math"
	"slices"
	"strconv"
	"strings"

	"axtren/core/diagnose"
	"axtren/core/setup"
	"axtren/core/words"
)

// Spot is something that is looked at in a step: a part of it, or the rest.
type Spot struct {
	Step int // from 0
	Of   string
}

// Seen is what a person saw of something, beside what it should do.
type Seen string

// A part does as it should, or otherwise, or nothing.
const (
	AsShould Seen = "as"
	Other    Seen = "other"
	Nothing  Seen = "nothing"
)

// Saw is what a person saw of something, and in what detail.
type Saw struct {
	Seen  Seen
	Does  string // what it does instead, in a word of a diagnosis; empty: not said
	Reads string // what the transmitter's display reads; empty: not said
}

// ReadsAs tells whether a figure that a person read is the one that a display must show; ok is false where it
// is no figure.
func ReadsAs(must, read string) (same, ok bool) {
	b, ok := words.Number(read)
	if !ok {
		return false, false
	}
	a, figure := words.Number(must)
	return !figure || math.Abs(a-b) <= diagnose.ReadingOff, true
}

// Known gives what is known of a model from a walk, as a diagnosis takes it: the steps with the signal there
// at which something was seen that a try from rest shows too. left counts the steps at which something was
// otherwise, and a try from rest would not tell: it needs what was done before, or the signal was lost.
func Known(past *Past) (looks []diagnose.Look, left int, err error) {
	s := past.Doc.Setup
	one, err := newSide(s, past)
	if err != nil {
		return nil, 0, err
	}
	looks = []diagnose.Look{}
	for n := range past.Steps {
		look, told := one.known(past, n)
		if look != nil {
			looks = append(looks, *look)
		}
		if !told && past.otherwise(n) {
			left++
		}
	}
	return looks, left, nil
}

// otherwise tells whether anything of a step was not as it should.
func (past *Past) otherwise(n int) bool {
	return slices.ContainsFunc(past.Steps[n].Looked(), func(of string) bool {
		saw := past.Saw[Spot{n, of}].Seen
		return saw != "" && saw != AsShould
	})
}

// known is what was seen at a step as a look of a diagnosis, nil for nothing; told tells whether it has
// something that is otherwise than it should be.
func (one *side) known(past *Past, n int) (look *diagnose.Look, told bool) {
	k, at := one.k, one.looks[n]
	if at == nil || past.Steps[n].When != There {
		return nil, false
	}
	look = &diagnose.Look{Hands: map[string]any{}, Display: map[string]float64{}, Seen: map[string]string{}}
	hands := k.w.right.Rest()
	for i := range k.s.Transmitter.Controls {
		if at.Hands[i] == hands[i] {
			continue
		}
		id := string(k.s.Transmitter.Controls[i].ID)
		hands[i] = at.Hands[i]
		if look.Hands[id] = any(at.Hands[i]); k.s.Transmitter.Controls[i].Axis == nil {
			look.Hands[id] = k.w.right.HandWord(id, at.Hands[i])
		}
	}
	st := diagnose.Held(k.w.right, hands)
	for _, part := range past.Steps[n].Parts {
		saw := past.Saw[Spot{n, part.Of}]
		item := k.s.Item(setup.ID(strings.TrimPrefix(part.Of, "devices/")))
		if item.Kind != setup.IsDevice || saw.Seen == "" || k.remembers(item.Index) ||
			k.w.seer.Device(st, item.Index) != at.Devices[item.Index] {
			continue
		}
		should := at.Devices[item.Index]
		if says := saysOf(&k.s.Devices[item.Index], saw, should); says != "" {
			look.Seen[string(k.s.Devices[item.Index].ID)] = says
			told = told || says != should
		}
		if figure, ok := words.Number(saw.Reads); ok && part.Channel > 0 {
			look.Display[strconv.Itoa(part.Channel)] = figure
			same, _ := ReadsAs(part.Display, saw.Reads)
			told = told || !same
		}
	}
	if len(look.Seen)+len(look.Display) == 0 {
		return nil, false
	}
	return look, told
}

// saysOf gives the word of a diagnosis for what was seen of a device; empty where it is not known.
func saysOf(d *setup.Device, saw Saw, should string) string {
	switch saw.Seen {
	case AsShould:
		return should
	case Other:
		return saw.Does
	}
	if _, box := d.Spec.(*setup.StepBox); box {
		return "" // it stands at one of its steps, and nobody said at which
	}
	return diagnose.SaysOf(d, 0)
}

// remembers tells whether what a device does may depend on what was done before.
func (k *walker) remembers(d int) bool {
	for _, o := range k.w.feeds[d] {
		for part := range k.w.behind[o] {
			switch part.Kind {
			case setup.IsStepper, setup.IsSequence, setup.IsPattern:
				return true
			case setup.IsBlock:
				if k.s.Logic[part.Index].Remembers() {
					return true
				}
			}
		}
	}
	return false
}
