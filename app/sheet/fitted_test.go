package sheet

import (
	"bytes"
	"io"
	"os"
	"os/exec"
	"path/filepath"
	"strings"
	"testing"

	"github.com/stretchr/testify/require"

	"axtren/core/setup"
	"axtren/demo"
)

// crane is a made-up model with two receivers, one Y lead, and a pin that is set by counted flashes.
const crane = `format: axtren-setup
version: 1
name: Crane
transmitter: {controls: [{id: s, kind: axis, label: Stick}, {id: k, kind: switch, positions: [one, two], label: Key}]}
outputs: [{id: boom, label: Boom, channel: 1, loss: {mode: preset, value: -40}}, {id: glow, label: Glow, channel: 2}]
mixes: [{to: boom, from: s}, {to: glow, from: k}]
receivers:
  - {id: a, label: Upper, failsafe: {can: [preset]}, pins: [{pin: 1, channel: 1}]}
  - id: b
    label: Lower
    pins: [{pin: 3, channel: 2, switch: {on: above, at_us: 1500, volts: 3.3}}]
    chart: {label: my chart, keeps: a long press, levels: [{says: what pin 3 sends, pin: 3, values: [{code: 1, sends: pulses}, {code: 4, sends: switch, on: above}]}]}
devices:
  - {id: servo, label: boom servo, on: a.1, kind: servo, draws_a: {most: 2}}
  - {id: lamp, on: b.3, kind: lamp, draws_a: {most: 0.02}, LABEL}
wiring: {feeds: [{into: a, also: b, label: Pack, volts: 6, continuous_a: 3}], leads: [{device: lamp, lamp_v: 2, lamp_ma: 15}]}
`

func fitted(t *testing.T, label string) *Fitted {
	t.Helper()
	doc, err := setup.ReadYAML([]byte(strings.Replace(crane, "LABEL", label, 1)))
	require.NoError(t, err)
	ft, err := FittedOf(doc)
	require.NoError(t, err)
	return ft
}

func readPDF(t *testing.T, b []byte) (text string, pages string) {
	t.Helper()
	path := filepath.Join(t.TempDir(), "fitted.pdf")
	require.NoError(t, os.WriteFile(path, b, 0o600))
	out, err := exec.Command("pdftotext", "-layout", path, "-").Output()
	require.NoError(t, err)
	pages = string(out)
	return strings.Join(strings.Fields(pages), " "), pages
}

// TestWhatStandsAtTheModelOnPaper lets another program (pdftotext, of poppler) read both papers: what
// goes where at both ends, the leads, each figure of the power with its arithmetic, the codes of pins.
func TestWhatStandsAtTheModelOnPaper(t *testing.T) {
	for _, paper := range []string{"A4", "A6"} {
		var b bytes.Buffer
		require.NoError(t, fitted(t, "label: Größe Żuraw").PDF(&b, paper, 4))
		text, pages := readPDF(t, b.Bytes())
		at := 0
		for _, want := range []string{"Crane, what goes where", "Boom", "Stick", "Upper", "goes to -40",
			"Glow", "Key", "Lower",
			"store for pin 1, Boom: on a lost signal it goes to -40", "The leads", "Before the first plug, measure",
			"Pack feeds Upper by one leg of a Y lead", "Pack feeds Lower by one leg of a Y lead", "Power",
			"All stalled: 2 A", "boom servo 2 A = 2 A", "Lamps and their resistors", "100 ohm",
			"(3.3 V - 2 V) ÷ 15 mA = 86.67 ohm", "Codes of the pins of Lower", "By the chart “my chart”.",
			"Pull every plug out of Lower", "Level 1, what pin 3 sends: flashes 4 (on or off", "To keep " +
				"it, a long press."} {
			// what is typed here with a capital may begin a sentence there
			found := strings.Index(strings.ToLower(text[at:]), strings.ToLower(want))
			require.GreaterOrEqual(t, found, 0, "%s on %s, after %q", want, paper, text[max(0, at-80):at])
			if paper == "A4" && strings.HasPrefix(want, "store") { // from here on one below the other
				at += found
			}
		}
		require.Contains(t, text, "Größe Żuraw")
		require.Contains(t, pages, "revision 4, page 1 of")
		require.NotContains(t, text, "?", "nothing is lost")
		require.NotContains(t, text, "flashes 1")
	}
	require.ErrorContains(t, fitted(t, "label: x").PDF(io.Discard, "A3", 1), "no paper")
	var b bytes.Buffer
	require.NoError(t, fitted(t, "label: 港").PDF(&b, "A4", 1))
	text, _ := readPDF(t, b.Bytes())
	require.Contains(t, text, "U+6E2F")
	require.Contains(t, text, "the leads, line 3")
}

// TestEveryModelOfTheYardFitsOnFourPages, and says what every one of its functions does.
func TestEveryModelOfTheYardFitsOnFourPages(t *testing.T) {
	yard, err := demo.Yard()
	require.NoError(t, err)
	for _, m := range yard {
		ft, err := FittedOf(m.Doc)
		require.NoError(t, err)
		require.NotEmpty(t, ft.Stands.Rows)
		var b bytes.Buffer
		require.NoError(t, ft.PDF(&b, "A4", 1))
		text, pages := readPDF(t, b.Bytes())
		require.LessOrEqual(t, strings.Count(pages, "\f"), 4, m.Doc.Setup.Name)
		for i := range m.Doc.Setup.Outputs {
			require.Contains(t, text, strings.Fields(m.Doc.Setup.OutputLabel(i))[0], m.Doc.Setup.Name)
		}
		require.NotContains(t, text, "NaN")
	}
	nothing, err := setup.ReadYAML([]byte("format: axtren-setup\nversion: 1\n"))
	require.NoError(t, err)
	ft, err := FittedOf(nothing)
	require.NoError(t, err)
	require.Equal(t, "Nothing to plan yet.", ft.Stands.Says)
	require.NoError(t, ft.PDF(io.Discard, "A4", 0))
}
