package fill

import (
	"math"
	"math/rand/v2"
	"testing"

	"bathyform/core/grid"
	"bathyform/core/mesh"
	"bathyform/core/mesh/meshtest"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"gonum.org/v1/gonum/spatial/r3"
)

// lumps is a random knot of rods and balls with holes bored through it: many
// high spots, passes, ledges and islands.
func lumps(rng *rand.Rand) *mesh.Mesh {
	at := func(reach float64) r3.Vec {
		return r3.Vec{X: reach * (2*rng.Float64() - 1), Y: reach * (2*rng.Float64() - 1), Z: reach * (2*rng.Float64() - 1)}
	}
	type rod struct {
		a, b r3.Vec
		r    float64
	}
	var add, cut []rod
	hub := at(4)
	for range 7 {
		add = append(add, rod{hub, at(16), 2 + 2.5*rng.Float64()})
		if rng.Float64() < 0.4 {
			hub = add[len(add)-1].b
		}
	}
	for range 3 {
		cut = append(cut, rod{at(10), at(20), 1.2 + rng.Float64()})
	}
	dist := func(p r3.Vec, c rod) float64 {
		ab := r3.Sub(c.b, c.a)
		t := max(0, min(1, r3.Dot(r3.Sub(p, c.a), ab)/r3.Norm2(ab)))
		return r3.Norm(r3.Sub(p, r3.Add(c.a, r3.Scale(t, ab)))) - c.r
	}
	f := func(p r3.Vec) float64 {
		d := math.Inf(1)
		for _, c := range add {
			d = min(d, dist(p, c))
		}
		for _, c := range cut {
			d = max(d, -dist(p, c))
		}
		return d
	}
	reach := r3.Vec{X: 24, Y: 24, Z: 24}
	return grid.Net(f, r3.Box{Min: r3.Scale(-1, reach), Max: reach}, 0.83)
}

// Both ways of finding the air, on the surface and over columns, must agree on
// shapes that neither was made for.
func TestSurfaceAndColumnsAgreeOnRandomLumps(t *testing.T) {
	rng := rand.New(rand.NewPCG(31, 41))
	checked, held := 0, 0
	for run := 0; run < 18; run++ {
		m, report, err := mesh.Load(lumps(rng).WriteSTL(), 1)
		require.NoError(t, err)
		if !report.Sound || report.Volume < 200 {
			continue
		}
		up := meshtest.RandomUp(rng)
		for _, around := range []bool{false, true} {
			s, err := Prepare(m, up, Options{Sound: true, Cell: 0.2, Around: around, Headroom: 5})
			require.NoError(t, err)
			if !s.Exact() {
				continue
			}
			var vents []Opening
			if !around {
				for range 3 {
					v := m.Vertices[rng.IntN(len(m.Vertices))]
					vents = append(vents, Opening{v, 0.6})
				}
			}
			exact, err := s.Trap(vents)
			require.NoError(t, err)
			checked++
			if exact.Volume > 0.005*report.Volume {
				held++
			}
			// a narrow pass needs a fine grid; then the two must meet
			var coarse Trapped
			allowed := 0.02*report.Volume + 0.05*exact.Volume
			for _, cell := range []float64{0.2, 0.1, 0.05} {
				c, err := Prepare(m, up, Options{Cell: cell, Around: around, Headroom: 5})
				require.NoError(t, err)
				coarse, err = c.Trap(vents)
				require.NoError(t, err)
				if math.Abs(coarse.Volume-exact.Volume) <= allowed {
					break
				}
			}
			assert.InDelta(t, exact.Volume, coarse.Volume, allowed, "run %d, around %v", run, around)
		}
	}
	assert.Greater(t, checked, 14)
	assert.Greater(t, held, 5)
}
