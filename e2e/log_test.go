package e2e

import (
	"fmt"
	"os"
	"path/filepath"
	"testing"

	"github.com/google/uuid"
	"github.com/stretchr/testify/require"

	"axtren/e2e/rig"
)

// TestTheLogOfAModel: all that happened in one list, by group and by letters; what is noted shows at once
// and is
// taken back; a part that was exchanged, with what has to be set and tried again; back to an older
// revision, and
// what was set on two days.
func TestTheLogOfAModel(t *testing.T) {
	p := sit(t)
	m := p.opensModel("Marram", "log", "document.querySelector('.entries')")
	heads := func(want string) string {
		return "JSON.stringify([...document.querySelectorAll('.entries b')].map(e => e.textContent)) === '" +
			want + "'"
	}
	p.sees(shows(".entries li:last-child", "Imported"))
	p.sees(shows(".entries", "Planted to be found: the winch turns when the signal is lost."))
	p.sees(shows("aside", "41 min on the water in all, 1 time."))
	p.sees(shows("aside", "Port controller: timing, 12°"))
	p.sees(shows("aside", "Nobody has tried and signed this model yet."))
	p.spotless("the log")

	// by group, and by letters
	p.presses("changes")
	p.sees(heads(`["Imported"]`))
	p.presses("tried")
	p.sees(shows("main", "Nothing of this kind happened yet."))
	p.presses("all")
	p.writes("[type=search]", "ONCE round")
	p.sees(heads(`["41 min on the water, battery 2"]`))
	p.writes("[type=search]", "zebra")
	p.sees(shows("main", "Nothing here has “zebra”."))
	p.evals("(box => { box.value = ''; box.dispatchEvent(new Event('input')) " +
		"})(document.querySelector('[type=search]')), 1")
	p.sees("document.querySelectorAll('.entries li').length === 6")

	// what was noted
	p.clicks("[data-note]")
	p.presses("Note it")
	p.sees(shows("[data-noting] .fault", "write what is to be remembered"))
	p.presses("It was run")
	p.writes("[data-noting] input", "35")
	p.writes("[data-noting] textarea", "in the rain")
	p.presses("Note it")
	p.sees(shows(".entries li:first-child", "35 min on the water"))
	p.sees(shows(".entries li:first-child", "in the rain"))
	p.sees(shows("aside", "1 h 16 min on the water in all, 2 times."))
	p.clicks(".entries li:first-child .does button")
	p.sees(shows(".entries li:first-child", "Is it to be taken back?"))
	p.spotless("before it is taken back")
	p.clicks("[data-sure]")
	p.sees("document.querySelectorAll('.entries li').length === 6")

	// an edit, and a part that was exchanged
	_, err := p.app.Send("PATCH", "/api/models/"+m.ID, `[{"op": "test", "path": "/outputs/0/id", "value": "rudder"},
		{"op": "replace", "path": "/outputs/0/high", "value": 60}]`, "If-Match", `"1"`)
	p.goes(err)
	p.sees(shows(".entries li:first-child", "Rudder: “high end” changed from 74 to 60"))
	p.picks("[data-exchanged] select", "Port controller")
	p.sees(shows("[data-exchanged]", "With its own program: Port controller: timing, 12°."))
	p.picks("[data-exchanged] select", "Rudder servo")
	p.sees(shows("[data-exchanged]", "Of Rudder, find on the stand again: arm, direction, centre"))
	p.sees("!document.querySelector('[data-exchanged]').innerText.includes('timing')")
	p.writes("[data-exchanged] form input", "the old one hummed")
	p.spotless("a part that was exchanged")
	p.presses("Note that it was exchanged")
	p.sees(shows(".entries li:first-child", "Rudder servo was exchanged"))
	p.sees(shows(".entries li:first-child", "the old one hummed"))
	p.sees(shows(".entries li:nth-child(2)", "Rudder servo: “built in”"))
	p.goes(p.page.Size(390, 844))
	p.sees("document.documentElement.scrollWidth <= innerWidth")
	p.spotless("the log on a phone")
	p.goes(p.page.Size(1280, 800))

	// one edit is undone by itself, and what came after it stays
	p.clicks("[aria-label^='Undo: Rudder: “high end”']")
	p.revision(4)
	p.sees(shows(".entries li:first-child", "Undone: Rudder: “high end” changed from 74 to 60"))
	p.sees(shows(".entries li:nth-child(3)", "Rudder servo: “built in”"))

	// back to an older one, and forward
	p.clicks("[aria-label='Go back to revision 1']")
	p.sees(shows(".sure", "Everything as it was at revision 1?"))
	p.clicks("[data-sure]")
	p.revision(5)
	p.sees("document.querySelector('.entries b').textContent.includes('built in')")
	p.clicks("[aria-label='Compare with revision 2']")
	p.sees(shows(".words", "from 60 to 74"))
	today, err := rig.Eval[string](p.page, "new Date().toLocaleDateString('sv')")
	p.goes(err)
	day := func(n int, text string) {
		p.Helper()
		p.evals("(box => { box.value = '" + text + "'; box.dispatchEvent(new Event('input')); " +
			"box.dispatchEvent(new " +
			"Event('change')) })(document.querySelectorAll('[data-days] input')[" + string(rune('0'+n)) + "]), 1")
	}
	day(0, "2020-01-01")
	p.sees(shows("[data-days]", "The model was not there yet on that day."))
	day(0, today)
	p.sees("document.querySelector('[data-from]').value === '5'")
	p.evals("document.querySelector('[data-back]').click(), 1")
	p.sees("document.querySelector('.entries')")
}

// TestAWalkIsTakenAlong: its file opens by itself with nothing but a browser, keeps what is ticked over a
// reload,
// and its code is brought back; what is of another is refused beside the field.
func TestAWalkIsTakenAlong(t *testing.T) {
	p := sit(t)
	m := p.opensModel("Marram", "bench", "document.querySelector('[data-walk]')")
	p.clicks("[data-walk=fewest]")
	p.sees(shows("[data-safe]", "First, make it safe"))
	p.clicks("[data-along] summary")
	href, err := rig.Eval[string](p.page, "document.querySelector(\"[data-along] "+
		"a[href$='carried.html']\").getAttribute('href')")
	p.goes(err)
	path := filepath.Join(t.TempDir(), "walk.html")
	require.NoError(t, os.WriteFile(path, p.ask("GET", href, ""), 0o600))
	along := p.beside("file://" + path)
	along.goes(along.page.Size(390, 844))
	along.sees(shows("h1", "Marram, tried on the bench"))
	along.sees(shows(".caution", "Take the propellers off"))
	along.sees("document.documentElement.scrollWidth <= innerWidth")
	along.evals("document.querySelector('.thing input').click(), 1")
	along.evals("document.querySelectorAll('.thing')[1].querySelectorAll('input')[1].click(), 1")
	along.sees(shows(".count", "2 of"))
	along.sees(shows(".count", "1 otherwise"))
	along.evals("document.querySelectorAll('.thing')[1].querySelectorAll('input')[0].click(), 1")
	along.sees("!document.querySelector('.count').textContent.includes('otherwise')")
	along.evals("document.querySelectorAll('.thing')[1].querySelectorAll('input')[1].click(), 1")
	along.goes(along.page.Go("file://" + path))
	along.sees(shows(".count", "1 otherwise"))
	along.spotless("a walk that is carried")
	code, err := rig.Eval[string](along.page, "document.querySelector('.code').textContent")
	p.goes(err)
	p.writes("[data-along] .code", "AAAA-BBBB")
	p.presses("Bring back")
	p.sees(shows("[data-along] .fault", "compare it letter by letter"))
	p.writes("[data-along] .code", code)
	p.presses("Bring back")
	p.sees("document.querySelectorAll('[data-part] [aria-pressed=true]').length === 2")
	p.sees("document.querySelector('[data-part] .seen > :first-child').ariaPressed === 'true'")
	p.sees("document.querySelectorAll('[data-part]')[1].querySelector('.seen > :nth-child(2)').ariaPressed " +
		"=== 'true'")

	// another phone at the same walk: what is ticked there shows here at once, and what is noted on its log
	other := p.beside(p.app.URL + "/models/" + m.ID + "/bench")
	other.clicks("[data-kept] button")
	pressed := func(n int) string {
		return fmt.Sprintf("document.querySelectorAll('[data-part] [aria-pressed=true]').length === %d", n)
	}
	other.sees(pressed(2))
	other.evals("document.querySelectorAll('[data-part]')[2].querySelector('.seen button').click(), 1")
	other.sees(pressed(3))
	p.sees(pressed(3))
	p.evals("document.querySelectorAll('[data-part]')[3].querySelector('.seen button').click(), 1")
	other.sees(pressed(4))
	other.goes(other.page.Go(p.app.URL + "/models/" + m.ID + "/log"))
	other.sees(shows(".entries li:last-child", "Imported"))
	p.presses("Leave it for now")
	p.sees("document.querySelector('[data-kept]')")
	note := func(says string) {
		t.Helper()
		_, err := p.app.Send("POST", "/api/models/"+m.ID+"/events", `{"id": "`+uuid.NewString()+
			`", "kind": "note", "says": "`+says+`", "part": "", "what": "", "was": "", "becomes": "", `+
			`"minutes": 0, "battery": ""}`)
		p.goes(err)
	}
	note("the whole river was frozen")
	other.sees(shows(".entries li:first-child", "the whole river was frozen"))
	p.app.Kill()
	p.goes(p.app.Again())
	note("while the connection was lost")
	other.sees(shows(".entries li:first-child", "while the connection was lost"))
}
