package lines

import (
	"fmt"
	"strings"

	"axtren/core/parts"
	"axtren/core/setup"
	"axtren/core/words"
)

// Kit is what there is of the transmitter, in words.
type Kit struct {
	Says  string `json:"says"`  // what is known of it
	Facts []Fact `json:"facts"` // memory, radio power, link, binding
	// the kinds of transmitter that it can be made like
	Like []GroupKind `json:"like"`
	// the places where a control is added by pointing at it
	Places []GroupKind `json:"places"`
}

// Fact is one thing that is known.
type Fact struct {
	What  string `json:"what"`
	Value string `json:"value"`
	Note  string `json:"note"`
}

// kit says what is known of the transmitter.
func (b *builder) kit() {
	t, l := &b.s.Transmitter, &b.s.Link
	can := t.Can
	if can == nil {
		can = &setup.Can{}
	}
	kit := &b.view.Kit
	kit.Facts = []Fact{}
	for _, kind := range parts.TransmitterKinds() {
		kit.Like = append(kit.Like, GroupKind{kind.Key, kind.Name})
	}
	for _, place := range parts.ControlPlaces() {
		kit.Places = append(kit.Places, GroupKind{place.Key, place.Name})
	}
	kit.Says = strings.Join(canSays(can), " · ")
	add := func(what, value, note string) { kit.Facts = append(kit.Facts, Fact{what, value, note}) }
	if memory := b.s.Craft.Memory; memory > 0 {
		value := fmt.Sprint(memory)
		if can.Memories != nil {
			value = fmt.Sprintf("%d of %d", memory, *can.Memories)
		}
		add("Memory", value, b.s.Name)
	}
	switch t.Power {
	case "low":
		add("Radio power", "low", "for the bench; full before the model goes out")
	case "full":
		add("Radio power", "full", "as the model goes out")
	}
	if can.RangeM != nil {
		add("Range", words.Short(*can.RangeM)+" m", "as its maker states it")
	}
	add("Link", fmt.Sprintf("%d ms a frame", t.FrameMS), strings.Join(linkSays(l), "; "))
	if binds := can.Binds; binds != nil {
		add("Binding", words.Choice("by", binds.By), strings.Join(words.Binding(binds), "; "))
	}
	for _, own := range t.Own {
		add(words.Capital(own.Name), own.Value, "")
	}
}

// canSays lists what a transmitter can, and how it is set, each in a few words.
func canSays(can *setup.Can) []string {
	var list []string
	say := func(known bool, format string, args ...any) {
		if known {
			list = append(list, fmt.Sprintf(format, args...))
		}
	}
	if can.Channels != nil {
		say(true, "%d channels", *can.Channels)
	}
	if can.Mixes != nil {
		say(true, "%d mixes", *can.Mixes)
	}
	if l := can.Logic; l != nil && l.Count != nil {
		order := map[string]string{"by_place": ", in the order of their numbers",
			"by_use": ", each after what it looks at"}[l.Order]
		say(true, "%d logic rules%s", *l.Count, order)
	}
	if can.EndpointMax != nil {
		say(true, "ends to %s", words.Short(*can.EndpointMax))
	}
	say(can.Programmed != "", "set from %s", words.Choice("programmed", can.Programmed))
	say(can.Saves != "", "keeps a change: %s", can.Saves)
	say(can.Discards != "", "throws one away: %s", can.Discards)
	say(can.Failsafe == "receiver", "a lost signal is set in the receiver")
	say(can.Failsafe == "transmitter", "a lost signal is set in the transmitter")
	say(can.Failsafe == "none", "keeps no positions for a lost signal")
	say(can.MenuCutsLink != nil && *can.MenuCutsLink, "an open menu stops the signal")
	say(can.ClickOn != nil && *can.ClickOn, "its buttons can click on and off")
	say(can.Brings != "", "a new model brings, to be cleared: %s", can.Brings)
	return list
}

// linkSays lists what is known of the link.
func linkSays(l *setup.Link) []string {
	var list []string
	if l.Bits > 0 {
		list = append(list, fmt.Sprintf("%d steps over the whole way", 1<<l.Bits))
	}
	if l.DelayMS > 0 {
		list = append(list, words.Short(l.DelayMS)+" ms late")
	}
	for _, own := range l.Delays {
		list = append(list, fmt.Sprintf("channel %d %s ms late", own.Channel, words.Short(own.MS)))
	}
	for _, t := range l.Trades {
		list = append(list, fmt.Sprintf("or %d ms a frame with %d steps", t.FrameMS, 1<<t.Bits))
	}
	for _, one := range []struct {
		channels []int
		says     string
	}{{l.HalfRate, "every second frame"}, {l.OneBit, "on or off only"}} {
		if len(one.channels) > 0 {
			numbers := make([]string, len(one.channels))
			for i, k := range one.channels {
				numbers[i] = fmt.Sprint(k)
			}
			noun := "channels"
			if len(numbers) == 1 {
				noun = "channel"
			}
			list = append(list, fmt.Sprintf("%s %s %s", noun, words.And(numbers), one.says))
		}
	}
	return list
}

// ratings says what is known of a device: its force, its way, its teeth; what it wants, or kills.
func ratings(d *setup.Device) string {
	var list []string
	if servo, ok := d.Spec.(*setup.Servo); ok {
		if servo.TorqueNM > 0 {
			list = append(list, words.Short(servo.TorqueNM)+" N·m")
		}
		if servo.SpeedS > 0 {
			list = append(list, "end to end in "+words.Short(servo.SpeedS)+" s")
		}
		if servo.Splines > 0 {
			list = append(list, fmt.Sprintf("%d teeth", servo.Splines))
		}
	}
	switch spec := d.Spec.(type) {
	case *setup.Relay:
		if spec.Kills != "" {
			list = append(list, "kills an ignition while it is "+spec.Kills)
		}
		if spec.Shows != nil && *spec.Shows {
			list = append(list, "the lamp of its button shows it")
		}
	case *setup.SoundTrigger:
		if spec.Wants != "" {
			list = append(list, "wants "+words.Choice("wants", spec.Wants))
		}
		if spec.HoldS > 0 {
			list = append(list, "for "+words.Short(spec.HoldS)+" s")
		}
	}
	return strings.Join(list, ", ")
}

// Known says in short what is known of what a part of a document can do, where it is one that a
// shelf can have; empty where nothing is.
func Known(s *setup.Setup, of setup.Copy) string {
	switch of.Kind.Key {
	case "transmitter":
		if can := s.Transmitter.Can; can != nil {
			return strings.Join(canSays(can), " · ")
		}
	case "module":
		if plugs := s.Link.Module.PlugsInto; plugs != "" {
			return "takes its signal from " + plugs
		}
	case "receiver":
		return strings.Join(receiverSays(&s.Receivers[of.Item.Index]), "; ")
	case "device":
		d := &s.Devices[of.Item.Index]
		return strings.TrimPrefix(strings.TrimSuffix(ratings(d)+", "+draws(d), ", "), ", ")
	}
	return ""
}

// draws says what a device takes from its lead, or feeds into it, and since when it is in.
func draws(d *setup.Device) string {
	said := ""
	if d.DrawsA != nil {
		said = words.Short(d.DrawsA.Most) + " A"
		if d.DrawsA.Rest > 0 {
			said = words.Short(d.DrawsA.Rest) + " to " + said
		}
	}
	if esc, ok := d.Spec.(*setup.Esc); ok && esc.FeedsA > 0 {
		said = strings.TrimPrefix(said+", feeds "+words.Short(esc.FeedsA)+" A", ", ")
		if esc.RedLifted {
			said += ", red lifted"
		}
	}
	if d.Fitted != "" {
		said += ", fitted " + d.Fitted
	}
	return strings.TrimPrefix(said, ", ")
}

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
	Word  string `json:"word"`  // speed controller
	Note  string `json:"note"`  // its force, its way, its teeth
	Draws string `json:"draws"` // and since when it is in
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
			Note: strings.Join(receiverSays(rx), "; ")}
		for j := range rx.Pins {
			one.Pins = append(one.Pins, b.onPin(setup.PinRef{Receiver: i, Pin: j}))
		}
		b.view.Receivers = append(b.view.Receivers, one)
	}
}

// receiverSays lists what is known of a receiver.
func receiverSays(rx *setup.Receiver) []string {
	list := []string{fmt.Sprintf("a lost signal counts after %s s", words.Short(rx.LossAfterS))}
	if rx.Stores != "" {
		list = append(list, "loss positions are "+map[string]string{"typed": "typed in",
			"button": "stored as the sticks stand, by its button"}[rx.Stores])
	}
	if rx.Telemetry != nil && *rx.Telemetry {
		list = append(list, "tells something back")
	}
	switch v := rx.Volts; {
	case rx.SupplyV != nil && v != nil:
		list = append(list, fmt.Sprintf("gets %s V, may get %s to %s V", words.Short(*rx.SupplyV),
			words.Short(v.Least), words.Short(v.Most)))
	case rx.SupplyV != nil:
		list = append(list, "gets "+words.Short(*rx.SupplyV)+" V")
	case v != nil:
		list = append(list, fmt.Sprintf("takes %s to %s V", words.Short(v.Least), words.Short(v.Most)))
	}
	return list
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
			words.Of(d.Kind).Name, ratings(d), draws(d), b.place(b.p.Devices[k].Value), d.PartKind().Unit})
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
