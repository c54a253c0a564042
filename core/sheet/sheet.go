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
	Defer    string    `json:"defer"` // who decides
	Saves    string    `json:"saves"` // how this set keeps a change
	Cuts     string    `json:"cuts"`  // what its menus do to the link; empty where that is not known
	Since    int       `json:"since"` // the revision that it tells the changes from; 0: of no kept model, or all of it
	Only     string    `json:"only"`  // that it has only what changed, in words; empty: all of it
	Sections []Section `json:"sections"`
}

// Section is one menu of the set.
type Section struct {
	Title   string `json:"title"`
	Note    string `json:"note"`
	Caution string `json:"caution"` // before this step; each stands once in a sheet
	Items   []Item `json:"items"`
}

// Item is one thing to key in.
type Item struct {
	Key     string `json:"key"`     // the same in every revision that has the thing
	Channel int    `json:"channel"` // 0: belongs to no channel
	Line    string `json:"line"`    // the output, for its why; empty for none
	Joint   string `json:"joint"`   // the joint that says why; empty for none
	What    string `json:"what"`    // Starboard track, stick forward
	Value   string `json:"value"`   // 96
	US      string `json:"us"`      // 1020; empty where it is no position
	Note    string `json:"note"`
}

// Build writes the sheet of a compiled setup.
func Build(p *signal.Program) *Sheet {
	s := p.Setup()
	b := &builder{p, s}
	sh := &Sheet{Name: s.Name, About: s.Craft.Type, Set: s.Transmitter.Name, Defer: deferTo, Sections: []Section{}}
	if can := s.Transmitter.Can; can != nil {
		sh.Saves = can.Saves
		if can.MenuCutsLink != nil {
			sh.Cuts = "The signal goes on while a menu is open: the model answers the sticks meanwhile."
			if *can.MenuCutsLink {
				sh.Cuts = "This set stops the signal while a menu is open: the model goes to its loss position, each time."
			}
		}
	}
	for _, section := range []Section{b.memory(), b.channels(), b.directions(), b.centres(), b.ends(), b.feel(), b.blocks(), b.steps(), b.mixes(), b.shares(), b.slew(), b.loss(), b.starting(), b.shown()} {
		if len(section.Items) > 0 {
			sh.Sections = append(sh.Sections, section)
		}
	}
	b.caution(sh)
	sh.keys()
	return sh
}

// keys names every item, so that two sheets can be compared and ticks find home.
func (sh *Sheet) keys() {
	seen := map[string]int{}
	for i := range sh.Sections {
		sec := &sh.Sections[i]
		for j := range sec.Items {
			it := &sec.Items[j]
			it.Key = sec.Title + "/" + it.Line + "/" + it.What
			if seen[it.Key]++; seen[it.Key] > 1 {
				it.Key += fmt.Sprintf("/%d", seen[it.Key])
			}
		}
	}
}

// Changes leaves of a sheet what differs from an older one, and lists what has gone.
// since is the revision of the older one, 0 where it is of no kept model.
func (sh *Sheet) Changes(old *Sheet, since int) *Sheet {
	now := *sh
	now.Since, now.Only, now.Sections = since, "Only what changed since the older setup.", []Section{}
	if since > 0 {
		now.Only = fmt.Sprintf("Only what changed since revision %d.", since)
	}
	before := map[string]Item{}
	for _, sec := range old.Sections {
		for _, it := range sec.Items {
			before[it.Key] = it
		}
	}
	for _, sec := range sh.Sections {
		changed := sec
		changed.Items = nil
		for _, it := range sec.Items {
			was, there := before[it.Key]
			delete(before, it.Key)
			if !there || was.Value != it.Value || was.US != it.US || was.Channel != it.Channel || was.Note != it.Note {
				changed.Items = append(changed.Items, it)
			}
		}
		if changed.Items != nil {
			now.Sections = append(now.Sections, changed)
		}
	}
	gone := Section{Title: "No longer", Note: "Take these out of the set, or put them back to what it has by itself."}
	for _, sec := range old.Sections {
		for _, it := range sec.Items {
			if _, left := before[it.Key]; left && sec.Title != shownTitle {
				it.Note = strings.TrimSpace("was in " + sec.Title + ". " + it.Note)
				gone.Items = append(gone.Items, it)
			}
		}
	}
	if gone.Items != nil {
		now.Sections = append(now.Sections, gone)
	}
	return &now
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
			if item.Joint != "" {
				item.Joint = "out/" + item.Line + "/" + item.Joint
			}
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
		return []Item{{Value: b.control(o), Note: strings.Join(pins, "; "), Joint: "pin"}}
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
			return []Item{{Value: "reversed", Joint: "turn"}}
		}
		return []Item{{Value: "normal", Joint: "turn"}}
	})}
}

func (b *builder) centres() Section {
	return Section{Title: "Centre", Note: "Every channel that is not listed stays at 0.", Items: b.each(func(o *setup.Output, _ int) []Item {
		if o.Centre == 0 {
			return nil
		}
		sc := b.scale(func(of *setup.Scales) *setup.Menu { return of.Trim }, o.Channel, "percent")
		return []Item{{Value: b.written(sc, o.Centre), US: b.us(o.Centre), Joint: "ends"}}
	})}
}

func (b *builder) ends() (sec Section) {
	note := "Counted on the side that the servo moves to: the document does not say how this set counts."
	if can := b.s.Transmitter.Can; can != nil && can.EndpointFrom == "centre" {
		defer func() { sec.Note += " Counted from the centre as it was moved." }()
	}
	switch stick, known := travel.FollowsStick(b.s); {
	case stick:
		note = "This set counts an end on the side that the stick was pushed to."
	case known:
		note = "This set counts an end on the side that the servo moves to."
	}
	return Section{Title: "Ends", Note: note, Items: b.each(func(_ *setup.Output, i int) []Item {
		var items []Item
		for k, e := range travel.KeyedEnds(b.s, i) {
			item := Item{What: b.s.OutputLabel(i) + ", " + e.Side, Value: b.end(e, b.s.Outputs[i].Channel, k == 1), US: b.us(e.Position), Joint: "ends"}
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
		line := b.lineOf(string(d.ID))
		add := func(what, value string) {
			sec.Items = append(sec.Items, Item{What: b.s.DemandLabel(i) + ", " + what, Value: value, Line: line, Joint: "demand/" + string(d.ID)})
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
			add("rate with "+b.s.TruthWords(r.When), typed(r.Rate))
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
	for k, m := range b.s.Mixes {
		out := b.s.Item(m.To).Index
		sc := b.scale(func(of *setup.Scales) *setup.Menu { return of.Gain }, b.s.Outputs[out].Channel, "percent")
		value := b.written(sc, m.Gain.Pos)
		if m.Gain.Split {
			value += " above 0, " + b.written(sc, m.Gain.Neg) + " below"
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
			notes = append(notes, "only with "+b.s.TruthWords(*m.When))
		}
		sec.Items = append(sec.Items, Item{Channel: b.s.Outputs[out].Channel, Line: string(m.To),
			What: b.sourceName(m.From) + " to " + b.s.OutputLabel(out), Value: value, Note: strings.Join(notes, ", "), Joint: fmt.Sprintf("term/%s/%d", m.To, k)})
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
	case setup.SourceBlock:
		return setup.Called(b.s.Logic[src.Index].Label, b.s.Logic[src.Index].ID)
	case setup.SourceStepper:
		return setup.Called(b.s.Steppers[src.Index].Label, b.s.Steppers[src.Index].ID)
	case setup.SourcePattern:
		return setup.Called(b.s.Patterns[src.Index].Label, b.s.Patterns[src.Index].ID)
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
			return []Item{{Value: typed(o.Slew.Up) + " s", Joint: "slew"}}
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
	note := "Kept by the receiver: store it there, read it back, and try it with the set off."
	switch can := b.s.Transmitter.Can; {
	case can == nil || can.Failsafe == "":
		note = "Try it with the set off: what a set calls its normal is not to be believed."
	case can.Failsafe == "transmitter":
		note = "Kept by the set and sent to the receiver: try it with the set off."
	case can.Failsafe == "none":
		note = "This set keeps no loss positions: the receiver does what it does by itself."
	}
	return Section{Title: "When the signal is lost", Note: note, Items: b.each(func(o *setup.Output, _ int) []Item {
		if o.Loss == nil {
			return nil
		}
		switch o.Loss.Mode {
		case "preset":
			sc := b.scale(func(of *setup.Scales) *setup.Menu { return of.Failsafe }, o.Channel, "percent")
			return []Item{{Value: "go to " + b.written(sc, *o.Loss.Value), US: b.us(*o.Loss.Value), Note: "counted " + travel.Name(sc), Joint: "pin"}}
		case "cut":
			return []Item{{Value: "stop the pulses", Joint: "pin"}}
		}
		return []Item{{Value: "hold", Joint: "pin"}}
	})}
}
