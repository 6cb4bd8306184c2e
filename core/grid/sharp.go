package grid

import (
	"math"

	"bathyform/core/mesh"

	"gonum.org/v1/gonum/spatial/r3"
)

// Sharp returns the surface of a field as a closed mesh with its edges sharp;
// see [Dual]. The field must be positive on the box's sides.
func Sharp(f Field, box r3.Box, cell float64) *mesh.Mesh {
	size := r3.Sub(box.Max, box.Min)
	// beside the box's own planes, on which parts like to have theirs
	shift := r3.Vec{X: 0.381966, Y: 0.236068, Z: 0.145898}
	count := func(x float64) int { return int(math.Ceil(x/cell)) + 2 }
	l := Lattice{Low: r3.Sub(box.Min, r3.Scale(cell, shift)), Cell: cell, NX: count(size.X), NY: count(size.Y), NZ: count(size.Z)}
	in := func(p int) bool {
		c := p / l.NZ
		i, j, k := c%l.NX, c/l.NX, p%l.NZ
		rim := i == 0 || j == 0 || k == 0 || i == l.NX-1 || j == l.NY-1 || k == l.NZ-1
		return !rim && f(l.At(i, j, k)) < 0
	}
	slope := func(p r3.Vec) r3.Vec {
		h := 1e-5 * cell
		g := r3.Vec{
			X: f(r3.Add(p, r3.Vec{X: h})) - f(r3.Sub(p, r3.Vec{X: h})),
			Y: f(r3.Add(p, r3.Vec{Y: h})) - f(r3.Sub(p, r3.Vec{Y: h})),
			Z: f(r3.Add(p, r3.Vec{Z: h})) - f(r3.Sub(p, r3.Vec{Z: h})),
		}
		if n := r3.Norm(g); n > 0 {
			return r3.Scale(1/n, g)
		}
		return r3.Vec{Z: 1}
	}
	return dual(l, outside, in, func(i, j, k, axis int, forward bool) Hit {
		step := cell
		if !forward {
			step = -cell
		}
		from, along := l.At(i, j, k), [3]r3.Vec{{X: step}, {Y: step}, {Z: step}}[axis]
		lo, hi := 0.0, 1.0
		for range 22 { // a millionth of a cell
			if mid := (lo + hi) / 2; f(r3.Add(from, r3.Scale(mid, along))) < 0 {
				lo = mid
			} else {
				hi = mid
			}
		}
		at := r3.Add(from, r3.Scale((lo+hi)/2, along))
		return Hit{At: at, Normal: slope(at)}
	})
}
