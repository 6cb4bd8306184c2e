package mesh

import (
	"math"

	"gonum.org/v1/gonum/spatial/r3"
)

// Sum adds numbers of mixed size and sign without losing the small ones
// (Neumaier's variant of Kahan summation, Z. Angew. Math. Mech. 54 (1974) 39).
type Sum struct{ total, lost float64 }

// Add takes one more number into the sum.
func (s *Sum) Add(x float64) {
	t := s.total + x
	if math.Abs(s.total) >= math.Abs(x) {
		s.lost += (s.total - t) + x
	} else {
		s.lost += (x - t) + s.total
	}
	s.total = t
}

// Value returns the sum so far.
func (s *Sum) Value() float64 { return s.total + s.lost }

// Volume returns the enclosed volume in mm³ by the divergence theorem, summed
// about the centre of the bounds so that a mesh far from the origin loses
// nothing. It is negative for a mesh that is inside out and depends on the
// choice of centre when the mesh is open: see [Mesh.OpenVolume].
func (m *Mesh) Volume() float64 {
	centre := m.Bounds().Center()
	var sum Sum
	for t := range m.Triangles {
		a, b, c := m.Corners(t)
		sum.Add(tetra(a, b, c, centre))
	}
	return sum.Value()
}

// tetra is the signed volume of the tetrahedron from o to the triangle abc.
func tetra(a, b, c, o r3.Vec) float64 {
	a, b, c = r3.Sub(a, o), r3.Sub(b, o), r3.Sub(c, o)
	return r3.Dot(a, r3.Cross(b, c)) / 6
}

// Area returns the surface in mm².
func (m *Mesh) Area() float64 {
	var sum Sum
	for t := range m.Triangles {
		a, b, c := m.Corners(t)
		sum.Add(r3.Norm(r3.Cross(r3.Sub(b, a), r3.Sub(c, a))) / 2)
	}
	return sum.Value()
}

// VolumeAbove returns the volume of a closed mesh above the plane at height
// level along the unit vector up, exact for the tessellation.
func (m *Mesh) VolumeAbove(up r3.Vec, level float64) float64 {
	var sum Sum
	for t := range m.Triangles {
		a, b, c := m.Corners(t)
		plan := r3.Dot(up, r3.Cross(r3.Sub(b, a), r3.Sub(c, a))) / 2
		sum.Add(PrismAbove(plan, r3.Dot(up, a)-level, r3.Dot(up, b)-level, r3.Dot(up, c)-level))
	}
	return sum.Value()
}

// PrismAbove returns the volume between a plane and the part of a triangle
// that lies above it: plan is the triangle's signed area seen along the
// plane's normal, h0, h1 and h2 are its corners' heights over the plane.
// Summed over a closed surface these prisms give the volume above the plane.
func PrismAbove(plan, h0, h1, h2 float64) float64 {
	if h0 < h1 {
		h0, h1 = h1, h0
	}
	if h1 < h2 {
		h1, h2 = h2, h1
		if h0 < h1 {
			h0, h1 = h1, h0
		}
	}
	switch { // now h0 >= h1 >= h2
	case h2 >= 0:
		return plan * (h0 + h1 + h2) / 3
	case h0 <= 0:
		return 0
	case h1 <= 0: // only the tip h0 stands above
		return plan * (h0 / (h0 - h1)) * (h0 / (h0 - h2)) * h0 / 3
	default: // all but the tip h2 stands above
		below := (h2 / (h2 - h0)) * (h2 / (h2 - h1)) * h2 / 3
		return plan * ((h0+h1+h2)/3 - below)
	}
}

// PlanAbove returns the signed plan area of the part of a triangle that lies
// above a plane, by the same arguments as [PrismAbove]. Summed over a closed
// surface it gives the area of the section in the plane.
func PlanAbove(plan, h0, h1, h2 float64) float64 {
	if h0 < h1 {
		h0, h1 = h1, h0
	}
	if h1 < h2 {
		h1, h2 = h2, h1
		if h0 < h1 {
			h0, h1 = h1, h0
		}
	}
	switch {
	case h2 >= 0:
		return plan
	case h0 <= 0:
		return 0
	case h1 <= 0:
		return plan * (h0 / (h0 - h1)) * (h0 / (h0 - h2))
	default:
		return plan * (1 - (h2/(h2-h0))*(h2/(h2-h1)))
	}
}
