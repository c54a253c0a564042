package signal

import (
	"math"

	"axtren/core/setup"
)

// share is one group of outputs: the sums asked for, the largest of them, and what is left
// of them.
type share struct {
	in, out []Slot
	most    Slot
}

// largest gives the largest |sum| of the group and its place.
func (s *share) largest(v []float64) (most float64, at int) {
	for i, slot := range s.in {
		if m := math.Abs(v[slot]); m > most {
			most, at = m, i
		}
	}
	v[s.most] = most
	return most, at
}

// scale multiplies all by 100/most where most is above 100: the ratio stays.
func (s *share) scale(v []float64) {
	most, _ := s.largest(v)
	for i, slot := range s.in {
		if most > 100 {
			v[s.out[i]] = float64(v[slot]*100) / most
		} else {
			v[s.out[i]] = v[slot]
		}
	}
}

// keepTurn moves both by the excess, the larger one towards zero: their
// difference stays. Where both are as large, the first decides.
func (s *share) keepTurn(v []float64) {
	most, at := s.largest(v)
	shift := 0.0
	if most > 100 {
		shift = -math.Copysign(most-100, v[s.in[at]])
	}
	for i, slot := range s.in {
		v[s.out[i]] = v[slot] + shift
	}
}

// group compiles the outputs that are asked for together: those of a share, or
// one alone.
func (c *compiler) group(g group) {
	for _, i := range g.outputs {
		c.sums(i)
	}
	if g.share >= 0 {
		c.shared(g, &c.s.Shares[g.share])
	}
	for _, i := range g.outputs {
		c.output(i)
	}
}

func (c *compiler) shared(g group, rule *setup.Share) {
	ops := map[string]op{"scale": opShareScale, "keep_turn": opShareTurn}
	kind, moves := ops[rule.Rule]
	sh := share{most: None}
	if moves {
		sh.most = c.slot()
	}
	for _, i := range g.outputs {
		r := &c.p.Routes[i]
		r.Share, r.most = g.share, sh.most
		if moves {
			r.Shared = c.slot()
		}
		sh.in = append(sh.in, r.Sum)
		sh.out = append(sh.out, r.Shared)
	}
	if moves {
		c.p.shares = append(c.p.shares, sh)
		c.add(inst{op: kind, at: int32(len(c.p.shares) - 1)})
	}
}
