package api

import (
	"context"
	"fmt"
	"net/http"
	"path"
	"strings"
	"sync"

	"bathyform/core/mesh"
	"bathyform/core/part"
	"bathyform/demo/parts"
	"bathyform/internal/store"

	"github.com/google/uuid"
	"golang.org/x/sync/errgroup"
	"gonum.org/v1/gonum/spatial/r3"
)

// UploadMesh reads a mesh and makes it the job's master.
func (s *Server) UploadMesh(ctx context.Context, r UploadMeshRequestObject) (UploadMeshResponseObject, error) {
	from, err := from(r.Params.IfMatch, r.Params.IdempotencyKey)
	if err != nil {
		return nil, err
	}
	data, done, err := s.received(ctx, r.Body)
	if err != nil {
		return nil, err
	}
	defer done()
	name := text(r.Params.Filename)
	name = strings.TrimSuffix(path.Base(name), path.Ext(name))
	if name == "" || name == "." || name == "/" {
		name = "Master"
	}
	j, err := s.keepMesh(ctx, r.JobId, store.Master{Name: name}, data, from)
	if err != nil {
		return nil, err
	}
	return UploadMesh200JSONResponse(fromJob(j)), nil
}

// keepMesh examines a mesh file and makes it the job's master, as far as that
// is described already. An empty unit is guessed from the size and left for
// the caster to confirm.
func (s *Server) keepMesh(ctx context.Context, id uuid.UUID, m store.Master, data []byte, from store.From) (store.Job, error) {
	var file *store.Mesh
	var packing errgroup.Group // a large file takes as long to pack as to read
	packing.Go(func() (err error) { file, err = store.PackMesh(data); return err })
	read, native, err := mesh.Load(data, 1)
	failed := packing.Wait()
	if err != nil {
		return store.Job{}, unusable("This file cannot be used as a master", err)
	}
	if failed != nil {
		return store.Job{}, failed
	}
	if native.Flat() {
		return store.Job{}, problem(
			http.StatusUnprocessableEntity,
			"This mesh encloses no volume",
			"A cast part needs an inside. Export the part as a closed solid.",
		)
	}
	size := r3.Sub(native.Bounds.Max, native.Bounds.Min)
	m.Confirmed, m.Guess = m.Unit != "", mesh.GuessUnit(max(size.X, size.Y, size.Z))
	if native.Unit != "" { // the file itself says
		m.Unit, m.Confirmed = native.Unit, true
		m.Guess = mesh.UnitGuess{Unit: native.Unit, Why: "the file itself says its unit"}
	}
	if m.Unit == "" {
		m.Unit = m.Guess.Unit
	}
	report, err := part.In(native, 1, m.Unit)
	if err != nil {
		return store.Job{}, unusable("This unit cannot be used", err)
	}
	m.Report = &report
	var drawing sync.WaitGroup
	if m.Unit == mesh.Millimetre {
		drawing.Go(func() { s.hand.keep(ctx, store.Job{MeshSHA: file.SHA, Master: &m}, read, native) })
	}
	err = s.stillThere(ctx, id, s.store.WriteMaster(ctx, id, m, file, file.SHA, false, from))
	drawing.Wait()
	if err != nil {
		return store.Job{}, err
	}
	return s.store.Job(ctx, id)
}

// PutMaster takes a demo part or a measured master, or confirms the unit.
func (s *Server) PutMaster(ctx context.Context, r PutMasterRequestObject) (PutMasterResponseObject, error) {
	from, err := from(r.Params.IfMatch, r.Params.IdempotencyKey)
	if err != nil {
		return nil, err
	}
	var j store.Job
	switch c := r.Body; {
	case c.DemoPart != nil:
		p, ok := parts.ByKey(*c.DemoPart)
		if !ok {
			return nil, problem(http.StatusUnprocessableEntity, "There is no such demo part", "Pick one from the list.")
		}
		j, err = s.keepMesh(ctx, r.JobId, store.Master{Name: p.Name, Unit: mesh.Millimetre}, p.Mesh().WriteSTL(), from)
	case c.Measured != nil:
		j, err = s.keepMeasured(ctx, r.JobId, *c.Measured, from)
	case c.Blockout != nil:
		j, err = s.keepBlockout(ctx, r.JobId, *c.Blockout, from)
	case c.Unit != nil:
		j, err = s.confirmUnit(ctx, r.JobId, mesh.Unit(*c.Unit), from)
	default:
		err = problem(http.StatusUnprocessableEntity, "Nothing was chosen", "Name a demo part, enter measures, or confirm a unit.")
	}
	if err != nil {
		return nil, err
	}
	return PutMaster200JSONResponse(fromJob(j)), nil
}

func (s *Server) keepMeasured(ctx context.Context, id uuid.UUID, in Measured, from store.From) (store.Job, error) {
	m := part.Measured{Length: in.Length, Width: in.Width, Height: in.Height, How: "displaced water"}
	switch {
	case in.Volume != nil:
		m.Volume = *in.Volume
	case in.Mass != nil && in.Density != nil && *in.Density > 0:
		m.Volume, m.How = *in.Mass / *in.Density, "weight over density"
	default:
		return store.Job{}, problem(
			http.StatusUnprocessableEntity,
			"The volume is missing",
			"Sink the master in a measure and read how much water it displaces, or weigh it and give the density of what it is made of.",
		)
	}
	if err := m.Check(); err != nil {
		return store.Job{}, unusable("These measures cannot be right", err)
	}
	if max(m.Length, m.Width, m.Height) > part.Longest {
		return store.Job{}, unusable(
			"These measures cannot be right",
			fmt.Errorf("the master would be %.0f m long", max(m.Length, m.Width, m.Height)/1000),
		)
	}
	err := s.store.WriteMaster(ctx, id, store.Master{Name: "Measured master", Confirmed: true, Measured: &m}, nil, "", false, from)
	if err := s.stillThere(ctx, id, err); err != nil {
		return store.Job{}, err
	}
	return s.store.Job(ctx, id)
}

func (s *Server) confirmUnit(ctx context.Context, id uuid.UUID, unit mesh.Unit, from store.From) (store.Job, error) {
	j, err := s.store.Job(ctx, id)
	if err != nil {
		return j, err
	}
	if j.Master == nil || j.Master.Report == nil {
		return j, problem(http.StatusConflict, "There is no mesh to scale", "Drop in a mesh first.")
	}
	m := *j.Master
	same := m.Unit == unit
	if !same {
		from, err := m.Unit.Millimetres()
		if err != nil {
			return j, err
		}
		report, err := part.In(*m.Report, from, unit)
		if err != nil {
			return j, unusable("This unit cannot be right", err)
		}
		m.Unit, m.Report = unit, &report
	}
	m.Confirmed = true
	if err := s.stillThere(ctx, id, s.store.WriteMaster(ctx, id, m, nil, j.MeshSHA, same, from)); err != nil {
		return j, err
	}
	return s.store.Job(ctx, id)
}
