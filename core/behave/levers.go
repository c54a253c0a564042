package behave

import (
	"cmp"
	"fmt"
	"math"
	"slices"

	"axtren/core/fill"
	"axtren/core/setup"
	"axtren/core/words"
)

// zonesKind: a lever with several zones, each a condition of its own.
func zonesKind() *kind {
	return &kind{key: "zones", title: "A stick or lever in zones",
		example: "Dial to the front and Dial to the rear: zones of Dial, up to −40 % and from +40 % on.",
		places: []fill.Place{{Key: "of", Label: "Which stick or lever", Kind: fill.One, Of: "source"},
			{Key: "zones", Label: "Its zones", Kind: fill.Rows, Names: []string{"Is called", "From, %", "To, %"},
				Usual: []string{"low", "", "-40", "middle", "-30", "30", "high", "40", ""}},
			{Key: "margin", Label: "How far back each lets go again", Kind: fill.Number, Unit: "%", Most: 100,
				Usual: []string{fill.Figure(margin)}}},
		find: findZones, write: writeZones,
		says: func(t *teller) {
			t.text("zones of ")
			t.place("of", words.Source(t.s, setup.Value{Ref: t.One("of")}))
			t.text(": ")
			var list []string
			rows := t.Values["zones"]
			for i := 0; i+2 < len(rows); i += 3 {
				list = append(list, rows[i]+" "+zoneWords(rows[i+1], rows[i+2]))
			}
			t.place("zones", words.And(list))
			t.text("; each lets go again ")
			t.place("margin", words.Short(t.Number("margin"))+" %")
			t.text(" further back.")
		}}
}

func zoneWords(from, to string) string {
	low, hasLow := fill.ReadFigure(from)
	high, hasHigh := fill.ReadFigure(to)
	switch {
	case !hasLow && hasHigh:
		return "up to " + said(high, "%")
	case hasLow && !hasHigh:
		return "from " + said(low, "%") + " on"
	}
	return "from " + said(low, "%") + " to " + said(high, "%")
}

// zone is one zone of a lever.
type zone struct {
	item            setup.Item
	label, from, to string
	low, high       float64
	of              setup.Value
	margin          float64
}

func zoneOf(b *setup.Block, item setup.Item) (z zone, ok bool) {
	z = zone{item: item, label: b.Label, low: math.Inf(-1), high: math.Inf(1)}
	switch spec := b.Spec.(type) {
	case *setup.Level:
		z.of, z.margin = spec.Of, spec.Hysteresis
		if b.Block == "below" {
			z.high, z.to = spec.Level, fill.Figure(spec.Level)
		} else {
			z.low, z.from = spec.Level, fill.Figure(spec.Level)
		}
	case *setup.Between:
		z.of, z.margin, z.low, z.high = spec.Of, spec.Hysteresis, spec.From, spec.To
		z.from, z.to = fill.Figure(spec.From), fill.Figure(spec.To)
	default:
		return z, false
	}
	return z, z.of.Ref != ""
}

func findZones(r *reader) {
	groups, order := map[string][]zone{}, []string{}
	r.blocks(func(b *setup.Block, item setup.Item) {
		if z, ok := zoneOf(b, item); ok {
			key := fmt.Sprintf("%s %v", z.of.Ref, z.margin)
			if groups[key] == nil {
				order = append(order, key)
			}
			groups[key] = append(groups[key], z)
		}
	})
	for _, key := range order {
		list := groups[key]
		slices.SortStableFunc(list, func(a, b zone) int { return cmp.Compare(a.low, b.low) })
		apart := len(list) > 1
		for i := 1; i < len(list); i++ {
			apart = apart && list[i-1].high < list[i].low
		}
		if !apart {
			continue
		}
		v := fill.Values{"of": {list[0].of.Ref}, "margin": {fill.Figure(list[0].margin)}}
		roles := map[string]setup.Item{}
		var titles []string
		for i, z := range list {
			v["zones"] = append(v["zones"], z.label, z.from, z.to)
			roles[fmt.Sprint("zone ", i)] = z.item
			titles = append(titles, r.s.Label(z.item))
		}
		r.take(list[0].item, v, roles).title = words.And(titles)
	}
}

func writeZones(w *writer) error {
	rows, before := w.Values["zones"], math.Inf(-1)
	if len(rows) < 6 {
		return setup.Refused("rule.zones", fmt.Sprint(len(rows)/3), "is too few zones", "use two or more")
	}
	for i := 0; i < len(rows); i += 3 {
		low, hasLow := fill.ReadFigure(rows[i+1])
		high, hasHigh := fill.ReadFigure(rows[i+2])
		after := hasLow && low > before && (!hasHigh || high >= low) && before < math.Inf(1)
		switch {
		case !hasLow && rows[i+1] != "" || !hasHigh && rows[i+2] != "" || !hasLow && !hasHigh:
			return setup.Refused("rule.zones", rows[i+1]+" to "+rows[i+2], "is no zone",
				"write where it begins and where it ends; the first and the last may be open")
		case !after && (hasLow || i > 0):
			return setup.Refused("rule.zones", rows[i+1], "overlaps the zone before it",
				"put them in their order, with room between them")
		}
		of := w.One("of")
		fields := []any{"block", "between", "of", of, "from", low, "to", high}
		switch {
		case !hasLow:
			fields = []any{"block", "below", "of", of, "level", high}
		case !hasHigh:
			fields = []any{"block", "above", "of", of, "level", low}
		}
		id := w.named(fmt.Sprint("zone ", i/3), "logic", slug(rows[i], "zone"), rows[i],
			with(fields, "hysteresis", w.Number("margin"), 0.0)...)
		if before = math.Inf(1); hasHigh {
			before = high
		}
		if i == 0 {
			w.key, w.used[""] = "logic/"+id, true
		}
	}
	return nil
}

// mild is how far preset positions lie from the middle at first, percent: travel that nobody knows yet
// begins at 40 to 50. Common practice, no source.
const mild = 40

// mildOf gives preset positions for a switch to begin with.
func mildOf(n int) []string {
	var list []string
	for i := range n {
		list = append(list, fill.Figure(-mild+2*mild*float64(i)/float64(n-1)))
	}
	return list
}

// presetsKind: a switch as preset positions.
func presetsKind() *kind {
	return &kind{key: "presets", title: "A switch as preset positions",
		example: "Boom: is put by Deck switch to −40 % at up, 0 % at mid and +40 % at down.",
		places: []fill.Place{{Key: "to", Label: "What it puts there", Kind: fill.One, Of: "output"},
			{Key: "switch", Label: "Which switch", Kind: fill.One, Of: "switch"},
			{Key: "at", Label: "Where it stands", Kind: fill.Positions, Unit: "%", Least: -150, Most: 150}},
		find: func(r *reader) {
			r.mixes(func(m *setup.Mix, item setup.Item) {
				shape := r.s.Item(setup.ID(m.From.Ref))
				if !whole(m) || shape.Kind != setup.IsDemand || len(r.s.MixesTo(r.s.Item(m.To).Index)) != 1 {
					return
				}
				d := &r.s.Demands[shape.Index]
				sw := switchOf(r.s, d.From.Ref)
				if sw == nil || d.Deadband != 0 || d.Expo != 0 || d.Rate != 100 || len(d.Rates) > 0 || d.Trim != 0 ||
					d.Smooth || len(d.Curve) != len(sw.Positions) || !r.serves(shape, item) {
					return
				}
				v := fill.Values{"to": {string(m.To)}, "switch": {d.From.Ref}}
				for i, point := range d.Curve {
					if math.Abs(point[0]-spaced(i, len(d.Curve))) > 1e-9 {
						return
					}
					v["at"] = append(v["at"], fill.Figure(point[1]))
				}
				r.take(item, v, map[string]setup.Item{"shape": shape}).title = r.s.Named(m.To)
			})
		},
		write: func(w *writer) error {
			n := len(w.Values["at"])
			curve := []any{}
			for i, text := range w.Values["at"] {
				at, _ := fill.ReadFigure(text)
				curve = append(curve, []any{spaced(i, n), at})
			}
			if err := w.alone("to", w.One("to")); err != nil {
				return err
			}
			shape := w.put("shape", "demands", slug(w.One("to")+"_presets", "presets"),
				w.s.Named(setup.ID(w.One("to")))+", preset", "from", w.One("switch"), "curve", curve)
			w.named("", "mixes", slug(w.One("to")+"_"+shape, "mix"), "", "to", w.One("to"), "from", shape)
			return nil
		},
		says: func(t *teller) {
			t.text("is put by ")
			t.choice("switch")
			t.text(" to ")
			names := fill.PositionsOf(t.s, t.One("switch"))
			var list []string
			for i, at := range t.Values["at"] {
				v, _ := fill.ReadFigure(at)
				if i < len(names) {
					list = append(list, said(v, "%")+" at "+names[i])
				}
			}
			t.place("at", words.And(list))
			t.text(".")
			if t.One("to") == "" {
				t.text(" It moves ")
				t.place("to", "")
			}
		}}
}

// spaced gives the number of position i of n, percent.
func spaced(i, n int) float64 { return -100 + 200*float64(i)/float64(n-1) }

// alone refuses an output that something else moves already.
func (w *writer) alone(place, output string) error {
	var others []int
	for _, i := range w.s.MixesTo(w.s.Item(setup.ID(output)).Index) {
		own := false
		if w.was != nil {
			for _, part := range w.was.roles {
				own = own || part == setup.IsMix.At(i)
			}
		}
		if !own {
			others = append(others, i)
		}
	}
	if len(others) == 0 {
		return nil
	}
	return setup.Refused("rule."+place, w.s.Named(setup.ID(output)), "is moved by "+w.movers(others)+" already",
		"take that away in Functions first, or choose another function")
}

// slotsKind: a knob or slider as preset positions.
func slotsKind() *kind {
	return &kind{key: "slots", title: "A knob or slider as preset positions",
		example: "Boom: is put to −40 %, 0 % and +40 %, in this order, as Left slider is moved from " +
			"its low end up.",
		places: []fill.Place{{Key: "to", Label: "What it puts there", Kind: fill.One, Of: "output"},
			{Key: "lever", Label: "Which knob, slider or stick", Kind: fill.One, Of: "lever"},
			{Key: "at", Label: "Where it stands, from the low end of the way up", Kind: fill.Rows,
				Names: []string{"Stands at, %"}, Usual: mildOf(3)}},
		find: findSlots,
		write: func(w *writer) error {
			if err := w.alone("to", w.One("to")); err != nil {
				return err
			}
			n := len(w.Values["at"])
			if n < 2 || n > 6 {
				return setup.Refused("rule.at", fmt.Sprint(n), "is no number of positions", "use 2 to 6")
			}
			to, lever := w.One("to"), w.One("lever")
			for i, text := range w.Values["at"] {
				at, ok := fill.ReadFigure(text)
				if !ok {
					return setup.Refused("rule.at", text, "is no figure", "use −150 to 150")
				}
				if i == 0 {
					w.named("", "mixes", slug(to+"_slot", "mix"), "", "to", to, "from", at)
					continue
				}
				zone := w.put(fmt.Sprint("zone ", i), "logic", slug(lever+"_up", "zone"),
					fmt.Sprintf("%s past %s %%", w.s.Named(setup.ID(lever)),
						words.SignedShort(math.Round(spaced(i, n+1)))), "block", "above", "of", lever,
					"level", spaced(i, n+1)+margin/2, "hysteresis", float64(margin))
				w.put(fmt.Sprint("mix ", i), "mixes", slug(to+"_slot", "mix"), "", "to", to, "from", at,
					"combine", "instead", "when", zone)
			}
			return nil
		},
		says: func(t *teller) {
			t.text("is put to ")
			var list []string
			for _, at := range t.Values["at"] {
				v, _ := fill.ReadFigure(at)
				list = append(list, said(v, "%"))
			}
			t.place("at", words.And(list))
			t.text(", in this order, as ")
			t.choice("lever")
			t.text(" is moved from its low end up.")
			if t.One("to") == "" {
				t.text(" It moves ")
				t.place("to", "")
			}
		}}
}

func findSlots(r *reader) {
	for out := range r.s.Outputs {
		mixes := r.s.MixesTo(out)
		n := len(mixes)
		if n < 2 || n > 6 {
			continue
		}
		v := fill.Values{"to": {string(r.s.Outputs[out].ID)}}
		roles, fits := map[string]setup.Item{}, true
		for i, mix := range mixes {
			m := &r.s.Mixes[mix]
			if i == 0 {
				fits = whole(m) && m.From.Ref == ""
				v["at"] = []string{fill.Figure(m.From.Number)}
				continue
			}
			at, ok := sets(m)
			if fits = fits && ok && m.FadeS == 0; !fits {
				break
			}
			b, item := r.block(*m.When, "above")
			if fits = b != nil && r.serves(item, setup.IsMix.At(mix)); !fits {
				break
			}
			level := b.Spec.(*setup.Level)
			fits = level.Hysteresis == margin && math.Abs(level.Level-spaced(i, n+1)-margin/2) < 1e-6 &&
				(i == 1 || v.One("lever") == level.Of.Ref) && r.isLever(level.Of.Ref)
			v["lever"] = []string{level.Of.Ref}
			v["at"] = append(v["at"], fill.Figure(at))
			roles[fmt.Sprint("zone ", i)], roles[fmt.Sprint("mix ", i)] = item, setup.IsMix.At(mix)
		}
		if fits {
			r.take(setup.IsMix.At(mixes[0]), v, roles).title = r.s.OutputLabel(out)
		}
	}
}

func (r *reader) isLever(id string) bool {
	at := r.s.Item(setup.ID(id))
	return at.Kind == setup.IsControl && r.s.Transmitter.Controls[at.Index].Axis != nil
}
