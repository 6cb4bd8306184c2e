package store

import (
	"context"
	"database/sql"
	"fmt"

	"bathyform/core/design"

	"github.com/google/uuid"
	"github.com/pressly/goose/v3"
)

// Designs and briefs are kept as their documents. Until version 4 the
// database held them under the names that the program's types had; version 5
// writes them anew. A document that cannot be read stops the change, with the
// row named, and nothing is lost.
var intoDocuments = goose.NewGoMigration(5, &goose.GoFunc{RunTx: func(ctx context.Context, tx *sql.Tx) error {
	for _, column := range []struct {
		table, name string
		now         func(old []byte) ([]byte, error)
	}{
		{"job", "design", designNow}, {"mould", "design", designNow}, {"job", "brief", briefNow},
	} {
		if err := rewrite(ctx, tx, column.table, column.name, column.now); err != nil {
			return err
		}
	}
	return nil
}}, &goose.GoFunc{RunTx: func(context.Context, *sql.Tx) error { return nil }}) // the older program reads no documents, but loses none

func designNow(old []byte) ([]byte, error) {
	doc, err := design.Decode(old)
	if err != nil {
		return nil, err
	}
	return doc.Encode()
}

func briefNow(old []byte) ([]byte, error) {
	b, err := design.DecodeBrief(old)
	if err != nil {
		return nil, err
	}
	return design.EncodeBrief(b)
}

func rewrite(ctx context.Context, tx *sql.Tx, table, column string, now func(old []byte) ([]byte, error)) error {
	rows, err := tx.QueryContext(ctx, fmt.Sprintf(`SELECT id, %s FROM %s WHERE %s IS NOT NULL`, column, table, column))
	if err != nil {
		return err
	}
	docs := make(map[uuid.UUID][]byte)
	for rows.Next() {
		var id uuid.UUID
		var old []byte
		if err := rows.Scan(&id, &old); err != nil {
			return err
		}
		if docs[id], err = now(old); err != nil {
			return fmt.Errorf("the %s of %s %s: %w", column, table, id, err)
		}
	}
	if err := rows.Err(); err != nil {
		return err
	}
	for id, doc := range docs {
		if _, err := tx.ExecContext(ctx, fmt.Sprintf(`UPDATE %s SET %s = $2 WHERE id = $1`, table, column), id, doc); err != nil {
			return err
		}
	}
	return nil
}
