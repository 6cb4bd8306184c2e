package api_test

import (
	"fmt"
	"slices"
	"testing"
	"time"

	"bathyform/core/mix"
	"bathyform/internal/api"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

func (s shop) lesson(key string) (of api.LearntLesson, all api.Learnt) {
	s.t.Helper()
	s.send("GET", "/api/learnt", -1, nil).into(&all)
	for _, l := range all.Lessons {
		if string(l.Key) == key {
			return l, all
		}
	}
	s.t.Fatal("there is no lesson " + key)
	return of, all
}

// measured writes something down that was.
func (s shop) measured(what, material string, value float64, more map[string]any) answer {
	s.t.Helper()
	body := map[string]any{"day": "2026-01-10", "what": what, "material": material, "value": value}
	for k, v := range more {
		body[k] = v
	}
	return s.send("POST", "/api/measured", -1, body)
}

// What stays in the cups is learnt and offered; the house takes it only when it says so.
func TestTheLogTeachesTheHousesFigures(t *testing.T) {
	s := open(t)
	const fast, slow, rubber = "Rigid urethane, 3 min", "Slow clear epoxy, 40 min", "Tin-cure silicone 30 A, 10:1"
	_, before := s.lesson("residue")
	for _, g := range []float64{2.0, 2.2, 2.1, 1.9} {
		require.Equal(t, 204, s.measured("residue", fast, g, map[string]any{"grams": 80}).Status)
	}
	require.Equal(t, 204, s.measured("residue", slow, 3.4, nil).Status)
	l, all := s.lesson("residue")
	rows := map[string]api.LearntRow{}
	for _, r := range l.Rows {
		rows[r.Of] = r
	}
	require.Contains(t, rows, slow)
	assert.Equal(t, 1, rows[slow].Count)
	assert.Nil(t, rows[slow].Spread)
	pooled := all.Numbers[rows[slow].Pooled.N].Value
	assert.Less(t, pooled, 3.4, "one measurement leans on the others")
	assert.Greater(t, pooled, 2.05)
	require.NotNil(t, l.House)
	assert.Equal(t, api.LearntOfferField("cupKeeps"), l.House.Field)
	var house api.Shop
	s.send("GET", "/api/shop", -1, nil).into(&house)
	assert.InDelta(t, l.House.Has, house.Practice.CupKeeps, 1e-9, "nothing was taken by itself")
	assert.Greater(t, len(all.Measured), len(before.Measured))

	gone := ""
	for _, m := range all.Measured {
		if m.Material == slow {
			gone = m.Id.String()
		}
	}
	require.Equal(t, 204, s.send("DELETE", "/api/measured/"+gone, -1, nil).Status)
	less, _ := s.lesson("residue")
	assert.Equal(t, l.Count-1, less.Count)
	require.Equal(t, 204, s.send("DELETE", "/api/measured/"+gone+"/struck", -1, nil).Status)

	for i, c := range []float64{19, 21, 23, 27} {
		require.Equal(t, 204, s.measured("gel", slow, []float64{9.2, 8, 7, 5.3}[i], map[string]any{"celsius": c}).Status)
	}
	gel, all := s.lesson("gel")
	at := -1
	for i, r := range gel.Rows {
		if r.Of == slow {
			at = i
		}
	}
	require.GreaterOrEqual(t, at, 0)
	require.NotNil(t, gel.Rows[at].Offers)
	require.Len(t, *gel.Rows[at].Offers, 2)
	potLife, faster := (*gel.Rows[at].Offers)[0], (*gel.Rows[at].Offers)[1]
	assert.Equal(t, [2]api.LearntOfferField{"potLife", "q10"}, [2]api.LearntOfferField{potLife.Field, faster.Field})
	assert.InDelta(t, 2, faster.Value, 0.1, "from 9.2 min at 19 °C to 5.3 at 27")
	assert.InDelta(t, 1, all.Numbers[gel.Rows[at].Spread.N].Value, 0.1)
	assert.InDelta(t, 6.1, all.Numbers[gel.Rows[at].Pooled.N].Value, 0.1, "at the 25 °C of its sheet")

	for range 3 {
		require.Equal(t, 204, s.measured("bucket", rubber, 30, map[string]any{"grams": 1000}).Status)
		require.Equal(t, 204, s.measured("pour", rubber, 9, map[string]any{"grams": 1000}).Status)
		require.Equal(t, 204, s.measured("demould", fast, 14, nil).Status)
	}
	bucket, _ := s.lesson("bucket")
	require.NotNil(t, bucket.House)
	assert.InDelta(t, 3, bucket.House.Value, 1e-9)
	pour, _ := s.lesson("pour")
	require.NotNil(t, pour.House)
	assert.Less(t, pour.House.Value, 9.0, "less what goes by the kilogram")
	demould, _ := s.lesson("demould")
	require.NotEmpty(t, demould.Rows)
	yield, _ := s.lesson("yield")
	assert.NotEmpty(t, yield.Rows)

	s.measured("residue", fast, -1, nil).problem(422, "cannot be right")
	s.measured("residue", " ", 1, nil).problem(422, "Of which material")
	s.measured("bucket", rubber, 1, nil).problem(422, "How large was the batch")
	s.measured("residue", fast, 90, map[string]any{"grams": 80}).problem(422, "More cannot stay")
	s.measured("gel", fast, 0, nil).problem(422, "cannot be right")
	s.measured("gel", fast, 3, map[string]any{"celsius": 300}).problem(422, "temperature")
	s.measured("gel", fast, 3, map[string]any{"day": time.Now().AddDate(1, 0, 0).Format(time.DateOnly)}).
		problem(422, "day cannot be right")
}

// Colours that matched and finishing come out of the log's own lines, with their spread,
// and are offered: a recipe to the sheet of its resin, the minutes to the house.
func TestColoursAndFinishingAreLearnt(t *testing.T) {
	s := open(t)
	j, ids := s.cleats("L-1")
	resin := s.rubber("Rigid urethane, 3 min")
	s.redesign(j, func(d map[string]any) { d["resin"] = resin })
	for i, ok := range []bool{true, true, false, true} {
		s.aPull(
			ids[0],
			map[string]any{"pulled": "2026-01-10", "colour": "grey 1 g, black 2 drops in 80 g", "matched": ok, "out": 18,
				"massA": 50, "massB": 44, "finishing": float64(4 + i),
				"results": []any{map[string]any{"cavity": 1, "good": true}}},
		)
	}
	colour, all := s.lesson("colour")
	at := slices.IndexFunc(colour.Rows, func(r api.LearntRow) bool { return r.Of == "grey 1 g, black 2 drops in 80 g" })
	require.GreaterOrEqual(t, at, 0)
	row := colour.Rows[at]
	assert.Equal(t, 4, row.Count)
	value := func(n *api.Number) float64 { return all.Numbers[n.N].Value }
	assert.InDelta(t, 75, value(row.Mean), 1e-9)
	assert.Less(t, value(row.Low), 25.0, "four say little")
	assert.Greater(t, value(row.High), 95.0)
	assert.Positive(t, value(row.Error))
	require.NotNil(t, row.Offers)
	offer := (*row.Offers)[0]
	assert.Equal(t, []mix.Pigment{{Name: "grey", Grams: 1}, {Name: "black", Drops: 2}}, offer.Recipe.Recipe.Pigments)
	assert.Zero(t, offer.Has, "nothing is taken by itself")
	var shelf []map[string]any
	s.send("GET", "/api/materials", -1, nil).into(&shelf)
	sheet := shelf[slices.IndexFunc(shelf, func(m map[string]any) bool { return m["id"] == resin })]
	version := int(sheet["version"].(float64))
	delete(sheet, "id")
	delete(sheet, "version")
	delete(sheet, "ratio")
	sheet["traits"].(map[string]any)["recipes"] = []any{offer.Recipe}
	require.Equal(t, 200, s.send("PUT", "/api/materials/"+resin, version, sheet).Status)
	colour, _ = s.lesson("colour")
	assert.InDelta(t, 1, (*colour.Rows[at].Offers)[0].Has, 1e-9)
	s.aPull(ids[0], map[string]any{"pulled": "2026-01-11", "colour": "a pinch of red", "matched": true,
		"results": []any{map[string]any{"cavity": 1, "good": true}}})
	colour, _ = s.lesson("colour")
	for _, r := range colour.Rows {
		if r.Of == "a pinch of red" {
			assert.Nil(t, r.Offers, "nobody could weigh it out")
		}
	}

	demould, _ := s.lesson("demould")
	assert.GreaterOrEqual(t, demould.Count, 3, "by the pulls that say when they were out")
	var own api.LessonOfItsOwn
	s.send("GET", "/api/learnt/finishing", -1, nil).into(&own)
	finishing := own.Lesson
	at = slices.IndexFunc(finishing.Rows, func(r api.LearntRow) bool { return *r.JobId == j.Id })
	require.GreaterOrEqual(t, at, 0)
	assert.InDelta(t, 5.5, own.Numbers[finishing.Rows[at].Mean.N].Value, 1e-9)
	assert.InDelta(t, 1.3, own.Numbers[finishing.Rows[at].Spread.N].Value, 0.05)
	require.NotNil(t, finishing.Rows[at].Says)
	var minutes float64
	_, err := fmt.Sscanf(*finishing.Rows[at].Says, "reckoned %g min", &minutes)
	require.NoError(t, err)
	require.NotNil(t, finishing.House)
	assert.Equal(t, [2]any{api.LearntOfferField("finishPace"), 1.0}, [2]any{finishing.House.Field, finishing.House.Has})
	assert.Positive(t, finishing.House.Value)

	var taught api.Taught
	s.send("GET", s.path(j, "/taught"), -1, nil).into(&taught)
	require.NotNil(t, taught.Finishing)
	left := taught.Numbers[taught.Finishing.N]
	assert.InDelta(t, float64(taught.Wanted)*5.5/60, left.Value, 0.02)
	assert.Contains(t, left.Inputs[1].Source, "4 pulls of this job")
}

// The house's yield counts as ten castings beside those of a job; what the log says of
// all jobs is offered in its place, and changes the plan only when it is taken.
func TestTheHousesYieldIsOfferedAndReckonedWith(t *testing.T) {
	s := open(t)
	j, ids := s.cleats("Y-1")
	pulls := func() float64 {
		var taught api.Taught
		s.send("GET", s.path(j, "/taught"), -1, nil).into(&taught)
		require.NotNil(t, taught.Enough)
		n := taught.Numbers[taught.Enough.Pulls.N]
		assert.Contains(t, n.Inputs[len(n.Inputs)-1].Source, "House practice")
		return n.Value
	}
	usual := pulls()
	cast := func(good bool) map[string]any {
		if good {
			return map[string]any{"cavity": 1, "good": true}
		}
		return map[string]any{"cavity": 1, "good": false, "defect": "voids"}
	}
	for i := range 40 {
		s.aPull(ids[0], map[string]any{"pulled": "2026-01-12", "results": []any{cast(i%2 == 0)}})
	}
	s.send("GET", s.path(j, ""), -1, nil).into(&j)
	require.Equal(
		t,
		200,
		s.send("PUT", s.path(j, ""), j.Version, map[string]any{"name": j.Order.Name, "quantity": 20 + j.Order.Quantity}).Status,
	)
	assert.Greater(t, pulls(), 1.4*usual, "half of its own are bad")
	yield, all := s.lesson("yield")
	require.NotNil(t, yield.House)
	assert.Equal(t, api.LearntOfferField("goodOf100"), yield.House.Field)
	assert.InDelta(t, 90, yield.House.Has, 1e-9)
	assert.Less(t, yield.House.Value, 90.0)
	for _, r := range yield.Rows {
		assert.LessOrEqual(t, all.Numbers[r.Low.N].Value, all.Numbers[r.Mean.N].Value)
		assert.GreaterOrEqual(t, all.Numbers[r.High.N].Value, all.Numbers[r.Mean.N].Value)
	}
	before := pulls()
	var shop map[string]any
	s.send("GET", "/api/shop", -1, nil).into(&shop)
	house := shop["practice"].(map[string]any)
	house["goodOf100"] = yield.House.Value
	require.Equal(t, 200, s.send("PUT", "/api/shop/practice", int(shop["version"].(float64)), house).Status)
	assert.Greater(t, pulls(), before, "the house reckons with it now")
	house["goodOf100"] = 100
	s.send("PUT", "/api/shop/practice", int(shop["version"].(float64))+1, house).problem(422, "good castings of a hundred")
}
