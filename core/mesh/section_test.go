package mesh_test

import (
	"math"
	"math/rand/v2"
	"testing"

	"bathyform/core/mesh/meshtest"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"gonum.org/v1/gonum/spatial/r3"
)

// area of a closed loop about a normal, positive anticlockwise seen against it.
func area(loop []r3.Vec, normal r3.Vec) float64 {
	var sum r3.Vec
	for i, p := range loop {
		sum = r3.Add(sum, r3.Cross(p, loop[(i+1)%len(loop)]))
	}
	return r3.Dot(sum, normal) / 2
}

func TestSectionOutlinesHaveTheSectionsArea(t *testing.T) {
	ring := meshtest.Turned(90, [2]float64{10, 0}, [2]float64{14, 0}, [2]float64{14, 5}, [2]float64{10, 5})
	loops := ring.Section(r3.Vec{Z: 1}, 2)
	require.Len(t, loops, 2)
	var sum float64
	for _, l := range loops {
		sum += area(l, r3.Vec{Z: 1})
	}
	gon := 45 * math.Sin(2*math.Pi/90)
	assert.InEpsilon(t, gon*(196-100), sum, 1e-9)
	assert.Len(t, ring.Section(r3.Vec{Y: 1}, 0), 2, "an upright cut through the axis meets the ring twice")
	assert.Empty(t, ring.Section(r3.Vec{Z: 1}, 9))

	ball := meshtest.Sphere(20, 120)
	rng := rand.New(rand.NewPCG(4, 4))
	for range 20 {
		n := meshtest.RandomUp(rng)
		d := 30*rng.Float64() - 15
		loops := ball.Section(n, d)
		require.Len(t, loops, 1)
		assert.InEpsilon(t, math.Pi*(400-d*d), area(loops[0], n), 0.01)
	}
}
