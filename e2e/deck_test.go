package e2e

import (
	"fmt"
	"strings"
	"testing"

	"github.com/chromedp/chromedp/kb"
	"github.com/stretchr/testify/require"

	"axtren/core/starts"
	"axtren/e2e/rig"
)

// crowded is a transmitter with eighteen controls: two sticks of two ways, nine switches, a
// knob of six positions, three levers and a slider.
func crowded() string {
	var b strings.Builder
	b.WriteString("format: axtren-setup\nversion: 1\nname: Crowded\ntransmitter:\n  controls:\n")
	for _, side := range []string{"left", "right"} {
		for _, along := range []string{"x", "y"} {
			fmt.Fprintf(&b, "    - {id: %s_%s, kind: axis, stick: %s, along: %s}\n", side, along, side, along)
		}
	}
	switches := []string{"sea, harbour", "open, locked", "slip, hold, haul", "dark, side, dipped"}
	for i, positions := range switches {
		for _, side := range []string{"left", "right"} {
			fmt.Fprintf(&b, "    - {id: switch%d%s, kind: switch, lies: %s, ", i, side, side)
			fmt.Fprintf(&b, "label: Switch at the %s %d, positions: [%s]}\n", side, i, positions)
		}
	}
	b.WriteString(`    - {id: press, kind: switch, positions: ["off", press], spring_to: "off", label: Red button}
    - {id: knob, kind: switch, positions: [one, two, three, four, five, six], label: Knob}
    - {id: lever1, kind: axis, along: y, lies: left, label: Left lever}
    - {id: lever2, kind: axis, along: y, lies: right, label: Right lever}
    - {id: lever3, kind: axis, along: y, label: Third lever}
    - {id: slider, kind: axis, along: x, spring: none, label: Slider}
`)
	return b.String()
}

// packed gives what is wrong with how the controls of the deck lie: one over another, out of
// the deck, sideways, too high.
const packed = `(() => {
	const wrong = []
	const deck = document.querySelector('.deck'), all = deck.getBoundingClientRect()
	if (innerWidth > 760 && all.height > 158) wrong.push('the deck is ' + all.height + ' px high')
	const tray = deck.querySelector('.tray')
	if (innerWidth > 760 && tray.scrollWidth > tray.clientWidth) wrong.push('it scrolls sideways')
	const seen = tray.getBoundingClientRect()
	const boxes = [...deck.querySelectorAll('.pad, .control, .acts button, .power .switch')].map(e =>
		({ name: e.innerText.replaceAll('\n', ' '), box: e.getBoundingClientRect(), in: tray.contains(e) }))
		.filter(b => !b.in || innerWidth > 760 || (b.box.right > seen.left + 1 && b.box.left < seen.right - 1))
	boxes.forEach((a, i) => {
		if (innerWidth > 760 && (a.box.left < 0 || a.box.right > innerWidth || a.box.bottom > innerHeight))
			wrong.push(a.name + ' is out of sight')
		for (const b of boxes.slice(i + 1))
			if (a.box.left < b.box.right - 1 && b.box.left < a.box.right - 1 && a.box.top < b.box.bottom - 1 &&
				b.box.top < a.box.bottom - 1) wrong.push(a.name + ' over ' + b.name)
	})
	return wrong
})()`

// TestTheDeckIsPacked: for every model of the demo and every fresh start, and for a transmitter
// with eighteen controls.
func TestTheDeckIsPacked(t *testing.T) {
	p := sit(t)
	for _, k := range starts.Kinds() {
		p.ask("POST", "/api/kinds/"+k.Kind, "")
	}
	p.ask("POST", "/api/models", crowded())
	for _, size := range [][2]int64{{1280, 800}, {390, 844}} {
		p.goes(p.page.Size(size[0], size[1]))
		for _, m := range p.models() {
			p.goes(p.page.Go(p.app.URL + "/models/" + m.ID + "/functions"))
			p.sees("document.querySelector('.deck .tray .switch')")
			if p.page.Wait(packed+".length === 0") != nil {
				wrong, err := rig.Eval[[]string](p.page, packed)
				p.goes(err)
				require.Empty(t, wrong, "%s, %d wide", m.Name, size[0])
			}
		}
	}
}

// lies gives where the middle of a control is on the deck, as a share of its width.
func (p *person) lies(css string) float64 {
	p.Helper()
	at, err := rig.Eval[float64](p.page, fmt.Sprintf(`(() => {
		const b = document.querySelector(%q).getBoundingClientRect()
		return (b.left + b.right) / 2 / innerWidth
	})()`, css))
	p.goes(err)
	return at
}

// TestControlsLieAsUnderTheHand: what lies left is left of what lies right, the sticks are
// outermost, and a wheel and a trigger are drawn as such.
func TestControlsLieAsUnderTheHand(t *testing.T) {
	p := sit(t)
	p.opensModel("Marram", "functions", "document.querySelector('.deck .stick')")
	order := []string{"[data-stick='Left stick']", "[data-switch='tow.hold']", "[data-lever=elevation]",
		"[data-switch='arm.free']", "[data-stick='Right stick']", "[data-switch='transmitter.on']"}
	for i := 1; i < len(order); i++ {
		require.Less(t, p.lies(order[i-1]), p.lies(order[i]), "%s, %s", order[i-1], order[i])
	}
	p.sees("document.querySelector('[data-lever=elevation]').getAttribute('aria-orientation') === 'vertical'")

	p.opensModel("Pipit", "functions", "document.querySelector('[data-pulled=wheel] circle')")
	require.Less(t, p.lies("[data-pulled=trigger]"), p.lies("[data-pulled=wheel]"))
	p.sees("!document.querySelector('[data-stick]')")
	straight := p.pulse("front_wheels")
	p.goes(p.page.Drag("[data-pulled=wheel]", 60, 0, false))
	p.sees("document.querySelector('[data-lever=wheel]').getAttribute('aria-valuetext').startsWith('right ')")
	p.sees(fmt.Sprintf("document.querySelector('[data-line=front_wheels] .pulse').innerText !== %q", straight))
	p.goes(p.page.Release())
	p.sees("document.querySelector('[data-lever=wheel]').getAttribute('aria-valuetext') === 'in the middle'")
	p.goes(p.page.Drag("[data-pulled=trigger]", 0, 30, false))
	p.sees("document.querySelector('[data-lever=trigger]').getAttribute('aria-valuetext').startsWith('pull ')")
	p.goes(p.page.Release())
}

// TestOneTapThrowsASwitch of two positions, wherever on it the tap is; a knob goes on.
func TestOneTapThrowsASwitch(t *testing.T) {
	p := sit(t)
	p.ask("POST", "/api/models", crowded())
	p.opensModel("Crowded", "functions", "document.querySelector('[data-lever=knob]')")
	on := "document.querySelector('[data-switch=\"transmitter.off\"]').classList.contains('on')"
	p.sees("!" + on)
	p.clicks("[data-switch='transmitter.on']")
	p.sees(on)
	p.clicks("[data-switch='transmitter.on']")
	p.sees("!" + on)
	says := "document.querySelector('[data-lever=knob]').getAttribute('aria-valuetext')"
	p.sees(says + " === 'one'")
	p.clicks("[data-lever=knob]")
	p.sees(says + " === 'two'")
	p.evals("document.querySelector('[data-lever=knob]').focus(), 1")
	p.goes(p.page.Keys(kb.ArrowLeft + kb.ArrowLeft)) // at its end it stays
	p.sees(says + " === 'one'")
	p.goes(p.page.Keys(kb.End))
	p.sees(says + " === 'six'")
}
