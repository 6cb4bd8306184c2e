package api

import (
	"context"
	"math"
	"slices"

	"bathyform/core/session"
	"bathyform/core/watch"
	"bathyform/internal/store"

	"github.com/google/uuid"
)

// states is what state each of some moulds is in.
func (s *Server) states(ctx context.Context, moulds []store.Mould) (map[uuid.UUID]MouldState, error) {
	ids := make([]uuid.UUID, len(moulds))
	for i, m := range moulds {
		ids[i] = m.ID
	}
	care, err := s.store.CareOf(ctx, ids)
	if err != nil {
		return nil, err
	}
	castings, err := s.store.CastingsOfMoulds(ctx, ids)
	if err != nil {
		return nil, err
	}
	open, err := s.store.OpenSessions(ctx)
	if err != nil {
		return nil, err
	}
	shelf, err := s.store.Materials(ctx)
	if err != nil {
		return nil, err
	}
	resting, plugged := caredFor(care)
	of := make(map[uuid.UUID][]store.Casting)
	for _, c := range castings {
		of[c.MouldID] = append(of[c.MouldID], c)
	}
	out := make(map[uuid.UUID]MouldState, len(moulds))
	for _, m := range moulds {
		state := MouldState("use")
		switch {
		case m.Retired != nil:
			state = "retired"
		case onOpen(open, m.ID):
			state = "bench"
		case resting[m.ID]:
			state = "resting"
		case isSuspect(m, of[m.ID], plugged[m.ID]):
			state = "suspect"
		case s.cures(m, shelf):
			state = "curing"
		case m.Pulls == 0:
			state = "ready"
		}
		out[m.ID] = state
	}
	return out, nil
}

func onOpen(open []store.Session, mould uuid.UUID) bool {
	return slices.ContainsFunc(open, func(b store.Session) bool {
		return slices.ContainsFunc(b.Plan.Moulds, func(x session.Mould) bool { return x.ID == mould.String() })
	})
}

// isSuspect is whether a cavity of a mould that is not plugged has alarmed lately.
func isSuspect(m store.Mould, castings []store.Casting, plugged map[int]bool) bool {
	for i, w := range chartsOf(m, castings) {
		if alarmed(w) && !plugged[i+1] {
			return true
		}
	}
	return false
}

// alarmed is whether a chart has alarmed lately.
func alarmed(w watch.Watched) bool {
	n := len(w.Alarms)
	return n > 0 && w.Pulls-w.Alarms[n-1] < suspectFor
}

// cures is whether a mould that nobody has cast in may still be curing, by the rubber's
// sheet and the day it was poured.
func (s *Server) cures(m store.Mould, shelf []store.Material) bool {
	if m.Pulls > 0 {
		return false
	}
	hours := usualCure
	for _, r := range shelf {
		if r.Name == m.Rubber && r.Traits.Demould > 0 {
			hours = r.Traits.Demould / perHour
		}
	}
	return s.now().Before(m.Poured.AddDate(0, 0, int(math.Ceil(hours/perDay))))
}
