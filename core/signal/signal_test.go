package signal

import (
	"go/constant"
	"go/token"
	"go/types"
	"math"
	"regexp"
	"strings"
	"testing"

	"github.com/stretchr/testify/require"
	"gonum.org/v1/gonum/interp"
	"pgregory.net/rapid"

	"axtren/core/setup"
)

const tracked = `
transmitter:
  controls:
    - {id: drive, kind: axis}
    - {id: turn, kind: axis}
    - {id: gear, kind: switch, positions: [low, mid, high]}
demands:
  - {id: go, from: drive, expo: 20, rate: 90, rates: [{when: gear.low, rate: 50},
      {when: not gear.high, rate: 70}]}
mixes:
  - {id: m1, to: port, from: go}
  - {id: m2, to: port, from: turn, gain: 80}
  - {id: m3, to: starboard, from: go}
  - {id: m4, to: starboard, from: turn, gain: -80}
  - {id: m5, to: pump, from: port.asked, shape: abs, gain: 150, bias: -50}
  - {id: m6, to: pump, from: turn, shape: up, combine: greatest, when: gear.high, fade_s: 0.2}
shares: [{id: s1, outputs: [port, starboard], rule: keep_turn}]
outputs:
  - {id: port, channel: 1, low: -96, high: 94}
  - {id: starboard, channel: 2, reverse: true, centre: 3, low: -96, high: 94}
  - {id: pump, channel: 3, slew_s: {up: 2}}
receivers:
  - {id: rx, pins: [{pin: 1, channel: 1}, {pin: 2, channel: 2},
      {pin: 3, channel: 3, switch: {on: above, at_us: 1600}}]}
`

func step(p *Program, hands ...float64) *State {
	st := p.PowerOn()
	p.Step(st, hands)
	return st
}

// TestTracksAreTwoLinearMixes: left = drive + turn, right = drive - turn
// (common practice, no source).
func TestTracksAreTwoLinearMixes(t *testing.T) {
	p := compileYAML(t, `
transmitter: {controls: [{id: drive, kind: axis}, {id: turn, kind: axis}]}
mixes: [{to: l, from: drive}, {to: l, from: turn}, {to: r, from: drive}, {to: r, from: turn, gain: -100}]
outputs: [{id: l, channel: 1}, {id: r, channel: 2}]`)
	for d := -100.0; d <= 100; d += 12.5 {
		for u := -100.0; u <= 100; u += 12.5 {
			st := step(p, d, u)
			require.Equal(t, clamp(d+u, -100, 100), st.At(p.Routes[0].P))
			require.Equal(t, clamp(d-u, -100, 100), st.At(p.Routes[1].P))
		}
	}
}

// TestPulseScale: common practice, no source; worked by hand.
func TestPulseScale(t *testing.T) {
	normal := setup.Pulse{CentreUS: 1500, HalfSpanUS: 500, MinUS: 800, MaxUS: 2200, StepUS: 0.5}
	usual, wide, coarse := newScale(normal), normal, normal
	wide.HalfSpanUS = 512
	coarse.StepUS = 1024.0 / 1023
	for _, c := range []struct {
		s     scale
		p, us float64
	}{
		{usual, 0, 1500}, {usual, 100, 2000}, {usual, -100, 1000},
		{usual, 120, 2100}, {usual, -120, 900}, // 120 percent is 900 and 2100
		{usual, 150, 2200}, {usual, -150, 800}, // 2250 and 750, limited
		{usual, 60, 1800}, {usual, 75, 1875}, {usual, 50, 1750}, {usual, -70, 1150}, {usual, -4, 1480},
		// half a step goes away from centre
		{usual, 0.05, 1500.5}, {usual, 0.0499, 1500}, {usual, -0.05, 1499.5},
		{newScale(wide), -100, 988}, {newScale(wide), 100, 2012}, // the wider scale
		{newScale(coarse), 10, 1500 + 50*1024.0/1023}, // 49.95 steps of 1.001 us are 50
	} {
		require.InDelta(t, c.us, c.s.us(c.p), 1e-9, "%g percent", c.p)
	}
	back := newScale(wide)
	require.Equal(t, -100.0, back.Percent(988))
}

// TestLearnedRange: a module that was told the wrong range. Common practice, no
// source; 1985 us is +97 percent where nothing was told.
func TestLearnedRange(t *testing.T) {
	p := compileYAML(t, `
transmitter: {controls: [{id: a, kind: axis}]}
link: {learned_us: {low: 1015, centre: 1500, high: 1985}, order: [2, 1], one_bit: [2]}
mixes: [{to: one, from: a}]
outputs: [{id: one, channel: 1}]
receivers: [{id: rx, pins: [{pin: 1, channel: 1}, {pin: 2, channel: 2}]}]`)
	st := step(p, 97)
	require.Equal(t, 1985.0, st.At(p.Routes[0].US))
	require.Equal(t, 0.0, st.At(p.Pins[0][0].US), "nothing is on transmitter channel 2")
	require.Equal(t, 2000.0, st.At(p.Pins[0][1].US), "one bit: full high")
	st = step(p, -0.2)
	require.Equal(t, 1000.0, st.At(p.Pins[0][1].US))
}

func TestHalfRateRepeatsInOddFrames(t *testing.T) {
	p := compileYAML(t, `
transmitter: {controls: [{id: a, kind: axis}]}
link: {half_rate: [1]}
mixes: [{to: one, from: a}]
outputs: [{id: one, channel: 1}]
receivers: [{id: rx, pins: [{pin: 1, channel: 1}]}]`)
	st := p.PowerOn()
	for k, want := range []float64{1500, 1500, 1600, 1600, 1700} {
		p.Step(st, Hands{float64(10 * k)})
		require.Equal(t, want, st.At(p.Pins[0][0].US), "frame %d", k)
	}
}

func TestLinearCurveAgainstGonum(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		points := drawPoints(t)
		var xs, ys []float64
		for _, p := range points {
			xs, ys = append(xs, p[0]), append(ys, p[1])
		}
		var want interp.PiecewiseLinear
		require.NoError(t, want.Fit(xs, ys))
		cv := newCurve(points, false)
		x := rapid.Float64Range(-160, 160).Draw(t, "x")
		require.InDelta(t, want.Predict(clamp(x, xs[0], xs[len(xs)-1])), cv.at(x), 1e-9)
	})
}

// TestSmoothCurveAgainstGonum gives gonum's piecewise cubic our tangents: its
// own monotone one is another method (Fritsch and Butland).
func TestSmoothCurveAgainstGonum(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		points := drawPoints(t)
		var xs, ys, secants []float64
		for i, p := range points {
			xs, ys = append(xs, p[0]), append(ys, p[1])
			if i > 0 {
				secants = append(secants, (p[1]-points[i-1][1])/(p[0]-points[i-1][0]))
			}
		}
		var want interp.PiecewiseCubic
		want.FitWithDerivatives(xs, ys, monotoneTangents(secants))
		cv := newCurve(points, true)
		x := rapid.Float64Range(xs[0], xs[len(xs)-1]).Draw(t, "x")
		require.InDelta(t, want.Predict(x), cv.at(x), 1e-7)
	})
}

// TestSmoothCurveIsMonotone is the theorem of Fritsch and Carlson (1980): where
// the points rise, so does the curve, and it never leaves an interval's ends.
func TestSmoothCurveIsMonotone(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		points := drawPoints(t)
		cv := newCurve(points, true)
		for i := 1; i < len(points); i++ {
			low, high := min(points[i-1][1], points[i][1]), max(points[i-1][1], points[i][1])
			last := points[i-1][1]
			for k := range 21 {
				y := cv.at(points[i-1][0] + float64(k)/20*(points[i][0]-points[i-1][0]))
				require.GreaterOrEqual(t, y, low-1e-9)
				require.LessOrEqual(t, y, high+1e-9)
				require.GreaterOrEqual(t, (y-last)*(points[i][1]-points[i-1][1]), -1e-7)
				last = y
			}
		}
	})
}

// TestCircleRule works one pair by hand: secants 1 and 10 give the middle
// tangent 5.5; on the first interval alpha is 1, beta 5.5, and the pair is
// brought back by tau = 3/sqrt(31.25).
func TestCircleRule(t *testing.T) {
	m := monotoneTangents([]float64{1, 10})
	tau := 3 / math.Sqrt(31.25)
	require.InDelta(t, tau, m[0], 1e-12)
	require.InDelta(t, 5.5*tau, m[1], 1e-12)
	require.Equal(t, 10.0, m[2])
}

// TestATinyRiseBesideALargeOne: their ratio is beyond what a number holds; the curve goes
// through its points all the same.
func TestATinyRiseBesideALargeOne(t *testing.T) {
	cv := newCurve([]setup.Point{{-2, -8.9e-308}, {0, 0}, {1, 16}, {2, 32}}, true)
	for x, want := range map[float64]float64{-2: 0, -1: 0, 0: 0, 1: 16, 2: 32} {
		require.InDelta(t, want, cv.at(x), 1e-9, x)
	}
	for k := range 101 {
		y := cv.at(-2 + 4*float64(k)/100)
		require.True(t, y >= -1e-9 && y <= 32+1e-9, "%g", y)
	}
}

func drawPoints(t *rapid.T) []setup.Point {
	n := rapid.IntRange(2, 33).Draw(t, "n")
	points := make([]setup.Point, n)
	x := rapid.Float64Range(-150, -100).Draw(t, "x0")
	for i := range points {
		points[i] = setup.Point{x, rapid.Float64Range(-150, 150).Draw(t, "y")}
		x += rapid.Float64Range(0.1, 9).Draw(t, "dx")
	}
	return points
}

func drawHands(t *rapid.T, p *Program) Hands {
	h := p.Rest()
	for i, c := range p.Setup().Transmitter.Controls {
		if c.Axis != nil {
			h[i] = rapid.Float64Range(-100, 100).Draw(t, string(c.ID))
		} else {
			h[i] = float64(rapid.IntRange(0, len(c.Switch.Positions)-1).Draw(t, string(c.ID)))
		}
	}
	return h
}

func TestEndsAreNeverPassed(t *testing.T) {
	p := compileYAML(t, tracked)
	rapid.Check(t, func(t *rapid.T) {
		st := p.PowerOn()
		for range 10 {
			p.Step(st, drawHands(t, p))
			for i, o := range p.Setup().Outputs {
				v := st.At(p.Routes[i].P)
				require.True(t, v >= o.Low && v <= o.High, "%s at %g", o.ID, v)
			}
		}
	})
}

func TestReverseTwiceIsNothing(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		v := rapid.Float64Range(-100, 100).Draw(t, "v")
		require.Equal(t, v, -(-v))
		low := rapid.Float64Range(-150, -1).Draw(t, "low")
		high := rapid.Float64Range(1, 150).Draw(t, "high")
		// a servo mounted the other way round, driven reversed, stands where the mirror image does
		one, mirrored := newEnds(&setup.Output{Low: low, High: high}), newEnds(&setup.Output{Low: -high,
			High: -low})
		require.InDelta(t, one.at(v), -mirrored.at(-v), 1e-9)
	})
}

func TestKeepTurnKeepsTheDifference(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		a := rapid.Float64Range(-300, 300).Draw(t, "a")
		b := rapid.Float64Range(-300, 300).Draw(t, "b")
		v := []float64{a, b, 0, 0, 0}
		s := share{in: []Slot{0, 1}, out: []Slot{2, 3}, most: 4}
		s.keepTurn(v)
		require.InDelta(t, a-b, v[2]-v[3], 1e-9)
		require.LessOrEqual(t, min(math.Abs(v[2]), math.Abs(v[3])), max(100, math.Abs(a-b)))
		s.scale(v)
		require.LessOrEqual(t, max(math.Abs(v[2]), math.Abs(v[3])), 100+1e-9)
		require.InDelta(t, a*v[3], b*v[2], 1e-6, "scale keeps the ratio")
	})
}

func TestSlewAndFadeTakeTheirTime(t *testing.T) {
	p := compileYAML(t, tracked)
	st := p.PowerOn()
	pump := p.Routes[2]
	p.Step(st, Hands{0, 0, 0})
	require.Equal(t, -50.0, st.At(pump.P), "in the first frame it is at its target")
	p.Step(st, Hands{0, 100, 2}) // port asks 80: 1.5*80-50 = 70; the fade adds 0.1 of the way to 100
	require.InDelta(t, 0.1, st.At(pump.Terms[1].Weight), 1e-12)
	require.InDelta(t, 70+0.1*30, st.At(pump.Target), 1e-9)
	require.InDelta(t, -48, st.At(pump.P), 1e-9, "200*0.02/2 a frame")
	p.Step(st, Hands{0, 0, 0})
	require.InDelta(t, -50, st.At(pump.P), 1e-9, "down is not limited")
}

// TestEditsAreNoPowerOn holds what an edit may do to a running model.
func TestEditsAreNoPowerOn(t *testing.T) {
	old := compileYAML(t, tracked)
	st := old.PowerOn()
	hands := Hands{0, 100, 2}
	old.Step(st, Hands{0, 0, 0})
	for range 5 {
		old.Step(st, hands)
	}
	was := st.At(old.Routes[2].P)
	edited := compileYAML(t, strings.Replace(tracked, "\noutputs:",
		"\noutputs:\n  - {id: fresh, channel: 9, slew_s: 5, low: -20, high: 20}", 1)+"\n")
	now := edited.Carry(old, st, hands)
	edited.Step(now, hands)
	require.InDelta(t, was+2, now.At(edited.Routes[3].P), 1e-9, "the pump goes on from where it stood")
	require.Equal(t, 0.0, now.At(slotFirst), "an edit is never a power-on")
	require.Equal(t, st.Frame+1, now.Frame)

	narrowed := compileYAML(t, strings.Replace(tracked, "slew_s: {up: 2}",
		"slew_s: {up: 2}, high: -45, centre: -60", 1))
	now = narrowed.Carry(old, st, hands)
	require.Equal(t, -45.0, now.At(narrowed.Routes[2].P), "inside narrowed ends at once")
}

func TestRingsAreRefusedWithTheirMembers(t *testing.T) {
	doc, err := setup.ReadYAML([]byte(`
format: axtren-setup
version: 1
demands: [{id: d, from: a.asked}]
mixes: [{to: a, from: b.asked}, {to: b, from: d}]
outputs: [{id: a, channel: 1}, {id: b, channel: 2}]`))
	require.NoError(t, err)
	_, err = Compile(doc.Setup)
	var ring *RingError
	require.ErrorAs(t, err, &ring)
	require.Equal(t, []string{"demand d", "a.asked", "b.asked"}, ring.Members)
}

var sumOnly = regexp.MustCompile(`^[-−+×/()³0-9. ]+$`)

// TestWhySaysTheArithmetic works every sum out again with Go's own constant
// evaluator and compares it with the value that the engine has.
func TestWhySaysTheArithmetic(t *testing.T) {
	p := compileYAML(t, tracked)
	checked := 0
	rapid.Check(t, func(t *rapid.T) {
		st := p.PowerOn()
		p.Step(st, p.Rest())
		p.Step(st, drawHands(t, p))
		for i := range p.Routes {
			why := p.Why(st, i)
			require.Equal(t, st.At(p.Routes[i].US), why.Value)
			checked += checkSums(t, why)
		}
	})
	require.Greater(t, checked, 300)
}

func checkSums(t *rapid.T, r Reason) (checked int) {
	for _, from := range r.From {
		checked += checkSums(t, from)
	}
	if !sumOnly.MatchString(r.Sum) || len(r.From) == 0 {
		return checked
	}
	expr := strings.NewReplacer("−", "-", "×", "*").Replace(r.Sum)
	expr = regexp.MustCompile(`(\S+)³`).ReplaceAllString(expr, "$1*$1*$1")
	v, err := types.Eval(token.NewFileSet(), nil, token.NoPos, "1.0*("+expr+")")
	require.NoError(t, err, r.Sum)
	got, _ := constant.Float64Val(v.Value)
	require.InDelta(t, r.Value, got, 0.06, "%s: %s", r.Name, r.Sum)
	return checked + 1
}

// TestNothingIsLostByLeavingOutWhatStands runs the same hands through a state
// that is kept and one whose reached positions are forgotten before each frame,
// so that everything is computed again.
func TestNothingIsLostByLeavingOutWhatStands(t *testing.T) {
	p := compileYAML(t, tracked)
	rapid.Check(t, func(t *rapid.T) {
		kept, again := p.PowerOn(), p.PowerOn()
		hands := p.Rest()
		for range rapid.IntRange(1, 30).Draw(t, "frames") {
			if rapid.Bool().Draw(t, "moves") {
				hands = drawHands(t, p)
			}
			copy(again.V[p.Kept():], p.initial[p.Kept():])
			for _, r := range p.Routes {
				again.V[r.Asked] = math.Inf(1)
			}
			p.Step(kept, hands)
			p.Step(again, hands)
			require.Equal(t, kept.V, again.V)
		}
	})
}

func TestStepAllocatesNothing(t *testing.T) {
	p := compileYAML(t, tracked)
	st, hands := p.PowerOn(), p.Rest()
	require.Zero(t, testing.AllocsPerRun(100, func() { p.Step(st, hands) }))
}

func TestScriptMistakesNameTheLine(t *testing.T) {
	p := compileYAML(t, tracked)
	for text, line := range map[string]int{
		"t,control,value\n":                           1,
		"t_s,control,value\n0,drive\n":                2,
		"t_s,control,value\n0,drive,101\n":            2,
		"t_s,control,value\n0,drive,NaN\n":            2,
		"t_s,control,value\n0,gear,top\n":             2,
		"t_s,control,value\n1,drive,0\n0.5,drive,0\n": 3,
		"t_s,control,value\n0,nobody,0\n":             2,
		"t_s,control,value\n0,\"drive,0\n":            2,
	} {
		_, err := trace(t, p, text, -1)
		var bad *ScriptError
		require.ErrorAs(t, err, &bad, text)
		require.Equal(t, line, bad.Line, text)
		require.NotEmpty(t, bad.Remedy)
	}
}

func TestRunLastsTwoSecondsBeyondTheScript(t *testing.T) {
	p := compileYAML(t, tracked)
	rows, err := trace(t, p, "t_s,control,value\n-1,drive,50\n0.5,drive,0\n", -1)
	require.NoError(t, err)
	require.Equal(t, "2.500", rows[len(rows)-1][0])
	require.NotEqual(t, "0.0000", rows[1][1], "rows before 0 act in frame 0")
	require.NoError(t, p.Run(NewScript(nil, nil), -1, func(float64, *State) error { return nil }))
}

// BenchmarkStoat is a frame of the demo's snow groomer, the sticks moving.
func BenchmarkStoat(b *testing.B) {
	doc, err := setup.ReadYAML([]byte(read(b, "../../demo/stoat.yaml")))
	require.NoError(b, err)
	p, err := Compile(doc.Setup)
	require.NoError(b, err)
	st := p.PowerOn()
	var moves [64]Hands
	for i := range moves {
		moves[i] = p.Rest()
		moves[i][0], moves[i][2], moves[i][3] = float64(3*i-90), float64(i%16*12-90), float64(i%5*40-80)
	}
	b.ReportAllocs()
	for i := 0; b.Loop(); i++ {
		p.Step(st, moves[i%len(moves)])
	}
}
