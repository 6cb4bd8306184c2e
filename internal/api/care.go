package api

import (
	"context"
	"net/http"
	"strings"

	"bathyform/internal/store"

	"github.com/google/uuid"
)

// cares is how what was done is said.
var cares = map[string]string{store.Repaired: "repaired", store.Rested: "put aside to rest", store.Back: "taken back into use",
	store.Released: "released", store.Plugged: "plugged", store.Opened: "opened again", store.Noted: "noted"}

// caredFor is which moulds rest, and which of their cavities are plugged.
func caredFor(all []store.Care) (resting map[uuid.UUID]bool, plugged map[uuid.UUID]map[int]bool) {
	resting, plugged = map[uuid.UUID]bool{}, map[uuid.UUID]map[int]bool{}
	for _, c := range all {
		switch c.What {
		case store.Rested, store.Back:
			resting[c.MouldID] = c.What == store.Rested
		case store.Plugged, store.Opened:
			if plugged[c.MouldID] == nil {
				plugged[c.MouldID] = map[int]bool{}
			}
			plugged[c.MouldID][c.Cavity] = c.What == store.Plugged
		}
	}
	return resting, plugged
}

// CareForMould keeps what was done to a mould.
func (s *Server) CareForMould(ctx context.Context, r CareForMouldRequestObject) (CareForMouldResponseObject, error) {
	m, err := s.store.Mould(ctx, r.MouldId)
	if err != nil {
		return nil, err
	}
	b := r.Body
	c := store.Care{
		ID:      newID(r.Params.IdempotencyKey),
		MouldID: m.ID,
		Day:     b.Day.Time,
		What:    string(b.What),
		Cavity:  given(b.Cavity),
		Says:    strings.TrimSpace(given(b.Says)),
	}
	switch {
	case (c.What == store.Plugged || c.What == store.Opened) && c.Cavity == 0:
		return nil, problem(http.StatusUnprocessableEntity, "Which cavity?", "Only a cavity is plugged, or opened again.")
	case c.What == store.Noted && c.Says == "":
		return nil, problem(http.StatusUnprocessableEntity, "There is nothing to note", "Write what was done to it.")
	case c.Day.After(s.now().AddDate(0, 0, 1)):
		return nil, problem(http.StatusUnprocessableEntity, "That day has not come yet", "Write it down when it has been done.")
	}
	if err := inLog(s.store.AddCare(ctx, c), m); err != nil {
		return nil, err
	}
	return CareForMould204Response{}, nil
}
