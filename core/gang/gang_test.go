package gang

import (
	"math"
	"testing"

	"bathyform/core/mesh/meshtest"
	"bathyform/demo/parts"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"gonum.org/v1/gonum/spatial/r3"
)

var up = r3.Vec{Z: 1}

func disc(t testing.TB, d float64) Shape {
	t.Helper()
	s, err := Seen(meshtest.Cylinder(d/2, 10, 180), up)
	require.NoError(t, err)
	require.True(t, s.Round)
	require.InDelta(t, d/2, s.Radius, 1e-3)
	return s
}

func block(t testing.TB, a, b float64) Shape {
	t.Helper()
	s, err := Seen(meshtest.Box(r3.Vec{}, r3.Vec{X: a, Y: b, Z: 10}), up)
	require.NoError(t, err)
	require.False(t, s.Round)
	return s
}

// checked holds a layout against its own promise, corner by corner.
func checked(t *testing.T, s Shape, a Ask, l Layout) {
	t.Helper()
	for i, p := range l.Poses {
		one := s.Laid(p)
		for j := range i {
			between := math.Hypot(p.X-l.Poses[j].X, p.Y-l.Poses[j].Y) - 2*s.Radius
			if !s.Round {
				between = apart(one, s.Laid(l.Poses[j]), math.Inf(1))
			}
			assert.GreaterOrEqual(t, between, a.Gap-1e-3, "cavities %d and %d", i, j)
		}
		for _, q := range one {
			if a.Pot > 0 {
				assert.LessOrEqual(t, math.Hypot(q[0], q[1]), a.Pot/2-a.Edge+1e-3, "cavity %d and the wall", i)
			} else {
				assert.LessOrEqual(t, math.Abs(q[0]), l.Wide/2-a.Edge+1e-3)
				assert.LessOrEqual(t, math.Abs(q[1]), l.Deep/2-a.Edge+1e-3)
			}
		}
	}
}

// Ratios of the circle to the discs in it: Graham, Lubachevsky, Nurmela and
// Östergård 1998 and published tables of circles in a circle.
var bestKnown = []float64{
	0,
	1,
	2,
	2.15470,
	2.41421,
	2.70130,
	3,
	3,
	3.30476,
	3.61313,
	3.81303,
	3.92380,
	4.02960,
	4.23607,
	4.32843,
	4.52136,
	4.61543,
	4.79203,
	4.86370,
	4.86370,
}

func TestDiscsInAPotComeNearTheBestKnown(t *testing.T) {
	s := disc(t, 40)
	for n := 1; n < len(bestKnown); n++ {
		a := Ask{Count: n, Pot: 2*20*bestKnown[n]*1.05 + 20, Edge: 10}
		l, err := Lay(s, a)
		if assert.NoError(t, err, "%d discs within 5 %% of the best known", n) {
			assert.Len(t, l.Poses, n)
			checked(t, s, a, l)
			assert.LessOrEqual(t, (l.Diameter-20)/40, bestKnown[n]*1.05)
		}
	}
}

// Worked examples: the ratio of the pot to a disc, both grown by the gap.
func TestHowManyDiscsAPotHolds(t *testing.T) {
	for _, c := range []struct {
		pot, gap, d float64
		want        int
	}{{240, 8, 45, 13}, {240, 0, 110, 2}, {240, 0, 220, 1}, {300, 6, 54, 16}} {
		a := Ask{Pot: c.pot, Edge: 10, Gap: c.gap}
		l, err := Lay(disc(t, c.d), a)
		require.NoError(t, err)
		assert.Len(t, l.Poses, c.want, "discs of %g in a pot of %g", c.d, c.pot)
		checked(t, disc(t, c.d), a, l)
	}
	_, err := Lay(disc(t, 221), Ask{Pot: 240, Edge: 10})
	assert.ErrorIs(t, err, ErrNoRoom)
}

func TestHowManyAFloorHolds(t *testing.T) {
	for _, c := range []struct {
		w, d float64
		want int // by hexagons or square rows, whichever holds more
	}{{200, 150, 18}, {300, 300, 68}, {400, 400, 126}} {
		a := Ask{Wide: c.w, Deep: c.d, Edge: 10, Gap: 5}
		l, err := Lay(disc(t, 30), a)
		require.NoError(t, err)
		assert.GreaterOrEqual(t, len(l.Poses), c.want, "%g x %g", c.w, c.d)
		checked(t, disc(t, 30), a, l)
	}
	// rectangles: floor((W - 2e + w)/(a + w)) by the same across
	a := Ask{Wide: 220, Deep: 160, Edge: 12, Gap: 8}
	l, err := Lay(block(t, 40, 30), a)
	require.NoError(t, err)
	assert.GreaterOrEqual(t, len(l.Poses), 4*3)
	checked(t, block(t, 40, 30), a, l)
}

func TestTheSmallestBox(t *testing.T) {
	a := Ask{Count: 4, Edge: 12, Gap: 8}
	l, err := Lay(block(t, 40, 40), a)
	require.NoError(t, err)
	assert.Len(t, l.Poses, 4)
	assert.InDelta(t, 112*112, l.Wide*l.Deep, 1, "two by two of 40 mm with 8 between and 12 round them")
	checked(t, block(t, 40, 40), a, l)
}

func TestPartsNestByTheirTrueOutline(t *testing.T) {
	corner := meshtest.Box(r3.Vec{}, r3.Vec{X: 60, Y: 14, Z: 10})
	leg := meshtest.Box(r3.Vec{}, r3.Vec{X: 14, Y: 60, Z: 10})
	for _, tri := range leg.Triangles {
		corner.Triangles = append(corner.Triangles, [3]int32{tri[0] + 8, tri[1] + 8, tri[2] + 8})
	}
	corner.Vertices = append(corner.Vertices, leg.Vertices...)
	s, err := Seen(corner, up)
	require.NoError(t, err)
	assert.InEpsilon(t, 60*14+46*14, s.Area, 0.03)
	a := Ask{Count: 2, Edge: 10, Gap: 6}
	l, err := Lay(s, a)
	require.NoError(t, err)
	checked(t, s, a, l)
	assert.Less(t, l.Wide*l.Deep, 0.85*(60*2+6+20)*(60+20), "two angles take less room than their rectangles")
}

func TestSixCleatsLieApart(t *testing.T) {
	p, ok := parts.ByKey("deck-cleat")
	require.True(t, ok)
	s, err := Seen(p.Mesh(), r3.Vec{Z: 1})
	require.NoError(t, err)
	a := Ask{Count: 6, Edge: 12, Gap: 8}
	l, err := Lay(s, a)
	require.NoError(t, err)
	require.Len(t, l.Poses, 6)
	checked(t, s, a, l)

	most, err := Lay(s, Ask{Pot: 240, Edge: 12, Gap: 8})
	require.NoError(t, err)
	assert.GreaterOrEqual(t, len(most.Poses), 6)
	checked(t, s, Ask{Pot: 240, Edge: 12, Gap: 8}, most)
}

func TestTurningThePartOnItsFloorChangesNoDiscs(t *testing.T) {
	m := meshtest.Moved(meshtest.Cylinder(15, 10, 90), r3.NewRotation(0.4, up), r3.Vec{X: 500, Y: -90})
	s, err := Seen(m, up)
	require.NoError(t, err)
	a := Ask{Pot: 200, Edge: 10, Gap: 5}
	l, err := Lay(s, a)
	require.NoError(t, err)
	want, err := Lay(disc(t, 30), a)
	require.NoError(t, err)
	assert.Len(t, l.Poses, len(want.Poses))
}

func TestWhatCannotBeLaidSaysWhy(t *testing.T) {
	s := block(t, 40, 30)
	for says, a := range map[string]Ask{
		"say how many":       {},
		"from 1 to 400":      {Count: 4000},
		"not negative":       {Count: 2, Gap: -1},
		"width and a depth":  {Wide: 200},
		"not one cavity":     {Wide: 30, Deep: 30},
		"12 instead of 200":  {Count: 200, Wide: 220, Deep: 110, Gap: 4, Edge: 8},
		"a number of millim": {Count: 2, Edge: math.NaN()},
	} {
		_, err := Lay(s, a)
		assert.ErrorContains(t, err, says)
	}
	_, err := Seen(meshtest.Box(r3.Vec{}, r3.Vec{X: 10, Y: 10, Z: 10}), r3.Vec{})
	assert.Error(t, err)
}

// Edges that take all the room there is, or a gap wider than it, leave none;
// what no shop has is refused.
func TestRoomsThatAreNone(t *testing.T) {
	p, _ := parts.ByKey("deck-cleat")
	s, err := Seen(p.Mesh(), r3.Vec{Y: 1})
	require.NoError(t, err)
	for _, a := range []Ask{{Wide: 200, Deep: 100, Edge: 9000}, {Wide: 200, Deep: 100, Edge: 50}, {Pot: 5e-324},
		{Pot: 100, Edge: 60}, {Wide: 0.1, Deep: 0.1, Gap: 9000}} {
		_, err := Lay(s, a)
		assert.ErrorIs(t, err, ErrNoRoom, "%+v", a)
	}
	one, err := Lay(s, Ask{Wide: 200, Deep: 100, Gap: 9000})
	require.NoError(t, err)
	assert.Len(t, one.Poses, 1, "one has no gap")
	for _, a := range []Ask{{Wide: 1e308, Deep: 1e308}, {Pot: 1e308}, {Count: 2, Gap: 1e308}, {Count: 2, Edge: 1e308}} {
		_, err := Lay(s, a)
		assert.ErrorContains(t, err, "at most", "%+v", a)
	}
}

func BenchmarkCleatsInAPot(b *testing.B) {
	p, _ := parts.ByKey("deck-cleat")
	for b.Loop() {
		s, err := Seen(p.Mesh(), r3.Vec{Z: 1})
		require.NoError(b, err)
		_, err = Lay(s, Ask{Pot: 240, Edge: 12, Gap: 8})
		require.NoError(b, err)
	}
}

func BenchmarkDiscsInAPot(b *testing.B) {
	s := disc(b, 30)
	for b.Loop() {
		_, err := Lay(s, Ask{Pot: 300, Edge: 10, Gap: 5})
		require.NoError(b, err)
	}
}
