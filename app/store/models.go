package store

import (
	"context"
	"encoding/json"
	"errors"
	"fmt"
	"time"

	"github.com/google/uuid"
	"gorm.io/gorm"
	"gorm.io/gorm/clause"

	"axtren/app/edit"
	"axtren/core/setup"
)

// Origin is who makes a revision: a page, and the page's own id of the edit.
// The same origin sent again is no second edit.
type Origin struct{ Page, Edit string }

// Head is a model as it is now.
type Head struct {
	Revision
	Doc       *setup.Document
	UndoWords string // what an undo would take back; empty where it cannot
	RedoWords string
}

// Create stores a document as a new model with revision 1. Mixes and shares
// without an id get one. The error is setup.Problems where the document cannot
// be played.
func (s *Store) Create(ctx context.Context, doc *setup.Document, by Origin) (*Head, error) {
	var head *Head
	err := s.db.WithContext(ctx).Transaction(func(tx *gorm.DB) (err error) {
		head, err = create(tx, doc, by)
		return err
	})
	return head, err
}

func create(tx *gorm.DB, doc *setup.Document, by Origin) (*Head, error) {
	doc, err := edit.WithIDs(doc)
	if err != nil {
		return nil, err
	}
	if _, err := edit.Playable(doc); err != nil {
		return nil, err
	}
	now := time.Now().UTC()
	model := Model{ID: uuid.New(), Head: 1, CreatedAt: now}
	rev := Revision{ModelID: model.ID, Number: 1, MadeAt: now, Page: by.Page, Edit: by.Edit, Kind: KindImport,
		Patch: "[]", Inverse: "[]", Words: "brought in", Document: string(doc.Tree.JSON())}
	if err := tx.Create(&model).Error; err != nil {
		return nil, fmt.Errorf("the model was not kept: %w", err)
	}
	if err := tx.Create(&rev).Error; err != nil {
		return nil, fmt.Errorf("the model was not kept: %w", err)
	}
	return &Head{Revision: rev, Doc: doc}, nil
}

// List gives every model as it is now, the oldest first. Its heads have no
// words for undo and redo.
func (s *Store) List(ctx context.Context) ([]Head, error) {
	var revs []Revision
	err := s.db.WithContext(ctx).
		Joins("join models on models.id = revisions.model_id and models.head = revisions.number").
		Order("models.created_at, models.id").Find(&revs).Error
	if err != nil {
		return nil, fmt.Errorf("the models cannot be read: %w", err)
	}
	heads := make([]Head, len(revs))
	for i, rev := range revs {
		doc, err := parse(rev)
		if err != nil {
			return nil, err
		}
		heads[i] = Head{Revision: rev, Doc: doc}
	}
	return heads, nil
}

func parse(rev Revision) (*setup.Document, error) {
	doc, err := setup.ReadJSON([]byte(rev.Document))
	if err != nil {
		return nil, fmt.Errorf("revision %d of model %s cannot be read: %w", rev.Number, rev.ModelID, err)
	}
	return doc, nil
}

// Head gives a model as it is now. The error may be ErrNotFound.
func (s *Store) Head(ctx context.Context, id uuid.UUID) (*Head, error) {
	return readHead(s.db.WithContext(ctx), id)
}

func readHead(tx *gorm.DB, id uuid.UUID) (*Head, error) {
	var model Model
	if err := tx.First(&model, "id = ?", id).Error; err != nil {
		return nil, found(err)
	}
	return head(tx, id, model.Head)
}

func found(err error) error {
	if errors.Is(err, gorm.ErrRecordNotFound) {
		return ErrNotFound
	}
	return fmt.Errorf("the model cannot be read: %w", err)
}

func head(tx *gorm.DB, id uuid.UUID, number int) (*Head, error) {
	rev, err := revision(tx, id, number)
	if err != nil {
		return nil, err
	}
	doc, err := parse(*rev)
	if err != nil {
		return nil, err
	}
	h := &Head{Revision: *rev, Doc: doc}
	if h.UndoWords, err = wordsOf(tx, id, rev.UndoTop); err != nil {
		return nil, err
	}
	h.RedoWords, err = wordsOf(tx, id, rev.RedoTop)
	return h, err
}

func wordsOf(tx *gorm.DB, id uuid.UUID, number int) (string, error) {
	if number == 0 {
		return "", nil
	}
	rev, err := revision(tx.Select("words"), id, number)
	if err != nil {
		return "", err
	}
	return rev.Words, nil
}

func revision(tx *gorm.DB, id uuid.UUID, number int) (*Revision, error) {
	var rev Revision
	if err := tx.First(&rev, "model_id = ? and number = ?", id, number).Error; err != nil {
		return nil, found(err)
	}
	return &rev, nil
}

// Since lists the revisions after a number, oldest first, without documents.
func (s *Store) Since(ctx context.Context, id uuid.UUID, number int) ([]Revision, error) {
	return since(s.db.WithContext(ctx), id, number)
}

func since(tx *gorm.DB, id uuid.UUID, number int) ([]Revision, error) {
	var revs []Revision
	err := tx.Omit("document").Where("model_id = ? and number > ?", id, number).Order("number").Find(&revs).Error
	if err != nil {
		return nil, fmt.Errorf("the revisions cannot be read: %w", err)
	}
	return revs, nil
}

// Edit appends the revision that a JSON Patch makes of revision against. The
// error may be ErrNotFound, a *StaleError or setup.Problems; then nothing has
// changed.
func (s *Store) Edit(ctx context.Context, id uuid.UUID, against int, by Origin, patch []byte) (*Head, error) {
	return s.change(ctx, id, against, by, func(_ *gorm.DB, now *Head) (*next, error) {
		r, err := edit.Apply(now.Doc, patch)
		if err != nil {
			return nil, err
		}
		n := now.Number + 1
		return &next{Result: r, kind: KindEdit, words: r.Words, undoTop: n, undoBelow: now.UndoTop}, nil
	})
}

// Undo appends the revision that takes the newest edit back. The error may be
// ErrNotFound, ErrNothingToDo or a *StaleError.
func (s *Store) Undo(ctx context.Context, id uuid.UUID, against int, by Origin) (*Head, error) {
	return s.change(ctx, id, against, by, func(tx *gorm.DB, now *Head) (*next, error) {
		target, r, err := takeBack(tx, now, now.UndoTop)
		if err != nil {
			return nil, err
		}
		return &next{Result: r, kind: KindUndo, words: target.Words, undoTop: target.UndoBelow, undoBelow: 0,
			redoTop: now.Number + 1, redoBelow: now.RedoTop}, nil
	})
}

// Redo appends the revision that takes the newest undo back. Errors as Undo.
func (s *Store) Redo(ctx context.Context, id uuid.UUID, against int, by Origin) (*Head, error) {
	return s.change(ctx, id, against, by, func(tx *gorm.DB, now *Head) (*next, error) {
		target, r, err := takeBack(tx, now, now.RedoTop)
		if err != nil {
			return nil, err
		}
		return &next{Result: r, kind: KindRedo, words: target.Words, undoTop: now.Number + 1, undoBelow: now.UndoTop,
			redoTop: target.RedoBelow}, nil
	})
}

func takeBack(tx *gorm.DB, now *Head, number int) (*Revision, *edit.Result, error) {
	if number == 0 {
		return nil, nil, ErrNothingToDo
	}
	target, err := revision(tx, now.ModelID, number)
	if err != nil {
		return nil, nil, err
	}
	r, err := edit.Apply(now.Doc, []byte(target.Inverse))
	if err != nil {
		return nil, nil, fmt.Errorf("revision %d cannot be taken back: %w", number, err)
	}
	return target, r, nil
}

// next is the revision that is about to be appended.
type next struct {
	*edit.Result
	kind, words                            string
	undoTop, undoBelow, redoTop, redoBelow int
}

// change appends one revision in one transaction, the model's row locked.
func (s *Store) change(ctx context.Context, id uuid.UUID, against int, by Origin, make func(*gorm.DB, *Head) (*next, error)) (*Head, error) {
	var result *Head
	err := s.db.WithContext(ctx).Transaction(func(tx *gorm.DB) error {
		var model Model
		if err := tx.Clauses(clause.Locking{Strength: "UPDATE"}).First(&model, "id = ?", id).Error; err != nil {
			return found(err)
		}
		var err error
		if result, err = sentBefore(tx, id, by); err != nil || result != nil {
			return err
		}
		now, err := head(tx, id, model.Head)
		if err != nil {
			return err
		}
		if against != model.Head {
			meanwhile, err := since(tx, id, against)
			if err != nil {
				return err
			}
			return &StaleError{model.Head, meanwhile}
		}
		n, err := make(tx, now)
		if err != nil {
			return err
		}
		if err := appendRevision(tx, &model, by, n); err != nil {
			return err
		}
		result, err = head(tx, id, model.Head)
		return err
	})
	return result, err
}

// sentBefore finds the revision that the same origin made already.
func sentBefore(tx *gorm.DB, id uuid.UUID, by Origin) (*Head, error) {
	var rev Revision
	err := tx.Select("number").First(&rev, "model_id = ? and page = ? and edit = ?", id, by.Page, by.Edit).Error
	if errors.Is(err, gorm.ErrRecordNotFound) {
		return nil, nil
	}
	if err != nil {
		return nil, fmt.Errorf("the revisions cannot be read: %w", err)
	}
	return head(tx, id, rev.Number)
}

func appendRevision(tx *gorm.DB, model *Model, by Origin, n *next) error {
	patch, err := json.Marshal(n.Patch)
	if err != nil {
		return err
	}
	inverse, err := json.Marshal(n.Inverse)
	if err != nil {
		return err
	}
	model.Head++
	rev := Revision{ModelID: model.ID, Number: model.Head, MadeAt: time.Now().UTC(), Page: by.Page, Edit: by.Edit, Kind: n.kind,
		Patch: string(patch), Inverse: string(inverse), Words: n.words, Document: string(n.Doc.Tree.JSON()),
		UndoTop: n.undoTop, UndoBelow: n.undoBelow, RedoTop: n.redoTop, RedoBelow: n.redoBelow}
	if err := tx.Create(&rev).Error; err != nil {
		return fmt.Errorf("the edit was not kept: %w", err)
	}
	if err := tx.Model(&Model{}).Where("id = ?", model.ID).Update("head", model.Head).Error; err != nil {
		return fmt.Errorf("the edit was not kept: %w", err)
	}
	return nil
}

// LoadOnce stores documents as models, once per database and name.
func (s *Store) LoadOnce(ctx context.Context, name string, docs []*setup.Document) (loaded bool, err error) {
	err = s.db.WithContext(ctx).Transaction(func(tx *gorm.DB) error {
		done := tx.Exec("insert into deeds (name, done_at) values (?, now()) on conflict do nothing", name)
		if done.Error != nil || done.RowsAffected == 0 {
			return done.Error
		}
		loaded = true
		for i, doc := range docs {
			if _, err := create(tx, doc, Origin{Page: name, Edit: fmt.Sprint(i)}); err != nil {
				return err
			}
		}
		return nil
	})
	return loaded, err
}
