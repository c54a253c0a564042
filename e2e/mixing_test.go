package e2e

import (
	"testing"

	"github.com/stretchr/testify/require"

	"axtren/e2e/rig"
)

// TestAPairIsDrivenAsChosen: the choice in words writes the mixes, the maps follow,
// an edit by hand is known again, and undo brings all of it back.
func TestAPairIsDrivenAsChosen(t *testing.T) {
	p := sit(t)
	p.opens()
	p.clicks("nav a[href$=mixing]")
	p.sees(shows(".sum",
		"Left track = drive + 0.8 × Right stick, right; Right track = drive − 0.8 × Right stick, right"))
	p.sees("document.querySelector('input[value=one_stick]').checked")
	p.sees("document.querySelectorAll('.maps canvas').length === 3 && document.querySelectorAll('.compared " +
		"canvas').length === 6")
	p.clean("mixing")

	p.goes(p.page.Drag("[data-stick='Right stick']", 0, -80, false))
	p.sees(shows(".maps .now", "+100")) // the live point
	p.goes(p.page.Release())
	p.sees("document.querySelector('.maps .now').textContent === '0'")

	p.clicks("input[value=both]")
	// one stick is no second lever by itself
	p.sees(shows(".field:has(#source-right) .fault", "needs a control of its own; choose one"))
	p.sees(shows(".state", "not saved"))
	p.evals("const lever = document.querySelector('#source-right'); lever.value = 'slider'; " +
		"lever.dispatchEvent(new Event('change')), 1")
	p.revision(2)
	p.sees("!document.querySelector('.fault')")
	p.sees(shows(".sum", "+ Left stick, up and down"))
	p.evals("const box = document.querySelector('#gain-turn_gain'); box.value = 55; box.dispatchEvent(new " +
		"Event('change')), 1")
	p.revision(3)
	p.sees(shows(".sum", "0.55 × Right stick, right"))
	p.clicks(".fields .more") // what few need is a step deeper
	p.evals("const soft = document.querySelector('#gain-turn_soft'); soft.value = 15; " +
		"soft.dispatchEvent(new Event('change')), 1")
	p.revision(4)
	p.sees("document.querySelector('#source-turn').value === 'turn_feel'")
	mixes, err := rig.Eval[string](p.page,
		"fetch('/api/models/' + location.pathname.split('/')[2] + '/export?format=yaml').then(r => r.text())")
	p.goes(err)
	require.Contains(t, mixes, "port_track_lever")
	require.Contains(t, mixes, "id: turn_feel")

	p.evals("const one = document.querySelector('#source-turn'); one.value = 'drive_soft'; " +
		"one.dispatchEvent(new Event('change')), 1")
	p.sees(shows(".fault", "is the drive already; choose two controls"))

	p.presses("Undo")
	p.sees(shows(".sum", "0.55 × Right stick, right"))
	p.presses("Undo")
	p.sees(shows(".sum", "0.8 × Right stick, right"))
	p.presses("Undo")
	p.sees("document.querySelector('input[value=one_stick]').checked")
	p.clicks(".rules label:nth-of-type(1) input")
	p.sees(shows(".state", "saved, revision 8"))
}
