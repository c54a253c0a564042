package behave

import (
	"cmp"
	"fmt"
	"slices"
	"strings"
	"unsafe"

	"axtren/core/setup"
	"axtren/core/signal"
	"axtren/core/words"
)

// States are what a rule can be in, and what takes it from one to the next.
type States struct {
	Nodes []StateNode `json:"nodes"`
	Edges []StateEdge `json:"edges"`
	// why there may be more than is drawn; empty: this is all
	Partial string `json:"partial"`
}

// NoStates are those of a rule that has none.
func NoStates() States { return States{Nodes: []StateNode{}, Edges: []StateEdge{}} }

// StateNode is one state.
type StateNode struct {
	Label string `json:"label"` // riding
	Soon  string `json:"soon"`  // on in 1.5 s: what comes by itself; empty: nothing
	Wakes bool   `json:"wakes"` // it can be so at power-on
	Goal  bool   `json:"goal"`  // it can be asked how to get there
}

// StateEdge is what takes a rule from one state to another.
type StateEdge struct {
	From int      `json:"from"`
	To   int      `json:"to"`
	By   []string `json:"by"` // press; Lock to locked; in 1.5 s
}

// Machine is a drawing of states with what tells in which of them a running model is.
type Machine struct {
	States
	m  *machine
	of map[string]int // of what is seen, and what comes by itself, the state
	// what is said of a way that time alone takes; empty where more than one time decides that
	wait string
	// what Now found last, and of which moment: as long as no hand moves and no block changes it is still so
	last    Now
	lastKey string
}

// So much is looked at for a drawing, and no more.
const (
	mostMoments = 12000 // moments of the rule, with where the hands are
	mostStarts  = 512   // ways in which switches and levers may have been left
)

// Draw works out the states of a rule by its key: everything that hands can do, frame by frame, with waiting
// times made short in their order. What cannot be told apart is one state. ok is false for a rule that
// has none.
// The error is setup.Problems.
func Draw(s *setup.Setup, p *signal.Program, key string) (drawn *Machine, ok bool, err error) {
	f, err := known(s, p, key)
	if err != nil {
		return nil, false, err
	}
	w, ok := f.watch(s)
	if !ok {
		return nil, false, nil
	}
	short, err := newMachine(s, w, true)
	if err != nil {
		return nil, false, err
	}
	live, err := newMachine(s, w, false)
	if err != nil {
		return nil, false, err
	}
	e := &explorer{machine: short, waitS: live.waitS(), at: map[string]int32{}}
	e.explore()
	drawn = e.drawn(live)
	for i := range drawn.Nodes {
		_, drawn.Nodes[i].Goal = drawn.Goal(i)
	}
	return drawn, true, nil
}

// Goal gives the condition that a rule is in a state that is drawn; ok is false where no single one says
// so, and
// of a state that only waits for another.
func (d *Machine) Goal(node int) (t setup.Truth, ok bool) {
	m, label := d.m, d.Nodes[node].Label
	if d.Nodes[node].Soon != "" {
		return "", false
	}
	switch m.kind {
	case setup.IsStepper:
		for _, step := range m.s.Steppers[m.s.Item(m.id).Index].Steps {
			if step.Name.Words() == label {
				return setup.Truth(m.id) + "." + setup.Truth(step.Name), true
			}
		}
		return "", false
	case setup.IsSequence:
		at := slices.Index([]string{"at rest", "done"}, label)
		if at < 0 {
			return "", false
		}
		return setup.Truth(m.id) + "." + setup.Truth(setup.SequenceStates[2*at]), true
	}
	if at := slices.Index(m.names, label); at >= 0 {
		return m.facts[at], true
	}
	if label == m.none && len(m.facts) == 1 {
		return m.facts[0].Opposite(), true
	}
	return "", false
}

// moment is one moment of a rule: what it holds, where the hands are, what is seen, and what the next
// moment is if nothing is moved.
type moment struct {
	snap signal.Snapshot
	seen string
	held string // what is true of all blocks
	next int32
	soon string // what is seen next if nothing is moved; empty: the same for ever
	done bool
	goes []went
}

// went is where a movement leads.
type went struct {
	move int // -1: nothing was moved
	to   int32
}

type explorer struct {
	*machine
	waitS   float64
	moments []moment
	at      map[string]int32
	wakes   []int32
	more    bool
}

// note gives the number of the moment that a state is.
func (e *explorer) note(st *signal.State) int32 {
	snap := e.p.Snapshot(st, nil)
	key := unsafe.String((*byte)(unsafe.Pointer(unsafe.SliceData(snap))), 8*len(snap)) // snap is never changed
	if n, known := e.at[key]; known {
		return n
	}
	n := int32(len(e.moments))
	e.at[key] = n
	e.moments = append(e.moments, moment{snap: snap, seen: e.label(st), held: e.held(st), next: -1})
	return n
}

// explore visits every moment, breadth first.
func (e *explorer) explore() {
	e.starts()
	st := e.p.PowerOn()
	n := 0
	for n < len(e.moments) { // there are more as it goes on
		if len(e.moments) >= mostMoments {
			e.more = true
			break
		}
		from := e.moments[n].snap
		try := func(move int, hands signal.Hands) int32 {
			e.p.Restore(st, from)
			e.p.Step(st, hands)
			to := e.note(st)
			e.moments[n].goes = append(e.moments[n].goes, went{move, to})
			return to
		}
		hands := slices.Clone(from.Hands(e.p))
		e.moments[n].next = try(-1, hands)
		for k := range e.moves {
			m := &e.moves[k]
			if was := hands[m.control]; was != m.to {
				hands[m.control] = m.to
				try(k, hands)
				hands[m.control] = was
			}
		}
		n++
	}
	for n := range e.moments {
		e.moments[n].soon = e.soonOf(int32(n))
	}
}

// starts notes the moments of power-on: sprung controls at rest, the others wherever they may have been left.
func (e *explorer) starts() {
	kept := e.keptSlots()
	places := make([][]float64, len(e.s.Transmitter.Controls))
	for _, m := range e.moves {
		c := &e.s.Transmitter.Controls[m.control]
		if c.Switch != nil && c.Switch.SpringTo == nil || c.Axis != nil && c.Axis.Spring == "none" {
			places[m.control] = append(places[m.control], m.to)
		}
	}
	count := 0
	var put func(hands signal.Hands, control int)
	put = func(hands signal.Hands, control int) {
		switch {
		case count >= mostStarts:
			e.more = true
		case control == len(places):
			for were := range 1 << len(kept) {
				count++
				if n := e.note(e.start(hands, kept, were)); !slices.Contains(e.wakes, n) {
					e.wakes = append(e.wakes, n)
				}
			}
		case len(places[control]) == 0:
			put(hands, control+1)
		default:
			for _, to := range places[control] {
				own := slices.Clone(hands)
				own[control] = to
				put(own, control+1)
			}
		}
	}
	put(e.p.Rest(), 0)
}

// soonOf gives what is seen next if nothing is moved; empty where that is the same for ever.
func (e *explorer) soonOf(n int32) string {
	var way []int32
	soon, visited := "", map[int32]bool{}
	for at := n; at >= 0 && !visited[at]; at = e.moments[at].next {
		if m := &e.moments[at]; m.seen != e.moments[n].seen {
			soon = m.seen
			break
		} else if m.done {
			soon = m.soon
			break
		}
		visited[at] = true
		way = append(way, at)
	}
	for _, at := range way {
		e.moments[at].soon, e.moments[at].done = soon, true
	}
	return soon
}

// stateKey is what tells one state from another before they are merged. What runs comes to an end by
// itself: that
// tells nothing.
func stateKey(seen, soon string) string {
	if strings.HasPrefix(seen, running) {
		soon = ""
	}
	return seen + "\n" + soon
}

// drawn merges the moments into states.
func (e *explorer) drawn(live *machine) *Machine {
	d := &Machine{States: NoStates(), m: live, of: map[string]int{}, wait: e.wait()}
	var keys []string
	class := make([]int, len(e.moments))
	for n := range e.moments {
		key := stateKey(e.moments[n].seen, e.moments[n].soon)
		if _, known := d.of[key]; !known {
			d.of[key] = len(keys)
			keys = append(keys, key)
		}
		class[n] = d.of[key]
	}
	arrows := e.arrows(class)
	e.reach(class, arrows)
	merged := merge(keys, arrows)
	reached := map[int]bool{}
	for _, n := range e.wakes {
		reached[merged[class[n]]] = true
	}
	for at := range arrows {
		reached[merged[at.to]] = true
	}
	number := map[int]int{} // of what is drawn
	for raw, key := range keys {
		if _, known := number[merged[raw]]; known || !reached[merged[raw]] {
			continue
		}
		number[merged[raw]] = len(d.Nodes)
		seen, soon, _ := strings.Cut(key, "\n")
		d.Nodes = append(d.Nodes, StateNode{Label: seen, Soon: e.soonWords(soon)})
	}
	for raw, key := range keys {
		at, drawn := number[merged[raw]]
		if !drawn {
			at = -1
		}
		merged[raw], d.of[key] = at, at
	}
	for _, n := range e.wakes {
		d.Nodes[merged[class[n]]].Wakes = true
	}
	d.Edges = e.edges(arrows, merged)
	if len(d.Nodes) > mostWaiting {
		d.contract()
	}
	if e.more {
		d.Partial = "There is more to look at than fits a drawing: there may be more states and " +
			"ways than are drawn."
	}
	return d
}

// reach leaves only the arrows that can be followed from where the rule wakes: the others begin in a state
// that only a chance of one frame leads to.
func (e *explorer) reach(class []int, arrows map[arrow]*ways) {
	reached := map[int]bool{}
	for _, n := range e.wakes {
		reached[class[n]] = true
	}
	for before := -1; before != len(reached); {
		before = len(reached)
		for at := range arrows {
			if reached[at.from] {
				reached[at.to] = true
			}
		}
	}
	for at := range arrows {
		if !reached[at.from] {
			delete(arrows, at)
		}
	}
}

// soonWords says what comes by itself.
func (e *explorer) soonWords(soon string) string {
	return soonWords(soon, e.wait())
}

func soonWords(soon, wait string) string {
	switch {
	case soon == "":
		return ""
	case wait == "":
		return "soon " + soon
	default:
		return soon + " " + wait
	}
}

// wait says how long a rule waits by itself; empty where more than one time decides that.
func (e *explorer) wait() string {
	switch {
	case e.waitS == 0:
		return ""
	case e.kind == setup.IsSequence:
		return "within " + words.Short(e.waitS) + " s" // it may be turned midway
	}
	return "in " + words.Short(e.waitS) + " s"
}

// arrow is one way from a state to another, before they are merged.
type arrow struct{ from, to, move int }

// ways are the moments from which an arrow leads, and those from which the same movement leads elsewhere.
type ways struct{ from, not []int32 }

// arrows lists what takes one state to another.
func (e *explorer) arrows(class []int) map[arrow]*ways {
	all := map[arrow]*ways{}
	moved := map[[2]int][]int32{} // of a state and a movement, all moments from which it was made
	for n := range e.moments {
		if e.moments[n].next < 0 {
			continue // it was not looked at any more
		}
		// a block changes by itself in this very moment: a hand that moves in it too would be a chance of one frame
		next := &e.moments[e.moments[n].next]
		busy := next.held != e.moments[n].held || next.seen != e.moments[n].seen
		for _, g := range e.moments[n].goes {
			from, to := class[n], class[g.to]
			if g.move >= 0 && busy {
				continue
			}
			moved[[2]int{from, g.move}] = append(moved[[2]int{from, g.move}], int32(n))
			if from == to {
				continue
			}
			at := arrow{from, to, g.move}
			if all[at] == nil {
				all[at] = &ways{}
			}
			all[at].from = append(all[at].from, int32(n))
		}
	}
	for at, w := range all {
		here := map[int32]bool{}
		for _, n := range w.from {
			here[n] = true
		}
		for _, n := range moved[[2]int{at.from, at.move}] {
			if !here[n] {
				w.not = append(w.not, n)
			}
		}
	}
	return all
}

// merge puts states together that look alike and lead by the same movements to states that are put
// together: by refining, until nothing more is told apart. It gives of each state the one that it is in,
// numbered as they come.
func merge(keys []string, arrows map[arrow]*ways) []int {
	is := make([]int, len(keys))
	number := func(of func(raw int) string) (changed bool) {
		next, known := make([]int, len(keys)), map[string]int{}
		for raw := range keys {
			text := of(raw)
			if _, has := known[text]; !has {
				known[text] = len(known)
			}
			next[raw] = known[text]
		}
		changed = !slices.Equal(next, is)
		is = next
		return changed
	}
	number(func(raw int) string { seen, _, _ := strings.Cut(keys[raw], "\n"); return seen })
	for {
		leads := make([][]string, len(keys))
		for at := range arrows {
			if is[at.from] != is[at.to] || at.move < 0 {
				leads[at.from] = append(leads[at.from], fmt.Sprint(at.move, ">", is[at.to]))
			}
		}
		if !number(func(raw int) string {
			slices.Sort(leads[raw])
			return fmt.Sprint(is[raw], slices.Compact(leads[raw]))
		}) {
			return is
		}
	}
}

// edges says the arrows between merged states, in the order of the movements.
func (e *explorer) edges(arrows map[arrow]*ways, merged []int) []StateEdge {
	type between struct{ from, to int }
	by := map[between]map[int]*ways{}
	for at, w := range arrows {
		pair := between{merged[at.from], merged[at.to]}
		if pair.from == pair.to {
			continue
		}
		if by[pair] == nil {
			by[pair] = map[int]*ways{}
		}
		if have := by[pair][at.move]; have != nil {
			have.from, have.not = append(have.from, w.from...), append(have.not, w.not...)
		} else {
			by[pair][at.move] = &ways{slices.Clone(w.from), slices.Clone(w.not)}
		}
	}
	list := []StateEdge{}
	for pair, moves := range by {
		edge := StateEdge{From: pair.from, To: pair.to, By: []string{}}
		var order []int
		for move := range moves {
			order = append(order, move)
		}
		slices.Sort(order)
		for _, move := range order {
			edge.By = append(edge.By, e.by(move, moves[move]))
		}
		list = append(list, edge)
	}
	slices.SortFunc(list, func(a, b StateEdge) int {
		if a.From != b.From {
			return a.From - b.From
		}
		return a.To - b.To
	})
	return list
}

// by says a movement, with where another control has to stand meanwhile: the one that decides whether it
// leads there, else one that has to stand so beside others.
func (e *explorer) by(move int, w *ways) string {
	if move < 0 {
		return cmp.Or(e.wait(), "by itself")
	}
	says := e.moves[move].does
	if e.only() {
		says = e.moves[move].short
	}
	if len(w.not) == 0 {
		return says
	}
	needed := ""
	for control := range e.s.Transmitter.Controls {
		if control == e.moves[move].control {
			continue
		}
		with, without := e.stood(control, w.from), e.stood(control, w.not)
		both, elsewhere := false, false
		for v := range without {
			both, elsewhere = both || with[v], elsewhere || !with[v]
		}
		if both && (needed != "" || !elsewhere) {
			continue
		}
		var stands []string
		for _, m := range e.moves {
			if m.control == control && with[m.to] {
				stands = append(stands, m.stands)
			}
		}
		if len(stands) == 0 {
			continue
		}
		if needed = ", with " + strings.Join(stands, " or "); !both {
			break // it decides; another only has to stand so too
		}
	}
	return says + needed
}

// only tells whether one control has all the say.
func (e *explorer) only() bool {
	for _, m := range e.moves {
		if m.control != e.moves[0].control {
			return false
		}
	}
	return true
}

// stood gives where a control stood in some moments.
func (e *explorer) stood(control int, moments []int32) map[float64]bool {
	at := map[float64]bool{}
	for _, n := range moments {
		at[e.moments[n].snap.Hands(e.p)[control]] = true
	}
	return at
}

// mostWaiting is how many states are drawn with those that only wait.
const mostWaiting = 6

// contract takes the states out that only wait for what comes by itself: what led to one leads to what
// comes, and a while later.
func (d *Machine) contract() {
	base := map[string]int{} // of what is seen, the state that stays
	for i, node := range d.Nodes {
		if _, known := base[node.Label]; node.Soon == "" && !known {
			base[node.Label] = i
		}
	}
	comes := map[int]int{} // of a state that waits, what comes
	for i, node := range d.Nodes {
		stays, known := base[node.Label]
		fits, next := node.Soon != "" && known && !node.Wakes, -1
		for _, edge := range d.Edges {
			timed := slices.ContainsFunc(edge.By, d.isTime)
			switch {
			case edge.From == i && timed:
				fits = fits && next < 0 && len(edge.By) == 1 && d.Nodes[edge.To].Label != node.Label
				next = edge.To
			case edge.To == i:
				fits = fits && (edge.From == stays || d.Nodes[edge.From].Label == node.Label)
			}
		}
		if fits && next >= 0 {
			comes[i] = next
		}
	}
	number, nodes := make([]int, len(d.Nodes)), []StateNode{}
	for i, node := range d.Nodes {
		if _, gone := comes[i]; !gone {
			number[i] = len(nodes)
			nodes = append(nodes, node)
		}
	}
	for i := range comes {
		number[i] = number[base[d.Nodes[i].Label]]
	}
	edges := []StateEdge{}
	add := func(from, to int, by []string) {
		at := slices.IndexFunc(edges, func(e StateEdge) bool { return e.From == from && e.To == to })
		if at < 0 {
			at = len(edges)
			edges = append(edges, StateEdge{From: from, To: to, By: []string{}})
		}
		edges[at].By = append(edges[at].By, by...)
	}
	for _, edge := range d.Edges {
		_, waited := comes[edge.From]
		to, waits := comes[edge.To]
		switch {
		case waits && !waited:
			var by []string
			for _, one := range edge.By {
				by = append(by, one+d.later(edge.To))
			}
			if number[edge.From] != number[to] {
				add(number[edge.From], number[to], by)
			}
		case !waits && !waited:
			add(number[edge.From], number[edge.To], edge.By)
		}
	}
	for key, n := range d.of {
		if n >= 0 {
			d.of[key] = number[n]
		}
	}
	d.Nodes, d.Edges = nodes, edges
}

// isTime tells whether a way is that of time alone.
func (d *Machine) isTime(by string) bool { return by == "by itself" || by == d.wait }

// later says that what comes comes after the wait of a state.
func (d *Machine) later(n int) string {
	if _, wait, known := strings.Cut(d.Nodes[n].Soon, " in "); known {
		return ", and " + wait + " later"
	}
	return ", and a while later"
}

// Now tells in which state a running model is, and what would take it to another one at once.
type Now struct {
	Node int    `json:"node"` // -1: none of those that are drawn
	Seen string `json:"seen"` // riding
	Soon string `json:"soon"` // what comes by itself; empty: nothing
	Can  []Next `json:"can"`
}

// Next is a movement that is possible now.
type Next struct {
	Does string `json:"does"` // press Left button
	To   string `json:"to"`   // riding
	Node int    `json:"node"`
}

// Now looks at a state of a program of the whole document. It is for one goroutine at a time.
func (d *Machine) Now(p *signal.Program, st *signal.State) Now {
	m := d.m
	here, hands := d.here(p, st)
	key := fmt.Sprint(m.held(here), m.label(here), hands)
	if key == d.lastKey {
		return d.last
	}
	seen, soon := d.look(here, hands)
	now := Now{Node: d.node(seen, soon), Seen: seen, Soon: soonWords(soon, d.wait), Can: []Next{}}
	next := m.p.PowerOn()
	for _, move := range m.moves {
		if hands[move.control] == move.to {
			continue
		}
		next.CopyFrom(here)
		moved := slices.Clone(hands)
		moved[move.control] = move.to
		m.p.Step(next, moved)
		to, later := d.look(next, moved)
		if to == seen && later == soon {
			continue
		}
		says := to
		if later != "" {
			says += ", " + soonWords(later, d.wait)
		}
		now.Can = append(now.Can, Next{move.does, says, d.node(to, later)})
	}
	d.last, d.lastKey = now, key
	return now
}

// here gives a state of a program of the whole document as the rule has it, with where the hands are.
func (d *Machine) here(p *signal.Program, st *signal.State) (*signal.State, signal.Hands) {
	m := d.m
	hands := m.p.Rest()
	for _, id := range m.p.HandIDs() {
		own, _ := m.p.Hand(id)
		if theirs, ok := p.Hand(id); ok {
			hands[own] = st.At(p.HandSlot(theirs))
		}
	}
	here := m.p.Carry(p, st, hands)
	m.p.Step(here, hands) // what is worked out of what was carried
	return here, hands
}

// node gives the state that is drawn for what is seen, and what comes by itself; -1 for none.
func (d *Machine) node(seen, soon string) int {
	if n, known := d.of[stateKey(seen, soon)]; known {
		return n
	}
	return -1
}

// look gives what is seen of the rule, and what comes by itself.
func (d *Machine) look(st *signal.State, hands signal.Hands) (seen, soon string) {
	m := d.m
	seen = m.label(st)
	later := m.p.PowerOn()
	later.CopyFrom(st)
	for range m.mostFrames() {
		m.p.Step(later, hands)
		if now := m.label(later); now != seen {
			soon = now
			break
		}
	}
	return seen, soon
}
