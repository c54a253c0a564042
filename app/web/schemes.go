package web

import (
	"context"

	"axtren/app/contract"
	"axtren/core/mixing"
)

// GetSchemes tells how functions go together that are more than a pair.
func (m *models) GetSchemes(ctx context.Context,
	r contract.GetSchemesRequestObject) (contract.GetSchemesResponseObject, error) {
	head, err := m.store.Head(ctx, r.Id)
	if err != nil {
		return nil, err
	}
	has, could := mixing.Schemes(head.Doc.Setup)
	return contract.GetSchemes200JSONResponse{Revision: head.Number, Has: has, Could: could}, nil
}
