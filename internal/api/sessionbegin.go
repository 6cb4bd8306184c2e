package api

import (
	"context"
	"errors"
	"fmt"
	"net/http"
	"slices"
	"strings"

	"bathyform/core/bench"
	"bathyform/core/session"
	"bathyform/internal/store"

	"github.com/google/uuid"
)

// Benches hold no more at once than hands can, in a shop that people stand in.
const (
	mostPots     = 20
	coldestShop  = -10.0
	warmestShop  = 50.0
	mostHumidity = 100.0
)

// BeginSession plans a session and begins it.
func (s *Server) BeginSession(ctx context.Context, r BeginSessionRequestObject) (BeginSessionResponseObject, error) {
	id := newID(r.Params.IdempotencyKey)
	if was, err := s.store.Session(ctx, id); err == nil { // sent again
		return BeginSession201JSONResponse(s.fromSession(ctx, was)), nil
	}
	shop, err := s.store.ReadShop(ctx)
	if err != nil {
		return nil, err
	}
	b := r.Body
	at := session.Bench{House: shop.Practice, Celsius: given(b.Celsius), Humid: given(b.Humidity), Lot: strings.TrimSpace(given(b.Lot)),
		Pots: given(b.Pots)}
	switch {
	case b.Pots != nil && (*b.Pots < 1 || *b.Pots > mostPots):
		return nil, problem(http.StatusUnprocessableEntity, "That many pots cannot be", fmt.Sprintf("From 1 to %d.", mostPots))
	case b.Celsius != nil && (at.Celsius < coldestShop || at.Celsius > warmestShop), at.Humid < 0 || at.Humid > mostHumidity:
		return nil, problem(http.StatusUnprocessableEntity, "No shop is like that", "Read the thermometer and the humidity again.")
	}
	begun := store.Session{ID: id, Kind: string(b.Kind), Begun: s.now(), JobID: b.Job}
	var moulds []uuid.UUID
	switch {
	case b.Lesson != nil:
		lesson, err := session.LessonOf(*b.Lesson)
		if err != nil {
			return nil, unusable("There is no such lesson", err)
		}
		begun.Lesson, begun.JobID = lesson.Key, nil
		if begun.Plan, err = lesson.Plan(at); err != nil {
			return nil, unusable("The lesson cannot be begun", err)
		}
		begun.Kind = string(begun.Plan.Kind)
	case b.Job == nil:
		return nil, problem(http.StatusUnprocessableEntity, "Which order is it for?", "Choose one of the jobs.")
	default:
		if begun.Plan, moulds, err = s.planned(ctx, *b, at); err != nil {
			return nil, err
		}
	}
	switch err := s.store.BeginSession(ctx, begun, moulds); {
	case errors.Is(err, store.ErrInUse):
		return nil, problem(http.StatusConflict, "A mould stands in another session", "End that one first, or cast in another mould.")
	case errors.Is(err, store.ErrRetired):
		return nil, problem(http.StatusConflict, "A mould is retired", "Take it back into use on the rack first, if "+
			"it still gives good castings.")
	case err != nil:
		return nil, err
	}
	begun, err = s.store.Session(ctx, id)
	return BeginSession201JSONResponse(s.fromSession(ctx, begun)), err
}

// planned is the session of a job, with the moulds that it is cast in.
func (s *Server) planned(ctx context.Context, b NewSession, at session.Bench) (session.Plan, []uuid.UUID, error) {
	o, q, err := s.asked(ctx, *b.Job, nil)
	if err != nil {
		return session.Plan{}, nil, err
	}
	var moulds []session.Mould
	var ids []uuid.UUID
	if b.Kind == SessionKindCasting {
		for _, id := range given(b.Moulds) {
			m, err := s.store.Mould(ctx, id)
			if err != nil {
				return session.Plan{}, nil, err
			}
			switch {
			case m.JobID != o.job.ID:
				return session.Plan{}, nil, problem(
					http.StatusUnprocessableEntity,
					m.Number+" is a mould of another order",
					"Choose "+
						"moulds of this one.",
				)
			case m.Retired != nil:
				return session.Plan{}, nil, problem(
					http.StatusConflict,
					m.Number+" is retired",
					"Take it back into use on the rack first.",
				)
			case slices.Contains(ids, id):
				return session.Plan{}, nil, problem(http.StatusUnprocessableEntity, m.Number+" is named twice", "A "+
					"mould stands in one place at a time.")
			}
			moulds, ids = append(moulds, onBench(m)), append(ids, id)
		}
	} else if moulds, err = s.newMoulds(ctx, given(b.Numbers), o); err != nil {
		return session.Plan{}, nil, err
	}
	switch {
	case len(moulds) > 0:
	case b.Kind == SessionKindRubber:
		return session.Plan{}, nil, problem(
			http.StatusUnprocessableEntity,
			"There is nothing to begin with",
			"Give the mould a number: "+
				"written on every side it tells it from its sisters.",
		)
	default:
		return session.Plan{}, nil, unusable("There is nothing to begin with", session.ErrNoMoulds)
	}
	built, err := o.master.Build(ctx, q, nil)
	if err != nil {
		return session.Plan{}, nil, buildProblem(err)
	}
	var p session.Plan
	if b.Kind == SessionKindCasting {
		p, err = o.master.Casting(ctx, o.job.Order.Name, built, q, at, moulds)
		p.Spares = s.spares(ctx, o)
	} else {
		p, err = built.Making(o.job.Order.Name, q, at, moulds)
	}
	switch {
	case errors.Is(err, bench.ErrNoResin), errors.Is(err, bench.ErrNoRubber), errors.Is(err, session.ErrNoMix):
		return p, nil, problem(http.StatusConflict, "There is nothing to weigh yet", sentence(err.Error()))
	case err != nil:
		return p, nil, unusable("The session cannot be begun", err)
	}
	return p, ids, nil
}

// newMoulds are moulds that are going to be poured, by their numbers.
func (s *Server) newMoulds(ctx context.Context, numbers []string, o opened) (out []session.Mould, err error) {
	all, err := s.store.Moulds(ctx)
	if err != nil {
		return nil, err
	}
	cavities := 1
	if o.job.Design != nil {
		cavities = o.job.Design.Cavities()
	}
	taken := map[string]bool{}
	for _, m := range all {
		taken[m.Number] = true
	}
	for _, n := range numbers {
		n = strings.TrimSpace(n)
		if n == "" {
			continue
		}
		if taken[n] {
			return nil, problem(http.StatusUnprocessableEntity, "There is a mould "+n+" already", "Give the new one another number.")
		}
		taken[n] = true
		out = append(out, session.Mould{Number: n, Cavities: cavities})
	}
	return out, nil
}

// spares are small open moulds of other orders that take what is left over.
func (s *Server) spares(ctx context.Context, o opened) (out []session.Spare) {
	all, err := s.store.Moulds(ctx)
	if err != nil {
		return nil
	}
	for _, m := range all {
		if m.Retired != nil || m.JobID == o.job.ID || !bench.OpenFaced(m.Kind) {
			continue
		}
		j, err := s.store.Job(ctx, m.JobID)
		if err != nil || j.Master == nil || j.Design == nil || o.job.Design == nil || j.Design.Resin != o.job.Design.Resin {
			continue
		}
		if hand, err := s.hand.take(ctx, j); err == nil {
			for _, material := range o.shelf {
				if material.ID.String() == j.Design.Resin {
					grams := hand.Solid.Volume() / 1000 * material.Density * float64(m.Cavities)
					out = append(out, session.Spare{Name: m.Number + ", " + j.Order.Name, Grams: grams})
				}
			}
		}
	}
	return out
}
