package trouble

import (
	"fmt"
	"strings"
	"testing"

	"github.com/stretchr/testify/require"

	"axtren/core/signal"
	"axtren/internal/golden"
)

// TestAllCausesInTheirOrder: of every complaint about every line, the whole list, as
// it is with hands off, with the hands moved, and without a signal.
func TestAllCausesInTheirOrder(t *testing.T) {
	for _, m := range golden.Models(t) {
		p := m.Program
		rest := p.PowerOn()
		p.Step(rest, p.Rest())
		moved, hands := p.PowerOn(), p.Rest()
		p.Step(moved, hands)
		for i, c := range p.Setup().Transmitter.Controls {
			if c.Axis != nil {
				hands[i] = float64(90 - 20*i)
			} else {
				hands[i] = float64(len(c.Switch.Positions) - 1)
			}
		}
		for range 10 {
			p.Step(moved, hands)
		}
		lost, up := p.PowerOn(), p.Rest()
		p.Step(lost, up)
		hand, _ := p.Hand("link")
		up[hand] = 0
		for range 60 {
			p.Step(lost, up)
		}
		off, down := p.PowerOn(), p.Rest()
		hand, _ = p.Hand("transmitter")
		down[hand] = 0
		hand, _ = p.Hand(string(p.Setup().Receivers[0].ID))
		down[hand] = 0
		p.Step(off, down)
		waits, early := p.PowerOn(), p.Rest()
		entry := p.Setup().StartCheck[0].Control
		if c := p.Setup().Transmitter.Controls[p.Setup().Item(entry).Index]; c.Switch != nil {
			early[p.Setup().Item(entry).Index] = 0
		} else {
			early[p.Setup().Item(entry).Index] = 100
		}
		p.Step(waits, early)
		require.Len(t, p.WaitsFor(waits), 1)
		var b strings.Builder
		for _, o := range p.Setup().Outputs {
			for _, c := range Complaints() {
				before := ""
				for _, one := range []struct {
					when string
					st   *signal.State
				}{{"hands off", rest}, {"moved", moved}, {"no signal", lost}, {"off", off},
					{"waits", waits}} {
					text := ""
					for _, cause := range Causes(p, one.st, c.Key, string(o.ID)) {
						now := "     "
						if cause.Now {
							now = "now  "
						}
						require.NotEmpty(t, cause.Look)
						require.Equal(t, string(o.ID), cause.Line)
						text += fmt.Sprintf("    %s%s | %s: %s\n", now, cause.What, cause.Joint, cause.Part)
					}
					if text != before { // what is as with hands off is not said again
						fmt.Fprintf(&b, "%s %s, %s\n%s", o.ID, c.Words, one.when, text)
					}
					if before == "" {
						before = text
					}
				}
			}
		}
		golden.Equal(t, m.Name, b.String())
	}
}
