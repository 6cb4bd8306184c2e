package store

import (
	"context"
	"time"

	"github.com/google/uuid"
	"github.com/jmoiron/sqlx"
)

// Lot is what was bought of a material at once.
type Lot struct {
	ID         uuid.UUID
	MaterialID uuid.UUID `db:"material_id"`
	Name       string
	Bought     time.Time
	Opened     *time.Time
	Expires    *time.Time
	Keeps      *int     // days, once it is open
	GramsA     float64  `db:"grams_a"` // as bought
	GramsB     float64  `db:"grams_b"`
	Price      *float64 // a kilogram, in the shop's money
	Version    int
}

// Move is what went out of the stock, or was counted in it.
type Move struct {
	ID         uuid.UUID
	MaterialID uuid.UUID `db:"material_id"`
	Lot        string    // empty where nobody wrote it down
	Day        time.Time
	What       string
	GramsA     float64 `db:"grams_a"`
	GramsB     float64 `db:"grams_b"`
	Says       string
	SessionID  *uuid.UUID `db:"session_id"`
}

// What a move is.
const (
	Drawn   = "drawn"   // weighed
	Thrown  = "thrown"  // away
	Counted = "counted" // on the shelf
)

// Lots are all of the shop, the oldest first.
func (s *Store) Lots(ctx context.Context) (out []Lot, err error) {
	err = s.db.SelectContext(ctx, &out, `SELECT id, material_id, name, bought, opened, expires, keeps, grams_a, grams_b, price, version
		FROM lot WHERE shop_id = $1 ORDER BY bought, name`, s.Shop)
	return out, err
}

// Lot is one of the shop.
func (s *Store) Lot(ctx context.Context, id uuid.UUID) (Lot, error) {
	all, err := s.Lots(ctx)
	for _, l := range all {
		if l.ID == id {
			return l, nil
		}
	}
	if err == nil {
		err = ErrNotFound
	}
	return Lot{}, err
}

// AddLot puts a lot on the shelf. One that is there already under its ID stays as it is.
func (s *Store) AddLot(ctx context.Context, l Lot) error {
	return s.addOnce(ctx, `INSERT INTO lot (id, shop_id, material_id, name, bought, opened, expires, keeps, grams_a, grams_b, price)
		VALUES ($1, $2, $3, $4, $5, $6, $7, $8, $9, $10, $11) ON CONFLICT (id) DO NOTHING`,
		`SELECT FROM lot WHERE id = $1 AND shop_id = $2 AND name = $3`, l.Name,
		l.ID, s.Shop, l.MaterialID, l.Name, l.Bought, l.Opened, l.Expires, l.Keeps, l.GramsA, l.GramsB, l.Price)
}

// WriteLot changes a lot if it still has the version.
func (s *Store) WriteLot(ctx context.Context, l Lot, f From) error {
	return s.changeOne(ctx, f, `UPDATE lot SET name = $4, bought = $5, opened = $6, expires = $7, keeps = $8, grams_a = $9, grams_b = $10,
		price = $11, version = version + 1 WHERE id = $1 AND shop_id = $2 AND version = $3`,
		l.ID, s.Shop, f.Version, l.Name, l.Bought, l.Opened, l.Expires, l.Keeps, l.GramsA, l.GramsB, l.Price)
}

// AddMove keeps a move; under its ID it is kept once.
func (s *Store) AddMove(ctx context.Context, m Move) error {
	return s.inTx(ctx, func(tx *sqlx.Tx) error { return s.addMove(ctx, tx, m) })
}

func (s *Store) addMove(ctx context.Context, tx *sqlx.Tx, m Move) error {
	_, err := tx.ExecContext(ctx, `INSERT INTO stock_move (id, shop_id, material_id, lot, day, what, grams_a, grams_b, says, session_id)
		VALUES ($1, $2, $3, $4, $5, $6, $7, $8, $9, $10) ON CONFLICT (id) DO NOTHING`,
		m.ID, s.Shop, m.MaterialID, m.Lot, m.Day, m.What, m.GramsA, m.GramsB, m.Says, m.SessionID)
	return err
}

// Moves are all of the stock, the oldest first: those that were kept as such, and what
// pulls took that were written down by hand, a line a day and lot.
func (s *Store) Moves(ctx context.Context) (out []Move, err error) {
	err = s.db.SelectContext(ctx, &out, `
		SELECT id, material_id, lot, day, what, grams_a, grams_b, says, session_id FROM stock_move WHERE shop_id = $1
		UNION ALL
		SELECT '00000000-0000-0000-0000-000000000000', material.id, coalesce(conditions->>'lot', ''), pulled, 'drawn',
		       coalesce(sum(mass_a), 0), coalesce(sum(mass_b), 0), count(*) || ' × ' || job.name, NULL
		FROM pull JOIN mould ON mould.id = mould_id JOIN job ON job.id = mould.job_id
		JOIN material ON material.shop_id = mould.shop_id AND material.id::text = pull.resin
		WHERE mould.shop_id = $1 AND pull.struck IS NULL AND (mass_a IS NOT NULL OR mass_b IS NOT NULL)
		  AND (pull.session_id IS NULL OR NOT EXISTS (SELECT FROM stock_move m WHERE m.session_id = pull.session_id))
		GROUP BY material.id, coalesce(conditions->>'lot', ''), pulled, job.id, job.name
		ORDER BY day, says`, s.Shop)
	return out, err
}

// RubberByMould is what moulds of each job took of their rubber, as it was weighed at the
// bench; g a mould.
func (s *Store) RubberByMould(ctx context.Context) (map[uuid.UUID]float64, error) {
	var all []struct {
		JobID uuid.UUID `db:"job_id"`
		Grams float64
	}
	err := s.db.SelectContext(ctx, &all, `SELECT job_id, sum(grams) / sum(moulds) AS grams FROM (
			SELECT session.job_id, sum(grams_a + grams_b) AS grams, (SELECT count(*) FROM mould WHERE mould.session_id = session.id) AS moulds
			FROM session JOIN stock_move m ON m.session_id = session.id
			WHERE session.shop_id = $1 AND session.kind = 'rubber' AND session.job_id IS NOT NULL GROUP BY session.id, session.job_id) s
		WHERE moulds > 0 GROUP BY job_id`, s.Shop)
	out := make(map[uuid.UUID]float64, len(all))
	for _, t := range all {
		out[t.JobID] = t.Grams
	}
	return out, err
}

// Taken is what one casting of a job takes of its resin, as it was weighed.
type Taken struct {
	JobID    uuid.UUID `db:"job_id"`
	Castings int       // of the latest pulls that were weighed
	Grams    float64   // a casting, with its share of sprue, vents and cup
}

// lastWeighed is how many pulls tell what one takes.
const lastWeighed = 20

// TakenByCasting is what castings of each job took lately.
func (s *Store) TakenByCasting(ctx context.Context) (map[uuid.UUID]Taken, error) {
	var all []Taken
	err := s.db.SelectContext(ctx, &all, `SELECT job_id, sum(castings) AS castings, sum(grams) / sum(castings) AS grams FROM (
			SELECT mould.job_id, mass_a + coalesce(mass_b, 0) AS grams,
			       greatest(1, (SELECT count(*) FROM pull_result WHERE pull_id = pull.id)) AS castings,
			       row_number() OVER (PARTITION BY mould.job_id ORDER BY pulled DESC, logged DESC) AS n
			FROM pull JOIN mould ON mould.id = mould_id WHERE shop_id = $1 AND pull.struck IS NULL AND mass_a IS NOT NULL) p
		WHERE n <= $2 GROUP BY job_id`, s.Shop, lastWeighed)
	out := make(map[uuid.UUID]Taken, len(all))
	for _, t := range all {
		out[t.JobID] = t
	}
	return out, err
}
