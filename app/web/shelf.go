package web

import (
	"cmp"
	"context"
	"encoding/json"
	"errors"
	"fmt"
	"math"
	"net/http"
	"slices"
	"strings"

	"github.com/google/uuid"

	"axtren/app/contract"
	"axtren/app/store"
	"axtren/core/edit"
	"axtren/core/lines"
	"axtren/core/parts"
	"axtren/core/setup"
	"axtren/core/shelf"
	"axtren/core/words"
)

// holder is a model with where it is kept, and with what it has of the shelf where that was asked for.
type holder struct {
	contract.Model
	shelf.Holds
	place string // of a Summary
}

// holders lists every model, of Models or Holders, the oldest first.
func (m *models) holders(ctx context.Context, of store.Listed) ([]holder, error) {
	all, err := m.store.Summaries(ctx, of, programHash(), sumUp)
	if err != nil {
		return nil, err
	}
	list := make([]holder, len(all))
	for i, one := range all {
		list[i].place = one.Place
		if err := json.Unmarshal([]byte(one.Model), &list[i].Model); err != nil {
			return nil, keptBadly(one, err)
		}
		if one.Holds == "" {
			continue // it cannot be read, or is not asked for
		}
		if err := json.Unmarshal([]byte(one.Holds), &list[i].Holds); err != nil {
			return nil, keptBadly(one, err)
		}
	}
	return list, nil
}

// pieces lists the pieces of the shelf as they are by themselves, the oldest first.
func (m *models) pieces(ctx context.Context) ([]contract.ShelfPiece, error) {
	all, err := m.store.Summaries(ctx, store.Pieces, programHash(), sumUp)
	if err != nil {
		return nil, err
	}
	list := make([]contract.ShelfPiece, len(all))
	for i, one := range all {
		if err := json.Unmarshal([]byte(one.Model), &list[i]); err != nil {
			return nil, keptBadly(one, err)
		}
	}
	return list, nil
}

func keptBadly(one store.Summary, err error) error {
	return fmt.Errorf("what is kept of model %s cannot be read: %w", one.ModelID, err)
}

// pieceListed is what the shelf says of a piece by itself.
func pieceListed(head *store.Head, kind string) contract.ShelfPiece {
	one := contract.ShelfPiece{Id: head.ModelID, Kind: kind, Revision: head.Number, ChangedAt: head.MadeAt,
		Count: 1, Uses: []contract.PieceUse{}}
	if head.Broken != nil {
		why := head.Broken.Error()
		one.Broken, one.Name = &why, "A piece that cannot be read"
		return one
	}
	s := head.Doc.Setup
	of, _ := s.PieceCopy()
	one.Part, one.Name, one.Count, one.Shared = of.Part, s.CopyLabel(of), s.Piece.Count, of.Kind.Shared
	one.Says, one.Known = shelf.Says(s), lines.Known(s, of)
	switch can := s.Transmitter.Can; {
	case of.Kind.Key == "device":
		one.Device = &s.Devices[of.Item.Index].Kind
	case of.Kind.Key == "transmitter" && can != nil:
		one.Memories = can.Memories
	}
	return one
}

// usesBy gives the uses of every piece by its key, in the order of the models.
func usesBy(in []holder) map[string][]contract.PieceUse {
	by := map[string][]contract.PieceUse{}
	for _, model := range in {
		for _, use := range model.Uses {
			if use.Piece != "" {
				by[use.Piece] = append(by[use.Piece], contract.PieceUse{Model: model.Id, Name: model.Name,
					Part: use.Part, Label: use.Label})
			}
		}
	}
	return by
}

// used says of a piece in which models it is.
func used(p *contract.ShelfPiece, uses []contract.PieceUse) {
	p.Uses = append(p.Uses, uses...)
	names := make([]string, len(uses))
	for i, use := range uses {
		names[i] = nameFor(use.Name)
	}
	kind := setup.PieceKindOf(p.Kind)
	p.Places = shelf.Places(kind, p.Count, names)
	if crowded := shelf.Crowded(kind, p.Name, p.Count, names); crowded != "" {
		p.Crowded = &crowded
	}
}

// counted says how many pieces there are: 2 transmitters, 5 receivers, 31 devices.
func counted(pieces []contract.ShelfPiece) string {
	var said []string
	for _, kind := range setup.PieceKinds {
		n := 0
		for _, p := range pieces {
			if p.Kind == kind.Key {
				n += p.Count
			}
		}
		if n > 0 {
			said = append(said, words.Count(n, kind.Name, kind.Many))
		}
	}
	if said == nil {
		return "nothing yet"
	}
	return strings.Join(said, ", ")
}

// GetShelf gives all pieces, and what transmitters keep where.
func (m *models) GetShelf(ctx context.Context,
	_ contract.GetShelfRequestObject) (contract.GetShelfResponseObject, error) {
	in, err := m.holders(ctx, store.Holders)
	if err != nil {
		return nil, err
	}
	pieces, err := m.pieces(ctx)
	if err != nil {
		return nil, err
	}
	uses := usesBy(in)
	for i := range pieces {
		used(&pieces[i], uses[pieces[i].Id.String()])
	}
	slices.SortStableFunc(pieces, func(a, b contract.ShelfPiece) int {
		return cmp.Or(cmp.Compare(kindPlace(a.Kind), kindPlace(b.Kind)), cmp.Compare(a.Name, b.Name))
	})
	return contract.GetShelf200JSONResponse{Says: counted(pieces), Pieces: pieces,
		Memories: memories(pieces, in), Kinds: pieceGroups()}, nil
}

func kindPlace(key string) int {
	return slices.IndexFunc(setup.PieceKinds, func(k setup.PieceKind) bool { return k.Key == key })
}

// pieceGroups lists what a new piece can be.
func pieceGroups() []contract.PieceGroup {
	var list []contract.PieceGroup
	for _, kind := range setup.PieceKinds {
		of := map[string][]words.Kind{"transmitter": parts.TransmitterKinds(), "receiver": parts.ReceiverKinds(),
			"device": words.Kinds("devices"), "module": {{Name: kind.Name}}}[kind.Key]
		group := contract.PieceGroup{Kind: kind.Key, Name: kind.Name, Many: kind.Many}
		for _, one := range of {
			group.Of = append(group.Of, contract.PieceKind{Key: one.Key, Name: one.Name})
		}
		list = append(list, group)
	}
	return list
}

// memories lists what each transmitter keeps in which memory.
func memories(pieces []contract.ShelfPiece, in []holder) []contract.Memories {
	list, by := []contract.Memories{}, placesOf(in)
	known := map[string]bool{}
	for _, p := range pieces {
		if p.Kind != "transmitter" {
			continue
		}
		known[p.Id.String()] = true
		id := p.Id
		list = append(list, contract.Memories{Piece: &id, Name: p.Name, Of: p.Memories,
			Held: held(in, by, func(key string) bool { return key == id.String() })})
	}
	if rest := held(in, by, func(key string) bool { return !known[key] }); len(rest) > 0 {
		list = append(list, contract.Memories{Name: "Models whose transmitter is not on the shelf", Held: rest})
	}
	return list
}

// held lists the models of some transmitters by memory; those that say none stand last.
func held(in []holder, by map[string][]*holder, of func(transmitter string) bool) []contract.Memory {
	list := []contract.Memory{}
	for _, model := range in {
		if !of(model.Transmitter()) {
			continue
		}
		var receivers []string
		for _, use := range model.Uses {
			if use.Kind == "receiver" {
				receivers = append(receivers, use.Label)
			}
		}
		one := contract.Memory{Memory: model.Memory, Model: model.Id, Name: model.Name, About: model.What,
			Receivers: words.And(receivers)}
		if twice := sameMemory(model.Id, model.place, by); twice != "" {
			one.Twice = &twice
		}
		list = append(list, one)
	}
	slices.SortStableFunc(list, func(a, b contract.Memory) int {
		return cmp.Or(cmp.Compare(last(a.Memory), last(b.Memory)), cmp.Compare(a.Name, b.Name))
	})
	return list
}

// last orders what has no memory after all that has.
func last(memory int) int {
	if memory == 0 {
		return math.MaxInt
	}
	return memory
}

// placeOf gives where a model is kept: the key of its transmitter, and the memory; empty where that is
// not known.
func placeOf(h *shelf.Holds) string {
	if set := h.Transmitter(); h.Memory != 0 && set != "" {
		return fmt.Sprintf("%s %d", set, h.Memory)
	}
	return ""
}

// placesOf gives the models in each place.
func placesOf(in []holder) map[string][]*holder {
	by := map[string][]*holder{}
	for i := range in {
		if at := in[i].place; at != "" {
			by[at] = append(by[at], &in[i])
		}
	}
	return by
}

// sameMemory says that other models are where a model is kept; empty where that is not so, or not
// known. It names a few of them.
func sameMemory(id uuid.UUID, place string, by map[string][]*holder) string {
	var others []string
	for _, other := range by[place] {
		if other.Id != id {
			others = append(others, nameFor(other.Name))
		}
	}
	if others == nil {
		return ""
	}
	_, memory, _ := strings.Cut(place, " ")
	return fmt.Sprintf("%s %s in memory %s of this transmitter too: one of them would overwrite the other",
		shelf.Few(others), isAre(others), memory)
}

// NewPiece puts a new piece on the shelf.
func (m *models) NewPiece(ctx context.Context,
	r contract.NewPieceRequestObject) (contract.NewPieceResponseObject, error) {
	tree, err := parts.NewPiece(setup.PieceKindOf(string(r.Body.Kind)), r.Body.Of)
	if err != nil {
		return nil, err
	}
	doc, err := setup.FromTree(tree)
	if err != nil {
		return nil, err
	}
	model, err := m.create(ctx, doc, store.Origin{Page: r.Params.AxtrenPage, Edit: r.Params.AxtrenEdit},
		"put on the shelf")
	return contract.NewPiece201JSONResponse(model), err
}

// baseOf gives a piece as it was when a copy was last compared with it; nil where that is not known.
func (m *models) baseOf(ctx context.Context, from *setup.From, now *store.Head) (*setup.Document, error) {
	if from.Revision == now.Number {
		return now.Doc, nil
	}
	return m.store.PieceAt(ctx, now.ModelID, from.Revision)
}

// keyOf reads the key of a piece: what a document has is checked when it is read.
func keyOf(from *setup.From) uuid.UUID { return uuid.MustParse(string(from.Piece)) }

// GetOnShelf tells how the parts of a model stand to the pieces of the shelf.
func (m *models) GetOnShelf(ctx context.Context,
	r contract.GetOnShelfRequestObject) (contract.GetOnShelfResponseObject, error) {
	head, err := m.store.Head(ctx, r.Id)
	if err != nil {
		return nil, err
	}
	in, err := m.holders(ctx, store.Holders)
	if err != nil {
		return nil, err
	}
	listed, err := m.pieces(ctx)
	if err != nil {
		return nil, err
	}
	s, uses := head.Doc.Setup, usesBy(in)
	answer := contract.OnShelf{Revision: head.Number, Says: counted(listed), Copies: []contract.PieceCopy{}}
	own := shelf.HoldsOf(s)
	if twice := sameMemory(head.ModelID, placeOf(&own), placesOf(in)); twice != "" {
		answer.Memory = &twice
	}
	var keys []uuid.UUID
	for _, c := range s.Copies() {
		if c.From != nil {
			keys = append(keys, keyOf(c.From))
		}
	}
	heads, err := m.store.Pieces(ctx, keys)
	if err != nil {
		return nil, err
	}
	removed, err := m.store.Removed(ctx, keys)
	if err != nil {
		return nil, err
	}
	for _, c := range s.Copies() {
		one := contract.PieceCopy{Part: c.Part, Kind: c.Kind.Key, Name: c.Kind.Name, Label: s.CopyLabel(c),
			State: contract.CopyOfNone, Takes: []string{}, Tells: []string{}}
		if c.Kind.Key == "device" {
			one.Device = &s.Devices[c.Item.Index].Kind
			one.Name = setup.Devices.Name(*one.Device)
		}
		if c.From != nil {
			if err := m.stands(ctx, head.Doc, c, heads[keyOf(c.From)], removed, &one); err != nil {
				return nil, err
			}
		}
		if at := slices.IndexFunc(listed, func(p contract.ShelfPiece) bool {
			return one.Piece != nil && p.Id == *one.Piece
		}); at >= 0 {
			piece := listed[at]
			used(&piece, uses[piece.Id.String()])
			one.Called, one.Places, one.Crowded = &piece.Name, piece.Places, piece.Crowded
		}
		if c.Kind.Key == "module" && one.Piece != nil {
			use := shelf.Use{Piece: one.Piece.String(), Position: s.Link.Module.Position}
			if others := samePosition(head.ModelID, use, in); others != nil {
				one.Crowded = text(fmt.Sprintf("%s %s at position %s of its knob too", shelf.Few(others), isAre(others),
					use.Position))
			}
		}
		answer.Copies = append(answer.Copies, one)
	}
	return contract.GetOnShelf200JSONResponse(answer), nil
}

// stands says how a copy stands to its piece.
func (m *models) stands(ctx context.Context, doc *setup.Document, c setup.Copy, head *store.Head,
	removed map[uuid.UUID]bool, one *contract.PieceCopy) error {
	key := keyOf(c.From)
	one.Piece = &key
	switch {
	case head == nil && removed[key]:
		one.State = contract.CopyRemoved
		return nil
	case head == nil || head.Doc == nil:
		one.State = contract.CopyUnknown
		return nil
	}
	base, err := m.baseOf(ctx, c.From, head)
	if err != nil {
		return err
	}
	one.State, one.Of, one.ChangedAt = contract.CopySame, &head.Number, &head.MadeAt
	standing, err := shelf.Compare(doc, c.Part, base, head.Doc)
	if err != nil {
		one.State, one.Refused = contract.CopyChanged, text(err.Error())
		return nil
	}
	one.Takes, one.Tells = standing.Takes, standing.Tells
	if len(standing.Takes) > 0 || standing.Refused != nil {
		one.State = contract.CopyChanged
	}
	if standing.Refused != nil {
		one.Refused = text(standing.Refused.Error())
	}
	return nil
}

func text(s string) *string { return &s }

// GetUses tells which models a piece is in, and what each would feel of it.
func (m *models) GetUses(ctx context.Context,
	r contract.GetUsesRequestObject) (contract.GetUsesResponseObject, error) {
	piece, err := m.piece(ctx, r.Id)
	if err != nil {
		return nil, err
	}
	in, err := m.holders(ctx, store.Holders)
	if err != nil {
		return nil, err
	}
	list := contract.GetUses200JSONResponse{}
	for _, model := range in {
		uses := model.Of(r.Id.String())
		if len(uses) == 0 {
			continue
		}
		head, err := m.store.Head(ctx, model.Id)
		if errors.Is(err, store.ErrNotFound) {
			continue // it was removed meanwhile
		}
		if err != nil {
			return nil, err
		}
		for _, use := range uses {
			one, err := m.affected(ctx, head, piece, use.Part)
			if err != nil {
				return nil, err
			}
			if use.Kind == "module" {
				one.Module = onModule(head, use, in)
			}
			list = append(list, *one)
		}
	}
	return list, nil
}

// onModule tells how a model is on an add-on module.
func onModule(head *store.Head, use shelf.Use, in []holder) *contract.OnModule {
	s := head.Doc.Setup
	one := &contract.OnModule{Position: use.Position, Reversed: shelf.Reversed(s), Unequal: shelf.Unequal(s)}
	if others := samePosition(head.ModelID, use, in); others != nil {
		one.Twice = text(fmt.Sprintf("%s %s at this position too: what is set for one of them acts on the other",
			shelf.Few(others), isAre(others)))
	}
	return one
}

// samePosition lists the other models whose knob of a module stands where it does for a model.
func samePosition(id uuid.UUID, of shelf.Use, in []holder) []string {
	var others []string
	for _, other := range in {
		for _, use := range other.Of(of.Piece) {
			if other.Id != id && use.Position != "" && use.Position == of.Position {
				others = append(others, nameFor(other.Name))
			}
		}
	}
	return others
}

func isAre(names []string) string {
	if len(names) > 1 {
		return "are"
	}
	return "is"
}

// affected tells what a model would feel of a piece.
func (m *models) affected(ctx context.Context, head, piece *store.Head,
	part string) (*contract.Affected, error) {
	s := head.Doc.Setup
	one := &contract.Affected{Model: head.ModelID, Name: nameOf(s), Part: part, Stops: []string{},
		Takes: []string{}}
	c, err := parts.CopyOf(s, part)
	if err != nil || c.From == nil {
		return one, nil // it was taken out meanwhile
	}
	one.Label, one.Stops = s.CopyLabel(c), shelf.Stops(s, c)
	var now contract.PieceCopy
	if err := m.stands(ctx, head.Doc, c, piece, nil, &now); err != nil {
		return nil, err
	}
	one.Refused = now.Refused
	if now.Takes != nil {
		one.Takes = now.Takes
	}
	return one, nil
}

// NotePiece lets a piece know what a model's copy of it has and it has not.
func (m *models) NotePiece(ctx context.Context,
	r contract.NotePieceRequestObject) (contract.NotePieceResponseObject, error) {
	model, err := m.store.Head(ctx, r.Body.Model)
	if err != nil {
		return nil, err
	}
	copied, err := parts.CopyOf(model.Doc.Setup, r.Body.Part)
	if err != nil {
		return nil, err
	}
	if copied.From == nil || keyOf(copied.From) != r.Id {
		return nil, refuse(http.StatusConflict, "This part is not a copy of the piece",
			"it was changed meanwhile; look again")
	}
	base, err := m.store.PieceAt(ctx, r.Id, copied.From.Revision)
	if err != nil {
		return nil, err
	}
	p := r.Params
	revised, err := m.revise(p.IfMatch, p.AxtrenPage, p.AxtrenEdit,
		func(n int, by store.Origin) (*store.Head, error) {
			return m.store.Change(ctx, r.Id, n, by, func(piece *setup.Document) (*edit.Result, error) {
				tree, err := parts.Learn(piece, base, model.Doc, r.Body.Part)
				if err != nil {
					return nil, err
				}
				result, err := diffed(piece, tree)
				if err == nil {
					result.Words += ", noted from " + nameOf(model.Doc.Setup)
				}
				return result, err
			})
		})
	return contract.NotePiece200JSONResponse{RevisedJSONResponse: revised}, err
}

// nameOf says what a model is called.
func nameOf(s *setup.Setup) string { return nameFor(s.Name) }

func nameFor(name string) string {
	if name == "" {
		return "a model without a name"
	}
	return name
}

// Shelve does something between a model and the shelf; it is a revision of the model.
func (m *models) Shelve(ctx context.Context,
	r contract.ShelveRequestObject) (contract.ShelveResponseObject, error) {
	p, a := r.Params, r.Body
	added := ""
	revised, err := m.revise(p.IfMatch, p.AxtrenPage, p.AxtrenEdit,
		func(n int, by store.Origin) (*store.Head, error) {
			return m.store.Change(ctx, r.Id, n, by, func(doc *setup.Document) (*edit.Result, error) {
				if doc.Setup.Piece != nil {
					return nil, refuse(http.StatusConflict, "This is a piece of the shelf", "open a model")
				}
				tree, part, said, err := m.shelve(ctx, doc, a, by)
				if err != nil {
					return nil, err
				}
				if a.Act == contract.ShelfPut && tree.Equal(doc.Tree) {
					return edit.ApplyOps(doc, nil) // it knew the key of its piece
				}
				result, err := diffed(doc, tree)
				if err != nil {
					return nil, err
				}
				result.Words = said
				if a.Act == contract.ShelfFrom {
					added = part
				}
				return result, nil
			})
		})
	if added != "" {
		revised.Body.Part = &added
	}
	return contract.Shelve200JSONResponse{RevisedJSONResponse: revised}, err
}

// shelve gives the document that is to be, the part, and what was done in words.
func (m *models) shelve(ctx context.Context, doc *setup.Document, a *contract.ShelfAct,
	by store.Origin) (tree *setup.Node, part, said string, err error) {
	switch a.Act {
	case contract.ShelfFrom:
		return m.fromShelf(ctx, doc, a)
	case contract.ShelfPut, contract.ShelfTakeOver, contract.ShelfLeave:
	default:
		return nil, "", "", setup.Problems{{Path: "act", Value: string(a.Act), Message: "is no act",
			Remedy: "use put, from, take_over or leave"}}
	}
	c, err := parts.CopyOf(doc.Setup, a.Part)
	if err != nil {
		return nil, "", "", err
	}
	name := words.Capital(doc.Setup.CopyLabel(c))
	if a.Act == contract.ShelfPut {
		head, err := m.putOnShelf(ctx, doc, c, by)
		if err != nil {
			return nil, "", "", err
		}
		tree, _, err := parts.FromPiece(doc, head.Doc, fromOf(head), c.Part, "")
		return tree, c.Part, name + " was put on the shelf", err
	}
	if c.From == nil || a.Of == nil {
		return nil, "", "", setup.Problems{{Path: a.Part, Message: "is a copy of no piece",
			Remedy: "choose its piece first"}}
	}
	head, err := m.piece(ctx, keyOf(c.From))
	if err != nil {
		return nil, "", "", err
	}
	if head.Number != *a.Of {
		return nil, "", "", refuse(http.StatusConflict, "The piece was changed meanwhile", "look again")
	}
	if a.Act == contract.ShelfLeave {
		tree, err = parts.Seen(doc, c.Part, head.Number)
		return tree, c.Part, name + " stays as it is in this model", err
	}
	base, err := m.baseOf(ctx, c.From, head)
	if err != nil {
		return nil, "", "", err
	}
	if tree, _, err = parts.TakeOver(doc, c.Part, base, head.Doc); err != nil {
		return nil, "", "", err
	}
	if tree.Equal(doc.Tree) { // what the piece has no more stays here, since it is used
		tree, err = parts.Seen(doc, c.Part, head.Number)
		return tree, c.Part, name + " stays as it is in this model", err
	}
	changed, err := diffed(doc, tree)
	if err != nil {
		return nil, "", "", err
	}
	tree, err = parts.Seen(changed.Doc, c.Part, head.Number)
	return tree, c.Part, "Taken over from the shelf: " + changed.Words, err
}

// fromOf is what a copy of a piece as it is now says of it.
func fromOf(head *store.Head) setup.From {
	return setup.From{Piece: setup.PieceKey(head.ModelID.String()), Revision: head.Number}
}

// piece gives a piece that can be read.
func (m *models) piece(ctx context.Context, key uuid.UUID) (*store.Head, error) {
	heads, err := m.store.Pieces(ctx, []uuid.UUID{key})
	if err != nil {
		return nil, err
	}
	head := heads[key]
	if head == nil {
		return nil, refuse(http.StatusNotFound, "There is no such piece on the shelf",
			"it may have been taken off it; look again")
	}
	return head, head.Broken
}

// putOnShelf makes a piece of a part, under the key that the part has for it already, if any. One
// that was taken off the shelf is put back.
func (m *models) putOnShelf(ctx context.Context, doc *setup.Document, c setup.Copy,
	by store.Origin) (*store.Head, error) {
	piece := store.New{Words: "put on the shelf, as it is in " + nameOf(doc.Setup)}
	if c.From != nil {
		piece.Key, piece.Number = keyOf(c.From), c.From.Revision
		removed, err := m.store.Removed(ctx, []uuid.UUID{piece.Key})
		if err != nil {
			return nil, err
		}
		if removed[piece.Key] {
			if err := m.store.Restore(ctx, piece.Key); err != nil {
				return nil, err
			}
			return m.store.Head(ctx, piece.Key)
		}
	}
	tree, err := parts.PieceOf(doc, c.Part)
	if err != nil {
		return nil, err
	}
	if piece.Doc, err = setup.FromTree(tree); err != nil {
		return nil, err
	}
	return m.store.Keep(ctx, piece, store.Origin{Page: by.Page, Edit: by.Edit + " " + c.Part})
}

// fromShelf takes a copy of a piece into a model.
func (m *models) fromShelf(ctx context.Context, doc *setup.Document, a *contract.ShelfAct) (tree *setup.Node,
	part, said string, err error) {
	if a.Piece == nil {
		return nil, "", "", setup.Problems{{Path: "piece", Message: "is missing", Remedy: "say which piece"}}
	}
	head, err := m.piece(ctx, *a.Piece)
	if err != nil {
		return nil, "", "", err
	}
	on := ""
	if a.On != nil {
		on = *a.On
	}
	tree, part, err = parts.FromPiece(doc, head.Doc, fromOf(head), a.Part, on)
	of, _ := head.Doc.Setup.PieceCopy()
	return tree, part, words.Capital(head.Doc.Setup.CopyLabel(of)) + " was taken from the shelf", err
}
