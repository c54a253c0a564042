package signal

import "axtren/core/setup"

// announcements compiles what the transmitter speaks: 1 in the frame in which
// it becomes true; in the first frame only where it is to be said at the start.
func (c *compiler) announcements() {
	for i := range c.s.Announcements {
		a := &c.s.Announcements[i]
		said := c.emit(inst{op: opSay, a: c.fact(a.When), c: c.keep(setup.IsAnnouncement.At(i), "said"),
			x: truth(a.AtStart)})
		c.p.said = append(c.p.said, said)
	}
}

// SaidSlot gives the slot of announcement i, 1 in the frame in which it is spoken.
func (p *Program) SaidSlot(i int) Slot { return p.said[i] }

// say is rise, but for the first frame.
func say(in float64, was *float64, atStart float64, first bool) float64 {
	if first {
		*was = in
		return truth(in != 0 && atStart != 0)
	}
	return rise(in, was, false, false)
}
