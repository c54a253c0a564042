package signal

import (
	"math"

	"axtren/core/setup"
)

// scale turns positions into pulses.
type scale struct {
	setup.Pulse
	steps float64 // steps of step_us in a percent
}

func newScale(p setup.Pulse) scale { return scale{p, p.HalfSpanUS / 100 / p.StepUS} }

// us gives the pulse of a position in percent: rounded to a multiple of step_us
// from centre_us, half away from it, then limited.
func (s *scale) us(p float64) float64 {
	const half = 0.5 + 1e-9       // what is this near to half a step counts as half
	steps := float64(p * s.steps) // 3e7 at most, so that int64 holds them
	whole := float64(int64(steps + math.Copysign(half, steps)))
	return clamp(s.CentreUS+float64(whole*s.StepUS), s.MinUS, s.MaxUS)
}

// PulseOf gives the pulse of a position in percent, as any output sends it.
func (p *Program) PulseOf(position float64) float64 { return p.pulse.us(position) }
