package lines

import "axtren/core/setup"

// follower finds the controls that something depends on, through whatever lies
// between.
type follower struct {
	s        *setup.Setup
	controls map[int]bool
	visited  map[setup.Item]bool
}

// enter notes an item; false where it was there already.
func (f *follower) enter(kind setup.ItemKind, i int) bool {
	item := setup.Item{Kind: kind, Index: i}
	seen := f.visited[item]
	f.visited[item] = true
	return !seen
}

func (f *follower) output(i int) {
	if !f.enter(setup.IsOutput, i) {
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

func (f *follower) value(v setup.Value) {
	src, err := f.s.Source(v)
	if err != nil {
		return
	}
	switch src.Kind {
	case setup.SourceControl:
		f.controls[src.Index] = true
	case setup.SourceAsked:
		f.output(src.Index)
	case setup.SourceDemand:
		if d := &f.s.Demands[src.Index]; f.enter(setup.IsDemand, src.Index) {
			f.value(d.From)
			for _, r := range d.Rates {
				f.truth(r.When)
			}
		}
	case setup.SourceBlock:
		f.block(src.Index)
	case setup.SourceStepper:
		f.stepper(src.Index)
	case setup.SourceTrack:
		f.sequence(src.Index)
	case setup.SourcePattern:
		if f.enter(setup.IsPattern, src.Index) {
			f.truth(f.s.Patterns[src.Index].When)
		}
	}
}

func (f *follower) truth(t setup.Truth) {
	fact, err := f.s.Fact(t)
	if err != nil {
		return
	}
	switch fact.Kind {
	case setup.FactPosition:
		f.controls[fact.Index] = true
	case setup.FactBlock:
		f.block(fact.Index)
	case setup.FactStep:
		f.stepper(fact.Index)
	case setup.FactSequence:
		f.sequence(fact.Index)
	}
}

func (f *follower) maybe(t *setup.Truth) {
	if t != nil {
		f.truth(*t)
	}
}

func (f *follower) block(i int) {
	if !f.enter(setup.IsBlock, i) {
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
	if st := &f.s.Steppers[i]; f.enter(setup.IsStepper, i) {
		f.maybe(st.Up)
		f.maybe(st.Down)
		f.maybe(st.Home)
	}
}

func (f *follower) sequence(i int) {
	if f.enter(setup.IsSequence, i) {
		f.truth(f.s.Sequences[i].Go)
	}
}
