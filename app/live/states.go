package live

import (
	"reflect"
	"sync/atomic"

	"axtren/app/contract"
	"axtren/core/behave"
	"axtren/core/setup"
)

// statesEvery is how many frames lie between two looks at the state of a rule.
const statesEvery = 6

// statesFeature tells in which of its states the rule is that a page has open. The states are worked out
// beside the bench, anew for each revision.
type statesFeature struct {
	rule  string // empty: none
	doc   *setup.Document
	drawn *behave.Machine // of doc; nil: none, or not there yet
	ready bool
	told  *contract.Told
	busy  atomic.Bool
	every
}

// take begins with another rule.
func (f *statesFeature) take(_ *bench, msg *contract.Asked) {
	f.rule, f.doc, f.drawn, f.ready, f.told, f.every = "", nil, nil, false, nil, every{}
	if msg.Rule != nil {
		f.rule = *msg.Rule
	}
}

func (f *statesFeature) next(b *bench) (*contract.Told, func()) {
	if f.rule == "" || !f.due(statesEvery) {
		return nil, nil
	}
	if newest := b.session.Newest(); newest.Doc != f.doc {
		rule := f.rule
		b.beside(&f.busy, func() func() {
			drawn, _, err := behave.Draw(newest.Doc.Setup, newest.Program, rule)
			if err != nil {
				drawn = nil // it is not there any more: the page learns that by the list of rules
			}
			return func() {
				if f.rule == rule {
					f.doc, f.drawn, f.ready = newest.Doc, drawn, true
				}
			}
		})
	}
	if !f.ready {
		return nil, nil
	}
	states, now := behave.NoStates(), behave.Now{Node: -1, Can: []behave.Next{}}
	if f.drawn != nil {
		states, now = f.drawn.States, f.drawn.Now(b.session.Runs().Program, b.session.State())
	}
	rule := f.rule
	told := &contract.Told{T: contract.FromStates, Rule: &rule, States: &states, Now: &now}
	if f.told != nil && reflect.DeepEqual(told, f.told) {
		return nil, nil
	}
	return told, func() { f.told = told }
}
