//go:build laws

package mesh_test

import (
	"math/rand/v2"
	"testing"

	"bathyform/core/growthtest"
	"bathyform/core/mesh"
	"bathyform/core/mesh/meshtest"

	"gonum.org/v1/gonum/spatial/r3"
)

// Whatever a mesh is like, looking it over takes about as long as it is large.
func TestLookingAMeshOverGrowsWithItsSize(t *testing.T) {
	loose := func(n int) []byte { // facets that belong to nothing
		rng := rand.New(rand.NewPCG(1, 2))
		m := &mesh.Mesh{}
		for range n {
			at := r3.Scale(100, r3.Vec{X: rng.Float64(), Y: rng.Float64(), Z: rng.Float64()})
			for range 3 {
				m.Vertices = append(m.Vertices, r3.Add(at, r3.Vec{X: rng.Float64(), Y: rng.Float64(), Z: rng.Float64()}))
			}
			k := int32(len(m.Vertices))
			m.Triangles = append(m.Triangles, [3]int32{k - 3, k - 2, k - 1})
		}
		return m.WriteSTL()
	}
	crumbs := func(n int) []byte { // as many bodies
		side := 1
		for side*side*side < n {
			side++
		}
		m := &mesh.Mesh{}
		for i := range n {
			low := r3.Scale(2, r3.Vec{X: float64(i % side), Y: float64(i / side % side), Z: float64(i / side / side)})
			b := meshtest.Box(low, r3.Add(low, r3.Vec{X: 1, Y: 1, Z: 1}))
			from := int32(len(m.Vertices))
			m.Vertices = append(m.Vertices, b.Vertices...)
			for _, t := range b.Triangles {
				m.Triangles = append(m.Triangles, [3]int32{from + t[0], from + t[1], from + t[2]})
			}
		}
		return m.WriteSTL()
	}
	for name, c := range map[string]struct {
		n    int
		file func(n int) []byte
	}{
		"facets":   {3_000, loose},
		"bodies":   {3_000, crumbs},
		"one face": {2_000, func(n int) []byte { obj, _ := star(n); return []byte(obj) }},
		"sound shells": {5_000, func(n int) []byte {
			return meshtest.Turned(n, [2]float64{0, 0}, [2]float64{30, 0}, [2]float64{25, 20}, [2]float64{0, 20}).WriteSTL()
		}},
	} {
		t.Run(name, func(t *testing.T) {
			growthtest.NLogN(t, c.n, func(n int) func() {
				file := c.file(n)
				return func() { _, _, _ = mesh.Load(file, 1) }
			})
		})
	}
}
