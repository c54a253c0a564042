package setup_test

import (
	"slices"
	"testing"

	"github.com/stretchr/testify/require"

	"axtren/core/setup"
	"axtren/internal/golden"
)

const linked = `format: axtren-setup
version: 1
transmitter:
  controls: [{id: a, kind: axis}, {id: b, kind: axis}, {id: s, kind: switch, positions: [up, down]},
      {id: free, kind: axis}]
demands: [{id: soft, from: a, rates: [{when: s.down, rate: 50}]}]
logic: [{id: far, block: above, of: soft, level: 50}, {id: stays, block: sr, set: far, reset: not s.up}]
sequences: [{id: unfold, go: stays, tracks: {leg: [[0, 0]], door: [[0, 0], [1, 100]]}}]
mixes:
  - {id: main, to: port, from: soft}
  - {to: star, from: b, when: stays}
  - {id: opens, to: leg, from: unfold.door}
  - {to: follows, from: leg.asked}
shares: [{outputs: [port, star], rule: scale}]
outputs: [{id: port, channel: 1}, {id: star, channel: 2}, {id: leg, channel: 3}, {id: follows, channel: 7}]
link: {channels: 6, order: [2, 1, 3]}
receivers: [{id: rx, pins: [{pin: 4, channel: 1}, {pin: 5, channel: 2}, {pin: 6, channel: 3},
    {pin: 7, channel: 7}, {pin: 8, channel: 9}]}]
devices:
  - {id: servo, on: level, kind: servo}
  - {id: esc, on: rx.4, kind: esc, swap_on: rx.6}
  - {id: level, on: rx.5, kind: leveller}
  - {id: lamp, on: rx.7, kind: lamp}
start_check: [{control: a, is: {from: -5, to: 5}}]
claims: [{id: c, never: [{output: leg, above: 5}, far]}]
stage: {parts: [{part: screw, device: esc}, {part: lamp, device: nobody}]}
`

func read(t *testing.T, text string) *setup.Setup {
	t.Helper()
	doc, err := setup.ReadYAML([]byte(text))
	require.NoError(t, err)
	return doc.Setup
}

func paths(parts []setup.Item) []string {
	var list []string
	for _, part := range parts {
		list = append(list, part.Path())
	}
	return list
}

// TestWhatDependsOnWhat, in the order of the document, and nothing else.
func TestWhatDependsOnWhat(t *testing.T) {
	s := read(t, linked)
	g := s.Graph()
	require.Equal(t, []string{"outputs[3]", "mixes[3]", "outputs[2]", "mixes[2]", "sequences[0]", "logic[1]",
		"logic[0]", "demands[0]",
		"transmitter.controls[0]", "transmitter.controls[2]"}, paths(g.Behind(setup.IsOutput.At(3))))
	require.Equal(t, []string{"outputs[1]", "mixes[1]", "transmitter.controls[1]", "logic[1]", "logic[0]",
		"demands[0]", "transmitter.controls[0]", "transmitter.controls[2]",
		"shares[0]", "outputs[0]",
		"mixes[0]"}, paths(g.Behind(setup.IsOutput.At(1))), "with what it shares with")
	require.Equal(t, []string{"devices[0]", "devices[2]", "receivers[0].pins[1]", "outputs[0]", "mixes[0]"},
		paths(g.Behind(setup.IsDevice.At(0)))[:5], "behind the leveller, over the order on the air")
	require.Equal(t, []string{"transmitter.controls[1]", "mixes[1]", "outputs[1]", "shares[0]", "outputs[0]",
		"receivers[0].pins[1]", "devices[2]", "devices[0]",
		"receivers[0].pins[0]", "devices[1]", "stage.parts[0]"}, paths(g.Ahead(setup.IsControl.At(1))))
	require.Equal(t, []string{"transmitter.controls[3]"}, paths(g.Ahead(setup.IsControl.At(3))),
		"nothing uses it")
	require.Contains(t, paths(g.Ahead(setup.IsOutput.At(2))), "devices[1]", "by its second lead")
	require.Contains(t, paths(g.Ahead(setup.IsOutput.At(2))), "claims[0]")
	require.Contains(t, paths(g.Ahead(setup.IsControl.At(0))), "start_check[0]")
	values := func(r *setup.Reference) bool { return r.Role != setup.ReadsTruth }
	require.Equal(t, []string{"outputs[2]", "mixes[2]", "sequences[0]"},
		paths(g.BehindBy(values, setup.IsOutput.At(2))))
	require.Empty(t, g.Behind(setup.Item{})[1:])
	require.True(t, g.IsNamed(setup.IsControl.At(2)))
	require.False(t, g.IsNamed(setup.IsControl.At(3)))
}

// TestBehindAndAheadAgree: what is behind a part has that ahead of it.
func TestBehindAndAheadAgree(t *testing.T) {
	setups := []*setup.Setup{read(t, linked)}
	for _, m := range golden.Models(t) {
		setups = append(setups, m.Doc.Setup)
	}
	for _, s := range setups {
		g := s.Graph()
		parts := map[setup.Item]bool{}
		for _, r := range g.References {
			parts[r.From], parts[r.To] = true, true
		}
		require.Greater(t, len(parts), 20)
		for part := range parts {
			for _, other := range g.Behind(part) {
				require.Contains(t, g.Ahead(other), part, "%s behind %s", other.Path(), part.Path())
			}
			for _, other := range g.Ahead(part) {
				require.Contains(t, g.Behind(other), part, "%s ahead of %s", other.Path(), part.Path())
			}
		}
	}
}

// TestPinsAndLeads: what carries an output, and what hangs on it.
func TestPinsAndLeads(t *testing.T) {
	s := read(t, linked)
	pin := func(i int) setup.PinRef { return setup.PinRef{Receiver: 0, Pin: i} }
	require.Equal(t, []setup.PinRef{pin(1)}, s.Carriers(0), "channel 1 goes out as 2")
	require.Empty(t, s.Carriers(3), "the link has six channels")
	require.Equal(t, []int{1, 0, 2, -1, -1}, []int{s.Carried(pin(0)), s.Carried(pin(1)), s.Carried(pin(2)),
		s.Carried(pin(3)), s.Carried(pin(4))})
	require.Equal(t, []int{2}, s.Leads(pin(1)))
	require.Equal(t, []int{0, 2}, s.OnPin(pin(1)))
	require.Equal(t, []int{0}, s.After(2))
	require.Equal(t, []int{0, 1, 0, -1}, []int{s.DrivenBy(0), s.DrivenBy(1), s.DrivenBy(2), s.DrivenBy(3)})
	swap, ok := s.SwapPin(1)
	require.True(t, ok)
	require.Equal(t, pin(2), swap)
	_, ok = s.SwapPin(0)
	require.False(t, ok)
	require.Equal(t, []int{0}, s.MixesTo(0))
	require.Equal(t, []int{0, 0, -1, -1}, []int{s.ShareOf(0), s.ShareOf(1), s.ShareOf(2), s.ShareOf(3)})
	for ref, want := range map[string]int{"a": 0, "soft": 0, "b": 1, "s": 2, "far": -1, "unfold.leg": -1,
		"port.asked": -1, "nobody": -1} {
		require.Equal(t, want, s.ControlBehind(setup.Value{Ref: ref}), ref)
	}
	require.Equal(t, -1, s.ControlBehind(setup.Value{Number: 5}))
}

// TestKeysAreTheSameInEveryRevision: by id; by place where there is none.
func TestKeysAreTheSameInEveryRevision(t *testing.T) {
	s := read(t, linked)
	require.Equal(t, setup.Key{Kind: setup.IsMix, ID: "main"}, s.Key(setup.IsMix.At(0)))
	require.Equal(t, setup.Key{Kind: setup.IsMix, Place: 3}, s.Key(setup.IsMix.At(3)))
	require.Equal(t, setup.Key{Kind: setup.IsPin, ID: "rx", Place: 5},
		s.Key(setup.PinRef{Receiver: 0, Pin: 1}.Item()))
	require.Equal(t, setup.Key{}, s.Key(setup.Item{}))
	require.Equal(t, []string{"mixes/main", "", "controls/s", "logic/far"},
		[]string{s.PartName(setup.IsMix.At(0)), s.PartName(setup.IsMix.At(1)),
			s.PartName(setup.IsControl.At(2)), s.PartName(setup.IsBlock.At(0))})
}

// TestACopyThatWasChangedIsRelinked, and the original stays as it is.
func TestACopyThatWasChangedIsRelinked(t *testing.T) {
	s := read(t, linked)
	now := *s
	now.Shares = nil
	now.Outputs = slices.Clone(s.Outputs)
	now.Outputs[0].ID = "left"
	now.Mixes = slices.Clone(s.Mixes)
	now.Mixes[0].To = "left"
	now.Relink()
	require.Equal(t, -1, now.ShareOf(0))
	require.Equal(t, setup.IsOutput.At(0), now.Item("left"))
	require.Equal(t, setup.Item{}, now.Item("port"))
	require.Equal(t, []int{0}, now.MixesTo(0))
	require.Equal(t, 0, s.ShareOf(0))
	require.Equal(t, setup.Item{}, s.Item("left"))
}
