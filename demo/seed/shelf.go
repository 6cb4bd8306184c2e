package seed

import (
	"context"
	"fmt"
	"time"

	"bathyform/internal/store"

	"github.com/google/uuid"
)

func yes(is bool) *bool { return &is }

// fillShelf puts lots on the demo's shelf and writes down what its people have measured.
func fillShelf(ctx context.Context, s *store.Store, shelf map[string]uuid.UUID, today time.Time) error {
	ago := func(days int) time.Time { return today.AddDate(0, 0, -days) }
	on := func(days int) *time.Time { day := ago(days); return &day }
	for _, l := range []store.Lot{
		{MaterialID: shelf[SampleRubber], Name: "R-311", Bought: ago(60), Opened: on(24), Expires: on(-150),
			GramsA: 5000, GramsB: 500, Price: f(19)},
		{MaterialID: shelf[SampleResin], Name: "U-2041", Bought: ago(40), Opened: on(23), Expires: on(-80), Keeps: days(120),
			GramsA: 4240, GramsB: 3786, Price: f(14)},
		{MaterialID: shelf[slowResin], Name: "U-1187", Bought: ago(300), Opened: on(200), Expires: on(12),
			GramsA: 1000, GramsB: 900, Price: f(17)},
	} {
		l.ID = uuid.New()
		if err := s.AddLot(ctx, l); err != nil {
			return fmt.Errorf("seed lot %s: %w", l.Name, err)
		}
	}
	measured := func(what, material string, value float64, celsius, grams *float64) error {
		return s.AddMeasured(
			ctx,
			store.Measured{ID: uuid.New(), Day: ago(5), What: what, Material: material, Value: value, Celsius: celsius,
				Grams: grams},
		)
	}
	for i, g := range []float64{1.7, 2.1, 1.9, 1.8, 2.0} {
		if err := measured(store.Residue, SampleResin, g, nil, f(83+float64(i))); err != nil {
			return err
		}
	}
	for _, g := range []float64{2.6, 3.1} {
		if err := measured(store.Residue, slowResin, g, nil, f(90)); err != nil {
			return err
		}
	}
	for _, c := range [][2]float64{{19, 4.4}, {21, 3.9}, {23, 3.3}, {26, 2.6}} {
		if err := measured(store.Gel, SampleResin, c[1], f(c[0]), f(100)); err != nil {
			return err
		}
	}
	for _, m := range []float64{16, 18, 15, 17} {
		if err := measured(store.Demould, SampleResin, m, f(21), nil); err != nil {
			return err
		}
	}
	return nil
}

// slowResin is one that the demo has measured twice only.
const slowResin = "Rigid urethane, 7 min"

func days(n int) *int { return &n }
