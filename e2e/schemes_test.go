package e2e

import "testing"

// TestWhatElseGoesTogether: what a model has is told in a sentence; another way is written once all of it is
// chosen, changed, and taken apart; what is not chosen is said. A model without a pair has it too.
func TestWhatElseGoesTogether(t *testing.T) {
	p := sit(t)
	choose := func(place, value string) {
		p.evals(`(() => { const s = document.querySelector('[data-place=` + place + `] select, [data-place=` + place +
			`] input'); s.value = '` + value + `'; s.dispatchEvent(new Event('change')) })()`)
	}
	p.opensModel("Stoat", "mixing", "document.querySelector('[data-scheme]')")
	p.sees(shows("[data-scheme=flow]", "Pump runs as fast as the widest of Blade lift and Blade angle is open."))
	p.sees("document.querySelectorAll('[data-scheme]').length === 1")

	// taken apart, then another one in its place
	p.presses("Take apart")
	p.sees("!document.querySelector('[data-scheme]')")
	p.revision(2)
	p.sees(shows(".schemes", "Nothing yet"))
	p.chooses("[aria-label='Let functions go together']", "A pump on demand")
	p.sees(shows("[data-form=pump]", "It runs while any of its valves is open, and some time longer."))
	p.presses("Write it")
	p.sees(shows("[data-form=pump] .fault", "is not chosen yet: the pump"))
	p.sees(shows(".state", "not saved"))
	choose("pump", "pump")
	p.clicks("[data-place=valves] label:nth-of-type(3) input")
	p.clicks("[data-place=valves] label:nth-of-type(4) input")
	choose("run_on", "2,5")
	p.spotless("a form of what goes together")
	p.presses("Write it")
	p.sees(shows("[data-scheme=pump]",
		"Pump runs at 100 % while any of Blade lift and Blade angle is asked for more "+
			"than 8 % either way, and 2.5 s longer."))
	p.sees("!document.querySelector('[data-form]')")
	p.revision(3)

	// it is changed where it stands
	p.clicks("[aria-label='Change: A pump on demand']")
	p.sees("document.querySelector('[data-place=run_on] input').value === '2.5'")
	choose("power", "400")
	p.presses("Change it so")
	p.sees(shows("[data-form=pump] .fault", "400 is out of range"))
	choose("power", "70")
	p.presses("Change it so")
	p.sees(shows("[data-scheme=pump]", "Pump runs at 70 %"))
	p.revision(4)
	p.reloads()
	p.sees(shows("[data-scheme=pump]", "Pump runs at 70 %"))
	p.presses("Undo")
	p.sees(shows("[data-scheme=pump]", "Pump runs at 100 %"))

	// a model without a pair; positions are named once their switch is chosen
	p.opensModel("Alder", "mixing", "document.querySelector('.schemes')")
	p.chooses("[aria-label='Let functions go together']", "Four-wheel steering by a switch")
	p.sees(shows("[data-place=ways]", "Choose the switch first."))
	choose("front", "front_axle")
	choose("rear", "lift_axle")
	choose("steer", "steer")
	choose("switch", "crawl")
	p.sees("document.querySelectorAll('[data-place=ways] select').length === 2")
	p.sees(shows("[data-place=ways]", "road"))
	p.goes(p.page.Size(390, 844))
	p.sees("document.documentElement.scrollWidth <= innerWidth")
	p.spotless("what goes together, on a phone")
	p.presses("Leave it")
	p.sees("!document.querySelector('[data-form]')")
	p.goes(p.page.Size(1280, 800))
	p.revision(1)
	p.clean("what goes together")
}
