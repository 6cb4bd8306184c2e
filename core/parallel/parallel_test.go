package parallel

import (
	"context"
	"errors"
	"fmt"
	"sync/atomic"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

func TestEverythingIsDoneOnceAndToldInOrder(t *testing.T) {
	done := make([]atomic.Int32, 53)
	var stretches [][2]int
	err := Each(t.Context(), len(done), 10, func(i int) error {
		done[i].Add(1)
		return nil
	}, func(from, to int) {
		for i := range to {
			assert.EqualValues(t, 1, done[i].Load(), "what is told of is done")
		}
		stretches = append(stretches, [2]int{from, to})
	})
	require.NoError(t, err)
	for i := range done {
		assert.EqualValues(t, 1, done[i].Load())
	}
	assert.Equal(t, [][2]int{{0, 10}, {10, 20}, {20, 30}, {30, 40}, {40, 50}, {50, 53}}, stretches)
}

func TestTheFirstErrorInOrderEndsIt(t *testing.T) {
	var most atomic.Int32
	err := Each(t.Context(), 100, 8, func(i int) error {
		if int32(i) > most.Load() {
			most.Store(int32(i))
		}
		if i == 11 || i == 13 {
			return fmt.Errorf("no %d", i)
		}
		return nil
	}, nil)
	assert.EqualError(t, err, "no 11", "whichever failed first by the clock")
	assert.Less(t, most.Load(), int32(16), "no batch is begun after it")
}

func TestItCanBeLeft(t *testing.T) {
	ctx, leave := context.WithCancel(t.Context())
	n := 0
	err := Each(ctx, 1000, 4, func(int) error { return nil }, func(from, to int) {
		if n = to; n >= 8 {
			leave()
		}
	})
	assert.ErrorIs(t, err, context.Canceled)
	assert.Equal(t, 8, n)
	assert.NoError(t, Each(t.Context(), 0, 4, func(int) error { return errors.New("never asked") }, nil))
}
