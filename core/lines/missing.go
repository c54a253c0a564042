package lines

import (
	"fmt"
	"strings"

	"axtren/core/signal"
)

// kinds are the parts of a document that may not be played yet, by the head of
// their path, in one and in many.
var kinds = []struct{ list, one, many string }{
	{"logic", "logic block", "logic blocks"}, {"steppers", "stepper", "steppers"}, {"sequences", "sequence", "sequences"},
	{"patterns", "pattern", "patterns"}, {"outputs", "loss position", "loss positions"}, {"devices", "device", "devices"},
	{"announcements", "announcement", "announcements"}, {"claims", "claim", "claims"}, {"start_check", "start check", "start checks"},
	{"demands", "demand", "demands"}, {"mixes", "mix", "mixes"},
}

// Missing counts in words what of a model is kept but not played yet.
func Missing(p *signal.Program) []string {
	texts := []string{}
	for _, k := range kinds {
		n := 0
		for _, u := range p.Unplayed() {
			if strings.HasPrefix(u.Path, k.list+"[") {
				n++
			}
		}
		switch {
		case n == 1:
			texts = append(texts, "1 "+k.one)
		case n > 1:
			texts = append(texts, fmt.Sprintf("%d %s", n, k.many))
		}
	}
	return texts
}

// Undriven counts the outputs that no mix reaches.
func Undriven(p *signal.Program) int {
	n := 0
	for i := range p.Routes {
		if len(p.Routes[i].Terms) == 0 {
			n++
		}
	}
	return n
}
