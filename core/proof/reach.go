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

// ReachFrom is Reach from a moment that is played, by the next frame at the earliest; its rows count from
// there.
func ReachFrom(ctx context.Context, s *setup.Setup, c setup.Condition, from Moment, budget Budget) Verdict {
	v := decide(ctx, s, &setup.Claim{Reachable: &c}, &begun{live: &from}, budget)
	v.Live = true
	return v
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
