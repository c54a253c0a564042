package diagnose

import (
	"strings"
	"testing"

	"github.com/stretchr/testify/require"

	"axtren/core/setup"
	"axtren/core/signal"
	"axtren/demo"
)

// is tells whether a condition on a device holds of a value, as the document's page says.
func is(c *setup.Condition, v float64) bool {
	return (c.Above == nil || v > *c.Above) && (c.Below == nil || v < *c.Below) &&
		(c.Within == nil || v >= c.Within[0] && v <= c.Within[1])
}

// TestAGoalIsWhatIsSeen: of each device of the demo, each thing that it can be seen to do is asked for by the
// condition that holds exactly where that is seen; and to do it all the way is to do it.
func TestAGoalIsWhatIsSeen(t *testing.T) {
	yard, err := demo.Yard()
	require.NoError(t, err)
	kinds, all := map[string]bool{}, 0
	for _, m := range yard {
		s := m.Doc.Setup
		p, err := signal.Compile(s)
		require.NoError(t, err)
		for _, one := range Goals(p) {
			i := s.Item(setup.ID(one.ID)).Index
			d := &s.Devices[i]
			kinds[d.Kind] = true
			seen := SightsOf(p).Devices
			for n, said := range one.Says {
				c, ok := Goal(p, i, said.Key)
				require.True(t, ok, "%s %s", one.ID, said.Key)
				require.Equal(t, d.ID, *c.Device)
				way, fully := strings.CutSuffix(said.Key, "_end")
				require.Equal(t, fully, n >= len(seen[indexOf(seen, one.ID)].Says))
				require.Equal(t, fully, strings.HasSuffix(said.Words, ", all the way"))
				holds := 0
				for v := -150.0; v <= 150; v += 0.5 {
					if _, box := d.Spec.(*setup.StepBox); box && v != float64(int(v)) {
						continue // it counts
					}
					is := is(&c, v)
					if is {
						holds++
					}
					if fully {
						require.True(t, !is || says(d, v) == way, "%s %s at %v", one.ID, said.Key, v)
						continue
					}
					require.Equal(t, says(d, v) == way, is, "%s %s at %v", one.ID, said.Key, v)
				}
				require.Positive(t, holds, "%s %s", one.ID, said.Key)
				if fully {
					all++
				}
			}
			_, ok := Goal(p, i, "sings")
			require.False(t, ok)
		}
	}
	require.Greater(t, len(kinds), 5, kinds)
	require.Greater(t, all, 20)
}

// small compiles a document with a stick.
func small(t *testing.T, rest string) *signal.Program {
	t.Helper()
	doc, err := setup.ReadYAML([]byte(`format: axtren-setup
version: 1
transmitter: {controls: [{id: stick, kind: axis, label: Stick}]}` + rest))
	require.NoError(t, err)
	return compiled(t, doc.Setup)
}

func indexOf(list []DeviceSight, id string) int {
	for i := range list {
		if list[i].ID == id {
			return i
		}
	}
	return -1
}

// TestTheEndIsThatOfTheFunction: all the way is within a percent of what its ends give.
func TestTheEndIsThatOfTheFunction(t *testing.T) {
	p := small(t, `
outputs: [{id: helm, channel: 1, low: -60, high: 80}, {id: tow, channel: 2, low: -3, high: 3}]
receivers: [{id: rx, pins: [{pin: 1, channel: 1}, {pin: 2, channel: 2}]}]
devices:
  - {id: rudder, on: rx.1, kind: servo}
  - {id: winch, on: rx.2, kind: servo}
mixes: [{from: stick, to: helm}]
`)
	s := p.Setup()
	goal := func(id, key string) (setup.Condition, bool) {
		return Goal(p, s.Item(setup.ID(id)).Index, key)
	}
	c, ok := goal("rudder", "plus_end")
	require.True(t, ok)
	require.InDelta(t, 79, *c.Above, 1e-9)
	c, ok = goal("rudder", "minus_end")
	require.True(t, ok)
	require.InDelta(t, -59, *c.Below, 1e-9)
	for _, key := range []string{"plus_end", "minus_end"} {
		_, ok = goal("winch", key)
		require.False(t, ok, "it does not even move")
	}
	for _, key := range []string{"still_end", "on", "step 1"} {
		_, ok = goal("rudder", key)
		require.False(t, ok, key)
	}
}

// TestWhatStirs: at a moment it is all that the devices of a function do not do; of one without a device, its
// signal both ways; never something of another function.
func TestWhatStirs(t *testing.T) {
	p := small(t, `
outputs: [{id: helm, label: Helm, channel: 1}, {id: horn, channel: 2}, {id: spare, label: Spare, channel: 3}]
receivers: [{id: rx, pins: [{pin: 1, channel: 1}, {pin: 2, channel: 2}]}]
devices:
  - {id: rudder, label: Rudder, on: rx.1, kind: servo}
  - {id: hooter, label: Hooter, on: rx.2, kind: relay}
mixes: [{from: stick, to: helm}, {from: stick, to: horn}, {from: stick, to: spare}]
`)
	s := p.Setup()
	stirs := func(hand float64, output string) []string {
		st, hands := p.PowerOn(), p.Rest()
		stick, _ := p.Hand("stick")
		hands[stick] = hand
		for range 10 {
			p.Step(st, hands)
		}
		var list []string
		for _, one := range Stirs(p, st, s.Item(setup.ID(output)).Index) {
			list = append(list, one.Says)
		}
		return list
	}
	require.Equal(t, []string{"Rudder goes as it should with Stick held all the way towards +100",
		"Rudder goes as it should with Stick held all the way towards −100"}, stirs(0, "helm"))
	require.Equal(t, []string{"Rudder goes as it should with Stick held all the way towards −100",
		"Rudder stays still"}, stirs(50, "helm"))
	require.Equal(t, []string{"Hooter is off"}, stirs(100, "horn"))
	require.Equal(t, []string{"Hooter is on"}, stirs(-100, "horn"))
	require.Equal(t, []string{"the signal of Spare moves", "the signal of Spare moves"}, stirs(0, "spare"))
}
