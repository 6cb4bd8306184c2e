package store_test

import (
	"testing"
	"time"

	"bathyform/core/session"
	"bathyform/internal/store"
	"bathyform/internal/testkit"

	"github.com/google/uuid"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

func lesson(t *testing.T) session.Plan {
	t.Helper()
	l, err := session.LessonOf("casting")
	require.NoError(t, err)
	p, err := l.Plan(session.Bench{})
	require.NoError(t, err)
	return p
}

// A session is read as it was kept, by whichever server; a clock that is set back
// does not turn time back, nor does one that jumps on lose a step.
func TestASessionIsKeptWhateverTheClockDoes(t *testing.T) {
	s := testkit.DemoStore(t)
	ctx := t.Context()
	begun := time.Date(2026, 10, 25, 1, 50, 0, 0, time.UTC)
	b := store.Session{ID: uuid.New(), Kind: "casting", Lesson: "casting", Plan: lesson(t), Begun: begun}
	require.NoError(t, s.BeginSession(ctx, b, nil))
	require.NoError(t, s.BeginSession(ctx, b, nil), "sent again it is begun once")
	done := func(at time.Time) store.Session {
		t.Helper()
		now, err := s.Session(ctx, b.ID)
		require.NoError(t, err)
		st := now.At(at)
		now, err = s.Happened(
			ctx,
			b.ID,
			session.Event{What: session.Done, Step: st.Steps[st.At].Key, Figure: 40, Meant: true},
			uuid.New(),
			at,
		)
		require.NoError(t, err)
		return now
	}
	done(begun.Add(time.Minute))
	done(begun.Add(-3 * time.Hour))        // set back
	late := done(begun.Add(9 * time.Hour)) // jumped on
	require.Len(t, late.Events, 3)
	for i := 1; i < len(late.Events); i++ {
		assert.GreaterOrEqual(t, late.Events[i].At, late.Events[i-1].At)
	}
	read, err := s.Session(ctx, b.ID)
	require.NoError(t, err)
	assert.Equal(t, late.Events, read.Events)
	assert.Equal(t, b.Plan.Steps, read.Plan.Steps)
	assert.Equal(t, 3, read.At(begun).At)
	open, err := s.OpenSessions(ctx)
	require.NoError(t, err)
	require.Len(t, open, 1)
	require.NoError(t, s.EndSession(ctx, read, begun.Add(10*time.Hour), store.Made{}))
	require.NoError(t, s.EndSession(ctx, read, begun.Add(11*time.Hour), store.Made{}), "closed once")
	open, err = s.OpenSessions(ctx)
	require.NoError(t, err)
	assert.Empty(t, open)
	over, err := s.LatestSessions(ctx, 5)
	require.NoError(t, err)
	require.Len(t, over, 1)
	assert.Equal(t, begun.Add(10*time.Hour).Unix(), over[0].Ended.Unix())
	_, err = s.Happened(ctx, uuid.New(), session.Event{What: session.Noted, Text: "x"}, uuid.Nil, begun)
	assert.ErrorIs(t, err, store.ErrNotFound)
}
