// Package store keeps models, the pieces of the shelf, and their revisions in PostgreSQL.
//
// A piece is kept as a document that has it alone: what is said of a model here is true of it too.
// A revision is never changed. An edit, an undo and a redo each append one;
// the newest is what the model is now.
package store

import (
	"context"
	"database/sql"
	"embed"
	"errors"
	"fmt"
	"io/fs"
	"log/slog"
	"sync/atomic"
	"time"

	"github.com/google/uuid"
	"github.com/jackc/pgx/v5/pgxpool"
	"github.com/jackc/pgx/v5/stdlib"
	"github.com/pressly/goose/v3"
	"github.com/pressly/goose/v3/lock"
	"gorm.io/driver/postgres"
	"gorm.io/gorm"
	"gorm.io/gorm/logger"
)

//go:embed migrations/*.sql
var migrations embed.FS

// Store is the database. Its methods may be called at once from anywhere.
type Store struct {
	db   *gorm.DB
	sql  *sql.DB
	pool *pgxpool.Pool

	closing atomic.Bool // what asks from now on gets no answer, and nothing is said of it

	turns [32]chan struct{} // each has room for one: an edit that is worked out
}

// Model is one row of models: a model, or a piece of the shelf.
type Model struct {
	ID        uuid.UUID `gorm:"primaryKey"`
	Shelf     string    // the kind of piece; empty: it is a model
	Head      int
	CreatedAt time.Time
	RemovedAt *time.Time
	Document  string // that of the newest revision, JSON
	UndoStack []int  `gorm:"serializer:json"` // revisions that an undo would take back, the newest last
	RedoStack []int  `gorm:"serializer:json"`
	Packed    int    // up to this revision it is known which have to keep their document; see Pack
}

// Kinds of revision.
const (
	KindImport = "import"
	KindEdit   = "edit"
	KindUndo   = "undo"
	KindRedo   = "redo"
)

// Revision is one row of revisions.
type Revision struct {
	ModelID  uuid.UUID `gorm:"primaryKey"`
	Number   int       `gorm:"primaryKey"`
	MadeAt   time.Time
	Page     string
	Edit     string
	Kind     string
	Patch    string
	Inverse  string
	Words    string
	Document *string // JSON; nil where the patches make it of an older one
}

// ErrNotFound says that there is no such model.
var ErrNotFound = errors.New("there is no such model")

// ErrNothingToDo says that there is nothing to undo, or to redo.
var ErrNothingToDo = errors.New("there is nothing to take back")

// StaleError says that an edit was made against an older revision.
type StaleError struct {
	Head  int
	Since []Revision // made meanwhile, oldest first
}

// Error says what changed meanwhile.
func (e *StaleError) Error() string {
	return fmt.Sprintf("the model was changed meanwhile; it is at revision %d", e.Head)
}

// TouchedError says that a later edit touched what an undo would put back.
type TouchedError struct {
	Words string     // of the edit that was to be taken back
	Later []Revision // oldest first
}

// Error says what would be lost.
func (e *TouchedError) Error() string {
	return fmt.Sprintf("a later edit touched the same place as %q", e.Words)
}

// Open connects to a database and brings its tables up to date.
func Open(ctx context.Context, url string) (*Store, error) {
	cfg, err := pgxpool.ParseConfig(url)
	if err != nil {
		return nil, fmt.Errorf("the database's URL cannot be read: %w", err)
	}
	cfg.MaxConns = 16
	pool, err := pgxpool.NewWithConfig(ctx, cfg)
	if err != nil {
		return nil, fmt.Errorf("no database: %w", err)
	}
	s := &Store{pool: pool, sql: stdlib.OpenDBFromPool(pool)}
	for i := range s.turns {
		s.turns[i] = make(chan struct{}, 1)
	}
	if err := s.open(ctx); err != nil {
		s.Close()
		return nil, err
	}
	return s, nil
}

func (s *Store) open(ctx context.Context) error {
	if err := s.migrate(ctx); err != nil {
		return err
	}
	var err error
	s.db, err = gorm.Open(postgres.New(postgres.Config{Conn: s.sql}), &gorm.Config{
		Logger: quiet{closing: &s.closing, Interface: logger.NewSlogLogger(slog.Default(),
			logger.Config{LogLevel: logger.Warn, IgnoreRecordNotFoundError: true, SlowThreshold: time.Second,
				ParameterizedQueries: true})},
		SkipDefaultTransaction: true,
		NowFunc:                func() time.Time { return time.Now().UTC() },
	})
	if err != nil {
		return fmt.Errorf("the database cannot be opened: %w", err)
	}
	return nil
}

func (s *Store) migrations() (*goose.Provider, error) {
	files, err := fs.Sub(migrations, "migrations")
	if err != nil {
		return nil, err
	}
	locker, err := lock.NewPostgresSessionLocker()
	if err != nil {
		return nil, err
	}
	return goose.NewProvider(goose.DialectPostgres, s.sql, files, goose.WithSessionLocker(locker))
}

func (s *Store) migrate(ctx context.Context) error {
	provider, err := s.migrations()
	if err != nil {
		return fmt.Errorf("the migrations cannot be read: %w", err)
	}
	if _, err := provider.Up(ctx); err != nil {
		return fmt.Errorf("the tables cannot be brought up to date: %w", err)
	}
	return nil
}

// Close lets go of the database.
func (s *Store) Close() {
	s.closing.Store(true)
	s.sql.Close()
	s.pool.Close()
}

// quiet says nothing of a query whose asker has gone, nor of one that came while the store closes.
type quiet struct {
	logger.Interface
	closing *atomic.Bool
}

// Trace logs a query that failed or was slow.
func (q quiet) Trace(ctx context.Context, begin time.Time, fc func() (sql string, rowsAffected int64),
	err error) {
	if !errors.Is(err, context.Canceled) && (err == nil || !q.closing.Load()) {
		q.Interface.Trace(ctx, begin, fc, err)
	}
}
