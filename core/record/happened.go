package record

import (
	"fmt"
	"slices"
	"strings"

	"axtren/core/words"
)

// Happened is something that happened to a model, besides its revisions: what somebody noted of it.
type Happened struct {
	Kind    string // note, exchange, run, fault, value, walk or sheet
	Label   string // the part that it is about; empty: none
	What    string // of a fault what was seen, of a value its name, of a walk or a sheet what it is
	Was     string // of a value
	Becomes string
	Says    string // whatever else there is to say, in one line or several
	Minutes int    // of a run
	Battery string
}

// Head says it in one line; craft is the kind of model that it happened to.
func (h *Happened) Head(craft string) string {
	switch h.Kind {
	case "note":
		first, _, _ := strings.Cut(h.Says, "\n")
		return first
	case "exchange":
		return h.What
	case "run":
		said := Duration(h.Minutes) + " " + ran(craft)
		if h.Battery != "" {
			said += ", " + h.Battery
		}
		return said
	case "fault":
		if h.Label != "" {
			return h.Label + ": " + h.What
		}
	case "value":
		said := h.Label + ": " + h.What
		if h.Was != "" {
			return fmt.Sprintf("%s changed from %s to %s", said, h.Was, h.Becomes)
		}
		return said + " set to " + h.Becomes
	}
	return words.Capital(h.What)
}

// More says what else there is to it, a line each.
func (h *Happened) More() []string {
	list, says := []string{}, h.Says
	switch h.Kind {
	case "note":
		_, says, _ = strings.Cut(says, "\n")
	case "fault":
		if says != "" {
			says = "Mended: " + says
		}
	case "value":
		list = append(list, "With its own program.")
	case "walk":
		if h.Battery != "" {
			list = append(list, words.Capital(h.Battery))
		}
	}
	for line := range strings.SplitSeq(says, "\n") {
		if line = strings.TrimSpace(line); line != "" {
			list = append(list, line)
		}
	}
	return list
}

// ran says what a model did while it was run.
func ran(craft string) string {
	if slices.Contains([]string{"boat", "submarine", "amphibian"}, craft) {
		return "on the water"
	}
	return "of running"
}

// Duration writes so many minutes: 41 min, 2 h 5 min.
func Duration(minutes int) string {
	switch h, m := minutes/60, minutes%60; {
	case h == 0:
		return fmt.Sprintf("%d min", m)
	case m == 0:
		return fmt.Sprintf("%d h", h)
	default:
		return fmt.Sprintf("%d h %d min", h, m)
	}
}

// Run is how long a model was run with a battery.
type Run struct {
	Battery string // empty: not said
	Minutes int
	Times   int
}

// Totals says how long a model was run: in all, then by battery, where any was said.
func Totals(runs []Run, craft string) []string {
	all := Run{}
	var by []string
	for _, run := range runs {
		all.Minutes, all.Times = all.Minutes+run.Minutes, all.Times+run.Times
		if run.Battery != "" {
			by = append(by, fmt.Sprintf("%s: %s, %s.", words.Capital(run.Battery), Duration(run.Minutes),
				words.Count(run.Times, "time", "times")))
		}
	}
	if all.Times == 0 {
		return []string{}
	}
	return append([]string{fmt.Sprintf("%s %s in all, %s.", Duration(all.Minutes), ran(craft),
		words.Count(all.Times, "time", "times"))}, by...)
}

// Values says what was set with programs of their own, as it was set last, in the order in which each was set
// first; the oldest comes first.
func Values(list []Happened) []string {
	at, said := map[[2]string]int{}, []string{}
	for _, h := range list {
		if h.Kind != "value" {
			continue
		}
		key, says := [2]string{h.Label, h.What}, fmt.Sprintf("%s: %s, %s", h.Label, h.What, h.Becomes)
		if i, known := at[key]; known {
			said[i] = says
		} else {
			at[key] = len(said)
			said = append(said, says)
		}
	}
	return said
}
