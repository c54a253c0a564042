package e2e

import (
	"testing"

	"github.com/chromedp/chromedp/kb"

	"axtren/e2e/rig"
)

// drawn is true once the model on the stage is where a condition on its
// transform, [x, y, degrees], holds.
func drawn(condition string) string {
	return "(m => { const [y, x, turn] = m; return " + condition +
		" })(document.querySelector('.dock svg > " +
		"g[transform*=rotate]').getAttribute('transform').match(/-?[\\d.]+/g).map(Number))"
}

// TestTheStageMovesAndIsPutBack: the picture goes where the devices drive it, says
// so, and one key puts it back. Folded, it stays folded for this person.
func TestTheStageMovesAndIsPutBack(t *testing.T) {
	p := sit(t)
	p.opens()
	p.sees(shows(".dock", "Stands still."))
	p.sees(shows(".dock", "nothing moves it yet, drawn in outline"))
	p.sees(shows(".dock .free", "hands off"))
	p.goes(p.page.Drag("[data-stick='Right stick']", 0, -45, false))
	p.sees(shows(".dock", "Ahead,"))
	p.sees(drawn("x < -30 && Math.abs(turn) < 30")) // up the page
	p.sees("!document.querySelector('.dock .free')")
	p.goes(p.page.Release())
	p.sees(shows(".dock", "Stands still."))
	// a second time: no text was selected by the first
	p.goes(p.page.Drag("[data-stick='Right stick']", 20, -45, false))
	p.sees(shows(".dock", "bearing to the right"))
	p.goes(p.page.Release())
	p.sees(shows(".dock", "Stands still."))
	p.goes(p.page.Keys(kb.Home))
	p.sees(drawn("x === 0 && y === 0 && turn === 0"))
	p.clicks("[aria-label='Fold the stage']")
	p.sees("!document.querySelector('.dock')")
	p.reloads()
	p.sees("document.querySelector('.row')")
	p.sees("!document.querySelector('.dock')")
	p.presses("Show the stage")
	p.sees("document.querySelector('.dock svg')")
}

// TestAReversedTrackIsSeen: with one channel turned round the model turns on the
// spot where it was asked to go ahead.
func TestAReversedTrackIsSeen(t *testing.T) {
	p := sit(t)
	p.opens()
	p.goes(editFirst(p,
		`[{"op":"test","path":"/outputs/1/id","value":"starboard_track"},{"op":"add","path":"/outputs/1/reverse","value":false}]`))
	p.sees(shows(".state", "revision 2"))
	p.goes(p.page.Drag("[data-stick='Right stick']", 0, -45, false))
	p.sees(shows(".dock", "Turns on the spot to"))
	p.goes(p.page.Release())
}

// TestDrillsFromEveryStance: what happens is said in words, and each stance plays
// on the bench.
func TestDrillsFromEveryStance(t *testing.T) {
	p := sit(t)
	p.opens()
	p.goes(p.page.Drag("[data-stick='Right stick']", 0, -45, false))
	p.presses("Cut the signal")
	p.sees(shows(".drill", "Left track stops after"))
	p.sees(shows(".drill", "however things were left"))
	p.goes(p.page.Release())
	p.clicks(".drill .link")
	p.sees(shows(".player", "plays instead of the hands"))
	p.sees(shows(".dock", "play it"))
	p.sees("document.querySelector('.cross')") // the mark for lost
	p.presses("Done")
	p.sees("!document.querySelector('.player')")
	p.presses("Switch on, every way")
	p.sees(shows(".drill", "When the transmitter is switched on"))
	p.sees("document.querySelectorAll('.drill li').length > 0")
}

// TestEveryDemoModelHasItsStage draws each of them, and axe finds nothing serious.
func TestEveryDemoModelHasItsStage(t *testing.T) {
	p := sit(t)
	for _, name := range []string{"Stoat", "Marram", "Alder", "Pipit", "Gannet", "Quill", "Wader"} {
		p.goes(p.page.Go(p.app.URL))
		p.sees("document.querySelectorAll('main li h2').length === 7")
		p.sees("document.querySelectorAll('main li .still .part').length > 20") // each in small
		p.clicks("[aria-label='Open " + name + "']")
		p.sees("document.querySelectorAll('.dock .part').length > 4")
		p.sees(shows("h1", name))
		p.sees("!document.querySelector('.dock svg').outerHTML.includes('NaN')")
		p.clean(name)
	}
}

// editFirst sends a patch for the model that is open.
func editFirst(p *person, patch string) error {
	_, err := rig.Eval[any](p.page, `fetch('/api/models/' + location.pathname.split('/')[2], {method: 'PATCH', body: JSON.stringify(`+patch+`),
		headers: {'Content-Type': 'application/json-patch+json', 'If-Match': '"1"', 'Axtren-Page': crypto.randomUUID(), 'Axtren-Edit': crypto.randomUUID()}}).then(r => { if (!r.ok) throw r.status; return 1 })`)
	return err
}

// TestThePictureIsChanged by hand: nonsense is said and the rest is drawn; another
// device moves a part at once; undo brings it back.
func TestThePictureIsChanged(t *testing.T) {
	p := sit(t)
	p.opens()
	p.clicks("nav a[href$=stage]")
	p.presses("Change the picture")
	p.sees("document.querySelectorAll('.editor li').length === 12")
	p.evals("const track = [...document.querySelectorAll('.editor label')].find(l => " +
		"l.innerText.includes('tracks or wheels')).querySelector('input'); track.value = '0'; " +
		"track.dispatchEvent(new Event('change')), 1")
	p.revision(2)
	p.sees(shows(".dock .fault", "so nothing can turn about it"))
	p.sees("document.querySelectorAll('.dock svg .part').length > 5")
	p.presses("Undo")
	p.revision(3)
	p.sees("!document.querySelector('.dock .fault')")

	p.clicks(".editor li:nth-child(11) .link")
	p.sees("document.querySelector('.editor li select')")
	p.evals("const by = document.querySelectorAll('.editor li select')[1]; by.value = 'lamp_relay'; " +
		"by.dispatchEvent(new Event('change')), 1")
	p.revision(4)
	p.clicks("[data-switch='lights.lit']")
	p.sees("document.querySelectorAll('.dock .lit').length === 2")
	p.clean("changing the picture")
	p.presses("Add a part")
	p.sees("document.querySelectorAll('.editor li').length === 13")
	p.sees(shows(".dock .row", "New part nothing moves it yet"))
	p.presses("Remove from the picture")
	p.sees("document.querySelectorAll('.editor li').length === 12")
}
