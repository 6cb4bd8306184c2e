package store

import (
	"context"
	"database/sql"
	"database/sql/driver"
	"encoding/json"
	"errors"
	"fmt"
	"time"

	"github.com/google/uuid"
	"github.com/jmoiron/sqlx"
)

// Pull is one filling of a mould.
type Pull struct {
	ID          uuid.UUID
	MouldID     uuid.UUID `db:"mould_id"`
	MouldNumber string    `db:"mould_number"`
	Pulled      time.Time
	MassA       *float64 `db:"mass_a"` // g
	MassB       *float64 `db:"mass_b"`
	Notes       string
	Conditions  Conditions
	Struck      bool
	Version     int
	SessionID   *uuid.UUID `db:"session_id"` // at the bench; nil where it was written down by hand
	Resin       string     `json:"-"`        // its material's name, of a whole log; empty for what its job had chosen
	Results     []Result   `db:"-"`
	Photos      []Photo    `db:"-" json:"-"`
}

// Result is what came out of one cavity.
type Result struct {
	PullID uuid.UUID `db:"pull_id"`
	Cavity int
	Good   bool
	Second bool // no good one, and no scrap: it can be used
	Defect string
	Weight *float64 // of the casting, g; nil where nobody weighed it
	Place  *Place   // of the defect; nil where nobody has shown it
	Note   string   `json:",omitempty"`
}

// Place is a point of the part, in mm, as its master lies.
type Place [3]float64

// Scan reads it from the database.
func (p *Place) Scan(v any) error {
	switch doc := v.(type) {
	case []byte:
		return json.Unmarshal(doc, p)
	case string:
		return json.Unmarshal([]byte(doc), p)
	}
	return fmt.Errorf("a place comes as %T", v)
}

// Value writes it to the database.
func (p Place) Value() (driver.Value, error) {
	doc, err := json.Marshal(p)
	return string(doc), err
}

// resultColumns are those of what came out of a cavity.
const resultColumns = `pull_id, cavity, pull_result.good, second, defect, weight, pull_result.place, note`

// LogPull keeps a pull with all its results or not at all. One that is logged
// already under its ID stays as it is and is counted once.
func (s *Store) LogPull(ctx context.Context, p Pull) error {
	return s.inTx(ctx, func(tx *sqlx.Tx) error {
		m, err := s.counting(ctx, tx, p.MouldID)
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
		if m.Retired != nil {
			return ErrRetired
		}
		if p.Pulled.Before(m.Poured) {
			return ErrNotPoured
		}
		if _, err := tx.ExecContext(ctx, `INSERT INTO pull (id, mould_id, pulled, mass_a, mass_b, notes, conditions, resin)
			VALUES ($1, $2, $3, $4, $5, $6, $7, (`+chosenResin+`WHERE mould.id = $2))`,
			p.ID, p.MouldID, p.Pulled, p.MassA, p.MassB, p.Notes, p.Conditions); err != nil {
			return reused(err)
		}
		return addResults(ctx, tx, p, m)
	})
}

// chosenResin is the resin that the job of a mould has chosen.
const chosenResin = `SELECT coalesce(job.design->'design'->>'resin', '') FROM mould JOIN job ON job.id = mould.job_id `

// ResinOf is the resin that a job has chosen, its material's id; empty where it has none,
// and of one in the bin.
func (s *Store) ResinOf(ctx context.Context, job uuid.UUID) (resin string, err error) {
	err = s.db.GetContext(ctx, &resin, `SELECT coalesce(max(design->'design'->>'resin'), '') FROM job
		WHERE id = $1 AND shop_id = $2 AND deleted IS NULL`, job, s.Shop)
	return resin, err
}

// ResinOfPull is the resin that a pull was cast in, its material's id; empty where nobody
// knows.
func (s *Store) ResinOfPull(ctx context.Context, pull uuid.UUID) (resin string, err error) {
	err = s.db.GetContext(ctx, &resin, `SELECT coalesce(max(pull.resin), '') FROM pull JOIN mould ON mould.id = mould_id
		WHERE pull.id = $1 AND mould.shop_id = $2`, pull, s.Shop)
	return resin, err
}

// counting locks a mould whose pulls are to be counted.
func (s *Store) counting(ctx context.Context, tx *sqlx.Tx, id uuid.UUID) (Mould, error) {
	var m Mould
	err := tx.GetContext(
		ctx,
		&m,
		`SELECT id, cavities, retired, poured FROM mould WHERE id = $1 AND shop_id = $2 FOR NO KEY UPDATE`,
		id,
		s.Shop,
	)
	if errors.Is(err, sql.ErrNoRows) {
		err = ErrNotFound
	}
	return m, err
}

// addResults keeps what came out of a pull, and counts it.
func addResults(ctx context.Context, tx *sqlx.Tx, p Pull, m Mould) error {
	for _, r := range p.Results {
		if r.Cavity > m.Cavities {
			return ErrNoSuchCavity
		}
		if _, err := tx.ExecContext(ctx, `INSERT INTO pull_result (pull_id, cavity, good, second, defect, weight, place, note)
			VALUES ($1, $2, $3, $4, $5, $6, $7, $8)`, p.ID, r.Cavity, r.Good, r.Second, r.Defect, r.Weight, r.Place, r.Note); err != nil {
			return taken(err)
		}
	}
	return count(ctx, tx, m.ID, p, 1)
}

// CorrectPull puts right what was logged of a pull, if it still has the
// version. What was there can still be read.
func (s *Store) CorrectPull(ctx context.Context, p Pull, f From) error {
	return s.once(ctx, f, func(tx *sqlx.Tx) error {
		was, m, err := s.logged(ctx, tx, p.ID)
		if err != nil {
			return err
		}
		switch {
		case was.Version != f.Version, was.Struck:
			return ErrChanged
		case p.Pulled.Before(m.Poured):
			return ErrNotPoured
		}
		if err := keepWas(ctx, tx, nil, "pull", p.ID, f.Version, was); err != nil {
			return err
		}
		if err := count(ctx, tx, was.MouldID, was, -1); err != nil {
			return err
		}
		if _, err := tx.ExecContext(ctx, `DELETE FROM pull_result WHERE pull_id = $1`, p.ID); err != nil {
			return err
		}
		if _, err := tx.ExecContext(ctx, `UPDATE pull SET pulled = $2, mass_a = $3, mass_b = $4, notes = $5, conditions = $6,
			version = version + 1 WHERE id = $1`,
			p.ID, p.Pulled, p.MassA, p.MassB, p.Notes, p.Conditions); err != nil {
			return err
		}
		return addResults(ctx, tx, p, m)
	})
}

// logged locks a pull's mould and reads the pull.
func (s *Store) logged(ctx context.Context, tx *sqlx.Tx, id uuid.UUID) (Pull, Mould, error) {
	var mould uuid.UUID
	err := tx.GetContext(ctx, &mould, `SELECT mould.id FROM mould JOIN pull ON pull.mould_id = mould.id
		WHERE pull.id = $1 AND mould.shop_id = $2 FOR NO KEY UPDATE OF mould`, id, s.Shop)
	if errors.Is(err, sql.ErrNoRows) {
		return Pull{}, Mould{}, ErrNotFound
	}
	if err != nil {
		return Pull{}, Mould{}, err
	}
	m, err := s.counting(ctx, tx, mould)
	if err != nil {
		return Pull{}, m, err
	}
	var p Pull
	if err := tx.GetContext(ctx, &p, `SELECT id, mould_id, pulled, mass_a, mass_b, notes, conditions, struck IS NOT NULL AS struck, version
		FROM pull WHERE id = $1`, id); err != nil {
		return p, m, err
	}
	err = tx.SelectContext(ctx, &p.Results, `SELECT `+resultColumns+` FROM pull_result WHERE pull_id = $1 ORDER BY cavity`, id)
	return p, m, err
}

// count adds a pull to what its mould has done, or with -1 takes it off.
func count(ctx context.Context, tx *sqlx.Tx, mould uuid.UUID, p Pull, times int) error {
	var good, seconds, scrap int
	for _, r := range p.Results {
		switch {
		case r.Good:
			good++
		case r.Second:
			seconds++
		default:
			scrap++
		}
	}
	_, err := tx.ExecContext(ctx, `UPDATE mould SET pulls = pulls + $2, good = good + $3, seconds = seconds + $4, scrap = scrap + $5
		WHERE id = $1`, mould, times, times*good, times*seconds, times*scrap)
	return err
}

// Errors of the log.
var (
	ErrRetired      = errors.New("the mould is retired")
	ErrNoSuchCavity = errors.New("the mould has fewer cavities")
	ErrNotPoured    = errors.New("the mould was not poured by then")
)

// Pulls lists a job's pulls, newest first, struck ones as well: limit of them
// after skip, and how many there are.
func (s *Store) Pulls(ctx context.Context, job uuid.UUID, limit, skip int) ([]Pull, int, error) {
	var total int
	if err := s.db.GetContext(ctx, &total, `SELECT count(*) FROM pull JOIN mould ON mould.id = mould_id
		WHERE mould.shop_id = $1 AND mould.job_id = $2`, s.Shop, job); err != nil {
		return nil, 0, err
	}
	var pulls []Pull
	err := s.db.SelectContext(ctx, &pulls, `
		SELECT pull.id, mould_id, mould.number AS mould_number, pulled, mass_a, mass_b, pull.notes, conditions,
		       struck IS NOT NULL AS struck, pull.version AS version, pull.session_id AS session_id
		FROM pull JOIN mould ON mould.id = mould_id
		WHERE mould.shop_id = $1 AND mould.job_id = $2 ORDER BY pulled DESC, logged DESC, pull.id LIMIT $3 OFFSET $4`,
		s.Shop, job, limit, skip)
	if err != nil {
		return nil, 0, err
	}
	ids := make([]uuid.UUID, len(pulls))
	for i, p := range pulls {
		ids[i] = p.ID
	}
	var results []Result
	err = s.db.SelectContext(ctx, &results,
		`SELECT `+resultColumns+` FROM pull_result WHERE pull_id = ANY($1) ORDER BY cavity`, ids)
	if err != nil {
		return nil, 0, err
	}
	of := make(map[uuid.UUID][]Result)
	for _, r := range results {
		of[r.PullID] = append(of[r.PullID], r)
	}
	photos, err := s.photosOf(ctx, ids)
	for i := range pulls {
		pulls[i].Results, pulls[i].Photos = of[pulls[i].ID], photos[pulls[i].ID]
	}
	return pulls, total, err
}

// StrikePull strikes a pull through: it stays in the log, and is not counted.
func (s *Store) StrikePull(ctx context.Context, id uuid.UUID) error { return s.strike(ctx, id, true) }

// UnstrikePull lets a pull that was struck count again.
func (s *Store) UnstrikePull(ctx context.Context, id uuid.UUID) error {
	return s.strike(ctx, id, false)
}

func (s *Store) strike(ctx context.Context, id uuid.UUID, struck bool) error {
	return s.inTx(ctx, func(tx *sqlx.Tx) error {
		p, m, err := s.logged(ctx, tx, id)
		if err != nil || p.Struck == struck { // as it is to be
			return err
		}
		if struck {
			if _, err := tx.ExecContext(ctx, `UPDATE pull SET struck = now() WHERE id = $1`, id); err != nil {
				return err
			}
			return count(ctx, tx, p.MouldID, p, -1)
		}
		switch {
		case p.Pulled.Before(m.Poured):
			return ErrNotPoured
		case len(p.Results) > 0 && p.Results[len(p.Results)-1].Cavity > m.Cavities:
			return ErrNoSuchCavity
		}
		if _, err := tx.ExecContext(ctx, `UPDATE pull SET struck = NULL WHERE id = $1`, id); err != nil {
			return err
		}
		return count(ctx, tx, p.MouldID, p, 1)
	})
}

// Casting is what came out of a cavity at a pull that counts.
type Casting struct {
	MouldID   uuid.UUID `db:"mould_id"`
	Number    string    // of the mould
	Cavity    int
	Good      bool
	Second    bool
	Defect    string
	Age       int // pulls that the mould had given before
	Pulled    time.Time
	SessionID *uuid.UUID `db:"session_id"`
	Under     Conditions `db:"conditions"`
	Weight    *float64   // g
	Resin     string     // its material's id; empty where nobody wrote it down
	Place     *Place
}

const selectCastings = `SELECT mould_id, number, cavity, pull_result.good, second, defect, age, pulled, session_id,
		conditions, weight, place, resin FROM (
		SELECT pull.id, mould_id, mould.number AS number, pulled, pull.session_id, conditions, pull.resin AS resin,
		       row_number() OVER (PARTITION BY mould_id ORDER BY pulled, logged, pull.id) - 1 AS age
		FROM pull JOIN mould ON mould.id = mould_id WHERE mould.shop_id = $1 AND pull.struck IS NULL AND `

// CastingsOfJob are a job's castings in the order of their moulds' pulls.
func (s *Store) CastingsOfJob(ctx context.Context, job uuid.UUID) (out []Casting, err error) {
	err = s.db.SelectContext(ctx, &out, selectCastings+`mould.job_id = $2) p JOIN pull_result ON pull_id = p.id
		ORDER BY number, age, cavity`, s.Shop, job)
	return out, err
}

// CastingsOfMoulds are the castings of some moulds in the order of their pulls.
func (s *Store) CastingsOfMoulds(ctx context.Context, moulds []uuid.UUID) (out []Casting, err error) {
	err = s.db.SelectContext(ctx, &out, selectCastings+`mould_id = ANY($2)) p JOIN pull_result ON pull_id = p.id
		ORDER BY number, age, cavity`, s.Shop, moulds)
	return out, err
}

// CastingsOfMould are a mould's castings in the order of its pulls.
func (s *Store) CastingsOfMould(ctx context.Context, mould uuid.UUID) (out []Casting, err error) {
	err = s.db.SelectContext(ctx, &out, selectCastings+`mould_id = $2) p JOIN pull_result ON pull_id = p.id
		ORDER BY age, cavity`, s.Shop, mould)
	return out, err
}

// Pace is how many pulls a job gave in the days up to one, and in how many of them, from
// the first pull on.
func (s *Store) Pace(ctx context.Context, job uuid.UUID, until time.Time, days int) (pulls, over int, err error) {
	from := until.AddDate(0, 0, -days)
	err = s.db.QueryRowContext(ctx, `SELECT count(*), coalesce($4::date - min(pulled), 0) FROM pull JOIN mould ON mould.id = mould_id
		WHERE shop_id = $1 AND job_id = $2 AND struck IS NULL AND pulled > $3 AND pulled <= $4`, s.Shop, job, from, until).Scan(&pulls, &over)
	return pulls, over, err
}
