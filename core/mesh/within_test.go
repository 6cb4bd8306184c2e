package mesh_test

import (
	"math"
	"testing"

	"bathyform/core/mesh/meshtest"

	"github.com/stretchr/testify/assert"
	"gonum.org/v1/gonum/spatial/r3"
)

// The cap of a sphere within a chord of a point of it has the area of the circle with
// that chord as its radius (Archimedes).
func TestAreaWithinABall(t *testing.T) {
	ball := meshtest.Sphere(20, 64)
	for _, chord := range []float64{2, 7, 20} {
		assert.InEpsilon(t, math.Pi*chord*chord, ball.AreaWithin(r3.Vec{X: 20}, chord), 0.02, "%g mm", chord)
	}
	assert.InEpsilon(t, ball.Area(), ball.AreaWithin(r3.Vec{}, 21), 1e-9, "all of it")
	assert.Zero(t, ball.AreaWithin(r3.Vec{X: 60}, 30))
}
