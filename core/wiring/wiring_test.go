package wiring

import (
	"encoding/xml"
	"math"
	"strings"
	"testing"

	"github.com/stretchr/testify/require"

	"axtren/core/setup"
	"axtren/demo"
)

// The diameters are those of the table of ASTM B258 (from memory): AWG 24 0.5106 mm, AWG 20
// 0.8118 mm; the resistance of a metre of them by the resistivity of IEC 60028, 1.7241e-8 ohm metres.
func TestCopper(t *testing.T) {
	require.InDelta(t, 0.5106, Diameter(24), 5e-5)
	require.InDelta(t, 0.8118, Diameter(20), 5e-5)
	require.InDelta(t, 1.7241e-8/(math.Pi*0.5106e-3*0.5106e-3/4), Resistance(500, 24), 2e-5)
	require.InDelta(t, 2*Resistance(500, 20), Resistance(1000, 20), 1e-12, "as long, as much")
	require.Greater(t, Resistance(500, 26), Resistance(500, 24), "thinner, more")
	require.Zero(t, Resistance(0, 24)+Resistance(500, 0))
}

func read(t *testing.T, text string) *setup.Setup {
	t.Helper()
	doc, err := setup.ReadYAML([]byte("format: axtren-setup\nversion: 1\n" + text))
	require.NoError(t, err)
	return doc.Setup
}

const boat = `
receivers: [{id: rx, label: Receiver, volts: {least: 4.8, most: 7.4}, pins: [{pin: 1, channel: 1}, {pin: 2, channel: 2}, {pin: 3, channel: 3}]}]
devices:
  - {id: rudder, label: rudder, on: rx.1, kind: servo, draws_a: {rest: 0.2, work: 0.5, most: 2, at_v: 5}}
  - {id: mast, label: mast, on: rx.2, kind: servo, draws_a: {most: 1}}
  - {id: port, label: port controller, on: rx.3, kind: esc, feeds_a: 3, red_lifted: true}
wiring:
  feeds: [{into: rx, label: pack, volts: 6, continuous_a: 3, peak_a: 3, ah: 3, ohm: 0.05, length_mm: 200, awg: 20}]
`

func figures(b Budget) map[string]Figure {
	list := map[string]Figure{}
	for _, f := range b.Figures {
		list[f.Label] = f
	}
	return list
}

// Ohm's law, by hand: 0.5 A and 1 A at work; the rudder stalled takes 2 A at 5 V, so 2.4 A at 6 V; the
// lead is 2 × 0.2 m of 0.8118 mm, 0.01333 ohms, beside 0.05 in the battery.
func TestThePowerOfAReceiver(t *testing.T) {
	b := Of(read(t, boat))[0]
	f := figures(b)
	require.InDelta(t, 1.5, f["All at work"].Value, 1e-9)
	require.Equal(t, "rudder 0.5 A + mast 1 A = 1.5 A; pack gives 3 A for long", f["All at work"].Why)
	require.False(t, f["All at work"].Bad)
	require.InDelta(t, 3.4, f["All stalled"].Value, 1e-9)
	require.True(t, f["All stalled"].Bad)
	require.Equal(t, "peak 3 A", f["All stalled"].Says)
	ohm := 0.05 + 2*1.7241e-8*0.2/(math.Pi*0.8118e-3*0.8118e-3/4)
	require.InDelta(t, 6-3.4*ohm, b.Volts, 1e-4)
	require.Equal(t, "6 V − 3.4 A × 63.32 mΩ = 5.78 V", f["At the receiver, then"].Why)
	require.Equal(t, "lowest 4.8 V", f["At the receiver, then"].Says)
	require.InDelta(t, 120, f["Runs for"].Value, 1e-9, "3 Ah by 1.5 A are two hours")
	require.NotContains(t, f, "Heat of its regulator")
	require.Empty(t, b.Lacks)

	linear := figures(Of(read(t, strings.Replace(boat, "volts: 6,",
		"volts: 9, gives_v: 5, regulator: linear,", 1)))[0])
	require.InDelta(t, 6, linear["Heat of its regulator"].Value, 1e-9, "(9 − 5) V × 1.5 A")
	require.InDelta(t, 3, linear["All stalled"].Value, 1e-9, "at 5 V the rudder takes its 2 A")
	require.Equal(t, "5 V − 3 A × 13.32 mΩ = 4.96 V", linear["At the receiver, then"].Why,
		"what is inside the battery does not count behind a regulator")
}

// Of two feeds the one of more volts carries the load: they do not add.
func TestFeedsDoNotAdd(t *testing.T) {
	two := strings.Replace(boat, "wiring:\n  feeds: [", "wiring:\n  feeds: [{into: rx, label: other, volts: 5, "+
		"continuous_a: 9}, ", 1)
	b := Of(read(t, two))[0]
	require.Equal(t, "pack", b.Feed.Label)
	require.Equal(t, "of 3 A", figures(b)["All at work"].Says)
	back := strings.Replace(two, ", red_lifted: true", "", 1)
	var names []string
	for _, f := range Feeds(read(t, back), 0) {
		names = append(names, f.Label)
	}
	require.Equal(t, []string{"other", "pack", "port controller"}, names)
}

func TestWhatIsNotKnownIsSaid(t *testing.T) {
	b := Of(read(t, strings.Replace(boat, ", draws_a: {most: 1}", "", 1)))[0]
	require.Equal(t, "Not known yet: what mast draws.", b.Lacks)
	b = Of(read(t, "receivers: [{id: rx}]"))[0]
	require.Equal(t, "Nothing is known yet of what feeds it, or of what hangs there.", b.Lacks)
	require.Equal(t, []Figure{}, b.Figures)
	require.Equal(t, []Budget{}, Of(read(t, "")))
}

// No two boxes lie over each other, every lead ends at two of them, and none goes out of the picture:
// of every demo model, and of one with 28 devices on two receivers.
func TestTheDrawing(t *testing.T) {
	yard, err := demo.Yard()
	require.NoError(t, err)
	all := []*setup.Setup{read(t, boat), read(t, ""), read(t, crane)}
	for i := range yard {
		all = append(all, yard[i].Doc.Setup)
	}
	for _, s := range all {
		d := Draw(s)
		for i, a := range d.Boxes {
			require.GreaterOrEqual(t, a.At[0], 0.0)
			require.LessOrEqual(t, a.At[0]+a.At[2], d.Width)
			require.LessOrEqual(t, a.At[1]+a.At[3], d.Height)
			for _, b := range d.Boxes[:i] {
				apart := a.At[0] >= b.At[0]+b.At[2] || b.At[0] >= a.At[0]+a.At[2] || a.At[1] >= b.At[1]+b.At[3] ||
					b.At[1] >= a.At[1]+a.At[3]
				require.True(t, apart, "%v and %v", a, b)
			}
		}
		devices := 0
		for i := range s.Devices {
			if s.Item(setup.ID(s.Devices[i].On)).Kind != setup.IsDevice { // it is on a pin itself
				devices++
			}
			if esc, ok := s.Devices[i].Spec.(*setup.Esc); ok && esc.SwapOn != nil {
				devices++ // its second lead
			}
		}
		leads := 0
		for _, l := range d.Lines {
			require.NotEmpty(t, l.Says)
			if l.Kind == "lead" || l.Kind == "back" {
				leads++
			}
			from, to := d.Boxes[l.from].At, d.Boxes[l.to].At
			require.InDelta(t, from[0]+from[2], l.At[0], 1e-9, "it begins at the box that it comes from")
			require.InDelta(t, to[0], l.At[len(l.At)-2], 1e-9, "and ends at the other")
			for _, end := range []struct {
				box [4]float64
				y   float64
			}{{from, l.At[1]}, {to, l.At[len(l.At)-1]}} {
				require.True(t, end.y > end.box[1] && end.y < end.box[1]+end.box[3], "%v beside %v", end.y, end.box)
			}
		}
		require.Equal(t, devices, leads)
	}
	d := Draw(read(t, boat))
	require.True(t, d.Lines[2].Lifted)
	require.Equal(t, "pin 3 to port controller: signal and ground, its red wire is lifted", d.Lines[2].Says)
	odd := strings.Replace(boat, "label: rudder,", `label: "rudder <&> \"aft\"",`, 1)
	var root struct {
		Rects []struct{} `xml:"rect"`
		Lines []struct {
			Title string `xml:"title"`
		} `xml:"polyline"`
		Texts []string `xml:"text"`
	}
	require.NoError(t, xml.Unmarshal([]byte(SVG(read(t, odd))), &root))
	require.Len(t, root.Rects, 5)
	require.Equal(t, `pin 1 to rudder <&> "aft": signal, power and ground`, root.Lines[0].Title)
	require.Contains(t, root.Texts, `rudder <&> "aft"`)
	long := SVG(read(t, strings.Replace(boat, "label: rudder,", "label: "+strings.Repeat("rudder", 20)+",", 1)))
	require.NotContains(t, long, ">"+strings.Repeat("rudder", 5), "it stays in its box")
	require.Contains(t, long, "rudderrudder")
	require.Contains(t, long, "…</text>")
	dot := DOT(read(t, boat))
	require.Contains(t, dot, `n0 -> n1 [label="pin 1 to rudder: signal, power and ground"];`)
	require.Contains(t, dot, `n4 -> n0 [label="pack feeds Receiver", penwidth=3];`)
}
