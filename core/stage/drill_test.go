package stage_test

import (
	"fmt"
	"strconv"
	"strings"
	"testing"

	"github.com/stretchr/testify/require"

	"axtren/core/signal"
	"axtren/core/stage"
	"axtren/demo"
)

const left = `
craft: {kind: other}
transmitter:
  controls:
    - {id: stick, label: stick, kind: axis}
    - {id: wide, label: wide, kind: switch, positions: [rest, out, far]}
    - {id: knob, label: knob, kind: axis, spring: none, start: -100}
mixes: [{to: legs, from: wide}, {to: winch, from: stick}, {to: winch, from: 40, when: wide.far},
    {to: lamp, from: knob}]
outputs: [{id: legs, channel: 1, slew_s: 1}, {id: winch, channel: 2, loss: {mode: hold}},
    {id: lamp, channel: 3, loss: {mode: preset, value: -100}}]
receivers: [{id: rx, loss_after_s: 0.5, failsafe: {can: [hold, preset], otherwise: hold},
    pins: [{pin: 1, channel: 1}, {pin: 2, channel: 2}, {pin: 3, channel: 3}]}]
devices:
  - {id: leg_servo, label: leg servo, on: rx.1, kind: servo, speed_s: 1, left_at: -100}
  - {id: winch_motor, label: winch motor, on: rx.2, kind: esc, dead_us: 0}
  - {id: mast, label: mast, on: rx.3, kind: lamp}
`

func words(d *stage.Drill) []string {
	var list []string
	for _, l := range d.Lines {
		list = append(list, l.Words)
	}
	return list
}

// TestSwitchingOnFromEveryStance finds what moves, and in which of the stances.
func TestSwitchingOnFromEveryStance(t *testing.T) {
	s := read(t, left)
	d := s.g.Drill(stage.SwitchOn, s.hands, s.on, s.st)
	require.Equal(t, 3*2, d.Of)
	require.True(t, d.Whole)
	byWords := map[string]stage.Said{}
	for _, l := range d.Lines {
		byWords[l.Words] = l
	}
	require.True(t, d.Lines[0].Danger, "what can hurt stands first")
	winch := byWords["Winch motor turns at 40"]
	require.True(t, winch.Danger)
	require.Equal(t, 2, winch.Count, "with the switch at far, whatever the knob")
	require.Equal(t, "wide at far", winch.Such)
	require.Equal(t, 2, byWords["Leg servo moves by 100 percent"].Count)
	require.Equal(t, 2, byWords["Leg servo moves by 200 percent"].Count)
	require.Equal(t, 3, byWords["Mast comes on"].Count)
	require.Equal(t, 1, byWords["Nothing moves"].Count)

	script := s.g.Script(stage.SwitchOn, 5, s.hands)
	require.Equal(t,
		"t_s,control,value\n0,wide,far\n0,knob,100\n0,transmitter,off\n1,transmitter,on\n3,link,up\n", script)
	var rows int
	sc := signal.NewScript(strings.NewReader(script), s.p)
	for {
		if _, err := sc.Next(); err != nil {
			break
		}
		rows++
	}
	require.Equal(t, 5, rows, "it can be played")
	require.Empty(t, s.g.Script(stage.SwitchOn, 6, s.hands))
	require.Empty(t, s.g.Script("nothing", 0, s.hands))
}

// TestCuttingTheSignal: what holds goes on, what has a place goes there.
func TestCuttingTheSignal(t *testing.T) {
	s := read(t, left)
	s.hand("stick", 70)
	s.hand("knob", 100)
	d := s.g.Drill(stage.CutLink, s.hands, s.on, s.st)
	require.Contains(t, words(d), "Winch motor goes on turning at 70")
	require.Contains(t, words(d), "Mast goes off")
	require.NotContains(t, words(d), "Winch motor stops")
}

// TestLettingGo starts from what the model does now.
func TestLettingGo(t *testing.T) {
	s := read(t, left)
	s.hand("stick", 70)
	s.hand("wide", 2)
	s.play(3)
	frame := s.on.Frame
	d := s.g.Drill(stage.LetGo, s.hands, s.on, s.st)
	require.Equal(t, []string{"Winch motor goes on turning at 40"}, words(d))
	require.Equal(t, frame, s.on.Frame, "what runs is left alone")
	d = s.g.Drill(stage.AllRest, s.hands, s.on, s.st)
	require.ElementsMatch(t, []string{"Leg servo moves by 200 percent", "Winch motor stops after 0.00 s"},
		words(d), "the switch goes to rest too")
	s.hand("link", 0)
	require.NotContains(t, words(s.g.Drill(stage.AllRest, s.hands, s.on, s.st)),
		"Winch motor stops after 0.00 s", "the signal stays cut, and it holds")
}

// TestTheSetWaits: a stance that the start check excludes moves nothing.
func TestTheSetWaits(t *testing.T) {
	s := read(t, left+"start_check: [{control: wide, is: rest}]\n")
	d := s.g.Drill(stage.SwitchOn, s.hands, s.on, s.st)
	for _, l := range d.Lines {
		if l.Words == "The transmitter waits, and sends nothing" {
			require.Equal(t, 4, l.Count)
			return
		}
	}
	require.Fail(t, "it does not say that it waits")
}

const tank = `
craft: {kind: submarine}
transmitter: {controls: [{id: fill, kind: axis, spring: none, start: %s}, {id: stick, label: stick, kind: axis}]}
mixes: [{to: ballast, from: fill}, {to: rudder, from: stick}]
outputs: [{id: ballast, channel: 1, loss: {mode: preset, value: -100}}, {id: rudder, channel: 2}]
receivers: [{id: rx, loss_after_s: 0.5, failsafe: {can: [preset], otherwise: hold},
    pins: [{pin: 1, channel: 1}, {pin: 2, channel: 2}]}]
devices:
  - {id: pump, label: ballast pump, on: rx.1, kind: esc, dead_us: 0, travel: {full_s: %s, start: 0}}
  - {id: fin, on: rx.2, kind: servo}
`

// TestAMotorAndWhatItMovesAreBothSaid: one that is driven against the end of its tank
// moves nothing, and is not still.
func TestAMotorAndWhatItMovesAreBothSaid(t *testing.T) {
	s := read(t, fmt.Sprintf(tank, "-100", "2"))
	all := words(s.g.Drill(stage.SwitchOn, s.hands, s.on, s.st))
	require.Contains(t, all, "Ballast pump turns at 100", "full out, the tank empty already")
	require.Contains(t, all, "Ballast pump pushes at the end of what it moves")
	require.Contains(t, all, "Ballast pump moves by 100 percent", "and from the other stance it fills")
	require.NotContains(t, all, "Nothing moves, with the lever at its low end")

	// switched on at full in: it fills the tank and pushes on; the signal is lost: it empties it and pushes
	// on
	s = read(t, fmt.Sprintf(tank, "100", "1"))
	for range 100 {
		s.p.Step(s.on, s.hands)
		s.g.Step(s.st, s.on)
	}
	w := s.g.Words(s.st, s.on)
	require.Contains(t, w.More, "Ballast pump turns at 100.")
	require.Contains(t, w.More, "Pushes at its stop: Ballast pump.")
	d := s.g.Drill(stage.CutLink, s.hands, s.on, s.st)
	for _, l := range d.Lines {
		require.NotContains(t, l.Words, "stops after", "it runs on the other way")
	}
	require.Contains(t, words(d), "Ballast pump goes on turning at 100")
	require.Contains(t, words(d), "Ballast pump pushes at the end of what it moves")
	require.True(t, d.Lines[0].Danger)
}

// TestAKickAtPowerOnIsSaid: a motor that turns for half a second and stops again.
func TestAKickAtPowerOnIsSaid(t *testing.T) {
	s := read(t, `
craft: {kind: other}
logic: [{id: kick, block: tof, in: power_on, for_s: 0.5}]
mixes: [{to: winch, from: 60, when: kick}]
outputs: [{id: winch, channel: 1}]
receivers: [{id: rx, pins: [{pin: 1, channel: 1}]}]
devices: [{id: winch_motor, label: winch motor, on: rx.1, kind: esc, dead_us: 0}]
`)
	d := s.g.Drill(stage.SwitchOn, s.hands, s.on, s.st)
	require.Equal(t, []string{"Winch motor turns at up to 60 for a while"}, words(d))
	require.True(t, d.Lines[0].Danger)
}

// TestManyControlsAreMovedAlone bounds what is tried.
func TestManyControlsAreMovedAlone(t *testing.T) {
	yard, err := demo.Yard()
	require.NoError(t, err)
	for _, m := range yard {
		s := of(t, m.Doc)
		d := s.g.Drill(stage.SwitchOn, s.hands, s.on, s.st)
		require.LessOrEqual(t, d.Of, 512)
		for _, l := range d.Lines {
			require.False(t, l.Danger, "%s: %s with %s", m.Doc.Setup.Name, l.Words, l.Such)
		}
	}
}

func BenchmarkStep(b *testing.B) {
	yard, err := demo.Yard()
	require.NoError(b, err)
	for _, m := range yard {
		b.Run(m.Doc.Setup.Name, func(b *testing.B) {
			p, err := signal.Compile(m.Doc.Setup)
			require.NoError(b, err)
			g := stage.Build(p)
			on, st, hands := p.PowerOn(), g.Start(), p.Rest()
			for i := range p.Setup().Transmitter.Controls {
				if p.Setup().Transmitter.Controls[i].Axis != nil && m.Doc.Setup.StartCheck == nil {
					hands[i] = 40
				}
			}
			for range 100 {
				p.Step(on, hands)
				g.Step(st, on)
			}
			b.ReportAllocs()
			for b.Loop() {
				g.Step(st, on)
			}
		})
	}
}

// TestTheModelIsSwitchedOn: receivers on last: every part goes to where the hands have it.
func TestTheModelIsSwitchedOn(t *testing.T) {
	s := read(t, left)
	d := s.g.Drill(stage.ReceiversOn, s.hands, s.on, s.st)
	require.Equal(t, 6, d.Of)
	require.Contains(t, words(d), "Winch motor turns at 40", "the transmitter is on already, the switch at far")
	for _, l := range d.Lines {
		require.NotEmpty(t, l.Play, l.Words)
	}
	script := s.g.Script(stage.ReceiversOn, 0, s.hands)
	require.Contains(t, script, "0,rx,off\n")
	require.Contains(t, script, "1,rx,on\n")
}

// TestTheMemoryIsChanged: latches that were on are as new, while the receiver goes on: what they held moves.
func TestTheMemoryIsChanged(t *testing.T) {
	const latched = `
craft: {kind: other}
transmitter: {controls: [{id: key, label: key, kind: switch, positions: ["off", press], spring_to: "off"}]}
logic: [{id: down, block: toggle, in: key.press, start: %s}]
mixes: [{to: legs, from: -100}, {to: legs, from: 100, when: down, combine: instead}]
outputs: [{id: legs, channel: 1}]
receivers: [{id: rx, pins: [{pin: 1, channel: 1}]}]
devices: [{id: leg_servo, label: leg servo, on: rx.1, kind: servo}]
`
	for _, start := range []string{"false", "kept"} {
		s := read(t, fmt.Sprintf(latched, start))
		d := s.g.Drill(stage.NewMemory, s.hands, s.on, s.st)
		require.Equal(t, []string{"Leg servo moves by 200 percent"}, words(d), start)
		require.Equal(t, "0", d.Lines[0].Play)
		require.Equal(t, "t_s,control,value\n2,link,up\n", s.g.Script(stage.NewMemory, 0, s.hands))

		// it is played from the moment in which the memory is changed: the servo still stands where the latch
		// held it, the latch is as new, and with the hands then the servo goes
		on, st, then := s.g.Begin(stage.NewMemory, 0, s.hands)
		require.Equal(t, s.hands, then)
		require.Equal(t, 0.0, on.At(s.p.BlockSlot(0)))
		from := s.g.Words(st, on).Row
		for range 200 {
			s.p.Step(on, then)
			s.g.Step(st, on)
		}
		require.NotEqual(t, from, s.g.Words(st, on).Row)
	}
	for _, other := range []string{stage.SwitchOn, stage.CutLink, "nothing"} {
		s := read(t, fmt.Sprintf(latched, "false"))
		on, _, _ := s.g.Begin(other, 0, s.hands)
		require.Nil(t, on, "a script plays it from power-on")
		on, _, _ = s.g.Begin(stage.NewMemory, 1, s.hands)
		require.Nil(t, on, "there is no such stance")
	}
	s := read(t, fmt.Sprintf(latched, "true"))
	require.Equal(t, []string{"Nothing moves"}, words(s.g.Drill(stage.NewMemory, s.hands, s.on, s.st)))
	require.Equal(t, 0.0, s.on.At(s.p.BlockSlot(0)), "what runs is left alone")
}

// TestServosLeftAnywhere: one that may stand anywhere is tried at both ends and in the middle.
func TestServosLeftAnywhere(t *testing.T) {
	s := read(t, strings.Replace(left, "left_at: -100", "left_at: unknown", 1))
	d := s.g.Drill(stage.SwitchOn, s.hands, s.on, s.st)
	require.Equal(t, 3*2*3, d.Of)
	var far *stage.Said
	for i := range d.Lines {
		if d.Lines[i].Words == "Leg servo moves by 196 percent" { // from where it is after its first frame
			far = &d.Lines[i]
		}
	}
	require.NotNil(t, far)
	require.Contains(t, far.Such, "leg servo left at")
	stance, err := strconv.Atoi(far.Play)
	require.NoError(t, err)
	require.Contains(t, s.g.Script(stage.SwitchOn, stance, s.hands), "0,leg_servo,")
}
