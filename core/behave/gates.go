package behave

import (
	"fmt"
	"strings"

	"axtren/core/fill"
	"axtren/core/setup"
	"axtren/core/words"
)

// truthPlace is a place with one condition.
func truthPlace(key, label string) fill.Place {
	return fill.Place{Key: key, Label: label, Kind: fill.Truth, Of: "truth"}
}

func secondsPlace(key, label string, usual string) fill.Place {
	return fill.Place{Key: key, Label: label, Kind: fill.Number, Unit: "s", Most: 3600, Usual: []string{usual}}
}

func percentPlace(key, label, usual string) fill.Place {
	return fill.Place{Key: key, Label: label, Kind: fill.Number, Unit: "%", Least: -150, Most: 150,
		Usual: []string{usual}}
}

// whileKind: either, both, only one of.
func whileKind() *kind {
	return &kind{key: "while", title: "Is on while something is: all of several, any of them, only one",
		example: "Front lock allowed: is on while both Front switch is at locked and Rear switch is at locked.",
		places: append([]fill.Place{calledPlace(),
			{Key: "in", Label: "What it looks at", Kind: fill.Truths, Of: "truth"},
			{Key: "how", Label: "How many of them", Kind: fill.One, Usual: []string{"and"},
				Choices: []fill.Choice{{Value: "and", Label: "all of them"}, {Value: "or", Label: "any of them"},
					{Value: "xor", Label: "only one of them"}}}}, movesPlaces()...),
		find: func(r *reader) {
			r.blocks(func(b *setup.Block, item setup.Item) {
				gate, ok := b.Spec.(*setup.Gate)
				if !ok {
					return
				}
				v := fill.Values{"called": {b.Label}, "how": {b.Block}}
				for _, t := range gate.In {
					v["in"] = append(v["in"], string(t))
				}
				r.readMoves(r.take(item, v, nil))
			})
		},
		write: func(w *writer) error {
			in, err := w.truths("in")
			if err != nil {
				return err
			}
			id := w.main("logic", "rule", "block", w.One("how"), "in", in)
			return w.writeMoves(id, id)
		},
		says: func(t *teller) {
			t.text("is on while ")
			var list []string
			for _, one := range t.Values["in"] {
				list = append(list, t.holds(one))
			}
			if n := len(list); n > 1 {
				joined := map[string]string{"and": "both", "or": "either", "xor": "either"}[t.One("how")]
				if n > 2 {
					joined = map[string]string{"and": "all of these hold:", "or": "any of these holds:",
						"xor": "an odd number of these hold:"}[t.One("how")]
				}
				t.place("how", joined)
				t.text(" ")
			}
			t.place("in", gateWords(list, t.One("how")))
			t.text(".")
		}}
}

// gateWords joins conditions as a gate does.
func gateWords(list []string, how string) string {
	switch {
	case len(list) != 2:
		return strings.Join(list, "; ")
	case how == "and":
		return strings.Join(list, " and ")
	case how == "xor":
		return strings.Join(list, " or ") + ", but not both"
	}
	return strings.Join(list, " or ")
}

// timerKind makes the three kinds that wait.
func timerKind(key, block, title, example, of, time, usual string, says func(t *teller)) *kind {
	return &kind{key: key, title: title, example: example,
		places: append([]fill.Place{calledPlace(), truthPlace("in", of), secondsPlace("for", time, usual)},
			movesPlaces()...),
		find: func(r *reader) {
			r.blocks(func(b *setup.Block, item setup.Item) {
				if b.Block != block {
					return
				}
				timer := b.Spec.(*setup.Timer)
				r.readMoves(r.take(item, fill.Values{"called": {b.Label}, "in": {string(timer.In)},
					"for": {fill.Figure(timer.ForS)}}, nil))
			})
		},
		write: func(w *writer) error {
			in, err := w.truth("in", w.One("in"))
			if err != nil {
				return err
			}
			id := w.main("logic", "rule", "block", block, "in", in, "for_s", w.Number("for"))
			return w.writeMoves(id, id)
		},
		says: says}
}

func delayKind() *kind {
	return timerKind("delay", "ton", "Goes on after a while",
		"Battery low a while: goes on once Battery alarm is at low for 2 s without a break, and off with it.",
		"What it waits for", "How long it must last", "1", func(t *teller) {
			t.text("goes on once ")
			t.while("in")
			t.text(" for ")
			t.figure("for", "s")
			t.text(" without a break, and off with it.")
		})
}

func runOnKind() *kind {
	return timerKind("run_on", "tof", "Stays on for a while after",
		"Towing light: is on while Winch in use is on, and stays on for 5 s after.",
		"While what it is on", "How long it stays on after", "3", func(t *teller) {
			t.text("is on while ")
			t.while("in")
			t.text(", and stays on for ")
			t.figure("for", "s")
			t.text(" after.")
		})
}

func onceKind() *kind {
	return timerKind("once", "tp", "For a while, then off: a pulse, as a sound card wants one",
		"Bell: goes on for 0.3 s each time Left button is pressed, and then off.",
		"What starts it", "How long it is on", "0.3", func(t *teller) {
			t.text("goes on for ")
			t.figure("for", "s")
			t.text(" each time ")
			t.when("in")
			t.text(", and then off.")
		})
}

// momentKind: an edge by itself.
func momentKind() *kind {
	return &kind{key: "moment", title: "Is on for one moment",
		example: "The button acts: is on for one moment when Left button is pressed.",
		places:  []fill.Place{calledPlace(), truthPlace("in", "What happens")},
		find: func(r *reader) {
			r.blocks(func(b *setup.Block, item setup.Item) {
				edge, ok := b.Spec.(*setup.Edge)
				if !ok {
					return
				}
				in := edge.In
				if b.Block == "f_trig" { // the moment when the opposite comes
					of, not := base(in)
					in = setup.Truth(prefixed(!not, string(of)))
				}
				r.take(item, fill.Values{"called": {b.Label}, "in": {string(in)}}, nil)
			})
		},
		write: func(w *writer) error {
			in, err := w.truth("in", w.One("in"))
			if err != nil {
				return err
			}
			w.main("logic", "rule", "block", "r_trig", "in", in)
			return nil
		},
		says: func(t *teller) {
			t.text("is on for one moment when ")
			t.when("in")
			t.text(".")
		}}
}

// beyondKind: a lever as a switch.
func beyondKind() *kind {
	return &kind{key: "beyond", title: "Is on while a stick or lever is beyond a place",
		example: "Travels north: is on while Travel lever is at +5 % or above, and lets go again 2 % further back.",
		places: append([]fill.Place{calledPlace(),
			{Key: "of", Label: "Which stick or lever", Kind: fill.One, Of: "source"},
			{Key: "how", Label: "Which side", Kind: fill.One, Usual: []string{"above"}, Choices: []fill.Choice{
				{Value: "above", Label: "above a place"}, {Value: "below", Label: "below a place"},
				{Value: "between", Label: "between two places"}}},
			percentPlace("level", "From where on", "30"),
			{Key: "to", Label: "To where", Kind: fill.Number, Unit: "%", Least: -150, Most: 150, Optional: true},
			{Key: "margin", Label: "How far back it lets go again", Kind: fill.Number, Unit: "%", Most: 100,
				Usual: []string{fill.Figure(margin)}}}, movesPlaces()...),
		find: func(r *reader) {
			r.blocks(func(b *setup.Block, item setup.Item) {
				v := fill.Values{"called": {b.Label}, "how": {b.Block}}
				switch spec := b.Spec.(type) {
				case *setup.Level:
					v["of"], v["level"] = []string{spec.Of.String()}, []string{fill.Figure(spec.Level)}
					v["margin"] = []string{fill.Figure(spec.Hysteresis)}
				case *setup.Between:
					v["of"], v["level"] = []string{spec.Of.String()}, []string{fill.Figure(spec.From)}
					v["to"], v["margin"] = []string{fill.Figure(spec.To)}, []string{fill.Figure(spec.Hysteresis)}
				default:
					return
				}
				r.readMoves(r.take(item, v, nil))
			})
		},
		write: func(w *writer) error {
			fields := []any{"block", w.One("how"), "of", w.One("of")}
			if w.One("how") != "between" {
				fields = append(fields, "level", w.Number("level"))
			} else {
				to, ok := fill.ReadFigure(w.One("to"))
				if !ok || to < w.Number("level") {
					return setup.Refused("rule.to", w.One("to"), "is not above where it begins",
						fmt.Sprintf("use more than %s", words.SignedShort(w.Number("level"))))
				}
				fields = append(fields, "from", w.Number("level"), "to", to)
			}
			id := w.main("logic", "rule", with(fields, "hysteresis", w.Number("margin"), 0.0)...)
			return w.writeMoves(id, id)
		},
		says: func(t *teller) {
			t.text("is on while ")
			t.place("of", words.Source(t.s, setup.Value{Ref: t.One("of")}))
			if t.One("how") == "between" {
				t.text(" is ")
				t.place("how", "between")
				t.text(" ")
				t.figure("level", "%")
				t.text(" and ")
				t.figure("to", "%")
			} else {
				t.text(" is at ")
				t.figure("level", "%")
				t.text(" ")
				t.place("how", map[string]string{"above": "or above", "below": "or below"}[t.One("how")])
			}
			if t.Number("margin") == 0 {
				t.text(", with ")
				t.place("margin", "no margin")
			} else {
				t.text(", and lets go again ")
				t.place("margin", words.Short(t.Number("margin"))+" %")
				t.text(" further back")
			}
			t.text(".")
		}}
}
