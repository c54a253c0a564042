package setup

import (
	"fmt"
	"math"
	"reflect"
	"slices"
	"strconv"
	"strings"
	"sync"
)

// The decoder fills a Go value from a Node by the tags of its fields: `json`
// gives the name, `jsonschema` the range, the default and the choices. It goes
// on after a mistake, so that all of them are told at once.
type decoder struct {
	problems Problems
	more     int // problems beyond maxProblems
}

// decodes is what a type has that reads more than one shape.
type decodes interface {
	decode(d *decoder, n *Node, path string)
}

// fieldTag is what the tags of one field say.
type fieldTag struct {
	index       []int // of the field, through the structs that are embedded
	name        string
	required    bool
	def         string
	enum        []string
	low, high   float64
	above       float64 // exclusive; NaN where there is none
	least, most int
	unit        string
}

func tagOf(f reflect.StructField) fieldTag {
	t := fieldTag{name: f.Tag.Get("json"), low: math.Inf(-1), high: math.Inf(1), above: math.NaN(), most: 256,
		unit: f.Tag.Get("unit")}
	if list := f.Tag.Get("choices"); list != "" {
		t.enum = choices[list]
	}
	if t.unit == "" {
		t.unit = unitOf(t.name)
	}
	for part := range strings.SplitSeq(f.Tag.Get("jsonschema"), ",") {
		key, value, _ := strings.Cut(part, "=")
		number, _ := strconv.ParseFloat(value, 64)
		switch key {
		case "required":
			t.required = true
		case "default":
			t.def = value
		case "enum":
			t.enum = append(t.enum, value)
		case "minimum":
			t.low = number
		case "maximum":
			t.high = number
		case "exclusiveMinimum":
			t.above = number
		case "minItems":
			t.least = int(number)
		case "maxItems":
			t.most = int(number)
		}
	}
	return t
}

// choices are the longer lists of choices, by the names that the tags of fields have for
// them.
var choices = map[string][]string{
	"shape": {"boat", "submarine", "amphibian", "car", "truck", "cab", "bed", "tracked", "tracks", "house",
		"round", "portal", "tower", "plain"},
	"found":     {"ready", "arm", "direction", "centre", "low", "high", "straight", "learned", "loss"},
	"taught_by": {"button", "held_full", "each_start", "fixed"},
	"found_how": {"measured", "linkage", "learned", "guessed", "link"},
	"water":     {"clear", "hard", "chlorinated", "brackish", "salt"},
	"craft":     {"car", "truck", "tracked", "boat", "submarine", "construction", "amphibian", "other"},
	"combine":   {"add", "times", "instead", "greatest", "least"},
	"reverse":   {"direct", "none", "brake_first"},
	"part": {"hull", "track", "wheel", "axle", "screw", "rudder", "plane", "mast", "door", "leg", "ramp",
		"boom",
		"bucket", "blade", "drum", "pump", "lamp", "horn", "magnet", "hook", "trolley", "monitor", "turret",
		"dial"},
}

// unitOf gives the unit that the name of a field says.
func unitOf(name string) string {
	for _, known := range []struct{ ending, unit string }{{"_mm_s", "mm/s"}, {"_s", "s"}, {"_ms", "ms"},
		{"_us", "µs"}, {"_mm", "mm"}} {
		if strings.HasSuffix(name, known.ending) {
			return known.unit
		}
	}
	return ""
}

func join(path, name string) string {
	if path == "" {
		return shorten(name)
	}
	return path + "." + shorten(name)
}

func (d *decoder) fail(n *Node, path, message, remedy string) {
	if len(d.problems) >= maxProblems {
		d.more++
		return
	}
	d.problems = append(d.problems, Problem{Path: path, Line: n.Line, Value: n.say(), Message: message,
		Remedy: remedy})
}

func (d *decoder) is(n *Node, path string, kind Kind, remedy string) bool {
	if n.Kind != kind {
		d.fail(n, path, "must be "+kind.String(), remedy)
	}
	return n.Kind == kind
}

func (d *decoder) unknown(n *Node, path string, known []string) {
	d.fail(n, path, "there is no such field", "leave it out, or use one of "+strings.Join(known, ", "))
}

func (d *decoder) number(n *Node, path string, low, high float64) float64 {
	return d.tagged(n, path, fieldTag{low: low, high: high, above: math.NaN()})
}

func (d *decoder) whole(n *Node, path string, low, high float64) float64 {
	v := d.number(n, path, low, high)
	if v != math.Trunc(v) {
		d.fail(n, path, "must be a whole number", "leave the part after the point out")
		return 0
	}
	return v
}

func (d *decoder) tagged(n *Node, path string, tag fieldTag) float64 {
	if !d.is(n, path, Number, "write a number without quotes") {
		return 0
	}
	v := n.Float()
	switch {
	case math.IsInf(tag.high, 1) && v < tag.low:
		d.fail(n, path, "must not be below "+formatNumber(tag.low), "use "+formatNumber(tag.low)+" or more")
	case v < tag.low || v > tag.high:
		d.fail(n, path, "is out of range", fmt.Sprintf("use %s to %s", formatNumber(tag.low),
			formatNumber(tag.high)))
	case v <= tag.above:
		d.fail(n, path, "must be above "+formatNumber(tag.above), "use more than "+formatNumber(tag.above))
	}
	return v
}

// into reads n into what target points to.
func (d *decoder) into(n *Node, target any, path string) {
	d.read(n, reflect.ValueOf(target).Elem(), path,
		fieldTag{low: math.Inf(-1), high: math.Inf(1), above: math.NaN(), most: 256})
}

func (d *decoder) read(n *Node, v reflect.Value, path string, tag fieldTag) {
	if own, ok := v.Addr().Interface().(decodes); ok {
		own.decode(d, n, path)
		return
	}
	switch v.Kind() {
	case reflect.Pointer:
		v.Set(reflect.New(v.Type().Elem()))
		d.read(n, v.Elem(), path, tag)
	case reflect.String:
		if d.is(n, path, Text, "write text, in quotes if it looks like a number") {
			d.choice(n, path, tag)
			v.SetString(n.Text)
		}
	case reflect.Bool:
		if d.is(n, path, Bool, "write true or false without quotes") {
			d.choice(n, path, tag)
			v.SetBool(n.Text == "true")
		}
	case reflect.Int:
		number := d.tagged(n, path, tag)
		if n.Kind != Number {
			break
		}
		if number != math.Trunc(number) || math.Abs(number) > 1e15 {
			d.fail(n, path, "must be a whole number", "leave the part after the point out")
		}
		d.choice(n, path, tag)
		v.SetInt(int64(number))
	case reflect.Float64:
		v.SetFloat(d.tagged(n, path, tag))
	case reflect.Slice:
		d.list(n, v, path, tag)
	case reflect.Struct:
		d.group(n, v, path)
	}
}

func (d *decoder) choice(n *Node, path string, tag fieldTag) {
	text := n.Text
	if n.Kind == Number {
		text = formatNumber(n.Float()) // 1.0 is 1
	}
	if tag.enum != nil && !slices.Contains(tag.enum, text) {
		d.fail(n, path, "is not one of the choices", "use "+strings.Join(tag.enum, ", "))
	}
}

func (d *decoder) list(n *Node, v reflect.Value, path string, tag fieldTag) {
	if !d.is(n, path, List, "write a list in [ ]") {
		return
	}
	if len(n.Items) > tag.most {
		d.fail(n, path, fmt.Sprintf("has more than %d entries", tag.most), "leave some out")
		return
	}
	if len(n.Items) < tag.least {
		d.fail(n, path, fmt.Sprintf("needs %d entries or more", tag.least), "add some")
	}
	v.Set(reflect.MakeSlice(v.Type(), len(n.Items), len(n.Items)))
	for i, item := range n.Items {
		d.read(item, v.Index(i), fmt.Sprintf("%s[%d]", path, i), tag)
	}
}

// field is one field of a struct, those of embedded structs included.
type field struct {
	tag   fieldTag
	value reflect.Value
}

func fieldsOf(v reflect.Value) []field {
	tags := tagsOf(v.Type())
	fields := make([]field, len(tags))
	for i := range tags {
		fields[i] = field{tags[i], v.FieldByIndex(tags[i].index)}
	}
	return fields
}

var tagsByType sync.Map // reflect.Type -> []fieldTag

// tagsOf reads the tags of a struct once, those of an embedded struct in its place.
func tagsOf(t reflect.Type) []fieldTag {
	if known, ok := tagsByType.Load(t); ok {
		return known.([]fieldTag)
	}
	var tags []fieldTag
	for _, f := range reflect.VisibleFields(t) {
		if !f.Anonymous && f.Tag.Get("json") != "" {
			tag := tagOf(f)
			tag.index = f.Index
			tags = append(tags, tag)
		}
	}
	tagsByType.Store(t, tags)
	return tags
}

func (d *decoder) group(n *Node, v reflect.Value, path string) {
	if !d.is(n, path, Map, "write a group of fields in { }") {
		return
	}
	tags := tagsOf(v.Type())
	known := make([]string, len(tags))
	for i := range tags {
		known[i] = tags[i].name
	}
	for i, key := range n.Keys {
		at := slices.Index(known, key)
		if at < 0 {
			d.unknown(n.Items[i], join(path, key), known)
			continue
		}
		d.read(n.Items[i], v.FieldByIndex(tags[at].index), join(path, key), tags[at])
	}
	for i := range tags {
		if n.Get(tags[i].name) == nil {
			d.absent(n, field{tags[i], v.FieldByIndex(tags[i].index)}, path)
		}
	}
}

// absent fills in the default of a field that was left out.
func (d *decoder) absent(n *Node, f field, path string) {
	switch v := f.value; {
	case f.tag.required:
		d.fail(&Node{Line: n.Line}, join(path, f.tag.name), "is missing", "add it")
		last := &d.problems[len(d.problems)-1]
		last.Value = ""
	case f.tag.def != "":
		d.read(defaultNode(v.Type(), f.tag.def), v, path, f.tag) // which is good
	case v.Type() == reflect.TypeFor[Gain]():
		v.Set(reflect.ValueOf(Gain{Pos: 100, Neg: 100}))
	case v.Type() == reflect.TypeFor[Pins]():
		v.Set(reflect.ValueOf(Pins{All: true}))
	case v.Type() == reflect.TypeFor[StateAt]():
		v.Set(reflect.ValueOf(StateAt("false")))
	case v.Kind() == reflect.Struct && !v.Addr().Type().Implements(reflect.TypeFor[decodes]()):
		d.group(&Node{Kind: Map, Line: n.Line}, v, join(path, f.tag.name))
	}
}

func defaultNode(t reflect.Type, text string) *Node {
	switch t.Kind() {
	case reflect.Slice:
		return &Node{Kind: List, Items: []*Node{defaultNode(t.Elem(), text)}}
	case reflect.Bool:
		return &Node{Kind: Bool, Text: text}
	case reflect.Int, reflect.Float64:
		return &Node{Kind: Number, Text: text}
	}
	return &Node{Kind: Text, Text: text}
}

// union reads the variant that the field named by key asks for.
func (d *decoder) union(n *Node, path, key string, kinds PartKinds) any {
	if !d.is(n, path, Map, "write a group of fields in { }") {
		return nil
	}
	kind := n.Get(key)
	if kind == nil {
		d.fail(&Node{Kind: Map, Line: n.Line}, join(path, key), "is missing",
			"use one of "+strings.Join(kinds.Keys(), ", "))
		return nil
	}
	if known := kinds.Find(kind.Text); known != nil && kind.Kind == Text {
		spec := known.Spec()
		d.into(n, spec, path)
		return spec
	}
	d.fail(kind, join(path, key), "is not one of the choices", "use one of "+strings.Join(kinds.Keys(), ", "))
	return nil
}

func (c *Control) decode(d *decoder, n *Node, path string) {
	c.ControlHead = new(ControlHead)
	switch spec := d.union(n, path, "kind", Controls).(type) {
	case *Axis:
		c.ControlHead, c.Axis = &spec.ControlHead, spec
	case *Switch:
		c.ControlHead, c.Switch = &spec.ControlHead, spec
	}
}

func (v *Device) decode(d *decoder, n *Node, path string) {
	v.DeviceHead = new(DeviceHead)
	v.Spec = d.union(n, path, "kind", Devices)
	if v.Spec != nil {
		v.DeviceHead = headOf[DeviceHead](v.Spec)
	}
}

func (b *Block) decode(d *decoder, n *Node, path string) {
	b.BlockHead = new(BlockHead)
	b.Spec = d.union(n, path, "block", Blocks)
	if b.Spec != nil {
		b.BlockHead = headOf[BlockHead](b.Spec)
	}
}

// headOf gives the embedded head of a spec: its first field.
func headOf[H any](spec any) *H {
	return reflect.ValueOf(spec).Elem().FieldByName(reflect.TypeFor[H]().Name()).Addr().Interface().(*H)
}
