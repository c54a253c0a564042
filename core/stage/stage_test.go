package stage_test

import (
	"fmt"
	"math"
	"strings"
	"testing"

	"github.com/stretchr/testify/require"
	"pgregory.net/rapid"

	"axtren/core/setup"
	"axtren/core/signal"
	"axtren/core/stage"
	"axtren/core/starts"
	"axtren/demo"
)

// show is a picture beside its running setup.
type show struct {
	t     *testing.T
	p     *signal.Program
	g     *stage.Stage
	pic   *stage.Picture
	on    *signal.State
	st    *stage.State
	hands signal.Hands
}

func read(t *testing.T, text string) *show {
	t.Helper()
	doc, err := setup.ReadYAML([]byte("format: axtren-setup\nversion: 1\n" + text))
	require.NoError(t, err)
	return of(t, doc)
}

func of(t *testing.T, doc *setup.Document) *show {
	t.Helper()
	p, err := signal.Compile(doc.Setup)
	require.NoError(t, err)
	g := stage.Build(p)
	return &show{t, p, g, g.Picture(), p.PowerOn(), g.Start(), p.Rest()}
}

func (s *show) hand(id string, v float64) {
	at, ok := s.p.Hand(id)
	require.True(s.t, ok, id)
	s.hands[at] = v
}

func (s *show) play(seconds float64) {
	for range int(math.Round(seconds / s.p.Setup().Transmitter.FrameS())) {
		s.p.Step(s.on, s.hands)
		s.g.Step(s.st, s.on)
	}
}

// part gives the numbers of a part: where it is, another, asked, flags.
func (s *show) part(label string) (at, other, asked float64, flags int) {
	n := s.g.Numbers(s.st, nil)
	for i, p := range s.pic.Parts {
		if p.Label == label {
			k := stage.NumbersFirst + stage.NumbersEach*i
			return n[k], n[k+1], n[k+2], int(n[k+3])
		}
	}
	require.Fail(s.t, "no such part", label)
	return
}

const tracked = `
craft: {kind: tracked}
transmitter: {controls: [{id: a, kind: axis}, {id: b, kind: axis}]}
mixes: [{to: port, from: a}, {to: star, from: b}]
outputs: [{id: port, channel: 1}, {id: star, channel: 2%s}]
receivers: [{id: rx, pins: [{pin: 1, channel: 1}, {pin: 2, channel: 2}]}]
devices: [{id: left, on: rx.1, kind: esc, dead_us: 0}, {id: right, on: rx.2, kind: esc, dead_us: 0}]
stage:
  top_mm_s: 500
  track_mm: 200
  parts:
    - {part: hull, at_mm: [0, 0]}
    - {part: track, label: Port, device: left, at_mm: [0, -100]}
    - {part: track, label: Star, device: right, at_mm: [0, 100]}
`

// TestTracksMoveAsAUnicycle checks the closed forms of the differential drive:
// v = (vl + vr)/2, w = (vl - vr)/gauge clockwise, a circle of radius v/w about a
// point at the side, a straight line for equal speeds, a turn on the spot for
// opposite ones. Dudek and Jenkin, Computational Principles of Mobile Robotics,
// section 3.1, from memory.
func TestTracksMoveAsAUnicycle(t *testing.T) {
	rapid.Check(t, func(rt *rapid.T) {
		port, star := float64(rapid.IntRange(-100, 100).Draw(rt, "port")), float64(rapid.IntRange(-100,
			100).Draw(rt, "star"))
		s := read(t, fmt.Sprintf(tracked, ""))
		s.hand("a", port)
		s.hand("b", star)
		seconds := 2.0
		s.play(seconds)
		vl, vr := 5*port, 5*star
		v, w := (vl+vr)/2, (vl-vr)/200
		x, y := v*seconds, 0.0
		if w != 0 {
			x, y = v/w*math.Sin(w*seconds), v/w*(1-math.Cos(w*seconds))
		}
		require.InDelta(rt, x, s.st.X, 1e-6)
		require.InDelta(rt, y, s.st.Y, 1e-6)
		require.InDelta(rt, math.Cos(w*seconds), math.Cos(s.st.Heading*math.Pi/180), 1e-9)
	})
}

func TestPivotOfOneTrackIsTheOther(t *testing.T) {
	s := read(t, fmt.Sprintf(tracked, ""))
	s.hand("a", 60)
	s.play(0.1)
	n := s.g.Numbers(s.st, nil)
	require.Equal(t, []float64{0, 100, 1}, n[stage.NumberPivot:stage.NumberPivot+3],
		"it turns about the starboard track, which stands")
	s.hand("b", -60)
	s.play(0.1)
	n = s.g.Numbers(s.st, nil)
	require.Equal(t, []float64{0, 0, 1}, n[stage.NumberPivot:stage.NumberPivot+3], "on the spot")
	require.Zero(t, n[stage.NumberV])
}

// TestAReversedChannelIsSeen: both levers ahead, one channel reversed: the picture
// turns on the spot as the model would, whatever was meant; mounting the motor the
// other way round sets it right again.
func TestAReversedChannelIsSeen(t *testing.T) {
	s := read(t, fmt.Sprintf(tracked, ", reverse: true"))
	s.hand("a", 50)
	s.hand("b", 50)
	s.play(1)
	require.InDelta(t, 0, s.st.X, 1e-9)
	require.Greater(t, math.Abs(s.st.Heading), 90.0)
	require.Contains(t, s.g.Words(s.st, s.on).Head, "Turns on the spot")
	s = read(t, strings.Replace(fmt.Sprintf(tracked, ", reverse: true"), "device: right,",
		"device: right, turned: true,", 1))
	s.hand("a", 50)
	s.hand("b", 50)
	s.play(1)
	require.InDelta(t, 250, s.st.X, 1e-6)
}

const car = `
craft: {kind: car}
transmitter: {controls: [{id: wheel, kind: axis}, {id: trigger, kind: axis}]}
mixes: [{to: steer, from: wheel}, {to: drive, from: trigger}]
outputs: [{id: steer, channel: 1}, {id: drive, channel: 2}]
receivers: [{id: rx, pins: [{pin: 1, channel: 1}, {pin: 2, channel: 2}]}]
devices: [{id: servo, on: rx.1, kind: servo}, {id: motor, on: rx.2, kind: esc, dead_us: 0}]
stage:
  top_mm_s: 1000
  wheelbase_mm: 260
  track_mm: 160
  parts:
    - {part: axle, label: Front, device: servo, from: -30, to: 30, at_mm: [130, 0], size_mm: [60, 160]}
    - {part: axle, label: Rear, motor: motor, at_mm: [-130, 0], size_mm: [60, 160]}
`

// TestCarMovesAsABicycle checks the closed form of the bicycle: the rear axle goes
// round a circle of radius wheelbase / tan(angle). Gillespie, Fundamentals of
// Vehicle Dynamics, chapter 6, from memory.
func TestCarMovesAsABicycle(t *testing.T) {
	rapid.Check(t, func(rt *rapid.T) {
		wheel := float64(rapid.IntRange(-100, 100).Draw(rt, "wheel"))
		s := read(t, car)
		s.hand("wheel", wheel)
		s.hand("trigger", 40)
		s.play(1.5)
		way, angle := 400*1.5, 0.3*wheel*math.Pi/180
		x, y, heading := way, 0.0, 0.0
		if wheel != 0 {
			r := 260 / math.Tan(angle)
			heading = way / r
			x, y = r*math.Sin(heading), r*(1-math.Cos(heading))
		}
		// the middle of the model lies half a wheelbase before the rear axle
		require.InDelta(rt, x-130+130*math.Cos(heading), s.st.X, 1e-6)
		require.InDelta(rt, y+130*math.Sin(heading), s.st.Y, 1e-6)
	})
}

// TestWheelsMeetAckermann: cot(outer) - cot(inner) = track / wheelbase. Gillespie,
// as above, from memory.
func TestWheelsMeetAckermann(t *testing.T) {
	s := read(t, car)
	cot := func(deg float64) float64 { return 1 / math.Tan(deg*math.Pi/180) }
	for _, wheel := range []float64{-100, -55, 40, 60, 100} {
		s.hand("wheel", wheel)
		s.play(0.1)
		left, right, _, _ := s.part("Front")
		outer, inner := left, right
		if wheel < 0 {
			outer, inner = -right, -left
		}
		require.Greater(t, inner, outer)
		require.InDelta(t, 160.0/260, cot(outer)-cot(inner), 0.02, "angles are rounded to 0.01 degrees")
	}
}

// TestFourWheelSteering: with the rear wheels turned the other way, half the
// radius; with both the same way, the car goes aside and does not turn.
func TestFourWheelSteering(t *testing.T) {
	text := strings.Replace(car, "{part: axle, label: Rear, motor: motor",
		"{part: axle, label: Rear, device: rear, from: %s, to: %s, motor: motor", 1)
	text = strings.Replace(text, "devices: [", "devices: [{id: rear, on: rx.1, kind: servo}, ", 1)
	against := read(t, fmt.Sprintf(text, "30", "-30"))
	against.hand("wheel", 50)
	against.hand("trigger", 40)
	against.play(0.1)
	require.InDelta(t, 400*2*math.Tan(15*math.Pi/180)/260*180/math.Pi, against.st.W, 1e-6)
	along := read(t, fmt.Sprintf(text, "-30", "30"))
	along.hand("wheel", 50)
	along.hand("trigger", 40)
	along.play(1)
	require.InDelta(t, 0, along.st.Heading, 1e-9)
	require.InDelta(t, 400*math.Tan(15*math.Pi/180), along.st.Y, 1e-6, "to the right")
}

// TestADrivenAxleTurns, and a drill says so.
func TestADrivenAxleTurns(t *testing.T) {
	s := read(t, strings.Replace(car, "{id: trigger, kind: axis}", "{id: trigger, kind: axis, spring: none}",
		1))
	s.hand("trigger", 60)
	s.play(0.2)
	require.Contains(t, s.g.Words(s.st, s.on).More, "Rear ahead 60.")
	require.True(t, s.pic.Parts[1].Motor)
	require.Equal(t, 60.0, s.g.Numbers(s.st, nil)[stage.NumbersFirst+stage.NumbersEach+4])
	said := s.g.Drill(stage.SwitchOn, s.hands, s.on, s.st).Lines[0]
	require.Equal(t, "Rear turns at 100", said.Words, "a trigger that was left pulled")
	require.True(t, said.Danger)
}

func TestHandsOffDriftIsSaid(t *testing.T) {
	s := read(t, strings.Replace(car, "id: steer, channel: 1", "id: steer, channel: 1, centre: 4", 1))
	s.play(0.2)
	require.Contains(t, strings.Join(s.g.Words(s.st, s.on).More, " "),
		"Hands off, the wheels stand 1.2 degrees to the right: after 5 m it is")
	s = read(t, car)
	s.play(0.2)
	require.Contains(t, s.g.Words(s.st, s.on).More, "Hands off, the wheels stand straight.")
}

// TestServoPushesAtItsStop: a servo that wants to go beyond the stop of its linkage
// is drawn at the stop and marked.
func TestServoPushesAtItsStop(t *testing.T) {
	s := read(t, strings.Replace(car, "from: -30, to: 30", "from: -30, to: 30, stops: [-20, 20]", 1))
	s.hand("wheel", 50)
	s.play(0.1)
	_, _, _, flags := s.part("Front")
	require.Zero(t, flags&stage.Pushes)
	s.hand("wheel", 90)
	s.play(0.1)
	_, _, _, flags = s.part("Front")
	require.NotZero(t, flags&stage.Pushes)
	require.Contains(t, s.g.Words(s.st, s.on).More, "Pushes at its stop: Front.")
}

const hydraulic = `
craft: {kind: construction}
transmitter: {controls: [{id: lift, kind: axis, spring: none}, {id: tilt, kind: axis, spring: none},
    {id: run, kind: axis, spring: none, start: -100}]}
mixes: [{to: l, from: lift}, {to: t, from: tilt}, {to: p, from: run}]
outputs: [{id: l, channel: 1}, {id: t, channel: 2}, {id: p, channel: 3}]
receivers: [{id: rx, failsafe: {can: [preset], otherwise: hold}, pins: [{pin: 1, channel: 1},
    {pin: 2, channel: 2}, {pin: 3, channel: 3}]}]
devices:
  - {id: lift_valve, on: rx.1, kind: servo}
  - {id: tilt_valve, on: rx.2, kind: servo}
  - {id: pump, on: rx.3, kind: esc, dead_us: 0, reverse: none, learned_us: {neutral: 1000, high: 2000}}
stage:
  parts:
    - {part: boom, label: Boom, device: lift_valve, pump: pump, full_s: 4, from: 0, to: 80, at_mm: [0, 0]}
    - {part: bucket, label: Bucket, device: tilt_valve, pump: pump, full_s: 4, from: 0, to: 80}
    - {part: pump, label: Pump, device: pump}
`

// TestOpenValvesShareThePump: v = Q/A, and what is open shares Q.
func TestOpenValvesShareThePump(t *testing.T) {
	s := read(t, hydraulic)
	s.hand("lift", 100)
	s.play(1)
	at, _, _, _ := s.part("Boom")
	require.Zero(t, at, "no pump, no way")
	s.hand("run", 0) // half
	s.play(1)
	at, _, _, _ = s.part("Boom")
	require.InDelta(t, 10, at, 1e-6, "an eighth of 80 degrees")
	s.hand("tilt", 100)
	s.play(1)
	boom, _, _, _ := s.part("Boom")
	bucket, _, _, _ := s.part("Bucket")
	require.InDelta(t, 15, boom, 1e-6, "half of what it got alone")
	require.Contains(t, s.g.Words(s.st, s.on).More, "Pump is shared: each valve gets 25 of 100 of its way.")
	require.InDelta(t, 5, bucket, 1e-6)
	s.play(60)
	_, _, _, flags := s.part("Boom")
	require.NotZero(t, flags&stage.Pushes, "a motor that pushes at its end")
}

// braked is the car with a handbrake that a lever pulls.
var braked = strings.NewReplacer("{id: trigger, kind: axis}",
	"{id: trigger, kind: axis}, {id: hand, kind: axis, spring: none, start: -100}",
	"mixes: [", "mixes: [{to: pull, from: hand}, ", "outputs: [",
	"outputs: [{id: pull, channel: 3, low: -60, high: 40}, ", "pins: [", "pins: [{pin: 3, channel: 3}, ",
	"devices: [", "devices: [{id: handbrake, on: rx.3, kind: servo}, ", "label: Rear, motor: motor",
	"label: Rear, motor: motor, brake: handbrake").Replace(car)

// TestBrakesHoldWheels: a servo that pulls from the low end of its output, and a
// controller that brakes before it reverses.
func TestBrakesHoldWheels(t *testing.T) {
	s := read(t, strings.Replace(braked, "wheelbase_mm", "coast_s: 5\n  wheelbase_mm", 1))
	s.hand("trigger", 100)
	s.play(2)
	_, _, _, flags := s.part("Rear")
	require.Zero(t, flags&stage.Brakes, "its low end lets go")
	fast := s.st.V
	s.hand("trigger", 0)
	s.hand("hand", 0)
	s.play(0.5)
	_, _, _, flags = s.part("Rear")
	require.NotZero(t, flags&stage.Brakes)
	require.Contains(t, s.g.Words(s.st, s.on).More, "Braked: Rear.")
	require.Less(t, s.st.V, fast/1.5, "and it slows down sooner than it would coasting")
}

// TestABrakeTakesItsShareOfTheSpeed: on one axle of two, half of it, from nothing at the
// low end of its servo to all at the high one.
func TestABrakeTakesItsShareOfTheSpeed(t *testing.T) {
	s := read(t, braked)
	s.hand("trigger", 100)
	s.play(0.5)
	top := s.st.V
	require.NotZero(t, top)
	for hand, held := range map[float64]float64{-100: 0, -50: 0.3, 0: 0.6, 50: 0.8, 100: 1} {
		s.hand("hand", hand)
		s.play(0.5)
		require.InDelta(t, top*(1-held/2), s.st.V, 1e-6, hand)
	}
}

// TestAHeadingIsACompassHeading, from more than -180 to 180, however often it turns.
func TestAHeadingIsACompassHeading(t *testing.T) {
	s := read(t, fmt.Sprintf(tracked, ""))
	for _, hands := range [][2]float64{{40, -40}, {-37, 37}} {
		s.hand("a", hands[0])
		s.hand("b", hands[1])
		least, most := 0.0, 0.0
		for range 400 {
			s.play(0.02)
			least, most = min(least, s.st.Heading), max(most, s.st.Heading)
		}
		require.Greater(t, least, -180.0)
		require.Less(t, least, -170.0)
		require.LessOrEqual(t, most, 180.0)
		require.Greater(t, most, 170.0)
	}
}

// TestADeviceGivesOnlyWhatItHas: a motor that moves nothing has got nowhere, and one that
// does not brake first brakes nothing.
func TestADeviceGivesOnlyWhatItHas(t *testing.T) {
	for gives, want := range map[string]int{"value": 0, "at": 1, "brake": 1} {
		s := read(t, `
outputs: [{id: o, channel: 1}]
receivers: [{id: rx, pins: [{pin: 1, channel: 1}]}]
devices: [{id: motor, on: rx.1, kind: esc, label: Winch}]
stage: {parts: [{part: dial, device: motor, gives: `+gives+`}]}`)
		require.Len(t, s.g.Faults(), want, gives)
		for _, f := range s.g.Faults() {
			require.Equal(t, fmt.Sprintf("Winch has no %q to give", gives), f.Message)
			require.Equal(t, "stage.parts[0].device", f.Path)
		}
	}
}

func TestLostAndPutBack(t *testing.T) {
	s := read(t, fmt.Sprintf(tracked, ""))
	s.hand("a", 60)
	s.play(0.5)
	_, _, _, flags := s.part("Port")
	require.Zero(t, flags&stage.Lost)
	s.hand("link", 0)
	s.play(0.1)
	_, _, _, flags = s.part("Port")
	require.NotZero(t, flags&stage.Lost)
	require.Contains(t, s.g.Words(s.st, s.on).More, "No signal reaches the model.")
	require.NotZero(t, s.st.X)
	s.st.PutBack()
	require.Equal(t, []float64{0, 0, 0, 0, 0}, s.g.Numbers(s.st, nil)[:stage.NumberFree])
}

// TestWhatTurnsWithHandsOffIsMarked: a neutral that was learned elsewhere hums.
func TestWhatTurnsWithHandsOffIsMarked(t *testing.T) {
	s := read(t, strings.Replace(fmt.Sprintf(tracked, ""), "{id: left, on: rx.1, kind: esc, dead_us: 0}",
		"{id: left, on: rx.1, kind: esc, learned_us: {neutral: 1450}}", 1))
	s.play(0.1)
	_, _, _, flags := s.part("Port")
	require.NotZero(t, flags&stage.MovesFree)
	_, _, _, flags = s.part("Star")
	require.Zero(t, flags&stage.MovesFree)
	require.Equal(t, 1.0, s.g.Numbers(s.st, nil)[stage.NumberFree])
}

// TestRampAndLegClash: solids in each other's way are marked.
func TestRampAndLegClash(t *testing.T) {
	s := read(t, `
craft: {kind: amphibian}
transmitter: {controls: [{id: r, kind: axis, spring: none}, {id: l, kind: axis, spring: none, start: -100}]}
mixes: [{to: ramp_out, from: r}, {to: leg_out, from: l}]
outputs: [{id: ramp_out, channel: 1}, {id: leg_out, channel: 2}]
receivers: [{id: rx, pins: [{pin: 1, channel: 1}, {pin: 2, channel: 2}]}]
devices: [{id: ramp_servo, on: rx.1, kind: servo}, {id: leg_servo, on: rx.2, kind: servo}]
stage:
  parts:
    - {part: ramp, label: Ramp, device: ramp_servo, from: -60, to: 60, at_mm: [0, 0], size_mm: [100, 10]}
    - {part: leg, label: Leg, device: leg_servo, from: 0, to: 90, at_mm: [60, 100], size_mm: [60, 10]}
`)
	s.play(0.1)
	_, _, _, flags := s.part("Ramp")
	require.Zero(t, flags&stage.Clashes, "the leg is up")
	s.hand("l", 100)
	s.play(0.1)
	_, _, _, flags = s.part("Ramp")
	require.NotZero(t, flags&stage.Clashes)
	require.Contains(t, s.g.Words(s.st, s.on).More, "In each other's way: Ramp, Leg.")
	var meets []string
	for _, line := range s.g.Drill(stage.SwitchOn, s.hands, s.on, s.st).Lines {
		if strings.HasSuffix(line.Words, "comes to where another part is") {
			require.True(t, line.Danger)
			meets = append(meets, line.Words)
		}
	}
	require.ElementsMatch(t, []string{"Ramp comes to where another part is",
		"Leg comes to where another part is"}, meets)
	s.hand("r", -100)
	s.play(0.1)
	_, _, _, flags = s.part("Leg")
	require.Zero(t, flags&stage.Clashes, "the ramp hangs down beside it")
}

// TestWhatIsOnAPartDoesNotClash: it moves with that, so its place is not the model's.
func TestWhatIsOnAPartDoesNotClash(t *testing.T) {
	text := `
craft: {kind: amphibian}
stage:
  parts:
    - {part: hull, name: hull, at_mm: [0, 0]}
    - {part: ramp, label: Ramp, on: hull, at_mm: [0, 0], size_mm: [100, 10]}
    - {part: door, label: Door, at_mm: [0, 0], size_mm: [100, 10]}
`
	s := read(t, text)
	s.play(0.1)
	_, _, _, flags := s.part("Door")
	require.Zero(t, flags&stage.Clashes)
	s = read(t, strings.Replace(text, "on: hull, ", "", 1))
	s.play(0.1)
	_, _, _, flags = s.part("Door")
	require.NotZero(t, flags&stage.Clashes)
}

// TestEitherStopIsSaid: a part that just reaches a stop stands at it, without pushing.
func TestEitherStopIsSaid(t *testing.T) {
	s := read(t, `
transmitter: {controls: [{id: a, kind: axis}]}
mixes: [{to: o, from: a}]
outputs: [{id: o, channel: 1}]
receivers: [{id: rx, pins: [{pin: 1, channel: 1}]}]
devices: [{id: servo, on: rx.1, kind: servo}]
stage: {parts: [{part: rudder, label: Rudder, device: servo, from: -30, to: 30, stops: [-30, 30]}]}
`)
	for hand, want := range map[float64]int{-100: stage.AtStop, 0: 0, 99: 0, 100: stage.AtStop} {
		s.hand("a", hand)
		s.play(0.1)
		_, _, _, flags := s.part("Rudder")
		require.Equal(t, want, flags&(stage.AtStop|stage.Pushes), hand)
	}
}

// TestNonsenseIsFound: what a picture says wrongly is named, and the rest is drawn.
func TestNonsenseIsFound(t *testing.T) {
	s := read(t, strings.NewReplacer("track_mm: 200", "track_mm: 0", "device: right", "device: left",
		"{part: hull, at_mm: [0, 0]}",
		"{part: hull, at_mm: [0, 0], size_mm: [0, 5]}\n    - {part: lamp, device: nobody, on: nowhere}\n   "+
			" - {part: rudder, name: a, on: b, from: 5, to: 5, stops: [3, 2]}\n    - {part: rudder, name: "+
			"b, on: a}").Replace(fmt.Sprintf(tracked, "")))
	var paths []string
	for _, f := range s.g.Faults() {
		require.NotEmpty(t, f.Message)
		require.NotEmpty(t, f.Remedy)
		paths = append(paths, f.Path)
	}
	for _, want := range []string{"stage.track_mm", "stage.parts[0].size_mm", "stage.parts[1].device",
		"stage.parts[1].on", "stage.parts[2].to", "stage.parts[2].stops", "stage.parts[5].device"} {
		require.Contains(t, paths, want)
	}
	require.Contains(t, strings.Join(paths, " "), "].on", "the ring")
	s.hand("a", 50)
	s.play(0.2)
	require.InDelta(t, 50, s.st.X, 1e-6, "the tracks lie 200 mm apart as drawn")
	require.Len(t, s.pic.Parts, 7, "all that was written, and the device that nothing shows")
	require.Equal(t, []float64{-30, 30}, []float64{s.pic.Parts[2].Low, s.pic.Parts[2].High},
		"stops that cannot be are none")
	for _, v := range s.g.Numbers(s.st, nil) {
		require.False(t, math.IsNaN(v) || math.IsInf(v, 0))
	}
}

// TestEveryModelHasItsStage: the demo models and the starts show every device,
// find no fault, and can be played through.
func TestEveryModelHasItsStage(t *testing.T) {
	yard, err := demo.Yard()
	require.NoError(t, err)
	for _, m := range yard {
		require.NotNil(t, m.Doc.Setup.Stage, m.Doc.Setup.Name)
		everyDevice(t, m.Doc)
	}
	for _, k := range starts.Kinds() {
		doc, err := starts.Start(k.Kind)
		require.NoError(t, err)
		everyDevice(t, doc)
	}
}

func everyDevice(t *testing.T, doc *setup.Document) {
	t.Helper()
	s := of(t, doc)
	require.Empty(t, s.g.Faults(), doc.Setup.Name)
	shown := map[string]bool{}
	for _, p := range s.pic.Parts {
		shown[p.Device] = true
	}
	for _, p := range doc.Setup.Devices {
		motor := false
		if doc.Setup.Stage != nil {
			for _, one := range doc.Setup.Stage.Parts {
				motor = motor || one.Motor != nil && *one.Motor == p.ID || one.Brake != nil &&
					*one.Brake == p.ID
			}
		}
		if p.PartKind().Passes {
			continue // what it adds shows at the servo behind it
		}
		require.True(t, shown[string(p.ID)] || motor, "%s: %s is shown nowhere", doc.Setup.Name, p.ID)
	}
	for i := range s.hands {
		s.hands[i] = min(s.hands[i]+1, 1)
	}
	s.play(1)
	for _, v := range s.g.Numbers(s.st, nil) {
		require.False(t, math.IsNaN(v) || math.IsInf(v, 0), doc.Setup.Name)
	}
}
