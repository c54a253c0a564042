package kit

import (
	"cmp"
	"fmt"
	"math"
	"math/rand/v2"
	"slices"
	"strings"

	"axtren/core/setup"
	"axtren/core/signal"
	"axtren/core/words"
)

// Difference is what playing two setups side by side with the same hands has shown.
type Difference struct {
	// all of it in words, without a full stop
	Words string `json:"words"`
	// the most that a function, or a device on it, was apart, percent of its way; 0: the same
	Most float64 `json:"most"`
	// what was apart the most, in words; empty where all was the same
	Of string `json:"of"`
	// how the hands lay then: Right stick, ahead at +60 and Front switch at harbour
	Hands string `json:"hands"`
	// whether that was while the signal was lost
	Lost bool `json:"lost"`
	// whether it was seen while the hands moved, and not with any hands from a rest
	Passing bool `json:"passing"`
	// how many frames of each were played, and ways of holding the hands looked at; 0 where
	// there is nothing that it could show in; no frames where those of the two are not of one length
	Frames int `json:"frames"`
	Ways   int `json:"ways"`
}

// same is what counts as the same, percent; rounding is what the steps of a pulse may make of
// two devices' places.
const (
	same     = 1e-6
	rounding = 0.25
)

// How much is played: lanes side by side, each with hands of its own.
const (
	played     = 32   // lanes
	playFrames = 1500 // of each
	lostFrom   = 1200 // the frame in which the signal goes in the first of them, in each other one later
)

// Compare plays two programs of the same transmitter beside each other: hands that move
// anyhow, a signal that is lost; and, of what each control does to each function, the whole way
// of it. What only one of them has is not compared. It takes some ten milliseconds for a model
// of usual size.
func Compare(before, after *signal.Program) Difference { return compare(before, after, nil) }

// compare is Compare where hands put some controls otherwise: a switch in the place of presses.
func compare(before, after *signal.Program, led []follow) Difference {
	c := &comparison{before: before, after: after, seeded: rand.New(rand.NewPCG(1, 2)),
		asks: [2]*asker{newAsker(before, before), newAsker(after, before)}}
	c.follows(led)
	c.pairs()
	if len(c.seen) > 0 {
		c.sweep()
		c.d.Ways = c.ways
		if before.Setup().Transmitter.FrameMS == after.Setup().Transmitter.FrameMS {
			c.play() // else the two are never at the same moment
			c.d.Frames = played * playFrames
		}
	}
	c.d.Words = c.d.says()
	return c.d
}

type comparison struct {
	before, after *signal.Program
	asks          [2]*asker
	seeded        *rand.Rand
	seen          []pair
	led           []followed
	kept          []int // hands that stay at rest while whole ways are looked at
	ways          int
	d             Difference
}

// pair is one thing that is looked at in both.
type pair struct {
	part          setup.Item
	label         string
	before, after signal.Slot
	counts        bool // a step box: another step is another thing altogether
	output        int  // index in before; -1 of a device
	afterOutput   int
}

// pairs lists what is compared: the devices, and the functions that move none.
func (c *comparison) pairs() {
	a, b := c.before.Setup(), c.after.Setup()
	for i := range a.Devices {
		other := b.Item(a.Devices[i].ID)
		from := c.before.Devices[i].Value
		if other.Kind != setup.IsDevice || from == signal.None {
			continue
		}
		c.seen = append(c.seen, pair{setup.IsDevice.At(i), a.DeviceLabel(i), from,
			c.after.Devices[other.Index].Value, a.Devices[i].Kind == "step_box", -1, -1})
	}
	for i := range a.Outputs {
		other := b.Item(a.Outputs[i].ID)
		if other.Kind != setup.IsOutput {
			continue
		}
		one := pair{setup.IsOutput.At(i), a.OutputLabel(i), c.before.Routes[i].P,
			c.after.Routes[other.Index].P, false, i, other.Index}
		if len(a.Drives(i)) > 0 {
			one.before, one.after = signal.None, signal.None // its devices tell in play
		}
		c.seen = append(c.seen, one)
	}
	for i := range a.Announcements {
		if other := b.Item(a.Announcements[i].ID); other.Kind == setup.IsAnnouncement {
			c.seen = append(c.seen, pair{setup.IsAnnouncement.At(i), "what is said",
				c.before.SaidSlot(i), c.after.SaidSlot(other.Index), true, -1, -1})
		}
	}
}

// play moves hands anyhow, quickly in some lanes and seldom in others, from power-on to a
// signal that is lost.
func (c *comparison) play() {
	a, b := c.before.Lanes(played), c.after.Lanes(played)
	hands, others, next := make([]signal.Hands, played), make([]signal.Hands, played), make([]int, played)
	for l := range hands {
		hands[l] = c.before.Ready()
	}
	link, _ := c.before.Hand("link")
	for k := range playFrames {
		for l := range hands {
			if k > 0 && k >= next[l] {
				c.moveOne(hands[l])
				next[l] = k + 1 + c.seeded.IntN(1+4*(1+l))
			}
			hands[l][link] = 1
			if k >= lostFrom+l {
				hands[l][link] = 0
			}
		}
		a.Step(hands)
		for l := range hands {
			others[l] = c.asks[1].own(hands[l], others[l])
			c.place(a, l, others[l])
		}
		b.Step(others)
		for i := range c.seen {
			if c.seen[i].before == signal.None {
				continue
			}
			for l := range hands {
				c.note(&c.seen[i], a.At(l, c.seen[i].before), b.At(l, c.seen[i].after), hands[l], true)
			}
		}
	}
}

// moveOne puts one control somewhere else.
func (c *comparison) moveOne(hands signal.Hands) {
	controls := c.before.Setup().Transmitter.Controls
	if len(controls) == 0 {
		return
	}
	i := c.seeded.IntN(len(controls))
	hand, _ := c.before.Hand(string(controls[i].ID))
	if sw := controls[i].Switch; sw != nil {
		hands[hand] = float64(c.seeded.IntN(len(sw.Positions)))
		return
	}
	switch c.seeded.IntN(3) {
	case 0:
		hands[hand] = float64(100 * (c.seeded.IntN(3) - 1))
	case 1:
		hands[hand] = float64(c.seeded.IntN(201) - 100)
	default:
		hands[hand] = c.seeded.Float64()*200 - 100
	}
}

// note keeps the greatest difference.
func (c *comparison) note(of *pair, was, is float64, hands signal.Hands, passing bool) {
	apart := math.Abs(was - is)
	if of.counts {
		apart = min(100*apart, 100)
	}
	if apart < same || apart <= c.d.Most+same || passing && c.d.Most > 0 && apart <= c.d.Most+rounding {
		return
	}
	link, _ := c.before.Hand("link")
	c.d.Most, c.d.Of, c.d.Lost, c.d.Passing = apart, of.label, hands[link] == 0, passing
	c.d.Hands = c.said(of, hands)
}

// said says where the controls are that move a thing and are not where they rest.
func (c *comparison) said(of *pair, hands signal.Hands) string {
	s, rest := c.before.Setup(), c.before.Rest()
	var places []string
	for _, i := range setup.Only(setup.IsControl, s.Graph().Behind(of.part)) {
		control := &s.Transmitter.Controls[i]
		hand, _ := c.before.Hand(string(control.ID))
		if hands[hand] == rest[hand] {
			continue
		}
		at := words.SignedShort(math.Round(hands[hand]*10) / 10)
		if control.Switch != nil {
			at = control.Switch.Positions[int(hands[hand])].Words()
		}
		places = append(places, s.ControlLabel(i)+" at "+at)
	}
	return words.And(places)
}

// How much is asked in a sweep: places of a control that moves a function alone, places of each
// of two at most, ways in which switches stand, and places of all functions together.
const (
	lineSide   = 401
	squareSide = 101
	leastSide  = 11
	mostTurns  = 64
	mostAsked  = 80_000
)

// swept is a function with the hands from which it is asked, and the axes that it follows.
type swept struct {
	of    *pair
	hands []signal.Hands
	axes  []int
}

// squares is how many squares of two axes there are.
func (s *swept) squares() int { return len(s.hands) * len(s.axes) * (len(s.axes) - 1) / 2 }

// sweep asks every function for the whole way of the axes that it follows, with its switches
// in each of their positions, as long as these are few, and climbs to the greatest difference.
// Where much is to be asked, each square has fewer places.
func (c *comparison) sweep() {
	var list []swept
	squares := 0
	for i := range c.seen {
		if of := &c.seen[i]; of.output >= 0 {
			one := swept{of, c.turned(of), c.axes(of)}
			list, squares = append(list, one), squares+one.squares()
		}
	}
	side := squareSide
	if squares > 0 {
		side = min(max(int(math.Sqrt(float64(mostAsked/squares))), leastSide), squareSide)
	}
	for _, one := range list {
		for _, hands := range one.hands {
			switch len(one.axes) {
			case 0:
				c.grid(one.of, hands, nil, 1)
			case 1:
				c.grid(one.of, hands, one.axes, lineSide)
			default:
				for i, x := range one.axes {
					for _, y := range one.axes[i+1:] {
						c.grid(one.of, hands, []int{x, y}, side)
					}
				}
			}
		}
	}
}

// turned lists hands with the switches behind a function in each of their positions: all
// together where these are few, else each by itself.
func (c *comparison) turned(of *pair) []signal.Hands {
	s := c.before.Setup()
	list := []signal.Hands{c.before.Ready()}
	for _, i := range c.behind(of) {
		sw := s.Transmitter.Controls[i].Switch
		if sw == nil {
			continue
		}
		hand, _ := c.before.Hand(string(s.Transmitter.Controls[i].ID))
		if slices.Contains(c.kept, hand) {
			continue
		}
		from := list
		if len(list)*len(sw.Positions) > mostTurns {
			from = list[:1]
		}
		for position := range sw.Positions {
			for _, hands := range from {
				if float64(position) != hands[hand] {
					other := slices.Clone(hands)
					other[hand] = float64(position)
					list = append(list, other)
				}
			}
		}
	}
	return list[:min(len(list), mostTurns)]
}

// behind lists the controls that a function follows in either setup.
func (c *comparison) behind(of *pair) []int {
	list := setup.Only(setup.IsControl, c.before.Setup().Graph().Behind(setup.IsOutput.At(of.output)))
	list = append(list, setup.Only(setup.IsControl,
		c.after.Setup().Graph().Behind(setup.IsOutput.At(of.afterOutput)))...)
	controls := len(c.before.Setup().Transmitter.Controls)
	list = slices.DeleteFunc(list, func(i int) bool { return i >= controls }) // one that is new is at rest
	slices.Sort(list)
	return slices.Compact(list)
}

// axes lists the places in the hands of the axes that a function follows.
func (c *comparison) axes(of *pair) []int {
	var axes []int
	for _, i := range c.behind(of) {
		if control := c.before.Setup().Transmitter.Controls[i]; control.Axis != nil {
			if hand, _ := c.before.Hand(string(control.ID)); !slices.Contains(c.kept, hand) {
				axes = append(axes, hand)
			}
		}
	}
	return axes
}

// grid asks both programs for hands all over one axis or two, with side places on each, and
// notes the greatest difference, climbed to from the place of the grid where it is.
func (c *comparison) grid(of *pair, hands signal.Hands, axes []int, side int) {
	var points []signal.Hands
	for k := range int(math.Pow(float64(side), float64(len(axes)))) {
		at := slices.Clone(hands)
		for _, axis := range axes {
			at[axis] = float64(k%side)*200/float64(max(side-1, 1)) - 100
			k /= side
		}
		points = append(points, at)
	}
	apart := c.apart(of, points)
	order := make([]int, len(points))
	for k := range order {
		order[k] = k
	}
	far := func(k int) float64 {
		sum := 0.0
		for _, axis := range axes {
			sum += math.Abs(points[k][axis] - hands[axis])
		}
		return sum
	}
	slices.SortStableFunc(order, func(a, b int) int { // of equals what lies nearest to rest
		return cmp.Or(cmp.Compare(math.Round(apart[b]/same), math.Round(apart[a]/same)),
			cmp.Compare(far(a), far(b)))
	})
	for _, k := range order[:min(climbs, len(order))] {
		if apart[k] > same {
			c.climb(of, points[k], apart[k], axes, 100/float64(side))
		}
	}
}

// climbs is from how many places of a grid it is climbed.
const climbs = 8

// directions is in how many directions a step of a climb is tried: where two sticks limit each
// other the way up is a ridge that lies across.
const directions = 12

// climb goes to where a function is the most apart near some hands, by steps that become
// shorter where none leads up.
func (c *comparison) climb(of *pair, best signal.Hands, most float64, axes []int, step float64) {
	for tries := 0; step > 1e-4 && tries < 200; tries++ {
		var points []signal.Hands
		turn := c.seeded.Float64()
		for k := range directions {
			angle := 2 * math.Pi * (float64(k) + turn) / directions
			at := slices.Clone(best)
			for i, by := range []float64{math.Cos(angle), math.Sin(angle)}[:len(axes)] {
				at[axes[i]] = min(max(at[axes[i]]+by*step, -100), 100)
			}
			points = append(points, at)
		}
		from := most
		for k, apart := range c.apart(of, points) {
			if apart > most {
				best, most = points[k], apart
			}
		}
		if most == from {
			step /= 2
		}
	}
	c.note(of, most, 0, best, false)
}

// apart gives how far apart it is what a function is asked for, for each of a list of hands.
func (c *comparison) apart(of *pair, points []signal.Hands) []float64 {
	before, after := c.asks[0].targets(of.output, points), c.asks[1].targets(of.afterOutput, points)
	c.ways += len(points)
	for k := range before {
		before[k] = math.Abs(before[k] - after[k])
	}
	return before
}

// asker asks a program at rest what functions would be asked for.
type asker struct {
	p        *signal.Program
	rest, at *signal.State
	lanes    *signal.Lanes
	row      []signal.Hands
	from     []int // of each of its hands, the place in the hands that it is asked with; -1: none
}

// newAsker asks p with hands as another program has them.
func newAsker(p, handed *signal.Program) *asker {
	a := &asker{p: p, rest: p.PowerOn(), at: p.PowerOn(), lanes: p.Lanes(squareSide),
		row: make([]signal.Hands, squareSide)}
	p.Step(a.rest, p.Ready())
	for _, id := range p.HandIDs() {
		hand, ok := handed.Hand(id)
		if !ok || id == "" {
			hand = -1
		}
		a.from = append(a.from, hand)
	}
	return a
}

// own gives hands as the program that is asked has them, in the room of others.
func (a *asker) own(hands, room signal.Hands) signal.Hands {
	if room == nil {
		room = a.p.Rest()
	}
	for i, hand := range a.from {
		if hand >= 0 {
			room[i] = hands[hand]
		}
	}
	return room
}

// targets gives what a function is asked for with each of a list of hands, percent before
// it is slowed, one frame after a rest.
func (a *asker) targets(output int, points []signal.Hands) []float64 {
	list, slot := make([]float64, 0, len(points)), a.p.Routes[output].Target
	for len(points) >= squareSide {
		for l := range a.row {
			a.row[l] = a.own(points[l], a.row[l])
		}
		a.lanes.Begin(a.rest)
		a.lanes.Ask(a.row)
		for l := range squareSide {
			list = append(list, a.lanes.At(l, slot))
		}
		points = points[squareSide:]
	}
	for _, hands := range points {
		a.at.CopyFrom(a.rest)
		a.row[0] = a.own(hands, a.row[0])
		a.p.Ask(a.at, a.row[0])
		list = append(list, a.at.At(slot))
	}
	return list
}

// says says a difference in a sentence, without its full stop.
func (d *Difference) says() string {
	switch {
	case d.Frames == 0 && d.Ways == 0:
		return "changes nothing that moves or is said"
	case d.Frames == 0 && d.Most == 0:
		return fmt.Sprintf("comes to the same places: nothing differed in %s ways of holding the hands; what "+
			"takes time was not compared, since a frame has another length", thousands(d.Ways))
	}
	if d.Most == 0 {
		return fmt.Sprintf("plays the same: nothing differed in %s frames and %s ways of holding the hands",
			thousands(d.Frames), thousands(d.Ways))
	}
	where := []string{}
	if d.Hands != "" {
		where = append(where, "with "+d.Hands)
	}
	if d.Hands == "" && !d.Lost {
		where = append(where, "with the hands at rest")
	}
	if d.Lost {
		where = append(where, "on a lost signal")
	}
	if d.Passing && !d.Lost {
		where = append(where, "at times")
	}
	return strings.TrimSpace(fmt.Sprintf("differs by up to %s %% in %s %s", words.Short(d.Most), d.Of,
		strings.Join(where, ", ")))
}

// thousands writes a count as people read it: 48 000.
func thousands(n int) string {
	if n < 1000 {
		return fmt.Sprint(n)
	}
	return fmt.Sprintf("%s %03d", thousands(n/1000), n%1000)
}

// nearer orders ways by how much differs.
func nearer(a, b Way) int { return cmp.Compare(a.Differs.Most, b.Differs.Most) }
