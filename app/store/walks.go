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

// Walk is a walk on the bench: steps that were worked out for a revision, and what was seen.
type Walk struct {
	ID       uuid.UUID `gorm:"primaryKey"`
	Number   int64     `gorm:"autoIncrement;->"` // their order, whatever a clock does
	ModelID  uuid.UUID
	Revision int
	Whole    bool
	MadeAt   time.Time
	Steps    string // JSON
	Counts   []int  `gorm:"serializer:json"` // of each step, how many parts there are to look at
	Script   string
	SignedAt *time.Time
	Who      string
	Battery  string
	Note     string
	Hash     string
	Devices  []string `gorm:"serializer:json"` // it is of these alone; none: of all
	Began    int64    // the number of the newest event when it was begun

	Ticks []Tick `gorm:"-"` // in the order of the steps
}

// Tick is what was seen at a part of a step.
type Tick struct {
	WalkID uuid.UUID `gorm:"primaryKey"`
	Step   int       `gorm:"primaryKey"`
	Part   string    `gorm:"primaryKey"`
	Seen   string
	Does   string // a word of a diagnosis; empty: not said
	Reads  string // what the display read; empty: not said
	Note   string
	Photo  bool `gorm:"->"` // there is a photograph of it
	At     time.Time
}

// TableName is the table of Tick.
func (Tick) TableName() string { return "walk_ticks" }

// Signature is who signs a walk.
type Signature struct{ Who, Battery, Note, Hash string }

// ErrNoWalk says that there is no such walk, and ErrSigned that it was signed, so that nothing changes it.
var (
	ErrNoWalk = errors.New("there is no such walk")
	ErrSigned = errors.New("this walk was signed")
)

// maxOpenWalks bounds the walks of a model that nobody has signed; the oldest go.
const maxOpenWalks = 5

// StartWalk keeps a new walk.
func (s *Store) StartWalk(ctx context.Context, w Walk) (*Walk, error) {
	w.ID, w.MadeAt, w.Ticks = uuid.New(), time.Now().UTC(), []Tick{}
	w.Devices = append([]string{}, w.Devices...)
	err := s.db.WithContext(ctx).Transaction(func(tx *gorm.DB) error {
		err := tx.Raw("select coalesce(max(number), 0) from events where model_id = ?", w.ModelID).
			Scan(&w.Began).Error
		if err != nil {
			return err
		}
		if err := tx.Create(&w).Error; err != nil {
			return err
		}
		err = tx.Exec("delete from walks where model_id = ? and signed_at is null and number <= (select number "+
			"from walks where model_id = ? and signed_at is null order by number desc offset ? limit 1)", w.ModelID,
			w.ModelID, maxOpenWalks).Error
		if err != nil {
			return err
		}
		return tell(tx, keptChannel, w.ModelID)
	})
	if err != nil {
		return nil, fmt.Errorf("the walk was not kept: %w", err)
	}
	return &w, nil
}

// Walks lists the walks of a model, the newest first, with their ticks, without steps and scripts.
func (s *Store) Walks(ctx context.Context, model uuid.UUID) ([]Walk, error) {
	var list []Walk
	db := s.db.WithContext(ctx)
	err := db.Omit("steps", "script").Where("model_id = ?",
		model).Order("number desc").Limit(50).Find(&list).Error
	var ticks []Tick
	if err == nil {
		err = ticked(db).Where("walk_id in (select id from walks where model_id = ?)", model).Find(&ticks).Error
	}
	if err != nil {
		return nil, fmt.Errorf("the walks cannot be read: %w", err)
	}
	for i := range list {
		list[i].Ticks = []Tick{}
		for _, tick := range ticks {
			if tick.WalkID == list[i].ID {
				list[i].Ticks = append(list[i].Ticks, tick)
			}
		}
	}
	return list, nil
}

// ticked asks for ticks, in the order of the steps.
func ticked(db *gorm.DB) *gorm.DB {
	return db.Select("*", "exists (select 1 from walk_photos p where p.walk_id = walk_ticks.walk_id and "+
		"p.step = walk_ticks.step and p.part = walk_ticks.part) as photo").Order("step, part")
}

// Signed lists the walks that were signed, the newest first, with ticks, steps and scripts, back to the
// newest
// that was of all devices.
func (s *Store) Signed(ctx context.Context, model uuid.UUID) ([]Walk, error) {
	var list []Walk
	err := s.db.WithContext(ctx).Where("model_id = ? and signed_at is not null and number >= coalesce((select "+
		"max(number) from walks where model_id = ? and signed_at is not null and devices = '[]'), 0)", model,
		model).
		Order("number desc").Limit(maxSigned).Find(&list).Error
	for i := range list {
		if err == nil {
			list[i].Ticks = []Tick{}
			err = ticked(s.db.WithContext(ctx)).Where("walk_id = ?", list[i].ID).Find(&list[i].Ticks).Error
		}
	}
	if err != nil {
		return nil, fmt.Errorf("the walks cannot be read: %w", err)
	}
	return list, nil
}

// maxSignedWalks bounds the walks of a model that were signed.
const maxSignedWalks = 1000

// maxSigned bounds the walks of some devices that count after one of all.
const maxSigned = 20

// Walk gives one with its ticks and its script. The error may be ErrNoWalk.
func (s *Store) Walk(ctx context.Context, model, id uuid.UUID) (*Walk, error) {
	w, tx := Walk{Ticks: []Tick{}}, s.db.WithContext(ctx)
	err := tx.First(&w, "model_id = ? and id = ?", model, id).Error
	if errors.Is(err, gorm.ErrRecordNotFound) {
		return nil, ErrNoWalk
	}
	if err == nil {
		err = ticked(tx).Where("walk_id = ?", id).Find(&w.Ticks).Error
	}
	if err != nil {
		return nil, fmt.Errorf("the walk cannot be read: %w", err)
	}
	return &w, nil
}

// changing runs what changes a walk that nobody has signed, while nobody else does.
func (s *Store) changing(ctx context.Context, model, id uuid.UUID, change func(tx *gorm.DB) error) error {
	err := s.db.WithContext(ctx).Transaction(func(tx *gorm.DB) error {
		var own Walk
		err := tx.Clauses(clause.Locking{Strength: "UPDATE"}).Omit("steps", "script").
			First(&own, "model_id = ? and id = ?", model, id).Error
		switch {
		case errors.Is(err, gorm.ErrRecordNotFound):
			return ErrNoWalk
		case err != nil:
			return err
		case own.SignedAt != nil:
			return ErrSigned
		}
		if err := change(tx); err != nil {
			return err
		}
		return tell(tx, keptChannel, model)
	})
	if err != nil && !errors.Is(err, ErrNoWalk) && !errors.Is(err, ErrSigned) && !errors.Is(err,
		ErrManyPhotos) &&
		!errors.Is(err, ErrManyEvents) {
		return fmt.Errorf("what was seen was not kept: %w", err)
	}
	return err
}

// KeepTicks keeps what was seen at some parts of a walk; an empty Seen takes it back. The error may be
// ErrNoWalk or ErrSigned.
func (s *Store) KeepTicks(ctx context.Context, model, id uuid.UUID, ticks []Tick) (*Walk, error) {
	err := s.changing(ctx, model, id, func(tx *gorm.DB) error {
		for _, tick := range ticks {
			tick.WalkID, tick.At = id, time.Now().UTC()
			if tick.Seen == "" {
				if err := tx.Delete(&Tick{}, "walk_id = ? and step = ? and part = ?", id, tick.Step,
					tick.Part).Error; err != nil {
					return err
				}
				continue
			}
			again := clause.OnConflict{Columns: []clause.Column{{Name: "walk_id"}, {Name: "step"}, {Name: "part"}},
				DoUpdates: clause.AssignmentColumns([]string{"seen", "does", "reads", "note", "at"})}
			if err := tx.Clauses(again).Create(&tick).Error; err != nil {
				return err
			}
		}
		return nil
	})
	if err != nil {
		return nil, err
	}
	return s.Walk(ctx, model, id)
}

// SignWalk signs a walk, and notes that it happened: as what. The error may be ErrNoWalk, ErrSigned or
// ErrManyEvents.
func (s *Store) SignWalk(ctx context.Context, model, id uuid.UUID, by Signature, what string) (*Walk, error) {
	err := s.changing(ctx, model, id, func(tx *gorm.DB) error {
		var there int64
		err := tx.Model(&Walk{}).Where("model_id = ? and signed_at is not null", model).Count(&there).Error
		if err != nil {
			return err
		}
		if there >= maxSignedWalks {
			return ErrManyEvents
		}
		err = tx.Model(&Walk{}).Where("id = ?", id).Updates(map[string]any{"signed_at": time.Now().UTC(),
			"who": by.Who, "battery": by.Battery, "note": by.Note, "hash": by.Hash}).Error
		if err != nil {
			return err
		}
		return happened(tx, &Event{ModelID: model, Kind: KindWalk, What: what, Says: by.Note, Battery: by.Battery,
			WalkID: &id})
	})
	if err != nil {
		return nil, err
	}
	return s.Walk(ctx, model, id)
}

// DropWalk throws a walk away that nobody has signed. The error may be ErrNoWalk or ErrSigned.
func (s *Store) DropWalk(ctx context.Context, model, id uuid.UUID) error {
	return s.changing(ctx, model, id, func(tx *gorm.DB) error {
		return tx.Delete(&Walk{}, "id = ?", id).Error
	})
}

// Photo is a photograph of a part at a step of a walk.
type Photo struct {
	WalkID  uuid.UUID `gorm:"primaryKey"`
	Step    int       `gorm:"primaryKey"`
	Part    string    `gorm:"primaryKey"`
	Kind    string    // its media type
	Picture []byte
}

// TableName is the table of Photo.
func (Photo) TableName() string { return "walk_photos" }

// ErrManyPhotos says that a walk, or its model, has as many photographs as are kept.
var ErrManyPhotos = errors.New("there are as many photographs as are kept")

// maxPhotos bounds the photographs of a walk, and maxOfModel those of a model.
const (
	maxPhotos  = 40
	maxOfModel = 400
)

// KeepPhoto keeps the photograph of a part at a step, in place of the one before. The error may be ErrNoWalk,
// ErrSigned or ErrManyPhotos.
func (s *Store) KeepPhoto(ctx context.Context, model uuid.UUID, photo Photo) error {
	return s.changing(ctx, model, photo.WalkID, func(tx *gorm.DB) error {
		again := clause.OnConflict{Columns: []clause.Column{{Name: "walk_id"}, {Name: "step"}, {Name: "part"}},
			DoUpdates: clause.AssignmentColumns([]string{"kind", "picture"})}
		if err := tx.Clauses(again).Create(&photo).Error; err != nil {
			return err
		}
		var n, all int64
		if err := tx.Model(&Photo{}).Where("walk_id = ?", photo.WalkID).Count(&n).Error; err != nil {
			return err
		}
		if err := tx.Model(&Photo{}).Where("walk_id in (select id from walks where model_id = ?)", model).
			Count(&all).Error; err != nil {
			return err
		}
		if n > maxPhotos || all > maxOfModel {
			return ErrManyPhotos
		}
		return nil
	})
}

// Photo gives the photograph of a part at a step. The error may be ErrNoWalk: there is none.
func (s *Store) Photo(ctx context.Context, model, walk uuid.UUID, step int, part string) (*Photo, error) {
	var list []Photo
	err := s.db.WithContext(ctx).Where("walk_id = (select id from walks where id = ? and model_id = ?) and "+
		"step = ? and part = ?", walk, model, step, part).Limit(1).Find(&list).Error
	if err != nil {
		return nil, fmt.Errorf("the photograph cannot be read: %w", err)
	}
	if len(list) == 0 {
		return nil, ErrNoWalk
	}
	return &list[0], nil
}
