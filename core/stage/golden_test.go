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
		script := fmt.Sprintf(moved, at[0], at[1])
		if rx := m.Doc.Setup.Receivers; len(rx) > 1 { // one of them alone loses its power
			script = strings.Replace(script, "8,link,up\n",
				fmt.Sprintf("8,%[1]s,off\n9,%[1]s,on\n9.5,link,up\n", rx[1].ID), 1)
		}
		golden.Equal(t, m.Name, whole(t, m.Doc, []byte(script)))
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
	require.NoError(t, s.p.Run(signal.NewScript(bytes.NewReader(script), s.p), -1,
		func(at float64, on *signal.State) error {
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
				fmt.Fprintf(&b, "%s, %s\n%s", kind, when, golden.Text(t,
					s.g.Drill(kind, s.hands, s.on, s.st)))
				fmt.Fprintf(&b, "  %q\n", s.g.Script(kind, 3, s.hands))
			}
			s.play(1)
		}
		golden.Equal(t, m.Name+"_drills", b.String())
	}
}

// odd are pictures that no model of the demo has: three axles with a servo on the brake,
// one brake that a controller holds, plates that meet, sizes that cannot be.
var odd = map[string]string{
	"lorry": `
craft: {kind: truck}
transmitter: {controls: [{id: gas, kind: axis}, {id: wheel, kind: axis},
    {id: brake, kind: axis, spring: none, start: -100}]}
mixes: [{to: motor, from: gas}, {to: steer, from: wheel}, {to: hold, from: brake}]
outputs: [{id: motor, channel: 1}, {id: steer, channel: 2, low: -80}, {id: hold, channel: 3, high: 90}]
receivers: [{id: rx, pins: [{pin: 1, channel: 1}, {pin: 2, channel: 2}, {pin: 3, channel: 3}]}]
devices: [{id: esc, on: rx.1, kind: esc, reverse: brake_first}, {id: steering, on: rx.2, kind: servo},
    {id: brake_servo, on: rx.3, kind: servo}]
stage:
  top_mm_s: 2000
  coast_s: 1
  track_mm: 1
  parts:
    - {part: axle, label: Front, device: steering, from: -30, to: 30, motor: esc, at_mm: [150, 0],
        size_mm: [50, 180]}
    - {part: axle, label: Middle, motor: esc, brake: brake_servo, at_mm: [-90, 0], size_mm: [50, 170]}
    - {part: axle, label: Rear, motor: esc, brake: brake_servo, at_mm: [-160, 0], size_mm: [50, 170]}
`,
	"plates": `
craft: {kind: amphibian}
transmitter: {controls: [{id: gas, kind: axis}, {id: wheel, kind: axis}, {id: brake, kind: axis}]}
mixes: [{to: ramp, from: gas}, {to: door, from: wheel}, {to: leg, from: brake}]
outputs: [{id: ramp, channel: 1}, {id: door, channel: 2}, {id: leg, channel: 3}]
receivers: [{id: rx, pins: [{pin: 1, channel: 1}, {pin: 2, channel: 2}, {pin: 3, channel: 3}]}]
devices: [{id: ramp_servo, on: rx.1, kind: servo}, {id: door_servo, on: rx.2, kind: servo},
    {id: leg_servo, on: rx.3, kind: servo}]
stage:
  track_mm: 0
  wheelbase_mm: -5
  parts:
    - {part: hull, at_mm: [-300, 0]}
    - {part: ramp, label: Ramp, device: ramp_servo, from: -45, to: 60, at_mm: [-20, 0], size_mm: [100, 20]}
    - {part: door, label: Door, device: door_servo, from: 90, to: 210, at_mm: [110, 40], size_mm: [70, 8]}
    - {part: leg, label: Leg, device: leg_servo, from: -10, to: 40, at_mm: [60, 70], size_mm: [40, 12]}
    - {part: lamp, label: Unlit, at_mm: [0, 0]}
`,
}

const oddMoves = `t_s,control,value
0.4,gas,100
1,wheel,-100
7,wheel,100
8,brake,-40
9,brake,20
9.5,gas,0
10,wheel,0
11,gas,-100
11.5,wheel,40
12,brake,100
13,gas,-60
14,wheel,-50
15,brake,-100
17,gas,0
19,link,up
`

func TestWholeOddPictures(t *testing.T) {
	for name, text := range odd {
		doc, err := setup.ReadYAML([]byte("format: axtren-setup\nversion: 1\n" + text))
		require.NoError(t, err)
		golden.Equal(t, "odd_"+name, whole(t, doc, []byte(oddMoves)))
	}
}
