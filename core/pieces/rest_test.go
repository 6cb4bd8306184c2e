package pieces

import (
	"math"
	"testing"

	"bathyform/core/mesh"
	"bathyform/core/mesh/meshtest"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"gonum.org/v1/gonum/spatial/r3"
)

func TestTheLevelIsWhereMostOfTheOutlineAllowsIt(t *testing.T) {
	for name, c := range map[string]struct {
		rims []rim
		want float64
	}{
		"upright walls: their middle":         {[]rim{{0, 0, 20, false}, {1, 0, 20, false}, {2, 0, 20, false}}, 10},
		"a step: the height both walls share": {[]rim{{0, 0, 20, false}, {1, 12, 30, false}, {2, 0, 20, false}}, 16},
		"a round edge: its widest":            {[]rim{{0, 4.9, 5.1, false}, {1, 4.9, 5.1, false}, {2, 4.9, 5.1, false}}, 5},
		"most edges win over a single one":    {[]rim{{0, 3, 3, false}, {1, 3, 3, false}, {2, 3, 3, false}, {3, 18, 18, false}}, 3},
	} {
		z, near := nearestLevel(c.rims, 99, 0)
		assert.InDelta(t, c.want, z, 0.01, name)
		assert.False(t, near, "99 is none of them")
	}
	walls := []rim{{0, 2, 8, false}, {1, 2, 8, false}}
	z, near := nearestLevel(walls, 3, 0.1)
	assert.True(t, near, "where the walls allow what is preferred")
	assert.InDelta(t, 3, z, 1e-9)
	z, _ = nearestLevel(walls, 9, 0.1)
	assert.InDelta(t, 5, z, 0.01, "else the middle")
}

func rest(t *testing.T, m *mesh.Mesh, draw r3.Vec, seam Seam) Rest {
	t.Helper()
	p, err := Look(m, draw)
	require.NoError(t, err)
	return p.Rest(seam, p.Low-12, p.High+20, 50*40)
}

func TestABallIsPartedAtItsEquator(t *testing.T) {
	m := meshtest.Moved(meshtest.Sphere(20, 96), r3.NewRotation(0, r3.Vec{X: 1}), r3.Vec{X: 7, Y: 8, Z: 9})
	for _, dir := range []r3.Vec{{X: 1}, {Y: -1}, {Z: 1}, {X: 0.6, Y: 0.8}} {
		got := rest(t, m, dir, Flattest)
		assert.InDelta(t, r3.Dot(dir, r3.Vec{X: 7, Y: 8, Z: 9}), got.Height, 0.4, "draw %v", dir)
		assert.Contains(t, got.Why, "greatest here")
	}
}

func TestAnEvenSectionIsPartedWhereTheRubberIsHalved(t *testing.T) {
	got := rest(t, meshtest.Box(r3.Vec{}, r3.Vec{X: 30, Y: 20, Z: 40}), r3.Vec{Z: 1}, Flattest)
	assert.Contains(t, got.Why, "shared evenly")
	// the box reaches from -12 to 60, so by hand
	boxed := 50.0 * 40
	assert.InDelta(t, (boxed*(60-12)-600*40)/(2*(boxed-600)), got.Height, 0.01)
	up := rest(t, meshtest.Box(r3.Vec{}, r3.Vec{X: 30, Y: 20, Z: 40}), r3.Vec{Z: 1}, TopEdge)
	assert.InDelta(t, 40, up.Height, 1e-6)
	assert.InDelta(t, 0, rest(t, meshtest.Box(r3.Vec{}, r3.Vec{X: 30, Y: 20, Z: 40}), r3.Vec{Z: 1}, LowEdge).Height, 1e-6)
}

func TestSectionsOfABall(t *testing.T) {
	m := meshtest.Sphere(20, 200)
	areas, above := sections(m.Vertices, m.Triangles, -20, 20)
	for i := range areas {
		z := -20 + 40*(float64(i)+0.5)/levels
		assert.InDelta(t, math.Pi*(400-z*z), areas[i], 0.01*math.Pi*400)
		assert.InDelta(t, m.VolumeAbove(r3.Vec{Z: 1}, z), above[i], 1e-6)
	}
}

// What a mould is divided at is what was looked up beforehand, however fine
// the lattice.
func TestADivisionKeepsToTheRestOfItsPart(t *testing.T) {
	m := demo(t, "deck-cleat")
	for _, dir := range []r3.Vec{{Y: 1}, {Z: 1}} {
		c := usual
		c.Draw, c.HalvesOnly = dir, true
		seen, err := Look(m, dir)
		require.NoError(t, err)
		for _, cells := range []int{60, 90} {
			c.Cells = cells
			p := made(t, m, c)
			want := seen.Rest(Flattest, p.Box.Min.Z, p.Box.Max.Z, p.Volume/(p.Box.Max.Z-p.Box.Min.Z))
			assert.InDelta(t, want.Height, p.Level, 1e-9)
		}
	}
}

func TestABlockThatIsNeverParted(t *testing.T) {
	// a tablet with a flat back on the floor of its box
	m := meshtest.Cylinder(20, 8, 120)
	c := usual
	c.Whole, c.Cells = true, 80
	b := m.Bounds()
	c.Room = &Room{
		Box: r3.Box{
			Min: r3.Vec{X: b.Min.X - 10, Y: b.Min.Y - 10, Z: b.Min.Z},
			Max: r3.Vec{X: b.Max.X + 10, Y: b.Max.Y + 10, Z: b.Max.Z + 12},
		},
	}
	size := r3.Sub(c.Room.Box.Max, c.Room.Box.Min)
	c.Room.Volume = size.X * size.Y * size.Z
	p := made(t, m, c)
	require.Len(t, p.Pieces, 1)
	assert.Equal(t, "Block", p.Pieces[0].Name)
	assert.InEpsilon(t, p.Volume-m.Volume(), p.Pieces[0].Volume, 2e-3)
	assert.Zero(t, p.Pieces[0].Catches)
	assert.Zero(t, p.Line, "no seam")
}
