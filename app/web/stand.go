package web

import (
	"context"
	"strings"

	"github.com/google/uuid"

	"axtren/app/contract"
	"axtren/app/store"
	"axtren/core/edit"
	"axtren/core/linkage"
	"axtren/core/setup"
	"axtren/core/stage"
	"axtren/core/travel"
)

// GetStand tells what is to be found of each function with the model on its stand.
func (m *models) GetStand(ctx context.Context,
	r contract.GetStandRequestObject) (contract.GetStandResponseObject, error) {
	head, err := m.store.Head(ctx, r.Id)
	if err != nil {
		return nil, err
	}
	return contract.GetStand200JSONResponse{Revision: head.Number, Functions: travel.Stand(head.Doc.Setup)}, nil
}

// GetLearned tells what has learned a travel of a function, against what is sent to it.
func (m *models) GetLearned(ctx context.Context,
	r contract.GetLearnedRequestObject) (contract.GetLearnedResponseObject, error) {
	head, item, err := m.function(ctx, r.Id, r.Params.Output)
	if err != nil {
		return nil, err
	}
	p, err := edit.Playable(head.Doc)
	if err != nil {
		return nil, err
	}
	learners, err := travel.Learners(p, item.Index)
	if err != nil {
		return nil, err
	}
	return contract.GetLearned200JSONResponse{Revision: head.Number, Learners: learners}, nil
}

// function gives the newest revision of a model and one function of it.
func (m *models) function(ctx context.Context, id uuid.UUID, output string) (*store.Head, setup.Item, error) {
	head, err := m.store.Head(ctx, id)
	if err != nil {
		return nil, setup.Item{}, err
	}
	item := head.Doc.Setup.Item(setup.ID(output))
	if item.Kind != setup.IsOutput {
		return nil, item, setup.Refused("output", output, "is no function of this model", "use the id of one")
	}
	return head, item, nil
}

// GetLinkage tells what lies between the servo of a function and its part.
func (m *models) GetLinkage(ctx context.Context,
	r contract.GetLinkageRequestObject) (contract.GetLinkageResponseObject, error) {
	head, item, err := m.function(ctx, r.Id, r.Params.Output)
	if err != nil {
		return nil, err
	}
	s := head.Doc.Setup
	told := contract.LinkageTold{Revision: head.Number}
	if s.Outputs[item.Index].Linkage == nil {
		return contract.GetLinkage200JSONResponse(told), nil
	}
	p, err := edit.Playable(head.Doc)
	if err != nil {
		return nil, err
	}
	var servo *setup.Servo
	sides := linkage.Sides{}
	for _, device := range s.Drives(item.Index) {
		if is, ok := s.Devices[device].Spec.(*setup.Servo); ok {
			servo = is
			plus, minus, turned := stage.Build(p).Ways(device)
			sides = linkage.Sides{Minus: strings.TrimPrefix(minus, "goes "), Plus: strings.TrimPrefix(plus, "goes "),
				Left: turned}
			break
		}
	}
	told.Report = linkage.Of(&s.Outputs[item.Index], servo, sides)
	told.Report.Figures = append(told.Report.Figures, travel.AgainstLengths(s, item.Index)...)
	return contract.GetLinkage200JSONResponse(told), nil
}
