package sheet

import (
	"fmt"
	"slices"
	"strings"

	"axtren/core/words"
)

// asFresh is what a memory has before anything is keyed in, by section: what stays so is
// said in one line.
var asFresh = map[string]struct{ what, value string }{
	"direction": {"all other directions", "normal"},
	"ends":      {"all other ends", "100"},
}

// Fresh gives the shorter sheet for a memory in which nothing has been keyed in yet: what
// such a memory has by itself is one line, and what is keyed in in one go is one thing.
func (sh *Sheet) Fresh() *Sheet {
	now := *sh
	now.Short, now.Sections = true, []Section{}
	now.Only = "From a fresh memory of this transmitter: only what differs from what it has by itself."
	pins := map[string]string{} // of the outputs whose channel is made by mixes
	for _, sec := range sh.Sections {
		if sec.Key == triedKey {
			continue // nothing of it is keyed in
		}
		if sec.Key == "channels" {
			sec = sec.byMixes(pins)
		}
		short := sec
		short.Items = nil
		left := 0
		for _, it := range sec.Items {
			if it.usual {
				left++
				continue
			}
			short.join(it)
		}
		if rest, ok := asFresh[sec.Key]; ok && left > 0 {
			what := rest.what
			if short.Items == nil {
				what = strings.Replace(what, "all other", "all", 1)
			}
			short.Items = append(short.Items, Item{part: "rest", field: sec.Key, What: what, Value: rest.value})
		}
		switch sec.Key {
		case shownKey:
			short.countsOnce(displayCounts)
		case lossKey:
			short.countsOnce(menuCounts)
		}
		for i := range short.Items {
			if more := pins[short.Items[i].Line]; more != "" && sec.Key == "mixes" {
				short.Items[i].note(more)
			}
		}
		now.add(short)
	}
	return &now
}

// byMixes leaves out of the channels those that are made by mixes, and says so in one line;
// their pins go to where the mixes are.
func (sec Section) byMixes(pins map[string]string) Section {
	var numbers []string
	sec.Items = slices.DeleteFunc(slices.Clone(sec.Items), func(it Item) bool {
		if it.Value != made {
			return false
		}
		numbers = append(numbers, fmt.Sprint(it.Channel))
		pins[it.Line] = it.Note
		return true
	})
	switch len(numbers) {
	case 0:
	case 1:
		sec.Note += " Channel " + numbers[0] + " is made by mixes: give it no control."
	default:
		sec.Note += " Channels " + words.And(numbers) + " are made by mixes: give them no control."
	}
	return sec
}

// join puts a thing on a section, into the one before it that is keyed in together with it.
func (sec *Section) join(it Item) {
	if it.group == "" {
		sec.Items = append(sec.Items, it)
		return
	}
	says := strings.TrimSpace(it.detail + " " + it.Value)
	if sec.Key == "mixes" && it.Note != "" { // of this mix alone
		says += " (" + it.Note + ")"
		it.Note = ""
	}
	if sec.Key == "ends" && it.US != "" {
		says += " (" + it.US + " µs)"
		it.US = ""
	}
	for i := range sec.Items {
		own := &sec.Items[i]
		if own.group != it.group {
			continue
		}
		if sec.Key == lossKey { // the same for several functions
			own.What += ", " + it.name
			own.Channel = 0
			return
		}
		if sec.Key == shownKey && own.sub == it.sub {
			own.Value += ", " + says
		} else {
			own.Value += "; " + strings.TrimSpace(it.subWords()+says)
		}
		own.sub = it.sub
		if it.Note != "" && it.Note != own.Note {
			own.note(it.Note)
		}
		return
	}
	it.What, it.Value, it.field = it.name, strings.TrimSpace(it.subWords()+says), "all"
	if sec.Key == shownKey {
		it.Channel, it.US = 0, ""
	}
	sec.Items = append(sec.Items, it)
}

// countsOnce says once in which scale a section counts, where that is the same for all: how
// is how that begins.
func (sec *Section) countsOnce(how string) {
	counts := ""
	for i := range sec.Items {
		note := sec.Items[i].Note
		if note == "" && how == menuCounts { // a loss that is no position has no scale
			continue
		}
		own, _, _ := strings.Cut(note, ";")
		if !strings.HasPrefix(own, how) || counts != "" && own != counts || strings.Count(note, how) > 1 {
			return
		}
		counts = own
	}
	if counts == "" {
		return
	}
	sec.Note += " " + words.Capital(map[string]string{displayCounts: "the "}[how]+counts) + "."
	for i := range sec.Items {
		sec.Items[i].Note = strings.TrimPrefix(strings.TrimPrefix(sec.Items[i].Note, counts), "; ")
	}
}

// subWords says in which way of its control a thing holds: ahead: ...
func (it *Item) subWords() string {
	if it.sub == "" {
		return ""
	}
	return it.sub + ": "
}

// note adds to what is said of a thing.
func (it *Item) note(more string) {
	if strings.Contains(it.Note, more) {
		return
	}
	it.Note = strings.TrimPrefix(it.Note+"; "+more, "; ")
}

// plainChoice tells whether mix k is no more than the choice of a control for its channel.
func (b *builder) plainChoice(k int) bool {
	m := &b.s.Mixes[k]
	out := b.s.Item(m.To).Index
	return m.Gain.Pos == 100 && !m.Gain.Split && m.Combine == "add" && b.s.ControlBehind(m.From) >= 0 &&
		b.control(&b.s.Outputs[out]) != made
}
