package web

import (
	"context"
	"strings"

	"axtren/app/contract"
	"axtren/core/kit"
	"axtren/core/words"
)

// GetFit tells what the transmitter of a model cannot do. One at a time is worked out, so that
// the benches keep a processor.
func (m *models) GetFit(ctx context.Context,
	r contract.GetFitRequestObject) (contract.GetFitResponseObject, error) {
	head, p, err := m.playable(ctx, r.Id)
	if err != nil {
		return nil, err
	}
	done, err := m.works(ctx)
	if err != nil {
		return nil, err
	}
	defer done()
	s := head.Doc.Setup
	fit := contract.Fit{Revision: head.Number, Known: s.Transmitter.Can != nil, Cannot: []contract.Unfit{}}
	for unfit := range kit.Fit(head.Doc, p) {
		if ctx.Err() != nil {
			return nil, ctx.Err() // the page has gone on
		}
		one := contract.Unfit{Rule: unfit.Rule, Where: unfit.Where, Says: words.Capital(unfit.Says),
			Remedy: unfit.Remedy, Sought: unfit.Sought, Ways: unfit.Ways}
		if unfit.Part.Kind != 0 {
			one.Part = s.PartName(unfit.Part)
			list, _, _ := strings.Cut(one.Part, "/")
			one.Leads = words.Home(list)
		}
		fit.Cannot = append(fit.Cannot, one)
	}
	return contract.GetFit200JSONResponse(fit), nil
}
