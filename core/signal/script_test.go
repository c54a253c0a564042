package signal

import (
	"errors"
	"io"
	"strings"
	"testing"

	"github.com/stretchr/testify/require"

	"axtren/core/setup"
)

// TestAScriptIsReadToItsEnd: a mistake counts wherever it stands, also beyond the time
// that is played; a script has its header, and its numbers are decimal.
func TestAScriptIsReadToItsEnd(t *testing.T) {
	doc, err := setup.ReadYAML([]byte("format: axtren-setup\nversion: 1\ntransmitter: {controls: [{id: a, " +
		"kind: axis}, {id: s, kind: switch, positions: [up, down]}]}\n"))
	require.NoError(t, err)
	p, err := Compile(doc.Setup)
	require.NoError(t, err)
	const head = "t_s,control,value\n"
	for _, c := range []struct {
		text string
		line int
		says string
	}{
		{"", 1, "has no header"},
		{"0,a,1\n", 1, "header is wrong"},
		{head + "0,a,1\n5,a,200\n", 3, "takes a number"},
		{head + "0,a,1\n9,nobody,1\n", 3, "nothing of this name"},
		{head + "0,a,1\n9,a,1\n8,a,1\n", 4, "earlier than the one before"},
		{head + "0,a,1\n9,s,left\n", 3, "no such position"},
		{head + "0,a,1_0\n", 2, "takes a number"},
		{head + "0,a,0x1p4\n", 2, "takes a number"},
		{head + "0,a,inf\n", 2, "takes a number"},
		{head + "0,a,nan\n", 2, "takes a number"},
		{head + "1_0,a,1\n", 2, "time is not a number"},
		{head + "0x1p-2,a,1\n", 2, "time is not a number"},
		{head + "+Inf,a,1\n", 2, "time is not a number"},
		{head + ",a,1\n", 2, "time is not a number"},
	} {
		err := p.Run(NewScript(strings.NewReader(c.text), p), 0.1, func(float64, *State) error { return nil })
		var own *ScriptError
		require.ErrorAs(t, err, &own, "%q", c.text)
		require.Equal(t, c.line, own.Line, "%q", c.text)
		require.Contains(t, own.Error(), c.says)
		require.NotEmpty(t, own.Remedy)
	}
	for _, good := range []string{head, "\ufeff" + head, head + "-1,a,+5\n.5,a,-.5\n1.,a,1e1\n2e0,s,down\n"} {
		frames := 0
		require.NoError(t, p.Run(NewScript(strings.NewReader(good), p), 0.1,
			func(float64, *State) error { frames++; return nil }), "%q", good)
		require.Equal(t, 6, frames)
	}
	sc := NewScript(strings.NewReader(head+"1,a,1\n"), p)
	_, err = sc.Next()
	require.NoError(t, err)
	_, err = sc.Next()
	require.True(t, errors.Is(err, io.EOF))
}
