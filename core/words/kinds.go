// Package words is the one vocabulary of the project: what each kind of part, block and
// device, each field and choice and each way of combining is called, and how a reference
// is said in a sentence. Everything that is read by a person takes its words from here,
// and the page is sent them.
package words

import (
	"strings"

	"axtren/core/setup"
)

// Kind is what a kind of part, block or device is called.
type Kind struct {
	Key  string // as the document writes it: outputs, r_trig, esc
	Name string // one of them: line, speed controller
	Many string // more than one; empty where only one is ever spoken of
	Does string // what it is for, in one sentence without a stop; empty where the name says it
}

// Parts are the lists of a document that hold parts, in the order in which they are shown.
var Parts = []Kind{
	{"controls", "control", "controls", ""},
	{"receivers", "receiver", "receivers", "what it can do when the signal is lost, and what its pins carry"},
	{"devices", "device", "devices", ""},
	{"demands", "feel", "feels", ""},
	{"logic", "rule", "rules", ""},
	{"steppers", "steps", "steps", "goes from step to step on presses, and holds where it stands"},
	{"sequences", "sequence", "sequences", "moves several things together along time"},
	{"patterns", "pattern", "patterns", "plays its steps over and over while it may"},
	{"mixes", "mix", "mixes", "brings one source to one function"},
	{"shares", "shared limit", "shared limits", "what happens when these functions together ask for too much"},
	{"outputs", "function", "functions", ""},
	{"announcements", "announcement", "announcements",
		"what the transmitter says when something becomes true"},
	{"claims", "what must hold", "what must hold", "what must always hold"},
}

// kindsOf gives the words of the kinds of a list of parts.
func kindsOf(kinds setup.PartKinds) []Kind {
	list := make([]Kind, len(kinds))
	for i, k := range kinds {
		list[i] = Kind{k.Key, k.Name, k.Many, k.Does}
	}
	return list
}

// Kinds gives the words for the kinds of a list of parts: logic, devices or controls; none
// where its parts are all of one kind.
func Kinds(list string) []Kind { return kindsOf(setup.KindsOf(list)) }

// groups are what of a setup is no part of a list.
var groups = []Kind{
	{"link", "link", "",
		"the order of the channels and what an add-on module makes of them; leave it alone where the " +
			"transmitter and the receiver are one make"},
	{"transmitter", "transmitter", "",
		"what the transmitter can do shapes the sheet; leave open what you do not know"},
	{"craft", "model", "", ""},
	{"stand", "what was found on the stand", "", "how each end, centre and direction was found, and when"},
	{"under", "going under", "",
		"how far down the radio reaches, and how deep the boat gets before it comes back; " +
			"say what you know, and ranges where you are not sure"},
	{"wiring", "feeds and leads", "", "what feeds each receiver, and what is known of the leads"},
}

var byKey = func() map[string]Kind {
	all := map[string]Kind{}
	for _, kinds := range [][]Kind{Parts, Kinds("logic"), Kinds("devices"), Kinds("controls"), groups} {
		for _, k := range kinds {
			all[k.Key] = k
		}
	}
	return all
}()

// Of gives the words for a kind by its key; a key without words is called as it is
// written.
func Of(key string) Kind {
	if k, ok := byKey[key]; ok {
		return k
	}
	return Kind{Key: key, Name: strings.ReplaceAll(key, "_", " ")}
}

// IsPart tells whether a list holds parts.
func IsPart(list string) bool {
	for _, k := range Parts {
		if k.Key == list {
			return true
		}
	}
	return false
}

// Way is how a mix combines with those before it, or what a shape leaves of a source, or
// what a share does.
type Way struct {
	Key   string
	Name  string // added, multiplied
	Joins string // between what is there and a source: × Ground; empty where it is never said
	Does  string // of a mix: multiplies what comes before it; of a rule: what comes of it
}

// Combines are the ways to combine.
var Combines = []Way{
	{"add", "added", "plus", "is added to what comes before it"},
	{"times", "multiplied", "times", "multiplies what comes before it"},
	{"instead", "instead of the others", "or instead", "takes the place of what comes before it"},
	{"greatest", "the greater", "or the greater of", "counts where it is the greater"},
	{"least", "the smaller", "or the smaller of", "counts where it is the smaller"},
}

// Shapes are what is left of a source.
var Shapes = []Way{
	{"plain", "as it is", "", ""},
	{"abs", "either way counts", "", ""},
	{"up", "only above 0", "", ""},
	{"down", "only below 0", "", ""},
}

// Rules are what a share does when its lines ask for too much.
var Rules = []Way{
	{"clip", "each is cut alone", "", "at full speed it turns less, or not at all"},
	{"scale", "all come down together", "", "the way stays, the speed does not"},
	{"keep_turn", "the turn is kept", "", "forward gives way: it still turns at full speed"},
}

// WayOf gives the words for one of some ways; a key without words is called as it is
// written.
func WayOf(ways []Way, key string) Way {
	for _, w := range ways {
		if w.Key == key {
			return w
		}
	}
	return Way{Key: key, Name: key}
}
