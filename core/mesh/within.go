package mesh

import "gonum.org/v1/gonum/spatial/r3"

// finest is how often a triangle that a ball cuts is divided into four.
const finest = 6

// AreaWithin is how much of the surface lies within a ball, mm².
func (m *Mesh) AreaWithin(centre r3.Vec, radius float64) (area float64) {
	for t := range m.Triangles {
		a, b, c := m.Corners(t)
		area += within(a, b, c, centre, radius, finest)
	}
	return area
}

func within(a, b, c, centre r3.Vec, radius float64, deep int) float64 {
	middle := r3.Scale(1.0/3, r3.Add(a, r3.Add(b, c)))
	size := max(r3.Norm(r3.Sub(a, middle)), r3.Norm(r3.Sub(b, middle)), r3.Norm(r3.Sub(c, middle)))
	away := r3.Norm(r3.Sub(middle, centre))
	area := r3.Norm(r3.Cross(r3.Sub(b, a), r3.Sub(c, a))) / 2
	switch {
	case away > radius+size:
		return 0
	case away+size <= radius, deep == 0 && away <= radius:
		return area
	case deep == 0:
		return 0
	}
	ab, bc, ca := r3.Scale(0.5, r3.Add(a, b)), r3.Scale(0.5, r3.Add(b, c)), r3.Scale(0.5, r3.Add(c, a))
	return within(a, ab, ca, centre, radius, deep-1) + within(ab, b, bc, centre, radius, deep-1) +
		within(ca, bc, c, centre, radius, deep-1) + within(ab, bc, ca, centre, radius, deep-1)
}
