// Package gridtest makes ordinary solids for tests: as fields that are
// negative inside, put together, and as closed meshes of them.
package gridtest

import (
	"math"

	"bathyform/core/grid"
	"bathyform/core/mesh"

	"gonum.org/v1/gonum/spatial/r3"
)

// V is a place.
func V(x, y, z float64) r3.Vec { return r3.Vec{X: x, Y: y, Z: z} }

// Mesh is the surface of a solid that lies between two corners, with about so
// many cells along its longest side.
func Mesh(f grid.Field, low, high r3.Vec, cells int) *mesh.Mesh {
	size := r3.Sub(high, low)
	cell := max(size.X, size.Y, size.Z) / float64(cells)
	margin := V(2*cell, 2*cell, 2*cell)
	return grid.Sharp(f, r3.Box{Min: r3.Sub(low, margin), Max: r3.Add(high, margin)}, cell)
}

// Block is a box between two corners.
func Block(low, high r3.Vec) grid.Field {
	return func(p r3.Vec) float64 {
		return max(low.X-p.X, p.X-high.X, low.Y-p.Y, p.Y-high.Y, low.Z-p.Z, p.Z-high.Z)
	}
}

// Drum is a cylinder of radius r from a to b.
func Drum(a, b r3.Vec, r float64) grid.Field {
	axis, length := r3.Unit(r3.Sub(b, a)), r3.Norm(r3.Sub(b, a))
	return func(p r3.Vec) float64 {
		d := r3.Sub(p, a)
		h := r3.Dot(d, axis)
		return max(r3.Norm(r3.Sub(d, r3.Scale(h, axis)))-r, -h, h-length)
	}
}

// Ball is a ball.
func Ball(c r3.Vec, r float64) grid.Field {
	return func(p r3.Vec) float64 { return r3.Norm(r3.Sub(p, c)) - r }
}

// Rod is a round bar of radius r from a to b with round ends.
func Rod(a, b r3.Vec, r float64) grid.Field {
	d := r3.Sub(b, a)
	return func(p r3.Vec) float64 {
		t := max(0, min(1, r3.Dot(r3.Sub(p, a), d)/r3.Norm2(d)))
		return r3.Norm(r3.Sub(p, r3.Add(a, r3.Scale(t, d)))) - r
	}
}

// Ring is a torus about an axis.
func Ring(c, axis r3.Vec, large, small float64) grid.Field {
	axis = r3.Unit(axis)
	return func(p r3.Vec) float64 {
		d := r3.Sub(p, c)
		h := r3.Dot(d, axis)
		return math.Hypot(r3.Norm(r3.Sub(d, r3.Scale(h, axis)))-large, h) - small
	}
}

// All is what any of the solids holds.
func All(of ...grid.Field) grid.Field {
	return func(p r3.Vec) float64 {
		d := math.Inf(1)
		for _, f := range of {
			d = min(d, f(p))
		}
		return d
	}
}

// Less is a solid without others.
func Less(f grid.Field, others ...grid.Field) grid.Field {
	return func(p r3.Vec) float64 {
		d := f(p)
		for _, o := range others {
			d = max(d, -o(p))
		}
		return d
	}
}

// Mug is a mug that stands on z = 0, with a handle in the x-z plane.
func Mug(radius, height, wall float64) grid.Field {
	body := Drum(V(0, 0, 0), V(0, 0, height), radius)
	handle := Ring(V(radius+wall, 0, height/2), V(0, 1, 0), height/4, wall)
	return Less(All(body, handle), Drum(V(0, 0, wall), V(0, 0, height+1), radius-wall))
}

// Spool is two discs on a neck, standing along z.
func Spool(disc, neck, flange, between float64) grid.Field {
	return All(Drum(V(0, 0, 0), V(0, 0, flange), disc), Drum(V(0, 0, 0), V(0, 0, flange+between+flange), neck),
		Drum(V(0, 0, flange+between), V(0, 0, 2*flange+between), disc))
}
