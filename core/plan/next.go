package plan

import (
	"fmt"
	"slices"
	"strings"

	"axtren/core/allot"
	"axtren/core/setup"
	"axtren/core/words"
)

// Other is the best plan in which one choice is another one.
type Other struct {
	Of       string   `json:"of"`       // outputs/horn, controls/helm
	What     string   `json:"what"`     // control or place
	Possible bool     `json:"possible"` // there is such a plan, however much it costs
	Proved   bool     `json:"proved"`
	Points   [5]int   `json:"points"` // that it costs more, of each level; those of lower ones may be less
	More     []string `json:"more"`   // what it costs that the plan does not, sentences without a stop
	Changes  []Change `json:"changes"`
	Says     string   `json:"says"` // how it compares, a sentence without a stop
	cost     int64
}

// planned is a problem with its answer.
type planned struct {
	*problem
	answer allot.Answer
}

func solved(s *setup.Setup, see func(allot.Progress) bool) (*planned, error) {
	p := pose(read(s))
	a, err := allot.Solve(&p.Problem, see)
	if err != nil {
		return nil, err
	}
	if a.Columns == nil {
		a.Columns = slices.Repeat([]int{allot.None}, len(p.Vars))
	}
	return &planned{p, a}, nil
}

// Another finds what another choice would cost: another control for what a control moves or an
// output wants ("control"), or another place for an output ("place"). of is outputs/horn or
// controls/helm. Choices that are like the one of the plan in all that counts more than the usual
// order are ruled out with it. The error is setup.Problems where there is no such choice.
func Another(s *setup.Setup, of, what string, see func(allot.Progress) bool) (*Other, error) {
	p, err := solved(s, see)
	if err != nil {
		return nil, err
	}
	for _, c := range p.choices() {
		if c.of == of && c.what == what {
			return p.without(c, 0, see)
		}
	}
	return nil, setup.Problems{{Path: "of", Message: fmt.Sprintf("there is no choice of a %s for %q", what, of),
		Remedy: "name a function of the plan, and control or place"}}
}

// Next finds the choice that costs least to make otherwise; nil where there is no choice.
func Next(s *setup.Setup, see func(allot.Progress) bool) (*Other, error) {
	p, err := solved(s, see)
	if err != nil {
		return nil, err
	}
	var best *Other
	for _, c := range p.choices() {
		below := int64(0)
		if best != nil {
			below = best.cost
		}
		other, err := p.without(c, below, see)
		if err != nil {
			return nil, err
		}
		if other.Possible && (best == nil || other.cost < best.cost) {
			best = other
		}
	}
	return best, nil
}

// choice is one choice of a plan: of what, and by which variable.
type choice struct {
	of, what string
	variable int
}

// choices lists what was chosen, but for what rules or the person hold.
func (p *planned) choices() (list []choice) {
	d := &deal{p.problem, p.answer.Columns}
	for i := range p.hands {
		if h := &p.hands[i]; !h.held && !h.stays {
			list = append(list, choice{d.handName(i), "control", p.handVars[i]})
		}
	}
	for i := range p.wires {
		of := p.s.PartName(setup.IsOutput.At(i))
		switch {
		case p.setsPins && len(p.wires[i].leads) > 0:
			list = append(list, choice{of, "place", p.leadVars[i][0]})
		case p.slot[i] != noVar:
			list = append(list, choice{of, "place", p.slot[i]})
		default:
			list = append(list, choice{of, "place", p.channel[i]})
		}
	}
	return list
}

// without solves the problem with one choice, and those like it, ruled out.
func (p *planned) without(c choice, below int64, see func(allot.Progress) bool) (*Other, error) {
	q := p.Problem
	q.Below, q.Start = below, nil
	q.Vars = slices.Clone(q.Vars)
	v := &q.Vars[c.variable]
	v.Cost = slices.Clone(v.Cost)
	if has := p.answer.Columns[c.variable]; has != allot.None {
		for column := range v.Cost {
			if p.likes(v.Side, has, column) {
				v.Cost[column] = allot.Never
			}
		}
	}
	a, err := allot.Solve(&q, see)
	if err != nil {
		return nil, err
	}
	other := &Other{Of: c.of, What: c.what, Proved: a.Proved, More: []string{}, Changes: []Change{},
		cost: a.Best}
	if a.Columns == nil || a.Columns[c.variable] == allot.None {
		other.Says = "there is no way to have " + c.says(p.s)
		return other, nil
	}
	other.Possible = true
	was, now := &deal{p.problem, p.answer.Columns}, &deal{p.problem, a.Columns}
	list, points := now.costs()
	before, less := was.costs()
	for l := range points {
		other.Points[l] = points[l] - less[l]
	}
	var more []Cost
	for _, one := range list {
		if !slices.Contains(before, one) && one.Level != levelNames[Order] {
			more = append(more, one)
			other.More = append(other.More, one.Says)
		}
	}
	other.Changes = now.changes()
	other.Says = c.says(p.s) + " " + other.dearer(more)
	return other, nil
}

// says names what would be another one.
func (c *choice) says(s *setup.Setup) string {
	list, id, _ := strings.Cut(c.of, "/")
	name := s.Named(setup.ID(id))
	switch {
	case c.what == "place":
		return "another place for " + name
	case list == "controls":
		return "another control for what " + name + " moves"
	}
	return "another control for " + name
}

// dearer says in words how much more it costs: what it costs that the plan does not, of the level that
// decides.
func (o *Other) dearer(more []Cost) string {
	for level, n := range o.Points {
		if n <= 0 {
			continue
		}
		var said []string
		for _, term := range Terms {
			times := 0
			for _, c := range more {
				if c.Term == term.Key && c.Level == levelNames[level] {
					times += c.Points / term.Points
				}
			}
			switch {
			case times == 1:
				said = append(said, term.One)
			case times > 1:
				said = append(said, fmt.Sprintf("%d %s", times, term.Many))
			}
		}
		if Level(level) == Order {
			return "is only further from the usual order"
		}
		if said == nil {
			said = []string{words.Count(n, "point", "points") + " of " + levelNames[level]}
		}
		return "costs " + words.And(said)
	}
	return "would be as good"
}

// likes tells whether two columns of a side are the same to every function, but for the usual order.
func (p *planned) likes(side, a, b int) bool {
	if a == b {
		return true
	}
	same := func(x, y int64) bool { return x/unit[Work] == y/unit[Work] }
	for i := range p.Vars {
		if v := &p.Vars[i]; v.Side == side && !same(v.Cost[a], v.Cost[b]) {
			return false
		}
	}
	for i := range p.Terms {
		t := &p.Terms[i]
		if p.Vars[t.A].Side == side && !slices.Equal(t.Cost[a], t.Cost[b]) {
			return false
		}
		for _, row := range t.Cost {
			if p.Vars[t.B].Side == side && row[a] != row[b] {
				return false
			}
		}
	}
	return true
}
