package loss

import (
	"bytes"
	"context"
	"fmt"
	"math"
	"slices"

	"axtren/core/proof"
	"axtren/core/setup"
	"axtren/core/signal"
	"axtren/core/words"
)

// within is how near an output has to be to its loss position to be stored, percent.
const within = 1.0

// settlesS is how long the sticks are watched after the last of them was moved, seconds.
const settlesS = 30.0

// Hold says how every stick and switch is held before the button of a receiver is pressed that stores what
// they show: so that each of its functions that goes to a position stands there, all at once. ok is false
// where no way of holding them shows all.
//
// It is looked for where nothing takes time, so that nothing is found that only passes by, and then played on
// the setup as it is.
func Hold(ctx context.Context, s *setup.Setup, receiver int, budget proof.Budget) (lines []string, ok bool) {
	stored := storedBy(s, receiver)
	if len(stored) == 0 {
		return []string{"No function of this receiver goes to a position, so there is nothing to store."}, true
	}
	with := s.AtOnce()
	var conds []setup.Condition
	var names []string
	for _, i := range stored {
		id, at := s.Outputs[i].ID, *s.Outputs[i].Loss.Value
		conds = append(conds, setup.Condition{Output: &id, Within: &setup.Point{at - within, at + within}})
		names = append(names, s.OutputLabel(i))
	}
	with.Claims = append(slices.Clone(s.Claims), setup.Claim{ID: setup.ID(s.FreeID("held")), Never: &conds})
	with.Relink()
	v := proof.Decide(ctx, with, len(with.Claims)-1, budget)
	switch v.Verdict {
	case proof.Fails:
		return sticksHeld(s, receiver, stored, v.Rows)
	case proof.Holds:
		return []string{"No way of holding sticks and switches shows all of these at once: " + words.And(names) +
			". Ask for other positions, or for a receiver into which they are typed."}, false
	}
	return []string{"Not found out: " + v.Why + "."}, false
}

// storedBy lists the outputs on the pins of a receiver that go to a position on a lost signal.
func storedBy(s *setup.Setup, receiver int) (list []int) {
	for i := range s.Outputs {
		carried := slices.ContainsFunc(s.Carriers(i),
			func(ref setup.PinRef) bool { return ref.Receiver == receiver })
		if l := s.Outputs[i].Loss; l != nil && l.Mode == "preset" && carried {
			list = append(list, i)
		}
	}
	return list
}

// sticksHeld says movements after which all that is stored is shown, and when the button is pressed.
func sticksHeld(s *setup.Setup, receiver int, stored []int, rows []proof.Row) (lines []string, ok bool) {
	p, err := signal.Compile(s)
	if err != nil {
		return []string{"Not found out: " + err.Error() + "."}, false
	}
	first, last := shown(p, stored, rows)
	lines = held(s, p, rows)
	button := "press the button of " + s.ReceiverLabel(&s.Receivers[receiver])
	const back = " Then read back what it does: switch the transmitter off."
	switch {
	case math.IsNaN(first):
		return []string{"Not found out: what takes time here keeps the sticks from showing all of it at once."},
			false
	case last < settlesS:
		return append(lines, fmt.Sprintf("All of it is shown only for a while: from %.1f to %.1f s after the last "+
			"movement. Just then %s.", first, last, button)+back), true
	}
	return append(lines, "Hold all of it so, wait until nothing moves any more, and "+button+"."+back), true
}

// shown plays rows, and gives from when to when after the last of them all that is stored was last shown,
// seconds; NaN: never.
func shown(p *signal.Program, stored []int, rows []proof.Row) (first, last float64) {
	first, last = math.NaN(), math.NaN()
	moved := 0.0
	if n := len(rows); n > 0 {
		moved = rows[n-1].T
	}
	was := false
	script := signal.NewScript(bytes.NewReader([]byte(proof.Script(rows))), p)
	err := p.Run(script, moved+settlesS, func(t float64, st *signal.State) error {
		now := t >= moved-1e-9 && !slices.ContainsFunc(stored, func(i int) bool {
			return math.Abs(st.At(p.Routes[i].P)-*p.Setup().Outputs[i].Loss.Value) > within+1e-6
		})
		if now {
			last = t - moved
			if !was {
				first = last
			}
		}
		was = now
		return nil
	})
	if err != nil {
		return math.NaN(), math.NaN() // it is a script of this model, so there is none
	}
	if was {
		last = settlesS
	}
	return first, last
}

// held says what hands do, and how each control that moved is then held, in the order of the controls. Where
// nothing moves twice, how it is held says it all.
func held(s *setup.Setup, p *signal.Program, rows []proof.Row) (lines []string) {
	last := map[string]string{}
	for _, r := range rows {
		last[r.Control] = r.Value
	}
	rest := p.Rest()
	for i := range s.Transmitter.Controls {
		id := string(s.Transmitter.Controls[i].ID)
		hand, _ := p.Hand(id)
		if v, err := p.HandValue(id, last[id]); err == nil && (v != rest[hand] || len(last) == len(rows)) {
			_, at := words.Put(s, i, v)
			lines = append(lines, at+".")
		}
	}
	if len(last) < len(rows) {
		lines = append(proof.Moves(s, rows), lines...)
	}
	if lines == nil {
		lines = []string{"Touch nothing: as everything stands at power-on, so it is stored."}
	}
	return lines
}
