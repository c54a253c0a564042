package signal_test

import (
	"fmt"
	"math"
	"os"
	"path/filepath"
	"testing"

	"github.com/stretchr/testify/require"
	"pgregory.net/rapid"

	"axtren/core/setup"
	"axtren/core/signal"
)

// aimed compiles a model of one output with a device of a kind.
func aimed(t require.TestingT, output, link, device string) *signal.Program {
	doc, err := setup.ReadYAML(fmt.Appendf(nil, `format: axtren-setup
version: 1
transmitter: {controls: [{id: s, kind: axis}]}
mixes: [{to: o, from: s}]
outputs: [{id: o, channel: 2%s}]
link: {%s}
receivers: [{id: rx, failsafe: {can: [hold, cut, preset], otherwise: hold}, pins: [{pin: 1, channel: 2}]}]
devices: [{id: d, on: rx.1, %s}]
`, output, link, device))
	require.NoError(t, err)
	p, err := signal.Compile(doc.Setup)
	require.NoError(t, err)
	return p
}

// TestTheAimIsWhereADeviceEndsUp: whatever lies between, a device that is given time
// stands where its aim was from the first frame on.
func TestTheAimIsWhereADeviceEndsUp(t *testing.T) {
	rapid.Check(t, func(rt *rapid.T) {
		p := aimed(rt,
			rapid.SampledFrom([]string{"", ", reverse: true", ", slew_s: 3, low: -80, high: 120, centre: 7",
				", reverse: true, slew_s: {up: 1, down: 0}"}).Draw(rt, "output"),
			rapid.SampledFrom([]string{"", "learned_us: {low: 1100, centre: 1480, high: 1900}",
				"one_bit: [2]", "half_rate: [2]", "order: [1, 2]"}).Draw(rt, "link"),
			rapid.SampledFrom([]string{"kind: servo", "kind: servo, speed_s: 2", "kind: esc",
				"kind: esc, reverse: none, learned_us: {neutral: 1000, high: 1900}", "kind: lamp",
				"kind: relay, turns_on: below, at_us: 1400"}).Draw(rt, "device"))
		at := float64(rapid.IntRange(-100, 100).Draw(rt, "hand"))
		st, hands := p.PowerOn(), p.Rest()
		for range 5 {
			p.Step(st, hands)
		}
		hands[0] = at
		p.Step(st, hands)
		p.Step(st, hands)
		aim := p.Aim(0)
		want, ok := aim.Now(st)
		require.True(rt, ok)
		basis := aim.Basis(st)
		for range 500 {
			p.Step(st, hands)
		}
		require.InDelta(rt, want, st.At(p.Devices[0].Value), 1e-9)
		still, _ := aim.Now(st)
		require.Equal(rt, want, still)
		require.Equal(rt, basis[2], aim.Basis(st)[2], "what it looks at has not changed")
		require.True(rt, aim.Reached(st))
	})
}

// TestTheLossIsWhereALostSignalBringsADevice.
func TestTheLossIsWhereALostSignalBringsADevice(t *testing.T) {
	for _, c := range []struct {
		loss, device string
		known        bool
	}{
		{", loss: {mode: preset, value: -40}", "kind: servo", true},
		{", loss: {mode: preset, value: 60}", "kind: esc", true},
		{", loss: {mode: preset, value: 60}", "kind: lamp", true},
		{", loss: {mode: cut}", "kind: esc", true},
		{", loss: {mode: cut}", "kind: servo", false}, // it stays
		{", loss: {mode: hold}", "kind: servo", false},
		{"", "kind: esc", false},
	} {
		p := aimed(t, c.loss, "", c.device)
		aim := p.Aim(0)
		want, known := aim.Loss()
		require.Equal(t, c.known, known, "%s %s", c.loss, c.device)
		st, hands := p.PowerOn(), p.Rest()
		hands[0] = 90
		for range 100 {
			p.Step(st, hands)
		}
		link, _ := p.Hand("link")
		hands[link] = 0
		for range 100 {
			p.Step(st, hands)
		}
		require.False(t, aim.Reached(st))
		if known {
			require.InDelta(t, want, st.At(p.Devices[0].Value), 1e-9, "%s %s", c.loss, c.device)
		}
	}
}

// TestWhatHasNoAim: a leveller, a step box, a pin on which nothing is sent, a set that
// does not send.
func TestWhatHasNoAim(t *testing.T) {
	box := aimed(t, "", "", "kind: step_box, steps: 3")
	st := box.PowerOn()
	box.Step(st, box.Rest())
	aim := box.Aim(0)
	_, ok := aim.Now(st)
	require.False(t, ok)
	silent := aimed(t, "", "order: [5, 6]", "kind: servo")
	st = silent.PowerOn()
	silent.Step(st, silent.Rest())
	aim = silent.Aim(0)
	_, ok = aim.Now(st)
	require.False(t, ok)
	require.False(t, aim.Reached(st))
	off := aimed(t, "", "", "kind: servo")
	st, hands := off.PowerOn(), off.Rest()
	set, _ := off.Hand("transmitter")
	hands[set] = 0
	off.Step(st, hands)
	aim = off.Aim(0)
	_, ok = aim.Now(st)
	require.False(t, ok)
	var nobody signal.Aim
	_, ok = nobody.Loss()
	require.False(t, ok)
}

// TestAskAsksWhatAFrameWould: in every demo model, with random hands, the outputs are
// asked for the same, and nothing beyond them moves.
func TestAskAsksWhatAFrameWould(t *testing.T) {
	paths, err := filepath.Glob("../../demo/*.yaml")
	require.NoError(t, err)
	require.Len(t, paths, 7)
	for _, path := range paths {
		text, err := os.ReadFile(path)
		require.NoError(t, err)
		doc, err := setup.ReadYAML(text)
		require.NoError(t, err)
		p, err := signal.Compile(doc.Setup)
		require.NoError(t, err)
		rapid.Check(t, func(rt *rapid.T) {
			st, hands := p.PowerOn(), p.Rest()
			for range 3 {
				p.Step(st, hands)
			}
			for i, c := range doc.Setup.Transmitter.Controls {
				if c.Axis != nil {
					hands[i] = math.Round(rapid.Float64Range(-100, 100).Draw(rt, "axis"))
				}
			}
			asked, stepped := p.PowerOn(), p.PowerOn()
			asked.CopyFrom(st)
			stepped.CopyFrom(st)
			p.Ask(asked, hands)
			p.Step(stepped, hands)
			for i, r := range p.Routes {
				require.Equal(rt, stepped.At(r.Asked), asked.At(r.Asked), "%s %s", path,
					doc.Setup.Outputs[i].ID)
				require.Equal(rt, stepped.At(r.US), asked.At(r.US))
			}
			for _, d := range p.Devices {
				if d.Value != signal.None {
					require.Equal(rt, st.At(d.Value), asked.At(d.Value))
				}
			}
		})
	}
}

// TestHandWordsAreReadBack: what a hand is called is what a script takes.
func TestHandWordsAreReadBack(t *testing.T) {
	p := aimed(t, "", "", "kind: servo")
	for id, values := range map[string][]float64{"s": {-100, 0, 37.5}, "link": {0, 1}, "transmitter": {0, 1},
		"rx": {0, 1}} {
		for _, v := range values {
			got, err := p.HandValue(id, p.HandWord(id, v))
			require.NoError(t, err)
			require.Equal(t, v, got)
		}
	}
}
