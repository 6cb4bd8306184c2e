package mesh_test

import (
	"math"
	"testing"

	"bathyform/core/mesh"
	"bathyform/core/mesh/meshtest"

	"github.com/stretchr/testify/assert"
	"gonum.org/v1/gonum/spatial/r3"
)

func areaOf(m *mesh.Mesh, triangles []int32) (sum float64) {
	for _, t := range triangles {
		a, b, c := m.Corners(int(t))
		sum += r3.Norm(r3.Cross(r3.Sub(b, a), r3.Sub(c, a))) / 2
	}
	return sum
}

// A side of a box is one face; on a ball it is the cap within the angle, 2 π r²
// (1 − cos), up to the triangles' size.
func TestAFaceAsAHandTakesIt(t *testing.T) {
	box := meshtest.Box(r3.Vec{}, r3.Vec{X: 30, Y: 20, Z: 10})
	for seed := range box.Triangles {
		found := areaOf(box, box.Face(int32(seed), 0.4, 1))
		assert.Contains(t, []float64{600, 300, 200}, math.Round(found*1e6)/1e6)
	}
	ball := meshtest.Sphere(10, 96)
	assert.InEpsilon(t, 2*math.Pi*100*(1-math.Cos(1)), areaOf(ball, ball.Face(0, 0.4, 1)), 0.08)
}
