package proof

import (
	"cmp"
	"context"
	"math"
	"slices"

	"axtren/core/setup"
	"axtren/core/signal"
)

// What is looked at with shortened times.
const (
	longWait     = 400       // frames: where all counts are shorter, nothing is shortened
	hurriedSteps = 1_500_000 // frames of each search
	fewestAfter  = 3_000_000 // frames that are spent on fewer movements than those that were found so
)

// hurriedTo is to how many frames the longest count is shortened, one after the other.
var hurriedTo = []float64{12, 36}

// hurry looks for a run that shows what is forbidden where counts are long: first of the same rules with all
// their counts shortened alike, and then, with the movements that far apart again, of the rules as they are.
// What it finds was played; nil where it finds nothing, which says nothing.
func (y *system) hurry(ctx context.Context, s *setup.Setup, claim *setup.Claim, budget Budget) *Verdict {
	longest := float64(y.claimed.frames)
	for _, wait := range y.waits {
		longest = max(longest, wait.Need)
	}
	if !y.exact || longest < longWait || y.claimed.kind == watchLoss || y.begun != nil {
		return nil
	}
	budget = budget.Within(hurriedSteps)
	for _, frames := range hurriedTo {
		by := math.Ceil(longest / frames)
		h, err := hurried(s, claim, by)
		if err != nil {
			return nil
		}
		out := h.fewest(ctx, budget)
		if !out.bad {
			continue
		}
		rows, last := h.rows(out.path)
		most := (last+2)*int(by) + 8
		for i := range rows {
			rows[i].Frame *= int(by)
		}
		if y.breaks(rows, most) < 0 {
			continue
		}
		rows = y.tighten(rows, most)
		return &Verdict{Verdict: Fails, Rows: rows, Frame: y.breaks(rows, most)}
	}
	return nil
}

// hurried makes the system of a claim with all counts of its rules so many times shorter.
func hurried(s *setup.Setup, claim *setup.Claim, by float64) (*system, error) {
	frame := s.Transmitter.FrameS()
	shorter := func(seconds float64) float64 { return math.Ceil(signal.FramesIn(seconds, frame)/by) * frame }
	one := *claim
	if claim.LeadsTo != nil {
		leads := *claim.LeadsTo
		leads.WithinS = shorter(leads.WithinS)
		one.LeadsTo = &leads
	}
	h := &system{exact: true}
	power := h.claim(s, &one)
	for i := range h.all.Logic {
		if timer, ok := h.all.Logic[i].Spec.(*setup.Timer); ok {
			short := *timer
			short.ForS = shorter(timer.ForS)
			h.all.Logic[i] = setup.Block{BlockHead: &short.BlockHead, Spec: &short}
		}
	}
	return h, h.ready(power, nil)
}

// breaks gives the frame in which rows show what is forbidden; -1: they do not.
func (y *system) breaks(rows []Row, last int) int {
	at, err := y.watch.breaks(rows, last)
	if err != nil {
		return -1
	}
	return at
}

// tighten leaves out rows that are not needed, does before power-on what can be done then, and makes each
// wait as short as it can be, until no more can be left out.
func (y *system) tighten(rows []Row, last int) []Row {
	for n := len(rows) + 1; len(rows) < n; {
		n = len(rows)
		rows = y.needed(y.shorter(y.before(y.needed(rows, last), last), last), last)
	}
	for i := range rows {
		rows[i].T = Seconds(rows[i].Frame, y.s)
	}
	return rows
}

// needed leaves out rows without which it shows too.
func (y *system) needed(rows []Row, last int) []Row {
	for i := 0; i < len(rows); {
		if fewer := slices.Delete(slices.Clone(rows), i, i+1); y.breaks(fewer, last) >= 0 {
			rows = fewer
			continue
		}
		i++
	}
	return rows
}

// before puts controls that stay where they are put there before power-on, where it shows then too.
func (y *system) before(rows []Row, last int) []Row {
	for i := range rows {
		item := y.s.Item(setup.ID(rows[i].Control))
		if rows[i].Frame == 0 || item.Kind != setup.IsControl || y.s.Transmitter.Controls[item.Index].Springs() {
			continue
		}
		moved := slices.Clone(rows)
		moved[i].Frame = 0
		slices.SortStableFunc(moved, func(a, b Row) int { return cmp.Compare(a.Frame, b.Frame) })
		if y.breaks(moved, last) >= 0 {
			rows = moved
		}
	}
	return rows
}

// shorter makes each wait before rows as short as it can be: as short as nothing, or by halves.
func (y *system) shorter(rows []Row, last int) []Row {
	for i := range rows {
		before := -1
		if i > 0 {
			before = rows[i-1].Frame
		}
		if rows[i].Frame == 0 || rows[i].Frame == before {
			continue
		}
		earlier := func(by int) []Row {
			moved := slices.Clone(rows)
			for k := i; k < len(moved); k++ {
				moved[k].Frame -= by
			}
			return moved
		}
		low, high := 0, rows[i].Frame-max(before+1, 1)
		if y.breaks(earlier(high), last) >= 0 {
			low = high
		}
		for low < high-1 {
			if middle := (low + high) / 2; y.breaks(earlier(middle), last) >= 0 {
				low = middle
			} else {
				high = middle
			}
		}
		rows = earlier(low)
	}
	return rows
}
