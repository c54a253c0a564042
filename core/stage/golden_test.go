package stage_test

import (
	"bytes"
	"fmt"
	"os"
	"path/filepath"
	"strings"
	"testing"

	"github.com/stretchr/testify/require"

	"axtren/core/setup"
	"axtren/core/signal"
	"axtren/core/stage"
	"axtren/demo"
	"axtren/internal/golden"
)

// moved is what the hands do where a model brings no script of its own.
const moved = `t_s,control,value
0.5,%[1]s,70
1.5,%[2]s,-60
2.5,%[1]s,-100
3,link,down
4.5,link,up
5,transmitter,off
6,transmitter,on
7,%[1]s,0
8,%[2]s,0
8,link,up
`

// TestWholePictures: what is drawn and said of a model, and its numbers while it is
// played with.
func TestWholePictures(t *testing.T) {
	for _, m := range golden.Models(t) {
		at := [2]setup.ID{m.Doc.Setup.Transmitter.Controls[0].ID, m.Doc.Setup.Transmitter.Controls[1].ID}
		golden.Equal(t, m.Name, whole(t, m.Doc, []byte(fmt.Sprintf(moved, at[0], at[1]))))
	}
	yard, err := demo.Yard()
	require.NoError(t, err)
	for _, m := range yard {
		name := strings.ToLower(m.Doc.Setup.Name)
		scripts, err := filepath.Glob("../../demo/" + name + "/*.csv")
		require.NoError(t, err)
		require.Len(t, scripts, 1, name)
		script, err := os.ReadFile(scripts[0])
		require.NoError(t, err)
		golden.Equal(t, name, whole(t, m.Doc, script))
	}
}

func whole(t *testing.T, doc *setup.Document, script []byte) string {
	s := of(t, doc)
	var b strings.Builder
	b.WriteString(golden.Text(t, s.pic))
	for _, f := range s.g.Faults() {
		fmt.Fprintf(&b, "fault: %s: %s; %s\n", f.Path, f.Message, f.Remedy)
	}
	frame, before, words := 0, "", ""
	require.NoError(t, s.p.Run(signal.NewScript(bytes.NewReader(script), s.p), -1, func(at float64, on *signal.State) error {
		s.g.Step(s.st, on)
		if w := golden.Text(t, s.g.Words(s.st, on)); w != words && frame%10 == 0 {
			fmt.Fprintf(&b, "%.2f s:\n%s", at, w)
			words = w
		}
		if frame++; frame%40 != 1 {
			return nil
		}
		line := ""
		for _, v := range s.g.Numbers(s.st, nil) {
			line += fmt.Sprintf(" %.4g", v+0)
		}
		if line != before {
			fmt.Fprintf(&b, "%.2f s:%s\n", at, line)
			before = line
		}
		return nil
	}))
	return b.String()
}

// TestWholeDrills: all that a drill says, in its order, from rest and in the middle of
// a play.
func TestWholeDrills(t *testing.T) {
	for _, m := range golden.Models(t) {
		var b strings.Builder
		s := of(t, m.Doc)
		s.play(0.5)
		for i := range s.p.Setup().Transmitter.Controls {
			if i < 3 {
				s.hands[i] = 80
			}
		}
		for _, when := range []string{"from rest", "in play"} {
			for _, kind := range []string{stage.SwitchOn, stage.CutLink, stage.LetGo, stage.AllRest} {
				fmt.Fprintf(&b, "%s, %s\n%s", kind, when, golden.Text(t, s.g.Drill(kind, s.hands, s.on, s.st)))
				fmt.Fprintf(&b, "  %q\n", s.g.Script(kind, 3, s.hands))
			}
			s.play(1)
		}
		golden.Equal(t, m.Name+"_drills", b.String())
	}
}
