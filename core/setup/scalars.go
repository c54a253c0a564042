package setup

import (
	"fmt"
	"math"
	"regexp"
	"slices"
	"strings"
)

// An ID names a part of the document: [a-z][a-z0-9_]{0,31}.
type ID string

// A Name names a position, a step, a track or a stick: 1 to 32 characters
// without dot, comma, space or line break.
type Name string

// A Value refers to a number of the running model: Ref, or Number where Ref is
// empty.
type Value struct {
	Ref    string
	Number float64
}

// String gives the reference as it is written.
func (v Value) String() string {
	if v.Ref != "" {
		return v.Ref
	}
	return formatNumber(v.Number)
}

// A Truth refers to something true or false; "not " before it inverts it.
type Truth string

// Opposite gives the truth that is so when this one is not.
func (t Truth) Opposite() Truth {
	if ref, not := t.Split(); not {
		return Truth(ref)
	}
	return "not " + t
}

// Split takes the "not " off.
func (t Truth) Split() (ref string, not bool) {
	ref, not = strings.CutPrefix(string(t), "not ")
	return ref, not
}

// A Point is a pair of numbers: [x, y], [seconds, percent] or [percent, seconds].
type Point [2]float64

// Gain is the gain of a mix in percent: Pos for a source of 0 and above, Neg
// below. Both are one number in the document where Split is false.
type Gain struct {
	Pos, Neg float64
	Split    bool
}

// Slew is the seconds an output may take from -100 to +100; 0 is at once.
type Slew struct{ Up, Down float64 }

// StateAt is what a latch wakes with: "true", "false" or "kept".
type StateAt string

// Pins are all pins where All, else those of List.
type Pins struct {
	All  bool
	List []int
}

// LeftAt is where a servo was left: unknown where At is nil.
type LeftAt struct{ At *float64 }

var (
	idPattern = regexp.MustCompile(`^[a-z][a-z0-9_]{0,31}$`)
	// every line break that there is
	namePattern = regexp.MustCompile("^[^., \r\n\v\f\u0085\u2028\u2029]{1,32}$")
	takenIDs    = []string{"power_on", "link", "transmitter", "not"}
)

func (id *ID) decode(d *decoder, n *Node, path string) {
	if !d.is(n, path, Text, "write a name such as port_track") {
		return
	}
	if !idPattern.MatchString(n.Text) {
		d.fail(n, path, "this is not a usable id", "use up to 32 of a-z, 0-9 and _, a letter first")
	}
	if slices.Contains(takenIDs, n.Text) {
		d.fail(n, path, "this id is taken", "choose another; "+strings.Join(takenIDs, ", ")+
			" mean something of their own")
	}
	*id = ID(n.Text)
}

func (s *Name) decode(d *decoder, n *Node, path string) {
	if !d.is(n, path, Text, "put it in quotes, so that it is text") {
		return
	}
	if !namePattern.MatchString(n.Text) {
		d.fail(n, path, "this is not a usable name",
			"use 1 to 32 characters without dot, comma, space or line break")
	}
	*s = Name(n.Text)
}

func (v *Value) decode(d *decoder, n *Node, path string) {
	switch n.Kind {
	case Number:
		v.Number = d.number(n, path, -150, 150)
	case Text:
		v.Ref = n.Text
		if n.Text == "" {
			d.fail(n, path, "the reference is empty", "name a control, a demand or a number")
		}
	default:
		d.fail(n, path, "must be a reference or a number", "name a control, a demand or a number")
	}
}

func (t *Truth) decode(d *decoder, n *Node, path string) {
	if d.is(n, path, Text, "write a reference such as deck.up, with `not ` before it to invert it") {
		*t = Truth(n.Text)
	}
}

func (p *Point) decode(d *decoder, n *Node, path string) {
	if n.Kind != List || len(n.Items) != 2 || n.Items[0].Kind != Number || n.Items[1].Kind != Number {
		d.fail(n, path, "must be a pair of numbers", "write [0, 0]")
		return
	}
	p[0], p[1] = n.Items[0].Float(), n.Items[1].Float()
}

func (g *Gain) decode(d *decoder, n *Node, path string) {
	both := struct {
		Pos float64 `json:"pos" jsonschema:"required,minimum=-300,maximum=300"`
		Neg float64 `json:"neg" jsonschema:"required,minimum=-300,maximum=300"`
	}{}
	if n.Kind == Map {
		d.into(n, &both, path)
		*g = Gain{both.Pos, both.Neg, true}
		return
	}
	v := d.number(n, path, -300, 300)
	*g = Gain{Pos: v, Neg: v}
}

func (s *Slew) decode(d *decoder, n *Node, path string) {
	sides := struct {
		Up   float64 `json:"up" jsonschema:"minimum=0"`
		Down float64 `json:"down" jsonschema:"minimum=0"`
	}{}
	if n.Kind == Map {
		d.into(n, &sides, path)
		*s = Slew{sides.Up, sides.Down}
		return
	}
	v := d.number(n, path, 0, math.MaxFloat64)
	*s = Slew{v, v}
}

func (s *StateAt) decode(d *decoder, n *Node, path string) {
	if n.Kind == Bool || n.Kind == Text && n.Text == "kept" {
		*s = StateAt(n.Text)
		return
	}
	d.fail(n, path, "must be true, false or kept", "write true, false or kept")
}

func (p *Pins) decode(d *decoder, n *Node, path string) {
	if n.Kind == Text && n.Text == "all" {
		p.All = true
		return
	}
	if n.Kind != List || len(n.Items) > 256 {
		d.fail(n, path, "must be `all` or a list of pins", "write all, or [3]")
		return
	}
	for i, item := range n.Items {
		p.List = append(p.List, int(d.whole(item, fmt.Sprintf("%s[%d]", path, i), 1, 256)))
	}
}

func (l *LeftAt) decode(d *decoder, n *Node, path string) {
	if n.Kind == Text && n.Text == "unknown" {
		return
	}
	v := d.number(n, path, -150, 150)
	l.At = &v
}

func (t *Tracks) decode(d *decoder, n *Node, path string) {
	if !d.is(n, path, Map, "write {door: [[0, -100], [1.5, 100]]}") {
		return
	}
	if len(n.Keys) > 256 {
		d.fail(n, path, "has more than 256 tracks", "leave some out")
		return
	}
	for i, key := range n.Keys {
		track, at := Track{Name: Name(key)}, join(path, key)
		if !namePattern.MatchString(key) {
			d.fail(n.Items[i], at, "this is not a usable name",
				"use 1 to 32 characters without dot, comma, space or line break")
		}
		d.into(n.Items[i], &track.Keys, at)
		*t = append(*t, track)
	}
}

func (c *Condition) decode(d *decoder, n *Node, path string) {
	if n.Kind == Text {
		c.Truth = Truth(n.Text)
		return
	}
	type fields Condition // without its decode
	d.into(n, (*fields)(c), path)
}

func (is *Is) decode(d *decoder, n *Node, path string) {
	if n.Kind == Text {
		is.Position.decode(d, n, path)
		return
	}
	type fields Is
	d.into(n, (*fields)(is), path)
}

func (m *Menu) decode(d *decoder, n *Node, path string) {
	if n.Kind != Map || n.Get("else") == nil {
		m.Else.decode(d, n, path)
		return
	}
	for i, key := range n.Keys {
		switch key {
		case "else":
			m.Else.decode(d, n.Items[i], join(path, key))
		case "channels":
			m.channels(d, n.Items[i], join(path, key))
		default:
			d.unknown(n.Items[i], join(path, key), []string{"else", "channels"})
		}
	}
}

func (m *Menu) channels(d *decoder, n *Node, path string) {
	if !d.is(n, path, Map, "write {3: span}") {
		return
	}
	for i, key := range n.Keys {
		c := ChannelScale{}
		if _, err := fmt.Sscanf(key, "%d", &c.Channel); err != nil || !isIndex(key) || c.Channel < 1 ||
			c.Channel > 48 {
			d.fail(n.Items[i], join(path, key), "this is not a channel", "use a channel of 1 to 48")
		}
		c.Scale.decode(d, n.Items[i], join(path, key))
		m.Channels = append(m.Channels, c)
	}
}

func (s *Scale) decode(d *decoder, n *Node, path string) {
	words := []string{"percent", "span", "magnitude", "us"}
	if n.Kind == Text && slices.Contains(words, n.Text) {
		s.Word = n.Text
		return
	}
	if n.Kind == Map && len(n.Keys) == 1 {
		switch at := join(path, n.Keys[0]); n.Keys[0] {
		case "step":
			s.Step = d.number(n.Items[0], at, 1e-6, 150)
			return
		case "bits":
			s.Bits = int(d.whole(n.Items[0], at, 1, 24))
			return
		}
	}
	d.fail(n, path, "must be a scale", "write "+strings.Join(words, ", ")+", {step: 2.5} or {bits: 10}")
}
