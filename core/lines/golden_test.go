package lines

import (
	"fmt"
	"strings"
	"testing"

	"github.com/stretchr/testify/require"

	"axtren/internal/golden"
)

// TestWholeViews: everything that is drawn of a model, in its order.
func TestWholeViews(t *testing.T) {
	for _, m := range golden.Models(t) {
		v := Build(m.Doc, m.Program)
		golden.Equal(t, m.Name, golden.Text(t, v)+fmt.Sprintf("missing: %q, undriven: %d\n", Missing(m.Program), Undriven(m.Program)))
		for _, slot := range v.Slots {
			require.GreaterOrEqual(t, int(slot), 0)
		}
	}
}

// TestWholeForms: the form of each part, with what its fields may hold.
func TestWholeForms(t *testing.T) {
	for _, m := range golden.Models(t) {
		var b strings.Builder
		seen := map[string]bool{}
		for _, one := range Build(m.Doc, m.Program).Behind {
			kind := one.Word
			if seen[kind] && (m.Name != "everything" || kind != "block" && kind != "device") {
				continue // one of each will do
			}
			seen[kind] = true
			f, err := Form(m.Doc, m.Program, one.Part)
			require.NoError(t, err)
			for i := range f.Fields { // the same references stand in each list
				if len(f.Fields[i].Choices) > 4 {
					f.Fields[i].Choices = f.Fields[i].Choices[:2]
				}
			}
			fmt.Fprintf(&b, "%s\n%s", one.Part, golden.Text(t, f))
		}
		golden.Equal(t, m.Name+"_forms", b.String())
		_, err := Form(m.Doc, m.Program, "logic/nobody")
		require.Error(t, err)
	}
}

// TestWholePlots: what an output does over the travel of a control.
func TestWholePlots(t *testing.T) {
	for _, m := range golden.Models(t) {
		p := m.Program
		st := p.PowerOn()
		p.Step(st, p.Rest())
		var b strings.Builder
		for _, o := range p.Setup().Outputs {
			for _, c := range p.Setup().Transmitter.Controls {
				points := Plot(p, st, string(c.ID), string(o.ID))
				moves := false
				for _, at := range points {
					moves = moves || at[1] != points[0][1]
				}
				if !moves {
					continue
				}
				fmt.Fprintf(&b, "%s over %s, %d points:", o.ID, c.ID, len(points))
				for i := 0; i < len(points); i += max(1, len(points)/12) {
					fmt.Fprintf(&b, " %.4g→%.5g", points[i][0], points[i][1])
				}
				b.WriteString("\n")
			}
		}
		golden.Equal(t, m.Name+"_plots", b.String())
	}
}
