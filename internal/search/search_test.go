package search

import (
	"context"
	"errors"
	"net/http/httptest"
	"sync"
	"sync/atomic"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

func TestEqualQuestionsShareOneWorkerAndHearEverything(t *testing.T) {
	d := NewDesk()
	var worked atomic.Int32
	go_ := make(chan struct{})
	work := func(_ context.Context, tell func(any)) error {
		worked.Add(1)
		tell("begun")
		<-go_
		tell("done")
		return nil
	}
	var wg sync.WaitGroup
	heard := make([][]any, 3)
	for i := range heard {
		wg.Go(func() {
			assert.NoError(t, d.Ask(t.Context(), "hub as pieces", work, func(v any) { heard[i] = append(heard[i], v) }))
		})
	}
	require.Eventually(t, func() bool {
		d.mu.Lock()
		defer d.mu.Unlock()
		r := d.runs["hub as pieces"]
		return r != nil && waiting(r) == 3
	}, 5*time.Second, time.Millisecond)
	close(go_)
	wg.Wait()
	assert.EqualValues(t, 1, worked.Load())
	for _, h := range heard {
		assert.Equal(t, []any{"begun", "done"}, h)
	}
	assert.Empty(t, d.runs, "nothing is kept when it is done")
}

func waiting(r *run) int { r.mu.Lock(); defer r.mu.Unlock(); return r.waiting }

func TestWorkEndsWithTheLastWhoWaits(t *testing.T) {
	d := NewDesk()
	ended := make(chan struct{})
	begun := make(chan struct{})
	work := func(ctx context.Context, _ func(any)) error {
		close(begun)
		<-ctx.Done()
		close(ended)
		return ctx.Err()
	}
	first, leaveFirst := context.WithCancel(t.Context())
	second, leaveSecond := context.WithCancel(t.Context())
	var wg sync.WaitGroup
	for _, ctx := range []context.Context{first, second} {
		wg.Go(func() { assert.ErrorIs(t, d.Ask(ctx, "cleat", work, func(any) {}), context.Canceled) })
	}
	<-begun
	require.Eventually(
		t,
		func() bool { d.mu.Lock(); defer d.mu.Unlock(); return waiting(d.runs["cleat"]) == 2 },
		5*time.Second,
		time.Millisecond,
	)
	leaveFirst()
	select {
	case <-ended:
		t.Fatal("somebody still waits")
	case <-time.After(20 * time.Millisecond):
	}
	leaveSecond()
	<-ended
	wg.Wait()
}

func TestOnlySoManyWorkAtATime(t *testing.T) {
	d := NewDesk()
	var now, most atomic.Int32
	var wg sync.WaitGroup
	for i := range 8 {
		wg.Go(func() {
			err := d.Ask(t.Context(), string(rune('a'+i)), func(context.Context, func(any)) error {
				n := now.Add(1)
				for m := most.Load(); n > m && !most.CompareAndSwap(m, n); m = most.Load() {
				}
				time.Sleep(5 * time.Millisecond)
				now.Add(-1)
				return nil
			}, func(any) {})
			assert.NoError(t, err)
		})
	}
	wg.Wait()
	assert.LessOrEqual(t, int(most.Load()), cap(d.slots))
}

func TestABrokenSearchIsToldAndTheDeskGoesOn(t *testing.T) {
	d := NewDesk()
	w := httptest.NewRecorder()
	d.Stream(t.Context(), w, "x", func(context.Context, func(any)) error { panic("torn") }, func(err error) any { return err.Error() })
	assert.Contains(t, w.Body.String(), "event: problem\ndata: \"the search broke down: torn\"")
	w = httptest.NewRecorder()
	d.Stream(
		t.Context(),
		w,
		"x",
		func(_ context.Context, tell func(any)) error { tell(1); return errors.New("no room") },
		func(err error) any { return err.Error() },
	)
	assert.Contains(t, w.Body.String(), "event: progress\ndata: 1\n\nevent: problem\ndata: \"no room\"")
	w = httptest.NewRecorder()
	d.Stream(t.Context(), w, "", func(_ context.Context, tell func(any)) error { tell("found"); return nil }, nil)
	assert.Equal(t, "event: progress\ndata: \"found\"\n\n", w.Body.String())
}
