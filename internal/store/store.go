// Package store keeps the shop's work in PostgreSQL: one file a noun of the
// trade, one query one function. Every row belongs to a shop.
package store

import (
	"context"
	"database/sql/driver"
	"embed"
	"errors"
	"fmt"
	"io"
	"io/fs"
	"net"
	"strings"
	"syscall"
	"time"

	"github.com/google/uuid"
	"github.com/jackc/pgx/v5/pgconn"
	"github.com/jackc/pgx/v5/pgxpool"
	"github.com/jackc/pgx/v5/stdlib"
	"github.com/jmoiron/sqlx"
	"github.com/pressly/goose/v3"
	"github.com/pressly/goose/v3/lock"
)

// Errors that the caller decides on.
var (
	ErrNotFound = errors.New("not found")
	// ErrChanged says that the row has another version than the change
	// started from: somebody else was faster.
	ErrChanged = errors.New("changed meanwhile")
	// ErrTaken says that a name or number is in use already.
	ErrTaken = errors.New("already taken")
	// ErrReused says that what is to be added has the ID of something else.
	ErrReused = errors.New("already used for something else")
)

// Store is the shop's database.
type Store struct {
	pool *pgxpool.Pool
	db   *sqlx.DB
	// Shop is the shop whose rows are seen.
	Shop uuid.UUID
}

// DemoShop is the one shop that there is until there are several.
var DemoShop = uuid.MustParse("5ea11e00-0000-4000-8000-000000000001")

//go:embed migrations/*.sql
var migrations embed.FS

// What the database does not go on with: a question that takes so long, a
// lock that is not let go, a change that is not finished.
var limits = map[string]string{"statement_timeout": "30s", "lock_timeout": "5s", "idle_in_transaction_session_timeout": "30s"}

const connectIn = 5 * time.Second

// Open connects to a database and brings its tables up to date. Several
// processes may do so at once.
func Open(ctx context.Context, url string) (*Store, error) {
	config, err := pgxpool.ParseConfig(url)
	if err != nil {
		return nil, fmt.Errorf("reach the database: %w", err)
	}
	config.ConnConfig.ConnectTimeout = connectIn
	for name, limit := range limits {
		if config.ConnConfig.RuntimeParams[name] == "" {
			config.ConnConfig.RuntimeParams[name] = limit
		}
	}
	pool, err := pgxpool.NewWithConfig(ctx, config)
	if err != nil {
		return nil, fmt.Errorf("reach the database: %w", err)
	}
	s := &Store{pool: pool, db: sqlx.NewDb(stdlib.OpenDBFromPool(pool), "pgx"), Shop: DemoShop}
	if err := s.migrate(ctx); err != nil {
		s.Close()
		return nil, fmt.Errorf("bring the database up to date: %w", err)
	}
	if err := s.forget(ctx); err != nil {
		s.Close()
		return nil, err
	}
	return s, nil
}

// Close lets go of the database.
func (s *Store) Close() {
	_ = s.db.Close()
	s.pool.Close()
}

func (s *Store) migrate(ctx context.Context) error {
	files, err := fs.Sub(migrations, "migrations")
	if err != nil {
		return err
	}
	locker, err := lock.NewPostgresSessionLocker()
	if err != nil {
		return err
	}
	p, err := goose.NewProvider(
		goose.DialectPostgres,
		s.db.DB,
		files,
		goose.WithSessionLocker(locker),
		goose.WithGoMigrations(intoDocuments),
	)
	if err != nil {
		return err
	}
	_, err = p.Up(ctx)
	return err
}

// Away tells an error of a database that cannot be reached, or that went away
// in the middle: whether a change was kept is not known then.
func Away(err error) bool {
	var refused *pgconn.ConnectError
	var network *net.OpError
	var pgErr *pgconn.PgError
	switch {
	case err == nil:
		return false
	case errors.As(err, &pgErr): // shut down, crashed, starting, out of connections
		return strings.HasPrefix(pgErr.Code, "57P") || pgErr.Code == "53300"
	case errors.As(err, &refused), errors.As(err, &network):
		return true
	}
	return errors.Is(err, driver.ErrBadConn) || errors.Is(err, io.ErrUnexpectedEOF) || errors.Is(err, io.EOF) ||
		errors.Is(err, syscall.ECONNRESET) || errors.Is(err, syscall.EPIPE) || strings.Contains(err.Error(), "conn closed")
}

// inTx runs f in one transaction, so that all of it is kept or nothing,
// whatever happens to f.
func (s *Store) inTx(ctx context.Context, f func(tx *sqlx.Tx) error) error {
	tx, err := s.db.BeginTxx(ctx, nil)
	if err != nil {
		return err
	}
	defer func() { _ = tx.Rollback() }() // nothing, once it is committed
	if err := f(tx); err != nil {
		return err
	}
	return tx.Commit()
}

// one runs an update of one row that has to be there.
func (s *Store) one(ctx context.Context, query string, args ...any) error {
	res, err := s.db.ExecContext(ctx, query, args...)
	if err != nil {
		return err
	}
	if n, err := res.RowsAffected(); err != nil || n == 0 {
		return errors.Join(err, ErrNotFound)
	}
	return nil
}

// taken turns a broken unique rule into ErrTaken.
func taken(err error) error {
	var pgErr *pgconn.PgError
	if errors.As(err, &pgErr) && pgErr.Code == "23505" {
		return ErrTaken
	}
	return err
}

// reused turns an ID that is in use already into ErrReused.
func reused(err error) error {
	if errors.Is(taken(err), ErrTaken) {
		return ErrReused
	}
	return err
}

// addOnce inserts a row whose ID, the first of the values, was given by who
// wants it: sent twice, it is added once. Same finds the row under its ID by
// what it is known by, in the shop that is the second of the values.
func (s *Store) addOnce(ctx context.Context, insert, same string, knownBy any, values ...any) error {
	res, err := s.db.ExecContext(ctx, insert, values...)
	if err != nil {
		return taken(err)
	}
	if n, _ := res.RowsAffected(); n > 0 {
		return nil
	}
	res, err = s.db.ExecContext(ctx, same, values[0], values[1], knownBy)
	if err != nil {
		return err
	}
	if n, _ := res.RowsAffected(); n == 0 {
		return ErrReused
	}
	return nil
}
