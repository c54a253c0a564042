// Package rail says of each place of a model, in a few words, what is there and what is
// open, and to which place each finding leads.
package rail

import (
	"fmt"
	"strings"

	"axtren/core/behave"
	"axtren/core/check"
	"axtren/core/loss"
	"axtren/core/mixing"
	"axtren/core/plan"
	"axtren/core/setup"
	"axtren/core/signal"
	"axtren/core/words"
)

// Rail is the places of a model with what was found in each.
type Rail struct {
	Places   []State   `json:"places"`
	Findings []Finding `json:"findings"` // the worst first
}

// State is a place with what is there.
type State struct {
	Key   string `json:"key"`
	Title string `json:"title"`
	State string `json:"state"`
}

// Finding is something to look at, with where.
type Finding struct {
	Rule     string `json:"rule"`
	Severity string `json:"severity"`
	Message  string `json:"message"`
	Remedy   string `json:"remedy"`
	Place    string `json:"place"` // the place in which it is said
	Part     string `json:"part"`  // the part, as outputs/horn; empty where it has none
	Leads    string `json:"leads"` // the place in which the part is opened
}

// Build works the rail of a model out: the places in the order of the work. It takes as
// long as a check does.
func Build(p *signal.Program) *Rail {
	s := p.Setup()
	r := &Rail{Findings: []Finding{}}
	for _, f := range check.Check(p).Findings {
		place, part := f.Home(s)
		leads := place
		if list, _, ok := strings.Cut(part,
			"/"); ok && (f.Rule == check.Cannot || place == "loss" && list != "outputs") {
			leads = words.Home(list) // what is beyond the transmitter is said beside it, what can hurt together
		}
		r.Findings = append(r.Findings, Finding{f.Rule, f.Severity, setup.Capital(f.Message), f.Remedy,
			place, part, leads})
	}
	says := map[string]string{
		"kit":       "transmitter, " + count(len(s.Receivers), "receiver", "receivers"),
		"plan":      plan.State(s),
		"functions": functions(p),
		"mixing":    pairs(s),
		"rules":     rules(s, p),
		"loss":      r.inLoss(),
		"stage":     "see it move",
		"sheet":     "what to key in",
		"bench":     "try it, step by step",
		"log":       "and the text",
	}
	for _, place := range words.Places {
		r.Places = append(r.Places, State{place.Key, place.Title, says[place.Key]})
	}
	return r
}

// inLoss says how much there is to look at when nobody is in command, notes aside, and how many stored
// positions are out of date.
func (r *Rail) inLoss() string {
	open, stale := 0, 0
	for _, f := range r.Findings {
		switch {
		case f.Place != "loss" || f.Severity == check.Note:
		case f.Rule == loss.StoredBefore:
			stale++
		default:
			open++
		}
	}
	switch {
	case open == 0 && stale == 0:
		return "nothing found"
	case open == 0:
		return fmt.Sprintf("%d out of date", stale)
	case stale == 0:
		return fmt.Sprintf("%d to look at", open)
	}
	return fmt.Sprintf("%d to look at, %d out of date", open, stale)
}

// count says how many of something there are: no rule yet, 1 rule, 6 rules.
func count(n int, one, many string) string {
	switch n {
	case 0:
		return "no " + one + " yet"
	case 1:
		return "1 " + one
	}
	return fmt.Sprintf("%d %s", n, many)
}

// functions says how many there are, and how many of them nothing drives.
func functions(p *signal.Program) string {
	idle := 0
	for i := range p.Routes {
		if len(p.Routes[i].Terms) == 0 {
			idle++
		}
	}
	switch {
	case len(p.Routes) == 0:
		return "none yet"
	case idle > 0:
		return fmt.Sprintf("%d, %d not driven", len(p.Routes), idle)
	}
	return fmt.Sprintf("%d, all driven", len(p.Routes))
}

// pairs says how the first pair is driven, and how many there are besides.
func pairs(s *setup.Setup) string {
	list := mixing.Find(s)
	if len(list) == 0 {
		return "no pair yet"
	}
	said := "mixes of its own"
	for _, way := range list[0].Ways {
		if way.Way == list[0].Choice.Way {
			said = words.Small(way.Words)
		}
	}
	if len(list) > 1 {
		return fmt.Sprintf("%s, and %d more", said, len(list)-1)
	}
	return said
}

func rules(s *setup.Setup, p *signal.Program) string {
	said := count(behave.Count(s, p), "rule", "rules")
	if len(s.Claims) > 0 {
		said += fmt.Sprintf(", %d must hold", len(s.Claims))
	}
	return said
}
