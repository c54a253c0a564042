package words

import (
	"fmt"
	"strings"

	"axtren/core/setup"
)

// Claims are the kinds of what must always hold, by the field of the document that says it.
var Claims = []Kind{
	{"never", "never all at once", "", ""},
	{"at_start", "stands so when it is switched on", "", ""},
	{"on_loss", "does so when the signal is lost", "", ""},
	{"only_when", "changes only while", "", ""},
	{"leads_to", "is followed by", "", ""},
	{"reachable", "can be brought about", "", ""},
}

// Claim says what must always hold as a sentence without a stop: Pump is on and Lock at
// shut are never so at once.
func Claim(s *setup.Setup, c *setup.Claim) string {
	output := func(id setup.ID) string { return s.Label(s.Item(id)) }
	within := func(v float64) string {
		if v == 0 {
			return ""
		}
		return ", give or take " + Short(v)
	}
	switch {
	case c.Never != nil:
		list := make([]string, len(*c.Never))
		for i, one := range *c.Never {
			list[i] = Condition(s, one)
		}
		if len(list) == 1 {
			return "never is it so that " + list[0]
		}
		return "never at once: " + strings.Join(list, "; ")
	case c.AtStart != nil:
		return fmt.Sprintf("%s stands at %s when it is switched on%s", output(c.AtStart.Output),
			SignedShort(c.AtStart.Value), within(c.AtStart.Within))
	case c.OnLoss != nil && c.OnLoss.Value == nil:
		return output(c.OnLoss.Output) + " gets no pulses when the signal is lost"
	case c.OnLoss != nil:
		off := 0.0
		if c.OnLoss.Within != nil {
			off = *c.OnLoss.Within
		}
		return fmt.Sprintf("%s goes to %s when the signal is lost%s", output(c.OnLoss.Output),
			SignedShort(*c.OnLoss.Value), within(off))
	case c.OnlyWhen != nil:
		return fmt.Sprintf("whether %s changes only while %s", Truth(s, c.OnlyWhen.Changes),
			Condition(s, c.OnlyWhen.While))
	case c.LeadsTo != nil:
		return fmt.Sprintf("when %s, then within %s s %s", Condition(s, c.LeadsTo.When), Short(c.LeadsTo.WithinS),
			Condition(s, c.LeadsTo.Then))
	case c.Reachable != nil:
		return "it can be brought about that " + Condition(s, *c.Reachable)
	}
	return "says nothing yet"
}

// Condition says a condition: a truth, or where an output or a device is.
func Condition(s *setup.Setup, c setup.Condition) string {
	id := c.Output
	if id == nil {
		id = c.Device
	}
	if id == nil {
		return Truth(s, c.Truth)
	}
	label := s.Label(s.Item(*id))
	switch {
	case c.Above != nil:
		return label + " is above " + SignedShort(*c.Above)
	case c.Below != nil:
		return label + " is below " + SignedShort(*c.Below)
	case c.Within != nil:
		return fmt.Sprintf("%s is from %s to %s", label, SignedShort(c.Within[0]), SignedShort(c.Within[1]))
	}
	return label
}

// Share says which functions share what there is, and how: Left track and Starboard
// track: the turn is kept.
func Share(s *setup.Setup, sh *setup.Share) string {
	names := make([]string, len(sh.Outputs))
	for i, id := range sh.Outputs {
		names[i] = s.Label(s.Item(id))
	}
	return strings.Join(names, " and ") + ": when together they ask for too much, " +
		WayOf(Rules, sh.Rule).Name
}
