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
	Doc       *setup.Document
	Script    string
	Steps     []Step
	Only      []setup.ID   // the devices that it was of; nil: all
	Saw       map[Spot]Saw // what was seen; nil: all as it should be
	Exchanged []Exchanged  // what was exchanged since, besides what the documents say
}

// covers tells whether a walk was of a device.
func (past *Past) covers(id setup.ID) bool {
	if past.Only != nil {
		return slices.Contains(past.Only, id)
	}
	return past.Doc.Setup.Item(id).Kind == setup.IsDevice
}

// Exchanged is a part that is another one by now, though the document says the same of it.
type Exchanged struct {
	Part setup.ID // a device or a receiver; empty: the transmitter
	Says string   // without a stop
}

// Again is something that has to be tried again.
type Again struct {
	Walk    int        `json:"walk"` // the place of the walk among those that were asked for
	Step    int        `json:"step"` // from 0; -1: it was in no step
	Of      string     `json:"of"`   // devices/port, or rest
	Devices []setup.ID `json:"devices"`
	Why     []string   `json:"why"` // what was changed
}

// Stale lists what of some walks, the newest first, has to be tried again now: of each step the parts that
// must do something else, or read otherwise, or hang elsewhere than when they were tried, what was exchanged,
// and what was not tried then, or did otherwise; and devices that were in no walk. Of each device the newest
// walk counts that was of it. All else still stands. The error is that of a document that cannot be played.
func Stale(pasts []*Past, now *setup.Document) ([]Again, error) {
	list, known := []Again{}, map[setup.ID]bool{}
	for k, past := range pasts {
		j, err := newStaleness(past, now, known)
		if err != nil {
			return nil, err
		}
		for n := range past.Steps {
			for _, one := range j.step(n) {
				one.Walk = k
				list = append(list, one)
			}
		}
		for i := range past.Doc.Setup.Devices {
			id := past.Doc.Setup.Devices[i].ID
			known[id] = known[id] || past.covers(id)
		}
	}
	for i := range now.Setup.Devices {
		id := now.Setup.Devices[i].ID
		if Lists(now.Setup, i) && !known[id] {
			list = append(list, Again{Step: -1, Of: "devices/" + string(id), Devices: []setup.ID{id},
				Why: []string{"It was never tried"}})
		}
	}
	return list, nil
}

// staleness compares a walk as it was with how it would be now.
type staleness struct {
	past    *Past
	now     *setup.Setup
	changes []edit.Change
	counts  []bool   // of each device then, this walk is the newest of it
	sides   [2]*side // then and now
}

// newStaleness compares a walk; what is known already a newer walk is of.
func newStaleness(past *Past, now *setup.Document, known map[setup.ID]bool) (*staleness, error) {
	j := &staleness{past: past, now: now.Setup}
	if ops := edit.Diff(past.Doc.Tree, now.Tree); len(ops) > 0 {
		j.changes = edit.Changes(past.Doc, now, ops)
	}
	s := past.Doc.Setup
	for d := range s.Devices {
		id := s.Devices[d].ID
		j.counts = append(j.counts, Lists(s, d) && past.covers(id) && !known[id])
	}
	for k, s := range []*setup.Setup{s, now.Setup} {
		side, err := newSide(s, past)
		if err != nil {
			return nil, err
		}
		j.sides[k] = side
	}
	return j, nil
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
	rest := Again{Step: n, Of: OfRest}
	for d := range s.Devices {
		id := s.Devices[d].ID
		if !j.counts[d] || j.now.Item(id).Kind != setup.IsDevice { // one that is gone cannot be tried
			continue
		}
		of := "devices/" + string(id)
		named := slices.ContainsFunc(step.Parts, func(p Part) bool { return p.Of == of })
		why := j.part(n, d)
		switch {
		case !named && step.Rest == "":
			continue
		case !named:
			why = append(j.seen(n, OfRest), why...)
		default:
			why = append(j.seen(n, of), why...)
		}
		switch {
		case len(why) == 0:
		case named:
			list = append(list, Again{Step: n, Of: of, Devices: []setup.ID{id}, Why: why})
		default:
			rest.Devices = append(rest.Devices, id)
			for _, one := range why {
				if !slices.Contains(rest.Why, one) {
					rest.Why = append(rest.Why, one)
				}
			}
		}
	}
	if rest.Why != nil {
		list = append(list, rest)
	}
	for _, part := range step.Parts { // a display of which nothing hangs
		if _, id, _ := strings.Cut(part.Of, "/"); j.now.Item(setup.ID(id)).Kind == setup.IsOutput {
			if why := j.seen(n, part.Of); why != nil {
				list = append(list, Again{Step: n, Of: part.Of, Devices: []setup.ID{}, Why: why})
			}
		}
	}
	return list
}

// seen says what is to be said of something that was not as it should be when it was tried, or was not tried.
func (j *staleness) seen(n int, of string) []string {
	if j.past.Saw == nil {
		return nil
	}
	switch saw := j.past.Saw[Spot{n, of}]; saw.Seen {
	case AsShould:
		return nil
	case "":
		return []string{"It was not tried"}
	default:
		return []string{"It did otherwise when it was tried"}
	}
}

// part says why a device has to be tried again at a step; nothing: it still stands.
func (j *staleness) part(n, d int) (why []string) {
	then, now := j.sides[0], j.sides[1]
	id := then.k.s.Devices[d].ID
	item := j.now.Item(id)
	for _, says := range j.exchanges(d, item.Index) {
		if !slices.Contains(why, says) {
			why = append(why, says)
		}
	}
	if now.looks[n] == nil {
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

// exchanges says what of a device was exchanged, or of what it hangs on: because it was said, or because the
// document names another day on which it was built in, or bound.
func (j *staleness) exchanges(was, is int) (list []string) {
	id := j.now.Devices[is].ID
	for _, one := range j.past.Exchanged {
		if one.Part == "" || one.Part == id || j.receiverOf(was) == one.Part {
			list = append(list, one.Says)
		}
	}
	if other(j.past.Doc.Setup.Devices[was].Fitted, j.now.Devices[is].Fitted) {
		list = append(list, ExchangedWords(j.now, setup.IsDevice.At(is)))
	}
	rx := j.now.DevicePin(is).Receiver
	if then := j.past.Doc.Setup.Item(j.now.Receivers[rx].ID); then.Kind == setup.IsReceiver &&
		other(j.past.Doc.Setup.Receivers[then.Index].Bound, j.now.Receivers[rx].Bound) {
		list = append(list, words.Capital(j.now.Label(setup.IsReceiver.At(rx)))+" was bound again")
	}
	return list
}

// other tells whether two days are said, and are not the same.
func other(then, now string) bool { return then != "" && now != "" && then != now }

// ExchangedWords says that a part was exchanged, without a stop. No part is the transmitter, or its memory.
func ExchangedWords(s *setup.Setup, part setup.Item) string {
	if part.Kind == 0 {
		return "The transmitter was exchanged, or its memory copied"
	}
	return words.Capital(s.Label(part)) + " was exchanged"
}

// receiverOf gives the receiver on which a device hung.
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

// spotted is a step of one of several walks.
type spotted struct{ walk, step int }

// Causes gathers what of some walks has to be tried again by what was changed, in the order of the steps.
func Causes(list []Again, pasts []*Past, now *setup.Setup) []Cause {
	causes, at := []Cause{}, map[string]map[spotted]bool{}
	for _, one := range list {
		for _, why := range one.Why {
			says := words.Capital(why) + "."
			i := slices.IndexFunc(causes, func(c Cause) bool { return c.Says == says })
			if i < 0 {
				i = len(causes)
				causes, at[says] = append(causes, Cause{Says: says, Parts: []string{}}), map[spotted]bool{}
			}
			if label := labelIn(&one, pasts, now); !slices.Contains(causes[i].Parts, label) {
				causes[i].Parts = append(causes[i].Parts, label)
			}
			if one.Step >= 0 {
				at[says][spotted{one.Walk, one.Step}] = true
				causes[i].Steps = len(at[says])
			}
		}
	}
	return causes
}

// labelIn is what people call something that has to be tried again.
func labelIn(one *Again, pasts []*Past, now *setup.Setup) string {
	if one.Step >= 0 {
		for _, part := range pasts[one.Walk].Steps[one.Step].Parts {
			if part.Of == one.Of {
				return part.Label
			}
		}
		return "all else"
	}
	_, id, _ := strings.Cut(one.Of, "/")
	return now.Named(setup.ID(id))
}

// DevicesOf lists the devices that have to be tried again, in the order of the document.
func DevicesOf(list []Again, now *setup.Setup) []setup.ID {
	ids := []setup.ID{}
	for i := range now.Devices {
		id := now.Devices[i].ID
		if slices.ContainsFunc(list, func(one Again) bool { return slices.Contains(one.Devices, id) }) {
			ids = append(ids, id)
		}
	}
	return ids
}
