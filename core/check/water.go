package check

import (
	"fmt"
	"slices"
	"strings"

	"axtren/core/setup"
	"axtren/core/signal"
)

// Stand is what stands between a model and the water, at one place of the work.
type Stand struct {
	Place    string `json:"place"` // Lines, Kit, Loss and start, Stage, Rules
	Severity string `json:"severity"`
	Words    string `json:"words"`
}

// places are the places of the work in their order, with the lists of the
// document that belong to each.
var places = []struct {
	name  string
	lists []string
}{
	{"Kit", []string{"transmitter", "receivers", "devices", "link"}},
	{"Lines", []string{"outputs", "mixes", "demands", "shares", "logic", "steppers", "sequences", "patterns", ""}},
	{"Loss and start", []string{"start_check"}},
	{"Stage", []string{"stage"}},
}

// BeforeTheWater says, place by place, what of a model wants a look before it
// goes onto the water: what a check finds, motors without a place to go when the
// signal is lost, and claims that are not proved yet. Nothing is kept by hand.
func BeforeTheWater(p *signal.Program) []Stand {
	stands := []Stand{}
	found := Check(p).Findings
	for _, place := range places {
		var here []Finding
		for _, f := range found {
			list, _, _ := strings.Cut(f.Where, "[")
			list, _, _ = strings.Cut(list, ".")
			if slices.Contains(place.lists, list) {
				here = append(here, f)
			}
		}
		if len(here) > 0 {
			stands = append(stands, Stand{place.name, here[0].Severity, andMore(here[0].Message, len(here)-1)})
		}
	}
	if names := noLoss(p.Setup()); names != nil {
		stands = append(stands, Stand{"Loss and start", Note, "no loss position: " + list(names)})
	}
	if n := len(p.Setup().Claims); n > 0 {
		stands = append(stands, Stand{"Rules", Note, count(n, "claim") + " not proved yet"})
	}
	return stands
}

// noLoss names the outputs that drive a motor and say nothing of a lost signal.
func noLoss(s *setup.Setup) []string {
	var names []string
	for i, o := range s.Outputs {
		if o.Loss != nil {
			continue
		}
		for _, ref := range s.Carriers(i) {
			if drives(s, ref) {
				names = append(names, s.OutputLabel(i))
				break
			}
		}
	}
	return names
}

func drives(s *setup.Setup, ref setup.PinRef) bool {
	pin := &s.Receivers[ref.Receiver].Pins[ref.Pin]
	for k, d := range s.Devices {
		if _, motor := d.Spec.(*setup.Esc); motor && s.DevicePin(k) == pin {
			return true
		}
	}
	return false
}

func list(names []string) string {
	if len(names) > 3 {
		return fmt.Sprintf("%s and %d more", strings.Join(names[:2], ", "), len(names)-2)
	}
	return strings.Join(names, ", ")
}

func andMore(words string, more int) string {
	if more == 0 {
		return words
	}
	return fmt.Sprintf("%s, and %d more", words, more)
}

func count(n int, one string) string {
	if n == 1 {
		return "1 " + one
	}
	return fmt.Sprintf("%d %ss", n, one)
}
