package mesh_test

import (
	"math"
	"math/rand/v2"
	"testing"

	"bathyform/core/mesh"
	"bathyform/core/mesh/meshtest"

	"github.com/stretchr/testify/assert"
	"gonum.org/v1/gonum/spatial/r3"
)

// The tree against every triangle asked in turn.
func TestTreeFindsTheNearestTriangle(t *testing.T) {
	rng := rand.New(rand.NewPCG(4, 2))
	m := meshtest.Turned(40, [2]float64{0, 0}, [2]float64{12, 2}, [2]float64{4, 9}, [2]float64{9, 20}, [2]float64{0, 24})
	tree := mesh.NewTree(m)
	for range 300 {
		p := r3.Vec{X: 40 * (rng.Float64() - 0.5), Y: 40 * (rng.Float64() - 0.5), Z: 40*rng.Float64() - 8}
		want := math.Inf(1)
		for i := range m.Triangles {
			a, b, c := m.Corners(i)
			want = min(want, r3.Norm(r3.Sub(p, mesh.NearestOnTriangle(p, a, b, c))))
		}
		at, triangle := tree.Nearest(p, math.Inf(1), nil)
		assert.GreaterOrEqual(t, triangle, int32(0))
		assert.InDelta(t, want, r3.Norm(r3.Sub(p, at)), 1e-9)
		_, none := tree.Nearest(p, want*0.999, nil)
		assert.Equal(t, int32(-1), none, "nothing is nearer than the nearest")
	}
}

func TestRayMeetsTheFarWall(t *testing.T) {
	tree := mesh.NewTree(meshtest.Box(r3.Vec{}, r3.Vec{X: 30, Y: 20, Z: 10}))
	for dir, want := range map[r3.Vec]float64{{X: 1}: 23, {X: -1}: 7, {Y: 1}: 17, {Z: 1}: 5, {X: 0.6, Y: 0, Z: 0.8}: 6.25} {
		got, triangle := tree.Ray(r3.Vec{X: 7, Y: 3, Z: 5}, dir, nil)
		assert.InDelta(t, want, got, 1e-9)
		assert.GreaterOrEqual(t, triangle, int32(0))
	}
	far, none := tree.Ray(r3.Vec{X: 7, Y: 3, Z: 50}, r3.Vec{Z: 1}, nil)
	assert.True(t, math.IsInf(far, 1))
	assert.Equal(t, int32(-1), none)
}
