package words

import (
	"fmt"
	"math"
	"strings"
	"unicode"
	"unicode/utf8"

	"axtren/core/setup"
)

// Truth says a truth reference as people say it: Lamp switch at lit, Hazard
// lamps is off. What leads nowhere is said as it is written.
func Truth(s *setup.Setup, t setup.Truth) string {
	f, err := s.Fact(t)
	if err != nil {
		return string(t)
	}
	if f.Kind == setup.FactPowerOn {
		if f.Not {
			return "any time but the first moment"
		}
		return "the first moment after power-on"
	}
	not := ""
	if f.Not {
		not = "not "
	}
	label := s.Label(f.Item())
	switch f.Kind {
	case setup.FactPosition:
		return label + " " + not + "at " + s.Transmitter.Controls[f.Index].Switch.Positions[f.Sub].Words()
	case setup.FactStep:
		return label + " " + not + "at " + s.Steppers[f.Index].Steps[f.Sub].Name.Words()
	case setup.FactSequence:
		return label + " " + not + setup.SequenceStates[f.Sub]
	}
	if f.Not {
		return label + " is off"
	}
	return label + " is on"
}

// Source says a source as people say it: Right stick, forward; Boom as asked;
// Unfold, leg; a number as it is. What leads nowhere is said as it is written.
func Source(s *setup.Setup, v setup.Value) string {
	src, err := s.Source(v)
	if err != nil {
		return v.String()
	}
	if v.Ref == "" {
		return strings.Replace(v.String(), "-", "−", 1)
	}
	label := s.Label(src.Item())
	switch src.Kind {
	case setup.SourceAsked:
		return label + " as asked"
	case setup.SourceTrack:
		return label + ", " + s.Sequences[src.Index].Tracks[src.Sub].Name.Words()
	}
	return label
}

// Block says what a logic block looks at: set by Key at on; reset by Lamps is on, starts on.
// Values and times are written as a person keys them in.
func Block(s *setup.Setup, b *setup.Block) string {
	said := ""
	for _, clause := range b.PartKind().Clauses(b.Spec) {
		said += strings.ReplaceAll(clause.Text, "%", clauseValue(s, clause))
	}
	return said
}

func clauseValue(s *setup.Setup, clause setup.ClauseValue) string {
	switch v := clause.Value.(type) {
	case setup.Value:
		return Source(s, v)
	case []setup.Truth:
		list := make([]string, len(v))
		for i, t := range v {
			list[i] = Truth(s, t)
		}
		return strings.Join(list, "; ")
	case setup.StateAt:
		return map[setup.StateAt]string{"true": ", starts on", "kept": ", starts as it was left"}[v]
	case float64:
		figure := SignedShort(v)
		if clause.Low == 0 {
			figure = strings.TrimPrefix(figure, "+")
		}
		if clause.Unit != "%" {
			figure += " " + clause.Unit
		}
		return figure
	}
	return fmt.Sprint(clause.Value)
}

// Part says what a part is, and how it is called: mix Stick to Lamp; a function as it is
// called; what must hold as its sentence.
func Part(s *setup.Setup, part setup.Item) string {
	kind, label := Of(setup.ListOf(part.Kind)).Name, s.Label(part)
	switch part.Kind {
	case setup.IsOutput:
		return label
	case setup.IsClaim:
		if s.Claims[part.Index].Label == "" {
			label = Claim(s, &s.Claims[part.Index])
		}
		return kind + ": " + label
	case setup.IsAnnouncement:
		return kind + " “" + s.Announcements[part.Index].Say + "”"
	}
	if strings.HasPrefix(strings.ToLower(label), kind) {
		return label // Rule for Horn is a rule already
	}
	return kind + " " + label
}

// OnOff says a truth of what is switched.
func OnOff(on bool) string {
	if on {
		return "on"
	}
	return "off"
}

// And joins names as a sentence does: a, b and c.
func And(names []string) string {
	last := len(names) - 1
	if last < 1 {
		return strings.Join(names, "")
	}
	return strings.Join(names[:last], ", ") + " and " + names[last]
}

// Count says how many of something there are: no pins, 1 pin, 6 pins.
func Count(n int, one, many string) string {
	switch n {
	case 0:
		return "no " + many
	case 1:
		return "1 " + one
	}
	return fmt.Sprintf("%d %s", n, many)
}

// LongestName bounds what a person calls things by, in letters: more would cover a page.
const LongestName = 120

// Capital begins a text with a large letter.
func Capital(text string) string { return setup.Capital(text) }

// Small begins a text with a small letter, for the middle of a sentence.
func Small(text string) string { return first(text, unicode.ToLower) }

func first(text string, to func(rune) rune) string {
	r, size := utf8.DecodeRuneInString(text)
	if size == 0 {
		return ""
	}
	return string(to(r)) + text[size:]
}

// StartsAt says where a control has to stand before the transmitter sends: locked; −5 to +5.
func StartsAt(e *setup.StartEntry) string {
	if e.Is.Position != "" {
		return e.Is.Position.Words()
	}
	return SignedShort(e.Is.From) + " to " + SignedShort(e.Is.To)
}

// Binding lists what is known of how a receiver is bound, but by what.
func Binding(binds *setup.Binds) []string {
	var list []string
	if binds.First != "" {
		list = append(list, Choice("first", binds.First)+" is switched on first")
	}
	for _, one := range []struct {
		holds *bool
		says  string
	}{{binds.Registers, "the receiver is registered before"}, {binds.Phrase, "both are told the same phrase"},
		{binds.EachMemory, "once for each memory"}} {
		if one.holds != nil && *one.holds {
			list = append(list, one.says)
		}
	}
	if binds.Lamp != "" {
		list = append(list, "its lamp: "+binds.Lamp)
	}
	return list
}

// Moved is the word for what a hand does to an axis: it pushes a stick, and turns a wheel.
func Moved(c *setup.Control) string {
	switch c.Axis.Form {
	case "wheel":
		return "turn"
	case "trigger": // it is pulled as well as pushed
		return "move"
	}
	return "push"
}

// Put says what a hand does to put control i to a value, of an axis percent, of a switch the place of its
// position: push Left stick all the way towards forward, press Horn. at says how it then stands: Left stick
// held all the way towards forward, Horn held.
func Put(s *setup.Setup, i int, v float64) (does, at string) {
	c, name := &s.Transmitter.Controls[i], s.ControlLabel(i)
	if c.Axis != nil {
		if v == 0 {
			return "put " + name + " to the middle", name + " in the middle"
		}
		way := c.Plus
		if v < 0 {
			way = c.Minus
		}
		switch {
		case way == "":
			way = SignedShort(math.Copysign(100, v))
		case c.Stick != "": // which of its two ways is meant is said by where it goes
			name = c.StickWords()
		}
		how := " towards " + way
		switch math.Abs(v) {
		case 100:
			how = " all the way" + how
		case 50:
			how = " half way" + how
		default:
			how = " to " + SignedShort(math.Round(v)) + "," + how
		}
		if !c.Springs() {
			return Moved(c) + " " + name + how, name + how
		}
		return Moved(c) + " " + name + how, name + " held" + how
	}
	position := c.Switch.Positions[int(v)].Words()
	switch springs := c.Switch.SpringTo; {
	case springs != nil && c.Switch.Positions[int(v)] != *springs && len(c.Switch.Positions) == 2:
		return "press " + name, name + " held"
	case springs != nil && c.Switch.Positions[int(v)] != *springs:
		return "hold " + name + " at " + position, name + " held at " + position
	case springs != nil:
		return "let go of " + name, name + " let go"
	}
	return "put " + name + " to " + position, name + " at " + position
}
