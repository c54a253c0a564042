package plan

import (
	"fmt"
	"math/rand/v2"
	"strings"
	"testing"

	"github.com/stretchr/testify/require"

	"axtren/core/setup"
)

// sizes are how much a drawn kit has.
type sizes struct{ functions, controls, channels, pins, receivers int }

// large is what the speed is measured with.
var large = sizes{functions: 32, controls: 40, channels: 36, pins: 36, receivers: 2}

// drawn draws a kit: functions that one lever moves, pairs that two move, and some that a rule does,
// with wishes, on a transmitter and receivers of many abilities. The figures are invented.
func drawn(t testing.TB, seed uint64, of sizes) *setup.Document {
	r := rand.New(rand.NewPCG(seed, 7))
	yes := func(share float64) bool { return r.Float64() < share }
	var b strings.Builder
	p := func(format string, args ...any) { fmt.Fprintf(&b, format, args...) }
	p("format: axtren-setup\nversion: 1\nname: Drawn %d\n", seed)
	wired := yes(0.5)
	p("transmitter:\n  can: {channels: %d", of.channels)
	if yes(0.5) {
		p(", mixes: %d", of.functions/3+r.IntN(of.functions+1))
	}
	p("}\n  controls:\n")
	var axes, switches []int
	for c := range of.controls {
		own := ""
		if wired && c < 4 {
			own = fmt.Sprintf(", own_channel: %d", 1+(c*3+1)%4)
		}
		switch {
		case c < min(8, max(2, of.controls/4)):
			p("    - {id: c%d, kind: axis, stick: %s, along: %s%s}\n", c, []string{"left", "right", "far_left",
				"far_right"}[c/2%4], []string{"x", "y"}[c%2], own)
			axes = append(axes, c)
		case c < of.controls/2:
			p("    - {id: c%d, kind: axis, spring: %s, lies: %s%s}\n", c, []string{"centre", "none"}[c%2],
				[]string{"left", "right"}[c/2%2], own)
			axes = append(axes, c)
		default:
			reached := []string{"", ", reached: holding", ", reached: letting_go"}[r.IntN(3)]
			spring := ""
			if yes(0.4) {
				spring = ", spring_to: a"
			}
			p("    - {id: c%d, kind: switch, positions: [a, %s], lies: %s%s%s%s}\n", c,
				[]string{"b", "b, c"}[r.IntN(2)], []string{"left", "right"}[c%2], spring, reached, own)
			switches = append(switches, c)
		}
	}
	r.Shuffle(len(axes), func(i, k int) { axes[i], axes[k] = axes[k], axes[i] })
	r.Shuffle(len(switches), func(i, k int) { switches[i], switches[k] = switches[k], switches[i] })
	p("link: {channels: %d, bits: 11, delay_ms: 5", of.channels)
	if yes(0.6) {
		p(", half_rate: [%s]", list(of.channels/2+1, of.channels))
	}
	if of.channels > 4 && yes(0.4) {
		p(", one_bit: [%d, %d]", of.channels-1, of.channels-3)
	}
	setsPins, setsOrder := yes(0.3), yes(0.3)
	if setsOrder {
		p(", sets_order: true")
	}
	if yes(0.3) {
		p(", order: [3, 1, 2]")
	}
	p("}\nreceivers:\n")
	for rx := range of.receivers {
		p("  - id: rx%d\n    failsafe: {can: [hold, preset], preset_pins: [%s], otherwise: hold}\n", rx,
			list(1, max(1, of.pins/of.receivers/(1+r.IntN(3)))))
		if setsPins {
			p("    sets_pins: true\n")
		}
		p("    pins:\n")
		for k := range of.pins / of.receivers {
			p("      - {pin: %d, channel: %d}\n", k+1, rx*(of.pins/of.receivers)+k+1)
		}
	}
	channels := r.Perm(min(of.channels, of.pins))
	var outputs, mixes, shares, logic, hands strings.Builder
	var lamps []bool
	for i := range of.functions {
		channel := channels[i] + 1
		onOff := yes(0.35)
		lamps = append(lamps, onOff)
		var needs []string
		if !onOff && yes(0.25) {
			needs = append(needs, "within_ms: 30")
		}
		if yes(0.06) {
			needs = append(needs, "stays: [channel]")
		} else if yes(0.06) {
			needs = append(needs, "stays: [pin]")
		}
		pull := func(from *[]int) string {
			if len(*from) == 0 {
				return "100"
			}
			c := (*from)[0]
			*from = (*from)[1:]
			if yes(0.3) {
				fmt.Fprintf(&hands, "    - {control: c%d, side: %s%s}\n", c, []string{"left", "right"}[r.IntN(2)],
					[]string{"", ", does: drives", ", does: works", ", does: once"}[r.IntN(4)])
			}
			return fmt.Sprintf("c%d", c)
		}
		from := &axes
		if onOff {
			from = &switches
		}
		switch {
		case yes(0.1):
			needs = append(needs, []string{"by: {kind: proportional}", "by: {kind: two_state}",
				"by: {kind: proportional, rest: centre, thumb: true}"}[r.IntN(3)])
		case onOff && yes(0.4) && len(switches) > 0:
			c := pull(&switches)
			fmt.Fprintf(&logic, "  - {id: rule%d, block: toggle, in: %s.b}\n", i, c)
			fmt.Fprintf(&mixes, "  - {to: f%d, from: rule%d}\n", i, i)
		case !onOff && i > 0 && yes(0.25) && len(axes) > 1:
			fmt.Fprintf(&mixes, "  - {to: f%d, from: %s}\n  - {to: f%d, from: %s, gain: 40}\n", i, pull(&axes), i,
				pull(&axes))
		default:
			fmt.Fprintf(&mixes, "  - {to: f%d, from: %s}\n", i, pull(from))
		}
		fmt.Fprintf(&outputs, "  - {id: f%d, channel: %d", i, channel)
		if yes(0.3) {
			fmt.Fprintf(&outputs, ", loss: {mode: preset, value: 0}")
		}
		if needs != nil {
			fmt.Fprintf(&outputs, ", needs: {%s}", strings.Join(needs, ", "))
		}
		fmt.Fprintln(&outputs, "}")
	}
	p("outputs:\n%s", outputs.String())
	for _, section := range []struct{ name, text string }{{"mixes", mixes.String()}, {"logic", logic.String()}} {
		if section.text != "" {
			p("%s:\n%s", section.name, section.text)
		}
	}
	for i := 1; i < of.functions; i += 9 {
		fmt.Fprintf(&shares, "  - {id: s%d, outputs: [f%d, f%d], rule: scale}\n", i, i-1, i)
	}
	if shares.Len() > 0 {
		p("shares:\n%s", shares.String())
	}
	if hands.Len() > 0 {
		p("plan:\n  hands:\n%s", hands.String())
	}
	doc, err := setup.ReadYAML([]byte(b.String()))
	require.NoError(t, err, b.String())
	// a device on the pin of every output that one carries
	text := b.String() + "devices:\n"
	for i := range doc.Setup.Outputs {
		if refs := doc.Setup.Carriers(i); len(refs) > 0 {
			rx, pin := doc.Setup.Pin(refs[0])
			kind := []string{"servo", "servo", "esc"}[r.IntN(3)]
			if lamps[i] {
				kind = "relay"
			}
			text += fmt.Sprintf("  - {id: d%d, on: rx%s.%d, kind: %s}\n", i, strings.TrimPrefix(string(rx.ID), "rx"),
				pin.Pin, kind)
		}
	}
	kinds := []string{"boat", "submarine", "car", "tracked", "construction", "truck", "amphibian"}
	text += fmt.Sprintf("craft: {kind: %s}\nstage:\n  parts:\n    - {part: hull}\n", kinds[r.IntN(len(kinds))])
	for i := range doc.Setup.Outputs {
		if parts := []string{"rudder", "plane", "axle", "boom", "blade", "monitor", "trolley", "wheel",
			"lamp"}; yes(0.5) &&
			len(doc.Setup.Carriers(i)) > 0 {
			text += fmt.Sprintf("    - {part: %s, device: d%d}\n", parts[r.IntN(len(parts))], i)
		}
	}
	if doc, err = setup.ReadYAML([]byte(text)); err != nil {
		require.NoError(t, err, text)
	}
	return doc
}

func list(from, to int) string {
	var said []string
	for k := from; k <= to; k++ {
		said = append(said, fmt.Sprint(k))
	}
	return strings.Join(said, ", ")
}
