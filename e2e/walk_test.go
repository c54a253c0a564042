package e2e

import (
	"testing"

	"github.com/chromedp/chromedp/kb"
	"github.com/stretchr/testify/require"

	"axtren/e2e/rig"
)

// TestTheWalkOnTheBench: what has to be safe first, then one step after the other, which plays on the
// stage as it should be; what was seen is kept, and it goes on there after a reload, and on the phone; a
// walk is signed, and nothing changes it any more.
func TestTheWalkOnTheBench(t *testing.T) {
	p := sit(t)
	p.goes(p.page.Before(`window.__pad = { id: 'made-up pad', connected: true, axes: [0, 0], buttons: [{ pressed: false }] }
		navigator.getGamepads = () => [window.__pad]
		window.__plays = []
		const { send } = WebSocket.prototype
		WebSocket.prototype.send = function (message) {
			const { t, recording } = JSON.parse(message)
			if (t === 'play') window.__plays.push(recording.replace(/[^/]+$/, ''))
			send.call(this, message)
		}`))
	p.opensModel("Marram", "bench", "document.querySelector('[data-walk]')")
	p.sees(shows(".trying", "This model was never tried here."))
	p.sees(shows("nav .router-link-active", "never tried"))
	p.spotless("before a walk")
	p.clicks("[data-walk=fewest]")
	p.sees(shows("[data-safe]", "Take the propellers off"))
	p.sees("!document.querySelector('[data-step]')")
	p.clicks("[data-begin]")
	p.sees(shows("[data-step] h3", "Left stick: haul in and right, all the way."))
	p.sees(shows("[data-part='devices/rudder_servo']", "goes to starboard, as far as it goes"))
	p.sees(shows("[data-part='devices/rudder_servo'] .reads", "Ch 1 +74"))
	p.sees(shows("[data-part=rest] th", "All else stays as it was."))
	p.sees(shows(".said", "Ahead, bearing to starboard."))
	p.sees(shows("aside", "11 steps are as few as were found; no walk has fewer than 4"))
	p.sees("!document.querySelector('.player')")
	p.spotless("a step")

	// on a phone there is nothing about keys, and what is opened of a part comes into sight above the buttons
	p.goes(p.page.Size(390, 844))
	p.sees("getComputedStyle(document.querySelector('[data-all] .forKeys')).display === 'none'")
	third := "document.querySelectorAll('[data-part]')[2]"
	p.evals(third + ".scrollIntoView({ block: 'end' }), 1")
	p.evals(third + ".querySelector('.more').click(), 1")
	p.sees("document.querySelector('[data-detail]').getBoundingClientRect().bottom <= " +
		"document.querySelector('[data-all]').getBoundingClientRect().top")
	p.spotless("what else was seen, on a phone")
	p.evals(third + ".querySelector('.more').click(), 1")
	p.goes(p.page.Size(1280, 800))
	p.sees("getComputedStyle(document.querySelector('[data-all] .forKeys')).display !== 'none'")
	p.evals("document.querySelector('[data-all]').focus(), 1")

	// by the space bar, by the button of one part, and what was otherwise is noted
	p.sees("document.activeElement.matches('[data-all]')")
	p.goes(p.page.Keys(" "))
	p.sees(shows("[data-walked]", "Try it, 2 of"))
	p.clicks("[data-part='devices/port_controller'] .seen > :nth-child(2)")
	p.sees("document.querySelector('[data-part=\"devices/port_controller\"] .seen > " +
		":nth-child(2)').ariaPressed === 'true'")
	port := "[data-detail='devices/port_controller'] "
	p.picks(port+"[data-does]", "turns astern")
	p.writes(port+"[data-note]", "it turned astern")
	p.writes(port+"[data-reads]", "lots")
	p.presses("Keep it")
	p.sees(shows(".fault", "write the figure that it shows"))
	reads, err := rig.Eval[string](p.page,
		"document.querySelector(\"[data-part='devices/port_controller'] "+
			".reads\").textContent.trim().split(/\\s+/).at(-1)")
	p.goes(err)
	p.writes(port+"[data-reads]", reads)
	p.presses("Keep it")
	p.sees("!document.querySelector('.fault')")
	// what is kept of a part does not begin the step anew on the stage: each was played once
	plays, err := rig.Eval[[]string](p.page, "window.__plays")
	p.goes(err)
	require.Len(t, plays, 2)
	require.Regexp(t, "^walk/.+/$", plays[0])
	require.Equal(t, plays[0], plays[1])

	// a photograph, made small
	p.evals(`(async () => {
		const canvas = Object.assign(document.createElement('canvas'), { width: 3000, height: 1500 })
		canvas.getContext('2d').fillRect(0, 0, 2000, 1500)
		const blob = await new Promise(done => canvas.toBlob(done, 'image/png'))
		const files = new DataTransfer()
		files.items.add(new File([blob], 'seen.png', { type: 'image/png' }))
		const box = document.querySelector("` + port + `input[type=file]")
		box.files = files.files
		box.dispatchEvent(new Event('change'))
	})()`)
	p.sees("document.querySelector(\"" + port + "img\")?.naturalWidth === 1280")
	p.spotless("a step that went otherwise")

	// what is known leads into the diagnosis
	p.clicks("[data-cause]")
	p.sees(shows("[role=dialog] .sets", "The leads of port controller and monitor turn servo are exchanged."))
	p.sees(shows("[role=dialog] h3", "One cause explains all that you saw."))
	p.sees(shows("[role=dialog] .looks summary", "What you saw so far: 2"))
	p.presses("That was it: note it in the log")
	p.sees(shows("[role=dialog]", "It is in the log"))
	p.goes(p.page.Keys(kb.Escape))
	p.sees("!document.querySelector('[role=dialog]')")
	p.clicks("[data-all]")
	p.sees(shows("[data-walked]", "Try it, 3 of"))
	// a button of a gamepad says the same, once for each press
	p.evals("new Promise(done => setTimeout(() => { window.__pad.buttons[0].pressed = true; done(1) }, 300))")
	p.sees(shows("[data-walked]", "Try it, 4 of"))
	p.evals("new Promise(done => setTimeout(() => { window.__pad.buttons[0].pressed = false; done(1) }, 300))")
	p.sees(shows("[data-walked]", "Try it, 4 of"))
	p.presses("Back")
	p.presses("Back")
	p.sees("document.querySelector('[data-part=\"devices/port_controller\"] .seen > " +
		":nth-child(2)').ariaPressed === 'true'")
	p.sees("document.querySelector('[data-part=\"devices/rudder_servo\"] .seen > " +
		":first-child').ariaPressed === 'true'")
	p.sees("document.querySelector(\"" + port + "[data-note]\").value === 'it turned astern'")
	p.sees("document.querySelector(\"" + port + "[data-reads]\").value === '" + reads + "'")
	// what was said of a part that is as it should be stays too, when all is said to be so
	rudder := "[data-detail='devices/rudder_servo'] "
	p.clicks("[data-part='devices/rudder_servo'] .more")
	p.writes(rudder+"[data-note]", "slowly")
	p.presses("Keep it")
	p.clicks("[data-all]")
	p.sees(shows("[data-walked]", "Try it, 3 of"))
	p.presses("Back")
	p.clicks("[data-part='devices/rudder_servo'] .more")
	p.sees("document.querySelector(\"" + rudder + "[data-note]\")?.value === 'slowly'")
	p.clicks("[data-all]")
	p.sees(shows("[data-walked]", "Try it, 3 of"))

	// cut off in the middle, the server too, it goes on there; on a phone too
	p.app.Kill()
	p.clicks("[data-all]")
	p.sees(shows(".fault", "The server does not answer"))
	p.sees(shows("[data-walked]", "Try it, 3 of"))
	p.goes(p.app.Again())
	p.sees("document.querySelector('.state').innerText.startsWith('saved')")
	p.reloads()
	p.sees(shows("[data-kept]", "3 of 11 steps tried"))
	p.sees(shows("nav .router-link-active", "3 of 11 tried"))
	p.sees(shows("[data-kept]", "1 step otherwise"))
	p.goes(p.page.Size(390, 844))
	p.clicks("[data-kept] button")
	p.sees(shows("[data-walked]", "Try it, 4 of"))
	p.sees("document.documentElement.scrollWidth <= innerWidth")
	p.spotless("a step on a phone")
	p.goes(p.page.Size(1280, 800))

	// the model is changed under it
	id, err := p.app.Model("Marram")
	p.goes(err)
	_, err = p.app.Send("PATCH", "/api/models/"+id, `[{"op": "replace", "path": "/craft/type", "value": "old tug"}]`,
		"If-Match", `"1"`)
	p.goes(err)
	p.sees(shows(".trying", "The model was changed since these steps were worked out"))
	for range 8 {
		at, err := rig.Eval[string](p.page, "document.querySelector('[data-walked]').textContent")
		p.goes(err)
		p.clicks("[data-all]")
		p.sees("document.querySelector('[data-walked]').textContent !== '" + at + "'")
	}
	p.sees(shows("[data-sign] h3", "Tried, and not all is as it should"))
	p.sees(shows("[data-sign] li", "Step 2, Port screw. Expected: turns ahead, slowly. Seen: turns astern; "+
		"it turned astern; the display reads "+reads+"."))
	p.spotless("before it is signed")
	p.writes("#who", "a founder")
	p.writes("#battery", "battery 1, 7.6 V")
	p.presses("Sign it for revision 1")
	p.sees(shows("[data-sign] h3", "Signed by a founder"))
	p.sees("document.querySelector('[data-sign] .hash').textContent.length === 64")
	p.presses("Leave it for now")
	p.sees(shows("[data-kept]", "Signed by a founder"))
	p.sees(shows("[data-again]", "It did otherwise when it was tried. Try again: Port screw, at 1 step."))
	_, err = p.app.Send("PATCH", "/api/models/"+id, `[{"op": "test", "path": "/outputs/0/id", "value": "rudder"},
		{"op": "replace", "path": "/outputs/0/high", "value": 60}]`, "If-Match", `"2"`)
	p.goes(err)
	p.sees(shows("[data-again]",
		"Rudder: “high end” changed from 74 to 60. Try again: Rudder, at 2 steps."))
	p.sees(shows("[data-again]", "All else still stands"))
	p.sees(shows("nav .router-link-active", "2 parts to try again"))
	p.spotless("since the last walk")

	// that alone is tried again, and all stands
	p.clicks("[data-walk=again]")
	p.sees(shows("[data-walked]", "of 2 parts that were out of date"))
	p.clicks("[data-begin]")
	steps, err := rig.Eval[float64](p.page,
		"Number(document.querySelector('[data-walked]').textContent.match(/of (\\d+)/)[1])")
	p.goes(err)
	require.Less(t, steps, 11.0)
	for range int(steps) {
		at, err := rig.Eval[string](p.page, "document.querySelector('[data-walked]').textContent")
		p.goes(err)
		parts, err := rig.Eval[[]string](p.page, "[...document.querySelectorAll('[data-part]')].map(e => "+
			"e.dataset.part)")
		p.goes(err)
		require.Subset(t, []string{"devices/rudder_servo", "devices/port_controller", "rest"}, parts)
		p.clicks("[data-all]")
		p.sees("document.querySelector('[data-walked]').textContent !== '" + at + "'")
	}
	p.sees(shows("[data-sign]", "Of Rudder servo, Port controller alone."))
	p.writes("#who", "a founder")
	p.presses("Sign it for revision 3")
	p.sees(shows("[data-sign] h3", "Signed by a founder"))
	p.presses("Leave it for now")
	p.sees(shows("[data-again]", "Nothing was changed that would have to be tried again."))
	p.sees(shows("nav .router-link-active", "tried and signed"))
	p.clicks("[data-kept]:last-child button")
	p.sees(shows("[data-sign] h3", "Signed by a founder"))

	// every control to each of its ends, and thrown away
	p.presses("Leave it for now")
	p.clicks("[data-walk=whole]")
	p.clicks("[data-begin]")
	p.sees(shows("[data-step] h3", "Hands off."))
	steps, err = rig.Eval[float64](p.page,
		"Number(document.querySelector('[data-walked]').textContent.match(/of (\\d+)/)[1])")
	p.goes(err)
	require.Greater(t, steps, 30.0)
	p.presses("All steps")
	p.evals("document.querySelector('.steps li:last-child button').click()")
	p.sees(shows("[data-step] h3", "Switch the model on."))
	p.presses("Skip it")
	p.sees(shows("[data-sign] h3", "0 of"))
	p.presses("Throw this walk away")
	p.sees("document.querySelectorAll('[data-kept]').length === 2")
}
