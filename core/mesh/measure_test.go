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

func load(t testing.TB, m *mesh.Mesh) (*mesh.Mesh, mesh.Report) {
	t.Helper()
	out, r, err := mesh.Load(m.WriteSTL(), 1)
	require.NoError(t, err)
	return out, r
}

// Facetted solids have closed forms of their own: a turned solid with n
// facets has the area of the n-gon, (n/2) sin(2 pi/n) r², in each section.
func TestVolumeAndAreaMatchTheFacettedClosedForm(t *testing.T) {
	const n = 60
	gon := n / 2.0 * math.Sin(2*math.Pi/n)
	side := 2 * math.Sin(math.Pi/n)
	cases := map[string]struct {
		m            *mesh.Mesh
		volume, area float64
	}{
		"block":    {block, 6000, 2200},
		"cylinder": {meshtest.Cylinder(8, 30, n), gon * 64 * 30, 2*gon*64 + n*side*8*30},
		"cone": {meshtest.Turned(n, [2]float64{0, 0}, [2]float64{8, 0}, [2]float64{0, 30}), gon * 64 * 30 / 3,
			gon*64 + n*side*8/2*math.Hypot(30, 8*math.Cos(math.Pi/n))},
		"ring": {meshtest.Turned(n, [2]float64{10, 0}, [2]float64{14, 0}, [2]float64{14, 5}, [2]float64{10, 5}), gon * (196 - 100) * 5,
			2*gon*(196-100) + n*side*(14+10)*5},
	}
	for name, c := range cases {
		t.Run(name, func(t *testing.T) {
			assert.InEpsilon(t, c.volume, c.m.Volume(), 1e-12)
			assert.InEpsilon(t, c.area, c.m.Area(), 1e-12)
			rng := rand.New(rand.NewPCG(5, 6))
			for range 10 {
				moved := meshtest.Moved(c.m, r3.NewRotation(rng.Float64()*7, meshtest.RandomUp(rng)), r3.Vec{X: 1e5, Y: -3e5, Z: 2e5})
				assert.InEpsilon(t, c.volume, moved.Volume(), 1e-9, "turned and far from the origin")
				assert.InEpsilon(t, c.area, moved.Area(), 1e-9)
			}
			assert.InEpsilon(t, 27*c.volume, c.m.Scaled(3).Volume(), 1e-12)
			mirrored := c.m.Scaled(1)
			mirrored = &mesh.Mesh{Triangles: c.m.Triangles}
			for _, v := range c.m.Vertices {
				mirrored.Vertices = append(mirrored.Vertices, r3.Vec{X: -v.X, Y: v.Y, Z: v.Z})
			}
			assert.InEpsilon(t, -c.volume, mirrored.Volume(), 1e-12, "a mirrored mesh is inside out")
		})
	}
}

func TestVolumesAboveAndBelowALevelAddUp(t *testing.T) {
	m := meshtest.Sphere(20, 80)
	rng := rand.New(rand.NewPCG(9, 9))
	for range 40 {
		up := meshtest.RandomUp(rng)
		level := 40*rng.Float64() - 20
		above, below := m.VolumeAbove(up, level), m.VolumeAbove(r3.Scale(-1, up), -level)
		assert.InEpsilon(t, m.Volume(), above+below, 1e-12)
		h := 20 - level
		assert.InDelta(t, math.Pi*h*h*(60-h)/3, above, 0.005*m.Volume(), "cap formula")
	}
	assert.InEpsilon(t, 10*20*12, block.VolumeAbove(r3.Vec{Z: 1}, 21), 1e-12)
	assert.InEpsilon(t, 4*20*30, block.VolumeAbove(r3.Vec{X: -1}, -5), 1e-12)
}

func flipped(m *mesh.Mesh, every int) *mesh.Mesh {
	out := &mesh.Mesh{Vertices: m.Vertices}
	for i, t := range m.Triangles {
		if i%every == 0 {
			t[1], t[2] = t[2], t[1]
		}
		out.Triangles = append(out.Triangles, t)
	}
	return out
}

func TestDamagedMeshesAreMeasuredAndNamed(t *testing.T) {
	ball := meshtest.Sphere(20, 64)
	exact := ball.Volume()
	t.Run("inside out", func(t *testing.T) {
		_, r := load(t, flipped(ball, 1))
		assert.InEpsilon(t, exact, r.Volume, 1e-6)
		assert.True(t, r.Edges.Closed())
		assert.Contains(t, r.Warnings[0], "inside out")
	})
	t.Run("some triangles the wrong way", func(t *testing.T) {
		_, r := load(t, flipped(ball, 7))
		assert.InEpsilon(t, exact, r.Volume, 1e-6)
		assert.False(t, r.Edges.Closed())
		assert.Positive(t, r.Edges.Misoriented)
		assert.True(t, r.Sound)
		assert.Contains(t, r.Warnings[0], "the other way round")
	})
	t.Run("doubled triangle", func(t *testing.T) {
		m := &mesh.Mesh{Vertices: ball.Vertices, Triangles: append([][3]int32{ball.Triangles[40]}, ball.Triangles...)}
		_, r := load(t, m)
		assert.InEpsilon(t, exact, r.Volume, 1e-6)
		assert.Equal(t, 3, r.Edges.NonManifold)
		assert.Contains(t, r.Warnings[0], "lies twice")
	})
	t.Run("hollow", func(t *testing.T) {
		m := meshtest.Sphere(20, 64)
		m.Append(flipped(meshtest.Sphere(10, 64), 1))
		_, r := load(t, m)
		assert.InEpsilon(t, exact-meshtest.Sphere(10, 64).Volume(), r.Volume, 1e-6)
		assert.Equal(t, 2, r.Bodies)
		assert.Equal(t, 1, r.Voids)
	})
	t.Run("hollow, all inside out", func(t *testing.T) {
		m := flipped(meshtest.Sphere(20, 64), 1)
		m.Append(meshtest.Sphere(10, 64))
		_, r := load(t, m)
		assert.InEpsilon(t, exact-meshtest.Sphere(10, 64).Volume(), r.Volume, 1e-6)
		assert.Equal(t, 1, r.Voids)
	})
	t.Run("two bodies apart", func(t *testing.T) {
		m := meshtest.Sphere(20, 64)
		m.Append(meshtest.Moved(flipped(ball, 1), r3.NewRotation(0, r3.Vec{X: 1}), r3.Vec{X: 60}))
		_, r := load(t, m)
		assert.InEpsilon(t, 2*exact, r.Volume, 1e-6)
		assert.Equal(t, 2, r.Bodies)
		assert.Zero(t, r.Voids)
	})
	t.Run("hairline gap", func(t *testing.T) {
		m := &mesh.Mesh{}
		for i := range ball.Triangles {
			a, b, c := ball.Corners(i)
			n := int32(len(m.Vertices))
			jitter := float64(i%3) * 3e-6
			for _, p := range []r3.Vec{a, b, c} {
				m.Vertices = append(m.Vertices, r3.Vec{X: p.X + jitter, Y: p.Y - jitter, Z: p.Z})
			}
			m.Triangles = append(m.Triangles, [3]int32{n, n + 1, n + 2})
		}
		_, r := load(t, m)
		assert.True(t, r.Edges.Closed(), "%+v", r.Edges)
		assert.InEpsilon(t, exact, r.Volume, 1e-5)
		assert.Contains(t, r.Warnings[0], "joined")
	})
	t.Run("flat", func(t *testing.T) {
		m := meshtest.Box(r3.Vec{}, r3.Vec{X: 10, Y: 10})
		_, r := load(t, m)
		assert.True(t, r.Flat())
	})
}

func TestHolesLeaveAVolumeWithAnHonestBound(t *testing.T) {
	rng := rand.New(rand.NewPCG(21, 4))
	for name, m := range map[string]*mesh.Mesh{
		"ball": meshtest.Sphere(20, 64), "block": block, "rod": meshtest.Cylinder(6, 80, 48),
	} {
		exact := m.Volume()
		for _, missing := range []int{1, 2, 5} {
			torn := &mesh.Mesh{Vertices: m.Vertices, Triangles: append([][3]int32(nil), m.Triangles...)}
			for range missing {
				i := rng.IntN(len(torn.Triangles))
				torn.Triangles = append(torn.Triangles[:i], torn.Triangles[i+1:]...)
			}
			mended, r := load(t, torn)
			assert.False(t, r.Edges.Closed(), name)
			assert.LessOrEqual(t, math.Abs(r.Volume-exact), r.VolumeError, "%s less %d", name, missing)
			assert.Positive(t, r.VolumeError)
			if missing <= 2 {
				assert.Less(t, r.VolumeError, 0.45*exact, "%s less %d", name, missing)
			}
			assert.True(t, r.Sound, "the mended mesh closes")
			assert.InEpsilon(t, r.Volume, mended.Volume(), 1e-9)
		}
	}
}

func TestUnitIsGuessedFromTheSize(t *testing.T) {
	for longest, want := range map[float64]mesh.Unit{98.4: mesh.Millimetre, 3.875: mesh.Inch, 0.0984: mesh.Metre,
		1200: mesh.Millimetre, 25: mesh.Millimetre} {
		g := mesh.GuessUnit(longest)
		assert.Equal(t, want, g.Unit, "%g", longest)
		assert.NotEmpty(t, g.Why)
	}
	for u, want := range map[mesh.Unit]float64{"mm": 1, "cm": 10, "m": 1000, "in": 25.4} {
		got, err := u.Millimetres()
		require.NoError(t, err)
		assert.Equal(t, want, got)
	}
	_, err := mesh.Unit("furlong").Millimetres()
	assert.ErrorContains(t, err, "furlong")
}

func BenchmarkLoadMillionTriangles(b *testing.B) {
	data := meshtest.Sphere(50, 1000).WriteSTL()
	b.SetBytes(int64(len(data)))
	for b.Loop() {
		if _, _, err := mesh.Load(data, 1); err != nil {
			b.Fatal(err)
		}
	}
}
