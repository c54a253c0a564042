package store

import (
	"context"
	"encoding/json"
	"errors"
	"fmt"
	"math"
	"slices"
	"time"

	"github.com/google/uuid"
	"gorm.io/gorm"
	"gorm.io/gorm/clause"

	"axtren/core/edit"
	"axtren/core/setup"
)

// Origin is who makes a revision: a page, and the page's own id of the edit.
// The same origin sent again is no second edit.
type Origin struct{ Page, Edit string }

// Head is a model as it is now.
type Head struct {
	Revision
	Doc        *setup.Document
	Text       string  // the document as it is kept, JSON
	Shelf      string  // the kind of piece; empty: it is a model
	Broken     error   // in a list: why there is no Doc, a *BrokenError
	undo, redo []entry // of the two stacks, the newest last
}

// entry is a revision that can be taken back, without what it did.
type entry struct {
	Number int
	Page   string
	Words  string
}

// did is what a revision did.
type did struct {
	Number         int
	Page, Words    string
	Patch, Inverse string
}

// undoIndex gives the place in a stack of what a page takes back first: its own newest,
// or, where it has none, the newest of all; -1 for nothing.
func undoIndex(stack []entry, page string) int {
	for i := len(stack) - 1; i >= 0; i-- {
		if stack[i].Page == page {
			return i
		}
	}
	return len(stack) - 1
}

// UndoWords says what an undo by a page would take back; empty where it cannot.
func (h *Head) UndoWords(page string) string { return wordsOf(h.undo, page) }

// RedoWords says what a redo would bring again.
func (h *Head) RedoWords(page string) string { return wordsOf(h.redo, page) }

func wordsOf(stack []entry, page string) string {
	if i := undoIndex(stack, page); i >= 0 {
		return stack[i].Words
	}
	return ""
}

// Create stores a document as a new model with revision 1, with what hands did to it,
// all or nothing; words say how it came about. The same origin sent again is no second
// model. Mixes and shares without an id get one. The error is setup.Problems where the
// document cannot be played.
func (s *Store) Create(ctx context.Context, doc *setup.Document, by Origin, words string,
	recordings ...Recording) (*Head, error) {
	return s.Keep(ctx, New{Doc: doc, Words: words, Recordings: recordings}, by)
}

// New is what is to be kept: a document, with what hands did to it, and how it came about.
type New struct {
	Doc        *setup.Document
	Words      string
	Recordings []Recording
	Events     []Event   // in their order
	Key        uuid.UUID // zero: a new one
	Number     int       // of its first revision; 0 is 1
}

// ErrKnown says that the shelf has a piece of that key.
var ErrKnown = errors.New("the shelf has this piece")

// Keep stores what is new: a model, or a piece of the shelf, under the key and with the revision that
// models know it by. The error is ErrKnown where there is something of that key; else as Create's.
func (s *Store) Keep(ctx context.Context, made New, by Origin) (*Head, error) {
	doc, err := Fit(made.Doc)
	if err != nil {
		return nil, err
	}
	made.Doc = doc
	var head *Head
	err = s.db.WithContext(ctx).Transaction(func(tx *gorm.DB) (err error) {
		if before, err := createdBefore(tx, by); before != nil || err != nil {
			head = before
			return err
		}
		head, err = create(tx, made, by)
		return err
	})
	if err != nil {
		return nil, err
	}
	return head, nil
}

// Fit makes a document ready to be kept: every mix and share has an id, it can be
// played, and what is printed of it can be read again. The error is setup.Problems.
func Fit(doc *setup.Document) (*setup.Document, error) {
	doc, err := edit.WithIDs(doc)
	if err != nil {
		return nil, err
	}
	_, err = edit.Playable(doc)
	return doc, err
}

// create stores a document that fits, with its recordings.
func create(tx *gorm.DB, made New, by Origin) (*Head, error) {
	now, text, number := time.Now().UTC(), string(made.Doc.Tree.JSON()), max(made.Number, 1)
	model := Model{ID: made.Key, Head: number, CreatedAt: now, Document: text, UndoStack: []int{},
		RedoStack: []int{}, Packed: number}
	if model.ID == uuid.Nil {
		model.ID = uuid.New()
	}
	if piece := made.Doc.Setup.Piece; piece != nil {
		model.Shelf = piece.Kind
	}
	rev := Revision{ModelID: model.ID, Number: number, MadeAt: now, Page: by.Page, Edit: by.Edit,
		Kind: KindImport, Patch: "[]", Inverse: "[]", Words: made.Words, Document: &text}
	kept := tx.Clauses(clause.OnConflict{DoNothing: true}).Create(&model)
	if kept.Error == nil && kept.RowsAffected == 0 {
		return nil, ErrKnown
	}
	if err := kept.Error; err != nil {
		return nil, fmt.Errorf("the model was not saved: %w", err)
	}
	if err := tx.Create(&rev).Error; err != nil {
		return nil, fmt.Errorf("the model was not saved: %w", err)
	}
	for _, r := range made.Recordings {
		if _, err := keepRecording(tx, model.ID, r); err != nil {
			return nil, err
		}
	}
	for i := range made.Events {
		e := made.Events[i]
		e.ID, e.ModelID, e.WalkID = uuid.New(), model.ID, nil
		if e.MadeAt.IsZero() {
			e.MadeAt = now
		}
		e.Revision = number
		if err := tx.Create(&e).Error; err != nil {
			return nil, fmt.Errorf("the model was not saved: %w", err)
		}
	}
	return &Head{Revision: rev, Doc: made.Doc, Text: text}, nil
}

// keptAtOnce is how many models are read at once where all are.
const keptAtOnce = 50

// EachKept gives every model as it is kept, a document in JSON, with its recordings and their
// scripts and what happened to it, the oldest model first. An error of each ends it.
func (s *Store) EachKept(ctx context.Context,
	each func(document string, recordings []Recording, events []Event) error) error {
	db := s.db.WithContext(ctx)
	var all []uuid.UUID
	err := db.Model(&Model{}).Where("removed_at is null and shelf = ''").Order("created_at, id").
		Pluck("id", &all).Error
	if err != nil {
		return fmt.Errorf("the models cannot be read: %w", err)
	}
	for ids := range slices.Chunk(all, keptAtOnce) {
		var some []Model
		if err := db.Select("id", "document").Find(&some, "id in ?", ids).Error; err != nil {
			return fmt.Errorf("the models cannot be read: %w", err)
		}
		var scripts []Recording
		if err := db.Order("made_at, id").Find(&scripts, "model_id in ?", ids).Error; err != nil {
			return fmt.Errorf("the recordings cannot be read: %w", err)
		}
		var noted []Event
		if err := db.Order("number").Find(&noted, "model_id in ?", ids).Error; err != nil {
			return fmt.Errorf("what happened cannot be read: %w", err)
		}
		documents, recordings := map[uuid.UUID]string{}, map[uuid.UUID][]Recording{}
		events := map[uuid.UUID][]Event{}
		for _, e := range noted {
			events[e.ModelID] = append(events[e.ModelID], e)
		}
		for _, one := range some {
			documents[one.ID] = one.Document
		}
		for _, r := range scripts {
			recordings[r.ModelID] = append(recordings[r.ModelID], r)
		}
		for _, id := range ids {
			if err := each(documents[id], recordings[id], events[id]); err != nil {
				return err
			}
		}
	}
	return nil
}

// BrokenError says that what is kept of a model cannot be read by
// this program. Text is what is kept, as it is.
type BrokenError struct {
	Number int
	Text   string
	Err    error
}

// Error says why, in one line.
func (e *BrokenError) Error() string {
	return fmt.Sprintf("revision %d cannot be read: %v", e.Number, e.Err)
}

// Unwrap gives nothing: a document's faults are not those of what was sent just now.
func (e *BrokenError) Unwrap() error { return nil }

// parse reads the document of a revision. The error is a *BrokenError.
func parse(number int, text string) (*setup.Document, error) {
	doc, err := setup.ReadJSON([]byte(text))
	if err != nil {
		return nil, &BrokenError{number, text, err}
	}
	return doc, nil
}

// Head gives a model as it is now. The error may be ErrNotFound.
func (s *Store) Head(ctx context.Context, id uuid.UUID) (*Head, error) {
	return readHead(s.db.WithContext(ctx), id)
}

// At gives a model as it was at a revision, with nothing to take back. The error
// may be ErrNotFound.
func (s *Store) At(ctx context.Context, id uuid.UUID, number int) (*Head, error) {
	return at(s.db.WithContext(ctx), id, number)
}

func at(tx *gorm.DB, id uuid.UUID, number int) (*Head, error) {
	rev, err := revision(tx, id, number)
	if err != nil {
		return nil, err
	}
	text, err := document(tx, id, number)
	if err != nil {
		return nil, err
	}
	doc, err := parse(number, text)
	if err != nil {
		return nil, err
	}
	return &Head{Revision: *rev, Doc: doc, Text: text}, nil
}

func readHead(tx *gorm.DB, id uuid.UUID) (*Head, error) {
	var model Model
	if err := tx.First(&model, "id = ? and removed_at is null", id).Error; err != nil {
		return nil, asNotFound(err)
	}
	return head(tx, &model)
}

func asNotFound(err error) error {
	if errors.Is(err, gorm.ErrRecordNotFound) {
		return ErrNotFound
	}
	return fmt.Errorf("the model cannot be read: %w", err)
}

// head gives a model as it is now, with what can be taken back.
func head(tx *gorm.DB, model *Model) (*Head, error) {
	rev, err := revision(tx, model.ID, model.Head)
	if err != nil {
		return nil, err
	}
	doc, err := parse(model.Head, model.Document)
	if err != nil {
		return nil, err
	}
	h := &Head{Revision: *rev, Doc: doc, Text: model.Document, Shelf: model.Shelf}
	return h, h.takesBack(tx, model)
}

// takesBack reads what can be taken back of a model as it is now.
func (h *Head) takesBack(tx *gorm.DB, model *Model) (err error) {
	if h.undo, err = entries(tx, model.ID, model.UndoStack); err == nil {
		h.redo, err = entries(tx, model.ID, model.RedoStack)
	}
	return err
}

func entries(tx *gorm.DB, id uuid.UUID, stack []int) ([]entry, error) {
	if len(stack) == 0 {
		return nil, nil
	}
	query := tx.Model(&Revision{}).Select("number", "page", "words").Order("number")
	first, last := slices.Min(stack), slices.Max(stack)
	if last-first < 2*len(stack) { // as it is where little was undone: a range is found at once
		query = query.Where("model_id = ? and number between ? and ?", id, first, last)
	} else {
		query = query.Where("model_id = ? and number in ?", id, stack)
	}
	var all, list []entry
	if err := query.Find(&all).Error; err != nil {
		return nil, fmt.Errorf("the revisions cannot be read: %w", err)
	}
	for _, one := range all {
		if _, in := slices.BinarySearch(stack, one.Number); in {
			list = append(list, one)
		}
	}
	return list, nil
}

func revision(tx *gorm.DB, id uuid.UUID, number int) (*Revision, error) {
	var rev Revision
	if err := tx.Omit("document").First(&rev, "model_id = ? and number = ?", id, number).Error; err != nil {
		return nil, asNotFound(err)
	}
	return &rev, nil
}

// Revisions lists the revisions after a number and before another one, the newest of them as
// many as limit, the oldest first, without documents.
func (s *Store) Revisions(ctx context.Context, id uuid.UUID, after, before, limit int) ([]Revision, error) {
	return between(s.db.WithContext(ctx), id, after, before, limit)
}

func between(tx *gorm.DB, id uuid.UUID, after, before, limit int) ([]Revision, error) {
	var revs []Revision
	err := tx.Omit("document").Order("number desc").Limit(limit).
		Find(&revs, "model_id = ? and number > ? and number < ?", id, after, before).Error
	if err != nil {
		return nil, fmt.Errorf("the revisions cannot be read: %w", err)
	}
	slices.Reverse(revs)
	return revs, nil
}

// Edit appends the revision that a JSON Patch makes of revision against. The
// error may be ErrNotFound, a *StaleError or setup.Problems; then nothing has
// changed.
func (s *Store) Edit(ctx context.Context, id uuid.UUID, against int, by Origin, patch []byte) (*Head, error) {
	return s.Change(ctx, id, against, by, func(now *setup.Document) (*edit.Result,
		error) {
		return edit.Apply(now, patch)
	})
}

// Change is Edit for a change that is made of the document as it is.
func (s *Store) Change(ctx context.Context, id uuid.UUID, against int, by Origin,
	change func(*setup.Document) (*edit.Result, error)) (*Head, error) {
	return s.change(ctx, id, against, by, func(now *Head) (*next, error) {
		r, err := change(now.Doc)
		if err != nil {
			return nil, err
		}
		return &next{Result: r, kind: KindEdit, words: r.Words, undo: push(numbers(now.undo), now.Number+1)}, nil
	})
}

// maxUndo is how many edits can be taken back.
const maxUndo = 200

func push(stack []int, number int) []int {
	stack = append(slices.Clone(stack), number)
	return stack[max(len(stack)-maxUndo, 0):]
}

// Undo appends the revision that takes the newest edit of a page back, or, where
// the page made none, the newest of all. Where later edits touched the same
// place it does so only if sure. The error may be ErrNotFound, ErrNothingToDo, a
// *TouchedError, a *StaleError, or setup.Problems where it no longer fits.
func (s *Store) Undo(ctx context.Context, id uuid.UUID, against int, by Origin, sure bool) (*Head, error) {
	return s.UndoOf(ctx, id, against, by, 0, sure)
}

// CanUndo tells whether the edit that made a revision can be taken back.
func (h *Head) CanUndo(number int) bool {
	return slices.ContainsFunc(h.undo, func(e entry) bool { return e.Number == number })
}

// UndoOf is Undo of the edit that made a revision; 0: of the newest.
func (s *Store) UndoOf(ctx context.Context, id uuid.UUID, against int, by Origin, number int,
	sure bool) (*Head, error) {
	return s.change(ctx, id, against, by, func(now *Head) (*next, error) {
		at := undoIndex(now.undo, by.Page)
		if number > 0 {
			at = slices.IndexFunc(now.undo, func(e entry) bool { return e.Number == number })
		}
		if at < 0 {
			return nil, ErrNothingToDo
		}
		all, err := s.did(ctx, id, now.undo[at:])
		if err != nil {
			return nil, err
		}
		if !sure {
			if err := touched(all[0], all[1:]); err != nil {
				return nil, err
			}
		}
		r, err := edit.Apply(now.Doc, []byte(all[0].Inverse))
		if err != nil {
			return nil, err
		}
		return &next{Result: r, kind: KindUndo, words: now.undo[at].Words, undo: without(now.undo, at),
			redo: push(numbers(now.redo), now.Number+1)}, nil
	})
}

// did reads what some revisions did, in their order.
func (s *Store) did(ctx context.Context, id uuid.UUID, entries []entry) ([]did, error) {
	var list []did
	err := s.db.WithContext(ctx).Model(&Revision{}).Where("model_id = ? and number in ?", id,
		numbers(entries)).Order("number").Find(&list).Error
	if err == nil && len(list) != len(entries) {
		err = errors.New("some of them are missing")
	}
	if err != nil {
		return nil, fmt.Errorf("the revisions cannot be read: %w", err)
	}
	return list, nil
}

// touched compares the places of an edit with those of later ones.
func touched(one did, later []did) error {
	e := &TouchedError{Words: one.Words}
	for _, l := range later {
		if edit.Overlap([]byte(one.Patch), []byte(l.Patch)) {
			e.Later = append(e.Later, Revision{Number: l.Number, Page: l.Page, Words: l.Words,
				Kind: KindEdit})
		}
	}
	if e.Later == nil {
		return nil
	}
	return e
}

func numbers(stack []entry) []int { return without(stack, -1) }

func without(stack []entry, at int) []int {
	numbers := []int{}
	for i, e := range stack {
		if i != at {
			numbers = append(numbers, e.Number)
		}
	}
	return numbers
}

// Redo appends the revision that takes a page's newest undo back. Errors as Undo.
func (s *Store) Redo(ctx context.Context, id uuid.UUID, against int, by Origin) (*Head, error) {
	return s.change(ctx, id, against, by, func(now *Head) (*next, error) {
		at := undoIndex(now.redo, by.Page)
		if at < 0 {
			return nil, ErrNothingToDo
		}
		all, err := s.did(ctx, id, now.redo[at:at+1])
		if err != nil {
			return nil, err
		}
		r, err := edit.Apply(now.Doc, []byte(all[0].Inverse))
		if err != nil {
			return nil, err
		}
		return &next{Result: r, kind: KindRedo, words: now.redo[at].Words,
			undo: push(numbers(now.undo), now.Number+1), redo: without(now.redo, at)}, nil
	})
}

// next is the revision that is about to be appended.
type next struct {
	*edit.Result
	kind, words string
	undo, redo  []int
}

// change appends one revision. What it will be is worked out before the transaction,
// with no connection held and no row locked: a large edit keeps nobody else waiting.
func (s *Store) change(ctx context.Context, id uuid.UUID, against int, by Origin,
	following func(*Head) (*next, error)) (*Head, error) {
	let, err := s.turn(ctx, id)
	if err != nil {
		return nil, err
	}
	defer let()
	db := s.db.WithContext(ctx)
	var model Model
	if err := db.First(&model, "id = ? and removed_at is null", id).Error; err != nil {
		return nil, asNotFound(err)
	}
	if before, err := sentBefore(db, id, by); err != nil || before != nil {
		return before, err
	}
	if against != model.Head {
		return nil, stale(db, id, against, model.Head)
	}
	now, err := head(db, &model)
	if err != nil {
		return nil, err
	}
	n, err := following(now)
	if err != nil {
		return nil, err
	}
	if n.kind == KindEdit && n.Doc.Tree.Equal(now.Doc.Tree) {
		return now, nil // nothing is kept that is equal to what was
	}
	var result *Head
	err = db.Transaction(func(tx *gorm.DB) error {
		var model Model
		if err := tx.Clauses(clause.Locking{Strength: "UPDATE"}).First(&model,
			"id = ? and removed_at is null", id).Error; err != nil {
			return asNotFound(err)
		}
		var err error
		if result, err = sentBefore(tx, id, by); err != nil || result != nil {
			return err
		}
		if model.Head != now.Number {
			return stale(tx, id, against, model.Head)
		}
		rev, err := appendRevision(tx, &model, by, now, n)
		if err != nil {
			return err
		}
		result = &Head{Revision: *rev, Doc: n.Doc, Text: model.Document}
		return result.takesBack(tx, &model)
	})
	if err != nil {
		return nil, err
	}
	return result, nil
}

// turn waits until no other edit of a model is worked out here: twenty of them at once
// would take the processor from everybody else. Models that share a turn by chance only
// wait a little longer.
func (s *Store) turn(ctx context.Context, id uuid.UUID) (let func(), err error) {
	one := s.turns[id[len(id)-1]%uint8(len(s.turns))]
	select {
	case one <- struct{}{}:
		return func() { <-one }, nil
	case <-ctx.Done():
		return nil, ctx.Err()
	}
}

// toldSince is how many of the newest revisions are told to who edits an old one.
const toldSince = 50

// stale says what was made since a revision, or why that cannot be told.
func stale(db *gorm.DB, id uuid.UUID, against, head int) error {
	meanwhile, err := between(db, id, against, math.MaxInt32, toldSince)
	if err != nil {
		return err
	}
	return &StaleError{head, meanwhile}
}

// sentBefore finds the revision that the same origin made already.
func sentBefore(tx *gorm.DB, id uuid.UUID, by Origin) (*Head, error) {
	var rev Revision
	err := tx.Select("number").First(&rev, "model_id = ? and page = ? and edit = ?", id, by.Page,
		by.Edit).Error
	if errors.Is(err, gorm.ErrRecordNotFound) {
		return nil, nil
	}
	if err != nil {
		return nil, fmt.Errorf("the revisions cannot be read: %w", err)
	}
	made, err := at(tx, id, rev.Number)
	if err != nil {
		return nil, err
	}
	var model Model
	if err := tx.First(&model, "id = ?", id).Error; err != nil {
		return nil, asNotFound(err)
	}
	return made, made.takesBack(tx, &model)
}

func appendRevision(tx *gorm.DB, model *Model, by Origin, now *Head, n *next) (*Revision, error) {
	patch, err := json.Marshal(n.Patch)
	if err != nil {
		return nil, err
	}
	inverse, err := json.Marshal(n.Inverse)
	if err != nil {
		return nil, err
	}
	model.Head++
	model.Document = string(n.Doc.Tree.JSON())
	model.UndoStack, model.RedoStack = append([]int{}, n.undo...), append([]int{}, n.redo...)
	if model.Packed == model.Head-1 {
		model.Packed = model.Head
	}
	rev := Revision{ModelID: model.ID, Number: model.Head, MadeAt: time.Now().UTC(), Page: by.Page,
		Edit: by.Edit, Kind: n.kind, Patch: string(patch), Inverse: string(inverse), Words: n.words,
		Document: keptOf(model.Head, now.Doc.Tree, patch, model.Document)}
	if err := tx.Create(&rev).Error; err != nil {
		return nil, fmt.Errorf("the edit was not saved: %w", err)
	}
	err = tx.Select("head", "document", "undo_stack", "redo_stack", "packed").Updates(model).Error
	if err != nil {
		return nil, fmt.Errorf("the edit was not saved: %w", err)
	}
	return &rev, tell(tx, modelsChannel, model.ID)
}

// Remove takes a model out of the yard. It stays in the database: Restore puts
// it back. The error may be ErrNotFound.
func (s *Store) Remove(ctx context.Context, id uuid.UUID) error {
	return s.setRemoved(ctx, id, "removed_at is null", time.Now().UTC())
}

// Restore puts a model back into the yard. The error may be ErrNotFound.
func (s *Store) Restore(ctx context.Context, id uuid.UUID) error {
	return s.setRemoved(ctx, id, "removed_at is not null", nil)
}

func (s *Store) setRemoved(ctx context.Context, id uuid.UUID, where string, at any) error {
	return s.db.WithContext(ctx).Transaction(func(tx *gorm.DB) error {
		done := tx.Model(&Model{}).Where("id = ? and "+where, id).Update("removed_at", at)
		if done.Error != nil {
			return fmt.Errorf("the models were not changed: %w", done.Error)
		}
		if done.RowsAffected == 0 {
			return ErrNotFound
		}
		return tell(tx, modelsChannel, id)
	})
}

// createdBefore finds the model that the same origin made already.
func createdBefore(tx *gorm.DB, by Origin) (*Head, error) {
	var rev Revision
	err := tx.Select("model_id").First(&rev, "kind = ? and page = ? and edit = ?", KindImport, by.Page,
		by.Edit).Error
	if errors.Is(err, gorm.ErrRecordNotFound) {
		return nil, nil
	}
	if err != nil {
		return nil, fmt.Errorf("the models cannot be read: %w", err)
	}
	return readHead(tx, rev.ModelID)
}

// LoadOnce stores a document, with what hands once did to it, once per database and name.
func (s *Store) LoadOnce(ctx context.Context, name string, made New) (loaded bool, err error) {
	if made.Doc, err = Fit(made.Doc); err != nil {
		return false, err
	}
	err = s.db.WithContext(ctx).Transaction(func(tx *gorm.DB) error {
		done := tx.Exec("insert into deeds (name, done_at) values (?, now()) on conflict do nothing", name)
		if done.Error != nil || done.RowsAffected == 0 {
			return done.Error
		}
		loaded = true
		_, err := create(tx, made, Origin{Page: name, Edit: name})
		return err
	})
	return loaded, err
}
