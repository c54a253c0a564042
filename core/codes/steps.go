package codes

import (
	"fmt"
	"slices"
	"strings"

	"axtren/core/setup"
)

// span gives the least and the greatest code of a level.
func span(level *setup.Rank) (low, high int) {
	low, high = level.Values[0].Code, level.Values[0].Code
	for _, v := range level.Values {
		low, high = min(low, v.Code), max(high, v.Code)
	}
	return low, high
}

// do says how one comes from the code that is there to the one that is wanted: the shorter way, up
// where both are as long.
func do(c *setup.Chart, level *setup.Rank, there, want int) string {
	if there == want {
		return "Leave it as it is."
	}
	up, down := want-there, there-want // how many steps, where it can be gone; else negative
	if low, high := span(level); c.Wraps {
		n := high - low + 1
		up, down = (up+n)%n, (down+n)%n
	}
	if c.Up == "" {
		up = -1
	}
	if c.Down == "" {
		down = -1
	}
	switch {
	case up > 0 && (down <= 0 || up <= down):
		return step("Up", up, c.Up) + passed(c, level, there, up)
	case down > 0:
		return step("Down", down, c.Down) + passed(c, level, there, -down)
	}
	return "The chart does not say how one gets from there to it: begin anew, so that the level starts at " +
		"its first value."
}

func step(way string, n int, how string) string {
	times := fmt.Sprintf("%d times", n)
	if n == 1 {
		times = "once"
	}
	return fmt.Sprintf("%s by %d: %s, %s.", way, n, strings.TrimRight(how, "."), times)
}

// passed says which numbers of flashes the way comes past that the chart does not have.
func passed(c *setup.Chart, level *setup.Rank, there, by int) string {
	low, high := span(level)
	var holes []string
	way := 1
	if by < 0 {
		way = -1
	}
	for at := there + way; by != way; by -= way {
		if c.Wraps && at > high {
			at = low
		} else if c.Wraps && at < low {
			at = high
		}
		if !has(level, at) {
			holes = append(holes, fmt.Sprint(at))
		}
		at += way
	}
	if holes == nil {
		return ""
	}
	return " The way comes past " + strings.Join(holes, ", ") + ", of which the chart says nothing: count " +
		"the flashes " +
		"after each step."
}

func has(level *setup.Rank, code int) bool {
	return slices.ContainsFunc(level.Values, func(v setup.Counted) bool { return v.Code == code })
}

// holes says which numbers of flashes between the least and the greatest a chart does not have.
func holes(c *setup.Chart) (said []string) {
	for i := range c.Levels {
		level := &c.Levels[i]
		low, high := span(level)
		var missing []string
		for code := low; code <= high; code++ {
			if !has(level, code) {
				missing = append(missing, fmt.Sprint(code))
			}
		}
		if missing != nil {
			said = append(said, fmt.Sprintf("Level %d of the chart has a hole: between %d and %d it says "+
				"nothing of %s.", i+1,
				low, high, strings.Join(missing, ", ")))
		}
	}
	return said
}
