package live

import (
	"slices"

	"axtren/app/contract"
	"axtren/core/trouble"
)

// troubleEvery is how many frames lie between two looks at a complaint: the hands
// may have changed what is so.
const troubleEvery = 25

// troubleFeature tells what can cause a complaint.
type troubleFeature struct {
	complaint, output string // empty: none
	told              []trouble.Cause
	sent              bool
	every
}

func (f *troubleFeature) take(_ *bench, msg *contract.Asked) {
	*f = troubleFeature{}
	if msg.Complaint != nil && msg.Output != nil {
		f.complaint, f.output = *msg.Complaint, *msg.Output
	}
}

func (f *troubleFeature) next(b *bench) (*contract.Told, func()) {
	if f.complaint == "" || !f.due(troubleEvery) {
		return nil, nil
	}
	causes := trouble.Causes(b.session.Runs().Program, b.session.State(), f.complaint, f.output)
	if f.sent && slices.Equal(causes, f.told) {
		return nil, nil
	}
	list := append([]contract.Cause{}, causes...)
	return &contract.Told{T: contract.FromTrouble, Causes: &list}, func() { f.told, f.sent = causes, true }
}
