package behave

import (
	"slices"
	"strings"

	"axtren/core/fill"
	"axtren/core/setup"
	"axtren/core/words"
)

// wakesPlace is the place of what a latch wakes as.
func wakesPlace() fill.Place {
	return fill.Place{Key: "wakes", Label: "What it is when the transmitter is turned on", Kind: fill.One,
		Usual: []string{"off"}, Choices: []fill.Choice{{Value: "off", Label: "off"}, {Value: "on", Label: "on"},
			{Value: "kept", Label: "as it was left"}}}
}

// startNode gives what a latch starts as, as the document writes it.
func startNode(wakes string) any {
	switch wakes {
	case "on":
		return true
	case "kept":
		return "kept"
	}
	return false
}

// wakesAs gives it as a value.
func wakesAs(at setup.StateAt) string {
	switch at {
	case "true":
		return "on"
	case "kept":
		return "kept"
	}
	return "off"
}

// The ways in which a press counts.
const (
	atOnce = "at_once"
	lasts  = "lasts" // only when it lasts so long: against a contact that bounces
	apart  = "apart" // the next only so long after
)

// pressPlaces are the places of how a press counts.
func pressPlaces() []fill.Place {
	return []fill.Place{{Key: "press", Label: "How a press counts", Kind: fill.One, Usual: []string{atOnce},
		Choices: []fill.Choice{{Value: atOnce, Label: "at once"}, {Value: lasts, Label: "once it has lasted"},
			{Value: apart, Label: "only once in"}}},
		{Key: "press_s", Label: "How long", Kind: fill.Number, Unit: "s", Most: 60, Optional: true}}
}

// usualPress is how long a press has to last, or presses have to lie apart, where nobody said it, seconds.
// Common practice, no source.
var usualPress = map[string]float64{lasts: 0.1, apart: 0.3}

// press reads what a press is counted by: the condition, or the block that counts it, which serves only main.
func (r *reader) press(t setup.Truth, main setup.Item) (of setup.Truth, how, seconds string,
	helper setup.Item) {
	b, item := r.block(t, "ton", "tp")
	if b == nil || !r.serves(item, main) {
		return t, atOnce, "", setup.Item{}
	}
	timer := b.Spec.(*setup.Timer)
	return timer.In, map[string]string{"ton": lasts, "tp": apart}[b.Block], fill.Figure(timer.ForS), item
}

// pressed writes what a press is counted by, for a role, and gives the condition.
func (w *writer) pressed(role, place string) (string, error) {
	in, err := w.truth(place, w.One(place))
	how := w.One("press")
	if err != nil || how == atOnce {
		return in, err
	}
	seconds := w.Number("press_s")
	if w.One("press_s") == "" {
		seconds = usualPress[how]
	}
	return w.put(role, "logic", "press", w.name("a press counts"), "block",
		map[string]string{lasts: "ton", apart: "tp"}[how], "in", in, "for_s", seconds), nil
}

// tellPress says how a press counts.
func (t *teller) tellPress() {
	defer func(before bool) { t.usual = before }(t.usual)
	t.usual = t.One("press") == atOnce
	switch t.One("press") {
	case lasts:
		t.text(" A press counts ")
		t.place("press", "once it has lasted")
		t.text(" ")
		t.figure("press_s", "s")
		t.text(".")
	case apart:
		t.text(" A press counts ")
		t.place("press", "only once in")
		t.text(" ")
		t.figure("press_s", "s")
		t.text(".")
	default:
		t.text(" A press counts ")
		t.place("press", "at once")
		t.text(".")
	}
}

// clickKind: click on, click off, with or without a cut.
func clickKind() *kind {
	return &kind{key: "click", title: "One press on, the next off, with a cut if you like",
		example: "Water wanted: goes on when Left button is pressed, and off the next time; off also as long as " +
			"Water lock is at locked.",
		places: append(append([]fill.Place{calledPlace(), truthPlace("in", "What is pressed"),
			{Key: "cut", Label: "and off at once when …", Kind: fill.Truth, Of: "truth", Optional: true},
			{Key: "cut_how", Label: "How the cut acts", Kind: fill.One, Usual: []string{"lasts"},
				Choices: []fill.Choice{{Value: "lasts", Label: "as long as it lasts: no press counts meanwhile"},
					{Value: "moment", Label: "only at the moment when it comes: a press after it counts again"}}},
			wakesPlace()}, pressPlaces()...), movesPlaces()...),
		find: func(r *reader) {
			r.blocks(func(b *setup.Block, item setup.Item) {
				toggle, ok := b.Spec.(*setup.Toggle)
				if !ok {
					return
				}
				roles := map[string]setup.Item{}
				in, how, seconds, helper := r.press(toggle.In, item)
				v := fill.Values{"called": {b.Label}, "in": {string(in)}, "press": {how}, "cut": {""},
					"cut_how": {"lasts"}, "wakes": {wakesAs(toggle.Start)}}
				if helper.Kind != 0 {
					roles["press"], v["press_s"] = helper, []string{seconds}
				}
				if toggle.Reset != nil {
					v["cut"] = []string{string(*toggle.Reset)}
					if edge, at := r.block(*toggle.Reset, "r_trig"); edge != nil && r.serves(at, item) {
						v["cut"], v["cut_how"] = []string{string(edge.Spec.(*setup.Edge).In)}, []string{"moment"}
						roles["cut"] = at
					}
				}
				r.readMoves(r.take(item, v, roles))
			})
		},
		write: func(w *writer) error {
			in, err := w.pressed("press", "in")
			if err != nil {
				return err
			}
			fields := []any{"block", "toggle", "in", in}
			if cut := w.One("cut"); cut != "" {
				if cut, err = w.truth("cut", cut); err != nil {
					return err
				}
				if w.One("cut_how") == "moment" {
					cut = w.put("cut", "logic", "cut", w.name("the cut"), "block", "r_trig", "in", cut)
				}
				fields = append(fields, "reset", cut)
			}
			id := w.main("logic", "rule", with(fields, "start", startNode(w.One("wakes")), false)...)
			return w.writeMoves(id, id)
		},
		says: func(t *teller) {
			t.text("goes on when ")
			t.when("in")
			t.text(", and off the next time")
			if t.One("cut") != "" {
				t.text("; off also ")
				if t.One("cut_how") == "moment" {
					t.place("cut_how", "at the moment when")
					t.text(" ")
					t.when("cut")
				} else {
					t.place("cut_how", "as long as")
					t.text(" ")
					t.while("cut")
				}
				t.text(".")
			} else {
				t.text(". ")
				t.place("cut", "")
			}
			t.text(" Wakes ")
			t.choice("wakes")
			t.text(".")
			t.tellPress()
		}}
}

// latchKind: on when one thing, off when another.
func latchKind() *kind {
	return &kind{key: "latch", title: "On with one thing, off with another",
		example: "Magnet holds: is on once Magnet switch is at hold, until it is at let go; if both, off wins.",
		places: append([]fill.Place{calledPlace(), truthPlace("set", "What brings it on"),
			truthPlace("reset", "What brings it off"),
			{Key: "both", Label: "What wins where both are", Kind: fill.One, Usual: []string{"off"},
				Choices: []fill.Choice{{Value: "off", Label: "off"}, {Value: "on", Label: "on"}}},
			wakesPlace()}, movesPlaces()...),
		find: func(r *reader) {
			r.blocks(func(b *setup.Block, item setup.Item) {
				latch, ok := b.Spec.(*setup.Latch)
				if !ok {
					return
				}
				r.readMoves(r.take(item, fill.Values{"called": {b.Label}, "set": {string(latch.Set)},
					"reset": {string(latch.Reset)}, "both": {map[string]string{"sr": "on", "rs": "off"}[b.Block]},
					"wakes": {wakesAs(latch.Start)}}, nil))
			})
		},
		write: func(w *writer) error {
			set, err := w.truth("set", w.One("set"))
			if err != nil {
				return err
			}
			reset, err := w.truth("reset", w.One("reset"))
			if err != nil {
				return err
			}
			block := map[string]string{"on": "sr", "off": "rs"}[w.One("both")]
			id := w.main("logic", "rule", with([]any{"block", block, "set", set, "reset", reset}, "start",
				startNode(w.One("wakes")), false)...)
			return w.writeMoves(id, id)
		},
		says: func(t *teller) {
			t.text("is on once ")
			t.while("set")
			t.text(", until ")
			t.while("reset")
			t.text("; if both, ")
			t.choice("both")
			t.text(" wins. Wakes ")
			t.choice("wakes")
			t.text(".")
		}}
}

// chooserKind: a lever only chooses, a button acts.
func chooserKind() *kind {
	return &kind{key: "chooser", title: "A lever chooses, a button acts",
		example: "Set for land and Set for water: Chooser only chooses; it is so when Red button is " +
			"pressed and held for 1 s.",
		places: []fill.Place{{Key: "switch", Label: "What chooses", Kind: fill.One, Of: "stays"},
			truthPlace("in", "What acts"),
			secondsPlace("held", "How long it must be held", "0"),
			{Key: "how", Label: "When it acts", Kind: fill.One, Usual: []string{"press"}, Choices: []fill.Choice{
				{Value: "press", Label: "only at that moment: the chooser moved later does nothing"},
				{Value: "held", Label: "as long as it is held: the chooser moved meanwhile acts too"}}},
			{Key: "own", Label: "What it can be set to", Kind: fill.Rows, Of: "positions",
				Names: []string{"Position", "Is called"}},
			{Key: "wakes", Label: "What it is set to when the transmitter is turned on", Kind: fill.One, From: "own",
				Choices: []fill.Choice{{Value: "none", Label: "none of them"},
					{Value: "kept", Label: "as it was left"}}, Usual: []string{"none"}}},
		find: findChoosers, write: writeChooser,
		says: func(t *teller) {
			t.choice("switch")
			t.text(" only chooses; it is so when ")
			t.when("in")
			if t.Number("held") > 0 {
				t.text(" and held for ")
				t.figure("held", "s")
			} else {
				t.text(" ")
				t.place("held", "at once")
			}
			t.text(", ")
			t.place("how", map[string]string{"press": "only at that moment",
				"held": "and as long as it is held"}[t.One("how")])
			t.text(".")
			t.mostly(true, func() { // it is in the title
				var names []string
				for i := 1; i < len(t.Values["own"]); i += 2 {
					names = append(names, t.Values["own"][i])
				}
				t.text(" Can be ")
				t.place("own", strings.Join(names, ", "))
				t.text(".")
			})
			t.text(" Wakes ")
			t.place("wakes", t.wakesAt())
			t.text(".")
		}}
}

// wakesAt says what a chooser wakes at.
func (t *teller) wakesAt() string {
	switch at := t.One("wakes"); at {
	case "none":
		return "at none of them"
	case "kept":
		return "as it was left"
	default:
		for i := 0; i+1 < len(t.Values["own"]); i += 2 {
			if t.Values["own"][i] == at {
				return "at " + t.Values["own"][i+1]
			}
		}
		return "at " + at
	}
}

// asking is a chooser with what acts.
type asking struct {
	control setup.Item
	act     setup.Truth
}

// findChoosers finds latches that are set by what a switch and a button together ask for, each reset by what
// asks for another.
func findChoosers(r *reader) {
	groups := map[asking]map[int]setup.Item{} // of each position, the block that asks for it
	var order []asking
	r.blocks(func(b *setup.Block, item setup.Item) {
		if b.Block != "and" {
			return
		}
		in := b.Spec.(*setup.Gate).In
		if len(in) != 2 {
			return
		}
		for k, t := range in {
			f, err := r.s.Fact(t)
			if err != nil || f.Kind != setup.FactPosition || f.Not {
				continue
			}
			if r.s.Transmitter.Controls[f.Index].Switch.SpringTo != nil {
				continue
			}
			g := asking{f.Item(), in[1-k]}
			if groups[g] == nil {
				groups[g] = map[int]setup.Item{}
				order = append(order, g)
			}
			if _, twice := groups[g][f.Sub]; !twice {
				groups[g][f.Sub] = item
			}
			return
		}
	})
	for _, g := range order {
		r.chooser(g, groups[g])
	}
}

// chooser reads one group; it takes nothing where anything of it is otherwise.
func (r *reader) chooser(g asking, asks map[int]setup.Item) {
	c := &r.s.Transmitter.Controls[g.control.Index]
	if len(asks) != len(c.Switch.Positions) {
		return
	}
	roles := map[string]setup.Item{}
	own := map[int]setup.Item{} // of a position, its latch
	resets := map[int]setup.Item{}
	id := func(item setup.Item) string { return string(r.s.Key(item).ID) }
	ok := true
	r.blocks(func(b *setup.Block, item setup.Item) {
		latch, is := b.Spec.(*setup.Latch)
		if !is {
			return
		}
		for at, ask := range asks {
			if string(latch.Set) != id(ask) {
				continue
			}
			var others []string
			for other, item := range asks {
				if other != at {
					others = append(others, id(item))
				}
			}
			if len(others) == 1 && string(latch.Reset) == others[0] {
				own[at] = item
				return
			}
			or, from := r.block(latch.Reset, "or")
			if or == nil || !r.serves(from, item) {
				ok = false
				return
			}
			var in []string
			for _, t := range or.Spec.(*setup.Gate).In {
				in = append(in, string(t))
			}
			slices.Sort(in)
			slices.Sort(others)
			if ok = slices.Equal(in, others); ok {
				own[at], resets[at] = item, from
			}
		}
	})
	if !ok || len(own) == 0 {
		return
	}
	var readers []setup.Item
	v := fill.Values{"switch": {string(c.ID)}, "how": {"held"}, "held": {"0"}, "wakes": {"none"}}
	var titles []string
	main := setup.Item{}
	for at, name := range c.Switch.Positions {
		roles["ask "+string(name)] = asks[at]
		if latch, has := own[at]; has {
			spec := r.s.Logic[latch.Index].Spec.(*setup.Latch)
			switch {
			case main.Kind == 0:
				main = latch
				if spec.Start == "kept" {
					v["wakes"] = []string{"kept"}
				}
			case (spec.Start == "kept") != (v.One("wakes") == "kept"):
				return
			}
			if spec.Start == "true" {
				if v.One("wakes") != "none" {
					return // two at once
				}
				v["wakes"] = []string{string(name)}
			}
			roles["latch "+string(name)] = latch
			v["own"] = append(v["own"], string(name), r.s.Label(latch))
			titles = append(titles, r.s.Label(latch))
			readers = append(readers, latch)
		}
		if from, has := resets[at]; has {
			roles["other "+string(name)] = from
			readers = append(readers, from)
		}
	}
	var askers []setup.Item
	for _, ask := range asks {
		if !r.serves(ask, readers...) {
			return
		}
		askers = append(askers, ask)
	}
	act := g.act
	if edge, item := r.block(act, "r_trig"); edge != nil && r.serves(item, askers...) {
		roles["moment"], v["how"] = item, []string{"press"}
		act, askers = edge.Spec.(*setup.Edge).In, []setup.Item{item}
	}
	if held, item := r.block(act, "ton"); held != nil && r.serves(item, askers...) {
		roles["held"], v["held"] = item, []string{fill.Figure(held.Spec.(*setup.Timer).ForS)}
		act = held.Spec.(*setup.Timer).In
	}
	v["in"] = []string{string(act)}
	r.take(main, v, roles).title = words.And(titles)
}

func writeChooser(w *writer) error {
	sw := switchOf(w.s, w.One("switch"))
	act, err := w.truth("in", w.One("in"))
	if err != nil {
		return err
	}
	if f, err := w.s.Fact(setup.Truth(act)); err == nil && f.Item() == w.s.Item(setup.ID(w.One("switch"))) {
		return setup.Refused("rule.in", words.While(w.s, setup.Truth(act)), "is the chooser itself",
			"let a button act")
	}
	if w.Number("held") > 0 {
		act = w.put("held", "logic", "held", "Held for a while", "block", "ton", "in", act, "for_s",
			w.Number("held"))
	}
	if w.One("how") == "press" {
		act = w.put("moment", "logic", "acts", "The button acts", "block", "r_trig", "in", act)
	}
	asks := map[setup.Name]string{}
	for _, at := range sw.Positions {
		asks[at] = w.put("ask "+string(at), "logic", slug("to_"+string(at), "ask"), "Asked for "+at.Words(),
			"block", "and", "in", []any{w.One("switch") + "." + string(at), act})
	}
	own := w.Values["own"]
	seen := map[string]bool{}
	for i := 0; i < len(own); i += 2 {
		at := setup.Name(own[i])
		if asks[at] == "" || seen[own[i]] {
			return setup.Refused("rule.own", own[i], "is no position of the chooser that is free",
				"use each of its positions once at most")
		}
		seen[own[i]] = true
		others := []any{}
		for _, other := range sw.Positions {
			if other != at {
				others = append(others, asks[other])
			}
		}
		reset := others[0].(string)
		if len(others) > 1 {
			reset = w.put("other "+own[i], "logic", slug("not_"+own[i], "other"), "Asked for another than "+at.Words(),
				"block", "or", "in", others)
		}
		start := startNode(map[bool]string{true: "on"}[w.One("wakes") == own[i]])
		if w.One("wakes") == "kept" {
			start = "kept"
		}
		id := w.named("latch "+own[i], "logic", slug(own[i+1], "set"), own[i+1],
			with([]any{"block", "rs", "set", asks[at], "reset", reset}, "start", start, false)...)
		if i == 0 {
			w.key, w.used[""] = "logic/"+id, true
		}
	}
	return nil
}
