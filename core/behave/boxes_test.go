package behave_test

import (
	"testing"

	"github.com/stretchr/testify/require"

	"axtren/core/behave"
	"axtren/core/setup"
)

// boxDoc is a model with a step box on a pin; more stands in the box, can is what the receiver can do at
// a loss.
func boxDoc(t *testing.T, more, loss, can string) *setup.Document {
	doc, err := setup.ReadYAML([]byte(`format: axtren-setup
version: 1
transmitter: {controls: [{id: lever, kind: axis}]}
outputs: [{id: legs, label: Legs, channel: 1` + loss + `}]
mixes: [{to: legs, from: lever}]
receivers: [{id: rx, failsafe: {can: [` + can + `]}, pins: [{pin: 1, channel: 1}]}]
devices: [{id: box, label: Legs box, on: rx.1, kind: step_box, steps: 3, start: 2` + more + `}]
`))
	require.NoError(t, err)
	return doc
}

const boxChart = `, chart: {label: Small chart, enters: hold its button, up: "press its button, short", next: wait,
  keeps: let go, levels: [{sets: steps, values: [{code: 1, is: 2}, {code: 2, is: 3}]},
  {sets: loss, values: [{code: 1, is: 0}, {code: 3, is: 1}]}]}`

// TestAStepBoxIsSet step by step, by its own chart, from the caution to the trial.
func TestAStepBoxIsSet(t *testing.T) {
	boxes := behave.Boxes(boxDoc(t, ", loss: 1"+boxChart, "", "hold"))
	require.Len(t, boxes, 1)
	require.Equal(t,
		"steps on each time Legs comes above +50 %, and back below −50 %: 3 steps, the first of them is "+
			"step 2; when its pulses stop it goes to step 1.", boxes[0].Says)
	require.Equal(t, []string{
		"Take its linkage off, or keep fingers clear: the box moves what hangs on it.",
		"Hold its button.",
		"Level 1, how many steps it has: its lamp is to flash 2 times, which means 3 steps: press " +
			"its button, short, " +
			"until it does.",
		"Wait.",
		"Level 2, where it goes when its pulses stop: its lamp is to flash 3 times, which means " +
			"step 1: press its button, " +
			"short, until it does.",
		"Let go.",
		"Try it with Legs: 2 times on and it stands at its last step, and stays there; then back as often."},
		boxes[0].Program)
	require.Empty(t, boxes[0].Refused)
	// the chart that is told is the one that is read
	read, problems := setup.ParseYAML([]byte(boxes[0].Text))
	require.Nil(t, problems)
	require.Equal(t, "Small chart", read.Get("label").Text)
}

// TestWhatAChartHasNot is told with what it has, and nothing is counted for it.
func TestWhatAChartHasNot(t *testing.T) {
	boxes := behave.Boxes(boxDoc(t, ", loss: 3"+boxChart, "", "cut"))
	require.Equal(t,
		[]string{"Level 2, where it goes when its pulses stop: the chart has nothing for step 3. It has " +
			"it stays and step 1."}, boxes[0].Refused)
	for _, step := range boxes[0].Program {
		require.NotContains(t, step, "Level 2")
	}
	bare := behave.Boxes(boxDoc(t, "", "", "cut"))
	require.Empty(t, bare[0].Program)
	require.Empty(t, bare[0].Chart)
}

// TestTheBlindSpotOfABox: behind a receiver that holds, or goes to a position, it never learns of a loss.
func TestTheBlindSpotOfABox(t *testing.T) {
	for _, one := range []struct{ more, loss, can, want string }{
		{", loss: 1", "", "hold", "holds the last pulse"},
		{", loss: 1", ", loss: {mode: preset, value: 0}", "preset", "takes that for a command"},
		{", loss: 1", ", loss: {mode: cut}", "cut", ""},
		{"", "", "hold", ""}, // it stays in any case
	} {
		boxes := behave.Boxes(boxDoc(t, one.more, one.loss, one.can))
		if one.want == "" {
			require.Empty(t, boxes[0].Blind)
			continue
		}
		require.Contains(t, boxes[0].Blind, one.want)
	}
}

// TestChartsOfBoxesThatAreWrong name the place.
func TestChartsOfBoxesThatAreWrong(t *testing.T) {
	for _, one := range []struct{ levels, want string }{
		{"[{sets: steps, values: [{code: 1, is: 2}, {code: 1, is: 3}]}]",
			"devices[0].chart.levels[0].values[1].code"},
		{"[{sets: steps, values: [{code: 1, is: 2}]}, {sets: steps, values: [{code: 1, is: 2}]}]",
			"devices[0].chart.levels[1].sets"},
		{"[{sets: colour, values: [{code: 1, is: 2}]}]", "devices[0].chart.levels[0].sets"},
		{"[]", "devices[0].chart.levels"},
	} {
		_, err := setup.ReadYAML([]byte(`format: axtren-setup
version: 1
devices: [{id: box, on: rx.1, kind: step_box, steps: 3, chart: {levels: ` + one.levels + `}}]
receivers: [{id: rx, pins: [{pin: 1, channel: 1}]}]
`))
		require.ErrorContains(t, err, one.want)
	}
}
