package web

import (
	"context"

	"axtren/app/contract"
	"axtren/core/edit"
	"axtren/core/feel"
)

// GetFeel tells what lies between the hands and a function.
func (m *models) GetFeel(ctx context.Context,
	r contract.GetFeelRequestObject) (contract.GetFeelResponseObject, error) {
	head, item, err := m.function(ctx, r.Id, r.Params.Output)
	if err != nil {
		return nil, err
	}
	p, err := edit.Playable(head.Doc)
	if err != nil {
		return nil, err
	}
	return contract.GetFeel200JSONResponse{Revision: head.Number, Feel: *feel.Of(p, item.Index)}, nil
}

// GetCaps plays three ways to hold a function back.
func (m *models) GetCaps(ctx context.Context,
	r contract.GetCapsRequestObject) (contract.GetCapsResponseObject, error) {
	head, item, err := m.function(ctx, r.Id, r.Params.Output)
	if err != nil {
		return nil, err
	}
	caps, err := feel.Caps(head.Doc, item.Index, r.Params.Control, r.Params.Side, float64(r.Params.Most))
	if err != nil {
		return nil, err
	}
	return contract.GetCaps200JSONResponse{Revision: head.Number, Caps: *caps}, nil
}
