package signal

import (
	"math"

	"axtren/core/setup"
)

// pattern is one pattern: steps that are played while when is 1.
type pattern struct {
	when, frames, value Slot // frames since play began, -1 while it rests
	steps               []float64
	ends                []float64 // of each step, seconds from the start of play
	rest, frame         float64
	loop                bool
}

func (c *compiler) pattern(i int) {
	s := &c.s.Patterns[i]
	p := pattern{when: c.fact(s.When), frames: c.keep(setup.IsPattern.At(i), "frames"),
		value: c.values[c.graph.at[setup.IsPattern.At(i)]],
		rest:  s.Rest, frame: c.s.Transmitter.FrameS(), loop: s.Loop}
	end := 0.0
	for _, step := range s.Steps {
		end += step[1]
		p.steps, p.ends = append(p.steps, step[0]), append(p.ends, end)
	}
	c.p.patternAt[i] = len(c.p.patterns)
	c.p.patterns = append(c.p.patterns, p)
	c.add(inst{op: opPattern, at: int32(len(c.p.patterns) - 1), dst: p.value})
}

// step plays a frame. Ends of steps are counted from the start of play, so that
// they do not drift with the frame.
func (p *pattern) step(v []float64) {
	if v[p.when] == 0 {
		v[p.frames], v[p.value] = -1, p.rest
		return
	}
	if v[slotFirst] != 0 {
		v[p.frames] = -1
	}
	v[p.frames]++
	t := float64(v[p.frames] * p.frame)
	last := len(p.ends) - 1
	if p.loop {
		t -= float64(math.Floor((t+timeSlack)/p.ends[last]) * p.ends[last])
	}
	at := 0
	for at < last && t >= p.ends[at]-timeSlack {
		at++
	}
	v[p.value] = p.steps[at]
}
