package api

import (
	"context"
	"errors"
	"net/http"
	"regexp"
	"strconv"
	"strings"
	"time"

	"bathyform/core/session"
	"bathyform/internal/store"

	"github.com/google/uuid"
)

// latestOver is how many sessions that are over the bench still lists.
const latestOver = 8

// GetBench tells what is due now.
func (s *Server) GetBench(ctx context.Context, _ GetBenchRequestObject) (GetBenchResponseObject, error) {
	open, err := s.store.OpenSessions(ctx)
	if err != nil {
		return nil, err
	}
	over, err := s.store.LatestSessions(ctx, latestOver)
	if err != nil {
		return nil, err
	}
	now := s.now()
	out := BenchToday{Due: []Due{}, Sessions: []SessionRow{}, Over: []SessionRow{}, Lessons: []Lesson{}, Numbers: []NumberRow{}}
	var at []session.Open
	busy := map[string]bool{}
	for _, o := range open {
		st := o.At(now)
		if st.Over { // the server went away before it was written down
			if _, err := s.over(ctx, o); err != nil {
				return nil, err
			}
			continue
		}
		if o.Lesson == "" {
			at = append(at, session.Open{ID: o.ID.String(), Plan: o.Plan, State: st})
		}
		for _, m := range o.Plan.Moulds {
			busy[m.ID] = true
		}
		out.Sessions = append(out.Sessions, sessionRow(o, st))
	}
	for _, o := range over {
		out.Over = append(out.Over, sessionRow(o, o.At(now)))
	}
	jobs, err := s.benchJobs(ctx, busy)
	if err != nil {
		return nil, err
	}
	for _, d := range session.Today(store.Seconds(now), at, jobs) {
		out.Due = append(out.Due, fromDue(d))
	}
	for _, l := range session.Lessons {
		out.Lessons = append(out.Lessons, Lesson{Key: l.Key, Name: l.Name, What: l.What})
	}
	return GetBench200JSONResponse(out), nil
}

func sessionRow(b store.Session, st session.State) SessionRow {
	row := SessionRow{
		Id:     b.ID,
		Kind:   SessionKind(b.Kind),
		Job:    b.Plan.Job,
		Begun:  b.Begun,
		At:     st.At,
		Of:     len(st.Steps),
		Over:   st.Over,
		Lesson: optional(b.Lesson),
	}
	if st.At < len(st.Steps) {
		row.Step = st.Steps[st.At].Do
	}
	for _, c := range st.Clocks {
		if row.Until == nil || c.Until < *row.Until {
			row.Until = &c.Until
		}
	}
	return row
}

func fromDue(d session.Due) Due {
	out := Due{Kind: DueKind(d.Kind), What: d.What, Why: d.Why, At: optional(d.At), Number: optional(d.Number)}
	if id, err := uuid.Parse(d.Session); err == nil {
		out.Session = &id
	}
	if id, err := uuid.Parse(d.Job); err == nil {
		out.Job = &id
	}
	if len(d.Moulds) > 0 {
		all := []DueMould{}
		for _, m := range d.Moulds {
			all = append(all, DueMould{Id: uuid.MustParse(m.ID), Number: m.Number, Pulls: m.Pulls, Cavities: m.Cavities})
		}
		out.Moulds = &all
	}
	return out
}

// benchJobs are the orders as the bench looks at them.
func (s *Server) benchJobs(ctx context.Context, busy map[string]bool) ([]session.Job, error) {
	jobs, err := s.store.Jobs(ctx)
	if err != nil {
		return nil, err
	}
	moulds, err := s.store.Moulds(ctx)
	if err != nil {
		return nil, err
	}
	letters, next := numbered(moulds)
	of := map[uuid.UUID][]store.Mould{}
	for _, m := range moulds {
		if m.Retired == nil {
			of[m.JobID] = append(of[m.JobID], m)
		}
	}
	var out []session.Job
	for _, j := range jobs {
		b := session.Job{ID: j.ID.String(), Name: j.Order.Name, Wanted: j.Order.Quantity - j.Good, Letters: letters, Next: next}
		if j.Design != nil {
			b.Resin, b.Rubber = j.Design.Resin != "", j.Design.Rubber != ""
		}
		for _, m := range of[j.ID] {
			if busy[m.ID.String()] {
				b.Busy++
				continue
			}
			b.Moulds = append(b.Moulds, onBench(m))
		}
		out = append(out, b)
	}
	return out, nil
}

func onBench(m store.Mould) session.Mould {
	return session.Mould{ID: m.ID.String(), Number: m.Number, Cavities: m.Cavities, Pulls: m.Pulls}
}

// numberedSo is how a shop numbers its moulds: letters, a dash and a number.
var numberedSo = regexp.MustCompile(`^(.*?)-?(\d{1,6})$`)

// numbered is what the shop's moulds are numbered by, and the next number.
func numbered(all []store.Mould) (letters string, next int) {
	letters, next = "M", 1
	latest := time.Time{}
	for _, m := range all {
		f := numberedSo.FindStringSubmatch(m.Number)
		if f != nil && f[1] != "" && !m.Poured.Before(latest) {
			letters, latest = f[1], m.Poured
		}
	}
	for _, m := range all {
		if f := numberedSo.FindStringSubmatch(m.Number); f != nil && f[1] == letters {
			if n, err := strconv.Atoi(f[2]); err == nil {
				next = max(next, n+1)
			}
		}
	}
	return letters, next
}

// GetSession tells where a session stands.
func (s *Server) GetSession(ctx context.Context, r GetSessionRequestObject) (GetSessionResponseObject, error) {
	b, err := s.store.Session(ctx, r.SessionId)
	if err != nil {
		return nil, err
	}
	if b.Ended == nil && b.At(s.now()).Over { // the server went away before it was written down
		if b, err = s.over(ctx, b); err != nil {
			return nil, err
		}
	}
	return GetSession200JSONResponse(s.fromSession(ctx, b)), nil
}

// TellSession keeps what happened.
func (s *Server) TellSession(ctx context.Context, r TellSessionRequestObject) (TellSessionResponseObject, error) {
	key := uuid.Nil
	if r.Params.IdempotencyKey != nil {
		key = *r.Params.IdempotencyKey
	}
	b := r.Body
	e := session.Event{
		What:   session.What(b.What),
		Step:   given(b.Step),
		Figure: given(b.Figure),
		Mould:  given(b.Mould),
		Good:   given(b.Good),
		Second: given(b.Second),
		Text:   strings.TrimSpace(given(b.Text)),
		Who:    strings.TrimSpace(given(b.Who)),
		Meant:  given(b.Meant),
	}
	if b.From != nil {
		e.From = string(*b.From)
	}
	was, err := s.store.Happened(ctx, r.SessionId, e, key, s.now())
	if err != nil {
		return nil, notTaken(err)
	}
	if was.Ended == nil && was.At(s.now()).Over {
		if was, err = s.over(ctx, was); err != nil {
			return nil, err
		}
	}
	s.benches.changed(r.SessionId)
	s.slips(ctx, was)
	return TellSession200JSONResponse(s.fromSession(ctx, was)), nil
}

// notTaken says why an event is not taken.
func notTaken(err error) error {
	var unlikely session.Unlikely
	switch {
	case errors.As(err, &unlikely):
		return unlikelyProblem(unlikely)
	case errors.Is(err, session.ErrElsehow), errors.Is(err, session.ErrOver):
		return problem(http.StatusConflict, "The session has gone on", sentence(err.Error()))
	case errors.Is(err, session.ErrWeight), errors.Is(err, session.ErrDefect), errors.Is(err, session.ErrFigure),
		errors.Is(err, session.ErrMould), errors.Is(err, session.ErrNoStep), errors.Is(err, session.ErrNothing):
		return unusable("That was not kept", err)
	}
	return err
}

func unlikelyProblem(u session.Unlikely) error { return unlikely("Is that meant?", sentence(u.Says)) }

// ListWays lists the ways on from what went wrong.
func (s *Server) ListWays(ctx context.Context, r ListWaysRequestObject) (ListWaysResponseObject, error) {
	b, err := s.store.Session(ctx, r.SessionId)
	if err != nil {
		return nil, err
	}
	all, err := b.At(s.now()).Ways(session.Trouble(r.Params.Trouble), given(r.Params.Mould), given(r.Params.Figure))
	if err != nil {
		return nil, unusable("There is no way to tell yet", err)
	}
	l := newLedger()
	out := Ways{Ways: []Way{}}
	for _, w := range all {
		way := Way{Do: w.Do, Why: w.Why, Figures: []Named{}}
		for _, f := range w.Figures {
			way.Figures = append(way.Figures, Named{Name: f.Name, Number: l.number(f.Number)})
		}
		if e := w.Event; e != nil {
			way.Event = &SessionEvent{
				What:   SessionEventWhat(e.What),
				Figure: optional(e.Figure),
				Mould:  &e.Mould,
				Text:   optional(e.Text),
			}
		}
		out.Ways = append(out.Ways, way)
	}
	out.Numbers = l.rows
	return ListWays200JSONResponse(out), nil
}
