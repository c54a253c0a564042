package web

import (
	"context"

	"axtren/app/contract"
	"axtren/core/allot"
	"axtren/core/codes"
	"axtren/core/plan"
	"axtren/core/setup"
	"axtren/core/wiring"
)

// usualLooks is after how many looks a plan that is not proved is told as far as it is.
const usualLooks = 2000

// GetPlan tells what goes where. One at a time is worked out, so that the benches keep a processor.
func (m *models) GetPlan(ctx context.Context,
	r contract.GetPlanRequestObject) (contract.GetPlanResponseObject, error) {
	looks := usualLooks
	if r.Params.Looks != nil {
		looks = *r.Params.Looks
	}
	planned := contract.Planned{}
	err := m.planning(ctx, r.Id, func(s *setup.Setup, revision int) error {
		made, err := plan.Make(s, func(of allot.Progress) bool { return of.Nodes < looks && ctx.Err() == nil })
		if err == nil {
			planned = contract.Planned{Revision: revision, Plan: *made}
		}
		return err
	})
	return contract.GetPlan200JSONResponse(planned), err
}

// GetLeads tells who feeds whom, and the power of each receiver and beyond.
func (m *models) GetLeads(ctx context.Context,
	r contract.GetLeadsRequestObject) (contract.GetLeadsResponseObject, error) {
	head, err := m.store.Head(ctx, r.Id)
	if err != nil {
		return nil, err
	}
	s := head.Doc.Setup
	return contract.GetLeads200JSONResponse{Revision: head.Number, Drawing: wiring.Draw(s),
		Power: wiring.Of(s), Caution: wiring.Caution(s)}, nil
}

// GetCodes tells how the pins of each receiver are set by counted flashes.
func (m *models) GetCodes(ctx context.Context,
	r contract.GetCodesRequestObject) (contract.GetCodesResponseObject, error) {
	head, err := m.store.Head(ctx, r.Id)
	if err != nil {
		return nil, err
	}
	return contract.GetCodes200JSONResponse{Revision: head.Number, Charts: codes.Shipped(),
		Receivers: codes.Of(head.Doc)}, nil
}

// GetOtherPlan tells what another choice would cost.
func (m *models) GetOtherPlan(ctx context.Context,
	r contract.GetOtherPlanRequestObject) (contract.GetOtherPlanResponseObject, error) {
	other := &plan.Other{More: []string{}, Changes: []plan.Change{}}
	goOn := func(of allot.Progress) bool { return of.Nodes < usualLooks && ctx.Err() == nil }
	err := m.planning(ctx, r.Id, func(s *setup.Setup, _ int) error {
		if r.Params.Of == nil || r.Params.What == nil {
			next, err := plan.Next(s, goOn)
			if next != nil {
				other = next
			}
			return err
		}
		found, err := plan.Another(s, *r.Params.Of, string(*r.Params.What), goOn)
		if err == nil {
			other = found
		}
		return err
	})
	return contract.GetOtherPlan200JSONResponse(*other), err
}

// planning lets work be done on the newest revision of a model when it is its turn, and tells where
// the page has gone on meanwhile.
func (m *models) planning(ctx context.Context, id contract.ModelID,
	work func(s *setup.Setup, revision int) error) error {
	head, err := m.store.Head(ctx, id)
	if err != nil {
		return err
	}
	done, err := m.works(ctx)
	if err != nil {
		return err
	}
	defer done()
	if err := work(head.Doc.Setup, head.Number); err != nil {
		return err
	}
	return ctx.Err()
}
