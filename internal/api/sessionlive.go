package api

import (
	"context"
	"fmt"
	"net/http"
	"strings"
	"sync"
	"time"

	"bathyform/core/practice"
	"bathyform/core/session"
	"bathyform/core/weigh"
	"bathyform/internal/device"
	"bathyform/internal/live"
	"bathyform/internal/store"

	"github.com/google/uuid"
)

// benches tell who looks on what has changed in a session.
type benches struct {
	sessions *live.Hub[Session]
	lines    *live.Hub[InstrumentLine]

	mu   sync.Mutex
	news map[uuid.UUID]chan struct{}
}

func newBenches() *benches {
	return &benches{sessions: live.NewHub[Session](), lines: live.NewHub[InstrumentLine](), news: make(map[uuid.UUID]chan struct{})}
}

// changed says that a session has.
func (b *benches) changed(id uuid.UUID) {
	b.mu.Lock()
	defer b.mu.Unlock()
	if c, ok := b.news[id]; ok {
		close(c)
		delete(b.news, id)
	}
}

// change is closed as soon as a session changes.
func (b *benches) change(id uuid.UUID) <-chan struct{} {
	b.mu.Lock()
	defer b.mu.Unlock()
	c, ok := b.news[id]
	if !ok {
		c = make(chan struct{})
		b.news[id] = c
	}
	return c
}

// lookAgain is how often a session is looked at for what another server has kept.
const lookAgain = 2 * time.Second

// watched is a session for as long as anybody looks on: told as it changes, here
// or by another server.
func (s *Server) watched(id uuid.UUID) live.Source[Session] {
	return func(ctx context.Context, tell func(Session)) {
		last := -1
		for {
			change := s.benches.change(id)
			if b, err := s.store.Session(ctx, id); err == nil && (len(b.Events) != last) {
				last = len(b.Events)
				tell(s.fromSession(ctx, b))
			}
			select {
			case <-ctx.Done():
				return
			case <-change:
			case <-time.After(lookAgain):
			}
		}
	}
}

// instrumentAt is the instrument of a kind that a session hears: the first of the
// house, and in a lesson always a stand-in.
func (s *Server) instrumentAt(b store.Session, h practice.House, kind device.Kind) (practice.Instrument, bool) {
	if b.Lesson != "" {
		in, err := s.trainers.instrument(b.ID, kind)
		return in, err == nil
	}
	for _, in := range h.Instruments {
		if device.Kind(in.Kind) == kind {
			return in, true
		}
	}
	return practice.Instrument{}, false
}

// standsIn is whether an instrument is likely a stand-in: one that is told what to
// do, on this machine.
func standsIn(in practice.Instrument) bool {
	return strings.HasPrefix(in.Address, "127.0.0.1:") || strings.HasPrefix(in.Address, "localhost:")
}

// heard are the lines of an instrument, as they are watched.
func heard(in practice.Instrument) (live.Source[InstrumentLine], error) {
	pattern, err := device.NewPattern(in.Pattern, in.Unit)
	if err != nil {
		return nil, unusable("The instrument cannot be heard", err)
	}
	digit := in.Digit
	if digit <= 0 {
		digit = usualDigit
	}
	return func(ctx context.Context, tell func(InstrumentLine)) {
		ear, watch, kind := ear{began: time.Now()}, weigh.Usual(digit), device.Kind(in.Kind)
		device.Follow(ctx, kind, in.Address, pattern, func(h device.Heard) { tell(ear.line(watch, kind, h)) })
	}, nil
}

// follow hears an instrument together with everybody else who does.
func (s *Server) follow(ctx context.Context, in practice.Instrument, told func(InstrumentLine)) error {
	source, err := heard(in)
	if err != nil {
		return err
	}
	s.benches.lines.Follow(ctx, fmt.Sprintf("%+v", in), source, told)
	return ctx.Err()
}

// events answers a request with what is told until whoever asked has gone.
type events struct {
	ctx context.Context
	run func(ctx context.Context, send func(kind string, v any))
}

func (e events) visit(w http.ResponseWriter) error {
	live.Stream(e.ctx, w, e.run)
	return nil
}

// VisitHearInstrumentResponse streams what is heard.
func (e events) VisitHearInstrumentResponse(w http.ResponseWriter) error { return e.visit(w) }

// VisitFollowSessionResponse streams what happens.
func (e events) VisitFollowSessionResponse(w http.ResponseWriter) error { return e.visit(w) }

// FollowSession follows a session with its scale and its pot.
func (s *Server) FollowSession(ctx context.Context, r FollowSessionRequestObject) (FollowSessionResponseObject, error) {
	b, err := s.store.Session(ctx, r.SessionId)
	if err != nil {
		return nil, err
	}
	shop, err := s.store.ReadShop(ctx)
	if err != nil {
		return nil, err
	}
	h := shop.Practice
	return events{ctx, func(ctx context.Context, send func(string, any)) {
		var all sync.WaitGroup
		var mu sync.Mutex
		var now Session
		all.Go(func() {
			s.benches.sessions.Follow(ctx, r.SessionId.String(), s.watched(r.SessionId), func(next Session) {
				mu.Lock()
				now = next
				mu.Unlock()
				send("session", next)
			})
		})
		if in, ok := s.instrumentAt(b, h, device.Scale); ok {
			all.Go(func() {
				var last ScaleShows
				_ = s.follow(ctx, in, func(line InstrumentLine) {
					mu.Lock()
					shows, meets := scaleOf(now, line)
					mu.Unlock()
					if meets {
						s.meets(ctx, r.SessionId)
					}
					if !shows.same(last) {
						last = shows
						send("scale", shows)
					}
				})
			})
		}
		if in, ok := s.instrumentAt(b, h, device.Pot); ok {
			all.Go(func() { _ = s.follow(ctx, in, func(line InstrumentLine) { send("gauge", line) }) })
		}
		all.Wait()
	}}, nil
}

// meets keeps that A meets B: seen on the scale.
func (s *Server) meets(ctx context.Context, id uuid.UUID) {
	if _, err := s.store.Happened(ctx, id, session.Event{What: session.Contact, From: "scale"}, uuid.Nil, s.now()); err == nil {
		s.benches.changed(id)
	}
}

// touches is from how many digits on something is poured.
const touches = 3.0

// scaleOf is what a line of the scale says of the part that is weighed, and
// whether A has just met B.
func scaleOf(now Session, line InstrumentLine) (out ScaleShows, meets bool) {
	out.In, out.Trouble = ScaleShowsInNone, line.Trouble
	w := now.Weighing
	if w == nil || w.Drops {
		out.Net, out.Settled = line.Value, line.Settled
		return out, false
	}
	zero := w.Zero + given(now.Tare)
	net := func(v *float64) *float64 {
		if v == nil {
			return nil
		}
		n := digits(*v-zero, 7)
		return &n
	}
	out.Net, out.Settled = net(line.Value), net(line.Settled)
	if out.Net == nil {
		return out, false
	}
	if w.Target > 0 {
		out.Share = digits(max(0, *out.Net/w.Target), 4)
	}
	switch {
	case *out.Net < w.Low:
		out.In = ScaleShowsInUnder
	case *out.Net <= w.High:
		out.In = ScaleShowsInBand
	default:
		out.In = ScaleShowsInOver
	}
	return out, given(w.Meets) && *out.Net > touches*now.Digit
}

// same is whether nothing is new.
func (a ScaleShows) same(b ScaleShows) bool {
	return given(a.Net) == given(b.Net) && (a.Net == nil) == (b.Net == nil) && given(a.Settled) == given(b.Settled) &&
		(a.Settled == nil) == (b.Settled == nil) && a.In == b.In && a.Share == b.Share && given(a.Trouble) == given(b.Trouble)
}
