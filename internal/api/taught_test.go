package api_test

import (
	"fmt"
	"testing"

	"bathyform/internal/api"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

// A log with a place that fails again and again in one cavity: the cause is found,
// the cavity alarms, the mould is suspect and its page says why; and whether it is
// enough is answered with figures that open.
func TestTheLogTeaches(t *testing.T) {
	s := open(t)
	j, _ := s.cleats("C-1")
	var m api.Mould
	s.send("POST", s.path(j, "/moulds"), -1, map[string]any{"number": "C-2", "rubber": "Tin-cure silicone 30 A, " +
		"10:1", "poured": "2026-01-05",
		"cavities": 2}).
		into(&m)
	var none api.Taught
	s.send("GET", s.path(j, "/taught"), -1, nil).into(&none)
	require.NotNil(t, none.Enough, "before the first pull as well")
	for k := 1; k < len(none.Enough.Chances); k++ {
		assert.GreaterOrEqual(t, none.Enough.Chances[k], none.Enough.Chances[k-1])
	}
	assert.NotEmpty(t, figures(none.Numbers)[none.Enough.Finish.N].Inputs)
	for i := range 18 {
		second := map[string]any{"cavity": 2, "good": true}
		if i%3 == 2 {
			second = map[string]any{"cavity": 2, "good": false, "defect": "void at a high spot"}
		}
		a := s.send("POST", "/api/moulds/"+m.Id.String()+"/pulls", -1, map[string]any{"pulled": fmt.Sprintf("2026-02-%02d", i+1),
			"results": []any{map[string]any{"cavity": 1, "good": true}, second}})
		require.Equal(t, 201, a.Status, string(a.Body))
	}
	var got api.Taught
	s.send("GET", s.path(j, "/taught"), -1, nil).into(&got)
	assert.Equal(t, 30, got.Good)
	assert.Equal(t, 6, got.Bad)
	require.NotEmpty(t, got.Causes)
	assert.Equal(t, "C-2, cavity 2", got.Causes[0].Of)
	assert.Contains(t, got.Causes[0].Says, "the layout")
	require.NotEmpty(t, got.Alarms)
	assert.Equal(t, 2, got.Alarms[0].Cavity)
	assert.Nil(t, got.Enough, "the order is finished")

	var page api.MouldPage
	s.send("GET", "/api/moulds/"+m.Id.String()+"/page", -1, nil).into(&page)
	assert.Equal(t, api.MouldState("suspect"), page.State)
	require.Len(t, page.Cavities, 2)
	assert.Empty(t, page.Cavities[0].Alarms)
	assert.NotEmpty(t, page.Cavities[1].Alarms)
	assert.Len(t, page.Cavities[1].States, 18)
	assert.NotEmpty(t, page.Findings)
	assert.Len(t, page.Story, 19, "poured, and its pulls")
	assert.Contains(t, page.Story[0].Says, "Pull 18")
	care := func(body map[string]any) answer {
		return s.send("POST", "/api/moulds/"+m.Id.String()+"/care", -1, body)
	}
	care(map[string]any{"day": "2026-02-20", "what": "plugged"}).problem(422, "Which cavity")
	care(map[string]any{"day": "2026-02-20", "what": "plugged", "cavity": 3}).problem(422, "fewer cavities")
	care(map[string]any{"day": "2020-02-20", "what": "repaired"}).problem(422, "not poured")
	care(map[string]any{"day": "2099-02-20", "what": "repaired"}).problem(422, "has not come")
	care(map[string]any{"day": "2026-02-20", "what": "noted"}).problem(422, "nothing to note")
	s.key = "7d6c0e5e-0000-4000-8000-000000000001"
	for range 2 {
		require.Equal(t, 204, care(map[string]any{"day": "2026-02-20", "what": "plugged", "cavity": 2, "says": "vent torn"}).Status)
	}
	s.key = ""
	s.send("GET", "/api/moulds/"+m.Id.String()+"/page", -1, nil).into(&page)
	assert.Equal(t, api.MouldState("use"), page.State, "what is plugged does not alarm")
	assert.True(t, page.Cavities[1].Plugged)
	assert.Equal(t, "Cavity 2 plugged: vent torn.", page.Story[0].Says)
	assert.Len(t, page.Story, 20, "sent twice, kept once")
	require.Equal(t, 204, care(map[string]any{"day": "2026-02-21", "what": "rested"}).Status)
	s.send("GET", "/api/moulds/"+m.Id.String()+"/page", -1, nil).into(&page)
	assert.Equal(t, api.MouldState("resting"), page.State)
	s.send("PUT", "/api/moulds/"+m.Id.String()+"/retirement", -1, map[string]any{"retired": "2026-03-01", "ended": "worn"})
	s.send("GET", "/api/moulds/"+m.Id.String()+"/page", -1, nil).into(&page)
	assert.Equal(t, api.MouldState("retired"), page.State)
	assert.Contains(t, page.Story[0].Says, "Worn out")
	assert.NotEmpty(t, page.Survival, "it has worn out, and there are enough of them for a curve")
	labels := s.send("GET", "/api/moulds/labels.pdf", -1, nil)
	require.Equal(t, 200, labels.Status)
	assert.Equal(t, "%PDF", string(labels.Body[:4]))
	s.send("GET", "/api/moulds/5ea11e00-0000-4000-8000-00000000ffff/page", -1, nil).problem(404, "")
}
