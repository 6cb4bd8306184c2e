package api

import (
	"context"
	"errors"
	"net"
	"net/http"
	"sync"

	"bathyform/core/practice"
	"bathyform/core/session"
	"bathyform/internal/device"
	"bathyform/internal/device/standin"
	"bathyform/internal/store"

	"github.com/google/uuid"
)

// trainers are the stand-ins of lessons: a scale and a pot for each, so that a
// lesson never touches an instrument of the house, nor one lesson another's.
type trainers struct {
	mu  sync.Mutex
	all map[trainer]practice.Instrument
	end map[uuid.UUID]context.CancelFunc
}

type trainer struct {
	session uuid.UUID
	kind    device.Kind
}

func newTrainers() *trainers {
	return &trainers{all: make(map[trainer]practice.Instrument), end: make(map[uuid.UUID]context.CancelFunc)}
}

// mostTrainers bounds the lessons that have stand-ins at once.
const mostTrainers = 40

var errManyLessons = errors.New("too many lessons are open at once: end some of them")

// instrument is the stand-in of a kind of a lesson; it is begun when it is first
// asked for.
func (t *trainers) instrument(session uuid.UUID, kind device.Kind) (practice.Instrument, error) {
	t.mu.Lock()
	defer t.mu.Unlock()
	key := trainer{session, kind}
	if in, ok := t.all[key]; ok {
		return in, nil
	}
	if kind != device.Scale && kind != device.Pot || len(t.end) >= mostTrainers {
		return practice.Instrument{}, errManyLessons
	}
	ctx, cancel := context.WithCancel(context.Background())
	if was, ok := t.end[session]; ok {
		first := cancel
		cancel = func() { was(); first() }
	}
	t.end[session] = cancel
	is, err := standin.New(kind)
	if err != nil {
		return practice.Instrument{}, err
	}
	l, err := (&net.ListenConfig{}).Listen(ctx, "tcp", "127.0.0.1:0")
	if err != nil {
		return practice.Instrument{}, err
	}
	go func() { _ = standin.Serve(ctx, l, is) }()
	in := practice.Instrument{Kind: string(kind), Address: l.Addr().String()}
	if kind == device.Scale {
		in.Digit = usualDigit
	}
	t.all[key] = in
	return in, nil
}

// over ends the stand-ins of a lesson.
func (t *trainers) over(session uuid.UUID) {
	t.mu.Lock()
	defer t.mu.Unlock()
	if end, ok := t.end[session]; ok {
		end()
		delete(t.end, session)
	}
	for _, kind := range device.Kinds {
		delete(t.all, trainer{session, kind})
	}
}

// slips has what goes wrong at the step that is on in a lesson go wrong.
func (s *Server) slips(ctx context.Context, b store.Session) {
	lesson, err := session.LessonOf(b.Lesson)
	if err != nil {
		return
	}
	st := b.At(s.now())
	if st.Over {
		s.trainers.over(b.ID)
		return
	}
	last := b.Events[len(b.Events)-1]
	slip, ok := lesson.Slipped(st)
	if !ok || slip.Line == "" || last.What != session.Done || last.At != st.Since() {
		return
	}
	if in, err := s.trainers.instrument(b.ID, device.Scale); err == nil {
		go func() { _ = say(context.WithoutCancel(ctx), in, slip.Line) }() // the step does not wait for it
	}
}

// TellStandIn says a line to a stand-in of a session.
func (s *Server) TellStandIn(ctx context.Context, r TellStandInRequestObject) (TellStandInResponseObject, error) {
	b, err := s.store.Session(ctx, r.SessionId)
	if err != nil {
		return nil, err
	}
	shop, err := s.store.ReadShop(ctx)
	if err != nil {
		return nil, err
	}
	in, ok := s.instrumentAt(b, shop.Practice, device.Kind(r.Body.Instrument))
	if !ok || !standsIn(in) {
		return nil, problem(http.StatusConflict, "Nothing can be said to it", "Only stand-ins are told what to do.")
	}
	if err := say(ctx, in, r.Body.Line); err != nil {
		return nil, err
	}
	return TellStandIn204Response{}, nil
}
