package bench

import (
	"context"
	"errors"
	"io"
	"math"
	"slices"
	"strconv"
	"strings"

	"axtren/core/diagnose"
	"axtren/core/edit"
	"axtren/core/proof"
	"axtren/core/setup"
	"axtren/core/signal"
	"axtren/core/words"
)

// Past is a walk that somebody went, with the document for which it was worked out.
type Past struct {
	Doc    *setup.Document
	Script string
	Steps  []Step
}

// Exchanged is a part that is another one by now, though the document says the same of it.
type Exchanged struct {
	Part setup.ID // a device or a receiver; empty: the transmitter
	Says string   // without a stop
}

// Again is something that has to be tried again.
type Again struct {
	Step int      `json:"step"` // from 0; -1: it was in no step
	Of   string   `json:"of"`   // devices/port, or rest
	Why  []string `json:"why"`  // what was changed
}

// Stale lists what of a walk has to be tried again now: of each step the parts that must do something
// else, or read otherwise, or hang elsewhere than when they were tried, and what was exchanged; and
// devices that were in no step. All else still stands. The error is that of a document that cannot be
// played.
func Stale(past *Past, now *setup.Document, exchanged []Exchanged) ([]Again, error) {
	j := &staleness{past: past, now: now.Setup, exchanged: exchanged}
	if ops := edit.Diff(past.Doc.Tree, now.Tree); len(ops) > 0 {
		j.changes = edit.Changes(past.Doc, now, ops)
	}
	for k, s := range []*setup.Setup{past.Doc.Setup, now.Setup} {
		side, err := newSide(s, past)
		if err != nil {
			return nil, err
		}
		j.sides[k] = side
	}
	list := []Again{}
	for n := range past.Steps {
		list = append(list, j.step(n)...)
	}
	for i := range now.Setup.Devices {
		id := now.Setup.Devices[i].ID
		if Lists(now.Setup, i) && past.Doc.Setup.Item(id).Kind == 0 {
			list = append(list, Again{-1, "devices/" + string(id), []string{"It was never tried"}})
		}
	}
	return list, nil
}

// staleness compares a walk as it was with how it would be now.
type staleness struct {
	past      *Past
	now       *setup.Setup
	changes   []edit.Change
	exchanged []Exchanged
	sides     [2]*side // then and now
}

// side is a setup on which the script of a walk is played.
type side struct {
	k      *walker
	sights diagnose.Sights
	looks  []*Look // of each step; nil where the script does not fit any more
	why    string  // why not
}

func newSide(s *setup.Setup, past *Past) (*side, error) {
	w, err := rightWorld(s)
	if err != nil {
		return nil, err
	}
	one := &side{k: newWalker(context.Background(), s, w, proof.Budget{}), sights: diagnose.SightsOf(w.right)}
	one.looks = make([]*Look, len(past.Steps))
	rows, until, why := fitting(past.Script, w.right)
	one.why = why
	r := w.begin()
	r.hands = w.right.Rest()
	for n := 0; n < len(past.Steps) && past.Steps[n].AtS < until; {
		t := w.right.Time(int64(r.frame))
		for len(rows) > 0 && rows[0].Due(t) {
			r.hands[rows[0].Hand] = rows[0].Value
			rows = rows[1:]
		}
		r.step()
		r.follow()
		if t >= past.Steps[n].AtS-1e-9 {
			look := one.k.look(r, past.Steps[n].When)
			one.looks[n] = &look
			n++
		}
	}
	return one, nil
}

// fitting reads the rows of a script that a program has, up to the first that it has not: until is the
// time of that one, seconds, and why says what is missing.
func fitting(script string, p *signal.Program) (rows []signal.Row, until float64, why string) {
	sc := signal.NewScript(strings.NewReader(script), p)
	for {
		row, err := sc.Next()
		var bad *signal.ScriptError
		switch {
		case errors.Is(err, io.EOF):
			return rows, math.Inf(1), ""
		case errors.As(err, &bad):
			until = 0
			if lines := strings.Split(script, "\n"); bad.Line <= len(lines) {
				t, _, _ := strings.Cut(lines[bad.Line-1], ",")
				until, _ = strconv.ParseFloat(t, 64)
			}
			return rows, until, "What hands did cannot be done any more: " + bad.Fault
		case err != nil:
			return rows, 0, err.Error()
		}
		rows = append(rows, row)
	}
}

// step lists what of one step has to be tried again.
func (j *staleness) step(n int) (list []Again) {
	step, s := &j.past.Steps[n], j.past.Doc.Setup
	var rest []string
	for d := range s.Devices {
		if !Lists(s, d) {
			continue
		}
		of := "devices/" + string(s.Devices[d].ID)
		why := j.part(n, d)
		if len(why) == 0 {
			continue
		}
		if slices.ContainsFunc(step.Parts, func(p Part) bool { return p.Of == of }) {
			list = append(list, Again{n, of, why})
			continue
		}
		for _, one := range why {
			if !slices.Contains(rest, one) {
				rest = append(rest, one)
			}
		}
	}
	if len(rest) > 0 && step.Rest != "" {
		list = append(list, Again{n, OfRest, rest})
	}
	return list
}

// part says why a device has to be tried again at a step; nothing: it still stands.
func (j *staleness) part(n, d int) (why []string) {
	then, now := j.sides[0], j.sides[1]
	id := then.k.s.Devices[d].ID
	for _, one := range j.exchanged {
		if one.Part == "" || one.Part == id || j.receiverOf(d) == one.Part {
			why = append(why, one.Says)
		}
	}
	item := j.now.Item(id)
	switch {
	case item.Kind != setup.IsDevice:
		return nil // it is gone: there is nothing to try
	case now.looks[n] == nil:
		return append(why, now.why)
	}
	a := then.k.part(&then.sights, d, then.looks[n])
	b := now.k.part(&now.sights, item.Index, now.looks[n])
	hangs := j.past.Doc.Setup.Devices[d].On != j.now.Devices[item.Index].On ||
		j.past.Doc.Setup.Devices[d].Kind != j.now.Devices[item.Index].Kind
	if a.Should == b.Should && a.Display == b.Display && a.Channel == b.Channel && !hangs {
		return why
	}
	said := len(why)
	for _, change := range j.changes {
		if j.reaches(&change, d, item.Index) && !slices.Contains(why, change.Says) {
			why = append(why, change.Says)
		}
	}
	if len(why) == said {
		why = append(why, "What it rests on was changed")
	}
	return why
}

// receiverOf gives the receiver on which a device hangs.
func (j *staleness) receiverOf(d int) setup.ID {
	s := j.past.Doc.Setup
	return s.Receivers[s.DevicePin(d).Receiver].ID
}

// reaches tells whether a change is about anything that a device rests on, then or now.
func (j *staleness) reaches(change *edit.Change, was, is int) bool {
	if change.Part == "" { // the transmitter, the link: all rests on them
		return strings.HasPrefix(change.Path, "/transmitter") || strings.HasPrefix(change.Path, "/link")
	}
	for k, d := range []int{was, is} {
		one := j.sides[k].k
		item := one.s.Item(change.Part)
		if item == setup.IsDevice.At(d) || item == setup.IsReceiver.At(one.w.pins[d].Receiver) {
			return true
		}
		for _, o := range one.w.feeds[d] {
			if item == setup.IsOutput.At(o) || item.Kind != 0 && one.w.behind[o][item] {
				return true
			}
		}
	}
	return false
}

// Cause is something that was changed, with what has to be tried again for it.
type Cause struct {
	Says  string   `json:"says"`  // with a stop
	Parts []string `json:"parts"` // what people call them, each once
	Steps int      `json:"steps"` // at so many steps; 0: it was in none
}

// Causes gathers what has to be tried again by what was changed, in the order of the steps.
func Causes(list []Again, steps []Step, now *setup.Setup) []Cause {
	causes, at := []Cause{}, map[string]map[int]bool{}
	for _, one := range list {
		for _, why := range one.Why {
			says := words.Capital(why) + "."
			i := slices.IndexFunc(causes, func(c Cause) bool { return c.Says == says })
			if i < 0 {
				i = len(causes)
				causes, at[says] = append(causes, Cause{Says: says, Parts: []string{}}), map[int]bool{}
			}
			if label := labelIn(&one, steps, now); !slices.Contains(causes[i].Parts, label) {
				causes[i].Parts = append(causes[i].Parts, label)
			}
			if one.Step >= 0 {
				at[says][one.Step] = true
				causes[i].Steps = len(at[says])
			}
		}
	}
	return causes
}

// labelIn is what people call something that has to be tried again.
func labelIn(one *Again, steps []Step, now *setup.Setup) string {
	if one.Step >= 0 {
		for _, part := range steps[one.Step].Parts {
			if part.Of == one.Of {
				return part.Label
			}
		}
		return "all else"
	}
	_, id, _ := strings.Cut(one.Of, "/")
	return now.Named(setup.ID(id))
}

// StepsOf counts the steps at which anything has to be tried again.
func StepsOf(list []Again) int {
	steps := map[int]bool{}
	for _, one := range list {
		if one.Step >= 0 {
			steps[one.Step] = true
		}
	}
	return len(steps)
}
