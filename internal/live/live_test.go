package live_test

import (
	"context"
	"sync/atomic"
	"testing"
	"time"

	"bathyform/internal/live"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

// One source runs for all who follow, tells who comes late the latest, and ends
// with the last of them.
func TestFollowersShareASource(t *testing.T) {
	h := live.NewHub[int]()
	var running, started atomic.Int32
	say := make(chan int)
	source := func(ctx context.Context, tell func(int)) {
		started.Add(1)
		running.Add(1)
		defer running.Add(-1)
		for {
			select {
			case <-ctx.Done():
				return
			case v := <-say:
				tell(v)
			}
		}
	}
	follow := func() (chan int, context.CancelFunc) {
		ctx, cancel := context.WithCancel(t.Context())
		heard := make(chan int, 10)
		go h.Follow(ctx, "scale", source, func(v int) { heard <- v })
		return heard, cancel
	}
	one, leaveOne := follow()
	say <- 1
	assert.Equal(t, 1, <-one)
	two, leaveTwo := follow()
	assert.Equal(t, 1, <-two, "who comes late hears the latest")
	say <- 2
	assert.Equal(t, 2, <-one)
	assert.Equal(t, 2, <-two)
	leaveOne()
	say <- 3
	assert.Equal(t, 3, <-two)
	leaveTwo()
	require.Eventually(t, func() bool { return running.Load() == 0 }, 5*time.Second, time.Millisecond)
	three, leaveThree := follow()
	defer leaveThree()
	say <- 4
	assert.Equal(t, 4, <-three, "nothing of the old source")
	assert.Equal(t, int32(2), started.Load())
}
