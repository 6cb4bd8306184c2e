// Package growthtest holds what is read against how its time grows, so that
// nobody can keep a processor busy with a small file.
package growthtest

import (
	"testing"
	"time"
)

// times is how much more is sent the second time. What takes n log n takes
// about ten times as long then, what takes n² 64 times.
const (
	times = 8
	most  = 28
)

// least is a time that tells something.
const least = 2 * time.Millisecond

// NLogN fails where reading eight times as much takes far more than eight
// times as long. Made makes the work for a size, which is not timed. The
// shortest of a few runs counts, so that a busy machine does not tell.
func NLogN(t *testing.T, n int, made func(n int) (work func())) {
	t.Helper()
	shortest := func(n int) time.Duration {
		work := made(n)
		best := time.Duration(1<<63 - 1)
		for range 3 {
			from := time.Now()
			work()
			best = min(best, time.Since(from))
		}
		return max(best, least)
	}
	few, many := shortest(n), shortest(times*n)
	t.Logf("%d: %v, %d: %v", n, few, times*n, many)
	if many > most*few {
		t.Errorf("%d take %v, and %d take %v: more than n log n", n, few, times*n, many)
	}
}
