package api

import (
	"context"
	"fmt"
	"slices"

	"bathyform/core/derive"
	"bathyform/core/pattern"
	"bathyform/core/quantity"
	"bathyform/internal/store"

	"github.com/google/uuid"
	openapi_types "github.com/oapi-codegen/runtime/types"
	"gonum.org/v1/gonum/spatial/r3"
)

// How far from one another defects at the same spot may lie, as a share of the part's
// diagonal, and no less than so many mm: as well as anybody points. Common practice,
// no source.
const (
	sameSpot   = 0.06
	leastSpot  = 3.0
	mostLights = 12  // that are shown, the latest first
	mostMarks  = 120 // that are looked at, the latest of them
	mostShares = 1000
)

// shown is what of a job's castings was shown on the part, and what they weighed.
func (s *Server) shown(ctx context.Context, l *ledger, j store.Job, castings []store.Casting, out *Taught) error {
	marks, places, light := []ScrapMark{}, []ScrapPlace{}, []LightCasting{}
	castings = slices.Clone(castings)
	slices.SortStableFunc(castings, func(a, b store.Casting) int { return a.Pulled.Compare(b.Pulled) })
	var all []pattern.Marked
	weights := make(map[string][]pattern.Weight) // by resin: one that is lighter makes no void
	for _, c := range castings {
		if c.Place != nil && !c.Good {
			at := r3.Vec{X: c.Place[0], Y: c.Place[1], Z: c.Place[2]}
			all = append(all, pattern.Marked{At: at, Mould: c.Number, Cavity: c.Cavity, Defect: c.Defect})
			marks = append(marks, ScrapMark{At: c.Place[:], Defect: c.Defect, Mould: c.Number, Cavity: c.Cavity})
		}
		if c.Weight != nil {
			weights[c.Resin] = append(weights[c.Resin], pattern.Weight{Grams: *c.Weight, Good: c.Good})
		}
	}
	all, marks = all[max(0, len(all)-mostMarks):], marks[max(0, len(marks)-mostMarks):]
	if len(all) > 0 && j.Master != nil && j.MeshSHA != "" {
		master, err := s.hand.take(ctx, j)
		if err != nil {
			return err
		}
		size := master.Solid.Bounds().Size()
		radius := max(leastSpot, sameSpot*r3.Norm(size))
		share := func(at r3.Vec, radius float64) float64 {
			key := fmt.Sprint(shapeKey(j), at, radius)
			v, _ := s.shares.Get(ctx, key, func(context.Context) (float64, error) {
				return master.Solid.AreaWithin(at, radius) / master.Solid.Area(), nil
			})
			return v
		}
		for _, p := range pattern.Places(all, radius, share) {
			places = append(
				places,
				ScrapPlace{At: point(p.At), Says: p.Says, Suggest: p.Suggest, Chance: digits(p.Chance, 2), Tried: p.Tried},
			)
		}
	}
	shop, err := s.store.ReadShop(ctx)
	if err != nil {
		return err
	}
	usual, densities := make(map[string]pattern.Usual), make(map[string]float64)
	for resin, of := range weights {
		if u, ok := pattern.UsualOf(of, shop.Practice.ScaleStep); ok {
			usual[resin], densities[resin] = u, s.density(ctx, resin, j)
		}
	}
	for i := len(castings) - 1; i >= 0 && len(light) < mostLights; i-- {
		c := castings[i]
		if u, ok := usual[c.Resin]; ok && c.Weight != nil && *c.Weight < u.Limit {
			light = append(light, l.light(c, u, densities[c.Resin]))
		}
	}
	out.Marks, out.Places, out.Light = &marks, &places, &light
	return nil
}

// light is a casting that weighs less than its like.
func (l *ledger) light(c store.Casting, usual pattern.Usual, density float64) LightCasting {
	missing := derive.Of(
		quantity.Mass,
		digits(usual.Grams-*c.Weight, 3),
		"what good ones weigh − what it weighs",
		derive.From(
			"what good ones weigh",
			quantity.Mass,
			digits(usual.Grams, 4),
			fmt.Sprintf("the log: the median of %d", usual.Weighed),
		),
		derive.From("what it weighs", quantity.Mass, *c.Weight, "the log"),
		derive.From("light below", quantity.Mass, digits(usual.Limit, 4),
			"three deviations, two digits of the scale or one per cent under it, whichever is most; common practice, no source"),
	)
	out := LightCasting{Mould: c.Number, MouldId: c.MouldID, Cavity: c.Cavity, Pulled: openapi_types.Date{Time: c.Pulled},
		Weighed: *c.Weight, Missing: l.number(missing)}
	if density > 0 {
		void := derive.Of(quantity.Volume, digits(missing.Value/density, 2), "what is missing / density", missing.As("what is missing"),
			derive.From("density", quantity.Density, density, "the resin's sheet"))
		out.Void = l.some(&void)
	}
	return out
}

// density is that of a resin, or of the job's where nobody wrote down which, g/mL; 0
// where none is known.
func (s *Server) density(ctx context.Context, resin string, j store.Job) float64 {
	if resin == "" && j.Design != nil {
		resin = j.Design.Resin
	}
	id, err := uuid.Parse(resin)
	if err != nil {
		return 0
	}
	m, err := s.store.Material(ctx, id)
	if err != nil {
		return 0
	}
	return m.Density
}
