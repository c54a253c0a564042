package sheet

import (
	"fmt"
	"slices"
	"strings"

	"axtren/core/words"
)

// radio lists what the link and an add-on module have to be told, and which of the
// channels are slow or only on or off.
func (b *builder) radio() Section {
	l := &b.s.Link
	sec := Section{Key: "radio", Title: "Radio and module"}
	add := func(field, what, value, note string) {
		sec.Items = append(sec.Items, Item{part: "link", field: field, What: what, Value: value, Note: note})
	}
	highest := 0
	for i := range b.s.Outputs {
		highest = max(highest, b.arrivesOn(b.s.Outputs[i].Channel))
	}
	if m := l.Module; m != nil {
		name := "add-on module"
		if m.Label != "" {
			name = m.Label
		}
		where := m.PlugsInto
		if where == "" {
			where = "not said"
		}
		add("module/plugs_into", name+": its signal is taken from", where, "")
		if m.LeastChannels > 0 || m.MostChannels > 0 {
			add("module/channels", name+": channels that it sends", rangeOf(m.LeastChannels, m.MostChannels),
				moreThan(m.MostChannels, highest))
		}
	}
	if can := b.s.Transmitter.Can; can != nil && can.Binds != nil {
		by := "not said"
		if can.Binds.By != "" {
			by = words.Choice("by", can.Binds.By)
		}
		sec.Items = append(sec.Items, Item{part: "transmitter", field: "binds", What: "bind the receiver by",
			Value: by, Note: strings.Join(words.Binding(can.Binds), "; ")})
	}
	if r := l.LearnedUS; r != nil {
		note := "in microseconds; what the transmitter really sends, or full travel never arrives"
		add("learned/low", "tell the module the lowest pulse", figure(r.Low), note)
		add("learned/centre", "tell the module the centre", figure(r.Centre), "")
		add("learned/high", "tell the module the highest pulse", figure(r.High), "")
	}
	if l.Channels < 48 {
		add("channels", "channels that arrive", fmt.Sprint(l.Channels), moreThan(l.Channels, highest))
	}
	for k, from := range l.Order {
		if from != k+1 {
			add(fmt.Sprintf("order/%d", k+1),
				fmt.Sprintf("channel %d at the receiver carries the transmitter's channel", k+1),
				fmt.Sprint(from),
				"put right at the module or the receiver, else by a mix")
		}
	}
	b.kindsOf(add, "one_bit", "only on or off, nothing between", l.OneBit)
	b.kindsOf(add, "half_rate", "slow: new in every second frame only", l.HalfRate)
	return sec
}

// kindsOf says of the channels of a kind which lines they carry.
func (b *builder) kindsOf(add func(field, what, value, note string), field, what string, channels []int) {
	if len(channels) == 0 {
		return
	}
	var numbers, carried []string
	for _, k := range channels {
		numbers = append(numbers, fmt.Sprint(k))
		for i := range b.s.Outputs {
			if b.arrivesOn(b.s.Outputs[i].Channel) == k {
				carried = append(carried, b.s.OutputLabel(i))
			}
		}
	}
	note := "nothing is on them"
	if carried != nil {
		note = "they carry " + strings.Join(carried, ", ")
	}
	add(field, what, strings.Join(numbers, ", "), note)
}

// arrivesOn gives the channel of the receiver on which a channel of the transmitter
// arrives: docs/format.md, section 8.
func (b *builder) arrivesOn(channel int) int {
	if at := slices.Index(b.s.Link.Order, channel); at >= 0 {
		return at + 1
	}
	return channel
}

func rangeOf(least, most int) string {
	switch {
	case least == 0:
		return fmt.Sprintf("at most %d", most)
	case most == 0:
		return fmt.Sprintf("at least %d", least)
	case least == most:
		return fmt.Sprint(least)
	}
	return fmt.Sprintf("%d to %d", least, most)
}

func moreThan(there, wanted int) string {
	if there > 0 && wanted > there {
		return fmt.Sprintf("%d are wanted: those above %d never arrive", wanted, there)
	}
	return ""
}

func figure(us float64) string { return strings.TrimSuffix(words.Figure(us), ".0") }
