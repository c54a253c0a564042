package e2e

import (
	"testing"

	"github.com/chromedp/chromedp/kb"
)

// TestTheFeelOfAFunction: from an open function to its feel; expo by its field, another rate by the switch
// that is moved or by a zone of a lever, a curve by its points, with keys and with the pointer; a reload
// opens it again; what is changed is the whole line over the hand.
func TestTheFeelOfAFunction(t *testing.T) {
	p := sit(t)
	p.opensModel("Stoat", "functions", "document.querySelector('[data-line=port_track] .part')")
	p.clicks("[data-line=port_track] .part")
	p.presses("Feel")
	p.sees(shows(".feel h2", "Feel: Left track"))
	p.sees("[...document.querySelectorAll('.hands [data-hand]')].map(b => b.innerText).join('|') === " +
		"'Right stick, forward|Right stick, right'")
	p.sees(shows(".says", "expo 20 → rate 100, 60 while Front switch at road → Left track"))
	p.sees(shows(".feel .soft", "What is set here shapes Right track too."))
	p.sees("document.querySelector('.feel figure path.line')")
	p.spotless("a feel")
	p.types("'expo'", "40"+kb.Enter)
	p.sees(shows(".says", "expo 40"))
	p.revision(2)

	// another rate, by the lever that is moved: it asks for its zone first
	p.presses("Move it…")
	p.sees(shows(".prompt", "Put the switch where this rate is to hold, or move the lever."))
	p.goes(p.page.Drag("[data-lever='slider']", 0, -60, true))
	p.sees(shows(".feel", "Keep this rate"))
	p.revision(2)
	p.presses("Keep this rate")
	p.sees(shows(".says", "60 while Right slider from 0 is on"))
	p.revision(3)

	// a curve: drawn, a point moved by keys, another dragged, one more
	p.presses("Draw a curve")
	p.sees("document.querySelector('[data-curve=\"3\"]')")
	p.revision(4)
	p.evals("document.querySelector('[data-point=\"1\"]').focus(), 1")
	p.goes(p.page.Keys(kb.ArrowUp))
	p.sees(shows(".curve", "Point 2 of 3: 0 becomes 1 %."))
	p.revision(5)
	p.evals("window.now = document.querySelector('.curve .now').getAttribute('cx'), 1")
	p.goes(p.page.Drag("[data-stick='Right stick']", 0, -30, false))
	p.sees("+document.querySelector('.curve .now').getAttribute('cx') > +window.now + 20")
	p.goes(p.page.Release())
	p.evals("window.was = document.querySelector('.feel figure path.line').getAttribute('d'), 1")
	p.goes(p.page.Drag("[data-point='2']", 0, 60, true))
	p.sees("document.querySelector('.feel figure path.line').getAttribute('d') !== window.was")
	p.revision(6)
	p.presses("A point more")
	p.sees("document.querySelector('[data-curve=\"4\"]')")
	p.spotless("a curve")
	p.reloads()
	p.sees("document.querySelector('[data-curve=\"4\"]')")
	p.presses("No curve")
	p.sees("!document.querySelector('[data-curve]')")
	p.goes(p.page.Size(390, 844))
	p.sees("document.documentElement.scrollWidth <= innerWidth")
	p.spotless("a feel, on a phone")
	p.goes(p.page.Size(1280, 800))

	// three positions to on, off, off
	id, err := p.app.Make(`format: axtren-setup
version: 1
name: Lamp
transmitter: {controls: [{id: key, kind: switch, label: Key, positions: [low, half, full]}]}
outputs: [{id: lamp, label: Lamp, channel: 1}]
mixes: [{to: lamp, from: key}]
receivers: [{id: rx, pins: [{pin: 1, channel: 1}]}]
devices: [{id: glow, label: glow, on: rx.1, kind: lamp}]
`)
	p.goes(err)
	p.goes(p.page.Go(p.app.URL + "/models/" + id + "/functions?feel=lamp"))
	p.sees(shows(".feel h2", "Feel: Lamp"))
	p.sees("!document.querySelector('.caps') && !document.querySelector('.feel figure')")
	p.sees("[...document.querySelectorAll('[data-position]')].map(i => i.value).join() === '−100,0,100'")
	p.presses("on, off, off")
	p.sees("[...document.querySelectorAll('[data-position]')].map(i => i.value).join() === '100,−100,−100'")
	p.presses("Begin mild, at 45")
	p.sees("[...document.querySelectorAll('[data-position]')].map(i => i.value).join() === '45,−45,−45'")
	p.clicks("[aria-label='low: 5 more']")
	p.sees("document.querySelector('[data-position]').value === '50'")
	p.presses("Keep")
	p.sees("[...document.querySelectorAll('[data-position]')].map(i => i.value).join() === '50,−45,−45'")
	p.spotless("the positions of a switch")
	p.clean("a feel")
}

// TestHoldingBack: three ways beside each other over the stick, each with what it does to the middle, to the
// mix and to what learned the ends; one is taken, for both tracks, and undone.
func TestHoldingBack(t *testing.T) {
	p := sit(t)
	p.opensModel("Stoat", "functions?feel=port_track", "document.querySelector('.caps article')")
	p.sees("[...document.querySelectorAll('[data-cap]')].map(a => a.dataset.cap).join() === 'rate,end,curve'")
	p.sees(shows(".caps", "Left track and Right track are held back together"))
	p.sees(shows("[data-cap=rate] .figures", "The middle is finer."))
	p.sees(shows("[data-cap=curve] .figures", "As it was: the middle is no finer."))
	p.sees(shows("[data-cap=curve] .figures", "the last"))
	p.sees("!document.querySelector('[data-cap=rate] .figures').innerText.includes('the last')")
	p.sees(shows("[data-cap=end] .figures", "Do not teach it again afterwards"))
	p.evals("window.was = document.querySelector('[data-cap=rate] path.line').getAttribute('d'), 1")
	p.evals(`(() => { const s = document.querySelector('.caps select'); s.value = 'plus'; s.dispatchEvent(new Event('change')) })()`)
	p.sees("document.querySelector('[data-cap=rate] path.line').getAttribute('d') !== window.was")
	p.evals(`(() => { const i = document.querySelector('.caps input'); i.value = '120'; i.dispatchEvent(new Event('change')) })()`)
	p.sees(shows(".caps .fault", "holds nothing back"))
	p.evals(`(() => { const i = document.querySelector('.caps input'); i.value = '50'; i.dispatchEvent(new Event('change')) })()`)
	p.sees("!document.querySelector('.caps .fault')")
	p.revision(1)
	p.presses("Hold it back by end")
	p.revision(2)
	p.presses("All functions")
	p.sees("document.querySelector('.block')")
	p.presses("Undo")
	p.revision(3)
	p.clean("holding back")
}
