package proof

import (
	"bytes"
	"context"
	"encoding/json"
	"testing"

	"github.com/stretchr/testify/require"

	"axtren/core/setup"
	"axtren/core/signal"
	"axtren/demo"
)

// TestPropose: what turns or pumps, by what the device does; not what is claimed already, and no lamp.
func TestPropose(t *testing.T) {
	s := read(t, `
outputs:
  - {id: screw, label: Screw, channel: 1, centre: 10, loss: {mode: cut}}
  - {id: pump, label: Pump, channel: 2, loss: {mode: hold}}
  - {id: lamp, label: Lamp, channel: 3}
  - {id: other, label: Other, channel: 4}
mixes: [{to: screw, from: stick}, {to: pump, from: lock}, {to: other, from: knob}, {to: lamp, from: knob}]
receivers: [{id: rx, pins: [{pin: 1, channel: 1}, {pin: 2, channel: 2}, {pin: 3, channel: 3}, {pin: 4, channel: 4}]}]
devices:
  - {id: d1, on: rx.1, kind: esc, learned_us: {low: 1000, neutral: 1550, high: 2000}}
  - {id: d2, on: rx.2, kind: pump}
  - {id: d3, on: rx.3, kind: lamp}
  - {id: d4, on: rx.4, kind: esc}
claims: [{id: other_lost, on_loss: {output: other, value: 0}}]`)
	p, err := signal.Compile(s)
	require.NoError(t, err)
	var said []string
	for _, one := range Propose(p) {
		var short bytes.Buffer
		require.NoError(t, json.Compact(&short, one.Claim.JSON()))
		said = append(said, one.Label+" "+short.String())
	}
	require.Equal(t, []string{
		`Screw rests at power-on, whatever was left over {"id":"screw_starts","label":"Screw rests at power-on, whatever was left over","at_start":{"output":"screw","value":10,"within":2}}`,
		`Screw rests when the signal is lost {"id":"screw_lost","label":"Screw rests when the signal is lost","on_loss":{"output":"screw","cut":true}}`,
		`Pump rests at power-on, whatever was left over {"id":"pump_starts","label":"Pump rests at power-on, whatever was left over","at_start":{"output":"pump","value":-100,"within":2}}`,
		`Pump rests when the signal is lost {"id":"pump_lost","label":"Pump rests when the signal is lost","on_loss":{"output":"pump","value":-100,"within":2}}`,
		`Other rests at power-on, whatever was left over {"id":"other_starts","label":"Other rests at power-on, whatever was left over","at_start":{"output":"other","value":0,"within":2}}`,
	}, said)
}

// TestProposalsAreClaims: each can be added to the model that it is for, and decided; then it is proposed
// no more.
func TestProposalsAreClaims(t *testing.T) {
	yard, err := demo.Yard()
	require.NoError(t, err)
	n := 0
	for _, m := range yard {
		tree := m.Doc.Tree
		if tree.Get("claims") == nil {
			tree, err = tree.Set("/claims", setup.NodeOf([]any{}))
			require.NoError(t, err)
		}
		p, err := signal.Compile(m.Doc.Setup)
		require.NoError(t, err)
		before := len(m.Doc.Setup.Claims)
		for _, one := range Propose(p) {
			tree, err = tree.Set("/claims/-", one.Claim)
			require.NoError(t, err)
			n++
		}
		doc, err := setup.FromTree(tree)
		require.NoError(t, err)
		again, err := signal.Compile(doc.Setup)
		require.NoError(t, err)
		require.LessOrEqual(t, len(Propose(again)), 4, doc.Setup.Name)
		for i := before; i < len(doc.Setup.Claims); i++ {
			v := Decide(context.Background(), doc.Setup, i, Budget{Bytes: 32 << 20, Steps: 200000})
			require.NotEqual(t, Undecided, v.Verdict, "%s: %+v", doc.Setup.Name, v)
		}
	}
	require.Greater(t, n, 10)
}
