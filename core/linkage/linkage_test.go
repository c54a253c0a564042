package linkage

import (
	"encoding/json"
	"math"
	"strings"
	"testing"
	"time"

	"github.com/stretchr/testify/require"
	"gonum.org/v1/gonum/diff/fd"
	"gonum.org/v1/gonum/optimize"
	"pgregory.net/rapid"

	"axtren/core/setup"
)

func made(t require.TestingT, of setup.Linkage) *Linkage {
	if of.ThrowDeg == 0 {
		of.ThrowDeg = 45
	}
	l, problem := New(&of)
	require.Nil(t, problem)
	return l
}

// drawn is a rod that can be put on, of any shape that a person may have.
func drawn(t *rapid.T) setup.Linkage {
	return setup.Linkage{Kind: "rod", ThrowDeg: rapid.Float64Range(20, 90).Draw(t, "throw"),
		ArmMM: rapid.Float64Range(5, 30).Draw(t, "arm"), HornMM: rapid.Float64Range(5, 40).Draw(t, "horn"),
		ArmDeg: rapid.Float64Range(-40, 40).Draw(t, "arm off"), HornDeg: rapid.Float64Range(-40, 40).Draw(t,
			"horn off"),
		AlongMM: rapid.Float64Range(40, 200).Draw(t, "along"), AsideMM: rapid.Float64Range(-30, 30).Draw(t,
			"aside"),
		Opposite: rapid.Bool().Draw(t, "opposite")}
}

// TestAFourBarCloses: wherever the arm stands the rod is as long as it was, the horn too; the angles fulfil
// Freudenstein's equation, K1 cos ψ − K2 cos φ + K3 = cos(φ − ψ) with K1 = d/a, K2 = d/c,
// K3 = (a² − b² + c² + d²)/2ac, angles of crank and follower from the line of the ground (Freudenstein,
// Trans. ASME 77, 1955; Norton, Design of Machinery, from memory).
func TestAFourBarCloses(t *testing.T) {
	rapid.Check(t, func(rt *rapid.T) {
		of := drawn(rt)
		l := made(rt, of)
		zero, ok := l.At(0)
		require.True(rt, ok)
		require.InDelta(rt, 0, zero.Part, 1e-9, "the rod is made for the middle")
		hinge := Point{of.AlongMM, of.AsideMM}
		d := hinge.length()
		ground := math.Atan2(of.AsideMM, of.AlongMM)
		a, b, c := of.ArmMM, l.rod, of.HornMM
		for p := -150.0; p <= 150; p += 7.5 {
			pose, ok := l.At(p)
			if !ok {
				continue
			}
			require.InDelta(rt, b, pose.End.minus(pose.Arm).length(), 1e-9)
			require.InDelta(rt, c, pose.End.minus(hinge).length(), 1e-9)
			require.InDelta(rt, a, pose.Arm.length(), 1e-9)
			phi := math.Atan2(pose.Arm[1], pose.Arm[0]) - ground
			horn := pose.End.minus(hinge)
			psi := math.Atan2(horn[1], horn[0]) - ground
			k1, k2, k3 := d/a, d/c, (a*a-b*b+c*c+d*d)/(2*a*c)
			require.InDelta(rt, math.Cos(phi-psi), k1*math.Cos(psi)-k2*math.Cos(phi)+k3, 1e-9)
		}
	})
}

// TestHowMuchAPartTurns: the ratio against the derivative by gonum's finite differences.
func TestHowMuchAPartTurns(t *testing.T) {
	rapid.Check(t, func(rt *rapid.T) {
		of := drawn(rt)
		of.Kind = rapid.SampledFrom([]string{"rod", "slide", "spool", "pull_pull"}).Draw(rt, "kind")
		if of.Kind == "slide" {
			rod := 60 + of.ArmMM + math.Abs(of.AsideMM)
			of.RodMM = &rod
		}
		l := made(rt, of)
		low, high := l.Low, l.High
		for _, share := range []float64{-0.8, -0.3, 0.4, 0.9} {
			p := -share * low.Position
			if share > 0 {
				p = share * high.Position
			}
			if math.Abs(p) < 1 {
				continue // in the middle another wire begins to pull
			}
			pose, ok := l.At(p)
			require.True(rt, ok)
			slope := fd.Derivative(func(at float64) float64 {
				one, _ := l.At(at)
				return one.Part
			}, p, &fd.Settings{Formula: fd.Central, Step: 1e-4})
			per := of.ThrowDeg / 100 // degrees for a percent
			if l.slides() {
				per *= math.Pi / 180
			}
			require.InDelta(rt, slope, pose.Ratio*per, 1e-3*max(1, math.Abs(slope)), of.Kind)
		}
	})
}

// TestWhereAPartIsWanted: the end for a wish, against gonum's Nelder and Mead on the same linkage.
func TestWhereAPartIsWanted(t *testing.T) {
	rapid.Check(t, func(rt *rapid.T) {
		l := made(rt, drawn(rt))
		low, high := l.Low, l.High
		wish := low.Part + rapid.Float64Range(0.05, 0.95).Draw(rt, "share")*(high.Part-low.Part)
		p, ok := l.Position(wish)
		require.True(rt, ok)
		pose, _ := l.At(p)
		require.InDelta(rt, wish, pose.Part, 1e-6)
		found, err := optimize.Minimize(optimize.Problem{Func: func(x []float64) float64 {
			one, ok := l.At(x[0])
			if !ok || x[0] < low.Position || x[0] > high.Position {
				return 1e6
			}
			return (one.Part - wish) * (one.Part - wish)
		}}, []float64{(low.Position + high.Position) / 2}, nil, &optimize.NelderMead{})
		require.NoError(rt, err)
		require.InDelta(rt, found.X[0], p, 0.05)
		_, ok = l.Position(high.Part + 1)
		require.False(rt, ok)
	})
}

// TestACrankThatSlides: x = r cos θ + √(l² − r² sin² θ) from the shaft, θ from the line of the slide, as in
// any textbook of machines; offset by e, √(l² − (r sin θ − e)²).
func TestACrankThatSlides(t *testing.T) {
	rod := 60.0
	for _, aside := range []float64{0, 4} {
		l := made(t, setup.Linkage{Kind: "slide", ArmMM: 15, RodMM: &rod, AsideMM: aside})
		x := func(p float64) float64 {
			theta := math.Pi/2 - p/100*math.Pi/4
			return 15*math.Cos(theta) + math.Sqrt(60*60-math.Pow(15*math.Sin(theta)-aside, 2))
		}
		for p := -100.0; p <= 100; p += 12.5 {
			pose, ok := l.At(p)
			require.True(t, ok)
			require.InDelta(t, x(p)-x(0), pose.Part, 1e-9)
			require.InDelta(t, x(p), pose.End[0], 1e-9)
		}
	}
}

// TestASpoolWithOverlap: with an arm of 10 mm and an overlap of 1 mm nothing flows up to arcsin 0.1.
func TestASpoolWithOverlap(t *testing.T) {
	l := made(t, setup.Linkage{Kind: "spool", ArmMM: 10, OverlapMM: 1, OpenMM: 5})
	low, high := l.Dead()
	edge := math.Asin(0.1) * 180 / math.Pi / 45 * 100
	require.InDelta(t, edge, high, 1e-9)
	require.InDelta(t, -edge, low, 1e-9)
	half := math.Asin(0.3) * 180 / math.Pi / 45 * 100
	pose, _ := l.At(half)
	require.InDelta(t, 50, pose.Part, 1e-9)
	pose, _ = l.At(-150)
	require.InDelta(t, -100, pose.Part, 1e-9)
	open, ok := l.Open(1)
	require.True(t, ok)
	require.InDelta(t, math.Asin(0.5)*180/math.Pi/45*100, open, 1e-9)
	_, ok = made(t, setup.Linkage{Kind: "spool", ArmMM: 10, OverlapMM: 1, OpenMM: 12}).Open(1)
	require.False(t, ok, "the arm does not reach so far")
}

// TestWiresThatPull: with an arm as long as the horn, both square, the wires stay taut and the part turns as
// the shaft does; whatever they are, neither wire is ever longer than it is while they have play.
func TestWiresThatPull(t *testing.T) {
	l := made(t, setup.Linkage{Kind: "pull_pull", ArmMM: 20, HornMM: 20, AlongMM: 150})
	for p := -120.0; p <= 120; p += 10 {
		pose, ok := l.At(p)
		require.True(t, ok)
		require.InDelta(t, p*0.45, pose.Part, 1e-9)
		require.InDelta(t, 0, pose.Play, 1e-9)
	}
	rapid.Check(t, func(rt *rapid.T) {
		of := drawn(rt)
		of.Kind = "pull_pull"
		l := made(rt, of)
		for p := -100.0; p <= 100; p += 10 {
			pose, ok := l.At(p)
			if !ok || pose.Play < 0 {
				continue
			}
			other := l.hinge.plus(l.hinge.minus(pose.End))
			first, second := pose.End.minus(pose.Arm).length(), other.plus(pose.Arm).length()
			require.LessOrEqual(rt, first, l.wires[0]+1e-9)
			require.LessOrEqual(rt, second, l.wires[1]+1e-9)
			require.InDelta(rt, 0, min(l.wires[0]-first, l.wires[1]-second), 1e-9, "one of them is taut")
		}
	})
}

// TestWhereARodReachesNoFurther: the arm and the rod are in one line with the hinge's circle where
// cos(α − ψ) = (a² + d² − (l ± b)²) / 2ad; the arm goes over centre where it lies in line with the rod.
func TestWhereARodReachesNoFurther(t *testing.T) {
	rapid.Check(t, func(rt *rapid.T) {
		of := drawn(rt)
		l := made(rt, of)
		psi := math.Atan2(of.AlongMM, of.AsideMM) * 180 / math.Pi
		d := Point{of.AlongMM, of.AsideMM}.length()
		low, high := l.Low, l.High
		for _, limit := range []Limit{low, high} {
			pose, ok := l.At(limit.Position)
			require.True(rt, ok)
			require.InDelta(rt, limit.Part, pose.Part, 1e-6)
			switch limit.Why {
			case Binds:
				alpha := l.shaft(limit.Position) - psi
				reach := math.Sqrt(of.ArmMM*of.ArmMM + d*d - 2*of.ArmMM*d*math.Cos(alpha*math.Pi/180))
				nearest := min(math.Abs(reach-l.rod-of.HornMM), math.Abs(reach-math.Abs(l.rod-of.HornMM)))
				require.InDelta(rt, 0, nearest, 1e-3)
			case Turns:
				rod := pose.End.minus(pose.Arm)
				across := rod[0]*pose.Arm[1] - rod[1]*pose.Arm[0]
				require.InDelta(rt, 0, across/l.rod/of.ArmMM, 1e-3)
			case Round:
				require.InDelta(rt, mostTurn, math.Abs(pose.Part), 1e-6)
			case Beyond:
				require.InDelta(rt, Most, math.Abs(limit.Position), 1e-9)
			}
		}
	})
}

// TestBothWheels: the ideal fulfils cot(outer) − cot(inner) = track/wheelbase either way (Gillespie,
// Fundamentals of Vehicle Dynamics, from memory); the rod between the wheels keeps its length; arms that
// point at the middle of the axle behind come near the ideal, straight ones do not (common practice).
func TestBothWheels(t *testing.T) {
	of := setup.Steers{WheelbaseMM: 300, TrackMM: 180, ArmMM: 20}
	cot := func(deg float64) float64 { return 1 / math.Tan(math.Abs(deg)*math.Pi/180) }
	for left := -35.0; left <= 35; left += 5 {
		ideal := Ideal(&of, left)
		if left == 0 {
			require.Zero(t, ideal)
			continue
		}
		outer, inner := left, ideal
		if left < 0 {
			outer, inner = ideal, left
		}
		require.InDelta(t, 0.6, cot(outer)-cot(inner), 1e-9)
		require.Equal(t, left > 0, ideal > 0)
	}
	of.InwardDeg = math.Atan(90.0/300) * 180 / math.Pi
	straight := setup.Steers{WheelbaseMM: 300, TrackMM: 180, ArmMM: 20}
	for left := -25.0; left <= 25; left += 2.5 {
		w, ok := Steer(&of, left)
		require.True(t, ok)
		tip := turned(180 - of.InwardDeg + left).times(20)
		other := Point{180, 0}.plus(turned(180 + of.InwardDeg + w.Right).times(20))
		require.InDelta(t, 180-2*20*math.Sin(of.InwardDeg*math.Pi/180), other.minus(tip).length(), 1e-9)
		require.InDelta(t, w.Ideal, w.Right, 3.5)
		plain, ok := Steer(&straight, left)
		require.True(t, ok)
		require.InDelta(t, left, plain.Right, 1e-9, "straight arms turn both alike")
		require.LessOrEqual(t, math.Abs(w.Right-w.Ideal), math.Abs(plain.Right-plain.Ideal)+1e-9)
	}
	w, _ := Steer(&straight, 45)
	require.InDelta(t, 300, w.Radius, 1e-9, "wheelbase / tan 45°")
}

// TestWhatCannotBeSaysWhatCan: no length, a rod that is too short, an overlap beyond the opening: a sentence
// with the nearest that can be.
func TestWhatCannotBeSaysWhatCan(t *testing.T) {
	short := 10.0
	for says, of := range map[string]setup.Linkage{
		"The part has no horn: measure from its hinge to the hole in the horn.": {Kind: "rod", ArmMM: 18,
			AlongMM: 90},
		"The hinge would be on the shaft of the servo: measure how far it is from the shaft, along and aside.": {
			Kind: "rod", ArmMM: 18, HornMM: 20},
		"This rod cannot be put on while the servo stands in the middle: it has to be between 71.8 mm and 111.8 " +
			"mm.": {
			Kind: "rod", ArmMM: 18, HornMM: 20, AlongMM: 90, RodMM: &short},
		"The rod does not reach from the arm to the line on which it slides: it has to be 18 mm at least.": {
			Kind: "slide", ArmMM: 18, RodMM: &short},
		"A crank moves what slides by a rod, and its length is not said: measure it from hole to hole.": {
			Kind: "slide", ArmMM: 18},
		"The valve would be fully open before its spool has left the overlap: write more than the overlap.": {
			Kind: "spool", ArmMM: 18, OverlapMM: 2, OpenMM: 2},
	} {
		of.ThrowDeg = 45
		r := Of(&setup.Output{Low: -100, High: 100, Linkage: &of}, nil, Sides{})
		require.Equal(t, says, r.Lacks)
		require.Empty(t, r.Figures)
	}
	require.Nil(t, Of(&setup.Output{}, nil, Sides{}))
}

// TestNeverNaN: whatever a document may have, what is told has no NaN and no infinity, no empty sentence,
// and reads as JSON.
func TestNeverNaN(t *testing.T) {
	rapid.Check(t, func(rt *rapid.T) {
		number := func(name string, low, high float64) float64 {
			return rapid.OneOf(rapid.Just(low), rapid.Just(0.0), rapid.Just(high), rapid.Float64Range(low,
				high)).Draw(rt, name)
		}
		of := setup.Linkage{Kind: rapid.SampledFrom([]string{"rod", "pull_pull", "slide", "spool"}).Draw(rt,
			"kind"),
			ArmMM: number("arm", 0, 1000) + 1e-3, ThrowDeg: number("throw", 0, 180) + 1e-3, HornMM: number("horn", 0,
				1000),
			ArmDeg: number("off", -90, 90), HornDeg: number("horn off", -90, 90), AlongMM: number("along", -10000,
				10000),
			AsideMM: number("aside", -10000, 10000), Opposite: rapid.Bool().Draw(rt, "opposite"),
			Wish: number("wish", 0, 1000), NeedsNM: number("needs", 0, 1000), NeedsN: number("force", 0, 1e5),
			OverlapMM: number("overlap", 0, 1000), OpenMM: number("open", 0, 1000)}
		if rapid.Bool().Draw(rt, "rod") {
			rod := number("length", 0, 10000) + 1e-3
			of.RodMM = &rod
		}
		if rapid.Bool().Draw(rt, "stops") {
			low, high := number("stop", -90, 90), number("other stop", -90, 90)
			of.StopLow, of.StopHigh = &low, &high
		}
		if rapid.Bool().Draw(rt, "steers") {
			of.Steers = &setup.Steers{WheelbaseMM: number("base", 0, 10000) + 1e-3, TrackMM: number("track", 0,
				10000) + 1e-3,
				ArmMM: number("wheel arm", 0, 1000) + 1e-3, InwardDeg: number("inward", -60, 60)}
		}
		o := setup.Output{Low: number("low", -150, -1), Centre: number("centre", -0.5, 0.5), High: number("high",
			1, 150),
			Linkage: &of}
		if o.Low >= o.Centre || o.High <= o.Centre {
			return
		}
		r := Of(&o, &setup.Servo{TorqueNM: number("torque", 0, 100), Splines: rapid.IntRange(0, 60).Draw(rt,
			"splines")},
			Sides{})
		text, err := json.Marshal(r)
		require.NoError(rt, err)
		for _, bad := range []string{"NaN", "Inf", "null", `"says":""`, "  "} {
			require.False(rt, strings.Contains(string(text), bad), bad)
		}
	})
}

// TestHowFastALinkageIsSolved prints what one position takes, and all that is told of it.
func TestHowFastALinkageIsSolved(t *testing.T) {
	of := setup.Linkage{Kind: "rod", ArmMM: 18, HornMM: 20, AlongMM: 96, ArmDeg: 4, ThrowDeg: 45, Wish: 30,
		NeedsNM: 0.1}
	l := made(t, of)
	start := time.Now()
	const n = 100_000
	sum := 0.0
	for i := range n {
		pose, _ := l.At(float64(i%200) - 100)
		sum += pose.Part
	}
	each := time.Since(start) / n
	require.NotZero(t, sum)
	start = time.Now()
	r := Of(&setup.Output{Low: -80, High: 80, Linkage: &of}, nil, Sides{})
	t.Logf("one position %v, all of it %v, %d figures", each, time.Since(start), len(r.Figures))
	require.Less(t, each, 100*time.Microsecond)
}

// TestWheelsTheOtherWayRound: where + turns the wheels to the left, the outer one on that side is the right.
func TestWheelsTheOtherWayRound(t *testing.T) {
	o := setup.Output{Low: -80, High: 80, Linkage: &setup.Linkage{Kind: "rod", ArmMM: 15, HornMM: 18,
		AlongMM:  46,
		ThrowDeg: 45, Steers: &setup.Steers{WheelbaseMM: 258, TrackMM: 168, ArmMM: 19, InwardDeg: 15}}}
	wheels := func(sides Sides) string {
		for _, f := range Of(&o, nil, sides).Figures {
			if f.Title == "Wheels at the end "+sides.Plus {
				return f.Says
			}
		}
		return ""
	}
	right := wheels(Sides{Minus: "to the left", Plus: "to the right"})
	require.Regexp(t, "^left [0-9.]+°, right [0-9.]+°$", right)
	require.Regexp(t, "^left −[0-9.]+°, right −[0-9.]+°$", wheels(Sides{Minus: "to the right",
		Plus: "to the left", Left: true}))
}

// TestARudder: what is told of a rudder whose arm is off square, line by line.
func TestARudder(t *testing.T) {
	of := setup.Linkage{Kind: "rod", ArmMM: 18, HornMM: 20, AlongMM: 96, ArmDeg: -14.4, ThrowDeg: 45, Wish: 30,
		NeedsNM: 0.09}
	o := setup.Output{Low: -76, High: 70, Centre: 0, Linkage: &of}
	r := Of(&o, &setup.Servo{TorqueNM: 0.35, Splines: 25}, Sides{Minus: "to port", Plus: "to starboard"})
	require.Empty(t, r.Lacks)
	said := map[string]Figure{}
	for _, f := range r.Figures {
		said[f.Title] = f
	}
	require.Equal(t, "1 spline of the arm to +, with the rod made to fit, would leave 0°",
		said["Both sides differ by"].Note)
	require.True(t, said["Both sides differ by"].Wrong)
	require.Equal(t, "the servo gives 0.35", said["Torque needed at the servo"].Note)
	require.False(t, said["Torque needed at the servo"].Wrong)
	for title, f := range said {
		require.NotEmpty(t, f.Says, title)
		t.Log(title, "|", f.Says, "|", f.Note, "|", strings.Join(f.Why, " / "))
	}
}
