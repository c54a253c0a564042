package lines

import (
	"encoding/json"
	"errors"
	"fmt"
	"slices"
	"strings"

	"axtren/core/edit"
	"axtren/core/setup"
	"axtren/core/signal"
	"axtren/core/words"
)

// FieldOf finds a field of a joint's editor or of a part's form by where it stands, Field.At,
// and its name. view is that of the document, nil where nobody has built it yet. The error
// is setup.Problems.
func FieldOf(doc *setup.Document, p *signal.Program, view *View, at, name string) (*Field, error) {
	fields := []Field{}
	if list, _, _ := strings.Cut(at, "/"); words.IsPart(list) || list == wishesOf || at == modulePart ||
		slices.Contains(formsOfModel, at) {
		form, err := Form(doc, p, at)
		if err != nil {
			return nil, err
		}
		fields = form.Fields
	} else {
		if view == nil {
			view = Build(doc, p)
		}
		view.joints(func(j *Joint) {
			if j.Editor != nil {
				fields = append(fields, j.Editor.Fields...)
			}
		})
	}
	for i := range fields {
		if fields[i].At == at && fields[i].Name == name {
			return &fields[i], nil
		}
	}
	return nil, setup.Problems{{Path: at, Value: name, Message: "there is no such field any more",
		Remedy: "open the part again"}}
}

// joints calls see for every joint of a view.
func (v *View) joints(see func(j *Joint)) {
	for i := range v.Blocks {
		block := &v.Blocks[i]
		for _, chain := range block.Chains {
			for k := range chain {
				see(&chain[k])
			}
		}
		if block.Share != nil {
			see(block.Share)
		}
		for _, row := range block.Rows {
			for k := range row.Joints {
				see(&row.Joints[k])
			}
		}
	}
}

// Set gives the patch that sets a field to a value: a test of the id of each list element,
// then what is added, or removed where the value is what the document means when it says
// nothing. It is empty where nothing would change. The value is a number, true or false,
// a text, or the rows of a table as [][]string; an empty text leaves the field out. The
// error is setup.Problems.
func Set(f *Field, value any) ([]edit.Op, error) {
	var ops []edit.Op
	add := func(op, path string, value any) error {
		one := edit.Op{Op: op, Path: path}
		if op != "remove" {
			text, err := json.Marshal(value)
			if err != nil {
				return f.no(fmt.Sprint(value), "is no value", "type another")
			}
			raw := json.RawMessage(text)
			one.Value = &raw
		}
		ops = append(ops, one)
		return nil
	}
	for _, t := range f.Targets {
		to, err := f.inDocument(value, t.Sign)
		if err != nil {
			return nil, err
		}
		if !t.Present && to == nil || (t.Present || f.Kind == OneOf) && f.has(value) {
			continue // what nobody has said is left so where it is what was chosen
		}
		if t.ListID != "" {
			err = add("test", t.IDAt, t.ListID)
		}
		for _, made := range t.Makes {
			err = errors.Join(err, add("add", made.Pointer, made.Value))
		}
		if to == nil {
			err = add("remove", t.Pointer, nil)
		} else if err == nil {
			err = add("add", t.Pointer, to)
		}
		if err != nil {
			return nil, err
		}
	}
	return ops, nil
}

// has tells whether a field has a value already.
func (f *Field) has(value any) bool {
	switch f.Kind {
	case Number:
		return value == f.Value
	case YesNo:
		return value == (f.Value != 0)
	case Rows:
		rows, _ := tableOf(value)
		return slices.EqualFunc(rows, f.Rows, slices.Equal)
	}
	return value == f.Text
}

func (f *Field) no(value, message, remedy string) error {
	path := f.At
	if len(f.Targets) > 0 {
		path = f.Targets[0].Path
	}
	return setup.Problems{{Path: path, Value: value, Message: message, Remedy: remedy}}
}

// inDocument gives what the document gets; nil where it is to say nothing.
func (f *Field) inDocument(value any, sign float64) (any, error) {
	if value == "" {
		return nil, nil
	}
	switch f.Kind {
	case Number:
		v, ok := value.(float64)
		switch {
		case !ok:
			return nil, f.no(fmt.Sprint(value), "is not a number", "type one such as −96")
		case !f.Always && !f.Optional && v == f.Usual:
			return nil, nil
		}
		return v * sign, nil
	case YesNo:
		yes, ok := value.(bool)
		switch {
		case !ok:
			return nil, f.no(fmt.Sprint(value), "is neither yes nor no", "choose one of the two")
		case f.Seed != nil && !yes, f.Seed == nil && !f.Always && yes == (f.Usual != 0):
			return nil, nil
		case f.Seed != nil:
			return f.Seed, nil
		}
		return yes, nil
	case Rows:
		return f.rowsInDocument(value)
	}
	text, ok := value.(string)
	if !ok {
		return nil, f.no(fmt.Sprint(value), "is no text", "choose one of the list, or type it")
	}
	for _, c := range f.Choices {
		if c.Value == text && c.JSON != nil {
			return c.JSON, nil
		}
		if c.Value == text {
			return text, nil
		}
	}
	return f.written(f.Kind, text)
}

// written gives a text that is none of the choices as the document has it.
func (f *Field) written(kind, text string) (any, error) {
	switch kind {
	case Number, Reference:
		if v, ok := words.Number(text); ok {
			return v, nil
		}
	case Written:
		if !json.Valid([]byte(text)) {
			return nil, f.no(text, "is not written as the document has it",
				`write it as JSON, such as {"percent": 5}`)
		}
		return json.RawMessage(text), nil
	}
	return text, nil
}

// rowsInDocument gives a table as the document has it; nil for an empty one that may be
// left out.
func (f *Field) rowsInDocument(value any) (any, error) {
	rows, ok := tableOf(value)
	if !ok {
		return nil, f.no(fmt.Sprint(value), "is no table", "send a list of rows of texts")
	}
	if len(rows) == 0 && !f.Always {
		return nil, nil
	}
	list, groups := []any{}, tracks{}
	for _, row := range rows {
		cells := make([]any, len(f.Columns))
		for i := range f.Columns {
			text := ""
			if i < len(row) {
				text = row[i]
			}
			if text == "" {
				continue
			}
			if at := slices.IndexFunc(f.Columns[i].Choices, func(c Choice) bool {
				return c.Value == text && c.JSON != nil
			}); at >= 0 {
				cells[i] = f.Columns[i].Choices[at].JSON
				continue
			}
			cell, err := f.written(f.Columns[i].Kind, text)
			if err != nil {
				return nil, err
			}
			cells[i] = cell
		}
		switch f.Shape {
		case "plain":
			list = append(list, cells[0])
		case "pairs":
			list = append(list, cells)
		case startShape:
			list = append(list, startEntry(cells))
		case "groups":
			groups.add(fmt.Sprint(cells[0]), cells[1:])
		default:
			one := map[string]any{}
			for i := range cells {
				if cells[i] != nil {
					one[f.Columns[i].Name] = cells[i]
				}
			}
			list = append(list, one)
		}
	}
	if f.Shape == "groups" {
		return groups, nil
	}
	return list, nil
}

// startEntry gives an entry of the start check: a position where one is said, else a range.
func startEntry(cells []any) map[string]any {
	is := cells[1]
	if is == nil {
		from, to := cells[2], cells[3]
		if from == nil {
			from = -100.0
		}
		if to == nil {
			to = 100.0
		}
		is = map[string]any{"from": from, "to": to}
	}
	return map[string]any{"control": cells[0], "is": is}
}

// tableOf gives the rows of a value that came as JSON.
func tableOf(value any) (rows [][]string, ok bool) {
	switch list := value.(type) {
	case [][]string:
		return list, true
	case []any:
		rows = [][]string{}
		for _, one := range list {
			cells, ok := one.([]any)
			if !ok {
				return nil, false
			}
			row := make([]string, len(cells))
			for i, cell := range cells {
				if row[i], ok = cell.(string); !ok {
					return nil, false
				}
			}
			rows = append(rows, row)
		}
		return rows, true
	}
	return nil, false
}

// tracks are rows by their first cell, in the order in which they are met.
type tracks struct {
	names []string
	rows  map[string][][]any
}

func (t *tracks) add(name string, row []any) {
	if t.rows == nil {
		t.rows = map[string][][]any{}
	}
	if _, known := t.rows[name]; !known {
		t.names = append(t.names, name)
	}
	t.rows[name] = append(t.rows[name], row)
}

// MarshalJSON keeps the order.
func (t tracks) MarshalJSON() ([]byte, error) {
	var b strings.Builder
	b.WriteByte('{')
	for i, name := range t.names {
		key, err := json.Marshal(name)
		if err != nil {
			return nil, err
		}
		rows, err := json.Marshal(t.rows[name])
		if err != nil {
			return nil, err
		}
		if i > 0 {
			b.WriteByte(',')
		}
		b.Write(key)
		b.WriteByte(':')
		b.Write(rows)
	}
	b.WriteByte('}')
	return []byte(b.String()), nil
}
