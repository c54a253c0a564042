package web

import (
	"context"
	"strings"

	"axtren/app/contract"
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

// GetLinkage tells what lies between the servo of a function and its part.
func (m *models) GetLinkage(ctx context.Context,
	r contract.GetLinkageRequestObject) (contract.GetLinkageResponseObject, error) {
	head, err := m.store.Head(ctx, r.Id)
	if err != nil {
		return nil, err
	}
	s := head.Doc.Setup
	item := s.Item(setup.ID(r.Params.Output))
	if item.Kind != setup.IsOutput {
		return nil, setup.Problems{{Path: "output", Value: r.Params.Output, Message: "is no function of this model",
			Remedy: "use the id of one"}}
	}
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
	return contract.GetLinkage200JSONResponse(told), nil
}
