package live

import (
	"slices"
	"sync/atomic"

	"axtren/app/contract"
	"axtren/core/trouble"
)

// troubleEvery is how many frames lie between two looks at a complaint: the hands
// may have changed what is so.
const troubleEvery = 25

// complained is what a person sees, and of which output.
type complained struct{ complaint, output string }

// troubleFeature tells what can cause a complaint. Movements of the hands are tried for it,
// beside the bench.
type troubleFeature struct {
	asked       complained // empty: nothing
	found, told []trouble.Cause
	has, sent   bool
	busy        atomic.Bool
	every
}

func (f *troubleFeature) take(_ *bench, msg *contract.Asked) {
	f.asked, f.found, f.told, f.has, f.sent, f.every = complained{}, nil, nil, false, false, every{}
	if msg.Complaint != nil && msg.Output != nil {
		f.asked = complained{*msg.Complaint, *msg.Output}
	}
}

func (f *troubleFeature) next(b *bench) (*contract.Told, func()) {
	if f.asked.complaint == "" {
		return nil, nil
	}
	if f.due(troubleEvery) {
		p, asked := b.session.Runs().Program, f.asked
		st := p.PowerOn()
		st.CopyFrom(b.session.State())
		b.beside(&f.busy, func() func() {
			causes := trouble.Causes(p, st, asked.complaint, asked.output)
			return func() {
				if f.asked == asked {
					f.found, f.has = causes, true
				}
			}
		})
	}
	if !f.has || f.sent && slices.Equal(f.found, f.told) {
		return nil, nil
	}
	causes := f.found
	list := append([]contract.Cause{}, causes...)
	return &contract.Told{T: contract.FromTrouble, Causes: &list}, func() { f.told, f.sent = causes, true }
}
