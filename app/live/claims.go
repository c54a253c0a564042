package live

import (
	"context"
	"reflect"
	"slices"
	"sync"
	"sync/atomic"
	"time"

	"axtren/app/contract"
	"axtren/core/proof"
	"axtren/core/session"
	"axtren/core/setup"
)

// What the search for a claim may take on a server.
const (
	claimWithin = 30 * time.Second
	claimBytes  = 64 << 20
	mostProofs  = 4096 // verdicts that are kept
)

// claimsEvery is how many frames lie between two looks at what was found out.
const claimsEvery = 6

// proofs are the verdicts of a server, by all that decides them, and the turn for the next search: one at a
// time, so that the benches go on.
type proofs struct {
	turn chan struct{}
	mu   sync.Mutex
	of   map[[32]byte]proof.Verdict
}

func newProofs() *proofs {
	return &proofs{turn: make(chan struct{}, 1), of: map[[32]byte]proof.Verdict{}}
}

func (p *proofs) known(key [32]byte) (proof.Verdict, bool) {
	p.mu.Lock()
	defer p.mu.Unlock()
	v, ok := p.of[key]
	return v, ok
}

// recall gives the verdicts on claims of a setup that are known, by their places.
func (p *proofs) recall(s *setup.Setup) map[int]proof.Verdict {
	list := map[int]proof.Verdict{}
	for i := range s.Claims {
		key, err := proof.Fingerprint(s, i)
		if v, ok := p.known(key); ok && err == nil {
			v.Claim = s.Claims[i].ID
			list[i] = v
		}
	}
	return list
}

// keep keeps a verdict; where there are too many, others are searched again.
func (p *proofs) keep(key [32]byte, v proof.Verdict) {
	p.mu.Lock()
	defer p.mu.Unlock()
	if len(p.of) >= mostProofs {
		clear(p.of)
	}
	p.of[key] = v
}

// wait waits for the turn to search, or for the end of what waits; done gives the turn to the next.
func (p *proofs) wait(ctx context.Context) (done func()) {
	select {
	case p.turn <- struct{}{}:
		return func() { <-p.turn }
	case <-ctx.Done():
		return func() {}
	}
}

// decide gives the verdict on claim i, searched for where it is not known.
func (p *proofs) decide(ctx context.Context, s *setup.Setup, i int, seen *atomic.Int64) proof.Verdict {
	key, err := proof.Fingerprint(s, i)
	if v, ok := p.known(key); ok && err == nil {
		v.Claim = s.Claims[i].ID
		return v
	}
	defer p.wait(ctx)()
	within, cancel := context.WithTimeout(ctx, claimWithin)
	defer cancel()
	v := proof.Decide(within, s, i, proof.Budget{Bytes: claimBytes, Seen: seen})
	if err == nil && ctx.Err() == nil { // one that was stopped is searched when it is asked for again
		p.keep(key, v)
	}
	return v
}

// claimsFeature tells what was found out about the claims of the newest revision: what is known already at
// once, the others one after the other.
type claimsFeature struct {
	proofs   *proofs
	wanted   bool
	doc      *setup.Document
	found    []*proof.Verdict // of each claim; nil: it is not decided
	says     []proof.Told     // of each, for the page
	recalled bool             // it was looked which are known
	looks    int              // at which claim the search is; -1: at none
	stop     context.CancelFunc
	seen     *atomic.Int64
	busy     atomic.Bool
	told     []proof.Told
	every
}

// take begins, ends, or, with a claim, ends the search for that one.
func (f *claimsFeature) take(_ *bench, msg *contract.Asked) {
	if msg.Stop != nil && *msg.Stop != "" {
		if f.stop != nil && f.doc != nil && f.looks >= 0 &&
			*msg.Stop == "claims/"+string(f.doc.Setup.Claims[f.looks].ID) {
			f.stop()
		}
		return
	}
	f.close()
	f.wanted, f.told, f.every = msg.Wanted != nil && *msg.Wanted, nil, every{}
	f.begin(nil)
}

// begin forgets what was found out, for another revision.
func (f *claimsFeature) begin(doc *setup.Document) {
	f.doc, f.found, f.says, f.recalled, f.looks = doc, nil, nil, false, -1
	if doc == nil {
		return
	}
	f.found = make([]*proof.Verdict, len(doc.Setup.Claims))
	for i := range f.found {
		f.says = append(f.says, proof.Look(doc.Setup.Claims[i].ID, 0))
	}
}

// close ends the search that runs.
func (f *claimsFeature) close() {
	if f.stop != nil {
		f.stop()
	}
}

func (f *claimsFeature) next(b *bench) (*contract.Told, func()) {
	if !f.wanted || !f.due(claimsEvery) {
		return nil, nil
	}
	if newest := b.session.Newest(); newest.Doc != f.doc {
		f.close()
		f.begin(newest.Doc)
		f.told = nil
	}
	f.search(b)
	list := f.tell()
	if !f.recalled || f.told != nil && reflect.DeepEqual(list, f.told) {
		return nil, nil
	}
	return &contract.Told{T: contract.FromClaims, Claims: &list}, func() { f.told = list }
}

// search looks which verdicts are known, and then for the next claim that is not decided.
func (f *claimsFeature) search(b *bench) {
	if f.busy.Load() {
		return
	}
	doc := f.doc
	if !f.recalled {
		b.beside(&f.busy, func() func() { return f.keep(doc, f.proofs.recall(doc.Setup)) })
		return
	}
	i := slices.Index(f.found, nil)
	if i < 0 {
		return
	}
	ctx, stop := context.WithCancel(context.Background())
	seen := &atomic.Int64{}
	started := b.beside(&f.busy, func() func() {
		defer stop()
		v := f.proofs.decide(ctx, doc.Setup, i, seen)
		return f.keep(doc, map[int]proof.Verdict{i: v})
	})
	if !started {
		stop()
		return
	}
	f.stop, f.seen, f.looks = stop, seen, i
}

// keep gives what notes verdicts on claims of a revision.
func (f *claimsFeature) keep(doc *setup.Document, verdicts map[int]proof.Verdict) func() {
	says := map[int]proof.Told{}
	for i, v := range verdicts {
		says[i] = v.Tell(doc.Setup)
	}
	return func() {
		if f.doc != doc {
			return
		}
		for i, v := range verdicts {
			f.found[i], f.says[i] = &v, says[i]
		}
		f.recalled, f.looks, f.every = true, -1, every{}
	}
}

// tell says what was found out so far.
func (f *claimsFeature) tell() []proof.Told {
	list := append([]proof.Told{}, f.says...)
	if f.looks >= 0 {
		list[f.looks] = proof.Look(f.doc.Setup.Claims[f.looks].ID, int(f.seen.Load()))
	}
	return list
}

// script finds what plays the verdict on a claim by its name, claim/pump.
func (f *claimsFeature) script(_ *bench, w *session.Wish) {
	for i, v := range f.found {
		if v != nil && f.says[i].Plays == w.ID && w.ID != "" {
			w.Script = []byte(v.Film(f.doc.Setup))
			return
		}
	}
}
