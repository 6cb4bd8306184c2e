package parts

import (
	"math"

	"bathyform/core/grid"

	"gonum.org/v1/gonum/spatial/r3"
)

// The solids that the demo parts are put together from, as signed distances in mm.

func ball(c r3.Vec, r float64) grid.Field {
	return func(p r3.Vec) float64 { return r3.Norm(r3.Sub(p, c)) - r }
}

// rod is a bar with round ends whose radius goes evenly from ra at a to rb at b.
func rod(a, b r3.Vec, ra, rb float64) grid.Field {
	ab := r3.Sub(b, a)
	l2 := r3.Norm2(ab)
	return func(p r3.Vec) float64 {
		t := max(0, min(1, r3.Dot(r3.Sub(p, a), ab)/l2))
		return r3.Norm(r3.Sub(p, r3.Add(a, r3.Scale(t, ab)))) - (ra + t*(rb-ra))
	}
}

// block is a box about c with half sides h and edges rounded to r.
func block(c, h r3.Vec, r float64) grid.Field {
	return func(p r3.Vec) float64 {
		d := r3.Sub(p, c)
		x, y, z := math.Abs(d.X)-h.X+r, math.Abs(d.Y)-h.Y+r, math.Abs(d.Z)-h.Z+r
		out := r3.Norm(r3.Vec{X: max(x, 0), Y: max(y, 0), Z: max(z, 0)})
		return out + min(max(x, y, z), 0) - r
	}
}

// drum is a cylinder from a to b with radius r and edges rounded to e.
func drum(a, b r3.Vec, r, e float64) grid.Field {
	axis := r3.Unit(r3.Sub(b, a))
	half := r3.Norm(r3.Sub(b, a)) / 2
	mid := r3.Scale(0.5, r3.Add(a, b))
	return func(p r3.Vec) float64 {
		d := r3.Sub(p, mid)
		h := r3.Dot(d, axis)
		radial := r3.Norm(r3.Sub(d, r3.Scale(h, axis))) - r + e
		along := math.Abs(h) - half + e
		return math.Hypot(max(radial, 0), max(along, 0)) + min(max(radial, along), 0) - e
	}
}

// hoop is a torus about the z axis at height z.
func hoop(z, ring, r float64) grid.Field {
	return func(p r3.Vec) float64 {
		return math.Hypot(math.Hypot(p.X, p.Y)-ring, p.Z-z) - r
	}
}

// joined runs solids into one another with fillets of about k mm.
func joined(k float64, f ...grid.Field) grid.Field {
	return func(p r3.Vec) float64 {
		d := f[0](p)
		for _, g := range f[1:] {
			e := g(p)
			if k <= 0 {
				d = min(d, e)
				continue
			}
			h := max(k-math.Abs(d-e), 0) / k
			d = min(d, e) - h*h*k/4
		}
		return d
	}
}

// cut takes the tools away from a solid, leaving edges rounded to about k mm, or sharp for 0.
func cut(k float64, f grid.Field, tools ...grid.Field) grid.Field {
	tool := joined(0, tools...)
	return func(p r3.Vec) float64 {
		d, e := f(p), -tool(p)
		if k <= 0 {
			return max(d, e)
		}
		h := max(k-math.Abs(d-e), 0) / k
		return max(d, e) + h*h*k/4
	}
}

// half keeps what lies on the side of the plane through o that n points away from.
func half(f grid.Field, o, n r3.Vec) grid.Field {
	return func(p r3.Vec) float64 { return max(f(p), r3.Dot(r3.Sub(p, o), n)) }
}
