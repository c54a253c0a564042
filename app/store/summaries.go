package store

import (
	"context"
	"errors"
	"fmt"

	"github.com/google/uuid"
	"gorm.io/gorm"
	"gorm.io/gorm/clause"
)

// Summary is what the list of models, or the shelf, says of one, worked out of a revision by a program.
type Summary struct {
	ModelID uuid.UUID `gorm:"primaryKey"`
	Number  int
	Program string // which program worked it out: another one may say something else
	Model   string // JSON
	Still   string // JSON; empty where there is none
	Holds   string // JSON, what it has of the shelf; empty for a piece, and in the list of Models
	Place   string // where it is kept, the same for two that share a memory; empty where it is not known
}

// summedUp is how many models are read at once where their summaries are missing.
const summedUp = 100

// Listed is what a list is of.
type Listed struct {
	where string
	holds bool // with what each has of the shelf
}

// Lists are of models, with what they have of the shelf or without, or of the pieces of the shelf.
var (
	Models  = Listed{"shelf = ''", false}
	Holders = Listed{"shelf = ''", true}
	Pieces  = Listed{"shelf <> ''", false}
)

// Summaries gives the summary of every model or piece, without its picture, the oldest first. What
// this program has not worked out yet of the newest revision is worked out by work, and kept.
func (s *Store) Summaries(ctx context.Context, of Listed, program string,
	work func(*Head) (Summary, error)) ([]Summary, error) {
	db := s.db.WithContext(ctx)
	var all []Summary
	columns := "models.id as model_id, models.head as number, summaries.program, summaries.model, " +
		"summaries.place"
	if of.holds {
		columns += ", summaries.holds"
	}
	err := db.Table("models").Select(columns).
		Joins("left join summaries on summaries.model_id = models.id and summaries.number = models.head "+
			"and summaries.program = ?", program).
		Where("models.removed_at is null and models." + of.where).
		Order("models.created_at, models.id").Scan(&all).Error
	if err != nil {
		return nil, fmt.Errorf("the models cannot be read: %w", err)
	}
	var missing []*Summary
	for i := range all {
		if all[i].Program == "" {
			missing = append(missing, &all[i])
		}
	}
	for len(missing) > 0 {
		some := missing[:min(summedUp, len(missing))]
		missing = missing[len(some):]
		if err := sumUp(db, some, work); err != nil {
			return nil, err
		}
	}
	return all, nil
}

// Summary gives the summary of one model as Summaries does. The error may be ErrNotFound.
func (s *Store) Summary(ctx context.Context, id uuid.UUID, program string,
	work func(*Head) (Summary, error)) (*Summary, error) {
	db := s.db.WithContext(ctx)
	var model Model
	if err := db.First(&model, "id = ? and removed_at is null", id).Error; err != nil {
		return nil, asNotFound(err)
	}
	var one Summary
	err := db.First(&one, "model_id = ? and number = ? and program = ?", id, model.Head, program).Error
	switch {
	case err == nil:
		return &one, nil
	case !errors.Is(err, gorm.ErrRecordNotFound):
		return nil, fmt.Errorf("the model cannot be read: %w", err)
	}
	one = Summary{ModelID: id, Number: model.Head}
	if err := sumUp(db, []*Summary{&one}, work); err != nil {
		return nil, err
	}
	return &one, nil
}

// sumUp works some summaries out and keeps them; one that was made meanwhile of a newer
// revision stays.
func sumUp(db *gorm.DB, some []*Summary, work func(*Head) (Summary, error)) error {
	var ids []uuid.UUID
	for _, one := range some {
		ids = append(ids, one.ModelID)
	}
	var models []Model
	if err := db.Find(&models, "id in ?", ids).Error; err != nil {
		return fmt.Errorf("the models cannot be read: %w", err)
	}
	var newest [][]any
	heads := map[uuid.UUID]*Head{}
	for i := range models {
		heads[models[i].ID] = &Head{Text: models[i].Document, Shelf: models[i].Shelf}
		newest = append(newest, []any{models[i].ID, models[i].Head})
	}
	var revs []Revision
	if err := db.Omit("document").Find(&revs, "(model_id, number) in ?", newest).Error; err != nil {
		return fmt.Errorf("the models cannot be read: %w", err)
	}
	for _, rev := range revs {
		heads[rev.ModelID].Revision = rev
	}
	rows := []Summary{}
	for _, one := range some {
		head := heads[one.ModelID]
		if head == nil || head.Number == 0 {
			return fmt.Errorf("the newest revision of model %s is missing", one.ModelID)
		}
		head.Doc, head.Broken = parse(head.Number, head.Text)
		made, err := work(head)
		if err != nil {
			return err
		}
		made.ModelID, made.Number = one.ModelID, head.Number
		*one = made
		rows = append(rows, made)
	}
	err := db.Clauses(clause.OnConflict{Columns: []clause.Column{{Name: "model_id"}}, UpdateAll: true,
		Where: clause.Where{Exprs: []clause.Expression{
			clause.Expr{SQL: "summaries.number <= excluded.number"}}}}).Create(&rows).Error
	if err != nil {
		return fmt.Errorf("the list of models cannot be kept: %w", err)
	}
	return nil
}
