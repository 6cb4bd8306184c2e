package store

import (
	"context"
	"fmt"
	"time"

	"github.com/google/uuid"
	"github.com/jmoiron/sqlx"
)

// Care is something that was done to a mould besides casting in it.
type Care struct {
	ID      uuid.UUID
	MouldID uuid.UUID `db:"mould_id"`
	Day     time.Time
	What    string // repaired, rested, back, released, plugged, opened or noted
	Cavity  int    // from 1, of what is done to one; 0 for the whole mould
	Says    string
}

// What may be done to a mould.
const (
	Repaired = "repaired"
	Rested   = "rested" // put aside
	Back     = "back"   // taken back into use
	Released = "released"
	Plugged  = "plugged" // a cavity, while the others go on
	Opened   = "opened"  // a cavity that was plugged
	Noted    = "noted"
)

// AddCare keeps what was done to a mould; under its ID it is kept once.
func (s *Store) AddCare(ctx context.Context, c Care) error {
	return s.inTx(ctx, func(tx *sqlx.Tx) error {
		m, err := s.counting(ctx, tx, c.MouldID)
		switch {
		case err != nil:
			return err
		case c.Cavity > m.Cavities:
			return ErrNoSuchCavity
		case c.Day.Before(m.Poured):
			return ErrNotPoured
		}
		_, err = tx.ExecContext(ctx, `INSERT INTO mould_care (id, mould_id, day, what, cavity, says) VALUES ($1, $2, $3, $4, $5, $6)
			ON CONFLICT (id) DO NOTHING`, c.ID, c.MouldID, c.Day, c.What, c.Cavity, c.Says)
		return err
	})
}

// CareOf is what was done to some moulds, the oldest first.
func (s *Store) CareOf(ctx context.Context, moulds []uuid.UUID) (out []Care, err error) {
	err = s.db.SelectContext(
		ctx,
		&out,
		`SELECT c.id, mould_id, day, what, cavity, says FROM mould_care c JOIN mould ON mould.id = mould_id
		WHERE shop_id = $1 AND mould_id = ANY($2) ORDER BY day, kept, c.id`,
		s.Shop,
		moulds,
	)
	return out, err
}

// Treated is what a mould has done and how it was treated.
type Treated struct {
	Pulls    int
	WornOut  bool     `db:"worn_out"`
	Released *int     // pulls that it had given when it was for the first time; nil where it never was
	Rested   *int     // as well
	Celsius  *float64 // in the shop at its pulls, on average; nil where nobody wrote it down
}

// Treated are all moulds of a rubber that were cast in.
func (s *Store) Treated(ctx context.Context, rubber string) (out []Treated, err error) {
	const since = `(SELECT count(*) FILTER (WHERE pulled < first.day) FROM (SELECT min(day) AS day FROM mould_care c
			WHERE c.mould_id = mould.id AND what = '%s') first LEFT JOIN pull ON pull.mould_id = mould.id AND struck IS NULL
			WHERE first.day IS NOT NULL HAVING count(first.day) > 0)`
	err = s.db.SelectContext(ctx, &out, `SELECT pulls, worn_out, `+fmt.Sprintf(since, Released)+` AS released,
			`+fmt.Sprintf(since, Rested)+` AS rested,
			(SELECT avg((conditions->>'celsius')::float8) FROM pull WHERE pull.mould_id = mould.id AND struck IS NULL) AS celsius
		FROM mould WHERE shop_id = $1 AND rubber = $2 AND pulls > 0`, s.Shop, rubber)
	return out, err
}
