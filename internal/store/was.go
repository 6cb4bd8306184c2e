package store

import (
	"context"
	"database/sql"
	"encoding/json"
	"errors"
	"time"

	"github.com/google/uuid"
	"github.com/jmoiron/sqlx"
)

// keepWas keeps what a row was before it is corrected; err is that of reading it.
func keepWas(ctx context.Context, tx *sqlx.Tx, err error, table string, id uuid.UUID, version int, was any) error {
	if errors.Is(err, sql.ErrNoRows) {
		return ErrChanged
	}
	if err != nil {
		return err
	}
	doc, err := json.Marshal(was)
	if err != nil {
		return err
	}
	_, err = tx.ExecContext(ctx, `INSERT INTO `+table+`_was (`+table+`_id, version, was) VALUES ($1, $2, $3)`, id, version, doc)
	return err
}

// Was is what an entry said until it was corrected.
type Was[T any] struct {
	Until time.Time
	Was   T
}

// MouldWas lists what was entered of a mould before, the latest first.
func (s *Store) MouldWas(ctx context.Context, id uuid.UUID) ([]Was[MouldFacts], error) {
	return wasOf[MouldFacts](ctx, s, `SELECT until, was FROM mould_was JOIN mould ON mould.id = mould_id
		WHERE mould_id = $1 AND shop_id = $2 ORDER BY mould_was.version DESC`, id)
}

// PullWas lists what was logged of a pull before, the latest first.
func (s *Store) PullWas(ctx context.Context, id uuid.UUID) ([]Was[Pull], error) {
	return wasOf[Pull](ctx, s, `SELECT until, was FROM pull_was JOIN pull ON pull.id = pull_id JOIN mould ON mould.id = mould_id
		WHERE pull_id = $1 AND shop_id = $2 ORDER BY pull_was.version DESC`, id)
}

func wasOf[T any](ctx context.Context, s *Store, query string, id uuid.UUID) ([]Was[T], error) {
	var rows []struct {
		Until time.Time
		Was   []byte
	}
	if err := s.db.SelectContext(ctx, &rows, query, id, s.Shop); err != nil {
		return nil, err
	}
	out := make([]Was[T], len(rows))
	for i, r := range rows {
		out[i].Until = r.Until
		if err := json.Unmarshal(r.Was, &out[i].Was); err != nil {
			return nil, err
		}
	}
	return out, nil
}
