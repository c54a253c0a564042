// Command slow measures the page where the machine is slow and the line is thin: how long until
// the bench can be used, and whether dozens of moving functions are drawn as fast as they come.
package main

import (
	"errors"
	"flag"
	"fmt"
	"os"
	"time"

	"axtren/e2e/rig"
)

const (
	quarter = 4.0
	bits    = 3e6
	away    = 100.0 // ms
)

// watched notes when the bench can be used: the deck is there, and what a function sends stands.
// It also keeps when each frame came to the page.
const watched = `
addEventListener('DOMContentLoaded', () => {
  const look = () => {
    if (document.querySelector('.deck .pad') && document.querySelector('[data-line] .pulse')?.textContent)
      window.usable ??= performance.now()
    else requestAnimationFrame(look)
  }
  look()
})
window.came = []
window.WebSocket = class extends WebSocket {
  constructor(...all) {
    super(...all)
    this.addEventListener('message', (event) => {
      const k = /"k":(\d+)/.exec(event.data)?.[1]
      if (k && event.data.includes('"t":"frame"')) window.came.push([Number(k), performance.now()])
    })
  }
}`

// moved moves the stick and scrolls the functions for ten seconds; it gives by how much more the
// frames of the last second were behind than those of the first, the longest task, and how many
// pictures were made.
const moved = `(async (scrolls) => {
  let longest = 0
  new PerformanceObserver((list) => {
    for (const task of list.getEntries()) longest = Math.max(longest, task.duration)
  }).observe({ entryTypes: ['longtask'] })
  ` + rig.Stick + `
  const pointer = stick('right stick')
  const main = document.querySelector('main')
  pointer('pointerdown', 0)
  window.came.length = 0
  const began = performance.now()
  let pictures = 0
  for (; performance.now() < began + 10000; pictures++) {
    pointer('pointermove', 40 * Math.sin(pictures / 9))
    if (scrolls) main.scrollTop = (main.scrollHeight - main.clientHeight) * (0.5 + 0.5 * Math.sin(pictures / 25))
    await new Promise((done) => requestAnimationFrame(done))
  }
  const came = [...window.came]
  pointer('pointerup', 0)
  const behind = (list) => list.reduce((sum, [k, at]) => sum + at - 20 * k, 0) / list.length
  return { longest, pictures, frames: came.length, behind: behind(came.slice(-50)) - behind(came.slice(0, 50)) }
})`

var wide = flag.Int("functions", 48, "how many functions move at once")

func main() {
	flag.Parse()
	if err := run(); err != nil {
		fmt.Fprintln(os.Stderr, "slow:", err)
		os.Exit(1)
	}
}

func run() error {
	app, browser, stop, err := rig.Open()
	if err != nil {
		return err
	}
	defer stop()
	id, err := app.Make(rig.Wide(*wide))
	if err != nil {
		return err
	}
	for _, slower := range []float64{1, quarter} {
		for _, docked := range []bool{true, false} {
			if err := frames(browser, address(app, id), slower, docked); err != nil {
				return err
			}
		}
	}
	if id, err = app.Model("Stoat"); err != nil {
		return err
	}
	return loads(browser, address(app, id))
}

// address gives where the functions of a model are.
func address(app *rig.App, id string) string { return app.URL + "/models/" + id + "/functions" }

// loads opens the bench of a model on a new machine, and once more.
func loads(browser *rig.Browser, address string) error {
	page, err := browser.NewPage(390, 844)
	if err != nil {
		return err
	}
	defer page.Close()
	if err := errors.Join(page.Before(watched), page.Far(bits, away), page.Slow(quarter)); err != nil {
		return err
	}
	for _, which := range []string{"first", "second"} {
		if err := page.Go(address); err != nil {
			return err
		}
		if err := page.Wait("window.usable"); err != nil {
			return err
		}
		usable, err := rig.Eval[[]float64](page, `[window.usable, ...['script', 'link', 'css'].map(kind =>
			performance.getEntriesByType('resource').filter(one => one.initiatorType === kind)
			.reduce((sum, one) => sum + one.transferSize, 0))]`)
		if err != nil {
			return err
		}
		fmt.Printf("bench usable, %-6s load, 3 Mbit/s, 100 ms, a quarter of the speed: %.0f ms; "+
			"%.0f kB of scripts, %.0f kB linked\n", which, usable[0], usable[1]/1000, usable[2]/1000)
	}
	return nil
}

// frames plays the wide model, the stage docked beside the functions or not, still and scrolled.
func frames(browser *rig.Browser, address string, slower float64, docked bool) error {
	page, err := browser.NewPage(1280, 800)
	if err != nil {
		return err
	}
	defer page.Close()
	if err := errors.Join(page.Before(watched), page.Go(address),
		page.Wait("window.usable")); err != nil {
		return err
	}
	where := "docked"
	if err := page.Wait("document.querySelector('.dock')"); err != nil {
		return err
	}
	if !docked {
		where = "folded"
		if err := page.Click("[aria-label='Fold the stage']"); err != nil {
			return err
		}
	}
	if err := page.Slow(slower); err != nil {
		return err
	}
	time.Sleep(time.Second)
	for _, scrolls := range []bool{false, true} {
		before, err := page.Metrics()
		if err != nil {
			return err
		}
		told, err := rig.Eval[struct{ Longest, Pictures, Frames, Behind float64 }](page,
			fmt.Sprintf("%s(%v)", moved, scrolls))
		if err != nil {
			return err
		}
		after, err := page.Metrics()
		if err != nil {
			return err
		}
		per := func(name string) float64 { return (after[name] - before[name]) * 1000 / told.Frames }
		fmt.Printf("%d functions, stage %s, 1/%.0f of the speed, scrolled %-5v: %.0f frames, %.0f pictures; a "+
			"frame %.1f ms, of it script %.1f, layout and style %.1f; longest task %.0f ms; %.0f ms more behind\n",
			*wide, where, slower, scrolls, told.Frames, told.Pictures, per("TaskDuration"), per("ScriptDuration"),
			per("LayoutDuration")+per("RecalcStyleDuration"), told.Longest, told.Behind)
	}
	return nil
}
