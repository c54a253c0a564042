package live

import (
	"slices"

	"axtren/app/contract"
	"axtren/core/lines"
)

// plotEvery is how many frames lie between two looks at whether a plot is still
// true: another control may have changed it.
const plotEvery = 5

// plotFeature draws what an output does over the travel of a control.
type plotFeature struct {
	control, output string // empty: none is wanted
	told            [][]float64
	every
}

func (f *plotFeature) take(_ *bench, msg *contract.Asked) {
	*f = plotFeature{}
	if msg.Control != nil && msg.Output != nil {
		f.control, f.output = *msg.Control, *msg.Output
	}
}

func (f *plotFeature) next(b *bench) (*contract.Told, func()) {
	if f.control == "" || !f.due(plotEvery) {
		return nil, nil
	}
	points := lines.Plot(b.session.Runs().Program, b.session.State(), f.control, f.output)
	same := func(a, b []float64) bool { return slices.Equal(a, b) }
	if points == nil || slices.EqualFunc(points, f.told, same) {
		return nil, nil
	}
	return &contract.Told{T: contract.FromPlot, Points: &points}, func() { f.told = points }
}
