package blockout

import (
	"math"
	"testing"

	"bathyform/core/mesh"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"gonum.org/v1/gonum/spatial/r3"
)

func build(t *testing.T, solids ...Solid) (*mesh.Mesh, mesh.Report) {
	t.Helper()
	m, err := Build(solids)
	require.NoError(t, err)
	_, r := mesh.Examine(&mesh.File{Mesh: m, Triangles: len(m.Triangles)})
	assert.True(t, r.Edges.Closed(), "it closes")
	return m, r
}

func TestVolumesOfTheSolids(t *testing.T) {
	square := []Point{{-10, -10}, {10, -10}, {10, 10}, {-10, 10}}
	hole := []Point{{-4, -4}, {4, -4}, {4, 4}, {-4, 4}}
	for name, c := range map[string]struct {
		solid Solid
		want  float64
	}{
		"box":       {Solid{Kind: Box, A: 40, B: 30, C: 20}, 24000},
		"cylinder":  {Solid{Kind: Cylinder, A: 20, C: 30}, math.Pi * 100 * 30},
		"cone":      {Solid{Kind: Cone, A: 24, B: 8, C: 30}, math.Pi * 30 / 3 * (144 + 48 + 16)},
		"sphere":    {Solid{Kind: Sphere, A: 30}, math.Pi / 6 * 27000},
		"tube":      {Solid{Kind: Tube, A: 30, B: 20, C: 25}, math.Pi * 25 * (225 - 100)},
		"prism":     {Solid{Kind: Prism, C: 12, Rings: [][]Point{square, hole}}, (400 - 64) * 12},
		"turned":    {Solid{Kind: Turned, Rings: [][]Point{{{5, 0}, {15, 0}, {15, 10}, {5, 10}}}}, math.Pi * (225 - 25) * 10},
		"lying rod": {Solid{Kind: Cylinder, Axis: "x", A: 10, C: 50, At: r3.Vec{X: -25, Y: 3, Z: 9}}, math.Pi * 25 * 50},
	} {
		m, r := build(t, c.solid)
		assert.InEpsilon(t, c.want, m.Volume(), 0.012, name)
		assert.Equal(t, 1, r.Bodies, name)
	}
}

func TestSolidsStandWhereTheyArePut(t *testing.T) {
	_, r := build(t, Solid{Kind: Box, A: 40, B: 30, C: 20, At: r3.Vec{X: 100, Y: -50, Z: 7}})
	assert.InDelta(t, 80, r.Bounds.Min.X, 0.05)
	assert.InDelta(t, 7, r.Bounds.Min.Z, 0.05)
	assert.InDelta(t, 27, r.Bounds.Max.Z, 0.05)
	_, r = build(t, Solid{Kind: Cone, Axis: "y", A: 20, B: 4, C: 30, At: r3.Vec{Y: 5}})
	assert.InDelta(t, 5, r.Bounds.Min.Y, 0.1)
	assert.InDelta(t, 35, r.Bounds.Max.Y, 0.1)
	assert.InDelta(t, 10, r.Bounds.Max.Z, 0.1)
}

func TestAddedAndCutInTurn(t *testing.T) {
	plate := Solid{Kind: Box, A: 60, B: 40, C: 10}
	drill := Solid{Kind: Cylinder, Cut: true, A: 10, C: 20, At: r3.Vec{Z: -5}}
	boss := Solid{Kind: Cylinder, A: 16, C: 20}
	bored, _ := build(t, plate, drill)
	assert.InEpsilon(t, 24000-math.Pi*25*10, bored.Volume(), 0.012)
	filled, _ := build(t, plate, drill, boss)
	assert.InEpsilon(t, 24000+math.Pi*64*10, filled.Volume(), 0.012, "what comes later fills the hole again")
}

func TestWhatCannotBeBuiltSaysWhy(t *testing.T) {
	for says, solids := range map[string][]Solid{
		"add a first solid":    nil,
		"nothing is left":      {{Kind: Box, A: 10, B: 10, C: 10}, {Kind: Box, Cut: true, A: 20, B: 20, C: 20, At: r3.Vec{Z: -5}}},
		"every solid is a cut": {{Kind: Box, Cut: true, A: 10, B: 10, C: 10}},
		"height":               {{Kind: Cylinder, A: 10}},
		"inner diameter":       {{Kind: Tube, A: 10, B: 12, C: 5}},
		"at most":              {{Kind: Sphere, A: 1e6}},
		"no solid":             {{Kind: "teapot"}},
		"fewer than three":     {{Kind: Prism, C: 4, Rings: [][]Point{{{0, 0}, {1, 1}}}}},
		"cross its axis":       {{Kind: Turned, Rings: [][]Point{{{-1, 0}, {5, 0}, {5, 5}}}}},
		"along x, y or z":      {{Kind: Cylinder, A: 4, C: 4, Axis: "up"}},
	} {
		_, err := Build(solids)
		if assert.Error(t, err, says) {
			assert.Contains(t, err.Error(), says)
		}
	}
	_, err := Build(make([]Solid, MostSolids+1))
	assert.Error(t, err)
}

func TestABlockOutIsHeldAgainstDisplacedWater(t *testing.T) {
	off, near := Against(31, 30)
	assert.InDelta(t, 0.0333, off, 1e-4)
	assert.True(t, near)
	_, near = Against(24, 30)
	assert.False(t, near)
	for _, nothing := range []float64{0, -3, math.NaN()} {
		off, near = Against(24, nothing)
		assert.True(t, math.IsNaN(off))
		assert.False(t, near)
	}
}

// A rod and a plate that are thin for their length keep their full size.
func TestThinThingsAreKept(t *testing.T) {
	for _, c := range []struct {
		name  string
		solid Solid
		want  float64 // mm³
	}{
		{"rod", Solid{Kind: Box, A: 200, B: 3, C: 3}, 1800},
		{"rod on end", Solid{Kind: Box, A: 3, B: 3, C: 200, Axis: "x"}, 1800},
		{"plate", Solid{Kind: Box, A: 200, B: 150, C: 2}, 60000},
		{"thin disc", Solid{Kind: Cylinder, A: 120, C: 1.5}, math.Pi * 3600 * 1.5},
		{"tube", Solid{Kind: Tube, A: 60, B: 57, C: 100}, math.Pi / 4 * (3600 - 3249) * 100},
		{"wire", Solid{Kind: Cylinder, A: 2, C: 180}, math.Pi * 180},
	} {
		m, err := Build([]Solid{c.solid})
		require.NoError(t, err)
		assert.InEpsilon(t, c.want, m.Volume(), 0.012, c.name)
	}
}
