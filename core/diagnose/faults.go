// Package diagnose names the smallest sets of faults that explain what a person sees of a model: on the
// display of the transmitter, and of what hangs on the receivers. Candidates are changes of the setup
// itself, played by the engine (Reiter 1987, A theory of diagnosis from first principles).
package diagnose

import (
	"fmt"
	"reflect"
	"slices"

	"axtren/core/setup"
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
)

var kindNames = [...]string{"reversed", "ends_not_keyed", "centre_not_keyed", "sign", "dead",
	"channels_exchanged",
	"leads_exchanged", "crossed", "unplugged"}

// candidates lists every single fault of a setup, in the order of their kinds, then of the document. A
// change that leaves the setup as it is, or makes it a wrong one, is none.
func candidates(s *setup.Setup) []Fault {
	c := &collector{s: s}
	c.each(reversed, "outputs", len(s.Outputs), func(int) bool { return true })
	c.each(endsNotKeyed, "outputs", len(s.Outputs), func(i int) bool {
		return s.Outputs[i].Low != -100 || s.Outputs[i].High != 100
	})
	c.each(centreNotKeyed, "outputs", len(s.Outputs), func(i int) bool { return s.Outputs[i].Centre != 0 })
	c.each(sign, "mixes", len(s.Mixes), func(i int) bool {
		m := &s.Mixes[i]
		return m.Gain.Pos != 0 || m.Gain.Neg != 0 || m.Bias != 0
	})
	c.each(dead, "mixes", len(s.Mixes), func(int) bool { return true })
	c.pairs(channelsExchanged, "outputs", len(s.Outputs), func(int, int) bool { return true })
	c.pairs(leadsExchanged, "devices", len(s.Devices), func(i, j int) bool {
		return onPin(s, i) && onPin(s, j) && s.DevicePin(i) != s.DevicePin(j) &&
			s.DevicePin(i).Receiver == s.DevicePin(j).Receiver
	})
	c.each(crossed, "devices", len(s.Devices), func(i int) bool { return turns(s, i) })
	c.each(unplugged, "devices", len(s.Devices), func(int) bool { return true })
	return c.list
}

// onPin tells whether a device hangs on a pin itself, and not behind a leveller.
func onPin(s *setup.Setup, i int) bool {
	return s.Item(setup.ID(s.Devices[i].On)).Kind != setup.IsDevice
}

// turns tells whether a device has a value that can have the other sign.
func turns(s *setup.Setup, i int) bool {
	switch s.Devices[i].Spec.(type) {
	case *setup.Esc, *setup.Servo:
		return true
	}
	return false
}

type collector struct {
	s    *setup.Setup
	list []Fault
}

func (c *collector) add(k kind, of string, a, b int) {
	f := Fault{Kind: kindNames[k], kind: k, a: a, b: b, Where: []string{fmt.Sprintf("/%s/%d", of, a)}}
	if b >= 0 {
		f.Where = append(f.Where, fmt.Sprintf("/%s/%d", of, b))
	}
	if applied(c.s, []Fault{f}) != nil {
		c.list = append(c.list, f)
	}
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
		if !onPin(s, i) {
			continue
		}
		if _, pin := s.Pin(s.DevicePin(i)); pin.Switch != nil && !s.Devices[i].PartKind().OnOff {
			return false
		}
	}
	return true
}

// hung gives a device that hangs elsewhere; the one that is given stays as it is.
func hung(d setup.Device, on string) setup.Device {
	spec := reflect.New(reflect.TypeOf(d.Spec).Elem())
	spec.Elem().Set(reflect.ValueOf(d.Spec).Elem())
	head := spec.Elem().FieldByName("DeviceHead").Addr().Interface().(*setup.DeviceHead)
	head.On = on
	return setup.Device{DeviceHead: head, Spec: spec.Interface()}
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
