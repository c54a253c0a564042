package e2e

import (
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
}
