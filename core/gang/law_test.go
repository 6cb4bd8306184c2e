package gang

import (
	"math"
	"math/rand/v2"
	"testing"

	"bathyform/core/plane"

	"bathyform/core/mesh"
	"bathyform/core/mesh/meshtest"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"gonum.org/v1/gonum/spatial/r3"
)

// odd is a part of three boxes thrown together: seldom convex.
func odd(rng *rand.Rand) *mesh.Mesh {
	m := &mesh.Mesh{}
	for range 3 {
		at := r3.Vec{X: 20 * rng.Float64(), Y: 20 * rng.Float64()}
		box := meshtest.Box(at, r3.Add(at, r3.Vec{X: 8 + 30*rng.Float64(), Y: 8 + 12*rng.Float64(), Z: 10}))
		n := int32(len(m.Vertices))
		m.Vertices = append(m.Vertices, box.Vertices...)
		for _, t := range box.Triangles {
			m.Triangles = append(m.Triangles, [3]int32{t[0] + n, t[1] + n, t[2] + n})
		}
	}
	return m
}

// Whatever the shape: nothing overlaps, nothing leaves the box, asked of a
// raster of points and not of the outlines' own distances.
func TestNoCavityEverLiesInAnother(t *testing.T) {
	rng := rand.New(rand.NewPCG(11, 2))
	for range 6 {
		s, err := Seen(odd(rng), up)
		require.NoError(t, err)
		for _, a := range []Ask{{Count: 5, Gap: 6, Edge: 10}, {Wide: 220, Deep: 170, Gap: 6, Edge: 10}, {Pot: 220, Gap: 6, Edge: 10}} {
			l, err := Lay(s, a)
			require.NoError(t, err)
			checked(t, s, a, l)
			const cell = 1.5
			n := int(math.Max(l.Wide, math.Max(l.Deep, a.Pot))/cell) + 2
			owner := make([]int, n*n)
			for i, p := range l.Poses {
				ring := s.Laid(p)
				for y := range n {
					for x := range n {
						at := [2]float64{(float64(x) - float64(n)/2) * cell, (float64(y) - float64(n)/2) * cell}
						if plane.Inside(ring, at) {
							assert.Zero(t, owner[y*n+x], "cavities %d and %d", i+1, owner[y*n+x])
							owner[y*n+x] = i + 1
						}
					}
				}
			}
		}
	}
}

func TestMoreRoomNeverHoldsFewer(t *testing.T) {
	s := block(t, 46, 22)
	before := 0
	for _, wide := range []float64{90, 120, 150, 190, 240} {
		l, err := Lay(s, Ask{Wide: wide, Deep: 140, Gap: 7, Edge: 10})
		require.NoError(t, err)
		assert.GreaterOrEqual(t, len(l.Poses), before, "a floor %g wide", wide)
		before = len(l.Poses)
	}
	tight, err := Lay(s, Ask{Wide: 240, Deep: 140, Gap: 20, Edge: 10})
	require.NoError(t, err)
	assert.Less(t, len(tight.Poses), before, "wider gaps cost cavities")
}

func TestEachNumberIsLaidInTheSmallestBox(t *testing.T) {
	s := block(t, 40, 40)
	all := Smallest(s, Ask{Gap: 8, Edge: 12}, 9)
	require.Len(t, all, 9)
	for n, want := range map[int]float64{1: 64 * 64, 2: 112 * 64, 4: 112 * 112, 6: 160 * 112, 9: 160 * 160} {
		assert.InDelta(t, want, all[n-1].room(), 2, "%d in rows", n)
	}
	// rubber in mL for parts of 25 mL, 30 mm tall on a floor of 10 mm: worked by hand
	for n, want := range map[int]float64{1: 138.84, 2: 236.72, 4: 401.76, 9: 799.00} {
		assert.InDelta(t, want, all[n-1].Rubber(40, 25_000)/1000, 0.1, "%d cavities", n)
	}
}

func TestTheSmallestCircle(t *testing.T) {
	rng := rand.New(rand.NewPCG(5, 6))
	for range 50 {
		points := make([][2]float64, 3+rng.IntN(30))
		for i := range points {
			points[i] = [2]float64{40 * rng.NormFloat64(), 20 * rng.NormFloat64()}
		}
		x, y, r := plane.Circle(points)
		on := 0
		for _, p := range points {
			d := math.Hypot(p[0]-x, p[1]-y)
			assert.LessOrEqual(t, d, r*(1+1e-9))
			if d > r*(1-1e-9) {
				on++
			}
		}
		assert.GreaterOrEqual(t, on, 2, "it is held by at least two of them")
		// no circle about a place nearby is smaller
		for range 40 {
			a, far := 2*math.Pi*rng.Float64(), 0.0
			for _, p := range points {
				far = math.Max(far, math.Hypot(p[0]-x-0.01*r*math.Cos(a), p[1]-y-0.01*r*math.Sin(a)))
			}
			assert.GreaterOrEqual(t, far, r*(1-1e-9))
		}
	}
}
