package store

import (
	"context"
	"errors"
	"fmt"
	"time"

	"github.com/google/uuid"
	"gorm.io/gorm"
)

// Phone is a browser that was let in over the person's own network.
type Phone struct {
	ID        uuid.UUID `gorm:"primaryKey"`
	Name      string
	TokenHash []byte // SHA-256 of what its cookie holds
	MadeAt    time.Time
	SeenAt    time.Time
}

// ErrNoPhone says that there is no such phone, or no more.
var ErrNoPhone = errors.New("there is no such phone")

// Phones lists them, the newest first.
func (s *Store) Phones(ctx context.Context) ([]Phone, error) {
	var list []Phone
	if err := s.db.WithContext(ctx).Order("made_at desc, id").Find(&list).Error; err != nil {
		return nil, fmt.Errorf("the phones cannot be read: %w", err)
	}
	return list, nil
}

// AddPhone lets one in.
func (s *Store) AddPhone(ctx context.Context, p Phone) error {
	if err := s.db.WithContext(ctx).Create(&p).Error; err != nil {
		return fmt.Errorf("the phone cannot be kept: %w", err)
	}
	return nil
}

// PhoneOf finds the phone of a token's hash, and notes that it was seen, to the
// minute. The error may be ErrNoPhone.
func (s *Store) PhoneOf(ctx context.Context, tokenHash []byte, now time.Time) (*Phone, error) {
	var p Phone
	err := s.db.WithContext(ctx).First(&p, "token_hash = ?", tokenHash).Error
	switch {
	case errors.Is(err, gorm.ErrRecordNotFound):
		return nil, ErrNoPhone
	case err != nil:
		return nil, fmt.Errorf("the phone cannot be looked up: %w", err)
	}
	if now.Sub(p.SeenAt) > time.Minute {
		if err := s.db.WithContext(ctx).Model(&p).Update("seen_at", now).Error; err != nil {
			return nil, fmt.Errorf("the phone cannot be noted: %w", err)
		}
	}
	return &p, nil
}

// DropPhone takes one back, and tells every server on the database. The error may be ErrNoPhone.
func (s *Store) DropPhone(ctx context.Context, id uuid.UUID) error {
	return s.db.WithContext(ctx).Transaction(func(tx *gorm.DB) error {
		done := tx.Delete(&Phone{}, "id = ?", id)
		if done.Error != nil {
			return fmt.Errorf("the phone cannot be taken back: %w", done.Error)
		}
		if done.RowsAffected == 0 {
			return ErrNoPhone
		}
		return tell(tx, phonesChannel, id)
	})
}
