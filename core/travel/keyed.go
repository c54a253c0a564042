// Package travel is about ends and centres: where a servo may go, and what a
// person keys into the set to make it go there.
package travel

import (
	"math"

	"axtren/core/setup"
	"axtren/core/words"
)

// KeyedEnd is one end of an output as a set counts it.
type KeyedEnd struct {
	Field    string  // of the output: high or low
	Side     string  // stick forward; servo high side
	Typed    float64 // percent as the set counts it; below 0 the end lies beyond the place it is counted from
	Position float64 // where the servo stands there, percent
}

// WrittenEnds gives KeyedEnds as the set's menu of ends takes them: a magnitude counts from where the set
// counts, on its side; every other scale takes the way with its sign, or the place itself where it is a
// place on the servo's travel.
func WrittenEnds(s *setup.Setup, i int) (list [2]string) {
	sc := ScaleIn(s, func(of *setup.Scales) *setup.Menu { return of.Endpoint }, s.Outputs[i].Channel,
		"magnitude")
	for k, e := range KeyedEnds(s, i) {
		switch {
		case sc.Word == "magnitude":
			list[k] = words.Short(e.Typed)
		case sc.Word != "percent" && sc.Step == 0:
			list[k] = Write(sc, e.Position, &s.Transmitter.Pulse)
		case k == 1: // the end of the − side
			list[k] = Write(sc, -e.Typed, &s.Transmitter.Pulse)
		default:
			list[k] = Write(sc, e.Typed, &s.Transmitter.Pulse)
		}
	}
	return list
}

// KeyedEnds gives the two ends of output i on the sides, and from the place,
// that this person's set counts them: docs/format.md, section 10. Where the set
// says nothing an end belongs to the side of the servo and is counted from 0.
// The end of the + side comes first.
func KeyedEnds(s *setup.Setup, i int) [2]KeyedEnd {
	o := &s.Outputs[i]
	can := s.Transmitter.Can
	if can == nil {
		can = &setup.Can{}
	}
	from := 0.0
	if can.EndpointFrom == "centre" {
		from = o.Centre
	}
	high := KeyedEnd{"high", "servo high side", o.High - from, o.High}
	low := KeyedEnd{"low", "servo low side", from - o.Low, o.Low}
	if can.EndpointFollows != "stick" {
		return [2]KeyedEnd{high, low}
	}
	if o.Reverse {
		high, low = low, high
	}
	high.Side, low.Side = StickWays(s, i)
	return [2]KeyedEnd{high, low}
}

// FollowsStick tells whether the set counts an end on the side of the stick,
// and whether it says so at all.
func FollowsStick(s *setup.Setup) (stick, known bool) {
	can := s.Transmitter.Can
	return can != nil && can.EndpointFollows == "stick", can != nil && can.EndpointFollows != ""
}

// StickWays says in words which way the hand goes for more than 0 asked of
// output i, and which way for less: those of the control in its first mix. What no hand
// moves directly has an upper and a lower end.
func StickWays(s *setup.Setup, i int) (plus, minus string) {
	plus, minus = "upper end", "lower end"
	mixes := s.MixesTo(i)
	if mixes == nil {
		return plus, minus
	}
	m := &s.Mixes[mixes[0]]
	k := s.ControlBehind(m.From)
	if k < 0 {
		return plus, minus
	}
	c := s.Transmitter.Controls[k]
	if c.Plus == "" || c.Minus == "" || m.Gain.Pos == 0 {
		return plus, minus
	}
	noun := "stick "
	if c.Stick == "" {
		noun = "control "
	}
	plus, minus = noun+c.Plus, noun+c.Minus
	if math.Signbit(m.Gain.Pos) {
		return minus, plus
	}
	return plus, minus
}
