package proof

import (
	"context"
	"errors"
	"fmt"
	"math"
	"slices"

	"axtren/core/setup"
	"axtren/core/signal"
)

// system is what decides a claim, ready to be searched: a program, all ways in which the hands can stand that
// it tells apart, and what watches each frame.
type system struct {
	all     *setup.Setup // the whole document, with a block for each condition
	s       *setup.Setup // what decides the claim and nothing else
	p       *signal.Program
	compile func(*setup.Setup) (*signal.Program, error)
	ids     []string     // of each hand
	rest    signal.Hands // where they are before the first frame, or as the search begins
	begun   *begun       // where the search begins; nil: with power-on
	claimed *claimed
	watch   *monitor
	kept    []signal.Slot // what of a frame decides what comes
	waits   []signal.Wait // counts among these
	dims    []dim
	ways    int    // how many ways in which the hands can stand
	first   []int  // those that a run can begin with
	once    bool   // only the first frame matters
	exact   bool   // the ways are all that can be told apart
	blind   bool   // nor are they with spans for outputs that are slow
	why     string // why not
	// looks for a run that shows what is forbidden, with all times shortened; nil: it is not looked for
	hurries func(ctx context.Context, budget Budget) *Verdict
}

// dim is a control, or some that are looked at together, with all the values that are told apart.
type dim struct {
	hands  []int
	values [][]float64
	parts  [][]signal.Span // of each value, the parts of the travel that it stands for; nil: itself alone
	stride int
}

func (y *system) digit(way int, d *dim) int { return way / d.stride % len(d.values) }

// mostWays bounds the ways in which hands can stand.
const mostWays = 1 << 16

var errTooMany = errors.New("the controls can stand in too many ways: say less in one claim, or of " +
	"fewer controls")

var errTooLong = errors.New("it is about more time than 65 534 frames: make that shorter")

// begun is a run that went on for a while before the search begins.
type begun struct {
	rows  []Row
	frame int           // the last of it
	st    *signal.State // in that frame
	live  *Moment       // what is played now, instead of rows
	cuts  bool          // of what is played now: signal and power can be cut too
}

// newSystem compiles what decides a claim; after is what was done before the search begins, nil where it
// begins with power-on.
func newSystem(s *setup.Setup, claim *setup.Claim, after *begun) (*system, error) {
	y := &system{exact: true}
	return y, y.ready(y.claim(s, claim), after)
}

// ready compiles what decides a claim that was read.
func (y *system) ready(power bool, after *begun) error {
	watch, err := y.parts()
	if err != nil {
		return err
	}
	if y.claimed.tooLong {
		return errTooLong
	}
	return y.build(watch, power, after)
}

// build compiles what decides some parts, and finds all ways in which the hands can stand.
func (y *system) build(watch []setup.Item, power bool, after *begun) (err error) {
	y.s = y.all.Cone(watch...)
	if y.once = y.claimed.kind == watchStart && !power; y.once {
		y.s = y.s.AtOnce() // in the first frame all is where it makes for
	}
	if y.compile == nil {
		y.compile = signal.Compile
	}
	if y.p, err = y.compile(y.s); err != nil {
		return err
	}
	y.ids, y.rest = y.p.HandIDs(), y.p.Rest()
	if after != nil {
		y.play(after)
	}
	y.watch = y.claimed.on(y.p, y.s)
	return y.hands(power, y.decides(power))
}

// claim reads a claim, and tells whether the power is turned off and on in its runs.
func (y *system) claim(s *setup.Setup, claim *setup.Claim) (power bool) {
	c := &claimed{}
	var truths []setup.Truth
	ask := func(cond setup.Condition) {
		a := asked{test: testOf(&cond)}
		switch {
		case cond.Output != nil:
			a.output = *cond.Output
		case cond.Device != nil:
			a.device = *cond.Device
			power = true
		default:
			truths = append(truths, cond.Truth)
		}
		c.asks = append(c.asks, a)
	}
	switch {
	case claim.Never != nil:
		for _, cond := range *claim.Never {
			ask(cond)
		}
	case claim.Reachable != nil:
		ask(*claim.Reachable)
	case claim.AtStart != nil:
		c.kind, c.output = watchStart, claim.AtStart.Output
		c.stands = near(claim.AtStart.Value, claim.AtStart.Within)
	case claim.OnLoss != nil:
		c.kind, c.output, c.cut = watchLoss, claim.OnLoss.Output, claim.OnLoss.Cut != nil
		if claim.OnLoss.Value != nil {
			within := 0.0
			if claim.OnLoss.Within != nil {
				within = *claim.OnLoss.Within
			}
			c.stands = near(*claim.OnLoss.Value, within)
		}
		for _, ref := range s.Carriers(s.Item(c.output).Index) {
			c.needs = append(c.needs, c.count(signal.FramesIn(s.Receivers[ref.Receiver].LossAfterS,
				s.Transmitter.FrameS())))
			c.frames = max(c.frames, c.needs[len(c.needs)-1])
		}
	case claim.OnlyWhen != nil:
		c.kind = watchOnlyWhen
		ask(setup.Condition{Truth: claim.OnlyWhen.Changes})
		ask(claim.OnlyWhen.While)
	case claim.LeadsTo != nil:
		c.kind = watchLeadsTo
		c.frames = c.count(math.Floor((claim.LeadsTo.WithinS + dust) / s.Transmitter.FrameS()))
		ask(claim.LeadsTo.When)
		ask(claim.LeadsTo.Then)
	}
	all, gates := s.Seen(truths...)
	for i := range c.asks {
		if c.asks[i].output == "" && c.asks[i].device == "" {
			c.asks[i].gate, gates = gates[0], gates[1:]
		}
	}
	y.all, y.claimed = all, c
	return power || s.Keeps()
}

// near is to stand at a value.
func near(value, within float64) test {
	return test{least: value - within - dust, most: value + within + dust}
}

// parts lists what a claim speaks of.
func (y *system) parts() ([]setup.Item, error) {
	var list []setup.Item
	for _, a := range y.claimed.asks {
		for _, id := range []setup.ID{a.gate, a.output, a.device} {
			if id != "" {
				list = append(list, y.all.Item(id))
			}
		}
	}
	if y.claimed.output != "" {
		out := y.all.Item(y.claimed.output)
		list = append(list, out)
		if y.claimed.kind == watchLoss {
			for _, ref := range y.all.Carriers(out.Index) {
				list = append(list, ref.Item())
			}
		}
	}
	for _, part := range list {
		if part.Kind == 0 {
			return nil, errors.New("something that it speaks of is not in the model any more")
		}
	}
	return list, nil
}

// decides finds what of a frame decides what is watched later, and which hands do.
func (y *system) decides(power bool) (moved map[int]bool) {
	p := y.p
	var slots []signal.Slot
	for _, c := range y.watch.conds {
		slots = append(slots, c.slot, c.known)
	}
	for _, b := range y.watch.boths {
		for _, slot := range []signal.Slot{b.a, b.b} {
			if slot != signal.None {
				slots = append(slots, slot)
			}
		}
	}
	for i, pin := range y.watch.pins {
		ref := y.watch.refs[i]
		if mode, _ := signal.LossOf(y.s, ref); mode == "hold" {
			slots = append(slots, pin)
			continue
		}
		heard, lost := p.Hears(ref.Receiver) // what it goes to has nothing to do with what arrived
		slots = append(slots, heard, lost)
	}
	if y.claimed.kind == watchStart {
		slots = append(slots, y.watch.at)
	}
	moved, seen := map[int]bool{}, map[signal.Slot]bool{}
	for len(slots) > 0 {
		kept, hands := p.DependsOn(slots...)
		slots = nil
		for _, hand := range hands {
			moved[hand] = true
		}
		for _, slot := range kept {
			if !seen[slot] {
				seen[slot] = true
				slots = append(slots, slot)
			}
		}
	}
	delete(seen, p.FirstSlot()) // it is found anew in every frame
	delete(seen, p.OddSlot())
	if power || y.begun != nil {
		seen[p.SendingSlot()] = true
	}
	if len(y.s.Link.HalfRate) > 0 && len(y.s.Receivers) > 0 {
		seen[p.OddSlot()] = true
	}
	for slot := range seen {
		y.kept = append(y.kept, slot)
	}
	slices.Sort(y.kept)
	for _, w := range p.Waits() {
		if w.Need > 2 && seen[w.Count] {
			y.waits = append(y.waits, w)
		}
	}
	return moved
}

// hands finds the ways in which the hands can stand that are told apart.
func (y *system) hands(power bool, moved map[int]bool) error {
	p := y.p
	checked := map[setup.ID]bool{}
	for _, e := range y.s.StartCheck {
		checked[e.Control] = true
	}
	theirs := map[setup.ID]bool{} // what the start check of another setup looks at
	if y.claimed.other != nil {
		for _, e := range slices.Concat(y.s.StartCheck, y.claimed.other.Setup().StartCheck) {
			theirs[e.Control] = true
		}
	}
	ready := p.Ready()
	if y.begun != nil {
		ready = y.rest
	}
	axes := &axes{y: y, cuts: map[signal.Slot][]cut{}}
	for i, c := range y.s.Transmitter.Controls {
		hand, _ := p.Hand(string(c.ID))
		switch looked := moved[hand] || theirs[c.ID] || (power || y.begun != nil) && checked[c.ID]; {
		case !looked: // it is put once where the start check asks for it, and stays
			y.add(dim{hands: []int{hand}, values: [][]float64{{ready[hand]}}})
		case c.Axis != nil:
			axes.hands = append(axes.hands, hand)
		default:
			y.add(dim{hands: []int{hand}, values: y.positions(i, int(y.rest[hand]), theirs[c.ID])})
		}
	}
	if err := axes.find(); err != nil {
		return err
	}
	y.others(power)
	y.ways = 1
	for i := range y.dims {
		y.dims[i].stride = y.ways
		if y.ways *= len(y.dims[i].values); y.ways > mostWays {
			return errTooMany
		}
	}
	return y.begin()
}

func (y *system) add(d dim) { y.dims = append(y.dims, d) }

// positions gives the positions of a switch that are told apart: those that something looks at, and one of
// the others, where it begins if that is among them; every one where each counts.
func (y *system) positions(control, begins int, each bool) [][]float64 {
	item := setup.IsControl.At(control)
	sw := y.s.Transmitter.Controls[control].Switch
	looked := map[int]bool{}
	for e := range y.s.Graph().To(item) {
		switch e.Role {
		case setup.ReadsTruth:
			looked[e.Sub] = true
		default:
			for i := range sw.Positions {
				looked[i] = true
			}
		}
	}
	other := -1
	for i := range sw.Positions {
		if !looked[i] && (other < 0 || i == begins) {
			other = i
		}
	}
	var values [][]float64
	for i := range sw.Positions {
		if looked[i] || each || i == other {
			values = append(values, []float64{float64(i)})
		}
	}
	return values
}

// others adds the link, and what is turned off and on, and where servos were left.
func (y *system) others(power bool) {
	for hand, id := range y.ids {
		onOff := [][]float64{{1}, {0}}
		if y.begun != nil && y.begun.live != nil && !y.begun.cuts && y.rest[hand] == 1 {
			onOff = onOff[:1]
		}
		item := y.s.Item(setup.ID(id))
		switch {
		case id == "link" && len(y.s.Receivers) > 0, id == "transmitter" && power,
			item.Kind == setup.IsReceiver && power:
			y.add(dim{hands: []int{hand}, values: onOff})
		case item.Kind == setup.IsDevice && y.begun == nil:
			y.inexact(y.s.Label(item)+" may have been left anywhere", true)
			y.add(dim{hands: []int{hand}, values: [][]float64{{signal.NotChosen}, {-150}, {-100}, {0}, {100}, {150}}})
		}
	}
}

// inexact notes why not all that can be told apart is looked at; blind: nor with spans.
func (y *system) inexact(why string, blind bool) {
	y.blind = y.blind || blind
	if y.exact {
		y.exact, y.why = false, why
	}
}

// begin lists the ways that a run can begin with: sprung controls at rest, all on, the start check met.
func (y *system) begin() error {
	if y.begun != nil {
		y.first = []int{y.standing()}
		return nil
	}
	rest := y.rest
	sprung := make([]bool, len(rest))
	for i := range sprung {
		sprung[i] = true
		item := y.s.Item(setup.ID(y.ids[i]))
		switch item.Kind {
		case setup.IsDevice:
			sprung[i] = false
		case setup.IsControl:
			c := y.s.Transmitter.Controls[item.Index]
			sprung[i] = c.Springs()
		}
	}
	hands := make(signal.Hands, len(rest))
	st := y.p.PowerOn()
	for way := range y.ways {
		y.put(way, hands)
		ok := true
		for i, v := range hands {
			ok = ok && (!sprung[i] || v == rest[i])
		}
		if !ok {
			continue
		}
		st.CopyFrom(y.p.PowerOn())
		if y.p.Step(st, hands); y.p.Sending(st) || y.watch.other != nil && y.watch.meets(st) {
			y.first = append(y.first, way)
		}
	}
	if y.first == nil {
		return fmt.Errorf("no run begins: the start check is met by no position of %s", y.s.Name)
	}
	return nil
}

// play plays what was done before the search begins.
func (y *system) play(after *begun) {
	y.begun = after
	if after.live != nil {
		for hand, id := range y.ids {
			if theirs, ok := after.live.Program.Hand(id); ok {
				y.rest[hand] = after.live.State.At(after.live.Program.HandSlot(theirs))
			}
		}
		after.st = y.p.Carry(after.live.Program, after.live.State, y.rest)
		y.p.Fold(after.st)
		return
	}
	st, hands := y.p.PowerOn(), y.rest
	for frame, next := 0, 0; frame <= after.frame; frame++ {
		for ; next < len(after.rows) && after.rows[next].Frame <= frame; next++ {
			row := &after.rows[next]
			if hand, ok := y.p.Hand(row.Control); ok { // of what nothing looks at there is none
				hands[hand], _ = y.p.HandValue(row.Control, row.Value)
			}
		}
		y.p.Step(st, hands)
	}
	y.p.Fold(st)
	after.st = st
}

// standing gives the way in which the hands are as the search begins: each dim has that among its values.
func (y *system) standing() int {
	way := 0
	for i := range y.dims {
		d := &y.dims[i]
		for k, v := range d.values {
			same := true
			for n, hand := range d.hands {
				same = same && v[n] == y.rest[hand]
			}
			if same {
				way += k * d.stride
			}
		}
	}
	return way
}

// put puts the hands as a way has them.
func (y *system) put(way int, hands signal.Hands) {
	copy(hands, y.rest)
	for i := range y.dims {
		d := &y.dims[i]
		for n, v := range d.values[y.digit(way, d)] {
			hands[d.hands[n]] = v
		}
	}
}
