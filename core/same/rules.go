package same

import (
	"context"
	"fmt"

	"axtren/core/proof"
	"axtren/core/setup"
	"axtren/core/signal"
	"axtren/core/words"
)

// Rules tells whether two blocks of a setup are true in the same frames of every run: the verdict, and what
// was proved or shows the difference, a line each. ok is false where one of them is not there.
func Rules(ctx context.Context, s *setup.Setup, a, b setup.ID, budget proof.Budget) (verdict string,
	lines []string,
	ok bool) {
	if s.Item(a).Kind != setup.IsBlock || s.Item(b).Kind != setup.IsBlock {
		return "", nil, false
	}
	v := proof.Apart(ctx, &proof.Pairs{Setup: s, List: []proof.Pair{{A: a, B: b}}}, budget)
	switch v.Verdict {
	case proof.Undecided:
		return v.Verdict, []string{words.Capital(v.Why) + "."}, true
	case proof.Holds:
		return v.Verdict, []string{fmt.Sprintf("%s and %s are on and off at the same times, whatever hands do: %s "+
			"looked at, and there are no others.", words.Capital(s.Named(a)), s.Named(b),
			words.Count(v.States, "moment was", "moments were"))}, true
	}
	on, off, err := which(s, a, b, &v)
	if err != nil {
		return proof.Undecided, []string{words.Capital(err.Error()) + "."}, true
	}
	said := fmt.Sprintf("%s %s is on and %s is off", words.Capital(proof.When(s, v.Rows, v.Frame)), s.Named(on),
		s.Named(off))
	if !v.Fewest {
		said += "; fewer movements may show it too"
	}
	return v.Verdict, append(proof.Moves(s, v.Rows), said+"."), true
}

// which plays what shows that two blocks differ, and gives the one that is on then and the one that is off.
func which(s *setup.Setup, a, b setup.ID, v *proof.Verdict) (on, off setup.ID, err error) {
	p, err := signal.Compile(s)
	if err != nil {
		return "", "", err
	}
	differs := -1
	err = proof.Play(p, v.Rows, v.Frame, func(frame int, st *signal.State) bool {
		first, second := st.At(p.BlockSlot(s.Item(a).Index)), st.At(p.BlockSlot(s.Item(b).Index))
		if first == second {
			return true
		}
		if differs, on, off = frame, a, b; first == 0 {
			on, off = b, a
		}
		return false
	})
	if err == nil && differs != v.Frame {
		err = errFault
	}
	return on, off, err
}
