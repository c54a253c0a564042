package sheet_test

import (
	"testing"

	"github.com/stretchr/testify/require"

	"axtren/core/sheet"
	"axtren/internal/golden"
)

// TestWholeSheets: everything that is keyed in, in its order.
func TestWholeSheets(t *testing.T) {
	for _, m := range golden.Models(t) {
		golden.Equal(t, m.Name, golden.Text(t, sheet.Build(m.Program)))
	}
}

// TestWholeSheetsOfChanges: what an edit leaves to be keyed in, and to be tried again.
func TestWholeSheetsOfChanges(t *testing.T) {
	old := sheet.Build(golden.Models(t)[0].Program)
	for name, m := range map[string]golden.Model{
		"ends": golden.Changed(t, "low: -96, high: 94", "low: -80, high: 94", "slew_s: 2}", "slew_s: 3}"),
		"loss": golden.Changed(t, "loss: {mode: hold}", "loss: {mode: preset, value: -30}",
			"{id: star, label: Starboard track", "{id: star, label: Right track"),
		"pins": golden.Changed(t, "{pin: 7, channel: 7}", "{pin: 7, channel: 8}", "{pin: 8, channel: 8}",
			"{pin: 8, channel: 7}"),
		"receiver": golden.Changed(t, "id: aft\n", "id: bow\n", "aft.", "bow."),
		"removed": golden.Changed(t,
			"  - {id: beep, when: late, steps: [[60, 0.2], [-60, 0.2]], loop: false, rest: -60}\n", "",
			"from: beep", "from: press"),
		"slew": golden.Changed(t, "slew_s: {up: 1.5, down: 0.8}", "slew_s: {up: 1, down: 0}",
			"id: late, block: ton, in: press.on, for_s: 0.4", "id: late, block: ton, in: press.on, for_s: 2",
			"from: beep}", "from: late}"),
		"gains": golden.Changed(t, "gain: {pos: 30, neg: 10}", "gain: {pos: 30, neg: 0}",
			"from: unfold.hatch}", "from: unfold.hatch, gain: {pos: 0, neg: -60}}", "from: blink}",
			"from: blink, gain: {pos: -60, neg: 60}}"),
		"start": golden.Changed(t, "control: gear, is: mid", "control: gear, is: high",
			"control: gas, is: {from: -100, to: -90}", "control: dial, is: {from: -80, to: -60}"),
		"module": golden.Changed(t, "least_channels: 4, most_channels: 16", "least_channels: 1",
			"memory: 7", "memory: 1", "label: sound card", "label: ignition"),
		"module_1": golden.Changed(t, "least_channels: 4, most_channels: 16", "most_channels: 1"),
		"module_2": golden.Changed(t, "least_channels: 4, most_channels: 16",
			"least_channels: 1, most_channels: 4"),
		"set": golden.Changed(t, "name: Test set", "name: Other set", "expo: 20", "expo: 25"),
	} {
		golden.Equal(t, "changes_"+name, golden.Text(t, sheet.Build(m.Program).Changes(old, 4)))
	}
	require.Empty(t, sheet.Build(golden.Models(t)[0].Program).Changes(old, 4).Sections, "nothing was changed")
}
