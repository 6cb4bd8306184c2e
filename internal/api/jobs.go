package api

import (
	"context"
	"errors"
	"net/http"
	"strings"
	"time"

	"bathyform/core/bench"
	"bathyform/core/kinds"
	"bathyform/core/mesh"
	"bathyform/core/order"
	"bathyform/core/part"
	"bathyform/core/practice"
	"bathyform/demo/seed"
	"bathyform/internal/store"

	"github.com/google/uuid"
	"gonum.org/v1/gonum/spatial/r3"

	openapi_types "github.com/oapi-codegen/runtime/types"
)

// ListJobs lists the shop's jobs.
func (s *Server) ListJobs(ctx context.Context, _ ListJobsRequestObject) (ListJobsResponseObject, error) {
	jobs, err := s.store.Jobs(ctx)
	if err != nil {
		return nil, err
	}
	out := make(ListJobs200JSONResponse, len(jobs))
	for i, j := range jobs {
		out[i] = fromJob(j)
	}
	return out, nil
}

// AddJob takes an order on.
func (s *Server) AddJob(ctx context.Context, r AddJobRequestObject) (AddJobResponseObject, error) {
	o, err := toOrder(*r.Body)
	if err != nil {
		return nil, err
	}
	id := newID(r.Params.IdempotencyKey)
	if err := s.store.AddJob(ctx, id, o); err != nil {
		return nil, err
	}
	j, err := s.store.Job(ctx, id)
	return AddJob201JSONResponse(fromJob(j)), err
}

// AddSample puts the sample job on the list once more.
func (s *Server) AddSample(ctx context.Context, r AddSampleRequestObject) (AddSampleResponseObject, error) {
	id := newID(r.Params.IdempotencyKey)
	if _, err := s.store.Job(ctx, id); errors.Is(err, store.ErrNotFound) {
		shelf, err := s.store.Materials(ctx)
		if err != nil {
			return nil, err
		}
		of := make(map[string]string)
		for _, m := range shelf {
			of[m.Name] = m.ID.String()
		}
		if err := seed.Sample(ctx, s.store, id, time.Now(), of[seed.SampleRubber], of[seed.SampleResin]); err != nil {
			return nil, err
		}
	}
	j, err := s.store.Job(ctx, id)
	return AddSample201JSONResponse(fromJob(j)), err
}

// GetJob returns one job.
func (s *Server) GetJob(ctx context.Context, r GetJobRequestObject) (GetJobResponseObject, error) {
	j, err := s.store.Job(ctx, r.JobId)
	if err != nil {
		return nil, err
	}
	return GetJob200JSONResponse(fromJob(j)), nil
}

// PutOrder changes an order.
func (s *Server) PutOrder(ctx context.Context, r PutOrderRequestObject) (PutOrderResponseObject, error) {
	from, err := from(r.Params.IfMatch, r.Params.IdempotencyKey)
	if err != nil {
		return nil, err
	}
	o, err := toOrder(*r.Body)
	if err != nil {
		return nil, err
	}
	if err := s.stillThere(ctx, r.JobId, s.store.WriteOrder(ctx, r.JobId, o, from)); err != nil {
		return nil, err
	}
	j, err := s.store.Job(ctx, r.JobId)
	return PutOrder200JSONResponse(fromJob(j)), err
}

// GetSet returns the jobs that make a set with one.
func (s *Server) GetSet(ctx context.Context, r GetSetRequestObject) (GetSetResponseObject, error) {
	own, err := s.store.Job(ctx, r.JobId)
	if err != nil {
		return nil, err
	}
	out := JobSet{Name: own.Order.Set, Members: []SetMember{}, Notes: []string{}}
	if out.Name == "" {
		return GetSet200JSONResponse(out), nil
	}
	jobs, err := s.store.Jobs(ctx)
	if err != nil {
		return nil, err
	}
	shelf, err := s.store.Materials(ctx)
	if err != nil {
		return nil, err
	}
	var members []order.Member
	for _, j := range jobs {
		if j.Order.Set != out.Name {
			continue
		}
		m := order.Member{Name: j.Order.Name, PerSet: j.Order.PerSet, Good: j.Good, Ordered: j.Order.Quantity}
		for _, found := range shelf {
			if j.Design != nil && found.ID.String() == j.Design.Resin {
				m.Resin, m.Flexible = found.Name, found.Traits.Flexible
			}
		}
		members = append(members, m)
		out.Members = append(out.Members, SetMember{Id: j.ID, Name: m.Name, PerSet: m.PerSet, Good: m.Good, Ordered: m.Ordered})
	}
	count := order.CountSet(members)
	out.Complete, out.Notes = count.Complete, append(out.Notes, count.Notes...)
	for i := range out.Members {
		out.Members[i].Short = count.Short[i]
		if members[i].Resin != "" {
			out.Members[i].Resin = &members[i].Resin
		}
	}
	return GetSet200JSONResponse(out), nil
}

// stillThere tells a job that has gone from one that was changed meanwhile.
func (s *Server) stillThere(ctx context.Context, id uuid.UUID, err error) error {
	if errors.Is(err, store.ErrChanged) {
		if _, gone := s.store.Job(ctx, id); gone != nil {
			return gone
		}
	}
	return err
}

// BinJob puts a job into the bin.
func (s *Server) BinJob(ctx context.Context, r BinJobRequestObject) (BinJobResponseObject, error) {
	return BinJob204Response{}, s.store.BinJob(ctx, r.JobId)
}

// UnbinJob takes a job out of the bin.
func (s *Server) UnbinJob(ctx context.Context, r UnbinJobRequestObject) (UnbinJobResponseObject, error) {
	return UnbinJob204Response{}, s.store.UnbinJob(ctx, r.JobId)
}

// ListBin lists the jobs in the bin.
func (s *Server) ListBin(ctx context.Context, _ ListBinRequestObject) (ListBinResponseObject, error) {
	all, err := s.store.Bin(ctx)
	out := make(ListBin200JSONResponse, len(all))
	for i, b := range all {
		out[i] = BinnedJob{Id: b.ID, Name: b.Name, Binned: b.Deleted, Good: b.Good}
	}
	return out, err
}

// Years in which an order may be due.
const firstYear, lastYear = 2000, 2200

// mostOrdered bounds an order; more is a slip of the finger.
const mostOrdered = 1_000_000

func toOrder(o Order) (store.Order, error) {
	out := store.Order{Name: strings.TrimSpace(o.Name), Quantity: o.Quantity, Notes: text(o.Notes)}
	switch {
	case out.Name == "":
		return out, problem(
			http.StatusUnprocessableEntity,
			"The job needs a name",
			"Name it after the part, so that the rack and the log can speak of it.",
		)
	case o.Quantity < 1:
		return out, problem(http.StatusUnprocessableEntity, "The quantity must be at least 1", "Say how many good castings are wanted.")
	case o.Quantity > mostOrdered:
		return out, problem(http.StatusUnprocessableEntity, "That is a very large order", "At most 1 000 000 castings can be entered.")
	}
	out.Set, out.PerSet = strings.TrimSpace(text(o.Set)), 1
	if o.PerSet != nil {
		out.PerSet = *o.PerSet
	}
	if o.Due != nil {
		t := o.Due.Time
		if t.Year() < firstYear || t.Year() > lastYear {
			return out, problem(http.StatusUnprocessableEntity, "That day cannot be right", "Give the day by which the order is promised.")
		}
		out.Due = &t
	}
	return out, nil
}

func date(t *time.Time) *openapi_types.Date {
	if t == nil {
		return nil
	}
	return &openapi_types.Date{Time: *t}
}

func fromJob(j store.Job) Job {
	l := newLedger()
	out := Job{Numbers: l.rows, Id: j.ID, Version: j.Version, Good: j.Good, Scrap: j.Scrap, Seconds: optional(j.Seconds), Brief: j.Brief,
		Order: Order{
			Name:     j.Order.Name,
			Quantity: j.Order.Quantity,
			Due:      date(j.Order.Due),
			Notes:    &j.Order.Notes,
			Set:      &j.Order.Set,
			PerSet:   &j.Order.PerSet,
		}}
	if j.ID == uuid.Nil { // an error goes along with it
		return out
	}
	facts := order.Facts{Ordered: j.Order.Quantity, Good: j.Good, Scrap: j.Scrap, MouldsInUse: j.Moulds,
		HasMaster: j.Master != nil, DesignKept: j.Design != nil}
	if j.Master != nil {
		facts.UnitConfirmed = j.Master.Confirmed || j.Master.Measured != nil
		out.Master = l.master(j)
		out.Numbers = l.rows
	}
	if j.Design != nil {
		k, err := bench.Question{Design: *j.Design, Brief: j.Brief}.KindOf()
		facts.Vented = len(j.Design.Vents) > 0 || j.Design.Feed == practice.FeedTop || err == nil && k.Resin != kinds.Sprued
		facts.HasRubber, facts.HasResin = j.Design.Rubber != "", j.Design.Resin != ""
	}
	stages, next := order.Progress(facts)
	for _, st := range stages {
		out.Stages = append(out.Stages, StageState{Stage: StageStateStage(st.Stage), State: StageStateState(st.State), Note: st.Note})
	}
	out.Next.Stage, out.Next.What = string(next.Stage), next.What
	return out
}

func (l *ledger) master(j store.Job) *Master {
	m := j.Master
	out := &Master{Name: m.Name, UnitConfirmed: m.Confirmed}
	if m.Measured != nil {
		out.Kind = MasterKindMeasured
		out.Size = Point{m.Measured.Length, m.Measured.Width, m.Measured.Height}
		out.Volume, out.VolumeSource = l.number(part.Master{Measured: m.Measured}.VolumeNumber()), &m.Measured.How
		out.UnitConfirmed = true
		return out
	}
	r := m.Report
	unit, guess := Unit(m.Unit), Unit(m.Guess.Unit)
	whole := part.Master{Mesh: &mesh.Mesh{}, Report: *r} // its numbers come from the report
	source := whole.VolumeSource()
	low := point(r.Bounds.Min)
	out.Kind = MasterKindMesh
	out.Unit, out.UnitGuess, out.UnitWhy = &unit, &guess, &m.Guess.Why
	out.Size, out.Low = point(r3.Sub(r.Bounds.Max, r.Bounds.Min)), &low
	out.Volume, out.VolumeSource = l.number(whole.VolumeNumber()), &source
	turned := m.Turn != nil
	out.Turned = &turned
	if len(m.Solids) > 0 {
		solids := fromSolids(m.Solids)
		out.Solids = &solids
	}
	out.Mesh = &MeshReport{
		Key:              shapeKey(j),
		Format:           string(r.Format),
		Triangles:        r.Triangles,
		VolumeError:      r.VolumeError / 1000,
		Area:             l.number(whole.AreaNumber()),
		Closed:           r.Edges.Closed(),
		Sound:            r.Sound,
		OpenEdges:        r.Edges.Open,
		NonManifoldEdges: r.Edges.NonManifold,
		Bodies:           r.Bodies,
		Voids:            r.Voids,
		Warnings:         append([]string{}, r.Warnings...),
	}
	return out
}
