package setup

// Behind gives every item that output i depends on, through whatever lies
// between: controls, demands, blocks, steppers, sequences, patterns, and the
// outputs that it shares with or follows, itself among them.
func (s *Setup) Behind(i int) map[Item]bool {
	f := follower{s: s, visited: map[Item]bool{}}
	f.output(i)
	return f.visited
}

// BehindValue gives every item that a value depends on.
func (s *Setup) BehindValue(v Value) map[Item]bool {
	f := follower{s: s, visited: map[Item]bool{}}
	f.value(v)
	return f.visited
}

type follower struct {
	s       *Setup
	visited map[Item]bool
}

// enter notes an item; false where it was there already.
func (f *follower) enter(kind ItemKind, i int) bool {
	item := Item{Kind: kind, Index: i}
	seen := f.visited[item]
	f.visited[item] = true
	return !seen
}

func (f *follower) output(i int) {
	if !f.enter(IsOutput, i) {
		return
	}
	for _, m := range f.s.Mixes {
		if m.To == f.s.Outputs[i].ID {
			f.value(m.From)
			f.maybe(m.When)
		}
	}
	for _, sh := range f.s.Shares {
		for _, id := range sh.Outputs {
			if id != f.s.Outputs[i].ID {
				continue
			}
			for _, other := range sh.Outputs {
				f.output(f.s.Item(other).Index)
			}
		}
	}
}

func (f *follower) value(v Value) {
	src, err := f.s.Source(v)
	if err != nil {
		return
	}
	switch src.Kind {
	case SourceControl:
		f.enter(IsControl, src.Index)
	case SourceAsked:
		f.output(src.Index)
	case SourceDemand:
		if d := &f.s.Demands[src.Index]; f.enter(IsDemand, src.Index) {
			f.value(d.From)
			for _, r := range d.Rates {
				f.truth(r.When)
			}
		}
	case SourceBlock:
		f.block(src.Index)
	case SourceStepper:
		f.stepper(src.Index)
	case SourceTrack:
		f.sequence(src.Index)
	case SourcePattern:
		if f.enter(IsPattern, src.Index) {
			f.truth(f.s.Patterns[src.Index].When)
		}
	}
}

func (f *follower) truth(t Truth) {
	fact, err := f.s.Fact(t)
	if err != nil {
		return
	}
	switch fact.Kind {
	case FactPosition:
		f.enter(IsControl, fact.Index)
	case FactBlock:
		f.block(fact.Index)
	case FactStep:
		f.stepper(fact.Index)
	case FactSequence:
		f.sequence(fact.Index)
	}
}

func (f *follower) maybe(t *Truth) {
	if t != nil {
		f.truth(*t)
	}
}

func (f *follower) block(i int) {
	if !f.enter(IsBlock, i) {
		return
	}
	values, truths := f.s.Logic[i].Reads()
	for _, v := range values {
		f.value(v)
	}
	for _, t := range truths {
		f.truth(t)
	}
}

func (f *follower) stepper(i int) {
	if st := &f.s.Steppers[i]; f.enter(IsStepper, i) {
		f.maybe(st.Up)
		f.maybe(st.Down)
		f.maybe(st.Home)
	}
}

func (f *follower) sequence(i int) {
	if f.enter(IsSequence, i) {
		f.truth(f.s.Sequences[i].Go)
	}
}
