package setup

import (
	"fmt"
	"strings"
	"sync"
	"unicode"
	"unicode/utf8"
)

// labels are what the parts of a document are called that have no label of their own,
// worked out when the first of them is asked for.
type labels struct {
	once   sync.Once
	called map[Item]string
}

// Label gives what people call a part of a list: its label, else what it is and does: Left
// stick, up and down; Channel 3; Servo on pin 3; Rule for Horn. Parts that would be called
// alike are numbered.
func (s *Setup) Label(part Item) string {
	id, label := listings[part.Kind].named(s, part.Index)
	if label != "" {
		return label
	}
	if s.labels != nil { // the references are known
		s.labels.once.Do(func() { s.labels.called = s.callAll() })
		if called := s.labels.called[part]; called != "" {
			return called
		}
	}
	return idWords(id)
}

// Named gives what people call the part that has an id; the words of an id that nothing has.
func (s *Setup) Named(id ID) string {
	if part := s.Item(id); part.Kind != 0 {
		return s.Label(part)
	}
	return idWords(id)
}

func idWords(id ID) string { return strings.ReplaceAll(string(id), "_", " ") }

// unlabelled are the kinds of part that are called by what they do, in an order in which
// each is called by those before it only, but for feels, which may count on each other.
var unlabelled = []ItemKind{IsControl, IsReceiver, IsOutput, IsDevice, IsBlock, IsStepper, IsSequence,
	IsPattern, IsDemand, IsMix, IsShare}

// callAll names every part without a label.
func (s *Setup) callAll() map[Item]string {
	n := namer{s, map[Item]string{}, map[string]int{}}
	for _, kind := range unlabelled {
		for i := range listings[kind].count(s) {
			if _, label := listings[kind].named(s, i); label != "" {
				n.taken[label]++
			}
		}
	}
	for _, kind := range unlabelled {
		for i := range listings[kind].count(s) {
			n.name(kind.At(i))
		}
	}
	return n.called
}

type namer struct {
	s      *Setup
	called map[Item]string
	taken  map[string]int // how many parts are called so
}

// name gives what a part is called, and calls it so.
func (n *namer) name(part Item) string {
	if _, label := listings[part.Kind].named(n.s, part.Index); label != "" {
		return label
	}
	if called, known := n.called[part]; known {
		return called
	}
	n.called[part] = "" // a ring of feels comes back here
	text := n.plain(part)
	n.taken[text]++
	if again := n.taken[text]; again > 1 {
		text = fmt.Sprintf("%s (%d)", text, again)
	}
	n.called[part] = text
	return text
}

// plain says what a part is and does.
func (n *namer) plain(part Item) string {
	s := n.s
	switch part.Kind {
	case IsControl:
		return s.controlWords(part.Index)
	case IsReceiver:
		return s.ReceiverLabel(&s.Receivers[part.Index])
	case IsOutput:
		return fmt.Sprintf("Channel %d", s.Outputs[part.Index].Channel)
	case IsDevice:
		return n.device(part.Index)
	case IsBlock:
		return n.acting("Rule", part)
	case IsStepper:
		return n.acting("Steps", part)
	case IsSequence:
		return n.acting("Sequence", part)
	case IsPattern:
		return n.acting("Pattern", part)
	case IsDemand:
		return "Feel of " + n.source(s.Demands[part.Index].From)
	case IsMix:
		m := &s.Mixes[part.Index]
		return Capital(n.source(m.From)) + " to " + n.name(s.Item(m.To))
	case IsShare:
		var names []string
		for _, id := range s.Shares[part.Index].Outputs {
			names = append(names, n.name(s.Item(id)))
		}
		return strings.Join(names, " and ")
	}
	return ""
}

// acting names what decides a function by the nearest one on which it acts.
func (n *namer) acting(word string, part Item) string {
	for _, ahead := range n.s.graph.Ahead(part) {
		if ahead.Kind == IsOutput {
			return word + " for " + n.name(ahead)
		}
	}
	return fmt.Sprintf("%s %d", word, part.Index+1)
}

// source names what a value comes from.
func (n *namer) source(v Value) string {
	src, err := n.s.Source(v)
	if err != nil || src.Kind == SourceNumber {
		return "always " + strings.ReplaceAll(v.String(), "-", "−")
	}
	name := n.name(src.Item())
	switch src.Kind {
	case SourceTrack:
		return name + ", " + n.s.Sequences[src.Index].Tracks[src.Sub].Name.Words()
	case SourceAsked:
		return name + " as asked"
	}
	return name
}

// device names what hangs on a pin, or behind something else.
func (n *namer) device(i int) string {
	d := &n.s.Devices[i]
	name := Capital(d.PartKind().Name)
	if other := n.s.Item(ID(d.On)); other.Kind == IsDevice {
		return name + " behind " + n.name(other)
	}
	return name + " on " + n.s.PinLabel(n.s.DevicePin(i))
}

// controlWords says where a control lies, or which it is of its sort.
func (s *Setup) controlWords(i int) string {
	c := &s.Transmitter.Controls[i]
	switch {
	case c.Axis != nil && c.Axis.Form != "":
		return Capital(c.Axis.Form)
	case c.Stick != "" && c.Along == "x":
		return c.StickWords() + ", left and right"
	case c.Stick != "" && c.Along == "y":
		return c.StickWords() + ", up and down"
	case c.Stick != "":
		return c.StickWords()
	}
	number := 1
	for k := range s.Transmitter.Controls[:i] {
		if s.Transmitter.Controls[k].sort() == c.sort() {
			number++
		}
	}
	return fmt.Sprintf("%s %d", c.sort(), number)
}

// StickWords names the stick on which a control lies: Left stick.
func (c *Control) StickWords() string {
	return Capital(c.Stick.Words()) + " stick"
}

// sort is what a control is called in the hand.
func (c *Control) sort() string {
	switch {
	case c.Stick != "" || c.Axis != nil && c.Axis.Form != "":
		return "" // it is called by where it lies
	case c.Axis != nil:
		return "Lever"
	case c.Switch.SpringTo != nil && len(c.Switch.Positions) == 2:
		return "Button"
	}
	return "Switch"
}

// Capital begins a text with a large letter.
func Capital(text string) string {
	r, size := utf8.DecodeRuneInString(text)
	if size == 0 {
		return ""
	}
	return string(unicode.ToUpper(r)) + text[size:]
}
