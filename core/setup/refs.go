package setup

import (
	"fmt"
	"reflect"
	"strings"
)

// Reference is a place of the document that names a part of it.
type Reference struct {
	Pointer string // JSON Pointer of the place
	ID      ID     // the part
	Text    string // as it is written there: not deck.up
}

// Renamed gives the text of the reference after the part got another id.
func (r Reference) Renamed(to ID) string {
	not := ""
	rest, ok := strings.CutPrefix(r.Text, "not ")
	if ok {
		not = "not "
	}
	return not + string(to) + strings.TrimPrefix(rest, string(r.ID))
}

// References lists every place that names a part, in the order of the types of
// this package. A number and power_on name none.
func (s *Setup) References() []Reference {
	w := &refWalk{}
	w.value(reflect.ValueOf(s).Elem(), "", "")
	return w.found
}

type refWalk struct{ found []Reference }

func (w *refWalk) note(pointer, text string) {
	id, _, _ := strings.Cut(strings.TrimPrefix(text, "not "), ".")
	if id != "" && id != "power_on" {
		w.found = append(w.found, Reference{pointer, ID(id), text})
	}
}

// value looks at one value of the document; name is the field that holds it.
func (w *refWalk) value(v reflect.Value, pointer, name string) {
	switch one := v.Interface().(type) {
	case Value:
		w.note(pointer, one.Ref)
		return
	case Truth:
		w.note(pointer, string(one))
		return
	case ID:
		if name != "id" {
			w.note(pointer, string(one))
		}
		return
	case Control:
		return // names nothing
	case Device:
		w.value(reflect.ValueOf(one.Spec).Elem(), pointer, name)
		return
	case Block:
		w.value(reflect.ValueOf(one.Spec).Elem(), pointer, name)
		return
	case Condition:
		w.note(pointer, string(one.Truth))
	}
	switch v.Kind() {
	case reflect.Pointer:
		if !v.IsNil() {
			w.value(v.Elem(), pointer, name)
		}
	case reflect.String:
		if name == "on" && strings.HasPrefix(pointer, "/devices/") || name == "swap_on" {
			w.note(pointer, v.String())
		}
	case reflect.Slice:
		for i := range v.Len() {
			w.value(v.Index(i), fmt.Sprintf("%s/%d", pointer, i), name)
		}
	case reflect.Struct:
		for _, f := range fieldsOf(v) {
			w.value(f.value, pointer+"/"+f.tag.name, f.tag.name)
		}
	}
}
