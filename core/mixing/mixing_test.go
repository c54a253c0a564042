package mixing_test

import (
	"fmt"
	"math/big"
	"regexp"
	"strconv"
	"strings"
	"testing"

	"github.com/stretchr/testify/require"
	"pgregory.net/rapid"

	"axtren/core/mixing"
	"axtren/core/setup"
	"axtren/core/signal"
	"axtren/demo"
)

const pair = `format: axtren-setup
version: 1
transmitter:
  controls:
    - {id: d, label: d, kind: axis, along: y, stick: right}
    - {id: t, label: t, kind: axis, along: x, stick: right}
    - {id: l, label: l, kind: axis, along: y, stick: left}
    - {id: r, label: r, kind: axis, along: x, stick: left}
demands: [{id: soft, from: d, expo: 30}]
%s
outputs: [{id: a, label: Left track, channel: 1, low: -90, high: 80, centre: 2},
    {id: b, label: Right track, channel: 2, reverse: %t, low: -85, high: 95, centre: -3}]
receivers: [{id: rx, pins: [{pin: 1, channel: 1}, {pin: 2, channel: 2}]}]
devices: [{id: one, on: rx.1, kind: esc}, {id: two, on: rx.2, kind: esc}]
`

func read(t require.TestingT, mixes string, reverse bool) *setup.Document {
	doc, err := setup.ReadYAML([]byte(fmt.Sprintf(pair, mixes, reverse)))
	require.NoError(t, err)
	return doc
}

// TestAWayIsWrittenAndKnownAgain: whatever is chosen is found again, and what else
// the document has is left as it was.
func TestAWayIsWrittenAndKnownAgain(t *testing.T) {
	rapid.Check(t, func(rt *rapid.T) {
		doc := read(rt,
			"mixes: [{id: old, to: a, from: d, shape: abs}, {id: keep, to: b, from: soft, gain: 40, label: "+
				"mine}]", false)
		gain := rapid.IntRange(1, 150)
		c := mixing.Choice{Way: rapid.SampledFrom([]string{mixing.OneStick, mixing.Levers,
			mixing.Both}).Draw(rt, "way"), Drive: "soft", Turn: "t", Left: "l", Right: "r",
			DriveGain: float64(gain.Draw(rt, "drive")), TurnGain: float64(gain.Draw(rt, "turn")),
			LeverGain: float64(gain.Draw(rt, "lever")), DriveSoft: 30,
			Rule: rapid.SampledFrom([]string{"", "clip", "scale", "keep_turn"}).Draw(rt, "rule")}
		tree, err := mixing.Write(doc, "a", "b", c)
		require.NoError(rt, err)
		after, err := setup.FromTree(tree)
		require.NoError(rt, err)
		if c.Way == mixing.Levers && c.Rule == "" {
			require.Empty(rt, mixing.Find(after.Setup), "two lines without anything in common are no pair")
			return
		}
		found := mixing.Find(after.Setup)
		require.Len(rt, found, 1)
		got := found[0].Choice
		require.Equal(rt, c.Way, got.Way)
		require.Equal(rt, c.Rule, got.Rule)
		if c.Way != mixing.Levers {
			require.Equal(rt, [4]any{"soft", "t", c.DriveGain, c.TurnGain},
				[4]any{got.Drive, got.Turn, got.DriveGain, got.TurnGain})
			require.Equal(rt, "mine",
				tree.Get("mixes").Items[len(tree.Get("mixes").Items)-countOf(c)].Get("label").Text,
				"a mix that is wanted again keeps its label")
		}
		if c.Way != mixing.OneStick {
			require.Equal(rt, [3]any{"l", "r", c.LeverGain}, [3]any{got.Left, got.Right, got.LeverGain})
		}
		again, err := mixing.Write(after, "a", "b", got)
		require.NoError(rt, err)
		require.Equal(rt, string(tree.JSON()), string(again.JSON()), "writing what is there changes nothing")
		require.Equal(rt, "old", string(*doc.Setup.Mixes[0].ID), "the old document is left alone")
	})
}

// countOf says how far from the end the second's drive mix stands.
func countOf(c mixing.Choice) int {
	if c.Way == mixing.Both {
		return 4
	}
	return 2
}

// TestSofteningMakesAFeel where the source is a bare control, and changes the one
// that is there.
func TestSofteningMakesAFeel(t *testing.T) {
	doc := read(t, "mixes: []", false)
	tree, err := mixing.Write(doc, "a", "b", mixing.Choice{Way: mixing.OneStick, Drive: "soft", Turn: "t",
		DriveGain: 100, TurnGain: 60, DriveSoft: 45, TurnSoft: 20})
	require.NoError(t, err)
	after, err := setup.FromTree(tree)
	require.NoError(t, err)
	require.Len(t, after.Setup.Demands, 2)
	require.Equal(t, 45.0, after.Setup.Demands[0].Expo)
	require.Equal(t, "t", after.Setup.Demands[1].From.String())
	got := mixing.Find(after.Setup)[0].Choice
	require.Equal(t, [4]any{"soft", "turn_feel", 45.0, 20.0},
		[4]any{got.Drive, got.Turn, got.DriveSoft, got.TurnSoft})
	got.TurnSoft = 0
	tree, err = mixing.Write(after, "a", "b", got)
	require.NoError(t, err)
	require.Nil(t, tree.Get("demands").Items[1].Get("expo"))
	_, err = mixing.Write(after, "a", "b", mixing.Choice{Way: mixing.OneStick, Drive: "d", Turn: "t",
		DriveSoft: 130})
	require.ErrorContains(t, err, "mixing.drive_soft: is out of range")
}

func TestWhatIsNoWayIsItsOwn(t *testing.T) {
	for _, mixes := range []string{
		"mixes: [{to: a, from: d}, {to: a, from: t}, {to: b, from: d}, {to: b, from: t, gain: " +
			"-90}]\nshares: [{outputs: [a, b], rule: clip}]",
		"mixes: [{to: a, from: d, bias: 5}, {to: a, from: t}, {to: b, from: d}, {to: b, from: t, gain: " +
			"-100}]\nshares: [{outputs: [a, b], rule: clip}]",
		"mixes: [{to: a, from: d}, {to: a, from: t}, {to: b, from: d}, {to: b, from: t, gain: -100, when: " +
			"power_on}]\nshares: [{outputs: [a, b], rule: clip}]",
	} {
		found := mixing.Find(read(t, mixes, false).Setup)
		require.Len(t, found, 1)
		require.Equal(t, mixing.Own, found[0].Choice.Way, mixes)
	}
}

func TestWriteSaysWhatIsWrong(t *testing.T) {
	doc := read(t, "mixes: []", false)
	for want, c := range map[string]mixing.Choice{
		"mixing.turn: is the drive already": {
			Way: mixing.OneStick, Drive: "d", Turn: "d"},
		"mixing.right: is the drive already": {
			Way: mixing.Both, Drive: "soft", Turn: "t", Left: "l", Right: "d"},
		"mixing.left: is not chosen yet: the lever of Left track needs a control of its own": {
			Way: mixing.Levers, Right: "r"},
		"mixing.left: is no control": {
			Way: mixing.Levers, Left: "nobody", Right: "r"},
		"mixing.way: is no way": {
			Way: "telepathy"},
		"mixing.drive_gain: is out of": {
			Way: mixing.OneStick, Drive: "d", Turn: "t", DriveGain: 900},
	} {
		_, err := mixing.Write(doc, "a", "b", c)
		require.ErrorContains(t, err, want)
	}
	_, err := mixing.Write(doc, "a", "a", mixing.Choice{Way: mixing.OneStick, Drive: "d", Turn: "t"})
	require.ErrorContains(t, err, "are no two functions")
}

// TestTheWaysOfKeyingInAreEqual plays what the three recipes say, at every point of
// the square, and compares them with each other and with exact fractions: a ready
// mode (drive plus and minus turn), two linear mixes with the second channel turned
// round, and two levers that a hand holds at the sums. That first = d + t and
// second = d - t is common practice, no source.
func TestTheWaysOfKeyingInAreEqual(t *testing.T) {
	const drive, turn = 90, 70
	share := "\nshares: [{outputs: [a, b], rule: clip}]"
	mode := run(t,
		fmt.Sprintf("mixes: [{to: a, from: d, gain: %d}, {to: a, from: t, gain: %d}, {to: b, from: d, "+
			"gain: %d}, {to: b, from: t, gain: %d}]", drive, turn, drive, -turn)+share, false)
	linear := run(t,
		fmt.Sprintf("mixes: [{to: a, from: d, gain: %d}, {to: a, from: t, gain: %d}, {to: b, from: t, "+
			"gain: %d}, {to: b, from: d, gain: %d}]", drive, turn, turn, -drive)+share, true)
	levers := run(t, "mixes: [{to: a, from: l}, {to: b, from: r}]"+share, false)
	for x := -100; x <= 100; x += 2 {
		for y := -100; y <= 100; y += 2 {
			a, b, usA, usB := mode.at(map[string]float64{"d": float64(y), "t": float64(x)})
			near(t, exact(drive, y, turn, x), a)
			near(t, exact(drive, y, -turn, x), b)
			_, c, linearA, linearB := linear.at(map[string]float64{"d": float64(y), "t": float64(x)})
			require.Equal(t, b, -c+0, "turn less drive, reversed")
			_, _, leverA, leverB := levers.at(map[string]float64{"l": a, "r": b})
			require.Equal(t, [2]float64{usA, usB}, [2]float64{leverA, leverB})
			require.Equal(t, [2]float64{usA, usB}, [2]float64{linearA, linearB},
				"the servo's ends stay, so the pulses are the same")
		}
	}
	found := mixing.Find(mode.p.Setup())[0]
	require.Equal(t, []string{
		"Channel 1 on d, rate +90 percent. Channel 2 on t, rate +70 percent.",
		"Mix channel 2 to channel 1, +70 percent of the stick; mix channel 1 to channel 2, −90 percent of " +
			"the stick.",
		"Channel 2 reversed: it carries turn less drive.",
	}, found.Recipes[1].Steps[:3], "what was played is what is said")
}

// keyedIn is what the steps of a recipe say: of each channel the mixes that make it, and
// whether it is turned round.
type keyedIn struct {
	mixes [3]map[string]float64
	round [3]bool
}

// follow does what a recipe says, word by word, as a person would.
func follow(t *testing.T, steps []string, document [3]bool) *keyedIn {
	t.Helper()
	k := &keyedIn{mixes: [3]map[string]float64{{}, {}, {}}, round: document}
	figure := func(text string) float64 {
		v, err := strconv.ParseFloat(strings.NewReplacer("−", "-", "+", "").Replace(text), 64)
		require.NoError(t, err)
		return v
	}
	channel := func(text string) int { return int(text[0] - '0') }
	var stick [3]string
	for _, step := range steps {
		for _, m := range regexp.MustCompile(
			`Channel (\d) on (\w+), rate (\S+) percent`).FindAllStringSubmatch(step, -1) {
			stick[channel(m[1])] = m[2]
			k.mixes[channel(m[1])][m[2]] += figure(m[3])
		}
		for _, m := range regexp.MustCompile(
			`[Mm]ix channel (\d) to channel (\d), (\S+) percent of the stick`).FindAllStringSubmatch(step,
			-1) {
			k.mixes[channel(m[2])][stick[channel(m[1])]] += figure(m[3])
		}
		for _, m := range regexp.MustCompile(
			`(\w+) to channel (\d), (\S+) percent[;.]`).FindAllStringSubmatch(step, -1) {
			k.mixes[channel(m[2])][m[1]] += figure(m[3])
		}
		for _, m := range regexp.MustCompile(`[Cc]hannel (\d) (reversed|normal)`).FindAllStringSubmatch(step,
			-1) {
			k.round[channel(m[1])] = m[2] == "reversed"
		}
	}
	return k
}

// TestRecipesArePlayed: for each way, with either side turned round in the document,
// what the steps of each recipe say is keyed in, and gives the same pulses.
func TestRecipesArePlayed(t *testing.T) {
	played := 0
	for _, way := range []string{mixing.OneStick, mixing.Levers, mixing.Both} {
		for _, round := range [][2]bool{{false, false}, {true, false}, {false, true}, {true, true}} {
			document := func(mixes string, a, b bool) *setup.Document {
				text := strings.Replace(fmt.Sprintf(pair, mixes, b), "channel: 1, low",
					fmt.Sprintf("channel: 1, reverse: %t, low", a), 1)
				doc, err := setup.ReadYAML([]byte(text))
				require.NoError(t, err)
				return doc
			}
			tree, err := mixing.Write(document("mixes: []", round[0], round[1]), "a", "b",
				mixing.Choice{Way: way, Drive: "d", Turn: "t", Left: "l", Right: "r", DriveGain: 40,
					TurnGain: 30, LeverGain: 25, Rule: "clip"})
			require.NoError(t, err)
			doc, err := setup.FromTree(tree)
			require.NoError(t, err)
			want := runOf(t, doc)
			recipes := mixing.Find(doc.Setup)[0].Recipes
			for i, recipe := range recipes {
				if way == mixing.Levers && i < 2 || way != mixing.Levers && i == 0 {
					continue // a ready mode is the document's own sums; with levers there is no mix to key in
				}
				k := follow(t, recipe.Steps, [3]bool{false, round[0], round[1]})
				if way != mixing.Levers && i == 2 {
					// the hand mixes
					k.mixes[1], k.mixes[2] = map[string]float64{"l": 100}, map[string]float64{"r": 100}
				}
				var mixes []string
				for c, to := range []string{"", "a", "b"} {
					for from, gain := range k.mixes[c] {
						mixes = append(mixes, fmt.Sprintf("{to: %s, from: %s, gain: %g}", to, from, gain))
					}
				}
				got := runOf(t, document("mixes: ["+strings.Join(mixes, ", ")+
					"]\nshares: [{outputs: [a, b], rule: clip}]", k.round[1], k.round[2]))
				for x := -100.0; x <= 100; x += 25 {
					for y := -100.0; y <= 100; y += 25 {
						hands := map[string]float64{"d": y, "t": x, "l": -y / 2, "r": (x + y) / 2}
						a, b, usA, usB := want.at(hands)
						if way != mixing.Levers && i == 2 {
							hands = map[string]float64{"l": a, "r": b}
						}
						_, _, gotA, gotB := got.at(hands)
						require.Equal(t, [2]float64{usA, usB}, [2]float64{gotA, gotB},
							"%s, turned round %v, %s: %v at %v", way, round, recipe.Title, recipe.Steps,
							hands)
					}
				}
				played++
			}
		}
	}
	require.Equal(t, 4*5, played)
}

// TestEachControlHasOneDuty: where a set has no lever to spare, none is proposed, and
// the choice asks for it.
func TestEachControlHasOneDuty(t *testing.T) {
	for _, controls := range []string{
		"{id: d, label: d, kind: axis, along: y, stick: right}, " +
			"{id: t, label: t, kind: axis, along: x, stick: right}",
		"{id: d, label: d, kind: axis, along: y, stick: right}, " +
			"{id: t, label: t, kind: axis, along: x, stick: right}, {id: l, " +
			"kind: axis, along: y, stick: left}",
		"{id: d, label: d, kind: axis, along: y, stick: right}, " +
			"{id: t, label: t, kind: axis, along: x, stick: right}, {id: l, " +
			"kind: axis, along: y}, {id: r, label: r, kind: axis, along: y}",
		"{id: d, kind: axis}",
	} {
		doc, err := setup.ReadYAML([]byte("format: axtren-setup\nversion: 1\ntransmitter: {controls: [" +
			controls + "]}\ndemands: [{id: soft, from: d, expo: 20}]\n" +
			"mixes: [{to: a, from: soft}, {to: b, from: soft}]\noutputs: [{id: a, channel: 1}, {id: b, " +
			"channel: 2}]\nshares: [{outputs: [a, b], rule: scale}]\n"))
		require.NoError(t, err)
		c := mixing.Find(doc.Setup)[0].Choice
		seen := map[string]bool{}
		for _, ref := range []string{c.Drive, c.Turn, c.Left, c.Right} {
			if ref == "" {
				continue
			}
			hand := strings.Replace(ref, "soft", "d", 1)
			require.False(t, seen[hand], "%s has two duties in %+v", hand, c)
			seen[hand] = true
		}
		c.Way = mixing.Both
		c.DriveGain, c.TurnGain, c.LeverGain = 100, 100, 100
		_, err = mixing.Write(doc, "a", "b", c)
		if c.Left != "" && c.Right != "" && c.Turn != "" {
			require.NoError(t, err)
			continue
		}
		require.ErrorContains(t, err, "is not chosen yet")
		if c.Right == "" && c.Turn != "" {
			c.Right, c.Left = "d", "t"
			_, err = mixing.Write(doc, "a", "b", c)
			require.ErrorContains(t, err, "already")
		}
	}
}

// exact gives gain d + gain t in percent, limited to 100, as a fraction.
func exact(g1, d, g2, t int) *big.Rat {
	v := big.NewRat(int64(g1*d+g2*t), 100)
	for _, end := range []int64{-100, 100} {
		if limit := big.NewRat(end, 1); v.Cmp(limit) == int(end/100) {
			return limit
		}
	}
	return v
}

// near holds a figure of the engine against a fraction: what doubles cannot write,
// such as 0.7, may differ in the last place.
func near(t *testing.T, want *big.Rat, got float64) {
	t.Helper()
	far := new(big.Rat).Sub(new(big.Rat).SetFloat64(got), want)
	require.Negative(t, far.Abs(far).Cmp(big.NewRat(1, 1e12)), "%v is not %v", got, want)
}

type runner struct {
	p *signal.Program
}

func run(t *testing.T, mixes string, flip bool) *runner {
	t.Helper()
	p, err := signal.Compile(read(t, mixes, flip).Setup)
	require.NoError(t, err)
	return &runner{p}
}

func runOf(t *testing.T, doc *setup.Document) *runner {
	t.Helper()
	p, err := signal.Compile(doc.Setup)
	require.NoError(t, err)
	return &runner{p}
}

func (r *runner) at(hands map[string]float64) (a, b, usA, usB float64) {
	st, h := r.p.PowerOn(), r.p.Rest()
	for id, v := range hands {
		at, _ := r.p.Hand(id)
		h[at] = v
	}
	r.p.Step(st, h)
	one, two := r.p.Routes[0], r.p.Routes[1]
	return st.At(one.Asked), st.At(two.Asked), st.At(one.US), st.At(two.US)
}

// TestFieldsAreWhatTheProgramDoes compares points of the fields with whole frames,
// and where more than there is is asked with the sums.
func TestFieldsAreWhatTheProgramDoes(t *testing.T) {
	yard, err := demo.Yard()
	require.NoError(t, err)
	pairs := 0
	for _, m := range yard {
		p, err := signal.Compile(m.Doc.Setup)
		require.NoError(t, err)
		st := p.PowerOn()
		h := p.Rest()
		for range 50 {
			p.Step(st, h)
		}
		for _, pair := range mixing.Find(m.Doc.Setup) {
			if pair.Across == "" || pair.Along == "" {
				continue // one control drives both: there is no square
			}
			pairs++
			fields := mixing.Fields(p, st, &pair)
			require.Len(t, fields, 3, "%s %s", m.Doc.Setup.Name, pair.Label)
			own := pair.Choice.Rule
			for _, f := range fields {
				require.Len(t, mixing.Paths(&f, mixing.Tracks), 81)
				if f.Rule != own {
					continue
				}
				at := p.PowerOn()
				x, _ := p.Hand(pair.Across)
				y, _ := p.Hand(pair.Along)
				hands := p.HandsOf(st)
				a := p.Routes[m.Doc.Setup.Item(setup.ID(pair.First)).Index]
				for row := 0; row < mixing.Side; row += 7 {
					for col := 0; col < mixing.Side; col += 7 {
						at.CopyFrom(st)
						hands[x], hands[y] = float64(col)*2-100, 100-float64(row)*2
						p.Step(at, hands)
						require.InDelta(t, at.At(a.Asked), float64(f.First[row*mixing.Side+col])-100, 0.51)
						sum := at.At(a.Sum)
						require.Equal(t, sum > 100+1e-9 || sum < -100-1e-9, f.Cut[row*mixing.Side+col]&1 == 1)
					}
				}
			}
		}
	}
	require.GreaterOrEqual(t, pairs, 2)
}

func TestTheThreeRulesDiffer(t *testing.T) {
	doc := read(t,
		"mixes: [{to: a, from: d}, {to: a, from: t}, {to: b, from: d}, {to: b, from: t, gain: "+
			"-100}]\nshares: [{outputs: [a, b], rule: scale}]", false)
	p, err := signal.Compile(doc.Setup)
	require.NoError(t, err)
	st := p.PowerOn()
	p.Step(st, p.Rest())
	pair := mixing.Find(doc.Setup)[0]
	fields := mixing.Fields(p, st, &pair)
	point := func(f *mixing.Field) [2]int { // at turn +50, drive +100
		k := 0*mixing.Side + 75
		return [2]int{int(f.First[k]) - 100, int(f.Second[k]) - 100}
	}
	require.Equal(t, [2]int{100, 50}, point(&fields[0]), "150 and 50, each cut alone")
	require.Equal(t, [2]int{100, 33}, point(&fields[1]), "both brought down together")
	require.Equal(t, [2]int{100, 0}, point(&fields[2]), "the turn of 100 is kept")
}

func BenchmarkField(b *testing.B) {
	yard, err := demo.Yard()
	require.NoError(b, err)
	for _, m := range yard {
		for _, pair := range mixing.Find(m.Doc.Setup)[:min(1, len(mixing.Find(m.Doc.Setup)))] {
			b.Run(m.Doc.Setup.Name, func(b *testing.B) {
				p, err := signal.Compile(m.Doc.Setup)
				require.NoError(b, err)
				st := p.PowerOn()
				p.Step(st, p.Rest())
				for b.Loop() {
					mixing.Fields(p, st, &pair)
				}
			})
		}
	}
}
