package api_test

import (
	"testing"
	"time"

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
	require.NotNil(t, gel.Rows[at].Offer)
	assert.Equal(t, api.LearntOfferField("potLife"), gel.Rows[at].Offer.Field)
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
	s.measured("gel", fast, 3, map[string]any{"day": time.Now().AddDate(1, 0, 0).Format(time.DateOnly)}).problem(422, "day cannot be right")
}

// Colours that matched and finishing come out of the log's own lines.
func TestColoursAndFinishingAreLearnt(t *testing.T) {
	s := open(t)
	_, ids := s.cleats("L-1")
	for i, ok := range []bool{true, true, false} {
		s.aPull(ids[0], map[string]any{"pulled": "2026-01-10", "colour": "grey 1 g in 80 g", "matched": ok, "out": 18,
			"finishing": float64(4 + i),
			"results":   []any{map[string]any{"cavity": 1, "good": true}}})
	}
	colour, _ := s.lesson("colour")
	require.NotEmpty(t, colour.Rows)
	found := false
	for _, r := range colour.Rows {
		found = found || r.Of == "grey 1 g in 80 g" && r.Count == 3
	}
	assert.True(t, found)
	demould, _ := s.lesson("demould")
	assert.GreaterOrEqual(t, demould.Count, 3, "by the pulls that say when they were out")
	finishing, _ := s.lesson("finishing")
	for _, r := range finishing.Rows {
		if *r.JobId == uuidOf(t, s.jobOf(ids[0])) {
			assert.InDelta(t, 5, *r.Mean, 1e-9)
			return
		}
	}
	t.Fatal("finishing was not learnt")
}
