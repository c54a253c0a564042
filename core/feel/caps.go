package feel

import (
	"fmt"
	"math"
	"slices"

	"axtren/core/lines"
	"axtren/core/linkage"
	"axtren/core/setup"
	"axtren/core/signal"
	"axtren/core/travel"
	"axtren/core/words"
)

// CapWay is one way to hold a motor back, played.
type CapWay struct {
	Way   string `json:"way"`
	Title string `json:"title"`
	Does  string `json:"does"` // in a sentence
	// over the hand: what the motor does, or where the servo stands, percent
	Line    []setup.Point    `json:"line"`
	Figures []linkage.Figure `json:"figures"` // to the middle, to the mix, to what learned the ends
	Cannot  string           `json:"cannot"`  // why this transmitter cannot; empty where it can
}

// Capped is a question with three answers beside how it is now.
type Capped struct {
	Control string        `json:"control"`
	Label   string        `json:"label"`
	Moves   []string      `json:"moves"` // the functions that are held back together
	Sides   []Side        `json:"sides"`
	Line    []setup.Point `json:"line"` // as it is now
	Ways    []CapWay      `json:"ways"`
}

// Side is one to choose: of the hand.
type Side struct {
	Key   string `json:"key"`
	Label string `json:"label"`
}

// sides says the ways of a lever.
func sides(s *setup.Setup, control int) []Side {
	c := s.Transmitter.Controls[control]
	way := func(name, sign string) string {
		if name == "" {
			name = sign
		}
		return "towards " + name
	}
	list := []Side{{BothWays, "both ways"}, {Plus, way(c.Plus, "+")}, {Minus, way(c.Minus, "−")}}
	if c.Axis != nil && c.Axis.Spring == "low" {
		return list[:1] // it rests at its one end
	}
	return list
}

// Caps plays the three ways to hold back what a hand does to most percent of what it does now, each beside
// the others. The error is setup.Problems where a way cannot even be asked for.
func Caps(doc *setup.Document, output int, control, side string, most float64) (*Capped, error) {
	s, joined := doc.Setup, together(doc.Setup, output)
	now, err := play(doc, output, control, joined)
	if err != nil {
		return nil, err
	}
	hand := s.Item(setup.ID(control))
	of := &Capped{Control: control, Label: s.ControlLabel(hand.Index), Line: now.line, Moves: []string{},
		Sides: sides(s, hand.Index), Ways: []CapWay{}}
	for _, i := range joined {
		if slices.Contains(handsOf(s, i), hand.Index) {
			of.Moves = append(of.Moves, s.OutputLabel(i))
		}
	}
	for _, way := range []string{ByRate, ByEnd, ByCurve} {
		one := CapWay{Way: way, Title: map[string]string{ByRate: "By its rate", ByEnd: "By its end",
			ByCurve: "By a curve"}[way], Line: []setup.Point{}, Figures: []linkage.Figure{}}
		one.Does = map[string]string{
			ByRate:  "All of the stick's way is used, for less: finer everywhere.",
			ByEnd:   "The servo's own way is made shorter, whatever asks for it.",
			ByCurve: "As it is now up to the cap; what is beyond it on the stick does nothing."}[way]
		tree, _, err := Apply(doc, "outputs/"+string(s.Outputs[output].ID), Change{What: Cap,
			Control: control, Way: way,
			Side: side, Most: most})
		if err != nil {
			return nil, err
		}
		capped, err := setup.FromTree(tree)
		if err != nil {
			return nil, err
		}
		then, err := play(capped, output, control, joined)
		if err != nil {
			return nil, err
		}
		one.Line = then.line
		one.Figures = append(one.Figures, middle(now, then), beyond(then, hand.Index, s))
		if mix := then.mixed(now); mix != nil {
			one.Figures = append(one.Figures, *mix)
		}
		one.Figures = append(one.Figures, then.learned(now)...)
		if way == ByCurve {
			one.Cannot = noCurve(s, capped.Setup, output, hand.Index)
		}
		of.Ways = append(of.Ways, one)
	}
	return of, nil
}

// noCurve says why this transmitter has no curve of so many points; empty where it has, or that is not known.
func noCurve(s, capped *setup.Setup, output, control int) string {
	can := s.Transmitter.Can
	if can == nil || can.CurvePoints == nil {
		return ""
	}
	points := len(capped.Demands[feelOf(capped, output, control)].Curve)
	for _, n := range *can.CurvePoints {
		if n >= points {
			return ""
		}
	}
	return fmt.Sprintf("It takes a curve through %d points, and this transmitter has none with so many.", points)
}

// played is a document with the line of a function over a hand.
type played struct {
	p       *signal.Program
	output  int
	control int
	outputs []int // that belong together
	line    []setup.Point
}

func play(doc *setup.Document, output int, control string, joined []int) (*played, error) {
	p, err := signal.Compile(doc.Setup)
	if err != nil {
		return nil, err
	}
	hand := doc.Setup.Item(setup.ID(control))
	if hand.Kind != setup.IsControl || doc.Setup.Transmitter.Controls[hand.Index].Axis == nil {
		return nil, setup.Refused("control", control, "is no lever of this model", "choose a stick or a lever")
	}
	of := &played{p: p, output: output, control: hand.Index, outputs: joined}
	st := p.PowerOn()
	p.Step(st, p.Ready())
	p.Step(st, p.Ready())
	for _, at := range lines.Plot(p, st, control, string(doc.Setup.Outputs[output].ID)) {
		of.line = append(of.line, setup.Point{at[0], of.does(output, at[1])})
	}
	return of, nil
}

// does gives what an output makes of a position: of a motor its turning, else the position, percent.
func (of *played) does(output int, position float64) float64 {
	s := of.p.Setup()
	for _, device := range s.Drives(output) {
		if _, ok := s.Devices[device].Spec.(*setup.Esc); ok {
			_, pin := s.Pin(s.DevicePin(device))
			v, _ := of.p.Does(device, of.p.Arriving(pin.Channel, of.p.PulseOf(position)))
			return tenth(v)
		}
	}
	return tenth(position)
}

// at gives what the function does where the hand is, percent.
func (of *played) at(x float64) float64 {
	i := slices.IndexFunc(of.line, func(p setup.Point) bool { return p[0] >= x })
	return of.line[i][1]
}

// rest is where the hand rests.
func (of *played) rest() float64 { return of.p.Setup().Transmitter.Controls[of.control].Axis.Rest() }

// middle tells how finely a motor is driven at the first half of the way.
func middle(now, then *played) linkage.Figure {
	from := now.rest()
	half := from + (100-from)/2
	before, after := now.at(half), then.at(half)
	f := linkage.Figure{Title: "At half the stick", Says: fmt.Sprintf("%s %%", words.SignedShort(after)),
		Why: []string{fmt.Sprintf("It was %s %% before.", words.SignedShort(before))}}
	switch {
	case math.Abs(after-before) < 0.5:
		f.Note = "As it was: the middle is no finer."
	case math.Abs(after) < math.Abs(before):
		f.Note = "The middle is finer."
	}
	return f
}

// beyond tells how much of the end of the hand's way does nothing more.
func beyond(then *played, control int, s *setup.Setup) linkage.Figure {
	last := len(then.line) - 1
	from := then.rest()
	share := func(step int) float64 { // from one end of the line towards where the hand rests
		k := 0
		if step < 0 {
			k = last
		}
		end, begin := then.line[k], then.line[k]
		for ; k >= 0 && k <= last; k += step {
			if at := then.line[k]; math.Abs(at[1]-end[1]) >= 0.05 || (at[0]-from)*(end[0]-from) <= 0 {
				break
			}
			begin = then.line[k]
		}
		return math.Abs(100 * (end[0] - begin[0]) / max(math.Abs(end[0]-from), 1))
	}
	up, down := share(-1), share(1)
	f := linkage.Figure{Title: "Lost of the stick's way", Says: "nothing", Why: []string{}}
	ways := sides(s, control)
	var list []string
	if up > 1 {
		list = append(list, fmt.Sprintf("the last %.0f %% %s", up, ways[min(1, len(ways)-1)].Label))
	}
	if down > 1 && from > -100 {
		list = append(list, fmt.Sprintf("the last %.0f %% %s", down, ways[2].Label))
	}
	if len(list) > 0 {
		f.Says = words.And(list)
	}
	return f
}

// mixed tells what becomes of a mix: what the functions do with the other hand full too, or with it alone.
func (of *played) mixed(now *played) *linkage.Figure {
	s := of.p.Setup()
	var other int
	found := false
	for _, i := range handsOf(s, of.output) {
		if i != of.control && s.Transmitter.Controls[i].Axis != nil {
			other, found = i, true
			break
		}
	}
	if !found {
		return nil
	}
	_, says := words.Put(s, other, 100)
	_, own := words.Put(s, of.control, 100)
	both := func(of *played) string { return of.all(map[int]float64{of.control: 100, other: 100}) }
	alone := func(of *played) string { return of.all(map[int]float64{other: 100}) }
	return &linkage.Figure{Title: fmt.Sprintf("%s and %s", words.Capital(own), says), Says: both(of),
		Note: fmt.Sprintf("%s alone: %s.", words.Capital(says), alone(of)),
		Why:  []string{"Before: " + both(now) + ".", words.Capital(says) + " alone, before: " + alone(now) + "."}}
}

// all says what the functions that belong together do while hands are held.
func (of *played) all(held map[int]float64) string {
	s := of.p.Setup()
	hands, st := of.p.Ready(), of.p.PowerOn()
	for range 2 {
		of.p.Step(st, hands)
	}
	for control, v := range held {
		at, _ := of.p.Hand(string(s.Transmitter.Controls[control].ID))
		hands[at] = v
	}
	for range 50 {
		of.p.Step(st, hands)
	}
	var list []string
	for _, i := range of.outputs {
		list = append(list, fmt.Sprintf("%s %s %%", s.OutputLabel(i), words.SignedShort(of.does(i,
			st.At(of.p.Routes[i].Target)))))
	}
	return words.And(list)
}

// learned tells what becomes of what has learned the ends.
func (of *played) learned(now *played) []linkage.Figure {
	was, err := travel.Learners(now.p, of.output)
	if err != nil {
		return nil
	}
	is, err := travel.Learners(of.p, of.output)
	if err != nil {
		return nil
	}
	var list []linkage.Figure
	for k := range is {
		if is[k].Kind == "module" {
			continue
		}
		f := linkage.Figure{Title: "What " + is[k].Name + " gets, at most",
			Why: []string{fmt.Sprintf("Before: %.0f to "+
				"%.0f µs. It has learned %.0f to %.0f µs.", was[k].Places[0].Sent, was[k].Places[2].Sent,
				is[k].Places[0].Learned, is[k].Places[2].Learned)},
			Says: fmt.Sprintf("%.0f to %.0f µs", is[k].Places[0].Sent, is[k].Places[2].Sent)}
		if is[k].Places[0].Sent == was[k].Places[0].Sent && is[k].Places[2].Sent == was[k].Places[2].Sent {
			f.Note = "As before: other hands still bring it there, and so taught again it learns the same."
		} else {
			f.Note = "Do not teach it again afterwards: it would take this for full, and the cap is gone."
		}
		list = append(list, f)
	}
	return list
}
