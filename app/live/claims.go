package live

import (
	"context"
	"reflect"
	"strings"
	"sync"
	"sync/atomic"
	"time"

	"axtren/app/contract"
	"axtren/core/proof"
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

// keep keeps a verdict; where there are too many, others are searched again.
func (p *proofs) keep(key [32]byte, v proof.Verdict) {
	p.mu.Lock()
	defer p.mu.Unlock()
	if len(p.of) >= mostProofs {
		clear(p.of)
	}
	p.of[key] = v
}

// decide gives the verdict on claim i, searched for where it is not known.
func (p *proofs) decide(ctx context.Context, s *setup.Setup, i int, seen *atomic.Int64) proof.Verdict {
	key, err := proof.Fingerprint(s, i)
	if v, ok := p.known(key); ok && err == nil {
		v.Claim = s.Claims[i].ID
		return v
	}
	select {
	case p.turn <- struct{}{}:
		defer func() { <-p.turn }()
	case <-ctx.Done():
	}
	within, cancel := context.WithTimeout(ctx, claimWithin)
	defer cancel()
	v := proof.Decide(within, s, i, proof.Budget{Bytes: claimBytes, Seen: seen})
	if err == nil && ctx.Err() == nil { // one that was stopped is searched when it is asked for again
		p.keep(key, v)
	}
	return v
}

// claimsFeature tells what was found out about the claims of the newest revision, one after the other.
type claimsFeature struct {
	proofs *proofs
	wanted bool
	doc    *setup.Document
	found  []proof.Verdict // of the claims, in their order, as far as they are decided
	says   []proof.Told    // the same, for the page
	stop   context.CancelFunc
	seen   *atomic.Int64
	busy   atomic.Bool
	told   []proof.Told
	every
}

// take begins, ends, or, with a claim, ends the search for that one.
func (f *claimsFeature) take(_ *bench, msg *contract.Asked) {
	if msg.Stop != nil && *msg.Stop != "" {
		if f.stop != nil && f.doc != nil && len(f.found) < len(f.doc.Setup.Claims) &&
			*msg.Stop == "claims/"+string(f.doc.Setup.Claims[len(f.found)].ID) {
			f.stop()
		}
		return
	}
	f.close()
	f.wanted, f.doc, f.told, f.every = msg.Wanted != nil && *msg.Wanted, nil, nil, every{}
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
	newest := b.session.Newest()
	if newest.Doc != f.doc {
		f.close()
		f.doc, f.found, f.says, f.told = newest.Doc, nil, nil, nil
	}
	f.search(b)
	list := f.tell()
	if f.told != nil && reflect.DeepEqual(list, f.told) {
		return nil, nil
	}
	return &contract.Told{T: contract.FromClaims, Claims: &list}, func() { f.told = list }
}

// search looks for the next claim that is not decided.
func (f *claimsFeature) search(b *bench) {
	doc, i := f.doc, len(f.found)
	if i == len(doc.Setup.Claims) || f.busy.Load() {
		return
	}
	ctx, stop := context.WithCancel(context.Background())
	seen := &atomic.Int64{}
	started := b.beside(&f.busy, func() func() {
		defer stop()
		v := f.proofs.decide(ctx, doc.Setup, i, seen)
		says := v.Tell(doc.Setup)
		return func() {
			if f.doc == doc && len(f.found) == i {
				f.found, f.says = append(f.found, v), append(f.says, says)
				f.every = every{}
			}
		}
	})
	if !started {
		stop()
		return
	}
	f.stop, f.seen = stop, seen
}

// tell says what was found out so far.
func (f *claimsFeature) tell() []proof.Told {
	s, list := f.doc.Setup, []proof.Told{}
	for i := range s.Claims {
		switch {
		case i < len(f.found):
			list = append(list, f.says[i])
		case i == len(f.found) && f.seen != nil:
			list = append(list, proof.Look(s.Claims[i].ID, int(f.seen.Load())))
		default:
			list = append(list, proof.Look(s.Claims[i].ID, 0))
		}
	}
	return list
}

// script gives what plays the verdict on a claim by its name, claim/pump.
func (f *claimsFeature) script(_ *bench, name string) []byte {
	id, ok := strings.CutPrefix(name, "claim/")
	for i := range f.found {
		if ok && string(f.found[i].Claim) == id && f.says[i].Plays == name {
			return []byte(f.found[i].Film(f.doc.Setup))
		}
	}
	return nil
}
