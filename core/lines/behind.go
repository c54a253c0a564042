package lines

import (
	"axtren/core/parts"
	"axtren/core/setup"
	"axtren/core/words"
)

// groups are the lists whose parts stand behind the lines, with the kinds that can be
// added to each.
func groups() []Group {
	var list []Group
	for _, part := range words.Parts {
		if part.Key == "outputs" {
			continue
		}
		g := Group{List: part.Key, Title: words.Capital(part.Many),
			Kinds: []GroupKind{}}
		own := words.Kinds(part.Key)
		switch part.Key {
		case "claims":
			own = words.Claims
		case "receivers":
			own = parts.ReceiverKinds()
		}
		if len(own) == 0 {
			own = []words.Kind{{Name: part.Name}}
		}
		for _, k := range own {
			g.Kinds = append(g.Kinds, GroupKind{k.Key, k.Name})
		}
		list = append(list, g)
	}
	return list
}

// behind lists every part that is no line.
func (b *builder) behind() {
	acts := b.actsOn()
	b.view.Groups = groups()
	for _, group := range b.view.Groups {
		for _, one := range b.behindOf(group.List) {
			one.Lines = []string{}
			for i, o := range b.s.Outputs {
				if acts[i][one.Part] {
					one.Lines = append(one.Lines, string(o.ID))
				}
			}
			b.view.Behind = append(b.view.Behind, one)
		}
	}
}

// behindOf gives the parts of one list.
func (b *builder) behindOf(list string) []Behind {
	var all []Behind
	steps := []string{list}
	if list == "controls" {
		steps = []string{"transmitter", "controls"}
	}
	at := b.doc.Tree.At(steps...)
	if at == nil {
		return nil
	}
	for i, n := range at.Items {
		id := n.Get("id")
		if id == nil {
			continue
		}
		one := Behind{Part: list + "/" + id.Text, Place: words.Home(list), Word: words.Of(list).Name,
			Label: b.s.Named(setup.ID(id.Text)), Value: -1, Words: words.Of(list).Does, index: i}
		for _, key := range []string{"block", "kind"} {
			if kind := n.Get(key); kind != nil {
				one.Words = words.Of(kind.Text).Does
			}
		}
		b.holds(&one, list, i)
		if idle(n) {
			one.Words = "nothing moves it yet: choose what does"
		}
		all = append(all, one)
	}
	return all
}

// holds says where what a part holds is found, and how it is called.
func (b *builder) holds(one *Behind, list string, i int) {
	switch list {
	case "controls":
		one.Value, one.Unit = b.place(b.p.NumberSlot(i)), "%"
		one.Words = words.Of(b.s.Transmitter.Controls[i].Kind).Name
		if sw := b.s.Transmitter.Controls[i].Switch; sw != nil {
			one.Value, one.Unit = b.place(b.p.ControlSlot(i)), "name"
			for _, at := range sw.Positions {
				one.Names = append(one.Names, at.Words())
			}
		}
	case "demands":
		one.Value, one.Unit = b.place(b.p.Demands[i].Out), "%"
	case "logic":
		one.Value, one.Unit, one.Names = b.place(b.p.BlockSlot(i)), "name", []string{"off", "on"}
		one.Words += ": " + words.Block(b.s, &b.s.Logic[i])
	case "steppers":
		one.Value, one.Unit = b.place(b.p.StepperSlot(i)), "name"
		for _, step := range b.s.Steppers[i].Steps {
			one.Names = append(one.Names, step.Name.Words())
		}
	case "sequences":
		one.Value, one.Unit = b.place(b.p.SequenceSlot(i)), "s"
	case "patterns":
		one.Value, one.Unit = b.place(b.p.PatternSlot(i)), "%"
	case "devices":
		one.Value, one.Unit = b.place(b.p.Devices[i].Value), b.s.Devices[i].PartKind().Unit
	case "announcements":
		one.Label, one.Words = "\u201c"+b.s.Announcements[i].Say+"\u201d", "said when "+words.Truth(b.s,
			b.s.Announcements[i].When)
	case "mixes":
		m := &b.s.Mixes[i]
		if m.When != nil {
			one.Words = "only while " + words.Truth(b.s, *m.When)
		}
	case "shares":
		one.Words = words.Share(b.s, &b.s.Shares[i])
	case "claims":
		one.Words = words.Claim(b.s, &b.s.Claims[i]) + "; not proved yet"
		if b.s.Claims[i].Label == "" {
			one.Label, one.Words = words.Capital(words.Claim(b.s, &b.s.Claims[i])), "not proved yet"
		}
	}
}

// actsOn gives, of each output, the parts that it depends on, and what it goes to.
func (b *builder) actsOn() []map[string]bool {
	all := make([]map[string]bool, len(b.s.Outputs))
	for i := range b.s.Outputs {
		all[i] = map[string]bool{}
		add := func(part setup.Item) { all[i][b.s.PartName(part)] = true }
		for _, part := range b.s.Graph().Behind(setup.IsOutput.At(i)) {
			if part.Kind != setup.IsMix && part.Kind != setup.IsShare {
				add(part)
			}
		}
		for _, k := range b.s.MixesTo(i) { // not those of the lines that it shares with
			add(setup.IsMix.At(k))
		}
		if k := b.s.ShareOf(i); k >= 0 {
			add(setup.IsShare.At(k))
		}
		for _, ref := range b.s.Carriers(i) {
			add(setup.IsReceiver.At(ref.Receiver))
			for _, k := range b.s.OnPin(ref) {
				add(setup.IsDevice.At(k))
			}
		}
	}
	return all
}

// hangsOn says what kind of part hangs on output i, and which receiver carries it.
func (b *builder) hangsOn(i int) (part, receiver string) {
	part, receiver = "Nothing yet", "No receiver"
	for _, pin := range b.p.Routes[i].Pins {
		rx := &b.s.Receivers[pin.Receiver]
		receiver = b.s.ReceiverLabel(rx)
		for _, k := range b.s.OnPin(pin.PinRef) {
			if part = b.s.Devices[k].PartKind().Group; part != "Servos" {
				return part, receiver
			}
		}
	}
	return part, receiver
}
