package behave_test

import (
	"fmt"
	"slices"
	"strings"
	"testing"

	"github.com/stretchr/testify/require"
	"pgregory.net/rapid"

	"axtren/core/behave"
	"axtren/core/fill"
	"axtren/core/setup"
	"axtren/core/signal"
)

const benchText = `format: axtren-setup
version: 1
name: Bench
transmitter:
  controls:
    - {id: drive, kind: axis, label: Drive}
    - {id: dial, kind: axis, label: Dial, spring: none}
    - {id: left, kind: switch, label: Left button, positions: [rest, press], spring_to: rest}
    - {id: right, kind: switch, label: Right button, positions: [press, rest], spring_to: rest}
    - {id: lock, kind: switch, label: Lock, positions: [free, locked]}
    - {id: mode, kind: switch, label: Mode, positions: [land, shore, water]}
    - {id: tow, kind: switch, label: Tow lever, positions: [slip, hold, haul], spring_to: hold}
outputs:
  - {id: motor, label: Motor, channel: 1}
  - {id: lamp, label: Lamp, channel: 2}
  - {id: boom, label: Boom, channel: 3}
  - {id: bell, label: Bell, channel: 4}
  - {id: horn, label: Horn, channel: 5}
  - {id: beam, label: Beam, channel: 6}
mixes:
  - {id: go, to: motor, from: drive}
  - {id: alarm, to: bell, from: safe}
logic: [{id: safe, block: and, label: Safe, in: [lock.locked]}]
receivers: [{id: rx, pins: [{pin: 1, channel: 1}, {pin: 2, channel: 2}, {pin: 3, channel: 3}, {pin: 4, channel: 4}, {pin: 5, channel: 5}, {pin: 6, channel: 6}]}]
devices: [{id: de, on: rx.1, kind: esc}, {id: dl, on: rx.2, kind: relay}, {id: ds, on: rx.3, kind: servo}, {id: dh, on: rx.5, kind: relay}, {id: db, on: rx.6, kind: relay}]
`

func benchDoc(t require.TestingT) (*setup.Document, *signal.Program) {
	doc, err := setup.ReadYAML([]byte(benchText))
	require.NoError(t, err)
	return doc, compiled(t, doc)
}

func compiled(t require.TestingT, doc *setup.Document) *signal.Program {
	p, err := signal.Compile(doc.Setup)
	require.NoError(t, err)
	return p
}

// wrote writes a sentence and reads the document again.
func wrote(t require.TestingT, doc *setup.Document, of fill.Filled) (*setup.Document, string) {
	tree, key, said, err := behave.Write(doc, compiled(t, doc), of)
	require.NoError(t, err, "%v", of)
	next, err := setup.FromTree(tree)
	require.NoError(t, err)
	compiled(t, next)
	require.NotEmpty(t, said)
	require.NotRegexp(t, `[a-z]_[a-z]|%!`, said)
	return next, key
}

// ruleOf gives the rule of a key.
func ruleOf(t require.TestingT, doc *setup.Document, key string) behave.Rule {
	rules := behave.Read(doc, compiled(t, doc))
	at := slices.IndexFunc(rules, func(r behave.Rule) bool { return r.Key == key })
	require.GreaterOrEqual(t, at, 0, key)
	return rules[at]
}

// valuesOf are what fills the places of a rule, without what is empty, and without the question of who wins,
// which is answered once.
func valuesOf(places []fill.Place) fill.Values {
	v := fill.Values{}
	for _, place := range places {
		if place.Key == "wins" || len(place.Values) == 0 || len(place.Values) == 1 && place.Values[0] == "" {
			continue
		}
		v[place.Key] = place.Values
	}
	return v
}

// fills draws values for a kind.
func fills(rt *rapid.T, lists map[string][]fill.Choice, kind behave.Kind, as string) fill.Values {
	number := func(least, most int, key string) string {
		return fmt.Sprint(rapid.IntRange(least, most).Draw(rt, as+key))
	}
	truths := []string{"left.press", "not right.press", "tow.haul", "lock.locked", "not mode.shore", "safe", "not safe"}
	v := fill.Values{}
	for _, place := range kind.Places {
		key := place.Key
		if place.Optional && key != "called" && rapid.Bool().Draw(rt, as+key+" left out") {
			continue
		}
		var list []string
		for _, c := range append(place.Choices, lists[place.Of]...) {
			list = append(list, c.Value)
		}
		if place.Of == "truth" || place.From != "" {
			list = []string{""} // drawn below
		}
		switch place.Kind {
		case fill.One:
			v[key] = []string{rapid.SampledFrom(list).Draw(rt, as+key)}
		case fill.Truth:
			v[key] = []string{rapid.SampledFrom(truths).Draw(rt, as+key)}
		case fill.Truths:
			v[key] = rapid.SliceOfNDistinct(rapid.SampledFrom(truths), 1, 4, rapid.ID).Draw(rt, as+key)
		case fill.Number:
			v[key] = []string{number(int(max(place.Least, -100)), int(min(place.Most, 100)), key)}
		case fill.Text:
			v[key] = []string{rapid.SampledFrom([]string{"Water", "Left lamp 2", "Ärger & so"}).Draw(rt, as+key)}
		case fill.Many:
			v[key] = rapid.SliceOfNDistinct(rapid.SampledFrom([]string{"lamp", "boom", "horn", "beam"}), 2, 4,
				rapid.ID).Draw(rt, as+key)
		case fill.Positions:
			for range 3 {
				v[key] = append(v[key], number(-100, 100, key))
			}
		}
	}
	return v
}

// suited makes drawn values fit each other, as a person would.
func suited(rt *rapid.T, kind string, v fill.Values, as string) fill.Values {
	draw := func(key string, from, to int) int { return rapid.IntRange(from, to).Draw(rt, as+key) }
	free := []string{"lamp", "boom", "horn", "beam"}
	switch kind {
	case "click", "steps":
		delete(v, "press_s")
		if v.One("press") != "at_once" {
			v["press_s"] = []string{fill.Figure(float64(draw("press", 1, 9)) / 10)}
		}
	case "beyond":
		delete(v, "to")
		if v.One("of") != "drive" && v.One("of") != "dial" { // what it looks at is not what it moves
			delete(v, "moves")
		}
		v["level"] = []string{fmt.Sprint(draw("level", -60, 60))}
		if v.One("how") == "between" {
			v["to"] = []string{fmt.Sprint(draw("to", 61, 90))}
		}
	}
	switch kind {
	case "click":
		if v.One("cut") == "" {
			v["cut_how"] = []string{"lasts"}
		}
	case "steps":
		if v.One("in") == "" && v.One("down") == "" {
			v["in"] = []string{"left.press"}
		}
		v["steps"] = nil
		n := draw("n", 2, 5)
		for i := range n {
			v["steps"] = append(v["steps"], fmt.Sprint("s", i), fmt.Sprint(draw("step", -150, 150)))
		}
		v["wakes"] = []string{fmt.Sprint("s", draw("first", 0, n-1))}
	case "chooser":
		v["switch"] = []string{rapid.SampledFrom([]string{"lock", "mode"}).Draw(rt, as+"switch")}
		v["own"] = []string{"locked", "Set locked"}
		v["wakes"] = []string{rapid.SampledFrom([]string{"none", "kept", "locked"}).Draw(rt, as+"wakes")}
		if v.One("switch") == "mode" {
			v["own"] = []string{"land", "For land", "water", "For water"}
			v["wakes"] = []string{rapid.SampledFrom([]string{"none", "kept", "land", "water"}).Draw(rt, as+"wakes")}
		}
		if v.One("in") == "lock.locked" || v.One("in") == "not mode.shore" {
			v["in"] = []string{"right.press"}
		}
	case "zones":
		v["zones"] = []string{"Rear", "", fmt.Sprint(draw("a", -90, -50)), "Mid", fmt.Sprint(draw("b", -40, 0)),
			fmt.Sprint(draw("c", 0, 30)), "Front", fmt.Sprint(draw("d", 50, 90)), ""}
		v["of"] = []string{rapid.SampledFrom([]string{"dial", "drive", "boom.asked"}).Draw(rt, as+"of")}
	case "presets", "slots":
		v["to"] = []string{rapid.SampledFrom(free).Draw(rt, as+"to")}
		v["switch"] = []string{rapid.SampledFrom([]string{"mode", "tow"}).Draw(rt, as+"switch")}
		if kind == "slots" {
			v["at"] = nil
			for range draw("n", 2, 6) {
				v["at"] = append(v["at"], fmt.Sprint(draw("at", -100, 100)))
			}
			delete(v, "switch")
		}
	case "held":
		v["to"] = []string{rapid.SampledFrom(free).Draw(rt, as+"to")}
		v["on"], v["off"] = []string{fmt.Sprint(draw("on", -100, 100))}, []string{fmt.Sprint(draw("off", -100, 100))}
	case "stands":
		v["in"] = []string{rapid.SampledFrom([]string{"lock.locked", "not safe", "not left.press"}).Draw(rt, as+"in")}
	case "never":
		v["first"], v["second"] = []string{"motor"}, []string{rapid.SampledFrom(free).Draw(rt, as+"second")}
	case "flashes":
		v["beat"] = nil
		for range draw("n", 1, 5) {
			v["beat"] = append(v["beat"], fmt.Sprint(draw("v", -100, 100)), fill.Figure(float64(draw("s", 1, 20))/10))
		}
	case "moves":
		v["tracks"] = []string{"door", fmt.Sprintf("0 -100, %d 100", draw("d", 1, 5)), "leg",
			fmt.Sprintf("1 %d, %d 40, 9 0", draw("l", -100, 100), draw("m", 2, 8))}
	case "chase":
		v["each"] = []string{fill.Figure(float64(draw("each", 1, 20)) / 10)}
	}
	return v
}

// TestARuleIsWrittenAndReadAgain: what is written is read with the same values; written again with others, it
// is as if it had been written so at first; taken out, the document is as it was.
func TestARuleIsWrittenAndReadAgain(t *testing.T) {
	doc, p := benchDoc(t)
	before := behave.Read(doc, p)
	kinds := behave.Kinds(doc.Setup, p)
	require.Len(t, kinds, 20)
	lists := behave.Lists(doc.Setup)
	for _, kind := range kinds {
		t.Run(kind.Kind, func(t *testing.T) {
			rapid.Check(t, func(rt *rapid.T) {
				first := suited(rt, kind.Kind, fills(rt, lists, kind, "first "), "first ")
				second := suited(rt, kind.Kind, fills(rt, lists, kind, "second "), "second ")
				now, key := wrote(rt, doc, fill.Filled{Kind: kind.Kind, Values: first})
				same(rt, kind.Kind, first, ruleOf(rt, now, key))
				again, key := wrote(rt, now, fill.Filled{Kind: kind.Kind, Was: key, Values: second})
				same(rt, kind.Kind, second, ruleOf(rt, again, key))
				fresh, _ := wrote(rt, doc, fill.Filled{Kind: kind.Kind, Values: second})
				require.Equal(rt, count(fresh), count(again), "nothing is left over")
				require.Equal(rt, sentences(rt, fresh), sentences(rt, again))
				tree, _, err := behave.Remove(again, compiled(rt, again), key, false)
				require.NoError(rt, err)
				gone, err := setup.FromTree(tree)
				require.NoError(rt, err)
				require.Equal(rt, count(doc), count(gone))
				after := behave.Read(gone, compiled(rt, gone))
				require.Equal(rt, before, after)
			})
		})
	}
}

// same compares what was told with what is read.
func same(t require.TestingT, kind string, told fill.Values, r behave.Rule) {
	require.Equal(t, kind, r.Kind)
	want := fill.Values{}
	for key, list := range told {
		if key == "wins" || len(list) == 0 || len(list) == 1 && list[0] == "" {
			continue
		}
		want[key] = slices.Clone(list)
	}
	got := valuesOf(r.Places)
	for _, v := range []fill.Values{want, got} {
		if v["moves"] != nil {
			slices.Sort(v["moves"])
		}
	}
	require.Equal(t, want, got)
}

// count says how many parts of each list a document has.
func count(doc *setup.Document) string {
	s := doc.Setup
	return fmt.Sprint(len(s.Logic), len(s.Steppers), len(s.Sequences), len(s.Patterns), len(s.Announcements),
		len(s.Mixes), len(s.Demands))
}

// sentences says all rules of a document, sorted.
func sentences(t require.TestingT, doc *setup.Document) string {
	var list []string
	for _, r := range behave.Read(doc, compiled(t, doc)) {
		list = append(list, r.Sentence())
	}
	slices.Sort(list)
	return strings.Join(list, "\n")
}

// filled gives a sentence with places, by turns with what fills them.
func filled(kind string, pairs ...string) fill.Filled {
	of := fill.Filled{Kind: kind, Values: fill.Values{}}
	for i := 0; i < len(pairs); i += 2 {
		of.Values[pairs[i]] = append(of.Values[pairs[i]], pairs[i+1])
	}
	return of
}
