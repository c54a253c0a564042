package store

import (
	"context"
	"errors"
	"fmt"
	"time"

	"github.com/google/uuid"
	"gorm.io/gorm"
	"gorm.io/gorm/clause"
)

// Recording is what hands did to a model, kept by name: a script.
type Recording struct {
	ID      uuid.UUID `gorm:"primaryKey"`
	ModelID uuid.UUID
	Name    string
	MadeAt  time.Time
	Exact   bool // played from power-on it gives what was seen
	Script  string
}

// ErrNoRecording says that there is no such recording.
var ErrNoRecording = errors.New("there is no such recording")

// Recordings lists what is kept with a model, the oldest first, without scripts.
func (s *Store) Recordings(ctx context.Context, model uuid.UUID) ([]Recording, error) {
	var list []Recording
	err := s.db.WithContext(ctx).Omit("script").Where("model_id = ?",
		model).Order("made_at, id").Find(&list).Error
	if err != nil {
		return nil, fmt.Errorf("the recordings cannot be read: %w", err)
	}
	return list, nil
}

// Recording gives one with its script. The error may be ErrNoRecording.
func (s *Store) Recording(ctx context.Context, model, id uuid.UUID) (*Recording, error) {
	var r Recording
	err := s.db.WithContext(ctx).First(&r, "model_id = ? and id = ?", model, id).Error
	if errors.Is(err, gorm.ErrRecordNotFound) {
		return nil, ErrNoRecording
	}
	if err != nil {
		return nil, fmt.Errorf("the recording cannot be read: %w", err)
	}
	return &r, nil
}

// KeepRecording keeps a recording; one of the same name and model is replaced.
func (s *Store) KeepRecording(ctx context.Context, model uuid.UUID, r Recording) (*Recording, error) {
	return keepRecording(s.db.WithContext(ctx), model, r)
}

func keepRecording(tx *gorm.DB, model uuid.UUID, r Recording) (*Recording, error) {
	r.ID, r.ModelID, r.MadeAt = uuid.New(), model, time.Now().UTC()
	replace := clause.OnConflict{Columns: []clause.Column{{Name: "model_id"}, {Name: "name"}},
		DoUpdates: clause.AssignmentColumns([]string{"id", "made_at", "exact", "script"})}
	if err := tx.Clauses(replace).Create(&r).Error; err != nil {
		return nil, fmt.Errorf("the recording was not saved: %w", err)
	}
	return &r, nil
}

// DropRecording throws one away. The error may be ErrNoRecording.
func (s *Store) DropRecording(ctx context.Context, model, id uuid.UUID) error {
	done := s.db.WithContext(ctx).Delete(&Recording{}, "model_id = ? and id = ?", model, id)
	if done.Error != nil {
		return fmt.Errorf("the recording was not thrown away: %w", done.Error)
	}
	if done.RowsAffected == 0 {
		return ErrNoRecording
	}
	return nil
}
