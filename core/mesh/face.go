package mesh

import (
	"math"

	"gonum.org/v1/gonum/spatial/r3"
)

// Face is the triangles that make one face with a triangle, as a hand takes it:
// reached from it over edges where the surface bends by less than bend, and none
// turned from it by more than turned, both in radians.
func (m *Mesh) Face(seed int32, bend, turned float64) []int32 {
	next := make([][]int32, len(m.Triangles))
	normal := func(t int32) r3.Vec {
		a, b, c := m.Corners(int(t))
		n := r3.Cross(r3.Sub(b, a), r3.Sub(c, a))
		if l := r3.Norm(n); l > 0 {
			return r3.Scale(1/l, n)
		}
		return r3.Vec{}
	}
	smooth, facing := math.Cos(bend), math.Cos(turned)
	m.edgeTable().each(func(_ int32, uses []edgeUse) {
		if len(uses) != 2 {
			return
		}
		a, b := int32(uses[0].triangle()), int32(uses[1].triangle())
		next[a], next[b] = append(next[a], b), append(next[b], a)
	})
	own := normal(seed)
	seen := map[int32]bool{seed: true}
	out := []int32{seed}
	for k := 0; k < len(out); k++ {
		from := normal(out[k])
		for _, t := range next[out[k]] {
			if n := normal(t); !seen[t] && r3.Dot(n, from) >= smooth && r3.Dot(n, own) >= facing {
				seen[t] = true
				out = append(out, t)
			}
		}
	}
	return out
}
