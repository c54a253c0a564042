package same

import (
	"context"
	"testing"

	"github.com/stretchr/testify/require"

	"axtren/core/proof"
	"axtren/core/setup"
)

// TestTwoRules: the same in other words is proved the same; of two that differ it is told what to do, when it
// shows, and which of them is on then. Worked by hand.
func TestTwoRules(t *testing.T) {
	doc, err := setup.ReadYAML([]byte(`format: axtren-setup
version: 1
transmitter:
  controls:
    - {id: key, kind: switch, label: Key, positions: [rest, press], spring_to: rest}
    - {id: lock, kind: switch, label: Lock, positions: [free, locked]}
    - {id: stick, kind: axis, label: Stick}
logic:
  - {id: both, label: Both, block: and, in: [key.press, lock.free]}
  - {id: neither, block: or, in: [not key.press, not lock.free]}
  - {id: turned, label: Turned, block: and, in: [not neither]}
  - {id: either, label: Either, block: or, in: [key.press, lock.free]}
  - {id: set_wins, label: Horn, block: sr, set: key.press, reset: lock.locked}
  - {id: reset_wins, label: Siren, block: rs, set: key.press, reset: lock.locked}
  - {id: soon, label: Soon, block: ton, in: lock.locked, for_s: 0.5}
  - {id: later, label: Later, block: ton, in: lock.locked, for_s: 0.52}
  - {id: beyond, label: Beyond, block: above, of: stick, level: 20}
  - {id: further, label: Further, block: above, of: stick, level: 20.5}
`))
	require.NoError(t, err)
	s := doc.Setup
	for _, c := range []struct {
		a, b    setup.ID
		verdict string
		lines   []string
	}{
		{"both", "turned", proof.Holds, nil},
		{"both", "both", proof.Holds, nil},
		{"both", "either", proof.Fails, []string{"At power-on Either is on and Both is off."}},
		{"either", "both", proof.Fails, []string{"At power-on Either is on and Both is off."}},
		{"set_wins", "reset_wins", proof.Fails, []string{"Before power-on: Lock at locked.", "Then press Key.",
			"Then Horn is on and Siren is off."}},
		{"reset_wins", "set_wins", proof.Fails, []string{"Before power-on: Lock at locked.", "Then press Key.",
			"Then Horn is on and Siren is off."}},
		{"soon", "later", proof.Fails, []string{"Before power-on: Lock at locked.",
			"0.5 s later Soon is on and Later is off."}},
		{"beyond", "further", proof.Fails, nil},
	} {
		verdict, lines, ok := Rules(context.Background(), s, c.a, c.b, proof.Usual)
		require.True(t, ok)
		require.Equal(t, c.verdict, verdict, "%s %s", c.a, c.b)
		if c.lines != nil {
			require.Equal(t, c.lines, lines)
		}
		if verdict == proof.Holds {
			require.Len(t, lines, 1)
			require.Regexp(t, "^Both and .* are on and off at the same times, whatever hands do: ", lines[0])
		}
	}
	_, lines, _ := Rules(context.Background(), s, "beyond", "further", proof.Usual)
	require.Equal(t, "Then Beyond is on and Further is off.", lines[len(lines)-1])
	_, _, ok := Rules(context.Background(), s, "both", "stick", proof.Usual)
	require.False(t, ok)
	verdict, lines, ok := Rules(context.Background(), s, "soon", "turned", proof.Budget{Bytes: 1 << 20,
		Steps: 1})
	require.True(t, ok)
	require.Contains(t, []string{proof.Undecided, proof.Fails}, verdict)
	require.Regexp(t, `^[A-Z].*\.$`, lines[0])
}
