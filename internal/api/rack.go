package api

import (
	"cmp"
	"context"
	"errors"
	"fmt"
	"net/http"
	"strings"
	"time"

	"bathyform/core/bench"
	"bathyform/core/design"
	"bathyform/internal/store"

	"github.com/google/uuid"
	openapi_types "github.com/oapi-codegen/runtime/types"
)

// usualRack is how many moulds a list holds where nobody says.
const usualRack = 100

// ListMoulds lists a page of the rack, or the moulds of one job.
func (s *Server) ListMoulds(ctx context.Context, r ListMouldsRequestObject) (ListMouldsResponseObject, error) {
	p := r.Params
	var all []store.Mould
	var total int
	var err error
	if p.Job != nil {
		all, err = s.store.MouldsOf(ctx, *p.Job)
		total = len(all)
	} else {
		all, total, err = s.store.Rack(ctx, strings.TrimSpace(given(p.Text)), cmp.Or(given(p.Limit), usualRack), given(p.Skip))
	}
	if err != nil {
		return nil, err
	}
	out, err := s.forecasts(ctx, all)
	if err != nil {
		return nil, err
	}
	states, err := s.states(ctx, all)
	for i, m := range all {
		out[i].State = optional(states[m.ID])
	}
	return ListMoulds200JSONResponse{Total: total, Moulds: out}, err
}

// mould is one mould with its forecast.
func (s *Server) mould(ctx context.Context, id uuid.UUID) (Mould, error) {
	m, err := s.store.Mould(ctx, id)
	if err != nil {
		return Mould{}, err
	}
	log, err := s.store.Log(ctx, m.Rubber)
	if err != nil {
		return Mould{}, err
	}
	prior, err := s.priors(ctx)
	if err != nil {
		return Mould{}, err
	}
	return s.lives.of(m.Rubber, prior(m.Rubber), log).mould(m), nil
}

// AddMould puts a mould on the rack.
func (s *Server) AddMould(ctx context.Context, r AddMouldRequestObject) (AddMouldResponseObject, error) {
	j, err := s.store.Job(ctx, r.JobId)
	if err != nil {
		return nil, err
	}
	var d design.Design
	if j.Design != nil {
		d = *j.Design
	}
	kind, err := bench.Question{Design: d, Brief: j.Brief}.KindOf()
	if err != nil {
		return nil, err
	}
	facts, err := toFacts(*r.Body)
	if err != nil {
		return nil, err
	}
	m := store.Mould{
		ID:       newID(r.Params.IdempotencyKey),
		JobID:    j.ID,
		Kind:     string(kind.Key),
		Number:   facts.Number,
		Rubber:   facts.Rubber,
		Poured:   facts.Poured,
		Cavities: facts.Cavities,
		Birth:    facts.Birth,
		Place:    facts.Place,
		Pieces:   facts.Pieces,
		Lot:      facts.Lot,
	}
	if err := numberTaken(s.store.AddMould(ctx, m), m.Number); err != nil {
		return nil, err
	}
	out, err := s.mould(ctx, m.ID)
	return AddMould201JSONResponse(out), err
}

// CorrectMould puts right what was entered of a mould.
func (s *Server) CorrectMould(ctx context.Context, r CorrectMouldRequestObject) (CorrectMouldResponseObject, error) {
	from, err := from(r.Params.IfMatch, r.Params.IdempotencyKey)
	if err != nil {
		return nil, err
	}
	facts, err := toFacts(*r.Body)
	if err != nil {
		return nil, err
	}
	switch err := numberTaken(s.store.CorrectMould(ctx, r.MouldId, facts, from), facts.Number); {
	case errors.Is(err, store.ErrNotPoured):
		return nil, problem(http.StatusUnprocessableEntity, "A pull from it is logged before that day",
			"Put the day of that pull right first, or strike it.")
	case errors.Is(err, store.ErrNoSuchCavity):
		return nil, problem(
			http.StatusUnprocessableEntity,
			"Pulls from more cavities are logged",
			"Put those pulls right first, or strike them.",
		)
	case err != nil:
		return nil, err
	}
	out, err := s.mould(ctx, r.MouldId)
	return CorrectMould200JSONResponse(out), err
}

// toFacts reads what is entered of a mould, as far as it can be right.
func toFacts(b NewMould) (store.MouldFacts, error) {
	m := store.MouldFacts{
		Number:   strings.TrimSpace(b.Number),
		Rubber:   strings.TrimSpace(b.Rubber),
		Poured:   b.Poured.Time,
		Cavities: 1,
		Place:    strings.TrimSpace(given(b.Place)),
		Pieces:   given(b.Pieces),
		Lot:      strings.TrimSpace(given(b.Lot)),
	}
	if b.Birth != nil {
		m.Birth = &store.Flaws{}
		for _, f := range *b.Birth {
			if f = strings.TrimSpace(f); f != "" {
				*m.Birth = append(*m.Birth, f)
			}
		}
	}
	if b.Cavities != nil {
		m.Cavities = *b.Cavities
	}
	switch {
	case m.Number == "":
		return m, problem(
			http.StatusUnprocessableEntity,
			"The mould needs a number",
			"Write it on every side of the block, with an arrow for the way up.",
		)
	case m.Rubber == "":
		return m, problem(
			http.StatusUnprocessableEntity,
			"Say which rubber it was poured of",
			"Moulds of one rubber learn from one another how long they last.",
		)
	case m.Poured.After(time.Now().AddDate(0, 0, 1)):
		return m, problem(http.StatusUnprocessableEntity, "That day has not come yet", "Enter the mould when it has been poured.")
	}
	return m, nil
}

func numberTaken(err error, number string) error {
	if errors.Is(err, store.ErrTaken) {
		return problem(
			http.StatusConflict,
			fmt.Sprintf("There is a mould %s already", number),
			"Each mould has a number of its own, retired ones as well. Choose the next free one.",
		)
	}
	return err
}

// ListMouldHistory lists what was entered of a mould before.
func (s *Server) ListMouldHistory(ctx context.Context, r ListMouldHistoryRequestObject) (ListMouldHistoryResponseObject, error) {
	all, err := s.store.MouldWas(ctx, r.MouldId)
	out := make(ListMouldHistory200JSONResponse, len(all))
	for i, w := range all {
		out[i] = MouldWas{Until: w.Until, Was: NewMould{Number: w.Was.Number, Rubber: w.Was.Rubber,
			Poured: openapi_types.Date{Time: w.Was.Poured}, Cavities: &all[i].Was.Cavities,
			Birth: (*[]string)(
				w.Was.Birth,
			), Place: optional(w.Was.Place), Pieces: optional(w.Was.Pieces), Lot: optional(w.Was.Lot)}}
	}
	return out, err
}

// RetireMould takes a mould out of use or back into it.
func (s *Server) RetireMould(ctx context.Context, r RetireMouldRequestObject) (RetireMouldResponseObject, error) {
	var retired *time.Time
	if r.Body.Retired != nil {
		retired = &r.Body.Retired.Time
	}
	if retired != nil && r.Body.Ended == nil {
		return nil, problem(
			http.StatusUnprocessableEntity,
			"How did it end?",
			"Worn out, or by an accident: the forecasts learn from wear alone.",
		)
	}
	if err := s.store.RetireMould(ctx, r.MouldId, retired, string(given(r.Body.Ended))); err != nil {
		return nil, err
	}
	out, err := s.mould(ctx, r.MouldId)
	return RetireMould200JSONResponse(out), err
}
