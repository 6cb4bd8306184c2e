package thick

import (
	"math"

	"bathyform/core/forest"
	"bathyform/core/mesh"

	"gonum.org/v1/gonum/spatial/r3"
)

// bodiesAcross tells how large the body of a triangle is, corner to corner in
// mm, which no ball inside it is larger than; outside it is the whole part.
func bodiesAcross(m *mesh.Mesh) func(t int, outside bool) float64 {
	body := forest.New(len(m.Vertices))
	for _, t := range m.Triangles {
		body.Join(t[1], t[0])
		body.Join(t[2], t[0])
	}
	inf := math.Inf(1)
	boxes := make(map[int32]*r3.Box)
	for i, v := range m.Vertices {
		r := body.Root(int32(i)) //nolint:gosec // likewise
		b := boxes[r]
		if b == nil {
			b = &r3.Box{Min: r3.Vec{X: inf, Y: inf, Z: inf}, Max: r3.Vec{X: -inf, Y: -inf, Z: -inf}}
			boxes[r] = b
		}
		b.Min = r3.Vec{X: min(b.Min.X, v.X), Y: min(b.Min.Y, v.Y), Z: min(b.Min.Z, v.Z)}
		b.Max = r3.Vec{X: max(b.Max.X, v.X), Y: max(b.Max.Y, v.Y), Z: max(b.Max.Z, v.Z)}
	}
	for i := range body { // so that asking changes nothing
		body[i] = body.Root(int32(i)) //nolint:gosec // likewise
	}
	whole := m.Bounds()
	return func(t int, outside bool) float64 {
		box := whole
		if !outside {
			box = *boxes[body[m.Triangles[t][0]]]
		}
		return r3.Norm(r3.Sub(box.Max, box.Min))
	}
}
