package api

import (
	"context"
	"fmt"
	"net/http"
	"strings"
	"time"

	"bathyform/internal/store"
)

// AddMeasured keeps what was measured.
func (s *Server) AddMeasured(ctx context.Context, r AddMeasuredRequestObject) (AddMeasuredResponseObject, error) {
	b := r.Body
	m := store.Measured{
		ID:       newID(r.Params.IdempotencyKey),
		Day:      b.Day.Time,
		What:     string(b.What),
		Material: strings.TrimSpace(b.Material),
		Value:    b.Value,
		Celsius:  b.Celsius,
		Grams:    b.Grams,
		Says:     strings.TrimSpace(given(b.Says)),
	}
	refuse := func(title, detail string) (AddMeasuredResponseObject, error) {
		return nil, problem(http.StatusUnprocessableEntity, title, detail)
	}
	stays := m.What == store.Residue || m.What == store.Bucket
	switch {
	case m.Material == "":
		return refuse("Of which material?", "Materials learn apart, and lean on one another.")
	case !(m.Value >= 0) || m.Value > 1e5 || m.Value == 0 && !stays:
		return refuse("That cannot be right", "What stays weighs nothing or more; what lasts takes more than no time.")
	case m.Celsius != nil && (*m.Celsius < coldestShop || *m.Celsius > warmestShop):
		return refuse("That temperature cannot be right", fmt.Sprintf("It lies between %g and %g.", coldestShop, warmestShop))
	case m.Grams != nil && !(*m.Grams > 0 && *m.Grams < mostGrams):
		return refuse("That batch cannot be right", "It weighs more than nothing; leave it empty where nobody knows.")
	case m.What == store.Bucket && m.Grams == nil, m.What == store.Poured && m.Grams == nil:
		return refuse("How large was the batch?", "What stays in a bucket, and how long a pour takes, go by its weight.")
	case stays && m.Grams != nil && m.Value >= *m.Grams:
		return refuse("More cannot stay than was mixed", "Take the cup's own weight off.")
	case m.Day.After(s.now().AddDate(0, 0, 1)) || m.Day.Before(time.Date(1990, 1, 1, 0, 0, 0, 0, time.UTC)):
		return refuse("That day cannot be right", "Write down what was measured on the day it was.")
	}
	return AddMeasured204Response{}, s.store.AddMeasured(ctx, m)
}

// StrikeMeasured takes a measurement out of what is learnt from.
func (s *Server) StrikeMeasured(ctx context.Context, r StrikeMeasuredRequestObject) (StrikeMeasuredResponseObject, error) {
	return StrikeMeasured204Response{}, s.store.StrikeMeasured(ctx, r.MeasuredId, true)
}

// UnstrikeMeasured takes it in again.
func (s *Server) UnstrikeMeasured(ctx context.Context, r UnstrikeMeasuredRequestObject) (UnstrikeMeasuredResponseObject, error) {
	return UnstrikeMeasured204Response{}, s.store.StrikeMeasured(ctx, r.MeasuredId, false)
}
