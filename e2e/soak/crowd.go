package main

import (
	"context"
	"database/sql"

	_ "github.com/jackc/pgx/v5/stdlib" // the "pgx" driver
)

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
