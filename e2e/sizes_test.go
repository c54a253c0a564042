package e2e

import (
	"fmt"
	"strings"
	"testing"
	"time"

	"github.com/chromedp/chromedp/kb"
	"github.com/stretchr/testify/require"

	"axtren/e2e/rig"
)

// sizes are windows that are neither a desk nor a phone held upright: a small laptop, a tablet,
// just below and above where a phone begins, 200 % zoom, a phone held sideways, a small phone.
var sizes = [][2]int64{{1024, 768}, {800, 1000}, {761, 900}, {640, 400}, {844, 390}, {320, 640}}

// most is how many functions a model can have.
const most = 48

// large is a model of 48 functions, each with a name of 120 letters, with 20 switches of three
// positions with compounds for names.
func large() string {
	var b strings.Builder
	b.WriteString("format: axtren-setup\nversion: 1\nname: Harbourmasterstenderwithaverylongname\n")
	b.WriteString("craft: {kind: other}\ntransmitter:\n  controls:\n")
	for i := range 20 {
		fmt.Fprintf(&b, "    - {id: s%d, kind: switch, label: Bowthrusterchangeoverswitch %d, "+
			"positions: [unterwasserfahrt, middle, ueberwasserfahrt]}\n", i, i)
	}
	b.WriteString("mixes:\n")
	for i := range most {
		fmt.Fprintf(&b, "  - {id: m%d, to: o%d, from: s%d}\n", i, i, i%20)
	}
	b.WriteString("outputs:\n")
	for i := range most {
		name := strings.Repeat("Schleppleinenwindenbremse ", 5)[:116]
		fmt.Fprintf(&b, "  - {id: o%d, label: %q, channel: %d}\n", i, fmt.Sprintf("%s%4d", name, i+1), i+1)
	}
	b.WriteString("receivers:\n  - id: rx\n    pins: [")
	for i := range most {
		fmt.Fprintf(&b, "{pin: %d, channel: %d}, ", i+1, i+1)
	}
	b.WriteString("]\n")
	return b.String()
}

// legible gives what of the register cannot be read: a name or phrase with no width, a pulse
// that is cut, one row over another.
const legible = `(() => {
	const wrong = []
	const rows = [...document.querySelectorAll('.register [data-line]')]
	rows.forEach((row, i) => {
		const box = row.getBoundingClientRect()
		const pulse = row.querySelector('.pulse')
		if (!pulse) return
		if (pulse.scrollWidth > pulse.clientWidth + 1) wrong.push('the pulse ' + pulse.innerText + ' is cut')
		const name = row.querySelector('.what')
		if (!name || name.getBoundingClientRect().width < 90) wrong.push('a name has no room')
		const next = rows[i + 1]?.getBoundingClientRect()
		if (next && next.top < box.bottom - 1) wrong.push('rows lie over each other')
		if (box.right > innerWidth + 1) wrong.push('a row leaves the window')
	})
	const main = document.querySelector('main').getBoundingClientRect()
	if (main.height < innerHeight * 0.35) wrong.push('only ' + main.height + ' px are left beside the deck')
	return [...new Set(wrong)]
})()`

// TestEverySize: each place of the fullest demo model, and the register of a model with all that
// a document may have, in windows of every size.
func TestEverySize(t *testing.T) {
	p := sit(t)
	p.ask("POST", "/api/models", large())
	p.ask("POST", "/api/models", crowded())
	p.goes(p.page.Before(collects))
	var shown []model
	for _, m := range p.models() {
		if m.Name == "Marram" || m.Name == "Gannet" || m.Name == "Crowded" || strings.HasPrefix(m.Name, "Harb") {
			shown = append(shown, m)
		}
	}
	require.Len(t, shown, 4)
	for _, size := range sizes {
		p.goes(p.page.Size(size[0], size[1]))
		for _, m := range shown {
			for _, place := range places {
				if m.Name != "Marram" && place.name != "functions" && place.name != "kit" {
					continue
				}
				where := fmt.Sprintf("%s of %s at %d x %d", place.name, m.Name, size[0], size[1])
				p.goes(p.page.Go(p.app.URL + "/models/" + m.ID + "/" + place.name))
				p.looksWell(where, place.open)
				if place.name != "functions" {
					continue
				}
				wrong, err := rig.Eval[[]string](p.page, legible)
				p.goes(err)
				require.Empty(t, wrong, where)
			}
		}
	}
}

// redrawn moves a stick for two seconds and gives how often the pulses of a row were written in that
// time, of the first row and of the last; then how many of all rows differ from what is sent.
const redrawn = `(async (low, high) => {
	const rows = [...document.querySelectorAll('.register [data-line]')]
	const times = [0, 0]
	;[rows[0], rows.at(-1)].forEach((row, i) => new MutationObserver(() => times[i]++)
		.observe(row.querySelector('.pulse'), { characterData: true, childList: true, subtree: true }))
	` + rig.Stick + `
	const pointer = stick('right stick')
	pointer('pointerdown', 0)
	for (let i = 0; i < 100; i++) {
		pointer('pointermove', 40 * Math.sin(i / 3))
		await new Promise((done) => setTimeout(done, 20))
	}
	pointer('pointermove', 500)
	await new Promise((done) => setTimeout(done, 2600)) // the model goes on, and with it what is drawn
	const pulse = (row) => Number(row.querySelector('.pulse').textContent)
	const ends = [pulse(rows[0]), pulse(rows.at(-1))]
	pointer('pointerup', 0)
	return [...times, ...ends]
})()`

// TestWhatIsOutOfSightIsDrawnLater: while a stick moves forty-eight functions, those that are seen
// are drawn as they move, the others hardly ever; at rest all of them stand right.
func TestWhatIsOutOfSightIsDrawnLater(t *testing.T) {
	p := sit(t)
	id, err := p.app.Make(rig.Wide(48))
	require.NoError(t, err)
	p.goes(p.page.Go(p.app.URL + "/models/" + id + "/functions"))
	p.sees("document.querySelectorAll('.register [data-line] .pulse').length === 48")
	p.sees("[...document.querySelectorAll('.register .pulse')].at(-1).textContent === '1500'")
	got, err := rig.Eval[[]float64](p.page, redrawn)
	p.goes(err)
	require.Greater(t, got[0], 40.0, "the first row is in sight")
	require.Less(t, got[1], 8.0, "the last row is not")
	require.Equal(t, []float64{2000, 1765}, got[2:], "the first has a gain of 100, the last one of 53")

	p.evals("document.querySelector('main').scrollTop = 1e6, 1")
	time.Sleep(200 * time.Millisecond)
	got, err = rig.Eval[[]float64](p.page, redrawn)
	p.goes(err)
	require.Less(t, got[0], 8.0)
	require.Greater(t, got[1], 40.0)
}

// TestWhatIsShownOnDemand: what a dialog needs is fetched when it is shown, and not before; the keys
// that it lists are those of the place.
func TestWhatIsShownOnDemand(t *testing.T) {
	p := sit(t)
	p.opensModel("Stoat", "functions", "document.querySelector('.deck .stick')")
	fetched := func(what string) string {
		return "performance.getEntriesByType('resource').some(one => one.name.includes('/assets/" + what + "-'))"
	}
	p.sees(fetched("LineBlock"))
	for _, one := range []string{"KeysDialog", "TroubleDialog", "MovesDialog", "PhonesDialog", "SheetPlace"} {
		p.sees("!" + fetched(one))
	}
	p.presses("Keys ?")
	p.sees(shows("[role=dialog] table", "Enter on a function"))
	p.sees(fetched("KeysDialog") + " && !" + fetched("TroubleDialog"))
	p.goes(p.page.Keys(kb.Escape))
	p.sees("!document.querySelector('[role=dialog]')")
	p.presses("Recordings")
	p.sees("document.querySelector('[role=dialog]')")
	p.goes(p.page.Keys(kb.Escape))
	p.sees("!document.querySelector('[role=dialog]')")
	p.presses("Keys ?")
	p.sees(shows("[role=dialog] table", "Enter on a function"))
}

// TestTypingOnAPhoneFoldsTheDeck, and what was folded is there again after it.
func TestTypingOnAPhoneFoldsTheDeck(t *testing.T) {
	p := sit(t)
	p.goes(p.page.Size(390, 844))
	p.opensModel("Marram", "functions", "document.querySelector('.deck .stick')")
	p.clicks("main input[type=search]")
	p.sees("!document.querySelector('.deck .stick')")
	p.evals("document.activeElement.blur(), 1")
	p.sees("document.querySelector('.deck .stick')")
	p.goes(p.page.Size(1280, 800))
	p.clicks("main input[type=search]")
	p.sees("document.querySelector('.deck .stick')")
}

// TestTheDeckOnAPhone is folded where it is not needed, turns its controls over, and stands
// beside the place where the phone is held sideways.
func TestTheDeckOnAPhone(t *testing.T) {
	p := sit(t)
	p.goes(p.page.Size(390, 844))
	for place, open := range map[string]bool{"functions": true, "mixing": true, "rules": true, "stage": true,
		"kit": false, "loss": false, "sheet": false, "bench": false, "log": false} {
		p.opensModel("Marram", place, "document.querySelector('.deck .acts button')")
		p.sees(fmt.Sprintf("!!document.querySelector('.deck .stick') === %v", open))
	}
	p.opensModel("Marram", "functions", "document.querySelector('.deck .stick')")
	p.sees(shows(".deck button", "1 of 6"))
	p.presses("1 of 6 ›")
	p.sees(shows(".deck button", "2 of 6"))

	p.goes(p.page.Size(844, 390))
	p.sees("!document.querySelector('.deck .stick')")
	p.presses("Unfold")
	p.sees("document.querySelector('.deck .stick')")
	require.Less(t, p.lies("[data-stick='Left stick']"), p.lies("main"))
	require.Less(t, p.lies("main"), p.lies("[data-stick='Right stick']"))
	left, err := rig.Eval[float64](p.page, "document.querySelector('main').getBoundingClientRect().height")
	p.goes(err)
	require.Greater(t, left, 300.0, "the place keeps the height")
}

// TestAxeFindsNothingAtAnySize: nothing of any weight in any place, in both themes.
func TestAxeFindsNothingAtAnySize(t *testing.T) {
	p := sit(t)
	for _, theme := range []string{"daylight", "lamp"} {
		p.evals(fmt.Sprintf("localStorage.setItem('axtren-theme', %q)", theme))
		for _, size := range append(sizes[1:], [2]int64{390, 844}) {
			p.goes(p.page.Size(size[0], size[1]))
			for _, place := range places {
				p.opensModel("Marram", place.name, place.open)
				p.sees("document.querySelector('.state')?.innerText.startsWith('saved')")
				p.spotless(fmt.Sprintf("%s, %s, %d x %d", place.name, theme, size[0], size[1]))
			}
		}
	}
}
