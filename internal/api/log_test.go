package api_test

import (
	"bathyform/internal/api"
	"fmt"
	"maps"
	"testing"
	"time"

	"github.com/google/uuid"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

// An answer is lost and the page asks again: with the same key it adds the
// same thing once, whatever it is.
func TestWhatIsSentTwiceIsAddedOnce(t *testing.T) {
	s := open(t)
	day := time.Now().Format("2006-01-02")
	twice := func(path string, body map[string]any, other map[string]any) string {
		s.key = uuid.NewString()
		var first, second map[string]any
		s.send("POST", path, -1, body).into(&first)
		s.send("POST", path, -1, body).into(&second)
		assert.Equal(t, first, second)
		assert.Equal(t, s.key, first["id"])
		s.send("POST", path, -1, other).problem(409, "sent already")
		return s.key
	}
	job := twice("/api/jobs", map[string]any{"name": "A", "quantity": 5}, map[string]any{"name": "B", "quantity": 5})
	mould := map[string]any{"number": "B-1", "rubber": "tin", "poured": day, "cavities": 1}
	first := twice("/api/jobs/"+job+"/moulds", mould, map[string]any{"number": "B-2", "rubber": "tin", "poured": day})
	sheet := map[string]any{"kind": "rubber", "name": "Soft", "partsA": 1, "partsB": 1, "byVolume": false, "density": 1.1}
	another := maps.Clone(sheet)
	another["name"] = "Softer"
	twice("/api/materials", sheet, another)
	pull := map[string]any{"pulled": day, "results": []any{map[string]any{"cavity": 1, "good": true}}}
	s.key = uuid.NewString()
	for range 3 {
		assert.Equal(t, 201, s.send("POST", "/api/moulds/"+first+"/pulls", -1, pull).Status)
	}
	key := s.key
	s.key = uuid.NewString()
	s.send("POST", "/api/jobs/"+job+"/moulds", -1, map[string]any{"number": "B-2", "rubber": "tin", "poured": day}).into(&mould)
	s.key = key
	s.send("POST", fmt.Sprintf("/api/moulds/%v/pulls", mould["id"]), -1, pull).problem(409, "sent already")
	moulds := s.rack("?job=" + job)
	require.Len(t, moulds, 2)
	assert.Equal(t, 1, moulds[0].Pulls)
	var page api.PullPage
	s.send("GET", "/api/pulls?limit=1&skip=1&job="+job, -1, nil).into(&page)
	assert.Empty(t, page.Pulls)
	assert.Equal(t, 1, page.Total)
	s.key = "twice"
	s.send("POST", "/api/jobs", -1, map[string]any{"name": "A", "quantity": 5}).problem(400, "")
}

func TestMouldsAndPulls(t *testing.T) {
	s := open(t)
	j := s.newJob()
	day := time.Now().Format("2006-01-02")
	mould := map[string]any{"number": "B-1", "rubber": "tin", "poured": day, "cavities": 2}
	var m api.Mould
	s.send("POST", s.path(j, "/moulds"), -1, mould).into(&m)
	assert.Equal(t, api.Remaining{Low: 12, Middle: 39, High: 107}, m.Remaining, "the trade's prior for a new kind")
	s.send("POST", s.path(j, "/moulds"), -1, mould).problem(409, "mould B-1 already")
	s.send("POST", s.path(j, "/moulds"), -1, map[string]any{"number": " ", "rubber": "tin", "poured": day}).problem(422, "number")
	s.send("POST", s.path(j, "/moulds"), -1, map[string]any{"number": "B-2", "rubber": "tin", "poured": "2999-01-01"}).
		problem(422, "not come yet")

	log := func(results ...map[string]any) answer {
		return s.send(
			"POST",
			"/api/moulds/"+m.Id.String()+"/pulls",
			-1,
			map[string]any{"pulled": day, "massA": 20.5, "massB": 18, "results": results},
		)
	}
	good := func(c int) map[string]any { return map[string]any{"cavity": c, "good": true} }
	log(good(1), good(3)).problem(422, "fewer cavities")
	log(good(1), good(1)).problem(422, "given twice")
	log(good(1), map[string]any{"cavity": 2, "good": false}).problem(422, "What was wrong with cavity 2")
	var p api.Pull
	log(good(1), map[string]any{"cavity": 2, "good": false, "defect": "void in a horn"}).into(&p)
	assert.Equal(t, "B-1", p.MouldNumber)
	s.send("GET", s.path(j, ""), -1, nil).into(&j)
	assert.Equal(t, 1, j.Good)
	assert.Equal(t, 1, j.Scrap)
	moulds := s.rack("?job=" + j.Id.String())
	require.Len(t, moulds, 1)
	assert.Equal(t, 1, moulds[0].Pulls)
	s.send("PUT", "/api/moulds/"+m.Id.String()+"/retirement", -1, map[string]any{"retired": day, "ended": "worn"}).into(&m)
	log(good(1)).problem(409, "retired")
	assert.Equal(t, 204, s.send("DELETE", s.path(j, ""), -1, nil).Status)
	s.send("GET", s.path(j, ""), -1, nil).problem(404, "not here any more")
	s.send("PUT", s.path(j, ""), j.Version, map[string]any{"name": "B", "quantity": 3}).problem(404, "not here any more")
}

// What was entered wrongly is put right; what it said can still be read, and
// what cannot be is refused in words.
func TestEntriesArePutRight(t *testing.T) {
	s := open(t)
	j := s.newJob()
	var m api.Mould
	mould := map[string]any{"number": "B-1", "rubber": "tin", "poured": "2026-03-02", "cavities": 2}
	s.send("POST", s.path(j, "/moulds"), -1, mould).into(&m)
	good := map[string]any{"cavity": 1, "good": true}
	void := map[string]any{"cavity": 2, "good": false, "defect": "void"}
	pull := map[string]any{"pulled": "2026-03-04", "results": []any{good, void}}
	pulls := "/api/moulds/" + m.Id.String() + "/pulls"
	early := map[string]any{"pulled": "2026-03-01", "results": []any{good}}
	s.send("POST", pulls, -1, early).problem(422, "not poured by then")
	var p api.Pull
	s.send("POST", pulls, -1, pull).into(&p)
	mine := "/api/pulls/" + p.Id.String()
	logged := func() api.Pull {
		var page api.PullPage
		s.send("GET", "/api/pulls?job="+j.Id.String(), -1, nil).into(&page)
		require.Len(t, page.Pulls, 1)
		return page.Pulls[0]
	}

	assert.Equal(t, 204, s.send("DELETE", mine, -1, nil).Status)
	assert.Equal(t, 204, s.send("DELETE", mine, -1, nil).Status, "struck is struck")
	assert.True(t, logged().Struck)
	assert.Equal(t, 204, s.send("DELETE", mine+"/struck", -1, nil).Status)
	assert.False(t, logged().Struck)

	pull["notes"] = "the other cup"
	s.key = uuid.NewString()
	for range 2 { // the first answer was lost
		assert.Equal(t, 204, s.send("PUT", mine, 1, pull).Status)
	}
	s.key = ""
	s.send("PUT", mine, 1, pull).problem(412, "another window")
	s.send("PUT", mine, 2, early).problem(422, "poured on 2 March 2026")
	assert.Equal(t, "the other cup", *logged().Notes)
	var was []api.PullWas
	s.send("GET", mine+"/history", -1, nil).into(&was)
	require.Len(t, was, 1)
	assert.Empty(t, *was[0].Was.Notes)

	mould["cavities"] = 1
	s.send("PUT", "/api/moulds/"+m.Id.String(), 1, mould).problem(422, "more cavities")
	mould["cavities"], mould["number"], mould["poured"] = 2, "B-2", "2026-03-05"
	s.send("PUT", "/api/moulds/"+m.Id.String(), 1, mould).problem(422, "before that day")
	mould["poured"] = "2026-03-03"
	s.send("PUT", "/api/moulds/"+m.Id.String(), 1, mould).into(&m)
	assert.Equal(t, "B-2", m.Number)
	assert.Equal(t, 1, m.Good)
	var entered []api.MouldWas
	s.send("GET", "/api/moulds/"+m.Id.String()+"/history", -1, nil).into(&entered)
	require.Len(t, entered, 1)
	assert.Equal(t, "B-1", entered[0].Was.Number)
}

// Weights far off the sheet are asked about, and logged where they were meant.
func TestWeightsOffTheRatioAreAskedAbout(t *testing.T) {
	s := open(t)
	moulds := s.rack("")
	pull := map[string]any{"pulled": time.Now().Format("2006-01-02"), "massA": 1200, "massB": 12,
		"results": []any{map[string]any{"cavity": 1, "good": true}}}
	path := ""
	for _, m := range moulds {
		if m.Retired == nil {
			path = "/api/moulds/" + m.Id.String() + "/pulls"
		}
	}
	s.send("POST", path, -1, pull).problem(422, "of B, not 12 g")
	pull["meant"] = true
	assert.Equal(t, 201, s.send("POST", path, -1, pull).Status)

	// what was cast before is held against the resin that it was cast in
	j, ids := s.cleats("Q-1")
	s.redesign(j, func(d map[string]any) { d["resin"] = s.rubber("Rigid urethane, 3 min") })
	old := map[string]any{"pulled": "2026-01-10", "massA": 50, "massB": 44, "results": []any{map[string]any{"cavity": 1, "good": true}}}
	p := s.aPull(ids[0], old)
	s.redesign(j, func(d map[string]any) { d["resin"] = s.rubber("Slow clear epoxy, 40 min") })
	old["notes"] = "with a note"
	assert.Equal(t, 204, s.send("PUT", "/api/pulls/"+p.Id.String(), 1, old).Status)
	s.send("POST", "/api/moulds/"+ids[0]+"/pulls", -1, old).problem(422, "Slow clear epoxy")
}

func TestAJobIsTakenOutOfTheBin(t *testing.T) {
	s := open(t)
	j := s.newJob()
	assert.Equal(t, 204, s.send("DELETE", s.path(j, ""), -1, nil).Status)
	var bin []api.BinnedJob
	s.send("GET", "/api/bin", -1, nil).into(&bin)
	require.Len(t, bin, 1)
	assert.Equal(t, j.Order.Name, bin[0].Name)
	assert.Equal(t, 204, s.send("DELETE", "/api/bin/"+j.Id.String(), -1, nil).Status)
	s.send("DELETE", "/api/bin/"+j.Id.String(), -1, nil).problem(404, "not here any more")
	s.send("GET", s.path(j, ""), -1, nil).into(&j)
}

// Another master, a turn and a document that is read set the design aside;
// each can be gone back to.
func TestAnEarlierDesignIsGoneBackTo(t *testing.T) {
	s := open(t)
	j := s.take("deck-cleat")
	var kept api.KeptDesign
	s.send("GET", s.path(j, "/design"), -1, nil).into(&kept)
	kept.Design.ShotOver = 17
	s.send("PUT", s.path(j, "/design"), kept.Version, kept.Design).into(&kept)
	s.send("PUT", s.path(j, "/master"), j.Version, map[string]any{"demoPart": "drogue-hub"}).into(&j)
	var all []api.EarlierDesign
	s.send("GET", s.path(j, "/earlier"), -1, nil).into(&all)
	require.Len(t, all, 1)
	assert.Equal(t, "Deck cleat", all[0].Master)
	assert.True(t, all[0].Designed)
	s.send("POST", s.path(j, "/earlier/"+all[0].Id.String()), j.Version-1, nil).problem(412, "another window")
	s.send("POST", s.path(j, "/earlier/"+all[0].Id.String()), j.Version, nil).into(&j)
	assert.Equal(t, "Deck cleat", j.Master.Name)
	s.send("GET", s.path(j, "/design"), -1, nil).into(&kept)
	assert.Equal(t, 17.0, kept.Design.ShotOver)
	s.send("GET", s.path(j, "/earlier"), -1, nil).into(&all)
	require.Len(t, all, 1)
	assert.Equal(t, "an earlier one was taken again", all[0].Why)
}
