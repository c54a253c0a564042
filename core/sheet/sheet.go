// Package sheet is what a person carries to the bench: everything to key into
// the set, in the order in which it is keyed in, in percent and microseconds,
// each end on the side on which this person's set counts it.
package sheet

import (
	"fmt"
	"math"
	"strings"

	"axtren/core/setup"
	"axtren/core/signal"
	"axtren/core/travel"
)

// Sheet is one model's sheet.
type Sheet struct {
	Name     string    `json:"name"`
	About    string    `json:"about"`
	Set      string    `json:"set"`
	Caution  string    `json:"caution"` // stands once, at the head
	Saves    string    `json:"saves"`   // how this set keeps a change
	Sections []Section `json:"sections"`
}

// Section is one menu of the set.
type Section struct {
	Title string `json:"title"`
	Note  string `json:"note"`
	Items []Item `json:"items"`
}

// Item is one thing to key in.
type Item struct {
	Channel int    `json:"channel"` // 0: belongs to no channel
	Line    string `json:"line"`    // the output, for its why; empty for none
	What    string `json:"what"`    // Starboard track, stick forward
	Value   string `json:"value"`   // 96
	US      string `json:"us"`      // 1020; empty where it is no position
	Note    string `json:"note"`
}

// cautions belong to the step before power: by kind of craft. Common practice,
// no source.
var cautions = map[string]string{
	"tracked":      "Stand the model on a block, tracks clear of the ground, before power. A track that runs the wrong way walks off the bench.",
	"car":          "Stand the model on a block, wheels clear of the ground, before power.",
	"truck":        "Stand the model on a block, wheels clear of the ground, before power.",
	"boat":         "Take the propellers off, or keep hands and leads clear of them, before power.",
	"submarine":    "Take the propeller off and let the pressure out before power.",
	"construction": "Let the pressure out and keep fingers out of the linkage before power.",
	"amphibian":    "Wheels clear of the ground and propellers off before power.",
	"other":        "Make sure that nothing can move or bite before power.",
}

// deferTo closes every caution: the person on the bench decides.
const deferTo = " Local rules and licensed practice come first."

// Build writes the sheet of a compiled setup.
func Build(p *signal.Program) *Sheet {
	s := p.Setup()
	b := &builder{p, s}
	sh := &Sheet{Name: s.Name, About: s.Craft.Type, Set: s.Transmitter.Name, Caution: cautions[s.Craft.Kind] + deferTo}
	if s.Transmitter.Can != nil {
		sh.Saves = s.Transmitter.Can.Saves
	}
	for _, section := range []Section{b.memory(), b.channels(), b.directions(), b.centres(), b.ends(), b.feel(), b.mixes(), b.slew(), b.loss()} {
		if len(section.Items) > 0 {
			sh.Sections = append(sh.Sections, section)
		}
	}
	return sh
}

type builder struct {
	p *signal.Program
	s *setup.Setup
}

// each makes an item for every output that make accepts.
func (b *builder) each(make func(o *setup.Output, i int) []Item) []Item {
	var items []Item
	for i := range b.s.Outputs {
		o := &b.s.Outputs[i]
		for _, item := range make(o, i) {
			item.Channel, item.Line = o.Channel, string(o.ID)
			if item.What == "" {
				item.What = b.s.OutputLabel(i)
			}
			items = append(items, item)
		}
	}
	return items
}

func (b *builder) us(position float64) string {
	return strings.TrimSuffix(signal.Figure(b.p.PulseOf(position)), ".0")
}

// typed is a figure as a menu takes it: no plus sign.
func typed(v float64) string { return strings.TrimPrefix(signal.SignedShort(v), "+") }

func (b *builder) memory() Section {
	sec := Section{Title: "Memory", Note: "Receiver off while the memory is changed."}
	if m := b.s.Craft.Memory; m > 0 {
		sec.Items = append(sec.Items, Item{What: "memory", Value: fmt.Sprint(m)})
	}
	if b.s.Name != "" {
		sec.Items = append(sec.Items, Item{What: "name", Value: b.s.Name})
	}
	return sec
}

func (b *builder) channels() Section {
	items := b.each(func(o *setup.Output, i int) []Item {
		var pins []string
		for _, ref := range b.s.Carriers(i) {
			rx := &b.s.Receivers[ref.Receiver]
			pins = append(pins, fmt.Sprintf("%s, pin %d", rx.ID, rx.Pins[ref.Pin].Pin))
		}
		return []Item{{Value: b.control(o), Note: strings.Join(pins, "; ")}}
	})
	return Section{Title: "Channels", Note: "The control of each channel. Set the channels that are not listed to nothing.", Items: items}
}

// control names the control that a person picks for a channel: where one plain
// mix makes the channel that of the mix, else none.
func (b *builder) control(o *setup.Output) string {
	var name string
	for _, m := range b.s.Mixes {
		if m.To != o.ID {
			continue
		}
		if c := travel.ControlBehind(b.s, m.From); c != nil && name == "" && m.Shape == "plain" && m.When == nil && m.Bias == 0 {
			name = b.s.ControlLabel(b.s.Item(c.ID).Index)
			continue
		}
		return "by mixes"
	}
	if name == "" {
		return "nothing"
	}
	return name
}

func (b *builder) directions() Section {
	return Section{Title: "Direction", Items: b.each(func(o *setup.Output, _ int) []Item {
		if o.Reverse {
			return []Item{{Value: "reversed"}}
		}
		return []Item{{Value: "normal"}}
	})}
}

func (b *builder) centres() Section {
	return Section{Title: "Centre", Note: "Every channel that is not listed stays at 0.", Items: b.each(func(o *setup.Output, _ int) []Item {
		if o.Centre == 0 {
			return nil
		}
		return []Item{{Value: signal.SignedShort(o.Centre), US: b.us(o.Centre)}}
	})}
}

func (b *builder) ends() Section {
	note := "Counted on the side that the servo moves to: the document does not say how this set counts."
	switch stick, known := travel.FollowsStick(b.s); {
	case stick:
		note = "This set counts an end on the side that the stick was pushed to."
	case known:
		note = "This set counts an end on the side that the servo moves to."
	}
	return Section{Title: "Ends", Note: note, Items: b.each(func(_ *setup.Output, i int) []Item {
		var items []Item
		for _, e := range travel.KeyedEnds(b.s, i) {
			item := Item{What: b.s.OutputLabel(i) + ", " + e.Side, Value: typed(e.Typed), US: b.us(e.Position)}
			if can := b.s.Transmitter.Can; can != nil && can.EndpointMax != nil && math.Abs(e.Typed) > *can.EndpointMax {
				item.Note = fmt.Sprintf("this set goes to %s only", typed(*can.EndpointMax))
			}
			if e.Typed < 0 {
				item.Note = "lies beyond the place the set counts from; most sets cannot key this in"
			}
			items = append(items, item)
		}
		return items
	})}
}

func (b *builder) feel() Section {
	sec := Section{Title: "Feel", Note: "In the menu of the control, before any mix."}
	for i := range b.s.Demands {
		d := &b.s.Demands[i]
		add := func(what, value string) {
			sec.Items = append(sec.Items, Item{What: b.s.DemandLabel(i) + ", " + what, Value: value})
		}
		if d.Deadband != 0 {
			add("dead band", typed(d.Deadband))
		}
		if d.Expo != 0 {
			add("expo (softer for +)", signal.SignedShort(d.Expo))
		}
		if d.Rate != 100 || d.Rates != nil {
			add("rate", typed(d.Rate))
		}
		for _, r := range d.Rates {
			add("rate with "+string(r.When), typed(r.Rate))
		}
		if d.Curve != nil {
			var points []string
			for _, pt := range d.Curve {
				points = append(points, signal.SignedShort(pt[0])+" → "+signal.SignedShort(pt[1]))
			}
			shape := "curve"
			if d.Smooth {
				shape = "smooth curve"
			}
			add(shape, strings.Join(points, ", "))
		}
		if d.Trim != 0 {
			add("trim", signal.SignedShort(d.Trim))
		}
	}
	return sec
}

func (b *builder) mixes() Section {
	sec := Section{Title: "Mixes", Note: "A mix of 100 from one control alone is the plain choice of a control for its channel."}
	for _, m := range b.s.Mixes {
		out := b.s.Item(m.To).Index
		value := signal.SignedShort(m.Gain.Pos)
		if m.Gain.Split {
			value += " above 0, " + signal.SignedShort(m.Gain.Neg) + " below"
		}
		var notes []string
		if m.Shape != "plain" {
			notes = append(notes, signal.ShapeWords[m.Shape])
		}
		if m.Bias != 0 {
			notes = append(notes, "bias "+signal.SignedShort(m.Bias))
		}
		if m.Combine != "add" {
			notes = append(notes, map[string]string{"times": "multiplies", "instead": "replaces", "greatest": "the greater wins", "least": "the lesser wins"}[m.Combine])
		}
		if m.When != nil {
			notes = append(notes, "only with "+string(*m.When))
		}
		sec.Items = append(sec.Items, Item{Channel: b.s.Outputs[out].Channel, Line: string(m.To),
			What: b.sourceName(m.From) + " to " + b.s.OutputLabel(out), Value: value, Note: strings.Join(notes, ", ")})
	}
	return sec
}

func (b *builder) sourceName(v setup.Value) string {
	src, err := b.s.Source(v)
	if err != nil {
		return v.String()
	}
	switch src.Kind {
	case setup.SourceControl:
		return b.s.ControlLabel(src.Index)
	case setup.SourceDemand:
		return b.s.DemandLabel(src.Index)
	case setup.SourceAsked:
		return b.s.OutputLabel(src.Index) + " as asked"
	}
	return v.String()
}

func (b *builder) slew() Section {
	sec := Section{Title: "Speed", Note: "Seconds for the whole travel.", Items: b.each(func(o *setup.Output, i int) []Item {
		if o.Slew.Up == 0 && o.Slew.Down == 0 {
			return nil
		}
		if o.Slew.Up == o.Slew.Down {
			return []Item{{Value: typed(o.Slew.Up) + " s"}}
		}
		return []Item{{What: b.s.OutputLabel(i) + ", rising", Value: seconds(o.Slew.Up)}, {What: b.s.OutputLabel(i) + ", falling", Value: seconds(o.Slew.Down)}}
	})}
	if can := b.s.Transmitter.Can; can != nil && can.Slew != nil && !*can.Slew {
		sec.Note = "Seconds for the whole travel. This set cannot slow a channel: use a slow servo or a box in the lead."
	}
	return sec
}

func seconds(s float64) string {
	if s == 0 {
		return "at once"
	}
	return typed(s) + " s"
}

func (b *builder) loss() Section {
	return Section{Title: "When the signal is lost", Items: b.each(func(o *setup.Output, _ int) []Item {
		if o.Loss == nil {
			return nil
		}
		switch o.Loss.Mode {
		case "preset":
			return []Item{{Value: "go to " + signal.SignedShort(*o.Loss.Value), US: b.us(*o.Loss.Value)}}
		case "cut":
			return []Item{{Value: "stop the pulses"}}
		}
		return []Item{{Value: "hold"}}
	})}
}
