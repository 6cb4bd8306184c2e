// Package crowd fills a shop with years of work, to see how it bears that.
package crowd

import (
	"context"
	"database/sql"
	"fmt"

	"bathyform/internal/store"

	_ "github.com/jackc/pgx/v5/stdlib" // the "pgx" driver
)

// Fill fills a shop with jobs of fifty moulds each, of twenty rubbers, and with their
// pulls.
func Fill(ctx context.Context, url string, moulds, pulls int) error {
	db, err := sql.Open("pgx", url)
	if err != nil {
		return err
	}
	defer db.Close()
	shop := store.DemoShop.String()
	for _, statement := range []string{
		fmt.Sprintf(`INSERT INTO job (id, shop_id, name, quantity)
			SELECT gen_random_uuid(), '%s', 'Crowd ' || n, 5000 FROM generate_series(1, %d) n`, shop, max(1, moulds/50)),
		fmt.Sprintf(`INSERT INTO mould (id, shop_id, job_id, number, rubber, poured, cavities, retired, worn_out, ended)
			SELECT gen_random_uuid(), '%s', j.id, 'C-' || j.n || '-' || m, 'rubber ' || ((m + j.n) %% 20), now() - interval '90 days', 1,
				CASE WHEN m %% 3 = 0 THEN current_date END, m %% 3 = 0,
				CASE WHEN m %% 3 = 0 THEN 'worn' ELSE '' END
			FROM (SELECT id, row_number() OVER () AS n FROM job WHERE name LIKE 'Crowd %%') j, generate_series(1, 50) m LIMIT %d`, shop, moulds),
		fmt.Sprintf(`INSERT INTO pull (id, mould_id, pulled, mass_a, mass_b, conditions)
			SELECT gen_random_uuid(), m.id, current_date - (n %% 80)::int, 44, 39,
				jsonb_build_object('celsius', 18 + n %% 9, 'lot', 'U-' || n %% 12, 'finishing', 3 + n %% 4)
			FROM (SELECT id, row_number() OVER () AS k FROM mould WHERE number LIKE 'C-%%') m, generate_series(1, 100) n
			WHERE n <= %d / %d + (m.k %% 21) - 10 LIMIT %d`, pulls, max(1, moulds), pulls),
		`INSERT INTO pull_result (pull_id, cavity, good, defect, weight)
			SELECT p.id, 1, hashtext(p.id::text) % 9 <> 0, CASE WHEN hashtext(p.id::text) % 9 = 0 THEN 'void' ELSE '' END, 33
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
