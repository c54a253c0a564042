package sheet

import (
	"axtren/core/setup"
	"axtren/core/travel"
)

// scale gives the scale of a menu of this set for a channel.
func (b *builder) scale(menu func(*setup.Scales) *setup.Menu, channel int, otherwise string) setup.Scale {
	return travel.ScaleIn(b.s, menu, channel, otherwise)
}

// written is a position or a gain as a menu of a scale takes it.
func (b *builder) written(sc setup.Scale, percent float64) string {
	return travel.Write(sc, percent, &b.s.Transmitter.Pulse)
}

// lineOf finds the first line that a demand reaches, for its why.
func (b *builder) lineOf(demand string) string {
	for _, m := range b.s.Mixes {
		if m.From.Ref == demand {
			return string(m.To)
		}
	}
	return ""
}
