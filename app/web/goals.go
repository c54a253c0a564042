package web

import (
	"context"

	"github.com/google/uuid"

	"axtren/app/contract"
	"axtren/app/store"
	"axtren/core/diagnose"
	"axtren/core/signal"
)

// compiled gives the newest revision of a model, and its program.
func (m *models) compiled(ctx context.Context, id uuid.UUID) (*store.Head, *signal.Program, error) {
	head, err := m.store.Head(ctx, id)
	if err != nil {
		return nil, nil, err
	}
	p, err := signal.Compile(head.Doc.Setup)
	return head, p, err
}

// GetGoals lists what each device of a model can be asked to be got to do.
func (m *models) GetGoals(ctx context.Context,
	r contract.GetGoalsRequestObject) (contract.GetGoalsResponseObject, error) {
	_, p, err := m.compiled(ctx, r.Id)
	if err != nil {
		return nil, err
	}
	return contract.GetGoals200JSONResponse(diagnose.Goals(p)), nil
}
