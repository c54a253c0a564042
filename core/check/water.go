package check

import (
	"fmt"
	"slices"
	"strings"

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
	{"Lines", []string{"outputs", "mixes", "demands", "shares", "logic", "steppers", "sequences", "patterns",
		""}},
	{"Loss and start", []string{"start_check"}},
	{"Stage", []string{"stage"}},
}

// Readiness says, place by place, what of a model wants a look before it
// goes onto the water: what a check finds, and claims that are not proved yet. It says
// what Check says, no more and no less. Nothing is kept by hand.
func Readiness(p *signal.Program) []Stand {
	stands := []Stand{}
	report := Check(p)
	for _, place := range places {
		var here []Finding
		for _, f := range report.Findings {
			if placeOf(f.Where) == place.name {
				here = append(here, f)
			}
		}
		if len(here) > 0 {
			stands = append(stands, Stand{place.name, here[0].Severity,
				andMore(here[0].Message, len(here)-1)})
		}
	}
	if n := len(report.Claims); n > 0 {
		stands = append(stands, Stand{"Rules", Note, count(n, "claim") + " not proved yet"})
	}
	return stands
}

// placeOf gives the place of the work that a place of the document belongs to.
func placeOf(where string) string {
	if strings.HasPrefix(where, "outputs[") && strings.Contains(where, "].loss") {
		return "Loss and start"
	}
	list, _, _ := strings.Cut(where, "[")
	list, _, _ = strings.Cut(list, ".")
	for _, place := range places {
		if slices.Contains(place.lists, list) {
			return place.name
		}
	}
	return "Lines"
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
