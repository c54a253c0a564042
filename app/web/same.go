package web

import (
	"context"
	"fmt"
	"time"

	"github.com/google/uuid"

	"axtren/app/contract"
	"axtren/app/store"
	"axtren/core/proof"
	"axtren/core/same"
	"axtren/core/setup"
)

// What a search may take on a server, for who waits for its answer.
const (
	searchWithin = 20 * time.Second
	searchBytes  = 64 << 20
)

// works waits for its turn to work out something that takes its time: one at a time, so that the benches go
// on. done gives the turn to the next.
func (m *models) works(ctx context.Context) (done func(), err error) {
	select {
	case m.working <- struct{}{}:
		return func() { <-m.working }, nil
	case <-ctx.Done():
		return nil, ctx.Err()
	}
}

// search is works for a search, which ends after a while.
func (m *models) search(ctx context.Context) (within context.Context, done func(), err error) {
	turn, err := m.works(ctx)
	if err != nil {
		return nil, nil, err
	}
	within, cancel := context.WithTimeout(ctx, searchWithin)
	return within, func() { cancel(); turn() }, nil
}

// searchIn is search in the newest revision of a model.
func (m *models) searchIn(ctx context.Context, id uuid.UUID) (head *store.Head, within context.Context,
	done func(), err error) {
	if head, err = m.store.Head(ctx, id); err != nil {
		return nil, nil, nil, err
	}
	within, done, err = m.search(ctx)
	return head, within, done, err
}

// GetSame tells whether two models, or two revisions of one, send the same, or two rules are.
func (m *models) GetSame(ctx context.Context,
	r contract.GetSameRequestObject) (contract.GetSameResponseObject,
	error) {
	if r.Params.Rule != nil && r.Params.WithRule != nil {
		return m.sameRules(ctx, r.Id, *r.Params.Rule, *r.Params.WithRule)
	}
	with := r.Id
	if r.Params.With != nil {
		with = *r.Params.With
	}
	one, err := m.revision(ctx, r.Id, r.Params.Revision)
	if err != nil {
		return nil, err
	}
	other, err := m.revision(ctx, with, r.Params.WithRevision)
	if err != nil {
		return nil, err
	}
	names := [2]string{one.Doc.Setup.Name, other.Doc.Setup.Name}
	if with == r.Id {
		names = [2]string{fmt.Sprint("revision ", one.Number), fmt.Sprint("revision ", other.Number)}
	}
	within, done, err := m.search(ctx)
	if err != nil {
		return nil, err
	}
	defer done()
	answer, err := same.Compare(within, one.Doc, other.Doc, proof.Budget{Bytes: searchBytes})
	switch {
	case ctx.Err() != nil:
		return nil, ctx.Err() // the page has gone on
	case err != nil:
		says := contract.Sameness{Verdict: contract.Unlike, Lines: []string{err.Error() + "."}}
		return contract.GetSame200JSONResponse(says), nil
	}
	says := contract.Sameness{Verdict: contract.Fails,
		Lines: answer.Says([2]*setup.Setup{one.Doc.Setup, other.Doc.Setup}, names)}
	switch {
	case answer.Undecided != "":
		says.Verdict = contract.Undecided
	case answer.Same:
		says.Verdict = contract.Holds
	}
	return contract.GetSame200JSONResponse(says), nil
}

// sameRules tells whether two rules of a model are on and off at the same times.
func (m *models) sameRules(ctx context.Context, id uuid.UUID, rule,
	with string) (contract.GetSameResponseObject,
	error) {
	head, within, done, err := m.searchIn(ctx, id)
	if err != nil {
		return nil, err
	}
	defer done()
	verdict, lines, ok := same.Rules(within, head.Doc.Setup, setup.ID(rule), setup.ID(with),
		proof.Budget{Bytes: searchBytes})
	if ctx.Err() != nil {
		return nil, ctx.Err() // the page has gone on
	}
	says := contract.Sameness{Verdict: contract.SamenessVerdict(verdict), Lines: lines}
	if !ok {
		says = contract.Sameness{Verdict: contract.Unlike,
			Lines: []string{"One of the two rules is not there any more."}}
	}
	return contract.GetSame200JSONResponse(says), nil
}

// revision gives a revision of a model, the newest where none is named.
func (m *models) revision(ctx context.Context, id uuid.UUID, number *int) (*store.Head, error) {
	if number != nil {
		return m.store.At(ctx, id, *number)
	}
	return m.store.Head(ctx, id)
}
