package api_test

import (
	"math"
	"strings"
	"testing"
	"time"

	"bathyform/internal/api"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

// resinStock is the stock of the cleats' resin, with the findings that name it.
func (s shop) resinStock(id string) (of api.StockOf, found []api.Finding) {
	s.t.Helper()
	var all api.Stock
	s.send("GET", "/api/stock", -1, nil).into(&all)
	for _, m := range all.Materials {
		if m.MaterialId.String() == id {
			of = m
		}
	}
	for _, f := range all.Findings {
		if strings.HasPrefix(f.What, "Rigid urethane, 3 min") {
			found = append(found, f)
		}
	}
	return of, found
}

// usable is how much can be mixed of a material, g.
func (s shop) usable(of api.StockOf) float64 {
	s.t.Helper()
	var all api.Stock
	s.send("GET", "/api/stock", -1, nil).into(&all)
	return all.Numbers[of.Usable.N].Value
}

func says(found []api.Finding, what string) bool {
	for _, f := range found {
		if strings.Contains(f.What, what) {
			return true
		}
	}
	return false
}

// From the can to the day on which it runs out.
func TestTheStockIsDrawnByWhatWasWeighed(t *testing.T) {
	s := open(t)
	j, ids := s.cleats("S-1")
	var sheet api.Material
	s.send("POST", "/api/materials", -1, map[string]any{"kind": "resin", "name": "Rigid urethane, 3 min, grey", "partsA": 100, "partsB": 88,
		"byVolume": false, "density": 1.05}).
		into(&sheet)
	resin := sheet.Id.String()
	s.redesign(j, func(d map[string]any) { d["resin"] = resin })
	day := func(ago int) string { return time.Now().AddDate(0, 0, -ago).Format(time.DateOnly) }
	to := "/api/materials/" + resin + "/lots"
	can := map[string]any{
		"name":    "U-77",
		"bought":  day(9),
		"opened":  day(8),
		"gramsA":  700,
		"gramsB":  616,
		"price":   24.5,
		"expires": day(-20),
	}
	var lot api.Lot
	s.send("POST", to, -1, can).into(&lot)
	s.send("POST", to, -1, can).problem(409, "There is a lot U-77")
	assert.InDelta(t, 1316, lot.GramsA+lot.GramsB, 1e-9)
	for ago := range 3 {
		s.aPull(ids[0], map[string]any{"pulled": day(ago + 1), "massA": 50, "massB": 44, "lot": "U-77",
			"results": []any{map[string]any{"cavity": 1, "good": true}}})
	}
	_, found := s.resinStock(resin)
	assert.True(t, says(found, "lot U-77 is to be used by"))
	of, _ := s.resinStock(resin)
	left := func() (a, b float64) {
		var all api.Stock
		s.send("GET", "/api/stock", -1, nil).into(&all)
		for _, l := range of.Lots {
			if l.Name == "U-77" {
				a, b := all.Numbers[l.LeftA.N], all.Numbers[l.LeftB.N]
				assert.InDelta(t, a.Value, a.Inputs[0].Value-a.Inputs[1].Value, 1e-6, "it says how it came to that")
				return a.Value, b.Value
			}
		}
		return 0, 0
	}
	a, b := left()
	assert.InDelta(t, 550, a, 1e-6)
	assert.InDelta(t, 484, b, 1e-6)
	assert.InDelta(t, 1034, s.usable(of), 1)
	require.NotNil(t, of.Need)
	assert.True(t, says(found, "runs out on"), "the orders want more than that")
	require.NotNil(t, of.RunsOut)
	assert.InDelta(t, 24.5, *of.Price, 1e-9)

	// a pull that is struck goes back, what was counted stands
	var page api.PullPage
	s.send("GET", "/api/moulds/"+ids[0]+"/page", -1, nil)
	s.send("GET", "/api/pulls?job="+s.jobOf(ids[0]), -1, nil).into(&page)
	require.Equal(t, 204, s.send("DELETE", "/api/pulls/"+page.Pulls[0].Id.String(), -1, nil).Status)
	of, _ = s.resinStock(resin)
	a, _ = left()
	assert.InDelta(t, 600, a, 1e-6)
	move := "/api/lots/" + lot.Id.String() + "/moves"
	require.Equal(
		t,
		204,
		s.send("POST", move, -1, map[string]any{"day": day(0), "what": "counted", "gramsA": 500, "gramsB": 200}).Status,
	)
	of, found = s.resinStock(resin)
	a, b = left()
	assert.InDelta(t, 700, a+b, 1e-6)
	assert.True(t, says(found, "of A will be left over"))
	assert.Equal(t, "counted", string(of.Moves[0].What))
	s.send("POST", move, -1, map[string]any{"day": day(0), "what": "thrown", "gramsA": 0, "gramsB": 0}).
		problem(422, "Nothing was thrown")
	s.send("POST", move, -1, map[string]any{"day": day(400), "what": "counted", "gramsA": 1, "gramsB": 0}).
		problem(422, "not there by then")
	s.send("POST", move, -1, map[string]any{"day": day(0), "what": "counted", "gramsA": -1, "gramsB": 0}).
		problem(422, "weight cannot be right")

	// another resin for the job takes nothing back
	s.redesign(j, func(d map[string]any) { d["resin"] = s.rubber("Rigid urethane, 7 min") })
	of, _ = s.resinStock(resin)
	was := a + b
	a, b = left()
	assert.InDelta(t, was, a+b, 1e-6)

	// past its day it is not counted
	can["expires"] = day(1)
	require.Equal(t, 204, s.send("PUT", "/api/lots/"+lot.Id.String(), 1, can).Status)
	s.send("PUT", "/api/lots/"+lot.Id.String(), 1, can).problem(412, "changed in another window")
	_, found = s.resinStock(resin)
	assert.True(t, says(found, "was to be used by"))
}

func (s shop) jobOf(mould string) string {
	var page api.MouldPage
	s.send("GET", "/api/moulds/"+mould+"/page", -1, nil).into(&page)
	return page.Mould.JobId.String()
}

func TestALotThatCannotBe(t *testing.T) {
	s := open(t)
	to := "/api/materials/" + s.rubber("Rigid urethane, 3 min") + "/lots"
	for words, change := range map[string]map[string]any{
		"needs its number":            {"name": " "},
		"weight cannot be right":      {"gramsA": 0},
		"How much of B":               {"gramsB": 0},
		"price cannot be right":       {"price": -1},
		"day has not come":            {"bought": "2099-01-01"},
		"cannot have been opened":     {"opened": "2020-01-01"},
		"That weight cannot be right": {"gramsA": 99999999},
	} {
		lot := map[string]any{"name": "L", "bought": "2026-01-01", "gramsA": 1000, "gramsB": 900}
		for k, v := range change {
			lot[k] = v
		}
		s.send("POST", to, -1, lot).problem(422, words)
	}
}

// What is weighed at the bench goes out of the stock as it was weighed, whether it
// became castings or not.
func TestABenchSessionDrawsFromItsLot(t *testing.T) {
	s := open(t)
	j, ids := s.cleats("S-1")
	resin := s.rubber("Rigid urethane, 3 min")
	b := s.begin(map[string]any{"kind": "casting", "job": j.Id, "moulds": ids, "lot": "U-5"})
	b.to("weigh")
	target := b.Weighing.Target
	b.tell(map[string]any{"what": "done", "step": b.Steps[b.At].Key, "figure": target})
	b.to("weigh")
	second := b.Weighing.Target
	b.tell(map[string]any{"what": "done", "step": b.Steps[b.At].Key, "figure": second})
	b.tell(map[string]any{"what": "stopped", "text": "fire alarm"})
	of, found := s.resinStock(resin)
	require.NotEmpty(t, of.Moves)
	drawn := of.Moves[0]
	assert.Equal(t, "drawn", string(drawn.What))
	assert.Equal(t, "U-5", *drawn.Lot)
	assert.InDelta(t, target+second, drawn.GramsA+drawn.GramsB, 0.02)
	assert.Equal(t, b.Id, *drawn.Session)
	assert.True(t, len(of.Lots) == 0 || says(found, "lot U-5 is in the log and not on the shelf"))
}

// A mould that was poured at the bench tells what the next ones take of the rubber.
func TestARubberPourTellsWhatTheNextTakes(t *testing.T) {
	s := open(t)
	j, _ := s.cleats()
	s.send("GET", s.path(j, ""), -1, nil).into(&j)
	require.Equal(t, 200, s.send("PUT", s.path(j, ""), j.Version, map[string]any{"name": "Many cleats", "quantity": 300}).Status)
	b := s.begin(map[string]any{"kind": "rubber", "job": j.Id, "numbers": []string{"N-1"}, "lot": "R-9"})
	for !b.Over {
		b.done()
	}
	rubber := s.rubber("Tin-cure silicone 30 A, 10:1")
	of, _ := s.resinStock(rubber)
	require.NotEmpty(t, of.Moves)
	weighed := of.Moves[0].GramsA + of.Moves[0].GramsB
	assert.Greater(t, weighed, 50.0)
	assert.Equal(t, "R-9", *of.Moves[0].Lot)
	require.NotNil(t, of.Need)
	var all api.Stock
	s.send("GET", "/api/stock", -1, nil).into(&all)
	need := all.Numbers[of.Need.N].Value
	moulds := need / weighed
	assert.InDelta(t, math.Round(moulds), moulds, 0.05, "whole moulds of that weight")
	assert.GreaterOrEqual(t, moulds, 1.9)
	m := s.rack("?text=N-1")[0]
	page := s.mouldPage(m.Id.String())
	assert.Equal(t, "R-9", *page.Mould.Lot)
	assert.NotNil(t, page.Mould.Birth, "it was looked at")
}
