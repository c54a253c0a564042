package plan

import (
	"cmp"
	"fmt"
	"slices"

	"axtren/core/setup"
	"axtren/core/words"
)

// End is one row of what has to be so at both ends: from the lever to the pin.
type End struct {
	Of       setup.ID `json:"of"`
	Label    string   `json:"label"`
	Lever    string   `json:"lever"`    // in words: the levers, a rule
	Channel  int      `json:"channel"`  // of the transmitter; 0: none
	Link     int      `json:"link"`     // of the receiver; 0: none
	Receiver string   `json:"receiver"` // empty where there is but one
	Pin      int      `json:"pin"`      // 0: none
	Loss     string   `json:"loss"`     // in words
}

// Keyed is what has to be keyed in at one end.
type Keyed struct {
	Where string   `json:"where"` // the transmitter, the module, a receiver
	Says  []string `json:"says"`  // instructions without a stop
}

// ends lists the rows of both ends by the channel of the transmitter, each output once for each of
// its leads.
func (d *deal) ends(functions []Function) []End {
	list := []End{}
	for i := range d.wires {
		o := &d.s.Outputs[i]
		row := End{Of: o.ID, Label: d.s.OutputLabel(i), Channel: d.channelOf(i), Link: d.link(i),
			Lever: functions[i].Lever, Loss: d.lossOf(o)}
		pins := d.pinsOf(i)
		if len(pins) == 0 {
			list = append(list, row)
		}
		for _, pin := range pins {
			one := row
			if pin >= 0 {
				one.Receiver, one.Pin = d.pinWords(pin)
				if _, p := d.s.Pin(d.pins[pin]); !d.setsPins {
					one.Link = p.Channel
				}
			}
			list = append(list, one)
		}
	}
	slices.SortStableFunc(list, func(a, b End) int { return cmp.Compare(a.Channel, b.Channel) })
	return list
}

// leverWords says what moves an output: of a stick of which it takes both ways the stick.
func (f *Function) leverWords(s *setup.Setup) string {
	var names []string
	sticks := map[setup.Name]int{}
	stick := func(l Lever) setup.Name { return s.Transmitter.Controls[s.Item(l.Control).Index].Stick }
	for _, l := range f.Levers {
		sticks[stick(l)]++
	}
	for _, l := range f.Levers {
		name := l.Label
		if on := stick(l); on != "" && sticks[on] > 1 {
			name = s.Transmitter.Controls[s.Item(l.Control).Index].StickWords()
		}
		if !slices.Contains(names, name) {
			names = append(names, name)
		}
	}
	if f.Rule {
		names = append(names, "a rule")
	}
	if names == nil {
		return "nothing"
	}
	return words.Capital(words.And(names))
}

func (d *deal) lossOf(o *setup.Output) string {
	switch {
	case o.Loss == nil:
		return "as the receiver does"
	case o.Loss.Mode == "preset":
		return "goes to " + words.SignedShort(*o.Loss.Value)
	case o.Loss.Mode == "cut":
		return "gets no pulses"
	}
	return "holds"
}

// keyed lists what has to be keyed in at the receivers and at the module, where they are told an
// order or pins, or are two.
func (d *deal) keyed() []Keyed {
	list := []Keyed{}
	if m := d.s.Link.Module; m != nil {
		one := Keyed{Where: cmp.Or(m.Label, "The add-on module"), Says: []string{}}
		if m.Position != "" {
			one.Says = append(one.Says, "turn its knob to "+m.Position)
		}
		if d.setsOrder {
			one.Says = append(one.Says, d.orderSays()...)
		}
		list = append(list, one)
	}
	for i := range d.s.Receivers {
		rx := &d.s.Receivers[i]
		one := Keyed{Where: d.s.ReceiverLabel(rx), Says: []string{}}
		if d.setsOrder && d.s.Link.Module == nil && i == 0 {
			one.Says = append(one.Says, d.orderSays()...)
		}
		if d.setsPins {
			one.Says = append(one.Says, d.pinsSay(i)...)
		}
		if len(d.s.Receivers) > 1 && is(rx.Telemetry) && d.telemetryBefore(i) {
			one.Says = append(one.Says, "turn its telemetry off: of two receivers one tells something back, no more")
		}
		one.Says = append(one.Says, d.stored(i)...)
		if len(one.Says) > 0 {
			list = append(list, one)
		}
	}
	return list
}

// orderSays says the order of the channels as it is set, as far as it is another than usual.
func (d *deal) orderSays() (list []string) {
	for i := range d.wires {
		if k, channel := d.link(i), d.channelOf(i); len(d.wires[i].leads) > 0 && k != 0 && k != channel {
			list = append(list, fmt.Sprintf("let its channel %d carry channel %d of the transmitter", k, channel))
		}
	}
	return list
}

// pinsSay says which channel each pin of a receiver is told, as far as it is another than its number.
func (d *deal) pinsSay(receiver int) (list []string) {
	for i := range d.wires {
		for _, pin := range d.pinsOf(i) {
			if pin < 0 || d.pins[pin].Receiver != receiver {
				continue
			}
			if _, p := d.s.Pin(d.pins[pin]); p.Pin != d.link(i) {
				list = append(list, fmt.Sprintf("let pin %d carry channel %d", p.Pin, d.link(i)))
			}
		}
	}
	return list
}

func (d *deal) telemetryBefore(receiver int) bool {
	return slices.ContainsFunc(d.s.Receivers[:receiver],
		func(rx setup.Receiver) bool { return is(rx.Telemetry) })
}

// stored says which positions a receiver has to keep.
func (d *deal) stored(receiver int) (list []string) {
	for i := range d.wires {
		o := &d.s.Outputs[i]
		if o.Loss == nil || o.Loss.Mode != "preset" {
			continue
		}
		for _, pin := range d.pinsOf(i) {
			if pin >= 0 && d.pins[pin].Receiver == receiver {
				_, p := d.s.Pin(d.pins[pin])
				list = append(list, fmt.Sprintf("store for pin %d, %s: on a lost signal it goes to %s", p.Pin,
					d.s.OutputLabel(i), words.SignedShort(*o.Loss.Value)))
			}
		}
	}
	return list
}
