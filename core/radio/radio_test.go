package radio

import (
	"math"
	"math/cmplx"
	"strings"
	"testing"

	"github.com/stretchr/testify/require"
	"pgregory.net/rapid"

	"axtren/core/setup"
	"axtren/internal/golden"
)

// TestPureWater compares with Kaatze, J. Chem. Eng. Data 34 (1989) 371, at 25 °C: ε(0) 78.36, ε(∞) 5.2, τ
// 8.27 ps (from memory).
func TestPureWater(t *testing.T) {
	require.InDelta(t, 78.36, real(Permittivity(1e-3, 25, 0)), 0.05)
	require.InDelta(t, 5.2, real(Permittivity(1e9, 25, 0)), 0.2)
	relaxes := 1 / (2e6 * math.Pi * 8.27e-12) // MHz, where ωτ is 1
	at := Permittivity(relaxes, 25, 0)
	require.InDelta(t, (78.36+5.2)/2, real(at), 0.2, "half way between")
	require.InDelta(t, (78.36-5.2)/2, -imag(at), 0.2, "where it loses most")
	require.Less(t, real(Permittivity(1e-3, 40, 0)), real(Permittivity(1e-3, 5, 0)), "warm water has less")
}

// TestSkinDepth: sea water of 4 S/m at 75 MHz has a skin depth of about 3 cm, and of a good conductor it
// is the root of 2/(ω μ0 σ) (Maxwell; ITU-R P.527 has the same, from memory).
func TestSkinDepth(t *testing.T) {
	require.InDelta(t, 0.03, 1/Attenuation(75, 20, 4), 0.003)
	for _, c := range []struct{ mhz, conducts float64 }{{0.01, 4}, {0.1, 5}, {1, 4}} {
		omega := 2e6 * math.Pi * c.mhz
		want := math.Sqrt(2 / (omega * 4e-7 * math.Pi * c.conducts))
		require.InEpsilon(t, want, 1/Attenuation(c.mhz, 15, c.conducts), 0.02)
	}
	// of a poor one it is 2/σ times the root of ε/μ, whatever the frequency
	want := 2 / 0.001 * math.Sqrt(81.9*vacuumFM/(4e-7*math.Pi))
	require.InEpsilon(t, want, 1/Attenuation(3, 15, 0.001), 0.05)
}

// TestAttenuationIsTheRoot: against the root written out: α = ω/c sqrt((|ε| − ε')/2).
func TestAttenuationIsTheRoot(t *testing.T) {
	rapid.Check(t, func(rt *rapid.T) {
		mhz := rapid.Float64Range(1, 6000).Draw(rt, "mhz")
		celsius := rapid.Float64Range(0, 40).Draw(rt, "celsius")
		conducts := rapid.Float64Range(0.0001, 6).Draw(rt, "conducts")
		e := Permittivity(mhz, celsius, conducts)
		want := 2e6 * math.Pi * mhz / lightMS * math.Sqrt((cmplx.Abs(e)-real(e))/2)
		require.InEpsilon(rt, want, Attenuation(mhz, celsius, conducts), 1e-6)
		require.Greater(rt, Attenuation(mhz, celsius, conducts*1.5), want, "what conducts better takes more")
		require.Positive(rt, Surface(mhz, celsius, conducts))
	})
}

// TestQuarterWave: c is exact; on 2.44 GHz it is 30.7 mm, some 31 mm of bared core (common practice, no
// source).
func TestQuarterWave(t *testing.T) {
	require.InDelta(t, 30.7, QuarterMM(2440), 0.05)
	require.InDelta(t, 1842, QuarterMM(40.69), 1)
}

// TestEveryWaterIsKnown: a setup can name just the kinds of water of which something is known.
func TestEveryWaterIsKnown(t *testing.T) {
	_, err := setup.ReadYAML([]byte("format: axtren-setup\nversion: 1\nunder: {water: soup}\n"))
	var keys []string
	for _, kind := range Kinds {
		keys = append(keys, kind.Key)
		require.Less(t, kind.Least, kind.Most, kind.Key)
	}
	require.ErrorContains(t, err, "use "+strings.Join(keys, ", "))
}

// TestReach: a low band reaches some 6 to 9 m down in clear fresh water, far less in a pool or the sea, and
// 2.4 GHz practically nothing (common practice, no source).
func TestReach(t *testing.T) {
	reach := func(mhz float64, water string) Range {
		k, ok := KindOf(water)
		require.True(t, ok)
		a := Air{MHz: mhz, Water: Range{k.Least, k.Most}, Celsius: 15, RangeM: 500, AwayM: 20}
		depth, why := a.Reach()
		require.Len(t, why, 2)
		require.LessOrEqual(t, depth.Least, depth.Most)
		return depth
	}
	fresh := reach(40, "clear")
	require.Less(t, fresh.Least, 6.0)
	require.Greater(t, fresh.Most, 9.0)
	require.Less(t, reach(40, "chlorinated").Most, fresh.Most/3)
	require.Less(t, reach(40, "salt").Most, 0.5)
	require.Less(t, reach(2440, "clear").Most, 0.15)
	a := Air{MHz: 40, Water: Range{0.01, 0.03}, Celsius: 15, RangeM: 10, AwayM: 20}
	depth, _ := a.Reach()
	require.Equal(t, Range{}, depth, "it does not reach the boat at all")
}

// TestReachByHand: 100 m of range, 10 m away: 20 dB are left, less what the surface takes, over what a metre
// takes; at least it is 6 dB less range, and 10 dB of a wet aerial.
func TestReachByHand(t *testing.T) {
	a := Air{MHz: 40, Water: Range{0.01, 0.01}, Celsius: 25, RangeM: 100, AwayM: 10}
	depth, why := a.Reach()
	metre := decibels * Attenuation(40, 25, 0.01)
	require.InDelta(t, 1.9, metre, 0.1, "8.686 × 2π 40e6/c × (0.01/(2π 40e6 ε0) + 0.2)/(2 × 8.9) = 1.9")
	surface := Surface(40, 25, 0.01)
	require.InDelta(t, 4.5, surface, 0.3, "a root of 78 is 8.8: 4 × 8.8/9.8² is 0.366, 4.4 dB")
	require.InDelta(t, (20-surface)/metre, depth.Most, 1e-9)
	require.InDelta(t, max(20-20*math.Log10(2)-surface-10, 0)/metre, depth.Least, 1e-9)
	require.Contains(t, why[1], "100 m of range and 10 m away leave 20 dB")
}

// TestArchimedes: 300 ml of fresh water weigh 998 × 9.80665 × 0.0003 = 2.936 N.
func TestArchimedes(t *testing.T) {
	d := dive()
	require.Contains(t, strings.Join(d.Down().Why, " "), "lifts with 2.94 N")
}

func dive() Dive {
	return Dive{LossS: 1, Sinks: Range{0.1, 0.1}, MassKG: 6, Density: 998, BlownM3: 300e-6, BlowS: Range{0, 0},
		AreaM2: 0.09, Drag: Range{1, 1}}
}

// TestDownByHand: without drag, and the tank empty at once, it goes on for v²/2a: 2.936 N slow down 6 kg
// and half or all as much water, 9 or 12 kg, by 0.3262 or 0.2447 m/s²; so 0.1 m until the receiver acts,
// and 0.0153 or 0.0204 m more.
func TestDownByHand(t *testing.T) {
	d := dive()
	d.AreaM2 = 0
	deep := d.Down()
	require.False(t, deep.Never)
	require.InDelta(t, 0.1+0.01/(2*2.936/9), deep.Depth.Least, 0.001)
	require.InDelta(t, 0.1+0.01/(2*2.936/12), deep.Depth.Most, 0.001)
	// back: z = 0.1 + 0.1 t − a t²/2 is 0 after (0.1 + sqrt(0.01 + 0.2 a))/a
	for _, c := range []struct{ a, got float64 }{{2.936 / 9, deep.Back.Least}, {2.936 / 12, deep.Back.Most}} {
		require.InDelta(t, 1+(0.1+math.Sqrt(0.01+0.2*c.a))/c.a, c.got, 0.03)
	}
}

// TestDownGoesTheRightWay: what makes a dive worse makes it deeper.
func TestDownGoesTheRightWay(t *testing.T) {
	one := dive()
	before := one.Down()
	for name, change := range map[string]func(*Dive){
		"later":      func(d *Dive) { d.LossS = 2 },
		"faster":     func(d *Dive) { d.Sinks = Range{0.2, 0.2} },
		"heavier":    func(d *Dive) { d.MassKG = 12 },
		"less water": func(d *Dive) { d.BlownM3 = 100e-6 },
		"slower":     func(d *Dive) { d.BlowS = Range{5, 8} },
		"coasts":     func(d *Dive) { d.CoastS = 3 },
	} {
		d := dive()
		change(&d)
		require.Greater(t, d.Down().Depth.Most, before.Depth.Most, name)
	}
	d := dive()
	d.LightM3 = 100e-6
	require.Less(t, d.Down().Depth.Most, before.Depth.Most, "lighter than water")
	d = dive()
	d.BlownM3 = 0
	require.True(t, d.Down().Never)
	require.Equal(t, Range{}, d.Down().Depth)
}

// TestNothingBreaksIt: any figures that a document can have give figures.
func TestNothingBreaksIt(t *testing.T) {
	between := func(rt *rapid.T, name string, most float64) Range {
		a, b := rapid.Float64Range(0, most).Draw(rt, name), rapid.Float64Range(0, most).Draw(rt, name)
		return Range{min(a, b), max(a, b)}
	}
	rapid.Check(t, func(rt *rapid.T) {
		d := Dive{LossS: rapid.Float64Range(0, 5).Draw(rt, "loss"), Sinks: between(rt, "sinks", 2),
			MassKG: rapid.Float64Range(0, 1000).Draw(rt, "mass"), Density: 998,
			BlownM3: rapid.Float64Range(0, 1).Draw(rt, "blown"), BlowS: between(rt, "blow", 20),
			CoastS: rapid.Float64Range(0, 20).Draw(rt, "coast"), AreaM2: rapid.Float64Range(0, 100).Draw(rt, "area"),
			Drag: between(rt, "drag", 10)}
		deep := d.Down()
		for _, v := range []float64{deep.Depth.Least, deep.Depth.Most, deep.Back.Least, deep.Back.Most} {
			require.False(rt, math.IsNaN(v) || math.IsInf(v, 0), "%v of %+v", v, d)
		}
		require.LessOrEqual(rt, deep.Depth.Least, deep.Depth.Most)
	})
}

const boat = `
format: axtren-setup
version: 1
craft: {kind: submarine}
transmitter: {can: {range_m: 500}, controls: [{id: a, kind: axis}]}
link: {mhz: 2440}
receivers: [{id: rx, loss_after_s: 0.8, pins: [{pin: 1, channel: 1}]}]
under: {water: chlorinated, aerial_mm: 60, sinks_mm_s: {least: 40, most: 120}, mass_kg: 6.2, blown_ml: 300,
  blow_s: {least: 4, most: 9}, area_cm2: 900, drag: {least: 0.6, most: 1.4}}
`

func told(t *testing.T, text string) Told {
	t.Helper()
	doc, err := setup.ReadYAML([]byte(text))
	require.NoError(t, err)
	return Of(doc.Setup)
}

// TestWhatIsTold: in range bars, and never one bold number; what is missing is asked for.
func TestWhatIsTold(t *testing.T) {
	one := told(t, boat)
	require.Empty(t, one.Missing)
	var labels []string
	for _, b := range one.Bars {
		labels = append(labels, b.Label)
		require.LessOrEqual(t, b.Least, b.Most)
		require.NotEmpty(t, b.Why, b.Label)
		require.False(t, b.Open)
	}
	require.Equal(t, []string{"The signal reaches down", "The deck is then under by", "The deck gets down to",
		"The signal is back after"}, labels)
	require.InDelta(t, one.Bars[0].Least+0.06, one.Bars[1].Least, 0.002)
	require.Greater(t, one.Bars[2].Least, one.Bars[1].Least+0.03)
	require.Contains(t, strings.Join(one.Says, " "), "31 mm")
	require.Contains(t, strings.Join(one.Says, " "), "decides how deep it gets")
	low := told(t, strings.NewReplacer("2440", "40.7", "chlorinated", "clear").Replace(boat))
	require.NotContains(t, strings.Join(low.Says, " "), "decides how deep")
	none := told(t, boat[:strings.Index(boat, "under:")])
	require.Equal(t, Told{Missing: []string{"Say what it dives in, and how it goes down."}, Bars: []Bar{},
		Says: []string{}}, none)
	golden.Equal(t, "told", golden.Text(t, []Told{one, low}))
	for cut, asks := range map[string]string{"link: {mhz: 2440}": "band of the radio",
		"can: {range_m: 500}, ": "reaches in air", ", mass_kg: 6.2": "Say its mass.",
		" sinks_mm_s: {least: 40, most: 120},": "how fast it goes down",
		", drag: {least: 0.6, most: 1.4}":      "its drag",
		"  blow_s: {least: 4, most: 9}, ":      "how long its tank takes"} {
		require.Contains(t, boat, cut)
		require.Contains(t, strings.Join(told(t, strings.Replace(boat, cut, "  ", 1)).Missing, " "), asks, cut)
	}
	never := told(t, strings.Replace(boat, "blown_ml: 300,", "", 1))
	require.True(t, never.Bars[2].Open)
	require.Contains(t, strings.Join(never.Says, " "), "Nothing lifts it")
	require.True(t, Goes(&setup.Setup{Craft: setup.Craft{Kind: "boat"}}))
	require.False(t, Goes(&setup.Setup{Craft: setup.Craft{Kind: "car"}}))
}
