package plan

import (
	"axtren/core/allot"
	"axtren/core/setup"
	"axtren/core/words"
)

// mostNodes is how long it is looked for what is said of the plan under its place; a plan of more is
// worked out when the place is opened.
const mostNodes = 64

// State says in a few words how what is there stands to the best plan: proved best; better with 3
// changes; 1 wish not met.
func State(s *setup.Setup) string {
	if len(s.Outputs) == 0 {
		return "nothing to plan yet"
	}
	p, err := solved(s, func(of allot.Progress) bool { return of.Nodes < mostNodes })
	if err != nil {
		return "cannot be worked out" // of tables that the program made
	}
	d := &deal{p.problem, p.answer.Columns}
	_, points := d.costs()
	unmet := points[LeftOut] + points[Loss] + points[Channel]
	changes := len(d.changes())
	switch {
	case !p.answer.Proved:
		return "to be worked out"
	case unmet > 0:
		return words.Count(unmet, "wish", "wishes") + " not met"
	case changes > 0:
		return "better with " + words.Count(changes, "change", "changes")
	}
	return "proved best"
}
