package loss

import (
	"context"
	"encoding/csv"
	"fmt"
	"math"
	"math/rand/v2"
	"strconv"
	"strings"
	"testing"

	"github.com/stretchr/testify/require"

	"axtren/core/setup"
	"axtren/core/signal"
	"axtren/demo"
	"axtren/internal/golden"
)

func compiled(t testing.TB, text string) *signal.Program {
	t.Helper()
	doc, err := setup.ReadYAML([]byte(text))
	require.NoError(t, err)
	return compiledDoc(t, doc)
}

func compiledDoc(t testing.TB, doc *setup.Document) *signal.Program {
	t.Helper()
	p, err := signal.Compile(doc.Setup)
	require.NoError(t, err)
	return p
}

func rows(t testing.TB, p *signal.Program, script string) []signal.Row {
	t.Helper()
	list, err := signal.NewScript(strings.NewReader("t_s,control,value\n"+script), p).Rows()
	require.NoError(t, err)
	return list
}

func every(t testing.TB, p *signal.Program, wish Wish) *Drill {
	t.Helper()
	d, err := Every(context.Background(), p, wish)
	require.NoError(t, err)
	return d
}

// trace plays a script as axtren simulate does, and gives its columns by name.
func trace(t testing.TB, p *signal.Program, script string, seconds float64) map[string][]string {
	t.Helper()
	var out strings.Builder
	w, err := signal.NewTrace(&out, p)
	require.NoError(t, err)
	require.NoError(t, p.Run(signal.NewScript(strings.NewReader("t_s,control,value\n"+script), p),
		seconds, w.Frame))
	require.NoError(t, w.Close())
	lines, err := csv.NewReader(strings.NewReader(out.String())).ReadAll()
	require.NoError(t, err)
	columns := map[string][]string{}
	for i, name := range lines[0] {
		for _, line := range lines[1:] {
			columns[name] = append(columns[name], line[i])
		}
	}
	return columns
}

// column is where a trace has the value of a device; empty: nowhere.
func column(s *setup.Setup, i int) string {
	id := string(s.Devices[i].ID)
	switch s.Devices[i].Base().(type) {
	case *setup.Esc:
		return id + "_motor"
	case *setup.OnOff:
		return id + "_on"
	case *setup.StepBox:
		return id + "_step"
	case *setup.Servo:
		return id + "_at"
	}
	return ""
}

// cell reads a cell of a trace as the value of a device.
func cell(t *testing.T, name, text string) float64 {
	t.Helper()
	v, err := strconv.ParseFloat(text, 64)
	require.NoError(t, err)
	if strings.HasSuffix(name, "_on") {
		return 100 * v
	}
	return v
}

// cutAt is a script without its rows of the link, with the link down from a time on.
func cutAt(script string, cut float64) string {
	var b strings.Builder
	row, done := fmt.Sprintf("%g,link,down\n", cut), false
	for line := range strings.Lines(script) {
		at, _, _ := strings.Cut(line, ",")
		if seconds, _ := strconv.ParseFloat(at, 64); !done && seconds > cut {
			b.WriteString(row)
			done = true
		}
		if !strings.Contains(line, ",link,") {
			b.WriteString(line)
		}
	}
	if !done {
		b.WriteString(row)
	}
	return b.String()
}

// plain is a drill worked out by playing each cut with a script that cuts the link.
func plain(t *testing.T, p *signal.Program, script string, seconds, after float64) map[string]Spread {
	t.Helper()
	s := p.Setup()
	found := map[string]Spread{}
	frame := s.Transmitter.FrameS()
	for k := 1; float64(k)*frame <= seconds+1e-9; k++ {
		cut := p.Time(int64(k))
		most := 0.0
		for _, rx := range s.Receivers {
			most = max(most, rx.LossAfterS)
		}
		columns := trace(t, p, cutAt(script, cut), cut+most+after+1)
		for i := range s.Devices {
			name := column(s, i)
			if name == "" {
				continue
			}
			look := cut + s.Receivers[s.DevicePin(i).Receiver].LossAfterS + after
			row := 0
			for p.Time(int64(row)) < look-1e-9 {
				row++
			}
			text := columns[name][row]
			if text == "" {
				continue
			}
			v := cell(t, name, text)
			one, known := found[string(s.Devices[i].ID)]
			if !known {
				one = Spread{Known: true, Least: v, LeastS: cut, Most: v, MostS: cut}
			}
			if v < one.Least {
				one.Least, one.LeastS = v, cut
			}
			if v > one.Most {
				one.Most, one.MostS = v, cut
			}
			found[string(s.Devices[i].ID)] = one
		}
	}
	return found
}

// same compares a drill with one that was worked out in another way.
func same(t *testing.T, p *signal.Program, want map[string]Spread, got *Drill) {
	t.Helper()
	for i, d := range p.Setup().Devices {
		one := got.Devices[i]
		one.Missing = false
		require.Equal(t, want[string(d.ID)], one, string(d.ID))
	}
}

// byHand is a model whose losses can be worked out by hand: a frame of 20 ms, one lever.
const byHand = `
format: axtren-setup
version: 1
transmitter:
  controls:
    - {id: stick, kind: axis, spring: centre}
mixes:
  - {to: steady, from: stick}
  - {to: slow, from: stick}
  - {to: goes, from: stick}
  - {to: stops, from: stick}
outputs:
  - {id: steady, channel: 1, loss: {mode: hold}}
  - {id: slow, channel: 2, slew_s: 2, loss: {mode: hold}}
  - {id: goes, channel: 3, loss: {mode: preset, value: 50}}
  - {id: stops, channel: 4, loss: {mode: cut}}
receivers:
  - {id: rx, loss_after_s: 0.1, failsafe: {can: [hold, cut, preset]},
     pins: [{pin: 1, channel: 1}, {pin: 2, channel: 2}, {pin: 3, channel: 3}, {pin: 4, channel: 4}]}
devices:
  - {id: a, on: rx.1, kind: servo}
  - {id: b, on: rx.2, kind: servo}
  - {id: c, on: rx.3, kind: servo, speed_s: 1}
  - {id: d, on: rx.4, kind: esc}
  - {id: e, on: rx.4, kind: servo}
  - {id: f, on: rx.4, kind: leveller}
  - {id: g, on: rx.4, kind: relay, no_pulse: "on"}
`

// TestLossByHand: the stick goes to 100 in the frame at 0.5 s and stays. Frames 0..50, so cuts in 1..50.
func TestLossByHand(t *testing.T) {
	p := compiled(t, byHand)
	d := every(t, p, Wish{Rows: rows(t, p, "0.5,stick,100\n"), ForS: 1, AfterS: 0.06})
	require.Equal(t, 50, d.Cuts)
	// a holds what it had: 0 up to a cut at 0.5 s, the frame in which the stick goes, which is not heard.
	require.Equal(t, Spread{Known: true, Least: 0, LeastS: 0.02, Most: 100, MostS: 0.52}, d.Devices[0])
	// b moves 2 a frame (200 x 0.02 / 2) from 0.5 s on; cut at 1 s, the last that was heard is 0.98 s: 25
	// frames.
	require.Equal(t, Spread{Known: true, Least: 0, LeastS: 0.02, Most: 50, MostS: 1}, d.Devices[1])
	// c moves 4 a frame. The loss acts 5 frames after the cut and it is looked at 3 later: 4 frames towards 50.
	// Cut before the stick moved it gets to 16; the stick at 100, it has come to 50 after 13 frames of 4, in the
	// frame at 0.74 s, and on to 100 at 0.98 s. Cut at 0.52 s: one frame of 4 was heard, 5 more are held: 24,
	// then 4 towards 50: 40. Cut at 0.66 s: 8 frames heard, 5 held: 52, then 50. The latest cuts leave it
	// highest: 0.98 s and 1 s both hold 100, and 4 frames back is 84; cut at 0.88 s is the first that gets to
	// 100 while it is held (19 frames heard and 5 held are 96; 0.90 s: 20 and 5 are 100).
	require.Equal(t, Spread{Known: true, Least: 16, LeastS: 0.02, Most: 84, MostS: 0.9}, d.Devices[2])
	// d has no pulses: its motor is 0. e stays where its last pulse left it. f has no value, g is on.
	require.Equal(t, Spread{Known: true, LeastS: 0.02, MostS: 0.02}, d.Devices[3])
	require.Equal(t, Spread{Known: true, Least: 0, LeastS: 0.02, Most: 100, MostS: 0.52}, d.Devices[4])
	require.Equal(t, Spread{Missing: true}, d.Devices[5])
	require.Equal(t, Spread{Known: true, Least: 100, LeastS: 0.02, Most: 100, MostS: 0.02}, d.Devices[6])
	require.Equal(t, []Spread{d.Devices[0], d.Devices[1],
		{Known: true, Least: 50, LeastS: 0.02, Most: 50, MostS: 0.02}, {Missing: true}}, d.Pins)
	require.Nil(t, d.Back, "the signal does not return")
}

// TestReturnByHand: it returns in the frame after the last look, 9 frames after the cut.
func TestReturnByHand(t *testing.T) {
	p := compiled(t, byHand)
	d := every(t, p, Wish{Rows: rows(t, p, "0.5,stick,100\n"), ForS: 1, AfterS: 0.06, BackS: 0.04})
	require.Len(t, d.Back, 7)
	// looked at 10 frames after the cut, in the second frame with the signal: a cut in frame 14 sees it in frame
	// 24, before the stick moves; in frame 15 at 0.5 s, in which it has moved.
	require.Equal(t, Spread{Known: true, Least: 0, LeastS: 0.02, Most: 100, MostS: 0.3}, d.Back[0])
	require.Equal(t, Spread{Known: true, Least: 0, LeastS: 0.02, Most: 72, MostS: 1}, d.Back[1],
		"the transmitter went on meanwhile: 36 frames of 2")
	require.Equal(t, Spread{Known: true, Least: 0, LeastS: 0.02, Most: 100, MostS: 0.3}, d.Back[3])
}

// TestDrillsEdges: no frame, one frame, a wish that cannot be, and a run that is stopped.
func TestDrillsEdges(t *testing.T) {
	p := compiled(t, byHand)
	require.Equal(t, 0, every(t, p, Wish{}).Cuts)
	require.Equal(t, Spread{}, every(t, p, Wish{}).Devices[0])
	require.Equal(t, 1, every(t, p, Wish{ForS: 0.02}).Cuts)
	require.Equal(t, 100, every(t, p, Wish{ForS: -1}).Cuts, "2 s")
	require.Equal(t, 150, every(t, p, Wish{ForS: -1, Rows: rows(t, p, "0,stick,5\n1,link,down\n")}).Cuts)
	for _, s := range []float64{-1, 601, math.NaN()} {
		_, err := Every(context.Background(), p, Wish{AfterS: s})
		require.ErrorContains(t, err, "use 0 to 600")
	}
	ctx, cancel := context.WithCancel(context.Background())
	cancel()
	_, err := Every(ctx, p, Wish{ForS: 1})
	require.ErrorIs(t, err, context.Canceled)
}

// hands makes a random script: axes, switches, power of transmitter and receivers, the link.
func hands(p *signal.Program, rnd *rand.Rand, n int, seconds float64) string {
	ids := p.HandIDs()
	var b strings.Builder
	t := 0.0
	for range n {
		t += rnd.Float64() * seconds / float64(n)
		hand := rnd.IntN(len(ids))
		id := ids[hand]
		item := p.Setup().Item(setup.ID(id))
		var v float64
		switch {
		case item.Kind == setup.IsDevice:
			continue
		case item.Kind == setup.IsControl && p.Setup().Transmitter.Controls[item.Index].Axis != nil:
			v = float64(rnd.IntN(201) - 100)
		case item.Kind == setup.IsControl:
			v = float64(rnd.IntN(len(p.Setup().Transmitter.Controls[item.Index].Switch.Positions)))
		default:
			v = float64(rnd.IntN(2))
		}
		fmt.Fprintf(&b, "%.3f,%s,%s\n", t, id, p.HandWord(id, v))
	}
	return b.String()
}

// TestAgainstPlainRuns compares drills with plain runs whose script cuts the link: more than 200 moments,
// with hands, transmitter and receivers moved at random, of every demo model and of one that uses
// everything.
func TestAgainstPlainRuns(t *testing.T) {
	rnd := rand.New(rand.NewPCG(1, 2))
	yard, err := demo.Yard()
	require.NoError(t, err)
	var programs []*signal.Program
	for _, m := range yard {
		programs = append(programs, compiledDoc(t, m.Doc))
	}
	programs = append(programs, golden.Models(t)[0].Program, compiled(t, twoReceivers))
	for _, p := range programs {
		for range 3 {
			seconds, after := 0.2+0.4*rnd.Float64(), rnd.Float64()
			script := hands(p, rnd, 12, seconds)
			got := every(t, p, Wish{Rows: rows(t, p, script), ForS: seconds, AfterS: after})
			same(t, p, plain(t, p, script, seconds, after), got)
		}
	}
}

// twoReceivers has one output on two receivers with different failsafes, and a third that can do nothing.
const twoReceivers = `
format: axtren-setup
version: 1
transmitter:
  controls:
    - {id: stick, kind: axis, spring: centre}
    - {id: go, kind: switch, positions: ["off", "on"]}
mixes:
  - {to: drive, from: stick}
outputs:
  - {id: drive, channel: 1, loss: {mode: preset, value: -40}}
receivers:
  - {id: fore, loss_after_s: 0.1, failsafe: {can: [hold, preset]}, pins: [{pin: 1, channel: 1}]}
  - {id: aft, loss_after_s: 0.5, failsafe: {can: [cut], otherwise: cut}, pins: [{pin: 1, channel: 1}]}
  - {id: plain, pins: [{pin: 1, channel: 1}]}
devices:
  - {id: a, on: fore.1, kind: servo}
  - {id: b, on: aft.1, kind: esc}
  - {id: c, on: plain.1, kind: servo}
`

// TestTwoReceiversByHand: the stick is at 60 from the first frame on.
func TestTwoReceiversByHand(t *testing.T) {
	p := compiled(t, twoReceivers)
	d := every(t, p, Wish{Rows: rows(t, p, "0,stick,60\n"), ForS: 0.1})
	all := func(v float64) Spread { return Spread{Known: true, Least: v, LeastS: 0.02, Most: v, MostS: 0.02} }
	require.Equal(t, []Spread{all(-40), all(0), all(60)}, d.Devices,
		"one goes to its preset, one gets no pulses, one can only hold")
	// fore is off from frame 7 on, 0.14 s: of a cut in frame 1 it learns in frame 6; of one in frame 2 it would
	// in frame 7, and the servo stays.
	d = every(t, p, Wish{Rows: rows(t, p, "0,stick,60\n0.13,fore,off\n2,fore,on\n"), ForS: 0.1})
	require.Equal(t, Spread{Known: true, Least: -40, LeastS: 0.02, Most: 60, MostS: 0.04}, d.Devices[0])
	require.Equal(t, Spread{Known: true, Missing: true, Least: -40, LeastS: 0.02, Most: -40, MostS: 0.02},
		d.Pins[0])
}

// TestNothingHeardByHand: before the first signal there is none to lose. The start check waits for the switch
// until 0.1 s, frame 5: a cut before it leaves a servo where nobody knows, and a controller still.
func TestNothingHeardByHand(t *testing.T) {
	p := compiled(t, twoReceivers+"start_check: [{control: go, is: \"on\"}]\n")
	d := every(t, p, Wish{Rows: rows(t, p, "0,stick,60\n0.1,go,on\n"), ForS: 0.2})
	require.Equal(t, Spread{Known: true, Missing: true, Least: -40, LeastS: 0.12, Most: -40, MostS: 0.12},
		d.Devices[0])
	require.Equal(t, Spread{Known: true, Least: 0, LeastS: 0.02, Most: 0, MostS: 0.02}, d.Devices[1])
	require.Equal(t, Spread{Known: true, Missing: true, Least: 60, LeastS: 0.12, Most: 60, MostS: 0.12},
		d.Devices[2])
	d = every(t, p, Wish{Rows: rows(t, p, "0,stick,60\n"), ForS: 0.2})
	require.Equal(t, Spread{Missing: true}, d.Devices[0], "never sent, never heard")
}

// moving has a sequence, a fade and a slew, each on a receiver that holds at once.
const moving = `
format: axtren-setup
version: 1
transmitter:
  controls:
    - {id: go, kind: switch, positions: ["off", "on"]}
sequences:
  - {id: doors, go: go.on, tracks: {leaf: [[0, -100], [1, 100]]}}
mixes:
  - {to: leaf, from: doors.leaf}
  - {to: faded, from: 100, when: go.on, fade_s: 1}
  - {to: slewed, from: 100, when: go.on}
outputs:
  - {id: leaf, channel: 1, loss: {mode: hold}}
  - {id: faded, channel: 2, loss: {mode: hold}}
  - {id: slewed, channel: 3, slew_s: {up: 2, down: 0}, loss: {mode: hold}}
receivers:
  - {id: rx, pins: [{pin: 1, channel: 1}, {pin: 2, channel: 2}, {pin: 3, channel: 3}]}
devices:
  - {id: a, on: rx.1, kind: servo}
  - {id: b, on: rx.2, kind: servo}
  - {id: c, on: rx.3, kind: servo}
`

// TestMovingByHand cuts in the midst of a sequence (4 a frame), a fade (2 a frame) and a slew (2 a frame),
// all of which begin in frame 5; the last cut is in frame 10, so five frames of each were heard.
func TestMovingByHand(t *testing.T) {
	p := compiled(t, moving)
	d := every(t, p, Wish{Rows: rows(t, p, "0.1,go,on\n"), ForS: 0.2, AfterS: 1})
	require.Equal(t, []Spread{
		{Known: true, Least: -100, LeastS: 0.02, Most: -80, MostS: 0.2},
		{Known: true, Least: 0, LeastS: 0.02, Most: 10, MostS: 0.2},
		{Known: true, Least: 0, LeastS: 0.02, Most: 10, MostS: 0.2},
	}, d.Devices)
}

// full is a model of as many outputs as there can be, every second slow, each with a servo that takes its
// time or a controller, on two receivers.
func full() string {
	var b strings.Builder
	b.WriteString("format: axtren-setup\nversion: 1\ntransmitter: {controls: [" +
		"{id: x, kind: axis, spring: centre}, {id: y, kind: axis, spring: none}]}\n")
	part := func(head string, one func(i int) string) {
		b.WriteString(head)
		for i := 1; i <= 48; i++ {
			b.WriteString(one(i))
		}
	}
	part("mixes:\n", func(i int) string { return fmt.Sprintf("  - {to: o%d, from: %c}\n", i, 'x'+i%2) })
	part("outputs:\n", func(i int) string {
		return fmt.Sprintf("  - {id: o%d, channel: %d, slew_s: %d, loss: {mode: preset, value: %d}}\n", i,
			i, i%2, i)
	})
	part("receivers: [{id: rx, loss_after_s: 0.5, failsafe: {can: [preset]}, pins: [", func(i int) string {
		return fmt.Sprintf("{pin: %d, channel: %d}, ", i, i)
	})
	part("]}]\ndevices:\n", func(i int) string {
		kind := "servo, speed_s: 2"
		if i%3 == 0 {
			kind = "esc"
		}
		return fmt.Sprintf("  - {id: d%d, on: rx.%d, kind: %s}\n", i, i, kind)
	})
	return b.String()
}

// BenchmarkTenMinutes cuts the signal in every frame of ten minutes of a model with 48 outputs.
func BenchmarkTenMinutes(b *testing.B) {
	p := compiled(b, full())
	script := hands(p, rand.New(rand.NewPCG(3, 4)), 3000, 600)
	list := rows(b, p, script)
	b.ReportAllocs()
	for b.Loop() {
		require.Equal(b, 30000, every(b, p, Wish{Rows: list, ForS: 600, AfterS: 1}).Cuts)
	}
}
