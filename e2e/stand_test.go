package e2e

import (
	"fmt"
	"testing"

	"github.com/chromedp/chromedp/kb"
)

// TestTheLinkageOfAFunction: from the open function to its linkage, which is drawn, moves with the stick and
// tells its figures with their arithmetic; a length that is changed, by its field or on the drawing, changes
// them; what cannot be is said with what can; a function without one begins with one that moves nothing.
func TestTheLinkageOfAFunction(t *testing.T) {
	p := sit(t)
	p.opensModel("Marram", "functions", "document.querySelector('[data-line=rudder] .part')")
	p.clicks("[data-line=rudder] .part")
	p.presses("On the stand")
	p.sees(shows(".stand h2", "On the stand: Rudder"))
	p.sees("document.querySelector('.linkage [data-hole=arm]')")
	p.sees(shows(".figures tr", "For 30° to port"))
	p.sees("[...document.querySelectorAll('.figures tr')].some(r => r.innerText.includes('Torque needed') && " +
		"r.innerText.includes('the servo gives 0.35'))")
	p.sees("!document.querySelector('.figures').innerText.includes('NaN')")
	p.sees("[...document.querySelectorAll('.figures tr')].some(r => r.innerText.includes('Measured " +
		"and worked out, port') && r.innerText.includes('What was measured counts.'))")
	p.spotless("a linkage")

	// the drawing moves with the stick
	p.evals("window.arm = document.querySelector('[data-hole=arm]').getAttribute('cx'), 1")
	p.goes(p.page.Drag("[data-stick='Right stick']", 40, 0, false))
	p.sees("+document.querySelector('[data-hole=arm]').getAttribute('cx') > +window.arm + 3")
	p.goes(p.page.Release())
	p.sees("Math.abs(document.querySelector('[data-hole=arm]').getAttribute('cx') - window.arm) < 0.5")

	// a shorter horn reaches 30 degrees earlier
	p.evals("window.port = document.querySelector('.figures td').innerText, 1")
	p.evals("document.querySelector('.lengths').open = true, 1")
	p.types("'linkage.horn_mm'", "17"+kb.Enter)
	p.sees("document.querySelector('.figures td').innerText !== window.port")
	p.revision(2)
	p.evals("document.querySelector('.figures details').open = true, 1")
	p.sees(shows(".figures details p", "the arm stands"))

	// the hole of the arm is dragged to the shaft: shorter
	p.evals("window.arm = document.querySelector('.words text').textContent, 1")
	p.goes(p.page.Drag("[data-hole=arm]", 0, 20, true))
	p.sees("document.querySelector('.words text').textContent !== window.arm")
	p.revision(3)

	// a rod that cannot be
	p.types("'linkage.rod_mm'", "12"+kb.Enter)
	p.sees(shows(".stand .beside .caution",
		"This rod cannot be put on while the servo stands in the middle: it "+
			"has to "+
			"be between"))
	p.sees("!document.querySelector('.figures')")
	p.goes(p.page.Size(390, 844))
	p.sees("document.documentElement.scrollWidth <= innerWidth")
	p.spotless("a linkage that cannot be, on a phone")
	p.goes(p.page.Size(1280, 800))

	// one that has none yet
	p.clicks("[data-standing=monitor_turn] .link")
	p.sees(shows(".stand h2", "On the stand: Fire monitor turn"))
	p.sees("!document.querySelector('.linkage') && !document.querySelector('[data-learner]')")
	p.clicks("[data-field=linkage] input")
	p.sees("document.querySelector('.linkage [data-hole=arm]')")
	p.reloads()
	p.sees(shows(".stand h2", "On the stand: Fire monitor turn"))
	p.presses("All functions")
	p.sees("document.querySelector('.block')")
	p.clean("linkages")
}

// TestOnTheStand: one function, one step at a time. What is done is kept with the day, an end that binds is
// set back, both are made equal, a direction is turned round; a reload goes on at the step that is next; a
// figure that is changed elsewhere, and a servo that is exchanged, say what is to be done again.
func TestOnTheStand(t *testing.T) {
	p := sit(t)
	m := p.opensModel("Stoat", "functions", "document.querySelector('[data-line=tiller] .part')")
	p.presses("On the stand")
	p.sees(shows(".stand h2", "On the stand: Left track"))
	p.sees("document.querySelectorAll('.bar .step').length === 3") // a motor's ends are learned
	p.clicks("[data-standing=tiller] .link")
	p.sees(shows(".does", "Charge the batteries. At the transmitter, put the trims of Tiller to 0"))
	p.sees("document.querySelectorAll('.bar .step').length === 6")
	p.sees("!document.querySelector('[data-standing=headlamps]')") // a relay has nothing to find
	p.presses("Done")
	p.sees(shows(".does", "put the arm on as square as its splines allow"))
	p.presses("Done")
	p.sees(shows(".does", "Does Tiller go the right way?"))
	p.presses("No: turn it round")
	p.sees(shows(".does", "move the centre until Tiller stands in its middle"))
	p.presses("It stands in the middle")
	p.sees(shows(".steps [aria-current]", " end"))
	p.revision(5)
	p.spotless("an end on the stand")

	// the end is moved while watching, and set back by two points where it binds
	p.sees(shows(".value", "−90"))
	p.sees("document.querySelector('.steps .caution').innerText.includes('Fingers out of the linkage')")
	p.clicks("[aria-label='+ 5']")
	p.clicks("[aria-label='+ 1']")
	p.sees(shows(".value", "−84"))
	p.sees(shows(".steps", "While it is tried, on this transmitter:"))
	p.presses("It binds here")
	p.sees(shows("[data-standing=tiller]", "−82"))
	p.sees(shows("[data-step=low]", "✓"))
	p.reloads()
	p.sees(shows(".steps [aria-current]", " end")) // it goes on there
	p.sees("document.querySelector('[data-step=high]').hasAttribute('aria-current')")
	p.presses("It binds here")
	p.sees(shows("[data-standing=tiller]", "+73"))
	p.sees(shows(".steps", "equal, both would be 73."))
	p.evals(`(() => { const i = document.querySelector('.back input'); i.value = '3'; i.dispatchEvent(new Event('change')) })()`)
	p.sees("document.querySelector('.back input').value === '3'")
	p.revision(8)
	p.presses("Make both equal")
	p.sees(shows("[data-standing=tiller]", "−73"))
	p.sees("!document.querySelector('.steps').innerText.includes('Make both equal')")
	p.sees(shows("[data-standing=tiller]", "measured"))

	// what cannot be is refused with what can
	p.clicks("[data-step=centre]")
	p.sees(shows(".does", "move the centre"))
	for range 16 {
		p.clicks("[aria-label='+ 5']")
	}
	p.sees(shows(".value", "80"))
	p.presses("It stands in the middle")
	p.sees(shows(".steps .fault", "is not between the ends of Tiller"))

	// the servo is exchanged
	_, err := p.app.Send("POST", "/api/models/"+m.ID+"/acts",
		`{"act":"set","part":"devices/tiller_jack","field":"fitted","value":"today"}`,
		"If-Match", fmt.Sprintf(`"%d"`, p.revisionOf(m.ID)), "Content-Type", "application/json")
	p.goes(err)
	p.sees(shows(".again", "Do 5 steps again: arm, direction, centre"))
	p.sees(shows("[data-standing=tiller]", "5 to be done again"))
	p.goes(p.page.Size(390, 844))
	p.sees("document.documentElement.scrollWidth <= innerWidth")
	p.spotless("the stand, on a phone")
	p.clean("the stand")
}

// TestWhatWasLearned: beside a motor stands what its controller has learned against what is sent, with the
// live pulse; it is taught in its own order, or the ends are set to it, and what is changed later has to
// be learned again; a receiver that learned a steering stands beside its linkage.
func TestWhatWasLearned(t *testing.T) {
	p := sit(t)
	m := p.opensModel("Marram", "functions?stand=port_screw", "document.querySelector('[data-learner]')")
	p.sees(shows("[data-learner] h3", "What Port controller has learned"))
	p.sees("!document.querySelector('.linkage') && !document.querySelector('[data-field=linkage]')")
	p.sees(shows("[data-learner] .figures", "never reached: 95 % at most"))
	p.sees(shows("[data-learner] .places", "1050 µs"))
	p.spotless("what was learned")

	// the pulse moves with the stick
	p.evals("window.now = document.querySelector('[data-learner] .now').getAttribute('d'), 1")
	p.goes(p.page.Drag("[data-stick='Right stick']", 0, -40, false))
	p.sees("document.querySelector('[data-learner] .now').getAttribute('d') !== window.now")
	p.goes(p.page.Release())

	// it is taught by its button: neutral, full ahead, full back, each with what to see
	p.evals("document.querySelectorAll('[data-cure]').forEach(c => (c.open = true)), 1")
	p.sees(shows("[data-cure=taught] .caution", "Propeller off"))
	p.sees("[...document.querySelectorAll('[data-cure=taught] li')].map(l => " +
		"l.innerText.split(':')[0]).slice(2, 5)" +
		".join() === 'Neutral,Full ahead,Full back'")
	p.sees("[...document.querySelectorAll('[data-cure] li')].every(l => l.querySelector('.soft').innerText)")
	p.sees(shows("[data-cure=taught] li", "It answers with one beep."))
	p.sees("!document.querySelector('[data-cure=to_learned] .caution')")
	p.presses("It has learned it")
	p.sees(shows("[data-learner] .figures", "reached just at the end of the way"))
	p.sees("!document.querySelector('[data-learner]').innerText.includes('never reached')")
	p.sees(shows("[data-step=learned]", "✓"))
	p.revision(2)

	// an end that is changed has to be learned again; or it is set back to what was learned
	_, err := p.app.Send("POST", "/api/models/"+m.ID+"/acts",
		`{"act":"set","part":"outputs/port_screw","field":"high","value":70}`,
		"If-Match", fmt.Sprintf(`"%d"`, p.revisionOf(m.ID)), "Content-Type", "application/json")
	p.goes(err)
	p.sees(shows(".again", "Do 1 step again: learned."))
	p.sees(shows("[data-cure=to_learned]", "Key in"))
	p.presses("Set it so")
	p.sees("!document.querySelector('.again')")
	p.sees(shows("[data-standing=port_screw]", "+95"))
	p.goes(p.page.Size(390, 844))
	p.sees("document.documentElement.scrollWidth <= innerWidth")
	p.spotless("what was learned, on a phone")
	p.goes(p.page.Size(1280, 800))

	// a receiver that learned the ends of the steering stands beside its linkage
	p.opensModel("Pipit", "functions?stand=front_wheels", "document.querySelector('[data-learner]')")
	p.sees(shows("[data-learner] h3", "What Six-pin receiver has learned"))
	p.sees("document.querySelector('.linkage')")
	p.sees("document.querySelectorAll('.bar .step').length === 8")
	p.clean("what was learned")
}

// TestOnlyTheFunctionOnTheStandMoves: while it is there, the stick moves it and nothing else; away from there
// all moves again.
func TestOnlyTheFunctionOnTheStandMoves(t *testing.T) {
	p := sit(t)
	pulse := func(line string) string {
		return "document.querySelector('[data-line=" + line + "]').innerText"
	}
	p.opensModel("Stoat", "functions?stand=port_track", "document.querySelector('[data-learner]')")
	p.sees(shows(".only", "While this is open, only Left track moves; all else stays at rest."))
	p.goes(p.page.Drag("[data-stick='Right stick']", 0, -60, false))
	p.sees("document.querySelector('[data-learner] svg').getAttribute('aria-label').endsWith('now " +
		"1500') === false")
	p.goes(p.page.Release())
	p.clicks("[data-standing=starboard_track] .link")
	p.sees(shows(".only", "only Right track moves"))
	p.reloads()
	p.sees(shows(".only", "only Right track moves"))
	p.presses("All functions")
	p.sees("document.querySelector('.block')")
	p.presses("Fold")
	p.sees("document.querySelector('[data-line=port_track]')")
	p.evals("window.was = " + pulse("port_track") + ", 1")
	p.goes(p.page.Drag("[data-stick='Right stick']", 0, -60, false))
	p.sees(pulse("port_track") + " !== window.was")
	p.goes(p.page.Release())
	p.clean("one function alone")
}
