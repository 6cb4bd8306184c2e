package api

import (
	"bytes"
	"context"
	"encoding/binary"
	"math"

	"bathyform/core/mesh"
	"bathyform/core/sketch"

	"gonum.org/v1/gonum/spatial/r3"
)

// What a browser is given to draw of one body: as many triangles as an eye
// can tell apart, and the lines where faces meet sharply.
const (
	mostDrawn  = 50_000
	sharpEdge  = 62 * math.Pi / 180 // of a part, whose roundings are faceted
	rubberEdge = 50 * math.Pi / 180
)

// GetGeometry returns the master's mesh for drawing.
func (s *Server) GetGeometry(ctx context.Context, r GetGeometryRequestObject) (GetGeometryResponseObject, error) {
	j, err := s.store.Job(ctx, r.JobId)
	if err != nil {
		return nil, err
	}
	var near sketch.Near
	if n := r.Params.Near; n != nil {
		near = sketch.Near{At: r3.Vec{X: (*n)[0], Y: (*n)[1], Z: (*n)[2]}, Radius: (*n)[3]}
	}
	data, err := s.hand.drawing(ctx, j, near)
	if err != nil {
		return nil, err
	}
	return GetGeometry200ApplicationoctetStreamResponse{Body: bytes.NewReader(data), ContentLength: int64(len(data))}, nil
}

// packMesh lays a mesh out for drawing as the contract says.
func packMesh(m *mesh.Mesh, near sketch.Near, sharp float64) []byte {
	drawn := sketch.Draw(m, mostDrawn, near, sharp)
	m = drawn.Mesh
	out := make([]byte, 0, 16+12*len(m.Vertices)+12*len(m.Triangles)+8*len(drawn.Creases)+4*len(drawn.Of))
	for _, n := range [4]int{len(m.Vertices), len(m.Triangles), len(drawn.Creases), len(drawn.Of)} {
		out = binary.LittleEndian.AppendUint32(out, uint32(n))
	}
	for _, v := range m.Vertices {
		for _, x := range [3]float64{v.X, v.Y, v.Z} {
			out = binary.LittleEndian.AppendUint32(out, math.Float32bits(float32(x)))
		}
	}
	for _, t := range m.Triangles {
		for _, i := range t {
			out = binary.LittleEndian.AppendUint32(out, uint32(i))
		}
	}
	for _, e := range drawn.Creases {
		for _, i := range e {
			out = binary.LittleEndian.AppendUint32(out, uint32(i))
		}
	}
	for _, t := range drawn.Of {
		out = binary.LittleEndian.AppendUint32(out, uint32(t))
	}
	return out
}
