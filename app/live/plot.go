package live

import (
	"slices"

	"axtren/app/web/contract"
	"axtren/core/lines"
)

// plotEvery is how many frames lie between two looks at whether a plot is still
// true: another control may have changed it.
const plotEvery = 5

// plotted is the plot that a page wants, and what it was sent.
type plotted struct {
	wish *contract.ToBench
	sent [][]float64
	wait int
}

// plots makes the plot message where it differs from what was sent.
func (b *bench) plots() (msg *contract.FromBench, sent func()) {
	p := &b.plot
	if p.wish == nil || p.wish.Control == nil || p.wish.Output == nil || *p.wish.Control == "" {
		return nil, nil
	}
	if p.wait--; p.wait > 0 {
		return nil, nil
	}
	p.wait = plotEvery
	points := lines.Plot(b.program, b.state, *p.wish.Control, *p.wish.Output)
	same := func(a, b []float64) bool { return slices.Equal(a, b) }
	if points == nil || slices.EqualFunc(points, p.sent, same) {
		return nil, nil
	}
	return &contract.FromBench{T: contract.FromBenchTPlot, Points: &points}, func() { p.sent = points }
}
