package api

import (
	"context"
	"net/http"
	"slices"

	"bathyform/core/design"
	"bathyform/core/part"
	"bathyform/internal/store"

	openapi_types "github.com/oapi-codegen/runtime/types"
	"gonum.org/v1/gonum/spatial/r3"
)

// PutBrief keeps what the caster says of a master.
func (s *Server) PutBrief(ctx context.Context, r PutBriefRequestObject) (PutBriefResponseObject, error) {
	from, err := from(r.Params.IfMatch, r.Params.IdempotencyKey)
	if err != nil {
		return nil, err
	}
	b := *r.Body
	if err := b.Validate(); err != nil {
		return nil, unusable("This cannot be right", err)
	}
	if err := s.stillThere(ctx, r.JobId, s.store.WriteBrief(ctx, r.JobId, b, from)); err != nil {
		return nil, err
	}
	j, err := s.store.Job(ctx, r.JobId)
	if err != nil {
		return nil, err
	}
	return PutBrief200JSONResponse(fromJob(j)), nil
}

// TurnMaster turns the master and starts its mould afresh; rubber and resin stay chosen.
func (s *Server) TurnMaster(ctx context.Context, r TurnMasterRequestObject) (TurnMasterResponseObject, error) {
	from, err := from(r.Params.IfMatch, r.Params.IdempotencyKey)
	if err != nil {
		return nil, err
	}
	j, err := s.store.Job(ctx, r.JobId)
	if err != nil {
		return nil, err
	}
	if j.Master == nil || j.Master.Report == nil {
		return nil, problem(http.StatusConflict, "There is no mesh to turn", "Drop in a mesh first.")
	}
	m := *j.Master
	var before, now part.Turn
	if m.Turn != nil {
		before = *m.Turn
	}
	if r.Body.Purpose != TurnPurposeBack {
		if now, err = before.Upright(vec(r.Body.Up)); err != nil {
			return nil, unusable("That is no direction", err)
		}
	}
	m.Turn = optional(now)
	turned := j
	turned.Master = &m
	master, err := s.hand.take(ctx, turned)
	if err != nil {
		return nil, err
	}
	shop, err := s.store.ReadShop(ctx)
	if err != nil {
		return nil, err
	}
	report := *m.Report
	report.Bounds = master.Part.Mesh.Bounds()
	m.Report = &report
	d, err := master.Start(ctx, shop.Practice)
	if err == nil && r.Body.Purpose == TurnPurposeDraw {
		d, err = master.DrawnUp(ctx, d)
	}
	if err != nil {
		return nil, unusable("The master was not turned", err)
	}
	if j.Design != nil {
		d.Rubber, d.Resin = j.Design.Rubber, j.Design.Resin
	}
	err = s.store.WriteTurn(ctx, r.JobId, m, d, turnedBrief(j.Brief, now.Since(before)), from, j.DesignVersion)
	if err := s.stillThere(ctx, r.JobId, err); err != nil {
		return nil, err
	}
	if j, err = s.store.Job(ctx, r.JobId); err != nil {
		return nil, err
	}
	return TurnMaster200JSONResponse(fromJob(j)), nil
}

// turnedBrief takes the inserts along when the part is turned.
func turnedBrief(b design.Brief, by r3.Rotation) design.Brief {
	b.Inserts = slices.Clone(b.Inserts)
	for i, in := range b.Inserts {
		if in.At != nil {
			at := design.At(by.Rotate(in.At.Vec()))
			b.Inserts[i].At = &at
		}
	}
	return b
}

// ListInhibitionTests lists the shop's tests.
func (s *Server) ListInhibitionTests(ctx context.Context, _ ListInhibitionTestsRequestObject) (ListInhibitionTestsResponseObject, error) {
	all, err := s.store.InhibitionTests(ctx)
	if err != nil {
		return nil, err
	}
	out := ListInhibitionTests200JSONResponse{}
	for _, t := range all {
		out = append(
			out,
			InhibitionTest{
				Rubber:  t.Rubber,
				Surface: t.Surface,
				Tested:  openapi_types.Date{Time: t.Tested},
				Cured:   t.Cured,
				Notes:   &t.Notes,
			},
		)
	}
	return out, nil
}

// AddInhibitionTest logs a test.
func (s *Server) AddInhibitionTest(ctx context.Context, r AddInhibitionTestRequestObject) (AddInhibitionTestResponseObject, error) {
	b := *r.Body
	t := store.InhibitionTest{
		ID:      newID(r.Params.IdempotencyKey),
		Rubber:  b.Rubber,
		Surface: b.Surface,
		Tested:  b.Tested.Time,
		Cured:   b.Cured,
		Notes:   text(b.Notes),
	}
	if err := s.store.AddInhibitionTest(ctx, t); err != nil {
		return nil, err
	}
	return AddInhibitionTest201JSONResponse(b), nil
}
