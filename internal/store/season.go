package store

import (
	"context"
	"encoding/json"
	"fmt"
	"time"

	"github.com/google/uuid"
	"github.com/jmoiron/sqlx"
)

// KnownPulls are those of some IDs that the log has already.
func (s *Store) KnownPulls(ctx context.Context, ids []uuid.UUID) (map[uuid.UUID]bool, error) {
	var known []uuid.UUID
	err := s.db.SelectContext(ctx, &known, `SELECT pull.id FROM pull JOIN mould ON mould.id = mould_id
		WHERE mould.shop_id = $1 AND pull.id = ANY($2)`, s.Shop, ids)
	out := make(map[uuid.UUID]bool, len(known))
	for _, id := range known {
		out[id] = true
	}
	return out, err
}

// atOnce is how many pulls go to the database in one question.
const atOnce = 500

// ImportPulls writes a season into the log, all of it or nothing, and tells how far
// it is; pulls that are there already stay as they are. It gives how many were added.
func (s *Store) ImportPulls(ctx context.Context, pulls []Pull, told func(done int)) (added int, err error) {
	err = s.inTx(ctx, func(tx *sqlx.Tx) error {
		moulds := map[uuid.UUID]Mould{}
		for _, p := range pulls {
			if _, ok := moulds[p.MouldID]; ok {
				continue
			}
			m, err := s.counting(ctx, tx, p.MouldID)
			if err != nil {
				return err
			}
			moulds[p.MouldID] = m
		}
		for from := 0; from < len(pulls); from += atOnce {
			batch := pulls[from:min(from+atOnce, len(pulls))]
			n, err := importBatch(ctx, tx, batch)
			if err != nil {
				return err
			}
			added += n
			told(from + len(batch))
		}
		_, err := tx.ExecContext(ctx, `UPDATE mould SET pulls = n.pulls, good = n.good, seconds = n.seconds, scrap = n.scrap FROM (
				SELECT mould.id, count(DISTINCT pull.id) AS pulls, count(*) FILTER (WHERE r.good) AS good,
				       count(*) FILTER (WHERE r.second) AS seconds, count(*) FILTER (WHERE NOT r.good AND NOT r.second) AS scrap
				FROM mould LEFT JOIN pull ON pull.mould_id = mould.id AND pull.struck IS NULL LEFT JOIN pull_result r ON r.pull_id = pull.id
				WHERE mould.id = ANY($1) GROUP BY mould.id) n
			WHERE mould.id = n.id`, ids(moulds))
		return err
	})
	return added, err
}

func ids(moulds map[uuid.UUID]Mould) (out []uuid.UUID) {
	for id := range moulds {
		out = append(out, id)
	}
	return out
}

// importBatch writes some pulls with their results in two questions.
func importBatch(ctx context.Context, tx *sqlx.Tx, pulls []Pull) (int, error) {
	type row struct {
		ID      uuid.UUID  `json:"id"`
		Mould   uuid.UUID  `json:"mould_id"`
		Pulled  string     `json:"pulled"`
		A       *float64   `json:"mass_a"`
		B       *float64   `json:"mass_b"`
		Notes   string     `json:"notes"`
		Under   Conditions `json:"conditions"`
		Resin   string     `json:"resin"`
		Struck  bool       `json:"struck"`
		Pull    uuid.UUID  `json:"pull_id"`
		Cavity  int        `json:"cavity"`
		Good    bool       `json:"good"`
		Second  bool       `json:"second"`
		Defect  string     `json:"defect"`
		Weight  *float64   `json:"weight"`
		Place   *Place     `json:"place"`
		Note    string     `json:"note"`
		Ordinal int        `json:"ordinal"`
	}
	var rows []row
	for i, p := range pulls {
		rows = append(
			rows,
			row{
				ID:      p.ID,
				Mould:   p.MouldID,
				Pulled:  p.Pulled.Format(time.DateOnly),
				A:       p.MassA,
				B:       p.MassB,
				Notes:   p.Notes,
				Under:   p.Conditions,
				Resin:   p.Resin,
				Struck:  p.Struck,
				Ordinal: i,
			},
		)
	}
	doc, err := json.Marshal(rows)
	if err != nil {
		return 0, err
	}
	var fresh []uuid.UUID
	if err := tx.SelectContext(ctx, &fresh, `
		INSERT INTO pull (id, mould_id, pulled, mass_a, mass_b, notes, conditions, resin, struck, logged)
		SELECT id, mould_id, pulled, mass_a, mass_b, notes, conditions, CASE WHEN resin = '' THEN (`+chosenResin+`WHERE mould.id = r.mould_id)
			ELSE coalesce((SELECT material.id::text FROM material JOIN mould ON mould.shop_id = material.shop_id
				WHERE mould.id = r.mould_id AND material.kind = 'resin' AND material.name = r.resin), '') END,
			CASE WHEN struck THEN now() END, clock_timestamp() + ordinal * interval '1 microsecond'
		FROM jsonb_to_recordset($1) AS r(id uuid, mould_id uuid, pulled date, mass_a numeric, mass_b numeric,
			notes text, conditions jsonb, resin text, struck boolean, ordinal int)
		ON CONFLICT (id) DO NOTHING RETURNING id`, doc); err != nil {
		return 0, fmt.Errorf("write a season into the log: %w", err)
	}
	isNew := make(map[uuid.UUID]bool, len(fresh))
	for _, id := range fresh {
		isNew[id] = true
	}
	results := []row{}
	for _, p := range pulls {
		for _, r := range p.Results {
			if isNew[p.ID] {
				results = append(
					results,
					row{Pull: p.ID, Cavity: r.Cavity, Good: r.Good, Second: r.Second, Defect: r.Defect, Weight: r.Weight,
						Place: r.Place, Note: r.Note},
				)
			}
		}
	}
	if doc, err = json.Marshal(results); err != nil {
		return 0, err
	}
	_, err = tx.ExecContext(ctx, `INSERT INTO pull_result (pull_id, cavity, good, second, defect, weight, place, note)
		SELECT pull_id, cavity, good, second, defect, weight, place, note FROM jsonb_to_recordset($1)
		AS r(pull_id uuid, cavity int, good boolean, second boolean, defect text, weight numeric, place jsonb, note text)`, doc)
	if err != nil {
		return 0, fmt.Errorf("write castings into the log: %w", err)
	}
	for _, p := range pulls {
		for _, ph := range p.Photos {
			if isNew[p.ID] {
				if err := addPhoto(ctx, tx, ph); err != nil {
					return 0, err
				}
			}
		}
	}
	return len(fresh), nil
}

// WholeLog are all pulls of the shop, the oldest first, struck ones as well.
func (s *Store) WholeLog(ctx context.Context) ([]Pull, error) {
	var pulls []Pull
	if err := s.db.SelectContext(ctx, &pulls, `
		SELECT pull.id, mould_id, mould.number AS mould_number, pulled, mass_a, mass_b, pull.notes, conditions,
		       struck IS NOT NULL AS struck, pull.version AS version, pull.session_id AS session_id,
		       coalesce((SELECT name FROM material WHERE material.id::text = pull.resin), '') AS resin
		FROM pull JOIN mould ON mould.id = mould_id WHERE mould.shop_id = $1 ORDER BY pulled, logged, pull.id`, s.Shop); err != nil {
		return nil, err
	}
	at := make(map[uuid.UUID]int, len(pulls))
	for i, p := range pulls {
		at[p.ID] = i
	}
	var results []Result
	if err := s.db.SelectContext(ctx, &results, `SELECT `+resultColumns+` FROM pull_result
		JOIN pull ON pull.id = pull_id JOIN mould ON mould.id = mould_id WHERE mould.shop_id = $1 ORDER BY pull_id, cavity`, s.Shop); err != nil {
		return nil, err
	}
	for _, r := range results {
		i := at[r.PullID]
		pulls[i].Results = append(pulls[i].Results, r)
	}
	return pulls, nil
}
