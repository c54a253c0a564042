package signal

import "axtren/core/setup"

// sequence is one sequence: a place in time that moves while go is 1, and back
// while it is 0.
type sequence struct {
	run, at, ahead Slot // ahead is 1 while it heads for its end
	end, frame     float64
	finish         bool
}

func (c *compiler) sequence(i int) {
	s := &c.s.Sequences[i]
	sq := sequence{run: c.fact(s.Go), at: c.values[c.graph.at[setup.IsSequence.At(i)]],
		ahead: c.keep(setup.IsSequence.At(i), "way"),
		end:   c.s.Sequences[i].LastS(), frame: c.s.Transmitter.FrameS(), finish: s.Interrupt == "finish"}
	c.p.sequenceAt[i] = len(c.p.sequences)
	c.p.sequences = append(c.p.sequences, sq)
	c.add(inst{op: opSequence, at: int32(len(c.p.sequences) - 1), dst: sq.at})
}

// track gives the curve of a track: percent over seconds.
func (c *compiler) track(i, track int) int32 {
	c.p.curves = append(c.p.curves, newCurve(c.s.Sequences[i].Tracks[track].Keys, false))
	return int32(len(c.p.curves) - 1)
}

// sequenceState gives the slot of rest (0), moving (1) or done (2).
func (c *compiler) sequenceState(i, state int) Slot {
	at := c.held(setup.IsSequence, i)
	in := inst{op: opIs, a: at}
	switch state {
	case 1:
		in = inst{op: opInside, a: at, y: c.s.Sequences[i].LastS()}
	case 2:
		in.x = c.s.Sequences[i].LastS()
	}
	return c.once(in)
}

// step moves the sequence by a frame. At power-on it is where go says. What is
// nearer to an end than timeSlack is there.
func (s *sequence) step(v []float64) {
	run, at := v[s.run], v[s.at]
	if v[slotFirst] != 0 {
		v[s.at], v[s.ahead] = float64(run*s.end), run
		return
	}
	if !s.finish || at == 0 || at == s.end {
		v[s.ahead] = run
	}
	if v[s.ahead] != 0 {
		at += s.frame
	} else {
		at -= s.frame
	}
	switch {
	case at >= s.end-timeSlack:
		at = s.end
	case at <= timeSlack:
		at = 0
	}
	v[s.at] = at
}
