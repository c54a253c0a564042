package sheet

import (
	"axtren/core/setup"
	"axtren/core/travel"
	"axtren/core/words"
)

// scale gives the scale of a menu of this set for a channel.
func (b *builder) scale(menu func(*setup.Scales) *setup.Menu, channel int, otherwise string) setup.Scale {
	return travel.ScaleOf(menu(b.menus()), channel, otherwise)
}

// written is a position or a gain as a menu of a scale takes it.
func (b *builder) written(sc setup.Scale, percent float64) string {
	return travel.Write(sc, percent, &b.s.Transmitter.Pulse)
}

// end is one end as the set's menu of ends takes it: a magnitude counts from where
// the set counts, on its side; every other scale takes the way with its sign, or the
// place itself where it is a place on the servo's travel.
func (b *builder) end(e travel.KeyedEnd, channel int, low bool) string {
	sc := b.scale(func(of *setup.Scales) *setup.Menu { return of.Endpoint }, channel, "magnitude")
	switch {
	case sc.Word == "magnitude":
		return words.Short(e.Typed)
	case sc.Word == "percent" || sc.Step != 0:
		way := e.Typed
		if low {
			way = -way
		}
		return b.written(sc, way)
	}
	return b.written(sc, e.Position)
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
