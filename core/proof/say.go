package proof

import (
	"fmt"
	"math"
	"strconv"

	"axtren/core/setup"
	"axtren/core/signal"
	"axtren/core/words"
)

// Says says a verdict for a person, a line each: what was proved, what to do to see it, or how far it got.
func Says(s *setup.Setup, claim *setup.Claim, v *Verdict) []string {
	then := "it is broken"
	if claim.Reachable != nil {
		then = "it is so"
	}
	return SaysThen(s, claim, v, then)
}

// SaysThen is Says with what is so in the end: the pump is on.
func SaysThen(s *setup.Setup, claim *setup.Claim, v *Verdict, then string) []string {
	switch {
	case v.Verdict == Undecided:
		return []string{words.Capital(v.Why) + "."}
	case claim.Reachable != nil && v.Verdict == Fails:
		return []string{"Nothing that hands or signal can do brings it about: " + looked(v) + "."}
	case claim.Reachable == nil && v.Verdict == Holds:
		return []string{"Proved for whatever hands and signal do: " + looked(v) + "."}
	case v.Live && len(v.Rows) == 0 && v.Frame <= 1:
		return []string{"It is so already: " + then + "."}
	}
	since := " s after power-on"
	if v.Live {
		since = " s from now"
	}
	list := does(s, v.Rows, since)
	last := 0
	if len(v.Rows) > 0 {
		last = v.Rows[len(v.Rows)-1].Frame
	}
	said := later(s, v.Frame-last) + ", " + then
	switch {
	case v.Frame == last && last == 0:
		said = "At power-on " + then
	case v.Frame == last:
		said = "At once " + then
	case len(v.Rows) == 0:
		said = clock(Seconds(v.Frame, s)) + since + " " + then + ", by itself"
	}
	if !v.Fewest && len(v.Rows) > 1 {
		said += "; fewer movements may do it too"
	}
	return append(list, said+".")
}

// When says when something shows that rows bring about: at power-on, then, or some time after the last of
// them.
func When(s *setup.Setup, rows []Row, frame int) string {
	last := 0
	if n := len(rows); n > 0 {
		last = rows[n-1].Frame
	}
	switch {
	case frame == 0:
		return "at power-on"
	case frame > last:
		return later(s, frame-last)
	}
	return "then"
}

// later says how long something is after what was before.
func later(s *setup.Setup, frames int) string { return clock(Seconds(frames, s)) + " s later" }

func looked(v *Verdict) string {
	switch {
	case v.Bounds != "" && v.States == 0:
		return v.Bounds
	case v.Bounds != "":
		return v.Bounds + ", and of the rest " + words.Count(v.States, "moment was", "moments were") + " looked at"
	}
	return words.Count(v.States, "moment was", "moments were") + " looked at, and there are no others"
}

// Moves says rows of a script, from power-on, as what hands do, one after the other.
func Moves(s *setup.Setup, rows []Row) []string { return does(s, rows, " s after power-on") }

// does says rows of a script as what hands do, one after the other: Before power-on: Lock at locked. Then
// press Horn. 0.5 s later: let go of Horn. since says since when time is counted.
func does(s *setup.Setup, rows []Row, since string) []string {
	var list []string
	p, err := signal.Compile(s)
	if err != nil {
		return list
	}
	before := 0
	for i := 0; i < len(rows); {
		var does []string
		from := i
		for ; i < len(rows) && rows[i].Frame == rows[from].Frame; i++ {
			does = append(does, moved(s, p, &rows[i]))
		}
		at := rows[from].Frame
		when := later(s, at-before) + ": "
		switch {
		case at == 0:
			when = "Before power-on: "
		case at-before == 1 && from == 0: // the next frame is at once, to a hand
			when, does[0] = "", words.Capital(does[0])
		case at-before == 1:
			when = "Then "
		case before == 0:
			when = clock(rows[from].T) + since + ": "
		}
		list, before = append(list, when+words.And(does)+"."), at
	}
	return list
}

// clock writes a time to the hundredth of a second.
func clock(s float64) string { return strconv.FormatFloat(math.Round(s*100)/100, 'f', -1, 64) }

// moved says one row.
func moved(s *setup.Setup, p *signal.Program, r *Row) string {
	item := s.Item(setup.ID(r.Control))
	v, err := p.HandValue(r.Control, r.Value)
	switch {
	case err != nil:
		return r.Control + " to " + r.Value
	case r.Control == "link" && v == 0:
		return "the signal is lost"
	case r.Control == "link":
		return "the signal comes back"
	case item.Kind == setup.IsControl && r.Frame == 0:
		_, stands := words.Put(s, item.Index, v)
		return stands
	case item.Kind == setup.IsControl:
		does, _ := words.Put(s, item.Index, v)
		return does
	case item.Kind == setup.IsDevice:
		return fmt.Sprintf("%s was left at %s", s.Label(item), words.SignedShort(v)+" %")
	}
	name := "the transmitter"
	if item.Kind == setup.IsReceiver {
		name = s.Label(item)
	}
	return "turn " + name + " " + words.OnOff(v != 0)
}
