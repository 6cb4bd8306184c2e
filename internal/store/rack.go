package store

import (
	"bathyform/core/design"
	"context"
	"database/sql"
	"database/sql/driver"
	"encoding/json"
	"errors"
	"fmt"
	"strings"
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
	Seconds            int // castings that can be used, though they are not good
	Version            int
	SessionID          *uuid.UUID `db:"session_id"` // in which it was poured at the bench; nil where it was entered by hand
	Ended              string     // how; empty where it lives, or nobody has said
	Birth              *Flaws     // at the first look; nil where nobody has looked
	Place              string     // where it stands
	Pieces             int        // 0 where nobody has said
	Lot                string     // of the rubber
	DesignVersion      int        `db:"design_version"` // that it was poured from
}

// How a mould ends.
const (
	Worn   = "worn"
	Torn   = "torn"   // by hand
	Spoilt = "spoilt" // by a bad mix
	Lost   = "lost"
	Spare  = "done" // it is no longer wanted
)

// Flaws are what a mould was born with: bubbles, flash over the part, torn edges.
type Flaws []string

// Scan reads them from the database.
func (f *Flaws) Scan(v any) error {
	switch doc := v.(type) {
	case []byte:
		return json.Unmarshal(doc, f)
	case string:
		return json.Unmarshal([]byte(doc), f)
	}
	return fmt.Errorf("flaws come as %T", v)
}

// Value writes them to the database.
func (f Flaws) Value() (driver.Value, error) {
	if f == nil {
		f = Flaws{}
	}
	doc, err := json.Marshal(f)
	return string(doc), err
}

const selectMoulds = `
	SELECT mould.id, job_id, job.name AS job_name, number, rubber, poured, cavities, retired, worn_out, mould.kind AS kind,
	       pulls, good, scrap, seconds, mould.version AS version, mould.session_id AS session_id, ended, birth, place, pieces, lot,
	       mould.design_version AS design_version
	FROM mould JOIN job ON job.id = job_id
	WHERE mould.shop_id = $1`

// Moulds lists the rack: those in use first, then by number. The log of
// moulds whose job was deleted still counts for the forecast of their kind.
func (s *Store) Moulds(ctx context.Context) ([]Mould, error) {
	var out []Mould
	err := s.db.SelectContext(ctx, &out, selectMoulds+` ORDER BY retired IS NOT NULL, number`, s.Shop)
	return out, err
}

// Rack lists a page of the rack: of those whose number, job or rubber has a text, limit
// after skip, and how many there are.
func (s *Store) Rack(ctx context.Context, text string, limit, skip int) (out []Mould, total int, err error) {
	const named = ` AND (number ILIKE $2 OR job.name ILIKE $2 OR rubber ILIKE $2)`
	like := "%" + likeEscape.Replace(text) + "%"
	if err := s.db.GetContext(ctx, &total, `SELECT count(*) FROM mould JOIN job ON job.id = job_id WHERE mould.shop_id = $1`+named,
		s.Shop, like); err != nil {
		return nil, 0, err
	}
	err = s.db.SelectContext(ctx, &out, selectMoulds+named+` ORDER BY retired IS NOT NULL, number LIMIT $3 OFFSET $4`,
		s.Shop, like, limit, skip)
	return out, total, err
}

// likeEscape keeps what was typed from being taken for a pattern.
var likeEscape = strings.NewReplacer(`\`, `\\`, `%`, `\%`, `_`, `\_`)

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

// DesignOf is the design that a mould was poured from; nil where there was none.
func (s *Store) DesignOf(ctx context.Context, mould uuid.UUID) (*design.Design, error) {
	var doc []byte
	if err := s.db.GetContext(ctx, &doc, `SELECT design FROM mould WHERE id = $1 AND shop_id = $2`, mould, s.Shop); err != nil || doc == nil {
		return nil, err
	}
	d, err := design.Decode(doc)
	return &d.Design, err
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
	return s.addOnce(ctx, insertMould+` ON CONFLICT (id) DO NOTHING`,
		`SELECT FROM mould WHERE id = $1 AND shop_id = $2 AND number = $3`, m.Number, s.values(m)...)
}

const insertMould = `INSERT INTO mould (id, shop_id, job_id, number, rubber, poured, cavities, kind, design, design_version, session_id,
		birth, place, pieces, lot)
	SELECT $1, $2, job.id, $4, $5, $6, $7, $8, job.design, job.design_version, $9, $10, $11, $12, $13
	FROM job WHERE job.id = $3 AND job.shop_id = $2`

// values are those of insertMould.
func (s *Store) values(m Mould) []any {
	return []any{m.ID, s.Shop, m.JobID, m.Number, m.Rubber, m.Poured, m.Cavities, m.Kind, m.SessionID, m.Birth, m.Place, m.Pieces, m.Lot}
}

// RetireMould takes a mould out of use, or back into it when retired is nil, and says
// how it ended.
func (s *Store) RetireMould(ctx context.Context, id uuid.UUID, retired *time.Time, ended string) error {
	if retired == nil {
		ended = ""
	}
	return s.one(ctx, `UPDATE mould SET retired = $3, ended = $4, worn_out = $5 WHERE id = $1 AND shop_id = $2`,
		id, s.Shop, retired, ended, ended == Worn)
}

// MouldFacts are what may have been entered wrongly of a mould.
type MouldFacts struct {
	Number   string
	Rubber   string
	Poured   time.Time
	Cavities int
	Birth    *Flaws `json:",omitempty"`
	Place    string `json:",omitempty"`
	Pieces   int    `json:",omitempty"`
	Lot      string `json:",omitempty"`
}

// CorrectMould puts right what was entered of a mould, if it still has the
// version. What was there can still be read.
func (s *Store) CorrectMould(ctx context.Context, id uuid.UUID, m MouldFacts, f From) error {
	return s.once(ctx, f, func(tx *sqlx.Tx) error {
		var was MouldFacts
		err := tx.GetContext(ctx, &was, `SELECT number, rubber, poured, cavities, birth, place, pieces, lot FROM mould
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
		_, err = tx.ExecContext(ctx, `UPDATE mould SET number = $2, rubber = $3, poured = $4, cavities = $5, birth = $6, place = $7,
			pieces = $8, lot = $9, version = version + 1 WHERE id = $1`, id, m.Number, m.Rubber, m.Poured, m.Cavities, m.Birth, m.Place,
			m.Pieces, m.Lot)
		return taken(err)
	})
}

// Logged is what some moulds of a rubber have done, each of them the same.
type Logged struct {
	Rubber   string
	Kind     string
	Pulls    int
	WornOut  bool `db:"worn_out"`
	Accident bool // it was torn by hand, spoilt or lost
	Moulds   int
}

const selectLog = `SELECT rubber, kind, pulls, worn_out, ended IN ('torn', 'spoilt', 'lost') AS accident, count(*) AS moulds
	FROM mould WHERE shop_id = $1`

const groupLog = ` GROUP BY rubber, kind, pulls, worn_out, accident ORDER BY kind, pulls, worn_out, accident`

// Log is what all moulds of a rubber have done, retired ones as well.
func (s *Store) Log(ctx context.Context, rubber string) ([]Logged, error) {
	var out []Logged
	err := s.db.SelectContext(ctx, &out,
		selectLog+` AND rubber = $2`+groupLog, s.Shop, rubber)
	return out, err
}

// Logs are what all moulds have done, by their rubber.
func (s *Store) Logs(ctx context.Context) (map[string][]Logged, error) {
	var all []Logged
	err := s.db.SelectContext(ctx, &all, selectLog+groupLog, s.Shop)
	out := make(map[string][]Logged)
	for _, l := range all {
		out[l.Rubber] = append(out[l.Rubber], l)
	}
	return out, err
}
