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
	if err := s.db.WithContext(ctx).Where("model_id = ?",
		model).Order("made_at desc, id").Limit(50).Find(&list).Error; err != nil {
		return nil, fmt.Errorf("what was ticked cannot be read: %w", err)
	}
	return list, nil
}

// KeepTicked keeps one, and notes that it happened: as what; the same code again changes nothing but its
// time.
// The error may be ErrManyEvents.
func (s *Store) KeepTicked(ctx context.Context, t Ticked, what string) (*Ticked, error) {
	t.ID, t.MadeAt, t.Open = uuid.New(), time.Now(), append([]string{}, t.Open...)
	again := clause.OnConflict{Columns: []clause.Column{{Name: "model_id"}, {Name: "code"}},
		DoUpdates: clause.AssignmentColumns([]string{"made_at"})}
	err := s.db.WithContext(ctx).Transaction(func(tx *gorm.DB) error {
		var before int64
		if err := tx.Model(&Ticked{}).Where("model_id = ? and code = ?", t.ModelID,
			t.Code).Count(&before).Error; err != nil {
			return err
		}
		if err := tx.Clauses(again).Create(&t).Error; err != nil || before > 0 {
			return err
		}
		return happened(tx, &Event{ModelID: t.ModelID, Kind: KindSheet, What: what})
	})
	if errors.Is(err, ErrManyEvents) {
		return nil, err
	}
	if err != nil {
		return nil, fmt.Errorf("what was ticked cannot be kept: %w", err)
	}
	return &t, nil
}

// Carried is a sheet that somebody carried: what there was to tick on it, so that its
// ticks find home however sheets are written by then.
type Carried struct {
	ModelID  uuid.UUID `gorm:"primaryKey"`
	Revision int       `gorm:"primaryKey"`
	Since    int       `gorm:"primaryKey"`
	Mark     int       `gorm:"primaryKey"` // what the sheet is known by in a code
	MadeAt   time.Time
	Things   string // JSON list, in order
}

// TableName is the table of Carried.
func (Carried) TableName() string { return "carried" }

// maxCarried bounds the carried sheets of a model; the oldest go.
const maxCarried = 100

// KeepCarried notes that a sheet was carried; the same one again changes its time alone.
func (s *Store) KeepCarried(ctx context.Context, c Carried) error {
	c.MadeAt = time.Now().UTC()
	again := clause.OnConflict{Columns: []clause.Column{{Name: "model_id"}, {Name: "revision"},
		{Name: "since"}, {Name: "mark"}}, DoUpdates: clause.AssignmentColumns([]string{"made_at"})}
	return s.db.WithContext(ctx).Transaction(func(tx *gorm.DB) error {
		if err := tx.Clauses(again).Create(&c).Error; err != nil {
			return fmt.Errorf("the carried sheet was not noted: %w", err)
		}
		old := "delete from carried where model_id = ? and made_at < (select min(made_at) from (select " +
			"made_at from carried where model_id = ? order by made_at desc limit ?) newest)"
		if err := tx.Exec(old, c.ModelID, c.ModelID, maxCarried).Error; err != nil {
			return fmt.Errorf("old carried sheets were not let go of: %w", err)
		}
		return nil
	})
}

// Carried gives what there was to tick on a carried sheet, as JSON; empty where it
// was not noted.
func (s *Store) Carried(ctx context.Context, model uuid.UUID, revision, since, mark int) (string, error) {
	var list []Carried
	err := s.db.WithContext(ctx).Where("model_id = ? and revision = ? and since = ? and mark = ?", model,
		revision, since, mark).Limit(1).Find(&list).Error
	if err != nil {
		return "", fmt.Errorf("the carried sheets cannot be read: %w", err)
	}
	if len(list) == 0 {
		return "", nil
	}
	return list[0].Things, nil
}
