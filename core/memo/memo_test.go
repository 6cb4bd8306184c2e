package memo

import (
	"context"
	"errors"
	"sync"
	"sync/atomic"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

func TestEqualQuestionsAreWorkedOutOnce(t *testing.T) {
	m := Memo[string, int]{Most: 4}
	var worked atomic.Int32
	release := make(chan struct{})
	var wg sync.WaitGroup
	for range 20 {
		wg.Go(func() {
			v, err := m.Get(t.Context(), "hub", func(context.Context) (int, error) {
				worked.Add(1)
				<-release
				return 7, nil
			})
			assert.NoError(t, err)
			assert.Equal(t, 7, v)
		})
	}
	close(release)
	wg.Wait()
	assert.EqualValues(t, 1, worked.Load())
}

func TestTheOldestAnswerIsForgotten(t *testing.T) {
	m := Memo[int, int]{Most: 2}
	ask := func(k int) (fresh bool) {
		_, err := m.Get(t.Context(), k, func(context.Context) (int, error) { fresh = true; return k, nil })
		require.NoError(t, err)
		return fresh
	}
	assert.True(t, ask(1))
	assert.True(t, ask(2))
	assert.False(t, ask(1), "asked again, and so the newest")
	assert.True(t, ask(3))
	assert.False(t, ask(1))
	assert.True(t, ask(2))
	assert.Equal(t, 2, m.Len())
}

func TestWhatFailedIsNotKept(t *testing.T) {
	m := Memo[int, int]{}
	lost := errors.New("connection lost")
	_, err := m.Get(t.Context(), 1, func(context.Context) (int, error) { return 0, lost })
	require.ErrorIs(t, err, lost)
	v, err := m.Get(t.Context(), 1, func(context.Context) (int, error) { return 5, nil })
	require.NoError(t, err)
	assert.Equal(t, 5, v)
	assert.Panics(t, func() { _, _ = m.Get(t.Context(), 2, func(context.Context) (int, error) { panic("torn") }) })
	v, err = m.Get(t.Context(), 2, func(context.Context) (int, error) { return 6, nil })
	require.NoError(t, err)
	assert.Equal(t, 6, v)
}

func TestWhoeverLeavesDoesNotTakeTheAnswerAlong(t *testing.T) {
	m := Memo[int, int]{Most: 1}
	first, leave := context.WithCancel(t.Context())
	begun := make(chan struct{})
	go func() {
		_, _ = m.Get(first, 1, func(ctx context.Context) (int, error) {
			close(begun)
			<-ctx.Done()
			return 0, ctx.Err()
		})
	}()
	<-begun
	got := make(chan int)
	go func() {
		v, err := m.Get(t.Context(), 1, func(context.Context) (int, error) { return 9, nil })
		assert.NoError(t, err)
		got <- v
	}()
	leave()
	assert.Equal(t, 9, <-got)

	gone, cancel := context.WithCancel(t.Context())
	cancel()
	hold := make(chan struct{})
	defer close(hold)
	started := make(chan struct{})
	go func() {
		_, _ = m.Get(context.Background(), 2, func(context.Context) (int, error) { close(started); <-hold; return 1, nil })
	}()
	<-started
	_, err := m.Get(gone, 2, func(context.Context) (int, error) { return 2, nil })
	assert.ErrorIs(t, err, context.Canceled, "nobody waits who has left")
}

// Heavy answers are few, light ones many; the last is kept whatever it weighs.
func TestAnswersAreKeptByTheirWeight(t *testing.T) {
	m := Memo[int, int64]{Most: 10, Weigh: func(v int64) int64 { return v }, Budget: 100}
	worked := 0
	ask := func(key int, weight int64) {
		_, err := m.Get(t.Context(), key, func(context.Context) (int64, error) { worked++; return weight, nil })
		require.NoError(t, err)
	}
	for key := range 5 {
		ask(key, 20)
	}
	assert.Equal(t, 5, m.Len())
	ask(5, 30)
	assert.Equal(t, 4, m.Len(), "the two oldest made room")
	ask(4, 20)
	assert.Equal(t, 6, worked, "the others are still known")
	ask(6, 1000)
	assert.Equal(t, 1, m.Len())
	ask(6, 1000)
	assert.Equal(t, 7, worked)
}

func TestWhoeverHasLeftIsToldNothing(t *testing.T) {
	m := Memo[string, int]{Most: 2}
	get := func(ctx context.Context) error {
		_, err := m.Get(ctx, "known", func(context.Context) (int, error) { return 1, nil })
		return err
	}
	assert.NoError(t, get(t.Context()))
	gone, leave := context.WithCancel(t.Context())
	leave()
	for range 50 {
		assert.ErrorIs(t, get(gone), context.Canceled)
	}
}
