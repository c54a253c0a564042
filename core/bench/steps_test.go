package bench_test

import (
	"context"
	"fmt"
	"strings"
	"testing"
	"time"

	"github.com/stretchr/testify/require"

	"axtren/core/bench"
	"axtren/core/proof"
	"axtren/core/setup"
	"axtren/core/signal"
	"axtren/internal/golden"
)

// stepped works out how a person tries a setup.
func stepped(t testing.TB, s *setup.Setup, whole bool) *bench.Procedure {
	t.Helper()
	ctx, cancel := context.WithTimeout(context.Background(), time.Minute)
	defer cancel()
	p, err := bench.Steps(ctx, s, bench.Wish{Whole: whole}, proof.Budget{Bytes: 64 << 20})
	require.NoError(t, err)
	return p
}

// text writes steps as a person reads them.
func text(p *bench.Procedure) string {
	var b strings.Builder
	for _, line := range p.Taught {
		b.WriteString(line + "\n")
	}
	for n, step := range p.Steps {
		fmt.Fprintf(&b, "%d. %s, %d faults: %s\n", n+1, step.When, step.Shows, strings.Join(step.Does, " "))
		if step.Holds != "" {
			fmt.Fprintf(&b, "   (%s)\n", step.Holds)
		}
		for _, part := range step.Parts {
			fmt.Fprintf(&b, "   %s: %s", part.Label, part.Should)
			if part.Channel > 0 {
				fmt.Fprintf(&b, "; channel %d reads %s", part.Channel, part.Display)
			}
			b.WriteString("\n")
		}
		if step.Rest != "" {
			b.WriteString("   " + step.Rest + "\n")
		}
	}
	return b.String()
}

// TestStepsInWords: whole texts for a tug, a rally car and a groomer.
func TestStepsInWords(t *testing.T) {
	models := yard(t)
	for _, name := range []string{"Marram", "Pipit", "Stoat"} {
		golden.Equal(t, strings.ToLower(name), text(stepped(t, models[name], false)))
	}
	golden.Equal(t, "pipit_whole", text(stepped(t, models["Pipit"], true)))
}

// TestAPersonCanGoThem: of every model two hands are enough, all single faults are seen that a walk shows but
// for what is to be seen too shortly, Pipit's brakes that move up one after the other,
// power is switched off and on at the end, and no sentence has a name of the document.
func TestAPersonCanGoThem(t *testing.T) {
	for name, s := range yard(t) {
		p := stepped(t, s, false)
		require.Equal(t, count(walked(t, s))-map[string]int{"Pipit": 1}[name], count(p.Walk), name)
		there, _ := keeps(t, s, p.Walk)
		require.Empty(t, there, name)
		seen := byForce(t, s, p.Walk)
		for f, looks := range seen {
			require.Equal(t, len(looks) > 0, p.Walk.Seen[f] >= 0, "%s %v", name, p.Walk.Faults[f])
		}
		require.NotRegexp(t, `[a-z]_[a-z]|%!`, text(p), name)
		require.NotEmpty(t, p.Safe)
		var when []string
		for _, step := range p.Steps {
			when = append(when, string(step.When))
			require.NotEmpty(t, step.Does, name)
			require.True(t, len(step.Parts) > 0 || step.Rest != "", name)
		}
		n := len(when)
		require.Equal(t, []string{"lost", "back", "off", "on"}, when[n-4:], name)
		require.NotContains(t, when[:n-4], "lost")
		for _, look := range p.Walk.Looks {
			require.LessOrEqual(t, grips(s, look.Hands), 2, "%s: %v", name, look.Hands)
		}
	}
}

// restOf is where a control rests, or begins.
func restOf(c *setup.Control) float64 {
	if c.Axis != nil {
		return c.Axis.Rest()
	}
	return float64(c.Switch.Rest())
}

// grips counts what has to be held: a stick, or another thing that springs back.
func grips(s *setup.Setup, hands []float64) int {
	held := map[string]bool{}
	for i := range s.Transmitter.Controls {
		c := &s.Transmitter.Controls[i]
		name := string(c.ID)
		if c.Stick != "" {
			name = string(c.Stick)
		}
		rest := restOf(c)
		if c.Springs() && hands[i] != rest {
			held[name] = true
		}
	}
	return len(held)
}

// TestTheWholeListHasEveryEnd: every control is moved alone to each of its ends, a button twice, from where
// all rests.
func TestTheWholeListHasEveryEnd(t *testing.T) {
	s := yard(t)["Pipit"]
	short, whole := stepped(t, s, false), stepped(t, s, true)
	require.Greater(t, len(whole.Steps), len(short.Steps))
	require.Equal(t, []string{"Hands off."}, whole.Steps[0].Does)
	require.Equal(t, "Nothing moves.", whole.Steps[0].Rest)
	alone := map[string]int{}
	for _, look := range whole.Walk.Looks {
		var moved []string
		for i := range s.Transmitter.Controls {
			c := &s.Transmitter.Controls[i]
			rest := restOf(c)
			if look.Hands[i] != rest {
				moved = append(moved, fmt.Sprint(c.ID, " ", look.Hands[i]))
			}
		}
		if len(moved) == 1 && look.When == bench.There {
			alone[moved[0]]++
		}
	}
	for i := range s.Transmitter.Controls {
		c := &s.Transmitter.Controls[i]
		if c.Axis != nil {
			for _, v := range []float64{-100, 100} {
				if v != c.Axis.Rest() {
					require.Positive(t, alone[fmt.Sprint(c.ID, " ", v)], "%s %v: %v", c.ID, v, alone)
				}
			}
			continue
		}
		for at := range c.Switch.Positions {
			if at == c.Switch.Rest() {
				continue
			}
			least := 1
			if c.Springs() {
				least = 2
			}
			require.GreaterOrEqual(t, alone[fmt.Sprint(c.ID, " ", at)], least, "%s: %v", c.ID, alone)
		}
	}
}

// TestTheWholeListHasEveryState: of the tug, the button that steps the mast lights through is pressed until
// all of
// them were there, and the pump's button is tried with the water lock at either place: locked, nothing moves.
func TestTheWholeListHasEveryState(t *testing.T) {
	s := yard(t)["Marram"]
	whole := stepped(t, s, true)
	lock, pump, mast := -1, -1, -1
	for i := range s.Transmitter.Controls {
		switch s.ControlLabel(i) {
		case "Water lock":
			lock = i
		case "Left button":
			pump = i
		case "Right button":
			mast = i
		}
	}
	require.NotContains(t, []int{lock, pump, mast}, -1)
	presses, tried := 0, map[float64]int{}
	for _, look := range whole.Walk.Looks {
		moved := 0
		for i := range s.Transmitter.Controls {
			if i != lock && look.Hands[i] != restOf(&s.Transmitter.Controls[i]) {
				moved++
			}
		}
		if moved != 1 || look.When != bench.There {
			continue
		}
		if look.Hands[mast] != 0 && look.Hands[lock] == 0 {
			presses++
		}
		if look.Hands[pump] != 0 {
			tried[look.Hands[lock]]++
		}
	}
	steps := 0
	for i := range s.Steppers {
		steps = max(steps, len(s.Steppers[i].Steps))
	}
	require.Greater(t, steps, 2)
	require.GreaterOrEqual(t, presses, steps)
	require.GreaterOrEqual(t, tried[0], 2, "in the order that the lock forbids")
	require.GreaterOrEqual(t, tried[1], 2)
}

// TestAStepIsPlayed: its script is that of the walk up to its look, and goes on for a while as all then
// stands.
func TestAStepIsPlayed(t *testing.T) {
	const script = "t_s,control,value\n0.020,gas,100\n1.000,lit,on\n2.500,transmitter,off\n"
	require.Equal(t, "t_s,control,value\n0.020,gas,100\n1.000,lit,on\n3.500,lit,on\n", bench.Upto(script, 2))
	require.Equal(t, script+"4.500,transmitter,off\n", bench.Upto(script, 3))
	require.Equal(t, "t_s,control,value\n1.500,link,up\n", bench.Upto(script, 0))
	s := yard(t)["Marram"]
	p := stepped(t, s, false)
	program, err := signal.Compile(s)
	require.NoError(t, err)
	for n, step := range p.Steps {
		rows, err := signal.NewScript(strings.NewReader(bench.Upto(p.Script(), step.AtS)), program).Rows()
		require.NoError(t, err)
		require.InDelta(t, step.AtS+1.5, rows[len(rows)-1].T, 1e-9)
		require.Greater(t, step.AtS, step.FromS)
		if n > 0 {
			require.Equal(t, p.Steps[n-1].AtS, step.FromS)
		}
	}
}

// TestMoreLeversThanHands: forty functions on three levers that spring back, of which two are held at
// once; all that a walk without that bound shows is shown.
func TestMoreLeversThanHands(t *testing.T) {
	s := wide(t, 40).Setup
	p := stepped(t, s, false)
	require.Equal(t, count(walked(t, s)), count(p.Walk))
	for _, look := range p.Walk.Looks {
		require.LessOrEqual(t, grips(s, look.Hands), 2)
	}
}

// TestNothingToTry: a model without functions has no more to it than the power.
func TestNothingToTry(t *testing.T) {
	doc, err := setup.ReadYAML([]byte("format: axtren-setup\nversion: 1\n"))
	require.NoError(t, err)
	p := stepped(t, doc.Setup, false)
	require.Equal(t, []string{"There is no function yet, so there is nothing to try."}, p.Walk.Says(doc.Setup))
	require.Len(t, p.Steps, 2)
}
