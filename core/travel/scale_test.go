package travel

import (
	"math"
	"testing"

	"github.com/stretchr/testify/require"
	"pgregory.net/rapid"

	"axtren/core/setup"
)

var usual = setup.Pulse{CentreUS: 1500, HalfSpanUS: 500, MinUS: 800, MaxUS: 2200, StepUS: 0.5}

// TestScales holds figures of the trade: all common practice, no source; those of
// bits and steps are worked by hand.
func TestScales(t *testing.T) {
	wide := setup.Pulse{CentreUS: 1500, HalfSpanUS: 512, MinUS: 800, MaxUS: 2200, StepUS: 0.5}
	for _, c := range []struct {
		scale   setup.Scale
		percent float64
		pulse   *setup.Pulse
		want    string
	}{
		{setup.Scale{Word: "span"}, 0, &usual, "50"},
		{setup.Scale{Word: "span"}, -70, &usual, "15"},
		{setup.Scale{Word: "span"}, -4, &usual, "48"},
		{setup.Scale{Word: "us"}, -4, &usual, "1480"},
		{setup.Scale{Word: "us"}, -70, &usual, "1150"},
		{setup.Scale{Word: "us"}, 120, &usual, "2100"},
		{setup.Scale{Word: "us"}, -120, &usual, "900"},
		{setup.Scale{Word: "us"}, -100, &wide, "988"},
		{setup.Scale{Word: "us"}, 100, &wide, "2012"},
		{setup.Scale{Word: "us"}, 60, &usual, "1800"},
		{setup.Scale{Word: "us"}, 75, &usual, "1875"},
		{setup.Scale{Word: "us"}, 50, &usual, "1750"},
		{setup.Scale{Word: "percent"}, 96, &usual, "+96"},
		{setup.Scale{Word: "percent"}, -96, &usual, "−96"},
		{setup.Scale{Word: "percent"}, 0, &usual, "0"},
		{setup.Scale{Word: "magnitude"}, -96, &usual, "96"},
		{setup.Scale{Step: 2.5}, -10, &usual, "−4"},
		{setup.Scale{Step: 2.5}, 10, &usual, "+4"},
		{setup.Scale{Bits: 10}, -100, &usual, "0"},
		{setup.Scale{Bits: 10}, 100, &usual, "1023"},
		{setup.Scale{Bits: 10}, 0, &usual, "512"}, // 511.5, half up
		{setup.Scale{Bits: 8}, 20, &usual, "153"},
	} {
		require.Equal(t, c.want, Write(c.scale, c.percent, c.pulse), "%s %v", Name(c.scale), c.percent)
	}
	// ten bits over a span of 1024 us: 1.001 us a step
	step := Figure(setup.Scale{Word: "us"}, Percent(setup.Scale{Bits: 10}, 1, &wide),
		&wide) - Figure(setup.Scale{Word: "us"}, -100, &wide)
	require.InDelta(t, 1.001, step, 0.0005)
}

// TestScalesComeBack: every scale into every other and back gives the same travel.
func TestScalesComeBack(t *testing.T) {
	scales := []setup.Scale{{Word: "percent"}, {Word: "span"}, {Word: "us"}, {Step: 2.5}, {Step: 0.5},
		{Bits: 8}, {Bits: 12}, {Word: "magnitude"}}
	rapid.Check(t, func(rt *rapid.T) {
		percent := rapid.Float64Range(-150, 150).Draw(rt, "percent")
		for _, a := range scales {
			for _, b := range scales {
				p := percent
				if a.Word == "magnitude" || b.Word == "magnitude" {
					p = max(p, -p) // a magnitude has no sign
				}
				there := Figure(b, Percent(a, Figure(a, p, &usual), &usual), &usual)
				require.InDelta(rt, p, Percent(b, there, &usual), 1e-9, "%s to %s", Name(a), Name(b))
			}
		}
	})
}

func TestAMenuMayMixTwoScales(t *testing.T) {
	menu := &setup.Menu{Else: setup.Scale{Word: "percent"},
		Channels: []setup.ChannelScale{{Channel: 3, Scale: setup.Scale{Word: "span"}}}}
	require.Equal(t, "span", ScaleOf(menu, 3, "us").Word)
	require.Equal(t, "percent", ScaleOf(menu, 4, "us").Word)
	require.Equal(t, "us", ScaleOf(nil, 4, "us").Word)
}

// TestWrittenFigures: a sign where a scale has one, whole steps and bits, a tenth else.
func TestWrittenFigures(t *testing.T) {
	pulse := &setup.Pulse{CentreUS: 1500, HalfSpanUS: 500}
	for _, c := range []struct {
		scale   setup.Scale
		percent float64
		want    string
	}{
		{setup.Scale{Word: "percent"}, 12.34, "+12.3"}, {setup.Scale{Word: "percent"}, 0, "0"},
		{setup.Scale{Word: "percent"}, -12, "−12"}, {setup.Scale{Word: "percent"}, 0.5, "+0.5"},
		{setup.Scale{Word: "span"}, 10, "55"}, {setup.Scale{Word: "magnitude"}, -30, "30"},
		{setup.Scale{Word: "us"}, 12.34, "1561.7"}, {setup.Scale{Word: "us"}, -100, "1000"},
		{setup.Scale{Step: 2.5}, 11, "+4"}, {setup.Scale{Step: 2.5}, -11, "−4"},
		{setup.Scale{Step: 1}, 1, "+1"}, {setup.Scale{Bits: 10}, 0, "512"}, {setup.Scale{Bits: 1}, 100, "1"},
	} {
		require.Equal(t, c.want, Write(c.scale, c.percent, pulse), "%+v of %g", c.scale, c.percent)
	}
	for name, scale := range map[string]setup.Scale{"steps of 2.5 percent": {Step: 2.5},
		"steps of 1 percent": {Step: 1}, "0 to 1023": {Bits: 10}, "0 to 1": {Bits: 1}, "µs": {Word: "us"},
		"−100 to +100": {Word: "percent"}, "0 to 100, centre 50": {Word: "span"},
		"0 to 150 on each side": {Word: "magnitude"}} {
		require.Equal(t, name, Name(scale))
	}
}

// TestFiguresThatAMenuHas: worked by hand. An end goes to the figure that is nearer to the
// middle, all else to the nearest: common practice, no source.
func TestFiguresThatAMenuHas(t *testing.T) {
	wide := setup.Pulse{CentreUS: 1500, HalfSpanUS: 512}
	for _, c := range []struct {
		scale         setup.Scale
		percent       float64
		nearest, less float64
		exact         bool
	}{
		{setup.Scale{Word: "percent"}, 96.5, 97, 96, false},
		{setup.Scale{Word: "percent"}, -96.5, -97, -96, false},
		{setup.Scale{Word: "percent"}, -96, -96, -96, true},
		{setup.Scale{Word: "percent"}, 0.1 + 0.2 + 0.7, 1, 1, true},
		{setup.Scale{Word: "magnitude"}, 96.6, 97, 96, false},
		{setup.Scale{Word: "magnitude"}, -96.6, -97, -96, false},
		{setup.Scale{Word: "span"}, -70, -70, -70, true},       // 15 on it
		{setup.Scale{Word: "span"}, -69, -68, -68, false},      // 15.5: 16
		{setup.Scale{Word: "span"}, 33, 34, 32, false},         // 66.5: 67, or 66
		{setup.Scale{Word: "us"}, 33.33, 33.4, 33.2, false},    // 1666.65: 1667, or 1666
		{setup.Scale{Word: "us"}, -33.33, -33.4, -33.2, false}, // 1333.35: 1333, or 1334
		{setup.Scale{Step: 2.5}, 3, 2.5, 2.5, false},
		{setup.Scale{Step: 2.5}, -9, -10, -7.5, false},
		{setup.Scale{Step: 0.5}, 96.5, 96.5, 96.5, true},
		{setup.Scale{Bits: 1}, 20, 100, -100, false},
	} {
		nearest, exact := Nearest(c.scale, c.percent, &usual)
		less, same := Less(c.scale, c.percent, &usual)
		require.InDelta(t, c.nearest, nearest, 1e-9, "%s of %g", Name(c.scale), c.percent)
		require.InDelta(t, c.less, less, 1e-9, "%s of %g", Name(c.scale), c.percent)
		require.Equal(t, [2]bool{c.exact, c.exact}, [2]bool{exact, same}, "%s of %g", Name(c.scale), c.percent)
	}
	at, exact := Nearest(setup.Scale{Word: "us"}, 100, &wide)
	require.True(t, exact)
	require.Equal(t, 100.0, at)
	for said, scale := range map[string]setup.Scale{"whole points": {Word: "percent"}, "whole µs": {Word: "us"},
		"steps of 2.5 percent": {Step: 2.5}, "0 to 255": {Bits: 8}} {
		require.Equal(t, said, Steps(scale))
	}
}

// TestLessIsNeverMore: an end is never rounded to the side on which something may jam.
func TestLessIsNeverMore(t *testing.T) {
	scales := []setup.Scale{{Word: "percent"}, {Word: "span"}, {Word: "us"}, {Word: "magnitude"}, {Step: 2.5},
		{Step: 7}}
	rapid.Check(t, func(rt *rapid.T) {
		percent := rapid.Float64Range(-150, 150).Draw(rt, "percent")
		for _, sc := range scales {
			at, _ := Less(sc, percent, &usual)
			require.LessOrEqual(rt, math.Abs(at), math.Abs(percent)+1e-9, Name(sc))
			require.GreaterOrEqual(rt, at*percent, 0.0, Name(sc))
			_, exact := Less(sc, at, &usual)
			require.True(rt, exact, Name(sc))
		}
	})
}
