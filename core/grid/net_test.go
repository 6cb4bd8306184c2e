package grid

import (
	"math"
	"testing"

	"bathyform/core/mesh"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"gonum.org/v1/gonum/spatial/r3"
)

func examined(t *testing.T, m *mesh.Mesh) mesh.Report {
	t.Helper()
	_, r, err := mesh.Load(m.WriteSTL(), 1)
	require.NoError(t, err)
	return r
}

func cube(half float64) r3.Box {
	return r3.Box{Min: r3.Vec{X: -half, Y: -half, Z: -half}, Max: r3.Vec{X: half, Y: half, Z: half}}
}

func TestNetOfABallClosesAndComesNearerWithFinerCells(t *testing.T) {
	ball := func(p r3.Vec) float64 { return r3.Norm(p) - 10 }
	want := 4.0 / 3 * math.Pi * 1000
	last := math.Inf(1)
	for _, cell := range []float64{2.3, 1.15, 0.575} {
		m := Net(ball, cube(13), cell)
		r := examined(t, m)
		assert.True(t, r.Edges.Closed())
		assert.Equal(t, 1, r.Bodies)
		assert.Empty(t, r.Warnings, "the net is wound outwards")
		off := math.Abs(r.Volume-want) / want
		assert.Less(t, off, last/3, "halving the cell quarters the error")
		last = off
		for _, v := range m.Vertices {
			assert.InDelta(t, 10, r3.Norm(v), 1e-6, "corners lie on the surface")
		}
	}
	assert.Less(t, last, 0.002)
}

func TestNetKeepsHollowsAndSeparateBodies(t *testing.T) {
	shell := func(p r3.Vec) float64 { return math.Abs(r3.Norm(p)-8) - 2 }
	r := examined(t, Net(shell, cube(13), 0.7))
	assert.Equal(t, 2, r.Bodies)
	assert.Equal(t, 1, r.Voids)
	assert.InEpsilon(t, 4.0/3*math.Pi*(1000-216), r.Volume, 0.015)

	two := func(p r3.Vec) float64 {
		return min(r3.Norm(r3.Sub(p, r3.Vec{X: 6})), r3.Norm(r3.Add(p, r3.Vec{X: 6}))) - 4
	}
	r = examined(t, Net(two, cube(13), 0.7))
	assert.Equal(t, 2, r.Bodies)
	assert.Zero(t, r.Voids)
	assert.InEpsilon(t, 2*4.0/3*math.Pi*64, r.Volume, 0.015)
}

func TestNetOfNothingIsEmpty(t *testing.T) {
	m := Net(func(r3.Vec) float64 { return 1 }, cube(5), 1)
	assert.Empty(t, m.Triangles)
}
