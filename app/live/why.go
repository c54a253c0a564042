package live

import (
	"axtren/app/contract"
	"axtren/core/lines"
)

// whyFeature tells the arithmetic of a joint after each change.
type whyFeature struct {
	joint string // empty: none is watched
	told  int64  // the count of changes that it was told at; 0: never
}

func (f *whyFeature) take(_ *bench, msg *contract.Asked) {
	if msg.Joint != nil {
		f.joint, f.told = *msg.Joint, 0
	}
}

func (f *whyFeature) next(b *bench) (*contract.Told, func()) {
	if f.joint == "" || f.told == b.changed {
		return nil, nil
	}
	joint, changed := f.joint, b.changed
	msg := &contract.Told{T: contract.FromWhy, Joint: &joint}
	if reason, ok := lines.Explain(b.session.Runs().Program, b.session.State(), joint); ok {
		msg.Reason = &reason
	}
	return msg, func() { f.told = changed }
}
