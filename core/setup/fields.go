package setup

import (
	"math"
	"reflect"
	"sync"
)

// FieldType is what a field of the document holds.
type FieldType string

// The types of field.
const (
	FieldNumber FieldType = "number"
	FieldWhole  FieldType = "whole"
	FieldYesNo  FieldType = "yes_no"
	FieldText   FieldType = "text"
	FieldChoice FieldType = "choice"
	FieldID     FieldType = "id"    // of the part itself
	FieldPart   FieldType = "part"  // the id of another
	FieldValue  FieldType = "value" // a value reference
	FieldTruth  FieldType = "truth" // a truth reference
	FieldName   FieldType = "name"
	FieldGroup  FieldType = "group" // Fields
	FieldList   FieldType = "list"  // of Element
	FieldPair   FieldType = "pair"  // two numbers
	FieldOther  FieldType = "other" // one of the few shapes of its own
)

// Field is one field of the document as its tags describe it.
type Field struct {
	Name      string
	Type      FieldType
	GoType    reflect.Type // for FieldOther
	Required  bool
	Optional  bool   // what it is where it is left out cannot be written
	Unit      string // %, s, ms, µs, mm or mm/s; empty where it is a count or no number
	Says      string // what it is, in one sentence without a stop
	Default   string
	Choices   []string
	Low, High float64 // infinite where there is no limit
	Fields    []Field // of a group
	Element   *Field  // of a list
}

// described are the fields of the structs that were described, by their types.
var described sync.Map

// Fields describes the fields of a struct of this package, those of embedded
// heads included. Do not change what it gives: it is the same for all who ask.
func Fields(of any) []Field {
	v := reflect.Indirect(reflect.ValueOf(of))
	if list, ok := described.Load(v.Type()); ok {
		return list.([]Field)
	}
	list := describe(v)
	described.Store(v.Type(), list)
	return list
}

func describe(v reflect.Value) []Field {
	var list []Field
	for _, f := range fieldsOf(v) {
		one := fieldFor(f.value.Type(), f.tag)
		one.Name, one.Required = f.tag.name, f.tag.required
		holder := v.Type()
		if in := f.tag.index[:len(f.tag.index)-1]; len(in) > 0 {
			holder = v.FieldByIndex(in).Type()
		}
		one.Says = descriptionOf(holder, one.Name)
		if one.Type == FieldPart && one.Name == "id" {
			one.Type = FieldID
		}
		list = append(list, one)
	}
	return list
}

func fieldFor(t reflect.Type, tag fieldTag) Field {
	f := Field{Default: tag.def, Unit: tag.unit, Low: tag.low, High: tag.high, GoType: t}
	if !math.IsNaN(tag.above) {
		f.Low = tag.above
	}
	if t.Kind() == reflect.Pointer {
		f = fieldFor(t.Elem(), tag)
		f.Optional = true
		return f
	}
	own := map[reflect.Type]FieldType{reflect.TypeFor[ID](): FieldPart, reflect.TypeFor[Name](): FieldName,
		reflect.TypeFor[Value](): FieldValue,
		reflect.TypeFor[Truth](): FieldTruth, reflect.TypeFor[Point](): FieldPair}
	if kind, ok := own[t]; ok {
		f.Type = kind
		return f
	}
	if t == reflect.TypeFor[BlockKind]() {
		f.Type, f.Choices = FieldChoice, Blocks.Keys()
		return f
	}
	if reflect.PointerTo(t).Implements(reflect.TypeFor[decodes]()) {
		f.Type = FieldOther
		return f
	}
	switch t.Kind() {
	case reflect.String:
		f.Type = FieldText
		if tag.enum != nil {
			f.Type, f.Choices = FieldChoice, tag.enum
		}
	case reflect.Bool:
		f.Type = FieldYesNo
	case reflect.Int:
		f.Type = FieldWhole
	case reflect.Float64:
		f.Type = FieldNumber
	case reflect.Slice:
		element := fieldFor(t.Elem(), tag)
		f.Type, f.Element = FieldList, &element
	case reflect.Struct:
		f.Type, f.Fields = FieldGroup, Fields(reflect.New(t).Interface())
	}
	return f
}
