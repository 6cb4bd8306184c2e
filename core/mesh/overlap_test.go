package mesh_test

import (
	"fmt"
	"math"
	"math/rand/v2"
	"testing"

	"bathyform/core/mesh"
	"bathyform/core/mesh/meshtest"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"gonum.org/v1/gonum/spatial/r3"
)

// together is several bodies in one file, read as any other.
func together(t *testing.T, bodies ...*mesh.Mesh) (*mesh.Mesh, mesh.Report) {
	t.Helper()
	all := &mesh.Mesh{}
	for _, b := range bodies {
		all.Append(b)
	}
	m, r, err := mesh.Load(all.WriteSTL(), 1)
	require.NoError(t, err)
	return m, r
}

func insideOut(m *mesh.Mesh) *mesh.Mesh {
	out := &mesh.Mesh{Vertices: m.Vertices}
	for _, t := range m.Triangles {
		out.Triangles = append(out.Triangles, [3]int32{t[0], t[2], t[1]})
	}
	return out
}

func moved(m *mesh.Mesh, x, y, z float64) *mesh.Mesh {
	return meshtest.Moved(m, r3.NewRotation(0, r3.Vec{Z: 1}), r3.Vec{X: x, Y: y, Z: z})
}

// Bodies that run into one another, against inclusion and exclusion of simple
// solids; closed forms. The bound holds the truth.
func TestWhatBodiesShareIsCountedOnce(t *testing.T) {
	turn := func(m *mesh.Mesh, a float64, axis r3.Vec) *mesh.Mesh {
		return meshtest.Moved(m, r3.NewRotation(a, axis), r3.Vec{})
	}
	box := func(x, y, z float64) *mesh.Mesh { return meshtest.Box(r3.Vec{}, r3.Vec{X: x, Y: y, Z: z}) }
	rod := moved(meshtest.Cylinder(10, 60, 360), 0, 0, -30)
	polygon := 360.0 / 2 * 100 * math.Sin(2*math.Pi/360)
	const crossing = 16.0 / 3 * 1000 // of two cylinders of radius 10
	lens := func(r, d float64) float64 { return math.Pi / 12 * (4*r + d) * (2*r - d) * (2*r - d) }
	ball := meshtest.Sphere(20, 240)
	for _, c := range []struct {
		name       string
		bodies     []*mesh.Mesh
		union      float64
		shared     float64
		within     float64 // relative, of the union: facets of round things
		overlapped bool
	}{
		{"crossed cylinders", []*mesh.Mesh{rod, turn(rod, math.Pi/2, r3.Vec{X: 1})}, 2*polygon*60 - crossing, crossing, 1e-3, true},
		{"boxes corner in corner", []*mesh.Mesh{box(30, 30, 30), moved(box(30, 30, 30), 20, 20, 20)}, 2*27000 - 1000, 1000, 1e-3, true},
		{"a box through a box", []*mesh.Mesh{box(40, 40, 10), moved(box(10, 10, 60), 15, 15, -25)}, 16000 + 6000 - 1000, 1000, 1e-3, true},
		{"two balls", []*mesh.Mesh{ball, moved(ball, 24, 0, 0)}, 2*ball.Volume() - lens(20, 24), lens(20, 24), 2e-3, true},
		{"a ball in a box", []*mesh.Mesh{moved(box(60, 60, 60), -30, -30, -30), ball}, 216000, ball.Volume(), 1e-3, true},
		{"boxes side by side", []*mesh.Mesh{box(10, 10, 10), moved(box(10, 10, 10), 10.5, 0, 0)}, 2000, 0, 1e-12, false},
		{"boxes face to face", []*mesh.Mesh{box(10, 10, 10), moved(box(10, 6, 6), 10, 2, 2)}, 1360, 0, 1e-9, false},
	} {
		t.Run(c.name, func(t *testing.T) {
			_, r := together(t, c.bodies...)
			assert.InEpsilon(t, c.union, r.Volume, c.within)
			assert.InDelta(t, c.shared, r.Overlap, c.within*c.union+r.OverlapErr)
			assert.InDelta(t, c.union, r.Volume, r.OverlapErr+c.within*c.union, "the bound holds it")
			assert.Equal(t, r.Volume, r.Cast)
			if c.overlapped {
				assert.Contains(t, r.Warnings[len(r.Warnings)-1], "bodies 1 and 2 run into one another")
				assert.Less(t, r.OverlapErr, 0.01*r.Volume)
			} else {
				assert.Zero(t, r.OverlapErr)
			}
		})
	}
}

// However bodies are turned, they share the same.
func TestTurningChangesNothingShared(t *testing.T) {
	rng := rand.New(rand.NewPCG(9, 9))
	a, b := meshtest.Box(r3.Vec{}, r3.Vec{X: 30, Y: 20, Z: 10}), moved(meshtest.Cylinder(6, 40, 120), 12, 9, -15)
	_, want := together(t, a, b)
	for range 6 {
		rot := r3.NewRotation(rng.Float64()*6, meshtest.RandomUp(rng))
		_, got := together(t, meshtest.Moved(a, rot, r3.Vec{X: 100}), meshtest.Moved(b, rot, r3.Vec{X: 100}))
		assert.InEpsilon(t, want.Overlap, got.Overlap, 2e-3)
		assert.InEpsilon(t, want.Volume, got.Volume, 1e-3)
	}
}

// A closed hollow is taken off the solid and full in the casting; what lies
// loose in it is lost in it.
func TestCastingsAreFullWhereNoRubberComes(t *testing.T) {
	outer, hollow := meshtest.Box(
		r3.Vec{},
		r3.Vec{X: 40, Y: 40, Z: 40},
	), insideOut(
		moved(meshtest.Box(r3.Vec{}, r3.Vec{X: 20, Y: 20, Z: 20}), 10, 10, 10),
	)
	m, r := together(t, outer, hollow)
	assert.Equal(t, 1, r.Voids)
	assert.InDelta(t, 56000, r.Volume, 1e-6)
	assert.InDelta(t, 8000, r.Hollow, 1e-6)
	assert.InDelta(t, 64000, r.Cast, 1e-6)
	assert.InDelta(t, 64000, m.Filled(r.Hollows).Volume(), 1e-6)
	assert.Len(t, m.Filled(r.Hollows).Triangles, 12)

	loose := moved(meshtest.Box(r3.Vec{}, r3.Vec{X: 5, Y: 5, Z: 5}), 12, 12, 12)
	m, r = together(t, outer, hollow, loose)
	assert.InDelta(t, 56125, r.Volume, 1e-6)
	assert.InDelta(t, 8000-125, r.Hollow, 1e-6)
	assert.InDelta(t, 64000, r.Cast, 1e-6)
	assert.InDelta(t, 64000, m.Filled(r.Hollows).Volume(), 1e-6)
	assert.Zero(t, r.Overlap)
}

func TestAbsurdNumbersAreRefused(t *testing.T) {
	huge := meshtest.Box(r3.Vec{}, r3.Vec{X: 1e28, Y: 1e28, Z: 1e28})
	_, _, err := mesh.Load(huge.WriteSTL(), 1)
	assert.ErrorContains(t, err, "no part that anyone casts")
	_, _, err = mesh.Load(meshtest.Box(r3.Vec{}, r3.Vec{X: 20, Y: 20, Z: 20}).WriteSTL(), 1e9)
	assert.ErrorContains(t, err, "in another unit")
	_, r, err := mesh.Load(moved(meshtest.Box(r3.Vec{}, r3.Vec{X: 20, Y: 20, Z: 20}), 1e6, 0, 0).WriteSTL(), 1)
	require.NoError(t, err, "far from the origin, but a part")
	assert.InDelta(t, 8000, r.Volume, 1)
}

// Facets that belong to nothing cost no more than their number, and where
// thousands of surfaces run through one another the part is refused.
func TestMeshesThatAreATangle(t *testing.T) {
	rng := rand.New(rand.NewPCG(1, 1))
	dust := func(n int, size float64) *mesh.Mesh {
		m := &mesh.Mesh{}
		for i := range int32(n) { //nolint:gosec // a few thousand
			at := r3.Scale(size, r3.Vec{X: rng.Float64(), Y: rng.Float64(), Z: rng.Float64()})
			m.Vertices = append(m.Vertices, at, r3.Add(at, meshtest.RandomUp(rng)), r3.Add(at, meshtest.RandomUp(rng)))
			m.Triangles = append(m.Triangles, [3]int32{3 * i, 3*i + 1, 3*i + 2})
		}
		return m
	}
	_, r, err := mesh.Load(dust(5000, 50).WriteSTL(), 1)
	require.NoError(t, err)
	assert.Equal(t, 5000, r.Bodies)
	assert.Contains(t, fmt.Sprint(r.Warnings), "encloses no volume")
	_, _, err = mesh.Load(dust(9000, 0.3).WriteSTL(), 1)
	assert.ErrorContains(t, err, "over one another")
}

// BenchmarkDust shows that loose facets cost in proportion to their number.
func BenchmarkDust(b *testing.B) {
	for _, n := range []int{1000, 4000, 16000} {
		m := &mesh.Mesh{}
		for i := range int32(n) { //nolint:gosec // a few thousand
			x, y := float64(i%128), float64(i/128)
			m.Vertices = append(m.Vertices, r3.Vec{X: x, Y: y, Z: float64(i % 7)}, r3.Vec{X: x + 0.5, Y: y}, r3.Vec{X: x, Y: y + 0.5, Z: 1})
			m.Triangles = append(m.Triangles, [3]int32{3 * i, 3*i + 1, 3*i + 2})
		}
		data := m.WriteSTL()
		b.Run(fmt.Sprint(n), func(b *testing.B) {
			for b.Loop() {
				if _, _, err := mesh.Load(data, 1); err != nil {
					b.Fatal(err)
				}
			}
		})
	}
}
