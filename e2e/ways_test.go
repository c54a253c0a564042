package e2e

import (
	"fmt"
	"strconv"
	"testing"
)

// TestHowDoIGetItTo: of a part and what it is to do it is said what hands do, from how they stand now; it
// plays, on the sticks and on the stage, and the hands are given back; with the lock freed before there is
// less to do. What no hand brings about is said. Where nothing happens, the same answer stands first.
func TestHowDoIGetItTo(t *testing.T) {
	p := sit(t)
	p.opensModel("Marram", "stage", "document.querySelector('.dock')")
	p.presses("How do I get it to …?")
	p.sees("document.querySelectorAll('[data-how=device] option').length > 8")
	p.picks("[data-how=device]", "pump controller")
	p.sees("[...document.querySelectorAll('button[data-how]')].map((b) => b.textContent).join() === " +
		"'runs,runs the other way,stays still,runs, all the way'")
	p.sees("!document.querySelector('[data-way]')")
	p.clicks("button[data-how=plus]")
	steps := "[...document.querySelectorAll('[data-way] li')].map((li) => li.textContent).join(' ')"
	p.sees(steps + " === 'Press Left button and put Water lock to free. 0.12 s later, pump controller runs.'")
	p.spotless("how to get there")
	p.presses("Play it")
	p.sees(shows(".player", "How to get there"))
	p.sees("document.querySelector(\"[data-switch='arm.free'].on\")")
	p.presses("Back to the hands")
	p.sees("!document.querySelector('.player')")
	p.sees("document.querySelector(\"[data-switch='arm.locked'].on\")")

	p.clicks("[data-switch='arm.free']")
	p.presses("From how it is now")
	p.sees(steps + " === 'Press Left button. 0.12 s later, pump controller runs.'")
	p.clicks("button[data-how=minus]")
	p.sees(shows("[data-way]", "Nothing that hands or signal can do brings it about"))
	p.sees("![...document.querySelectorAll('[data-way] button')].some((b) => b.textContent.includes('Play it'))")
	p.clicks("button[data-how=still]")
	p.sees(shows("[data-way]", "It is so already: pump controller stays still."))
	p.goes(p.page.Size(390, 844))
	p.sees("document.documentElement.scrollWidth <= innerWidth")
	p.spotless("how to get there, on a phone")
	p.goes(p.page.Size(1280, 800))

	// an edit takes back what was found of the model as it was
	id := p.place()[len("/models/"):][:36]
	_, err := p.app.Send("PATCH", "/api/models/"+id, `[{"op": "replace", "path": "/name", "value": "Marram again"}]`,
		"If-Match", fmt.Sprintf("%q", strconv.Itoa(p.revisionOf(id))))
	p.goes(err)
	p.sees("!document.querySelector('[data-way]')")
	p.presses("Done")
	p.sees("!document.querySelector('.how')")

	// nothing happens
	p.clicks("[data-switch='arm.locked']")
	p.presses("Something is wrong")
	p.picks("[data-trouble=line]", "Monitor pump · pin 6 · pump controller")
	p.picks("[data-trouble=complaint]", "nothing happens")
	p.sees(steps + " === 'Press Left button and put Water lock to free. 0.12 s later, pump controller runs.'")
	p.sees(shows("[data-way]", "What makes Monitor pump do something, as it stands now:"))
	p.spotless("nothing happens")
	p.picks("[data-trouble=complaint]", "stays on")
	p.sees("!document.querySelector('[data-way]')")
	p.picks("[data-trouble=complaint]", "nothing happens")
	p.sees(steps + ".startsWith('Press Left button')")
	p.presses("Play it")
	p.sees("!document.querySelector('[role=dialog]')")
	p.sees(shows(".player", "How to get there"))
}
