package e2e

import (
	"fmt"
	"testing"

	"github.com/chromedp/chromedp/kb"
	"github.com/stretchr/testify/require"
)

// counted is a person whose acts of the hand are counted: a press, a pull, a thing typed.
type counted struct {
	*person
	acts int
}

func (c *counted) press(css string)  { c.acts++; c.clicksBelow(css) }
func (c *counted) says(words string) { c.acts++; c.presses(words) }

// takes chooses from a menu: the press of its button, and the choice.
func (c *counted) takes(button, item string) { c.acts += 2; c.chooses(button, item) }

// names types what something new is called: its name has the focus.
func (c *counted) names(text string) {
	c.Helper()
	c.sees("document.activeElement.closest('.form [data-field=label]')")
	c.acts++
	c.goes(c.page.Keys(text + kb.Enter))
	c.sees(shows(".block .title", text))
}

// there tells whether the page has something.
func there(css string) string { return fmt.Sprintf("document.querySelector(%q)", css) }

// within holds that no more acts were needed, and begins to count anew.
func (c *counted) within(most int, what string) {
	c.Helper()
	require.LessOrEqual(c, c.acts, most, "%s took %d acts", what, c.acts)
	c.acts = 0
}

// TestTheFirstHour: what a newcomer does first, each in few acts of the hand.
func TestTheFirstHour(t *testing.T) {
	c := &counted{person: sit(t)}
	c.empties()
	c.says("Tracked model")
	c.sees("document.querySelector('input.name')")
	c.acts++
	c.goes(c.page.Keys("Ermine" + kb.Enter))
	c.sees(shows("main h2", "Ermine"))
	c.press("[aria-label='Open Ermine']")
	c.sees("document.querySelector('.dock svg .part')")
	c.acts++
	c.goes(c.page.Drag("[data-stick='Right stick']", 0, -45, false))
	c.sees(shows(".dock", "Ahead"))
	c.goes(c.page.Release())
	c.within(6, "from nothing to a tracked model that drives")

	// a function goes to another channel
	c.press("[data-line=lamps] .part")
	c.press("[data-part='outputs/lamps']")
	c.acts++
	c.types("channel", "7"+kb.Enter)
	c.revision(3)
	c.sees(shows(joint("out/lamps/pin"), "channel 7"))
	c.within(3, "a function moved to another channel")

	// a motor that stops when the signal is lost
	c.press("nav a[href$=loss]")
	c.press("[data-loss=port_track] .p-select")
	c.sees("document.querySelector('[role=option]')")
	c.acts++
	c.clicks("[role=option][aria-selected='false']")
	c.revision(4)
	c.within(3, "a loss position")

	// a lamp that a button switches on, and off again
	c.press("nav a[href$=functions]")
	c.says("Add a function")
	c.names("Deck lamp")
	c.takes("[aria-label='Plug in for Deck lamp']", "lamp")
	c.sees(there(joint("device/device_1")))
	c.takes("[aria-label='Add to Deck lamp']", "a button that switches it on and off")
	c.sees(shows(".prompt", "Press the button that is to switch Deck lamp on and off."))
	c.press("[data-switch='button.press']")
	c.sees(there(joint("control/button")))
	c.within(8, "a lamp by a button")
	c.sees(shows(joint("device/device_1"), "off"))
	c.clicksBelow("[data-switch='button.press']")
	c.sees(shows(joint("device/device_1"), "on"))

	// a cut on that lamp
	c.takes("[aria-label='Add to Deck lamp']", "a switch that cuts it")
	c.sees(there(".prompt"))
	c.press("[data-switch='front.front']")
	c.sees(shows(joint("device/device_1"), "off"))
	c.within(4, "a cut on that lamp")

	// one control in the place of another
	c.press(joint("control/button"))
	c.says("Another control…")
	c.sees(shows(".prompt", "Move what is to act instead of Button."))
	c.press("[data-switch='three.right']")
	c.sees("!" + there(".prompt"))
	c.sees(there(joint("control/three")))
	c.sees("!" + there(joint("control/button")))
	c.within(3, "one control exchanged for another")

	// three places, from a press up and a press down
	c.says("Add a function")
	c.names("Flap")
	c.takes("[aria-label='Plug in for Flap']", "servo")
	c.takes("[aria-label='Add to Flap']", "two presses that step it up and down")
	c.sees(shows(".prompt", "Press what is to step Flap up."))
	c.press("[data-switch='button.press']")
	c.sees(shows(".prompt", "Now press what is to step it down."))
	c.press("[data-switch='three.left']")
	c.sees("!" + there(".prompt"))
	c.within(12, "three places from two presses")
}
