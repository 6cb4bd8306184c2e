package api

import (
	"context"
	"errors"
	"fmt"
	"strings"
	"time"

	"bathyform/core/bench"
	"bathyform/core/mesh"
	"bathyform/internal/store"
)

// MouldSet makes a job of the parts of a set in one mould: the masters side by
// side, in the proportions of the set.
func (s *Server) MouldSet(ctx context.Context, r MouldSetRequestObject) (MouldSetResponseObject, error) {
	own, err := s.open(ctx, r.JobId)
	if err != nil {
		return nil, err
	}
	jobs, err := s.store.Jobs(ctx)
	if err != nil {
		return nil, err
	}
	var parts []bench.SetPart
	var names []string
	short, due := 0, own.job.Order.Due
	for _, j := range jobs {
		if own.job.Order.Set == "" || j.Order.Set != own.job.Order.Set || j.Master == nil {
			continue
		}
		o, err := s.open(ctx, j.ID)
		if err != nil {
			return nil, err
		}
		d, err := o.kept(ctx)
		if err != nil {
			return nil, err
		}
		q, err := o.question(ctx, d)
		if err != nil {
			return nil, err
		}
		parts = append(parts, bench.SetPart{Name: j.Order.Name, Master: o.master, Asked: q, Count: j.Order.PerSet})
		names = append(names, fmt.Sprintf("%d × %s", j.Order.PerSet*r.Body.Sets, j.Order.Name))
		short = max(short, (max(0, j.Order.Quantity-j.Good)+j.Order.PerSet-1)/j.Order.PerSet)
		due = sooner(due, j.Order.Due)
	}
	laid, err := bench.LaySet(ctx, parts, r.Body.Sets, own.house)
	if err != nil {
		return nil, unusable("The set cannot be laid in one mould", err)
	}
	title := own.job.Order.Set + ", in one mould"
	master, err := bench.TakeSet(title, laid)
	if err != nil {
		return nil, unusable("The set cannot be laid in one mould", err)
	}
	d, err := bench.SetDesign(ctx, master, own.house)
	if err != nil {
		return nil, unusable("The set cannot be laid in one mould", err)
	}
	if own.job.Design != nil {
		d.Rubber, d.Resin = own.job.Design.Rubber, own.job.Design.Resin
	}
	id := newID(r.Params.IdempotencyKey)
	if _, err := s.store.Job(ctx, id); errors.Is(err, store.ErrNotFound) { // not sent before
		o := store.Order{Name: title, Quantity: max(1, (short+r.Body.Sets-1)/r.Body.Sets), Due: due, PerSet: 1,
			Notes: "Every casting is one of: " + strings.Join(names, ", ") + "."}
		if err := s.store.AddJob(ctx, id, o); err != nil {
			return nil, err
		}
		made, err := s.keepMesh(ctx, id, store.Master{Name: title, Unit: mesh.Millimetre}, laid.Mesh.WriteSTL(), store.From{Version: 1})
		if err != nil {
			return nil, err
		}
		if err := s.store.WriteDesign(ctx, id, d, store.From{Version: made.DesignVersion}); err != nil {
			return nil, err
		}
	} else if err != nil {
		return nil, err
	}
	j, err := s.store.Job(ctx, id)
	return MouldSet201JSONResponse(fromJob(j)), err
}

// sooner is the earlier of two days, of which there may be none.
func sooner(a, b *time.Time) *time.Time {
	if a == nil || b != nil && b.Before(*a) {
		return b
	}
	return a
}
