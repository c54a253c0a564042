package store

import (
	"context"
	"fmt"
	"log/slog"
	"time"

	"github.com/google/uuid"
	"gorm.io/gorm"
)

// channel is what PostgreSQL carries the ids of changed models on, to every
// server on the database.
const channel = "axtren_models"

// tell announces a changed model when the transaction is done.
func tell(tx *gorm.DB, id uuid.UUID) error {
	if err := tx.Exec("select pg_notify(?, ?)", channel, id.String()).Error; err != nil {
		return fmt.Errorf("the edit was not announced: %w", err)
	}
	return nil
}

// Listen calls changed for every model that any server on the database changes,
// until ctx ends. After a lost connection, when changes may have been missed, it
// calls missed.
func (s *Store) Listen(ctx context.Context, changed func(uuid.UUID), missed func()) {
	for wait := time.Duration(0); ctx.Err() == nil; wait = min(2*wait+100*time.Millisecond, 2*time.Second) {
		select {
		case <-time.After(wait):
		case <-ctx.Done():
			return
		}
		err := s.listen(ctx, changed, func() {
			if wait > 0 {
				missed()
			}
			wait = 0
		})
		if ctx.Err() == nil {
			slog.Warn("the database tells nothing for now; trying again", "error", err)
		}
	}
}

func (s *Store) listen(ctx context.Context, changed func(uuid.UUID), there func()) error {
	lent, err := s.pool.Acquire(ctx)
	if err != nil {
		return err
	}
	conn := lent.Hijack() // it listens: nobody else may have it
	defer conn.Close(context.Background())
	if _, err := conn.Exec(ctx, "listen "+channel); err != nil {
		return err
	}
	there()
	for {
		note, err := conn.WaitForNotification(ctx)
		if err != nil {
			return err
		}
		if id, err := uuid.Parse(note.Payload); err == nil {
			changed(id)
		}
	}
}
