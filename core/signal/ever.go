package signal

// Ever bounds where output i ever makes for, percent, whatever hands and rules do. ok is false where
// something that moves it takes its own time, of which no bound is known.
func (p *Program) Ever(i int) (s Span, ok bool) {
	f, ok := p.FigureNow(p.Routes[i].Target)
	if !ok {
		return s, false
	}
	for _, axis := range f.Axes {
		f.Put(axis, Span{-100, 100})
	}
	for _, leaf := range f.Leaves {
		within := Span{0, 1} // of what fades
		for n, v := range leaf.Values {
			if n == 0 {
				within = Span{v, v}
			}
			within = within.With(Span{v, v})
		}
		f.Put(leaf.Slot, within)
	}
	return f.Span(), true
}
