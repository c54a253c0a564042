package web

import (
	"context"
	"crypto/rand"
	"crypto/sha256"
	"encoding/hex"
	"encoding/json"
	"errors"
	"fmt"
	"io"
	"log/slog"
	"math"
	"net/http"
	"os"
	"slices"
	"strconv"
	"strings"
	"sync"

	"github.com/google/uuid"

	"axtren/app/contract"
	"axtren/app/live"
	"axtren/app/pairing"
	"axtren/app/store"
	"axtren/core/check"
	"axtren/core/edit"
	"axtren/core/setup"
	"axtren/core/shelf"
	"axtren/core/signal"
	"axtren/core/stage"
	"axtren/core/words"
)

// models answers the contract.
type models struct {
	store *store.Store
	hub   *live.Hub
	desk  *pairing.Desk // nil: no phone is let in

	working chan struct{} // holds one while something is worked out that takes its time
}

var _ contract.StrictServerInterface = (*models)(nil)

// describe says what a model is, as a page has it.
func (m *models) describe(head *store.Head, page string) (contract.Model, error) {
	p, err := edit.Playable(head.Doc)
	if err != nil {
		return contract.Model{}, err
	}
	return live.ModelOf(head, p, page), nil
}

// playable gives the newest revision of a model, with its program.
func (m *models) playable(ctx context.Context, id uuid.UUID) (*store.Head, *signal.Program, error) {
	head, err := m.store.Head(ctx, id)
	if err != nil {
		return nil, nil, err
	}
	p, err := edit.Playable(head.Doc)
	return head, p, err
}

// ListModels gives the yard.
func (m *models) ListModels(ctx context.Context,
	_ contract.ListModelsRequestObject) (contract.ListModelsResponseObject, error) {
	all, err := m.holders(ctx, store.Models)
	if err != nil {
		return nil, err
	}
	trials, err := m.store.Trials(ctx, programHash(), func(id uuid.UUID) (string, error) {
		return m.trial(ctx,
			id)
	})
	if err != nil {
		return nil, err
	}
	list, by := contract.ListModels200JSONResponse{}, placesOf(all)
	for _, one := range all {
		if err := onBench(one.Stands, trials[one.Id]); err != nil {
			return nil, err
		}
		if twice := sameMemory(one.Id, one.place, by); twice != "" && one.Stands != nil {
			*one.Stands = slices.Insert(*one.Stands, 0,
				check.Stand{Place: "Kit", Severity: check.Error, Words: twice})
		}
		list = append(list, one.Model)
	}
	return list, nil
}

// trial says, as JSON, what of a model that somebody has walked and signed has to be tried again.
func (m *models) trial(ctx context.Context, id uuid.UUID) (string, error) {
	stands := []check.Stand{}
	again, err := m.again(ctx, id)
	var broken *store.BrokenError
	switch {
	case err == nil:
	case errors.As(err, &broken): // the list says so by itself
	case ctx.Err() != nil || unreachable(err):
		return "", err
	default: // that of one model keeps nobody from the list
		slog.Warn("what was tried of a model cannot be compared", "model", id, "error", err)
		stands = append(stands, check.Stand{Place: words.TitleOf("bench"), Severity: check.Note,
			Words: "what was tried before cannot be compared with it any more: try it anew"})
	}
	if len(again.Changes) > 0 {
		parts := words.Count(len(again.Parts), "part", "parts")
		if len(again.Parts) == 0 {
			parts = words.And(again.Changes[0].Parts)
		} else if len(again.Parts) <= fewParts {
			parts = words.And(again.Parts)
		}
		why := strings.TrimSuffix(again.Changes[0].Says, ".")
		if more := len(again.Changes) - 1; more > 0 {
			why += fmt.Sprintf(", and %d more", more)
		}
		stands = append(stands, check.Stand{Place: words.TitleOf("bench"), Severity: check.Warning,
			Words: fmt.Sprintf("try %s again: %s", parts, why)})
	}
	text, err := json.Marshal(stands)
	return string(text), err
}

// fewParts are named one by one.
const fewParts = 3

// onBench puts what stands on the bench among what stands between a model and the water, after what is as
// bad:
// a trial as JSON, empty where nobody has signed a walk.
func onBench(stands *[]check.Stand, trial string) error {
	if stands == nil {
		return nil
	}
	more := []check.Stand{{Place: words.TitleOf("bench"), Severity: check.Note,
		Words: "it was never tried"}}
	if trial != "" {
		if err := json.Unmarshal([]byte(trial), &more); err != nil {
			return fmt.Errorf("what is kept of the walks cannot be read: %w", err)
		}
	}
	*stands = append(*stands, more...)
	slices.SortStableFunc(*stands, func(a, b check.Stand) int { return check.Worse(a.Severity, b.Severity) })
	return nil
}

// Prepare works out what the list says of each model, where this program has not yet: after it was
// renewed nobody waits for all of them at once.
func Prepare(ctx context.Context, s *store.Store) {
	for _, of := range []store.Listed{store.Models, store.Pieces} {
		if _, err := s.Summaries(ctx, of, programHash(), sumUp); err != nil && ctx.Err() == nil {
			slog.Warn("the list of models was not prepared", "error", err)
		}
	}
	m := &models{store: s}
	if _, err := s.Trials(ctx, programHash(), func(id uuid.UUID) (string, error) {
		return m.trial(ctx, id)
	}); err != nil && ctx.Err() == nil {
		slog.Warn("what was tried was not prepared", "error", err)
	}
}

// sumUp works out what the list says of a model, and how it looks at rest; or what the shelf says
// of a piece.
func sumUp(head *store.Head) (store.Summary, error) {
	if head.Shelf != "" {
		text, err := json.Marshal(pieceListed(head, head.Shelf))
		return store.Summary{Program: programHash(), Model: string(text)}, err
	}
	model, still, err := listed(head)
	if err != nil {
		model, still = brokenModel(head, err), nil
	}
	text, err := json.Marshal(model)
	if err != nil {
		return store.Summary{}, err
	}
	one := store.Summary{Program: programHash(), Model: string(text), Still: string(still)}
	if head.Doc != nil {
		holds := shelf.HoldsOf(head.Doc.Setup)
		one.Place = placeOf(&holds)
		text, err = json.Marshal(holds)
		one.Holds = string(text)
	}
	return one, err
}

// listed gives what the list says of a model that can be played, and its picture as JSON.
func listed(head *store.Head) (model contract.Model, still []byte, err error) {
	if head.Broken != nil {
		return model, nil, head.Broken
	}
	p, err := edit.Playable(head.Doc)
	if err != nil {
		return model, nil, err
	}
	model = live.ModelOf(head, p, "")
	stands := check.Readiness(p)
	model.Stands = &stands
	still, err = json.Marshal(atRest(p))
	return model, still, err
}

// programHash tells this program from any other one: what it works out may be something else.
var programHash = sync.OnceValue(func() string {
	path, err := os.Executable()
	if err == nil {
		var f *os.File
		if f, err = os.Open(path); err == nil {
			defer f.Close()
			h := sha256.New()
			if _, err = io.Copy(h, f); err == nil {
				return hex.EncodeToString(h.Sum(nil)[:12])
			}
		}
	}
	slog.Warn("the program cannot read itself: the list of models is worked out anew at each start", "error",
		err)
	return rand.Text()
})

// brokenModel describes what is known of a model that cannot be read.
func brokenModel(head *store.Head, why error) contract.Model {
	words := why.Error()
	return contract.Model{Id: head.ModelID, Name: nameIn(head.Text), Kind: "other", Revision: head.Number,
		ChangedAt: head.MadeAt, Unplayed: []string{},
		Stands: &[]contract.Stand{}, Broken: &words}
}

// nameIn finds the name in a document that cannot be read; empty for none.
func nameIn(text string) string {
	var named struct{ Name string }
	if json.Unmarshal([]byte(text), &named) != nil || len(named.Name) > 200 {
		return ""
	}
	return named.Name
}

// ImportModel brings a document in as a new model.
func (m *models) ImportModel(ctx context.Context,
	r contract.ImportModelRequestObject) (contract.ImportModelResponseObject, error) {
	text, err := io.ReadAll(r.Body)
	if err != nil {
		return nil, err
	}
	read := setup.ReadYAML
	if r.Params.Format != nil && *r.Params.Format == contract.ImportModelParamsFormatJson {
		read = setup.ReadJSON
	}
	doc, err := read(text)
	if err != nil {
		return nil, err
	}
	model, err := m.create(ctx, doc, store.Origin{Page: r.Params.AxtrenPage, Edit: r.Params.AxtrenEdit},
		"imported")
	return contract.ImportModel201JSONResponse(model), err
}

// GetModel gives one model as it is now.
func (m *models) GetModel(ctx context.Context,
	r contract.GetModelRequestObject) (contract.GetModelResponseObject, error) {
	head, err := m.store.Head(ctx, r.Id)
	if err != nil {
		return nil, err
	}
	model, err := m.describe(head, "")
	return contract.GetModel200JSONResponse{Body: model,
		Headers: contract.GetModel200ResponseHeaders{ETag: etag(head)}}, err
}

// GetStill draws a model as it stands when it is switched on and nobody touches it.
func (m *models) GetStill(ctx context.Context,
	r contract.GetStillRequestObject) (contract.GetStillResponseObject, error) {
	one, err := m.store.Summary(ctx, r.Id, programHash(), sumUp)
	if err != nil {
		return nil, err
	}
	if one.Still == "" { // say why there is none
		head, err := m.store.Head(ctx, r.Id)
		if err != nil {
			return nil, err
		}
		_, err = edit.Playable(head.Doc)
		return nil, err
	}
	var still contract.GetStill200JSONResponse
	if err := json.Unmarshal([]byte(one.Still), &still); err != nil {
		return nil, fmt.Errorf("what is kept of model %s cannot be read: %w", one.ModelID, err)
	}
	return still, nil
}

// atRest draws a model in the first moment after power-on, with nobody's hands on it.
func atRest(p *signal.Program) contract.GetStill200JSONResponse {
	g, on := stage.Build(p), p.PowerOn()
	st := g.Start()
	p.Step(on, p.Rest())
	g.Step(st, on)
	return contract.GetStill200JSONResponse{Picture: *g.Picture(), Values: g.Numbers(st, nil)}
}

func etag(head *store.Head) *string {
	tag := strconv.Quote(strconv.Itoa(head.Number))
	return &tag
}

// against reads If-Match: the revision that an edit was made against.
func against(tag *string) (int, error) {
	if tag == nil {
		return 0, refuse(http.StatusPreconditionRequired, "The edit does not say what it was made against",
			`send If-Match with the revision, such as "14"`)
	}
	n, err := strconv.Atoi(strings.Trim(strings.TrimPrefix(*tag, "W/"), `"`))
	if err != nil || n < 1 || n > math.MaxInt32 {
		return 0, refuse(http.StatusBadRequest, "If-Match names no revision",
			`send the revision in quotes, such as "14"`)
	}
	return n, nil
}

// revise runs one change of the store and tells the benches.
func (m *models) revise(tag *string, page, editID string,
	change func(against int, by store.Origin) (*store.Head, error)) (contract.RevisedJSONResponse, error) {
	n, err := against(tag)
	if err != nil {
		return contract.RevisedJSONResponse{}, err
	}
	head, err := change(n, store.Origin{Page: page, Edit: editID})
	if err != nil {
		return contract.RevisedJSONResponse{}, err
	}
	m.hub.Changed(head)
	model, err := m.describe(head, page)
	return contract.RevisedJSONResponse{Body: model,
		Headers: contract.RevisedResponseHeaders{ETag: etag(head)}}, err
}

// EditModel makes one revision.
func (m *models) EditModel(ctx context.Context,
	r contract.EditModelRequestObject) (contract.EditModelResponseObject, error) {
	p := r.Params
	revised, err := m.revise(p.IfMatch, p.AxtrenPage, p.AxtrenEdit,
		func(n int, by store.Origin) (*store.Head, error) {
			return m.store.Edit(ctx, r.Id, n, by, *r.Body)
		})
	return contract.EditModel200JSONResponse{RevisedJSONResponse: revised}, err
}

// UndoModel takes the newest edit back.
func (m *models) UndoModel(ctx context.Context,
	r contract.UndoModelRequestObject) (contract.UndoModelResponseObject, error) {
	p := r.Params
	revised, err := m.revise(p.IfMatch, p.AxtrenPage, p.AxtrenEdit,
		func(n int, by store.Origin) (*store.Head, error) {
			number := 0
			if p.Revision != nil {
				number = *p.Revision
			}
			return m.store.UndoOf(ctx, r.Id, n, by, number, p.Sure != nil && *p.Sure)
		})
	return contract.UndoModel200JSONResponse{RevisedJSONResponse: revised}, err
}

// RedoModel takes the newest undo back.
func (m *models) RedoModel(ctx context.Context,
	r contract.RedoModelRequestObject) (contract.RedoModelResponseObject, error) {
	p := r.Params
	revised, err := m.revise(p.IfMatch, p.AxtrenPage, p.AxtrenEdit,
		func(n int, by store.Origin) (*store.Head, error) {
			return m.store.Redo(ctx, r.Id, n, by)
		})
	return contract.RedoModel200JSONResponse{RevisedJSONResponse: revised}, err
}

// ListRevisions gives the record.
func (m *models) ListRevisions(ctx context.Context,
	r contract.ListRevisionsRequestObject) (contract.ListRevisionsResponseObject, error) {
	if _, err := m.store.Head(ctx, r.Id); err != nil {
		return nil, err
	}
	after, before, limit := 0, math.MaxInt32, 200
	for to, from := range map[*int]*int{&after: r.Params.After, &before: r.Params.Before,
		&limit: r.Params.Limit} {
		if from != nil {
			*to = *from
		}
	}
	revs, err := m.store.Revisions(ctx, r.Id, after, before, limit)
	return contract.ListRevisions200JSONResponse(revisionsOf(revs)), err
}

func revisionsOf(revs []store.Revision) []contract.Revision {
	list := make([]contract.Revision, len(revs))
	for i, rev := range revs {
		list[i] = contract.Revision{Number: rev.Number, MadeAt: rev.MadeAt, Page: rev.Page,
			Kind: contract.RevisionKind(rev.Kind), Words: rev.Words}
	}
	return list
}

// ExportModel gives the document as a file.
func (m *models) ExportModel(ctx context.Context,
	r contract.ExportModelRequestObject) (contract.ExportModelResponseObject, error) {
	head, err := m.store.Head(ctx, r.Id)
	if err == nil && r.Params.Revision != nil {
		head, err = m.store.At(ctx, r.Id, *r.Params.Revision)
	}
	var broken *store.BrokenError
	if errors.As(err, &broken) { // as it is kept, so that nothing is lost
		return exported{[]byte(broken.Text), "application/json",
			fmt.Sprintf(`attachment; filename="%s-r%d.json"`, fileName(nameIn(broken.Text)), broken.Number),
			strconv.Quote(strconv.Itoa(broken.Number))}, nil
	}
	if err != nil {
		return nil, err
	}
	if r.Params.Format != nil && *r.Params.Format == contract.ExportModelParamsFormatJson {
		return exported{head.Doc.Tree.JSON(), "application/json", attachment(head, "json"), *etag(head)}, nil
	}
	return exported{head.Doc.Tree.YAML(), "application/yaml", attachment(head, "yaml"), *etag(head)}, nil
}

// exported is a document as its file has it: the generated JSON answer would
// write it as a JSON string.
type exported struct {
	text                   []byte
	kind, disposition, tag string
}

// VisitExportModelResponse writes the file.
func (e exported) VisitExportModelResponse(w http.ResponseWriter) error {
	w.Header().Set("Content-Type", e.kind)
	w.Header().Set("Content-Disposition", e.disposition)
	w.Header().Set("ETag", e.tag)
	_, err := w.Write(e.text)
	return err
}

// attachment names a file after the model, in letters that any system takes.
func attachment(head *store.Head, ending string) string {
	return fmt.Sprintf(`attachment; filename="%s-r%d.%s"`, fileName(head.Doc.Setup.Name), head.Number, ending)
}

func fileName(of string) string {
	name := strings.Map(func(r rune) rune {
		switch {
		case r >= 'a' && r <= 'z', r >= '0' && r <= '9', r == '-':
			return r
		case r == ' ', r == '_':
			return '-'
		}
		return -1
	}, strings.ToLower(of))
	if name == "" {
		name = "model"
	}
	return name
}

// GetSchema gives the JSON Schema of a document.
func (m *models) GetSchema(context.Context,
	contract.GetSchemaRequestObject) (contract.GetSchemaResponseObject, error) {
	return schemaFile(setup.Schema()), nil
}

// schemaFile is the schema as it is printed.
type schemaFile []byte

// VisitGetSchemaResponse writes it.
func (f schemaFile) VisitGetSchemaResponse(w http.ResponseWriter) error {
	w.Header().Set("Content-Type", "application/schema+json")
	_, err := w.Write(f)
	return err
}
