package web

import (
	"context"
	"encoding/json"

	"axtren/app/contract"
	"axtren/core/edit"
	"axtren/core/proof"
	"axtren/core/setup"
)

// GetCures looks for small changes with which a claim that fails holds.
func (m *models) GetCures(ctx context.Context,
	r contract.GetCuresRequestObject) (contract.GetCuresResponseObject,
	error) {
	head, err := m.store.Head(ctx, r.Id)
	if err != nil {
		return nil, err
	}
	list := contract.GetCures200JSONResponse{}
	s := head.Doc.Setup
	item := s.Item(setup.ID(r.Params.Claim))
	if item.Kind != setup.IsClaim {
		return list, nil // it was removed meanwhile
	}
	within, done, err := m.search(ctx)
	if err != nil {
		return nil, err
	}
	defer done()
	budget := proof.Budget{Bytes: searchBytes}
	v := proof.Decide(within, s, item.Index, budget)
	for _, cure := range proof.Cures(within, head.Doc, item.Index, &v, budget) {
		patch, err := json.Marshal(edit.Diff(head.Doc.Tree, cure.Doc.Tree))
		if err != nil {
			return nil, err
		}
		list = append(list, contract.Cure{Says: cure.Says, Also: cure.Also, Patch: patch})
	}
	return list, ctx.Err()
}
