package travel_test

import (
	"fmt"
	"math"
	"strings"
	"testing"

	"github.com/stretchr/testify/require"
	"pgregory.net/rapid"

	"axtren/core/setup"
	"axtren/core/signal"
	"axtren/core/travel"
	"axtren/demo"
)

// learns is a motor behind a stick; %s are, in turn, more of the transmitter, of the output, of the
// document and of the controller.
const learns = `format: axtren-setup
version: 1
transmitter:
  controls: [{id: stick, kind: axis, label: Stick, plus: forward, minus: back}, {id: key, kind: switch, label: Key, positions: [low, full]}]
  %s
outputs: [{id: motor, label: Motor, channel: 2 %s}]
%s
receivers: [{id: rx, label: the receiver, pins: [{pin: 2, channel: 2}]}]
devices: [{id: esc, label: controller, on: rx.2, kind: esc %s}]
`

func learning(t require.TestingT, transmitter, output, document, esc string) *setup.Document {
	if !strings.Contains(document, "mixes:") {
		document += "\nmixes: [{to: motor, from: stick}]"
	}
	doc, err := setup.ReadYAML(fmt.Appendf(nil, learns, transmitter, output, document, esc))
	require.NoError(t, err)
	return doc
}

func learnersOf(t require.TestingT, doc *setup.Document, output int) []travel.Learner {
	p, err := signal.Compile(doc.Setup)
	require.NoError(t, err)
	list, err := travel.Learners(p, output)
	require.NoError(t, err)
	return list
}

func learner(t require.TestingT, doc *setup.Document) travel.Learner {
	list := learnersOf(t, doc, 0)
	require.NotEmpty(t, list)
	return list[0]
}

// told are the findings in few words, with a mark where one is wrong.
func told(of travel.Learner) (list []string) {
	for _, one := range of.Findings {
		mark := ""
		if one.Wrong {
			mark = "! "
		}
		list = append(list, mark+one.Title+": "+one.Says)
	}
	return list
}

// TestWhatAControllerHasLearned: worked by hand. The pulses of a cap of 60 with reverse full, 1800 and
// 1000, and of an end of 75, 1875, are common practice, no source.
func TestWhatAControllerHasLearned(t *testing.T) {
	for _, c := range []struct {
		name, output, document, esc string
		sent                        [3]float64
		told                        []string
		agrees                      bool
	}{
		{"as it was learned", "", "", "", [3]float64{1000, 1500, 2000},
			[]string{"With hands off: stands still, in the middle of its dead band",
				"Full ahead: reached just at the end of the way", "Full back: reached just at the end of the way",
				"Of the way, nothing moves for: the first 5 % towards + and the first 5 % towards −"}, true},
		{"forward capped at 60, reverse full", "",
			"mixes: [{to: motor, from: stick, gain: {pos: 60, neg: 100}}]", "",
			[3]float64{1000, 1500, 1800}, []string{"With hands off: stands still, in the middle of its dead band",
				"Full ahead: never reached: 58 % at most", "Full back: reached just at the end of the way",
				"Of the way, nothing moves for: the first 7 % towards + and the first 5 % towards −"}, false},
		{"an end of 75", ", high: 75", "", "", [3]float64{1000, 1500, 1875},
			[]string{"With hands off: stands still, in the middle of its dead band",
				"Full ahead: never reached: 74 % at most", "Full back: reached just at the end of the way",
				"Of the way, nothing moves for: the first 6 % towards + and the first 5 % towards −"}, false},
		{"taught while a cap was on", "", "", ", learned_us: {high: 1800}", [3]float64{1000, 1500, 2000},
			[]string{"With hands off: stands still, in the middle of its dead band",
				"! Full ahead: reached early: the last 40 % of the way do nothing more",
				"Full back: reached just at the end of the way",
				"Of the way, nothing moves for: the first 5 % towards + and the first 5 % towards −"}, false},
		{"a neutral learned off", "", "", ", learned_us: {neutral: 1470}", [3]float64{1000, 1500, 2000},
			[]string{"! With hands off: hums or creeps at 2 % ahead", "Full ahead: reached just at the end of the way",
				"Full back: reached just at the end of the way"}, false},
		{"a brake that never lets go", "", "", ", learned_us: {neutral: 1560}, reverse: brake_first",
			[3]float64{1000, 1500, 2000}, []string{"! With hands off: the brake never lets go: it brakes with 7 %",
				"Full ahead: reached just at the end of the way",
				"Full brake, and back: reached just at the end of the way"}, false},
		{"a neutral that never comes", ", low: -90, centre: 50, high: 90", "", ", needs_neutral: true, dead_us: 10",
			[3]float64{1050, 1750, 1950}, []string{"! With hands off: turns at 49 % ahead",
				"Full ahead: never reached: 90 % at most", "Full back: never reached: 90 % at most"}, false},
		{"a neutral that hands never send", ", low: 10, centre: 50, high: 90", "", ", needs_neutral: true",
			[3]float64{1550, 1750, 1950},
			[]string{"! With hands off: waits for its neutral, which never comes: it does not turn at all",
				"Full ahead: never reached: 90 % at most",
				"Full back: never: no hands send what it takes for that"}, false},
		{"less than was learned, with open ends", "", "", ", learned_us: {high: 2100}", [3]float64{1000,
			1500, 2000},
			[]string{"With hands off: stands still, in the middle of its dead band",
				"! Full ahead: never reached: 83 % at most", "Full back: reached just at the end of the way",
				"Of the way, nothing moves for: the first 5 % towards + and the first 5 % towards −"}, false},
		{"turned round, and off within the dead band", ", reverse: true, centre: 2", "", "",
			[3]float64{1000, 1510, 2000}, []string{"With hands off: stands still, 10 µs before it would hum",
				"Full ahead: reached just at the end of the way", "Full back: reached just at the end of the way",
				"Of the way, nothing moves for: the first 3 % towards + and the first 6 % towards −"}, true},
		{"one that does not go back", "", "", ", reverse: none", [3]float64{1000, 1500, 2000},
			[]string{"With hands off: stands still, in the middle of its dead band",
				"All of its power: reached just at the end of the way",
				"Of the way, nothing moves for: the first 5 % towards +"}, true},
	} {
		doc := learning(t, "", c.output, c.document, c.esc)
		of := learner(t, doc)
		for k, want := range c.sent {
			require.Equal(t, want, of.Places[k].Sent, c.name)
		}
		require.Equal(t, c.told, told(of), c.name)
		require.Equal(t, c.agrees, of.Agrees, c.name)
	}
	of := learner(t, learning(t, "", ", reverse: true", "", ""))
	require.Equal(t, "Stick held all the way towards back", of.Places[2].Title,
		"turned round, back sends the longer pulse")
}

// TestAModuleThatWasNotTold: common practice, no source: 1985 µs is +97 percent; told so, +100.
func TestAModuleThatWasNotTold(t *testing.T) {
	const sends = "pulse: {half_span_us: 485}"
	doc := learning(t, sends, ", high: 90", "link: {learned_us: {low: 1000, centre: 1500, high: 2000}}", "")
	list := learnersOf(t, doc, 0)
	require.Len(t, list, 2)
	module := list[1]
	require.Equal(t, []string{"! −100 sent: arrives as −97", "0 sent: arrives as 0",
		"! +100 sent: arrives as +97",
		"The end of Motor at +90: arrives as +87.3"}, told(module))
	require.Equal(t, "The last 3 of full travel never arrive.", module.Findings[2].Note)
	require.Equal(t, []string{"taught"}, acts(module))
	tree, said, err := travel.Apply(doc, "outputs/motor", travel.Note{What: travel.TaughtAgain, How: "module"})
	require.NoError(t, err)
	require.Equal(t, "The module was told what the transmitter sends", said)
	now, err := setup.FromTree(tree)
	require.NoError(t, err)
	require.Equal(t, setup.Learned{Low: 1015, Centre: 1500, High: 1985}, *now.Setup.Link.LearnedUS)
	require.Nil(t, now.Setup.Stand, "it is of no function")
	list = learnersOf(t, now, 0)
	require.Equal(t, []string{"−100 sent: arrives as −100", "0 sent: arrives as 0",
		"+100 sent: arrives as +100"},
		told(list[1]))
	require.True(t, list[1].Agrees)
	_, _, err = travel.Apply(now, "outputs/motor", travel.Note{What: travel.TaughtAgain, How: "module"})
	require.ErrorContains(t, err, "is not to be done")
}

func acts(of travel.Learner) (list []string) {
	for _, c := range of.Cures {
		list = append(list, c.Act)
	}
	return list
}

// TestAReceiverThatLearnsEnds: what the car has learned of its steering, against an end that was opened
// since.
func TestAReceiverThatLearnsEnds(t *testing.T) {
	const text = `format: axtren-setup
version: 1
transmitter: {controls: [{id: wheel, kind: axis, label: Wheel, plus: right, minus: left}]}
outputs: [{id: steering, label: Steering, channel: 1, low: -80, centre: -6, high: 100}, {id: other, channel: 2}]
mixes: [{to: steering, from: wheel}]
receivers: [{id: car, label: the car, pins: [{pin: 1, channel: 1}, {pin: 2, channel: 2}], teach: {by: button, order: [high, low, neutral], tells: two beeps},
    learned: [{channel: 1, low: 1050, centre: 1500, high: 1900}]}]
devices: [{id: servo, on: car.1, kind: servo}, {id: second, on: car.2, kind: servo}]
`
	doc, err := setup.ReadYAML([]byte(text))
	require.NoError(t, err)
	of := learner(t, doc)
	require.Equal(t, []string{"The end to −: never reached: 89 % at most",
		"! With hands off: stands −7 off its middle",
		"! The end to +: reached early: what goes beyond it, 25 %, does nothing"}, told(of))
	require.Equal(t, []string{"high", "low", "neutral"}, asked(of.Cures[0]), "in its own order")
	require.Contains(t, of.Cures[0].Steps[2].See, "It answers with two beeps.")
	other := learnersOf(t, doc, 1)
	require.Equal(t, []travel.Learner{}, other, "it learned nothing of that channel")
	require.Equal(t, []string{"ready", "arm", "direction", "centre", "low", "high", "learned"}, keysOf(doc, 0))
	require.NotContains(t, keysOf(doc, 1), "learned")

	taught := apply(t, doc, "outputs/steering", travel.Note{What: travel.TaughtAgain,
		How: "receivers/car", On: "1 Dec"})
	require.Equal(t, []setup.LearnedEnds{{Channel: 1, Low: 1100, Centre: 1470, High: 2000}},
		taught.Setup.Receivers[0].Learned)
	require.True(t, learner(t, taught).Agrees)
	last := travel.Stand(taught.Setup)[0].Steps[6]
	require.Equal(t, "learned by what it drives, 1 Dec", last.Found)
	require.True(t, last.Done)
	trimmed := apply(t, taught, "outputs/steering", travel.Note{What: travel.Centre, Value: 5})
	last = travel.Stand(trimmed.Setup)[0].Steps[6]
	require.Equal(t, "The car gets other pulses now than it has learned", last.Stale)
	require.Equal(t, "Do 1 step again: learned.", travel.Stand(trimmed.Setup)[0].Again, "and nothing else")

	set := apply(t, doc, "outputs/steering", travel.Note{What: travel.ToLearned, How: "receivers/car"})
	require.Equal(t, []float64{-90, 0, 80}, []float64{set.Setup.Outputs[0].Low, set.Setup.Outputs[0].Centre,
		set.Setup.Outputs[0].High})
	require.Equal(t, doc.Setup.Receivers, set.Setup.Receivers)
	require.True(t, learner(t, set).Agrees)
}

func keysOf(doc *setup.Document, function int) (list []string) {
	for _, step := range travel.Stand(doc.Setup)[function].Steps {
		list = append(list, step.Key)
	}
	return list
}

func apply(t require.TestingT, doc *setup.Document, part string, of travel.Note) *setup.Document {
	tree, _, err := travel.Apply(doc, part, of)
	require.NoError(t, err)
	next, err := setup.FromTree(tree)
	require.NoError(t, err)
	return next
}

// asked lists what a cure asks for, in its order.
func asked(of travel.Cure) (list []string) {
	for _, step := range of.Steps {
		for start, what := range map[string]string{"Neutral: ": "neutral", "Full ahead: ": "high",
			"Full back: ":    "low",
			"The end to +: ": "high", "The end to −: ": "low", "All of its power: ": "high"} {
			if strings.HasPrefix(step.Do, start) {
				list = append(list, what)
			}
		}
	}
	return list
}

// TestTheOrderThatItsKindWants: each kind is taught in its own order, and each step says what to see.
func TestTheOrderThatItsKindWants(t *testing.T) {
	for _, c := range []struct {
		esc   string
		order []string
		note  string
		first string // of what is asked
	}{
		{"", []string{"neutral", "high", "low"}, "its leaflet goes before them",
			"Neutral: press the button with hands off."},
		{", teach: {by: button, order: [high, low, neutral]}", []string{"high", "low", "neutral"}, "",
			"Full ahead: press the button with Stick held all the way towards forward."},
		{", teach: {by: held_full, order: [high, neutral, low]}", []string{"high", "neutral", "low"}, "",
			"Full ahead: switch the transmitter on, then the model, with Stick held all the way towards forward."},
		{", reverse: none, teach: {by: held_full, order: [high, neutral, low]}", []string{"high", "neutral"}, "",
			"All of its power: switch the transmitter on, then the model, with Stick held all the way towards " +
				"forward."},
		{", teach: {by: each_start}", []string{"neutral"}, "Its ends are fixed",
			"Neutral: switch the transmitter on, then the model, with hands off."},
		{", teach: {by: fixed}", nil, "cannot be taught", ""},
	} {
		cure := learner(t, learning(t, "can: {scales: {display: us}}", ", high: 80", "", c.esc)).Cures[0]
		require.Equal(t, c.order, asked(cure), c.esc)
		require.Contains(t, cure.Note, c.note, c.esc)
		require.Equal(t, c.note == "", cure.Note == "", c.esc)
		var dos, sees []string
		for _, step := range cure.Steps {
			require.NotEmpty(t, step.See, step.Do)
			dos, sees = append(dos, step.Do), append(sees, step.See)
		}
		if c.order == nil {
			require.Equal(t, []travel.CureStep{}, cure.Steps)
			require.Empty(t, cure.Done)
			continue
		}
		require.Contains(t, dos, c.first)
		require.Contains(t, strings.Join(sees, " "), "Channel 2 of the transmitter shows 1500 µs.")
		require.Equal(t, c.order[0] == "neutral" && len(c.order) == 1,
			!strings.Contains(strings.Join(sees, " "), "Channel 2 of the transmitter shows 1900 µs."))
	}
}

// TestWhatCannotBeLearned says why, and writes nothing.
func TestWhatCannotBeLearned(t *testing.T) {
	for _, c := range []struct {
		output, document, esc, what, how, says string
	}{
		{"", "mixes: [{to: motor, from: stick, gain: {pos: 0, neg: 100}}]", "", travel.TaughtAgain, "devices/esc",
			"1500 µs is the furthest that arrives"},
		{"", "", ", learned_us: {high: 2180}", travel.ToLearned, "devices/nobody", "use devices/esc"},
		{"", "mixes: [{to: motor, from: stick, gain: 50}]", "", travel.ToLearned, "devices/esc",
			"would take an end of −200"},
		{"", "", "", travel.ToLearned, "devices/esc", "nothing is to be changed"},
		{"", "", ", teach: {by: fixed}", travel.TaughtAgain, "devices/esc", "cannot be taught"},
		{"", "link: {one_bit: [2]}", ", learned_us: {high: 1900}", travel.ToLearned, "devices/esc",
			"full low or full high alone"},
		{"", "mixes: [{to: motor, from: stick, gain: {pos: 100, neg: 0}}]", ", learned_us: {low: 1200}",
			travel.ToLearned, "devices/esc", "No hands ask Motor for anything to −"},
	} {
		doc := learning(t, "", c.output, c.document, c.esc)
		_, _, err := travel.Apply(doc, "outputs/motor", travel.Note{What: c.what, How: c.how})
		require.Error(t, err, c.says)
		require.Contains(t, strings.ToLower(err.Error()), strings.ToLower(c.says))
	}
}

// TestACureCures: whatever is set and was learned, what a cure writes is played by the engine, and the
// motor then stands still with hands off and turns fully at both ends; nothing else is changed.
func TestACureCures(t *testing.T) {
	rapid.Check(t, func(rt *rapid.T) {
		whole := func(from, to int, name string) int { return rapid.IntRange(from, to).Draw(rt, name) }
		module := ""
		if rapid.Bool().Draw(rt, "module") {
			module = fmt.Sprintf("link: {learned_us: {low: %d, centre: %d, high: %d}}", whole(960, 1100, "low told"),
				whole(1480, 1520, "centre told"), whole(1900, 2040, "high told"))
		}
		doc := learning(rt, "pulse: {step_us: 0.1, min_us: 700, max_us: 2300}",
			fmt.Sprintf(", low: %d, centre: %d, high: %d, reverse: %t", -whole(60, 120, "low"), whole(-15, 15,
				"centre"), whole(60, 120, "high"), rapid.Bool().Draw(rt, "reverse")), module,
			fmt.Sprintf(", dead_us: %d, learned_us: {low: %d, neutral: %d, high: %d}", whole(4, 40, "dead"),
				whole(1050, 1250, "low learned"), whole(1450, 1550, "neutral learned"), whole(1750, 1950,
					"high learned")))
		for _, what := range []string{travel.TaughtAgain, travel.ToLearned} {
			tree, _, err := travel.Apply(doc, "outputs/motor", travel.Note{What: what, How: "devices/esc"})
			if err != nil {
				require.Contains(rt, err.Error(), "is not to be done")
				continue
			}
			now, err := setup.FromTree(tree)
			require.NoError(rt, err)
			for stick, want := range map[float64]float64{0: 0, 100: 100, -100: 100} {
				near := map[string]float64{travel.TaughtAgain: 0.5, travel.ToLearned: 5}[what] // an end has whole points
				require.InDelta(rt, want, math.Abs(motor(rt, now.Setup, stick)), near, "%s, stick at %g", what,
					stick)
			}
			require.True(rt, learner(rt, now).Agrees || what == travel.ToLearned)
			was, is := *doc.Setup, *now.Setup
			if what == travel.TaughtAgain {
				require.Equal(rt, was.Outputs, is.Outputs)
			} else {
				require.Equal(rt, was.Devices, is.Devices)
			}
			require.Equal(rt, was.Mixes, is.Mixes)
			require.Equal(rt, was.Link, is.Link)
		}
	})
}

// motor plays the stick for a second, and reads the motor off the engine.
func motor(t require.TestingT, s *setup.Setup, stick float64) float64 {
	p, err := signal.Compile(s)
	require.NoError(t, err)
	st, hands := p.PowerOn(), p.Rest()
	p.Step(st, hands)
	hand, _ := p.Hand("stick")
	hands[hand] = stick
	for range 50 {
		p.Step(st, hands)
	}
	cells := p.Cells()
	for i, col := range s.Columns() {
		if col.Kind == setup.DeviceMotor {
			v, _ := p.Read(&cells[i], st)
			return v
		}
	}
	require.Fail(t, "no motor")
	return 0
}

// TestTheFurthestThatHandsReach: against every way in which the hands can stand, for sums of levers and
// switches; a switch that alone lets a lever through is found too.
func TestTheFurthestThatHandsReach(t *testing.T) {
	rapid.Check(t, func(rt *rapid.T) {
		gain := func(name string) int { return rapid.IntRange(-60, 60).Draw(rt, name) }
		when := rapid.SampledFrom([]string{"", ", when: key.full", ", when: not key.low", ", when: mode.mid"})
		whenA, whenB := when.Draw(rt, "when a"), when.Draw(rt, "when b")
		doc, err := setup.ReadYAML(fmt.Appendf(nil, `format: axtren-setup
version: 1
transmitter:
  controls: [{id: a, kind: axis}, {id: b, kind: axis, spring: none, start: 20}, {id: key, kind: switch, positions: [low, full]},
    {id: mode, kind: switch, positions: [left, mid, right]}]
outputs: [{id: o, channel: 1}]
mixes: [{to: o, from: a, gain: %d%s}, {to: o, from: b, gain: %d%s}, {to: o, from: mode, gain: %d}]
receivers: [{id: rx, pins: [{pin: 1, channel: 1}], learned: [{channel: 1, low: 1000, centre: 1500, high: 2000}]}]
devices: [{id: servo, on: rx.1, kind: servo}]
`, gain("a"), whenA, gain("b"), whenB, gain("mode")))
		require.NoError(rt, err)
		p, err := signal.Compile(doc.Setup)
		require.NoError(rt, err)
		least, most := math.Inf(1), math.Inf(-1)
		for _, a := range []float64{-100, 0, 100} {
			for _, b := range []float64{-100, 20, 100} {
				for key := range 2 {
					for mode := range 3 {
						st, hands := p.PowerOn(), p.Rest()
						hands[0], hands[1], hands[2], hands[3] = a, b, float64(key), float64(mode)
						p.Step(st, hands)
						at := st.At(p.Routes[0].US)
						least, most = min(least, at), max(most, at)
					}
				}
			}
		}
		of := learner(rt, doc)
		require.LessOrEqual(rt, of.Places[2].Sent, most+0.05)
		require.GreaterOrEqual(rt, of.Places[0].Sent, least-0.05)
		if !strings.Contains(whenA+whenB, "mode") {
			require.InDelta(rt, most, of.Places[2].Sent, 0.05, "no condition takes away what another push gives")
			require.InDelta(rt, least, of.Places[0].Sent, 0.05)
		}
	})
	doc := learning(t, "", "", "mixes: [{to: motor, from: stick, when: key.full}]", "")
	of := learner(t, doc)
	require.Equal(t, "Stick held all the way towards forward and Key at full", of.Places[2].Title)
}

// TestWhatTheDemoHasLearned: each motor of each demo model has its learner, with sentences and no ids.
func TestWhatTheDemoHasLearned(t *testing.T) {
	yard, err := demo.Yard()
	require.NoError(t, err)
	motors := 0
	for _, m := range yard {
		s := m.Doc.Setup
		for i := range s.Outputs {
			list := learnersOf(t, m.Doc, i)
			for _, of := range list {
				motors++
				require.Len(t, of.Places, 3)
				for _, f := range of.Findings {
					require.NotRegexp(t, `[a-z]_[a-z]|NaN|Inf`, fmt.Sprint(f.Title, f.Says, f.Note, f.Why))
				}
				for _, c := range of.Cures {
					require.NotRegexp(t, `[a-z]_[a-z]|NaN|Inf`, fmt.Sprint(c.Title, c.Note, c.Steps, c.Done))
					require.NotNil(t, c.Steps)
				}
			}
		}
	}
	require.Greater(t, motors, 15)
}
