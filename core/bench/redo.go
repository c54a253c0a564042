package bench

import (
	"fmt"
	"slices"

	"axtren/core/setup"
	"axtren/core/signal"
	"axtren/core/travel"
	"axtren/core/words"
)

// Redo is one thing to set again before a part that is another one is tried.
type Redo struct {
	Says  string `json:"says"`
	Place string `json:"place"` // where it is done
	Part  string `json:"part"`  // of it, as outputs/rudder; empty for none
}

// RedoOf lists what has to be set again where a device or a receiver is another one, or, with no part, the
// transmitter, or its memory.
func RedoOf(p *signal.Program, part setup.Item) []Redo {
	s := p.Setup()
	list := []Redo{}
	switch part.Kind {
	case setup.IsDevice:
		for o := range s.Outputs {
			if slices.Contains(s.Drives(o), part.Index) {
				list = append(list, found(s, o)...)
				list = append(list, taughtBy(p, o, s.PartName(part))...)
			}
		}
	case setup.IsReceiver:
		list = append(list, Redo{"Bind it to the transmitter, and write down when.", "kit", s.PartName(part)})
		if rx := &s.Receivers[part.Index]; rx.Chart != nil || len(rx.Codes) > 0 {
			list = append(list, Redo{"Count the codes into its pins again.", "plan", s.PartName(part)})
		}
		if s.Receivers[part.Index].Stores != "" {
			list = append(list, Redo{"Store the positions for a lost signal again, and read them back.", "loss", ""})
		}
		for o := range s.Outputs {
			list = append(list, taughtBy(p, o, s.PartName(part))...)
		}
	default:
		list = append(list, Redo{"Key the whole sheet in again, and read it back.", "sheet", ""},
			Redo{"Bind each receiver to it.", "kit", ""})
	}
	return list
}

// found says what of a function was found on the stand, and so has to be found again.
func found(s *setup.Setup, output int) []Redo {
	for _, stand := range travel.Stand(s) {
		if stand.Output != string(s.Outputs[output].ID) {
			continue
		}
		part := s.PartName(setup.IsOutput.At(output))
		var done []string
		for _, step := range stand.Steps {
			if step.Found != "" && step.Key != travel.Ready {
				done = append(done, step.Title)
			}
		}
		if done == nil {
			return []Redo{{fmt.Sprintf("%s was not measured with the old one: begin on the stand.", stand.Label),
				"functions", part}}
		}
		return []Redo{{fmt.Sprintf("Of %s, find on the stand again: %s.", stand.Label, words.And(done)),
			"functions", part}}
	}
	return nil
}

// taughtBy says what a part has to learn again of an output.
func taughtBy(p *signal.Program, output int, part string) (list []Redo) {
	learners, err := travel.Learners(p, output)
	if err != nil {
		return nil
	}
	for i := range learners {
		if learners[i].Key == part {
			list = append(list, Redo{fmt.Sprintf("Let %s learn what is sent to %s.", learners[i].Name,
				p.Setup().OutputLabel(output)), "functions", p.Setup().PartName(setup.IsOutput.At(output))})
		}
	}
	return list
}
