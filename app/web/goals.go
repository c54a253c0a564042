package web

import (
	"context"

	"axtren/app/contract"
	"axtren/core/diagnose"
	"axtren/core/signal"
)

// GetGoals lists what each device of a model can be asked to be got to do.
func (m *models) GetGoals(ctx context.Context,
	r contract.GetGoalsRequestObject) (contract.GetGoalsResponseObject, error) {
	head, err := m.store.Head(ctx, r.Id)
	if err != nil {
		return nil, err
	}
	p, err := signal.Compile(head.Doc.Setup)
	if err != nil {
		return nil, err
	}
	return contract.GetGoals200JSONResponse(diagnose.Goals(p)), nil
}
