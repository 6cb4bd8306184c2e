// Package parallel does the same to many things on all processors, a batch at a
// time, so that a search can tell how far it is and be left.
package parallel

import (
	"cmp"
	"context"
	"runtime"
	"sync"
)

// Each calls work for 0 up to n, size of them at a time, and told after every
// batch with the stretch that is done. It stops between batches when ctx
// ends, and after a batch in which work failed, with its first error in order.
// Work must not depend on what other work of the same batch does.
func Each(ctx context.Context, n, size int, work func(i int) error, told func(from, to int)) error {
	for from := 0; from < n; from += size {
		if err := ctx.Err(); err != nil {
			return err
		}
		to := min(from+size, n)
		errs := make([]error, to-from)
		slots := make(chan struct{}, max(1, runtime.GOMAXPROCS(0)))
		var wg sync.WaitGroup
		for i := from; i < to; i++ {
			slots <- struct{}{}
			wg.Go(func() {
				defer func() { <-slots }()
				errs[i-from] = work(i)
			})
		}
		wg.Wait()
		if err := cmp.Or(errs...); err != nil {
			return err
		}
		if told != nil {
			told(from, to)
		}
	}
	return nil
}
