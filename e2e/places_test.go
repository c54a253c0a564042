package e2e

import (
	"encoding/json"
	"fmt"
	"strings"
	"testing"

	"github.com/chromedp/chromedp/kb"
	"github.com/stretchr/testify/require"

	"axtren/core/starts"
	"axtren/e2e/rig"
)

// ask asks the application as a page does.
func (p *person) ask(method, path, body string) []byte {
	p.Helper()
	text, err := p.app.Send(method, path, body)
	p.goes(err)
	return text
}

type model struct{ ID, Name string }

func (p *person) models() []model {
	p.Helper()
	var list []model
	p.goes(json.Unmarshal(p.ask("GET", "/api/models", ""), &list))
	return list
}

// collects keeps every error that a page has; see errors.
const collects = `window.__errors = [];
addEventListener('error', e => __errors.push(String(e.message)));
addEventListener('unhandledrejection', e => __errors.push(String(e.reason)));
const own = console.error; console.error = (...all) => { __errors.push(all.map(String).join(' ')); own(...all) }`

// places are those of a model, with what shows that one is open.
var places = []struct{ name, open string }{
	{"kit", "document.querySelector('.kit .controls')"},
	{"plan", "document.querySelector('.plan .wishes')"},
	{"functions", "document.querySelector('.register .columns, .register .empty')"},
	{"mixing", "document.querySelector('.mixing, [data-no-pair]')"},
	{"rules", "document.querySelector('.rules aside h3')"},
	{"loss", "document.querySelector('.loss [data-field=start_check]')"},
	{"stage", "document.querySelector('.place .acts')"},
	{"sheet", "document.querySelector('main article, main section')"},
	{"bench", "document.querySelector('[data-walk]')"},
	{"log", "document.querySelector('.entries')"},
	{"log?view=text", "document.querySelector('textarea')?.value.includes('axtren-setup')"},
}

// looksWell holds what is true of every place: nothing is still opening, nothing
// goes sideways, no error happened, no id stands on the screen.
func (p *person) looksWell(where, open string) {
	p.Helper()
	p.sees(open)
	p.sees("document.querySelector('.state')?.innerText.startsWith('saved')")
	text, err := rig.Eval[string](p.page, "document.querySelector('main').innerText")
	p.goes(err)
	require.NotContains(p, text, "Opening the bench", where)
	wide, err := rig.Eval[[]float64](p.page,
		`[document.documentElement.scrollWidth, innerWidth, document.querySelector('main').scrollWidth, document.querySelector('main').clientWidth]`)
	p.goes(err)
	require.LessOrEqual(p, wide[0], wide[1], "%s: the page goes sideways", where)
	require.LessOrEqual(p, wide[2], wide[3], "%s: what the place shows goes sideways", where)
	errors, err := rig.Eval[[]string](p.page, "window.__errors")
	p.goes(err)
	require.Empty(p, errors, where)
	ids, err := rig.Eval[[]string](p.page, rawIDs)
	p.goes(err)
	require.Empty(p, ids, "%s: ids on the screen", where)
}

// rawIDs finds what looks like an id of a document, outside the document as text.
const rawIDs = `(() => {
	const found = new Set()
	const walk = document.createTreeWalker(document.body, NodeFilter.SHOW_TEXT)
	for (let n = walk.nextNode(); n; n = walk.nextNode()) {
		const own = n.parentElement
		if (!own || own.closest('textarea, script, style, .differences, .unseen, option') || !own.offsetParent) continue
		for (const word of n.data.match(/\b[a-z][a-z0-9]*_[a-z0-9_]+\b/g) ?? []) found.add(word)
	}
	return [...found]
})()`

// TestEveryPlaceOpensByItsAddress: for every model of the demo and every fresh
// start, wide and narrow, also after a reload.
func TestEveryPlaceOpensByItsAddress(t *testing.T) {
	p := sit(t)
	for _, k := range starts.Kinds() {
		p.ask("POST", "/api/kinds/"+k.Kind, "")
	}
	p.ask("POST", "/api/models", "format: axtren-setup\nversion: 1\nname: Nothing at all\n")
	p.goes(p.page.Before(collects))
	for _, size := range [][2]int64{{1280, 800}, {390, 844}} {
		p.goes(p.page.Size(size[0], size[1]))
		for _, m := range p.models() {
			for _, place := range places {
				where := fmt.Sprintf("%s of %s, %d wide", place.name, m.Name, size[0])
				p.goes(p.page.Go(p.app.URL + "/models/" + m.ID + "/" + place.name))
				p.looksWell(where, place.open)
				p.goes(p.page.Go(p.app.URL + "/models/" + m.ID + "/" + place.name))
				p.looksWell(where+", again", place.open)
			}
		}
		p.goes(p.page.Go(p.app.URL + "/"))
		p.sees(shows("main li", "Nothing at all"))
	}
}

// TestPlacesOpenAfterALostServer: the place that was open comes back by itself.
func TestPlacesOpenAfterALostServer(t *testing.T) {
	p := sit(t)
	m := p.models()[0]
	for _, place := range places {
		p.goes(p.page.Go(p.app.URL + "/models/" + m.ID + "/" + place.name))
		p.sees(place.open)
		p.app.Kill()
		p.sees("document.querySelector('.state').innerText.startsWith('not connected')")
		p.goes(p.app.Again())
		p.sees("document.querySelector('.state').innerText.startsWith('saved')")
		p.sees(place.open)
	}
}

// TestABenchThatIsNotReached says so, though it was never open.
func TestABenchThatIsNotReached(t *testing.T) {
	p := sit(t)
	m := p.models()[0]
	p.goes(p.page.Before("window.WebSocket = class { readyState = 0; constructor() { setTimeout(() => " +
		"this.onclose?.({ code: 1006 }), 20) } close() {} }"))
	p.goes(p.page.Go(p.app.URL + "/models/" + m.ID + "/functions"))
	p.sees("document.querySelector('.state').innerText.startsWith('not connected')")
}

// TestAddressesThatLeadNowhere say so, with the way back.
func TestAddressesThatLeadNowhere(t *testing.T) {
	p := sit(t)
	for path, says := range map[string]string{
		"/nothing/here": "There is nothing at this address",
		"/models/00000000-0000-4000-8000-000000000000/functions": "There is no such model",
		"/models/zzz/mixing": "There is no such model",
	} {
		p.goes(p.page.Go(p.app.URL + path))
		p.sees(shows("h1", says))
		p.clicks("[role=main] a")
		p.sees("document.querySelector('[data-model=Stoat]')")
	}
}

// TestARemovedModelIsSaid where it is open.
func TestARemovedModelIsSaid(t *testing.T) {
	p := sit(t)
	p.opens()
	id, err := rig.Eval[string](p.page, "location.pathname.split('/')[2]")
	p.goes(err)
	p.ask("DELETE", "/api/models/"+id, "")
	p.sees(shows("h1", "was removed"))
	p.clicks("[role=main] a")
	p.sees("document.querySelector('[data-model]')")
}

// TestWhatPointsAtAPartOpensIt: by its address, and from within the place in which it lives.
func TestWhatPointsAtAPartOpensIt(t *testing.T) {
	p := sit(t)
	p.ask("POST", "/api/models", strings.TrimSpace(`
format: axtren-setup
version: 1
name: Points
transmitter: {controls: [{id: a, kind: axis, label: Lever}]}
link: {learned_us: {low: 900, centre: 1500, high: 2100}}
outputs: [{id: screw, label: Screw, channel: 1}, {id: idle, label: Idle, channel: 2}]
mixes: [{id: m, to: screw, from: a}]
receivers: [{id: rx, label: Four pins, pins: [{pin: 1, channel: 1}, {pin: 2, channel: 2}, {pin: 3, channel: 3},
    {pin: 4, channel: 4}]}]
devices: [{id: motor, on: rx.1, kind: esc, label: Motor}]
`))
	at := ""
	for _, m := range p.models() {
		if m.Name == "Points" {
			at = p.app.URL + "/models/" + m.ID + "/"
		}
	}
	for _, one := range []struct{ place, part, title string }{
		{"kit", "controls/a", "Lever"}, {"kit", "devices/motor", "Motor"}, {"kit", "receivers/rx", "Four pins"},
		{"kit", "transmitter", "The transmitter in the hand"}, {"loss", "link", "What lies between"},
		{"functions", "mixes/m", "mix"}, {"functions", "outputs/idle", "Idle"},
	} {
		p.goes(p.page.Go(at + one.place + "?part=" + one.part))
		p.sees(shows(".form h3", one.title))
	}

	// what the form of the start check had of its own is still there, and the link lives beside it alone
	p.goes(p.page.Go(at + "loss"))
	p.sees("document.querySelector('[data-field=start_check]')")
	p.sees("document.querySelectorAll('.loss .form').length === 1")
	p.clicks("[data-behind=link]")
	p.sees("document.querySelectorAll('.loss .form').length === 2")
	p.goes(p.page.Go(at + "kit"))
	p.sees("document.querySelector('.kit .controls') && !document.querySelector('[data-behind=link]')")

	// a device goes on the pin at which it was asked for, not on the first that is free
	p.evals("[...document.querySelectorAll('.kit tbody tr')].find(r => r.cells[0].innerText.trim() === '4')" +
		".querySelector('button').click(), true")
	p.revision(2)
	p.sees("[...document.querySelectorAll('.kit tbody tr')].find(r => r.cells[0].innerText.trim() === '4')" +
		".innerText.includes('New part')")
	p.sees(shows(".form h3", "New part"))
}

// TestNoRowMovesAway: while the pictures of the list come, every row stays where it was.
func TestNoRowMovesAway(t *testing.T) {
	p := sit(t)
	p.goes(p.page.Before(`window.moved = []
	new PerformanceObserver((list) => { for (const shift of list.getEntries()) for (const one of shift.sources)
		if (one.node?.tagName === 'LI') window.moved.push([one.previousRect.y, one.currentRect.y])
	}).observe({ type: 'layout-shift', buffered: true })`))
	for _, width := range []int64{1280, 390} {
		p.goes(p.page.Size(width, 844))
		p.goes(p.page.Go(p.app.URL))
		p.sees("document.querySelectorAll('main li .still svg').length >= 5")
		moved, err := rig.Eval[[][]float64](p.page, "window.moved")
		p.goes(err)
		require.Empty(t, moved, "%d wide", width)
	}
}

// TestTheKitSaysWhatIsBeyondIt: what this transmitter cannot do, leading to the part that wants it; apart
// from it
// what else was found there; and what goes on when the signal is lost stands in its own place.
func TestTheKitSaysWhatIsBeyondIt(t *testing.T) {
	p := sit(t)
	id, err := p.app.Make(`format: axtren-setup
version: 1
name: Beyond
transmitter:
  controls: [{id: a, kind: axis}, {id: sw, kind: switch, positions: [low, high]}]
  can: {rates: 1}
demands: [{id: helm, label: Helm, from: a, rates: [{when: sw.high, rate: 50}]}]
outputs: [{id: screw, label: Screw, channel: 1, start: {value: 0}, loss: {mode: preset, value: 0}}]
mixes: [{to: screw, from: helm}]
receivers: [{id: rx, failsafe: {can: [preset]}, pins: [{pin: 1, channel: 1}]}]
devices:
  - {id: box, label: Light box, on: rx.1, kind: step_box, steps: 3, at: 50, loss: 1}
  - {id: motor, label: Bow motor, on: rx.1, kind: esc, learned_us: {low: 1000, neutral: 1400, high: 2000}}
`)
	require.NoError(t, err)
	p.goes(p.page.Go(p.app.URL + "/models/" + id + "/kit"))
	p.sees("document.querySelectorAll('aside section li, aside > .found li').length === 2")
	said, err := rig.Eval[string](p.page, "document.querySelector('aside').innerText")
	p.goes(err)
	require.Regexp(t, `(?s)What was found.*Bow motor hums with hands off.*`+
		`What this transmitter cannot do.*Helm has 2 rates, and this transmitter has 1\.`, said)
	require.NotContains(t, said, "Light box goes to step 1")
	p.clicks("aside section .go")
	p.sees("location.pathname.endsWith('/functions') && location.search === '?part=demands/helm'")
	p.sees(shows(".form h3", "Helm"))
	p.goes(p.page.Go(p.app.URL + "/models/" + id + "/loss"))
	p.sees(shows("[data-hazard]",
		"Light box goes to step 1 when its pulses stop, but on a lost signal its pin will go to "+
			"a position."))
}

// TestWhatTheTransmitterCannot is said in Kit with the nearest way, which one press takes over
// as one revision; another brings it back.
func TestWhatTheTransmitterCannot(t *testing.T) {
	p := sit(t)
	p.opensModel("Marram", "kit", "document.querySelector('aside .way')")
	said, err := rig.Eval[[]string](p.page,
		"[...document.querySelectorAll('aside section:not(.shelf) li')].map(li => li.innerText)")
	p.goes(err)
	require.Len(t, said, 2)
	require.Regexp(t, `(?s)^▲\s+Rudder wants an end of 70\.5, and the menu counts in whole points\. go there\s+`+
		`Nearest: let Rudder go to 70\. It differs by up to 0\.5 % in Rudder with Right stick, helm at −100\.`+
		`\s+use it$`, said[0])
	require.Regexp(t, `(?s)^▲\s+Towing light is a rule of a kind that this transmitter does not have: “off `+
		`after a while”\. go there\s+Nearest: make it a latch .* It plays the same: nothing differed in 48 000 `+
		`frames.*use it\s+Or: use a delay at switching on.*use it$`, said[1])
	p.clicks("aside li:nth-of-type(2) .way button")
	p.sees("document.querySelectorAll('aside section:not(.shelf) li').length === 1")
	p.sees(shows("header", "saved, revision 2"))
	p.sees("!" + shows("aside", "Towing light"))
	p.clicks("aside li .way button")
	p.sees(shows("aside section", "Nothing that this model wants is beyond it"))
	p.presses("Undo")
	p.sees("document.querySelectorAll('aside section:not(.shelf) li').length === 1")
	p.sees(shows("aside", "Rudder wants an end of 70.5"))
	p.sees(shows("header", "saved, revision 4"))
}

// TestWhatIsKnownOfThePieces stands in Kit in words, and what is wrong about it beside it.
func TestWhatIsKnownOfThePieces(t *testing.T) {
	p := sit(t)
	p.opensModel("Marram", "kit", "document.querySelector('.kit .facts tr')")
	facts, err := rig.Eval[[]string](p.page, "[...document.querySelectorAll('.kit .facts tr')].map(r => "+
		"[...r.cells].map(c => c.innerText.trim()).filter(Boolean).join(' | '))")
	p.goes(err)
	require.Equal(t, []string{"Memory | 5 of 30 | Marram",
		"Radio power | low | for the bench; full before the model goes out",
		"Range | 400 m | as its maker states it",
		"Link | 20 ms a frame | 2048 steps over the whole way; 14 ms late"}, facts)
	pin, err := rig.Eval[string](p.page, "document.querySelector('.kit .pins tbody tr').innerText")
	p.goes(err)
	require.Regexp(t, `(?s)^1\s+Rudder\s+rudder servo\s+servo\s.*0\.35 N·m, end to end in 0\.5 s, 25 teeth\s+`+
		`hold, or go to a position\s+0\.2 to 1\.4 A, fitted 3 Nov$`, pin)
	p.sees(shows("aside", "The radio is set to low power, for the bench"))
	p.clicks("aside .go[href*='part=transmitter']")
	p.sees("document.querySelector('[data-behind=transmitter][aria-expanded=true]')")
	p.clicks("[data-field=power] .p-select")
	p.sees("document.querySelectorAll('[role=option]').length === 3")
	p.clicks("[role=option][aria-label=full]")
	p.sees("!" + shows("aside", "low power"))
	p.sees(shows(".kit .facts", "as the model goes out"))
	// what was closed again stays closed, whatever the address says, when the model changes
	p.clicks("[data-behind=transmitter]")
	p.sees("document.querySelector('[data-behind=transmitter][aria-expanded=false]')")
	p.presses("Undo")
	p.sees(shows(".kit .facts", "for the bench"))
	p.sees("document.querySelector('[data-behind=transmitter][aria-expanded=false]')")
	p.opensModel("Pipit", "kit", "document.querySelector('.kit .facts tr')")
	p.sees(shows(".kit .facts", "the transmitter is switched on first; once for each memory; its lamp: steady "+
		"once bound"))
	p.sees(shows(".kit .says", "a new model brings, to be cleared: a timer of five minutes"))
}

// TestATransmitterOfWhichNothingIsKnown: Kit says so, and leads to where it is said.
func TestATransmitterOfWhichNothingIsKnown(t *testing.T) {
	p := sit(t)
	id, err := p.app.Make("format: axtren-setup\nversion: 1\nname: Bare\noutputs: [{id: o, channel: 1}]\n")
	require.NoError(t, err)
	for _, width := range []int64{1280, 390} {
		p.goes(p.page.Size(width, 844))
		p.goes(p.page.Go(p.app.URL + "/models/" + id + "/kit"))
		p.sees(shows("aside section", "Nothing is known of what it can do."))
		p.clicks("aside section .link")
		p.sees("document.querySelector('[data-behind=transmitter][aria-expanded=true]')")
		p.sees("!document.querySelector('aside section:not(.shelf) li')")
	}
}

// TestTheFocusGoesSomewhere: to the title of what is opened and back to its row, never to
// nowhere; what is open stands in the address.
func TestTheFocusGoesSomewhere(t *testing.T) {
	p := sit(t)
	p.opens()
	p.tabTo("[data-line=horn] .part")
	p.goes(p.page.Keys(kb.Enter))
	p.sees("document.activeElement.matches('.block .title')")
	p.sees("location.search === '?line=horn'")
	p.goes(p.page.Go(p.app.URL + p.place() + "?line=horn"))
	p.sees(shows("h2", "Horn"))
	p.tabTo(".block .title")
	p.goes(p.page.Keys(kb.Escape))
	p.sees("document.activeElement.matches('[data-line=horn] .part')")
	p.sees("location.search === '' && !document.querySelector('.block')")

	p.goes(p.page.Go(p.app.URL + p.place()))
	p.sees("document.querySelector('[data-line=horn]')")
	p.goes(p.page.Keys(kb.Tab))
	p.sees("document.activeElement.matches('.skip')")
	p.goes(p.page.Keys(kb.Enter))
	p.sees("document.activeElement.matches('main')")

	// what is removed gives it to what stands after it
	remove := func(part, dialog string) {
		p.sees("[...document.querySelectorAll('.form button')].some(b => b.innerText === 'Remove it')")
		p.evals("(() => { const b = [...document.querySelectorAll('.form button')].find(b => b.innerText === " +
			"'Remove it'); b.focus(); b.click() })()")
		if dialog != "" {
			p.presses(dialog)
		}
		p.sees("!document.querySelector('.form') && !document.querySelector('[role=dialog]')")
	}
	at := p.app.URL + p.place()
	p.goes(p.page.Go(at + "?part=outputs/horn"))
	remove("outputs/horn", "Remove them too")
	p.sees("!document.querySelector('[data-line=horn]')")
	p.sees("document.activeElement.matches('[data-line=winch] .part')")
	p.goes(p.page.Go(at + "?part=mixes/flood"))
	remove("mixes/flood", "")
	p.sees("document.activeElement.matches('.block .title')")
	p.goes(p.page.Go(strings.Replace(at, "functions", "kit", 1) + "?part=controls/top"))
	remove("controls/top", "")
	p.sees("document.activeElement.matches('.kit [data-behind] .name')")
	p.goes(p.page.Go(p.app.URL))
	p.does("Alder", "Remove")
	p.sees("!document.querySelector('[data-model=Alder]')")
	p.sees("document.activeElement.innerText === 'put it back'")
	p.goes(p.page.Keys(kb.Enter))
	p.sees("document.activeElement.closest('[data-model=Alder]')")

	// a name is given by hand: the focus is on its field, then on what opens the model
	p.goes(p.page.Go(p.app.URL))
	p.does("Stoat", "Rename")
	p.sees("document.activeElement.matches('input.name')")
	p.goes(p.page.Keys("Ermine" + kb.Enter))
	p.sees(shows("main h2", "Ermine"))
	p.sees("document.activeElement.matches(`[aria-label='Open Ermine']`)")
}

// TestBackFindsThePlaceAsItWasLeft, scrolled as far as it was; a place that is opened anew
// begins at its top.
func TestBackFindsThePlaceAsItWasLeft(t *testing.T) {
	p := sit(t)
	p.ask("POST", "/api/models", large())
	for _, place := range []string{"functions", "kit", "sheet"} {
		p.opensModel("Harbourmasterstenderwithaverylongname", place,
			"document.querySelector('main').scrollHeight > 1600")
		p.evals("document.querySelector('main').scrollTop = 700")
		p.clicks("nav a[href$=log]")
		p.sees("document.querySelector('.entries')")
		p.sees("document.querySelector('main').scrollTop === 0")
		p.evals("history.back()")
		p.sees(fmt.Sprintf("location.pathname.endsWith(%q)", place))
		p.sees("document.querySelector('main').scrollTop === 700")
		p.clicks("nav a[href$=log]")
		p.sees("document.querySelector('.entries')")
		p.clicks(fmt.Sprintf("nav a[href$=%s]", place))
		p.sees("document.querySelector('main').scrollHeight > 1600")
		p.sees("document.querySelector('main').scrollTop === 0")
	}
}

// TestTheKitInOneLook: the transmitter as it lies in the hands, with the control that moves marked
// in the drawing and by its name, and the first pins of the receiver, without scrolling.
func TestTheKitInOneLook(t *testing.T) {
	p := sit(t)
	for _, m := range p.models() {
		p.goes(p.page.Go(p.app.URL + "/models/" + m.ID + "/kit"))
		p.sees("document.querySelector('.kit .transmitter .well')")
		p.sees("document.querySelectorAll('.kit .pins tbody tr').length > 3")
		below, err := rig.Eval[float64](p.page, "document.querySelectorAll('.kit .pins tbody tr')[2]"+
			".getBoundingClientRect().bottom - document.querySelector('main').getBoundingClientRect().bottom")
		p.goes(err)
		require.Less(t, below, 0.0, "three pins of %s are in sight", m.Name)
		drawn, err := rig.Eval[[]int](p.page, "[document.querySelectorAll('.kit .name').length, "+
			"document.querySelectorAll('.transmitter .knob, .transmitter .lever').length]")
		p.goes(err)
		require.GreaterOrEqual(t, drawn[0], drawn[1], m.Name) // the two axes of a stick are one knob
		require.Greater(t, drawn[1], 3, m.Name)
	}

	p.opensModel("Marram", "kit", "document.querySelector('.kit .transmitter')")
	p.sees(shows(".kit .acts", "Move a control to find it."))
	p.sees("!document.querySelector('.transmitter .live, .kit .moving')")
	p.clicks("[data-switch='arm.free']")
	p.sees("document.querySelectorAll('.transmitter .live').length === 1")
	p.sees("document.querySelector('.kit .moving').innerText.trim() === 'Water lock'")
	p.sees(shows(".kit .acts", "Water lock acts on Monitor pump and Blue lamp."))
	p.clicks("[data-behind='controls/arm'] .name")
	p.sees(shows("[data-form='controls/arm'] h3", "Water lock"))
}

// TestASheetIsForThumbs: whatever is pressed on it is 40 px high.
func TestASheetIsForThumbs(t *testing.T) {
	p := sit(t)
	for _, size := range [][2]int64{{1280, 800}, {390, 844}} {
		p.goes(p.page.Size(size[0], size[1]))
		p.opensModel("Marram", "sheet", "document.querySelector('.sheet td a')")
		small, err := rig.Eval[[]string](p.page, `[...document.querySelectorAll(
			'main a, main button, main input, main select')].filter(e => {
				const box = (e.closest('label') ?? e).getBoundingClientRect()
				return box.height > 0 && box.height < 40
			}).map(e => e.outerHTML.slice(0, 90))`)
		p.goes(err)
		require.Empty(t, small)
	}
}

// TestManyModelsAreDrawnAsTheyComeIntoSight: a list of hundreds opens with a screen or two of
// rows, draws on while one scrolls, and is searched as a whole.
func TestManyModelsAreDrawnAsTheyComeIntoSight(t *testing.T) {
	p := sit(t)
	const more = 200
	for i := range more {
		p.ask("POST", "/api/models", fmt.Sprintf("format: axtren-setup\nversion: 1\nname: Pond boat %03d\n", i))
	}
	p.goes(p.page.Go(p.app.URL))
	p.sees(shows("main li h2", "Pond boat 199"))
	count := func(css string) int {
		n, err := rig.Eval[int](p.page, fmt.Sprintf("document.querySelectorAll(%q).length", css))
		p.goes(err)
		return n
	}
	require.Less(t, count("main li h2"), 100)
	require.Less(t, count("*"), 2500)
	p.sees(shows("main li", fmt.Sprintf("%d more models below", more+7-count("main li h2"))))
	for range 8 {
		p.evals("window.scrollTo(0, 1e6)")
		p.evals("new Promise(done => requestAnimationFrame(() => setTimeout(() => done(1), 60)))")
	}
	p.sees(fmt.Sprintf("document.querySelectorAll('main li h2').length === %d", more+7))
	p.sees("!" + shows("main li", "more models below"))
	p.goes(p.page.Go(p.app.URL))
	p.sees(shows("main li h2", "Pond boat 199"))
	p.clicks("main input[type=search]")
	p.goes(p.page.Keys("boat 003"))
	p.sees("document.querySelectorAll('main li h2').length === 1")
	p.sees(shows("main li h2", "Pond boat 003"))
}

// TestAReceiverIsAddedByItsKind: one choice brings its pins and what they can; its form is open
// and its name in focus.
func TestAReceiverIsAddedByItsKind(t *testing.T) {
	p := sit(t)
	id, err := p.app.Make("format: axtren-setup\nversion: 1\nname: Bare\noutputs: [{id: o, channel: 2}]\n")
	require.NoError(t, err)
	p.goes(p.page.Go(p.app.URL + "/models/" + id + "/kit"))
	p.chooses(".kit .acts [aria-label='Add a receiver']", "a position on a lost signal on pin 2 only")
	p.sees("document.querySelectorAll('.kit .pins tbody tr').length === 6")
	p.sees(shows(".kit h3", "Six-pin receiver"))
	rows, err := rig.Eval[[]string](p.page, "[...document.querySelectorAll('.kit .pins tbody tr')].map(r => "+
		"r.cells[0].innerText + ': ' + r.cells[3].innerText)")
	p.goes(err)
	require.Equal(t, []string{"1: hold", "2: hold, or go to a position", "3: hold", "4: hold", "5: hold",
		"6: hold"}, rows)
	p.sees("document.querySelector('[data-behind=\"receivers/receiver_1\"][aria-expanded=true]')")
}

// TestATransmitterIsLikeOne: one choice brings what it can, and the controls to a model that has
// none; one press takes it back.
func TestATransmitterIsLikeOne(t *testing.T) {
	p := sit(t)
	id, err := p.app.Make("format: axtren-setup\nversion: 1\nname: Bare\noutputs: [{id: o, channel: 14}]\n")
	require.NoError(t, err)
	p.goes(p.page.Go(p.app.URL + "/models/" + id + "/kit"))
	p.sees(shows(".kit", "There is no control yet."))
	p.chooses(".kit header [aria-label='It is like']", "a hand set with twelve channels")
	p.sees(shows(".kit h3", "Twelve-channel hand set"))
	p.sees("document.querySelectorAll('.kit .controls .name').length === 9")
	p.sees(shows(".kit .says", "12 channels · 8 mixes · 16 logic rules, in the order of their numbers"))
	p.sees(shows("aside", "Channel 14 is on channel 14, and this transmitter has 12."))
	p.sees(shows("aside", "Nearest: put Channel 14 on channel 1, which is free, and its pin with it."))
	p.presses("Undo")
	p.sees(shows(".kit", "There is no control yet."))
	p.sees(shows("aside section", "Nothing is known of what it can do."))
}
