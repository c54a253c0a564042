package signal

import (
	"bytes"
	"strings"
	"testing"

	"github.com/stretchr/testify/require"
)

// TestTheFirstDemandReadsTheFrameBefore inside a ring, as every other does: the latch that
// it feeds is set a frame before it hears of it.
func TestTheFirstDemandReadsTheFrameBefore(t *testing.T) {
	p := compileYAML(t, `
transmitter: {controls: [{id: press, kind: switch, positions: [off, on]}]}
demands: [{id: first, from: latch}]
logic: [{id: high, block: above, of: first, level: 50}, {id: latch, block: sr, set: press.on, reset: high}]
mixes: [{to: o, from: first}]
outputs: [{id: o, channel: 1}]`)
	st, hands := p.PowerOn(), p.Rest()
	var got []float64
	for k := range 6 {
		hands[0] = 0
		if k == 1 {
			hands[0] = 1
		}
		p.Step(st, hands)
		got = append(got, st.At(p.Demands[0].Out), st.At(p.BlockSlot(1)))
	}
	require.Equal(t, []float64{-100, 0, -100, 1, 100, 0, -100, 0, -100, 0, -100, 0}, got)
}

// TestADemandIsLimitedWhereverItComesFrom: 150 with a dead band of 50 would be 200.
func TestADemandIsLimitedWhereverItComesFrom(t *testing.T) {
	p := compileYAML(t, `
demands: [{id: far, from: 150}, {id: further, from: far, deadband: 50},
    {id: number, from: 150, deadband: 50}]`)
	st := p.PowerOn()
	p.Step(st, p.Rest())
	require.Equal(t, []float64{150, 150, 150}, []float64{st.At(p.Demands[0].Out), st.At(p.Demands[1].Out),
		st.At(p.Demands[2].Out)})
}

// TestTheLastChannelOfALink arrives, the next does not.
func TestTheLastChannelOfALink(t *testing.T) {
	p := compileYAML(t, `
link: {channels: 4}
outputs: [{id: last, channel: 4}, {id: beyond, channel: 5}]
receivers: [{id: rx, pins: [{pin: 1, channel: 4}, {pin: 2, channel: 5}]}]`)
	st := p.PowerOn()
	p.Step(st, p.Rest())
	require.Equal(t, []float64{1500, 0}, []float64{st.At(p.Pins[0][0].US), st.At(p.Pins[0][1].US)})
	require.Contains(t, p.WhyPin(st, p.Pins[0][1].PinRef).Text(), "nothing is sent on it")
	require.NotContains(t, p.WhyPin(st, p.Pins[0][0].PinRef).Text(), "nothing is sent on it")
}

// TestAModuleGoesNoFurtherThan150: 1500 + 150 × 5 us, where the pulse itself may go further.
func TestAModuleGoesNoFurtherThan150(t *testing.T) {
	p := compileYAML(t, `
transmitter: {pulse: {min_us: 500, max_us: 2500}}
link: {learned_us: {low: 1400, centre: 1500, high: 1600}}
mixes: [{to: o, from: 100}, {to: p, from: -100}]
outputs: [{id: o, channel: 1}, {id: p, channel: 2}]
receivers: [{id: rx, pins: [{pin: 1, channel: 1}, {pin: 2, channel: 2}]}]`)
	st := p.PowerOn()
	p.Step(st, p.Rest())
	require.Equal(t, []float64{2250, 750}, []float64{st.At(p.Pins[0][0].US), st.At(p.Pins[0][1].US)})
}

// TestTheBordersOfAStartCheck are part of it.
func TestTheBordersOfAStartCheck(t *testing.T) {
	p := compileYAML(t, `
transmitter: {controls: [{id: a, kind: axis, spring: none}]}
start_check: [{control: a, is: {from: -20, to: 30}}]`)
	for at, waits := range map[float64]bool{-20.5: true, -20: false, 0: false, 30: false, 30.5: true} {
		st, hands := p.PowerOn(), p.Rest()
		hands[0] = at
		p.Step(st, hands)
		require.Equal(t, !waits, p.Sending(st), at)
		if waits {
			require.Equal(t, []int{0}, p.WaitsFor(st), at)
			// once it sends, it waits no more
			hands[0] = 5
			p.Step(st, hands)
			require.Empty(t, p.WaitsFor(st))
		}
	}
	// what is off waits for nothing
	st, hands := p.PowerOn(), p.Rest()
	hands[0] = 90
	off, _ := p.Hand("transmitter")
	hands[off] = 0
	p.Step(st, hands)
	require.Empty(t, p.WaitsFor(st))
}

// TestAServoIsLeftSomewhereAtTheStart alone.
func TestAServoIsLeftSomewhereAtTheStart(t *testing.T) {
	p := compileYAML(t, `
outputs: [{id: o, channel: 1}]
receivers: [{id: rx, pins: [{pin: 1, channel: 1}]}]
devices: [{id: s, on: rx.1, kind: servo, speed_s: 2, left_at: unknown}]`)
	run := func(at string) error {
		return p.Run(NewScript(strings.NewReader("t_s,control,value\n"+at+",s,50\n"), p), 1,
			func(float64, *State) error { return nil })
	}
	require.NoError(t, run("0"))
	for _, at := range []string{"0.02", "0.5", "1"} {
		require.ErrorContains(t, run(at), "where a servo was left is chosen at the start", at)
	}
}

// TestTheHeadOfAVCD declares each column by its kind and size (IEEE 1364, 18.2).
func TestTheHeadOfAVCD(t *testing.T) {
	p := compileYAML(t, `
transmitter: {controls: [{id: press, kind: switch, positions: [off, on]}]}
logic: [{id: b, block: or, in: [press.on]}]
steppers: [{id: gear, label: Gear, up: press.on, steps: [{name: low, value: 0}, {name: high, value: 100}]}]
outputs: [{id: o, channel: 1}]`)
	var out bytes.Buffer
	v, err := NewVCD(&out, p)
	require.NoError(t, err)
	require.NoError(t, p.Run(NewScript(nil, p), 0.02, v.Frame))
	require.NoError(t, v.Close())
	head, _, _ := strings.Cut(out.String(), "$enddefinitions")
	require.Equal(t, `$version axtren $end
$timescale 1us $end
$scope module setup $end
$var real 64 ! o_pct $end
$var real 64 " o_us $end
$var wire 1 # b $end
$var integer 32 $ gear $end
$upscope $end
`, head)
}

// TestWhatABlockReadsIsSaid, each truth as it stands at the end of the frame.
func TestWhatABlockReadsIsSaid(t *testing.T) {
	p := compileYAML(t, `
transmitter: {controls: [{id: press, label: Press, kind: switch, positions: [off, on]}]}
logic: [{id: held, label: Held, block: or, in: [press.on]},
    {id: any, block: or,
    in: [power_on, not power_on, press.off, press.on, not press.on, held, not held, gear.low, gear.high, unfold.rest, unfold.moving, unfold.done]}]
steppers: [{id: gear, label: Gear, up: press.on, steps: [{name: low, value: 0}, {name: high, value: 100}]}]
sequences: [{id: unfold, label: Unfold, go: press.on, tracks: {leg: [[0, 0], [0.04, 100]]}}]
mixes: [{to: o, from: any}]
outputs: [{id: o, channel: 1}]`)
	st, hands := p.PowerOn(), p.Rest()
	var got []string
	for k := range 5 {
		hands[0] = truth(k > 0)
		p.Step(st, hands)
		r := p.Why(st, 0)
		for r.Path != "logic[1]" {
			require.NotEmpty(t, r.From, p.Why(st, 0).Text())
			r = r.From[0]
		}
		holding := ""
		for _, from := range r.From {
			require.Equal(t, from.Value != 0, from.Sum == "yes", from.Name)
			if from.Value != 0 {
				holding += from.Name + ", "
			}
		}
		require.Len(t, r.From, 12)
		got = append(got, strings.TrimSuffix(holding, ", "))
	}
	require.Equal(t, []string{
		"the first moment after power-on, Press at off, Press not at on, Held is off, Gear at low, Unfold rest",
		"any time but the first moment, Press at on, Held is on, Gear at high, Unfold moving",
		"any time but the first moment, Press at on, Held is on, Gear at high, Unfold done",
		"any time but the first moment, Press at on, Held is on, Gear at high, Unfold done",
		"any time but the first moment, Press at on, Held is on, Gear at high, Unfold done",
	}, got)
}
