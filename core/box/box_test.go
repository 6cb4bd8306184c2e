package box

import (
	"math"
	"testing"

	"bathyform/core/mesh"
	"bathyform/core/plane"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

var slab = []plane.Point{{0, 0}, {60, 0}, {60, 20}, {0, 20}}

// reach is how near a point of the hull comes to the drawn wall.
func reach(hull, ring []plane.Point) float64 {
	least := math.Inf(1)
	for _, p := range hull {
		for i, a := range ring {
			b := ring[(i+1)%len(ring)]
			dx, dy := b[0]-a[0], b[1]-a[1]
			t := 0.0
			if l := dx*dx + dy*dy; l > 0 {
				t = max(0, min(1, ((p[0]-a[0])*dx+(p[1]-a[1])*dy)/l))
			}
			least = min(least, math.Hypot(p[0]-a[0]-t*dx, p[1]-a[1]-t*dy))
		}
	}
	return least
}

// Steiner's formula: a convex outline of area A and edge P, widened by d, has
// the area A + P d + π d² and the edge P + 2 π d.
func TestAContourWallKeepsToSteinersFormula(t *testing.T) {
	b, err := Of(Contour, Ask{Hull: slab, Beside: 12})
	require.NoError(t, err)
	assert.InEpsilon(t, 60*20+160*12+math.Pi*144, b.Area, 1e-12)
	assert.InEpsilon(t, 160+2*math.Pi*12, b.Wall, 1e-12)
	assert.InEpsilon(t, b.Area, plane.Area(b.Ring), 1e-3, "as drawn")
	total := 0.0
	for _, s := range b.Bends {
		total += s.Length
	}
	assert.InEpsilon(t, b.Wall, total, 1e-9, "the strip is as long as the wall")
}

func TestEveryFormLeavesTheClearance(t *testing.T) {
	tri := []plane.Point{{0, 0}, {70, 5}, {20, 40}}
	for _, hull := range [][]plane.Point{slab, tri} {
		rect, err := Of(Rectangle, Ask{Hull: hull, Beside: 10})
		require.NoError(t, err)
		for _, f := range []Form{Rectangle, Sleeve, Contour, Round} {
			b, err := Of(f, Ask{Hull: hull, Beside: 10})
			require.NoError(t, err)
			assert.InDelta(t, 10, reach(hull, b.Ring), 0.05, f)
			assert.InEpsilon(t, b.Area, math.Abs(plane.Area(b.Ring)), 2e-3, f)
			assert.LessOrEqual(t, b.Area, math.Pi/4*math.Pow(math.Hypot(rect.Wide, rect.Deep), 2), f)
		}
		contour, _ := Of(Contour, Ask{Hull: hull, Beside: 10})
		assert.Less(t, contour.Area, rect.Area, "corners waste rubber")
	}
}

func TestASleeveRoundASlab(t *testing.T) {
	b, err := Of(Sleeve, Ask{Hull: slab, Beside: 12})
	require.NoError(t, err)
	// the least oval: brute force over the half-round's radius
	least := math.Inf(1)
	for r := 10.0; r < 32; r += 0.001 {
		line := max(0, 60-2*math.Sqrt(r*r-100))
		least = min(least, (r+12)*(r+12)*math.Pi+2*(r+12)*line)
	}
	assert.InEpsilon(t, least, b.Area, 0.02)
	round, err := Of(Round, Ask{Hull: slab, Beside: 12})
	require.NoError(t, err)
	assert.InEpsilon(t, math.Pi*math.Pow(math.Hypot(30, 10)+12, 2), round.Area, 1e-9)
	assert.Less(t, b.Area, round.Area)
}

func TestTheShopsOwnBox(t *testing.T) {
	b, err := Of(Own, Ask{Hull: slab, Beside: 12, Wide: 46, Deep: 90})
	require.NoError(t, err)
	assert.Equal(t, 90.0, b.Wide, "turned to fit")
	assert.InDelta(t, 13, b.Nearest, 1e-9)
	_, err = Of(Own, Ask{Hull: slab, Beside: 12, Wide: 80, Deep: 60})
	require.ErrorIs(t, err, ErrTooSmall)
	assert.ErrorContains(t, err, "84 × 44 mm")
}

func TestWhatNoBoxGoesRound(t *testing.T) {
	for _, a := range []Ask{{Hull: slab}, {Hull: slab[:2], Beside: 5}, {Hull: slab, Beside: math.NaN()}} {
		_, err := Of(Rectangle, a)
		assert.Error(t, err)
	}
	_, err := Of("star", Ask{Hull: slab, Beside: 5})
	assert.ErrorContains(t, err, "star")
	_, err = Of(Own, Ask{Hull: slab, Beside: 5})
	assert.Error(t, err)
}

func TestAPrintedBoxHoldsItsVolume(t *testing.T) {
	for _, f := range []Form{Rectangle, Sleeve, Contour, Round} {
		b, err := Of(f, Ask{Hull: slab, Beside: 12})
		require.NoError(t, err)
		m, err := b.Printed(50, 2.4)
		require.NoError(t, err)
		_, r, err := mesh.Load(m.WriteSTL(), 1)
		require.NoError(t, err)
		assert.Zero(t, r.Edges.Open, f)
		assert.Equal(t, 1, r.Bodies, f)
		outer := plane.Area(mitred(distinct(b.Ring), 2.4))
		assert.InEpsilon(t, outer*52.4-plane.Area(b.Ring)*50, m.Volume(), 1e-5, "all but what is inside")
	}
	b, _ := Of(Rectangle, Ask{Hull: slab, Beside: 12})
	m, err := b.Printed(50, 2.4)
	require.NoError(t, err)
	assert.InEpsilon(t, (84+4.8)*(44+4.8)*52.4-84*44*50, m.Volume(), 1e-9)
	_, err = b.Printed(0, 2)
	assert.Error(t, err)
}
