package main

import (
	"context"
	"database/sql"
	"fmt"

	"bathyform/internal/store"

	_ "github.com/jackc/pgx/v5/stdlib" // the "pgx" driver
)

// crowd fills a shop with jobs of fifty moulds each, and their pulls.
func crowd(ctx context.Context, url string, moulds, pulls int) error {
	db, err := sql.Open("pgx", url)
	if err != nil {
		return err
	}
	defer db.Close()
	shop := store.DemoShop.String()
	for _, statement := range []string{
		fmt.Sprintf(`INSERT INTO job (id, shop_id, name, quantity)
			SELECT gen_random_uuid(), '%s', 'Crowd ' || n, 5000 FROM generate_series(1, %d) n`, shop, max(1, moulds/50)),
		fmt.Sprintf(`INSERT INTO mould (id, shop_id, job_id, number, rubber, poured, cavities, retired, worn_out)
			SELECT gen_random_uuid(), '%s', j.id, 'C-' || j.n || '-' || m, 'rubber ' || (m %% 6), now() - interval '90 days', 1,
				CASE WHEN m %% 3 = 0 THEN current_date END, m %% 3 = 0
			FROM (SELECT id, row_number() OVER () AS n FROM job WHERE name LIKE 'Crowd %%') j, generate_series(1, 50) m LIMIT %d`, shop, moulds),
		fmt.Sprintf(`INSERT INTO pull (id, mould_id, pulled)
			SELECT gen_random_uuid(), m.id, current_date - (n %% 80)::int
			FROM (SELECT id, row_number() OVER () AS k FROM mould WHERE number LIKE 'C-%%') m, generate_series(1, 100) n
			WHERE n <= %d / %d + (m.k %% 21) - 10 LIMIT %d`, pulls, max(1, moulds), pulls),
		`INSERT INTO pull_result (pull_id, cavity, good, defect)
			SELECT p.id, 1, hashtext(p.id::text) % 9 <> 0, CASE WHEN hashtext(p.id::text) % 9 = 0 THEN 'void' ELSE '' END
			FROM pull p JOIN mould m ON m.id = p.mould_id WHERE m.number LIKE 'C-%'`,
		`UPDATE mould SET pulls = d.pulls, good = d.good, scrap = d.pulls - d.good
			FROM (SELECT mould_id, count(*) AS pulls, count(*) FILTER (WHERE r.good) AS good
				FROM pull JOIN pull_result r ON r.pull_id = pull.id GROUP BY mould_id) d
			WHERE d.mould_id = mould.id AND number LIKE 'C-%'`,
		`ANALYZE job, mould, pull, pull_result`,
	} {
		if _, err := db.ExecContext(ctx, statement); err != nil {
			return fmt.Errorf("fill the shop: %w", err)
		}
	}
	return nil
}

// kept is what the log holds of what was acknowledged.
type kept struct {
	pulls   int // acknowledged and there, once
	lost    int
	miscast int // moulds whose count is not that of their log
}

func inLog(ctx context.Context, url string, acknowledged map[string]string) (k kept, err error) {
	db, err := sql.Open("pgx", url)
	if err != nil {
		return k, err
	}
	defer db.Close()
	for id, mould := range acknowledged {
		var n int
		if err := db.QueryRowContext(ctx, `SELECT count(*) FROM pull WHERE id = $1 AND mould_id = $2`, id, mould).Scan(&n); err != nil {
			return k, err
		}
		if n == 1 {
			k.pulls++
		} else {
			k.lost++
		}
	}
	err = db.QueryRowContext(ctx, `SELECT count(*) FROM mould WHERE pulls <> (SELECT count(*) FROM pull WHERE mould_id = mould.id)`).
		Scan(&k.miscast)
	return k, err
}
