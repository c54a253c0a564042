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
const measure = `(async () => {
  const pad = document.querySelector("[data-stick='Right stick']")
  const figure = document.querySelector('[data-line=port_track] .pulse')
  const box = pad.getBoundingClientRect()
  const pointer = (type, y) => pad.dispatchEvent(new PointerEvent(type, {
    pointerId: 1, isPrimary: true, bubbles: true, buttons: 1, clientX: box.x + box.width / 2, clientY: box.y + box.height / 2 - y }))
  pad.setPointerCapture = () => {}
  pointer('pointerdown', 0)
  const times = []
  for (let i = 0; i < 300; i++) {
    await new Promise((done) => setTimeout(done, 15 + Math.random() * 45))
    const before = figure.textContent
    const start = performance.now()
    pointer('pointermove', i % 2 ? 10 + i % 7 : -10 - i % 7)
    await new Promise((done) => {
      const look = () => (figure.textContent !== before ? done() : requestAnimationFrame(look))
      requestAnimationFrame(look)
    })
    times.push(performance.now() - start)
  }
  pointer('pointerup', 0)
  times.sort((a, b) => a - b)
  return times
})()`

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
	for _, step := range []error{page.Go(app.URL), page.Click("main li .act"), page.Wait("document.querySelector('[data-line=horn]')")} {
		if step != nil {
			return step
		}
	}
	for name, open := range map[string]string{"register": "", "with a line open": "[data-line=blade_lift] .part"} {
		if open != "" {
			if err := page.Click(open); err != nil {
				return err
			}
		}
		times, err := rig.Eval[[]float64](page, measure)
		if err != nil {
			return err
		}
		at := func(share float64) float64 { return times[int(share*float64(len(times)-1))] }
		fmt.Printf("lever to picture, %-16s %d moves: median %.1f ms, 95th percentile %.1f ms, longest %.1f ms\n",
			name, len(times), at(0.5), at(0.95), at(1))
	}
	return nil
}
