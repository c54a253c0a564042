package plan

import (
	"strings"

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
	return p.state()
}

func (p *planned) state() string {
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

// Stands is what goes where as the setup is, with what has to be keyed in at both ends.
type Stands struct {
	Says  string  `json:"says"` // how it stands to the best plan, a sentence
	Rows  []Row   `json:"rows"`
	Keyed []Keyed `json:"keyed"`
}

// Row is one row of both ends, with why the function is there; empty where another plan is better.
type Row struct {
	End
	Why string `json:"why"`
}

// AsItStands tells what goes where in a setup as it is now, whatever would be better. The error is that
// of Make.
func AsItStands(s *setup.Setup) (*Stands, error) {
	p, err := solved(s, func(of allot.Progress) bool { return of.Nodes < mostNodes })
	if err != nil {
		return nil, err
	}
	is := &Stands{Says: "Nothing to plan yet.", Rows: []Row{}}
	if len(s.Outputs) > 0 {
		is.Says = words.Capital(p.state()) + "."
	}
	d := &deal{p.problem, p.Start}
	best := p.answer.Proved && len((&deal{p.problem, p.answer.Columns}).changes()) == 0
	var functions []Function
	why := map[setup.ID]string{}
	for i := range d.wires {
		functions = append(functions, d.function(i))
		if best {
			why[s.Outputs[i].ID] = strings.Join(functions[i].Why, "; ")
		}
	}
	for _, end := range d.ends(functions) {
		is.Rows = append(is.Rows, Row{end, why[end.Of]})
	}
	is.Keyed = d.keyed()
	return is, nil
}
