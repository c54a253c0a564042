package lines

import (
	"bytes"
	"encoding/json"
	"fmt"
	"math"
	"reflect"
	"slices"
	"strconv"
	"strings"

	"axtren/core/parts"
	"axtren/core/setup"
	"axtren/core/signal"
	"axtren/core/travel"
	"axtren/core/words"
)

// Form is the whole of one part as fields, as plain as the document has it:
// logic/horn, controls/turn, and link, module, craft and transmitter, which have no id.
// The error is setup.Problems where there is no such part.
func Form(doc *setup.Document, p *signal.Program, part string) (*Editor, error) {
	b := &builder{doc: doc, s: doc.Setup, p: p}
	f := &former{builder: b, fields: []Field{}}
	if module := doc.Setup.Link.Module; part == modulePart && module != nil {
		f.into(module, "/link/module", doc.Tree.At("link", "module"), "", 0)
		for _, spec := range setup.Fields(&doc.Setup.Link) {
			if spec.Name == "learned_us" { // it stands beside the module
				at := doc.Tree.At("link", spec.Name)
				f.group(spec, "/link/"+spec.Name, at, words.Field(spec.Name), "", 0)
			}
		}
		form := &Editor{Title: "The add-on module", Note: words.Of("link").Does, Fields: f.fields}
		return form.standing(part), nil
	}
	if at := slices.Index(formsOfModel, part); at >= 0 {
		if part == "start_check" {
			return f.startCheck().standing(part), nil
		}
		of := []any{&doc.Setup.Link, &doc.Setup.Craft, &doc.Setup.Transmitter, &setup.Wiring{}, &setup.Under{}}[at]
		title := []string{"What lies between the transmitter and the receivers", "What the model is",
			"The transmitter in the hand, and what it can do", "What feeds the receivers, and the leads",
			"What is known of going under"}[at]
		f.into(of, "/"+part, doc.Tree.Get(part), "", 0)
		return (&Editor{Title: title, Note: words.Of(part).Does, Fields: f.fields}).standing(part), nil
	}
	list, id, _ := strings.Cut(part, "/")
	if list == wishesOf {
		return f.wishes(setup.ID(id))
	}
	pointer, n, err := parts.Find(doc.Tree, part)
	if err != nil {
		return nil, err
	}
	f.id, f.base = id, pointer
	note := words.Of(list).Does
	if kind := n.Get(setup.KindField(list)); kind != nil {
		f.kind = setup.KindsOf(list).Find(kind.Text)
	}
	if f.kind != nil && f.kind.Does != "" {
		note = f.kind.Does
	}
	if list == "claims" {
		f.claim(pointer, n)
	} else {
		f.into(specOf(doc.Setup, setup.ID(id)), pointer, n, "", 0)
	}
	if idle(n) {
		note = "Nothing moves it yet: choose what does. It does nothing until then."
	}
	return (&Editor{Title: parts.Name(doc.Setup, part), Note: note, Fields: f.fields}).standing(part), nil
}

// modulePart is what the form of an add-on module is asked for by.
const modulePart = "module"

// formsOfModel are the forms of what belongs to no list.
var formsOfModel = []string{"link", "craft", "transmitter", "wiring", "under", "start_check"}

// standing says of each field where it stands, and what of the document it sets.
func (e *Editor) standing(at string) *Editor {
	for i := range e.Fields {
		f := &e.Fields[i]
		f.At, f.Paths = at, []string{}
		for _, t := range f.Targets {
			f.Paths, f.Present = append(f.Paths, t.Path), f.Present || t.Present
		}
		for k := range f.Columns {
			f.Columns[k].Paths = []string{}
		}
	}
	return e
}

// idle tells whether nobody has chosen yet what moves a part: all that it waits for is
// the first moment, or 0, as a new one does.
func idle(n *setup.Node) bool {
	found := false
	for _, key := range []string{"from", "of", "up", "down", "go", "when", "in", "set", "reset"} {
		at := n.Get(key)
		if at == nil || key == "from" && at.Kind == setup.Number && n.Get("of") != nil {
			continue // the lower end of a range
		}
		found = true
		items := []*setup.Node{at}
		if at.Kind == setup.List {
			items = at.Items
		}
		for _, one := range items {
			own := n.Get("id")
			nothing := one.Kind == setup.Number && one.Float() == 0 || one.Kind == setup.Text &&
				(strings.TrimPrefix(one.Text, "not ") == "power_on" || own != nil && one.Text == own.Text)
			if !nothing {
				return false
			}
		}
	}
	return found
}

// specOf gives the Go value of a part.
func specOf(s *setup.Setup, id setup.ID) any {
	item := s.Item(id)
	i := item.Index
	switch item.Kind {
	case setup.IsControl:
		if c := s.Transmitter.Controls[i]; c.Axis != nil {
			return c.Axis
		}
		return s.Transmitter.Controls[i].Switch
	case setup.IsDemand:
		return &s.Demands[i]
	case setup.IsBlock:
		return s.Logic[i].Spec
	case setup.IsStepper:
		return &s.Steppers[i]
	case setup.IsSequence:
		return &s.Sequences[i]
	case setup.IsPattern:
		return &s.Patterns[i]
	case setup.IsOutput:
		return &s.Outputs[i]
	case setup.IsReceiver:
		return &s.Receivers[i]
	case setup.IsDevice:
		return s.Devices[i].Spec
	case setup.IsAnnouncement:
		return &s.Announcements[i]
	case setup.IsMix:
		return &s.Mixes[i]
	case setup.IsShare:
		return &s.Shares[i]
	}
	return &s.Claims[i]
}

// former makes the fields of a part.
type former struct {
	*builder
	id, base string          // of the part; empty where it has none
	kind     *setup.PartKind // of a block, a control or a device
	fields   []Field
}

// into adds the fields of a struct that stands at pointer.
func (f *former) into(of any, pointer string, n *setup.Node, prefix string, depth int) {
	for _, spec := range setup.Fields(of) {
		if spec.Type == setup.FieldID || spec.Name == "kind" || spec.Name == "block" ||
			spec.Name == "controls" || codesOf[spec.Name] || isFrom(spec) || f.ofModel(pointer, spec.Name) {
			continue
		}
		at := pointer + "/" + spec.Name
		value := n.Get(spec.Name)
		label := words.Field(spec.Name, prefix)
		if f.kind != nil && f.kind.Labels[spec.Name] != "" {
			label = f.kind.Labels[spec.Name]
		}
		if spec.Type == setup.FieldGroup && depth < 2 {
			f.group(spec, at, value, label, prefix, depth)
			continue
		}
		f.fields = append(f.fields, f.field(spec, at, value, prefix+spec.Name, label))
	}
}

// codesOf are the fields of a receiver that are told in Plan, level by level, and not in its form.
var codesOf = map[string]bool{"chart": true, "codes": true}

// isFrom tells what is not typed but chosen on a shelf.
func isFrom(spec setup.Field) bool { return spec.GoType == reflect.TypeFor[setup.From]() }

// ofModel tells the fields that a piece of a shelf does not have, since they belong to the model
// that it is in; what it is called it has.
func (f *former) ofModel(pointer, field string) bool {
	of, there := f.s.PieceCopy()
	return there && of.Pointer() == pointer && !slices.Contains([]string{"label", "name", "notes"}, field) &&
		slices.Contains(of.Kind.Own, field)
}

// group adds a group of fields: one that may be left out as a whole is a yes or
// no, with its fields after it while it is there.
func (f *former) group(spec setup.Field, at string, value *setup.Node, label, prefix string, depth int) {
	if spec.Name == "loss" {
		f.loss(spec, at, value, prefix)
		return
	}
	if spec.Optional || value == nil {
		there := 0.0
		if value != nil {
			there = 1
		}
		f.fields = append(f.fields, Field{Name: prefix + spec.Name, Label: label, Help: spec.Says,
			Kind: YesNo, Value: there, Seed: seedOf(spec), Targets: f.targets(at, value)})
	}
	if value == nil {
		return
	}
	for _, one := range spec.Fields {
		if isFrom(one) {
			continue
		}
		below := value.Get(one.Name)
		if one.Type == setup.FieldGroup && depth < 2 {
			f.group(one, at+"/"+one.Name, below, words.Field(one.Name, spec.Name+"."), prefix+spec.Name+".",
				depth+1)
			continue
		}
		f.fields = append(f.fields, f.field(one, at+"/"+one.Name, below, prefix+spec.Name+"."+one.Name,
			words.Field(one.Name, spec.Name+".")))
	}
}

// loss is one choice, since a mode and its value go together.
func (f *former) loss(spec setup.Field, at string, value *setup.Node, prefix string) {
	mode := ""
	if value != nil {
		mode = value.Get("mode").Text
	}
	field := Field{Name: prefix + "loss", Label: "when the signal is lost", Help: spec.Says, Kind: OneOf,
		Text: mode, Targets: f.targets(at, value), Choices: []Choice{
			{Value: "", Label: "nothing is asked"}, {Value: "hold", Label: "stay where it is",
				JSON: json.RawMessage(`{"mode":"hold"}`)},
			{Value: "cut", Label: "no pulses", JSON: json.RawMessage(`{"mode":"cut"}`)},
			{Value: "preset", Label: "go to a position",
				JSON: json.RawMessage(`{"mode":"preset","value":0}`)}}}
	f.fields = append(f.fields, field)
	if mode == "preset" {
		n := value.Get("value")
		f.fields = append(f.fields, Field{Name: prefix + "loss.value", Label: "where it goes", Kind: Number,
			Value: n.Float(), Always: true, Min: -150, Max: 150, Step: 1,
			Unit: "%", Targets: f.targets(at+"/value", n)})
	}
}

func (f *former) targets(at string, value *setup.Node) []Target {
	t := Target{Pointer: at, Path: setup.PointerPath(at), Present: value != nil, Sign: 1}
	if f.id != "" {
		t.ListID, t.IDAt = f.id, f.base+"/id"
	} else if steps := setup.PointerParts(at); steps != nil && f.doc.Tree.Get(steps[0]) == nil {
		t.Makes = []Made{{"/" + steps[0], struct{}{}}}
	}
	return []Target{t}
}

// field makes one field.
func (f *former) field(spec setup.Field, at string, value *setup.Node, name, label string) Field {
	field := Field{Name: name, Label: label, Help: spec.Says, Always: spec.Required, Optional: spec.Optional,
		Targets: f.targets(at, value)}
	if value != nil && (value.Kind == setup.Text || value.Kind == setup.Number) {
		field.Text = value.Text
	}
	switch spec.Type {
	case setup.FieldNumber, setup.FieldWhole:
		f.number(&field, spec, value)
	case setup.FieldYesNo:
		if spec.Optional {
			field.Kind, field.Choices = OneOf, []Choice{{Value: "", Label: "not known"},
				{Value: "true", Label: "yes", JSON: json.RawMessage("true")},
				{Value: "false", Label: "no", JSON: json.RawMessage("false")}}
			if value != nil {
				field.Text = value.Text
			}
			break
		}
		field.Kind, field.Usual = YesNo, truth(spec.Default == "true")
		field.Value = field.Usual
		if value != nil {
			field.Value = truth(value.Text == "true")
		}
	case setup.FieldChoice:
		field.Kind = OneOf
		if value == nil {
			field.Text = spec.Default
		}
		if spec.Default == "" && !spec.Required {
			field.Choices = append(field.Choices, Choice{Value: "", Label: "not said"})
		}
		for _, c := range spec.Choices {
			field.Choices = append(field.Choices, Choice{Value: c, Label: words.Choice(spec.Name, c)})
		}
	case setup.FieldValue:
		field.Kind, field.Choices = Reference, f.valueChoices()
	case setup.FieldTruth:
		field.Kind, field.Choices = Reference, f.truthChoices()
		if spec.Optional {
			field.Choices = append([]Choice{{Value: "", Label: "nothing"}}, field.Choices...)
		}
	case setup.FieldPart:
		field.Kind, field.Choices = OneOf, f.partChoices(spec)
	case setup.FieldName:
		field.Kind = Words
		if choices := f.nameChoices(spec.Name); choices != nil {
			field.Kind, field.Choices = OneOf, append([]Choice{{Value: "", Label: "as usual"}}, choices...)
		}
	case setup.FieldList:
		f.rows(&field, spec, value)
	case setup.FieldOther, setup.FieldPair, setup.FieldGroup:
		f.other(&field, spec, value)
	default:
		field.Kind = Words
		if name == "on" || name == "swap_on" {
			field.Kind, field.Choices = OneOf, f.pinChoices(name == "swap_on")
		}
	}
	return field
}

func (f *former) number(field *Field, spec setup.Field, value *setup.Node) {
	field.Kind, field.Min, field.Max, field.Step, field.Unit = Number, max(spec.Low, -1e6), min(spec.High,
		1e6), 1, spec.Unit
	if field.Unit == "s" {
		field.Step = 0.1
	}
	field.Usual, _ = strconv.ParseFloat(spec.Default, 64)
	field.Value = field.Usual
	if value != nil && value.Kind == setup.Number {
		field.Value = value.Float()
	}
}

// other shows the few fields with a shape of their own as the document has
// them; a gain that is one number and a slew too are numbers.
func (f *former) other(field *Field, spec setup.Field, value *setup.Node) {
	plainNumber := value == nil || value.Kind == setup.Number
	switch {
	case spec.GoType == reflect.TypeFor[setup.Gain]() && plainNumber:
		f.number(field, setup.Field{Name: "gain", Low: -300, High: 300, Default: "100", Unit: spec.Unit},
			value)
	case spec.GoType == reflect.TypeFor[setup.Slew]() && plainNumber:
		f.number(field, setup.Field{Name: spec.Name, Low: 0, High: math.Inf(1), Unit: spec.Unit}, value)
	case spec.GoType == reflect.TypeFor[setup.Menu]():
		field.Kind, field.Choices = OneOf, scales()
		if value != nil && value.Kind != setup.Text {
			field.Text = flat(value)
			if !slices.ContainsFunc(field.Choices, func(c Choice) bool { return c.Value == field.Text }) {
				field.Choices = append(field.Choices, Choice{field.Text, "as the document has it: " + field.Text,
					json.RawMessage(field.Text)})
			}
		}
	case spec.Name == "start":
		field.Kind, field.Choices = OneOf, []Choice{{Value: "false", Label: "off",
			JSON: json.RawMessage("false")}, {Value: "true", Label: "on", JSON: json.RawMessage("true")},
			{Value: "kept", Label: "as it was when the transmitter was turned off",
				JSON: json.RawMessage(`"kept"`)}}
		if field.Text = "false"; value != nil {
			field.Text = value.Text
		}
	case spec.Name == "tracks":
		field.Kind, field.Shape = Rows, "groups"
		field.Columns = []Field{{Name: "track", Label: "track", Kind: Words},
			{Name: "t", Label: "seconds", Kind: Number, Min: 0, Max: 1e6, Step: 0.1},
			{Name: "v", Label: "percent", Kind: Number, Min: -150, Max: 150, Step: 1}}
		for i := range value.Items {
			for _, key := range value.Items[i].Items {
				field.Rows = append(field.Rows, []string{value.Keys[i], key.Items[0].Text, key.Items[1].Text})
			}
		}
	default:
		field.Kind = Written
		if value != nil {
			field.Text = strings.TrimSpace(string(value.JSON()))
		}
	}
}

// scales lists the usual scales of a menu.
func scales() []Choice {
	list := []Choice{{Value: "", Label: "not known"}}
	for _, word := range []string{"percent", "span", "magnitude", "us"} {
		list = append(list, Choice{Value: word, Label: travel.Name(setup.Scale{Word: word})})
	}
	add := func(key string, n float64, sc setup.Scale) {
		text := fmt.Sprintf(`{"%s":%g}`, key, n)
		list = append(list, Choice{text, travel.Name(sc), json.RawMessage(text)})
	}
	for _, step := range []float64{0.5, 1, 2, 2.5, 5} {
		add("step", step, setup.Scale{Step: step})
	}
	for _, bits := range []int{8, 10, 11, 12} {
		add("bits", float64(bits), setup.Scale{Bits: bits})
	}
	return list
}

// flat writes a part of a document as JSON without a space.
func flat(value *setup.Node) string {
	var b bytes.Buffer
	if err := json.Compact(&b, value.JSON()); err != nil {
		return string(value.JSON())
	}
	return b.String()
}

// rows shows a list as a table.
func (f *former) rows(field *Field, spec setup.Field, value *setup.Node) {
	field.Kind = Rows
	element := *spec.Element
	switch element.Type {
	case setup.FieldPair:
		field.Shape = "pairs"
		for _, c := range pairColumns(spec.Name) {
			field.Columns = append(field.Columns, Field{Name: c, Label: c, Kind: Number, Min: -1e6, Max: 1e6,
				Step: 1})
		}
	case setup.FieldGroup:
		field.Shape = "records"
		for _, one := range element.Fields {
			if one.Type == setup.FieldGroup {
				one.Type = setup.FieldOther
			}
			column := f.field(one, "", nil, one.Name, words.Field(one.Name, spec.Name+"."))
			column.Targets, column.Help = nil, ""
			if column.Kind == YesNo { // in a table it is a choice
				column.Kind, column.Choices = OneOf, []Choice{{Value: "", Label: "no"},
					{Value: "true", Label: "yes", JSON: json.RawMessage("true")}}
			}
			field.Columns = append(field.Columns, column)
		}
	default:
		field.Shape = "plain"
		element.Name = spec.Name
		if element.Type == setup.FieldWhole { // numbers of channels, pins or points
			element.Low, element.High = 1, 256
		}
		column := f.field(element, "", nil, "entry", "")
		column.Targets, column.Label, column.Help = nil, field.Label, ""
		field.Columns = []Field{column}
	}
	field.Rows = [][]string{}
	if value == nil {
		return
	}
	for _, item := range value.Items {
		row := make([]string, len(field.Columns))
		for i, column := range field.Columns {
			cell := item
			switch field.Shape {
			case "pairs":
				cell = item.Items[i]
			case "records":
				cell = item.Get(column.Name)
			}
			if cell != nil {
				row[i] = cell.Text
				if cell.Kind >= setup.List {
					row[i] = strings.TrimSpace(string(cell.JSON()))
				}
			}
		}
		field.Rows = append(field.Rows, row)
	}
}

func pairColumns(name string) []string {
	if name == "steps" {
		return []string{"percent", "seconds"}
	}
	return []string{"in", "out"}
}

// valueChoices are the sources that a value may come from, in words.
func (f *former) valueChoices() []Choice {
	var list []Choice
	add := func(value, label string) { list = append(list, Choice{Value: value, Label: label}) }
	for i, c := range f.s.Transmitter.Controls {
		add(string(c.ID), f.s.ControlLabel(i))
	}
	for i, d := range f.s.Demands {
		add(string(d.ID), "feel: "+f.s.DemandLabel(i))
	}
	for _, b := range f.s.Logic {
		add(string(b.ID), "rule: "+f.s.Named(b.ID))
	}
	for _, st := range f.s.Steppers {
		add(string(st.ID), "steps: "+f.s.Named(st.ID))
	}
	for _, sq := range f.s.Sequences {
		for _, track := range sq.Tracks {
			add(string(sq.ID)+"."+string(track.Name), "sequence: "+f.s.Named(sq.ID)+", "+
				string(track.Name))
		}
	}
	for _, pt := range f.s.Patterns {
		add(string(pt.ID), "pattern: "+f.s.Named(pt.ID))
	}
	for i, o := range f.s.Outputs {
		add(string(o.ID)+".asked", "asked of "+f.s.OutputLabel(i))
	}
	return list
}

// truthChoices are the conditions, each also turned round.
func (f *former) truthChoices() []Choice {
	var list []Choice
	add := func(value string) {
		for _, t := range []string{value, "not " + value} {
			label := words.Truth(f.s, setup.Truth(t))
			if t == "power_on" {
				label = "nothing yet (only the first moment after power-on)"
			}
			list = append(list, Choice{Value: t, Label: label})
		}
	}
	for _, t := range f.s.Truths() {
		add(string(t))
	}
	add("power_on")
	return list
}

// partChoices are the parts that a field may name: by its name those of one kind.
func (f *former) partChoices(spec setup.Field) (list []Choice) {
	if spec.Optional {
		list = append(list, Choice{Value: "", Label: "none"})
	}
	switch spec.Name {
	case "into", "also":
		for i := range f.s.Receivers {
			rx := &f.s.Receivers[i]
			list = append(list, Choice{Value: string(rx.ID), Label: f.s.ReceiverLabel(rx)})
		}
		return list
	case "device":
		for i := range f.s.Devices {
			list = append(list, Choice{Value: string(f.s.Devices[i].ID), Label: f.s.DeviceLabel(i)})
		}
		return list
	}
	return append(list, f.outputChoices()...)
}

func (f *former) outputChoices() []Choice {
	var list []Choice
	for i, o := range f.s.Outputs {
		list = append(list, Choice{Value: string(o.ID), Label: f.s.OutputLabel(i)})
	}
	return list
}

// pinChoices are the pins and levellers that a device may hang on.
func (f *former) pinChoices(optional bool) []Choice {
	var list []Choice
	if optional {
		list = append(list, Choice{Value: "", Label: "no second lead"})
	}
	for _, rx := range f.s.Receivers {
		for _, pin := range rx.Pins {
			list = append(list, Choice{Value: fmt.Sprintf("%s.%d", rx.ID, pin.Pin),
				Label: fmt.Sprintf("%s, pin %d (channel %d)", f.s.ReceiverLabel(&rx), pin.Pin,
					pin.Channel)})
		}
	}
	for i, d := range f.s.Devices {
		if d.PartKind().Passes && string(d.ID) != f.id {
			list = append(list, Choice{Value: string(d.ID), Label: "behind " + f.s.DeviceLabel(i)})
		}
	}
	return list
}

// nameChoices are the positions or steps that a part may start at or spring to.
func (f *former) nameChoices(field string) []Choice {
	item := f.s.Item(setup.ID(f.id))
	var names []setup.Name
	switch {
	case item.Kind == setup.IsControl && f.s.Transmitter.Controls[item.Index].Switch != nil &&
		(field == "start" || field == "spring_to"):
		names = f.s.Transmitter.Controls[item.Index].Switch.Positions
	case item.Kind == setup.IsStepper && field == "start":
		for _, step := range f.s.Steppers[item.Index].Steps {
			names = append(names, step.Name)
		}
	}
	var list []Choice
	for _, n := range names {
		list = append(list, Choice{Value: string(n), Label: string(n)})
	}
	return list
}

func truth(b bool) float64 {
	if b {
		return 1
	}
	return 0
}

// seedOf is what a group starts with.
func seedOf(spec setup.Field) json.RawMessage {
	seed := map[string]any{}
	for _, one := range spec.Fields {
		switch {
		case !one.Required:
		case len(one.Choices) > 0:
			seed[one.Name] = one.Choices[0]
		default:
			seed[one.Name] = seeds[spec.Name+"."+one.Name]
		}
	}
	text, err := json.Marshal(seed)
	if err != nil {
		panic(err) // numbers and words
	}
	return text
}

// seeds are the required numbers of groups that may be left out.
var seeds = map[string]float64{"learned_us.low": 1000, "learned_us.centre": 1500, "learned_us.high": 2000,
	"travel.full_s": 5, "switch.at_us": 1500, "joint.ways": 6}

// startCheck is what the transmitter waits for, as a table: a control, and where it has to
// be, by a position or by a range.
func (f *former) startCheck() *Editor {
	n := f.doc.Tree.Get("start_check")
	var controls, positions []Choice
	known := map[string]bool{}
	for i, c := range f.s.Transmitter.Controls {
		controls = append(controls, Choice{Value: string(c.ID), Label: f.s.ControlLabel(i)})
		if c.Switch == nil {
			continue
		}
		for _, at := range c.Switch.Positions {
			if !known[string(at)] {
				known[string(at)] = true
				positions = append(positions, Choice{Value: string(at), Label: at.Words()})
			}
		}
	}
	end := func(name, label string) Field {
		return Field{Name: name, Label: label, Kind: Number, Min: -100, Max: 100, Step: 1, Unit: "%"}
	}
	table := Field{Name: "start_check", Label: "it waits for", Kind: Rows, Shape: startShape,
		Rows:    [][]string{},
		Help:    "what has to be so before it sends anything; a switch by its position, a lever by its range",
		Targets: f.targets("/start_check", n),
		Columns: []Field{{Name: "control", Label: "control", Kind: OneOf, Choices: controls},
			{Name: "position", Label: "at", Kind: OneOf,
				Choices: append([]Choice{{Label: "a range"}}, positions...)},
			end("from", "from"), end("to", "to")}}
	for _, e := range f.s.StartCheck {
		row := []string{string(e.Control), string(e.Is.Position), "", ""}
		if e.Is.Position == "" {
			row[2], row[3] = numberText(e.Is.From), numberText(e.Is.To)
		}
		table.Rows = append(table.Rows, row)
	}
	return &Editor{Title: "Before the transmitter sends", Fields: []Field{table},
		Note: "It sends nothing until all of this is so, once after it is switched on."}
}

// startShape is the shape of the table of the start check.
const startShape = "start"

func numberText(v float64) string { return strconv.FormatFloat(v, 'g', -1, 64) }

// lossFields are the two fields of an output that say what it does on a lost signal.
func (b *builder) lossFields(i int) []Field {
	item := setup.IsOutput.At(i)
	pointer := fmt.Sprintf("/outputs/%d", i)
	f := &former{builder: b, id: string(b.s.Key(item).ID), base: pointer}
	for _, spec := range setup.Fields(setup.Output{}) {
		if spec.Name == "loss" {
			f.loss(spec, pointer+"/loss", b.doc.Tree.At("outputs", strconv.Itoa(i), "loss"), "")
		}
	}
	return (&Editor{Fields: f.fields}).standing(b.s.PartName(item)).Fields
}
