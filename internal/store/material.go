package store

import (
	"context"
	"database/sql/driver"
	"encoding/json"
	"fmt"

	"bathyform/core/mix"

	"github.com/google/uuid"
)

// Material is a rubber or a resin on the shelf.
type Material struct {
	ID       uuid.UUID
	Kind     string
	Name     string
	PartsA   float64  `db:"parts_a"`
	PartsB   float64  `db:"parts_b"`
	ByVolume bool     `db:"by_volume"`
	Density  float64  // g/mL, mixed
	DensityA *float64 `db:"density_a"`
	DensityB *float64 `db:"density_b"`
	Source   string
	Traits   Traits
	Version  int
}

// Traits is mix.Traits as a JSON column.
type Traits mix.Traits

// Scan reads the column.
func (t *Traits) Scan(src any) error {
	switch v := src.(type) {
	case []byte:
		return json.Unmarshal(v, t)
	case string:
		return json.Unmarshal([]byte(v), t)
	}
	return fmt.Errorf("traits of type %T", src)
}

// Value writes the column.
func (t Traits) Value() (driver.Value, error) {
	doc, err := json.Marshal(t)
	return string(doc), err
}

// Mix returns the material as the core reckons with it.
func (m Material) Mix() mix.Material {
	out := mix.Material{
		Name:    m.Name,
		Ratio:   mix.Ratio{A: m.PartsA, B: m.PartsB, ByVolume: m.ByVolume},
		Density: m.Density,
		Traits:  mix.Traits(m.Traits),
	}
	if m.DensityA != nil {
		out.DensityA = *m.DensityA
	}
	if m.DensityB != nil {
		out.DensityB = *m.DensityB
	}
	return out
}

const materialColumns = `id, kind, name, parts_a, parts_b, by_volume, density, density_a, density_b, source, traits, version`

// Materials lists the shelf, rubbers first.
func (s *Store) Materials(ctx context.Context) ([]Material, error) {
	var out []Material
	err := s.db.SelectContext(ctx, &out, `SELECT `+materialColumns+` FROM material WHERE shop_id = $1 ORDER BY kind DESC, name`, s.Shop)
	return out, err
}

// Material is one of the shelf.
func (s *Store) Material(ctx context.Context, id uuid.UUID) (Material, error) {
	var out []Material
	err := s.db.SelectContext(ctx, &out, `SELECT `+materialColumns+` FROM material WHERE id = $1 AND shop_id = $2`, id, s.Shop)
	if err == nil && len(out) == 0 {
		err = ErrNotFound
	}
	if err != nil {
		return Material{}, err
	}
	return out[0], nil
}

// AddMaterial puts a material on the shelf. One that is there already under
// its ID stays as it is.
func (s *Store) AddMaterial(ctx context.Context, m Material) error {
	return s.addOnce(ctx, `INSERT INTO material
		(id, shop_id, kind, name, parts_a, parts_b, by_volume, density, density_a, density_b, source, traits)
		VALUES ($1, $2, $3, $4, $5, $6, $7, $8, $9, $10, $11, $12) ON CONFLICT (id) DO NOTHING`,
		`SELECT FROM material WHERE id = $1 AND shop_id = $2 AND name = $3`, m.Name,
		m.ID, s.Shop, m.Kind, m.Name, m.PartsA, m.PartsB, m.ByVolume, m.Density, m.DensityA, m.DensityB, m.Source, m.Traits)
}

// WriteMaterial changes a material if it still has the version.
func (s *Store) WriteMaterial(ctx context.Context, m Material, f From) error {
	return s.changeOne(ctx, f, `UPDATE material SET kind = $4, name = $5, parts_a = $6, parts_b = $7, by_volume = $8,
		density = $9, density_a = $10, density_b = $11, source = $12, traits = $13, version = version + 1
		WHERE id = $1 AND shop_id = $2 AND version = $3`,
		m.ID, s.Shop, f.Version, m.Kind, m.Name, m.PartsA, m.PartsB, m.ByVolume, m.Density, m.DensityA, m.DensityB, m.Source, m.Traits)
}
