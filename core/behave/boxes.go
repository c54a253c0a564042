package behave

import (
	"fmt"
	"slices"
	"strings"

	"axtren/core/setup"
	"axtren/core/signal"
	"axtren/core/words"
)

// Box is a step box: what it does, what it does not learn of, and how it is set.
type Box struct {
	Part    string   `json:"part"` // devices/legs
	Title   string   `json:"title"`
	Says    string   `json:"says"`
	Blind   string   `json:"blind"`   // what it never learns of; empty: nothing
	Chart   string   `json:"chart"`   // the chart by which it is set; empty: it has none
	Text    string   `json:"text"`    // that as a document of its own
	Program []string `json:"program"` // how it is set, step by step; empty: that is not known
	Refused []string `json:"refused"` // what the chart has not
}

// Boxes lists the step boxes of a document.
func Boxes(doc *setup.Document) []Box {
	s := doc.Setup
	list := []Box{}
	for i := range s.Devices {
		box, ok := s.Devices[i].Spec.(*setup.StepBox)
		if !ok {
			continue
		}
		part := setup.IsDevice.At(i)
		b := Box{Part: keyOf(s, part), Title: s.Label(part), Program: []string{}, Refused: []string{}}
		by := "its pulse"
		if out := s.DrivenBy(i); out >= 0 {
			by = s.OutputLabel(out)
		}
		b.Says = fmt.Sprintf("steps on each time %s comes above %s %%, and back below −%s %%: %s, "+
			"the first of them is "+
			"step %d; %s.", by, words.SignedShort(box.At), words.Short(box.At), words.Count(box.Steps,
			"step", "steps"),
			box.Start, lossOf(box))
		b.Blind = blind(s, i, box)
		if box.Chart != nil {
			b.Chart = box.Chart.Label
			if b.Chart == "" {
				b.Chart = "its own"
			}
			b.Text = string(doc.Tree.At("devices", fmt.Sprint(i), "chart").YAML())
			b.Program, b.Refused = program(box, by)
		}
		list = append(list, b)
	}
	return list
}

func lossOf(box *setup.StepBox) string {
	if box.Loss == nil {
		return "when its pulses stop it stays where it is"
	}
	return fmt.Sprintf("when its pulses stop it goes to step %d", *box.Loss)
}

// blind says what a box never learns of: of a lost signal, where its pin goes on with pulses.
func blind(s *setup.Setup, i int, box *setup.StepBox) string {
	ref := s.DevicePin(i)
	if ref.Receiver < 0 || ref.Receiver >= len(s.Receivers) {
		return ""
	}
	switch mode, _ := signal.LossOf(s, ref); {
	case mode == "cut":
		return ""
	case mode == "hold" && box.Loss != nil:
		return "On a lost signal its pin holds the last pulse: the box never learns of the loss, " +
			"and stays where it is."
	case mode == "preset" && box.Loss != nil:
		return "On a lost signal its pin goes to a loss position: the box takes that for a command, " +
			"and never learns of " +
			"the loss."
	}
	return ""
}

// setsWords is what a level of a chart sets.
var setsWords = map[string]string{"steps": "how many steps it has", "start": "the step in which it wakes",
	"loss": "where it goes when its pulses stop"}

// program says how a box is set by its chart: what is counted on each level, and what the chart has not.
func program(box *setup.StepBox, function string) (steps, refused []string) {
	steps,
		refused = []string{"Take its linkage off, or keep fingers clear: the box moves what hangs " +
		"on it."}, []string{}
	add := func(text string) {
		if text != "" {
			steps = append(steps, words.Capital(strings.TrimRight(text, "."))+".")
		}
	}
	add(box.Chart.Enters)
	for k, level := range box.Chart.Levels {
		want := map[string]int{"steps": box.Steps, "start": box.Start}[level.Sets]
		if level.Sets == "loss" && box.Loss != nil {
			want = *box.Loss
		}
		if k > 0 {
			add(box.Chart.Next)
		}
		at := slices.IndexFunc(level.Values, func(v setup.BoxCode) bool { return v.Is == want })
		if at < 0 {
			var has []string
			for _, v := range level.Values {
				has = append(has, meaning(level.Sets, v.Is))
			}
			refused = append(refused, fmt.Sprintf("Level %d, %s: the chart has nothing for %s. It has %s.", k+1,
				setsWords[level.Sets], meaning(level.Sets, want), words.And(has)))
			continue
		}
		up := ""
		if box.Chart.Up != "" {
			up = ": " + strings.TrimRight(box.Chart.Up, ".") + ", until it does"
		}
		add(fmt.Sprintf("Level %d, %s: its lamp is to flash %s, which means %s%s", k+1, setsWords[level.Sets],
			words.Count(level.Values[at].Code, "time", "times"), meaning(level.Sets, want), up))
	}
	add(box.Chart.Keeps)
	add(fmt.Sprintf("Try it with %s: %d times on and it stands at its last step, and stays there; "+
		"then back as often", function,
		box.Steps-1))
	return steps, refused
}

// meaning says what a value of a level means.
func meaning(sets string, is int) string {
	switch {
	case sets == "steps":
		return words.Count(is, "step", "steps")
	case sets == "loss" && is == 0:
		return "it stays"
	}
	return fmt.Sprintf("step %d", is)
}
