package api

import (
	"cmp"
	"context"
	"errors"
	"fmt"
	"math"
	"net/http"
	"strings"
	"time"

	"bathyform/core/mix"
	"bathyform/internal/store"

	"github.com/google/uuid"
	openapi_types "github.com/oapi-codegen/runtime/types"
)

// LogPull keeps a pull.
func (s *Server) LogPull(ctx context.Context, r LogPullRequestObject) (LogPullResponseObject, error) {
	m, err := s.store.Mould(ctx, r.MouldId)
	if err != nil {
		return nil, err
	}
	resin, err := s.store.ResinOf(ctx, m.JobID)
	if err != nil {
		return nil, err
	}
	p, err := s.toPull(ctx, *r.Body, m, resin)
	if err != nil {
		return nil, err
	}
	p.ID = newID(r.Params.IdempotencyKey)
	if err := inLog(s.store.LogPull(ctx, p), m); err != nil {
		return nil, err
	}
	return LogPull201JSONResponse(fromPull(p)), nil
}

// CorrectPull puts right what was logged.
func (s *Server) CorrectPull(ctx context.Context, r CorrectPullRequestObject) (CorrectPullResponseObject, error) {
	from, err := from(r.Params.IfMatch, r.Params.IdempotencyKey)
	if err != nil {
		return nil, err
	}
	m, err := s.store.MouldOf(ctx, r.PullId)
	if err != nil {
		return nil, err
	}
	resin, err := s.store.ResinOfPull(ctx, r.PullId)
	if err != nil {
		return nil, err
	}
	p, err := s.toPull(ctx, *r.Body, m, resin)
	if err != nil {
		return nil, err
	}
	p.ID = r.PullId
	return CorrectPull204Response{}, inLog(s.store.CorrectPull(ctx, p, from), m)
}

// inLog says why a pull is not logged.
func inLog(err error, m store.Mould) error {
	switch {
	case errors.Is(err, store.ErrRetired):
		return problem(
			http.StatusConflict,
			"This mould is retired",
			"Take it back into use on the rack first, if it still gives good castings.",
		)
	case errors.Is(err, store.ErrNotPoured):
		return problem(
			http.StatusUnprocessableEntity,
			"The mould was not poured by then",
			fmt.Sprintf(
				"%s was poured on %s. Put the day right, or that of the mould.",
				m.Number,
				m.Poured.Format("2 January 2006"),
			),
		)
	case errors.Is(err, store.ErrNoSuchCavity):
		return problem(http.StatusUnprocessableEntity, "The mould has fewer cavities than that", "Give one result for each cavity.")
	case errors.Is(err, store.ErrTaken):
		return problem(http.StatusUnprocessableEntity, "A cavity is given twice", "Give one result for each cavity.")
	}
	return err
}

// toPull reads a pull of a mould, cast in a resin, as far as it can be right.
func (s *Server) toPull(ctx context.Context, b NewPull, m store.Mould, resin string) (store.Pull, error) {
	p := store.Pull{
		MouldID:     m.ID,
		MouldNumber: m.Number,
		Pulled:      b.Pulled.Time,
		MassA:       b.MassA,
		MassB:       b.MassB,
		Notes:       text(b.Notes),
		Version:     1,
		Conditions: store.Conditions{Celsius: b.Celsius, Humidity: b.Humidity, Pressure: b.Pressure,
			Who: strings.TrimSpace(text(b.Who)), Lot: strings.TrimSpace(text(b.Lot)), Poured: text(b.At), Out: b.Out,
			Colour: strings.TrimSpace(text(b.Colour)), Matched: b.Matched, Finishing: b.Finishing},
	}
	if err := inBounds(p.Conditions); err != nil {
		return p, err
	}
	masses := []*float64{p.MassA, p.MassB}
	for _, c := range b.Results {
		masses = append(masses, c.Weight)
	}
	for _, m := range masses {
		if m != nil && !(*m > 0 && *m < 1e6) {
			return p, problem(
				http.StatusUnprocessableEntity,
				"That weight cannot be right",
				"Leave a weight empty when it was not taken; otherwise it must be more than 0.",
			)
		}
	}
	if p.Pulled.After(time.Now().AddDate(0, 0, 1)) {
		return p, problem(http.StatusUnprocessableEntity, "That day has not come yet", "Log a pull when it has been made.")
	}
	for _, c := range b.Results {
		if !c.Good && strings.TrimSpace(text(c.Defect)) == "" {
			return p, problem(
				http.StatusUnprocessableEntity,
				fmt.Sprintf("What was wrong with cavity %d?", c.Cavity),
				"A scrapped casting without its defect teaches nothing.",
			)
		}
		if c.Good && given(c.Second) {
			return p, problem(http.StatusUnprocessableEntity, "A casting is good or a second", "Say one of them of each cavity.")
		}
		one := store.Result{
			Cavity: c.Cavity,
			Good:   c.Good,
			Second: given(c.Second),
			Defect: strings.TrimSpace(text(c.Defect)),
			Weight: c.Weight,
			Note:   strings.TrimSpace(text(c.Note)),
		}
		if at := given(c.Place); len(at) == 3 && !c.Good {
			one.Place = &store.Place{at[0], at[1], at[2]}
		}
		p.Results = append(p.Results, one)
	}
	if given(b.Meant) {
		return p, nil
	}
	return p, s.likely(ctx, p, resin)
}

// likely asks about weights that are far off the ratio of the resin that was cast.
func (s *Server) likely(ctx context.Context, p store.Pull, cast string) error {
	if p.MassA == nil || p.MassB == nil {
		return nil
	}
	id, err := uuid.Parse(cast)
	if err != nil {
		return nil //nolint:nilerr // no resin was chosen
	}
	resin, err := s.store.Material(ctx, id)
	if errors.Is(err, store.ErrNotFound) {
		return nil
	}
	if err != nil {
		return err
	}
	shop, err := s.store.ReadShop(ctx)
	if err != nil {
		return err
	}
	right, err := mix.Weighed(resin.Mix(), *p.MassA, false)
	if err != nil {
		return nil //nolint:nilerr // of one part
	}
	off := math.Abs(*p.MassB/right.B.Value - 1)
	if off <= shop.Practice.RatioTolerance/100+shop.Practice.ScaleStep/min(*p.MassA, right.B.Value) {
		return nil
	}
	return unlikely("That is not the ratio of the sheet", shop.Practice.In().Told(fmt.Sprintf(
		"%s takes A to B as %s: with %.4g g of A go %.3g g of B, not %.4g g. Look at the weights again, or log it as it was weighed.",
		resin.Name,
		resin.Mix().Ratio,
		*p.MassA,
		right.B.Value,
		*p.MassB,
	)))
}

// usualPage is how many pulls a list holds where nobody says.
const usualPage = 100

// ListPulls lists a job's pulls.
func (s *Server) ListPulls(ctx context.Context, r ListPullsRequestObject) (ListPullsResponseObject, error) {
	pulls, total, err := s.store.Pulls(ctx, r.Params.Job, cmp.Or(given(r.Params.Limit), usualPage), given(r.Params.Skip))
	out := ListPulls200JSONResponse{Total: total, Pulls: make([]Pull, len(pulls))}
	for i, p := range pulls {
		out.Pulls[i] = fromPull(p)
	}
	return out, err
}

// StrikePull strikes a pull through.
func (s *Server) StrikePull(ctx context.Context, r StrikePullRequestObject) (StrikePullResponseObject, error) {
	return StrikePull204Response{}, s.store.StrikePull(ctx, r.PullId)
}

// UnstrikePull lets a pull count again.
func (s *Server) UnstrikePull(ctx context.Context, r UnstrikePullRequestObject) (UnstrikePullResponseObject, error) {
	m, err := s.store.MouldOf(ctx, r.PullId)
	if err != nil {
		return nil, err
	}
	return UnstrikePull204Response{}, inLog(s.store.UnstrikePull(ctx, r.PullId), m)
}

// ListPullHistory lists what was logged of a pull before.
func (s *Server) ListPullHistory(ctx context.Context, r ListPullHistoryRequestObject) (ListPullHistoryResponseObject, error) {
	all, err := s.store.PullWas(ctx, r.PullId)
	out := make(ListPullHistory200JSONResponse, len(all))
	for i, w := range all {
		out[i] = PullWas{Until: w.Until, Was: newPull(w.Was)}
	}
	return out, err
}

func newPull(p store.Pull) NewPull {
	out := NewPull{
		Pulled:  openapi_types.Date{Time: p.Pulled},
		MassA:   p.MassA,
		MassB:   p.MassB,
		Notes:   &p.Notes,
		Results: []CavityResult{},
	}
	c := p.Conditions
	out.Celsius, out.Humidity, out.Pressure, out.Who, out.Lot = c.Celsius, c.Humidity, c.Pressure, optional(c.Who), optional(c.Lot)
	out.At, out.Out = optional(c.Poured), c.Out
	out.Colour, out.Matched, out.Finishing = optional(c.Colour), c.Matched, c.Finishing
	for _, r := range p.Results {
		one := CavityResult{Cavity: r.Cavity, Good: r.Good, Second: optional(r.Second), Defect: &r.Defect, Weight: r.Weight,
			Note: optional(r.Note)}
		if r.Place != nil {
			at := r.Place[:]
			one.Place = &at
		}
		out.Results = append(out.Results, one)
	}
	return out
}

func fromPull(p store.Pull) Pull {
	n := newPull(p)
	photos := make([]Photo, len(p.Photos))
	for i, f := range p.Photos {
		photos[i] = fromPhoto(f)
	}
	return Pull{Id: p.ID, Version: p.Version, Struck: p.Struck, MouldId: p.MouldID, MouldNumber: p.MouldNumber,
		Pulled: n.Pulled, MassA: n.MassA, MassB: n.MassB, Notes: n.Notes, Results: n.Results, Session: p.SessionID,
		Celsius: n.Celsius, Humidity: n.Humidity, Pressure: n.Pressure, Who: n.Who, Lot: n.Lot,
		At: n.At, Out: n.Out, Colour: n.Colour, Matched: n.Matched, Finishing: n.Finishing, Photos: &photos}
}

// mostFinishing is how many minutes anybody works on the castings of a pull.
const mostFinishing = 2400

// mostOut is how many minutes a casting stays in its mould: a week.
const mostOut = 10080

// inBounds refuses what no shop is like.
func inBounds(c store.Conditions) error {
	for _, v := range []struct {
		name      string
		value     *float64
		low, high float64
	}{{"temperature", c.Celsius, coldestShop, warmestShop}, {"humidity", c.Humidity, 0, mostHumidity}, {"pressure", c.Pressure, 0, 2000},
		{"time of finishing", c.Finishing, 0, mostFinishing}, {"time until it was out", c.Out, 0, mostOut}} {
		if v.value != nil && (*v.value < v.low || *v.value > v.high) {
			return problem(http.StatusUnprocessableEntity, "That "+v.name+" cannot be right",
				fmt.Sprintf("It lies between %g and %g.", v.low, v.high))
		}
	}
	return nil
}
