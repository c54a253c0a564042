package e2e

import (
	"fmt"
	"strings"
	"testing"

	"github.com/chromedp/chromedp/kb"
	"github.com/stretchr/testify/require"

	"axtren/e2e/rig"
)

// TestTheRecord: what the hands did stands as strips; at an edge it is told why, back to the hand, and
// why it was
// not on; keys go from edge to edge, marks tell the time between, and it leaves as a table and as a dump.
func TestTheRecord(t *testing.T) {
	p := sit(t)
	p.opensModel("Marram", "rules", "document.querySelector('.record')")
	p.sees(shows(".record", "Nothing has happened yet: move a stick, or press a button."))
	p.clicks("[data-switch='arm.free']")
	p.goes(p.page.Drag("[data-switch='spray.press']", 0, 0, true))
	p.sees("document.querySelector('[data-strip=\"logic/spray_ready\"] .value')?.textContent === 'on'")
	p.goes(p.page.Drag("[data-switch='spray.press']", 0, 0, true))
	p.sees("document.querySelector('[data-strip=\"logic/spray_ready\"] .value').textContent === 'off'")
	p.sees(`[...document.querySelectorAll('[data-strip]')].map((s) => s.dataset.strip).slice(0, 4).join() ===
		'controls/spray,controls/arm,logic/spray_on,logic/spray_ready'`)
	p.spotless("the record")

	p.clicksBelow("[data-strip='logic/spray_ready']")
	p.sees(shows("[data-because]", "Pump primed went off because Water wanted went off."))
	p.sees(shows("[data-because]", "Water wanted went off because Left button was pressed"))
	p.sees(shows("[data-because]", "Left button was pressed by hand."))
	p.sees(shows("[data-because]", "Pump primed waited for this, which was not so: Water wanted is on."))
	p.spotless("why something changed")

	// from edge to edge by keys: the press that switched it on lies a time before the pump is primed
	p.evals("document.querySelector('.plot').focus(), 1")
	p.goes(p.page.Keys(kb.ArrowLeft))
	p.sees(shows("[data-because]", "Pump primed went off because"))
	p.goes(p.page.Keys("m" + kb.ArrowLeft + "m"))
	p.sees(shows("[data-because]", "Pump primed went on because Water wanted is on, and 1.5 s were over."))
	p.sees(shows("[data-between]", "between the marks"))
	p.sees("parseFloat(document.querySelector('[data-between]').textContent) > 0")
	p.sees("document.querySelector('[data-strip=\"logic/spray_on\"] .value').textContent === 'on'")
	p.goes(p.page.Keys(kb.Escape))
	p.sees("!document.querySelector('[data-cursor]')")

	// as files
	p.evals(`window.saved = []; URL.createObjectURL = (blob) => { blob.text().then((text) => saved.push(text)); return '#' }; 1`)
	p.presses("Save as CSV")
	p.sees("saved.length === 1")
	p.sees(`saved[0].split('\n')[0].startsWith('t_s,spray,arm,spray_on,spray_ready')`)
	p.presses("Save as VCD")
	p.sees("saved.length === 2 && saved[1].includes('$var wire 1 # spray_on $end')")

}

// hundredRules is a model of a hundred rules, sixteen switches of six positions, and labels of 120 letters.
func hundredRules() string {
	var b strings.Builder
	b.WriteString("format: axtren-setup\nversion: 1\nname: Crowded\ntransmitter:\n  controls:\n")
	for i := range 16 {
		fmt.Fprintf(&b, "    - {id: s%d, kind: switch, label: %q, positions: [a, b, c, d, e, f]}\n", i,
			strings.Repeat("Switch ", 16)+fmt.Sprintf("no. %d", i))
	}
	b.WriteString("    - {id: stick, kind: axis, label: Stick}\nlogic:\n")
	for i := range 100 {
		var in []string
		for k := range 1 + i%16 {
			in = append(in, fmt.Sprintf("s%d.%c", k, 'a'+byte((i+k)%6)))
		}
		fmt.Fprintf(&b, "  - {id: r%d, label: %q, block: %s, in: [%s]}\n", i,
			strings.Repeat("Rule ", 22)+fmt.Sprint("number ", i), []string{"and", "or", "xor"}[i%3],
			strings.Join(in, ", "))
	}
	return b.String()
}

// TestACrowdedModel: a hundred rules with long names are told in sentences; one that everything decides
// has its
// states as far as they were looked at, and says so; the page stays live; forty strips and more, with ten
// minutes
// in sight, are drawn as often as the screen is.
func TestACrowdedModel(t *testing.T) {
	p := sit(t)
	id, err := p.app.Make(hundredRules())
	require.NoError(t, err)
	p.goes(p.page.Go(p.app.URL + "/models/" + id + "/rules"))
	p.sees("document.querySelectorAll('.rule').length === 100")
	p.sees("document.documentElement.scrollWidth <= innerWidth")
	p.evals("document.querySelector(\"[data-behind='logic/r15'] .name\").click(), 1")
	p.sees(shows("[data-rule]", "There is more to look at than fits a drawing"))
	p.sees("document.querySelectorAll('[data-state]').length > 0")
	p.spotless("a crowded model")
	p.sees("document.querySelector('.record') !== null")
	p.evals("document.querySelector('[data-everything]').click(), 1")
	p.sees("document.querySelectorAll('[data-strip]').length >= 40")
	p.presses("10 min")
	p.evals("document.querySelector('.plot').scrollIntoView(), 1")
	took, err := rig.Eval[float64](p.page, `new Promise((done) => {
		let n = 0
		const begun = performance.now()
		const next = () => (++n === 120 ? done((performance.now() - begun) / 120) : requestAnimationFrame(next))
		requestAnimationFrame(next)
	})`)
	require.NoError(t, err)
	t.Logf("a picture of %.1f ms", took)
	require.Less(t, took, 25.0, "ms a picture; 16.7 are sixty a second, and other tests run beside it")
	p.goes(p.page.Size(390, 844))
	p.sees("document.documentElement.scrollWidth <= innerWidth")
	p.goes(p.page.Size(1280, 800))
}
