package store

import (
	"context"
	"database/sql"
	"errors"
	"time"

	"github.com/google/uuid"
	"github.com/jmoiron/sqlx"
)

// Mould is a physical mould on the rack.
type Mould struct {
	ID                 uuid.UUID
	JobID              uuid.UUID `db:"job_id"`
	JobName            string    `db:"job_name"`
	Number             string
	Rubber             string
	Poured             time.Time
	Cavities           int
	Retired            *time.Time
	WornOut            bool   `db:"worn_out"`
	Kind               string // of mould, as it was designed; empty where nobody has said
	Pulls, Good, Scrap int
	Version            int
	SessionID          *uuid.UUID `db:"session_id"` // in which it was poured at the bench; nil where it was entered by hand
}

const selectMoulds = `
	SELECT mould.id, job_id, job.name AS job_name, number, rubber, poured, cavities, retired, worn_out, mould.kind AS kind,
	       pulls, good, scrap, mould.version AS version, mould.session_id AS session_id
	FROM mould JOIN job ON job.id = job_id
	WHERE mould.shop_id = $1`

// Moulds lists the rack: those in use first, then by number. The log of
// moulds whose job was deleted still counts for the forecast of their kind.
func (s *Store) Moulds(ctx context.Context) ([]Mould, error) {
	var out []Mould
	err := s.db.SelectContext(ctx, &out, selectMoulds+` ORDER BY retired IS NOT NULL, number`, s.Shop)
	return out, err
}

// MouldsOf lists the moulds of one job in the same order.
func (s *Store) MouldsOf(ctx context.Context, job uuid.UUID) ([]Mould, error) {
	var out []Mould
	err := s.db.SelectContext(ctx, &out, selectMoulds+` AND job_id = $2 ORDER BY retired IS NOT NULL, number`, s.Shop, job)
	return out, err
}

// Mould is one of the rack.
func (s *Store) Mould(ctx context.Context, id uuid.UUID) (Mould, error) {
	var out Mould
	err := s.db.GetContext(ctx, &out, selectMoulds+` AND mould.id = $2`, s.Shop, id)
	if errors.Is(err, sql.ErrNoRows) {
		err = ErrNotFound
	}
	return out, err
}

// MouldOf is the mould that a pull was made from.
func (s *Store) MouldOf(ctx context.Context, pull uuid.UUID) (Mould, error) {
	var out Mould
	err := s.db.GetContext(ctx, &out, selectMoulds+` AND mould.id = (SELECT mould_id FROM pull WHERE id = $2)`, s.Shop, pull)
	if errors.Is(err, sql.ErrNoRows) {
		err = ErrNotFound
	}
	return out, err
}

// AddMould puts a mould on the rack with the design it was poured from. One
// that is there already under its ID stays as it is.
func (s *Store) AddMould(ctx context.Context, m Mould) error {
	return s.addOnce(ctx, `INSERT INTO mould (id, shop_id, job_id, number, rubber, poured, cavities, kind, design)
		SELECT $1, $2, job.id, $4, $5, $6, $7, $8, job.design FROM job WHERE job.id = $3 AND job.shop_id = $2
		ON CONFLICT (id) DO NOTHING`,
		`SELECT FROM mould WHERE id = $1 AND shop_id = $2 AND number = $3`, m.Number,
		m.ID, s.Shop, m.JobID, m.Number, m.Rubber, m.Poured, m.Cavities, m.Kind)
}

// RetireMould takes a mould out of use, or back into it when retired is nil.
func (s *Store) RetireMould(ctx context.Context, id uuid.UUID, retired *time.Time, wornOut bool) error {
	return s.one(ctx, `UPDATE mould SET retired = $3, worn_out = $4 WHERE id = $1 AND shop_id = $2`,
		id, s.Shop, retired, wornOut && retired != nil)
}

// MouldFacts are what may have been entered wrongly of a mould.
type MouldFacts struct {
	Number   string
	Rubber   string
	Poured   time.Time
	Cavities int
}

// CorrectMould puts right what was entered of a mould, if it still has the
// version. What was there can still be read.
func (s *Store) CorrectMould(ctx context.Context, id uuid.UUID, m MouldFacts, f From) error {
	return s.once(ctx, f, func(tx *sqlx.Tx) error {
		var was MouldFacts
		err := tx.GetContext(ctx, &was, `SELECT number, rubber, poured, cavities FROM mould
			WHERE id = $1 AND shop_id = $2 AND version = $3 FOR NO KEY UPDATE`, id, s.Shop, f.Version)
		if err := keepWas(ctx, tx, err, "mould", id, f.Version, was); err != nil {
			return err
		}
		var first *time.Time
		var cavities *int
		if err := tx.QueryRowContext(ctx, `SELECT min(pulled), max(cavity) FROM pull LEFT JOIN pull_result ON pull_id = pull.id
			WHERE mould_id = $1 AND struck IS NULL`, id).Scan(&first, &cavities); err != nil {
			return err
		}
		if first != nil && first.Before(m.Poured) {
			return ErrNotPoured
		}
		if cavities != nil && *cavities > m.Cavities {
			return ErrNoSuchCavity
		}
		_, err = tx.ExecContext(ctx, `UPDATE mould SET number = $2, rubber = $3, poured = $4, cavities = $5, version = version + 1
			WHERE id = $1`, id, m.Number, m.Rubber, m.Poured, m.Cavities)
		return taken(err)
	})
}

// Logged is what some moulds of a rubber have done, each of them the same.
type Logged struct {
	Rubber  string
	Kind    string
	Pulls   int
	WornOut bool `db:"worn_out"`
	Moulds  int
}

const selectLog = `SELECT rubber, kind, pulls, worn_out, count(*) AS moulds FROM mould WHERE shop_id = $1`

// Log is what all moulds of a rubber have done, retired ones as well.
func (s *Store) Log(ctx context.Context, rubber string) ([]Logged, error) {
	var out []Logged
	err := s.db.SelectContext(ctx, &out,
		selectLog+` AND rubber = $2 GROUP BY rubber, kind, pulls, worn_out ORDER BY kind, pulls, worn_out`, s.Shop, rubber)
	return out, err
}

// Logs are what all moulds have done, by their rubber.
func (s *Store) Logs(ctx context.Context) (map[string][]Logged, error) {
	var all []Logged
	err := s.db.SelectContext(ctx, &all, selectLog+` GROUP BY rubber, kind, pulls, worn_out ORDER BY kind, pulls, worn_out`, s.Shop)
	out := make(map[string][]Logged)
	for _, l := range all {
		out[l.Rubber] = append(out[l.Rubber], l)
	}
	return out, err
}
