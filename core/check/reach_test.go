package check

import (
	"fmt"
	"math"
	"strings"
	"testing"

	"github.com/stretchr/testify/require"

	"axtren/core/setup"
)

// TestSpansOfFeelsWorkedByHand: softened by -100 a stick goes furthest where
// 2x - x^3/1e4 turns, at x = 100 sqrt(2/3): there it is 108.866. A curve turns at its
// points alone, and outside them it keeps the last.
func TestSpansOfFeelsWorkedByHand(t *testing.T) {
	furthest := 4.0 / 3 * 100 * math.Sqrt(2.0/3)
	for feel, want := range map[string]span{
		"from: a":             {-100, 100},
		"from: a, expo: -100": {-furthest, furthest},
		"from: a, expo: -40":  {-100, 100}, // it turns beyond its end
		"from: a, expo: -60": {-160.0 * 2 / 3 * math.Sqrt(1.6/1.8),
			160.0 * 2 / 3 * math.Sqrt(1.6/1.8)},
		"from: a, expo: 60":                                          {-100, 100},
		"from: 50, expo: 60":                                         {50*0.4 + 0.6*12.5, 50*0.4 + 0.6*12.5},
		"from: 50, expo: -100":                                       {87.5, 87.5},
		"from: 60, deadband: 20":                                     {50, 50},
		"from: 20, deadband: 20":                                     {0, 0},
		"from: -60, deadband: 20":                                    {-50, -50},
		"from: a, rate: 50, trim: 20":                                {-30, 70},
		"from: a, rate: 150, trim: 20":                               {-130, 150},
		"from: a, rate: 150, trim: -20":                              {-150, 130},
		"from: a, rate: 30, rates: " + rates:                         {-60, 60},
		"from: a, curve: [[-50, 30], [0, -40], [80, 120]]":           {-40, 120},
		"from: a, rate: 40, curve: [[-50, 30], [0, -40], [80, 120]]": {-40, 40},
		"from: a, rate: 40, curve: [[-100, -150], [-50, 30], [50, 60], [100, 140]]": {33, 57},
		"from: a, rate: 50, curve: [[-100, -150], [-50, 30], [50, 60], [100, 140]]": {30, 60},
		"from: a, rate: 51, curve: [[-100, -150], [-50, 30], [50, 60], [100, 140]]": {26.4, 61.6},
		"from: 10, curve: [[20, 5], [60, 90]]":                                      {5, 5},
		"from: 90, curve: [[20, 5], [60, 50]]":                                      {50, 50},
		"from: 40, curve: [[20, 5], [60, 50], [80, 70]]":                            {27.5, 27.5},
		"from: steps": {-20, 70},
		"from: seq.x": {-10, 80},
		"from: seq.y": {5, 5},
		"from: pat":   {-90, 40},
		"from: nope":  {-100, -100},
		"from: sure":  {100, 100},
		"from: off":   {-100, 100},
	} {
		p := compile(t, controls+"demands: [{id: d, "+feel+"}]\n"+others)
		got := newReach(p).demand(0)
		require.InDelta(t, want.Low, got.Low, 1e-9, feel)
		require.InDelta(t, want.High, got.High, 1e-9, feel)
	}
}

const rates = "[{when: s.up, rate: 60}, {when: s.down, rate: 10}]"

const others = `
steppers: [{id: steps, up: s.down, steps: [{name: one, value: 0}, {name: two, value: 70},
    {name: three, value: -20}]}]
sequences: [{id: seq, go: s.down, tracks: {x: [[0, 0], [1, 80], [2, -10]], y: [[0, 5]]}}]
patterns: [{id: pat, when: s.down, steps: [[40, 1], [10, 1]], rest: -90}]
logic: [{id: nope, block: above, of: 10, level: 20}, {id: sure, block: above, of: 30, level: 20},
    {id: off, block: below, of: a, level: 0}]
`

// TestWhatBlocksCanBeWorkedByHand, of inputs that are always, never, and either.
func TestWhatBlocksCanBeWorkedByHand(t *testing.T) {
	for text, want := range map[string]verdict{
		"block: and, in: [sure, sure]":                   always,
		"block: and, in: [sure, s.up]":                   either,
		"block: and, in: [s.up, nope]":                   never,
		"block: and, in: [not nope, sure]":               always,
		"block: or, in: [nope, nope]":                    never,
		"block: or, in: [nope, s.up]":                    either,
		"block: or, in: [s.up, sure]":                    always,
		"block: xor, in: [sure, nope]":                   always,
		"block: xor, in: [sure, sure]":                   never,
		"block: xor, in: [sure, sure, sure]":             always,
		"block: xor, in: [sure, s.up]":                   either,
		"block: above, of: a, level: -100":               always,
		"block: above, of: a, level: 100":                either,
		"block: above, of: a, level: 101":                never,
		"block: below, of: a, level: 100":                always,
		"block: below, of: a, level: -100":               either,
		"block: below, of: a, level: -100.5":             never,
		"block: between, of: 10, from: 10, to: 20":       always,
		"block: between, of: 20, from: 10, to: 20":       always,
		"block: between, of: 9, from: 10, to: 20":        never,
		"block: between, of: 21, from: 10, to: 20":       never,
		"block: between, of: a, from: 10, to: 20":        either,
		"block: between, of: a, from: 100, to: 120":      either,
		"block: r_trig, in: sure":                        never,
		"block: f_trig, in: nope":                        never,
		"block: r_trig, in: s.up":                        either,
		"block: sr, set: s.up, reset: sure":              either,
		"block: rs, set: s.up, reset: sure":              never,
		"block: sr, set: sure, reset: s.up":              always,
		"block: rs, set: sure, reset: s.up":              either,
		"block: sr, set: nope, reset: s.up":              never,
		"block: sr, set: nope, reset: s.up, start: true": either,
		"block: sr, set: s.up, reset: nope, start: true": always,
		"block: sr, set: s.up, reset: nope":              either,
		"block: sr, set: nope, reset: s.up, start: kept": never,
		"block: toggle, in: sure":                        never,
		"block: toggle, in: sure, start: true":           either,
		"block: toggle, in: s.up":                        either,
		"block: ton, in: nope, for_s: 1":                 never,
		"block: ton, in: sure, for_s: 1":                 either,
		"block: ton, in: sure, for_s: 0":                 always,
		"block: tof, in: sure, for_s: 1":                 always,
		"block: tof, in: nope, for_s: 1":                 never,
		"block: tp, in: sure, for_s: 1":                  never,
		"block: tp, in: s.up, for_s: 1":                  either,
		"block: sr, set: x, reset: s.up":                 either, // feedback may be anything
	} {
		p := compile(t, controls+strings.Replace(others, "logic: [", "logic: [{id: x, "+text+"}, ", 1))
		require.Equal(t, want, newReach(p).block(0), text)
	}
}

// TestSumsWorkedByHand: what the mixes of an output can ask of it, and whether both
// ends really occur.
func TestSumsWorkedByHand(t *testing.T) {
	many := ""
	for i := range 5 {
		many += fmt.Sprintf(", {to: o, from: 1, when: k%d.p1}", i)
	}
	for mixes, want := range map[string]struct {
		span
		exact bool
	}{
		"{to: o, from: a}":             {span{-100, 100}, true},
		"{to: o, from: d}":             {span{-50, 50}, true},
		"{to: o, from: c}":             {span{-40, 120}, false},
		"{to: o, from: s}":             {span{-100, 100}, false},
		"{to: o, from: 30, gain: -50}": {span{-15, -15}, true},
		"{to: o, from: 30, gain: -50, shape: up, bias: 4}":                   {span{-11, -11}, true},
		"{to: o, from: 30, shape: down}":                                     {span{0, 0}, true},
		"{to: o, from: a, shape: down, gain: {pos: 30, neg: 60}}":            {span{-60, 0}, true},
		"{to: o, from: a, shape: abs, gain: 80, bias: -10}":                  {span{-10, 70}, true},
		"{to: o, from: a}, {to: o, from: b, gain: 20}":                       {span{-120, 120}, true},
		"{to: o, from: a}, {to: o, from: a, gain: -30}":                      {span{-70, 70}, true},
		"{to: o, from: a}, {to: o, from: d}":                                 {span{-150, 150}, false},
		"{to: o, from: a}, {to: o, from: b, combine: times}":                 {span{-100, 100}, false},
		"{to: o, from: a}, {to: o, from: 50, combine: greatest}":             {span{50, 100}, false},
		"{to: o, from: a}, {to: o, from: 50, combine: least}":                {span{-100, 50}, false},
		"{to: o, from: a}, {to: o, from: 50, combine: instead}":              {span{50, 50}, true},
		"{to: o, from: a, when: st.one}, {to: o, from: b, when: st.two}":     {span{-100, 100}, true},
		"{to: o, from: a, when: st.one}, {to: o, from: b, when: not st.one}": {span{-100, 100}, true},
		"{to: o, from: a, when: s.up}, {to: o, from: b, when: s.up}":         {span{-200, 200}, true},
		"{to: o, from: a, when: s.up}, {to: o, from: b, when: s.down}":       {span{-100, 100}, true},
		"{to: o, from: 40, when: s.up, fade_s: 1}":                           {span{0, 40}, false},
		"{to: o, from: 40, when: nope}":                                      {span{0, 0}, false},
		"{to: o, from: 40, when: sure}":                                      {span{40, 40}, false},
		"{to: o, from: 40, when: off}":                                       {span{0, 40}, false},
		// too many cases to be looked at one by one
		"{to: o, from: 40, when: nope}" + many: {span{0, 5}, false},
	} {
		text := "demands: [{id: d, from: a, rate: 50}, {id: c, from: a, curve: [[-50, 30], [0, -40], [80, " +
			"120]]}]\nmixes: [" + mixes + "]\noutputs: [{id: o, channel: 1}]\n" + others
		text = strings.Replace(text, "id: steps, up", "id: st, up", 1)
		set := strings.TrimSuffix(controls, "]}\n")
		for i := range 5 {
			set += fmt.Sprintf(", {id: k%d, kind: switch, positions: [p1, p2, p3, p4, p5]}", i)
		}
		p := compile(t, set+"]}\n"+text)
		r := newReach(p)
		got := r.sum(0)
		require.InDelta(t, want.Low, got.Low, 1e-9, mixes)
		require.InDelta(t, want.High, got.High, 1e-9, mixes)
		require.Equal(t, want.exact, r.exact[0], mixes)
	}
}

// TestProblemsAreFindings: what cannot be read is told with its line and value.
func TestProblemsAreFindings(t *testing.T) {
	report := Problems(setup.Problems{{Path: "outputs[0].low", Line: 7, Value: "x",
		Message: "must be a number", Remedy: "write one"}, {Path: "name", Message: "is missing",
		Remedy: "add it"}})
	require.Equal(t, []Finding{{"format", Error, "outputs[0].low", "line 7: must be a number (it is x)",
		"write one"}, {"format", Error, "name", "is missing", "add it"}}, report.Findings)
}

// TestWhatASharedOutputIsAskedFor: all of it may come down to nothing, or the turn may bring
// it anywhere; the first share of a document like any other, and what is in none as it is.
func TestWhatASharedOutputIsAskedFor(t *testing.T) {
	for rule, want := range map[string][]span{
		"scale": {{0, 50}, {-80, 0}, {60, 60}}, "clip": {{50, 50}, {-80, -80}, {60, 60}},
		"keep_turn": {{-100, 100}, {-100, 100}, {60, 60}},
	} {
		p := compile(t,
			"mixes: [{to: o, from: 50}, {to: q, from: -80}, {to: r, from: 60}]\nshares: [{outputs: [o, q], "+
				"rule: "+rule+
				"}]\noutputs: [{id: o, channel: 1}, {id: q, channel: 2}, {id: r, channel: 3}]\n")
		r := newReach(p)
		require.Equal(t, want, []span{r.asked(0), r.asked(1), r.asked(2)}, rule)
	}
}

// TestBlocksThatNobodyMovesYet are told one by one; what waits for something else is not.
func TestBlocksThatNobodyMovesYet(t *testing.T) {
	for block, idle := range map[string]bool{
		"{block: r_trig, in: power_on}": true, "{block: r_trig, in: s.up}": false,
		"{block: f_trig, in: not power_on}": true, "{block: f_trig, in: power_on}": false,
		"{block: f_trig, in: s.up}":     false,
		"{block: toggle, in: power_on}": true, "{block: toggle, in: s.up}": false,
		"{block: ton, in: power_on, for_s: 1}": true, "{block: tp, in: power_on, for_s: 1}": true,
		"{block: tp, in: s.up, for_s: 1}":      false,
		"{block: tof, in: power_on, for_s: 1}": false, "{block: and, in: [power_on]}": false,
	} {
		var told []string
		for _, f := range Check(compile(t, controls+"logic: [{id: x, "+block[1:]+"]\n")).Findings {
			if f.Rule == "moved_by_nothing" {
				told = append(told, f.Where)
			}
		}
		want := []string(nil)
		if idle {
			want = []string{"logic[0].in"}
		}
		require.Equal(t, want, told, block)
	}
}

// TestProblemsAsFindings: with the line where there is one, and the value where there is.
func TestProblemsAsFindings(t *testing.T) {
	r := Problems(setup.Problems{{Path: "name", Message: "must be text", Remedy: "quote it"},
		{Path: "a", Line: 1, Value: "5", Message: "is wrong", Remedy: "mend it"}})
	require.Equal(t, []Finding{{"format", Error, "name", "must be text", "quote it"},
		{"format", Error, "a", "line 1: is wrong (it is 5)", "mend it"}}, r.Findings)
}

// TestTheLastChannelOfAll is one like any other.
func TestTheLastChannelOfAll(t *testing.T) {
	var where []string
	for _, f := range Check(compile(t,
		"mixes: [{to: o, from: 50}]\noutputs: [{id: o, channel: 48}]\nreceivers: [{id: r, pins: [{pin: 1, "+
			"channel: 1}]}]\n")).Findings {
		if f.Rule == "not_carried" {
			where = append(where, f.Where)
		}
	}
	require.Equal(t, []string{"outputs[0].channel"}, where)
}

// TestAThresholdAtTheEndOfALine is not passed: it turns strictly above, or below.
func TestAThresholdAtTheEndOfALine(t *testing.T) {
	for _, c := range []struct{ shape, lamp, want string }{
		{"down", "turns_on: above, at_us: 1500", "never_on"}, {"down", "turns_on: above, at_us: 1499", ""},
		{"up", "turns_on: above, at_us: 1500", ""}, {"up", "turns_on: above, at_us: 1499", "never_off"},
		{"up", "turns_on: below, at_us: 1500", "never_on"}, {"up", "turns_on: below, at_us: 1501", ""},
		{"down", "turns_on: below, at_us: 1500", ""}, {"down", "turns_on: below, at_us: 1501", "never_off"},
	} {
		told := ""
		for _, f := range Check(compile(t, controls+"mixes: [{to: o, from: a, shape: "+c.shape+
			"}]\noutputs: [{id: o, channel: 1}]\nreceivers: [{id: r, pins: [{pin: 1, channel: "+
			"1}]}]\ndevices: [{id: l, on: r.1, kind: lamp, "+c.lamp+"}]\n")).Findings {
			if f.Rule == "never_on" || f.Rule == "never_off" {
				told += f.Rule
			}
		}
		require.Equal(t, c.want, told, "%v", c)
	}
}

// TestANeutralThatCanCome on a channel of one bit is one of its two pulses, give or take the
// dead band; on any other it is what the line passes.
func TestANeutralThatCanCome(t *testing.T) {
	for _, c := range []struct {
		link, learned string
		never         bool
	}{
		{"one_bit: [1]", "low: 1000, neutral: 1500, high: 2000", true},
		{"one_bit: [1]", "low: 900, neutral: 1000, high: 2000", false},
		{"one_bit: [1]", "low: 1000, neutral: 2000, high: 2100", false},
		{"one_bit: [1]", "low: 900, neutral: 1020, high: 2000", false},
		{"one_bit: [1]", "low: 900, neutral: 1021, high: 2000", true},
		{"one_bit: []", "low: 1000, neutral: 1500, high: 2000", false},
		{"one_bit: []", "low: 1000, neutral: 2020, high: 2100", false},
		{"one_bit: []", "low: 1000, neutral: 2021, high: 2100", true},
	} {
		never := false
		for _, f := range Check(compile(t, controls+"link: {"+c.link+
			"}\nmixes: [{to: o, from: a}]\noutputs: [{id: o, channel: 1}]\nreceivers: [{id: r, pins: "+
			"[{pin: 1, channel: 1}]}]\ndevices: [{id: m, on: r.1, kind: esc, needs_neutral: true, "+
			"learned_us: {"+c.learned+"}}]\n")).Findings {
			never = never || f.Rule == "neutral_never"
		}
		require.Equal(t, c.never, never, "%v", c)
	}
}
