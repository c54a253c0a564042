// Command shots renews docs/screenshots from the demo data.
package main

import (
	"fmt"
	"os"
	"path/filepath"

	"github.com/chromedp/chromedp/kb"

	"axtren/e2e/rig"
)

// everyPicture: each model of the list that is in sight has its small picture.
const everyPicture = "document.querySelectorAll('main li .still svg').length > 4 && " +
	"[...document.querySelectorAll('main li')].every((li) => !li.querySelector('h2') || " +
	"li.getBoundingClientRect().top >= innerHeight || li.querySelector('.still svg'))"

func main() {
	dir := "docs/screenshots"
	if len(os.Args) > 1 {
		dir = os.Args[1]
	}
	if err := run(dir); err != nil {
		fmt.Fprintln(os.Stderr, "shots:", err)
		os.Exit(1)
	}
}

func run(dir string) error {
	app, browser, stop, err := rig.Open()
	if err != nil {
		return err
	}
	defer stop()
	if err := os.MkdirAll(dir, 0o755); err != nil {
		return err
	}
	for _, size := range []struct {
		suffix        string
		width, height int64
	}{{"", 1280, 800}, {"-phone", 390, 844}} {
		page, err := browser.NewPage(size.width, size.height)
		if err != nil {
			return err
		}
		if err := walk(page, app.URL, func(name string) error {
			if name == "functions" && size.suffix != "" {
				return nil // one that is open shows them too
			}
			return page.Shot(filepath.Join(dir,
				name+size.suffix+".png"))
		}); err != nil {
			return err
		}
		page.Close()
	}
	page, err := browser.NewPage(1280, 800)
	if err != nil {
		return err
	}
	defer page.Close()
	return more(page, app.URL, func(name string) error { return page.Shot(filepath.Join(dir, name+".png")) })
}

// to goes to a place by the rail, which is behind one button on a phone.
func to(p *rig.Page, place string) error {
	link := fmt.Sprintf("document.querySelector('nav a[href$=%s]')", place)
	if err := p.Wait(link); err != nil {
		return err
	}
	_, err := rig.Eval[any](p, link+".click()")
	return err
}

// walk takes a picture of each place.
func walk(p *rig.Page, url string, shot func(string) error) error {
	for _, step := range []func() error{
		func() error { return p.Go(url) },
		func() error { return p.Wait("document.querySelectorAll('main li h2').length === 7") },
		func() error { return p.Wait("document.fonts.ready.then(() => true)") },
		func() error { return p.Wait(everyPicture) },
		func() error { return shot("models") },
		func() error { return p.Click("[aria-label='Open Stoat']") },
		func() error { return p.Wait("document.querySelector('[data-line=horn]')") },
		func() error { return shot("functions") },
		func() error { return p.Click("[data-line=starboard_track] .part") },
		func() error { return p.Drag("[data-stick='Right stick']", -12, -29, false) },
		func() error { return p.Wait("document.querySelector('.why .value')") },
		func() error {
			return p.Wait("!document.querySelector('[data-line=port_track] .value').innerText.startsWith('0')")
		},
		func() error { return shot("function-open") },
		func() error { return p.Release() },
		func() error { return to(p, "sheet") },
		func() error { return p.Wait("document.querySelector('.sheet table')") },
		func() error { return shot("sheet") },
	} {
		if err := step(); err != nil {
			return err
		}
	}
	return nil
}

// more takes the places that are used at a table.
func more(p *rig.Page, url string, shot func(string) error) error {
	press := func(script string) error { _, err := rig.Eval[any](p, script); return err }
	for _, step := range []func() error{
		func() error { return p.Go(url) },
		func() error { return p.Click("[aria-label='Open Stoat']") },
		func() error { return p.Wait("document.querySelector('.dock svg .part')") },
		func() error { return p.Drag("[data-stick='Right stick']", -14, -34, false) },
		func() error { return p.Wait("document.querySelector('.dock .trail')?.points.length > 24") },
		p.Release,
		func() error { return to(p, "mixing") },
		func() error { return p.Wait("document.querySelectorAll('.compared canvas').length === 6") },
		func() error { return p.Drag("[data-stick='Right stick']", 20, -30, false) },
		func() error { return p.Wait("document.querySelector('.maps .now').textContent !== '0'") },
		func() error { return shot("mixing") },
		p.Release,
		func() error { return p.Go(url) },
		func() error { return p.Click("[aria-label='Open Marram']") },
		func() error { return p.Wait("document.querySelector('[data-line=rudder]')") },
		func() error { return to(p, "kit") },
		func() error { return p.Wait("document.querySelector('.transmitter .well')") },
		func() error { return p.Wait("document.querySelector('aside .way')") },
		func() error { return p.Click("[data-switch='spray.press']") },
		func() error { return p.Wait("document.querySelector('.kit .moving')") },
		func() error { return shot("kit") },
		func() error { return to(p, "loss") },
		func() error { return p.Wait("document.querySelector('[data-cuts]')?.dataset.cuts > 1000") },
		func() error { return p.Wait("document.querySelector('[data-returns]')") },
		func() error { return shot("loss") },
		func() error { return to(p, "plan") },
		func() error { return p.Wait("document.querySelector('[data-power] dd')") },
		func() error { return p.Wait("document.querySelector('.stands').innerText.includes(';')") },
		func() error { return shot("plan") },
		func() error { return to(p, "log") },
		func() error { return p.Wait("document.querySelector('.entries')") },
		func() error {
			return press("(s => { s.value = 'devices/rudder_servo'; s.dispatchEvent(new Event('change')) })" +
				"(document.querySelector('[data-exchanged] select'))")
		},
		func() error { return p.Wait("document.querySelector('[data-exchanged] form')") },
		func() error { return shot("log") },
		func() error { return p.Go(url) },
		func() error { return p.Click("[aria-label='Open Wader']") },
		func() error { return p.Wait("document.querySelector('[data-line=ramp]')") },
		func() error { return to(p, "rules") },
		func() error { return p.Click("[data-behind='logic/at_shore'] .name") },
		func() error { return p.Wait("document.querySelector('[data-state].now')") },
		func() error { return p.Wait("document.querySelectorAll('[data-verdict=holds]').length === 2") },
		func() error { return press("document.querySelector('.rules').scrollIntoView()") },
		func() error { return shot("rules") },
		func() error { return p.Go(url) },
		func() error { return p.Click("[aria-label='Open Alder']") },
		func() error { return p.Wait("document.querySelector('[data-line=trailer_legs]')") },
		func() error { return p.Click(".head .trouble") },
		func() error { return p.Click(".pages button:nth-child(2)") },
		func() error { return p.Wait("document.querySelector('.try .sight')") },
		func() error { return p.Click(".try > .sight button:nth-child(2)") },
		func() error { return p.Click(".try .acts button") },
		func() error { return p.Wait("document.querySelector('.sets li')") },
		func() error { return p.Click(".sets [aria-expanded]") },
		func() error { return p.Wait("document.querySelectorAll('.films svg').length === 2") },
		func() error { return press("document.querySelector('.sets').scrollIntoView()") },
		func() error { return shot("trouble") },
		func() error { return p.Keys(kb.Escape) },
		func() error { return p.Wait("!document.querySelector('[role=dialog]')") },
		func() error { return p.Go(url + "/shelf") },
		func() error { return p.Wait("document.querySelectorAll('[data-piece]').length === 4") },
		func() error { return p.Click("[data-piece]:last-child [aria-expanded]") },
		func() error { return p.Wait("document.querySelector('.opened li')") },
		func() error { return shot("shelf") },
		func() error { return p.Go(url) },
		func() error { return p.Click("[aria-label='Open Marram']") },
		func() error { return to(p, "stage") },
		func() error { return p.Wait("document.querySelector('.alone svg .part')") },
		func() error { return p.Drag("[data-stick='Right stick']", 18, -42, false) },
		func() error { return p.Wait("document.querySelector('.alone .trail')?.points.length > 20") },
		func() error { return shot("stage") },
		p.Release,
		func() error { return to(p, "functions") },
		func() error { return press("[...document.querySelectorAll('.tools button')].at(-1).click()") },
		func() error { return p.Click("[data-step=low]") },
		func() error { return p.Wait("document.querySelector('.linkage [data-hole=arm]')") },
		func() error { return shot("stand") },
		func() error { return press("document.querySelector('.stand header .link').click()") },
		func() error { return p.Click("[data-line=monitor_pump] .part") },
		func() error {
			return press("[...document.querySelectorAll('.aside button')].find(b => b.innerText === " +
				"'Recordings').click()")
		},
		func() error { return p.Click("[aria-label^='Play ']") },
		func() error {
			return press("[...document.querySelectorAll('.head .link')].find(b => b.innerText === " +
				"'Dark').click()")
		},
		func() error { return p.Wait("document.querySelector('.player input')") },
		func() error {
			return press("(() => { const r = document.querySelector('.player input'); r.value = 626; " +
				"r.dispatchEvent(new Event('input')) })()")
		},
		func() error {
			return p.Wait(
				"document.querySelector('.player .time').innerText.startsWith('12.52')")
		},
		func() error { // the words come a little later than the figures
			return p.Wait("!document.querySelector('.dock .row').innerText.includes('stands')")
		},
		func() error { return shot("play-lamp") },
		func() error { return press("[...document.querySelectorAll('.player button')].at(-1).click()") },
		func() error { return press("localStorage.clear()") },
		func() error { return p.Go(url) },
		func() error { return p.Click("[aria-label='Open Marram']") },
		func() error { return to(p, "bench") },
		func() error { return p.Click("[data-walk=fewest]") },
		func() error { return p.Click("[data-begin]") },
		func() error { return p.Click("[data-all]") },
		func() error { return p.Wait("document.querySelector('[data-walked]').textContent.includes('2 of')") },
		func() error { return p.Click("[data-step] tbody tr .seen > :first-child") },
		func() error {
			return p.Wait("document.querySelector('.said').textContent.includes('Port screw ahead')")
		},
		func() error { return p.Wait("document.querySelector('[data-step] [aria-pressed=true]')") },
		func() error { return p.Wait("document.querySelector('[aria-label=\"Left slider\"]').value === '100'") },
		func() error { return shot("bench") },
	} {
		if err := step(); err != nil {
			return err
		}
	}
	return nil
}
