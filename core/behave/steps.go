package behave

import (
	"fmt"
	"strings"

	"axtren/core/fill"
	"axtren/core/setup"
	"axtren/core/words"
)

// stepsKind: presses through states.
func stepsKind() *kind {
	return &kind{key: "steps", title: "Presses step through states, up and down or round",
		example: "Mast lights: goes one step on when Right button is pressed, through dark, riding " +
			"and towing, and round again.",
		places: append(append([]fill.Place{calledPlace(),
			truthPlace("in", "What steps on"),
			{Key: "down", Label: "What steps back", Kind: fill.Truth, Of: "truth", Optional: true},
			{Key: "steps", Label: "Through which states", Kind: fill.Rows, Names: []string{"State", "Value, %"},
				Usual: []string{"low", "-40", "middle", "0", "high", "40"}},
			{Key: "ends", Label: "At the ends", Kind: fill.One, Usual: []string{"stops"}, Choices: []fill.Choice{
				{Value: "stops", Label: "stops at the ends"}, {Value: "round", Label: "goes round again"}}},
			{Key: "wakes", Label: "The first state", Kind: fill.One, From: "steps", Usual: []string{"low"}},
			{Key: "home", Label: "goes to its first state while …", Kind: fill.Truth, Of: "truth", Optional: true},
			{Key: "repeat", Label: "Held, it steps again every", Kind: fill.Number, Unit: "s", Most: 60,
				Usual: []string{"0"}}}, pressPlaces()...), append(movesPlaces(), lossPlace())...),
		instead: map[string]string{"in": "down"}, find: findSteps, write: writeSteps, says: tellSteps}
}

func findSteps(r *reader) {
	for i := range r.s.Steppers {
		st, item := &r.s.Steppers[i], setup.IsStepper.At(i)
		v := fill.Values{"called": {st.Label}, "in": {ref(st.Up)}, "down": {ref(st.Down)}, "ends": {"stops"},
			"wakes": {string(st.Steps[0].Name)}, "home": {ref(st.Home)}, "repeat": {fill.Figure(st.RepeatS)},
			"press": {atOnce}}
		if st.Start != nil {
			v["wakes"] = []string{string(*st.Start)}
		}
		if st.Wrap {
			v["ends"] = []string{"round"}
		}
		for _, step := range st.Steps {
			v["steps"] = append(v["steps"], string(step.Name), fill.Figure(step.Value))
		}
		roles := map[string]setup.Item{}
		r.presses(st, item, v, roles)
		f := r.take(item, v, roles)
		r.readMoves(f)
		v["loss"] = []string{r.loss(f, st)}
	}
}

// What a place of a lost signal holds besides the name of a step, which has no dot.
const (
	lossHold  = ".hold"
	lossThere = ".there" // in Loss and start
)

// lossPlace is the place of what the function that steps move alone does when the signal is lost.
func lossPlace() fill.Place {
	return fill.Place{Key: "loss", Label: "When the signal is lost", Kind: fill.One, From: "steps",
		Usual: []string{lossThere}, Choices: []fill.Choice{
			{Value: lossThere, Label: "it does what Loss and start says"},
			{Value: lossHold, Label: "it stays as it is"}}}
}

// alone gives what a mix asks of an output for each value of its source, where nothing else asks anything of
// it but for a while, instead; nil where something does.
func alone(s *setup.Setup, output setup.ID, m *setup.Mix, own int) func(value float64) float64 {
	for _, i := range s.MixesTo(s.Item(output).Index) {
		if other := &s.Mixes[i]; i != own && (other.Combine != "instead" || other.When == nil) {
			return nil
		}
	}
	if m.When != nil {
		return nil
	}
	return func(value float64) float64 { return value*m.Gain.Pos/100 + m.Bias }
}

// loss reads what the functions do on a lost signal that steps move alone: all of them the same.
func (r *reader) loss(f *found, st *setup.Stepper) string {
	said := ""
	for _, output := range f.v["moves"] {
		mix := f.roles["mix:"+output].Index
		asks := alone(r.s, setup.ID(output), &r.s.Mixes[mix], mix)
		if asks == nil {
			continue
		}
		out := r.s.Item(setup.ID(output)).Index
		at := lossThere
		switch l := r.s.Outputs[out].Loss; {
		case l == nil:
		case l.Mode == "hold":
			at = lossHold
		case l.Mode == "preset":
			for _, step := range st.Steps {
				if fill.Figure(r.p.PositionOf(out, asks(step.Value))) == fill.Figure(*l.Value) {
					at = string(step.Name)
					break
				}
			}
		}
		if said != "" && at != said {
			return lossThere
		}
		said = at
	}
	if said == "" {
		return lossThere
	}
	return said
}

// writeLoss writes what the functions that the steps move alone do on a lost signal.
func (w *writer) writeLoss() error {
	chosen := w.One("loss")
	if chosen == lossThere || chosen == "" {
		return nil
	}
	value, step := 0.0, chosen != lossHold
	rows := w.Values["steps"]
	for i := 0; i < len(rows); i += 2 {
		if stepName(rows[i]) == stepName(chosen) {
			value, _ = fill.ReadFigure(rows[i+1])
		}
	}
	wrote := false
	for _, output := range w.Values["moves"] {
		mix, own := &setup.Mix{Gain: setup.Gain{Pos: 100}}, -1
		if w.was != nil {
			if role, had := w.was.roles["mix:"+output]; had {
				own = role.Index
				mix = &w.s.Mixes[own]
			}
		}
		asks := alone(w.s, setup.ID(output), mix, own)
		if asks == nil {
			continue
		}
		out := w.s.Item(setup.ID(output)).Index
		loss := setup.GroupNode("mode", "hold")
		if step {
			at, _ := fill.ReadFigure(fill.Figure(w.p.PositionOf(out, asks(value))))
			loss = setup.GroupNode("mode", "preset", "value", at)
		}
		w.set(fmt.Sprintf("/outputs/%d/loss", out), loss)
		wrote = true
	}
	if !wrote {
		return setup.Refused("rule.loss", setup.Name(chosen).Words(),
			"needs a function that these steps alone move", "choose what they switch, or say it in Loss and start")
	}
	return nil
}

// presses reads what the presses of a stepper are counted by: both of them by the same, else by nothing.
func (r *reader) presses(st *setup.Stepper, item setup.Item, v fill.Values, roles map[string]setup.Item) {
	how, seconds := "", ""
	own, read := map[string]setup.Item{}, map[string]string{}
	for key, t := range map[string]*setup.Truth{"in": st.Up, "down": st.Down} {
		if t == nil {
			continue
		}
		of, by, s, helper := r.press(*t, item)
		if how != "" && (by != how || s != seconds) {
			return
		}
		how, seconds, read[key], own[key] = by, s, string(of), helper
	}
	if how == "" || how == atOnce {
		return
	}
	v["press"], v["press_s"] = []string{how}, []string{seconds}
	for key, helper := range own {
		v[key], roles["press "+key] = []string{read[key]}, helper
	}
}

func writeSteps(w *writer) error {
	fields := []any{}
	for _, key := range []string{"in", "down"} {
		if w.One(key) == "" {
			continue
		}
		t, err := w.pressed("press "+key, key)
		if err != nil {
			return err
		}
		fields = append(fields, map[string]string{"in": "up", "down": "down"}[key], t)
	}
	if len(fields) == 0 {
		return setup.Refused("rule.in", "", "is not chosen yet: what steps on", "move what it is")
	}
	var steps []any
	rows, first := w.Values["steps"], false
	for i := 0; i < len(rows); i += 2 {
		v, ok := fill.ReadFigure(rows[i+1])
		if !ok {
			return setup.Refused("rule.steps", rows[i+1], "is no figure", "use −150 to 150")
		}
		name := stepName(rows[i])
		steps = append(steps, setup.GroupNode("name", name, "value", v))
		first = first || name == w.start()
	}
	if !first {
		return setup.Refused("rule.wakes", w.One("wakes"), "is none of its states", "use one of its states")
	}
	fields = append(fields, "steps", steps, "start", w.start())
	fields = with(fields, "wrap", w.One("ends") == "round", false)
	if w.One("home") != "" {
		home, err := w.truth("home", w.One("home"))
		if err != nil {
			return err
		}
		fields = append(fields, "home", home)
	}
	id := w.main("steppers", "steps", with(fields, "repeat_s", w.Number("repeat"), 0.0)...)
	if err := w.writeMoves(id, ""); err != nil {
		return err
	}
	return w.writeLoss()
}

// start gives the name of the first state; of none the first in the list.
func (w *writer) start() string {
	name := w.One("wakes")
	if name == "" {
		name = w.One("steps")
	}
	return stepName(name)
}

// stepName gives the name of a step as the document writes it.
func stepName(text string) string { return strings.ReplaceAll(strings.TrimSpace(text), " ", "_") }

func tellSteps(t *teller) {
	switch {
	case t.One("in") == "" && t.One("down") != "":
		t.text("goes one step back when ")
		t.when("down")
	case t.One("down") != "":
		t.text("goes one step on when ")
		t.when("in")
		t.text(" and one back when ")
		t.when("down")
	default:
		t.text("goes one step on when ")
		t.when("in")
		t.place("down", "")
	}
	var names []string
	for i := 0; i+1 < len(t.Values["steps"]); i += 2 {
		names = append(names, setup.Name(t.Values["steps"][i]).Words())
	}
	t.text(", through ")
	t.place("steps", words.And(names))
	t.text(", and ")
	t.place("ends", map[string]string{"stops": "stops at the ends", "round": "round again"}[t.One("ends")])
	t.text(". Wakes at ")
	t.place("wakes", setup.Name(t.One("wakes")).Words())
	t.text(".")
	if t.One("home") != "" {
		t.text(" Goes there again while ")
		t.while("home")
		t.text(".")
	} else {
		t.text(" ")
		t.place("home", "")
	}
	t.mostly(t.Number("repeat") == 0, t.tellRepeat)
	t.tellPress()
	t.mostly(t.One("loss") == lossThere, func() {
		t.text(" When the signal is lost, ")
		switch at := t.One("loss"); at {
		case lossThere, lossHold:
			t.choice("loss")
		default:
			t.text("it goes to ")
			t.place("loss", setup.Name(at).Words())
		}
		t.text(".")
	})
}

// tellRepeat says what a press that is held does.
func (t *teller) tellRepeat() {
	if t.Number("repeat") > 0 {
		t.text(" Held, it steps again every ")
		t.figure("repeat", "s")
		t.text(".")
	} else {
		t.text(" Held, it ")
		t.place("repeat", "steps only once")
		t.text(".")
	}
}

// movesKind: parts that move together along time.
func movesKind() *kind {
	return &kind{key: "moves", title: "Parts move one after the other along time",
		example: "Legs: runs out in 4 s while Gear is on, and back while not.",
		places: []fill.Place{calledPlace(), truthPlace("in", "While what it runs out"),
			{Key: "tracks", Label: "Which part moves when", Kind: fill.Rows,
				Names: []string{"Part", "Seconds and %"},
				Usual: []string{"door", "0 -100, 1 100", "leg", "1 -100, 3 100"}},
			{Key: "midway", Label: "Turned midway", Kind: fill.One, Usual: []string{"turn_back"},
				Choices: []fill.Choice{{Value: "turn_back", Label: "it turns back at once"},
					{Value: "finish", Label: "it runs to its end first"}}}},
		find: func(r *reader) {
			for i := range r.s.Sequences {
				sq := &r.s.Sequences[i]
				v := fill.Values{"called": {sq.Label}, "in": {string(sq.Go)}, "midway": {sq.Interrupt}}
				for _, track := range sq.Tracks {
					v["tracks"] = append(v["tracks"], string(track.Name), keysText(track.Keys))
				}
				r.take(setup.IsSequence.At(i), v, nil)
			}
		},
		write: func(w *writer) error {
			in, err := w.truth("in", w.One("in"))
			if err != nil {
				return err
			}
			tracks := &setup.Node{Kind: setup.Map}
			rows := w.Values["tracks"]
			for i := 0; i < len(rows); i += 2 {
				keys, err := readKeys(rows[i+1])
				if err != nil {
					return err
				}
				name := strings.ReplaceAll(strings.TrimSpace(rows[i]), " ", "_")
				if tracks.Get(name) != nil {
					return setup.Refused("rule.tracks", rows[i], "is there twice", "give each part a name of its own")
				}
				if err := tracks.Put(name, keys); err != nil {
					return err
				}
			}
			w.main("sequences", "sequence", with([]any{"go", in, "tracks", tracks}, "interrupt", w.One("midway"),
				"turn_back")...)
			return nil
		},
		says: func(t *teller) {
			total := 0.0
			var names []string
			rows := t.Values["tracks"]
			for i := 0; i+1 < len(rows); i += 2 {
				names = append(names, setup.Name(rows[i]).Words())
				if keys, err := readKeys(rows[i+1]); err == nil {
					total = max(total, keys.Items[len(keys.Items)-1].Items[0].Float())
				}
			}
			t.text("runs out in " + words.Short(total) + " s (")
			t.place("tracks", words.And(names))
			t.text(") while ")
			t.while("in")
			t.text(", and back while not")
			t.mostly(t.One("midway") == "turn_back", func() {
				t.text("; turned midway, ")
				t.choice("midway")
			})
			t.text(".")
		}}
}

// keysText writes the key points of a track: 0 -100, 1.5 100.
func keysText(keys []setup.Point) string {
	var list []string
	for _, k := range keys {
		list = append(list, fill.Figure(k[0])+" "+fill.Figure(k[1]))
	}
	return strings.Join(list, ", ")
}

// readKeys reads the key points of a track.
func readKeys(text string) (*setup.Node, error) {
	list := []any{}
	for part := range strings.SplitSeq(text, ",") {
		fields := strings.Fields(part)
		var point []any
		for _, field := range fields {
			if v, ok := fill.ReadFigure(strings.ReplaceAll(field, "−", "-")); ok {
				point = append(point, v)
			}
		}
		if len(fields) != 2 || len(point) != 2 {
			return nil, setup.Refused("rule.tracks", strings.TrimSpace(part), "is no key point",
				"write seconds and percent, such as 0 -100, 1.5 100")
		}
		list = append(list, point)
	}
	return setup.NodeOf(list), nil
}
