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
}

const selectMoulds = `
	SELECT mould.id, job_id, job.name AS job_name, number, rubber, poured, cavities, retired, worn_out, mould.kind AS kind,
	       pulls, good, scrap
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
	res, err := s.db.ExecContext(
		ctx,
		`UPDATE mould SET retired = $3, worn_out = $4 WHERE id = $1 AND shop_id = $2`,
		id,
		s.Shop,
		retired,
		wornOut && retired != nil,
	)
	if err != nil {
		return err
	}
	if n, _ := res.RowsAffected(); n == 0 {
		return ErrNotFound
	}
	return nil
}

// Pull is one filling of a mould.
type Pull struct {
	ID          uuid.UUID
	MouldID     uuid.UUID `db:"mould_id"`
	MouldNumber string    `db:"mould_number"`
	Pulled      time.Time
	MassA       *float64 `db:"mass_a"` // g
	MassB       *float64 `db:"mass_b"`
	Notes       string
	Results     []Result `db:"-"`
}

// Result is what came out of one cavity.
type Result struct {
	PullID uuid.UUID `db:"pull_id"`
	Cavity int
	Good   bool
	Defect string
}

// LogPull keeps a pull with all its results or not at all. One that is logged
// already under its ID stays as it is and is counted once.
func (s *Store) LogPull(ctx context.Context, p Pull) error {
	return s.inTx(ctx, func(tx *sqlx.Tx) error {
		var cavities int
		var retired *time.Time
		err := tx.QueryRowContext(
			ctx,
			`SELECT cavities, retired FROM mould WHERE id = $1 AND shop_id = $2 FOR NO KEY UPDATE`,
			p.MouldID,
			s.Shop,
		).Scan(&cavities, &retired)
		if errors.Is(err, sql.ErrNoRows) {
			return ErrNotFound
		}
		if err != nil {
			return err
		}
		var of uuid.UUID
		if err := tx.GetContext(ctx, &of, `SELECT mould_id FROM pull WHERE id = $1`, p.ID); !errors.Is(err, sql.ErrNoRows) {
			if err == nil && of != p.MouldID {
				err = ErrReused
			}
			return err
		}
		if retired != nil {
			return ErrRetired
		}
		if _, err := tx.ExecContext(ctx, `INSERT INTO pull (id, mould_id, pulled, mass_a, mass_b, notes) VALUES ($1, $2, $3, $4, $5, $6)`,
			p.ID, p.MouldID, p.Pulled, p.MassA, p.MassB, p.Notes); err != nil {
			return reused(err)
		}
		good := 0
		for _, r := range p.Results {
			if r.Cavity > cavities {
				return ErrNoSuchCavity
			}
			if r.Good {
				good++
			}
			if _, err := tx.ExecContext(ctx, `INSERT INTO pull_result (pull_id, cavity, good, defect) VALUES ($1, $2, $3, $4)`,
				p.ID, r.Cavity, r.Good, r.Defect); err != nil {
				return taken(err)
			}
		}
		return count(ctx, tx, p.MouldID, 1, good, len(p.Results)-good)
	})
}

// count adds to what a mould has done.
func count(ctx context.Context, tx *sqlx.Tx, mould uuid.UUID, pulls, good, scrap int) error {
	_, err := tx.ExecContext(
		ctx,
		`UPDATE mould SET pulls = pulls + $2, good = good + $3, scrap = scrap + $4 WHERE id = $1`,
		mould,
		pulls,
		good,
		scrap,
	)
	return err
}

// Errors of the log.
var (
	ErrRetired      = errors.New("the mould is retired")
	ErrNoSuchCavity = errors.New("the mould has fewer cavities")
)

// Pulls lists a job's pulls, newest first: limit of them after skip.
func (s *Store) Pulls(ctx context.Context, job uuid.UUID, limit, skip int) ([]Pull, error) {
	var pulls []Pull
	err := s.db.SelectContext(ctx, &pulls, `
		SELECT pull.id, mould_id, mould.number AS mould_number, pulled, mass_a, mass_b, pull.notes
		FROM pull JOIN mould ON mould.id = mould_id
		WHERE mould.shop_id = $1 AND mould.job_id = $2 ORDER BY pulled DESC, logged DESC, pull.id LIMIT $3 OFFSET $4`,
		s.Shop, job, limit, skip)
	if err != nil {
		return nil, err
	}
	ids := make([]uuid.UUID, len(pulls))
	for i, p := range pulls {
		ids[i] = p.ID
	}
	var results []Result
	err = s.db.SelectContext(ctx, &results,
		`SELECT pull_id, cavity, good, defect FROM pull_result WHERE pull_id = ANY($1) ORDER BY cavity`, ids)
	if err != nil {
		return nil, err
	}
	of := make(map[uuid.UUID][]Result)
	for _, r := range results {
		of[r.PullID] = append(of[r.PullID], r)
	}
	for i := range pulls {
		pulls[i].Results = of[pulls[i].ID]
	}
	return pulls, nil
}

// DeletePull strikes a pull from the log.
func (s *Store) DeletePull(ctx context.Context, id uuid.UUID) error {
	return s.inTx(ctx, func(tx *sqlx.Tx) error {
		var mould uuid.UUID
		err := tx.GetContext(ctx, &mould, `SELECT mould.id FROM mould JOIN pull ON pull.mould_id = mould.id
			WHERE pull.id = $1 AND mould.shop_id = $2 FOR NO KEY UPDATE OF mould`, id, s.Shop)
		if errors.Is(err, sql.ErrNoRows) {
			return ErrNotFound
		}
		if err != nil {
			return err
		}
		var good, scrap int
		if err := tx.QueryRowContext(ctx, `SELECT count(*) FILTER (WHERE good), count(*) FILTER (WHERE NOT good)
			FROM pull_result WHERE pull_id = $1`, id).Scan(&good, &scrap); err != nil {
			return err
		}
		res, err := tx.ExecContext(ctx, `DELETE FROM pull WHERE id = $1`, id)
		if err != nil {
			return err
		}
		if n, _ := res.RowsAffected(); n == 0 { // struck by somebody else meanwhile
			return ErrNotFound
		}
		return count(ctx, tx, mould, -1, -good, -scrap)
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
