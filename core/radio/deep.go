package radio

import (
	"fmt"
	"math"
)

// Dive is a boat that goes down as its radio loses it.
type Dive struct {
	LossS   float64 // until the receiver acts
	Sinks   Range   // m/s, down, as it goes out of reach
	MassKG  float64
	Density float64 // of the water, kg/m³
	BlownM3 float64 // what the tank gives out in all
	LightM3 float64 // by how much it is lighter than water as it dives
	BlowS   Range
	CoastS  float64
	AreaM2  float64
	Drag    Range
}

// Deep is how far below its reach a boat gets.
type Deep struct {
	Depth Range // m below where it was lost
	Back  Range // s until it is as high again
	Never bool  // nothing brings it back: it goes on down, or it may
	Why   []string
}

// How a dive is stepped.
const (
	stepS    = 0.01
	mostS    = 600.0
	addedLow = 0.5 // of the water that moves along with the boat, a share of what it displaces (our choice)
	addedTop = 1.0
)

// Down works out how far it goes on: at its speed until the receiver acts; then what pushed it down ends, at
// once or as it slows down over CoastS, and what lifts it is the water that the tank has given out by then
// (Archimedes: ρ g V), against its drag, ½ ρ C A v².
func (d *Dive) Down() Deep {
	out := Deep{Depth: Range{math.Inf(1), 0}, Back: Range{math.Inf(1), 0}}
	lift := d.Density * gravity * (d.BlownM3 + d.LightM3)
	if lift <= 0 || d.MassKG <= 0 {
		out.Never = true
		out.Depth, out.Back = Range{}, Range{}
		out.Why = []string{"Nothing lifts it: its tank gives out no water, and it is not lighter than water."}
		return out
	}
	for _, sinks := range []float64{d.Sinks.Least, d.Sinks.Most} {
		for _, blow := range []float64{d.BlowS.Least, d.BlowS.Most} {
			for _, drag := range []float64{d.Drag.Least, d.Drag.Most} {
				for _, added := range []float64{addedLow, addedTop} {
					for _, coast := range []float64{0, d.CoastS} {
						depth, back, ok := d.once(sinks, blow, drag, added, coast)
						out.Never = out.Never || !ok
						out.Depth = Range{min(out.Depth.Least, depth), max(out.Depth.Most, depth)}
						out.Back = Range{min(out.Back.Least, back), max(out.Back.Most, back)}
					}
				}
			}
		}
	}
	out.Why = []string{
		fmt.Sprintf("%.2g s until the receiver acts, at %.0f to %.0f mm/s, are %.2f to %.2f m.", d.LossS,
			1000*d.Sinks.Least, 1000*d.Sinks.Most, d.LossS*d.Sinks.Least, d.LossS*d.Sinks.Most),
		fmt.Sprintf("The tank gives out %.0f ml in %g to %g s: %.0f kg/m³ times 9.81 m/s² times "+
			"that lifts with %.2f N; "+
			"%.0f ml lighter than water are %.2f N more.", 1e6*d.BlownM3, d.BlowS.Least, d.BlowS.Most, d.Density,
			d.Density*gravity*d.BlownM3, 1e6*d.LightM3, d.Density*gravity*d.LightM3),
		fmt.Sprintf("%.2g kg and the water that moves along are slowed down by that and by the drag "+
			"of %.0f cm² at a "+
			"coefficient of %g to %g.", d.MassKG, 1e4*d.AreaM2, d.Drag.Least, d.Drag.Most),
	}
	return out
}

// once works out one dive: depth in m, back in s; ok is false where it does not come back in ten minutes.
func (d *Dive) once(sinks, blow, drag, added, coast float64) (depth, back float64, ok bool) {
	light := d.Density * gravity * d.LightM3
	resists := func(v float64) float64 { return d.Density / 2 * drag * d.AreaM2 * v * math.Abs(v) }
	pushes := resists(sinks) + light // what holds its speed against drag and lift
	mass := d.MassKG * (1 + added)
	z, v := d.LossS*sinks, sinks
	deepest := z
	for t := 0.0; t < mostS; t += stepS {
		share := 1.0
		if blow > 0 {
			share = min(t/blow, 1)
		}
		push := 0.0
		if coast > 0 {
			push = pushes * math.Exp(-t/coast)
		}
		up := light + d.Density*gravity*d.BlownM3*share
		// the drag is that of the speed after the step, so that no step is too long
		v = (v + stepS*(push-up)/mass) / (1 + stepS*d.Density/2*drag*d.AreaM2*math.Abs(v)/mass)
		z += stepS * v
		deepest = max(deepest, z)
		if z <= 0 {
			return deepest, d.LossS + t, true
		}
	}
	return deepest, mostS, false
}
