package store

import (
	"context"
	"time"

	"github.com/google/uuid"
)

// InhibitionTest is a dab of rubber on a surface and whether it cured.
type InhibitionTest struct {
	ID      uuid.UUID
	Rubber  string
	Surface string
	Tested  time.Time
	Cured   bool
	Notes   string
}

// InhibitionTests lists the shop's tests, newest first.
func (s *Store) InhibitionTests(ctx context.Context) ([]InhibitionTest, error) {
	var out []InhibitionTest
	err := s.db.SelectContext(ctx, &out, `SELECT id, rubber, surface, tested, cured, notes FROM inhibition_test
		WHERE shop_id = $1 ORDER BY tested DESC, id`, s.Shop)
	return out, err
}

// AddInhibitionTest logs a test. One that is logged already under its ID stays
// as it is.
func (s *Store) AddInhibitionTest(ctx context.Context, t InhibitionTest) error {
	return s.addOnce(ctx, `INSERT INTO inhibition_test (id, shop_id, rubber, surface, tested, cured, notes)
		VALUES ($1, $2, $3, $4, $5, $6, $7) ON CONFLICT (id) DO NOTHING`,
		`SELECT FROM inhibition_test WHERE id = $1 AND shop_id = $2 AND surface = $3`, t.Surface,
		t.ID, s.Shop, t.Rubber, t.Surface, t.Tested, t.Cured, t.Notes)
}
