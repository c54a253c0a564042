package feel

import (
	"fmt"
	"math"
	"slices"
	"strings"

	"axtren/core/mixing"
	"axtren/core/setup"
	"axtren/core/signal"
	"axtren/core/words"
)

// What a Change is.
const (
	Shape = "shape" // a feel of its own, which does nothing yet
	Rate  = "rate"  // another rate while a switch is somewhere, or a lever in a zone
	Steps = "steps" // what each position of a switch asks for
	Draw  = "curve" // the points of a curve; none takes it away
	Cap   = "cap"
)

// The sides of a cap: those of the hand.
const (
	BothWays = "both"
	Plus     = "plus"
	Minus    = "minus"
)

// The ways to hold a motor back.
const (
	ByRate  = "rate"
	ByEnd   = "end"
	ByCurve = "curve"
)

// Change is one change of what lies between a hand and a function. Percent throughout.
type Change struct {
	What    string        `json:"what"`
	Control string        `json:"control"`
	Rate    float64       `json:"rate"` // of rate
	When    string        `json:"when"` // of rate: a position of a switch, as gear.low, or a lever
	From    float64       `json:"from"` // of rate: the zone of the lever
	To      float64       `json:"to"`
	Values  []float64     `json:"values"` // of steps: one for each position
	Points  []setup.Point `json:"points"` // of curve
	Smooth  bool          `json:"smooth"`
	Way     string        `json:"way"` // of cap
	Side    string        `json:"side"`
	Most    float64       `json:"most"` // of cap: of what it does now
}

// zoneMargin is by how much a lever has to come back for a zone to end (our choice: it does not chatter).
const zoneMargin = 2

// writer writes a change, document after document.
type writer struct {
	setup.Draft
	output  int
	control int
	of      Change
}

// Apply writes a change, and says it. The error is setup.Problems.
func Apply(doc *setup.Document, part string, of Change) (tree *setup.Node, said string, err error) {
	s := doc.Setup
	item := s.Item(setup.ID(strings.TrimPrefix(part, "outputs/")))
	if item.Kind != setup.IsOutput {
		return nil, "", setup.Refused("part", part, "is no function of this model", "name one, as outputs/motor")
	}
	hand := s.Item(setup.ID(of.Control))
	if hand.Kind != setup.IsControl || !slices.Contains(handsOf(s, item.Index), hand.Index) {
		return nil, "", setup.Refused("feel.control", of.Control, "does not move "+s.OutputLabel(item.Index),
			"choose a control that comes to it by a mix")
	}
	w := &writer{Draft: setup.Draft{Doc: doc}, output: item.Index, control: hand.Index, of: of}
	if said, err = w.apply(); err != nil {
		return nil, "", err
	}
	return w.Doc.Tree, said, nil
}

func (w *writer) s() *setup.Setup { return w.Doc.Setup }

func (w *writer) apply() (said string, err error) {
	label, hand := w.s().OutputLabel(w.output), w.s().ControlLabel(w.control)
	switch w.of.What {
	case Shape:
		if _, err = w.feel(); err != nil {
			return "", err
		}
		return fmt.Sprintf("%s has a feel of its own for %s", hand, w.names()), nil
	case Rate:
		return w.rate()
	case Steps:
		return w.steps()
	case Draw:
		at, err := w.feel()
		if err != nil {
			return "", err
		}
		return fmt.Sprintf("The curve of %s for %s", hand, label), w.curve(at, w.of.Points, w.of.Smooth)
	case Cap:
		return w.cap()
	}
	return "", setup.Refused("feel.what", w.of.What, "is no change of a feel",
		"use shape, rate, steps, curve or cap")
}

// names says which functions a change concerns.
func (w *writer) names() string {
	var list []string
	for _, i := range together(w.s(), w.output) {
		if slices.Contains(handsOf(w.s(), i), w.control) {
			list = append(list, w.s().OutputLabel(i))
		}
	}
	return words.And(list)
}

// feel gives the feel that the hand comes from, and makes one where it comes as it is: for the output, and
// for what is driven together with it.
func (w *writer) feel() (demand int, err error) {
	s := w.s()
	if at := feelOf(s, w.output, w.control); at >= 0 {
		return at, nil
	}
	var outputs []string
	for _, i := range together(s, w.output) {
		outputs = append(outputs, string(s.Outputs[i].ID))
	}
	id, err := mixing.GiveFeel(&w.Draft, string(s.Transmitter.Controls[w.control].ID), outputs...)
	if err != nil {
		return 0, err
	}
	return w.s().Item(setup.ID(id)).Index, nil
}

// rate adds another rate, before those that are there: it goes before them.
func (w *writer) rate() (said string, err error) {
	when := setup.Truth(w.of.When)
	if _, err := w.s().Fact(when); err != nil {
		lever := w.s().Item(setup.ID(w.of.When))
		if lever.Kind != setup.IsControl || w.s().Transmitter.Controls[lever.Index].Axis == nil {
			return "", setup.Refused("feel.when", w.of.When, "is no position of a switch and no lever",
				"move the one that is to change the rate")
		}
		if when, err = w.zone(lever.Index); err != nil {
			return "", err
		}
	}
	at, err := w.feel()
	if err != nil {
		return "", err
	}
	n := setup.GroupNode("when", string(when), "rate", w.of.Rate)
	pointer := fmt.Sprintf("/demands/%d/rates", at)
	if w.s().Demands[at].Rates == nil {
		err = w.Set(pointer, []any{n})
	} else {
		err = w.Set(pointer, &setup.Node{Kind: setup.List, Items: append([]*setup.Node{n},
			w.Doc.Tree.At("demands", fmt.Sprint(at), "rates").Items...)})
	}
	return fmt.Sprintf("%s has rate %s while %s", w.s().ControlLabel(w.control), words.Short(w.of.Rate),
		words.Truth(w.s(), when)), err
}

// zone makes the block that is on while a lever is in a zone.
func (w *writer) zone(lever int) (setup.Truth, error) {
	c, label := w.s().Transmitter.Controls[lever], w.s().ControlLabel(lever)
	if w.of.From >= w.of.To {
		return "", setup.Refused("feel.from", words.SignedShort(w.of.From), "is no zone up to "+
			words.SignedShort(w.of.To), "begin it below where it ends")
	}
	id := w.s().FreeID(string(c.ID) + "_zone")
	from, to := words.SignedShort(w.of.From), words.SignedShort(w.of.To)
	block, where := "between", fmt.Sprintf("between %s and %s", from, to)
	limits := []any{"from", w.of.From, "to", w.of.To}
	switch {
	case w.of.From <= -100:
		block, where, limits = "below", "up to "+to, []any{"level", w.of.To}
	case w.of.To >= 100:
		block, where, limits = "above", "from "+from, []any{"level", w.of.From}
	}
	n := setup.GroupNode(append([]any{"id", id, "label", label + " " + where, "block", block, "of", string(c.ID),
		"hysteresis", zoneMargin}, limits...)...)
	return setup.Truth(id), w.Add("logic", n)
}

// steps makes each position of a switch ask for what it is to ask for, by a curve with a point for each.
func (w *writer) steps() (said string, err error) {
	c := w.s().Transmitter.Controls[w.control]
	if c.Switch == nil || len(w.of.Values) != len(c.Switch.Positions) {
		has := "it is a lever: draw a curve"
		if c.Switch != nil {
			has = fmt.Sprintf("give %d figures, one for each position", len(c.Switch.Positions))
		}
		return "", setup.Refused("feel.values", fmt.Sprint(len(w.of.Values)), "are not the positions of "+
			w.s().ControlLabel(w.control), has)
	}
	at, err := w.feel()
	if err != nil {
		return "", err
	}
	var points []setup.Point
	var list []string
	for k, v := range w.of.Values {
		points = append(points, setup.Point{-100 + float64(200*k)/float64(len(w.of.Values)-1), v})
		list = append(list, c.Switch.Positions[k].Words()+" "+words.SignedShort(v))
	}
	return fmt.Sprintf("%s: %s", w.s().ControlLabel(w.control), words.And(list)), w.curve(at, points, false)
}

// curve writes the points of a curve; none takes it away.
func (w *writer) curve(at int, points []setup.Point, smooth bool) error {
	return w.Change(fmt.Sprintf("/demands/%d", at), func(feel *setup.Node) {
		for _, key := range []string{"curve", "smooth"} {
			if feel.Get(key) != nil {
				_ = feel.Remove(key) // it is there
			}
		}
		if len(points) == 0 {
			return
		}
		list := &setup.Node{Kind: setup.List}
		for _, p := range points {
			list.Items = append(list.Items, setup.NodeOf([]any{tenth(p[0]), tenth(p[1])}))
		}
		if smooth {
			_ = feel.Put("smooth", setup.NodeOf(true)) // it is a group
		}
		_ = feel.Put("curve", list)
	})
}

func tenth(v float64) float64 { return math.Round(v*10) / 10 }

// cap holds what the hand does back to a share of what it does now.
func (w *writer) cap() (said string, err error) {
	if w.of.Most < 1 || w.of.Most >= 100 {
		return "", setup.Refused("feel.most", words.Short(w.of.Most), "holds nothing back", "use 1 to 99")
	}
	if !slices.Contains([]string{BothWays, Plus, Minus}, w.of.Side) {
		return "", setup.Refused("feel.side", w.of.Side, "is no side of a hand", "use both, plus or minus")
	}
	s := w.s()
	switch w.of.Way {
	case ByRate:
		err = w.capRate()
	case ByEnd:
		err = w.capEnds()
	case ByCurve:
		err = w.capCurve()
	default:
		return "", setup.Refused("feel.way", w.of.Way, "is no way to hold a motor back", "use rate, end or curve")
	}
	if err != nil {
		return "", err
	}
	side := ""
	for _, one := range sides(s, w.control) {
		if one.Key == w.of.Side && one.Key != BothWays {
			side = " " + one.Label
		}
	}
	return fmt.Sprintf("%s is held back to %s %%%s, by %s", w.names(), words.Short(w.of.Most), side,
		map[string]string{ByRate: "its rate", ByEnd: "its end", ByCurve: "a curve of " +
			s.ControlLabel(w.control)}[w.of.Way]), nil
}

// capRate makes the hand count for less: by the rate of its feel, or, to one side, and where a curve
// follows on the rate, by the gains of its mixes.
func (w *writer) capRate() error {
	share := w.of.Most / 100
	curved := feelOf(w.s(), w.output, w.control)
	if w.of.Side == BothWays && (curved < 0 || w.s().Demands[curved].Curve == nil) {
		at, err := w.feel()
		if err != nil {
			return err
		}
		d := w.s().Demands[at]
		for k, r := range d.Rates {
			if err := w.Set(fmt.Sprintf("/demands/%d/rates/%d/rate", at, k), tenth(r.Rate*share)); err != nil {
				return err
			}
		}
		return w.Set(fmt.Sprintf("/demands/%d/rate", at), tenth(d.Rate*share))
	}
	for _, output := range together(w.s(), w.output) {
		for _, i := range mixesOf(w.s(), output, w.control) {
			g := w.s().Mixes[i].Gain
			if w.of.Side != Minus {
				g.Pos *= share
			}
			if w.of.Side != Plus {
				g.Neg *= share
			}
			if err := w.Set(fmt.Sprintf("/mixes/%d/gain", i), setup.GroupNode("pos", tenth(g.Pos), "neg",
				tenth(g.Neg))); err != nil {
				return err
			}
		}
	}
	return nil
}

// capEnds brings the ends of the function, and of what is driven together with it, in towards the centre:
// those to which the hand brings it.
func (w *writer) capEnds() error {
	for _, i := range together(w.s(), w.output) {
		mixes := mixesOf(w.s(), i, w.control)
		if mixes == nil {
			continue
		}
		o, gain := w.s().Outputs[i], w.s().Mixes[mixes[0]].Gain.Pos
		up := gain < 0 == o.Reverse // whether the hand's + brings it to its high end
		for _, end := range []struct {
			field string
			at    float64
			side  bool
		}{{"high", o.High, w.of.Side == BothWays || up == (w.of.Side == Plus)},
			{"low", o.Low, w.of.Side == BothWays || up == (w.of.Side == Minus)}} {
			if !end.side {
				continue
			}
			err := w.Set(fmt.Sprintf("/outputs/%d/%s", i, end.field), tenth(o.Centre+(end.at-o.Centre)*w.of.Most/100))
			if err != nil {
				return err
			}
		}
	}
	return nil
}

// capCurve leaves the hand as it is up to the cap, and lets nothing beyond it through.
func (w *writer) capCurve() error {
	at, err := w.feel()
	if err != nil {
		return err
	}
	d := w.s().Demands[at]
	points := d.Curve
	if points == nil {
		points = []setup.Point{{-100, -100}, {0, 0}, {100, 100}}
	}
	var list []setup.Point
	for _, side := range []struct {
		key      string
		from, to float64
	}{{Minus, -100, 0}, {Plus, 0, 100}} {
		part, most := between(points, side.from, side.to), 0.0
		for _, p := range part {
			most = max(most, math.Abs(p[1]))
		}
		if w.of.Side == BothWays || w.of.Side == side.key {
			part = clipped(part, -most*w.of.Most/100, most*w.of.Most/100)
		}
		for _, p := range part {
			if n := len(list); n == 0 || p[0]-list[n-1][0] > 0.05 {
				list = append(list, p)
			}
		}
	}
	return w.curve(at, list, d.Smooth)
}

// between gives the points of a line of straight pieces from one place to another, with a point at each
// of both.
func between(points []setup.Point, from, to float64) []setup.Point {
	of := signal.CurveOf(points, false)
	list := []setup.Point{{from, of(from)}}
	for _, p := range points {
		if p[0] > from && p[0] < to {
			list = append(list, p)
		}
	}
	return append(list, setup.Point{to, of(to)})
}

// clipped gives the points of a line of straight pieces between two levels, with a point where it meets one.
func clipped(points []setup.Point, low, high float64) []setup.Point {
	var list []setup.Point
	add := func(p setup.Point) {
		if n := len(list); n == 0 || p[0]-list[n-1][0] > 0.05 {
			list = append(list, p)
		}
	}
	for k, p := range points {
		if k > 0 {
			was := points[k-1]
			var meets []setup.Point
			for _, level := range []float64{low, high} {
				if (was[1]-level)*(p[1]-level) < 0 {
					meets = append(meets, setup.Point{was[0] + (level-was[1])*(p[0]-was[0])/(p[1]-was[1]), level})
				}
			}
			slices.SortFunc(meets, func(a, b setup.Point) int { return int(math.Copysign(1, a[0]-b[0])) })
			for _, m := range meets {
				add(m)
			}
		}
		add(setup.Point{p[0], min(max(p[1], low), high)})
	}
	return list
}
