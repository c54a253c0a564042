// Command latency measures, in a real page, the time from the input event to
// the animation frame in which the new figure stands.
package main

import (
	"fmt"
	"os"
	"strings"

	"axtren/e2e/rig"
)

// measure moves the right stick to and fro and waits, frame by frame, until the
// pulse of the port track has another text.
const measure = `(async (line) => {
  const pad = document.querySelector("[data-stick='Right stick']")
  const own = (css) => document.querySelector('[data-line=' + line + '] ' + css)
  const figure = own('.pulse') ?? own('.value')
  const box = pad.getBoundingClientRect()
  const pointer = (type, y) => pad.dispatchEvent(new PointerEvent(type, {
    pointerId: 1, isPrimary: true, bubbles: true, buttons: 1,
    clientX: box.x + box.width / 2, clientY: box.y + box.height / 2 - y }))
  pad.setPointerCapture = () => {}
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

// long scrolls a register of 40 lines to and fro while a lever moves, and gives
// the longest task of the page, in milliseconds; 50 where none was that long.
const long = `(async () => {
  let longest = 0
  new PerformanceObserver((list) => {
    for (const task of list.getEntries()) longest = Math.max(longest, task.duration)
  }).observe({ entryTypes: ['longtask'] })
  const pad = document.querySelector("[data-stick='right stick' i]")
  const box = pad.getBoundingClientRect()
  pad.setPointerCapture = () => {}
  const pointer = (type, y) => pad.dispatchEvent(new PointerEvent(type, {
    pointerId: 1, isPrimary: true, bubbles: true, buttons: 1,
    clientX: box.x + box.width / 2, clientY: box.y + box.height / 2 - y }))
  const main = document.querySelector('main')
  pointer('pointerdown', 0)
  for (let i = 0; i < 250; i++) {
    pointer('pointermove', 40 * Math.sin(i / 9))
    main.scrollTop = (main.scrollHeight - main.clientHeight) * (0.5 + 0.5 * Math.sin(i / 25))
    await new Promise((done) => requestAnimationFrame(done))
  }
  pointer('pointerup', 0)
  await new Promise((done) => setTimeout(done, 200))
  return longest
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
	for _, one := range []struct{ model, line, open string }{
		{"Stoat", "port_track", ""}, {"Stoat", "port_track", "[data-line=blade_lift] .part"},
		{"Marram", "port_screw", ""}, {"Alder", "motor", ""},
	} {
		if err := lever(page, app.URL, one.model, one.line, one.open); err != nil {
			return err
		}
	}
	return scroll(page, app.URL)
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

// scroll measures a model of 40 lines, all on one stick.
func scroll(page *rig.Page, url string) error {
	var b strings.Builder
	b.WriteString("format: axtren-setup\nversion: 1\nname: Forty\ntransmitter: {controls: [{id: y, kind: " +
		"axis, stick: right, along: y}]}\noutputs:\n")
	for i := range 40 {
		fmt.Fprintf(&b, "  - {id: o%d, label: Line %d, channel: %d}\n", i, i+1, i+1)
	}
	b.WriteString("mixes:\n")
	for i := range 40 {
		fmt.Fprintf(&b, "  - {id: m%d, to: o%d, from: y}\n", i, i)
	}
	b.WriteString("receivers:\n  - {id: rx, pins: [")
	for i := range 40 {
		fmt.Fprintf(&b, "{pin: %d, channel: %d},", i+1, i+1)
	}
	b.WriteString("]}\n")
	made, err := rig.Eval[float64](page,
		fmt.Sprintf(`fetch('/api/models', { method: 'POST', body: %q, headers: {
			'Content-Type': 'application/octet-stream', 'Axtren-Page': 'x', 'Axtren-Edit': 'y' } }).then(r => r.status)`,
			b.String()))
	if err != nil || made != 201 {
		return fmt.Errorf("the model of 40 lines was not made: %v %w", made, err)
	}
	if err := open(page, url, "Forty", "o39"); err != nil {
		return err
	}
	longest, err := rig.Eval[float64](page, long)
	if err != nil {
		return err
	}
	fmt.Printf("40 lines, scrolled while a lever moves them all: longest task %.0f ms (0: none of 50 ms or "+
		"more)\n", longest)
	return nil
}
