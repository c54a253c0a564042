package signal

import (
	"math/rand/v2"
	"testing"

	"github.com/stretchr/testify/require"

	"axtren/core/setup"
)

// waysText has every block that a moment can be stepped at once for.
const waysText = `format: axtren-setup
version: 1
transmitter:
  frame_ms: 20
  controls:
    - {id: button, kind: switch, positions: [rest, press], spring_to: rest}
    - {id: lock, kind: switch, positions: [free, locked]}
    - {id: mode, kind: switch, positions: [low, mid, high]}
    - {id: stick, kind: axis}
    - {id: side, kind: axis}
demands: [{id: soft, from: stick, expo: 40, deadband: 5}]
outputs: [{id: sum, channel: 1}, {id: lift, channel: 2}]
mixes: [{from: stick, to: lift, when: near, fade_s: 1}, {from: soft, to: sum, gain: 60}, {from: side, to: sum, gain: 40}]
logic:
  - {id: near, block: between, of: stick, from: -30, to: 40, hysteresis: 10}
  - {id: far, block: above, of: sum.asked, level: 30, hysteresis: 20}
  - {id: low, block: below, of: side, level: -50, hysteresis: 20}
  - {id: held, block: ton, in: far, for_s: 0.1}
  - {id: after, block: tof, in: button.press, for_s: 0.1}
  - {id: pulse, block: tp, in: near, for_s: 0.1}
  - {id: none, block: tp, in: near, for_s: 0}
  - {id: flip, block: toggle, in: button.press, reset: low, start: true}
  - {id: up, block: r_trig, in: near}
  - {id: down, block: f_trig, in: near}
  - {id: sr, block: sr, set: up, reset: held}
  - {id: rs, block: rs, set: down, reset: after, start: true}
  - {id: odd, block: xor, in: [sr, rs, flip, mode.low]}
  - {id: any, block: or, in: [not odd, pulse]}
  - {id: ping, block: sr, set: not pong, reset: pong}
  - {id: pong, block: rs, set: ping, reset: any}
`

// allWays lists every way to put some places of each control.
func allWays(p *Program) []Hands {
	list := []Hands{p.Rest()}
	for i, c := range p.Setup().Transmitter.Controls {
		values := []float64{-100, -62, -45, -30, 0, 40, 41, 100}
		if c.Axis == nil {
			values = upTo(len(c.Switch.Positions) - 1)
		}
		var next []Hands
		for _, hands := range list {
			for _, v := range values {
				one := append(Hands{}, hands...)
				one[i] = v
				next = append(next, one)
			}
		}
		list = next
	}
	return list
}

// TestAllWaysAtOnce: from moments of random runs, what is looked at is for each of 768 ways of the hands
// what a Step with these hands leaves there; each way leads to the same as one of those that stand for
// all, and of 64 beside each other no two of these lead to the same.
func TestAllWaysAtOnce(t *testing.T) {
	doc, err := setup.ReadYAML([]byte(waysText))
	require.NoError(t, err)
	p, err := Compile(doc.Setup)
	require.NoError(t, err)
	var show []Slot
	for i := range doc.Setup.Logic {
		show = append(show, p.BlockSlot(i))
	}
	kept, _ := p.DependsOn(show...)
	for n := 0; n != len(kept); {
		n = len(kept)
		kept, _ = p.DependsOn(append(show, kept...)...)
	}
	for _, slot := range kept {
		if slot != p.FirstSlot() {
			show = append(show, slot)
		}
	}
	ways := allWays(p)
	require.Len(t, ways, 768)
	w, ok := p.Ways(ways, show)
	require.True(t, ok)

	rng := rand.New(rand.NewPCG(8, 9))
	st, base, one, now := p.PowerOn(), p.PowerOn(), p.PowerOn(), p.PowerOn()
	seen := map[Slot]map[float64]bool{}
	for _, slot := range show {
		seen[slot] = map[float64]bool{}
	}
	for range 60 {
		hands := ways[rng.IntN(len(ways))]
		for range 1 + rng.IntN(4) {
			p.Step(st, hands)
		}
		base.CopyFrom(st)
		w.Step(base)
		led := map[string]bool{}
		text := func(s *State) string {
			var text []byte
			for _, slot := range show {
				text = append(text, byte(s.At(slot)+1))
			}
			return string(text)
		}
		reps := w.Distinct()
		require.IsIncreasing(t, append([]int{-1}, reps...))
		block := map[int]map[string]bool{}
		for _, way := range reps {
			w.Put(way, now)
			led[text(now)] = true
			if block[way/64] == nil {
				block[way/64] = map[string]bool{}
			}
			require.False(t, block[way/64][text(now)], "two stand for the same")
			block[way/64][text(now)] = true
		}
		for way := range ways {
			w.Put(way, now)
			one.CopyFrom(base)
			p.Step(one, ways[way])
			for _, slot := range show {
				if one.At(slot) != now.At(slot) {
					require.Equal(t, one.At(slot), now.At(slot), "slot %d, way %d", slot, way)
				}
				seen[slot][now.At(slot)] = true
			}
			require.True(t, led[text(now)])
			require.True(t, p.Sending(now))
			require.Zero(t, now.At(p.FirstSlot()))
		}
	}
	always := 0
	for _, values := range seen {
		if len(values) == 1 {
			always++
		}
	}
	require.Equal(t, 2, always, "the pulse that lasts for no time, and its count")
}

// TestWhatCannotBeAtOnce: what steps through positions, plays in time, is read of an output that takes
// time, or has power of its own is stepped one by one.
func TestWhatCannotBeAtOnce(t *testing.T) {
	for _, c := range []struct {
		more string
		of   string
		ok   bool
	}{
		{"", "any", true},
		{"  - {id: seen, block: above, of: sum.asked, level: 3}\n", "seen", true},
		{"  - {id: seen, block: above, of: step, level: 3}\n", "seen", false},
		{"  - {id: seen, block: above, of: lift.asked, level: 3}\n", "seen", false},
		{"  - {id: at, block: and, in: [step.b]}\n", "at", false},
	} {
		doc, err := setup.ReadYAML([]byte(waysText + c.more + `
steppers: [{id: step, up: button.press, steps: [{name: a, value: 1}, {name: b, value: 9}]}]
`))
		require.NoError(t, err)
		p, err := Compile(doc.Setup)
		require.NoError(t, err)
		item := doc.Setup.Item(setup.ID(c.of))
		_, ok := p.Ways(allWays(p), []Slot{p.BlockSlot(item.Index)})
		require.Equal(t, c.ok, ok, c.of)
	}
}
