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

// ListMoulds lists the rack, or the moulds of one job.
func (s *Server) ListMoulds(ctx context.Context, r ListMouldsRequestObject) (ListMouldsResponseObject, error) {
	list := s.store.Moulds
	if job := r.Params.Job; job != nil {
		list = func(ctx context.Context) ([]store.Mould, error) { return s.store.MouldsOf(ctx, *job) }
	}
	all, err := list(ctx)
	if err != nil {
		return nil, err
	}
	out, err := s.forecasts(ctx, all)
	return ListMoulds200JSONResponse(out), err
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
	m := store.Mould{
		ID:       newID(r.Params.IdempotencyKey),
		JobID:    j.ID,
		Kind:     string(kind.Key),
		Number:   strings.TrimSpace(r.Body.Number),
		Rubber:   strings.TrimSpace(r.Body.Rubber),
		Poured:   r.Body.Poured.Time,
		Cavities: 1,
	}
	if r.Body.Cavities != nil {
		m.Cavities = *r.Body.Cavities
	}
	switch {
	case m.Number == "":
		return nil, problem(
			http.StatusUnprocessableEntity,
			"The mould needs a number",
			"Write it on every side of the block, with an arrow for the way up.",
		)
	case m.Rubber == "":
		return nil, problem(
			http.StatusUnprocessableEntity,
			"Say which rubber it was poured of",
			"Moulds of one rubber learn from one another how long they last.",
		)
	case m.Poured.After(time.Now().AddDate(0, 0, 1)):
		return nil, problem(http.StatusUnprocessableEntity, "That day has not come yet", "Enter the mould when it has been poured.")
	}
	if err := s.store.AddMould(ctx, m); err != nil {
		if errors.Is(err, store.ErrTaken) {
			return nil, problem(
				http.StatusConflict,
				fmt.Sprintf("There is a mould %s already", m.Number),
				"Each mould has a number of its own, retired ones as well. Choose the next free one.",
			)
		}
		return nil, err
	}
	out, err := s.mould(ctx, m.ID)
	return AddMould201JSONResponse(out), err
}

// RetireMould takes a mould out of use or back into it.
func (s *Server) RetireMould(ctx context.Context, r RetireMouldRequestObject) (RetireMouldResponseObject, error) {
	var retired *time.Time
	if r.Body.Retired != nil {
		retired = &r.Body.Retired.Time
	}
	if err := s.store.RetireMould(ctx, r.MouldId, retired, r.Body.WornOut); err != nil {
		return nil, err
	}
	out, err := s.mould(ctx, r.MouldId)
	return RetireMould200JSONResponse(out), err
}

// LogPull keeps a pull.
func (s *Server) LogPull(ctx context.Context, r LogPullRequestObject) (LogPullResponseObject, error) {
	p := store.Pull{
		ID:      newID(r.Params.IdempotencyKey),
		MouldID: r.MouldId,
		Pulled:  r.Body.Pulled.Time,
		MassA:   r.Body.MassA,
		MassB:   r.Body.MassB,
		Notes:   text(r.Body.Notes),
	}
	for _, m := range []*float64{p.MassA, p.MassB} {
		if m != nil && !(*m > 0 && *m < 1e6) {
			return nil, problem(
				http.StatusUnprocessableEntity,
				"That weight cannot be right",
				"Leave a weight empty when it was not taken; otherwise it must be more than 0.",
			)
		}
	}
	if p.Pulled.After(time.Now().AddDate(0, 0, 1)) {
		return nil, problem(http.StatusUnprocessableEntity, "That day has not come yet", "Log a pull when it has been made.")
	}
	for _, c := range r.Body.Results {
		if !c.Good && strings.TrimSpace(text(c.Defect)) == "" {
			return nil, problem(
				http.StatusUnprocessableEntity,
				fmt.Sprintf("What was wrong with cavity %d?", c.Cavity),
				"A scrapped casting without its defect teaches nothing.",
			)
		}
		p.Results = append(p.Results, store.Result{Cavity: c.Cavity, Good: c.Good, Defect: strings.TrimSpace(text(c.Defect))})
	}
	switch err := s.store.LogPull(ctx, p); {
	case errors.Is(err, store.ErrRetired):
		return nil, problem(
			http.StatusConflict,
			"This mould is retired",
			"Take it back into use on the rack first, if it still gives good castings.",
		)
	case errors.Is(err, store.ErrNoSuchCavity):
		return nil, problem(http.StatusUnprocessableEntity, "The mould has fewer cavities than that", "Give one result for each cavity.")
	case errors.Is(err, store.ErrTaken):
		return nil, problem(http.StatusUnprocessableEntity, "A cavity is given twice", "Give one result for each cavity.")
	case err != nil:
		return nil, err
	}
	m, err := s.store.Mould(ctx, p.MouldID)
	p.MouldNumber = m.Number
	return LogPull201JSONResponse(fromPull(p)), err
}

// usualPage is how many pulls a list holds where nobody says.
const usualPage = 100

// ListPulls lists a job's pulls.
func (s *Server) ListPulls(ctx context.Context, r ListPullsRequestObject) (ListPullsResponseObject, error) {
	pulls, err := s.store.Pulls(ctx, r.Params.Job, cmp.Or(given(r.Params.Limit), usualPage), given(r.Params.Skip))
	if err != nil {
		return nil, err
	}
	out := make(ListPulls200JSONResponse, len(pulls))
	for i, p := range pulls {
		out[i] = fromPull(p)
	}
	return out, nil
}

// DeletePull strikes a pull from the log.
func (s *Server) DeletePull(ctx context.Context, r DeletePullRequestObject) (DeletePullResponseObject, error) {
	if err := s.store.DeletePull(ctx, r.PullId); err != nil {
		return nil, err
	}
	return DeletePull204Response{}, nil
}

func fromPull(p store.Pull) Pull {
	out := Pull{Id: p.ID, MouldId: p.MouldID, MouldNumber: p.MouldNumber, Pulled: openapi_types.Date{Time: p.Pulled},
		MassA: p.MassA, MassB: p.MassB, Notes: &p.Notes, Results: []CavityResult{}}
	for _, r := range p.Results {
		out.Results = append(out.Results, CavityResult{Cavity: r.Cavity, Good: r.Good, Defect: &r.Defect})
	}
	return out
}
