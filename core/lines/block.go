package lines

import (
	"fmt"
	"math"
	"slices"
	"strings"

	"axtren/core/setup"
	"axtren/core/signal"
	"axtren/core/words"
)

func (b *builder) block(members []int) Block {
	blk := Block{Title: b.title(members), Chains: [][]Joint{}, Rows: []Row{}}
	shared := b.sharedGains(members)
	for _, src := range b.sources(members) {
		blk.Chains = append(blk.Chains, b.chain(src, members, shared))
	}
	for _, i := range members {
		blk.Rows = append(blk.Rows, b.row(i, rowName(members, blk.Title, b.s.OutputLabel(i)), shared))
	}
	if share := b.p.Routes[members[0]].Share; share >= 0 {
		j := b.shareJoint(share)
		blk.Share = &j
	}
	blk.Note = b.note(members)
	blk.Crosses = len(members) == 2 && len(blk.Chains) == 2
	for _, i := range members {
		blk.Crosses = blk.Crosses && len(b.sources([]int{i})) == 2
	}
	return blk
}

// title joins the labels, the common last word once: Left and right track.
func (b *builder) title(members []int) string {
	title := b.s.OutputLabel(members[0])
	for _, i := range members[1:] {
		next := b.s.OutputLabel(i)
		a, z := strings.LastIndexByte(title, ' '), strings.LastIndexByte(next, ' ')
		if a > 0 && z > 0 && title[a:] == next[z:] {
			title = title[:a]
		}
		title += " and " + words.Small(next)
	}
	return title
}

// rowName is what tells a line from the others of its block.
func rowName(members []int, title, label string) string {
	if len(members) == 1 {
		return ""
	}
	if cut := strings.LastIndexByte(label, ' '); cut > 0 && strings.HasSuffix(title, label[cut:]) {
		return label[:cut]
	}
	return label
}

// sources lists what the mixes to the members come from, each once, in order.
func (b *builder) sources(members []int) []setup.Value {
	var list []setup.Value
	seen := map[string]bool{}
	for _, i := range members {
		for _, t := range b.p.Routes[i].Terms {
			if from := b.s.Mixes[t.Mix].From; !seen[from.String()] {
				seen[from.String()] = true
				list = append(list, from)
			}
		}
	}
	return list
}

// sharedGains finds the sources that every member takes once with one gain, up
// to its sign: the gain is then one joint of the block. It maps the source to
// the terms, one a member.
func (b *builder) sharedGains(members []int) map[string][]int {
	shared := map[string][]int{}
	for _, src := range b.sources(members) {
		var mixes []int
		for _, i := range members {
			for _, t := range b.p.Routes[i].Terms {
				if m := &b.s.Mixes[t.Mix]; m.From == src && plainMix(m) {
					mixes = append(mixes, t.Mix)
				}
			}
		}
		if len(mixes) != len(members) {
			continue
		}
		first := b.s.Mixes[mixes[0]].Gain.Pos
		same := first != 0 && (first != 100 || len(members) > 1)
		for _, k := range mixes {
			same = same && math.Abs(b.s.Mixes[k].Gain.Pos) == math.Abs(first)
		}
		if same {
			shared[src.String()] = mixes
		}
	}
	return shared
}

func plainMix(m *setup.Mix) bool {
	return m.Shape == "plain" && !m.Gain.Split && m.Bias == 0 && m.When == nil && m.Combine == "add"
}

// chain is the run of one source up to where the lines part.
func (b *builder) chain(from setup.Value, members []int, shared map[string][]int) []Joint {
	joints := b.run(from)
	mixes, ok := shared[from.String()]
	if !ok {
		return joints
	}
	m := &b.s.Mixes[mixes[0]]
	gain := Field{Name: "gain", Label: "gain", Kind: Number, Value: m.Gain.Pos, Usual: 100, Min: -300,
		Max: 300, Step: 1, Unit: "%"}
	for _, k := range mixes {
		gain.Targets = append(gain.Targets, b.target("mixes", k, "gain", b.s.Mixes[k].Gain.Pos/m.Gain.Pos))
	}
	term := b.term(members[0], mixes[0])
	return append(joints, Joint{Key: fmt.Sprintf("term/%s/%d", m.To, mixes[0]),
		Caption: "gain " + words.Short(m.Gain.Pos), idle: m.Gain.Pos == 100,
		Value: b.place(term.V), Unit: "%", Editor: &Editor{Title: "Gain of " + b.sourceName(from),
			Fields: []Field{gain},
			Note:   sharedNote(len(mixes))}, Parts: b.mixLinks(mixes...)})
}

// links lead to parts; a part without an id has none.
func (b *builder) links(parts ...setup.Item) []Link {
	var list []Link
	for _, item := range parts {
		part := b.s.PartName(item)
		if part == "" {
			continue
		}
		name := words.Part(b.s, item)
		if item.Kind == setup.IsOutput {
			name = "function " + name
		}
		list = append(list, Link{part, name, words.Home(setup.ListOf(item.Kind))})
	}
	return list
}

// mixLinks lead to mixes.
func (b *builder) mixLinks(mixes ...int) []Link {
	items := make([]setup.Item, len(mixes))
	for i, k := range mixes {
		items[i] = setup.IsMix.At(k)
	}
	return b.links(items...)
}

func sharedNote(n int) string {
	if n > 1 {
		return "one figure for all functions of this block"
	}
	return ""
}

func (b *builder) term(output, mix int) *signal.Term {
	for k := range b.p.Routes[output].Terms {
		if t := &b.p.Routes[output].Terms[k]; t.Mix == mix {
			return t
		}
	}
	return nil
}

// run is the joints of a value reference, from the hand on.
func (b *builder) run(v setup.Value) []Joint {
	src, err := b.s.Source(v)
	if err != nil {
		return nil
	}
	switch src.Kind {
	case setup.SourceControl:
		c := b.s.Transmitter.Controls[src.Index]
		j := Joint{Key: "control/" + string(c.ID), Caption: b.s.ControlLabel(src.Index), Unit: "%",
			Value: b.place(b.p.NumberSlot(src.Index)), Parts: b.links(setup.IsControl.At(src.Index))}
		return []Joint{j}
	case setup.SourceDemand:
		d := &b.s.Demands[src.Index]
		return append(b.run(d.From), b.demandJoint(src.Index, d))
	case setup.SourceAsked:
		o := &b.s.Outputs[src.Index]
		return []Joint{{Key: "out/" + string(o.ID) + "/asked",
			Caption: b.s.OutputLabel(src.Index) + ", asked", Unit: "%",
			Value: b.place(b.p.Routes[src.Index].Asked)}}
	}
	if src.Kind != setup.SourceNumber {
		return append(b.before(v), b.behindJoint(src))
	}
	return []Joint{{Key: "always", Caption: "always", Text: words.SignedShort(v.Number), Value: -1}}
}

// before is the joints of the controls that something works on, two at most.
func (b *builder) before(v setup.Value) []Joint {
	var joints []Joint
	src, err := b.s.Source(v)
	if err != nil {
		return nil
	}
	for _, i := range setup.Only(setup.IsControl, b.s.Graph().Behind(src.Item())) {
		if len(joints) == 2 {
			break
		}
		c := b.s.Transmitter.Controls[i]
		joints = append(joints, b.run(setup.Value{Ref: string(c.ID)})...)
		if c.Switch != nil { // here its position counts, not its number
			last := &joints[len(joints)-1]
			last.Value, last.Unit = b.place(b.p.ControlSlot(i)), "name"
			for _, at := range c.Switch.Positions {
				last.Names = append(last.Names, at.Words())
			}
		}
	}
	return joints
}

// behindJoint is the joint of a block, a stepper, a track or a pattern.
func (b *builder) behindJoint(src setup.Source) Joint {
	kinds := map[setup.SourceKind]string{setup.SourceBlock: "logic", setup.SourceStepper: "steppers",
		setup.SourceTrack: "sequences", setup.SourcePattern: "patterns"}
	for _, one := range b.behindOf(kinds[src.Kind]) {
		if one.index == src.Index {
			return Joint{Key: "part/" + one.Part, Caption: one.Label, Value: one.Value, Unit: one.Unit,
				Names: one.Names,
				Parts: b.links(src.Item())}
		}
	}
	return Joint{Value: -1}
}

func (b *builder) demandJoint(i int, d *setup.Demand) Joint {
	caption := strings.Join(b.feel(d), ", ")
	if caption == "" {
		caption = "no expo"
	}
	at := func(field string) []Target { return []Target{b.target("demands", i, field, 1)} }
	e := &Editor{Title: "Feel of " + b.s.DemandLabel(i), Fields: []Field{
		{Name: "expo", Label: words.Field("expo"), Kind: Number, Value: d.Expo, Min: -100, Max: 100, Step: 1,
			Unit: "%", Targets: at("expo")},
		{Name: "rate", Label: "rate", Kind: Number, Value: d.Rate, Usual: 100, Max: 150, Step: 1, Unit: "%",
			Targets: at("rate")},
	}}
	for k, r := range d.Rates {
		t := b.target("demands", i, fmt.Sprintf("rates/%d/rate", k), 1)
		e.Fields = append(e.Fields, Field{Name: fmt.Sprintf("rate%d", k),
			Label: "rate with " + words.Truth(b.s, r.When), Kind: Number, Value: r.Rate,
			Always: true, Max: 150, Step: 1, Unit: "%", Targets: []Target{t}})
	}
	e.Fields = append(e.Fields,
		Field{Name: "deadband", Label: "dead band", Kind: Number, Value: d.Deadband, Max: 50, Step: 1,
			Unit: "%", Targets: at("deadband")},
		Field{Name: "trim", Label: "trim", Kind: Number, Value: d.Trim, Min: -50, Max: 50, Step: 0.5,
			Unit: "%", Targets: at("trim")})
	j := Joint{Key: "demand/" + string(d.ID), Caption: caption, Value: b.place(b.p.Demands[i].Out),
		idle: idleFeel(d), Unit: "%", Editor: e, Parts: b.links(setup.IsDemand.At(i))}
	if shaping := &b.p.Demands[i]; d.Curve != nil {
		j.Curve = []int{b.place(shaping.BeforeCurve()), b.place(shaping.Curve)}
	}
	return j
}

// drawn leaves out the joints that give on what they get. The one beside each, before it
// where beside is -1 and after it where it is 1, has its fields and links instead.
func drawn(joints []Joint, beside int) []Joint {
	for i := range joints {
		k := i
		if beside > 0 {
			k = len(joints) - 1 - i // so that what is left out is given on once
		}
		if !joints[k].idle {
			continue
		}
		into := k + beside
		for into >= 0 && into < len(joints) && joints[into].idle {
			into += beside
		}
		if into < 0 || into >= len(joints) {
			joints[k].idle = false
			continue
		}
		from, to := joints[k], &joints[into]
		to.Has = append(to.Has, from.Key)
		for _, link := range from.Parts {
			if !slices.Contains(to.Parts, link) {
				to.Parts = append(slices.Clone(to.Parts), link)
			}
		}
		switch {
		case to.Editor == nil:
			to.Editor = from.Editor
		case from.Editor != nil:
			to.Editor.Fields = append(to.Editor.Fields, from.Editor.Fields...)
		}
	}
	return slices.DeleteFunc(joints, func(j Joint) bool { return j.idle })
}

// idleFeel tells whether a feel changes nothing.
func idleFeel(d *setup.Demand) bool {
	return d.Expo == 0 && d.Rate == 100 && d.Rates == nil && d.Curve == nil && d.Deadband == 0 && d.Trim == 0
}

// target is a field of the i-th element of a list.
func (b *builder) target(list string, i int, field string, sign float64) Target {
	base := fmt.Sprintf("/%s/%d", list, i)
	element := b.doc.Tree.At(setup.PointerParts(base)...)
	t := Target{Pointer: base + "/" + field, Path: setup.PointerPath(base + "/" + field), IDAt: base + "/id",
		Sign:    sign,
		Present: element.At(strings.Split(field, "/")...) != nil}
	if id := element.Get("id"); id != nil {
		t.ListID = id.Text
	}
	return t
}

// sourceName is a source in one or two words, for a sum.
func (b *builder) sourceName(v setup.Value) string {
	src, err := b.s.Source(v)
	if err != nil {
		return v.String()
	}
	switch src.Kind {
	case setup.SourceAsked:
		return b.s.OutputLabel(src.Index)
	case setup.SourceNumber:
		return words.SignedShort(src.Number)
	}
	return words.Source(b.s, v)
}

func (b *builder) row(i int, name string, shared map[string][]int) Row {
	o, r := &b.s.Outputs[i], &b.p.Routes[i]
	key := func(joint string) string { return "out/" + string(o.ID) + "/" + joint }
	row := Row{Line: string(o.ID), Name: name}
	own := b.links(setup.IsOutput.At(i))
	add := func(j Joint) { row.Joints = append(row.Joints, j) }
	for _, t := range r.Terms {
		if m := &b.s.Mixes[t.Mix]; m.When != nil {
			add(Joint{Key: fmt.Sprintf("while/%d", t.Mix),
				Caption: b.sourceName(m.From) + " while " + words.Truth(b.s, *m.When),
				Value:   b.place(t.Weight), Unit: "holds",
				Parts: b.mixLinks(t.Mix)})
		}
	}
	if j := b.sumJoint(i, shared); j != nil {
		add(*j)
	}
	add(Joint{Key: key(signal.JointTurn), Caption: words.Reversed(o.Reverse), Value: b.place(r.Turned),
		idle: !o.Reverse, Unit: "%", Editor: &Editor{Title: "Direction of " + b.s.OutputLabel(i),
			Fields: []Field{{Name: "reverse", Label: words.Field("reverse"), Kind: YesNo,
				Value:   truth(o.Reverse),
				Targets: []Target{b.target("outputs", i, "reverse", 1)}}}}, Parts: own})
	add(Joint{Key: key(signal.JointEnds), Caption: stops(o), Value: b.place(r.Target), Unit: "%",
		Editor: b.endsEditor(i), Parts: own})
	if r.P != r.Target {
		add(Joint{Key: key(signal.JointSlew), Caption: "slowed", Value: b.place(r.P), Unit: "%", Parts: own})
	}
	add(Joint{Key: key(signal.JointPulse), Caption: "pulse", Value: b.place(r.US), Unit: "µs", Parts: own})
	carried := append(slices.Clone(own), Link{"link", "the link", words.Home("link")})
	for _, pin := range r.Pins {
		carried = append(carried, b.links(setup.IsReceiver.At(pin.Receiver))...)
	}
	add(Joint{Key: key("pin"), Caption: fmt.Sprintf("channel %d", o.Channel), Value: -1, Text: b.pinsWords(i),
		Parts: slices.Compact(carried)})
	row.Joints = append(row.Joints, b.partJoints(i)...)
	return row
}

// partJoints are the devices at the end of a line, each with what it does.
func (b *builder) partJoints(i int) []Joint {
	var joints []Joint
	for _, pin := range b.p.Routes[i].Pins {
		for _, k := range b.s.OnPin(pin.PinRef) {
			d := &b.s.Devices[k]
			j := Joint{Key: "device/" + string(d.ID), Caption: b.s.DeviceLabel(k),
				Value: b.place(b.p.Devices[k].Value), Unit: d.PartKind().Unit,
				Parts: b.links(setup.IsDevice.At(k))}
			if d.PartKind().Passes {
				j.Text = "adds what the attitude asks"
			}
			joints = append(joints, j)
		}
	}
	return joints
}

// pinsWords says where output i comes out: pin 3; pins 2, 5.
func (b *builder) pinsWords(i int) string {
	var names []string
	for _, pin := range b.p.Routes[i].Pins {
		names = append(names, b.s.PinLabel(pin.PinRef))
	}
	if names == nil {
		return "no pin"
	}
	return strings.Join(names, ", ")
}

// sumJoint is where the mixes of one line meet; nil where nothing is added and
// no gain is to be set.
func (b *builder) sumJoint(i int, shared map[string][]int) *Joint {
	r := &b.p.Routes[i]
	if len(r.Terms) == 0 {
		return nil
	}
	var caption strings.Builder
	e := &Editor{Title: "What is asked of " + b.s.OutputLabel(i), Fields: []Field{}}
	for k, t := range r.Terms {
		m := &b.s.Mixes[t.Mix]
		caption.WriteString(b.termWords(i, k, m))
		if shared[m.From.String()] != nil {
			continue
		}
		e.Fields = append(e.Fields, b.gainFields(t.Mix, m, len(r.Terms) > 1)...)
	}
	if len(r.Terms) == 1 && shared[b.s.Mixes[r.Terms[0].Mix].From.String()] != nil {
		return nil
	}
	var mixes []int
	for _, t := range r.Terms {
		mixes = append(mixes, t.Mix)
	}
	return &Joint{Parts: b.mixLinks(mixes...), Key: "out/" + string(b.s.Outputs[i].ID) + "/" +
		signal.JointShare, Caption: caption.String(), Value: b.place(r.Shared), Unit: "%", Editor: e,
		idle: len(r.Terms) == 1 && plainMix(&b.s.Mixes[mixes[0]]) && b.s.Mixes[mixes[0]].Gain.Pos == 100}
}

// termWords says the k-th mix of an output as a part of its sum.
func (b *builder) termWords(output, k int, m *setup.Mix) string {
	name := b.sourceName(m.From)
	if src, err := b.s.Source(m.From); err == nil && src.Kind == setup.SourceControl {
		name = words.Small(name)
	}
	if short := b.axisInSum(output, m.From); short != "" {
		name = short
	}
	sign := " + "
	if m.Gain.Pos < 0 {
		sign = " − "
	}
	switch {
	case k == 0 && m.Gain.Pos < 0:
		return "− " + name
	case k == 0:
		return name
	case m.Combine == "add":
		return sign + name
	}
	return ", " + words.WayOf(words.Combines, m.Combine).Joins + " " + name
}

// axisInSum says in a word or two which axis of a stick a term of a sum comes from, which has
// little room: the stick, where nothing else in the sum comes from it; else which way it goes,
// where nothing else goes that way; empty where neither says it, and for anything else.
func (b *builder) axisInSum(output int, from setup.Value) string {
	src, err := b.s.Source(from)
	if err != nil || src.Kind != setup.SourceControl || b.s.Transmitter.Controls[src.Index].Stick == "" {
		return ""
	}
	c := &b.s.Transmitter.Controls[src.Index]
	var sources []setup.Item
	for _, t := range b.p.Routes[output].Terms {
		if other, err := b.s.Source(b.s.Mixes[t.Mix].From); err == nil && other.Kind != setup.SourceNumber {
			sources = append(sources, other.Item())
		}
	}
	stick, way := true, c.Along != ""
	for _, k := range setup.Only(setup.IsControl, b.s.Graph().Behind(sources...)) {
		if other := &b.s.Transmitter.Controls[k]; k != src.Index {
			stick, way = stick && other.Stick != c.Stick, way && other.Along != c.Along
		}
	}
	switch {
	case stick:
		return words.Small(c.StickWords())
	case way && c.Along == "x":
		return "sideways"
	case way:
		return "up and down"
	}
	return ""
}

func (b *builder) gainFields(k int, m *setup.Mix, many bool) []Field {
	name := fmt.Sprintf("gain%d", k)
	label := "gain"
	if many {
		label = "gain of " + b.sourceName(m.From)
	}
	one := func(name, label, field string, v float64, always bool) Field {
		return Field{Name: name, Label: label, Kind: Number, Value: v, Usual: 100, Always: always, Min: -300,
			Max: 300, Step: 1, Unit: "%",
			Targets: []Target{b.target("mixes", k, field, 1)}}
	}
	if m.Gain.Split {
		return []Field{one(name, label+" above 0", "gain/pos", m.Gain.Pos, true),
			one(name+"neg", label+" below 0", "gain/neg", m.Gain.Neg, true)}
	}
	return []Field{one(name, label, "gain", m.Gain.Pos, false)}
}

func (b *builder) endsEditor(i int) *Editor {
	o := &b.s.Outputs[i]
	field := func(name string, v, usual float64) Field {
		return Field{Name: name, Label: name, Kind: Number, Value: v, Usual: usual, Min: -150, Max: 150,
			Step: 0.5, Unit: "%",
			Targets: []Target{b.target("outputs", i, name, 1)}}
	}
	return &Editor{Title: "Ends of " + b.s.OutputLabel(i), Rule: string(o.ID), Note: b.onThisSet(i),
		Fields: []Field{field("low", o.Low, -100), field("centre", o.Centre, 0), field("high", o.High, 100)}}
}

func (b *builder) shareJoint(k int) Joint {
	sh := &b.s.Shares[k]
	rules := []string{"clip", "scale"}
	if len(sh.Outputs) == 2 {
		rules = append(rules, "keep_turn")
	}
	f := Field{Name: "rule", Label: words.Field("rule"), Kind: OneOf, Text: sh.Rule,
		Targets: []Target{b.target("shares", k, "rule", 1)}}
	for _, rule := range rules {
		f.Choices = append(f.Choices, Choice{Value: rule, Label: words.Choice("rule", rule)})
	}
	return Joint{Key: fmt.Sprintf("share/%d", k), Caption: "when both ask for too much", Value: -1,
		Text:   words.Choice("rule", sh.Rule),
		Editor: &Editor{Title: "When they ask for too much", Fields: []Field{f}},
		Parts:  b.links(setup.IsShare.At(k))}
}

// note says how a pair is driven.
func (b *builder) note(members []int) string {
	if len(members) < 2 {
		return ""
	}
	sticks := map[string]bool{}
	for _, src := range b.sources(members) {
		joints := b.run(src)
		if id, ok := strings.CutPrefix(joints[0].Key, "control/"); ok {
			c := b.s.Transmitter.Controls[b.s.Item(setup.ID(id)).Index]
			sticks[string(c.Stick)] = true
		}
	}
	if len(sticks) == 1 && !sticks[""] {
		return "one stick for both"
	}
	return ""
}
