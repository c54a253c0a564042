package live

import (
	"bytes"
	"os"
	"testing"

	"github.com/stretchr/testify/require"

	"axtren/core/setup"
	"axtren/core/signal"
)

func program(t testing.TB, name string) *signal.Program {
	text, err := os.ReadFile("../../demo/" + name + ".yaml")
	require.NoError(t, err)
	doc, err := setup.ReadYAML(text)
	require.NoError(t, err)
	p, err := signal.Compile(doc.Setup)
	require.NoError(t, err)
	return p
}

// TestThePlayerShowsWhatARunGives: at every frame that it is sent to, forwards and
// backwards, the player holds the state that a plain run of the script has there.
func TestThePlayerShowsWhatARunGives(t *testing.T) {
	p := program(t, "marram")
	script, err := os.ReadFile("../../demo/marram/out-to-the-mole-and-back.csv")
	require.NoError(t, err)
	var frames [][]float64
	require.NoError(t, p.Run(signal.NewScript(bytes.NewReader(script), p), -1, func(_ float64, st *signal.State) error {
		frames = append(frames, append([]float64(nil), st.V[:p.Kept()]...))
		return nil
	}))
	pl := newPlayer("x", script, p, 0, 0)
	require.Empty(t, pl.why)
	require.InDelta(t, len(frames)-1, pl.last, 1)
	shown := pl.state
	for _, to := range []int64{0, 1, 700, 699, 12, pl.last - 1, 300} {
		pl.target = to
		for pl.at != to {
			pl.frame()
		}
		require.Equal(t, frames[to], pl.state.V[:p.Kept()], "frame %d", to)
		require.Same(t, shown, pl.state, "the bench shows this state")
	}
	pl.run = 2.5
	for range 10 {
		pl.frame()
	}
	require.EqualValues(t, 325, pl.at)
	require.Equal(t, frames[325], pl.state.V[:p.Kept()])
	pl.target, pl.run = pl.last, 1
	for range 10 {
		pl.frame()
	}
	require.Equal(t, pl.last, pl.at)
	require.Zero(t, pl.run, "it holds at its end")
}

func TestAScriptThatDoesNotFitSaysWhy(t *testing.T) {
	pl := newPlayer("x", []byte("t_s,control,value\n0,sail,1\n"), program(t, "stoat"), 1, 0)
	require.Contains(t, pl.why, "nothing of this name")
	pl.frame()
	require.Zero(t, pl.last)
}

func docOf(t testing.TB) *setup.Document {
	text, err := os.ReadFile("../../demo/stoat.yaml")
	require.NoError(t, err)
	doc, err := setup.ReadYAML(text)
	require.NoError(t, err)
	return doc
}
