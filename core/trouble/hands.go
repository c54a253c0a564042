package trouble

import (
	"math"
	"slices"
	"strings"

	"axtren/core/setup"
	"axtren/core/signal"
	"axtren/core/words"
)

const (
	triedS   = 2.0 // how long a movement of the hands is tried, seconds
	movesBy  = 5.0 // a function moves that goes by so much, percent
	mostSaid = 4   // so many movements are named
	// so many movements, or pairs of them, are tried at most: a transmitter of 64 controls has
	// thousands of pairs
	mostTried = 120
)

// move is one movement of the hands.
type move struct {
	hand  int
	to    float64
	words string // press Left button, put Water lock to free
	with  string // Water lock at free: said of what has to stand so meanwhile
	both  string // of an axis: push it either way
}

// hands says what a person has to do to move the function from how everything stands now:
// one movement, or, where none does, two. Each is tried in the engine.
func (l *looker) hands() {
	if len(l.route.Terms) == 0 || !l.p.Sending(l.st) {
		return
	}
	moves := l.moves()
	tried := len(moves)
	var does []string
	for i, m := range moves[:min(tried, mostTried)] {
		other := i > 0 && moves[i-1].hand == m.hand && len(does) > 0 && does[len(does)-1] == moves[i-1].words
		switch {
		case !l.answers(m):
		case other && m.both != "":
			does[len(does)-1] = m.both
		default:
			does = append(does, m.words)
		}
	}
	if does != nil {
		l.add(l.own(signal.JointPulse), "", true,
			"do that and watch the pulse of channel "+words.Short(float64(l.out.Channel))+
				": if it changes here and nothing moves on the model, it is the lead, the pin or the part",
			"to move %s now, %s", l.name(), either(does))
		return
	}
	for _, first := range moves {
		for _, then := range moves {
			if first.hand == then.hand || tried >= mostTried {
				continue
			}
			tried++
			if l.answers(first, then) {
				l.add(l.own(signal.JointPulse), "", true, then.words+", with "+first.with,
					"%s is still, and no single control moves it%s", l.name(), l.because())
				return
			}
		}
	}
	l.add(l.own(signal.JointPulse), "", true, "look at what its sources wait for",
		"%s is still, and no one or two controls move it from how they stand%s", l.name(), l.because())
}

// because names the rules that the function counts on and that are off now.
func (l *looker) because() string {
	var off []string
	for k := range l.s.Logic {
		if l.dependsOn(setup.IsBlock, k) && l.st.At(l.p.BlockSlot(k)) == 0 {
			off = append(off, l.s.Named(l.s.Logic[k].ID))
		}
	}
	switch {
	case off == nil:
		return ""
	case len(off) == 1:
		return ": " + off[0] + " is off"
	case len(off) > mostSaid:
		off = off[:mostSaid]
	}
	return ": " + words.And(off) + " are off"
}

// moves lists what the hands can do to each control that the function depends on.
func (l *looker) moves() []move {
	var list []move
	for k, c := range l.s.Transmitter.Controls {
		if !l.dependsOn(setup.IsControl, k) {
			continue
		}
		hand, _ := l.p.Hand(string(c.ID))
		now, name := l.st.At(l.p.HandSlot(hand)), l.s.ControlLabel(k)
		add := func(to float64, both string) {
			does, with := words.Put(l.s, k, to)
			list = append(list, move{hand, to, does, with, both})
		}
		if c.Axis != nil {
			for _, to := range []float64{100, -100} {
				if math.Abs(now-to) >= movesBy {
					add(to, words.Moved(&c)+" "+name+" either way")
				}
			}
			continue
		}
		for i, position := range c.Switch.Positions {
			if springs := c.Switch.SpringTo; float64(i) != now && (springs == nil || *springs != position) {
				add(float64(i), "")
			}
		}
	}
	return list
}

// answers tries movements together for a while: the later ones come a moment after the first.
func (l *looker) answers(moves ...move) bool {
	st := l.p.PowerOn()
	st.CopyFrom(l.st)
	hands := make(signal.Hands, len(l.p.Rest()))
	for i := range hands {
		hands[i] = l.st.At(l.p.HandSlot(i))
	}
	from := st.At(l.route.Target)
	frames := int(triedS / l.s.Transmitter.FrameS())
	for n := range frames {
		for k, m := range moves {
			if n >= k*3 {
				hands[m.hand] = m.to
			}
		}
		l.p.Step(st, hands)
		if math.Abs(st.At(l.route.Target)-from) > movesBy {
			return true
		}
	}
	return false
}

// either joins what will do, any of it: press A, or put B to C.
func either(does []string) string {
	if len(does) > mostSaid {
		does = slices.Clone(does[:mostSaid])
	}
	return strings.Join(does, ", or ")
}

// waits says what the transmitter waits for.
func (l *looker) waits() string {
	var list []string
	for _, i := range l.p.WaitsFor(l.st) {
		e := &l.s.StartCheck[i]
		list = append(list, l.s.ControlLabel(l.s.Item(e.Control).Index)+" is at "+words.StartsAt(e))
	}
	return strings.Join(list, " and ")
}

// ratesOf says which rates a feel has.
func (l *looker) ratesOf(d *setup.Demand) string {
	said := l.s.Named(d.ID) + " has a rate of " + short(d.Rate)
	for _, r := range d.Rates {
		said += ", and of " + short(r.Rate) + " while " + words.Truth(l.s, r.When)
	}
	return said
}
