package proof

import (
	"context"
	"errors"
	"fmt"
	"io"
	"strconv"
	"strings"

	"axtren/core/setup"
	"axtren/core/signal"
)

// ReadCondition reads a condition as a person types it: a truth, or an output or a device above or below a
// figure, "motor > 20".
func ReadCondition(s *setup.Setup, text string) (setup.Condition, error) {
	at := strings.IndexAny(text, "<>")
	if at < 0 {
		t := setup.Truth(strings.TrimSpace(text))
		if _, err := s.Fact(t); err != nil {
			return setup.Condition{}, fmt.Errorf("%q is no condition of this setup: %w", text, err)
		}
		return setup.Condition{Truth: t}, nil
	}
	id, figure := setup.ID(strings.TrimSpace(text[:at])), strings.TrimSpace(text[at+1:])
	v, err := strconv.ParseFloat(figure, 64)
	if err != nil || v < -1000 || v > 1000 {
		return setup.Condition{}, fmt.Errorf("%q is no figure; use -1000 to 1000", figure)
	}
	c := setup.Condition{Above: &v}
	if text[at] == '<' {
		c = setup.Condition{Below: &v}
	}
	switch item := s.Item(id); {
	case item.Kind == setup.IsOutput:
		c.Output = &id
	case item.Kind == setup.IsDevice && !s.Devices[item.Index].PartKind().Passes:
		c.Device = &id
	default:
		return setup.Condition{}, fmt.Errorf("%q is no output and no device with a value; use the id of one", id)
	}
	return c, nil
}

// ReadRows reads a script as rows, each with the frame in which it acts.
func ReadRows(p *signal.Program, text io.Reader) ([]Row, error) {
	script := signal.NewScript(text, p)
	ids := p.HandIDs()
	rows := []Row{}
	for {
		row, err := script.Next()
		if errors.Is(err, io.EOF) {
			return rows, nil
		}
		if err != nil {
			return nil, err
		}
		frame := 0
		for Seconds(frame, p.Setup()) < row.T-dust {
			frame++
		}
		rows = append(rows, Row{frame, row.T, ids[row.Hand], p.HandWord(ids[row.Hand], row.Value)})
	}
}

// Moment is a moment of a program that is played, with the hands where they are then.
type Moment struct {
	Program *signal.Program
	State   *signal.State
}

// ReachFrom looks from a moment that is played for the fewest movements after which one of some conditions is
// true, by the next frame at the earliest; rows count from there. Nobody cuts the signal or the power to get
// somewhere: that is looked for only where nothing else does it. met is which of them is true then.
func ReachFrom(ctx context.Context, s *setup.Setup, goals []setup.Condition, from Moment,
	budget Budget) (v Verdict,
	met int) {
	for _, cuts := range []bool{false, true} {
		v = Verdict{Verdict: Fails, Rows: []Row{}}
		for i := range goals {
			one := decide(ctx, s, &setup.Claim{Reachable: &goals[i]}, &begun{live: &from, cuts: cuts}, budget)
			switch {
			case one.Verdict == Holds && v.Verdict == Holds && !one.before(&v):
			case one.Verdict == Holds:
				v, met = one, i
			case v.Verdict == Holds:
			case one.Verdict == Undecided:
				v, met = one, i
			case v.Verdict == Fails:
				v.States += one.States
				if v.Bounds == "" {
					v.Bounds = one.Bounds
				}
			}
		}
		if v.Verdict == Holds {
			break
		}
	}
	v.Live = true
	return v, met
}

// before tells whether a way takes fewer movements than another, or as many and is there earlier.
func (v *Verdict) before(other *Verdict) bool {
	return len(v.Rows) < len(other.Rows) || len(v.Rows) == len(other.Rows) && v.Frame < other.Frame
}

// Reach looks for the fewest movements after which a condition is true, from power-on, or after rows of a
// script: then from the frame in which the last of them acts.
func Reach(ctx context.Context, s *setup.Setup, c setup.Condition, after []Row, budget Budget) Verdict {
	var from *begun
	if after != nil {
		from = &begun{rows: after}
		for i := range after {
			from.frame = max(from.frame, after[i].Frame)
		}
	}
	return decide(ctx, s, &setup.Claim{Reachable: &c}, from, budget)
}
