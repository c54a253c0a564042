package e2e

import (
	"encoding/json"
	"fmt"
	"strings"
	"testing"
	"time"

	"github.com/chromedp/cdproto/input"
	"github.com/chromedp/chromedp"
	"github.com/chromedp/chromedp/kb"
	"github.com/stretchr/testify/require"

	"axtren/e2e/rig"
)

// opensModel goes to a place of a model of the demo.
func (p *person) opensModel(name, place, open string) model {
	p.Helper()
	for _, m := range p.models() {
		if m.Name == name {
			p.goes(p.page.Go(p.app.URL + "/models/" + m.ID + "/" + place))
			p.sees(open)
			return m
		}
	}
	require.Fail(p, "there is no "+name)
	return model{}
}

// TestADoubleClickMakesOne model, and one function.
func TestADoubleClickMakesOne(t *testing.T) {
	p := sit(t)
	p.presses("New model")
	p.sees("document.querySelector('[data-kind=boat]')")
	p.goes(p.page.DoubleClick("[data-kind=boat]"))
	p.sees("document.querySelector(`[data-model='New boat']`)")
	time.Sleep(400 * time.Millisecond)
	names := []string{}
	for _, m := range p.models() {
		names = append(names, m.Name)
	}
	require.Equal(t, 1, strings.Count(strings.Join(names, ","), "New boat"))
	p.opensModel("Stoat", "functions", "document.querySelector('[data-line=horn]')")
	p.goes(p.page.DoubleClick(".tools .quiet"))
	p.revision(2)
	time.Sleep(400 * time.Millisecond)
	p.revision(2)
}

// TestAFileDroppedOnAModelDoesNotLeave the application; it is said where files go.
func TestAFileDroppedOnAModelDoesNotLeave(t *testing.T) {
	p := sit(t)
	p.opens()
	at, err := rig.Eval[string](p.page, "location.href")
	p.goes(err)
	prevented, err := rig.Eval[bool](p.page, `(() => {
		const data = new DataTransfer(); data.items.add(new File(['a: b'], 'x.yaml'))
		const over = new DragEvent('dragover', {dataTransfer: data, bubbles: true, cancelable: true})
		const drop = new DragEvent('drop', {dataTransfer: data, bubbles: true, cancelable: true})
		const main = document.querySelector('main')
		main.dispatchEvent(over); main.dispatchEvent(drop)
		return over.defaultPrevented && drop.defaultPrevented })()`)
	p.goes(err)
	require.True(t, prevented)
	p.sees(shows(".notices", "dropping it on the models"))
	now, err := rig.Eval[string](p.page, "location.href")
	p.goes(err)
	require.Equal(t, at, now)
	p.clicks(".notices a")
	p.sees("document.querySelector('[data-model=Stoat]')")
	p.sees("!document.querySelector('.notices')")
}

// TestADraftOfTheTextIsAskedFor after the place was left, and after a reload.
func TestADraftOfTheTextIsAskedFor(t *testing.T) {
	p := sit(t)
	open := "document.querySelector('textarea')?.value.includes('axtren-setup')"
	p.opensModel("Stoat", "text", open)
	p.clicks("textarea")
	p.goes(p.page.Keys("# my own words "))
	p.clicks("nav a[href$=functions]")
	p.sees("document.querySelector('[data-line=horn]')")
	p.clicks("nav a[href$=log]")
	p.sees("document.querySelector('.entries')")
	p.sees(shows(".draft", "was not saved"))
	p.clicks(".draft a")
	p.sees(open)
	p.sees(shows(".draft", "was not saved"))
	p.reloads()
	p.sees(shows(".draft", "was not saved"))
	p.sees("!document.querySelector('textarea').value.includes('my own words')")
	p.clicks("[data-draft=on]")
	p.sees("document.querySelector('textarea').value.includes('my own words')")
	p.sees("!document.querySelector('.draft')")
	p.evals("[...document.querySelectorAll('.acts button')].find(b => b.innerText === 'Put back').click(), 1")
	p.sees("!document.querySelector('textarea').value.includes('my own words')")
	p.reloads()
	p.sees(open)
	p.sees("!document.querySelector('.draft')")
}

// TestATextIsKeptAgainstWhatWasRead: what another page changed meanwhile is asked
// for, not written over.
func TestATextIsKeptAgainstWhatWasRead(t *testing.T) {
	p := sit(t)
	m := p.opensModel("Stoat", "text", "document.querySelector('textarea')?.value.includes('axtren-setup')")
	p.clicks("textarea")
	p.goes(p.page.Keys(kb.Home, chromedp.KeyModifiers(chromedp.ModifierCtrl)))
	p.goes(p.page.Keys("# mine\n"))
	require.Equal(t, 2, func() int { n, _ := editLow(p.app.URL, m.ID, 1); return n }())
	p.revision(2)
	p.evals("[...document.querySelectorAll('.acts button')].find(b => b.innerText === 'Save as one " +
		"revision').click(), 1")
	p.sees(shows("[role=dialog]", "another page made this"))
	p.clicks("[data-clash=drop]")
	p.sees("!document.querySelector('[role=dialog]')")
	p.sees("document.querySelector('textarea').value.includes('# mine')")
	require.Equal(t, 2, headOf(t, p.app, m.ID))
}

// TestUndoInACleanFieldIsTheModels, and leaving the field makes no empty revision.
func TestUndoInACleanFieldIsTheModels(t *testing.T) {
	p := sit(t)
	p.opens()
	p.clicks("[data-line=starboard_track] .part")
	p.clicks(joint("out/starboard_track/ends"))
	p.types("low", "-71"+kb.Enter)
	p.revision(2)
	p.types("low", "-71")
	p.goes(p.page.Keys("\t"))
	time.Sleep(300 * time.Millisecond)
	p.revision(2)
	p.clicks("[data-field=low] input")
	p.goes(p.page.Keys("z", chromedp.KeyModifiers(chromedp.ModifierCtrl)))
	p.revision(3)
	p.sees("document.querySelector('[data-field=low] input').value.includes('96')")
	p.goes(p.page.Keys("\t"))
	time.Sleep(300 * time.Millisecond)
	p.revision(3)
}

// TestTypingIsNotForTheDeck: a field that gets the focus takes the keys, says so, and
// no switch is thrown.
func TestTypingIsNotForTheDeck(t *testing.T) {
	p := sit(t)
	p.opens()
	p.clicks("[data-line=starboard_track] .part")
	p.clicks(joint("out/starboard_track/ends"))
	p.goes(p.page.Keys("d"))
	p.sees(shows(".deck", "Escape lets go"))
	p.types("low", "-12"+kb.Enter)
	p.revision(2)
	p.sees(shows(".deck", "a field has the keys"))
	p.sees("document.querySelector('[data-field=low] input').value.includes('12')")
	p.sees(shows("[data-line=headlamps] .pulse", "1000"))
	p.clicks("[data-take-in-hand]")
	p.sees(shows(".deck", "Escape lets go"))
	p.clicks(".tools input")
	p.goes(p.page.Keys("was5d"))
	p.sees("document.querySelector('.tools input').value === 'was5d'")
}

// TestASilentServerIsSaid within some seconds, and what could not be kept is sent by
// itself when it answers.
func TestASilentServerIsSaid(t *testing.T) {
	p := sit(t)
	p.opens()
	p.clicks("[data-line=starboard_track] .part")
	p.clicks(joint("out/starboard_track/ends"))
	p.app.Freeze()
	thawed := false
	thaw := func() {
		if !thawed {
			p.app.Thaw()
		}
		thawed = true
	}
	t.Cleanup(thaw)
	start := time.Now()
	p.sees(shows(".state", "the server does not answer"))
	require.Less(t, time.Since(start), 4*time.Second)
	p.sees(shows(".deck", "The server does not answer"))
	p.types("low", "-80"+kb.Enter)
	p.sees(shows(".state", "not saved yet: the server does not answer"))
	thaw()
	p.revision(2)
	p.sees("document.querySelector('[data-field=low] input').value.includes('80')")
}

// TestAnOpenQuestionIsSettledOnLeaving, said, and holds up nothing after it.
func TestAnOpenQuestionIsSettledOnLeaving(t *testing.T) {
	p := sit(t)
	p.clicks("[aria-label='Open Stoat']")
	p.sees("document.querySelector('[data-line=horn]')")
	p.clicks("nav a[href$=log]")
	p.clicks("[data-text]")
	p.sees("document.querySelector('textarea')?.value.includes('axtren-setup')")
	p.clicks("textarea")
	p.goes(p.page.Keys(kb.Home, chromedp.KeyModifiers(chromedp.ModifierCtrl)))
	p.goes(p.page.Keys("# mine\n"))
	id, err := rig.Eval[string](p.page, "location.pathname.split('/')[2]")
	p.goes(err)
	editLow(p.app.URL, id, 1)
	p.revision(2)
	p.evals("[...document.querySelectorAll('.acts button')].find(b => b.innerText === 'Save as one " +
		"revision').click(), 1")
	p.sees(shows("[role=dialog]", "another page made this"))
	p.evals("history.go(-3), 1")
	p.sees("document.querySelector('[data-model=Stoat]')")
	p.sees(shows(".notices", "A change to Stoat was not saved"))
	p.sees("!document.querySelector('.p-dialog-mask')")
	p.clicks("[aria-label='Open Alder']")
	p.sees("document.querySelector('[data-line=horn]')")
	p.clicks(".tools .quiet")
	p.revision(2)
}

// TestAHeldSwitchStaysHeld while another finger comes and goes.
func TestAHeldSwitchStaysHeld(t *testing.T) {
	p := sit(t)
	p.goes(p.page.Size(390, 844))
	p.opensModel("Marram", "functions", "document.querySelector('[data-line=whistle], [data-line]')")
	id := func(n float64) *float64 { return &n }
	finger := func(n float64, css string, dy float64) *input.TouchPoint {
		x, y, err := p.page.Middle(css)
		p.goes(err)
		return &input.TouchPoint{X: x, Y: y + dy, ID: id(n)}
	}
	names, err := rig.Eval[[]string](p.page,
		"[...document.querySelectorAll('[data-switch]')].map(e => e.dataset.switch)")
	p.goes(err)
	haul := ""
	for _, name := range names {
		if strings.HasSuffix(name, ".haul") {
			haul = name
		}
	}
	require.NotEmpty(t, haul)
	control, _, _ := strings.Cut(haul, ".")
	pressed := func(position string) string {
		return "document.querySelector(`[data-switch='" + control + "." + position +
			"']`)?.getAttribute('aria-pressed') === 'true'"
	}
	one := finger(1, "[data-switch='"+haul+"']", 0)
	p.goes(p.page.Touch(input.DispatchTouchEventTypeTouchStart, one))
	p.sees(pressed("haul"))
	// the browser's protocol ends all fingers at once: the second one is an event of the page
	second := func(kind string, y int) {
		p.evals(fmt.Sprintf(`(() => { const pad = document.querySelector("[data-stick='Right stick']")
			pad.setPointerCapture = () => {}
			const box = pad.getBoundingClientRect()
			pad.dispatchEvent(new PointerEvent('%s', { pointerId: 77, pointerType: 'touch', bubbles: true,
				clientX: box.x + box.width / 2, clientY: box.y + box.height / 2 - %d })) })()`, kind, y))
	}
	rests := "[...document.querySelectorAll(`[aria-label='Right stick'] input`)]" +
		".every(s => s.getAttribute('aria-valuetext') === 'in the middle')"
	second("pointerdown", 0)
	second("pointermove", 40)
	p.sees("!" + rests)
	second("pointerup", 40)
	p.sees(rests)
	time.Sleep(200 * time.Millisecond)
	p.sees(pressed("haul"))
	p.goes(p.page.Touch(input.DispatchTouchEventTypeTouchEnd))
	p.sees("!(" + pressed("haul") + ")")
}

// TestANumberThatWasNotLeftIsKept when the page is about to go.
func TestANumberThatWasNotLeftIsKept(t *testing.T) {
	p := sit(t)
	m := p.opensModel("Stoat", "functions", "document.querySelector('[data-line=horn]')")
	p.clicks("[data-line=starboard_track] .part")
	p.clicks(joint("out/starboard_track/ends"))
	p.types("low", "-73") // typed, and not left
	p.evals("window.dispatchEvent(new Event('beforeunload', {cancelable: true})), 1")
	p.revision(2)
	var doc struct {
		Outputs []struct {
			ID  string
			Low float64
		}
	}
	p.goes(json.Unmarshal(p.ask("GET", "/api/models/"+m.ID+"/export?format=json", ""), &doc))
	require.Equal(t, -73.0, doc.Outputs[1].Low)
}
