package store

import (
	"context"
	"database/sql"
	"encoding/json"
	"errors"

	"bathyform/core/practice"
)

// Shop is a workshop and how it does things.
type Shop struct {
	Name     string
	Practice practice.House
	Version  int
}

// ReadShop returns the shop, ErrNotFound before it was set up.
func (s *Store) ReadShop(ctx context.Context) (Shop, error) {
	var row struct {
		Name     string
		Practice []byte
		Version  int
	}
	err := s.db.GetContext(ctx, &row, `SELECT name, practice, version FROM shop WHERE id = $1`, s.Shop)
	if errors.Is(err, sql.ErrNoRows) {
		return Shop{}, ErrNotFound
	}
	if err != nil {
		return Shop{}, err
	}
	shop := Shop{Name: row.Name, Practice: practice.Usual(), Version: row.Version}
	return shop, json.Unmarshal(row.Practice, &shop.Practice)
}

// SetUpShop makes the shop unless it is there.
func (s *Store) SetUpShop(ctx context.Context, name string, h practice.House) error {
	doc, err := json.Marshal(h)
	if err != nil {
		return err
	}
	_, err = s.db.ExecContext(ctx, `INSERT INTO shop (id, name, practice) VALUES ($1, $2, $3) ON CONFLICT DO NOTHING`, s.Shop, name, doc)
	return err
}

// WritePractice keeps the house practice if the shop still has the version
// that the change started from.
func (s *Store) WritePractice(ctx context.Context, h practice.House, f From) error {
	doc, err := json.Marshal(h)
	if err != nil {
		return err
	}
	return s.changeOne(ctx, f, `UPDATE shop SET practice = $3, version = version + 1
		WHERE id = $1 AND version = $2`, s.Shop, f.Version, doc)
}
