package store

import (
	"cmp"
	"context"
	"errors"
	"fmt"
	"math"
	"slices"
	"strings"
	"time"
	"unicode"
	"unicode/utf8"

	"github.com/google/uuid"
	"gorm.io/gorm"
	"gorm.io/gorm/clause"
)

// Event is something that happened to a model, besides its revisions.
type Event struct {
	ID       uuid.UUID `gorm:"primaryKey"` // who notes it chooses it: the same sent again is no second
	Number   int64     `gorm:"autoIncrement;->"`
	ModelID  uuid.UUID
	Revision int // the newest then
	MadeAt   time.Time
	Kind     string
	Part     string // devices/port; empty: none, or the transmitter
	Label    string // what that was called then
	What     string
	Was      string
	Becomes  string
	Says     string
	Minutes  int
	Battery  string
	WalkID   *uuid.UUID // the walk that was signed
}

// Kinds of event.
const (
	KindNote     = "note"
	KindExchange = "exchange"
	KindRun      = "run"
	KindFault    = "fault"
	KindValue    = "value" // of something with a program of its own
	KindWalk     = "walk"
	KindSheet    = "sheet"
)

// ErrNoEvent says that there is no such event, or that it is none that somebody noted.
var ErrNoEvent = errors.New("there is no such note")

// ErrManyEvents says that a model has as many events as are kept.
var ErrManyEvents = errors.New("too much has been noted of this model")

// MaxEvents bounds what is noted of a model.
const MaxEvents = 10_000

// Fits tells whether an event can be kept: its kind is known, and no text is longer than any is, or has signs
// that no keyboard gives. The error says what is wrong.
func (e *Event) Fits() error {
	if !slices.Contains(groups[""], e.Kind) {
		return fmt.Errorf("%q is nothing that happens", e.Kind)
	}
	if e.Minutes < 0 || e.Minutes > 100_000 {
		return fmt.Errorf("%d minutes are not 0 to 100000", e.Minutes)
	}
	for _, text := range []struct {
		says string
		most int
	}{{e.Part, 200}, {e.Label, 200}, {e.What, 300}, {e.Was, 100}, {e.Becomes, 100}, {e.Says, 2000},
		{e.Battery, 120}} {
		if !Plain(text.says, text.most) {
			return fmt.Errorf("%.40q is longer than %d letters, or has signs that no keyboard gives", text.says,
				text.most)
		}
	}
	return nil
}

// Plain tells whether a text has at most so many letters, and nothing that no keyboard gives.
func Plain(text string, most int) bool {
	return len(text) <= 4*most && utf8.ValidString(text) && len([]rune(text)) <= most &&
		!strings.ContainsFunc(text, func(r rune) bool { return unicode.IsControl(r) && r != '\n' && r != '\t' })
}

// Happened notes something; the same id again changes nothing. The error may be ErrNotFound or ErrManyEvents.
func (s *Store) Happened(ctx context.Context, e Event) (*Event, error) {
	err := s.db.WithContext(ctx).Transaction(func(tx *gorm.DB) error { return happened(tx, &e) })
	if err != nil {
		return nil, err
	}
	return &e, nil
}

// HasRoom tells that one thing more can be noted of a model. The error may be ErrManyEvents.
func (s *Store) HasRoom(ctx context.Context, model uuid.UUID) error {
	return hasRoom(s.db.WithContext(ctx), model)
}

func hasRoom(tx *gorm.DB, model uuid.UUID) error {
	var there int64
	if err := tx.Model(&Event{}).Where("model_id = ?", model).Count(&there).Error; err != nil {
		return fmt.Errorf("it was not noted: %w", err)
	}
	if there >= MaxEvents {
		return ErrManyEvents
	}
	return nil
}

func happened(tx *gorm.DB, e *Event) error {
	var model Model
	err := tx.Clauses(clause.Locking{Strength: "UPDATE"}).Select("id", "head").
		First(&model, "id = ? and removed_at is null", e.ModelID).Error
	if err != nil {
		return asNotFound(err)
	}
	if err := hasRoom(tx, e.ModelID); err != nil {
		return err
	}
	if e.ID == uuid.Nil {
		e.ID = uuid.New()
	}
	e.Revision, e.MadeAt = model.Head, time.Now().UTC()
	if err := tx.Clauses(clause.OnConflict{DoNothing: true}).Create(e).Error; err != nil {
		return fmt.Errorf("it was not noted: %w", err)
	}
	return tell(tx, keptChannel, e.ModelID)
}

// noted are the kinds that a person notes, and may take back.
var noted = []string{KindNote, KindExchange, KindRun, KindFault, KindValue}

// DropEvent takes something back that somebody noted. The error may be ErrNoEvent.
func (s *Store) DropEvent(ctx context.Context, model, id uuid.UUID) error {
	err := s.db.WithContext(ctx).Transaction(func(tx *gorm.DB) error {
		done := tx.Delete(&Event{}, "model_id = ? and id = ? and kind in ?", model, id, noted)
		switch {
		case done.Error != nil:
			return done.Error
		case done.RowsAffected == 0:
			return ErrNoEvent
		}
		return tell(tx, keptChannel, model)
	})
	if err != nil && !errors.Is(err, ErrNoEvent) {
		return fmt.Errorf("the note was not taken back: %w", err)
	}
	return err
}

// EventsOf lists the events of some kinds, the oldest first.
func (s *Store) EventsOf(ctx context.Context, model uuid.UUID, kinds ...string) ([]Event, error) {
	list := []Event{}
	err := s.db.WithContext(ctx).Order("number").Find(&list, "model_id = ? and kind in ?", model, kinds).Error
	if err != nil {
		return nil, fmt.Errorf("what happened cannot be read: %w", err)
	}
	return list, nil
}

// Place is a place in what happened to a model: of a revision, or of an event after it.
type Place struct {
	Revision int
	Event    int64 // 0: the revision itself
}

// last is after all that happened.
var last = Place{math.MaxInt32, math.MaxInt64}

// Happening is one thing that happened: a revision, or an event.
type Happening struct {
	Revision *Revision
	Event    *Event
}

// At is its place.
func (h *Happening) At() Place {
	if h.Event != nil {
		return Place{h.Event.Revision, h.Event.Number}
	}
	return Place{h.Revision.Number, 0}
}

// LogWish says which of what happened is asked for.
type LogWish struct {
	Group  string // changes, measured, tried, notes; empty: all
	Find   string // it has these letters, in either case
	Before Place  // zero: the newest
	Limit  int
}

// groups are the kinds of event in each group.
var groups = map[string][]string{"": {KindNote, KindExchange, KindRun, KindFault, KindValue, KindWalk,
	KindSheet},
	"tried": {KindWalk, KindSheet}, "notes": noted}

// measured tells the patches that note what was found on the stand.
const measured = `patch ~ '"path":"/stand("|/found)'`

// Log lists what happened to a model, the newest first; a revision stands before what happened at it.
func (s *Store) Log(ctx context.Context, model uuid.UUID, wish LogWish) ([]Happening, error) {
	if wish.Before == (Place{}) {
		wish.Before = last
	}
	before, db := wish.Before, s.db.WithContext(ctx)
	like := "%" + strings.NewReplacer(`\`, `\\`, "%", `\%`, "_", `\_`).Replace(wish.Find) + "%"
	var all []Happening
	if wish.Group == "" || wish.Group == "changes" || wish.Group == "measured" {
		upto := before.Revision
		if before.Event == 0 {
			upto-- // what happened at it stands after it
		}
		query := db.Omit("document", "patch", "inverse").Order("number desc").Limit(wish.Limit).
			Where("model_id = ? and number <= ?", model, upto)
		switch wish.Group {
		case "changes":
			query = query.Where("not " + measured)
		case "measured":
			query = query.Where(measured)
		}
		if wish.Find != "" {
			query = query.Where("words ilike ?", like)
		}
		var revs []Revision
		if err := query.Find(&revs).Error; err != nil {
			return nil, fmt.Errorf("the revisions cannot be read: %w", err)
		}
		for i := range revs {
			all = append(all, Happening{Revision: &revs[i]})
		}
	}
	if kinds := groups[wish.Group]; kinds != nil {
		query := db.Order("revision desc, number desc").Limit(wish.Limit).Where("model_id = ? and kind in ? and "+
			"(revision < ? or revision = ? and number < ?)", model, kinds, before.Revision, before.Revision,
			before.Event)
		if wish.Find != "" {
			query = query.Where("concat_ws(' ', label, what, was, becomes, says, battery) ilike ?", like)
		}
		var events []Event
		if err := query.Find(&events).Error; err != nil {
			return nil, fmt.Errorf("what happened cannot be read: %w", err)
		}
		for i := range events {
			all = append(all, Happening{Event: &events[i]})
		}
	}
	slices.SortStableFunc(all, func(a, b Happening) int { return after(b.At(), a.At()) })
	return all[:min(len(all), wish.Limit)], nil
}

// after compares places.
func after(a, b Place) int {
	return cmp.Or(cmp.Compare(a.Revision, b.Revision), cmp.Compare(a.Event, b.Event))
}

// Run is how long a model was run with a battery.
type Run struct {
	Battery string
	Minutes int
	Times   int
}

// Runs sums up how long a model was run, by battery, the most used first.
func (s *Store) Runs(ctx context.Context, model uuid.UUID) ([]Run, error) {
	list := []Run{}
	err := s.db.WithContext(ctx).Raw("select battery, sum(minutes) as minutes, count(*) as times from events "+
		"where model_id = ? and kind = ? group by battery order by minutes desc, battery", model, KindRun).
		Scan(&list).Error
	if err != nil {
		return nil, fmt.Errorf("what happened cannot be read: %w", err)
	}
	return list, nil
}

// RevisionAt gives the newest revision that was made by a moment; 0 where there was none yet.
func (s *Store) RevisionAt(ctx context.Context, model uuid.UUID, at time.Time) (number int, err error) {
	err = s.db.WithContext(ctx).Raw("select coalesce(max(number), 0) from revisions where model_id = ? and "+
		"made_at <= ?", model, at).Scan(&number).Error
	if err != nil {
		err = fmt.Errorf("the revisions cannot be read: %w", err)
	}
	return number, err
}

// Trial is how far a model is on the bench, as a program worked it out.
type Trial struct {
	ModelID  uuid.UUID `gorm:"primaryKey"`
	Number   int       // of the newest revision
	Happened int64     // the sum of the numbers of its events
	Program  string
	Stands   string // JSON
}

// Trials gives how far each model is that somebody has walked and signed. What this program has not worked
// out yet is worked out by work, and kept.
func (s *Store) Trials(ctx context.Context, program string,
	work func(model uuid.UUID) (stands string, err error)) (map[uuid.UUID]string, error) {
	db := s.db.WithContext(ctx)
	var rows []struct {
		Trial
		Head   int
		Newest int64
	}
	err := db.Raw("select models.id as model_id, models.head, trials.number, trials.happened, trials.program, " +
		"trials.stands, (select coalesce(sum(number), 0) from events where model_id = models.id) as newest " +
		"from models " +
		"left join trials on trials.model_id = models.id where removed_at is null and " +
		"exists (select 1 from walks where model_id = models.id and signed_at is not null)").Scan(&rows).Error
	if err != nil {
		return nil, fmt.Errorf("the walks cannot be read: %w", err)
	}
	said := map[uuid.UUID]string{}
	for _, row := range rows {
		if row.Program == program && row.Number == row.Head && row.Happened == row.Newest {
			said[row.ModelID] = row.Stands
			continue
		}
		made := Trial{ModelID: row.ModelID, Number: row.Head, Happened: row.Newest, Program: program}
		if made.Stands, err = work(row.ModelID); err != nil {
			return nil, err
		}
		said[row.ModelID] = made.Stands
		if err := db.Clauses(clause.OnConflict{Columns: []clause.Column{{Name: "model_id"}},
			UpdateAll: true}).Create(&made).Error; err != nil {
			return nil, fmt.Errorf("the walks cannot be kept: %w", err)
		}
	}
	return said, nil
}
