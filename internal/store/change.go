package store

import (
	"context"
	"errors"

	"github.com/google/uuid"
	"github.com/jmoiron/sqlx"
)

// From is what a change starts from: the version that was read, and the key
// that the change is known by. A change with a key is made once, however
// often it is sent; without one it is made if the version still holds.
type From struct {
	Version int
	Key     uuid.UUID // nil for none
}

// changeOne runs an update that names a version; no row changed means that
// somebody was faster.
func (s *Store) changeOne(ctx context.Context, f From, query string, args ...any) error {
	return s.once(ctx, f, func(tx *sqlx.Tx) error {
		res, err := tx.ExecContext(ctx, query, args...)
		if err != nil {
			return taken(err)
		}
		if n, err := res.RowsAffected(); err != nil || n == 0 {
			return errors.Join(err, ErrChanged)
		}
		return nil
	})
}

// once makes a change in a transaction of its own, unless it was made before.
func (s *Store) once(ctx context.Context, f From, change func(tx *sqlx.Tx) error) error {
	return s.inTx(ctx, func(tx *sqlx.Tx) error {
		if f.Key != uuid.Nil { // whoever sends it meanwhile waits here
			res, err := tx.ExecContext(ctx, `INSERT INTO change (key, shop_id) VALUES ($1, $2) ON CONFLICT DO NOTHING`, f.Key, s.Shop)
			if err != nil {
				return err
			}
			if n, err := res.RowsAffected(); err != nil || n == 0 {
				return err
			}
		}
		return change(tx)
	})
}

// forget drops the keys of changes that nobody sends again.
func (s *Store) forget(ctx context.Context) error {
	_, err := s.db.ExecContext(ctx, `DELETE FROM change WHERE made < now() - interval '90 days'`)
	return err
}
