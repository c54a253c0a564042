package bench

import (
	"cmp"
	"slices"

	"axtren/core/diagnose"
	"axtren/core/proof"
	"axtren/core/setup"
	"axtren/core/signal"
	"axtren/core/words"
)

// tried is a plan that was carried out from power-on.
type tried struct {
	plan   []stop
	rows   []proof.Row
	looks  []Look
	shown  [][]bool // of each look, the faults that are seen at it
	seen   int      // faults
	fine   bool     // no claim was broken while the signal was there
	broken int      // a claim that was at power-on, or while it was lost; -1: none
}

// carryOut plays a plan from power-on.
func (k *walker) carryOut(plan []stop) *tried {
	w := k.w
	t := &tried{plan: plan, fine: true}
	r := w.begin()
	t.broken = r.step() // no start that was tried keeps what is broken then
	all := make([]bool, len(w.faults))
	for i := range plan {
		one := &plan[i]
		fine, broken := k.play(r, one, all)
		t.fine = t.fine && fine
		if broken >= 0 {
			t.broken = broken
		}
		if !one.look {
			continue
		}
		shown := make([]bool, len(w.faults))
		r.shows(func(f int) { shown[f] = true })
		for f := range shown {
			all[f] = all[f] || shown[f]
		}
		t.shown = append(t.shown, shown)
		t.looks = append(t.looks, k.look(r, cmp.Or(one.when, There)))
	}
	t.rows = r.rows
	for _, yes := range all {
		if yes {
			t.seen++
		}
	}
	return t
}

// look writes down what is seen now.
func (k *walker) look(r *run, when When) Look {
	l := Look{Frame: r.frame - 1, When: when, Hands: slices.Clone(r.hands)}
	for o := range k.s.Outputs {
		l.Display = append(l.Display, display(k.w.right, r.st, o))
		l.position = append(l.position, r.st.At(k.w.right.Routes[o].P))
	}
	for d := range k.s.Devices {
		l.Devices = append(l.Devices, k.w.seer.Device(r.st, d))
		v := 0.0
		if slot := k.w.right.Devices[d].Value; slot != signal.None {
			v = r.st.At(slot)
		}
		l.value = append(l.value, v)
	}
	l.flashes = k.flashing(r, l.position)
	return l
}

// flashing tells which outputs that can blink go to and fro now.
func (k *walker) flashing(r *run, position []float64) []bool {
	list := make([]bool, len(k.s.Outputs))
	if !slices.Contains(k.blinks, true) {
		return list
	}
	before := r.keep()
	defer r.back(before)
	for range k.frames(blinkS) {
		r.step()
		for o := range list {
			list[o] = list[o] || k.blinks[o] && r.st.At(k.w.right.Routes[o].P) != position[o]
		}
	}
	return list
}

// shortest adds the lost signal and its return to a plan, and leaves out what shows nothing more: the looks
// at a lost signal and at its return are looks like the others.
func (k *walker) shortest(plan []stop) *tried {
	rest := k.w.first
	last := rest
	if n := len(plan); n > 0 {
		last = plan[n-1].hands
	}
	best := k.carryOut(k.drilled(plan, last, last))
	if other := k.carryOut(k.drilled(plan, rest, rest)); best.broken >= 0 && other.broken < 0 || !best.fine {
		best = other
	}
	better := func(plan []stop) bool {
		t := k.carryOut(plan)
		if !t.fine || t.seen < best.seen || t.broken >= 0 && best.broken < 0 {
			return false
		}
		best = t
		return true
	}
	unlooked := func(at int) []stop {
		short := slices.Clone(plan)
		short[at].look, short[at].pause = false, k.frames(lookS)
		return short
	}
	n := len(plan)
	shorter := n > 1 && better(k.drilled(plan[:n-1], plan[n-2].hands, last))
	if n > 1 && !shorter {
		shorter = better(k.drilled(unlooked(n - 2)[:n-1], plan[n-2].hands, last))
	}
	if n > 0 && !shorter {
		better(k.drilled(unlooked(n-1), last, last))
	}
	for again := true; again && k.ctx.Err() == nil; {
		again = false
		for i := range best.plan {
			if !best.plan[i].look || best.plan[i].when != "" {
				continue
			}
			if again = better(slices.Delete(slices.Clone(best.plan), i, i+1)); again {
				break
			}
			short := slices.Clone(best.plan)
			short[i].look, short[i].pause = false, k.frames(lookS)
			if again = better(short); again {
				break
			}
		}
	}
	return best
}

// drilled is a plan at whose end the signal is lost and comes back.
func (k *walker) drilled(plan []stop, lost, back signal.Hands) []stop {
	down, up := slices.Clone(lost), slices.Clone(back)
	down[k.hand("link")] = 0
	up[k.hand("link")] = 1
	return append(slices.Clone(plan), stop{hands: down, look: true, when: Lost}, stop{hands: up, look: true,
		when: Back})
}

// walk is what was carried out, with every fault looked for: those that no world shows are played by
// themselves.
func (k *walker) walk(t *tried) *Walk {
	walk := &Walk{Rows: t.rows, Looks: t.looks, Faults: k.w.faults, Broken: t.broken, Some: k.w.only != nil,
		Seen: make([]int, len(k.w.faults)), Why: make([]string, len(k.w.faults))}
	for f := range k.w.faults {
		walk.Seen[f] = slices.IndexFunc(t.shown, func(shown []bool) bool { return shown[f] })
		if walk.Seen[f] < 0 && !k.w.exact(f) {
			walk.Seen[f] = k.alone(t, &k.w.faults[f])
		}
	}
	return walk
}

// alone plays a walk with one fault, and gives the look at which it is seen first; -1: at none.
func (k *walker) alone(t *tried, f *diagnose.Fault) int {
	s := diagnose.With(k.s, *f)
	if s == nil {
		return -1
	}
	p, err := signal.Compile(s)
	if err != nil {
		return -1
	}
	seer := diagnose.NewSeer(p, *f)
	at, next := -1, 0
	err = proof.Play(p, t.rows, t.looks[len(t.looks)-1].Frame, func(frame int, st *signal.State) bool {
		if frame != t.looks[next].Frame {
			return true
		}
		look := &t.looks[next]
		next++
		for o := range k.s.Outputs {
			// by the channel that the right model has it on
			if seer.Display(st, k.s.Outputs[o].Channel) != words.Short(look.Display[o]) {
				at = next - 1
			}
		}
		for d := range k.s.Devices {
			if Lists(k.s, d) && seer.Device(st, d) != look.Devices[d] {
				at = next - 1
			}
		}
		return at < 0
	})
	if err != nil {
		return -1
	}
	return at
}

// Lists tells whether a device is among what is looked at: what only passes on is not.
func Lists(s *setup.Setup, d int) bool { return !s.Devices[d].PartKind().Passes }
