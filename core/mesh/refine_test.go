package mesh_test

import (
	"testing"

	"bathyform/core/mesh"
	"bathyform/core/mesh/meshtest"

	"github.com/stretchr/testify/assert"
	"gonum.org/v1/gonum/spatial/r3"
)

func TestRefinedIsTheSameSurfaceInSmallerPieces(t *testing.T) {
	for name, m := range map[string]*mesh.Mesh{
		"block":    meshtest.Box(r3.Vec{}, r3.Vec{X: 60, Y: 7, Z: 20}),
		"cylinder": meshtest.Cylinder(4, 90, 48),
	} {
		fine, of := m.Refined(3)
		assert.Len(t, of, len(fine.Triangles), name)
		assert.InEpsilon(t, m.Volume(), fine.Volume(), 1e-9, name)
		assert.InEpsilon(t, m.Area(), fine.Area(), 1e-9, name)
		_, r := mesh.Examine(&mesh.File{Mesh: fine, Triangles: len(fine.Triangles)})
		assert.True(t, r.Edges.Closed(), "%s: both sides of an edge are cut alike", name)
		for i := range fine.Triangles {
			a, b, c := fine.Corners(i)
			assert.LessOrEqual(t, max(r3.Norm(r3.Sub(a, b)), r3.Norm(r3.Sub(b, c)), r3.Norm(r3.Sub(c, a))), 3.0, name)
		}
		same, _ := fine.Refined(3)
		assert.Same(t, fine, same, name)
	}
}
