package api

import (
	"bytes"
	"context"
	"net/http"
	"strconv"

	"bathyform/core/bench"
	"bathyform/core/mesh"
	"bathyform/core/quantity"
	"bathyform/core/sketch"
)

// GetRubber returns the rubber of the kept design in its pieces: at hand,
// unless the server was started since it was built.
func (s *Server) GetRubber(ctx context.Context, r GetRubberRequestObject) (GetRubberResponseObject, error) {
	o, q, err := s.asked(ctx, r.JobId, r.Params.Kind)
	if err != nil {
		return nil, err
	}
	if !o.master.Known() {
		return nil, noShape(bench.ErrNoShape)
	}
	p, err := o.master.Plan(ctx, q, nil)
	if err != nil {
		return nil, buildProblem(err)
	}
	if d := p.Division; d != nil && r.Form != "geometry" {
		if err := d.Handed(); err != nil {
			return nil, problem(http.StatusUnprocessableEntity, "The pieces are not true to the part", quantity.Sentence(err.Error())+".")
		}
	}
	bodies := p.Bodies()
	what := "mould"
	if r.Piece != "all" {
		n, err := strconv.Atoi(r.Piece)
		if err != nil || n < 0 || n >= len(bodies) {
			return nil, problem(http.StatusNotFound, "There is no such piece", "The design was changed: build the mould again.")
		}
		bodies = bodies[n : n+1]
		what = bodies[0].Name
	}
	var named []mesh.Named
	all := &mesh.Mesh{}
	for _, b := range bodies {
		named = append(named, mesh.Named{Name: b.Name, Mesh: b.Mesh})
		all.Append(b.Mesh)
	}
	var data []byte
	disposition := attachment(o.job, what, string(r.Form))
	switch r.Form {
	case "geometry":
		data, disposition = packMesh(all, sketch.Near{}, rubberEdge), "inline"
	case "stl":
		data = all.WriteSTL()
	default:
		if data, err = mesh.Write3MF(named); err != nil {
			return nil, err
		}
	}
	return GetRubber200ApplicationoctetStreamResponse{
		Body:          bytes.NewReader(data),
		ContentLength: int64(len(data)),
		Headers:       GetRubber200ResponseHeaders{ContentDisposition: &disposition},
	}, nil
}
