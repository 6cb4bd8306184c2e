package api_test

import (
	"testing"

	"bathyform/internal/api"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

// Voids that were shown at the tip of one horn, and castings of which one is light.
func TestWhereTheScrapIsAndWhatItWeighs(t *testing.T) {
	s := open(t)
	j, ids := s.cleats("M-1")
	var geometry api.Job
	s.send("GET", s.path(j, ""), -1, nil).into(&geometry)
	pull := func(day string, result map[string]any) {
		result["cavity"] = 1
		s.aPull(
			ids[0],
			map[string]any{"pulled": day, "colour": "grey 2 g in 80 g", "matched": true,
				"at": "14:05", "out": 25, "finishing": 6, "results": []any{result}},
		)
	}
	for i := range 7 {
		pull("2026-01-10", map[string]any{"good": true, "weight": 43.1 + float64(i%3)/10})
	}
	for i := range 4 {
		pull(
			"2026-01-11",
			map[string]any{"good": false, "defect": "void at a high spot", "place": []float64{float64(i) / 4, 0, 20}},
		)
	}
	pull("2026-01-12", map[string]any{"good": true, "weight": 40.2})
	pull("2026-01-12", map[string]any{"good": false, "second": true, "defect": "swirls or colour", "note": "=grey, where it \"met\""})
	pull("2026-01-12", map[string]any{"good": false, "defect": "warped", "place": []float64{-25, 0, 2}})
	var got api.Taught
	s.send("GET", s.path(j, "/taught"), -1, nil).into(&got)
	assert.Len(t, *got.Marks, 5)
	require.Len(t, *got.Places, 1)
	assert.Contains(t, (*got.Places)[0].Says, "4 of 5 marked defects")
	assert.InDelta(t, 20, (*got.Places)[0].At[2], 1e-9)
	require.Len(t, *got.Light, 1)
	light := (*got.Light)[0]
	assert.InDelta(t, 40.2, light.Weighed, 1e-9)
	assert.InDelta(t, 3, got.Numbers[light.Missing.N].Value, 0.11)
	assert.Greater(t, got.Numbers[light.Void.N].Value, 2.0)

	s.send("GET", s.path(j, ""), -1, nil).into(&j)
	assert.Equal(t, [3]int{8, 1, 5}, [3]int{j.Good, *j.Seconds, j.Scrap}, "a second is neither")
	s.send("POST", "/api/moulds/"+ids[0]+"/pulls", -1, map[string]any{"pulled": "2026-01-13", "results": []any{map[string]any{"cavity": 1,
		"good": true, "second": true}}}).
		problem(422, "good or a second")
	s.send("POST", "/api/moulds/"+ids[0]+"/pulls", -1, map[string]any{"pulled": "2026-01-13", "results": []any{map[string]any{"cavity": 1,
		"good": true, "weight": -3}}}).
		problem(422, "weight cannot be right")
	s.send("POST", "/api/moulds/"+ids[0]+"/pulls", -1, map[string]any{"pulled": "2026-01-13", "finishing": -1, "results": []any{
		map[string]any{"cavity": 1, "good": true}}}).problem(422, "time of finishing cannot be right")

	// all of it goes out and comes in again
	for _, form := range []string{"csv", "json"} {
		doc := s.send("GET", "/api/log/"+form, -1, nil).Body
		other := open(t)
		twin, _ := other.cleats("M-1")
		var plan api.LogPlan
		other.send("POST", "/api/log/preview", -1, doc).into(&plan)
		require.Equal(t, 14, plan.Adds, form)
		var taken api.LogTaken
		other.send("POST", "/api/log/imports/"+plan.Id.String(), -1, nil).into(&taken)
		var here, there api.PullPage
		s.send("GET", "/api/pulls?job="+j.Id.String(), -1, nil).into(&here)
		other.send("GET", "/api/pulls?job="+twin.Id.String(), -1, nil).into(&there)
		require.Len(t, there.Pulls, len(here.Pulls))
		for i := range here.Pulls {
			there.Pulls[i].MouldId = here.Pulls[i].MouldId
			assert.Equal(t, here.Pulls[i], there.Pulls[i], form)
		}
	}
}

// Two who correct one line: the second is told, and nothing is written over.
func TestTwoCorrectOneLine(t *testing.T) {
	s := open(t)
	j, ids := s.cleats("M-1")
	p := s.aPull(ids[0], map[string]any{"pulled": "2026-01-10", "results": []any{map[string]any{"cavity": 1, "good": true}}})
	body := func(notes string) map[string]any {
		return map[string]any{"pulled": "2026-01-10", "notes": notes, "results": []any{map[string]any{"cavity": 1, "good": true}}}
	}
	require.Equal(t, 204, s.send("PUT", "/api/pulls/"+p.Id.String(), 1, body("the first")).Status)
	s.send("PUT", "/api/pulls/"+p.Id.String(), 1, body("the second")).problem(412, "changed in another window")
	var page api.PullPage
	s.send("GET", "/api/pulls?job="+j.Id.String(), -1, nil).into(&page)
	assert.Equal(t, "the first", *page.Pulls[0].Notes)
}

// A resin that is lighter makes no void: castings are held against those of their own.
func TestALighterResinIsNoVoid(t *testing.T) {
	s := open(t)
	j, ids := s.cleats("W-1")
	cast := func(weight float64) {
		s.aPull(
			ids[0],
			map[string]any{"pulled": "2026-01-10", "results": []any{map[string]any{"cavity": 1, "good": true, "weight": weight}}},
		)
	}
	light := func() []api.LightCasting {
		var got api.Taught
		s.send("GET", s.path(j, "/taught"), -1, nil).into(&got)
		return *got.Light
	}
	for i := range 8 {
		cast(43 + float64(i%3)/10)
	}
	s.redesign(j, func(d map[string]any) { d["resin"] = s.rubber("Slow clear epoxy, 40 min") })
	for i := range 6 {
		cast(38 + float64(i%3)/10)
	}
	assert.Empty(t, light())
	cast(35)
	require.Len(t, light(), 1)
	assert.InDelta(t, 35, light()[0].Weighed, 1e-9)

	for _, form := range []string{"csv", "json"} { // and in another shop it is known which was which
		doc := s.send("GET", "/api/log/"+form, -1, nil).Body
		other := open(t)
		twin, _ := other.cleats("W-1")
		var plan api.LogPlan
		other.send("POST", "/api/log/preview", -1, doc).into(&plan)
		assert.Empty(t, plan.Says, form)
		var taken api.LogTaken
		other.send("POST", "/api/log/imports/"+plan.Id.String(), -1, nil).into(&taken)
		var got api.Taught
		other.send("GET", other.path(twin, "/taught"), -1, nil).into(&got)
		assert.Len(t, *got.Light, 1, form)
		strange := []byte("Day,Mould,Casting,Resin\n2026-01-12,W-1,good,Moon dust\n")
		other.send("POST", "/api/log/preview", -1, strange).into(&plan)
		assert.Equal(t, []string{"Moon dust is not on the shelf: its pulls are written down without a resin."}, plan.Says)
	}
}
