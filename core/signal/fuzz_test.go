package signal

import (
	"math"
	"os"
	"path/filepath"
	"strings"
	"testing"

	"github.com/stretchr/testify/require"

	"axtren/core/setup"
)

// FuzzScript: no script panics, and whatever the hands do, every output stays a
// number inside its ends and every pulse inside the limits.
func FuzzScript(f *testing.F) {
	f.Add("t_s,control,value\n0,drive,100\n0.1,turn,-33.3\n0.2,gear,high\n")
	f.Add("t_s,control,value\n-1,drive,1e-320\n")
	p := compileYAML(f, tracked)
	f.Fuzz(func(t *testing.T, script string) { runInside(t, p, script) })
}

func runInside(t *testing.T, p *Program, script string) {
	pulse := p.Setup().Transmitter.Pulse
	_ = p.Run(NewScript(strings.NewReader(script), p), 1, func(_ float64, st *State) error {
		for i, o := range p.Setup().Outputs {
			at, us := st.At(p.Routes[i].P), st.At(p.Routes[i].US)
			require.False(t, math.IsNaN(at))
			require.True(t, at >= o.Low && at <= o.High, "%s at %g", o.ID, at)
			require.True(t, us >= pulse.MinUS && us <= pulse.MaxUS, "%s at %g us", o.ID, us)
		}
		return nil
	})
}

// FuzzSetup: whatever document is read compiles or names a ring, runs, and
// explains every output, without a panic; what is skipped would give the same, and so does
// a lane.
func FuzzSetup(f *testing.F) {
	paths, err := filepath.Glob("testdata/cases/*/setup.json")
	require.NoError(f, err)
	for _, path := range paths {
		text, err := os.ReadFile(path)
		require.NoError(f, err)
		f.Add(text)
	}
	f.Fuzz(func(t *testing.T, text []byte) {
		doc, err := setup.ReadYAML(text)
		if err != nil {
			return
		}
		p, err := Compile(doc.Setup)
		if err != nil {
			return
		}
		runInside(t, p, "t_s,control,value\n")
		st := p.PowerOn()
		p.Step(st, p.Rest())
		for i := range p.Routes {
			require.Equal(t, st.At(p.Routes[i].US), p.Why(st, i).Value)
		}
		sameWithoutSleep(t, p, thumbs(p, 120))
		sameInLanes(t, p, 3, 60, thumbs(p, 120))
	})
}
