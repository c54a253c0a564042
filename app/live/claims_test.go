package live

import (
	"context"
	"strings"
	"sync/atomic"
	"testing"

	"github.com/stretchr/testify/require"

	"axtren/core/proof"
	"axtren/core/setup"
)

// TestKnownVerdictsAreRecalled: after an edit what it does not touch is known at once, by the ids that it has
// then; what it touches is not.
func TestKnownVerdictsAreRecalled(t *testing.T) {
	const text = `format: axtren-setup
version: 1
transmitter:
  controls:
    - {id: key, kind: switch, positions: [rest, press], spring_to: rest}
    - {id: mode, kind: switch, positions: [a, b]}
logic: [{id: r, block: and, in: [key.press, mode.a]}, {id: q, block: or, in: [key.press, mode.b]}]
claims: [{id: first, never: [r, mode.b]}, {id: second, never: [q, mode.b]}]
`
	read := func(from, to string) *setup.Setup {
		doc, err := setup.ReadYAML([]byte(strings.Replace(text, from, to, 1)))
		require.NoError(t, err)
		return doc.Setup
	}
	p, s := newProofs(), read("", "")
	require.Empty(t, p.recall(s))
	for i := range s.Claims {
		p.decide(context.Background(), s, i, &atomic.Int64{})
	}
	known := p.recall(s)
	require.Equal(t, proof.Holds, known[0].Verdict)
	require.Equal(t, proof.Fails, known[1].Verdict)
	edited := p.recall(read("block: or", "block: and"))
	require.Len(t, edited, 1)
	require.Equal(t, proof.Holds, edited[0].Verdict)
	require.Len(t, p.recall(read("name: x", "name: y")), 2)
	require.Empty(t, p.recall(read("positions: [a, b]", "positions: [a, b, c]")))
}
