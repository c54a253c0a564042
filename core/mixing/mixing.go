// Package mixing reads and writes how two lines that belong together are driven:
// a pair of tracks, of screws, of steered axles. One stick for both, a lever for
// each, or both at once is a choice in words; Write makes the mixes of it, and Find
// knows them again, whoever wrote them.
//
// A Field is what a pair does over the whole square of a stick, under each rule for
// more than there is (docs/format.md, section 7).
package mixing

import (
	"fmt"
	"math"
	"slices"

	"axtren/core/setup"
	"axtren/core/words"
)

// The ways to drive a pair.
const (
	OneStick = "one_stick" // first and second from drive plus and minus turn; of axles, both from one control
	Levers   = "levers"    // each from a lever of its own
	Both     = "both"      // one stick, and a lever each added to it
	Own      = "own"       // mixes of another shape
)

// The kinds of pair.
const (
	Tracks = "tracks"
	Screws = "screws"
	Axles  = "axles"
	Lines  = "lines" // nothing is known of what hangs on them
)

// Choice is a way with what it takes: sources as the document has them, gains in
// percent.
type Choice struct {
	Way       string  `json:"way"`
	Drive     string  `json:"drive"` // of axles: not used
	Turn      string  `json:"turn"`
	Left      string  `json:"left"` // lever of the first
	Right     string  `json:"right"`
	DriveGain float64 `json:"drive_gain"`
	// of axles: of the second, as a part of the first; below 0 against it
	TurnGain  float64 `json:"turn_gain"`
	LeverGain float64 `json:"lever_gain"`
	// expo of the feel that the drive comes from; one is made where it comes from a bare control
	DriveSoft float64 `json:"drive_soft"`
	TurnSoft  float64 `json:"turn_soft"`
	Rule      string  `json:"rule"` // clip, scale, keep_turn; empty: no share
}

// Pair is two lines that belong together, as the document drives them.
type Pair struct {
	First   string   `json:"first"` // ids of the outputs
	Second  string   `json:"second"`
	Label   string   `json:"label"`
	Names   []string `json:"names"` // of first and second
	Kind    string   `json:"kind"`
	Choice  Choice   `json:"choice"`
	Words   string   `json:"words"`   // what it is, as a sum for each
	Across  string   `json:"across"`  // the control along x of the square
	Along   string   `json:"along"`   // along y
	Square  string   `json:"square"`  // which control lies along which side of the square
	Ways    []Way    `json:"ways"`    // to choose from
	Recipes []Recipe `json:"recipes"` // the same on sets that have other means
	Mixes   int      `json:"mixes"`   // how many mixes a new choice takes the place of

	Replaces string `json:"replaces"` // the same in words; empty where nothing is lost
}

// Source is a control or a demand that may drive a pair.
type Source struct {
	Ref   string  `json:"ref"`
	Label string  `json:"label"`
	Soft  float64 `json:"soft"` // its expo
}

// Sources lists the axes, and the demands that soften one.
func Sources(s *setup.Setup) []Source {
	list := []Source{}
	for i, d := range s.Demands {
		if src, err := s.Source(d.From); err == nil && src.Kind == setup.SourceControl &&
			s.Transmitter.Controls[src.Index].Axis != nil {
			list = append(list, Source{string(d.ID), fmt.Sprintf("%s, with expo (%s)", s.DemandLabel(i),
				s.ControlLabel(src.Index)), d.Expo})
		}
	}
	for i, c := range s.Transmitter.Controls {
		if c.Axis != nil {
			list = append(list, Source{string(c.ID), s.ControlLabel(i), 0})
		}
	}
	return list
}

// Find lists the pairs of a setup: what shares, what the stage shows as tracks,
// screws or steered axles, and what is driven by the same sources with one of them
// the other way.
func Find(s *setup.Setup) []Pair {
	pairs := []Pair{}
	seen := map[[2]int]bool{}
	add := func(a, b int, kind string) {
		key := [2]int{min(a, b), max(a, b)}
		if a == b || a < 0 || b < 0 || seen[key] {
			return
		}
		seen[key] = true
		pairs = append(pairs, read(s, a, b, kind))
	}
	for _, staged := range onStage(s) {
		add(staged.first, staged.second, staged.kind)
	}
	for _, sh := range s.Shares {
		if len(sh.Outputs) == 2 {
			add(s.Item(sh.Outputs[0]).Index, s.Item(sh.Outputs[1]).Index, Lines)
		}
	}
	for b := range s.Outputs {
		for a := range b {
			if way := read(s, a, b, Lines).Choice.Way; way == OneStick || way == Both {
				add(a, b, Lines)
			}
		}
	}
	return pairs
}

// staged is a pair as the stage has it.
type staged struct {
	first, second int
	kind          string
}

func onStage(s *setup.Setup) []staged {
	if s.Stage == nil {
		return nil
	}
	by := map[string][]int{}
	side := map[string][]float64{}
	for _, p := range s.Stage.Parts {
		if p.Device == nil || p.AtMM == nil || s.Item(*p.Device).Kind != setup.IsDevice {
			continue
		}
		kind, at := map[string]string{"track": Tracks, "screw": Screws, "axle": Axles}[p.Part], p.AtMM[1]
		if kind == Axles {
			at = -p.AtMM[0] // the front one first
		}
		out := s.DrivenBy(s.Item(*p.Device).Index)
		if kind != "" && out >= 0 {
			by[kind], side[kind] = append(by[kind], out), append(side[kind], at)
		}
	}
	var list []staged
	for _, kind := range []string{Tracks, Screws, Axles} {
		if outs := by[kind]; len(outs) == 2 {
			if side[kind][0] > side[kind][1] {
				outs[0], outs[1] = outs[1], outs[0]
			}
			list = append(list, staged{outs[0], outs[1], kind})
		}
	}
	return list
}

// plain lists what plain mixes add to an output, by source; ok is false where any
// mix does more than that.
func plain(s *setup.Setup, out int) (gains map[string]float64, order []string, ok bool) {
	gains = map[string]float64{}
	for _, k := range s.MixesTo(out) {
		m := &s.Mixes[k]
		from := m.From.String()
		if _, twice := gains[from]; twice || m.From.Ref == "" || m.When != nil || m.Bias != 0 ||
			m.Combine != "add" || m.Shape != "plain" || m.Gain.Pos != m.Gain.Neg {
			return nil, nil, false
		}
		gains[from] = m.Gain.Pos
		order = append(order, from)
	}
	return gains, order, true
}

// read knows the way of a pair again.
func read(s *setup.Setup, a, b int, kind string) Pair {
	p := Pair{First: string(s.Outputs[a].ID), Second: string(s.Outputs[b].ID), Kind: kind,
		Label:  s.OutputLabel(a) + " and " + s.OutputLabel(b),
		Names:  []string{s.OutputLabel(a), s.OutputLabel(b)},
		Choice: Choice{Way: Own, DriveGain: 100, TurnGain: 100, LeverGain: 100}}
	p.Mixes = len(s.MixesTo(a)) + len(s.MixesTo(b))
	if k := s.ShareOf(a); k >= 0 && k == s.ShareOf(b) && len(s.Shares[k].Outputs) == 2 {
		p.Choice.Rule = s.Shares[k].Rule
	}
	first, orderA, okA := plain(s, a)
	second, orderB, okB := plain(s, b)
	if okA && okB {
		way(&p.Choice, kind, first, second, orderA, orderB)
	}
	p.Choice.fill(s, kind)
	p.Choice.DriveSoft, p.Choice.TurnSoft = softness(s, p.Choice.Drive), softness(s, p.Choice.Turn)
	p.Words = sums(s, &p)
	p.Across, p.Along = axes(s, &p)
	p.Recipes = recipes(s, &p, a, b)
	p.Ways, p.Square, p.Replaces = ways(&p), square(s, &p), replaces(&p)
	return p
}

// way finds which way two sets of plain mixes are.
func way(c *Choice, kind string, first, second map[string]float64, orderA, orderB []string) {
	var both, left, right []string
	for _, from := range orderA {
		if _, shared := second[from]; shared {
			both = append(both, from)
		} else {
			left = append(left, from)
		}
	}
	for _, from := range orderB {
		if _, shared := first[from]; !shared {
			right = append(right, from)
		}
	}
	levers := len(left) == 1 && len(right) == 1 && first[left[0]] == second[right[0]]
	if levers {
		c.Left, c.Right, c.LeverGain = left[0], right[0], first[left[0]]
	}
	one := false
	switch {
	case kind == Axles && len(both) == 1 && first[both[0]] == 100:
		one = true
		c.Turn, c.TurnGain = both[0], second[both[0]]
	case kind != Axles && len(both) == 2:
		for i, drive := range both {
			turn := both[1-i]
			if first[drive] == second[drive] && first[turn] == -second[turn] && first[turn] != 0 && !one {
				one = true
				c.Drive, c.Turn, c.DriveGain, c.TurnGain = drive, turn, first[drive], first[turn]
			}
		}
	}
	switch {
	case one && len(left)+len(right) == 0:
		c.Way = OneStick
	case one && levers:
		c.Way = Both
	case kind == Axles && one && len(left) == 0 && len(right) == 1:
		c.Way, c.Right, c.LeverGain = Both, right[0], second[right[0]]
	case len(both) == 0 && levers:
		c.Way = Levers
	}
}

// softness gives the expo of a source that is a feel; 0 for a bare control.
func softness(s *setup.Setup, ref string) float64 {
	if item := s.Item(setup.ID(ref)); item.Kind == setup.IsDemand {
		return s.Demands[item.Index].Expo
	}
	return 0
}

// fill proposes sources where the way has none: axes that lie along the sticks.
func (c *Choice) fill(s *setup.Setup, kind string) {
	var along, across []string
	for _, one := range s.Transmitter.Controls {
		switch {
		case one.Axis == nil || one.Axis.Spring == "none":
		case one.Along == "x":
			across = append(across, string(one.ID))
		default:
			along = append(along, string(one.ID))
		}
	}
	// a control is proposed for one duty alone; where none is left, the person is asked
	free := func(ref string, besides ...string) bool {
		return !slices.ContainsFunc(besides, func(other string) bool {
			return other != "" &&
				control(s, other) == control(s, ref)
		})
	}
	pick := func(into *string, from []string, last bool, besides ...string) {
		if *into != "" {
			return
		}
		for i := range from {
			one := from[i]
			if last {
				one = from[len(from)-1-i]
			}
			if free(one, besides...) {
				*into = one
				return
			}
		}
	}
	pick(&c.Drive, append(slices.Clone(across), along...), true, c.Turn)
	pick(&c.Turn, append(slices.Clone(along), across...), true, c.Drive)
	var stick []string
	if c.Way != Levers {
		stick = []string{c.Drive, c.Turn}
		if kind == Axles {
			stick = stick[1:]
		}
	}
	pick(&c.Left, along, false, append(stick, c.Right)...)
	pick(&c.Right, along, false, append(stick, c.Left)...)
	if kind == Axles && c.Way == Own && c.TurnGain == 100 {
		c.TurnGain = -100
	}
}

// name says what a source is called.
func name(s *setup.Setup, ref string) string { return words.Source(s, setup.Value{Ref: ref}) }

// sums says what each of the pair is, as a sum.
func sums(s *setup.Setup, p *Pair) string {
	c := &p.Choice
	times := func(gain float64, ref string) string {
		if gain == 100 {
			return name(s, ref)
		}
		return words.Figure(gain/100) + " × " + name(s, ref)
	}
	plus := func(a string, gain float64, ref string) string { // a gain below 0 is taken away
		if gain < 0 {
			return a + " − " + times(-gain, ref)
		}
		return a + " + " + times(gain, ref)
	}
	var first, second string
	switch {
	case c.Way == Own:
		return "Driven by mixes of their own; choosing a way takes their place, and can be undone."
	case p.Kind == Axles && c.Way != Levers:
		first, second = times(100, c.Turn), times(c.TurnGain, c.Turn)
		if c.Way == Both {
			second = plus(second, c.LeverGain, c.Right)
		}
	case c.Way == Levers:
		first, second = times(c.LeverGain, c.Left), times(c.LeverGain, c.Right)
	default:
		drive := times(c.DriveGain, c.Drive)
		first, second = plus(drive, c.TurnGain, c.Turn), plus(drive, -c.TurnGain, c.Turn)
		if c.Way == Both {
			first, second = plus(first, c.LeverGain, c.Left), plus(second, c.LeverGain, c.Right)
		}
	}
	return p.Names[0] + " = " + first + "; " + p.Names[1] + " = " + second
}

// axes finds the two controls that the square of a pair is over.
func axes(s *setup.Setup, p *Pair) (across, along string) {
	c := &p.Choice
	x, y := c.Turn, c.Drive
	switch {
	case c.Way == Levers:
		x, y = c.Right, c.Left
	case p.Kind == Axles:
		x, y = c.Turn, c.Right
	case c.Way == Own:
		return behind(s, p)
	}
	return control(s, x), control(s, y)
}

// control finds the axis that a source comes from.
func control(s *setup.Setup, ref string) string {
	if i := s.ControlBehind(setup.Value{Ref: ref}); i >= 0 && s.Transmitter.Controls[i].Axis != nil {
		return string(s.Transmitter.Controls[i].ID)
	}
	return ""
}

// behind finds two axes behind a pair with mixes of its own, those of one stick
// before others.
func behind(s *setup.Setup, p *Pair) (across, along string) {
	for _, i := range setup.Only(setup.IsControl, s.Graph().Behind(s.Item(setup.ID(p.First)))) {
		c := s.Transmitter.Controls[i]
		if c.Axis == nil {
			continue
		}
		switch id := string(c.ID); {
		case c.Along == "x" && across == "":
			across = id
		case c.Along != "x" && along == "":
			along = id
		case across == "":
			across = id
		case along == "":
			along = id
		}
	}
	return across, along
}

// Write makes the mixes of a choice, in the place of those that the pair has, and
// the share that it asks for. The error is setup.Problems.
func Write(doc *setup.Document, first, second string, c Choice) (*setup.Node, error) {
	s := doc.Setup
	var pair *Pair
	for _, p := range Find(s) {
		if p.First == first && p.Second == second {
			pair = &p
		}
	}
	a, b := s.Item(setup.ID(first)), s.Item(setup.ID(second))
	if a.Kind != setup.IsOutput || b.Kind != setup.IsOutput || first == second {
		return nil, setup.Problems{{Path: "mixing", Value: first + ", " + second,
			Message: "are no two functions",
			Remedy:  "choose two functions of this model"}}
	}
	kind := Lines
	if pair != nil {
		kind = pair.Kind
	}
	wanted, err := c.mixes(s, kind, first, second)
	if err != nil {
		return nil, err
	}
	w := &writer{s: s}
	tree := doc.Tree
	for _, soft := range []struct {
		field string
		ref   string
		expo  float64
		used  bool
	}{{"drive", c.Drive, c.DriveSoft, kind != Axles && c.Way != Levers},
		{"turn", c.Turn, c.TurnSoft, c.Way != Levers}} {
		if !soft.used || soft.expo == softness(s, soft.ref) {
			continue
		}
		if math.Abs(soft.expo) > 100 {
			return nil, setup.Problems{{Path: "mixing." + soft.field + "_soft",
				Value: words.Figure(soft.expo), Message: "is out of range", Remedy: "use -100 to 100"}}
		}
		var made string
		tree, made = w.soften(tree, soft.ref, soft.field, soft.expo)
		for i := range wanted {
			if wanted[i].from == soft.ref {
				wanted[i].from = made
			}
		}
	}
	tree = w.mixes(tree, first, second, wanted)
	return w.share(tree, first, second, c.Rule), nil
}

// wanted is one mix that a choice makes.
type wanted struct {
	to, from, stem string
	gain           float64
}

// mixes lists what a choice makes.
func (c *Choice) mixes(s *setup.Setup, kind, first, second string) ([]wanted, error) {
	var list []wanted
	stick := []wanted{{first, c.Drive, "drive", c.DriveGain}, {first, c.Turn, "turn", c.TurnGain},
		{second, c.Drive, "drive", c.DriveGain}, {second, c.Turn, "turn", -c.TurnGain}}
	levers := []wanted{{first, c.Left, "lever", c.LeverGain}, {second, c.Right, "lever", c.LeverGain}}
	if kind == Axles {
		stick = []wanted{{first, c.Turn, "steer", 100}, {second, c.Turn, "steer", c.TurnGain}}
	}
	switch {
	case c.Way == OneStick:
		list = stick
	case c.Way == Levers:
		list = levers
	case c.Way == Both && kind == Axles:
		list = append(stick, levers[1])
	case c.Way == Both:
		list = append(stick, levers...)
	default:
		return nil, setup.Problems{{Path: "mixing.way", Value: c.Way, Message: "is no way to drive a pair",
			Remedy: "use one_stick, levers or both"}}
	}
	used := map[string]string{} // by the control that a hand moves, however it is shaped
	called := map[string]string{"drive": "the drive", "turn": "the turn",
		"left": "the lever of " + lineName(s, first), "right": "the lever of " + lineName(s, second)}
	for _, m := range list {
		field := map[string]string{"drive": "drive", "turn": "turn", "steer": "turn"}[m.stem]
		if field == "" {
			field = map[string]string{first: "left", second: "right"}[m.to]
		}
		if m.from == "" {
			return nil, setup.Problems{{Path: "mixing." + field,
				Message: "is not chosen yet: " + called[field] + " needs a control of its own",
				Remedy:  "choose one that does nothing else for this pair"}}
		}
		if _, err := s.Source(setup.Value{Ref: m.from}); err != nil {
			return nil, setup.Problems{{Path: "mixing." + field, Value: m.from,
				Message: "is no control or feel of this model", Remedy: "choose one from the list"}}
		}
		hand := control(s, m.from)
		if hand == "" {
			hand = m.from
		}
		if other, taken := used[hand]; taken && other != field {
			return nil, setup.Problems{{Path: "mixing." + field, Value: name(s, m.from),
				Message: "is " + called[other] + " already",
				Remedy:  "choose two controls that a hand can move apart"}}
		}
		used[hand] = field
		if math.Abs(m.gain) > 300 {
			return nil, setup.Problems{{Path: "mixing." + map[string]string{"left": "lever", "right": "lever",
				"drive": "drive", "turn": "turn"}[field] +
				"_gain", Value: words.Figure(m.gain), Message: "is out of range", Remedy: "use -300 to 300"}}
		}
	}
	return list, nil
}

// lineName says what a line is called.
func lineName(s *setup.Setup, output string) string {
	return s.OutputLabel(s.Item(setup.ID(output)).Index)
}

// writer changes a tree without touching the old one.
type writer struct {
	s     *setup.Setup
	taken []string
}

func (w *writer) id(stem string) string {
	id := w.s.FreeID(stem, w.taken...)
	w.taken = append(w.taken, id)
	return id
}

// replaced gives a map with another value for a key; nil takes the key out.
func replaced(n *setup.Node, key string, value *setup.Node) *setup.Node {
	c := *n
	c.Keys, c.Items = slices.Clone(n.Keys), slices.Clone(n.Items)
	at := slices.Index(c.Keys, key)
	switch {
	case at >= 0 && value == nil:
		c.Keys, c.Items = slices.Delete(c.Keys, at, at+1), slices.Delete(c.Items, at, at+1)
	case at >= 0:
		c.Items[at] = value
	case value != nil:
		c.Keys, c.Items = append(c.Keys, key), append(c.Items, value)
	}
	return &c
}

// soften gives a feel its expo, and a bare control a feel of its own. It gives the
// source as it is then called.
func (w *writer) soften(tree *setup.Node, ref, stem string, expo float64) (*setup.Node, string) {
	old := tree.Get("demands")
	if old == nil {
		old = &setup.Node{Kind: setup.List}
	}
	now := &setup.Node{Kind: setup.List, Line: old.Line}
	found := false
	for _, n := range old.Items {
		if id := n.Get("id"); id != nil && id.Text == ref {
			found = true
			n = replaced(n, "expo", setup.NumberNode(expo))
			if expo == 0 {
				n = replaced(n, "expo", nil)
			}
		}
		now.Items = append(now.Items, n)
	}
	if !found {
		made := w.id(stem + "_feel")
		n := replaced(replaced(&setup.Node{Kind: setup.Map}, "id", setup.TextNode(made)), "label",
			setup.TextNode(stem))
		now.Items = append(now.Items, replaced(replaced(n, "from", setup.TextNode(ref)), "expo",
			setup.NumberNode(expo)))
		ref = made
	}
	return replaced(tree, "demands", now), ref
}

// mixes puts the wanted mixes in the place of the first that goes. A mix that is
// wanted and was there keeps all that it has besides its gain.
func (w *writer) mixes(tree *setup.Node, first, second string, list []wanted) *setup.Node {
	old := tree.Get("mixes")
	if old == nil {
		old = &setup.Node{Kind: setup.List}
	}
	kept := map[string]*setup.Node{}
	for _, n := range old.Items {
		to, from := n.Get("to"), n.Get("from")
		if to != nil && from != nil && n.Get("when") == nil && n.Get("shape") == nil &&
			n.Get("combine") == nil && n.Get("bias") == nil {
			kept[to.Text+" "+from.Text] = n
		}
	}
	var made []*setup.Node
	for _, m := range list {
		n := kept[m.to+" "+m.from]
		if n == nil {
			n = &setup.Node{Kind: setup.Map}
			n = replaced(replaced(replaced(n, "id", setup.TextNode(w.id(m.to+"_"+m.stem))), "to",
				setup.TextNode(m.to)), "from",
				setup.TextNode(m.from))
		}
		delete(kept, m.to+" "+m.from)
		if has := n.Get("gain"); has == nil && m.gain != 100 || has != nil &&
			(has.Kind != setup.Number || has.Float() != m.gain) {
			gain := setup.NumberNode(m.gain)
			if m.gain == 100 {
				gain = nil
			}
			n = replaced(n, "gain", gain)
		}
		made = append(made, n)
	}
	now := &setup.Node{Kind: setup.List, Line: old.Line}
	for _, n := range old.Items {
		to := n.Get("to")
		if to == nil || to.Text != first && to.Text != second {
			now.Items = append(now.Items, n)
			continue
		}
		now.Items = append(now.Items, made...)
		made = nil
	}
	now.Items = append(now.Items, made...)
	return replaced(tree, "mixes", now)
}

// share makes, changes or takes out what the two share by.
func (w *writer) share(tree *setup.Node, first, second, rule string) *setup.Node {
	old := tree.Get("shares")
	if old == nil {
		old = &setup.Node{Kind: setup.List}
	}
	now := &setup.Node{Kind: setup.List, Line: old.Line}
	found := false
	for _, n := range old.Items {
		outs := n.Get("outputs")
		if outs == nil || len(outs.Items) != 2 || !has(outs, first) || !has(outs, second) {
			now.Items = append(now.Items, n)
			continue
		}
		found = true
		if rule == "" {
			continue
		}
		if n.Get("rule").Text != rule {
			n = replaced(n, "rule", setup.TextNode(rule))
		}
		now.Items = append(now.Items, n)
	}
	if !found && rule != "" {
		both := &setup.Node{Kind: setup.List, Items: []*setup.Node{setup.TextNode(first), setup.TextNode(second)}}
		n := replaced(replaced(replaced(&setup.Node{Kind: setup.Map}, "id", setup.TextNode(w.id("share_"+first))),
			"outputs", both), "rule", setup.TextNode(rule))
		now.Items = append(now.Items, n)
	}
	if len(now.Items) == 0 {
		return replaced(tree, "shares", nil)
	}
	return replaced(tree, "shares", now)
}

func has(list *setup.Node, id string) bool {
	return slices.ContainsFunc(list.Items, func(n *setup.Node) bool { return n.Text == id })
}
