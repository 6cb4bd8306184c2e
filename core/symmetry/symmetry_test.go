package symmetry_test

import (
	"math"
	"math/rand/v2"
	"testing"

	"bathyform/core/mesh"
	"bathyform/core/mesh/meshtest"
	"bathyform/core/symmetry"
	"bathyform/demo/parts"

	"github.com/stretchr/testify/assert"
	"gonum.org/v1/gonum/spatial/r3"
)

func demo(key string) *mesh.Mesh {
	p, _ := parts.ByKey(key)
	return p.Mesh()
}

func TestHowOftenPartsRepeatThemselves(t *testing.T) {
	rng := rand.New(rand.NewPCG(4, 2))
	z := r3.Vec{Z: 1}
	for _, c := range []struct {
		name string
		m    *mesh.Mesh
		want int
	}{
		{"hub", demo("drogue-hub"), 6},
		{"guard", demo("sensor-guard"), 4},
		{"cleat", demo("deck-cleat"), 2},
		{"collar half", demo("collar-half"), 1},
		{"disc", meshtest.Cylinder(20, 5, 144), symmetry.Most},
		{"hexagonal nut", meshtest.Cylinder(10, 8, 6), 6},
		{"box", meshtest.Box(r3.Vec{}, r3.Vec{X: 30, Y: 20, Z: 10}), 2},
		{"square bar", meshtest.Box(r3.Vec{}, r3.Vec{X: 20, Y: 20, Z: 50}), 4},
	} {
		f := symmetry.About(c.m, z)
		assert.Equal(t, c.want, f.Order, c.name)
		// however it stands
		axis := meshtest.RandomUp(rng)
		turn := r3.NewRotation(math.Acos(axis.Z), r3.Unit(r3.Cross(z, axis)))
		g := symmetry.About(meshtest.Moved(c.m, turn, r3.Vec{X: 7, Y: -3, Z: 40}), axis)
		assert.Equal(t, c.want, g.Order, "%s, turned", c.name)
	}
}
