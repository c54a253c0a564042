package e2e

import (
	"fmt"
	"strconv"
	"testing"

	"github.com/chromedp/chromedp/kb"
)

// TestRulesAreSentences: what a model's switches do is told in sentences; one opened shows its states, the
// live one lit, and what is possible now; a place of it is filled by moving what is meant, and the
// sentence says so; its blocks are behind it.
func TestRulesAreSentences(t *testing.T) {
	p := sit(t)
	p.opensModel("Marram", "rules", "document.querySelector('.rule')")
	p.sees(shows("[data-behind='logic/spray_on']",
		"goes on when Left button is pressed, and off the next time; "+
			"off also as long as Water lock is at locked. Wakes off."))
	p.sees(shows("[data-behind='steppers/mast_lights']",
		"goes one step on when Right button is pressed, through dark, "+
			"anchor, under way and towing, and round again. Wakes at dark."))
	p.sees("document.querySelectorAll('.rule').length === 9")
	p.sees("!/[a-z]_[a-z]/.test(document.querySelector('.rules').innerText)")
	p.spotless("rules as sentences")

	// its states: the live one is lit, and what is possible now is what then happens
	p.clicks("[data-behind='logic/spray_on'] .name")
	p.sees("document.querySelectorAll('[data-state]').length === 2")
	p.sees(shows("[data-state='0'].now", "off"))
	p.sees(shows("[data-now]", "Now off."))
	p.sees("!document.querySelector('[data-now]').textContent.includes('Possible')")
	p.clicks("[data-switch='arm.free']")
	p.sees(shows("[data-now]", "Possible now: press Left button, to on"))
	p.goes(p.page.Drag("[data-switch='spray.press']", 0, 0, false))
	p.sees(shows("[data-state='1'].now", "on"))
	p.goes(p.page.Release())
	p.sees(shows("[data-now]", "press Left button, to off; Water lock to locked, to off"))
	p.sees("document.querySelector('[data-behind=\"logic/spray_on\"] circle.on') !== null")
	p.clicks("[data-switch='arm.locked']")
	p.sees(shows("[data-state='0'].now", "off"))
	p.spotless("an open rule")

	// the cut is something else that is moved
	p.clicks("[data-fill='cut']")
	p.presses("Choose by moving it")
	p.clicks("[data-switch='harbour.harbour']")
	p.revision(2)
	p.sees(shows(".sentence", "off also as long as Front switch is at harbour"))
	p.clicks("[data-fill='cut_how']")
	p.evals(`(() => { const s = document.querySelector('[data-place=cut_how] select'); s.value = 'moment';
		s.dispatchEvent(new Event('change')) })()`)
	p.sees(shows(".sentence", "off also at the moment when Front switch goes to harbour"))
	p.presses("As blocks")
	p.sees("document.querySelectorAll('.blocks li').length === 3")
	p.sees(shows(".blocks", "moment it becomes true"))
	p.presses("Undo")
	p.sees(shows(".sentence", "off also as long as Front switch is at harbour"))
	p.presses("Undo")
	p.sees(shows(".sentence", "off also as long as Water lock is at locked"))

	// the step on a lost signal, which Loss and start then shows as the position that it is
	p.clicks("[data-behind='steppers/mast_lights'] .name")
	p.sees(shows(".rule.open .sentence", "When the signal is lost, it does what Loss and start says."))
	p.clicks("[data-fill='loss']")
	p.sees(`[...document.querySelectorAll('[data-place=loss] option')].map((o) => o.textContent.trim()).join() ===
		'choose one,it does what Loss and start says,it stays as it is,dark,anchor,under way,towing'`)
	p.picks("[data-place='loss'] select", "anchor")
	p.sees(shows(".rule.open .sentence", "When the signal is lost, it goes to anchor."))
	p.spotless("a step on a lost signal")
	p.picks("[data-place='loss'] select", "it stays as it is")
	p.sees(shows(".rule.open .sentence", "When the signal is lost, it stays as it is."))
	p.presses("Undo")
	p.presses("Undo")
	p.sees(shows(".rule.open .sentence", "When the signal is lost, it does what Loss and start says."))

	// how to get to a state, from how things are now, and it is so
	p.clicks("[data-behind='logic/spray_ready'] .name")
	p.sees("document.querySelectorAll('[data-goal]').length === 1")
	p.clicks("[data-goal]")
	p.sees("[...document.querySelectorAll('[data-way] li')].map((li) => li.textContent).join(' ') === " +
		"'Press Left button and put Water lock to free. 1.5 s later, it is so.'")
	p.spotless("how to get to a state")
	// beside another rule: the fewest movements that tell them apart
	p.presses("Does another do the same?")
	p.picks("[data-compare]", "Water wanted")
	p.sees("document.querySelector('.card [data-same=fails]')")
	p.sees(shows(".card [data-same]", "They do not do the same. To see it:"))
	p.sees("[...document.querySelectorAll('.card [data-same] li')].map((li) => li.textContent).join(' ') === " +
		"'Press Left button and put Water lock to free. Then Water wanted is on and Pump primed is off.'")
	p.spotless("two rules beside each other")
	p.presses("Does another do the same?")
	p.sees("!document.querySelector('.card [data-same]')")

	p.clicks("[data-switch='arm.free']")
	p.goes(p.page.Drag("[data-switch='spray.press']", 0, 0, true))
	p.sees(shows("[data-now]", "Now on"))
	p.sees("[...document.querySelectorAll('[data-goal]')].map((b) => b.textContent.trim()).join() === " +
		"'How do I get to “off”?'")

	// what points at a part of a rule opens the rule, by its own address too
	p.opensModel("Wader", "rules?part=logic/to_land", "document.querySelector('[data-rule]')")
	p.sees(shows("[data-behind='logic/at_shore']", "Set for the shore and Set for water"))
	p.sees(shows(".blocks", "Asked for land"))
	p.sees("document.querySelectorAll('[data-state]').length === 3")
	p.reloads()
	p.sees(shows("[data-behind='logic/at_shore'] .sentence", "Green button is pressed and held for 1 s"))
	p.goes(p.page.Size(390, 844))
	p.sees("document.documentElement.scrollWidth <= innerWidth")
	p.spotless("an open rule on a phone")
	p.goes(p.page.Size(1280, 800))
}

// TestANewRule: what it should do is chosen from a list, each place filled in turn, what moves it by
// moving it;
// nothing is written before; two that move one function ask which wins; it is changed, and taken out.
func TestANewRule(t *testing.T) {
	p := sit(t)
	p.opensModel("Marram", "rules", "document.querySelector('.rule')")
	p.presses("New rule")
	p.sees("document.querySelectorAll('[data-kind]').length === 20")
	p.spotless("the kinds of rule")
	p.clicks("[data-kind='once']")
	p.sees(shows(".new .sentence", "goes on for 0.3 s each time [what starts it], and then off."))
	p.presses("Write it")
	p.sees(shows(".new .fault", "is not chosen yet: what starts it"))
	p.goes(p.page.Drag("[data-switch='mast.press']", 0, 0, true))
	p.sees(shows(".new .sentence", "each time Right button is pressed, and then off."))
	p.sees("document.querySelectorAll('.rule').length === 9")
	p.clicks("[data-fill='for']")
	p.evals(`(() => { const s = document.querySelector('[data-place=for] input'); s.value = '1,5';
		s.dispatchEvent(new Event('change')) })()`)
	p.sees(shows(".new .sentence", "goes on for 1.5 s each time"))
	p.clicks("[data-fill='moves']")
	p.evals(`[...document.querySelectorAll('[data-place=moves] label')].find((l) =>
		l.textContent.includes('Steam whistle')).querySelector('input').click(), 1`)
	p.sees("document.querySelectorAll('[data-place=moves] input:checked').length === 1")
	p.presses("Write it")
	p.sees(shows(".new .fault", "Steam whistle is moved by Rear button already; say which of the two wins"))
	p.sees("document.querySelector('[data-place=wins] select') !== null")
	p.spotless("which of two wins")
	p.evals(`(() => { const s = document.querySelector('[data-place=wins] select'); s.value = 'this';
		s.dispatchEvent(new Event('change')) })()`)
	p.presses("Write it")
	p.revision(2)
	p.sees("!document.querySelector('.new')")
	p.sees("document.querySelectorAll('.rule').length === 9") // the button alone is no rule by itself any more
	p.sees(shows("[data-rule] .sentence", "goes on for 1.5 s each time Right button is pressed"))
	p.sees(shows(".rule.open", "moves: Steam whistle"))
	p.sees("document.querySelectorAll('[data-state]').length === 2")
	p.goes(p.page.Drag("[data-switch='mast.press']", 0, 0, true))
	p.sees(shows("[data-state='1'].now", "on"))
	p.sees(shows("[data-state='0'].now", "off"))
	p.presses("Remove it")
	p.revision(3)
	p.sees("!document.querySelector('[data-rule]')")
	p.sees("document.querySelectorAll('.rule').length === 9")
	p.sees(shows("[data-behind='mixes/blow']", "is on while Rear button is held, else off."))
	p.presses("New rule")
	p.goes(p.page.Size(390, 844))
	p.sees("document.documentElement.scrollWidth <= innerWidth")
	p.clicks("[data-kind='chooser']")
	p.spotless("a new rule on a phone")
	p.presses("Leave it")
	p.sees("!document.querySelector('.new')")
	p.goes(p.page.Size(1280, 800))
}

// TestOwnEntries: the rules in the entries of the transmitter, proved; or what it cannot do, and when
// that shows;
// anew after an edit; away again.
func TestOwnEntries(t *testing.T) {
	p := sit(t)
	p.opensModel("Quill", "rules", "document.querySelector('.own button')")
	p.sees("!document.querySelector('[data-entries]')")
	p.presses("Write them")
	p.sees(shows("[data-entries=holds]", "9 entries do what the rules say, whatever hands do: that is proved."))
	p.sees("[...document.querySelectorAll('.own dt')].map((e) => e.innerText).join() === 'Entry " +
		"1,Entry 2,Entry 3," +
		"Entry 4, Tank blown,Entry 5,Entry 6,Entry 7, At the surface,Entry 8, Mast may be up,Entry 9, Grip closed'")
	p.sees(shows(".own dd", "latch: set by Red button at press, reset by entry 3"))
	p.sees("document.querySelectorAll('.own ul li').length === 3")
	p.spotless("own entries")
	p.sees("!document.querySelector('[data-plain]')")

	// where the other side of a latch wins, it is said what goes wrong with it as it stands
	id := p.place()[len("/models/"):][:36]
	_, err := p.app.Send("PATCH", "/api/models/"+id, `[{"op": "add", "path": "/transmitter/can/logic/both_true",
		"value": "reset"}]`, "If-Match", fmt.Sprintf("%q", strconv.Itoa(p.revisionOf(id))))
	p.goes(err)
	p.sees(shows("[data-plain] summary", "Keyed in one by one as they stand, they would not do the same here"))
	p.clicks("[data-plain] summary")
	p.sees(shows("[data-plain] li:last-child", "“Tank blown” is off and should be on"))
	p.spotless("what goes wrong as it stands")
	p.presses("Put away")
	p.sees("!document.querySelector('.own dt')")
	p.opensModel("Marram", "rules", "document.querySelector('.own button')")
	p.presses("Write them")
	p.sees(shows("[data-entries=fails]", "They do not do what the rules say. To see it:"))
	p.sees(shows(".own", "Towing light: this transmitter has no entry of the kind “off after a while”."))
	p.sees(shows(".own ol li", "At power-on the entry is not what the rule is: Towing light."))
}

// TestWhatMustHold: what must always hold is proved, or broken by movements that are told and played; an edit
// is looked at again, and only what it has to do with; a search is ended by hand.
func TestWhatMustHold(t *testing.T) {
	p := sit(t)
	m := p.opensModel("Pipit", "rules", "document.querySelectorAll('[data-verdict=holds]').length === 2")
	broken := "[data-behind='claims/pod_saves']"
	p.sees(shows(broken, "is broken"))
	p.sees("[...document.querySelectorAll(\"" + broken + " li\")].map((li) => li.textContent).join(' ') === " +
		"'Before power-on: Battery alarm at low. 2 s later, it is broken.'")
	p.sees(shows("[data-behind='claims/junior_cap']", "holds. Proved for whatever hands and signal do"))
	p.sees("!document.querySelector('[data-behind=\"claims/junior_cap\"] ol, " +
		"[data-behind=\"claims/junior_cap\"] " +
		".acts button')")
	p.spotless("what must always hold")

	p.clicks(broken + " .acts button")
	p.sees(shows(".player", "How it is broken"))
	p.sees("document.querySelector(\"[data-switch='battery.low'].on\") !== null")
	p.presses("Back to the hands")
	p.sees("!document.querySelector('.player')")

	// what would cure it, proved, and done by a press
	p.presses("What would cure it?")
	p.sees("document.querySelector('[data-cures]')?.innerText.includes('With any one of these it " +
		"holds: that is proved')")
	p.sees("[...document.querySelectorAll('.cure p')].map((e) => e.innerText.trim()).join() === " +
		"'Let Lamp pod rest while Battery alarm at low.'")
	p.spotless("what would cure it")
	p.clicks(".cure button")
	p.sees(shows(broken, "holds. Proved"))
	p.sees("!document.querySelector('[data-cures]')")
	p.presses("Undo")
	p.sees(shows(broken, "is broken"))
	p.presses("What would cure it?")
	p.sees("!document.querySelector('[data-cures]')")

	// what the edit has to do with is looked at again
	_, err := p.app.Send("PATCH", "/api/models/"+m.ID, `[{"op": "test", "path": "/claims/0/id", "value": "pod_saves"},
		{"op": "replace", "path": "/claims/0/never/1/above", "value": 100}]`,
		"If-Match", fmt.Sprintf(`"%d"`, p.revisionOf(m.ID)), "Content-Type", "application/json-patch+json")
	p.goes(err)
	p.sees(shows(broken, "holds. Proved"))
	p.sees("document.querySelectorAll('[data-verdict=holds]').length === 3")
	p.sees("!document.querySelector('[data-verdict=fails]')")
	p.presses("Undo")
	p.sees(shows(broken, "is broken"))

	// what is usual is proposed, and added by a press; then it is proved too
	p.sees("[...document.querySelectorAll('[data-usual-claims] button')].map((b) => b.ariaLabel).join() === " +
		"'add: Motor rests at power-on, whatever was left over,add: Motor rests when the signal is lost'")
	p.clicks("[data-usual-claims] button")
	p.sees(shows("[data-behind='claims/motor_starts']", "holds. Proved"))
	p.sees("document.querySelectorAll('[data-usual-claims] button').length === 1")
	p.presses("Undo")
	p.sees("!document.querySelector(\"[data-behind='claims/motor_starts']\")")
	p.sees("document.querySelectorAll('[data-usual-claims] button').length === 2")

	// by its own address, opened, and on a phone
	p.opensModel("Wader", "rules?part=claims/one_drive", "document.querySelector('[data-verdict=fails] ol')")
	p.sees(shows("[data-behind='claims/one_drive']", "never at once: Wheels is above +25; Screw is above +25"))
	p.goes(p.page.Size(390, 844))
	p.sees("document.documentElement.scrollWidth <= innerWidth")
	p.spotless("what must always hold on a phone")
	p.goes(p.page.Size(1280, 800))

	// a search that goes on is ended
	id, err := p.app.Make(longSearch)
	p.goes(err)
	p.goes(p.page.Go(p.app.URL + "/models/" + id + "/rules"))
	p.sees(shows("[data-verdict=looking]", "moments were looked at so far"))
	p.presses("Stop the search")
	p.sees(shows("[data-verdict=undecided]", "not proved yet"))
	p.sees(shows("[data-verdict=undecided]", "There was no more"))
}

// longSearch is a model with a claim that takes long.
const longSearch = `format: axtren-setup
version: 1
name: Long
transmitter:
  controls:
    - {id: a, kind: switch, positions: [x, y], label: A}
    - {id: b, kind: switch, positions: [x, y], label: B}
    - {id: c, kind: switch, positions: [x, y], label: C}
logic:
  - {id: t1, block: ton, in: a.y, for_s: 60}
  - {id: u1, block: ton, in: a.y, for_s: 59}
  - {id: t2, block: ton, in: b.y, for_s: 70}
  - {id: u2, block: ton, in: b.y, for_s: 69}
  - {id: t3, block: ton, in: c.y, for_s: 80}
  - {id: u3, block: ton, in: c.y, for_s: 79}
  - {id: p1, block: and, in: [t1, not u1]}
  - {id: p2, block: and, in: [t2, not u2]}
  - {id: p3, block: and, in: [t3, not u3]}
  - {id: any, block: or, in: [p1, p2, p3]}
claims: [{id: never, never: [any]}]
`

// TestLampsAndParts: a usual way to flash is chosen, drawn, and told with what it means to others; the
// parts of a sequence are drawn along time, their points moved by the mouse and by keys.
func TestLampsAndParts(t *testing.T) {
	p := sit(t)
	p.opensModel("Marram", "rules?part=patterns/blue_flash", "document.querySelector('[data-rule]')")
	p.clicks("[data-fill='beat']")
	p.sees("document.querySelectorAll('[data-beat] .bar').length === 8") // two rounds of four steps
	p.evals(`(() => { const s = document.querySelector('[data-usual]'); s.value = 'vessel';
		s.dispatchEvent(new Event('change')) })()`)
	p.revision(2)
	p.sees(shows(".sentence", "blinks every 0.5 s"))
	p.sees(shows("[data-place=beat] .caution", "a flashing light means something to other vessels"))
	p.spotless("how a lamp flashes")

	p.opensModel("Wader", "rules?part=sequences/ramp_way", "document.querySelector('[data-rule]')")
	p.clicks("[data-fill='tracks']")
	p.sees("document.querySelectorAll('[data-point]').length === 2")
	p.evals("document.querySelector(\"[data-point='0 1']\").focus(), 1")
	p.goes(p.page.Keys(kb.ArrowRight))
	p.revision(2)
	p.sees(shows(".sentence", "runs out in 4.1 s"))
	p.goes(p.page.Drag("[data-point='0 1']", 30, 0, true))
	p.revision(3)
	p.sees("parseFloat(document.querySelector('.sentence').textContent.match(/in ([0-9.]+) s/)[1]) > 4.2")
	p.spotless("the parts of a sequence")
	p.presses("Undo")
	p.sees(shows(".sentence", "runs out in 4.1 s"))
}

// TestAStepBox: what it does, and how it is set by its button and flashes, by a chart that can be written.
func TestAStepBox(t *testing.T) {
	p := sit(t)
	p.opensModel("Alder", "rules", "document.querySelector('[data-box]')")
	p.sees(shows("[data-box='devices/legs_box']", "3 steps, the first of them is step 1"))
	p.presses("How it is set")
	p.sees(shows("[data-box]",
		"its lamp is to flash 2 times, which means 3 steps: press its button, short, until it does."))
	p.sees("document.querySelectorAll('[data-box] ol li').length === 9")
	p.spotless("how a step box is set")
	p.presses("Its chart")
	p.evals(`(() => { const t = document.querySelector('[data-box] textarea');
		t.value = t.value.replace('is: 3', 'is: 8'); t.dispatchEvent(new Event('input')) })()`)
	p.presses("Save")
	p.revision(2)
	p.sees(shows("[data-box] .fault", "the chart has nothing for 3 steps"))
}
