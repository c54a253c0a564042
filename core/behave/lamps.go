package behave

import (
	"fmt"
	"math"
	"strconv"

	"axtren/core/fill"
	"axtren/core/parts"
	"axtren/core/setup"
	"axtren/core/words"
)

// flashesKind: a lamp, or what else is played step by step.
func flashesKind() *kind {
	return &kind{key: "flashes", title: "Blinks or flashes",
		example: "Blue flash: gives 2 flashes every 1 s while Pump primed is on.",
		places: append([]fill.Place{calledPlace(), truthPlace("in", "While what"),
			{Key: "beat", Label: "How it flashes", Kind: fill.Rows, Of: "beats",
				Names: []string{"Value, %", "Seconds"},
				Usual: []string{"100", "0.5", "-100", "0.5"}},
			{Key: "loop", Label: "How often", Kind: fill.One, Usual: []string{"loop"}, Choices: []fill.Choice{
				{Value: "loop", Label: "over and over"}, {Value: "once", Label: "once, and then stays"}}},
			percentPlace("rest", "What it is otherwise", "-100")}, movesPlaces()...),
		find: func(r *reader) {
			for i := range r.s.Patterns {
				p, item := &r.s.Patterns[i], setup.IsPattern.At(i)
				if r.claimed[item] {
					continue
				}
				v := fill.Values{"called": {p.Label}, "in": {string(p.When)}, "loop": {"loop"},
					"rest": {fill.Figure(p.Rest)}}
				if !p.Loop {
					v["loop"] = []string{"once"}
				}
				for _, step := range p.Steps {
					v["beat"] = append(v["beat"], fill.Figure(step[0]), fill.Figure(step[1]))
				}
				r.readMoves(r.take(item, v, nil))
			}
		},
		write: func(w *writer) error {
			in, err := w.truth("in", w.One("in"))
			if err != nil {
				return err
			}
			beat, err := w.beat()
			if err != nil {
				return err
			}
			fields := with([]any{"when", in, "steps", beat}, "loop", w.One("loop") == "loop", true)
			id := w.main("patterns", "pattern", with(fields, "rest", w.Number("rest"), -100.0)...)
			return w.writeMoves(id, in)
		},
		says: func(t *teller) {
			t.place("beat", beatWords(t.Values["beat"]))
			t.mostly(t.One("loop") == "loop", func() {
				t.text(", ")
				t.choice("loop")
			})
			t.text(" while ")
			t.while("in")
			t.mostly(t.Number("rest") == -100, func() {
				t.text("; else it is at ")
				t.figure("rest", "%")
			})
			t.text(".")
		}}
}

// beat gives the steps of a pattern as the document writes them.
func (w *writer) beat() ([]any, error) {
	list := []any{}
	rows := w.Values["beat"]
	for i := 0; i < len(rows); i += 2 {
		v, ok := fill.ReadFigure(rows[i])
		s, fine := fill.ReadFigure(rows[i+1])
		if !ok || !fine {
			return nil, setup.Refused("rule.beat", rows[i]+" for "+rows[i+1], "is no step of a lamp",
				"use percent and seconds")
		}
		list = append(list, []any{v, s})
	}
	return list, nil
}

// beatWords says a pattern: blinks 1.4 times a second; flashes twice, once a second.
func beatWords(rows []string) string {
	var values, seconds []float64
	total := 0.0
	for i := 0; i+1 < len(rows); i += 2 {
		v, _ := fill.ReadFigure(rows[i])
		s, _ := fill.ReadFigure(rows[i+1])
		values, seconds, total = append(values, v), append(seconds, s), total+s
	}
	lit := 0
	for i, v := range values {
		if v > 0 && (i == 0 || values[i-1] <= 0) {
			lit++
		}
		if v != values[0] && len(values) > 1 && v != values[1] {
			lit = -1000 // more than two brightnesses
		}
	}
	if lit < 1 || total == 0 || len(values) < 2 {
		return fmt.Sprintf("plays %s in %s s", words.Count(len(values), "step", "steps"),
			words.Short(total))
	}
	often := words.Count(lit, "flash", "flashes")
	rate := fmt.Sprintf("every %s s", words.Short(math.Round(total*100)/100))
	if lit == 1 && len(values) == 2 && math.Abs(seconds[0]-seconds[1]) < 1e-9 {
		return "blinks " + rate
	}
	return "gives " + often + " " + rate
}

// chaseKind: lamps one after the other.
func chaseKind() *kind {
	return &kind{key: "chase", title: "Lamps one after the other",
		example: "Bow lamp, Mid lamp and Stern lamp: light one after the other, each for 0.2 s, " +
			"while Lamp switch is at run.",
		places: []fill.Place{truthPlace("in", "While what"),
			{Key: "lamps", Label: "Which lamps, in their order", Kind: fill.Many, Of: "output"},
			{Key: "each", Label: "How long each is lit", Kind: fill.Number, Unit: "s", Least: 0.02, Most: 60,
				Usual: []string{"0.2"}}},
		find: findChases, write: writeChase,
		says: func(t *teller) {
			var names []string
			for _, id := range t.Values["lamps"] {
				names = append(names, t.s.Named(setup.ID(id)))
			}
			t.text("light one after the other: ")
			t.place("lamps", words.And(names))
			t.text(", each for ")
			t.figure("each", "s")
			t.text(", while ")
			t.while("in")
			t.text(".")
		}}
}

// chaseSteps gives the steps of lamp k of n.
func chaseSteps(k, n int, each float64) [][2]float64 {
	var list [][2]float64
	if k > 0 {
		list = append(list, [2]float64{-100, float64(k) * each})
	}
	list = append(list, [2]float64{100, each})
	if k < n-1 {
		list = append(list, [2]float64{-100, float64(n-1-k) * each})
	}
	return list
}

func findChases(r *reader) {
	groups, order := map[setup.Truth][]int{}, []setup.Truth{}
	for i, p := range r.s.Patterns {
		if groups[p.When] == nil {
			order = append(order, p.When)
		}
		groups[p.When] = append(groups[p.When], i)
	}
	for _, when := range order {
		r.chase(when, groups[when])
	}
}

func (r *reader) chase(when setup.Truth, list []int) {
	n := len(list)
	if n < 2 || n > 16 {
		return
	}
	each := 0.0
	for _, step := range r.s.Patterns[list[0]].Steps {
		if step[0] == 100 {
			each = step[1]
		}
	}
	v := fill.Values{"in": {string(when)}, "each": {fill.Figure(each)}}
	roles := map[string]setup.Item{}
	var names []string
	for k, i := range list {
		p := &r.s.Patterns[i]
		want := chaseSteps(k, n, each)
		if !p.Loop || p.Rest != -100 || len(p.Steps) != len(want) {
			return
		}
		for at, step := range p.Steps {
			if step[0] != want[at][0] || math.Abs(step[1]-want[at][1]) > 1e-9 {
				return
			}
		}
		lamp := setup.Item{}
		for e := range r.s.Graph().To(setup.IsPattern.At(i)) {
			if e.From.Kind == setup.IsMix && lamp.Kind == 0 && plain(&r.s.Mixes[e.From.Index]) {
				lamp = e.From
				continue
			}
			return // more than one lamp, or something else
		}
		if lamp.Kind == 0 {
			return
		}
		to := string(r.s.Mixes[lamp.Index].To)
		v["lamps"] = append(v["lamps"], to)
		names = append(names, r.s.Named(setup.ID(to)))
		roles[fmt.Sprint("pattern ", k)], roles[fmt.Sprint("mix ", k)] = setup.IsPattern.At(i), lamp
	}
	r.take(setup.IsPattern.At(list[0]), v, roles).title = words.And(names)
}

func writeChase(w *writer) error {
	in, err := w.truth("in", w.One("in"))
	if err != nil {
		return err
	}
	lamps := w.Values["lamps"]
	if len(lamps) < 2 || len(lamps) > 16 {
		return setup.Refused("rule.lamps", strconv.Itoa(len(lamps)), "are not enough lamps, or too many",
			"choose 2 to 16")
	}
	for k, to := range lamps {
		var steps []any
		for _, step := range chaseSteps(k, len(lamps), w.Number("each")) {
			steps = append(steps, []any{step[0], step[1]})
		}
		at := w.s.Item(setup.ID(to)).Index
		if err := w.alone("lamps", to); err != nil {
			return err
		}
		id := w.named(fmt.Sprint("pattern ", k), "patterns", slug(to+"_turn", "turn"),
			w.s.OutputLabel(at)+", in turn", "when", in,
			"steps", steps)
		off, lit := parts.Ends(w.s, w.p, at)
		w.put(fmt.Sprint("mix ", k), "mixes", slug(to+"_turn", "mix"), "",
			with(with([]any{"to", to, "from", id}, "gain", (lit-off)/2, 100.0), "bias", (lit+off)/2, 0.0)...)
		if k == 0 {
			w.key, w.used[""] = "patterns/"+id, true
		}
	}
	return nil
}

// saysKind: what the transmitter says.
func saysKind() *kind {
	return &kind{key: "says", title: "The transmitter says something",
		example: "“Water ready”: is said when Pump primed goes on.",
		places: []fill.Place{{Key: "say", Label: "What it says", Kind: fill.Text}, truthPlace("in", "When"),
			{Key: "at_start", Label: "Turned on with it so", Kind: fill.One, Usual: []string{"no"},
				Choices: []fill.Choice{{Value: "no", Label: "says nothing"}, {Value: "yes", Label: "says it too"}}}},
		find: func(r *reader) {
			for i, a := range r.s.Announcements {
				start := "no"
				if a.AtStart {
					start = "yes"
				}
				r.take(setup.IsAnnouncement.At(i), fill.Values{"say": {a.Say}, "in": {string(a.When)},
					"at_start": {start}}, nil).title = "“" + a.Say + "”"
			}
		},
		write: func(w *writer) error {
			in, err := w.truth("in", w.One("in"))
			if err != nil {
				return err
			}
			w.named("", "announcements", "say_"+slug(w.One("say"), "it"), "", with([]any{"when", in, "say",
				w.One("say")}, "at_start", w.One("at_start") == "yes", false)...)
			return nil
		},
		says: func(t *teller) {
			t.text("is said when ")
			t.when("in")
			t.mostly(t.One("at_start") == "no", func() {
				t.text("; turned on with it so, the transmitter ")
				t.choice("at_start")
			})
			t.text(".")
		}}
}
