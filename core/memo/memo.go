// Package memo remembers what was worked out for a question, so that asking
// again costs nothing: one worker for equal questions at a time, and only so
// many answers kept.
package memo

import (
	"context"
	"errors"
	"sync"
)

// Memo keeps the answers to at most Most questions, those asked last. The
// zero Memo with Most set is ready; it may be used from several goroutines.
// Most below 1 counts as 1. Where Weigh is set, the answers kept weigh no more
// than Budget together; the one asked last is kept whatever it weighs.
type Memo[K comparable, V any] struct {
	Most   int
	Weigh  func(V) int64
	Budget int64

	mu    sync.Mutex
	kept  map[K]*entry[V]
	asked []K // least recently asked first
}

type entry[V any] struct {
	done  chan struct{}
	value V
	err   error
	panic any

	weight int64 // once it is there
}

// Get returns what was worked out for a question, or works it out. Who asks
// while another works on the same question waits for that answer, or until
// ctx ends. An answer that failed is not kept; if it failed because the one
// who asked first has left, the next one works it out anew.
func (m *Memo[K, V]) Get(ctx context.Context, key K, work func(context.Context) (V, error)) (V, error) {
	for {
		if err := ctx.Err(); err != nil { // whoever has left is told nothing, be it known or not
			var none V
			return none, err
		}
		m.mu.Lock()
		e, ok := m.kept[key]
		if !ok {
			e = &entry[V]{done: make(chan struct{})}
			if m.kept == nil {
				m.kept = make(map[K]*entry[V])
			}
			m.kept[key] = e
		}
		m.touch(key)
		m.mu.Unlock()
		if !ok {
			m.run(ctx, key, e, work)
			return e.value, e.err
		}
		select {
		case <-e.done:
		case <-ctx.Done():
			var none V
			return none, ctx.Err()
		}
		if e.err == nil && e.panic == nil {
			return e.value, nil
		}
		if ctx.Err() != nil {
			return e.value, ctx.Err()
		}
		if e.err != nil && !errors.Is(e.err, context.Canceled) && !errors.Is(e.err, context.DeadlineExceeded) {
			return e.value, e.err
		}
	}
}

func (m *Memo[K, V]) run(ctx context.Context, key K, e *entry[V], work func(context.Context) (V, error)) {
	defer func() {
		if e.panic = recover(); e.panic != nil || e.err != nil {
			m.mu.Lock()
			if m.kept[key] == e {
				m.forget(key)
			}
			m.mu.Unlock()
		}
		close(e.done)
		if e.panic != nil {
			panic(e.panic)
		}
	}()
	if e.value, e.err = work(ctx); e.err == nil && m.Weigh != nil {
		m.mu.Lock()
		e.weight = m.Weigh(e.value)
		m.lighten()
		m.mu.Unlock()
	}
}

// lighten drops the oldest answers until the rest are within the budget. The
// caller holds the lock.
func (m *Memo[K, V]) lighten() {
	var sum int64
	for _, e := range m.kept {
		sum += e.weight
	}
	for len(m.asked) > 1 && sum > m.Budget {
		if e := m.kept[m.asked[0]]; e != nil {
			sum -= e.weight
		}
		m.forget(m.asked[0])
	}
}

// touch makes a question the one asked last and drops the oldest. The caller
// holds the lock.
func (m *Memo[K, V]) touch(key K) {
	for i, k := range m.asked {
		if k == key {
			m.asked = append(m.asked[:i], m.asked[i+1:]...)
			break
		}
	}
	m.asked = append(m.asked, key)
	for len(m.asked) > max(1, m.Most) {
		m.forget(m.asked[0])
	}
}

func (m *Memo[K, V]) forget(key K) {
	delete(m.kept, key)
	for i, k := range m.asked {
		if k == key {
			m.asked = append(m.asked[:i], m.asked[i+1:]...)
			return
		}
	}
}

// Len is how many questions are remembered.
func (m *Memo[K, V]) Len() int {
	m.mu.Lock()
	defer m.mu.Unlock()
	return len(m.kept)
}
