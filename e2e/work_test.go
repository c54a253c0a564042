package e2e

import (
	"fmt"
	"math"
	"math/rand/v2"
	"net/http"
	"os"
	"os/exec"
	"path/filepath"
	"strconv"
	"strings"
	"syscall"
	"testing"
	"time"

	"github.com/chromedp/chromedp"
	"github.com/chromedp/chromedp/kb"
	"github.com/stretchr/testify/require"

	"axtren/e2e/rig"
)

// beside opens one more page, on the same or another server.
func (p *person) beside(url string) *person {
	p.Helper()
	page, err := browser.NewPage(1280, 800)
	p.goes(err)
	p.Cleanup(page.Close)
	other := &person{p.T, p.app, page}
	p.goes(page.Go(url))
	return other
}

func (p *person) evals(script string) {
	p.Helper()
	_, err := rig.Eval[any](p.page, script)
	p.goes(err)
}

// chooses opens a menu and takes what has some words in it. A menu closes where the page
// scrolls, so it is brought into view before.
func (p *person) chooses(button, item string) {
	p.Helper()
	p.sees("document.querySelector(" + strconv.Quote(button) + ")")
	p.evals("new Promise(done => { document.querySelector(" + strconv.Quote(button) +
		").scrollIntoView({block: 'center'}); setTimeout(() => done(1), 200) })")
	p.clicks(button)
	p.sees(shows("[role=menuitem]", item))
	p.evals("[...document.querySelectorAll('[role=menuitem]')].find(i => i.innerText.includes(" +
		strconv.Quote(item) + ")).querySelector('.p-menu-item-content').click()")
	p.sees("!document.querySelector('[role=menuitem]')") // it covers what lies below it until it is gone
}

// does takes what a model's row has behind its button.
func (p *person) does(name, item string) {
	p.Helper()
	p.chooses(fmt.Sprintf("[data-model=%q] [aria-haspopup]", name), item)
}

func (p *person) place() string {
	p.Helper()
	at, err := rig.Eval[string](p.page, "location.pathname")
	p.goes(err)
	return at
}

// empties takes every model out of the yard.
func (p *person) empties() {
	p.Helper()
	p.sees("document.querySelector('main li h2')")
	for n := 7; n > 0; n-- {
		p.sees(fmt.Sprintf("document.querySelectorAll('main li h2').length === %d", n))
		p.chooses("main li [aria-haspopup]", "Remove")
	}
	p.sees(shows(".empty", "No model yet"))
}

func TestTheYardTakesPutsBackAndStaysEmpty(t *testing.T) {
	p := sit(t)
	p.empties()
	p.presses("put it back")
	p.sees("document.querySelectorAll('main li h2').length === 1")
	p.goes(p.page.Keys("z", chromedp.KeyModifiers(chromedp.ModifierCtrl)))
	p.sees("document.querySelectorAll('main li h2').length === 2")
	p.chooses("main li [aria-haspopup]", "Remove")
	p.sees("document.querySelectorAll('main li h2').length === 1")
	p.chooses("main li [aria-haspopup]", "Remove")
	p.sees(shows(".empty", "No model yet"))
	require.NoError(t, p.app.Stop())
	require.NoError(t, p.app.Again())
	p.goes(p.page.Go(p.app.URL))
	p.sees(shows(".empty", "No model yet")) // the demo, once taken out, stays out

	p.presses("Tracked model")
	p.sees("document.querySelector('input.name')")
	p.goes(p.page.Keys("a", chromedp.KeyModifiers(chromedp.ModifierCtrl)))
	p.goes(p.page.Keys("Ermine" + kb.Enter))
	p.sees(shows("main h2", "Ermine"))
	p.does("Ermine", "Copy")
	p.sees(shows("main h2", "Ermine copy"))
	p.clicks("input[type=search]")
	p.goes(p.page.Keys("copy"))
	p.sees("document.querySelectorAll('main li h2').length === 1")
}

// TestTheWholeYardComesBack exports the yard, empties it and brings it in again.
func TestTheWholeYardComesBack(t *testing.T) {
	p := sit(t)
	p.sees("document.querySelectorAll('main li h2').length === 7")
	texts := func() []string {
		list, err := rig.Eval[[]string](p.page, `fetch('/api/models').then(r => r.json()).then(l => Promise.all(l.sort((a, b) => a.name < b.name ? -1 : 1)
			.map(async m => await (await fetch('/api/models/' + m.id + '/export')).text() + JSON.stringify((await (await fetch('/api/models/' + m.id + '/recordings')).json()).map(r => r.name)))))`)
		p.goes(err)
		return list
	}
	before := texts()
	require.Contains(t, before[0], "unload at the mill")
	answer, err := http.Get(p.app.URL + "/api/archive")
	require.NoError(t, err)
	defer answer.Body.Close()
	archive := filepath.Join(t.TempDir(), "yard.zip")
	out, err := os.Create(archive)
	require.NoError(t, err)
	_, err = out.ReadFrom(answer.Body)
	require.NoError(t, err)
	require.NoError(t, out.Close())
	p.empties()
	p.goes(p.page.Upload("input[type=file]", archive))
	p.sees("document.querySelectorAll('main li h2').length === 7")
	require.Equal(t, before, texts())

	bad := filepath.Join(t.TempDir(), "bad.yaml")
	require.NoError(t, os.WriteFile(bad, []byte("format: other"), 0o600))
	good := filepath.Join(t.TempDir(), "good.yaml")
	require.NoError(t, os.WriteFile(good, []byte("format: axtren-setup\nversion: 1\nname: Weasel"), 0o600))
	p.goes(p.page.Upload("input[type=file]", bad, good))
	p.sees(shows("[role=dialog]", "bad.yaml"))
	p.sees(shows("[role=dialog]", "is with your models as Weasel"))
}

// TestKeyboardFromAnEmptyYard goes from an empty yard to a moving track without
// a mouse.
func TestKeyboardFromAnEmptyYard(t *testing.T) {
	p := sit(t)
	p.empties()
	p.goes(p.page.Go(p.app.URL))
	p.sees(shows(".empty button", "Tracked model"))
	p.tabTo(".empty button:nth-child(2)")
	p.goes(p.page.Keys(kb.Enter))
	p.sees("document.activeElement.matches('input.name')")
	p.goes(p.page.Keys("Ermine" + kb.Enter))
	p.sees(shows("main h2", "Ermine"))
	p.tabTo("main li .act")
	p.goes(p.page.Keys(kb.Enter))
	p.sees("document.querySelector('[data-line=port_track]')")
	p.goes(p.page.Keys("d"))
	p.sees(shows(".deck", "Escape lets go"))
	p.goes(p.page.Key("keyDown", "ArrowUp", "ArrowUp"))
	p.sees(shows("[data-line=port_track] .pulse", "2000"))
	p.goes(p.page.Key("keyUp", "ArrowUp", "ArrowUp"))
	p.goes(p.page.Keys(kb.Escape))
	p.tabTo("[data-line=lamps] .part")
	p.goes(p.page.Keys(kb.ArrowUp, chromedp.KeyModifiers(chromedp.ModifierAlt)))
	p.revision(3)
	p.sees("[...document.querySelectorAll('[data-line]')].map(e => e.dataset.line).join() === " +
		"'port_track,lamps,starboard_track'")
	p.sees("document.activeElement.closest('[data-line=lamps]')")
}

// TestEveryPartHasItsForm adds a line and a rule, sets them, and is told what a
// removal would touch.
func TestEveryPartHasItsForm(t *testing.T) {
	p := sit(t)
	p.opens()
	p.presses("Add a function")
	p.revision(2)
	p.sees(shows("h2", "New function"))
	p.sees("document.activeElement.closest('.form [data-field=label]')") // it is named at once
	p.types("label", "Snow fan"+kb.Enter)
	p.revision(3)
	p.sees(shows("h2", "Snow fan"))
	p.clicks(".form .id")
	p.goes(p.page.Keys("a", chromedp.KeyModifiers(chromedp.ModifierCtrl)))
	p.goes(p.page.Keys("fan" + kb.Enter))
	p.revision(4)
	p.goes(p.page.Keys(kb.Escape))

	// a source for it, which is chosen by moving it
	p.clicks("[data-line=fan] .part, [data-line=fan]")
	p.sees("document.querySelector(\"[aria-label='Add to Snow fan']\")")
	p.chooses("[aria-label='Add to Snow fan']", "another source")
	p.revision(5)
	p.sees("document.querySelector('[data-field=to]')")
	p.sees(shows("[data-field=to]", "Snow fan"))
	p.evals("[...document.querySelectorAll('[data-field=from] button')].find(b => " +
		"b.innerText.includes('Choose')).click()")
	p.sees(shows("[data-field=from]", "Now move it"))
	p.clicks("[data-switch='lights.lit']")

	p.revision(6)
	p.sees(shows("[data-field=from]", "Lamp switch"))
	p.sees(shows("[data-line=fan] .pulse, [data-line=fan]", "2000"))

	// what a removal would touch is said before; a control lives in Kit
	p.clicks("nav a[href$=kit]")
	remove := "[...document.querySelectorAll('[data-form=\"controls/lights\"] button')].find(b => " +
		"b.innerText === 'Remove it').click()"
	p.clicks("[data-behind='controls/lights'] .name")
	p.sees(shows(".form h3", "Lamp switch"))
	p.evals(remove)
	p.sees(shows("[role=dialog]", "mix Lamp switch to Headlamps"))
	p.presses("Leave everything as it is")
	p.sees("!document.querySelector('[role=dialog]')")
	p.revision(6)
	p.evals(remove)
	p.presses("Remove them too")
	p.revision(7)
	p.sees("!document.querySelector('[data-behind=\"controls/lights\"]')")
	p.presses("Undo")
	p.revision(8)
	p.sees("document.querySelector('[data-behind=\"controls/lights\"]')")
	p.clicks("nav a[href$=functions]")
	p.sees(shows("[data-line=fan] .phrase", "Lamp switch"))

	// exchanging two channels is one edit
	p.clicks("[data-line=horn] .part")
	p.clicks(joint("out/horn/ends"))
	p.clicksBelow("[data-part='outputs/horn']")
	p.chooses("[data-exchange]", "Winch")
	p.revision(9)
	p.sees(shows(joint("out/horn/pin"), "9"))
}

// TestTheDocumentAsText edits the text, is told a mistake at its line, and reads
// what changed.
func TestTheDocumentAsText(t *testing.T) {
	p := sit(t)
	p.opens()
	p.clicks("nav a[href$=log]")
	p.clicks("[data-text]")
	p.sees("document.querySelector('textarea')?.value.includes('blade_lift')")
	put := func(from, to string) {
		p.Helper()
		p.evals(fmt.Sprintf("(() => { const t = document.querySelector('textarea'); t.value = "+
			"t.value.replace(%q, %q); t.dispatchEvent(new Event('input')) })()", from, to))
		p.presses("Save as one revision")
	}
	put("low: -70", "low: -700")
	p.sees(shows("[role=alert]", "is out of range"))
	p.sees(shows(".gutter .marked", ""))
	line, err := rig.Eval[string](p.page, "document.querySelector('.marked').innerText")
	p.goes(err)
	n, err := strconv.Atoi(line)
	require.NoError(t, err)
	text, err := rig.Eval[string](p.page,
		fmt.Sprintf("document.querySelector('textarea').value.split('\\n')[%d]", n-1))
	p.goes(err)
	require.Contains(t, text, "-700", "the mistake is marked at its own line")
	put("low: -700", "low: -71")
	p.revision(2)
	p.sees(shows(".words li", "Blade lift: “low end” changed from −70 to −71"))
	p.sees(shows(".differences .new", "low: -71"))
	p.sees(shows(".differences .gone", "low: -70"))
	// what that does: not the same, and how to see it
	p.sees(shows("[data-same=fails] li", "Blade lift (channel 3) is sent"))
	p.picks("[data-other]", "Alder")
	p.sees(shows("[data-same=unlike]", "They cannot be compared."))
	// a label does nothing to what is sent
	put("label: Blade lift", "label: The blade")
	p.revision(3)
	p.sees(shows("[data-same=fails]", "")) // from the first
	p.evals("(l => { l.value = 2; l.dispatchEvent(new Event('change')) " +
		"})(document.querySelector('[data-from]'))")
	p.sees(shows("[data-same=holds]", "They send the same, whatever hands do"))
	p.spotless("the log")
}

// TestTwoTabs has two people at one model: an edit shows at once at the other's,
// a stale one asks, and each undo takes back one's own.
func TestTwoTabs(t *testing.T) {
	p := sit(t)
	p.opens()
	other := p.beside(p.app.URL + p.place())
	other.sees("document.querySelector('[data-line=horn]')")
	for _, one := range []*person{p, other} {
		one.clicks("[data-line=blade_lift] .part")
	}
	p.types("low", "-60"+kb.Enter)
	p.revision(2)
	other.revision(2)
	other.sees(shows(joint("out/blade_lift/ends"), "ends −60"))

	// the other does not hear of the next one before its own edit
	other.evals("window.fetchNow = window.fetch; window.stale = true; window.fetch = (r) => { if " +
		"(window.stale && r.url.endsWith('/acts')) { window.stale = false; r = new Request(r, { headers: { " +
		"...Object.fromEntries(r.headers), 'if-match': '\"1\"' } }) } return fetchNow(r) }; true")
	other.types("high", "70"+kb.Enter)
	other.sees(shows("[role=dialog]", "Blade lift: “low end” changed from −70 to −60"))
	other.clicks("[data-clash=on-top]")
	other.revision(3)
	p.sees(shows(joint("out/blade_lift/ends"), "ends −60 … +70"))

	// each takes back its own
	p.sees("document.activeElement.blur(), true")
	p.presses("Undo")
	p.revision(4)
	p.sees(shows(joint("out/blade_lift/ends"), "ends −70 … +70"))

	// and is asked where a later edit touched the same place
	p.types("low", "-50"+kb.Enter)
	p.revision(5)
	other.revision(5)
	other.types("low", "-40"+kb.Enter)
	other.revision(6)
	p.revision(6)
	p.presses("Undo")
	p.sees(shows("[role=dialog]", "“low end” changed from −50 to −40"))
	p.clicks("[data-clash=drop]")
	p.sees("!document.querySelector('[role=dialog]')")
	p.revision(6)
	p.presses("Undo")
	p.sees("document.querySelector('[data-clash=on-top]')")
	p.clicks("[data-clash=on-top]")
	p.revision(7)
	p.sees(shows(joint("out/blade_lift/ends"), "ends −70"))
}

// TestTwoServersOnOneDatabase: what is edited at one shows at the other at once.
func TestTwoServersOnOneDatabase(t *testing.T) {
	p := sit(t)
	p.opens()
	url, err := p.app.DatabaseURL()
	require.NoError(t, err)
	second, err := rig.StartOn(binary, url)
	require.NoError(t, err)
	t.Cleanup(func() { require.NoError(t, second.Stop(), second.Log()) })
	other := p.beside(second.URL + p.place())
	other.sees("document.querySelector('[data-line=horn]')")
	p.clicks("[data-line=blade_lift] .part")
	p.types("low", "-61"+kb.Enter)
	other.revision(2)
	other.clicks("[data-line=blade_lift] .part")
	other.types("low", "-62"+kb.Enter)
	p.revision(3)
	p.sees(shows(joint("out/blade_lift/ends"), "ends −62"))
}

// TestRecordedHandsPlayAgain records, keeps by name, plays frame by frame, and
// gives the same trace from the command line.
func TestRecordedHandsPlayAgain(t *testing.T) {
	p := sit(t)
	p.opens()
	p.goes(p.page.Drag("[data-stick='Right stick']", 0, -80, false))
	p.sees(shows("[data-line=port_track] .pulse", "1970"))
	p.goes(p.page.Release())
	p.clicks("[data-switch='lights.lit']")

	p.sees(shows("[data-line=headlamps] .pulse", "2000"))
	p.presses("Recordings")
	p.sees("document.querySelector('[role=dialog] form input')")
	p.clicks("[role=dialog] form input")
	p.goes(p.page.Keys("lamps and off" + kb.Enter))
	p.sees(shows("[role=dialog]", "is saved"))
	script, err := rig.Eval[string](p.page,
		"fetch(document.querySelector(\"[aria-label='Script of lamps and off']\").href).then(r => r.text())")
	p.goes(err)
	path := filepath.Join(t.TempDir(), "script.csv")
	require.NoError(t, os.WriteFile(path, []byte(script), 0o600))
	trace, err := exec.Command(binary, "simulate", "../demo/stoat.yaml", "--script", path).Output()
	require.NoError(t, err)
	rows := strings.Split(strings.TrimSpace(string(trace)), "\n")
	column := -1
	for i, name := range strings.Split(rows[0], ",") {
		if strings.HasPrefix(name, "port_track") && strings.HasSuffix(name, "us") {
			column = i
		}
	}
	require.Positive(t, column)

	p.clicks("[aria-label='Play lamps and off']")
	p.sees("document.querySelector('.player')")
	p.presses("Hold")
	last := len(rows) - 2
	for _, frame := range []int{0, last / 4, last / 3, last / 2, last} {
		p.evals(fmt.Sprintf("(() => { const r = document.querySelector('.player input[type=range]'); "+
			"r.value = %d; r.dispatchEvent(new Event('input')) })()", frame))
		want, err := strconv.ParseFloat(strings.Split(rows[frame+1], ",")[column], 64)
		require.NoError(t, err)
		p.sees(shows(".player .time", fmt.Sprintf("%.2f s", float64(frame)*0.02)))
		p.sees(shows("[data-line=port_track] .pulse", fmt.Sprintf("%.0f", math.Floor(want+0.5))))
	}
	p.sees(shows("[data-line=headlamps] .pulse", "2000"))
	p.presses("Back to the hands")
	p.sees("!document.querySelector('.player')")

	p.presses("Recordings")
	p.sees("document.querySelector('input[accept=\".csv\"]')")
	bad := filepath.Join(t.TempDir(), "other model.csv")
	require.NoError(t, os.WriteFile(bad, []byte("t_s,control,value\n0,sail,100\n"), 0o600))
	p.goes(p.page.Upload("input[accept='.csv']", bad))
	p.sees(shows("[role=dialog]", "there is nothing of this name to move"))
	good := filepath.Join(t.TempDir(), "horn twice.csv")
	require.NoError(t, os.WriteFile(good, []byte("t_s,control,value\n0.5,top,press\n1,top,off\n"), 0o600))
	p.goes(p.page.Upload("input[accept='.csv']", good))
	p.sees(shows("[role=dialog] strong", "horn twice"))
}

// TestTheDatabaseComesAndGoes stops PostgreSQL under the running application:
// edits are refused in words, nothing acknowledged is lost, it recovers by itself.
func TestTheDatabaseComesAndGoes(t *testing.T) {
	app, err := rig.Start(binary, t.Name())
	require.NoError(t, err)
	t.Cleanup(func() { require.NoError(t, app.Stop(), app.Log()) })
	page, err := browser.NewPage(1280, 800)
	require.NoError(t, err)
	t.Cleanup(page.Close)
	p := &person{t, app, page}
	p.goes(page.Go(app.URL))
	p.opens()
	p.clicks("[data-line=blade_lift] .part")
	p.types("low", "-60"+kb.Enter)
	p.revision(2)
	for n := range 2 {
		pg, err := app.PostgreSQL()
		require.NoError(t, err)
		require.NoError(t, pg.Signal(syscall.SIGINT))
		p.types("low", fmt.Sprintf("-%d", 61+n)+kb.Enter)
		p.goes(p.page.Drag("[data-stick='Right stick']", 0, -80, false))
		p.sees(shows(joint("device/lift_valve"), "")) // the bench plays on
		p.goes(p.page.Release())
		p.revision(3 + n) // the page sends it again until it is kept
	}
	p.sees(shows(joint("out/blade_lift/ends"), "ends −62"))
	require.Contains(t, app.Log(), "starting it again")
}

// kill ends what a round of TestEveryAcknowledgedRevisionIsThere is about, as a power
// cut would, and tells whether the application is to be started again.
func kill(t *testing.T, app *rig.App, what string) (again bool) {
	database := func() *os.Process {
		pg, err := app.PostgreSQL()
		require.NoError(t, err)
		return pg
	}
	switch what {
	case "database":
		database().Kill()
		return false
	case "backend":
		if one := backend(t, database().Pid); one != nil {
			one.Kill()
		}
		return false
	case "backend and application":
		if one := backend(t, database().Pid); one != nil {
			one.Kill()
		}
		app.Kill()
	case "database and application":
		database().Kill()
		app.Kill()
	default:
		app.Kill()
	}
	return true
}

// backend finds a process of a database that serves a connection; nil where there is
// none just now.
func backend(t *testing.T, server int) *os.Process {
	t.Helper()
	all, err := filepath.Glob("/proc/[0-9]*/stat")
	require.NoError(t, err)
	for _, file := range all {
		text, err := os.ReadFile(file)
		if err != nil {
			continue // it has ended
		}
		fields := strings.Fields(string(text[strings.LastIndexByte(string(text), ')')+1:]))
		words, err := os.ReadFile(filepath.Dir(file) + "/cmdline")
		if err != nil || len(fields) < 2 || fields[1] != strconv.Itoa(server) ||
			!strings.Contains(string(words), "axtren axtren") {
			continue
		}
		pid, err := strconv.Atoi(filepath.Base(filepath.Dir(file)))
		require.NoError(t, err)
		one, err := os.FindProcess(pid)
		require.NoError(t, err)
		return one
	}
	return nil
}

// TestEveryAcknowledgedRevisionIsThere kills the application, its database, one backend
// of it, and two of them together, by turns, at random moments during edits: AXTREN_KILLS
// times, 20 where it is not said.
func TestEveryAcknowledgedRevisionIsThere(t *testing.T) {
	kills := 20
	if text := os.Getenv("AXTREN_KILLS"); text != "" {
		n, err := strconv.Atoi(text)
		require.NoError(t, err)
		kills = n
	}
	app, err := rig.Start(binary, t.Name())
	require.NoError(t, err)
	t.Cleanup(func() { require.NoError(t, app.Stop(), app.Log()) })
	id := firstModel(t, app)
	acknowledged, slowest := 1, time.Duration(0)
	kinds := []string{"application", "database", "backend", "backend and application",
		"database and application"}
	for round := range kills {
		stop, over := time.After(time.Duration(rand.IntN(250))*time.Millisecond), make(chan bool, 1)
		go func() {
			<-stop
			over <- kill(t, app, kinds[round%len(kinds)])
		}()
		again, ended := false, false
		for !ended {
			n, ok := editLow(app.URL, id, acknowledged)
			if ok {
				acknowledged = n
			}
			select {
			case again = <-over:
				ended = true
			default:
			}
		}
		start := time.Now()
		if again {
			require.NoError(t, app.Again(), kinds[round%len(kinds)])
		}
		head := 0
		require.Eventually(t, func() bool {
			var ok bool
			head, ok = revisionOf(app, id)
			return ok
		}, 30*time.Second, 20*time.Millisecond, "%s: it answers again", kinds[round%len(kinds)])
		slowest = max(slowest, time.Since(start))
		require.GreaterOrEqual(t, head, acknowledged, "an acknowledged revision is lost")
		acknowledged = head
	}
	t.Logf("%d kills, %d revisions, none lost, back after at most %v", kills, acknowledged, slowest)
	require.Greater(t, acknowledged, kills)
}

// TestALongAndBrokenWay drags a lever over a connection that takes 400 ms there
// and back and is cut in mid-drag: no movement is applied out of order, and in the
// end the deck shows what the server has.
func TestALongAndBrokenWay(t *testing.T) {
	p := sit(t)
	p.opens()
	proxy, err := rig.NewProxy(p.app.URL, 200*time.Millisecond)
	require.NoError(t, err)
	t.Cleanup(proxy.Close)
	far := p.beside(proxy.URL + p.place())
	far.sees("document.querySelector('[data-line=horn]')")
	// what the bench says of the lever, as it comes in
	far.evals(`(() => {
		window.seen = []
		const listen = WebSocket.prototype.addEventListener
		const set = Object.getOwnPropertyDescriptor(WebSocket.prototype, 'onmessage')
		Object.defineProperty(WebSocket.prototype, 'onmessage', { set(f) {
			window.seen.push('open')
			set.set.call(this, (e) => { const m = JSON.parse(e.data); if (m.n !== undefined) window.seen.push(m.n); f(e) }) } })
		return true
	})()`)
	far.goes(far.page.Drag("[data-stick='Right stick']", 0, -40, false))
	far.sees(shows("[data-line=port_track] .pulse", "1"))
	proxy.Drop()
	far.sees("seen.length > 0") // it comes back by itself
	for i := range 12 {
		far.evals(fmt.Sprintf(`(() => { const pad = document.querySelector("[data-stick='Right stick']"); const b = pad.getBoundingClientRect()
			pad.dispatchEvent(new PointerEvent('pointermove', { pointerId: 1, bubbles: true, buttons: 1, clientX: b.x + b.width / 2, clientY: b.y + b.height / 2 - %d })); return true })()`, 40-8*i))
		if i == 6 {
			proxy.Drop()
		}
		time.Sleep(30 * time.Millisecond)
	}
	far.goes(far.page.Release())
	far.sees("!document.querySelector('.state').innerText.includes('not connected')")
	far.sees(shows("[data-line=port_track] .pulse", "1500"))
	time.Sleep(time.Second)
	far.sees(shows("[data-line=port_track] .pulse", "1500"))
	numbers, err := rig.Eval[[]any](far.page, "seen")
	far.goes(err)
	last := -1.0
	for _, n := range numbers {
		if v, ok := n.(float64); ok {
			require.GreaterOrEqual(t, v, last, "%v", numbers)
			last = v
		} else {
			last = -1 // a new connection counts from its hello on
		}
	}
	require.Contains(t, numbers, "open")
	require.Greater(t, last, 0.0, "%v", numbers)
}

// TestSomethingIsWrong goes from a complaint to the joint that causes it.
func TestSomethingIsWrong(t *testing.T) {
	p := sit(t)
	p.sees("document.querySelectorAll('main li h2').length === 7")
	p.clicks("[aria-label='Something is wrong with Stoat']")
	p.sees("document.querySelector('[data-trouble=line] option[value=blade_lift]')")
	p.sees("document.querySelector('[data-trouble=complaint] option[value=short]')")
	choose := func(which, value string) {
		p.Helper()
		p.evals(fmt.Sprintf("(() => { const s = document.querySelector('[data-trouble=%s]'); s.value = %q; "+
			"s.dispatchEvent(new Event('change')) })()", which, value))
	}
	choose("line", "blade_lift")
	choose("complaint", "short")
	p.sees(shows(".causes .now", "The ends of Blade lift are −70 … +82."))
	choose("complaint", "same")
	p.sees(shows("[role=dialog]", "Look at the leads"))
	choose("complaint", "nothing")
	p.sees(shows(".causes li", "Channel 3 comes out at Ten-pin receiver, pin 3."))
	choose("complaint", "wrong_way")
	p.sees(shows(".causes li", "The direction of Blade lift is normal."))
	p.clicks(".causes .link")
	p.sees("!document.querySelector('[role=dialog]')")
	p.sees(shows(joint("out/blade_lift/ends")+".chosen", "ends"))
	p.sees(shows(".editor [data-field=reverse]", "no"))
	p.sees(shows(".form h3", "Blade lift"))

	// once more, after the line was folded
	p.clicks(".block .title")
	p.sees("!document.querySelector('.block')")
	p.presses("Something is wrong")
	p.sees(shows(".causes li", "The direction of Blade lift is normal."))
	p.clicks(".causes .link")
	p.sees(shows(joint("out/blade_lift/ends")+".chosen", "ends"))
	p.sees(shows(".editor [data-field=reverse]", "no"))
}

// TestAStickIsMovedByTheKeyboard: both of its axes from either slider, as a reader of the
// page meets it, until it is let go of.
func TestAStickIsMovedByTheKeyboard(t *testing.T) {
	p := sit(t)
	p.opens()
	p.sees("document.querySelector('.stick [data-lever=drive]')?.getAttribute('aria-valuetext') === 'in " +
		"the middle'")
	p.evals("document.querySelector('.stick [data-lever=drive]').focus(), 1")
	p.goes(p.page.Keys(kb.ArrowUp + kb.ArrowUp + kb.ArrowRight))
	p.sees("document.querySelector('.stick [data-lever=drive]').getAttribute('aria-valuetext') === " +
		"'forward 10 percent'")
	p.sees("document.querySelector('.stick [data-lever=turn]').getAttribute('aria-valuetext') === 'right 5 " +
		"percent'")
	p.sees("document.querySelector('[data-line=port_track] .pulse').innerText !== '1500'")
	p.clean("a stick under the keys")
	p.goes(p.page.Keys(kb.Home))
	p.sees("document.querySelector('.stick [data-lever=drive]').getAttribute('aria-valuetext') === 'in the " +
		"middle'")
	p.goes(p.page.Keys(kb.ArrowDown))
	p.sees("document.querySelector('.stick [data-lever=drive]').getAttribute('aria-valuetext') === 'back 5 " +
		"percent'")
	p.evals("document.activeElement.blur(), 1")
	p.sees("document.querySelector('.stick [data-lever=drive]').getAttribute('aria-valuetext') === 'in the " +
		"middle'")
}

// TestAFormSaysWhatAFieldIs: of the field in which one is, and of no other.
func TestAFormSaysWhatAFieldIs(t *testing.T) {
	p := sit(t)
	p.opens()
	p.clicks("nav a[href$=kit]")
	p.clicks("[data-behind='devices/port_controller']")
	p.sees("document.querySelector('.form .help')?.innerText.trim() === ''")
	p.evals("document.querySelector(\".form [data-field=dead_us] input\").focus(), 1")
	p.sees(shows(".form .help", "without moving anything"))
	p.evals("document.querySelector(\".form [data-field=notes] input, .form [data-field=notes] " +
		"textarea\").focus(), 1")
	p.sees(shows(".form .help", "want to remember"))
	p.sees("!document.querySelector('.form .help').innerText.includes('without moving')")
}
