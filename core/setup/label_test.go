package setup

import (
	"testing"

	"github.com/stretchr/testify/require"
)

func labelled(t *testing.T, text string) *Setup {
	doc, err := ReadYAML([]byte("format: axtren-setup\nversion: 1\n" + text))
	require.NoError(t, err)
	return doc.Setup
}

// TestWhatHasNoLabelIsCalledByWhatItDoes, and never by its id.
func TestWhatHasNoLabelIsCalledByWhatItDoes(t *testing.T) {
	s := labelled(t, `
transmitter: {controls: [
    {id: c_wheel, kind: axis, form: wheel}, {id: c_trigger, kind: axis, form: trigger},
    {id: c_up, kind: axis, stick: left, along: y}, {id: c_side, kind: axis, stick: left, along: x},
    {id: c_one, kind: axis}, {id: c_named, kind: axis, label: Dial}, {id: c_two, kind: axis},
    {id: c_press, kind: switch, positions: ["off", press], spring_to: "off"},
    {id: c_stay, kind: switch, positions: [back, front]},
    {id: c_rock, kind: switch, positions: [up, rest, down], spring_to: rest}]}
demands: [{id: d_soft, from: c_up}, {id: d_of_it, from: d_soft}, {id: d_fixed, from: -20}]
logic: [{id: b_lit, block: toggle, in: c_press.press}, {id: b_far, block: above, of: c_one, level: 5},
    {id: b_free, block: and, in: [c_stay.front]}]
steppers: [{id: s_up, up: c_rock.up, steps: [{name: low, value: 0}, {name: high, value: 9}]}]
sequences: [{id: q_out, go: c_stay.front, tracks: {left_leg: [[0, 0], [1, 9]]}}]
patterns: [{id: p_blink, when: b_lit, steps: [[9, 1]]}]
mixes: [{to: o_lamp, from: p_blink}, {to: o_boom, from: s_up, when: b_far}, {id: m_leg, to: o_boom,
    from: q_out.left_leg}, {to: o_boom, from: o_lamp.asked}, {to: o_lamp, from: 30}, {to: o_lamp, from: p_blink}]
shares: [{outputs: [o_boom, o_lamp], rule: clip}]
outputs: [{id: o_lamp, channel: 4}, {id: o_boom, label: Boom, channel: 2}]
receivers: [{id: r_one, pins: [{pin: 2, channel: 4}]}, {id: r_two, label: Stern, pins: [{pin: 5, channel: 2}]}]
devices: [{id: x_bulb, on: r_one.2, kind: lamp}, {id: x_spare, on: r_one.2, kind: lamp}, {id: x_level,
    on: r_two.5, kind: leveller}, {id: x_arm, on: x_level, kind: servo}]
`)
	called := map[ItemKind][]string{}
	for kind := IsControl; kind <= IsShare; kind++ {
		for i := range listings[kind].count(s) {
			called[kind] = append(called[kind], s.Label(kind.At(i)))
		}
	}
	require.Equal(t, map[ItemKind][]string{
		IsControl: {"Wheel", "Trigger", "Left stick, up and down", "Left stick, left and right", "Lever 1", "Dial",
			"Lever 3", "Button 1", "Switch 1", "Switch 2"},
		IsDemand: {"Feel of Left stick, up and down", "Feel of Feel of Left stick, up and down",
			"Feel of always −20"},
		IsBlock:    {"Rule for Channel 4", "Rule for Boom", "Rule 3"},
		IsStepper:  {"Steps for Boom"},
		IsSequence: {"Sequence for Boom"},
		IsPattern:  {"Pattern for Channel 4"},
		IsMix: {"Pattern for Channel 4 to Channel 4", "Steps for Boom to Boom",
			"Sequence for Boom, left leg to Boom",
			"Channel 4 as asked to Boom", "Always 30 to Channel 4", "Pattern for Channel 4 to Channel 4 (2)"},
		IsShare:    {"Boom and Channel 4"},
		IsOutput:   {"Channel 4", "Boom"},
		IsReceiver: {"Receiver 1", "Stern"},
		IsDevice: {"Lamp on Receiver 1, pin 2", "Lamp on Receiver 1, pin 2 (2)", "Leveller on Stern, pin 5",
			"Servo behind Leveller on Stern, pin 5"},
	}, called)
	require.Equal(t, "Boom", s.Named("o_boom"))
	require.Equal(t, "no such part", s.Named("no_such_part"))
}

// TestALabelOfTheirOwnCountsToo: what is called by what it does is not called as another part.
func TestALabelOfTheirOwnCountsToo(t *testing.T) {
	s := labelled(t, `outputs: [{id: a, channel: 3}, {id: b, label: Channel 3, channel: 4}]`)
	require.Equal(t, "Channel 3 (2)", s.Label(IsOutput.At(0)))
	require.Equal(t, "Channel 3", s.Label(IsOutput.At(1)))
}
