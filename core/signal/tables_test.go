package signal

import (
	"fmt"
	"strings"
	"testing"

	"github.com/stretchr/testify/require"

	"axtren/core/setup"
)

// The tables here were worked out by hand, a digit a frame, at 50 ms a frame:
// for_s 0.1 is two frames. Truth tables of SR and RS, and the diagrams of
// R_TRIG, F_TRIG, TON, TOF and TP, are those of IEC 61131-3, standard function
// blocks (memory); what differs at power-on is ours.

const twoSwitches = `
transmitter:
  frame_ms: 50
  controls: [{id: a, kind: switch, positions: ["0", "1"]}, {id: b, kind: switch, positions: ["0", "1"]},
      {id: x, kind: axis, spring: none}]
`

// playBits runs rows of digits, one a switch, and gives what a slot held in
// each frame.
func playBits(p *Program, slot Slot, rows ...string) string {
	st, hands := p.PowerOn(), p.Rest()
	var out strings.Builder
	for k := range rows[0] {
		for i, row := range rows {
			hands[i] = float64(row[k] - '0')
		}
		p.Step(st, hands)
		fmt.Fprintf(&out, "%.0f", st.At(slot))
	}
	return out.String()
}

func TestBlockTables(t *testing.T) {
	for _, c := range []struct{ block, a, b, want string }{
		{"block: and, in: [a.1, b.1]", "0011", "0101", "0001"},
		{"block: or, in: [a.1, b.1]", "0011", "0101", "0111"},
		{"block: xor, in: [a.1, b.1]", "0011", "0101", "0110"},
		{"block: xor, in: [a.1, b.1, a.1, not b.1]", "0011", "0101", "1111"}, // odd parity: a and a cancel
		{"block: and, in: [not a.1]", "0011", "0000", "1100"},
		{"block: sr, set: a.1, reset: b.1", "010010", "000110", "011011"}, // set wins
		{"block: rs, set: a.1, reset: b.1", "010010", "000110", "011000"}, // reset wins
		{"block: sr, set: a.1, reset: b.1, start: true", "0000", "0010", "1100"},
		{"block: sr, set: a.1, reset: b.1", "1000", "0000", "1111"}, // acts in the first frame as in any
		{"block: r_trig, in: a.1", "0110100", "0000000", "0100100"},
		{"block: r_trig, in: a.1", "1101", "0000", "0001"}, // thrown at power-on: fires nothing
		{"block: f_trig, in: a.1", "1001011", "0000000", "0100100"},
		{"block: toggle, in: a.1", "010110", "000000", "011000"},
		{"block: toggle, in: a.1", "1101", "0000", "0001"},
		// held false while reset is true
		{"block: toggle, in: a.1, reset: b.1", "0101010", "0001100", "0110011"},
		{"block: toggle, in: a.1, start: true", "0010", "0000", "1100"},
		{"block: ton, in: a.1, for_s: 0.1", "011110110", "000000000", "000110000"},
		{"block: ton, in: a.1, for_s: 0", "0110", "0000", "0110"},
		{"block: tof, in: a.1, for_s: 0.1", "1100010000", "0000000000", "1111011100"},
		// starts false if its input does
		{"block: tof, in: a.1, for_s: 0.1", "0001", "0000", "0001"},
		// not restarted while it runs
		{"block: tp, in: a.1, for_s: 0.15", "01010000", "00000000", "01110000"},
		// a rise in the very frame fires anew
		{"block: tp, in: a.1, for_s: 0.1", "0101010", "0000000", "0111111"},
		{"block: tp, in: a.1, for_s: 0.1", "1100", "0000", "0000"},
		{"block: tp, in: a.1, for_s: 0", "0100", "0000", "0000"},
		{"block: or, in: [power_on]", "0000", "0000", "1000"},
	} {
		p := compileYAML(t, twoSwitches+"logic: [{id: q, "+c.block+"}]")
		require.Equal(t, c.want, playBits(p, p.nodeValue[setup.IsBlock][0], c.a, c.b), c.block)
	}
}

func TestThresholdTables(t *testing.T) {
	for _, c := range []struct {
		block string
		x     []float64
		want  string
	}{
		{"block: above, of: x, level: 50, hysteresis: 10", []float64{0, 50, 45, 40, 39.9, 50}, "011101"},
		{"block: below, of: x, level: -50, hysteresis: 10", []float64{-45, -50, -45, -40, -39.9}, "01110"},
		{"block: between, of: x, from: -10, to: 10, hysteresis: 5",
			[]float64{12, 10, 15, 15.1, 12, -10, -15, -15.1}, "01100110"},
	} {
		p := compileYAML(t, twoSwitches+"logic: [{id: q, "+c.block+"}]")
		st := p.PowerOn()
		got := ""
		for _, x := range c.x {
			p.Step(st, Hands{0, 0, x})
			got += fmt.Sprintf("%.0f", st.At(p.nodeValue[setup.IsBlock][0]))
		}
		require.Equal(t, c.want, got, c.block)
	}
}

func TestStepperTables(t *testing.T) {
	steps := "steps: [{name: p, value: 0}, {name: q, value: 1}, {name: r, value: 2}]"
	for _, c := range []struct{ stepper, a, b, want string }{
		// two presses reach the third, more do nothing
		{"up: a.1, down: b.1, " + steps, "0101010", "0000000", "0112222"},
		{"up: a.1, down: b.1, start: q, " + steps, "00010", "01010", "10000"},
		{"up: a.1, down: b.1, " + steps, "01000", "01010", "00000"}, // both in one frame cancel
		{"up: a.1, wrap: true, " + steps, "0101010", "0000000", "0112200"},
		{"down: b.1, wrap: true, " + steps, "0000", "0101", "0221"},
		{"up: a.1, home: b.1, " + steps, "0101011", "0000110", "0112000"}, // an edge during home is lost
		{"up: a.1, repeat_s: 0.1, " + steps, "0111111", "0000000", "0112222"},
		// held at power-on: pressed anew
		{"up: a.1, repeat_s: 0.1, " + steps, "1111101", "0000000", "0000001"},
		{"up: a.1, repeat_s: 0.1, home: b.1, " + steps, "0111110111", "0011000000", "0100000112"},
	} {
		p := compileYAML(t, twoSwitches+"steppers: [{id: s, "+c.stepper+"}]")
		require.Equal(t, c.want, playBits(p, p.nodeValue[setup.IsStepper][0], c.a, c.b), c.stepper)
	}
}

func TestSequenceTables(t *testing.T) {
	for _, c := range []struct {
		interrupt, run string
		want           []float64 // seconds
	}{
		{"turn_back", "0111001", []float64{0, 0.05, 0.1, 0.15, 0.1, 0.05, 0.1}},
		// at power-on it is where go says
		{"turn_back", "1100000", []float64{0.2, 0.2, 0.15, 0.1, 0.05, 0, 0}},
		{"finish", "01000000", []float64{0, 0.05, 0.1, 0.15, 0.2, 0.15, 0.1, 0.05}},
		{"finish", "1011111", []float64{0.2, 0.15, 0.1, 0.05, 0, 0.05, 0.1}},
	} {
		p := compileYAML(t, twoSwitches+"sequences: [{id: s, go: a.1, interrupt: "+c.interrupt+
			", tracks: {door: [[0.1, -100], [0.2, 100]]}}]\nmixes: [{to: o, from: s.door}]\noutputs: [{id: "+
			"o, channel: 1}]")
		st := p.PowerOn()
		for k, want := range c.want {
			p.Step(st, Hands{float64(c.run[k] - '0'), 0, 0})
			require.InDelta(t, want, st.At(p.nodeValue[setup.IsSequence][0]), 1e-12, "%s, frame %d", c.run, k)
			require.InDelta(t, clamp(-100+(want-0.1)*2000, -100, 100), st.At(p.Routes[0].P), 1e-9)
		}
	}
}

func TestPatternTable(t *testing.T) {
	p := compileYAML(t,
		twoSwitches+
			"patterns: [{id: l, when: a.1, steps: [[1, 0.1], [2, 0.05]], rest: 0}, {id: m, when: a.1, "+
			"steps: [[1, 0.07], [2, 0.05], [3, 0]], rest: 9, loop: false}]")
	require.Equal(t, "0112112001", playBits(p, p.nodeValue[setup.IsPattern][0], "0111111001", "0000000000"))
	// ends at 0.07 and 0.12 s: the first is over in the frame at 0.10, both at 0.15
	require.Equal(t, "9112333991", playBits(p, p.nodeValue[setup.IsPattern][1], "0111111001",
		"0000000000")[:10])
}

// TestFeedbackReadsTheFrameBefore: a button that steps a latch through its own
// output, and a timer that restarts itself.
func TestFeedbackReadsTheFrameBefore(t *testing.T) {
	p := compileYAML(t, twoSwitches+`
logic:
  - {id: edge, block: r_trig, in: a.1}
  - {id: on, block: and, in: [edge, not lamp]}
  - {id: off, block: and, in: [edge, lamp]}
  - {id: lamp, block: sr, set: on, reset: off}
  - {id: tick, block: ton, in: not tick, for_s: 0.1}`)
	require.Equal(t, "0110011", playBits(p, p.nodeValue[setup.IsBlock][3], "0101010", "0000000"),
		"press on, press off")
	require.Equal(t, "0010001000", playBits(p, p.nodeValue[setup.IsBlock][4], "0000000000", "0000000000"))
}

// TestTwoWaysToConfirmASelector: a lever chooses and a button acts, in four
// blocks or in three; the same for every way to move both, and it wakes off
// (common practice, no source).
func TestTwoWaysToConfirmASelector(t *testing.T) {
	p := compileYAML(t, twoSwitches+`
logic:
  - {id: press, block: r_trig, in: b.1}
  - {id: wants_on, block: and, in: [press, a.1]}
  - {id: wants_off, block: and, in: [press, a.0]}
  - {id: four, block: rs, set: wants_on, reset: wants_off}
  - {id: three, block: sr, set: wants_on, reset: press}`)
	for n := range 1 << 12 {
		a, b := fmt.Sprintf("%06b", n&63), fmt.Sprintf("%06b", n>>6)
		four := playBits(p, p.nodeValue[setup.IsBlock][3], a, b)
		require.Equal(t, four, playBits(p, p.nodeValue[setup.IsBlock][4], a, b))
		require.Equal(t, "0", four[:1])
	}
}

// TestPositionsAreEvenlySpaced: common practice, no source.
func TestPositionsAreEvenlySpaced(t *testing.T) {
	for n, want := range map[int][]float64{2: {-100, 100}, 3: {-100, 0, 100},
		4: {-100, -100.0 / 3, 100.0 / 3, 100}, 5: {-100, -50, 0, 50, 100}} {
		for i, v := range want {
			require.InDelta(t, v, spread(float64(i), float64(n-1)), 1e-12)
		}
	}
}

// TestThresholdsCutALever: -60 and +20 cut its travel 20 : 40 : 40; the channel
// itself is unchanged (common practice, no source).
func TestThresholdsCutALever(t *testing.T) {
	p := compileYAML(t, twoSwitches+`
logic: [{id: lo, block: below, of: x, level: -60}, {id: hi, block: above, of: x, level: 20}]
mixes: [{to: o, from: x}]
outputs: [{id: o, channel: 1}]`)
	st := p.PowerOn()
	var lo, hi int
	for x := -99.95; x < 100; x += 0.1 {
		p.Step(st, Hands{0, 0, x})
		lo += int(st.At(p.nodeValue[setup.IsBlock][0]))
		hi += int(st.At(p.nodeValue[setup.IsBlock][1]))
		require.InDelta(t, x, st.At(p.Routes[0].P), 1e-9)
	}
	require.Equal(t, [2]int{400, 800}, [2]int{lo, hi}, "of 2000 places")
}

// TestTwoExchangesAreNone: exchanged at the set and again at the module
// (common practice, no source).
func TestTwoExchangesAreNone(t *testing.T) {
	text := twoSwitches +
		"mixes: [{to: o, from: x}, {to: p, from: x, gain: -50}]\noutputs: [{id: o, channel: %d}, {id: p, " +
		"channel: %d}]\nlink: {order: [%s]}\nreceivers: [{id: r, pins: [{pin: 1, channel: 1}, {pin: 2, " +
		"channel: 2}]}]"
	plain, twice := compileYAML(t, fmt.Sprintf(text, 1, 2, "")), compileYAML(t,
		fmt.Sprintf(text, 2, 1, "2, 1"))
	a, b := step(plain, 0, 0, 60), step(twice, 0, 0, 60)
	for pin := range 2 {
		require.Equal(t, a.At(plain.Pins[0][pin].US), b.At(twice.Pins[0][pin].US))
	}
}

// TestFritschAndCarlsonsData: RPN 14, table 1 of the paper of 1980 (memory). The
// points rise, steeply and then hardly; the curve does too, and passes no end.
func TestFritschAndCarlsonsData(t *testing.T) {
	points := []setup.Point{{7.99, 0}, {8.09, 2.76429e-5}, {8.19, 4.37498e-2}, {8.7, 0.169183},
		{9.2, 0.469428}, {10, 0.943740}, {12, 0.998636}, {15, 0.999919}, {20, 0.999994}}
	cv := newCurve(points, true)
	last := cv.at(7.99)
	for x := 7.99; x <= 20; x += 0.001 {
		y := cv.at(x)
		require.GreaterOrEqual(t, y, last-1e-12, "at %g", x)
		require.LessOrEqual(t, y, 0.999994+1e-12)
		last = y
	}
	for _, p := range points {
		require.InDelta(t, p[1], cv.at(p[0]), 1e-12)
	}
}

// onePin is a model with one axis on one pin of a receiver.
func onePin(t *testing.T, loss, failsafe, device string) *Program {
	return compileYAML(t, `
transmitter: {frame_ms: 50, controls: [{id: x, kind: axis, spring: none}]}
mixes: [{to: o, from: x}]
outputs: [{id: o, channel: 1`+loss+`}]
receivers: [{id: r, loss_after_s: 0.1, failsafe: {`+failsafe+`}, pins: [{pin: 1, channel: 1}]}]
devices: [`+device+`]`)
}

// playLink runs the axis and the link, + for up, and gives the pulses of the pin.
func playLink(p *Program, slot Slot, x []float64, link string) []float64 {
	st, hands := p.PowerOn(), p.Rest()
	up, _ := p.Hand("link")
	var got []float64
	for k := range x {
		hands[0], hands[up] = x[k], truth(link[k] == '+')
		p.Step(st, hands)
		got = append(got, st.At(slot))
	}
	return got
}

func TestLossTables(t *testing.T) {
	x, link := []float64{10, 20, 30, 30, 40, 40, 50}, "++----+"
	for _, c := range []struct {
		loss, failsafe string
		want           []float64
	}{
		{"", "", []float64{1550, 1600, 1600, 1600, 1600, 1600, 1750}},
		{", loss: {mode: cut}", "can: [cut]", []float64{1550, 1600, 1600, 1600, 0, 0, 1750}},
		{", loss: {mode: cut}", "can: [hold]", []float64{1550, 1600, 1600, 1600, 1600, 1600, 1750}},
		{", loss: {mode: cut}", "can: [hold], otherwise: cut", []float64{1550, 1600, 1600, 1600, 0, 0, 1750}},
		{", loss: {mode: preset, value: -40}", "can: [preset]",
			[]float64{1550, 1600, 1600, 1600, 1300, 1300, 1750}},
		{", loss: {mode: preset, value: -40}", "can: [preset], preset_pins: [2]",
			[]float64{1550, 1600, 1600, 1600, 1600, 1600, 1750}},
		{", reverse: true, loss: {mode: preset, value: -40}", "can: [preset]",
			[]float64{1450, 1400, 1400, 1400, 1300, 1300, 1250}},
	} {
		p := onePin(t, c.loss, c.failsafe, "")
		require.Equal(t, c.want, playLink(p, p.Pins[0][0].US, x, link), "%s %s", c.loss, c.failsafe)
	}
	p := onePin(t, "", "", "")
	require.Equal(t, []float64{0, 0, 1600}, playLink(p, p.Pins[0][0].US, []float64{10, 20, 20}, "--+"),
		"never had a signal")
}

func TestDeviceTables(t *testing.T) {
	cut, can := ", loss: {mode: cut}", "can: [cut]"
	for _, c := range []struct {
		device string
		slot   func(DeviceRoute) Slot
		x      []float64
		link   string
		want   []float64
	}{
		{"{id: d, on: r.1, kind: servo}", value, []float64{10, -20, 30, 30, 30}, "++---",
			[]float64{10, -20, -20, -20, -20}},
		{"{id: d, on: r.1, kind: servo, speed_s: 0.5}", value, []float64{0, 50, 50, 50, 50}, "+++++",
			[]float64{0, 20, 40, 50, 50}},
		{"{id: d, on: r.1, kind: servo, speed_s: 0.5, left_at: 100}", value, []float64{0, 0, 0, 0, 90, 0, 0},
			"+++++++", []float64{80, 60, 40, 20, 40, 20, 0}},
		{"{id: d, on: r.1, kind: lamp}", value, []float64{0, 1, 1, 1, 1}, "++---",
			[]float64{0, 100, 100, 100, 0}},
		{"{id: d, on: r.1, kind: pump, turns_on: below, at_us: 1400, no_pulse: on}", value,
			[]float64{0, -20, -21, 0, 0}, "+++++", []float64{0, 0, 100, 0, 0}},
		{"{id: d, on: r.1, kind: relay, no_pulse: stay}", value, []float64{5, 5, 5, 5, 5, -5}, "+----+",
			[]float64{100, 100, 100, 100, 100, 0}},
		{"{id: d, on: r.1, kind: valve, no_pulse: on}", value, []float64{-5, -5, -5, -5}, "+---",
			[]float64{0, 0, 0, 100}},
		{"{id: d, on: r.1, kind: step_box, steps: 3, loss: 1, at: 50}", value,
			[]float64{80, 0, 51, 50, 60, 0, -51, 0, 0, 0, 0}, "++++++++---", []float64{1, 1, 2, 2, 3, 3, 2, 2,
				2, 2, 1}},
		{"{id: d, on: r.1, kind: esc}", value, []float64{4, 4.1, 52, 100, -52, -100}, "++++++",
			[]float64{0, 100 * 0.5 / 480, 50, 100, -50, -100}},
		{"{id: d, on: r.1, kind: esc, reverse: none, learned_us: {neutral: 1000, high: 2000}}", value,
			[]float64{-100, 0, 100}, "+++", []float64{0, 100 * 480.0 / 980, 100}},
		{"{id: d, on: r.1, kind: esc, needs_neutral: true}", value,
			[]float64{52, 52, 0, 52, 52, 52, 52, 52, 0, 52}, "++++---+++", []float64{0, 0, 0, 50, 50, 50, 0,
				0, 0, 50}},
		{"{id: d, on: r.1, kind: esc, reverse: brake_first}", value,
			[]float64{-52, -52, 0, -52, 52, -52, 0, 0, -52}, "+++++++++", []float64{0, 0, 0, -50, 50, 0, 0, 0,
				-50}},
		{"{id: d, on: r.1, kind: esc, reverse: brake_first}", func(r DeviceRoute) Slot { return r.Brake },
			[]float64{-52, -100, 0, -52, 52, -52}, "++++++", []float64{50, 100, 0, 0, 0, 50}},
		{"{id: d, on: r.1, kind: esc, travel: {full_s: 0.2, start: 50}}",
			func(r DeviceRoute) Slot { return r.At }, []float64{100, 100, 100, 0, -52}, "+++++", []float64{75,
				100, 100, 100, 87.5}},
	} {
		p := onePin(t, cut, can, c.device)
		got := playLink(p, c.slot(p.Devices[0]), c.x, c.link)
		for k := range c.want {
			require.InDelta(t, c.want[k], got[k], 1e-9, "%s, frame %d: %v", c.device, k, got)
		}
	}
}

func value(r DeviceRoute) Slot { return r.Value }

func TestStartCheckAndPower(t *testing.T) {
	p := compileYAML(t, `
transmitter: {frame_ms: 50, controls: [{id: gas, kind: axis, spring: none, start: -100},
    {id: b, kind: switch, positions: ["0", "1"]}]}
logic: [{id: kept, block: toggle, in: b.1, start: kept}, {id: lost, block: toggle, in: b.1},
    {id: woke, block: or, in: [power_on]}]
mixes: [{to: o, from: gas}]
outputs: [{id: o, channel: 1}]
start_check: [{control: gas, is: {from: -100, to: -95}}]
receivers: [{id: r, pins: [{pin: 1, channel: 1}]}]
announcements: [{id: hello, when: b.1, say: lit}, {id: early, when: b.1, say: lit, at_start: true}]`)
	st, hands := p.PowerOn(), p.Rest()
	set, _ := p.Hand("transmitter")
	frame := func(gas, b, on float64) (sending bool, us float64, bits string) {
		hands[0], hands[1], hands[set] = gas, b, on
		p.Step(st, hands)
		for _, slot := range append(append([]Slot{}, p.nodeValue[setup.IsBlock]...), p.said...) {
			bits += fmt.Sprintf("%.0f", st.At(slot))
		}
		return p.Sending(st), st.At(p.Pins[0][0].US), bits
	}
	sending, us, _ := frame(-90, 0, 1)
	require.False(t, sending, "it waits for the gas")
	require.Zero(t, us)
	require.Equal(t, []int{0}, p.WaitsFor(st))
	sending, us, bits := frame(-95, 0, 1)
	require.True(t, sending)
	require.Equal(t, 1025.0, us)
	require.Equal(t, "00100", bits)
	_, us, bits = frame(40, 1, 1)
	require.Equal(t, 1700.0, us, "once met it does not bind")
	require.Equal(t, "11011", bits)
	sending, us, _ = frame(40, 1, 0)
	require.False(t, sending)
	require.Equal(t, 1700.0, us, "the receiver holds")
	sending, _, _ = frame(40, 1, 1)
	require.False(t, sending, "at the next power-on it binds again")
	_, _, bits = frame(-100, 1, 1)
	require.Equal(t, "10101", bits,
		"kept is kept, the other is lost; the switch that was left thrown flips neither")
}
