package record_test

import (
	"testing"

	"github.com/stretchr/testify/require"

	"axtren/core/record"
)

// TestWhatHappenedIsSaid in whole words, each kind of it.
func TestWhatHappenedIsSaid(t *testing.T) {
	for _, c := range []struct {
		of    record.Happened
		craft string
		head  string
		more  []string
	}{
		{record.Happened{Kind: "note", Says: "The mast leans.\n\nA little."}, "boat", "The mast leans.",
			[]string{"A little."}},
		{record.Happened{Kind: "note", Says: "One line."}, "boat", "One line.", []string{}},
		{record.Happened{Kind: "run", Minutes: 41, Battery: "battery 2", Says: "4.9 V"}, "boat",
			"41 min on the water, battery 2", []string{"4.9 V"}},
		{record.Happened{Kind: "run", Minutes: 120}, "tracked", "2 h of running", []string{}},
		{record.Happened{Kind: "run", Minutes: 61}, "amphibian", "1 h 1 min on the water", []string{}},
		{record.Happened{Kind: "fault", What: "hums at rest", Says: "arm freed"}, "car", "Hums at rest",
			[]string{"Mended: arm freed"}},
		{record.Happened{Kind: "fault", Label: "Rudder servo", What: "hums"}, "boat", "Rudder servo: hums",
			[]string{}},
		{record.Happened{Kind: "value", Label: "Hoist", What: "timing", Becomes: "12"}, "boat",
			"Hoist: timing set to 12", []string{"With its own program."}},
		{record.Happened{Kind: "value", Label: "Hoist", What: "timing", Was: "8", Becomes: "12", Says: "both"},
			"boat",
			"Hoist: timing changed from 8 to 12", []string{"With its own program.", "both"}},
		{record.Happened{Kind: "exchange", What: "Rudder servo was exchanged", Says: "it hummed"}, "boat",
			"Rudder servo was exchanged", []string{"it hummed"}},
		{record.Happened{Kind: "walk", What: "Tried, signed by a founder", Battery: "battery 1", Says: "calm"},
			"boat", "Tried, signed by a founder",
			[]string{"Battery 1", "calm"}},
	} {
		require.Equal(t, c.head, c.of.Head(c.craft))
		require.Equal(t, c.more, c.of.More(), c.head)
	}
}

// TestHowLongItWasRun: in all, then by battery; the last figure of each value.
func TestHowLongItWasRun(t *testing.T) {
	require.Empty(t, record.Totals(nil, "boat"))
	require.Equal(t, []string{"2 h 5 min of running in all, 3 times.", "Battery 2: 1 h 5 min, 2 times."},
		record.Totals([]record.Run{{Battery: "battery 2", Minutes: 65, Times: 2}, {Minutes: 60, Times: 1}},
			"truck"))
	require.Equal(t, []string{"A: timing, 9", "B: timing, 8"}, record.Values([]record.Happened{
		{Kind: "value", Label: "A", What: "timing", Becomes: "7"}, {Kind: "value", Label: "B", What: "timing",
			Becomes: "8"},
		{Kind: "note", Says: "x"}, {Kind: "value", Label: "A", What: "timing", Was: "7", Becomes: "9"}}))
}
