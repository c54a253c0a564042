package mixing_test

import (
	"fmt"
	"math"
	"strings"
	"testing"

	"github.com/stretchr/testify/require"
	"pgregory.net/rapid"

	"axtren/core/fill"
	"axtren/core/mixing"
	"axtren/core/setup"
	"axtren/core/signal"
	"axtren/demo"
)

const schemeText = `format: axtren-setup
version: 1
name: All
transmitter:
  controls:
    - {id: ahead, kind: axis, label: Ahead, stick: right, along: y}
    - {id: helm, kind: axis, label: Helm, stick: right, along: x}
    - {id: lift, kind: axis, label: Lift, stick: left, along: y}
    - {id: tilt, kind: axis, label: Tilt, stick: left, along: x}
    - {id: brake, kind: axis, label: Brake, spring: low}
    - {id: dial, kind: axis, label: Dial, spring: none}
    - {id: mode, kind: switch, label: Mode, positions: [road, field, crab, tail]}
outputs:
  - {id: a, label: First, channel: 1}
  - {id: b, label: Second, channel: 2}
  - {id: c, label: Third, channel: 3}
  - {id: d, label: Fourth, channel: 4}
  - {id: e, label: Fifth, channel: 5}
  - {id: f, label: Sixth, channel: 6}
mixes: [{to: d, from: lift}, {to: e, from: tilt}]
receivers: [{id: rx, pins: [{pin: 1, channel: 1}, {pin: 2, channel: 2}, {pin: 3, channel: 3}, {pin: 4, channel: 4}, {pin: 5, channel: 5}, {pin: 6, channel: 6}]}]
stage: {parts: [{part: plane, device: dc}, {part: plane, device: df}]}
devices: [{id: da, on: rx.1, kind: %s}, {id: db, on: rx.2, kind: esc}, {id: dc, on: rx.3, kind: servo}, {id: df, on: rx.6, kind: servo}]
`

func schemeDoc(t require.TestingT, first string) *setup.Document {
	doc, err := setup.ReadYAML(fmt.Appendf(nil, schemeText, first))
	require.NoError(t, err)
	return doc
}

func written2(t require.TestingT, doc *setup.Document, of fill.Filled) *setup.Document {
	tree, said, err := mixing.WriteScheme(doc, of)
	require.NoError(t, err)
	require.NotRegexp(t, `[a-z]_[a-z]|%!`, said)
	next, err := setup.FromTree(tree)
	require.NoError(t, err)
	return next
}

// valuesOf are what fills the places of a scheme.
func valuesOf(of mixing.Scheme) fill.Values {
	v := fill.Values{}
	for _, place := range of.Places {
		v[place.Key] = place.Values
	}
	return v
}

// held plays hands from rest for some seconds, and gives what outputs are asked for, percent.
func held(t require.TestingT, doc *setup.Document, seconds float64,
	hands map[string]float64) map[string]float64 {
	p, err := signal.Compile(doc.Setup)
	require.NoError(t, err)
	st, now := p.PowerOn(), p.Rest()
	p.Step(st, now)
	for id, v := range hands {
		at, ok := p.Hand(id)
		require.True(t, ok)
		now[at] = v
	}
	for range int(seconds * 50) {
		p.Step(st, now)
	}
	asked := map[string]float64{}
	for i, o := range doc.Setup.Outputs {
		asked[string(o.ID)] = math.Round(st.At(p.Routes[i].Asked)*1e6) / 1e6
	}
	return asked
}

// fills gives random values for each kind of scheme.
func fills(rt *rapid.T, kind string) map[string][]string {
	n := func(from, to int, name string) []string {
		return []string{fmt.Sprint(rapid.IntRange(from, to).Draw(rt, name))}
	}
	switch kind {
	case "pump":
		valves := [][]string{{"d"}, {"d", "e"}, {"b", "c", "d", "e"}}
		return map[string][]string{"pump": {"a"}, "valves": rapid.SampledFrom(valves).Draw(rt, "valves"),
			"open": n(1, 90, "open"), "run_on": n(0, 3, "run on"), "power": n(1, 100, "power")}
	case "flow":
		return map[string][]string{"pump": {"a"}, "valves": rapid.SampledFrom([][]string{{"d"}, {"e", "b",
			"d"}}).Draw(rt,
			"valves")}
	case "planes":
		return map[string][]string{"fore": {"c"}, "stern": {"f"}, "stick": {"ahead"}, "share": n(1, 150, "share")}
	case "four_wheel":
		ways := rapid.SliceOfN(rapid.SampledFrom([]string{"front", "against", "along", "rear"}), 4, 4).
			Filter(func(ways []string) bool {
				return strings.Count(strings.Join(ways, ""), "front") < 4 && !only(ways, "rear")
			})
		return map[string][]string{"front": {"a"}, "rear": {"b"}, "steer": {"helm"}, "switch": {"mode"},
			"ways": ways.Draw(rt, "ways"), "share": n(1, 150, "share"), "fade": n(0, 3, "fade")}
	case "screws":
		return map[string][]string{"port": {"a"}, "starboard": {"b"}, "rudder": {"c"}, "ahead": {"ahead"},
			"helm": {"helm"}, "from": n(0, 50, "from"), "help": n(1, 150, "help")}
	case "split":
		return map[string][]string{"front": {"a"}, "rear": {"b"}, "source": {rapid.SampledFrom([]string{"brake",
			"ahead"}).Draw(rt, "source")}, "dial": {"dial"}}
	case "brakes":
		return map[string][]string{"left": {"a"}, "right": {"b"}, "source": {rapid.SampledFrom([]string{"brake",
			"ahead"}).Draw(rt, "source")}, "steer": {"helm"}, "less": n(1, 99, "less")}
	case "dive":
		return map[string][]string{"tank": {"d"}, "planes": rapid.SampledFrom([][]string{{"a"}, {"a",
			"c"}}).Draw(rt,
			"planes"), "blows": n(-100, 99, "blows"), "rise": n(-100, 100, "rise"), "fade": n(0, 3, "fade")}
	}
	return nil
}

func only(ways []string, way string) bool {
	for _, one := range ways {
		if one != way {
			return false
		}
	}
	return true
}

// TestASchemeIsWrittenAndKnownAgain: what is written is found with the same values, and nothing else is
// found;
// another one takes its place; taken apart, the document is what it was.
func TestASchemeIsWrittenAndKnownAgain(t *testing.T) {
	for _, kind := range []string{"pump", "flow", "four_wheel", "screws", "split", "brakes", "planes", "dive"} {
		rapid.Check(t, func(rt *rapid.T) {
			doc := schemeDoc(rt, "esc")
			has, could := mixing.Schemes(doc.Setup)
			require.Empty(rt, has)
			require.Len(rt, could, 9)
			first, second := fills(rt, kind), fills(rt, kind)
			now := written2(rt, doc, fill.Filled{Kind: kind, Values: first})
			has, _ = mixing.Schemes(now.Setup)
			require.Len(rt, has, 1)
			require.Equal(rt, kind, has[0].Kind)
			require.Equal(rt, fill.Values(first), valuesOf(has[0]))

			again := written2(rt, now, fill.Filled{Kind: kind, Was: has[0].Key, Values: second})
			has, _ = mixing.Schemes(again.Setup)
			require.Len(rt, has, 1)
			require.Equal(rt, fill.Values(second), valuesOf(has[0]))
			require.Equal(rt, string(written2(rt, doc, fill.Filled{Kind: kind,
				Values: second}).Tree.JSON()), string(again.Tree.JSON()),
				"as if it had been written at once")

			tree, said, err := mixing.RemoveScheme(again, has[0].Key)
			require.NoError(rt, err)
			require.Contains(rt, said, "taken apart")
			back, err := setup.FromTree(tree)
			require.NoError(rt, err)
			has, _ = mixing.Schemes(back.Setup)
			require.Empty(rt, has)
			require.Empty(rt, back.Setup.Logic)
			require.Empty(rt, back.Setup.Demands)
			if kind != "screws" { // its rudder stays with the helm
				require.Len(rt, back.Setup.Mixes, 2)
			}
		})
	}
}

// TestAPumpOnDemand: worked by hand: it stands where its device stands, runs at its power while a valve is
// open either way, and so long after.
func TestAPumpOnDemand(t *testing.T) {
	for device, off := range map[string]float64{"pump": -100,
		"esc, learned_us: {neutral: 1000, high: 2000}, reverse: none": -100,
		"esc": 0, "pump, turns_on: below": 100} {
		doc := written2(t, schemeDoc(t, device), fill.Filled{Kind: "pump",
			Values: map[string][]string{"pump": {"a"},
				"valves": {"d", "e"}, "open": {"10"}, "run_on": {"2"}, "power": {"80"}}})
		on := 80.0
		if off == 100 {
			on = -80
		}
		for _, hands := range []struct {
			lift, tilt, want float64
		}{{0, 0, off}, {9, -9, off}, {11, 0, on}, {0, -50, on}, {100, 100, on}} {
			require.InDelta(t, hands.want, held(t, doc, 1, map[string]float64{"lift": hands.lift,
				"tilt": hands.tilt})["a"],
				1e-6, "%s at %v", device, hands)
		}
		p, err := signal.Compile(doc.Setup)
		require.NoError(t, err)
		st, hands := p.PowerOn(), p.Rest()
		p.Step(st, hands)
		lift, _ := p.Hand("lift")
		hands[lift] = 100
		p.Step(st, hands)
		hands[lift] = 0
		for frame := 1; frame <= 120; frame++ {
			p.Step(st, hands)
			want := on
			if frame > 100 { // two seconds of 20 ms
				want = off
			}
			require.InDelta(t, want, st.At(p.Routes[0].Asked), 1e-6, "frame %d", frame)
		}
	}
}

// TestAPumpThatGivesAsMuch: as fast as the widest valve is open, from where its device stands.
func TestAPumpThatGivesAsMuch(t *testing.T) {
	for device, want := range map[string][2]float64{"pump": {-100, 20}, "esc": {0, 60},
		"pump, turns_on: below": {100, -20}} {
		doc := written2(t, schemeDoc(t, device), fill.Filled{Kind: "flow",
			Values: map[string][]string{"pump": {"a"},
				"valves": {"d", "e"}}})
		require.InDelta(t, want[0], held(t, doc, 1, nil)["a"], 1e-6, device)
		require.InDelta(t, want[1], held(t, doc, 1, map[string]float64{"lift": 30, "tilt": -60})["a"], 1e-6, device)
	}
}

// TestFourWheels: each position steers as it says.
func TestFourWheels(t *testing.T) {
	doc := written2(t, schemeDoc(t, "servo"), fill.Filled{Kind: "four_wheel",
		Values: map[string][]string{"front": {"a"},
			"rear": {"b"}, "steer": {"helm"}, "switch": {"mode"}, "ways": {"front", "against", "along", "rear"},
			"share": {"80"}, "fade": {"0.5"}}})
	for position, want := range [][2]float64{{50, 0}, {50, -40}, {50, 40}, {0, -40}} {
		got := held(t, doc, 2, map[string]float64{"helm": 50, "mode": float64(position)})
		require.InDeltaSlice(t, want[:], []float64{got["a"], got["b"]}, 1e-6)
	}
}

// TestScrewsThatHelp: the rudder follows the helm; beyond 20 of it the screws help, by 50 at its end.
func TestScrewsThatHelp(t *testing.T) {
	doc := written2(t, schemeDoc(t, "esc"), fill.Filled{Kind: "screws",
		Values: map[string][]string{"port": {"a"},
			"starboard": {"b"}, "rudder": {"c"}, "ahead": {"ahead"}, "helm": {"helm"}, "from": {"20"},
			"help": {"50"}}})
	for _, c := range []struct{ ahead, helm, port, starboard float64 }{{40, 0, 40, 40}, {40, 20, 40, 40},
		{0, 100, 50, -50}, {40, 60, 65, 15}, {0, -60, -25, 25}} {
		got := held(t, doc, 1, map[string]float64{"ahead": c.ahead, "helm": c.helm})
		require.InDeltaSlice(t, []float64{c.port, c.starboard, c.helm}, []float64{got["a"], got["b"],
			got["c"]}, 1e-6)
	}
}

// TestSharedOut: by a dial, of a throttle that rests in its middle and of a brake that rests at its low
// end; by what steers, of two brakes.
func TestSharedOut(t *testing.T) {
	split := func(source string) *setup.Document {
		return written2(t, schemeDoc(t, "esc"), fill.Filled{Kind: "split",
			Values: map[string][]string{"front": {"a"},
				"rear": {"b"}, "source": {source}, "dial": {"dial"}}})
	}
	for _, c := range []struct{ dial, front, rear float64 }{{-100, 1, 0}, {-50, 1, 0.5}, {0, 1, 1}, {50, 0.5, 1},
		{100, 0, 1}} {
		for _, x := range []float64{-80, 0, 60} {
			got := held(t, split("ahead"), 1, map[string]float64{"ahead": x, "dial": c.dial})
			require.InDeltaSlice(t, []float64{x * c.front, x * c.rear}, []float64{got["a"], got["b"]}, 1e-6)
		}
		for _, x := range []float64{-100, -20, 100} {
			got := held(t, split("brake"), 1, map[string]float64{"brake": x, "dial": c.dial})
			require.InDeltaSlice(t, []float64{(x+100)*c.front - 100, (x+100)*c.rear - 100}, []float64{got["a"],
				got["b"]}, 1e-6, "it is let go at −100")
		}
	}
	doc := written2(t, schemeDoc(t, "servo"), fill.Filled{Kind: "brakes",
		Values: map[string][]string{"left": {"a"},
			"right": {"b"}, "source": {"brake"}, "steer": {"helm"}, "less": {"60"}}})
	for _, c := range []struct{ helm, left, right float64 }{{0, 100, 100}, {100, -20, 100}, {-100, 100, -20},
		{50, 40, 100}} {
		got := held(t, doc, 1, map[string]float64{"brake": 100, "helm": c.helm})
		require.InDeltaSlice(t, []float64{c.left, c.right}, []float64{got["a"], got["b"]}, 1e-6)
	}
}

// TestPlanesThatRise: while the tank is asked to blow they go to rise, whatever the stick asks, and come
// back.
func TestPlanesThatRise(t *testing.T) {
	doc := schemeDoc(t, "servo")
	tree, err := doc.Tree.Set("/mixes/1/to", setup.TextNode("a"))
	require.NoError(t, err)
	doc, err = setup.FromTree(tree)
	require.NoError(t, err)
	doc = written2(t, doc, fill.Filled{Kind: "dive", Values: map[string][]string{"tank": {"d"},
		"planes": {"a"},
		"blows":  {"-50"}, "rise": {"90"}, "fade": {"1"}}})
	for _, c := range []struct{ tank, stick, plane float64 }{{0, -70, -70}, {-40, -70, -70}, {-60, -70, 90},
		{-100, 30, 90}} {
		require.InDelta(t, c.plane, held(t, doc, 2, map[string]float64{"lift": c.tank, "tilt": c.stick})["a"], 1e-6)
	}
}

// TestTurningOnTheSpot: held back while the drive is in its middle, and known again; taken apart, it turns
// as it did. A feel that the turn has keeps what else is in it.
func TestTurningOnTheSpot(t *testing.T) {
	yard, err := demo.Yard()
	require.NoError(t, err)
	var doc *setup.Document
	for _, m := range yard {
		if m.Doc.Setup.Name == "Stoat" {
			doc = m.Doc
		}
	}
	turns := func(doc *setup.Document, drive float64) float64 {
		got := held(t, doc, 1, map[string]float64{"drive": drive, "turn": 50})
		return got["port_track"] - got["starboard_track"]
	}
	pair := "port_track starboard_track"
	at := func(left string) fill.Filled {
		return fill.Filled{Kind: "pivot", Values: map[string][]string{"pair": {pair}, "near": {"10"},
			"left": {left}}}
	}
	now := written2(t, doc, at("30"))
	require.InDelta(t, 0.3*turns(doc, 0), turns(now, 0), 1e-6)
	require.InDelta(t, 0.3*turns(doc, 9), turns(now, 9), 1e-6)
	require.InDelta(t, turns(doc, 40), turns(now, 40), 1e-6)
	find := func(doc *setup.Document) (list []mixing.Scheme) {
		has, _ := mixing.Schemes(doc.Setup)
		for _, one := range has {
			if one.Kind == "pivot" {
				list = append(list, one)
			}
		}
		return list
	}
	require.Empty(t, find(doc))
	found := find(now)
	require.Len(t, found, 1)
	require.Equal(t, at("30").Values, valuesOf(found[0]))
	again := at("0")
	again.Was = found[0].Key
	never := written2(t, now, again)
	require.InDelta(t, 0, turns(never, 0), 1e-6)
	require.Len(t, find(never), 1)
	require.Contains(t, find(never)[0].Says, "do not turn on the spot")
	tree, _, err := mixing.RemoveScheme(never, find(never)[0].Key)
	require.NoError(t, err)
	back, err := setup.FromTree(tree)
	require.NoError(t, err)
	require.InDelta(t, turns(doc, 0), turns(back, 0), 1e-6)
	require.Empty(t, find(back))
	require.Equal(t, len(doc.Setup.Logic), len(back.Setup.Logic))
}

// TestWhatASchemeIsNotTold: each refusal names the place, the value and what to do; nothing is written.
func TestWhatASchemeIsNotTold(t *testing.T) {
	doc := schemeDoc(t, "esc")
	good := map[string][]string{"pump": {"a"}, "valves": {"d"}, "open": {"8"}, "run_on": {"1"}, "power": {"100"}}
	for path, change := range map[string]func(v map[string][]string){
		"scheme.pump":   func(v map[string][]string) { v["pump"] = nil },
		"scheme.valves": func(v map[string][]string) { v["valves"] = []string{"a"} },
		"scheme.open":   func(v map[string][]string) { v["open"] = []string{"91"} },
		"scheme.run_on": func(v map[string][]string) { v["run_on"] = []string{"soon"} },
		"scheme.power":  func(v map[string][]string) { v["power"] = []string{"5", "6"} },
	} {
		v := map[string][]string{}
		for key, list := range good {
			v[key] = list
		}
		change(v)
		_, _, err := mixing.WriteScheme(doc, fill.Filled{Kind: "pump", Values: v})
		require.ErrorContains(t, err, path)
	}
	_, _, err := mixing.WriteScheme(doc, fill.Filled{Kind: "carousel"})
	require.ErrorContains(t, err, "scheme.kind")
	_, _, err = mixing.WriteScheme(doc, fill.Filled{Kind: "pump", Was: "pump:b:d", Values: good})
	require.ErrorContains(t, err, "scheme.was")
	_, _, err = mixing.RemoveScheme(doc, "pump:a:d")
	require.ErrorContains(t, err, "scheme.was")
	_, _, err = mixing.WriteScheme(doc, fill.Filled{Kind: "split", Values: map[string][]string{"front": {"a"},
		"rear": {"b"}, "source": {"dial"}, "dial": {"dial"}}})
	require.ErrorContains(t, err, "is the lever that shares it out already")
	_, _, err = mixing.WriteScheme(doc, fill.Filled{Kind: "four_wheel",
		Values: map[string][]string{"front": {"a"},
			"rear": {"b"}, "steer": {"helm"}, "switch": {"mode"}, "ways": {"front"}, "share": {"80"}, "fade": {"0"}}})
	require.ErrorContains(t, err, "are not the positions of the switch")
}

// TestTheSchemesOfTheDemo: what is found is said in sentences without an id, and can be written anew as it is
// without changing what it does.
func TestTheSchemesOfTheDemo(t *testing.T) {
	yard, err := demo.Yard()
	require.NoError(t, err)
	said := map[string][]string{}
	for _, m := range yard {
		has, could := mixing.Schemes(m.Doc.Setup)
		require.Len(t, could, 9)
		for _, one := range has {
			require.NotRegexp(t, `[a-z]_[a-z]|%!`, one.Says)
			said[m.Doc.Setup.Name] = append(said[m.Doc.Setup.Name], one.Says)
			now := written2(t, m.Doc, fill.Filled{Kind: one.Kind, Was: one.Key, Values: valuesOf(one)})
			for _, hands := range []map[string]float64{{}, {firstAxis(m.Doc.Setup): 70}} {
				require.Equal(t, held(t, m.Doc, 3, hands), held(t, now, 3, hands), one.Says)
			}
		}
	}
	require.Equal(t, map[string][]string{
		"Marram": {"Helm moves Rudder, and Port screw and Starboard screw help by 45 %."},
		"Quill":  {"Dive moves Fore planes, and Stern planes against them by 80 %."},
		"Stoat":  {"Pump runs as fast as the widest of Blade lift and Blade angle is open."},
	}, said)
}

func firstAxis(s *setup.Setup) string {
	for _, c := range s.Transmitter.Controls {
		if c.Axis != nil {
			return string(c.ID)
		}
	}
	return ""
}
