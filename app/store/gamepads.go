package store

import (
	"context"
	"errors"
	"fmt"

	"gorm.io/gorm"
	"gorm.io/gorm/clause"
)

// gamepad is one row of gamepads.
type gamepad struct {
	Transmitter string `gorm:"primaryKey"`
	Mapping     string
}

// Gamepad gives the mapping that is kept for a transmitter, as JSON; {} for none.
func (s *Store) Gamepad(ctx context.Context, transmitter string) (string, error) {
	var g gamepad
	err := s.db.WithContext(ctx).First(&g, "transmitter = ?", transmitter).Error
	if errors.Is(err, gorm.ErrRecordNotFound) {
		return "{}", nil
	}
	if err != nil {
		return "", fmt.Errorf("the gamepad cannot be read: %w", err)
	}
	return g.Mapping, nil
}

// KeepGamepad keeps a mapping, JSON, for a transmitter.
func (s *Store) KeepGamepad(ctx context.Context, transmitter, mapping string) error {
	replace := clause.OnConflict{Columns: []clause.Column{{Name: "transmitter"}},
		DoUpdates: clause.AssignmentColumns([]string{"mapping"})}
	if err := s.db.WithContext(ctx).Clauses(replace).Create(&gamepad{transmitter,
		mapping}).Error; err != nil {
		return fmt.Errorf("the gamepad was not saved: %w", err)
	}
	return nil
}
