// Package diagnose names the smallest sets of faults that explain what a person sees of a model: on the
// display of the transmitter, and of what hangs on the receivers. Candidates are changes of the setup
// itself, played by the engine (Reiter 1987, A theory of diagnosis from first principles).
package diagnose

import (
	"fmt"
	"reflect"
	"slices"

	"axtren/core/setup"
	"axtren/core/signal"
)

// Fault is one thing that may be wrong.
type Fault struct {
	Kind  string   `json:"kind"`
	Where []string `json:"where"` // JSON Pointers

	kind kind
	a, b int // the places in their lists; b of the second of two, else -1
}

// kind is a kind of fault, in the order in which several act.
type kind int

const (
	reversed kind = iota
	endsNotKeyed
	centreNotKeyed
	sign
	dead
	channelsExchanged
	leadsExchanged
	crossed
	unplugged
	// the wider ones, of which a person thinks besides
	wrongChannel
	mastersExchanged
	feelNotKeyed
	shareNotKeyed
	neutralHigh
	neutralLow
	kindsEnd
)

// Where a fault is mended.
const (
	AtTransmitter = "transmitter"
	AtPlug        = "plug"
	AtModel       = "model"
)

// kinds tells of each kind its name, where it is mended, and how far down the list of likely ones it
// stands: what is common and quickly mended first (common practice, no source).
var kinds = [kindsEnd]struct {
	name, at string
	rare     int
}{
	reversed:          {"reversed", AtTransmitter, 1},
	endsNotKeyed:      {"ends_not_keyed", AtTransmitter, 2},
	centreNotKeyed:    {"centre_not_keyed", AtTransmitter, 3},
	sign:              {Sign, AtTransmitter, 3},
	dead:              {"dead", AtTransmitter, 3},
	channelsExchanged: {ChannelsExchanged, AtTransmitter, 4},
	leadsExchanged:    {LeadsExchanged, AtPlug, 2},
	crossed:           {Crossed, AtModel, 3},
	unplugged:         {Unplugged, AtPlug, 2},
	wrongChannel:      {"wrong_channel", AtTransmitter, 4},
	mastersExchanged:  {"masters_exchanged", AtTransmitter, 4},
	feelNotKeyed:      {"feel_not_keyed", AtTransmitter, 4},
	shareNotKeyed:     {"share_not_keyed", AtTransmitter, 5},
	neutralHigh:       {"neutral_high", AtModel, 4},
	neutralLow:        {"neutral_low", AtModel, 4},
}

// candidates lists every single fault of a setup, in the order of their kinds, then of the document; wide
// adds those of the wider kinds. A change that leaves the setup as it is, or makes it a wrong one, is none.
func candidates(s *setup.Setup, wide bool) []Fault {
	c := &collector{s: s}
	c.each(reversed, "outputs", len(s.Outputs), func(int) bool { return true })
	c.each(endsNotKeyed, "outputs", len(s.Outputs), func(i int) bool {
		o := &s.Outputs[i]
		return (o.Low != -100 || o.High != 100) && -100 < o.Centre && o.Centre < 100
	})
	c.each(centreNotKeyed, "outputs", len(s.Outputs), func(i int) bool {
		o := &s.Outputs[i]
		return o.Centre != 0 && o.Low < 0 && 0 < o.High
	})
	c.each(sign, "mixes", len(s.Mixes), func(i int) bool {
		m := &s.Mixes[i]
		return m.Gain.Pos != 0 || m.Gain.Neg != 0 || m.Bias != 0
	})
	c.each(dead, "mixes", len(s.Mixes), func(int) bool { return true })
	c.pairs(channelsExchanged, "outputs", len(s.Outputs), func(int, int) bool { return true })
	c.pairs(leadsExchanged, "devices", len(s.Devices), func(i, j int) bool {
		if !onPin(s, i) || !onPin(s, j) {
			return false
		}
		a, b := s.DevicePin(i), s.DevicePin(j)
		return a != b && a.Receiver == b.Receiver && takes(s, i, b) && takes(s, j, a)
	})
	c.each(crossed, "devices", len(s.Devices), func(i int) bool { return turns(s, i) })
	c.each(unplugged, "devices", len(s.Devices), func(int) bool { return true })
	if !wide {
		return c.list
	}
	free := freeChannel(s, s)
	c.each(wrongChannel, "outputs", len(s.Outputs), func(int) bool { return free > 0 })
	c.each(mastersExchanged, "mixes", len(s.Mixes), func(i int) bool { return leads(s, i) >= 0 })
	c.each(feelNotKeyed, "demands", len(s.Demands), func(i int) bool {
		d := &s.Demands[i]
		return d.Rate != 100 || d.Rates != nil || d.Expo != 0 || d.Curve != nil || d.Trim != 0
	})
	c.each(shareNotKeyed, "shares", len(s.Shares), func(i int) bool { return s.Shares[i].Rule != "clip" })
	c.each(neutralHigh, "devices", len(s.Devices), func(i int) bool { return isEsc(s, i) })
	c.each(neutralLow, "devices", len(s.Devices), func(i int) bool { return isEsc(s, i) })
	return c.list
}

// freeChannel gives the last channel of the transmitter that no output is on, neither as the setup has it
// nor as it was changed; 0 for none.
func freeChannel(s, changed *setup.Setup) int {
	for k := s.Link.Channels; k > 0; k-- {
		if s.OutputOn(k) < 0 && changed.OutputOn(k) < 0 {
			return k
		}
	}
	return 0
}

// leads gives the output that a mix takes what it is asked for from, -1 for none.
func leads(s *setup.Setup, mix int) int {
	if from, err := s.Source(s.Mixes[mix].From); err == nil && from.Kind == setup.SourceAsked {
		return from.Index
	}
	return -1
}

func isEsc(s *setup.Setup, i int) bool {
	_, is := s.Devices[i].Spec.(*setup.Esc)
	return is
}

// takes tells whether a device can hang on a pin: on one that is on or off only what is on or off does.
func takes(s *setup.Setup, device int, on setup.PinRef) bool {
	_, pin := s.Pin(on)
	return pin.Switch == nil || s.Devices[device].PartKind().OnOff
}

// onPin tells whether a device hangs on a pin itself, and not behind a leveller.
func onPin(s *setup.Setup, i int) bool {
	return s.Item(setup.ID(s.Devices[i].On)).Kind != setup.IsDevice
}

// turns tells whether a device has a value that can have the other sign.
func turns(s *setup.Setup, i int) bool {
	_, servo := s.Devices[i].Spec.(*setup.Servo)
	return servo || isEsc(s, i)
}

type collector struct {
	s    *setup.Setup
	list []Fault
}

func (c *collector) add(k kind, of string, a, b int) {
	f := Fault{Kind: kinds[k].name, kind: k, a: a, b: b, Where: []string{fmt.Sprintf("/%s/%d", of, a)}}
	if b >= 0 {
		f.Where = append(f.Where, fmt.Sprintf("/%s/%d", of, b))
	}
	switch k {
	case unplugged: // there may be no channel without a pulse
		if applied(c.s, []Fault{f}) == nil {
			return
		}
	case mastersExchanged: // it may make a ring
		if _, err := signal.Compile(applied(c.s, []Fault{f})); err != nil {
			return
		}
	}
	c.list = append(c.list, f)
}

func (c *collector) each(k kind, of string, n int, may func(i int) bool) {
	for i := range n {
		if may(i) {
			c.add(k, of, i, -1)
		}
	}
}

func (c *collector) pairs(k kind, of string, n int, may func(i, j int) bool) {
	for i := range n {
		for j := i + 1; j < n; j++ {
			if may(i, j) {
				c.add(k, of, i, j)
			}
		}
	}
}

// applied gives a setup with faults that stand in their order; nil where that makes it a wrong one. What
// is crossed changes what is seen, and not the setup.
func applied(of *setup.Setup, faults []Fault) *setup.Setup {
	s := *of
	s.Outputs, s.Mixes = slices.Clone(of.Outputs), slices.Clone(of.Mixes)
	s.Devices, s.Receivers = slices.Clone(of.Devices), slices.Clone(of.Receivers)
	s.Demands, s.Shares = slices.Clone(of.Demands), slices.Clone(of.Shares)
	var gone []int
	relink := false // what refers to what has changed
	for _, f := range faults {
		switch f.kind {
		case reversed:
			s.Outputs[f.a].Reverse = !s.Outputs[f.a].Reverse
		case endsNotKeyed:
			s.Outputs[f.a].Low, s.Outputs[f.a].High = -100, 100
		case centreNotKeyed:
			s.Outputs[f.a].Centre = 0
		case sign:
			m := &s.Mixes[f.a]
			m.Gain.Pos, m.Gain.Neg, m.Bias = -m.Gain.Pos, -m.Gain.Neg, -m.Bias
		case dead:
			if m := &s.Mixes[f.a]; m.Combine == "add" { // it adds nothing
				m.Gain.Pos, m.Gain.Neg, m.Bias = 0, 0, 0
				continue
			}
			gone, relink = append(gone, f.a), true
		case channelsExchanged:
			relink = true
			a, b := &s.Outputs[f.a], &s.Outputs[f.b]
			a.Channel, b.Channel = b.Channel, a.Channel
		case leadsExchanged:
			relink = true
			a, b := s.Devices[f.a].On, s.Devices[f.b].On
			s.Devices[f.a], s.Devices[f.b] = hung(s.Devices[f.a], b), hung(s.Devices[f.b], a)
		case unplugged:
			relink = true
			if !unplug(&s, f.a) {
				return nil
			}
		case wrongChannel:
			relink = true
			if s.Outputs[f.a].Channel = freeChannel(of, &s); s.Outputs[f.a].Channel == 0 {
				return nil
			}
		case mastersExchanged:
			relink = true
			m, from := &s.Mixes[f.a], leads(of, f.a)
			m.From.Ref, m.To = string(m.To)+".asked", of.Outputs[from].ID
		case feelNotKeyed:
			relink = true // its rates looked at something
			d := &s.Demands[f.a]
			d.Rate, d.Rates, d.Expo, d.Curve, d.Trim = 100, nil, 0, nil, 0
		case shareNotKeyed:
			s.Shares[f.a].Rule = "clip"
		case neutralHigh, neutralLow:
			s.Devices[f.a] = taught(s.Devices[f.a], f.kind == neutralHigh)
		}
	}
	slices.Sort(gone)
	for _, i := range slices.Backward(gone) {
		s.Mixes = slices.Delete(s.Mixes, i, i+1)
	}
	if relink {
		s.Relink()
	}
	if !right(&s) {
		return nil
	}
	return &s
}

// right tells whether a setup that was changed here is one that the document may have.
func right(s *setup.Setup) bool {
	for i := range s.Outputs {
		if o := &s.Outputs[i]; o.Low >= o.Centre || o.Centre >= o.High {
			return false
		}
	}
	for i := range s.Devices {
		if onPin(s, i) && !takes(s, i, s.DevicePin(i)) {
			return false
		}
	}
	return true
}

// hung gives a device that hangs elsewhere; the one that is given stays as it is.
func hung(d setup.Device, on string) setup.Device {
	d = copied(d)
	d.On = on
	return d
}

func copied(d setup.Device) setup.Device {
	spec := reflect.New(reflect.TypeOf(d.Spec).Elem())
	spec.Elem().Set(reflect.ValueOf(d.Spec).Elem())
	head := spec.Elem().FieldByName("DeviceHead").Addr().Interface().(*setup.DeviceHead)
	return setup.Device{DeviceHead: head, Spec: spec.Interface()}
}

// taughtOff is how far off a neutral was learned that was learned wrongly: a share of the way from there
// to its end, besides the band in which the motor stands still.
const taughtOff = 0.15

// taught gives a controller that has learned its neutral off to one side.
func taught(d setup.Device, high bool) setup.Device {
	d = copied(d)
	esc := d.Spec.(*setup.Esc)
	u := &esc.LearnedUS
	if high {
		u.Neutral = min(u.Neutral+esc.DeadUS+taughtOff*(u.High-u.Neutral), u.High-1)
	} else {
		u.Neutral = max(u.Neutral-esc.DeadUS-taughtOff*(u.Neutral-u.Low), u.Low+1)
	}
	return d
}

// unplug hangs a device on a pin that never has a pulse, of the kind of that which it was on; false
// where all channels send.
func unplug(s *setup.Setup, device int) bool {
	on := s.Devices[device].On
	if !onPin(s, device) { // behind a leveller: on a pin of the same receiver
		on = s.Devices[s.Item(setup.ID(on)).Index].On
	}
	was, _ := s.PinRef(on)
	rx := &s.Receivers[was.Receiver]
	channel := 0
	for k := 1; k <= 48 && channel == 0; k++ {
		if k > s.Link.Channels || s.OutputOn(s.Link.Sent(k)) < 0 {
			channel = k
		}
	}
	if channel == 0 {
		return false
	}
	number := 1
	for _, pin := range rx.Pins {
		number = max(number, pin.Pin+1)
	}
	pins := slices.Clone(rx.Pins)
	rx.Pins = append(pins, setup.Pin{Pin: number, Channel: channel, Switch: pins[was.Pin].Switch})
	s.Devices[device] = hung(s.Devices[device], fmt.Sprintf("%s.%d", rx.ID, number))
	return true
}
