package live

import (
	"slices"

	"axtren/app/web/contract"
	"axtren/core/trouble"
)

// troubleEvery is how many frames lie between two looks at a complaint: the hands
// may have changed what is so.
const troubleEvery = 25

// complained is what a page complains of, and what it was told.
type complained struct {
	wish *contract.ToBench
	told []trouble.Cause
	sent bool
	wait int
}

// troubles makes the answer to a complaint where it differs from the last one.
func (b *bench) troubles() (msg *contract.FromBench, sent func()) {
	c := &b.ill
	if c.wish == nil || c.wish.Complaint == nil || c.wish.Output == nil || *c.wish.Complaint == "" {
		return nil, nil
	}
	if c.wait--; c.wait > 0 {
		return nil, nil
	}
	c.wait = troubleEvery
	causes := trouble.Causes(b.program, b.state, *c.wish.Complaint, *c.wish.Output)
	if c.sent && slices.Equal(causes, c.told) {
		return nil, nil
	}
	list := append([]contract.Cause{}, causes...)
	return &contract.FromBench{T: contract.FromBenchTTrouble, Causes: &list}, func() { c.told, c.sent = causes, true }
}
