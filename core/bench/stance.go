package bench

import (
	"maps"
	"math"
	"slices"

	"axtren/core/diagnose"
	"axtren/core/proof"
	"axtren/core/setup"
	"axtren/core/signal"
)

// quickFrames is how many frames are looked ahead where nothing takes time.
const quickFrames = 5

// ahead looks ahead from a moment in worlds in which nothing takes time: what a stance would show.
type ahead struct {
	k      *walker
	guard  *proof.Guard
	memory proof.Memory
	from   signal.Hands
	first  []*signal.State // of the right world, then of each group that has something to show
	now    []*signal.State
	groups []*quick
	rest   []int // faults that are seen by the right world alone
	never  []string
	fine   bool
	// what a stance would show, where somebody asks
	expected map[int]bool
}

// quick is a group in a world in which nothing takes time.
type quick struct {
	p *signal.Program
	// of each fault that was not seen yet, the outputs that it reaches
	outs   [][]int
	faults []int
}

// newAhead makes the worlds that are left to look at.
func (k *walker) newAhead(r *run, seen []bool) *ahead {
	w := k.w
	r.follow()
	a := &ahead{k: k, guard: w.quick, memory: w.guard.Memory(), from: slices.Clone(r.hands)}
	a.first = []*signal.State{w.quick.Program().Carry(w.right, r.st, r.hands)}
	for i, g := range w.groups {
		if g.unplugged {
			for d := range k.s.Devices {
				a.never = append(a.never, g.seer.Device(r.of[i], d))
			}
		}
		q := &quick{p: g.quick}
		for f, outs := range g.outs {
			if !seen[f] && k.missed[f] < mostMissed {
				q.outs, q.faults = append(q.outs, outs), append(q.faults, f)
			}
		}
		if len(q.outs) == 0 {
			continue
		}
		a.groups = append(a.groups, q)
		a.first = append(a.first, q.p.Carry(g.p, r.of[i], r.hands))
	}
	for i := range k.w.faults {
		f := &k.w.faults[i]
		byRight := f.Kind == diagnose.ChannelsExchanged || f.Part().Kind == setup.IsDevice
		if byRight && !seen[i] && !k.w.alone[i] && k.missed[i] < mostMissed {
			a.rest = append(a.rest, i)
		}
	}
	for i, st := range a.first {
		p := w.quick.Program()
		if i > 0 {
			p = a.groups[i-1].p
		}
		room := p.PowerOn()
		room.CopyFrom(st)
		a.now = append(a.now, room)
	}
	return a
}

// gain counts what a stance would show that was not seen yet; -1: it breaks a claim.
func (a *ahead) gain(hands signal.Hands) int {
	if !a.k.can(hands) {
		return -1
	}
	p, st := a.guard.Program(), a.now[0]
	st.CopyFrom(a.first[0])
	a.guard.Remember(a.memory)
	for range quickFrames {
		p.Step(st, hands)
		if a.guard.Step(st) >= 0 {
			return -1
		}
	}
	counts := make([]float64, len(p.Routes))
	for o := range counts {
		counts[o] = display(p, st, o)
	}
	n := 0
	for i, g := range a.groups {
		now := a.now[i+1]
		now.CopyFrom(a.first[i+1])
		for range quickFrames {
			g.p.Step(now, hands)
		}
		for f, outs := range g.outs {
			if slices.ContainsFunc(outs, func(o int) bool { return display(g.p, now, o) != counts[o] }) {
				n++
				a.expects(g.faults[f])
			}
		}
	}
	return n + a.byRight(p, st, counts)
}

// can tells whether a person has hands enough for a stance.
func (k *walker) can(hands signal.Hands) bool { return k.hands == 0 || k.held(hands) <= k.hands }

// held counts the things that spring back and are held: a stick is one, whichever way it is pushed.
func (k *walker) held(hands signal.Hands) int {
	var list []string
	rest := k.w.right.Rest()
	for i := range k.s.Transmitter.Controls {
		c := &k.s.Transmitter.Controls[i]
		one := string(c.ID)
		if c.Stick != "" {
			one = "stick " + string(c.Stick)
		}
		if c.Springs() && hands[i] != rest[i] && !slices.Contains(list, one) {
			list = append(list, one)
		}
	}
	return len(list)
}

// expects notes that a stance would show a fault, where somebody asks.
func (a *ahead) expects(fault int) {
	if a.expected != nil {
		a.expected[fault] = true
	}
}

// byRight counts what the right world alone lets expect: devices do what they do while their pulses last.
func (a *ahead) byRight(p *signal.Program, st *signal.State, counts []float64) (n int) {
	if len(a.rest) == 0 {
		return 0
	}
	w := a.k.w
	us, own := make([]float64, len(w.pins)), make([]string, len(w.pins))
	for d, ref := range w.pins {
		us[d] = st.At(p.Pins[ref.Receiver][ref.Pin].US)
	}
	does := func(d, on int) string {
		bits := math.Float64bits(us[on])
		says, known := w.does[d][bits]
		if !known {
			if v, ok := p.Does(d, us[on]); ok {
				says = diagnose.SaysOf(&a.k.s.Devices[d], v)
			}
			w.does[d][bits] = says
		}
		if says == "" { // it depends on what was before
			says = w.seer.Of(p, st, on)
		}
		return says
	}
	itself := func(d int) string {
		if own[d] == "" {
			own[d] = does(d, d)
		}
		return own[d]
	}
	for _, i := range a.rest {
		f := &w.faults[i]
		x, y := f.Places()
		var shown bool
		switch f.Kind {
		case diagnose.ChannelsExchanged:
			shown = counts[x] != counts[y]
		case diagnose.Crossed:
			shown = itself(x) == diagnose.Plus || itself(x) == diagnose.Minus
		case diagnose.Unplugged:
			shown = a.never != nil && itself(x) != a.never[x]
		default:
			shown = us[x] != us[y] && (does(x, y) != itself(x) || does(y, x) != itself(y))
		}
		if shown {
			n++
			a.expects(i)
		}
	}
	return n
}

// places lists where a control can be put; fine: a lever at many places.
func places(c *setup.Control, fine bool) []float64 {
	var list []float64
	switch {
	case c.Switch == nil && fine:
		for v := -100.0; v <= 100; v += 4 {
			list = append(list, v)
		}
		return list
	case c.Switch == nil:
		list = []float64{100, -100, 50, -50, c.Axis.Rest()}
		if !slices.Contains(list, 0) {
			list = append(list, 0)
		}
		return list
	}
	for at := range c.Switch.Positions {
		list = append(list, float64(at))
	}
	return list
}

// best finds the stance that shows most of what was not seen yet, by moving one control after the other for
// as long as that shows more: from how the hands are, and from all levers at an end. What need not be moved
// for that is left where it was.
func (k *walker) best(r *run, seen []bool) []stop { return k.climbs(r, seen, k.starts(r), false) }

// gripped is best from where one hand holds a button and the other one pushes a stick.
func (k *walker) gripped(r *run, seen []bool) []stop {
	if k.hands == 0 {
		return nil // best has them all at once
	}
	var list []signal.Hands
	for _, i := range k.switches(seen) {
		for _, v := range places(&k.s.Transmitter.Controls[i], false) {
			if !k.s.Transmitter.Controls[i].Springs() || v == k.w.right.Rest()[i] {
				continue
			}
			for _, stick := range k.sticks() {
				one := k.pushed(slices.Clone(k.w.first), stick)
				one[i] = v
				list = append(list, one)
			}
		}
	}
	return k.climbs(r, seen, list, false)
}

// pushed pushes a stick, one way less far than the other.
func (k *walker) pushed(hands signal.Hands, stick []int) signal.Hands {
	for n, j := range stick {
		hands[j] = 100 - float64(n)*15
	}
	return hands
}

// sticks lists the levers that one hand moves together.
func (k *walker) sticks() (list [][]int) {
	at := map[setup.Name]int{}
	for i := range k.s.Transmitter.Controls {
		c := &k.s.Transmitter.Controls[i]
		if c.Axis == nil || !c.Springs() {
			continue
		}
		if n, known := at[c.Stick]; known && c.Stick != "" {
			list[n] = append(list[n], i)
			continue
		}
		at[c.Stick] = len(list)
		list = append(list, []int{i})
	}
	return list
}

// finer is best with levers at many places.
func (k *walker) finer(r *run, seen []bool) []stop {
	starts := k.starts(r)[:1] // there is little left, and many places
	if k.hands > 0 {
		starts = append(starts, slices.Clone(k.w.first))
	}
	return k.climbs(r, seen, starts, true)
}

// climbs climbs from some stances, and gives the best of what is found; nil: nothing more is shown.
func (k *walker) climbs(r *run, seen []bool, starts []signal.Hands, fine bool) []stop {
	a, most := k.newAhead(r, seen), 0
	a.fine = fine
	var best signal.Hands
	for _, start := range starts {
		hands, gain := a.climb(start)
		if gain > most {
			best, most = hands, gain
		}
	}
	if most == 0 {
		return nil
	}
	a.relax(best, most)
	a.expected = map[int]bool{}
	a.gain(best)
	return []stop{{hands: best, look: true, shows: slices.Collect(maps.Keys(a.expected))}}
}

// mostMissed is how often a fault may be expected at a look and not be seen there, before it is expected no
// more.
const mostMissed = 3

// starts are the hands as they are, and with all levers at one end, further ones less far, so that two
// functions seldom show the same.
func (k *walker) starts(r *run) []signal.Hands {
	list := []signal.Hands{slices.Clone(r.hands)}
	for _, way := range []float64{1, -1} {
		one := slices.Clone(r.hands)
		n := 0
		for i := range k.s.Transmitter.Controls {
			if c := &k.s.Transmitter.Controls[i]; c.Axis != nil && (k.hands == 0 || c.Stick != "" || !c.Springs()) {
				one[i] = way * (100 - float64(n%4)*15)
				n++
			}
		}
		if n > 0 {
			list = append(list, one)
		}
	}
	if k.hands > 0 { // where both hands are full, another lever is reached from rest alone
		for _, stick := range k.sticks() {
			list = append(list, k.pushed(slices.Clone(k.w.first), stick))
		}
	}
	return list
}

// climb moves one control after the other to where most is shown.
func (a *ahead) climb(hands signal.Hands) (signal.Hands, int) {
	now := a.gain(hands)
	for more := true; more && a.k.ctx.Err() == nil; {
		more = false
		for i := range a.k.s.Transmitter.Controls {
			at := hands[i]
			best := at
			for _, v := range places(&a.k.s.Transmitter.Controls[i], a.fine) {
				if v == at {
					continue
				}
				hands[i] = v
				if gain := a.gain(hands); gain > now {
					now, best, more = gain, v, true
				}
			}
			hands[i] = best
		}
	}
	return hands, max(now, 0)
}

// relax puts back what need not be moved.
func (a *ahead) relax(hands signal.Hands, gain int) {
	rest := a.k.w.right.Rest()
	for i := range a.k.s.Transmitter.Controls {
		at, back := hands[i], []float64{a.from[i], rest[i]}
		if a.k.s.Transmitter.Controls[i].Springs() { // nobody has to hold it
			slices.Reverse(back)
		}
		for _, v := range back {
			if hands[i] == v {
				break
			}
			if hands[i] = v; a.gain(hands) >= gain {
				break
			}
			hands[i] = at
		}
	}
}

// left tells whether a world can show anything that was not seen yet.
func (k *walker) left(seen []bool) bool {
	for f := range seen {
		if !seen[f] && !k.w.alone[f] {
			return true
		}
	}
	return false
}

// waited moves one control alone, or none, and looks whether anything comes to be seen while a person waits.
func (k *walker) waited(r *run, seen []bool) []stop {
	hands := slices.Clone(r.hands)
	try := func() []stop {
		if !k.can(hands) {
			return nil
		}
		one := stop{hands: slices.Clone(hands), look: true}
		before := r.keep()
		defer r.back(before)
		if one.at = k.passing(r, &one, seen); one.at == 0 {
			return nil
		}
		return []stop{one}
	}
	if way := try(); way != nil {
		return way
	}
	for i := range k.s.Transmitter.Controls {
		at := hands[i]
		for _, v := range places(&k.s.Transmitter.Controls[i], false) {
			if hands[i] = v; v != at && k.ctx.Err() == nil {
				if way := try(); way != nil {
					return way
				}
			}
		}
		hands[i] = at
	}
	return nil
}

// pressFrames is how long a button is held that is pressed and let go.
const pressFrames = 10

// pressed throws a switch, or presses a button and lets go of it, for a moment or until what waits for it is
// over, alone and after another switch was thrown, and looks what a stance then shows.
func (k *walker) pressed(r *run, seen []bool) []stop {
	switches := k.switches(seen)
	var holds []int
	for _, n := range []int{pressFrames, k.frames(k.holdS()) + pressFrames} {
		if !slices.Contains(holds, n) {
			holds = append(holds, n)
		}
	}
	thrown := func(hands signal.Hands, more func(hands signal.Hands, control int) []stop) []stop {
		for _, i := range switches {
			for _, v := range places(&k.s.Transmitter.Controls[i], false) {
				if v == hands[i] || k.ctx.Err() != nil {
					continue
				}
				on := slices.Clone(hands)
				on[i] = v
				if !k.can(on) {
					continue
				}
				if way := more(on, i); way != nil {
					return way
				}
			}
		}
		return nil
	}
	press := func(before []stop) func(on signal.Hands, i int) []stop {
		return func(on signal.Hands, i int) []stop {
			off := slices.Clone(on)
			if k.s.Transmitter.Controls[i].Springs() {
				off[i] = k.w.right.Rest()[i]
			}
			for _, hold := range holds {
				way := append(slices.Clone(before), stop{hands: on, pause: hold}, stop{hands: off, pause: pressFrames})
				if way = k.after(r, seen, way); way != nil {
					return way
				}
			}
			return nil
		}
	}
	if way := thrown(r.hands, press(nil)); way != nil {
		return way
	}
	return thrown(r.hands, func(first signal.Hands, i int) []stop {
		if k.s.Transmitter.Controls[i].Springs() {
			return nil
		}
		return thrown(first, func(on signal.Hands, j int) []stop {
			if i == j || !k.s.Transmitter.Controls[j].Springs() {
				return nil
			}
			return press([]stop{{hands: first, pause: 1}})(on, j)
		})
	})
}

// switches lists the switches that decide anything that was not seen yet.
func (k *walker) switches(seen []bool) (list []int) {
	for i := range k.s.Transmitter.Controls {
		if k.s.Transmitter.Controls[i].Switch != nil && k.decides(i, seen) {
			list = append(list, i)
		}
	}
	return list
}

// decides tells whether a control decides anything that was not seen yet.
func (k *walker) decides(control int, seen []bool) bool {
	for f := range seen {
		if seen[f] || k.w.alone[f] {
			continue
		}
		for _, o := range k.w.of[f] {
			if k.w.behind[o][setup.IsControl.At(control)] {
				return true
			}
		}
	}
	return false
}

// holdS is the longest time for which a block waits before it is on, seconds.
func (k *walker) holdS() (s float64) {
	for i := range k.s.Logic {
		if k.s.Logic[i].Block == "ton" {
			s = max(s, k.s.Logic[i].DelayS())
		}
	}
	return min(s, settlesS)
}

// after gives a way that begins with some stops and ends with a stance that shows something; nil: there is
// none.
func (k *walker) after(r *run, seen []bool, stops []stop) []stop {
	before := r.keep()
	defer r.back(before)
	for i := range stops {
		if fine, broken := k.play(r, &stops[i], seen); !fine || broken >= 0 {
			return nil
		}
	}
	way := k.best(r, seen)
	if way == nil {
		last := stop{hands: slices.Clone(r.hands), look: true}
		if last.at = k.passing(r, &last, seen); last.at == 0 {
			return nil
		}
		way = []stop{last}
	}
	return append(stops, way...)
}

// returned moves a control, waits until that is over, moves it back, and looks what comes to be seen on the
// way, where anything takes time.
func (k *walker) returned(r *run, seen []bool) []stop {
	if k.longest == 0 {
		return nil
	}
	for i := range k.s.Transmitter.Controls {
		if !k.decides(i, seen) {
			continue
		}
		for _, v := range places(&k.s.Transmitter.Controls[i], false) {
			there := slices.Clone(r.hands)
			there[i] = v
			if v == r.hands[i] || k.ctx.Err() != nil || !k.can(there) {
				continue
			}
			way := []stop{{hands: there, pause: k.frames(lookS + k.longest)}, {hands: slices.Clone(r.hands), pause: 1}}
			if way = k.after(r, seen, way); way != nil {
				return way
			}
		}
	}
	return nil
}

// mostWoken bounds in how many ways it is looked for what shows after power comes.
const mostWoken = 12

// woken switches the transmitter off and on, or the receivers: as all was at first, and with a switch or a
// lever that stays at another place; and looks what then comes to be seen.
func (k *walker) woken(r *run, seen []bool) []stop {
	ready := []signal.Hands{k.w.first}
	for i := range k.s.Transmitter.Controls {
		c := &k.s.Transmitter.Controls[i]
		for _, v := range places(c, false) {
			if one := slices.Clone(k.w.first); !c.Springs() && v != one[i] && len(ready) < mostWoken {
				one[i] = v
				ready = append(ready, one)
			}
		}
	}
	powers := [][]int{{k.hand("transmitter")}}
	if len(k.s.Receivers) > 0 {
		powers = append(powers, k.power[2:])
	}
	for _, on := range ready {
		for _, power := range powers {
			if k.ctx.Err() != nil {
				return nil
			}
			off := slices.Clone(on)
			for _, hand := range power {
				off[hand] = 0
			}
			again := []stop{{hands: off, pause: k.frames(lookS)}, {hands: on, pause: 1}}
			if way := k.after(r, seen, again); way != nil {
				return way
			}
		}
	}
	return nil
}

// So far, and so often, it is looked for how what a mix waits for can be brought about.
const (
	reachSteps = 20_000
	mostAsked  = 2
)

// reached brings about what a mix waits for of which a fault was not seen yet.
func (k *walker) reached(r *run, seen []bool) []stop {
	for f := range seen {
		part := k.w.faults[f].Part()
		if seen[f] || k.w.alone[f] || part.Kind != setup.IsMix || k.ctx.Err() != nil {
			continue
		}
		when := k.s.Mixes[part.Index].When
		if when == nil || k.asked[*when] >= mostAsked {
			continue
		}
		k.asked[*when]++
		if way := k.brings(r, seen, setup.Condition{Truth: *when}); way != nil {
			return way
		}
	}
	return nil
}

// deed is something that a device can be seen to do, by its key.
type deed struct {
	device int
	does   string
}

// got gets a device of which a fault was not seen yet to do what it can do and was not seen to do: a
// controller that waits for its neutral is shown that first. Of leads that are exchanged, stances tell as
// much where what a device does depends on its pulse alone.
func (k *walker) got(r *run, seen []bool) []stop {
	sights := diagnose.SightsOf(k.w.right).Devices
	for f := range seen {
		part := k.w.faults[f].Part()
		if seen[f] || k.w.alone[f] || part.Kind != setup.IsDevice {
			continue
		}
		a, b := k.w.faults[f].Places()
		for i := range sights {
			d := k.s.Item(setup.ID(sights[i].ID)).Index
			_, direct := k.w.right.Does(d, k.s.Transmitter.Pulse.CentreUS)
			if d != a && d != b || direct && k.w.faults[f].Kind == diagnose.LeadsExchanged {
				continue
			}
			for _, one := range sights[i].Says {
				want := deed{d, one.Key}
				goal, ok := diagnose.Goal(k.w.right, d, one.Key)
				if !ok || k.wanted[want] || k.ctx.Err() != nil {
					continue
				}
				k.wanted[want] = true
				if way := k.brings(r, seen, goal); way != nil {
					return way
				}
			}
		}
	}
	return nil
}

// brings brings a condition about, from now.
func (k *walker) brings(r *run, seen []bool, goal setup.Condition) []stop {
	now := k.w.right.PowerOn()
	now.CopyFrom(r.st)
	v, _ := proof.ReachFrom(k.ctx, k.s, []setup.Condition{goal}, proof.Moment{Program: k.w.right, State: now},
		k.budget.Within(reachSteps))
	if v.Verdict != proof.Holds {
		return nil
	}
	stops := k.stops(r, v.Rows)
	if stops == nil {
		return nil
	}
	return k.after(r, seen, stops)
}

// stops makes stops of rows that go on from now; nil where they move something else than controls.
func (k *walker) stops(r *run, rows []proof.Row) (list []stop) {
	hands := slices.Clone(r.hands)
	for i := range rows {
		if k.s.Item(setup.ID(rows[i].Control)).Kind != setup.IsControl {
			return nil
		}
		v, err := k.w.right.HandValue(rows[i].Control, rows[i].Value)
		if err != nil {
			return nil
		}
		hand, _ := k.w.right.Hand(rows[i].Control)
		hands[hand] = v
		if i+1 < len(rows) && rows[i+1].Frame == rows[i].Frame {
			continue
		}
		if !k.can(hands) {
			return nil
		}
		one := stop{hands: slices.Clone(hands), pause: 1}
		if i+1 < len(rows) {
			one.pause = rows[i+1].Frame - rows[i].Frame
		}
		list = append(list, one)
	}
	return list
}
