package live

import (
	"context"
	"reflect"
	"sync/atomic"
	"time"

	"axtren/app/contract"
	"axtren/core/behave"
	"axtren/core/proof"
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

	way   *contract.RuleWay // how to get to a state, as it was asked last; nil: it was not asked
	stop  context.CancelFunc
	seeks atomic.Bool
}

// take begins with another rule, or looks for how to get to one of the states of the rule that is open.
func (f *statesFeature) take(b *bench, msg *contract.Asked) {
	if msg.Rule != nil && *msg.Rule == f.rule && msg.Node != nil {
		f.seek(b, *msg.Node)
		return
	}
	f.close()
	f.way = nil
	f.rule, f.doc, f.drawn, f.ready, f.told, f.every = "", nil, nil, false, nil, every{}
	if msg.Rule != nil {
		f.rule = *msg.Rule
	}
}

// close ends the search that runs.
func (f *statesFeature) close() {
	if f.stop != nil {
		f.stop()
	}
}

// seekWithin is how long is looked for how to get to a state.
const seekWithin = 10 * time.Second

// seek looks for the fewest movements from now to a state, beside the bench.
func (f *statesFeature) seek(b *bench, node int) {
	if f.drawn == nil || node < 0 || node >= len(f.drawn.Nodes) || f.doc != b.session.Newest().Doc {
		return
	}
	goal, ok := f.drawn.Goal(node)
	if !ok {
		return
	}
	rule, doc := f.rule, f.doc
	from := proof.Moment{Program: b.session.Runs().Program, State: b.session.Runs().Program.PowerOn()}
	from.State.CopyFrom(b.session.Live())
	ctx, stop := context.WithTimeout(context.Background(), seekWithin)
	started := b.beside(&f.seeks, func() func() {
		defer stop()
		c := setup.Condition{Truth: goal}
		v := proof.ReachFrom(ctx, doc.Setup, c, from, proof.Budget{Bytes: claimBytes})
		lines := proof.Says(doc.Setup, &setup.Claim{Reachable: &c}, &v)
		return func() {
			if f.rule == rule && f.doc == doc {
				f.way, f.every = &contract.RuleWay{Node: node, Lines: lines}, every{}
			}
		}
	})
	if !started {
		stop()
		return
	}
	f.stop = stop
}

func (f *statesFeature) next(b *bench) (*contract.Told, func()) {
	if f.rule == "" || !f.due(statesEvery) {
		return nil, nil
	}
	if newest := b.session.Newest(); newest.Doc != f.doc {
		f.way = nil
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
	told := &contract.Told{T: contract.FromStates, Rule: &rule, States: &states, Now: &now, Way: f.way}
	if f.told != nil && reflect.DeepEqual(told, f.told) {
		return nil, nil
	}
	return told, func() { f.told = told }
}
