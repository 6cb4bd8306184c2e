package session_test

import (
	"testing"

	"bathyform/core/session"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

// What took its time at the bench is written down for the shop to learn from: the time
// to a gel, and from the fill to a casting that came out well.
func TestTheBenchTimesWhatAShopLearnsFrom(t *testing.T) {
	w := cast(t, bench(), urethane, 40, old("A"))
	w.to(session.Pour)
	contact := w.state().Cups[0].Contact
	w.now = contact + 240
	s := w.must(session.Event{What: session.Gelled})
	require.Len(t, s.Timed, 1)
	assert.Equal(t, session.TookGel, s.Timed[0].What)
	assert.InDelta(t, 4, s.Timed[0].Minutes, 1e-9)
	assert.Greater(t, s.Timed[0].Grams, 30.0)
	first, second := s.Drawn()

	w.to(session.Look)
	filled, since := w.state().Moulds[0].Filled, w.state().Since()
	w.now = filled + 1800
	s = w.done()
	require.Len(t, s.Timed, 2)
	assert.Equal(t, session.CameOut, s.Timed[1].What)
	assert.InDelta(t, (since-filled)/60, s.Timed[1].Minutes, 1e-9, "until it was out, not until somebody wrote it down")
	a, b := s.Drawn()
	assert.InDelta(t, 2*first, a, 0.2, "the cup that gelled was drawn as well")
	assert.InDelta(t, 2*second, b, 0.2)
}

// A casting that is no good one tells nothing of how long it takes to come out well.
func TestABadCastingTimesNothing(t *testing.T) {
	w := cast(t, bench(), urethane, 40, old("A"))
	s := w.to(session.Look)
	w.now += 900
	s = w.must(session.Event{What: session.Done, Step: s.Steps[s.At].Key, Second: true, Text: "swirls or colour"})
	assert.Empty(t, s.Timed)
	assert.Equal(t, session.Result{Second: true, Defect: "swirls or colour"}, s.Moulds[0].Results[0])
}
