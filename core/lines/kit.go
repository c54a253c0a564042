package lines

import (
	"fmt"
	"strings"

	"axtren/core/setup"
	"axtren/core/words"
)

// Receiver is a receiver with its pins, and what is plugged into them.
type Receiver struct {
	Part  string `json:"part"` // receivers/rx
	Label string `json:"label"`
	Note  string `json:"note"` // when the signal counts as lost
	Pins  []Pin  `json:"pins"` // in the order of their numbers as the document has them
}

// Pin is one pin of a receiver.
type Pin struct {
	Pin      int       `json:"pin"`
	At       string    `json:"at"` // as a device names it: rx.7
	Channel  int       `json:"channel"`
	Line     string    `json:"line"`     // the id of the output that it carries; empty for none
	Function string    `json:"function"` // what that is called
	Devices  []Plugged `json:"devices"`
	Loss     string    `json:"loss"` // what this pin can do when the signal is lost
}

// Plugged is a device on a pin.
type Plugged struct {
	Part  string `json:"part"` // devices/horn_board
	Label string `json:"label"`
	Word  string `json:"word"` // speed controller
	Value int    `json:"value"`
	Unit  string `json:"unit"`
}

// receivers lists the receivers with what is plugged into them.
func (b *builder) receivers() {
	b.view.Receivers = []Receiver{}
	for i := range b.s.Receivers {
		rx := &b.s.Receivers[i]
		item := setup.IsReceiver.At(i)
		one := Receiver{Part: b.s.PartName(item), Label: b.s.Label(item), Pins: []Pin{},
			Note: fmt.Sprintf("a lost signal counts after %s s", words.Short(rx.LossAfterS))}
		for j := range rx.Pins {
			one.Pins = append(one.Pins, b.onPin(setup.PinRef{Receiver: i, Pin: j}))
		}
		b.view.Receivers = append(b.view.Receivers, one)
	}
}

func (b *builder) onPin(ref setup.PinRef) Pin {
	rx, p := b.s.Pin(ref)
	pin := Pin{Pin: p.Pin, At: fmt.Sprintf("%s.%d", rx.ID, p.Pin),
		Channel: p.Channel, Devices: []Plugged{}, Loss: canOnLoss(rx, p)}
	if out := b.s.Carried(ref); out >= 0 {
		pin.Line, pin.Function = string(b.s.Outputs[out].ID), b.s.OutputLabel(out)
	}
	for _, k := range b.s.OnPin(ref) {
		d := &b.s.Devices[k]
		pin.Devices = append(pin.Devices, Plugged{b.s.PartName(setup.IsDevice.At(k)), b.s.DeviceLabel(k),
			words.Of(d.Kind).Name, b.place(b.p.Devices[k].Value), d.PartKind().Unit})
	}
	return pin
}

// canOnLoss says what a pin can do when the signal is lost.
func canOnLoss(rx *setup.Receiver, p *setup.Pin) string {
	var can []string
	for _, mode := range rx.Failsafe.Can {
		if rx.CanOnLoss(mode, p.Pin) {
			can = append(can, words.Choice("can", mode))
		}
	}
	if len(can) == 0 {
		return words.Choice("otherwise", rx.Failsafe.Otherwise)
	}
	return strings.Join(can, ", or ")
}
