package mixing

import (
	"fmt"
	"math"
	"slices"
	"strings"

	"axtren/core/fill"
	"axtren/core/setup"
	"axtren/core/signal"
	"axtren/core/words"
)

// pumpKind: a pump runs while any of its valves is open, and some time longer. A valve is open while it is
// asked for more than a little either way.
func pumpKind() *schemeKind {
	return &schemeKind{key: "pump", title: "A pump on demand",
		does: "It runs while any of its valves is open, and some time longer.",
		places: []fill.Place{{Key: "pump", Label: "The pump", Kind: "one", Of: "output"},
			{Key: "valves", Label: "Its valves", Kind: "many", Of: "output"},
			{Key: "open", Label: "A valve counts as open beyond", Kind: "number", Unit: "%", Least: 1, Most: 90,
				Usual: []string{"8"}},
			{Key: "run_on", Label: "It runs on for", Kind: "number", Unit: "s", Least: 0, Most: 60,
				Usual: []string{"1"}},
			{Key: "power", Label: "It runs at", Kind: "number", Unit: "%", Least: 1, Most: 100,
				Usual: []string{"100"}}},
		find: findPumps, write: writePump,
		says: func(s *setup.Setup, v fill.Values) string {
			return fmt.Sprintf("%s runs at %s %% while any of %s is asked for more than %s %% "+
				"either way, and %s s longer.",
				lineName(s, v.One("pump")), v.One("power"), labels(s, v["valves"]), v.One("open"), v.One("run_on"))
		}}
}

func writePump(w *schemer) error {
	pump, open := w.One("pump"), w.Number("open")
	stops := stopsAt(w.s(), w.output("pump"))
	if err := w.fresh("", pump); err != nil {
		return err
	}
	var opened []any
	for _, valve := range w.Values["valves"] {
		margin := min(open/2, 2) // it is shut again a little further in
		id, err := w.block(valve+"_shut", w.label(valve)+" shut", "between", "of", valve+".asked", "from",
			margin-open,
			"to", open-margin, "hysteresis", margin)
		if err != nil {
			return err
		}
		opened = append(opened, "not "+id)
	}
	wanted, err := w.block(pump+"_wanted", w.label(pump)+" wanted", "or", "in", opened)
	if err != nil {
		return err
	}
	runs, err := w.block(pump+"_runs", w.label(pump)+" runs", "tof", "in", wanted, "for_s", w.Number("run_on"))
	if err != nil {
		return err
	}
	on := w.Number("power")
	if stops > 0 || stops == 0 && w.s().Outputs[w.output("pump")].Reverse {
		on = -on
	}
	return w.mix(pump, runs, "gain", (on-stops)/2, "bias", (on+stops)/2) // a block is −100 or +100
}

// stopsAt gives what an output has to be asked for so that what it drives stands still: −100, 0 or +100
// percent.
func stopsAt(s *setup.Setup, output int) float64 {
	turned := 1.0
	if s.Outputs[output].Reverse {
		turned = -1
	}
	for _, i := range s.Drives(output) {
		d := &s.Devices[i]
		switch on := d.OnOff(); {
		case on != nil && on.TurnsOn == "below":
			return turned * 100
		case on != nil:
			return turned * -100
		}
		if esc, ok := d.Spec.(*setup.Esc); ok {
			at := s.Transmitter.Pulse.Percent(esc.LearnedUS.Neutral)
			if math.Abs(at) > 50 {
				return turned * math.Copysign(100, at)
			}
		}
	}
	return 0
}

func findPumps(s *setup.Setup) (list []found) {
	for i := range s.Outputs {
		mixes := s.MixesTo(i)
		if len(mixes) != 1 {
			continue
		}
		m := &s.Mixes[mixes[0]]
		runs := blockOf(s, m.From.Ref, "tof")
		if runs == nil || m.Gain.Split || m.When != nil || m.Shape != "plain" {
			continue
		}
		timer := runs.Spec.(*setup.Timer)
		wanted := blockOf(s, string(timer.In), "or")
		if wanted == nil {
			continue
		}
		f := found{mixes: mixes, helps: []setup.ID{runs.ID, wanted.ID}}
		var valves []string
		open := 0.0
		for _, in := range wanted.Spec.(*setup.Gate).In {
			name, not := strings.CutPrefix(string(in), "not ")
			shut := blockOf(s, name, "between")
			if shut == nil || !not {
				valves = nil
				break
			}
			within := shut.Spec.(*setup.Between)
			valve, beyond := askedOf(s, within.Of), within.To+within.Hysteresis
			if valve == "" || within.From != -within.To || open != 0 && open != beyond {
				valves = nil
				break
			}
			open = beyond
			valves, f.helps = append(valves, valve), append(f.helps, shut.ID)
		}
		if valves == nil {
			continue
		}
		f.values = fill.Values{"pump": {string(s.Outputs[i].ID)}, "valves": valves, "open": {fill.Figure(open)},
			"run_on": {fill.Figure(timer.ForS)}, "power": {fill.Figure(math.Abs(m.Gain.Pos + m.Bias))}}
		list = append(list, f)
	}
	return list
}

// pivotKind: how much a pair turns while it does not drive.
func pivotKind() *schemeKind {
	return &schemeKind{key: "pivot", title: "Turning on the spot",
		does: "Held back, or not allowed, while the drive is in its middle.",
		places: []fill.Place{{Key: "pair", Label: "The pair", Kind: "one", Of: "pair"},
			{Key: "near", Label: "It stands while the drive is within", Kind: "number", Unit: "%", Least: 1, Most: 60,
				Usual: []string{"10"}},
			{Key: "left", Label: "Then the turn counts for", Kind: "number", Unit: "%", Least: 0,
				Most: 99, Usual: []string{"0"}}},
		find: findPivots, write: writePivot, clear: clearPivot,
		says: func(s *setup.Setup, v fill.Values) string {
			pair := labels(s, strings.Fields(v.One("pair")))
			if v.Number("left") == 0 {
				return fmt.Sprintf("%s do not turn on the spot: while the drive is within %s %% of its middle, the turn "+
					"counts for nothing.", pair, v.One("near"))
			}
			return fmt.Sprintf("%s turn gently on the spot: while the drive is within %s %% of its "+
				"middle, the turn counts "+
				"for %s %%.", pair, v.One("near"), v.One("left"))
		}}
}

// pairOf gives a pair by its two outputs; nil for none that one stick drives.
func pairOf(s *setup.Setup, outputs string) *Pair {
	for _, p := range Find(s) {
		if p.First+" "+p.Second == outputs && (p.Choice.Way == OneStick || p.Choice.Way == Both) {
			return &p
		}
	}
	return nil
}

func writePivot(w *schemer) error {
	p := pairOf(w.s(), w.One("pair"))
	hand := control(w.s(), p.Choice.Drive)
	near := w.Number("near")
	still, err := w.block(hand+"_middle", name(w.s(), hand)+" in the middle", "between", "of", hand,
		"from", -near,
		"to", near, "hysteresis", min(near/2, 2))
	if err != nil {
		return err
	}
	turn := p.Choice.Turn
	if demandOf(w.s(), turn) == nil {
		if turn, err = GiveFeel(&w.Draft, turn, p.First, p.Second); err != nil {
			return err
		}
	}
	return w.Change(fmt.Sprintf("/demands/%d", w.s().Item(setup.ID(turn)).Index), func(feel *setup.Node) {
		list := &setup.Node{Kind: setup.List, Items: []*setup.Node{setup.GroupNode("when", still, "rate",
			w.Number("left"))}}
		if had := feel.Get("rates"); had != nil {
			list.Items = append(list.Items, had.Items...)
		}
		_ = feel.Put("rates", list) // it is a group
	})
}

// pivotRate gives the block and the place of the rate by which a pair is held back; nil for none.
func pivotRate(s *setup.Setup, p *Pair) (still *setup.Block, at int) {
	turn := demandOf(s, p.Choice.Turn)
	if turn == nil {
		return nil, 0
	}
	for k, r := range turn.Rates {
		block := blockOf(s, string(r.When), "between")
		if block == nil {
			continue
		}
		of := block.Spec.(*setup.Between)
		if of.From == -of.To && control(s, of.Of.Ref) == control(s, p.Choice.Drive) {
			return block, k
		}
	}
	return nil, 0
}

func findPivots(s *setup.Setup) (list []found) {
	for _, p := range Find(s) {
		if p.Kind == Axles || p.Choice.Way != OneStick && p.Choice.Way != Both {
			continue
		}
		block, at := pivotRate(s, &p)
		if block == nil {
			continue
		}
		list = append(list, found{helps: []setup.ID{block.ID},
			values: fill.Values{"pair": {p.First + " " + p.Second},
				"near": {fill.Figure(block.Spec.(*setup.Between).To)},
				"left": {fill.Figure(demandOf(s, p.Choice.Turn).Rates[at].Rate)}}})
	}
	return list
}

func clearPivot(w *schemer, f *found) error {
	p := pairOf(w.s(), f.values.One("pair"))
	_, at := pivotRate(w.s(), p)
	return w.Change(fmt.Sprintf("/demands/%d", w.s().Item(setup.ID(p.Choice.Turn)).Index),
		func(feel *setup.Node) {
			rates := feel.Get("rates")
			list := &setup.Node{Kind: setup.List, Items: slices.Delete(slices.Clone(rates.Items), at, at+1)}
			if len(list.Items) == 0 {
				_ = feel.Remove("rates") // it is there
				return
			}
			_ = feel.Put("rates", list) // it is a group
		})
}

// The ways of four-wheel steering.
const (
	frontOnly = "front"
	against   = "against" // rear wheels the other way: a small circle
	along     = "along"   // rear wheels the same way: sideways
	rearOnly  = "rear"
)

// fourWheelKind: how the rear wheels steer, by the position of a switch.
func fourWheelKind() *schemeKind {
	ways := []fill.Choice{{Value: frontOnly, Label: "only the front wheels steer"}, {Value: against,
		Label: "the rear wheels go against them"},
		{Value: along, Label: "the rear wheels go with them"}, {Value: rearOnly,
			Label: "only the rear wheels steer"}}
	return &schemeKind{key: "four_wheel", title: "Four-wheel steering by a switch",
		does: "Each position of a switch is a way to steer.",
		places: []fill.Place{{Key: "front", Label: "The front wheels", Kind: "one", Of: "output"},
			{Key: "rear", Label: "The rear wheels", Kind: "one", Of: "output"},
			{Key: "steer", Label: "Steered by", Kind: "one", Of: "source"},
			{Key: "switch", Label: "The switch", Kind: "one", Of: "switch"},
			{Key: "ways", Label: "Its positions", Kind: "positions", Choices: ways},
			{Key: "share", Label: "The rear wheels turn by", Kind: "number", Unit: "%", Least: 1,
				Most: 150, Usual: []string{"100"}},
			{Key: "fade", Label: "They go over within", Kind: "number", Unit: "s", Least: 0, Most: 10,
				Usual: []string{"0.5"}}},
		find: findFourWheels, write: writeFourWheel,
		says: func(s *setup.Setup, v fill.Values) string {
			var list []string
			for k, at := range fill.PositionsOf(s, v.One("switch")) {
				way := ways[slices.IndexFunc(ways, func(c fill.Choice) bool { return c.Value == v["ways"][k] })]
				list = append(list, at+": "+way.Label)
			}
			return fmt.Sprintf("%s and %s by %s. %s.", lineName(s, v.One("front")), lineName(s, v.One("rear")),
				s.Label(s.Item(setup.ID(v.One("switch")))), words.Capital(strings.Join(list, "; ")))
		}}
}

func writeFourWheel(w *schemer) error {
	front, rear, steer, by := w.One("front"), w.One("rear"), w.One("steer"), w.One("switch")
	if err := w.fresh(steer, front, rear); err != nil {
		return err
	}
	share := w.Number("share")
	more := func(gain float64, when string) []any {
		list := []any{"gain", gain}
		if when != "" {
			list = append(list, "when", when)
			if fade := w.Number("fade"); fade > 0 {
				list = append(list, "fade_s", fade)
			}
		}
		return list
	}
	positions := w.s().Transmitter.Controls[w.s().Item(setup.ID(by)).Index].Switch.Positions
	always := !slices.Contains(w.Values["ways"], rearOnly)
	if always {
		if err := w.mix(front, steer); err != nil {
			return err
		}
	}
	for k, way := range w.Values["ways"] {
		when := by + "." + string(positions[k])
		if !always && way != rearOnly {
			if err := w.mix(front, steer, more(100, when)...); err != nil {
				return err
			}
		}
		if way == frontOnly {
			continue
		}
		gain := -share
		if way == along {
			gain = share
		}
		if err := w.mix(rear, steer, more(gain, when)...); err != nil {
			return err
		}
	}
	return nil
}

func findFourWheels(s *setup.Setup) (list []found) {
	for rear := range s.Outputs {
		for front := range s.Outputs {
			if front == rear {
				continue
			}
			if f, ok := fourWheelOf(s, front, rear); ok {
				list = append(list, f)
			}
		}
	}
	return list
}

// fourWheelOf reads two outputs as four-wheel steering by a switch.
func fourWheelOf(s *setup.Setup, front, rear int) (f found, ok bool) {
	rears := s.MixesTo(rear)
	if len(rears) == 0 {
		return f, false
	}
	steer, by, fade, share := s.Mixes[rears[0]].From.Ref, -1, 0.0, 0.0
	ways := map[int]string{}
	// each mix is one gain of the steering while a switch is at a position
	reads := func(i int, take func(position int, gain float64) bool) bool {
		m := &s.Mixes[i]
		if m.When == nil || m.From.Ref != steer || !adds(m) {
			return false
		}
		at, err := s.Fact(*m.When)
		if err != nil || at.Kind != setup.FactPosition || at.Not || by >= 0 && by != at.Index {
			return false
		}
		by, fade = at.Index, m.FadeS
		return take(at.Sub, m.Gain.Pos)
	}
	for _, i := range rears {
		if !reads(i, func(position int, gain float64) bool {
			if ways[position] != "" || gain == 0 || share != 0 && share != math.Abs(gain) {
				return false
			}
			share = math.Abs(gain)
			ways[position] = against
			if gain > 0 {
				ways[position] = along
			}
			return true
		}) {
			return f, false
		}
	}
	var fronts []int
	steered := map[int]bool{}
	for _, i := range s.MixesTo(front) {
		if s.Mixes[i].From.Ref == steer {
			fronts = append(fronts, i)
		}
	}
	switch {
	case len(fronts) == 1 && bare(&s.Mixes[fronts[0]]) && s.Mixes[fronts[0]].Gain.Pos == 100:
		for k := range s.Transmitter.Controls[by].Switch.Positions {
			steered[k] = true
		}
	case len(fronts) == 0:
		return f, false
	default:
		for _, i := range fronts {
			if !reads(i, func(position int, gain float64) bool {
				steered[position] = true
				return gain == 100
			}) {
				return f, false
			}
		}
	}
	c := s.Transmitter.Controls[by]
	v := fill.Values{"front": {string(s.Outputs[front].ID)}, "rear": {string(s.Outputs[rear].ID)},
		"steer":  {steer},
		"switch": {string(c.ID)}, "share": {fill.Figure(share)}, "fade": {fill.Figure(fade)}}
	for k := range c.Switch.Positions {
		way := ways[k]
		switch {
		case way == "" && steered[k]:
			way = frontOnly
		case way == against && !steered[k]:
			way = rearOnly
		case way == "" || !steered[k]:
			return f, false
		}
		v["ways"] = append(v["ways"], way)
	}
	return found{values: v, mixes: append(slices.Clone(fronts), rears...)}, true
}

// screwsKind: a stick that steers the rudder, and helps with two screws.
func screwsKind() *schemeKind {
	return &schemeKind{key: "screws", title: "Twin screws with a rudder",
		does: "The helm moves the rudder, and beyond some way of it the screws help.",
		places: []fill.Place{{Key: "port", Label: "The port screw", Kind: "one", Of: "output"},
			{Key: "starboard", Label: "The starboard screw", Kind: "one", Of: "output"},
			{Key: "rudder", Label: "The rudder", Kind: "one", Of: "output"},
			{Key: "ahead", Label: "Ahead and astern by", Kind: "one", Of: "source"},
			{Key: "helm", Label: "The helm", Kind: "one", Of: "source"},
			{Key: "from", Label: "The screws help from this much helm on", Kind: "number", Unit: "%",
				Least: 0, Most: 50,
				Usual: []string{"20"}},
			{Key: "help", Label: "They help by", Kind: "number", Unit: "%", Least: 1, Most: 150,
				Usual: []string{"50"}}},
		find: findScrews, write: writeScrews,
		says: func(s *setup.Setup, v fill.Values) string {
			from := ""
			if v.Number("from") > 0 {
				from = fmt.Sprintf(" from %s %% of it on", v.One("from"))
			}
			return fmt.Sprintf("%s moves %s, and %s help by %s %%%s.", words.Capital(name(s, v.One("helm"))),
				lineName(s, v.One("rudder")), labels(s, []string{v.One("port"), v.One("starboard")}), v.One("help"), from)
		}}
}

func writeScrews(w *schemer) error {
	port, starboard, helm, ahead := w.One("port"), w.One("starboard"), w.One("helm"), w.One("ahead")
	if w.hand(setup.Value{Ref: ahead}) == w.hand(setup.Value{Ref: helm}) {
		return setup.Refused("scheme.helm", name(w.s(), helm), "drives ahead and astern already",
			"choose two controls that a hand can move apart")
	}
	// the rudder keeps its own feel of the helm, where it has one
	rudder := w.output("rudder")
	moved := func(i int) bool { return w.hand(w.s().Mixes[i].From) == w.hand(setup.Value{Ref: helm}) }
	if !slices.ContainsFunc(w.s().MixesTo(rudder), moved) {
		if err := w.mix(w.One("rudder"), helm); err != nil {
			return err
		}
	}
	for _, source := range []string{ahead, helm} {
		if err := w.fresh(source, port, starboard); err != nil {
			return err
		}
	}
	turn := helm
	if from := w.Number("from"); from > 0 {
		var err error
		if turn, err = w.demand(helm+"_help", name(w.s(), helm)+", for the screws", helm, "deadband",
			from); err != nil {
			return err
		}
	}
	help := w.Number("help")
	for _, one := range []struct {
		to   string
		gain float64
	}{{port, help}, {starboard, -help}} {
		if err := w.mix(one.to, ahead); err != nil {
			return err
		}
		if err := w.mix(one.to, turn, "gain", one.gain); err != nil {
			return err
		}
	}
	return nil
}

func findScrews(s *setup.Setup) (list []found) {
	for _, p := range Find(s) {
		c := &p.Choice
		if p.Kind == Axles || c.Way != OneStick || c.DriveGain != 100 || c.TurnGain <= 0 {
			continue
		}
		from, source := 0.0, c.Turn
		var helps []setup.ID
		if d := demandOf(s, c.Turn); d != nil && d.Deadband != 0 {
			only := setup.Demand{ID: d.ID, Label: d.Label, From: d.From, Deadband: d.Deadband, Rate: 100}
			if fmt.Sprint(only) == fmt.Sprint(*d) {
				from, source, helps = d.Deadband, d.From.Ref, []setup.ID{d.ID}
			}
		}
		helm := control(s, c.Turn)
		for i, o := range s.Outputs {
			if string(o.ID) == p.First || string(o.ID) == p.Second || !rudder(s, i) {
				continue
			}
			mixes := s.MixesTo(i)
			if len(mixes) == 0 || control(s, s.Mixes[mixes[0]].From.Ref) != helm {
				continue
			}
			f := found{helps: helps, values: fill.Values{"port": {p.First}, "starboard": {p.Second},
				"rudder": {string(o.ID)},
				"ahead":  {c.Drive}, "helm": {source}, "from": {fill.Figure(from)}, "help": {fill.Figure(c.TurnGain)}}}
			for _, output := range []string{p.First, p.Second} {
				f.mixes = append(f.mixes, s.MixesTo(s.Item(setup.ID(output)).Index)...)
			}
			list = append(list, f)
			break
		}
	}
	return list
}

// rudder tells whether an output moves what steers by itself: a servo that is of no pair.
func rudder(s *setup.Setup, output int) bool {
	return slices.ContainsFunc(s.Drives(output), func(i int) bool {
		_, servo := s.Devices[i].Spec.(*setup.Servo)
		return servo
	})
}

// splitKind: a lever that shares a brake or a throttle between front and rear.
func splitKind() *schemeKind {
	return &schemeKind{key: "split", title: "Shared out by a dial",
		does: "A brake or a throttle goes to the front, to the rear, or to both, as a dial says.",
		places: []fill.Place{{Key: "front", Label: "To the − side of the dial", Kind: "one", Of: "output"},
			{Key: "rear", Label: "To the + side", Kind: "one", Of: "output"},
			{Key: "source", Label: "What is shared out", Kind: "one", Of: "source"},
			{Key: "dial", Label: "The dial", Kind: "one", Of: "lever"}},
		find: func(s *setup.Setup) []found { return findShares(s, true) },
		write: func(w *schemer) error {
			return writeShares(w, w.One("front"), w.One("rear"), w.One("source"), w.One("dial"), 100)
		},
		says: func(s *setup.Setup, v fill.Values) string {
			return fmt.Sprintf("%s goes to %s and to %s: all of it to both while %s is in its "+
				"middle, and to one alone at "+
				"its ends.", words.Capital(name(s, v.One("source"))), lineName(s, v.One("front")),
				lineName(s, v.One("rear")), s.Label(s.Item(setup.ID(v.One("dial")))))
		}}
}

// brakesKind: two brakes of which the outer one is let go as the model is steered.
func brakesKind() *schemeKind {
	return &schemeKind{key: "brakes", title: "Brakes that help to turn",
		does: "While the model is steered, the brake of the outer side brakes less.",
		places: []fill.Place{{Key: "left", Label: "The left brake", Kind: "one", Of: "output"},
			{Key: "right", Label: "The right brake", Kind: "one", Of: "output"},
			{Key: "source", Label: "The brake lever", Kind: "one", Of: "source"},
			{Key: "steer", Label: "Steered by", Kind: "one", Of: "lever"},
			{Key: "less", Label: "At full steering the outer one brakes less by", Kind: "number", Unit: "%", Least: 1,
				Most: 99, Usual: []string{"60"}}},
		find: func(s *setup.Setup) []found { return findShares(s, false) },
		write: func(w *schemer) error {
			return writeShares(w, w.One("left"), w.One("right"), w.One("source"), w.One("steer"), w.Number("less"))
		},
		says: func(s *setup.Setup, v fill.Values) string {
			return fmt.Sprintf("%s works %s and %s; steered by %s, the outer one brakes less, by %s %% at the end.",
				words.Capital(name(s, v.One("source"))), lineName(s, v.One("left")), lineName(s, v.One("right")),
				s.Label(s.Item(setup.ID(v.One("steer")))), v.One("less"))
		}}
}

// writeShares brings one source to two outputs, each less, by so much at the end, the further a lever is
// away from its side. What rests at −100 is shared out from there.
func writeShares(w *schemer, minus, plus, source, lever string, less float64) error {
	if w.hand(setup.Value{Ref: source}) == lever {
		return setup.Refused("scheme.source", name(w.s(), source), "is the lever that shares it out already",
			"choose two controls that a hand can move apart")
	}
	if err := w.fresh(source, minus, plus); err != nil {
		return err
	}
	low, err := restsLow(w.s(), source)
	if err != nil {
		return err
	}
	for _, side := range []struct {
		output string
		curve  []any
	}{{minus, curveNode(100, 100, 100-less)}, {plus, curveNode(100-less, 100, 100)}} {
		share, err := w.demand(side.output+"_share", w.label(side.output)+", its share", lever, "curve", side.curve)
		if err != nil {
			return err
		}
		mixes := [][]any{{source}, {share, "combine", "times"}}
		if low {
			mixes = [][]any{{source, "gain", 50, "bias", 50}, {share, "combine", "times"},
				{100, "gain", 200, "combine", "times"}, {0, "bias", -100}}
		}
		for _, m := range mixes {
			if err := w.mix(side.output, m[0], m[1:]...); err != nil {
				return err
			}
		}
	}
	return nil
}

func curveNode(low, middle, high float64) []any {
	return []any{[]any{-100, low}, []any{0, middle}, []any{100, high}}
}

// restsLow tells whether a source stands at its low end with hands off.
func restsLow(s *setup.Setup, source string) (bool, error) {
	p, err := signal.Compile(s)
	if err != nil {
		return false, setup.Refused("scheme.source", source, "cannot be played", "break the ring that it is in")
	}
	st := p.PowerOn()
	p.Step(st, p.Rest())
	item := s.Item(setup.ID(source))
	slot := p.NumberSlot(item.Index)
	if item.Kind == setup.IsDemand {
		slot = p.Demands[item.Index].Out
	}
	return st.At(slot) < -50, nil
}

// shareOf reads how much less of a source comes to an output the further a lever is to one side: of the −
// side where minus is true.
func shareOf(s *setup.Setup, output int, minus bool) (source, lever string, less float64, f found, ok bool) {
	mixes := s.MixesTo(output)
	for k := 0; k+1 < len(mixes); k++ {
		first, second := &s.Mixes[mixes[k]], &s.Mixes[mixes[k+1]]
		d := demandOf(s, second.From.Ref)
		if second.Combine != "times" || d == nil || len(d.Curve) != 3 || d.Rate != 100 || d.Expo != 0 {
			continue
		}
		low, middle, high := d.Curve[0], d.Curve[1], d.Curve[2]
		if !minus {
			low[1], high[1] = high[1], low[1]
		}
		if low[0] != -100 || middle != (setup.Point{0, 100}) || high[0] != 100 || low[1] != 100 || high[1] >= 100 {
			continue
		}
		f = found{mixes: []int{mixes[k], mixes[k+1]}, helps: []setup.ID{d.ID}}
		if !bare(first) && k+3 < len(mixes) { // from −100 up
			f.mixes = append(f.mixes, mixes[k+2], mixes[k+3])
		}
		return first.From.Ref, control(s, string(d.ID)), 100 - high[1], f, true
	}
	return "", "", 0, f, false
}

// findShares finds two outputs that share a source out: by a dial, all the way, or by what steers.
func findShares(s *setup.Setup, dial bool) (list []found) {
	for a := range s.Outputs {
		source, lever, less, f, ok := shareOf(s, a, true)
		if !ok || (less == 100) != dial {
			continue
		}
		for b := range s.Outputs {
			other, by, same, g, ok := shareOf(s, b, false)
			if !ok || a == b || other != source || by != lever || same != less {
				continue
			}
			f.mixes, f.helps = append(f.mixes, g.mixes...), append(f.helps, g.helps...)
			first, second := string(s.Outputs[a].ID), string(s.Outputs[b].ID)
			f.values = fill.Values{"front": {first}, "rear": {second}, "source": {source}, "dial": {lever}}
			if !dial {
				f.values = fill.Values{"left": {first}, "right": {second}, "source": {source}, "steer": {lever},
					"less": {fill.Figure(less)}}
			}
			list = append(list, f)
			break
		}
	}
	return list
}

// diveKind: planes that go to rise while a tank is blown.
func diveKind() *schemeKind {
	return &schemeKind{key: "dive", title: "Planes that follow the ballast",
		does: "While the tank is asked to blow, the planes go to rise, whatever the stick asks.",
		places: []fill.Place{{Key: "tank", Label: "The tank", Kind: "one", Of: "output"},
			{Key: "planes", Label: "The planes", Kind: "many", Of: "output"},
			{Key: "blows", Label: "It blows while it is asked for less than", Kind: "number", Unit: "%", Least: -100,
				Most: 99, Usual: []string{"-50"}},
			{Key: "rise", Label: "Rise is at", Kind: "number", Unit: "%", Least: -100, Most: 100,
				Usual: []string{"100"}},
			{Key: "fade", Label: "They go there within", Kind: "number", Unit: "s", Least: 0, Most: 10,
				Usual: []string{"1"}}},
		find: findDives, write: writeDive,
		says: func(s *setup.Setup, v fill.Values) string {
			return fmt.Sprintf("While %s is asked for less than %s %%, %s go to %s %%, their rise, within %s s.",
				lineName(s, v.One("tank")), words.SignedShort(v.Number("blows")), labels(s, v["planes"]),
				words.SignedShort(v.Number("rise")), v.One("fade"))
		}}
}

func writeDive(w *schemer) error {
	tank := w.One("tank")
	blown, err := w.block(tank+"_blows", w.label(tank)+" blows", "below", "of", tank+".asked", "level",
		w.Number("blows"), "hysteresis", 5)
	if err != nil {
		return err
	}
	for _, plane := range w.Values["planes"] {
		more := []any{"combine", "instead", "when", blown}
		if fade := w.Number("fade"); fade > 0 {
			more = append(more, "fade_s", fade)
		}
		if err := w.mix(plane, w.Number("rise"), more...); err != nil {
			return err
		}
	}
	return nil
}

func findDives(s *setup.Setup) (list []found) {
	for i := range s.Logic {
		block := blockOf(s, string(s.Logic[i].ID), "below")
		if block == nil {
			continue
		}
		level := block.Spec.(*setup.Level)
		tank := askedOf(s, level.Of)
		if tank == "" {
			continue
		}
		f := found{helps: []setup.ID{block.ID}, values: fill.Values{"tank": {tank},
			"blows": {fill.Figure(level.Level)}}}
		for k := range s.Mixes {
			m := &s.Mixes[k]
			rise := fill.Figure(m.From.Number)
			if m.When == nil || string(*m.When) != string(block.ID) || m.From.Ref != "" || m.Combine != "instead" ||
				f.values.One("rise") != "" && f.values.One("rise") != rise {
				continue
			}
			f.mixes = append(f.mixes, k)
			f.values["planes"] = append(f.values["planes"], string(m.To))
			f.values["rise"], f.values["fade"] = []string{rise}, []string{fill.Figure(m.FadeS)}
		}
		if f.mixes != nil {
			list = append(list, f)
		}
	}
	return list
}

// flowKind: a pump that runs as much as its valves are open, the widest of them.
func flowKind() *schemeKind {
	return &schemeKind{key: "flow", title: "A pump that gives as much as is asked",
		does: "It runs as fast as the widest of its valves is open, and stands while none is.",
		places: []fill.Place{{Key: "pump", Label: "The pump", Kind: "one", Of: "output"},
			{Key: "valves", Label: "Its valves", Kind: "many", Of: "output"}},
		find: findFlows,
		write: func(w *schemer) error {
			pump := w.One("pump")
			gain, bias, widest := flowOf(w.s(), w.output("pump"))
			if err := w.fresh("", pump); err != nil {
				return err
			}
			for k, valve := range w.Values["valves"] {
				more := []any{"shape", "abs", "gain", gain, "bias", bias}
				if k > 0 {
					more = append(more, "combine", widest)
				}
				if err := w.mix(pump, valve+".asked", more...); err != nil {
					return err
				}
			}
			return nil
		},
		says: func(s *setup.Setup, v fill.Values) string {
			return fmt.Sprintf("%s runs as fast as the widest of %s is open.", lineName(s, v.One("pump")),
				labels(s, v["valves"]))
		}}
}

// flowOf gives gain and bias by which how wide a valve is open, 0 to 100, becomes what a pump is asked
// for, and how the widest of several is taken.
func flowOf(s *setup.Setup, pump int) (gain, bias float64, widest string) {
	stops := stopsAt(s, pump)
	full := 100.0
	if stops > 0 || stops == 0 && s.Outputs[pump].Reverse {
		full = -100
	}
	widest = "greatest"
	if full < stops {
		widest = "least"
	}
	return full - stops, stops, widest
}

func findFlows(s *setup.Setup) (list []found) {
	for i := range s.Outputs {
		gain, bias, widest := flowOf(s, i)
		var valves []string
		mixes := s.MixesTo(i)
		for k, at := range mixes {
			m := &s.Mixes[at]
			valve := askedOf(s, m.From)
			as := "add"
			if k > 0 {
				as = widest
			}
			wide := m.Shape == "abs" && !m.Gain.Split && m.Gain.Pos == gain && m.Bias == bias
			if valve == "" || !wide || m.When != nil || m.Combine != as {
				valves = nil
				break
			}
			valves = append(valves, valve)
		}
		if valves != nil {
			list = append(list, found{mixes: mixes, values: fill.Values{"pump": {string(s.Outputs[i].ID)},
				"valves": valves}})
		}
	}
	return list
}

// planesKind: two pairs of planes on one stick, of which the stern ones go the other way.
func planesKind() *schemeKind {
	return &schemeKind{key: "planes", title: "Fore and stern planes on one stick",
		does: "The stern planes go against the fore planes, so that the bow goes up or down.",
		places: []fill.Place{{Key: "fore", Label: "The fore planes", Kind: "one", Of: "output"},
			{Key: "stern", Label: "The stern planes", Kind: "one", Of: "output"},
			{Key: "stick", Label: "Moved by", Kind: "one", Of: "source"},
			{Key: "share", Label: "The stern planes go by", Kind: "number", Unit: "%", Least: 1,
				Most: 150, Usual: []string{"100"}}},
		find: findPlanes,
		write: func(w *schemer) error {
			stick := w.One("stick")
			if err := w.fresh(stick, w.One("fore"), w.One("stern")); err != nil {
				return err
			}
			if err := w.mix(w.One("fore"), stick); err != nil {
				return err
			}
			return w.mix(w.One("stern"), stick, "gain", -w.Number("share"))
		},
		says: func(s *setup.Setup, v fill.Values) string {
			return fmt.Sprintf("%s moves %s, and %s against them by %s %%.", words.Capital(name(s, v.One("stick"))),
				lineName(s, v.One("fore")), lineName(s, v.One("stern")), v.One("share"))
		}}
}

func findPlanes(s *setup.Setup) (list []found) {
	for stern := range s.Outputs {
		for fore := range s.Outputs {
			if fore == stern || !isPlane(s, fore) || !isPlane(s, stern) {
				continue
			}
			a, b := s.MixesTo(fore), s.MixesTo(stern)
			if len(a) == 0 || len(b) == 0 {
				continue
			}
			first, second := &s.Mixes[a[0]], &s.Mixes[b[0]]
			if !bare(first) || !bare(second) || first.Gain.Pos != 100 || second.Gain.Pos >= 0 ||
				first.From.Ref != second.From.Ref || control(s, first.From.Ref) == "" {
				continue
			}
			list = append(list, found{mixes: []int{a[0], b[0]},
				values: fill.Values{"fore": {string(s.Outputs[fore].ID)},
					"stern": {string(s.Outputs[stern].ID)}, "stick": {first.From.Ref},
					"share": {fill.Figure(-second.Gain.Pos)}}})
		}
	}
	return list
}

// isPlane tells whether the picture shows an output moving a plane.
func isPlane(s *setup.Setup, output int) bool {
	return s.Stage != nil && slices.ContainsFunc(s.Drives(output), func(i int) bool {
		return slices.ContainsFunc(s.Stage.Parts, func(part setup.StagePart) bool {
			return part.Part == "plane" && part.Device != nil && *part.Device == s.Devices[i].ID
		})
	})
}
