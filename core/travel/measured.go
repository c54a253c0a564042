package travel

import (
	"fmt"
	"math"

	"axtren/core/linkage"
	"axtren/core/setup"
	"axtren/core/words"
)

// farApart is by how much a measured end and the lengths may differ before it is worth a look, percent (our
// choice).
const farApart = 5

// AgainstLengths compares where the linkage of an output was found to bind with where its lengths say that it
// ends; one figure for each end that was measured. What was measured counts.
func AgainstLengths(s *setup.Setup, output int) []linkage.Figure {
	o := &s.Outputs[output]
	list := []linkage.Figure{}
	if o.Linkage == nil {
		return list
	}
	l, problem := linkage.New(o.Linkage)
	if problem != nil {
		return list
	}
	plus, minus := ServoWays(s, output)
	for _, end := range []struct {
		what, way string
		side, at  float64
	}{{Low, minus, -1, l.Low.Position}, {High, plus, 1, l.High.Position}} {
		f := find(s, o.ID, end.what)
		if f == nil || f.How != Measured {
			continue
		}
		binds := f.Value + end.side*backOff(s)
		off := end.side * (end.at - binds)
		_, short := towards(end.way)
		figure := linkage.Figure{Title: "Measured and worked out, " + short, Says: "they agree",
			Why: []string{fmt.Sprintf("It was set to %s, %s points back from where it binds: %s. By "+
				"the lengths its way "+
				"ends at %s.", words.SignedShort(f.Value), words.Short(backOff(s)), words.SignedShort(binds),
				words.SignedShort(math.Round(end.at)))}}
		if math.Abs(off) > farApart {
			figure.Says = fmt.Sprintf("they differ by %s", words.Short(math.Round(math.Abs(off))))
			figure.Note = "It binds before the lengths say: look for what is in its way, a horn or a hole that was " +
				"measured wrongly, a stop that lies nearer. What was measured counts."
			if off < 0 {
				figure.Note = "It goes further than the lengths say: look at lengths that were measured wrongly, holes " +
					"that are worn, and what flexes. What was measured counts."
			}
		}
		list = append(list, figure)
	}
	return list
}
