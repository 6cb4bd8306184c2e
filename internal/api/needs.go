package api

import (
	"context"
	"slices"

	"bathyform/core/derive"
	"bathyform/core/enough"
	"bathyform/core/quantity"
	"bathyform/core/stock"
	"bathyform/internal/store"

	"github.com/google/uuid"
)

// need is what an order still takes of its resin.
type need struct {
	stock.Need
	grams derive.Number
}

// needs is what the orders still take of each resin: as many castings as are to be planned,
// each as it was weighed lately, or by the part's volume where nothing was weighed yet.
func (s *Server) needs(ctx context.Context, shelf []store.Material) (map[uuid.UUID][]need, error) {
	jobs, err := s.store.Jobs(ctx)
	if err != nil {
		return nil, err
	}
	shop, err := s.store.ReadShop(ctx)
	if err != nil {
		return nil, err
	}
	taken, err := s.store.TakenByCasting(ctx)
	if err != nil {
		return nil, err
	}
	out := make(map[uuid.UUID][]need)
	for _, j := range jobs {
		if j.Design == nil || j.Good >= j.Order.Quantity {
			continue
		}
		at := slices.IndexFunc(shelf, func(m store.Material) bool { return m.ID.String() == j.Design.Resin })
		if at < 0 {
			continue
		}
		castings, err := yieldOf(shop.Practice, j.Good, j.Scrap+j.Seconds).Castings(j.Order.Quantity-j.Good, enough.Sure)
		if err != nil {
			continue
		}
		a, known := aCasting(j, taken[j.ID], shelf[at])
		if !known {
			continue
		}
		n := need{Need: stock.Need{Order: j.Order.Name, Grams: float64(castings) * a.Value, Due: dayOf(j.Order.Due)}}
		n.grams = derive.Of(
			quantity.Mass,
			digits(n.Grams, 3),
			"castings to plan × what one takes",
			derive.From(
				"castings to plan",
				quantity.Number,
				float64(castings),
				"95 times in 100 enough are good by then",
			),
			a.As("what one takes"),
		)
		out[shelf[at].ID] = append(out[shelf[at].ID], n)
	}
	return out, s.rubberNeeds(ctx, jobs, shelf, out)
}

// rubberNeeds adds what the moulds take that orders still want, where one was weighed
// at the bench: nobody guesses it for the others.
func (s *Server) rubberNeeds(ctx context.Context, jobs []store.Job, shelf []store.Material, out map[uuid.UUID][]need) error {
	weighed, err := s.store.RubberByMould(ctx)
	if err != nil {
		return err
	}
	for _, j := range jobs {
		grams := weighed[j.ID]
		if j.Design == nil || j.Good >= j.Order.Quantity || grams <= 0 {
			continue
		}
		at := slices.IndexFunc(shelf, func(m store.Material) bool { return m.ID.String() == j.Design.Rubber })
		if at < 0 {
			continue
		}
		moulds, err := s.store.MouldsOf(ctx, j.ID)
		if err != nil {
			return err
		}
		told, err := s.enough(ctx, newLedger(), j, moulds, j.Good, j.Scrap+j.Seconds)
		if err != nil || told == nil || told.Moulds == 0 {
			continue
		}
		pour := told.Moulds
		if pour < 0 { // not even the most are enough, and at least those are poured
			pour = mostNewMoulds
		}
		n := need{Need: stock.Need{Order: j.Order.Name, Grams: float64(pour) * grams, Due: dayOf(j.Order.Due)}}
		n.grams = derive.Of(quantity.Mass, digits(n.Grams, 3), "moulds to pour × what one takes",
			derive.From("moulds to pour", quantity.Number, float64(pour), "to finish the order 95 times in 100"),
			derive.From("what one takes", quantity.Mass, digits(grams, 4), "the bench, as it was weighed"))
		out[shelf[at].ID] = append(out[shelf[at].ID], n)
	}
	return nil
}

// aCasting is what one casting of a job takes of its resin.
func aCasting(j store.Job, taken store.Taken, resin store.Material) (derive.Number, bool) {
	if taken.Castings > 0 {
		return derive.Of(
			quantity.Mass,
			digits(taken.Grams, 4),
			"A and B as they were weighed / castings",
			derive.From(
				"castings",
				quantity.Number,
				float64(taken.Castings),
				"the log, of the latest pulls that were weighed",
			),
		), true
	}
	volume := 0.0 // mL
	switch {
	case j.Master == nil:
	case j.Master.Measured != nil:
		volume = j.Master.Measured.Volume
	case j.Master.Report != nil:
		volume = j.Master.Report.Cast / 1000
	}
	return derive.Of(quantity.Mass, digits(volume*resin.Density, 4), "volume of the part × density",
		derive.From("volume of the part", quantity.Volume, digits(volume, 4), "the master"),
		derive.From("density", quantity.Density, resin.Density, "the resin's sheet")).
		Noted("Without sprue and vents, until the first pull has been weighed."), volume > 0
}
