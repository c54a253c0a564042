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
	rules := behave.Read(doc.Setup, compiled(t, doc))
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
	truths := []string{"left.press", "not right.press", "tow.haul", "lock.locked", "not mode.shore",
		"safe", "not safe"}
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
			v["steps"] = append(v["steps"], fmt.Sprint("s", i), fmt.Sprint(40*i-100+draw("step", 0, 39)))
		}
		v["wakes"] = []string{fmt.Sprint("s", draw("first", 0, n-1))}
		v["loss"] = []string{".there"}
		if v["moves"] != nil && as != "first " { // once it is said it is said
			v["loss"] = []string{rapid.SampledFrom([]string{".hold", "s0", "s1"}).Draw(rt, as+"loss")}
		}
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
		v["on"], v["off"] = []string{fmt.Sprint(draw("on", -100, 100))}, []string{fmt.Sprint(draw("off",
			-100, 100))}
	case "stands":
		v["in"] = []string{rapid.SampledFrom([]string{"lock.locked", "not safe",
			"not left.press"}).Draw(rt, as+"in")}
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
	before := behave.Read(doc.Setup, p)
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
				after := behave.Read(gone.Setup, compiled(rt, gone))
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
	for _, r := range behave.Read(doc.Setup, compiled(t, doc)) {
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

// asks plays hands from power-on, a row a frame, and gives what an output is asked for in the last one,
// percent.
func asks(t require.TestingT, doc *setup.Document, output string, rows ...map[string]string) float64 {
	p := compiled(t, doc)
	st, hands := p.PowerOn(), p.Rest()
	p.Step(st, hands)
	for _, row := range rows {
		for id, at := range row {
			hand, ok := p.Hand(id)
			require.True(t, ok)
			v, err := p.HandValue(id, at)
			require.NoError(t, err)
			hands[hand] = v
		}
		p.Step(st, hands)
	}
	return st.At(p.Routes[doc.Setup.Item(setup.ID(output)).Index].Asked)
}

type row = map[string]string

// TestTwoRulesOnOneFunction: it is asked which one wins, and what was answered is what happens.
func TestTwoRulesOnOneFunction(t *testing.T) {
	doc, p := benchDoc(t)
	of := filled("while", "in", "left.press", "how", "and", "moves", "bell")
	_, _, _, err := behave.Write(doc, p, of)
	require.Equal(t, "rule.wins: Bell is moved by Safe already; say which of the two wins", refused(t, err))
	for wins, want := range map[string][4]float64{ // neither, this, the other, both
		"this":  {-100, 100, 100, 100},
		"other": {-100, 100, 100, 100},
		"more":  {-100, 100, 100, 100},
		"added": {-100, 0, 0, 100},
	} {
		of.Values["wins"] = []string{wins}
		now, key := wrote(t, doc, of)
		require.Equal(t, []string{"bell"}, valuesOf(ruleOf(t, now, key).Places)["moves"], wins)
		got := [4]float64{asks(t, now, "bell"), asks(t, now, "bell", row{"left": "press"}),
			asks(t, now, "bell", row{"lock": "locked"}), asks(t, now, "bell", row{"left": "press", "lock": "locked"})}
		require.Equal(t, want, got, wins)
	}
	of = filled("while", "in", "left.press", "how", "and", "moves", "motor")
	_, _, _, err = behave.Write(doc, p, of)
	require.Contains(t, refused(t, err), "Motor is moved by Drive already")
	for wins, want := range map[string][3]float64{ // the lever alone, the button alone, both
		"this": {40, 100, 100}, "other": {40, 100, 40}, "more": {40, 100, 100}, "added": {40, 100, 100},
	} {
		of.Values["wins"] = []string{wins}
		now, _ := wrote(t, doc, of)
		got := [3]float64{asks(t, now, "motor", row{"drive": "40"}), asks(t, now, "motor", row{"left": "press"}),
			asks(t, now, "motor", row{"left": "press", "drive": "40"})}
		require.Equal(t, want, got, wins)
	}
}

// TestNothingActsBeforeItIsFilled: each kind is refused as long as something of it is missing, and says what.
func TestNothingActsBeforeItIsFilled(t *testing.T) {
	doc, p := benchDoc(t)
	for _, kind := range behave.Kinds(doc.Setup, p) {
		_, _, _, err := behave.Write(doc, p, fill.Filled{Kind: kind.Kind, Values: fill.Values{}})
		require.ErrorContains(t, err, "is not chosen yet", kind.Kind)
		said, err := behave.Say(doc, p, fill.Filled{Kind: kind.Kind})
		require.NoError(t, err)
		empty := 0
		for _, piece := range said.Says {
			if piece.Empty {
				empty++
			}
		}
		require.NotZero(t, empty, kind.Kind)
	}
	_, err := behave.Say(doc, p, fill.Filled{Kind: "scheme"})
	require.ErrorContains(t, err, "is no kind of rule")
}

// TestWhatRulesRefuse names the place, the value and the remedy.
func TestWhatRulesRefuse(t *testing.T) {
	doc, p := benchDoc(t)
	for _, one := range []struct {
		of   fill.Filled
		says string
	}{
		{filled("while", "in", "nobody.there", "how", "and"),
			"rule.in: nobody.there is no condition of this model"},
		{filled("while", "in", "drive>130", "how", "and"), "drive>130 is no position of a lever"},
		{filled("delay", "in", "left.press", "for", "-1"),
			"-1 is out of range: how long it must last; use 0 to 3600"},
		{filled("held", "to", "motor", "button", "left"), "rule.to: Motor is moved by Drive already"},
		{filled("held", "to", "lamp", "button", "lock"), "lock cannot be chosen for which button"},
		{filled("presets", "to", "lamp", "switch", "mode", "at", "1", "at", "2"),
			"2 are not the positions of the switch"},
		{filled("never", "first", "lamp", "second", "lamp", "beyond", "8"), "Lamp is the same function"},
		{filled("stands", "to", "lamp", "in", "safe", "at", "0", "fade", "0"), "Safe is on is a rule of its own"},
		{filled("zones", "of", "dial", "margin", "2", "zones", "A", "zones", "", "zones", "10", "zones",
			"B", "zones",
			"5", "zones", ""), "5 overlaps the zone before it"},
		{filled("steps", "in", "left.press", "steps", "a", "steps", "0", "steps", "b", "steps", "high",
			"ends", "round",
			"wakes", "a", "repeat", "0", "press", "at_once", "loss", ".there"), "high is no figure"},
		{filled("steps", "in", "left.press", "steps", "a", "steps", "0", "steps", "b", "steps", "1",
			"ends", "round",
			"wakes", "c", "repeat", "0", "press", "at_once", "loss", ".there"),
			"c cannot be chosen for the first state"},
		{filled("chooser", "switch", "mode", "in", "mode.land", "held", "0", "how", "press", "own",
			"land", "own", "L",
			"wakes", "none"), "Mode is at land is the chooser itself"},
		{filled("chooser", "switch", "mode", "in", "left.press", "held", "0", "how", "press", "own",
			"sea", "own", "L",
			"wakes", "none"), "sea is no position of the chooser"},
		{filled("moves", "in", "left.press", "tracks", "door", "tracks", "0 -100, x", "midway", "finish"),
			"x is no key point"},
		{filled("chase", "in", "left.press", "lamps", "lamp", "each", "1"), "1 are not enough lamps"},
		{filled("beyond", "of", "lamp.asked", "how", "above", "level", "20", "margin", "4", "moves", "lamp"),
			"would go round in a ring"},
		{fill.Filled{Kind: "while", Was: "logic/gone"}, "logic/gone is not in this model any more"},
		{fill.Filled{Kind: "magic"}, "magic is no kind of rule"},
	} {
		_, _, _, err := behave.Write(doc, p, one.of)
		require.Contains(t, refused(t, err), one.says)
	}
}

// refused gives what a page reads of a refusal.
func refused(t require.TestingT, err error) string {
	var problems setup.Problems
	require.ErrorAs(t, err, &problems)
	require.NotEmpty(t, problems[0].Remedy)
	return problems[0].Path + ": " + problems[0].Value + " " + problems[0].Message + "; " + problems[0].Remedy
}

// TestAStepOnALostSignal: the step is where the function goes that the steps move alone, with its own ends
// and direction; another function is left as it is.
func TestAStepOnALostSignal(t *testing.T) {
	doc, err := setup.ReadYAML([]byte(strings.NewReplacer("{id: lamp, label: Lamp, channel: 2}",
		"{id: lamp, label: Lamp, channel: 2, reverse: true, low: -80}").Replace(benchText)))
	require.NoError(t, err)
	of := filled("steps", "in", "left.press", "steps", "dark", "steps", "-100", "steps", "in tow", "steps",
		"100", "ends", "round", "wakes", "dark", "repeat", "0", "press", "at_once", "moves", "lamp",
		"loss", "in tow")
	now, key := wrote(t, doc, of)
	loss := now.Setup.Outputs[1].Loss
	require.NotNil(t, loss)
	require.Equal(t, "preset", loss.Mode)
	require.InDelta(t, -80, *loss.Value, 1e-9, "100 reversed is -100, and the end is -80")
	for i, o := range now.Setup.Outputs {
		require.True(t, i == 1 || o.Loss == nil, "%s", o.ID)
	}
	r := ruleOf(t, now, key)
	require.Contains(t, r.Sentence(), "When the signal is lost, it goes to in tow.")

	of.Was, of.Values["loss"] = key, []string{".hold"}
	held, _ := wrote(t, now, of)
	require.Equal(t, "hold", held.Setup.Outputs[1].Loss.Mode)
	r = ruleOf(t, held, key)
	require.Contains(t, r.Sentence(), "When the signal is lost, it stays as it is.")

	of.Values["loss"] = []string{".there"}
	left, _ := wrote(t, held, of)
	require.Equal(t, "hold", left.Setup.Outputs[1].Loss.Mode, "what Loss and start says is left alone")

	of.Was, of.Values["loss"] = "", []string{"dark"}
	for _, moved := range [][]string{nil, {"motor"}} { // nothing, and what a lever moves too
		of.Values["moves"], of.Values["wins"] = moved, []string{"more"}
		_, _, _, err = behave.Write(doc, compiled(t, doc), of)
		require.ErrorContains(t, err, "needs a function that these steps alone move")
	}
}

// TestALeverAsACondition: a lever that was moved becomes a condition of its own, once.
func TestALeverAsACondition(t *testing.T) {
	doc, _ := benchDoc(t)
	now, key := wrote(t, doc, filled("while", "in", "drive>30", "in", "not dial<-50", "how", "and",
		"moves", "lamp"))
	require.Equal(t, "Rule for Lamp: is on while both Drive above +30 % is on and Dial below −50 % is off.",
		sentence(ruleOf(t, now, key)))
	require.InDelta(t, 100, asks(t, now, "lamp", row{"drive": "31"}), 0)
	require.InDelta(t, -100, asks(t, now, "lamp", row{"drive": "31", "dial": "-60"}), 0)
	again, _ := wrote(t, now, filled("delay", "in", "drive>30", "for", "1"))
	require.Len(t, again.Setup.Logic, len(now.Setup.Logic)+1, "the condition is there already")
}

func sentence(r behave.Rule) string { return r.Sentence() }

// TestARuleThatIsInUse: what names it is told, and goes along where the person says so; what only it used
// goes.
func TestARuleThatIsInUse(t *testing.T) {
	doc, _ := benchDoc(t)
	now, key := wrote(t, doc, filled("click", "called", "Water", "in", "left.press", "cut", "lock.locked",
		"cut_how",
		"moment", "wakes", "off", "press", "apart", "moves", "lamp"))
	require.Len(t, now.Setup.Logic, 4)
	used, _ := wrote(t, now, filled("delay", "called", "Primed", "in", "water", "for", "2", "moves", "horn"))
	_, _, err := behave.Remove(used, compiled(t, used), key, false)
	require.ErrorContains(t, err, "Primed")
	tree, said, err := behave.Remove(used, compiled(t, used), key, true)
	require.NoError(t, err)
	require.Equal(t, "Water: the rule was removed", said)
	gone, err := setup.FromTree(tree)
	require.NoError(t, err)
	require.Equal(t, count(doc), count(gone),
		"the rule that used it, its edge, its pulse and both mixes are gone")
	_, _, err = behave.Remove(doc, compiled(t, doc), "logic/water", true)
	require.ErrorContains(t, err, "is not in this model any more")
}

// TestWhatRefersToARuleGoesOn: a rule that becomes another keeps its id, and what it is called.
func TestWhatRefersToARuleGoesOn(t *testing.T) {
	doc, _ := benchDoc(t)
	now, key := wrote(t, doc, filled("click", "called", "Water", "in", "left.press", "cut_how", "lasts",
		"wakes", "off",
		"press", "at_once", "moves", "lamp"))
	now, _ = wrote(t, now, filled("says", "say", "water", "in", "water", "at_start", "no"))
	of := filled("latch", "called", "Water", "set", "left.press", "reset", "lock.locked", "both", "off",
		"wakes", "on",
		"moves", "lamp")
	of.Was = key
	again, after := wrote(t, now, of)
	require.Equal(t, key, after)
	require.Equal(t, setup.Truth("water"), again.Setup.Announcements[0].When)
	require.InDelta(t, -100, asks(t, again, "lamp", row{"lock": "locked"}), 0)
	require.InDelta(t, 100, asks(t, again, "lamp"), 0)
}

// TestTogetherNever: while the one moves, the other stands.
func TestTogetherNever(t *testing.T) {
	doc, _ := benchDoc(t)
	now, _ := wrote(t, doc, filled("held", "to", "boom", "button", "left", "on", "60", "off", "0"))
	now, _ = wrote(t, now, filled("never", "first", "motor", "second", "boom", "beyond", "8"))
	require.InDelta(t, 60, asks(t, now, "boom", row{"left": "press"}), 0)
	require.InDelta(t, 0, asks(t, now, "boom", row{"left": "press", "drive": "9"}), 0)
	require.InDelta(t, 60, asks(t, now, "boom", row{"left": "press", "drive": "5"}), 0)
}

// TestIds: a rule gets an id of what it is called, whatever letters that has.
func TestIds(t *testing.T) {
	doc, _ := benchDoc(t)
	for called, id := range map[string]string{"A1": "a1", "2 lamps": "lamps", "Übel": "bel", "x - y": "x_y",
		"Left": "left_2", "not": "rule", "ä": "rule"} {
		_, key := wrote(t, doc, filled("once", "called", called, "in", "left.press", "for", "1"))
		require.Equal(t, "logic/"+id, key, called)
	}
}

// TestZonesTouch: zones that touch are two rules, as one place of the lever is in both; a zone of one
// place is a zone.
func TestZonesTouch(t *testing.T) {
	doc, _ := benchDoc(t)
	of := filled("zones", "of", "dial", "margin", "0", "zones", "A", "zones", "", "zones", "-20", "zones", "B",
		"zones", "5", "zones", "5")
	now, key := wrote(t, doc, of)
	require.Equal(t, "zones", ruleOf(t, now, key).Kind)
	text := now.Tree.YAML()
	touching := strings.Replace(string(text), "from: 5", "from: -20", 1)
	require.NotEqual(t, string(text), touching)
	apart, err := setup.ReadYAML([]byte(touching))
	require.NoError(t, err)
	for _, r := range behave.Read(apart.Setup, compiled(t, apart)) {
		require.NotEqual(t, "zones", r.Kind)
	}
}

// TestHalfARow: a draft with half a row is said as far as it is filled.
func TestHalfARow(t *testing.T) {
	doc, p := benchDoc(t)
	said, err := behave.Say(doc, p, filled("moves", "in", "left.press", "tracks", "door", "tracks",
		"0 -100, 2 100",
		"tracks", "leg"))
	require.NoError(t, err)
	require.NotEmpty(t, said.Says)
	_, ok, err := behave.Draw(doc.Setup, p, "logic/nothing")
	require.Error(t, err)
	require.False(t, ok)
}

// TestLampsInTurn: each lamp is lit in its turn, one at a time, and round again.
func TestLampsInTurn(t *testing.T) {
	doc, _ := benchDoc(t)
	now, _ := wrote(t, doc, filled("chase", "in", "lock.locked", "each", "0.2", "lamps", "lamp", "lamps", "boom",
		"lamps", "horn"))
	p := compiled(t, now)
	st, hands := p.PowerOn(), p.Rest()
	hand, _ := p.Hand("lock")
	p.Step(st, hands)
	hands[hand] = 1
	for frame := range 90 { // 20 ms each: ten a lamp
		p.Step(st, hands)
		for turn, output := range []int{1, 2, 4} {
			want := -100.0
			if frame/10%3 == turn {
				want = 100
			}
			require.InDelta(t, want, st.At(p.Routes[output].Asked), 1e-9, "lamp %d, frame %d", turn, frame)
		}
	}
}
