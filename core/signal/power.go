package signal

import "axtren/core/setup"

// slotFirst holds 1 in the first frame after a power-on, else 0.
const slotFirst Slot = 0

// NotChosen stands in Hands where a run leaves a servo's first position open.
const NotChosen = 1e6

// start is one thing that the transmitter waits for: a control from..to.
type start struct {
	control  Slot
	from, to float64
}

// power lays out what is turned on and off, after the controls: transmitter,
// link, each receiver, and where servos were left that nobody knows.
func (c *compiler) power() {
	on := func() Slot {
		slot := c.slot()
		c.p.initial[slot] = 1
		return slot
	}
	c.p.transmitter, c.p.link = on(), on()
	for range c.s.Receivers {
		c.p.receiversOn = append(c.p.receiversOn, on())
	}
	c.p.chosen = make([]Slot, len(c.s.Devices))
	for i, d := range c.s.Devices {
		c.p.chosen[i] = None
		if servo, ok := d.Spec.(*setup.Servo); ok && servo.LeftAt != nil && servo.LeftAt.At == nil {
			c.p.chosen[i] = c.slot()
			c.p.initial[c.p.chosen[i]] = NotChosen
		}
	}
	c.p.handsEnd = Slot(len(c.p.initial))
	c.p.up = c.slot()
	for _, e := range c.s.StartCheck {
		item := c.s.Item(e.Control)
		st := start{c.p.controls[item.Index], e.Is.From, e.Is.To}
		if sw := c.s.Transmitter.Controls[item.Index].Switch; sw != nil {
			for j, p := range sw.Positions {
				if p == e.Is.Position {
					st.from, st.to = float64(j), float64(j)
				}
			}
		}
		c.p.starts = append(c.p.starts, st)
	}
}

// Rest gives the hands with every control at rest or where it wakes, the link
// up and everything on.
func (p *Program) Rest() Hands {
	h := make(Hands, p.handsEnd-p.hands)
	copy(h, p.initial[p.hands:p.handsEnd])
	for i, c := range p.setup.Transmitter.Controls {
		if c.Axis != nil {
			h[i] = c.Axis.Rest()
		} else {
			h[i] = float64(c.Switch.Rest())
		}
	}
	return h
}

// Ready gives the hands of Rest, moved as little as the start check asks for.
func (p *Program) Ready() Hands {
	h := p.Rest()
	for _, s := range p.starts {
		hand := s.control - p.hands
		h[hand] = clamp(h[hand], s.from, s.to)
	}
	return h
}

// powered decides whether the transmitter sends in this frame, and whether it
// is its first. Once met, the start check does not bind until the next power-on.
func (p *Program) powered(v []float64) bool {
	sent := v[p.sending] != 0
	v[slotFirst], v[p.sending] = 0, 0
	if v[p.transmitter] == 0 || !sent && p.waits(v) {
		return false
	}
	v[p.sending] = 1
	if sent {
		v[p.odd] = 1 - v[p.odd]
		return true
	}
	v[slotFirst], v[p.odd] = 1, 0
	return true
}

func (p *Program) waits(v []float64) bool { return p.unmet(v[p.hands:p.handsEnd]) }

// Meets tells whether hands meet the start check.
func (p *Program) Meets(hands Hands) bool { return !p.unmet(hands) }

func (p *Program) unmet(hands []float64) bool {
	for _, s := range p.starts {
		if at := hands[s.control-p.hands]; at < s.from || at > s.to {
			return true
		}
	}
	return false
}

// ChangeMemory makes of a running state one in which the transmitter begins anew, latches and all, as after a
// change of its memory, while receivers and devices go on.
func (p *Program) ChangeMemory(st *State) {
	for i, key := range p.keptKeys {
		switch p.setup.Item(key.part.ID).Kind {
		case setup.IsReceiver, setup.IsDevice, 0: // a pin has no id, nor has the half rate of a channel
		default:
			st.V[i] = p.initial[i]
		}
	}
	st.V[p.sending], st.V[p.unsettled] = 0, 1
}

// HoldLatch puts a latch or a toggle on, 1, or off, 0.
func (p *Program) HoldLatch(st *State, block int, on float64) {
	st.V[p.BlockSlot(block)] = on
	st.V[p.unsettled] = 1
}

// HoldLatches puts all latches and toggles on, as things may have been left in use.
func (p *Program) HoldLatches(st *State) {
	for i := range p.setup.Logic {
		if _, latch := p.setup.Logic[i].StartsAs(); latch {
			p.HoldLatch(st, i, 1)
		}
	}
}

// Sending tells whether the transmitter sent in the frame that st holds.
func (p *Program) Sending(st *State) bool { return st.V[p.sending] != 0 }

// WaitsFor lists the entries of the start check that the hands do not meet, by
// index, while the transmitter is on and does not send.
func (p *Program) WaitsFor(st *State) []int {
	var waits []int
	if st.V[p.transmitter] == 0 || p.Sending(st) {
		return nil
	}
	for i, s := range p.starts {
		if at := st.V[s.control]; at < s.from || at > s.to {
			waits = append(waits, i)
		}
	}
	return waits
}

// Hand finds what a row of a script, or a hand, moves: a control by its id;
// transmitter, link, a receiver; a servo that was left nobody knows where. ok is
// false for any other name.
func (p *Program) Hand(id string) (hand int, ok bool) {
	at := None
	switch item := p.setup.Item(setup.ID(id)); {
	case id == "transmitter":
		at = p.transmitter
	case id == "link":
		at = p.link
	case item.Kind == setup.IsControl:
		at = p.controls[item.Index]
	case item.Kind == setup.IsReceiver:
		at = p.receiversOn[item.Index]
	case item.Kind == setup.IsDevice:
		at = p.chosen[item.Index]
	}
	if at == None {
		return 0, false
	}
	return int(at - p.hands), true
}

// HandIDs lists the id of each place in Hands: what Hand finds it by.
func (p *Program) HandIDs() []string {
	ids := make([]string, p.handsEnd-p.hands)
	note := func(id string) {
		if hand, ok := p.Hand(id); ok {
			ids[hand] = id
		}
	}
	note("transmitter")
	note("link")
	for i := range p.setup.Transmitter.Controls {
		note(string(p.setup.Transmitter.Controls[i].ID))
	}
	for i := range p.setup.Receivers {
		note(string(p.setup.Receivers[i].ID))
	}
	for i := range p.setup.Devices {
		note(string(p.setup.Devices[i].ID))
	}
	return ids
}

// HandSlot gives the slot of a place in Hands.
func (p *Program) HandSlot(hand int) Slot { return p.hands + Slot(hand) }

// FirstSlot holds 1 in the first frame after a power-on.
func (p *Program) FirstSlot() Slot { return slotFirst }

// OddSlot holds 1 in odd frames, counted from the last power-on.
func (p *Program) OddSlot() Slot { return p.odd }

// SendingSlot holds 1 while the transmitter sends.
func (p *Program) SendingSlot() Slot { return p.sending }

// UpSlot holds 1 while something arrives.
func (p *Program) UpSlot() Slot { return p.up }

// HandsOf gives the hands as a state has them.
func (p *Program) HandsOf(st *State) Hands {
	return append(Hands(nil), st.V[p.hands:p.handsEnd]...)
}
