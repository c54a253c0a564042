package signal

import (
	"math"

	"axtren/core/setup"
)

// stepper is one stepper: it steps on the rises of up and down, each of which
// may repeat while it is held.
type stepper struct {
	up, down, home Slot // None where it has none
	upWas, downWas Slot // the inputs of the frame before
	upFor, downFor Slot // frames that a button has been held since its rise, -1: it does not repeat
	at             Slot // the step, from 0
	last, start    float64
	wrap           bool
	repeatS, frame float64 // seconds; repeatS 0: no repeat
}

func stepStart(st *setup.Stepper) int {
	for i, step := range st.Steps {
		if st.Start != nil && step.Name == *st.Start {
			return i
		}
	}
	return 0
}

func (c *compiler) stepper(i int) {
	s := &c.s.Steppers[i]
	own := func(what string) Slot { return c.keep(setup.IsStepper.At(i), what) }
	st := stepper{up: None, down: None, home: None, at: c.values[c.graph.at[setup.IsStepper.At(i)]],
		last:  float64(len(s.Steps) - 1),
		start: float64(stepStart(s)), wrap: s.Wrap, repeatS: s.RepeatS, frame: c.s.Transmitter.FrameS()}
	if s.Up != nil {
		st.up, st.upWas, st.upFor = c.fact(*s.Up), own("up"), own("up held")
	}
	if s.Down != nil {
		st.down, st.downWas, st.downFor = c.fact(*s.Down), own("down"), own("down held")
	}
	if s.Home != nil {
		st.home = c.fact(*s.Home)
	}
	c.p.steppers = append(c.p.steppers, st)
	c.add(inst{op: opStepper, at: int32(len(c.p.steppers) - 1), dst: st.at})
}

// stepValues gives the place of the values of stepper i in the tables.
func (c *compiler) stepValues(i int) int32 {
	from := int32(len(c.p.tables))
	for _, step := range c.s.Steppers[i].Steps {
		c.p.tables = append(c.p.tables, step.Value)
	}
	return from
}

func (s *stepper) step(v []float64) {
	first := v[slotFirst] != 0
	if first {
		v[s.at] = s.start
	}
	home := s.home != None && v[s.home] != 0
	by := 0.0
	if s.up != None && s.presses(v[s.up], &v[s.upWas], &v[s.upFor], first, home) {
		by++
	}
	if s.down != None && s.presses(v[s.down], &v[s.downWas], &v[s.downFor], first, home) {
		by--
	}
	switch at := v[s.at] + by; {
	case home:
		v[s.at] = s.start
	case at >= 0 && at <= s.last:
		v[s.at] = at
	case s.wrap:
		v[s.at] = math.Mod(at+s.last+1, s.last+1)
	}
}

// presses tells whether a button steps in this frame: at its rise, and, where
// it repeats, in the first frame in which it has been held n times repeatS.
func (s *stepper) presses(in float64, was, held *float64, first, home bool) bool {
	rose := rise(in, was, first, false) != 0
	switch {
	case first || home || in == 0:
		*held = -1
		return false
	case rose:
		*held = 0
		return true
	case *held < 0 || s.repeatS == 0:
		return false
	}
	before := *held
	*held++
	return s.repeats(*held) > s.repeats(before)
}

// repeats is how often a button that was held so many frames has repeated.
func (s *stepper) repeats(frames float64) float64 {
	return math.Floor((float64(frames*s.frame) + timeSlack) / s.repeatS)
}
