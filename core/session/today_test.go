package session_test

import (
	"testing"

	"bathyform/core/session"

	"github.com/stretchr/testify/assert"
)

// What gels comes first, then what waits for somebody, then what can be begun, and
// last what is still curing.
func TestTheMostUrgentComesFirst(t *testing.T) {
	gelling := cast(t, bench(), urethane, 95, old("C-1"))
	gelling.to(session.Stir)
	begun := cast(t, bench(), urethane, 95, old("C-2"))
	curing := cast(t, bench(), urethane, 95, old("C-3"))
	curing.to(session.Wait)
	cured := cast(t, bench(), urethane, 95, old("C-4"))
	cured.to(session.Wait)
	now := cured.now + 21*60
	open := func(id string, w *work, at float64) session.Open {
		return session.Open{ID: id, Plan: w.plan, State: session.Play(w.plan, w.events, at)}
	}
	curing.events[len(curing.events)-1].At = now - 60
	all := session.Today(now, []session.Open{open("curing", curing, now), open("begun", begun, now), open("cured", cured, now),
		open("gelling", gelling, gelling.now)}, []session.Job{
		{ID: "a", Name: "hub", Wanted: 12, Resin: true, Moulds: []session.Mould{old("H-1")}},
		{ID: "b", Name: "bulb", Wanted: 4, Rubber: true, Letters: "B", Next: 3},
		{ID: "c", Name: "done", Wanted: 0, Resin: true, Moulds: []session.Mould{old("D-1")}},
		{ID: "d", Name: "busy", Wanted: 3, Rubber: true, Busy: 1, Letters: "D"},
	})
	var order []string
	for _, d := range all {
		order = append(order, d.Session+d.Job)
	}
	assert.Equal(t, []string{"gelling", "begun", "cured", "a", "b", "curing", "d"}, order)
	assert.Equal(t, "B-3", all[4].Number)
	assert.Contains(t, all[2].What, "Vent the pot", "it says what comes then")
}
