package gang

import (
	"testing"

	"bathyform/core/mesh/meshtest"
	"bathyform/core/plane"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"gonum.org/v1/gonum/spatial/r3"
)

func slab(t *testing.T) Shape {
	t.Helper()
	s, err := Seen(meshtest.Box(r3.Vec{X: 10, Y: 20}, r3.Vec{X: 50, Y: 40, Z: 10}), r3.Vec{Z: 1})
	require.NoError(t, err)
	return s
}

func TestCavitiesMovedByHandAreHeldApart(t *testing.T) {
	s := slab(t)
	assert.Equal(t, plane.Point{30, 30}, s.At)
	l, err := Place(s, []Pose{{}, {Y: 28}}, 8, 12)
	require.NoError(t, err)
	assert.InDelta(t, 40+24, l.Wide, 1e-6)
	assert.InDelta(t, 48+24, l.Deep, 1e-6)

	var over OverlapError
	_, err = Place(s, []Pose{{}, {Y: 25}}, 8, 12)
	require.ErrorAs(t, err, &over)
	assert.InDelta(t, 5, over.Apart, 1e-6)
	assert.ErrorContains(t, err, "cavities 1 and 2 stand only 5.0 mm apart")
	_, err = Place(s, []Pose{{}, {Y: 60}, {Y: 62, Turn: 90}}, 8, 12)
	assert.ErrorContains(t, err, "cavities 2 and 3 lie over one another")
	_, err = Place(s, nil, 8, 12)
	assert.Error(t, err)
	_, err = Place(s, []Pose{{X: 1e9}}, 8, 12)
	assert.Error(t, err)
	_, err = Place(s, []Pose{{}}, -1, 12)
	assert.Error(t, err)
}

func TestARowKeepsEveryWayUp(t *testing.T) {
	s := slab(t)
	l, err := Upright(s, 3, 1, 8, 0, 12, true)
	require.NoError(t, err)
	assert.InDelta(t, 3*20+2*8+24, l.Deep, 1e-3)
	assert.InDelta(t, 40+24, l.Wide, 1e-3)
	for _, p := range l.Poses {
		assert.Zero(t, p.Turn)
	}
	l, err = Upright(s, 2, 1, 8, 0, 12, false)
	require.NoError(t, err)
	assert.InDelta(t, 2*40+8+24, l.Wide, 1e-3)
	_, err = Upright(s, 0, 1, 8, 0, 12, false)
	assert.Error(t, err)
	hull := s.Hull(l.Poses)
	block, err := Upright(s, 5, 3, 8, 0, 12, false)
	require.NoError(t, err)
	assert.InDelta(t, 2*40+8+24, block.Wide, 1e-3, "two, two and one")
	assert.InDelta(t, 3*20+2*8+24, block.Deep, 1e-3)
	assert.Equal(t, 0.0, block.Poses[4].X, "the odd one stands in the middle")
	_, err = Place(s, block.Poses, 8, 12)
	require.NoError(t, err)
	_, err = Upright(s, 2, 3, 8, 0, 12, false)
	require.Error(t, err)
	assert.InDelta(t, 88*20, plane.Area(hull), 0.1)
}

// What the search lays, the hand may leave as it is: both measure alike.
func TestWhatIsLaidCanBeTakenByHand(t *testing.T) {
	s := slab(t)
	for _, n := range []int{1, 2, 5} {
		l, err := Lay(s, Ask{Count: n, Gap: 8, Edge: 12})
		require.NoError(t, err)
		again, err := Place(s, l.Poses, 8, 12)
		require.NoError(t, err, "%d cavities", n)
		assert.InDelta(t, l.Wide, again.Wide, 1e-6)
		assert.InDelta(t, l.Deep, again.Deep, 1e-6)
		_, err = Place(s, l.Poses, 9, 12)
		if n > 1 {
			assert.Error(t, err, "they were laid as near as they may lie")
		}
	}
}
