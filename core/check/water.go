package check

import (
	"cmp"
	"fmt"
	"slices"
	"strconv"
	"strings"

	"axtren/core/loss"
	"axtren/core/proof"
	"axtren/core/setup"
	"axtren/core/signal"
	"axtren/core/words"
)

// Stand is what stands between a model and the water, at one place of the work.
type Stand struct {
	Place    string `json:"place"` // its title: Functions, Kit, Loss and start, Stage, Rules
	Severity string `json:"severity"`
	Words    string `json:"words"`
}

// Readiness says, the worst first, place by place, what of a model wants a look before it
// goes onto the water: what a check finds, and claims that are broken or not proved yet. It says
// what Check says, no more and no less. Nothing is kept by hand.
func Readiness(p *signal.Program) []Stand {
	stands := []Stand{}
	report := Check(p)
	for _, place := range words.Places {
		var here []Finding
		for _, f := range report.Findings {
			if home, _ := f.Home(p.Setup()); home == place.Key {
				here = append(here, f)
			}
		}
		if len(here) > 0 {
			stands = append(stands, Stand{place.Title, here[0].Severity,
				andMore(here[0].Message, len(here)-1)})
		}
		if place.Key == "rules" {
			stands = append(stands, claims(p.Setup(), place.Title)...)
		}
	}
	last := func(s Stand) int { // what goes on while nobody is in command stands first among its like
		if s.Place == words.TitleOf("loss") {
			return 0
		}
		return 1
	}
	slices.SortStableFunc(stands, func(a, b Stand) int {
		return cmp.Or(Worse(a.Severity, b.Severity), cmp.Compare(last(a), last(b)))
	})
	return stands
}

// alone are the rules about what happens when nobody is in command, wherever they stand, besides the hazards.
var alone = []string{"turned_at_power", "wakes_elsewhere"}

// isHazard tells whether a rule is one of those of lost signals.
func isHazard(rule string) bool {
	return slices.ContainsFunc(loss.Rules, func(r loss.Rule) bool { return r.Name == rule })
}

// counted are the rules about pins that are set by counted flashes, which is done in Plan.
var counted = []string{"chart", "chart_hole", "codes", "flicker"}

// Home gives the place that a finding leads to, and the part: outputs/horn, empty where it
// is of none.
func (f *Finding) Home(s *setup.Setup) (place, part string) {
	list, rest, _ := strings.Cut(f.Where, "[")
	if rest != "" {
		list = strings.TrimPrefix(list, "transmitter.")
	}
	list, _, _ = strings.Cut(list, ".")
	if digits, _, ok := strings.Cut(rest, "]"); ok {
		if index, err := strconv.Atoi(digits); err == nil {
			part = s.PartName(s.ItemIn(list, index))
		}
	}
	if rest == "" && slices.Contains([]string{"link", "craft", "transmitter"}, list) {
		part = list // no list: it has a form of its own
	}
	switch {
	case f.Rule == Cannot:
		return "kit", part
	case slices.Contains(counted, f.Rule):
		return "plan", ""
	case slices.Contains(alone, f.Rule), isHazard(f.Rule):
		return "loss", part
	case list == "":
		return "functions", part
	}
	return words.Home(list), part
}

func andMore(words string, more int) string {
	if more == 0 {
		return words
	}
	return fmt.Sprintf("%s, and %d more", words, more)
}

// claims says what of a model must always hold and does not, and what is not proved yet.
func claims(s *setup.Setup, place string) (stands []Stand) {
	var broken []string
	open := 0
	for _, v := range proof.Glance(s) {
		switch v.Verdict {
		case proof.Fails:
			broken = append(broken, s.Label(s.Item(v.Claim)))
		case proof.Undecided:
			open++
		}
	}
	if len(broken) > 0 {
		stands = append(stands, Stand{place, Warning, andMore("this does not always hold: "+broken[0],
			len(broken)-1)})
	}
	if open > 0 {
		stands = append(stands, Stand{place, Note, unproved(open)})
	}
	return stands
}

// unproved says how many things that must always hold are not proved yet.
func unproved(n int) string {
	if n == 1 {
		return "one thing that must always hold is not proved yet"
	}
	return fmt.Sprintf("%d things that must always hold are not proved yet", n)
}
