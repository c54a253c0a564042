package web

import (
	"context"

	"axtren/app/contract"
	"axtren/core/proof"
	"axtren/core/translate"
)

// entriesTried is how many lists of entries of one length are tried on a server.
const entriesTried = 4_000_000

// GetEntries writes the rules of a model in the entries of its transmitter.
func (m *models) GetEntries(ctx context.Context,
	r contract.GetEntriesRequestObject) (contract.GetEntriesResponseObject, error) {
	head, within, done, err := m.searchIn(ctx, r.Id)
	if err != nil {
		return nil, err
	}
	defer done()
	s := head.Doc.Setup
	answer, err := translate.Translate(within, s, translate.SetOf(s, -1),
		translate.Budget{Budget: proof.Budget{Bytes: searchBytes}, Tried: entriesTried})
	if err != nil {
		return nil, err
	}
	if ctx.Err() != nil {
		return nil, ctx.Err() // the page has gone on
	}
	return contract.GetEntries200JSONResponse(answer.Tell(s)), nil
}
