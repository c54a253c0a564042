package signal_test

import (
	"fmt"
	"math"
	"math/rand/v2"
	"slices"
	"strings"
	"testing"

	"github.com/stretchr/testify/require"
	"pgregory.net/rapid"

	"axtren/core/setup"
	"axtren/core/signal"
	"axtren/internal/golden"
)

// moveSome moves hands of one program, and the same ones of another that has some of them.
func moveSome(rng *rand.Rand, p *signal.Program, hands signal.Hands, other *signal.Program,
	same signal.Hands) {
	for at, id := range p.HandIDs() {
		if rng.IntN(5) > 0 {
			continue
		}
		switch item := p.Setup().Item(setup.ID(id)); {
		case item.Kind == setup.IsControl && p.Setup().Transmitter.Controls[item.Index].Axis != nil:
			hands[at] = math.Round(200*rng.Float64() - 100)
		case item.Kind == setup.IsControl:
			hands[at] = float64(rng.IntN(len(p.Setup().Transmitter.Controls[item.Index].Switch.Positions)))
		case item.Kind == setup.IsDevice:
		default: // on most of the time
			hands[at] = float64(min(rng.IntN(9), 1))
		}
		if k := slices.Index(other.HandIDs(), id); k >= 0 {
			same[k] = hands[at]
		}
	}
}

// TestAConeGivesTheSame: each column of a trace that a part has, in every frame, whatever
// is moved or turned off; and the program of the cone has nothing else.
func TestAConeGivesTheSame(t *testing.T) {
	for _, m := range golden.Models(t) {
		s := m.Program.Setup()
		var parts []setup.Item
		for kind, n := range map[setup.ItemKind]int{setup.IsOutput: len(s.Outputs),
			setup.IsDevice: len(s.Devices), setup.IsBlock: len(s.Logic),
			setup.IsStepper: len(s.Steppers), setup.IsSequence: len(s.Sequences),
			setup.IsPattern: len(s.Patterns), setup.IsAnnouncement: len(s.Announcements)} {
			for i := range n {
				parts = append(parts, kind.At(i))
			}
		}
		whole := map[string]signal.Cell{}
		for _, cell := range m.Program.Cells() {
			whole[cell.Name] = cell
		}
		smaller := 0
		for _, part := range parts {
			cone, err := signal.Compile(s.Cone(part))
			require.NoError(t, err)
			own := string(s.Key(part).ID)
			cells := cone.Cells()
			require.True(t,
				slices.ContainsFunc(cells, func(c signal.Cell) bool {
					return strings.HasPrefix(c.Name,
						own)
				}) || s.Devices != nil && part.Kind == setup.IsDevice, own)
			if cone.Slots() < m.Program.Slots() {
				smaller++
			}
			rng := rand.New(rand.NewPCG(1, uint64(part.Index)))
			st, small := m.Program.PowerOn(), cone.PowerOn()
			hands, same := m.Program.Rest(), cone.Rest()
			for frame := range 200 {
				moveSome(rng, m.Program, hands, cone, same)
				m.Program.Step(st, hands)
				cone.Step(small, same)
				for i := range cells {
					one := whole[cells[i].Name]
					want, known := m.Program.Read(&one, st)
					got, ok := cone.Read(&cells[i], small)
					require.Equal(t, known, ok, "%s of %s, frame %d: %s", own, m.Name, frame, cells[i].Name)
					require.Equal(t, math.Float64bits(want), math.Float64bits(got), "%s of %s, frame %d: %s",
						own, m.Name, frame, cells[i].Name)
				}
			}
		}
		require.Greater(t, smaller, len(parts)*3/4)
	}
}

// TestAConeHasNothingElse: what a part does not depend on is not there.
func TestAConeHasNothingElse(t *testing.T) {
	doc, err := setup.ReadYAML([]byte(`format: axtren-setup
version: 1
transmitter: {controls: [{id: a, kind: axis}, {id: b, kind: axis},
    {id: key, kind: switch, positions: [off, on]}, {id: cut, kind: switch, positions: [off, on]}]}
demands: [{id: soft, from: a, rates: [{when: low, rate: 50}]}, {id: other, from: b}]
logic: [{id: low, block: or, in: [key.on]}, {id: alone, block: or, in: [key.on]}]
mixes: [{to: one, from: soft}, {to: two, from: b}, {to: three, from: other}]
shares: [{outputs: [one, two], rule: scale}]
outputs: [{id: one, channel: 1}, {id: two, channel: 2}, {id: three, channel: 3}]
receivers: [{id: rx, pins: [{pin: 1, channel: 1}, {pin: 2, channel: 3}]},
    {id: spare, pins: [{pin: 1, channel: 3}]}]
devices: [{id: servo_one, kind: servo, on: rx.1}, {id: servo_three, kind: servo, on: spare.1}]
announcements: [{id: said, when: low, say: low}]
claims: [{id: c, reachable: low}]
start_check: [{control: cut, is: off}]
`))
	require.NoError(t, err)
	s := doc.Setup
	cone := s.Cone(s.Item("servo_one"))
	var ids []string
	for _, id := range []setup.ID{"a", "b", "key", "cut", "soft", "other", "low", "alone", "one", "two",
		"three", "rx", "spare", "servo_one", "servo_three", "said", "c"} {
		if cone.Item(id).Kind != 0 {
			ids = append(ids, string(id))
		}
	}
	require.Equal(t, []string{"a", "b", "key", "cut", "soft", "low", "one", "two", "rx", "servo_one"}, ids)
	require.Len(t, cone.Receivers[0].Pins, 1)
	require.Len(t, cone.Mixes, 2)
	require.Len(t, s.Receivers[0].Pins, 2, "the setup itself stays as it is")
	require.Equal(t, setup.ID("said"), s.Cone(s.Item("said")).Announcements[0].ID)
}

// TestBlocksInTheOrderOfATransmitter against an interpreter of a few lines: gates and
// latches that read each other anyhow, run in any order.
func TestBlocksInTheOrderOfATransmitter(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		n := rapid.IntRange(1, 6).Draw(t, "blocks")
		type block struct {
			kind string
			in   [2]int // below 2 a switch, else the block of that number less 2
		}
		list := make([]block, n)
		text := "format: axtren-setup\nversion: 1\ntransmitter: {controls: [{id: s0, kind: switch, " +
			"positions: [\"0\", \"1\"]}, {id: s1, kind: switch, positions: [\"0\", \"1\"]}]}\nlogic:\n"
		name := func(in int) string {
			if in < 2 {
				return fmt.Sprintf("s%d.1", in)
			}
			return fmt.Sprintf("b%d", in-2)
		}
		for i := range list {
			b := block{kind: rapid.SampledFrom([]string{"and", "or", "xor", "rs", "toggle"}).Draw(t, "kind")}
			for k := range b.in {
				b.in[k] = rapid.IntRange(0, n+1).Draw(t, "input")
			}
			list[i] = b
			switch b.kind {
			case "rs":
				text += fmt.Sprintf("  - {id: b%d, block: rs, set: %s, reset: %s}\n", i, name(b.in[0]),
					name(b.in[1]))
			case "toggle":
				text += fmt.Sprintf("  - {id: b%d, block: toggle, in: %s, reset: %s}\n", i, name(b.in[0]),
					name(b.in[1]))
			default:
				text += fmt.Sprintf("  - {id: b%d, block: %s, in: [%s, %s]}\n", i, b.kind, name(b.in[0]),
					name(b.in[1]))
			}
		}
		doc, err := setup.ReadYAML([]byte(text))
		require.NoError(t, err)
		if _, err := signal.Compile(doc.Setup); err != nil {
			t.Skip("it has a ring")
		}
		places := make([]int, n)
		for i := range places {
			places[i] = i
		}
		order := rapid.Permutation(places).Draw(t, "order")
		p, err := signal.CompileEntries(doc.Setup, signal.Entries{Blocks: order, ByPlace: true})
		require.NoError(t, err)
		st, hands := p.PowerOn(), p.Rest()
		value, was := make([]bool, n), make([]bool, n)
		for frame := range 12 {
			for i := range 2 {
				hands[i] = float64(rapid.IntRange(0, 1).Draw(t, "switch"))
			}
			p.Step(st, hands)
			for _, i := range order {
				b := list[i]
				read := func(in int) bool {
					if in < 2 {
						return hands[in] == 1
					}
					return value[in-2] // of this frame where it has run, else of the frame before
				}
				x, y := read(b.in[0]), read(b.in[1])
				switch b.kind {
				case "and":
					value[i] = x && y
				case "or":
					value[i] = x || y
				case "xor":
					value[i] = x != y
				case "rs":
					value[i] = (x || value[i]) && !y
				case "toggle":
					if rose := x && !was[i] && frame > 0; rose {
						value[i] = !value[i]
					}
					value[i] = value[i] && !y
					was[i] = x
				}
			}
			for i := range list {
				require.Equal(t, value[i], st.At(p.BlockSlot(i)) != 0, "frame %d: b%d of\n%sin the order %v",
					frame, i, text, order)
			}
		}
	})
}
