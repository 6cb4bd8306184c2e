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

// Earlier is a master with its design that was set aside.
type Earlier struct {
	ID       uuid.UUID
	Why      string // it was set aside
	SetAside time.Time
	Master   Master
	Designed bool // there was a design, not only a proposal
}

// Reasons to set a design aside.
const (
	AnotherMaster = "another master was taken"
	Turned        = "the master was turned"
	ReadFrom      = "a design was read from a document"
	WentBack      = "an earlier one was taken again"
)

// mostEarlier is how many are kept for a job, the latest.
const mostEarlier = 20

// setAside keeps what a job has as its master and its design, if it has one.
func setAside(ctx context.Context, tx *sqlx.Tx, job uuid.UUID, why string) error {
	_, err := tx.ExecContext(ctx, `INSERT INTO earlier (id, job_id, why, master, mesh_sha256, design, brief)
		SELECT gen_random_uuid(), id, $2, master, mesh_sha256, design, brief FROM job WHERE id = $1 AND master IS NOT NULL`, job, why)
	return err
}

// tidy drops what was set aside longest ago, and the meshes that nothing else
// is made of.
func tidy(ctx context.Context, tx *sqlx.Tx, job uuid.UUID) error {
	var meshes []string
	err := tx.SelectContext(ctx, &meshes, `WITH old AS (DELETE FROM earlier WHERE job_id = $1 AND id NOT IN
			(SELECT id FROM earlier WHERE job_id = $1 ORDER BY set_aside DESC LIMIT $2) RETURNING mesh_sha256)
		SELECT DISTINCT mesh_sha256 FROM old WHERE mesh_sha256 IS NOT NULL`, job, mostEarlier)
	if err != nil || len(meshes) == 0 {
		return err
	}
	_, err = tx.ExecContext(ctx, `DELETE FROM mesh WHERE sha256 = ANY($1) AND NOT EXISTS (SELECT FROM job WHERE mesh_sha256 = sha256)
		AND NOT EXISTS (SELECT FROM earlier WHERE mesh_sha256 = sha256)`, meshes)
	return err
}

// Earlier lists what was set aside for a job, the latest first.
func (s *Store) Earlier(ctx context.Context, job uuid.UUID) ([]Earlier, error) {
	var rows []struct {
		ID       uuid.UUID
		Why      string
		SetAside time.Time `db:"set_aside"`
		Master   []byte
		Designed bool
	}
	err := s.db.SelectContext(ctx, &rows, `SELECT earlier.id, why, set_aside, earlier.master, earlier.design IS NOT NULL AS designed
		FROM earlier JOIN job ON job.id = job_id WHERE job_id = $1 AND shop_id = $2 ORDER BY set_aside DESC`, job, s.Shop)
	if err != nil {
		return nil, err
	}
	out := make([]Earlier, len(rows))
	for i, r := range rows {
		out[i] = Earlier{ID: r.ID, Why: r.Why, SetAside: r.SetAside, Designed: r.Designed}
		if err := json.Unmarshal(r.Master, &out[i].Master); err != nil {
			return nil, err
		}
	}
	return out, nil
}

// TakeEarlier makes what was set aside the job's master and design again, and
// sets what it had aside, if the job still has the version.
func (s *Store) TakeEarlier(ctx context.Context, job, earlier uuid.UUID, f From) error {
	return s.once(ctx, f, func(tx *sqlx.Tx) error {
		if err := held(ctx, tx, s.Shop, job, f.Version); err != nil {
			return err
		}
		var there bool
		err := tx.GetContext(ctx, &there, `SELECT true FROM earlier WHERE id = $1 AND job_id = $2 FOR UPDATE`, earlier, job)
		if errors.Is(err, sql.ErrNoRows) {
			return ErrNotFound
		}
		if err != nil {
			return err
		}
		if err := setAside(ctx, tx, job, WentBack); err != nil {
			return err
		}
		if _, err := tx.ExecContext(ctx, `UPDATE job SET master = e.master, mesh_sha256 = e.mesh_sha256, design = e.design, brief = e.brief,
			design_version = design_version + 1, version = version + 1
			FROM earlier e WHERE job.id = $1 AND e.id = $2`, job, earlier); err != nil {
			return err
		}
		_, err = tx.ExecContext(ctx, `DELETE FROM earlier WHERE id = $1`, earlier)
		return err
	})
}

// held locks a job that still has a version.
func held(ctx context.Context, tx *sqlx.Tx, shop, job uuid.UUID, version int) error {
	var there bool
	err := tx.GetContext(ctx, &there,
		`SELECT true FROM job WHERE id = $1 AND shop_id = $2 AND version = $3 AND deleted IS NULL FOR UPDATE`, job, shop, version)
	if errors.Is(err, sql.ErrNoRows) {
		return ErrChanged
	}
	return err
}
