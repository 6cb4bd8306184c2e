// Package symmetry finds out how a part repeats itself when it is turned
// about an axis, so that what is the same is made once.
package symmetry

import (
	"math"

	"bathyform/core/mesh"

	"gonum.org/v1/gonum/spatial/r3"
)

// Fold is how often a part looks the same in a turn about an axis.
type Fold struct {
	Order  int    // 1 for a part that does not repeat itself; Most for one that is round
	Axis   r3.Vec // unit vector
	Centre r3.Vec // a place on the axis
}

// What counts as the same.
const (
	Most     = 12    // the highest order that is tried
	samples  = 500   // places of the surface that are turned
	within   = 0.002 // of the part's size, that they may be off
	straying = 0.01  // share of them that may be further off: seams of facets
)

// About looks how often a part repeats itself about an axis through its
// centre of mass: places of its surface are turned and looked for on it.
func About(m *mesh.Mesh, axis r3.Vec) Fold {
	f := Fold{Order: 1, Axis: r3.Unit(axis), Centre: centroid(m)}
	box := m.Bounds()
	tolerance := within * r3.Norm(r3.Sub(box.Max, box.Min))
	tree := mesh.NewTree(m)
	places := spread(m, samples)
	for order := Most; order > 1; order-- {
		rot := r3.NewRotation(2*math.Pi/float64(order), f.Axis)
		off := 0
		for _, p := range places {
			q := r3.Add(f.Centre, rot.Rotate(r3.Sub(p, f.Centre)))
			if _, t := tree.Nearest(q, tolerance, nil); t < 0 {
				off++
			}
		}
		if float64(off) <= straying*float64(len(places)) {
			f.Order = order
			return f
		}
	}
	return f
}

// Turn is a place turned by so many of the steps that the part repeats itself in.
func (f Fold) Turn(p r3.Vec, steps int) r3.Vec {
	return r3.Add(f.Centre, f.Rotation(steps).Rotate(r3.Sub(p, f.Centre)))
}

// Rotation is that of so many steps.
func (f Fold) Rotation(steps int) r3.Rotation {
	return r3.NewRotation(2*math.Pi*float64(steps)/float64(f.Order), f.Axis)
}

// centroid is the centre of mass of a closed part.
func centroid(m *mesh.Mesh) r3.Vec {
	origin := m.Bounds().Center()
	var sum r3.Vec
	var volume float64
	for t := range m.Triangles {
		a, b, c := m.Corners(t)
		a, b, c = r3.Sub(a, origin), r3.Sub(b, origin), r3.Sub(c, origin)
		v := r3.Dot(a, r3.Cross(b, c))
		volume += v
		sum = r3.Add(sum, r3.Scale(v/4, r3.Add(a, r3.Add(b, c))))
	}
	if volume == 0 {
		return origin
	}
	return r3.Add(origin, r3.Scale(1/volume, sum))
}

// spread takes about n places of the surface, evenly by area.
func spread(m *mesh.Mesh, n int) []r3.Vec {
	areas := make([]float64, len(m.Triangles))
	var total float64
	for t := range m.Triangles {
		a, b, c := m.Corners(t)
		areas[t] = r3.Norm(r3.Cross(r3.Sub(b, a), r3.Sub(c, a)))
		total += areas[t]
	}
	var out []r3.Vec
	sum, next := 0.0, 0.5
	for t, area := range areas {
		for sum += area; next*total/float64(n) < sum && len(out) < n; next++ {
			a, b, c := m.Corners(t)
			// anywhere in the triangle, differently for each (a Kronecker sequence)
			_, u := math.Modf(next * 0.7548776662466927)
			_, v := math.Modf(next * 0.5698402909980532)
			if u+v > 1 {
				u, v = 1-u, 1-v
			}
			out = append(out, r3.Add(a, r3.Add(r3.Scale(u, r3.Sub(b, a)), r3.Scale(v, r3.Sub(c, a)))))
		}
	}
	return out
}
