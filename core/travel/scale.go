package travel

import (
	"fmt"
	"math"
	"strings"

	"axtren/core/setup"
	"axtren/core/words"
)

// ScaleOf gives the scale of a channel in a menu: docs/format.md, section 10. Where
// the set says nothing it is otherwise.
func ScaleOf(menu *setup.Menu, channel int, otherwise string) setup.Scale {
	if menu == nil {
		return setup.Scale{Word: otherwise}
	}
	for _, one := range menu.Channels {
		if one.Channel == channel {
			return one.Scale
		}
	}
	return menu.Else
}

// ScaleIn gives the scale of a channel in one of the menus of this person's set: otherwise where nothing
// is known of its scales.
func ScaleIn(s *setup.Setup, menu func(*setup.Scales) *setup.Menu, channel int,
	otherwise string) setup.Scale {
	if can := s.Transmitter.Can; can != nil && can.Scales != nil {
		return ScaleOf(menu(can.Scales), channel, otherwise)
	}
	return setup.Scale{Word: otherwise}
}

// Figure gives a position in percent as a scale counts it, not rounded. A magnitude
// has no sign: the side says it.
func Figure(sc setup.Scale, percent float64, pulse *setup.Pulse) float64 {
	switch {
	case sc.Step != 0:
		return percent / sc.Step
	case sc.Bits != 0:
		return (percent + 100) / 200 * top(sc)
	}
	switch sc.Word {
	case "span":
		return (percent + 100) / 2
	case "magnitude":
		return math.Abs(percent)
	case "us":
		return pulse.CentreUS + percent/100*pulse.HalfSpanUS
	}
	return percent
}

// Percent reads a figure of a scale back, as a position in percent; of a magnitude
// it gives the + side.
func Percent(sc setup.Scale, figure float64, pulse *setup.Pulse) float64 {
	switch {
	case sc.Step != 0:
		return figure * sc.Step
	case sc.Bits != 0:
		return figure/top(sc)*200 - 100
	}
	switch sc.Word {
	case "span":
		return figure*2 - 100
	case "us":
		return pulse.Percent(figure)
	}
	return figure
}

func top(sc setup.Scale) float64 { return math.Exp2(float64(sc.Bits)) - 1 }

// Write gives a position as a person types it into a menu of a scale, or reads it
// there: steps and bits are whole, the others have what they need up to a tenth,
// microseconds up to a tenth as well.
func Write(sc setup.Scale, percent float64, pulse *setup.Pulse) string {
	v := Figure(sc, percent, pulse)
	if sc.Bits != 0 || sc.Step != 0 {
		v = math.Round(v)
	}
	text := strings.TrimSuffix(words.Figure(math.Round(v*10)/10), ".0")
	if v > 0 && (sc.Word == "percent" || sc.Step != 0) {
		return "+" + text
	}
	return text
}

// Name says what a scale counts in.
func Name(sc setup.Scale) string {
	switch {
	case sc.Step != 0:
		return fmt.Sprintf("steps of %s percent", strings.TrimSuffix(words.Figure(sc.Step), ".0"))
	case sc.Bits != 0:
		return fmt.Sprintf("0 to %.0f", top(sc))
	}
	return map[string]string{"percent": "−100 to +100", "span": "0 to 100, centre 50",
		"magnitude": "0 to 150 on each side", "us": "µs"}[sc.Word]
}

// Nearest gives the travel nearest to percent that a menu can be keyed to, and whether that is
// percent itself. Our choice: menus count in whole figures, steps in whole steps.
func Nearest(sc setup.Scale, percent float64, pulse *setup.Pulse) (at float64, exact bool) {
	return keyable(sc, percent, pulse, math.Round)
}

// Less is Nearest, but for an end: it goes no further from 0 than percent does.
func Less(sc setup.Scale, percent float64, pulse *setup.Pulse) (at float64, exact bool) {
	if percent < 0 && sc.Word != "magnitude" {
		return keyable(sc, percent, pulse, math.Ceil)
	}
	return keyable(sc, percent, pulse, math.Floor)
}

func keyable(sc setup.Scale, percent float64, pulse *setup.Pulse,
	to func(float64) float64) (at float64, exact bool) {
	figure := Figure(sc, percent, pulse)
	if math.Abs(figure-math.Round(figure)) < 1e-6 {
		return percent, true
	}
	at = Percent(sc, to(figure), pulse)
	if sc.Word == "magnitude" {
		at = math.Copysign(at, percent)
	}
	return at, false
}

// Steps says what a menu counts in: whole points; steps of 2.5 percent.
func Steps(sc setup.Scale) string {
	switch {
	case sc.Step != 0, sc.Bits != 0:
		return Name(sc)
	}
	return map[string]string{"percent": "whole points", "span": "whole points from 0 to 100, two percent each",
		"magnitude": "whole points", "us": "whole µs"}[sc.Word]
}

// LossScale is the scale in which the loss position of an output is typed on this person's transmitter.
func LossScale(s *setup.Setup, output int) setup.Scale {
	return ScaleIn(s, func(sc *setup.Scales) *setup.Menu { return sc.Failsafe }, s.Outputs[output].Channel,
		"percent")
}
