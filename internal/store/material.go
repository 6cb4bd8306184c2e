package store

import (
	"context"

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
	Version  int
}

// Mix returns the material as the core reckons with it.
func (m Material) Mix() mix.Material {
	out := mix.Material{Name: m.Name, Ratio: mix.Ratio{A: m.PartsA, B: m.PartsB, ByVolume: m.ByVolume}, Density: m.Density}
	if m.DensityA != nil {
		out.DensityA = *m.DensityA
	}
	if m.DensityB != nil {
		out.DensityB = *m.DensityB
	}
	return out
}

const materialColumns = `id, kind, name, parts_a, parts_b, by_volume, density, density_a, density_b, source, version`

// Materials lists the shelf, rubbers first.
func (s *Store) Materials(ctx context.Context) ([]Material, error) {
	var out []Material
	err := s.db.SelectContext(ctx, &out, `SELECT `+materialColumns+` FROM material WHERE shop_id = $1 ORDER BY kind DESC, name`, s.Shop)
	return out, err
}

// AddMaterial puts a material on the shelf.
func (s *Store) AddMaterial(ctx context.Context, m Material) error {
	_, err := s.db.ExecContext(ctx, `INSERT INTO material
		(id, shop_id, kind, name, parts_a, parts_b, by_volume, density, density_a, density_b, source)
		VALUES ($1, $2, $3, $4, $5, $6, $7, $8, $9, $10, $11)`,
		m.ID, s.Shop, m.Kind, m.Name, m.PartsA, m.PartsB, m.ByVolume, m.Density, m.DensityA, m.DensityB, m.Source)
	return taken(err)
}

// WriteMaterial changes a material if it still has m.Version.
func (s *Store) WriteMaterial(ctx context.Context, m Material) error {
	return s.changeOne(ctx, `UPDATE material SET kind = $4, name = $5, parts_a = $6, parts_b = $7, by_volume = $8,
		density = $9, density_a = $10, density_b = $11, source = $12, version = version + 1
		WHERE id = $1 AND shop_id = $2 AND version = $3`,
		m.ID, s.Shop, m.Version, m.Kind, m.Name, m.PartsA, m.PartsB, m.ByVolume, m.Density, m.DensityA, m.DensityB, m.Source)
}
