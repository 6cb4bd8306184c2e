package api

import (
	"cmp"
	"context"
	"fmt"
	"math"
	"slices"

	"bathyform/core/derive"
	"bathyform/core/learnt"
	"bathyform/core/practice"
	"bathyform/core/quantity"
	"bathyform/internal/store"

	openapi_types "github.com/oapi-codegen/runtime/types"
)

// How much of what was measured is looked at and shown.
const (
	mostMeasured = 50
	mostRows     = 40
	leastOffered = 3 // measurements before a figure is offered in place of the house's
)

// school is everything that the shop's log is learnt from.
type school struct {
	*ledger
	house    practice.House
	shelf    []store.Material
	measured []store.Measured
}

// GetLearnt tells what the log teaches of the figures that the shop reckons with.
func (s *Server) GetLearnt(ctx context.Context, _ GetLearntRequestObject) (GetLearntResponseObject, error) {
	shop, err := s.store.ReadShop(ctx)
	if err != nil {
		return nil, err
	}
	shelf, err := s.store.Materials(ctx)
	if err != nil {
		return nil, err
	}
	measured, err := s.store.Measured(ctx)
	if err != nil {
		return nil, err
	}
	yields, err := s.store.Yields(ctx)
	if err != nil {
		return nil, err
	}
	colours, err := s.store.Colours(ctx)
	if err != nil {
		return nil, err
	}
	demoulded, err := s.store.Demoulded(ctx)
	if err != nil {
		return nil, err
	}
	t := school{newLedger(), shop.Practice, shelf, measured}
	out := Learnt{
		Lessons: []LearntLesson{
			t.residue(),
			t.bucket(),
			t.pour(),
			t.demould(demoulded),
			t.gel(),
			t.yield(yields),
			t.colour(colours)},
		Measured: []Measurement{},
	}
	for _, m := range measured[:min(mostMeasured, len(measured))] {
		out.Measured = append(
			out.Measured,
			Measurement{Id: m.ID, Day: openapi_types.Date{Time: m.Day}, What: MeasurementWhat(m.What),
				Material: m.Material, Value: m.Value, Celsius: m.Celsius, Grams: m.Grams, Says: optional(m.Says), Session: m.SessionID},
		)
	}
	out.Numbers = t.rows
	return GetLearnt200JSONResponse(out), nil
}

// pooling is how groups are leant on one another.
const pooling = "Leant on one another by partial pooling (DerSimonian & Laird 1986, Lindley & Smith 1972)."

// groups are measurements of a kind by their material, as f has them.
func (t school) groups(what string, f func(store.Measured) (float64, bool)) (out []learnt.Group) {
	at := map[string]int{}
	for _, m := range t.measured {
		v, ok := f(m)
		if m.What != what || !ok {
			continue
		}
		i, known := at[m.Material]
		if !known {
			i = len(out)
			at[m.Material] = i
			out = append(out, learnt.Group{Of: m.Material})
		}
		out[i].Values = append(out[i].Values, v)
	}
	slices.SortFunc(out, func(a, b learnt.Group) int { return cmp.Compare(a.Of, b.Of) })
	return out
}

func asItIs(m store.Measured) (float64, bool) { return m.Value, true }

// lesson puts what groups have come to together.
func (t school) lesson(key LearntLessonKey, title, unit, why string, kind quantity.Kind, p learnt.Pooled) LearntLesson {
	out := LearntLesson{Key: key, Title: title, Unit: unit, Count: p.N, Why: why, Rows: []LearntRow{}}
	for _, g := range p.Groups {
		n := derive.From("how often", quantity.Number, float64(g.N), "measured")
		mean := derive.Of(kind, digits(g.Mean, 3), "all that was measured / how often",
			derive.From("all that was measured", kind, digits(g.Mean*float64(g.N), 4), "the log and the bench"), n)
		ofAll := derive.From("mean of all", kind, digits(p.Mean, 3), fmt.Sprintf("%d measured, of %d", p.N, len(p.Groups)))
		own := derive.From(
			"own share",
			quantity.Number,
			digits(g.Own, 3),
			"variance between them / (that + own variance of the mean)",
		)
		pooled := derive.Of(
			kind,
			digits(g.Pooled, 3),
			"own share × own mean + the rest × the mean of all",
			mean.As("own mean"),
			own,
			ofAll,
		)
		row := LearntRow{Of: g.Of, Count: g.N, Mean: t.some(&mean), Pooled: t.some(&pooled)}
		if !math.IsNaN(g.Spread) {
			spread := derive.Of(
				kind,
				digits(g.Spread, 2),
				"√(squares of how far each is from the mean / (how often − 1))",
				mean.As("mean"),
				n,
			)
			row.Spread = t.some(&spread)
		}
		if !math.IsNaN(g.Error) {
			wrong := derive.Of(
				kind,
				digits(g.Error, 1),
				"√(own share × variance of the own mean + (1 − own share)² × that of the mean of all)",
				own,
				n,
				derive.From("scatter of one measurement", kind, digits(p.Within, 2), "of all, each about its own mean"),
				derive.From("standard error of the mean of all", kind, digits(p.Error, 2), "DerSimonian and Laird"),
			)
			row.Error = t.some(&wrong)
		}
		out.Rows = append(out.Rows, row)
	}
	return out
}

// number is one that may not be known.
func number(v float64, n int) *float64 {
	if math.IsNaN(v) || math.IsInf(v, 0) {
		return nil
	}
	v = digits(v, n)
	return &v
}

// instead offers what was learnt in place of a figure of the house.
func instead(field LearntOfferField, has, usual, value float64, n int, label string) *LearntOffer {
	if n < leastOffered || math.IsNaN(value) {
		return nil
	}
	return &LearntOffer{
		Of:    "practice",
		Field: field,
		Has:   digits(has, 4),
		Value: digits(value, 2),
		Usual: has == usual,
		Label: label,
	}
}
