package setup

import (
	"encoding/json"
	"math"
	"reflect"

	"github.com/invopop/jsonschema"
)

// Schema prints the JSON Schema (draft 2020-12) of the document. It is made
// from the same types and tags as the decoder. What it cannot say, such as that
// a reference leads somewhere, Read checks.
func Schema() []byte {
	r := reflector()
	s := r.Reflect(&Setup{})
	s.ID = "https://axtren.invalid/setup-1.json"
	s.Title = "Axtren setup, version 1"
	text, err := json.MarshalIndent(s, "", "  ")
	if err != nil {
		panic(err) // the types are ours: a test prints them
	}
	return append(text, '\n')
}

func reflector() *jsonschema.Reflector {
	return &jsonschema.Reflector{RequiredFromJSONSchemaTags: true, Anonymous: true, ExpandedStruct: true,
		DoNotReference: true,
		LookupComment: func(t reflect.Type, field string) string {
			if t.Kind() != reflect.Struct || field == "" {
				return ""
			}
			f, _ := t.FieldByName(field)
			return descriptionOf(t, f.Tag.Get("json"))
		}}
}

func schemaOf(v any) *jsonschema.Schema {
	s := reflector().Reflect(v)
	s.Version = ""
	return s
}

func number(low, high string) *jsonschema.Schema {
	return &jsonschema.Schema{Type: "number", Minimum: json.Number(low), Maximum: json.Number(high)}
}

func anyOf(of ...*jsonschema.Schema) *jsonschema.Schema { return &jsonschema.Schema{OneOf: of} }

func text(pattern string) *jsonschema.Schema {
	return &jsonschema.Schema{Type: "string", Pattern: pattern}
}

func words(of ...any) *jsonschema.Schema { return &jsonschema.Schema{Enum: of} }

// variantSchema is the schema of a union: each kind with its own fields.
func variantSchema(key string, kinds PartKinds) *jsonschema.Schema {
	s := &jsonschema.Schema{}
	for i := range kinds {
		one := schemaOf(kinds[i].Spec())
		one.Description = kinds[i].Does
		if one.Description == "" {
			one.Description = kinds[i].Name
		}
		if kind, ok := one.Properties.Get(key); ok {
			kind.Const = kinds[i].Key
		}
		s.OneOf = append(s.OneOf, one)
	}
	return s
}

// JSONSchema gives the schema of an id.
func (ID) JSONSchema() *jsonschema.Schema { return text(idPattern.String()) }

// JSONSchema gives the schema of a name.
func (Name) JSONSchema() *jsonschema.Schema { return text(namePattern.String()) }

// JSONSchema gives the schema of a value reference.
func (Value) JSONSchema() *jsonschema.Schema {
	return anyOf(text("^."), number("-150", "150"))
}

// JSONSchema gives the schema of a truth reference.
func (Truth) JSONSchema() *jsonschema.Schema { return text("^(not )?[a-z][a-z0-9_.]*") }

// JSONSchema gives the schema of a pair of numbers.
func (Point) JSONSchema() *jsonschema.Schema {
	two := uint64(2)
	return &jsonschema.Schema{Type: "array", Items: &jsonschema.Schema{Type: "number"}, MinItems: &two,
		MaxItems: &two}
}

// JSONSchema gives the schema of a gain.
func (Gain) JSONSchema() *jsonschema.Schema {
	return anyOf(number("-300", "300"), schemaOf(&gainSides{}))
}

type gainSides struct {
	Pos float64 `json:"pos" jsonschema:"required,minimum=-300,maximum=300"`
	Neg float64 `json:"neg" jsonschema:"required,minimum=-300,maximum=300"`
}

func (gainSides) describe() docs {
	return docs{"pos": "for a source of 0 and above, percent", "neg": "for a source below 0, percent"}
}

// JSONSchema gives the schema of a slew.
func (Slew) JSONSchema() *jsonschema.Schema {
	return anyOf(&jsonschema.Schema{Type: "number", Minimum: "0"}, schemaOf(&slewSides{}))
}

type slewSides struct {
	Up   float64 `json:"up" jsonschema:"minimum=0"`
	Down float64 `json:"down" jsonschema:"minimum=0"`
}

func (slewSides) describe() docs { return docs{"up": "upwards, seconds", "down": "downwards, seconds"} }

// JSONSchema gives the schema of a latch's start.
func (StateAt) JSONSchema() *jsonschema.Schema { return words(true, false, "kept") }

// JSONSchema gives the schema of a choice of pins.
func (Pins) JSONSchema() *jsonschema.Schema {
	return anyOf(words("all"), &jsonschema.Schema{Type: "array",
		Items: &jsonschema.Schema{Type: "integer", Minimum: "1", Maximum: "256"}})
}

// JSONSchema gives the schema of where a servo was left.
func (LeftAt) JSONSchema() *jsonschema.Schema { return anyOf(words("unknown"), number("-150", "150")) }

// JSONSchema gives the schema of the tracks of a sequence.
func (Tracks) JSONSchema() *jsonschema.Schema {
	one := uint64(1)
	return &jsonschema.Schema{Type: "object", MinProperties: &one, PropertyNames: Name("").JSONSchema(),
		AdditionalProperties: &jsonschema.Schema{Type: "array", Items: Point{}.JSONSchema(), MinItems: &one}}
}

// JSONSchema gives the schema of a condition.
func (Condition) JSONSchema() *jsonschema.Schema {
	return anyOf(Truth("").JSONSchema(), fieldsSchema(Condition{}))
}

// JSONSchema gives the schema of what the transmitter waits for.
func (Is) JSONSchema() *jsonschema.Schema {
	return anyOf(Name("").JSONSchema(), fieldsSchema(Is{}))
}

// fieldsSchema is the schema of a type that is written in more than one shape, in the one
// that has fields.
func fieldsSchema(of any) *jsonschema.Schema {
	all := Fields(of)
	s := &jsonschema.Schema{Type: "object", Properties: jsonschema.NewProperties(),
		AdditionalProperties: jsonschema.FalseSchema}
	v := reflect.TypeOf(of)
	for i, tag := range tagsOf(v) {
		one := schemaOf(reflect.New(v.FieldByIndex(tag.index).Type).Elem().Interface())
		one.Description = all[i].Says
		s.Properties.Set(tag.name, one)
		if tag.required {
			s.Required = append(s.Required, tag.name)
		}
		for limit, to := range map[*json.Number]float64{&one.Minimum: tag.low, &one.Maximum: tag.high} {
			if !math.IsInf(to, 0) {
				*limit = json.Number(formatNumber(to))
			}
		}
	}
	return s
}

// JSONSchema gives the schema of a scale.
func (Scale) JSONSchema() *jsonschema.Schema {
	return anyOf(words("percent", "span", "magnitude", "us"), schemaOf(&scaleStep{}), schemaOf(&scaleBits{}))
}

type scaleStep struct {
	Step float64 `json:"step" jsonschema:"required,exclusiveMinimum=0,maximum=150"`
}

func (scaleStep) describe() docs { return docs{"step": "percent a step"} }

type scaleBits struct {
	Bits int `json:"bits" jsonschema:"required,minimum=1,maximum=24"`
}

func (scaleBits) describe() docs {
	return docs{"bits": "it counts to 2 to the power of this, less 1, over the travel"}
}

// extendChoices adds the choices that a field's tag names to the schema of its struct.
func extendChoices(of any, s *jsonschema.Schema) {
	t := reflect.TypeOf(of)
	for _, tag := range tagsOf(t) {
		field := t.FieldByIndex(tag.index)
		if property, ok := s.Properties.Get(tag.name); ok && field.Tag.Get("choices") != "" {
			for _, choice := range tag.enum {
				property.Enum = append(property.Enum, choice)
			}
		}
	}
}

// JSONSchemaExtend adds what its tags name.
func (Craft) JSONSchemaExtend(s *jsonschema.Schema) { extendChoices(Craft{}, s) }

// JSONSchemaExtend adds what its tags name.
func (Mix) JSONSchemaExtend(s *jsonschema.Schema) { extendChoices(Mix{}, s) }

// JSONSchemaExtend adds what its tags name.
func (Esc) JSONSchemaExtend(s *jsonschema.Schema) { extendChoices(Esc{}, s) }

// JSONSchemaExtend adds what its tags name.
func (StagePart) JSONSchemaExtend(s *jsonschema.Schema) { extendChoices(StagePart{}, s) }

// JSONSchema gives the schema of the scale of a menu.
func (Menu) JSONSchema() *jsonschema.Schema {
	mixed := jsonschema.NewProperties()
	rest := Scale{}.JSONSchema()
	rest.Description = "the scale of all other channels"
	mixed.Set("else", rest)
	mixed.Set("channels", &jsonschema.Schema{Type: "object",
		Description: "the scales of some channels, by their numbers", PropertyNames: text("^[0-9]{1,2}$"),
		AdditionalProperties: Scale{}.JSONSchema()})
	return anyOf(Scale{}.JSONSchema(), &jsonschema.Schema{Type: "object", Required: []string{"else"},
		Properties: mixed, AdditionalProperties: jsonschema.FalseSchema})
}

// JSONSchema gives the schema of a control.
func (Control) JSONSchema() *jsonschema.Schema { return variantSchema("kind", Controls) }

// JSONSchema gives the schema of a device.
func (Device) JSONSchema() *jsonschema.Schema { return variantSchema("kind", Devices) }

// JSONSchema gives the schema of the name of a kind of block.
func (BlockKind) JSONSchema() *jsonschema.Schema {
	s := &jsonschema.Schema{Type: "string"}
	for _, key := range Blocks.Keys() {
		s.Enum = append(s.Enum, key)
	}
	return s
}

// JSONSchema gives the schema of a logic block.
func (Block) JSONSchema() *jsonschema.Schema { return variantSchema("block", Blocks) }
