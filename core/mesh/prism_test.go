package mesh_test

import (
	"math"
	"math/rand/v2"
	"testing"

	"bathyform/core/mesh"
	"bathyform/core/mesh/meshtest"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"gonum.org/v1/gonum/spatial/r3"
)

// The prism over a triangle, integrated the slow way: the mean height above
// the plane over a fine subdivision.
func slowPrism(plan, h0, h1, h2 float64) (volume, area float64) {
	const n = 400
	for i := range n {
		for j := range n - i {
			corners := [][2]float64{{1.0 / 3, 1.0 / 3}}
			if i+j < n-1 {
				corners = append(corners, [2]float64{2.0 / 3, 2.0 / 3})
			}
			for _, c := range corners {
				u, v := (float64(i)+c[0])/n, (float64(j)+c[1])/n
				if h := h0 + u*(h1-h0) + v*(h2-h0); h > 0 {
					volume += h
					area++
				}
			}
		}
	}
	return plan * volume / (n * n), plan * area / (n * n)
}

func TestPrismOverATriangleMatchesASlowIntegral(t *testing.T) {
	rng := rand.New(rand.NewPCG(2, 3))
	for range 60 {
		plan := 5 * rng.NormFloat64()
		h := [3]float64{rng.NormFloat64(), rng.NormFloat64(), rng.NormFloat64()}
		volume, area := slowPrism(plan, h[0], h[1], h[2])
		assert.InDelta(t, volume, mesh.PrismAbove(plan, h[0], h[1], h[2]), 1e-3*math.Abs(plan))
		assert.InDelta(t, area, mesh.PlanAbove(plan, h[0], h[1], h[2]), 1e-2*math.Abs(plan))
		for _, p := range [][3]int{{0, 2, 1}, {1, 0, 2}, {1, 2, 0}, {2, 0, 1}, {2, 1, 0}} {
			assert.InDelta(
				t,
				mesh.PrismAbove(plan, h[0], h[1], h[2]),
				mesh.PrismAbove(plan, h[p[0]], h[p[1]], h[p[2]]),
				1e-12,
				"the order of the corners does not matter",
			)
		}
	}
	assert.Zero(t, mesh.PrismAbove(3, -1, -2, 0))
	assert.Equal(t, 3.0, mesh.PrismAbove(3, 1, 1, 1))
	assert.Equal(t, 3.0, mesh.PlanAbove(3, 0, 1, 0))
}

// What is written is read back the same, corner for corner.
func TestWrittenSTLReadsBackTheSame(t *testing.T) {
	for name, m := range map[string]*mesh.Mesh{"ball": meshtest.Sphere(20, 48), "block": block, "rod": meshtest.Cylinder(3, 40, 30)} {
		f, err := mesh.ParseSTL(m.WriteSTL())
		require.NoError(t, err, name)
		assert.Equal(t, len(m.Triangles), f.Triangles)
		assert.Len(t, f.Mesh.Vertices, len(m.Vertices), "%s: every corner is welded once", name)
		assert.InEpsilon(t, m.Volume(), f.Mesh.Volume(), 1e-6)
		again, err := mesh.ParseSTL(f.Mesh.WriteSTL())
		require.NoError(t, err)
		assert.InEpsilon(t, f.Mesh.Volume(), again.Mesh.Volume(), 1e-14, "float32 is not rounded twice")
	}
}

// Euler's formula holds for closed surfaces without handles, and counts the
// handles of others: V - E + F = 2 - 2 g.
func TestWeldedSurfacesObeyEuler(t *testing.T) {
	ring := meshtest.Turned(40, [2]float64{10, 0}, [2]float64{14, 0}, [2]float64{14, 5}, [2]float64{10, 5})
	for name, c := range map[string]struct {
		m       *mesh.Mesh
		handles int
	}{"ball": {meshtest.Sphere(20, 48), 0}, "block": {block, 0}, "ring": {ring, 1}} {
		f, err := mesh.ParseSTL(c.m.WriteSTL())
		require.NoError(t, err)
		v, e, tri := len(f.Mesh.Vertices), 3*len(f.Mesh.Triangles)/2, len(f.Mesh.Triangles)
		assert.Equal(t, 2-2*c.handles, v-e+tri, name)
	}
}

func TestSectionOfAnOpenMeshKeepsItsEndsOpen(t *testing.T) {
	open := &mesh.Mesh{Vertices: block.Vertices, Triangles: block.Triangles[4:]} // without top and bottom
	loops := open.Section(r3.Vec{X: 1}, 6)
	require.NotEmpty(t, loops)
	points := 0
	for _, l := range loops {
		points += len(l)
		for _, p := range l {
			assert.InDelta(t, 6, p.X, 1e-12)
		}
	}
	assert.GreaterOrEqual(t, points, 4)
	assert.Empty(t, (&mesh.Mesh{}).Section(r3.Vec{X: 1}, 0))
}

func TestNegativeZeroIsNoOtherCorner(t *testing.T) {
	m := meshtest.Box(r3.Vec{}, r3.Vec{X: 2, Y: 2, Z: 2})
	data := m.WriteSTL()
	for t := range 12 { // turn every other zero into its negative
		for k := 12; k < 48; k += 4 {
			rec := data[84+50*t+k:]
			if (t+k/4)%2 == 0 && rec[0] == 0 && rec[1] == 0 && rec[2] == 0 && rec[3] == 0 {
				rec[3] = 0x80
			}
		}
	}
	_, r, err := mesh.Load(data, 1)
	require.NoError(t, err)
	assert.True(t, r.Edges.Closed())
	assert.InEpsilon(t, 8, r.Volume, 1e-12)
}
