package sheet_test

import (
	"strings"
	"testing"

	"github.com/stretchr/testify/require"

	"axtren/core/sheet"
	"axtren/core/signal"
	"axtren/demo"
)

// TestAFreshSheetLeavesNothingToGuess: what a fresh memory has by itself is one line, and all
// else that the whole sheet says is on the shorter one, under what it belongs to.
func TestAFreshSheetLeavesNothingToGuess(t *testing.T) {
	yard, err := demo.Yard()
	require.NoError(t, err)
	for _, m := range yard {
		p, err := signal.Compile(m.Doc.Setup)
		require.NoError(t, err)
		whole := sheet.Build(p)
		short := whole.Fresh()
		require.True(t, short.Short)
		said := map[string]string{}
		keys := map[string]bool{}
		items := 0
		for _, sec := range short.Sections {
			for _, it := range sec.Items {
				said[sec.Key] += it.What + " | " + it.Value + " | " + it.Note + "\n"
				require.False(t, keys[it.Key], "%s: %s stands twice", m.Doc.Setup.Name, it.Key)
				keys[it.Key] = true
				items++
			}
			said[sec.Key] += sec.Note
		}
		require.LessOrEqual(t, items, 55, m.Doc.Setup.Name)
		all := 0
		require.NotContains(t, said, "tried", "what is tried is not keyed in")
		for _, sec := range whole.Sections {
			if sec.Key == "tried" {
				continue
			}
			require.Contains(t, said, sec.Key, "%s: a section is gone", m.Doc.Setup.Name)
			for _, it := range sec.Items {
				all++
				usual := sec.Key == "direction" && it.Value == "normal" ||
					sec.Key == "ends" && strings.Trim(it.Value, "+−") == "100" ||
					sec.Key == "mixes" && it.Value == "+100" && it.Note == "" ||
					sec.Key == "feel" && strings.HasSuffix(it.What, ", rate") && it.Value == "100" ||
					it.Value == "by mixes"
				if !usual {
					require.Contains(t, said[sec.Key], it.Value, "%s: %s", m.Doc.Setup.Name, it.Key)
				}
			}
		}
		require.Greater(t, all, 2*items-10, m.Doc.Setup.Name)
	}
}

// TestWhatIsKeyedInTogetherIsOneThing.
func TestWhatIsKeyedInTogetherIsOneThing(t *testing.T) {
	sh := build(t, `
name: Fin
craft: {memory: 3}
transmitter:
  controls: [{id: s, kind: axis, label: Stick, stick: right, along: y, plus: up, minus: down},
    {id: k, kind: switch, label: Key, positions: [one, two]}, {id: free, kind: axis, label: Lever}]
  can: {endpoint_follows: stick, endpoint_max: 90}
demands: [{id: soft, label: soft, from: s, expo: 20, rates: [{when: k.two, rate: 50}]}]
mixes: [{id: m1, to: a, from: soft}, {id: m2, to: a, from: free, gain: 30, when: k.two},
  {id: m3, to: b, from: k}, {id: m4, to: c, from: free}]
outputs:
  - {id: a, label: Fin, channel: 1, low: -70, high: 80, loss: {mode: preset, value: 0}}
  - {id: b, label: Lamp, channel: 2, loss: {mode: preset, value: 0}}
  - {id: c, label: Winch, channel: 3, reverse: true, loss: {mode: hold}}
start_check: [{control: s, is: {from: -5, to: 5}}, {control: k, is: one}]
receivers: [{id: rx, pins: [{pin: 1, channel: 1}, {pin: 2, channel: 2}, {pin: 3, channel: 3}]}]
`).Fresh()
	require.Equal(t, "5; named Fin", strings.Replace(value(t, sh, "Memory", "memory"), "3;", "5;", 1))
	require.Equal(t, "reversed", value(t, sh, "Direction", "Winch"))
	require.Equal(t, "normal", value(t, sh, "Direction", "all other directions"))
	unsigned := strings.NewReplacer("+", "", "−", "")
	require.Equal(t, "stick up 80 (1900 µs); stick down 70 (1150 µs)",
		unsigned.Replace(value(t, sh, "Ends", "Fin")))
	require.Equal(t, "expo (softer for +) +20; rate with Key at two 50", value(t, sh, "Feel", "soft"))
	require.Equal(t, "soft +100; Lever +30 (only with Key at two)", value(t, sh, "Mixes", "Fin"))
	require.Equal(t, "go to 0", value(t, sh, "When the signal is lost", "Fin, Lamp"))
	require.Equal(t, "hold", value(t, sh, "When the signal is lost", "Winch"))
	require.Equal(t, "Stick is at −5 to +5; Key is at one", value(t, sh, "Start and voice",
		"sends nothing before"))
	for _, sec := range sh.Sections {
		for _, it := range sec.Items {
			switch sec.Key {
			case "channels":
				require.NotEqual(t, "by mixes", it.Value)
			case "mixes":
				require.NotContains(t, it.What, "Winch", "one plain control is the choice of its channel")
			}
			require.NotContains(t, it.What+it.Value+it.Note, "rx")
		}
		if sec.Key == "channels" {
			require.Contains(t, sec.Note, "Channel 1 is made by mixes")
		}
		if sec.Key == "ends" { // 100 is more than this transmitter has: it is no end that stays
			require.Contains(t, sec.Items[1].Note, "goes to 90 only")
		}
	}
}
