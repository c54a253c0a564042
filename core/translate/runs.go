package translate

import (
	"math"
	"math/rand/v2"
	"slices"
	"strings"

	"axtren/core/proof"
	"axtren/core/setup"
	"axtren/core/signal"
)

// The runs that lists of entries are tried on first.
const (
	blocksOfRuns = 2
	framesOfRun  = 48
)

// play plays runs of the setup with hands anywhere.
func (t *translation) play() *runs {
	var parts []setup.Item
	for _, block := range t.wanted {
		parts = append(parts, setup.IsBlock.At(block))
	}
	cone := t.s.Cone(parts...)
	r := &runs{beyond: levels(cone), power: t.s.Keeps()}
	for _, c := range cone.Transmitter.Controls {
		if c.Switch == nil {
			continue
		}
		for _, p := range c.Switch.Positions {
			ref := string(c.ID) + "." + string(p)
			r.refs = append(r.refs, ref)
			if len(c.Switch.Positions) > 2 && t.set.Negated {
				r.refs = append(r.refs, "not "+ref)
			}
		}
	}
	r.list.Store(&[]run{})
	r.width = len(r.refs) + 2 + len(r.beyond)
	rng := rand.New(rand.NewPCG(1, 2))
	for k := range 2 * blocksOfRuns {
		power := k%2 == 1
		if power && !r.power && !t.set.Remembers {
			continue
		}
		r.record(t, power, framesOfRun, func(lane int) func(frame int, hands signal.Hands) {
			return t.anyHands(r, rng, power)
		})
	}
	return r
}

// anyHands moves hands at random, as runs allow.
func (t *translation) anyHands(r *runs, rng *rand.Rand, power bool) func(frame int, hands signal.Hands) {
	controls := t.s.Transmitter.Controls
	on, _ := t.p.Hand("transmitter")
	often := 1 + rng.IntN(4)
	return func(frame int, hands signal.Hands) {
		for i := range controls {
			c := &controls[i]
			if frame == 0 && c.Springs() || frame > 0 && rng.IntN(often) > 0 {
				continue
			}
			was := hands[i]
			if hands[i] = float64(rng.IntN(201) - 100); c.Switch != nil {
				hands[i] = float64(rng.IntN(len(c.Switch.Positions)))
			} else if n := len(r.beyond); n > 0 && rng.IntN(3) > 0 {
				near := r.beyond[rng.IntN(n)].level + float64(rng.IntN(3)-1)
				hands[i] = math.Max(-100, math.Min(100, near))
			}
			if frame == 0 && !t.p.Meets(hands) {
				hands[i] = was
			}
		}
		if power && frame > 0 {
			if hands[on] = 1; rng.IntN(6) == 0 {
				hands[on] = 0
			}
		}
	}
}

// record plays 64 runs and adds them.
func (r *runs) record(t *translation, power bool, frames int, hands func(lane int) func(int, signal.Hands)) {
	one := run{frames: frames, power: power, words: make([]uint64, frames*r.width),
		first: make([]uint64, frames), sends: make([]uint64, frames), wanted: make([]uint64, frames*len(t.wanted))}
	for lane := range 64 {
		bit := uint64(1) << lane
		move := hands(lane)
		st, at := t.p.PowerOn(), t.p.Ready()
		for f := range frames {
			move(f, at)
			t.p.Step(st, at)
			if !t.p.Sending(st) {
				continue
			}
			one.sends[f] |= bit
			if st.At(t.p.FirstSlot()) != 0 {
				one.first[f] |= bit
			}
			words := one.words[f*r.width:]
			for i, ref := range r.refs {
				if r.position(t, ref, at) {
					words[i] |= bit
				}
			}
			words[len(r.refs)+1] |= bit
			for i, b := range r.beyond {
				hand, _ := t.p.Hand(b.of)
				if b.kind == "above" && at[hand] >= b.level || b.kind == "below" && at[hand] <= b.level {
					words[len(r.refs)+2+i] |= bit
				}
			}
			for k, block := range t.wanted {
				if st.At(t.p.BlockSlot(block)) != 0 {
					one.wanted[f*len(t.wanted)+k] |= bit
				}
			}
		}
	}
	list := append(slices.Clone(*r.list.Load()), one)
	r.list.Store(&list)
}

// position tells whether a literal is true with the hands somewhere.
func (r *runs) position(t *translation, ref string, hands signal.Hands) bool {
	ref, not := strings.CutPrefix(ref, "not ")
	f, err := t.s.Fact(setup.Truth(ref))
	return err == nil && (int(hands[f.Index]) == f.Sub) != not
}

// add adds a run that showed that some list is not the same.
func (r *runs) add(t *translation, rows []proof.Row, frame int) {
	power := false
	for _, row := range rows {
		power = power || row.Control == "transmitter"
	}
	r.record(t, power, frame+1, func(int) func(int, signal.Hands) {
		next := 0
		return func(f int, hands signal.Hands) {
			if f == 0 {
				copy(hands, t.p.Rest())
			}
			for ; next < len(rows) && rows[next].Frame <= f; next++ {
				if hand, ok := t.p.Hand(rows[next].Control); ok {
					hands[hand], _ = t.p.HandValue(rows[next].Control, rows[next].Value)
				}
			}
		}
	})
}
