package live

import (
	"sync/atomic"

	"axtren/app/contract"
	"axtren/core/session"
)

// feature is what a place of the page adds to the bench. It takes the messages of the page
// that are its own and gives its own back. Only every so many frames does it look whether
// what it told is still so, and what takes longer than a frame runs beside the bench.
type feature interface {
	// take is given the newest message of the page since the last frame.
	take(b *bench, msg *contract.Asked)
	// next makes the next message, nil for none; sent notes that it went out.
	next(b *bench) (msg *contract.Told, sent func())
}

// newFeatures makes those of a bench, by the message that is theirs, in the order in which
// they may send.
func newFeatures(known *proofs) []owned {
	return []owned{
		{contract.ToAlone, aloneFeature{}},
		{contract.ToPlot, &plotFeature{}},
		{contract.ToTrouble, &troubleFeature{}},
		{contract.ToStage, &stageFeature{}},
		{contract.ToMixing, &mixingFeature{}},
		{contract.ToStates, &statesFeature{}},
		{contract.ToWay, &wayFeature{proofs: known}},
		{contract.ToLosses, &lossesFeature{proofs: known}},
		{contract.ToClaims, &claimsFeature{proofs: known}},
		{contract.ToRecord, &recordFeature{}},
		{contract.ToBecause, &becauseFeature{}},
		{contract.ToExport, &exportFeature{}},
		{contract.ToWatch, &whyFeature{}},
	}
}

// owned is a feature with the type of message that is its own.
type owned struct {
	takes contract.AskedT
	feature
}

// scripter is a feature that has scripts of its own to play.
type scripter interface {
	// script puts into a wish what plays what it names, where that is one of its own.
	script(b *bench, w *session.Wish)
}

// closer is a feature whose work beside the bench ends with it.
type closer interface{ close() }

// every lets a feature look only once in so many frames.
type every struct{ wait int }

// due tells whether it is time to look again, after n frames.
func (e *every) due(n int) bool {
	if e.wait--; e.wait > 0 {
		return false
	}
	e.wait = n
	return true
}

// beside runs work beside the bench, one at a time; then runs on the bench afterwards,
// before its next frame. started is false where other work still runs.
func (b *bench) beside(busy *atomic.Bool, work func() (then func())) (started bool) {
	if !busy.CompareAndSwap(false, true) {
		return false
	}
	go func() {
		defer busy.Store(false)
		then := work()
		b.box.put(func(m *mail) { m.done = append(m.done, then) })
	}()
	return true
}

// close ends what features do beside the bench.
func (b *bench) close() {
	for _, f := range b.features {
		if c, ok := f.feature.(closer); ok {
			c.close()
		}
	}
}
