package plan

import (
	"fmt"
	"slices"

	"axtren/core/setup"
	"axtren/core/words"
)

// whyThere says why an output is where it is, in sentences without a stop.
func (d *deal) whyThere(i int) []string {
	w := &d.wires[i]
	channel, pins := d.channelOf(i), d.pinsOf(i)
	if channel == 0 || slices.Contains(pins, -1) {
		return []string{"there is no place left that it could have"}
	}
	list := []string{}
	switch {
	case w.keepsChannel && w.keepsPin:
		list = append(list, "you fixed its channel and its pin")
	case w.keepsChannel:
		list = append(list, "you fixed its channel")
	case w.keepsPin:
		list = append(list, "you fixed its pin")
	}
	if said := d.whyPin(w, pins); said != "" {
		list = append(list, said)
	}
	if said := d.whyQuick(w, d.link(i)); said != "" {
		list = append(list, said)
	}
	if other := d.besides(i); other != "" {
		list = append(list, "beside its pair, "+other)
	}
	if w.direct >= 0 && d.control(w.direct) >= 0 {
		switch own := d.s.Transmitter.Controls[d.control(w.direct)].OwnChannel; own {
		case 0:
		case channel:
			list = append(list, "its control is on this channel without a mix")
		default:
			list = append(list, fmt.Sprintf("a mix brings it its control, which is sent on channel %d", own))
		}
	}
	if k := d.link(i); d.setsOrder && k != 0 && k != channel {
		list = append(list, fmt.Sprintf("the receiver gets it on channel %d: the order is set there, without a mix",
			k))
	}
	moves := channel != d.s.Outputs[i].Channel
	for l, pin := range pins {
		moves = moves || pin != w.leads[l].pin
	}
	if moves {
		if other := d.nowAt(i); other != "" {
			list = append(list, "it makes room for "+other)
		} else if len(list) == 0 {
			list = append(list, "it costs least here")
		}
	} else if len(list) == 0 {
		list = append(list, wasThere)
	}
	return list
}

// wasThere is said of what stays for no reason of its own.
const wasThere = "where it was: nothing is gained by moving it"

// besides names a function of the same shared limit on a channel next to its own; empty where there
// is none.
func (d *deal) besides(i int) string {
	share := d.s.ShareOf(i)
	if share < 0 {
		return ""
	}
	for _, id := range d.s.Shares[share].Outputs {
		other := d.s.Item(id).Index
		if gap := d.channelOf(other) - d.channelOf(i); gap == 1 || gap == -1 {
			return d.s.OutputLabel(other)
		}
	}
	return ""
}

// whyPin says which pins can do what an output must on a lost signal, where not all of them can.
func (d *deal) whyPin(w *wire, pins []int) string {
	if w.mode == "" || len(pins) == 0 {
		return ""
	}
	rx, own := d.s.Pin(d.pins[pins[0]])
	can, all := []int{}, true
	for j := range rx.Pins {
		if keeps(rx, &rx.Pins[j], w.mode) {
			can = append(can, rx.Pins[j].Pin)
		} else {
			all = false
		}
	}
	switch {
	case !keeps(rx, own, w.mode):
		return "it " + lossWords[w.mode] + ", which this pin cannot do"
	case all:
		return ""
	case len(can) == 1:
		return fmt.Sprintf("it %s: only pin %d can do that", lossWords[w.mode], can[0])
	}
	return fmt.Sprintf("it %s: pins %s can do that", lossWords[w.mode], ranges(can))
}

// whyQuick says what of a channel counts for an output.
func (d *deal) whyQuick(w *wire, k int) string {
	if k == 0 {
		return ""
	}
	late, slowest := d.s.LateMS(k), 0.0
	for _, ref := range d.pins {
		_, pin := d.s.Pin(ref)
		slowest = max(slowest, d.s.LateMS(pin.Channel))
	}
	switch {
	case d.s.BitsOn(k) == 1:
		return "it is on or off, so a channel of one bit will do"
	case w.within > 0 && late > w.within+1e-9:
		return fmt.Sprintf("it must answer within %s ms, and this channel takes %s", words.Short(w.within),
			words.Short(late))
	case slowest <= d.quickest+1e-9:
		return ""
	case late <= d.quickest+1e-9 && (w.quick || w.within > 0):
		return "it has to be quick, and this channel is"
	case late > d.quickest+1e-9 && !w.quick:
		return "it may be slow"
	}
	return ""
}

// nowAt names what has the place now that an output had before.
func (d *deal) nowAt(i int) string {
	for k := range d.wires {
		if k == i {
			continue
		}
		if d.channelOf(k) == d.s.Outputs[i].Channel {
			return d.s.OutputLabel(k)
		}
		for _, pin := range d.pinsOf(k) {
			for _, l := range d.wires[i].leads {
				if pin == l.pin {
					return d.s.OutputLabel(k)
				}
			}
		}
	}
	return ""
}

// ranges says numbers in short: 1 to 4, 6 and 8.
func ranges(list []int) string {
	var said []string
	for i := 0; i < len(list); {
		k := i
		for k+1 < len(list) && list[k+1] == list[k]+1 {
			k++
		}
		switch k - i {
		case 0:
			said = append(said, fmt.Sprint(list[i]))
		case 1:
			said = append(said, fmt.Sprint(list[i]), fmt.Sprint(list[k]))
		default:
			said = append(said, fmt.Sprintf("%d to %d", list[i], list[k]))
		}
		i = k + 1
	}
	return words.And(said)
}

// whyOn says why a hand function has its control.
func (d *deal) whyOn(i int) []string {
	h, c := &d.hands[i], d.control(i)
	switch {
	case c < 0:
		return []string{"no control of its kind is left: it wants " + h.kind.says()}
	case h.held:
		return []string{"rules, the start or what must hold speak of it, so it stays"}
	case h.stays:
		return []string{"you fixed it"}
	}
	control := &d.s.Transmitter.Controls[c]
	list := []string{}
	if n := d.alike(h); n == 1 {
		list = append(list, "it is the only one of its kind: "+h.kind.says())
	}
	if h.thumb && steps(control) == 0 {
		list = append(list, "it lies under a thumb")
	}
	if h.asks.Side != "" && sideOf(control) == h.asks.Side {
		list = append(list, "the "+h.asks.Side+" hand is to move it")
	}
	if h.output >= 0 && control.OwnChannel != 0 && control.OwnChannel == d.channelOf(h.output) {
		list = append(list, "it needs no mix here")
	}
	switch {
	case h.control == c && len(list) == 0:
		list = append(list, wasThere)
	case h.control != c && h.control >= 0:
		for k := range d.hands {
			if d.control(k) == h.control {
				list = append(list, "it makes room for "+words.And(d.hands[k].moves))
			}
		}
	}
	if len(list) == 0 {
		list = append(list, "it costs least here")
	}
	return list
}

// alike counts the controls that a hand function could have.
func (d *deal) alike(h *hand) int {
	n := 0
	for c := range d.s.Transmitter.Controls {
		if d.handCost(h, c, &tally{}) {
			n++
		}
	}
	return n
}

// Change is one step from the setup as it is to the plan.
type Change struct {
	Of    string `json:"of"`    // outputs/horn, controls/helm, link, receivers/rx
	Label string `json:"label"` // of what moves: the outputs
	What  string `json:"what"`  // control, channel, lead, order, pin, loss
	Says  string `json:"says"`  // a sentence without a stop
	Was   string `json:"was"`   // a short word for each end: channel 3, pin 5
	Is    string `json:"is"`
}

// changes lists what is other than before: controls, channels, leads, and what has to be keyed in
// and stored again for that.
func (d *deal) changes() []Change {
	list := []Change{}
	label := ""
	add := func(of setup.Item, what, was, is, format string, args ...any) {
		list = append(list, Change{d.s.PartName(of), label, what, fmt.Sprintf(format, args...), was, is})
	}
	for i := range d.hands {
		h, c := &d.hands[i], d.control(i)
		if c < 0 || c == h.control {
			continue
		}
		is, of, was := d.s.ControlLabel(c), setup.IsOutput.At(max(h.output, 0)), "nothing"
		label = words.And(h.moves)
		if h.control >= 0 {
			of, was = setup.IsControl.At(h.control), d.s.ControlLabel(h.control)
		}
		add(of, "control", was, is, "%s moves %s, and before that %s did", is, words.And(d.hands[i].moves),
			words.Small(was))
	}
	for i := range d.wires {
		o, name, of := &d.s.Outputs[i], d.s.OutputLabel(i), setup.IsOutput.At(i)
		label = name
		channel := d.channelOf(i)
		if channel != 0 && channel != o.Channel {
			add(of, "channel", fmt.Sprintf("channel %d", o.Channel), fmt.Sprintf("channel %d", channel),
				"%s is on channel %d, and was on %d: key it in anew", name, channel, o.Channel)
		}
		for l, pin := range d.pinsOf(i) {
			own := d.wires[i].leads[l].pin
			if pin < 0 || pin == own {
				continue
			}
			var parts []string
			for _, part := range d.wires[i].leads[l].parts {
				parts = append(parts, d.s.DeviceLabel(part.device))
			}
			was, is := d.s.PinLabel(d.pins[own]), d.s.PinLabel(d.pins[pin])
			add(of, "lead", was, is, "the lead of %s goes from %s to %s", words.And(parts), was, is)
			if o.Loss != nil {
				add(of, "loss", was, is, "store what %s does on a lost signal again: %s is not %s", name, is, was)
			}
		}
	}
	return append(list, d.told()...)
}

// told lists what is told the receivers or the module anew: which channel comes on which of theirs, and
// which comes out of each pin.
func (d *deal) told() (list []Change) {
	for i := range d.wires {
		k, channel := d.link(i), d.channelOf(i)
		if was := d.s.Link.Sent(k); d.setsOrder && len(d.wires[i].leads) > 0 && k != 0 && was != channel {
			list = append(list, Change{"link", "Order of the channels", "order",
				fmt.Sprintf("channel %d of the receiver carries channel %d, and carried %d: set the order there anew",
					k, channel, was), fmt.Sprintf("%d carries %d", k, was), fmt.Sprintf("%d carries %d", k, channel)})
		}
		for _, pin := range d.pinsOf(i) {
			if !d.setsPins || pin < 0 || k == 0 {
				continue
			}
			if rx, p := d.s.Pin(d.pins[pin]); p.Channel != k {
				list = append(list, Change{"receivers/" + string(rx.ID), d.s.ReceiverLabel(rx), "pin",
					fmt.Sprintf("%s carries channel %d, and carried %d: tell it anew", d.s.PinLabel(d.pins[pin]),
						k, p.Channel), fmt.Sprintf("pin %d carries channel %d", p.Pin, p.Channel),
					fmt.Sprintf("pin %d carries channel %d", p.Pin, k)})
			}
		}
	}
	return list
}

// Summary says what changes in one line, for the record of a carried plan: of many the first.
func Summary(changes []Change) string {
	var said []string
	for _, c := range changes {
		if c.What != "loss" {
			said = append(said, fmt.Sprintf("%s from %s to %s", c.Label, c.Was, c.Is))
		}
	}
	if len(said) > mostSaid {
		said = append(said[:mostSaid], fmt.Sprintf("%d more", len(said)-mostSaid))
	}
	return words.And(said)
}

// mostSaid is how many changes a carried plan is recorded with.
const mostSaid = 6
