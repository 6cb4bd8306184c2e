package store

import (
	"context"
	"time"

	"github.com/google/uuid"
	"github.com/jmoiron/sqlx"
)

// Measured is something that was measured at the work.
type Measured struct {
	ID        uuid.UUID
	Day       time.Time
	What      string
	Material  string
	Value     float64 // g of what stays, minutes of what lasts
	Celsius   *float64
	Grams     *float64 // of the batch
	Says      string
	SessionID *uuid.UUID `db:"session_id"`
}

// What is measured.
const (
	Residue = "residue" // g that stay in a cup of resin
	Bucket  = "bucket"  // g that stay in a bucket of rubber
	Poured  = "pour"    // minutes to pour what one mould takes of rubber
	Demould = "demould" // minutes until a casting came out well
	Gel     = "gel"     // minutes until a cup could not be poured any more
)

// AddMeasured keeps what was measured; under its ID it is kept once.
func (s *Store) AddMeasured(ctx context.Context, m Measured) error {
	return s.inTx(ctx, func(tx *sqlx.Tx) error { return s.addMeasured(ctx, tx, m) })
}

func (s *Store) addMeasured(ctx context.Context, tx *sqlx.Tx, m Measured) error {
	_, err := tx.ExecContext(ctx, `INSERT INTO measured (id, shop_id, day, what, material, value, celsius, grams, says, session_id)
		VALUES ($1, $2, $3, $4, $5, $6, $7, $8, $9, $10) ON CONFLICT (id) DO NOTHING`,
		m.ID, s.Shop, m.Day, m.What, m.Material, m.Value, m.Celsius, m.Grams, m.Says, m.SessionID)
	return err
}

// Demoulded is how long castings of a material were in their mould that came out well.
type Demoulded struct {
	Material string
	Minutes  float64
}

// Demoulded are the latest pulls of which it was written down.
func (s *Store) Demoulded(ctx context.Context) (out []Demoulded, err error) {
	err = s.db.SelectContext(ctx, &out, `SELECT material.name AS material, (conditions->>'out')::float8 AS minutes
		FROM pull JOIN material ON material.id::text = pull.resin
		WHERE material.shop_id = $1 AND struck IS NULL AND conditions ? 'out'
		  AND EXISTS (SELECT FROM pull_result r WHERE r.pull_id = pull.id AND r.good)
		ORDER BY pulled DESC, logged DESC LIMIT $2`, s.Shop, lastFinished)
	return out, err
}

// Measured is all that was, the latest first.
func (s *Store) Measured(ctx context.Context) (out []Measured, err error) {
	err = s.db.SelectContext(ctx, &out, `SELECT id, day, what, material, value, celsius, grams, says, session_id FROM measured
		WHERE shop_id = $1 AND struck IS NULL ORDER BY day DESC, kept DESC, id`, s.Shop)
	return out, err
}

// StrikeMeasured takes a measurement out of what is learnt from, or back into it.
func (s *Store) StrikeMeasured(ctx context.Context, id uuid.UUID, struck bool) error {
	return s.one(ctx, `UPDATE measured SET struck = CASE WHEN $3 THEN now() END WHERE id = $1 AND shop_id = $2`, id, s.Shop, struck)
}

// CavityYield is what came out of a cavity in all.
type CavityYield struct {
	JobID     uuid.UUID `db:"job_id"`
	Job       string
	Mould     string
	Cavity    int
	Good, Bad int
}

// Yields are those of the cavities of all moulds that were cast in.
func (s *Store) Yields(ctx context.Context) (out []CavityYield, err error) {
	err = s.db.SelectContext(ctx, &out, `SELECT job.id AS job_id, job.name AS job, number AS mould, cavity,
			count(*) FILTER (WHERE r.good) AS good, count(*) FILTER (WHERE NOT r.good) AS bad
		FROM pull_result r JOIN pull ON pull.id = pull_id JOIN mould ON mould.id = mould_id JOIN job ON job.id = mould.job_id
		WHERE mould.shop_id = $1 AND pull.struck IS NULL AND job.deleted IS NULL
		GROUP BY job.id, job.name, mould.id, number, cavity ORDER BY number, cavity`, s.Shop)
	return out, err
}

// ColourUsed is how often a recipe matched.
type ColourUsed struct {
	JobID           uuid.UUID `db:"job_id"`
	Job             string
	Resin           string // empty where nobody wrote it down
	Colour          string
	Matched, Missed int
}

// Colours are the recipes of which somebody said whether they matched, the surest first.
func (s *Store) Colours(ctx context.Context) (out []ColourUsed, err error) {
	err = s.db.SelectContext(ctx, &out, `SELECT * FROM (SELECT job.id AS job_id, job.name AS job, coalesce(material.name, '') AS resin,
			conditions->>'colour' AS colour,
			count(*) FILTER (WHERE (conditions->>'matched')::boolean) AS matched,
			count(*) FILTER (WHERE NOT (conditions->>'matched')::boolean) AS missed
		FROM pull JOIN mould ON mould.id = mould_id JOIN job ON job.id = mould.job_id
		LEFT JOIN material ON material.id::text = pull.resin
		WHERE mould.shop_id = $1 AND struck IS NULL AND job.deleted IS NULL AND conditions ? 'colour' AND conditions ? 'matched'
		GROUP BY job.id, job.name, material.name, conditions->>'colour') c ORDER BY matched - missed DESC, job, colour`, s.Shop)
	return out, err
}

// Finished is how long a casting of a pull was worked on.
type Finished struct {
	JobID   uuid.UUID `db:"job_id"`
	Job     string
	Minutes float64
}

// lastFinished is how many pulls tell how long finishing takes.
const lastFinished = 2000

// Finishing is that of the latest pulls of which it was written down, of a job or, for
// nil, of all.
func (s *Store) Finishing(ctx context.Context, job *uuid.UUID) (out []Finished, err error) {
	err = s.db.SelectContext(ctx, &out, `SELECT p.job_id, p.job, finishing / greatest(1, count(*) FILTER (WHERE r.good)) AS minutes FROM (
			SELECT pull.id, job.id AS job_id, job.name AS job, (conditions->>'finishing')::float8 AS finishing
			FROM pull JOIN mould ON mould.id = mould_id JOIN job ON job.id = mould.job_id
			WHERE mould.shop_id = $1 AND struck IS NULL AND job.deleted IS NULL AND conditions ? 'finishing'
				AND ($3::uuid IS NULL OR job.id = $3)
			ORDER BY pulled DESC, logged DESC LIMIT $2) p
		JOIN pull_result r ON r.pull_id = p.id GROUP BY p.id, p.job_id, p.job, finishing ORDER BY p.job, p.id`, s.Shop, lastFinished, job)
	return out, err
}
