package store

import (
	"context"
	"errors"
	"fmt"
	"slices"

	"github.com/google/uuid"

	"axtren/core/setup"
)

// EachPiece gives every piece of the shelf as it is kept, with its revision, the oldest first. An
// error of each ends it.
func (s *Store) EachPiece(ctx context.Context,
	each func(key uuid.UUID, number int, document string) error) error {
	db := s.db.WithContext(ctx)
	var all []uuid.UUID
	err := db.Model(&Model{}).Where("removed_at is null and "+Pieces.where).Order("created_at, id").
		Pluck("id", &all).Error
	if err != nil {
		return fmt.Errorf("the shelf cannot be read: %w", err)
	}
	for ids := range slices.Chunk(all, keptAtOnce) {
		var some []Model
		if err := db.Select("id", "head", "document").Find(&some, "id in ?", ids).Error; err != nil {
			return fmt.Errorf("the shelf cannot be read: %w", err)
		}
		by := map[uuid.UUID]Model{}
		for _, one := range some {
			by[one.ID] = one
		}
		for _, id := range ids {
			if err := each(id, by[id].Head, by[id].Document); err != nil {
				return err
			}
		}
	}
	return nil
}

// Pieces gives the pieces of some keys as they are now; those that were removed, or never were,
// are not in it. One that cannot be read has no Doc.
func (s *Store) Pieces(ctx context.Context, keys []uuid.UUID) (map[uuid.UUID]*Head, error) {
	db := s.db.WithContext(ctx)
	var some []Model
	err := db.Find(&some, "id in ? and removed_at is null and "+Pieces.where, keys).Error
	if err != nil {
		return nil, fmt.Errorf("the shelf cannot be read: %w", err)
	}
	heads := map[uuid.UUID]*Head{}
	for i := range some {
		rev, err := revision(db, some[i].ID, some[i].Head)
		if err != nil {
			return nil, err
		}
		head := &Head{Revision: *rev, Text: some[i].Document}
		head.Doc, head.Broken = parse(head.Number, head.Text)
		heads[some[i].ID] = head
	}
	return heads, nil
}

// PieceAt gives a piece as it was at a revision; nil where that is not known.
func (s *Store) PieceAt(ctx context.Context, key uuid.UUID, number int) (*setup.Document, error) {
	head, err := s.At(ctx, key, number)
	if errors.Is(err, ErrNotFound) {
		return nil, nil
	}
	var broken *BrokenError
	if errors.As(err, &broken) {
		return nil, nil
	}
	if err != nil {
		return nil, err
	}
	return head.Doc, nil
}

// Removed tells which of some pieces were taken off the shelf and can be put back.
func (s *Store) Removed(ctx context.Context, keys []uuid.UUID) (map[uuid.UUID]bool, error) {
	var gone []uuid.UUID
	err := s.db.WithContext(ctx).Model(&Model{}).
		Where("id in ? and removed_at is not null and "+Pieces.where, keys).Pluck("id", &gone).Error
	if err != nil {
		return nil, fmt.Errorf("the shelf cannot be read: %w", err)
	}
	by := map[uuid.UUID]bool{}
	for _, id := range gone {
		by[id] = true
	}
	return by, nil
}
