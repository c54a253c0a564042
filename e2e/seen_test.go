package e2e

import (
	"fmt"
	"testing"
)

// TestWhatISee: the first try is asked for; what is seen leads to causes, the likeliest first, with where
// each is mended; one moves beside the model as it should be; the next try leaves fewer; a reload keeps
// what was seen; what nothing explains is said, with what to look at again.
func TestWhatISee(t *testing.T) {
	p := sit(t)
	p.opensModel("Stoat", "functions", "document.querySelector('.deck')")
	p.presses("Something is wrong")
	p.presses("What I see, try by try")
	p.sees(shows(".try .label", "Try 1."))
	p.sees("document.querySelectorAll('.try > .sight').length > 0")
	p.sees("document.querySelector('.try .acts button').disabled")
	p.spotless("what to try")

	// a try of one's own: the stick ahead
	p.picks("[aria-label='try something else']", "Push Right stick all the way towards forward")
	p.picks("[aria-label='and with it']", "Put Front switch to road")
	p.sees(shows(".try h3", "Push Right stick all the way towards forward, and put Front switch to road."))
	p.sees("!document.querySelector('[aria-label=\"and with it\"]').innerText.includes('Right stick, forward')")
	p.presses("Try what is asked for")
	p.picks("[aria-label='try something else']", "Push Right stick all the way towards forward")
	p.sees(shows(".try h3", "Push Right stick all the way towards forward."))
	p.clicks("[data-sight=port_controller] button:nth-child(2)")
	p.clicks("[data-sight=starboard_controller] button:nth-child(1)")
	p.sees(shows("[data-sight=port_controller] [aria-pressed=true]", "turns backward"))
	p.presses("That is what I see")
	p.sees(shows("[role=dialog] [role=status] h3", "causes explain all that you saw. The likeliest first:"))
	p.sees(shows(".sets > li:first-child", "Left track is reversed the wrong way in the transmitter. At the "+
		"transmitter: reverse Left track there."))
	p.sees("document.querySelectorAll('.sets > li').length === 5")
	p.evals("[...document.querySelectorAll('.link')].find(b => b.innerText.includes('more, less " +
		"likely')).click(), 1")
	p.sees("[...document.querySelectorAll('.sets > li')].some(li => li.innerText.includes('On the model: " +
		"exchange " +
		"the two wires'))")
	p.sees("![...document.querySelectorAll('.sets > li')].some(li => li.innerText.includes('Right track is " +
		"reversed'))")
	p.sees(shows(".try .label", "Try 2."))
	p.clicks(".sets > li:first-child [aria-expanded]")
	p.sees("document.querySelectorAll('.films figure svg').length === 2")
	p.sees(shows(".films figure:nth-child(2) figcaption", "With this cause"))
	p.spotless("causes, and one that moves")

	// the picture of the cause turns the left track back where the other turns it ahead
	p.sees(`(() => { const [a, b] = [...document.querySelectorAll('.films figure')].map(f => f.innerHTML);
		return a !== b.replace('With this cause', 'As it should be') })()`)

	before := "+document.querySelectorAll('.sets > li').length"
	p.evals("window.before = " + before + ", 1")
	p.clicks(".try > .sight:first-of-type button:nth-child(3)")
	p.presses("That is what I see")
	p.sees(shows(".try .label", "Try 3."))
	p.sees(fmt.Sprintf("window.before > 5 && %s < window.before", before))

	// a reload keeps what was seen, at the width of a phone too
	p.goes(p.page.Size(390, 844))
	p.reloads()
	p.sees("document.readyState === 'complete' && window.before === undefined")
	p.chooses("[aria-label=More]", "Something is wrong")
	p.presses("What I see, try by try")
	p.sees(shows(".looks summary", "What you saw so far: 2"))
	p.spotless("what was seen, on a phone")
	p.goes(p.page.Size(1280, 800))

	// start again; what nothing explains
	p.presses("Start again")
	p.sees("!document.querySelector('.sets') && !document.querySelector('.looks')")
	p.sees("document.querySelector('.try[aria-busy=false]')")
	p.evals("document.querySelector('.displays').open = true, 1")
	p.evals(`(() => { const i = document.querySelector('[data-display="1"] input'); i.value = '1237';
		i.dispatchEvent(new Event('input')) })()`)
	p.presses("That is what I see")
	p.sees(shows("[role=dialog] [role=status] h3", "No 3 faults at once explain all of this."))
	p.sees(shows("[role=dialog]", "Try 1: channel 1, Left track – you saw “1237”"))
	p.clean("what I see")
}
