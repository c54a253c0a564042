package e2e

import (
	"encoding/json"
	"fmt"
	"os"
	"path/filepath"
	"strings"
	"testing"

	"github.com/chromedp/chromedp/kb"
	"github.com/stretchr/testify/require"

	"axtren/app/contract"
	"axtren/e2e/rig"
)

// thirdPin is a made-up car whose receiver keeps a position on its third pin only.
const thirdPin = `format: axtren-setup
version: 1
name: Third pin
craft: {kind: car}
transmitter:
  can: {channels: 4}
  controls:
    - {id: trigger, kind: axis, label: Trigger, form: trigger}
    - {id: wheel, kind: axis, label: Wheel, form: wheel}
    - {id: lever, kind: axis, label: Lever, lies: left}
    - {id: lamp_key, kind: switch, label: Lamp switch, positions: ["off", "on"]}
receivers:
  - id: rx
    label: Receiver
    failsafe: {can: [hold, preset], preset_pins: [3], otherwise: hold}
    pins: [{pin: 1, channel: 1}, {pin: 2, channel: 2}, {pin: 3, channel: 3}, {pin: 4, channel: 4}]
outputs:
  - {id: steer, label: Steering, channel: 1}
  - {id: motor, label: Motor, channel: 2}
  - {id: lamp, label: Lamp, channel: 3}
mixes: [{id: a, to: steer, from: wheel}, {id: b, to: motor, from: trigger}, {id: c, to: lamp, from: lamp_key}]
devices:
  - {id: servo, label: steering servo, on: rx.1, kind: servo}
  - {id: esc, label: controller, on: rx.2, kind: esc}
  - {id: relay, label: lamp relay, on: rx.3, kind: relay}
`

// row is what the plan says of a function: its channel and its pin.
func row(function, channel, pin string) string {
	return fmt.Sprintf(`(r => r && [...r.querySelectorAll('.fig')].map(f => f.lastChild.data ?? f.textContent)
		.join(' ') === %q)(document.querySelector('[data-plan=%s]'))`, channel+" "+pin, function)
}

// TestThePlanIsCarriedOut: what is usual is asked for, the plan moves what must stop, is carried out as
// one revision, and taken back.
func TestThePlanIsCarriedOut(t *testing.T) {
	p := sit(t)
	p.goes(p.page.Before(collects))
	p.ask("POST", "/api/models", thirdPin)
	m := p.opensModel("Third pin", "plan", row("motor", "2", "2"))
	p.sees(shows("nav a[href$=plan]", "proved best"))
	p.sees("!document.querySelector('[data-changes]')")
	p.sees(shows("[data-proposals]", "Motor stops on a lost signal: a motor that holds goes on turning"))
	p.clicks("[data-proposals] .link")
	p.revision(2)

	p.sees(row("motor", "3", "3"))
	p.sees(row("lamp", "2", "2"))
	p.sees(row("steer", "1", "1"))
	p.sees("!document.querySelector('[data-proposals]')")
	p.sees(shows(".stands", "proved best, and other than it is now"))
	p.sees(shows("nav a[href$=plan]", "better with 5 changes"))
	require.Equal(t, "Motor channel 2 → becomes channel 3 pin 2 → becomes pin 3 "+
		"store again what it does on a lost signal Lamp channel 3 → becomes channel 2 pin 3 → becomes pin 2",
		strings.Join(strings.Fields(p.reads("[data-changes] dl")), " "))
	p.sees(shows("[data-plan=motor] .why", "It goes to a position on a lost signal: only pin 3 can do that"))
	p.sees(shows("[data-plan=lamp] .why", "It makes room for Motor"))
	p.spotless("a plan with changes")

	p.clicks("[data-carry]")
	p.revision(3)
	p.sees("!document.querySelector('[data-changes]')")
	p.sees(shows("nav a[href$=plan]", "proved best"))
	p.sees(row("motor", "3", "3"))
	var head contract.Model
	p.goes(json.Unmarshal(p.ask("GET", "/api/models/"+m.ID, ""), &head))
	require.Equal(t, 3, head.Revision)
	p.presses("Undo")
	p.revision(4)
	p.sees(shows("nav a[href$=plan]", "better with 5 changes"))
}

// TestAChoiceIsFixedByHand: what another place costs, "this stays", putting it elsewhere by the menu
// and by dragging; what cannot be met together then.
func TestAChoiceIsFixedByHand(t *testing.T) {
	p := sit(t)
	p.goes(p.page.Before(collects))
	p.ask("POST", "/api/models", thirdPin)
	p.opensModel("Third pin", "plan", row("steer", "1", "1"))
	p.clicks("[data-why='outputs/steer']")
	p.sees(shows(".choice", "Where it was: nothing is gained by moving it."))
	p.sees(shows(".choice", "Asked for: had better be quick (as usual)."))
	p.sees(shows("[data-other]", "Another place for Steering costs a lead moved and a channel keyed in anew."))
	p.sees("!document.querySelector('[data-plan=steer] .kept')")
	p.spotless("a choice of the plan")
	p.clicks("[data-fix]")
	p.revision(2)
	p.sees("document.querySelector('[data-plan=steer] .kept')")
	p.sees(shows("[data-plan=steer] .why", "You fixed its channel and its pin"))
	p.clicks("[data-fix]")
	p.revision(3)
	p.sees("!document.querySelector('[data-plan=steer] .kept')")

	// put on the pin of the lamp: the two have exchanged, and it stays
	p.chooses("[aria-label='Put it on… another place for Steering']", "pin 3")
	p.revision(4)
	p.sees(row("steer", "3", "3"))
	p.sees(row("lamp", "1", "1"))
	p.sees("document.querySelector('[data-plan=steer] .kept')")
	p.sees("!document.querySelector('[data-plan=lamp] .kept')")

	// then the motor cannot have the only pin that keeps a position
	p.clicks("[data-proposals] .link")
	p.revision(5)
	p.sees(shows("[data-conflict]", "Motor goes to a position on a lost signal."))
	p.sees(shows("[data-conflict]", "To free it: let Steering go to another channel."))
	p.sees(shows(".stands", "not all that is asked for can be had; this is the nearest"))
	p.sees(shows("nav a[href$=plan]", "1 wish not met"))

	// dragged onto another row, the two exchange their places
	p.presses("Undo")
	p.revision(6)
	p.evals(`(() => {
		const data = new DataTransfer()
		const at = name => document.querySelector('[data-plan=' + name + ']')
		at('motor').dispatchEvent(new DragEvent('dragstart', { bubbles: true, dataTransfer: data }))
		at('lamp').dispatchEvent(new DragEvent('dragover', { bubbles: true, cancelable: true, dataTransfer: data }))
		at('lamp').dispatchEvent(new DragEvent('drop', { bubbles: true, cancelable: true, dataTransfer: data }))
	})()`)
	p.revision(7)
	p.sees(row("motor", "1", "1"))
	p.sees(row("lamp", "2", "2"))

	// under another lever
	p.clicks("[data-why='controls/trigger']")
	p.sees(shows("[data-other]", "Another control for what Trigger moves costs"))
	p.chooses("[aria-label='Put it on… another place for Motor']", "Lever")
	p.revision(8)
	p.sees(shows("[data-hand='controls/lever']", "Motor"))
	p.sees(shows("[data-hand='controls/lever'] .why", "You fixed it"))
	p.sees("!document.querySelector(`[data-hand='controls/trigger']`)")
	errors, err := rig.Eval[[]string](p.page, "window.__errors")
	p.goes(err)
	require.Empty(t, errors)
}

// TestWishesAreAList: of every function, in words, each opened to be changed; on a phone too.
func TestWishesAreAList(t *testing.T) {
	p := sit(t)
	p.ask("POST", "/api/models", thirdPin)
	for n, size := range [][2]int64{{1280, 800}, {390, 844}} {
		p.goes(p.page.Size(size[0], size[1]))
		p.opensModel("Third pin", "plan", "document.querySelector('.plan .wishes')")
		p.clicks(".wishes")
		p.sees(shows("[role=dialog] li", "Had better be quick (as usual)"))
		p.sees(shows("[role=dialog] li", "Moved by a lever that goes back to the middle (as usual), drives"))
		p.clicksBelow("[data-wish='wishes/steer']")
		p.sees("document.querySelector('[role=dialog] .form [data-field=\"needs.within_ms\"] input')")
		p.types("'needs.within_ms'", []string{"40", "55"}[n])
		p.goes(p.page.Keys(kb.Enter))
		p.sees(shows("[role=dialog] li", []string{"Answers within 40 ms", "Answers within 55 ms"}[n]))
		p.spotless("wishes")
		ids, err := rig.Eval[[]string](p.page, rawIDs)
		p.goes(err)
		require.Empty(p, ids)
	}
}

// TestLeadsAndPower: the drawing says in words what each lead carries; a feed is told in its form, and
// every figure answers why; what is too small is a finding that leads here.
func TestLeadsAndPower(t *testing.T) {
	p := sit(t)
	p.goes(p.page.Before(collects))
	p.opensModel("Marram", "plan", "document.querySelector('[data-power] dd')")
	p.sees("document.querySelectorAll('svg .device rect').length === 10")
	p.sees("[...document.querySelectorAll('svg title')].some(t => t.textContent === " +
		"'pin 3 to starboard controller: signal and ground, its red wire is lifted')")
	p.sees("document.querySelectorAll('svg .lifted').length === 1")
	p.sees(shows("[data-power] dd", "of 3 A"))
	p.clicksBelow("[aria-label='why? All stalled']")
	p.sees(shows(".arithmetic", "rudder servo 1.4 A + monitor turn servo 0.9 A + pump controller 0.1 A = "+
		"2.4 A; port controller gives 5 A for a moment."))
	p.sees("!document.querySelector('[data-power] .bad')")
	p.spotless("leads and power")

	p.clicks("[data-wiring]")
	p.sees("document.querySelector('.form [data-field=feeds]')")

	p.opensModel("Gannet", "plan", shows("[data-power='hoist controller, for both receivers'] dd", "peak 5 A"))
	p.sees("document.querySelectorAll('svg .sense, svg circle').length === 3") // a box, its lead, the joint
	p.clicks("[data-in-words] summary")
	p.sees(shows("[data-in-words] li", "Hoist controller feeds Gantry receiver by one leg of a Y lead, "+
		"through the "+
		"turning joint."))
	p.sees(shows("[data-power='Slewing ring'] dd", "of 4"))
	p.clicks("[data-power='Gantry receiver'] summary")
	p.sees(shows("[data-power='Gantry receiver'] details dt", "At beacon lamp"))
	p.clicksBelow("[aria-label='why? beacon lamp']")
	p.sees(shows("[data-power='Lamps and their resistors'] .arithmetic", "(5.2 V − 2.1 V) ÷ 20 mA = 155 Ω"))
	p.spotless("leads of two receivers")
	p.ask("POST", "/api/models", thirdPin)
	p.opensModel("Third pin", "plan", shows("[data-power]", "Nothing is known yet of what feeds it"))
	p.ask("POST", "/api/models", strings.Replace(strings.Replace(thirdPin, "Third pin", "Small feed", 1),
		"on: rx.1, kind: servo", "on: rx.1, kind: servo, draws_a: {most: 2}", 1)+
		"wiring: {feeds: [{into: rx, label: Small pack, volts: 6, continuous_a: 1}]}\n")
	p.opensModel("Small feed", "plan", "document.querySelector('[data-power] .bad')")
	p.sees(shows("[data-power]", "To do: take a stronger feed, or feed the strongest of them by a lead"))
	p.spotless("a feed that is too small")
}

const sounder = `{"format": "axtren-setup", "version": 1, "name": "Sounder", "craft": {"kind": "boat"},
"transmitter": {"controls": [{"id": "sw", "kind": "switch", "positions": ["off", "on"], "label": "Horn switch"}]},
"outputs": [{"id": "horn", "channel": 2, "label": "Horn"}], "mixes": [{"to": "horn", "from": "sw"}],
"receivers": [{"id": "rx", "label": "Bow receiver", "pins": [{"pin": 1, "channel": 1}, {"pin": 2, "channel": 2}]}],
"devices": [{"id": "card", "label": "sound card", "on": "rx.2", "kind": "sound_trigger"}]}`

// TestPinsAreSetByCountedFlashes: a chart is taken, a pin asked for, each level walked from what is there
// to what is wanted and kept on record; then the lamp. A chart of one's own is told where it is wrong, and
// nothing is changed by it.
func TestPinsAreSetByCountedFlashes(t *testing.T) {
	p := sit(t)
	p.goes(p.page.Before(collects))
	p.ask("POST", "/api/models", sounder)
	m := p.opensModel("Sounder", "plan", "document.querySelector('details[data-codes]')")
	p.sees("!document.querySelector('[data-pin]')")
	p.clicks("[data-codes] summary")
	p.picks("[aria-label='the chart of Bow receiver']", "A pin first, then four choices")
	p.sees("document.querySelectorAll('[data-pin]').length === 2")
	p.sees(shows("[data-open]", "Every pin is set as it is to be, as far as is on record."))
	p.picks("[aria-label='what pin 2 sends']", "0 V, high above 1500 µs")
	p.sees(shows("[data-open]", "One pin is to be set."))
	p.sees(shows("[data-codes] .steps li", "Pull every plug out of Bow receiver but that of what feeds it"))
	p.sees(shows("[data-pin='2']", "On or off: 0 V until Horn is above 1500 µs, then high."))
	p.sees("document.querySelectorAll('[data-pin=\"2\"] [data-level]').length === 5")
	p.sees("!document.querySelector('[data-pin=\"1\"] [data-level]')")
	p.sees(shows("[data-pin='2'] [data-level='5']", "the pulse at which it switches: 2 flashes (switches "+
		"at 1500 µs)"))
	p.picks("[aria-label='flashes counted now on level 5 for pin 2']", "3: switches at 1750 µs")
	p.sees(shows("[data-level='5'] [role=status]", "Down by 1: pull the plug of pin 2 out and put it in "+
		"again, once."))
	for level, code := range []int{2, 2, 1, 1, 2} {
		p.sees(fmt.Sprintf("document.querySelectorAll('[data-pin=\"2\"] .done').length === %d", level))
		p.clicksBelow(fmt.Sprintf("[aria-label='It flashes %d now: level %d of pin 2']", code, level+1))
	}
	p.sees(shows("[data-open]", "Every pin is set"))
	p.sees(shows("[data-pin='2'] summary", "Set: 2 · 2 · 1 · 1 · 2"))
	p.sees(shows("[data-pin='2'] .test", "A lamp on pin 2: it has to shine while the pin is on, and be "+
		"dark else."))
	p.spotless("pins by counted flashes")
	p.clicksBelow("[aria-label='It flickers: the lamp on pin 2']")
	p.sees("document.querySelector('[aria-label=\"It flickers: the lamp on pin 2\"]').ariaPressed === 'true'")
	p.goes(p.page.Go(p.app.URL + "/models/" + m.ID + "/log"))
	p.sees(shows("body", "The lamp on pin 2 of Bow receiver flickered"))

	p.goes(p.page.Go(p.app.URL + "/models/" + m.ID + "/plan"))
	p.sees("document.querySelector('[data-pin]')")
	p.clicksBelow("[data-codes] .link") // read or change it
	p.evals("(t => { t.value = t.value.replace('sends: pulses', 'sends: smoke'); t.dispatchEvent(new " +
		"Event('input')) })" +
		"(document.querySelector('textarea'))")
	p.presses("Save")
	p.sees(shows(".chart [role=alert]", "receivers[0].chart.levels[1].values[0].sends"))
	p.presses("Leave it as it was")
	p.sees("!document.querySelector('textarea')")
	p.sees(shows("[data-codes]", "A pin first, then four choices"))
}

// TestThePlanLeavesOnPaper: as PDF, the leads as files, and all of it in the carried file after what is
// keyed in, which counts no tick more for it.
func TestThePlanLeavesOnPaper(t *testing.T) {
	p := sit(t)
	m := p.opensModel("Gannet", "plan", "document.querySelector('.files a')")
	links, err := rig.Eval[[]string](p.page, "[...document.querySelectorAll('.files a')].map(a => "+
		"a.getAttribute('href'))")
	p.goes(err)
	begins := []string{"%PDF-", "%PDF-", "<svg xmlns", "digraph leads {"}
	require.Len(t, links, len(begins))
	for i, link := range links {
		require.True(t, strings.HasPrefix(string(p.ask("GET", link, "")), begins[i]), link)
	}
	carried := p.ask("GET", "/api/models/"+m.ID+"/sheet.html?short=true", "")
	path := filepath.Join(t.TempDir(), "gannet.html")
	require.NoError(t, os.WriteFile(path, carried, 0o600))
	page, err := browser.NewPage(390, 844)
	p.goes(err)
	t.Cleanup(page.Close)
	phone := &person{p.T, p.app, page}
	p.goes(page.Go("file://" + path))
	phone.sees(shows(".fitted h2", "At the model: what goes where"))
	phone.sees("document.querySelectorAll('.fitted .end').length === 10")
	phone.sees(shows(".fitted .end", "Sea-side leg: Travel lever"))
	phone.sees(shows(".fitted .end", "sent on 5, got on 5, pin 1 of Gantry receiver; on a lost signal: "+
		"goes to 0"))
	phone.sees(shows(".fitted li", "Store for pin 1, Hoist: on a lost signal it goes to 0."))
	phone.sees("document.querySelectorAll('.fitted svg rect').length === 14")
	phone.sees(shows(".fitted li", "Hoist controller feeds Gantry receiver by one leg of a Y lead"))
	phone.sees(shows(".fitted li", "All stalled: 1.12 A, peak 5 A; Mast receiver 0.5 A + Gantry receiver "+
		"0.62 A = 1.12 A"))
	phone.sees(shows(".fitted h3", "Pin 5 magnet: on or off: 0 V until Magnet is above 1600 µs, then 3.3 V"))
	phone.sees(shows(".fitted li", "Level 2, what it sends: 2 flashes"))
	phone.sees("!document.querySelector('.fitted input')")
	phone.sees("document.documentElement.scrollWidth <= innerWidth")
	phone.clean("carried plan")
}

// picks takes an entry of a list by its words.
func (p *person) picks(list, entry string) {
	p.Helper()
	p.sees(fmt.Sprintf("[...document.querySelector(%q)?.options ?? []].some(o => o.text.trim() === %q)",
		list, entry))
	p.evals(fmt.Sprintf("(l => { l.value = [...l.options].find(o => o.text.trim() === %q).value; "+
		"l.dispatchEvent(new Event('change')) })(document.querySelector(%q))", entry, list))
}
