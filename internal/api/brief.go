package api

import (
	"context"
	"errors"
	"math"
	"net/http"
	"slices"

	"bathyform/core/inhibit"
	"bathyform/core/kind"
	"bathyform/core/part"
	"bathyform/core/prep"
	"bathyform/core/study"
	"bathyform/core/suit"
	"bathyform/internal/store"

	"github.com/google/uuid"
	openapi_types "github.com/oapi-codegen/runtime/types"
	"gonum.org/v1/gonum/num/quat"
	"gonum.org/v1/gonum/spatial/r3"
)

// PutBrief keeps what the caster says of a master.
func (s *Server) PutBrief(ctx context.Context, r PutBriefRequestObject) (PutBriefResponseObject, error) {
	v, err := version(r.Params.IfMatch)
	if err != nil {
		return nil, err
	}
	b := toBrief(*r.Body)
	if b.Day != nil {
		if err := b.Day.Check(); err != nil {
			return nil, unusable("This reading cannot be right", err)
		}
	}
	if b.Check != nil {
		if _, err := b.Check.Verify(1, 1); err != nil {
			return nil, unusable("This measure cannot be used", err)
		}
	}
	if err := s.stillThere(ctx, r.JobId, s.store.WriteBrief(ctx, r.JobId, b, v)); err != nil {
		return nil, err
	}
	j, err := s.store.Job(ctx, r.JobId)
	if err != nil {
		return nil, err
	}
	return PutBrief200JSONResponse(fromJob(j)), nil
}

func toBrief(b Brief) study.Brief {
	out := study.Brief{Quality: string(b.Quality), Surface: inhibit.Surface(b.Surface), Generation: b.Generation, Kind: kind.Kind(text(b.Kind)), Done: b.Done}
	for _, w := range b.Wants {
		out.Wants = append(out.Wants, suit.Want(w))
	}
	for _, in := range b.Inserts {
		i := study.Insert{Insert: prep.Insert{Kind: prep.InsertKind(in.Kind), Note: text(in.Note)}}
		if in.Volume != nil {
			i.Volume = *in.Volume * 1000
		}
		if in.At != nil {
			at := vec(*in.At)
			i.At = &at
		}
		out.Inserts = append(out.Inserts, i)
	}
	if b.Day != nil {
		out.Day = &prep.Day{Celsius: b.Day.Celsius, Humidity: b.Day.Humidity}
	}
	if c := b.Check; c != nil {
		out.Check = &part.Check{Kind: string(c.Kind), Value: c.Value}
		if c.Density != nil {
			out.Check.Density = *c.Density
		}
	}
	return out
}

func fromBrief(b study.Brief) Brief {
	out := Brief{Quality: BriefQuality(b.Quality), Surface: string(b.Surface), Generation: max(1, b.Generation), Inserts: []Insert{}, Wants: []BriefWants{}, Done: append([]string{}, b.Done...)}
	for _, w := range b.Wants {
		out.Wants = append(out.Wants, BriefWants(w))
	}
	if b.Kind != "" {
		k := string(b.Kind)
		out.Kind = &k
	}
	for _, in := range b.Inserts {
		i := Insert{Kind: InsertKind(in.Kind), Note: &in.Note}
		if in.Volume > 0 {
			v := in.Volume / 1000
			i.Volume = &v
		}
		if in.At != nil {
			at := point(*in.At)
			i.At = &at
		}
		out.Inserts = append(out.Inserts, i)
	}
	if b.Day != nil {
		out.Day = &struct {
			Celsius  float64 `json:"celsius"`
			Humidity float64 `json:"humidity"`
		}{b.Day.Celsius, b.Day.Humidity}
	}
	if b.Check != nil {
		out.Check = &MasterCheck{Kind: MasterCheckKind(b.Check.Kind), Value: b.Check.Value, Density: &b.Check.Density}
	}
	return out
}

func rotation(t store.Turn) r3.Rotation {
	return r3.Rotation(quat.Number{Real: t.W, Imag: t.X, Jmag: t.Y, Kmag: t.Z})
}

// toZ is the shortest turn that takes a direction to +z.
func toZ(up r3.Vec) quat.Number {
	up = r3.Unit(up)
	if up.Z < -1+1e-12 {
		return quat.Number{Imag: 1} // upside down: half a turn about x
	}
	q := quat.Number{Real: 1 + up.Z, Imag: up.Y, Jmag: -up.X}
	return quat.Scale(1/quat.Abs(q), q)
}

// TurnMaster turns the master and starts its mould afresh; rubber and resin stay chosen.
func (s *Server) TurnMaster(ctx context.Context, r TurnMasterRequestObject) (TurnMasterResponseObject, error) {
	v, err := version(r.Params.IfMatch)
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
	now := quat.Number{Real: 1}
	if m.Turn != nil {
		now = quat.Number(rotation(*m.Turn))
	}
	q := quat.Number{Real: 1}
	if r.Body.Purpose == TurnPurposeBack {
		m.Turn = nil
	} else {
		up := vec(r.Body.Up)
		if n := r3.Norm(up); !(n > 0) || math.IsInf(n, 0) {
			return nil, problem(http.StatusUnprocessableEntity, "That is no direction", "It needs three finite numbers that are not all zero.")
		}
		q = quat.Mul(toZ(up), now)
		q = quat.Scale(1/quat.Abs(q), q)
		m.Turn = &store.Turn{W: q.Real, X: q.Imag, Y: q.Jmag, Z: q.Kmag}
	}
	turned := j
	turned.Master = &m
	p, shop, err := s.bench(ctx, turned)
	if err != nil {
		return nil, err
	}
	report := *m.Report
	report.Bounds = p.Master.Mesh.Bounds()
	m.Report = &report
	d, err := p.Start(shop.Practice)
	if err == nil && r.Body.Purpose == TurnPurposeDraw {
		d, err = p.DrawnUp(d)
	}
	if err != nil {
		return nil, unusable("The master was not turned", err)
	}
	design := store.Design{Design: d}
	if j.Design != nil {
		design.Rubber, design.Resin = j.Design.Rubber, j.Design.Resin
	}
	if err := s.stillThere(ctx, r.JobId, s.store.WriteTurn(ctx, r.JobId, m, design, turnedBrief(j.Brief, quat.Mul(q, quat.Conj(now))), v)); err != nil {
		return nil, err
	}
	if j, err = s.store.Job(ctx, r.JobId); err != nil {
		return nil, err
	}
	return TurnMaster200JSONResponse(fromJob(j)), nil
}

// turnedBrief takes the inserts along when the part is turned.
func turnedBrief(b study.Brief, by quat.Number) study.Brief {
	b.Inserts = slices.Clone(b.Inserts)
	for i, in := range b.Inserts {
		if in.At != nil {
			at := r3.Rotation(by).Rotate(*in.At)
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
		out = append(out, InhibitionTest{Rubber: t.Rubber, Surface: t.Surface, Tested: openapi_types.Date{Time: t.Tested}, Cured: t.Cured, Notes: &t.Notes})
	}
	return out, nil
}

// AddInhibitionTest logs a test.
func (s *Server) AddInhibitionTest(ctx context.Context, r AddInhibitionTestRequestObject) (AddInhibitionTestResponseObject, error) {
	b := *r.Body
	t := store.InhibitionTest{ID: uuid.New(), Rubber: b.Rubber, Surface: b.Surface, Tested: b.Tested.Time, Cured: b.Cured, Notes: text(b.Notes)}
	if err := s.store.AddInhibitionTest(ctx, t); err != nil {
		return nil, err
	}
	return AddInhibitionTest201JSONResponse(b), nil
}

var errNoShape = errors.New("this master is known by its measures alone; what asks for its shape cannot be told")
