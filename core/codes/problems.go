package codes

import (
	"fmt"

	"axtren/core/setup"
	"axtren/core/words"
)

// Problem is what stands between a receiver and what its pins are to send.
type Problem struct {
	Rule  string // chart, chart_hole, codes, flicker
	Where string // receivers[0].chart
	Says  string
	Do    string
}

// Problems lists what is wrong with the charts of a setup, and what is still to be counted.
func Problems(s *setup.Setup) (list []Problem) {
	for r := range s.Receivers {
		rx := &s.Receivers[r]
		if rx.Chart == nil {
			continue
		}
		path := setup.IsReceiver.At(r).Path()
		for _, hole := range holes(rx.Chart) {
			list = append(list, Problem{"chart_hole", path + ".chart", hole[:len(hole)-1] + " " +
				"(" + s.ReceiverLabel(rx) + ")",
				"write into the chart what they mean, or give the way around them"})
		}
		for p := range rx.Pins {
			list = append(list, pinProblems(s, setup.PinRef{Receiver: r, Pin: p})...)
		}
	}
	return list
}

func pinProblems(s *setup.Setup, ref setup.PinRef) (list []Problem) {
	rx, spec := s.Pin(ref)
	pin := pinOf(s, ref)
	name := fmt.Sprintf("pin %d of %s", spec.Pin, s.ReceiverLabel(rx))
	where := ref.Item().Path()
	switch {
	case pin.Refused != "":
		list = append(list, Problem{"chart", where + ".switch", words.Small(pin.Refused), "ask for one of " +
			"these, or take another pin"})
	case pin.Open:
		list = append(list, Problem{"codes", where, name + " is to be " + pin.Says + ", and is not set to it yet",
			"count it in, level by level, in Plan"})
	}
	if pin.Steady == "no" {
		list = append(list, Problem{"flicker", where, "a lamp on " + name + " flickers: it still gets servo pulses",
			"count its levels again, and keep them by the last press"})
	}
	return list
}
