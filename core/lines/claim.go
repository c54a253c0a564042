package lines

import (
	"slices"
	"strings"

	"axtren/core/setup"
	"axtren/core/words"
)

// claim adds the fields of what must always hold: those of the one thing that it says.
func (f *former) claim(pointer string, n *setup.Node) {
	specs := map[string]setup.Field{}
	for _, spec := range setup.Fields(setup.Claim{}) {
		specs[spec.Name] = spec
	}
	f.fields = append(f.fields, f.field(specs["label"], pointer+"/label", n.Get("label"), "label",
		words.Field("label")))
	for _, kind := range words.Claims {
		value := n.Get(kind.Key)
		if value == nil {
			continue
		}
		at := pointer + "/" + kind.Key
		switch kind.Key {
		case "never":
			f.conditions(at, value, specs[kind.Key].Says)
		case "reachable":
			f.condition(kind.Key, "it can be brought about that", at, value)
		default:
			for _, one := range specs[kind.Key].Fields {
				name, below := kind.Key+"."+one.Name, value.Get(one.Name)
				if one.Name == "while" || one.Name == "when" || one.Name == "then" {
					f.condition(name, words.Field(name), at+"/"+one.Name, below)
					continue
				}
				f.fields = append(f.fields, f.field(one, at+"/"+one.Name, below, name, words.Field(name)))
			}
		}
	}
}

// condition is a truth that is chosen from a list, or, where it speaks of an output or a
// device, as the document has it.
func (f *former) condition(name, label, at string, value *setup.Node) {
	field := Field{Name: name, Label: label, Always: true, Targets: f.targets(at, value)}
	if value != nil && value.Kind != setup.Text {
		field.Kind, field.Text = Written, strings.TrimSpace(string(value.JSON()))
	} else {
		field.Kind, field.Choices = Reference, f.truthChoices()
		if value != nil {
			field.Text = value.Text
		}
	}
	f.fields = append(f.fields, field)
}

// conditions are those that are never all true.
func (f *former) conditions(at string, value *setup.Node, help string) {
	field := Field{Name: "never", Label: "never all at once", Help: help, Kind: Rows, Shape: "plain",
		Always: true, Targets: f.targets(at, value), Rows: [][]string{},
		Columns: []Field{{Name: "entry", Label: "never all at once", Kind: Reference,
			Choices: f.truthChoices()}}}
	written := slices.ContainsFunc(value.Items, func(n *setup.Node) bool { return n.Kind != setup.Text })
	if written {
		field.Columns[0].Kind, field.Columns[0].Choices = Written, nil
	}
	for _, one := range value.Items {
		text := one.Text
		if written {
			text = strings.TrimSpace(string(one.JSON()))
		}
		field.Rows = append(field.Rows, []string{text})
	}
	f.fields = append(f.fields, field)
}
