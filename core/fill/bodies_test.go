package fill

import (
	"math"
	"testing"

	"bathyform/core/grid"
	"bathyform/core/mesh"
	"bathyform/core/mesh/meshtest"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"gonum.org/v1/gonum/spatial/r3"
)

func box(x0, y0, z0, x1, y1, z1 float64) *mesh.Mesh {
	return meshtest.Box(r3.Vec{X: x0, Y: y0, Z: z0}, r3.Vec{X: x1, Y: y1, Z: z1})
}

func both(t *testing.T, parts ...*mesh.Mesh) (*mesh.Mesh, mesh.Report) {
	t.Helper()
	m := &mesh.Mesh{}
	for _, p := range parts {
		m.Append(p)
	}
	m, r, err := mesh.Load(m.WriteSTL(), 1)
	require.NoError(t, err)
	return m, r
}

// Programs that build solids often export bodies that run into one another
// or lie against one another, without joining them.
func TestBodiesThatOverlapOrTouchAreOneSpace(t *testing.T) {
	cases := map[string]struct {
		parts []*mesh.Mesh
		whole float64 // volume of the union
	}{
		"overlapping":           {[]*mesh.Mesh{box(0, 0, 0, 40, 20, 10), box(5, 5, 5, 15, 15, 30)}, 40*20*10 + 10*10*20},
		"standing on":           {[]*mesh.Mesh{box(0, 0, 0, 40, 20, 10), box(5, 5, 10, 15, 15, 30)}, 40*20*10 + 10*10*20},
		"stacked, same outline": {[]*mesh.Mesh{box(0, 0, 0, 40, 20, 10), box(0, 0, 10, 40, 20, 30)}, 40 * 20 * 30},
	}
	for name, c := range cases {
		t.Run(name, func(t *testing.T) {
			m, r := both(t, c.parts...)
			s, err := Prepare(m, zUp, Options{Sound: r.Sound, Cell: 0.5})
			require.NoError(t, err)
			found, err := s.Trap(nil)
			require.NoError(t, err)
			require.Len(t, found.Pockets, 1, "one space, fed once")
			assert.InEpsilon(t, c.whole, found.Volume, 0.06)
			top := m.Bounds().Max.Z
			found, err = s.Trap([]Opening{{r3.Vec{X: 10, Y: 10, Z: top}, 2}})
			require.NoError(t, err)
			if name == "stacked, same outline" {
				assert.Empty(t, found.Pockets)
				return
			}
			// the lower body's ceiling beside the tower is level with the tower's foot: it drains
			assert.Less(t, found.Volume, 0.06*c.whole)
		})
	}
}

func TestSeparateCavitiesAreFedApart(t *testing.T) {
	m, r := both(t, box(0, 0, 0, 10, 10, 10), box(30, 0, 5, 40, 10, 25))
	require.True(t, r.Sound)
	s, err := Prepare(m, zUp, Options{Sound: true})
	require.NoError(t, err)
	found, err := s.Trap([]Opening{{r3.Vec{X: 35, Y: 5, Z: 25}, 2}})
	require.NoError(t, err)
	require.Len(t, found.Pockets, 1)
	assert.InEpsilon(t, 1000, found.Volume, 1e-9)
	assert.InDelta(t, 0, found.Pockets[0].SealHeight, 1e-9)
}

// Rubber round a rod that goes through a bowl's wall must not creep along the
// rod through the wall.
func TestRubberDoesNotCreepThroughAWallAlongARod(t *testing.T) {
	cup := meshtest.Turned(
		64,
		[2]float64{0, 26},
		[2]float64{16, 26},
		[2]float64{16, 0},
		[2]float64{20, 0},
		[2]float64{20, 30},
		[2]float64{0, 30},
	)
	rod := meshtest.Moved(meshtest.Cylinder(2, 30, 24), r3.NewRotation(math.Pi/2, r3.Vec{Y: 1}), r3.Vec{X: 5, Z: 12})
	m, r := both(t, cup, rod)
	s, err := Prepare(m, zUp, Options{Sound: r.Sound, Around: true, Headroom: 10, Cell: 0.4})
	require.NoError(t, err)
	found, err := s.Trap(nil)
	require.NoError(t, err)
	require.NotEmpty(t, found.Pockets)
	inside := 32*math.Sin(2*math.Pi/64)*256*26 - math.Pi*4*11
	assert.InEpsilon(t, inside, found.Pockets[0].Volume, 0.03)
	assert.True(t, found.Pockets[0].Isolated)
}

// Two pools under one roof: opening one drains it only down to the pass.
func TestPassBetweenTwoPoolsIsTheSealOfTheOther(t *testing.T) {
	for _, pass := range []float64{4, 9, 13.5} {
		outline := [][2]float64{{0, 0}, {50, 0}, {50, 20}, {30, 20}, {30, pass}, {20, pass}, {20, 20}, {0, 20}}
		m := meshtest.Extruded(outline, 15)
		found := trap(t, m, zUp, cavity, Opening{r3.Vec{X: 5, Y: 7, Z: 20}, 1})
		require.Len(t, found.Pockets, 1)
		assert.InDelta(t, pass, found.Pockets[0].SealHeight, 1e-9)
		assert.InEpsilon(t, 20*15*(20-pass), found.Volume, 1e-9)
	}
}

// What is not trapped is filled: pockets never exceed the part, and air and
// liquid share it at every level.
func TestAirAndLiquidShareTheCavity(t *testing.T) {
	m := meshtest.Blocks(2, "..##..#...", "..##..#.#.", "..........", "...#####..", "..........").Scaled(4)
	s, err := Prepare(m, r3.Unit(r3.Vec{X: 0.1, Y: -0.2, Z: 1}), Options{Sound: true, Cell: 0.2})
	require.NoError(t, err)
	found, err := s.Trap([]Opening{{r3.Vec{X: 3, Y: 3, Z: 20}, 1}})
	require.NoError(t, err)
	require.NotEmpty(t, found.Pockets)
	assert.Less(t, found.Volume, m.Volume())
	var sum float64
	for _, p := range found.Pockets {
		assert.Greater(t, p.ApexHeight, p.SealHeight)
		sum += p.Volume
	}
	assert.InEpsilon(t, found.Volume, sum, 1e-12)
	c := s.Levels(s.Low(), s.High(), 50, nil)
	for i := 1; i < len(c.Volume); i++ {
		assert.GreaterOrEqual(t, c.Volume[i], c.Volume[i-1])
	}
	assert.InEpsilon(t, m.Volume(), c.Volume[50], 1e-9)
}

func TestLockedRubberOfAStep(t *testing.T) {
	// a T on its side: the bar overhangs on both sides of any level between
	m := meshtest.Extruded([][2]float64{{0, 0}, {10, 0}, {10, 20}, {30, 20}, {30, 26}, {0, 26}}, 10)
	s, err := Prepare(m, zUp, Options{Sound: true, Cell: 0.1})
	require.NoError(t, err)
	upper, lower := s.Locked(8)
	assert.InEpsilon(t, 20*12*10, upper, 0.02, "rubber over the parting, under the bar")
	assert.InDelta(t, 0, lower, 1)
	upper, lower = s.Locked(20)
	assert.InDelta(t, 0, upper, 1)
	assert.InDelta(t, 0, lower, 1)
	upper, lower = s.Locked(26)
	assert.InDelta(t, 0, upper, 1)
	assert.InDelta(t, 0, lower, 1)
}

func TestFramesAreRightHandedAndTurnBack(t *testing.T) {
	for _, up := range []r3.Vec{{X: 1}, {Y: -3}, {Z: 2}, {X: 1, Y: 1, Z: 1}, {X: -0.3, Y: 0.9, Z: 0.01}} {
		f, err := grid.NewFrame(up)
		require.NoError(t, err)
		assert.InDelta(t, 1, r3.Dot(r3.Cross(f.U, f.V), f.Up), 1e-12)
		p := r3.Vec{X: 3, Y: -4, Z: 5}
		back := f.Out(f.In(p))
		assert.InDelta(t, 0, r3.Norm(r3.Sub(p, back)), 1e-12)
		assert.InDelta(t, r3.Dot(p, r3.Unit(up)), f.In(p).Z, 1e-12)
	}
}
