package proof

import (
	"context"
	"math"
	"strings"
	"testing"
	"time"

	"github.com/stretchr/testify/require"

	"axtren/core/setup"
	"axtren/core/signal"
	"axtren/demo"
)

const head = `format: axtren-setup
version: 1
name: Bench
transmitter:
  frame_ms: 20
  controls:
    - {id: button, kind: switch, label: Button, positions: [rest, press], spring_to: rest}
    - {id: lock, kind: switch, label: Lock, positions: [free, locked]}
    - {id: mode, kind: switch, label: Mode, positions: [low, mid, high], start: mid}
    - {id: stick, kind: axis, label: Stick}
    - {id: side, kind: axis, label: Side}
    - {id: knob, kind: axis, label: Knob, spring: none}
`

// read reads a document that goes on after head.
func read(t *testing.T, text string) *setup.Setup {
	t.Helper()
	doc, err := setup.ReadYAML([]byte(head + text))
	require.NoError(t, err)
	return doc.Setup
}

// decided decides the only claim of a document, within ten seconds, and plays what it found.
func decided(t *testing.T, text string) Verdict {
	t.Helper()
	s := read(t, text)
	ctx, cancel := context.WithTimeout(context.Background(), 10*time.Second)
	defer cancel()
	v := Decide(ctx, s, 0, Usual)
	if v.shows(&s.Claims[0]) {
		shows, err := Shows(s, &s.Claims[0], v.Rows, v.Frame)
		require.NoError(t, err)
		require.True(t, shows, "%+v", v)
		for i := range v.Rows { // none of the rows can be left out
			rest := append(append([]Row{}, v.Rows[:i]...), v.Rows[i+1:]...)
			shows, err := Shows(s, &s.Claims[0], rest, v.Frame)
			require.NoError(t, err)
			require.False(t, shows, "without row %d: %+v", i, v)
		}
	}
	return v
}

// rowsOf writes rows short: 1 button press, 25 lock locked.
func rowsOf(v Verdict) string { return strings.TrimPrefix(Script(v.Rows), "t_s,control,value\n") }

// TestVerdictsByHand are worked out by hand; one frame is 20 ms.
func TestVerdictsByHand(t *testing.T) {
	for _, c := range []struct {
		name, text, verdict, rows string
		frame                     int
	}{
		{"a latch that is held down", `
logic: [{id: on, block: rs, set: button.press, reset: lock.locked}]
claims: [{id: c, never: [on, lock.locked]}]`, Holds, "", 0},
		{"set wins", `
logic: [{id: on, block: sr, set: button.press, reset: lock.locked}]
claims: [{id: c, never: [on, lock.locked]}]`, Fails, "0.000,lock,locked\n0.020,button,press\n", 1},
		{"a press of half a second, and the lock", `
logic: [{id: on, block: ton, in: button.press, for_s: 0.5}, {id: both, block: and, in: [on, lock.locked]}]
claims: [{id: c, reachable: both}]`, Holds, "0.000,lock,locked\n0.020,button,press\n", 26},
		{"nothing can be held while it is let go", `
logic: [{id: on, block: ton, in: button.press, for_s: 0.5}]
claims: [{id: c, never: [on, button.rest]}]`, Holds, "", 0},
		{"it changes by itself", `
logic: [{id: on, block: tp, in: button.press, for_s: 0.1}]
claims: [{id: c, only_when: {changes: on, while: button.press}}]`, Fails, "0.020,button,press\n0.040,button,rest\n", 6},
		{"it follows in time", `
logic: [{id: on, block: ton, in: lock.locked, for_s: 0.1}, {id: off, block: ton, in: lock.free, for_s: 0.1}]
claims: [{id: c, leads_to: {when: lock.locked, then: on, within_s: 0.1}}]`, Fails, "0.000,lock,locked\n0.020,lock,free\n", 5},
		{"it follows late", `
logic: [{id: on, block: tof, in: lock.locked, for_s: 0.2}, {id: off, block: and, in: [not on]}]
claims: [{id: c, leads_to: {when: not lock.locked, then: off, within_s: 0.19}}]`, Fails, "0.000,lock,locked\n0.020,lock,free\n", 10},
		{"wherever it was left", `
outputs: [{id: pump, channel: 1}]
mixes: [{to: pump, from: knob}]
claims: [{id: c, at_start: {output: pump, value: 0, within: 10}}]`, Fails, "0.000,knob,-100\n", 0},
		{"the start check keeps it", `
outputs: [{id: pump, channel: 1}]
mixes: [{to: pump, from: knob}]
start_check: [{control: knob, is: {from: -10, to: 10}}]
claims: [{id: c, at_start: {output: pump, value: 0, within: 10}}]`, Holds, "", 0},
		{"more than either by itself", `
outputs: [{id: pump, channel: 1, high: 90}]
mixes: [{to: pump, from: stick, gain: 40}, {to: pump, from: side, gain: 40}]
claims: [{id: c, never: [{output: pump, above: 71}]}]`, Fails, "0.020,stick,100\n0.020,side,100\n", 1},
		{"never as much as that", `
outputs: [{id: pump, channel: 1, high: 90}]
mixes: [{to: pump, from: stick, gain: 40}, {to: pump, from: side, gain: 40}]
claims: [{id: c, never: [{output: pump, above: 72}]}]`, Holds, "", 0},
		{"a cell that no one axis shows", `
outputs: [{id: a, channel: 1}, {id: b, channel: 2}]
mixes: [{to: a, from: stick, gain: 50}, {to: a, from: side, gain: 30}, {to: b, from: stick, gain: 50}, {to: b, from: side, gain: -30}]
claims: [{id: c, reachable: both}]
logic: [{id: both, block: and, in: [one, two]}, {id: one, block: between, of: a.asked, from: 41.3, to: 41.31}, {id: two, block: between, of: b.asked, from: 17.7, to: 17.71}]`,
			Holds, "*", 1},
		{"and one beside it that is none", `
outputs: [{id: a, channel: 1}, {id: b, channel: 2}]
mixes: [{to: a, from: stick, gain: 50}, {to: a, from: side, gain: 30}, {to: b, from: stick, gain: 50}, {to: b, from: side, gain: -30}]
claims: [{id: c, never: [one, two]}]
logic: [{id: one, block: between, of: a.asked, from: 70, to: 70.01}, {id: two, block: between, of: b.asked, from: 70, to: 70.01}]`,
			Holds, "", 0},
		{"it holds where it was", `
outputs: [{id: motor, channel: 1, loss: {mode: hold}}]
mixes: [{to: motor, from: stick}]
receivers: [{id: rx, loss_after_s: 0.1, pins: [{pin: 1, channel: 1}]}]
claims: [{id: c, on_loss: {output: motor, value: 0, within: 5}}]`, Fails, "0.020,stick,100\n0.040,link,down\n", 7},
		{"it goes to its place", `
outputs: [{id: motor, channel: 1, loss: {mode: preset, value: 0}}]
mixes: [{to: motor, from: stick}]
receivers: [{id: rx, loss_after_s: 0.1, failsafe: {can: [preset]}, pins: [{pin: 1, channel: 1}]}]
claims: [{id: c, on_loss: {output: motor, value: 0}}]`, Holds, "", 0},
		{"a receiver that was turned off has no pulse", `
logic: [{id: left, block: rs, set: button.press, reset: lock.locked, start: kept}]
outputs: [{id: motor, channel: 1, loss: {mode: preset, value: 0}}]
mixes: [{to: motor, from: left}]
receivers: [{id: rx, loss_after_s: 0.1, failsafe: {can: [preset]}, pins: [{pin: 1, channel: 1}]}]
claims: [{id: c, on_loss: {output: motor, value: 0}}]`, Fails, "0.020,link,down\n0.020,rx,off\n", 6},
		{"it wakes as it was left", `
logic: [{id: left, block: rs, set: button.press, reset: lock.locked, start: kept}]
outputs: [{id: motor, channel: 1}]
mixes: [{to: motor, from: left}]
claims: [{id: c, at_start: {output: motor, value: -100}}]`, Fails,
			"0.020,button,press\n0.020,transmitter,off\n0.040,transmitter,on\n", 2},
		{"a controller that brakes first", `
outputs: [{id: motor, channel: 1}]
mixes: [{to: motor, from: stick}]
receivers: [{id: rx, pins: [{pin: 1, channel: 1}]}]
devices: [{id: esc, on: rx.1, kind: esc, reverse: brake_first}]
claims: [{id: c, reachable: {device: esc, below: -50}}]`, Holds,
			"0.020,stick,-100\n0.040,stick,0\n0.060,stick,-100\n", 3},
		{"what waits can be over together", `
logic: [{id: a, block: ton, in: button.press, for_s: 1}, {id: b, block: ton, in: lock.locked, for_s: 2}]
claims: [{id: c, never: [a, b, mode.high]}]`, Fails, "0.000,lock,locked\n0.000,mode,high\n0.020,button,press\n", 100},
	} {
		t.Run(c.name, func(t *testing.T) {
			v := decided(t, c.text)
			require.Equal(t, c.verdict, v.Verdict, "%+v", v)
			if c.rows != "*" {
				require.Equal(t, c.rows, rowsOf(v))
			}
			require.Equal(t, c.frame, v.Frame)
			require.Equal(t, v.Verdict == Fails, v.At != nil)
			require.NotNil(t, v.Rows)
			require.True(t, v.States > 0 || v.Bounds != "")
		})
	}
}

// TestManyTimers: what waits is not counted frame by frame where it is only to be proved.
func TestManyTimers(t *testing.T) {
	var b strings.Builder
	b.WriteString("logic:\n")
	for _, id := range []string{"a", "b", "c", "d", "e", "f"} {
		b.WriteString("  - {id: " + id + ", block: ton, in: button.press, for_s: 30}\n")
	}
	b.WriteString("claims: [{id: never, never: [a, b, c, d, e, f, button.rest]}]\n")
	v := decided(t, b.String())
	require.Equal(t, Holds, v.Verdict, "%+v", v)
	require.Less(t, v.States, 1000)
}

// TestSearchesStop: no time, no room and an end by hand leave a claim undecided, and it says how far it got.
func TestSearchesStop(t *testing.T) {
	s := read(t, `
logic:
  - {id: a, block: ton, in: button.press, for_s: 20}
  - {id: b, block: tof, in: lock.locked, for_s: 25}
  - {id: c, block: tp, in: mode.high, for_s: 30}
  - {id: d, block: and, in: [a, b, c]}
claims: [{id: c1, leads_to: {when: d, then: mode.low, within_s: 10}}]`)
	gone, cancel := context.WithCancel(context.Background())
	cancel()
	v := Decide(gone, s, 0, Usual)
	require.Equal(t, Undecided, v.Verdict)
	require.Contains(t, v.Why, "there was no more time after")
	v = Decide(context.Background(), s, 0, Budget{Bytes: 1 << 16})
	require.Equal(t, Undecided, v.Verdict)
	require.Contains(t, v.Why, "there was no more room after")
	require.NotContains(t, Says(s, &s.Claims[0], &v)[0], "_")
}

// TestLongTimes: a time that is too long to be counted is said to be, and nothing is decided by a shorter
// one.
func TestLongTimes(t *testing.T) {
	for within, verdict := range map[string]string{"1310": Holds, "1311": Undecided, "3600": Undecided} {
		v := decided(t, `
logic: [{id: on, block: and, in: [lock.locked]}]
claims: [{id: c, leads_to: {when: lock.locked, then: on, within_s: `+within+`}}]`)
		require.Equal(t, verdict, v.Verdict, within)
		require.Equal(t, verdict == Undecided, strings.Contains(v.Why, "more time than"))
	}
}

// TestSlowThings: what takes time to follow a lever is held within spans; what they do not prove is looked
// for among the places where anything turns, and what that does not find is not proved.
func TestSlowThings(t *testing.T) {
	const slow = `
outputs: [{id: motor, channel: 1, high: 80, slew_s: 1}]
mixes: [{to: motor, from: stick}, {to: motor, from: 0, combine: instead, when: lock.locked, fade_s: 0.5}]
claims: [{id: c, never: [{output: motor, CONDITION}, OTHER]}]`
	for _, c := range [][]string{
		{"above: 50", "not mode.low", Fails},
		{"above: 80", "not mode.low", Holds},
		{"above: 79.9", "not mode.low", Fails},
		{"within: [-101, -100.5]", "not mode.low", Holds},
		{"above: 5", "lock.locked", Fails},
	} {
		v := decided(t, strings.NewReplacer("CONDITION", c[0], "OTHER", c[1]).Replace(slow))
		require.Equal(t, c[2], v.Verdict, "%v: %+v", c, v)
		require.False(t, v.Fewest)
	}
	// fading from one lever to another: no span tells that the two are never driven at once by much
	v := decided(t, `
outputs: [{id: wheels, channel: 1}, {id: screw, channel: 2}]
mixes: [{to: wheels, from: stick, when: lock.free, fade_s: 0.5}, {to: screw, from: stick, when: lock.locked, fade_s: 0.5}]
claims: [{id: c, never: [{output: wheels, above: 51}, {output: screw, above: 51}]}]`)
	require.Equal(t, Holds, v.Verdict, "%+v", v)
	v = decided(t, `
outputs: [{id: wheels, channel: 1}, {id: screw, channel: 2}]
mixes: [{to: wheels, from: stick, when: lock.free, fade_s: 0.5}, {to: screw, from: stick, when: lock.locked, fade_s: 0.5}]
claims: [{id: c, never: [{output: wheels, above: 45}, {output: screw, above: 45}]}]`)
	require.Equal(t, Fails, v.Verdict, "%+v", v)
	// it comes to rest in time, or not quite
	for wait, verdict := range map[string]string{"0.08": Holds, "0.06": Fails} {
		v = decided(t, `
outputs: [{id: motor, channel: 1, slew_s: 0.2}]
mixes: [{to: motor, from: stick}, {to: motor, from: 0, combine: instead, when: lock.locked}]
logic: [{id: safe, block: ton, in: lock.locked, for_s: `+wait+`}]
claims: [{id: c, never: [safe, {output: motor, above: 1}]}]`)
		require.Equal(t, verdict, v.Verdict, "%s: %+v", wait, v)
	}
}

// TestReach: from power-on, and after what was done before.
func TestReach(t *testing.T) {
	s := read(t, `
logic: [{id: on, block: toggle, in: button.press}, {id: late, block: ton, in: on, for_s: 0.2}]
outputs: [{id: motor, label: Motor, channel: 1}]
mixes: [{to: motor, from: stick}, {to: motor, from: 80, combine: instead, when: late}]`)
	p, err := signal.Compile(s)
	require.NoError(t, err)
	reach := func(text, after string) (Verdict, string) {
		c, err := ReadCondition(s, text)
		require.NoError(t, err)
		var rows []Row
		if after != "" {
			rows, err = ReadRows(p, strings.NewReader("t_s,control,value\n"+after))
			require.NoError(t, err)
		}
		v := Reach(context.Background(), s, c, rows, Usual)
		return v, rowsOf(v)
	}
	v, rows := reach("late", "")
	require.Equal(t, Holds, v.Verdict)
	require.Equal(t, "0.020,button,press\n", rows)
	require.Equal(t, 11, v.Frame)
	v, rows = reach("late", "0.1,button,press\n0.14,button,rest\n")
	require.Empty(t, rows, "it comes by itself")
	require.Equal(t, 15, v.Frame)
	v, rows = reach("not on", "0.1,button,press\n")
	require.Equal(t, "0.120,button,rest\n0.140,button,press\n", rows)
	require.Equal(t, 7, v.Frame)
	v, rows = reach("button.press", "0.1,button,press\n")
	require.Empty(t, rows, "it is so already")
	require.Equal(t, 5, v.Frame)
	_, rows = reach("motor > 70", "0.1,stick,30\n")
	require.Equal(t, "0.120,stick,100\n", rows)
	v, _ = reach("motor > 100", "")
	require.Equal(t, Fails, v.Verdict)
	require.Empty(t, v.Rows)

	// from a moment that is played, with the hands where they are
	st, hands := p.PowerOn(), p.Rest()
	press, _ := p.Hand("button")
	for frame := range 30 {
		hands[press] = float64(frame / 10 % 2)
		p.Step(st, hands)
	}
	from := func(text string) Verdict {
		c, err := ReadCondition(s, text)
		require.NoError(t, err)
		v, met := ReachFrom(context.Background(), s, []setup.Condition{c}, Moment{p, st}, Usual)
		require.Zero(t, met)
		return v
	}
	v = from("not on") // it went on at the press
	require.Equal(t, "0.020,button,press\n", rowsOf(v))
	require.Equal(t, []string{"Press Button.", "At once it is so."}, Says(s,
		&setup.Claim{Reachable: &setup.Condition{}}, &v))
	v = from("late")
	require.Empty(t, v.Rows)
	require.Equal(t, 1, v.Frame, "it has been on for 0.4 s")
	v = from("motor < -50")
	require.Equal(t, "0.020,button,press\n0.020,stick,-100\n", rowsOf(v), "what lasts goes before the stick")
	require.Equal(t, 1, v.Frame)

	for text, fault := range map[string]string{"lat": "did you mean late", "motor > much": "is no figure",
		"late > 3": "is no output and no device with a value"} {
		_, err := ReadCondition(s, text)
		require.ErrorContains(t, err, fault)
	}
}

// TestWaysFromNow: the signal and the power are left alone where hands do it; of several goals the one
// with the fewest movements is taken, and of as many the earlier one; a lever goes back to where it rests
// rather than just so far.
func TestWaysFromNow(t *testing.T) {
	s := read(t, `
outputs: [{id: motor, channel: 1, loss: {mode: preset, value: 50}}, {id: lamp, channel: 2}, {id: pump, channel: 3,
  loss: {mode: preset, value: 100}}]
receivers: [{id: rx, loss_after_s: 0.1, failsafe: {can: [preset], otherwise: hold},
  pins: [{pin: 1, channel: 1}, {pin: 2, channel: 2}, {pin: 3, channel: 3}]}]
devices: [{id: screw, on: rx.1, kind: servo}, {id: glow, on: rx.2, kind: relay}, {id: jet, on: rx.3, kind: relay}]
logic: [{id: late, block: ton, in: button.press, for_s: 0.4}, {id: lit, block: or, in: [button.press]}]
mixes: [{from: stick, to: motor}, {from: lit, to: lamp}, {from: -100, to: pump}]`)
	p, err := signal.Compile(s)
	require.NoError(t, err)
	st, hands := p.PowerOn(), p.Rest()
	stick, _ := p.Hand("stick")
	hands[stick] = -100
	for range 20 {
		p.Step(st, hands)
	}
	to := func(goals ...string) (string, string, int) {
		var list []setup.Condition
		for _, text := range goals {
			c, err := ReadCondition(s, text)
			require.NoError(t, err)
			list = append(list, c)
		}
		v, met := ReachFrom(context.Background(), s, list, Moment{p, st}, Usual)
		return v.Verdict, rowsOf(v), met
	}
	check := func(verdict, rows string, met int, goals ...string) {
		t.Helper()
		v, r, m := to(goals...)
		require.Equal(t, []any{verdict, rows, met}, []any{v, r, m})
	}
	check(Holds, "0.020,stick,100\n", 0, "screw > 40")
	check(Holds, "0.020,stick,0\n", 0, "screw > -20")
	check(Holds, "0.020,link,down\n", 0, "jet > 50")
	check(Holds, "0.020,button,press\n", 1, "late", "glow > 50")
	check(Holds, "", 1, "glow > 50", "screw < -50")
	check(Fails, "", 0, "screw > 101")
	check(Fails, "", 0, "screw > 101", "screw < -101")
	check(Holds, "0.020,button,press\n", 2, "screw > 101", "jet > 50", "glow > 50")
	v, _ := ReachFrom(context.Background(), s, nil, Moment{p, st}, Usual)
	require.Equal(t, Fails, v.Verdict)

	// with the signal cut it has to come back
	link, _ := p.Hand("link")
	hands[link] = 0
	for range 20 {
		p.Step(st, hands)
	}
	check(Holds, "0.020,stick,100\n0.020,link,up\n", 0, "screw > 60")
	check(Holds, "", 0, "jet > 50")
}

// TestTurnsThatCoincide: what turns at the same place for an output and for what it moves, of two levers that
// are summed up, is one place: all is told apart, at once.
func TestTurnsThatCoincide(t *testing.T) {
	const text = `
outputs: [{id: motor, channel: 1}]
receivers: [{id: rx, pins: [{pin: 1, channel: 1}]}]
devices: [{id: screw, on: rx.1, kind: esc}]
mixes: [{from: stick, to: motor, gain: 50}, {from: side, to: motor, gain: 30}]
claims:
  - {id: both, never: [{device: screw, within: [-20, 20]}, {device: screw, above: 20}]}
  - {id: none, never: [{device: screw, within: [-20, 20]}, {output: motor, above: 60}]}`
	s := read(t, text)
	verdicts := []string{Holds, Fails} // a controller without power stands still, whatever is sent
	for i := range s.Claims {
		y, err := newSystem(s, &s.Claims[i], nil)
		require.NoError(t, err)
		require.True(t, y.exact, y.why)
		require.Less(t, y.ways, 200)
		v := Decide(context.Background(), s, i, Usual)
		require.Equal(t, verdicts[i], v.Verdict)
	}
	require.Equal(t, []float64{-20, math.Nextafter(20, 30), 50}, turnsOf([]cut{
		{Cut: signal.Cut{At: 20, Over: true}}, {Cut: signal.Cut{At: -20}}, {Cut: signal.Cut{At: -20}},
		{Cut: signal.Cut{At: 100}, via: func(v float64) float64 { return min(2*v, 100) }},
		{Cut: signal.Cut{At: 100, Over: true}, via: func(v float64) float64 { return min(2*v, 100) }},
		{Cut: signal.Cut{At: -5}, via: func(v float64) float64 { return max(v, 0) }}}))
}

// TestTimersThatDoNotMatterAreNotCounted: four of twenty seconds, each started by a hand of its own, would
// make more moments than there is room for; what holds because of two short ones is proved all the same,
// and what does not hold is not.
func TestTimersThatDoNotMatterAreNotCounted(t *testing.T) {
	const text = `
logic:
  - {id: w1, block: ton, in: lock.locked, for_s: 20}
  - {id: w2, block: ton, in: mode.low, for_s: 20.02}
  - {id: w3, block: tof, in: mode.high, for_s: 20.04}
  - {id: w4, block: tp, in: over, for_s: 20.06}
  - {id: over, block: above, of: stick, level: 50}
  - {id: ready, block: or, in: [w1, w2, w3, w4]}
  - {id: soon, block: tp, in: button.press, for_s: 0.1}
  - {id: later, block: ton, in: button.press, for_s: 0.12}
  - {id: go, block: and, in: [soon, ready]}
claims: [{id: c, never: [go, later]}]`
	from := time.Now()
	s := read(t, text)
	v := Decide(context.Background(), s, 0, Budget{Bytes: 8 << 20})
	require.Equal(t, Holds, v.Verdict, v.Why)
	require.Less(t, time.Since(from), 10*time.Second)
	broken := decided(t, strings.Replace(text, "for_s: 0.12", "for_s: 0.06", 1))
	require.Equal(t, Fails, broken.Verdict)
}

// TestAMinuteToBreak: what takes a minute to break is found, with each movement no later than need be,
// played on the rules as they are; what holds for all its minutes is not said to be broken. Worked by
// hand, in frames of 20 ms.
func TestAMinuteToBreak(t *testing.T) {
	const text = `
logic:
  - {id: t1, block: ton, in: lock.locked, for_s: 60}
  - {id: t2, block: ton, in: mode.high, for_s: 30}
  - {id: t3, block: tof, in: far, for_s: 20}
  - {id: t4, block: tp, in: button.press, for_s: 5}
  - {id: far, block: above, of: stick, level: 50}
  - {id: l, block: sr, set: t1, reset: t4}
  - {id: m, block: rs, set: t2, reset: t3}
claims:
  - {id: two, never: [t1, t2, button.press]}
  - {id: three, never: [l, m, t4]}
  - {id: late, leads_to: {when: t4, then: t1, within_s: 50}}
  - {id: apart, never: [l, t4, mode.low, m, lock.free]}
  - {id: soon, leads_to: {when: t1, then: button.press, within_s: 30}}
`
	s := read(t, text)
	decide := func(id setup.ID) (Verdict, string) {
		from := time.Now()
		v := Decide(context.Background(), s, s.Item(id).Index, Usual)
		require.Less(t, time.Since(from), 30*time.Second, id)
		return v, rowsOf(v)
	}
	for id, want := range map[setup.ID]struct {
		rows  string
		frame int
	}{
		"two":   {"0.000,lock,locked\n0.000,mode,high\n0.020,button,press\n", 3000},
		"three": {"0.000,lock,locked\n0.000,mode,high\n55.020,button,press\n", 3000},
		"late":  {"0.020,button,press\n", 2501},
		"soon":  {"0.000,lock,locked\n", 4500},
	} {
		v, rows := decide(id)
		require.Equal(t, Fails, v.Verdict, "%s: %s", id, v.Why)
		require.Equal(t, want.rows, rows, id)
		require.Equal(t, want.frame, v.Frame, id)
	}
	// where the pulse resets the latch, only its timer keeps it on, and that needs the lock
	v, _ := decide("apart")
	require.Equal(t, Holds, v.Verdict)
}

// TestTheNearestTimersAreCounted: that one minute is over only when half a minute is follows from these two
// timers alone, however many others the rules look at.
func TestTheNearestTimersAreCounted(t *testing.T) {
	s := read(t, `
logic:
  - {id: t1, block: ton, in: lock.locked, for_s: 60}
  - {id: t2, block: ton, in: lock.locked, for_s: 30}
  - {id: t3, block: tof, in: mode.low, for_s: 20}
  - {id: t4, block: tp, in: button.press, for_s: 5}
  - {id: t5, block: ton, in: far, for_s: 45}
  - {id: far, block: above, of: stick, level: 50}
  - {id: any, block: or, in: [t3, t4, not t5]}
claims: [{id: c, never: [t1, not t2, any]}]`)
	y, err := newSystem(s, &s.Claims[0], nil)
	require.NoError(t, err)
	var order []float64
	for _, wait := range y.nearest() {
		order = append(order, wait.Need)
	}
	require.Equal(t, []float64{1500, 3000, 250, 1000, 2250}, order)
	v := Decide(context.Background(), s, 0, Usual)
	require.Equal(t, Holds, v.Verdict, v.Why)
}

// TestDemoClaims: every claim of the demo is decided, in less than a second for all of them together, and
// what is found is said in sentences without a name of the document.
func TestDemoClaims(t *testing.T) {
	yard, err := demo.Yard()
	require.NoError(t, err)
	from, n := time.Now(), 0
	for _, m := range yard {
		s := m.Doc.Setup
		for i := range s.Claims {
			v := Decide(context.Background(), s, i, Usual)
			require.NotEqual(t, Undecided, v.Verdict, "%s: %+v", s.Name, v)
			told := v.Tell(s)
			require.NotEmpty(t, told.Lines)
			require.NotRegexp(t, `[a-z]_[a-z]|%!`, strings.Join(told.Lines, " "))
			n++
		}
	}
	require.Greater(t, n, 8)
	require.Less(t, time.Since(from), 5*time.Second, "a machine that has other work too is slower")
	t.Log(n, "claims in", time.Since(from))
}

// TestFingerprints: they differ where what decides a claim does, and nowhere else.
func TestFingerprints(t *testing.T) {
	const text = `
logic: [{id: on, block: rs, set: button.press, reset: lock.locked}, {id: other, block: tp, in: mode.low, for_s: 1}]
claims: [{id: c, never: [on, lock.locked]}, {id: d, never: [other, mode.high]}]`
	of := func(text string, i int) [32]byte {
		key, err := Fingerprint(read(t, text), i)
		require.NoError(t, err)
		return key
	}
	changed := strings.Replace(text, "for_s: 1", "for_s: 2", 1)
	require.Equal(t, of(text, 0), of(changed, 0))
	require.NotEqual(t, of(text, 1), of(changed, 1))
	kept := strings.Replace(text, "for_s: 1", "for_s: 1}, {id: left, block: rs, set: lock.free, reset: "+
		"lock.locked, start: kept", 1)
	require.NotEqual(t, of(text, 0), of(kept, 0), "the power is turned off and on too")
}
