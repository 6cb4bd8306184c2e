package api

import (
	"context"
)

// ListEarlier lists the masters with their designs that were set aside.
func (s *Server) ListEarlier(ctx context.Context, r ListEarlierRequestObject) (ListEarlierResponseObject, error) {
	all, err := s.store.Earlier(ctx, r.JobId)
	out := make(ListEarlier200JSONResponse, len(all))
	for i, e := range all {
		out[i] = EarlierDesign{Id: e.ID, Why: e.Why, SetAside: e.SetAside, Master: e.Master.Name, Designed: e.Designed}
	}
	return out, err
}

// TakeEarlier goes back to what was set aside.
func (s *Server) TakeEarlier(ctx context.Context, r TakeEarlierRequestObject) (TakeEarlierResponseObject, error) {
	from, err := from(r.Params.IfMatch, r.Params.IdempotencyKey)
	if err != nil {
		return nil, err
	}
	if err := s.stillThere(ctx, r.JobId, s.store.TakeEarlier(ctx, r.JobId, r.EarlierId, from)); err != nil {
		return nil, err
	}
	j, err := s.store.Job(ctx, r.JobId)
	if err != nil {
		return nil, err
	}
	return TakeEarlier200JSONResponse(fromJob(j)), nil
}
