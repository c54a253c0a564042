package store

import (
	"context"
	"errors"
	"fmt"
	"log/slog"

	"github.com/google/uuid"
	"gorm.io/gorm"

	"axtren/core/edit"
	"axtren/core/setup"
)

// wholeEvery is how many revisions there are to one that keeps its whole document: the others
// are made of it, and of the patches since.
const wholeEvery = 50

// keptOf gives what is kept of the document of a revision: nothing where the patch makes it, to
// the byte, of the one before.
func keptOf(number int, before *setup.Node, patch []byte, document string) *string {
	if number%wholeEvery != 1 {
		if made, err := edit.Replay(before, patch); err == nil && string(made.JSON()) == document {
			return nil
		}
	}
	return &document
}

// document gives the document of a revision as JSON: that of the newest whole one up to it, and
// what the patches since made of it. The error may be ErrNotFound.
func document(tx *gorm.DB, id uuid.UUID, number int) (string, error) {
	var whole Revision
	err := tx.Select("number", "document").Order("number desc").
		First(&whole, "model_id = ? and number <= ? and document is not null", id, number).Error
	if err != nil {
		return "", asNotFound(err)
	}
	if whole.Number == number {
		return *whole.Document, nil
	}
	var since []Revision
	err = tx.Select("number", "patch").Order("number").
		Find(&since, "model_id = ? and number > ? and number <= ?", id, whole.Number, number).Error
	if err != nil {
		return "", fmt.Errorf("the revisions cannot be read: %w", err)
	}
	tree, problems := setup.ParseJSON([]byte(*whole.Document))
	if problems != nil {
		return "", fmt.Errorf("revision %d cannot be read: %w", whole.Number, problems)
	}
	for _, rev := range since {
		if tree, err = edit.Replay(tree, []byte(rev.Patch)); err != nil {
			return "", fmt.Errorf("revision %d: %w", rev.Number, err)
		}
	}
	return string(tree.JSON()), nil
}

// packedAtOnce is how many revisions of a model are made small in one go.
const packedAtOnce = 500

// Pack makes the histories small that an older program kept, with the whole document of each
// revision: those that the patches make, to the byte, are left out. It takes its time, can be
// ended at any moment, and goes on where it was.
func (s *Store) Pack(ctx context.Context) error {
	db := s.db.WithContext(ctx)
	left := []uuid.UUID{uuid.Nil} // as they are: what is kept of them cannot be read
	for {
		var model Model
		err := db.Select("id", "head", "packed").First(&model, "packed < head and id not in ?", left).Error
		if errors.Is(err, gorm.ErrRecordNotFound) {
			return nil
		}
		if err != nil {
			return fmt.Errorf("the models cannot be read: %w", err)
		}
		if err := pack(db, &model); ctx.Err() != nil {
			return ctx.Err()
		} else if err != nil {
			slog.Warn("a history stays as large as it is", "model", model.ID, "error", err)
			left = append(left, model.ID)
		}
	}
}

// pack makes some revisions of one model small.
func pack(db *gorm.DB, model *Model) error {
	var revs []Revision
	err := db.Select("number", "patch", "document").Order("number").Limit(packedAtOnce).
		Find(&revs, "model_id = ? and number > ?", model.ID, model.Packed).Error
	if err != nil {
		return fmt.Errorf("the revisions cannot be read: %w", err)
	}
	if len(revs) == 0 {
		return fmt.Errorf("the newest revisions of model %s are missing", model.ID)
	}
	var before *setup.Node
	if first := revs[0].Number; first > 1 {
		text, err := document(db, model.ID, first-1)
		if err != nil {
			return err
		}
		if before, err = parsed(text); err != nil {
			before = nil // nothing can be made of it: the next is kept whole
		}
	}
	var small []int
	for _, rev := range revs {
		switch {
		case rev.Document == nil: // made so already
			if before != nil {
				if before, err = edit.Replay(before, []byte(rev.Patch)); err != nil {
					return fmt.Errorf("revision %d: %w", rev.Number, err)
				}
			}
			continue
		case before != nil && keptOf(rev.Number, before, []byte(rev.Patch), *rev.Document) == nil:
			small = append(small, rev.Number)
		}
		if before, err = parsed(*rev.Document); err != nil {
			before = nil
		}
	}
	last := revs[len(revs)-1].Number
	err = db.Transaction(func(tx *gorm.DB) error {
		if len(small) > 0 {
			err := tx.Model(&Revision{}).Where("model_id = ? and number in ?", model.ID, small).
				Update("document", nil).Error
			if err != nil {
				return err
			}
		}
		return tx.Model(&Model{}).Where("id = ?", model.ID).Update("packed", last).Error
	})
	if err != nil {
		return fmt.Errorf("the history was not made smaller: %w", err)
	}
	if len(small) > 0 {
		slog.Info("a history was made smaller", "model", model.ID, "up to revision", last, "revisions", len(small))
	}
	return nil
}

// parsed reads a document that is kept as a tree.
func parsed(text string) (*setup.Node, error) {
	tree, problems := setup.ParseJSON([]byte(text))
	if problems != nil {
		return nil, problems
	}
	return tree, nil
}
