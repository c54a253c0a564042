package travel_test

import (
	"fmt"
	"strings"
	"testing"

	"github.com/stretchr/testify/require"

	"axtren/core/setup"
	"axtren/core/travel"
	"axtren/demo"
)

const standText = `format: axtren-setup
version: 1
name: Stand
transmitter:
  controls: [{id: helm, kind: axis, label: Helm, stick: right, along: x, plus: right, minus: left}, {id: key, kind: switch, positions: [off, on]}]
  can: {endpoint_follows: stick}
outputs:
  - {id: rudder, label: Rudder, channel: 1, reverse: true, centre: 4, low: -90, high: 80}
  - {id: screw, label: Screw, channel: 2}
  - {id: lamp, label: Lamp, channel: 3}
mixes: [{to: rudder, from: helm}, {to: lamp, from: key}]
receivers: [{id: rx, pins: [{pin: 1, channel: 1}, {pin: 2, channel: 2}, {pin: 3, channel: 3}]}]
devices:
  - {id: servo, label: rudder servo, on: rx.1, kind: servo, splines: 25, fitted: 3 May}
  - {id: esc, on: rx.2, kind: esc}
  - {id: glow, on: rx.3, kind: lamp}
`

func standDoc(t *testing.T) *setup.Document {
	t.Helper()
	doc, err := setup.ReadYAML([]byte(standText))
	require.NoError(t, err)
	return doc
}

func noted(t *testing.T, doc *setup.Document, of travel.Note) *setup.Document {
	t.Helper()
	tree, said, err := travel.Apply(doc, "outputs/rudder", of)
	require.NoError(t, err)
	require.NotEmpty(t, said)
	next, err := setup.FromTree(tree)
	require.NoError(t, err)
	return next
}

func steps(s *setup.Setup) (list []string) {
	for _, step := range travel.Stand(s)[0].Steps {
		mark := " "
		if step.Done {
			mark = "x"
		}
		if step.Stale != "" {
			mark = "!"
		}
		list = append(list, mark+step.Key)
	}
	return list
}

// TestTheStepsOfAStand: a servo has all of them, a motor its direction and what is learned, a lamp none;
// each is said of its own function, with the hand that moves it and the half spline of its arm.
func TestTheStepsOfAStand(t *testing.T) {
	doc := standDoc(t)
	list := travel.Stand(doc.Setup)
	require.Len(t, list, 2, "a lamp has nothing to find")
	require.Equal(t, []string{" ready", " arm", " direction", " centre", " low", " high"}, steps(doc.Setup))
	require.Len(t, list[1].Steps, 3, "ready, its direction, and what its controller has learned")
	arm, low, high := list[0].Steps[1], list[0].Steps[4], list[0].Steps[5]
	require.Equal(t, "With 25 splines it is off by 7.2° at most, half a spline: a centre of 16 takes that out.",
		arm.Note)
	require.Equal(t, "Hold the stick towards right, and open this end until the linkage just reaches its stop.",
		low.Does,
		"reversed, the stick to the right moves the servo to −")
	require.Equal(t, "On this transmitter, now: stick right, 90.", low.Note)
	require.Equal(t, "Hold the stick towards left, and open this end until the linkage just reaches its stop.",
		high.Does)
	require.Equal(t, "The ends are 94 and 76 from the centre; equal, both would be 76.", list[0].Even)
}

// TestWhatIsFoundIsKept: an end that binds is set back by two points, a guess and one from the linkage are
// not; a direction that is wrong is turned round; even ends are both as far as the nearer one, and stay
// found.
func TestWhatIsFoundIsKept(t *testing.T) {
	doc := standDoc(t)
	doc = noted(t, doc, travel.Note{What: travel.Low, Value: -76, On: "29 Nov 2026"})
	require.Equal(t, -74.0, doc.Setup.Outputs[0].Low, "common practice: two points back")
	low := travel.Stand(doc.Setup)[0].Steps[4]
	require.Equal(t, "measured, 29 Nov 2026", low.Found)
	require.True(t, low.Done)
	doc = noted(t, doc, travel.Note{What: travel.BackOff, Value: 3.5})
	require.Equal(t, 3.5, travel.Stand(doc.Setup)[1].Back, "for all functions")
	doc = noted(t, doc, travel.Note{What: travel.High, Value: 72})
	require.Equal(t, 68.5, doc.Setup.Outputs[0].High)
	doc = noted(t, doc, travel.Note{What: travel.High, Value: 70, How: travel.Linked})
	require.Equal(t, 70.0, doc.Setup.Outputs[0].High)
	require.Equal(t, "worked out from the linkage", travel.Stand(doc.Setup)[0].Steps[5].Found)
	doc = noted(t, doc, travel.Note{What: travel.Direction, Other: true})
	require.False(t, doc.Setup.Outputs[0].Reverse)
	doc = noted(t, doc, travel.Note{What: travel.Centre, Value: 0})
	doc = noted(t, doc, travel.Note{What: travel.Even})
	require.Equal(t, []float64{-70, 70}, []float64{doc.Setup.Outputs[0].Low, doc.Setup.Outputs[0].High})
	require.Empty(t, travel.Stand(doc.Setup)[0].Even)
	require.Equal(t, []string{" ready", " arm", "xdirection", "xcentre", "xlow", "xhigh"}, steps(doc.Setup))
	require.Len(t, doc.Setup.Stand.Found, 4, "each once")
	doc = noted(t, doc, travel.Note{What: travel.Arm})
	require.Equal(t, []string{" ready", "xarm", " direction", " centre", " low", " high"}, steps(doc.Setup),
		"what was found with the arm elsewhere is to be done again")
}

// TestWhatIsStale: a servo that was exchanged makes what was found with it stale and nothing else; a figure
// that was changed by hand itself alone; another servo on the pin all of it.
func TestWhatIsStale(t *testing.T) {
	doc := standDoc(t)
	for _, of := range []travel.Note{{What: travel.Ready}, {What: travel.Arm}, {What: travel.Direction},
		{What: travel.Centre, Value: 4}, {What: travel.Low, Value: -76}, {What: travel.High, Value: 72}} {
		doc = noted(t, doc, of)
	}
	require.Equal(t, []string{"xready", "xarm", "xdirection", "xcentre", "xlow", "xhigh"}, steps(doc.Setup))
	changed := func(pointer string, to *setup.Node) *setup.Setup {
		tree, err := doc.Tree.Set(pointer, to)
		require.NoError(t, err)
		next, err := setup.FromTree(tree)
		require.NoError(t, err)
		return next.Setup
	}
	s := changed("/devices/0/fitted", setup.TextNode("9 Dec"))
	require.Equal(t, []string{"xready", "!arm", "!direction", "!centre", "!low", "!high"}, steps(s))
	require.Equal(t, "Do 5 steps again: arm, direction, centre, right end and left end.",
		travel.Stand(s)[0].Again)
	require.Equal(t, "Rudder servo was exchanged since", capital(travel.Stand(s)[0].Steps[1].Stale))
	tree, _, err := travel.Apply(&setup.Document{Setup: s, Tree: builtIn(t, doc, "9 Dec")}, "outputs/rudder",
		travel.Note{What: travel.Even})
	require.NoError(t, err)
	even, err := setup.FromTree(tree)
	require.NoError(t, err)
	require.Equal(t, []string{"xready", "!arm", "!direction", "!centre", "!low", "!high"}, steps(even.Setup),
		"what is stale is not measured by being made equal")
	s = changed("/outputs/0/low", setup.NumberNode(-60))
	require.Equal(t, []string{"xready", "xarm", "xdirection", "xcentre", "!low", "xhigh"}, steps(s))
	require.Equal(t, "it was −74 when this was found, and was changed since", travel.Stand(s)[0].Steps[4].Stale)
}

// builtIn gives the tree of a document whose servo was built in on a day.
func builtIn(t *testing.T, doc *setup.Document, day string) *setup.Node {
	t.Helper()
	tree, err := doc.Tree.Set("/devices/0/fitted", setup.TextNode(day))
	require.NoError(t, err)
	return tree
}

func capital(text string) string { return strings.ToUpper(text[:1]) + text[1:] }

// TestWhatCannotBeFound says the place, the value and what to do, and leaves the document alone.
func TestWhatCannotBeFound(t *testing.T) {
	doc := standDoc(t)
	for want, c := range map[string]struct {
		part string
		of   travel.Note
	}{
		"is no function of this model":         {"outputs/nobody", travel.Note{What: travel.Low}},
		"moves neither a servo nor a motor":    {"outputs/lamp", travel.Note{What: travel.Direction}},
		"is no step of the stand":              {"outputs/rudder", travel.Note{What: "paint"}},
		"is no way to find something":          {"outputs/rudder", travel.Note{What: travel.Arm, How: "dreamt"}},
		"leaves Rudder no way to that side":    {"outputs/rudder", travel.Note{What: travel.Low, Value: 5}},
		"use a figure between −90 and +80":     {"outputs/rudder", travel.Note{What: travel.Centre, Value: 80}},
		"open the end further from its centre": {"outputs/rudder", travel.Note{What: travel.High, Value: 151}},
		"is too long for a day; write 40": {"outputs/rudder", travel.Note{What: travel.Arm,
			On: strings.Repeat("d", 41)}},
		"name one, as outputs/rudder":           {"devices/servo", travel.Note{What: travel.Low}},
		"is no way to set an end back":          {"outputs/rudder", travel.Note{What: travel.BackOff, Value: 21}},
		"use ready, arm, direction, centre, lo": {"outputs/rudder", travel.Note{}},
	} {
		_, _, err := travel.Apply(doc, c.part, c.of)
		require.ErrorContains(t, err, want)
	}
	require.Equal(t, [2]float64{-41, 49}, travel.Stand(doc.Setup)[0].Mild)
}

// TestEveryDemoModelHasItsStand: no step is without its sentence, none speaks in ids.
func TestEveryDemoModelHasItsStand(t *testing.T) {
	yard, err := demo.Yard()
	require.NoError(t, err)
	for _, m := range yard {
		list := travel.Stand(m.Doc.Setup)
		require.NotEmpty(t, list, m.Doc.Setup.Name)
		for _, of := range list {
			for _, step := range of.Steps {
				text := fmt.Sprint(step.Title, step.Does, step.Note)
				require.NotContains(t, text, "_", "%s %s", m.Doc.Setup.Name, of.Output)
				require.NotEmpty(t, step.Does)
				require.NotContains(t, text, "  ")
			}
		}
	}
}

// TestTheLastStraightLine: what steers is found rolling, on water for a boat; by the trim the centre
// moves, at the link it stays; a centre that is changed later asks for it again. What steers nothing has
// no such step.
func TestTheLastStraightLine(t *testing.T) {
	text := strings.Replace(standText, "name: Stand\n", "name: Stand\ncraft: {kind: boat}\n"+
		"stage: {parts: [{part: rudder, device: servo}]}\n", 1)
	doc, err := setup.ReadYAML([]byte(text))
	require.NoError(t, err)
	require.Equal(t, []string{" ready", " arm", " direction", " centre", " low", " high", " straight"},
		steps(doc.Setup))
	step := func(doc *setup.Document) travel.Step { return travel.Stand(doc.Setup)[0].Steps[6] }
	require.Contains(t, step(doc).Does, "on calm water")
	require.NotContains(t, fmt.Sprint(travel.Stand(doc.Setup)[1].Steps), "straight", "a screw steers nothing")

	link := noted(t, doc, travel.Note{What: travel.Straight, How: travel.AtLink, Value: 40})
	require.Equal(t, doc.Setup.Outputs[0].Centre, link.Setup.Outputs[0].Centre)
	require.Equal(t, "put in at the link", step(link).Found)
	trim := noted(t, doc, travel.Note{What: travel.Straight, Value: 6.5, On: "2 Dec"})
	require.Equal(t, 6.5, trim.Setup.Outputs[0].Centre)
	require.Equal(t, "measured, 2 Dec", step(trim).Found)
	require.True(t, step(trim).Done)
	moved := noted(t, trim, travel.Note{What: travel.Centre, Value: 3})
	require.Contains(t, step(moved).Stale, "it was +6.5 when this was found")
	require.Equal(t, "Do 1 step again: straight.", travel.Stand(moved.Setup)[0].Again)
	_, _, err = travel.Apply(doc, "outputs/rudder", travel.Note{What: travel.Straight, Value: 95})
	require.ErrorContains(t, err, "is not between the ends")
	car, err := setup.ReadYAML([]byte(strings.Replace(text, "kind: boat", "kind: car", 1)))
	require.NoError(t, err)
	require.Contains(t, step(car).Does, "on the ground")
}

// TestAThrottleAndABrake: one servo works both; each end is called by what it works, and the brake has its
// own advice.
func TestAThrottleAndABrake(t *testing.T) {
	doc, err := setup.ReadYAML([]byte(strings.Replace(standText, "low: -90, high: 80}",
		"low: -90, high: 80, works: {high: throttle, low: brake}}", 1)))
	require.NoError(t, err)
	list := travel.Stand(doc.Setup)[0].Steps
	require.Equal(t, "brake end", list[4].Title)
	require.Contains(t, list[4].Does, "open this end until the brake just reaches its stop.")
	require.Contains(t, list[4].Note, "Set it lower where the arm or the rod of the brake flexes")
	require.Equal(t, "throttle end", list[5].Title)
	require.Contains(t, list[5].Does, "open this end until the throttle just reaches its stop.")
	require.NotContains(t, list[5].Note, "brake")
}

// TestMeasuredAgainstLengths: worked by hand: a rod whose stop lies at 20 degrees of a part that turns as
// the arm does ends at 20/45 of the travel; what was measured is compared with that, and what differs is
// told with what to look at.
func TestMeasuredAgainstLengths(t *testing.T) {
	doc, err := setup.ReadYAML([]byte(strings.Replace(standText, "low: -90, high: 80}",
		"low: -90, high: 80, linkage: {arm_mm: 15, horn_mm: 15, along_mm: 60, stop_low: -20, stop_high: 20}}", 1)))
	require.NoError(t, err)
	require.Empty(t, travel.AgainstLengths(doc.Setup, 0), "nothing was measured yet")
	doc = noted(t, doc, travel.Note{What: travel.Low, Value: -44})
	doc = noted(t, doc, travel.Note{What: travel.High, Value: 30})
	figures := travel.AgainstLengths(doc.Setup, 0)
	require.Len(t, figures, 2)
	require.Equal(t, "Measured and worked out, right: they agree", figures[0].Title+": "+figures[0].Says)
	require.Equal(t, "Measured and worked out, left: they differ by 14", figures[1].Title+": "+figures[1].Says)
	require.Contains(t, figures[1].Note, "It binds before the lengths say")
	require.Contains(t, figures[1].Why[0],
		"It was set to +28, 2 points back from where it binds: +30. By the lengths its "+
			"way ends at +44.")
	doc = noted(t, doc, travel.Note{What: travel.High, Value: 60})
	require.Contains(t, travel.AgainstLengths(doc.Setup, 0)[1].Note, "It goes further than the lengths say")
	guessed := noted(t, doc, travel.Note{What: travel.High, Value: 60, How: travel.Guessed})
	require.Len(t, travel.AgainstLengths(guessed.Setup, 0), 1)
	require.Empty(t, travel.AgainstLengths(doc.Setup, 1))
}
