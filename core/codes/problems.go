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
			says := hole[:len(hole)-1] + " (" + s.ReceiverLabel(rx) + ")"
			list = append(list, Problem{"chart_hole", path + ".chart", says,
				"write into the chart what they mean, or give the way around them"})
		}
		for p := range rx.Pins {
			list = append(list, pinProblems(s, setup.PinRef{Receiver: r, Pin: p})...)
		}
	}
	return list
}

func pinProblems(s *setup.Setup, ref setup.PinRef) (list []Problem) {
	j := judge(s, ref)
	name := fmt.Sprintf("pin %d of %s", j.spec.Pin, s.ReceiverLabel(j.rx))
	where := ref.Item().Path()
	switch {
	case j.refused:
		says := words.Small(refusal(s, ref, j.rx.Chart, j.at, j.missing))
		list = append(list, Problem{"chart", where + ".switch", says, "ask for one of these, or take another pin"})
	case j.open():
		says := name + " is to be " + Says(s, ref, j.spec.Switch) + ", and is not set to it yet"
		list = append(list, Problem{"codes", where, says, "count it in, level by level, in Plan"})
	}
	if j.spec.Switch != nil && j.note.Steady != nil && !*j.note.Steady {
		says := "a lamp on " + name + " flickers: it still gets servo pulses"
		list = append(list, Problem{"flicker", where, says,
			"count its levels again, and keep them by the last press"})
	}
	return list
}
