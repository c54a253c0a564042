package bench

import (
	"runtime"
	"slices"
	"sync"
	"sync/atomic"

	"axtren/core/diagnose"
	"axtren/core/proof"
	"axtren/core/setup"
	"axtren/core/signal"
)

// worlds are the model as it should be and as it is with each of its single faults, running side by side.
// Faults that no output has in common run in one world together: what one output then shows is due to the
// one fault that reaches it. What exchanges channels, or is crossed, needs no world of its own.
type worlds struct {
	s      *setup.Setup
	guard  *proof.Guard
	quick  *proof.Guard // of the setup in which nothing takes time
	right  *signal.Program
	ids    []string            // of each hand
	first  signal.Hands        // at power-on
	feeds  [][]int             // of each device, the outputs whose pulses it gets
	pins   []setup.PinRef      // of each device
	does   []map[uint64]string // of each device, what a pulse of these bits makes it do, as far as it was asked
	seer   *diagnose.Seer
	faults []diagnose.Fault
	groups []*group
	alone  []bool                // of each fault: no group shows it, it is only played with the walk
	behind []map[setup.Item]bool // of each output, the parts that it is made of
	of     [][]int               // of each fault, the outputs that it reaches
	some   []setup.ID            // the devices that the walk is of; nil: all
	only   []bool                // of each device, whether it is one of them; nil: all are
	in     []int                 // of each fault, the group that shows it; -1: none alone does
	why    []string              // of each fault that nothing can show, why
	pinned []bool                // of each device: another device is seen by it
}

// group is a world with some faults.
type group struct {
	p     *signal.Program
	quick *signal.Program // of the same setup, in which nothing takes time; nil where it only hears
	seer  *diagnose.Seer
	// it only hears what the right transmitter sends
	hears bool
	// of each fault in it, the outputs that it reaches
	outs map[int][]int
	// and the devices on these; mixed: another fault reaches one of them too
	fed   map[int][]int
	mixed map[int]bool
	// of each device, whose pin it hangs on, for leads that are exchanged; -1: on its own
	from []int
	// nothing is plugged in
	unplugged bool
	// of one fault, by itself
	own bool
}

// run is a moment of all worlds.
type run struct {
	w     *worlds
	frame int // the next one
	hands signal.Hands
	was   signal.Hands // in the frame before
	rows  []proof.Row  // what moved so far
	st    *signal.State
	of    []*signal.State // of each group
	out   []bool          // groups that are left out, for a while
	// frames of the right world that the others have not played yet
	behind []frame
}

// rightWorld makes the right one alone.
func rightWorld(s *setup.Setup) (*worlds, error) {
	guard, err := proof.NewGuard(s)
	if err != nil {
		return nil, err
	}
	w := &worlds{s: s, guard: guard, right: guard.Program(), behind: diagnose.Behind(s)}
	w.seer, w.ids = diagnose.NewSeer(w.right), w.right.HandIDs()
	for i := range s.Devices {
		w.pins, w.feeds = append(w.pins, s.DevicePin(i)), append(w.feeds, feeding(s, i))
	}
	w.first = w.starts()
	return w, nil
}

// newWorlds makes the worlds of all single faults, or of those that some devices can show.
func newWorlds(s *setup.Setup, only []setup.ID) (*worlds, error) {
	w, err := rightWorld(s)
	if err != nil {
		return nil, err
	}
	if w.some = only; only != nil {
		w.only = make([]bool, len(s.Devices))
		for i := range s.Devices {
			w.only[i] = slices.Contains(only, s.Devices[i].ID)
		}
	}
	if w.quick, err = proof.NewGuard(s.AtOnce()); err != nil {
		return nil, err
	}
	w.faults, w.does = diagnose.Singles(s), make([]map[uint64]string, len(s.Devices))
	for d := range w.does {
		w.does[d] = map[uint64]string{}
	}
	w.faults = slices.DeleteFunc(w.faults, func(f diagnose.Fault) bool { return !w.concerns(&f) })
	w.alone, w.why, w.in = make([]bool, len(w.faults)), make([]string, len(w.faults)), make([]int, len(w.faults))
	w.of = make([][]int, len(w.faults))
	for f := range w.faults {
		w.in[f] = -1
		w.why[f], w.of[f] = hidden(s, &w.faults[f]), w.reached(&w.faults[f])
	}
	w.pinned = make([]bool, len(s.Devices))
	for i := range s.Devices {
		if on := s.Item(setup.ID(s.Devices[i].On)); on.Kind == setup.IsDevice {
			w.pinned[on.Index] = true
		}
	}
	w.byOutput()
	w.unplugged()
	w.leads()
	return w, nil
}

// concerns tells whether a fault may be seen at a device that the walk is of.
func (w *worlds) concerns(f *diagnose.Fault) bool {
	if w.only == nil {
		return true
	}
	if a, b := f.Places(); f.Part().Kind == setup.IsDevice && (w.only[a] || b >= 0 && w.only[b]) {
		return true
	}
	reached := w.reached(f)
	for d, its := range w.only {
		if its && slices.ContainsFunc(w.feeds[d], func(o int) bool { return slices.Contains(reached, o) }) {
			return true
		}
	}
	return false
}

// reached lists the outputs that a fault reaches, or whose pins it is about.
func (w *worlds) reached(f *diagnose.Fault) (list []int) {
	a, b := f.Places()
	part := f.Part()
	if part.Kind == setup.IsDevice {
		if list = w.feeds[a]; b >= 0 {
			list = append(slices.Clone(list), w.feeds[b]...)
		}
		return list
	}
	if f.Kind == diagnose.ChannelsExchanged {
		return []int{a, b} // what others make of them is the same
	}
	for o := range w.s.Outputs {
		if part == setup.IsOutput.At(o) || w.behind[o][part] {
			list = append(list, o)
		}
	}
	return list
}

// byOutput puts the faults of outputs and mixes into as few worlds as they fit in.
func (w *worlds) byOutput() {
	type batch struct {
		faults []int
		taken  []bool
	}
	var batches []*batch
	for i := range w.faults {
		f := &w.faults[i]
		part := f.Part()
		if f.Kind == diagnose.ChannelsExchanged || part.Kind != setup.IsOutput && part.Kind != setup.IsMix {
			continue
		}
		reached := w.of[i]
		free := func(b *batch) bool {
			return !slices.ContainsFunc(reached, func(o int) bool { return b.taken[o] })
		}
		at := slices.IndexFunc(batches, free)
		if at < 0 {
			at = len(batches)
			batches = append(batches, &batch{taken: make([]bool, len(w.s.Outputs))})
		}
		batches[at].faults = append(batches[at].faults, i)
		for _, o := range reached {
			batches[at].taken[o] = true
		}
	}
	for _, b := range batches {
		g := &group{outs: map[int][]int{}}
		if !w.add(g, b.faults) {
			w.byThemselves(b.faults)
			continue
		}
		for _, i := range b.faults {
			g.outs[i] = w.of[i]
		}
		w.fed(g, b.taken)
	}
}

// fed finds the devices that show what a fault of a group does: those on its outputs. One that is also on an
// output that another fault of the group reaches shows nothing; then the fault is played by itself where its
// outputs do not show it.
func (w *worlds) fed(g *group, taken []bool) {
	g.fed, g.mixed = map[int][]int{}, map[int]bool{}
	for f, outs := range g.outs {
		for d := range w.s.Devices {
			its, others := false, false
			for _, o := range w.feeds[d] {
				mine := slices.Contains(outs, o)
				its, others = its || mine, others || !mine && taken[o]
			}
			switch {
			case its && others:
				g.mixed[f] = true
			case its && Lists(w.s, d):
				g.fed[f] = append(g.fed[f], d)
			}
		}
	}
}

// feeding lists the outputs whose pulses a device gets.
func feeding(s *setup.Setup, d int) (list []int) {
	refs := []setup.PinRef{s.DevicePin(d)}
	if swap, ok := s.SwapPin(d); ok {
		refs = append(refs, swap)
	}
	for _, ref := range refs {
		if o := s.Carried(ref); o >= 0 {
			list = append(list, o)
		}
	}
	return list
}

// add compiles a world with some faults; false where they are no setup together.
func (w *worlds) add(g *group, faults []int) bool {
	var list []diagnose.Fault
	for _, i := range faults {
		list = append(list, w.faults[i])
	}
	s := diagnose.With(w.s, list...)
	return s != nil && w.compiled(g, s, faults...)
}

func (w *worlds) compiled(g *group, s *setup.Setup, faults ...int) bool {
	p, err := signal.Compile(s)
	if err != nil {
		return false
	}
	for _, f := range faults {
		w.in[f] = len(w.groups)
	}
	if !g.hears {
		if g.quick, err = signal.Compile(s.AtOnce()); err != nil {
			return false
		}
	}
	g.p, g.seer = p, diagnose.NewSeer(p)
	w.groups = append(w.groups, g)
	return true
}

// mostOwn bounds the worlds of one fault each.
const mostOwn = 40

// byThemselves makes a world of each of some faults, as long as they are few.
func (w *worlds) byThemselves(faults []int) {
	owned := 0
	for _, g := range w.groups {
		if g.own {
			owned++
		}
	}
	for _, i := range faults {
		g := &group{own: true, hears: w.faults[i].Part().Kind == setup.IsDevice, fed: map[int][]int{}}
		for d := range w.s.Devices {
			if Lists(w.s, d) {
				g.fed[i] = append(g.fed[i], d)
			}
		}
		if !g.hears { // what hands ask for is not what is sent
			g.outs = map[int][]int{i: w.of[i]}
		}
		if owned >= mostOwn || !w.add(g, []int{i}) {
			w.alone[i] = true
			continue
		}
		owned++
	}
}

// unplugged makes the world in which nothing is plugged in: what a device then does is due to its own lead.
func (w *worlds) unplugged() {
	var all []int
	for i := range w.faults {
		if a, _ := w.faults[i].Places(); w.faults[i].Kind == diagnose.Unplugged {
			if w.pinned[a] || w.s.Devices[a].PartKind().Passes {
				w.byThemselves([]int{i})
				continue
			}
			all = append(all, i)
		}
	}
	if len(all) > 0 && !w.add(&group{hears: true, unplugged: true}, all) {
		w.byThemselves(all)
	}
}

// leads makes worlds in which all leads of a receiver are moved on by so many places: each shows what a
// device does on another's pin.
func (w *worlds) leads() {
	var exchanged []int
	by := make([][]int, len(w.s.Receivers)) // the devices of each
	for i := range w.faults {
		a, b := w.faults[i].Places()
		if w.faults[i].Kind != diagnose.LeadsExchanged {
			continue
		}
		if w.pinned[a] || w.pinned[b] {
			w.byThemselves([]int{i})
			continue
		}
		exchanged = append(exchanged, i)
		rx := w.s.DevicePin(a).Receiver
		for _, d := range []int{a, b} {
			if !slices.Contains(by[rx], d) {
				by[rx] = append(by[rx], d)
			}
		}
	}
	most := 0
	for _, list := range by {
		slices.Sort(list)
		most = max(most, len(list))
	}
	groups := make([]*group, max(most-1, 0))
	side := func(at int) { // each by itself: they are compiled on all cores
		g, shift := &group{hears: true, from: make([]int, len(w.s.Devices))}, at+1
		for i := range g.from {
			g.from[i] = -1
		}
		on := map[int]string{}
		for _, list := range by {
			for k, d := range list {
				other := list[(k+shift)%len(list)]
				if other != d && diagnose.Takes(w.s, d, w.s.DevicePin(other)) {
					on[d], g.from[d] = w.s.Devices[other].On, other
				}
			}
		}
		if p, err := signal.Compile(diagnose.Hung(w.s, on)); err == nil {
			g.p, g.seer = p, diagnose.NewSeer(p)
		}
		groups[at] = g
	}
	var all sync.WaitGroup
	var next atomic.Int64
	for range min(runtime.GOMAXPROCS(0), len(groups)) {
		all.Go(func() {
			for i := int(next.Add(1)) - 1; i < len(groups); i = int(next.Add(1)) - 1 {
				side(i)
			}
		})
	}
	all.Wait()
	if slices.ContainsFunc(groups, func(g *group) bool { return g.p == nil }) {
		w.byThemselves(exchanged)
		return
	}
	w.groups = append(w.groups, groups...)
}

// begin is before the first frame. The hands are at rest, moved as little as the start check asks for, and as
// lets no claim about power-on be broken, where moving one lever or switch that stays does.
func (w *worlds) begin() *run {
	r := &run{w: w, hands: slices.Clone(w.first), was: w.right.Rest(), st: w.right.PowerOn()}
	for _, g := range w.groups {
		r.of = append(r.of, g.p.PowerOn())
	}
	w.guard.Begin()
	return r
}

// starts finds how the hands are at power-on.
func (w *worlds) starts() signal.Hands {
	breaks := func(hands signal.Hands) bool {
		st := w.right.PowerOn()
		w.guard.Begin()
		w.right.Step(st, hands)
		return w.guard.Step(st) >= 0
	}
	ready := w.right.Ready()
	if !breaks(ready) {
		return ready
	}
	for i := range w.s.Transmitter.Controls {
		c := &w.s.Transmitter.Controls[i]
		for _, v := range places(c, true) {
			hands := slices.Clone(ready)
			if hands[i] = v; !c.Springs() && w.right.Meets(hands) && !breaks(hands) {
				return hands
			}
		}
	}
	return ready
}

// step plays a frame, and gives the claim that is broken in it, -1 for none. The worlds with faults follow
// when somebody looks at them.
func (r *run) step() int {
	w := r.w
	for hand, id := range w.ids {
		if r.hands[hand] != r.was[hand] {
			r.rows = append(r.rows, proof.Row{Frame: r.frame, T: proof.Seconds(r.frame, w.s), Control: id,
				Value: w.right.HandWord(id, r.hands[hand])})
		}
	}
	copy(r.was, r.hands)
	w.right.Step(r.st, r.hands)
	r.frame++
	r.behind = append(r.behind, frame{slices.Clone(r.hands), w.right.Sent(r.st)})
	return w.guard.Step(r.st)
}

// frame is what the worlds with faults have of a frame of the right one.
type frame struct {
	hands signal.Hands
	sent  []float64
}

// follow brings the worlds with faults to where the right one is.
func (r *run) follow() {
	frames := r.behind
	r.behind = r.behind[:0]
	again := repeats(frames)
	one := func(i int) { r.w.groups[i].play(r.of[i], frames, again) }
	var all sync.WaitGroup
	var next atomic.Int64
	work := func() {
		for i := int(next.Add(1)) - 1; i < len(r.w.groups); i = int(next.Add(1)) - 1 {
			if r.out == nil || !r.out[i] {
				one(i)
			}
		}
	}
	if len(frames) >= alongside {
		for range runtime.GOMAXPROCS(0) - 1 {
			all.Go(work)
		}
	}
	work()
	all.Wait()
}

// repeats gives of each frame how many after it are as the ones two before them: every other frame is an odd
// one.
func repeats(frames []frame) []int {
	again := make([]int, len(frames))
	for k := len(frames) - 2; k >= 1; k-- {
		a, b := &frames[k-1], &frames[k+1]
		if slices.Equal(a.hands, b.hands) && slices.Equal(a.sent, b.sent) {
			again[k] = again[k+1] + 1
		}
	}
	return again
}

// play plays frames in a world. Once it stands as it did two frames before, and the frames go on as they did,
// it goes on as it did too: what it would go through is left out.
func (g *group) play(st *signal.State, frames []frame, again []int) {
	step := func(k int) {
		if g.hears {
			g.p.Hear(st, frames[k].sent, frames[k].hands)
		} else {
			g.p.Step(st, frames[k].hands)
		}
	}
	var was []float64
	for k := 0; k < len(frames); k++ {
		if step(k); again[k] < worthIt {
			continue
		}
		was = append(was[:0], st.V...)
		step(k + 1)
		if step(k + 2); slices.Equal(was, st.V) {
			left := again[k+2] &^ 1
			st.Frame += int64(left)
			k += left
		}
		k += 2
	}
}

// worthIt is how many repeated frames have to lie ahead before it pays to look whether a world stands still.
const worthIt = 6

// alongside is from how many frames on it pays to let worlds follow on all cores.
const alongside = 20

// kept is a moment to go back to.
type kept struct {
	run    run
	states []*signal.State
	memory proof.Memory
}

// keep copies a moment.
func (r *run) keep() *kept {
	r.follow()
	k := &kept{run: *r, memory: r.w.guard.Memory()}
	k.run.hands, k.run.was = slices.Clone(r.hands), slices.Clone(r.was)
	for i, st := range append([]*signal.State{r.st}, r.of...) {
		p := r.w.right
		if i > 0 {
			p = r.w.groups[i-1].p
		}
		room := p.PowerOn()
		room.CopyFrom(st)
		k.states = append(k.states, room)
	}
	return k
}

// back goes back to a moment.
func (r *run) back(k *kept) {
	r.frame, r.hands, r.was = k.run.frame, slices.Clone(k.run.hands), slices.Clone(k.run.was)
	r.rows, r.out, r.behind = r.rows[:len(k.run.rows)], k.run.out, r.behind[:0]
	r.st.CopyFrom(k.states[0])
	for i := range r.of {
		r.of[i].CopyFrom(k.states[i+1])
	}
	r.w.guard.Remember(k.memory)
}

// without leaves out the worlds that have nothing to show that was not seen yet, until all goes back to a
// moment that was kept before.
func (r *run) without(seen []bool) {
	r.follow()
	r.out = make([]bool, len(r.w.groups))
	for i := range r.out {
		r.out[i] = true
	}
	for f, known := range seen {
		fault := &r.w.faults[f]
		switch a, b := fault.Places(); {
		case known:
		case r.w.hasOwn(f):
			r.out[r.w.in[f]] = false
		case fault.Kind == diagnose.LeadsExchanged:
			for i, g := range r.w.groups {
				if g.from != nil && (g.from[a] == b || g.from[b] == a) {
					r.out[i] = false
				}
			}
		case fault.Kind != diagnose.ChannelsExchanged && fault.Kind != diagnose.Crossed && !r.w.alone[f]:
			r.out[r.w.in[f]] = false
		}
	}
}

// display is what the display of an output's channel counts in a state.
func display(p *signal.Program, st *signal.State, output int) float64 {
	return diagnose.Nearest(st.At(p.Routes[output].P))
}

// sight is what is seen in a moment of all worlds, worked out where somebody asks for it.
type sight struct {
	r      *run
	counts []float64
	says   []string
}

func (r *run) sight() *sight {
	r.follow()
	x := &sight{r: r, counts: make([]float64, len(r.w.s.Outputs)), says: make([]string, len(r.w.s.Devices))}
	for o := range x.counts {
		x.counts[o] = display(r.w.right, r.st, o)
	}
	return x
}

// device is what a device is seen to do when all is right.
func (x *sight) device(d int) string {
	if x.says[d] == "" {
		x.says[d] = x.r.w.seer.Device(x.r.st, d)
	}
	return x.says[d]
}

// shows tells whether a fault is seen. One that is played by itself is not.
func (x *sight) shows(fault int) bool {
	w, r := x.r.w, x.r
	f := &w.faults[fault]
	a, b := f.Places()
	switch {
	case w.alone[fault]:
	case w.hasOwn(fault):
		return x.shownBy(fault)
	case f.Kind == diagnose.ChannelsExchanged:
		return x.counts[a] != x.counts[b]
	case f.Kind == diagnose.Crossed:
		return diagnose.NewSeer(w.right, *f).Device(r.st, a) != x.device(a)
	case f.Kind == diagnose.LeadsExchanged:
		return x.differs(a, b) || x.differs(b, a)
	default:
		if g, st := w.groups[w.in[fault]], r.of[w.in[fault]]; g.unplugged {
			return g.seer.Device(st, a) != x.device(a)
		}
		return x.shownBy(fault)
	}
	return false
}

// shownBy tells whether the group of a fault shows it, by a display or by a device.
func (x *sight) shownBy(fault int) bool {
	g, st := x.r.w.groups[x.r.w.in[fault]], x.r.of[x.r.w.in[fault]]
	return slices.ContainsFunc(g.outs[fault],
		func(o int) bool { return display(g.p, st, o) != x.counts[o] }) ||
		slices.ContainsFunc(g.fed[fault], func(d int) bool { return g.seer.Device(st, d) != x.device(d) })
}

// hasOwn tells whether a fault has a world of its own.
func (w *worlds) hasOwn(fault int) bool {
	return w.in[fault] >= 0 && w.groups[w.in[fault]].own
}

// differs tells whether a device does something else on the pin of another one.
func (x *sight) differs(d, on int) bool {
	for i, g := range x.r.w.groups {
		if g.from != nil && g.from[d] == on {
			return g.seer.Device(x.r.of[i], d) != x.device(d)
		}
	}
	return false
}

// exact tells whether a fault is seen just where its world shows it. Of exchanged channels only the displays
// are looked at.
func (w *worlds) exact(fault int) bool {
	switch {
	case w.why[fault] != "":
		return true
	case w.alone[fault] || w.faults[fault].Kind == diagnose.ChannelsExchanged:
		return false
	case w.faults[fault].Part().Kind == setup.IsDevice:
		return true
	}
	return !w.groups[w.in[fault]].mixed[fault]
}

// shows marks the faults that are to be seen now. Those that are played by themselves are not among them.
func (r *run) shows(mark func(fault int)) {
	x := r.sight()
	for f := range r.w.faults {
		if x.shows(f) {
			mark(f)
		}
	}
}
