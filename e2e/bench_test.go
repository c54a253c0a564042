// Package e2e drives the real application, its real database and a real
// browser, as a person does.
package e2e

import (
	"fmt"
	"os"
	"os/exec"
	"path/filepath"
	"strconv"
	"strings"
	"testing"
	"time"

	"github.com/chromedp/cdproto/input"
	"github.com/chromedp/chromedp"
	"github.com/chromedp/chromedp/kb"
	"github.com/stretchr/testify/require"

	"axtren/e2e/rig"
)

var (
	binary  string
	browser *rig.Browser
)

func TestMain(m *testing.M) { os.Exit(run(m)) }

func run(m *testing.M) int {
	var err error
	if binary, err = rig.Binary(); err != nil {
		fmt.Fprintln(os.Stderr, err)
		return 1
	}
	defer os.RemoveAll(filepath.Dir(binary))
	if browser, err = rig.OpenBrowser(); err != nil {
		fmt.Fprintln(os.Stderr, err)
		return 1
	}
	defer browser.Close()
	return m.Run()
}

// person is somebody at a page, whose every step must go well.
type person struct {
	*testing.T
	app  *rig.App
	page *rig.Page
}

// sit starts the application on an empty database and opens its page.
func sit(t *testing.T) *person {
	app, err := rig.Start(binary, strings.ReplaceAll(t.Name(), "/", "-"))
	require.NoError(t, err)
	t.Cleanup(func() {
		require.NoError(t, app.Stop(), app.Log())
		require.NotContains(t, app.Log(), "ERROR")
	})
	page, err := browser.NewPage(1280, 800)
	require.NoError(t, err)
	t.Cleanup(page.Close)
	p := &person{t, app, page}
	p.goes(page.Go(app.URL))
	return p
}

func (p *person) goes(err error) {
	p.Helper()
	require.NoError(p, err)
}

func (p *person) sees(script string) {
	p.Helper()
	p.goes(p.page.Wait(script))
}

func (p *person) reads(css string) string {
	p.Helper()
	text, err := p.page.Text(css)
	p.goes(err)
	return text
}

func (p *person) clicks(css string) {
	p.Helper()
	p.goes(p.page.Click(css))
}

// clicksBelow clicks what stands below something that is still growing: once it has stood
// still for a moment, as a hand would.
func (p *person) clicksBelow(css string) {
	p.Helper()
	p.sees("document.querySelector(" + strconv.Quote(css) + ")")
	require.Eventually(p, func() bool {
		still, err := rig.Eval[bool](p.page, fmt.Sprintf(`(async () => {
			const top = () => document.querySelector(%q)?.getBoundingClientRect().top
			const before = top()
			await new Promise(done => setTimeout(done, 250))
			return before !== undefined && top() === before
		})()`, css))
		return err == nil && still
	}, 15*time.Second, time.Millisecond, "%s never stands still", css)
	p.clicks(css)
}

// opens goes from the yard to the lines of the Stoat.
func (p *person) opens() {
	p.Helper()
	p.clicks("main li .act")
	p.sees("document.querySelector('[data-line=horn]')")
}

func (p *person) pulse(line string) string {
	p.Helper()
	return p.reads("[data-line=" + line + "] .pulse")
}

func shows(css, text string) string {
	return fmt.Sprintf("[...document.querySelectorAll(%q)].some(e => (e.innerText || "+
		"e.textContent).includes(%q))", css, text)
}

// types puts a text into a field of the open editor.
func (p *person) types(field, text string) {
	p.Helper()
	p.writes("[data-field="+field+"] input", text)
}

// writes puts a text in the place of that of an input.
func (p *person) writes(css, text string) {
	p.Helper()
	p.clicks(css)
	p.goes(p.page.Keys("a", chromedp.KeyModifiers(chromedp.ModifierCtrl)))
	p.goes(p.page.Keys(text))
}

// reloads loads the page anew, and goes on when the one that was there is gone.
func (p *person) reloads() {
	p.Helper()
	p.evals("location.reload(), window.before = 1")
	p.sees("!window.before")
}

func (p *person) revision(n int) {
	p.Helper()
	p.sees(shows(".state", fmt.Sprintf("saved, revision %d", n)))
}

func joint(key string) string { return fmt.Sprintf("[data-joint='%s']", key) }

func TestANewcomerMovesAModel(t *testing.T) {
	p := sit(t)
	require.Contains(t, p.reads("main li"), "snow groomer")
	p.opens()
	require.Equal(t, "1500", p.pulse("port_track"))
	p.goes(p.page.Drag("[data-stick='Right stick']", 0, -80, false)) // as far forward as it goes
	p.sees(shows("[data-line=port_track] .pulse", "1970"))           // stop +94
	p.sees(shows("[data-line=starboard_track] .pulse", "1020"))      // turned round, stop -96
	p.sees("document.querySelector('[data-line=port_track] .answering')")
	p.goes(p.page.Release())
	p.sees(shows("[data-line=port_track] .pulse", "1500"))

	p.clicks("[data-switch='lights.lit']")
	p.sees(shows("[data-line=headlamps] .pulse", "2000"))
	p.goes(p.page.Drag("[data-switch='top.press']", 0, 0, false))
	p.sees(shows("[data-line=horn] .pulse", "2000"))
	p.goes(p.page.Release())
	p.sees(shows("[data-line=horn] .pulse", "1000"))
}

func TestEditsAreKeptUndoneAndStillThereAfterAReload(t *testing.T) {
	p := sit(t)
	p.opens()
	p.clicks("[data-line=starboard_track] .part")
	p.clicks(joint("out/starboard_track/ends"))
	require.Equal(t, "on this transmitter: stick forward 96, back 94", p.reads(".editor > p.label"))
	p.types("low", "-80"+kb.Enter)
	p.revision(2)
	p.sees(shows(joint("out/starboard_track/ends"), "ends −80 … +94"))
	top := func() float64 {
		y, err := rig.Eval[float64](p.page, fmt.Sprintf("document.querySelector(%q).getBoundingClientRect().top",
			joint("out/starboard_track/turn")))
		p.goes(err)
		return y
	}
	where := top()
	p.goes(p.page.Drag("[data-stick='Right stick']", 0, -80, false))
	p.sees(shows(joint("out/starboard_track/pulse"), "1100.0"))
	p.sees(shows(".block header", "answering the right stick"))
	require.Equal(t, where, top(), "moving a lever moves nothing from under the hand")
	p.goes(p.page.Release())

	p.clicks(joint("out/starboard_track/turn"))
	p.clicks("[data-field=reverse] input")
	p.revision(3)
	// what turns nothing round is not drawn, and is among the ends from then on
	p.sees("!document.querySelector(`" + joint("out/starboard_track/turn") + "`)")
	p.sees("document.querySelector(`" + joint("out/starboard_track/ends") + "`).matches('.chosen')")
	p.sees(shows("[data-field=reverse]", "no"))
	p.clicks(joint("term/port_track/1"))
	p.types("gain", "50"+kb.Enter)
	p.revision(4)
	p.sees(shows(joint("term/port_track/1"), "gain 50"))
	p.clicks(joint("demand/drive_soft"))
	p.types("expo", "0"+kb.Enter)
	p.revision(5)
	p.types("rate", "90"+kb.Tab) // leaving the field keeps it
	p.revision(6)
	p.sees(shows(joint("demand/drive_soft"), "rate 90"))

	for n := 7; n <= 9; n++ {
		p.goes(p.page.Keys("z", chromedp.KeyModifiers(chromedp.ModifierCtrl)))
		p.revision(n)
	}
	p.sees(shows(joint("term/port_track/1"), "gain 80"))
	p.goes(p.page.Go(p.app.URL))
	p.opens()
	p.revision(9)
	p.clicks("[data-line=port_track] .part")
	p.sees(shows(joint("term/port_track/1"), "gain 80"))
	p.goes(p.page.Keys("Z", chromedp.KeyModifiers(chromedp.ModifierCtrl, chromedp.ModifierShift)))
	p.revision(10)
	p.sees(shows(joint("term/port_track/1"), "gain 50"))
}

func TestEveryFigureAnswersWhy(t *testing.T) {
	p := sit(t)
	p.opens()
	p.clicks("[data-line=starboard_track] .part")
	p.clicks(joint("out/starboard_track/pulse"))
	p.goes(p.page.Drag("[data-stick='Right stick']", 0, -80, false))
	p.sees(shows(".why", "1500 − 96.0 × 5"))
	p.sees(shows(".why", "reversed"))
	p.sees(shows(".why .label", "Why 1020.0 µs?"))
	p.goes(p.page.Release())
	p.sees(shows(".why .label", "Why 1500.0 µs?"))
}

func TestADraggedStopIsTriedLiveAndKeptOnce(t *testing.T) {
	p := sit(t)
	p.opens()
	p.clicks("[data-line=blade_lift] .part")
	p.goes(p.page.Drag("[data-stick='Left stick']", 0, 80, false))
	p.sees(shows(joint("out/blade_lift/ends"), "−70.0"))
	p.goes(p.page.Release())
	p.goes(p.page.Drag(".rule.tall .grip:nth-of-type(2), .rule.tall rect.grip:nth-last-of-type(2)", 60, 0,
		false))
	p.sees(shows(".state", "trying, not saved yet"))
	p.sees("!" + shows(joint("out/blade_lift/ends"), "ends −70"))
	p.goes(p.page.Release())
	p.revision(2)

	p.types("low", kb.ArrowDown+kb.ArrowDown)
	p.sees(shows(".state", "trying"))
	kept := p.reads(".editor [data-field=high] label")
	require.Equal(t, "high", kept)
	p.goes(p.page.Keys(kb.Escape))
	p.revision(2)
}

func TestAMistakeIsSaidBesideItsField(t *testing.T) {
	p := sit(t)
	p.opens()
	p.clicks("[data-line=blade_lift] .part")
	p.types("low", "50"+kb.Enter)
	p.sees(shows("[data-field=low] .fault", "must be below centre"))
	p.types("low", "abc"+kb.Enter)
	p.sees(shows("[data-field=low] .fault", "is not a number"))
	p.goes(p.page.Keys(kb.Escape))
	p.sees("!document.querySelector('.fault')")
	p.revision(1)
}

func TestFilesComeInOrSayWhyNot(t *testing.T) {
	p := sit(t)
	dir := t.TempDir()
	bad, good := filepath.Join(dir, "bad.yaml"), filepath.Join(dir, "good.json")
	require.NoError(t,
		os.WriteFile(bad,
			[]byte("format: axtren-setup\nversion: 1\noutputs:\n  - {id: o, channel: 99}\n  - {id: o, "+
				"chanel: 2}\n"), 0o600))
	require.NoError(t,
		os.WriteFile(good,
			[]byte(`{"format":"axtren-setup","version":1,"name":"Ermine","outputs":[{"id":"o","channel":1}]}`), 0o600))
	p.sees("document.querySelector('main li')")
	p.goes(p.page.Upload("input[type=file]", bad))
	p.sees(shows(".faults", "line 4, outputs[0].channel"))
	p.sees(shows(".faults", "there is no such field"))
	p.goes(p.page.Keys(kb.Escape))
	p.sees("!document.querySelector('[role=dialog]')")
	p.goes(p.page.Upload("input[type=file]", good))
	p.sees(shows("main li", "Ermine"))
	count, err := rig.Eval[int](p.page, "document.querySelectorAll('main li h2').length")
	p.goes(err)
	require.Equal(t, 8, count)
	// the file that leaves: the page stays where it is
	saved := t.TempDir()
	p.goes(p.page.Downloads(saved))
	p.does("Ermine", "Export as YAML")
	require.Eventually(t, func() bool {
		files, _ := filepath.Glob(filepath.Join(saved, "*.yaml"))
		if len(files) != 1 {
			return false
		}
		text, err := os.ReadFile(files[0])
		return err == nil && strings.Contains(string(text), "name: Ermine")
	}, 10*time.Second, 50*time.Millisecond)
	p.sees(shows("main li", "Ermine"))
}

// TestKeyboardOnly goes from the yard to a moving track, an edit and its undo
// without a mouse.
func TestKeyboardOnly(t *testing.T) {
	p := sit(t)
	p.sees("document.querySelector('main li')")
	p.tabTo("main li .act")
	p.goes(p.page.Keys(kb.Enter))
	p.sees("document.querySelector('[data-line=horn]')")
	p.goes(p.page.Keys("d"))
	p.sees(shows(".deck", "Escape lets go"))
	p.goes(p.page.Key(input.DispatchKeyEventTypeKeyDown, "ArrowUp", "ArrowUp"))
	p.sees(shows("[data-line=port_track] .pulse", "1970"))
	p.goes(p.page.Key(input.DispatchKeyEventTypeKeyUp, "ArrowUp", "ArrowUp"))
	p.sees(shows("[data-line=port_track] .pulse", "1500"))
	p.goes(p.page.Keys("5")) // the lamp switch
	p.sees(shows("[data-line=headlamps] .pulse", "2000"))
	p.goes(p.page.Keys(kb.Escape))
	p.sees(shows(".deck", "Move by keys: D"))

	p.tabTo("[data-line=port_track] .part")
	p.goes(p.page.Keys(kb.Enter))
	p.tabTo("[data-field=high] input")
	p.goes(p.page.Keys("a", chromedp.KeyModifiers(chromedp.ModifierCtrl)))
	p.goes(p.page.Keys("d60" + kb.Enter)) // a letter goes into the field, not to the deck
	p.sees(shows(".fault", "is not a number"))
	p.goes(p.page.Keys("a", chromedp.KeyModifiers(chromedp.ModifierCtrl)))
	p.goes(p.page.Keys("60" + kb.Enter))
	p.revision(2)
	p.goes(p.page.Keys(kb.Tab))
	p.goes(p.page.Keys("z", chromedp.KeyModifiers(chromedp.ModifierCtrl)))
	p.revision(3)
}

// tabTo presses Tab until an element has the focus, which must be seen.
func (p *person) tabTo(css string) {
	p.Helper()
	for range 60 {
		p.goes(p.page.Keys(kb.Tab))
		there, err := rig.Eval[bool](p.page,
			fmt.Sprintf("document.activeElement.matches(%q) && "+
				"document.activeElement.matches(':focus-visible')", css))
		p.goes(err)
		if there {
			return
		}
	}
	p.Fatalf("Tab never reaches %s", css)
}

func TestAxeFindsNothingSerious(t *testing.T) {
	for _, theme := range []string{"daylight", "lamp"} {
		t.Run(theme, func(t *testing.T) { axe(t, theme == "lamp") })
	}
}

// clean lets axe look at the page: it finds nothing serious.
func (p *person) clean(place string) {
	p.Helper()
	require.Empty(p, p.violations("['serious', 'critical'].includes(v.impact)"), place)
}

// spotless is clean, and axe finds nothing that weighs less either.
func (p *person) spotless(place string) {
	p.Helper()
	require.Empty(p, p.violations("true"), place)
}

// violations are what axe finds on the page, as far as which, a script, takes it.
func (p *person) violations(which string) []string {
	p.Helper()
	axe, err := os.ReadFile("../ui/node_modules/axe-core/axe.min.js")
	p.goes(err)
	_, err = rig.Eval[bool](p.page, string(axe)+";true")
	p.goes(err)
	found, err := rig.Eval[[]string](p.page, "axe.run(document).then(r => r.violations.filter(v => "+which+")"+
		".map(v => v.id + ': ' + v.help + ' ' + v.nodes.map(n => n.html.slice(0, 160)).join(' | ')))")
	p.goes(err)
	return found
}

func axe(t *testing.T, lamp bool) {
	p := sit(t)
	check := p.clean
	dialog := func(open func(), place string) {
		t.Helper()
		open()
		p.sees("document.querySelector('[role=dialog]')")
		check(place)
		p.goes(p.page.Keys(kb.Escape))
		p.sees("!document.querySelector('[role=dialog]')")
	}
	p.sees("document.querySelector('main li')")
	_, err := rig.Eval[bool](p.page, fmt.Sprintf("localStorage.setItem('axtren-theme', %q); true",
		map[bool]string{true: "lamp", false: "daylight"}[lamp]))
	p.goes(err)
	p.goes(p.page.Go(p.app.URL))
	p.sees("document.querySelector('main li')")
	check("yard")
	dialog(func() { p.presses("New model") }, "new model")
	p.opens()
	check("lines")
	p.clicks("[data-line=port_track] .part")
	p.sees("document.querySelector('.why')")
	check("open line")
	for _, key := range []string{"demand/drive_soft", "share/tracks", "out/starboard_track/turn"} {
		p.clicks(joint(strings.Replace(key, "share/tracks", "share/0", 1)))
		if key == "share/tracks" { // what two functions share has its home in another place
			check(key)
			continue
		}
		p.clicksBelow(".partLink")
		p.sees("document.querySelector('.whole')")
		check(key)
	}
	p.clicks(joint("share/0"))
	p.clicksBelow("[data-part='shares/tracks']")
	p.sees("document.querySelector('[data-behind=\"shares/tracks\"] .form')")
	check("the share in its home")
	dialog(func() { p.goes(p.page.Keys("?")) }, "keys")
	dialog(func() { p.presses("Recordings") }, "recorded hands")
	p.presses("Recordings")
	p.clicks("[aria-label^='Play ']")
	p.sees("document.querySelector('.player')")
	check("play")
	p.clicks("nav a[href$=sheet]")
	p.sees("document.querySelector('.sheet table')")
	check("sheet")
	p.clicks("nav a[href$=log]")
	p.sees("document.querySelector('.entries')")
	check("log")
	p.clicks("[data-text]")
	p.sees("document.querySelector('textarea')?.value.includes('Stoat')")
	check("text")
}

// presses clicks the button with a text.
func (p *person) presses(text string) {
	p.Helper()
	find := fmt.Sprintf("[...document.querySelectorAll('button')].find(b => b.innerText.trim() === %q && "+
		"!b.disabled)", text)
	p.sees(find)
	_, err := rig.Eval[bool](p.page, find+".click(), true")
	p.goes(err)
}

func TestTheSheetSaysWhatToKeyIn(t *testing.T) {
	p := sit(t)
	p.opens()
	p.clicks("nav a[href$=sheet]")
	// from a fresh memory: what differs, and one line for the rest
	p.sees(shows("tr", "stick forward 96 (1020 µs); stick back 94 (1970 µs)"))
	p.sees(shows("tr", "all other directions"))
	few, err := rig.Eval[int](p.page, "document.querySelectorAll('.sheet tbody tr').length")
	p.goes(err)
	require.LessOrEqual(t, few, 45)
	p.clicks(".kinds label:last-child input")
	p.sees(shows("tr", "Right track, stick forward"))
	p.sees("![...document.querySelectorAll('tr')].some(r => r.innerText.includes('all other'))")
	cautions, err := rig.Eval[int](p.page, "document.body.innerText.split('clear of the ground').length - 1")
	p.goes(err)
	require.Equal(t, 1, cautions, "the caution stands once")
	row, err := rig.Eval[string](p.page,
		"[...document.querySelectorAll('tr')].find(r => r.innerText.includes('Right track, stick "+
			"forward')).innerText")
	p.goes(err)
	cells := strings.FieldsFunc(row, func(r rune) bool { return r == '\t' || r == '\n' })
	require.Equal(t, []string{"2", "Right track, stick forward", "96", "1020"}, cells)
	csv, err := rig.Eval[string](p.page,
		"fetch(document.querySelector('a[href*=csv]').href).then(r => r.text())")
	p.goes(err)
	require.Contains(t, csv, `"Right track, stick forward",96,1020`)
}

// TestALostServerComesBackWithTheLevers kills the application and its database
// as a power cut would, five times, each right after an acknowledged edit.
func TestALostServerComesBackWithTheLevers(t *testing.T) {
	p := sit(t)
	p.opens()
	p.clicks("[data-switch='thumb.dig']")
	p.sees(shows("[data-line=tiller] .pulse", "1838")) // curve +90, of stop +75: 67.5 percent
	p.clicks("[data-line=blade_lift] .part")
	for n := range 5 {
		p.types("low", fmt.Sprintf("-%d", 50+n)+kb.Enter)
		p.revision(n + 2)
		p.app.Kill()
		p.sees(shows(".state", "not connected"))
		p.sees(shows(".deck", "comes back by itself"))
		p.goes(p.app.Again())
		p.revision(n + 2)
		p.sees(shows(joint("out/blade_lift/ends"), fmt.Sprintf("ends −%d", 50+n)))
	}
	p.sees(shows("[data-line=tiller] .pulse", "1838"))
}

func TestSignalAndPowerGoOffAndOn(t *testing.T) {
	p := sit(t)
	p.opens()
	p.clicks("[data-line=port_track] .part")
	p.clicks(joint("device/port_controller"))
	p.goes(p.page.Drag("[data-stick='Right stick']", 0, -80, false))
	p.sees(shows(joint("device/port_controller"), "+93.8")) // 1970 us: 100 × 450 / 480
	p.goes(p.page.Release())
	p.clicks("[data-switch='thumb.dig']")
	p.clicks("[data-switch='link.down']")
	p.sees(shows(".deck", "The signal is cut"))
	p.sees(shows(".why", "gone to 0.0")) // the preset of the track, after half a second
	p.clicks("[data-switch='link.up']")
	p.sees(shows(".why", "as sent"))
	p.clicks("[data-switch='transmitter.off']")
	p.sees(shows(".deck", "The transmitter is off"))
	p.clicks("[data-switch='transmitter.on']")
	p.clicks("[data-switch='rx.off']")
	p.sees(shows(".why", "the receiver is off"))
	p.sees(shows(joint("device/port_controller"), "0.0"))
	p.clicks("[data-switch='rx.on']")
	p.sees(shows(".why", "as sent"))
}

// TestSavedMovesGiveTheSameTrace saves script and trace from the bench, and plays
// the script again with the command line.
func TestSavedMovesGiveTheSameTrace(t *testing.T) {
	p := sit(t)
	p.opens()
	p.goes(p.page.Drag("[data-stick='Right stick']", 20, -60, true))
	p.clicks("[data-switch='thumb.dig']")
	p.clicks("[data-switch='link.down']")
	p.sees(shows(".deck", "The signal is cut"))
	p.clicks("[data-switch='link.up']")
	_, err := rig.Eval[bool](p.page,
		"window.files = []; const make = URL.createObjectURL; URL.createObjectURL = (b) => { "+
			"b.text().then(t => files.push(t)); return make.call(URL, b) }; true")
	p.goes(err)
	p.clicks("[data-recordings]")
	p.clicks("[data-save=script]")
	p.sees("files.length === 1")
	p.sees(shows("[role=dialog]", "gives what was seen here"))
	p.clicks("[data-save=csv]")
	p.sees("files.length === 2")
	files, err := rig.Eval[[]string](p.page, "files")
	p.goes(err)
	script := filepath.Join(t.TempDir(), "script.csv")
	require.NoError(t, os.WriteFile(script, []byte(files[0]), 0o600))
	seconds := strings.Split(files[1], "\n")
	last, _, _ := strings.Cut(seconds[len(seconds)-2], ",")
	trace, err := exec.Command(binary, "simulate", "../demo/stoat.yaml", "--script", script, "--for",
		last).Output()
	require.NoError(t, err)
	require.Equal(t, files[1], string(trace))
}

func TestTheFirstLoadIsSmall(t *testing.T) {
	p := sit(t)
	p.opens()
	kilobytes, err := rig.Eval[float64](p.page, `[...performance.getEntriesByType('resource'), ...performance.getEntriesByType('navigation')]
		.filter(e => !e.name.endsWith('.woff2')).reduce((sum, e) => sum + e.transferSize, 0) / 1000`)
	p.goes(err)
	t.Logf("first load up to an open bench, fonts aside: %.0f kB", kilobytes)
	require.Greater(t, kilobytes, 50.0)
	require.Less(t, kilobytes, 300.0)
}
