package grid

import (
	"math"
	"testing"

	"bathyform/core/mesh"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"gonum.org/v1/gonum/spatial/r3"
)

// contoured is the surface of a field by its values and slopes alone.
func contoured(f Field, l Lattice) *mesh.Mesh {
	at := func(p int) r3.Vec {
		c := p / l.NZ
		return l.At(c%l.NX, c/l.NX, p%l.NZ)
	}
	return Dual(l, func(p int) bool { return f(at(p)) < 0 }, func(i, j, k, axis int, forward bool) Hit {
		from := l.At(i, j, k)
		step := l.Cell
		if !forward {
			step = -step
		}
		along := [3]r3.Vec{{X: step}, {Y: step}, {Z: step}}[axis]
		lo, hi := 0.0, 1.0
		for range 40 {
			if mid := (lo + hi) / 2; f(r3.Add(from, r3.Scale(mid, along))) < 0 {
				lo = mid
			} else {
				hi = mid
			}
		}
		p := r3.Add(from, r3.Scale(lo, along))
		const h = 1e-6
		n := r3.Vec{
			X: f(r3.Add(p, r3.Vec{X: h})) - f(r3.Sub(p, r3.Vec{X: h})),
			Y: f(r3.Add(p, r3.Vec{Y: h})) - f(r3.Sub(p, r3.Vec{Y: h})),
			Z: f(r3.Add(p, r3.Vec{Z: h})) - f(r3.Sub(p, r3.Vec{Z: h})),
		}
		return Hit{p, r3.Unit(n)}
	})
}

func TestEdgesAndCornersComeOutSharp(t *testing.T) {
	box := func(p r3.Vec) float64 {
		return max(math.Abs(p.X)-10, math.Abs(p.Y)-7, math.Abs(p.Z)-4)
	}
	tilted := func(p r3.Vec) float64 { return box(r3.NewRotation(0.5, r3.Vec{X: 1, Y: 2, Z: 0.4}).Rotate(p)) }
	l := Lattice{Low: r3.Vec{X: -15.03, Y: -15.07, Z: -15.09}, Cell: 0.61, NX: 52, NY: 52, NZ: 52}
	for name, f := range map[string]Field{"square to the lattice": box, "tilted": tilted} {
		_, r, err := mesh.Load(contoured(f, l).WriteSTL(), 1)
		require.NoError(t, err)
		assert.True(t, r.Edges.Closed(), "%s: %+v", name, r.Edges)
		assert.InEpsilon(t, 20*14*8, r.Volume, 1e-3, name)
		assert.InEpsilon(t, 2*(20*14+20*8+14*8), r.Area, 2e-3, name)
	}
}

func TestARoundBodyKeepsItsVolume(t *testing.T) {
	l := Lattice{Low: r3.Vec{X: -12.03, Y: -12.07, Z: -12.09}, Cell: 0.5, NX: 50, NY: 50, NZ: 50}
	m := contoured(func(p r3.Vec) float64 { return r3.Norm(p) - 10 }, l)
	assert.InEpsilon(t, 4.0/3*math.Pi*1000, m.Volume(), 2e-3)
}
