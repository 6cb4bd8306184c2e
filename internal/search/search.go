// Package search runs work that takes seconds and tells how far it is, as
// server-sent events: only so much at a time, so that what a hand drags is
// answered meanwhile, and one worker for equal questions, whoever asks.
package search

import (
	"context"
	"encoding/json"
	"fmt"
	"net/http"
	"runtime"
	"sync"
)

// Work goes on until it is done or ctx ends, and tells what it has found.
type Work func(ctx context.Context, tell func(v any)) error

// Desk is where searches are asked for.
type Desk struct {
	slots chan struct{}
	mu    sync.Mutex
	runs  map[string]*run
}

// NewDesk is a desk that works on half of the processors, one at least: the
// others answer what a hand drags.
func NewDesk() *Desk {
	return &Desk{slots: make(chan struct{}, max(1, runtime.GOMAXPROCS(0)/2)), runs: make(map[string]*run)}
}

// run is one piece of work with everybody who waits for it.
type run struct {
	cancel context.CancelFunc

	mu      sync.Mutex
	events  []any // all that was told, for those who come later
	news    chan struct{}
	done    bool
	err     error
	waiting int
}

// Ask does the work of a question, or joins those who asked the same before;
// an empty key asks alone. Tell is called with everything that was told, from
// the beginning. The work ends when nobody waits for it any more.
func (d *Desk) Ask(ctx context.Context, key string, work Work, tell func(v any)) error {
	r := d.join(ctx, key, work)
	defer d.leave(key, r)
	sent := 0
	for {
		r.mu.Lock()
		events, news, done, err := r.events[sent:], r.news, r.done, r.err
		sent = len(r.events)
		r.mu.Unlock()
		for _, e := range events {
			tell(e)
		}
		if done {
			return err
		}
		select {
		case <-news:
		case <-ctx.Done():
			return ctx.Err()
		}
	}
}

func (d *Desk) join(ctx context.Context, key string, work Work) *run {
	d.mu.Lock()
	defer d.mu.Unlock()
	if r, ok := d.runs[key]; ok && key != "" {
		r.mu.Lock()
		open := !r.done && r.waiting > 0
		if open {
			r.waiting++
		}
		r.mu.Unlock()
		if open {
			return r
		}
	}
	own, cancel := context.WithCancel(context.WithoutCancel(ctx))
	r := &run{cancel: cancel, news: make(chan struct{}), waiting: 1}
	if key != "" {
		d.runs[key] = r
	}
	go d.work(own, key, r, work)
	return r
}

func (d *Desk) work(ctx context.Context, key string, r *run, work Work) {
	err := ctx.Err()
	defer func() {
		if p := recover(); p != nil {
			err = fmt.Errorf("the search broke down: %v", p)
		}
		d.mu.Lock()
		if d.runs[key] == r {
			delete(d.runs, key)
		}
		d.mu.Unlock()
		r.tell(nil, true, err)
		r.cancel()
	}()
	select {
	case d.slots <- struct{}{}:
		defer func() { <-d.slots }()
	case <-ctx.Done():
		err = ctx.Err()
		return
	}
	err = work(ctx, func(v any) { r.tell(v, false, nil) })
}

func (r *run) tell(v any, done bool, err error) {
	r.mu.Lock()
	defer r.mu.Unlock()
	if v != nil {
		r.events = append(r.events, v)
	}
	r.done, r.err = r.done || done, err
	close(r.news)
	r.news = make(chan struct{})
}

func (d *Desk) leave(key string, r *run) {
	r.mu.Lock()
	r.waiting--
	last := r.waiting == 0
	r.mu.Unlock()
	if !last {
		return
	}
	d.mu.Lock()
	if d.runs[key] == r {
		delete(d.runs, key)
	}
	d.mu.Unlock()
	r.cancel()
}

// Stream answers a request with the events of a search. Failed puts an error
// into what is sent as the event "problem".
func (d *Desk) Stream(ctx context.Context, w http.ResponseWriter, key string, work Work, failed func(error) any) {
	w.Header().Set("Content-Type", "text/event-stream")
	w.Header().Set("Cache-Control", "no-store")
	w.WriteHeader(http.StatusOK)
	out := http.NewResponseController(w)
	send := func(kind string, v any) {
		doc, err := json.Marshal(v)
		if err != nil {
			return
		}
		if _, err := fmt.Fprintf(w, "event: %s\ndata: %s\n\n", kind, doc); err == nil {
			_ = out.Flush()
		}
	}
	_ = out.Flush()
	if err := d.Ask(ctx, key, work, func(v any) { send("progress", v) }); err != nil && ctx.Err() == nil {
		send("problem", failed(err))
	}
}
