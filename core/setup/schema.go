package setup

import (
	"encoding/json"

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
	return &jsonschema.Reflector{RequiredFromJSONSchemaTags: true, Anonymous: true, ExpandedStruct: true, DoNotReference: true}
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
func variantSchema(key string, vs variants) *jsonschema.Schema {
	s := &jsonschema.Schema{}
	for _, v := range vs {
		one := schemaOf(v.make())
		if kind, ok := one.Properties.Get(key); ok {
			kind.Const = v.name
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
	return &jsonschema.Schema{Type: "array", Items: &jsonschema.Schema{Type: "number"}, MinItems: &two, MaxItems: &two}
}

// JSONSchema gives the schema of a gain.
func (Gain) JSONSchema() *jsonschema.Schema {
	return anyOf(number("-300", "300"), schemaOf(&struct {
		Pos float64 `json:"pos" jsonschema:"required,minimum=-300,maximum=300"`
		Neg float64 `json:"neg" jsonschema:"required,minimum=-300,maximum=300"`
	}{}))
}

// JSONSchema gives the schema of a slew.
func (Slew) JSONSchema() *jsonschema.Schema {
	return anyOf(&jsonschema.Schema{Type: "number", Minimum: "0"}, schemaOf(&struct {
		Up   float64 `json:"up" jsonschema:"minimum=0"`
		Down float64 `json:"down" jsonschema:"minimum=0"`
	}{}))
}

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
	type fields struct {
		Output *ID      `json:"output"`
		Device *ID      `json:"device"`
		Above  *float64 `json:"above"`
		Below  *float64 `json:"below"`
		Within *Point   `json:"within"`
	}
	return anyOf(Truth("").JSONSchema(), schemaOf(&fields{}))
}

// JSONSchema gives the schema of what the transmitter waits for.
func (Is) JSONSchema() *jsonschema.Schema {
	type fields struct {
		From float64 `json:"from" jsonschema:"required,minimum=-100,maximum=100"`
		To   float64 `json:"to" jsonschema:"required,minimum=-100,maximum=100"`
	}
	return anyOf(Name("").JSONSchema(), schemaOf(&fields{}))
}

// JSONSchema gives the schema of a scale.
func (Scale) JSONSchema() *jsonschema.Schema {
	return anyOf(words("percent", "span", "magnitude", "us"),
		schemaOf(&struct {
			Step float64 `json:"step" jsonschema:"required,exclusiveMinimum=0,maximum=150"`
		}{}),
		schemaOf(&struct {
			Bits int `json:"bits" jsonschema:"required,minimum=1,maximum=24"`
		}{}))
}

// JSONSchema gives the schema of the scale of a menu.
func (Menu) JSONSchema() *jsonschema.Schema {
	mixed := jsonschema.NewProperties()
	mixed.Set("else", Scale{}.JSONSchema())
	mixed.Set("channels", &jsonschema.Schema{Type: "object", PropertyNames: text("^[0-9]{1,2}$"), AdditionalProperties: Scale{}.JSONSchema()})
	return anyOf(Scale{}.JSONSchema(), &jsonschema.Schema{Type: "object", Required: []string{"else"}, Properties: mixed, AdditionalProperties: jsonschema.FalseSchema})
}

// JSONSchema gives the schema of a control.
func (Control) JSONSchema() *jsonschema.Schema { return variantSchema("kind", controlSpecs) }

// JSONSchema gives the schema of a device.
func (Device) JSONSchema() *jsonschema.Schema { return variantSchema("kind", deviceSpecs) }

// JSONSchema gives the schema of a logic block.
func (Block) JSONSchema() *jsonschema.Schema { return variantSchema("block", blockSpecs) }
