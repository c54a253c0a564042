package web

import (
	"context"

	"axtren/app/contract"
	"axtren/core/loss"
	"axtren/core/proof"
	"axtren/core/radio"
	"axtren/core/setup"
	"axtren/core/sheet"
)

// GetLoss asks what each function is to do on a lost signal, and tells what can hurt then.
func (m *models) GetLoss(ctx context.Context,
	r contract.GetLossRequestObject) (contract.GetLossResponseObject, error) {
	head, p, err := m.compiled(ctx, r.Id)
	if err != nil {
		return nil, err
	}
	told := contract.GetLoss200JSONResponse{Revision: head.Number, Functions: loss.Ask(p),
		Hazards: loss.TellHazards(p), Cautions: sheet.Cautions(head.Doc.Setup)}
	if radio.Goes(head.Doc.Setup) {
		under := radio.Of(head.Doc.Setup)
		told.Under = &under
	}
	return told, nil
}

// GetHold tells how sticks and switches are held while a receiver stores what they show.
func (m *models) GetHold(ctx context.Context,
	r contract.GetHoldRequestObject) (contract.GetHoldResponseObject, error) {
	head, err := m.store.Head(ctx, r.Id)
	if err != nil {
		return nil, err
	}
	item := head.Doc.Setup.Item(setup.ID(r.Params.Receiver))
	if item.Kind != setup.IsReceiver {
		return nil, setup.Refused("receiver", r.Params.Receiver, "is no receiver of this model",
			"use the id of one")
	}
	within, done, err := m.search(ctx)
	if err != nil {
		return nil, err
	}
	defer done()
	lines, shows := loss.Hold(within, head.Doc.Setup, item.Index, proof.Budget{Bytes: searchBytes})
	return contract.GetHold200JSONResponse{Lines: lines, Shows: shows}, ctx.Err()
}

// GetStart looks for the least that the transmitter has to wait for.
func (m *models) GetStart(ctx context.Context,
	r contract.GetStartRequestObject) (contract.GetStartResponseObject, error) {
	head, within, done, err := m.searchIn(ctx, r.Id)
	if err != nil {
		return nil, err
	}
	defer done()
	s := head.Doc.Setup
	found := proof.LeastStart(within, s, proof.Budget{Bytes: searchBytes})
	told := contract.GetStart200JSONResponse{Revision: head.Number, Lines: loss.SaysStart(s, &found),
		Batteries: loss.Batteries(s),
		Same:      loss.WaitsFor(s, found.Entries)}
	if found.Possible && !told.Same {
		patch := loss.StartPatch(s, found.Entries)
		told.Patch, told.Does = &patch, "Let it wait for just that"
		if len(found.Entries) == 0 {
			told.Does = "Let it wait for nothing"
		}
	}
	return told, ctx.Err()
}
