package mesh

import (
	"math"

	"gonum.org/v1/gonum/spatial/r3"
)

// Creases returns the edges, as pairs of vertices, over which the surface
// turns by more than angle (radians), and the rims of its holes: the lines
// that a draughtsman would draw.
func (m *Mesh) Creases(angle float64) [][2]int32 {
	normals := make([]r3.Vec, len(m.Triangles))
	for t := range m.Triangles {
		a, b, c := m.Corners(t)
		n := r3.Cross(r3.Sub(b, a), r3.Sub(c, a))
		if l := r3.Norm(n); l > 0 {
			normals[t] = r3.Scale(1/l, n)
		}
	}
	least := math.Cos(angle)
	var out [][2]int32
	m.edgeTable().each(func(low int32, uses []edgeUse) {
		if len(uses) == 2 {
			a, b := normals[uses[0].triangle()], normals[uses[1].triangle()]
			if uses[0].along() == uses[1].along() {
				b = r3.Scale(-1, b) // the two disagree about the outside
			}
			if a == (r3.Vec{}) || b == (r3.Vec{}) || r3.Dot(a, b) > least {
				return
			}
		}
		out = append(out, [2]int32{low, uses[0].high})
	})
	return out
}
