package store

import (
	"context"
	"time"

	"github.com/google/uuid"
)

// Lived is a mould with the days of its pulls.
type Lived struct {
	ID      uuid.UUID
	Number  string
	JobName string `db:"job_name"`
	Kind    string
	Poured  time.Time
	Retired *time.Time
	WornOut bool        `db:"worn_out"`
	Pulled  []time.Time `db:"-"` // in order
}

// Lives are all moulds of a rubber with the days of their pulls, in the order in which
// they were poured.
func (s *Store) Lives(ctx context.Context, rubber string) ([]Lived, error) {
	var out []Lived
	err := s.db.SelectContext(ctx, &out, `SELECT mould.id, number, job.name AS job_name, mould.kind AS kind, poured, retired, worn_out
		FROM mould JOIN job ON job.id = job_id WHERE mould.shop_id = $1 AND rubber = $2 ORDER BY poured, number`, s.Shop, rubber)
	if err != nil {
		return nil, err
	}
	at := make(map[uuid.UUID]int, len(out))
	for i, m := range out {
		at[m.ID] = i
	}
	var pulls []struct {
		Mould  uuid.UUID
		Pulled time.Time
	}
	err = s.db.SelectContext(ctx, &pulls, `SELECT mould_id AS mould, pulled FROM pull JOIN mould ON mould.id = mould_id
		WHERE mould.shop_id = $1 AND rubber = $2 AND struck IS NULL ORDER BY pulled`, s.Shop, rubber)
	for _, p := range pulls {
		if i, known := at[p.Mould]; known { // else it was poured a moment ago
			out[i].Pulled = append(out[i].Pulled, p.Pulled)
		}
	}
	return out, err
}
