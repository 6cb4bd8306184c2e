package box_test

import (
	"math"
	"testing"

	"bathyform/core/box"
	"bathyform/core/mesh"
	"bathyform/core/plane"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

func followed(t *testing.T, beside float64, rings ...[]plane.Point) box.Box {
	t.Helper()
	var all []plane.Point
	for _, r := range rings {
		all = append(all, r...)
	}
	b, err := box.Of(box.Follow, box.Ask{Hull: plane.Hull(all), Rings: rings, Beside: beside})
	require.NoError(t, err)
	return b
}

// a U of 60 by 50 whose arms are 15 wide: the hollow is 30 wide and 35 deep.
var u = []plane.Point{{0, 0}, {60, 0}, {60, 50}, {45, 50}, {45, 15}, {15, 15}, {15, 50}, {0, 50}}

// Round a convex outline the wall is that of Steiner's formula; into a hollow
// it goes as far as its bend allows, and is never nearer than was asked.
func TestAWallFollowsTheHollows(t *testing.T) {
	square := []plane.Point{{0, 0}, {40, 0}, {40, 40}, {0, 40}}
	b := followed(t, 10, square)
	assert.InEpsilon(t, 1600+160*10+math.Pi*100, b.Area, 1e-3, "A + P d + π d²")
	assert.InEpsilon(t, 160+2*math.Pi*10, b.Wall, 1e-3)
	assert.InDelta(t, 10, b.Nearest, 0.05)

	f, contour := followed(t, 8, u), box.Box{}
	contour, err := box.Of(box.Contour, box.Ask{Hull: plane.Hull(u), Beside: 8})
	require.NoError(t, err)
	assert.InDelta(t, 8, f.Nearest, 0.06)
	// what it spares: the hollow between walls 8 mm in, 14 wide, from its own
	// floor up to the hull's wall, less round corners of 7 mm at its floor
	corners := 2*7*7 - math.Pi*7*7/2
	assert.InDelta(t, contour.Area-(14*35-corners), f.Area, 0.02*contour.Area)
	assert.Less(t, f.Area, contour.Area-300)
	assert.Greater(t, f.Wall, contour.Wall, "more wall for less rubber")
	sum := 0.0
	for _, s := range f.Bends {
		sum += s.Length
	}
	assert.InEpsilon(t, f.Wall, sum, 1e-9, "its stretches make up the wall")
}

// A hollow too narrow to bend a strip into is bridged, hole or not.
func TestNarrowHollowsAreBridged(t *testing.T) {
	b := followed(t, 10, u) // between walls 10 mm in, 10 are left: narrower than two bends of 6
	contour, err := box.Of(box.Contour, box.Ask{Hull: plane.Hull(u), Beside: 10})
	require.NoError(t, err)
	assert.Greater(t, b.Area, contour.Area-14*35/2.0)
	for i, p := range b.Ring { // and no bend is sharper than a strip takes
		q, r := b.Ring[(i+1)%len(b.Ring)], b.Ring[(i+2)%len(b.Ring)]
		turn := math.Remainder(math.Atan2(r[1]-q[1], r[0]-q[0])-math.Atan2(q[1]-p[1], q[0]-p[0]), 2*math.Pi)
		assert.Greater(t, turn, -0.35, "no corner inwards at %v", q)
	}
}

// Two cavities are one box where their walls meet, and none where they do not.
func TestCavitiesAreFollowedTogether(t *testing.T) {
	moved := func(dx float64) []plane.Point {
		var out []plane.Point
		for _, p := range u {
			out = append(out, plane.Point{p[0] + dx, p[1]})
		}
		return out
	}
	one := followed(t, 10, u)
	two := followed(t, 10, u, moved(70))
	assert.Less(t, two.Area, 2*one.Area)
	assert.Greater(t, two.Area, 1.5*one.Area)
	rings := [][]plane.Point{u, moved(200)}
	_, err := box.Of(box.Follow, box.Ask{Hull: plane.Hull(append(rings[0], rings[1]...)), Rings: rings, Beside: 10})
	require.ErrorIs(t, err, box.ErrApart)
	_, err = box.Of(box.Follow, box.Ask{Hull: plane.Hull(u), Beside: 10})
	assert.ErrorContains(t, err, "not known")
}

// However the part is turned, the wall is as long and holds as much; and the
// box can be printed.
func TestFollowingDoesNotDependOnTheAxes(t *testing.T) {
	straight := followed(t, 8, u)
	for _, turn := range []float64{0.4, 1.1, 2.9} {
		sin, cos := math.Sincos(turn)
		var ring []plane.Point
		for _, p := range u {
			ring = append(ring, plane.Point{cos*p[0] - sin*p[1] + 31, sin*p[0] + cos*p[1] - 12})
		}
		turned := followed(t, 8, ring)
		assert.InEpsilon(t, straight.Area, turned.Area, 2e-3)
		assert.InEpsilon(t, straight.Wall, turned.Wall, 2e-3)
	}
	m, err := straight.Printed(40, 3)
	require.NoError(t, err)
	_, r, err := mesh.Load(m.WriteSTL(), 1)
	require.NoError(t, err)
	assert.Zero(t, r.Edges.Open)
	assert.True(t, r.Sound)
	assert.InEpsilon(t, straight.Area*3+straight.Wall*3*43, r.Volume, 0.03, "a floor, and a wall round it")
}
