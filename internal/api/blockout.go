package api

import (
	"bytes"
	"context"
	"encoding/binary"
	"math"

	"bathyform/core/blockout"
	"bathyform/core/mesh"
	"bathyform/core/outline"
	"bathyform/core/sketch"
	"bathyform/internal/store"

	"github.com/google/uuid"
)

// PreviewBlockout builds a block-out without keeping it.
func (s *Server) PreviewBlockout(_ context.Context, r PreviewBlockoutRequestObject) (PreviewBlockoutResponseObject, error) {
	m, err := blockout.Build(toSolids(r.Body.Solids))
	if err != nil {
		return nil, unusable("This cannot be built", err)
	}
	volume, area := m.VolumeAndArea()
	data := binary.LittleEndian.AppendUint64(nil, math.Float64bits(volume/1000))
	data = binary.LittleEndian.AppendUint64(data, math.Float64bits(area/100))
	displaced := math.NaN()
	if r.Body.Displaced != nil {
		displaced = *r.Body.Displaced
	}
	off, near := blockout.Against(volume/1000, displaced)
	data = binary.LittleEndian.AppendUint64(data, math.Float64bits(off))
	stands := 0.0
	if near {
		stands = 1
	}
	data = binary.LittleEndian.AppendUint64(data, math.Float64bits(stands))
	data = append(data, packMesh(m, sketch.Near{}, sharpEdge)...)
	return PreviewBlockout200ApplicationoctetStreamResponse{Body: bytes.NewReader(data), ContentLength: int64(len(data))}, nil
}

func (s *Server) keepBlockout(ctx context.Context, id uuid.UUID, b Blockout, from store.From) (store.Job, error) {
	solids := toSolids(b.Solids)
	m, err := blockout.Build(solids)
	if err != nil {
		return store.Job{}, unusable("This cannot be built", err)
	}
	return s.keepMesh(ctx, id, store.Master{Name: "Block-out", Unit: mesh.Millimetre, Solids: solids}, m.WriteSTL(), from)
}

func toSolids(in []Solid) []blockout.Solid {
	out := make([]blockout.Solid, len(in))
	for i, s := range in {
		out[i] = blockout.Solid{Kind: blockout.Kind(s.Kind), Cut: s.Cut, At: vec(s.At), Axis: string(s.Axis), A: s.A, B: s.B, C: s.C}
		if s.Rings != nil {
			for _, ring := range *s.Rings {
				points := make([]blockout.Point, len(ring))
				for k, p := range ring {
					points[k] = blockout.Point{p[0], p[1]}
				}
				out[i].Rings = append(out[i].Rings, points)
			}
		}
	}
	return out
}

func fromSolids(in []blockout.Solid) []Solid {
	out := make([]Solid, len(in))
	for i, s := range in {
		axis := s.Axis
		if axis == "" {
			axis = "z"
		}
		out[i] = Solid{Kind: SolidKind(s.Kind), Cut: s.Cut, At: point(s.At), Axis: SolidAxis(axis), A: s.A, B: s.B, C: s.C}
		if len(s.Rings) > 0 {
			rings := make(Rings, len(s.Rings))
			for k, ring := range s.Rings {
				for _, p := range ring {
					rings[k] = append(rings[k], []float64{p[0], p[1]})
				}
			}
			out[i].Rings = &rings
		}
	}
	return out
}

// ReadOutline reads the outlines of a drawing.
func (s *Server) ReadOutline(_ context.Context, r ReadOutlineRequestObject) (ReadOutlineResponseObject, error) {
	d, err := outline.Parse([]byte(r.Body.Text))
	if err != nil {
		return nil, unusable("This drawing cannot be used", err)
	}
	return ReadOutline200JSONResponse(fromDrawing(d)), nil
}

// ReadScan traces a scan.
func (s *Server) ReadScan(ctx context.Context, r ReadScanRequestObject) (ReadScanResponseObject, error) {
	data, done, err := s.received(ctx, r.Body)
	if err != nil {
		return nil, err
	}
	defer done()
	d, err := outline.Trace(data, r.Params.Dpi)
	if err != nil {
		return nil, unusable("This scan cannot be used", err)
	}
	return ReadScan200JSONResponse(fromDrawing(d)), nil
}

// fromDrawing is a drawing as a solid takes it.
func fromDrawing(d outline.Drawing) Outline {
	rings, wide, tall := d.Fitted()
	out := Outline{Rings: Rings{}, Notes: append([]string{}, d.Notes...), Width: wide, Height: tall}
	for _, ring := range rings {
		points := make([][]float64, len(ring))
		for i, p := range ring {
			points[i] = []float64{p[0], p[1]}
		}
		out.Rings = append(out.Rings, points)
	}
	return out
}
