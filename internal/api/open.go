package api

import (
	"context"
	"net/http"

	"bathyform/core/bench"
	"bathyform/core/design"
	"bathyform/core/kinds"
	"bathyform/core/mix"
	"bathyform/core/practice"
	"bathyform/internal/store"

	"github.com/google/uuid"
)

// opened is all that a question about a job's mould needs, read once.
type opened struct {
	job    store.Job
	house  practice.House
	shelf  []store.Material
	master *bench.Master
	store  *store.Store
}

// open takes a job's master in hand.
func (s *Server) open(ctx context.Context, id uuid.UUID) (opened, error) {
	o := opened{store: s.store}
	var err error
	if o.job, err = s.store.Job(ctx, id); err != nil {
		return o, err
	}
	if o.master, err = s.hand.take(ctx, o.job); err != nil {
		return o, err
	}
	shop, err := s.store.ReadShop(ctx)
	if err != nil {
		return o, err
	}
	o.house = shop.Practice
	o.shelf, err = s.store.Materials(ctx)
	return o, err
}

// openShape is open for what asks for a shape.
func (s *Server) openShape(ctx context.Context, id uuid.UUID) (opened, error) {
	o, err := s.open(ctx, id)
	if err == nil && !o.master.Known() {
		err = noShape(bench.ErrNoShape)
	}
	return o, err
}

func noShape(err error) error {
	return problem(http.StatusConflict, "The shape is not known", sentence(err.Error()))
}

// kept is the job's design, or the one that would be proposed.
func (o opened) kept(ctx context.Context) (design.Design, error) {
	if o.job.Design != nil {
		return *o.job.Design, nil
	}
	return o.master.Start(ctx, o.house)
}

// question puts a design together with the materials it has chosen, the
// brief, and what the shop's moulds of that rubber have done.
func (o opened) question(ctx context.Context, d design.Design) (bench.Question, error) {
	q := bench.Question{Design: d, Brief: o.job.Brief, Wanted: max(0, o.job.Order.Quantity-o.job.Good), House: o.house}
	var err error
	if q.Rubber, err = o.material("rubber", d.Rubber); err != nil {
		return q, err
	}
	if q.Resin, err = o.material("resin", d.Resin); err != nil || q.Rubber == nil {
		return q, err
	}
	log, err := o.store.Log(ctx, q.Rubber.Name)
	q.Log = records(log)
	return q, err
}

// wear is how fast a kind of mould wears; a plain block's where nobody has said.
func wear(kind string) float64 {
	if k, err := kinds.Of(design.Kind(kind)); err == nil {
		return k.Wear
	}
	return kinds.Usual.Wear
}

// material finds what a design has chosen on the shelf; nil for nothing.
func (o opened) material(kind, id string) (*mix.Material, error) {
	if id == "" {
		return nil, nil
	}
	for _, m := range o.shelf {
		if m.ID.String() == id && m.Kind == kind {
			found := m.Mix()
			return &found, nil
		}
	}
	return nil, problem(http.StatusUnprocessableEntity, "That "+kind+" is not on the shelf", "Choose one that is in Stock.")
}

// asked is a question about the kept design, as the kind that is asked for.
func (s *Server) asked(ctx context.Context, id uuid.UUID, kind *string) (opened, bench.Question, error) {
	o, err := s.open(ctx, id)
	if err != nil {
		return o, bench.Question{}, err
	}
	d, err := o.kept(ctx)
	if err != nil {
		return o, bench.Question{}, err
	}
	q, err := o.question(ctx, d)
	q.Kind = design.Kind(given(kind))
	return o, q, err
}
