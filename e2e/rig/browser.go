package rig

import (
	"context"
	"encoding/json"
	"fmt"
	"os"
	"time"

	"github.com/chromedp/cdproto/browser"
	"github.com/chromedp/cdproto/cdp"
	"github.com/chromedp/cdproto/emulation"
	"github.com/chromedp/cdproto/input"
	"github.com/chromedp/cdproto/network"
	"github.com/chromedp/cdproto/page"
	"github.com/chromedp/cdproto/performance"
	"github.com/chromedp/chromedp"
)

// Chromium is where Debian puts it.
const Chromium = "/usr/bin/chromium"

// Browser is one headless Chromium.
type Browser struct {
	ctx  context.Context
	stop func()
}

// OpenBrowser starts Chromium with a new profile.
func OpenBrowser() (*Browser, error) {
	if _, err := os.Stat(Chromium); err != nil {
		return nil, fmt.Errorf("%s is missing: install Debian's package chromium, or run ./axtren-test, "+
			"which does", Chromium)
	}
	dir, err := os.MkdirTemp("", "axtren-chromium-")
	if err != nil {
		return nil, err
	}
	options := append(chromedp.DefaultExecAllocatorOptions[:], chromedp.ExecPath(Chromium),
		chromedp.NoSandbox, chromedp.DisableGPU,
		chromedp.UserDataDir(dir), chromedp.WindowSize(1280, 800))
	for _, flag := range []string{"disable-quic", "disable-component-update", "disable-domain-reliability",
		"no-pings"} {
		options = append(options, chromedp.Flag(flag, true))
	}
	allocator, stopAllocator := chromedp.NewExecAllocator(context.Background(), options...)
	ctx, stopBrowser := chromedp.NewContext(allocator)
	b := &Browser{ctx, func() {
		stopBrowser()
		stopAllocator()
		for range 50 { // its children write for a moment longer
			if os.RemoveAll(dir) == nil {
				return
			}
			time.Sleep(50 * time.Millisecond)
		}
	}}
	if err := chromedp.Do(ctx); err != nil {
		b.stop()
		return nil, fmt.Errorf("chromium does not start: %w", err)
	}
	return b, nil
}

// Close ends the browser.
func (b *Browser) Close() { b.stop() }

// Page is one tab. Its methods give up after 15 s.
type Page struct {
	ctx  context.Context
	stop func()
}

// NewPage opens a tab of its own storage at a size in CSS pixels.
func (b *Browser) NewPage(width, height int64) (*Page, error) {
	ctx, stop := chromedp.NewContext(b.ctx, chromedp.WithNewBrowserContext())
	p := &Page{ctx, stop}
	if err := chromedp.Do(ctx); err != nil {
		return nil, err
	}
	return p, p.do(chromedp.EmulateViewport(width, height))
}

// Close closes the tab.
func (p *Page) Close() { p.stop() }

func (p *Page) do(steps ...chromedp.Action[chromedp.Void]) error {
	ctx, cancel := context.WithTimeout(p.ctx, 15*time.Second)
	defer cancel()
	return chromedp.Do(ctx, steps...)
}

// Go opens an address.
func (p *Page) Go(url string) error { return p.do(chromedp.Navigate(url)) }

// Eval runs JavaScript in the page, awaiting a promise, and reads its value.
func Eval[T any](p *Page, script string) (T, error) {
	ctx, cancel := context.WithTimeout(p.ctx, 60*time.Second)
	defer cancel()
	return chromedp.Run(ctx, chromedp.Evaluate[T](script, chromedp.EvalAwaitPromise))
}

// Wait waits until JavaScript is true.
func (p *Page) Wait(script string) error {
	deadline := time.Now().Add(15 * time.Second)
	for {
		ok, err := Eval[bool](p, "!!("+script+")")
		if err == nil && ok {
			return nil
		}
		if time.Now().After(deadline) {
			text, _ := Eval[string](p, "document.body.innerText.slice(0, 600)")
			return fmt.Errorf("never true: %s (%v); the page says: %s", script, err, text)
		}
		time.Sleep(20 * time.Millisecond)
	}
}

// Before runs JavaScript in every page that is opened from now on, before its own.
func (p *Page) Before(script string) error {
	ctx, cancel := context.WithTimeout(p.ctx, 15*time.Second)
	defer cancel()
	_, err := chromedp.Call(ctx, page.AddScriptToEvaluateOnNewDocument,
		page.AddScriptToEvaluateOnNewDocumentParams{Source: script})
	return err
}

// Size gives the tab another size in CSS pixels.
func (p *Page) Size(width, height int64) error { return p.do(chromedp.EmulateViewport(width, height)) }

// notesPress notes of the next press on what it fell: it, something else that can be pressed where the
// element had moved away from under it, or plain ground.
const notesPress = `(css => {
	window.pressed = undefined
	addEventListener('pointerdown', (at) => {
		const meant = document.querySelector(css)?.getBoundingClientRect()
		const within = !meant || at.clientX >= meant.left - 1 && at.clientX <= meant.right + 1 &&
			at.clientY >= meant.top - 1 && at.clientY <= meant.bottom + 1
		const other = at.target.closest('a, button, input, textarea, select, label, summary, [tabindex="0"]')
		window.pressed = within ? 'it' : (other?.outerHTML.slice(0, 200) ?? 'ground')
	}, {capture: true, once: true})
})`

// Click waits for an element and clicks it. A page that is still growing may move it away between
// the look and the press: what fell on plain ground is pressed again, as a hand would; a press on
// something else is an error.
func (p *Page) Click(css string) error {
	const presses = 5
	for range presses {
		_, _ = Eval[any](p, notesPress+"("+quote(css)+")") // a page that is just going elsewhere notes nothing
		if err := p.do(chromedp.Click(chromedp.CSS(css))); err != nil {
			return err
		}
		fell, err := Eval[string](p, "window.pressed ?? 'it'")
		switch {
		case err != nil || fell == "it": // a page that has gone elsewhere was pressed
			return nil
		case fell != "ground":
			return fmt.Errorf("%s moved away from under the press, which fell on %s", css, fell)
		}
	}
	return fmt.Errorf("%s moved away from under each of %d presses", css, presses)
}

// Text gives the text of the first element; waits for it.
func (p *Page) Text(css string) (string, error) {
	if err := p.Wait("document.querySelector(" + quote(css) + ")"); err != nil {
		return "", err
	}
	return Eval[string](p, "document.querySelector("+quote(css)+").innerText.trim()")
}

// Keys types keys into what has the focus: text, or kb constants.
func (p *Page) Keys(keys string, options ...chromedp.KeyOption) error {
	return p.do(chromedp.KeyEvent(keys, options...))
}

// Key presses, or lets go of, one key by its code.
func (p *Page) Key(kind input.DispatchKeyEventType, key, code string) error {
	return p.do(chromedp.Func(func(ctx context.Context, t *chromedp.Target) error {
		_, err := cdp.Call(ctx, t, input.DispatchKeyEvent,
			input.DispatchKeyEventParams{Type: kind, Key: key, Code: code})
		return err
	}))
}

// Drag presses the mouse on the middle of an element, moves by dx, dy, and
// lets go only where release is true.
func (p *Page) Drag(css string, dx, dy float64, release bool) error {
	at, err := p.middle(css)
	if err != nil {
		return err
	}
	steps := []chromedp.Action[chromedp.Void]{
		chromedp.MouseEvent(input.DispatchMouseEventTypeMouseMoved, at[0], at[1]),
		chromedp.MouseEvent(input.DispatchMouseEventTypeMousePressed, at[0], at[1], chromedp.ButtonLeft,
			chromedp.ClickCount(1)),
		chromedp.MouseEvent(input.DispatchMouseEventTypeMouseMoved, at[0]+dx/2, at[1]+dy/2,
			chromedp.ButtonLeft, held),
		chromedp.MouseEvent(input.DispatchMouseEventTypeMouseMoved, at[0]+dx, at[1]+dy, chromedp.ButtonLeft,
			held),
	}
	if release {
		steps = append(steps, p.up(at[0]+dx, at[1]+dy))
	}
	return p.do(steps...)
}

// held says that the left button is down while the mouse moves.
func held(p *input.DispatchMouseEventParams) { p.Buttons = 1 }

// Release lets go of the mouse.
func (p *Page) Release() error { return p.do(p.up(1, 1)) }

func (p *Page) up(x, y float64) chromedp.Action[chromedp.Void] {
	return chromedp.MouseEvent(input.DispatchMouseEventTypeMouseReleased, x, y, chromedp.ButtonLeft,
		chromedp.ClickCount(1))
}

func (p *Page) middle(css string) ([]float64, error) {
	if err := p.Wait("document.querySelector(" + quote(css) + ")"); err != nil {
		return nil, err
	}
	return Eval[[]float64](p, `(() => { const e = document.querySelector(`+quote(css)+`)
		e.scrollIntoView({block: 'nearest'})
		const r = e.getBoundingClientRect(); return [r.x + r.width / 2, r.y + r.height / 2] })()`)
}

// Upload gives files to a file input.
func (p *Page) Upload(css string, paths ...string) error {
	return p.do(chromedp.SetUploadFiles(chromedp.CSS(css), paths))
}

// Downloads says into which folder the files go that the page lets one download.
func (p *Page) Downloads(folder string) error {
	ctx, cancel := context.WithTimeout(p.ctx, 15*time.Second)
	defer cancel()
	_, err := chromedp.Call(ctx, browser.SetDownloadBehavior, browser.SetDownloadBehaviorParams{
		Behavior: browser.SetDownloadBehaviorBehaviorAllow, DownloadPath: folder,
		BrowserContextID: chromedp.FromContext(p.ctx).BrowserContextID})
	return err
}

// Offline takes the network away from the page.
func (p *Page) Offline() error {
	return p.network(network.Conditions{Offline: true, DownloadThroughput: -1, UploadThroughput: -1})
}

// Far puts the page at the end of a line of so many bits per second, with so many milliseconds
// from asking to the first of the answer.
func (p *Page) Far(bits, ms float64) error {
	return p.network(network.Conditions{Latency: ms, DownloadThroughput: bits / 8, UploadThroughput: bits / 8})
}

func (p *Page) network(as network.Conditions) error {
	ctx, cancel := context.WithTimeout(p.ctx, 15*time.Second)
	defer cancel()
	_, err := chromedp.Call(ctx, network.EmulateNetworkConditionsByRule,
		network.EmulateNetworkConditionsByRuleParams{MatchedNetworkConditions: []*network.Conditions{&as}})
	return err
}

// Print gives the page as the browser prints it, as PDF.
func (p *Page) Print() ([]byte, error) {
	ctx, cancel := context.WithTimeout(p.ctx, 30*time.Second)
	defer cancel()
	printed, err := chromedp.Call(ctx, page.PrintToPDF, page.PrintToPDFParams{})
	return printed.Data, err
}

// Shot takes a picture of the page as it stands, PNG.
func (p *Page) Shot(path string) error {
	ctx, cancel := context.WithTimeout(p.ctx, 15*time.Second)
	defer cancel()
	png, err := chromedp.Run(ctx, chromedp.CaptureScreenshot())
	if err != nil {
		return err
	}
	return os.WriteFile(path, png, 0o644)
}

func quote(s string) string {
	text, _ := json.Marshal(s)
	return string(text)
}

// DoubleClick clicks an element twice, as fast as a person does.
func (p *Page) DoubleClick(css string) error {
	at, err := p.middle(css)
	if err != nil {
		return err
	}
	var steps []chromedp.Action[chromedp.Void]
	for count := 1; count <= 2; count++ {
		steps = append(steps,
			chromedp.MouseEvent(input.DispatchMouseEventTypeMousePressed, at[0], at[1], chromedp.ButtonLeft,
				chromedp.ClickCount(count)),
			chromedp.MouseEvent(input.DispatchMouseEventTypeMouseReleased, at[0], at[1], chromedp.ButtonLeft,
				chromedp.ClickCount(count)))
	}
	return p.do(steps...)
}

// Touch puts a finger on the page, moves it or takes fingers away: what is given are
// all fingers that are there after it, each by its number and where it is.
func (p *Page) Touch(kind input.DispatchTouchEventType, fingers ...*input.TouchPoint) error {
	if fingers == nil {
		fingers = []*input.TouchPoint{}
	}
	return p.do(chromedp.Func(func(ctx context.Context, t *chromedp.Target) error {
		_, err := cdp.Call(ctx, t, input.DispatchTouchEvent,
			input.DispatchTouchEventParams{Type: kind, TouchPoints: fingers})
		return err
	}))
}

// Middle gives the middle of an element, in CSS pixels of the window.
func (p *Page) Middle(css string) (x, y float64, err error) {
	at, err := p.middle(css)
	if err != nil {
		return 0, 0, err
	}
	return at[0], at[1], nil
}

// Slow makes the processor of the page so many times slower than it is.
func (p *Page) Slow(times float64) error {
	ctx, cancel := context.WithTimeout(p.ctx, 15*time.Second)
	defer cancel()
	_, err := chromedp.Call(ctx, emulation.SetCPUThrottlingRate,
		emulation.SetCPUThrottlingRateParams{Rate: times})
	return err
}

// Metrics gives what the browser counts of the page: seconds, and how many.
func (p *Page) Metrics() (map[string]float64, error) {
	ctx, cancel := context.WithTimeout(p.ctx, 15*time.Second)
	defer cancel()
	if _, err := chromedp.Call(ctx, performance.Enable, performance.EnableParams{}); err != nil {
		return nil, err
	}
	told, err := chromedp.Call(ctx, performance.GetMetrics, cdp.Empty{})
	by := map[string]float64{}
	for _, one := range told.Metrics {
		by[one.Name] = one.Value
	}
	return by, err
}
