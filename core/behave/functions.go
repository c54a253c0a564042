package behave

import (
	"fmt"
	"math"

	"axtren/core/fill"
	"axtren/core/mixing"
	"axtren/core/parts"
	"axtren/core/setup"
	"axtren/core/words"
)

// heldKind: a button moves a function as long as it is held.
func heldKind() *kind {
	return &kind{key: "held", title: "Is on while a button is held",
		example: "Whistle: is on while Rear button is held, else off.",
		places: []fill.Place{{Key: "to", Label: "What it switches", Kind: fill.One, Of: "output"},
			{Key: "button", Label: "Which button", Kind: fill.One, Of: "button"},
			{Key: "on", Label: "What is asked of it while held", Kind: fill.Number, Unit: "%", Least: -150,
				Most: 150, Optional: true},
			{Key: "off", Label: "What is asked of it otherwise", Kind: fill.Number, Unit: "%", Least: -150,
				Most: 150, Optional: true}},
		find: func(r *reader) {
			r.mixes(func(m *setup.Mix, item setup.Item) {
				at := r.s.Item(setup.ID(m.From.Ref))
				if at.Kind != setup.IsControl || !isButton(&r.s.Transmitter.Controls[at.Index]) || !plain(m) ||
					len(r.s.MixesTo(r.s.Item(m.To).Index)) != 1 {
					return
				}
				low, high := m.Bias-m.Gain.Pos, m.Bias+m.Gain.Pos
				if sw := r.s.Transmitter.Controls[at.Index].Switch; sw.Rest() == 1 {
					low, high = high, low
				}
				r.take(item, fill.Values{"to": {string(m.To)}, "button": {m.From.Ref}, "on": {fill.Figure(high)},
					"off": {fill.Figure(low)}}, nil).title = r.s.Named(m.To)
			})
		},
		write: func(w *writer) error {
			if err := w.alone("to", w.One("to")); err != nil {
				return err
			}
			to := w.One("to")
			off, on := parts.Ends(w.s, w.p, w.s.Item(setup.ID(to)).Index)
			if v, ok := fill.ReadFigure(w.One("on")); ok {
				on = v
			}
			if v, ok := fill.ReadFigure(w.One("off")); ok {
				off = v
			}
			if switchOf(w.s, w.One("button")).Rest() == 1 {
				on, off = off, on
			}
			fields := with([]any{"to", to, "from", w.One("button")}, "gain", (on-off)/2, 100.0)
			w.named("", "mixes", slug(to+"_"+w.One("button"), "mix"), "", with(fields, "bias", (on+off)/2, 0.0)...)
			return nil
		},
		says: func(t *teller) {
			t.text("is ")
			t.asked("on")
			t.text(" while ")
			t.place("button", t.chosen("button")+" is held")
			t.text(", else ")
			t.asked("off")
			t.text(".")
			if t.One("to") == "" {
				t.text(" It switches ")
				t.place("to", "")
			}
		}}
}

// asked says what a function is asked for: on, off, or its percent.
func (t *teller) asked(key string) {
	text := said(t.Number(key), "%")
	if at := t.s.Item(setup.ID(t.One("to"))); at.Kind == setup.IsOutput && t.switched(at.Index) {
		off, on := parts.Ends(t.s, t.p, at.Index)
		switch t.Number(key) {
		case off:
			text = "off"
		case on:
			text = "on"
		}
	}
	if t.One(key) == "" {
		t.place(key, "")
		return
	}
	t.place(key, text)
}

// switched tells whether an output drives something that is on or off.
func (t *teller) switched(output int) bool {
	for _, d := range t.s.Drives(output) {
		if t.s.Devices[d].PartKind().OnOff {
			return true
		}
	}
	return false
}

// standsKind: a function goes somewhere, whatever else moves it, while something is.
func standsKind() *kind {
	return &kind{key: "stands", title: "A function goes to a place while something is",
		example: "Trailer legs: goes to 0 % while Safety lever is at safe, whatever else moves it.",
		places: []fill.Place{{Key: "to", Label: "Which function", Kind: fill.One, Of: "output"},
			truthPlace("in", "While what"),
			{Key: "at", Label: "Where it goes", Kind: fill.Number, Unit: "%", Least: -150, Most: 150,
				Usual: []string{"0"}},
			secondsPlace("fade", "In how many seconds it goes over", "0")},
		find: func(r *reader) {
			r.mixes(func(m *setup.Mix, item setup.Item) {
				at, ok := sets(m)
				if !ok || r.s.Item(setup.ID(*m.When)).Kind == setup.IsBlock {
					return // what a rule moves while it is on is said there
				}
				r.take(item, fill.Values{"to": {string(m.To)}, "in": {string(*m.When)}, "at": {fill.Figure(at)},
					"fade": {fill.Figure(m.FadeS)}}, nil).title = r.s.Named(m.To)
			})
		},
		write: func(w *writer) error {
			in, err := w.truth("in", w.One("in"))
			if err != nil {
				return err
			}
			if w.s.Item(setup.ID(in)).Kind == setup.IsBlock {
				return setup.Refused("rule.in", words.While(w.s, setup.Truth(in)), "is a rule of its own",
					"let that rule move the function, in its own sentence")
			}
			w.named("", "mixes", slug(w.One("to")+"_stands", "mix"), "", with([]any{"to", w.One("to"), "from",
				w.Number("at"), "combine", "instead", "when", in}, "fade_s", w.Number("fade"), 0.0)...)
			return nil
		},
		says: func(t *teller) {
			t.text("goes to ")
			t.figure("at", "%")
			t.text(" while ")
			t.while("in")
			t.text(", whatever else moves it")
			t.mostly(t.Number("fade") == 0, func() {
				t.text(", ")
				t.place("fade", fadeWords(t.Number("fade")))
			})
			t.text(".")
			if t.One("to") == "" {
				t.text(" It moves ")
				t.place("to", "")
			}
		}}
}

func fadeWords(s float64) string {
	if s == 0 {
		return "at once"
	}
	return "over " + words.Short(s) + " s"
}

// neverKind: two functions that must not move together.
func neverKind() *kind {
	return &kind{key: "never", title: "Two functions never together",
		example: "Hoist and Slewing: never move together: while Hoist is asked for more than 8 % " +
			"either way, Slewing stands.",
		places: []fill.Place{{Key: "first", Label: "Which one wins", Kind: fill.One, Of: "output"},
			{Key: "second", Label: "Which one stands meanwhile", Kind: fill.One, Of: "output"},
			{Key: "beyond", Label: "What counts as moving, either way", Kind: fill.Number, Unit: "%", Least: 1,
				Most: 90, Usual: []string{"8"}}},
		find: func(r *reader) {
			r.mixes(func(m *setup.Mix, item setup.Item) {
				at, ok := sets(m)
				if !ok || m.FadeS != 0 {
					return
				}
				of, not := base(*m.When)
				b, still := r.block(of, "between")
				if b == nil || !not || !r.serves(still, item) {
					return
				}
				spec := b.Spec.(*setup.Between)
				src, err := r.s.Source(spec.Of)
				if err != nil || spec.Of.Ref == "" || src.Kind != setup.SourceAsked || spec.From != -spec.To {
					return
				}
				second := r.s.Item(m.To)
				if off, _ := parts.Ends(r.s, r.p, second.Index); r.rest(second.Index, off) != at {
					return
				}
				first := string(r.s.Outputs[src.Index].ID)
				f := r.take(item, fill.Values{"first": {first}, "second": {string(m.To)},
					"beyond": {fill.Figure(spec.To + spec.Hysteresis)}}, map[string]setup.Item{"still": still})
				f.title = r.s.Named(setup.ID(first)) + " and " + r.s.Named(m.To)
			})
		},
		write: func(w *writer) error {
			first, second, beyond := w.One("first"), w.One("second"), w.Number("beyond")
			if first == second {
				return setup.Refused("rule.second", w.s.Named(setup.ID(second)), "is the same function",
					"choose two")
			}
			back := math.Min(beyond/2, 2) // it counts as still again a little further in
			at := w.s.Item(setup.ID(second)).Index
			off, _ := parts.Ends(w.s, w.p, at)
			still := w.put("still", "logic", slug(first+"_still", "still"), w.s.Named(setup.ID(first))+" stands",
				"block", "between", "of", first+".asked", "from", back-beyond, "to", beyond-back, "hysteresis", back)
			r := reader{s: w.s, p: w.p}
			w.named("", "mixes", slug(second+"_stands", "mix"), "", "to", second, "from", r.rest(at, off), "combine",
				"instead", "when", "not "+still)
			return nil
		},
		says: func(t *teller) {
			t.text("never move together: while ")
			t.choice("first")
			t.text(" is asked for more than ")
			t.place("beyond", words.Short(t.Number("beyond"))+" %")
			t.text(" either way, ")
			t.choice("second")
			t.text(" stands.")
		}}
}

// rest gives what an output is asked for while it stands, percent; off is what its parts are off at.
func (r *reader) rest(output int, off float64) float64 {
	for _, d := range r.s.Drives(output) {
		if kind := r.s.Devices[d].PartKind(); kind.Motor || kind.OnOff {
			return off
		}
	}
	return 0 // a servo stands in its middle
}

// schemeKind: functions that go together, which Mixing writes.
func schemeKind() *kind {
	return &kind{key: "scheme", only: true, home: "mixing", find: func(r *reader) {
		for _, one := range mixing.Has(r.s) {
			var blocks []setup.Item
			for _, id := range one.Helps {
				if item := r.s.Item(id); item.Kind == setup.IsBlock && !r.claimed[item] {
					blocks = append(blocks, item)
				}
			}
			if len(blocks) == 0 {
				continue
			}
			roles := map[string]setup.Item{}
			for i, item := range blocks[1:] {
				roles[fmt.Sprint("part ", i)] = item
			}
			f := r.take(blocks[0], fill.Values{}, roles)
			f.title, f.says = one.Title, one.Says
		}
	}}
}
