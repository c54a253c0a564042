package store

import (
	"context"
	"fmt"
	"time"

	"github.com/google/uuid"
	"gorm.io/gorm/clause"
)

// Ticked is a carried sheet that came home: which revision it was of, and what was
// ticked on it.
type Ticked struct {
	ID       uuid.UUID `gorm:"primaryKey"`
	ModelID  uuid.UUID
	Revision int
	Since    int
	MadeAt   time.Time
	Code     string
	Of       int
	Keyed    int
	ReadBack int
	Seen     int
	Open     []string `gorm:"serializer:json"`
}

// TableName is the table of Ticked.
func (Ticked) TableName() string { return "ticked" }

// Ticked lists the sheets of a model that came home, the newest first.
func (s *Store) Ticked(ctx context.Context, model uuid.UUID) ([]Ticked, error) {
	var list []Ticked
	if err := s.db.WithContext(ctx).Where("model_id = ?", model).Order("made_at desc, id").Limit(50).Find(&list).Error; err != nil {
		return nil, fmt.Errorf("what was ticked cannot be read: %w", err)
	}
	return list, nil
}

// KeepTicked keeps one; the same code again changes nothing but its time.
func (s *Store) KeepTicked(ctx context.Context, t Ticked) (*Ticked, error) {
	t.ID, t.MadeAt, t.Open = uuid.New(), time.Now(), append([]string{}, t.Open...)
	again := clause.OnConflict{Columns: []clause.Column{{Name: "model_id"}, {Name: "code"}}, DoUpdates: clause.AssignmentColumns([]string{"made_at"})}
	if err := s.db.WithContext(ctx).Clauses(again).Create(&t).Error; err != nil {
		return nil, fmt.Errorf("what was ticked cannot be kept: %w", err)
	}
	return &t, nil
}
