package behave

import (
	"strings"

	"axtren/core/fill"
	"axtren/core/parts"
	"axtren/core/setup"
	"axtren/core/words"
)

// Which of two that move one function wins.
const (
	winsThis  = "this"  // this rule, while it is on
	winsOther = "other" // what was there, while it is on or moved
	winsMore  = "more"  // whichever asks for more
	winsAdded = "added"
)

// atRest is how far from its middle a lever counts as moved, percent.
const atRest = 8

// movesPlaces are the places of what a rule switches.
func movesPlaces() []fill.Place {
	return []fill.Place{{Key: "moves", Label: "What it switches", Kind: fill.Many, Of: "output", Optional: true},
		{Key: "wins", Label: "Which one wins, where something else moves the same", Kind: fill.One,
			Optional: true, Choices: []fill.Choice{{Value: winsThis, Label: "this rule, while it is on"},
				{Value: winsOther, Label: "the other, while it is on or moved"},
				{Value: winsMore, Label: "whichever asks for more"}, {Value: winsAdded, Label: "both, added"}}}}
}

// calledPlace is the place of what a rule is called.
func calledPlace() fill.Place {
	return fill.Place{Key: "called", Label: "What it is called", Kind: fill.Text, Optional: true}
}

// readMoves notes which outputs the main part of a sentence moves, in the ways in which writeMoves writes it.
func (r *reader) readMoves(f *found) {
	id := string(r.s.Key(f.main).ID)
	note := func(output setup.ID, roles map[string]setup.Item) {
		if _, twice := f.roles["mix:"+string(output)]; twice {
			return
		}
		f.v["moves"] = append(f.v["moves"], string(output))
		for _, role := range sortedKeys(roles) {
			f.roles[role+":"+string(output)] = roles[role]
			f.parts = append(f.parts, roles[role])
			r.claimed[roles[role]] = true
		}
	}
	r.mixes(func(m *setup.Mix, item setup.Item) {
		if _, ok := sets(m); ok {
			if string(*m.When) == id {
				note(m.To, map[string]setup.Item{"mix": item})
				return
			}
			if roles, ok := r.guarded(*m.When, id, item); ok {
				note(m.To, roles)
			}
			return
		}
		if m.From.Ref == id && m.Shape == "plain" && !m.Gain.Split {
			note(m.To, map[string]setup.Item{"mix": item})
		}
	})
}

// guarded reads the guard of a mix that lets others win: an and of the rule and of what must not be.
func (r *reader) guarded(when setup.Truth, id string, mix setup.Item) (map[string]setup.Item, bool) {
	guard, item := r.block(when, "and")
	if guard == nil || !r.serves(item, mix) || string(guard.Spec.(*setup.Gate).In[0]) != id {
		return nil, false
	}
	roles := map[string]setup.Item{"mix": mix, "guard": item}
	for _, t := range guard.Spec.(*setup.Gate).In[1:] {
		if still, rest := r.block(t, "between"); still != nil && r.serves(rest, item) {
			roles["rest "+string(still.ID)] = rest
		}
	}
	return roles, true
}

// writeMoves lets the main part move the outputs of its place. on is the condition under which it does, empty
// for what has no off: a stepper.
func (w *writer) writeMoves(id, on string) error {
	for _, output := range w.Values["moves"] {
		if w.keeps(output) {
			continue
		}
		at := w.s.Item(setup.ID(output)).Index
		off, lit := parts.Ends(w.s, w.p, at)
		mixed := []any{"to", output, "from", id}
		truth := on == id
		if truth { // −100 or +100
			mixed = with(with(mixed, "gain", (lit-off)/2, 100.0), "bias", (lit+off)/2, 0.0)
		}
		others := w.s.MixesTo(at)
		if len(others) > 0 {
			var err error
			if mixed, err = w.against(output, id, on, lit, mixed, others); err != nil {
				return err
			}
		}
		w.put("mix:"+output, "mixes", slug(output+"_"+id, "mix"), "", mixed...)
	}
	return nil
}

// keeps keeps the mix, and what guards it, that the sentence has to an output already.
func (w *writer) keeps(output string) bool {
	if w.was == nil {
		return false
	}
	if _, had := w.was.roles["mix:"+output]; !had {
		return false
	}
	for role := range w.was.roles {
		if strings.HasSuffix(role, ":"+output) {
			w.used[role] = true
		}
	}
	return true
}

// against gives the mix to an output that others move already, as the person wants it.
func (w *writer) against(output, id, on string, lit float64, mixed []any, others []int) ([]any, error) {
	name := w.s.Named(setup.ID(output))
	switch wins := w.One("wins"); {
	case wins == "":
		return nil, setup.Refused("rule.wins", name, "is moved by "+w.movers(others)+" already",
			"say which of the two wins")
	case wins == winsAdded:
		return mixed, nil
	case wins == winsMore:
		combine := "greatest"
		if lit < 0 {
			combine = "least"
		}
		return append(mixed, "combine", combine), nil
	case on == "":
		return nil, setup.Refused("rule.wins", name, "is moved by steps, which are never off",
			"let whichever asks for more win, or add both")
	case wins == winsThis && on != id: // what plays while a condition holds
		return append(mixed, "combine", "instead", "when", on), nil
	case wins == winsThis:
		return []any{"to", output, "from", lit, "combine", "instead", "when", id}, nil
	}
	in, err := w.idle(output, others)
	if err != nil {
		return nil, err
	}
	guard := w.put("guard:"+output, "logic", slug(id+"_alone", "guard"), w.name("and nothing else moves "+name),
		"block", "and", "in", append([]any{on}, in...))
	if on != id {
		return append(mixed, "combine", "instead", "when", guard), nil
	}
	return []any{"to", output, "from", lit, "combine", "instead", "when", guard}, nil
}

// movers names what moves an output by some mixes.
func (w *writer) movers(mixes []int) string {
	var names []string
	for _, i := range mixes {
		m := &w.s.Mixes[i]
		if m.From.Ref == "" && m.When != nil {
			names = append(names, words.Truth(w.s, *m.When))
			continue
		}
		names = append(names, words.Source(w.s, m.From))
	}
	return words.And(names)
}

// idle gives conditions that hold while the others do nothing: each rule off, each lever at rest.
func (w *writer) idle(output string, mixes []int) ([]any, error) {
	in := []any{}
	for _, i := range mixes {
		m := &w.s.Mixes[i]
		src, err := w.s.Source(m.From)
		switch {
		case err != nil:
			return nil, err
		case m.When != nil:
			of, not := base(*m.When)
			in = append(in, prefixed(!not, string(of)))
		case m.From.Ref == "": // a figure, which is where it rests
		case src.Kind == setup.SourceBlock:
			in = append(in, "not "+m.From.Ref)
		case src.Kind == setup.SourceControl && w.s.Transmitter.Controls[src.Index].Switch != nil:
			sw := w.s.Transmitter.Controls[src.Index].Switch
			in = append(in, m.From.Ref+"."+string(sw.Positions[sw.Rest()]))
		case src.Kind == setup.SourceControl || src.Kind == setup.SourceDemand || src.Kind == setup.SourceAsked:
			rest := w.put("rest "+m.From.Ref+":"+output, "logic", slug(m.From.Ref+"_at_rest", "rest"),
				words.Source(w.s, m.From)+" at rest", "block", "between", "of", m.From.Ref, "from",
				float64(2-atRest), "to", float64(atRest-2), "hysteresis", 2.0)
			in = append(in, rest)
		default:
			return nil, setup.Refused("rule.wins", w.s.Named(setup.ID(output)), "is moved by "+
				words.Source(w.s, m.From)+", which is never off", "let this rule win, or whichever asks for more")
		}
	}
	return in, nil
}
