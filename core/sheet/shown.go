package sheet

import (
	"math"
	"strings"

	"axtren/core/setup"
	"axtren/core/signal"
	"axtren/core/travel"
	"axtren/core/words"
)

// The keys of the sections of what the set's own display must show, and of what is
// done on a lost signal.
const (
	shownKey = "shown"
	lossKey  = "loss"
)

// settleFrames is how long a stance is played at most until nothing moves any more.
const settleFrames = 700

// quick is how soon a reading is there without a word about it, in seconds.
const quick = 0.3

// What begins what is said of the scale of a reading, and of a loss position.
const (
	displayCounts = "display counts "
	menuCounts    = "counted "
)

// stance is one way to hold the controls.
type stance struct {
	key   string // control/position
	words string
	hands signal.Hands

	control string // what is moved; empty: nothing
	way     string // which way
}

// shown plays every stance in which one control is moved, and says what the set's
// display must then show: of each channel that differs from rest.
func (b *builder) shown() Section {
	sec := Section{Key: shownKey, Title: "What the display must show",
		Note: "Hold one control at a time and read the display: that tells a wrong setup from a wrong " +
			"lead. What is not named stands as at rest."}
	if len(b.s.Outputs) == 0 {
		return sec
	}
	base, rest := b.p.PowerOn(), b.atRest()
	still, _ := b.settle(base, rest)
	if !b.p.Sending(base) {
		return sec
	}
	sec.Items = append(sec.Items, b.readings(stance{key: "rest", words: "hands off, all where it starts"},
		base, still, nil, nil, nil)...)
	last := b.places(base)
	for _, one := range b.stances(rest) {
		st := b.p.PowerOn()
		st.CopyFrom(base)
		moving, after := b.settle(st, one.hands)
		sec.Items = append(sec.Items, b.readings(one, st, moving, after, last, still)...)
	}
	return sec
}

// atRest is the hands at rest, with what the start check asks for met.
func (b *builder) atRest() signal.Hands {
	hands := b.p.Rest()
	for _, e := range b.s.StartCheck {
		at, _ := b.p.Hand(string(e.Control))
		if c := b.s.Transmitter.Controls[b.s.Item(e.Control).Index]; c.Switch != nil {
			if v, err := b.p.HandValue(string(e.Control), string(e.Is.Position)); err == nil {
				hands[at] = v
			}
			continue
		}
		hands[at] = min(max(hands[at], e.Is.From), e.Is.To)
	}
	return hands
}

// stances lists the ends of every axis and the other positions of every switch.
func (b *builder) stances(rest signal.Hands) []stance {
	var list []stance
	for i, c := range b.s.Transmitter.Controls {
		at, _ := b.p.Hand(string(c.ID))
		add := func(key, words string, v float64) {
			if v == rest[at] {
				return
			}
			hands := append(signal.Hands(nil), rest...)
			hands[at] = v
			list = append(list, stance{string(c.ID) + "/" + key, b.s.ControlLabel(i) + ": " + words, hands,
				b.s.ControlLabel(i), words})
		}
		if c.Axis != nil {
			plus, minus := c.Plus, c.Minus
			if plus == "" {
				plus = "full +"
			}
			if minus == "" {
				minus = "full −"
			}
			add("plus", plus, 100)
			add("minus", minus, -100)
			continue
		}
		for k, p := range c.Switch.Positions {
			add(string(p), p.Words(), float64(k))
		}
	}
	return list
}

// quietS is how long nothing must move until a stance is at rest, seconds: longer than
// anything here waits before it moves something.
func (b *builder) quietS() float64 {
	quiet := 0.6
	for i := range b.s.Logic {
		if late := b.s.Logic[i].DelayS(); late > 0 {
			quiet = max(quiet, late+0.1)
		}
	}
	return quiet
}

// settle plays until nothing that is sent has moved for a while, and says
// which outputs never came to rest: they flash, or step; of the others, after how
// many seconds each did.
func (b *builder) settle(st *signal.State, hands signal.Hands) (moving []bool, after []float64) {
	n := len(b.p.Routes)
	after = make([]float64, n)
	frame := 0
	last, quiet := make([]float64, n), make([]int, n)
	need := int(math.Ceil(b.quietS() / b.s.Transmitter.FrameS()))
	for range min(max(settleFrames, 3*need), 10*settleFrames) {
		b.p.Step(st, hands)
		all := true
		for i := range b.p.Routes {
			if us := st.At(b.p.Routes[i].US); us != last[i] {
				last[i], quiet[i] = us, 0
				after[i] = float64(frame) * b.s.Transmitter.FrameS()
			} else {
				quiet[i]++
			}
			all = all && quiet[i] >= need
		}
		if all {
			break
		}
		frame++
	}
	moving = make([]bool, n)
	for i := range quiet {
		moving[i] = quiet[i] < need
	}
	return moving, after
}

func (b *builder) places(st *signal.State) []float64 {
	list := make([]float64, len(b.p.Routes))
	for i := range b.p.Routes {
		list[i] = st.At(b.p.Routes[i].US)
	}
	return list
}

// readings are the channels of a stance that differ from rest; of rest itself all.
func (b *builder) readings(one stance, st *signal.State, moving []bool, after, rest []float64,
	restMoves []bool) []Item {
	var items []Item
	for i, o := range b.s.Outputs {
		us := st.At(b.p.Routes[i].US)
		if rest != nil && us == rest[i] && moving[i] == restMoves[i] {
			continue
		}
		sc := b.scale(func(of *setup.Scales) *setup.Menu { return of.Display }, o.Channel, "us")
		pulse := &b.s.Transmitter.Pulse
		item := Item{part: one.key, field: string(o.ID), Channel: o.Channel, Line: string(o.ID),
			Joint: "out/" + string(o.ID) + "/pulse", What: one.words + " → " + b.s.OutputLabel(i),
			Value: travel.Write(sc, pulse.Percent(us), pulse),
			US:    strings.TrimSuffix(words.Figure(us), ".0"), Note: displayCounts + travel.Name(sc)}
		if sc.Word == "us" {
			item.Note = ""
		}
		item.group, _, _ = strings.Cut(one.key, "/")
		item.name, item.sub, item.detail = one.control, one.way, b.s.OutputLabel(i)
		if one.control == "" {
			item.name = one.words
		}
		if after != nil && after[i] > quick {
			item.Note = strings.TrimPrefix(item.Note+"; there after "+words.Short(math.Round(after[i]*10)/10)+
				" s: hold it so long", "; ")
		}
		if moving[i] {
			item.Value, item.US, item.Note = "goes to and fro", "", ""
		}
		items = append(items, item)
	}
	return items
}
