// Package sheet is what a person carries to the bench: everything to key into
// the set, in the order in which it is keyed in, in percent and microseconds,
// each end on the side on which this person's set counts it.
package sheet

import (
	"fmt"
	"math"
	"slices"
	"strings"

	"axtren/core/setup"
	"axtren/core/signal"
	"axtren/core/travel"
	"axtren/core/words"
)

// Sheet is one model's sheet.
type Sheet struct {
	Name  string `json:"name"`
	About string `json:"about"`
	Set   string `json:"set"`
	Defer string `json:"defer"` // who decides
	Saves string `json:"saves"` // how this set keeps a change
	Cuts  string `json:"cuts"`  // what its menus do to the link; empty where that is not known
	// the revision that it tells the changes from; 0: of no kept model, or all of it
	Since    int       `json:"since"`
	Only     string    `json:"only"`  // that it has only what changed, in words; empty: all of it
	Short    bool      `json:"short"` // it is for a memory in which nothing has been keyed in yet
	Sections []Section `json:"sections"`

	outputs []lossOf // each output with what it does on a lost signal
	bind    string   // what has to be bound anew when it differs
}

// lossOf is what an output does on a lost signal, in words.
type lossOf struct {
	id, label, loss string
	channel         int
}

// Section is one menu of the set.
type Section struct {
	Key     string `json:"key"` // the same however the title is worded
	Title   string `json:"title"`
	Note    string `json:"note"`
	Caution string `json:"caution"` // before this step; each stands once in a sheet
	Items   []Item `json:"items"`
}

// Item is one thing to key in.
type Item struct {
	// section/part/field: the same in every revision that has the thing, whatever it is called
	Key     string `json:"key"`
	Channel int    `json:"channel"` // 0: belongs to no channel
	Line    string `json:"line"`    // the output, for its why; empty for none
	Joint   string `json:"joint"`   // the joint that says why; empty for none
	What    string `json:"what"`    // Right track, stick forward
	Value   string `json:"value"`   // 96
	US      string `json:"us"`      // 1020; empty where it is no position
	Note    string `json:"note"`

	part, field string // what the key is made of
	pins        string // Channels: the pins that carry it
	bare        string // what is keyed in, without anything that is only called so

	// for the sheet of a fresh memory
	usual  bool   // such a memory has it by itself
	group  string // what is keyed in together has one, and becomes one thing called name
	name   string
	sub    string // a part of that which has several: the way of a control
	detail string // what it is of that: stick forward
}

// made is what stands for the control of a channel that has none of its own.
const made = "by mixes"

// Build writes the sheet of a compiled setup.
func Build(p *signal.Program) *Sheet {
	s := p.Setup()
	b := &builder{p, s}
	sh := &Sheet{Name: s.Name, About: s.Craft.Type, Set: s.Transmitter.Name, Defer: deferTo,
		Sections: []Section{}}
	if can := s.Transmitter.Can; can != nil {
		sh.Saves = can.Saves
		if can.MenuCutsLink != nil {
			sh.Cuts = "The signal goes on while a menu is open: the model answers the sticks meanwhile."
			if *can.MenuCutsLink {
				sh.Cuts = "This transmitter stops the signal while a menu is open: the model goes to its " +
					"loss " +
					"position, each time."
			}
		}
	}
	plain := (&builder{p, unlabelled(s)}).keyedIn()
	for i, section := range b.keyedIn() {
		for j := range section.Items {
			section.Items[j].bare = plain[i].Items[j].content()
		}
		sh.add(section)
	}
	shown := b.shown()
	for j := range shown.Items {
		shown.Items[j].bare = shown.Items[j].content()
	}
	sh.add(shown)
	sh.add(b.tried())
	b.caution(sh)
	for i := range s.Outputs {
		o := &s.Outputs[i]
		loss := "what the receiver does by itself"
		if o.Loss != nil {
			loss = b.lossWords(o)
		}
		sh.outputs = append(sh.outputs, lossOf{string(o.ID), b.s.OutputLabel(i), loss, o.Channel})
	}
	sh.bind = b.bind()
	return sh
}

// bind names what is bound to what.
func (b *builder) bind() string {
	ids := []string{b.s.Transmitter.Name}
	for _, rx := range b.s.Receivers {
		ids = append(ids, string(rx.ID))
	}
	return strings.Join(ids, "|")
}

// keyedIn lists the sections of what is keyed in, in the order in which it is done.
func (b *builder) keyedIn() []Section {
	return []Section{b.memory(), b.radio(), b.channels(), b.directions(), b.centres(), b.ends(), b.feel(),
		b.blocks(), b.steps(), b.mixes(), b.shares(), b.slew(), b.loss(), b.starting()}
}

// add puts a section on the sheet, if there is anything in it.
func (sh *Sheet) add(sec Section) {
	if len(sec.Items) == 0 {
		return
	}
	for j := range sec.Items {
		it := &sec.Items[j]
		it.Key = sec.Key + "/" + it.part + "/" + it.field
	}
	sh.Sections = append(sh.Sections, sec)
}

// content is what is keyed in for an item.
func (it *Item) content() string {
	return fmt.Sprintf("%d|%s|%s|%s", it.Channel, it.Value, it.US, it.Note)
}

// unlabelled is a setup in which everything is called by its id, so that what is
// made of it does not change where something is only renamed.
func unlabelled(of *setup.Setup) *setup.Setup {
	s := *of
	s.Transmitter.Controls = slices.Clone(s.Transmitter.Controls)
	for i, c := range s.Transmitter.Controls {
		head := *c.ControlHead
		head.Label = string(head.ID)
		s.Transmitter.Controls[i].ControlHead = &head
	}
	s.Outputs, s.Demands, s.Logic = slices.Clone(s.Outputs), slices.Clone(s.Demands), slices.Clone(s.Logic)
	s.Steppers, s.Sequences, s.Patterns = slices.Clone(s.Steppers), slices.Clone(s.Sequences), slices.Clone(
		s.Patterns)
	s.Receivers, s.Devices = slices.Clone(s.Receivers), slices.Clone(s.Devices)
	for i := range s.Outputs {
		s.Outputs[i].Label = string(s.Outputs[i].ID)
	}
	for i := range s.Demands {
		s.Demands[i].Label = string(s.Demands[i].ID)
	}
	for i := range s.Logic {
		head := *s.Logic[i].BlockHead
		head.Label = string(head.ID)
		s.Logic[i].BlockHead = &head
	}
	for i := range s.Steppers {
		s.Steppers[i].Label = string(s.Steppers[i].ID)
	}
	for i := range s.Sequences {
		s.Sequences[i].Label = string(s.Sequences[i].ID)
	}
	for i := range s.Patterns {
		s.Patterns[i].Label = string(s.Patterns[i].ID)
	}
	for i := range s.Receivers {
		s.Receivers[i].Label = ""
	}
	for i := range s.Devices {
		head := *s.Devices[i].DeviceHead
		head.Label = string(head.ID)
		s.Devices[i].DeviceHead = &head
	}
	s.Relink() // what has no label is called by the others
	return &s
}

// Changes leaves of a sheet what differs from an older one, lists what has gone, and
// says what has to be tried again. since is the revision of the older one, 0 where it
// is of no kept model.
func (sh *Sheet) Changes(old *Sheet, since int) *Sheet {
	now := *sh
	now.Since, now.Only, now.Sections = since, "Only what changed since the older setup.", []Section{}
	if since > 0 {
		now.Only = fmt.Sprintf("Only what changed since revision %d.", since)
	}
	before := map[string]*Item{}
	for _, sec := range old.Sections {
		for i := range sec.Items {
			before[sec.Items[i].Key] = &sec.Items[i]
		}
	}
	after := map[string]bool{}
	for _, sec := range sh.Sections {
		changed := sec
		changed.Items = nil
		for _, it := range sec.Items {
			after[it.Key] = true
			if was := before[it.Key]; was == nil || was.bare != it.bare {
				changed.Items = append(changed.Items, it)
			}
		}
		if changed.Items != nil {
			now.Sections = append(now.Sections, changed)
		}
	}
	gone := Section{Key: "gone", Title: "No longer",
		Note: "Take these out of the transmitter, or put them back to what it has by itself."}
	for _, sec := range old.Sections {
		for _, it := range sec.Items {
			if !after[it.Key] && sec.Key != shownKey && sec.Key != triedKey {
				it.Note = strings.TrimSpace("was in " + sec.Title + ". " + it.Note)
				it.Key = "gone/" + it.Key
				gone.Items = append(gone.Items, it)
			}
		}
	}
	if gone.Items != nil {
		now.Sections = append(now.Sections, gone)
	}
	now.Sections = append(now.Sections, sh.again(old, before)...)
	return &now
}

// again lists the loss positions that must be tried again though none was keyed in
// anew: a line that was turned round or put on another channel or pin does something
// else on a lost signal, and what is bound anew may have forgotten it.
func (sh *Sheet) again(old *Sheet, before map[string]*Item) []Section {
	whys := map[string][]string{}
	bound := ""
	for _, sec := range sh.Sections {
		for i := range sec.Items {
			it := &sec.Items[i]
			was := before[it.Key]
			switch {
			case it.Key == "memory/model/number" && (was == nil || was.bare != it.bare):
				bound = "another memory wants its own bind, and a bind may store other loss positions"
			case was == nil || was.bare == it.bare:
			case sec.Key == "direction" && was.Value != it.Value:
				whys[it.part] = append(whys[it.part], "its direction was changed")
			case sec.Key == "channels" && was.Channel != it.Channel:
				whys[it.part] = append(whys[it.part], "it is on another channel")
			case sec.Key == "channels" && was.pins != it.pins:
				whys[it.part] = append(whys[it.part], "it is on another pin")
			}
		}
	}
	if old.bind != sh.bind {
		bound = "another transmitter or receiver is bound anew, and a bind may store other loss positions"
	}
	sec := Section{Key: "again", Title: "Try the lost signal again",
		Note: "Model on its block. Turn the transmitter off, watch where these go, and turn it on again."}
	for _, out := range sh.outputs {
		why := whys[out.id]
		if bound != "" {
			why = append(why, bound)
		}
		if why != nil {
			sec.Items = append(sec.Items, Item{Key: "again/" + out.id + "/loss", Channel: out.channel,
				Line: out.id, Joint: "out/" + out.id + "/pin",
				What: out.label, Value: out.loss, Note: strings.Join(why, "; ")})
		}
	}
	if sec.Items == nil {
		return nil
	}
	return []Section{sec}
}

type builder struct {
	p *signal.Program
	s *setup.Setup
}

// each makes the items of every output.
func (b *builder) each(of func(o *setup.Output, i int) []Item) []Item {
	var items []Item
	for i := range b.s.Outputs {
		o := &b.s.Outputs[i]
		for _, item := range of(o, i) {
			item.Channel, item.Line, item.part = o.Channel, string(o.ID), string(o.ID)
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
	return strings.TrimSuffix(words.Figure(b.p.PulseOf(position)), ".0")
}

// typed is a figure as a menu takes it: no plus sign.

func (b *builder) memory() Section {
	sec := Section{Key: "memory", Title: "Memory", Note: "Receiver off while the memory is changed."}
	if m := b.s.Craft.Memory; m > 0 {
		sec.Items = append(sec.Items, Item{part: "model", field: "number", What: "memory",
			Value: fmt.Sprint(m), group: "memory", name: "memory"})
	}
	if b.s.Name != "" {
		sec.Items = append(sec.Items, Item{part: "model", field: "name", What: "name", Value: b.s.Name,
			group: "memory", name: "name", detail: "named"})
	}
	if can := b.s.Transmitter.Can; can != nil && can.Brings != "" {
		sec.Items = append(sec.Items, Item{part: "transmitter", field: "brings",
			What: "clear what a new model brings", Value: can.Brings})
	}
	for i, own := range b.s.Transmitter.Own {
		sec.Items = append(sec.Items, Item{part: "transmitter", field: fmt.Sprintf("own/%d", i+1), What: own.Name,
			Value: own.Value})
	}
	return sec
}

func (b *builder) channels() Section {
	items := b.each(func(o *setup.Output, i int) []Item {
		var pins, ids []string
		for _, ref := range b.s.Carriers(i) {
			rx, pin := b.s.Pin(ref)
			pins = append(pins, fmt.Sprintf("%s, pin %d%s", b.s.ReceiverLabel(rx), pin.Pin,
				b.chains(ref)))
			ids = append(ids, fmt.Sprintf("%s.%d", rx.ID, pin.Pin))
		}
		return []Item{{field: "control", pins: strings.Join(ids, " "), Value: b.control(o),
			Note: strings.Join(pins, "; "), Joint: "pin"}}
	})
	return Section{Key: "channels", Title: "Channels",
		Note: "The control of each channel. Set the channels that are not listed to nothing.", Items: items}
}

// chains says what hangs on a pin: each lead with what follows on it, a leveller and
// the servo behind it being one lead.
func (b *builder) chains(ref setup.PinRef) string {
	var leads []string
	for _, i := range b.s.Leads(ref) {
		chain := b.s.DeviceLabel(i)
		for _, k := range b.s.After(i) {
			chain += " → " + b.s.DeviceLabel(k)
		}
		leads = append(leads, chain)
	}
	if leads == nil {
		return ""
	}
	return ": " + strings.Join(leads, " and ")
}

// control names the control that a person picks for a channel: where one plain
// mix makes the channel that of the mix, else none.
func (b *builder) control(o *setup.Output) string {
	var name string
	for _, k := range b.s.MixesTo(b.s.Item(o.ID).Index) {
		m := &b.s.Mixes[k]
		if c := b.s.ControlBehind(m.From); c >= 0 && name == "" && m.Shape == "plain" && m.When == nil &&
			m.Bias == 0 {
			name = b.s.ControlLabel(c)
			continue
		}
		return made
	}
	if name == "" {
		return "nothing"
	}
	return name
}

func (b *builder) directions() Section {
	return Section{Key: "direction", Title: "Direction", Items: b.each(func(o *setup.Output, _ int) []Item {
		if o.Reverse {
			return []Item{{field: "reverse", Value: "reversed", Joint: "turn"}}
		}
		return []Item{{field: "reverse", Value: "normal", Joint: "turn", usual: true}}
	})}
}

func (b *builder) centres() Section {
	return Section{Key: "centre", Title: "Centre", Note: "Every channel that is not listed stays at 0.",
		Items: b.each(func(o *setup.Output, _ int) []Item {
			if o.Centre == 0 {
				return nil
			}
			sc := b.scale(func(of *setup.Scales) *setup.Menu { return of.Trim }, o.Channel, "percent")
			return []Item{{field: "centre", Value: b.written(sc, o.Centre), US: b.us(o.Centre),
				Joint: "ends"}}
		})}
}

func (b *builder) ends() (sec Section) {
	note := "Counted on the side that the servo moves to: the document does not say how this transmitter " +
		"counts."
	if can := b.s.Transmitter.Can; can != nil && can.EndpointFrom == "centre" {
		defer func() { sec.Note += " Counted from the centre as it was moved." }()
	}
	switch stick, known := travel.FollowsStick(b.s); {
	case stick:
		note = "This transmitter counts an end on the side that the stick was pushed to."
	case known:
		note = "This transmitter counts an end on the side that the servo moves to."
	}
	return Section{Key: "ends", Title: "Ends", Note: note, Items: b.each(func(_ *setup.Output, i int) []Item {
		var items []Item
		written := travel.WrittenEnds(b.s, i)
		for k, e := range travel.KeyedEnds(b.s, i) {
			item := Item{field: e.Field, What: b.s.OutputLabel(i) + ", " + e.Side,
				Value: written[k], US: b.us(e.Position), Joint: "ends",
				usual: e.Typed == 100, group: string(b.s.Outputs[i].ID), name: b.s.OutputLabel(i),
				detail: e.Side}
			if can := b.s.Transmitter.Can; can != nil && can.EndpointMax != nil &&
				math.Abs(e.Typed) > *can.EndpointMax {
				item.Note = fmt.Sprintf("this transmitter goes to %s only", words.Short(*can.EndpointMax))
				item.usual = false
			}
			if e.Typed < 0 {
				item.Note = "lies beyond the place the transmitter counts from; most sets cannot key this in"
			}
			items = append(items, item)
		}
		return items
	})}
}

func (b *builder) feel() Section {
	sec := Section{Key: "feel", Title: "Feel", Note: "In the menu of the control, before any mix."}
	for i := range b.s.Demands {
		d := &b.s.Demands[i]
		line := b.lineOf(string(d.ID))
		add := func(field, what, value string) {
			sec.Items = append(sec.Items, Item{part: string(d.ID), field: field,
				What: b.s.DemandLabel(i) + ", " + what, Value: value, Line: line,
				Joint: "demand/" + string(d.ID), usual: field == "rate" && d.Rate == 100,
				group: string(d.ID), name: b.s.DemandLabel(i), detail: what})
		}
		if d.Deadband != 0 {
			add("deadband", "dead band", words.Short(d.Deadband))
		}
		if d.Expo != 0 {
			add("expo", "expo (softer for +)", words.SignedShort(d.Expo))
		}
		if d.Rate != 100 || d.Rates != nil {
			add("rate", "rate", words.Short(d.Rate))
		}
		for _, r := range d.Rates {
			add("rate/"+string(r.When), "rate with "+words.Truth(b.s, r.When), words.Short(r.Rate))
		}
		if d.Curve != nil {
			var points []string
			for _, pt := range d.Curve {
				points = append(points, words.SignedShort(pt[0])+" → "+words.SignedShort(pt[1]))
			}
			shape := "curve"
			if d.Smooth {
				shape = "smooth curve"
			}
			add("curve", shape, strings.Join(points, ", "))
		}
		if d.Trim != 0 {
			add("trim", "trim", words.SignedShort(d.Trim))
		}
	}
	return sec
}

func (b *builder) mixes() Section {
	sec := Section{Key: "mixes", Title: "Mixes",
		Note: "A mix of 100 from one control alone is the plain choice of a control for its channel."}
	for k, m := range b.s.Mixes {
		out := b.s.Item(m.To).Index
		sc := b.scale(func(of *setup.Scales) *setup.Menu { return of.Gain }, b.s.Outputs[out].Channel,
			"percent")
		value := b.written(sc, m.Gain.Pos)
		if m.Gain.Split {
			value += " above 0, " + b.written(sc, m.Gain.Neg) + " below"
		}
		var notes []string
		switch pos, neg := m.Gain.Pos < 0, m.Gain.Neg < 0; {
		case sc.Word != "magnitude": // all others have a sign
		case pos && neg:
			notes = append(notes, words.Reversed(true))
		case pos:
			notes = append(notes, words.Reversed(true)+" above 0")
		case neg:
			notes = append(notes, words.Reversed(true)+" below 0")
		}
		if m.Shape != "plain" {
			notes = append(notes, words.WayOf(words.Shapes, m.Shape).Name)
		}
		if m.Bias != 0 {
			notes = append(notes, "bias "+words.SignedShort(m.Bias))
		}
		if m.Combine != "add" {
			notes = append(notes, words.WayOf(words.Combines, m.Combine).Name)
		}
		if m.When != nil {
			notes = append(notes, "only with "+words.Truth(b.s, *m.When))
		}
		id := fmt.Sprintf("%s to %s, %d", m.From, m.To, k)
		if m.ID != nil {
			id = string(*m.ID)
		}
		sec.Items = append(sec.Items, Item{part: id, field: "gain", Channel: b.s.Outputs[out].Channel,
			Line: string(m.To),
			What: words.Source(b.s, m.From) + " to " + b.s.OutputLabel(out), Value: value,
			Note: strings.Join(notes, ", "), Joint: fmt.Sprintf("term/%s/%d", m.To, k),
			usual: b.plainChoice(k), group: string(m.To), name: b.s.OutputLabel(out),
			detail: words.Source(b.s, m.From)})
	}
	return sec
}

func (b *builder) slew() Section {
	sec := Section{Key: "speed", Title: "Speed", Note: "Seconds for the whole travel.",
		Items: b.each(func(o *setup.Output, i int) []Item {
			if o.Slew.Up == 0 && o.Slew.Down == 0 {
				return nil
			}
			if o.Slew.Up == o.Slew.Down {
				return []Item{{field: "slew", Value: words.Short(o.Slew.Up) + " s", Joint: "slew"}}
			}
			return []Item{{field: "up", What: b.s.OutputLabel(i) + ", rising", Value: seconds(o.Slew.Up)},
				{field: "down", What: b.s.OutputLabel(i) + ", falling", Value: seconds(o.Slew.Down)}}
		})}
	if can := b.s.Transmitter.Can; can != nil && can.Slew != nil && !*can.Slew {
		sec.Note = "Seconds for the whole travel. This transmitter cannot slow a channel: use a slow servo " +
			"or a " +
			"box in the lead."
	}
	return sec
}

func seconds(s float64) string {
	if s == 0 {
		return "at once"
	}
	return words.Short(s) + " s"
}

func (b *builder) loss() Section {
	note := "Kept by the receiver: store it there, read it back, and try it with the transmitter off."
	switch can := b.s.Transmitter.Can; {
	case can == nil || can.Failsafe == "":
		note = "Try it with the transmitter off: what a transmitter calls its normal is not to be believed."
	case can.Failsafe == "transmitter":
		note = "Kept by the transmitter and sent to the receiver: try it with the transmitter off."
	case can.Failsafe == "none":
		note = "This transmitter keeps no loss positions: the receiver does what it does by itself."
	}
	return Section{Key: lossKey, Title: "When the signal is lost",
		Note: note + " Do so again after every bind.", Items: b.each(func(o *setup.Output, _ int) []Item {
			if o.Loss == nil {
				return nil
			}
			item := Item{field: "loss", Value: b.lossWords(o), Joint: "pin", group: b.lossWords(o),
				name: b.s.OutputLabel(b.s.Item(o.ID).Index)}
			if o.Loss.Mode == "preset" {
				item.US, item.Note = b.us(*o.Loss.Value), menuCounts+travel.Name(b.lossScale(o))
			}
			return []Item{item}
		})}
}

func (b *builder) lossScale(o *setup.Output) setup.Scale {
	return travel.LossScale(b.s, b.s.Item(o.ID).Index)
}

// lossWords says what is keyed in for an output that has something to do on a lost
// signal, in the scale of this set's menu.
func (b *builder) lossWords(o *setup.Output) string {
	switch o.Loss.Mode {
	case "preset":
		return "go to " + b.written(b.lossScale(o), *o.Loss.Value)
	case "cut":
		return "stop the pulses"
	}
	return "hold"
}
