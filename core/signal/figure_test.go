package signal

import (
	"math"
	"math/rand/v2"
	"testing"

	"github.com/stretchr/testify/require"

	"axtren/core/setup"
	"axtren/demo"
)

// figureText has every step between an axis and a pulse.
const figureText = `format: axtren-setup
version: 1
transmitter:
  controls:
    - {id: ahead, kind: axis}
    - {id: side, kind: axis, spring: none}
    - {id: mode, kind: switch, positions: [a, b, c]}
    - {id: press, kind: switch, positions: [rest, in], spring_to: rest}
demands:
  - {id: soft, from: ahead, deadband: 4, expo: 40, rates: [{when: mode.b, rate: 60}, {when: lit, rate: 125}], trim: 3}
  - {id: sharp, from: side, expo: -60, curve: [[-100, 20], [-30, -80], [40, 90], [100, -10]], smooth: true}
  - {id: mild, from: side, rate: 70}
logic:
  - {id: lit, block: toggle, in: press.in}
  - {id: far, block: above, of: left.asked, level: 20, hysteresis: 5}
steppers: [{id: step, up: press.in, wrap: true, repeat_s: 0.3, steps: [{name: x, value: -40}, {name: y, value: 70}]}]
patterns: [{id: blink, when: lit, steps: [[100, 0.1], [-100, 0.2]], rest: -20}]
mixes:
  - {to: left, from: soft}
  - {to: left, from: sharp, gain: {pos: 45, neg: -80}, bias: 5}
  - {to: left, from: step, combine: greatest, when: mode.c}
  - {to: right, from: soft}
  - {to: right, from: sharp, gain: -45, shape: abs}
  - {to: third, from: mild, combine: times}
  - {to: third, from: side, shape: up}
  - {to: third, from: blink, combine: least, when: far}
  - {to: fourth, from: ahead, gain: 130}
  - {to: fourth, from: mode, gain: 40}
  - {to: fifth, from: ahead, gain: 90}
  - {to: fifth, from: side, gain: -90}
  - {to: slow, from: ahead}
  - {to: slow, from: side, combine: instead, when: lit, fade_s: 0.4}
shares: [{id: s, outputs: [left, right], rule: scale}, {id: t, outputs: [fourth, fifth], rule: keep_turn}]
outputs:
  - {id: left, channel: 1, low: -80, high: 90, centre: 4}
  - {id: right, channel: 2, reverse: true}
  - {id: third, channel: 3}
  - {id: fourth, channel: 4}
  - {id: fifth, channel: 5, reverse: true}
  - {id: slow, channel: 6, slew_s: 1}
link: {learned_us: {low: 1080, centre: 1500, high: 1910}, one_bit: [5], half_rate: [3]}
receivers: [{id: rx, pins: [{pin: 1, channel: 1}, {pin: 2, channel: 2}, {pin: 3, channel: 3}, {pin: 5, channel: 5}]}]
devices: [{id: box, on: rx.1, kind: step_box, steps: 3}, {id: esc, on: rx.2, kind: esc}]
`

func figureProgram(t *testing.T) *Program {
	t.Helper()
	doc, err := setup.ReadYAML([]byte(figureText))
	require.NoError(t, err)
	p, err := Compile(doc.Setup)
	require.NoError(t, err)
	return p
}

// anyHands puts each control somewhere.
func anyHands(p *Program, rng *rand.Rand, hands Hands) {
	for i, c := range p.setup.Transmitter.Controls {
		switch {
		case rng.IntN(3) > 0:
		case c.Axis != nil:
			hands[i] = float64(rng.IntN(401)-200) / 2
		default:
			hands[i] = float64(rng.IntN(len(c.Switch.Positions)))
		}
	}
}

// TestAFigureIsWhatAFrameComputes: at one place it is that to the last bit, over a span it holds all of it.
func TestAFigureIsWhatAFrameComputes(t *testing.T) {
	p := figureProgram(t)
	slots := map[string]Slot{}
	for i := range p.Routes[:5] {
		slots[string(p.setup.Outputs[i].ID)+" position"] = p.Routes[i].Target
		slots[string(p.setup.Outputs[i].ID)+" pulse"] = p.Routes[i].US
	}
	for i, pin := range p.Pins[0] {
		if i != 2 { // at half rate it is that of the frame before, by turns
			slots["what arrives "+string(rune('1'+i))] = pin.Arrival
		}
	}
	rng := rand.New(rand.NewPCG(3, 5))
	for name, slot := range slots {
		f, ok := p.Figure(slot)
		require.True(t, ok, name)
		require.NotEmpty(t, f.Axes, name)
		wide, _ := p.Figure(slot)
		st, hands := p.PowerOn(), p.Rest()
		for frame := range 2000 {
			anyHands(p, rng, hands)
			p.Step(st, hands)
			for _, leaf := range f.Leaves {
				v := st.At(leaf.Slot)
				require.Contains(t, leaf.Values, v, "%s: one of the values of a leaf", name)
				f.Put(leaf.Slot, Span{v, v})
				wide.Put(leaf.Slot, Span{v, v})
			}
			for _, axis := range f.Axes {
				v := st.At(axis)
				f.Put(axis, Span{v, v})
				wide.Put(axis, Span{max(v-float64(rng.IntN(60)), -100), min(v+float64(rng.IntN(60)), 100)})
			}
			require.Equal(t, Span{st.At(slot), st.At(slot)}, f.Span(), "%s, frame %d", name, frame)
			span := wide.Span()
			require.LessOrEqual(t, span.Low, st.At(slot), "%s, frame %d", name, frame)
			require.GreaterOrEqual(t, span.High, st.At(slot), "%s, frame %d", name, frame)
		}
	}
	_, ok := p.Figure(p.Routes[5].P)
	require.False(t, ok, "it takes time to get there")
	_, ok = p.Figure(p.Routes[5].Target)
	require.False(t, ok, "what it makes for fades")
}

// TestASlowFigure: what fades is read in a state, and where a slow output stands is within what was worked
// out from where it stood.
func TestASlowFigure(t *testing.T) {
	p := figureProgram(t)
	target, at := p.Routes[5].Target, p.Routes[5].P
	f, ok := p.FigureNow(target)
	require.True(t, ok)
	require.Len(t, f.Axes, 2)
	rng := rand.New(rand.NewPCG(6, 2))
	st, hands := p.PowerOn(), p.Rest()
	p.Step(st, hands)
	span, moved := Span{st.At(at), st.At(at)}, 0
	for frame := range 4000 {
		if frame%15 == 0 {
			anyHands(p, rng, hands)
		}
		before := st.At(at)
		p.Step(st, hands)
		f.Read(st)
		for _, axis := range f.Axes {
			f.Put(axis, Span{st.At(axis), st.At(axis)})
		}
		require.Equal(t, Span{st.At(target), st.At(target)}, f.Span(), "frame %d", frame)
		require.Equal(t, Span{st.At(at), st.At(at)}, p.Slewed(5, Span{before, before}, f.Span()))
		for _, axis := range f.Axes {
			f.Put(axis, Span{-100, 100})
		}
		span = p.Slewed(5, span, f.Span())
		require.True(t, span.Low <= st.At(at) && st.At(at) <= span.High, "frame %d: %g in %v", frame,
			st.At(at), span)
		if st.At(at) != before {
			moved++
		}
	}
	require.Greater(t, moved, 500)
	require.Equal(t, Span{3, 4}, p.Slewed(0, Span{}, Span{3, 4}), "one that is not slow is there")
}

// TestCuts: every comparison of a number, on the side on which it turns.
func TestCuts(t *testing.T) {
	p := figureProgram(t)
	asked, left, right := p.Routes[0].Asked, p.Pins[0][0].US, p.Pins[0][1].US
	var of []Cut
	for _, c := range p.Cuts() {
		if c.Of == asked || c.Of == right {
			of = append(of, c)
		} else {
			require.Equal(t, left, c.Of)
		}
	}
	require.Equal(t, []Cut{{asked, 20, false}, {asked, 15, false}, {right, 1520, true}, {right, 1480,
		false}}, of)
	require.True(t, Cut{At: 20}.Beyond(20))
	require.False(t, Cut{At: 20, Over: true}.Beyond(20))
	require.True(t, Cut{At: 20, Over: true}.Beyond(20.1))
	require.False(t, Cut{At: 20}.Beyond(19.9))
}

// TestFoldChangesNothing: a run whose counts are brought back in every frame is the same run, and the counts
// stay small.
func TestFoldChangesNothing(t *testing.T) {
	p := figureProgram(t)
	rng := rand.New(rand.NewPCG(8, 1))
	plain, folded, hands := p.PowerOn(), p.PowerOn(), p.Rest()
	for frame := range 20000 {
		if frame%40 == 0 {
			anyHands(p, rng, hands)
		}
		p.Step(plain, hands)
		p.Step(folded, hands)
		p.Fold(folded)
		for i := range p.Routes {
			require.Equal(t, plain.At(p.Routes[i].US), folded.At(p.Routes[i].US), "frame %d", frame)
		}
		require.Equal(t, plain.At(p.StepperSlot(0)), folded.At(p.StepperSlot(0)), "frame %d", frame)
		for slot := range p.kept {
			require.Less(t, folded.V[slot], 2500.0)
		}
	}
}

// TestEver: wherever hands go, over minutes of random movements of every demo model, no output makes for
// anything outside what it ever makes for; and of most the bounds are reached within a few percent.
func TestEver(t *testing.T) {
	yard, err := demo.Yard()
	require.NoError(t, err)
	r := rand.New(rand.NewPCG(5, 6))
	bounds, near := 0, 0
	for _, m := range yard {
		s := m.Doc.Setup
		p, err := Compile(s)
		require.NoError(t, err)
		ever := make([]Span, len(s.Outputs))
		known, seen := make([]bool, len(s.Outputs)), make([]Span, len(s.Outputs))
		for i := range s.Outputs {
			ever[i], known[i] = p.Ever(i)
			seen[i] = Span{math.Inf(1), math.Inf(-1)}
		}
		st, hands := p.PowerOn(), p.Rest()
		for frame := range 20000 {
			if frame%7 == 0 {
				moveOne(p, hands, r)
			}
			p.Step(st, hands)
			for i, route := range p.Routes {
				at := st.At(route.Target)
				seen[i] = seen[i].With(Span{at, at})
				require.True(t, !known[i] || at >= ever[i].Low-1e-9 && at <= ever[i].High+1e-9, "%s %s: %v outside %v",
					s.Name, s.Outputs[i].ID, at, ever[i])
			}
		}
		for i := range s.Outputs {
			if known[i] {
				bounds++
				if seen[i].High-seen[i].Low > 0.9*(ever[i].High-ever[i].Low)-1e-9 {
					near++
				}
			}
		}
	}
	t.Log(bounds, near)
	require.Greater(t, bounds, 60)
	require.Greater(t, near, bounds*3/4)
}

// moveOne moves one control anywhere.
func moveOne(p *Program, hands Hands, r *rand.Rand) {
	controls := p.Setup().Transmitter.Controls
	c := &controls[r.IntN(len(controls))]
	hand, _ := p.Hand(string(c.ID))
	if c.Axis != nil {
		hands[hand] = []float64{-100, 100, 0, -100 + 200*r.Float64()}[r.IntN(4)]
	} else {
		hands[hand] = float64(r.IntN(len(c.Switch.Positions)))
	}
}

// TestEverByHand: what fades or is looked at, each rate that may hold, and each entry of a list, counts
// wherever it can be.
func TestEverByHand(t *testing.T) {
	const head = `format: axtren-setup
version: 1
transmitter:
  controls:
    - {id: x, kind: axis}
    - {id: y, kind: axis}
    - {id: key, kind: switch, positions: [rest, press]}
    - {id: mode, kind: switch, positions: [a, b, c]}
`
	for _, c := range []struct {
		text      string
		low, high float64
		ok        bool
	}{
		{"mixes: [{from: x, to: o, gain: 40}]", -40, 40, true},
		{"mixes: [{from: x, to: o, gain: {pos: 40, neg: 20}}, {from: 10, to: o}]", -10, 50, true},
		{"mixes: [{from: 30, to: o}, {from: 60, to: o, combine: instead, when: key.press}]", 30, 60, true},
		{"mixes: [{from: 30, to: o}, {from: -60, to: o, combine: instead, when: key.press, fade_s: 2}]",
			-60, 30, true},
		{"mixes: [{from: x, to: o, gain: 50}, {from: y, to: o, gain: 30, when: key.press, fade_s: 1}]",
			-80, 80, true},
		{"demands: [{id: d, from: x, rate: 50, rates: [{when: key.press, rate: 80}, {when: mode.a, rate: 90}]}]\n" +
			"mixes: [{from: d, to: o}]", -90, 90, true},
		{"demands: [{id: d, from: mode, curve: [[-100, 10], [0, 70], [100, -20]]}]\nmixes: [{from: d, to: o}]",
			-20, 70, true},
		{"steppers: [{id: s, up: key.press, steps: [{name: a, value: 5}, {name: b, value: 90}, {name: c, value: " +
			"-7}]}]\nmixes: [{from: s, to: o}]", -7, 90, true},
	} {
		doc, err := setup.ReadYAML([]byte(head + "outputs: [{id: o, channel: 1}]\n" + c.text))
		require.NoError(t, err, c.text)
		p, err := Compile(doc.Setup)
		require.NoError(t, err)
		s, ok := p.Ever(0)
		require.Equal(t, c.ok, ok, c.text)
		require.InDelta(t, c.low, s.Low, 1e-9, c.text)
		require.InDelta(t, c.high, s.High, 1e-9, c.text)
	}
}
