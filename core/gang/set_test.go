package gang

import (
	"math"
	"testing"

	"bathyform/core/mesh"
	"bathyform/core/mesh/meshtest"
	"bathyform/core/plane"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"gonum.org/v1/gonum/spatial/r3"
)

var (
	standing = r3.Vec{Z: 1}
	upright  = r3.Vec{Y: 1}
	letterU  = [][2]float64{{0, 0}, {40, 0}, {40, 40}, {32, 40}, {32, 8}, {8, 8}, {8, 40}, {0, 40}}
)

func seen(t *testing.T, m *mesh.Mesh, up r3.Vec) Shape {
	t.Helper()
	s, err := Seen(m, up)
	require.NoError(t, err)
	return s
}

// farFrom is the least distance between two outlines, asked point by point
// along their sides: another way than the search's.
func farFrom(a, b []plane.Point) float64 {
	least := math.Inf(1)
	along := func(r []plane.Point, f func(p plane.Point)) {
		for i, p := range r {
			q := r[(i+1)%len(r)]
			for k := range 40 {
				s := float64(k) / 40
				f(plane.Point{p[0] + s*(q[0]-p[0]), p[1] + s*(q[1]-p[1])})
			}
		}
	}
	along(a, func(p plane.Point) {
		along(b, func(q plane.Point) { least = min(least, math.Hypot(p[0]-q[0], p[1]-q[1])) })
	})
	return least
}

// 40 by 20 in 200 by 150: twelve lie one way round, sixteen lie both ways.
func TestRectanglesLieBothWaysRound(t *testing.T) {
	s := seen(t, meshtest.Box(r3.Vec{}, r3.Vec{X: 40, Y: 20, Z: 10}), standing)
	l, err := Lay(s, Ask{Wide: 200, Deep: 150, Gap: 8, Edge: 12})
	require.NoError(t, err)
	assert.Len(t, l.Poses, 16)
	assert.LessOrEqual(t, l.Wide, 200+1e-6)
	assert.LessOrEqual(t, l.Deep, 150+1e-6)
	for i := range l.Poses {
		for j := range i {
			assert.GreaterOrEqual(t, farFrom(s.Laid(l.Poses[i]), s.Laid(l.Poses[j])), 8-1e-6)
		}
	}
}

// A ring is laid as the disc that it fills: its hole takes no cavity.
func TestRingsAreDiscs(t *testing.T) {
	ring := seen(t, meshtest.Turned(96, [2]float64{15, 0}, [2]float64{22.5, 0}, [2]float64{22.5, 8}, [2]float64{15, 8}), standing)
	disc := seen(t, meshtest.Cylinder(22.5, 8, 96), standing)
	assert.True(t, ring.Round)
	for _, a := range []Ask{{Pot: 300, Gap: 8, Edge: 12}, {Wide: 300, Deep: 200, Gap: 8, Edge: 12}} {
		got, err := Lay(ring, a)
		require.NoError(t, err)
		want, err := Lay(disc, a)
		require.NoError(t, err)
		assert.Len(t, got.Poses, len(want.Poses))
	}
}

// All of a part keeps its distance, not only its largest shadow.
func TestEveryShadowCounts(t *testing.T) {
	two := meshtest.Box(r3.Vec{}, r3.Vec{X: 10, Y: 40, Z: 10})
	two.Append(meshtest.Box(r3.Vec{X: 30}, r3.Vec{X: 40, Y: 20, Z: 10}))
	s := seen(t, two, standing)
	bodies := [][]plane.Point{{{0, 0}, {10, 0}, {10, 40}, {0, 40}}, {{30, 0}, {40, 0}, {40, 20}, {30, 20}}}
	for i, b := range bodies {
		for k := range b {
			bodies[i][k] = plane.Point{b[k][0] - s.At[0], b[k][1] - s.At[1]}
		}
	}
	for _, a := range []Ask{{Wide: 200, Deep: 150, Gap: 8, Edge: 12}, {Pot: 240, Gap: 8, Edge: 12}} {
		l, err := Lay(s, a)
		require.NoError(t, err)
		require.Greater(t, len(l.Poses), 4)
		for i := range l.Poses {
			for j := range i {
				for _, p := range bodies {
					for _, q := range bodies {
						assert.GreaterOrEqual(t, farFrom(laid(p, l.Poses[i]), laid(q, l.Poses[j])), 8-1e-3)
					}
				}
			}
		}
	}
	// a wire thinner than a cell joins nothing away
	wired := meshtest.Box(r3.Vec{}, r3.Vec{X: 20, Y: 20, Z: 10})
	wired.Append(meshtest.Box(r3.Vec{X: 20, Y: 9.97}, r3.Vec{X: 70, Y: 10.03, Z: 1}))
	assert.InEpsilon(t, 70, seen(t, wired, standing).Radius*2, 0.06)
}

// Arms of one U go between those of another: more than by their rectangles.
func TestHollowOutlinesNest(t *testing.T) {
	s := seen(t, meshtest.Extruded(letterU, 10), upright)
	assert.Zero(t, s.Slack, "its walls are upright: exact")
	assert.InDelta(t, 40*40-24*32, s.Area, 1e-6)
	l, err := Lay(s, Ask{Wide: 250, Deep: 200, Gap: 8, Edge: 12})
	require.NoError(t, err)
	assert.Greater(t, len(l.Poses), 12, "by the rectangle 4 by 3")
	for i := range l.Poses {
		for j := range i {
			assert.GreaterOrEqual(t, farFrom(s.Laid(l.Poses[i]), s.Laid(l.Poses[j])), 8-1e-3)
		}
	}
}

// Parts of a set are laid in their ratio, apart from one another and the wall.
func TestASetIsLaidTogether(t *testing.T) {
	shapes := []Shape{
		seen(t, meshtest.Extruded(letterU, 10), upright),
		seen(t, meshtest.Box(r3.Vec{}, r3.Vec{X: 40, Y: 20, Z: 10}), standing),
		seen(t, meshtest.Cylinder(12, 8, 96), standing),
	}
	ratio := []int{2, 1, 1}
	for _, a := range []Ask{{Wide: 220, Deep: 170, Gap: 8, Edge: 12}, {Pot: 230, Gap: 8, Edge: 12}, {Count: 3, Gap: 6, Edge: 10}} {
		l, err := LaySet(shapes, ratio, a)
		require.NoError(t, err)
		require.Positive(t, l.Sets)
		var count [3]int
		for i, p := range l.Poses {
			count[p.Shape]++
			ring := shapes[p.Shape].Laid(p.Pose)
			for _, q := range ring {
				if a.Pot > 0 {
					assert.LessOrEqual(t, math.Hypot(q[0], q[1]), a.Pot/2-a.Edge+1e-6)
				}
			}
			for _, o := range l.Poses[:i] {
				assert.GreaterOrEqual(t, farFrom(ring, shapes[o.Shape].Laid(o.Pose)), a.Gap-1e-3)
			}
		}
		assert.Equal(t, [3]int{2 * l.Sets, l.Sets, l.Sets}, count)
		if a.Wide > 0 {
			assert.LessOrEqual(t, l.Wide, a.Wide+1e-6)
			assert.LessOrEqual(t, l.Deep, a.Deep+1e-6)
		}
	}
	_, err := LaySet(shapes, []int{1, 1}, Ask{Count: 1})
	assert.ErrorContains(t, err, "a number for each of the 3 parts")
	_, err = LaySet(shapes, ratio, Ask{Wide: 30, Deep: 30, Gap: 8, Edge: 12})
	assert.ErrorIs(t, err, ErrNoRoom)
	few, err := LaySet(shapes, ratio, Ask{Count: 40, Wide: 160, Deep: 130, Gap: 8, Edge: 12})
	assert.ErrorIs(t, err, ErrFewer)
	assert.Positive(t, few.Sets)
}
