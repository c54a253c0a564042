package lines

import (
	"encoding/json"
	"fmt"
	"slices"
	"strings"

	"axtren/core/setup"
	"axtren/core/words"
)

// wishesOf is what the form of the wishes of a control, or of an output, is asked for by, before its
// id: wishes/helm.
const wishesOf = "wishes"

// wishes is the form of what a function asks of the plan: of its control where a control is named, of
// its channel and its pins where an output is. The error is setup.Problems.
func (f *former) wishes(id setup.ID) (*Editor, error) {
	item := f.s.Item(id)
	switch item.Kind {
	case setup.IsControl:
		f.handWishes(id)
	case setup.IsOutput:
		f.outputWishes(item.Index)
	default:
		return nil, setup.Problems{{Path: wishesOf + "/" + string(id), Message: "there is no such function",
			Remedy: "it may have been removed meanwhile; look again"}}
	}
	form := &Editor{Title: "What " + f.s.Label(item) + " is asked for", Fields: f.fields,
		Note: "The plan is made from it."}
	if item.Kind == setup.IsOutput {
		form.Title = "What " + f.s.Label(item) + " asks for"
	}
	return form.standing(wishesOf + "/" + string(id)), nil
}

// handWishes adds the fields of what is asked of a control; the plan gets an entry for it by the
// first of them.
func (f *former) handWishes(control setup.ID) {
	var makes []Made
	at, entries := 0, 0
	if f.doc.Tree.Get("plan") == nil {
		makes = append(makes, Made{"/plan", struct{}{}})
	}
	hands := f.doc.Tree.At("plan", "hands")
	var entry *setup.Node
	if hands == nil {
		makes = append(makes, Made{"/plan/hands", []any{}})
	} else {
		entries = len(hands.Items)
		at = slices.IndexFunc(hands.Items, func(n *setup.Node) bool {
			return n.Get("control").Text == string(control)
		})
		if at >= 0 {
			entry = hands.Items[at]
		}
	}
	if entry == nil {
		at = entries
		makes = append(makes, Made{"/plan/hands/-", map[string]any{"control": control}})
	}
	for _, spec := range setup.Fields(&setup.HandWish{}) {
		if spec.Name == "control" {
			continue
		}
		pointer := fmt.Sprintf("/plan/hands/%d/%s", at, spec.Name)
		field := f.field(spec, pointer, entry.Get(spec.Name), spec.Name, words.Field(spec.Name, "plan."))
		field.Targets[0].Makes = makes
		f.fields = append(f.fields, asUsual(field))
	}
}

// outputWishes adds the fields of what an output asks for, those that it does not have yet too.
func (f *former) outputWishes(i int) {
	f.base, f.id = fmt.Sprintf("/outputs/%d", i), string(f.s.Outputs[i].ID)
	n := f.doc.Tree.At("outputs", fmt.Sprint(i))
	for _, spec := range setup.Fields(&setup.Output{}) {
		switch spec.Name {
		case "loss":
			f.loss(spec, f.base+"/loss", n.Get("loss"), "")
		case "needs":
			f.needs(spec, n.Get("needs"), len(f.s.MixesTo(i)) == 0)
		}
	}
}

// needs adds what an output asks of its channel and its pins; of a control, where nothing moves it.
func (f *former) needs(spec setup.Field, needs *setup.Node, idle bool) {
	at := f.base + "/" + spec.Name
	var makes []Made
	if needs == nil {
		makes = []Made{{at, struct{}{}}}
	}
	from := len(f.fields)
	for _, one := range spec.Fields {
		pointer, value := at+"/"+one.Name, needs.Get(one.Name)
		label := words.Field(one.Name, spec.Name+".")
		switch one.Name {
		case "stays":
			f.fields = append(f.fields, f.stays(one, pointer, value, label))
		case "by":
			if idle {
				f.by(one, pointer, value, label)
			}
		default:
			f.fields = append(f.fields, asUsual(f.field(one, pointer, value, spec.Name+"."+one.Name, label)))
		}
	}
	for i := range f.fields[from:] {
		f.fields[from+i].Targets[0].Makes = makes
	}
}

// stays is one choice of which places the plan leaves alone.
func (f *former) stays(spec setup.Field, pointer string, value *setup.Node, label string) Field {
	field := Field{Name: "needs.stays", Label: label, Help: spec.Says, Kind: OneOf,
		Targets: f.targets(pointer, value), Choices: []Choice{
			{Value: "", Label: "nothing"},
			{Value: "channel", Label: "channel", JSON: json.RawMessage(`["channel"]`)},
			{Value: "pin", Label: "pins", JSON: json.RawMessage(`["pin"]`)},
			{Value: "channel pin", Label: "channel and pins", JSON: json.RawMessage(`["channel","pin"]`)}}}
	if value != nil {
		var has []string
		for _, one := range value.Items {
			has = append(has, one.Text)
		}
		slices.Sort(has)
		field.Text = strings.Join(slices.Compact(has), " ")
	}
	return field
}

// by is the kind of control that an output asks for, with the fields that belong to it once it asks.
func (f *former) by(spec setup.Field, pointer string, value *setup.Node, label string) {
	kind := Field{Name: "needs.by", Label: label, Help: spec.Says, Kind: OneOf,
		Targets: f.targets(pointer, value), Choices: []Choice{{Value: "", Label: "none"}}}
	if value != nil {
		kind.Text = value.Get("kind").Text
	}
	for _, one := range spec.Fields {
		if one.Name == "kind" {
			for _, c := range one.Choices {
				kind.Choices = append(kind.Choices, Choice{Value: c, Label: words.Choice("kind", c),
					JSON: json.RawMessage(`{"kind":"` + c + `"}`)})
			}
		}
	}
	f.fields = append(f.fields, kind)
	if value == nil {
		return
	}
	for _, one := range spec.Fields {
		if one.Name == "kind" || one.Name == "positions" && kind.Text != "steps" ||
			one.Name == "rest" && kind.Text != "proportional" {
			continue
		}
		f.fields = append(f.fields, asUsual(f.field(one, pointer+"/"+one.Name, value.Get(one.Name),
			"needs.by."+one.Name, words.Field(one.Name, "by."))))
	}
}

// asUsual says what a wish is that nobody wrote down.
func asUsual(field Field) Field {
	for i := range field.Choices {
		switch c := &field.Choices[i]; {
		case c.Value != "":
		case field.Optional:
			c.Label = "as is usual"
		default:
			c.Label = "nothing is asked"
		}
	}
	return field
}
