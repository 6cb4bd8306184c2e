package attitude

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

// A bench: a seat 60 x 20 x 6 with two legs 20 long.
func bench() *mesh.Mesh {
	return meshtest.Extruded([][2]float64{{0, 0}, {8, 0}, {8, 20}, {52, 20}, {52, 0}, {60, 0}, {60, 26}, {0, 26}}, 20)
}

func TestABenchStandsBetterOnItsLegs(t *testing.T) {
	feet, _, err := Look(bench(), true, r3.Vec{Z: 1}, CoarseCells)
	require.NoError(t, err)
	assert.Equal(t, 1, feet.Vents, "the seat is the one high spot")
	assert.Zero(t, feet.Air)
	assert.Zero(t, feet.Under, "under the seat the rubber's air gets away at the open sides")
	assert.InDelta(t, 26, feet.Height, 1e-9)
	assert.InDelta(t, 1200, feet.Floor, 1e-9)

	legs, pockets, err := Look(bench(), true, r3.Vec{Z: -1}, CoarseCells)
	require.NoError(t, err)
	assert.Equal(t, 2, legs.Vents, "legs up, each leg wants one")
	assert.InEpsilon(t, 8*20*20, legs.Air, 1e-6)
	require.Len(t, pockets, 1)
	assert.InEpsilon(t, legs.Air, pockets[0].Volume, 1e-9)
	assert.Less(t, feet.Score, legs.Score)
}

func TestCupKeepsAirFromTheRubberRimDown(t *testing.T) {
	cup := meshtest.Turned(
		60,
		[2]float64{0, 0},
		[2]float64{12, 0},
		[2]float64{12, 30},
		[2]float64{9, 30},
		[2]float64{9, 4},
		[2]float64{0, 4},
	)
	up, _, err := Look(cup, true, r3.Vec{Z: 1}, CoarseCells)
	require.NoError(t, err)
	assert.Zero(t, up.Under)
	down, _, err := Look(cup, true, r3.Vec{Z: -1}, CoarseCells)
	require.NoError(t, err)
	assert.Equal(t, 1, down.Under)
	assert.InEpsilon(t, 26*30*81*math.Sin(2*math.Pi/60), down.Rubber, 0.01)
}

func TestSearchIsTheSameTwiceAndMarksAFront(t *testing.T) {
	told, total := 0, 0
	ways, err := Search(t.Context(), bench(), true, 60, func(p Progress) { told += len(p.Ways); total = p.Total })
	require.NoError(t, err)
	assert.Equal(t, total, told)
	assert.Len(t, ways, total)
	again, err := Search(t.Context(), bench(), true, 60, nil)
	require.NoError(t, err)
	assert.Equal(t, ways, again)
	front := 0
	for i, w := range ways {
		if w.Front {
			front++
		}
		if i > 0 {
			assert.GreaterOrEqual(t, w.Score, ways[i-1].Score)
		}
	}
	assert.Positive(t, front)
	assert.True(t, ways[0].Front)
	assert.Equal(t, 1, ways[0].Vents)
}

func TestTurningThePartTurnsTheAnswer(t *testing.T) {
	turn := r3.NewRotation(0.8, r3.Vec{X: 1, Y: -2, Z: 0.4})
	want, _, err := Look(bench(), true, r3.Vec{X: 0.2, Y: 0.3, Z: -1}, FineCells)
	require.NoError(t, err)
	got, _, err := Look(meshtest.Moved(bench(), turn, r3.Vec{X: 90}), true, turn.Rotate(r3.Vec{X: 0.2, Y: 0.3, Z: -1}), FineCells)
	require.NoError(t, err)
	assert.Equal(t, want.Vents, got.Vents)
	assert.InEpsilon(t, want.Air, got.Air, 0.02, "to within the mouth of the one vent")
	assert.InDelta(t, want.Height, got.Height, 1e-9*want.Height)
}

// What has to be done for every picture while a hand turns the part.
func BenchmarkLook(b *testing.B) {
	m := grid.Net(func(p r3.Vec) float64 {
		return r3.Norm(r3.Vec{X: p.X, Y: p.Y * 1.4, Z: p.Z * 1.8}) - 42 - 3.5*math.Sin(p.X/4.1)*math.Cos(p.Y/4.7+1) - 2*math.Sin(p.Z/5.3)
	}, r3.Box{Min: r3.Vec{X: -55, Y: -55, Z: -55}, Max: r3.Vec{X: 55, Y: 55, Z: 55}}, 0.755)
	b.Logf("%d triangles", len(m.Triangles))
	for b.Loop() {
		if _, _, err := Look(m, true, r3.Vec{X: 0.3, Y: 0.1, Z: 1}, CoarseCells); err != nil {
			b.Fatal(err)
		}
	}
}

func TestTheSumsBehindAWayUpAddUp(t *testing.T) {
	legs, pockets, err := Look(bench(), true, r3.Vec{Z: -1}, CoarseCells)
	require.NoError(t, err)
	air := legs.AirNumber(pockets)
	assert.InDelta(t, legs.Air/1000, air.Value, 1e-12)
	var sum float64
	for _, in := range air.Inputs {
		if in.Name == "pocket" {
			sum += in.Value
		}
	}
	assert.InDelta(t, air.Value, sum, 1e-12, "the pockets that it names are all of it")
	assert.NotEmpty(t, air.Formula)
	assert.InDelta(t, legs.Rubber/1000, legs.RubberNumber().Value, 1e-12)
	assert.InDelta(t, 12, legs.FloorNumber().Value, 1e-9, "60 by 20 mm in cm²")
}

func TestMirroringChangesNoAir(t *testing.T) {
	m := bench()
	mirrored := &mesh.Mesh{}
	for _, v := range m.Vertices {
		mirrored.Vertices = append(mirrored.Vertices, r3.Vec{X: -v.X, Y: v.Y, Z: v.Z})
	}
	for _, tri := range m.Triangles {
		mirrored.Triangles = append(mirrored.Triangles, [3]int32{tri[0], tri[2], tri[1]})
	}
	for _, up := range []r3.Vec{{Z: -1}, {X: 0.4, Z: -1}, {X: -0.3, Y: 0.2, Z: 1}} {
		want, _, err := Look(m, true, up, CoarseCells)
		require.NoError(t, err)
		got, _, err := Look(mirrored, true, r3.Vec{X: -up.X, Y: up.Y, Z: up.Z}, CoarseCells)
		require.NoError(t, err)
		assert.Equal(t, want.Vents, got.Vents, "up %v", up)
		assert.InDelta(t, want.Air, got.Air, 1e-3*(1+want.Air))
		assert.InDelta(t, want.Height, got.Height, 1e-9)
	}
}
