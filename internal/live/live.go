// Package live tells everybody who looks on what is new, and only the latest of
// it: who is slow misses what is past, not what is.
package live

import (
	"context"
	"encoding/json"
	"fmt"
	"net/http"
	"sync"
	"time"
)

// Source says what is new until ctx ends.
type Source[T any] func(ctx context.Context, tell func(T))

// Hub has one source running for everybody who follows the same.
type Hub[T any] struct {
	mu    sync.Mutex
	feeds map[string]*feed[T]
}

// feed is what one source has said last.
type feed[T any] struct {
	mu     sync.Mutex
	latest T
	said   int // how often
	news   chan struct{}
	follow int // how many
	cancel context.CancelFunc
}

// NewHub has nothing to tell yet.
func NewHub[T any]() *Hub[T] { return &Hub[T]{feeds: make(map[string]*feed[T])} }

// Follow tells what the source of a key says, the latest first, until ctx ends.
// The source runs as long as anybody follows it.
func (h *Hub[T]) Follow(ctx context.Context, key string, source Source[T], told func(T)) {
	f := h.join(ctx, key, source)
	defer h.leave(key, f)
	seen := 0
	for {
		f.mu.Lock()
		latest, said, news := f.latest, f.said, f.news
		f.mu.Unlock()
		if said > seen {
			seen = said
			told(latest)
			continue
		}
		select {
		case <-ctx.Done():
			return
		case <-news:
		}
	}
}

func (h *Hub[T]) join(ctx context.Context, key string, source Source[T]) *feed[T] {
	h.mu.Lock()
	defer h.mu.Unlock()
	f, ok := h.feeds[key]
	if !ok {
		own, cancel := context.WithCancel(context.WithoutCancel(ctx))
		f = &feed[T]{news: make(chan struct{}), cancel: cancel}
		h.feeds[key] = f
		go source(own, f.tell)
	}
	f.follow++
	return f
}

func (f *feed[T]) tell(v T) {
	f.mu.Lock()
	defer f.mu.Unlock()
	f.latest, f.said = v, f.said+1
	close(f.news)
	f.news = make(chan struct{})
}

func (h *Hub[T]) leave(key string, f *feed[T]) {
	h.mu.Lock()
	defer h.mu.Unlock()
	if f.follow--; f.follow == 0 {
		f.cancel()
		delete(h.feeds, key)
	}
}

// beat is how often something is sent where nothing is new, so that a line that is
// gone is noticed.
const beat = 20 * time.Second

// Stream answers a request with server-sent events until it ends; send may be
// called from several sides.
func Stream(ctx context.Context, w http.ResponseWriter, run func(ctx context.Context, send func(kind string, v any))) {
	w.Header().Set("Content-Type", "text/event-stream")
	w.Header().Set("Cache-Control", "no-store")
	w.WriteHeader(http.StatusOK)
	out := http.NewResponseController(w)
	var mu sync.Mutex
	write := func(text string) {
		mu.Lock()
		defer mu.Unlock()
		if ctx.Err() != nil {
			return
		}
		if _, err := fmt.Fprint(w, text); err == nil {
			_ = out.Flush()
		}
	}
	write(": here\n\n")
	done := make(chan struct{})
	go func() {
		defer close(done)
		tick := time.NewTicker(beat)
		defer tick.Stop()
		for {
			select {
			case <-ctx.Done():
				return
			case <-tick.C:
				write(": here\n\n")
			}
		}
	}()
	run(ctx, func(kind string, v any) {
		if doc, err := json.Marshal(v); err == nil {
			write(fmt.Sprintf("event: %s\ndata: %s\n\n", kind, doc))
		}
	})
	<-ctx.Done()
	<-done
}
