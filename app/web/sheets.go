package web

import (
	"bytes"
	"context"
	"encoding/json"
	"fmt"
	"io"
	"net/http"
	"strings"

	"github.com/google/uuid"

	"axtren/app/contract"
	appsheet "axtren/app/sheet"
	"axtren/app/store"
	"axtren/core/edit"
	"axtren/core/setup"
	"axtren/core/sheet"
	"axtren/core/wiring"
)

// sheetOf writes the sheet of a revision, 0 for the newest; with since, only what
// changed since that revision, else with short that of a fresh memory.
func (m *models) sheetOf(ctx context.Context, id uuid.UUID, revision int, since *int,
	short *bool) (*sheet.Sheet, *store.Head, error) {
	build := func(number int) (*sheet.Sheet, *store.Head, error) {
		var head *store.Head
		var err error
		if number == 0 {
			head, err = m.store.Head(ctx, id)
		} else {
			head, err = m.store.At(ctx, id, number)
		}
		if err != nil {
			return nil, nil, err
		}
		p, err := edit.Playable(head.Doc)
		if err != nil {
			return nil, nil, err
		}
		return sheet.Build(p), head, nil
	}
	sh, head, err := build(revision)
	if err != nil {
		return nil, nil, err
	}
	if since == nil || *since == 0 {
		if short != nil && *short {
			sh = sh.Fresh()
		}
		return sh, head, nil
	}
	old, _, err := build(*since)
	if err != nil {
		return nil, nil, err
	}
	return sh.Changes(old, *since), head, nil
}

// GetSheet gives what to key in.
func (m *models) GetSheet(ctx context.Context,
	r contract.GetSheetRequestObject) (contract.GetSheetResponseObject, error) {
	sh, _, err := m.sheetOf(ctx, r.Id, 0, r.Params.Since, r.Params.Short)
	if err != nil {
		return nil, err
	}
	return contract.GetSheet200JSONResponse(*sh), nil
}

// sheetFile writes a sheet as a file of a kind.
func (m *models) sheetFile(ctx context.Context, id uuid.UUID, since *int, short *bool, ending string,
	write func(io.Writer, *sheet.Sheet, *store.Head) error) (*bytes.Buffer, *string, error) {
	sh, head, err := m.sheetOf(ctx, id, 0, since, short)
	if err != nil {
		return nil, nil, err
	}
	var b bytes.Buffer
	if err := write(&b, sh, head); err != nil {
		return nil, nil, err
	}
	disposition := attachment(head, ending)
	return &b, &disposition, nil
}

// GetSheetCSV gives it as a table.
func (m *models) GetSheetCSV(ctx context.Context,
	r contract.GetSheetCSVRequestObject) (contract.GetSheetCSVResponseObject, error) {
	b, disposition, err := m.sheetFile(ctx, r.Id, r.Params.Since, r.Params.Short, "csv",
		func(w io.Writer, sh *sheet.Sheet, _ *store.Head) error { return appsheet.CSV(w, sh) })
	if err != nil {
		return nil, err
	}
	return contract.GetSheetCSV200TextcsvResponse{Body: b, ContentLength: int64(b.Len()),
		Headers: contract.GetSheetCSV200ResponseHeaders{ContentDisposition: disposition}}, nil
}

// paperOf is the paper that is asked for, A4 where nothing is said.
func paperOf[P ~string](asked *P) string {
	if asked == nil {
		return "A4"
	}
	return string(*asked)
}

// GetSheetPDF gives it on paper.
func (m *models) GetSheetPDF(ctx context.Context,
	r contract.GetSheetPDFRequestObject) (contract.GetSheetPDFResponseObject, error) {
	paper := paperOf(r.Params.Paper)
	b, disposition, err := m.sheetFile(ctx, r.Id, r.Params.Since, r.Params.Short, "pdf",
		func(w io.Writer, sh *sheet.Sheet, head *store.Head) error {
			return appsheet.PDF(w, sh, paper, head.Number)
		})
	if err != nil {
		return nil, err
	}
	return contract.GetSheetPDF200ApplicationpdfResponse{Body: b, ContentLength: int64(b.Len()),
		Headers: contract.GetSheetPDF200ResponseHeaders{ContentDisposition: disposition}}, nil
}

// GetCarried gives it as one file that keeps ticks.
func (m *models) GetCarried(ctx context.Context,
	r contract.GetCarriedRequestObject) (contract.GetCarriedResponseObject, error) {
	b, disposition, err := m.sheetFile(ctx, r.Id, r.Params.Since, r.Params.Short, "html",
		func(w io.Writer, sh *sheet.Sheet, head *store.Head) error {
			things := appsheet.Things(sh)
			text, err := json.Marshal(things)
			if err != nil {
				return err
			}
			mark := int(appsheet.Mark(r.Id.String(), things))
			if err := m.store.KeepCarried(ctx, store.Carried{ModelID: r.Id, Revision: head.Number,
				Since: sh.Since, Mark: mark, Things: string(text)}); err != nil {
				return err
			}
			fitted, err := appsheet.FittedOf(head.Doc)
			if err != nil {
				return err
			}
			return appsheet.Carry(w, sh, fitted, r.Id.String(), head.Number)
		})
	if err != nil {
		return nil, err
	}
	return contract.GetCarried200TexthtmlResponse{Body: b, ContentLength: int64(b.Len()),
		Headers: contract.GetCarried200ResponseHeaders{ContentDisposition: disposition}}, nil
}

// GetPlanPDF gives what stands at the model on paper: what goes where, the leads, the codes of pins.
func (m *models) GetPlanPDF(ctx context.Context,
	r contract.GetPlanPDFRequestObject) (contract.GetPlanPDFResponseObject, error) {
	paper := paperOf(r.Params.Paper)
	head, err := m.store.Head(ctx, r.Id)
	if err != nil {
		return nil, err
	}
	fitted, err := appsheet.FittedOf(head.Doc)
	if err != nil {
		return nil, err
	}
	var b bytes.Buffer
	if err := fitted.PDF(&b, paper, head.Number); err != nil {
		return nil, err
	}
	disposition := attachment(head, "pdf")
	return contract.GetPlanPDF200ApplicationpdfResponse{Body: &b, ContentLength: int64(b.Len()),
		Headers: contract.GetPlanPDF200ResponseHeaders{ContentDisposition: &disposition}}, nil
}

// GetLeadsFile gives the leads as a picture, or as a graph.
func (m *models) GetLeadsFile(ctx context.Context,
	r contract.GetLeadsFileRequestObject) (contract.GetLeadsFileResponseObject, error) {
	head, err := m.store.Head(ctx, r.Id)
	if err != nil {
		return nil, err
	}
	draw, known := map[string]func(*setup.Setup) string{"svg": wiring.SVG, "dot": wiring.DOT}[r.Kind]
	if !known {
		return nil, refuse(http.StatusNotFound, "There is no such file of the leads", "use svg or dot")
	}
	text := draw(head.Doc.Setup)
	disposition := attachment(head, r.Kind)
	return contract.GetLeadsFile200ApplicationoctetStreamResponse{Body: strings.NewReader(text),
		ContentLength: int64(len(text)),
		Headers:       contract.GetLeadsFile200ResponseHeaders{ContentDisposition: &disposition}}, nil
}

// ListTicks gives the sheets that came home.
func (m *models) ListTicks(ctx context.Context,
	r contract.ListTicksRequestObject) (contract.ListTicksResponseObject, error) {
	if _, err := m.store.Head(ctx, r.Id); err != nil {
		return nil, err
	}
	list, err := m.store.Ticked(ctx, r.Id)
	out := contract.ListTicks200JSONResponse{}
	for i := range list {
		out = append(out, tickedOf(&list[i]))
	}
	return out, err
}

func tickedOf(t *store.Ticked) contract.Ticked {
	open := append([]string{}, t.Open...)
	return contract.Ticked{Revision: t.Revision, Since: &t.Since, MadeAt: t.MadeAt, Of: t.Of, Keyed: t.Keyed,
		ReadBack: t.ReadBack, Seen: t.Seen, Open: &open}
}

// carried gives what there was to tick on the sheet that a code is of: as it was
// written when it was carried, else as it is written now.
func (m *models) carried(ctx context.Context, id uuid.UUID, of appsheet.Head) ([]appsheet.Thing, error) {
	text, err := m.store.Carried(ctx, id, of.Revision, of.Since, int(of.Mark))
	if err != nil {
		return nil, err
	}
	if text != "" {
		var things []appsheet.Thing
		if err := json.Unmarshal([]byte(text), &things); err != nil {
			return nil, fmt.Errorf("the things of a carried sheet cannot be read: %w", err)
		}
		return things, nil
	}
	sh, _, err := m.sheetOf(ctx, id, of.Revision, &of.Since, nil)
	if err != nil {
		return nil, err
	}
	return appsheet.Things(sh), nil
}

// toldTicks tells a person why a code cannot be taken.
func toldTicks(err error) error {
	if own, ok := appsheet.IsTickError(err); ok {
		return refuse(http.StatusUnprocessableEntity, "The code cannot be taken: "+own.Message, own.Remedy)
	}
	return err
}

// BringTicks keeps what was ticked on a carried sheet, against the revision that
// the sheet was of.
func (m *models) BringTicks(ctx context.Context,
	r contract.BringTicksRequestObject) (contract.BringTicksResponseObject, error) {
	code := strings.TrimSpace(*r.Body)
	of, err := appsheet.ReadHead(code)
	if err != nil {
		return nil, toldTicks(err)
	}
	head, err := m.store.Head(ctx, r.Id)
	if err != nil {
		return nil, err
	}
	if of.Revision > head.Number {
		return nil, refuse(http.StatusUnprocessableEntity,
			"The code cannot be taken: this code is of another sheet", "this model has no such revision yet")
	}
	things, err := m.carried(ctx, r.Id, of)
	if err != nil {
		return nil, err
	}
	ticks, err := appsheet.Read(code, r.Id.String(), things)
	if err != nil {
		return nil, toldTicks(err)
	}
	ticked := store.Ticked{ModelID: r.Id, Revision: of.Revision, Since: of.Since,
		Code: code, Of: len(ticks.Ticked[appsheet.Keyed]),
		Keyed: ticks.Count(appsheet.Keyed), ReadBack: ticks.Count(appsheet.ReadBack),
		Seen: ticks.Count(appsheet.Seen), Open: ticks.Open(things)}
	kept, err := m.store.KeepTicked(ctx, ticked, fmt.Sprintf("Sheet of revision %d ticked: %d keyed, %d "+
		"read back, "+
		"%d seen, of %d", ticked.Revision, ticked.Keyed, ticked.ReadBack, ticked.Seen, ticked.Of))
	if err != nil {
		return nil, err
	}
	return contract.BringTicks201JSONResponse(tickedOf(kept)), nil
}
