package signal

import (
	"fmt"
	"math"
	"path/filepath"
	"testing"
	"time"

	"github.com/stretchr/testify/require"

	"axtren/core/setup"
)

// dealt hands out a list of hands to n lanes, each at a pace and a place of its own.
func dealt(hands []Hands, n, k int) []Hands {
	now := make([]Hands, n)
	for l := range now {
		now[l] = hands[(k*(l+1)+37*l)%len(hands)]
	}
	return now
}

// sameInLanes: each lane is what a state of its own is with the same hands, in every slot.
func sameInLanes(t testing.TB, p *Program, n, frames int, hands []Hands) {
	lanes, states := p.Lanes(n), make([]*State, n)
	for l := range states {
		states[l] = p.PowerOn()
	}
	for k := range frames {
		now := dealt(hands, n, k)
		lanes.Step(now)
		for l := range states {
			p.Step(states[l], now[l])
			sameLane(t, lanes, l, states[l])
		}
	}
}

func sameLane(t testing.TB, lanes *Lanes, l int, want *State) {
	t.Helper()
	got := &State{V: make([]float64, len(want.V))}
	lanes.Take(l, got)
	require.Equal(t, want.Frame, got.Frame)
	for slot := range want.V {
		require.True(t, want.V[slot] == got.V[slot] && lanes.At(l, Slot(slot)) == got.V[slot],
			"frame %d, lane %d, slot %d: %g, by itself %g", want.Frame, l, slot, got.V[slot], want.V[slot])
	}
}

// switched turns the transmitter, the link and a receiver off and on while hands play: off for
// some lanes while others send.
func switched(p *Program, hands []Hands) []Hands {
	for k := range hands {
		hands[k][len(p.controls)+1] = truth(k%300 < 250)
		hands[k][len(p.controls)] = truth(k%400 < 380)
		for i := range p.receiversOn {
			hands[k][len(p.controls)+2+i] = truth(k%500 < 490)
		}
	}
	return hands
}

func TestALaneIsAState(t *testing.T) {
	p := reference(t)
	for _, by := range played(p) {
		t.Run(by.name, func(t *testing.T) { sameInLanes(t, p, 7, 600, by.hands) })
	}
	t.Run("switched off and on", func(t *testing.T) {
		sameInLanes(t, p, 5, 1000, switched(p, everyNew(p, 1024)))
	})
	paths, err := filepath.Glob("testdata/cases/*/setup.json")
	require.NoError(t, err)
	require.NotEmpty(t, paths)
	for _, path := range append(paths, "../../internal/golden/everything.yaml") {
		doc, err := setup.ReadYAML([]byte(read(t, path)))
		require.NoError(t, err)
		p, err := Compile(doc.Setup)
		require.NoError(t, err)
		t.Run(path, func(t *testing.T) { sameInLanes(t, p, 3, 1000, switched(p, everyNew(p, 1024))) })
	}
}

// TestALaneKeepsAnOrderOfItsOwn: lanes run blocks in the order that their program has.
func TestALaneKeepsAnOrderOfItsOwn(t *testing.T) {
	s := reference(t).Setup()
	turned := make([]int, len(s.Logic))
	for i := range turned {
		turned[i] = len(turned) - 1 - i
	}
	p, err := CompileEntries(s, Entries{Blocks: turned, ByPlace: true})
	require.NoError(t, err)
	sameInLanes(t, p, 3, 500, everyNew(p, 512))
}

// TestLanesBeginAnywhere: from a state that ran for a while, lanes go on as it would, and Ask
// leaves what comes after the transmitter as it was.
func TestLanesBeginAnywhere(t *testing.T) {
	p := reference(t)
	hands := everyNew(p, 512)
	st, lanes := p.PowerOn(), p.Lanes(3)
	for k := range 300 {
		p.Step(st, hands[k])
	}
	lanes.Step(dealt(hands, 3, 0)) // what it held before is gone
	lanes.Begin(st)
	for l := range 3 {
		sameLane(t, lanes, l, st)
	}
	now := dealt(hands, 3, 301)
	lanes.Ask(now)
	for l := range now {
		asked := p.PowerOn()
		asked.CopyFrom(st)
		p.Ask(asked, now[l])
		sameLane(t, lanes, l, asked)
		for i := range p.Devices {
			require.Equal(t, st.At(p.devices[i].us), lanes.At(l, p.devices[i].us))
		}
	}
}

// BenchmarkLanes is a frame of each of many states side by side.
func BenchmarkLanes(b *testing.B) {
	p := reference(b)
	for _, by := range played(p) {
		for _, n := range []int{8, 32, 64} {
			b.Run(fmt.Sprintf("%s, %d lanes", by.name, n), func(b *testing.B) {
				lanes, k := p.Lanes(n), 0
				b.ReportAllocs()
				for b.Loop() {
					lanes.Step(inARow(by.hands, n, k))
					k += n
				}
				b.ReportMetric(float64(b.Elapsed().Nanoseconds())/float64(b.N*n), "ns/frame")
			})
		}
	}
}

// inARow gives n hands of a list that n divides, from place k on, round and round.
func inARow(hands []Hands, n, k int) []Hands { return hands[k%len(hands):][:n] }

// laneTime is how long a frame takes of 32 states side by side, ns: the best of some.
func laneTime(p *Program, hands []Hands) float64 {
	const n = 32
	lanes, best := p.Lanes(n), math.Inf(1)
	for range 7 {
		start := time.Now()
		for range 40 {
			for k := 0; k < len(hands); k += n {
				lanes.Step(inARow(hands, n, k))
			}
		}
		best = min(best, float64(time.Since(start).Nanoseconds())/float64(40*len(hands)))
	}
	return best
}

// TestALaneShapesStepAfterStep: every step of a demand goes on from the one before.
func TestALaneShapesStepAfterStep(t *testing.T) {
	p := compileYAML(t, `
transmitter: {controls: [{id: x, kind: axis}, {id: gear, kind: switch, positions: [low, high]}]}
demands:
  - {id: all, from: x, deadband: 5, expo: 30, rate: 140, rates: [{when: gear.low, rate: 60}],
     curve: [[-100, -80], [0, 10], [100, 90]], trim: 4}
  - {id: scaled, from: x, deadband: 5, expo: 30, rate: 120, curve: [[-100, -80], [0, 10], [100, 90]]}
  - {id: trimmed, from: x, rates: [{when: gear.low, rate: 150}], trim: 8}
mixes: [{to: a, from: all}, {to: b, from: scaled}, {to: c, from: trimmed}]
outputs: [{id: a, channel: 1}, {id: b, channel: 2}, {id: c, channel: 3}]`)
	sameInLanes(t, p, 4, 200, random(p, 256))
}
