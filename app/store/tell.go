package store

import (
	"context"
	"fmt"
	"log/slog"
	"time"

	"github.com/google/uuid"
	"gorm.io/gorm"
)

// What PostgreSQL carries to every server on the database: the ids of changed models, of those of which
// something else is kept than was, and of phones that were sent away.
const (
	modelsChannel = "axtren_models"
	keptChannel   = "axtren_kept"
	phonesChannel = "axtren_phones"
)

// tell announces what became of a model or a phone when the transaction is done.
func tell(tx *gorm.DB, channel string, id uuid.UUID) error {
	if err := tx.Exec("select pg_notify(?, ?)", channel, id.String()).Error; err != nil {
		return fmt.Errorf("the change was not announced: %w", err)
	}
	return nil
}

// Heard is what is done about what any server on the database changes. Missed is called
// after a lost connection, when something may have been missed.
type Heard struct {
	Model    func(uuid.UUID) // it was changed, or removed
	Kept     func(uuid.UUID) // of a model: a walk, what was seen on it, or what happened
	SentAway func(uuid.UUID) // a phone
	Missed   func()
}

// Listen tells of what any server on the database changes, until ctx ends.
func (s *Store) Listen(ctx context.Context, heard Heard) {
	for wait := time.Duration(0); ctx.Err() == nil; wait = min(2*wait+100*time.Millisecond, 2*time.Second) {
		select {
		case <-time.After(wait):
		case <-ctx.Done():
			return
		}
		err := s.listen(ctx, heard, func() {
			if wait > 0 {
				heard.Missed()
			}
			wait = 0
		})
		if ctx.Err() == nil {
			slog.Warn("the database tells nothing for now; trying again", "error", err)
		}
	}
}

func (s *Store) listen(ctx context.Context, heard Heard, there func()) error {
	lent, err := s.pool.Acquire(ctx)
	if err != nil {
		return err
	}
	conn := lent.Hijack() // it listens: nobody else may have it
	defer conn.Close(context.Background())
	all := "listen " + modelsChannel + "; listen " + keptChannel + "; listen " + phonesChannel
	if _, err := conn.Exec(ctx, all); err != nil {
		return err
	}
	there()
	for {
		note, err := conn.WaitForNotification(ctx)
		if err != nil {
			return err
		}
		id, err := uuid.Parse(note.Payload)
		switch {
		case err != nil:
		case note.Channel == modelsChannel:
			heard.Model(id)
		case note.Channel == keptChannel:
			heard.Kept(id)
		case note.Channel == phonesChannel:
			heard.SentAway(id)
		}
	}
}
