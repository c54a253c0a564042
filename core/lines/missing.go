package lines

import (
	"fmt"

	"axtren/core/signal"
)

// Missing counts in words what of a model is kept but not worked out yet.
func Missing(p *signal.Program) []string {
	switch n := len(p.Setup().Claims); n {
	case 0:
		return []string{}
	case 1:
		return []string{"one thing that must always hold"}
	default:
		return []string{fmt.Sprintf("%d things that must always hold", n)}
	}
}

// Undriven counts the outputs that no mix reaches.
func Undriven(p *signal.Program) int {
	n := 0
	for i := range p.Routes {
		if len(p.Routes[i].Terms) == 0 {
			n++
		}
	}
	return n
}
