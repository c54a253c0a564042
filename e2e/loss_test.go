package e2e

import (
	"testing"

	"axtren/e2e/rig"
)

// TestWhenNobodyIsInCommand: over every moment of a recorded run each function has its bar; what can hurt
// has what mends it and its worst moment, played on the stage; a press mends it, and it is gone. What
// comes back, and what is switched on, are played too.
func TestWhenNobodyIsInCommand(t *testing.T) {
	p := sit(t)
	p.opensModel("Marram", "loss", "document.querySelector('.loss')")
	p.sees("document.querySelector('[data-cuts]').dataset.cuts === '1450'")
	p.sees("document.querySelector('.over select').selectedOptions[0].textContent.includes('out to " +
		"the mole and back')")
	p.sees("[...document.querySelectorAll('[data-loss]')].every((row) => row.querySelector('line.bar'))")
	p.sees(bar("monitor_turn") + " > 40 && " + bar("port_screw") + " < 6")
	p.sees("document.querySelectorAll('[data-hazard]').length === 1")
	p.sees(shows("[data-hazard]", "Winch controller turns when the signal is lost, at 48."))
	p.sees("!document.querySelector('[data-hazard]').textContent.includes('Play the worst moment')")
	p.evals("document.querySelector('[data-hazard] .link').click()")
	p.sees(shows(".player", "The signal is lost"))
	p.sees(shows(".dock", "No signal reaches the model."))
	p.presses("Back to the hands")
	p.spotless("nobody in command")
	p.goes(p.page.Size(390, 844))
	p.sees("document.documentElement.scrollWidth <= innerWidth")
	p.spotless("nobody in command, on a phone")
	p.goes(p.page.Size(1280, 800))

	// the worst moment of a function that holds
	p.clicks("[data-loss=monitor_turn] .opens")
	p.sees(shows("[data-asked=monitor_turn]", "Monitor turn servo stays where it was, at −64 to +64."))
	p.sees(shows(".details .link", "Play the worst moment, cut at"))
	p.evals("document.querySelector('.details .link').click()")
	p.sees(shows(".player", "The signal is lost"))
	p.sees("document.querySelector('.dock')")
	p.sees(shows(".dock", "No signal reaches the model."))
	p.presses("Back to the hands")
	p.sees("!document.querySelector('.player')")

	// the mend
	p.presses("Let it go to 0")
	p.sees("!document.querySelector('[data-hazard]')")
	p.sees("document.querySelector('[data-cuts]').dataset.cuts === '1450'")
	p.evals("document.querySelector('[data-loss=winch] .opens').click()")
	p.sees(shows("[data-asked=winch]", "Winch controller stands still."))
	p.sees("document.querySelector('[data-asked=winch] [aria-pressed=true]').textContent.trim() === '✓ stop'")

	// it is typed in the other scale, and nonsense is refused beside the field
	p.writes("#figure-winch", "half")
	p.presses("Let it go there")
	p.sees(shows("[data-asked=winch] .fault", "write one such as"))
	p.writes("#figure-winch", "75")
	p.picks("#scale-winch", "0 to 100, centre 50")
	p.presses("Let it go there")
	p.sees(shows("[data-hazard]", "Its loss position is 50 on a scale of −100 to +100"))
	p.sees("document.querySelector('[data-asked=winch] .scales').textContent.includes('1750')")
	p.writes("#read-winch", "40")
	p.presses("Note it")
	p.sees(shows("[data-asked=winch]", "Stored and read back as +40"))
	p.sees("[...document.querySelectorAll('[data-hazard]')].some((h) => h.textContent.includes('was " +
		"read back as +40'))")
	p.presses("stop")
	p.sees("document.querySelector('[data-asked=winch] .fault') === null")

	// nobody touches anything: another run
	p.picks(".over select", "two seconds with hands off")
	p.sees("document.querySelector('[data-cuts]').dataset.cuts === '100'")
	p.sees(bar("monitor_turn") + " < 6")
	p.picks(".over select", "“out to the mole and back”")
	p.sees("document.querySelector('[data-cuts]').dataset.cuts === '1450'")

	// a run that was drawn: the monitor goes to one side for the second half, and holds there
	p.clicks("[data-draw]")
	p.sees("document.querySelectorAll('[data-strip]').length === 11")
	p.sees("document.querySelector('[role=dialog] form button').disabled")
	p.evals("(() => { const at = document.querySelector('[role=dialog] [type=range]'); at.value = 50; " +
		"at.dispatchEvent(new Event('input', {bubbles: true})) })()")
	p.spotless("drawing a run")
	p.writes("[data-strip=monitor_stick] input", "100")
	p.evals("document.querySelector('[data-strip=monitor_stick] input').blur()")
	p.goes(p.page.Drag("[data-strip=helm] svg", 60, -20, true))
	p.writes("[role=dialog] form input", "half the way over")
	p.presses("Cut the signal at every moment of it")
	p.sees("document.querySelector('.over select').selectedOptions[0].textContent === '“half the way over”'")
	p.sees("document.querySelector('[data-cuts]').dataset.cuts === '600'")
	p.sees(bar("monitor_turn") + " > 30 && " + bar("port_screw") + " < 6 && " + bar("monitor_lift") + " < 6")
	p.picks(".over select", "“out to the mole and back”")
	p.sees("document.querySelector('[data-cuts]').dataset.cuts === '1450'")

	// at a moment that somebody has chosen
	p.writes("#cut-at", "12.5")
	p.presses("and see it")
	p.sees(shows(".player", "The signal is cut"))
	p.sees("parseFloat(document.querySelector('.player .time').textContent) >= 11")
	p.sees(shows(".dock", "No signal reaches the model."))
	p.presses("Back to the hands")

	// the signal comes back
	p.presses("Look at each")
	p.sees("document.querySelectorAll('.plain li').length === 4")
	p.sees(shows(".plain li:first-child",
		"Pump controller turns at once when the signal comes back, at up to +100"))
	p.evals("document.querySelector('.plain .link').click()")
	p.sees(shows(".player", "The signal comes back"))
	p.presses("Back to the hands")
	p.clicks("[data-tab=on]")
	p.sees(shows("section[aria-label^=When] ul", "The transmitter waits, and sends nothing, in 4 of 8 ways."))
	p.presses("Model on, the transmitter already")
	p.sees("document.querySelectorAll('section[aria-label^=When] ul li').length > 0")
	p.presses("Memory changed, the model on")
	p.sees("document.querySelector('section[aria-label^=When] ul .link')")
	p.evals("document.querySelector('section[aria-label^=When] ul .link').click()")
	p.sees(shows(".player", "Another memory"))
	p.sees("document.querySelector('.player input').max > 100")
	p.presses("Back to the hands")
	p.clicks("[data-tab=lost]")
	p.sees("document.querySelectorAll('[data-loss]').length === 10")
}

// bar is how long the bar of a function is, in pixels.
func bar(output string) string {
	line := "document.querySelector('[data-loss=" + output + "] line.bar')"
	return "(" + line + "?.getBoundingClientRect().width)" // undefined is neither more nor less
}

// TestBeforeTheTransmitterWakes: the least that it has to wait for is worked out, and done by a press;
// what is known of going under is in ranges with their arithmetic, and follows what is said.
func TestBeforeTheTransmitterWakes(t *testing.T) {
	p := sit(t)
	p.opensModel("Quill", "loss", "document.querySelector('.loss')")
	p.sees(shows("[data-least]", "Wait for Ballast slider at −100 to −95."))
	p.sees("document.querySelector('[data-least]').dataset.least === 'false'")
	p.presses("Let it wait for just that")
	p.sees("document.querySelector('[data-least]').dataset.least === 'true'")
	p.sees(shows("[data-least]", "The transmitter waits for just that."))
	p.sees("document.querySelectorAll('[data-hazard]').length === 1")
	p.sees(shows("[data-hazard]", "The loss position of Fore planes was stored before it was reversed."))
	p.sees("!document.querySelector('[data-hazard] .p-button')")

	p.clicks("[data-behind=under]")
	p.sees("[...document.querySelectorAll('[data-bar]')].map((b) => b.dataset.bar).join() === " +
		"'The signal reaches down,The deck is then under by,The deck gets down to,The signal is back after'")
	p.evals("document.querySelector('.under summary').click()")
	p.sees(shows(".under details", "of range and 15 m away leave"))
	p.spotless("going under")
	deep := "document.querySelector('[data-bar=\"The deck gets down to\"] b').textContent"
	before, err := rig.Eval[string](p.page, deep)
	p.goes(err)
	p.types("blown_ml", "900\r")
	p.sees(deep + " !== '" + before + "'")
	p.goes(p.page.Size(390, 844))
	p.sees("document.documentElement.scrollWidth <= innerWidth")
	p.goes(p.page.Size(1280, 800))
	p.reloads()
	p.sees(shows("[data-least]", "The transmitter waits for just that."))

	// a model of which nothing is said, and one that is new
	p.opensModel("Stoat", "loss", "document.querySelector('.loss')")
	p.sees(shows("[data-least]", "Nothing is said of what must rest at power-on"))
	p.sees("!document.querySelector('[data-behind=under]')")

	// a receiver that stores what the sticks show: how they are held
	id, err := p.app.Make(`format: axtren-setup
version: 1
name: Old boat
craft: {kind: boat}
transmitter:
  controls:
    - {id: dive, kind: axis, label: Left stick, plus: up, minus: down, stick: left, along: y}
    - {id: fill, kind: switch, label: Tank, positions: [blow, fill], start: fill}
mixes: [{to: planes, from: dive}, {to: tank, from: fill}]
outputs:
  - {id: planes, label: Planes, channel: 1, loss: {mode: preset, value: 60}}
  - {id: tank, label: Tank valve, channel: 2, loss: {mode: preset, value: -100}}
link: {learned_us: {low: 1060, centre: 1500, high: 1930}}
receivers: [{id: rx, label: Old receiver, stores: button, failsafe: {can: [preset]},
    pins: [{pin: 1, channel: 1}, {pin: 2, channel: 2}]}]
`)
	p.goes(err)
	p.goes(p.page.Go(p.app.URL + "/models/" + id + "/loss"))
	p.clicks("[data-loss=planes] .opens")
	p.sees(shows("[data-asked=planes]", "Old receiver stores what the sticks show at a press of its button."))
	p.presses("How are the sticks held for Old receiver?")
	p.sees(shows("[data-asked=planes] ol", "Left stick held to +60, towards up."))
	p.sees(shows("[data-asked=planes] ol", "Tank at blow."))
	p.sees("document.querySelectorAll('[data-hazard]').length === 0")
	p.sees(shows("aside .found", "The module was told 1060"))
	p.clicks("[data-behind=under]")
	p.sees(shows(".under", "Say what it dives in"))
}
