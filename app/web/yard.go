package web

import (
	"context"
	"crypto/sha256"
	"encoding/hex"
	"errors"
	"fmt"
	"io"
	"net/http"
	"time"

	"github.com/google/uuid"

	"axtren/app/archive"
	"axtren/app/contract"
	"axtren/app/store"
	"axtren/core/edit"
	"axtren/core/parts"
	"axtren/core/setup"
	"axtren/core/starts"
	"axtren/core/trouble"
)

// ListKinds gives what a new model can begin as.
func (m *models) ListKinds(context.Context,
	contract.ListKindsRequestObject) (contract.ListKindsResponseObject, error) {
	return contract.ListKinds200JSONResponse(starts.Kinds()), nil
}

// ListComplaints gives what a person can complain of.
func (m *models) ListComplaints(context.Context,
	contract.ListComplaintsRequestObject) (contract.ListComplaintsResponseObject, error) {
	return contract.ListComplaints200JSONResponse(trouble.Complaints()), nil
}

// NewModel makes a model of a kind of craft.
func (m *models) NewModel(ctx context.Context,
	r contract.NewModelRequestObject) (contract.NewModelResponseObject, error) {
	doc, err := starts.Start(r.Kind)
	if err != nil {
		return nil, err
	}
	model, err := m.create(ctx, doc, store.Origin{Page: r.Params.AxtrenPage, Edit: r.Params.AxtrenEdit},
		"begun as a "+r.Kind)
	return contract.NewModel201JSONResponse(model), err
}

func (m *models) create(ctx context.Context, doc *setup.Document, by store.Origin,
	words string) (contract.Model, error) {
	head, err := m.store.Create(ctx, doc, by, words)
	if err != nil {
		return contract.Model{}, err
	}
	return m.describe(head, by.Page)
}

// CopyModel makes a second model of the same document.
func (m *models) CopyModel(ctx context.Context,
	r contract.CopyModelRequestObject) (contract.CopyModelResponseObject, error) {
	head, err := m.store.Head(ctx, r.Id)
	if err != nil {
		return nil, err
	}
	name := head.Doc.Setup.Name + " copy"
	doc, err := named(head.Doc, name)
	if err != nil {
		return nil, err
	}
	model, err := m.create(ctx, doc, store.Origin{Page: r.Params.AxtrenPage, Edit: r.Params.AxtrenEdit},
		"copied from "+head.Doc.Setup.Name)
	return contract.CopyModel201JSONResponse(model), err
}

// named gives a document another name.
func named(doc *setup.Document, name string) (*setup.Document, error) {
	tree := *doc.Tree
	tree.Keys, tree.Items = append([]string{}, tree.Keys...), append([]*setup.Node{}, tree.Items...)
	own := &setup.Node{Kind: setup.Text, Text: name}
	for i, key := range tree.Keys {
		if key == "name" {
			tree.Items[i], own = own, nil
		}
	}
	if own != nil {
		tree.Keys, tree.Items = append(tree.Keys, "name"), append(tree.Items, own)
	}
	return setup.FromTree(&tree)
}

// RemoveModel takes a model out of the yard.
func (m *models) RemoveModel(ctx context.Context,
	r contract.RemoveModelRequestObject) (contract.RemoveModelResponseObject, error) {
	if err := m.store.Remove(ctx, r.Id); err != nil {
		return nil, err
	}
	m.hub.Removed(r.Id)
	return contract.RemoveModel204Response{}, nil
}

// RestoreModel puts it back.
func (m *models) RestoreModel(ctx context.Context,
	r contract.RestoreModelRequestObject) (contract.RestoreModelResponseObject, error) {
	if err := m.store.Restore(ctx, r.Id); err != nil {
		return nil, err
	}
	head, err := m.store.Head(ctx, r.Id)
	if err != nil {
		return nil, err
	}
	model, err := m.describe(head, "")
	return contract.RestoreModel200JSONResponse(model), err
}

// ExportYard gives every model with its recordings as an archive.
func (m *models) ExportYard(ctx context.Context,
	_ contract.ExportYardRequestObject) (contract.ExportYardResponseObject, error) {
	out, in := io.Pipe()
	go func() { in.CloseWithError(m.writeYard(ctx, in)) }() // one that is cut short is none: the browser says so
	disposition := `attachment; filename="yard-` + time.Now().Format("2006-01-02") + `.zip"`
	return contract.ExportYard200ApplicationzipResponse{Body: out,
		Headers: contract.ExportYard200ResponseHeaders{ContentDisposition: &disposition}}, nil
}

// pagesAhead is how many models are read and printed before what is written of them.
const pagesAhead = 8

// writeYard writes every model and every piece into an archive; the next models are printed meanwhile.
func (m *models) writeYard(ctx context.Context, out io.Writer) error {
	ctx, cancel := context.WithCancel(ctx)
	defer cancel()
	pages, read := make(chan archive.Page, pagesAhead), error(nil)
	go func() {
		defer close(pages)
		read = m.store.EachKept(ctx, func(document string, recordings []store.Recording,
			events []store.Event) error {
			select {
			case pages <- archive.NewPage(document, recordings, events):
				return nil
			case <-ctx.Done():
				return ctx.Err()
			}
		})
	}()
	w := archive.NewWriter(out)
	for page := range pages {
		if err := w.Add(page); err != nil {
			return err
		}
	}
	if read != nil {
		return read
	}
	if err := m.store.EachPiece(ctx, w.AddPiece); err != nil {
		return err
	}
	return w.Close()
}

// ImportYard brings the models of an archive in, each with its own outcome.
func (m *models) ImportYard(ctx context.Context,
	r contract.ImportYardRequestObject) (contract.ImportYardResponseObject, error) {
	text, err := io.ReadAll(r.Body)
	if err != nil {
		return nil, err
	}
	files, err := archive.Open(text)
	if err != nil {
		return nil, refuse(http.StatusUnprocessableEntity, "This archive cannot be read", err.Error())
	}
	outcomes := contract.ImportYard200JSONResponse{}
	keep := func(f archive.File, i int, bring func(context.Context, archive.File, store.Origin) (contract.Model,
		error)) {
		one := contract.Brought{File: f.Name}
		// the id of the edit is that of the archive, and which of its files this is: names may agree, and be
		// long
		sum := sha256.Sum256(fmt.Appendf(nil, "%s\x00%d\x00%s", r.Params.AxtrenEdit, i, f.Name))
		if model, err := bring(ctx, f, store.Origin{Page: r.Params.AxtrenPage,
			Edit: hex.EncodeToString(sum[:])}); err != nil {
			p := problemOf(err)
			one.Problem = &p
		} else {
			one.Model = &model
		}
		outcomes = append(outcomes, one)
	}
	for i := range files.Pieces() { // before the models that have copies of them
		keep(files.ReadPiece(i), -1-i, m.bringPiece)
	}
	for i := range files.Len() {
		keep(files.Read(i), i, m.bringIn)
	}
	return outcomes, nil
}

// fromArchive is added to the name of a piece of which the shelf has another state already.
const fromArchive = " (from the archive)"

// bringPiece puts a piece of an archive on the shelf, under the key that models know it by. Where the
// shelf has it, and it says something else, that of the archive becomes a piece of its own.
func (m *models) bringPiece(ctx context.Context, f archive.File, by store.Origin) (contract.Model, error) {
	if f.Err != nil {
		return contract.Model{}, f.Err
	}
	piece := store.New{Doc: f.Doc, Words: "imported", Key: f.Key, Number: f.Revision}
	head, err := m.store.Keep(ctx, piece, by)
	if errors.Is(err, store.ErrKnown) {
		head, err = m.knownPiece(ctx, piece, by)
	}
	if err != nil {
		return contract.Model{}, err
	}
	return m.describe(head, by.Page)
}

func (m *models) knownPiece(ctx context.Context, piece store.New, by store.Origin) (*store.Head, error) {
	keys := []uuid.UUID{piece.Key}
	removed, err := m.store.Removed(ctx, keys)
	if err != nil {
		return nil, err
	}
	if removed[piece.Key] {
		if err := m.store.Restore(ctx, piece.Key); err != nil {
			return nil, err
		}
	}
	there, err := m.store.Pieces(ctx, keys)
	if err != nil {
		return nil, err
	}
	if head := there[piece.Key]; head != nil && head.Doc != nil {
		if fits, err := store.Fit(piece.Doc); err == nil && head.Doc.Tree.Equal(fits.Tree) {
			return head, nil
		}
	}
	of, _ := piece.Doc.Setup.PieceCopy()
	if piece.Doc, err = parts.Called(piece.Doc, of, piece.Doc.Setup.CopyLabel(of)+fromArchive); err != nil {
		return nil, err
	}
	piece.Key, piece.Number = uuid.Nil, 0
	return m.store.Keep(ctx, piece, by)
}

// bringIn keeps one model of an archive with its recordings, all or nothing; what is in
// it is held to what any file is held to.
func (m *models) bringIn(ctx context.Context, f archive.File, by store.Origin) (contract.Model, error) {
	if f.Err != nil {
		return contract.Model{}, f.Err
	}
	p, err := edit.Playable(f.Doc)
	if err != nil {
		return contract.Model{}, err
	}
	for _, r := range f.Recordings {
		if err := checkScript(p, r.Name, []byte(r.Script)); err != nil {
			return contract.Model{}, err
		}
	}
	head, err := m.store.Keep(ctx, store.New{Doc: f.Doc, Words: "imported", Recordings: f.Recordings,
		Events: f.Events}, by)
	if err != nil {
		return contract.Model{}, err
	}
	return m.describe(head, by.Page)
}
