// Command latency measures, in a real page, the time from the input event to
// the animation frame in which the new figure stands.
package main

import (
	"fmt"
	"os"

	"axtren/e2e/rig"
)

// measure moves the right stick to and fro and waits, frame by frame, until the
// pulse of the port track has another text.
const measure = `(async (line) => {
  ` + rig.Stick + `
  const own = (css) => document.querySelector('[data-line=' + line + '] ' + css)
  const figure = own('.pulse') ?? own('.value')
  figure.scrollIntoView({ block: 'center' }) // what is out of sight is drawn later
  const pointer = stick('right stick')
  pointer('pointerdown', 0)
  const times = []
  for (let i = 0; i < 200; i++) {
    await new Promise((done) => setTimeout(done, 15 + Math.random() * 45))
    const before = figure.textContent
    const start = performance.now()
    pointer('pointermove', i % 2 ? 10 + i % 7 : -10 - i % 7)
    // a picture is looked at once it was made: what draws in it may be called after this
    times.push(await new Promise((done) => {
      const look = () => {
        const made = performance.now()
        const after = new MessageChannel()
        after.port1.onmessage = () =>
          figure.textContent !== before ? done(made - start) : requestAnimationFrame(look)
        after.port2.postMessage(0)
      }
      requestAnimationFrame(look)
    }))
  }
  pointer('pointerup', 0)
  times.sort((a, b) => a - b)
  return times
})`

func main() {
	if err := run(); err != nil {
		fmt.Fprintln(os.Stderr, "latency:", err)
		os.Exit(1)
	}
}

func run() error {
	app, browser, stop, err := rig.Open()
	if err != nil {
		return err
	}
	defer stop()
	page, err := browser.NewPage(1280, 800)
	if err != nil {
		return err
	}
	for _, one := range []struct{ model, line, open string }{
		{"Stoat", "port_track", ""}, {"Stoat", "port_track", "[data-line=blade_lift] .part"},
		{"Marram", "port_screw", ""}, {"Alder", "motor", ""},
	} {
		if err := lever(page, app.URL, one.model, one.line, one.open); err != nil {
			return err
		}
	}
	return nil
}

// open goes to the lines of a model.
func open(page *rig.Page, url, model, line string) error {
	if err := page.Go(url); err != nil {
		return err
	}
	if err := page.Click(fmt.Sprintf("[aria-label='Open %s']", model)); err != nil {
		return err
	}
	return page.Wait(fmt.Sprintf("document.querySelector('[data-line=%s]')", line))
}

func lever(page *rig.Page, url, model, line, opened string) error {
	if err := open(page, url, model, line); err != nil {
		return err
	}
	where := model
	if opened != "" {
		where += ", a line open"
		if err := page.Click(opened); err != nil {
			return err
		}
	}
	times, err := rig.Eval[[]float64](page, fmt.Sprintf("%s(%q)", measure, line))
	if err != nil {
		return err
	}
	at := func(share float64) float64 { return times[int(share*float64(len(times)-1))] }
	fmt.Printf("lever to picture, %-19s %d moves: median %.1f ms, 95th percentile %.1f ms, longest %.1f ms\n",
		where, len(times), at(0.5), at(0.95), at(1))
	return nil
}
